import { expect, test } from '@jest/globals'
import {
  activeEntries,
  defaultSettings,
  protocolOf,
  recordOf,
  sinceThen,
  type CourseDocument,
  type Entry,
} from '@brinvo/core'
import { courseDocument, entryAt, ZONE as zone } from './entries.ts'

const NOW = Date.parse('2027-03-10T18:00:00Z')
const DAY = 86_400_000
const start = NOW - 6 * DAY
const course: CourseDocument = courseDocument('rest', {
  protocol: protocolOf('rest-after-treatment')!,
  vesselId: 'box',
  startMs: start,
  zone,
  residents: ['wrasse'],
  dailyHour: 19,
})
const record = recordOf(defaultSettings(zone), [course], [])
const at = (day: number, fields: object): Entry => entryAt(start + day * DAY, { vesselId: 'box', ...fields })
const told = (entries: readonly Entry[]) =>
  Object.fromEntries(sinceThen(record, activeEntries(entries), course, NOW).rows.map((row) => [row.id, row]))

test('as many days before as after: signs, meals, breathing and hands, and which way each went', () => {
  const sign = (day: number, present: boolean) =>
    at(day, { kind: 'sign', residentId: 'wrasse', sign: 'flashing', present })
  const meal = (day: number, took: string) => at(day, { kind: 'meal', residentId: 'wrasse', took })
  const beats = (day: number, count: number) =>
    at(day, { kind: 'count', what: 'gill-beats', residentId: 'wrasse', count, minutes: 1 })
  const rows = told([
    // Nine days before is outside six days before.
    sign(-9, true),
    ...[-5, -4, -3].map((day) => sign(day, true)),
    sign(2, false),
    meal(-5, 'ignored'),
    meal(-4, 'took'),
    meal(1, 'took'),
    meal(2, 'took'),
    beats(-2, 120),
    beats(3, 122),
    ...[-5, -4, -3, -2, -1].map((day) => at(day, { kind: 'dose', productId: 'b', amount: 1, unit: 'mL' })),
  ])
  expect(rows['signs']).toMatchObject({ before: 3 / 6, after: 0, went: 'better' })
  expect(rows['appetite']).toMatchObject({ before: 50, after: 100, went: 'better' })
  expect(rows['breathing']).toMatchObject({ before: 120, after: 122, went: 'as-before' })
  expect(rows['hands']).toMatchObject({ before: 5 / 6, after: 0, went: 'better' })
})
test('silence is told as silence, another animal as nobody, and the first day as nothing', () => {
  const rows = told([at(2, { kind: 'sign', residentId: 'other', sign: 'flashing', present: true })])
  expect(rows['signs']).toMatchObject({ before: null, after: null, went: null })
  const worse = told([
    at(-1, { kind: 'meal', residentId: 'wrasse', took: 'took' }),
    at(1, { kind: 'meal', residentId: 'wrasse', took: 'ignored' }),
  ])
  expect(worse['appetite']).toMatchObject({ before: 100, after: 0, went: 'worse' })
  expect(sinceThen(record, [], course, start + DAY / 2).rows).toEqual([])
})

test('a tick is no look: only signs, watches and the watching a course asks for are', () => {
  const done = (fields: object) => at(2, { kind: 'done', courseId: 'rest', what: 'x', ...fields })
  expect(told([done({ step: 'rest/carbon/0' }), at(1, { kind: 'meal', took: 'took' })])['signs']!.after).toBeNull()
  expect(told([done({ step: 'rest/watch/2' })])['signs']!.after).toBe(0)
  expect(told([done({ watched: { look: 'dawn', minutes: 10 } })])['signs']!.after).toBe(0)
})
