// A salt added to raise a value: its own day's limit, and everything else that the same salt brings along.
import { addedMeasure } from '../outbreak/measures.ts'
import { correctionOf, corrections, saltGrams, steerState, type Salt, type SteerState } from '../outbreak/steerState.ts'
import { entryMs } from '../time/time.ts'
import { parseQuantity } from '../units/parse.ts'
import { block, forbid, warn, type Refusal } from '../safety/refusal.ts'
import { entriesOf } from '../safety/level.ts'
import { answerOf, problemAnswer } from './answer.ts'
import { atOf, baseOf, checkInstant, checkStep, courseFor } from './place.ts'
import type { ActContext, ActAnswer, CorrectionIntent, Draft } from './types.ts'

const DAY_MS = 86_400_000
const trim = (value: number): string => String(Number(value.toPrecision(3)))

/** Raised in the last 24 h of one analyte, by its own correction and as a side effect of all the others. */
export function raisedAlong(context: ActContext, vesselId: string, analyte: string, atMs: number): number {
  let sum = 0
  for (const entry of entriesOf(context, vesselId)) {
    if (entry.kind !== 'tally') continue
    const ms = entryMs(entry)
    if (ms > atMs || atMs - ms >= DAY_MS) continue
    const from = corrections.find((one) => addedMeasure(one.id) === entry.measure)
    if (!from) continue
    const rise = entry.values['rise'] ?? 0
    if (from.analyte === analyte) sum += rise
    const salt = from.salts.find(({ label }) => label === entry.note)
    for (const side of salt?.side ?? []) if (side.analyte === analyte) sum += side.perUnit * rise
  }
  return sum
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
    const room = Math.max(0, other.perDay - raisedAlong(context, vesselId, analyte, atMs)) / perUnit
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
  const gross = raisedAlong(context, vesselId, correction.analyte, atMs) + rise
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
    const along = raisedAlong(context, vesselId, analyte, atMs) + perUnit * rise
    const words = `${salt.label} brings ${trim(perUnit * rise)} ${unit} of ${analyte} along: ${trim(along)} in 24 hours`
    if (along > other.perDayMax * (1 + 1e-9))
      found.push(block('side-effect', `${words}, over the most of ${other.perDayMax} ${other.unit} a day.`))
    else if (along > other.perDay * 1.05)
      found.push(
        warn('side-effect', `${words}, faster than the usual ${other.perDay} ${other.unit}. Take it off the doser.`),
      )
  }
  if (!reading)
    found.push(block('correction-untested', `No ${correction.analyte} was read in the last three weeks: test first.`))
  else if (reading.bound === 'above')
    found.push(
      block(
        'correction-off-scale',
        `The last test reads above the kit's range (> ${reading.value} ${correction.unit}): thin the sample one to one with RO water, test again and double it.`,
      ),
    )
  else if (correction.stopAbove !== undefined && reading.value >= correction.stopAbove)
    found.push(
      block(
        'correction-stop',
        `${reading.value} ${correction.unit} is at or above ${correction.stopAbove}: no more is added.`,
      ),
    )
  else if (correction.stopAbove !== undefined && reading.value + day > correction.stopAbove * (1 + 1e-9))
    found.push(
      block(
        'correction-stop',
        `From ${reading.value} ${correction.unit}, ${trim(day)} more would pass ${correction.stopAbove}: no more than that.`,
      ),
    )
  return found
}

/** Grams of a salt as weighed. */
export function correctionAct(context: ActContext, intent: CorrectionIntent): ActAnswer {
  const correction = correctionOf(intent.correction)
  const salt = correction?.salts.find(({ id }) => id === intent.salt)
  const atMs = atOf(context, intent)
  const state = steerState(context.record, context.active, intent.vesselId, intent.correction, atMs)
  if (!correction || !salt || !state) return problemAnswer('That correction is not known for this vessel.')
  const parsed = parseQuantity(intent.grams, {
    dimension: 'mass',
    fieldUnit: 'g',
    label: salt.label,
    allowBound: false,
  })
  if (!parsed.ok) return problemAnswer(parsed.error.message)
  const grams = parsed.value.value / 1000
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
        ...baseOf(context, intent, courseFor(context, intent)),
        measure: addedMeasure(correction.id),
        values: { rise: Number(rise.toPrecision(6)), grams: Number(grams.toPrecision(6)) },
        note: salt.label,
      } as unknown as Draft,
    ],
    preview: { lines: [`${trim(grams)} g raise ${correction.analyte} by ${trim(rise)} ${correction.unit}.`] },
    said: `${trim(grams)} g of ${salt.label.toLowerCase()}: noted.`,
  })
}
