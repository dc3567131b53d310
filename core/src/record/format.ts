// The open file's name, version and shape; writing it needs no validator.
import { digestOf } from './digest.ts'
import { documentsOf } from './account.ts'
import type { KeeperRecord, RecordFile } from './types.ts'

export const FORMAT = 'brinvo-record'
/** Version this program writes. A file of a newer one is refused. */
export const SCHEMA_VERSION = 5
/** Largest file looked at, bytes. */
export const MAX_FILE_BYTES = 200 * 1024 * 1024

/** The record as a file, registers and entries in a stable order. */
export function toFile(record: KeeperRecord, exportedAt: string): RecordFile {
  const parts = {
    settings: record.settings,
    registers: documentsOf(record).sort((a, b) => (a.id < b.id ? -1 : 1)),
    entries: [...record.entries],
  }
  return { format: FORMAT, schemaVersion: SCHEMA_VERSION, exportedAt, checksum: checksumOf(parts), ...parts }
}

/** Digest of what a file holds, whatever its white space: tells a changed or damaged file. No seal against intent. */
export const checksumOf = ({
  settings,
  registers,
  entries,
}: {
  readonly settings: unknown
  readonly registers: unknown
  readonly entries: unknown
}): string => digestOf([settings, registers, entries])
