// A patch of ground that needs no tank: drawn twice, some days apart, with the cover of each known to the pixel. For practice,
// for the demonstration and for tests; it shares no code with what measures.
import type { Drawn } from './microscope.ts'
import { chanceFrom } from './random.ts'

export interface PatchPlan {
  readonly seed: number
  readonly width: number
  readonly height: number
  /** Shares of the first picture, by class; the rest is clean. */
  readonly cover: Readonly<Record<string, number>>
  /** What is left of each in the later one: 1 is unchanged. */
  readonly left: number
}
export interface PatchScene {
  readonly first: Drawn
  readonly later: Drawn
  /** Share of each class among all pixels that both pictures show. */
  readonly truth: { readonly first: Readonly<Record<string, number>>; readonly later: Readonly<Record<string, number>> }
  /** Where a point of the first picture lies in the later: about the middle, y downwards. */
  readonly place: { readonly dx: number; readonly dy: number; readonly angleDeg: number; readonly scale: number }
  /** Corners of what was counted, px of the first picture. */
  readonly polygon: readonly (readonly [number, number])[]
  /** Three places of each class that hold nothing else. */
  readonly samples: Readonly<Record<string, readonly (readonly [number, number])[]>>
}
type Rgb = readonly [number, number, number]
const COLOURS: Readonly<Record<string, Rgb>> = {
  clean: [176, 164, 146],
  film: [118, 84, 46],
  slime: [112, 34, 44],
  turf: [70, 112, 58],
  tufts: [46, 38, 34],
  white: [226, 226, 216],
}

/** Smooth noise over a plane: values of a grid, evenly between them, three sizes on top of one another. */
function noiseOf(seed: number, size: number): (x: number, y: number) => number {
  const value = (gx: number, gy: number, k: number): number => {
    const h = Math.imul(gx * 374_761_393 + gy * 668_265_263 + k * 974_711 + seed * 1_274_126_177, 1_103_515_245)
    return ((h ^ (h >>> 13)) >>> 0) / 4_294_967_296
  }
  const soft = (t: number) => t * t * (3 - 2 * t)
  return (x, y) => {
    let [sum, weight, scale] = [0, 1, 1 / size]
    for (let k = 0; k < 3; k++) {
      const [fx, fy] = [x * scale + 1000, y * scale + 1000]
      const [gx, gy] = [Math.floor(fx), Math.floor(fy)]
      const [tx, ty] = [soft(fx - gx), soft(fy - gy)]
      const top = value(gx, gy, k) * (1 - tx) + value(gx + 1, gy, k) * tx
      const low = value(gx, gy + 1, k) * (1 - tx) + value(gx + 1, gy + 1, k) * tx
      sum += weight * (top * (1 - ty) + low * ty)
      weight *= 0.5
      scale *= 2.1
    }
    return sum / 1.75
  }
}

/** The two pictures of a plan, and what they hold. */
export function patchScene({ seed, width, height, cover, left }: PatchPlan): PatchScene {
  const chance = chanceFrom(seed * 31 + 7)
  const kinds = Object.keys(cover)
  const fields = kinds.map((_, k) => noiseOf(seed * 17 + 3 * k + 1, 70))
  // A class lies where its own field is highest: the level that leaves its share, found by counting.
  const levelsFor = (factor: number): number[] =>
    kinds.map((kind, k) => {
      const values: number[] = []
      for (let y = 4; y < height; y += 8) for (let x = 4; x < width; x += 8) values.push(fields[k]!(x, y))
      values.sort((a, b) => b - a)
      return values[Math.floor(Math.min(0.98, cover[kind]! * factor) * (values.length - 1))]!
    })
  const [before, after] = [levelsFor(1), levelsFor(left)]
  const classAt = (levels: readonly number[], x: number, y: number): string => {
    let [best, most] = ['clean', 0]
    kinds.forEach((kind, k) => {
      const over = fields[k]!(x, y) - levels[k]!
      if (over > most) [best, most] = [kind, over]
    })
    return best
  }
  const grain = noiseOf(seed * 101 + 5, 9)
  const stones = noiseOf(seed * 211 + 9, 26)
  const colourAt = (levels: readonly number[], x: number, y: number): Rgb => {
    const kind = classAt(levels, x, y)
    const rough = 0.72 + 0.35 * grain(x, y) + 0.25 * (stones(x, y) - 0.5)
    const threads = kind === 'turf' ? 0.8 + 0.4 * grain(3 * x, 0.6 * y) : 1
    return COLOURS[kind]!.map((one) => one * rough * threads) as unknown as Rgb
  }
  const place = {
    dx: chance.between(-0.05, 0.05) * width,
    dy: chance.between(-0.05, 0.05) * height,
    angle: chance.between(-0.06, 0.06),
    scale: chance.between(0.95, 1.05),
  }
  const shot = (levels: readonly number[], moved: boolean, light: Rgb, slope: number): Drawn => {
    const data = new Uint8ClampedArray(width * height * 3)
    const [cx, cy] = [width / 2, height / 2]
    const [c, s] = [Math.cos(place.angle), Math.sin(place.angle)]
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const [u, v] = [x - cx - place.dx, y - cy - place.dy]
        const [px, py] = moved ? [cx + (c * u + s * v) / place.scale, cy + (-s * u + c * v) / place.scale] : [x, y]
        const colour = colourAt(levels, px, py)
        const bright = 1 + slope * (x / width - 0.5)
        for (let k = 0; k < 3; k++)
          data[3 * (y * width + x) + k] = colour[k]! * light[k]! * bright + 5 * (chance.next() + chance.next() - 1)
      }
    return { width, height, channels: 3, data }
  }
  const edge = 0.14
  const polygon = [
    [edge * width, edge * height],
    [(1 - edge) * width, edge * height],
    [(1 - edge) * width, (1 - edge) * height],
    [edge * width, (1 - edge) * height],
  ].map(([x, y]) => [Math.round(x!), Math.round(y!)] as const)
  const counted = (levels: readonly number[]) => {
    const found: Record<string, number> = Object.fromEntries(['clean', ...kinds].map((kind) => [kind, 0]))
    let all = 0
    for (let y = polygon[0]![1]; y <= polygon[2]![1]; y++)
      for (let x = polygon[0]![0]; x <= polygon[1]![0]; x++) {
        found[classAt(levels, x, y)]!++
        all++
      }
    return Object.fromEntries(Object.entries(found).map(([kind, n]) => [kind, n / all]))
  }
  const samples: Record<string, (readonly [number, number])[]> = {}
  for (let tries = 0; tries < 4000; tries++) {
    const [x, y] = [Math.round(chance.between(20, width - 20)), Math.round(chance.between(20, height - 20))]
    const kind = classAt(before, x, y)
    const list = (samples[kind] ??= [])
    if (list.length >= 3) continue
    const alone = [-10, -5, 0, 5, 10].every((dx) =>
      [-10, -5, 0, 5, 10].every((dy) => classAt(before, x + dx, y + dy) === kind),
    )
    if (alone) list.push([x, y])
  }
  return {
    first: shot(before, false, [1, 1, 1], 0.25),
    later: shot(after, true, [0.94, 0.9, 0.86], -0.2),
    truth: { first: counted(before), later: counted(after) },
    place: { dx: place.dx, dy: place.dy, angleDeg: (place.angle * 180) / Math.PI, scale: place.scale },
    polygon,
    samples,
  }
}
