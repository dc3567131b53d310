// Instants and numbers as the keeper reads them.
import {
  MOST,
  atHourOfDay,
  dayOf,
  daysBetween,
  formatDuration,
  formatNumber,
  formatQuantity,
  fromCanonical,
  preferredUnit,
  zonedOf,
  type Settings,
  type UnitPreferences,
} from '@brinvo/core'

export const preferencesOf = (settings: Settings): UnitPreferences => ({
  volume: settings.volume,
  temperature: settings.temperature,
  salinity: settings.salinity,
  alkalinity: settings.alkalinity,
  length: settings.length,
  locale: settings.locale,
})

const formatters = new Map<string, Intl.DateTimeFormat>()
const formatter = (
  settings: Pick<Settings, 'locale' | 'zone'>,
  options: Intl.DateTimeFormatOptions,
): Intl.DateTimeFormat => {
  const key = JSON.stringify([settings.locale, settings.zone, options])
  let found = formatters.get(key)
  if (!found) {
    // Words are English throughout; order and separators follow the keeper's region where it speaks English.
    const locale = settings.locale.startsWith('en') ? settings.locale : 'en-GB'
    found = new Intl.DateTimeFormat(locale, { timeZone: settings.zone, ...options })
    formatters.set(key, found)
  }
  return found
}
type Where = Pick<Settings, 'locale' | 'zone'>

/** "20:10" */
export const timeText = (ms: number, where: Where): string =>
  formatter(where, { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }).format(ms)
/** "Mon 23 Nov" */
export const dayText = (ms: number, where: Where): string =>
  formatter(where, { weekday: 'short', day: 'numeric', month: 'short' }).format(ms)
/** "23 November 2026" */
export const longDayText = (ms: number, where: Where): string =>
  formatter(where, { day: 'numeric', month: 'long', year: 'numeric' }).format(ms)
export const weekdayText = (ms: number, where: Where): string => formatter(where, { weekday: 'long' }).format(ms)

/** "today 20:10", "yesterday 18:30", "Thu 26 Nov 17:30" */
export function whenText(ms: number, nowMs: number, where: Where): string {
  const days = daysBetween(nowMs, ms, where.zone)
  const time = timeText(ms, where)
  if (days === 0) return `today ${time}`
  if (days === -1) return `yesterday ${time}`
  if (days === 1) return `tomorrow ${time}`
  return `${dayText(ms, where)} ${time}`
}
/** "2 h late", "in 40 min" */
export function dueText(dueMs: number, nowMs: number): string {
  const hours = (dueMs - nowMs) / 3_600_000
  return hours < 0 ? `${formatDuration(-hours)} late` : `in ${formatDuration(hours)}`
}
export const partOfDay = (ms: number, where: Where): string => {
  const { hour } = zonedOf(ms, where.zone)
  return hour < 5 ? 'night' : hour < 12 ? 'morning' : hour < 17 ? 'afternoon' : 'evening'
}
/** Value for an <input type="datetime-local">. */
export const localInput = (ms: number, zone: string): string =>
  `${dayOf(ms, zone)}T${zonedOf(ms, zone).toString().slice(11, 16)}`

/** Instant of an <input type="datetime-local"> in the keeper's zone; NaN while it is not one. */
export function localMs(text: string, zone: string): number {
  const match = /^(\d{4}-\d{2}-\d{2})T(\d{2}):(\d{2})/.exec(text)
  return match ? atHourOfDay(match[1]!, Number(match[2]) + Number(match[3]) / 60, zone) : NaN
}

const SMALL = ['no', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine', 'ten', 'eleven', 'twelve']
export const countWord = (count: number): string => SMALL[count] ?? String(count)
export const plural = (count: number, one: string, many = `${one}s`): string =>
  `${countWord(count)} ${count === 1 ? one : many}`

/** What came in from another device: "Two entries and one changed thing". */
export function cameWords(entries: number, things: number): string {
  const parts = [
    ...(entries > 0 ? [plural(entries, 'entry', 'entries')] : []),
    ...(things > 0 ? [plural(things, 'changed or new thing')] : []),
  ]
  return sentenceCase(parts.length === 0 ? 'nothing new' : parts.join(' and '))
}

/** Two days, with what they share said once: between 21 and 23 December 2026. */
export function betweenDays(first: string, last: string): string {
  const [a, b] = [first.split(' '), last.split(' ')]
  let shared = 0
  while (shared < a.length - 1 && a.at(-1 - shared) === b.at(-1 - shared)) shared++
  return `between ${a.slice(0, a.length - shared).join(' ')} and ${last}`
}

const LIST = new Intl.ListFormat('en-GB', { type: 'conjunction' })
/** "length, width and height" */
export const listed = (words: readonly string[]): string => LIST.format(words)

export const litresText = (litres: number, settings: Settings): string =>
  formatQuantity(litres, 'volume', preferencesOf(settings), litres < 20 ? 1 : 0).text
/** "67 ± 2 L": a volume with its doubt, the unit once. */
export function volumeText(volume: { litres: number; sdLitres: number }, settings: Settings): string {
  const preferences = preferencesOf(settings)
  const unit = preferredUnit('volume', preferences)
  const shown = (litres: number) => fromCanonical('volume', litres, unit)
  const places = shown(volume.litres) < 20 ? 1 : 0
  const doubt = shown(volume.sdLitres)
  return `${formatNumber(shown(volume.litres), preferences.locale, places)} ± ${formatNumber(doubt, preferences.locale, doubt < 1 ? 1 : places)} ${unit}`
}
/** "25.4 °C", or "77.7 °F": one decimal, in the keeper's own unit. */
export const temperatureText = (celsius: number, settings: Settings): string =>
  formatQuantity(celsius, 'temperature', preferencesOf(settings), 1).text
/** A level in water: two decimals, three below one tenth, and no zero behind that could be read as ten times as much. */
export const levelText = (mgPerL: number): string => String(Number(mgPerL.toFixed(mgPerL < 0.1 ? 3 : 2)))
export const percentText = (share: number): string =>
  share > 0.995 && share < 1 ? '> 99 %' : share > 0 && share < 0.005 ? '< 1 %' : `${Math.round(share * 100)} %`
/** A count or name at the start of a sentence. */
export const sentenceCase = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1)

/** A chance in words: never surer than the engine may be. */
export const percent = (p: number): string =>
  p >= MOST ? `${Math.round(100 * MOST)} % or more` : p < 0.01 ? 'under 1 %' : `${Math.round(100 * p)} %`
