// A laboratory's report onto its sample and, where a kit reads the same, onto the ledger: all of it, or nothing.
import { elementOf, readingsOfReport, type SampleResult } from '../laboratory/report.ts'
import { revised } from '../record/account.ts'
import { scatterOf, valueOf } from '../record/instrumentState.ts'
import { indexOf } from '../record/ledgerIndex.ts'
import { ANALYTES, analyteWord } from '../record/typedLine.ts'
import type { ReadingEntry, SampleBody } from '../record/types.ts'
import { ask, type Refusal } from '../safety/refusal.ts'
import { atHourOfDay, dayOf, entryMs, instantMs, instantOf } from '../time/time.ts'
import { CANONICAL_UNIT } from '../units/units.ts'
import { answerOf, problemAnswer } from './answer.ts'
import { patched } from './registers.ts'
import type { ActAnswer, ActContext, Draft, ReportIntent } from './types.ts'

const DAY = 86_400_000
/** A test of the keeper's this near to the sample tells whether the water is the same, days. */
const NEAR_DAYS = 4
/** Standard deviations between the two from which they are of another water. */
const OTHER_WATER_Z = 6
const shown = (value: number): string => String(Number(value.toPrecision(4)))

/** The report of a sample; a sample of another tank, another day or another report is asked about before it is taken. */
export function reportAct(context: ActContext, intent: ReportIntent): ActAnswer {
  const { record, active, nowMs } = context
  const sample = record.samples.get(intent.sampleId)
  if (!sample) return problemAnswer('That sample is not on record any more.')
  if (sample.body.reportedAt !== undefined && !intent.again)
    return problemAnswer('This sample has its report already. Take that back first, or open another sample.')
  if (intent.rows.length === 0) return problemAnswer('There is no value in this report yet.')
  const vessel = record.vessels.get(sample.body.vesselId)
  if (!vessel) return problemAnswer('The vessel of this sample is not on the shelf.')
  const { zone } = record.settings
  const results: SampleResult[] = intent.rows.map(({ analyte, value, unit, bound }) => ({
    element: analyte,
    value: Number(value.toPrecision(6)),
    unit,
    bound,
  }))
  const twice = results.find((one, i) => results.some((other, j) => j < i && other.element === one.element))
  if (twice)
    return problemAnswer(
      `${elementOf(twice.element)?.name ?? twice.element} stands twice in this report. Is it a table of several samples? One of them has to be chosen.`,
    )
  const found: Refusal[] = []
  const day = intent.rows[0]!.day
  const drawn = sample.body.sampledAt === undefined ? null : dayOf(instantMs(sample.body.sampledAt), zone)
  if (drawn !== null && drawn !== day)
    found.push(ask('other-day', `The report says it was drawn on ${day}, and this sample on ${drawn}. Is it this one?`))
  const drawnMs =
    sample.body.sampledAt === undefined ? Math.min(nowMs, atHourOfDay(day, 12, zone)) : instantMs(sample.body.sampledAt)
  if (drawnMs < instantMs(vessel.body.startedAt))
    return problemAnswer(`It was drawn before ${vessel.body.name} is said to run. Correct that on its page first.`)
  const other = [...record.samples.values()].find(
    ({ id, body }) => id !== sample.id && body.results !== undefined && sameResults(body.results, results),
  )
  if (other)
    found.push(ask('twice', 'The very same values stand in another sample already. Is this a report of its own?'))
  const readings = readingsOfReport(results)
  const far = readings.flatMap(({ analyte, value, bound }) => {
    if (bound !== 'exact') return []
    const own = nearest(indexOf(active).byVessel.get(vessel.id)?.entries ?? [], analyte, drawnMs)
    if (!own) return []
    const sd = Math.hypot(scatterOf(record, own), scatterOf(record, { analyte, value, sampleId: sample.id }))
    const apart = Math.abs(valueOf(active, own) - value) / Math.max(sd, 1e-9)
    return apart >= OTHER_WATER_Z
      ? [`${analyteWord(analyte)} ${shown(value)} against your ${shown(own.value)} ${ANALYTES[analyte].unit}`]
      : []
  })
  if (far.length >= 2)
    found.push(
      ask('other-tank', `${far.join('; ')}: is this really ${vessel.body.name}, or the report of another tank?`),
    )
  const salinity = intent.salinityPpt ?? sample.body.salinityPpt
  const body = patched(sample.body, {
    sampledAt: sample.body.sampledAt ?? instantOf(drawnMs),
    reportedAt: instantOf(nowMs),
    results,
    file: intent.file.slice(0, 120),
    ...(salinity === undefined ? {} : { salinityPpt: salinity }),
  } satisfies Partial<SampleBody>)
  const drafts = readings.map(
    ({ analyte, value, bound }) =>
      ({
        kind: 'reading',
        vesselId: vessel.id,
        atMs: drawnMs,
        analyte,
        value,
        unit: CANONICAL_UNIT[ANALYTES[analyte].dimension],
        bound,
        sampleId: sample.id,
        ...(sample.body.sampledAt === undefined ? { dayOnly: true } : {}),
      }) as unknown as Draft,
  )
  return answerOf({
    found,
    documents: [revised(sample, body, instantOf(nowMs))],
    drafts,
    preview: {
      lines: [
        `${results.length} values; ${drafts.length} of them a kit reads too, and they stand on the ledger on the day the sample was drawn.`,
      ],
    },
    said: `The report of ${sample.body.laboratory} is on record.`,
  })
}

const sameResults = (a: readonly SampleResult[], b: readonly SampleResult[]): boolean =>
  a.length === b.length &&
  a.every((one) => b.some((two) => two.element === one.element && two.value === one.value && two.bound === one.bound))

/** The keeper's own exact test of an analyte nearest in time to the sample. */
function nearest(entries: readonly unknown[], analyte: string, ms: number): ReadingEntry | null {
  let best: ReadingEntry | null = null
  for (const one of entries as readonly ReadingEntry[]) {
    if (one.kind !== 'reading' || one.analyte !== analyte || one.bound !== 'exact' || one.sampleId !== undefined)
      continue
    const far = Math.abs(entryMs(one) - ms)
    if (far <= NEAR_DAYS * DAY && (best === null || far < Math.abs(entryMs(best) - ms))) best = one
  }
  return best
}
