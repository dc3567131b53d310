// How chances and factors are said, the same in every panel of a finding.
import { MOST } from '@brinvo/core'

export const percent = (p: number): string =>
  p >= MOST ? `${Math.round(100 * MOST)} % or more` : p < 0.01 ? 'under 1 %' : `${Math.round(100 * p)} %`

/** How many times likelier, from the logarithm of it. */
export const times = (weight: number): string => {
  const factor = Math.exp(weight)
  return factor >= 10 ? String(Math.round(factor)) : factor.toFixed(1)
}
