// Kits and meters of the world: steps, scatter, a bias nobody knows, a floor, and the typo of a tired hand.
import type { Chance } from './random.ts'

export interface Kit {
  /** Smallest step that can be told, canonical units. */
  readonly step: number
  /** Scatter of one reading, share of the value. */
  readonly relative: number
  /** What it shows for what is there: 1 is right, 1.1 reads a tenth too high. Unknown to its keeper. */
  readonly bias: number
  readonly floor?: number
}
export interface Shown {
  readonly value: number
  readonly bound: 'exact' | 'below'
}

/** One reading of a true value. */
export function readWith(kit: Kit, truth: number, chance: Chance): Shown {
  const seen = truth * kit.bias * (1 + chance.normal(0, kit.relative)) + chance.normal(0, kit.step / 4)
  const value = Math.max(0, Math.round(seen / kit.step) * kit.step)
  const floor = kit.floor ?? 0
  return value < floor || value <= 0
    ? floor > 0
      ? { value: floor, bound: 'below' }
      : { value: 0, bound: 'exact' }
    : { value: Number(value.toPrecision(6)), bound: 'exact' }
}

/** Kits as keepers own them: good ones, and ones that are off. */
export function kitFor(analyte: string, chance: Chance, off: boolean): Kit {
  const bias = off ? 1 + chance.normal(0, 0.075) : 1 + chance.normal(0, 0.015)
  const KITS: Readonly<Record<string, Omit<Kit, 'bias'>>> = {
    copper: { step: 0.02, relative: 0.03 },
    temperature: { step: 0.1, relative: 0.003 },
    salinity: { step: 0.5, relative: 0.01 },
    alkalinity: { step: 0.1, relative: 0.03 },
    calcium: { step: 10, relative: 0.02 },
    magnesium: { step: 20, relative: 0.02 },
    potassium: { step: 10, relative: 0.03 },
    nitrate: { step: 1, relative: 0.1 },
    phosphate: { step: 0.01, relative: 0.08 },
    silicate: { step: 0.1, relative: 0.1 },
    'ammonia-total': { step: 0.05, relative: 0.15 },
    ph: { step: 0.1, relative: 0.005 },
    oxygen: { step: 0.1, relative: 0.03 },
  }
  return { ...(KITS[analyte] ?? { step: 0.05, relative: 0.05 }), bias: analyte === 'temperature' ? 1 : bias }
}
