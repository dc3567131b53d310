// What must end together, by hand on a calendar.
import { expect, test } from '@jest/globals'
import { endTogether } from '@brinvo/core'

const NOW = Date.parse('2026-03-01T12:00:00Z')
const DAY = 86_400_000
const on = (ms: number | null) => (ms === null ? null : (ms - NOW) / DAY)

test('a fallow with forty days to go: an intake of 28 days may wait twelve, one of 45 holds it up by five', () => {
  const fallow = { id: 'f', title: 'Fallow', endMs: NOW + 40 * DAY }
  const short = endTogether([fallow, { id: 'a', title: 'Copper', days: 28 }], NOW, null)
  expect(on(short.endMs)).toBe(40)
  expect(short.lines.map(({ id, runs, latestMs, lateDays }) => [id, runs, on(latestMs), lateDays])).toEqual([
    ['f', true, null, 0],
    ['a', false, 12, 0],
  ])
  const both = endTogether(
    [fallow, { id: 'a', title: 'Copper', days: 28 }, { id: 'b', title: 'Corals', days: 45 }],
    NOW,
    null,
  )
  // The common day moves to the 45th; the shorter one may now wait five days more.
  expect(on(both.endMs)).toBe(45)
  expect(both.lines.map(({ id, latestMs, lateDays }) => [id, on(latestMs), lateDays])).toEqual([
    ['f', null, 0],
    ['a', 17, 0],
    ['b', 0, 5],
  ])
})
test('a day that is wished stands, and what cannot make it says by how much; without anything it is today', () => {
  const wished = endTogether([{ id: 'a', title: 'A', days: 30 }], NOW, NOW + 60 * DAY)
  expect([on(wished.endMs), on(wished.lines[0]!.latestMs), wished.lines[0]!.lateDays]).toEqual([60, 30, 0])
  const soon = endTogether([{ id: 'a', title: 'A', days: 30 }], NOW, NOW + 29.5 * DAY)
  expect([on(soon.endMs), soon.lines[0]!.lateDays]).toEqual([30, 1])
  expect(on(endTogether([], NOW, null).endMs)).toBe(0)
})
