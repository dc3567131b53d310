// What lies in one frame: bodies that take light away, each with its place, extent, outline and colour.
import { blurred, rank, type Plane } from './frame.ts'
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
  readonly pixels: Int32Array
}

/** Light taken away in each channel, natural logarithm of empty over seen; and the strongest of them, smoothed. */
export interface Taken {
  readonly width: number
  readonly height: number
  readonly red: Float32Array
  readonly green: Float32Array
  readonly blue: Float32Array
  readonly most: Float32Array
  /** Scatter of the empty ground. */
  readonly noise: number
}

export function takenOf([red, green, blue]: readonly [Plane, Plane, Plane], field: Field): Taken {
  const { width, height } = red
  const n = width * height
  const smooth = [blurred(red, 1), blurred(green, 1), blurred(blue, 1)]
  // The lamp of this frame: flicker and phones change all of it at once.
  const out = [0, 1, 2].map((c) => {
    const light = field.light[c]!
    const ratios: number[] = []
    for (let i = 0; i < n; i += 37) if (field.mask[i] === 1) ratios.push(smooth[c]!.data[i]! / light[i]!)
    const gain = rank(ratios, 0.7)
    const taken = new Float32Array(n)
    for (let i = 0; i < n; i++)
      if (field.mask[i] === 1) taken[i] = -Math.log(Math.max(0.02, smooth[c]!.data[i]! / (light[i]! * gain)))
    return taken
  }) as [Float32Array, Float32Array, Float32Array]
  const most = new Float32Array(n)
  const ground: number[] = []
  for (let i = 0; i < n; i++) {
    const [a, b, c] = [out[0][i]!, out[1][i]!, out[2][i]!]
    const high = Math.max(a, b, c)
    most[i] = 0.5 * high + 0.5 * ((a + b + c) / 3)
    if (i % 23 === 0 && field.mask[i] === 1) ground.push(most[i]!)
  }
  // The ground is the lower two thirds: its scatter by the middle of what lies around its middle.
  const middle = rank(ground.slice(), 0.4)
  const low = ground.filter((value) => value <= middle).map((value) => middle - value)
  const noise = Math.max(0.004, 1.48 * rank(low, 0.5))
  for (let i = 0; i < n; i++) most[i]! -= middle
  return { width, height, red: out[0], green: out[1], blue: out[2], most, noise }
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
  const set = new Uint8Array(n)
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

/** Chamfer distance to the outside, px, of the pixels that are set. */
function distances(set: Uint8Array, width: number, height: number): Float32Array {
  const d = new Float32Array(width * height)
  const far = 1e6
  for (let i = 0; i < d.length; i++) d[i] = set[i] === 1 ? far : 0
  const at = (x: number, y: number) => (x < 0 || y < 0 || x >= width || y >= height ? 0 : d[y * width + x]!)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x
      if (d[i] === 0) continue
      d[i] = Math.min(d[i]!, at(x - 1, y) + 1, at(x, y - 1) + 1, at(x - 1, y - 1) + 1.414, at(x + 1, y - 1) + 1.414)
    }
  for (let y = height - 1; y >= 0; y--)
    for (let x = width - 1; x >= 0; x--) {
      const i = y * width + x
      if (d[i] === 0) continue
      d[i] = Math.min(d[i]!, at(x + 1, y) + 1, at(x, y + 1) + 1, at(x + 1, y + 1) + 1.414, at(x - 1, y + 1) + 1.414)
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
  const n = width * height
  const set = grown(most, field.mask, width, height, level, 0.45 * level)
  fillHoles(set, field.mask, width, height, 40 * least)
  const tight = drawnIn(set, taken, distances(set, width, height))
  const d = distances(tight, width, height)
  const labels = parted(tight, d, width, height)
  const lists = new Map<number, number[]>()
  for (let i = 0; i < n; i++) {
    const label = labels[i]!
    if (label === 0) continue
    const list = lists.get(label)
    if (list) list.push(i)
    else lists.set(label, [i])
  }
  const found: Body[] = []
  for (const list of lists.values()) if (list.length >= 0.7 * least) found.push(bodyOf(list, taken, field, d, level))
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
  const out = new Uint8Array(set.length)
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

/** Ground inside of a body belongs to it: the pale middle of a shell. */
function fillHoles(set: Uint8Array, mask: Uint8Array, width: number, height: number, most: number): void {
  const n = width * height
  const seen = new Uint8Array(n)
  const stack: number[] = []
  for (let start = 0; start < n; start++) {
    if (set[start] === 1 || seen[start] === 1) continue
    const hole: number[] = []
    let open = false
    stack.push(start)
    seen[start] = 1
    while (stack.length > 0) {
      const i = stack.pop()!
      if (hole.length <= most) hole.push(i)
      const x = i % width
      if (x === 0 || x === width - 1 || i < width || i >= n - width || mask[i] === 0) open = true
      for (const j of [i - 1, i + 1, i - width, i + width]) {
        if (j < 0 || j >= n || seen[j] === 1 || set[j] === 1) continue
        if (Math.abs((j % width) - x) > 1) continue
        seen[j] = 1
        stack.push(j)
      }
    }
    if (!open && hole.length <= most) for (const i of hole) set[i] = 1
  }
}

/** Labels of bodies: those that only touch are parted where they draw in, from their thick places outward. */
function parted(set: Uint8Array, d: Float32Array, width: number, height: number): Int32Array {
  const n = width * height
  const labels = new Int32Array(n)
  // From the thickest down: each pixel joins what it touches, or begins a peak of its own.
  const order: number[] = []
  for (let i = 0; i < n; i++) if (set[i] === 1) order.push(i)
  order.sort((a, b) => d[b]! - d[a]!)
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
  for (let i = 0; i < n; i++) if (labels[i] !== 0) labels[i] = find(labels[i]!)
  return labels
}

const DIRECTIONS = 24
function bodyOf(list: readonly number[], taken: Taken, field: Field, d: Float32Array, level: number): Body {
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
  const reach = Array.from({ length: DIRECTIONS }, () => [Infinity, -Infinity])
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
    cube += a ** 3
    if (d[i]! <= 2) {
      rimSum += taken.most[i]!
      rimCount++
      for (let k = 0; k < DIRECTIONS; k++) {
        const t = (Math.PI * k) / DIRECTIONS
        const p = dx * Math.cos(t) + dy * Math.sin(t)
        if (p < reach[k]![0]!) reach[k]![0] = p
        if (p > reach[k]![1]!) reach[k]![1] = p
      }
    } else if (d[i]! >= deep) {
      coreSum += taken.most[i]!
      coreCount++
    }
  }
  const spread = Math.sqrt(Math.max(1e-9, (xx * ca * ca + 2 * xy * ca * sa + yy * sa * sa) / area))
  const length = highA - lowA + 1
  const across = highB - lowB + 1
  const widths = reach.map(([low, high]) => high! - low! + 1)
  // Hull by Cauchy: its outline is π times the mean width; its area as that of an ellipse with the same two extents.
  const outline = (Math.PI * widths.reduce((sum, one) => sum + one, 0)) / DIRECTIONS
  const longest = Math.max(...widths)
  const narrow = Math.min(...widths)
  const hull = Math.max(area, Math.min((Math.PI / 4) * longest * narrow * 1.27, outline ** 2 / (4 * Math.PI)))
  const mean = (red + green + blue) / (3 * area)
  const [mr, mg, mb] = [red / area, green / area, blue / area]
  const meanMost = list.reduce((sum, i) => sum + taken.most[i]!, 0) / area
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
    pixels: Int32Array.from(list),
  }
}

/** Of a body at the edge: whether it grows narrower towards the edge, so that its widest place is in sight. */
function isShown(list: readonly number[], width: number, height: number, field: Field): boolean {
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
function edgeOf(list: readonly number[], taken: Taken, d: Float32Array, level: number): number {
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
