// Branded quantities: a number that knows its unit, so that millilitres handed over for litres do not compile.

declare const unit: unique symbol
/** A number branded with its unit. Arithmetic drops the brand; restore it on the last line. */
export type Quantity<U extends string> = number & { readonly [unit]: U }

export type Litres = Quantity<'L'>
export type Millilitres = Quantity<'mL'>
export type Milligrams = Quantity<'mg'>
export type Grams = Quantity<'g'>
export type MgPerL = Quantity<'mg/L'>
export type MgPerMl = Quantity<'mg/mL'>
export type Centimetres = Quantity<'cm'>
export type Hours = Quantity<'h'>
export type Celsius = Quantity<'°C'>
export type Psu = Quantity<'PSU'>
export type Fraction = Quantity<'fraction'>
/** Milliseconds since 1970-01-01T00:00Z. */
export type EpochMs = Quantity<'epoch ms'>

function atLeastZero(value: number, name: string): number {
  if (!Number.isFinite(value) || value < 0) throw new RangeError(`${name}: must be a finite number >= 0, got ${value}`)
  return value
}
function finite(value: number, name: string): number {
  if (!Number.isFinite(value)) throw new RangeError(`${name}: must be a finite number, got ${value}`)
  return value
}

/** @throws RangeError unless finite and >= 0 (this holds for every constructor here but celsius and epochMs). */
export const litres = (value: number) => atLeastZero(value, 'litres') as Litres
export const millilitres = (value: number) => atLeastZero(value, 'millilitres') as Millilitres
export const milligrams = (value: number) => atLeastZero(value, 'milligrams') as Milligrams
export const grams = (value: number) => atLeastZero(value, 'grams') as Grams
export const mgPerL = (value: number) => atLeastZero(value, 'mgPerL') as MgPerL
export const mgPerMl = (value: number) => atLeastZero(value, 'mgPerMl') as MgPerMl
export const centimetres = (value: number) => atLeastZero(value, 'centimetres') as Centimetres
export const hours = (value: number) => atLeastZero(value, 'hours') as Hours
export const psu = (value: number) => atLeastZero(value, 'psu') as Psu
export const celsius = (value: number) => finite(value, 'celsius') as Celsius
export const epochMs = (value: number) => finite(value, 'epochMs') as EpochMs

/** A share of a whole. @throws RangeError outside 0..1. */
export function fraction(value: number): Fraction {
  if (!(value >= 0 && value <= 1)) throw new RangeError(`fraction: must be between 0 and 1, got ${value}`)
  return value as Fraction
}

/** Litres in one US liquid gallon. Exact: 231 in³ × (2.54 cm/in)³ ÷ 1000. @source NIST Handbook 44, Appendix C. */
export const LITRES_PER_US_GALLON = 3.785411784
/** Millilitres in a US teaspoon: a US gallon is 768 teaspoons. @source NIST Handbook 44, Appendix C. */
export const ML_PER_TEASPOON = (LITRES_PER_US_GALLON * 1000) / 768
/** Centimetres in one inch, exact by definition. */
export const CM_PER_INCH = 2.54
/** meq/L in one German degree of carbonate hardness. @source handbook 10; 65.1 gives 0.35665, 0.1 % lower. */
export const MEQ_PER_L_PER_DKH = 0.357
/** mg/L as CaCO₃ in one dKH, consistent with MEQ_PER_L_PER_DKH (0.357 meq × 50 mg/meq). */
export const MG_CACO3_PER_L_PER_DKH = 17.85
export const MS_PER_HOUR = 3_600_000
export const HOURS_PER_DAY = 24
