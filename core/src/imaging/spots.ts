// Pale spots on a fish found for whoever counts them: round, paler than all that lies about them, of a size that is asked.
// They are proposed, never counted by themselves: a glint and a scale look alike.
import { blurred, planeOf, rank, type Picture, type Plane } from './frame.ts'

export interface FoundSpot {
  readonly x: number
  readonly y: number
  /** Radius, px. */
  readonly r: number
  /** How much paler than its surroundings, as a share of them. */
  readonly paler: number
}
export interface SpotQuestion {
  /** Corners of the fish or of a part of it, px; the whole picture where there are none. */
  readonly polygon: readonly (readonly [number, number])[]
  /** Radius of the smallest and the largest spot, px. */
  readonly least?: number
  readonly most?: number
}

/** Paler than its surroundings by less than this share is no spot. EST */
const LEAST_PALER = 0.09
/** So many scatters of what lies about it. EST */
const LEAST_OVER = 5
/** A ridge is no spot: the flatter of its two curves beside the steeper. EST */
const LEAST_ROUND = 0.4
/** So many are proposed at most: more is no fish, or not the right one. */
const MOST_SPOTS = 400

const inside = (polygon: SpotQuestion['polygon'], x: number, y: number): boolean => {
  if (polygon.length < 3) return true
  let odd = false
  for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
    const [xi, yi] = polygon[i]!
    const [xj, yj] = polygon[j]!
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) odd = !odd
  }
  return odd
}
/** Distance of a point from the outline, px. */
const fromOutline = (polygon: SpotQuestion['polygon'], x: number, y: number): number => {
  if (polygon.length < 3) return Infinity
  let least = Infinity
  for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
    const [xi, yi] = polygon[i]!
    const [xj, yj] = polygon[j]!
    const [dx, dy] = [xj - xi, yj - yi]
    const t = Math.max(0, Math.min(1, ((x - xi) * dx + (y - yi) * dy) / Math.max(1e-9, dx * dx + dy * dy)))
    least = Math.min(least, Math.hypot(x - xi - t * dx, y - yi - t * dy))
  }
  return least
}

/** How pale, on a scale of logarithms, so that shade and light count alike. */
function paleness({ width, height, channels, data }: Picture): Plane {
  const plane = planeOf(width, height)
  for (let i = 0, p = 0; i < width * height; i++, p += channels) {
    // A pale spot is pale in every colour: the least of the three tells it from a yellow stripe.
    const least = Math.min(data[p]!, data[p + 1]!, data[p + 2]!)
    plane.data[i] = Math.log(0.5 * least + (data[p]! + data[p + 1]! + data[p + 2]!) / 6 + 8)
  }
  return plane
}

/**
 * Pale spots within an outline, palest first.
 * @returns px of the picture; none where nothing stands out
 */
export function findSpots(picture: Picture, { polygon, least = 1.5, most = 8 }: SpotQuestion): readonly FoundSpot[] {
  const pale = paleness(picture)
  const { width, height } = pale
  const within = new Uint8Array(width * height)
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) if (inside(polygon, x, y)) within[y * width + x] = 1
  const found: FoundSpot[] = []
  for (let r = least; r <= most * 1.001; r *= 1.3) {
    // A disc beside the ring about it: the middle of what lies within r, less that of what lies within 2.2 r.
    const near = smoothed(pale, 0.6 * r)
    const far = smoothed(pale, 1.6 * r)
    const response = planeOf(width, height)
    const values: number[] = []
    for (let i = 0; i < response.data.length; i++) response.data[i] = near.data[i]! - far.data[i]!
    for (let y = 2; y < height - 2; y += 2)
      for (let x = 2; x < width - 2; x += 2) if (within[y * width + x] === 1) values.push(response.data[y * width + x]!)
    if (values.length < 50) return []
    const middle = rank(values, 0.5)
    const scatter =
      1.4826 *
      rank(
        values.map((value) => Math.abs(value - middle)),
        0.5,
      )
    const over = Math.max(LEAST_OVER * scatter, 0.3 * LEAST_PALER)
    const at = (x: number, y: number) => response.data[y * width + x]!
    for (let y = 2; y < height - 2; y++)
      for (let x = 2; x < width - 2; x++) {
        const value = at(x, y)
        if (value - middle < over || within[y * width + x] === 0) continue
        let top = true
        for (let dy = -1; dy <= 1 && top; dy++)
          for (let dx = -1; dx <= 1 && top; dx++) if ((dx !== 0 || dy !== 0) && at(x + dx, y + dy) > value) top = false
        if (!top || fromOutline(polygon, x, y) < 1.5 * r) continue
        const step = Math.max(1, Math.round(0.7 * r))
        if (x < step || y < step || x >= width - step || y >= height - step) continue
        const [xx, yy] = [at(x - step, y) + at(x + step, y) - 2 * value, at(x, y - step) + at(x, y + step) - 2 * value]
        const xy =
          (at(x + step, y + step) + at(x - step, y - step) - at(x + step, y - step) - at(x - step, y + step)) / 4
        const mean = (xx + yy) / 2
        const apart = Math.hypot((xx - yy) / 2, xy)
        const [steep, flat] = [mean - apart, mean + apart]
        if (flat >= 0 || flat / steep < LEAST_ROUND) continue
        const paler = discOverRing(pale, x, y, r)
        if (paler < LEAST_PALER) continue
        found.push({ x, y, r, paler })
      }
  }
  // Of spots that lie in one another the one that stands out most stays.
  const kept: FoundSpot[] = []
  for (const spot of found.sort((a, b) => b.paler - a.paler)) {
    if (kept.every((one) => Math.hypot(one.x - spot.x, one.y - spot.y) > Math.max(one.r, spot.r) * 1.1)) kept.push(spot)
    if (kept.length >= MOST_SPOTS) break
  }
  return kept
}

/** Three boxes in a row are nearly a bell of that spread. */
function smoothed(plane: Plane, sigma: number): Plane {
  if (sigma < 0.5) return plane
  const radius = Math.max(1, Math.round((Math.sqrt(4 * sigma * sigma + 1) - 1) / 2))
  return blurred(blurred(blurred(plane, radius), radius), radius)
}

/** How much paler a disc is than the ring about it, as a share. */
function discOverRing({ width, height, data }: Plane, cx: number, cy: number, r: number): number {
  let [disc, n] = [0, 0]
  const ring: number[] = []
  const reach = Math.ceil(2.4 * r + 1)
  for (let y = Math.max(0, cy - reach); y <= Math.min(height - 1, cy + reach); y++)
    for (let x = Math.max(0, cx - reach); x <= Math.min(width - 1, cx + reach); x++) {
      const far = Math.hypot(x - cx, y - cy)
      if (far <= Math.max(0.8, 0.6 * r)) {
        disc += data[y * width + x]!
        n++
      } else if (far > 1.5 * r && far <= 2.4 * r + 1) ring.push(data[y * width + x]!)
    }
  return n === 0 || ring.length === 0 ? 0 : Math.expm1(disc / n - rank(ring, 0.5))
}
