// The record on disk. Newest entries one key each, older ones in sealed segments; an import writes a new generation
// and flips one manifest key last. Registers change under a lock; nothing is acknowledged before it is durable.
import {
  SCHEMA_VERSION,
  compareEntries,
  documentsOf,
  recordOf,
  type Entry,
  type KeeperRecord,
  type RegisterDocument,
  type Settings,
} from '@brinvo/core'
import type { KeyStore } from './keyStore.ts'

/** Released key names; frozen. */
const MANIFEST = 'manifest'
const entryKey = (generation: number, id: string) => `g${generation}/entry/${id}`
const segmentKey = (generation: number, index: number) => `g${generation}/segment/${index}`
const documentKey = (generation: number, document: Pick<RegisterDocument, 'register' | 'id'>) =>
  `g${generation}/register/${document.register}/${document.id}`
const pendingKey = (generation: number) => `g${generation}/pending`
const settingsKey = (generation: number) => `g${generation}/settings`

/** Loose entries are sealed into segments of this size once there are this many and a hundred more. */
export const SEGMENT_SIZE = 500

interface Manifest {
  readonly schemaVersion: number
  readonly generation: number
  readonly segments: number
  /** Free facts about the database, such as the day its demo data were made for. */
  readonly facts: Readonly<Record<string, string>>
}

/** A commit as written down before it is taken apart. */
interface Pending {
  readonly documents: readonly RegisterDocument[]
  readonly entries: readonly Entry[]
}

export class StorageError extends Error {
  override readonly name = 'StorageError'
  constructor(
    readonly kind: 'full' | 'unavailable' | 'newer' | 'conflict' | 'damaged',
    message: string,
    options?: ErrorOptions,
  ) {
    super(message, options)
  }
}

/** Turns a browser's storage failure into a sentence. */
export function storageError(cause: unknown): StorageError {
  if (cause instanceof StorageError) return cause
  const name = (cause as { name?: string } | null)?.name ?? ''
  if (name === 'QuotaExceededError') {
    return new StorageError(
      'full',
      'This browser has no room left for the record. What you typed is still here: export the record, free some space, then save again.',
      { cause },
    )
  }
  return new StorageError(
    'unavailable',
    'This browser does not let the application store anything (a private window, perhaps). What you typed is not saved; open it in a normal window.',
    { cause },
  )
}

/** Runs a job while no other tab runs one of the same name. */
export type Lock = <T>(name: string, job: () => Promise<T>) => Promise<T>
/** Tells other tabs that the record changed, and hears them. */
export interface Channel {
  post(): void
  subscribe(listener: () => void): () => void
}

export interface Repository {
  load(): Promise<KeeperRecord>
  append(entries: readonly Entry[]): Promise<void>
  /** @throws StorageError `conflict` when the stored revision is not the one before this document's. */
  saveDocument(document: RegisterDocument): Promise<void>
  /**
   * Documents and entries that belong together: all of them are on record afterwards, or none. They are written down
   * as a whole first, so that a tab that dies half way through loses nothing and leaves nothing half done.
   * @throws StorageError `conflict` when the stored revision of one is not the one before it
   */
  commit(documents: readonly RegisterDocument[], entries: readonly Entry[]): Promise<void>
  saveSettings(settings: Settings): Promise<void>
  /** All or nothing: the old record stays until the new one is whole. */
  replaceAll(record: KeeperRecord, facts?: Record<string, string>): Promise<void>
  wipe(settings: Settings): Promise<void>
  facts(): Promise<Readonly<Record<string, string>>>
  setFact(key: string, value: string): Promise<void>
  subscribe(listener: () => void): () => void
}

export interface RepositoryOptions {
  readonly store: KeyStore
  readonly lock: Lock
  readonly channel: Channel
  /** Settings of a record that does not exist yet. */
  readonly freshSettings: () => Settings
}

/** A repository over any store; the lock and the channel come from the browser, or from a test. */
export function createRepository({ store, lock, channel, freshSettings }: RepositoryOptions): Repository {
  const manifest = async (): Promise<Manifest> => {
    let found: unknown
    try {
      found = await store.get(MANIFEST)
    } catch (cause) {
      throw storageError(cause)
    }
    if (!found) return { schemaVersion: SCHEMA_VERSION, generation: 1, segments: 0, facts: {} }
    const known = found as Manifest
    if (known.schemaVersion > SCHEMA_VERSION) {
      throw new StorageError(
        'newer',
        `The stored record is version ${known.schemaVersion}; this program reads up to ${SCHEMA_VERSION}. Update the program; nothing was changed.`,
      )
    }
    return known
  }
  /** The manifest, made or lifted to this version before anything of this version is written. */
  const ready = async (): Promise<Manifest> => {
    const current = await manifest()
    const stored = (await store.get(MANIFEST)) as Manifest | null
    if (!stored || stored.schemaVersion < SCHEMA_VERSION) {
      const lifted = { ...current, schemaVersion: SCHEMA_VERSION }
      await write(MANIFEST, lifted)
      return lifted
    }
    return current
  }
  const write = async (key: string, value: unknown) => {
    try {
      await store.set(key, value)
    } catch (cause) {
      throw storageError(cause)
    }
  }
  const locked = <T>(job: () => Promise<T>): Promise<T> => lock('brinvo-record', job)

  const seal = async (current: Manifest): Promise<void> => {
    const prefix = `g${current.generation}/entry/`
    const loose: Entry[] = []
    await store.each((key, value) => {
      if (key.startsWith(prefix)) loose.push(value as Entry)
    })
    if (loose.length < SEGMENT_SIZE + 100) return
    loose.sort((a, b) => (a.recordedAt < b.recordedAt ? -1 : a.recordedAt > b.recordedAt ? 1 : a.id < b.id ? -1 : 1))
    const sealed = loose.slice(0, SEGMENT_SIZE)
    // Segment first, then the manifest that counts it, then the loose keys: a crash between leaves doubles, never gaps.
    await write(segmentKey(current.generation, current.segments), sealed)
    await write(MANIFEST, { ...current, segments: current.segments + 1 })
    for (const { id } of sealed) await store.remove(entryKey(current.generation, id))
  }

  const clearGenerationsBut = async (keep: number) => {
    for (const key of await store.keys()) if (key !== MANIFEST && !key.startsWith(`g${keep}/`)) await store.remove(key)
  }

  const conflict = async (current: Manifest, document: RegisterDocument) => {
    const stored = (await store.get(documentKey(current.generation, document))) as RegisterDocument | null
    if ((stored?.revision ?? 0) !== document.revision - 1)
      throw new StorageError(
        'conflict',
        'This was changed in another tab in the meantime. Look at it again; what you typed is still here.',
      )
  }
  /** Writes what a commit of a tab that died had written down as a whole. */
  const finish = async (current: Manifest): Promise<void> => {
    const pending = (await store.get(pendingKey(current.generation))) as Pending | null
    if (!pending) return
    for (const document of pending.documents) await write(documentKey(current.generation, document), document)
    for (const entry of pending.entries) await write(entryKey(current.generation, entry.id), entry)
    await store.remove(pendingKey(current.generation))
  }
  /** The manifest to write under, with nothing left over from before. */
  const begin = async (): Promise<Manifest> => {
    const current = await ready()
    await finish(current)
    return current
  }

  const repository: Repository = {
    async load() {
      const { generation, segments } = await manifest()
      const prefix = `g${generation}/`
      let settings: Settings | null = null
      let pending: Pending | null = null
      const registers: RegisterDocument[] = []
      const entries = new Map<string, Entry>()
      try {
        await store.each((key, value) => {
          if (!key.startsWith(prefix)) return
          const rest = key.slice(prefix.length)
          if (rest === 'settings') settings = value as Settings
          else if (rest === 'pending') pending = value as Pending
          else if (rest.startsWith('register/')) registers.push(value as RegisterDocument)
          else if (rest.startsWith('entry/')) entries.set((value as Entry).id, value as Entry)
          else if (rest.startsWith('segment/') && Number(rest.slice(8)) < segments) {
            for (const entry of value as Entry[]) entries.set(entry.id, entry)
          }
        })
      } catch (cause) {
        throw storageError(cause)
      }
      const late = pending as Pending | null
      for (const entry of late?.entries ?? []) entries.set(entry.id, entry)
      const isLate = ({ register, id }: RegisterDocument) =>
        late?.documents.some((document) => document.register === register && document.id === id) === true
      const whole = [...registers.filter((document) => !isLate(document)), ...(late?.documents ?? [])]
      return recordOf(settings ?? freshSettings(), whole, [...entries.values()])
    },

    async append(entries) {
      await locked(async () => {
        const current = await begin()
        for (const entry of entries) await write(entryKey(current.generation, entry.id), entry)
        await seal(current)
      })
      channel.post()
    },

    async saveDocument(document) {
      await locked(async () => {
        const current = await begin()
        await conflict(current, document)
        await write(documentKey(current.generation, document), document)
      })
      channel.post()
    },

    async commit(documents, entries) {
      await locked(async () => {
        const current = await begin()
        for (const document of documents) await conflict(current, document)
        await write(pendingKey(current.generation), { documents, entries } satisfies Pending)
        await finish(current)
        await seal(current)
      })
      channel.post()
    },

    async saveSettings(settings) {
      await locked(async () => {
        const current = await ready()
        await write(settingsKey(current.generation), settings)
      })
      channel.post()
    },

    async replaceAll(record, facts) {
      await locked(async () => {
        const current = await manifest()
        const generation = current.generation + 1
        // A generation that an interrupted import left behind would mix with ours.
        for (const key of await store.keys()) if (key.startsWith(`g${generation}/`)) await store.remove(key)
        await write(settingsKey(generation), record.settings)
        for (const document of documentsOf(record)) await write(documentKey(generation, document), document)
        const ordered = [...record.entries].sort(compareEntries)
        let segments = 0
        for (let i = 0; i < ordered.length; i += SEGMENT_SIZE)
          await write(segmentKey(generation, segments++), ordered.slice(i, i + SEGMENT_SIZE))
        await write(MANIFEST, {
          schemaVersion: SCHEMA_VERSION,
          generation,
          segments,
          facts: facts ?? {},
        } satisfies Manifest)
        await clearGenerationsBut(generation)
      })
      channel.post()
    },

    async wipe(settings) {
      await repository.replaceAll(recordOf(settings, [], []))
    },

    async facts() {
      return (await manifest()).facts
    },
    async setFact(key, value) {
      await locked(async () => {
        const current = await manifest()
        await write(MANIFEST, { ...current, facts: { ...current.facts, [key]: value } })
      })
    },
    subscribe: channel.subscribe,
  }
  return repository
}

/** Web Locks where the browser has them; in an old one a queue inside this tab. */
export function browserLock(): Lock {
  if (typeof navigator !== 'undefined' && 'locks' in navigator)
    return (name, job) => navigator.locks.request(name, job) as ReturnType<typeof job>
  let tail: Promise<unknown> = Promise.resolve()
  return <T>(_name: string, job: () => Promise<T>): Promise<T> => {
    const run = tail.then(job, job)
    tail = run.catch(() => undefined)
    return run
  }
}

/** BroadcastChannel between tabs of one database. */
export function browserChannel(name: string): Channel {
  if (typeof BroadcastChannel === 'undefined') return { post: () => undefined, subscribe: () => () => undefined }
  const channel = new BroadcastChannel(name)
  return {
    post: () => channel.postMessage('changed'),
    subscribe: (listener) => {
      channel.addEventListener('message', listener)
      return () => channel.removeEventListener('message', listener)
    },
  }
}
