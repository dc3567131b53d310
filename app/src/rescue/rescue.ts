// What the rescue page can do, apart from the page: raw export, a look through, the record before, a new start.
import type { KeyStore } from '../data/keyStore.ts'
import type { Repository } from '../data/repository.ts'

export interface Stored {
  readonly keys: number
  readonly entries: number
  readonly aside: number
  readonly previous: { readonly keptAt: string; readonly entries: number } | null
}

/** Counts what is stored, without understanding any of it. */
export async function storedOf(store: KeyStore, repository: Repository): Promise<Stored> {
  let keys = 0
  let entries = 0
  let aside = 0
  await store.each((key, value) => {
    keys++
    if (key.includes('/entry/')) entries++
    else if (key.includes('/segment/') && Array.isArray(value)) entries += value.length
    else if (key.startsWith('aside/')) aside++
  })
  let previous: Stored['previous'] = null
  try {
    previous = await repository.previous()
  } catch {
    // A manifest that cannot be read has none to offer.
  }
  return { keys, entries, aside, previous }
}

/** Every stored key with its value, as it lies there: readable by eye and by a mender, whatever is wrong with it. */
export async function rawExport(store: KeyStore, exportedAt: string): Promise<string> {
  const values: Record<string, unknown> = {}
  await store.each((key, value) => {
    values[key] = value
  })
  return JSON.stringify({ format: 'brinvo-raw', exportedAt, values }, null, 1)
}
