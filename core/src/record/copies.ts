// Copies of the record by their days: which may go, and when the next backup is due.

/** All of the last days, then one a week, then one a month stay. EST */
const DAILY = 7
const WEEKLY_DAYS = 63
const DAY_MS = 86_400_000

/**
 * Days of which the copy may go: all of the last week stay, then the newest of each week for nine weeks, then the newest
 * of each month; the oldest of all stays.
 * @param days "2026-11-29", in any order
 */
export function copiesToThin(days: readonly string[], today: string): readonly string[] {
  const sorted = [...new Set(days)].sort().reverse()
  const age = (day: string) => Math.round((Date.parse(today) - Date.parse(day)) / DAY_MS)
  const seen = new Set<string>()
  return sorted.filter((day, i) => {
    const old = age(day)
    if (old < DAILY || i === sorted.length - 1) return false
    // Weeks of the calendar, not of today: slots that move on every day would let every copy go before it is two weeks old.
    const slot = old < WEEKLY_DAYS ? `week ${Math.floor((Date.parse(day) / DAY_MS + 3) / 7)}` : day.slice(0, 7)
    if (!seen.has(slot)) {
      seen.add(slot)
      return false
    }
    return true
  })
}

/** Days without a copy, and entries since, from which on the keeper is reminded. EST */
const REMIND_DAYS = 14
const REMIND_ENTRIES = 20

export interface LastCopy {
  readonly atMs: number
  /** Entries that it held. */
  readonly entries: number
}
/** Whether a reminder is due: weeks without a copy of a record that has grown since, or a grown record without any. */
export function copyDue(
  last: LastCopy | null,
  entries: number,
  nowMs: number,
): { readonly days: number | null; readonly since: number } | null {
  const since = entries - (last?.entries ?? 0)
  if (since < REMIND_ENTRIES) return null
  const days = last === null ? null : Math.floor((nowMs - last.atMs) / DAY_MS)
  return days === null || days >= REMIND_DAYS ? { days, since } : null
}
