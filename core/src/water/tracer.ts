// Volume from evidence: a known mass went in, the reading rose by so much.
import type { Measured } from './netVolume.ts'

export interface TracerOptions {
  readonly addedMassMg: number
  readonly beforeMgPerL: Measured
  readonly afterMgPerL: Measured
  /** Volume of the solution that carried the mass, mL; it dilutes too. */
  readonly addedSolutionMl: number
}

/**
 * Volume before the addition: V = (m − c₁ v) ÷ (c₁ − c₀), litres, with its sd from both readings.
 * @throws RangeError when the reading did not rise: then there is no evidence about the volume.
 * @source handbook 10 "Correction by dose and reading"; vectors `volume/tracer`
 */
export function tracerVolume(options: TracerOptions): Measured {
  const { addedMassMg, beforeMgPerL: before, afterMgPerL: after } = options
  const v = options.addedSolutionMl / 1000
  const rise = after.value - before.value
  if (!(rise > 0)) throw new RangeError('tracerVolume: the reading must rise after the dose')
  const volume = (addedMassMg - after.value * v) / rise
  const byBefore = volume / rise
  const byAfter = (addedMassMg - before.value * v) / (rise * rise)
  return { value: volume, sd: Math.hypot(byBefore * before.sd, byAfter * after.sd) }
}

/** Volume before fresh water went in, from the fall in salinity: V = w S₁ ÷ (S₀ − S₁), litres. */
export function freshWaterTracerVolume(addedL: number, beforePsu: number, afterPsu: number): number {
  if (!(afterPsu < beforePsu)) throw new RangeError('freshWaterTracerVolume: salinity must fall')
  return (addedL * afterPsu) / (beforePsu - afterPsu)
}

export interface CombinedVolume extends Measured {
  /** Evidence over geometry minus one; above 0.15 either way the screen says so. */
  readonly disagreement: number
  readonly disagrees: boolean
}

/** Where geometry and evidence differ by more than this share, the screen says so. @source handbook 10 */
export const VOLUME_DISAGREEMENT = 0.15

/** Precision-weighted mean of two volumes on log-volume. Both must be > 0 with sd > 0. @source handbook 10 */
export function combineVolumes(geometry: Measured, evidence: Measured): CombinedVolume {
  const a = (geometry.value / geometry.sd) ** 2
  const b = (evidence.value / evidence.sd) ** 2
  const value = Math.exp((a * Math.log(geometry.value) + b * Math.log(evidence.value)) / (a + b))
  const disagreement = evidence.value / geometry.value - 1
  return { value, sd: value / Math.sqrt(a + b), disagreement, disagrees: Math.abs(disagreement) > VOLUME_DISAGREEMENT }
}
