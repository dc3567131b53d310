// Instants for elapsed clocks, the keeper's zone for days. Nothing here reads a clock.
import { fromAbsolute, parseDate, toCalendarDateTime, toZoned, Time, type ZonedDateTime } from '@internationalized/date'

/** Milliseconds of a stored instant ("2026-03-29T00:30:00.000Z"). @throws RangeError when it is none. */
export function instantMs(instant: string): number {
  const ms = Date.parse(instant)
  if (!Number.isFinite(ms)) throw new RangeError(`instantMs: "${instant}" is not an instant`)
  return ms
}
const known = new WeakMap<object, number>()
/** Milliseconds of an entry's instant, remembered: entries never change. */
export function entryMs(entry: { readonly at: string }): number {
  let ms = known.get(entry)
  if (ms === undefined) known.set(entry, (ms = instantMs(entry.at)))
  return ms
}
/** Stored form of an instant: UTC with milliseconds. */
export const instantOf = (ms: number): string => new Date(ms).toISOString()

/** Start of the minute of an instant: what begins now began before everything that is typed by the minute. */
export const minuteStart = (ms: number): number => Math.floor(ms / 60_000) * 60_000

const DAY_MS = 86_400_000
const offsets = new Map<string, Map<number, number | null>>()
/**
 * What a zone's clocks are ahead of UTC through the whole UTC day of an instant, in ms; null on a day on which they are
 * put forward or back. Asking a calendar costs tens of microseconds, a plan asks thousands of times.
 */
function wholeDayOffset(ms: number, zone: string): number | null {
  const day = Math.floor(ms / DAY_MS)
  let ofZone = offsets.get(zone)
  if (!ofZone) offsets.set(zone, (ofZone = new Map()))
  let offset = ofZone.get(day)
  if (offset === undefined) {
    const first = fromAbsolute(day * DAY_MS, zone).offset
    offset = fromAbsolute((day + 1) * DAY_MS, zone).offset === first ? first : null
    ofZone.set(day, offset)
  }
  return offset
}

/** Answers of a slow pure function, kept while they are few; asking the calendar of a zone costs tens of microseconds. */
function remembered<K, V>(most: number): (key: K, work: () => V) => V {
  const answers = new Map<K, V>()
  return (key, work) => {
    let answer = answers.get(key)
    if (answer === undefined) {
      if (answers.size >= most) answers.clear()
      answers.set(key, (answer = work()))
    }
    return answer
  }
}
const days = remembered<number, string>(20_000)
/** Calendar day ("2026-03-29") of an instant in a zone. */
export function dayOf(ms: number, zone: string): string {
  const offset = wholeDayOffset(ms, zone)
  if (offset === null) return fromAbsolute(ms, zone).toString().slice(0, 10)
  return days(Math.floor((ms + offset) / DAY_MS), () => new Date(ms + offset).toISOString().slice(0, 10))
}

const hours = remembered<string, number>(20_000)

/** The instant at which a day reaches an hour (0..24, fractions allowed) in a zone. A gap moves to the later side. */
export const atHourOfDay = (day: string, hour: number, zone: string): number =>
  hours(`${day} ${hour} ${zone}`, () => workedOut(day, hour, zone))
function workedOut(day: string, hour: number, zone: string): number {
  const minutes = Math.round(hour * 60)
  if (minutes >= 24 * 60) return workedOut(addDays(day, 1), minutes / 60 - 24, zone)
  const local = Date.parse(`${parseDate(day).toString()}T00:00:00Z`) + minutes * 60_000
  const offset = wholeDayOffset(local, zone)
  // No zone is further than 14 hours from UTC: where nothing moves on the days around, nothing moves on this one.
  if (
    offset !== null &&
    wholeDayOffset(local - DAY_MS, zone) === offset &&
    wholeDayOffset(local + DAY_MS, zone) === offset
  )
    return local - offset
  const time = new Time(Math.floor(minutes / 60), minutes % 60)
  return toZoned(toCalendarDateTime(parseDate(day), time), zone, 'compatible')
    .toDate()
    .getTime()
}

/** Start of the day after `days` days, by the calendar, not by 24 hours. */
export const addDays = (day: string, days: number): string =>
  later(`${day} ${days}`, () => parseDate(day).add({ days }).toString())
const later = remembered<string, string>(20_000)
export const startOfDay = (ms: number, zone: string): number => atHourOfDay(dayOf(ms, zone), 0, zone)

/** Calendar days from one instant's day to another's in a zone. */
export function daysBetween(fromMs: number, toMs: number, zone: string): number {
  const from = Date.parse(`${dayOf(fromMs, zone)}T00:00:00Z`)
  const to = Date.parse(`${dayOf(toMs, zone)}T00:00:00Z`)
  return Math.round((to - from) / 86_400_000)
}

export const zonedOf = (ms: number, zone: string): ZonedDateTime => fromAbsolute(ms, zone)

/**
 * "20:10" on the day of `nowMs` in the zone; when that lies more than an hour ahead, the day before is meant.
 * null when the text is not a time of day.
 */
export function timeOfDayBefore(text: string, nowMs: number, zone: string): number | null {
  const match = /^(\d{1,2})[:.h](\d{2})$/.exec(text.trim())
  if (!match) return null
  const hour = Number(match[1])
  const minute = Number(match[2])
  if (hour > 23 || minute > 59) return null
  const today = atHourOfDay(dayOf(nowMs, zone), hour + minute / 60, zone)
  return today > nowMs + 3_600_000 ? atHourOfDay(addDays(dayOf(nowMs, zone), -1), hour + minute / 60, zone) : today
}
