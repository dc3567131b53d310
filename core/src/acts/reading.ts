// A reading: the right kit, the right time, believable, and not far off what the record makes likely.
import { entriesUntil } from '../record/ledgerIndex.ts'
import { agentForm, agentForms } from '../knowledge/agents.ts'
import { limitOf } from '../knowledge/limits.ts'
import { dosedForms } from '../level/fromRecord.ts'
import { ANALYTES } from '../record/typedLine.ts'
import type { ReadingEntry } from '../record/types.ts'
import { ask, forbid, warn, type Refusal } from '../safety/refusal.ts'
import { entryMs } from '../time/time.ts'
import { fromCanonical } from '../units/units.ts'
import { preferredUnit } from '../units/format.ts'
import { parseQuantity } from '../units/parse.ts'
import { convertAmmonia } from '../water/ammonia.ts'
import { answerOf, problemAnswer } from './answer.ts'
import { atOf, baseOf, checkInstant, checkStep, courseFor, protocolOfCourse } from './place.ts'
import { plausibleRange } from './plausible.ts'
import type { ActContext, ActAnswer, Draft, ReadingIntent, ReadingsIntent } from './types.ts'

const trim = (value: number): string => String(Number(value.toPrecision(3)))

/** The reading as typed, held against everything. */
export function readingAct(context: ActContext, intent: ReadingIntent): ActAnswer {
  const { record } = context
  const vessel = record.vessels.get(intent.vesselId)
  if (!vessel) return problemAnswer('That vessel is not on the shelf.')
  const about = ANALYTES[intent.analyte]
  const fieldUnit = preferredUnit(about.dimension, record.settings)
  const parsed = parseQuantity(intent.text, {
    dimension: about.dimension,
    fieldUnit,
    max: about.max,
    label: about.word,
  })
  if (!parsed.ok) return problemAnswer(parsed.error.message)
  const { bound, entered, unit } = parsed.value
  const instrument = intent.instrumentId === undefined ? undefined : record.instruments.get(intent.instrumentId)
  if (intent.instrumentId !== undefined && !instrument)
    return problemAnswer('That kit is not in the cupboard any more. What you typed is still here: choose another.')
  // A kit may tell ammonia as NH3 or as the ion; the record keeps it as N.
  const value = convertAmmonia(parsed.value.value, instrument?.body.ammoniaForm ?? 'nh3_n', 'nh3_n')
  const atMs = atOf(context, intent)
  const reading = { analyte: intent.analyte, value, bound, ...(instrument ? { instrumentId: instrument.id } : {}) }
  const found: Refusal[] = [
    ...checkInstant(context, vessel.id, atMs, context.nowMs),
    ...checkStep(context, intent),
    ...checkKit(context, intent, reading, atMs),
    ...checkBelievable(
      vessel.body.water,
      reading,
      (canonical) => `${trim(fromCanonical(about.dimension, canonical, fieldUnit))} ${fieldUnit}`,
      about.word,
      vessel.body.name,
    ),
    ...checkExpected(context, intent, reading, atMs),
    ...checkAgain(context, intent, reading, atMs),
  ]
  const course = courseFor(context, intent, (one) =>
    protocolOfCourse(one).instrumentRoles.some(({ analyte }) => analyte === intent.analyte),
  )
  const shown = `${bound === 'below' ? '<' : bound === 'above' ? '>' : ''}${entered.value} ${entered.unit}`
  return answerOf({
    found,
    drafts: [
      {
        kind: 'reading',
        ...baseOf(context, intent, course),
        ...reading,
        unit,
        entered: { ...entered, text: entered.text.slice(0, 120) },
        ...(intent.doubt === undefined ? {} : { doubt: intent.doubt }),
      } as unknown as Draft,
    ],
    said: `${about.word} ${shown} logged.`,
  })
}

/** Readings taken in one go: each is held against everything on its own, and what is said of one names it. */
export function readingsAct(context: ActContext, intent: ReadingsIntent): ActAnswer {
  const { readings, ...place } = intent
  if (readings.length === 0) return problemAnswer('No value is typed yet.')
  const twice = readings.find(({ analyte }, i) => readings.findIndex((one) => one.analyte === analyte) !== i)
  if (twice) return problemAnswer(`${ANALYTES[twice.analyte].word} stands there twice: leave one of them out.`)
  const answers = readings.map((one) => ({
    word: ANALYTES[one.analyte].word,
    answer: readingAct(context, { ...place, ...one, kind: 'reading' }),
  }))
  const wrong = answers.find(({ answer }) => answer.problem !== null)
  if (wrong) return problemAnswer(named(wrong.word, wrong.answer.problem!))
  return answerOf({
    found: answers.flatMap(({ word, answer }) =>
      [...answer.refusals, ...answer.questions].map((found) => ({ ...found, message: named(word, found.message) })),
    ),
    drafts: answers.flatMap(({ answer }) => answer.drafts),
    said: readings.length === 1 ? answers[0]!.answer.said : `${readings.length} readings logged.`,
  })
}
/** A sentence that says which reading it speaks of. */
const named = (word: string, message: string): string =>
  message.toLowerCase().includes(word.toLowerCase()) ? message : `${word}: ${message}`

type Read = Pick<ReadingEntry, 'analyte' | 'value' | 'bound' | 'instrumentId'>

/** A kit that reads another thing, or not this form; a level over the hard maximum. @source handbook 31 `cu-form-lock` */
function checkKit(context: ActContext, intent: ReadingIntent, reading: Read, atMs: number): Refusal[] {
  const { record, active } = context
  const found: Refusal[] = []
  const instrument = reading.instrumentId === undefined ? undefined : record.instruments.get(reading.instrumentId)
  if (instrument && instrument.body.analyte !== reading.analyte)
    found.push(
      forbid('instrument', `${instrument.body.name} measures ${instrument.body.analyte}, not ${reading.analyte}.`),
    )
  // Of what no drug is, no form was poured: nothing to look through.
  if (!agentForms.some(({ agent }) => agent === reading.analyte)) return found
  const before = entriesUntil(active, atMs)
  for (const id of dosedForms(record, before, intent.vesselId)) {
    const form = agentForm(id)
    if (!form || form.agent !== reading.analyte) continue
    if (instrument?.body.readsForms && !instrument.body.readsForms.includes(id))
      found.push(
        forbid(
          'cu-form-lock',
          `${instrument.body.name} does not read ${form.label}. Its number would mean nothing here.`,
        ),
      )
    if (reading.value > form.hardMax && reading.bound !== 'below')
      found.push(
        warn(
          'over-hard-max',
          `${trim(reading.value)} mg/L is over the hard maximum of ${form.hardMax} mg/L. Change water to target: ${Math.round(100 * (1 - form.target / reading.value))} % with undosed water.`,
        ),
      )
  }
  return found
}

/** A value that no such water has: another unit, or a point that slipped. */
function checkBelievable(
  water: 'marine' | 'fresh',
  reading: Read,
  words: (canonical: number) => string,
  label: string,
  vesselName: string,
): Refusal[] {
  const range = plausibleRange(reading.analyte, water)
  if (!range || reading.bound !== 'exact') return []
  if (reading.value >= range.min - 1e-9 && reading.value <= range.max + 1e-9) return []
  const gravity = reading.analyte === 'salinity' && reading.value > 0.99 && reading.value < 1.06
  return [
    ask(
      'implausible',
      `${label} ${words(reading.value)} in ${vesselName}? ${gravity ? `That looks like a specific gravity: write ${reading.value} SG.` : `${words(range.min)} to ${words(range.max)} would be believed without asking. A typo, another unit, or really so?`}`,
    ),
  ]
}

/** Spreads away from what the estimate expects at which a reading is asked about. */
const FAR_SPREADS = 2
/** A reading within so much of one before bears it out, for so long. */
const BORNE_OUT_SHARE = limitOf('borne-out-share')
const BORNE_OUT_MS = limitOf('borne-out-days') * 86_400_000
function checkExpected(context: ActContext, intent: ReadingIntent, reading: Read, atMs: number): Refusal[] {
  const known = context.known.find(
    (one) => one.vesselId === intent.vesselId && one.agent === reading.analyte && Math.abs(one.atMs - atMs) < 3_600_000,
  )
  if (!known || reading.bound !== 'exact' || !(known.mgPerL > 0) || known.lowMgPerL === undefined) return []
  const spread = Math.max(known.highMgPerL - known.lowMgPerL, 0.08 * known.mgPerL)
  if (Math.abs(reading.value - known.mgPerL) / spread <= FAR_SPREADS) return []
  // The reading before said the same and was really so: the record is what is wrong, and asking again teaches nothing.
  const before = context.active.findLast(
    (entry) =>
      entry.kind === 'reading' &&
      entry.vesselId === intent.vesselId &&
      entry.analyte === reading.analyte &&
      entry.bound === 'exact' &&
      entryMs(entry) < atMs &&
      atMs - entryMs(entry) <= BORNE_OUT_MS,
  )
  if (before?.kind === 'reading' && Math.abs(before.value - reading.value) <= BORNE_OUT_SHARE * before.value)
    return [
      warn(
        'borne-out',
        `The reading before said the same, and the record makes ${trim(known.lowMgPerL)} to ${trim(known.highMgPerL)} likely: something is not written down, or not as it is described. A change, a dose, carbon that is in or out? Log it with its time.`,
      ),
    ]
  const guess = [10, 100, 1000]
    .flatMap((factor) => [reading.value * factor, reading.value / factor])
    .find((value) => Math.abs(value - known.mgPerL) < spread)
  return [
    ask(
      'far-off',
      `The record makes ${trim(known.lowMgPerL)} to ${trim(known.highMgPerL)} likely, and you typed ${trim(reading.value)}.${guess === undefined ? '' : ` Did you mean ${trim(guess)}?`} A typo, another unit, or really so?`,
    ),
  ]
}

/** The very same reading a moment ago: pressed twice, or in two tabs. */
const AGAIN_MS = 2 * 60_000
function checkAgain(context: ActContext, intent: ReadingIntent, reading: Read, atMs: number): Refusal[] {
  if (intent.corrects !== undefined) return []
  // From the newest back, as far as a moment reaches: a ledger of years is not looked through at every key.
  let same = false
  for (let i = context.active.length - 1; i >= 0 && !same; i--) {
    const entry = context.active[i]!
    const ms = entryMs(entry)
    if (ms <= atMs - AGAIN_MS) break
    same =
      entry.kind === 'reading' &&
      entry.vesselId === intent.vesselId &&
      entry.analyte === reading.analyte &&
      entry.value === reading.value &&
      entry.instrumentId === reading.instrumentId &&
      Math.abs(ms - atMs) < AGAIN_MS
  }
  return same
    ? [ask('twice', 'The same reading was noted a moment ago, perhaps in another tab. Really once more?')]
    : []
}
