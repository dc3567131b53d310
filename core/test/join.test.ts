// Two and three devices that write apart: nothing is lost, and whoever joins in whatever order ends with the same record.
import { describe, expect, test } from '@jest/globals'
import {
  activeEntries,
  documentsOf,
  instantOf,
  joinRecords,
  recordOf,
  revised,
  type Entry,
  type KeeperRecord,
  type RegisterDocument,
} from '../src/index.ts'
import { readFile } from '../src/file.ts'
import { toFile } from '../src/record/format.ts'
import { conflictsOf, headsOf, versionsOf } from '../src/record/versions.ts'
import { DAY, documentOf, entryAgo, NOW, read, reefWith } from './reef.ts'

const HOUR = 3_600_000
const base = reefWith([], [read('alkalinity', 8, 20)])
const bodyOf = (record: KeeperRecord) => record.vessels.get('reef')!.body
const withEntries = (record: KeeperRecord, ...entries: Entry[]) =>
  recordOf(record.settings, documentsOf(record), [...record.entries, ...entries])
const withBody = (record: KeeperRecord, change: object, atMs: number) => {
  const vessel = record.vessels.get('reef')!
  return recordOf(
    record.settings,
    [...documentsOf(record), revised(vessel, { ...vessel.body, ...change }, instantOf(atMs))],
    record.entries,
  )
}
/** All that a record says, in an order that owes nothing to the device. */
const stateOf = (record: KeeperRecord): string =>
  JSON.stringify([
    [...record.entries].sort((a, b) => (a.id < b.id ? -1 : 1)),
    documentsOf(record).sort((a, b) => (`${a.register}${a.id}` < `${b.register}${b.id}` ? -1 : 1)),
  ])
const join = (a: KeeperRecord, b: KeeperRecord) => joinRecords(a, b, NOW)

describe('entries', () => {
  test('of both are there, each once, and who asks twice gets nothing new', () => {
    const phone = withEntries(base, read('calcium', 420, 1))
    const laptop = withEntries(base, read('magnesium', 1300, 2))
    const joined = join(laptop, phone)
    expect(joined.cameEntries).toHaveLength(1)
    expect(joined.onlyHere).toBe(1)
    expect(joined.record.entries).toHaveLength(base.entries.length + 2)
    expect(stateOf(joined.record)).toBe(stateOf(join(phone, laptop).record))
    expect(join(joined.record, phone)).toMatchObject({ cameEntries: [], cameDocuments: [] })
  })
  test('of two corrections of one entry the later counts, on both sides, and it is told', () => {
    const [first] = base.entries.filter(({ kind }) => kind === 'reading')
    const put = (value: number, ago: number) => read('alkalinity', value, ago, { corrects: first!.id })
    const [a, b] = [put(8.4, 2), put(8.6, 1)]
    const joined = join(withEntries(base, a), withEntries(base, b))
    const standing = activeEntries(joined.record.entries).flatMap((entry) =>
      entry.kind === 'reading' && entry.analyte === 'alkalinity' ? [entry.value] : [],
    )
    expect(standing).toEqual([8.6])
    expect(joined.notices.map(({ kind }) => kind)).toContain('corrected')
    // Struck out, it gives the other one back.
    const struck = withEntries(joined.record, entryAgo({ kind: 'void', voids: b.id, reason: 'wrong' }, 0.5))
    expect(activeEntries(struck.entries).flatMap((entry) => (entry.kind === 'reading' ? [entry.value] : []))).toContain(
      8.4,
    )
  })
  test('of a time still to come are told of as a clock that goes ahead', () => {
    const joined = join(base, withEntries(base, read('calcium', 420, -2)))
    expect(joined.notices.map(({ kind }) => kind)).toEqual(['clock'])
  })
  test('an animal that both moved is named, with where it is by the later one', () => {
    const rooms = [
      ...documentsOf(base),
      documentOf('vessel', 'other', { ...bodyOf(base), name: 'Other' }),
      documentOf('resident', 'nemo', {
        name: 'Ember',
        commonName: 'Clownfish',
        group: 'hg-clown-damsel',
        count: 1,
        vesselId: 'reef',
        arrivedAt: instantOf(NOW - 60 * DAY),
      }),
    ]
    const home = recordOf(base.settings, rooms, base.entries)
    const move = (toVesselId: string | null, ago: number) =>
      entryAgo({ kind: 'move', residentId: 'nemo', toVesselId }, ago)
    const { notices } = join(withEntries(home, move('other', 3)), withEntries(home, move('reef', 2)))
    expect(notices).toEqual([
      expect.objectContaining({
        kind: 'moved',
        words: expect.stringMatching(/^Ember .*Other here.*later one it is in/),
      }),
    ])
    expect(join(withEntries(home, move('other', 3)), withEntries(home, move('other', 2))).notices).toEqual([])
  })
  test('a file in which nothing is known may be another keeper’s', () => {
    const stranger = recordOf(
      base.settings,
      [documentOf('vessel', 'pond', { ...bodyOf(base), name: 'Pond' })],
      [{ ...read('nitrate', 3, 1), vesselId: 'pond' } as Entry],
    )
    expect(join(base, stranger).strange).toBe(true)
    expect(join(base, base).strange).toBe(false)
  })
})

describe('documents', () => {
  const named = withBody(base, { name: 'Long reef' }, NOW - 2 * DAY)
  test('changed on one side only, its change comes in; later revisions win over their own past', () => {
    const joined = join(base, named)
    expect(bodyOf(joined.record).name).toBe('Long reef')
    expect(joined.conflicts).toEqual([])
    expect(stateOf(joined.record)).toBe(stateOf(named))
    expect(stateOf(join(named, base).record)).toBe(stateOf(named))
  })
  test('different fields on both sides: both changes stand, and nothing is to be settled', () => {
    const noted = withBody(base, { note: 'by the window' }, NOW - DAY)
    const joined = join(named, noted)
    expect(bodyOf(joined.record)).toMatchObject({ name: 'Long reef', note: 'by the window' })
    expect(joined.conflicts).toEqual([])
    expect(stateOf(joined.record)).toBe(stateOf(join(noted, named).record))
  })
  test('one field on both sides: the newer stands as a whole, both are kept and named, and settling makes it one', () => {
    const short = withBody(base, { name: 'Short reef', note: 'moved' }, NOW - DAY)
    const joined = join(named, short)
    expect(bodyOf(joined.record)).toEqual(bodyOf(short))
    const [{ document, fields }] = joined.conflicts as [(typeof joined.conflicts)[number]]
    expect(fields.map(({ field, said }) => [field, said.map(({ value }) => value)])).toEqual([
      ['name', ['Long reef', 'Short reef']],
    ])
    expect(versionsOf(document).map(({ body }) => body['name'])).toEqual(
      expect.arrayContaining(['Long reef', 'Short reef']),
    )
    const settled = revised(document, { ...document.body, name: 'Long reef' } as never, instantOf(NOW))
    expect(conflictsOf(settled)).toEqual([])
    expect(headsOf(versionsOf(settled))).toHaveLength(1)
    // The other side learns of it without a question.
    const there = join(joined.record, recordOf(base.settings, [settled], []))
    expect(there.conflicts).toEqual([])
    expect(bodyOf(there.record).name).toBe('Long reef')
  })
  test('a volume and that it was confirmed are one thing: changed apart, nobody confirmed what would come of it', () => {
    const measured = withBody(base, { nominalL: 250, volumeConfirmedAt: undefined }, NOW - 3 * DAY)
    const confirmed = withBody(base, { volumeConfirmedAt: instantOf(NOW - DAY) }, NOW - DAY)
    const joined = join(measured, confirmed)
    expect(bodyOf(joined.record)).toEqual(bodyOf(confirmed))
    expect(joined.conflicts[0]!.fields.map(({ field }) => field)).toEqual(['nominalL', 'volumeConfirmedAt'])
    // Each side another of the two fields, and no field twice: still one thing.
    const apart = join(withBody(base, { nominalL: 260 }, NOW - 2 * DAY), confirmed)
    expect(apart.conflicts[0]!.fields.map(({ field, unit }) => [field, unit])).toEqual([
      ['nominalL', 'water'],
      ['volumeConfirmedAt', 'water'],
    ])
    expect(bodyOf(apart.record).nominalL).toBe(bodyOf(base).nominalL)
    // One side alone, with a note on the other, is no matter of settling.
    const noted = withBody(base, { note: 'x' }, NOW - DAY)
    expect(join(measured, noted).conflicts).toEqual([])
    expect(bodyOf(join(measured, noted).record)).toMatchObject({ nominalL: 250, note: 'x' })
  })
  test('what was put together is written to a file and read back, by the schema', () => {
    const short = withBody(base, { name: 'Short reef' }, NOW - DAY)
    const { record } = join(named, short)
    const report = readFile(JSON.stringify(toFile(record, instantOf(NOW))))
    expect(report.problems).toEqual([])
    const back = recordOf(report.file!.settings, report.file!.registers, report.file!.entries)
    expect(stateOf(join(back, record).record)).toBe(stateOf(record))
  })
})

describe('three devices that write apart', () => {
  /** Seeded: the same histories every time. */
  const chance = (seed: number) => () => {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0
    return seed / 4294967296
  }
  const live = (seed: number) => {
    const next = chance(seed)
    const pick = (n: number) => Math.floor(next() * n)
    let devices = [base, base, base] as KeeperRecord[]
    const written = new Set<string>()
    const said = new Set<string>()
    let clock = NOW - 9 * DAY
    for (let step = 0; step < 14; step++) {
      const at = pick(3)
      clock += next() * 12 * HOUR
      const record = devices[at]!
      const what = next()
      if (what < 0.4) {
        const entry = read('alkalinity', 7 + next(), (NOW - clock) / DAY)
        written.add(entry.id)
        devices = devices.map((one, i) => (i === at ? withEntries(record, entry) : one))
      } else if (what < 0.75) {
        const change = [{ name: `Reef ${pick(1000)}` }, { note: `note ${pick(1000)}` }, { fresh: undefined }][pick(2)]!
        // Clocks of devices differ by hours.
        const next_ = withBody(record, change, clock + (pick(7) - 3) * HOUR)
        said.add(JSON.stringify(bodyOf(next_)))
        devices = devices.map((one, i) => (i === at ? next_ : one))
      } else {
        const from = pick(3)
        const joined = join(record, devices[from]!).record
        devices = devices.map((one, i) => (i === at ? joined : one))
      }
    }
    return { devices, written, said }
  }
  const all = (devices: readonly KeeperRecord[], order: readonly number[]) =>
    order.slice(1).reduce((record, i) => join(record, devices[i]!).record, devices[order[0]!]!)
  test.each(Array.from({ length: 40 }, (_, i) => [i + 1]))(
    'history %i ends the same in any order, and nothing of it is lost',
    (seed) => {
      const { devices, written, said } = live(seed)
      const states = [
        [0, 1, 2],
        [0, 2, 1],
        [1, 0, 2],
        [1, 2, 0],
        [2, 0, 1],
        [2, 1, 0],
      ].map((order) => stateOf(all(devices, order)))
      expect(new Set(states).size).toBe(1)
      const end = all(devices, [0, 1, 2])
      // Joined in pairs first, and again afterwards.
      const pairs = join(join(devices[0]!, devices[1]!).record, join(devices[1]!, devices[2]!).record).record
      expect(stateOf(pairs)).toBe(states[0])
      expect(stateOf(join(end, devices[1]!).record)).toBe(states[0])
      const ids = new Set(end.entries.map(({ id }) => id))
      for (const id of written) expect(ids.has(id)).toBe(true)
      const kept = new Set(
        versionsOf(end.vessels.get('reef') as RegisterDocument).map(({ body }) => JSON.stringify(body)),
      )
      for (const body of said) expect(kept.has(body)).toBe(true)
    },
  )
})
