// Readings of a table: what of it the record takes, what it has already, and what is left out and why.
import { ANALYTES, analyteWord } from '../record/typedLine.ts'
import type { Analyte } from '../record/types.ts'
import { ask, warn, type Refusal } from '../safety/refusal.ts'
import { atHourOfDay, dayOf, entryMs, instantMs } from '../time/time.ts'
import { CANONICAL_UNIT } from '../units/units.ts'
import { answerOf, problemAnswer } from './answer.ts'
import { plausibleRange } from './plausible.ts'
import type { TableRow } from '../tables/row.ts'
import type { ActAnswer, ActContext, Draft, TableIntent } from './types.ts'

/** A value of a table in the unit the record keeps: conductivity stands there in µS/cm. */
const inRecord = ({ analyte, value, unit }: TableRow): number =>
  analyte === 'conductivity' && unit === 'mS/cm' ? value * 1000 : value
/** Instant of a row; noon of its day where the table gives no hour. */
function atOf({ day, time }: TableRow, zone: string, nowMs: number): number {
  if (time === null) return Math.min(atHourOfDay(day, 12, zone), nowMs)
  const [hour = 0, minute = 0] = time.split(':').map(Number)
  return atHourOfDay(day, hour + minute / 60, zone)
}
const plural = (n: number, word: string) => `${n} ${word}${n === 1 ? '' : 's'}`
const sentence = (words: string) => words.charAt(0).toUpperCase() + words.slice(1)
const listed = (words: readonly string[]) =>
  `${words.slice(0, 3).join('; ')}${words.length > 3 ? ` and ${words.length - 3} more` : ''}`

/**
 * The readings of a table for a vessel. Left out and told: what the record keeps no place for, what it has already (same
 * minute, or same day where either gives no hour), what is older than the vessel, and levels of a drug without their
 * hour, which would move a course's clock by a guess.
 */
export function tableAct(context: ActContext, intent: TableIntent): ActAnswer {
  const { record, active, nowMs } = context
  const vessel = record.vessels.get(intent.vesselId)
  if (!vessel) return problemAnswer('That vessel is not on the shelf.')
  if (intent.rows.length === 0) return problemAnswer('There is no reading in this table yet.')
  const { zone } = record.settings
  const sinceMs = instantMs(vessel.body.startedAt)
  const known = new Set<string>()
  const dayOnly = new Set<string>()
  const keyOf = (analyte: string, value: number, bound: string) => `${analyte} ${bound} ${Number(value.toPrecision(4))}`
  for (const entry of active) {
    if (entry.kind !== 'reading' || entry.vesselId !== vessel.id) continue
    const key = keyOf(entry.analyte, entry.value, entry.bound)
    const ms = entryMs(entry)
    known.add(`${key} ${dayOf(ms, zone)}`)
    known.add(`${key} ${Math.floor(ms / 60_000)}`)
    if (entry.dayOnly) dayOnly.add(`${key} ${dayOf(ms, zone)}`)
  }
  const drafts: Draft[] = []
  const unkept = new Set<string>()
  const odd: string[] = []
  let already = 0
  let older = 0
  let hourless = 0
  let ahead = 0
  for (const row of intent.rows) {
    if (!(row.analyte in ANALYTES)) {
      unkept.add(row.analyte)
      continue
    }
    const analyte = row.analyte as Analyte
    const value = inRecord(row)
    const atMs = atOf(row, zone, nowMs)
    if (analyte === 'copper' && row.time === null) {
      hourless++
      continue
    }
    if (atMs > nowMs) {
      ahead++
      continue
    }
    // A day without an hour is no older than the vessel where its day is not.
    if (row.time === null ? row.day < dayOf(sinceMs, zone) : atMs < sinceMs) {
      older++
      continue
    }
    const key = keyOf(analyte, value, row.bound)
    const day = `${key} ${row.day}`
    if (row.time === null ? known.has(day) : known.has(`${key} ${Math.floor(atMs / 60_000)}`) || dayOnly.has(day)) {
      already++
      continue
    }
    const range = plausibleRange(analyte, vessel.body.water)
    if (range && row.bound === 'exact' && (value < range.min - 1e-9 || value > range.max + 1e-9)) {
      odd.push(`line ${row.line}: ${analyteWord(analyte)} ${Number(value.toPrecision(4))} ${ANALYTES[analyte].unit}`)
      if (intent.withoutUnlikely) continue
    }
    drafts.push({
      kind: 'reading',
      vesselId: vessel.id,
      atMs: row.time === null ? Math.max(atMs, sinceMs) : atMs,
      analyte,
      value,
      unit: CANONICAL_UNIT[ANALYTES[analyte].dimension],
      bound: row.bound,
      ...(row.time === null ? { dayOnly: true } : {}),
      table: { file: intent.file.slice(0, 120), line: row.line },
    } as unknown as Draft)
  }
  const found: Refusal[] = []
  if (odd.length > 0 && intent.withoutUnlikely)
    found.push(warn('unlikely-out', `${sentence(listed(odd))}: left out, no such water has it.`))
  if (odd.length > 0 && !intent.withoutUnlikely)
    found.push(
      ask(
        'implausible',
        `${sentence(listed(odd))}: hard to believe in ${vessel.body.name}. Another unit, a slip, or really so?`,
      ),
    )
  if (older > 0)
    found.push(
      warn(
        'time-before-vessel',
        `${plural(older, 'reading')} from before ${dayOf(sinceMs, zone)} stay out: ${vessel.body.name} is said to run since then. Correct that on its page, and they can be taken too.`,
      ),
    )
  if (hourless > 0)
    found.push(
      warn(
        'copper-hour',
        `${plural(hourless, 'reading')} of copper stay out: the table gives no hour, and a course’s clock hangs on it.`,
      ),
    )
  if (ahead > 0) found.push(warn('time-future', `${plural(ahead, 'reading')} of a time still to come stay out.`))
  if (unkept.size > 0)
    found.push(warn('unkept', `The record has no place for ${[...unkept].join(', ')} yet: these stay out.`))
  if (already > 0) found.push(warn('twice', `${plural(already, 'reading')} are on record already and stay out.`))
  if (drafts.length === 0)
    return { ...problemAnswer('Nothing of this table is new.'), refusals: found.filter(({ level }) => level !== 'ask') }
  return answerOf({ found, drafts, said: `${plural(drafts.length, 'reading')} taken from ${intent.file}.` })
}
