import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  DEFAULT_PREFERENCES,
  UNITS,
  formatDose,
  formatDuration,
  formatQuantity,
  fromCanonical,
  litres,
  parseNumber,
  parseQuantity,
  toCanonical,
  type Dimension,
} from '@brinvo/core'

describe('reading what people type', () => {
  test.each`
    text           | dimension          | value      | unit        | bound
    ${'<0.02 ppm'} | ${'concentration'} | ${0.02}    | ${'ppm'}    | ${'below'}
    ${'1,5 mg/L'}  | ${'concentration'} | ${1.5}     | ${'mg/L'}   | ${'exact'}
    ${'2 tsp'}     | ${'dose-volume'}   | ${9.8579}  | ${'tsp'}    | ${'exact'}
    ${'½ tsp'}     | ${'dose-volume'}   | ${2.46446} | ${'tsp'}    | ${'exact'}
    ${'1 1/2 tsp'} | ${'dose-volume'}   | ${7.39338} | ${'tsp'}    | ${'exact'}
    ${'8.3 dKH'}   | ${'alkalinity'}    | ${8.3}     | ${'dKH'}    | ${'exact'}
    ${'3 meq/L'}   | ${'alkalinity'}    | ${8.40336} | ${'meq/L'}  | ${'exact'}
    ${'78 °F'}     | ${'temperature'}   | ${25.5556} | ${'°F'}     | ${'exact'}
    ${'-1 °C'}     | ${'temperature'}   | ${-1}      | ${'°C'}     | ${'exact'}
    ${'1.025 SG'}  | ${'salinity'}      | ${33.188}  | ${'SG'}     | ${'exact'}
    ${'20 gal'}    | ${'volume'}        | ${75.7082} | ${'US gal'} | ${'exact'}
    ${'> 2 mg/L'}  | ${'concentration'} | ${2}       | ${'mg/L'}   | ${'above'}
    ${'150 µg/L'}  | ${'concentration'} | ${0.15}    | ${'µg/L'}   | ${'exact'}
    ${'1,234.5 L'} | ${'volume'}        | ${1234.5}  | ${'L'}      | ${'exact'}
    ${'1.234,5 L'} | ${'volume'}        | ${1234.5}  | ${'L'}      | ${'exact'}
    ${'12 %'}      | ${'strength'}      | ${120}     | ${'% w/v'}  | ${'exact'}
  `('"$text" as $dimension is $value', ({ text, dimension, value, unit, bound }) => {
    const parsed = parseQuantity(text as string, { dimension: dimension as Dimension })
    expect(parsed).toMatchObject({
      ok: true,
      value: { value: expect.closeTo(value as number, 3), bound, entered: { unit } },
    })
  })

  test.each`
    text             | dimension          | words
    ${'0.5'}         | ${'concentration'} | ${/has no unit/}
    ${'1,500 mg/L'}  | ${'concentration'} | ${/could be 1\.500 or 1500/}
    ${'1.8-2.0 ppm'} | ${'concentration'} | ${/is a range/}
    ${'2 mg/mL'}     | ${'concentration'} | ${/strength of a bottle/}
    ${'2 furlongs'}  | ${'length'}        | ${/not a unit we know/}
    ${'lots'}        | ${'volume'}        | ${/does not start with a number/}
    ${''}            | ${'volume'}        | ${/is empty/}
    ${'-3 L'}        | ${'volume'}        | ${/cannot be below 0/}
    ${'10 SG'}       | ${'salinity'}      | ${/between 0.990 and 1.060/}
    ${'1/0 tsp'}     | ${'dose-volume'}   | ${/divides by zero/}
  `('"$text" is refused with a sentence', ({ text, dimension, words }) => {
    const parsed = parseQuantity(text as string, { dimension: dimension as Dimension })
    expect(parsed.ok).toBe(false)
    if (!parsed.ok) expect(parsed.error.message).toMatch(words as RegExp)
  })

  test('a bare number takes the unit printed beside its field, and no other', () => {
    const inField = parseQuantity('78', { dimension: 'temperature', fieldUnit: '°F' })
    expect(inField).toMatchObject({ ok: true, value: { value: expect.closeTo(25.556, 2) } })
    expect(parseQuantity('78', { dimension: 'temperature' }).ok).toBe(false)
  })

  test('a limit is refused where one value is needed', () => {
    expect(parseQuantity('<5 mL', { dimension: 'dose-volume', allowBound: false }).ok).toBe(false)
  })

  test('the same text in ppm and in mg/mL does not mean the same', () => {
    const level = parseQuantity('0.5 ppm', { dimension: 'concentration' })
    const strength = parseQuantity('0.5 mg/mL', { dimension: 'strength' })
    expect(level.ok && strength.ok && level.value.dimension !== strength.value.dimension).toBe(true)
  })

  test('every number that a decimal comma can write is read like the point', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.001, max: 99, noNaN: true }), (value) => {
        const text = value.toFixed(2)
        expect(parseNumber(text.replace('.', ','))).toEqual(parseNumber(text))
      }),
    )
  })
})

describe('units', () => {
  test('every unit goes there and back', () => {
    fc.assert(
      fc.property(fc.constantFrom(...UNITS), fc.double({ min: 0.5, max: 40, noNaN: true }), (unit, value) => {
        const canonical = unit.id === 'SG' ? value / 2 : value
        const there = fromCanonical(unit.dimension, canonical, unit.id)
        expect(toCanonical(unit.dimension, there, unit.id)).toBeCloseTo(canonical, 6)
      }),
    )
  })
  test('no spelling means two units of one dimension', () => {
    const seen = new Map<string, string>()
    for (const unit of UNITS) {
      for (const spelling of new Set(unit.spellings)) {
        const key = `${unit.dimension} ${spelling}`
        // PSU and ppt are one number under two names.
        if (unit.id !== 'ppt') expect([key, seen.get(key) ?? unit.id]).toEqual([key, unit.id])
        seen.set(key, unit.id)
      }
    }
  })
  test.each([[-1], [NaN], [Infinity]])('litres(%p) is a bug and throws', (value) => {
    expect(() => litres(value)).toThrow(RangeError)
  })
})

describe('showing', () => {
  test.each([
    [0.5, 'mL', '0.5 mL'],
    [5, 'mL', '5 mL'],
    [5.2, 'mL', '5.2 mL'],
    [11.4, 'mL', '11.4 mL'],
    [0.05, 'g', '50 mg'],
  ] as const)('a dose of %p %s is written %s', (amount, unit, text) => {
    expect(formatDose(amount, unit, 'en-GB').text).toBe(text)
  })
  test('by preference, unit always there', () => {
    const us = {
      ...DEFAULT_PREFERENCES,
      volume: 'US gal',
      temperature: '°F',
      salinity: 'SG',
      alkalinity: 'meq/L',
    } as const
    expect(formatQuantity(25.5556, 'temperature', us).text).toBe('78 °F')
    expect(formatQuantity(75.7082, 'volume', us).text).toBe('20 US gal')
    expect(formatQuantity(35, 'salinity', us).text).toBe('1.0264 SG')
    expect(formatQuantity(8, 'alkalinity', us).unit).toBe('meq/L')
    expect(formatQuantity(2.5, 'concentration', { ...DEFAULT_PREFERENCES, locale: 'de-DE' }).text).toBe('2,5 mg/L')
  })
  test.each([
    [0.4, '24 min'],
    [11, '11 h'],
    [23.99, '1 d'],
    [79, '3 d 7 h'],
    [-2, '−2 h'],
  ])('%p hours are %s', (hours, text) => expect(formatDuration(hours)).toBe(text))
})
