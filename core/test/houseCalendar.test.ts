import { describe, expect, test } from '@jest/globals'
import { activeOf, createPlanner, documentsOf, dueStarts, homecoming, houseCalendar, recordOf } from '../src/index.ts'
import type { CalendarBar, KeeperRecord, PlannedDocument } from '../src/index.ts'
import { demoRecord } from '../src/demo/demoRecord.ts'

const DAY = 86_400_000
const NOW = Date.parse('2026-11-23T18:20:00Z')
const ZONE = 'Europe/Berlin'
/** Midnight of a day in Berlin in winter. */
const midnight = (day: string) => Date.parse(`${day}T00:00:00+01:00`)

const bar = (id: string, state: CalendarBar['state'], fromDay: number, days: number, together = true): CalendarBar => ({
  id,
  title: id,
  vesselId: 'v',
  state,
  fromMs: NOW + fromDay * DAY,
  endMs: NOW + (fromDay + days) * DAY,
  latestMs: NOW + (fromDay + days) * DAY,
  releaseMs: NOW + (fromDay + days) * DAY,
  phases: [],
  marks: [],
  together,
  wasMs: null,
  clashes: [],
})

describe('what ends together', () => {
  test('a start planned six days too late moves the day by six, and says by when it had to begin', () => {
    // A fallow of 76 days that is on day 16, and forty days of intake begun on day 26: 66 against 60.
    const found = homecoming([bar('fallow', 'runs', -16, 76), bar('intake', 'planned', 26, 40)])!
    expect((found.endMs - NOW) / DAY).toBe(66)
    expect((found.anchorMs! - NOW) / DAY).toBe(60)
    const [fallow, intake] = found.lines
    expect(intake).toMatchObject({ planned: true, days: 40, slipDays: 6, waitDays: 0 })
    expect((intake!.latestMs! - NOW) / DAY).toBe(20)
    expect(fallow).toMatchObject({ planned: false, latestMs: null, slipDays: 0, waitDays: 6 })
  })
  test('one planned in time slips nothing and waits', () => {
    const found = homecoming([bar('fallow', 'runs', -16, 76), bar('intake', 'planned', 10, 40)])!
    expect((found.endMs - NOW) / DAY).toBe(60)
    expect(found.lines[1]).toMatchObject({ slipDays: 0, waitDays: 10 })
  })
  test('where nothing runs, the longest planned sets the day', () => {
    const found = homecoming([bar('a', 'planned', 5, 30), bar('b', 'planned', 10, 40)])!
    expect(found.anchorMs).toBeNull()
    expect((found.endMs - NOW) / DAY).toBe(50)
    expect((found.lines[0]!.latestMs! - NOW) / DAY).toBe(20)
  })
  test('what is fought in a display holds nobody up, and what is over neither', () => {
    expect(homecoming([bar('film', 'runs', 0, 300, false), bar('old', 'over', -90, 30, false)])).toBeNull()
  })
})

const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: ZONE })
const withPlanned = (body: Partial<PlannedDocument['body']>): KeeperRecord =>
  recordOf(
    demo.settings,
    documentsOf(demo).map((one) => (one.register === 'planned' ? { ...one, body: { ...one.body, ...body } } : one)),
    demo.entries,
  )
function calendarOf(record: KeeperRecord) {
  const active = activeOf(record.entries)
  const { plans } = createPlanner()({ record, active, estimates: new Map(), nowMs: NOW })
  return houseCalendar(record, active, plans, new Map(), NOW)
}
const planned = (record: KeeperRecord) => calendarOf(record).bars.find(({ id }) => id === 'planned-intake')!

describe('the house over weeks', () => {
  test('a planned start lies on its day, with the four stays of 72 hours and the watching behind them', () => {
    const found = planned(withPlanned({ startsOn: '2026-12-19' }))
    expect(found).toMatchObject({ state: 'planned', vesselId: 'holding-b', wasMs: null, together: true })
    expect(found.fromMs).toBe(midnight('2026-12-19'))
    // Four stays of three days, then twenty-eight of watching.
    expect(Math.round((found.releaseMs - found.fromMs) / DAY)).toBe(40)
  })
  test('a day later is a day later for all of it, across the end of the year', () => {
    const before = planned(withPlanned({ startsOn: '2026-12-30' }))
    const after = planned(withPlanned({ startsOn: '2027-01-02' }))
    expect(after.fromMs - before.fromMs).toBe(3 * DAY)
    expect(after.releaseMs - before.releaseMs).toBe(3 * DAY)
  })
  test('what was meant for a day that has gone by begins today at the earliest, and says so', () => {
    const found = planned(withPlanned({ startsOn: '2026-11-20' }))
    expect(found.fromMs).toBe(midnight('2026-11-23'))
    expect(found.wasMs).toBe(midnight('2026-11-20'))
  })
  test('it wants a vessel that another course still holds: both are named; after that course, none', () => {
    const soon = calendarOf(withPlanned({ startsOn: '2026-11-25' }))
    const running = soon.bars.find(({ id }) => id === 'transfer-holding-b')!
    expect(soon.bars.find(({ id }) => id === 'planned-intake')!.clashes).toEqual([running.id])
    expect(running.clashes).toEqual(['planned-intake'])
    const after = new Date(running.releaseMs + 2 * DAY).toISOString().slice(0, 10)
    expect(planned(withPlanned({ startsOn: after })).clashes).toEqual([])
  })
  test('begun, or let go, it is no bar and not due', () => {
    const gone = withPlanned({ startsOn: '2026-11-23', endedAt: '2026-11-23T10:00:00.000Z' })
    expect(calendarOf(gone).bars.some(({ id }) => id === 'planned-intake')).toBe(false)
    expect(dueStarts(gone, NOW)).toEqual([])
  })
  test('due from the first minute of its day in the keeper’s zone on, not before', () => {
    const record = withPlanned({ startsOn: '2026-11-24' })
    expect(dueStarts(record, midnight('2026-11-24') - 1)).toEqual([])
    expect(dueStarts(record, midnight('2026-11-24')).map(({ id }) => id)).toEqual(['planned-intake'])
  })
  test('every running course has a bar from its start; what has ended lies in the past; arrivals on their day', () => {
    const found = calendarOf(demo)
    for (const course of demo.courses.values()) {
      const own = found.bars.find(({ id }) => id === course.id)!
      expect(own.fromMs).toBe(Date.parse(course.body.startedAt))
      if (course.body.endedAt !== undefined)
        expect(own).toMatchObject({ state: 'over', endMs: Date.parse(course.body.endedAt) })
      else expect(own.endMs).toBeGreaterThanOrEqual(own.fromMs)
    }
    expect(found.arrivals.some(({ id }) => id === 'box-tonight')).toBe(true)
  })
})
