// A backup opened to be looked into: a rehearsal of the worst day, beside the record and without touching it.
import type { KeeperRecord } from '@brinvo/core'
import { freshSettings, repositoryOf } from './database.ts'
import { photosOf } from './photos.ts'

export async function beginLook(record: KeeperRecord, photos: ReadonlyMap<string, Blob>): Promise<void> {
  await repositoryOf('look').replaceAll(record)
  await photosOf('look').clear()
  for (const [id, picture] of photos) await photosOf('look').put(id, picture)
}
/** Lets the copy go. */
export async function endLook(): Promise<void> {
  await repositoryOf('look').wipe(freshSettings())
  await photosOf('look').clear()
}
