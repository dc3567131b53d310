// Every unit a keeper may type or read, by dimension. Conversion happens here and at no other place.
import { LITRES_PER_US_GALLON, MEQ_PER_L_PER_DKH, MG_CACO3_PER_L_PER_DKH, ML_PER_TEASPOON } from './quantity.ts'
import { salinityFromSpecificGravity, specificGravity } from '../water/seawater.ts'

export type Dimension =
  | 'volume'
  | 'dose-volume'
  | 'mass'
  | 'concentration'
  | 'strength'
  | 'length'
  | 'temperature'
  | 'salinity'
  | 'alkalinity'
  | 'hardness'
  | 'time'
  | 'share'
  | 'ph'
  | 'count'
  | 'rate'
  | 'conductivity'

/** One unit: its id is what we print; `spellings` is what we understand, lower case, spaces removed. */
export interface Unit {
  readonly id: string
  readonly dimension: Dimension
  readonly spellings: readonly string[]
  readonly toCanonical: (value: number) => number
  readonly fromCanonical: (value: number) => number
}

const linear = (id: string, dimension: Dimension, factor: number, spellings: readonly string[]): Unit => ({
  id,
  dimension,
  spellings: [id.toLowerCase().replaceAll(' ', ''), ...spellings],
  toCanonical: (value) => value * factor,
  fromCanonical: (value) => value / factor,
})

/** The unit every stored value of a dimension is in. */
export const CANONICAL_UNIT: Readonly<Record<Dimension, string>> = {
  volume: 'L',
  'dose-volume': 'mL',
  mass: 'mg',
  concentration: 'mg/L',
  strength: 'mg/mL',
  length: 'cm',
  temperature: '°C',
  salinity: 'PSU',
  alkalinity: 'dKH',
  hardness: 'dGH',
  time: 'h',
  share: '%',
  ph: 'pH',
  count: 'count',
  rate: 'L/h',
  conductivity: 'µS/cm',
}

/** Words used in sentences: "is a strength, not a level". */
export const DIMENSION_WORDS: Readonly<Record<Dimension, string>> = {
  volume: 'a volume of water',
  'dose-volume': 'a small volume',
  mass: 'a mass',
  concentration: 'a level in water',
  strength: 'the strength of a bottle',
  length: 'a length',
  temperature: 'a temperature',
  salinity: 'a salinity',
  alkalinity: 'an alkalinity',
  hardness: 'a hardness',
  time: 'a length of time',
  share: 'a share',
  ph: 'a pH',
  count: 'a count',
  rate: 'a flow',
  conductivity: 'a conductivity',
}

/** Reference temperature of hobby hydrometers and refractometers here: 25 °C sample over 25 °C water. */
export const SG_REFERENCE_C = 25

export const UNITS: readonly Unit[] = [
  linear('L', 'volume', 1, ['l', 'litre', 'litres', 'liter', 'liters', 'ltr']),
  linear('mL', 'volume', 0.001, ['ml', 'millilitre', 'millilitres', 'milliliter', 'milliliters', 'cc']),
  linear('US gal', 'volume', LITRES_PER_US_GALLON, ['usgal', 'gal', 'gallon', 'gallons', 'usgallon', 'usgallons']),
  linear('mL', 'dose-volume', 1, ['ml', 'millilitre', 'millilitres', 'milliliter', 'milliliters', 'cc']),
  linear('L', 'dose-volume', 1000, ['l', 'litre', 'litres', 'liter', 'liters']),
  linear('tsp', 'dose-volume', ML_PER_TEASPOON, ['teaspoon', 'teaspoons']),
  linear('tbsp', 'dose-volume', 3 * ML_PER_TEASPOON, ['tablespoon', 'tablespoons']),
  linear('mg', 'mass', 1, ['milligram', 'milligrams']),
  linear('g', 'mass', 1000, ['gram', 'grams', 'gramme', 'grammes']),
  linear('kg', 'mass', 1e6, ['kilogram', 'kilograms', 'kilo', 'kilos']),
  linear('oz', 'mass', 28349.523125, ['ounce', 'ounces']),
  linear('lb', 'mass', 453592.37, ['lbs', 'pound', 'pounds']),
  linear('mg/L', 'concentration', 1, ['mgl', 'mgperl', 'mg/litre', 'mg/liter']),
  linear('ppm', 'concentration', 1, []),
  linear('µg/L', 'concentration', 0.001, ['ug/l', 'μg/l', 'mcg/l', 'ppb']),
  linear('g/L', 'concentration', 1000, ['gl', 'g/litre', 'g/liter']),
  linear('mg/US gal', 'concentration', 1 / LITRES_PER_US_GALLON, ['mg/gal', 'mg/gallon']),
  linear('mg/mL', 'strength', 1, ['mgml', 'mgperml', 'g/l']),
  linear('% w/v', 'strength', 10, ['%w/v', '%wv', '%', 'percent']),
  linear('cm', 'length', 1, ['centimetre', 'centimetres', 'centimeter', 'centimeters']),
  linear('mm', 'length', 0.1, ['millimetre', 'millimetres', 'millimeter', 'millimeters']),
  linear('in', 'length', 2.54, ['inch', 'inches', '"', '″']),
  linear('°C', 'temperature', 1, ['c', 'celsius', 'degc', 'ºc']),
  {
    id: '°F',
    dimension: 'temperature',
    spellings: ['°f', 'f', 'fahrenheit', 'degf', 'ºf'],
    toCanonical: (value) => (value - 32) / 1.8,
    fromCanonical: (value) => value * 1.8 + 32,
  },
  linear('PSU', 'salinity', 1, ['ppt', '‰', 'g/kg']),
  linear('ppt', 'salinity', 1, []),
  {
    id: 'SG',
    dimension: 'salinity',
    spellings: ['sg', 'specificgravity'],
    toCanonical: (value) => salinityFromSpecificGravity(value, SG_REFERENCE_C, SG_REFERENCE_C),
    fromCanonical: (value) => specificGravity(value, SG_REFERENCE_C, SG_REFERENCE_C),
  },
  linear('dKH', 'alkalinity', 1, ['°dkh', 'kh', '°kh']),
  linear('meq/L', 'alkalinity', 1 / MEQ_PER_L_PER_DKH, ['meq/l', 'meq', 'mmol/l']),
  linear('ppm CaCO₃', 'alkalinity', 1 / MG_CACO3_PER_L_PER_DKH, ['ppm', 'ppmcaco3', 'mg/lcaco3', 'ppmcaco₃']),
  linear('dGH', 'hardness', 1, ['°dgh', 'gh', '°gh', '°dh']),
  linear('ppm CaCO₃', 'hardness', 1 / MG_CACO3_PER_L_PER_DKH, ['ppm', 'ppmcaco3', 'mg/lcaco3', 'ppmcaco₃']),
  linear('h', 'time', 1, ['hr', 'hrs', 'hour', 'hours']),
  linear('min', 'time', 1 / 60, ['mins', 'minute', 'minutes']),
  linear('d', 'time', 24, ['day', 'days']),
  linear('%', 'share', 1, ['percent', 'pct']),
  linear('pH', 'ph', 1, ['ph']),
  linear('count', 'count', 1, ['x', 'pcs', 'animals']),
  linear('/min', 'count', 1, ['perminute', 'bpm']),
  linear('L/h', 'rate', 1, ['l/h', 'lph']),
  linear('µS/cm', 'conductivity', 1, ['us/cm', 'μs/cm', 'us', 'µs']),
  linear('mS/cm', 'conductivity', 1000, ['ms/cm', 'ms']),
]

/** The unit with this id in this dimension. @throws RangeError when there is none: a bug of ours. */
export function unitOf(dimension: Dimension, id: string): Unit {
  const found = UNITS.find((candidate) => candidate.dimension === dimension && candidate.id === id)
  if (!found) throw new RangeError(`unitOf: no unit ${id} for ${dimension}`)
  return found
}

/** Value in `unitId` as canonical, e.g. convertIn('temperature', 78, '°F') → 25.56 °C. */
export const toCanonical = (dimension: Dimension, value: number, unitId: string): number =>
  unitOf(dimension, unitId).toCanonical(value)

/** Canonical value expressed in `unitId`. */
export const fromCanonical = (dimension: Dimension, value: number, unitId: string): number =>
  unitOf(dimension, unitId).fromCanonical(value)
