// A correction read off the record: what is there, what is used, what to add now in grams of a salt by the net volume.
import { limitOf } from '../knowledge/limits.ts'
import { corrections as TABLES } from '../generated/knowledge/corrections.ts'
import type { CorrectionTable } from '../generated/correctionTypes.ts'
import { changedShare, vesselVolume } from '../level/fromRecord.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import type { ActiveLedger, KeeperRecord, ReadingEntry } from '../record/types.ts'
import { mixValue } from './mixValues.ts'
import { scatterOf, valueOf } from '../record/instrumentState.ts'
import { entryMs, instantMs } from '../time/time.ts'
import type { Working } from '../working.ts'
import { guardStates } from './guards.ts'
import { addedMeasure, type Campaign } from './measures.ts'
import { consumption, silicateDose, steer, type Consumption, type SilicateDose, type SteerDose } from './steering.ts'

export type Correction = CorrectionTable['corrections'][number]
export type Salt = Correction['salts'][number]
export const corrections: readonly Correction[] = TABLES[0]!.corrections
export const correctionSources = TABLES[0]!.sources
export const correctionOf = (id: string): Correction | undefined => corrections.find((one) => one.id === id)

export interface SteerState {
  readonly correction: Correction
  readonly reading: ReadingEntry | null
  readonly readings: readonly ReadingEntry[]
  readonly use: Consumption | null
  readonly dose: SteerDose | null
  readonly silicate: SilicateDose | null
  /** Rise to add now, in the unit of the analyte. */
  readonly rise: number
  /** A campaign in this water must stop: nothing is added, and why. */
  readonly stopped: string | null
  readonly raisedToday: number
  readonly volumeL: number | null
  readonly watch: readonly { readonly words: string; readonly tone: 'plain' | 'caution' }[]
}

const DAY = 86_400_000
const HOUR = 3_600_000
/** How far back tests still tell the use. EST */
const USE_DAYS = limitOf('use-lookback')

/** Hours after which a test of what is eaten within a day says nothing of now. EST */
const READ_OF_NOW_H = limitOf('eaten-read')
const readOfNow = (entry: ReadingEntry | null, nowMs: number): ReadingEntry | null =>
  entry !== null && nowMs - entryMs(entry) <= READ_OF_NOW_H * HOUR ? entry : null

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
    entry.kind === 'tally' && entry.measure === addedMeasure(correctionId)
      ? [{ atMs: entryMs(entry), rise: entry.values['rise'] ?? 0 }]
      : [],
  )
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
    ...added.map(({ atMs, rise }) => ({ atMs, kind: 'dose' as const, amount: rise })),
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
  const sum = (fromMs: number) => added.reduce((total, { atMs, rise }) => total + (atMs > fromMs ? rise : 0), 0)
  const raisedToday = sum(nowMs - DAY)
  const goal = target ?? correction.window.target
  let silicate: SilicateDose | null = null
  let dose: SteerDose | null = null
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
    })
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
  return { correction, reading, readings, use, dose, silicate, rise, stopped, raisedToday, volumeL, watch }
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

/** Grams of a salt for a rise in a volume: rise × mg per litre and unit × litres ÷ 1000. @source handbook 65 §7 */
export const saltGrams = (rise: number, salt: Salt, volumeL: number): number => (rise * salt.mgPerUnit * volumeL) / 1000

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
