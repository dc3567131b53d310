// What a sitter ticked, read and saw, as a small file that joins the record: the same file twice adds nothing.
import { CANONICAL_UNIT, toCanonical } from '../units/units.ts'
import { instantMs, instantOf } from '../time/time.ts'
import { digestOf } from './digest.ts'
import { ANALYTES } from './typedLine.ts'
import type { Analyte, Entry, KeeperRecord } from './types.ts'

export const SITTER_FORMAT = 'brinvo-sitter'
export const SITTER_VERSION = 1

export interface SitterTick {
  readonly vesselId: string
  readonly kind: 'feed' | 'look' | 'water' | 'also' | 'check'
  readonly title: string
  /** Of a meal: how it was taken; of a look: whether all was well. */
  readonly answer?: 'took' | 'tried' | 'ignored' | 'well' | 'wrong'
  readonly at: string
}
export interface SitterReading {
  readonly vesselId: string
  readonly analyte: Analyte
  readonly value: number
  readonly unit: string
  readonly at: string
}
export interface SitterNote {
  readonly vesselId: string
  readonly text: string
  readonly at: string
}
export interface SitterPicture {
  readonly vesselId: string
  readonly width: number
  readonly height: number
  /** data:image/jpeg;base64,… */
  readonly data: string
  readonly at: string
}
export interface SitterAnswer {
  readonly format: typeof SITTER_FORMAT
  readonly version: number
  readonly sheetId: string
  readonly ticks: readonly SitterTick[]
  readonly readings: readonly SitterReading[]
  readonly notes: readonly SitterNote[]
  readonly pictures: readonly SitterPicture[]
}
export interface SitterCame {
  readonly entries: readonly Entry[]
  /** Pictures by the id under which their entries look for them: data addresses. */
  readonly pictures: ReadonlyMap<string, string>
  /** What was left out, in words. */
  readonly leftOut: readonly string[]
}

const MOST_LINES = 4000
const ANSWERS = ['took', 'tried', 'ignored', 'well', 'wrong']
const KINDS = ['feed', 'look', 'water', 'also', 'check']

/** Whether a text is a sitter's file, whatever is in it. */
export const isSitterFile = (text: string): boolean => text.slice(0, 400).includes(`"${SITTER_FORMAT}"`)

/** @throws Error with a sentence where it is none, or not whole */
export function readSitterFile(text: string): SitterAnswer {
  let raw: unknown
  try {
    raw = JSON.parse(text)
  } catch {
    throw new Error('This file of a sitter is cut off or damaged: have it sent again.')
  }
  const file = raw as Partial<Record<keyof SitterAnswer, unknown>>
  if (file?.format !== SITTER_FORMAT) throw new Error('This is no file of a sitter.')
  if (typeof file.version !== 'number' || file.version > SITTER_VERSION)
    throw new Error('This file of a sitter was written by a newer version: update the program first.')
  const lists = ['ticks', 'readings', 'notes', 'pictures'] as const
  for (const name of lists) {
    if (!Array.isArray(file[name])) throw new Error(`This file of a sitter is not whole: its ${name} are missing.`)
    if (file[name].length > MOST_LINES) throw new Error(`This file of a sitter has far too many ${name}.`)
  }
  if (typeof file.sheetId !== 'string') throw new Error('This file of a sitter does not say which sheet it answers.')
  return file as SitterAnswer
}

/**
 * A sitter's answers as entries of the record. Ids are made of the sheet and what was ticked, so that a file that is opened
 * twice adds nothing. What cannot be is left out and told.
 */
export function entriesOfSitter(answer: SitterAnswer, record: KeeperRecord, nowMs: number): SitterCame {
  const { zone } = record.settings
  const leftOut: string[] = []
  const pictures = new Map<string, string>()
  const entries: Entry[] = []
  const at = (one: { readonly at?: unknown; readonly vesselId?: unknown }, what: string): string | null => {
    const vessel = typeof one.vesselId === 'string' ? record.vessels.get(one.vesselId) : undefined
    if (!vessel) leftOut.push(`${what}: of a vessel that is not here`)
    else if (typeof one.at !== 'string' || Number.isNaN(Date.parse(one.at))) leftOut.push(`${what}: without a time`)
    else if (Date.parse(one.at) > nowMs + 3_600_000) leftOut.push(`${what}: of a time still to come`)
    else if (Date.parse(one.at) < instantMs(vessel.body.startedAt))
      leftOut.push(`${what}: from before the vessel was there`)
    else return instantOf(Date.parse(one.at))
    return null
  }
  const add = (
    one: { readonly at: string; readonly vesselId: string },
    what: string,
    fields: object,
  ): string | null => {
    const when = at(one, what)
    if (when === null) return null
    const id = `sitter-${digestOf([answer.sheetId, one.vesselId, what, when, fields]).slice(4)}`
    entries.push({ id, at: when, zone, recordedAt: when, vesselId: one.vesselId, ...fields } as unknown as Entry)
    return id
  }
  for (const tick of answer.ticks) {
    const title = String(tick.title).slice(0, 160)
    if (!KINDS.includes(tick.kind) || (tick.answer !== undefined && !ANSWERS.includes(tick.answer)))
      leftOut.push(`${title}: not understood`)
    else if (tick.kind === 'feed')
      add(tick, title, {
        kind: 'meal',
        took: tick.answer === 'tried' || tick.answer === 'ignored' ? tick.answer : 'took',
        note: 'By the sitter',
      })
    else
      add(tick, title, {
        kind: 'done',
        what: title.slice(0, 120),
        note: `By the sitter${tick.answer === 'wrong' ? ': something was wrong' : tick.answer === 'well' ? ': all was well' : ''}`,
      })
  }
  for (const reading of answer.readings) {
    const about = ANALYTES[reading.analyte] as (typeof ANALYTES)[Analyte] | undefined
    const what = `${about?.word ?? String(reading.analyte)} ${reading.value}`
    const value = about === undefined ? null : canonical(about.dimension, reading)
    if (about === undefined || value === null) leftOut.push(`${what}: not understood`)
    else
      add(reading, what, {
        kind: 'reading',
        analyte: reading.analyte,
        value,
        unit: CANONICAL_UNIT[about.dimension],
        bound: 'exact',
        note: 'By the sitter',
      })
  }
  for (const note of answer.notes)
    if (typeof note.text === 'string' && note.text.trim() !== '')
      add(note, 'a note', { kind: 'note', note: `By the sitter: ${note.text.trim()}`.slice(0, 3900) })
  for (const picture of answer.pictures) {
    if (!/^data:image\/jpeg;base64,[A-Za-z0-9+/=]+$/.test(picture.data)) {
      leftOut.push('a picture: not understood')
      continue
    }
    const photoId = `sitter-${digestOf([answer.sheetId, picture.data.length, picture.data.slice(-400)]).slice(4)}`
    const id = add(picture, 'a picture', {
      kind: 'photo',
      photoId,
      mime: 'image/jpeg',
      width: picture.width,
      height: picture.height,
      bytes: Math.max(1, Math.round(picture.data.length * 0.75)),
      note: 'By the sitter',
    })
    if (id !== null) pictures.set(photoId, picture.data)
  }
  return { entries, pictures, leftOut }
}

/** A typed value in the unit of the record; null where it is no number or its unit is not known. */
function canonical(
  dimension: (typeof ANALYTES)[Analyte]['dimension'],
  { value, unit }: Pick<SitterReading, 'value' | 'unit'>,
): number | null {
  if (typeof value !== 'number' || !Number.isFinite(value)) return null
  try {
    const found = toCanonical(dimension, value, unit as never)
    return Number.isFinite(found) ? found : null
  } catch {
    return null
  }
}
