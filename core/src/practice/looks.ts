// Made-up cases to look into: a truth drawn from the tables, signs as it shows them, looks that are chosen, a name and how sure. What is
// right is scored, and so is how sure it was said.
import { tableOf, type Condition, type Pool } from '../knowledge/conditions.ts'
import { signOf } from '../knowledge/signs.ts'
import { nextLooks } from '../diagnosis/nextLook.ts'
import { poolModel, priors, rankConditions, type Evidence, type Ranking, type Subject } from '../diagnosis/rank.ts'
import { drawTruth } from '../diagnosis/simulate.ts'
import { GENERA } from '../imaging.ts'
import { chanceFrom } from '../world/random.ts'

export { signWords } from '../diagnosis/rank.ts'

/** So many signs are seen before anything is chosen, of those that are there. */
const FIRST = 2
/** Looks that may be taken. */
export const MOST_LOOKS = 4
/** Names to choose from. */
const NAMES = 5

export interface LookCase {
  readonly pool: Pool
  readonly seed: number
  readonly truth: Condition
  /** What every look would answer. */
  readonly answers: ReadonlyMap<string, Evidence['answer']>
  readonly first: readonly Evidence[]
}
const subjectOf = (pool: Pool): Subject => ({ pool, copperDosed: false })

/**
 * A case. The same seed makes the same case.
 * @param wanted condition that is to be the truth, such as one that was mixed up before; else drawn, the rare as often as a
 * tenth of the common
 */
export function lookCase(pool: Pool, seed: number, wanted?: string): LookCase {
  const chance = chanceFrom(seed * 2654435 + pool.length * 97)
  const { conditions, signs } = poolModel(pool)
  const shares = priors(subjectOf(pool)).map((share, c) => (conditions[c]!.rest === true ? 0 : Math.sqrt(share)))
  const sum = shares.reduce((all, share) => all + share, 0)
  const given = conditions.findIndex(({ id }) => id === wanted)
  const at =
    given >= 0
      ? given
      : drawTruth(
          shares.map((share) => share / sum),
          chance.next,
        )
  const truth = conditions[at]!
  const yes = new Set(signs.filter(({ id, leak }) => chance.happens(truth.likelihood[id] ?? leak)).map(({ id }) => id))
  // What it shows nearly always is there, so that a case can be solved.
  const telling = Object.entries(truth.likelihood)
    .filter(([id]) => signs.some((sign) => sign.id === id))
    .sort((a, b) => b[1] - a[1])
  for (const [id, p] of telling.slice(0, 3)) if (p > 0.6) yes.add(id)
  for (const { signs: group } of tableOf(pool).exclusive)
    for (const id of group
      .filter((one) => yes.has(one))
      .sort((a, b) => (truth.likelihood[b] ?? 0) - (truth.likelihood[a] ?? 0))
      .slice(1))
      yes.delete(id)
  const answers = new Map(signs.map(({ id }) => [id, yes.has(id) ? ('yes' as const) : ('no' as const)]))
  const seenFirst = telling
    .map(([id]) => id)
    .filter((id) => yes.has(id) && ['EYE', 'TOP', 'FEED', 'LOG'].includes(signOf(id)?.look ?? ''))
  const first = (seenFirst.length > 0 ? seenFirst : [...yes])
    .slice(0, FIRST)
    .map((sign) => ({ sign, answer: 'yes' as const }))
  return { pool, seed, truth, answers, first }
}

/** Cells that lie in the drop of a case, where one of them is what it is. */
const CELLS = 22
/**
 * A drop of a case under the microscope: what the stand-in draws for it. Null where no microscope would tell; where no
 * dinoflagellate is behind it, none is in the drop.
 */
export function dropOfCase({
  pool,
  seed,
  truth,
}: LookCase): { readonly seed: number; readonly genera: Readonly<Record<string, number>> } | null {
  if (pool !== 'surface-marine') return null
  return { seed, genera: GENERA.some(({ id }) => id === truth.id) ? { [truth.id]: CELLS } : {} }
}

/** Looks to choose from: the two that tell most and two that tell little, in an order of their own. */
export function looksToChoose(
  made: LookCase,
  seen: readonly Evidence[],
): readonly { readonly sign: string; readonly bits: number }[] {
  const chance = chanceFrom(made.seed * 31 + seen.length)
  const { best, safest, others } = nextLooks(subjectOf(made.pool), seen)
  const all = [
    ...new Map([best, safest, ...others].flatMap((look) => (look ? [[look.sign.id, look] as const] : []))).values(),
  ].sort((a, b) => b.bits - a.bits)
  const rest = all.slice(2)
  const little = rest.length > 2 ? [rest[Math.floor(chance.next() * rest.length)]!, rest.at(-1)!] : rest
  return [...new Set([...all.slice(0, 2), ...little])]
    .map(({ sign, bits }) => ({ sign: sign.id, bits }))
    .sort(() => chance.next() - 0.5)
}

/** What the tables make of what was seen. */
export const rankingOf = (made: LookCase, seen: readonly Evidence[]): Ranking =>
  rankConditions(subjectOf(made.pool), seen)

/** Names to choose from: the truth, what looks like it, and what stands high. */
export function namesToChoose(made: LookCase, seen: readonly Evidence[]): readonly Condition[] {
  const chance = chanceFrom(made.seed * 17 + 5)
  const { conditions } = poolModel(made.pool)
  const near = [...conditions]
    .filter(({ id, rest }) => id !== made.truth.id && rest !== true)
    .sort((a, b) => alike(b, made.truth) - alike(a, made.truth))
    .slice(0, 2)
  const high = rankingOf(made, seen).entries.map(({ condition }) => condition)
  return [
    ...new Map([made.truth, ...near, ...high].filter(({ rest }) => rest !== true).map((one) => [one.id, one])).values(),
  ]
    .slice(0, NAMES)
    .sort(() => chance.next() - 0.5)
}
/** How much two conditions show the same: the likelihoods they share. */
function alike(a: Condition, b: Condition): number {
  return Object.entries(a.likelihood).reduce((sum, [id, p]) => sum + Math.min(p, b.likelihood[id] ?? 0), 0)
}

/** One case answered: a name and how sure, 0.2 to 1. */
export interface LookAnswer {
  readonly right: boolean
  readonly sure: number
}
/** Mean squared distance of how sure it was said from what it was (Brier 1950): 0 is best, a fifth is guessing among five. */
export const brierOf = (answers: readonly LookAnswer[]): number =>
  answers.length === 0
    ? 0
    : answers.reduce((sum, { right, sure }) => sum + (sure - (right ? 1 : 0)) ** 2, 0) / answers.length

/** How sure it was said against how often it was right, by the words that were offered. */
export function calibrationOf(
  answers: readonly LookAnswer[],
): readonly { readonly sure: number; readonly right: number; readonly of: number }[] {
  const bins = new Map<number, { right: number; of: number }>()
  for (const { right, sure } of answers) {
    const bin = bins.get(sure) ?? { right: 0, of: 0 }
    bins.set(sure, { right: bin.right + (right ? 1 : 0), of: bin.of + 1 })
  }
  return [...bins].sort((a, b) => a[0] - b[0]).map(([sure, { right, of }]) => ({ sure, right: right / of, of }))
}
