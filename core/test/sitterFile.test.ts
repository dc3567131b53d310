// What a sitter sends back: entries of the record, once and only once; what cannot be is told.
import { describe, expect, test } from '@jest/globals'
import {
  entriesOfSitter,
  instantOf,
  isSitterFile,
  joinRecords,
  readSitterFile,
  recordOf,
  SITTER_FORMAT,
} from '../src/index.ts'
import { faultOfEntry } from '../src/file.ts'
import { NOW, reefWith } from './reef.ts'

const record = reefWith([], [])
const HOUR = 3_600_000
const at = (hoursAgo: number) => instantOf(NOW - hoursAgo * HOUR)
const answer = (parts: object = {}) =>
  readSitterFile(
    JSON.stringify({
      format: SITTER_FORMAT,
      version: 1,
      sheetId: 'sheet-1',
      ticks: [],
      readings: [],
      notes: [],
      pictures: [],
      ...parts,
    }),
  )
const JPEG = 'data:image/jpeg;base64,/9j/4AAQSkZJRgABAQAAAQ=='

describe('a sitter’s file', () => {
  const full = answer({
    ticks: [
      { vesselId: 'reef', kind: 'feed', title: 'Feed', answer: 'tried', at: at(20) },
      { vesselId: 'reef', kind: 'look', title: 'Count: Ember', answer: 'wrong', at: at(19) },
      { vesselId: 'reef', kind: 'water', title: 'Water up to the mark', at: at(18) },
    ],
    readings: [{ vesselId: 'reef', analyte: 'temperature', value: 77, unit: '°F', at: at(17) }],
    notes: [{ vesselId: 'reef', text: ' a snail on the lid ', at: at(16) }],
    pictures: [{ vesselId: 'reef', width: 8, height: 8, data: JPEG, at: at(15) }],
  })
  test('becomes entries that the schema knows, each said to be the sitter’s', () => {
    const { entries, pictures, leftOut } = entriesOfSitter(full, record, NOW)
    expect(leftOut).toEqual([])
    expect(entries.flatMap((entry) => faultOfEntry(entry) ?? [])).toEqual([])
    expect(entries.map(({ kind, note }) => [kind, note])).toEqual([
      ['meal', 'By the sitter'],
      ['done', 'By the sitter: something was wrong'],
      ['done', 'By the sitter'],
      ['reading', 'By the sitter'],
      ['note', 'By the sitter: a snail on the lid'],
      ['photo', 'By the sitter'],
    ])
    expect(entries[0]).toMatchObject({ took: 'tried', at: at(20) })
    expect(entries[3]).toMatchObject({ value: 25, unit: '°C' })
    expect([...pictures.values()]).toEqual([JPEG])
  })
  test('opened twice adds nothing', () => {
    const [once, twice] = [entriesOfSitter(full, record, NOW), entriesOfSitter(full, record, NOW + HOUR)]
    expect(twice.entries.map(({ id }) => id)).toEqual(once.entries.map(({ id }) => id))
    const joined = joinRecords(record, recordOf(record.settings, [], once.entries), NOW)
    expect(joined.cameEntries).toHaveLength(6)
    expect(joinRecords(joined.record, recordOf(record.settings, [], twice.entries), NOW).cameEntries).toEqual([])
  })
  test('of another vessel, of a time to come or without sense is left out, and told', () => {
    const { entries, leftOut } = entriesOfSitter(
      answer({
        ticks: [
          { vesselId: 'elsewhere', kind: 'water', title: 'Water', at: at(2) },
          { vesselId: 'reef', kind: 'water', title: 'Water', at: at(-30) },
          { vesselId: 'reef', kind: 'dose', title: 'Copper', at: at(2) },
        ],
        readings: [
          { vesselId: 'reef', analyte: 'magic', value: 3, unit: 'mg/L', at: at(2) },
          { vesselId: 'reef', analyte: 'ph', value: 'eight', unit: 'pH', at: at(2) },
          { vesselId: 'reef', analyte: 'alkalinity', value: 8, unit: 'furlong', at: at(2) },
        ],
        pictures: [{ vesselId: 'reef', width: 1, height: 1, data: 'data:text/html,<script>', at: at(2) }],
      }),
      record,
      NOW,
    )
    expect(entries).toEqual([])
    expect(leftOut).toHaveLength(7)
    expect(leftOut[0]).toMatch(/vessel that is not here/)
    expect(leftOut[1]).toMatch(/time still to come/)
  })
  test.each([
    ['cut off', '{"format":"brinvo-sitter","ver', /cut off/],
    ['newer', JSON.stringify({ format: SITTER_FORMAT, version: 9 }), /newer/],
    [
      'not whole',
      JSON.stringify({ format: SITTER_FORMAT, version: 1, sheetId: 's', ticks: [] }),
      /readings are missing/,
    ],
  ])('%s is told in a sentence', (_, text, words) => {
    expect(isSitterFile(text)).toBe(true)
    expect(() => readSitterFile(text)).toThrow(words)
  })
})
