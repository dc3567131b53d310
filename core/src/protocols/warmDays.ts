// Days of a fish-free vessel, counted by how warm each was.
import type { Condition } from '../knowledge/protocols.ts'
import { addDays, dayOf, entryMs } from '../time/time.ts'
import { roleReadings, valueFor, type CourseContext } from './courseContext.ts'

type WarmDays = Extract<Condition, { kind: 'warm-days' }>

export interface WarmDaysState {
  /** Share of the wait that is over, 0..1. */
  readonly share: number
  /** Days that counted, and days since the last host without a reading. */
  readonly counted: number
  readonly unread: number
  /** Day of the last reading that was too cold, yyyy-mm-dd, or null. */
  readonly coldDay: string | null
  /** Instant at which the wait was over, or null. */
  readonly overMs: number | null
  /** When it will be over if it stays as warm as on the last day read; null where that day was too cold or none was read. */
  readonly endMs: number | null
}

/**
 * Counts the days since the last host left. A day counts one part in the days its coldest reading asks for, by the
 * highest row it reaches; one colder than the first row counts nothing, or starts the count again.
 * A day without a reading counts nothing. @source handbook 30 §5.8
 */
export function warmDays(condition: WarmDays, context: CourseContext, sinceMs: number): WarmDaysState {
  const rows = [...condition.byTemperature].sort((a, b) => a.fromC - b.fromC)
  const times = condition.times === undefined ? 1 : valueFor(condition.times, context)
  const { zone, nowMs } = context
  const coldest = new Map<string, { value: number; ms: number }>()
  for (const reading of roleReadings(context, condition.role, sinceMs)) {
    const day = dayOf(entryMs(reading), zone)
    const before = coldest.get(day)
    coldest.set(day, { value: Math.min(before?.value ?? Infinity, reading.value), ms: entryMs(reading) })
  }
  let share = 0
  let counted = 0
  let unread = 0
  let coldDay: string | null = null
  let lastDays: number | null = null
  const today = dayOf(nowMs, zone)
  for (let day = dayOf(sinceMs, zone); day <= today; day = addDays(day, 1)) {
    const read = coldest.get(day)
    if (!read) {
      if (day !== today) unread++
      continue
    }
    const row = rows.findLast(({ fromC }) => read.value >= fromC)
    lastDays = row ? row.days * times : null
    if (row) {
      counted++
      share += 1 / (row.days * times)
      if (share >= 1 - 1e-9) return { share: 1, counted, unread, coldDay, overMs: read.ms, endMs: read.ms }
      continue
    }
    coldDay = day
    if (condition.colder === 'restarts') {
      share = 0
      counted = 0
      unread = 0
    }
  }
  const endMs = lastDays === null ? null : nowMs + Math.ceil((1 - share) * lastDays) * 86_400_000
  return { share, counted, unread, coldDay, overMs: null, endMs }
}

/** The first condition of warm days in a way out, wherever it stands. */
export function warmDaysIn(condition: Condition): WarmDays | null {
  if (condition.kind === 'warm-days') return condition
  if (condition.kind !== 'all' && condition.kind !== 'any') return null
  for (const part of condition.of) {
    const found = warmDaysIn(part)
    if (found) return found
  }
  return null
}
