// Where a coral's light begins.

/** Target light of a coral nobody said more about, µmol/m²/s. @source handbook 40.6, soft corals and large polyps */
export const DEFAULT_TARGET_PAR = { coral: 120, anemone: 200 } as const

/**
 * Light to begin with, µmol/m²/s: the source's, but at most three quarters of the target (six tenths after twelve
 * hours in the bag); 45 % of the target when the source is not known.
 * @source handbook 40.8
 */
export function lightStart(options: {
  readonly sourcePar: number | null
  readonly targetPar: number
  readonly transitH: number
}): number {
  const { sourcePar, targetPar, transitH } = options
  if (sourcePar === null) return 0.45 * targetPar
  return Math.min(sourcePar, (transitH >= 12 ? 0.6 : 0.75) * targetPar)
}
