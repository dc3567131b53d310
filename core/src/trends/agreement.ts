// Several instruments on the same water at the same time: do they agree, which one stands alone, and what rules.

/** One instrument's value in the quantity that is compared, with its own error. */
export interface Measured {
  /** What tells the instruments apart. */
  readonly by: string
  readonly value: number
  /** One standard deviation, same unit. */
  readonly sd: number
  /** It showed nothing: `value` is half of the most that may be there. @source handbook 65.5 dis-zero */
  readonly below?: boolean
}

/**
 * How two instruments are held against each other. `ratio`: they agree when both are under `floor` or the larger is
 * under twice the smaller, and the larger rules (ammonia: handbook 30 amm-agree, amm-worst). `error`: they agree when
 * they lie within two standard deviations of their difference, and are then weighed by 1 / sd² (handbook 65.5 dis-z).
 */
export type AgreementRule = { readonly kind: 'ratio'; readonly floor: number } | { readonly kind: 'error' }

/**
 * `one`: nothing to compare. `agree`. `near`: apart by the ratio, but both low and no
 * further than their errors reach. `conflict`:
 * two of them, and no third yet. `settled`: a third agrees with one of them. `no-match`: three or more, none agree.
 */
export type Verdict = 'one' | 'agree' | 'near' | 'conflict' | 'settled' | 'no-match'

export interface Agreement {
  readonly verdict: Verdict
  /** The value to act on: the worse of those that count under `ratio`; their weighed mean under `error`, and null while they conflict. */
  readonly rules: number | null
  /** Instruments that agree with no other while others agree: not to be trusted until checked. */
  readonly suspects: readonly string[]
  /** Distance of the two furthest apart, in standard deviations of their difference. */
  readonly z: number
}

/** Two values further apart than this many standard deviations conflict. @source handbook 65.5 dis-z */
export const CONFLICT_Z = 2

/** Distance of two values in standard deviations of their difference. */
export const apart = (a: Measured, b: Measured): number =>
  Math.abs(a.value - b.value) / Math.max(Math.hypot(a.sd, b.sd), 1e-12)

/** Whether two instruments agree by a rule. Symmetric. */
export function agrees(a: Measured, b: Measured, rule: AgreementRule): boolean {
  if (rule.kind === 'error') return apart(a, b) < CONFLICT_Z
  const low = Math.min(a.value, b.value)
  const high = Math.max(a.value, b.value)
  if (high < rule.floor || high < 2 * low || (a.below === true && b.below === true)) return true
  // What shows nothing contradicts only what is above the least it can show.
  return (a.below === true && b.value <= 2 * a.value) || (b.below === true && a.value <= 2 * b.value)
}

/** Mean weighed by 1 / sd². */
const weighed = (values: readonly Measured[]): number => {
  const weights = values.map(({ sd }) => 1 / Math.max(sd, 1e-12) ** 2)
  const sum = weights.reduce((total, weight) => total + weight, 0)
  return values.reduce((total, { value }, i) => total + value * (weights[i]! / sum), 0)
}

/** What several instruments say together; each counts once, in any order. Pure. */
export function agreementOf(values: readonly Measured[], rule: AgreementRule): Agreement {
  const first = values[0]
  if (first === undefined) return { verdict: 'one', rules: null, suspects: [], z: 0 }
  const worst = Math.max(...values.map(({ value }) => value))
  const z = Math.max(0, ...values.flatMap((a, i) => values.slice(i + 1).map((b) => apart(a, b))))
  if (values.length === 1) return { verdict: 'one', rules: first.value, suspects: [], z }
  const friends = values.map((a, i) => values.filter((b, j) => i !== j && agrees(a, b, rule)).length)
  const trusted = values.filter((_, i) => friends[i]! > 0)
  const counted = (of: readonly Measured[]) =>
    rule.kind === 'ratio' ? Math.max(...of.map(({ value }) => value)) : weighed(of)
  if (friends.every((count) => count === values.length - 1))
    return { verdict: 'agree', rules: counted(values), suspects: [], z }
  if (trusted.length === 0)
    return {
      verdict:
        values.length > 2
          ? 'no-match'
          : rule.kind === 'ratio' && z < CONFLICT_Z && worst < 2 * rule.floor
            ? 'near'
            : 'conflict',
      rules: rule.kind === 'ratio' ? worst : null,
      suspects: [],
      z,
    }
  return {
    verdict: 'settled',
    rules: counted(trusted),
    suspects: values.filter((_, i) => friends[i] === 0).map(({ by }) => by),
    z,
  }
}
