// Pale spots proposed on a drawn fish, and the light of a picture taken out by a card.
import { describe, expect, test } from '@jest/globals'
import { coverOf } from '../src/imaging/cover.ts'
import type { Picture } from '../src/imaging/frame.ts'
import { balanced } from '../src/imaging/neutral.ts'
import { findSpots } from '../src/imaging/spots.ts'
import { fishScene } from '../src/world/fishScene.ts'
import { patchScene } from '../src/world/patchScene.ts'

const drawn = (seed: number, spots: number) => fishScene({ seed, width: 560, height: 400, spots })
const score = ({ picture, spots, outline }: ReturnType<typeof drawn>) => {
  const found = findSpots(picture, { polygon: outline })
  const used = new Set<number>()
  for (const { x, y, r } of spots) {
    const at = found.findIndex((one, k) => !used.has(k) && Math.hypot(one.x - x, one.y - y) <= r + 2)
    if (at >= 0) used.add(at)
  }
  return { found, right: used.size }
}
/** A flat ground with discs of our own, no fish at all. */
function ground(discs: readonly { x: number; y: number; r: number; by: number }[], stripe = false): Picture {
  const [width, height] = [160, 120]
  const data = new Uint8ClampedArray(width * height * 3)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let value = 90 + ((x * 7 + y * 13) % 5)
      for (const disc of discs) if (Math.hypot(x - disc.x, y - disc.y) <= disc.r) value += disc.by
      if (stripe && Math.abs(y - 60) <= 2) value += 70
      data.fill(value, 3 * (y * width + x), 3 * (y * width + x) + 3)
    }
  return { width, height, channels: 3, data }
}

describe('spots', () => {
  test('nine in ten of those drawn are proposed, and no more than two in ten of the proposals are none', () => {
    let [all, right, proposed] = [0, 0, 0]
    for (const [seed, n] of [
      [101, 12],
      [102, 25],
      [103, 40],
    ] as const) {
      const scene = drawn(seed, n)
      const { found, right: own } = score(scene)
      all += scene.spots.length
      right += own
      proposed += found.length
    }
    expect(right / all).toBeGreaterThanOrEqual(0.85)
    expect(right / proposed).toBeGreaterThanOrEqual(0.8)
  })
  test('three discs on a ground are three, by size and place; darker ones and a stripe are none', () => {
    const discs = [
      { x: 40, y: 30, r: 3, by: 60 },
      { x: 90, y: 80, r: 4, by: 60 },
      { x: 130, y: 40, r: 2.5, by: 60 },
    ]
    const found = findSpots(ground([...discs, { x: 60, y: 60, r: 3, by: -50 }]), { polygon: [] })
    expect(found).toHaveLength(3)
    for (const { x, y } of discs) expect(found.some((one) => Math.hypot(one.x - x, one.y - y) < 2)).toBe(true)
    expect(findSpots(ground([], true), { polygon: [] })).toEqual([])
    expect(findSpots(ground([]), { polygon: [] })).toEqual([])
  })
  test('outside the outline nothing is proposed', () => {
    const picture = ground([
      { x: 40, y: 30, r: 3, by: 60 },
      { x: 120, y: 90, r: 3, by: 60 },
    ])
    const found = findSpots(picture, {
      polygon: [
        [20, 10],
        [70, 10],
        [70, 60],
        [20, 60],
      ],
    })
    expect(found.map(({ x, y }) => [Math.round(x / 10), Math.round(y / 10)])).toEqual([[4, 3]])
  })
  test('a picture twice as bright has the same spots', () => {
    const { picture, outline } = drawn(104, 15)
    const dim = { ...picture, data: Uint8ClampedArray.from(picture.data, (one) => 0.6 * one) }
    const [a, b] = [picture, dim].map((one) => findSpots(one, { polygon: outline }).length)
    expect(Math.abs(a! - b!)).toBeLessThanOrEqual(2)
  })
})

describe('a white card', () => {
  test('takes the colour of the light out, and says where it is burnt out or too dark', () => {
    const picture = ground([{ x: 40, y: 40, r: 12, by: 80 }])
    const tinted = {
      ...picture,
      data: Uint8ClampedArray.from(picture.data, (one, i) => one * [0.7, 0.95, 1.2][i % 3]!),
    }
    const { data } = balanced(tinted, [40, 40])
    const at = 3 * (90 * 160 + 100)
    expect(Math.abs(data[at]! - data[at + 1]!)).toBeLessThanOrEqual(2)
    expect(Math.abs(data[at + 2]! - data[at + 1]!)).toBeLessThanOrEqual(2)
    // What it does not touch is how bright it is in all.
    const mean = (one: ArrayLike<number>) => (one[at]! + one[at + 1]! + one[at + 2]!) / 3
    expect(Math.abs(mean(data) - mean(tinted.data))).toBeLessThan(0.15 * mean(tinted.data))
    expect(() => balanced(ground([{ x: 40, y: 40, r: 12, by: 200 }]), [40, 40])).toThrow(/burnt out/)
    expect(() => balanced(ground([{ x: 40, y: 40, r: 12, by: -80 }]), [40, 40])).toThrow(/too dark/)
  })
  test('under a lamp of another colour the later cover is what was drawn', () => {
    const scene = patchScene({ seed: 41, width: 480, height: 360, cover: { film: 0.35 }, left: 0.4 })
    const card = (picture: Picture): Picture => {
      const data = new Uint8ClampedArray(picture.data)
      for (let y = 4; y < 36; y++) for (let x = 4; x < 36; x++) data.set([200, 200, 200], 3 * (y * picture.width + x))
      return { ...picture, data }
    }
    const blue = (picture: Picture): Picture => ({
      ...picture,
      data: Uint8ClampedArray.from(picture.data, (one, i) => one * [0.62, 0.88, 1.15][i % 3]!),
    })
    const question = {
      classes: Object.entries(scene.samples).map(([id, samples]) => ({ id, samples })),
      polygon: scene.polygon,
    }
    const answer = coverOf(balanced(card(scene.first), [20, 20]), balanced(blue(card(scene.later)), [20, 20]), question)
    expect(Math.abs(answer.b!.shares['film']! - scene.truth.later['film']!)).toBeLessThan(0.04)
  })
})
