// A laboratory's report read as a keeper should: at 35 ppt, brought to today, with what to do and what to leave alone.
import { elements as TABLES } from '../generated/knowledge/elements.ts'
import type { ElementTable } from '../generated/elementTypes.ts'
import { limitOf } from '../knowledge/limits.ts'
import { correctionOf } from '../outbreak/corrections.ts'
import type { WaterLine } from '../outbreak/waterLines.ts'
import type { Analyte, SampleBody, SampleDocument } from '../record/types.ts'
import { entryMs, instantMs } from '../time/time.ts'
import type { Working } from '../working.ts'

export type Element = ElementTable['elements'][number]
export const ELEMENTS: readonly Element[] = TABLES[0]!.elements
export const drawingSteps = TABLES[0]!.drawing
export const elementSources = TABLES[0]!.sources
export const elementOf = (id: string): Element | undefined => ELEMENTS.find((one) => one.id === id)
export type SampleResult = NonNullable<SampleBody['results']>[number]

/** What is not made stronger by more salt, and is never brought to 35 ppt. */
const AS_IS: ReadonlySet<string> = new Set(['salinity', 'conductivity', 'temperature', 'ph'])
const REFERENCE_PPT = 35
const DAY = 86_400_000

/**
 * `inside`, `low` or `high` of its lines. `not-seen`: below what the laboratory can tell, which is normal or tells
 * nothing. `told`: no line is kept for it. `open`: the salinity of the sample is not known, so nothing is judged.
 */
export type ReportVerdict = 'inside' | 'low' | 'high' | 'not-seen' | 'told' | 'open'

export interface ReportLine {
  readonly element: string
  readonly name: string
  readonly group: Element['group'] | 'value'
  readonly result: SampleResult
  /** At 35 ppt; null while the salinity of the sample is not known. */
  readonly at35: number | null
  /** One standard deviation at 35 ppt. */
  readonly sd: number
  readonly about: Element | null
  readonly verdict: ReportVerdict
  /** Grave: a metal that animals suffer from. */
  readonly grave: boolean
  readonly advice: string
  /** What a kit would read today of it, by the trend of the record since the sample; null where nothing tells. */
  readonly today: {
    readonly analyte: Analyte
    readonly value: number
    readonly unit: string
    readonly days: number
  } | null
  /** A kit's test of the same days, in the laboratory's unit, and whether the two agree. */
  readonly kit: { readonly value: number; readonly z: number } | null
  /** The same line of another report, at 35 ppt; `told`: further apart than their errors. */
  readonly before: { readonly at35: number; readonly told: boolean } | null
  readonly working: Working | null
}

export interface Report {
  readonly lines: readonly ReportLine[]
  readonly salinityPpt: number | null
  /** Traces out of their lines that no kit reads: another sample before anything is done. @source handbook 65 §9 lab-repeat */
  readonly oddTraces: readonly string[]
  /** Metals too high: one asks for another sample, two for an act. @source handbook 65 §9 lab-repeat, lab-source */
  readonly highMetals: readonly string[]
  /** What may be corrected, lowest of its range first, one a week. @source handbook 65 §9 lab-slow */
  readonly order: readonly {
    readonly element: string
    readonly correction: string
    readonly perDay: number
    readonly unit: string
  }[]
  /** High metals: where they come from, in words. */
  readonly sources: readonly string[]
}

/** The salinity a sample is judged by: as measured in it, else as the keeper read it when it was drawn. */
export function sampleSalinity({ salinityPpt, results }: SampleBody): number | null {
  const measured = results?.find(({ element, bound }) => element === 'salinity' && bound === 'exact')
  return measured?.value ?? salinityPpt ?? null
}

/** C × 35 / S. @param ppt salinity of the same sample @source handbook 65 §9 */
export const at35 = (element: string, value: number, ppt: number): number =>
  AS_IS.has(element) ? value : (value * REFERENCE_PPT) / ppt

/** Standard deviation of a laboratory's figure, share of it. */
const errorOf = (about: Element | null): number =>
  about === null || about.group === 'major' || about.group === 'minor'
    ? limitOf('lab-major-error')
    : limitOf('lab-trace-error')

function verdictOf(result: SampleResult, about: Element | null, value: number | null): ReportVerdict {
  if (value === null) return 'open'
  if (about === null || (about.low === undefined && about.high === undefined)) return 'told'
  if (result.bound === 'below') return about.low !== undefined && value <= about.low ? 'low' : 'not-seen'
  if (about.high !== undefined && value > about.high) return 'high'
  if (about.low !== undefined && value < about.low) return 'low'
  return 'inside'
}

/** What to do about a line, in words that never send a keeper after a number that is normal. */
function adviceOf(about: Element | null, verdict: ReportVerdict, value: number | null, metals: number): string {
  if (verdict === 'open') return 'The salinity of this sample is not known: nothing is judged.'
  if (about === null || verdict === 'told') return about?.note ?? ''
  if (verdict === 'inside') return about.note ?? ''
  if (verdict === 'not-seen')
    return about.neverRaise === true
      ? `${about.note ?? 'Not detected is what one hopes for.'} It is never raised because a chart shows a lower line.`
      : 'Less than the laboratory can tell.'
  if (verdict === 'low')
    return about.correction !== undefined
      ? 'Test it with your own kit now, as the report is days old; then raise it, this one alone this week, at half the usual day’s pace.'
      : `Draw another sample first. ${about.note ?? ''} Changes with a complete mix bring it back.`.replace('  ', ' ')
  const line = about.lines?.findLast(({ at }) => value! >= at)?.words ?? ''
  if (about.group === 'metal' || about.group === 'scavenged')
    return `${line} ${metals > 1 ? 'More than one metal is high: act.' : 'One metal alone: draw another sample first, and look for its source meanwhile.'}`.trim()
  return `Find the source; nothing takes it out as well as changes. ${about.note ?? ''}`.trim()
}

/**
 * A sample's report, line by line.
 * @param lines of the vessel's water, from `waterLines` @param before an earlier sample of the same vessel
 */
export function reportOf(
  sample: SampleDocument,
  lines: readonly WaterLine[],
  nowMs: number,
  before: SampleDocument | null = null,
): Report {
  const { body } = sample
  const salinityPpt = sampleSalinity(body)
  const drawnMs = body.sampledAt === undefined ? null : instantMs(body.sampledAt)
  const results = body.results ?? []
  const odd = (group: readonly Element['group'][]) =>
    results.filter((result) => {
      const about = elementOf(result.element) ?? null
      const value = salinityPpt === null ? null : at35(result.element, result.value, salinityPpt)
      const verdict = verdictOf(result, about, value)
      return about !== null && group.includes(about.group) && (verdict === 'high' || verdict === 'low')
    })
  const named = (results: readonly SampleResult[]) => results.map(({ element }) => elementOf(element)!.name)
  const highMetals = named(odd(['metal', 'scavenged']))
  const metals = highMetals.length
  const oddTraces = named(odd(['trace']))
  const earlier = before === null ? null : sampleSalinity(before.body)
  const read = results.map((result): ReportLine => {
    const about = elementOf(result.element) ?? null
    const value = salinityPpt === null ? null : at35(result.element, result.value, salinityPpt)
    const share = errorOf(about)
    const verdict = verdictOf(result, about, value)
    const analyte = (about?.kit?.analyte ?? (VALUES.has(result.element) ? result.element : null)) as Analyte | null
    const factor = about?.kit?.factor ?? 1
    const line = analyte === null ? undefined : lines.find((one) => one.analyte === analyte)
    // The report tells of its own day: what the water did since is in the trend of the record.
    const days = drawnMs === null ? 0 : Math.max(0, (nowMs - drawnMs) / DAY)
    const today =
      line?.moves && result.bound === 'exact' && days >= 1
        ? {
            analyte: analyte!,
            value: Math.max(0, result.value * factor + line.moves.perDay * days),
            unit: line.last.unit,
            days,
          }
        : null
    const near =
      line && drawnMs !== null
        ? line.readings
            .filter(
              (entry) =>
                entry.sampleId === undefined &&
                entry.bound === 'exact' &&
                Math.abs(entryMs(entry) - drawnMs) <= limitOf('lab-fresh') * DAY,
            )
            .sort((a, b) => Math.abs(entryMs(a) - drawnMs) - Math.abs(entryMs(b) - drawnMs))[0]
        : undefined
    const kitSd = near && line ? Math.max(line.testSd, 1e-9) / factor : 0
    const other = before?.body.results?.find((one) => one.element === result.element)
    const otherAt =
      other && earlier !== null && other.bound === 'exact' ? at35(other.element, other.value, earlier) : null
    const sd = share * (value ?? result.value)
    return {
      element: result.element,
      name: about?.name ?? result.element,
      group: about?.group ?? 'value',
      result,
      at35: value,
      sd,
      about,
      verdict,
      grave:
        about?.group === 'metal' &&
        verdict === 'high' &&
        (about.lines === undefined || value! >= (about.lines[1]?.at ?? 0)),
      advice: adviceOf(about, verdict, value, metals),
      today,
      kit:
        near && result.bound === 'exact'
          ? {
              value: near.value / factor,
              z: Math.abs(near.value / factor - result.value) / Math.hypot(kitSd, share * result.value),
            }
          : null,
      before:
        otherAt === null || value === null
          ? null
          : { at35: otherAt, told: Math.abs(value - otherAt) > 2 * share * Math.hypot(value, otherAt) },
      working:
        value === null || AS_IS.has(result.element)
          ? null
          : {
              title: `${about?.name ?? result.element} at ${REFERENCE_PPT} ppt`,
              formula: 'measured × 35 ÷ salinity of the sample',
              inputs: [
                { label: 'measured', value: result.value, unit: result.unit, from: body.laboratory },
                { label: 'salinity of the sample', value: salinityPpt!, unit: 'ppt' },
              ],
              result: { label: `at ${REFERENCE_PPT} ppt`, value, unit: result.unit },
              notes: [],
              source: 'Handbook 65 §9',
            },
    }
  })
  const order = read
    .flatMap((line) => {
      const correction = line.verdict === 'low' ? correctionOf(line.about?.correction ?? '') : undefined
      return correction && line.at35 !== null
        ? [
            {
              share: line.at35 / (line.about!.low ?? line.at35),
              element: line.element,
              correction: correction.id,
              perDay: correction.perDay / 2,
              unit: correction.unit,
            },
          ]
        : []
    })
    .sort((a, b) => a.share - b.share)
  const high = read.filter(({ verdict, about }) => verdict === 'high' && about?.sources !== undefined)
  return {
    lines: read,
    salinityPpt,
    oddTraces,
    highMetals,
    order: order.map(({ element, correction, perDay, unit }) => ({ element, correction, perDay, unit })),
    sources: [...new Set(high.flatMap(({ about }) => about!.sources!))],
  }
}
/** Values of a report that the record keeps by the same name. */
const VALUES: ReadonlySet<string> = new Set([
  'salinity',
  'alkalinity',
  'ph',
  'conductivity',
  'nitrate',
  'nitrite',
  'phosphate',
])

/** What stands on the ledger of a report: elements that a kit reads too, in the unit of the record. */
export function readingsOfReport(results: readonly SampleResult[]): readonly {
  readonly analyte: Analyte
  readonly value: number
  readonly bound: SampleResult['bound']
}[] {
  const found = new Map<Analyte, { analyte: Analyte; value: number; bound: SampleResult['bound'] }>()
  for (const { element, value, bound } of results) {
    const kit = elementOf(element)?.kit
    const analyte = (kit?.analyte ?? (VALUES.has(element) ? element : null)) as Analyte | null
    // What is named as the keeper's own test names it goes before what is reckoned from an element.
    if (analyte === null || (found.has(analyte) && kit !== undefined)) continue
    found.set(analyte, {
      analyte,
      value: element === 'conductivity' ? value * 1000 : Number((value * (kit?.factor ?? 1)).toPrecision(6)),
      bound,
    })
  }
  return [...found.values()]
}

/** Where a sample stands. */
export type SampleStage = 'ordered' | 'drawn' | 'sent' | 'reported' | 'lost'
export const stageOf = ({ sampledAt, sentAt, reportedAt, lostAt }: SampleBody): SampleStage =>
  lostAt !== undefined
    ? 'lost'
    : reportedAt !== undefined
      ? 'reported'
      : sentAt !== undefined
        ? 'sent'
        : sampledAt !== undefined
          ? 'drawn'
          : 'ordered'
