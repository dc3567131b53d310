// The carbonate system on the total pH scale. Amounts in µmol/kg, pressures in µatm, salinity in PSU, °C.
// Meters are calibrated on NBS buffers: take `nbsOffset` off a measured pH before it comes in here.
import { seawaterDensity } from './seawater.ts'

export interface CarbonateConstants {
  /** mol/(kg·atm) */
  readonly k0: number
  /** mol/kg */
  readonly k1: number
  readonly k2: number
  readonly kb: number
  /** mol²/kg² */
  readonly kw: number
  /** µmol/kg */
  readonly totalBoron: number
  /** Which set: `between` is interpolated from S 1 to 19 and less sure. */
  readonly set: 'fresh' | 'between' | 'sea'
}

/** Fresh set below this, sea set from `SEA_FROM_PSU`. @source design definitions */
const FRESH_BELOW_PSU = 1
const SEA_FROM_PSU = 19
const LN10 = Math.LN10

/** @source Weiss 1974 (K0); Lueker et al. 2000 (K1, K2); Dickson 1990 (KB); Millero 1995 (KW); Uppström 1974 (boron) */
function seaSet(salinityPsu: number, tempC: number) {
  const t = tempC + 273.15
  const lnT = Math.log(t)
  const s = salinityPsu
  const root = Math.sqrt(s)
  const h = t / 100
  const lnK0 = 93.4517 / h - 60.2409 + 23.3585 * Math.log(h) + s * (0.023517 - 0.023656 * h + 0.0047036 * h * h)
  const pK1 = 3633.86 / t - 61.2172 + 9.6777 * lnT - 0.011555 * s + 0.0001152 * s * s
  const pK2 = 471.78 / t + 25.929 - 3.16967 * lnT - 0.01781 * s + 0.0001122 * s * s
  const lnKb =
    (-8966.9 - 2890.53 * root - 77.942 * s + 1.728 * s * root - 0.0996 * s * s) / t +
    148.0248 +
    137.1942 * root +
    1.62142 * s +
    (-24.4344 - 25.085 * root - 0.2474 * s) * lnT +
    0.053105 * root * t
  return { lnK0, lnK1: -LN10 * pK1, lnK2: -LN10 * pK2, lnKb }
}
/** @source Plummer & Busenberg 1982 (K0, K1, K2 in pure water) */
function freshSet(tempC: number) {
  const t = tempC + 273.15
  const logT = Math.log10(t)
  const log0 = 108.3865 + 0.01985076 * t - 6919.53 / t - 40.45154 * logT + 669365 / (t * t)
  const log1 = -356.3094 - 0.06091964 * t + 21834.37 / t + 126.8339 * logT - 1684915 / (t * t)
  const log2 = -107.8871 - 0.03252849 * t + 5151.79 / t + 38.92561 * logT - 563713.9 / (t * t)
  return { lnK0: LN10 * log0, lnK1: LN10 * log1, lnK2: LN10 * log2 }
}
/** @source Millero 1995 (DOE 1994), total scale; at S 0 it is the pure-water product. */
function lnKw(salinityPsu: number, tempC: number): number {
  const t = tempC + 273.15
  const lnT = Math.log(t)
  return (
    148.9652 -
    13847.26 / t -
    23.6521 * lnT +
    (118.67 / t - 5.977 + 1.0495 * lnT) * Math.sqrt(salinityPsu) -
    0.01615 * salinityPsu
  )
}

/**
 * Constants for a water. The fresh set holds below S 1 and leaves borate out; the sea set holds from S 19; between them
 * the logarithms are interpolated along √S, the first-order form of ionic strength.
 */
export function carbonateConstants(salinityPsu: number, tempC: number): CarbonateConstants {
  const kw = Math.exp(lnKw(salinityPsu, tempC))
  if (salinityPsu < FRESH_BELOW_PSU) {
    const { lnK0, lnK1, lnK2 } = freshSet(tempC)
    return { k0: Math.exp(lnK0), k1: Math.exp(lnK1), k2: Math.exp(lnK2), kb: 1, kw, totalBoron: 0, set: 'fresh' }
  }
  const totalBoron = ((0.000232 / 10.811) * salinityPsu * 1e6) / 1.80655
  if (salinityPsu >= SEA_FROM_PSU) {
    const { lnK0, lnK1, lnK2, lnKb } = seaSet(salinityPsu, tempC)
    return {
      k0: Math.exp(lnK0),
      k1: Math.exp(lnK1),
      k2: Math.exp(lnK2),
      kb: Math.exp(lnKb),
      kw,
      totalBoron,
      set: 'sea',
    }
  }
  const fresh = freshSet(tempC)
  const edge = seaSet(SEA_FROM_PSU, tempC)
  const { lnK0, lnKb } = seaSet(salinityPsu, tempC)
  const share = (Math.sqrt(salinityPsu) - 1) / (Math.sqrt(SEA_FROM_PSU) - 1)
  const between = (a: number, b: number) => Math.exp(a + (b - a) * share)
  return {
    k0: Math.exp(lnK0),
    k1: between(fresh.lnK1, edge.lnK1),
    k2: between(fresh.lnK2, edge.lnK2),
    kb: Math.exp(lnKb),
    kw,
    // Borate comes in with the interpolation, so that pH has no step at S 1.
    totalBoron: totalBoron * share,
    set: 'between',
  }
}

/** Alkalinity (µmol/kg) that so much carbon (µmol/kg) has at a pH (total scale). */
function alkalinityAt(k: CarbonateConstants, dic: number, h: number): number {
  const carbonate = (dic * k.k1 * (h + 2 * k.k2)) / (h * h + k.k1 * h + k.k1 * k.k2)
  const borate = (k.totalBoron * k.kb) / (k.kb + h)
  return carbonate + borate + (k.kw / h - h) * 1e6
}

const LOWEST_PH = 3
const HIGHEST_PH = 12

/**
 * pH (total scale) of alkalinity and carbon, both µmol/kg. Newton inside a bracket, to 1e-10; `startPh` (the last pH of
 * a run) makes it two or three steps.
 * @throws RangeError when no pH between 3 and 12 carries them.
 */
export function phFromCarbon(k: CarbonateConstants, ta: number, dic: number, startPh = 8): number {
  let low = LOWEST_PH
  let high = HIGHEST_PH
  let ph = Math.min(high, Math.max(low, startPh))
  for (let i = 0; i < 100; i++) {
    const h = 10 ** -ph
    const off = alkalinityAt(k, dic, h) - ta
    if (off > 0) high = ph
    else low = ph
    const denominator = h * h + k.k1 * h + k.k1 * k.k2
    const slope =
      LN10 *
      (dic * k.k1 * h * ((h * h + 4 * k.k2 * h + k.k1 * k.k2) / (denominator * denominator)) +
        (k.totalBoron * k.kb * h) / (k.kb + h) ** 2 +
        (k.kw / h + h) * 1e6)
    let next = ph - off / slope
    if (!(next > low && next < high)) next = (low + high) / 2
    if (Math.abs(next - ph) < 1e-10) {
      if (next - LOWEST_PH < 1e-6 || HIGHEST_PH - next < 1e-6) break
      return next
    }
    ph = next
  }
  throw new RangeError(`phFromCarbon: no pH between 3 and 12 has alkalinity ${ta} with carbon ${dic} µmol/kg`)
}

/** Carbon (µmol/kg) of alkalinity and pH (total scale). @throws RangeError when the alkalinity is not enough for it. */
export function carbonFromPh(k: CarbonateConstants, ta: number, ph: number): number {
  const h = 10 ** -ph
  const carbonateAlkalinity = ta - (k.totalBoron * k.kb) / (k.kb + h) - (k.kw / h - h) * 1e6
  if (carbonateAlkalinity <= 0) {
    throw new RangeError(`carbonFromPh: alkalinity ${ta} µmol/kg is all spent at pH ${ph}`)
  }
  return (carbonateAlkalinity * (h * h + k.k1 * h + k.k1 * k.k2)) / (k.k1 * (h + 2 * k.k2))
}

export interface CarbonSpecies {
  readonly co2: number
  readonly hco3: number
  readonly co3: number
  readonly fco2: number
  readonly pco2: number
}
/** Ratio of fugacity to partial pressure of CO2 at one atmosphere. @source Weiss 1974 */
function fugacityFactor(tempC: number): number {
  const t = tempC + 273.15
  const virial = -1636.75 + 12.0408 * t - 0.0327957 * t * t + 3.16528e-5 * t * t * t
  return Math.exp((virial + 2 * (57.7 - 0.118 * t)) / (82.05746 * t))
}
/** The three species and the pressures, µmol/kg and µatm. */
export function carbonSpecies(k: CarbonateConstants, dic: number, ph: number, tempC: number): CarbonSpecies {
  const h = 10 ** -ph
  const denominator = h * h + k.k1 * h + k.k1 * k.k2
  const co2 = (dic * h * h) / denominator
  const fco2 = co2 / k.k0
  return {
    co2,
    hco3: (dic * k.k1 * h) / denominator,
    co3: (dic * k.k1 * k.k2) / denominator,
    fco2,
    pco2: fco2 / fugacityFactor(tempC),
  }
}

/** Dissolved CO2 (µmol/kg) in balance with air of a partial pressure (µatm). */
export const co2InBalance = (k: CarbonateConstants, pco2: number, tempC: number): number =>
  k.k0 * pco2 * fugacityFactor(tempC)

/** pH (total) and carbon of water in balance with a partial pressure of CO2. */
export function balanceWithAir(
  k: CarbonateConstants,
  ta: number,
  pco2: number,
  tempC: number,
): { readonly ph: number; readonly dic: number } {
  const co2 = co2InBalance(k, pco2, tempC)
  let low = LOWEST_PH
  let high = HIGHEST_PH
  const dicAt = (h: number) => (co2 * (h * h + k.k1 * h + k.k1 * k.k2)) / (h * h)
  for (let i = 0; i < 60; i++) {
    const ph = (low + high) / 2
    const h = 10 ** -ph
    if (alkalinityAt(k, dicAt(h), h) < ta) low = ph
    else high = ph
  }
  const ph = (low + high) / 2
  return { ph, dic: dicAt(10 ** -ph) }
}

/**
 * pH on the NBS scale minus pH on the total scale. About 0.13 in sea water at 25 °C; it fades with the salt.
 * `atSea` is an input with that default.
 */
export const NBS_MINUS_TOTAL_AT_SEA = 0.13
export const nbsOffset = (salinityPsu: number, atSea: number = NBS_MINUS_TOTAL_AT_SEA): number =>
  atSea * Math.min(1, Math.max(0, salinityPsu / 35))

/** Alkalinity in µmol/kg from dKH; `meqPerDkh` is 0.357 by the handbook. */
export const alkalinityFromDkh = (dkh: number, salinityPsu: number, tempC: number, meqPerDkh = 0.357): number =>
  (dkh * meqPerDkh * 1e6) / seawaterDensity(salinityPsu, tempC)
/** And back. */
export const dkhFromAlkalinity = (ta: number, salinityPsu: number, tempC: number, meqPerDkh = 0.357): number =>
  (ta * seawaterDensity(salinityPsu, tempC)) / (meqPerDkh * 1e6)
