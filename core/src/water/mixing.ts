// Mixing and water changes: conservative mass and heat balances of a well-mixed vessel, in closed form.
import { err, ok, type Result } from '../result.ts'
import { salinityFromSpecificGravity, seawaterDensity } from './seawater.ts'

/** Level after one change of share `fraction` with replacement at `replacement`. C' = C(1 − f) + c₀ f */
export const afterChange = (level: number, fraction: number, replacement: number): number =>
  level * (1 - fraction) + replacement * fraction

/** Level after n equal changes. C = c₀ + (C₀ − c₀)(1 − f)^n */
export const afterChanges = (level: number, fraction: number, replacement: number, changes: number): number =>
  replacement + (level - replacement) * residualFraction(fraction, changes)

/** Share of the old water left after n equal changes: (1 − f)^n. Two halves leave a quarter. */
export const residualFraction = (fraction: number, changes: number): number => (1 - fraction) ** changes

/** Level while water is exchanged steadily for `hours`. C = c₀ + (C − c₀) e^(−q t / V) */
export const afterContinuousChange = (
  level: number,
  inflow: number,
  exchangeLPerH: number,
  volumeL: number,
  hours: number,
): number => inflow + (level - inflow) * Math.exp((-exchangeLPerH * hours) / volumeL)

/** Share to change each time so that n equal changes leave `residual`: f = 1 − r^(1/n). */
export const fractionForResidual = (residual: number, changes: number): number => 1 - residual ** (1 / changes)

/** Volumes of new water a steady exchange needs to leave `residual`: −ln r. */
export const continuousVolumesFor = (residual: number): number => -Math.log(residual)

export interface ChangesToTarget {
  readonly changes: number
  readonly mgPerL: number
  readonly continuousVolumes: number
}

/**
 * Fewest equal changes that bring the level to `targetMax` or below.
 * `unreachable` when the new water itself is at or above the target.
 */
export function changesToTarget(
  start: number,
  replacement: number,
  fraction: number,
  targetMax: number,
): Result<ChangesToTarget, { readonly kind: 'unreachable' }> {
  if (start <= targetMax) return ok({ changes: 0, mgPerL: start, continuousVolumes: 0 })
  if (replacement >= targetMax || fraction <= 0) return err({ kind: 'unreachable' })
  const residual = (targetMax - replacement) / (start - replacement)
  const changes = fraction >= 1 ? 1 : Math.ceil(Math.log(residual) / Math.log(1 - fraction) - 1e-12)
  return ok({
    changes,
    mgPerL: afterChanges(start, fraction, replacement, changes),
    continuousVolumes: continuousVolumesFor(residual),
  })
}

/** Level just after the n-th change when `production` is added in every interval before it, and its limits. */
export function changesWithProduction(
  start: number,
  replacement: number,
  fraction: number,
  production: number,
  changes: number,
): { readonly afterLast: number; readonly steadyAfter: number; readonly steadyBefore: number } {
  const steadyAfter = replacement + (production * (1 - fraction)) / fraction
  return {
    afterLast: steadyAfter + (start - steadyAfter) * residualFraction(fraction, changes),
    steadyAfter,
    steadyBefore: steadyAfter + production,
  }
}

/** Mass that leaves with a change and must go into the new water to hold the level, mg. @source handbook 31 calc-change */
export const makeUpMass = (changedL: number, heldMgPerL: number): number => changedL * heldMgPerL

export type HeatExchange =
  | { readonly kind: 'none' }
  /** dT/dt = k (room − T), per hour whatever the volume. */
  | { readonly kind: 'rate-constant'; readonly perHour: number }
  /** V dT/dt = h (room − T), h in L/h. */
  | { readonly kind: 'conductance'; readonly litresPerHour: number }

export interface DripOptions {
  readonly startVolumeL: number
  readonly inflowLPerH: number
  readonly startTempC: number
  readonly inflowTempC: number
  readonly roomTempC: number
  readonly heat: HeatExchange
}

/** Volume of a tub that keeps what drips in. */
export const grownVolume = (options: DripOptions, hours: number): number =>
  options.startVolumeL + options.inflowLPerH * hours

/** Any conservative level in a growing tub after `hours`. */
export const growingLevel = (options: DripOptions, start: number, inflow: number, hours: number): number =>
  (options.startVolumeL * start + options.inflowLPerH * hours * inflow) / grownVolume(options, hours)

/** Any conservative level in a tub that overflows at its start volume. */
export const overflowLevel = (options: DripOptions, start: number, inflow: number, hours: number): number =>
  afterContinuousChange(start, inflow, options.inflowLPerH, options.startVolumeL, hours)

/** Water temperature of a growing tub, °C: exact solution of the heat balance. */
export function growingTemperature(options: DripOptions, hours: number): number {
  const { startVolumeL: v0, inflowLPerH: q, startTempC, inflowTempC, roomTempC, heat } = options
  const volume = grownVolume(options, hours)
  if (heat.kind === 'rate-constant' && heat.perHour > 0) {
    const k = heat.perHour
    const a = v0 * roomTempC + (q * (inflowTempC - roomTempC)) / k
    return (a + roomTempC * q * hours + (v0 * startTempC - a) * Math.exp(-k * hours)) / volume
  }
  const h = heat.kind === 'conductance' ? heat.litresPerHour : 0
  if (q === 0) return h === 0 ? startTempC : roomTempC + (startTempC - roomTempC) * Math.exp((-h * hours) / v0)
  const equilibrium = (q * inflowTempC + h * roomTempC) / (q + h)
  return equilibrium + (startTempC - equilibrium) * (v0 / volume) ** ((q + h) / q)
}

/** Water temperature of an overflowing tub, °C. */
export function overflowTemperature(options: DripOptions, hours: number): number {
  const { startVolumeL: v, inflowLPerH: q, startTempC, inflowTempC, roomTempC, heat } = options
  const exchange = q / v
  const loss = heat.kind === 'rate-constant' ? heat.perHour : heat.kind === 'conductance' ? heat.litresPerHour / v : 0
  const rate = exchange + loss
  if (rate === 0) return startTempC
  const equilibrium = (exchange * inflowTempC + loss * roomTempC) / rate
  return equilibrium + (startTempC - equilibrium) * Math.exp(-rate * hours)
}

/** Hours until a growing tub's level is within `within` of the inflow; 0 if already, null if never. */
export function growingHoursWithin(options: DripOptions, start: number, inflow: number, within: number): number | null {
  const gap = Math.abs(start - inflow)
  if (gap <= within) return 0
  if (options.inflowLPerH <= 0) return null
  return (options.startVolumeL * (gap / within - 1)) / options.inflowLPerH
}

/** Hours until an overflowing tub's level is within `within` of the inflow; 0 if already, null if never. */
export function overflowHoursWithin(
  options: DripOptions,
  start: number,
  inflow: number,
  within: number,
): number | null {
  const gap = Math.abs(start - inflow)
  if (gap <= within) return 0
  if (options.inflowLPerH <= 0) return null
  return (options.startVolumeL / options.inflowLPerH) * Math.log(gap / within)
}

export interface TubState {
  readonly volumeL: number
  readonly salinityPsu: number
  readonly tempC: number
  readonly tracerMgPerL: number
}
export interface ScoopOptions {
  readonly start: TubState
  readonly scoop: Omit<TubState, 'volumeL'> & { readonly litres: number }
  readonly discardL: number
  readonly capL: number
  readonly scoops: number
  readonly intervalHours: number
  readonly roomTempC: number
  readonly heatPerHour: number
}

/** State after each scoop: wait, add, mix, then discard once if the tub is above its cap. */
export function scoopStates(options: ScoopOptions): TubState[] {
  const { scoop, roomTempC } = options
  const cooling = Math.exp(-options.heatPerHour * options.intervalHours)
  const states: TubState[] = []
  let tub = options.start
  for (let i = 0; i < options.scoops; i++) {
    const waited = roomTempC + (tub.tempC - roomTempC) * cooling
    const volume = tub.volumeL + scoop.litres
    const mix = (a: number, b: number) => (a * tub.volumeL + b * scoop.litres) / volume
    const over = volume > options.capL + 1e-9
    tub = {
      volumeL: over ? volume - options.discardL : volume,
      salinityPsu: mix(tub.salinityPsu, scoop.salinityPsu),
      tempC: mix(waited, scoop.tempC),
      tracerMgPerL: mix(tub.tracerMgPerL, scoop.tracerMgPerL),
    }
    states.push(tub)
  }
  return states
}

export interface Water {
  readonly volumeL: number
  readonly salinityPsu: number
  readonly tempC: number
}

/** Volume-weighted mean of two waters: equal density and heat capacity assumed. */
export function mixByVolume(a: Water, b: Water): Omit<Water, 'volumeL'> {
  const volume = a.volumeL + b.volumeL
  return {
    salinityPsu: (a.volumeL * a.salinityPsu + b.volumeL * b.salinityPsu) / volume,
    tempC: (a.volumeL * a.tempC + b.volumeL * b.tempC) / volume,
  }
}

/** Salinity of two waters mixed by mass: litres weighted by EOS-80 density at each one's own temperature. */
export function mixByMass(a: Water, b: Water): number {
  const massA = a.volumeL * seawaterDensity(a.salinityPsu, a.tempC)
  const massB = b.volumeL * seawaterDensity(b.salinityPsu, b.tempC)
  return (massA * a.salinityPsu + massB * b.salinityPsu) / (massA + massB)
}

/** Share of the water to replace with fresh water to reach a specific gravity, by volume and by mass basis. */
export function freshWaterShareForGravity(
  startPsu: number,
  targetSg: number,
  tempC: number,
  referenceC: number,
): { readonly targetPsu: number; readonly byVolume: number; readonly byMass: number } {
  const targetPsu = salinityFromSpecificGravity(targetSg, tempC, referenceC)
  const keep = targetPsu / startPsu
  const old = seawaterDensity(startPsu, tempC)
  const fresh = seawaterDensity(0, tempC)
  // Keep volume a of old water beside b of fresh so that salt mass per mass of water is the target's.
  const ratio = (old * (startPsu - targetPsu)) / (fresh * targetPsu)
  return { targetPsu, byVolume: 1 - keep, byMass: ratio / (1 + ratio) }
}
