// The light of a field: where the picture is at all, and how bright it would be with nothing in it.
import { rank, solve, type Plane } from './frame.ts'

export interface Field {
  /** 1 where the picture is: within the bright circle, where a dark surround is seen. */
  readonly mask: Uint8Array
  /** Brightness with nothing in it, per channel, of a frame of middle gain. */
  readonly light: readonly [Float32Array, Float32Array, Float32Array]
  /** Natural logarithm of it. */
  readonly logLight: readonly [Float32Array, Float32Array, Float32Array]
  readonly round: boolean
}

/** Side of a tile of which the brightest that lasts is taken for empty, px. */
const TILE = 24
/** Darker than this share of the brightest: not the picture but what lies around it. */
const DARK = 0.3

/** Terms of a surface of fourth degree in x and y, both from −1 to 1. */
function terms(x: number, y: number): number[] {
  const [x2, y2] = [x * x, y * y]
  return [1, x, y, x2, x * y, y2, x2 * x, x2 * y, x * y2, y2 * y, x2 * x2, x2 * x * y, x2 * y2, x * y2 * y, y2 * y2]
}

/**
 * Fits the empty light to the brightest of each tile over some frames. What lies in a tile darkens it: so the surface is
 * fitted again without the tiles that lie under it.
 * @param frames red, green and blue of some frames of the clip
 */
export function fieldOf(frames: readonly (readonly [Plane, Plane, Plane])[]): Field {
  const { width, height } = frames[0]![0]
  const n = width * height
  // The lasting light: the second brightest of the frames, so that one spark makes none.
  const lasting = [0, 1, 2].map((c) => {
    const out = new Float32Array(n)
    const values = new Float32Array(frames.length)
    const at = frames.length < 4 ? frames.length - 1 : Math.round(0.75 * (frames.length - 1))
    for (let i = 0; i < n; i++) {
      for (let f = 0; f < frames.length; f++) {
        // Put in order as they come: twelve of them at most.
        const value = frames[f]![c]!.data[i]!
        let k = f
        while (k > 0 && values[k - 1]! > value) {
          values[k] = values[k - 1]!
          k--
        }
        values[k] = value
      }
      out[i] = values[at]!
    }
    return out
  }) as [Float32Array, Float32Array, Float32Array]
  const luma = new Float32Array(n)
  for (let i = 0; i < n; i++) luma[i] = (lasting[0][i]! + lasting[1][i]! + lasting[2][i]!) / 3
  const { mask, round } = circleOf(luma, width, height)
  const tiles: { x: number; y: number; value: [number, number, number] }[] = []
  for (let ty = 0; ty < height; ty += TILE)
    for (let tx = 0; tx < width; tx += TILE) {
      const inside: number[] = []
      for (let y = ty; y < Math.min(height, ty + TILE); y++)
        for (let x = tx; x < Math.min(width, tx + TILE); x++) if (mask[y * width + x] === 1) inside.push(y * width + x)
      if (inside.length < (TILE * TILE) / 3) continue
      const value = [0, 1, 2].map((c) =>
        rank(
          inside.map((i) => lasting[c]![i]!),
          0.8,
        ),
      ) as [number, number, number]
      tiles.push({ x: (2 * (tx + TILE / 2)) / width - 1, y: (2 * (ty + TILE / 2)) / height - 1, value })
    }
  const light = [0, 1, 2].map((c) =>
    surface(
      tiles.map(({ x, y, value }) => ({ x, y, value: value[c]! })),
      width,
      height,
    ),
  ) as [Float32Array, Float32Array, Float32Array]
  if (round) for (const c of [0, 1, 2]) ringed(lasting[c]!, light[c]!, mask, width)
  for (const c of [0, 1, 2]) settled(lasting[c]!, light[c]!, mask, width, height)
  const logLight = light.map((one) => one.map(Math.log)) as unknown as Field['logLight']
  return { mask, light, logLight, round }
}

/** The soft fall of light towards the rim of a round field: by rings about its middle, the brighter of each. */
function ringed(lasting: Float32Array, light: Float32Array, mask: Uint8Array, width: number): void {
  let [sx, sy, count] = [0, 0, 0]
  for (let i = 0; i < mask.length; i++)
    if (mask[i] === 1) {
      sx += i % width
      sy += Math.floor(i / width)
      count++
    }
  // A field that the picture cuts has its middle where its rim says; its area tells the radius well enough.
  const [cx, cy] = [sx / count, sy / count]
  const far = (i: number) => Math.hypot((i % width) - cx, Math.floor(i / width) - cy)
  let most = 0
  for (let i = 0; i < mask.length; i++) if (mask[i] === 1) most = Math.max(most, far(i))
  const rings: number[][] = Array.from({ length: Math.ceil(most / RING) + 2 }, () => [])
  for (let i = 0; i < mask.length; i++)
    if (mask[i] === 1) rings[Math.floor(far(i) / RING)]!.push(Math.log(Math.max(1, lasting[i]!) / light[i]!))
  const off = rings.map((values) => (values.length < 60 ? 0 : Math.max(-1.2, Math.min(0.1, rank(values, 0.7)))))
  for (let i = 0; i < mask.length; i++) {
    if (mask[i] === 0) continue
    const at = far(i) / RING - 0.5
    const k = Math.max(0, Math.floor(at))
    const t = Math.min(1, Math.max(0, at - k))
    light[i]! *= Math.exp((off[k] ?? 0) * (1 - t) + (off[k + 1] ?? off[k] ?? 0) * t)
  }
}
const RING = 4

/** Side of the cells by which what the surface missed is put right, px. */
const CELL = 40
/** The light where the surface missed it: by the brighter half of each cell, evenly between cells. Only a little. */
function settled(lasting: Float32Array, light: Float32Array, mask: Uint8Array, width: number, height: number): void {
  const [nx, ny] = [Math.ceil(width / CELL) + 1, Math.ceil(height / CELL) + 1]
  const off = new Float32Array(nx * ny)
  for (let gy = 0; gy < ny; gy++)
    for (let gx = 0; gx < nx; gx++) {
      const values: number[] = []
      for (let y = Math.max(0, gy * CELL - CELL); y < Math.min(height, gy * CELL + CELL); y += 2)
        for (let x = Math.max(0, gx * CELL - CELL); x < Math.min(width, gx * CELL + CELL); x += 2) {
          const i = y * width + x
          if (mask[i] === 1) values.push(Math.log(Math.max(1, lasting[i]!) / light[i]!))
        }
      off[gy * nx + gx] = values.length < 40 ? 0 : Math.max(-0.12, Math.min(0.12, rank(values, 0.75)))
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [fx, fy] = [x / CELL, y / CELL]
      const [gx, gy] = [Math.floor(fx), Math.floor(fy)]
      const [tx, ty] = [fx - gx, fy - gy]
      const at = (a: number, b: number) => off[Math.min(ny - 1, gy + b) * nx + Math.min(nx - 1, gx + a)]!
      const value = (at(0, 0) * (1 - tx) + at(1, 0) * tx) * (1 - ty) + (at(0, 1) * (1 - tx) + at(1, 1) * tx) * ty
      light[y * width + x]! *= Math.exp(value)
    }
}

function surface(points: { x: number; y: number; value: number }[], width: number, height: number): Float32Array {
  let used = points
  let weights: number[] = []
  for (let round = 0; round < 4; round++) {
    const k = 15
    const a = Array.from({ length: k }, () => new Array<number>(k).fill(0))
    const b = new Array<number>(k).fill(0)
    for (const { x, y, value } of used) {
      const t = terms(x, y)
      for (let r = 0; r < k; r++) {
        b[r]! += t[r]! * value
        for (let c = 0; c < k; c++) a[r]![c]! += t[r]! * t[c]!
      }
    }
    // A little stiffness: a field with few tiles stays even.
    for (let r = 3; r < k; r++) a[r]![r]! += 0.02 * used.length
    weights = solve(a, b)
    const rest = (p: (typeof points)[number]) =>
      p.value - terms(p.x, p.y).reduce((sum, t, i) => sum + t * weights[i]!, 0)
    const spread = rank(
      used.map((p) => Math.abs(rest(p))),
      0.6,
    )
    const next = points.filter((p) => rest(p) > -1.5 * spread - 1 && rest(p) < 4 * spread + 2)
    if (next.length < 24) break
    used = next
  }
  const out = new Float32Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const t = terms((2 * x) / width - 1, (2 * y) / height - 1)
      let sum = 0
      for (let i = 0; i < t.length; i++) sum += t[i]! * weights[i]!
      out[y * width + x] = Math.max(8, sum)
    }
  return out
}

/** The bright circle of an eyepiece, where there is one; else the whole picture. */
function circleOf(
  luma: Float32Array,
  width: number,
  height: number,
): { readonly mask: Uint8Array; readonly round: boolean } {
  const n = width * height
  const top = rank(luma.slice(), 0.97)
  const mask = new Uint8Array(n).fill(1)
  // Dark that hangs together with a corner is no picture.
  const dark = new Uint8Array(n)
  for (let i = 0; i < n; i++) dark[i] = luma[i]! < DARK * top ? 1 : 0
  const stack: number[] = []
  for (let x = 0; x < width; x++) stack.push(x, (height - 1) * width + x)
  for (let y = 0; y < height; y++) stack.push(y * width, y * width + width - 1)
  let gone = 0
  while (stack.length > 0) {
    const i = stack.pop()!
    if (dark[i] !== 1) continue
    dark[i] = 2
    mask[i] = 0
    gone++
    const x = i % width
    if (x > 0) stack.push(i - 1)
    if (x < width - 1) stack.push(i + 1)
    if (i >= width) stack.push(i - width)
    if (i < n - width) stack.push(i + width)
  }
  if (gone < 0.03 * n) return { mask: mask.fill(1), round: false }
  // A circle through what is left: from its middle and its area, and drawn in by its soft edge.
  let sx = 0
  let sy = 0
  let count = 0
  for (let i = 0; i < n; i++)
    if (mask[i] === 1) {
      sx += i % width
      sy += Math.floor(i / width)
      count++
    }
  const edge: { x: number; y: number }[] = []
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x
      if (mask[i] === 1 && (mask[i - 1] === 0 || mask[i + 1] === 0 || mask[i - width] === 0 || mask[i + width] === 0))
        edge.push({ x, y })
    }
  let cx = sx / count
  let cy = sy / count
  let radius = middleRadius(edge, cx, cy)
  // Least squares on the edge: x² + y² = 2 a x + 2 b y + c.
  for (let round = 0; round < 3 && edge.length > 30; round++) {
    const near = edge.filter(
      ({ x, y }) => Math.abs(Math.hypot(x - cx, y - cy) - radius) < (round === 0 ? 0.2 : 0.06) * radius,
    )
    if (near.length < 30) break
    const a = [
      [0, 0, 0],
      [0, 0, 0],
      [0, 0, 0],
    ]
    const b = [0, 0, 0]
    for (const { x, y } of near) {
      const t = [2 * x, 2 * y, 1]
      const v = x * x + y * y
      for (let r = 0; r < 3; r++) {
        b[r]! += t[r]! * v
        for (let c = 0; c < 3; c++) a[r]![c]! += t[r]! * t[c]!
      }
    }
    const [px, py, c] = solve(a, b) as [number, number, number]
    cx = px
    cy = py
    radius = Math.sqrt(Math.max(1, c + px * px + py * py))
  }
  const own = new Uint8Array(n)
  const inner = radius - Math.max(2, 0.015 * radius)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) if (Math.hypot(x - cx, y - cy) < inner) own[y * width + x] = 1
  return { mask: own, round: true }
}
const middleRadius = (edge: readonly { x: number; y: number }[], cx: number, cy: number): number =>
  edge.length === 0
    ? 1
    : rank(
        edge.map(({ x, y }) => Math.hypot(x - cx, y - cy)),
        0.5,
      )
