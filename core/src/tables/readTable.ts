// A logbook or a laboratory's report, as the file lies → readings, what is left out of which line, and what only the
// keeper can say. What hangs on an open question yields nothing until it is answered; nothing is guessed.
import { dayOf, zonedOf } from '../time/time.ts'
import { amountOf, impossible } from './amounts.ts'
import { textOf } from './bytes.ts'
import { cellOf, markOf, valueOf, type Bound, type Cell, type Mark } from './cells.ts'
import { orderOf, settledDate, timeText, writtenDate, type DateOrder, type Moment, type Written } from './dates.ts'
import { gridOf, type Delimiter, type GridRow } from './grid.ts'
import {
  headOf,
  namedById,
  NAMED_IDS,
  plain,
  unitOf,
  type Fraction,
  type Head,
  type Named,
  type Species,
  type TableKind,
  type UnitId,
} from './heads.ts'
import { tableWords } from './words.ts'

export interface TableReading {
  /** Line of the file it stands on, from 1. */
  readonly line: number
  /** Wall clock of the keeper's zone: the day, and the time where the file gives one. */
  readonly day: string
  readonly time: string | null
  readonly analyte: string
  readonly value: number
  readonly unit: string
  readonly bound: Bound
  /** The vessel the file names for it, as written; null where it names none. */
  readonly vessel: string | null
}
export interface TableAsk {
  /** "date-order", "unit:alkalinity", "column:Probe B" … */
  readonly id: string
  /** The question in one sentence. */
  readonly words: string
  /** What may be answered; empty where anything may be typed. */
  readonly choices: readonly string[]
  /** A few cells that it hangs on, as they are written. */
  readonly examples: readonly string[]
}
export interface Skipped {
  readonly line: number
  readonly why: string
}
export interface TableColumn {
  readonly head: string
  /** What the column is taken for, in words. */
  readonly taken: string
  readonly example: string
}
export interface TableResult {
  /** Why the whole file is not taken; null where it is. */
  readonly refused: string | null
  readonly asks: readonly TableAsk[]
  readonly readings: readonly TableReading[]
  readonly skipped: readonly Skipped[]
  readonly vesselColumn: boolean
  readonly vessels: readonly string[]
  readonly columns: readonly TableColumn[]
  readonly encoding: string
  readonly delimiter: Delimiter | null
  readonly decimal: Mark | null
}
export type TableAnswers = Readonly<Record<string, string | number>>

const SUMMARIES = new Set(tableWords.summaries)
const GIVEN = new Set(tableWords.given)
const LIMITS = new Set(tableWords.roles.limit)

/** One cell that may become a reading, with all that is known of it. */
interface Raw {
  readonly line: number
  /** The analyte, or the key of the question which it is. */
  readonly named: Named | null
  readonly ask: string | null
  readonly text: string
  readonly cell: Cell
  readonly unit: UnitId | null
  readonly species: Species | null
  readonly fraction: Fraction | null
  readonly date: string
  readonly time: string
  readonly vessel: string | null
  /** What an undetected value is below, as written, with its unit. */
  readonly limit: string
}

interface Column {
  readonly head: Head
  readonly text: string
}
interface Block {
  readonly columns: readonly Column[]
  /** Cells beyond these are more than the head has. */
  readonly width: number
  readonly long: boolean
  readonly limits: Map<number, string>
  title: string | null
}

const isDateHead = (head: Head) => head.role === 'date' || head.role === 'sampled'
function filled(cells: readonly string[]): number[] {
  const found: number[] = []
  for (let i = 0; i < cells.length; i++) if (cells[i] !== '') found.push(i)
  return found
}
const isNumber = (text: string): boolean => {
  const cell = cellOf(text)
  return cell.kind === 'number' && (cell.unit === '' || unitOf(cell.unit) !== null)
}
/** A cell that stands under a head and never in one. */
const isData = (text: string, zone: string): boolean =>
  text !== '' && (isNumber(text) || cellOf(text).kind === 'undetected' || writtenDate(text, zone) !== null)

const STRUCTURE = new Set(['date', 'sampled', 'time', 'vessel', 'sample', 'parameter', 'symbol', 'value'])
/** Words over a column of tests that are nothing else. */
const MEASURED = /^(?:parameter|analyte|test|measurement|messgrosse|substanz)$/
function isHeadRow(cells: readonly string[], kind: TableKind, zone: string): boolean {
  const first = cells.find((cell) => cell !== '')
  if (first === undefined) return false
  // Nearly every row of a long table is one of data: told by its first cells.
  if (headOf(first, kind).role !== 'parameter' && cells.some((cell) => isData(cell, zone))) return false
  const heads = cells.filter((cell) => cell !== '').map((cell) => headOf(cell, kind))
  if (heads.length < 2) return false
  const dates = cells.filter((cell) => cell !== '' && writtenDate(cell, zone) !== null).length
  // Rows of parameters, columns of days.
  if (heads[0]!.role === 'parameter' && dates >= 1 && dates >= heads.length - 2) return true
  if (cells.some((cell) => isData(cell, zone))) return false
  const known = heads.filter(({ role }) => role !== 'unknown').length
  const names = new Set(heads.flatMap((head) => (head.role === 'analyte' ? [head.named.id] : [])))
  const structure = new Set(heads.map(({ role }) => role).filter((role) => STRUCTURE.has(role)))
  // Names of elements, a column of values per sample: what their heads say is the samples' names.
  if (heads[0]!.role === 'parameter' && (kind === 'laboratory' || known > 1 || MEASURED.test(plain(first)))) return true
  return structure.size + names.size > 1 && known >= heads.length * 0.4
}
/** A line of units and species below the names. */
function isUnitRow(cells: readonly string[]): boolean {
  const some = cells.filter((cell) => cell !== '')
  return (
    some.length > 0 &&
    some.every((cell) => unitOf(cell) !== null || /^\(.*\)$|^\[.*\]$/.test(cell)) &&
    some.some((cell) => unitOf(cell) !== null)
  )
}

class Reader {
  readonly raws: Raw[] = []
  readonly skipped: Skipped[] = []
  readonly columns: TableColumn[] = []
  readonly dates: Written[] = []
  sampled: { date: string; time: string } | null = null
  metaDate: { date: string; time: string } | null = null
  vesselColumn = false
  sampleColumns = false
  readonly blocks: Block[] = []
  private block: Block | null = null
  private pending: string | null = null
  private titled = false
  private above = { date: '', time: '' }
  private vesselAbove: string | null = null
  private sectionUnit: { unit: UnitId; species: Species | null } | null = null
  private readonly kind: TableKind
  private readonly zone: string

  constructor(kind: TableKind, zone: string) {
    this.kind = kind
    this.zone = zone
  }

  skip(line: number, why: string) {
    this.skipped.push({ line, why })
  }

  read(rows: readonly GridRow[]) {
    for (const { cells } of rows)
      for (const cell of cells) {
        // Only dates of three parts with a slash or a dash can be open.
        if (!/^\D{0,12}\d{1,2}[-/]\d{1,2}[-/]\d/.test(cell)) continue
        const date = writtenDate(cell, this.zone)
        if (date?.kind === 'open') this.dates.push(date)
      }
    for (let i = 0; i < rows.length; i++) {
      const row = rows[i]!
      if (filled(row.cells).length === 0) continue
      if (isHeadRow(row.cells, this.kind, this.zone)) {
        let texts = [...row.cells]
        const next = rows[i + 1]
        if (next && isUnitRow(next.cells)) {
          texts = Array.from({ length: Math.max(texts.length, next.cells.length) }, (_, at) =>
            [texts[at] ?? '', next.cells[at] ?? ''].filter((text) => text !== '').join(' '),
          )
          i++
        }
        this.begin(texts)
        continue
      }
      this.row(row)
    }
  }

  private begin(texts: readonly string[]) {
    const columns = texts.map((text): Column => ({ head: headOf(text, this.kind), text }))
    const has = (...roles: string[]) => columns.some(({ head }) => roles.includes(head.role))
    const analytes = columns.filter(({ head }) => head.role === 'analyte').length
    const long = has('parameter', 'symbol') && (has('value') || analytes === 0)
    const last = filled(texts).at(-1) ?? -1
    const before = this.block
    // The same head again, as on a new page: the block goes on, its day and its vessel too.
    const again =
      before !== null && this.pending === null && before.columns.map(({ text }) => text).join() === texts.join()
    if (again) return
    this.block = { columns, width: last + 1, long, limits: new Map(), title: this.pending }
    this.blocks.push(this.block)
    this.pending = null
    this.titled = false
    this.above = { date: '', time: '' }
    this.vesselAbove = null
    this.sectionUnit = null
    if (has('vessel', 'sample')) this.vesselColumn = true
  }

  private row(row: GridRow) {
    const at = filled(row.cells)
    const first = row.cells[at[0]!]!
    // A row of data begins with a day or a number, and is none of a word.
    const word = /^\d/.test(first) ? '' : plain(first).replace(/:$/, '')
    const numbers = at.filter((i) => isNumber(row.cells[i]!))
    const hasDate = at.some((i) => {
      const column = this.block?.columns[i]
      return (column === undefined || isDateHead(column.head)) && writtenDate(row.cells[i]!, this.zone) !== null
    })
    if (
      !hasDate &&
      (SUMMARIES.has(word) || SUMMARIES.has(word.split(' ')[0]!)) &&
      (numbers.length > 0 || at.length > 1)
    ) {
      // In a list of elements "N" and "Min" may be anything; a row of an average has its word where the date would be.
      if (LIMITS.has(word)) this.limits(row)
      if (numbers.length > 0 || at.slice(1).some((i) => cellOf(row.cells[i]!).kind === 'not-a-number'))
        this.skip(row.line, `a row of “${first}”, not of readings`)
      return
    }
    if (!hasDate && (GIVEN.has(word) || LIMITS.has(word)) && at.length > 1) {
      if (LIMITS.has(word)) this.limits(row)
      if (numbers.length > 0) this.skip(row.line, `a row of “${first}”, not of readings`)
      return
    }
    if (at.length === 1 && numbers.length === 0 && writtenDate(first, this.zone) === null) return this.single(first)
    if (this.block?.long && at.length === 2 && headOf(first, this.kind).role === 'unknown') {
      // The heading of a section, its unit beside it.
      const unit = unitOf(row.cells[at[1]!]!)
      if (unit) {
        this.sectionUnit = unit
        return
      }
    }
    const key = at.length === 2 && numbers.length === 0 ? headOf(first, this.kind).role : 'unknown'
    if (
      this.block === null ||
      (this.block.long && at.length === 2 && !this.fits(row)) ||
      ((key === 'vessel' || key === 'sample') && !this.block.long && !hasDate)
    ) {
      if (this.pair(row, at)) return
    }
    if (this.block === null) return this.headless(row, at)
    const surplus = at.filter((i) => i >= this.block!.width)
    if (surplus.some((i) => cellOf(row.cells[i]!).kind === 'number')) {
      this.skip(row.line, 'more cells than the head has: its numbers have shifted')
      return
    }
    if (this.block.long) this.longRow(row, this.block)
    else this.wideRow(row, this.block)
  }

  /** Whether a row of two cells is one of a long table: something is named, and its value stands under the value. */
  private fits(row: GridRow): boolean {
    const { columns } = this.block!
    const value = columns.findIndex(({ head }) => head.role === 'value')
    const name = columns.findIndex(({ head }) => head.role === 'parameter' || head.role === 'symbol')
    return value >= 0 ? (row.cells[value] ?? '') !== '' && (row.cells[name] ?? '') !== '' : true
  }

  private limits(row: GridRow) {
    if (!this.block) return
    row.cells.forEach((cell, i) => i > 0 && cell !== '' && this.block!.limits.set(i, cell))
  }

  /** A line of one cell: a title, the heading of a section, or "Sampled: 3 February 2026". */
  private single(text: string) {
    const split = /^([^:]{2,40}):\s*(.+)$/.exec(text)
    if (split && this.meta(0, split[1]!, split[2]!)) return
    const unit = /[([]\s*([^)\]]+)[)\]]\s*:?$/.exec(text)?.[1] ?? /\b(?:in|,)\s+(\S+(?:\s\S+)?)\s*:?$/i.exec(text)?.[1]
    const words = text.replace(/:$/, '').split(/\s+/)
    const inside =
      (unit === undefined ? null : unitOf(unit)) ??
      (words.length > 1 ? (unitOf(words.slice(-2).join(' ')) ?? unitOf(words.at(-1)!)) : null)
    if (this.block?.long) {
      this.sectionUnit = inside
      if (inside) return
    }
    this.pending = text
    if (this.block && !this.block.long && this.raws.some(({ line }) => line > 0)) this.titled = true
  }

  /** "Sampled, 3 February 2026": what is said of the whole file. */
  private meta(line: number, key: string, value: string): boolean {
    const head = headOf(key, this.kind)
    if (isDateHead(head)) {
      const date = writtenDate(value, this.zone)
      if (date === null) return false
      if (head.role === 'sampled') this.sampled = { date: value, time: '' }
      else this.metaDate ??= { date: value, time: '' }
      return true
    }
    if (head.role === 'time' && timeText(value) !== null) {
      if (this.sampled) this.sampled = { ...this.sampled, time: value }
      else if (this.metaDate) this.metaDate = { ...this.metaDate, time: value }
      return true
    }
    if (head.role === 'vessel' || head.role === 'sample') {
      this.pending = value
      return true
    }
    if (head.role === 'analyte') {
      const cell = cellOf(value)
      if (cell.kind !== 'number' && cell.kind !== 'undetected') return false
      this.push({
        line,
        named: head.named,
        ask: null,
        text: value,
        cell,
        fraction: head.fraction,
        unit: head.named.unit,
        species: head.named.species,
        date: '',
        time: '',
        vessel: null,
        limit: '',
      })
      return true
    }
    return head.role !== 'unknown'
  }

  private pair(row: GridRow, at: readonly number[]): boolean {
    if (at.length < 2 || at.length > 3) return false
    const [key, value] = [row.cells[at[0]!]!, row.cells[at[1]!]!]
    if (writtenDate(key, this.zone) !== null) return false
    const head = headOf(key, this.kind)
    if (at.length === 3) {
      // "Sampled; 03.02.2026; 08:30" and "Na; 10880; mg/L", with nothing above that says so.
      const third = row.cells[at[2]!]!
      if (isDateHead(head) && this.meta(row.line, key, `${value} ${third}`)) return true
      const unit = unitOf(third)
      if (head.role === 'analyte' && unit && isNumber(value)) return this.meta(row.line, `${key} ${third}`, value)
      return false
    }
    return this.meta(row.line, key, value)
  }

  private moment(row: GridRow, block: { readonly columns: readonly Column[] }): { date: string; time: string } {
    const cell = (roles: readonly string[]) => {
      for (const role of roles) {
        const i = block.columns.findIndex(({ head }) => head.role === role)
        if (i >= 0) return row.cells[i] ?? ''
      }
      return ''
    }
    const date = cell(['sampled', 'date'])
    const time = cell(['time'])
    if (date === '') {
      // The date above, and its time too where the row has none of its own.
      if (time !== '' && timeText(time) !== null) return { date: this.above.date, time }
      return { ...this.above }
    }
    this.above = { date, time }
    return { date, time }
  }

  private vesselOf(row: GridRow, block: Block): string | null {
    const i = block.columns.findIndex(({ head }) => head.role === 'vessel')
    const j = i >= 0 ? i : block.columns.findIndex(({ head }) => head.role === 'sample')
    if (j < 0) {
      if (this.titled && this.pending !== null) {
        // A title between the rows of one head: another vessel begins.
        block = { ...block, title: this.pending }
        this.block = block
        this.blocks.push(block)
        this.above = { date: '', time: '' }
        this.titled = false
        this.pending = null
      } else if (block.title === null && this.pending !== null && this.blocks.at(-1) === block)
        block.title = this.pending
      return block.title
    }
    const said = row.cells[j] ?? ''
    if (said !== '') this.vesselAbove = said
    return this.vesselAbove
  }

  private push(raw: Raw) {
    this.raws.push(raw)
  }

  private wideRow(row: GridRow, block: Block) {
    const { date, time } = this.moment(row, block)
    const vessel = this.vesselOf(row, block)
    const { columns, limits } = block
    for (let i = 0; i < columns.length; i++) {
      const text = row.cells[i] ?? ''
      if (text === '') continue
      const { head, text: title } = columns[i]!
      const isNamed = head.role === 'analyte'
      if (!isNamed && !((head.role === 'unknown' || head.role === 'blank') && isNumber(text))) continue
      this.push({
        line: row.line,
        named: isNamed ? head.named : null,
        ask: isNamed ? null : head.role === 'blank' ? `column:${i + 1}` : `column:${title}`,
        text,
        cell: cellOf(text),
        unit: isNamed ? head.named.unit : null,
        species: isNamed ? head.named.species : null,
        fraction: isNamed ? head.fraction : null,
        date,
        time,
        vessel,
        limit: limits.get(i) ?? '',
      })
    }
  }

  private longRow(row: GridRow, block: Block) {
    const cells = (...roles: string[]) =>
      block.columns.flatMap(({ head }, i) => (roles.includes(head.role) && (row.cells[i] ?? '') !== '' ? [i] : []))
    const date = this.moment(row, block)
    const vessel = this.vesselOf(row, block)
    const names = cells('parameter', 'symbol')
    const name = names.find((i) => headOf(row.cells[i]!, this.kind).role === 'analyte') ?? names[0]
    if (name === undefined) return
    const text = row.cells[name]!
    const head = headOf(text, this.kind)
    if (head.role !== 'analyte' && head.role !== 'unknown') {
      // A row of the sample itself: "Sampled", "Sample".
      const value = cells('value')[0]
      if (value !== undefined) this.meta(row.line, text, row.cells[value]!)
      return
    }
    const unitCell = cells('unit').map((i) => unitOf(row.cells[i]!))[0] ?? null
    const limitAt = block.columns.findIndex((column) => column.head.role === 'limit')
    const fractionAt = block.columns.findIndex((column) => column.head.role === 'fraction')
    const fractionSaid = fractionAt < 0 ? null : fractionOf(row.cells[fractionAt] ?? '')
    const values = block.columns.flatMap((column, i) => {
      const value = row.cells[i] ?? ''
      if (value === '') return []
      if (column.head.role === 'value')
        return [
          {
            i,
            value,
            unit: column.head.unit,
            fraction: column.head.fraction,
            day: null as string | null,
            sample: null as string | null,
          },
        ]
      if (column.head.role !== 'unknown') return []
      const day = writtenDate(column.text, this.zone) === null ? null : column.text
      const some = cellOf(value)
      if (day === null && some.kind !== 'number' && some.kind !== 'undetected') return []
      return [{ i, value, unit: null, fraction: null, day, sample: day === null ? column.text : null }]
    })
    const own = values.filter(({ day, sample }) => day === null && sample === null)
    const used = own.length > 0 ? own : values
    let unitsTaken = 0
    for (const { value, unit, fraction, day, sample } of used) {
      // One value in two units is one reading.
      if (own.length > 1 && fraction === null && unitsTaken > 0) continue
      unitsTaken++
      if (sample !== null) this.sampleColumns = true
      const said = head.role === 'analyte' ? head.named : null
      this.push({
        line: row.line,
        named: said,
        ask: said ? null : `column:${text}`,
        text: value,
        cell: cellOf(value),
        unit: unit ?? unitCell?.unit ?? said?.unit ?? this.sectionUnit?.unit ?? null,
        species: unitCell?.species ?? said?.species ?? this.sectionUnit?.species ?? null,
        fraction: fraction ?? fractionSaid ?? (head.role === 'analyte' ? head.fraction : null),
        date: day ?? date.date,
        time: day === null ? date.time : '',
        vessel: sample ?? vessel,
        limit: limitAt < 0 ? '' : (row.cells[limitAt] ?? ''),
      })
    }
  }

  /** Rows without a head: a date, perhaps a time, and numbers that only the keeper can name; or a name and its value. */
  private headless(row: GridRow, at: readonly number[]) {
    const head = headOf(row.cells[at[0]!]!, this.kind)
    if (head.role === 'analyte' && at.slice(1).some((i) => isNumber(row.cells[i]!))) {
      const i = at.slice(1).find((k) => isNumber(row.cells[k]!))!
      const unit = at
        .slice(1)
        .map((k) => unitOf(row.cells[k]!))
        .find((one) => one !== null)
      const text = row.cells[i]!
      this.push({
        line: row.line,
        named: head.named,
        ask: null,
        text,
        cell: cellOf(text),
        unit: unit?.unit ?? head.named.unit,
        species: unit?.species ?? head.named.species,
        fraction: head.fraction,
        date: '',
        time: '',
        vessel: null,
        limit: '',
      })
      return
    }
    const dated = at.find((i) => writtenDate(row.cells[i]!, this.zone) !== null)
    if (dated === undefined) {
      if (at.some((i) => isNumber(row.cells[i]!))) this.skip(row.line, 'a row without a date')
      return
    }
    const timed = at.find((i) => i !== dated && /[:h]|[ap]m/i.test(row.cells[i]!) && timeText(row.cells[i]!) !== null)
    for (const i of at) {
      const text = row.cells[i]!
      if (i === dated || i === timed || !isNumber(text)) continue
      this.push({
        line: row.line,
        named: null,
        ask: `column:${i + 1}`,
        text,
        cell: cellOf(text),
        unit: null,
        species: null,
        fraction: null,
        date: row.cells[dated]!,
        time: timed === undefined ? '' : row.cells[timed]!,
        vessel: null,
        limit: '',
      })
    }
  }
}
const fractionOf = (text: string): Fraction | null =>
  /^(?:diss|filt|gel|sol)/i.test(text) ? 'dissolved' : /^(?:tot|ges|unf)/i.test(text) ? 'total' : null

const refusedWith = (why: string, encoding = '', delimiter: Delimiter | null = null): TableResult => ({
  refused: why,
  asks: [],
  readings: [],
  skipped: [],
  vesselColumn: false,
  vessels: [],
  columns: [],
  encoding,
  delimiter,
  decimal: null,
})

/** Sizes that settle a unit that is not named: handbook 65 §4 for what a tank can hold. */
const SIZES: Readonly<
  Record<string, readonly { readonly unit: UnitId; readonly from: number; readonly to: number }[]>
> = {
  alkalinity: [
    { unit: 'dKH', from: 4, to: 16 },
    { unit: 'ppm CaCO3', from: 70, to: 280 },
  ],
  salinity: [
    { unit: 'SG', from: 1, to: 1.0999 },
    { unit: 'ppt', from: 25, to: 40 },
  ],
  temperature: [
    { unit: '°C', from: 10, to: 40 },
    { unit: '°F', from: 60, to: 100 },
  ],
  gh: [{ unit: 'dGH', from: 0, to: 40 }],
}
const UNIT_CHOICES: Readonly<Record<string, readonly string[]>> = {
  alkalinity: ['dKH', 'meq/L', 'ppm CaCO3', 'by-size'],
  salinity: ['ppt', 'SG', 'mS/cm', 'by-size'],
  temperature: ['°C', '°F', 'by-size'],
  phosphate: ['mg/L', 'µg/L', 'ppb P'],
  gh: ['dGH', 'ppm CaCO3'],
  conductivity: ['mS/cm', 'µS/cm'],
}
const inside = (value: number, { from, to }: { readonly from: number; readonly to: number }) =>
  value >= from && value <= to
const answered = (text: string): { unit: UnitId; species: Species | null } | null =>
  text === 'pH'
    ? { unit: 'pH', species: null }
    : unitOf(text === 'ppm CaCO3' ? 'dkh' : text) && text === 'ppm CaCO3'
      ? { unit: 'ppm CaCO3', species: null }
      : unitOf(text)

/**
 * Reads a table.
 *
 * @param bytes the file as it lies.
 * @param kind the place where it was dropped: a logbook of readings, or a laboratory's report.
 * @param zone the keeper's time zone.
 * @param nowMs what lies after it has not been measured yet.
 * @param answers the keeper's, by the ids of the questions.
 */
export function readTable(
  bytes: Uint8Array,
  kind: TableKind,
  zone: string,
  nowMs: number,
  answers: TableAnswers = {},
): TableResult {
  const text = textOf(bytes)
  if (!text.ok) return refusedWith(text.error)
  const grid = gridOf(text.value.text, (cells) =>
    isHeadRow(cells, kind, zone)
      ? cells.filter((cell) => cell !== '' && headOf(cell, kind).role !== 'unknown').length
      : 0,
  )
  if (!grid.ok) return refusedWith(grid.error, text.value.encoding)
  const { rows, delimiter } = grid.value
  const reader = new Reader(kind, zone)
  reader.read(rows)
  return resolve(reader, { kind, zone, nowMs, answers, encoding: text.value.encoding, delimiter })
}

interface Setting {
  readonly kind: TableKind
  readonly zone: string
  readonly nowMs: number
  readonly answers: TableAnswers
  readonly encoding: string
  readonly delimiter: Delimiter
}

function resolve(reader: Reader, { kind, zone, nowMs, answers, encoding, delimiter }: Setting): TableResult {
  const asks = new Map<string, TableAsk>()
  const skipped = [...reader.skipped]
  const skip = (line: number, why: string) => skipped.push({ line, why })
  const ask = (id: string, words: string, choices: readonly string[], examples: readonly string[]) => {
    if (!asks.has(id)) asks.set(id, { id, words, choices, examples: [...new Set(examples)].slice(0, 5) })
  }
  const answer = (id: string): string | null => {
    const given = answers[id]
    return given === undefined ? null : String(given).trim()
  }

  // 1. What unknown columns are.
  const someAsk = reader.raws.some((raw) => raw.ask !== null)
  const named = !someAsk
    ? reader.raws
    : reader.raws.flatMap((raw): Raw[] => {
        if (raw.ask === null) return [raw]
        const given = answer(raw.ask)
        if (given === null) {
          const like = reader.raws.filter((other) => other.ask === raw.ask)
          ask(
            raw.ask,
            `What is “${raw.ask.slice(7)}”?`,
            ['ignore', ...NAMED_IDS],
            like.map((other) => other.text),
          )
          return [raw]
        }
        if (given === 'ignore') return []
        const what = namedById(given)
        return what ? [{ ...raw, named: what, ask: null }] : []
      })

  // 2. Vessels: a column, a title over each block, or one column of values per sample.
  const titles = reader.blocks.map(({ title }) => title)
  const byTitle =
    !reader.vesselColumn &&
    !reader.sampleColumns &&
    new Set(titles.filter((title) => title !== null).map((title) => plain(title))).size > 1 &&
    titles.every((title) => title !== null)
  const vesselColumn =
    (reader.vesselColumn && named.some(({ vessel }) => vessel !== null)) || reader.sampleColumns || byTitle
  const vesselNames = new Map<string, string>()
  if (vesselColumn)
    for (const { vessel } of named)
      if (vessel !== null && !vesselNames.has(plain(vessel))) vesselNames.set(plain(vessel), vessel)
  const vessels = [...vesselNames.values()]
  const chosen = answer('vessel')
  if (vessels.length > 1 && chosen === null) ask('vessel', 'Which vessel of this file is to be read?', vessels, vessels)

  // 3. The decimal mark of the file.
  const numbers = new Set<string>()
  for (const { cell } of named) if (cell.kind === 'number') numbers.add(cell.digits)
  const marks = [...numbers].map(markOf)
  let decimal: Mark | null = null
  const eithers = marks.includes('either')
  if (marks.includes('point') !== marks.includes('comma')) decimal = marks.includes('point') ? 'point' : 'comma'
  if (eithers && decimal === null) {
    const given = answer('decimal')
    if (given === 'point' || given === 'comma') decimal = given
    else
      ask(
        'decimal',
        'Is the mark in these numbers a decimal mark, or does it group thousands?',
        ['point', 'comma'],
        [...numbers].filter((digits) => markOf(digits) === 'either'),
      )
  }

  // 4. The order of day and month.
  let order: DateOrder = 'dmy'
  const used = new Set(named.map(({ date }) => date))
  const whole = [reader.sampled?.date, reader.metaDate?.date].filter((date) => date !== undefined)
  const open = [...used, ...whole].map((date) => writtenDate(date, zone)).filter((date) => date?.kind === 'open')
  const settled = orderOf(reader.dates)
  let orderOpen = false
  if (open.length > 0) {
    if (settled === 'ask' || settled === null) {
      const given = answer('date-order')
      if (given === 'dmy' || given === 'mdy' || given === 'ymd') order = given
      else {
        orderOpen = true
        ask(
          'date-order',
          'Which comes first in these dates?',
          ['dmy', 'mdy', 'ymd'],
          [...used].filter((date) => writtenDate(date, zone)?.kind === 'open'),
        )
      }
    } else order = settled
  }

  // 5. The day of sampling and the salinity of a laboratory's sample.
  let sampled: { date: string; time: string } | null = reader.sampled ?? reader.metaDate
  const typedDay = answer('sampled')
  if (kind === 'laboratory' && sampled === null && named.some(({ date }) => date === '')) {
    if (typedDay !== null) sampled = { date: typedDay, time: '' }
    else ask('sampled', 'On which day was the sample taken?', [], [])
  }
  if (kind === 'laboratory') {
    const of = named.filter(({ vessel }) => vessel === null || chosen === null || plain(vessel) === plain(chosen))
    const has = of.some((raw) => raw.named?.id === 'salinity' && raw.cell.kind === 'number')
    if (!has && named.some((raw) => raw.named !== null) && answer('salinity') === null)
      ask('salinity', 'What was the salinity of the sample, in ppt? Values are compared at 35.', [], [])
  }

  // 6. Which fraction of an element.
  const fractions = new Map<string, Set<Fraction>>()
  for (const raw of named)
    if (raw.named && raw.fraction) {
      const set = fractions.get(raw.named.id) ?? new Set()
      fractions.set(raw.named.id, set.add(raw.fraction))
    }
  const both = [...fractions].filter(([, set]) => set.size > 1).map(([id]) => id)
  const fraction = answer('fraction')
  if (both.length > 0 && fraction === null)
    ask('fraction', `${both.join(', ')}: total or dissolved?`, ['total', 'dissolved'], [])

  // 7. Units and species that are not said.
  const size = (raw: Raw): number | null =>
    raw.cell.kind === 'number' && !raw.cell.negative ? valueOf(raw.cell.digits, decimal) : null
  const ownUnit = (raw: Raw) => (raw.cell.kind === 'number' && raw.cell.unit !== '' ? unitOf(raw.cell.unit) : null)
  const unsaid = new Map<string, Raw[]>()
  for (const raw of named) {
    if (!raw.named || raw.unit !== null || raw.cell.kind !== 'number' || ownUnit(raw) !== null) continue
    const list = unsaid.get(raw.named.id) ?? []
    list.push(raw)
    unsaid.set(raw.named.id, list)
  }
  const units = new Map<string, UnitId | 'by-size' | 'open' | null>()
  const speciesByUnit = new Map<string, Species>()
  for (const [id, list] of unsaid) {
    const values = list.flatMap((raw) => size(raw) ?? [])
    const sizes = SIZES[id]
    const examples = list.map(({ text }) => text)
    let unit: UnitId | 'by-size' | 'open' | null = null
    if (sizes) {
      const one = sizes.find((range) => values.length > 0 && values.every((value) => inside(value, range)))
      const each = values.every((value) => sizes.some((range) => inside(value, range)))
      if (one) unit = one.unit
      else if (values.length === 0 && list.length > 0 && asks.has('decimal')) unit = 'open'
      else {
        const key = id === 'salinity' && each ? 'scale:salinity' : `unit:${id}`
        const given = answer(key)
        if (given === 'by-size') unit = 'by-size'
        else if (given !== null && answered(given)) unit = answered(given)!.unit
        else {
          unit = 'open'
          ask(
            key,
            key === 'scale:salinity'
              ? 'Salinity stands here on two scales, it seems. Which?'
              : `In which unit is ${id} written here?`,
            UNIT_CHOICES[id] ?? ['mg/L', 'µg/L'],
            examples,
          )
        }
      }
    } else if (id === 'conductivity' || (id === 'phosphate' && values.some((value) => value > 5))) {
      const given = answer(`unit:${id}`)
      const taken = given === null ? null : answered(given)
      if (taken) {
        unit = taken.unit
        if (taken.species !== null) speciesByUnit.set(id, taken.species)
      } else {
        unit = 'open'
        ask(`unit:${id}`, `In which unit is ${id} written here?`, UNIT_CHOICES[id]!, examples)
      }
    } else if (id === 'par') unit = 'µmol/m²/s'
    else if (id !== 'ph') unit = 'mg/L'
    units.set(id, unit)
  }
  const scales = new Map<string, Species | 'open'>()
  const CHOICES: Readonly<Record<string, readonly Species[]>> = {
    'ammonia-total': ['N', 'NH3', 'NH4'],
    'ammonia-free': ['N', 'NH3'],
    silicate: ['SiO2', 'Si'],
  }
  for (const raw of named) {
    if (!raw.named || raw.named.kind !== 'species' || raw.species !== null || ownUnit(raw)?.species) continue
    if (raw.cell.kind !== 'number' && raw.cell.kind !== 'undetected') continue
    const choices = CHOICES[raw.named.id]
    if (!choices) continue
    const given = answer(`scale:${raw.named.id}`)
    if (given !== null && (choices as readonly string[]).includes(given)) scales.set(raw.named.id, given as Species)
    else {
      scales.set(raw.named.id, 'open')
      ask(`scale:${raw.named.id}`, `What does “${raw.named.id}” count here?`, choices, [raw.text])
    }
  }

  // 8. Readings.
  const now = zonedOf(nowMs, zone).toString()
  const today = dayOf(nowMs, zone)
  const readings: TableReading[] = []
  const moments = new Map<string, Moment>()
  /** One object for each moment, however it is written. */
  const momentAt = (day: string, time: string | null): Moment => {
    const key = `${day} ${time}`
    let found = moments.get(key)
    if (!found) moments.set(key, (found = { day, time }))
    return found
  }
  const dated = new Map<string, Moment | 'none' | 'wrong' | 'future' | 'open'>()
  let lastDate = ''
  let lastTime = ''
  let lastMoment: Moment | 'none' | 'wrong' | 'future' | 'open' = 'none'
  const momentOf = (raw: Raw): Moment | 'none' | 'wrong' | 'future' | 'open' => {
    const own =
      raw.date !== ''
        ? { date: raw.date, time: raw.time }
        : kind === 'laboratory' || raw.line === 0 || sampled
          ? sampled
          : null
    if (!own || own.date === '') return kind === 'laboratory' && asks.has('sampled') ? 'open' : 'none'
    if (own.date === lastDate && own.time === lastTime) return lastMoment
    const key = `${own.date}\n${own.time}`
    let found = dated.get(key)
    if (found === undefined) {
      const written = writtenDate(own.date, zone)
      if (written === null) found = 'none'
      else if (written.kind === 'open' && orderOpen) found = 'open'
      else {
        const settledTo = settledDate(written, order)
        const time = own.time === '' ? null : timeText(own.time)
        if (settledTo === null) found = 'wrong'
        else {
          const moment = momentAt(settledTo.day, time ?? settledTo.time)
          found =
            moment.day > today || (moment.day === today && moment.time !== null && moment.time > now.slice(11, 16))
              ? 'future'
              : moment
        }
      }
      dated.set(key, found)
    }
    lastDate = own.date
    lastTime = own.time
    lastMoment = found
    return found
  }
  const told = new Set<string>()
  const once = (line: number, why: string) => {
    if (told.has(`${line} ${why}`)) return
    told.add(`${line} ${why}`)
    skip(line, why)
  }
  const values = new Map<string, number | null>()
  const numberOf = (digits: string): number | null => {
    let value = values.get(digits)
    if (value === undefined) values.set(digits, (value = valueOf(digits, decimal)))
    return value
  }
  /** What was read at each moment, to tell what stands there twice. */
  const kept = new Map<
    Moment,
    { readonly reading: TableReading; readonly vessel: string; readonly unit: string | null }[]
  >()
  const places = new Map<string | null, string>([[null, '']])
  const placeOf = (name: string | null): string => {
    let found = places.get(name)
    if (found === undefined) places.set(name, (found = plain(name ?? '')))
    return found
  }
  const chosenPlace = chosen === null ? '' : plain(chosen)
  for (const raw of named) {
    if (raw.cell.kind === 'nothing') continue
    const vessel = vesselColumn ? raw.vessel : null
    const place = placeOf(vessel)
    if (vesselColumn && chosen !== null && vessels.length > 1 && place !== chosenPlace) {
      if (raw.cell.kind === 'number')
        once(raw.line, vessel === null ? 'no vessel is named' : `of “${vessel}”, which was not chosen`)
      continue
    }
    const moment = momentOf(raw)
    if (moment === 'none') {
      if (raw.cell.kind === 'number') once(raw.line, raw.date === '' ? 'no date' : `“${raw.date}” is no date`)
      continue
    }
    if (moment === 'wrong') {
      once(raw.line, `“${raw.date}”: there is no such day`)
      continue
    }
    if (moment === 'future') {
      once(raw.line, `“${raw.date}” is still to come`)
      continue
    }
    if (raw.cell.kind === 'not-a-number') {
      once(raw.line, raw.cell.why)
      continue
    }
    if (raw.fraction !== null && raw.named && both.includes(raw.named.id)) {
      if (fraction === null) continue
      if (raw.fraction !== fraction) {
        once(raw.line, `the ${raw.fraction} fraction was not chosen`)
        continue
      }
    }
    if (raw.named === null || moment === 'open') continue
    if (vessels.length > 1 && chosen === null) continue
    let cell = raw.cell
    let limitUnit: { unit: UnitId; species: Species | null } | null = null
    if (cell.kind === 'undetected') {
      const limit = cellOf(raw.limit)
      if (limit.kind !== 'number') {
        once(raw.line, `“${raw.text}” without the limit it is below`)
        continue
      }
      limitUnit = limit.unit === '' ? null : unitOf(limit.unit)
      cell = { ...limit, bound: 'below' }
    }
    if (cell.negative) {
      once(raw.line, `“${raw.text}” is below nothing`)
      continue
    }
    const value = numberOf(cell.digits)
    if (value === null) {
      if (!asks.has('decimal')) once(raw.line, `“${raw.text}” is no number`)
      continue
    }
    const own = limitUnit ?? (cell.unit === '' ? null : unitOf(cell.unit))
    if (cell.unit !== '' && own === null) {
      once(raw.line, `“${raw.text}”: what follows the number is no unit`)
      continue
    }
    let unit: UnitId | 'by-size' | 'open' | null = own?.unit ?? raw.unit
    if (unit === null)
      unit =
        units.get(raw.named.id) ?? (raw.named.kind === 'ph' ? null : raw.named.kind === 'temperature' ? '°C' : 'mg/L')
    const scale =
      own?.species ??
      (raw.unit === null ? speciesByUnit.get(raw.named.id) : null) ??
      raw.species ??
      scales.get(raw.named.id) ??
      null
    if (unit === 'open' || scale === 'open') continue
    if (unit === 'by-size') {
      const range = SIZES[raw.named.id]!.find((one) => inside(value, one))
      if (!range) {
        once(raw.line, `“${raw.text}” fits none of the units by its size`)
        continue
      }
      unit = range.unit
    }
    const amount = amountOf(raw.named, value, unit, scale)
    if (amount === null || !Number.isFinite(amount.value)) {
      once(raw.line, `“${raw.text}” cannot be turned into the unit that ${raw.named.id} is kept in`)
      continue
    }
    const cannot = impossible(raw.named.id, amount)
    if (cannot !== null) {
      once(raw.line, `“${raw.text}”: ${cannot}`)
      continue
    }
    const reading: TableReading = {
      line: raw.line,
      day: moment.day,
      time: moment.time,
      analyte: raw.named.id,
      value: amount.value,
      unit: amount.unit,
      bound: cell.bound,
      vessel,
    }
    let same = kept.get(moment)
    if (!same) kept.set(moment, (same = []))
    let before = 0
    let twin = false
    for (const one of same) {
      if (one.reading.analyte !== reading.analyte || one.reading.bound !== reading.bound) continue
      if (one.vessel !== place) continue
      const equal = Math.abs(one.reading.value - reading.value) <= 1e-6 * Math.max(1, reading.value)
      if (one.reading.line !== raw.line) before = equal ? one.reading.line : before
      // The same thing in two columns of one row, in two units: one reading.
      else if (
        equal ||
        (one.unit !== unit &&
          Math.abs(one.reading.value - reading.value) <= 0.02 * Math.max(one.reading.value, reading.value))
      )
        twin = true
    }
    if (twin) continue
    if (before > 0) {
      once(raw.line, `repeats line ${before}`)
      continue
    }
    same.push({ reading, vessel: place, unit })
    readings.push(reading)
  }
  const columns = columnsOf(reader)
  if (readings.length === 0 && asks.size === 0)
    return {
      ...refusedWith(
        'Nothing in this file is a reading: no value stands under or beside a name with a day.',
        encoding,
        delimiter,
      ),
      skipped,
    }
  return {
    refused: null,
    asks: [...asks.values()],
    readings,
    skipped: skipped.sort((a, b) => a.line - b.line),
    vesselColumn,
    vessels,
    columns,
    encoding,
    delimiter,
    decimal,
  }
}

const ROLE_WORDS: Readonly<Record<string, string>> = {
  date: 'the day',
  sampled: 'the day of sampling',
  time: 'the time',
  otherDate: 'another date, left out',
  vessel: 'the vessel',
  sample: 'the sample',
  parameter: 'what was measured',
  symbol: 'what was measured',
  value: 'the value',
  unit: 'the unit',
  limit: 'the limit of the method',
  fraction: 'the fraction',
  note: 'notes, left out',
  ignored: 'left out',
  given: 'given values, left out',
  unknown: 'not known',
  blank: '',
}
function columnsOf(reader: Reader): TableColumn[] {
  const first = reader.blocks[0]
  if (!first) return []
  return first.columns
    .filter(({ text }) => text !== '')
    .map(({ head, text }) => ({
      head: text,
      taken:
        head.role === 'analyte'
          ? [head.named.id, head.named.unit, head.named.species].filter((part) => part !== null).join(', ')
          : (ROLE_WORDS[head.role] ?? ''),
      example: reader.raws.find((raw) => head.role === 'analyte' && raw.named?.id === head.named.id)?.text ?? '',
    }))
}
