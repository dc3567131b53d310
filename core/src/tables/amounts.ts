// A value in the unit it was written in → the one unit its analyte is kept in (handbook 65 §1).
import { salinityFromConductivity } from '../water/salinity.ts'
import { salinityFromSpecificGravity } from '../water/seawater.ts'
import { saidSpecies, type Named, type Species, type UnitId } from './heads.ts'

export interface Amount {
  readonly value: number
  readonly unit: string
}
/** Handbook 65 §1: mg/L of one species → mg/L of the one that is kept. */
const SPECIES: Readonly<Record<string, Partial<Record<Species, number>>>> = {
  'ammonia-total': { N: 1, NH3: 0.8224, NH4: 0.7765 },
  'ammonia-free': { N: 1, NH3: 0.8224 },
  nitrite: { NO2: 1, 'NO2-N': 3.284 },
  nitrate: { NO3: 1, 'NO3-N': 4.427 },
  phosphate: { PO4: 1, P: 3.066 },
  silicate: { SiO2: 1, Si: 2.139 },
  calcium: { CaCO3: 0.4004 },
  magnesium: { CaCO3: 0.2428 },
  potassium: { K2O: 0.8302 },
  Si: { Si: 1, SiO2: 1 / 2.139 },
}
const MG_PER_L: Partial<Record<UnitId, number>> = {
  'mg/L': 1,
  'µg/L': 0.001,
  'g/L': 1000,
  // At 35 ppt and 25 °C a kilogram of water is 1 / 1.023 L.
  'mg/kg': 1.023,
  'µg/kg': 0.001023,
}
const DKH: Partial<Record<UnitId, number>> = { dKH: 1, 'meq/L': 2.804, 'ppm CaCO3': 1 / 17.848, 'mg/L': 1 / 17.848 }
const DGH: Partial<Record<UnitId, number>> = {
  dGH: 1,
  // "°dH" alone names degrees, of the hardness its column is of.
  dKH: 1,
  'ppm CaCO3': 1 / 17.848,
  'mg/L': 1 / 17.848,
}

/**
 * The canonical amount; null where the unit cannot be one of this analyte.
 *
 * @param unit null where a unit goes without saying (pH).
 */
export function amountOf(named: Named, value: number, unit: UnitId | null, species: Species | null): Amount | null {
  const times = (factor: number | undefined, canonical: string): Amount | null =>
    factor === undefined ? null : { value: value * factor, unit: canonical }
  switch (named.kind) {
    case 'ph':
      return unit === null || unit === 'pH' ? { value, unit: 'pH' } : null
    case 'temperature':
      return unit === '°F' ? { value: (value - 32) / 1.8, unit: '°C' } : times(unit === '°C' ? 1 : undefined, '°C')
    case 'salinity':
      if (unit === 'SG')
        return value < 0.99 || value > 1.08 ? null : { value: salinityFromSpecificGravity(value, 25, 25), unit: 'ppt' }
      if (unit === 'mS/cm') return { value: salinityFromConductivity(value, 25), unit: 'ppt' }
      if (unit === 'µS/cm') return { value: salinityFromConductivity(value / 1000, 25), unit: 'ppt' }
      return times(unit === 'ppt' || unit === 'g/L' ? 1 : undefined, 'ppt')
    case 'alkalinity':
      return times(unit === null ? undefined : DKH[unit], 'dKH')
    case 'hardness':
      return times(unit === null ? undefined : DGH[unit], 'dGH')
    case 'conductivity':
      return times(unit === 'mS/cm' ? 1 : unit === 'µS/cm' ? 0.001 : undefined, 'mS/cm')
    case 'light':
      return unit === 'lux'
        ? { value, unit: 'lux' }
        : times(unit === null || unit === 'µmol/m²/s' ? 1 : undefined, 'µmol/m²/s')
    default: {
      const said = saidSpecies(named, species)
      const factors = SPECIES[named.id]
      const share = said === null ? 1 : (factors?.[said] ?? (said === named.id ? 1 : undefined))
      const concentration = unit === null ? 1 : unit === 'ppm CaCO3' && factors?.CaCO3 ? 1 : MG_PER_L[unit]
      return share === undefined ? null : times(concentration === undefined ? undefined : concentration * share, 'mg/L')
    }
  }
}

/** Why an amount cannot be; null where it can. */
export function impossible(id: string, { value }: Amount): string | null {
  if (value < 0) return id === 'temperature' ? 'no tank is below freezing' : 'it comes to less than nothing'
  if (id === 'ph' && value > 14) return 'no pH is over 14'
  if (id === 'temperature' && value > 50) return 'no tank is over 50 °C'
  if (id === 'salinity' && value > 100) return 'no water of a tank is over 100 ppt'
  return null
}
