// What is it? Bayesian ranking over what was seen, what was looked for and not seen, and what was not looked at.
import { limitOf } from '../knowledge/limits.ts'
import { conditionsOf, signsOf, tableOf, type Condition, type Pool } from '../knowledge/conditions.ts'
import { signOf, type Sign } from '../knowledge/signs.ts'

/**
 * How often answers are simply wrong (bad light, a word misread), as a mixture of a careful and a careless keeper. A
 * few answers that fit are read almost as written; many that do not fit together are read as noisy, so that no single
 * mistake buries the truth. A sign that is there is overlooked far more often than one that is not there is seen. EST
 */
export const NOISE = [
  { missed: 0.02, imagined: 0.002, share: 0.7 },
  { missed: 0.15, imagined: 0.006, share: 0.3 },
] as const
/** Shown no surer than this. @source handbook 30 lk-cap */
export const MOST = 0.95
/** Below this there is no leader: cannot tell yet. @source handbook 30 lk-cap */
export const LEADS = 0.5
/** A condition that kills within hours is always shown from this chance on. The handbook asks 0.10; half of it is safer. */
export const DANGER = 0.05
/** A fast killer is named as not ruled out from this chance on, however rare: naming costs a line, missing costs lives. */
export const NAMED = 0.001
/** Signs older than a week count half for every further week. EST */
const FADE_DAYS = 7

export type Answer = 'yes' | 'no'
export interface Evidence {
  readonly sign: string
  readonly answer: Answer
  /** Days since it was seen; what is older than a week counts less. */
  readonly ageDays?: number
}
export type Recent =
  | 'gfo-started'
  | 'light-raised'
  | 'carbon-dosing'
  | 'rock-removed'
  | 'blackout-ended'
  | 'carbon-removed'
  | 'carbon-added'
export interface Subject {
  readonly pool: Pool
  /** Group of the animal; unknown where left out. */
  readonly hostGroup?: string | null
  /** Days since the newest animal came in; unknown where left out. */
  readonly daysSinceArrival?: number
  /** Whether copper was dosed into this water; taken as not where left out. */
  readonly copperDosed?: boolean
  readonly recent?: readonly Recent[]
  /** Conditions a finished course has covered, in full or in part. */
  readonly covered?: Readonly<Record<string, 'full' | 'part'>>
  /** Contagious conditions followed in a vessel that gear or an animal came from. */
  readonly exposed?: readonly string[]
  /** Whether what never was dosed counts as such; struck out where the keeper doubts it. Counts where left out. */
  readonly copperCounts?: boolean
}
export interface Reason {
  readonly sign: string
  readonly answer: Answer
  /** Natural logarithm of how much the answer speaks for this condition against all others together. */
  readonly weight: number
}
export interface Ranked {
  readonly condition: Condition
  /** Posterior, uncapped. */
  readonly p: number
  readonly prior: number
  /** What spoke for and against it, strongest first. */
  readonly reasons: readonly Reason[]
}
export interface Pair {
  readonly a: Condition
  readonly b: Condition
  /** Chance that both are there, against every single condition and every pair considered. */
  readonly p: number
}
export interface Ranking {
  readonly entries: readonly Ranked[]
  /** The first, where it is likely enough; null is an honest "cannot tell yet". */
  readonly leader: Ranked | null
  /** Fast killers that are not ruled out, whatever their rank. */
  readonly danger: readonly Ranked[]
  readonly pairs: readonly Pair[]
  /** Signs both of one exclusive group that were answered yes: asked, not averaged. */
  readonly contradictions: readonly (readonly string[])[]
  /** No answer counts. */
  readonly empty: boolean
}

interface PoolModel {
  readonly conditions: readonly Condition[]
  readonly signs: readonly Sign[]
  /** Chance of a yes, by level of noise, condition and sign. */
  readonly levels: readonly (readonly (readonly number[])[])[]
  /** The same, over both levels. */
  readonly yes: readonly (readonly number[])[]
  readonly signIndex: ReadonlyMap<string, number>
}
const models = new Map<Pool, PoolModel>()
/** Chances of a pool as arrays; built once. */
export function poolModel(pool: Pool): PoolModel {
  let model = models.get(pool)
  if (!model) {
    const conditions = conditionsOf(pool)
    const signs = signsOf(pool)
    const levels = NOISE.map(({ missed, imagined }) =>
      conditions.map(({ likelihood }) =>
        signs.map(({ id, leak }) => {
          const p = likelihood[id] ?? leak
          return (1 - missed) * p + imagined * (1 - p)
        }),
      ),
    )
    model = {
      conditions,
      signs,
      levels,
      yes: conditions.map((_, c) =>
        signs.map((__, s) => NOISE.reduce((sum, { share }, k) => sum + share * levels[k]![c]![s]!, 0)),
      ),
      signIndex: new Map(signs.map(({ id }, i) => [id, i])),
    }
    models.set(pool, model)
  }
  return model
}

/** Prior shares of a pool for a subject, normalised. @source handbook 30 §4.3, §4.4; 40 §12; 50 §7; 60 §2 */
export function priors(subject: Subject): readonly number[] {
  const table = tableOf(subject.pool)
  const { conditions } = poolModel(subject.pool)
  const host = table.hostMultipliers[subject.hostGroup ?? ''] ?? {}
  const weights = conditions.map((condition) => {
    let weight = baseWeight(condition, subject)
    weight *= host[condition.id] ?? 1
    for (const recent of subject.recent ?? []) weight *= table.contextMultipliers?.[recent]?.[condition.id] ?? 1
    // Never dosed with copper: poisoning by it is nearly out of the question.
    if (condition.id === 'copper-toxicity' && subject.copperDosed !== true && subject.copperCounts !== false)
      weight *= 0.02
    if (subject.exposed?.includes(condition.id) && table.contagious?.includes(condition.id))
      weight *= table.exposedMultiplier ?? 1
    // Long without a newcomer: what comes with one is rarer. @source handbook 30 §4.3 overrides
    const { closed } = table
    if (closed && (subject.daysSinceArrival ?? 0) > closed.days && closed.conditions.includes(condition.id))
      weight *= closed.factor
    const covered = subject.covered?.[condition.id]
    if (covered) weight *= covered === 'full' ? 0.05 : 0.4
    return weight
  })
  const sum = weights.reduce((total, weight) => total + weight, 0)
  return weights.map((weight) => weight / sum)
}

/** Weight by days since the newest animal; the mean over all spans where nobody knows. */
function baseWeight(condition: Condition, { pool, daysSinceArrival }: Subject): number {
  const { priorByDays, priorByPool, prior } = condition
  if (priorByDays) {
    if (daysSinceArrival === undefined) return priorByDays.reduce((sum, value) => sum + value, 0) / priorByDays.length
    const span = daysSinceArrival <= 2 ? 0 : daysSinceArrival <= 14 ? 1 : daysSinceArrival <= 45 ? 2 : 3
    return priorByDays[span]!
  }
  return priorByPool?.[pool] ?? prior ?? 0.01
}

interface Used {
  readonly index: number
  readonly sign: string
  readonly answer: Answer
  readonly weight: number
}

/** Answers that count, each with its weight: exclusive groups first, then correlated ones, then age. */
export function usedAnswers(pool: Pool, evidence: readonly Evidence[]): { used: Used[]; contradictions: string[][] } {
  const model = poolModel(pool)
  const table = tableOf(pool)
  const latest = new Map<string, Evidence>()
  for (const one of evidence) if (model.signIndex.has(one.sign)) latest.set(one.sign, one)
  const contradictions: string[][] = []
  for (const { signs } of table.exclusive) {
    const seen = signs.filter((sign) => latest.get(sign)?.answer === 'yes')
    if (seen.length === 0) continue
    if (seen.length > 1) contradictions.push(seen)
    // A yes makes the others "not asked"; two of them cancel until the keeper has looked again.
    for (const sign of signs) if (!(seen.length === 1 && sign === seen[0])) latest.delete(sign)
  }
  const weights = new Map<string, number>()
  for (const { sign, ageDays } of latest.values())
    weights.set(sign, ageDays === undefined || ageDays <= FADE_DAYS ? 1 : 0.5 ** ((ageDays - FADE_DAYS) / FADE_DAYS))
  for (const { signs, most, second } of table.correlated) {
    const answered = signs.filter((sign) => latest.has(sign))
    if (answered.length < 2) continue
    // For groups whose answers count in full, only the yes answers say the same thing twice.
    const group = second === 1 ? answered.filter((sign) => latest.get(sign)!.answer === 'yes') : answered
    const spread = (sign: string) => {
      const at = model.signIndex.get(sign)!
      const logs = model.yes.map((row) => Math.log(latest.get(sign)!.answer === 'yes' ? row[at]! : 1 - row[at]!))
      return Math.max(...logs) - Math.min(...logs)
    }
    const ordered = group
      .map((sign) => ({ sign, spread: spread(sign) }))
      .sort((a, b) => b.spread - a.spread || (a.sign < b.sign ? -1 : 1))
    ordered.forEach(({ sign }, i) => {
      const share = i === 0 ? 1 : i < most ? second : 0
      weights.set(sign, Math.min(weights.get(sign)!, share))
    })
  }
  const used = [...latest.values()]
    .map(({ sign, answer }) => ({ index: model.signIndex.get(sign)!, sign, answer, weight: weights.get(sign)! }))
    .filter(({ weight }) => weight > 0)
    .sort((a, b) => a.index - b.index)
  return { used, contradictions }
}

/** Log likelihood of one answer for every condition at a level of noise. */
const logsOf = (rows: readonly (readonly number[])[], { index, answer, weight }: Used): number[] =>
  rows.map((row) => weight * Math.log(answer === 'yes' ? row[index]! : 1 - row[index]!))

/** Log of prior times likelihood for every condition, by level of noise, its share included. */
function jointLogs(subject: Subject, used: readonly Used[]): number[][] {
  const model = poolModel(subject.pool)
  const prior = priors(subject).map((share) => Math.log(Math.max(share, 1e-12)))
  return NOISE.map(({ share }, k) => {
    const logs = prior.map((log) => log + Math.log(share))
    for (const one of used) logsOf(model.levels[k]!, one).forEach((log, c) => (logs[c] = logs[c]! + log))
    return logs
  })
}
const added = (logs: readonly number[]): number => {
  const top = Math.max(...logs)
  return top + Math.log(logs.reduce((sum, log) => sum + Math.exp(log - top), 0))
}

/** Posterior shares. */
export function posterior(subject: Subject, used: readonly Used[]): number[] {
  const levels = jointLogs(subject, used)
  return normalised(levels[0]!.map((_, c) => added(levels.map((logs) => logs[c]!))))
}
function normalised(logs: readonly number[]): number[] {
  const top = Math.max(...logs)
  const shares = logs.map((log) => Math.exp(log - top))
  const sum = shares.reduce((total, share) => total + share, 0)
  return shares.map((share) => share / sum)
}

/** The whole ranking of one subject. Pure; the order of the evidence does not matter but for later answers to the same sign. */
export function rankConditions(subject: Subject, evidence: readonly Evidence[]): Ranking {
  const model = poolModel(subject.pool)
  const { used, contradictions } = usedAnswers(subject.pool, evidence)
  const prior = priors(subject)
  const levels = jointLogs(subject, used)
  const shares = normalised(levels[0]!.map((_, c) => added(levels.map((logs) => logs[c]!))))
  // Reasons are told at the level of noise that fits this evidence better.
  const level = levels.map(added).reduce((best, log, k, all) => (log > all[best]! ? k : best), 0)
  const logs = used.map((one) => logsOf(model.levels[level]!, one))
  const entries = model.conditions
    .map((condition, c): Ranked => ({
      condition,
      p: shares[c]!,
      prior: prior[c]!,
      reasons: used
        .map(({ sign, answer }, i) => ({ sign, answer, weight: logs[i]![c]! - Math.log(others(shares, logs[i]!, c)) }))
        .filter(({ weight }) => Math.abs(weight) >= 0.1)
        .sort((a, b) => Math.abs(b.weight) - Math.abs(a.weight)),
    }))
    .sort((a, b) => b.p - a.p || (a.condition.id < b.condition.id ? -1 : 1))
  const first = entries[0]!
  return {
    entries,
    leader: used.length > 0 && first.p >= LEADS && first.condition.rest !== true ? first : null,
    danger:
      used.length === 0 ? [] : entries.filter(({ condition, p }) => condition.urgency === 'act-now' && p >= DANGER),
    pairs: used.length < 2 ? [] : pairsOf(subject, used, entries, model.levels[level]!),
    contradictions,
    empty: used.length === 0,
  }
}

/** Mean likelihood of an answer under all other conditions, by their shares. */
function others(shares: readonly number[], logs: readonly number[], own: number): number {
  let sum = 0
  let rest = 0
  shares.forEach((share, c) => {
    if (c === own) return
    sum += share * Math.exp(logs[c]!)
    rest += share
  })
  return rest > 0 ? Math.max(sum / rest, 1e-12) : 1
}

/** A second cause beside the first is rarer than the first alone. EST */
const SECOND_CAUSE = limitOf('second-cause')
/** Two causes at once: each sign comes from either. Considered among the eight likeliest. @source handbook 30 lk-multi */
function pairsOf(
  subject: Subject,
  used: readonly Used[],
  entries: readonly Ranked[],
  rows: readonly (readonly number[])[],
): Pair[] {
  const model = poolModel(subject.pool)
  const top = entries.slice(0, 8).filter(({ condition }) => condition.rest !== true)
  const indexOf = new Map(model.conditions.map(({ id }, i) => [id, i]))
  const single = entries.map(({ condition, prior }) => {
    const c = indexOf.get(condition.id)!
    return Math.log(Math.max(prior, 1e-12)) + used.reduce((sum, one) => sum + logsOf(rows, one)[c]!, 0)
  })
  const joint: { a: Ranked; b: Ranked; log: number }[] = []
  top.forEach((a, i) =>
    top.slice(i + 1).forEach((b) => {
      const ca = indexOf.get(a.condition.id)!
      const cb = indexOf.get(b.condition.id)!
      let log = Math.log(Math.max(a.prior * b.prior * SECOND_CAUSE, 1e-12))
      for (const { index, answer, weight } of used) {
        const p = 1 - (1 - rows[ca]![index]!) * (1 - rows[cb]![index]!)
        log += weight * Math.log(answer === 'yes' ? p : Math.max(1 - p, 1e-6))
      }
      joint.push({ a, b, log })
    }),
  )
  const all = [...single, ...joint.map(({ log }) => log)]
  const highest = Math.max(...all)
  const sum = all.reduce((total, log) => total + Math.exp(log - highest), 0)
  return joint
    .map(({ a, b, log }) => ({ a: a.condition, b: b.condition, p: Math.exp(log - highest) / sum }))
    .filter(({ p }) => p >= 0.1)
    .sort((x, y) => y.p - x.p)
    .slice(0, 3)
}

export const signWords = (id: string): string => signOf(id)?.label ?? id

/** Fast killers that are not ruled out: all are named on the first screen; those of `danger` come with what to do. */
export const notExcluded = (ranking: Ranking): readonly Ranked[] =>
  ranking.empty ? [] : ranking.entries.filter(({ condition, p }) => condition.urgency === 'act-now' && p >= NAMED)
