// A tank with known truth, for calibration and for demonstration data: same chemistry, seeded errors.
import { levelCurve, type LevelEvent, type RateInterval } from './curve.ts'
import { CHANGE_SD_SHARE, DOSE_SD_SHARE, INSTRUMENT_BIAS_SD } from './model.ts'

/** Seeded uniform numbers in [0, 1): the same seed gives the same tank. @source mulberry32, public domain */
export function randomFrom(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = state
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}
/** Standard normal numbers by Box–Muller. */
export function normalFrom(random: () => number): () => number {
  return () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random())
}

export interface TrueTank {
  readonly volumeL: number
  readonly lossPerHour: number
  readonly bias: number
}
export interface KitError {
  readonly step: number
  readonly relativeError: number
}

/** A tank that answers doses, changes and tests the way a real one would. */
export class SimulatedTank {
  readonly events: LevelEvent[] = []
  private readonly normal: () => number
  constructor(
    readonly truth: TrueTank,
    private readonly random: () => number,
    private readonly media: readonly RateInterval[] = [],
  ) {
    this.normal = normalFrom(random)
  }

  /** Pours a nominal mass; what really goes in differs by the dose error. */
  dose(tH: number, massMg: number): void {
    this.events.push({ kind: 'dose', tH, massMg: massMg * Math.max(0, 1 + DOSE_SD_SHARE * this.normal()) })
  }
  change(tH: number, fraction: number, replacementMgPerL = 0): void {
    const real = Math.min(1, Math.max(0, fraction * (1 + CHANGE_SD_SHARE * this.normal())))
    this.events.push({ kind: 'change', tH, fraction: real, replacementMgPerL })
  }
  levels(timesH: readonly number[]): number[] {
    const losses = [{ fromH: 0, toH: Infinity, perHour: this.truth.lossPerHour }, ...this.media]
    return levelCurve(
      { volumeL: this.truth.volumeL, mgPerL: 0, evaporationLPerH: 0, losses, events: this.events },
      timesH,
    ).map(({ mgPerL }) => mgPerL)
  }
  /** What the kit shows, in whole steps; `slipChance` of a gross slip (a digit wrong, a factor, a swapped vial). */
  read(tH: number, kit: KitError, slipChance = 0): number {
    const [level = 0] = this.levels([tH])
    let shown =
      level * (1 + this.truth.bias) + level * kit.relativeError * this.normal() + (kit.step / 2) * this.normal()
    if (this.random() < slipChance) shown *= [0.1, 0.5, 2, 10][Math.floor(this.random() * 4)]!
    return Math.max(0, Math.round(shown / kit.step) * kit.step)
  }
}

/** Draws a truth from the same priors that the posterior assumes. */
export function drawTruth(
  normal: () => number,
  volume: { readonly median: number; readonly sdLn: number },
  loss: { readonly median: number; readonly sdLn: number },
): TrueTank {
  return {
    volumeL: volume.median * Math.exp(volume.sdLn * normal()),
    lossPerHour: loss.median * Math.exp(loss.sdLn * normal()),
    bias: INSTRUMENT_BIAS_SD * normal(),
  }
}
