// Limits that end a campaign early: each reading held against the start, by rise, by multiple or by level.
import type { ActiveLedger, Analyte, Entry, KeeperRecord, ReadingEntry } from '../record/types.ts'
import { groupOf } from '../knowledge/agents.ts'
import { residentsIn } from '../record/whereabouts.ts'
import { extensionIn, openSigns } from '../record/observation.ts'
import { entryMs, instantMs, zonedOf } from '../time/time.ts'
import { darkForecast, type DarkForecast, type DarkReading } from './darkForecast.ts'
import type { Campaign } from './measures.ts'

export type Guard = NonNullable<Campaign['guards']>[number]
export interface GuardState {
  readonly analyte: Analyte
  readonly unit: string
  readonly startValue: number | null
  readonly last: ReadingEntry | null
  readonly readings: readonly ReadingEntry[]
  /** Levels at which to act and to stop; null where the limit is no single level. */
  readonly actAt: number | null
  readonly stopAt: number | null
  /** The same in words: "12", "± 1.5 or ± 1 in a day", "under 5". */
  readonly actWords: string
  readonly stopWords: string
  /** What to do at the act line, where a water change is not the answer. */
  readonly own?: string
  readonly verdict: 'no-start' | 'calm' | 'act' | 'stop'
  readonly forecast: DarkForecast | null
  /** Whether it is one whose coming days are forecast. */
  readonly foretold: boolean
  /** Hours since the last reading, from the start where there is none. */
  readonly silentHours: number
}

const DAY = 86_400_000
type Limit = Guard['act']

/** Level of a limit above a start: the nearest of its rise, multiple and level; of `either` and the rest, the farther. */
export function limitValue(limit: Limit, start: number): number | null {
  if (limit.below !== undefined) return limit.below
  const candidates = [
    ...(limit.rise === undefined ? [] : [start + limit.rise]),
    ...(limit.times === undefined ? [] : [Math.max(start * limit.times, start + (limit.either ?? 0))]),
    ...(limit.at === undefined ? [] : [limit.at]),
  ]
  return candidates.length === 0 ? null : Math.min(...candidates)
}

const short = (value: number): string => String(Number(value.toPrecision(3)))

/** A limit in words, from a start; "–" where there is none. */
export function limitWords(limit: Limit, start: number | null): string {
  const level = start === null ? (limit.at ?? null) : limitValue(limit, start)
  const parts = [
    ...(limit.below !== undefined ? [`under ${short(limit.below)}`] : level !== null ? [short(level)] : []),
    ...(limit.change === undefined
      ? []
      : [start === null ? `± ${limit.change}` : `${short(start - limit.change)} or ${short(start + limit.change)}`]),
    ...(limit.perDay === undefined ? [] : [`± ${limit.perDay} in a day`]),
    ...(limit.fall === undefined ? [] : [start === null ? `− ${limit.fall}` : `under ${short(start - limit.fall)}`]),
  ]
  return parts.length === 0 ? '–' : parts.join(', ')
}

/** Whether the newest reading after the start is past a limit. */
export function isPast(limit: Limit, start: number, after: readonly ReadingEntry[]): boolean {
  const last = after.at(-1)
  if (!last) return false
  const { value } = last
  const slack = 1e-9
  if (limit.below !== undefined) return value <= limit.below
  const level = limitValue(limit, start)
  if (level !== null && value >= level - slack) return true
  if (limit.change !== undefined && Math.abs(value - start) >= limit.change - slack) return true
  if (limit.fall !== undefined && value <= start - limit.fall + slack) return true
  return (
    limit.perDay !== undefined &&
    after.some((one) => entryMs(last) - entryMs(one) <= DAY && Math.abs(value - one.value) >= limit.perDay! - slack)
  )
}

/** Dawn, hours of the keeper's day: pH is lowest then. */
const DAWN = [4, 10] as const
const atDawn = (ms: number, zone: string): boolean => {
  const hour = zonedOf(ms, zone).hour
  return hour >= DAWN[0] && hour < DAWN[1]
}

/**
 * Guards of a campaign as they stand. Start: mean of the readings from a day before to half a day after it began; where
 * there are none, the last of the two days before that.
 */
export function guardStates(
  guards: readonly Guard[],
  record: KeeperRecord,
  entries: readonly Entry[],
  startMs: number,
  nowMs: number,
  endMs: number,
): GuardState[] {
  return guards.map((guard) => {
    const all = entries.filter(
      (entry): entry is ReadingEntry =>
        entry.kind === 'reading' &&
        entry.analyte === guard.analyte &&
        entryMs(entry) >= startMs - (guard.dawn ? 7 : 3) * DAY &&
        entryMs(entry) <= nowMs &&
        (guard.dawn !== true || atDawn(entryMs(entry), record.settings.zone)),
    )
    const earlier = all.filter((entry) => entryMs(entry) <= startMs + DAY / 2)
    const near = guard.dawn ? earlier : earlier.filter((entry) => entryMs(entry) >= startMs - DAY)
    const before = near.length > 0 ? near : earlier.slice(-1)
    const after = all.filter((entry) => entryMs(entry) > startMs + DAY / 2)
    const startValue = before.length === 0 ? null : before.reduce((sum, { value }) => sum + value, 0) / before.length
    const last = all.at(-1) ?? null
    const silentHours = (nowMs - Math.max(startMs, last ? entryMs(last) : startMs)) / 3_600_000
    const common = {
      analyte: guard.analyte as Analyte,
      unit: last?.unit ?? '',
      last,
      readings: [...before, ...after],
      silentHours,
      startValue,
      foretold: guard.forecast === true,
      actWords: limitWords(guard.act, startValue),
      stopWords: limitWords(guard.stop, startValue),
      ...(guard.own === undefined ? {} : { own: guard.own }),
    }
    // A level needs no start: low oxygen is low whatever it was.
    const isLevel = [guard.act, guard.stop].every((limit) =>
      Object.keys(limit).every((key) => key === 'at' || key === 'below'),
    )
    if (isLevel && last !== null) {
      const since = all.filter((entry) => entryMs(entry) >= startMs)
      const past = (limit: Limit) => isPast(limit, 0, since)
      return {
        ...common,
        actAt: limitValue(guard.act, 0),
        stopAt: limitValue(guard.stop, 0),
        verdict: past(guard.stop) ? 'stop' : past(guard.act) ? 'act' : 'calm',
        forecast: null,
      }
    }
    if (startValue === null) return { ...common, actAt: null, stopAt: null, verdict: 'no-start', forecast: null }
    const actAt = limitValue(guard.act, startValue)
    const stopAt = limitValue(guard.stop, startValue)
    const moved =
      last !== null && (Math.abs(last.value - startValue) >= (guard.leastStep ?? 0) || guard.stop.perDay !== undefined)
    const readings = [...before, ...after].map((entry): DarkReading => {
      const kit = entry.instrumentId === undefined ? undefined : record.instruments.get(entry.instrumentId)
      const sd = Math.max(
        0.5 * (kit?.body.step ?? guard.leastStep ?? 0.01),
        (kit?.body.relativeError ?? 0.1) * entry.value,
      )
      return { day: (entryMs(entry) - startMs) / DAY, value: entry.value, sd }
    })
    const forecast =
      guard.forecast && stopAt !== null && stopAt > startValue
        ? darkForecast(readings, stopAt, Math.max(1, (endMs - startMs) / DAY))
        : null
    return {
      ...common,
      actAt,
      stopAt,
      verdict:
        moved && isPast(guard.stop, startValue, after)
          ? 'stop'
          : moved && isPast(guard.act, startValue, after)
            ? 'act'
            : 'calm',
      forecast,
    }
  })
}

export interface AnimalGuard {
  readonly id: 'fish' | 'snails' | 'corals' | 'peeling'
  readonly words: string
  readonly verdict: 'calm' | 'act' | 'stop'
}
const DOWN = new Set(['snail-upturned', 'snail-not-attached'])

/**
 * Animals as guards of a dark spell: fish lost, snails down, corals shut, flesh that peels, all since the start.
 * @source handbook 60 §10 ab-animals
 */
export function animalGuards(
  limits: NonNullable<Campaign['animals']>,
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  startMs: number,
  nowMs: number,
): AnimalGuard[] {
  const kind = (group: string) => groupOf(group)?.kind
  const here = residentsIn(record, active, vesselId, nowMs)
  const lost = [...record.residents.values()].filter(
    ({ body }) =>
      body.vesselId === vesselId &&
      body.leftHow === 'died' &&
      body.leftAt !== undefined &&
      instantMs(body.leftAt) >= startMs &&
      instantMs(body.leftAt) <= nowMs,
  )
  const count = (of: readonly { readonly body: { readonly count: number } }[]) =>
    of.reduce((sum, { body }) => sum + body.count, 0)
  const fishDead = count(lost.filter(({ body }) => kind(body.group) === 'fish'))
  const found: AnimalGuard[] = []
  if (here.some(({ body }) => kind(body.group) === 'fish') || fishDead > 0)
    found.push({
      id: 'fish',
      words: fishDead === 0 ? 'No fish lost' : `${fishDead} fish lost`,
      verdict: fishDead >= limits.fishDead ? 'stop' : 'calm',
    })
  const isSnail = ({ body }: { readonly body: { readonly group: string } }) => body.group === 'hg-snail'
  const snails = here.filter(isSnail)
  const snailsLost = lost.filter(isSnail)
  const all = count(snails) + count(snailsLost)
  if (all > 0) {
    const down =
      count(snailsLost) +
      count(
        snails.filter(({ id }) =>
          openSigns(active, id).some(({ sign, at }) => DOWN.has(sign) && instantMs(at) >= startMs),
        ),
      )
    found.push({
      id: 'snails',
      words: `${down} of ${all} snails down`,
      verdict: down / all >= limits.snailsDown ? 'stop' : 'calm',
    })
  }
  const corals = here.filter(({ body }) => kind(body.group) === 'coral')
  if (corals.length > 0) {
    const peeling = corals.filter(({ id }) =>
      openSigns(active, id).some(({ sign, at }) => sign === 'tissue-peeling-sheets' && instantMs(at) >= startMs),
    )
    if (peeling.length > 0)
      found.push({
        id: 'peeling',
        words: `Flesh peels: ${peeling.map(({ body }) => body.name).join(', ')}`,
        verdict: 'stop',
      })
    const shut = corals.filter(({ id }) => shutHours(active, id, startMs, nowMs) >= limits.coralShutHours)
    found.push({
      id: 'corals',
      words:
        shut.length === 0
          ? 'No coral shut for a day'
          : `Shut for ${limits.coralShutHours} hours: ${shut.map(({ body }) => body.name).join(', ')}`,
      verdict: shut.length > 0 ? 'act' : 'calm',
    })
  }
  return found
}

/** Hours a coral has been shut by its scores, the last of them zero; or a day, where somebody said so. */
function shutHours(active: ActiveLedger, residentId: string, startMs: number, nowMs: number): number {
  let sinceMs: number | null = null
  let said = false
  for (const entry of active) {
    const ms = entryMs(entry)
    if (ms > nowMs) break
    if (ms < startMs || !('residentId' in entry) || entry.residentId !== residentId) continue
    const out = extensionIn(entry)
    if (out !== null) sinceMs = out > 0 ? null : (sinceMs ?? ms)
    if (entry.kind === 'sign' && entry.sign === 'polyps-closed-24h') said = entry.present
  }
  return said ? 24 : sinceMs === null ? 0 : (nowMs - sinceMs) / 3_600_000
}
