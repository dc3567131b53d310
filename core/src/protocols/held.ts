// A quantity that must be held: hours earned by readings inside its limits, not by days of the calendar.
import type { Condition } from '../knowledge/protocols.ts'
import { entryMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { roleReadings, roleUnit, valueFor, type CourseContext } from './courseContext.ts'

export type Held = Extract<Condition, { kind: 'held' }>
export interface HeldState {
  /** Hours earned and hours asked. */
  readonly creditedH: number
  readonly neededH: number
  /** Since when it has been inside without a break; null while it is not. */
  readonly sinceMs: number | null
  /** The reading that set the count back last, its value and instant. */
  readonly resetBy: { readonly value: number; readonly atMs: number } | null
  /** Hours since the last reading beyond what one reading vouches for. */
  readonly silentH: number
  /** When the hours were full; null before. */
  readonly overMs: number | null
}

/** The first held quantity among the parts of an exit, however deep. */
export function heldIn(condition: Condition): Held | null {
  if (condition.kind === 'held') return condition
  if (condition.kind !== 'all' && condition.kind !== 'any') return null
  for (const part of condition.of) {
    const found = heldIn(part)
    if (found) return found
  }
  return null
}

/**
 * Hours for which a quantity was held since an instant. Between two readings inside the limits the time counts, up to
 * `gapHours`; a reading outside starts anew, or only stops the count where the protocol says so.
 * @source handbook 31 §8: above 13 PSU the count starts again
 */
export function heldState(condition: Held, context: CourseContext, sinceMs: number): HeldState {
  const neededH = valueFor(condition.hours, context, 'h')
  const low =
    condition.atLeast === undefined
      ? -Infinity
      : valueFor(condition.atLeast, context, roleUnit(context, condition.role))
  const high =
    condition.atMost === undefined ? Infinity : valueFor(condition.atMost, context, roleUnit(context, condition.role))
  const gapMs = condition.gapHours * MS_PER_HOUR
  let creditedMs = 0
  let since: number | null = null
  let lastMs: number | null = null
  let resetBy: HeldState['resetBy'] = null
  let overMs: number | null = null
  const credit = (toMs: number) => {
    if (lastMs === null) return
    const earned = Math.min(toMs - lastMs, gapMs)
    if (overMs === null && creditedMs + earned >= neededH * MS_PER_HOUR - 1)
      overMs = lastMs + (neededH * MS_PER_HOUR - creditedMs)
    creditedMs += earned
  }
  // The last reading before the hold began vouches for its beginning.
  const before = roleReadings(context, condition.role, context.startMs).findLast((entry) => entryMs(entry) <= sinceMs)
  const inside = ({ value, bound }: { value: number; bound: string }) =>
    (value >= low - 1e-9 || bound === 'above') && (value <= high + 1e-9 || bound === 'below')
  if (before && inside(before)) {
    lastMs = sinceMs
    since = sinceMs
  }
  for (const reading of roleReadings(context, condition.role, sinceMs)) {
    const ms = entryMs(reading)
    if (ms > context.nowMs) break
    if (inside(reading)) {
      credit(ms)
      lastMs = ms
      since ??= ms
    } else if (overMs === null) {
      // What came since the last reading inside is not known to have been held.
      lastMs = null
      since = null
      resetBy = { value: reading.value, atMs: ms }
      if (condition.outside !== 'pauses') creditedMs = 0
    }
  }
  const silentH = lastMs === null ? 0 : Math.max(0, context.nowMs - lastMs - gapMs) / MS_PER_HOUR
  credit(context.nowMs)
  return { creditedH: creditedMs / MS_PER_HOUR, neededH, sinceMs: since, resetBy, silentH, overMs }
}
