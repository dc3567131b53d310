// What the posterior needs to know about one agent in one vessel: priors, events with their errors, readings.

import { limitOf } from '../knowledge/limits.ts'
/** Prior of a positive unknown: median and standard deviation of its natural log. */
export interface LogPrior {
  readonly median: number
  readonly sdLn: number
}

export type UncertainEvent =
  | {
      readonly kind: 'dose'
      readonly tH: number
      readonly massMg: number
      /** sd as a share of the mass: 3 % or half a syringe step, whichever is larger. */
      readonly sdShare: number
      readonly id?: string
    }
  | {
      readonly kind: 'change'
      readonly tH: number
      readonly fraction: number
      /** sd as a share of the fraction: 5 %. */
      readonly sdShare: number
      readonly replacementMgPerL: number
      readonly id?: string
    }
  | { readonly kind: 'topoff'; readonly tH: number; readonly mgPerL: number; readonly id?: string }

export interface LevelReading {
  readonly tH: number
  readonly mgPerL: number
  /** `below`: the kit only said "less than"; `above`: over its range. */
  readonly bound: 'exact' | 'below' | 'above'
  /** Index into `instruments`. */
  readonly instrument: number
  /** Half the kit's step, mg/L. */
  readonly halfStepMgPerL: number
  /** Relative error of the kit, share of the level. */
  readonly relativeError: number
  readonly id?: string
}

export interface MediaInterval {
  readonly fromH: number
  readonly toH: number
  /** Median removal rate, 1/h, and how uncertain it is (sd as a share). */
  readonly perHour: number
  readonly sdShare: number
}

/** A prior, and with a small chance quite another one: what was published, measured or read from a label may be wrong altogether. */
export type Tailed = LogPrior & { readonly tail?: LogPrior & { readonly share: number } }

export interface LevelModel {
  /** Effective volume, L: what a dose is thinned in. */
  readonly volume: Tailed
  /** Loss rate, 1/h. sdLn 0 fixes it. */
  readonly loss: Tailed
  /** Share bound by binding media in the vessel, mean and sd; absent means none. */
  readonly binding?: { readonly mean: number; readonly sd: number }
  readonly initial: { readonly mgPerL: number; readonly sdMgPerL: number }
  readonly evaporationLPerH: number
  readonly media: readonly MediaInterval[]
  readonly events: readonly UncertainEvent[]
  readonly readings: readonly LevelReading[]
  /** sd of each instrument's multiplicative bias: 0.04 unless checked against a standard. */
  readonly instrumentBiasSd: readonly number[]
  /** Share of the level that may come or go unwritten in a day, one sd; none where left out. */
  readonly unloggedSdPerDay?: number
}

/** Defaults of the model. @source design/definitions "Level" */
export const DOSE_SD_SHARE = limitOf('dose-spread')
export const CHANGE_SD_SHARE = limitOf('change-spread')
/**
 * Bias of a kit nobody held against a standard: of two kits in five it is 8 to 12 %. @source defect T1; handbook 65.5
 * `dis-standard`
 */
export const INSTRUMENT_BIAS_SD = limitOf('kit-bias')
/**
 * Bias left after a check against a standard: three readings of 3 % scatter, whose middle passes within 3 %, let a kit
 * through that is off by 2 % as often as not. EST
 */
export const CHECKED_BIAS_SD = limitOf('kit-bias-checked')

/** Log prior from a range that is read as ±2 sd, e.g. a half-life of 20 to 40 days. */
export function logPriorFromRange(low: number, high: number): LogPrior {
  if (!(low > 0 && high >= low)) throw new RangeError('logPriorFromRange: needs 0 < low <= high')
  return { median: Math.sqrt(low * high), sdLn: Math.log(high / low) / 4 }
}
/**
 * A volume with its doubt, and the chance that a dose does something quite different from what was reckoned: a bottle whose
 * strength was read wrong, a tank that was measured wrong by a half. Readings that agree with each other then count.
 */
export function volumePrior(litres: number, sdLn: number): LevelModel['volume'] {
  return {
    median: litres,
    sdLn,
    tail: { share: limitOf('dose-wrong-share'), median: litres, sdLn: limitOf('dose-wrong-spread') },
  }
}
/**
 * A loss as it is published, and, where sand or rock takes the agent up, the chance that this vessel's is faster. Few readings
 * leave the published range as it is; several that sink together are believed. A bare vessel keeps to what is published: given
 * the same freedom, a volume that was measured wrong was taken for a loss, and holds were called done too early (decision 0037).
 */
export function lossPrior(low: number, high: number, media: boolean): LevelModel['loss'] {
  const published = logPriorFromRange(low, high)
  if (!media) return published
  return {
    ...published,
    tail: {
      share: limitOf('loss-faster-media'),
      median: published.median * limitOf('loss-faster-times'),
      sdLn: limitOf('loss-faster-spread'),
    },
  }
}
/**
 * What measures of a tank miss besides their own errors: a wrong side, a sump, a fill line. A share, one standard
 * deviation, on top of what the measures say of themselves. EST from misdescribed tanks (half of them by 15 %).
 */
export const VOLUME_SLIP_SD = limitOf('volume-slip')
/** What happens to the water and is never written down, share of the level in a day, one standard deviation. EST */
export const UNLOGGED_SD_PER_DAY = limitOf('unwritten-a-day')
