// Pictures drawn here, with what is in them known: slides with ovals that swim, drift and lie still; a ground that is shifted,
// turned and scaled; patches under a slope of light. The drawing shares nothing with what measures.
import { describe, expect, test } from '@jest/globals'
import { coverOf } from '../src/imaging/cover.ts'
import { shrunk, type Picture } from '../src/imaging/frame.ts'
import { mapped, register } from '../src/imaging/register.ts'
import { analyseClip } from '../src/imaging/slide.ts'

let state = 11
const random = () => {
  state = (state * 1664525 + 1013904223) >>> 0
  return (state + 0.5) / 4294967296
}
const noise = (sd: number) => sd * Math.sqrt(-2 * Math.log(random())) * Math.cos(2 * Math.PI * random())
type Rgb = readonly [number, number, number]
const picture = (width: number, height: number, colour: (x: number, y: number) => Rgb, sd = 1.2): Picture => {
  const data = new Uint8Array(width * height * 3)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = colour(x, y)
      for (let c = 0; c < 3; c++)
        data[(y * width + x) * 3 + c] = Math.max(0, Math.min(255, Math.round(at[c]! + noise(sd))))
    }
  return { width, height, channels: 3, data }
}

/** An oval with a soft edge: share of the light it takes at a point. */
interface Oval {
  readonly x: number
  readonly y: number
  readonly long: number
  readonly short: number
  readonly angle: number
  readonly takes: Rgb
}
const takenBy = ({ x: cx, y: cy, long, short, angle, takes }: Oval, x: number, y: number): Rgb => {
  const [dx, dy] = [x - cx, y - cy]
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  const r = Math.hypot((dx * c + dy * s) / (long / 2), (-dx * s + dy * c) / (short / 2))
  const edge = Math.max(0, Math.min(1, 0.5 + (1 - r) * (short / 2)))
  return takes.map((one) => one * edge) as unknown as Rgb
}
const BROWN: Rgb = [0.24, 0.4, 0.68]
const frameOf = (ovals: readonly Oval[], bright = 1, vignette = 0.25) =>
  picture(240, 180, (x, y) => {
    const light = bright * 200 * (1 - vignette * ((x / 120 - 1) ** 2 + (y / 90 - 1) ** 2) * 0.5)
    const sum = [0, 0, 0]
    for (const one of ovals) {
      if (Math.abs(x - one.x) > one.long || Math.abs(y - one.y) > one.long) continue
      takenBy(one, x, y).forEach((value, c) => (sum[c]! += value))
    }
    return [light * Math.exp(-sum[0]!), light * 0.98 * Math.exp(-sum[1]!), light * 0.9 * Math.exp(-sum[2]!)]
  })

const UM = 1.2
const FPS = 8
/** Five that swim, four boats that lie, two small round ones that lie; all of it drifts. */
function slide(bright = 1, drift = 0.6) {
  const swim = [
    { x: 60, y: 40, vx: 9, vy: 2 },
    { x: 150, y: 60, vx: -8, vy: 4 },
    { x: 90, y: 130, vx: 7, vy: -5 },
    { x: 190, y: 120, vx: -9, vy: -3 },
    { x: 120, y: 90, vx: 3, vy: 9 },
  ]
  return Array.from({ length: 12 }, (_, f) => {
    const by = drift * f
    // Each swims to and fro over a path of its own, and never over a boat.
    const there = (k: number) => (k % 8 < 4 ? k % 4 : 4 - (k % 4))
    return frameOf(
      [
        ...swim.map(({ x, y, vx, vy }) => ({
          x: x + vx * there(f) + by,
          y: y + vy * there(f),
          long: 34 / UM,
          short: 31 / UM,
          angle: Math.atan2(vy, vx),
          takes: BROWN,
        })),
        ...[
          [30, 90],
          [210, 30],
          [40, 160],
          [205, 160],
        ].map(([x, y], i) => ({
          x: x! + by,
          y: y!,
          long: 44 / UM,
          short: 12 / UM,
          angle: 0.5 * i,
          takes: [0.3, 0.34, 0.5] as Rgb,
        })),
        ...[
          [20, 20],
          [225, 90],
        ].map(([x, y]) => ({
          x: x! + by,
          y: y!,
          long: 9 / UM,
          short: 9 / UM,
          angle: 0,
          takes: [0.35, 0.45, 0.65] as Rgb,
        })),
      ],
      bright,
    )
  })
}
const mirrored = ({ width, height, data }: Picture): Picture => {
  const out = new Uint8Array(data.length)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 3; c++) out[(y * width + width - 1 - x) * 3 + c] = data[(y * width + x) * 3 + c]!
  return { width, height, channels: 3, data: out }
}
const middle = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]!
const lengthsOf = (answer: ReturnType<typeof analyseClip>, kind: string) =>
  middle(answer.objects.filter((one) => one.class === kind).map(({ lengthUm }) => lengthUm))

describe('a slide', () => {
  const meta = { umPerPx: UM, fps: FPS }
  const answer = analyseClip(slide(), meta)
  test('what swims, what lies and how many of each', () => {
    expect(answer.counts).toMatchObject({ dinoflagellate: 5, diatom: 4, other: 2, green: 0, cyanobacteria: 0 })
    expect(answer.objects.filter(({ moving }) => moving)).toHaveLength(5)
  })
  test('is measured: length within 8 %, speed within a fifth', () => {
    expect(Math.abs(lengthsOf(answer, 'dinoflagellate') / 34 - 1)).toBeLessThan(0.08)
    expect(Math.abs(lengthsOf(answer, 'diatom') / 44 - 1)).toBeLessThan(0.08)
    // Nine pixels a frame of 1.2 µm at eight frames: 88 µm/s and about that.
    const speed = middle(answer.objects.filter(({ moving }) => moving).map(({ speedUmPerS }) => speedUmPerS))
    expect(Math.abs(speed / 88 - 1)).toBeLessThan(0.2)
  })
  test('has its leading genus by the table: round, 25 to 45 µm, 80 µm/s and more', () => {
    expect(answer.leading).toBe('coolia')
    expect(answer.doubt).toBeNull()
  })
  test.each([
    ['mirrored', slide().map(mirrored)],
    ['half as bright', slide(0.5)],
  ] as const)('%s gives the same', (_name, frames) => {
    const other = analyseClip(frames, meta)
    // One in ten may differ: a path that is lost for a moment begins anew.
    const apart = Object.entries(answer.counts).reduce(
      (sum, [kind, n]) => sum + Math.abs(n - other.counts[kind as keyof typeof other.counts]),
      0,
    )
    expect(apart).toBeLessThanOrEqual(1)
    expect(other.leading).toBe(answer.leading)
    expect(Math.abs(lengthsOf(other, 'dinoflagellate') / lengthsOf(answer, 'dinoflagellate') - 1)).toBeLessThan(0.05)
  })
  test('an empty field and a single frame are told nothing', () => {
    const empty = analyseClip(
      Array.from({ length: 6 }, () => frameOf([])),
      meta,
    )
    expect(empty.objects).toEqual([])
    expect(empty.leading).toBeNull()
    expect(analyseClip(slide().slice(0, 1), meta).objects.filter(({ moving }) => moving)).toEqual([])
  })
})

/** A ground of many soft grains, as a function of place. */
function ground(seed: number) {
  state = seed
  const grains = Array.from({ length: 900 }, () => ({
    x: random() * 700 - 110,
    y: random() * 580 - 110,
    r: 4 + 12 * random(),
    v: noise(30),
  }))
  const cells = new Map<string, typeof grains>()
  for (const grain of grains)
    for (let cy = Math.floor((grain.y - grain.r) / 24); cy <= Math.floor((grain.y + grain.r) / 24); cy++)
      for (let cx = Math.floor((grain.x - grain.r) / 24); cx <= Math.floor((grain.x + grain.r) / 24); cx++) {
        const key = `${cx} ${cy}`
        cells.set(key, [...(cells.get(key) ?? []), grain])
      }
  return (x: number, y: number) => {
    let sum = 120
    for (const { x: gx, y: gy, r, v } of cells.get(`${Math.floor(x / 24)} ${Math.floor(y / 24)}`) ?? []) {
      const d = Math.hypot(x - gx, y - gy) / r
      if (d < 1) sum += v * (1 - d * d)
    }
    return sum
  }
}
const [W, H] = [480, 360]
/** Where a point of the second picture lay in the first. */
const back = (t: Parameters<typeof mapped>[0], u: number, v: number): readonly [number, number] => {
  const angle = (t.angleDeg * Math.PI) / 180
  const [du, dv] = [u - W / 2 - t.dx, v - H / 2 - t.dy]
  return [
    W / 2 + (Math.cos(angle) * du + Math.sin(angle) * dv) / t.scale,
    H / 2 + (-Math.sin(angle) * du + Math.cos(angle) * dv) / t.scale,
  ]
}

describe('a place found again', () => {
  const sand = ground(5)
  const first = picture(W, H, (x, y) => [sand(x, y), 0.9 * sand(x, y), 0.7 * sand(x, y)], 3)
  test.each([{ dx: 30, dy: -22, angleDeg: 4, scale: 1.06 }])('%j', (truth) => {
    // Darker, hazier, lit from the side.
    const second = picture(
      W,
      H,
      (u, v) => {
        const [x, y] = back(truth, u, v)
        const value = (0.7 + 0.3 * (u / W)) * sand(x, y) + 20
        return [value, 0.85 * value, 0.75 * value]
      },
      3,
    )
    const { transform, found } = register(first, second)
    expect(found).toBe(true)
    for (const [x, y] of [
      [0, 0],
      [W, 0],
      [0, H],
      [W, H],
    ] as const) {
      const [u, v] = mapped(transform, x, y, W, H)
      const [tu, tv] = mapped(truth, x, y, W, H)
      expect(Math.hypot(u - tu, v - tv)).toBeLessThan(1)
    }
  })
  test('another ground is not taken for it', () => {
    const other = ground(77)
    const answer = register(
      first,
      picture(W, H, (x, y) => [other(x, y), other(x, y), other(x, y)], 3),
    )
    expect(answer.found && answer.error < 1 && answer.agree > 30).toBe(false)
  })
})

test('cover is measured under a slope of light, and its change between two pictures', () => {
  const sand = ground(9)
  // A green disc of radius 90 on sand: 25,447 of 480 × 360 pixels; later one of radius 60.
  const shot = (radius: number, light: (x: number) => number) =>
    picture(
      W,
      H,
      (x, y) => {
        const l = light(x)
        const value = 0.6 * sand(x, y)
        return Math.hypot(x - 240, y - 180) < radius
          ? [l * 0.3 * value, l * (0.75 * value + 14), l * 0.25 * value]
          : [l * value * 1.3, l * value * 1.15, l * value * 0.9]
      },
      3,
    )
  const question = {
    classes: [
      {
        id: 'clean',
        samples: [
          [40, 40],
          [430, 60],
          [60, 320],
        ] as const,
      },
      {
        id: 'turf',
        samples: [
          [240, 180],
          [200, 160],
          [280, 200],
        ] as const,
      },
    ],
    polygon: [
      [0, 0],
      [W, 0],
      [W, H],
      [0, H],
    ] as const,
  }
  const answer = coverOf(
    shot(90, (x) => 0.75 + 0.5 * (x / W)),
    shot(60, (x) => 1.2 - 0.4 * (x / W)),
    question,
  )
  const share = (radius: number) => (Math.PI * radius ** 2) / (W * H)
  expect(Math.abs(answer.a.shares['turf']! - share(90))).toBeLessThan(0.012)
  expect(Math.abs(answer.b!.shares['turf']! - share(60))).toBeLessThan(0.012)
})

describe('a picture made smaller', () => {
  const stripes: Picture = {
    width: 12,
    height: 8,
    channels: 4,
    data: Uint8ClampedArray.from({ length: 12 * 8 * 4 }, (_, i) => {
      const [x, c] = [(i >> 2) % 12, i % 4]
      return c === 3 ? 255 : c === 0 ? 20 * x : c === 1 ? (x % 2) * 200 : 77
    }),
  }
  test('half as large: each pixel the mean of four', () => {
    const half = shrunk(stripes, 6, 4)
    expect([half.width, half.height, half.channels]).toEqual([6, 4, 3])
    // Columns 4 and 5: red 80 and 100, green 0 and 200.
    expect([...half.data.slice(6, 9)]).toEqual([90, 100, 77])
  })
  test('by no whole number: what lies across two goes to both by its share, and none of it is lost', () => {
    const five = shrunk(stripes, 5, 3)
    // Columns 0, 1 and four tenths of 2: (0 + 20 + 0.4 × 40) ÷ 2.4 = 15.
    expect(five.data[0]).toBe(15)
    const mean = (one: Picture, by: number) => {
      let sum = 0
      for (let i = 0; i < one.data.length; i += by) sum += one.data[i]!
      return (sum * by) / one.data.length
    }
    expect(Math.abs(mean(five, 3) - mean(stripes, 4))).toBeLessThan(1)
  })
  test('larger is asked for in vain', () => {
    expect(shrunk(stripes, 24, 16)).toBe(stripes)
  })
})
