// From everything ever entered to what counts: corrections replace, voids remove, nothing is deleted.
import { headsOf, versionsOf } from './versions.ts'
import type { Entry, KeeperRecord, RegisterDocument, Settings } from './types.ts'

export type EntryStatus = 'active' | 'corrected' | 'voided'

/** Order of the ledger: by instant, then by id. */
export const compareEntries = (a: Entry, b: Entry): number =>
  a.at < b.at ? -1 : a.at > b.at ? 1 : a.id < b.id ? -1 : a.id > b.id ? 1 : 0

/**
 * Status of every entry. A void that is itself voided has no effect, and a correction that was voided gives its
 * original back; so undo can be undone. Of two corrections of one entry, which two devices can write, the later counts.
 * Cycles (only a damaged file has them) count as active.
 */
export function entryStatuses(entries: readonly Entry[]): Map<string, EntryStatus> {
  const voiders = new Map<string, Entry[]>()
  const correctors = new Map<string, Entry[]>()
  for (const entry of entries) {
    if (entry.kind === 'void') push(voiders, entry.voids, entry)
    else if (entry.corrects !== undefined) push(correctors, entry.corrects, entry)
  }
  // Worked off a stack, deepest first: a chain of corrections may be as long as a file can hold.
  const known = new Map<string, EntryStatus>()
  const open = new Set<string>()
  /** Corrections of the same entry that were written after this one. */
  const rivals = (entry: Entry): readonly Entry[] => {
    if (entry.kind === 'void' || entry.corrects === undefined) return []
    const all = correctors.get(entry.corrects)!
    return all.length === 1 ? [] : all.filter((other) => isLater(other, entry))
  }
  const next = (entry: Entry): Entry | undefined =>
    [...(voiders.get(entry.id) ?? []), ...(correctors.get(entry.id) ?? []), ...rivals(entry)].find(
      ({ id }) => !known.has(id) && !open.has(id),
    )
  for (const first of entries) {
    if (known.has(first.id)) continue
    const stack = [first]
    open.add(first.id)
    while (stack.length > 0) {
      const entry = stack.at(-1)!
      const deeper = next(entry)
      if (deeper) {
        open.add(deeper.id)
        stack.push(deeper)
        continue
      }
      // A circle, which only a damaged file has, counts as active where it closes.
      const statusOf = ({ id }: Entry) => known.get(id) ?? 'active'
      const voided = voiders.get(entry.id)?.some((one) => statusOf(one) === 'active') ?? false
      // A correction stands while it is active or was itself corrected; only a void undoes it.
      const corrected = correctors.get(entry.id)?.some((one) => statusOf(one) !== 'voided') ?? false
      const beaten = rivals(entry).some((one) => statusOf(one) !== 'voided')
      known.set(entry.id, voided ? 'voided' : corrected || beaten ? 'corrected' : 'active')
      open.delete(entry.id)
      stack.pop()
    }
  }
  return known
}
const isLater = (a: Entry, b: Entry): boolean =>
  a.recordedAt === b.recordedAt ? a.id > b.id : a.recordedAt > b.recordedAt
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
    samples: of('sample'),
    devices: of('device'),
    findings: of('finding'),
    planned: of('planned'),
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
  ...record.samples.values(),
  ...record.devices.values(),
  ...record.findings.values(),
  ...record.planned.values(),
  ...record.protocols.values(),
]

/** A document's next revision: the old body goes to its history. What was put together becomes one again. */
export function revised<D extends RegisterDocument>(document: D, body: D['body'], savedAt: string): D {
  const { after, merged, ...rest } = document
  if (merged === true)
    return {
      ...rest,
      revision: document.revision + 1,
      savedAt,
      body,
      after: headsOf(versionsOf(document)).map(({ id }) => id),
    } as unknown as D
  return {
    ...rest,
    revision: document.revision + 1,
    savedAt,
    body,
    history: [
      ...document.history,
      {
        revision: document.revision,
        savedAt: document.savedAt,
        body: document.body,
        ...(after === undefined ? {} : { after }),
      },
    ],
  } as unknown as D
}
