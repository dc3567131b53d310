// The record on disk. Newest entries one key each, older ones in sealed segments; an import writes a new generation
// and flips one manifest key last. Everything is written under a lock, by one commit an act; nothing is acknowledged before
// the browser has taken it over.
import {
  SCHEMA_VERSION,
  carryActive,
  compareEntries,
  documentsOf,
  recordOf,
  unsoundEntry,
  unsoundRegister,
  unsoundSettings,
  type Entry,
  type Fault,
  type Joined,
  type KeeperRecord,
  type RegisterDocument,
  type Result,
  type Settings,
} from '@brinvo/core'
import type { KeyStore } from './keyStore.ts'
import type { Newest, NewestAct } from './newest.ts'

/** Released key names; frozen. */
const MANIFEST = 'manifest'
const entryKey = (generation: number, id: string) => `g${generation}/entry/${id}`
const segmentKey = (generation: number, index: number) => `g${generation}/segment/${index}`
const documentKey = (generation: number, document: Pick<RegisterDocument, 'register' | 'id'>) =>
  `g${generation}/register/${document.register}/${document.id}`
const pendingPrefix = (generation: number) => `g${generation}/pending`
const settingsKey = (generation: number) => `g${generation}/settings`
/** Counts every commit, so that a tab knows when another one wrote. */
const countKey = (generation: number) => `g${generation}/count`
/** Values that could not be read lie here, as they were found, until the keeper lets them go. */
const ASIDE = 'aside/'

/** Loose entries are sealed into segments of this size once there are this many and a hundred more. */
export const SEGMENT_SIZE = 500

interface Manifest {
  readonly schemaVersion: number
  readonly generation: number
  readonly segments: number
  /** Free facts about the database, such as the day its demo data were made for. */
  readonly facts: Readonly<Record<string, string>>
  /** The record before the last import: kept until the next, so that an import can be undone. */
  readonly previous?: Kept
  /** Every value was held against this version's schema. */
  readonly checked?: number
}
interface Kept {
  readonly schemaVersion: number
  readonly generation: number
  readonly segments: number
  readonly keptAt: string
  readonly entries: number
}

/** Fact under which it is written down what came in by the last joining, until it was seen. */
export const CAME_IN = 'came-in'
/** So many of them are marked one by one. */
const MOST_MARKED = 2000
/** What the record was read back with after this long is on the disk, ms. */
const SETTLED_MS = 60_000
/** Which record an act was written to. */
const homeOf = ({ facts, generation }: Manifest): string => `${facts['born'] ?? ''}/${generation}`
export interface CameIn {
  readonly at: string
  readonly entries: readonly string[]
  readonly documents: readonly string[]
  readonly notices: readonly string[]
  /** Put back from this device's own second copy, not come from another. */
  readonly own?: true
}

/** A stored value that could not be read, as it was found. */
export interface Aside {
  readonly key: string
  readonly value: unknown
  readonly why: string
}

/** A commit as written down before it is taken apart. */
interface Pending {
  readonly documents: readonly RegisterDocument[]
  readonly entries: readonly Entry[]
}

export class StorageError extends Error {
  override readonly name = 'StorageError'
  constructor(
    readonly kind: 'full' | 'unavailable' | 'newer' | 'conflict' | 'damaged' | 'invalid' | 'silent',
    message: string,
    options?: ErrorOptions,
  ) {
    super(message, options)
  }
}

/** What a full store says first; the notice that shows it leads to where room is made. */
export const NO_ROOM = 'This browser has no room left for the record.'
/** Turns a browser's storage failure into a sentence. */
export function storageError(cause: unknown): StorageError {
  if (cause instanceof StorageError) return cause
  const name = (cause as { name?: string } | null)?.name ?? ''
  if (name === 'QuotaExceededError') {
    return new StorageError('full', `${NO_ROOM} What you typed is still here: make room, then save again.`, { cause })
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

/** What an act's commit came to. */
export type Committed<P> =
  | {
      readonly ok: true
      readonly record: KeeperRecord
      readonly entries: readonly Entry[]
      readonly said: string
      /** Nothing but entries: striking them out takes the whole act back. */
      readonly undoable: boolean
    }
  | { readonly ok: false; readonly problem: P }

/** What a prepared act wants written; nothing where it is on record already. */
export interface Prepared {
  readonly actId: string
  readonly documents: readonly RegisterDocument[]
  readonly entries: readonly Entry[]
  readonly said: string
  readonly already: boolean
}

export interface Repository {
  /** The record as stored. What cannot be read is set aside and named, never dropped and never in the way. */
  load(): Promise<KeeperRecord>
  /**
   * One act, whole or not at all. `prepare` is asked under the lock with the record as it is at this moment, whichever
   * tab wrote last; what it answers is written down as one piece first, so that a tab that dies half way through loses
   * nothing and leaves nothing half done. Resolves when the browser has taken the writes over; what a power cut does to
   * the machine within seconds after that is the browser's to promise, not ours.
   * @throws StorageError `invalid` where a value does not hold to the schema: what could not be read back is not written
   */
  commit<P>(prepare: (record: KeeperRecord) => Result<Prepared, P>): Promise<Committed<P>>
  saveSettings(settings: Settings): Promise<void>
  /** All or nothing: the old record stays until the new one is whole, and is kept for `undoReplace`. */
  replaceAll(
    record: KeeperRecord,
    facts?: Record<string, string>,
    options?: { readonly keep?: boolean; readonly inPlace?: boolean },
  ): Promise<void>
  /**
   * Another record of this house joins the one that is open, as it is at this moment: nothing of either is lost, and the
   * one before is kept for `undoReplace`. What came in is written down, to be marked until it was seen.
   */
  join(theirs: KeeperRecord, nowMs: number): Promise<Joined>
  /** The record before the last import, if it is still kept. */
  previous(): Promise<{ readonly keptAt: string; readonly entries: number } | null>
  /** Takes the record before the last import back; the imported one is then the one that is kept. */
  undoReplace(): Promise<void>
  dropPrevious(): Promise<void>
  wipe(settings: Settings): Promise<void>
  /** The newest entries of a record that is not here any more, such as one that the browser lost. */
  lost(): Promise<{ readonly entries: number; readonly sinceMs: number } | null>
  /** They join the record that is open. */
  putLostBack(nowMs: number): Promise<Joined>
  dropLost(): Promise<void>
  /** Values set aside because they could not be read. */
  aside(): Promise<readonly Aside[]>
  dropAside(): Promise<void>
  /** Holds every value against the schema; answers how many were set aside. */
  inspect(): Promise<number>
  facts(): Promise<Readonly<Record<string, string>>>
  setFact(key: string, value: string): Promise<void>
  /** A fact made of what stands there, under the lock; other tabs are told. */
  reviseFact(key: string, revise: (value: string | undefined) => string): Promise<string>
  subscribe(listener: () => void): () => void
}

export interface RepositoryOptions {
  readonly store: KeyStore
  readonly lock: Lock
  readonly channel: Channel
  /** Settings of a record that does not exist yet. */
  readonly freshSettings: () => Settings
  /** Where the newest acts are kept a second time, if anywhere. */
  readonly newest?: Newest
  /** How long a store may be silent before the keeper is told, ms. */
  readonly patienceMs?: number
}

/** A store that never answers is told, not waited for behind a white page. */
function answering<T>(job: Promise<T>, patienceMs: number): Promise<T> {
  return new Promise((resolve, reject) => {
    const timer = setTimeout(
      () =>
        reject(
          new StorageError(
            'silent',
            'The storage of this browser does not answer. Another tab may hold it: close the others, then open this page again.',
          ),
        ),
      patienceMs,
    )
    job.then(resolve, reject).finally(() => clearTimeout(timer))
  })
}

/** A repository over any store; the lock and the channel come from the browser, or from a test. */
export function createRepository({
  store,
  lock,
  channel,
  freshSettings,
  newest,
  patienceMs = 20_000,
}: RepositoryOptions): Repository {
  const manifest = async (): Promise<Manifest> => {
    let found: unknown
    try {
      found = await store.get(MANIFEST)
    } catch (cause) {
      throw storageError(cause)
    }
    if (!found)
      return {
        schemaVersion: SCHEMA_VERSION,
        generation: 1,
        segments: 0,
        // Told apart from a record of the same browser that was lost.
        facts: { born: String(Date.now()) },
        checked: SCHEMA_VERSION,
      }
    const known = isManifest(found) ? found : await mendManifest(found)
    if (known.schemaVersion > SCHEMA_VERSION) {
      throw new StorageError(
        'newer',
        `The stored record is version ${known.schemaVersion}; this program reads up to ${SCHEMA_VERSION}. Update the program; nothing was changed.`,
      )
    }
    return known
  }
  /** A manifest that cannot be read is worked out anew from the keys: the highest generation, all of its segments. */
  const mendManifest = async (found: unknown): Promise<Manifest> => {
    const keys = await store.keys()
    const generations = keys.flatMap((key) => /^g(\d+)\//.exec(key)?.[1] ?? []).map(Number)
    const generation = Math.max(1, ...generations)
    const segments = keys.filter((key) => key.startsWith(`g${generation}/segment/`)).length
    const mended: Manifest = { schemaVersion: SCHEMA_VERSION, generation, segments, facts: {} }
    await setAside([{ key: MANIFEST, value: found, why: 'is no manifest' }])
    await write(MANIFEST, mended)
    return mended
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
    const keys = (await store.keys()).filter((key) => key.startsWith(prefix))
    if (keys.length < SEGMENT_SIZE + 100) return
    const loose: Entry[] = []
    for (const key of keys) {
      const entry = await store.get(key)
      if (unsoundEntry(entry) === null) loose.push(entry as Entry)
    }
    loose.sort((a, b) => (a.recordedAt < b.recordedAt ? -1 : a.recordedAt > b.recordedAt ? 1 : a.id < b.id ? -1 : 1))
    const sealed = loose.slice(0, SEGMENT_SIZE)
    // Segment first, then the manifest that counts it, then the loose keys: a crash between leaves doubles, never gaps.
    await write(segmentKey(current.generation, current.segments), sealed)
    await write(MANIFEST, { ...current, segments: current.segments + 1 })
    for (const { id } of sealed) await store.remove(entryKey(current.generation, id))
  }

  const clearGenerationsBut = async (keep: readonly number[]) => {
    for (const key of await store.keys())
      if (/^g\d+\//.test(key) && !keep.some((generation) => key.startsWith(`g${generation}/`))) await store.remove(key)
  }

  /** Pendings of one manifest: one key each, and the single key of older versions. */
  const pendingKeys = async (current: Manifest): Promise<string[]> =>
    (await store.keys()).filter((key) => key.startsWith(pendingPrefix(current.generation))).sort()

  /** Writes what a commit of a tab that died had written down as a whole. */
  const finish = async (found: Manifest): Promise<Manifest> => {
    let current = found
    for (const key of await pendingKeys(current)) {
      const pending = (await store.get(key)) as Pending | null
      if (isPending(pending)) current = await apply(current, pending)
      await store.remove(key)
    }
    return current
  }
  /** Takes a commit apart; answers the manifest as it is then. Done twice, it leaves doubles of one id, never gaps. */
  const apply = async (current: Manifest, { documents, entries }: Pending): Promise<Manifest> => {
    for (const document of documents) {
      const key = documentKey(current.generation, document)
      const stored = (await store.get(key)) as RegisterDocument | null
      if ((stored?.revision ?? 0) < document.revision) await write(key, document)
    }
    if (entries.length <= SEGMENT_SIZE) {
      for (const entry of entries) await write(entryKey(current.generation, entry.id), entry)
      return current
    }
    // A whole table at once: sealed from the beginning, the manifest that counts the segments last.
    let { segments } = current
    for (let i = 0; i < entries.length; i += SEGMENT_SIZE)
      await write(segmentKey(current.generation, segments++), entries.slice(i, i + SEGMENT_SIZE))
    const counted = { ...current, segments }
    await write(MANIFEST, counted)
    return counted
  }
  /** The manifest to write under, with nothing left over from before. */
  const begin = async (): Promise<Manifest> => {
    return finish(await ready())
  }
  const countOf = async (generation: number): Promise<number> => {
    const count = await store.get(countKey(generation))
    return typeof count === 'number' ? count : 0
  }

  /** The record as this tab last saw it: stands while nobody else wrote. */
  let seen: { readonly generation: number; readonly count: number; readonly record: KeeperRecord } | null = null

  /** Reads one generation; what cannot be read is answered apart. */
  const read = async ({ generation, segments }: Pick<Manifest, 'generation' | 'segments'>, deep: Check | null) => {
    const prefix = `g${generation}/`
    let settings: unknown = null
    let count = 0
    const pendings: Pending[] = []
    const registers: RegisterDocument[] = []
    const entries = new Map<string, Entry>()
    const aside: (Aside & { readonly mend?: unknown })[] = []
    const takeEntry = (key: string, value: unknown): boolean => {
      const fault = unsoundEntry(value) ?? deep?.entry(value) ?? null
      if (fault) {
        aside.push({ key, value, why: `${fault.path} ${fault.message}`.trim() })
        return false
      }
      entries.set((value as Entry).id, value as Entry)
      return true
    }
    const takeRegister = (key: string, value: unknown) => {
      const fault = unsoundRegister(value) ?? deep?.register(value) ?? null
      if (fault) aside.push({ key, value, why: `${fault.path} ${fault.message}`.trim() })
      else registers.push(value as RegisterDocument)
    }
    try {
      await store.each((key, value) => {
        if (!key.startsWith(prefix)) return
        const rest = key.slice(prefix.length)
        if (rest === 'settings') settings = value
        else if (rest === 'count') count = typeof value === 'number' ? value : 0
        else if (rest.startsWith('pending')) {
          if (isPending(value)) pendings.push(value)
          else aside.push({ key, value, why: 'is no commit' })
        } else if (rest.startsWith('register/')) takeRegister(key, value)
        else if (rest.startsWith('entry/')) takeEntry(key, value)
        else if (rest.startsWith('segment/') && Number(rest.slice(8)) < segments) {
          if (!Array.isArray(value)) return void aside.push({ key, value, why: 'is no list of entries' })
          const kept = value.filter((entry) => takeEntry(`${key}#${String((entry as { id?: unknown })?.id)}`, entry))
          // Of a sealed segment only the damaged lines go: the rest is written back without them.
          if (kept.length < value.length) aside.push({ key, value: null, why: '', mend: kept })
        }
      })
    } catch (cause) {
      throw storageError(cause)
    }
    if (settings !== null) {
      const fault = unsoundSettings(settings) ?? deep?.settings(settings) ?? null
      if (fault) {
        aside.push({ key: settingsKey(generation), value: settings, why: `${fault.path} ${fault.message}`.trim() })
        settings = null
      }
    }
    for (const late of pendings) {
      for (const entry of late.entries) takeEntry(`${pendingPrefix(generation)}`, entry)
      for (const document of late.documents) takeRegister(`${pendingPrefix(generation)}`, document)
    }
    // Later revisions of a document win, those of a commit that was not taken apart yet among them.
    const record = recordOf((settings as Settings | null) ?? freshSettings(), registers, [...entries.values()])
    return { record, count, aside }
  }

  /** Puts values that could not be read where they are kept apart, as they were found. */
  const setAside = async (values: readonly (Aside & { readonly mend?: unknown })[]): Promise<void> => {
    for (const [i, { key, value, why, mend }] of values.entries()) {
      try {
        if (mend !== undefined) await store.set(key, mend)
        else {
          await store.set(`${ASIDE}${Date.now()}-${i}-${key}`, { key, value, why } satisfies Aside)
          if (!key.includes('#')) await store.remove(key)
        }
      } catch {
        // No room to set it aside: it stays where it is, and stays out of the record.
      }
    }
  }

  const check = async (): Promise<Check> => {
    const file = await validators()
    return { entry: file.faultOfEntry, register: file.faultOfRegister, settings: file.faultOfSettings }
  }
  const loadNow = async (deep: boolean): Promise<{ record: KeeperRecord; apart: number }> => {
    const current = await manifest()
    const found = await read(current, deep ? await check() : null)
    if (found.aside.length > 0) await setAside(found.aside)
    seen = { generation: current.generation, count: found.count, record: found.record }
    return { record: found.record, apart: found.aside.filter(({ mend }) => mend === undefined).length }
  }

  /** A whole record as a new generation, and the manifest that points at it last. */
  const writeWhole = async (
    current: Manifest,
    record: KeeperRecord,
    facts: Readonly<Record<string, string>>,
    keep: boolean,
    inPlace: boolean,
  ): Promise<void> => {
    const generation = Math.max(current.generation, current.previous?.generation ?? 0) + 1
    const kept = keep && !inPlace && (await store.get(MANIFEST)) !== null
    // Without room for both, the old one goes first: only on the keeper's word, with the file in hand.
    if (inPlace) await clearGenerationsBut([])
    // A generation that an interrupted import left behind would mix with ours.
    else await clearGenerationsBut([current.generation])
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
      facts,
      checked: SCHEMA_VERSION,
      ...(kept
        ? {
            previous: {
              schemaVersion: current.schemaVersion,
              generation: current.generation,
              segments: current.segments,
              keptAt: new Date().toISOString(),
              entries: seen?.generation === current.generation ? seen.record.entries.length : 0,
            },
          }
        : {}),
    } satisfies Manifest)
    await clearGenerationsBut(kept ? [generation, current.generation] : [generation])
    forgetNewest(current)
    seen = null
  }
  /** What a record holds that is kept apart, or was joined, is not kept a second time; of one that was lost it stays. */
  const forgetNewest = (of: Manifest): void =>
    newest?.drop((newest?.all() ?? []).filter(({ home }) => home === homeOf(of)).map(({ actId }) => actId))

  /** Acts of the second copy that are old enough and stand in the record are let go; those that it lost are put back. */
  const compareNewest = async (current: Manifest, record: KeeperRecord): Promise<boolean> => {
    const acts = newest?.all() ?? []
    if (acts.length === 0 || (await store.get(MANIFEST)) === null) return false
    const nowMs = Date.now()
    const own = acts.filter(({ home }) => home === homeOf(current))
    const lostOf = (held: KeeperRecord) => {
      const ids = new Set(held.entries.map(({ id }) => id))
      const revisions = new Map(documentsOf(held).map(({ register, id, revision }) => [`${register}/${id}`, revision]))
      return own.filter(
        (act) =>
          act.entries.some(({ id }) => !ids.has(id)) ||
          act.documents.some(({ register, id, revision }) => (revisions.get(`${register}/${id}`) ?? 0) < revision),
      )
    }
    const seemsLost = lostOf(record)
    const gone = new Set(seemsLost.map(({ actId }) => actId))
    newest?.drop(
      own.filter(({ actId, atMs }) => !gone.has(actId) && nowMs - atMs > SETTLED_MS).map(({ actId }) => actId),
    )
    if (seemsLost.length === 0) return false
    return locked(async () => {
      // It was read without the lock: what another tab emptied or replaced meanwhile is not lost.
      if (homeOf(await manifest()) !== homeOf(current)) return false
      const { record: held } = await loadNow(false)
      const lost = lostOf(held)
      if (lost.length === 0) return false
      const entries = new Set(held.entries.map(({ id }) => id))
      let now = await begin()
      for (const { documents, entries: list } of lost) {
        try {
          await validate(documents, list)
        } catch {
          continue
        }
        now = await apply(now, { documents, entries: list.filter(({ id }) => !entries.has(id)) })
      }
      const back = lost.flatMap(({ entries: list }) => list.map(({ id }) => id).filter((id) => !entries.has(id)))
      const came: CameIn = {
        at: new Date(nowMs).toISOString(),
        own: true,
        entries: back,
        documents: lost.flatMap(({ documents }) => documents.map(({ register, id }) => `${register}/${id}`)),
        notices: [
          'The storage of this browser had lost them when it last ended; they were put back from their second copy.',
        ],
      }
      await write(MANIFEST, { ...now, facts: { ...now.facts, [CAME_IN]: JSON.stringify(came) } })
      await write(countKey(now.generation), (await countOf(now.generation)) + 1)
      seen = null
      return true
    })
  }
  /** Acts of the second copy that were written to a record which is not the open one, such as one that the browser lost. */
  const strangers = async (): Promise<readonly NewestAct[]> => {
    const stored = await store.get(MANIFEST)
    const home = stored === null ? null : homeOf(await manifest())
    return (newest?.all() ?? []).filter((act) => act.home !== home)
  }

  const loadWhole = async (current: Manifest): Promise<KeeperRecord> => {
    // Written by an older program: every value is held against this version's schema once.
    if (current.schemaVersion < SCHEMA_VERSION || current.checked !== SCHEMA_VERSION) {
      const { record } = await loadNow(true)
      if (await store.get(MANIFEST)) await write(MANIFEST, { ...(await manifest()), checked: SCHEMA_VERSION })
      return record
    }
    return (await loadNow(false)).record
  }

  const repository: Repository = {
    async load() {
      const current = await answering(manifest(), patienceMs)
      const found = await loadWhole(current)
      return (await compareNewest(current, found)) ? (await loadNow(false)).record : found
    },

    async lost() {
      const acts = await strangers()
      const entries = acts.flatMap((act) => act.entries)
      return acts.length === 0 ? null : { entries: entries.length, sinceMs: Math.min(...acts.map(({ atMs }) => atMs)) }
    },
    async putLostBack(nowMs) {
      const acts = await strangers()
      const latest = new Map<string, RegisterDocument>()
      for (const document of acts.flatMap(({ documents }) => documents))
        latest.set(`${document.register}/${document.id}`, document)
      const joined = await repository.join(
        recordOf(
          freshSettings(),
          [...latest.values()],
          acts.flatMap(({ entries }) => entries),
        ),
        nowMs,
      )
      newest?.drop(acts.map(({ actId }) => actId))
      return joined
    },
    async dropLost() {
      newest?.drop((await strangers()).map(({ actId }) => actId))
    },
    async inspect() {
      const { apart } = await locked(() => loadNow(true))
      if (apart > 0) channel.post()
      return apart
    },

    async commit(prepare) {
      const done = await locked(async () => {
        const current = await begin()
        const count = await countOf(current.generation)
        const record =
          seen && seen.generation === current.generation && seen.count === count
            ? seen.record
            : (await loadNow(false)).record
        const prepared = prepare(record)
        if (!prepared.ok) return { ok: false as const, problem: prepared.error }
        const { actId, documents, entries, said, already } = prepared.value
        if (already || (documents.length === 0 && entries.length === 0))
          return { ok: true as const, record, entries, said, undoable: false }
        await validate(documents, entries)
        for (const document of documents) {
          const stored = (await store.get(documentKey(current.generation, document))) as RegisterDocument | null
          if ((stored?.revision ?? 0) !== document.revision - 1)
            throw new StorageError(
              'conflict',
              'This was changed in another tab in the meantime. Look at it again; what you typed is still here.',
            )
        }
        const own = `${pendingPrefix(current.generation)}/${actId}`
        // One write that holds all of it, then the same taken apart: a crash between leaves it whole.
        await write(own, { documents, entries } satisfies Pending)
        const applied = await apply(current, { documents, entries })
        await write(countKey(current.generation), count + 1)
        await store.remove(own)
        newest?.keep({ actId, home: homeOf(current), atMs: Date.now(), documents, entries })
        await seal(applied)
        const next = recordOf(record.settings, [...documentsOf(record), ...documents], [...record.entries, ...entries])
        carryActive(record.entries, next.entries, entries)
        seen = { generation: current.generation, count: count + 1, record: next }
        return { ok: true as const, record: next, entries, said, undoable: documents.length === 0 }
      })
      if (done.ok) channel.post()
      return done
    },

    async saveSettings(settings) {
      const fault = (await validators()).faultOfSettings(settings)
      if (fault)
        throw new StorageError('invalid', `These settings cannot be kept: ${fault.path.slice(1)} ${fault.message}.`)
      await locked(async () => {
        const current = await begin()
        await write(settingsKey(current.generation), settings)
        await write(countKey(current.generation), (await countOf(current.generation)) + 1)
        seen = null
      })
      channel.post()
    },

    async replaceAll(record, facts, { keep = false, inPlace = false } = {}) {
      await locked(async () => writeWhole(await manifest(), record, facts ?? {}, keep, inPlace))
      channel.post()
    },

    async join(theirs, nowMs) {
      const joined = await locked(async () => {
        const current = await begin()
        const { record } = await loadNow(false)
        // It comes with the first joining, not with the first view.
        const { joinRecords } = await import('./joining.ts')
        const found = joinRecords(record, theirs, nowMs)
        const { faultOfRegister } = await validators()
        // Changes of two sides may make a whole that no schema knows: then the newest of them stands as it was written.
        const sound = documentsOf(found.record).map((document) =>
          document.merged === true && faultOfRegister(document) !== null
            ? ({ ...document, body: document.history.at(-1)!.body } as RegisterDocument)
            : document,
        )
        const whole = recordOf(found.record.settings, sound, found.record.entries)
        const came: CameIn = {
          at: new Date(nowMs).toISOString(),
          entries: found.cameEntries.slice(-MOST_MARKED).map(({ id }) => id),
          documents: found.cameDocuments.slice(-MOST_MARKED).map(({ register, id }) => `${register}/${id}`),
          notices: found.notices.slice(0, 20).map(({ words }) => words),
        }
        const facts = { ...current.facts, [CAME_IN]: JSON.stringify(came) }
        await writeWhole(current, whole, facts, true, false)
        return { ...found, record: whole }
      })
      channel.post()
      return joined
    },

    async previous() {
      const { previous } = await manifest()
      return previous ? { keptAt: previous.keptAt, entries: previous.entries } : null
    },
    async undoReplace() {
      await locked(async () => {
        const current = await manifest()
        if (!current.previous) throw new StorageError('damaged', 'There is no record before this one any more.')
        const { previous } = current
        await write(MANIFEST, {
          schemaVersion: previous.schemaVersion,
          generation: previous.generation,
          segments: previous.segments,
          facts: current.facts,
          previous: {
            schemaVersion: current.schemaVersion,
            generation: current.generation,
            segments: current.segments,
            keptAt: new Date().toISOString(),
            entries: seen?.record.entries.length ?? 0,
          },
        } satisfies Manifest)
        forgetNewest(current)
        seen = null
      })
      channel.post()
    },
    async dropPrevious() {
      await locked(async () => {
        const { previous: _, ...current } = await manifest()
        await write(MANIFEST, current)
        await clearGenerationsBut([current.generation])
      })
    },

    async wipe(settings) {
      await locked(async () => {
        const { facts, generation } = await manifest()
        const empty: Manifest = {
          schemaVersion: SCHEMA_VERSION,
          generation: generation + 1,
          segments: 0,
          facts,
          checked: SCHEMA_VERSION,
        }
        // One write turns to an empty record; what was, is cleared behind it. A full store refuses that write: then room is
        // made first.
        const turn = async () => {
          await write(settingsKey(empty.generation), settings)
          await write(MANIFEST, empty)
        }
        let turned = true
        try {
          await turn()
        } catch (cause) {
          if (!(cause instanceof StorageError) || cause.kind !== 'full') throw cause
          turned = false
        }
        await clearGenerationsBut(turned ? [empty.generation] : [])
        for (const key of await store.keys()) if (key.startsWith(ASIDE)) await store.remove(key)
        if (!turned) {
          await store.remove(MANIFEST)
          await turn()
        }
        newest?.drop(newest.all().map(({ actId }) => actId))
        seen = null
      })
      channel.post()
    },

    async aside() {
      const found: Aside[] = []
      await store.each((key, value) => {
        if (key.startsWith(ASIDE)) found.push(value as Aside)
      })
      return found
    },
    async dropAside() {
      for (const key of await store.keys()) if (key.startsWith(ASIDE)) await store.remove(key)
    },

    async facts() {
      return (await manifest()).facts
    },
    async setFact(key, value) {
      await locked(async () => {
        const current = await manifest()
        if (current.facts[key] === value) return
        await write(MANIFEST, { ...current, facts: { ...current.facts, [key]: value } })
      })
    },
    async reviseFact(key, revise) {
      const value = await locked(async () => {
        const current = await manifest()
        const next = revise(current.facts[key])
        await write(MANIFEST, { ...current, facts: { ...current.facts, [key]: next } })
        return next
      })
      channel.post()
      return value
    },
    subscribe: channel.subscribe,
  }
  return repository
}

const isManifest = (value: unknown): value is Manifest => {
  const one = value as Manifest
  return (
    typeof value === 'object' &&
    value !== null &&
    Number.isInteger(one.schemaVersion) &&
    Number.isInteger(one.generation) &&
    Number.isInteger(one.segments) &&
    typeof one.facts === 'object' &&
    one.facts !== null
  )
}

/** Full checks of one value each. */
interface Check {
  readonly entry: (value: unknown) => Fault | null
  readonly register: (value: unknown) => Fault | null
  readonly settings: (value: unknown) => Fault | null
}
/** The validators are heavy: they come with the first write, or with a check of the whole. */
const validators = () => import('@brinvo/core/file')

/** What could not be read back is not written: one schema at the write and at the export. */
async function validate(documents: readonly RegisterDocument[], entries: readonly Entry[]): Promise<void> {
  const file = await validators()
  for (const document of documents) {
    const fault = file.faultOfRegister(document)
    if (fault) throw invalid(document.register, fault)
  }
  for (const entry of entries) {
    const fault = file.faultOfEntry(entry)
    if (fault) throw invalid(entry.kind, fault)
  }
}
function invalid(what: string, { path, message }: Fault): StorageError {
  const field = path.split('/').at(-1) ?? ''
  const words = /fewer than (\d+)|NOT have fewer than (\d+)/.exec(message)
    ? 'is too short'
    : /more than (\d+) characters/.exec(message)
      ? `is longer than ${/more than (\d+)/.exec(message)![1]} letters`
      : message
  return new StorageError(
    'invalid',
    `This ${what} was not saved: "${field}" ${words}. What you typed is still here; change it and save again.`,
  )
}
const isPending = (value: unknown): value is Pending =>
  typeof value === 'object' &&
  value !== null &&
  Array.isArray((value as Pending).documents) &&
  Array.isArray((value as Pending).entries)

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
