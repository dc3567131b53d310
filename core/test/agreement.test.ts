// Two instruments on the same water, the third that settles it, and the watch on a filter that cannot be trusted.
import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  activeOf,
  ammoniaAct,
  ammoniaConcerns,
  ammoniaOf,
  ammoniaWatchOf,
  comparisonsOf,
  comparisonWords,
  documentsOf,
  freeFromTotal,
  recordOf,
  suspectInstruments,
  type Entry,
  type InstrumentBody,
  type InstrumentDocument,
  type KeeperRecord,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { agreementOf, agrees, type Measured } from '../src/trends/agreement.ts'
import { ask } from './asked.ts'
import { entryAt, ZONE } from './entries.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const HOUR = 3_600_000
const DAY = 24 * HOUR
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: ZONE })
const RATIO = { kind: 'ratio', floor: 0.01 } as const
const ERROR = { kind: 'error' } as const

const instrument = (id: string, body: Partial<InstrumentBody>): InstrumentDocument => ({
  register: 'instrument',
  id,
  revision: 1,
  savedAt: '2026-10-01T10:00:00.000Z',
  history: [],
  body: { name: id, analyte: 'ammonia-total', method: 'drop-kit', step: 0.1, relativeError: 0.15, ...body },
})
const KITS = [
  instrument('drops', {}),
  instrument('badge', { analyte: 'ammonia-free', method: 'badge', step: 0.02, relativeError: 0.5 }),
  instrument('photometer', { method: 'photometer', step: 0.01, relativeError: 0.05 }),
]
/** Who lives where, as the demonstration has it. */
const MOVES = demo.entries.filter(({ kind }) => kind === 'move')
/** The demonstration's shelf with a ledger of our own. */
const recordWith = (entries: readonly Entry[], kits: readonly InstrumentDocument[] = KITS): KeeperRecord =>
  recordOf(
    demo.settings,
    [...documentsOf(demo).filter(({ id }) => !KITS.some((kit) => kit.id === id)), ...kits],
    [...MOVES, ...entries],
  )
const reading = (
  hoursAgo: number,
  analyte: string,
  value: number,
  fields: { instrumentId?: string; vesselId?: string; bound?: string } = {},
): Entry =>
  entryAt(NOW - hoursAgo * HOUR, {
    kind: 'reading',
    vesselId: 'holding-a',
    analyte,
    value,
    unit: 'mg/L',
    bound: 'exact',
    ...fields,
  })
const water = (hoursAgo = 1) => [
  reading(hoursAgo, 'ph', 8.2),
  reading(hoursAgo, 'temperature', 25),
  reading(hoursAgo, 'salinity', 35),
]
const drops = (hoursAgo: number, value: number) => reading(hoursAgo, 'ammonia-total', value, { instrumentId: 'drops' })
const badge = (hoursAgo: number, value: number, bound = 'exact') =>
  reading(hoursAgo, 'ammonia-free', value, { instrumentId: 'badge', bound })
const photometer = (hoursAgo: number, value: number) =>
  reading(hoursAgo, 'ammonia-total', value, { instrumentId: 'photometer' })
const read = (entries: readonly Entry[], kits?: readonly InstrumentDocument[]) => {
  const record = recordWith(entries, kits)
  return { record, active: activeOf(record.entries) }
}
const ammonia = (entries: readonly Entry[], kits?: readonly InstrumentDocument[]) => {
  const { record, active } = read(entries, kits)
  return ammoniaOf(record, active, 'holding-a', NOW)!
}

describe('two numbers', () => {
  const m = (by: string, value: number, sd = 0.005): Measured => ({ by, value, sd })

  test('the handbook’s check: 8 and 8.8 dKH with 0.3 each are no conflict and mean 8.4', () => {
    const { verdict, rules, z } = agreementOf([m('a', 8, 0.3), m('b', 8.8, 0.3)], ERROR)
    expect(z).toBeCloseTo(1.886, 3)
    expect(verdict).toBe('agree')
    expect(rules).toBeCloseTo(8.4, 9)
  })

  test('ammonia: less than twice agrees, twice does not, and the higher one counts', () => {
    expect(agreementOf([m('a', 0.03), m('b', 0.059)], RATIO)).toMatchObject({ verdict: 'agree', rules: 0.059 })
    expect(agreementOf([m('a', 0.03), m('b', 0.061)], RATIO)).toMatchObject({ verdict: 'conflict', rules: 0.061 })
    expect(agreementOf([m('a', 0.001), m('b', 0.009)], RATIO).verdict).toBe('agree')
  })

  test('apart by the ratio but both low and within their errors: said so, and the higher one still counts', () => {
    expect(agreementOf([m('a', 0.005, 0.01), m('b', 0.015, 0.01)], RATIO)).toMatchObject({
      verdict: 'near',
      rules: 0.015,
    })
    expect(agreementOf([m('a', 0.01, 0.05), m('b', 0.1, 0.05)], RATIO).verdict).toBe('conflict')
  })

  test('a third settles it and leaves the one that stands alone under suspicion', () => {
    expect(agreementOf([m('a', 0.01), m('b', 0.06), m('c', 0.05)], RATIO)).toEqual(
      expect.objectContaining({ verdict: 'settled', rules: 0.06, suspects: ['a'] }),
    )
    expect(agreementOf([m('a', 0.02), m('b', 0.07), m('c', 0.038)], RATIO)).toMatchObject({
      verdict: 'settled',
      suspects: [],
    })
    expect(agreementOf([m('a', 0.01), m('b', 0.06), m('c', 0.4)], RATIO)).toMatchObject({
      verdict: 'no-match',
      rules: 0.4,
      suspects: [],
    })
  })

  test('what shows nothing contradicts only what it should have shown', () => {
    const nothing: Measured = { by: 'a', value: 0.01, sd: 0.01, below: true }
    expect(agrees(nothing, m('b', 0.019), RATIO)).toBe(true)
    expect(agrees(nothing, m('b', 0.021), RATIO)).toBe(false)
  })

  test('the order of the instruments does not matter, and no rule is below the highest that is trusted', () => {
    const value = fc.record({
      value: fc.double({ min: 0.0001, max: 2, noNaN: true }),
      sd: fc.double({ min: 0.001, max: 0.1, noNaN: true }),
    })
    fc.assert(
      fc.property(fc.array(value, { minLength: 1, maxLength: 4 }), (values) => {
        const named = values.map((one, i) => ({ ...one, by: String(i) }))
        const one = agreementOf(named, RATIO)
        const other = agreementOf(named.toReversed(), RATIO)
        expect(other).toEqual({ ...one, suspects: one.suspects.toReversed() })
        const trusted = named.filter(({ by }) => !one.suspects.includes(by))
        expect(one.rules).toBe(Math.max(...trusted.map((each) => each.value)))
      }),
    )
  })
})

describe('readings of a vessel', () => {
  test('a drop test and a badge are brought to free ammonia as N', () => {
    const found = ammonia([...water(), drops(1, 1), badge(1, 0.06)])
    const expected = freeFromTotal(1, { phNbs: 8.2, tempC: 25, salinityPsu: 35 })
    expect(found.readings.map(({ value }) => value)).toEqual([expect.closeTo(expected, 9), 0.06])
    expect(found.verdict).toBe('agree')
    expect(found.rules).toBeCloseTo(Math.max(expected, 0.06), 9)
    expect(found.working.parts).toHaveLength(1)
  })

  test('without a pH the strict choice is taken, and said', () => {
    const [only] = ammonia([drops(1, 1)]).readings
    expect(only!.value).toBeCloseTo(freeFromTotal(1, { phNbs: 8.2, tempC: 25, salinityPsu: 35 }), 9)
    expect(only!.assumed.join(' ')).toMatch(/pH 8.2 assumed.*25 °C assumed/)
  })

  test('a pH of another hour makes it less sure', () => {
    const beside = ammonia([...water(1), drops(1, 1)]).readings[0]!
    const later = ammonia([...water(4), drops(1, 1)]).readings[0]!
    expect(later.value).toBeCloseTo(beside.value, 9)
    expect(later.sd).toBeGreaterThan(beside.sd)
    expect(later.assumed[0]).toContain('3 h apart')
  })

  test('a conflict waits for a third and then names the one not to be trusted, until it is checked', () => {
    const apart = [...water(2), drops(2, 1.2), badge(2, 0.02, 'below')]
    const before = ammonia(apart)
    expect(before.verdict).toBe('conflict')
    expect(comparisonWords(before)).toMatch(/third reading within 2 hours/)
    const third = [...apart, photometer(0.5, 1.1)]
    const after = ammonia(third)
    expect(after.verdict).toBe('settled')
    expect(comparisonWords(after)).toContain('badge')
    const { record, active } = read(third)
    expect([...suspectInstruments(record, active, NOW).keys()]).toEqual(['badge'])
    const checked = read(third, [
      KITS[0]!,
      instrument('badge', { ...KITS[1]!.body, checkedAt: new Date(NOW).toISOString() }),
      KITS[2]!,
    ])
    expect(suspectInstruments(checked.record, checked.active, NOW).size).toBe(0)
  })

  test('readings on either side of a water change are not held against each other', () => {
    const change = entryAt(NOW - 1.5 * HOUR, { kind: 'change', vesselId: 'holding-a', fraction: 0.5 })
    expect(ammonia([...water(2), drops(2, 1.2), change, badge(1, 0.02)]).verdict).toBe('one')
  })

  test('a reading that names no instrument is not a second one', () => {
    const unnamed = reading(0.5, 'ammonia-total', 0.05)
    const found = ammonia([...water(), drops(2, 0.8), unnamed])
    expect(found.verdict).toBe('one')
    expect(found.readings[0]!.entry.id).toBe(unnamed.id)
  })

  test('after a binder the badge alone counts for two days', () => {
    const binder = entryAt(NOW - 5 * HOUR, { kind: 'equipment', vesselId: 'holding-a', item: 'binder', on: true })
    const found = ammonia([binder, ...water(1), drops(1, 2), badge(1, 0.02)])
    expect(found).toMatchObject({ verdict: 'bound', rules: 0.02 })
    expect(comparisonWords(found)).toMatch(/no disagreement/)
  })

  test('two salinity meters are compared with their errors; conductivity becomes salinity first', () => {
    const { record, active } = read([
      reading(1, 'salinity', 35, { vesselId: 'longshore' }),
      reading(1, 'conductivity', 53_070, { vesselId: 'longshore' }),
    ])
    const found = comparisonsOf(record, active, 'longshore', NOW).find(({ quantity }) => quantity === 'salinity')!
    expect(found.readings.map(({ value }) => value)).toEqual([35, expect.closeTo(35, 1)])
    expect(found.verdict).toBe('agree')
  })
})

describe('what the worse reading asks for', () => {
  const act = (entries: readonly Entry[]) => {
    const { record, active } = read(entries)
    return ammoniaAct(record, active, ammoniaOf(record, active, 'holding-a', NOW)!, 'holding-a', NOW)
  }

  test.each([
    [0.015, 'calm', 0],
    [0.03, 'watch', 3],
    [0.1, 'today', 4],
    [0.3, 'now', 3],
  ] as const)('%s mg/L of free N is %s', (value, band, acts) => {
    const found = act([...water(1), badge(1, value)])
    expect(found.band).toBe(band)
    expect(found.acts).toHaveLength(acts)
  })

  test('no binder where copper may be, nor while the two disagree', () => {
    const copper = reading(3, 'copper', 2)
    const beside = act([copper, ...water(1), badge(1, 0.1)]).acts.join(' ')
    expect(beside).toMatch(/No binder: copper/)
    expect(beside).toMatch(/made up to the same copper/)
    expect(act([...water(1), badge(1, 0.1), drops(1, 0.1)]).acts.join(' ')).toMatch(/No binder while the two disagree/)
    expect(act([...water(1), badge(1, 0.1)]).acts.join(' ')).toMatch(/binder once by its label/)
    const { record } = read([copper, ...water(1), badge(1, 0.1), drops(1, 0.1)])
    expect(
      ask(record, { kind: 'equipment', vesselId: 'holding-a', item: 'binder', on: true }, NOW).map(({ rule }) => rule),
    ).toEqual(['amm-binder-copper', 'amm-worst'])
  })

  test('the record is uneasy: danger for half a tank within two hours, caution for instruments apart', () => {
    const { record, active } = read([...water(1), badge(1, 0.1), drops(1, 0.1)])
    const found = ammoniaConcerns(record, active, NOW)
    expect(found.map(({ id, tone }) => [id, tone])).toEqual([
      ['ammonia-holding-a', 'danger'],
      ['apart-holding-a-ammonia', 'caution'],
    ])
    expect(found[0]!.detail).toContain('0.1 mg/L free, as N')
    expect(found[0]!.change?.fraction).toBe(0.5)
  })

  test('a change that was asked for and is logged is not asked for again: the water is to be read anew', () => {
    const change = (fraction: number, hoursAgo: number) =>
      entryAt(NOW - hoursAgo * HOUR, { kind: 'change', vesselId: 'holding-a', fraction })
    const before = [...water(1), badge(1, 0.1)]
    const after = (...more: Entry[]) => {
      const { record, active } = read([...before, ...more])
      return ammoniaConcerns(record, active, NOW).find(({ id }) => id === 'ammonia-holding-a')!
    }
    expect(after(change(0.2, 0.5)).tone).toBe('danger')
    expect(after(change(0.5, 2)).tone).toBe('danger') // before the reading
    expect(after(change(0.5, 0.5))).toMatchObject({
      tone: 'caution',
      action: 'test',
      title: expect.stringMatching(/50 % was changed, read it again/),
    })
    // Two thirds of a half, twice, are more than a half.
    expect(after(change(0.3, 0.6), change(0.3, 0.4)).title).toMatch(/51 % was changed/)
  })

  test('new water is made up to what is held there, by the last reading of it', () => {
    const { record, active } = read([reading(3, 'copper', 2), ...water(1), badge(1, 0.1)])
    const found = ammoniaConcerns(record, active, NOW).find(({ id }) => id === 'ammonia-holding-a')!
    expect(found.change).toMatchObject({ fraction: 0.5, replacementMgPerL: 2 })
    expect(record.products.has(found.change!.productId!)).toBe(true)
    expect(found.detail).toMatch(/made up to 2 mg\/L/)
  })
})

describe('the watch', () => {
  const dose = (daysAgo: number, productId: string, vesselId = 'longshore') =>
    entryAt(NOW - daysAgo * DAY, { kind: 'dose', vesselId, productId, amount: 1, unit: 'mL' })
  const bottle = (form: string) => ({
    register: 'product' as const,
    id: `bottle-${form}`,
    revision: 1,
    savedAt: '2026-10-01T10:00:00.000Z',
    history: [],
    body: { name: form, form, strength: { basis: 'mg-per-mL', mgPerMl: 10 }, openedAt: '2026-10-01' },
  })
  const watch = (entries: readonly Entry[], vesselId: string, nowMs = NOW) => {
    const record = recordOf(
      demo.settings,
      [...documentsOf(demo), ...(['methylene-blue-tank', 'praziquantel', 'formalin-bath'].map(bottle) as never[])],
      entries === demo.entries ? entries : [...MOVES, ...entries],
    )
    return ammoniaWatchOf(record, activeOf(record.entries), vesselId, nowMs)
  }
  const kinds = (found: ReturnType<typeof watch>) => found?.reasons.map(({ kind }) => kind) ?? []

  test('nothing asks for it in a display without doses', () => {
    expect(watch([], 'longshore')).toBeNull()
  })

  test('copper counts two weeks from the first dose, another drug three days', () => {
    expect(watch(demo.entries, 'holding-a')!.reasons[0]).toMatchObject({
      kind: 'drug',
      words: expect.stringMatching(/day 10 of 14/),
    })
    const home = 'fernwater'
    expect(kinds(watch([dose(2, 'bottle-praziquantel', home)], home))).toEqual(['new-drug'])
    expect(kinds(watch([dose(3, 'bottle-praziquantel', home)], home))).toEqual([])
    // Dosed again within two weeks it is not new; after that it is.
    expect(kinds(watch([dose(9, 'bottle-praziquantel', home), dose(1, 'bottle-praziquantel', home)], home))).toEqual([])
    expect(kinds(watch([dose(30, 'bottle-praziquantel', home), dose(1, 'bottle-praziquantel', home)], home))).toEqual([
      'new-drug',
    ])
  })

  test('what stops the filter is watched from the last dose; a bath in other water is not', () => {
    const home = 'fernwater'
    const found = watch(
      [dose(20, 'bottle-methylene-blue-tank', home), dose(18, 'bottle-methylene-blue-tank', home)],
      home,
    )
    expect(found!.reasons[0]!.words).toMatch(/day 19 of 21/)
    expect(watch([dose(1, 'bottle-formalin-bath', home)], home)).toBeNull()
  })

  test('a filter that is out is watched until it is back, and two weeks more', () => {
    const filter = (daysAgo: number, on: boolean) =>
      entryAt(NOW - daysAgo * DAY, { kind: 'equipment', vesselId: 'fernwater', item: 'biofilter', on })
    expect(watch([filter(40, false)], 'fernwater')).toMatchObject({ untilMs: null, everyDays: 1 })
    expect(kinds(watch([filter(40, false), filter(13, true)], 'fernwater'))).toEqual(['filter'])
    expect(watch([filter(40, false), filter(14, true)], 'fernwater')).toBeNull()
  })

  test('many pests taken out in a day are watched for three days, a few are not', () => {
    const tally = (daysAgo: number, removed: number) =>
      entryAt(NOW - daysAgo * DAY, {
        kind: 'tally',
        vesselId: 'longshore',
        measure: 'rock-count',
        values: { before: removed, removed },
      })
    expect(watch([tally(1, 12), tally(1, 7)], 'longshore')).toBeNull()
    const found = watch([tally(1, 12), tally(1, 8)], 'longshore')
    expect(kinds(found)).toEqual(['removal'])
    expect(found!.reasons[0]!.words).toBe('20 taken out yesterday: what was missed rots')
    expect(watch([tally(3, 40)], 'longshore')).toBeNull()
  })

  test('stocked: daily for fourteen days, then every second day up to day thirty', () => {
    const stocked = (days: number) => watch([], 'holding-a', NOW - 12 * DAY + days * DAY)
    expect(stocked(13)).toMatchObject({ everyDays: 1 })
    expect(stocked(15)).toMatchObject({ everyDays: 2 })
    expect(stocked(31)).toBeNull()
  })

  test('what was read today is not asked for; every second day yesterday’s counts too', () => {
    const now = NOW - 12 * DAY + 20 * DAY
    const at = (daysAgo: number, analyte: string) =>
      entryAt(now - daysAgo * DAY, {
        kind: 'reading',
        vesselId: 'holding-a',
        analyte,
        value: 0.01,
        unit: 'mg/L',
        bound: 'exact',
      })
    expect(watch([at(2, 'ammonia-total')], 'holding-a', now)!.missing).toEqual(['total', 'free'])
    expect(watch([at(1, 'ammonia-total')], 'holding-a', now)!.missing).toEqual(['free'])
    expect(watch([at(1, 'ammonia-total'), at(0, 'ammonia-free')], 'holding-a', now)!.missing).toEqual([])
  })

  test('only what is in the house is asked for: by its kit, or because it was read lately', () => {
    const asked = (analytes: readonly string[], readings: readonly string[] = []) => {
      const documents = documentsOf(demo).filter(
        (document) =>
          document.register !== 'instrument' ||
          !/^ammonia/.test(document.body.analyte) ||
          analytes.includes(document.body.analyte),
      )
      const stocked = NOW - 12 * DAY
      const others = demo.entries.filter((entry) => !(entry.kind === 'reading' && /^ammonia/.test(entry.analyte)))
      const read = readings.map((analyte) =>
        entryAt(stocked - DAY, { kind: 'reading', vesselId: 'tub', analyte, value: 0.1, unit: 'mg/L', bound: 'exact' }),
      )
      const record = recordOf(demo.settings, documents, [...others, ...MOVES, ...read])
      return ammoniaWatchOf(record, activeOf(record.entries), 'holding-a', stocked + 3 * DAY)!
    }
    expect(asked(['ammonia-total'])).toMatchObject({ asked: ['total'], missing: ['total'] })
    expect(asked(['ammonia-free'])).toMatchObject({ asked: ['free'], missing: ['free'] })
    expect(asked(['ammonia-total', 'ammonia-free'])).toMatchObject({ missing: ['total', 'free'] })
    expect(asked(['ammonia-total'], ['ammonia-free'])).toMatchObject({ missing: ['total', 'free'] })
    // A badge that was put away is none that one has.
    const retired = documentsOf(demo).map((document) =>
      document.register === 'instrument' && document.body.analyte === 'ammonia-free'
        ? { ...document, body: { ...document.body, retiredAt: new Date(NOW - 30 * DAY).toISOString() } }
        : document,
    )
    const record = recordOf(demo.settings, retired, [
      ...demo.entries.filter((entry) => !(entry.kind === 'reading' && /^ammonia/.test(entry.analyte))),
      ...MOVES,
    ])
    expect(ammoniaWatchOf(record, activeOf(record.entries), 'holding-a', NOW - 9 * DAY)!.asked).toEqual(['total'])
    // Nothing in the house: the test that everybody can have is asked for all the same.
    expect(asked([])).toMatchObject({ asked: ['total'], missing: ['total'] })
  })

  test('after a reading that was not calm it goes on until three are calm in a row', () => {
    const at = (hoursAgo: number, value: number) =>
      entryAt(NOW - hoursAgo * HOUR, {
        kind: 'reading',
        vesselId: 'longshore',
        analyte: 'ammonia-free',
        value,
        unit: 'mg/L',
        bound: 'exact',
      })
    const high = at(96, 0.06)
    expect(kinds(watch([high, at(72, 0.01), at(48, 0.01)], 'longshore'))).toEqual(['high'])
    expect(watch([high, at(72, 0.01), at(48, 0.01), at(24, 0.01)], 'longshore')).toBeNull()
  })
})
