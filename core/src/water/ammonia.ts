// Total and free ammonia. Tests report the total, a badge the free part; pH, temperature and salinity join them.
// Every pH here is on the NBS scale, the one that meters and kits are calibrated to.
import { limitOf } from '../knowledge/limits.ts'

/** A form in which ammonia is told: as nitrogen, as NH3, or as the ammonium ion. Total ammonia may be told in any. */
export type AmmoniaForm = 'nh3_n' | 'nh3' | 'nh4'

/** Molar masses, g/mol. @source IUPAC abridged atomic weights N 14.007, H 1.008 */
const MOLAR: Readonly<Record<AmmoniaForm, number>> = { nh3_n: 14.007, nh3: 17.031, nh4: 18.039 }

/** The same amount of nitrogen told in another form, mg/L. */
export const convertAmmonia = (mgPerL: number, from: AmmoniaForm, to: AmmoniaForm): number =>
  from === to ? mgPerL : (mgPerL * MOLAR[to]) / MOLAR[from]

/** pKa in fresh water. @source Emerson et al. 1975 */
export const freshAmmoniaPka = (tempC: number): number => 0.09018 + 2729.92 / (tempC + 273.15)

/** pKa in sea water; behaves as an NBS-scale value. @source Bell et al. 2007, corrigendum 2008 */
export const seaAmmoniaPka = (tempC: number, salinityPsu: number): number =>
  10.0423 - 0.0315536 * tempC + 0.003071 * salinityPsu

/** Below this salinity water is treated as fresh, PSU. */
export const FRESH_BELOW_PSU = 1

/** pKa for a water: fresh below 1 PSU, sea from there. */
export const ammoniaPka = (tempC: number, salinityPsu: number): number =>
  salinityPsu < FRESH_BELOW_PSU ? freshAmmoniaPka(tempC) : seaAmmoniaPka(tempC, salinityPsu)

/** Share of the total that is free NH3, 0..1. */
export const freeAmmoniaShare = (pKa: number, phNbs: number): number => 1 / (1 + 10 ** (pKa - phNbs))

export interface AmmoniaWater {
  readonly phNbs: number
  readonly tempC: number
  readonly salinityPsu: number
}
/** Free ammonia (mg/L as N) of a total (mg/L as N). */
export const freeFromTotal = (totalMgN: number, water: AmmoniaWater): number =>
  totalMgN * freeAmmoniaShare(ammoniaPka(water.tempC, water.salinityPsu), water.phNbs)

/** Total ammonia (mg/L as N) that holds so much free (mg/L as N): for a badge, and for a limit. */
export const totalFromFree = (freeMgN: number, water: AmmoniaWater): number =>
  freeMgN / freeAmmoniaShare(ammoniaPka(water.tempC, water.salinityPsu), water.phNbs)

export type AmmoniaBand = 'calm' | 'watch' | 'today' | 'now'
/** Bands of free ammonia-N, mg/L, lower bounds. @source handbook 10, 30 §1.5 (guidance) */
export const AMMONIA_BANDS: readonly { readonly band: AmmoniaBand; readonly fromMgN: number }[] = [
  { band: 'calm', fromMgN: 0 },
  { band: 'watch', fromMgN: limitOf('free-ammonia-watch') },
  { band: 'today', fromMgN: limitOf('free-ammonia-today') },
  { band: 'now', fromMgN: limitOf('free-ammonia-now') },
]
export const ammoniaBand = (freeMgN: number): AmmoniaBand =>
  AMMONIA_BANDS.findLast(({ fromMgN }) => freeMgN >= fromMgN)?.band ?? 'calm'
