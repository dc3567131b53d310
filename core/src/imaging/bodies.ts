// What lies in one frame: bodies that take light away, each with its place, extent, outline and colour.
import { rank, type Picture } from './frame.ts'
import type { Field } from './light.ts'

export interface Body {
  /** Middle, px. */
  readonly x: number
  readonly y: number
  readonly area: number
  /** Longest extent along its own axis and the extent across it, px. */
  readonly length: number
  readonly width: number
  /** Direction of the long axis, radians, −π/2 to π/2. */
  readonly angle: number
  /** How much thicker one end is than the other, 0 to 1: a drop is lopsided, an oval is not; the sign says which end. */
  readonly skew: number
  /** Area by that of an ellipse of its extents. */
  readonly fill: number
  /** Area by that of its hull of directions. */
  readonly solid: number
  /** Light taken away, mean per channel: natural logarithm, so that thicker is more. */
  readonly red: number
  readonly green: number
  readonly blue: number
  /** Darkness of its rim beside that of its inside: above 1 a shell, below 1 a body. */
  readonly rim: number
  /** Unevenness of the light it takes, beside its mean. */
  readonly uneven: number
  /** Sharpness of its edge, darkness a px. */
  readonly sharp: number
  /** It touches the edge of the picture: part of it may lie outside. */
  readonly cut: boolean
  /** Its widest place lies inside: more than half of it shows. */
  readonly shown: boolean
  /** Thickest place: twice the largest distance to the outside, px. */
  readonly thick: number
}

/** Light taken away in each channel, natural logarithm of empty over seen; and the strongest of them, smoothed. */
export interface Taken {
  readonly width: number
  readonly height: number
  readonly red: Float32Array
  readonly green: Float32Array
  readonly blue: Float32Array
  readonly most: Float32Array
  /** Brightness of this frame beside the clip's, natural logarithm. */
  readonly lamp: number
  /** Scatter of the empty ground. */
  readonly noise: number
}

/** Logarithm of the mean of nine bytes by their sum: a smoothed pixel takes one of 2,296 values. */
const LOG_OF_SUM = Float32Array.from({ length: 9 * 255 + 1 }, (_, sum) => Math.log(Math.max(sum, 0.1) / 9))
/** No more is taken than this: what is black lets a fiftieth through. */
const MOST_TAKEN = -Math.log(0.02)

/**
 * Room for the pixels of a frame, used again for the next: two hundred frames would leave gigabytes for the collector. Nothing
 * that is given back may lie in it.
 */
const rooms = new Map<string, Float32Array | Uint8Array | Uint16Array | Int32Array>()
function room<T extends Float32Array | Uint8Array | Uint16Array | Int32Array>(
  name: string,
  n: number,
  make: new (n: number) => T,
): T {
  const found = rooms.get(name)
  if (found?.length === n) {
    found.fill(0)
    return found as T
  }
  const made = new make(n)
  rooms.set(name, made)
  return made
}

/** Sums of three neighbours along the rows of one channel. */
function sumAcross(data: Picture['data'], channels: number, c: number, width: number, out: Uint16Array): void {
  const last = width - 1
  for (let i = 0, p = c, x = 0; i < out.length; i++, p += channels) {
    const own = data[p]!
    out[i] = (x > 0 ? data[p - channels]! : own) + own + (x < last ? data[p + channels]! : own)
    x = x === last ? 0 : x + 1
  }
}
/** What three such rows took from the empty light. */
function logDown(
  lines: Uint16Array,
  log: Float32Array,
  mask: Uint8Array,
  width: number,
  height: number,
  out: Float32Array,
): void {
  for (let y = 0; y < height; y++) {
    const row = y * width
    const above = y > 0 ? -width : 0
    const below = y < height - 1 ? width : 0
    for (let i = row; i < row + width; i++)
      if (mask[i] === 1) out[i] = log[i]! - LOG_OF_SUM[lines[i + above]! + lines[i]! + lines[i + below]!]!
  }
}
export function takenOf({ width, height, channels, data }: Picture, field: Field): Taken {
  const n = width * height
  const { mask } = field
  const lines = room('lines', n, Uint16Array)
  let bright = 0
  const [red, green, blue] = [0, 1, 2].map((c) => {
    const taken = room(`taken ${c}`, n, Float32Array)
    sumAcross(data, channels, c, width, lines)
    logDown(lines, field.logLight[c]!, mask, width, height, taken)
    // The lamp of this frame: flicker and phones change all of it at once.
    const samples: number[] = []
    for (let i = 0; i < n; i += 37) if (mask[i] === 1) samples.push(taken[i]!)
    const lamp = rank(samples, 0.3)
    bright -= lamp / 3
    for (let i = 0; i < n; i++) if (mask[i] === 1) taken[i] = Math.min(MOST_TAKEN, taken[i]! - lamp)
    return taken
  }) as [Float32Array, Float32Array, Float32Array]
  const most = room('most', n, Float32Array)
  const ground: number[] = []
  for (let i = 0; i < n; i++) {
    const a = red[i]!
    const b = green[i]!
    const c = blue[i]!
    const high = a > b ? (a > c ? a : c) : b > c ? b : c
    most[i] = 0.5 * high + (a + b + c) / 6
    if (i % 23 === 0 && mask[i] === 1) ground.push(most[i]!)
  }
  // The ground is the lower two thirds: its scatter by the middle of what lies around its middle.
  const middle = rank(ground.slice(), 0.4)
  const low = ground.filter((value) => value <= middle).map((value) => middle - value)
  const noise = Math.max(0.004, 1.48 * rank(low, 0.5))
  for (let i = 0; i < n; i++) most[i]! -= middle
  return { width, height, red, green, blue, most, lamp: bright, noise }
}

/** What is darker than a level, and what hangs on it and is darker than a lower one: the pale parts of a body. */
function grown(
  most: Float32Array,
  mask: Uint8Array,
  width: number,
  height: number,
  level: number,
  low: number,
): Uint8Array {
  const n = width * height
  const set = room('set', n, Uint8Array)
  const stack: number[] = []
  for (let i = 0; i < n; i++)
    if (mask[i] === 1 && most[i]! > level) {
      set[i] = 1
      stack.push(i)
    }
  while (stack.length > 0) {
    const i = stack.pop()!
    const x = i % width
    for (const j of [x > 0 ? i - 1 : -1, x < width - 1 ? i + 1 : -1, i - width, i + width]) {
      if (j < 0 || j >= n || set[j] === 1 || mask[j] === 0 || most[j]! <= low) continue
      set[j] = 1
      stack.push(j)
    }
  }
  return set
}

/** Chamfer distance to the outside, px, of the pixels that are set; beyond the picture is outside. */
function distances(set: Uint8Array, width: number, height: number, name: string): Float32Array {
  const d = room(name, width * height, Float32Array)
  const last = d.length - width
  for (let i = 0; i < d.length; i++) {
    if (set[i] === 0) continue
    const x = i % width
    if (i < width || i >= last || x === 0 || x === width - 1) {
      d[i] = 1
      continue
    }
    let near = d[i - 1]! + 1
    let other = d[i - width]! + 1
    if (other < near) near = other
    other = d[i - width - 1]! + 1.414
    if (other < near) near = other
    other = d[i - width + 1]! + 1.414
    d[i] = other < near ? other : near
  }
  for (let i = d.length - 1; i >= 0; i--) {
    let near = d[i]!
    if (near <= 1) continue
    let other = d[i + 1]! + 1
    if (other < near) near = other
    other = d[i + width]! + 1
    if (other < near) near = other
    other = d[i + width + 1]! + 1.414
    if (other < near) near = other
    other = d[i + width - 1]! + 1.414
    d[i] = other < near ? other : near
  }
  return d
}

/** How far a narrow place between two thick ones must draw in before they are two, share of the smaller thickness. */
const NECK = 0.8
/** Thinner than this nothing is parted, px from the middle to the outside: the clear gap of a diatom is no neck. */
const LEAST_THICK = 3

/**
 * Bodies of a frame. @param least smallest area that is looked at, px
 * @param level darkness from which it is a body; left out: by the scatter of the ground
 */
export function bodiesOf(taken: Taken, field: Field, least: number, level = Math.max(0.06, 4.5 * taken.noise)): Body[] {
  const { width, height, most } = taken
  const set = grown(most, field.mask, width, height, level, 0.45 * level)
  fillHoles(set, field.mask, width, height, 40 * least)
  const tight = drawnIn(set, taken, distances(set, width, height, 'wide'))
  const d = distances(tight, width, height, 'tight')
  const { labels, order, count } = parted(tight, d, width, height)
  const from = new Int32Array(count + 1)
  for (const i of order) from[labels[i]! + 1]!++
  for (let k = 0; k < count; k++) from[k + 1]! += from[k]!
  const at = from.slice()
  const sorted = new Int32Array(order.length)
  for (const i of order) sorted[at[labels[i]!]!++] = i
  const found: Body[] = []
  for (let k = 0; k < count; k++)
    if (from[k + 1]! - from[k]! >= Math.max(1, 0.7 * least))
      found.push(bodyOf(sorted.slice(from[k], from[k + 1]), taken, field, d, level))
  return found
}

/** How deep the soft edge of a body reaches, and how far around its own darkness is looked for, px. */
const SOFT = 3.2
const AROUND = 3
/**
 * Bodies without their soft edge: an outline lies where half of the darkness beside it is, and not where the first shade of
 * it stands out from the ground. A pale end beside a dark middle keeps its own measure.
 */
function drawnIn(set: Uint8Array, taken: Taken, d: Float32Array): Uint8Array {
  const { most, width } = taken
  const out = room('drawn in', set.length, Uint8Array)
  for (let i = 0; i < set.length; i++) {
    if (set[i] === 0) continue
    if (d[i]! > SOFT) {
      out[i] = 1
      continue
    }
    let dark = 0
    for (let dy = -AROUND; dy <= AROUND; dy++)
      for (let dx = -AROUND; dx <= AROUND; dx++) {
        const j = i + dy * width + dx
        if (set[j] === 1 && most[j]! > dark) dark = most[j]!
      }
    out[i] = most[i]! >= 0.5 * dark ? 1 : 0
  }
  return out
}

/** Ground inside of a body belongs to it: the pale middle of a shell. What hangs together with the edge is none. */
function fillHoles(set: Uint8Array, mask: Uint8Array, width: number, height: number, most: number): void {
  const n = width * height
  const seen = room('seen', n, Uint8Array)
  const stack = room('stack', n, Int32Array)
  /** All empty ground that hangs together with what lies on the stack; how much it is. */
  const flood = (from: number, keep: number[] | null): number => {
    let top = from
    let count = 0
    while (top > 0) {
      const i = stack[--top]!
      count++
      if (keep !== null && count <= most) keep.push(i)
      const x = i % width
      if (x > 0 && seen[i - 1] === 0 && set[i - 1] === 0) {
        seen[i - 1] = 1
        stack[top++] = i - 1
      }
      if (x < width - 1 && seen[i + 1] === 0 && set[i + 1] === 0) {
        seen[i + 1] = 1
        stack[top++] = i + 1
      }
      if (i >= width && seen[i - width] === 0 && set[i - width] === 0) {
        seen[i - width] = 1
        stack[top++] = i - width
      }
      if (i < n - width && seen[i + width] === 0 && set[i + width] === 0) {
        seen[i + width] = 1
        stack[top++] = i + width
      }
    }
    return count
  }
  let top = 0
  for (let i = 0; i < n; i++) {
    if (set[i] === 1) continue
    const x = i % width
    if (mask[i] === 0 || i < width || i >= n - width || x === 0 || x === width - 1) {
      seen[i] = 1
      stack[top++] = i
    }
  }
  flood(top, null)
  for (let start = 0; start < n; start++) {
    if (set[start] === 1 || seen[start] === 1) continue
    seen[start] = 1
    stack[0] = start
    const hole: number[] = []
    if (flood(1, hole) <= most) for (const i of hole) set[i] = 1
  }
}

/** Labels of bodies: those that only touch are parted where they draw in, from their thick places outward. */
function parted(
  set: Uint8Array,
  d: Float32Array,
  width: number,
  height: number,
): { readonly labels: Int32Array; readonly order: Int32Array; readonly count: number } {
  const n = width * height
  const labels = room('labels', n, Int32Array)
  const order = thickestFirst(set, d)
  // From the thickest down: each pixel joins what it touches, or begins a peak of its own.
  const parent: number[] = [0]
  const peak: number[] = [0]
  const find = (label: number): number => {
    let at = label
    while (parent[at] !== at) at = parent[at] = parent[parent[at]!]!
    return at
  }
  for (const i of order) {
    const x = i % width
    let own = 0
    for (let dy = -1; dy <= 1; dy++)
      for (let dx = -1; dx <= 1; dx++) {
        if ((dx === 0 && dy === 0) || x + dx < 0 || x + dx >= width) continue
        const j = i + dy * width + dx
        if (j < 0 || j >= n || labels[j] === 0) continue
        const other = find(labels[j]!)
        if (own === 0) own = other
        else if (other !== own) {
          // Two peaks meet here: they are one unless this place is a neck between two that are thick.
          const smaller = Math.min(peak[own]!, peak[other]!)
          if (d[i]! >= NECK * smaller || smaller < LEAST_THICK) {
            const [keep, gone] = peak[own]! >= peak[other]! ? [own, other] : [other, own]
            parent[gone] = keep
            own = keep
          } else if (peak[other]! > peak[own]!) own = other
        }
      }
    if (own === 0) {
      own = parent.length
      parent.push(own)
      peak.push(d[i]!)
    }
    labels[i] = own
  }
  for (const i of order) labels[i] = find(labels[i]!)
  return { labels, order, count: parent.length }
}
/** Pixels that are set, from the deepest inside outward, by steps of a thirty-second of a pixel. */
function thickestFirst(set: Uint8Array, d: Float32Array): Int32Array {
  let most = 0
  let count = 0
  for (let i = 0; i < set.length; i++)
    if (set[i] === 1) {
      count++
      if (d[i]! > most) most = d[i]!
    }
  const steps = Math.floor(most * 32) + 1
  const from = new Int32Array(steps + 1)
  const stepOf = (i: number) => steps - 1 - Math.floor(d[i]! * 32)
  for (let i = 0; i < set.length; i++) if (set[i] === 1) from[stepOf(i) + 1]!++
  for (let k = 0; k < steps; k++) from[k + 1]! += from[k]!
  const order = new Int32Array(count)
  for (let i = 0; i < set.length; i++) if (set[i] === 1) order[from[stepOf(i)]!++] = i
  return order
}

const DIRECTIONS = 24
const COS = Float64Array.from({ length: DIRECTIONS }, (_, k) => Math.cos((Math.PI * k) / DIRECTIONS))
const SIN = Float64Array.from({ length: DIRECTIONS }, (_, k) => Math.sin((Math.PI * k) / DIRECTIONS))
function bodyOf(list: Int32Array, taken: Taken, field: Field, d: Float32Array, level: number): Body {
  const { width, height } = taken
  let sx = 0
  let sy = 0
  let red = 0
  let green = 0
  let blue = 0
  let squares = 0
  let thick = 0
  let cut = false
  for (const i of list) {
    const x = i % width
    const y = (i - x) / width
    sx += x
    sy += y
    red += taken.red[i]!
    green += taken.green[i]!
    blue += taken.blue[i]!
    squares += taken.most[i]! ** 2
    if (d[i]! > thick) thick = d[i]!
    if (x === 0 || y === 0 || x === width - 1 || y === height - 1) cut = true
    else if (
      field.mask[i - 1] === 0 ||
      field.mask[i + 1] === 0 ||
      field.mask[i - width] === 0 ||
      field.mask[i + width] === 0
    )
      cut = true
  }
  const area = list.length
  const [cx, cy] = [sx / area, sy / area]
  let xx = 0
  let yy = 0
  let xy = 0
  for (const i of list) {
    const dx = (i % width) - cx
    const dy = Math.floor(i / width) - cy
    xx += dx * dx
    yy += dy * dy
    xy += dx * dy
  }
  const angle = 0.5 * Math.atan2(2 * xy, xx - yy)
  const [ca, sa] = [Math.cos(angle), Math.sin(angle)]
  let [lowA, highA, lowB, highB, cube] = [Infinity, -Infinity, Infinity, -Infinity, 0]
  const nearest = new Float64Array(DIRECTIONS).fill(Infinity)
  const furthest = new Float64Array(DIRECTIONS).fill(-Infinity)
  let rimSum = 0
  let rimCount = 0
  let coreSum = 0
  let coreCount = 0
  const deep = 0.45 * thick
  for (const i of list) {
    const dx = (i % width) - cx
    const dy = Math.floor(i / width) - cy
    const a = dx * ca + dy * sa
    const b = -dx * sa + dy * ca
    if (a < lowA) lowA = a
    if (a > highA) highA = a
    if (b < lowB) lowB = b
    if (b > highB) highB = b
    cube += a * a * a
    if (d[i]! <= 2) {
      rimSum += taken.most[i]!
      rimCount++
      for (let k = 0; k < DIRECTIONS; k++) {
        const p = dx * COS[k]! + dy * SIN[k]!
        if (p < nearest[k]!) nearest[k] = p
        if (p > furthest[k]!) furthest[k] = p
      }
    } else if (d[i]! >= deep) {
      coreSum += taken.most[i]!
      coreCount++
    }
  }
  const spread = Math.sqrt(Math.max(1e-9, (xx * ca * ca + 2 * xy * ca * sa + yy * sa * sa) / area))
  const length = highA - lowA + 1
  const across = highB - lowB + 1
  const widths = Array.from(furthest, (high, k) => high - nearest[k]! + 1)
  // Hull by Cauchy: its outline is π times the mean width; its area as that of an ellipse with the same two extents.
  const outline = (Math.PI * widths.reduce((sum, one) => sum + one, 0)) / DIRECTIONS
  const longest = Math.max(...widths)
  const narrow = Math.min(...widths)
  const hull = Math.max(area, Math.min((Math.PI / 4) * longest * narrow * 1.27, outline ** 2 / (4 * Math.PI)))
  const mean = (red + green + blue) / (3 * area)
  const [mr, mg, mb] = [red / area, green / area, blue / area]
  let meanMost = 0
  for (const i of list) meanMost += taken.most[i]!
  meanMost /= area
  return {
    x: cx,
    y: cy,
    area,
    length: Math.max(length, across),
    width: Math.min(length, across),
    angle,
    skew: Math.max(-1, Math.min(1, cube / area / spread ** 3)),
    fill: area / ((Math.PI / 4) * length * across),
    solid: area / hull,
    red: mr,
    green: mg,
    blue: mb,
    rim: coreCount === 0 || coreSum <= 0 ? 1 : rimSum / Math.max(1, rimCount) / Math.max(1e-6, coreSum / coreCount),
    uneven: Math.sqrt(Math.max(0, squares / area - meanMost ** 2)) / Math.max(1e-6, Math.abs(mean)),
    sharp: edgeOf(list, taken, d, level),
    cut,
    shown: !cut || isShown(list, width, height, field),
    thick: 2 * thick,
  }
}

/** Of a body at the edge: whether it grows narrower towards the edge, so that its widest place is in sight. */
function isShown(list: Int32Array, width: number, height: number, field: Field): boolean {
  let [left, right, top, bottom] = [Infinity, -1, Infinity, -1]
  const columns = new Map<number, number>()
  const rows = new Map<number, number>()
  for (const i of list) {
    const x = i % width
    const y = (i - x) / width
    left = Math.min(left, x)
    right = Math.max(right, x)
    top = Math.min(top, y)
    bottom = Math.max(bottom, y)
    columns.set(x, (columns.get(x) ?? 0) + 1)
    rows.set(y, (rows.get(y) ?? 0) + 1)
  }
  const tapers = (counts: ReadonlyMap<number, number>, edge: number, inward: number): boolean => {
    const most = Math.max(...counts.values())
    return (counts.get(edge) ?? 0) < 0.8 * most && (counts.get(edge + inward) ?? 0) < 0.97 * most
  }
  if (left === 0 && !tapers(columns, 0, 1)) return false
  if (right === width - 1 && !tapers(columns, width - 1, -1)) return false
  if (top === 0 && !tapers(rows, 0, 1)) return false
  if (bottom === height - 1 && !tapers(rows, height - 1, -1)) return false
  if (!field.round) return true
  // At the rim of a round field: by how much of its outline lies on the rim.
  const onRim = list.filter(
    (i) =>
      field.mask[i - 1] === 0 || field.mask[i + 1] === 0 || field.mask[i - width] === 0 || field.mask[i + width] === 0,
  ).length
  return onRim < 0.75 * Math.sqrt(list.length)
}

/** Mean slope of darkness at the rim, a px. */
function edgeOf(list: Int32Array, taken: Taken, d: Float32Array, level: number): number {
  const { width, most } = taken
  let sum = 0
  let n = 0
  for (const i of list) {
    if (d[i]! > 1.5) continue
    const gx = (most[i + 1] ?? level) - (most[i - 1] ?? level)
    const gy = (most[i + width] ?? level) - (most[i - width] ?? level)
    sum += Math.hypot(gx, gy) / 2
    n++
  }
  return n === 0 ? 0 : sum / n
}
