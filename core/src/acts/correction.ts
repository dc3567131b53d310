// A salt added to raise a value: its own day's limit, and everything else that the same salt brings along.
import { addedMeasure } from '../outbreak/measures.ts'
import { correctionOf, corrections, saltGrams, type Correction, type Salt } from '../outbreak/corrections.ts'
import { raisedAlong, secondResult, steerState, type SteerState } from '../outbreak/steerState.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import { limitOf } from '../knowledge/limits.ts'
import { valueOf } from '../record/instrumentState.ts'
import { ANALYTES } from '../record/typedLine.ts'
import type { ReadingEntry } from '../record/types.ts'
import { entryMs } from '../time/time.ts'
import { DROPS_PER_ML } from '../outbreak/dosers.ts'
import { readPour } from './amounts.ts'
import { block, forbid, warn, type Refusal } from '../safety/refusal.ts'
import { entriesOf } from '../safety/level.ts'
import { answerOf, problemAnswer } from './answer.ts'
import { atOf, baseOf, checkInstant, checkStep, courseFor } from './place.ts'
import type { ActContext, ActAnswer, CorrectionIntent, Draft } from './types.ts'

const DAY_MS = 86_400_000
const trim = (value: number): string => String(Number(value.toPrecision(3)))

/** Net rise of an analyte within 24 hours, whatever brought it: what is used up in a day is only put back. */
function raisedNet(context: ActContext, vesselId: string, other: Correction, atMs: number): number {
  const { record, active } = context
  const raised = raisedAlong(record, entriesOf(context, vesselId), vesselId, other.analyte, atMs)
  return raised === 0
    ? 0
    : Math.max(0, raised - Math.max(0, steerState(record, active, vesselId, other.id, atMs)?.use?.perDay ?? 0))
}

/** The most of a rise that this salt may bring now without anything else passing its usual day's pace. */
export function riseWithin(
  context: ActContext,
  vesselId: string,
  salt: Salt,
  rise: number,
  atMs: number,
): { rise: number; by: string | null } {
  let most = rise
  let by: string | null = null
  for (const { analyte, perUnit } of salt.side ?? []) {
    const other = corrections.find((one) => one.analyte === analyte)
    if (!other || perUnit <= 0) continue
    const room = Math.max(0, other.perDay - raisedNet(context, vesselId, other, atMs)) / perUnit
    if (room < most) {
      most = room
      by = analyte
    }
  }
  return { rise: most, by }
}

/** What speaks against adding a rise now: the day's limit, the stop line, a volume nobody confirmed, side effects. */
export function checkCorrection(
  context: ActContext,
  state: SteerState,
  vesselId: string,
  rise: number,
  salt: Salt,
  atMs: number,
): Refusal[] {
  const { correction, reading } = state
  const { stopAbove } = state.wanted
  const vessel = context.record.vessels.get(vesselId)
  const found: Refusal[] = []
  if (state.volumeL === null) return [forbid('volume', 'The net volume is not known: no amount can be worked out.')]
  if (vessel?.body.volumeConfirmedAt === undefined)
    found.push(
      block('volume-unconfirmed', `The net volume of ${vessel?.body.name ?? 'the vessel'} was never confirmed.`),
    )
  if (correction.water !== 'both' && vessel && correction.water !== vessel.body.water)
    found.push(block('water', `${correction.title} is for ${correction.water === 'marine' ? 'sea' : 'fresh'} water.`))
  if (state.stopped !== null) found.push(block('campaign-stop', `${state.stopped} Nothing more is added.`))
  // The net change counts: what is used up in a day is only put back.
  const used = Math.max(0, state.use?.perDay ?? 0)
  const gross = raisedAlong(context.record, entriesOf(context, vesselId), vesselId, correction.analyte, atMs) + rise
  const day = gross - used
  if (day > correction.perDayMax * (1 + 1e-9))
    found.push(
      block(
        'correction-over-limit',
        `${trim(gross)} ${correction.unit} in 24 hours${used > 0 ? `, ${trim(used)} of it used up,` : ''} is over the most of ${correction.perDayMax} ${correction.unit} a day.`,
      ),
    )
  // What the plan itself offers by its tests is the pace.
  else if (day > correction.perDay * 1.05 && rise > state.rise * 1.05)
    found.push(warn('correction-fast', `Faster than the usual ${correction.perDay} ${correction.unit} a day.`))
  for (const { analyte, perUnit, unit } of salt.side ?? []) {
    const other = corrections.find((one) => one.analyte === analyte)
    if (!other) continue
    const along = raisedNet(context, vesselId, other, atMs) + perUnit * rise
    const words = `${salt.label} brings ${trim(perUnit * rise)} ${unit} of ${analyte} along: ${trim(along)} in 24 hours`
    if (along > other.perDayMax * (1 + 1e-9))
      found.push(block('side-effect', `${words}, over the most of ${other.perDayMax} ${other.unit} a day.`))
    else if (along > other.perDay * 1.05)
      found.push(
        warn('side-effect', `${words}, faster than the usual ${other.perDay} ${other.unit}. Take it off the doser.`),
      )
  }
  if (salt.portionMost !== undefined && rise > salt.portionMost * (1 + 1e-9))
    found.push(
      block(
        'portion-over-limit',
        `${salt.label}: at most ${trim(salt.portionMost)} ${correction.unit} in one portion, ${correction.portions?.apartMinutes ?? 60} minutes apart.`,
      ),
    )
  found.push(...checkFirst(context, vesselId, correction, atMs), ...checkApart(context, vesselId, correction, atMs))
  if (!reading)
    found.push(block('correction-untested', `No ${correction.analyte} was read in the last three weeks: test first.`))
  else if (reading.bound === 'above')
    found.push(
      block(
        'correction-off-scale',
        `The last test reads above the kit's range (> ${reading.value} ${correction.unit}): thin the sample one to one with RO water, test again and double it.`,
      ),
    )
  else if (stopAbove !== null && reading.value >= stopAbove)
    found.push(
      block('correction-stop', `${reading.value} ${correction.unit} is at or above ${stopAbove}: no more is added.`),
    )
  else if (stopAbove !== null && reading.value + day > stopAbove * (1 + 1e-9))
    found.push(
      block(
        'correction-stop',
        `From ${reading.value} ${correction.unit}, ${trim(day)} more would pass ${stopAbove}: no more than that.`,
      ),
    )
  if (state.nextMs !== null)
    found.push(
      warn(
        'portion-soon',
        `The last portion went in ${Math.round((atMs - (state.nextMs - correction.portions!.apartMinutes * 60_000)) / 60_000)} min ago: ${correction.portions!.apartMinutes} min lie between two.`,
      ),
    )
  const again = secondResult(state)
  if (again !== null) found.push(block('correction-once', again))
  return found
}

/** Newest exact reading of an analyte in a vessel, within the days that it speaks for the water. */
function lately(context: ActContext, vesselId: string, analyte: string, atMs: number): ReadingEntry | null {
  const entry = entriesOf(context, vesselId).findLast(
    (one) => one.kind === 'reading' && one.analyte === analyte && one.doubt !== 'typo' && entryMs(one) <= atMs,
  )
  return entry?.kind === 'reading' && atMs - entryMs(entry) <= limitOf('reading-stands') * DAY_MS ? entry : null
}

/** What must hold first, and does not or is not known: why nothing of a correction may be added; null where all holds. */
export function waitsFor(
  context: ActContext,
  vesselId: string,
  correction: Correction,
  atMs: number,
): { readonly analyte: string; readonly words: string } | null {
  for (const { analyte, min, max } of correction.first ?? []) {
    const about = ANALYTES[analyte as keyof typeof ANALYTES]
    const line = min === undefined ? `at most ${max}` : `at least ${min}`
    const read = lately(context, vesselId, analyte, atMs)
    if (!read)
      return {
        analyte,
        words: `${about.word} must be ${line} ${about.unit} first, and was not read in two weeks: test it.`,
      }
    const value = valueOf(context.active, read)
    if ((min !== undefined && value < min) || (max !== undefined && value > max))
      return { analyte, words: `${about.word} must be ${line} ${about.unit} first, and is ${trim(value)}.` }
  }
  return null
}
function checkFirst(context: ActContext, vesselId: string, correction: Correction, atMs: number): Refusal[] {
  const waits = waitsFor(context, vesselId, correction, atMs)
  return waits === null ? [] : [block('correction-first', `${correction.title}: ${waits.words}`)]
}

/** Instant from which a correction may go in beside another that went in just before; null where none did. */
export function apartUntil(context: ActContext, vesselId: string, correction: Correction, atMs: number): number | null {
  let until: number | null = null
  for (const { correction: other, minutes } of correction.apart ?? [])
    for (const entry of entriesOf(context, vesselId)) {
      if (entry.kind !== 'tally' || entry.measure !== addedMeasure(other)) continue
      const ms = entryMs(entry)
      if (ms <= atMs && ms + minutes * 60_000 > atMs) until = Math.max(until ?? 0, ms + minutes * 60_000)
    }
  return until
}
function checkApart(context: ActContext, vesselId: string, correction: Correction, atMs: number): Refusal[] {
  const until = apartUntil(context, vesselId, correction, atMs)
  if (until === null) return []
  const minutes = Math.ceil((until - atMs) / 60_000)
  return [
    block(
      'correction-apart',
      `${(correction.apart ?? []).map(({ correction: other }) => other).join(' and ')} went in just before: ${minutes} more ${minutes === 1 ? 'minute' : 'minutes'}, or both fall out as chalk.`,
    ),
  ]
}

/** Grams of a salt as weighed. */
export function correctionAct(context: ActContext, intent: CorrectionIntent): ActAnswer {
  const correction = correctionOf(intent.correction)
  const salt = correction?.salts.find(({ id }) => id === intent.salt)
  const atMs = atOf(context, intent)
  const state = steerState(context.record, context.active, intent.vesselId, intent.correction, atMs)
  if (!correction || !salt || !state) return problemAnswer('That correction is not known for this vessel.')
  const { stock } = intent
  if (stock !== undefined && !(stock.gramsPerL > 0))
    return problemAnswer('How many grams of the salt are in a litre of the stock? Above zero.')
  const parsed = readPour(intent.grams, stock?.unit ?? 'g', salt.label)
  if (!parsed.ok) return problemAnswer(parsed.error)
  const mL =
    stock === undefined
      ? null
      : stock.unit === 'mL'
        ? parsed.value.amount
        : parsed.value.amount / (stock.dropsPerMl ?? DROPS_PER_ML)
  const grams = mL === null ? parsed.value.amount : (mL * stock!.gramsPerL) / 1000
  if (!(grams > 0)) return problemAnswer('The amount must be above zero. What was added?')
  const rise = state.volumeL === null ? 0 : grams / saltGrams(1, salt, state.volumeL)
  return answerOf({
    found: [
      ...checkInstant(context, intent.vesselId, atMs, context.nowMs),
      ...checkStep(context, intent),
      ...checkCorrection(context, state, intent.vesselId, rise, salt, atMs),
    ],
    drafts: [
      {
        kind: 'tally',
        ...baseOf(
          context,
          intent,
          // A portion belongs to a course that raises this, and to no other that happens to run here.
          courseFor(
            context,
            intent,
            ({ body }) =>
              (body.protocol as unknown as Protocol).campaign?.corrections?.includes(correction.id) === true,
          ),
        ),
        measure: addedMeasure(correction.id),
        values: {
          rise: Number(rise.toPrecision(6)),
          grams: Number(grams.toPrecision(6)),
          ...(mL === null ? {} : { ml: Number(mL.toPrecision(6)), 'grams-per-l': stock!.gramsPerL }),
        },
        note: salt.label,
      } as unknown as Draft,
    ],
    preview: {
      lines: [
        `${mL === null ? `${trim(grams)} g` : `${trim(mL)} mL hold ${trim(grams)} g and`} raise ${correction.analyte} by ${trim(rise)} ${correction.unit}.`,
      ],
    },
    said: `${trim(grams)} g of ${salt.label.toLowerCase()}: noted.`,
  })
}
