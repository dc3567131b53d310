// What devices tell, minute by minute: the hours worth keeping, what must be said at once, and whether a dose arrived.
import { limitOf } from '../knowledge/limits.ts'
import { usualRange } from '../knowledge/ranges.ts'
import { addedMeasure } from '../outbreak/measures.ts'
import { mixValue } from '../outbreak/mixValues.ts'
import { consumption, type SteerEvent } from '../outbreak/steering.ts'
import { doserState, pouredByDosers } from '../outbreak/dosers.ts'
import { scatterOf, valueOf } from '../record/instrumentState.ts'
import { indexOf } from '../record/ledgerIndex.ts'
import { changedShare, vesselVolume } from '../level/fromRecord.ts'
import { ANALYTES, analyteWord } from '../record/typedLine.ts'
import type {
  ActiveLedger,
  Analyte,
  DeviceDocument,
  Entry,
  KeeperRecord,
  ReadingEntry,
  VesselDocument,
} from '../record/types.ts'
import { entryMs } from '../time/time.ts'
import type { Working } from '../working.ts'

/** One minute of a quantity: the middle of its samples, their reach, and how many they were. */
export interface MinuteRow {
  readonly at: number
  readonly median: number
  readonly low: number
  readonly high: number
  readonly n: number
}
/** One hour as the ledger keeps it. */
export interface HourRow {
  readonly atMs: number
  readonly value: number
  readonly low: number
  readonly high: number
  readonly n: number
}

const MINUTE = 60_000
const HOUR = 60 * MINUTE
const DAY = 24 * HOUR

/** Quantities of a device that are tests of the water. */
export const DEVICE_ANALYTES: readonly Analyte[] = ['temperature', 'ph', 'conductivity', 'oxygen']
export const deviceAnalyte = (quantity: string): Analyte | null =>
  DEVICE_ANALYTES.find((one) => one === quantity) ?? null

/** What no probe can truly read in such water: said, and never kept. */
const POSSIBLE: Readonly<Record<string, { readonly min: number; readonly max: number }>> = {
  temperature: { min: 4, max: 42 },
  ph: { min: 4, max: 10.5 },
  conductivity: { min: 20, max: 90_000 },
  oxygen: { min: 0, max: 20 },
}
export const isPossible = (quantity: string, value: number): boolean => {
  const range = POSSIBLE[quantity]
  return range === undefined || (value >= range.min && value <= range.max)
}

const middle = (values: readonly number[]): number => {
  const sorted = values.toSorted((a, b) => a - b)
  const half = sorted.length >> 1
  return sorted.length % 2 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2
}

/** The same to the last digit for so long that nothing living does it. */
function stuckSince(minutes: readonly MinuteRow[], nowMs: number): number | null {
  const last = minutes.at(-1)
  if (!last || nowMs - last.at > 2 * limitOf('device-silence') * MINUTE) return null
  let since = last.at
  let count = 0
  for (let i = minutes.length - 1; i >= 0; i--) {
    const one = minutes[i]!
    if (one.median !== last.median || one.low !== one.high) break
    since = one.at
    count++
  }
  // A probe that shows whole numbers only stands still for an hour and is none the worse for it: two make a fault.
  return last.at - since >= limitOf('device-stuck') * MINUTE && count >= limitOf('device-stuck') / 4 ? since : null
}

/**
 * Closed hours of a quantity after an instant: the middle of the minutes' middles, with their middle 80 %. An hour with
 * fewer than twenty minutes, with what cannot be, or of a probe that stands still is none.
 */
export function hoursOf(
  quantity: string,
  minutes: readonly MinuteRow[],
  afterMs: number,
  nowMs: number,
): readonly HourRow[] {
  const hours = new Map<number, MinuteRow[]>()
  for (const row of minutes) {
    const hour = Math.floor(row.at / HOUR) * HOUR
    if (hour <= afterMs || hour + HOUR > nowMs || !isPossible(quantity, row.median)) continue
    const list = hours.get(hour)
    if (list) list.push(row)
    else hours.set(hour, [row])
  }
  return [...hours].flatMap(([hour, rows]) => {
    const upTo = minutes.filter(({ at }) => at < hour + HOUR)
    if (rows.length < limitOf('device-hour-share') || stuckSince(upTo, hour + HOUR) !== null) return []
    const sorted = rows.map(({ median }) => median).sort((a, b) => a - b)
    const at = (part: number) => sorted[Math.round(part * (sorted.length - 1))]!
    return [
      {
        atMs: hour + HOUR / 2,
        value: Number(middle(sorted).toPrecision(6)),
        low: Math.min(at(0.1), middle(rows.map(({ low }) => low))),
        high: Math.max(at(0.9), middle(rows.map(({ high }) => high))),
        n: rows.reduce((sum, { n }) => sum + n, 0),
      },
    ]
  })
}

export interface DeviceAlarm {
  readonly id: string
  readonly quantity: string
  readonly tone: 'danger' | 'caution'
  readonly title: string
  readonly detail: string
}

/** What must be said of one quantity of a device in a vessel, gravest first. */
export function deviceAlarms(
  quantity: string,
  minutes: readonly MinuteRow[],
  device: Pick<DeviceDocument, 'id' | 'body'>,
  vessel: VesselDocument,
  nowMs: number,
): readonly DeviceAlarm[] {
  const name = vessel.body.name
  const analyte = deviceAnalyte(quantity)
  const word = analyte === null ? quantity : ANALYTES[analyte].word
  const unit = analyte === null ? 'cm' : ANALYTES[analyte].unit
  const last = minutes.at(-1)
  const about = { id: `device-${device.id}-${quantity}`, quantity }
  const shown = (value: number) => `${Number(value.toPrecision(4))} ${unit === 'pH' ? '' : unit}`.trim()
  const since = last === undefined ? Infinity : (nowMs - last.at) / MINUTE
  if (last === undefined || since > limitOf('device-silence') + 1)
    return [
      {
        ...about,
        id: `${about.id}-silent`,
        tone: 'caution',
        title: `${device.body.name} in ${name} tells no ${word.toLowerCase()} any more:`,
        detail: `${last === undefined ? 'not once since it was paired' : `silent for ${Math.round(since)} minutes`}. Silence is no “all clear”: look at its wire and at the tank.`,
      },
    ]
  const lately = minutes.filter(({ at }) => last.at - at < limitOf('device-out') * MINUTE)
  const value = middle(lately.map(({ median }) => median))
  if (!isPossible(quantity, value))
    return [
      {
        ...about,
        id: `${about.id}-impossible`,
        tone: 'caution',
        title: `${word} in ${name} cannot be ${shown(value)}:`,
        detail: `${device.body.name} is out of the water, dry or broken. Nothing of it is kept until it tells what can be.`,
      },
    ]
  const stuck = stuckSince(minutes, nowMs)
  const found: DeviceAlarm[] = []
  if (stuck !== null)
    found.push({
      ...about,
      id: `${about.id}-stuck`,
      tone: 'caution',
      title: `${word} in ${name} stands still at ${shown(last.median)}:`,
      detail: `the same to the last digit for ${Math.round((nowMs - stuck) / HOUR)} hours. Water does not do that: read it by hand, and look at the probe.`,
    })
  if (analyte === null) {
    if (quantity === 'level' && value < -limitOf('device-level'))
      found.push({
        ...about,
        id: `${about.id}-low`,
        tone: 'caution',
        title: `The water in ${name} is ${shown(-value)} below its mark:`,
        detail: 'top it up with fresh water, or find the leak.',
      })
    return found
  }
  const range = usualRange(vessel.body, analyte)
  // Salinity has its range in ppt; what a head tells as conductivity is judged by the ledger.
  const most =
    analyte === 'temperature' ? limitOf('device-fast-temperature') : analyte === 'ph' ? limitOf('device-fast-ph') : null
  const hourAgo = minutes.filter(({ at }) => last.at - at >= 50 * MINUTE && last.at - at <= 70 * MINUTE)
  const moved = hourAgo.length === 0 ? 0 : value - middle(hourAgo.map(({ median }) => median))
  const fast = most !== null && Math.abs(moved) > most
  const high = range !== null && range.max !== undefined && value > range.max
  const low = range !== null && range.min !== undefined && value < range.min
  const enough = lately.length >= limitOf('device-out') / 2
  if ((high || low) && enough) {
    const grave =
      analyte === 'temperature'
        ? (high && value > range.max + 1.5) || (low && value < range.min - 3) || fast
        : analyte === 'oxygen'
          ? low
          : false
    found.push({
      ...about,
      id: `${about.id}-out`,
      tone: grave ? 'danger' : 'caution',
      title: `${word} in ${name} is ${shown(value)}:`,
      detail:
        analyte === 'temperature' && high
          ? `over ${shown(range.max)}${moved > 0.1 ? ` and rising by ${shown(moved)} an hour` : ''}. Pull the heater’s plug, open the lid, more air; cool slowly. A heater that does not switch off cooks a tank in hours.`
          : analyte === 'temperature'
            ? `under ${shown(range.min)}${moved < -0.1 ? ` and falling by ${shown(-moved)} an hour` : ''}. Look at the heater, its plug and the pump past it; warm slowly.`
            : analyte === 'oxygen'
              ? `under ${shown(range.min)}. More air and surface movement now; then look at pumps, warmth and what was dosed.`
              : `usual ${shown(range.min)} to ${shown(range.max)}. Read it with another instrument before anything is done.`,
    })
  } else if (fast)
    found.push({
      ...about,
      id: `${about.id}-fast`,
      tone: 'caution',
      title: `${word} in ${name} moved by ${shown(Math.abs(moved))} within an hour:`,
      detail: 'read it once more by hand, and find what did it.',
    })
  return found
}

/** Whether what a doser says it poured is seen in the water. */
export interface DoserProof {
  readonly verdict: 'shows' | 'missing' | 'open'
  /** Use a day while it is believed to pour, as it looks with its doses taken for true: before and lately. */
  readonly before: number | null
  readonly lately: number | null
  readonly perDay: number
  readonly words: string
  readonly working: Working | null
}

/**
 * A dose is proved by the level it caused: where a doser runs dry and goes on saying that it pours, the use reckoned with
 * its doses rises by just what it no longer brings. Tests of the last days are held against those before; apart by more
 * than both errors, and by about the dose, it is missing.
 */
export function doserProof(
  record: KeeperRecord,
  active: ActiveLedger,
  device: DeviceDocument,
  nowMs: number,
): DoserProof {
  const state = doserState(record, active, device, nowMs)
  const open = (words: string): DoserProof => ({
    verdict: 'open',
    before: null,
    lately: null,
    perDay: 0,
    words,
    working: null,
  })
  const { correction } = state
  if (!correction) return open('What it pours is not known.')
  const vessel = record.vessels.get(device.body.vesselId)
  const volumeL = vessel ? (vesselVolume(vessel)?.litres ?? null) : null
  const since = nowMs - limitOf('proof-lookback') * DAY
  const own = (indexOf(active).byVessel.get(device.body.vesselId)?.entries ?? []).filter((entry) => {
    const ms = entryMs(entry)
    return ms >= since && ms <= nowMs
  })
  const pours = pouredByDosers(record, own, device.body.vesselId, since, nowMs).filter(
    (pour) => pour.correction.id === correction.id,
  )
  const poured = pours.filter(({ deviceId }) => deviceId === device.id)
  const tests = own.filter(
    (entry): entry is ReadingEntry =>
      entry.kind === 'reading' && entry.analyte === correction.analyte && entry.bound === 'exact',
  )
  if (poured.length === 0) return open('It has not said that it poured yet.')
  const changeOf = (entry: Extract<Entry, { kind: 'change' }>): SteerEvent[] => {
    const mix = mixValue(record, active, vessel!.body.water, correction.analyte, entryMs(entry), correction.mix)
    return mix === null
      ? []
      : [{ atMs: entryMs(entry), kind: 'change', amount: changedShare(entry, volumeL!), mix: mix.value, mixSd: mix.sd }]
  }
  const events = [
    ...pours.map(({ atMs, rise }): SteerEvent => ({ atMs, kind: 'dose', amount: rise })),
    ...own.flatMap((entry): SteerEvent[] =>
      entry.kind === 'tally' && entry.deviceId === undefined && entry.measure === addedMeasure(correction.id)
        ? [{ atMs: entryMs(entry), kind: 'dose', amount: entry.values['rise'] ?? 0 }]
        : entry.kind === 'change' && volumeL !== null
          ? changeOf(entry)
          : [],
    ),
  ]
  const readings = tests.map((entry) => ({
    atMs: entryMs(entry),
    value: valueOf(active, entry),
    sd: scatterOf(record, entry),
    below: false,
  }))
  const days = Math.max(1, (nowMs - Math.max(since, poured[0]!.atMs)) / DAY)
  const perDay = poured.reduce((sum, { rise }) => sum + rise, 0) / days
  const least = limitOf('proof-days')
  const splitMs = nowMs - 2 * least * DAY
  const early = readings.filter(({ atMs }) => atMs <= splitMs)
  const late = readings.filter(({ atMs }) => atMs >= splitMs - 0.5 * DAY)
  const span = (list: readonly { atMs: number }[]) => (list.length < 2 ? 0 : (list.at(-1)!.atMs - list[0]!.atMs) / DAY)
  if (span(early) < least || span(late) < least || early.length < 3 || late.length < 3)
    return open(
      `Test ${analyteWord(correction.analyte as Analyte)} every day or two: three tests over three days, and three over three days before them, prove it.`,
    )
  const was = consumption(early, events)
  const is = consumption(late, events)
  if (!was || !is) return open('The tests lie too close together to prove it.')
  const apart = is.perDay - was.perDay
  const sd = Math.hypot((was.high - was.low) / 2.563, (is.high - is.low) / 2.563)
  const missing = apart > 2 * sd && apart > 0.5 * perDay
  const told = apart < 0.5 * perDay && 2 * sd < 0.7 * perDay
  const shown = (value: number) => `${Number(value.toPrecision(2))} ${correction.unit}`
  return {
    verdict: missing ? 'missing' : told ? 'shows' : 'open',
    before: was.perDay,
    lately: is.perDay,
    perDay,
    words: missing
      ? `${device.body.name} says ${shown(perDay)} a day, and the water lacks ${shown(apart)} a day since about a week: it may be dry, blocked, or its stock weaker. Pour into a cup and measure.`
      : told
        ? `What it says it pours, ${shown(perDay)} a day, is seen in the water.`
        : 'The tests scatter too much to tell whether it arrives.',
    working: {
      title: 'Is the dose seen?',
      formula: 'use reckoned with its doses, lately − before; about the dose itself where none arrives',
      inputs: [
        { label: 'use before', value: was.perDay, unit: `${correction.unit} a day`, sd: (was.high - was.low) / 2.563 },
        { label: 'use lately', value: is.perDay, unit: `${correction.unit} a day`, sd: (is.high - is.low) / 2.563 },
        { label: 'poured, by its own word', value: perDay, unit: `${correction.unit} a day` },
      ],
      result: { label: 'missing', value: Math.max(0, apart), unit: `${correction.unit} a day` },
      notes: [],
      source: 'Handbook 65 §8.1',
    },
  }
}
