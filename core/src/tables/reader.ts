// The layout of a table: heads, blocks, titles, sections, given rows; what is left are cells that may become readings.
import { cellOf, type Cell } from './cells.ts'
import { timeText, writtenDate, type Written } from './dates.ts'
import type { GridRow } from './grid.ts'
import {
  headOf,
  plain,
  unitOf,
  type Fraction,
  type Head,
  type Named,
  type Species,
  type TableKind,
  type UnitId,
} from './heads.ts'
import type { Skipped, TableColumn } from './row.ts'
import { tableWords } from './words.ts'

const SUMMARIES = new Set(tableWords.summaries)
const GIVEN = new Set(tableWords.given)
const LIMITS = new Set(tableWords.roles.limit)

/** One cell that may become a reading, with all that is known of it. */
export interface Raw {
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
export function isHeadRow(cells: readonly string[], kind: TableKind, zone: string): boolean {
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

export class Reader {
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
