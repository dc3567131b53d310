// Which copies may go, and when a reminder is due.
import { expect, test } from '@jest/globals'
import { copiesToThin, copyDue } from '../src/index.ts'

const TODAY = '2026-11-29'
const DAY = 86_400_000
const dayAgo = (n: number) => new Date(Date.parse(TODAY) - n * DAY).toISOString().slice(0, 10)
const ages = (days: readonly string[]) =>
  days.map((day) => (Date.parse(TODAY) - Date.parse(day)) / DAY).sort((a, b) => a - b)

test('the last week stays whole, then one a week, then one a month, and always the oldest', () => {
  const all = Array.from({ length: 200 }, (_, i) => dayAgo(i))
  const gone = new Set(copiesToThin(all, TODAY))
  const kept = ages(all.filter((day) => !gone.has(day)))
  expect(kept.slice(0, 7)).toEqual([0, 1, 2, 3, 4, 5, 6])
  // The newest of each week from the second to the ninth.
  expect(kept.slice(7, 15)).toEqual([7, 14, 21, 28, 35, 42, 49, 56])
  // 63 days ago is 27 September; the months before it, each by its last day; the oldest is 14 May.
  expect(all.filter((day) => !gone.has(day)).slice(15)).toEqual(
    expect.arrayContaining(['2026-09-27', '2026-08-31', '2026-07-31', '2026-06-30', '2026-05-31', '2026-05-14']),
  )
  expect(kept).toHaveLength(21)
  // What was thinned is thin: nothing more goes today.
  expect(
    copiesToThin(
      all.filter((day) => !gone.has(day)),
      TODAY,
    ),
  ).toEqual([])
})
test('lived: a copy a day, thinned every day, leaves weeks and months behind', () => {
  let kept: string[] = []
  for (let ago = 299; ago >= 0; ago--) {
    const today = dayAgo(ago)
    const gone = new Set(copiesToThin([...kept, today], today))
    kept = [...kept, today].filter((day) => !gone.has(day))
  }
  const old = ages(kept)
  expect(old.slice(0, 7)).toEqual([0, 1, 2, 3, 4, 5, 6])
  expect(old.filter((age) => age >= 7 && age < 63)).toHaveLength(8)
  // Eight months before that, and the first of all.
  const months = new Set(
    kept.filter((day) => (Date.parse(TODAY) - Date.parse(day)) / DAY >= 63).map((day) => day.slice(0, 7)),
  )
  expect(months.size).toBeGreaterThanOrEqual(8)
  expect(old.at(-1)).toBe(299)
})
test('few copies stay, whatever their age', () => {
  expect(copiesToThin([dayAgo(300)], TODAY)).toEqual([])
  expect(copiesToThin([dayAgo(8), dayAgo(9)], TODAY)).toEqual([])
  expect(ages(copiesToThin([dayAgo(8), dayAgo(9), dayAgo(40)], TODAY))).toEqual([9])
})
test('a reminder comes after two weeks of a record that has grown, and for one that was never copied', () => {
  const last = { atMs: Date.parse(TODAY) - 14 * DAY, entries: 100 }
  expect(copyDue(last, 120, Date.parse(TODAY))).toEqual({ days: 14, since: 20 })
  expect(copyDue(last, 119, Date.parse(TODAY))).toBeNull()
  expect(copyDue({ ...last, atMs: last.atMs + 1 }, 500, Date.parse(TODAY))).toBeNull()
  expect(copyDue(null, 20, Date.parse(TODAY))).toEqual({ days: null, since: 20 })
  expect(copyDue(null, 19, Date.parse(TODAY))).toBeNull()
})
