// Which pictures of a series may go.
import { expect, test } from '@jest/globals'
import { orphansOf, picturesToThin, type Entry, type PhotoEntry } from '../src/index.ts'
import { entryAgo, NOW } from './reef.ts'

const photo = (daysAgo: number, more: object = {}) =>
  entryAgo(
    { kind: 'photo', photoId: `p-${daysAgo}`, mime: 'image/jpeg', width: 1, height: 1, bytes: 1, ...more },
    daysAgo,
  ) as PhotoEntry
const days = (list: readonly PhotoEntry[]) => list.map(({ photoId }) => Number(photoId.slice(2))).sort((a, b) => b - a)

test('the first, the newest, one a week and the last four weeks stay', () => {
  // Every second day from 60 to 30 days ago: 60, then one a week after it: 52, 44, 36; 30 is the newest of that series.
  const list = Array.from({ length: 16 }, (_, i) => photo(60 - 2 * i))
  expect(days(picturesToThin(list, NOW))).toEqual([58, 56, 54, 50, 48, 46, 42, 40, 38, 34, 32])
  // Younger than four weeks nothing goes.
  expect(picturesToThin([photo(27), photo(26), photo(25), photo(24)], NOW)).toEqual([])
  expect(picturesToThin([photo(90), photo(89)], NOW)).toEqual([])
})
test('series are kept apart: by what they show and by what their note begins with', () => {
  const list = [90, 89, 88].flatMap((ago) => [
    photo(ago, { note: 'Slide: 12 diatom' }),
    photo(ago, { note: 'Patch: 30 % grown over' }),
    photo(ago, { residentId: 'a' }),
  ])
  expect(picturesToThin(list, NOW)).toHaveLength(3)
  expect(new Set(picturesToThin(list, NOW).map(({ photoId }) => photoId))).toEqual(new Set(['p-89']))
})

test('a picture that no entry shows goes after a day; what an entry shows, struck out too, and what says no time stays', () => {
  const idAt = (ms: number) => {
    const hex = ms.toString(16).padStart(12, '0')
    return `${hex.slice(0, 8)}-${hex.slice(8)}-7abc-8def-0123456789ab`
  }
  const HOUR = 3_600_000
  const [old, young, shown] = [idAt(NOW - 25 * HOUR), idAt(NOW - 23 * HOUR), idAt(NOW - 90 * 24 * HOUR)]
  const entries = [photo(90, { photoId: shown })] as Entry[]
  expect(orphansOf([old, young, shown, 'drawn-sand-0', 'sitter-12ab'], entries, NOW)).toEqual([old])
})
