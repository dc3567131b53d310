// What a keeper's counts say about a pest: how many there were, how well each round works, and whether it is over.
import { DailyStock, dailyNumbers, type DailyRow, type DailyStages, type DailyTreatment } from '../lifecycle/daily.ts'

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

interface FollowedRow {
  /** Just before the round of that day, and after it. */
  readonly mobilesBefore: number
  readonly adults: number
  readonly young: number
  readonly eggs: number
  /** Who laid what hatched since the last treated round: the adults just before it. */
  readonly mothers: number
}
interface Branch {
  readonly weight: number
  readonly kill: number
  /** What the plan alone foretells for one founder. */
  readonly rows: readonly DailyRow[]
  /** For one founder, what no look has found: a look leaves of it the share that it does not see. */
  readonly missed: readonly FollowedRow[]
  /** Descendants of those that were found before, in animals; a look takes its share of them too. */
  readonly kin: readonly FollowedRow[]
  /** Those of the last find that the round left, in animals: as many as were counted. */
  readonly found: readonly FollowedRow[]
  /** Founders ~ Gamma(shape, rate). */
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
    mobilesLeft: sum((branch) => expected(branch, asOfDay, ({ adults, young }) => adults + young)),
    eggsLeft: sum((branch) => expected(branch, asOfDay, ({ eggs }) => eggs)),
    falling: sum(({ rows }) => {
      const from = rows[Math.max(0, asOfDay - life)]!
      const now = rows[asOfDay]!
      return now.mobiles + now.eggs < from.mobilesBefore + from.eggsBefore ? 1 : 0
    }),
    band: bandOf(branches, rounds, asOfDay),
  }
}

/** Of one kind on a day: what was missed, by the founders, and what was found with its kin. */
const expected = ({ missed, kin, found, shape, rate }: Branch, day: number, of: (row: FollowedRow) => number): number =>
  (shape / rate) * of(missed[day]!) + of(kin[day]!) + of(found[day]!)

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
    const log = -0.5 * ((logit(kill) - centre) / KILL_SPREAD) ** 2
    const followed = follow(model, kill, rounds, planned, horizon)
    return { ...followed, log: log + followed.log, kill, rows }
  })
  const most = Math.max(...logs.map(({ log }) => log))
  const total = logs.reduce((sum, { log }) => sum + Math.exp(log - most), 0)
  return logs.map(({ log, ...rest }) => ({ ...rest, weight: Math.exp(log - most) / total }))
}

/**
 * Walks the counts day by day. Of a number that scatters like a Poisson count, those a look finds and those it misses
 * are independent: the missed stay a share of the founders, the found are as many as were counted.
 */
function follow(
  model: CountModel,
  kill: number,
  rounds: readonly CountedRound[],
  planned: readonly number[],
  horizon: number,
): Pick<Branch, 'missed' | 'kin' | 'found' | 'shape' | 'rate'> & { readonly log: number } {
  const stocks = {
    missed: new DailyStock(model.stages, 1),
    kin: new DailyStock(model.stages, 0),
    found: new DailyStock(model.stages, 0),
  }
  const parts = ['missed', 'kin', 'found'] as const
  const rows: Record<(typeof parts)[number], FollowedRow[]> = { missed: [], kin: [], found: [] }
  const mothers = { missed: stocks.missed.adults, kin: 0, found: 0 }
  let shape = FOUNDER_SHAPE
  let rate = FOUNDER_SHAPE / FOUNDER_MEAN
  let log = 0
  let treatedBefore = 0
  for (let day = 0; day <= horizon; day++) {
    const before = { missed: stocks.missed.mobiles, kin: stocks.kin.mobiles, found: stocks.found.mobiles }
    let touched = false
    const treat = () => {
      touched = true
      for (const part of parts) {
        mothers[part] = stocks[part].adults
        stocks[part].keep(1 - kill, 1 - model.eggs)
      }
    }
    for (const { found, seen, treated } of rounds.filter((round) => round.day === day)) {
      if (found !== null) {
        const perFounder = Math.max(1e-12, stocks.missed.mobiles * seen)
        const sure = (stocks.kin.mobiles + stocks.found.mobiles) * seen
        const mean = (shape / rate) * perFounder + sure
        // Negative binomial: what this kill foretold of the count.
        const size = mean ** 2 / ((perFounder / rate) ** 2 * shape)
        log += logGamma(size + found) - logGamma(size) - logGamma(found + 1)
        log += size * Math.log(size / (size + mean)) + found * Math.log(mean / (size + mean))
        const laying = (shape / rate) * mothers.missed + mothers.kin + mothers.found
        touched = true
        countThem(model.stages, stocks, {
          found,
          seen,
          founders: shape / rate,
          since: day - treatedBefore,
          mothers: laying,
        })
        shape += found * (1 - sure / mean)
        rate += perFounder
      }
      if (treated) {
        treat()
        treatedBefore = day
      }
    }
    if (planned.includes(day)) treat()
    for (const part of parts) {
      const { adults, eggCount } = stocks[part]
      const young = (touched ? stocks[part].mobiles : before[part]) - adults
      rows[part].push({ mobilesBefore: before[part], adults, young, eggs: eggCount, mothers: mothers[part] })
      stocks[part].pass()
    }
  }
  return { ...rows, shape, rate, log }
}

/** A look's find: what was expected to be found leaves the stocks, and as many as were found stand in its place. */
function countThem(
  stages: DailyStages,
  { missed, kin, found: last }: Readonly<Record<'missed' | 'kin' | 'found', DailyStock>>,
  {
    found,
    seen,
    founders,
    since,
    mothers,
  }: { found: number; seen: number; founders: number; since: number; mothers: number },
): void {
  kin.absorb(last)
  const adults = founders * missed.adults + kin.adults
  const young = missed.young.map((value, age) => founders * value + kin.young[age]!)
  const all = adults + young.reduce((total, value) => total + value, 0)
  // Who laid since the round before would have been there to be seen: their eggs go with them.
  const laidSince = Math.min(1, since / stages.hatchMaxDays)
  // The hatched come in litters: where none is found, none of most litters is there; where many are, others lie near.
  const hatched = young.slice(0, since).reduce((total, value) => total + value, 0)
  const foundHatched = all > 0 ? (found * hatched) / all : 0
  const litters = (mothers + foundHatched) / (mothers + hatched * seen)
  for (const stock of [missed, kin]) {
    stock.keep(1 - seen, 1 - seen * laidSince)
    if (mothers > 0) for (let age = 0; age < Math.min(since, stock.young.length); age++) stock.young[age]! *= litters
  }
  if (found === 0 || all <= 0) return
  const share = found / all
  last.adults += adults * share
  for (let age = 0; age < young.length; age++) last.young[age]! += young[age]! * share
  for (let age = 0; age < Math.min(since, stages.hatchMinDays); age++)
    last.eggs[age]! += adults * share * stages.eggsPerDay
}

/**
 * Lines that may live on. Every adult is one; what hatched and what lies as eggs is not, for it comes in litters: of
 * young of m mothers no more than m lines can be, and where few are left of each, m · (1 − e^(−young/m)). Eggs lie
 * together in clumps of c, laid by one that lived: their lines are ln(1 + c · eggs) ÷ c.
 * @source compound Poisson; negative binomial for the eggs; clump EST: what one lays until the first hatch
 */
const linesOf = ({ adults, young, mothers, eggs }: FollowedRow, spared: number, clump: number): number => {
  const litters = mothers > 0 ? mothers * (1 - Math.exp((-young * spared) / mothers)) : young * spared
  return adults * spared + litters + Math.log1p(clump * eggs) / clump
}

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
  for (const { weight, missed, kin, found, shape, rate } of branches) {
    // Lines alive after the last round: what is there later descends from them, so growth in number is no new line.
    let rateAfter = rate
    let foretold = 0
    for (const look of clean) {
      rateAfter += missed[look.day]!.mobilesBefore * look.seen
      foretold += (kin[look.day]!.mobilesBefore + found[look.day]!.mobilesBefore) * look.seen
    }
    let none = 0
    const untilDay = Math.max(asOfDay, ...clean.map(({ day }) => day))
    for (let day = lastDay; day <= untilDay; day++) {
      const spared = clean.reduce((all, look) => (look.day <= day ? all * (1 - look.seen) : all), 1)
      // The found were counted one by one: each is a line of its own.
      const counted = (found[day]!.adults + found[day]!.young) * spared + Math.log1p(clump * found[day]!.eggs) / clump
      const sure = linesOf(kin[day]!, spared, clump) + counted
      none = Math.max(none, (rateAfter / (rateAfter + linesOf(missed[day]!, spared, clump))) ** shape * Math.exp(-sure))
    }
    const chance = weight * (rate / rateAfter) ** shape * Math.exp(-foretold)
    total += chance
    over += chance * none
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
