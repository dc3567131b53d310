// Sentences in the keeper's units, against conversions worked out by hand.
import { describe, expect, test } from '@jest/globals'
import { DEFAULT_PREFERENCES, inKeepersUnits } from '../src/index.ts'

const US = { ...DEFAULT_PREFERENCES, volume: 'US gal', temperature: '°F', salinity: 'SG' } as const

describe('a sentence of the core', () => {
  test.each([
    // 1 US gal = 3.785411784 L
    ['20 L, matched water, undosed.', '5.28 US gal, matched water, undosed.'],
    ['From 0.50 to 1.00 mg/L in 79 L.', 'From 0.50 to 1.00 mg/L in 20.9 US gal.'],
    ['Replace 1.5 of 38 L with fresh water', 'Replace 0.396 of 10 US gal with fresh water'],
    ['Doses and readings: 67 ± 2 L.', 'Doses and readings: 17.7 ± 0.528 US gal.'],
    ['20 to 30 L are the least', '5.28 to 7.93 US gal are the least'],
    ['2 × 5 L', '2 × 1.32 US gal'],
    ['a lamp at 200 L/h', 'a lamp at 52.8 US gal/h'],
    ['Alcove is at 25.5 °C: never at that warmth', 'Alcove is at 77.9 °F: never at that warmth'],
    ['is meant for 22 to 28 °C.', 'is meant for 71.6 to 82.4 °F.'],
  ])('%s', (text, told) => expect(inKeepersUnits(text, US)).toBe(told))
  test.each([
    'a strength of 10 mg/L stays, and 5 mL too',
    'within 1 °C, 1 PSU and 0.2 pH',
    'Turn the heater by 1.2 °C.',
    'at most 3 °C up within a day',
    'wait for 2 °C more',
    '1.5 mg/L of 2 mg/L',
    'Log L',
  ])('a level, a difference, a dose: %s', (text) => expect(inKeepersUnits(text, US)).toBe(text))
  test('who reads litres and °C reads what the core says', () => {
    const text = '20 L at 25.5 °C, 200 L/h, at 35 ppt'
    expect(inKeepersUnits(text, DEFAULT_PREFERENCES)).toBe(text)
  })
  test('salinity as specific gravity, four places', () =>
    expect(inKeepersUnits('was read at 35 PSU', US)).toMatch(/^was read at 1\.02\d\d SG$/))
})
