// Days and times of a table, as they are written; an order of day and month that is not said stays open.
import { zonedOf } from '../time/time.ts'
import { MOST_REMEMBERED } from './cells.ts'
import { plain } from './heads.ts'
import { tableWords } from './words.ts'

export type DateOrder = 'dmy' | 'mdy' | 'ymd'
/** Wall clock of the keeper's zone: "2026-03-02", and "08:30" where the file gives a time. */
export interface Moment {
  readonly day: string
  readonly time: string | null
}
export type Written =
  | { readonly kind: 'moment'; readonly moment: Moment }
  /** Three parts whose order nothing says. */
  | { readonly kind: 'open'; readonly parts: readonly [number, number, number]; readonly time: string | null }
  /** Written as a date, but there is no such day or time. */
  | { readonly kind: 'no-such-day' }

const two = (value: number): string => String(value).padStart(2, '0')
const year = (text: string): number => (text.length <= 2 ? 2000 + Number(text) : Number(text))

/** A day that exists, else null. */
export function dayText(y: number, m: number, d: number): string | null {
  if (!(m >= 1 && m <= 12 && d >= 1 && y >= 1900 && y < 2200)) return null
  return d <= new Date(Date.UTC(y, m, 0)).getUTCDate() ? `${y}-${two(m)}-${two(d)}` : null
}

/** "8:30 PM", "18.10 Uhr", "0830", a spreadsheet's fraction of a day → "20:30"; null where it is no time. */
export function timeText(text: string): string | null {
  const t = plain(text)
    .replace(/(?:uhr|h|o'clock)\.?$/, '')
    .trim()
  const fraction = /^0?[.,](\d+)$/.exec(t)
  if (fraction && fraction[1]!.length > 2) {
    const minutes = Math.round(Number(`0.${fraction[1]}`) * 24 * 60)
    return minutes < 24 * 60 ? `${two(Math.floor(minutes / 60))}:${two(minutes % 60)}` : '23:59'
  }
  const match =
    /^(\d{1,2})(?:[:.h](\d{2})(?:[:.]\d{2}(?:[.,]\d+)?)?)?\s*([ap])\.?\s?m\.?$/.exec(t) ??
    /^(\d{1,2})[:.h](\d{2})(?:[:.]\d{2}(?:[.,]\d+)?)?$/.exec(t) ??
    /^(\d{2})(\d{2})$/.exec(t)
  if (!match) return null
  let hour = Number(match[1])
  const minute = Number(match[2] ?? 0)
  const half = match[3]
  if (half !== undefined) {
    if (hour < 1 || hour > 12) return null
    hour = (hour % 12) + (half === 'p' ? 12 : 0)
  }
  return hour < 24 && minute < 60 ? `${two(hour)}:${two(minute)}` : null
}

const MONTHS = new Map(tableWords.months.flatMap((names, i) => names.map((name) => [plain(name), i + 1] as const)))
const WEEKDAY = new RegExp(`^(?:${tableWords.weekdays.join('|')})\\.?,?\\s+`)
const moment = (day: string | null, time: string | null): Written =>
  day === null ? { kind: 'no-such-day' } : { kind: 'moment', moment: { day, time } }

const dateMemory = new Map<string, Written | null>()
let memoryZone = ''
/** What a cell of a date column says; null where it is no date at all. Remembered for one zone at a time. */
export function writtenDate(text: string, zone: string): Written | null {
  if (zone !== memoryZone || dateMemory.size >= MOST_REMEMBERED) {
    dateMemory.clear()
    memoryZone = zone
  }
  let date = dateMemory.get(text)
  if (date === undefined) dateMemory.set(text, (date = readDate(text, zone)))
  return date
}
function readDate(text: string, zone: string): Written | null {
  // Every date has a digit, and at least five letters or signs.
  if (text.length < 5 || !/\d/.test(text)) return null
  let rest = plain(text).replace(WEEKDAY, '').trim()
  if (rest === '') return null
  const instant =
    /^(\d{4})-(\d{2})-(\d{2})[t ](\d{2}):(\d{2})(?::(\d{2})(?:[.,]\d+)?)?\s*(z|utc|gmt|[+-]\d{2}:?\d{2})$/.exec(rest)
  if (instant) {
    const [, y, mo, d, h, mi, s = '00', offset] = instant as unknown as string[]
    const zulu = /[+-]/.test(offset!) ? offset!.replace(/^(...)(\d\d)$/, '$1:$2') : 'Z'
    const ms = Date.parse(`${y}-${mo}-${d}T${h}:${mi}:${s}${zulu}`)
    if (!Number.isFinite(ms) || dayText(Number(y), Number(mo), Number(d)) === null) return { kind: 'no-such-day' }
    const there = zonedOf(ms, zone).toString()
    return moment(there.slice(0, 10), there.slice(11, 16))
  }
  // A spreadsheet's day number; its fraction is the time.
  const serial = /^(\d{5})(?:[.,](\d+))?$/.exec(rest)
  if (serial) {
    const minutes = serial[2] === undefined ? null : Math.round(Number(`0.${serial[2]}`) * 24 * 60)
    const days = Number(serial[1]) + (minutes !== null && minutes >= 24 * 60 ? 1 : 0)
    const day = new Date(Date.UTC(1899, 11, 30) + days * 86_400_000).toISOString().slice(0, 10)
    const left = minutes === null ? null : minutes % (24 * 60)
    return moment(day, left === null ? null : `${two(Math.floor(left / 60))}:${two(left % 60)}`)
  }
  let time: string | null = null
  const tail =
    /(?:[t,]\s*|\s+)((?:at |um )?\d{1,2}[:.h]\d{2}(?:[:.]\d{2}(?:[.,]\d+)?)?(?:\s*[ap]\.?m\.?)?(?:\s*(?:uhr|h))?|\d{1,2}\s*[ap]\.?m\.?)$/.exec(
      rest,
    )
  if (tail && tail.index > 5) {
    time = timeText(tail[1]!.replace(/^(?:at|um) /, ''))
    if (time === null) return { kind: 'no-such-day' }
    rest = rest.slice(0, tail.index).replace(/,$/, '').trim()
  }
  let match = /^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})\.?$/.exec(rest) ?? /^((?:19|20)\d{2})(\d{2})(\d{2})$/.exec(rest)
  if (match) return moment(dayText(Number(match[1]), Number(match[2]), Number(match[3])), time)
  match = /^(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{2}|\d{4})$/.exec(rest)
  if (match) return moment(dayText(year(match[3]!), Number(match[2]), Number(match[1])), time)
  match = /^(\d{1,2})([-/])(\d{1,2})\2(\d{2}|\d{4})$/.exec(rest)
  if (match) {
    const [a, b] = [Number(match[1]), Number(match[3])]
    if (a > 31 && match[4]!.length === 2) return moment(dayText(2000 + a, b, Number(match[4])), time)
    return { kind: 'open', parts: [a, b, Number(match[4])], time }
  }
  match = /^(\d{1,2})(?:st|nd|rd|th)?\.?[\s-]*([a-z]+)\.?,?[\s-]*(\d{4}|\d{2})$/.exec(rest)
  if (match && MONTHS.has(match[2]!))
    return moment(dayText(year(match[3]!), MONTHS.get(match[2]!)!, Number(match[1])), time)
  match = /^([a-z]+)\.?[\s-]*(\d{1,2})(?:st|nd|rd|th)?,?[\s-]+(\d{4}|\d{2})$/.exec(rest)
  if (match && MONTHS.has(match[1]!))
    return moment(dayText(year(match[3]!), MONTHS.get(match[1]!)!, Number(match[2])), time)
  match = /^(\d{4})[\s-]+([a-z]+)\.?[\s-]+(\d{1,2})$/.exec(rest)
  if (match && MONTHS.has(match[2]!))
    return moment(dayText(Number(match[1]), MONTHS.get(match[2]!)!, Number(match[3])), time)
  return null
}

/** The order that open dates of one file settle by their size: "ask" where they do not, or contradict each other. */
export function orderOf(dates: readonly Written[]): DateOrder | 'ask' | null {
  let open = false
  let dmy = false
  let mdy = false
  const firsts = new Set<number>()
  const lasts = new Set<number>()
  for (const date of dates) {
    if (date.kind !== 'open') continue
    open = true
    const [a, b, c] = date.parts
    firsts.add(a)
    lasts.add(c)
    if (a > 12 && b <= 12) dmy = true
    if (b > 12 && a <= 12) mdy = true
  }
  if (!open) return null
  if (dmy === mdy) return 'ask'
  // A year of two digits may stand first or last: with the same first part in every row, nobody can tell.
  if (dmy && firsts.size === 1 && lasts.size > 1 && [...lasts].every((last) => last <= 31)) return 'ask'
  return dmy ? 'dmy' : 'mdy'
}

/** The moment of what is written, under an order. */
export function settledDate(date: Written, order: DateOrder): Moment | null {
  if (date.kind === 'moment') return date.moment
  if (date.kind === 'no-such-day') return null
  const [a, b, c] = date.parts
  const full = (value: number) => (value < 100 ? 2000 + value : value)
  const day =
    order === 'dmy' ? dayText(full(c), b, a) : order === 'mdy' ? dayText(full(c), a, b) : dayText(full(a), b, c)
  return day === null ? null : { day, time: date.time }
}
