// A bag of thirty hours: what is truly in it by mixing sums of our own, who comes through, and the way back to the tank's salt.
import { describe, expect, test } from '@jest/globals'
import { faultOfEntry } from '../src/file.ts'
import {
  activeEntries,
  documentsOf,
  homeSalinity,
  instantOf,
  liveInputsOf,
  liveRun,
  newCourseBody,
  pressedStep,
  protocolOf,
  recordOf,
  type Entry,
  type KeeperRecord,
  type LiveStep,
} from '../src/index.ts'
import {
  ARRIVAL_ID,
  bagId,
  bagShows,
  calendarLife,
  exactLife,
  lookAt,
  ownLife,
  practiceFault,
  practiceRecord,
  practiceTanks,
  TANK_ID,
  worldAt,
  type Begun,
} from '../src/practice.ts'

const START = Date.parse('2026-03-20T19:00:00Z')
const MIN = 60_000
const DAY = 1440 * MIN
const definition = practiceTanks.find(({ id }) => id === 'thirty-hours')!
const { water } = definition.bags![0]!
const begunOf = (seed: number): Begun => ({ definition, seed, startMs: START, zone: 'UTC' })
const at = (minute: number, fields: object): Entry =>
  ({
    id: `entry-${minute}-${JSON.stringify(fields).length}`,
    at: instantOf(START + minute * MIN),
    zone: 'UTC',
    recordedAt: instantOf(START + minute * MIN),
    ...fields,
  }) as unknown as Entry
const bag = (minute: number, act: string, fields: object = {}) =>
  at(minute, { kind: 'container', arrivalId: ARRIVAL_ID, containerId: bagId(0), act, ...fields })
const matched = (minute: number, psu: number) =>
  at(minute, { kind: 'done', vesselId: TANK_ID, what: `Salinity to ${psu} PSU` })
const withEntries = (begun: Begun, ...entries: Entry[]): KeeperRecord => {
  const record = practiceRecord(begun)
  return recordOf(record.settings, documentsOf(record), entries)
}
const life = (begun: Begun, untilMin: number, ...entries: Entry[]) =>
  ownLife(begun, withEntries(begun, ...entries), [], START + untilMin * MIN)
const FLOATED = [bag(0, 'float'), bag(15, 'open')]

describe('the water of a bag', () => {
  test('closed it keeps its salt, warms by the room, sours, and its free ammonia stays asleep', () => {
    const [trace] = life(begunOf(3), 600).bags
    expect(new Set(trace!.salinityPsu.map((value) => value.toFixed(6)))).toEqual(new Set([water.salinity.toFixed(6)]))
    expect(trace!.freeMgN.reduce((most, value) => Math.max(most, value), 0)).toBeLessThan(0.02)
    expect(trace!.min.at(-1)).toBeGreaterThan(500)
  })
  test('cups of tank water mix by volume, and what is poured out changes no salt', () => {
    const tank = definition.truth.start!['salinity']!
    const entries = [
      ...FLOATED,
      bag(20, 'add', { litres: 0.7 }),
      bag(30, 'pour', { toL: 1 }),
      bag(40, 'add', { litres: 0.5 }),
    ]
    const [trace] = life(begunOf(3), 50, ...entries).bags
    const first = (water.litres * water.salinity + 0.7 * tank) / (water.litres + 0.7)
    const second = (1 * first + 0.5 * tank) / 1.5
    const last = (min: number) => trace!.salinityPsu[trace!.min.findLastIndex((one) => one <= min)]!
    expect(last(25)).toBeCloseTo(first, 1)
    expect(last(35)).toBeCloseTo(first, 1)
    expect(last(49)).toBeCloseTo(second, 1)
  })
  test('opened and left, the gas goes and free ammonia climbs past what wakes a keeper', () => {
    const left = life(begunOf(3), 180, ...FLOATED).bags[0]!
    expect(Math.max(...left.freeMgN)).toBeGreaterThan(0.06)
    const closed = life(begunOf(3), 180).bags[0]!
    expect(Math.max(...closed.freeMgN)).toBeLessThan(0.3 * Math.max(...left.freeMgN))
  })
  test('what the kits show of it is near what is there, and the same when asked again', () => {
    const shown = Array.from({ length: 40 }, (_, seed) =>
      bagShows(worldAt(begunOf(seed), practiceRecord(begunOf(seed)), [], START), 0),
    )
    const mean = (of: (one: (typeof shown)[number]) => number) =>
      shown.reduce((sum, one) => sum + of(one), 0) / shown.length
    expect(Math.abs(mean(({ salinityPsu }) => salinityPsu) - water.salinity)).toBeLessThan(0.4)
    expect(Math.abs(mean(({ tanMgN }) => tanMgN) / water['ammonia-total'] - 1)).toBeLessThan(0.15)
    expect(Math.abs(mean(({ phNbs }) => phNbs) - water.ph)).toBeLessThan(0.1)
    const world = worldAt(begunOf(1), practiceRecord(begunOf(1)), [], START)
    expect(bagShows(world, 0)).toEqual(bagShows(world, 0))
  })
})

describe('who comes through', () => {
  const SEEDS = Array.from({ length: 80 }, (_, seed) => seed)
  const MOVED = [...FLOATED, bag(17, 'move', { residentId: 'three', vesselId: TANK_ID })]
  test('a matched tank costs nobody that an unmatched one would have spared, and spares more of them', () => {
    let spared = 0
    for (const seed of SEEDS) {
      const bare = life(begunOf(seed), 30, ...MOVED).outcome.living
      const kind = life(begunOf(seed), 30, matched(0, water.salinity), ...MOVED).outcome.living
      expect(kind).toBeGreaterThanOrEqual(bare)
      spared += kind - bare
    }
    expect(spared / SEEDS.length).toBeGreaterThan(0.15)
  })
  test('everything ignored: it ends, they are dead, and a look says so without a word of blame', () => {
    const world = worldAt(begunOf(2), practiceRecord(begunOf(2)), [], START + definition.days * DAY)
    const told = lookAt(world)
      .map(({ words }) => words)
      .join(' ')
    expect(told).toMatch(/Bag 1, Chromis: (?:0|1) of 3 live|dead/)
    expect(world.hours).toBe(24 * definition.days)
  })
  test('sent back, what was then is what stays', () => {
    const back = life(begunOf(4), 5000, bag(10, 'refuse', { how: 'returned', reason: 'Sent back.' }))
    expect(back.outcome.living).toBe(1)
    expect(back.bags[0]!.min.at(-1)).toBeLessThanOrEqual(10)
  })
  test('asked in one go or minute by minute the same stand there', () => {
    const record = withEntries(begunOf(9), ...FLOATED, bag(16, 'drip', { litresPerH: 2 }))
    const seen = [60, 90, 150, 200].map((min) => worldAt(begunOf(9), record, [], START + min * MIN).animals[0]!.living)
    expect([...seen].sort((a, b) => b - a)).toEqual(seen)
    expect(worldAt(begunOf(9), record, [], START + 200 * MIN).animals[0]!.living).toBe(seen[3])
  })
  test('who goes by the screens writes only what a record takes, and meets less free ammonia than who drips', () => {
    const exact = exactLife(begunOf(5))
    for (const entry of exact.record.entries) expect(faultOfEntry(entry)).toBeNull()
    expect(exact.record.entries.some((entry) => entry.kind === 'container' && entry.act === 'move')).toBe(true)
    expect(exact.outcome.freeInBag).toBeLessThan(0.5 * calendarLife(begunOf(5)).outcome.freeInBag)
    // The animal in the water is one of the ledger's, and is looked at by that name.
    const { record } = exact
    const moved = worldAt(begunOf(5), record, [], START + DAY)
    expect(lookAt(moved).flatMap(({ animalId }) => animalId ?? [])).toEqual(['resident-bag-1'])
  })
  test('a bag that cannot be is told with its place', () => {
    const wrong = (change: object) => ({ ...definition, bags: [{ ...definition.bags![0]!, ...change }] })
    expect(practiceFault(wrong({ group: 'hg-nobody' }))).toBe('bags, Chromis: there is no group “hg-nobody”.')
    expect(practiceFault(wrong({ group: 'hg-coral' }))).toMatch(/bags, Chromis: .* is no fish, and the bag says fish\./)
    expect(practiceFault(wrong({ hours: 200 }))).toMatch(/^bags, 0, hours/)
  })
})

describe('presses at the tank', () => {
  const begun = begunOf(6)
  const arrivalOf = (record: KeeperRecord) => record.arrivals.get(ARRIVAL_ID)!
  const inputsAt = (record: KeeperRecord, minute: number) =>
    liveInputsOf({
      record,
      active: activeEntries(record.entries),
      arrival: arrivalOf(record),
      container: arrivalOf(record).body.containers[0]!,
      nowMs: START + minute * MIN,
    })!
  test('a tub that overflows stays as full as it is, in the model as on the bench', () => {
    const chosen = bag(0, 'method', { method: 'drip', settings: { capL: 3, overflow: 1, dripLPerH: 6 } })
    const measured = bag(0, 'measured', { volumeL: 1.4, salinityPsu: 30, tempC: 25 })
    const before = withEntries(begun, chosen, measured, bag(1, 'float'), bag(2, 'open'))
    const step = liveRun(inputsAt(before, 3)).next as LiveStep
    expect(step.act).toBe('drip')
    const pressed = pressedStep(step)
    expect(pressed).toMatchObject({ act: 'drip', overflow: true, toL: 3, litresPerH: 6 })
    const { act, ...fields } = pressed
    const run = withEntries(begun, ...before.entries, bag(3, act, fields))
    expect(liveRun(inputsAt(run, 63)).now.volumeL).toBeCloseTo(3, 1)
    // Without overflow an hour at six litres an hour would have made it seven.
    const { overflow: _mark, toL: _full, ...bare } = fields as { overflow?: boolean; toL?: number }
    expect(liveRun(inputsAt(withEntries(begun, ...before.entries, bag(3, act, bare)), 63)).now.volumeL).toBeGreaterThan(
      7,
    )
  })
  test('a matched tank is asked for before the bag floats, and no more once it is there', () => {
    const read = (minute: number, value: number) =>
      at(minute, { kind: 'reading', vesselId: TANK_ID, analyte: 'salinity', value, unit: 'ppt', bound: 'exact' })
    const chosen = bag(1, 'method', { method: 'matched-tank', settings: {} })
    const measured = bag(0, 'measured', { volumeL: 1.4, salinityPsu: 29.5, tempC: 25 })
    const before = withEntries(begun, read(0, 35), measured, chosen)
    expect(liveRun(inputsAt(before, 2)).next!.detail).toMatch(
      /First the tank: bring it from 35 to 29\.5 PSU and read it/,
    )
    const after = withEntries(begun, read(0, 35), measured, chosen, read(2, 29.5))
    expect(liveRun(inputsAt(after, 3)).next!.detail).toMatch(/The tank stands at the bag’s salinity/)
    // The way back is to where it stood before, not to where it was brought.
    const home = (record: KeeperRecord) =>
      homeSalinity(
        record,
        activeEntries(record.entries),
        arrivalOf(record),
        arrivalOf(record).body.containers[0]!,
        START + 10 * MIN,
      )
    expect(home(after)).toBe(35)
    // Brought there before a method was chosen: the steps say from where.
    const course = {
      register: 'course',
      id: 'steps',
      revision: 1,
      savedAt: instantOf(START),
      history: [],
      body: newCourseBody({
        protocol: protocolOf('salinity-steps')!,
        vesselId: TANK_ID,
        startMs: START,
        zone: 'UTC',
        residents: [],
        instruments: {},
        parameters: { 'from-psu': 34.8, 'to-psu': 29.5, 'per-day': 40 },
      }),
    }
    const stepped = recordOf(
      after.settings,
      [...documentsOf(after), course as never],
      [read(0, 34.8), measured, read(1, 29.5), bag(2, 'method', { method: 'float-and-move', settings: {} })],
    )
    expect(home(stepped)).toBe(34.8)
  })
})
