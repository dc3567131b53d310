// Egg-laying pests: their stages at the water's warmth, the rounds that end them, and when it is over.
import { pests as TABLES } from '../generated/knowledge/pests.ts'
import type { PestTable } from '../generated/pestTypes.ts'
import type { DailyStages } from '../lifecycle/daily.ts'
import { chanceOver, inspectionsNeeded, planTreatments, type Founder, type LifeStages } from '../lifecycle/lifecycle.ts'

export type Pest = PestTable['pests'][number]
export const pests: readonly Pest[] = TABLES[0]!.pests
export const pestSources = TABLES[0]!.sources
export const pestOf = (id: string): Pest | undefined => pests.find((pest) => pest.id === id)

/**
 * How much longer each stage takes than at the reference: Q10^((ref − T)/10), or by published generations where there
 * are some, held at their ends. @source handbook 50 §2; Barton et al. 2019
 */
export function slowness(pest: Pest, tempC: number): number {
  const { generationDays, refC } = pest
  if (!generationDays) return TABLES[0]!.q10 ** ((refC - tempC) / 10)
  const first = generationDays[0]!
  const last = generationDays.at(-1)!
  const share = Math.min(1, Math.max(0, (tempC - first.atC) / (last.atC - first.atC)))
  return (first.days + share * (last.days - first.days)) / last.days
}

/** Stages at a temperature, hours; the earliest hatch rounded down to the day's half, the latest up. */
export function pestStages(pest: Pest, tempC: number): LifeStages {
  const factor = 24 * slowness(pest, tempC)
  return {
    hatchMinH: 12 * Math.floor((pest.hatchMinDays * factor) / 12),
    hatchMaxH: 12 * Math.ceil((pest.hatchMaxDays * factor) / 12),
    maturationH: pest.firstEggsDays * factor,
    eggsPerClutch: Math.round(pest.eggsPerClutch),
    clutchIntervalH: pest.clutchIntervalDays * factor,
  }
}

/** Stages day by day at a temperature, whole days; null for a pest whose young were never counted. */
export function dailyStages(pest: Pest, tempC: number): DailyStages | null {
  const { daily } = pest
  if (!daily) return null
  const factor = slowness(pest, tempC)
  const hatchMinDays = Math.max(1, Math.floor(daily.hatchMinDays * factor))
  return {
    hatchMinDays,
    hatchMaxDays: Math.max(hatchMinDays, Math.ceil(daily.hatchMaxDays * factor)),
    matureDays: Math.max(1, Math.floor(daily.matureDays * factor)),
    eggsPerDay: daily.eggsPerDay / factor,
    youngSurvival: daily.youngSurvival,
  }
}

export interface RoundRule {
  /** Days from one round to the next, and the most it may be late before hatchlings lay. */
  readonly intervalDays: number
  readonly latestDays: number
  /** Rounds a hatchling must meet before it can lay. */
  readonly meetings: number
  readonly hatchMaxDays: number
}
/**
 * Spacing of rounds: a hatchling must meet ⌈ln 0.05 ÷ ln(1 − kill)⌉ of them before it lays, no more than a week apart
 * and no less than two days. @source handbook 50 §9, 1 to 3
 */
export function roundRule(pest: Pest, tempC: number): RoundRule {
  const factor = slowness(pest, tempC)
  const meetings = Math.ceil(Math.log(0.05) / Math.log(1 - pest.killPerRound))
  const layDays = pest.firstEggsDays * factor
  const intervalDays = Math.max(2, Math.min(pest.usualIntervalDays ?? 7, Math.floor(layDays / meetings), 7))
  return {
    intervalDays,
    latestDays: Math.max(intervalDays, Math.floor(layDays) - 1),
    meetings,
    hatchMaxDays: Math.ceil(pest.hatchMaxDays * factor),
  }
}
/** Day of the earliest last round: the last find, the last egg hatched, and enough rounds after it. @source handbook 50 §9, 3 */
export const lastRoundDay = (rule: RoundRule, lastFindDay: number): number =>
  lastFindDay + rule.hatchMaxDays + rule.meetings * rule.intervalDays

export interface RoundsInputs {
  readonly pestId: string
  readonly tempC: number
  /** Share of the mobile ones one round takes, and of the eggs. */
  readonly kill: number
  readonly eggs: number
  /** Found so far: mobile ones and eggs. */
  readonly mobiles: number
  readonly eggCount: number
  readonly wanted: number
}
export interface Rounds {
  /** Days of the rounds from the first; null where no number of rounds up to twelve will do. */
  readonly days: readonly number[] | null
  readonly chance: number
  readonly slackH: number
  /** Looks that find nothing before it may be called over, by detection, and by the handbook's least. */
  readonly cleanLooks: number
  /** Chance that it is over after that many clean looks. */
  readonly overChance: number
  readonly hatchDays: readonly [number, number]
  readonly layDays: number
  /** Days the host must be away for what is left to starve. */
  readonly fallowDays: number
}

/** Rounds, their days, and the looks after them. @throws RangeError for a pest that does not exist */
export function pestRounds(inputs: RoundsInputs): Rounds {
  const pest = pestOf(inputs.pestId)
  if (!pest) throw new RangeError(`pestRounds: no stages are written for ${inputs.pestId}`)
  const stages = pestStages(pest, inputs.tempC)
  const founders: Founder[] = [
    { stage: 'mobile', hatchedAtH: -(stages.maturationH ?? 0), count: Math.max(1, Math.round(inputs.mobiles)) },
    { stage: 'egg', laidAtH: 0, count: Math.round(inputs.eggCount) },
  ]
  const plan = planTreatments(stages, { killMobile: inputs.kill, killEgg: inputs.eggs }, founders, inputs.wanted, 12)
  const left = plan ? -Math.log(Math.max(1e-9, plan.pExtinct)) : inputs.mobiles
  const cleanLooks = Math.max(pest.cleanLooks, inspectionsNeeded(left, pest.detection, 0.98, 'per-inspection') ?? 99)
  return {
    days: plan ? Array.from({ length: plan.treatments }, (_, i) => (i * plan.intervalH) / 24) : null,
    chance: plan?.pExtinct ?? 0,
    slackH: plan?.slackH ?? 0,
    cleanLooks,
    overChance: chanceOver(left, pest.detection, cleanLooks, 'per-inspection'),
    hatchDays: [stages.hatchMinH / 24, stages.hatchMaxH / 24],
    layDays: (stages.maturationH ?? 0) / 24,
    fallowDays: Math.ceil(pest.offHostDays * slowness(pest, inputs.tempC) + stages.hatchMaxH / 24),
  }
}
