// Sentences of the core hold litres and °C, as the record does; a keeper reads them in units of their own.
import { formatNumber, preferredUnit, type UnitPreferences } from './format.ts'
import { fromCanonical, type Dimension } from './units.ts'

const NUMBER = String.raw`\d+(?:\.\d+)?`
/** Litres, alone or as a stretch ("20 to 30 L", "67 ± 2 L"); never the litre of a strength. */
const VOLUME = new RegExp(String.raw`(?<![\d./])(${NUMBER})(?:( to |–| ± | of | and )(${NUMBER}))? L(?![\w/])`, 'g')
/** A rate of flow. */
const RATE = new RegExp(String.raw`(?<![\d./])(${NUMBER}) L/h\b`, 'g')
/**
 * A warmth or a salinity that is one: "at 25.5 °C", "meant for 22 to 28 °C". Differences ("within 1 °C", "by 0.5 °C")
 * are left as they are: a step of one degree is not 33.8 °F.
 */
const absolute = (unit: string) =>
  new RegExp(
    String.raw`\b(at|for|at least|below|above|over|under|from) (${NUMBER})(?:( to |–)(${NUMBER}))? ${unit}(?!\w)`,
    'g',
  )
const WARMTH = absolute('°C')
const SALINITY = absolute('(?:PSU|ppt)')

/**
 * A sentence with its volumes, flows, warmths and salinities in the keeper's units. Everything else stays as it is:
 * levels are mg/L everywhere, and a difference of degrees or of salinity keeps its unit. Pure.
 */
export function inKeepersUnits(text: string, preferences: UnitPreferences): string {
  const shown = (dimension: Dimension, value: string) => {
    const unit = preferredUnit(dimension, preferences)
    const number = fromCanonical(dimension, Number(value), unit)
    const places =
      unit === 'SG'
        ? 4
        : dimension === 'temperature'
          ? 1
          : Math.max(0, 2 - Math.floor(Math.log10(Math.abs(number) || 1)))
    return formatNumber(number, preferences.locale, places, unit !== 'SG')
  }
  const stretch = (dimension: Dimension) => (all: string, first: string, joint?: string, last?: string) =>
    joint === undefined || last === undefined
      ? `${shown(dimension, first)} ${preferredUnit(dimension, preferences)}`
      : `${shown(dimension, first)}${joint}${shown(dimension, last)} ${preferredUnit(dimension, preferences)}`
  let said = text
  if (preferredUnit('volume', preferences) !== 'L')
    said = said
      .replace(RATE, (_, value: string) => `${shown('volume', value)} ${preferredUnit('volume', preferences)}/h`)
      .replace(VOLUME, stretch('volume'))
  for (const [dimension, pattern, own] of [
    ['temperature', WARMTH, '°C'],
    ['salinity', SALINITY, 'ppt'],
  ] as const)
    if (preferredUnit(dimension, preferences) !== own)
      said = said.replace(pattern, (all: string, before: string, first: string, joint?: string, last?: string) =>
        before === 'for' && joint === undefined ? all : `${before} ${stretch(dimension)(all, first, joint, last)}`,
      )
  return said
}
