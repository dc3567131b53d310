// Reads what people type at a tank and refuses what could mean two things, with a sentence.
import { err, ok, type Result } from '../result.ts'
import { CANONICAL_UNIT, DIMENSION_WORDS, UNITS, unitOf, type Dimension, type Unit } from './units.ts'

/** What was typed, understood. `value` is canonical; `bound` says whether the kit only gave a limit. */
export interface ParsedQuantity {
  readonly dimension: Dimension
  readonly value: number
  readonly unit: string
  readonly bound: 'exact' | 'below' | 'above'
  readonly entered: { readonly text: string; readonly value: number; readonly unit: string }
}

export type ParseProblemKind =
  | 'empty'
  | 'not-a-number'
  | 'ambiguous-number'
  | 'unit-missing'
  | 'unit-unknown'
  | 'unit-of-another-kind'
  | 'out-of-range'
  | 'range-given'
export interface ParseProblem {
  readonly kind: ParseProblemKind
  /** A whole sentence for the keeper: what is wrong and what would do. */
  readonly message: string
}

export interface ParseOptions {
  readonly dimension: Dimension
  /** The unit printed beside the entry field. Without one a bare number is refused: units are never implied. */
  readonly fieldUnit?: string
  /** Canonical limits, both included. */
  readonly min?: number
  readonly max?: number
  /** Name of the field for the sentence, e.g. "Copper". */
  readonly label?: string
  /** Whether "<" and ">" make sense here (readings: yes; a tank's length: no). */
  readonly allowBound?: boolean
}

const problem = (kind: ParseProblemKind, message: string) => err<ParseProblem>({ kind, message })
const VULGAR: Readonly<Record<string, string>> = { '½': '1/2', '¼': '1/4', '¾': '3/4', '⅓': '1/3', '⅛': '1/8' }

/** Number as typed, with decimal comma or point; grouping only where it cannot be a decimal. */
export function parseNumber(text: string): Result<number, ParseProblem> {
  const raw = text.trim().replaceAll('\u2212', '-')
  if (raw === '') return problem('empty', 'Type a number.')
  const mixed = /^(-?\d+)?\s*(\d+)\/(\d+)$/.exec(raw)
  if (mixed) {
    const denominator = Number(mixed[3])
    if (denominator === 0) return problem('not-a-number', `"${text}" divides by zero.`)
    return ok(Number(mixed[1] ?? 0) + Number(mixed[2]) / denominator)
  }
  const compact = raw.replace(/(\d)[\s\u00a0'](?=\d{3}(\D|$))/g, '$1')
  if (/^-?\d+$/.test(compact) || /^-?\d*\.\d+$/.test(compact)) return ok(Number(compact))
  if (/^-?\d+\.$/.test(compact)) return ok(Number(compact))
  if (/^-?\d{1,3}(,\d{3})+\.\d+$/.test(compact)) return ok(Number(compact.replaceAll(',', '')))
  if (/^-?\d{1,3}(\.\d{3})+,\d+$/.test(compact)) return ok(Number(compact.replaceAll('.', '').replace(',', '.')))
  if (/^-?[1-9]\d{0,2},\d{3}$/.test(compact)) {
    const [whole, tail] = compact.split(',') as [string, string]
    return problem(
      'ambiguous-number',
      `"${text}" could be ${whole}.${tail} or ${whole}${tail}. Write ${whole}.${tail} or ${whole}${tail}.`,
    )
  }
  if (/^-?\d*,\d+$/.test(compact)) return ok(Number(compact.replace(',', '.')))
  if (/^-?\d+(\.\d+)?\s*(-|–|to|\.\.)\s*\d/.test(raw)) {
    return problem('range-given', `"${text}" is a range. Enter the one value you read, or its middle.`)
  }
  return problem('not-a-number', `"${text}" is not a number we can read.`)
}

/** A bare number as typed; NaN where it is empty or cannot be read, so that no comparison lets it pass. */
export function typedNumber(text: string): number {
  const read = parseNumber(text)
  return read.ok ? read.value : NaN
}

const spell = (text: string) =>
  text
    .toLowerCase()
    .replace(/[\s\u00a0]/g, '')
    .replace(/₃/g, '3')
const findUnit = (text: string, dimension: Dimension): Unit | undefined =>
  UNITS.find((unit) => unit.dimension === dimension && unit.spellings.includes(spell(text)))
const findElsewhere = (text: string, dimension: Dimension): Unit | undefined =>
  UNITS.find((unit) => unit.dimension !== dimension && unit.spellings.includes(spell(text)))

/**
 * Parses "<0.02 ppm", "1,5 mg/L", "2 tsp", "8.3 dKH", "78 °F", "1.025 SG" for one dimension.
 * @returns the canonical value with what was entered, or a problem whose message is a whole sentence.
 */
export function parseQuantity(text: string, options: ParseOptions): Result<ParsedQuantity, ParseProblem> {
  const { dimension, fieldUnit, label = 'This' } = options
  let rest = text.trim()
  for (const [glyph, plain] of Object.entries(VULGAR)) rest = rest.replace(glyph, ` ${plain}`)
  rest = rest.trim()
  if (rest === '')
    return problem('empty', `${label} is empty. Type a number${fieldUnit ? ` in ${fieldUnit}` : ' with its unit'}.`)

  let bound: ParsedQuantity['bound'] = 'exact'
  const sign = /^(<=|>=|<|>|≤|≥)\s*/.exec(rest)
  if (sign) {
    if (options.allowBound === false) {
      return problem('not-a-number', `${label} needs one value; "${text}" is only a limit.`)
    }
    bound = sign[1]!.startsWith('<') || sign[1] === '≤' ? 'below' : 'above'
    rest = rest.slice(sign[0].length)
  }

  const range = /^\d[\d.,]*\s*(-|–|\.\.|to)\s*\d/.exec(rest)
  if (range) return problem('range-given', `"${text}" is a range. Enter the one value you read, or its middle.`)
  const split = /^([-\u2212]?(?:\d[\d\s\u00a0.,']*\/\d+|[\d.,][\d.,\u00a0' ]*))\s*(.*)$/.exec(rest)
  if (!split) return problem('not-a-number', `"${text}" does not start with a number.`)
  const number = parseNumber(split[1]!)
  if (!number.ok) return number
  const unitText = split[2]!.trim()

  let unit: Unit | undefined
  if (unitText === '') {
    if (!fieldUnit) {
      if (dimension !== 'ph' && dimension !== 'count') {
        return problem(
          'unit-missing',
          `"${text}" has no unit. Add one, for example ${number.value} ${CANONICAL_UNIT[dimension]}.`,
        )
      }
      unit = unitOf(dimension, CANONICAL_UNIT[dimension])
    } else unit = unitOf(dimension, fieldUnit)
  } else {
    unit = findUnit(unitText, dimension)
    if (!unit) {
      const other = findElsewhere(unitText, dimension)
      if (other) {
        return problem(
          'unit-of-another-kind',
          `${other.id} measures ${DIMENSION_WORDS[other.dimension]}. ${label} is ${DIMENSION_WORDS[dimension]}: use ${CANONICAL_UNIT[dimension]}.`,
        )
      }
      return problem(
        'unit-unknown',
        `"${unitText}" is not a unit we know. For ${DIMENSION_WORDS[dimension]} use ${CANONICAL_UNIT[dimension]}.`,
      )
    }
  }

  if (unit.id === 'SG' && (number.value < 0.99 || number.value > 1.06)) {
    return problem(
      'out-of-range',
      `A specific gravity lies between 0.990 and 1.060; "${text}" does not. Salinity in ppt?`,
    )
  }
  const value = unit.toCanonical(number.value)
  const { min = dimension === 'temperature' ? -5 : 0, max } = options
  if (value < min) {
    return problem(
      'out-of-range',
      `${label} cannot be below ${trim(unit.fromCanonical(min))} ${unit.id}; you typed ${text.trim()}.`,
    )
  }
  if (max !== undefined && value > max) {
    return problem(
      'out-of-range',
      `${label} above ${trim(unit.fromCanonical(max))} ${unit.id} is not believable; you typed ${text.trim()}. Check the unit.`,
    )
  }
  return ok({
    dimension,
    value,
    unit: CANONICAL_UNIT[dimension],
    bound,
    entered: { text: text.trim(), value: number.value, unit: unit.id },
  })
}

const trim = (value: number) => String(Number(value.toPrecision(6)))
