// What rounds leave behind: signs that stand, and breathing judged against the fish's own baseline.
import { describe, expect, test } from '@jest/globals'
import {
  breathingOf,
  groupOf,
  EXTENSION,
  openSigns,
  residentDays,
  watchDays,
  WHOLE_DAY,
  quickSigns,
  signOf,
  signs,
  type Entry,
  type ResidentDocument,
} from '../src/index.ts'
import { groups } from '../src/knowledge/agents.ts'
import { entryAt, ZONE } from './entries.ts'

const DAY = 86_400_000
const START = Date.parse('2026-03-02T18:00:00Z')
const resident = {
  id: 'tang',
  schemaVersion: 2,
  revision: 1,
  body: { vesselId: 'holding-a', name: 'Yellow tang', group: 'hg-tang', count: 1 },
} as unknown as ResidentDocument
const note = (at: number, body: object): Entry => entryAt(at, { vesselId: 'holding-a', residentId: 'tang', ...body })
const count = (at: number, perMinute: number) => note(at, { kind: 'count', what: 'gill-beats', count: perMinute })
const sign = (at: number, id: string, present: boolean) => note(at, { kind: 'sign', sign: id, present })

describe('the vocabulary of signs', () => {
  test('every sign has one name and one definition, and every group has marks for a daily round', () => {
    expect(new Set(signs.map(({ id }) => id)).size).toBe(signs.length)
    expect(new Set(signs.map(({ definition }) => definition)).size).toBe(signs.length)
    for (const group of groups) {
      const marks = quickSigns(group.id)
      expect([group.id, marks.length > 0]).toEqual([group.id, true])
      for (const mark of marks) expect(signOf(mark.id)).toBe(mark)
    }
  })
  test('a coral is not asked for its foot, an anemone is', () => {
    const ids = (group: string) => quickSigns(group).map(({ id }) => id)
    expect(ids('hg-anemone')).toContain('anemone-foot-detached')
    expect(ids('hg-coral')).not.toContain('anemone-foot-detached')
    expect(ids('hg-coral')).toContain('recession-base')
    expect(ids('hg-clam')).toContain('clam-gaping')
    expect(ids('nobody-knows')).toEqual(ids('hg-tang'))
  })
})

describe('signs that stand', () => {
  test('a sign stands until it is looked for in vain, and stands again when it is back', () => {
    const seen = [sign(START, 'flashing', true), sign(START + DAY, 'fins-clamped', true)]
    expect(openSigns(seen, 'tang').map((entry) => entry.sign)).toEqual(['flashing', 'fins-clamped'])
    const gone = [...seen, sign(START + 2 * DAY, 'flashing', false)]
    expect(openSigns(gone, 'tang').map((entry) => entry.sign)).toEqual(['fins-clamped'])
    expect(openSigns([...gone, sign(START + 3 * DAY, 'flashing', true)], 'tang')).toHaveLength(2)
    expect(openSigns(seen, 'somebody-else')).toEqual([])
  })
})

describe('breathing', () => {
  const alarm = groupOf(resident.body.group)!.breathing!.alarm
  test('three calm days make a baseline, and the alarm needs two counts in a row', () => {
    const calm = [0, 1, 2].map((day) => count(START + day * DAY, 60 + 2 * day))
    expect(breathingOf(calm.slice(0, 2), resident, ZONE).baseline).toBeNull()
    const settled = breathingOf(calm, resident, ZONE)
    expect(settled).toMatchObject({ baseline: 62, alarm: false })
    const once = [...calm, count(START + 3 * DAY, alarm + 20)]
    expect(breathingOf(once, resident, ZONE).alarm).toBe(false)
    const twice = [...once, count(START + 3 * DAY + 3_600_000, alarm + 15)]
    expect(breathingOf(twice, resident, ZONE)).toMatchObject({ baseline: 62, alarm: true })
    const over = [...twice, count(START + 4 * DAY, 70)]
    expect(breathingOf(over, resident, ZONE).alarm).toBe(false)
  })
  test('its own baseline alarms below the alarm of its group, and warm water is allowed for', () => {
    const calm = [0, 1, 2].map((day) => count(START + day * DAY, 50))
    const fast = [...calm, count(START + 4 * DAY, 80), count(START + 5 * DAY, 82)]
    expect(80).toBeLessThan(alarm)
    expect(breathingOf(fast, resident, ZONE).alarm).toBe(true)
    // Ten degrees warmer doubles what is usual; a reading older than a day says nothing of today.
    const warmth = (ms: number, value: number) =>
      note(ms, { kind: 'reading', analyte: 'temperature', value, unit: '°C', bound: 'exact' })
    const then = [0, 1, 2].map((day) => warmth(START + day * DAY, 26))
    const warm = breathingOf([...fast, ...then, warmth(START + 5 * DAY - 3_600_000, 36)], resident, ZONE)
    expect(warm).toMatchObject({ alarm: false, warmth: 2 })
    const old = breathingOf([...fast, ...then, warmth(START + 3 * DAY, 36)], resident, ZONE)
    expect(old).toMatchObject({ alarm: true, warmth: 1 })
  })
  test('another fish and another kind of count say nothing of this one', () => {
    const other = [note(START, { kind: 'count', what: 'gill-beats', count: 150, residentId: 'somebody-else' })]
    const snails = [note(START, { kind: 'count', what: 'snails', count: 150 })]
    expect(breathingOf([...other, ...snails], resident, ZONE).counts).toEqual([])
  })
})

describe('days of watching', () => {
  const look = (at: number, name: string, minutes: number, vesselId = 'holding-a') =>
    note(at, { kind: 'done', what: 'Watched', vesselId, watched: { look: name, minutes } })
  const days = (entries: Entry[], vessels = ['holding-a']) =>
    watchDays(entries, vessels, ZONE, { fromMs: START, toMs: START + 2 * DAY }, ({ step }) => step === 'whole')
  test('each day stands, missed ones too; minutes and looks fill it, or one note for the whole of it', () => {
    expect(days([]).map(({ day, complete }) => [day, complete])).toEqual([
      ['2026-03-02', false],
      ['2026-03-03', false],
      ['2026-03-04', false],
    ])
    const filled = days([
      look(START, 'dawn', 10),
      look(START + 1, 'feeding', 10),
      look(START + 2, 'feeding', 10),
      look(START + DAY, 'dawn', 10),
      look(START + DAY + 1, 'feeding', 10),
      look(START + DAY + 2, 'torch', 10),
      note(START + 2 * DAY, { kind: 'done', what: 'x', step: 'whole' }),
    ])
    expect(filled.map(({ minutes, looks, complete }) => [minutes, looks.length, complete])).toEqual([
      [30, 2, false],
      [30, 3, true],
      [0, 0, true],
    ])
    expect(days([look(START, WHOLE_DAY, 29)])[0]!.complete).toBe(false)
    expect(days([look(START, WHOLE_DAY, 30)])[0]!.complete).toBe(true)
  })
  test('tubs of one rota are one place, any other vessel is not', () => {
    const there = [look(START, WHOLE_DAY, 30, 'second')]
    expect(days(there)[0]!.complete).toBe(false)
    expect(days(there, ['holding-a', 'second'])[0]!.complete).toBe(true)
  })
})

test('days of one animal: the highest breathing, the last polyps, signs that came and went, food and moves', () => {
  const entries = [
    count(START, 80),
    count(START + 1, 95),
    count(START + 2, 90),
    sign(START + 3, 'flashing', true),
    sign(START + DAY, 'flashing', false),
    note(START + DAY, { kind: 'count', what: EXTENSION, count: 3 }),
    note(START + DAY + 1, { kind: 'count', what: EXTENSION, count: 1 }),
    note(START + DAY + 2, { kind: 'meal', took: 'tried' }),
    note(START + DAY + 3, { kind: 'move', toVesselId: 'second' }),
    note(START + DAY + 4, { kind: 'meal', took: 'took', residentId: 'another' }),
  ]
  expect(residentDays(entries, 'tang', ZONE, { fromMs: START, toMs: START + 2 * DAY })).toEqual([
    { day: '2026-03-02', beats: 95, extension: null, signs: ['flashing'], gone: [], meals: [], moved: 0 },
    { day: '2026-03-03', beats: null, extension: 1, signs: [], gone: ['flashing'], meals: ['tried'], moved: 1 },
    { day: '2026-03-04', beats: null, extension: null, signs: [], gone: [], meals: [], moved: 0 },
  ])
})
