// The walk along the corals: how each stood on each aspect, and what that sums up to over a vessel and its days.
import { besidesReadings } from './ledgerIndex.ts'
import { limitOf } from '../knowledge/limits.ts'
import { walkAspects } from '../knowledge/watch.ts'
import { dayOf, entryMs, instantMs } from '../time/time.ts'
import type { ActiveLedger, Entry, KeeperRecord, StateEntry } from './types.ts'
import { residentsIn } from './whereabouts.ts'

export type CoralState = Readonly<Record<string, number>>

/** How a coral stood after each walk that it was looked at on: aspects that were not looked at keep their last level. */
export function coralStates(active: ActiveLedger, residentId: string, untilMs = Infinity) {
  let now: CoralState = {}
  return besidesReadings(active).flatMap((entry) => {
    if (entry.kind !== 'state' || entry.residentId !== residentId || entryMs(entry) > untilMs) return []
    now = { ...now, ...entry.aspects }
    return [{ entry, atMs: entryMs(entry), state: now }]
  })
}
/** How a coral stood last; null where it was never walked. */
export const coralNow = (active: ActiveLedger, residentId: string, untilMs = Infinity): CoralState | null =>
  coralStates(active, residentId, untilMs).at(-1)?.state ?? null

/** A coral that is well on every aspect. */
export const WELL: CoralState = Object.fromEntries(walkAspects.map(({ id, well }) => [id, well]))

type Aspect = (typeof walkAspects)[number]
/** Whether a level lies past the line of its aspect, away from well. */
export const isPast = ({ well, from }: Pick<Aspect, 'well' | 'from'>, level: number): boolean =>
  from < well ? level <= from : level >= from

/** Levels in words, those that are not well; "well" where all are. */
export function stateWords(state: CoralState): string {
  const parts = walkAspects.flatMap(({ id, label, levels, well }) => {
    const level = state[id]
    return level === undefined || level === well ? [] : [`${label.toLowerCase()} ${levels[level] ?? level}`]
  })
  const known = walkAspects.some(({ id }) => state[id] !== undefined)
  return parts.length > 0 ? parts.join(', ') : known ? 'well' : 'not looked at'
}

/** One walk's day over a vessel: how many corals stood past each line, of how many that were ever walked there. */
export interface WalkDay {
  readonly day: string
  readonly atMs: number
  readonly looked: number
  readonly of: number
  readonly past: Readonly<Record<string, number>>
}
/** One aspect that some corals are past the line on, with since when and what happened in the week before. */
export interface WalkSum {
  readonly aspect: string
  readonly words: string
  readonly names: readonly string[]
  readonly of: number
  /** First day on which some were, without a day between on which none was. */
  readonly sinceDay: string
  readonly sinceMs: number
  readonly before: readonly Entry[]
  /** Courses begun in that week. */
  readonly courses: readonly string[]
}
/** Days before a change of state in which an event may have brought it. EST */
const BEFORE_MS = limitOf('walk-before') * 86_400_000
/** What may have brought a change of state about. */
const isEvent = (entry: Entry, vesselId: string): boolean =>
  (entry.kind === 'move' && entry.toVesselId === vesselId) ||
  ('vesselId' in entry &&
    entry.vesselId === vesselId &&
    (entry.kind === 'change' ||
      entry.kind === 'dose' ||
      entry.kind === 'equipment' ||
      (entry.kind === 'done' && entry.bench?.act === 'back')))

/** The walks of a vessel, oldest first; corals that live there at the end of each day count. */
export function walkDays(record: KeeperRecord, active: ActiveLedger, vesselId: string, nowMs: number): WalkDay[] {
  const { zone } = record.settings
  const walks = new Map<string, StateEntry[]>()
  for (const entry of besidesReadings(active))
    if (entry.kind === 'state' && entry.vesselId === vesselId && entryMs(entry) <= nowMs) {
      const day = dayOf(entryMs(entry), zone)
      walks.set(day, [...(walks.get(day) ?? []), entry])
    }
  return [...walks].map(([day, entries]) => {
    const atMs = entryMs(entries.at(-1)!)
    const states = residentsIn(record, active, vesselId, atMs).flatMap(({ id }) => {
      const state = coralNow(active, id, atMs)
      return state ? [state] : []
    })
    return {
      day,
      atMs,
      looked: new Set(entries.map(({ residentId }) => residentId)).size,
      of: states.length,
      past: Object.fromEntries(
        walkAspects.map((aspect) => [
          aspect.id,
          states.filter((state) => state[aspect.id] !== undefined && isPast(aspect, state[aspect.id]!)).length,
        ]),
      ),
    }
  })
}

/** What the last walk says of a vessel: aspect by aspect, how many, since when, after what. Empty where all are well. */
export function walkSums(record: KeeperRecord, active: ActiveLedger, vesselId: string, nowMs: number): WalkSum[] {
  const days = walkDays(record, active, vesselId, nowMs)
  const last = days.at(-1)
  if (!last) return []
  const residents = residentsIn(record, active, vesselId, nowMs)
  return walkAspects.flatMap((aspect) => {
    const names = residents.flatMap(({ id, body }) => {
      const level = coralNow(active, id, nowMs)?.[aspect.id]
      return level !== undefined && isPast(aspect, level) ? [body.name] : []
    })
    if (names.length === 0) return []
    const clean = days.findLastIndex(({ past }) => past[aspect.id] === 0)
    const since = days[clean + 1] ?? last
    const fromMs = clean < 0 ? since.atMs - BEFORE_MS : Math.min(days[clean]!.atMs, since.atMs - BEFORE_MS)
    const before = active.filter((entry) => {
      const ms = entryMs(entry)
      return ms > fromMs && ms < since.atMs && isEvent(entry, vesselId)
    })
    const courses = [...record.courses.values()].filter(({ body }) => {
      const ms = instantMs(body.startedAt)
      return body.vesselId === vesselId && ms > fromMs && ms < since.atMs
    })
    return [
      {
        aspect: aspect.id,
        words: aspect.summed,
        names,
        of: last.of,
        sinceDay: since.day,
        sinceMs: since.atMs,
        before,
        courses: courses.map(({ id }) => id),
      },
    ]
  })
}
