// One vessel's water, analyte by analyte: where it stands, where it is going, what uses it, and when to look again.
import { limitOf } from '../knowledge/limits.ts'
import { usualRange, type UsualRange } from '../knowledge/ranges.ts'
import { changedShare, vesselVolume } from '../level/fromRecord.ts'
import { normalCdf } from '../level/normal.ts'
import { addedMeasure } from './measures.ts'
import { median } from '../trends/theilSen.ts'
import { mixValue } from './mixValues.ts'
import { consumption, DETECT, type Consumption, type SteerEvent, type SteerReading } from './steering.ts'
import { corrections } from './corrections.ts'
import { pouredByDosers, risePerDayByDosers } from './dosers.ts'
import { scatterOf, valueOf } from '../record/instrumentState.ts'
import type { ActiveLedger, Analyte, Entry, KeeperRecord } from '../record/types.ts'
import { entryMs } from '../time/time.ts'

type ReadingEntry = Extract<Entry, { kind: 'reading' }>

export interface Crossing {
  readonly bound: 'min' | 'max'
  readonly at: number
  /** Days until the middle of the trend is there. */
  readonly days: number
  /** Chance that it is past the bound within the days ahead, 0 to 1. */
  readonly chance: number
}
export interface WaterLine {
  readonly analyte: Analyte
  readonly readings: readonly ReadingEntry[]
  readonly last: ReadingEntry
  /** The last value with what its instrument is off by taken away. */
  readonly lastValue: number
  /** Standard deviation of the last test. */
  readonly testSd: number
  /** The reading nearest to the same hour a week before the last. */
  readonly weekBefore: ReadingEntry | null
  readonly range: UsualRange | null
  /** How the value itself moves a day, everything that is done to the water included; null before two days of tests. */
  readonly moves: {
    readonly perDay: number
    readonly low: number
    readonly high: number
    readonly sure: boolean
  } | null
  /** What is used up a day: the move with all additions and changes taken off; null where none of them is on record. */
  readonly use: Consumption | null
  /** Value of the trend now; the last reading where there is no trend. */
  readonly nowValue: number
  readonly crossing: Crossing | null
  /** Days until a test is worth most: when one in ten would be past a bound, a fortnight at most. */
  readonly testInDays: number
  readonly silentDays: number
  /** The last reading itself is out of the range. */
  readonly outside: boolean
}

const DAY = 86_400_000
/** Days of readings that still tell of now. EST */
const LOOK_BACK = limitOf('water-lookback')
/** From so many tests on, one a day stands for all of that day: a probe writes more than any slope needs. EST */
const MOST_TESTS = limitOf('water-tests')
/** Days ahead that a straight line is believed. EST */
export const AHEAD_DAYS = limitOf('water-ahead')
/** From so many in a hundred a crossing is worth a word. EST */
const WORD_CHANCE = limitOf('water-word')

/** The chance that a value is past a bound after some days, from its line, the error of the slope and of a test. */
export function pastChance(
  value: number,
  slope: number,
  slopeSd: number,
  testSd: number,
  bound: 'min' | 'max',
  at: number,
  days: number,
): number {
  const sd = Math.hypot(slopeSd * days, testSd)
  const z = (at - (value + slope * days)) / Math.max(sd, 1e-9)
  return bound === 'min' ? normalCdf(z) : 1 - normalCdf(z)
}

/** From so many tests on the line is carried from their middle, where its height and its slope know nothing of each other. */
const FROM_MIDDLE = 4
/** Scatter of a middle value beside that of a mean. @source Kendall and Stuart 1977, of a normal curve, small numbers */
const OF_MIDDLE = 1.2
/**
 * Where a straight line through the tests is best known: their middle in time, and its error. Null where they are few,
 * or where the last test lies off the line by more than a test can: then something has happened, and the last one rules.
 */
function baseOf(
  tests: readonly SteerReading[],
  slope: number,
  testSd: number,
  nowMs: number,
): { readonly value: number; readonly sd: number; readonly daysAgo: number } | null {
  const exact = tests.filter(({ below }) => !below)
  if (exact.length < FROM_MIDDLE || exact.length < tests.length) return null
  const days = exact.map(({ atMs }) => (nowMs - atMs) / DAY)
  const daysAgo = days.reduce((sum, one) => sum + one, 0) / days.length
  const value = median(exact.map((test, i) => test.value - slope * (daysAgo - days[i]!)))
  const off = exact.at(-1)!.value - (value + slope * (daysAgo - days.at(-1)!))
  return Math.abs(off) > DETECT * testSd ? null : { value, sd: (OF_MIDDLE * testSd) / Math.sqrt(exact.length), daysAgo }
}

/** The middle reading of each day. */
function daily(readings: readonly ReadingEntry[]): ReadingEntry[] {
  const days = new Map<number, ReadingEntry[]>()
  for (const entry of readings) {
    const day = Math.floor(entryMs(entry) / DAY)
    const list = days.get(day)
    if (list) list.push(entry)
    else days.set(day, [entry])
  }
  return [...days.values()].map((list) => list.toSorted((a, b) => a.value - b.value)[list.length >> 1]!)
}

function lineOf(
  record: KeeperRecord,
  active: ActiveLedger,
  own: readonly Entry[],
  vesselId: string,
  analyte: Analyte,
  nowMs: number,
): WaterLine | null {
  const vessel = record.vessels.get(vesselId)!
  const all = own.filter((entry): entry is ReadingEntry => entry.kind === 'reading' && entry.analyte === analyte)
  const last = all.at(-1)
  if (!last) return null
  const readings = all.filter((entry) => nowMs - entryMs(entry) <= LOOK_BACK * DAY)
  const tests: SteerReading[] = (readings.length > MOST_TESTS ? daily(readings) : readings)
    .filter(({ bound }) => bound !== 'above')
    .map((entry) => ({
      atMs: entryMs(entry),
      value: valueOf(active, entry),
      sd: scatterOf(record, entry),
      below: entry.bound === 'below',
    }))
  const volumeL = vesselVolume(vessel)?.litres ?? null
  const about = corrections.filter((one) => one.analyte === analyte)
  const firstMs = tests[0]?.atMs ?? nowMs
  const pumped = pouredByDosers(record, own, vesselId, firstMs, nowMs).filter((pour) => about.includes(pour.correction))
  const pours = about.reduce((sum, { id }) => sum + risePerDayByDosers(record, active, vesselId, id, nowMs), 0)
  const doses = pumped.map(({ atMs, rise }): SteerEvent => ({ atMs, kind: 'dose', amount: rise }))
  // Whatever dosers did between the tests, what counts from now on is what they pour now.
  const still = consumption(tests, doses)
  const raw = still && { ...still, perDay: still.perDay - pours, low: still.low - pours, high: still.high - pours }
  /** What a value read then would be off by now, had the dosers always poured as they do now. */
  const since = (ms: number) =>
    pumped.reduce((sum, { atMs, rise }) => sum + (atMs >= ms ? rise : 0), 0) - (pours * (nowMs - ms)) / DAY
  const steady = tests.map((test) => ({ ...test, value: test.value + since(test.atMs) }))
  const added = own.flatMap((entry): SteerEvent[] => {
    if (
      entry.kind === 'tally' &&
      entry.deviceId === undefined &&
      about.some(({ id }) => entry.measure === addedMeasure(id))
    )
      return [{ atMs: entryMs(entry), kind: 'dose', amount: entry.values['rise'] ?? 0 }]
    if (entry.kind !== 'change' || volumeL === null) return []
    const mix = mixValue(record, active, vessel.body.water, analyte, entryMs(entry), about[0]?.mix)
    return mix === null
      ? []
      : [{ atMs: entryMs(entry), kind: 'change', amount: changedShare(entry, volumeL), mix: mix.value, mixSd: mix.sd }]
  })
  const events = [...added, ...doses]
  const between = events.filter(({ atMs }) => atMs >= firstMs)
  const use = between.length > 0 ? consumption(tests, events) : null
  const range = usualRange(vessel.body, analyte)
  const lastMs = entryMs(last)
  const slope = raw ? -raw.perDay : 0
  const slopeSd = raw ? (raw.high - raw.low) / 2 / 1.2816 : 0
  const testSd = scatterOf(record, last)
  const lastValue = valueOf(active, last)
  const from = baseOf(steady, slope, testSd, nowMs) ?? {
    value: lastValue + (nowMs - lastMs <= AHEAD_DAYS * DAY ? since(lastMs) : 0),
    sd: testSd,
    daysAgo: Math.min(AHEAD_DAYS, (nowMs - lastMs) / DAY),
  }
  const nowValue = from.value + slope * from.daysAgo
  const bounds: readonly ('min' | 'max')[] = ['min', 'max']
  const chanceAt = (bound: 'min' | 'max', days: number) =>
    pastChance(from.value, slope, Math.max(slopeSd, 0), from.sd, bound, range![bound]!, from.daysAgo + days)
  const crossings = range
    ? bounds
        .filter((bound) => range[bound] !== undefined && raw !== null)
        .map((bound): Crossing => {
          const at = range[bound]!
          const days = (at - nowValue) / slope
          return {
            bound,
            at,
            days: Number.isFinite(days) && days > 0 ? days : Infinity,
            chance: chanceAt(bound, AHEAD_DAYS),
          }
        })
        .sort((a, b) => b.chance - a.chance)
    : []
  const crossing = crossings[0] && crossings[0].chance >= WORD_CHANCE ? crossings[0] : null
  let testInDays = AHEAD_DAYS
  if (range && raw)
    for (let day = AHEAD_DAYS - 1; day >= 0; day--)
      if (bounds.some((bound) => range[bound] !== undefined && chanceAt(bound, day) >= WORD_CHANCE)) testInDays = day
  // What was tested a moment ago is not asked for again before a day is over.
  testInDays = Math.max(testInDays, Math.ceil(1 - (nowMs - lastMs) / DAY))
  const outside =
    range !== null &&
    last.bound === 'exact' &&
    ((range.min !== undefined && lastValue < range.min) || (range.max !== undefined && lastValue > range.max))
  const week = lastMs - 7 * DAY
  const weekBefore =
    all
      .filter((entry) => entry !== last && Math.abs(entryMs(entry) - week) <= 1.5 * DAY)
      .sort((a, b) => Math.abs(entryMs(a) - week) - Math.abs(entryMs(b) - week))[0] ?? null
  return {
    analyte,
    readings,
    last,
    lastValue,
    testSd,
    weekBefore,
    range,
    moves: raw ? { perDay: -raw.perDay, low: -raw.high, high: -raw.low, sure: raw.sure } : null,
    use,
    nowValue,
    crossing,
    testInDays,
    silentDays: (nowMs - lastMs) / DAY,
    outside,
  }
}

/** Every analyte that was ever read in a vessel, what may leave its range soonest first. */
export function waterLines(
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  nowMs: number,
): readonly WaterLine[] {
  if (!record.vessels.has(vesselId)) return []
  const own = active.filter((entry) => 'vesselId' in entry && entry.vesselId === vesselId && entryMs(entry) <= nowMs)
  const analytes = new Set(own.flatMap((entry) => (entry.kind === 'reading' ? [entry.analyte] : [])))
  return [...analytes]
    .flatMap((analyte) => lineOf(record, active, own, vesselId, analyte, nowMs) ?? [])
    .sort((a, b) => (b.crossing?.chance ?? 0) - (a.crossing?.chance ?? 0) || a.testInDays - b.testInDays)
}
