// The open file of everything: JSON with a schema version. Read as unknown, checked whole, then taken or refused.
import { protocolHash } from '../knowledge/protocols.ts'
import { checksumOf, FORMAT, MAX_FILE_BYTES, SCHEMA_VERSION } from './format.ts'
import type { Entry, RecordFile, RegisterDocument } from './types.ts'
import { faultOfEntry, faultOfRecordFile, faultOfRegister, faultOfSettings } from './validate.ts'

/** One step of a migration: from version n to n + 1, pure. Every released version keeps its step and a kept file. */
export type Migration = (file: Record<string, unknown>) => Record<string, unknown>
/** Index 0 lifts version 1 to 2, and so on. */
export const MIGRATIONS: readonly Migration[] = [
  // 2 adds arrivals, photographs and checks; nothing that version 1 held has changed.
  (file) => file,
  // 3 adds numbers of groups, who was in a bath, uses of one bottle and a checksum; nothing that 2 held has changed.
  (file) => file,
  // 4 adds samples for a laboratory, devices, calibrations, general hardness and dissolved solids; nothing has changed.
  (file) => file,
  // 5 adds patches in pictures, animals of a tally, since when a doser pours so, and versions written apart; nothing has changed.
  (file) => file,
]

export interface FileProblem {
  /** Where in the file, in words. */
  readonly where: string
  readonly message: string
  /** Which line it is, where leaving it out would do. */
  readonly line?: { readonly part: 'registers' | 'entries'; readonly id: string; readonly again?: true }
}
export interface FileReport {
  readonly ok: boolean
  readonly problems: readonly FileProblem[]
  /** Everything is told but the checksum: the file was changed or damaged since it was written. */
  readonly changed: boolean
  /** Courses whose copy of a protocol is not the one they were started with. */
  readonly altered: readonly string[]
  /** What was left out on request, line by line. */
  readonly leftOut: readonly FileProblem[]
  readonly file: RecordFile | null
  readonly counts: {
    readonly vessels: number
    readonly residents: number
    readonly products: number
    readonly courses: number
    readonly arrivals: number
    readonly entries: number
  }
}

const nothing = { vessels: 0, residents: 0, products: 0, courses: 0, arrivals: 0, entries: 0 }
const failed = (where: string, message: string): FileReport => ({
  ok: false,
  problems: [{ where, message }],
  changed: false,
  altered: [],
  leftOut: [],
  file: null,
  counts: nothing,
})

/** Most problems listed: enough to mend a file, not enough to drown in. */
const MOST_PROBLEMS = 50

/**
 * Reads a file's text without taking anything: a dry run. All-or-nothing: `file` is null unless every line is sound.
 * Prototype keys are refused, unknown keys are refused, references must lead somewhere.
 */
export function readFile(
  text: string,
  migrations: readonly Migration[] = MIGRATIONS,
  version: number = SCHEMA_VERSION,
  options: { readonly leaveOut?: boolean } = {},
): FileReport {
  if (text.length > MAX_FILE_BYTES)
    return failed(
      'file',
      `The file is ${Math.round(text.length / 1048576)} MB; the largest we read is ${MAX_FILE_BYTES / 1048576} MB.`,
    )
  if (text.trim() === '') return failed('file', 'The file is empty.')
  let raw: unknown
  let hostile: string | null = null
  try {
    raw = JSON.parse(text, (key, value: unknown) => {
      if (key === '__proto__' || key === 'constructor' || key === 'prototype') hostile = key
      return value
    })
  } catch (cause) {
    const tail = /[}\]]\s*$/.test(text) ? '' : ' It seems cut off at the end.'
    return failed('file', `This is not a readable record file.${tail} (${(cause as Error).message.slice(0, 120)})`)
  }
  if (hostile !== null)
    return failed('file', `The file holds the forbidden key "${String(hostile)}". It was not written by this program.`)
  if (!raw || typeof raw !== 'object' || Array.isArray(raw))
    return failed('file', 'This is JSON, but not a record file.')
  let file = raw as Record<string, unknown>
  if (file.format !== FORMAT)
    return failed('format', 'This is JSON, but not a record file: it does not say so in its first line.')
  const found = file.schemaVersion
  if (typeof found !== 'number' || !Number.isInteger(found) || found < 1)
    return failed('schemaVersion', 'The file does not say which version it is.')
  if (found > version) {
    return failed(
      'schemaVersion',
      `The file is version ${found}; this program reads up to version ${version}. Update the program first; nothing was changed.`,
    )
  }
  for (let from = found; from < version; from++) {
    const step = migrations[from - 1]
    if (!step) return failed('schemaVersion', `Version ${from} has no way up to ${version}.`)
    file = { ...step(file), schemaVersion: from + 1 }
  }
  const { checksum } = file
  const changed = found === version && typeof checksum === 'string' && checksum !== checksumOf(file as never)
  const leftOut: FileProblem[] = []
  let problems = problemsOf(file)
  // Leaving one line out may leave another without what it speaks of: until every line is sound.
  while (options.leaveOut === true && problems.length > 0 && problems.every(({ line }) => line !== undefined)) {
    leftOut.push(...problems)
    file = without(file, problems)
    problems = problemsOf(file)
  }
  if (problems.length > 0)
    return {
      ...failed('file', ''),
      problems: problems.slice(0, MOST_PROBLEMS),
      changed,
      leftOut: leftOut.slice(0, MOST_PROBLEMS),
    }
  const sound = file as unknown as RecordFile
  const count = (register: RegisterDocument['register']) =>
    sound.registers.filter((document) => document.register === register).length
  return {
    ok: true,
    problems: [],
    changed,
    altered: alteredCourses(sound.registers).map(({ id }) => id),
    leftOut,
    file: sound,
    counts: {
      vessels: count('vessel'),
      residents: count('resident'),
      products: count('product'),
      courses: count('course'),
      arrivals: count('arrival'),
      entries: sound.entries.length,
    },
  }
}

/** A file without some of its lines. */
function without(file: Record<string, unknown>, problems: readonly FileProblem[]): Record<string, unknown> {
  const keep = (part: 'registers' | 'entries') => {
    const of = problems.flatMap(({ line }) => (line?.part === part ? [line] : []))
    const gone = new Set(of.filter(({ again }) => again !== true).map(({ id }) => id))
    // Of two lines with one id the first stays.
    const doubled = new Set(of.filter(({ again }) => again === true).map(({ id }) => id))
    const seen = new Set<string>()
    return (file[part] as unknown[]).filter((item, index) => {
      const id = lineId(item, index)
      const second = doubled.has(id) && seen.has(id)
      seen.add(id)
      return !gone.has(id) && !second
    })
  }
  const { checksum: _, ...rest } = file
  return { ...rest, registers: keep('registers'), entries: keep('entries') }
}
const lineId = (item: unknown, index: number): string => {
  const id = (item as { id?: unknown } | null)?.id
  return typeof id === 'string' ? id : `#${index}`
}

/** Courses whose copy of the protocol is not what their hash says it was at the start. */
export const alteredCourses = (registers: readonly RegisterDocument[]) =>
  registers.flatMap((document) =>
    document.register === 'course' && protocolHash(document.body.protocol) !== document.body.protocolHash
      ? [document]
      : [],
  )

/** Everything that is wrong with a file, each with its line: the schema, then what it cannot say. */
function problemsOf(file: Record<string, unknown>): FileProblem[] {
  const found = schemaProblems(file)
  return found.length > 0 ? found : referenceProblems(file as unknown as RecordFile)
}

/** The validator stops at its first fault; so every entry and document is asked on its own, and each gets its line. */
function schemaProblems(file: Record<string, unknown>): FileProblem[] {
  const problems: FileProblem[] = []
  const shell = faultOfRecordFile({ ...file, registers: [], entries: [] }) ?? faultOfSettings(file.settings)
  if (shell) problems.push({ where: `file${shell.path}`, message: `${shell.message}.` })
  for (const [part, word, faultOf] of [
    ['registers', 'register', faultOfRegister],
    ['entries', 'entry', faultOfEntry],
  ] as const) {
    const list = file[part]
    if (!Array.isArray(list)) {
      problems.push({ where: part, message: 'is missing or not a list.' })
      continue
    }
    for (const [index, item] of list.entries()) {
      const fault = faultOf(item)
      const id = lineId(item, index)
      if (fault)
        problems.push({
          where: `${word} ${index + 1}${id.startsWith('#') ? '' : ` (${id.slice(0, 40)})`}${fault.path}`,
          message: `${fault.message}.`,
          line: { part, id },
        })
    }
  }
  return problems
}

/** What a schema cannot say: ids used twice, references that lead nowhere. */
function referenceProblems(file: RecordFile): FileProblem[] {
  const problems: FileProblem[] = []
  const registers = new Map<string, Set<string>>()
  for (const document of file.registers) {
    const ids = registers.get(document.register) ?? new Set()
    if (ids.has(document.id))
      problems.push({
        where: `${document.register} ${document.id}`,
        message: 'stands twice in the file.',
        line: { part: 'registers', id: document.id, again: true },
      })
    ids.add(document.id)
    registers.set(document.register, ids)
  }
  const has = (register: string, id: string | undefined) =>
    id === undefined || (registers.get(register)?.has(id) ?? false)
  const entryIds = new Set<string>()
  for (const entry of file.entries) {
    if (entryIds.has(entry.id))
      problems.push({
        where: `entry ${entry.id}`,
        message: 'stands twice in the file.',
        line: { part: 'entries', id: entry.id, again: true },
      })
    entryIds.add(entry.id)
  }
  const need = (entry: Entry, register: string, id: string | undefined) => {
    if (!has(register, id))
      problems.push({
        where: `entry ${entry.id}`,
        message: `speaks of a ${register} (${id}) that the file does not hold.`,
        line: { part: 'entries', id: entry.id },
      })
  }
  for (const entry of file.entries) {
    need(entry, 'vessel', 'vesselId' in entry ? entry.vesselId : undefined)
    need(entry, 'course', entry.courseId)
    if (entry.kind === 'dose') need(entry, 'product', entry.productId)
    if (entry.kind === 'reading') need(entry, 'instrument', entry.instrumentId)
    if (entry.kind === 'gear') need(entry, 'gear', entry.gearId)
    if (entry.kind === 'calibration') need(entry, 'instrument', entry.instrumentId)
    if (entry.kind === 'reading') need(entry, 'sample', entry.sampleId)
    if (entry.kind === 'equipment' || entry.kind === 'tally') need(entry, 'device', entry.deviceId)
    if (entry.kind === 'container') need(entry, 'arrival', entry.arrivalId)
    if (entry.kind === 'state') need(entry, 'resident', entry.residentId)
    if (entry.kind === 'tally' && entry.residentId !== undefined) need(entry, 'resident', entry.residentId)
    if (entry.kind === 'tally') for (const { residentId } of entry.animals ?? []) need(entry, 'resident', residentId)
    if (entry.kind === 'heads') need(entry, 'resident', entry.residentId)
    if (entry.kind === 'move') {
      need(entry, 'resident', entry.residentId)
      need(entry, 'vessel', entry.toVesselId ?? undefined)
    }
    const target = entry.kind === 'void' ? entry.voids : entry.corrects
    if (target !== undefined && !entryIds.has(target))
      problems.push({
        where: `entry ${entry.id}`,
        message: `corrects or voids ${target}, which the file does not hold.`,
        line: { part: 'entries', id: entry.id },
      })
  }
  for (const document of file.registers) {
    if (document.register === 'course' && !has('vessel', document.body.vesselId)) {
      problems.push({
        where: `course ${document.id}`,
        message: 'runs in a vessel that the file does not hold.',
        line: { part: 'registers', id: document.id },
      })
    }
    if (
      document.register === 'planned' &&
      document.body.vesselId !== undefined &&
      !has('vessel', document.body.vesselId)
    )
      problems.push({
        where: `planned start ${document.id}`,
        message: 'is meant for a vessel that the file does not hold.',
        line: { part: 'registers', id: document.id },
      })
    if ((document.register === 'sample' || document.register === 'device') && !has('vessel', document.body.vesselId))
      problems.push({
        where: `${document.register} ${document.id}`,
        message: 'belongs to a vessel that the file does not hold.',
        line: { part: 'registers', id: document.id },
      })
    if (document.register === 'resident' && !has('vessel', document.body.vesselId)) {
      problems.push({
        where: `resident ${document.id}`,
        message: 'lives in a vessel that the file does not hold.',
        line: { part: 'registers', id: document.id },
      })
    }
  }
  return problems
}
