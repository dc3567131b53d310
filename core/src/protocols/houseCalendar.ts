// The house over weeks: what runs in each vessel and until when, what is meant to begin, and the day on which all of it
// can be over.
import { protocolOf } from '../knowledge/library.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import type { CourseEstimate } from '../level/estimate.ts'
import type { ActiveLedger, KeeperRecord } from '../record/types.ts'
import { addDays, atHourOfDay, dayOf, instantMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { daysToRelease, variantFor } from './compareSchools.ts'
import type { CoursePlan } from './plan.ts'
import { ribbonOf, type RibbonMark, type RibbonPhase } from './ribbon.ts'

const DAY = 24 * MS_PER_HOUR
/** What newcomers, their water and the tank they go to wait for: only these end together. */
const TOGETHER: ReadonlySet<Protocol['purpose']> = new Set([
  'intake',
  'treatment',
  'prevention',
  'observation',
  'fallow',
])

export interface CalendarBar {
  /** Of its course, or of its planned start. */
  readonly id: string
  readonly title: string
  /** Null where the keeper has not said yet. */
  readonly vesselId: string | null
  readonly state: 'over' | 'runs' | 'planned'
  readonly fromMs: number
  /** Where it has not ended: the earliest end of its steps. */
  readonly endMs: number
  /** The end as things have gone so far. */
  readonly latestMs: number
  /** When animals may go on, with the watching that belongs to it; its end where nothing is watched. */
  readonly releaseMs: number
  readonly phases: readonly RibbonPhase[]
  readonly marks: readonly RibbonMark[]
  /** Whether others wait for it. */
  readonly together: boolean
  /** Of a planned start whose day has gone by: the day it was meant for. */
  readonly wasMs: number | null
  /** Bars of others that want the same vessel in the same days. */
  readonly clashes: readonly string[]
}
export interface CalendarArrival {
  readonly id: string
  readonly name: string
  readonly vesselIds: readonly string[]
  readonly ms: number
}
/** When all that belongs together can be over, and what holds it up. */
export interface Homecoming {
  readonly endMs: number
  /** End of what runs already, which nothing planned can bring forward; null where nothing runs. */
  readonly anchorMs: number | null
  readonly lines: readonly {
    readonly id: string
    readonly title: string
    readonly planned: boolean
    readonly days: number
    /** Latest start with which it holds nobody up; null for what runs. */
    readonly latestMs: number | null
    /** Days by which it moves the common end. */
    readonly slipDays: number
    /** Days it is ready before the others. */
    readonly waitDays: number
  }[]
}
export interface HouseCalendar {
  readonly bars: readonly CalendarBar[]
  readonly arrivals: readonly CalendarArrival[]
  readonly home: Homecoming | null
}

/** Days from the start until its animals may go on; of a fallow, until fish may go back in. */
export const wholeDays = (protocol: Protocol): number => daysToRelease(protocol, variantFor(protocol, false)).days

/**
 * Everything with a stretch of days. Pure: the same record, plans and time give the same calendar.
 * @param plans of the courses that run, as the planner gives them
 */
export function houseCalendar(
  record: KeeperRecord,
  active: ActiveLedger,
  plans: readonly CoursePlan[],
  estimates: ReadonlyMap<string, CourseEstimate>,
  nowMs: number,
): HouseCalendar {
  const { zone } = record.settings
  const running = plans.flatMap((plan): CalendarBar[] => {
    const course = record.courses.get(plan.courseId)
    if (!course || course.body.endedAt !== undefined) return []
    const protocol = course.body.protocol as unknown as Protocol
    const ribbon = ribbonOf(course, plan, active, estimates.get(course.id)?.clock ?? null, nowMs)
    const { earliestMs, latestMs } = ribbon.end
    const together = TOGETHER.has(protocol.purpose) && plan.progress.finishedMs === null
    const watched =
      together && protocol.purpose !== 'fallow' ? instantMs(course.body.startedAt) + wholeDays(protocol) * DAY : 0
    return [
      {
        ...bare(course.id, plan.title, course.body.vesselId),
        state: 'runs',
        fromMs: ribbon.fromMs,
        endMs: earliestMs,
        latestMs,
        releaseMs: Math.max(earliestMs, watched),
        phases: ribbon.phases,
        marks: ribbon.marks,
        together,
      },
    ]
  })
  const shown = new Set(running.map(({ id }) => id))
  const over = [...record.courses.values()].flatMap((course): CalendarBar[] => {
    if (shown.has(course.id) || course.body.endedAt === undefined) return []
    const endMs = instantMs(course.body.endedAt)
    return [
      {
        ...bare(course.id, (course.body.protocol as unknown as Protocol).title, course.body.vesselId),
        state: 'over',
        fromMs: instantMs(course.body.startedAt),
        endMs,
        latestMs: endMs,
        releaseMs: endMs,
      },
    ]
  })
  const today = dayOf(nowMs, zone)
  const planned = [...record.planned.values()].flatMap((document): CalendarBar[] => {
    const { protocolId, vesselId, startsOn, endedAt } = document.body
    const protocol = protocolOf(protocolId)
    if (endedAt !== undefined || !protocol) return []
    // What was to begin on a day that has gone by begins today at the earliest.
    const fromMs = atHourOfDay(startsOn < today ? today : startsOn, 0, zone)
    const own = usualDays(protocol)
    const endMs = atHourOfDay(addDays(startsOn < today ? today : startsOn, Math.ceil(own)), 0, zone)
    const whole = Math.max(own, wholeDays(protocol))
    const releaseMs = atHourOfDay(addDays(startsOn < today ? today : startsOn, Math.ceil(whole)), 0, zone)
    return [
      {
        ...bare(document.id, protocol.title, vesselId ?? null),
        state: 'planned',
        fromMs,
        endMs,
        latestMs: endMs,
        releaseMs,
        together: TOGETHER.has(protocol.purpose),
        wasMs: startsOn < today ? atHourOfDay(startsOn, 0, zone) : null,
      },
    ]
  })
  const bars = [...running, ...planned]
  const clashing = bars.map((bar) => ({
    ...bar,
    clashes: bars
      .filter(
        (other) =>
          (bar.state === 'planned' || other.state === 'planned') &&
          other.id !== bar.id &&
          bar.vesselId !== null &&
          other.vesselId === bar.vesselId &&
          other.fromMs < bar.releaseMs &&
          bar.fromMs < other.releaseMs,
      )
      .map(({ id }) => id),
  }))
  return {
    bars: [...over, ...clashing].sort((a, b) => a.fromMs - b.fromMs || a.id.localeCompare(b.id)),
    arrivals: [...record.arrivals.values()].flatMap(({ id, body }): CalendarArrival[] => {
      const ms =
        body.receivedAt !== undefined
          ? instantMs(body.receivedAt)
          : body.expectedOn === undefined
            ? NaN
            : atHourOfDay(body.expectedOn, 12, zone)
      const vesselIds = [...new Set(body.containers.map(({ vesselId }) => vesselId))]
      return Number.isNaN(ms) ? [] : [{ id, name: body.name, vesselIds, ms }]
    }),
    home: homecoming(bars),
  }
}

const bare = (id: string, title: string, vesselId: string | null) => ({
  id,
  title,
  vesselId,
  phases: [],
  marks: [],
  together: false,
  wasMs: null,
  clashes: [],
})

/** Days its own steps usually take. */
const usualDays = (protocol: Protocol): number =>
  Math.max(
    1,
    protocol.phases.reduce((sum, { typicalDays }) => sum + typicalDays, 0),
  )

/** When all that others wait for can be over. Null where nothing is. */
export function homecoming(bars: readonly CalendarBar[]): Homecoming | null {
  const all = bars.filter(({ together }) => together)
  if (all.length === 0) return null
  const running = all.filter(({ state }) => state === 'runs')
  const anchorMs = running.length > 0 ? Math.max(...running.map(({ releaseMs }) => releaseMs)) : null
  const endMs = Math.max(...all.map(({ releaseMs }) => releaseMs))
  const wanted = anchorMs ?? endMs
  return {
    endMs,
    anchorMs,
    lines: all.map(({ id, title, state, fromMs, releaseMs }) => ({
      id,
      title,
      planned: state === 'planned',
      days: Math.round((releaseMs - fromMs) / DAY),
      latestMs: state === 'planned' ? wanted - (releaseMs - fromMs) : null,
      slipDays: Math.max(0, Math.ceil((releaseMs - wanted) / DAY - 0.5)),
      waitDays: Math.max(0, Math.floor((endMs - releaseMs) / DAY + 0.5)),
    })),
  }
}
