// Patches by their names, their arms beside each other, and what was measured by marks of one animal.
import { describe, expect, test } from '@jest/globals'
import {
  armsOfPatches,
  markedPatches,
  markedPoints,
  PATCH_BY_EYE,
  PATCH_COVER,
  picturesToThin,
  type Entry,
  type PhotoEntry,
} from '../src/index.ts'
import { activeOf, DAY, entryAgo, NOW, reefWith } from './reef.ts'

const SAMPLES = [{ kind: 'clean', at: [[3, 4]] }]
const picture = (name: string, ago: number, more: object = {}) =>
  entryAgo(
    {
      kind: 'photo',
      photoId: `p-${name}-${ago}`,
      mime: 'image/jpeg',
      width: 100,
      height: 80,
      bytes: 1,
      note: `${name}: x`,
      patch: { name, corners: [], ...more },
    },
    ago,
  )
const measured = (piece: string, clean: number, ago: number, more: object = {}) =>
  entryAgo({ kind: 'tally', measure: PATCH_COVER, piece, values: { clean, film: 100 - clean, off: 3 }, ...more }, ago)
const activeWith = (entries: readonly Entry[]) => activeOf(reefWith([], entries))

describe('patches by name', () => {
  const entries = [
    picture('left', 21, { samples: SAMPLES, arm: 'treated' }),
    measured('left', 40, 21),
    picture('left', 14),
    measured('left', 70, 14),
    picture('right', 21, { samples: SAMPLES, arm: 'untreated' }),
    measured('right', 45, 21),
    measured('right', 40, 14),
    picture('unmarked', 3),
  ]
  test('each has its first marks, its pictures and what is not clean, with its doubt', () => {
    const found = markedPatches(activeWith(entries), 'reef')
    expect(found.map(({ name, arm, pictures }) => [name, arm, pictures.length])).toEqual([
      ['left', 'treated', 2],
      ['right', 'untreated', 1],
    ])
    expect(found[0]!.points.map(({ atMs, value, off }) => [(NOW - atMs) / DAY, value, off])).toEqual([
      [21, 60, 3],
      [14, 30, 3],
    ])
    expect(markedPatches(activeWith(entries), 'other')).toEqual([])
  })
  test('marked anew, the newest marks are what the next picture is measured by', () => {
    const anew = [...entries, picture('left', 7, { samples: SAMPLES, arm: 'treated' })]
    expect(markedPatches(activeWith(anew), 'reef')[0]!.first.photoId).toBe('p-left-7')
  })
  test('arms move by the mean of their patches, and one measured once moves nothing', () => {
    const arms = armsOfPatches(markedPatches(activeWith(entries), 'reef'))
    expect(arms).toEqual([
      { arm: 'treated', patches: 1, first: 60, last: 30 },
      { arm: 'untreated', patches: 1, first: 55, last: 60 },
    ])
    const once = [picture('c', 2, { samples: SAMPLES, arm: 'other-way' }), measured('c', 10, 2)]
    expect(armsOfPatches(markedPatches(activeWith(once), 'reef'))).toEqual([
      { arm: 'other-way', patches: 1, first: null, last: null },
    ])
  })
  test('what was judged by eye stands apart from what was measured', () => {
    const eye = entryAgo({ kind: 'tally', measure: PATCH_BY_EYE, piece: 'left', values: { points: 55 } }, 21)
    const [left] = markedPatches(activeWith([...entries, eye]), 'reef')
    expect(left!.byEye.map(({ value }) => value)).toEqual([55])
    expect(left!.points).toHaveLength(2)
  })
  test('thinning never takes the picture that carries the marks', () => {
    const list = [100, 98, 96, 94, 92, 60].map((ago) => picture('left', ago, ago === 96 ? { samples: SAMPLES } : {}))
    const gone = picturesToThin(list as PhotoEntry[], NOW).map(({ photoId }) => photoId)
    expect(gone).toEqual(expect.arrayContaining(['p-left-98', 'p-left-94']))
    expect(gone).not.toContain('p-left-96')
  })
})

test('marks of an animal go with it, by its register and, from before that, by its name', () => {
  const mark = (values: object, ago: number, more: object) =>
    entryAgo({ kind: 'tally', measure: 'marked-bare', piece: 'Antler', values, ...more }, ago)
  const entries = [
    mark({ bare: 30 }, 9, {}),
    mark({ bare: 25, off: 2 }, 5, { residentId: 'r1', vesselId: 'elsewhere' }),
    mark({ bare: 20, off: 2 }, 2, { residentId: 'r1', piece: 'Antler the second' }),
    mark({ bare: 99 }, 1, { residentId: 'r2' }),
  ]
  const active = activeWith(entries)
  expect(
    markedPoints(active, 'line', { residentId: 'r1', name: 'Antler' }).map(({ value, off }) => [value, off]),
  ).toEqual([
    [30, null],
    [25, 2],
    [20, 2],
  ])
  expect(markedPoints(active, 'line', { vesselId: 'reef', name: 'Antler' }).map(({ value }) => value)).toEqual([30])
  expect(markedPoints(active, 'spots', { residentId: 'r1', name: 'Antler' })).toEqual([])
})
