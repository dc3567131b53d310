// A logbook or a laboratory's report, as the file lies → readings, what is left out of which line, and what only the
// keeper can say. What hangs on an open question yields nothing until it is answered; nothing is guessed.
import { dayOf, zonedOf } from '../time/time.ts'
import { amountOf, impossible } from './amounts.ts'
import { textOf } from './bytes.ts'
import { cellOf, markOf, valueOf, type Mark } from './cells.ts'
import { orderOf, settledDate, timeText, writtenDate, type DateOrder, type Moment } from './dates.ts'
import { gridOf, type Delimiter } from './grid.ts'
import {
  headOf,
  namedById,
  NAMED_IDS,
  plain,
  unitOf,
  type Fraction,
  type Species,
  type TableKind,
  type UnitId,
} from './heads.ts'
import { isHeadRow, Reader, type Raw } from './reader.ts'
import type { Skipped, TableColumn, TableReading } from './row.ts'
import { tableWords } from './words.ts'

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

/** Sizes that settle a unit that is not named, as data: handbook 65 §4 for what a tank can hold. */
const SIZES = tableWords.sizes as Readonly<
  Record<string, readonly { readonly unit: UnitId; readonly from: number; readonly to: number }[]>
>
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
 * @param onShare told now and then which share of the work is done, 0 to 1.
 */
export function readTable(
  bytes: Uint8Array,
  kind: TableKind,
  zone: string,
  nowMs: number,
  answers: TableAnswers = {},
  onShare: (share: number) => void = () => undefined,
): TableResult {
  const text = textOf(bytes)
  if (!text.ok) return refusedWith(text.error)
  const grid = gridOf(text.value.text, (cells) =>
    isHeadRow(cells, kind, zone)
      ? cells.filter((cell) => cell !== '' && headOf(cell, kind).role !== 'unknown').length
      : 0,
  )
  if (!grid.ok) return refusedWith(grid.error, text.value.encoding)
  onShare(SHARES.parted)
  const { rows, delimiter } = grid.value
  const reader = new Reader(kind, zone)
  reader.read(rows)
  onShare(SHARES.read)
  return resolve(reader, { kind, zone, nowMs, answers, encoding: text.value.encoding, delimiter, onShare })
}
/** Shares of the work: cells parted, rows read; the rest is judging each value. Measured on 100,000 lines. */
const SHARES = { parted: 0.25, read: 0.6 } as const
/** Values between two words of how far it is. */
const EVERY = 5000

interface Setting {
  readonly kind: TableKind
  readonly zone: string
  readonly nowMs: number
  readonly answers: TableAnswers
  readonly encoding: string
  readonly delimiter: Delimiter
  readonly onShare: (share: number) => void
}

function resolve(reader: Reader, { kind, zone, nowMs, answers, encoding, delimiter, onShare }: Setting): TableResult {
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
  let judged = 0
  for (const raw of named) {
    if (++judged % EVERY === 0) onShare(SHARES.read + (1 - SHARES.read) * (judged / named.length))
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
