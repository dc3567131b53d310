// How well would it do? Made-up cases from the tables with wrong and missing answers, and with the tables themselves off.
import { signOf } from '../knowledge/signs.ts'
import { tableOf, type Pool } from '../knowledge/conditions.ts'
import { normalFrom } from '../level/simulate.ts'
import { nextLooks } from './nextLook.ts'
import {
  notExcluded,
  poolModel,
  posterior,
  priors,
  rankConditions,
  usedAnswers,
  type Evidence,
  type Subject,
} from './rank.ts'

type Random = () => number

export interface SimulatedAccuracy {
  readonly cases: number
  readonly first: number
  readonly third: number
  /** Fast killers that were the truth and stood neither among the first three nor under the danger rule. */
  readonly dangerMissed: number
  readonly dangerCases: number
  /** Fast killers named on the first screen, on average where one was the truth. */
  readonly named: number
  /** Mean squared error of the leader's chance, and the bins of a reliability curve: shown against true. */
  readonly brier: number
  readonly bins: readonly { readonly shown: number; readonly true: number; readonly cases: number }[]
}
export interface SimulateOptions {
  readonly pool: Pool
  readonly cases: number
  readonly random: Random
  /**
   * Share of signs that are wrong: so many of those that are there are missed, and so many of those named as seen are
   * not there. Share of signs nobody looked at.
   */
  readonly wrong: number
  readonly unlooked: number
  /** Standard deviation of an error in the log-odds of the tables that make the cases. */
  readonly perturb: number
  /** What the record says of the animal is known too: its group, and when the newest came in. Left out: not known. */
  readonly known?: boolean
  /** How many looks the keeper takes afterwards of those the screen asks for, each as often wrong as the others. */
  readonly asked?: number
}

/** The truth's chance of each sign, off by a random error of its log-odds. */
function perturbed(pool: Pool, sd: number, random: Random): number[][] {
  const normal = normalFrom(random)
  const { conditions, signs } = poolModel(pool)
  return conditions.map(({ likelihood }) =>
    signs.map(({ id, leak }) => {
      const p = likelihood[id] ?? leak
      if (sd === 0) return p
      const odds = Math.log(p / (1 - p)) + sd * normal()
      return 1 / (1 + Math.exp(-odds))
    }),
  )
}

/** One made-up case: the truth and what was answered. Of an exclusive group at most one is a yes. */
export function makeCase(options: SimulateOptions, truth: number, chances: readonly (readonly number[])[]): Evidence[] {
  return reported(options, truth, chances).seen
}
/** What was answered, and what a look at the rest would have answered. */
function reported(
  { pool, random, wrong, unlooked }: SimulateOptions,
  truth: number,
  chances: readonly (readonly number[])[],
): { readonly seen: Evidence[]; readonly answer: ReadonlyMap<string, Evidence['answer']> } {
  const { signs } = poolModel(pool)
  const yes = new Set<string>()
  signs.forEach(({ id }, s) => {
    if (random() < chances[truth]![s]!) yes.add(id)
  })
  for (const { signs: group } of tableOf(pool).exclusive) {
    const both = group.filter((id) => yes.has(id))
    for (const id of both.slice(1)) yes.delete(id)
  }
  // Missed ones, and as many false ones in place of true ones: a sign misread as another.
  const absent = signs.filter(({ id }) => !yes.has(id))
  for (const id of [...yes]) {
    if (random() < wrong) yes.delete(id)
    if (random() < wrong && absent.length > 0) yes.add(absent[Math.floor(random() * absent.length)]!.id)
  }
  const seen: Evidence[] = []
  const answer = new Map<string, Evidence['answer']>()
  for (const { id } of signs) {
    answer.set(id, yes.has(id) ? 'yes' : 'no')
    if (random() >= unlooked) seen.push({ sign: id, answer: answer.get(id)! })
  }
  return { seen, answer }
}

/** Days after the newest arrival, one in each span of the priors. */
const ARRIVED = [1, 8, 30, 120] as const
/** What the record would say: which group, how long ago the last one came, each as likely as the next. */
function drawSubject({ pool, random, known }: SimulateOptions): Subject {
  const base = { pool, copperDosed: true }
  if (known !== true) return base
  const groups = Object.keys(tableOf(pool).hostMultipliers)
  const pick = <T>(from: readonly T[]): T => from[Math.floor(random() * from.length)]!
  return {
    ...base,
    daysSinceArrival: pick(ARRIVED),
    ...(groups.length === 0 ? {} : { hostGroup: pick(groups) }),
  }
}

/** Shares without what has no table of its own: “something else” cannot be made up. */
const written = (pool: Pool, shares: readonly number[]): number[] => {
  const kept = poolModel(pool).conditions.map(({ rest }, c) => (rest === true ? 0 : shares[c]!))
  const sum = kept.reduce((total, share) => total + share, 0)
  return kept.map((share) => share / sum)
}

/** Draws a condition by its prior. */
export function drawTruth(shares: readonly number[], random: Random): number {
  let left = random()
  for (let c = 0; c < shares.length; c++) {
    left -= shares[c]!
    if (left <= 0) return c
  }
  return shares.length - 1
}

/** Accuracy over made-up cases. Deterministic in its random source. */
export function simulateDiagnosis(options: SimulateOptions): SimulatedAccuracy {
  const { pool, cases, random, perturb } = options
  const { conditions } = poolModel(pool)
  let first = 0
  let third = 0
  let dangerMissed = 0
  let dangerCases = 0
  let named = 0
  let brier = 0
  const bins = Array.from({ length: 10 }, () => ({ shown: 0, true: 0, cases: 0 }))
  for (let i = 0; i < cases; i++) {
    const chances = perturbed(pool, perturb, random)
    const subject = drawSubject(options)
    const truth = drawTruth(written(pool, priors(subject)), random)
    const { seen: evidence, answer } = reported(options, truth, chances)
    for (let look = 0; look < (options.asked ?? 0); look++) {
      const next = nextLooks(subject, evidence).best?.sign.id
      if (next === undefined) break
      evidence.push({ sign: next, answer: answer.get(next)! })
    }
    const ranking = rankConditions(subject, evidence)
    const order = ranking.entries.map(({ condition }) => condition)
    const actual = conditions[truth]!
    const right = order[0] === actual
    if (right) first++
    const among = order.slice(0, 3).includes(actual)
    if (among) third++
    if (actual.urgency === 'act-now') {
      dangerCases++
      const shown = notExcluded(ranking)
      named += shown.length
      if (!among && !shown.some(({ condition }) => condition === actual)) dangerMissed++
    }
    const p = ranking.entries[0]!.p
    brier += (p - (right ? 1 : 0)) ** 2
    const bin = bins[Math.min(9, Math.floor(10 * p))]!
    bin.shown += p
    bin.true += right ? 1 : 0
    bin.cases++
  }
  return {
    cases,
    first: first / cases,
    third: third / cases,
    dangerMissed,
    dangerCases,
    named: dangerCases === 0 ? 0 : named / dangerCases,
    brier: brier / cases,
    bins: bins
      .filter((bin) => bin.cases > 0)
      .map((bin) => ({ shown: bin.shown / bin.cases, true: bin.true / bin.cases, cases: bin.cases })),
  }
}

/**
 * Looks until the first condition stands at 0.9: asked by the next-best-look rule, which may also stop because nothing
 * would tell more, and by a fixed list (every sign of the pool by mean information), which goes on to its end. Answers
 * are those of the truth. `sure`: share of cases that came to 0.9.
 */
export function looksToSure(options: SimulateOptions): {
  readonly best: number
  readonly fixed: number
  readonly bestSure: number
  readonly fixedSure: number
} {
  const { pool, cases, random } = options
  const subject: Subject = { pool, copperDosed: true }
  const shares = priors(subject)
  const { signs } = poolModel(pool)
  const chances = perturbed(pool, 0, random)
  const list = byInformation(subject)
  const sums = { best: 0, fixed: 0, bestSure: 0, fixedSure: 0 }
  for (let i = 0; i < cases; i++) {
    const truth = drawTruth(shares, random)
    const yes = new Set(
      makeCase({ ...options, wrong: 0, unlooked: 0 }, truth, chances)
        .filter(({ answer }) => answer === 'yes')
        .map(({ sign }) => sign),
    )
    const ask = (next: (evidence: readonly Evidence[], n: number) => string | undefined) => {
      const evidence: Evidence[] = []
      for (let n = 0; n < signs.length; n++) {
        if (posterior(subject, usedAnswers(pool, evidence).used).some((p) => p >= 0.9)) return { looks: n, sure: 1 }
        const sign = next(evidence, n)
        if (sign === undefined) return { looks: n, sure: 0 }
        evidence.push({ sign, answer: yes.has(sign) ? 'yes' : 'no' })
      }
      return { looks: signs.length, sure: 0 }
    }
    const best = ask((evidence) => nextLooks(subject, evidence).best?.sign.id)
    const fixed = ask((_, n) => list[n])
    sums.best += best.looks
    sums.bestSure += best.sure
    sums.fixed += fixed.looks
    sums.fixedSure += fixed.sure
  }
  return {
    best: sums.best / cases,
    fixed: sums.fixed / cases,
    bestSure: sums.bestSure / cases,
    fixedSure: sums.fixedSure / cases,
  }
}
/** Every sign of a pool by what it tells before anything is known. */
function byInformation(subject: Subject): string[] {
  const order: string[] = []
  const refused = new Set<string>()
  for (let look = nextLooks(subject, [], refused).best; look; look = nextLooks(subject, [], refused).best) {
    order.push(look.sign.id)
    refused.add(look.sign.id)
  }
  return [
    ...order,
    ...poolModel(subject.pool)
      .signs.map(({ id }) => id)
      .filter((id) => !refused.has(id) && signOf(id)),
  ]
}
