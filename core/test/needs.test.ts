// What a whole course uses up, against what a hand would add together.
import { describe, expect, test } from '@jest/globals'
import {
  activeEntries,
  courseNeeds,
  documentsOf,
  instantOf,
  PRODUCT_MARGIN,
  protocolOf,
  recordOf,
  vesselVolume,
  WATER_MARGIN,
  type RegisterDocument,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: 'Europe/Berlin' })
const volume = vesselVolume(demo.vessels.get('holding-b')!)!.litres
const bottle = (id: string, form: string, mgPerMl: number, more: object = {}): RegisterDocument =>
  ({
    register: 'product',
    id,
    revision: 1,
    savedAt: instantOf(NOW),
    history: [],
    body: { name: id, form, strength: { basis: 'mg-per-mL', mgPerMl }, ...more },
  }) as unknown as RegisterDocument
const record = recordOf(
  demo.settings,
  [
    ...documentsOf(demo),
    bottle('formalin', 'formalin-tank', 403, { sizeAmount: 2, expiresOn: '2026-11-25' }),
    bottle('malachite', 'malachite-green', 1),
    bottle('bath', 'peroxide-bath', 30),
    bottle('wormer', 'fenbendazole-shrimp', 100),
    bottle('spots', 'peroxide-spot-fresh', 30),
  ],
  demo.entries,
)
const needs = (id: string, products: Record<string, string>, parameters: Record<string, number> = {}) =>
  courseNeeds({
    record,
    active: activeEntries(record.entries),
    protocol: protocolOf(id)!,
    vesselId: 'holding-b',
    products,
    parameters,
    nowMs: NOW,
  })

describe('what a whole course uses up', () => {
  test('a campaign too: half doses count half, spots by the most they may take, rounds say it at their step', () => {
    const jar = needs('jar-fenbendazole-planaria', { wormer: 'wormer' })
    // 0.6 and twice the half of it, and all of that again for the cocoons.
    expect(jar.products[0]!.amount).toBeCloseTo((2 * (0.6 + 2 * 0.3) * volume) / 100, 9)
    expect(jar.waterL).toBeCloseTo(2 * (2 * 0.5 + 0.6) * volume, 9)
    expect(needs('spot-peroxide-fresh', { peroxide: 'spots' }).products[0]!.amount).toBeCloseTo(
      (7 * 7.5 * volume) / 30,
      9,
    )
    const rounds = needs('rounds-montipora-slug', { dip: 'bath' })
    expect(rounds.products[0]!.amount).toBeNull()
    expect(rounds.waterL).toBe(0)
  })
  test('doses: times, level and volume over the strength, for each bottle, and a quarter more', () => {
    const { products, waterL, waterWithMarginL } = needs('formalin-malachite-fresh', {
      formalin: 'formalin',
      malachite: 'malachite',
    })
    const [formalin, malachite] = products
    expect(formalin!.amount).toBeCloseTo((3 * 8 * volume) / 403, 9)
    expect(malachite!.amount).toBeCloseTo(3 * 0.08 * volume, 9)
    expect(malachite!.withMargin).toBeCloseTo(malachite!.amount! * PRODUCT_MARGIN, 9)
    expect(waterWithMarginL).toBeCloseTo(waterL! * WATER_MARGIN, 9)
    // The small bottle runs out and expires before the end; of the other nobody noted the size.
    expect([formalin!.short, formalin!.expires]).toEqual([true, true])
    expect([malachite!.short, malachite!.expires, malachite!.left]).toEqual([false, false, null])
    expect(formalin!.working!.inputs[0]).toMatchObject({ value: volume, unit: 'L' })
  })
  test('a parameter moves the sum; a bath counts its own water', () => {
    const half = needs('malachite-fresh', { malachite: 'malachite' }, { 'malachite-level': 0.05 })
    expect(half.products[0]!.amount).toBeCloseTo(3 * 0.05 * volume, 9)
    const bath = needs('tank-transfer-hybrid', { peroxide: 'bath' }, { 'peroxide-level': 75, 'bath-litres': 12 })
    expect(bath.products[0]!.amount).toBeCloseTo((2 * 75 * 12) / 30, 9)
    expect(bath.tests).toEqual([{ role: 'ammonia-test', label: 'Ammonia test', times: 24 }])
  })
  test('a level that is held: raised once, then what is lost and what changes take', () => {
    const copper = needs('copper-in-place-30', { copper: 'copper-main' }).products[0]!
    const raised = (2.25 * volume) / 10
    expect(copper.amount).toBeGreaterThan(raised * 1.3)
    expect(copper.amount).toBeLessThan(raised * 5)
    expect(copper.left).toBeLessThan(250)
  })
  test('without a bottle there is no amount, and nothing is made up', () => {
    expect(needs('copper-in-place-30', {}).products[0]).toMatchObject({ amount: null, unit: null, working: null })
  })
})
