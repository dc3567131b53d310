import { describe, expect, test } from '@jest/globals'
import { documentsOf, instantOf, revised, toFile, type Entry, type RegisterDocument } from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { defaultSettings } from '@brinvo/core'
import { openKeyStore, type KeyStore } from '../src/data/keyStore.ts'
import {
  browserLock,
  createRepository,
  SEGMENT_SIZE,
  StorageError,
  storageError,
  type Repository,
} from '../src/data/repository.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: 'Europe/Berlin' })
const settings = defaultSettings('Europe/Berlin')
let database = 0

function setup(store: KeyStore = openKeyStore(`test-${++database}`)): {
  repository: Repository
  store: KeyStore
  posts: () => number
} {
  let posts = 0
  const repository = createRepository({
    store,
    lock: browserLock(),
    channel: { post: () => posts++, subscribe: () => () => undefined },
    freshSettings: () => settings,
  })
  return { repository, store, posts: () => posts }
}
const note = (i: number): Entry =>
  ({
    kind: 'note',
    id: `n-${String(i).padStart(6, '0')}`,
    at: instantOf(NOW + i),
    zone: 'UTC',
    recordedAt: instantOf(NOW + i),
    note: String(i),
  }) as unknown as Entry
const file = async (repository: Repository) => toFile(await repository.load(), '2026-11-23T18:20:00.000Z')

describe('the repository on IndexedDB', () => {
  test('starts empty, with fresh settings', async () => {
    const record = await setup().repository.load()
    expect(record.entries).toEqual([])
    expect(record.settings).toEqual(settings)
  })
  test('what was appended is there after opening again', async () => {
    const store = openKeyStore(`test-${++database}`)
    const first = setup(store)
    await first.repository.append([note(1), note(2)])
    expect(first.posts()).toBe(1)
    expect((await setup(store).repository.load()).entries.map(({ id }) => id)).toEqual(['n-000001', 'n-000002'])
  })
  test('seals old entries into segments and loses none', async () => {
    const { repository, store } = setup()
    const many = Array.from({ length: SEGMENT_SIZE + 150 }, (_, i) => note(i))
    await repository.append(many)
    const keys = await store.keys()
    expect(keys.filter((key) => key.includes('/segment/'))).toHaveLength(1)
    expect(keys.filter((key) => key.includes('/entry/'))).toHaveLength(150)
    expect((await repository.load()).entries).toEqual(many)
  })
  test('replaces everything or nothing', async () => {
    const { repository } = setup()
    await repository.append([note(1)])
    await repository.replaceAll(demo)
    expect(await file(repository)).toEqual(toFile(demo, '2026-11-23T18:20:00.000Z'))
  })
  test('an import that fails half way leaves the old record whole', async () => {
    const store = openKeyStore(`test-${++database}`)
    const { repository } = setup(store)
    await repository.append([note(1)])
    let writes = 0
    const failing: KeyStore = {
      ...store,
      set: async (key, value) => {
        if (++writes > 12) throw Object.assign(new Error('full'), { name: 'QuotaExceededError' })
        await store.set(key, value)
      },
    }
    await expect(setup(failing).repository.replaceAll(demo)).rejects.toMatchObject({
      name: 'StorageError',
      kind: 'full',
    })
    expect((await setup(store).repository.load()).entries.map(({ id }) => id)).toEqual(['n-000001'])
    // And the next import is not mixed with what the broken one left behind.
    await repository.replaceAll(demo)
    expect(await file(repository)).toEqual(toFile(demo, '2026-11-23T18:20:00.000Z'))
  })
  test('a document changed elsewhere in the meantime is a conflict, not an overwrite', async () => {
    const { repository } = setup()
    await repository.replaceAll(demo)
    const tub = demo.vessels.get('tub')!
    const next = revised(tub, { ...tub.body, name: 'Tub two' }, instantOf(NOW))
    await repository.saveDocument(next)
    await expect(
      repository.saveDocument(revised(tub, { ...tub.body, name: 'Tub three' }, instantOf(NOW))),
    ).rejects.toMatchObject({ kind: 'conflict' })
    expect((await repository.load()).vessels.get('tub')!.body.name).toBe('Tub two')
  })
  test('what belongs together is written together, and a tab that dies half way leaves nothing half done', async () => {
    const document = (id: string, revision = 1) =>
      ({
        register: 'gear',
        id,
        revision,
        savedAt: instantOf(NOW),
        body: { name: id, sort: 'net', homeVesselId: null },
        history: [],
      }) as unknown as RegisterDocument
    const { repository, store, posts } = setup()
    await repository.commit([document('a'), document('b')], [note(1), note(2)])
    expect((await repository.load()).gear.size).toBe(2)
    expect((await repository.load()).entries).toHaveLength(2)
    expect(posts()).toBe(1)
    // One of them is stale: none is written.
    await expect(repository.commit([document('c'), document('a')], [note(3)])).rejects.toMatchObject({
      kind: 'conflict',
    })
    expect((await repository.load()).gear.size).toBe(2)
    expect((await repository.load()).entries).toHaveLength(2)
    // The tab dies between the first and the second of its writes: the next one finds the rest.
    let left = 2
    const dying: KeyStore = {
      ...store,
      set: async (key, value) => {
        if (left-- <= 0) throw new Error('the tab is gone')
        await store.set(key, value)
      },
    }
    await expect(setup(dying).repository.commit([document('d'), document('e')], [note(4)])).rejects.toThrow()
    const after = await repository.load()
    expect([...after.gear.keys()].sort()).toEqual(['a', 'b', 'd', 'e'])
    expect(after.entries).toHaveLength(3)
    await repository.append([note(5)])
    expect((await store.keys()).filter((key) => key.endsWith('/pending'))).toEqual([])
    expect((await repository.load()).entries).toHaveLength(4)
    expect((await repository.load()).gear.size).toBe(4)
  })
  test('settings, facts and wiping', async () => {
    const { repository } = setup()
    await repository.replaceAll(demo, { anchor: 'today' })
    await repository.saveSettings({ ...settings, theme: 'lights-out' })
    await repository.setFact('touched', 'yes')
    expect((await repository.load()).settings.theme).toBe('lights-out')
    expect(await repository.facts()).toEqual({ anchor: 'today', touched: 'yes' })
    await repository.wipe(settings)
    const record = await repository.load()
    expect([record.entries, documentsOf(record)]).toEqual([[], [] as RegisterDocument[]])
  })
  test('a store written by a newer program is refused before anything is read', async () => {
    const { repository, store } = setup()
    await store.set('manifest', { schemaVersion: 99, generation: 1, segments: 0, facts: {} })
    await expect(repository.load()).rejects.toMatchObject({
      kind: 'newer',
      message: expect.stringMatching(/version 99/),
    })
    await expect(repository.append([note(1)])).rejects.toBeInstanceOf(StorageError)
  })
  test('writes of two repositories on one store follow each other', async () => {
    const { repository } = setup()
    await Promise.all(Array.from({ length: 20 }, (_, i) => repository.append([note(i)])))
    expect((await repository.load()).entries).toHaveLength(20)
  })
})

test.each([
  [{ name: 'QuotaExceededError' }, 'full'],
  [{ name: 'InvalidStateError' }, 'unavailable'],
  [null, 'unavailable'],
])('a storage failure %j becomes a sentence', (cause, kind) => {
  const error = storageError(cause)
  expect(error.kind).toBe(kind)
  expect(error.message.length).toBeGreaterThan(40)
})
