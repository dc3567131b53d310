// Work on single pieces: time in air over lifts, breaks and days; stages in their order; what a press is refused.
import { describe, expect, test } from '@jest/globals'
import {
  actContext,
  activeEntries,
  activeOf,
  airBudget,
  airKindOf,
  airKinds,
  answer,
  benchDrafts,
  benchNoted,
  benchPieces,
  benchRenamed,
  documentsOf,
  handlingOf,
  instantOf,
  newCourseBody,
  nextActs,
  planCourse,
  protocolLibrary,
  protocolOf,
  recordOf,
  stagesFor,
  type BenchPress,
  type CourseDocument,
  type Entry,
  type KeeperRecord,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { courseDocument, entryAt } from './entries.ts'

const START = Date.parse('2026-11-23T08:00:00Z')
const MIN = 60_000
const HOUR = 60 * MIN
const stagesOf = (id: string, rule = 'bench') => {
  const found = protocolOf(id)!
    .phases.flatMap(({ rules }) => rules)
    .find((one) => one.id === rule)!
  if (found.kind !== 'bench') throw new Error('no bench')
  return found.stages
}
const STAGES = stagesOf('extract-bubble-algae')
const KEY = 'c/bench/0'
type Pressed = readonly [
  minutes: number,
  act: BenchPress['act'],
  more?: Partial<BenchPress>,
  piece?: string,
  step?: string,
]
const entries = (...presses: Pressed[]): Entry[] =>
  presses.map(([minutes, act, more, piece = 'plate', step = KEY], i) =>
    entryAt(START + minutes * MIN, {
      kind: 'done',
      vesselId: 'longshore',
      courseId: 'c',
      step: `${step}/${i}`,
      what: act,
      bench: { piece, act, air: 'large-polyp', ...more },
    } as never),
  ) as Entry[]
const at = (minutes: number, ...presses: Pressed[]) =>
  benchPieces(STAGES, KEY, entries(...presses), START + minutes * MIN)[0]!

describe('time in air', () => {
  test('a lift counts to the second, a break stops it, and the day adds up', () => {
    const presses: Pressed[] = [
      [0, 'lower'],
      [1, 'lift'],
      [1.4, 'lower'],
      [3, 'lift'],
    ]
    expect(at(3.2, ...presses)).toMatchObject({ airMs: START + 3 * MIN })
    expect(at(3.2, ...presses).airS).toBeCloseTo(12, 6)
    expect(at(3.2, ...presses).dayS).toBeCloseTo(24 + 12, 6)
    expect(at(2, ...presses)).toMatchObject({ airMs: null, airS: 0 })
  })
  test('what was out in another session today counts; what was out more than a day ago does not', () => {
    const before: Pressed[] = [
      [0, 'lift', {}, 'plate', 'other/bench/0'],
      [2, 'back', {}, 'plate', 'other/bench/0'],
    ]
    expect(at(60, ...before, [59, 'lower']).dayS).toBeCloseTo(120, 6)
    // A day and a minute after it was lifted, one of the two minutes is left in the window.
    expect(at(24 * 60 + 1, ...before, [59, 'lower']).dayS).toBeCloseTo(60, 6)
    expect(at(24 * 60 + 3, ...before, [59, 'lower']).dayS).toBe(0)
    // Another piece has its own.
    expect(at(60, [0, 'lift', {}, 'arch'], [2, 'back', {}, 'arch'], [59, 'lower', {}, 'plate']).piece).toBe('arch')
  })
  test('warned at four fifths, over at the whole', () => {
    const kind = airKindOf('large-polyp')!
    expect([kind.onceS, kind.dayS]).toEqual([30, 180])
    const tone = (airS: number, dayS = airS) => airBudget(kind, { airS, dayS, airMs: 1 }).tone
    expect([tone(23.9), tone(24), tone(29.9), tone(30)]).toEqual(['calm', 'near', 'near', 'over'])
    expect([tone(1, 143), tone(1, 144), tone(1, 180)]).toEqual(['calm', 'near', 'over'])
    expect(airBudget(kind, { airS: 10, dayS: 100, airMs: 1 })).toMatchObject({ onceLeftS: 20, dayLeftS: 80 })
  })
  test('the table is the handbook’s', () => {
    const hb: Record<string, [number, number]> = {
      'small-polyp': [60, 300],
      'large-polyp': [30, 180],
      zoanthid: [600, 1200],
      leather: [300, 600],
      anemone: [30, 60],
      clam: [60, 120],
      sponge: [0, 0],
      shrimp: [15, 30],
      rock: [900, 1800],
    }
    for (const [id, [once, day]] of Object.entries(hb)) expect(airKindOf(id)).toMatchObject({ onceS: once, dayS: day })
    for (const { onceS, dayS } of airKinds) expect(dayS).toBeGreaterThanOrEqual(onceS)
  })
})

describe('stages', () => {
  const walk = (kind: string) => {
    let presses: Pressed[] = [[0, 'lower', { air: kind }]]
    const seen: string[] = []
    for (let i = 1; i < 40; i++) {
      const piece = at(i, ...presses)
      if (piece.state !== 'open') break
      const path = stagesFor(STAGES, kind)
      const acts = nextActs(STAGES, piece)
      if (acts[0] === 'stage') seen.push(path[piece.stage]!.id)
      presses = [
        ...presses,
        ...acts.map(
          (act) => [i, act, { air: kind, ...(act === 'stage' ? { stage: path[piece.stage]!.id } : {}) }] as Pressed,
        ),
      ]
    }
    return { seen, last: at(41, ...presses) }
  }
  test('each once, rinses thrice, and the piece is under water at the end', () => {
    const { seen, last } = walk('leather')
    expect(seen).toEqual([
      'picture',
      'lift',
      'dig',
      'paint',
      'rinse',
      'rinse',
      'rinse',
      'soak',
      'seal',
      'after',
      'home',
    ])
    expect(last).toMatchObject({ state: 'back', airMs: null })
  })
  test('stony flesh is not soaked', () => {
    expect(walk('large-polyp').seen).not.toContain('soak')
    expect(walk('rock').seen).toContain('soak')
  })
  test('a stage in air asks for the lift first, one under water for the way under', () => {
    expect(
      nextActs(STAGES, at(9, [0, 'lower'], [1, 'stage', { stage: 'picture' }], [2, 'stage', { stage: 'lift' }])),
    ).toEqual(['lift'])
    expect(nextActs(STAGES, at(9, [0, 'lift']))).toEqual(['lower'])
    expect(nextActs(STAGES, at(9, [0, 'lower'], [1, 'stage', { stage: 'picture' }]))).toEqual(['stage', 'lift'])
  })
  test('a stage that is not its own changes nothing; one broken off is over; one that comes again starts anew', () => {
    expect(at(9, [0, 'lower'], [1, 'stage', { stage: 'seal' }]).stage).toBe(0)
    const broken: Pressed[] = [
      [0, 'lower'],
      [1, 'stage', { stage: 'picture' }],
      [2, 'lift'],
      [2.2, 'abort', { reason: 'dropped' }],
    ]
    expect(at(9, ...broken)).toMatchObject({ state: 'aborted', endMs: START + 2.2 * MIN, airMs: null })
    expect(nextActs(STAGES, at(9, ...broken))).toEqual([])
    expect(at(9, ...broken, [5, 'lower'])).toMatchObject({ state: 'open', stage: 0, stageMs: START + 5 * MIN })
  })
  test('the clock of a stage begins when the piece is on its side', () => {
    expect(at(9, [0, 'lower'], [1, 'stage', { stage: 'picture' }], [4, 'lift']).stageMs).toBe(START + 4 * MIN)
  })
  test('what went on it adds up', () => {
    expect(at(9, [0, 'lower'], [1, 'stage', { ml: 0.5 }], [2, 'stage', { ml: 0.7, spots: 3, grams: 4 }])).toMatchObject(
      {
        ml: expect.closeTo(1.2, 9),
        spots: 3,
        grams: 4,
      },
    )
  })
})

const demo = demoRecord({ seed: 7, anchorMs: START, zone: 'Europe/Berlin' })
function house(protocolId: string, made: readonly Entry[], bottle?: { percent: number }): KeeperRecord {
  const course: CourseDocument = courseDocument('c', {
    protocol: protocolOf(protocolId)!,
    vesselId: 'longshore',
    startMs: START,
    zone: 'Europe/Berlin',
    residents: [],
    products: bottle ? { peroxide: 'px' } : {},
  })
  const product = {
    register: 'product' as const,
    id: 'px',
    revision: 1,
    savedAt: instantOf(START),
    history: [],
    body: {
      name: 'Peroxide',
      form: 'coral-peroxide',
      strength: { basis: 'w/v' as const, percent: bottle?.percent ?? 3 },
      confirmedAt: instantOf(START),
    },
  }
  return recordOf(demo.settings, [...documentsOf(demo), course, product] as never, [...demo.entries, ...made])
}
const answered = (record: KeeperRecord, nowMs: number, bench: Partial<BenchPress>) => {
  const noted = benchNoted(KEY, record.entries)
  const drafts = [
    {
      kind: 'done',
      vesselId: 'longshore',
      courseId: 'c',
      step: `${KEY}/${noted}`,
      what: 'press',
      bench: { piece: 'plate', act: 'stage', ...bench },
    },
  ]
  return answer(actContext(record, nowMs, []), {
    kind: 'note',
    drafts: drafts as never,
    documents: [],
    said: '',
  }).refusals.map(({ rule, level }) => [rule, level])
}

describe('what a press is refused', () => {
  test('a lift past the day of its kind is blocked; a sponge is never lifted', () => {
    const out = (seconds: number) =>
      entries([0, 'lift', { air: 'anemone' }], [seconds / 60, 'lower', { air: 'anemone' }])
    const lift = (seconds: number) =>
      answered(house('extract-bubble-algae', out(seconds)), START + 10 * MIN, { act: 'lift', air: 'anemone' })
    // An anemone bears a minute a day: four fifths of it are 48 s.
    expect(lift(47)).toEqual([])
    expect(lift(48)).toEqual([['bench-air', 'warn']])
    expect(lift(60)).toEqual([['bench-air', 'block']])
    expect(answered(house('extract-bubble-algae', []), START, { act: 'lift', air: 'sponge' })).toEqual([
      ['bench-air', 'forbid'],
    ])
  })
  test('more than 2 mL on one piece, in one press or several, is blocked', () => {
    const record = house('extract-bubble-algae', entries([0, 'lower'], [1, 'stage', { stage: 'paint', ml: 1.5 }]), {
      percent: 3,
    })
    expect(answered(record, START + 5 * MIN, { stage: 'paint', ml: 0.5 })).toEqual([])
    expect(answered(record, START + 5 * MIN, { stage: 'paint', ml: 0.6 })).toEqual([['bench-ml', 'block']])
  })
  test('a soak that is ended before its least minutes is asked about', () => {
    const before: Pressed[] = (['picture', 'lift', 'dig', 'paint', 'rinse', 'rinse', 'rinse'] as const).map(
      (stage, i) => [i / 10, 'stage', { stage, air: 'rock' }],
    )
    const record = house('extract-bubble-algae', entries([0, 'lower', { air: 'rock' }], ...before), { percent: 3 })
    const asked = (minutes: number) => {
      const noted = benchNoted(KEY, record.entries)
      const drafts = [
        {
          kind: 'done',
          vesselId: 'longshore',
          courseId: 'c',
          step: `${KEY}/${noted}`,
          what: 'x',
          bench: { piece: 'plate', act: 'stage', stage: 'soak' },
        },
      ]
      return answer(actContext(record, START + minutes * MIN, []), {
        kind: 'note',
        drafts: drafts as never,
        documents: [],
        said: '',
      }).questions.map(({ rule }) => rule)
    }
    // The last rinse was noted 0.6 min after the start; the least is 15.
    expect([asked(10), asked(15.4), asked(15.7)]).toEqual([['bench-short'], ['bench-short'], []])
  })
  test('putty: ten grams in a hundred litres and a day', () => {
    const most = (litres: number) => litres / 10
    const before = entries([0, 'stage', { stage: 'seal', grams: 5 }])
    const record = house('extract-bubble-algae', before)
    // Longshore's net litres by hand are not known here: the sentence names them.
    const said = (grams: number, h = 1) =>
      answer(actContext(record, START + h * HOUR, []), {
        kind: 'note',
        drafts: [
          {
            kind: 'done',
            vesselId: 'longshore',
            courseId: 'c',
            step: `${KEY}/9`,
            what: 'seal',
            bench: { piece: 'arch', act: 'stage', stage: 'seal', grams },
          },
        ] as never,
        documents: [],
        said: '',
      }).refusals.find(({ rule }) => rule === 'bench-putty')?.message
    const litres = Number(/for (\d+) L/.exec(said(500)!)![1])
    expect(litres).toBeGreaterThan(100)
    expect(said(Math.floor(most(litres)) - 6)).toBeUndefined()
    expect(said(Math.ceil(most(litres)) - 4)).toMatch(/of putty in a day/)
    // A day later the five grams are forgotten.
    expect(said(Math.floor(most(litres)) - 2, 25)).toBeUndefined()
  })
})

describe('who lives there', () => {
  const start = (group: string, protocolId: string) => {
    const base = house(protocolId, [], { percent: 3 })
    const coral = base.residents.get('gramma')!
    const animal = { ...coral, id: 'x', body: { ...coral.body, name: 'Somebody', group, vesselId: 'longshore' } }
    const documents = documentsOf(base).filter(
      (one) =>
        one.id !== 'c' &&
        !(one.register === 'resident' && one.body.vesselId === 'longshore') &&
        one.register !== 'course',
    )
    const record = recordOf(base.settings, [...documents, animal] as never, [])
    const found = answer(actContext(record, START, []), {
      kind: 'course',
      id: 'n',
      vesselId: 'longshore',
      instrumentId: null,
      body: newCourseBody({
        protocol: protocolOf(protocolId)!,
        vesselId: 'longshore',
        startMs: START,
        zone: 'Europe/Berlin',
        residents: [],
        products: { peroxide: 'px' },
      }),
    } as never)
    return found.refusals.filter(({ level }) => level === 'block' || level === 'forbid').map(({ rule }) => rule)
  }
  test('a fish or a shrimp of the vessel never meets the bowl', () => {
    expect(start('hg-angel-dwarf', 'bench-bubbles-and-snails')).toEqual([])
    expect(start('hg-shrimp', 'bench-bubbles-and-snails')).toEqual([])
    expect(start('hg-coral', 'bench-bubbles-and-snails')).toEqual([])
  })
})

test('a session of several pieces is one handling on the course', () => {
  const presses = entries([0, 'lower'], [5, 'back'], [10, 'lower', {}, 'arch'], [15, 'back', {}, 'arch'])
  const record = house('extract-bubble-algae', presses)
  const active = activeOf(record.entries)
  const times = (nowMs: number) => handlingOf(record, active, record.courses.get('c')!, nowMs).times
  expect([times(START + HOUR), times(START + 8 * 24 * HOUR)]).toEqual([1, 0])
})

describe('its step', () => {
  const stepsAt = (record: KeeperRecord, nowMs: number) =>
    planCourse(record.courses.get('c')!, {
      record,
      active: activeOf(record.entries),
      estimates: new Map(),
      nowMs,
    }).steps.filter(({ kind }) => kind === 'bench')
  test('30 mg/L in one litre are 1 mL of 3 %; 12 % is thinned four times for the drops', () => {
    expect(stepsAt(house('extract-bubble-algae', [], { percent: 3 }), START)[0]!.bench!.agents).toMatchObject({
      paint: { thinTimes: 1, strengthMg: expect.closeTo(30, 6) },
      soak: { amount: expect.closeTo(1, 6), unit: 'mL' },
    })
    expect(stepsAt(house('extract-bubble-algae', [], { percent: 12 }), START)[0]!.bench!.agents).toMatchObject({
      paint: { thinTimes: 4 },
      soak: { amount: expect.closeTo(0.25, 6) },
    })
    // The drip of 1 % from a bottle of 3 %: one part and two of tank water.
    expect(stepsAt(house('leather-drip', [], { percent: 3 }), START)[0]!.bench!.agents).toMatchObject({
      drip: { thinTimes: 3 },
    })
    expect(stepsAt(house('extract-bubble-algae', []), START)[0]!.bench!.agents).toEqual({})
  })
  test('a weak soak keeps its twenty minutes; a dip at the bottle’s level has the bottle’s', () => {
    const minutes = (protocolId: string, stage: string, role: string) => {
      const record = house(protocolId, [], { percent: 3 })
      const course = record.courses.get('c')!
      const own = { ...course, body: { ...course.body, products: { [role]: 'px' } } }
      return planCourse(own, { record, active: activeOf(record.entries), estimates: new Map(), nowMs: START })
        .steps.find(({ kind }) => kind === 'bench')!
        .bench!.stages.find(({ id }) => id === stage)!.minutes
    }
    expect(minutes('extract-bubble-algae', 'soak', 'peroxide')).toEqual({ min: 15, usual: 20, max: 25 })
    // Gentle peroxide dip, handbook 40.5: 2, 3, 5 minutes.
    expect(minutes('coral-intake-45', 'dip', 'dip')).toEqual({ min: 2, usual: 3, max: 5 })
  })
  test('due at once, and again after a count that finds some; a clean one asks for none', () => {
    const done = entryAt(START + HOUR, {
      kind: 'done',
      vesselId: 'longshore',
      courseId: 'c',
      step: KEY,
      what: 'Session',
    } as never)
    const count = (days: number, before: number) =>
      entryAt(START + days * 24 * HOUR, {
        kind: 'tally',
        vesselId: 'longshore',
        courseId: 'c',
        measure: 'rock-count',
        piece: 'arch',
        values: { before, removed: 0 },
      } as never)
    const states = (made: readonly object[], days: number) =>
      stepsAt(house('extract-bubble-algae', made as never), START + days * 24 * HOUR).map(({ state, dueMs }) => [
        state,
        (dueMs - START) / 24 / HOUR,
      ])
    expect(states([], 0.1)).toEqual([['due', 0]])
    expect(states([done], 8)).toMatchObject([['done', 0]])
    expect(states([done, count(7, 0)], 8)).toMatchObject([['done', 0]])
    expect(states([done, count(7, 2)], 8)).toEqual([
      ['done', expect.any(Number)],
      ['due', 7],
    ])
  })
  test('a phase waits for the bench of its own variant only', () => {
    const done = (rule: string) =>
      entryAt(START + HOUR, {
        kind: 'done',
        vesselId: 'longshore',
        courseId: 'c',
        step: `c/${rule}/0`,
        what: 'x',
      } as never)
    const phase = (rule: string) => {
      const record = house('leather-drip', [done(rule)], { percent: 3 })
      return planCourse(record.courses.get('c')!, {
        record,
        active: activeOf(record.entries),
        estimates: new Map(),
        nowMs: START + 2 * HOUR,
      }).progress.current
    }
    expect([phase('drip-one'), phase('drip-three')]).toEqual([1, 0])
  })
  test('every bench that ships ends under water and its drafts are entries that can be read back', () => {
    const rules = protocolLibrary.flatMap((protocol) =>
      protocol.phases.flatMap(({ rules: all }) =>
        all.flatMap((rule) => (rule.kind === 'bench' ? [{ protocol, rule }] : [])),
      ),
    )
    expect(rules.length).toBeGreaterThanOrEqual(6)
    for (const { rule } of rules) {
      expect(rule.stages.at(-1)!.in).toBe('water')
      const drafts = benchDrafts(
        // A step carries more than where it is: nothing else may get into the entry.
        { vesselId: 'longshore', courseId: 'c', kind: 'bench', title: 'no' } as never,
        KEY,
        4,
        'plate',
        rule.stages[0],
        ['stage', 'lower'],
        { ml: 1 },
      )
      expect(Object.keys(drafts[0]!).sort()).toEqual(['bench', 'courseId', 'kind', 'step', 'vesselId', 'what'])
      expect(drafts.map(({ step, bench }) => [step, bench.act, bench.ml])).toEqual([
        [`${KEY}/4`, 'stage', 1],
        [`${KEY}/5`, 'lower', undefined],
      ])
    }
  })
})

describe('the wrong piece was pressed', () => {
  const pressed: Pressed[] = [
    [0, 'lower'],
    [1, 'lift'],
    [1.4, 'lower', { ml: 2 }],
    [2, 'lower', {}, 'arch'],
    [0, 'lift', {}, 'plate', 'other/bench/0'],
  ]
  const counted = entryAt(START + MIN, {
    kind: 'tally',
    vesselId: 'longshore',
    courseId: 'c',
    step: `${KEY}/plate-finds-1`,
    measure: 'finds',
    piece: 'plate',
    values: { mobiles: 3 },
  } as never)
  const before = [...entries(...pressed), counted]
  const corrections = benchRenamed(before, KEY, 'plate', { piece: 'horn', air: 'small-polyp', residentId: 'horn-1' })
  const after = activeEntries([
    ...before,
    ...corrections.map((draft, i) => ({
      ...entryAt((draft as { atMs: number }).atMs, draft as never),
      id: `right-${i}`,
      recordedAt: instantOf(START + HOUR),
    })),
  ] as Entry[])
  test('what stands of it goes to the right one, each press at its own hour; the rest of the session stays', () => {
    const pieces = benchPieces(STAGES, KEY, after, START + 3 * MIN)
    expect(pieces.map(({ piece }) => piece).sort()).toEqual(['arch', 'horn'])
    const right = pieces.find(({ piece }) => piece === 'horn')!
    expect(right.kind?.id).toBe('small-polyp')
    expect(right.residentId).toBe('horn-1')
    expect(right.ml).toBe(2)
    expect(right.startMs).toBe(START)
    // Twenty-four seconds in air, as they were.
    expect(right.dayS).toBeCloseTo(24, 6)
    expect(after.filter((entry) => entry.kind === 'tally').map((entry) => entry.piece)).toEqual(['horn'])
  })
  test('another session with the piece of that name is left alone', () => {
    const names = after.flatMap((entry) =>
      entry.kind === 'done' && entry.step?.startsWith('other/') === true ? [entry.bench?.piece] : [],
    )
    expect(names).toEqual(['plate'])
  })
  test('what is only called by its right name is never refused for the air it has had', () => {
    // A sponge is never lifted; one that was lifted under another name is told as what it was.
    const record = house('extract-bubble-algae', entries([0, 'lift'], [1, 'lower']))
    expect(answered(record, START + 11 * MIN, { piece: 'ball', act: 'lift', air: 'sponge' })).toEqual([
      ['bench-air', 'forbid'],
    ])
    const renamed = answer(actContext(record, START + 11 * MIN, []), {
      kind: 'note',
      drafts: benchRenamed(record.entries, KEY, 'plate', { piece: 'ball', air: 'sponge' }) as never,
      documents: [],
      said: '',
    })
    expect(renamed.problem).toBeNull()
    expect(renamed.refusals).toEqual([])
  })
})
