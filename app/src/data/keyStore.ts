// The one place that touches localForage: a flat store of keys, so that the repository can be tested with any store.
import localforage from 'localforage'

/** What the repository needs of a store. Every write resolves only when it is durable. */
export interface KeyStore {
  get(key: string): Promise<unknown>
  set(key: string, value: unknown): Promise<void>
  remove(key: string): Promise<void>
  /** Every key and value, in any order. */
  each(visit: (key: string, value: unknown) => void): Promise<void>
  keys(): Promise<string[]>
}

/** Names of the databases: the keeper's, the demonstration's, a backup that is only looked at, and a practice tank. Renaming one orphans every saved record: add a migration instead. */
export const DATABASES = {
  keeper: 'brinvo',
  demo: 'brinvo-demo',
  look: 'brinvo-look',
  practice: 'brinvo-practice',
} as const
export type Mode = keyof typeof DATABASES

/** Where estimates are kept between two openings of the page; no part of the record. */
export const openKept = () =>
  localforage.createInstance({ name: 'brinvo-kept', storeName: 'estimates', driver: [localforage.INDEXEDDB] })

/** What pairs this browser with the devices of the house; no part of any record. */
export const openPairing = () =>
  localforage.createInstance({ name: 'brinvo-kept', storeName: 'pairing', driver: [localforage.INDEXEDDB] })

/** The folder that gets a copy a day; no part of any record. */
export const openBackups = () =>
  localforage.createInstance({ name: 'brinvo-kept', storeName: 'backups', driver: [localforage.INDEXEDDB] })

/** IndexedDB through localForage; no fallback, because a store that forgets is worse than a clear message. */
export function openKeyStore(database: string): KeyStore {
  const store = localforage.createInstance({ name: database, storeName: 'record', driver: [localforage.INDEXEDDB] })
  return {
    get: (key) => store.getItem(key),
    set: async (key, value) => {
      await store.setItem(key, value)
    },
    remove: (key) => store.removeItem(key),
    each: async (visit) => {
      await store.iterate((value, key) => {
        visit(key, value)
      })
    },
    keys: () => store.keys(),
  }
}

/** Empties a database at one stroke; that needs no room. */
export async function emptyDatabase(database: string): Promise<void> {
  await localforage.createInstance({ name: database, storeName: 'record', driver: [localforage.INDEXEDDB] }).clear()
}
