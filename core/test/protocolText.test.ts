// A protocol as text: the library has no fault, every kind of fault is found on its line, and the calendar follows.
import { describe, expect, test } from '@jest/globals'
import {
  causes,
  conditionOf,
  conditions,
  correctionOf,
  hazardOf,
  protocolCalendar,
  protocolLibrary,
  protocolOf,
} from '@brinvo/core'
import { checkProtocolText, editProtocolText, isShippedId } from '@brinvo/core/file'

const text = (protocol: unknown) => JSON.stringify(protocol, null, 2)
type Path = (string | number)[]
/** A shipped protocol with values changed at their places (undefined takes one out), checked. */
const checked = (id: string, ...changes: readonly (readonly [Path, unknown])[]) => {
  const written = changes.reduce((before, [path, value]) => editProtocolText(before, path, value), text(protocolOf(id)))
  return { ...checkProtocolText(written), lines: written.split('\n') }
}
const RULE = (phase: number, rule: number, ...rest: Path): Path => ['phases', phase, 'rules', rule, ...rest]

describe('the shipped library', () => {
  test.each(protocolLibrary.map((protocol) => [protocol.id, protocol] as const))('%s has no fault', (_id, protocol) => {
    const { faults, protocol: passed } = checkProtocolText(text(protocol))
    expect(faults).toEqual([])
    expect(passed).toEqual(protocol)
  })
})

describe('what a protocol says it does, it does', () => {
  const all = protocolLibrary.flatMap((protocol) =>
    protocol.phases.flatMap(({ rules }) => rules.map((rule) => [`${protocol.id}/${rule.id}`, rule] as const)),
  )
  test('where replaced water is redosed, a change asks for its share', () => {
    const said = all.filter(([, rule]) => 'text' in rule && /replaced water is redosed/.test(rule.text ?? ''))
    expect(said.map(([id]) => id)).toEqual(['chloroquine-30/dose'])
    for (const [, rule] of said) expect(rule).toMatchObject({ kind: 'dose', afterChange: true })
  })
})

describe('faults', () => {
  const PRAZI = 'praziquantel-twice'
  const PEROXIDE = 'peroxide-bath-twice'
  const cases: readonly (readonly [string, string, Path, unknown, RegExp, RegExp])[] = [
    ['a dose over its ceiling', PRAZI, RULE(0, 3, 'aim'), 6, /over the ceiling of 5 mg\/L/, /"aim": 6/],
    ['a dose above the band', PRAZI, RULE(0, 3, 'aim'), 4, /alarm, not target/, /"aim": 4/],
    ['a dose with no ceiling', PRAZI, ['productRoles', 0, 'forms', 0], 'moon-dust', /no ceiling is known/, /moon-dust/],
    ['a missing unit', PEROXIDE, ['parameters', 0, 'unit'], undefined, /lacks “unit”/, /\{/],
    ['an unknown word', PRAZI, ['colour'], 'red', /knows nothing called “colour”/, /\{/],
    [
      'a phase that is never left',
      PRAZI,
      ['phases', 0, 'exit', 'rules', 0],
      'clean-water',
      /never reached/,
      /clean-water/,
    ],
    ['a circle', PRAZI, ['phases', 0, 'exit', 'rules', 0], 'dip-check', /a circle/, /dip-check/],
    ['a rule that never ends', PRAZI, ['phases', 0, 'exit', 'rules', 0], 'feed', /never ends by itself/, /"feed"/],
    [
      'hours without a clock',
      PRAZI,
      ['phases', 0, 'exit'],
      { kind: 'clock-credited', hours: 24 },
      /this protocol has none/,
      /\{/,
    ],
    [
      'a question that is none',
      PRAZI,
      ['phases', 0, 'exit'],
      { kind: 'gates-passed', gates: ['feed'] },
      /is not a question/,
      /"feed"/,
    ],
    [
      'a level nobody raises',
      PRAZI,
      ['phases', 0, 'exit'],
      { kind: 'ramp-done', rule: 'feed' },
      /does not raise a level/,
      /"feed"/,
    ],
    [
      'a reading of no kit',
      PRAZI,
      ['phases', 0, 'exit'],
      { kind: 'reading', role: 'nose', atMost: 1 },
      /No kit is called “nose”/,
      /"nose"/,
    ],
    ['two rules of one name', PRAZI, RULE(0, 5, 'id'), 'watch', /Two rules are called “watch”/, /"watch"/],
    ['two phases of one name', PRAZI, ['phases', 1, 'id'], 'doses', /Two phases are called “doses”/, /"doses"/],
    ['a bottle nobody named', PRAZI, RULE(0, 3, 'role'), 'wine', /No bottle is called “wine”/, /"wine"/],
    ['a kit nobody named', PRAZI, RULE(0, 6, 'role'), 'nose', /No kit is called “nose”/, /"nose"/],
    ['a parameter nobody named', PEROXIDE, RULE(0, 0, 'aim'), { param: 'mood' }, /No parameter is called “mood”/, /\{/],
    ['minutes that fall', PEROXIDE, RULE(0, 0, 'minutes', 'min'), 40, /minutes must rise/, /minutes/],
    ['baths without hours between', PEROXIDE, RULE(0, 0, 'everyHours'), undefined, /how many hours apart/, /"times"/],
    ['doses without days between', PRAZI, RULE(0, 3, 'everyDays'), undefined, /how many days apart/, /"times"/],
    [
      'a bath agent in the tank',
      PEROXIDE,
      ['productRoles', 0, 'forms', 0],
      'praziquantel',
      /for the tank: this rule uses it otherwise/,
      /"peroxide"/,
    ],
    ['a level of nothing', PEROXIDE, RULE(0, 0, 'role'), undefined, /no bottle is named/, /aim/],
    ['a usual value outside its limits', PEROXIDE, ['parameters', 0, 'default'], 500, /outside 50 to 150/, /500/],
    ['limits that fall', PEROXIDE, ['parameters', 0, 'min'], 500, /least value is above/, /500/],
    ['too much in food', 'metronidazole-food-5', RULE(1, 0, 'mix', 'mgPerKg'), 150, /over the ceiling of 100/, /150/],
    [
      'a drug for the water in food',
      'metronidazole-food-5',
      ['productRoles', 0, 'forms', 0],
      'metronidazole-tank',
      /is not for food/,
      /"drug"/,
    ],
    ['a move without a vessel', 'tank-transfer-72', ['vesselRoles'], undefined, /needs a second vessel/, /\{/],
    [
      'two defaults',
      PRAZI,
      ['variants', 1],
      { id: 'other', title: 'Other', when: 'Now.', default: true },
      /one variant must be the default/,
      /\[|variants/,
    ],
    [
      'a clock that waits for no dose',
      'jar-fenbendazole-planaria',
      ['phases', 1, 'rules', 1, 'afterDose'],
      'look',
      /no dose of this phase/,
      /"look"/,
    ],
    ['a clock of no bottle', 'copper-in-place-30', ['clock', 'role'], 'wine', /no bottle of this protocol/, /"wine"/],
    [
      'a setting of no parameter',
      'salinity-steps',
      RULE(0, 0, 'from'),
      'mood',
      /No parameter is called “mood”/,
      /"mood"/,
    ],
  ]
  test.each(cases)('%s', (_name, id, path, value, words, line) => {
    const { faults, protocol, lines } = checked(id, [path, value])
    expect(protocol).toBeNull()
    const found = faults.find(({ message }) => words.test(message))
    expect([faults.map(({ message }) => message), found !== undefined]).toEqual([expect.anything(), true])
    expect(lines[found!.line - 1]).toMatch(line)
  })
  test('a doubt does not stop it', () => {
    const { faults, protocol } = checked(PEROXIDE, [RULE(0, 0, 'everyHours'), 12])
    expect(faults).toEqual([expect.objectContaining({ level: 'doubt', message: expect.stringMatching(/24 hours/) })])
    expect(protocol).not.toBeNull()
  })
  test('work that time alone takes away is doubted; asked for in the exit it is not', () => {
    const hours = { kind: 'elapsed', hours: 120, since: 'phase-start' }
    const told = (...exit: readonly [Path, unknown]) =>
      checked('methylene-blue-tank', exit).faults.map(({ level, message }) => [level, message])
    const doubt = ['doubt', expect.stringMatching(/is gone when the phase is over, done or not/)]
    expect(told(['phases', 1, 'exit'], hours)).toEqual([doubt])
    const done = { kind: 'rules-done', rules: ['blue'] }
    expect(told(['phases', 1, 'exit'], { kind: 'any', of: [hours, done] })).toEqual([doubt])
    expect(told(['phases', 1, 'exit'], { kind: 'all', of: [hours, done] })).toEqual([])
  })
  test.each([
    ['', 1, /value is missing/],
    ['{\n  "id": "a"\n  "title": 3\n}', 3, /comma belongs/],
    ['{\n  "id": "a",\n}', 3, /name in quotes/],
    ['{\n  "id" "a"\n}', 2, /colon/],
    ['{ "id": "a"', 1, /closing }/],
    ['{"id":1} more', 1, /ends before this|neither text/],
  ])('broken text %j is told at its line', (broken, line, words) => {
    const { faults, protocol } = checkProtocolText(broken)
    expect(protocol).toBeNull()
    expect(faults[0]).toMatchObject({ line, message: expect.stringMatching(words) })
  })
  test('the place of a fault is the place in the text', () => {
    const { faults, lines } = checked(PRAZI, [RULE(0, 3, 'aim'), 6])
    const { offset, length, line, column } = faults[0]!
    expect(lines.join('\n').slice(offset, offset + length)).toBe('6')
    expect(lines[line - 1]!.slice(column - 1)).toMatch(/^6/)
  })
  test('the library’s own names are known', () => {
    expect(isShippedId('praziquantel-twice')).toBe(true)
    expect(isShippedId('my-own')).toBe(false)
  })
})

describe('the calendar', () => {
  test('lays doses, baths, moves and settings on their days', () => {
    const days = (id: string, rule: string) =>
      protocolCalendar(protocolOf(id)!)
        .items.filter(({ ruleId }) => ruleId === rule)
        .map(({ day }) => day)
    expect(days('praziquantel-twice', 'praziquantel')).toEqual([0, 8])
    expect(days('peroxide-bath-twice', 'bath')).toEqual([0, 6])
    expect(days('tank-transfer-36', 'transfer').slice(0, 2)).toEqual([1.5, 3])
    expect(days('hyposalinity-30', 'down')).toEqual([0, 0.5, 1, 1.5, 2])
    expect(days('heat-salt-10', 'salt')).toEqual([0, 0.5, 1])
  })
  test.each(protocolLibrary.map((protocol) => [protocol.id, protocol] as const))(
    '%s fits into its days',
    (_id, protocol) => {
      const calendar = protocolCalendar(protocol)
      expect(calendar.days).toBeCloseTo(
        protocol.phases.reduce((sum, { typicalDays }) => sum + typicalDays, 0),
        9,
      )
      expect(calendar.items.length + calendar.daily.length).toBeGreaterThan(0)
      for (const { day } of calendar.items) expect(day).toBeGreaterThanOrEqual(0)
      const days = calendar.items.map(({ day }) => day)
      expect(days).toEqual([...days].sort((a, b) => a - b))
    },
  )
})

describe('campaigns held against sense', () => {
  const slugs = (...changes: readonly (readonly [Path, unknown])[]) =>
    checked('rounds-montipora-slug', ...changes)
      .faults.map(({ message }) => message)
      .join(' ')
  test.each([
    ['a measure nobody declared', RULE(0, 0, 'measure'), 'worms', /No measure is called “worms”/],
    ['a pest without stages', ['campaign', 'pest'], 'sea-monster', /No life stages are written for “sea-monster”/],
    ['a field that is not there', ['campaign', 'measures', 0, 'value', 'fields'], ['legs'], /no field called “legs”/],
    ['no campaign part', ['campaign'], undefined, /A campaign needs its “campaign” part/],
    ['an exit that waits for no round', ['phases', 0, 'exit', 'rule'], 'night', /“night” is no round/],
    ['guards of a phase that never comes', ['campaign', 'guardedPhases'], ['dusk'], /No phase is called “dusk”/],
    ['a way nobody has', RULE(0, 0, 'onlyFor'), ['other'], /No way is called “other”/],
    ['a bottle for the tank in a dip', ['productRoles', 0, 'forms'], ['praziquantel'], /is for the tank: this rule/],
  ] as const)('%s', (_what, path, value, message) => {
    expect(slugs([path as Path, value])).toMatch(message)
  })
  test('a band “done” that does not exist can never be reached', () => {
    const faults = slugs(
      [['phases', 1, 'exit', 'kind'], 'tally-done'],
      [['campaign', 'measures', 0, 'done'], undefined],
    )
    expect(faults).toMatch(/has no band “done”, so this can never be fulfilled/)
  })
  test('every campaign names its odds, its hazards or none, and conditions that exist', () => {
    const campaigns = protocolLibrary.filter(({ campaign }) => campaign)
    expect(campaigns.length).toBeGreaterThan(30)
    for (const { id, campaign, purpose } of campaigns) {
      expect([id, purpose]).toEqual([id, 'campaign'])
      expect(campaign!.odds).toBeGreaterThan(0)
      for (const target of campaign!.targets)
        expect([id, target, conditionOf(target) !== undefined]).toEqual([id, target, true])
      for (const hazard of campaign!.hazards ?? []) expect(hazardOf(hazard)).toBeDefined()
      for (const cause of campaign!.causes ?? []) expect(causes.map(({ id: known }) => known)).toContain(cause)
      for (const correction of campaign!.corrections ?? []) expect(correctionOf(correction)).toBeDefined()
    }
  })
  test('every condition that names a course names one that exists, and pests and films have one', () => {
    for (const { id, courses } of conditions)
      for (const course of courses) expect([id, course, protocolOf(course)?.id]).toEqual([id, course, course])
    for (const id of [
      'montipora-nudibranch',
      'glass-anemone',
      'planaria-freshwater',
      'ostreopsis',
      'black-brush-algae',
      'brown-jelly',
    ])
      expect(conditionOf(id)!.courses.length).toBeGreaterThan(0)
  })
})
