// The same place in two pictures, found again: shift, turn and scale, by what the ground looks like in many small blocks.
import { blurred, middleOf, planeOf, rank, type Picture, type Plane } from './frame.ts'

/**
 * A point p of the first picture lies in the second at c + scale · R(angle) · (p − c) + (dx, dy), c the middle
 * (width / 2, height / 2); y downwards, so that a positive angle turns clockwise on the screen.
 */
export interface Similarity {
  readonly dx: number
  readonly dy: number
  readonly angleDeg: number
  readonly scale: number
}
export interface Registration {
  readonly transform: Similarity
  /** Blocks that agree, of those that were tried. */
  readonly agree: number
  readonly tried: number
  /** Middle distance of the blocks that agree from where the transform puts them, px. */
  readonly error: number
  readonly found: boolean
}

const RAD = Math.PI / 180
export const SAME_PLACE: Similarity = { dx: 0, dy: 0, angleDeg: 0, scale: 1 }

export function mapped(t: Similarity, x: number, y: number, width: number, height: number): readonly [number, number] {
  const [cx, cy] = [width / 2, height / 2]
  const [c, s] = [Math.cos(t.angleDeg * RAD) * t.scale, Math.sin(t.angleDeg * RAD) * t.scale]
  const [px, py] = [x - cx, y - cy]
  return [cx + c * px - s * py + t.dx, cy + s * px + c * py + t.dy]
}

/** Brightness, the mean of squares of side `by`. */
export function shrunkLuma({ width, height, channels, data }: Picture, by: number): Plane {
  const [w, h] = [Math.floor(width / by), Math.floor(height / by)]
  const out = planeOf(w, h)
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let sum = 0
      for (let dy = 0; dy < by; dy++)
        for (let dx = 0; dx < by; dx++) {
          const p = ((y * by + dy) * width + x * by + dx) * channels
          sum += 0.3 * data[p]! + 0.55 * data[p + 1]! + 0.15 * data[p + 2]!
        }
      out.data[y * w + x] = sum / (by * by)
    }
  return out
}

/** Each pixel beside its surroundings: what light, shade and haze leave of a ground. */
function evened(plane: Plane, radius: number): Plane {
  const { width, height, data } = plane
  const mean = blurred(plane, radius).data
  const squares = planeOf(width, height)
  for (let i = 0; i < data.length; i++) squares.data[i] = (data[i]! - mean[i]!) ** 2
  const spread = blurred(squares, radius).data
  const out = planeOf(width, height)
  for (let i = 0; i < data.length; i++) out.data[i] = (data[i]! - mean[i]!) / Math.sqrt(spread[i]! + 6)
  return out
}
/** Value between pixels; outside: none. */
function between({ width, height, data }: Plane, x: number, y: number): number | null {
  if (x < 0 || y < 0 || x > width - 1.001 || y > height - 1.001) return null
  const [x0, y0] = [Math.floor(x), Math.floor(y)]
  const [tx, ty] = [x - x0, y - y0]
  const i = y0 * width + x0
  return (
    (data[i]! * (1 - tx) + data[i + 1]! * tx) * (1 - ty) +
    (data[i + width]! * (1 - tx) + data[i + width + 1]! * tx) * ty
  )
}

interface Pair {
  readonly x: number
  readonly y: number
  readonly u: number
  readonly v: number
  readonly weight: number
}

/** Least squares: the similarity that brings the first points nearest to the second. */
function fitted(pairs: readonly Pair[], width: number, height: number): Similarity {
  const [cx, cy] = [width / 2, height / 2]
  let [w, mx, my, mu, mv] = [0, 0, 0, 0, 0]
  for (const p of pairs) {
    w += p.weight
    mx += p.weight * (p.x - cx)
    my += p.weight * (p.y - cy)
    mu += p.weight * (p.u - cx)
    mv += p.weight * (p.v - cy)
  }
  mx /= w
  my /= w
  mu /= w
  mv /= w
  let [dot, cross, square] = [0, 0, 0]
  for (const p of pairs) {
    const [x, y, u, v] = [p.x - cx - mx, p.y - cy - my, p.u - cx - mu, p.v - cy - mv]
    dot += p.weight * (x * u + y * v)
    cross += p.weight * (x * v - y * u)
    square += p.weight * (x * x + y * y)
  }
  const scale = Math.hypot(dot, cross) / Math.max(1e-9, square)
  const angle = Math.atan2(cross, dot)
  const [c, s] = [Math.cos(angle) * scale, Math.sin(angle) * scale]
  return { scale, angleDeg: angle / RAD, dx: mu - (c * mx - s * my), dy: mv - (s * mx + c * my) }
}

/** Limits within which a hand finds a place again. */
const MOST_TURN = 10
const MOST_SCALE = 1.16
const sane = ({ angleDeg, scale }: Similarity): boolean =>
  Math.abs(angleDeg) <= MOST_TURN && scale <= MOST_SCALE && scale >= 1 / MOST_SCALE

/** Turns at which the coarse blocks are tried, degrees. */
const TURNS = [-4, 0, 4]
const HALF = 9

/** Places of blocks of the first picture found in the second, coarse, anywhere a hand may have put them. */
function coarse(a: Plane, b: Plane): Pair[] {
  const { width, height } = a
  const reach = Math.ceil(0.2 * width)
  const pairs: Pair[] = []
  const side = 2 * HALF + 1
  const spreads = spreadsOf(b, HALF)
  for (let gy = 0; gy < 7; gy++)
    for (let gx = 0; gx < 9; gx++) {
      const x = Math.round(HALF + 3 + (gx * (width - 2 * HALF - 7)) / 8)
      const y = Math.round(HALF + 3 + (gy * (height - 2 * HALF - 7)) / 6)
      let best = { ncc: -1, u: 0, v: 0 }
      for (const turn of TURNS) {
        const [c, s] = [Math.cos(turn * RAD), Math.sin(turn * RAD)]
        const template = new Float32Array(side * side)
        let whole = true
        for (let j = -HALF; j <= HALF && whole; j++)
          for (let i = -HALF; i <= HALF; i++) {
            // What lies at (i, j) of the turned block lay at the turn back in the first picture.
            const value = between(a, x + c * i + s * j, y - s * i + c * j)
            if (value === null) {
              whole = false
              break
            }
            template[(j + HALF) * side + i + HALF] = value
          }
        if (!whole) continue
        normalise(template)
        const at = (u: number, v: number): number => {
          let dot = 0
          for (let j = -HALF; j <= HALF; j++) {
            const row = (v + j) * width + u - HALF
            const trow = (j + HALF) * side
            for (let i = 0; i < side; i++) dot += b.data[row + i]! * template[trow + i]!
          }
          return dot / spreads[v * width + u]!
        }
        const [u0, u1] = [Math.max(HALF, x - reach), Math.min(width - HALF - 1, x + reach)]
        const [v0, v1] = [Math.max(HALF, y - reach), Math.min(height - HALF - 1, y + reach)]
        // Every second place first, then around the three likeliest.
        const tops: { ncc: number; u: number; v: number }[] = []
        for (let v = v0; v <= v1; v += 2)
          for (let u = u0; u <= u1; u += 2) {
            const ncc = at(u, v)
            if (tops.length < TOPS) tops.push({ ncc, u, v })
            else {
              let low = 0
              for (let k = 1; k < TOPS; k++) if (tops[k]!.ncc < tops[low]!.ncc) low = k
              if (ncc > tops[low]!.ncc) tops[low] = { ncc, u, v }
            }
          }
        for (const top of tops)
          for (let v = Math.max(v0, top.v - 1); v <= Math.min(v1, top.v + 1); v++)
            for (let u = Math.max(u0, top.u - 1); u <= Math.min(u1, top.u + 1); u++) {
              const ncc = at(u, v)
              if (ncc > best.ncc) best = { ncc, u, v }
            }
      }
      if (best.ncc > 0.35) pairs.push({ x, y, u: best.u, v: best.v, weight: best.ncc })
    }
  return pairs
}
/** Likeliest places of a block that are looked at closely. */
const TOPS = 3
/** Square root of the sum of squares about the mean, in the square around each place, by running sums. */
function spreadsOf({ width, height, data }: Plane, half: number): Float32Array {
  const w = width + 1
  const sums = new Float64Array(w * (height + 1))
  const squares = new Float64Array(w * (height + 1))
  for (let y = 0; y < height; y++) {
    let [sum, square] = [0, 0]
    for (let x = 0; x < width; x++) {
      const value = data[y * width + x]!
      sum += value
      square += value * value
      sums[(y + 1) * w + x + 1] = sums[y * w + x + 1]! + sum
      squares[(y + 1) * w + x + 1] = squares[y * w + x + 1]! + square
    }
  }
  const out = new Float32Array(width * height).fill(Infinity)
  const n = (2 * half + 1) ** 2
  for (let y = half; y < height - half; y++)
    for (let x = half; x < width - half; x++) {
      const [a, b, c, d] = [
        (y - half) * w + x - half,
        (y - half) * w + x + half + 1,
        (y + half + 1) * w + x - half,
        (y + half + 1) * w + x + half + 1,
      ]
      const sum = sums[d]! - sums[b]! - sums[c]! + sums[a]!
      out[y * width + x] = Math.sqrt(
        Math.max(1e-6, squares[d]! - squares[b]! - squares[c]! + squares[a]! - (sum * sum) / n),
      )
    }
  return out
}
/** Mean nothing, length one. */
function normalise(values: Float32Array): void {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length
  let squares = 0
  for (let i = 0; i < values.length; i++) {
    values[i]! -= mean
    squares += values[i]! ** 2
  }
  const by = 1 / Math.sqrt(Math.max(1e-9, squares))
  for (let i = 0; i < values.length; i++) values[i]! *= by
}

/** The similarity that most pairs agree on, and those that do. */
function agreed(
  pairs: readonly Pair[],
  width: number,
  height: number,
  near: number,
): { transform: Similarity; inliers: Pair[] } {
  let best: Pair[] = []
  const off = (t: Similarity, p: Pair) => {
    const [u, v] = mapped(t, p.x, p.y, width, height)
    return Math.hypot(u - p.u, v - p.v)
  }
  for (let i = 0; i < pairs.length; i++)
    for (let j = i + 1; j < pairs.length; j++) {
      const [p, q] = [pairs[i]!, pairs[j]!]
      if (Math.hypot(p.x - q.x, p.y - q.y) < 0.2 * width) continue
      const t = fitted([p, q], width, height)
      if (!sane(t)) continue
      const inliers = pairs.filter((one) => off(t, one) <= near)
      if (inliers.length > best.length) best = inliers
    }
  if (best.length < 3) return { transform: SAME_PLACE, inliers: [] }
  let transform = fitted(best, width, height)
  const inliers = pairs.filter((one) => off(transform, one) <= near)
  if (inliers.length >= 3) transform = fitted(inliers, width, height)
  return { transform, inliers }
}

/** A transform between pictures of another size: shifts grow, turn and scale stay. */
const grown = (t: Similarity, by: number): Similarity => ({ ...t, dx: t.dx * by, dy: t.dy * by })

/** Blocks looked for again near where a transform puts them, to a part of a pixel. */
function refined(
  a: Plane,
  b: Plane,
  from: Similarity,
  half: number,
  reach: number,
): { transform: Similarity; error: number; agree: number; tried: number } {
  const { width, height } = a
  const pairs: Pair[] = []
  const [nx, ny] = [13, 10]
  const [c, s] = [Math.cos(from.angleDeg * RAD) * from.scale, Math.sin(from.angleDeg * RAD) * from.scale]
  const side = 2 * half + 1
  let tried = 0
  for (let gy = 0; gy < ny; gy++)
    for (let gx = 0; gx < nx; gx++) {
      const x = Math.round(half + 2 + (gx * (width - 2 * half - 5)) / (nx - 1))
      const y = Math.round(half + 2 + (gy * (height - 2 * half - 5)) / (ny - 1))
      const template = new Float32Array(side * side)
      for (let j = -half; j <= half; j++)
        for (let i = -half; i <= half; i++) template[(j + half) * side + i + half] = a.data[(y + j) * width + x + i]!
      normalise(template)
      const [u, v] = mapped(from, x, y, width, height)
      const scores = new Map<string, number>()
      const score = (ou: number, ov: number): number => {
        const key = `${ou} ${ov}`
        const known = scores.get(key)
        if (known !== undefined) return known
        let [sum, squares, dot, n] = [0, 0, 0, 0]
        for (let j = -half; j <= half; j++)
          for (let i = -half; i <= half; i++) {
            const value = between(b, u + ou + c * i - s * j, v + ov + s * i + c * j)
            if (value === null) {
              scores.set(key, -1)
              return -1
            }
            sum += value
            squares += value * value
            dot += value * template[(j + half) * side + i + half]!
            n++
          }
        const ncc = dot / Math.sqrt(Math.max(1e-6, squares - (sum * sum) / n))
        scores.set(key, ncc)
        return ncc
      }
      let best = { ncc: -1, ou: 0, ov: 0 }
      for (let ov = -reach; ov <= reach; ov++)
        for (let ou = -reach; ou <= reach; ou++) {
          const ncc = score(ou, ov)
          if (ncc > best.ncc) best = { ncc, ou, ov }
        }
      if (best.ncc < 0) continue
      tried++
      if (best.ncc < 0.5 || Math.abs(best.ou) === reach || Math.abs(best.ov) === reach) continue
      const peak = (before: number, at: number, after: number) => {
        const bend = before - 2 * at + after
        return bend >= -1e-9 ? 0 : Math.max(-0.5, Math.min(0.5, (0.5 * (before - after)) / bend))
      }
      const fu = peak(score(best.ou - 1, best.ov), best.ncc, score(best.ou + 1, best.ov))
      const fv = peak(score(best.ou, best.ov - 1), best.ncc, score(best.ou, best.ov + 1))
      pairs.push({ x, y, u: u + best.ou + fu, v: v + best.ov + fv, weight: best.ncc ** 2 })
    }
  if (pairs.length < 6) return { transform: from, error: Infinity, agree: 0, tried }
  let used = pairs
  let transform = from
  for (let round = 0; round < 4; round++) {
    transform = fitted(used, width, height)
    const off = (p: Pair) => {
      const [u, v] = mapped(transform, p.x, p.y, width, height)
      return Math.hypot(u - p.u, v - p.v)
    }
    const limit = Math.max(0.7, 2.5 * rank(used.map(off), 0.5))
    const next = pairs.filter((p) => off(p) <= limit)
    if (next.length < 6) break
    used = next
  }
  if (!sane(transform)) return { transform: from, error: Infinity, agree: 0, tried }
  const error = middleOf(
    used.map((p) => {
      const [u, v] = mapped(transform, p.x, p.y, width, height)
      return Math.hypot(u - p.u, v - p.v)
    }),
  )
  return { transform, error, agree: used.length, tried }
}

/** Finds the place of a first picture in a second of the same size: quarter size anywhere, then half, then whole. */
export function register(a: Picture, b: Picture): Registration {
  const [a4, b4] = [evened(shrunkLuma(a, 4), 8), evened(shrunkLuma(b, 4), 8)]
  const found = agreed(coarse(a4, b4), a4.width, a4.height, 2.2)
  if (found.inliers.length < 5)
    return { transform: SAME_PLACE, agree: found.inliers.length, tried: 63, error: Infinity, found: false }
  const [a2, b2] = [evened(shrunkLuma(a, 2), 10), evened(shrunkLuma(b, 2), 10)]
  let half = refined(a2, b2, grown(found.transform, 2), 10, 5)
  half = refined(a2, b2, half.transform, 10, 3)
  const [a1, b1] = [evened(shrunkLuma(a, 1), 14), evened(shrunkLuma(b, 1), 14)]
  const whole = refined(a1, b1, grown(half.transform, 2), 12, 3)
  const last = Number.isFinite(whole.error)
    ? whole
    : { ...half, transform: grown(half.transform, 2), error: 2 * half.error }
  return {
    transform: last.transform,
    agree: last.agree,
    tried: last.tried,
    error: last.error,
    found: Number.isFinite(last.error),
  }
}
