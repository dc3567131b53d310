// Gear: where a net was last wet, and what that means for a vessel that is kept free of fish.
import { describe, expect, test } from '@jest/globals'
import {
  activeEntries,
  carriedInto,
  concernsOf,
  courseContext,
  documentsOf,
  gearState,
  agentForm,
  handlingOf,
  planCourse,
  protocolOf,
  recordOf,
  runningShort,
  stockOf,
  type CourseDocument,
  type Entry,
  type GearDocument,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { ask } from './asked.ts'
import { courseDocument, entryAt, ZONE } from './entries.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const DAY = 86_400_000
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: ZONE })
const net: GearDocument = {
  register: 'gear',
  id: 'the-net',
  revision: 1,
  savedAt: '2026-10-01T10:00:00.000Z',
  history: [],
  body: { name: 'Green net', sort: 'net', homeVesselId: 'longshore' },
}
const fallow: CourseDocument = courseDocument('fallow', {
  protocol: protocolOf('fallow-display-76')!,
  vesselId: 'tub',
  startMs: NOW - 80 * DAY,
  zone: ZONE,
  residents: [],
})
const used = (daysAgo: number, vesselId: string) =>
  entryAt(NOW - daysAgo * DAY, { kind: 'gear', gearId: 'the-net', act: 'wet', vesselId })
const safe = (daysAgo: number, act: 'disinfected' | 'dried' = 'disinfected') =>
  entryAt(NOW - daysAgo * DAY, { kind: 'gear', gearId: 'the-net', act })
const recordWith = (entries: readonly Entry[]) =>
  recordOf(demo.settings, [...documentsOf(demo).filter(({ register }) => register !== 'course'), net, fallow], entries)
const finished = (entries: readonly Entry[], nowMs = NOW) => {
  const record = recordWith(entries)
  const active = activeEntries(record.entries)
  return planCourse(fallow, { record, active, estimates: new Map(), nowMs }).progress.finishedMs !== null
}

describe('a piece of gear', () => {
  test('is wet where it was used last, carries all since it was made safe, and is safe again after that', () => {
    const at = (entries: readonly Entry[], daysAgo = 0) => gearState(entries, 'the-net', NOW - daysAgo * DAY)
    const story = [used(5, 'holding-a'), used(3, 'tub'), safe(1)]
    expect(at([])).toEqual({ wetIn: null, wetSinceMs: null, carries: [], safeSinceMs: null })
    expect(at(story, 4)).toMatchObject({ wetIn: 'holding-a', carries: ['holding-a'] })
    expect(at(story, 2)).toMatchObject({ wetIn: 'tub', carries: ['holding-a', 'tub'], wetSinceMs: NOW - 3 * DAY })
    expect(at(story)).toEqual({ wetIn: null, wetSinceMs: null, carries: [], safeSinceMs: NOW - DAY })
  })
  test('carries water only from another vessel, and only unsafe', () => {
    const carried = (entries: readonly Entry[]) =>
      carriedInto(recordWith(entries), activeEntries(entries), 'tub', NOW - 80 * DAY, NOW).map(({ from }) => from)
    expect(carried([used(4, 'tub'), used(3, 'tub')])).toEqual([])
    expect(carried([used(4, 'holding-a'), used(3, 'tub')])).toEqual([['holding-a']])
    expect(carried([used(4, 'holding-a'), safe(3.5, 'dried'), used(3, 'tub')])).toEqual([])
  })
})

describe('a fallow of 76 days', () => {
  test('ends when nothing went in', () => {
    expect(finished([])).toBe(true)
    expect(finished([used(40, 'tub')])).toBe(true)
  })
  test('starts again with a net that came wet from another vessel', () => {
    const story = [used(41, 'holding-a'), used(40, 'tub')]
    expect(finished(story)).toBe(false)
    expect(finished(story, NOW + 35.9 * DAY)).toBe(false)
    expect(finished(story, NOW + 36.1 * DAY)).toBe(true)
  })
  test('goes on when the net was disinfected between', () => {
    expect(finished([used(41, 'holding-a'), safe(40.5), used(40, 'tub')])).toBe(true)
  })
  describe('a fish that is put back', () => {
    const moved = (daysAgo: number, vesselId: string, toVesselId: string) =>
      entryAt(NOW - daysAgo * DAY, { kind: 'move', vesselId, residentId: 'gramma', toVesselId })
    const look = (entries: readonly Entry[], nowMs: number) => {
      const record = recordWith(entries)
      const active = activeEntries(record.entries)
      const plan = planCourse(fallow, { record, active, estimates: new Map(), nowMs })
      return {
        plan,
        said: concernsOf(record, active, [plan], new Map(), nowMs).filter(({ courseId }) => courseId === 'fallow'),
      }
    }
    const home = demo.residents.get('gramma')!.body.vesselId!
    test('is said at once, and nothing counts', () => {
      const { plan, said } = look([moved(30, home, 'tub')], NOW - 29 * DAY)
      expect(plan).toMatchObject({ day: 0, fallow: { inside: ['Royal gramma'], sinceMs: null, endMs: null } })
      expect(said).toMatchObject([{ id: 'fallow-host', tone: 'danger' }])
    })
    test('begins the count anew when it is out, with the new end in sight', () => {
      const story = [moved(30, home, 'tub'), moved(28, 'tub', home)]
      const { plan, said } = look(story, NOW - 20 * DAY)
      expect(plan).toMatchObject({ day: 8, progress: { finishedMs: null } })
      expect(plan.fallow?.endMs).toBe(NOW + (76 - 28) * DAY)
      expect(said.map(({ title, detail }) => `${title} ${detail}`)).toEqual([
        expect.stringMatching(
          /began anew on 2026-10-\d\d: Royal gramma was taken out again\. It now ends on 2027-01-10\./,
        ),
      ])
      expect(look(story, NOW - 10 * DAY).said).toEqual([])
    })
    test('without one the end is 76 days after the first', () => {
      expect(look([], NOW - 70 * DAY).plan).toMatchObject({ day: 10, fallow: { endMs: NOW - 4 * DAY, restart: null } })
    })
  })
  test('starts again from the day a fish that lived there died', () => {
    const record = recordWith([])
    const gramma = record.residents.get('gramma')!
    const residents = new Map(record.residents).set('gramma', {
      ...gramma,
      body: {
        ...gramma.body,
        vesselId: 'tub',
        arrivedAt: '2026-09-20T10:00:00.000Z',
        leftAt: new Date(NOW - 20 * DAY).toISOString(),
        leftHow: 'died',
      },
    })
    const changed = { ...record, residents }
    const at = (nowMs: number) =>
      planCourse(fallow, { record: changed, active: [], estimates: new Map(), nowMs }).progress.finishedMs
    expect(at(NOW)).toBeNull()
    expect(at(NOW + 57 * DAY)).not.toBeNull()
    expect(courseContext(changed, [], fallow, NOW, null).course.id).toBe('fallow')
  })
})

describe('before gear is used', () => {
  const checked = (entries: readonly Entry[], vesselId: string) =>
    ask(recordWith(entries), { kind: 'gear', gearId: 'the-net', act: 'wet', vesselId }, NOW).map(
      ({ rule, level }) => `${level} ${rule}`,
    )
  test('its own vessel is free, another is asked about, a wet one blocked, a fallow named', () => {
    expect(checked([], 'longshore')).toEqual([])
    expect(checked([], 'holding-a')).toEqual(['ask gear-home'])
    expect(checked([used(2, 'holding-a')], 'longshore')).toEqual(['block gear-crossing'])
    expect(checked([used(2, 'holding-a')], 'tub')).toEqual(['block fallow-wet-gear'])
    expect(checked([used(2, 'holding-a'), safe(1)], 'longshore')).toEqual([])
    expect(ask(recordWith([]), { kind: 'gear', gearId: 'no-net', act: 'wet', vesselId: 'tub' }, NOW)).toEqual([
      expect.objectContaining({ level: 'forbid' }),
    ])
  })
  test('what it did and what it may do is said on the round', () => {
    const said = (entries: readonly Entry[], home = 'tub') => {
      const before = recordWith(entries)
      const record = { ...before, gear: new Map([['the-net', { ...net, body: { ...net.body, homeVesselId: home } }]]) }
      const active = activeEntries(entries)
      const plans = [planCourse(fallow, { record, active, estimates: new Map(), nowMs: NOW })]
      return concernsOf(record, active, plans, new Map(), NOW).filter(({ id }) => id.startsWith('gear-'))
    }
    expect(said([used(2, 'holding-a')])).toEqual([
      expect.objectContaining({
        title: 'Green net would start Tub again:',
        detail: expect.stringMatching(/wet from Holding A/),
      }),
    ])
    expect(said([used(3, 'holding-a'), used(2, 'tub')], 'longshore')).toEqual([
      expect.objectContaining({
        title: 'The count in Tub started again',
        detail: expect.stringMatching(/Green net came wet from Holding A/),
      }),
    ])
    expect(said([used(3, 'holding-a'), safe(2.5)])).toEqual([])
  })
})

describe('how much the animals are handled', () => {
  const course = { ...fallow, id: 'course', body: { ...fallow.body, vesselId: 'holding-b', residents: ['gramma'] } }
  const bath = (daysAgo: number, act: 'start' | 'end') =>
    entryAt(NOW - daysAgo * DAY, {
      kind: 'bath',
      vesselId: 'holding-b',
      courseId: 'course',
      act,
      rule: 'bath',
      step: `course/bath/${daysAgo}`,
    })
  const move = (daysAgo: number) =>
    entryAt(NOW - daysAgo * DAY, { kind: 'move', vesselId: 'tub', residentId: 'gramma', toVesselId: 'holding-b' })
  const looked = entryAt(NOW - 0.5 * DAY, {
    kind: 'sign',
    vesselId: 'holding-b',
    sign: 'flashing',
    present: false,
    residentId: 'gramma',
  })
  const seen = entryAt(NOW - 0.4 * DAY, {
    kind: 'sign',
    vesselId: 'holding-b',
    sign: 'flashing',
    present: true,
    residentId: 'gramma',
  })
  const handling = (entries: readonly Entry[]) => {
    const sorted = activeEntries(entries)
    return handlingOf(recordWith(sorted), sorted, course, NOW)
  }
  test('baths and moves of a week count, older ones and those of others do not', () => {
    expect(handling([bath(1, 'start'), move(3), move(9)])).toMatchObject({ times: 2, lastMs: NOW - DAY })
    expect(
      handling([entryAt(NOW - DAY, { kind: 'move', vesselId: 'tub', residentId: 'hammer', toVesselId: 'holding-b' })])
        .times,
    ).toBe(0)
  })
  test('rest is offered after much handling while somebody looked and saw nothing', () => {
    const much = [bath(1, 'start'), bath(2, 'start'), move(3), move(5)]
    expect(handling([...much, looked])).toMatchObject({ times: 4, stable: true, rest: true })
    expect(handling(much)).toMatchObject({ stable: false, rest: false })
    expect(handling([...much, looked, seen])).toMatchObject({ stable: false, rest: false })
    // Fresh carbon is ticked off with the back to the tank: that nothing got worse is not known.
    const tick = (fields: object) =>
      entryAt(NOW - 0.5 * DAY, { kind: 'done', vesselId: 'holding-b', courseId: course.id, what: 'x', ...fields })
    expect(handling([...much, tick({ step: `${course.id}/carbon/0` })])).toMatchObject({ stable: false, rest: false })
    expect(handling([...much, tick({ watched: { look: 'dawn', minutes: 10 } })])).toMatchObject({ stable: true })
    expect(handling([...much.slice(2), looked]).rest).toBe(false)
  })
  describe('ten weeks of drugs and changes are seen too', () => {
    const dose = (daysAgo: number, productId: string) =>
      entryAt(NOW - daysAgo * DAY, { kind: 'dose', vesselId: 'holding-b', productId, amount: 1, unit: 'mL' })
    const changed = (daysAgo: number) =>
      entryAt(NOW - daysAgo * DAY, { kind: 'change', vesselId: 'holding-b', fraction: 0.3 })
    const everyFourDays = (from: number, to: number, productId: string) =>
      Array.from({ length: Math.floor((from - to) / 4) + 1 }, (_, i) => dose(from - 4 * i, productId))
    const forms = (id: string) => demo.products.get(id)!.body.form
    const [copper, other] = [...demo.products.values()]
      .filter(({ body }) => agentForm(body.form)?.route === 'in-tank')
      .filter(({ body }, i, all) => all.findIndex((one) => one.body.form === body.form) === i)
      .map(({ id }) => id) as [string, string]
    test('two drugs, one after the other, over forty days', () => {
      const found = handling([...everyFourDays(60, 40, copper), ...everyFourDays(30, 10, other), looked])
      // 60 to 40 and 30 to 10 days ago, both ends counted.
      expect(found).toMatchObject({ drugDays: 42, rest: true })
      expect(found.drugs).toHaveLength(2)
      expect(forms(copper)).not.toBe(forms(other))
      expect(found.worn).toMatch(/42 of the last 70 days in drugs/)
    })
    test('one drug for as long, or two for less, is a course and no burden', () => {
      expect(handling([...everyFourDays(60, 20, copper), looked]).rest).toBe(false)
      expect(handling([...everyFourDays(40, 24, copper), ...everyFourDays(20, 8, other), looked]).rest).toBe(false)
    })
    test('changes every other day beside two weeks of a drug', () => {
      const drug = everyFourDays(20, 0, copper)
      const six = [1, 3, 5, 7, 9, 11].map(changed)
      expect(handling([...drug, ...six, looked])).toMatchObject({ changes: 6, rest: true })
      expect(handling([...drug, ...six.slice(1), looked]).rest).toBe(false)
      // A change of fifteen days ago is no part of two weeks.
      expect(handling([...drug, ...six.slice(1), changed(15), changed(40), looked])).toMatchObject({
        changes: 5,
        rest: false,
      })
      expect(handling([...six, looked]).rest).toBe(false)
    })
  })
})

describe('the stock of a bottle', () => {
  const product = demo.products.get('copper-main')!
  const dose = (daysAgo: number, amount: number, unit = 'mL') =>
    entryAt(NOW - daysAgo * DAY, { kind: 'dose', vesselId: 'holding-a', productId: 'copper-main', amount, unit })
  test('is its size less what was poured, and lasts as long as it is poured so', () => {
    expect(stockOf([dose(1, 14), dose(3, 14), dose(60, 100)], product, NOW)).toEqual({
      left: 122,
      size: 250,
      perDay: 2,
      daysLeft: 61,
    })
    expect(stockOf([dose(1, 3, 'drop')], product, NOW).left).toBe(250)
    expect(stockOf([], product, NOW).daysLeft).toBeNull()
    expect(stockOf([dose(1, 500)], product, NOW).left).toBe(0)
  })
  test('is said to run short only where a running course pours from it', () => {
    const record = recordOf(demo.settings, documentsOf(demo), [])
    expect(runningShort(record, [dose(1, 120), dose(2, 110)], NOW)).toEqual([
      expect.objectContaining({ courseId: 'copper-holding-a', stock: expect.objectContaining({ left: 20 }) }),
    ])
    expect(runningShort(record, [dose(1, 10)], NOW)).toEqual([])
    expect(runningShort({ ...record, courses: new Map() }, [dose(1, 240)], NOW)).toEqual([])
  })
})
