// Limits and presets that the work rests on: their numbers. What each means and where it comes from is told apart from
// them (limitTables), so that the first view carries only the numbers.
import { LIMIT_VALUES } from '../generated/limitValues.ts'

export type LimitId = keyof typeof LIMIT_VALUES

/** Number of a limit, in the unit its table gives (core/knowledge/limits). */
export const limitOf = (id: LimitId): number => LIMIT_VALUES[id]
