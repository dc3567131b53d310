// The newest acts stand twice: what the record loses is put back at the next start, and of a record that is gone it is offered.
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals'
import { defaultSettings, instantOf, ok, recordOf, type Entry, type RegisterDocument } from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import type { KeyStore } from '../src/data/keyStore.ts'
import { newestIn } from '../src/data/newest.ts'
import { browserLock, CAME_IN, createRepository, type Repository } from '../src/data/repository.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const settings = defaultSettings('Europe/Berlin')
const tub = demoRecord({ seed: 7, anchorMs: NOW, zone: 'Europe/Berlin' }).vessels.get('tub')!

/** A store in memory whose keys can be taken away as a damaged disk would. */
function memory(): KeyStore & { readonly map: Map<string, unknown> } {
  const map = new Map<string, unknown>()
  return {
    map,
    get: async (key) => structuredClone(map.get(key) ?? null),
    set: async (key, value) => void map.set(key, structuredClone(value)),
    remove: async (key) => void map.delete(key),
    each: async (visit) => [...map].forEach(([key, value]) => visit(key, structuredClone(value))),
    keys: async () => [...map.keys()],
  }
}
const started = (store: KeyStore): Repository =>
  createRepository({
    store,
    lock: browserLock(),
    channel: { post: () => undefined, subscribe: () => () => undefined },
    freshSettings: () => settings,
    newest: newestIn(() => localStorage),
  })
const note = (i: number): Entry =>
  ({
    kind: 'note',
    id: `n-${i}`,
    at: instantOf(NOW + i),
    zone: 'UTC',
    recordedAt: instantOf(NOW + i),
    note: String(i),
  }) as unknown as Entry
let acts = 0
const put = (repository: Repository, entries: readonly Entry[], documents: readonly RegisterDocument[] = []) =>
  repository.commit(() => ok({ actId: `act-${++acts}`, documents, entries, said: '', already: false }))
const ids = async (repository: Repository) => (await repository.load()).entries.map(({ id }) => id)
const twice = () => Object.keys(localStorage).filter((key) => key.startsWith('brinvo-newest/')).length

/** Only here: what stands outside of a block would hold for every file that shares the run. */
const ownTime = () => {
  beforeEach(() => {
    localStorage.clear()
    jest.useFakeTimers({
      now: NOW,
      doNotFake: ['setTimeout', 'clearTimeout', 'setImmediate', 'queueMicrotask', 'nextTick'],
    })
  })
  afterEach(() => {
    jest.useRealTimers()
  })
}
const later = (ms: number) => jest.setSystemTime(Date.now() + ms)

describe('the second copy of the newest', () => {
  ownTime()
  test('puts back at the next start what the record has lost, and says so', async () => {
    const store = memory()
    const first = started(store)
    await put(first, [note(1)])
    await put(first, [note(2), note(3)], [tub])
    store.map.delete('g1/entry/n-3')
    store.map.delete('g1/register/vessel/tub')
    const next = started(store)
    expect(await ids(next)).toEqual(['n-1', 'n-2', 'n-3'])
    expect((await next.load()).vessels.get('tub')).toEqual(tub)
    const came = JSON.parse((await next.facts())[CAME_IN]!) as { entries: string[]; notices: string[]; own?: true }
    expect(came.own).toBe(true)
    expect(came.entries).toEqual(['n-3'])
    expect(came.notices[0]).toMatch(/had lost them/)
  })
  test('lets go what the next start has seen, once it is surely on the disk', async () => {
    const store = memory()
    await put(started(store), [note(1)])
    await started(store).load()
    expect(twice()).toBe(1)
    later(61_000)
    await started(store).load()
    expect(twice()).toBe(0)
    // An entry that is gone by then is gone: the copy was only for the newest.
    expect(await ids(started(store))).toEqual(['n-1'])
  })
  test('a record that the browser lost whole is not made up from its last acts: they wait for the last backup', async () => {
    const store = memory()
    const first = started(store)
    await put(first, [], [tub])
    await put(first, [note(1)])
    store.map.clear()
    later(1000)
    const next = started(store)
    expect(await ids(next)).toEqual([])
    expect(await next.lost()).toMatchObject({ entries: 1 })
    await next.replaceAll(recordOf(settings, [tub], [note(0)]), undefined, { keep: true })
    expect(await next.lost()).toMatchObject({ entries: 1 })
    await next.putLostBack(Date.now())
    expect(await ids(next)).toEqual(['n-0', 'n-1'])
    expect(await next.lost()).toBeNull()
  })
  test('an import, its undoing, a joining and an emptying leave nothing that would come back by itself', async () => {
    const store = memory()
    const repository = started(store)
    await put(repository, [note(1)])
    await repository.replaceAll(recordOf(settings, [], [note(5)]), undefined, { keep: true })
    expect(await ids(started(store))).toEqual(['n-5'])
    await put(repository, [note(6)])
    await repository.undoReplace()
    expect(await ids(started(store))).toEqual(['n-1'])
    await repository.join(recordOf(settings, [], [note(7)]), NOW)
    expect(await repository.lost()).toBeNull()
    await put(repository, [note(8)])
    await repository.wipe(settings)
    expect(await ids(started(store))).toEqual([])
    expect([await repository.lost(), twice()]).toEqual([null, 0])
  })
  test('keeps the newest where there is no room for all of them, and passes over a whole table', async () => {
    const repository = started(memory())
    const long = (i: number): Entry => ({ ...note(i), note: 'x'.repeat(4000) }) as Entry
    await put(
      repository,
      Array.from({ length: 100 }, (_, i) => long(i)),
    )
    expect(twice()).toBe(0)
    for (let act = 0; act < 12; act++) {
      later(10)
      await put(
        repository,
        Array.from({ length: 40 }, (_, i) => long(1000 + act * 100 + i)),
      )
    }
    const kept = newestIn(() => localStorage).all()
    expect(kept.length).toBeLessThan(12)
    expect(kept.at(-1)!.entries[0]!.id).toBe('n-2100')
    expect(kept.reduce((sum, act) => sum + JSON.stringify(act).length, 0)).toBeLessThanOrEqual(1_500_000)
  })
  test('what another tab empties while this one reads is not taken for lost', async () => {
    const store = memory()
    await put(started(store), [note(1)])
    let emptied = false
    const reading: KeyStore = {
      ...store,
      async each(visit) {
        if (!emptied) {
          emptied = true
          await started(store).wipe(settings)
          // The second copy as this tab saw it before.
          localStorage.setItem(`brinvo-newest/${String(NOW).padStart(15, '0')}-${kept.actId}`, JSON.stringify(kept))
        }
        await store.each(visit)
      },
    }
    const [kept] = newestIn(() => localStorage).all() as [ReturnType<ReturnType<typeof newestIn>['all']>[number]]
    expect(await ids(started(reading))).toEqual([])
    expect(await ids(started(store))).toEqual([])
  })
  test('a browser without a second place writes once, as ever', async () => {
    const store = memory()
    const repository = createRepository({
      store,
      lock: browserLock(),
      channel: { post: () => undefined, subscribe: () => () => undefined },
      freshSettings: () => settings,
      newest: newestIn(() => {
        throw new Error('denied')
      }),
    })
    await put(repository, [note(1)])
    expect(await ids(repository)).toEqual(['n-1'])
  })
})

describe('emptying', () => {
  ownTime()
  test('keeps the settings that it was given', async () => {
    const store = memory()
    await put(started(store), [note(1)], [tub])
    await started(store).wipe({ ...settings, theme: 'lights-out' })
    expect((await started(store).load()).settings.theme).toBe('lights-out')
  })
  test('cut off at any removal, the record is empty or whole, and never something between', async () => {
    const whole = memory()
    const first = started(whole)
    for (let i = 0; i < 6; i++) await put(first, [note(i)], i === 0 ? [tub] : [])
    const steps = [...whole.map.keys()].length + 4
    const found = new Set<number>()
    for (let at = 0; at < steps; at++) {
      const store = memory()
      for (const [key, value] of whole.map) store.map.set(key, structuredClone(value))
      let writes = 0
      const dying: KeyStore = {
        ...store,
        set: (key, value) => (writes++ >= at ? Promise.reject(new Error('cut off')) : store.set(key, value)),
        remove: (key) => (writes++ >= at ? Promise.reject(new Error('cut off')) : store.remove(key)),
      }
      localStorage.clear()
      await started(dying)
        .wipe(settings)
        .catch(() => undefined)
      const after = await started(store).load()
      found.add(after.entries.length + after.vessels.size)
    }
    expect([...found].sort((a, b) => a - b)).toEqual([0, 7])
  })
})
