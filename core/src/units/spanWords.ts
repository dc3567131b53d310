// Stretches of time as they stand on a plan.

/** "1 day", "3 days": a count with its word, in the singular. */
export const counted = (value: number, one: string): string => `${value} ${value === 1 ? one : `${one}s`}`

/** Whole days from two days up, hours below. @param hours at least 0 */
export const spanWords = (hours: number): string =>
  hours >= 48 ? counted(Math.round(hours / 24), 'day') : counted(Math.round(hours), 'hour')
