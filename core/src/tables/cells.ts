// One cell: nothing, a number with what stands around it, or something that is none.
import { tableWords } from './words.ts'

export type Mark = 'point' | 'comma'
export type Bound = 'exact' | 'below' | 'above'
export type Cell =
  | { readonly kind: 'nothing' }
  /** Below what the instrument can tell, and how much that is stands elsewhere. */
  | { readonly kind: 'undetected' }
  | { readonly kind: 'not-a-number'; readonly why: string }
  | {
      readonly kind: 'number'
      readonly digits: string
      readonly bound: Bound
      readonly unit: string
      readonly negative: boolean
    }

const NOTHING = new Set(tableWords.nothing)
const UNDETECTED = new Set(tableWords.undetected)
const NUMBER = String.raw`\d(?:[\d.,'’\u2009 ]*\d)?(?:e[-+]?\d+)?`
const SHAPE = new RegExp(`^(${NUMBER}|[.,]\\d+)\\s*(.*)$`, 'i')
const TWO = new RegExp(`^${NUMBER}\\s*(?:-|–|—|to|bis|\\/|\\.\\.+|…)\\s*${NUMBER}`, 'i')

const cellMemory = new Map<string, Cell>()
/** What a cell of a table says. Formulas are never computed. Remembered: a long table says the same again and again. */
export function cellOf(text: string): Cell {
  let cell = cellMemory.get(text)
  if (cell === undefined) {
    if (cellMemory.size >= MOST_REMEMBERED) cellMemory.clear()
    cellMemory.set(text, (cell = readCell(text)))
  }
  return cell
}
/** So many texts are remembered at a time. */
export const MOST_REMEMBERED = 20_000
function readCell(text: string): Cell {
  let rest = text.replace(/\*+$/, '').trim()
  const small = rest.toLowerCase()
  if (NOTHING.has(small)) return { kind: 'nothing' }
  if (UNDETECTED.has(small)) return { kind: 'undetected' }
  if (/^#/.test(rest)) return { kind: 'not-a-number', why: `“${rest}” is an error of the spreadsheet` }
  if (
    /^[=@]/.test(rest) ||
    /^[+-]\s*[A-Za-z(]/.test(rest) ||
    /^[+-]?\s*[\d.,]+\s*[+*^]\s*[\d.,(A-Za-z]/.test(rest) ||
    /^[+-]\s*[\d.,]+\s*[-/]\s*[\d.,(]/.test(rest)
  )
    return { kind: 'not-a-number', why: `“${rest}” is a formula, and formulas are not computed` }
  let bound: Bound = 'exact'
  const prefix =
    /^(<=?|≤|>=?|≥|less than|below|under|unter|kleiner als|kleiner|more than|above|over|über|größer als|größer|mehr als)\s*/i.exec(
      rest,
    )
  if (prefix) {
    bound = /^(?:<|≤|less|below|under|unter|klein)/i.test(prefix[0]) ? 'below' : 'above'
    rest = rest.slice(prefix[0].length)
  } else rest = rest.replace(/^(?:~|≈|ca\.?|approx\.?|about)\s*(?=\d)/i, '')
  const negative = /^[-–−]\s*[\d.,]/.test(rest)
  if (negative) rest = rest.replace(/^[-–−]\s*/, '')
  rest = rest.replace(/^\+\s*(?=[\d.,])/, '')
  if (TWO.test(rest)) return { kind: 'not-a-number', why: `“${text}” is two numbers` }
  const shape = SHAPE.exec(rest)
  if (!shape) return { kind: 'not-a-number', why: `“${text}” is no number` }
  const digits = shape[1]!.replace(/[’\u2009]/g, (mark) => (mark === '’' ? "'" : ' '))
  // A lone sign of degrees names no unit.
  const unit = shape[2]!
    .replace(/^±\s*[\d.,]+\s*/, '')
    .replace(/^°$/, '')
    .trim()
  // A space or an apostrophe groups thousands or ends the number.
  if (/[ ']/.test(digits) && !/^\d{1,3}(?:[ ']\d{3})+(?:[.,]\d+)?$/.test(digits))
    return { kind: 'not-a-number', why: `“${text}” is no number` }
  return { kind: 'number', digits: digits.replace(/[ ']/g, ''), bound, unit, negative }
}

/** What the marks of one number say of the file's decimal mark: which it is, that it may be either, or nothing. */
export function markOf(digits: string): Mark | 'either' | null {
  const plain = digits.replace(/e[-+]?\d+$/i, '')
  const points = plain.split('.').length - 1
  const commas = plain.split(',').length - 1
  if (points === 0 && commas === 0) return null
  if (points > 0 && commas > 0) return plain.lastIndexOf('.') > plain.lastIndexOf(',') ? 'point' : 'comma'
  const kind: Mark = points > 0 ? 'point' : 'comma'
  const other: Mark = points > 0 ? 'comma' : 'point'
  if (points + commas > 1) return other
  const [before, after] = plain.split(/[.,]/) as [string, string]
  if (after.length !== 3 || before === '' || /^0/.test(before) || before.length > 3 || /e/i.test(digits)) return kind
  return 'either'
}

/** The number that digits spell under a decimal mark; null where they cannot be one under it. */
export function valueOf(digits: string, mark: Mark | null): number | null {
  const own = markOf(digits)
  if (own === null) return Number(digits)
  // A number that can only be read one way is read that way, whatever the rest of the file does.
  const decimal = own === 'either' ? mark : own
  if (decimal === null) return null
  const group = decimal === 'point' ? ',' : '.'
  const [whole = '', ...fraction] = digits.split(decimal === 'point' ? '.' : ',')
  if (fraction.length > 1) return null
  if (whole.includes(group) && !new RegExp(`^\\d{1,3}(?:\\${group}\\d{3})+$`).test(whole)) return null
  if (fraction[0]?.includes(group)) return null
  const value = Number(`${whole.replaceAll(group, '') || '0'}${fraction.length ? `.${fraction[0]}` : ''}`)
  return Number.isFinite(value) ? value : null
}
