// Rates of the made-up tanks (core/knowledge/rates): how parasites, pests and growths go on, and what kills. Rough, with their
// sources; no judgement reads them.
import { RATE_VALUES } from '../generated/rateValues.ts'

export type RateId = keyof typeof RATE_VALUES

/** Number of a rate, in the unit its table gives. */
export const rateOf = (id: RateId): number => RATE_VALUES[id]
