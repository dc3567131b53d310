// What a keeper reads on a page is so: faults that were found by reading every page of every situation to its end.
import { describe, expect, test } from '@jest/globals'
import {
  activeEntries as activeOf,
  advanceActive,
  aspectSentence,
  besidesReadings,
  campaignState,
  daysToCorrect,
  documentsOf,
  entriesSince,
  entriesUntil,
  handlingOf,
  instantOf,
  isInstant,
  lifeOf,
  ofUnit,
  planCourse,
  protocolLibrary,
  protocolOf,
  recordOf,
  ribbonOf,
  steerState,
  waterConcerns,
  type CourseDocument,
  type Entry,
  type Protocol,
  type RegisterDocument,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import fc from 'fast-check'
import { courseDocument, entryAt, ZONE } from './entries.ts'

const START = Date.parse('2026-05-01T16:00:00Z')
const HOUR = 3_600_000
const demo = demoRecord({ seed: 7, anchorMs: START, zone: ZONE })
const base = documentsOf(demo).filter(({ register }) => register !== 'course')

type Made = readonly (readonly [hours: number, fields: object])[]
interface Scene {
  readonly vesselId?: string
  readonly residents?: readonly string[]
  readonly vessels?: Readonly<Record<string, string>>
  readonly documents?: (one: RegisterDocument) => RegisterDocument
}
/** A course with entries at hours since its start, looked at so many hours after it. */
function seen(protocolId: string, made: Made, hours: number, scene: Scene = {}) {
  const vesselId = scene.vesselId ?? 'holding-b'
  const course: CourseDocument = courseDocument('c', {
    protocol: protocolOf(protocolId)!,
    vesselId,
    startMs: START,
    zone: ZONE,
    residents: [...(scene.residents ?? ['gramma'])],
    dailyHour: 18,
    vessels: { ...scene.vessels },
  })
  const entries = [...made]
    .sort(([a], [b]) => a - b)
    .map(([h, fields]) => entryAt(START + h * HOUR, { vesselId, courseId: 'c', ...fields })) as Entry[]
  const record = recordOf(
    demo.settings,
    [...base.map((one) => scene.documents?.(one) ?? one), course] as RegisterDocument[],
    entries,
  )
  const nowMs = START + hours * HOUR
  const active = activeOf(record.entries)
  const plan = planCourse(course, { record, active, estimates: new Map(), nowMs })
  return { record, course, active, nowMs, plan, step: (id: string) => plan.steps.filter(({ ruleId }) => ruleId === id) }
}
const tally = (measure: string, values: Record<string, number>, more: object = {}) => ({
  kind: 'tally',
  measure,
  values,
  ...more,
})
const conditions = (exit: Protocol['phases'][number]['exit']): readonly string[] =>
  exit.kind === 'all' || exit.kind === 'any' ? exit.of.flatMap(conditions) : [exit.kind]

describe('time alone never proves success', () => {
  test('once counts have ended a phase, no later one ends by its hours alone', () => {
    for (const protocol of protocolLibrary) {
      const kinds = protocol.phases.map(({ exit }) => conditions(exit))
      const counts = kinds.map((own) =>
        own.some((kind) => ['tally-clean', 'tally-done', 'rounds-enough', 'jar-clear'].includes(kind)),
      )
      const first = counts.indexOf(true)
      if (first < 0) continue
      for (const [i, own] of kinds.entries())
        if (i > first && !counts[i])
          expect([protocol.id, own]).toEqual([protocol.id, expect.arrayContaining(['rules-done'])])
    }
  })
  test('days free of a pest need their weekly looks; one too few and they go on', () => {
    const found = (hours: number, mobiles: number) =>
      [hours, tally('finds', { mobiles, eggs: 0 }, { piece: 'shelf' })] as const
    const rounds = Array.from({ length: 8 }, (_, i) => [
      [i * 72 + 1, { kind: 'done', what: 'round', step: `c/round/${i}` }] as const,
      found(i * 72 + 1, i < 1 ? 3 : 0),
    ]).flat()
    const looks = [24, 27, 30, 33].map((day) => found(day * 24, 0))
    const phase = (days: number, weekly: readonly number[]) =>
      seen('rounds-montipora-slug', [...rounds, ...looks, ...weekly.map((day) => found(day * 24, 0))], days * 24, {
        documents: (one) =>
          one.register === 'resident' && one.body.vesselId === 'holding-b'
            ? { ...one, body: { ...one.body, group: 'hg-coral' } }
            : one,
      }).plan.progress
    // Five looks from the last round on, three days apart: the free days begin on day 33.
    expect(phase(36.5, []).current).toBe(2)
    expect(phase(60, []).current).toBe(2)
    expect(phase(60, [40]).current).toBe(2)
    expect(phase(60, [40, 47.2]).current).toBeNull()
    // Looks enough, and the fortnight is not over.
    expect(phase(46.9, [40, 46.8]).current).toBe(2)
    expect(phase(47.2, [40, 46.8]).current).toBeNull()
  })
})

describe('a vessel kept free of fish', () => {
  const out = [48, { kind: 'move', residentId: 'gramma', toVesselId: 'longshore' }] as const
  const others = (one: RegisterDocument) =>
    one.register === 'resident' && one.body.vesselId === 'holding-b' && one.id !== 'gramma'
      ? { ...one, body: { ...one.body, vesselId: 'longshore' } }
      : one
  test('is not fed while a fish is in it, and its end is said to hang on that fish', () => {
    const inside = seen('fallow-display-76', [], 24, { documents: others })
    expect(inside.step('feed-filter').map(({ state }) => state)).toEqual(expect.arrayContaining(['waiting']))
    expect(inside.step('feed-filter').every(({ state }) => state === 'waiting')).toBe(true)
    expect(inside.step('feed-filter')[0]!.detail).toMatch(/^Not yet: .* inside\.$/)
    expect(ribbonOf(inside.course, inside.plan, inside.active, null, inside.nowMs).end.by).toBe('host-inside')
    const empty = seen('fallow-display-76', [out], 72, { documents: others })
    expect(empty.step('feed-filter').some(({ state }) => state === 'due' || state === 'late')).toBe(true)
    expect(ribbonOf(empty.course, empty.plan, empty.active, null, empty.nowMs).end.by).toBe('nothing-goes-in')
  })
  test('an intake of corals begins anew with anything wet: a coral by move, a coral that came, never its own first ones', () => {
    const bare = (one: RegisterDocument) =>
      one.register === 'resident' && one.body.vesselId === 'holding-b'
        ? { ...one, body: { ...one.body, vesselId: 'longshore' } }
        : one
    const since = (made: Made, documents = bare) =>
      seen('coral-intake-76', made, 30 * 24, { documents, residents: [] }).plan.fallow?.sinceMs
    expect(since([])).toBe(START)
    expect(since([[240, { kind: 'move', vesselId: 'tub', residentId: 'montipora', toVesselId: 'holding-b' }]])).toBe(
      START + 240 * HOUR,
    )
    const came = (hours: number) => (one: RegisterDocument) =>
      one.register === 'resident' && one.id === 'montipora'
        ? { ...one, body: { ...one.body, vesselId: 'holding-b', arrivedAt: instantOf(START + hours * HOUR) } }
        : bare(one)
    expect(since([], came(120))).toBe(START + 120 * HOUR)
    expect(since([], came(0))).toBe(START)
    expect(since([], came(-48))).toBe(START)
    expect(since([], came(31 * 24))).toBe(START)
  })
})

describe('spots', () => {
  const score = (hours: number, piece: string, arm: string, look: number) =>
    [hours, tally('patch-score', { [field]: look }, { piece, arm })] as const
  const measure = protocolOf('spot-peroxide-marine')!.campaign!.measures[0]!
  const field = measure.fields[0]!.id
  const arms = measure.arms!.map(({ id }) => id)
  const next = (made: Made) =>
    seen('spot-peroxide-marine', made, 60).plan.steps.find(
      ({ kind, state }) => kind === 'spot' && state !== 'done' && state !== 'skipped',
    )!
  test('what is white is done: nothing is offered for it, until another patch is scored', () => {
    const [treated, , control] = arms as [string, string, string]
    const start = [score(1, 'arch', treated, 0), score(1, 'low', control, 0)]
    expect(next(start).detail).toMatch(/Choose the bottle first/)
    const white = [...start, score(50, 'arch', treated, 4), score(50, 'low', control, 0)]
    expect(next(white)).toMatchObject({ state: 'waiting' })
    expect(next(white).detail).toMatch(/nothing is left to treat/)
    expect(next([...start, score(50, 'arch', treated, 3)]).detail).toMatch(/Choose the bottle first/)
    expect(next([...white, score(51, 'back', treated, 1)]).detail).toMatch(/Choose the bottle first/)
  })
  test('nobody is caught for a spot treatment, and somebody is for a bath', () => {
    const rule = protocolOf('spot-peroxide-marine')!.phases[0]!.rules.find(({ kind }) => kind === 'spot')!.id
    const times = (protocolId: string, own: string) => {
      const { record, active, course, nowMs } = seen(protocolId, [[2, { kind: 'bath', act: 'start', rule: own }]], 24)
      return handlingOf(record, active, course, nowMs).times
    }
    expect(times('spot-peroxide-marine', rule)).toBe(0)
    expect(times('peroxide-bath-twice', 'bath')).toBe(1)
  })
})

describe('dark days', () => {
  test('pH at dawn is asked at dawn', () => {
    const ph = seen('dark-5', [], 1).step('test-ph')[0]!
    // 16:00 UTC is 18:00 by the keeper's clock in May; 07:00 is 05:00 UTC.
    expect((ph.dueMs - START) / HOUR).toBe(13)
    const read = seen('dark-5', [[13.5, { kind: 'reading', analyte: 'ph', value: 8, unit: 'pH' }]], 14).step('test-ph')
    expect(
      read
        .filter(({ state }) => state !== 'done')
        .map(({ dueMs }) => (dueMs - START) / HOUR)
        .slice(0, 2),
    ).toEqual([37, 61])
  })
  test('the second change is sized by what the first one left', () => {
    const read = (nitrate: number, h: number) => [
      [h, { kind: 'reading', analyte: 'nitrate', value: nitrate, unit: 'mg/L' }] as const,
      [h, { kind: 'reading', analyte: 'phosphate', value: 0.03, unit: 'mg/L' }] as const,
    ]
    const until = [...read(15, 119), [120, { kind: 'gate', gate: 'uncovered', passed: true }] as const]
    const change = (made: Made, h: number) =>
      seen('dark-5', made, h, { vesselId: 'longshore' }).plan.steps.find(
        ({ kind, state }) => kind === 'change' && state !== 'done',
      )!
    const first = change(until, 120.1)
    const second = change([...until, [120.2, { kind: 'change', fraction: first.change!.fraction }]], 121)
    const limit = 15 * (1 - first.change!.fraction) ** 2
    expect(15 * (1 - first.change!.fraction) * (1 - second.change!.fraction)).toBeCloseTo(limit, 1)
    expect(second.detail).toMatch(/since the change/)
    expect(first.detail).not.toMatch(/since the change/)
  })
})

describe('what is known is not asked again', () => {
  test('chases that were counted beside the tank are the watching of that day', () => {
    const at = (made: Made) =>
      seen('introduce-neutral', made, 6, { residents: ['gramma', 'damsel'], vessels: { neutral: 'tub' } }).step(
        'neutral-watch',
      )[0]
    expect(at([])?.state).not.toBe('done')
    expect(at([[2, { kind: 'count', vesselId: 'tub', what: 'chases-10min', count: 3 }]])?.state).toBe('done')
    expect(at([[2, { kind: 'count', vesselId: 'tub', what: 'bites', count: 3 }]])?.state).not.toBe('done')
  })
  test('a count of a course for one animal stands in its life, and in nobody else’s', () => {
    const made: Made = [[24, tally('extension', { open: 3 })]]
    const events = (residents: readonly string[]) => {
      const { record, active, nowMs } = seen('leather-recovery', made, 48, { residents })
      const life = lifeOf(record, active, record.residents.get('gramma')!, nowMs)
      return life.events.filter(({ entry }) => entry?.kind === 'tally').length
    }
    expect(events(['gramma'])).toBe(1)
    expect(events(['gramma', 'montipora'])).toBe(0)
  })
})

describe('a correction', () => {
  const read = (hours: number, potassium: number, alkalinity: number) => [
    [hours, { kind: 'reading', analyte: 'potassium', value: potassium, unit: 'mg/L' }] as const,
    [hours, { kind: 'reading', analyte: 'alkalinity', value: alkalinity, unit: 'dKH' }] as const,
  ]
  const state = (made: Made, hours: number) => {
    const found = seen('raise-potassium', made, hours, { vesselId: 'longshore' })
    return {
      steer: steerState(found.record, found.active, 'longshore', 'potassium', found.nowMs)!,
      days: daysToCorrect(protocolOf('raise-potassium')!, found.record, found.active, 'longshore', found.nowMs),
    }
  }
  test('pauses where it moved something else to the line, and goes on when that came back', () => {
    const start = read(0.1, 335, 7.6)
    expect(state(start, 1).steer).toMatchObject({ stopped: null })
    expect(state(start, 1).steer.rise).toBeCloseTo(10, 6)
    const jumped = [...start, ...read(24, 350, 8.2)]
    expect(state(jumped, 25).steer.rise).toBe(0)
    expect(state(jumped, 25).steer.stopped).toMatch(/alkalinity 8\.2 dKH has reached the line to act on/)
    expect(state([...jumped, ...read(48, 348, 8)], 49).steer).toMatchObject({ stopped: null })
  })
  test('takes the days that its reading and its pace ask for', () => {
    expect(state(read(0.1, 335, 7.6), 1).days).toBe(7)
    expect(state(read(0.1, 385, 7.6), 1).days).toBe(2)
    expect(state([], 1).days).toBeNull()
  })
})

describe('an ended course', () => {
  test('asks for no rhythm any more, and still for what is done once', () => {
    const all = seen('after-release', [], 14 * 24)
    expect(all.plan.progress.finishedMs).not.toBeNull()
    const open = all.plan.steps
      .filter(({ state }) => state !== 'done' && state !== 'skipped')
      .map(({ ruleId }) => ruleId)
    expect(open).not.toContain('watch')
    expect(open).not.toContain('feed')
    expect(open).toContain('lights-off')
  })
  test('what is due at one hour stands in the order of its protocol', () => {
    const found = seen(
      'tank-transfer-72',
      [
        [0, { kind: 'gate', gate: 'two-sets', passed: true }],
        [0, { kind: 'gate', gate: 'water', passed: true }],
      ],
      70,
      { vessels: { second: 'tub' } },
    ).plan.steps
    const first = (id: string) => found.findIndex(({ ruleId, state }) => ruleId === id && state !== 'done')
    expect(found[first('transfer')]!.dueMs).toBe(found[first('sterilise')]!.dueMs)
    expect(first('transfer')).toBeLessThan(first('sterilise'))
  })
})

describe('words', () => {
  test('one of a thing is one', () => {
    expect(ofUnit(1, 'animals')).toBe('1 animal')
    expect(ofUnit(2, 'animals')).toBe('2 animals')
    expect(ofUnit('1', 'days a week')).toBe('1 day a week')
    expect(ofUnit(1, '%')).toBe('1 %')
    expect(ofUnit(1, 'of 4')).toBe('1 of 4')
    expect(ofUnit(1, 'cm')).toBe('1 cm')
    expect(ofUnit('0.1', 'worms')).toBe('0.1 worms')
  })
  test('nothing counted is said under the name of the measure, and worse is called worse', () => {
    const answer = (made: Made) => {
      const { record, active, course, nowMs } = seen('leather-recovery', made, 5 * 24)
      return campaignState(record, active, course, nowMs)!
    }
    expect(answer([]).over.words).toBe('Not known: nothing is counted yet under “Extension”.')
    const field = protocolOf('leather-recovery')!.campaign!.measures[0]!.fields[0]!.id
    const days = (values: readonly number[]): Made =>
      values.map((value, i) => [i * 24 + 1, tally('extension', { [field]: value })])
    expect(answer(days([2, 1, 0])).working).toMatchObject({
      tone: 'caution',
      words: expect.stringMatching(/^It gets worse/),
    })
    expect(answer(days([1, 1, 1])).working.words).toMatch(/^It does not move yet/)
    // A twentieth of the last count: 0.06 of 1.94 is none, 0.12 of 1.88 is more.
    expect(answer(days([2, 1.96, 1.94])).working.words).toMatch(/^It does not move yet/)
    expect(answer(days([2, 1.92, 1.88])).working.words).toMatch(/^It gets worse/)
    expect(answer(days([0, 1, 2])).working.words).not.toMatch(/worse|does not move/)
  })
  test('an aspect over its limit is told with both figures', () => {
    expect(
      aspectSentence(
        { id: 'rate', value: 2.5, careful: 2.6, limit: 1.5, unit: 'PSU an hour', ratio: 2.6 / 1.5 },
        false,
      ),
    ).toBe('the change of salinity reaches 2.6 PSU an hour, the limit is 1.5')
  })
})

describe('a ledger of years', () => {
  test('an instant is real by the calendar exactly where a date written out again is the same', () => {
    const written = (text: string) => {
      const ms = Date.parse(text)
      return Number.isFinite(ms) && new Date(ms).toISOString() === text
    }
    const two = (value: number) => String(value).padStart(2, '0')
    fc.assert(
      fc.property(
        fc.integer({ min: 1950, max: 2150 }),
        fc.integer({ min: 0, max: 14 }),
        fc.integer({ min: 0, max: 33 }),
        fc.integer({ min: 0, max: 26 }),
        fc.integer({ min: 0, max: 62 }),
        (year, month, day, hour, minute) => {
          const text = `${year}-${two(month)}-${two(day)}T${two(hour)}:${two(minute)}:${two((minute * 7) % 63)}.123Z`
          // Midnight may be written as the hour 24, and we never write it so.
          if (hour === 24) expect(isInstant(text)).toBe(false)
          else expect([text, isInstant(text)]).toEqual([text, written(text)])
        },
      ),
      { numRuns: 2000 },
    )
    expect(isInstant('2028-02-29T00:00:00.000Z')).toBe(true)
    expect(isInstant('2100-02-29T00:00:00.000Z')).toBe(false)
    expect(isInstant('1949-12-31T00:00:00.000Z')).toBe(false)
    expect(isInstant('2151-01-01T00:00:00.000Z')).toBe(false)
    expect(isInstant('2028-02-29T00:00:00Z')).toBe(false)
  })
  test('what is no reading is found again after an append, and from an instant on', () => {
    const at = (hours: number, kind: string) =>
      entryAt(START + hours * HOUR, {
        vesselId: 'holding-b',
        kind,
        ...(kind === 'reading' ? { analyte: 'ph', value: 8, unit: 'pH' } : {}),
      }) as Entry
    const before = [at(1, 'note'), at(2, 'reading'), at(3, 'note')]
    const active = activeOf(before)
    expect(besidesReadings(active)).toEqual([before[0], before[2]])
    for (const added of [[at(4, 'reading')], [at(2.5, 'note')], [at(5, 'note'), at(6, 'reading')]]) {
      const next = advanceActive(active, added, [...before, ...added])
      expect(besidesReadings(next)).toEqual(next.filter(({ kind }) => kind !== 'reading'))
      expect(entriesSince(next, START + 2 * HOUR)).toEqual(
        next.filter(({ at: when }) => Date.parse(when) >= START + 2 * HOUR),
      )
    }
    expect(entriesSince(active, START)).toBe(active)
    expect(entriesUntil(active, START + 3 * HOUR)).toBe(active)
    expect(entriesUntil(active, START + 3 * HOUR - 1)).toEqual(active.slice(0, 2))
    expect(entriesUntil(active, START)).toEqual([])
    expect(entriesSince(active, START + 10 * HOUR)).toEqual([])
  })
})

describe('a value that moved too fast', () => {
  const at = (analyte: string, unit: string, values: readonly (readonly [hours: number, value: number])[]) => {
    const { record, active, nowMs } = seen(
      'after-release',
      values.map(([hours, value]) => [hours, { kind: 'reading', analyte, value, unit, bound: 'exact' }] as const),
      200,
      { vesselId: 'longshore' },
    )
    return waterConcerns(record, active, [], nowMs).filter(({ id }) => id.startsWith('fast-'))
  }
  test('is said from the largest change of a day on, against the same hour of the day before', () => {
    expect(
      at('alkalinity', 'dKH', [
        [170, 8],
        [194, 9.1],
      ]),
    ).toMatchObject([
      {
        id: 'fast-longshore-alkalinity',
        title: 'Alkalinity in Longshore rose fast:',
        detail: expect.stringMatching(/from 8 dKH to 9\.1 dKH/),
      },
    ])
    expect(
      at('alkalinity', 'dKH', [
        [170, 8],
        [194, 6.9],
      ])[0]?.title,
    ).toMatch(/fell fast/)
    expect(
      at('alkalinity', 'dKH', [
        [170, 8],
        [194, 9],
      ]),
    ).toEqual([])
    // The swing of pH over a day is none: eight hours apart are not held against each other.
    expect(
      at('ph', 'pH', [
        [186, 7.9],
        [194, 8.4],
      ]),
    ).toEqual([])
    expect(
      at('ph', 'pH', [
        [165, 7.9],
        [194, 8.4],
      ]),
    ).toHaveLength(1)
    expect(
      at('ph', 'pH', [
        [163, 7.9],
        [194, 8.4],
      ]),
    ).toEqual([])
  })
  test('nitrate that falls is no harm, and what is two days old is no news', () => {
    expect(
      at('nitrate', 'mg/L', [
        [170, 20],
        [194, 12],
      ]),
    ).toEqual([])
    expect(
      at('nitrate', 'mg/L', [
        [170, 12],
        [194, 20],
      ]),
    ).toHaveLength(1)
    expect(
      at('temperature', '°C', [
        [124, 25],
        [148, 28],
      ]),
    ).toEqual([])
    expect(
      at('temperature', '°C', [
        [130, 25],
        [154, 28],
      ]),
    ).toHaveLength(1)
  })
})

describe('alkalinity where corals live', () => {
  const unread = (vesselId: string, nowDay: number, days: readonly number[] = []) => {
    const { record, active, nowMs } = seen(
      'after-release',
      days.map(
        (day) =>
          [day * 24 + 1, { kind: 'reading', analyte: 'alkalinity', value: 8, unit: 'dKH', bound: 'exact' }] as const,
      ),
      nowDay * 24 + 2,
      { vesselId },
    )
    return waterConcerns(record, active, [], nowMs).filter(({ id }) => id === `unread-${vesselId}`)
  }
  test('never read in a fortnight it is named, and after two months again; fish and fresh water are not asked', () => {
    // Counted from the day on which the vessel was described.
    expect(unread('longshore', 400)).toMatchObject([
      { tone: 'caution', action: 'test', analytes: ['alkalinity'], title: expect.stringMatching(/was never read:$/) },
    ])
    expect(unread('longshore', 400, [339])).toMatchObject([
      { title: expect.stringMatching(/was not read for 61 days/) },
    ])
    expect(unread('longshore', 400, [341])).toEqual([])
    expect(unread('fernwater', 400)).toEqual([])
    expect(unread('holding-a', 400)).toEqual([])
  })
})

describe('a value that was tested by a rhythm and is not any more', () => {
  const quiet = (days: readonly number[], nowDay: number, analyte = 'alkalinity') => {
    const { record, active, nowMs } = seen(
      'after-release',
      days.map((day) => [day * 24 + 1, { kind: 'reading', analyte, value: 8, unit: 'dKH', bound: 'exact' }] as const),
      nowDay * 24 + 2,
      { vesselId: 'longshore' },
    )
    return waterConcerns(record, active, [], nowMs).filter(({ id }) => id === 'silence-longshore')
  }
  test('three of its gaps and a week are silence; less is none, and two months are given up', () => {
    const everyThird = [0, 3, 6, 9]
    expect(quiet(everyThird, 18)).toEqual([])
    expect(quiet(everyThird, 19)).toMatchObject([
      {
        detail: 'Alkalinity every 3 days, and not for 10. Silence is no “all clear”.',
        tone: 'plain',
        analytes: ['alkalinity'],
      },
    ])
    expect(quiet([0, 1, 2, 3], 10)).toEqual([])
    expect(quiet([0, 1, 2, 3], 11)).toHaveLength(1)
    expect(quiet(everyThird, 69)).toHaveLength(1)
    expect(quiet(everyThird, 70)).toEqual([])
    expect(quiet([0, 3, 6], 40)).toEqual([])
    expect(quiet(everyThird, 19, 'ammonia-total')).toEqual([])
  })
})
