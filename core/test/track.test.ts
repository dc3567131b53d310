// What lies still is found before anything is followed, on whichever ground it lies.
import { describe, expect, test } from '@jest/globals'
import type { Body } from '../src/imaging/bodies.ts'
import { flowOf, secondGround, stillsOf, tracksOf, wholeStills, type Drift } from '../src/imaging/track.ts'

const FRAMES = 24
const body = (x: number, y: number, more: Partial<Body> = {}): Body => ({
  x,
  y,
  area: 300,
  length: 26,
  width: 15,
  angle: 0.3,
  skew: 0,
  fill: 0.9,
  solid: 0.9,
  red: 0.2,
  green: 0.3,
  blue: 0.6,
  rim: 0,
  uneven: 0,
  thick: 14,
  sharp: 0.1,
  cut: false,
  shown: true,
  ...more,
})
const none = Array.from({ length: FRAMES }, () => 0)
const still: Drift = { dx: none, dy: none }
const clip = (make: (frame: number) => readonly Body[]) => Array.from({ length: FRAMES }, (_, f) => make(f))

describe('what lies still', () => {
  test('keeps its place while another swims over it, and the other is followed by itself', () => {
    // The swimmer crosses the still one in frames 9 to 13, where both are one body of twice the size.
    const frames = clip((f) => {
      const x = 20 + 8 * f
      return f >= 9 && f <= 13
        ? [body((x + 110) / 2, 102, { area: 640, length: 44, width: 30 })]
        : [body(110 + (f % 2 ? 0.4 : -0.4), 102), body(x, 104)]
    })
    const { still: found, rest } = stillsOf(frames, none, none)
    expect(found).toHaveLength(1)
    expect(found[0]!.spots).toHaveLength(FRAMES - 5)
    expect(found[0]!.spots.every(({ x }) => Math.abs(x - 110) < 1)).toBe(true)
    expect(rest.every((bodies) => bodies.length === 1)).toBe(true)
  })
  test('a swimmer is none, and one that rests for a third of the clip is none', () => {
    const runs = clip((f) => [body(20 + 6 * f, 40)])
    expect(stillsOf(runs, none, none).still).toEqual([])
    const rests = clip((f) => [body(20 + 8 * Math.max(0, f - 8), 40)])
    expect(stillsOf(rests, none, none).still).toEqual([])
  })
  test('look-alikes that pass one place now and then are none', () => {
    // Ten of twenty-four frames, from the first to the last: a way that many take, and no body that lies.
    const passed = new Set([0, 3, 5, 8, 10, 13, 15, 18, 20, 23])
    const frames = clip((f) => (passed.has(f) ? [body(80, 80)] : [body(140 + 3 * f, 30 + 5 * f)]))
    expect(stillsOf(frames, none, none).still).toEqual([])
  })
  test('two alike at one place in turn are told apart by their look', () => {
    const frames = clip((f) => [body(50, 50, f < 12 ? {} : { area: 900, length: 60, blue: 0.2 })])
    const { still: found } = stillsOf(frames, none, none)
    expect(found.map(({ spots }) => spots.length)).toEqual([12, 12])
  })
})

describe('a body that creeps', () => {
  test('is one with the frames that were left of it, and another one nearby is not', () => {
    // Still for sixteen frames, then a pixel a frame; beside it a swimmer of another look.
    const frames = clip((f) => [
      body(60 + Math.max(0, f - 15), 60),
      body(66 + 4 * f, 62, { area: 900, length: 50, blue: 0.2 }),
    ])
    const { still: found, rest } = stillsOf(frames, none, none)
    expect(found).toHaveLength(1)
    const whole = wholeStills(found, tracksOf(rest, still, 8, 1))
    expect(whole.still[0]!.spots.map(({ frame }) => frame)).toEqual(Array.from({ length: FRAMES }, (_, i) => i))
    expect(whole.rest.flatMap(({ spots }) => spots).every(({ body: { area } }) => area === 900)).toBe(true)
  })
})

describe('a second ground', () => {
  const carried = (n: number) =>
    clip((f) => [
      ...Array.from({ length: n }, (_, i) => body(40 + 60 * i + 0.7 * f, 30 + 20 * i - 0.3 * f)),
      ...Array.from({ length: 4 }, (_, i) => body(50 + 50 * i, 220)),
      body(300 - 5 * f, 150 + 20 * Math.sin(f)),
    ])
  test('is what three bodies that keep one way at one speed are carried by', () => {
    const ground = secondGround(tracksOf(carried(3), still, 8, 1), FRAMES)
    expect(ground!.vx).toBeCloseTo(0.7, 1)
    expect(ground!.vy).toBeCloseTo(-0.3, 1)
    expect(secondGround(tracksOf(carried(2), still, 8, 1), FRAMES)).toBeNull()
  })
  test('on it they lie still', () => {
    const frames = carried(3)
    const at = (v: number) => none.map((_, f) => v * f)
    expect(stillsOf(frames, at(0.7), at(-0.3)).still).toHaveLength(3)
    expect(stillsOf(frames, none, none).still).toHaveLength(4)
  })
  test('how the ground flows is the middle of its way', () => {
    const flow = flowOf({ dx: none.map((_, f) => 1.5 * f + (f % 2)), dy: none.map((_, f) => -0.5 * f) })
    expect(flow.vx).toBeCloseTo(1.5, 1)
    expect(flow.vy).toBeCloseTo(-0.5, 1)
  })
})
