import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  afterChanges,
  changesToTarget,
  combineVolumes,
  fractionForResidual,
  innerFootprint,
  makeUpMass,
  netVolume,
  residualFraction,
  seawaterDensity,
  tracerVolume,
  type VolumeInputs,
} from '@brinvo/core'
import { boxVolume } from '@brinvo/core/demo'

const value = (inputs: VolumeInputs) => {
  const result = netVolume(inputs)
  if (!result.ok) throw new Error(result.error[0]!.message)
  return result.value
}

describe('net volume', () => {
  const bare = boxVolume(60, 36, 36, 5, 3)
  test('a bare box, worked by hand: 59 × 35 × 32.5 cm', () => {
    expect(value(bare).litres).toBeCloseTo((59 * 35 * 32.5) / 1000, 9)
  })
  test('doubt is propagated from every input and never below 3 %', () => {
    const sure = value({
      ...bare,
      dimensionSdCm: 0,
      glassCm: { value: 0.5, sd: 0 },
      bottomGlassCm: { value: 0.5, sd: 0 },
      fillGapCm: { value: 3, sd: 0 },
    })
    expect(sure.sdLitres).toBeCloseTo(0.03 * sure.litres, 9)
    // Gap alone: 0.5 cm × 59 × 35 / 1000 = 1.0325 L, here doubled to rise above the least doubt.
    const gap = value({
      ...bare,
      dimensionSdCm: 0,
      glassCm: { value: 0.5, sd: 0 },
      bottomGlassCm: { value: 0.5, sd: 0 },
      fillGapCm: { value: 3, sd: 2 },
    })
    expect(gap.sdLitres).toBeCloseTo(2 * 2.065, 6)
    expect(gap.doubt[0]).toEqual({ input: 'fillGapCm', share: 1 })
  })
  test('more rock never adds water, more sump never takes it', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 20, noNaN: true }), fc.double({ min: 0, max: 20, noNaN: true }), (a, b) => {
        const rock = (kg: number) => value({ ...bare, rockMassKg: { value: kg, sd: 0 } }).litres
        const sump = (l: number) => value({ ...bare, sumpL: { value: l, sd: 0 } }).litres
        expect(rock(a + b)).toBeLessThanOrEqual(rock(a))
        expect(sump(a + b)).toBeGreaterThanOrEqual(sump(a))
      }),
    )
  })
  test.each([
    ['fillGapCm', { ...bare, fillGapCm: { value: 40, sd: 0 } }, /no water is left/],
    ['glassCm', { ...bare, glassCm: { value: 5, sd: 0 } }, /is it in mm/],
    ['lengthCm', { ...bare, shape: { kind: 'box', lengthCm: 0, widthCm: 3, heightCm: 3 } }, /missing/],
    ['lengthCm', { ...bare, shape: { kind: 'box', lengthCm: 6000, widthCm: 36, heightCm: 36 } }, /ten metres/],
    ['rockMassKg', { ...bare, rockMassKg: { value: 400, sd: 0 } }, /displace all the water/],
    ['sumpL', { ...bare, sumpL: { value: -1, sd: 0 } }, /cannot be negative/],
    ['litres', { ...bare, shape: { kind: 'custom', litres: NaN } }, /not a number/],
    ['substratePorosity', { ...bare, substratePorosity: { value: 40, sd: 0 } }, /share below 1/],
  ] as const)('says what is wrong with %s', (field, inputs, words) => {
    const result = netVolume(inputs as VolumeInputs)
    expect(result.ok).toBe(false)
    if (!result.ok) expect(result.error[0]).toMatchObject({ field, message: expect.stringMatching(words) })
  })
  test('a quarter-round without glass is a quarter of a disc', () => {
    expect(innerFootprint({ kind: 'quarter-round', radiusCm: 50, heightCm: 40 }, 0)).toBeCloseTo(
      (Math.PI * 2500) / 4,
      6,
    )
  })
  test('glass only ever takes room, for every shape', () => {
    const shapes = [
      { kind: 'box', lengthCm: 60, widthCm: 36, heightCm: 36 },
      { kind: 'cylinder', diameterCm: 40, heightCm: 36 },
      { kind: 'hexagon', sideCm: 25, heightCm: 36 },
      { kind: 'bow-front', lengthCm: 90, sideDepthCm: 30, centreDepthCm: 42, heightCm: 40 },
      { kind: 'quarter-round', radiusCm: 50, heightCm: 40 },
    ] as const
    for (const shape of shapes) {
      let last = Infinity
      for (let glass = 0; glass < 3; glass += 0.2) {
        const area = innerFootprint(shape, glass)
        expect(area).toBeLessThan(last)
        expect(area).toBeGreaterThan(0)
        last = area
      }
    }
  })
})

describe('evidence about the volume', () => {
  test('geometry and evidence meet by their precision, on log volume', () => {
    const combined = combineVolumes({ value: 70, sd: 3.5 }, { value: 63, sd: 3.15 })
    expect(combined.value).toBeCloseTo(Math.sqrt(70 * 63), 6)
    expect(combined.disagrees).toBe(false)
    expect(combineVolumes({ value: 70, sd: 3 }, { value: 55, sd: 3 }).disagrees).toBe(true)
  })
  test('a reading that did not rise is no evidence', () => {
    expect(() =>
      tracerVolume({
        addedMassMg: 100,
        beforeMgPerL: { value: 2, sd: 0.1 },
        afterMgPerL: { value: 2, sd: 0.1 },
        addedSolutionMl: 0,
      }),
    ).toThrow(/must rise/)
  })
})

describe('water changes', () => {
  test('two halves leave a quarter, not nothing', () => {
    expect(residualFraction(0.5, 2)).toBe(0.25)
    expect(afterChanges(40, 0.5, 0, 2)).toBe(10)
  })
  test('the make-up of handbook 31: a quarter of 90 L at 2.25 mg/L is 50.6 mg', () => {
    expect(makeUpMass(22.5, 2.25)).toBeCloseTo(50.6, 1)
  })
  test('n changes of the share for a residual leave just that residual', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 0.9, noNaN: true }), fc.integer({ min: 1, max: 20 }), (residual, n) => {
        expect(residualFraction(fractionForResidual(residual, n), n)).toBeCloseTo(residual, 9)
      }),
    )
  })
  test('new water above the target can never get there', () => {
    expect(changesToTarget(40, 12, 0.5, 10)).toEqual({ ok: false, error: { kind: 'unreachable' } })
    expect(changesToTarget(8, 0, 0.5, 10)).toMatchObject({ ok: true, value: { changes: 0 } })
  })
})

test('EOS-80 check values of the paper', () => {
  expect(seawaterDensity(35, 25)).toBeCloseTo(1023.34306, 5)
  expect(seawaterDensity(35, 5)).toBeCloseTo(1027.67547, 5)
  expect(seawaterDensity(0, 5)).toBeCloseTo(999.96675, 5)
})
