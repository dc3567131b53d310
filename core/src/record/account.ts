// From everything ever entered to what counts: corrections replace, voids remove, nothing is deleted.
import { entryMs, instantMs } from '../time/time.ts'
import type { Entry, KeeperRecord, RegisterDocument, Settings } from './types.ts'

export type EntryStatus = 'active' | 'corrected' | 'voided'

/** Order of the ledger: by instant, then by id. */
export const compareEntries = (a: Entry, b: Entry): number =>
  a.at < b.at ? -1 : a.at > b.at ? 1 : a.id < b.id ? -1 : a.id > b.id ? 1 : 0

/**
 * Status of every entry. A void that is itself voided has no effect, and a correction that was voided gives its
 * original back; so undo can be undone. Cycles (only a damaged file has them) count as active.
 */
export function entryStatuses(entries: readonly Entry[]): Map<string, EntryStatus> {
  const voiders = new Map<string, Entry[]>()
  const correctors = new Map<string, Entry[]>()
  for (const entry of entries) {
    if (entry.kind === 'void') push(voiders, entry.voids, entry)
    else if (entry.corrects !== undefined) push(correctors, entry.corrects, entry)
  }
  const known = new Map<string, EntryStatus>()
  const open = new Set<string>()
  const status = (entry: Entry): EntryStatus => {
    const found = known.get(entry.id)
    if (found) return found
    if (open.has(entry.id)) return 'active'
    open.add(entry.id)
    const voided = voiders.get(entry.id)?.some((voider) => status(voider) === 'active') ?? false
    // A correction stands while it is active or was itself corrected; only a void undoes it.
    const corrected = correctors.get(entry.id)?.some((corrector) => status(corrector) !== 'voided') ?? false
    open.delete(entry.id)
    const result: EntryStatus = voided ? 'voided' : corrected ? 'corrected' : 'active'
    known.set(entry.id, result)
    return result
  }
  for (const entry of entries) status(entry)
  return known
}
const push = (map: Map<string, Entry[]>, key: string, entry: Entry) => {
  const list = map.get(key)
  if (list) list.push(entry)
  else map.set(key, [entry])
}

/** Entries that count, in ledger order; voids themselves are left out. */
export function activeEntries(entries: readonly Entry[]): Entry[] {
  const statuses = entryStatuses(entries)
  return entries.filter((entry) => entry.kind !== 'void' && statuses.get(entry.id) === 'active').sort(compareEntries)
}

/** Builds the record from its parts. Later revisions of a document win. */
export function recordOf(
  settings: Settings,
  registers: readonly RegisterDocument[],
  entries: readonly Entry[],
): KeeperRecord {
  const of = <R extends RegisterDocument['register']>(register: R) => {
    const map = new Map<string, Extract<RegisterDocument, { register: R }>>()
    for (const document of registers) {
      if (document.register !== register) continue
      const other = map.get(document.id)
      if (!other || other.revision < document.revision)
        map.set(document.id, document as Extract<RegisterDocument, { register: R }>)
    }
    return map
  }
  return {
    settings,
    vessels: of('vessel'),
    residents: of('resident'),
    products: of('product'),
    instruments: of('instrument'),
    courses: of('course'),
    arrivals: of('arrival'),
    gear: of('gear'),
    findings: of('finding'),
    protocols: of('protocol'),
    entries: [...entries].sort(compareEntries),
  }
}

/** All documents of a record, for export. */
export const documentsOf = (record: KeeperRecord): RegisterDocument[] => [
  ...record.vessels.values(),
  ...record.residents.values(),
  ...record.products.values(),
  ...record.instruments.values(),
  ...record.courses.values(),
  ...record.arrivals.values(),
  ...record.gear.values(),
  ...record.findings.values(),
  ...record.protocols.values(),
]

/** A document's next revision: the old body goes to its history. */
export function revised<D extends RegisterDocument>(document: D, body: D['body'], savedAt: string): D {
  return {
    ...document,
    revision: document.revision + 1,
    savedAt,
    body,
    history: [...document.history, { revision: document.revision, savedAt: document.savedAt, body: document.body }],
  } as D
}

/** Where each resident lives at an instant: its first vessel, then its moves. null: gone. */
export function residentVessels(
  record: KeeperRecord,
  active: readonly Entry[],
  atMs: number,
): Map<string, string | null> {
  const where = new Map<string, string | null>()
  for (const resident of record.residents.values()) {
    const { arrivedAt, leftAt, vesselId } = resident.body
    const here = instantMs(arrivedAt) <= atMs && (leftAt === undefined || instantMs(leftAt) > atMs)
    where.set(resident.id, here ? vesselId : null)
  }
  for (const entry of active) {
    if (entry.kind !== 'move' || entryMs(entry) > atMs) continue
    if (where.get(entry.residentId) !== null || entry.toVesselId !== null) {
      const left = record.residents.get(entry.residentId)?.body.leftAt
      where.set(entry.residentId, left !== undefined && instantMs(left) <= atMs ? null : entry.toVesselId)
    }
  }
  return where
}

/** Residents in one vessel at an instant. */
export function residentsIn(record: KeeperRecord, active: readonly Entry[], vesselId: string, atMs: number) {
  const where = residentVessels(record, active, atMs)
  return [...record.residents.values()].filter((resident) => where.get(resident.id) === vesselId)
}
