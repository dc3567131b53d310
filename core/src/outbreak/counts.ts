// What a keeper's counts say about a pest: how many there were, how well each round works, and whether it is over.
import { dailyNumbers, type DailyRow, type DailyStages, type DailyTreatment } from '../lifecycle/daily.ts'

export interface CountedRound {
  /** Day of the campaign, the first being 0. */
  readonly day: number
  /** Mobiles found; null where nothing was counted. */
  readonly found: number | null
  readonly eggsFound?: number
  /** A look without a treatment kills nothing. */
  readonly treated: boolean
  /** Chance that one animal that is there is found, by this look. 0 to 1. */
  readonly seen: number
}
export interface CountModel {
  readonly stages: DailyStages
  /** Share of mobiles one careful round kills, and of the eggs it takes off. */
  readonly kill: number
  readonly eggs: number
}
export interface CountVerdict {
  /** Chance that nothing, neither egg nor animal, is left: now, after the next round or look found nothing, after two. */
  readonly overNow: number
  readonly overAfterOne: number
  readonly overAfterTwo: number
  /** What one round seems to kill, with its middle 80 %. */
  readonly kill: { readonly mean: number; readonly low: number; readonly high: number }
  /** Expected animals and eggs left now. */
  readonly mobilesLeft: number
  readonly eggsLeft: number
  /** Chance that fewer are there in one life of the pest than now. */
  readonly falling: number
  /** Animals a count would find, day by day: middle and the band of eight in ten counts. */
  readonly band: readonly {
    readonly day: number
    readonly low: number
    readonly middle: number
    readonly high: number
  }[]
}

/** Kill shares that are weighed against each other: from careless work to nearly all. */
const KILLS = [0.2, 0.35, 0.5, 0.6, 0.7, 0.8, 0.88, 0.95, 0.99]
/** How far a keeper's work strays from the usual, on the logit scale. EST */
const KILL_SPREAD = 1
/** Prior of founders: shape and mean; wide, so that the first count rules. EST */
const FOUNDER_SHAPE = 0.6
const FOUNDER_MEAN = 20

interface Branch {
  readonly weight: number
  readonly kill: number
  readonly rows: readonly DailyRow[]
  /** The same, given what the looks found: after a look without a find only what it missed is left. */
  readonly missed: readonly DailyRow[]
  /** Founders ~ Gamma(shape, rate) per 1 founder of `rows`. */
  readonly shape: number
  readonly rate: number
}

/**
 * Reads counts through the daily model. The number of founders has a gamma prior and each count is Poisson in what the
 * model expects, so the posterior is a gamma; the kill of a round is weighed on a grid, each by how well it explains
 * the counts. A zero is a count; a blank is not.
 * @param asOfDay day on which it is asked, from 0
 * @param ahead clean looks after it, days and their chance of seeing; and the days on which rounds are planned
 * @throws RangeError for a round after the day asked about
 * @source conjugate Poisson–gamma thinning over the model of handbook 50 §9
 */
export function readCounts(
  model: CountModel,
  rounds: readonly CountedRound[],
  asOfDay: number,
  ahead: { readonly days: readonly number[]; readonly seen: number; readonly planned?: readonly number[] },
): CountVerdict {
  if (rounds.some(({ day }) => day > asOfDay))
    throw new RangeError('readCounts: a round lies after the day asked about')
  const horizon = Math.max(asOfDay, ...ahead.days) + model.stages.hatchMaxDays + model.stages.matureDays
  const branches = branchesOf(model, rounds, ahead.planned ?? [], horizon)
  const looks = ahead.days.map((day) => ({ day, seen: ahead.seen }))
  const lastDay = Math.max(0, ...rounds.filter(({ treated }) => treated).map(({ day }) => day))
  const sum = (of: (branch: Branch) => number) =>
    branches.reduce((total, branch) => total + branch.weight * of(branch), 0)
  const mean = sum(({ kill }) => kill)
  const clump = Math.max(1, model.stages.eggsPerDay * model.stages.hatchMinDays)
  const life = model.stages.hatchMaxDays + model.stages.matureDays
  return {
    overNow: chanceOf(branches, lastDay, asOfDay, [], clump),
    overAfterOne: chanceOf(branches, lastDay, asOfDay, looks.slice(0, 1), clump),
    overAfterTwo: chanceOf(branches, lastDay, asOfDay, looks.slice(0, 2), clump),
    kill: { mean, low: quantile(branches, 0.1), high: quantile(branches, 0.9) },
    mobilesLeft: sum((branch) => (branch.shape / branch.rate) * branch.rows[asOfDay]!.mobiles),
    eggsLeft: sum((branch) => (branch.shape / branch.rate) * branch.rows[asOfDay]!.eggs),
    falling: sum(({ rows }) => {
      const from = rows[Math.max(0, asOfDay - life)]!
      const now = rows[asOfDay]!
      return now.mobiles + now.eggs < from.mobilesBefore + from.eggsBefore ? 1 : 0
    }),
    band: bandOf(branches, rounds, asOfDay),
  }
}

function branchesOf(
  model: CountModel,
  rounds: readonly CountedRound[],
  planned: readonly number[],
  horizon: number,
): Branch[] {
  const centre = logit(model.kill)
  const logs = KILLS.map((kill) => {
    const days = [...rounds.filter(({ treated }) => treated).map(({ day }) => day), ...planned]
    const treatments = days.map((day): DailyTreatment => ({ day, kill, eggs: model.eggs }))
    const rows = dailyNumbers(model.stages, treatments, horizon, 1)
    // Of a number that scatters like a Poisson count, a look that finds none leaves the share it does not see.
    const thinned = [
      ...rounds.map(({ day, found, seen, treated }, i): DailyTreatment => {
        const spared = (treated ? 1 - kill : 1) * (found === 0 ? 1 - seen : 1)
        // Who laid since the round before would have been there to be seen: their eggs go with them.
        const before = rounds.findLast((one, at) => at < i && one.treated)?.day ?? 0
        const laidSince = Math.min(1, (day - before) / model.stages.hatchMaxDays)
        const kept = (treated ? 1 - model.eggs : 1) * (found === 0 ? 1 - seen * laidSince : 1)
        return { day, kill: 1 - spared, eggs: 1 - kept }
      }),
      ...planned.map((day): DailyTreatment => ({ day, kill, eggs: model.eggs })),
    ]
    const missed = dailyNumbers(model.stages, thinned, horizon, 1)
    let shape = FOUNDER_SHAPE
    let rate = FOUNDER_SHAPE / FOUNDER_MEAN
    let log = -0.5 * ((logit(kill) - centre) / KILL_SPREAD) ** 2
    for (const { day, found, seen } of rounds) {
      if (found === null) continue
      const expected = Math.max(1e-12, rows[day]!.mobilesBefore * seen)
      // Negative binomial: what this kill foretold of the count.
      log += logGamma(shape + found) - logGamma(shape) - logGamma(found + 1)
      log += shape * Math.log(rate / (rate + expected)) + found * Math.log(expected / (rate + expected))
      shape += found
      rate += expected
    }
    return { log, kill, rows, missed, shape, rate }
  })
  const most = Math.max(...logs.map(({ log }) => log))
  const total = logs.reduce((sum, { log }) => sum + Math.exp(log - most), 0)
  return logs.map(({ log, ...rest }) => ({ ...rest, weight: Math.exp(log - most) / total }))
}

/**
 * Lines that may live on: every animal is one, eggs are not. They lie together, laid by one that lived, so their number
 * scatters far more than the number of those who laid them: with eggs in clumps of c, the chance of none is that of
 * ln(1 + c · eggs) ÷ c lines. @source compound Poisson with logarithmic clumps (negative binomial); clump EST: what one lays until the first hatch
 */
const linesOf = ({ mobiles, eggs }: Pick<DailyRow, 'mobiles' | 'eggs'>, clump: number): number =>
  mobiles + Math.log1p(clump * eggs) / clump

/** Chance that nothing is left, given also looks that are still to come and find nothing. */
function chanceOf(
  branches: readonly Branch[],
  lastDay: number,
  asOfDay: number,
  clean: readonly { day: number; seen: number }[],
  clump: number,
): number {
  let total = 0
  let over = 0
  for (const { weight, missed, shape, rate } of branches) {
    // Lines alive after the last round: what is there later descends from them, so growth in number is no new line.
    let left = Infinity
    const untilDay = Math.max(asOfDay, ...clean.map(({ day }) => day))
    for (let day = lastDay; day <= untilDay; day++) {
      const spared = clean.reduce((all, look) => (look.day <= day ? all * (1 - look.seen) : all), 1)
      const { mobiles, eggs } = missed[day]!
      left = Math.min(left, linesOf({ mobiles: mobiles * spared, eggs }, clump))
    }
    let rateAfter = rate
    for (const look of clean) rateAfter += missed[look.day]!.mobilesBefore * look.seen
    const chance = weight * (rate / rateAfter) ** shape
    total += chance
    over += chance * (rateAfter / (rateAfter + left)) ** shape
  }
  return over / total
}

function quantile(branches: readonly Branch[], share: number): number {
  let sum = 0
  for (const { weight, kill } of branches) if ((sum += weight) >= share) return kill
  return branches.at(-1)!.kill
}

/** Band of counts on each day: gamma founders times the model, and the scatter of a count. */
function bandOf(branches: readonly Branch[], rounds: readonly CountedRound[], asOfDay: number): CountVerdict['band'] {
  const seen = rounds.findLast(({ found }) => found !== null)?.seen ?? 0.5
  const last = asOfDay + 14
  const days = [...new Set([...Array.from({ length: last + 1 }, (_, day) => day)])]
  return days.flatMap((day) => {
    let mean = 0
    let square = 0
    for (const { weight, rows, shape, rate } of branches) {
      const row = rows[day]
      if (!row) return []
      const expected = (shape / rate) * row.mobilesBefore * seen
      mean += weight * expected
      square += weight * (expected + expected ** 2 * (1 + 1 / shape))
    }
    const sd = Math.sqrt(Math.max(0, square - mean ** 2))
    return [{ day, low: Math.max(0, mean - 1.2816 * sd), middle: mean, high: mean + 1.2816 * sd }]
  })
}

const logit = (value: number): number => Math.log(value / (1 - value))
/** ln Γ by Stirling's series, for x > 0. @source Abramowitz & Stegun 6.1.41 */
export function logGamma(x: number): number {
  let shift = 0
  let value = x
  while (value < 8) shift -= Math.log(value++)
  const inverse = 1 / (value * value)
  return (
    shift +
    (value - 0.5) * Math.log(value) -
    value +
    0.5 * Math.log(2 * Math.PI) +
    (1 / 12 - inverse * (1 / 360 - inverse / 1260)) / value
  )
}

export type Trend = 'falling' | 'stalled' | 'rising' | 'unclear'
/**
 * Trend of counts in order: falling where two in a row are each at most half of the one before, stalled where three lie
 * within a quarter of each other, rising where the last is half as many again as the one before.
 * @source handbook 50 §4 count-trend
 */
export function trendOf(counts: readonly number[]): Trend {
  const [a, b, c] = [counts.at(-3), counts.at(-2), counts.at(-1)]
  if (c === undefined || b === undefined) return 'unclear'
  if (c >= 1.5 * b && c > b) return 'rising'
  if (a === undefined) return 'unclear'
  if (b <= 0.5 * a && c <= 0.5 * b) return 'falling'
  const mean = (a + b + c) / 3
  if (mean > 0 && [a, b, c].every((value) => Math.abs(value - mean) <= 0.25 * mean)) return 'stalled'
  return 'unclear'
}
