// Which look would tell most, for the effort it takes, and which would make the dangerous surer.
import { tableOf } from '../knowledge/conditions.ts'
import { signOf, type Sign } from '../knowledge/signs.ts'
import { poolModel, posterior, usedAnswers, type Evidence, type Subject } from './rank.ts'

export interface Look {
  readonly sign: Sign
  /** Expected drop of uncertainty, bits. */
  readonly bits: number
  /** Chance that the answer is yes. */
  readonly pYes: number
  /** By how much the chance of a fast killer is expected to move, 0 to 1. */
  readonly danger: number
  readonly minutes: number
}
export interface NextLooks {
  /** Tells most for its effort; null when nothing would tell much any more. */
  readonly best: Look | null
  /** Moves the chance of a fast killer most; null where none is in question. */
  readonly safest: Look | null
  /** Tells most of what takes five minutes or less, where the best takes a microscope, a dip or the night. */
  readonly quick: Look | null
  readonly others: readonly Look[]
  /** Enough is known, or nothing that can be looked at would change it. */
  readonly stop: boolean
}

/** Minutes a look takes, and how much its answer is worth waiting for. EST */
const EFFORT: Readonly<Record<Sign['look'], { readonly minutes: number; readonly share: number }>> = {
  EYE: { minutes: 1, share: 1 },
  TOP: { minutes: 1, share: 1 },
  LOG: { minutes: 1, share: 1 },
  TOUCH: { minutes: 2, share: 0.95 },
  TORCH: { minutes: 3, share: 0.95 },
  FEED: { minutes: 5, share: 0.9 },
  DIST: { minutes: 5, share: 0.9 },
  TEST: { minutes: 5, share: 0.9 },
  SLIDE: { minutes: 15, share: 0.9 },
  NIGHT: { minutes: 10, share: 0.85 },
  DIP: { minutes: 20, share: 0.7 },
  PHOTO: { minutes: 5, share: 0.7 },
}
const LEAST_BITS = 0.03
/** What is done standing before the tank, without getting anything. EST */
const QUICK_MINUTES = 5
/**
 * Conditions below this do not steer the next look. The handbook (30 lk-next) draws the line at 0.05; with many small
 * ones left that line stops the questions too early, so it lies lower here.
 */
const STEERS = 0.005
/** From this chance of a fast killer on, hours count. */
const CONSIDERED = 0.05
const entropy = (shares: readonly number[]): number =>
  shares.reduce((sum, p) => (p > 1e-12 ? sum - p * Math.log2(p) : sum), 0)

/** Looks not yet taken, by what they are expected to tell. Pure. @source handbook 30 lk-next: expected drop in entropy */
export function nextLooks(
  subject: Subject,
  evidence: readonly Evidence[],
  refused: ReadonlySet<string> = new Set(),
): NextLooks {
  const model = poolModel(subject.pool)
  const { used } = usedAnswers(subject.pool, evidence)
  const shares = posterior(subject, used)
  const answered = new Set(evidence.map(({ sign }) => sign))
  const kept = shares.map((p) => (p >= STEERS ? p : 0))
  const sum = kept.reduce((total, p) => total + p, 0)
  const open = (sum > 0 ? kept : shares).map((p) => p / (sum > 0 ? sum : 1))
  const before = entropy(open)
  const dangerous = model.conditions.map(({ urgency }) => urgency === 'act-now')
  const dangerOf = (list: readonly number[]) => list.reduce((total, p, c) => total + (dangerous[c] ? p : 0), 0)
  const dangerNow = dangerOf(shares)
  const urgent = dangerNow >= CONSIDERED
  const weights = weightsLeft(subject, evidence)
  const looks: (Look & { readonly score: number })[] = []
  model.signs.forEach((sign, s) => {
    if (answered.has(sign.id) || refused.has(sign.id)) return
    const weight = weights.get(sign.id) ?? 1
    if (weight === 0) return
    const split = (list: readonly number[]) => ({
      yes: shared(list.map((p, c) => p * model.yes[c]![s]! ** weight)),
      no: shared(list.map((p, c) => p * (1 - model.yes[c]![s]!) ** weight)),
      pYes: list.reduce((total, p, c) => total + p * model.yes[c]![s]!, 0),
    })
    const seen = split(open)
    const bits = before - seen.pYes * entropy(seen.yes) - (1 - seen.pYes) * entropy(seen.no)
    const all = split(shares)
    const danger =
      all.pYes * Math.abs(dangerOf(all.yes) - dangerNow) + (1 - all.pYes) * Math.abs(dangerOf(all.no) - dangerNow)
    const { minutes, share } = EFFORT[sign.look]
    // While hours count, what cannot be answered now is worth less.
    const soon = urgent && (sign.look === 'DIP' || sign.look === 'PHOTO' || sign.look === 'NIGHT') ? 0.5 : 1
    looks.push({ sign, bits, pYes: all.pYes, danger, minutes, score: bits * share * soon })
  })
  looks.sort((a, b) => b.score - a.score || (a.sign.id < b.sign.id ? -1 : 1))
  const first = looks[0]
  const sure = Math.max(...shares) >= 0.9
  const stop = sure || first === undefined || first.bits < LEAST_BITS
  const safest = urgent && dangerNow <= 1 - CONSIDERED ? [...looks].sort((a, b) => b.danger - a.danger)[0] : undefined
  const best = stop && !urgent ? (first && first.bits >= LEAST_BITS && !sure ? first : null) : (first ?? null)
  const quick = best && best.minutes > QUICK_MINUTES ? looks.find(({ minutes }) => minutes <= QUICK_MINUTES) : undefined
  return {
    best,
    quick: quick && quick.bits >= LEAST_BITS ? quick : null,
    safest: safest && safest.danger >= 0.02 ? safest : null,
    others: looks.slice(1, 5),
    stop,
  }
}

const shared = (list: readonly number[]): number[] => {
  const sum = list.reduce((total, p) => total + p, 0)
  return list.map((p) => p / Math.max(sum, 1e-300))
}

/** How much a further answer would still count beside those given: nothing for what is excluded or said already. */
function weightsLeft(subject: Subject, evidence: readonly Evidence[]): ReadonlyMap<string, number> {
  const table = tableOf(subject.pool)
  const answers = new Map(evidence.map(({ sign, answer }) => [sign, answer]))
  const left = new Map<string, number>()
  for (const { signs } of table.exclusive)
    if (signs.some((sign) => answers.get(sign) === 'yes')) for (const sign of signs) left.set(sign, 0)
  for (const { signs, most, second } of table.correlated) {
    const said = signs.filter((sign) => (second === 1 ? answers.get(sign) === 'yes' : answers.has(sign))).length
    if (said === 0) continue
    for (const sign of signs) left.set(sign, Math.min(left.get(sign) ?? 1, said < most ? second : 0))
  }
  return left
}
export const lookOf = (id: string) => EFFORT[signOf(id)?.look ?? 'EYE']
