import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  activeContent,
  dilution,
  doseFor,
  equivalentMl,
  litres,
  mgPerL,
  molarMass,
  rampLevels,
  resultingLevel,
  resultOverVolumeDoubt,
  roundToStep,
  speciesShare,
  suggestedDilution,
  type Strength,
} from '@brinvo/core'

const mg = (strength: Strength) => {
  const content = activeContent(strength)
  if (!content.ok) throw new Error(content.error.message)
  return content.value.mg
}

describe('strength of a bottle', () => {
  test.each([
    ['3 % w/v peroxide', { basis: 'w/v', percent: 3 }, 30],
    ['37 % w/w formalin', { basis: 'w/w', percent: 37, densityGPerMl: 1.09 }, 403.3],
    [
      'copper sulfate stock 3.929 g/L',
      { basis: 'salt-stock', salt: 'CuSO4.5H2O', species: 'Cu', saltGrams: 3.929, madeUpToMl: 1000 },
      1,
    ],
    ['22.2 % granules', { basis: 'powder', mgPerG: 222 }, 222],
    ['250 mg tablet', { basis: 'per-tablet', mgPerTablet: 250 }, 250],
  ] as const)('%s', (_name, strength, expected) => expect(mg(strength)).toBeCloseTo(expected, 2))
  test.each([
    [{ basis: 'mg-per-mL', mgPerMl: 0 }, /above zero/],
    [{ basis: 'mg-per-mL', mgPerMl: NaN }, /missing/],
    [{ basis: 'w/w', percent: 120, densityGPerMl: 1 }, /more than the whole/],
    [{ basis: 'powder', mgPerG: 2000 }, /more than the gram/],
    [{ basis: 'salt-stock', salt: 'NaCl', species: 'Cu', saltGrams: 1, madeUpToMl: 100 }, /holds no Cu/],
    [{ basis: 'salt-stock', salt: 'Xx2', species: 'Cu', saltGrams: 1, madeUpToMl: 100 }, /cannot read/],
  ] as const)('%j is refused with a sentence', (strength, words) => {
    const content = activeContent(strength as Strength)
    expect(content.ok).toBe(false)
    if (!content.ok) expect(content.error.message).toMatch(words)
  })
  test('brackets and hydrates in a formula', () => {
    expect(molarMass('Ca(OH)2')).toBeCloseTo(74.092, 3)
    expect(speciesShare('CuSO4·5H2O', 'Cu').massFraction).toBeCloseTo(0.2545, 4)
    expect(() => molarMass('Ca(OH')).toThrow(/unbalanced/)
  })
})

describe('dose', () => {
  const dose = (volume: number, current: number, target: number, strengthMg: number) =>
    doseFor({
      volumeL: litres(volume),
      currentMgPerL: mgPerL(current),
      targetMgPerL: mgPerL(target),
      content: { mg: strengthMg, per: 'mL' },
    })
  test.each`
    volume | current | target  | strength | unrounded | working
    ${90}  | ${0.1}  | ${0.18} | ${1}     | ${7.2}    | ${'handbook 31: 0.08 × 90 ÷ 1'}
    ${100} | ${0}    | ${2.25} | ${10}    | ${22.5}   | ${'T3 chelated-high per 100 L'}
    ${100} | ${0}    | ${1.75} | ${10}    | ${17.5}   | ${'T3 chelated per 100 L'}
    ${100} | ${0}    | ${0.5}  | ${10}    | ${5}      | ${'T3 amine per 100 L'}
    ${100} | ${0}    | ${0.18} | ${1}     | ${18}     | ${'T3 ionic per 100 L'}
  `('$working = $unrounded mL', ({ volume, current, target, strength, unrounded }) => {
    const result = dose(volume as number, current as number, target as number, strength as number)
    expect(result).toMatchObject({ ok: true, value: { unroundedAmount: expect.closeTo(unrounded as number, 9) } })
  })
  test('the result states the level that the rounded amount leads to', () => {
    const result = dose(66.5, 0, 0.75, 10)
    expect(result).toMatchObject({
      ok: true,
      value: { amount: 5, step: 0.2, resultMgPerL: expect.closeTo(50 / 66.5, 9) },
    })
  })
  test('above the target only a change helps; less than a graduation wants a dilution', () => {
    expect(dose(70, 2.5, 2, 10)).toMatchObject({ ok: false, error: { kind: 'target-below-current' } })
    expect(dose(1, 0, 0.01, 100)).toMatchObject({ ok: false, error: { kind: 'below-one-step' } })
    expect(dose(0, 0, 1, 10)).toMatchObject({ ok: false, error: { kind: 'no-water' } })
  })
  test('more dose never lowers the level, and the mass is conserved', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1, max: 1000, noNaN: true }),
        fc.double({ min: 0, max: 5, noNaN: true }),
        fc.double({ min: 0, max: 100, noNaN: true }),
        fc.double({ min: 0, max: 100, noNaN: true }),
        (volume, level, a, b) => {
          const one = resultingLevel(level, a, 10, volume)
          const both = resultingLevel(level, a + b, 10, volume)
          expect(both).toBeGreaterThanOrEqual(one)
          expect(both * volume).toBeCloseTo(level * volume + (a + b) * 10, 6)
        },
      ),
    )
  })
  test('the doubt of the volume is told at both ends', () => {
    const range = resultOverVolumeDoubt(0, 10, 10, { value: 68, sd: 3 }, 1)
    expect(range.lowMgPerL).toBeCloseTo(100 / 71, 9)
    expect(range.highMgPerL).toBeCloseTo(100 / 65, 9)
  })
  test('coarse rounding asks for a thinner stock', () => {
    expect(suggestedDilution({ roundingError: 0.3, unroundedAmount: 0.013, step: 0.01 })).toBe(10)
    expect(suggestedDilution({ roundingError: 0.01, unroundedAmount: 3, step: 0.2 })).toBe(1)
  })
  test('rounding leaves no floating tail', () => {
    expect(roundToStep(0.30000000000000004, 0.1)).toBe(0.3)
    expect(roundToStep(4.39, 0.2, 'down')).toBe(4.2)
  })
  test('a ramp rises in equal steps to its target', () => {
    expect(rampLevels(2, 4)).toEqual([0.5, 1, 1.5, 2])
    expect(() => rampLevels(2, 0)).toThrow(RangeError)
  })
  test('1 mL of 12 % is 4 mL of 3 %, and nothing is diluted upwards', () => {
    expect(equivalentMl(1, 12, 3)).toBe(4)
    expect(dilution(3, 12, 100).ok).toBe(false)
  })
})
