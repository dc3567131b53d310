// Campaigns on a ledger: what is answered, what is asked, what is refused, and what two of them want of one water.
import { describe, expect, test } from '@jest/globals'
import {
  activeEntries,
  campaignState,
  causeChecklist,
  correctionOf,
  documentsOf,
  fights,
  planCourse,
  protocolOf,
  recordOf,
  saltGrams,
  steerState,
  animalGuards,
  livestockBack,
  instantOf,
  type ResidentDocument,
  type CourseDocument,
  type Entry,
  type KeeperRecord,
  type RegisterDocument,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { ask } from './asked.ts'
import { courseDocument, entryAt, ZONE as zone } from './entries.ts'

const NOW = Date.parse('2026-03-20T18:20:00Z')
const HOUR = 3_600_000
const DAY = 24 * HOUR
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone })

function running(protocolId: string, startMs: number, vesselId = 'tub', variantId?: string): CourseDocument {
  return courseDocument('the-course', {
    protocol: protocolOf(protocolId)!,
    vesselId,
    startMs,
    zone,
    residents: [],
    dailyHour: 19,
    ...(variantId === undefined ? {} : { variantId }),
  })
}
const bare = documentsOf(demo).filter(({ register }) => register !== 'course')
const recordWith = (
  course: CourseDocument,
  entries: readonly Entry[],
  more: readonly RegisterDocument[] = [],
): KeeperRecord => recordOf(demo.settings, [...bare, ...more, course], entries)
const made = (ms: number, fields: object): Entry => entryAt(ms, { vesselId: 'tub', courseId: 'the-course', ...fields })
const stateOf = (course: CourseDocument, entries: readonly Entry[], nowMs: number) => {
  const record = recordWith(course, entries)
  return campaignState(record, activeEntries(record.entries), course, nowMs)!
}
const planOf = (course: CourseDocument, entries: readonly Entry[], nowMs: number) => {
  const record = recordWith(course, entries)
  return planCourse(course, {
    record,
    active: activeEntries(record.entries),
    estimates: new Map(),
    nowMs,
    aheadDays: 7,
  })
}

describe('rounds against slugs', () => {
  const start = NOW - 40 * DAY
  const course = running('rounds-montipora-slug', start)
  const round = (number: number, day: number, mobiles: number, eggs = 0): Entry[] => [
    made(start + day * DAY, {
      kind: 'tally',
      measure: 'finds',
      piece: 'plate',
      values: { mobiles, eggs },
      step: `the-course/round/${number}/plate`,
    }),
    made(start + day * DAY + HOUR, { kind: 'done', what: 'Round', step: `the-course/round/${number}` }),
  ]
  const look = (day: number, mobiles = 0): Entry =>
    made(start + day * DAY, {
      kind: 'tally',
      measure: 'finds',
      piece: 'plate',
      values: { mobiles },
      step: `the-course/look/${Math.floor(day / 3) - 8}`,
    })
  const early = [...round(0, 0, 9, 2), ...round(1, 3, 3, 1), ...round(2, 6, 1)]

  test('the next round is three days on, and how many there are follows the last find', () => {
    const { steps } = planOf(course, early, start + 6.5 * DAY)
    const next = steps.find(({ round: work }) => work !== undefined)!
    expect(next.round).toMatchObject({ number: 4, of: 8 })
    expect(Math.round((next.dueMs - start) / DAY)).toBe(9)
    const found = planOf(course, [...early, ...round(3, 9, 0), ...round(4, 12, 2)], start + 12.5 * DAY)
    // A find on day 12 asks for rounds to day 22 and later: one on day 24 is the ninth.
    expect(found.steps.find(({ round: work }) => work !== undefined)!.round!.of).toBe(9)
  })
  test('it is over by its own rule after eight rounds and five clean looks, and the chance says so', () => {
    const all = [
      ...early,
      ...[3, 4, 5, 6, 7].flatMap((number) => round(number, 3 * number, 0)),
      ...[24, 27, 30, 33, 36].map((day) => look(day)),
    ]
    const state = stateOf(course, all, start + 37 * DAY)
    expect(state.counts!.overNow).toBeGreaterThan(0.98)
    expect(state.over).toMatchObject({ tone: 'good' })
    const plan = planOf(course, all, start + 37 * DAY)
    expect(plan.progress.phases[1]!.exitedMs).not.toBeNull()
    // One find among the looks starts the rounds again.
    const again = planOf(course, [...all, look(36.5, 1)], start + 37 * DAY)
    expect(again.progress.current).toBe(0)
    expect(again.steps.some(({ round: work }) => work !== undefined)).toBe(true)
    // Rounds on days 37 to 49 reach past the last egg (ten days after day 36); then the looks are asked for anew.
    const rounds = [37, 40, 43, 46, 49].flatMap((day, i) => round(8 + i, day, 0))
    const after = planOf(course, [...all, look(36.5, 1), ...rounds], start + 50 * DAY)
    expect(after.progress.current).toBe(1)
    expect(after.progress.phases[1]!.enteredMs).toBe(start + 49 * DAY + HOUR)
  })
  test('a count that rises is asked about, and the answer is kept', () => {
    const rising = [...round(0, 0, 4), ...round(1, 3, 9)]
    const state = stateOf(course, rising, start + 4 * DAY)
    expect(state.alarms.map(({ id }) => id)).toContain('count-rose')
    const answered = [
      ...rising,
      made(start + 3.5 * DAY, { kind: 'check', what: 'count-rose', answers: ['missed-treatment'] }),
    ]
    expect(stateOf(course, answered, start + 4 * DAY).alarms.map(({ id }) => id)).not.toContain('count-rose')
  })
  test('many sessions in a week with nothing worse: less may do', () => {
    const many = [0, 1, 2, 3, 4, 5].flatMap((number) => round(number, number, Math.max(0, 9 - 2 * number)))
    expect(stateOf(course, many, start + 5.5 * DAY).effort).toMatchObject({ less: true, sessionsWeek: 6 })
    expect(stateOf(course, early, start + 6.5 * DAY).effort.less).toBe(false)
  })
})

describe('a jar in its phases', () => {
  const start = Date.parse('2027-05-01T09:00:00Z')
  const course = running('jar-fenbendazole-planaria', start, 'fernwater')
  const at = (hours: number, fields: object) =>
    entryAt(start + hours * HOUR, { vesselId: 'fernwater', courseId: 'the-course', ...fields })
  const state = (entries: readonly Entry[], hours: number) => stateOf(course, entries, start + hours * HOUR)
  const begun = at(1, { kind: 'gate', gate: 'jars', passed: true })
  const ammonia = (hours: number, value: number) =>
    at(hours, { kind: 'reading', analyte: 'ammonia-total', value, unit: 'mg/L', bound: 'exact' })
  test('the guards hold from the dose on, not before it', () => {
    expect(state([], 0.5).stop.words).toMatch(/Nothing is guarded just now: test total ammonia/)
    const out = at(1, { kind: 'done', what: 'Snails out', step: 'the-course/evacuate/0' })
    // Its dose is not there before what it kills is out.
    expect(state([begun, ammonia(2, 0.3)], 3).stop.words).toMatch(/Nothing is guarded just now/)
    expect(state([begun, out, ammonia(2, 0.3)], 3).stop).toMatchObject({
      tone: 'danger',
      words: expect.stringMatching(/end it now/),
    })
  })
  test('the undosed jar is no measure of the tank', () => {
    const look = (piece: string, alive: number, dead: number) =>
      at(5, { kind: 'tally', measure: 'jar', piece, values: { 'small-alive': alive, 'small-dead': dead } })
    const { measures } = state([begun, look('dosed', 1, 9), look('undosed', 5, 0)], 5.5)
    expect(measures.find(({ measure }) => measure.id === 'jar')!.points.at(-1)!.value).toBeCloseTo(10, 9)
  })
})

describe('an element raised', () => {
  const start = Date.parse('2027-04-01T10:00:00Z')
  const course = running('raise-potassium', start, 'longshore')
  const potassium = (day: number, value: number) =>
    entryAt(start + day * DAY, {
      kind: 'reading',
      vesselId: 'longshore',
      analyte: 'potassium',
      value,
      unit: 'mg/L',
      bound: 'exact',
    })
  const alkalinity = (day: number, value: number) =>
    entryAt(start + day * DAY, {
      kind: 'reading',
      vesselId: 'longshore',
      analyte: 'alkalinity',
      value,
      unit: 'dKH',
      bound: 'exact',
    })
  const state = (entries: readonly Entry[], day: number) => stateOf(course, entries, start + day * DAY)
  test('days alone never end it: the value that was wanted does', () => {
    expect(state([potassium(-0.1, 335)], 5).over).toMatchObject({
      tone: 'plain',
      words: 'No: potassium 335 mg/L, at least 390 is wanted.',
    })
    expect(state([potassium(-0.1, 335), potassium(4, 389)], 5).over.tone).toBe('plain')
    expect(state([potassium(-0.1, 335), potassium(4, 390)], 5).over).toMatchObject({
      tone: 'good',
      words: expect.stringMatching(/^Yes: potassium 390/),
    })
    expect(state([potassium(-0.1, 335), potassium(4, 395), potassium(9, 371)], 9.5).over).toMatchObject({
      tone: 'caution',
      words: expect.stringMatching(/has fallen again: potassium 371/),
    })
    expect(state([potassium(-0.1, 335), potassium(2, 360)], 2.1).working.words).toBe(
      'Yes: potassium 335 → 360 mg/L in 2 days.',
    )
  })
  test('alkalinity that jumped along is answered by its cause, never by a change of water', () => {
    const { stop } = state([potassium(-0.1, 335), alkalinity(-0.1, 7.6), alkalinity(1, 8.2)], 1.05)
    expect(stop.words).toMatch(
      /act: alkalinity 8.2 dKH. Add nothing more today, turn every other doser of alkalinity off/,
    )
    expect(stop.words).not.toMatch(/Change \d/)
  })
})

describe('dark days', () => {
  const start = NOW - 3 * DAY
  const course = running('dark-3', start, 'longshore')
  const reading = (day: number, analyte: string, value: number): Entry =>
    entryAt(start + day * DAY, { kind: 'reading', vesselId: 'longshore', analyte, value, unit: 'mg/L', bound: 'exact' })
  const calm = [
    ...[-1, 0.2, 1, 2].flatMap((day) => [
      reading(day, 'nitrate', 8),
      reading(day, 'phosphate', 0.08),
      reading(day, 'ammonia-total', 0.02),
    ]),
  ]
  test('nothing moves: no stop; a spike ends it, and so does a forecast before it', () => {
    expect(stateOf(course, calm, start + 2.1 * DAY).stop.tone).toBe('plain')
    const spike = stateOf(course, [...calm, reading(2.05, 'nitrate', 17)], start + 2.1 * DAY)
    expect(spike.stop).toMatchObject({ tone: 'danger' })
    expect(spike.stop.words).toMatch(/end it now: nitrate 17 mg\/L, limit 16/)
    const climbing = [
      reading(-1, 'nitrate', 8),
      reading(0.2, 'nitrate', 8),
      reading(1, 'nitrate', 9.5),
      reading(2, 'nitrate', 11.4),
      reading(2, 'phosphate', 0.08),
    ]
    // One test may be off by its kit: first another one, and who cannot, or has taken it, ends it.
    const asked = stateOf(course, climbing, start + 2.1 * DAY)
    expect(asked.stop.tone).toBe('caution')
    expect(asked.stop.words).toMatch(
      /^Test (once more now|again in twelve hours).*nitrate passes 16 mg\/L by the next test with \d+ %/,
    )
    expect(asked.stop.words).toMatch(/chance of \d+ % that it would not be passed before the planned end/)
    const unanswered = stateOf(course, climbing, start + 2.8 * DAY)
    expect(unanswered.stop).toMatchObject({ tone: 'danger', words: expect.stringMatching(/^End it today/) })
    const sure = [...climbing, reading(2.01, 'nitrate', 13.5), reading(2.02, 'nitrate', 14)]
    expect(stateOf(course, sure, start + 2.1 * DAY).stop).toMatchObject({ tone: 'danger' })
  })
  test('after them the change is sized by what was read, never over half at once', () => {
    const after = start + 3.1 * DAY
    const step = (nitrate: number | null, phosphate: number | null, more: readonly Entry[] = []) => {
      const entries = [
        ...(nitrate === null ? [] : [reading(3, 'nitrate', nitrate)]),
        ...(phosphate === null ? [] : [reading(3, 'phosphate', phosphate)]),
        entryAt(start + 0.02 * DAY, {
          kind: 'gate',
          vesselId: 'longshore',
          courseId: 'the-course',
          gate: 'uncovered',
          passed: true,
          step: 'the-course/uncovered/0',
        }),
        ...more,
      ]
      const record = recordWith(course, entries)
      return planCourse(course, { record, active: activeEntries(record.entries), estimates: new Map(), nowMs: after })
        .steps.filter(({ ruleId, state }) => ruleId === 'changes-after' && state !== 'done')
        .map(({ change, detail }) => ({ fraction: change?.fraction, detail }))
    }
    // By hand: 16 down to 10 in two equal changes: 1 − √(10 ÷ 16) = 0.209…, not under a quarter.
    expect(step(16, 0.08)[0]!.fraction).toBe(0.25)
    // 25 down to 10: 1 − √0.4 = 0.3675…, up to the next twentieth.
    expect(step(25, 0.08)[0]!.fraction).toBe(0.4)
    expect(step(25, 0.08)[0]!.detail).toMatch(/Nitrate 25 → about 15 mg\/L, 9 after both/)
    // Phosphate asks for more than nitrate: 1 − √(0.1 ÷ 0.3) = 0.4226….
    expect(step(12, 0.3)[0]!.fraction).toBe(0.45)
    expect(step(80, 0.08)[0]!.fraction).toBe(0.5)
    expect(step(25, null)[0]!.fraction).toBe(0.5)
    expect(step(25, null)[0]!.detail).toMatch(/not everything was tested/)
    expect(step(25, 0.08)).toHaveLength(2)
    const once = entryAt(start + 3.05 * DAY, {
      kind: 'change',
      vesselId: 'longshore',
      courseId: 'the-course',
      fraction: 0.4,
      step: 'the-course/changes-after/0',
    })
    expect(step(25, 0.08, [once])).toHaveLength(1)
  })
  test('who does not bear it is named from the register and the last walk, and nobody else', () => {
    const asked = (protocolId: string, entries: readonly Entry[]) => {
      const dark = running(protocolId, start, 'tub')
      const record = recordWith(dark, entries)
      const plan = planCourse(dark, {
        record,
        active: activeEntries(entries),
        estimates: new Map(),
        nowMs: start + DAY / 24,
      })
      return plan.steps.find(({ ruleId }) => ruleId === 'never')!.detail
    }
    const coral = [...demo.residents.values()].find(({ body }) => body.vesselId === 'tub' && body.group === 'hg-coral')!
    const walked = (aspects: object): Entry =>
      entryAt(start - DAY, { kind: 'state', vesselId: 'tub', residentId: coral.id, aspects })
    expect(asked('dark-3', [])).not.toContain(coral.body.name)
    // Pale is level 1 of colour and past its line; as it should be is level 2. Shut polyps are no failing coral.
    expect(asked('dark-3', [walked({ colour: 2, extension: 0 })])).not.toContain(coral.body.name)
    expect(asked('dark-3', [walked({ colour: 1 })])).toContain(`${coral.body.name} (colour pale at the last walk)`)
    expect(asked('dark-3', [walked({ tissue: 2 })])).toContain(coral.body.name)
    // Nine days no coral bears; five no Acropora.
    expect(asked('dark-9', [])).toContain(coral.body.name)
  })
  test('a phase that waits for changes of water ends with the last of them, however they were logged', () => {
    const course = running('peroxide-empty-fresh', start, 'fernwater')
    const of = (hours: number, fields: object) =>
      entryAt(start + hours * HOUR, { vesselId: 'fernwater', courseId: 'the-course', ...fields })
    const begun = [
      of(0.1, { kind: 'gate', gate: 'empty', passed: true }),
      of(0.3, { kind: 'dose', productId: 'peroxide', amount: 40, unit: 'mL', step: 'the-course/pour/0' }),
      of(0.5, { kind: 'done', what: 'Ten minutes', step: 'the-course/minutes/0' }),
    ]
    const change = (hours: number, more: object = {}) => of(hours, { kind: 'change', fraction: 0.5, ...more })
    const phase = (entries: readonly Entry[]) => {
      const record = recordWith(course, [...begun, ...entries])
      const plan = planCourse(course, {
        record,
        active: activeEntries(record.entries),
        estimates: new Map(),
        nowMs: start + 3 * HOUR,
      })
      return plan.progress.phases[plan.progress.current!]!.phase.id
    }
    expect(phase([])).toBe('out-again')
    expect(phase([change(0.6)])).toBe('out-again')
    expect(phase([change(0.6), change(1.2)])).toBe('back')
    expect(phase([change(0.6, { step: 'the-course/halves/0' }), change(1.2)])).toBe('back')
    // One from before the phase is none of its own.
    expect(phase([change(0.2), change(1.2)])).toBe('out-again')
  })
  test('a head not found is asked about until it is found or its death is noted', () => {
    const count = (day: number, residentId: string, there: number, gone: number) =>
      entryAt(start + day * DAY, {
        kind: 'tally',
        vesselId: 'longshore',
        courseId: 'the-course',
        measure: 'heads',
        values: { seen: there, missing: gone },
        animals: [{ residentId, there, gone }],
      })
    const alarms = (entries: readonly Entry[]) =>
      stateOf(course, [...calm, ...entries], start + 3.2 * DAY).alarms.filter(({ id }) => id === 'missing')
    const [one] = [...demo.residents.values()].filter(({ body }) => body.vesselId === 'longshore')
    expect(alarms([count(3, one!.id, 1, 0)])).toEqual([])
    expect(alarms([count(3, one!.id, 0, 1)])[0]!.words).toContain(one!.body.name)
    expect(alarms([count(3, one!.id, 0, 1), count(3.1, one!.id, 1, 0)])).toEqual([])
    expect(alarms([count(3, one!.id, 5, 3)])[0]!.words).toContain(`${one!.body.name} (3 of 8)`)
    const death = (n: number) =>
      entryAt(start + 3.1 * DAY, { kind: 'heads', vesselId: 'longshore', residentId: one!.id, change: -n, why: 'died' })
    expect(alarms([count(3, one!.id, 5, 3), death(2)])[0]!.words).toContain(`${one!.body.name} (1 of 8)`)
    expect(alarms([count(3, one!.id, 5, 3), death(3)])).toEqual([])
    // A death before the count explains nothing that was missing at it.
    const before = entryAt(start + 1 * DAY, {
      kind: 'heads',
      vesselId: 'longshore',
      residentId: one!.id,
      change: -3,
      why: 'died',
    })
    expect(alarms([before, count(3, one!.id, 5, 3)])[0]!.words).toContain(`${one!.body.name} (3 of 8)`)
  })
  test('an animal that died is told as a loss; the film is not still there for it', () => {
    const at = (day: number) => start + day * DAY
    const tally = (day: number, measure: string, values: object, animals?: object) =>
      entryAt(at(day), {
        kind: 'tally',
        vesselId: 'longshore',
        courseId: 'the-course',
        measure,
        values,
        ...(animals ? { animals } : {}),
      })
    const [one] = [...demo.residents.values()].filter(({ body }) => body.vesselId === 'longshore')
    const counted = [
      ...[3.2, 3.3].map((day) => entryAt(at(day), { kind: 'change', vesselId: 'longshore', fraction: 0.3 })),
      tally(0.1, 'cover', { points: 46 }),
      tally(16.5, 'cover', { points: 4 }),
      tally(3.1, 'heads', { seen: 3, missing: 2 }, [{ residentId: one!.id, there: 3, gone: 2 }]),
    ]
    const over = (entries: readonly Entry[]) => stateOf(course, entries, at(17.2)).over
    expect(over(counted).tone).toBe('caution')
    expect(over(counted).words).toMatch(/neither found nor noted as dead/)
    const dead = entryAt(at(3.2), {
      kind: 'heads',
      vesselId: 'longshore',
      residentId: one!.id,
      change: -2,
      why: 'died',
    })
    expect(over([...counted, dead])).toMatchObject({
      tone: 'good',
      words: expect.stringContaining(`Lost on the way: ${one!.body.name} (2).`),
    })
    const still = tally(17, 'cover', { points: 30 })
    expect(over([...counted, dead, still]).tone).toBe('caution')
  })
  test('untested is not inside, and a thermometer does not stand for nitrate', () => {
    const warm = entryAt(start + 2.9 * DAY, {
      kind: 'reading',
      vesselId: 'longshore',
      analyte: 'temperature',
      value: 25,
      unit: '°C',
      bound: 'exact',
    })
    const untested = stateOf(
      course,
      [...calm.filter((entry) => Date.parse(entry.at) < start + 1.5 * DAY), warm],
      start + 2.95 * DAY,
    )
    expect(untested.stop.tone).not.toBe('plain')
    expect(untested.stop.words).not.toMatch(/inside its limits/)
    // Phosphate alone was left out.
    const half = calm.filter(
      (entry) => entry.kind !== 'reading' || entry.analyte !== 'phosphate' || Date.parse(entry.at) < start + 0.5 * DAY,
    )
    expect(stateOf(course, half, start + 2.1 * DAY).stop.words).toMatch(
      /phosphate was last tested 46 h ago|daily test is missing/,
    )
  })
  test('an unmoved second day is called worthless, a change is sized, and nothing is left to end after uncovering', () => {
    expect(stateOf(course, calm, start + 2.1 * DAY).stop.words).toMatch(/has not moved by day 2 promises nothing/)
    const act = [...calm, reading(2.05, 'nitrate', 13.2)]
    // 13.2 × 0.75 = 9.9, under the line of 12.
    expect(stateOf(course, act, start + 2.06 * DAY).stop.words).toMatch(/act: nitrate 13.2|Test once more/)
    const tan = [...calm, reading(2.05, 'ammonia-total', 0.12)]
    expect(stateOf(course, tan, start + 2.1 * DAY).stop.words).toMatch(
      /Change 25 % \(\d+ L\) and put carbon in: with new water that holds none of it total ammonia 0.12 falls to about 0.09/,
    )
    const spike = [...calm, reading(2.05, 'nitrate', 17)]
    expect(stateOf(course, spike, start + 5 * DAY).stop).toMatchObject({
      tone: 'caution',
      words: expect.stringMatching(/^The guarded days are over. Still past its limit: nitrate 17/),
    })
  })
  test('a clam on record is named beside the question', () => {
    const question = (group: string) => {
      const clam = {
        ...demo.residents.get('trochus')!,
        body: { ...demo.residents.get('trochus')!.body, name: 'Old clam', group },
      }
      const record = recordOf(
        demo.settings,
        [...documentsOf(demo).filter(({ register, id }) => register !== 'course' && id !== 'trochus'), clam, course],
        demo.entries,
      )
      return planCourse(course, {
        record,
        active: activeEntries(record.entries),
        estimates: new Map(),
        nowMs: start + HOUR,
      }).steps.find(({ ruleId }) => ruleId === 'never')!.detail
    }
    expect(question('hg-clam')).toMatch(/On record here: .*Old clam/)
    expect(question('hg-snail')).not.toMatch(/Old clam/)
  })
  test('the start is what was read around it: an old value far off does not move the lines', () => {
    const old = [reading(-2.5, 'nitrate', 0.5), ...calm]
    const guard = stateOf(course, old, start + 2.1 * DAY).guards.find(({ analyte }) => analyte === 'nitrate')!
    expect(guard).toMatchObject({ startValue: 8, stopAt: 16, actAt: 12 })
    const onlyOld = [reading(-2.5, 'nitrate', 6), reading(1, 'nitrate', 7)]
    expect(stateOf(course, onlyOld, start + 1.1 * DAY).guards[0]).toMatchObject({ startValue: 6 })
  })
  test('one missing daily test is an alarm, two end it', () => {
    const silent = calm.filter((entry) => Date.parse(entry.at) < start + 0.5 * DAY)
    expect(stateOf(course, silent, start + 1.6 * DAY).alarms.find(({ id }) => id === 'silent')).toMatchObject({
      tone: 'caution',
    })
    expect(stateOf(course, silent, start + 2.6 * DAY).stop).toMatchObject({ tone: 'danger' })
  })
  test('alkalinity and temperature move either way, a day’s jump counts by itself, and dawn is held against dawn', () => {
    const stop = (...entries: Entry[]) => stateOf(course, [...calm, ...entries], start + 2.2 * DAY)
    const guard = (analyte: string, ...entries: Entry[]) =>
      stop(...entries).guards.find((one) => one.analyte === analyte)!.verdict
    const alk = (day: number, value: number) => reading(day, 'alkalinity', value)
    expect(guard('alkalinity', alk(-0.5, 8), alk(1, 8.2), alk(2, 8.4))).toBe('calm')
    expect(guard('alkalinity', alk(-0.5, 8), alk(1, 7.8), alk(2, 7.4))).toBe('act')
    expect(guard('alkalinity', alk(-0.5, 8), alk(1.2, 8.4), alk(2.1, 7.3))).toBe('stop')
    expect(guard('alkalinity', alk(-0.5, 8), alk(0.8, 8.8), alk(2.1, 9.5))).toBe('stop')
    const warm = (value: number) => [reading(-0.5, 'temperature', 25), reading(2, 'temperature', value)]
    expect(guard('temperature', ...warm(24.2))).toBe('calm')
    expect(guard('temperature', ...warm(26.1))).toBe('act')
    expect(guard('temperature', ...warm(22.9))).toBe('stop')
    expect(stop(...warm(26.1)).stop.words).toBe(
      'Not yet, but act: temperature 26.1 mg/L. Set the heater; no change of water for this alone.',
    )
    // 18:20 UTC is evening in the keeper's zone; half a day earlier is dawn there.
    const dawn = (day: number, value: number) => reading(day + 0.5, 'ph', value)
    expect(guard('ph', dawn(-3, 8), dawn(-1, 8.1), dawn(1, 7.86))).toBe('calm')
    expect(guard('ph', dawn(-3, 8), dawn(-1, 8.1), dawn(1, 7.84))).toBe('act')
    expect(guard('ph', reading(-1, 'ph', 8.3), reading(2, 'ph', 7.9))).toBe('no-start')
  })
  test('low oxygen needs no start; free ammonia ends it', () => {
    const state = stateOf(course, [...calm, reading(2, 'oxygen', 4.9)], start + 2.2 * DAY)
    expect(state.stop.words).toMatch(/end it now: oxygen 4.9 mg\/L, limit under 5/)
    expect(stateOf(course, [...calm, reading(2, 'ammonia-free', 0.05)], start + 2.2 * DAY).stop.tone).toBe('danger')
  })
  test('animals end it: a fish lost, a tenth of the snails down, flesh that peels; shut corals ask for a change', () => {
    const at = start + 2.2 * DAY
    const resident = (id: string, group: string, count = 1, gone = false): ResidentDocument => ({
      register: 'resident',
      id,
      revision: 1,
      savedAt: '2026-10-01T10:00:00.000Z',
      history: [],
      body: {
        name: id,
        commonName: id,
        scientificName: id,
        group,
        count,
        vesselId: 'longshore',
        arrivedAt: instantOf(start - 90 * DAY),
        ...(gone ? { leftHow: 'died' as const, leftAt: instantOf(start + DAY) } : {}),
      },
    })
    const guards = (residents: ResidentDocument[], entries: Entry[] = []) => {
      const record = recordOf(
        demo.settings,
        [...documentsOf(demo).filter(({ register }) => register !== 'resident'), ...residents],
        entries,
      )
      return Object.fromEntries(
        animalGuards(
          { fishDead: 1, snailsDown: 0.1, coralShutHours: 24 },
          record,
          activeEntries(record.entries),
          'longshore',
          start,
          at,
        ).map(({ id, verdict }) => [id, verdict]),
      )
    }
    const seen = (residentId: string, sign: string, day: number, present = true) =>
      entryAt(start + day * DAY, { kind: 'sign', vesselId: 'longshore', residentId, sign, present })
    const polyps = (day: number, count: number) =>
      entryAt(start + day * DAY, {
        kind: 'count',
        vesselId: 'longshore',
        residentId: 'acro',
        what: 'polyp-extension',
        count,
      })
    expect(guards([resident('damsel', 'hg-clown-damsel')])).toEqual({ fish: 'calm' })
    expect(guards([resident('damsel', 'hg-clown-damsel', 1, true)])).toEqual({ fish: 'stop' })
    const snails = [resident('one', 'hg-snail'), resident('others', 'hg-snail', 9)]
    expect(guards(snails)).toEqual({ snails: 'calm' })
    expect(guards(snails, [seen('one', 'snail-upturned', 1)])).toEqual({ snails: 'stop' })
    expect(guards([...snails, resident('more', 'hg-snail', 2)], [seen('one', 'snail-upturned', 1)])).toEqual({
      snails: 'calm',
    })
    expect(guards(snails, [seen('one', 'snail-upturned', 1), seen('one', 'snail-upturned', 1.1, false)])).toEqual({
      snails: 'calm',
    })
    const acro = [resident('acro', 'hg-coral')]
    expect(guards(acro, [polyps(1, 0)])).toEqual({ corals: 'act' })
    expect(guards(acro, [polyps(1, 0), polyps(2, 1)])).toEqual({ corals: 'calm' })
    expect(guards(acro, [polyps(1.5, 0)])).toEqual({ corals: 'calm' })
    expect(guards(acro, [seen('acro', 'tissue-peeling-sheets', 1)])).toEqual({ peeling: 'stop', corals: 'calm' })
  })
  test('it ends early when it was uncovered, and is judged on day four and seven after', () => {
    const uncovered = [
      ...calm,
      entryAt(start + 2 * DAY, {
        kind: 'gate',
        vesselId: 'longshore',
        courseId: 'the-course',
        gate: 'uncovered',
        passed: true,
      }),
    ]
    expect(planOf(course, uncovered, start + 2.1 * DAY).progress.current).toBe(1)
    const cover = entryAt(start, {
      kind: 'tally',
      vesselId: 'longshore',
      courseId: 'the-course',
      measure: 'cover',
      values: { points: 50 },
    })
    expect(stateOf(course, [...uncovered, cover], start + 3 * DAY).over.words).toMatch(/Not to be judged before day 7/)
  })
})

describe('dinoflagellates by genus', () => {
  const start = NOW - 30 * DAY
  const steps = (variant: string) => {
    const course = running('compete-dinoflagellates', start, 'longshore', variant)
    const gate = entryAt(start + HOUR, {
      kind: 'gate',
      vesselId: 'longshore',
      courseId: 'the-course',
      gate: 'genus',
      passed: true,
    })
    return planOf(course, [gate], start + 2 * HOUR).steps.map(({ ruleId }) => ruleId)
  }
  test('swimmers get ultraviolet, sand dwellers silicate, none both but the small one', () => {
    expect(steps('ostreopsis')).toContain('uv')
    expect(steps('ostreopsis')).not.toContain('silicate')
    expect(steps('amphidinium-large')).toContain('silicate')
    expect(steps('amphidinium-large')).not.toContain('uv')
    expect(steps('amphidinium-small')).toEqual(expect.arrayContaining(['uv', 'silicate']))
  })
  test('nothing of the plan comes before the genus is named', () => {
    const course = running('compete-dinoflagellates', start, 'longshore')
    expect(planOf(course, [], start + 5 * DAY).progress.current).toBe(0)
    expect(planOf(course, [], start + 5 * DAY).steps.map(({ ruleId }) => ruleId)).not.toContain('nutrients')
  })
  test('three flat weeks say so, and what brings it back is noticed', () => {
    const course = running('compete-dinoflagellates', start, 'longshore')
    const slide = (day: number): Entry =>
      entryAt(start + day * DAY, {
        kind: 'tally',
        vesselId: 'longshore',
        courseId: 'the-course',
        measure: 'slide',
        values: { diatom: 20 - (day % 2), green: 2, dinoflagellate: 80 },
      })
    const flat = [0, 7, 14, 21].map(slide)
    const zero = [24, 26].map((day) =>
      entryAt(start + day * DAY, {
        kind: 'reading',
        vesselId: 'longshore',
        analyte: 'nitrate',
        value: 0.5,
        unit: 'mg/L',
        bound: 'below',
      }),
    )
    const state = stateOf(course, [...flat, ...zero], start + 27 * DAY)
    expect(state.working).toMatchObject({ tone: 'caution' })
    expect(state.working.words).toMatch(/three weeks/)
    expect(state.alarms.map(({ id }) => id)).toContain('relapse-nutrients')
  })
  test('each thing that brings it back is noticed by itself, and its opposite is not', () => {
    const course = running('compete-dinoflagellates', start, 'longshore')
    const flat = [0, 7, 14, 21].map((day) =>
      entryAt(start + day * DAY, {
        kind: 'tally',
        vesselId: 'longshore',
        courseId: 'the-course',
        measure: 'slide',
        values: { diatom: 20, green: 2, dinoflagellate: 80 },
      }),
    )
    const relapses = (fields: object) =>
      stateOf(course, [...flat, entryAt(start + 25 * DAY, { vesselId: 'longshore', ...fields })], start + 27 * DAY)
        .alarms.map(({ id }) => id)
        .filter((id) => id.startsWith('relapse-'))
    expect(relapses({ kind: 'change', fraction: 0.3, entered: { value: 30, unit: '%' } })).toEqual(['relapse-change'])
    expect(relapses({ kind: 'change', fraction: 0.25, entered: { value: 25, unit: '%' } })).toEqual([])
    expect(relapses({ kind: 'equipment', item: 'uv', on: false })).toEqual(['relapse-uv'])
    expect(relapses({ kind: 'equipment', item: 'uv', on: true })).toEqual([])
    expect(relapses({ kind: 'equipment', item: 'phosphate-media', on: true })).toEqual(['relapse-phosphate-media'])
    expect(relapses({ kind: 'equipment', item: 'phosphate-media', on: false })).toEqual([])
  })
  test('one that raises nutrients beside one that lowers them is said', () => {
    const course = running('compete-dinoflagellates', start, 'longshore')
    const record = recordWith(course, [])
    const down = protocolOf('pull-hair-algae')!.campaign!.wants
    const words = fights(record, { id: 'new', vesselId: 'longshore', wants: down }, NOW)
    expect(words.join(' ')).toMatch(/wants nitrate down, “Dinoflagellates: feed their rivals” wants it up/)
    expect(fights(record, { id: 'new', vesselId: 'tub', wants: down }, NOW)).toEqual([])
  })
})

describe('spot treatment', () => {
  test('what may be poured today stays under the ceiling of this water with what is left', () => {
    const course = demo.courses.get('tufts-fernwater')!
    const active = activeEntries(demo.entries)
    const { steps } = planCourse(course, { record: demo, active, estimates: new Map(), nowMs: NOW, aheadDays: 3 })
    const spot = steps.find(({ spot: work }) => work !== undefined)!.spot!
    // Shrimps live there: 2.5 mg/L.
    expect(spot.ceilingMgPerL).toBe(2.5)
    expect((Math.min(spot.wishMl, spot.mostMl) * 30) / spot.volumeL + spot.leftMgPerL).toBeLessThanOrEqual(2.5 + 1e-9)
    const state = campaignState(demo, active, course, NOW)!
    expect(state.arms.map(({ a }) => a.arm)).toEqual(['in-water', 'out-of-water'])
    expect(state.expect).toMatch(/white/)
  })
})

describe('causes', () => {
  test('the record answers what it can, the rest is asked, and the keeper’s own answer rules', () => {
    const active = activeEntries(demo.entries)
    const before = causeChecklist(demo, active, 'longshore', NOW)
    expect(before.find(({ cause }) => cause.id === 'rc-no3-zero')).toMatchObject({ answer: 'yes', by: 'record' })
    expect(before.find(({ cause }) => cause.id === 'rc-young')).toMatchObject({ answer: 'no', by: 'record' })
    expect(before.find(({ cause }) => cause.id === 'rc-light')).toMatchObject({ answer: 'ask', by: null })
    expect(before.map(({ cause }) => cause.id)).not.toContain('rc-co2')
    const told = [
      ...active,
      entryAt(NOW - HOUR, { kind: 'check', vesselId: 'longshore', what: 'rc-light', answers: ['yes'] }),
    ]
    const after = causeChecklist(demo, told, 'longshore', NOW)
    expect(after.find(({ cause }) => cause.id === 'rc-light')).toMatchObject({ answer: 'yes', by: 'keeper' })
    // Flagged ones first, the heavier first.
    const flagged = after.filter(({ answer }) => answer === 'yes')
    expect(after.slice(0, flagged.length)).toEqual(flagged)
    expect(flagged[0]!.cause.weight).toBe(Math.max(...flagged.map(({ cause }) => cause.weight)))
  })
})

describe('steering on a ledger', () => {
  const active = activeEntries(demo.entries)
  test('nitrate: use from tests and additions, the day’s limit, grams by the net volume', () => {
    const state = steerState(demo, active, 'longshore', 'nitrate', NOW)!
    expect(state.use!.perDay).toBeGreaterThan(0.9)
    // The limit holds for the net change: what is used up in a day comes on top.
    expect(state.raisedToday).toBe(0)
    expect(state.rise - state.use!.perDay).toBeCloseTo(correctionOf('nitrate')!.perDay, 9)
    // 200 L by 2 mg/L is 0.55 g of sodium nitrate.
    expect(saltGrams(2, correctionOf('nitrate')!.salts[0]!, 200)).toBeCloseTo(0.548, 3)
    expect(saltGrams(40, correctionOf('potassium')!.salts[0]!, 200)).toBeCloseTo(15.25, 1)
    expect(saltGrams(0.5, correctionOf('alkalinity')!.salts[0]!, 150)).toBeCloseTo(2.25, 2)
  })
  test('over the most of a day is blocked, faster than usual warned, untested blocked', () => {
    const state = steerState(demo, active, 'longshore', 'nitrate', NOW)!
    const asked = (correction: string, rise: number, record = demo) => {
      const salt = correctionOf(correction)!.salts[0]!
      const grams = saltGrams(rise, salt, state.volumeL!)
      return ask(
        record,
        { kind: 'correction', vesselId: 'longshore', correction, salt: salt.id, grams: `${grams} g` },
        NOW,
      )
    }
    const levels = (rise: number) => asked('nitrate', rise).map(({ level }) => level)
    expect(levels(1)).toEqual([])
    const { perDay } = state.use!
    expect(levels(2 + perDay)).toEqual([])
    expect(levels(3 + perDay)).toEqual(['warn'])
    expect(levels(6 + perDay)).toEqual(['block'])
    const scale = entryAt(NOW - HOUR, {
      kind: 'reading',
      vesselId: 'longshore',
      analyte: 'nitrate',
      value: 50,
      unit: 'mg/L',
      bound: 'above',
    })
    const off = { ...demo, entries: [...demo.entries, scale] }
    expect(asked('nitrate', 1, off).map(({ rule }) => rule)).toEqual(['correction-off-scale'])
    expect(asked('potassium', 5).map(({ rule }) => rule)).toContain('correction-untested')
  })
  test('a salt that brings alkalinity along is held to the day’s limit of alkalinity too, all portions together', () => {
    const salt = correctionOf('potassium')!.salts.find(({ id }) => id === 'potassium-bicarbonate')!
    const litres = steerState(demo, active, 'longshore', 'nitrate', NOW)!.volumeL!
    const read = entryAt(NOW - HOUR, {
      sampleId: 'vial',
      kind: 'reading',
      vesselId: 'longshore',
      analyte: 'potassium',
      value: 350,
      unit: 'mg/L',
      bound: 'exact',
    })
    const poured = (rise: number, hoursAgo: number) =>
      entryAt(NOW - hoursAgo * HOUR, {
        kind: 'tally',
        vesselId: 'longshore',
        measure: 'add-potassium',
        values: { rise, grams: 1 },
        note: salt.label,
      })
    const asked = (rise: number, entries: Entry[] = []) =>
      ask(
        { ...demo, entries: [...demo.entries, read, ...entries] },
        {
          kind: 'correction',
          vesselId: 'longshore',
          correction: 'potassium',
          salt: salt.id,
          grams: `${saltGrams(rise, salt, litres)} g`,
        },
        NOW,
      ).map(({ level, rule }) => `${level} ${rule}`)
    // 0.072 dKH for each mg/L: 5 mg/L are 0.36 dKH, 8 are 0.58 over the pace of 0.5, 15 are 1.08 over the most of 1.
    expect(asked(5)).toEqual([])
    expect(asked(8)).toEqual(['warn side-effect'])
    expect(asked(15)).toContain('block side-effect')
    expect(asked(5, [poured(10, 3)])).toContain('block side-effect')
    expect(asked(5, [poured(10, 30)])).toEqual([])
  })
  test('silicate waits for the day’s test', () => {
    expect(steerState(demo, active, 'longshore', 'silicate', NOW)!.silicate!.verdict).toBe('test')
    const tested = [
      ...active,
      entryAt(NOW - HOUR / 2, {
        kind: 'reading',
        vesselId: 'longshore',
        analyte: 'silicate',
        value: 0.1,
        unit: 'mg/L',
        bound: 'below',
      }),
    ]
    const state = steerState(demo, tested, 'longshore', 'silicate', NOW)!
    expect(state.silicate).toMatchObject({ verdict: 'dose', atLeast: true })
    expect(state.rise).toBeGreaterThan(1)
  })
})

describe('an ended campaign', () => {
  test('anemones: seven passes, zero twice, and the share that each pass really took', () => {
    const course = demo.courses.get('anemones-spring')!
    const state = campaignState(demo, activeEntries(demo.entries), course, Date.parse(course.body.endedAt!))!
    expect(state.measures[0]!.points.map(({ value }) => value)).toEqual([67, 20, 8, 3, 1, 0, 0])
    expect(state.over.tone).toBe('good')
    expect(state.removal!.share).toBeGreaterThan(0.6)
  })
})

describe('steps of a campaign', () => {
  const stepsOf = (protocolId: string, startMs: number, entries: readonly Entry[], nowMs: number, variant?: string) =>
    planOf(running(protocolId, startMs, 'tub', variant), entries, nowMs).steps

  test('counts on fixed days stand on the calendar; one made without its step fills its window', () => {
    const start = NOW - 3 * DAY
    const passes = (entries: readonly Entry[]) =>
      stepsOf('tray-glass-anemone', start, entries, NOW).filter(({ ruleId }) => ruleId === 'pass')
    const days = passes([]).map(({ dueMs }) => Math.abs(Math.round((dueMs - start) / DAY)))
    // The first was missed, and the second is due since: it says more.
    expect(days).toEqual([2, 4, 7])
    const free = made(start + 2 * DAY, {
      kind: 'tally',
      measure: 'rock-count',
      piece: 'arch',
      values: { before: 4, removed: 4 },
    })
    expect(passes([free]).find(({ key }) => key.endsWith('/1'))).toMatchObject({ state: 'done', entryId: free.id })
    expect(passes([]).find(({ key }) => key.endsWith('/1'))!.state).not.toBe('done')
  })
  describe('a pass over the rocks', () => {
    const start = NOW - 6 * DAY
    const counted = (day: number, piece: string, before: number, removed: number) =>
      made(start + day * DAY, { kind: 'tally', measure: 'rock-count', piece, values: { before, removed } })
    const pass = (entries: readonly Entry[], number: number) =>
      stepsOf('tray-glass-anemone', start, entries, start + 2.2 * DAY).find(({ key }) =>
        key.endsWith(`/pass/${number}`),
      )!
    const first = [counted(0.2, 'arch', 8, 6), counted(0.2, 'slab', 4, 4), counted(0.2, 'ledge', 2, 2)]
    test('is over when every rock of the passes before was counted, and names the ones that are left', () => {
      const one = pass([...first, counted(2, 'arch', 3, 3)], 1)
      expect(one.state).not.toBe('done')
      expect(one.detail).toMatch(/Not every rock was counted: slab, ledge are left/)
      const all = [...first, counted(2, 'arch', 3, 3), counted(2, 'slab', 0, 0), counted(2, 'ledge', 1, 1)]
      expect(pass(all, 1).state).toBe('done')
    })
    test('different rocks on two days are never held against each other', () => {
      const course = running('tray-glass-anemone', start, 'tub')
      const state = (entries: readonly Entry[]) => stateOf(course, entries, start + 3 * DAY).removal!
      // Twelve on one rock, then none on another: nothing says how well a pass works.
      const unlike = state([counted(0.2, 'arch', 12, 6), counted(2, 'slab', 0, 0)])
      expect(unlike.left).toBeGreaterThan(5)
      // The same rock: six were left, two are there.
      const like = state([counted(0.2, 'arch', 12, 6), counted(2, 'arch', 2, 2)])
      expect(like.share).toBeGreaterThan(unlike.share)
    })
  })
  test('a walk twice a day has its second time after dark', () => {
    const start = NOW - DAY / 4
    const run = made(start + HOUR, { kind: 'done', what: 'Brown jelly', step: 'the-course/run/0' })
    const walks = stepsOf('jelly-run', start, [run], NOW).filter(({ ruleId }) => ruleId === 'walk')
    expect(walks.length).toBeGreaterThan(4)
    const hours = walks.slice(0, 4).map(({ dueMs }) => new Date(dueMs).getUTCHours())
    expect(new Set(hours).size).toBe(2)
  })
  test('an emergency says where it stands, and is over with its last moment', () => {
    const moment = (id: string, minutes: number) =>
      made(NOW + minutes * 60_000, { kind: 'done', what: id, step: `the-course/run/0/${id}` })
    const step = (entries: readonly Entry[]) =>
      stepsOf('jelly-run', NOW, entries, NOW + HOUR).find(({ ruleId }) => ruleId === 'run')!
    expect(step([]).detail).toMatch(/9 things, one at a time/)
    expect(step([moment('pumps', 1), moment('siphon', 12)]).detail).toMatch(/2 of 9 done\. Next: Slide the bowl/)
    const ended = [moment('pumps', 1), made(NOW + 50 * 60_000, { kind: 'done', what: 'All', step: 'the-course/run/0' })]
    expect(step(ended).state).toBe('done')
  })
  test('a task of every day that was missed yesterday is today’s task, not two', () => {
    const start = NOW - 5 * DAY
    const gate = made(start + HOUR, { kind: 'gate', gate: 'genus', passed: true })
    const floss = stepsOf('compete-dinoflagellates', start, [gate], NOW + 2 * HOUR).filter(
      ({ ruleId }) => ruleId === 'floss',
    )
    expect(floss.map(({ state }) => state)).not.toContain('late')
    expect(floss.filter(({ state }) => state === 'due')).toHaveLength(1)
  })
  test('pouring both nutrients does the day’s step of both, one alone does not', () => {
    const start = NOW - 5 * DAY
    const gate = made(start + HOUR, { kind: 'gate', gate: 'genus', passed: true })
    const poured = (id: string) =>
      made(NOW - HOUR, { kind: 'tally', measure: `add-${id}`, values: { rise: 1, grams: 0.1 } })
    const today = (entries: readonly Entry[]) =>
      stepsOf('compete-dinoflagellates', start, [gate, ...entries], NOW + 2 * HOUR).find(
        ({ ruleId, dueMs }) => ruleId === 'nutrients' && Math.abs(dueMs - NOW) < DAY / 2,
      )!
    expect(today([poured('nitrate')])).toMatchObject({ state: 'due', steers: ['nitrate', 'phosphate'] })
    expect(today([poured('nitrate'), poured('phosphate')]).state).toBe('done')
  })
  test('a spot treatment with no room under the ceiling leaves nothing to pour', () => {
    const course = demo.courses.get('tufts-fernwater')!
    const flood = entryAt(NOW - 10 * 60_000, {
      kind: 'dose',
      vesselId: 'fernwater',
      courseId: course.id,
      productId: 'peroxide-3',
      amount: 6.5,
      unit: 'mL',
    })
    const record = recordOf(demo.settings, documentsOf(demo), [...demo.entries, flood])
    const { steps } = planCourse(course, {
      record,
      active: activeEntries(record.entries),
      estimates: new Map(),
      nowMs: NOW,
    })
    expect(steps.find(({ spot }) => spot)!.spot!.mostMl).toBeLessThan(0.4)
  })
})

describe('animals back, one by one', () => {
  const start = NOW - 100 * DAY
  const course = running('compete-dinoflagellates', start, 'longshore')
  const back = protocolOf('compete-dinoflagellates')!.campaign!.back!
  const resident = (id: string, group: string, scientificName: string, insurance = false): ResidentDocument => ({
    register: 'resident',
    id,
    revision: 1,
    savedAt: '2026-01-01T10:00:00.000Z',
    history: [],
    body: {
      name: id,
      commonName: id,
      scientificName,
      group,
      count: 1,
      vesselId: 'longshore',
      arrivedAt: instantOf(start - 90 * DAY),
      ...(insurance ? { insuranceFor: 'longshore' } : {}),
    },
  })
  const residents = [
    resident('tang', 'hg-tang', 'Zebrasoma flavescens'),
    resident('snails', 'hg-snail', 'Tectus fenestratus'),
    resident('staghorn', 'hg-coral', 'Acropora millepora'),
    resident('toadstool', 'hg-coral', 'Sarcophyton glaucum'),
    resident('piece', 'hg-coral', 'Acropora tenuis', true),
  ]
  const move = (residentId: string, day: number, toVesselId: string) =>
    entryAt(start + day * DAY, {
      kind: 'move',
      vesselId: toVesselId === 'longshore' ? 'tub' : 'longshore',
      residentId,
      toVesselId,
    })
  const out = residents.map(({ id }) => move(id, 2, 'tub'))
  const gate = entryAt(start + 90 * DAY, {
    kind: 'gate',
    vesselId: 'longshore',
    courseId: 'the-course',
    gate: 'snail',
    passed: true,
  })
  const list = (entries: readonly Entry[], nowMs = NOW, courses: readonly CourseDocument[] = []) => {
    const record = recordOf(
      demo.settings,
      [...bare.filter(({ register }) => register !== 'resident'), ...residents, course, ...courses],
      entries,
    )
    return livestockBack(back, record, activeEntries(record.entries), course, nowMs)
  }
  const days = (entries: readonly Entry[]) =>
    list(entries).map(({ resident: { id }, fromMs }) => [
      id,
      fromMs === null ? null : Math.round((fromMs - start) / DAY),
    ])

  test('nobody comes back before the test snail has lived', () => {
    expect(days(out).every(([, from]) => from === null)).toBe(true)
    expect(list(out)[0]!.words).toMatch(/snail in a cage/)
  })
  test('then grazers smallest first a fortnight apart, hardy corals, sensitive ones four weeks on, insurance last', () => {
    expect(days([...out, gate])).toEqual([
      ['snails', 90],
      ['tang', 104],
      ['staghorn', 118],
      ['toadstool', 90],
      ['piece', null],
    ])
  })
  test('who runs through a course elsewhere is released by that course; a fallow keeps fish out', () => {
    const other: CourseDocument = {
      ...running('observe-only', start, 'tub'),
      id: 'other',
      body: { ...running('observe-only', start, 'tub').body, residents: ['snails'] },
    }
    const fallow: CourseDocument = { ...running('fallow-display-76', NOW - 20 * DAY, 'longshore'), id: 'fallow' }
    const atHome = running('light-steps', start, 'longshore')
    const home: CourseDocument = { ...atHome, id: 'home', body: { ...atHome.body, residents: ['staghorn'] } }
    const found = list([...out, gate], NOW, [other, fallow, home])
    expect(found.map(({ resident: { id }, courseId, fromMs }) => [id, courseId, fromMs === null])).toEqual([
      ['snails', 'other', true],
      ['tang', 'fallow', true],
      ['staghorn', undefined, false],
      ['toadstool', undefined, false],
      ['piece', undefined, true],
    ])
  })
  test('the last grazer that came back sets the pace; the insurance comes when all others are back', () => {
    expect(days([...out, gate, move('snails', 95, 'longshore')])[0]).toEqual(['tang', 109])
    const all = ['snails', 'tang', 'staghorn', 'toadstool'].map((id, i) => move(id, 91 + 2 * i, 'longshore'))
    expect(days([...out, gate, ...all]).map(([id]) => id)).toEqual(['piece'])
    expect(days([...out, gate, ...all])[0]![1]).not.toBeNull()
    // While one of them is out, the insurance has no day.
    const some = all.slice(0, 3)
    expect(days([...out, gate, ...some]).find(([id]) => id === 'piece')![1] ?? null).toBeNull()
  })
})
