// One animal's life from the ledger: where it lived, the courses it stood in, everything that happened to it, and how it
// stood on any day.
import { besidesReadings } from './ledgerIndex.ts'
import { dayOf, entryMs, instantMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { headsOf } from './heads.ts'
import type { ActiveLedger, Entry, KeeperRecord, PhotoEntry, ResidentDocument } from './types.ts'
import { coralNow, type CoralState } from './walk.ts'

export interface LifeStretch {
  readonly id: string
  readonly fromMs: number
  /** Null while it lasts. */
  readonly toMs: number | null
}
/** What lanes an event stands in. */
export type LifeKind = 'moved' | 'sign' | 'gone' | 'state' | 'meal' | 'handled' | 'picture' | 'mark' | 'count' | 'ended'
export interface LifeEvent {
  readonly kind: LifeKind
  readonly atMs: number
  readonly entry: Entry | null
}
export interface Life {
  readonly fromMs: number
  readonly toMs: number
  readonly vessels: readonly LifeStretch[]
  readonly courses: readonly LifeStretch[]
  readonly findings: readonly LifeStretch[]
  readonly events: readonly LifeEvent[]
  /** A group's heads after each change; one point where it never changed. */
  readonly heads: readonly { readonly atMs: number; readonly count: number }[]
  /** Moves, baths, bench sessions: how often hands were on it, in all and in the last thirty days. */
  readonly handledAll: number
  readonly handledMonth: number
}

const kindOf = (entry: Entry): LifeKind | null => {
  switch (entry.kind) {
    case 'move':
      return 'moved'
    case 'sign':
      return entry.present ? 'sign' : 'gone'
    case 'state':
      return 'state'
    case 'meal':
      return 'meal'
    case 'photo':
      return 'picture'
    case 'count':
      return 'count'
    case 'heads':
      return 'count'
    case 'note':
    case 'tally':
      return 'mark'
    case 'bath':
      return entry.act === 'start' ? 'handled' : null
    case 'done':
      return entry.bench?.act === 'back' || entry.bench?.act === 'abort' ? 'handled' : null
    default:
      return null
  }
}
/** Whether an entry is of this animal: by its id, in a bath, at the bench. */
const isOf = (
  entry: Entry,
  { id, body }: ResidentDocument,
  places: (ms: number) => string | null,
  alone: ReadonlySet<string>,
): boolean => {
  // A count of a course that treats this animal and no other, or of the piece that bears its name.
  if (entry.kind === 'tally')
    return entry.courseId !== undefined && (entry.piece === undefined || entry.piece === body.name)
      ? alone.has(entry.courseId)
      : false
  if ('residentId' in entry && entry.residentId === id) return true
  if (entry.kind === 'bath') return entry.residentIds?.includes(id) === true
  if (entry.kind === 'done' && entry.bench)
    return (
      entry.bench.residentId === id || (entry.bench.piece === body.name && places(entryMs(entry)) === entry.vesselId)
    )
  return false
}

/** The life of a resident up to an instant. */
export function lifeOf(record: KeeperRecord, active: ActiveLedger, resident: ResidentDocument, nowMs: number): Life {
  const { id, body } = resident
  const fromMs = instantMs(body.arrivedAt)
  const leftMs = body.leftAt === undefined ? null : instantMs(body.leftAt)
  const toMs = Math.max(fromMs, Math.min(nowMs, leftMs ?? nowMs))
  const vessels: { id: string; fromMs: number; toMs: number | null }[] = [{ id: body.vesselId, fromMs, toMs: null }]
  for (const entry of besidesReadings(active)) {
    if (entry.kind !== 'move' || entry.residentId !== id || entryMs(entry) > nowMs) continue
    const last = vessels.at(-1)
    if (last && last.toMs === null) last.toMs = entryMs(entry)
    if (entry.toVesselId !== null) vessels.push({ id: entry.toVesselId, fromMs: entryMs(entry), toMs: null })
  }
  const last = vessels.at(-1)
  if (last && last.toMs === null && leftMs !== null && leftMs <= nowMs) last.toMs = leftMs
  const places = (ms: number): string | null =>
    vessels.findLast((one) => one.fromMs <= ms && (one.toMs === null || one.toMs >= ms))?.id ?? null
  const courses = [...record.courses.values()].flatMap((course) => {
    const start = instantMs(course.body.startedAt)
    const end = course.body.endedAt === undefined ? null : instantMs(course.body.endedAt)
    const named = course.body.residents.includes(id)
    const there = course.body.residents.length === 0 && places(start) === course.body.vesselId
    return start <= nowMs && (named || there) && (end ?? nowMs) >= fromMs && start <= toMs
      ? [{ id: course.id, fromMs: Math.max(fromMs, start), toMs: end }]
      : []
  })
  const findings = [...record.findings.values()].flatMap(({ id: finding, body: one }) =>
    (one.residentId === id || one.alsoIds?.includes(id) === true) && instantMs(one.startedAt) <= nowMs
      ? [
          {
            id: finding,
            fromMs: instantMs(one.startedAt),
            toMs: one.endedAt === undefined ? null : instantMs(one.endedAt),
          },
        ]
      : [],
  )
  const alone = new Set(
    [...record.courses.values()].flatMap((course) =>
      course.body.residents.length === 1 && course.body.residents[0] === id ? [course.id] : [],
    ),
  )
  const events: LifeEvent[] = active.flatMap((entry) => {
    const kind = kindOf(entry)
    const atMs = entryMs(entry)
    return kind !== null && atMs <= nowMs && isOf(entry, resident, places, alone) ? [{ kind, atMs, entry }] : []
  })
  if (leftMs !== null && leftMs <= nowMs) events.push({ kind: 'ended', atMs: leftMs, entry: null })
  let count = body.count
  const heads = [
    { atMs: fromMs, count },
    ...headsOf(active, id, nowMs).map((entry) => {
      count = Math.max(0, count + entry.change)
      return { atMs: entryMs(entry), count }
    }),
  ]
  const handled = events.filter(({ kind }) => kind === 'handled' || kind === 'moved')
  return {
    fromMs,
    toMs,
    vessels,
    courses,
    findings,
    events,
    heads,
    handledAll: handled.length,
    handledMonth: handled.filter(({ atMs }) => nowMs - atMs < 30 * 24 * MS_PER_HOUR).length,
  }
}

/** How an animal stood at the end of a day: what was open, what it ate, where it was, what it looked like. */
export interface Standing {
  readonly day: string
  readonly vesselId: string | null
  readonly courses: readonly string[]
  readonly state: CoralState | null
  readonly signs: readonly string[]
  readonly meals: readonly ('took' | 'tried' | 'ignored')[]
  readonly beats: number | null
  readonly heads: number
  readonly pictures: readonly PhotoEntry[]
}
/** @param day a day of the keeper's calendar, "2026-11-23" */
export function standingOn(life: Life, active: ActiveLedger, residentId: string, day: string, zone: string): Standing {
  const until = life.events.filter(({ atMs }) => dayOf(atMs, zone) <= day)
  const on = until.filter(({ atMs }) => dayOf(atMs, zone) === day)
  const endMs = until.at(-1)?.atMs ?? life.fromMs
  const during = ({ fromMs, toMs }: LifeStretch) =>
    dayOf(fromMs, zone) <= day && (toMs === null || dayOf(toMs, zone) >= day)
  const signs = new Map<string, boolean>()
  for (const { entry } of until) if (entry?.kind === 'sign') signs.set(entry.sign, entry.present)
  const beats = on.flatMap(({ entry }) => (entry?.kind === 'count' && entry.what === 'gill-beats' ? [entry.count] : []))
  return {
    day,
    vesselId: life.vessels.findLast(during)?.id ?? null,
    courses: life.courses.filter(during).map(({ id }) => id),
    state: coralNow(active, residentId, endMs),
    signs: [...signs].flatMap(([sign, present]) => (present ? [sign] : [])),
    meals: on.flatMap(({ entry }) => (entry?.kind === 'meal' ? [entry.took] : [])),
    beats: beats.length === 0 ? null : Math.max(...beats),
    heads: life.heads.findLast(({ atMs }) => dayOf(atMs, zone) <= day)?.count ?? 0,
    pictures: on.flatMap(({ entry }) => (entry?.kind === 'photo' ? [entry] : [])),
  }
}
