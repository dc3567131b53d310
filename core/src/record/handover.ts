// What one device lacks of the other: only that travels when a record is handed over.
import { documentsOf, recordOf } from './account.ts'
import { digestOf } from './digest.ts'
import type { Entry, KeeperRecord, RegisterDocument } from './types.ts'

/** What a device has, without saying what it is. */
export interface Inventory {
  /** Ids of entries. */
  readonly entries: readonly string[]
  /** Digest of each document with all its versions, by `register/id`. */
  readonly documents: Readonly<Record<string, string>>
  /** Ids of the pictures that are kept. */
  readonly pictures: readonly string[]
}
/** What the other lacks. */
export interface Missing {
  readonly entries: readonly Entry[]
  readonly documents: readonly RegisterDocument[]
  readonly pictures: readonly string[]
}

const keyOf = ({ register, id }: RegisterDocument): string => `${register}/${id}`
/** Of a document whatever was written: its body, when it was saved, and every version before. */
const wholeDigest = (document: RegisterDocument): string => digestOf(document)

/** @param pictures ids of the pictures that this device keeps */
export function inventoryOf(record: KeeperRecord, pictures: readonly string[]): Inventory {
  return {
    entries: record.entries.map(({ id }) => id),
    documents: Object.fromEntries(documentsOf(record).map((document) => [keyOf(document), wholeDigest(document)])),
    pictures: [...pictures],
  }
}

/** What a device with this inventory lacks of a record: entries by id, documents that are not the same to the letter. */
export function missingOf(record: KeeperRecord, pictures: readonly string[], there: Inventory): Missing {
  const [entries, kept] = [new Set(there.entries), new Set(there.pictures)]
  const spoken = new Set(record.entries.flatMap((entry) => (entry.kind === 'photo' ? [entry.photoId] : [])))
  return {
    entries: record.entries.filter(({ id }) => !entries.has(id)),
    documents: documentsOf(record).filter((document) => there.documents[keyOf(document)] !== wholeDigest(document)),
    // A picture that no entry speaks of does not travel.
    pictures: pictures.filter((id) => spoken.has(id) && !kept.has(id)),
  }
}

/**
 * The other side's record as a whole, from what it sent and what this side has of it: so that the joining tells what
 * both sides did, as it would of a file.
 * @throws Error where the other side speaks of a document that neither was sent nor stands here unchanged
 */
export function wholeOf(
  mine: KeeperRecord,
  there: Inventory,
  sent: Pick<Missing, 'entries' | 'documents'>,
): KeeperRecord {
  const known = new Set(there.entries)
  const came = new Set(sent.documents.map(keyOf))
  const here = documentsOf(mine).filter(
    (document) => !came.has(keyOf(document)) && there.documents[keyOf(document)] === wholeDigest(document),
  )
  const has = new Set([...came, ...here.map(keyOf)])
  const lost = Object.keys(there.documents).filter((key) => !has.has(key))
  if (lost.length > 0)
    throw new Error(`The other device did not send all of its record: ${lost.length} parts are missing.`)
  const own = new Set(sent.entries.map(({ id }) => id))
  return recordOf(
    mine.settings,
    [...sent.documents, ...here],
    [...sent.entries, ...mine.entries.filter(({ id }) => known.has(id) && !own.has(id))],
  )
}
