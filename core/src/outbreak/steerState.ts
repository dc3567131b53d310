// A correction read off the record: what is there, what is used, what to add now in grams of a salt by the net volume.
import { limitOf } from '../knowledge/limits.ts'
import { changedShare, vesselVolume } from '../level/fromRecord.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import { usualRange } from '../knowledge/ranges.ts'
import type { ActiveLedger, Entry, KeeperRecord, ReadingEntry } from '../record/types.ts'
import { mixValue } from './mixValues.ts'
import { scatterOf, valueOf } from '../record/instrumentState.ts'
import { dayOf, entryMs, instantMs } from '../time/time.ts'
import { runningCourses } from '../record/running.ts'
import type { Working } from '../working.ts'
import { guardStates } from './guards.ts'
import { addedMeasure, type Campaign } from './measures.ts'
import { correctionOf, corrections, saltGrams, type Correction, type Salt } from './corrections.ts'
import { pouredByDosers, risePerDayByDosers } from './dosers.ts'
import { consumption, silicateDose, steer, type Consumption, type SilicateDose, type SteerDose } from './steering.ts'

/** What a water should hold of a value that a correction raises, in the correction's unit. */
export interface Wanted {
  readonly min: number
  readonly target: number
  readonly max: number
  /** At or above this nothing is added; null where no line is kept. */
  readonly stopAbove: number | null
  /** Whether this kind of water keeps such a value at all, or a course here raises it. */
  readonly kept: boolean
}
export interface SteerState {
  readonly correction: Correction
  readonly wanted: Wanted
  readonly reading: ReadingEntry | null
  readonly readings: readonly ReadingEntry[]
  /** Something of it was added in the weeks looked at. */
  readonly begun: boolean
  readonly use: Consumption | null
  /** Rise a day by dosers from now on, and what they leave to be put back; below zero where they pour more than is used. */
  readonly pours: number
  readonly putBack: number
  readonly dose: SteerDose | null
  readonly silicate: SilicateDose | null
  /** Rise to add now, in the unit of the analyte. */
  readonly rise: number
  /** A campaign in this water must stop: nothing is added, and why. */
  readonly stopped: string | null
  /** Raised by its own portions that still count for today's pace. */
  readonly raisedToday: number
  /** Days before today on which something went in since the last test. */
  readonly steps: number
  /** It is being raised: something went in lately, and no test says that the target is reached. */
  readonly going: boolean
  /** It should be there by arithmetic: the test that ends it is due. */
  readonly endDue: boolean
  /** Portions that count for today, and from when the next may follow; null where none waits. */
  readonly poured: number
  readonly nextMs: number | null
  /** When the earliest of those portions no longer counts for the day's limit; null where none does. */
  readonly roomMs: number | null
  readonly volumeL: number | null
  readonly watch: readonly { readonly words: string; readonly tone: 'plain' | 'caution' }[]
}

const DAY = 86_400_000
const HOUR = 3_600_000
/**
 * Hours after which a portion no longer counts against the usual pace of a day: nobody comes at the same minute every
 * evening. The most of a day is held over 24 hours all the same. EST
 */
export const PACE_MS = limitOf('correction-day') * HOUR
/** Share of a day's pace within which a target counts as reached. EST */
const NEAR = limitOf('correction-near')
/**
 * Portions that a day's rise is given in: the least of the correction for its whole pace, fewer for less, none over the
 * most of a portion.
 */
export const portionsFor = (correction: Correction, salt: Salt, rise: number): number =>
  Math.max(
    1,
    Math.ceil((correction.portions?.least ?? 1) * Math.min(1, rise / correction.perDay) - 1e-9),
    salt.portionMost === undefined ? 1 : Math.ceil(rise / salt.portionMost - 1e-9),
  )
/** A test is due before each third step. @source handbook 65 §6 */
export const RETEST_EVERY = 3
/** How far back tests still tell the use. EST */
const USE_DAYS = limitOf('use-lookback')

/** Hours after which a test of what is eaten within a day says nothing of now. EST */
const READ_OF_NOW_H = limitOf('eaten-read')
const readOfNow = (entry: ReadingEntry | null, nowMs: number): ReadingEntry | null =>
  entry !== null && nowMs - entryMs(entry) <= READ_OF_NOW_H * HOUR ? entry : null

/**
 * What is wanted of a value: by the course here that raises it, else by the kind of system. The stop line of a correction
 * is written for sea water; fresh water ends where its own range ends.
 * @source handbook 65 §1 for ranges, 60 §8 and 65 §7 for windows
 */
export function wantedOf(record: KeeperRecord, vesselId: string, correction: Correction, nowMs: number): Wanted {
  const vessel = record.vessels.get(vesselId)
  const usual = vessel ? usualRange(vessel.body, correction.analyte) : null
  const fresh = vessel?.body.water === 'fresh'
  const stopAbove = (fresh ? usual?.max : correction.stopAbove) ?? null
  const steered = runningCourses(record, nowMs).some(
    ({ body }) =>
      body.vesselId === vesselId &&
      (body.protocol as unknown as Protocol).campaign?.corrections?.includes(correction.id) === true,
  )
  const window = steered || usual === null ? correction.window : usual
  const most = Math.min(window.max, stopAbove ?? Infinity)
  return {
    min: Math.min(window.min, most),
    target: Math.min(window.target, most),
    max: most,
    stopAbove,
    kept: steered || usual !== null,
  }
}

/**
 * Why a correction waits for a second low result; null where nothing speaks against it. A laboratory's figure counts as
 * two, and what was begun goes on. @source handbook 65 §7 co-k-up
 */
export function secondResult({ correction, wanted, readings, begun }: SteerState): string | null {
  if (correction.lowTwice !== true || begun) return null
  const low = readings.filter(({ value, bound }) => bound !== 'above' && value < wanted.min)
  return low.some(({ sampleId }) => sampleId !== undefined) || low.length >= 2
    ? null
    : `${correction.title.split(' ')[0]} is raised on a laboratory’s figure or two results under ${wanted.min} ${correction.unit}: there ${low.length === 1 ? 'is one so far, test it again' : 'is none'}.`
}

/**
 * Raised within a time, 24 h where none is given, of one analyte: by its own correction, as a side effect of all the
 * others, and by the dosers of the vessel. `entries` are those of the vessel.
 */
export function raisedAlong(
  record: KeeperRecord,
  entries: readonly Entry[],
  vesselId: string,
  analyte: string,
  atMs: number,
  withinMs = DAY,
): number {
  let sum = 0
  const add = (from: Correction, salt: Salt | null | undefined, rise: number) => {
    if (from.analyte === analyte) sum += rise
    for (const side of salt?.side ?? []) if (side.analyte === analyte) sum += side.perUnit * rise
  }
  for (const entry of entries) {
    if (entry.kind !== 'tally' || entry.deviceId !== undefined) continue
    const ms = entryMs(entry)
    if (ms > atMs || atMs - ms >= withinMs) continue
    const from = corrections.find((one) => addedMeasure(one.id) === entry.measure)
    if (!from) continue
    add(
      from,
      from.salts.find(({ label }) => label === entry.note),
      entry.values['rise'] ?? 0,
    )
  }
  for (const pour of pouredByDosers(record, entries, vesselId, atMs - withinMs, atMs))
    add(pour.correction, pour.salt, pour.rise)
  return sum
}

/** State of one correction in a vessel. Tests are split at nothing: additions and changes are taken off instead. */
export function steerState(
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  correctionId: string,
  nowMs: number,
  target?: number,
  /** Most in a day, where less than the usual is wished. */
  perDay?: number,
): SteerState | null {
  const correction = correctionOf(correctionId)
  const vessel = record.vessels.get(vesselId)
  if (!correction || !vessel) return null
  const volumeL = vesselVolume(vessel)?.litres ?? null
  const own = active.filter((entry) => 'vesselId' in entry && entry.vesselId === vesselId && entryMs(entry) <= nowMs)
  const readings = own.filter(
    (entry): entry is ReadingEntry =>
      entry.kind === 'reading' && entry.analyte === correction.analyte && nowMs - entryMs(entry) <= USE_DAYS * DAY,
  )
  const added = own.flatMap((entry) =>
    entry.kind === 'tally' && entry.measure === addedMeasure(correctionId) && entry.deviceId === undefined
      ? [{ atMs: entryMs(entry), rise: entry.values['rise'] ?? 0 }]
      : [],
  )
  // What dosers pour is in the trend, and no portion that somebody comes for.
  const pumped = pouredByDosers(record, own, vesselId, nowMs - USE_DAYS * DAY, nowMs).filter(
    (pour) => pour.correction.id === correctionId,
  )
  const pours = risePerDayByDosers(record, active, vesselId, correctionId, nowMs)
  const tests = readings.map((entry) => ({
    atMs: entryMs(entry),
    value: valueOf(active, entry),
    sd: scatterOf(record, entry, {
      step: correction.kitStep ?? 0,
      relativeError: correction.kitError ?? 0.1,
    }),
    below: entry.bound === 'below',
  }))
  // What a change brings is not empty water: the mix's own value, or, where that is not known, no move at all.
  const mixAt = (atMs: number) => mixValue(record, active, vessel.body.water, correction.analyte, atMs, correction.mix)
  const events = [
    ...[...added, ...pumped].map(({ atMs, rise }) => ({ atMs, kind: 'dose' as const, amount: rise })),
    ...own.flatMap((entry) => {
      if (entry.kind !== 'change' || volumeL === null) return []
      const mix = mixAt(entryMs(entry))
      return [
        {
          atMs: entryMs(entry),
          kind: 'change' as const,
          amount: changedShare(entry, volumeL),
          ...(mix === null ? {} : { mix: mix.value, mixSd: mix.sd }),
        },
      ]
    }),
  ]
  const use = consumption(tests, events)
  const last = tests.at(-1) ?? null
  const reading = readings.at(-1) ?? null
  // What stands at the minute of a test went in after it: one tests, then doses.
  const sum = (fromMs: number) =>
    [...added, ...pumped].reduce((total, { atMs, rise }) => total + (atMs >= fromMs ? rise : 0), 0)
  const ofDay = added.filter(({ atMs }) => atMs > nowMs - PACE_MS)
  const raisedToday = ofDay.reduce((total, { rise }) => total + rise, 0)
  const lastMs = ofDay.at(-1)?.atMs
  const nextMs =
    correction.portions === undefined || lastMs === undefined
      ? null
      : lastMs + correction.portions.apartMinutes * 60_000
  const wanted = wantedOf(record, vesselId, correction, nowMs)
  const goal = target ?? wanted.target
  let silicate: SilicateDose | null = null
  let dose: SteerDose | null = null
  let steps = 0
  if (correction.analyte === 'silicate') {
    const lastDose = added.at(-1)
    const between = (fromH: number, toH: number) =>
      lastDose === undefined
        ? null
        : (readings.findLast(
            (entry) => entryMs(entry) - lastDose.atMs >= fromH * HOUR && entryMs(entry) - lastDose.atMs <= toH * HOUR,
          ) ?? null)
    const zero = readings.filter((entry) => nowMs - entryMs(entry) <= 14 * DAY)
    const unseen =
      zero.length > 0 && zero.every((entry) => entry.bound === 'below' || entry.value < (correction.kitStep ?? 0.25))
    const raises = added.filter(({ rise }, i) => i > 0 && rise > added[i - 1]!.rise * 1.01)
    const spike = own.findLast(
      (entry) => entry.kind === 'tally' && entry.measure === 'silicate-spike' && nowMs - entryMs(entry) <= 14 * DAY,
    )
    silicate = silicateDose({
      target: goal,
      afterHour: between(0.4, 5)?.value ?? null,
      // A day old or more, and still of now: an old zero says nothing of today.
      afterDay: readOfNow(between(18, Infinity), nowMs)?.value ?? null,
      kitStep: correction.kitStep ?? 0.25,
      lastRise: lastDose?.rise ?? 0,
      daysSinceRaise: raises.length > 0 ? (nowMs - raises.at(-1)!.atMs) / DAY : Infinity,
      unmeasured14: unseen ? sum(nowMs - 14 * DAY) : 0,
      ...(spike?.kind === 'tally' && spike.values['read'] !== undefined ? { spike: spike.values['read'] } : {}),
    })
  } else if (last) {
    dose = steer({
      reading: last,
      nowMs,
      raisedSince: sum(last.atMs),
      use,
      target: goal,
      limitPerDay: perDay ?? correction.perDay,
      raisedToday,
      everyDays: 1,
      pours,
    })
    // Before each third step a test: what the arithmetic promises is looked at. @source handbook 65 §6
    const days = new Set(
      added.filter(({ atMs }) => atMs >= last.atMs).map(({ atMs }) => dayOf(atMs, record.settings.zone)),
    )
    days.delete(dayOf(nowMs, record.settings.zone))
    steps = days.size
    if (steps >= RETEST_EVERY && dose.reason === 'raise') dose = { ...dose, rise: 0, reason: 'due' }
  }
  const watch = (correction.watch ?? []).flatMap(({ analyte, moves, then }) => {
    const two = own.filter(
      (entry): entry is ReadingEntry =>
        entry.kind === 'reading' && entry.analyte === analyte && nowMs - entryMs(entry) <= 14 * DAY,
    )
    const before = two.find((entry) => entryMs(entry) <= (added[0]?.atMs ?? nowMs)) ?? two[0]
    const now = two.at(-1)
    if (!before || !now || before === now)
      return [{ words: `${analyte}: test it every day at the same hour.`, tone: 'plain' as const }]
    const moved = now.value - before.value
    return [
      Math.abs(moved) >= moves
        ? {
            words: `${analyte} moved by ${moved > 0 ? '+' : ''}${Number(moved.toPrecision(2))} ${now.unit}. ${then}`,
            tone: 'caution' as const,
          }
        : {
            words: `${analyte} steady (${moved > 0 ? '+' : ''}${Number(moved.toPrecision(2))} ${now.unit}).`,
            tone: 'plain' as const,
          },
    ]
  })
  const stopped = stopWords(record, active, vesselId, nowMs)
  const rise =
    stopped !== null
      ? 0
      : silicate
        ? ['dose', 'first', 'again'].includes(silicate.verdict)
          ? silicate.rise
          : 0
        : (dose?.rise ?? 0)
  // Near is within a fifth of a day's pace or half a step of the kit. What was raised ends by a test, not by arithmetic.
  const slack = Math.max(NEAR * correction.perDay, (correction.kitStep ?? 0) / 2)
  const near = dose !== null && goal - dose.now <= slack
  // What only puts back what is used up is no correction, whoever pours it.
  const putBack = Math.max(0, use?.perDay ?? 0) - pours
  const recent = added.filter(({ atMs }) => nowMs - atMs <= limitOf('reading-stands') * DAY)
  const net =
    recent.reduce((total, { rise }) => total + rise, 0) -
    // Each portion is for the day that follows it.
    (Math.max(0, putBack) * (nowMs - (recent[0]?.atMs ?? nowMs) + DAY)) / DAY
  const low = readings.some(({ value, bound }) => bound !== 'above' && value < wanted.min)
  const lately = dose !== null && recent.length > 0 && (low || net > 2 * slack)
  const raised =
    last !== null && dose !== null && goal - last.value > slack ? added.filter(({ atMs }) => atMs >= last.atMs) : []
  const begun = added.some(({ atMs }) => nowMs - atMs <= USE_DAYS * DAY)
  return {
    correction,
    wanted,
    reading,
    readings,
    begun,
    use,
    putBack,
    pours,
    dose,
    silicate,
    rise,
    stopped,
    raisedToday,
    poured: ofDay.length,
    steps,
    going: lately && (!near || raised.length > 0),
    endDue:
      lately && near && raised.length > 0 && nowMs - raised.at(-1)!.atMs >= (correction.retestDays ?? 1) * PACE_MS,
    nextMs: nextMs !== null && nextMs > nowMs ? nextMs : null,
    roomMs: ofDay[0] === undefined ? null : ofDay[0].atMs + PACE_MS,
    volumeL,
    watch,
  }
}

/**
 * Days that a correction still takes at its pace, by what was read and what is used up: the longest of what it steers.
 * Null where nothing is steered or nothing was read; Infinity where the pace never reaches the target.
 */
export function daysToCorrect(
  protocol: Protocol,
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  nowMs: number,
): number | null {
  if (protocol.campaign?.kind !== 'correction') return null
  const steered = protocol.phases.flatMap(({ rules }) =>
    rules.flatMap((rule) => (rule.kind === 'task' ? (rule.steers ?? []) : [])),
  )
  const days = [...new Set(steered)].flatMap((id) => {
    const dose = steerState(record, active, vesselId, id, nowMs)?.dose
    return dose?.reason === 'raise' ? [dose.days ?? Infinity] : []
  })
  return days.length > 0 ? Math.max(...days) : null
}

/** What a running campaign of the vessel says where a guarded value has passed its stop line; null where none has. */
function stopWords(record: KeeperRecord, active: ActiveLedger, vesselId: string, nowMs: number): string | null {
  for (const course of record.courses.values()) {
    const { body } = course
    if (body.vesselId !== vesselId || instantMs(body.startedAt) > nowMs) continue
    if (body.endedAt !== undefined && instantMs(body.endedAt) <= nowMs) continue
    const campaign = (body.protocol as { campaign?: Campaign }).campaign
    const guards = campaign?.guards
    if (!guards) continue
    const own = active.filter((entry) => 'vesselId' in entry && entry.vesselId === vesselId)
    const states = guardStates(guards, record, own, instantMs(body.startedAt), nowMs, nowMs + DAY)
    const stop = states.find(({ verdict }) => verdict === 'stop')
    if (stop)
      return `${stop.analyte} ${Number((stop.last?.value ?? 0).toPrecision(3))} ${stop.unit} has passed the stop line of the campaign (${stop.stopWords}).`
    // What a correction moves along with it pauses that correction until a test says that it came back.
    const act = campaign.kind === 'correction' ? states.find(({ verdict }) => verdict === 'act') : undefined
    if (act)
      return `${act.analyte} ${Number((act.last?.value ?? 0).toPrecision(3))} ${act.unit} has reached the line to act on (${act.actWords}). Every other doser of it off, and test again tomorrow: below the line the portions go on.`
  }
  return null
}

/** Grams under which a kitchen scale of 0.01 g is off by more than a tenth. */
const WEIGHED_G = limitOf('weighed-least')
/**
 * An amount too small to weigh, as a portion of a stock solution: grams of the salt in a litre of RO water, and its mL.
 * Null where it is weighed as well. The strongest of 10 and 1 g/L of which a millilitre or more is poured. EST
 */
export function stockPortion(grams: number): { readonly gramsPerL: number; readonly mL: number } | null {
  if (!(grams > 0) || grams >= WEIGHED_G) return null
  const gramsPerL = grams >= 0.01 ? 10 : 1
  return { gramsPerL, mL: (1000 * grams) / gramsPerL }
}

export function saltWorking(correction: Correction, salt: Salt, rise: number, volumeL: number): Working {
  return {
    title: correction.title,
    formula: 'rise × mg of salt per litre and unit × net volume ÷ 1000',
    inputs: [
      { label: 'rise', value: rise, unit: correction.unit },
      { label: salt.label, value: salt.mgPerUnit, unit: `mg/L per ${correction.unit}`, from: 'molar masses' },
      { label: 'net volume', value: volumeL, unit: 'L' },
    ],
    result: { label: 'amount', value: saltGrams(rise, salt, volumeL), unit: 'g' },
    notes: (salt.side ?? []).map(
      ({ analyte, perUnit, unit }) => `Also brings ${Number((perUnit * rise).toPrecision(2))} ${unit} of ${analyte}.`,
    ),
    source: 'Handbook 65 §7',
  }
}
