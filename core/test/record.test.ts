import { readFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  activeEntries,
  activeOf,
  createPlanner,
  documentsOf,
  entryStatuses,
  parseLine,
  recordOf,
  residentsIn,
  revised,
  toFile,
  type Entry,
} from '@brinvo/core'
import { faultOfEntry, faultOfProtocol, faultOfRegister, readFile } from '@brinvo/core/file'
import { demoRecord } from '@brinvo/core/demo'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: 'Europe/Berlin' })
const here = dirname(fileURLToPath(import.meta.url))
const note = (id: string, more: object = {}): Entry =>
  ({
    kind: 'note',
    id,
    at: '2026-11-20T10:00:00.000Z',
    zone: 'UTC',
    recordedAt: '2026-11-20T10:00:00.000Z',
    note: id,
    ...more,
  }) as unknown as Entry

describe('what counts', () => {
  test('a void takes an entry out; voiding the void brings it back', () => {
    const a = note('a')
    const v1 = note('v1', { kind: 'void', voids: 'a', reason: 'x' })
    const v2 = note('v2', { kind: 'void', voids: 'v1', reason: 'x' })
    expect(activeEntries([a, v1])).toEqual([])
    expect(activeEntries([a, v1, v2])).toEqual([a])
  })
  test('voided twice it stays out while one of the two stands, whichever came last; corrected twice likewise', () => {
    const void1 = (id: string, voids: string) => note(id, { kind: 'void', voids, reason: 'x' })
    const twice = [note('a'), void1('v1', 'a'), void1('v2', 'a')]
    expect(entryStatuses([...twice, void1('v3', 'v2')]).get('a')).toBe('voided')
    expect(entryStatuses([...twice, void1('v3', 'v1')]).get('a')).toBe('voided')
    expect(entryStatuses([...twice, void1('v3', 'v1'), void1('v4', 'v2')]).get('a')).toBe('active')
    const corrected = [note('a'), note('b', { corrects: 'a' }), note('c', { corrects: 'a' })]
    expect(entryStatuses([...corrected, void1('v', 'c')]).get('a')).toBe('corrected')
    expect(entryStatuses([...corrected, void1('v', 'b')]).get('a')).toBe('corrected')
  })
  test('a correction replaces, a correction of it replaces again, and a voided correction gives the first back', () => {
    const a = note('a')
    const b = note('b', { corrects: 'a' })
    const c = note('c', { corrects: 'b' })
    expect(activeEntries([a, b]).map(({ id }) => id)).toEqual(['b'])
    expect(activeEntries([a, b, c]).map(({ id }) => id)).toEqual(['c'])
    const statuses = entryStatuses([a, b, c])
    expect([statuses.get('a'), statuses.get('b'), statuses.get('c')]).toEqual(['corrected', 'corrected', 'active'])
    expect(activeEntries([a, b, note('v', { kind: 'void', voids: 'b', reason: 'x' })]).map(({ id }) => id)).toEqual([
      'a',
    ])
  })
  test('a damaged circle does not hang', () => {
    expect(activeEntries([note('a', { corrects: 'b' }), note('b', { corrects: 'a' })])).toBeDefined()
  })
  test('order does not matter: entries are sorted by instant, then id', () => {
    fc.assert(
      fc.property(fc.shuffledSubarray([...demo.entries], { minLength: demo.entries.length }), (shuffled) => {
        expect(recordOf(demo.settings, documentsOf(demo), shuffled).entries).toEqual(demo.entries)
      }),
      { numRuns: 5 },
    )
  })
  test('residents live where their moves left them', () => {
    const active = activeEntries(demo.entries)
    const names = (vessel: string, ms: number) => residentsIn(demo, active, vessel, ms).map(({ id }) => id)
    expect(names('holding-a', NOW)).toEqual(['clown-large', 'clown-small', 'azure-damsel'])
    expect(names('longshore', NOW)).not.toContain('clown-large')
    expect(names('longshore', NOW - 13 * 86_400_000)).toContain('clown-large')
  })
  test('a revision keeps the old body in its history', () => {
    const vessel = demo.vessels.get('tub')!
    const next = revised(vessel, { ...vessel.body, name: 'Tub 2' }, '2026-11-23T18:00:00.000Z')
    expect(next.revision).toBe(2)
    expect(next.history).toEqual([{ revision: 1, savedAt: vessel.savedAt, body: vessel.body }])
  })
})

describe('the file', () => {
  const text = JSON.stringify(toFile(demo, '2026-11-23T18:20:00.000Z'))
  test('export then import is the identity', () => {
    const report = readFile(text)
    expect(report.problems).toEqual([])
    const back = recordOf(report.file!.settings, report.file!.registers, report.file!.entries)
    expect(toFile(back, '2026-11-23T18:20:00.000Z')).toEqual(JSON.parse(text))
    expect(report.counts).toMatchObject({ vessels: 6, products: 4, courses: 8 })
  })
  test('the kept file of version 1 is still read', () => {
    const report = readFile(readFileSync(join(here, 'files', 'record-v1.json'), 'utf8'))
    expect(report.problems).toEqual([])
    expect(report.counts.entries).toBeGreaterThan(50)
  })
  test.each([2, 3, 4])('the kept file of version %d, written by the program of its day, is read whole', (version) => {
    const kept = readFileSync(join(here, 'files', `record-v${version}.json`), 'utf8')
    const raw = JSON.parse(kept) as { schemaVersion: number; entries: { id: string }[]; registers: { id: string }[] }
    expect(raw.schemaVersion).toBe(version)
    const report = readFile(kept)
    expect(report.problems).toEqual([])
    expect([report.changed, report.altered, report.leftOut]).toEqual([false, [], []])
    const byId = (list: readonly { id: string }[]) => [...list].sort((a, b) => (a.id < b.id ? -1 : 1))
    expect(byId(report.file!.entries)).toEqual(byId(raw.entries))
    expect(byId(report.file!.registers)).toEqual(byId(raw.registers))
    // What was restored is planned like any record, and written again as one of today.
    const { settings, registers, entries } = report.file!
    const back = recordOf(settings, registers, entries)
    const nowMs = Date.parse('2026-11-23T18:20:00.000Z')
    const { plans, faults } = createPlanner()({
      record: back,
      active: activeOf(back.entries),
      estimates: new Map(),
      nowMs,
    })
    expect(faults).toEqual([])
    expect(plans.length).toBeGreaterThan(2)
    expect(readFile(JSON.stringify(toFile(back, '2026-11-29T10:00:00.000Z'))).ok).toBe(true)
  })
  test('an older file climbs step by step; a missing step is said', () => {
    const old = text.replace('"schemaVersion":5', '"schemaVersion":4')
    expect(old).not.toBe(text)
    const stamp = '2026-01-01T00:00:00.000Z'
    const same = (file: Record<string, unknown>) => file
    const climbed = readFile(old, [same, same, same, (file) => ({ ...file, exportedAt: stamp })])
    expect(climbed.problems).toEqual([])
    expect(climbed.file).toMatchObject({ schemaVersion: 5, exportedAt: stamp })
    expect(readFile(old, []).problems[0]!.message).toMatch(/no way up to 5/)
    // A step that leaves out what the schema asks for is refused by the schema, not half read.
    expect(readFile(old, [(file) => file, (file) => file, ({ settings: _settings, ...file }) => file]).ok).toBe(false)
  })
  type Loose = { entries: Record<string, unknown>[]; registers: Record<string, unknown>[] }
  const faults: readonly (readonly [string, (file: Loose) => void, RegExp])[] = [
    ['an unknown key', ({ entries }) => void (entries[0]!.extra = 1), /extra/],
    ['a wrong instant', ({ entries }) => void (entries[3]!.at = 'yesterday'), /no real instant/],
    ['a doubled id', ({ entries }) => void entries.push(entries[0]!), /stands twice/],
    ['a vessel that is not there', ({ entries }) => void (entries[5]!.vesselId = 'nowhere'), /does not hold/],
    [
      'a head counted of an animal that is not there',
      ({ entries }) =>
        void entries.push({
          kind: 'tally',
          id: 'heads-of-nobody',
          at: entries[0]!.at,
          zone: 'Europe/Berlin',
          recordedAt: entries[0]!.at,
          vesselId: 'tub',
          measure: 'heads',
          values: { seen: 1 },
          animals: [{ residentId: 'nobody', there: 1, gone: 0 }],
        }),
      /heads-of-nobody: .*nobody.*does not hold/,
    ],
    [
      'a negative reading',
      ({ entries }) => void (entries.find(({ kind }) => kind === 'reading')!.value = -99),
      />= -5/,
    ],
  ]
  test.each(faults)('%s is named with its place', (_name, change, words) => {
    const file = JSON.parse(text) as Loose
    change(file)
    const report = readFile(JSON.stringify(file))
    expect(report.ok).toBe(false)
    expect(report.file).toBeNull()
    expect(report.problems.map(({ where, message }) => `${where}: ${message}`).join('\n')).toMatch(words)
  })
  test.each([
    ['', /empty/],
    ['{"format":"brinvo-record","schemaVersion":1,"entries":[', /cut off/],
    ['[]', /not a record file/],
    ['{"format":"other"}', /not a record file/],
    ['{"format":"brinvo-record","schemaVersion":"1"}', /which version/],
    ['{"format":"brinvo-record","schemaVersion":7}', /version 7; this program reads up to version 5/],
    ['{"format":"brinvo-record","schemaVersion":1,"x":{"constructor":1}}', /forbidden key/],
  ])('%s is refused', (bad, words) => {
    const report = readFile(bad)
    expect(report.file).toBeNull()
    expect(report.problems[0]!.message).toMatch(words)
    expect(({} as { polluted?: boolean }).polluted).toBeUndefined()
  })
  test('every document and entry of the demonstration is sound on its own', () => {
    for (const entry of demo.entries) expect([entry.id, faultOfEntry(entry)]).toEqual([entry.id, null])
    for (const document of documentsOf(demo))
      expect([document.id, faultOfRegister(document)]).toEqual([document.id, null])
  })
  test('a protocol without a source is no protocol', () => {
    const protocol = structuredClone(demo.courses.get('copper-holding-a')!.body.protocol) as { sources: unknown[] }
    expect(faultOfProtocol(protocol)).toBeNull()
    protocol.sources = []
    expect(faultOfProtocol(protocol)).toMatchObject({ path: '/sources' })
  })
})

describe('the demonstration', () => {
  test('holds nothing that lies after its anchor, and is the same for the same seed', () => {
    for (const entry of demo.entries) {
      expect(Date.parse(entry.at)).toBeLessThanOrEqual(NOW)
      expect(Date.parse(entry.recordedAt)).toBeLessThanOrEqual(NOW)
    }
    expect(demoRecord({ seed: 7, anchorMs: NOW, zone: 'Europe/Berlin' })).toEqual(demo)
  })
  test.each(['2026-03-29T00:30:00Z', '2026-10-25T01:30:00Z', '2026-12-31T23:59:00Z'])(
    'stands on its ninth day at %s too',
    (instant) => {
      const record = demoRecord({ seed: 7, anchorMs: Date.parse(instant), zone: 'Europe/Berlin' })
      expect(readFile(JSON.stringify(toFile(record, instant.replace('Z', '.000Z')))).problems).toEqual([])
      expect(record.entries.filter(({ kind }) => kind === 'dose').length).toBeGreaterThan(4)
    },
  )
})

describe('one typed line', () => {
  const read = (line: string) => parseLine(line, demo, { nowMs: NOW, defaultVesselId: 'tub' })
  test('vessel, analyte, value and time of day', () => {
    expect(read('Holding A copper 1.9, 18:10')).toMatchObject({
      ok: true,
      value: {
        kind: 'reading',
        vesselId: 'holding-a',
        analyte: 'copper',
        atMs: Date.parse('2026-11-23T17:10:00Z'),
        quantity: { value: 1.9 },
      },
    })
  })
  test('a time still to come today means yesterday', () => {
    expect(read('Holding A copper 1.9, 22:10')).toMatchObject({
      ok: true,
      value: { atMs: Date.parse('2026-11-22T21:10:00Z') },
    })
  })
  test.each([
    ['longshore temp 78 °F', { kind: 'reading', vesselId: 'longshore', analyte: 'temperature' }],
    ['ammonia <0.1', { kind: 'reading', vesselId: 'tub', analyte: 'ammonia-total' }],
    ['Holding B change 25 %', { kind: 'change', vesselId: 'holding-b', fraction: 0.25 }],
    ['change 17 L', { kind: 'change', litres: 17 }],
    ['Holding A dose 4.4 mL', { kind: 'dose', vesselId: 'holding-a' }],
    ['Fernwater ate', { kind: 'meal', vesselId: 'fernwater', took: 'took' }],
    ['note: glass cleaned', { kind: 'note', text: 'glass cleaned' }],
  ])('%s', (line, value) => expect(read(line)).toMatchObject({ ok: true, value }))
  test.each([
    ['', /Type what happened/],
    ['Holding A', /does not say what it is/],
    ['Holding A copper', /is empty/],
    ['Holding A copper 1.9 mg/mL', /strength of a bottle/],
    ['Holding A copper 400', /not believable/],
    ['Holding A dose 4.4', /has no unit/],
    ['Holding A copper 1.9, 27:10', /not a time/],
  ])('"%s" is answered with a sentence', (line, words) => {
    const result = read(line)
    expect(result.ok).toBe(false)
    if (!result.ok) expect(result.error.message).toMatch(words)
  })
})
