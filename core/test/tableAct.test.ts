// Readings of a table onto the ledger: what is taken, what is on record already, and what stays out and is told.
import { expect, test } from '@jest/globals'
import {
  actContext,
  answer,
  commitAct,
  dayOf,
  recordOf,
  type Entry,
  type Intent,
  type KeeperRecord,
  type RegisterDocument,
} from '../src/index.ts'
import { faultOfEntry } from '../src/file.ts'
import { NOW, recordOfCase } from './acts/runActs.ts'

const start = () =>
  recordOfCase({
    id: 't',
    title: 'a reef',
    record: {
      vessels: [{ id: 'reef', water: 'marine', use: 'display', litres: 200 }],
      residents: [],
      bottles: [],
      done: [{ kind: 'reading', hoursAgo: 30, vessel: 'reef', analyte: 'nitrate', value: 5, unit: 'mg/L' }],
    },
    act: { kind: 'dose' },
    expect: {},
  })
const zone = start().settings.zone
const day = (hoursAgo: number) => dayOf(NOW - hoursAgo * 3_600_000, zone)
type ReadingEntry = Extract<Entry, { kind: 'reading' }>
type Row = Extract<Intent, { kind: 'table' }>['rows'][number]
const row = (over: Partial<Row> = {}): Row => ({
  line: 2,
  day: day(54),
  time: '08:30',
  analyte: 'alkalinity',
  value: 8.1,
  unit: 'dKH',
  bound: 'exact',
  ...over,
})
const table = (...rows: Row[]): Intent => ({ kind: 'table', vesselId: 'reef', file: 'log.csv', rows })
const ask = (record: KeeperRecord, ...rows: Row[]) => answer(actContext(record, NOW), table(...rows))
const drafts = (record: KeeperRecord, ...rows: Row[]) => ask(record, ...rows).drafts as unknown as ReadingEntry[]
const rules = (record: KeeperRecord, ...rows: Row[]) => {
  const { refusals, questions } = ask(record, ...rows)
  return [...refusals, ...questions].map(({ rule }) => rule)
}

test('a row becomes a reading with its line; without an hour its day alone is known', () => {
  const [hour, day0] = drafts(start(), row(), row({ line: 3, time: null, value: 8.3 }))
  expect(hour).toMatchObject({ analyte: 'alkalinity', value: 8.1, unit: 'dKH', table: { file: 'log.csv', line: 2 } })
  expect(hour).not.toHaveProperty('dayOnly')
  expect(day0).toMatchObject({ dayOnly: true, table: { line: 3 } })
})
test('what is committed is sound on the ledger, and the same table once more brings nothing', () => {
  const record = start()
  const rows = [
    row(),
    row({ line: 3, time: null, value: 8.3 }),
    row({ line: 4, analyte: 'conductivity', value: 53, unit: 'mS/cm' }),
  ]
  const made = commitAct(actContext(record, NOW), table(...rows), {
    actId: 'a-table',
    override: { words: '', confirmed: true },
  })
  if (!made.ok) throw new Error(made.error.message)
  expect(made.value.entries.map((entry) => faultOfEntry(entry))).toEqual([null, null, null])
  expect((made.value.entries[2] as ReadingEntry).value).toBe(53_000)
  const registers = [record.vessels, record.instruments].flatMap((all) => [...all.values()] as RegisterDocument[])
  const after = recordOf(record.settings, registers, [...record.entries, ...made.value.entries])
  const again = ask(after, ...rows)
  expect(again.problem).toMatch(/new/)
  expect(again.refusals.map(({ rule }) => rule)).toEqual(['twice'])
  // Another value of the same hour is no repetition.
  expect(drafts(after, row({ value: 8.4 }))).toHaveLength(1)
})
test('a reading typed by hand is recognised by its day where the table gives no hour', () => {
  expect(rules(start(), row({ analyte: 'nitrate', value: 5, unit: 'mg/L', day: day(30), time: null }))).toEqual([
    'twice',
  ])
  expect(
    drafts(start(), row({ analyte: 'nitrate', value: 5, unit: 'mg/L', day: day(30), time: '00:01' })),
  ).toHaveLength(1)
})
test.each([
  ['an element the record keeps no place for', { analyte: 'Sr' }, 'unkept'],
  ['a day before the vessel ran', { day: '2019-05-01' }, 'time-before-vessel'],
  ['such a day without an hour', { day: '2019-05-01', time: null }, 'time-before-vessel'],
  ['an hour of today still to come', { day: dayOf(NOW, zone), time: '23:59' }, 'time-future'],
  ['copper without its hour', { analyte: 'copper', value: 2, unit: 'mg/L', time: null }, 'copper-hour'],
  ['a value no such water has', { value: 38 }, 'implausible'],
] as const)('%s is told', (_, over, rule) => {
  const told = rules(start(), row(), row({ line: 9, ...over } as Partial<Row>))
  expect(told).toEqual([rule])
  expect(drafts(start(), row(), row({ line: 9, ...over } as Partial<Row>))).toHaveLength(rule === 'implausible' ? 2 : 1)
})

test('what is hard to believe can stay out, and the rest is taken', () => {
  const rows = [row(), row({ line: 9, value: 38 })]
  const {
    drafts: taken,
    refusals,
    questions,
  } = answer(actContext(start(), NOW), {
    ...(table(...rows) as Extract<Intent, { kind: 'table' }>),
    withoutUnlikely: true,
  })
  expect(taken).toHaveLength(1)
  expect(questions).toEqual([])
  expect(refusals[0]!.message).toMatch(/^Line 9: alkalinity 38 dKH: left out/)
})
