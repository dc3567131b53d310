// Several values to raise at once: their order, what must hold first, stocks and drops, and dosers that are in the way.
import { describe, expect, test } from '@jest/globals'
import {
  correctionOf,
  correctionSet,
  doserState,
  portionsFor,
  saltGrams,
  stockRecipe,
  type Entry,
  type RegisterDocument,
} from '../src/index.ts'
import { doserConcerns, goingConcerns } from '../src/laboratory/concerns.ts'
import { activeOf, after, asked, documentOf, entryAgo, NOW, read, reefWith, rules } from './reef.ts'

const DAY = 86_400_000
const setOf = (
  entries: readonly Entry[],
  ids: readonly string[],
  options: Parameters<typeof correctionSet>[5] = {},
  documents: readonly RegisterDocument[] = [],
) => {
  const record = reefWith(documents, entries)
  return correctionSet(record, activeOf(record), 'reef', ids, NOW, options)
}
const item = (set: ReturnType<typeof setOf>, id: string) => set.items.find(({ correction }) => correction.id === id)!
const low = [read('magnesium', 1100, 0.1), read('alkalinity', 6.5, 0.1), read('calcium', 380, 0.1)]

describe('a set', () => {
  test('magnesium first; calcium waits until there is enough of it, and is tested for before', () => {
    const set = setOf(low, ['calcium', 'alkalinity', 'magnesium'])
    expect(set.items.map(({ correction }) => correction.id)).toEqual(['magnesium', 'alkalinity', 'calcium'])
    // 1100 → 1200 at 50 a day: two days, and on the third calcium begins.
    expect(item(set, 'magnesium')).toMatchObject({ fromDay: 0, days: 5, waits: null })
    expect(item(set, 'calcium')).toMatchObject({ fromDay: 2, days: 3 })
    expect(item(set, 'calcium').waits).toMatch(/After magnesium/)
    expect(set.days.find(({ day }) => day === 2)!.tests).toEqual(expect.arrayContaining(['magnesium', 'alkalinity']))
  })
  test('no day passes the pace of any value, what moves along counted in; the whole deficit is there at the end', () => {
    const entries = [...low, read('potassium', 300, 0.1), read('potassium', 300, 2)]
    const set = setOf(entries, ['potassium', 'alkalinity'], { salts: { potassium: 'potassium-bicarbonate' } })
    const raised = new Map<string, number>()
    for (const { adds } of set.days) {
      const day = new Map<string, number>()
      const more = (analyte: string, rise: number) => day.set(analyte, (day.get(analyte) ?? 0) + rise)
      for (const { id, rise } of adds) {
        more(correctionOf(id)!.analyte, rise)
        if (id === 'potassium') more('alkalinity', rise * 0.072)
        raised.set(id, (raised.get(id) ?? 0) + rise)
      }
      for (const [analyte, rise] of day) expect(rise).toBeLessThanOrEqual(correctionOf(analyte)!.perDay + 1e-9)
    }
    expect(raised.get('potassium')).toBeCloseTo(item(set, 'potassium').delta, 6)
    // Alkalinity stands before potassium in the order: while it takes its day whole, the bicarbonate waits.
    expect(item(set, 'potassium').fromDay).toBeGreaterThan(0)
  })
  test('what is used up is put back on top, and what that brings along counts too', () => {
    const falling = [9, 6, 3, 0.1].map((ago) => read('potassium', 300 + 3 * ago, ago))
    const set = setOf(falling, ['potassium'], { salts: { potassium: 'potassium-bicarbonate' } })
    for (const { adds, along } of set.days)
      for (const { rise } of adds) {
        expect(rise).toBeGreaterThan(2.9)
        // 0.072 dKH a mg/L: half a dKH is 6.94 mg/L, the use of three among them.
        expect(rise).toBeLessThanOrEqual(0.5 / 0.072 + 1e-6)
        expect(along.find(({ analyte }) => analyte === 'alkalinity')!.rise).toBeCloseTo(rise * 0.072, 9)
      }
    expect(set.days.length).toBeGreaterThan(10)
  })
  test('grams are the rise by the net volume, and half the pace where a report asks for it', () => {
    const set = setOf(
      [read('calcium', 400, 0.1), read('magnesium', 1300, 0.1), read('alkalinity', 8, 0.1)],
      ['calcium'],
      { half: ['calcium'] },
    )
    expect(item(set, 'calcium')).toMatchObject({ perDay: 10, days: 3 })
    // 10 mg/L in 200 L: 3.6684 × 10 × 0.2 = 7.34 g of the dihydrate.
    expect(set.days[0]!.adds[0]!.grams).toBeCloseTo(7.337, 2)
  })
  test('what was not read lately waits for its test, and nothing is planned for it', () => {
    const set = setOf([read('calcium', 380, 16)], ['calcium'])
    expect(item(set, 'calcium')).toMatchObject({ fromDay: null })
    expect(item(set, 'calcium').waits).toMatch(/test it first/)
    expect(set.days).toEqual([])
  })
  test('potassium rests on a laboratory’s figure or two results; nothing of it is planned or taken before', () => {
    const pressed = (entries: readonly Entry[]) =>
      rules(reefWith([], entries), pour('potassium', 'potassium-chloride', '0.2'))
    const one = [read('potassium', 340, 0.1)]
    expect(item(setOf(one, ['potassium']), 'potassium')).toMatchObject({ fromDay: null })
    expect(item(setOf(one, ['potassium']), 'potassium').waits).toMatch(/one so far/)
    expect(setOf(one, ['potassium']).days).toEqual([])
    expect(pressed(one)).toContain('correction-once')
    for (const enough of [
      [read('potassium', 340, 0.1, { sampleId: 'vial' })],
      [read('potassium', 345, 2), read('potassium', 340, 0.1)],
    ]) {
      expect(item(setOf(enough, ['potassium']), 'potassium')).toMatchObject({ fromDay: 0, waits: null })
      expect(pressed(enough)).not.toContain('correction-once')
    }
    // One low and one within the range are not two low ones; what was begun goes on.
    const mixed = [read('potassium', 380, 2), read('potassium', 340, 0.1)]
    expect(pressed(mixed)).toContain('correction-once')
    expect(
      pressed([...mixed, entryAgo({ kind: 'tally', measure: 'add-potassium', values: { rise: 1, grams: 0.4 } }, 1)]),
    ).not.toContain('correction-once')
  })
  test('alkalinity is tested every day of it', () => {
    const set = setOf([read('potassium', 340, 0.1), read('potassium', 340, 2)], ['potassium'])
    expect(set.days.slice(0, 6).every(({ tests }) => tests.includes('alkalinity'))).toBe(true)
  })
  test('what went in within a day is part of today: the rest of the day is planned, and the whole is not planned twice', () => {
    // 1100 → 1320 at 50 a day; 30 went in at the very minute of the test, one portion of two.
    const at = read('magnesium', 1100, 0.1)
    const portion = (rise: number, ago: number) =>
      entryAgo({ kind: 'tally', measure: 'add-magnesium', values: { rise, grams: rise } }, ago)
    const poured = portion(30, 0.1)
    const set = setOf([at, poured], ['magnesium'])
    expect(item(set, 'magnesium').delta).toBeCloseTo(190, 9)
    const rises = set.days.flatMap(({ adds }) => adds.map(({ rise }) => rise))
    expect(rises[0]).toBeCloseTo(20, 9)
    expect(set.days[0]!.adds[0]!.portions).toBe(1)
    expect(rises.reduce((sum, rise) => sum + rise, 0)).toBeCloseTo(190, 9)
    // All but a crumb of the day: nothing more until the portions are a day old.
    const full = portion(19.5, 0.05)
    const state = item(setOf([at, poured, full], ['magnesium']), 'magnesium').state
    expect(state).toMatchObject({ rise: 0, poured: 2, dose: { reason: 'limit' } })
    // Free again after 20 hours: an evening's hour moves by some.
    expect(state.roomMs).toBeCloseTo(NOW - 0.1 * DAY + 20 * 3_600_000, -3)
    expect(
      rules(reefWith([], [at, poured, portion(1, 0.01)]), pour('magnesium', 'magnesium-chloride-6', '1')),
    ).toContain('portion-soon')
  })
  test('it goes on until a test says that it is there: a step too many is tested first, the last by its own test', () => {
    const added = (rise: number, ago: number) =>
      entryAgo(
        { kind: 'tally', measure: 'add-calcium', values: { rise, grams: rise }, note: 'Calcium chloride dihydrate' },
        ago,
      )
    const fine = [read('magnesium', 1320, 0.1), read('alkalinity', 8, 0.1)]
    const state = (entries: readonly Entry[]) => item(setOf([...fine, ...entries], ['calcium']), 'calcium').state
    const told = (entries: readonly Entry[]) => {
      const record = reefWith([], [...fine, ...entries])
      return goingConcerns(record, activeOf(record), NOW).map(({ detail }) => detail)
    }
    // 350 → 425; three days of 20 since the test: the fourth waits for one.
    const three = [read('calcium', 350, 3.05), added(20, 3), added(20, 2), added(20, 1)]
    expect(state(three)).toMatchObject({ steps: 3, going: true, rise: 0, dose: { reason: 'due' } })
    expect(told(three)[0]).toMatch(/calcium about 410 of 425 mg\/L, test it before more goes in/)
    expect(state([...three, read('calcium', 408, 0.02)])).toMatchObject({ steps: 0, dose: { reason: 'raise' } })
    // By arithmetic it is there: a test is asked for, and ends it.
    const there = [read('calcium', 390, 2.1), added(20, 2), added(15, 1)]
    expect(state(there)).toMatchObject({ going: true, endDue: false })
    const later = [read('calcium', 390, 4), added(20, 3.9), added(15, 2.9)]
    expect(state(later)).toMatchObject({ going: true, endDue: true })
    expect(told(later)[0]).toMatch(/it should be there: test it/)
    expect(setOf([...fine, ...later], ['calcium']).days[0]!.tests).toContain('calcium')
    expect(state([...later, read('calcium', 424, 0.02)])).toMatchObject({ going: false, endDue: false })
    expect(told([...later, read('calcium', 424, 0.02)])).toEqual([])
  })
  test('what only puts back what is used up is no correction', () => {
    // 0.3 dKH are used a day, and 0.3 go in every evening: at 8.0, half a dKH under the target, nothing is being raised.
    const entries = Array.from({ length: 12 }, (_, i) => [
      read('alkalinity', 8, i + 0.4),
      entryAgo(
        { kind: 'tally', measure: 'add-alkalinity', values: { rise: 0.3, grams: 1 }, note: 'Sodium bicarbonate' },
        i + 0.3,
      ),
    ]).flat()
    const state = item(setOf(entries.reverse(), ['alkalinity']), 'alkalinity').state
    expect(state.use!.perDay).toBeCloseTo(0.3, 1)
    expect(state).toMatchObject({ going: false, endDue: false })
  })
  test('what arithmetic has reached is tested before what waits for it begins', () => {
    const set = setOf(
      [
        read('calcium', 360, 0.1),
        read('alkalinity', 8, 0.1),
        read('magnesium', 1180, 2),
        entryAgo({ kind: 'tally', measure: 'add-magnesium', values: { rise: 50, grams: 50 } }, 1.5),
      ],
      ['magnesium', 'calcium'],
    )
    expect(item(set, 'calcium').waits).toMatch(/Test magnesium first/)
    expect(set.days[0]!.tests).toContain('magnesium')
    expect(set.days[0]!.adds.map(({ id }) => id)).toEqual(['magnesium'])
  })
  test('a small rise needs fewer portions than a whole day of it', () => {
    const { salts, ...potassium } = correctionOf('potassium')!
    const of = (rise: number) => portionsFor({ salts, ...potassium }, salts[0]!, rise)
    expect([of(10), of(5), of(0.8), of(0.01)]).toEqual([12, 6, 1, 1])
    const carbonate = correctionOf('alkalinity')!.salts.find(({ id }) => id === 'sodium-carbonate')!
    expect(portionsFor(correctionOf('alkalinity')!, carbonate, 0.6)).toBe(4)
  })
  test('what is wanted is the range of this kind of water; fresh water stops where its own range ends', () => {
    const body = reefWith([], []).vessels.get('reef')!.body
    const of = (system: string, id: string, value: number) => {
      const entries = [read(id as 'nitrate', value, 0.1)]
      const kind = {
        ...documentOf('vessel', 'reef', {
          ...body,
          water: system.startsWith('fresh') ? 'fresh' : 'marine',
          system,
        }),
        revision: 9,
      } as RegisterDocument
      const record = reefWith([kind], entries)
      return {
        one: correctionSet(record, activeOf(record), 'reef', [id], NOW).items[0]!,
        rules: rules(record, pour(id, correctionOf(id)!.salts[0]!.id, '0.001')),
      }
    }
    // Handbook 65 §1: small-polyp reef 2, 5, 15; soft shrimp 0, 1, 2 dKH; planted phosphate 0.3, 1, 2.
    expect(of('reef-small-polyp', 'nitrate', 3).one.state.wanted).toMatchObject({ min: 2, target: 5, max: 15 })
    expect(of('fresh-shrimp-soft', 'alkalinity', 1.5).one).toMatchObject({ delta: 0 })
    expect(of('fresh-shrimp-soft', 'alkalinity', 2).rules).toContain('correction-stop')
    expect(of('fresh-planted', 'phosphate', 0.4).one.delta).toBeCloseTo(0.6, 9)
    expect(of('fresh-planted', 'phosphate', 0.4).rules).not.toContain('correction-stop')
    // A quarantine of fish keeps no line for calcium: nothing of it is proposed.
    expect(of('fish-quarantine', 'calcium', 330).one.state.wanted.kept).toBe(false)
  })
  test('carbonate goes in more portions, none over a quarter of a dKH', () => {
    const set = setOf(low, ['alkalinity'], { salts: { alkalinity: 'sodium-carbonate' } })
    for (const { adds } of set.days)
      for (const { rise, portions } of adds) expect(rise / portions).toBeLessThanOrEqual(0.25 + 1e-9)
  })
})

const pour = (correction: string, salt: string, grams: string, more: object = {}) =>
  ({ kind: 'correction', vesselId: 'reef', correction, salt, grams, ...more }) as never
describe('a portion', () => {
  const fine = [read('magnesium', 1300, 1), read('alkalinity', 7.5, 1), read('calcium', 400, 1)]
  test('of calcium asks for magnesium and alkalinity first, known and right', () => {
    const rule = (entries: readonly Entry[]) => rules(reefWith([], entries), pour('calcium', 'calcium-chloride-2', '2'))
    expect(rule(fine)).not.toContain('correction-first')
    expect(rule([read('calcium', 400, 1), read('alkalinity', 7.5, 1)])).toContain('correction-first')
    expect(rule([...fine, read('magnesium', 1150, 0.5)])).toContain('correction-first')
    expect(rule([...fine, read('alkalinity', 11.5, 0.5)])).toContain('correction-first')
    expect(rule([read('calcium', 400, 1), read('alkalinity', 7.5, 1), read('magnesium', 1300, 15)])).toContain(
      'correction-first',
    )
  })
  test('of calcium and one of alkalinity are fifteen minutes apart, whichever goes first', () => {
    const minutes = (n: number) => n / 1440
    const before = (n: number, of: string) =>
      entryAgo({ kind: 'tally', measure: `add-${of}`, values: { rise: 0.1, grams: 1 } }, minutes(n))
    const record = (n: number, of: string) => reefWith([], [...fine, before(n, of)])
    expect(rules(record(10, 'alkalinity'), pour('calcium', 'calcium-chloride-2', '2'))).toContain('correction-apart')
    expect(rules(record(16, 'alkalinity'), pour('calcium', 'calcium-chloride-2', '2'))).not.toContain(
      'correction-apart',
    )
    expect(rules(record(10, 'calcium'), pour('alkalinity', 'sodium-bicarbonate', '0.5'))).toContain('correction-apart')
  })
  test('of carbonate is a quarter of a dKH at most', () => {
    // 18.9 mg/L a dKH in 200 L: 0.25 dKH are 0.945 g.
    expect(rules(reefWith([], fine), pour('alkalinity', 'sodium-carbonate', '0.94'))).not.toContain(
      'portion-over-limit',
    )
    expect(rules(reefWith([], fine), pour('alkalinity', 'sodium-carbonate', '0.96'))).toContain('portion-over-limit')
  })
  test('is the same by weight, by millilitres of a stock and by its drops', () => {
    const kept = (intent: never) => {
      const entry = activeOf(after(reefWith([], fine), intent)).find((one) => one.kind === 'tally')
      return entry?.kind === 'tally' ? entry.values : {}
    }
    const weighed = kept(pour('alkalinity', 'sodium-bicarbonate', '2.5'))
    const stock = { gramsPerL: 50 }
    expect(kept(pour('alkalinity', 'sodium-bicarbonate', '50', { stock: { ...stock, unit: 'mL' } }))).toMatchObject({
      grams: weighed['grams'],
      rise: weighed['rise'],
      ml: 50,
      'grams-per-l': 50,
    })
    expect(
      kept(pour('alkalinity', 'sodium-bicarbonate', '40 drops', { stock: { ...stock, unit: 'drop', dropsPerMl: 20 } })),
    ).toMatchObject({ ml: 2, grams: 0.1 })
    expect(
      asked(reefWith([], fine), pour('alkalinity', 'sodium-bicarbonate', '5', { stock: { gramsPerL: 0, unit: 'mL' } }))
        .problem,
    ).toMatch(/Above zero/)
  })
})

describe('stocks and dosers', () => {
  const bicarbonate = correctionOf('alkalinity')!.salts[0]!
  test('a stock by hand: 25 g in half a litre, and what a millilitre does in 200 L', () => {
    const recipe = stockRecipe(bicarbonate, 50, 500, 200)
    expect(recipe.grams).toBe(25)
    // 50 mg in a mL ÷ (29.96 mg/L a dKH × 200 L) = 0.00834 dKH.
    expect(recipe.risePerMl).toBeCloseTo(0.008344, 6)
    expect(recipe.risePerDrop).toBeCloseTo(0.0004172, 7)
    expect(recipe.tooStrong).toBe(false)
    expect(stockRecipe(bicarbonate, 120, 500, 200).tooStrong).toBe(true)
  })
  const doser = documentOf('device', 'pump', {
    name: 'Pump',
    sort: 'doser',
    vesselId: 'reef',
    doser: { correction: 'alkalinity', salt: 'sodium-bicarbonate', gramsPerL: 50, mlPerDay: 24 },
  })
  test('a doser says what it does a day, whether it is paused, and that it may not pour yet', () => {
    const state = (...entries: Entry[]) => {
      const record = reefWith([doser], entries)
      return doserState(record, activeOf(record), record.devices.get('pump')!, NOW)
    }
    const volume = 24 * (50 / 1000 / saltGrams(1, bicarbonate, 200))
    expect(state().risePerDay).toBeCloseTo(volume, 6)
    expect(state()).toMatchObject({ pausedMs: null, confirmed: false })
    const off = entryAgo({ kind: 'equipment', item: 'doser', on: false, deviceId: 'pump' }, 2)
    expect(state(off).pausedMs).toBe(NOW - 2 * DAY)
    expect(
      state(off, entryAgo({ kind: 'equipment', item: 'doser', on: true, deviceId: 'pump' }, 1)).pausedMs,
    ).toBeNull()
  })
  test('a doser that stays paused is told of after a day, and no more once it runs', () => {
    const of = (...entries: Entry[]) => {
      const record = reefWith([doser], entries)
      return doserConcerns(record, activeOf(record), NOW).map(({ id }) => id)
    }
    const switched = (on: boolean, ago: number) =>
      entryAgo({ kind: 'equipment', item: 'doser', on, deviceId: 'pump' }, ago)
    expect(of()).toEqual([])
    expect(of(switched(false, 0.9))).toEqual([])
    expect(of(switched(false, 1.1))).toEqual(['paused-pump'])
    expect(of(switched(false, 3), switched(true, 2))).toEqual([])
  })
  test('a set names the doser that pours the same, and the one that its salt brings along', () => {
    const entries = [...low, read('potassium', 300, 0.1)]
    const of = (ids: readonly string[], salts = {}) =>
      setOf(entries, ids, { salts }, [doser]).items.map(({ dosers }) => dosers.map(({ why }) => why))
    expect(of(['alkalinity'])).toEqual([['same']])
    expect(of(['potassium'])).toEqual([[]])
    expect(of(['potassium'], { potassium: 'potassium-bicarbonate' })).toEqual([['along']])
  })
})
