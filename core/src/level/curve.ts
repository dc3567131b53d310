// One-compartment fate of a dose: exact levels over an event list. Piecewise-constant rates, no stepping.

const { exp, max } = Math

export type LevelEvent =
  | { readonly kind: 'dose'; readonly tH: number; readonly massMg: number }
  | { readonly kind: 'change'; readonly tH: number; readonly fraction: number; readonly replacementMgPerL: number }
  /** Fills up to `toVolumeL` with water at `mgPerL`; nothing when already there. */
  | { readonly kind: 'topoff'; readonly tH: number; readonly toVolumeL: number; readonly mgPerL: number }

/** A first-order loss (1/h) that holds from `fromH` (included) to `toH`. */
export interface RateInterval {
  readonly fromH: number
  readonly toH: number
  readonly perHour: number
}

export interface LevelScenario {
  readonly volumeL: number
  readonly mgPerL: number
  /** Water lost to the air, L/h; the agent stays. */
  readonly evaporationLPerH: number
  /** Losses of every kind (decay, carbon, ultraviolet); overlapping intervals add up. */
  readonly losses: readonly RateInterval[]
  /** Share of every dose bound at once by binding media, 0..1. */
  readonly boundShare?: number
  /** In time order; events at the same time act in list order. */
  readonly events: readonly LevelEvent[]
}

export interface LevelPoint {
  readonly tH: number
  readonly mgPerL: number
  readonly volumeL: number
}

/**
 * Level (mg/L) and volume (L) at each time. Between events M' = −k M and V' = −e, both exact.
 * A time that falls on an event reads the level *after* it. `timesH` must be ascending.
 * @throws RangeError when evaporation would leave no water.
 * @source handbook 10 "One-compartment fate of a dose"; vectors `level/scenario`
 */
export function levelCurve(scenario: LevelScenario, timesH: readonly number[]): LevelPoint[] {
  let t = 0
  let mass = scenario.volumeL * scenario.mgPerL
  let volume = scenario.volumeL
  const points: LevelPoint[] = []
  // Where the total rate changes: between two such edges the decay is one exponential.
  const { losses, evaporationLPerH } = scenario
  const edges = losses.flatMap(({ fromH, toH }) => [fromH, toH]).filter((edge) => edge > 0 && edge < Infinity)
  edges.sort((a, b) => a - b)
  const rateAt = (hour: number) =>
    losses.reduce((sum, { fromH, toH, perHour }) => (hour >= fromH && hour < toH ? sum + perHour : sum), 0)
  let rate = rateAt(0)
  let edge = 0
  const advance = (to: number) => {
    if (to <= t) return
    while (edge < edges.length && edges[edge]! <= to) {
      const at = max(t, edges[edge]!)
      mass *= exp(-rate * (at - t))
      volume -= evaporationLPerH * (at - t)
      t = at
      rate = rateAt(t)
      edge++
    }
    mass *= exp(-rate * (to - t))
    volume -= evaporationLPerH * (to - t)
    if (volume <= 0) throw new RangeError(`levelCurve: no water left at ${to} h`)
    t = to
  }
  let next = 0
  for (const time of timesH) {
    for (; next < scenario.events.length && scenario.events[next]!.tH <= time; next++) {
      const event = scenario.events[next]!
      advance(event.tH)
      switch (event.kind) {
        case 'dose':
          mass += event.massMg * (1 - (scenario.boundShare ?? 0))
          break
        case 'change':
          mass = mass * (1 - event.fraction) + event.fraction * volume * event.replacementMgPerL
          break
        case 'topoff':
          mass += max(0, event.toVolumeL - volume) * event.mgPerL
          volume = max(volume, event.toVolumeL)
          break
      }
    }
    advance(time)
    points.push({ tH: time, mgPerL: mass / volume, volumeL: volume })
  }
  return points
}

/** Hours for a level to fall from `start` to `end` at rate k: ln(start/end)/k. Infinity when k is 0. */
export const hoursToFall = (start: number, end: number, perHour: number): number =>
  end >= start ? 0 : perHour === 0 ? Infinity : Math.log(start / end) / perHour

/** Half-life in hours of a first-order loss. */
export const halfLifeHours = (perHour: number): number => Math.LN2 / perHour
/** First-order loss, 1/h, of a half-life in hours. */
export const rateOfHalfLife = (halfLife: number): number => Math.LN2 / halfLife

/** Peak and trough (mg/L) of equal doses at equal intervals, after many of them. */
export function repeatDoseSteadyState(
  massMg: number,
  volumeL: number,
  perHour: number,
  intervalH: number,
): { readonly peakMgPerL: number; readonly troughMgPerL: number } {
  const left = exp(-perHour * intervalH)
  const rise = massMg / volumeL
  return { peakMgPerL: rise / (1 - left), troughMgPerL: (rise * left) / (1 - left) }
}
