// A coral's walks, a vessel's sum over them, and an animal's life read back from the ledger.
import { describe, expect, test } from '@jest/globals'
import {
  activeOf,
  coralNow,
  documentsOf,
  instantOf,
  isPast,
  lifeOf,
  recordOf,
  standingOn,
  stateWords,
  walkAspects,
  walkDays,
  walkSums,
  WELL,
  type Entry,
  type KeeperRecord,
  type ResidentDocument,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { entryAt } from './entries.ts'

const ZONE = 'Europe/Berlin'
const START = Date.parse('2026-06-01T10:00:00Z')
const DAY = 86_400_000
const demo = demoRecord({ seed: 7, anchorMs: START + 60 * DAY, zone: ZONE })
const resident = (id: string, group = 'hg-coral', fields: object = {}): ResidentDocument => ({
  register: 'resident',
  id,
  revision: 1,
  savedAt: instantOf(START),
  history: [],
  body: { name: id, commonName: id, group, count: 1, vesselId: 'longshore', arrivedAt: instantOf(START), ...fields },
})
const house = (residents: readonly ResidentDocument[], entries: readonly Entry[]): KeeperRecord =>
  recordOf(
    demo.settings,
    [
      ...documentsOf(demo).filter(({ register }) => register === 'vessel' || register === 'product'),
      ...residents,
    ] as never,
    entries,
  )
const at = (days: number, fields: object): Entry =>
  entryAt(START + days * DAY, { vesselId: 'longshore', ...fields } as never) as Entry
const stood = (days: number, residentId: string, aspects: object, more: object = {}) =>
  at(days, { kind: 'state', residentId, aspects: { ...WELL, ...aspects }, ...more })

describe('how a coral stands', () => {
  test('each line lies where its words say', () => {
    const past = (id: string) => {
      const aspect = walkAspects.find((one) => one.id === id)!
      return aspect.levels.filter((_, level) => isPast(aspect, level))
    }
    expect(past('colour')).toEqual(['white', 'pale'])
    expect(past('tissue')).toEqual(['receding', 'coming off'])
    expect(past('bare')).toEqual(['an edge', 'up to a fifth', 'up to half', 'more than half'])
    expect(past('extension')).toEqual(['shut', 'tips'])
    expect(past('slime')).toEqual(['strings', 'a coat'])
    for (const aspect of walkAspects) expect(isPast(aspect, aspect.well)).toBe(false)
  })
  test('in words only what is not well; nothing looked at is not “well”', () => {
    expect(stateWords(WELL)).toBe('well')
    expect(stateWords({ ...WELL, colour: 1, slime: 2 })).toBe('colour pale, slime a coat')
    expect(stateWords({})).toBe('not looked at')
  })
  test('an aspect that was not looked at keeps its last level, and a later walk is not known earlier', () => {
    const active = activeOf([
      at(1, { kind: 'state', residentId: 'a', aspects: { colour: 1 } }),
      at(3, { kind: 'state', residentId: 'a', aspects: { tissue: 2 } }),
    ])
    expect(coralNow(active, 'a')).toEqual({ colour: 1, tissue: 2 })
    expect(coralNow(active, 'a', START + 2 * DAY)).toEqual({ colour: 1 })
    expect(coralNow(active, 'b')).toBeNull()
  })
})

describe('the sum over a vessel', () => {
  const corals = ['a', 'b', 'c', 'gone'].map((id) => resident(id))
  const walks = [
    ...['a', 'b', 'c', 'gone'].map((id) => stood(1, id, {})),
    at(4, { kind: 'change', fraction: 0.5, entered: { value: 50, unit: '%' } }),
    at(5, { kind: 'change', vesselId: 'tub', fraction: 0.5, entered: { value: 50, unit: '%' } }),
    ...['a', 'b', 'gone'].map((id) => stood(6, id, { colour: 1 })),
    stood(6, 'c', {}, { asBefore: true }),
    at(7, { kind: 'move', residentId: 'gone', toVesselId: null }),
    stood(10, 'a', { colour: 0, tissue: 2 }),
  ]
  const record = house(corals, walks)
  const active = activeOf(record.entries)
  test('how many, of how many that were walked; one that left no longer counts', () => {
    expect(walkDays(record, active, 'longshore', START + 11 * DAY)).toMatchObject([
      { day: '2026-06-02', looked: 4, of: 4, past: { colour: 0, tissue: 0 } },
      { day: '2026-06-07', looked: 4, of: 4, past: { colour: 3 } },
      { day: '2026-06-11', looked: 1, of: 3, past: { colour: 2, tissue: 1 } },
    ])
    expect(walkDays(record, active, 'longshore', START + 2 * DAY)).toHaveLength(1)
  })
  test('since when, and after what: its own change, not that of another vessel', () => {
    const sums = walkSums(record, active, 'longshore', START + 11 * DAY)
    expect(sums.map(({ aspect, names, of, sinceDay }) => [aspect, names, of, sinceDay])).toEqual([
      ['colour', ['a', 'b'], 3, '2026-06-07'],
      ['tissue', ['a'], 3, '2026-06-11'],
    ])
    expect(sums[0]!.before.map(({ kind, at: when }) => [kind, when.slice(0, 10)])).toEqual([['change', '2026-06-05']])
  })
  test('nothing walked, nothing said; all well, nothing listed', () => {
    const none = house(corals, [])
    expect(walkSums(none, activeOf([]), 'longshore', START + DAY)).toEqual([])
    const well = house(corals, [stood(1, 'a', {})])
    expect(walkSums(well, activeOf(well.entries), 'longshore', START + 2 * DAY)).toEqual([])
  })
})

describe('a life', () => {
  const coral = resident('leather', 'hg-coral', { leftAt: instantOf(START + 40 * DAY), leftHow: 'died' })
  const fish = resident('shoal', 'hg-clown-damsel', { count: 6 })
  const entries = [
    at(2, { kind: 'sign', residentId: 'leather', sign: 'film-waxy', present: true }),
    at(3, { kind: 'done', what: 'x', step: 'c/drip/0/0', courseId: 'c', bench: { piece: 'leather', act: 'lift' } }),
    at(3.01, { kind: 'done', what: 'x', step: 'c/drip/0/1', courseId: 'c', bench: { piece: 'leather', act: 'back' } }),
    at(3.1, { kind: 'note', residentId: 'leather', mark: 'recovery-spot' }),
    at(3.2, { kind: 'done', vesselId: 'tub', what: 'x', step: 'd/b/0/0', bench: { piece: 'leather', act: 'back' } }),
    at(5, { kind: 'move', residentId: 'leather', toVesselId: 'tub' }),
    at(6, { kind: 'sign', vesselId: 'tub', residentId: 'leather', sign: 'film-waxy', present: false }),
    at(6.1, {
      kind: 'photo',
      vesselId: 'tub',
      residentId: 'leather',
      photoId: 'p',
      mime: 'image/png',
      width: 1,
      height: 1,
      bytes: 1,
    }),
    at(7, { kind: 'heads', residentId: 'shoal', change: -2, why: 'died' }),
    at(8, { kind: 'meal', residentId: 'shoal', took: 'took' }),
    at(9, { kind: 'bath', act: 'start', rule: 'dip', residentIds: ['shoal'] }),
    at(9.01, { kind: 'bath', act: 'end', rule: 'dip', residentIds: ['shoal'] }),
  ]
  const record = house([coral, fish], entries)
  const active = activeOf(record.entries)
  const life = (one: ResidentDocument, days: number) => lifeOf(record, active, one, START + days * DAY)
  const days = (ms: number | null) => (ms === null ? null : (ms - START) / DAY)
  test('where it lived and until when; it ends when it died', () => {
    expect(life(coral, 60).vessels.map((one) => [one.id, days(one.fromMs), days(one.toMs)])).toEqual([
      ['longshore', 0, 5],
      ['tub', 5, 40],
    ])
    expect(days(life(coral, 60).toMs)).toBe(40)
    expect(life(coral, 4).vessels).toMatchObject([{ id: 'longshore', toMs: null }])
  })
  test('what happened to it, hands once per session, and nothing of another piece of that name', () => {
    expect(life(coral, 60).events.map(({ kind }) => kind)).toEqual([
      'sign',
      'handled',
      'mark',
      'moved',
      'gone',
      'picture',
      'ended',
    ])
    expect(life(coral, 60).handledAll).toBe(2)
    expect([life(coral, 34.9).handledMonth, life(coral, 36).handledMonth]).toEqual([1, 0])
    expect(life(fish, 60).events.map(({ kind }) => kind)).toEqual(['count', 'meal', 'handled'])
  })
  test('a group is a count over time', () => {
    expect(life(fish, 60).heads.map(({ atMs, count }) => [days(atMs), count])).toEqual([
      [0, 6],
      [7, 4],
    ])
  })
  test('any of its days, as it stood at its end', () => {
    const on = (day: string) => standingOn(life(coral, 60), active, 'leather', day, ZONE)
    expect(on('2026-06-03')).toMatchObject({ vesselId: 'longshore', signs: ['film-waxy'], pictures: [] })
    expect(on('2026-06-07')).toMatchObject({ vesselId: 'tub', signs: [], pictures: [{ photoId: 'p' }] })
    const of = (day: string) => standingOn(life(fish, 60), active, 'shoal', day, ZONE)
    expect([of('2026-06-07').heads, of('2026-06-08').heads]).toEqual([6, 4])
    expect(of('2026-06-09')).toMatchObject({ meals: ['took'], vesselId: 'longshore' })
  })
})
