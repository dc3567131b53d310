// The microscope stand-in: what it draws is what its truth says, by the table, the same from the same seed; and what measures
// finds it. Sizes are held against the numbers of handbook 60 §6, written out here.
import { describe, expect, test } from '@jest/globals'
import { SlideReader } from '../src/imaging/slide.ts'
import { slideCount } from '../src/imaging/slideCount.ts'
import { coverOf } from '../src/imaging/cover.ts'
import { patchScene } from '../src/world/patchScene.ts'
import { slideFrame, slideScene, slideTruth, type SlidePlan } from '../src/world/microscope.ts'

const plan = (seed: number, more: Partial<SlidePlan> = {}): SlidePlan => ({
  seed,
  level: 'clean',
  width: 320,
  height: 240,
  fps: 8,
  seconds: 2,
  ...more,
})
const LENGTHS: Readonly<Record<string, readonly [number, number]>> = {
  'amphidinium-small': [10, 20],
  'amphidinium-large': [22, 50],
  ostreopsis: [30, 60],
  coolia: [25, 45],
  prorocentrum: [30, 55],
  'gambierdiscus-like': [55, 110],
}

describe('the stand-in', () => {
  test('draws sizes and speeds of the table, and the same from the same seed', () => {
    for (const [genus, [low, high]] of Object.entries(LENGTHS)) {
      const scene = slideScene(plan(3, { genera: { [genus]: 20 } }))
      const cells = scene.things.filter((one) => one.genus === genus)
      expect(cells).toHaveLength(20)
      for (const { length, width } of cells) {
        expect(length).toBeGreaterThanOrEqual(low)
        expect(length).toBeLessThanOrEqual(high)
        expect(width).toBeLessThanOrEqual(length)
      }
    }
    const [a, b] = [slideScene(plan(5)), slideScene(plan(5))]
    expect(slideTruth(a)).toEqual(slideTruth(b))
    expect(slideFrame(a, 3).data).toEqual(slideFrame(b, 3).data)
    expect(slideFrame(slideScene(plan(6)), 3).data).not.toEqual(slideFrame(a, 3).data)
  })
  test('counts what is in sight long enough, and never sand, flakes or air', () => {
    const scene = slideScene(plan(8, { level: 'hard', genera: { coolia: 12 }, seconds: 4 }))
    const truth = slideTruth(scene)
    expect(Object.values(truth.counts).reduce((sum, one) => sum + one, 0)).toBe(truth.objects.length)
    for (const one of truth.objects) expect(one.framesVisible).toBeGreaterThanOrEqual(5)
    expect(truth.leading).toBe(truth.counts.dinoflagellate > 0 ? 'coolia' : null)
    // Two genera about as many: neither leads.
    const tie = slideTruth(slideScene(plan(9, { genera: { coolia: 0, prorocentrum: 0 } })))
    expect(tie.leading).toBeNull()
  })
  test('darkness lies where a thing is drawn, and light where nothing is', () => {
    const scene = slideScene(plan(11, { genera: { 'gambierdiscus-like': 3 }, umPerPx: 1.5, round: false }))
    const { width, data } = slideFrame(scene, 0)
    const blue = (x: number, y: number) => data[3 * (Math.round(y) * width + Math.round(x)) + 2]!
    const inside = scene.things.flatMap((one) => {
      if (one.genus !== 'gambierdiscus-like') return []
      const { x, y } = one.path[0]!
      const [px, py] = [x / 1.5, y / 1.5]
      return px > 5 && py > 5 && px < 315 && py < 235 ? [blue(px, py)] : []
    })
    const ground = [...data].filter((_, i) => i % 3 === 2).sort((a, b) => a - b)[Math.floor(width * 240 * 0.9)]!
    for (const value of inside) expect(value).toBeLessThan(0.75 * ground)
  })
})

describe('what measures', () => {
  const read = (more: Partial<SlidePlan>, frames?: number) => {
    const scene = slideScene(plan(21, { seconds: 3, genera: { coolia: 10 }, round: false, ...more }))
    const list = Array.from({ length: frames ?? scene.frames }, (_, f) => slideFrame(scene, f))
    const reader = new SlideReader(list, { umPerPx: scene.umPerPx, fps: 8 })
    for (const one of list) reader.add(one)
    return { answer: reader.answer(), truth: slideTruth(scene) }
  }
  test('finds what was drawn: the genus, and as many within a third', () => {
    const { answer, truth } = read({})
    expect(answer.leading).toBe('coolia')
    const total = Object.values(truth.counts).reduce((sum, one) => sum + one, 0)
    expect(Math.abs(answer.objects.length - total) / total).toBeLessThan(0.34)
    expect(answer.faults).toEqual([])
  })
  test('tells what is wrong with a clip, and never a genus from one picture of nothing', () => {
    const { answer } = read({}, 1)
    expect(answer.faults[0]).toMatch(/^Only one picture/)
    const wall = Array.from({ length: 6 }, () => ({
      width: 64,
      height: 48,
      channels: 3 as const,
      data: new Uint8Array(64 * 48 * 3).fill(180),
    }))
    const reader = new SlideReader(wall, { umPerPx: 1, fps: 8 })
    for (const one of wall) reader.add(one)
    expect(reader.answer()).toMatchObject({ leading: null, faults: [expect.stringMatching(/^Nothing like a cell/)] })
    const coarse = new SlideReader(wall, { umPerPx: 4, fps: 8 })
    expect(coarse.answer().faults.join(' ')).toMatch(/A pixel is 4\.0 µm/)
    const { answer: flickering } = read({ fault: 'flicker' })
    expect(flickering.faults.join(' ')).toMatch(/lamp flickers/)
    expect(flickering.leading).toBe('coolia')
  })
  test('shares have an interval that holds less the fewer there are, and say how many more would settle it', () => {
    const objects = (n: number, m: number) =>
      [...Array<number>(n).fill(0), ...Array<number>(m).fill(1)].map(
        (kind) =>
          ({ class: kind === 0 ? 'diatom' : 'green', genus: 'x', lengthUm: 20, moving: false, path: [] }) as never,
      )
    const few = slideCount({ objects: objects(5, 5) }).shares[0]!
    const many = slideCount({ objects: objects(50, 50) }).shares[0]!
    expect(few).toMatchObject({ share: 0.5, count: 5 })
    // Wilson at 80 %, by hand for 5 of 10: 1.2816 ÷ 1.16425 × √(0.025 + 0.0041) = 0.1878 to each side.
    expect(few.low).toBeCloseTo(0.3122, 3)
    expect(few.high).toBeCloseTo(0.6878, 3)
    expect(many.high - many.low).toBeLessThan(few.high - few.low)
    // 1.2816² × 0.25 ÷ 0.1² = 41.06.
    expect(few.more).toBe(32)
    expect(many.more).toBe(0)
    expect(slideCount({ objects: [] }).shares).toEqual([])
  })
})

test('a drawn patch holds what it says, and what measures finds it, before and after', () => {
  const plan = { seed: 20_016, width: 400, height: 300, cover: { turf: 0.25, white: 0.2 }, left: 0.6 }
  const scene = patchScene(plan)
  const shares = Object.values(scene.truth.first).reduce((sum, one) => sum + one, 0)
  expect(shares).toBeCloseTo(1, 9)
  expect(scene.truth.later['turf']!).toBeLessThan(scene.truth.first['turf']!)
  // What was touched is what lies there: green where turf is said, white where white is.
  const at = ([x, y]: readonly [number, number]) => [
    ...scene.first.data.slice(3 * (y * 400 + x), 3 * (y * 400 + x) + 3),
  ]
  for (const place of scene.samples['turf']!) expect(at(place)[1]).toBeGreaterThan(at(place)[0]!)
  for (const place of scene.samples['white']!) expect(at(place)[2]).toBeGreaterThan(at(scene.samples['clean']![0]!)[2]!)
  const answer = coverOf(scene.first, scene.later, {
    classes: Object.entries(scene.samples).map(([id, samples]) => ({ id, samples })),
    polygon: scene.polygon,
  })
  expect(answer.registration.found).toBe(true)
  expect(answer.registration.transform.scale).toBeCloseTo(scene.place.scale, 2)
  for (const kind of ['turf', 'white', 'clean']) {
    expect(Math.abs(answer.a.shares[kind]! - scene.truth.first[kind]!)).toBeLessThan(0.04)
    expect(Math.abs(answer.b!.shares[kind]! - scene.truth.later[kind]!)).toBeLessThan(0.04)
  }
})
