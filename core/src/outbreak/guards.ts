// Limits that end a campaign early: each reading held against the start, by rise, by multiple or by level.
import type { Entry, KeeperRecord, ReadingEntry } from '../record/types.ts'
import { entryMs } from '../time/time.ts'
import { darkForecast, type DarkForecast, type DarkReading } from './darkForecast.ts'
import type { Campaign } from './measures.ts'

export type Guard = NonNullable<Campaign['guards']>[number]
export interface GuardState {
  readonly analyte: string
  readonly unit: string
  readonly startValue: number | null
  readonly last: ReadingEntry | null
  readonly readings: readonly ReadingEntry[]
  /** Values at which to act and to stop. */
  readonly actAt: number | null
  readonly stopAt: number | null
  readonly verdict: 'no-start' | 'calm' | 'act' | 'stop'
  readonly forecast: DarkForecast | null
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
        entryMs(entry) >= startMs - 3 * DAY &&
        entryMs(entry) <= nowMs,
    )
    const earlier = all.filter((entry) => entryMs(entry) <= startMs + DAY / 2)
    const near = earlier.filter((entry) => entryMs(entry) >= startMs - DAY)
    const before = near.length > 0 ? near : earlier.slice(-1)
    const after = all.filter((entry) => entryMs(entry) > startMs + DAY / 2)
    const startValue = before.length === 0 ? null : before.reduce((sum, { value }) => sum + value, 0) / before.length
    const last = all.at(-1) ?? null
    const silentHours = (nowMs - Math.max(startMs, last ? entryMs(last) : startMs)) / 3_600_000
    const common = {
      analyte: guard.analyte,
      unit: last?.unit ?? '',
      last,
      readings: [...before, ...after],
      silentHours,
      startValue,
    }
    if (startValue === null) return { ...common, actAt: null, stopAt: null, verdict: 'no-start', forecast: null }
    const actAt = limitValue(guard.act, startValue)
    const stopAt = limitValue(guard.stop, startValue)
    const falling = guard.stop.below !== undefined
    const passes = (limit: number | null) =>
      after.some(({ value }) => limit !== null && (falling ? value <= limit : value >= limit - 1e-9)) &&
      last !== null &&
      limit !== null &&
      (falling ? last.value <= limit : last.value >= limit - 1e-9)
    const moved = last !== null && Math.abs(last.value - startValue) >= (guard.leastStep ?? 0)
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
      verdict: moved && passes(stopAt) ? 'stop' : moved && passes(actAt) ? 'act' : 'calm',
      forecast,
    }
  })
}
