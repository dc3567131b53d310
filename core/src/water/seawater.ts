// Density of sea water at one atmosphere and what hobby instruments make of it.

/**
 * Density of pure water, kg/m³, at t °C (0 to 40).
 * @source Bigg 1967 as used in EOS-80; UNESCO technical paper 44 (1983).
 */
export function pureWaterDensity(tempC: number): number {
  const t = tempC
  return 999.842594 + t * (6.793952e-2 + t * (-9.09529e-3 + t * (1.001685e-4 + t * (-1.120083e-6 + t * 6.536332e-9))))
}

/**
 * Density of sea water at one atmosphere, kg/m³. Salinity in PSU (0 to 42), temperature in °C (−2 to 40).
 * @source EOS-80: Millero & Poisson 1981; UNESCO technical paper 44. Check: (35, 25) → 1023.34306.
 */
export function seawaterDensity(salinityPsu: number, tempC: number): number {
  const t = tempC
  const s = salinityPsu
  const a = 0.824493 + t * (-4.0899e-3 + t * (7.6438e-5 + t * (-8.2467e-7 + t * 5.3875e-9)))
  const b = -5.72466e-3 + t * (1.0227e-4 + t * -1.6546e-6)
  return pureWaterDensity(t) + a * s + b * s * Math.sqrt(s) + 4.8314e-4 * s * s
}

/** Specific gravity of sea water at `tempC` over pure water at `referenceC`; dimensionless. */
export function specificGravity(salinityPsu: number, tempC: number, referenceC: number): number {
  return seawaterDensity(salinityPsu, tempC) / pureWaterDensity(referenceC)
}

/**
 * Salinity (PSU) whose specific gravity at `tempC` over `referenceC` is `sg`. Bracketed bisection, 1e-10 PSU.
 * Below the gravity of pure water at that temperature the answer is 0; NaN in is NaN out.
 * @throws RangeError when `sg` is above what 80 PSU would give: that is not sea water.
 */
export function salinityFromSpecificGravity(sg: number, tempC: number, referenceC: number): number {
  if (![sg, tempC, referenceC].every(Number.isFinite)) return NaN
  let low = 0
  let high = 80
  if (sg <= specificGravity(0, tempC, referenceC)) return 0
  if (sg > specificGravity(high, tempC, referenceC)) {
    throw new RangeError(`salinityFromSpecificGravity: ${sg} is beyond sea water`)
  }
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2
    if (specificGravity(middle, tempC, referenceC) < sg) low = middle
    else high = middle
  }
  return (low + high) / 2
}
