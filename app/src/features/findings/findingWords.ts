// How chances and factors are said, the same in every panel of a finding.
/** How many times likelier, from the logarithm of it. */
export const times = (weight: number): string => {
  const factor = Math.exp(weight)
  return factor >= 10 ? String(Math.round(factor)) : factor.toFixed(1)
}
