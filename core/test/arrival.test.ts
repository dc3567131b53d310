// An arrival in the record: stages, what is measured or assumed, what is refused, and the run at the tank from entries.
import { describe, expect, test } from '@jest/globals'
import {
  activeEntries,
  arrivalStage,
  checkArrival,
  checkContainer,
  checkMeasured,
  conflictState,
  containerEntries,
  containerInputs,
  containerStage,
  estimatedTan,
  holdsCopper,
  introductionPlan,
  kindOf,
  liveInputsOf,
  liveRun,
  litresPerHourOfDrops,
  dropsPerSecond,
  theilSen,
  transitHours,
  type ContainerEntry,
  type Entry,
  type KeeperRecord,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { entryAt } from './entries.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const MIN = 60_000
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: 'Europe/Berlin' })
const active = activeEntries(demo.entries)
const box = demo.arrivals.get('box-tonight')!
const bag = (id: string) => box.body.containers.find((container) => container.id === id)!
const act = (ms: number, containerId: string, what: string, fields: object = {}) =>
  entryAt<ContainerEntry>(ms, { kind: 'container', arrivalId: box.id, containerId, act: what, ...fields })
const live = (containerId: string, entries: readonly Entry[], nowMs: number, record: KeeperRecord = demo) =>
  liveRun(liveInputsOf({ record, active: entries, arrival: box, container: bag(containerId), nowMs })!)

describe('stages', () => {
  test('follow the slowest container, from expected to the water', () => {
    const bare = { ...box, body: { ...box.body } }
    delete (bare.body as { receivedAt?: string }).receivedAt
    expect(arrivalStage(bare, [])).toBe('expected')
    expect(arrivalStage(box, [])).toBe('received')
    const looked = box.body.containers.map(({ id }) => act(NOW, id, 'inspected', { verdict: 'accept' }))
    expect(arrivalStage(box, looked)).toBe('inspected')
    const floated = [...looked, act(NOW, 'bag-1', 'float')]
    expect(arrivalStage(box, floated)).toBe('acclimating')
    const done = [...looked, ...box.body.containers.map(({ id }) => act(NOW, id, id === 'bag-2' ? 'refuse' : 'move'))]
    expect(arrivalStage(box, done)).toBe('in-the-water')
    expect(containerStage(containerEntries(done, box.id, 'bag-2'))).toBe('refused')
  })
  test('a bag closed at a time of its own counts its own hours, up to its opening', () => {
    expect(transitHours(box, bag('bag-1'), [], NOW)).toBeCloseTo(26, 6)
    expect(transitHours(box, bag('bag-2'), [], NOW)).toBeCloseTo(5, 6)
    expect(transitHours(box, bag('bag-2'), [act(NOW - 60 * MIN, 'bag-2', 'open')], NOW)).toBeCloseTo(4, 6)
  })
})

describe('what is known of the waters', () => {
  test('a measured value carries its error, a missing one a range with its reason', () => {
    const inputs = containerInputs({
      record: demo,
      active,
      arrival: box,
      container: bag('bag-2'),
      nowMs: NOW,
      samples: 0,
    })
    expect(inputs.bag.tempC).toMatchObject({ value: 23.2 })
    expect(inputs.bag.tempC.assumed).toBeUndefined()
    expect(inputs.bag.tanMgN.assumed).toMatch(/60 g of animals and 5 h/)
    expect(inputs.bag.alkalinityDkh.assumed).toMatch(/usual range/)
    expect(inputs.tank.salinityPsu.value).toBe(34.9)
  })
  test('how wide a reading is, by what it was read with: nine in ten of 1.64 sd either side', () => {
    const { bag: of1 } = containerInputs({
      record: demo,
      active,
      arrival: box,
      container: bag('bag-1'),
      nowMs: NOW,
      samples: 0,
    })
    // The demonstration's bag 1: 21.6 °C, 33.9 PSU, pH 7.15, 2.5 mg/L, 1.6 L; sd 0.2, 0.2, 0.1, a quarter, a tenth.
    for (const [range, value, sd] of [
      [of1.tempC, 21.6, 0.2],
      [of1.salinityPsu, 33.9, 0.2],
      [of1.phNbs, 7.15, 0.1],
      [of1.tanMgN, 2.5, 0.625],
      [of1.volumeL, 1.6, 0.16],
    ] as const) {
      expect(range.value).toBe(value)
      expect(range.high - range.value).toBeCloseTo(1.64 * sd, 9)
      expect(range.value - range.low).toBeCloseTo(1.64 * sd, 9)
    }
  })
  test('hours nobody knows are taken as twelve, and said', () => {
    const { packedAt: _packed, ...body } = box.body
    const { packedAt: _own, ...container } = bag('bag-2')
    const bagAfter = (hours: number | null) =>
      containerInputs({
        record: demo,
        active: [],
        arrival: {
          ...box,
          body: { ...body, ...(hours === null ? {} : { packedAt: new Date(NOW - hours * 60 * MIN).toISOString() }) },
        },
        container,
        nowMs: NOW,
        samples: 0,
      }).bag
    expect(bagAfter(null).tanMgN.value).toBeCloseTo(bagAfter(12).tanMgN.value, 9)
    expect(bagAfter(null).tanMgN.value).not.toBeCloseTo(bagAfter(18).tanMgN.value, 3)
  })
  test('ammonia is estimated from mass, hours and water, and grows with each', () => {
    const kind = kindOf('hg-clown-damsel', 'marine')
    const mass = { low: 8, value: 10, high: 12 }
    const short = estimatedTan(kind, mass, 5, 2)
    expect(short.value).toBeCloseTo((8 * 0.01 * 5) / 2, 9)
    expect(estimatedTan(kind, mass, 20, 2).value).toBeGreaterThan(short.value)
    expect(estimatedTan(kind, mass, 5, 1).value).toBeGreaterThan(short.value)
    expect(estimatedTan(kind, null, 20, 1)).toMatchObject({ low: 1, high: 4 })
  })
  test('copper is held until a reading below the kit’s step clears it', () => {
    expect(holdsCopper({ record: demo, active }, 'holding-a', NOW)).toBe(true)
    expect(holdsCopper({ record: demo, active }, 'holding-b', NOW)).toBe(false)
    const cleared = entryAt<Entry>(NOW - MIN, {
      kind: 'reading',
      vesselId: 'holding-a',
      analyte: 'copper',
      value: 0.01,
      unit: 'mg/L',
      bound: 'below',
    })
    expect(holdsCopper({ record: demo, active: [...active, cleared] }, 'holding-a', NOW)).toBe(false)
  })
})

describe('what is refused', () => {
  test.each([
    [{ phNbs: 70 }, /pH lies between 4 and 10.5/],
    [{ salinityPsu: -1 }, /between 0 and 60 PSU/],
    [{ tempC: 78 }, /Is it °F/],
    [{ volumeL: 0 }, /above zero/],
    [{ tanMgN: 250 }, /beyond any kit/],
  ])('%j is answered with a sentence', (values, words) => {
    expect(
      checkMeasured(values)
        .map(({ message }) => message)
        .join(),
    ).toMatch(words)
  })
  test('sound numbers pass', () =>
    expect(checkMeasured({ phNbs: 7.2, tempC: 22, salinityPsu: 33, tanMgN: 2 })).toEqual([]))
  const check = (container: object, entries: readonly ContainerEntry[] = []) =>
    checkContainer({ record: demo, active, container: { ...bag('bag-3'), ...container }, entries, nowMs: NOW })
  test('shrimps into copper have no override', () => {
    const found = check({ group: 'hg-shrimp', vesselId: 'holding-a' })
    expect(found.find(({ rule }) => rule === 'cu-invertebrates')).toMatchObject({ level: 'forbid' })
  })
  test('fresh-water animals into the sea, a bag larger than the tub, bag and tank swapped: each is said', () => {
    expect(check({ group: 'hg-small-fresh', vesselId: 'tub' })[0]!.message).toMatch(/live in fresh water/)
    const large = check({ tubL: 2 }, [act(NOW, 'bag-3', 'measured', { volumeL: 3 })])
    expect(large.find(({ rule }) => rule === 'bag-larger-than-tub')?.level).toBe('block')
    const warm = check({}, [act(NOW, 'bag-3', 'measured', { tempC: 26 })])
    expect(warm.find(({ rule }) => rule === 'bag-and-tank-swapped')?.message).toMatch(/warmer than Fernwater/)
  })
  test('straight into a display is told once, with what lowers the risk, in words that fit the water', () => {
    expect(check({}).find(({ rule }) => rule === 'no-quarantine')).toMatchObject({ level: 'warn' })
    expect(check({})[0]!.message).toMatch(/planaria/)
    expect(check({ group: 'hg-tang', vesselId: 'longshore' })[0]!.message).toMatch(/76 days/)
    expect(check({ vesselId: 'tub', group: 'hg-coral' }).some(({ rule }) => rule === 'no-quarantine')).toBe(false)
  })
  test('times out of order are refused', () => {
    const wrong = {
      body: { ...box.body, packedAt: '2026-11-23T19:00:00.000Z', receivedAt: '2026-11-23T17:00:00.000Z' },
    }
    expect(checkArrival(wrong, NOW).map(({ rule }) => rule)).toEqual(['packed-after-received', 'packed-in-future'])
  })
})

describe('the run at the tank', () => {
  const settings = {
    scoopL: 0.3,
    scoopEveryMin: 5,
    dripLPerH: 2,
    capL: 6,
    pourToL: 3,
    finishShare: 0.9,
    binderShare: 0.8,
    longestFloatMin: 45,
    overflow: 0,
  }
  const before = active.filter(
    (entry) =>
      !(
        entry.kind === 'container' &&
        entry.containerId === 'bag-2' &&
        entry.act !== 'measured' &&
        entry.act !== 'inspected'
      ),
  )
  const start = NOW - 60 * MIN
  const cups = (count: number): Entry[] => [
    ...before,
    act(start - MIN, 'bag-2', 'method', { method: 'scoops', settings }),
    act(start, 'bag-2', 'float'),
    act(start + 12 * MIN, 'bag-2', 'open'),
    ...Array.from({ length: count }, (_, i) => act(start + (17 + 5 * i) * MIN, 'bag-2', 'add', { litres: 0.3 })),
  ]
  test('is the same after any pause: only entries and the time decide', () => {
    const now = start + 30 * MIN
    expect(live('bag-2', cups(3), now)).toEqual(live('bag-2', cups(3), now))
    const run = live('bag-2', cups(3), now)
    expect(run.phase).toBe('open')
    expect(run.next).toMatchObject({ act: 'add', dueMs: start + 32 * MIN, title: 'Cup 4: 300 mL of tank water' })
    expect(run.now.volumeL).toBeCloseTo(2.2 + 0.9, 1)
  })
  test('floats first, then asks to open when the temperatures meet', () => {
    const floated = cups(0).filter((entry) => !(entry.kind === 'container' && entry.act === 'open'))
    const run = live('bag-2', floated, start + 2 * MIN)
    expect(run.phase).toBe('floating')
    expect(run.next!.act).toBe('open')
    expect(run.next!.dueMs).toBeGreaterThan(start + 5 * MIN)
    expect(live('bag-2', floated, start + 90 * MIN).warnings[0]).toMatch(/has floated for 90 min/)
  })
  test('an hour away is told for what it means, and not caught up with', () => {
    const run = live('bag-2', cups(2), start + 85 * MIN)
    expect(run.warnings.join(' ')).toMatch(/63 min: 12 cups were missed/)
    expect(run.next!.act).toBe('add')
    expect(run.later.filter(({ dueMs }) => dueMs < start + 85 * MIN).length).toBeLessThanOrEqual(1)
  })
  test('a measured value corrects the curve from then on', () => {
    const now = start + 40 * MIN
    const corrected = [...cups(4), act(start + 39 * MIN, 'bag-2', 'measured', { salinityPsu: 33.1, tanMgN: 1 })]
    expect(live('bag-2', corrected, now).now.salinityPsu).toBeCloseTo(33.1, 2)
    expect(live('bag-2', corrected, now).now.tanMgN).toBeGreaterThan(live('bag-2', cups(4), now).now.tanMgN)
  })
  test('a running drip asks to pour out when the tub is full, and to move at the end', () => {
    const run = live('bag-3', active, NOW)
    expect(run.phase).toBe('open')
    // The line was turned on sixteen minutes ago: it is looked at first.
    expect(run.next).toMatchObject({ act: 'look', title: 'Check the drip and the animal' })
    const looked = live('bag-3', [...active, act(NOW - MIN, 'bag-3', 'look')], NOW)
    expect(looked.next).toMatchObject({ act: 'look', dueMs: NOW + 14 * MIN })
    expect(looked.later[0]).toMatchObject({ act: 'pour', title: 'Pour out to 1.2 L' })
    expect(run.later.at(-1)!.act).toBe('move')
    // 0.6 L and 1.4 L/h for sixteen minutes.
    expect(run.now.volumeL).toBeCloseTo(0.6 + 1.4 * (16 / 60), 2)
  })
  test('an unopened bag of float-and-move is warned of when it stands open', () => {
    const opened = [
      ...before,
      act(start - MIN, 'bag-2', 'method', { method: 'float-and-move', settings: {} }),
      act(start, 'bag-2', 'float'),
      act(start + 10 * MIN, 'bag-2', 'open'),
    ]
    expect(live('bag-2', opened, start + 40 * MIN).warnings[0]).toMatch(/stood open for 30 min/)
    expect(live('bag-2', opened, start + 11 * MIN).next!.act).toBe('move')
    const moved = [...opened, act(start + 13 * MIN, 'bag-2', 'move')]
    expect(live('bag-2', moved, start + 300 * MIN)).toMatchObject({ phase: 'moved', next: null, warnings: [] })
  })
  test('drops and litres an hour undo each other', () => {
    expect(litresPerHourOfDrops(dropsPerSecond(1.4))).toBeCloseTo(1.4, 12)
    expect(dropsPerSecond(0.9)).toBeCloseTo(5, 9)
  })
})

describe('introductions', () => {
  const plan = (newcomerIds: string[], record: KeeperRecord = demo) =>
    introductionPlan({ record, active, newcomerIds, vesselId: 'longshore', nowMs: NOW })
  test('two new rivals meet on neutral ground; a peaceful newcomer needs a day', () => {
    const rivals = plan(['clown-large', 'clown-small'])
    expect(rivals.school).toBe('introduce-neutral')
    expect(rivals.rivalries[0]).toMatchObject({ rivalIsNew: true, why: 'same species' })
    expect(plan(['gramma'])).toMatchObject({ school: 'introduce-box', boxDays: 1 })
  })
  test('the most territorial goes in last', () => {
    const residents = new Map(demo.residents)
    const tang = {
      ...demo.residents.get('gramma')!,
      id: 'tang',
      body: {
        ...demo.residents.get('gramma')!.body,
        name: 'Tang',
        commonName: 'Yellow tang',
        scientificName: 'Zebrasoma flavescens',
        group: 'hg-tang',
      },
    }
    residents.set('tang', tang)
    expect(plan(['tang', 'gramma'], { ...demo, residents }).order.map(({ id }) => id)).toEqual(['gramma', 'tang'])
  })
  test('waters that do not match are said with their numbers', () => {
    const { match } = plan(['gramma'])
    expect(match.map(({ what }) => what)).toEqual(['Temperature', 'Salinity', 'pH'])
    expect(match.find(({ what }) => what === 'Temperature')).toMatchObject({ here: 25.3, there: 25.4, fits: true })
  })
  test('the conflict log tells rising from falling, and alerts at ten chases', () => {
    const count = (day: number, chases: number) =>
      entryAt<Entry>(NOW - day * 86_400_000, {
        kind: 'count',
        vesselId: 'longshore',
        what: 'chases-10min',
        count: chases,
      })
    const falling = [count(4, 14), count(3, 9), count(2, 6), count(1, 2)]
    expect(conflictState(falling, 'longshore', 0, NOW)).toMatchObject({ trend: 'falling', lastChases: 2, alerts: [] })
    expect(
      conflictState(
        [...falling].map((entry, i) => entryAt<Entry>(Date.parse(entry.at), { ...entry, count: 2 + 5 * i })),
        'longshore',
        0,
        NOW,
      ),
    ).toMatchObject({
      trend: 'rising',
    })
    expect(conflictState([count(1, 12)], 'longshore', 0, NOW).alerts[0]).toMatch(/12 chases/)
  })
  test('one odd value does not bend a Theil–Sen slope', () => {
    const line = [0, 1, 2, 3, 4, 5].map((t) => ({ t, value: 2 * t }))
    expect(theilSen(line)!.slope).toBeCloseTo(2, 12)
    expect(theilSen([...line.slice(0, 5), { t: 5, value: 100 }])!.slope).toBeCloseTo(2, 0)
    expect(theilSen([{ t: 1, value: 3 }])).toBeNull()
  })
})
