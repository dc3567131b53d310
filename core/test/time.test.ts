import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { addDays, atHourOfDay, dayOf } from '@brinvo/core'

// The oracle is the formatter of the language itself, which shares nothing with the arithmetic here.
const ZONES = [
  'Europe/Berlin',
  'America/New_York',
  'America/St_Johns',
  'Australia/Lord_Howe',
  'Pacific/Apia',
  'Pacific/Kiritimati',
  'Asia/Kathmandu',
  'Africa/Casablanca',
  'America/Santiago',
  'UTC',
]
const formatters = new Map(
  ZONES.map((timeZone) => [
    timeZone,
    new Intl.DateTimeFormat('en-CA', {
      timeZone,
      year: 'numeric',
      month: '2-digit',
      day: '2-digit',
      hour: '2-digit',
      minute: '2-digit',
      hourCycle: 'h23',
    }),
  ]),
)
function shown(ms: number, zone: string): { day: string; hour: number; minute: number } {
  const parts = Object.fromEntries(
    formatters
      .get(zone)!
      .formatToParts(ms)
      .map(({ type, value }) => [type, value]),
  )
  return { day: `${parts.year}-${parts.month}-${parts.day}`, hour: Number(parts.hour), minute: Number(parts.minute) }
}
const anyInstant = fc.integer({ min: Date.parse('2009-01-01T00:00Z'), max: Date.parse('2031-12-31T00:00Z') })
// Most instants lie far from any move of the clocks: every other one is drawn near the nights of March and October.
const nearAMove = fc
  .tuple(
    fc.integer({ min: 2009, max: 2031 }),
    fc.constantFrom('03-08', '03-25', '04-01', '09-01', '10-25', '11-01'),
    fc.integer({ min: 0, max: 9 * 86_400_000 }),
  )
  .map(([year, day, ms]) => Date.parse(`${year}-${day}T00:00Z`) + ms)
const instant = fc.oneof(anyInstant, nearAMove)

test('the day of an instant is what a calendar on the wall shows', () => {
  fc.assert(
    fc.property(instant, fc.constantFrom(...ZONES), (ms, zone) => dayOf(ms, zone) === shown(ms, zone).day),
    { numRuns: 4000, seed: 5 },
  )
})
test('an hour of a day is the instant at which the clock on the wall shows it; one that is skipped, soon after', () => {
  fc.assert(
    fc.property(
      instant,
      fc.constantFrom(...ZONES),
      fc.integer({ min: 0, max: 23 }),
      fc.constantFrom(0, 15, 30, 59),
      (ms, zone, hour, minute) => {
        const day = shown(ms, zone).day
        const seen = shown(atHourOfDay(day, hour + minute / 60, zone), zone)
        const late =
          (Date.parse(`${seen.day}T00:00Z`) - Date.parse(`${day}T00:00Z`)) / 60_000 +
          60 * seen.hour +
          seen.minute -
          60 * hour -
          minute
        return late === 0 || late === 30 || late === 60
      },
    ),
    { numRuns: 4000, seed: 6 },
  )
})
test('summer time by hand', () => {
  // 29 March 2026, 02:00 becomes 03:00 in Berlin; 25 October, 03:00 becomes 02:00.
  expect(atHourOfDay('2026-03-29', 1.5, 'Europe/Berlin')).toBe(Date.parse('2026-03-29T00:30Z'))
  expect(atHourOfDay('2026-03-29', 2.5, 'Europe/Berlin')).toBe(Date.parse('2026-03-29T01:30Z'))
  expect(atHourOfDay('2026-03-29', 4, 'Europe/Berlin')).toBe(Date.parse('2026-03-29T02:00Z'))
  expect(atHourOfDay('2026-03-30', 0, 'Europe/Berlin')).toBe(Date.parse('2026-03-29T22:00Z'))
  expect(dayOf(Date.parse('2026-10-25T22:59Z'), 'Europe/Berlin')).toBe('2026-10-25')
  expect(dayOf(Date.parse('2026-10-25T23:00Z'), 'Europe/Berlin')).toBe('2026-10-26')
})
test('the end of a day is the beginning of the next, and so is what rounds up to it', () => {
  expect(atHourOfDay('2026-06-01', 24, 'Europe/Berlin')).toBe(atHourOfDay('2026-06-02', 0, 'Europe/Berlin'))
  expect(atHourOfDay('2026-06-01', 23.9999, 'Europe/Berlin')).toBe(atHourOfDay('2026-06-02', 0, 'Europe/Berlin'))
  expect(addDays('2026-02-27', 2)).toBe('2026-03-01')
})
test('what is no day and no zone is refused', () => {
  expect(() => atHourOfDay('2026-02-30', 1, 'UTC')).toThrow()
  expect(() => dayOf(0, 'Nowhere/Land')).toThrow(RangeError)
})
