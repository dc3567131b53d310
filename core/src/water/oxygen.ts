// How much oxygen water can hold: the margin that warmth, salt and a crowd take away.
import { seawaterDensity } from './seawater.ts'

const A = [5.80871, 3.20291, 4.17887, 5.10006, -9.86643e-2, 3.80369] as const
const B = [-7.01577e-3, -7.70028e-3, -1.13864e-2, -9.51519e-3] as const
const C0 = -2.75915e-7
/** Molar mass of O2, g/mol. */
const MOLAR_O2 = 31.998

/**
 * Oxygen at saturation with moist air at one atmosphere, µmol/kg. S 0–42, −2 to 40 °C.
 * @source Garcia & Gordon 1992, fit to Benson & Krause. Check: 10 °C, S 35 → 274.610.
 */
export function oxygenSaturationUmolPerKg(tempC: number, salinityPsu: number): number {
  const ts = Math.log((298.15 - tempC) / (273.15 + tempC))
  const a = A.reduceRight((sum, coefficient) => sum * ts + coefficient, 0)
  const b = B.reduceRight((sum, coefficient) => sum * ts + coefficient, 0)
  return Math.exp(a + salinityPsu * b + C0 * salinityPsu * salinityPsu)
}

/** The same in mg/L. */
export const oxygenSaturation = (tempC: number, salinityPsu: number): number =>
  oxygenSaturationUmolPerKg(tempC, salinityPsu) * seawaterDensity(salinityPsu, tempC) * MOLAR_O2 * 1e-6

/** Percent of saturation of a measured mg/L. */
export const oxygenPercent = (mgPerL: number, tempC: number, salinityPsu: number): number =>
  (100 * mgPerL) / oxygenSaturation(tempC, salinityPsu)
