// A hand-over sends only what the other lacks; what both end with is what a whole file would have brought.
import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  documentsOf,
  instantOf,
  inventoryOf,
  joinRecords,
  missingOf,
  recordOf,
  revised,
  wholeOf,
  type Entry,
  type KeeperRecord,
} from '../src/index.ts'
import { NOW, read, reefWith } from './reef.ts'

const base = reefWith([], [read('alkalinity', 8, 20), read('calcium', 410, 19)])
const withEntries = (record: KeeperRecord, entries: readonly Entry[]) =>
  recordOf(record.settings, documentsOf(record), [...record.entries, ...entries])
const renamed = (record: KeeperRecord, name: string, atMs: number) => {
  const vessel = record.vessels.get('reef')!
  return recordOf(
    record.settings,
    [
      ...documentsOf(record).filter(({ id }) => id !== 'reef'),
      revised(vessel, { ...vessel.body, name }, instantOf(atMs)),
    ],
    record.entries,
  )
}
const stateOf = (record: KeeperRecord): string =>
  JSON.stringify([
    [...record.entries].sort((a, b) => (a.id < b.id ? -1 : 1)),
    documentsOf(record).sort((a, b) => (`${a.register}${a.id}` < `${b.register}${b.id}` ? -1 : 1)),
  ])
/** What a device makes of a hand-over: the other's record put together again, and joined. */
const handed = (mine: KeeperRecord, theirs: KeeperRecord) => {
  const lacks = missingOf(theirs, [], inventoryOf(mine, []))
  return { lacks, joined: joinRecords(mine, wholeOf(mine, inventoryOf(theirs, []), lacks), NOW) }
}

describe('a hand-over', () => {
  test('sends nothing between two that have the same', () => {
    const { lacks } = handed(base, base)
    expect(lacks).toEqual({ entries: [], documents: [], pictures: [] })
  })
  test('sends one reading where one is new, and no vessel', () => {
    const one = read('nitrate', 6, 1)
    const { lacks } = handed(base, withEntries(base, [one]))
    expect(lacks.entries.map(({ id }) => id)).toEqual([one.id])
    expect(lacks.documents).toEqual([])
  })
  test('of a vessel that was changed on both sides sends it, and names the same conflict as a file', () => {
    const [here, there] = [renamed(base, 'By the door', NOW - 5000), renamed(base, 'In the hall', NOW - 3000)]
    const { lacks, joined } = handed(here, there)
    expect(lacks.documents.map(({ id }) => id)).toEqual(['reef'])
    expect(joined.conflicts).toHaveLength(1)
  })
  test('pictures travel where an entry speaks of them and the other has none', () => {
    const shown = { ...read('alkalinity', 8, 1), kind: 'photo', photoId: 'p-1' } as unknown as Entry
    const record = withEntries(base, [shown])
    expect(missingOf(record, ['p-1', 'orphan'], inventoryOf(base, [])).pictures).toEqual(['p-1'])
    expect(missingOf(record, ['p-1'], inventoryOf(base, ['p-1'])).pictures).toEqual([])
  })
  test('a part that was held back is noticed, not taken for nothing', () => {
    const there = renamed(base, 'In the hall', NOW - 3000)
    expect(() => wholeOf(base, inventoryOf(there, []), { entries: [], documents: [] })).toThrow(/1 parts are missing/)
  })
  test('whatever either wrote: both end where a file would have brought them', () => {
    const write = fc.oneof(
      fc.record({
        kind: fc.constant('read' as const),
        value: fc.integer({ min: 60, max: 120 }),
        ago: fc.integer({ min: 1, max: 40 }),
      }),
      fc.record({
        kind: fc.constant('name' as const),
        value: fc.integer({ min: 1, max: 9 }),
        ago: fc.integer({ min: 1, max: 40 }),
      }),
    )
    fc.assert(
      fc.property(fc.array(write, { maxLength: 6 }), fc.array(write, { maxLength: 6 }), (ours, others) => {
        const written = (list: typeof ours) =>
          list.reduce(
            (record, { kind, value, ago }) =>
              kind === 'read'
                ? withEntries(record, [read('alkalinity', value / 10, ago)])
                : renamed(record, `Reef ${value}`, NOW - ago * 60_000),
            base,
          )
        const [here, there] = [written(ours), written(others)]
        const { joined } = handed(here, there)
        const byFile = joinRecords(here, there, NOW)
        expect(stateOf(joined.record)).toBe(stateOf(byFile.record))
        expect(joined.notices).toEqual(byFile.notices)
        expect(joined.onlyHere).toBe(byFile.onlyHere)
        expect(stateOf(handed(there, here).joined.record)).toBe(stateOf(joined.record))
      }),
      { numRuns: 150 },
    )
  })
})
