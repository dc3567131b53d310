// Every kind of rule answers for itself: what may be pressed, what it takes, whether it may be left out.
import { describe, expect, test } from '@jest/globals'
import { limitOf, limitTables, looksLeft, mayLeaveOut, minutesOf, pressesOf, type Step } from '@brinvo/core'

const step = (fields: Partial<Step>): Step => ({
  key: 'c/rule/0',
  courseId: 'c',
  vesselId: 'v',
  ruleId: 'rule',
  kind: 'task',
  title: 'Wipe the glass',
  detail: '',
  state: 'due',
  dueMs: 0,
  fromMs: 0,
  untilMs: 1,
  ...fields,
})
const dose = { productId: 'bottle', amount: 3.5 } as Step['dose']

describe('presses', () => {
  test.each<[string, Partial<Step>, object[]]>([
    [
      'a pour with its amount',
      { kind: 'hold', ...(dose ? { dose } : {}) },
      [{ to: 'log', label: 'Done, log it', preset: { kind: 'dose', productId: 'bottle', amount: 3.5 } }],
    ],
    ['a pour without one', { kind: 'ramp' }, [{ to: 'log', label: 'Log a dose', preset: { kind: 'dose' } }]],
    [
      'a reading by its kit',
      { kind: 'test', test: { analyte: 'copper', role: 'k', instrumentId: 'kit' } },
      [{ to: 'log', preset: { kind: 'reading', analyte: 'copper', instrumentId: 'kit' } }],
    ],
    [
      'a change made up to the level',
      { kind: 'change', change: { fraction: 0.25, litres: 20, makeUp: { ...dose!, toMgPerL: 2.1 } } },
      [{ to: 'log', preset: { kind: 'change', fraction: 0.25, productId: 'bottle', replacementMgPerL: 2.1 } }],
    ],
    [
      'a question',
      { kind: 'gate', gate: 'water' },
      [{ to: 'write', label: 'Yes', drafts: [{ kind: 'gate', gate: 'water', passed: true }] }],
    ],
    [
      'a kit against a standard',
      { kind: 'gate', gate: 'standard-check', test: { analyte: 'copper', role: 'k', instrumentId: 'kit' } },
      [{ to: 'standard', label: 'Passed', instrumentId: 'kit' }],
    ],
    [
      'a thing taken out',
      { kind: 'equipment', equipment: { item: 'carbon', on: false } },
      [{ to: 'equipment', item: 'carbon', on: false }],
    ],
    [
      'a meal',
      { kind: 'feed' },
      [
        { drafts: [{ kind: 'meal', took: 'took' }] },
        { drafts: [{ kind: 'meal', took: 'tried' }] },
        { drafts: [{ kind: 'meal', took: 'ignored' }] },
      ],
    ],
    [
      'a quick look',
      {
        kind: 'check',
        check: {
          what: 'foot',
          answers: [
            { id: 'holds', label: 'It holds', tone: 'good' },
            { id: 'loose', label: 'Loose', tone: 'danger' },
          ],
        },
      },
      [
        {
          tone: 'good',
          said: 'Wipe the glass: it holds.',
          drafts: [{ kind: 'check', what: 'foot', answers: ['holds'] }],
        },
        { tone: 'danger', drafts: [{ answers: ['loose'] }] },
      ],
    ],
    [
      'something turned',
      { kind: 'setting' },
      [{ to: 'write', label: 'Set, log it', drafts: [{ kind: 'done', what: 'Wipe the glass' }] }],
    ],
    ['a task', {}, [{ to: 'write', label: 'Done', drafts: [{ kind: 'done' }] }]],
    [
      'a task with amounts',
      { steers: ['nitrate'] },
      [
        { to: 'page', page: 'steering' },
        { to: 'write', label: 'Done for today', drafts: [{ kind: 'done' }] },
      ],
    ],
    [
      'the causes',
      { ruleId: 'causes' },
      [
        { to: 'page', page: 'causes' },
        { to: 'write', label: 'Done' },
      ],
    ],
    ['a bath', { kind: 'bath' }, [{ to: 'page', page: 'bath' }]],
    ['a round', { kind: 'round' }, [{ to: 'page', page: 'round' }]],
    ['a spot treatment', { kind: 'spot' }, [{ to: 'page', page: 'spot' }]],
    ['an emergency', { kind: 'run' }, [{ to: 'page', page: 'run' }]],
    ['a bench session', { kind: 'bench' }, [{ to: 'page', page: 'bench' }]],
    ['a move', { kind: 'transfer' }, [{ to: 'page', page: 'transfer' }]],
    ['a count', { kind: 'tally' }, [{ to: 'page', page: 'tally' }]],
    [
      'watching',
      { kind: 'observe' },
      [
        { to: 'page', page: 'watch' },
        { to: 'write', drafts: [{ kind: 'done' }] },
      ],
    ],
    [
      'watching by its looks',
      { kind: 'observe', watch: { minutes: 10, looks: ['dawn'], left: ['torch', 'midday'] } },
      [
        { to: 'page', page: 'days' },
        { to: 'write', ofDay: true, drafts: [{ kind: 'done', watched: { look: 'torch', minutes: 10 } }] },
      ],
    ],
    [
      'a day that is over',
      { kind: 'observe', state: 'late', watch: { minutes: 10, looks: ['dawn'], left: ['torch'] } },
      [{ to: 'page', page: 'days' }],
    ],
  ])('%s', (_name, fields, presses) => {
    const found = pressesOf(step(fields))
    expect(found).toHaveLength(presses.length)
    expect(found).toMatchObject(presses)
  })
})

describe('what a step takes', () => {
  test('its own minutes before those usual for its kind', () => {
    expect(minutesOf(step({ kind: 'round' }))).toBe(75)
    expect(minutesOf(step({ kind: 'round', minutes: 20 }))).toBe(20)
    expect(minutesOf(step({ kind: 'equipment' }))).toBe(5)
  })
  test('only what can be missed without harm to the next step may be left out', () => {
    const kinds: Step['kind'][] = ['test', 'change', 'observe', 'feed', 'task', 'tally', 'round', 'spot', 'bench']
    const others: Step['kind'][] = [
      'gate',
      'ramp',
      'hold',
      'equipment',
      'dose',
      'bath',
      'transfer',
      'setting',
      'check',
      'run',
    ]
    for (const kind of kinds) expect([kind, mayLeaveOut(step({ kind }))]).toEqual([kind, true])
    for (const kind of others) expect([kind, mayLeaveOut(step({ kind }))]).toEqual([kind, false])
  })
})

describe('looks of the day', () => {
  test.each([
    [8, 'dawn'],
    [12, 'feeding'],
    [20, 'feeding'],
    [21, 'torch'],
    [23.5, 'torch'],
    [0.5, 'torch'],
    [4, 'dawn'],
  ])('at %p h', (hour, first) => expect(looksLeft([], hour)[0]!.id).toBe(first))
  test('what was taken is not offered again', () =>
    expect(looksLeft(['torch', 'dawn'], 23).map(({ id }) => id)).toEqual(['feeding', 'midday']))
})

describe('limits', () => {
  const all = limitTables.flatMap(({ limits }) => limits)
  test('each is named once and has a number and a source', () => {
    expect(new Set(all.map(({ id }) => id)).size).toBe(all.length)
    for (const { value, source } of all) {
      expect(Number.isFinite(value)).toBe(true)
      expect(source.text.length).toBeGreaterThan(1)
    }
  })
  test('free ammonia rises through its bands', () => {
    const bands = (['free-ammonia-watch', 'free-ammonia-today', 'free-ammonia-now'] as const).map(limitOf)
    expect(bands).toEqual([0.02, 0.05, 0.2])
  })
})
