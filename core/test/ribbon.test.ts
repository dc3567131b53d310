// A course as a line of time: what it was, what it is to be, and an end as wide as it is unsure.
import { describe, expect, test } from '@jest/globals'
import {
  activeEntries,
  documentsOf,
  planCourse,
  protocolLibrary,
  protocolOf,
  recordOf,
  ribbonDay,
  ribbonOf,
  type CourseDocument,
  type Entry,
  type Protocol,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { courseDocument, entryAt, ZONE } from './entries.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const HOUR = 3_600_000
const DAY = 24 * HOUR
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: ZONE })
const START = NOW - 10 * DAY

const courseOf = (protocol: Protocol): CourseDocument =>
  courseDocument('the-course', {
    protocol,
    vesselId: 'holding-b',
    startMs: START,
    zone: ZONE,
    residents: ['gramma'],
    dailyHour: 19,
    parameters: Object.fromEntries(
      (protocol.parameters ?? []).flatMap(({ id, min, default: usual }) => (usual === undefined ? [[id, min]] : [])),
    ),
    products: {},
    vessels: Object.fromEntries((protocol.vesselRoles ?? []).map(({ id }) => [id, 'tub'])),
  })
const base = documentsOf(demo).filter(({ register }) => register !== 'course')
function ribbon(protocol: Protocol, entries: readonly Entry[] = [], clock: Parameters<typeof ribbonOf>[3] = null) {
  const course = courseOf(protocol)
  const record = recordOf(demo.settings, [...base, course], entries)
  const active = activeEntries(record.entries)
  const plan = planCourse(course, { record, active, estimates: new Map(), nowMs: NOW })
  return { plan, ribbon: ribbonOf(course, plan, active, clock, NOW) }
}
/** Ten days of a clock of thirty: so many hours proven, the rest refused for want of a test. */
const clockWith = (creditedH: number): NonNullable<Parameters<typeof ribbonOf>[3]> => ({
  creditedH,
  refusedH: 240 - creditedH,
  remainingH: 720 - creditedH,
  requiredH: 720,
  elapsedH: 240,
  intervals: [
    { fromH: 0, toH: creditedH, state: 'credited' },
    { fromH: creditedH, toH: 240, state: 'refused', reason: 'no-test' },
  ],
  resets: [],
  completeAtH: null,
  earliestFinishH: 240 + 720 - creditedH,
  aboveH: 0,
  startedAtH: 0,
})

describe('every protocol that ships', () => {
  test.each(protocolLibrary.map((protocol) => [protocol.id, protocol] as const))(
    '%s: phases follow one another, and the end is neither before now nor before its phases',
    (_, protocol) => {
      const { ribbon: line } = ribbon(protocol)
      expect(line.fromMs).toBe(START)
      for (const [i, phase] of line.phases.entries()) {
        expect(phase.toMs).toBeGreaterThanOrEqual(phase.fromMs)
        if (i > 0) expect(phase.fromMs).toBeGreaterThanOrEqual(line.phases[i - 1]!.fromMs)
      }
      expect(line.end.latestMs).toBeGreaterThanOrEqual(line.end.earliestMs)
      expect(line.toMs).toBeGreaterThanOrEqual(Math.max(NOW, ...line.phases.map(({ toMs }) => toMs)))
      for (const mark of line.marks) expect(Number.isFinite(mark.ms)).toBe(true)
    },
  )
})

describe('the end', () => {
  const copper = protocolOf('copper-in-place-30')!
  test('hangs on the hours: all of them proven, no spread; half of them, as much again on top', () => {
    const all = ribbon(copper, [], clockWith(240)).ribbon.end
    expect(all).toMatchObject({ by: 'hours-proven', provenShare: 1 })
    expect(all.latestMs).toBe(all.earliestMs)
    // 120 of 240 hours: 600 are left, and at that rate they take 1,200.
    const half = ribbon(copper, [], clockWith(120)).ribbon.end
    expect(half.provenShare).toBeCloseTo(0.5, 9)
    expect((half.latestMs - half.earliestMs) / HOUR).toBeCloseTo(600, 6)
  })
  test('a rate under a fifth is not believed, and a clock of hours says nothing of its rate', () => {
    // Twelve of 240 hours: 708 are left, and a fifth of the hours makes them 3,540.
    const slow = ribbon(copper, [], clockWith(12)).ribbon.end
    expect((slow.latestMs - slow.earliestMs) / HOUR).toBeCloseTo(3540 - 708, 6)
    const young = ribbon(copper, [], { ...clockWith(12), startedAtH: 220 }).ribbon.end
    expect(young.latestMs).toBe(young.earliestMs)
  })
  test('of a vessel without fish it is the day its own count says, with no spread', () => {
    const kept = demo.courses.get('fallow-longshore')!
    // Begun on paper five days before the fish went out: it counts from when they were out.
    const early = new Date(Date.parse(kept.body.startedAt) - 5 * DAY).toISOString()
    const course = { ...kept, body: { ...kept.body, startedAt: early } }
    const record = { ...demo, courses: new Map(demo.courses).set(course.id, course) }
    const active = activeEntries(record.entries)
    const plan = planCourse(course, { record, active, estimates: new Map(), nowMs: NOW })
    expect(plan.fallow!.endMs! - Date.parse(early)).toBeGreaterThan(80 * DAY)
    const line = ribbonOf(course, plan, active, null, NOW)
    expect(plan.fallow!.endMs).not.toBeNull()
    expect(line.phases.find(({ state }) => state === 'now')!.toMs).toBe(plan.fallow!.endMs)
    expect(line.end).toMatchObject({ by: 'nothing-goes-in', latestMs: line.end.earliestMs })
  })
  test('an ended course is over on its day', () => {
    const course = courseOf(copper)
    const ended = { ...course, body: { ...course.body, endedAt: new Date(NOW - DAY).toISOString() } }
    const record = recordOf(demo.settings, [...base, ended as CourseDocument], [])
    const active = activeEntries(record.entries)
    const plan = planCourse(ended as CourseDocument, { record, active, estimates: new Map(), nowMs: NOW })
    expect(ribbonOf(ended as CourseDocument, plan, active, null, NOW).end).toMatchObject({
      by: 'over',
      earliestMs: NOW - DAY,
      latestMs: NOW - DAY,
    })
  })
  test('what waits for answers may be later, never earlier, and says so', () => {
    const { end } = ribbon(protocolOf('rest-after-treatment')!).ribbon
    expect(end.by).toBe('answers')
    expect(end.latestMs - end.earliestMs).toBeGreaterThanOrEqual(DAY)
  })
})

describe('marks and days', () => {
  const dose = entryAt(START + 30 * HOUR, {
    kind: 'dose',
    vesselId: 'holding-b',
    courseId: 'the-course',
    productId: 'none',
    amount: 2,
    unit: 'mL',
  })
  const elsewhere = entryAt(START + 31 * HOUR, {
    kind: 'dose',
    vesselId: 'longshore',
    productId: 'none',
    amount: 2,
    unit: 'mL',
  })
  const before = entryAt(START - HOUR, { kind: 'change', vesselId: 'holding-b', fraction: 0.2 })
  const { ribbon: line } = ribbon(protocolOf('copper-in-place-30')!, [dose, elsewhere, before], clockWith(132))
  test('only what belongs to the course or was done to its water since it began', () => {
    const done = line.marks.filter(({ state }) => state === 'done')
    expect(done.map(({ entryId }) => entryId)).toEqual([dose.id])
    expect(done[0]).toMatchObject({ kind: 'dose', ms: START + 30 * HOUR })
  })
  test('what is to come is planned or late, with its words, and never done', () => {
    const coming = line.marks.filter(({ state }) => state !== 'done')
    expect(coming.length).toBeGreaterThan(0)
    for (const mark of coming) expect(mark.title).toBeTruthy()
  })
  test('a day adds up: hours earned, hours refused with their reason, what was done', () => {
    // Hours 120 to 144: twelve proven, twelve refused.
    const day = ribbonDay(line, START + 120 * HOUR, START + 144 * HOUR)
    expect(day.creditedH).toBeCloseTo(12, 9)
    expect(day.refusedH).toBeCloseTo(12, 9)
    expect(day.reason).toBe('no-test')
    expect(ribbonDay(line, START + 24 * HOUR, START + 48 * HOUR).marks.map(({ kind }) => kind)).toEqual(['dose'])
  })
})
