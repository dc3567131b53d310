// Numbers as the keeper wants to read them. The unit is always part of the result.
import { fromCanonical, type Dimension } from './units.ts'

/** Which units the keeper reads. */
export interface UnitPreferences {
  readonly volume: 'L' | 'US gal'
  readonly temperature: '°C' | '°F'
  readonly salinity: 'ppt' | 'SG'
  readonly alkalinity: 'dKH' | 'meq/L' | 'ppm CaCO₃'
  readonly length: 'cm' | 'in'
  /** BCP 47 tag; decides comma or point. */
  readonly locale: string
}
export const DEFAULT_PREFERENCES: UnitPreferences = {
  volume: 'L',
  temperature: '°C',
  salinity: 'ppt',
  alkalinity: 'dKH',
  length: 'cm',
  locale: 'en-GB',
}

export interface Formatted {
  readonly number: string
  readonly unit: string
  readonly text: string
}

/** Unit in which a dimension is shown under these preferences. */
export function preferredUnit(dimension: Dimension, preferences: UnitPreferences): string {
  switch (dimension) {
    case 'volume':
      return preferences.volume
    case 'temperature':
      return preferences.temperature
    case 'salinity':
      return preferences.salinity
    case 'alkalinity':
      return preferences.alkalinity
    case 'hardness':
      return 'dGH'
    case 'length':
      return preferences.length
    case 'dose-volume':
      return 'mL'
    case 'mass':
      return 'mg'
    case 'concentration':
      return 'mg/L'
    case 'strength':
      return 'mg/mL'
    case 'time':
      return 'h'
    case 'share':
      return '%'
    case 'ph':
      return 'pH'
    case 'count':
      return 'count'
    case 'rate':
      return 'L/h'
    case 'conductivity':
      return 'µS/cm'
  }
}

/** Decimals that suit a unit when nothing better is known: three significant, SG four places. */
function decimalsFor(unit: string, value: number): number {
  if (unit === 'SG') return 4
  if (unit === '°C' || unit === '°F' || unit === 'ppt' || unit === 'dKH') return 1
  const size = Math.abs(value)
  if (size === 0) return 0
  return Math.max(0, Math.min(4, 2 - Math.floor(Math.log10(size))))
}

/** Plain number in the keeper's locale, no grouping; `decimals` fixed unless `trimZeros`. */
export function formatNumber(value: number, locale: string, decimals: number, trimZeros = false): string {
  return new Intl.NumberFormat(locale, {
    useGrouping: false,
    minimumFractionDigits: trimZeros ? 0 : decimals,
    maximumFractionDigits: decimals,
  }).format(Object.is(value, -0) ? 0 : value)
}

/** Canonical value shown by preference, e.g. 25.5 °C or 77.9 °F. */
export function formatQuantity(
  value: number,
  dimension: Dimension,
  preferences: UnitPreferences,
  decimals?: number,
): Formatted {
  const unit = preferredUnit(dimension, preferences)
  const shown = fromCanonical(dimension, value, unit)
  const places = decimals ?? decimalsFor(unit, shown)
  const number = formatNumber(shown, preferences.locale, places, decimals === undefined && unit !== 'SG')
  return { number, unit, text: `${number} ${unit}` }
}

/**
 * A dose line's number as medication safety wants it: leading zero, no trailing zero, a space before the unit,
 * never µ. @source handbook 70
 */
export function formatDose(amount: number, unit: 'mL' | 'g' | 'mg' | 'drops' | 'tablets', locale: string): Formatted {
  if (unit === 'g' && amount < 0.1) return formatDose(amount * 1000, 'mg', locale)
  const number = formatNumber(amount, locale, amount < 1 ? 3 : 2, true)
  return { number, unit, text: `${number} ${unit}` }
}

/** A label in the middle of a sentence: only its first letter is lowered, a unit in it stays as it is. */
export const inSentence = (label: string): string => label.charAt(0).toLowerCase() + label.slice(1)

/** Hours as the shelf says them: "47 min", "11 h", "3 d 7 h". */
export function formatDuration(durationHours: number): string {
  const minutes = Math.round(Math.abs(durationHours) * 60)
  const sign = durationHours < 0 && minutes > 0 ? '−' : ''
  if (minutes < 60) return `${sign}${minutes} min`
  const wholeHours = Math.round(minutes / 60)
  if (wholeHours < 24) return `${sign}${wholeHours} h`
  const days = Math.floor(wholeHours / 24)
  const rest = wholeHours - days * 24
  return rest === 0 ? `${sign}${days} d` : `${sign}${days} d ${rest} h`
}
