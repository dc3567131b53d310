import { clockMs } from '../data/clock.ts'
import { atHourOfDay } from '@brinvo/core'

/** Noon of a typed day in the keeper's zone; its beginning where noon lies ahead; NaN where it is no day. */
export function noonOf(day: string, zone: string): number {
  try {
    const noon = atHourOfDay(day, 12, zone)
    return noon > clockMs() ? atHourOfDay(day, 0, zone) : noon
  } catch {
    return NaN
  }
}
