// Treated against untreated: which arm, by how much, how sure.
import { logGamma } from './counts.ts'

export interface ArmPatch {
  readonly arm: string
  readonly piece: string
  /** Score at the start and at the day compared, in steps of the measure. */
  readonly before: number
  readonly after: number
}
export interface ArmResult {
  readonly arm: string
  readonly patches: number
  /** Mean rise of the score, steps. */
  readonly rise: number
  readonly succeeded: number
}
export interface ArmComparison {
  readonly a: ArmResult
  readonly b: ArmResult
  /** Steps by which a is ahead of b. */
  readonly ahead: number
  /** Chance that a patch of a is likelier to come that far than one of b, with nothing known before. */
  readonly sure: number
  /** Why this is not a fair race, where it is not. */
  readonly unfair: readonly string[]
}

/**
 * Two arms by their patches: each patch did or did not reach a score; the two chances have flat priors, and `sure` is
 * the chance that the first is larger. One patch an arm can never be surer than five in six.
 * @param reached score that counts as done
 */
export function compareArms(patches: readonly ArmPatch[], a: string, b: string, reached: number): ArmComparison | null {
  const of = (arm: string): ArmResult | null => {
    const own = patches.filter((patch) => patch.arm === arm)
    if (own.length === 0) return null
    return {
      arm,
      patches: own.length,
      rise: own.reduce((sum, { before, after }) => sum + after - before, 0) / own.length,
      succeeded: own.filter(({ after }) => after >= reached).length,
    }
  }
  const one = of(a)
  const two = of(b)
  if (!one || !two) return null
  const start = (arm: string) => {
    const own = patches.filter((patch) => patch.arm === arm)
    return own.reduce((sum, { before }) => sum + before, 0) / own.length
  }
  const unfair = [
    ...(Math.abs(start(a) - start(b)) > 0.5 ? ['the arms did not start alike'] : []),
    ...(Math.min(one.patches, two.patches) < 2 ? ['one patch is no comparison: mark a second one'] : []),
  ]
  return {
    a: one,
    b: two,
    ahead: one.rise - two.rise,
    sure: chanceLarger(one.succeeded, one.patches, two.succeeded, two.patches),
    unfair,
  }
}

/**
 * P(p > q) for p ~ Beta(1 + s, 1 + n − s), q ~ Beta(1 + t, 1 + m − t).
 * P = Σ_{i<a} B(c + i, d + b) ÷ ((b + i) B(1 + i, b) B(c, d)). @source closed sum of two beta laws with whole parameters
 */
export function chanceLarger(s: number, n: number, t: number, m: number): number {
  const [a, b, c, d] = [1 + s, 1 + n - s, 1 + t, 1 + m - t]
  let sum = 0
  for (let i = 0; i < a; i++)
    sum += Math.exp(logBeta(c + i, d + b) - Math.log(b + i) - logBeta(1 + i, b) - logBeta(c, d))
  return Math.min(1, Math.max(0, sum))
}
const logBeta = (x: number, y: number): number => logGamma(x) + logGamma(y) - logGamma(x + y)
