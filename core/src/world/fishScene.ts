// A fish seen from its side, with pale spots whose places are known: for practice, for the demonstration and for tests. It
// shares no code with what looks for the spots.
import type { Drawn } from './microscope.ts'
import { chanceFrom } from './random.ts'

export interface FishPlan {
  readonly seed: number
  readonly width: number
  readonly height: number
  /** Spots that are drawn, 0.3 to 1 mm wide. */
  readonly spots: number
  /** Length of the fish without its tail, mm; it fills some eight tenths of the width. */
  readonly lengthMm?: number
}
export interface FishScene {
  readonly picture: Drawn
  readonly spots: readonly { readonly x: number; readonly y: number; readonly r: number }[]
  /** The side of the fish between gill cover and tail, px. */
  readonly outline: readonly (readonly [number, number])[]
  readonly pxPerMm: number
}
type Rgb = readonly [number, number, number]
const BODIES: readonly (readonly [Rgb, Rgb])[] = [
  [
    [36, 58, 122],
    [62, 92, 160],
  ],
  [
    [150, 78, 30],
    [196, 122, 52],
  ],
  [
    [70, 74, 60],
    [132, 128, 104],
  ],
  [
    [150, 130, 34],
    [196, 178, 74],
  ],
]

/** A fish of a plan, and where its spots are. */
export function fishScene({ seed, width, height, spots, lengthMm = 70 }: FishPlan): FishScene {
  const chance = chanceFrom(seed * 53 + 11)
  const [cx, cy] = [width * chance.between(0.47, 0.53), height * chance.between(0.46, 0.54)]
  const a = 0.4 * width
  const b = Math.min(0.4 * height, a * chance.between(0.38, 0.55))
  const pxPerMm = (2 * a) / lengthMm
  const turn = chance.between(-0.12, 0.12)
  const [c, s] = [Math.cos(turn), Math.sin(turn)]
  const [back, belly] = BODIES[Math.floor(chance.next() * BODIES.length)]!
  const bars = Math.floor(chance.next() * 4)
  const barWide = chance.between(0.05, 0.09)
  const scalePx = chance.between(1.1, 1.9) * pxPerMm
  const glints = Array.from({ length: 5 }, () => ({
    u: chance.between(-0.7, 0.8),
    v: chance.between(-0.75, -0.35),
    long: chance.between(0.05, 0.12),
    bright: chance.between(0.15, 0.45),
  }))
  const inBody = (u: number, v: number) => u * u + v * v
  /** Of the body's own axes, the head to the left, to px. */
  const toPx = (u: number, v: number): readonly [number, number] => [
    cx + c * u * a - s * v * b,
    cy + s * u * a + c * v * b,
  ]
  const outline = Array.from({ length: 20 }, (_, i) => {
    const angle = (2 * Math.PI * i) / 20
    return [Math.max(-0.55, 0.88 * Math.cos(angle)), 0.86 * Math.sin(angle)] as const
  }).map(([u, v]) => {
    const [x, y] = toPx(u, v)
    return [Math.round(x), Math.round(y)] as const
  })
  const placed: { x: number; y: number; r: number; pale: number }[] = []
  for (let tries = 0; placed.length < spots && tries < 40_000; tries++) {
    const [u, v] = [chance.between(-0.5, 0.8), chance.between(-0.78, 0.78)]
    if (inBody(u / 0.84, v / 0.82) > 0.9) continue
    const r = Math.max(1.3, 0.5 * chance.between(0.3, 1) * pxPerMm)
    const [x, y] = toPx(u, v)
    if (placed.some((one) => Math.hypot(one.x - x, one.y - y) < 2.6 * (one.r + r))) continue
    placed.push({ x, y, r, pale: chance.between(0.5, 0.95) })
  }
  const data = new Uint8ClampedArray(width * height * 3)
  const planes = new Float32Array(width * height * 3)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [dx, dy] = [x - cx, y - cy]
      const [u, v] = [(c * dx + s * dy) / a, (-s * dx + c * dy) / b]
      const far = inBody(u, v)
      const tail = u > 0.92 && u < 1.22 && Math.abs(v) < 0.25 + 1.4 * (u - 0.92)
      let colour: readonly number[]
      if (far < 1 || tail) {
        const t = (v + 1) / 2
        const lit =
          (1 - 0.45 * far) *
          (0.92 + 0.1 * Math.sin((dx * 2 * Math.PI) / scalePx + Math.sin((dy * 2 * Math.PI) / scalePx)))
        colour = back.map((one, k) => (one * (1 - t) + belly[k]! * t) * lit)
        for (let i = 0; i < bars; i++) {
          const at = -0.35 + (i + 0.5) * (1.1 / Math.max(1, bars))
          if (Math.abs(u - at) < barWide) colour = colour.map((one) => one * 0.45 + 105)
        }
        const eye = Math.hypot((u + 0.76) * a, (v + 0.12) * b) / (0.085 * a)
        if (eye < 0.55) colour = [12, 12, 14]
        else if (eye < 1) colour = [190, 180, 150]
        for (const { u: gu, v: gv, long, bright } of glints) {
          const near = ((u - gu) / long) ** 2 + ((v - gv) / 0.035) ** 2
          if (near < 4) colour = colour.map((one) => one + (245 - one) * bright * Math.exp(-near))
        }
      } else {
        const haze = 0.5 + 0.5 * Math.sin(x / 61 + 1.3 * Math.sin(y / 47 + seed))
        colour = [40 + 26 * haze, 62 + 22 * haze, 74 + 20 * haze]
      }
      for (let k = 0; k < 3; k++) planes[3 * (y * width + x) + k] = colour[k]!
    }
  for (const { x: sx, y: sy, r, pale } of placed)
    for (let y = Math.floor(sy - r - 2); y <= sy + r + 2; y++)
      for (let x = Math.floor(sx - r - 2); x <= sx + r + 2; x++) {
        if (x < 0 || y < 0 || x >= width || y >= height) continue
        const cover = Math.max(0, Math.min(1, r + 0.5 - Math.hypot(x - sx, y - sy))) * pale
        const i = 3 * (y * width + x)
        for (let k = 0; k < 3; k++) planes[i + k] = planes[i + k]! * (1 - cover) + 226 * cover
      }
  // A lens and a hand blur it by a little; the sensor adds its grain.
  const soft = (i: number, x: number, y: number, k: number) => {
    let [sum, n] = [0, 0]
    for (let dy = -1; dy <= 1; dy++)
      for (let ddx = -1; ddx <= 1; ddx++) {
        if (x + ddx < 0 || y + dy < 0 || x + ddx >= width || y + dy >= height) continue
        const weight = (2 - Math.abs(ddx)) * (2 - Math.abs(dy))
        sum += weight * planes[i + 3 * (dy * width + ddx) + k]!
        n += weight
      }
    return sum / n
  }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = 3 * (y * width + x)
      for (let k = 0; k < 3; k++) data[i + k] = soft(i, x, y, k) + 4 * (chance.next() + chance.next() - 1)
    }
  return {
    picture: { width, height, channels: 3, data },
    spots: placed.map(({ x, y, r }) => ({ x, y, r })),
    outline,
    pxPerMm,
  }
}
