// Dose arithmetic for one agent in well-mixed water. No decay, no binding: for those see ../level.
import { err, ok, type Result } from '../result.ts'
import type { Litres, MgPerL, Milligrams } from '../units/quantity.ts'
import { milligrams } from '../units/quantity.ts'
import type { Working } from '../working.ts'
import type { ActiveContent, PourUnit } from './strength.ts'

/** A syringe or scale: its capacity and graduation, in the pour unit. */
export interface Measure {
  readonly capacity: number
  readonly step: number
}

/** Common syringes, mL. @source handbook 31 calc-tool */
export const SYRINGES: readonly Measure[] = [
  { capacity: 1, step: 0.01 },
  { capacity: 5, step: 0.2 },
  { capacity: 20, step: 1 },
  { capacity: 60, step: 2 },
]
/** Common scales, g: 0.001 g below half a gram, 0.01 g above. @source handbook 31 calc-tool */
export const SCALES: readonly Measure[] = [
  { capacity: 0.5, step: 0.001 },
  { capacity: Infinity, step: 0.01 },
]

/** The finest measure that takes the amount in one filling, else the largest. Drops and tablets are counted whole. */
export function measureFor(amount: number, per: PourUnit, owned: readonly Measure[] = SYRINGES): Measure {
  if (per === 'drop') return { capacity: Infinity, step: 1 }
  if (per === 'tablet') return { capacity: Infinity, step: 0.25 }
  const set = [...(per === 'g' ? SCALES : owned)].sort((a, b) => a.capacity - b.capacity)
  return set.find(({ capacity }) => amount <= capacity + 1e-9) ?? set.at(-1)!
}

/** Nearest (or next lower) graduation, free of floating-point tails. */
export function roundToStep(amount: number, step: number, direction: 'nearest' | 'down' = 'nearest'): number {
  const count = direction === 'down' ? Math.floor(amount / step + 1e-9) : Math.round(amount / step)
  return Number((count * step).toPrecision(12))
}

export interface DoseOptions {
  readonly volumeL: Litres
  readonly currentMgPerL: MgPerL
  readonly targetMgPerL: MgPerL
  readonly content: Pick<ActiveContent, 'mg' | 'per'>
  /** Syringes owned; handbook sizes when left out. */
  readonly measures?: readonly Measure[]
}

export interface Dose {
  /** Rounded to what the measure can show. */
  readonly amount: number
  readonly unit: PourUnit
  readonly unroundedAmount: number
  readonly step: number
  /** Of the unrounded dose. */
  readonly massMg: Milligrams
  /** Level the rounded amount leads to. */
  readonly resultMgPerL: number
  /** Rounded over wanted rise, minus one. */
  readonly roundingError: number
  readonly working: Working
}

export type DoseProblem =
  | { readonly kind: 'target-below-current'; readonly message: string }
  | { readonly kind: 'no-water'; readonly message: string }
  | { readonly kind: 'below-one-step'; readonly message: string }

/**
 * Amount that raises the water from current to target: mg = (target − current) × V; amount = mg ÷ strength.
 * Ignores the volume the dose itself adds (at most 0.1 % while the stock is 1000 × the target). The two-way check
 * is in the result: the level that the *rounded* amount leads to.
 * `target-below-current`: no dose can help, the remedy is a water change.
 * @source handbook 31 calc-mass, calc-volume, calc-check
 */
export function doseFor(options: DoseOptions): Result<Dose, DoseProblem> {
  const { volumeL, currentMgPerL: current, targetMgPerL: target, content } = options
  if (volumeL <= 0) return err({ kind: 'no-water', message: 'There is no water volume to dose into.' })
  if (target < current) {
    return err({
      kind: 'target-below-current',
      message: 'The level is already above the target. Only a water change lowers it.',
    })
  }
  const massMg = milligrams((target - current) * volumeL)
  const unrounded = massMg / content.mg
  const { step } = measureFor(unrounded, content.per, options.measures)
  const amount = roundToStep(unrounded, step)
  if (massMg > 0 && amount === 0) {
    return err({
      kind: 'below-one-step',
      message: `The dose is ${unrounded.toPrecision(2)} ${content.per}, less than one graduation (${step} ${content.per}). Dilute the stock first.`,
    })
  }
  const resultMgPerL = current + (amount * content.mg) / volumeL
  return ok({
    amount,
    unit: content.per,
    unroundedAmount: unrounded,
    step,
    massMg,
    resultMgPerL,
    roundingError: massMg === 0 ? 0 : amount / unrounded - 1,
    working: {
      title: 'Dose',
      formula: '(target − level now) × net volume ÷ strength',
      inputs: [
        { label: 'level now', value: current, unit: 'mg/L' },
        { label: 'target', value: target, unit: 'mg/L' },
        { label: 'net volume', value: volumeL, unit: 'L' },
        { label: 'strength', value: content.mg, unit: `mg per ${content.per}` },
        { label: 'mass needed', value: massMg, unit: 'mg' },
        { label: 'before rounding', value: unrounded, unit: content.per },
        { label: 'graduation', value: step, unit: content.per },
      ],
      result: { label: 'amount', value: amount, unit: content.per },
      notes: [`Checked backwards: ${amount} ${content.per} leads to ${resultMgPerL.toPrecision(4)} mg/L.`],
      source: 'Mass balance',
    },
  })
}

/** Level a poured amount leads to: current + amount × strength ÷ V. */
export const resultingLevel = (currentMgPerL: number, amount: number, contentMg: number, volumeL: number): number =>
  currentMgPerL + (amount * contentMg) / volumeL

/** Where syringe rounding moves the dose by more than this, a diluted stock is suggested. @source calc-check */
export const ROUNDING_TOLERANCE = 0.05

/** Dilution (times) of the stock that brings rounding under tolerance, or 1 when none is needed. */
export function suggestedDilution(dose: Pick<Dose, 'roundingError' | 'unroundedAmount' | 'step'>): number {
  if (Math.abs(dose.roundingError) <= ROUNDING_TOLERANCE) return 1
  const needed = dose.step / 2 / ROUNDING_TOLERANCE / dose.unroundedAmount
  return [2, 5, 10, 20, 50, 100].find((times) => times >= needed) ?? 100
}

/** n equal-rise levels from 0 (or `from`) to target: what a ramp aims at, step by step. */
export function rampLevels(target: number, steps: number, from = 0): number[] {
  if (!Number.isInteger(steps) || steps < 1) throw new RangeError('rampLevels: steps must be a whole number >= 1')
  return Array.from({ length: steps }, (_, i) => from + ((target - from) * (i + 1)) / steps)
}

export interface DoseRange {
  readonly lowMgPerL: number
  readonly highMgPerL: number
}
/** How the resulting level changes at either end of the volume's doubt (±`sds` standard deviations, default 1.28). */
export function resultOverVolumeDoubt(
  currentMgPerL: number,
  amount: number,
  contentMg: number,
  volume: { readonly value: number; readonly sd: number },
  sds = 1.2816,
): DoseRange {
  const at = (litres: number) => resultingLevel(currentMgPerL, amount, contentMg, litres)
  return {
    lowMgPerL: at(volume.value + sds * volume.sd),
    highMgPerL: at(Math.max(volume.value - sds * volume.sd, volume.value / 4)),
  }
}
