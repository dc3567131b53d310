// Two records of one house as one: entries by their ids, documents by their versions. The same for any order of joining.
import { entryMs, instantMs } from '../time/time.ts'
import { activeEntries, documentsOf, recordOf } from './account.ts'
import { digestOf } from './digest.ts'
import type { Entry, KeeperRecord, RegisterDocument } from './types.ts'
import { conflictsOf, documentOf, versionsOf, type FieldConflict } from './versions.ts'

export interface DocumentConflict {
  readonly document: RegisterDocument
  readonly fields: readonly FieldConflict[]
}
/** Something that both sides did, told in words. */
export interface JoinNotice {
  readonly kind: 'course' | 'twice' | 'corrected' | 'moved' | 'clock'
  readonly words: string
  readonly vesselId?: string
  readonly courseId?: string
}
export interface Joined {
  readonly record: KeeperRecord
  /** Entries and documents that only the other side had, or had changed. */
  readonly cameEntries: readonly Entry[]
  readonly cameDocuments: readonly RegisterDocument[]
  readonly onlyHere: number
  readonly conflicts: readonly DocumentConflict[]
  readonly notices: readonly JoinNotice[]
  /** Nothing in the two speaks of the same thing: it may be another keeper's. */
  readonly strange: boolean
}

/** Of two entries of one id, which no program of ours writes, the one whose digest is smaller stands on both sides. */
const oneOf = (a: Entry, b: Entry): Entry => (a === b || digestOf(a) <= digestOf(b) ? a : b)
/** Whether two say the same, field by field: most of fifty thousand are the same, and told so at little cost. */
function sameEntry(a: Entry, b: Entry): boolean {
  const [one, other] = [a, b] as unknown as readonly [Record<string, unknown>, Record<string, unknown>]
  const keys = Object.keys(one)
  return (
    keys.length === Object.keys(other).length &&
    keys.every((key) => {
      const [x, y] = [one[key], other[key]]
      return x === y || (typeof x === 'object' && JSON.stringify(x) === JSON.stringify(y))
    })
  )
}
const keyOf = ({ register, id }: RegisterDocument): string => `${register}/${id}`

/** Entries of the last so many days tell what both sides did meanwhile. */
const LATELY_DAYS = 30
const DAY = 86_400_000
/** A clock may be off by this much and nobody is told, ms. */
const CLOCK_MS = 5 * 60_000

/**
 * This record and another of the same house. Settings stay this device's own. Nothing of either is lost: what cannot
 * stand beside the other stays among the versions, and is named.
 * @param nowMs instant of the joining, for what is still to come
 */
export function joinRecords(mine: KeeperRecord, theirs: KeeperRecord, nowMs: number): Joined {
  const entries = new Map(mine.entries.map((entry) => [entry.id, entry]))
  const cameEntries: Entry[] = []
  let shared = 0
  for (const entry of theirs.entries) {
    const known = entries.get(entry.id)
    if (known === undefined) {
      entries.set(entry.id, entry)
      cameEntries.push(entry)
    } else {
      shared++
      if (!sameEntry(known, entry)) entries.set(entry.id, oneOf(known, entry))
    }
  }
  const documents = new Map(documentsOf(mine).map((document) => [keyOf(document), document]))
  const cameDocuments: RegisterDocument[] = []
  for (const document of documentsOf(theirs)) {
    const key = keyOf(document)
    const known = documents.get(key)
    if (known === undefined) {
      documents.set(key, document)
      cameDocuments.push(document)
      continue
    }
    shared++
    if (JSON.stringify(known) === JSON.stringify(document)) continue
    const whole = documentOf(known.register, known.id, [...versionsOf(known), ...versionsOf(document)])
    if (digestOf(whole.body) !== digestOf(known.body)) cameDocuments.push(whole)
    documents.set(key, whole)
  }
  const record = recordOf(mine.settings, [...documents.values()], [...entries.values()])
  const conflicts = [...documents.values()].flatMap((document): DocumentConflict[] => {
    const fields = conflictsOf(document)
    return fields.length === 0 ? [] : [{ document, fields }]
  })
  const there = new Set(theirs.entries.map(({ id }) => id))
  const onlyHere = mine.entries.filter(({ id }) => !there.has(id))
  return {
    record,
    cameEntries,
    cameDocuments,
    onlyHere: onlyHere.length,
    conflicts,
    notices: noticesOf(record, onlyHere, cameEntries, nowMs),
    strange: shared === 0 && mine.entries.length + documentsOf(mine).length > 0,
  }
}

/** What both sides did with one thing while they were apart. */
function noticesOf(record: KeeperRecord, here: readonly Entry[], came: readonly Entry[], nowMs: number): JoinNotice[] {
  const found: JoinNotice[] = []
  const standing = new Set(activeEntries(record.entries).map(({ id }) => id))
  const lately = (list: readonly Entry[]) =>
    list.filter((entry) => standing.has(entry.id) && nowMs - entryMs(entry) <= LATELY_DAYS * DAY)
  const [own, other] = [lately(here), lately(came)]
  const placeOf = (id: string | undefined) => record.vessels.get(id ?? '')?.body.name ?? 'a vessel'
  const steers = (entry: Entry) => ['dose', 'done', 'change', 'tally', 'gate', 'equipment'].includes(entry.kind)
  for (const course of record.courses.values()) {
    const { startedAt, endedAt } = course.body
    if (instantMs(startedAt) > nowMs || (endedAt !== undefined && instantMs(endedAt) <= nowMs)) continue
    const of = (list: readonly Entry[]) => list.filter((entry) => entry.courseId === course.id && steers(entry))
    const [a, b] = [of(own), of(other)]
    if (a.length === 0 || b.length === 0) continue
    const doses = (list: readonly Entry[]) => list.filter(({ kind }) => kind === 'dose').length
    const dosed = doses(a) + doses(b)
    found.push({
      kind: 'course',
      vesselId: course.body.vesselId,
      courseId: course.id,
      words: `“${(course.body.protocol as { title?: string }).title ?? 'A course'}” in ${placeOf(course.body.vesselId)} was steered on both: ${a.length} here and ${b.length} there${dosed > 0 ? `, ${doses(a)} and ${doses(b)} of them doses. Test its level before the next one` : ''}.`,
    })
  }
  const stepOf = (entry: Entry) => ('step' in entry && typeof entry.step === 'string' ? entry.step : null)
  const doseSteps = new Map(own.filter(({ kind }) => kind === 'dose').map((entry) => [stepOf(entry), entry]))
  for (const entry of other) {
    const step = stepOf(entry)
    const twin = entry.kind === 'dose' && step !== null ? doseSteps.get(step) : undefined
    if (twin && entry.kind === 'dose')
      found.push({
        kind: 'twice',
        vesselId: entry.vesselId,
        words: `One step of the course in ${placeOf(entry.vesselId)} was dosed here and there. If it was poured once, strike one of the two out.`,
      })
  }
  const corrected = new Map<string, Entry>()
  for (const entry of here)
    if (entry.kind !== 'void' && entry.corrects !== undefined) corrected.set(entry.corrects, entry)
  for (const entry of came)
    if (entry.kind !== 'void' && entry.corrects !== undefined && corrected.has(entry.corrects))
      found.push({
        kind: 'corrected',
        words: `One entry was put right on both sides, each in its own way: the later correction counts.`,
        ...('vesselId' in entry && entry.vesselId !== undefined ? { vesselId: entry.vesselId } : {}),
      })
  const moved = new Map<string, Entry>()
  for (const entry of own) if (entry.kind === 'move') moved.set(entry.residentId, entry)
  for (const entry of other) {
    const twin = entry.kind === 'move' ? moved.get(entry.residentId) : undefined
    if (entry.kind !== 'move' || twin?.kind !== 'move' || twin.toVesselId === entry.toVesselId) continue
    const name = record.residents.get(entry.residentId)?.body.name ?? 'An animal'
    const last = entryMs(twin) > entryMs(entry) ? twin : entry
    found.push({
      kind: 'moved',
      words: `${name} was moved to ${placeOf(twin.toVesselId ?? undefined)} here and to ${placeOf(entry.toVesselId ?? undefined)} there. By the later one it is in ${placeOf(last.toVesselId ?? undefined)}: is it?`,
      ...(last.toVesselId === null ? {} : { vesselId: last.toVesselId }),
    })
  }
  const ahead = came.filter(
    (entry) => entryMs(entry) > nowMs + CLOCK_MS || instantMs(entry.recordedAt) > nowMs + CLOCK_MS,
  )
  if (ahead.length > 0)
    found.push({
      kind: 'clock',
      words: `${ahead.length === 1 ? 'One entry that came in is' : `${ahead.length} entries that came in are`} of a time still to come: the clock of the other device goes ahead. They count when their time comes; put them right there.`,
    })
  return found
}
