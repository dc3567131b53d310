// A laboratory's report from the vial to what is done by it, and what is left alone.
import { describe, expect, test } from '@jest/globals'
import {
  at35,
  dayOf,
  instantOf,
  readingsOfReport,
  reportOf,
  sampleConcerns,
  stageOf,
  waterLines,
  type KeeperRecord,
} from '../src/index.ts'
import { readTable } from '../src/tables.ts'
import { answerOfLaboratory, chanceFrom } from '../src/world.ts'
import { activeOf, after, asked, DAY, documentOf, NOW, read, reefWith, rules } from './reef.ts'

const drawn = NOW - 10 * DAY
const sampleOf = (more: object = {}) =>
  documentOf('sample', 'vial', {
    vesselId: 'reef',
    laboratory: 'North bench',
    orderedAt: instantOf(NOW - 20 * DAY),
    sampledAt: instantOf(drawn),
    sentAt: instantOf(drawn + DAY),
    ...more,
  })
const result = (element: string, value: number, bound: 'exact' | 'below' = 'exact', unit = 'mg/L') => ({
  element,
  value,
  unit,
  bound,
})
const judged = (results: readonly object[], entries: Parameters<typeof reefWith>[1] = [], more: object = {}) => {
  const record = reefWith([sampleOf({ reportedAt: instantOf(NOW), salinityPpt: 33, results, ...more })], entries)
  return reportOf(record.samples.get('vial')!, waterLines(record, activeOf(record), 'reef', NOW), NOW)
}
const line = (report: ReturnType<typeof reportOf>, element: string) =>
  report.lines.find((one) => one.element === element)!

describe('a report', () => {
  test('is brought to 35 ppt by the salinity of its own sample, and judged there', () => {
    expect(at35('Ca', 380, 33)).toBeCloseTo(403.03, 2)
    expect(at35('salinity', 33, 33)).toBe(33)
    // 352 mg/L in water of 33 ppt are 373 at 35: no potassium is missing, salt is.
    const report = judged([result('K', 352), result('Ca', 340)])
    expect(line(report, 'K')).toMatchObject({ verdict: 'inside' })
    expect(line(report, 'K').at35).toBeCloseTo(373.3, 1)
    expect(line(report, 'Ca')).toMatchObject({ verdict: 'low' })
  })
  test('judges nothing without that salinity, and takes the measured one before the noted one', () => {
    const none = judged([result('K', 300)], [], { salinityPpt: undefined })
    expect(none.salinityPpt).toBeNull()
    expect(line(none, 'K')).toMatchObject({ verdict: 'open', at35: null, working: null })
    expect(judged([result('K', 300), result('salinity', 35, 'exact', 'ppt')]).salinityPpt).toBe(35)
  })
  test('what is not seen is not chased, and never raised', () => {
    const report = judged([result('Fe', 0.0005, 'below'), result('Cu', 0.0005, 'below'), result('Mn', 0.0003)])
    expect(line(report, 'Fe')).toMatchObject({ verdict: 'not-seen' })
    expect(line(report, 'Fe').advice).toMatch(/never raised/)
    expect(line(report, 'Mn').verdict).toBe('inside')
    expect(report.order).toEqual([])
    // Below a limit that itself lies over the line tells nothing; below one under it tells that it is low.
    expect(line(judged([result('I', 0.01, 'below')]), 'I').verdict).toBe('low')
  })
  test('one metal too high asks for another sample, two for an act; a trace alone is no metal', () => {
    const one = judged([result('Zn', 0.04), result('I', 0.01)])
    expect(one.highMetals).toEqual(['Zinc'])
    expect(one.oddTraces).toEqual(['Iodine'])
    expect(line(one, 'Zn').advice).toMatch(/another sample first/)
    const two = judged([result('Zn', 0.04), result('Cu', 0.03)])
    expect(two.highMetals).toEqual(['Zinc', 'Copper'])
    expect(line(two, 'Cu')).toMatchObject({ verdict: 'high', grave: true })
    expect(line(two, 'Cu').advice).toMatch(/Corals suffer/)
    expect(two.sources.join()).toMatch(/pipes/)
  })
  test('corrections come lowest of their lines first, at half the day’s pace', () => {
    const { order } = judged([result('Mg', 1000), result('Ca', 340), result('K', 250)])
    // Shares of their lines at 35 ppt: K 0.717, Mg 0.884, Ca 0.975.
    expect(order.map(({ element }) => element)).toEqual(['K', 'Mg', 'Ca'])
    expect(order.map(({ perDay }) => perDay)).toEqual([5, 25, 10])
  })
  test('is days old: what the water did since is in the record’s own trend', () => {
    const falling = [20, 16, 12, 8, 4, 0].map((ago) => read('calcium', 400 + ago * 2, ago))
    const today = line(judged([result('Ca', 420)], falling), 'Ca').today!
    expect(today.days).toBeCloseTo(10, 6)
    expect(today.value).toBeCloseTo(400, 1)
    expect(line(judged([result('Ca', 420)]), 'Ca').today).toBeNull()
  })
  test('a kit of the same days stands beside it, and whether the two agree', () => {
    const kit = (value: number) => line(judged([result('Ca', 420)], [read('calcium', value, 10)]), 'Ca').kit!
    expect(kit(425).z).toBeLessThan(2)
    expect(kit(300).z).toBeGreaterThan(2)
  })
  test('two reports side by side: told apart only by more than both errors', () => {
    const first = documentOf('sample', 'first', {
      vesselId: 'reef',
      laboratory: 'North bench',
      salinityPpt: 35,
      results: [result('Ca', 430), result('K', 410)],
    })
    const record = reefWith([first, sampleOf({ salinityPpt: 35, results: [result('Ca', 420), result('K', 350)] })], [])
    const report = reportOf(record.samples.get('vial')!, [], NOW, record.samples.get('first')!)
    expect(line(report, 'Ca').before).toEqual({ at35: 430, told: false })
    expect(line(report, 'K').before).toEqual({ at35: 410, told: true })
  })
  test('what a kit reads too stands on the ledger in its own unit', () => {
    expect(
      readingsOfReport([
        result('Si', 0.5),
        result('P', 0.02),
        result('Zn', 1),
        result('alkalinity', 7.9, 'exact', 'dKH'),
      ]),
    ).toEqual([
      { analyte: 'silicate', value: 1.0695, bound: 'exact' },
      { analyte: 'phosphate', value: 0.06132, bound: 'exact' },
      { analyte: 'alkalinity', value: 7.9, bound: 'exact' },
    ])
    // A phosphate that the report gives itself goes before one reckoned from phosphorus.
    expect(readingsOfReport([result('phosphate', 0.05), result('P', 0.02)])).toEqual([
      { analyte: 'phosphate', value: 0.05, bound: 'exact' },
    ])
  })
})

const rowsOf = (record: KeeperRecord, text: string, answers = {}) =>
  readTable(new TextEncoder().encode(text), 'laboratory', record.settings.zone, NOW, answers).readings
const orderOf = (potassium: number, seed: number, day = dayOf(drawn, 'Europe/Berlin')) =>
  answerOfLaboratory({ truth: { K: potassium }, salinityPpt: 35, sampledOn: day }, chanceFrom(seed))

describe('taking it', () => {
  const fresh = reefWith([sampleOf()], [read('calcium', 422, 10), read('magnesium', 1310, 10)])
  const intent = (rows: ReturnType<typeof rowsOf>) => ({
    kind: 'report' as const,
    sampleId: 'vial',
    file: 'r.csv',
    rows,
  })
  test('a laboratory’s own file, from its words to what is low: over seeds, with the errors it has', () => {
    for (let seed = 1; seed <= 12; seed++) {
      const rows = rowsOf(fresh, orderOf(320, seed))
      expect(rows.length).toBeGreaterThan(28)
      const done = after(fresh, intent(rows))
      const sample = done.samples.get('vial')!
      expect(stageOf(sample.body)).toBe('reported')
      const report = reportOf(sample, [], NOW)
      expect(line(report, 'K').verdict).toBe('low')
      expect(Math.abs(line(report, 'K').result.value - 320)).toBeLessThan(5 * 0.025 * 320)
      expect(report.highMetals).toEqual([])
      const kept = activeOf(done).filter((entry) => entry.kind === 'reading' && entry.sampleId === 'vial')
      expect(kept.every((entry) => Date.parse(entry.at) === drawn)).toBe(true)
      expect(kept.map((entry) => entry.kind === 'reading' && entry.analyte).sort()).toEqual(
        ['calcium', 'magnesium', 'phosphate', 'potassium', 'salinity', 'silicate'].sort(),
      )
    }
  })
  test('asked about first: another tank, another day, the same values again; and never twice', () => {
    const rows = rowsOf(fresh, orderOf(400, 3))
    const far = reefWith([sampleOf()], [read('calcium', 250, 10), read('magnesium', 900, 10)])
    expect(rules(far, intent(rows))).toEqual(['other-tank'])
    expect(rules(fresh, intent(rows))).toEqual([])
    expect(rules(fresh, intent(rowsOf(fresh, orderOf(400, 3, '2026-01-15'))))).toEqual(['other-day'])
    const done = after(fresh, intent(rows))
    expect(asked(done, intent(rows)).problem).toMatch(/has its report already/)
    const second = reefWith([sampleOf(), { ...done.samples.get('vial')!, id: 'other' } as never], [])
    expect(rules(second, intent(rows))).toContain('twice')
  })
  test('an element that stands twice, an empty report and a lost sample are told', () => {
    const rows = rowsOf(fresh, orderOf(400, 3))
    expect(asked(fresh, intent([...rows, rows[5]!])).problem).toMatch(/stands twice/)
    expect(asked(fresh, intent([])).problem).toMatch(/no value/)
    expect(asked(fresh, { ...intent(rows), sampleId: 'gone' }).problem).toMatch(/not on record/)
  })
  test('a sample without its day takes the report’s, as a day and no hour', () => {
    const open = reefWith([sampleOf({ sampledAt: undefined, sentAt: undefined })], [])
    const done = after(open, intent(rowsOf(open, orderOf(400, 5))))
    const kept = activeOf(done).find((entry) => entry.kind === 'reading' && entry.sampleId === 'vial')
    expect(kept).toMatchObject({ dayOnly: true })
    expect(dayOf(Date.parse(kept!.at), 'Europe/Berlin')).toBe(dayOf(drawn, 'Europe/Berlin'))
  })
})

test('a vial that lies about, a sample not sent and a report that does not come are told of', () => {
  const of = (body: object) =>
    sampleConcerns(
      reefWith([documentOf('sample', 'vial', { vesselId: 'reef', laboratory: 'North bench', ...body })], []),
      NOW,
    ).map(({ id }) => id)
  const ago = (days: number) => instantOf(NOW - days * DAY)
  expect(of({ orderedAt: ago(13) })).toEqual([])
  expect(of({ orderedAt: ago(15) })).toEqual(['draw-vial'])
  expect(of({ sampledAt: ago(0.9) })).toEqual([])
  expect(of({ sampledAt: ago(1.1) })).toEqual(['send-vial'])
  expect(of({ sampledAt: ago(22), sentAt: ago(20) })).toEqual([])
  expect(of({ sampledAt: ago(23), sentAt: ago(22) })).toEqual(['report-vial'])
  expect(of({ sampledAt: ago(23), sentAt: ago(22), lostAt: ago(1) })).toEqual([])
})
