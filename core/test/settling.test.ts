// Courses without a drug: looks answered with one press, light and salinity in steps, what stops an introduction.
import { describe, expect, test } from '@jest/globals'
import {
  activeEntries,
  concernsOf,
  newCourseBody,
  plan,
  protocolCalendar,
  protocolLibrary,
  protocolOf,
  recordOf,
  documentsOf,
  settingValues,
  type CourseDocument,
  type Entry,
  type RuleOf,
  type Step,
} from '@brinvo/core'
import { firstOf } from '../src/protocols/unlike.ts'
import { demoRecord } from '@brinvo/core/demo'
import { ask } from './asked.ts'
import { courseDocument, entryAt, ZONE as zone } from './entries.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const HOUR = 3_600_000
const DAY = 24 * HOUR
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone })
const made = (ms: number, fields: object): Entry => entryAt(ms, { vesselId: 'tub', ...fields })

function started(
  protocolId: string,
  startMs: number,
  parameters: Record<string, number> = {},
  vesselId = 'tub',
  variantId?: string,
): CourseDocument {
  return courseDocument(`run-${protocolId}`, {
    protocol: protocolOf(protocolId)!,
    vesselId,
    startMs,
    zone,
    residents: ['montipora'],
    parameters,
    ...(variantId === undefined ? {} : { variantId }),
  })
}
function steps(
  course: CourseDocument,
  entries: readonly Entry[],
  nowMs: number,
): { steps: readonly Step[]; finished: boolean; aborts: readonly string[] } {
  const record = recordOf(
    demo.settings,
    [...documentsOf(demo).filter(({ register }) => register !== 'course'), course],
    [...demo.entries, ...entries],
  )
  const [only] = plan({ record, active: activeEntries(record.entries), estimates: new Map(), nowMs, aheadDays: 30 })
  return {
    steps: only!.steps,
    finished: only!.progress.finishedMs !== null,
    aborts: only!.progress.aborts.map(({ id }) => id),
  }
}
const open = (all: readonly Step[], ruleId: string) =>
  all.filter((step) => step.ruleId === ruleId && step.state !== 'done')

describe('values of a setting', () => {
  const light = protocolOf('light-steps')!.phases[0]!.rules[0] as RuleOf<'setting'>
  test('light from 80 to 240 takes sixteen days in steps of at most 15 %', () => {
    // Handbook 40.8, its own check.
    const values = settingValues(light, { 'start-par': 80, 'target-par': 240 })
    expect(values.map(({ day, value }) => [day, Math.round(value)])).toEqual([
      [0, 80],
      [2, 92],
      [4, 105],
      [6, 121],
      [8, 139],
      [10, 159],
      [12, 182],
      [14, 209],
      [16, 240],
    ])
    for (let i = 1; i < values.length; i++)
      expect(values[i]!.value / values[i - 1]!.value).toBeLessThanOrEqual(1.15 + 1e-9)
  })
  test.each([
    [1.5, 7],
    [2, 10],
    [4, 20],
  ])('a ratio of %d takes %d days', (ratio, days) => {
    expect(settingValues(light, { 'start-par': 100, 'target-par': 100 * ratio }).at(-1)!.day).toBe(days)
  })
  test('salinity goes in equal steps of at most the day’s limit, up and down', () => {
    const salinity = protocolOf('salinity-steps')!.phases[0]!.rules[0] as RuleOf<'setting'>
    // It stands at 35 already: the first thing to do is the first step, and a box without fish is brought there in one.
    const down = settingValues(salinity, { 'from-psu': 35, 'to-psu': 32.5, 'per-day': 1, 'rest-days': 0 })
    expect(down).toEqual([
      { day: 0, value: 35 - 2.5 / 3 },
      { day: 1, value: 35 - 5 / 3 },
      { day: 2, value: 32.5 },
    ])
    expect(settingValues(salinity, { 'from-psu': 35.5, 'to-psu': 30.5, 'per-day': 40, 'rest-days': 0 })).toEqual([
      { day: 0, value: 30.5 },
    ])
    // After a move nothing is turned on the first evening.
    const back = settingValues(salinity, { 'from-psu': 30.5, 'to-psu': 32, 'per-day': 1, 'rest-days': 1 })
    expect(back.map(({ day }) => day)).toEqual([1, 2])
    expect(settingValues(salinity, { 'from-psu': 35, 'to-psu': 35, 'per-day': 1, 'rest-days': 0 })).toHaveLength(1)
    expect(() => settingValues(salinity, { 'from-psu': 35, 'rest-days': 0 })).toThrow(/no "to-psu"/)
  })
})

describe('the first day after release', () => {
  const startMs = NOW - 20 * 60_000
  const course = started('after-release', startMs)
  test('a look is due after a quarter of an hour, answered with one press, and then the next stands', () => {
    const before = steps(course, [], NOW)
    const look = open(before.steps, 'look')[0]!
    expect(look).toMatchObject({ state: 'due', key: 'run-after-release/look/0' })
    expect(look.check!.answers.map(({ id }) => id)).toContain('breathing-fast')
    const answered = made(NOW, { kind: 'check', what: 'look', answers: ['fine'], courseId: course.id, step: look.key })
    const after = steps(course, [answered], NOW + 60_000)
    expect(open(after.steps, 'look')[0]).toMatchObject({ key: 'run-after-release/look/1', state: 'ahead' })
    expect(open(after.steps, 'look')[0]!.dueMs).toBe(startMs + HOUR)
  })
  test('a missed look gives way to the later one, and the next morning is the keeper’s', () => {
    const late = open(steps(course, [], startMs + 5 * HOUR).steps, 'look')
    expect(late.map(({ key }) => key)).toEqual(['run-after-release/look/2', 'run-after-release/look/3'])
    expect(new Date(late[1]!.dueMs).toISOString().slice(0, 10)).toBe('2026-11-24')
  })
  test('fast breathing stops it with what to do', () => {
    const fast = made(NOW, { kind: 'check', what: 'look', answers: ['breathing-fast'], courseId: course.id })
    expect(steps(course, [fast], NOW + HOUR).aborts).toEqual(['breathing'])
    expect(steps(course, [fast], NOW + 30 * HOUR).aborts).toEqual([])
  })
})

describe('steps that wait for what really happened', () => {
  const startMs = NOW - 3 * DAY
  const course = started('light-steps', startMs, { 'start-par': 80, 'target-par': 240 })
  const done = (i: number, ms: number) =>
    made(ms, { kind: 'done', what: 'Light', courseId: course.id, step: `${course.id}/light/${i}` })
  test('a step done late moves the ones behind it', () => {
    const entries = [done(0, startMs), done(1, NOW)]
    const next = open(steps(course, entries, NOW + HOUR).steps, 'light')
    expect(next[0]).toMatchObject({ state: 'ahead', dueMs: NOW + 2 * DAY })
    expect(next[0]!.title).toMatch(/105/)
    expect(next[1]!.dueMs).toBe(NOW + 4 * DAY)
  })
  test('a pale coral takes it back one step and holds it four days', () => {
    const entries = [
      done(0, startMs),
      done(1, startMs + 2 * DAY),
      made(NOW, { kind: 'sign', sign: 'colour-pale', present: true }),
    ]
    const next = open(steps(course, entries, NOW + HOUR).steps, 'light')
    expect(next[0]).toMatchObject({ state: 'waiting', title: 'Light at its place: back to 80 µmol/m²/s' })
    expect(next[1]!.dueMs).toBe(NOW + 4 * DAY)
  })
  test('every step done ends the course', () => {
    const entries = Array.from({ length: 9 }, (_, i) => done(i, startMs + i * HOUR))
    expect(steps(course, entries, NOW).finished).toBe(true)
    expect(steps(course, entries.slice(0, 8), NOW).finished).toBe(false)
  })
  test('salinity steps name the litres of fresh water or the grams of salt', () => {
    const down = started('salinity-steps', NOW, { 'from-psu': 35, 'to-psu': 33, 'per-day': 1 })
    const first = done(0, NOW)
    expect(open(steps(down, [], NOW + HOUR).steps, 'salinity')[0]!).toMatchObject({
      state: 'due',
      title: 'Salinity to 34 PSU',
      setting: { from: 35, value: 34 },
      detail: expect.stringMatching(/Replace 1\.\d L of 4\d L with fresh water/),
    })
    const second = open(
      steps(down, [{ ...first, courseId: down.id, step: `${down.id}/salinity/0` } as Entry], NOW + HOUR).steps,
      'salinity',
    )[0]!
    expect(second.detail).toMatch(/Replace 1\.\d L of 4\d L with fresh water/)
    const up = started('salinity-steps', NOW, { 'from-psu': 33, 'to-psu': 35, 'per-day': 1 })
    expect(
      open(
        steps(up, [{ ...first, courseId: up.id, step: `${up.id}/salinity/0` } as Entry], NOW + HOUR).steps,
        'salinity',
      )[0]!.detail,
    ).toMatch(/Dissolve \d+ g/)
  })
})

describe('an introduction', () => {
  const startMs = NOW - 5 * DAY
  const course = started('introduce-box', startMs, { 'box-days': 3 })
  const opened = made(startMs + DAY, { kind: 'gate', gate: 'open-box', passed: true, courseId: course.id })
  test('the box stays shut for the days that were chosen, whatever was answered', () => {
    expect(steps(course, [opened], startMs + 2 * DAY).steps.some(({ ruleId }) => ruleId === 'release-look')).toBe(false)
    expect(steps(course, [opened], startMs + 3.1 * DAY).steps.some(({ ruleId }) => ruleId === 'release-look')).toBe(
      true,
    )
  })
  test('thirty chases in ten minutes part them', () => {
    const many = made(NOW, { kind: 'count', what: 'chases-10min', count: 31, courseId: course.id })
    const meal = made(NOW - HOUR, { kind: 'meal', took: 'took' })
    expect(steps(course, [opened, meal, many], NOW + HOUR).aborts).toEqual(['chase-hard'])
    const three = [1, 2, 3].map((i) =>
      made(NOW - i * HOUR, { kind: 'count', what: 'chases-10min', count: 12, courseId: course.id }),
    )
    expect(steps(course, [opened, meal, ...three], NOW + HOUR).aborts).toEqual(['chase-often'])
  })
  test('a parameter outside its limits is refused with them', () => {
    expect(() => started('introduce-box', NOW, { 'box-days': 40 })).toThrow(/outside 1 to 14 days/)
  })
})

describe('neutral ground', () => {
  const startMs = NOW - 20 * DAY
  // One lives in the display, one in the tub; both are fish.
  const rival = demo.residents.get('azure-damsel')!
  const newcomer = demo.residents.get('clown-small')!
  const inTub = { ...newcomer, body: { ...newcomer.body, vesselId: 'tub' } }
  const course: CourseDocument = {
    ...started('introduce-neutral', startMs, {}, 'longshore'),
    body: newCourseBody({
      protocol: protocolOf('introduce-neutral')!,
      vesselId: 'longshore',
      startMs,
      zone,
      residents: [rival.id, newcomer.id],
      vessels: { neutral: 'holding-b' },
    }),
  }
  const move = (day: number, residentId: string, vesselId: string, toVesselId: string): Entry =>
    entryAt(startMs + day * DAY, { kind: 'move', vesselId, residentId, toVesselId })
  const at = (entries: readonly Entry[], day: number) => {
    const record = recordOf(
      demo.settings,
      [...documentsOf(demo).filter(({ register, id }) => register !== 'course' && id !== inTub.id), inTub, course],
      [...demo.entries.filter(({ kind }) => kind !== 'move'), ...entries],
    )
    return plan({ record, active: activeEntries(record.entries), estimates: new Map(), nowMs: startMs + day * DAY })[0]!
  }
  const both = [move(1, rival.id, 'longshore', 'holding-b'), move(1, newcomer.id, 'tub', 'holding-b')]
  const phase = (entries: readonly Entry[], day: number) => at(entries, day).progress.current
  test('it is not begun with nobody: without animals it would never end', () => {
    const asked = (residents: readonly string[]) =>
      ask(
        demo,
        {
          kind: 'course',
          id: 'meet',
          vesselId: 'longshore',
          instrumentId: null,
          body: { ...course.body, startedAt: new Date(NOW).toISOString(), residents: [...residents] },
        },
        NOW,
      ).filter(({ rule }) => rule === 'no-animals')
    expect(asked([]).map(({ level }) => level)).toEqual(['forbid'])
    expect(asked([rival.id, newcomer.id])).toEqual([])
  })
  test('its days do not run while nobody moved, nor while only one did', () => {
    expect(phase([], 15)).toBe(0)
    expect(phase(both.slice(0, 1), 15)).toBe(0)
    const [step] = at([], 1).steps.filter(({ kind }) => kind === 'transfer')
    expect(step).toMatchObject({
      state: 'due',
      title: 'Both onto neutral ground: Holding B',
      transfer: { toVesselId: 'holding-b' },
    })
  })
  test('five days together open the way home, moved by whatever page; the step is seen as done', () => {
    expect(phase(both, 5.9)).toBe(0)
    expect(phase(both, 6.1)).toBe(1)
    expect(
      at(both, 6.1)
        .steps.filter(({ kind }) => kind === 'transfer')
        .map(({ state, title }) => [state, title]),
    ).toEqual([
      ['done', 'Both onto neutral ground: Holding B'],
      ['due', 'Both into the display: Longshore'],
    ])
  })
  test('parted after three days it counts anew from the next time both are there', () => {
    const parted = [...both, move(4, rival.id, 'holding-b', 'longshore'), move(5, rival.id, 'longshore', 'holding-b')]
    expect(phase(parted, 7)).toBe(0)
    expect(phase(parted, 9.9)).toBe(0)
    expect(phase(parted, 10.1)).toBe(1)
  })
  test('home together they are watched for a week, and a week alone ends nothing', () => {
    const home = [
      ...both,
      move(7, newcomer.id, 'holding-b', 'longshore'),
      move(7.02, rival.id, 'holding-b', 'longshore'),
    ]
    expect(phase(home, 7.01)).toBe(1)
    expect(phase(home, 8)).toBe(2)
    expect(at(home, 14.1).progress.finishedMs).toBeNull()
    const { courseId, vesselId } = at(home, 14.1)
    const settled = (day: number, passed: boolean) =>
      entryAt(startMs + day * DAY, { kind: 'gate', vesselId, courseId, gate: 'settled', passed })
    expect(at([...home, settled(14.05, false)], 14.1).progress.finishedMs).toBeNull()
    expect(at([...home, settled(14.05, true)], 14.1).progress.finishedMs).not.toBeNull()
    // Six days and a yes are not a week.
    expect(at([...home, settled(13, true)], 13.1).progress.finishedMs).toBeNull()
  })
})

describe('two courses in one vessel', () => {
  const told = (...courses: readonly CourseDocument[]) => {
    const record = recordOf(
      demo.settings,
      [...documentsOf(demo).filter(({ register }) => register !== 'course'), ...courses],
      demo.entries,
    )
    const active = activeEntries(record.entries)
    const plans = plan({ record, active, estimates: new Map(), nowMs: NOW })
    return concernsOf(record, active, plans, new Map(), NOW).map(({ title, detail }) => `${title} ${detail}`)
  }
  const own = (protocolId: string, id: string, vesselId = 'tub', residents = ['montipora']): CourseDocument => {
    const course = started(
      protocolId,
      NOW - HOUR,
      protocolId === 'light-steps' ? { 'start-par': 50, 'target-par': 90 } : {},
      vesselId,
    )
    return { ...course, id, body: { ...course.body, residents } }
  }
  test('pumps down for one and flow over the other are told', () =>
    expect(told(own('settle-anemone', 'a'), own('leather-recovery', 'b'))).toEqual(
      expect.arrayContaining([expect.stringMatching(/unlike things of the flow in Tub: .*low.*strong/)]),
    ))
  test('lights off for a newcomer and light in steps are told', () =>
    expect(told(own('after-release', 'a'), own('light-steps', 'b')).join()).toMatch(/unlike things of the light/))
  test('and settled: a newcomer goes before what fights a film, of two alike the one begun first', () => {
    const words =
      /unlike things of the light.*“Light in steps” goes first: the newcomer.*Leave the steps of “Three dark days”/
    expect(told(own('dark-3', 'a'), own('light-steps', 'b')).join()).toMatch(words)
    expect(told(own('light-steps', 'b'), own('dark-3', 'a')).join()).toMatch(words)
    expect(firstOf({ purpose: 'campaign', startMs: 5 }, { purpose: 'campaign', startMs: 4 })).toBe('other')
    expect(firstOf({ purpose: 'campaign', startMs: 4 }, { purpose: 'campaign', startMs: 4 })).toBe('one')
    expect(firstOf({ purpose: 'fallow', startMs: 9 }, { purpose: 'intake', startMs: 4 })).toBe('one')
  })
  test('elsewhere, or alone, nothing is', () => {
    expect(told(own('settle-anemone', 'a'), own('leather-recovery', 'b', 'longshore')).join()).not.toMatch(/unlike/)
    expect(told(own('settle-anemone', 'a')).join()).not.toMatch(/unlike|twice/)
  })
  test('one course begun twice for the same animal is told; for two animals it is not', () => {
    expect(told(own('settle-anemone', 'a'), own('settle-anemone', 'b')).join()).toMatch(/runs twice in Tub/)
    expect(told(own('settle-anemone', 'a'), own('settle-anemone', 'b', 'tub', ['hammer'])).join()).not.toMatch(/twice/)
  })
})

test('every shipped protocol names what it may ask for: no rule, gate or role that leads nowhere', () => {
  for (const protocol of protocolLibrary) {
    const rules = protocol.phases.flatMap((phase) => phase.rules)
    const ids = rules.map(({ id }) => id)
    expect(new Set(ids).size).toBe(ids.length)
    const text = JSON.stringify(protocol.phases.map(({ exit }) => exit))
    for (const [, named] of text.matchAll(/"(?:gates|rules)":\[([^\]]*)\]/g))
      for (const id of named!.split(',')) expect(ids).toContain(JSON.parse(id))
    for (const rule of rules) {
      if (rule.kind === 'test') expect(protocol.instrumentRoles.map(({ id }) => id)).toContain(rule.role)
      if (rule.kind === 'setting')
        for (const value of [rule.from, rule.to])
          if (typeof value === 'string') expect(protocol.parameters?.map(({ id }) => id)).toContain(value)
    }
    for (const { id, min, max, default: usual } of protocol.parameters ?? []) {
      if (usual !== undefined) expect([id, usual >= min && usual <= max]).toEqual([id, true])
    }
  }
})

describe('a thing that goes in or out', () => {
  const id = 'run-jar-fenbendazole-planaria'
  const course = started('jar-fenbendazole-planaria', NOW, {}, 'fernwater')
  const there = (hours: number, fields: object) =>
    made(NOW + hours * HOUR, { vesselId: 'fernwater', courseId: id, ...fields })
  const asked = (entries: readonly Entry[]) =>
    steps(
      course,
      [
        there(0.1, { kind: 'gate', gate: 'jars', passed: true }),
        there(0.1, { kind: 'done', what: 'Snails out', step: `${id}/evacuate/0` }),
        ...entries,
      ],
      NOW + 5 * HOUR,
    ).steps.filter(({ ruleId, state }) => ruleId === 'carbon' && state !== 'done')
  test('stands until it is so, also when its phase is over; what was so once is not asked again', () => {
    const carbon = (hours: number, on: boolean) => there(hours, { kind: 'equipment', item: 'carbon', on })
    expect(asked([carbon(-9, true)])).toHaveLength(1)
    expect(asked([carbon(-9, true), carbon(1, false)])).toHaveLength(0)
    expect(asked([carbon(-9, false), carbon(2, true)])).toHaveLength(0)
  })
})

describe('the rules of the way that was chosen', () => {
  const protocol = protocolOf('spot-peroxide-marine')!
  test('and of no other: in the calendar too', () => {
    const ids = (variant: string) => new Set(protocolCalendar(protocol, variant).items.map(({ ruleId }) => ruleId))
    expect([ids('usual').has('spot'), ids('usual').has('spot-daily'), ids('usual').has('siphon-change')]).toEqual([
      true,
      false,
      false,
    ])
    expect([ids('slime').has('spot'), ids('slime').has('spot-daily'), ids('slime').has('siphon-change')]).toEqual([
      false,
      true,
      true,
    ])
  })
})

describe('slime by syringe: daily for a week, then every other day, water changed after each time', () => {
  const id = 'run-spot-peroxide-marine'
  const course = started('spot-peroxide-marine', NOW, {}, 'tub', 'slime')
  const spot = (i: number, day: number) =>
    made(NOW + day * DAY, { kind: 'done', what: 'spots', courseId: id, step: `${id}/spot-daily/${i}` })
  const change = (day: number) => made(NOW + day * DAY, { kind: 'change', fraction: 0.1 })
  const at = (entries: readonly Entry[], day: number) => {
    const all = steps(course, entries, NOW + day * DAY).steps
    return { spots: open(all, 'spot-daily'), changes: open(all, 'siphon-change'), all }
  }
  test('only the rhythm that was chosen stands', () => {
    expect(open(at([], 0).all, 'spot')).toHaveLength(0)
    expect(at([], 0).changes).toHaveLength(0)
    expect(at([], 0).spots[0]).toMatchObject({ state: 'due', dueMs: NOW })
  })
  test('the next time waits for the change, and for it only', () => {
    const one = at([spot(0, 0)], 1.1)
    expect(one.changes.map(({ state, key }) => [state, key])).toEqual([['late', `${id}/siphon-change/0`]])
    expect(one.spots[0]).toMatchObject({ state: 'waiting', dueMs: NOW + DAY })
    expect(one.spots[0]!.detail).toMatch(/^First: change a tenth while siphoning loose bits off/)
    const two = at([spot(0, 0), change(0.02)], 1.01)
    expect(two.changes).toHaveLength(0)
    expect(two.spots[0]).toMatchObject({ state: 'due', dueMs: NOW + DAY })
    // A change from before the treatment is none after it.
    expect(at([change(-0.1), spot(0, 0)], 1.1).changes).toHaveLength(1)
    const skip = made(NOW + 0.1 * DAY, {
      kind: 'skip',
      courseId: id,
      step: `${id}/siphon-change/0`,
      reason: 'no mixed water',
    })
    expect(at([spot(0, 0), skip], 1.01).spots[0]).toMatchObject({ state: 'due' })
  })
  test('seven days a day apart, then two', () => {
    const days = [0, 1, 2, 3, 4, 5, 6]
    const week = days.flatMap((day) => [spot(day, day), change(day + 0.02)])
    const gap = (n: number) => at(week.slice(0, 2 * n), n - 0.5).spots[0]!.dueMs - NOW
    expect(gap(6)).toBe(6 * DAY)
    expect(gap(7)).toBe(8 * DAY)
  })
})
