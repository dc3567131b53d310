// Random ledgers: whatever a keeper records, the plan answers, the file round-trips, and nothing is lost.
import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  activeEntries,
  compareEntries,
  concernsOf,
  documentsOf,
  entryStatuses,
  instantOf,
  levelModelOf,
  parseLine,
  plan,
  recordOf,
  residentVessels,
  toFile,
  type Entry,
} from '@brinvo/core'
import { faultOfEntry, readFile } from '@brinvo/core/file'
import { demoRecord } from '@brinvo/core/demo'
import { expectSame } from './same.ts'
import { ask, checkDose } from './asked.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: 'Europe/Berlin' })
const vessels = [...demo.vessels.keys()]
const residents = [...demo.residents.keys()]

/** Ledgers each time; more with `BRINVO_RUNS`. */
const RUNS = Number(process.env['BRINVO_RUNS'] ?? 15)

const base = fc.record({
  hours: fc.integer({ min: 1, max: 24 * 30 }),
  vesselId: fc.constantFrom(...vessels),
  courseId: fc.constantFrom('copper-holding-a', 'fallow-longshore', undefined),
  note: fc.option(fc.string({ maxLength: 40 }), { nil: undefined }),
})
const positive = (max: number) => fc.double({ min: 0.01, max, noNaN: true })
const fields = fc.oneof(
  fc.record({
    kind: fc.constant('reading'),
    analyte: fc.constantFrom('copper', 'ammonia-total', 'temperature', 'ph'),
    value: positive(40),
    unit: fc.constant('mg/L'),
    bound: fc.constantFrom('exact', 'below', 'above'),
    instrumentId: fc.constantFrom('copper-meter', 'ammonia-drops', undefined),
  }),
  fc.record({
    kind: fc.constant('dose'),
    productId: fc.constantFrom('copper-main', 'copper-drawer'),
    amount: positive(30),
    unit: fc.constant('mL'),
  }),
  fc.record({ kind: fc.constant('change'), fraction: positive(1) }),
  fc.record({ kind: fc.constant('change'), removedL: positive(90) }),
  fc.record({ kind: fc.constant('topoff'), addedL: positive(5) }),
  fc.record({
    kind: fc.constant('equipment'),
    item: fc.constantFrom('carbon', 'uv', 'skimmer', 'resin'),
    on: fc.boolean(),
  }),
  fc.record({
    kind: fc.constant('move'),
    residentId: fc.constantFrom(...residents),
    toVesselId: fc.constantFrom(...vessels, null),
  }),
  fc.record({
    kind: fc.constant('sign'),
    sign: fc.constantFrom('flashing', 'intolerance-tilts', 'intolerance-darkens'),
    present: fc.boolean(),
  }),
  fc.record({ kind: fc.constant('meal'), took: fc.constantFrom('took', 'tried', 'ignored') }),
  fc.record({ kind: fc.constant('gate'), gate: fc.constantFrom('media-out', 'reserve'), passed: fc.boolean() }),
  fc.record({
    kind: fc.constant('skip'),
    step: fc.constantFrom('copper-holding-a/copper-hold-check/5', 'x/y/0'),
    reason: fc.constant('away'),
  }),
  fc.record({ kind: fc.constant('note') }),
)
const ledger = fc
  .array(fc.tuple(base, fields, fc.integer({ min: -1, max: 30 }), fc.boolean()), { maxLength: 40 })
  .map((rows): Entry[] =>
    rows.map(([{ hours, ...common }, own, target, voids], i) => {
      const ms = NOW - hours * 3_600_000
      // Some rows correct or void an earlier one.
      const aim = target >= 0 && target < i ? `fuzz-${String(target).padStart(4, '0')}` : undefined
      const entry = {
        ...common,
        ...(aim !== undefined && voids
          ? { kind: 'void', voids: aim, reason: 'fuzz' }
          : { ...own, ...(aim === undefined ? {} : { corrects: aim }) }),
        id: `fuzz-${String(i).padStart(4, '0')}`,
        at: instantOf(ms),
        zone: 'Europe/Berlin',
        recordedAt: instantOf(ms + 1000),
      }
      return JSON.parse(JSON.stringify(entry)) as Entry
    }),
  )
const withLedger = (added: readonly Entry[]) => recordOf(demo.settings, documentsOf(demo), [...demo.entries, ...added])

describe('any ledger', () => {
  test('is sound by the schema, and its file comes back the same', () => {
    fc.assert(
      fc.property(ledger, (added) => {
        expect(added.flatMap((entry) => faultOfEntry(entry) ?? [])).toEqual([])
        const record = withLedger(added)
        const report = readFile(JSON.stringify(toFile(record, instantOf(NOW))))
        expect(report.problems).toEqual([])
        expectSame(
          recordOf(report.file!.settings, report.file!.registers, report.file!.entries).entries,
          record.entries,
        )
      }),
      { numRuns: RUNS },
    )
  })
  test('has a plan, the same every time, with steps that name themselves once', () => {
    fc.assert(
      fc.property(ledger, (added) => {
        const record = withLedger(added)
        const active = activeEntries(record.entries)
        const options = { record, active, estimates: new Map(), nowMs: NOW }
        const plans = plan(options)
        expectSame(plan(options), plans)
        const keys = plans.flatMap(({ steps }) => steps.map(({ key }) => key))
        expect(new Set(keys).size).toBe(keys.length)
        const wrong = plans
          .flatMap(({ steps }) => steps)
          .filter(
            ({ state, dueMs, doneMs, untilMs }) =>
              !Number.isFinite(dueMs) ||
              (state === 'done' && !(doneMs! <= NOW)) ||
              (state === 'late' && !(untilMs < NOW)),
          )
        expect(wrong).toEqual([])
        expect(concernsOf(record, active, plans, new Map(), NOW)).toBeDefined()
      }),
      { numRuns: RUNS },
    )
  })
  test('never counts what was voided, and never loses what was not', () => {
    fc.assert(
      fc.property(ledger, (added) => {
        const statuses = entryStatuses(added)
        const active = activeEntries(added)
        expect(statuses.size).toBe(added.length)
        for (const entry of active) expect(statuses.get(entry.id)).toBe('active')
        for (const entry of added) {
          const struck = added.some(
            (other) => other.kind === 'void' && other.voids === entry.id && statuses.get(other.id) === 'active',
          )
          if (struck) expect(statuses.get(entry.id)).toBe('voided')
          const touched = added.some(
            (other) =>
              (other.kind === 'void' && other.voids === entry.id) ||
              other.corrects === entry.id ||
              // Two corrections of one entry: the later counts.
              (other !== entry && entry.corrects !== undefined && other.corrects === entry.corrects),
          )
          if (!touched) expect(statuses.get(entry.id)).toBe('active')
        }
        expectSame([...active].sort(compareEntries), active)
      }),
      { numRuns: 3 * RUNS },
    )
  })
  test('puts every resident in one vessel or none', () => {
    fc.assert(
      fc.property(ledger, (added) => {
        const record = withLedger(added)
        const where = residentVessels(record, activeEntries(record.entries), NOW)
        expect([...where.keys()].sort()).toEqual([...residents].sort())
        for (const place of where.values()) expect(place === null || vessels.includes(place)).toBe(true)
      }),
      { numRuns: RUNS },
    )
  })
  test('reads as a level model in time order of the ledger, without negative amounts', () => {
    fc.assert(
      fc.property(ledger, (added) => {
        const record = withLedger(added)
        const found = levelModelOf(
          record,
          activeEntries(record.entries),
          demo.vessels.get('holding-a')!,
          'copper-chelated-high',
          NOW - 10 * 86_400_000,
        )!
        for (const event of found.model.events) {
          expect(event.tH).toBeGreaterThanOrEqual(0)
          if (event.kind === 'dose') expect(event.massMg).toBeGreaterThan(0)
          if (event.kind === 'change') expect(event.fraction).toBeLessThanOrEqual(1)
        }
        const times = found.model.events.map(({ tH }) => tH)
        expect([...times].sort((a, b) => a - b)).toEqual(times)
        for (const { fromH, toH } of found.model.media) expect(toH).toBeGreaterThan(fromH)
      }),
      { numRuns: RUNS },
    )
  })
  test('meets the interlocks without a fault, and more copper is never judged milder', () => {
    const grave = (list: readonly { level: string }[]) =>
      list.filter(({ level }) => level === 'block' || level === 'forbid').length
    fc.assert(
      fc.property(ledger, positive(10), positive(10), fc.constantFrom(...vessels), (added, amount, more, vesselId) => {
        const record = withLedger(added)
        const common = {
          record,
          vesselId,
          productId: 'copper-main',
          atMs: NOW,
          nowMs: NOW,
          levelMgPerL: 1,
        }
        const small = checkDose({ ...common, amount })
        const large = checkDose({ ...common, amount: amount + more })
        expect(grave(large)).toBeGreaterThanOrEqual(grave(small))
        for (const { message } of [...small, ...large]) expect(message).toMatch(/^[A-Z"0-9].*[.?)]$/)
        const expected = { vesselId, agent: 'copper', atMs: NOW, mgPerL: 2, lowMgPerL: 1, highMgPerL: 3 }
        const read = ask(
          record,
          { kind: 'reading', vesselId, analyte: 'copper', text: `${amount}`, instrumentId: 'copper-meter' },
          NOW,
          [{ ...expected, volume: { litres: 60, sdLitres: 2 } }],
        )
        for (const { message } of read) expect(message).not.toMatch(/undefined|NaN/)
      }),
      { numRuns: RUNS },
    )
  })
})

test('any line of typing is answered, with a draft or a sentence', () => {
  const words = fc.constantFrom(
    'Holding A',
    'copper',
    '1.9',
    '1,9',
    'mg/L',
    'dose',
    'change',
    '25 %',
    '17 L',
    ',',
    '20:10',
    'ate',
    'note',
    '<',
    'ammonia',
    'tub',
    '',
    '=1+1',
    '<script>',
  )
  fc.assert(
    fc.property(
      fc.oneof(
        fc.array(words, { maxLength: 7 }).map((list) => list.join(' ')),
        fc.string({ maxLength: 60 }),
      ),
      (line) => {
        const result = parseLine(line, demo, { nowMs: NOW, defaultVesselId: 'tub' })
        if (result.ok) expect(vessels).toContain(result.value.vesselId)
        else expect(result.error.message.length).toBeGreaterThan(10)
      },
    ),
    { numRuns: 200 },
  )
})

test('any text offered as a file is answered with a report, and takes nothing', () => {
  const sound = JSON.stringify(toFile(demo, instantOf(NOW)))
  fc.assert(
    fc.property(
      fc.oneof(
        fc.string(),
        fc.json(),
        fc.integer({ min: 0, max: sound.length - 2 }).map((cut) => sound.slice(0, cut)),
      ),
      (text) => {
        const report = readFile(text)
        expect(report.file).toBeNull()
        expect(report.problems.length).toBeGreaterThan(0)
      },
    ),
    { numRuns: 200 },
  )
})
