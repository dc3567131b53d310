import { describe, expect, test } from '@jest/globals'
import { documentsOf, instantOf, ok, recordOf, revised, toFile, type Entry, type RegisterDocument } from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { defaultSettings } from '@brinvo/core'
import { openKeyStore, type KeyStore } from '../src/data/keyStore.ts'
import {
  browserLock,
  CAME_IN,
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
let acts = 0
/** One act of documents and entries, as the house would have answered it. */
const put = (repository: Repository, documents: readonly RegisterDocument[], entries: readonly Entry[]) =>
  repository.commit(() => ok({ actId: `act-${++acts}`, documents, entries, said: '', already: false }))
const append = (repository: Repository, entries: readonly Entry[]) => put(repository, [], entries)
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
    await append(first.repository, [note(1), note(2)])
    expect(first.posts()).toBe(1)
    expect((await setup(store).repository.load()).entries.map(({ id }) => id)).toEqual(['n-000001', 'n-000002'])
  })
  test('seals old entries into segments and loses none', async () => {
    const { repository, store } = setup()
    const many = Array.from({ length: SEGMENT_SIZE + 150 }, (_, i) => note(i))
    await append(repository, many.slice(0, SEGMENT_SIZE))
    await append(repository, many.slice(SEGMENT_SIZE))
    const keys = await store.keys()
    expect(keys.filter((key) => key.includes('/segment/'))).toHaveLength(1)
    expect(keys.filter((key) => key.includes('/entry/'))).toHaveLength(150)
    expect((await repository.load()).entries).toEqual(many)
  })
  test('a whole table at once is sealed from the beginning, and stands whole wherever the tab dies', async () => {
    const table = Array.from({ length: 2 * SEGMENT_SIZE + 20 }, (_, i) => note(i))
    const { repository, store } = setup()
    await append(repository, [note(900_000)])
    await append(repository, table)
    expect((await store.keys()).filter((key) => key.includes('/entry/'))).toHaveLength(1)
    expect((await repository.load()).entries).toHaveLength(table.length + 1)
    // The tab dies before each of its writes in turn: nothing of it is there, or all of it, and never twice.
    for (let writes = 0; writes < 8; writes++) {
      const kept = setup()
      await append(kept.repository, [note(900_000)])
      let left = writes
      const dying: KeyStore = {
        ...kept.store,
        set: async (key, value) => {
          if (left-- <= 0) throw new Error('the tab is gone')
          await kept.store.set(key, value)
        },
      }
      await append(setup(dying).repository, table).catch(() => undefined)
      const found = (await setup(kept.store).repository.load()).entries.length
      expect([1, table.length + 1]).toContain(found)
      // The next act finishes what was begun.
      await append(setup(kept.store).repository, [note(900_001)])
      expect((await setup(kept.store).repository.load()).entries).toHaveLength(found + 1)
    }
  })
  test('replaces everything or nothing', async () => {
    const { repository } = setup()
    await append(repository, [note(1)])
    await repository.replaceAll(demo)
    expect(await file(repository)).toEqual(toFile(demo, '2026-11-23T18:20:00.000Z'))
  })
  test('an import that fails half way leaves the old record whole', async () => {
    const store = openKeyStore(`test-${++database}`)
    const { repository } = setup(store)
    await append(repository, [note(1)])
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
    await put(repository, [next], [])
    await expect(
      put(repository, [revised(tub, { ...tub.body, name: 'Tub three' }, instantOf(NOW))], []),
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
    await put(repository, [document('aaa'), document('bbb')], [note(1), note(2)])
    expect((await repository.load()).gear.size).toBe(2)
    expect((await repository.load()).entries).toHaveLength(2)
    expect(posts()).toBe(1)
    // One of them is stale: none is written.
    await expect(put(repository, [document('ccc'), document('aaa')], [note(3)])).rejects.toMatchObject({
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
    await expect(put(setup(dying).repository, [document('ddd'), document('eee')], [note(4)])).rejects.toThrow()
    const after = await repository.load()
    expect([...after.gear.keys()].sort()).toEqual(['aaa', 'bbb', 'ddd', 'eee'])
    expect(after.entries).toHaveLength(3)
    await append(repository, [note(5)])
    expect((await store.keys()).filter((key) => key.includes('/pending'))).toEqual([])
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
    await expect(append(repository, [note(1)])).rejects.toBeInstanceOf(StorageError)
  })
  test('what could not be read back is not written, and the sentence names the field', async () => {
    const { repository } = setup()
    await expect(append(repository, [{ ...note(1), note: 'x'.repeat(4500) } as Entry])).rejects.toMatchObject({
      kind: 'invalid',
      message: expect.stringMatching(/"note" is longer than 4000 letters/),
    })
    for (const at of ['+020276-01-01T00:00:00.000Z', '2026-13-01T00:00:00.000Z', '2026-02-30T10:00:00.000Z'])
      await expect(append(repository, [{ ...note(2), at } as Entry])).rejects.toMatchObject({ kind: 'invalid' })
    const tub = demo.vessels.get('tub')!
    const long = { ...tub, revision: 1, body: { ...tub.body, name: 'n'.repeat(81) } }
    await expect(put(repository, [long], [])).rejects.toMatchObject({
      kind: 'invalid',
      message: expect.stringMatching(/"name" is longer than 80 letters/),
    })
    expect((await repository.load()).entries).toEqual([])
  })
  test('an act is asked with what another tab wrote a moment ago', async () => {
    const store = openKeyStore(`test-${++database}`)
    const [here, there] = [setup(store).repository, setup(store).repository]
    await here.load()
    await there.load()
    await append(there, [note(1)])
    let seen = -1
    await here.commit((record) => {
      seen = record.entries.length
      return ok({ actId: 'late', documents: [], entries: [note(2)], said: '', already: false })
    })
    expect(seen).toBe(1)
    // And what the house refuses is not written.
    const refused = await here.commit(() => ({ ok: false, error: 'not so' }))
    expect(refused).toEqual({ ok: false, problem: 'not so' })
    expect((await there.load()).entries).toHaveLength(2)
  })
  test('two tabs without a lock lose nothing: each commit has a pending key of its own', async () => {
    const store = openKeyStore(`test-${++database}`)
    const bare = () =>
      createRepository({
        store,
        lock: (_name, job) => job(),
        channel: { post: () => undefined, subscribe: () => () => undefined },
        freshSettings: () => settings,
      })
    const [one, two] = [bare(), bare()]
    await one.load()
    await Promise.all(Array.from({ length: 40 }, (_, i) => append(i % 2 === 0 ? one : two, [note(i)])))
    expect((await bare().load()).entries).toHaveLength(40)
    expect((await store.keys()).filter((key) => key.includes('/pending'))).toEqual([])
  })
  test('an import is kept apart from what was there, and taken back with one call', async () => {
    const { repository, store } = setup()
    await append(repository, [note(1), note(2)])
    await repository.load()
    await repository.replaceAll(demo, {}, { keep: true })
    expect((await repository.load()).entries).toHaveLength(demo.entries.length)
    expect(await repository.previous()).toMatchObject({ entries: 2 })
    await repository.undoReplace()
    expect((await repository.load()).entries.map(({ id }) => id)).toEqual(['n-000001', 'n-000002'])
    await repository.undoReplace()
    expect(await file(repository)).toEqual(toFile(demo, '2026-11-23T18:20:00.000Z'))
    await repository.dropPrevious()
    expect(await repository.previous()).toBeNull()
    expect(new Set((await store.keys()).flatMap((key) => /^g\d+/.exec(key)?.[0] ?? []))).toHaveProperty('size', 1)
  })
  test('another record joins the one of this moment, is marked as come in, and is taken back with one call', async () => {
    const store = openKeyStore(`test-${++database}`)
    const { repository } = setup(store)
    await append(repository, [note(1)])
    await repository.load()
    await repository.setFact('kept', 'yes')
    // Another tab writes before the joining begins.
    await append(setup(store).repository, [note(2)])
    const theirs = recordOf(settings, [], [note(1), note(3)])
    const joined = await repository.join(theirs, NOW + 1000)
    expect(joined.cameEntries.map(({ id }) => id)).toEqual(['n-000003'])
    expect((await repository.load()).entries.map(({ id }) => id)).toEqual(['n-000001', 'n-000002', 'n-000003'])
    const facts = await repository.facts()
    expect(facts['kept']).toBe('yes')
    expect(JSON.parse(facts[CAME_IN]!)).toMatchObject({ entries: ['n-000003'], documents: [] })
    expect((await repository.join(theirs, NOW + 2000)).cameEntries).toEqual([])
    // Only the newest joining is kept to go back from: this one brought nothing.
    await repository.undoReplace()
    expect((await repository.load()).entries).toHaveLength(3)
  })
  test('one press takes a joining back', async () => {
    const { repository } = setup()
    await append(repository, [note(1)])
    await repository.join(recordOf(settings, [], [note(2)]), NOW + 1000)
    await repository.undoReplace()
    expect((await repository.load()).entries.map(({ id }) => id)).toEqual(['n-000001'])
  })
  test('a joining that is cut off at any write leaves the record as it was', async () => {
    // Settings, a segment, the manifest.
    for (const at of [1, 2, 3]) {
      const store = openKeyStore(`test-${++database}`)
      await append(setup(store).repository, [note(1)])
      let writes = 0
      const dying: KeyStore = {
        ...store,
        set: (key, value) => (++writes >= at ? Promise.reject(new Error('cut off')) : store.set(key, value)),
      }
      await expect(setup(dying).repository.join(recordOf(settings, [], [note(2)]), NOW + 1000)).rejects.toThrow()
      const after = await setup(store).repository.load()
      expect(after.entries.map(({ id }) => id)).toEqual(['n-000001'])
    }
  })
  test('a full store can be emptied, and a file taken in its place', async () => {
    const store = openKeyStore(`test-${++database}`)
    await setup(store).repository.replaceAll(demo)
    const size = async () => (await store.keys()).length
    const most = await size()
    const full: KeyStore = {
      ...store,
      set: async (key, value) => {
        const known = await store.get(key)
        if (known === null && (await size()) >= most)
          throw Object.assign(new Error('full'), { name: 'QuotaExceededError' })
        await store.set(key, value)
      },
    }
    const { repository } = setup(full)
    await repository.load()
    await expect(repository.replaceAll(demo, {}, { keep: true })).rejects.toMatchObject({ kind: 'full' })
    await repository.replaceAll(demo, {}, { inPlace: true })
    expect(await file(repository)).toEqual(toFile(demo, '2026-11-23T18:20:00.000Z'))
    await repository.wipe(settings)
    expect((await repository.load()).entries).toEqual([])
  })
  test.each([
    ['an entry that is nothing', 'g1/entry/n-000001', null],
    ['an entry without a time', 'g1/entry/n-000001', { ...note(1), at: 'soon' }],
    ['an entry of an impossible month', 'g1/entry/n-000001', { ...note(1), at: '2026-13-01T10:00:00.000Z' }],
    ['a vessel without a body', 'g1/register/vessel/tub', { ...demo.vessels.get('tub')!, body: null }],
    [
      'a course without its protocol',
      'g1/register/course/c',
      {
        ...demo.courses.get('fallow-longshore')!,
        body: { ...demo.courses.get('fallow-longshore')!.body, protocol: {} },
      },
    ],
    ['settings of an unknown zone', 'g1/settings', { ...settings, zone: 'Mars/North' }],
    ['settings that are text', 'g1/settings', 'dark'],
    ['a segment that is no list', 'g1/segment/0', 'x'],
    ['a pending that is no commit', 'g1/pending/x', 7],
    ['a manifest that is text', 'manifest', 'hello'],
  ])('%s is set aside, named and kept; the rest opens', async (_name, key, value) => {
    const store = openKeyStore(`test-${++database}`)
    const { repository } = setup(store)
    await append(repository, [note(1), note(2), note(3)])
    if (key === 'g1/segment/0')
      await store.set('manifest', { ...((await store.get('manifest')) as object), segments: 1 })
    await store.set(key, value)
    const record = await setup(store).repository.load()
    expect(record.entries.length).toBeGreaterThanOrEqual(2)
    expect(record.settings.zone).toBe('Europe/Berlin')
    const aside = await repository.aside()
    expect(aside.map((one) => one.key)).toEqual([key])
    expect(aside[0]!.value ?? null).toEqual(value)
    expect(aside[0]!.why.length).toBeGreaterThan(3)
    // It is writable again, and what was set aside stays until it is let go.
    await append(setup(store).repository, [note(9)])
    expect((await setup(store).repository.load()).entries.some(({ id }) => id === 'n-000009')).toBe(true)
    expect(await repository.aside()).toHaveLength(1)
    await repository.dropAside()
    expect(await repository.aside()).toEqual([])
  })
  test('of a sealed segment only the damaged line goes', async () => {
    const store = openKeyStore(`test-${++database}`)
    const { repository } = setup(store)
    await append(
      repository,
      Array.from({ length: SEGMENT_SIZE + 150 }, (_, i) => note(i)),
    )
    const segment = (await store.get('g1/segment/0')) as Entry[]
    await store.set('g1/segment/0', [{ ...segment[0]!, recordedAt: 4 }, ...segment.slice(1)])
    expect((await setup(store).repository.load()).entries).toHaveLength(SEGMENT_SIZE + 149)
    expect(await repository.aside()).toHaveLength(1)
    expect((await setup(store).repository.load()).entries).toHaveLength(SEGMENT_SIZE + 149)
    expect(await repository.aside()).toHaveLength(1)
  })
  test('a value that only the schema finds wrong is set aside when the whole is looked through', async () => {
    const store = openKeyStore(`test-${++database}`)
    const { repository } = setup(store)
    await append(repository, [note(1), note(2)])
    await store.set('g1/entry/n-000001', { ...note(1), note: 7 })
    expect(await setup(store).repository.inspect()).toBe(1)
    expect((await repository.aside())[0]!.why).toMatch(/note/)
  })
  test('a store that never answers is told', async () => {
    const silent: KeyStore = { ...openKeyStore(`test-${++database}`), get: () => new Promise(() => undefined) }
    const repository = createRepository({
      store: silent,
      lock: browserLock(),
      channel: { post: () => undefined, subscribe: () => () => undefined },
      freshSettings: () => settings,
      patienceMs: 30,
    })
    await expect(repository.load()).rejects.toMatchObject({ kind: 'silent' })
  })
  test('writes of two repositories on one store follow each other', async () => {
    const { repository } = setup()
    await Promise.all(Array.from({ length: 20 }, (_, i) => append(repository, [note(i)])))
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
