// Salinity from conductivity and back, hydrometers away from their calibration temperature, and salt for a batch.
import { pureWaterDensity, seawaterDensity } from './seawater.ts'

/** Conductivity of standard sea water, S 35 at 15 °C and 0 dbar, mS/cm. @source Culkin & Smith 1980 */
export const STANDARD_CONDUCTIVITY = 42.914

const A = [0.008, -0.1692, 25.3851, 14.0941, -7.0261, 2.7081] as const
const B = [0.0005, -0.0056, -0.0066, -0.0375, 0.0636, -0.0144] as const

/**
 * Practical salinity of a conductivity ratio R = C / C(35, 15, 0) at `tempC`.
 * @source PSS-78, UNESCO technical paper 44. Check: R 1 at 15 °C → 35. Valid 2–42 PSU, −2 to 35 °C.
 */
export function salinityFromRatio(ratio: number, tempC: number): number {
  const t = tempC
  const rt = 0.6766097 + t * (2.00564e-2 + t * (1.104259e-4 + t * (-6.9698e-7 + t * 1.0031e-9)))
  const root = Math.sqrt(ratio / rt)
  let plain = 0
  let correction = 0
  for (let i = 5; i >= 0; i--) {
    plain = plain * root + A[i]!
    correction = correction * root + B[i]!
  }
  return plain + ((t - 15) / (1 + 0.0162 * (t - 15))) * correction
}

/**
 * Practical salinity of a conductivity (mS/cm) at the sample's own temperature. A meter that compensates to 25 °C
 * has told the conductivity at 25 °C: pass 25.
 */
export const salinityFromConductivity = (
  mSPerCm: number,
  tempC: number,
  standard: number = STANDARD_CONDUCTIVITY,
): number => salinityFromRatio(mSPerCm / standard, tempC)

/** Conductivity (mS/cm) at `tempC` of a salinity; NaN in is NaN out. Bisection to 1e-10. */
export function conductivityFromSalinity(
  salinityPsu: number,
  tempC: number,
  standard: number = STANDARD_CONDUCTIVITY,
): number {
  if (![salinityPsu, tempC].every(Number.isFinite)) return NaN
  let low = 0
  let high = 4
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2
    if (salinityFromRatio(middle, tempC) < salinityPsu) low = middle
    else high = middle
  }
  return ((low + high) / 2) * standard
}

/**
 * What a glass hydrometer calibrated against pure water at `calibrationC` reads in a sample at `sampleC`.
 * Thermal expansion of the glass is neglected.
 */
export const hydrometerReading = (salinityPsu: number, sampleC: number, calibrationC: number): number =>
  seawaterDensity(salinityPsu, sampleC) / pureWaterDensity(calibrationC)

/**
 * Grams of sea-salt mix for a batch of `litres` at a salinity. `yieldShare` (0.85–0.95) is the share of the mix that is
 * salt: mixes carry water of crystallisation. @source handbook 10, EOS-80
 */
export const saltForBatch = (litres: number, salinityPsu: number, tempC: number, yieldShare: number): number =>
  (litres * salinityPsu * seawaterDensity(salinityPsu, tempC)) / 1000 / yieldShare

/**
 * Litres of fresh water to dissolve `grams` of mix in, so that `litres` of sea water come out: mass of the batch less
 * mass of the mix. @source EOS-80
 */
export const waterForBatch = (litres: number, salinityPsu: number, tempC: number, grams: number): number =>
  (litres * seawaterDensity(salinityPsu, tempC) - grams) / pureWaterDensity(tempC)

/** µS/cm per mg/L of dissolved solids in fresh water, by convention of most meters (0.5–0.7 are in use). */
export const TDS_PER_US = 0.64
