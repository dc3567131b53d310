// What lives showed, by hand: steps that must stand, hours that must be earned, verdicts that need a count.
import { describe, expect, test } from '@jest/globals'
import {
  activeOf,
  campaignState,
  checkedWords,
  gatePieces,
  planCourse,
  protocolOf,
  recordOf,
  documentsOf,
  instantOf,
  waterConcerns,
  type CourseDocument,
  type CoursePlan,
  type Entry,
  type KeeperRecord,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { courseDocument, entryAt, ZONE } from './entries.ts'

const START = Date.parse('2026-05-01T08:00:00Z')
const HOUR = 3_600_000
const DAY = 24 * HOUR
const demo = demoRecord({ seed: 7, anchorMs: START, zone: ZONE })
const base = documentsOf(demo).filter(({ register }) => register !== 'course')

/** A course in Holding B with entries at hours since its start. */
function scene(
  protocolId: string,
  entries: readonly (readonly [number, object])[],
  products: Record<string, string> = {},
) {
  const course: CourseDocument = courseDocument('c', {
    protocol: protocolOf(protocolId)!,
    vesselId: 'holding-b',
    startMs: START,
    zone: ZONE,
    residents: ['gramma'],
    dailyHour: 19,
    products,
  })
  const made = entries.map(([h, fields]) =>
    entryAt(START + h * HOUR, { vesselId: 'holding-b', courseId: 'c', ...fields }),
  ) as Entry[]
  const bottle = {
    register: 'product' as const,
    id: 'powder',
    revision: 1,
    savedAt: instantOf(START - DAY),
    history: [],
    body: {
      name: 'Powder',
      form: 'praziquantel',
      strength: { basis: 'powder' as const, mgPerG: 1000 },
      confirmedAt: instantOf(START - DAY),
    },
  }
  // Corals are taken in without a fish among them: with one nothing counts.
  const taken = (document: (typeof base)[number]) =>
    protocolId.startsWith('coral-intake') && document.register === 'resident' && document.body.vesselId === 'holding-b'
      ? { ...document, body: { ...document.body, vesselId: 'longshore' } }
      : document
  const record = recordOf(demo.settings, [...base.map(taken), bottle, course] as never, made)
  const at = (h: number) => {
    const active = activeOf(record.entries)
    const nowMs = START + h * HOUR
    return { record, active, nowMs, course, plan: planCourse(course, { record, active, estimates: new Map(), nowMs }) }
  }
  return { record, course, at }
}
const step = (found: ReturnType<ReturnType<typeof scene>['at']>, ruleId: string, occurrence = 0) =>
  found.plan.steps.find(({ key }) => key === `c/${ruleId}/${occurrence}`)

describe('tasks that are done once (L1)', () => {
  test('thirteen dips of a coral intake stand on their own hours, and wait until they are done or left out', () => {
    const { at } = scene('coral-intake-70-dips', [])
    const rule = protocolOf('coral-intake-70-dips')!.phases[0]!.rules.find(({ kind }) => kind === 'bench')
    // Handbook 40.9, qt-70-dips.
    const days = [0, 4, 8, 12, 16, 20, 27, 34, 41, 48, 55, 62, 69]
    expect(rule).toMatchObject({ id: 'dip', days })
    for (const [i, day] of days.entries()) {
      const state = (hours: number) => step(at(day * 24 + hours), 'dip', i)?.state
      // A day before its time it is ahead, on it due, two days after late, and a week after still there.
      expect([day, state(-24) ?? 'ahead']).toEqual([day, 'ahead'])
      expect([day, state(1), state(49), state(7 * 24)]).toEqual([day, 'due', 'late', 'late'])
    }
  })
  test('one that was done is done, one that was left out in words is left out', () => {
    const { at } = scene('coral-intake-70-dips', [
      [2, { kind: 'done', step: 'c/dip/0', what: 'Dipped' }],
      [100, { kind: 'skip', step: 'c/dip/1', reason: 'It looked torn' }],
    ])
    expect(step(at(200), 'dip', 0)!.state).toBe('done')
    expect(step(at(200), 'dip', 1)!.state).toBe('skipped')
  })
})

describe('what comes after a dose', () => {
  const ready = [1, { kind: 'gate', gate: 'jars', passed: true }] as const
  const out = [1, { kind: 'done', step: 'c/evacuate/0', what: 'Snails out' }] as const
  const carbon = [1, { kind: 'equipment', item: 'carbon', on: false }] as const
  const pour = (h: number) =>
    [
      h,
      { kind: 'dose', productId: 'powder', form: 'fenbendazole-shrimp', amount: 0.1, unit: 'g', step: 'c/dose/0' },
    ] as const
  const at = (entries: readonly (readonly [number, object])[], h: number) =>
    scene('jar-fenbendazole-planaria', [out, carbon, ...entries], { wormer: 'powder' }).at(h)
  const looks = (found: ReturnType<typeof at>) =>
    found.plan.steps.filter(({ ruleId, state }) => ruleId === 'look' && state !== 'done')
  const hoursOf = (found: ReturnType<typeof at>) => looks(found).map(({ dueMs }) => (dueMs - START) / HOUR)
  test('poured a day late, jars are looked at 1, 3, 6, 12 and 24 hours after the pouring, not after the day it was meant for', () => {
    // The protocol writes shares of a day: 0.04, 0.125, 0.25, 0.5, 1.
    expect(hoursOf(at([ready, pour(30)], 30.5)).slice(0, 4)).toEqual(
      [0.96, 3, 6, 12].map((h) => expect.closeTo(30 + h, 6)),
    )
  })
  test('before the pouring nothing of it is due, however late; neither the half change nor its dose is offered', () => {
    const waiting = at([ready], 29)
    expect(step(waiting, 'dose')!.state).toBe('late')
    for (const { ruleId, state } of waiting.plan.steps.filter(({ ruleId: id }) =>
      ['look', 'half', 'redose'].includes(id),
    ))
      expect([ruleId, state]).toEqual([ruleId, 'ahead'])
    const poured = at([ready, pour(30)], 30 + 24.5)
    expect(['due', 'late']).toContain(step(poured, 'half')!.state)
    expect(step(poured, 'half')!.dueMs).toBe(START + 54 * HOUR)
  })
  test('a later dose of the same rule is not said to lack the volume', () => {
    const details = at([ready, pour(2)], 27).plan.steps.filter(({ ruleId }) => ruleId === 'redose')
    expect(details.length).toBeGreaterThan(1)
    for (const { detail } of details) expect(detail).not.toMatch(/net volume is not known/)
  })
})

describe('the gate of an intake', () => {
  /** Looks at pieces: hours, piece, animals found. */
  const looks = (...seen: readonly (readonly [number, string, number])[]) =>
    seen.map(
      ([h, piece, mobiles], i) =>
        [
          h,
          {
            kind: 'done',
            step: `c/dip/0/${i}`,
            what: piece,
            bench: { piece, act: 'stage', stage: 'count', air: 'small-polyp', finds: { mobiles, eggs: 0 } },
          },
        ] as const,
    )
  const clean = (piece: string, ...days: number[]) => looks(...days.map((day) => [day * 24 + 1, piece, 0] as const))
  /** A look at the thermometer on every day: the short school counts warm days and no others. */
  const warm = (days: number, celsius: (day: number) => number | null = () => 27.2) =>
    Array.from({ length: days }, (_, day) => day).flatMap((day) => {
      const value = celsius(day)
      return value === null
        ? []
        : [[day * 24 + 2, { kind: 'reading', analyte: 'temperature', value, unit: '°C' }] as const]
    })
  const at = (entries: readonly (readonly [number, object])[], day: number, readings = warm(day)) =>
    scene(
      'coral-intake-45',
      [
        ...entries.map(([h, one], i) => [h, { ...one, ...('step' in one ? { step: `c/dip/0/${i}` } : {}) }] as const),
        ...readings,
      ].sort(([a], [b]) => a - b),
    ).at(day * 24)
  const pieces = (found: ReturnType<typeof at>) =>
    gatePieces(found.record, found.active, found.course, 'dip', found.nowMs).map(({ name, clean: run, suspect }) => [
      name,
      run,
      suspect,
    ])
  const phase = (found: ReturnType<typeof at>) => found.plan.progress.current
  test('looks in a row are counted from the last find; one that was found on is suspect until a clean look', () => {
    const seen = looks([1, 'plate', 0], [100, 'plate', 2], [200, 'plate', 0], [300, 'plate', 0])
    expect(pieces(at(seen, 4.5))).toEqual([['plate', 0, true]])
    expect(pieces(at(seen, 20))).toEqual([['plate', 2, false]])
  })
  test('what was found at the bench of another course says nothing here', () => {
    const elsewhere = looks([1, 'plate', 3]).map(
      ([h, one]) => [h, { ...one, courseId: 'b', step: 'b/dip/0/0' }] as const,
    )
    const found = scene('coral-intake-45', [...elsewhere, ...looks([2, 'arch', 0])]).at(24)
    expect(pieces(found)).toEqual([['arch', 1, false]])
  })
  test('forty-five days alone open nothing; three clean looks of every piece do, with the days', () => {
    expect(phase(at([], 50))).toBe(0)
    const one = clean('plate', 0, 4, 8)
    expect(phase(at(one, 44))).toBe(0)
    expect(phase(at(one, 46))).toBe(1)
    expect(phase(at([...one, ...clean('branch', 8, 12)], 46))).toBe(0)
    expect(phase(at([...one, ...clean('branch', 8, 12, 16)], 46))).toBe(1)
    expect(phase(at([...one, ...looks([20 * 24, 'plate', 1])], 46))).toBe(0)
  })
  test('the short school asks 27 °C on every day; a colder one begins anew, and seventy-six days need none', () => {
    const one = clean('plate', 0, 4, 8)
    expect(phase(at(one, 50, []))).toBe(0)
    expect(
      phase(
        at(
          one,
          46,
          warm(46, (day) => (day === 30 ? 26.9 : 27)),
        ),
      ),
    ).toBe(0)
    expect(
      phase(
        at(
          one,
          46,
          warm(46, (day) => (day === 30 ? null : 27)),
        ),
      ),
    ).toBe(1)
    expect(
      phase(
        at(
          one,
          45,
          warm(45, (day) => (day === 30 ? null : 27)),
        ),
      ),
    ).toBe(0)
    expect(phase(at(one, 75.9, []))).toBe(0)
    expect(phase(at(one, 76.1, []))).toBe(1)
  })
  test('a piece that was broken off for good no longer holds the others', () => {
    const sent = [
      [21 * 24, { kind: 'done', step: 'x', what: 'sent back', bench: { piece: 'branch', act: 'abort' } }],
    ] as const
    const both = [...clean('plate', 0, 4, 8), ...looks([20 * 24, 'branch', 3])]
    expect(phase(at(both, 46))).toBe(0)
    expect(phase(at([...both, ...sent], 46))).toBe(1)
  })
  test('after the written days it goes on weekly while a piece is not clean', () => {
    const session = (i: number, day: number) => [day * 24, { kind: 'done', step: `c/dip/${i}`, what: 'x' }] as const
    const days = [0, 4, 8, 12, 16, 20]
    const { plan } = scene(
      'coral-intake-45',
      days.map((day, i) => session(i, day)),
    ).at(30 * 24)
    expect(
      plan.steps
        .filter(({ ruleId }) => ruleId === 'dip')
        .map(({ dueMs, state }) => [(dueMs - START) / DAY, state])
        .slice(-2),
    ).toEqual([
      [20, 'done'],
      [24, 'late'],
    ])
  })
})

describe('tasks that come again', () => {
  test('a weekly one stands its whole week, and a day more', () => {
    const { at } = scene('rounds-acropora-flatworm', [])
    const rule = protocolOf('rounds-acropora-flatworm')!.phases[0]!.rules.find(
      (one) => one.kind === 'task' && one.everyDays === 7,
    )!
    // From day 3 on: the second of its weeks runs from day 7 to day 14.
    const states = [8, 10, 11, 13].map((day) => [day, step(at(day * 24), rule.id, 1)?.state])
    expect(states).toEqual([8, 10, 11, 13].map((day) => [day, 'due']))
    expect(step(at(14.5 * 24), rule.id, 1)?.state).toBe('late')
  })
  test('the last of a daily series is late for a day, not gone', () => {
    const { at } = scene('husband-cyanobacteria', [])
    const rule = protocolOf('husband-cyanobacteria')!.phases[0]!.rules.find(({ id }) => id === 'peel')!
    if (rule.kind !== 'task') throw new Error('no task')
    const last = rule.untilDay!
    expect(step(at((last + 1) * 24), rule.id, last)?.state).toBe('late')
    expect(step(at((last - 3) * 24), rule.id, last - 4)).toBeUndefined()
  })
})

/** What takes a wormer up or breaks it down, said to be out of the water. */
const lamps = ['skimmer', 'uv'].map((item) => [0.1, { kind: 'equipment', item, on: false }] as const)
test('an amount that the water refuses is not offered: with carbon at work the dose waits, and says for what', () => {
  const carbon = (on: boolean) => [0.2, { kind: 'equipment', item: 'carbon', on }] as const
  const products = { dewormer: 'powder' }
  const dose = (on: boolean) =>
    step(scene('praziquantel-twice', [...lamps, carbon(on)], products).at(1), 'praziquantel')!
  expect(dose(true)).toMatchObject({
    state: 'waiting',
    detail: expect.stringMatching(/^First: Carbon is still at work/),
  })
  expect(dose(true).dose).toBeUndefined()
  expect(dose(false)).toMatchObject({ state: 'due', dose: { unit: 'g' } })
})

test('a dose waits for what is to stand ready beside the tank, and for no rhythm of the day (decision 0039)', () => {
  const empty = [0.1, { kind: 'gate', gate: 'empty', passed: true }] as const
  const done = (id: string) => [0.2, { kind: 'done', step: `c/${id}/0`, what: 'Ready' }] as const
  const pour = (...entries: (readonly [number, object])[]) =>
    step(scene('peroxide-empty-fresh', [empty, ...entries], { peroxide: 'powder' }).at(1), 'pour')!
  expect(pour()).toMatchObject({ state: 'waiting', detail: expect.stringMatching(/^First: .*; /) })
  expect(pour(done('bucket'))).toMatchObject({ state: 'waiting' })
  expect(pour(done('bucket'), done('water-ready')).detail).not.toMatch(/^First: /)
  // Left out in words is answered, too.
  const skipped = ['bucket', 'water-ready'].map(
    (id) => [0.2, { kind: 'skip', step: `c/${id}/0`, reason: 'It stands there since yesterday' }] as const,
  )
  expect(pour(...skipped).detail).not.toMatch(/^First: /)
})

test('what was acted on is not taken back: after a step of the next phase the course does not fall behind it', () => {
  const gates = ['media-out', 'no-invertebrates', 'baseline', 'reserve'].map(
    (gate) => [0.1, { kind: 'gate', gate, passed: true }] as const,
  )
  const phaseAt = (entries: readonly (readonly [number, object])[]) =>
    scene('copper-in-place-30', [...gates, ...entries]).at(60).plan.progress.current
  // Nobody ever dosed: it stands in the ramp. With the copper already being taken out it stands there.
  expect(phaseAt([])).toBe(1)
  const carbon = { kind: 'equipment', item: 'carbon', on: true, step: 'c/carbon-in/0' }
  expect(phaseAt([[50, carbon]])).toBe(3)
  // Without the step it is a thing of its own.
  expect(phaseAt([[50, { kind: 'equipment', item: 'carbon', on: true }]])).toBe(1)
})

test('media that nobody ever wrote down are asked for, once (L5)', () => {
  const { at } = scene('praziquantel-twice', [])
  const asked = step(at(1), 'carbon-out')!
  expect(asked.state).toBe('due')
  expect(asked.detail).toMatch(/does not say/)
  const told = scene('praziquantel-twice', [[1, { kind: 'equipment', item: 'carbon', on: false }]])
  expect(step(told.at(2), 'carbon-out')!.state).toBe('done')
})

test('the half change comes three days after the dose as a step, and the second dose waits for it (L3)', () => {
  const poured = [1, { kind: 'dose', productId: 'powder', amount: 0.1, unit: 'g', step: 'c/praziquantel/0' }] as const
  const carbon = [0.2, { kind: 'equipment', item: 'carbon', on: false }] as const
  const { at } = scene('praziquantel-twice', [poured], { dewormer: 'powder' })
  const change = (h: number) => at(h).plan.steps.find(({ key }) => key === 'c/praziquantel-change/1')
  expect(change(60)!.state).toBe('ahead')
  expect(change(74)).toMatchObject({ state: 'due', kind: 'change', change: { fraction: 0.5 } })
  // Day nine: the dose is due and waits.
  expect(at(9 * 24).plan.steps.find(({ key }) => key === 'c/praziquantel/1')!.state).toBe('waiting')
  const changed = scene('praziquantel-twice', [...lamps, carbon, poured, [80, { kind: 'change', fraction: 0.5 }]], {
    dewormer: 'powder',
  })
  expect(changed.at(81).plan.steps.some(({ key }) => key === 'c/praziquantel-change/1')).toBe(false)
  const second = changed.at(9 * 24).plan.steps.find(({ key }) => key === 'c/praziquantel/1')!
  expect([second.state, second.dose !== undefined]).toEqual(['due', true])
})

describe('hours that are held (L7)', () => {
  const salt = (h: number, value: number) =>
    [h, { kind: 'reading', analyte: 'salinity', value, unit: 'PSU', bound: 'exact' }] as const
  const settings = protocolOf('hyposalinity-30')!.phases[0]!.rules.find(({ kind }) => kind === 'setting')!
  /** All steps down are done in the first hours. */
  const down = [0, 1, 2, 3, 4, 5, 6, 7].map(
    (i) => [1 + i / 10, { kind: 'done', step: `c/${settings.id}/${i}`, what: 'Down' }] as const,
  )
  const watched = Array.from({ length: 60 }, (_, day) =>
    ['dawn', 'feeding', 'torch'].map(
      (look, i) => [day * 24 + 3 + i * 3, { kind: 'done', what: 'Looked', watched: { look, minutes: 12 } }] as const,
    ),
  ).flat()
  const phase = (readings: readonly (readonly [number, object])[], h: number) => {
    const { plan } = scene('hyposalinity-30', [...down, ...watched, ...readings]).at(h)
    return plan.progress.phases[plan.progress.current ?? 99]?.phase.id ?? 'over'
  }
  const daily = (value: (day: number) => number, days: number) =>
    Array.from({ length: days }, (_, day) => salt(2 + day * 24, value(day)))
  test('thirty days read at 12 are over; thirty-three read at 20 are not begun', () => {
    expect(
      phase(
        daily(() => 12, 34),
        33 * 24,
      ),
    ).toBe('up')
    expect(
      phase(
        daily(() => 20, 34),
        33 * 24,
      ),
    ).toBe('hold')
  })
  describe('read outside, it is brought back', () => {
    // The last step down was done at 1.7 h.
    const back = (...readings: (readonly [number, object])[]) =>
      scene('hyposalinity-30', [...down, ...watched, ...readings])
        .at(6)
        .plan.steps.filter(({ key }) => key.startsWith('c/hold-back/'))
        .map(({ state, detail }) => [state, detail.replace(/ First.*? right\./, '')])
    test('what was read before the water was turned, or before it had mixed, calls for nothing', () => {
      expect(back(salt(1.6, 17))).toEqual([])
      expect(back(salt(1.7, 17))).toEqual([])
      expect(back(salt(1.7 + 0.4, 17))).toEqual([])
      expect(back(salt(1.7 + 0.6, 17))).toMatchObject([['due', expect.stringMatching(/up to 13 PSU.*fresh water/)]])
    })
    test('above 13 it is thinned, between the lines it is left, below 10.5 salt goes in at once', () => {
      expect(back(salt(4, 13.1))).toMatchObject([
        ['due', expect.stringMatching(/^Read: 13\.1 PSU\. Hours count up to/)],
      ])
      expect(back(salt(4, 13))).toEqual([])
      expect(back(salt(4, 10.5))).toEqual([])
      expect(back(salt(4, 10.4))).toMatchObject([
        ['due', expect.stringMatching(/Below 10\.5 PSU the animals do not bear it\..*salt/)],
      ])
    })
    test('done, it is asked again only by a reading of the mixed water', () => {
      const done = [5, { kind: 'done', step: 'c/hold-back/0', what: 'Back' }] as const
      expect(back(salt(4, 15), done)).toMatchObject([['done', 'Done.']])
      expect(back(salt(4, 15), done, salt(5.2, 14))).toMatchObject([['done', 'Done.']])
      expect(back(salt(4, 15), done, salt(5.6, 14))).toMatchObject([
        ['done', 'Done.'],
        ['due', expect.stringMatching(/^Read: 14 PSU/)],
      ])
    })
    test('hours below the line of the animals still count', () => {
      expect(
        phase(
          daily((day) => (day === 20 ? 10 : 12), 34),
          33 * 24,
        ),
      ).toBe('up')
    })
  })
  test('one reading of 13.1 on day 20 starts it again; 13 does not', () => {
    expect(
      phase(
        daily((day) => (day === 20 ? 13 : 12), 34),
        33 * 24,
      ),
    ).toBe('up')
    expect(
      phase(
        daily((day) => (day === 20 ? 13.1 : 12), 60),
        33 * 24,
      ),
    ).toBe('hold')
    // Day 21 plus thirty days.
    expect(
      phase(
        daily((day) => (day === 20 ? 13.1 : 12), 60),
        50 * 24,
      ),
    ).toBe('hold')
    expect(
      phase(
        daily((day) => (day === 20 ? 13.1 : 12), 60),
        52 * 24,
      ),
    ).toBe('up')
  })
  test('a fortnight nobody read counts a day and a half of it', () => {
    const gap = daily(() => 12, 60).filter((_, day) => day < 5 || day > 19)
    expect(phase(gap, 34 * 24)).toBe('hold')
    // 30 days and 13.5 that no reading vouches for.
    expect(phase(gap, 43 * 24)).toBe('hold')
    expect(phase(gap, 45 * 24)).toBe('up')
  })
})

describe('time alone never says yes (L6)', () => {
  const traps = (worms: number | null) => {
    const entries =
      worms === null
        ? []
        : Array.from(
            { length: 9 },
            (_, i) =>
              [i * 72 + 20, { kind: 'tally', measure: 'trap', values: { before: worms }, piece: 'one' }] as const,
          )
    const found = scene('trap-planaria', entries)
    const { active, nowMs } = found.at(80 * 24)
    return campaignState(found.record, active, found.course, nowMs)!.over
  }
  test('forty worms in every trap, a trap nobody emptied, and clean ones', () => {
    expect(traps(40)).toMatchObject({ tone: 'caution', words: expect.stringMatching(/not over.*40/) })
    expect(traps(null)).toMatchObject({ tone: 'caution', words: expect.stringMatching(/nobody has judged/) })
    expect(traps(0)).toMatchObject({ tone: 'good' })
  })
})

describe('what the record is uneasy about (L18)', () => {
  const reading = (
    record: KeeperRecord,
    value: number,
    daysAgo: number,
    bound: 'exact' | 'above' | 'below' = 'exact',
  ) =>
    recordOf(record.settings, documentsOf(record), [
      ...record.entries.filter((entry) => !(entry.kind === 'reading' && entry.analyte === 'alkalinity')),
      entryAt(START - daysAgo * DAY, {
        vesselId: 'longshore',
        kind: 'reading',
        analyte: 'alkalinity',
        value,
        unit: 'dKH',
        bound,
      }) as Entry,
    ])
  const uneasy = (record: KeeperRecord) =>
    waterConcerns(record, activeOf(record.entries), [], START).filter(({ id }) => id === 'range-longshore-alkalinity')
  test('alkalinity at 5 is low, at 7 it is not, and three weeks later it says nothing', () => {
    expect(uneasy(reading(demo, 5, 1))).toMatchObject([{ title: expect.stringMatching(/is low/) }])
    expect(uneasy(reading(demo, 7, 1))).toEqual([])
    expect(uneasy(reading(demo, 5, 15))).toEqual([])
  })
  test('a bound speaks only for its own side: over 5 may be well, under 12 too', () => {
    expect(uneasy(reading(demo, 5, 1, 'above'))).toEqual([])
    expect(uneasy(reading(demo, 5, 1, 'below'))).toMatchObject([{ title: expect.stringMatching(/is low/) }])
    expect(uneasy(reading(demo, 14, 1, 'below'))).toEqual([])
    expect(uneasy(reading(demo, 14, 1, 'above'))).toMatchObject([{ title: expect.stringMatching(/is high/) }])
  })
  test('what has a watch of its own, and what a course holds elsewhere on purpose, is not told twice', () => {
    const read = (analyte: string, value: number, unit: string) =>
      recordOf(demo.settings, documentsOf(demo), [
        ...demo.entries,
        entryAt(START - HOUR, {
          vesselId: 'longshore',
          kind: 'reading',
          analyte,
          value,
          unit,
          bound: 'exact',
        } as never),
      ])
    const ids = (record: KeeperRecord, plans: readonly CoursePlan[] = []) =>
      waterConcerns(record, activeOf(record.entries), plans, START).map(({ id }) => id)
    expect(ids(read('ammonia-total', 9, 'mg/L')).some((id) => id.startsWith('range-longshore-ammonia'))).toBe(false)
    expect(ids(read('salinity', 14, 'PSU'))).toContain('range-longshore-salinity')
    // A course of low salinity in that very vessel holds it there; one next door does not.
    const low = (vesselId: string) => {
      const course = courseDocument('low', {
        protocol: protocolOf('hyposalinity-30')!,
        vesselId,
        startMs: START - 3 * DAY,
        zone: ZONE,
        residents: [],
      })
      const record = recordOf(demo.settings, [...documentsOf(demo), course], read('salinity', 14, 'PSU').entries)
      const plan = planCourse(record.courses.get('low')!, {
        record,
        active: activeOf(record.entries),
        estimates: new Map(),
        nowMs: START,
      })
      return ids(record, [plan])
    }
    expect(low('longshore')).not.toContain('range-longshore-salinity')
    expect(low('holding-b')).toContain('range-longshore-salinity')
  })
  test('a display in which nobody is written down is no empty tank; a bin is, and is not counted as looked at', () => {
    const alone = (purpose: 'display' | 'mixing') => {
      const vessel = demo.vessels.get('longshore')!
      const record = recordOf(
        demo.settings,
        [{ ...vessel, body: { ...vessel.body, purpose } }],
        reading(demo, 5, 1).entries.filter((entry) => 'vesselId' in entry && entry.vesselId === 'longshore'),
      )
      const active = activeOf(record.entries).filter(({ kind }) => kind === 'reading')
      return {
        ids: waterConcerns(record, active, [], START).map(({ id }) => id),
        words: checkedWords(record, active, [], START),
      }
    }
    expect(alone('display').ids).toContain('range-longshore-alkalinity')
    expect(alone('display').words).toMatch(/Checked/)
    expect(alone('mixing').ids).toEqual([])
    expect(alone('mixing').words).toMatch(/Nothing to check yet/)
  })
  test('entries that were written at a time still to come are told as a clock, five minutes off are not', () => {
    const ids = (recordedAheadMs: number) => {
      const ahead = {
        ...(entryAt(START - HOUR, { vesselId: 'longshore', kind: 'note', note: 'x' } as never) as Entry),
        recordedAt: instantOf(START + recordedAheadMs),
      } as Entry
      const record = recordOf(demo.settings, documentsOf(demo), [...demo.entries, ahead])
      return waterConcerns(record, activeOf(record.entries), [], START)
        .filter(({ id }) => id === 'clock-ahead')
        .map(({ title }) => title)
    }
    expect(ids(3 * HOUR)).toEqual(['One entry is of a time still to come:'])
    expect(ids(4 * 60_000)).toEqual([])
  })
  test('an empty list says what was looked at', () => {
    const empty = recordOf(demo.settings, [], [])
    expect(checkedWords(empty, activeOf([]), [], START)).toMatch(/Nothing to check yet/)
    expect(checkedWords(demo, activeOf(demo.entries), [], START)).toMatch(/Checked: the newest \d+ readings/)
  })
})
