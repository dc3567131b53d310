// Text → rows of cells with the line each begins on. Quotes and delimiters by a known parser.
import Papa from 'papaparse'
import { err, ok, type Result } from '../result.ts'

export interface GridRow {
  /** Line of the file, from 1, that the row begins on. */
  readonly line: number
  readonly cells: readonly string[]
}
export type Delimiter = ',' | ';' | '\t' | '|'
const DELIMITERS: readonly Delimiter[] = [';', '\t', ',', '|']

const trimmed = (cell: string): string => cell.replace(/[\u00a0\u2007\u202f]/g, ' ').trim()

/** Rows of a text under one delimiter; null where a quotation mark is never closed. */
function rowsUnder(text: string, delimiter: Delimiter, most = Infinity): GridRow[] | null {
  const rows: GridRow[] = []
  let unclosed = false
  let from = 0
  let line = 1
  Papa.parse<string[]>(text, {
    delimiter,
    newline: '\n',
    step: ({ data, errors, meta }, parser) => {
      if (errors.some(({ code }) => code === 'MissingQuotes')) unclosed = true
      rows.push({ line, cells: data.map(trimmed) })
      for (let i = from; i < meta.cursor; i++) if (text.charCodeAt(i) === 10) line++
      from = meta.cursor
      if (rows.length >= most) parser.abort()
    },
  })
  return unclosed ? null : rows
}

/**
 * Rows of a text. Of the four delimiters the one counts under which `known` finds most in a row, then the one under
 * which most rows are of one width.
 *
 * @param known how many cells of a row are words of a table's head.
 */
export function gridOf(
  text: string,
  known: (cells: readonly string[]) => number,
): Result<{ readonly rows: readonly GridRow[]; readonly delimiter: Delimiter }, string> {
  const told = /^sep=(.)\n/i.exec(text)
  const body = told ? `\n${text.slice(told[0].length)}` : text
  const sample = 400
  let best: { delimiter: Delimiter; score: number } | null = null
  for (const delimiter of DELIMITERS) {
    if (told && told[1] !== delimiter) continue
    if (!body.includes(delimiter)) continue
    const rows = rowsUnder(body, delimiter, sample)
    if (rows === null) continue
    const widths = new Map<number, number>()
    for (const { cells } of rows) if (cells.length > 1) widths.set(cells.length, (widths.get(cells.length) ?? 0) + 1)
    const alike = Math.max(0, ...widths.values()) / rows.length
    const score = Math.max(0, ...rows.map(({ cells }) => known(cells))) * 10 + alike
    if (!best || score > best.score) best = { delimiter, score }
  }
  const delimiter = best?.delimiter ?? ','
  const rows = rowsUnder(body, delimiter)
  if (rows === null)
    return err('A quotation mark is opened in this file and never closed: where its cells end cannot be told.')
  return ok({ rows, delimiter })
}
