// The public cases of tables, each a file and what must come of it; the runner of the command and of the unit tests.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { NAMED_IDS, readTable, type TableKind } from '../../src/tables.ts'

interface Expected {
  readonly kind: TableKind
  readonly zone: string
  readonly asks: readonly string[]
  readonly answers: Readonly<Record<string, string | number>>
  readonly readings: readonly {
    readonly at: string
    readonly analyte: string
    readonly value: number
    readonly unit: string
    readonly bound: string
  }[]
  readonly vesselColumn: boolean
  readonly skipped: readonly { readonly line: number; readonly why: string }[]
  readonly refused: boolean
}
export interface CaseResult {
  readonly name: string
  /** What is wrong, in words; none where it passes. */
  readonly faults: readonly string[]
}
/** What is later than this has not been measured yet, for every case. */
const NOW = Date.parse('2026-11-01T12:00:00Z')

const close = (a: number, b: number) => Math.abs(a - b) <= 0.005 * Math.abs(b) + 1e-12

function faultsOf(bytes: Uint8Array, expected: Expected): string[] {
  const faults: string[] = []
  const before = readTable(bytes, expected.kind, expected.zone, NOW)
  const asked = before.asks.map(({ id }) => id).sort()
  const wanted = [...expected.asks].sort()
  if (asked.join() !== wanted.join()) faults.push(`asks [${asked.join(', ')}], not [${wanted.join(', ')}]`)
  const after = readTable(bytes, expected.kind, expected.zone, NOW, expected.answers)
  if ((after.refused !== null) !== expected.refused)
    return [...faults, expected.refused ? 'is not refused' : `is refused: ${after.refused}`]
  if (expected.refused) return faults
  if (after.asks.length > 0) faults.push(`still asks ${after.asks.map(({ id }) => id).join(', ')}`)
  if (after.vesselColumn !== expected.vesselColumn) faults.push(`vesselColumn is ${after.vesselColumn}`)
  const left = [...after.readings]
  for (const want of expected.readings) {
    const i = left.findIndex(
      (got) =>
        got.analyte === want.analyte &&
        got.unit === want.unit &&
        got.bound === want.bound &&
        close(got.value, want.value) &&
        // A date alone compares the day, and no hour may be made up for it.
        want.at === (got.time === null ? got.day : `${got.day}T${got.time}`),
    )
    if (i < 0) faults.push(`lacks ${want.at} ${want.analyte} ${want.bound} ${want.value} ${want.unit}`)
    else left.splice(i, 1)
  }
  for (const got of left)
    faults.push(
      `has one more: line ${got.line} ${got.day} ${got.time} ${got.analyte} ${got.bound} ${got.value} ${got.unit}`,
    )
  for (const { line, why } of expected.skipped)
    if (!after.skipped.some((one) => one.line === line)) faults.push(`does not name line ${line} (${why})`)
  return faults
}

/**
 * Runs every case of a folder.
 *
 * @throws Error for a folder without cases, a case without its file, an id that is not known.
 */
export function runTables(folder: string): CaseResult[] {
  const names = readdirSync(folder)
    .filter((name) => name.endsWith('.expect.json'))
    .map((name) => name.slice(0, -'.expect.json'.length))
    .sort()
  if (names.length === 0) throw new Error(`${folder}: no case (NAME.expect.json) in this folder`)
  return names.map((name) => {
    const expected = JSON.parse(readFileSync(join(folder, `${name}.expect.json`), 'utf8')) as Expected
    const file = ['csv', 'tsv', 'txt'].map((end) => join(folder, `${name}.${end}`)).find((path) => existsSync(path))
    if (!file) throw new Error(`${name}: no file (csv, tsv, txt) beside it`)
    for (const { analyte } of expected.readings)
      if (!NAMED_IDS.has(analyte)) throw new Error(`${name}: no analyte “${analyte}”`)
    return { name, faults: faultsOf(readFileSync(file), expected) }
  })
}
