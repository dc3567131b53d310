// Everything that can be written can be read back; what cannot be read is named line by line, and the rest is not lost.
import { readFileSync } from 'node:fs'
import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  actContext,
  activeEntries,
  commitAct,
  instantOf,
  recordOf,
  toFile,
  type Entry,
  type Intent,
  type KeeperRecord,
  type RegisterDocument,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { readFile } from '@brinvo/core/file'
import { NOW, intentOf, recordOfCase, type ActCase } from './acts/runActs.ts'
import { runMutants } from './mutants/mutants.ts'

const cases = (JSON.parse(readFileSync(new URL('./acts/cases.json', import.meta.url), 'utf8')) as { cases: ActCase[] })
  .cases
/** Ids of the cases are shorter than any that the interface mints. */
function withLongIds(one: ActCase): ActCase {
  const { vessels, residents, bottles, courses = [] } = one.record
  let text = JSON.stringify(one)
  for (const { id } of [...vessels, ...residents, ...bottles, ...courses])
    text = text.replaceAll(`"${id}"`, `"${id}-of-case"`)
  return JSON.parse(text) as ActCase
}
const documentsOf = (record: KeeperRecord): RegisterDocument[] =>
  [
    record.vessels,
    record.residents,
    record.products,
    record.instruments,
    record.courses,
    record.arrivals,
    record.gear,
    record.findings,
    record.protocols,
  ].flatMap((register) => [...register.values()] as RegisterDocument[])
const OVERRIDE = { words: 'Looked at twice, nothing else is left to do.', confirmed: true }
/** The record with the act, or null where it may not pass however it is worded. */
function acted(record: KeeperRecord, intent: Intent, actId: string, nowMs = NOW): KeeperRecord | null {
  const made = commitAct(actContext(record, nowMs), intent, { actId, override: OVERRIDE })
  if (!made.ok) return null
  return recordOf(
    record.settings,
    [...documentsOf(record), ...made.value.documents],
    [...record.entries, ...made.value.entries],
  )
}
const textOf = (record: KeeperRecord) => JSON.stringify(toFile(record, instantOf(NOW)))
function expectReadBack(record: KeeperRecord) {
  const text = textOf(record)
  const report = readFile(text)
  expect(report.problems).toEqual([])
  expect(report).toMatchObject({ ok: true, changed: false, altered: [] })
  const back = recordOf(report.file!.settings, report.file!.registers, report.file!.entries)
  expect(textOf(back)).toBe(text)
}

describe('what acts write is read back', () => {
  test('every act that may pass, worded where it must be', () => {
    let passed = 0
    for (const short of cases) {
      const one = withLongIds(short)
      const record = recordOfCase(one)
      const intent = intentOf(one.act, record, one)
      const after = intent && acted(record, intent, `act-${one.id}`)
      if (!after) continue
      passed++
      expectReadBack(after)
    }
    expect(passed).toBeGreaterThanOrEqual(8)
  })

  const text = fc.string({ unit: 'grapheme', maxLength: 60 })
  const amount = fc.oneof(
    fc.double({ min: 1e-9, max: 1e7, noNaN: true }).map(String),
    fc.constantFrom('0.3', '3,5', '1/2', '12 drops', '-1', '', '1e999', 'a lot', '4 mL', '0'),
  )
  const intents = fc.oneof(
    fc.record({
      kind: fc.constant('reading'),
      vesselId: fc.constantFrom('q-of-case', 'r-of-case'),
      analyte: fc.constantFrom('temperature', 'salinity', 'ph', 'copper', 'ammonia-total', 'phosphate'),
      text: amount,
      note: text,
    }),
    fc.record({
      kind: fc.constant('dose'),
      vesselId: fc.constantFrom('q-of-case', 'r-of-case'),
      productId: fc.constant('cu-of-case'),
      amounts: fc.array(amount, { minLength: 1, maxLength: 2 }),
    }),
    fc.record({
      kind: fc.constant('change'),
      vesselId: fc.constant('q-of-case'),
      text: amount.map((value) => `${value} %`),
    }),
    fc.record({
      kind: fc.constant('move'),
      vesselId: fc.constant('r-of-case'),
      residents: fc
        .record({ id: fc.constant('s-of-case'), count: fc.integer({ min: -1, max: 300 }) })
        .map((one) => [one]),
      toVesselId: fc.constantFrom('q-of-case', 'nowhere'),
    }),
    fc.record({
      kind: fc.constant('leave'),
      vesselId: fc.constant('r-of-case'),
      residents: fc
        .record({ id: fc.constant('s-of-case'), count: fc.integer({ min: 0, max: 40 }) })
        .map((one) => [one]),
      how: fc.constantFrom('died', 'rehomed', 'other'),
    }),
    fc
      .record({
        name: text,
        count: fc.constantFrom('1', '12', '0', 'many', '2.5'),
        group: fc.constantFrom('hg-snail', 'hg-coral', 'hg-tang'),
        id: fc.uuid(),
      })
      .map(({ name, count, group, id }) => ({
        kind: 'resident',
        vesselId: 'r-of-case',
        residentId: id,
        count,
        body: { name, commonName: name.slice(0, 20), group },
      })),
    fc.record({ note: text }).map(({ note }) => ({
      kind: 'note',
      documents: [],
      said: '',
      drafts: [{ kind: 'note', vesselId: 'q-of-case', note: note.trim() === '' ? 'empty' : note }],
    })),
    fc.record({
      kind: fc.constant('equipment'),
      vesselId: fc.constantFrom('q-of-case', 'r-of-case'),
      item: fc.constantFrom('carbon', 'skimmer', 'uv', 'light', 'resin'),
      on: fc.boolean(),
    }),
  )
  const START = recordOfCase(
    withLongIds({
      id: 'x',
      title: '',
      record: {
        vessels: [
          { id: 'q', water: 'marine', use: 'quarantine', litres: 100 },
          { id: 'r', water: 'marine', use: 'display', litres: 200 },
        ],
        residents: [
          { id: 'f', vessel: 'q', group: 'hg-clown-damsel' },
          { id: 's', vessel: 'r', group: 'hg-snail', count: 240 },
        ],
        bottles: [{ id: 'cu', form: 'copper-chelated', strength: '10 mg/mL', confirmed: true }],
      },
      act: { kind: 'dose' },
      expect: {},
    }),
  )
  test('any acts in any order: what passed is read back, what did not left nothing behind', () => {
    let written = 0
    fc.assert(
      fc.property(fc.array(intents, { minLength: 1, maxLength: 12 }), (list) => {
        let record = START
        list.forEach((intent, i) => {
          const next = acted(record, intent as unknown as Intent, `act${i}`, NOW + i * 61_000)
          if (next) {
            written++
            record = next
          }
        })
        expectReadBack(record)
      }),
      { numRuns: 80, seed: 11 },
    )
    expect(written).toBeGreaterThan(100)
  })
})

describe('a file that was hurt', () => {
  const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: 'Europe/Berlin' })
  type Loose = { settings: Record<string, unknown>; entries: Record<string, unknown>[]; registers: RegisterDocument[] }
  const loose = () => JSON.parse(textOf(demo)) as Loose
  test('one digit changed by hand is told of, although every line is sound', () => {
    const file = loose()
    const reading = file.entries.find(({ kind }) => kind === 'reading')!
    reading['value'] = Number(reading['value']) + 0.01
    expect(readFile(JSON.stringify(file))).toMatchObject({ ok: true, changed: true })
  })
  test('a protocol that is not the one its course began with is named by its course', () => {
    const file = loose()
    const course = file.registers.find(({ register }) => register === 'course')! as unknown as {
      id: string
      body: { protocol: { title: string } }
    }
    course.body.protocol.title += ' '
    expect(readFile(JSON.stringify(file)).altered).toEqual([course.id])
  })
  test('left out line by line, the rest is whole and everything left out is named', () => {
    const file = loose()
    const hurt = file.entries.filter((_, i) => i % 7 === 0)
    for (const entry of hurt) entry['at'] = '2026-13-40T25:00:00.000Z'
    const refused = readFile(JSON.stringify(file))
    expect(refused.ok).toBe(false)
    expect(refused.problems.every(({ line }) => line !== undefined)).toBe(true)
    const taken = readFile(JSON.stringify(file), undefined, undefined, { leaveOut: true })
    expect(taken.ok).toBe(true)
    const kept = new Set(taken.file!.entries.map(({ id }) => id))
    expect(hurt.some(({ id }) => kept.has(String(id)))).toBe(false)
    // Nothing sound goes with them but what spoke of them.
    const gone = new Set(hurt.map(({ id }) => String(id)))
    for (const entry of file.entries) {
      const points = ['voids', 'corrects'].some((key) => gone.has(String(entry[key])))
      if (!gone.has(String(entry['id'])) && !points) expect(kept.has(String(entry['id']))).toBe(true)
    }
  })
  test.each<readonly [string, (text: string, file: Loose) => string, RegExp]>([
    ['a number without an end', (text) => text.replace(/"value":[-\d.]+/, '"value":1e999'), /without an end/],
    ['a month that is none', (text) => text.replace(/"at":"2026-\d\d/, '"at":"2026-13'), /no real instant/],
    [
      'a zone nobody knows',
      (_, file) => JSON.stringify({ ...file, settings: { ...file.settings, zone: 'Mars/Olympus' } }),
      /zone/i,
    ],
    [
      'a locale that is none',
      (_, file) => JSON.stringify({ ...file, settings: { ...file.settings, locale: 'not a locale!' } }),
      /locale|language/i,
    ],
    ['the year 9999', (text) => text.replace(/"at":"2026/, '"at":"9999'), /no real instant|year/],
  ])('%s is named', (_name, change, words) => {
    const before = textOf(demo)
    const after = change(before, loose())
    expect(after).not.toBe(before)
    const report = readFile(after)
    expect(report.ok).toBe(false)
    expect(report.problems.map(({ where, message }) => `${where} ${message}`).join('; ')).toMatch(words)
  })
  test('a correction of a correction, twenty thousand deep, is read and leaves the last', () => {
    const chain = Array.from({ length: 20_000 }, (_, i) => ({
      id: `n${String(i).padStart(6, '0')}`,
      kind: 'note',
      vesselId: 'q',
      note: `word ${i}`,
      at: instantOf(NOW + i),
      recordedAt: instantOf(NOW + i),
      zone: 'Europe/Berlin',
      ...(i === 0 ? {} : { corrects: `n${String(i - 1).padStart(6, '0')}` }),
    })) as unknown as Entry[]
    expect(activeEntries(chain).map(({ id }) => id)).toEqual(['n019999'])
  })
})

test('mutated files: refused in words, or taken and opened on every page', () => {
  // The whole campaign is `npm run fuzz -- --n 10000`.
  const tally = runMutants(30, 20261127, () => 0)
  expect(tally.bad).toEqual([])
  expect(tally.refused).toBeGreaterThan(10)
  expect(tally.taken).toBeGreaterThan(0)
})
