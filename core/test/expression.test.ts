// The protocol's arithmetic by hand, its faults on their lines, and a school written from an empty page, lived to its end.
import { describe, expect, test } from '@jest/globals'
import { evaluate, type DoseEntry, type Given, type Protocol, type Value } from '@brinvo/core'
import { checkProtocolText } from '@brinvo/core/file'
import { KEEPERS } from '../lives/keepers.ts'
import { live } from '../lives/life.ts'

const NOTHING: Given = { forms: {}, parameters: {} }
const worked = (value: unknown, unit = '', given: Partial<Given> = {}) =>
  evaluate(value as Value, { ...NOTHING, ...given }, unit)

describe('arithmetic', () => {
  test('a plain number is one of its place', () => {
    expect(worked(2.5, 'mg/L')).toBe(2.5)
    expect(worked({ product: [2, 3] }, 'h')).toBe(6)
  })
  test('units are turned into that of the place', () => {
    expect(worked({ quantity: 2, unit: 'd' }, 'h')).toBeCloseTo(48, 10)
    expect(worked({ quantity: 3, unit: 'g/L' }, 'mg/L')).toBeCloseTo(3000, 8)
    expect(
      worked(
        {
          sum: [
            { quantity: 1, unit: 'h' },
            { quantity: 30, unit: 'min' },
          ],
        },
        'h',
      ),
    ).toBeCloseTo(1.5, 10)
  })
  test('a dose by the weight of the fish: 10 mg/kg for 250 g in 50 L is 0.05 mg/L', () => {
    const value = {
      quotient: [
        {
          product: [
            { quantity: 10, unit: 'mg/kg' },
            { param: 'fish', unit: 'g' },
          ],
        },
        { net: 'L' },
      ],
    }
    expect(worked(value, 'mg/L', { parameters: { fish: 250 }, netL: 50 })).toBeCloseTo(0.05, 10)
  })
  test('a rising dose, held at its most', () => {
    const value = {
      least: [
        { quantity: 1000, unit: 'mg/L' },
        { sum: [{ quantity: 600, unit: 'mg/L' }, { product: [{ quantity: 200, unit: 'mg/L' }, { count: 'salt' }] }] },
      ],
    }
    expect([0, 1, 2, 3].map((done) => worked(value, 'mg/L', { count: () => done }))).toEqual([600, 800, 1000, 1000])
  })
  test('the last reading and its trend', () => {
    const given = { reading: (_: string, hours: number) => (hours >= 72 ? 8 : null), trend: () => -0.5 }
    expect(worked({ difference: [{ quantity: 8.2, unit: '' }, { reading: 'ph' }] }, '', given)).toBeCloseTo(0.2, 10)
    expect(worked({ reading: 'ph', withinHours: 24 }, '', given)).toBeNull()
    // Half a milligram a day for two days.
    expect(
      worked(
        {
          product: [
            { trend: 'nitrate', overDays: 7 },
            { quantity: 2, unit: 'd' },
          ],
        },
        'mg/L',
        given,
      ),
    ).toBeCloseTo(-1, 10)
  })
  test('what nobody read is unknown, and so is all that hangs on it', () => {
    expect(worked({ sum: [1, { reading: 'nitrite' }] })).toBeNull()
    expect(worked({ quotient: [{ quantity: 1, unit: 'mg' }, { net: 'L' }] }, 'mg/L')).toBeNull()
    expect(worked({ quotient: [1, 0] })).toBeNull()
  })
})

/** A school that does not ship, as a keeper would type it. */
const PAGE = (aim: string, until: string) => `{
  "schemaVersion": 1,
  "id": "salt-rising",
  "title": "Salt in rising steps",
  "summary": "Tank salt, a little more each time, by the weight of the fish at most, until it is no longer needed.",
  "purpose": "treatment",
  "water": "fresh",
  "school": { "question": "How fast is salt raised?", "position": "By steps.", "tradeOff": "Slow.", "against": [] },
  "productRoles": [{ "id": "salt", "label": "Salt", "forms": ["salt-tank"] }],
  "instrumentRoles": [
    { "id": "thermometer", "label": "Thermometer", "analyte": "temperature" },
    { "id": "ammonia-test", "label": "Ammonia test", "analyte": "ammonia-total" }
  ],
  "variants": [{ "id": "usual", "title": "As written", "when": "Always.", "default": true }],
  "parameters": [{ "id": "fish", "label": "All fish together", "unit": "g", "min": 20, "max": 2000, "default": 60 }],
  "residents": "required",
  "phases": [
    {
      "id": "raise",
      "title": "Up",
      "typicalDays": 8,
      "rules": [
        { "kind": "test", "id": "warmth", "title": "Read the temperature", "role": "thermometer", "everyHours": 24 },
        { "kind": "test", "id": "ammonia", "title": "Test ammonia", "role": "ammonia-test", "everyHours": 24 },
        {
          "kind": "dose", "id": "salt", "title": "Salt", "role": "salt",
          "aim": ${aim},
          "times": 3, "everyDays": 2, "afterChange": true,
          "until": ${until}
        },
        { "kind": "change", "id": "fresh", "title": "Change a tenth", "fraction": 0.1, "everyDays": 3, "makeUp": false }
      ],
      "exit": { "kind": "all", "of": [{ "kind": "rules-done", "rules": ["salt"] }, { "kind": "elapsed", "hours": { "quantity": 7, "unit": "d" }, "since": "phase-start" }] }
    }
  ],
  "covers": ["nothing that is proved"],
  "misses": ["most things"],
  "warnings": [],
  "kit": [],
  "sources": [{ "text": "Made up for this test", "grade": "EST" }]
}`
const AIM = `{ "least": [ { "quotient": [ { "product": [ { "quantity": 500, "unit": "g/kg" }, { "param": "fish", "unit": "g" } ] }, { "net": "L" } ] }, { "sum": [ { "quantity": 200, "unit": "mg/L" }, { "product": [ { "quantity": 50, "unit": "mg/L" }, { "count": "salt" } ] } ] } ] }`
const NEVER = `{ "kind": "reading", "role": "thermometer", "atLeast": 45, "times": 2 }`
const CALM = `{ "kind": "reading", "role": "ammonia-test", "atMost": 0.25, "times": 2 }`

describe('faults on their lines', () => {
  const faultsOf = (text: string) => checkProtocolText(text).faults.filter(({ level }) => level === 'fault')
  const lineOf = (text: string, part: string) => text.slice(0, text.indexOf(part)).split('\n').length
  test('the page as written has none', () => expect(faultsOf(PAGE(AIM, NEVER))).toEqual([]))
  test.each([
    ['a time where a level belongs', '{ "quantity": 3, "unit": "h" }', /This is d, and mg\/L belongs here/],
    [
      'a sum of unlike things',
      '{ "sum": [{ "quantity": 1, "unit": "mg/L" }, { "quantity": 1, "unit": "h" }] }',
      /cannot stand in one sum/,
    ],
    ['a unit nobody knows', '{ "quantity": 3, "unit": "spoons" }', /“spoons” is no unit/],
    [
      'a rule that does not exist',
      '{ "product": [{ "quantity": 1, "unit": "mg/L" }, { "count": "sugar" }] }',
      /No rule is called “sugar”/,
    ],
    ['a parameter that does not exist', '{ "param": "mass" }', /No parameter is called “mass”/],
    [
      'a rise over the ceiling',
      '{ "sum": [{ "quantity": 3000, "unit": "mg/L" }, { "product": [{ "quantity": 1500, "unit": "mg/L" }, { "count": "salt" }] }] }',
      /6000 mg\/L is over the ceiling/,
    ],
  ] as const)('%s', (_what, aim, words) => {
    const text = PAGE(aim, NEVER)
    const [fault] = faultsOf(text)
    expect(fault?.message).toMatch(words)
    expect(fault?.line).toBe(lineOf(text, '"aim":'))
  })
  test('a repeat that waits for itself is a circle', () => {
    const text = PAGE(AIM, `{ "kind": "rules-done", "rules": ["salt"] }`)
    expect(faultsOf(text)).toMatchObject([
      { line: lineOf(text, '"until":'), message: expect.stringMatching(/a circle/) },
    ])
  })
  test('a way out on what nobody reads has no end', () => {
    const text = PAGE(AIM, CALM).replace(/\n *\{ "kind": "test", "id": "ammonia".*\n/, '\n')
    expect(faultsOf(text)).toMatchObject([
      { line: lineOf(text, '"until":'), message: expect.stringMatching(/No test reads “ammonia-test”/) },
    ])
  })
})

describe('lived', () => {
  const livedWith = (aim: string, until: string) => {
    const protocol = checkProtocolText(PAGE(aim, until)).protocol as Protocol
    return live({ protocol, keeper: KEEPERS.exact, seed: 3, messy: false, maxDays: 30 })
  }
  const doses = (record: ReturnType<typeof livedWith>['record'], rule: string) =>
    record.entries.filter(
      (entry): entry is DoseEntry => entry.kind === 'dose' && entry.step?.includes(`/${rule}/`) === true,
    )
  test('every dose is the one before and a quarter of the first; new water gets its share; then it ends', () => {
    const { record, violations, days } = livedWith(AIM, NEVER)
    expect(violations).toEqual([])
    expect(days).toBeLessThan(9)
    const [first, second, third, ...more] = doses(record, 'salt').map(({ amount }) => amount)
    expect(more).toEqual([])
    expect(second! / first!).toBeCloseTo(1.25, 1)
    expect(third! / first!).toBeCloseTo(1.5, 1)
    const changes = record.entries.filter(({ kind }) => kind === 'change').length
    expect(changes).toBeGreaterThan(1)
    expect(doses(record, 'salt-new')).toHaveLength(changes)
    expect(doses(record, 'salt-new')[0]!.amount / second!).toBeCloseTo(0.12, 1)
  })
  test('it is not repeated once two readings are calm', () => {
    const { record, violations, days } = livedWith(AIM, CALM)
    expect(violations).toEqual([])
    expect(days).not.toBeNull()
    expect(doses(record, 'salt').length).toBeLessThan(3)
  })
})
