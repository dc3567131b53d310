// How much of a marked place each growth covers, in a picture and in the same place later: by a few touched samples, with
// slopes of light, casts of colour and haze taken out.
import { blurred, planeOf, rank, solve, type Picture, type Plane } from './frame.ts'
import { mapped, register, SAME_PLACE, type Registration, type Similarity } from './register.ts'

export interface CoverClass {
  readonly id: string
  /** Middles of circles of eight pixels that hold nothing else, px of the first picture. */
  readonly samples: readonly (readonly [number, number])[]
}
export interface CoverQuestion {
  readonly classes: readonly CoverClass[]
  /** Corners of the marked area, px of the first picture. */
  readonly polygon: readonly (readonly [number, number])[]
}
export interface Cover {
  /** Share of each class in the marked area, 0 to 1. */
  readonly shares: Readonly<Record<string, number>>
  /** Share of the area whose class two neighbours of it would dispute: the doubt of its outline. */
  readonly doubt: number
  /** Share that belongs to no class: a snail, a shadow of its own. */
  readonly apart: number
}
export interface CoverAnswer {
  readonly a: Cover
  readonly b: Cover | null
  readonly registration: Registration
}

/** The pictures are looked at in squares of this side. */
const BY = 2
const SAMPLE_R = 8

/** Features of a pixel: two of colour, its darkness, and how rough it is. */
const F = 4
interface Seen {
  readonly width: number
  readonly height: number
  readonly features: Float32Array
  readonly valid: Uint8Array
}
interface Class {
  readonly id: string
  /** Middles of its kinds: in light, in shade, and what it turned out to be elsewhere. */
  means: number[][]
  spread: number[]
  readonly own: number[][]
  readonly ownSpread: number[]
}

function channelsAt(
  { width, height, channels, data }: Picture,
  at: (x: number, y: number) => readonly [number, number],
): {
  planes: [Plane, Plane, Plane]
  valid: Uint8Array
} {
  const [w, h] = [Math.floor(width / BY), Math.floor(height / BY)]
  const planes = [planeOf(w, h), planeOf(w, h), planeOf(w, h)] as [Plane, Plane, Plane]
  const valid = new Uint8Array(w * h)
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const i = y * w + x
      let n = 0
      for (let dy = 0; dy < BY; dy++)
        for (let dx = 0; dx < BY; dx++) {
          const [px, py] = at(x * BY + dx, y * BY + dy)
          if (px < 0 || py < 0 || px > width - 1.01 || py > height - 1.01) continue
          const [x0, y0] = [Math.floor(px), Math.floor(py)]
          const [tx, ty] = [px - x0, py - y0]
          const p = (y0 * width + x0) * channels
          for (let c = 0; c < 3; c++) {
            const top = data[p + c]! * (1 - tx) + data[p + channels + c]! * tx
            const low = data[p + width * channels + c]! * (1 - tx) + data[p + (width + 1) * channels + c]! * tx
            planes[c]!.data[i]! += top * (1 - ty) + low * ty
          }
          n++
        }
      if (n === BY * BY) valid[i] = 1
      for (let c = 0; c < 3; c++) planes[c]!.data[i]! /= Math.max(1, n)
    }
  return { planes, valid }
}

const LOG_FLOOR = 6
function featuresOf(planes: readonly [Plane, Plane, Plane], light: Float32Array | null): Float32Array {
  const { width, height } = planes[0]
  const n = width * height
  const smooth = planes.map((plane) => blurred(plane, 1)) as [Plane, Plane, Plane]
  const luma = planeOf(width, height)
  for (let i = 0; i < n; i++) luma.data[i] = (smooth[0].data[i]! + smooth[1].data[i]! + smooth[2].data[i]!) / 3
  const mean = blurred(luma, 4)
  const squares = planeOf(width, height)
  for (let i = 0; i < n; i++) squares.data[i] = ((luma.data[i]! - mean.data[i]!) / (mean.data[i]! + LOG_FLOOR)) ** 2
  const rough = blurred(squares, 4)
  const out = new Float32Array(n * F)
  for (let i = 0; i < n; i++) {
    const [r, g, b] = [smooth[0].data[i]! + LOG_FLOOR, smooth[1].data[i]! + LOG_FLOOR, smooth[2].data[i]! + LOG_FLOOR]
    out[i * F] = Math.log(r / g)
    out[i * F + 1] = Math.log(b / g)
    out[i * F + 2] = Math.log((r + g + b) / 3) - (light === null ? 0 : light[i]!)
    out[i * F + 3] = 0.5 * Math.log(rough.data[i]! + 4e-4)
  }
  return out
}

/** Least scatter of a feature within a class: noise and the coding of the picture. */
const LEAST = [0.045, 0.045, 0.12, 0.3]

function classesOf(question: CoverQuestion, seen: Seen): Class[] {
  return question.classes.map(({ id, samples }) => {
    const means: number[][] = []
    const within = new Array<number>(F).fill(0)
    for (const [sx, sy] of samples) {
      const list: number[] = []
      const [cx, cy] = [(sx + 0.5) / BY - 0.5, (sy + 0.5) / BY - 0.5]
      const radius = SAMPLE_R / BY
      for (let y = Math.max(0, Math.ceil(cy - radius)); y <= Math.min(seen.height - 1, cy + radius); y++)
        for (let x = Math.max(0, Math.ceil(cx - radius)); x <= Math.min(seen.width - 1, cx + radius); x++)
          if (Math.hypot(x - cx, y - cy) <= radius - 0.5) list.push(y * seen.width + x)
      const mean = Array.from(
        { length: F },
        (_, f) => list.reduce((sum, i) => sum + seen.features[i * F + f]!, 0) / Math.max(1, list.length),
      )
      means.push(mean)
      for (let f = 0; f < F; f++)
        within[f]! +=
          list.reduce((sum, i) => sum + (seen.features[i * F + f]! - mean[f]!) ** 2, 0) /
          Math.max(1, list.length) /
          samples.length
    }
    const spread = within.map((value, f) => Math.sqrt(value + LEAST[f]! ** 2))
    return { id, means, spread, own: means.map((mean) => [...mean]), ownSpread: [...spread] }
  })
}

/** Further than this from a class is no further: one wild pixel does not outvote its neighbours. */
const MOST_D2 = 160
/** Distance of a pixel from a class in its own scatter, squared, to the nearest of its kinds; and its logarithm of odds. */
function nearness(
  features: Float32Array,
  i: number,
  kind: Class,
  loose: number,
): { d2: number; ll: number; k: number } {
  let best = Infinity
  let at = 0
  for (let k = 0; k < kind.means.length; k++) {
    let d2 = 0
    const mean = kind.means[k]!
    for (let f = 0; f < F; f++) {
      const s = f === 2 ? kind.spread[f]! * loose : kind.spread[f]!
      d2 += ((features[i * F + f]! - mean[f]!) / s) ** 2
    }
    if (d2 < best) {
      best = d2
      at = k
    }
  }
  let norm = Math.log(loose)
  for (let f = 0; f < F; f++) norm += Math.log(kind.spread[f]!)
  return { d2: best, ll: -0.5 * Math.min(best, MOST_D2) - norm, k: at }
}

interface Labels {
  readonly label: Int8Array
  readonly sure: Float32Array
  readonly far: Float32Array
}
/** Each pixel's class, with its neighbours heard. */
function labelled(seen: Seen, classes: readonly Class[], loose: number, radius: number): Labels {
  const { width, height, features, valid } = seen
  const n = width * height
  const planes = classes.map(() => planeOf(width, height))
  const distance = planeOf(width, height)
  for (let i = 0; i < n; i++) {
    if (valid[i] === 0) continue
    let nearest = Infinity
    for (let c = 0; c < classes.length; c++) {
      const { d2, ll } = nearness(features, i, classes[c]!, loose)
      planes[c]!.data[i] = ll
      nearest = Math.min(nearest, d2)
    }
    distance.data[i] = Math.min(nearest, 120)
  }
  const heard = planes.map((plane) => blurred(plane, radius).data)
  const label = new Int8Array(n).fill(-1)
  const sure = new Float32Array(n)
  for (let i = 0; i < n; i++) {
    if (valid[i] === 0) continue
    let [first, second, at] = [-Infinity, -Infinity, 0]
    for (let c = 0; c < classes.length; c++) {
      const ll = heard[c]![i]!
      if (ll > first) {
        second = first
        first = ll
        at = c
      } else if (ll > second) second = ll
    }
    label[i] = at
    sure[i] = classes.length === 1 ? 9 : first - second
  }
  return { label, sure, far: blurred(distance, 3).data }
}

const quadratic = (x: number, y: number): number[] => [1, x, y, x * x, x * y, y * y]
/** A smooth slope of light: by what is left of the darkness when each class is taken for one shade. */
function slopeOf(seen: Seen, labels: Labels, classes: readonly Class[], weight: (i: number) => boolean): Float32Array {
  const { width, height, features } = seen
  const middle = classes.map((_, c) => {
    const values: number[] = []
    for (let i = 0; i < labels.label.length; i += 5)
      if (labels.label[i] === c && labels.sure[i]! > 2 && weight(i)) values.push(features[i * F + 2]!)
    return values.length < 50 ? null : rank(values, 0.5)
  })
  const points: { t: number[]; v: number; c: number }[] = []
  for (let y = 2; y < height; y += 5)
    for (let x = 2; x < width; x += 5) {
      const i = y * width + x
      const c = labels.label[i]!
      if (c < 0 || labels.sure[i]! < 2 || !weight(i)) continue
      const shade = middle[c]
      if (shade === null || shade === undefined) continue
      points.push({ t: quadratic((2 * x) / width - 1, (2 * y) / height - 1), v: features[i * F + 2]!, c })
    }
  const k = 6
  const m = k - 1 + classes.length
  let used = points
  let found = new Array<number>(m).fill(0)
  for (let round = 0; round < 4 && used.length > 60; round++) {
    const a = Array.from({ length: m }, () => new Array<number>(m).fill(0))
    const b = new Array<number>(m).fill(0)
    // The surface without its constant, and a shade for each class.
    for (const { t, v, c } of used) {
      const row = [...t.slice(1), ...classes.map((_, j) => (j === c ? 1 : 0))]
      for (let r = 0; r < m; r++) {
        if (row[r] === 0) continue
        b[r]! += row[r]! * v
        for (let s = 0; s < m; s++) a[r]![s]! += row[r]! * row[s]!
      }
    }
    for (let r = 0; r < k - 1; r++) a[r]![r]! += 0.01 * used.length
    for (let r = k - 1; r < m; r++) a[r]![r]! += 1e-6
    found = solve(a, b)
    const rest = ({ t, v, c }: (typeof points)[number]) =>
      Math.abs(v - t.slice(1).reduce((sum, one, r) => sum + one * found[r]!, 0) - found[k - 1 + c]!)
    const limit = 3 * rank(used.map(rest), 0.5)
    used = points.filter((p) => rest(p) <= limit)
  }
  const out = new Float32Array(width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const t = quadratic((2 * x) / width - 1, (2 * y) / height - 1)
      let sum = 0
      for (let r = 1; r < k; r++) sum += t[r]! * found[r - 1]!
      out[y * width + x] = sum
    }
  return out
}

/** Classes learn what they look like elsewhere: by what is surely theirs, and never far from what was touched. */
function learned(seen: Seen, labels: Labels, classes: readonly Class[], loose: number, trust: number, most = 30): void {
  classes.forEach((kind, c) => {
    const sums = kind.means.map(() => ({
      n: 0,
      sum: new Array<number>(F).fill(0),
      squares: new Array<number>(F).fill(0),
    }))
    for (let i = 0; i < labels.label.length; i += 2) {
      if (labels.label[i] !== c || labels.sure[i]! < 2.5) continue
      const { d2, k } = nearness(seen.features, i, kind, loose)
      if (d2 > most) continue
      const at = sums[k]!
      at.n++
      for (let f = 0; f < F; f++) {
        const value = seen.features[i * F + f]!
        at.sum[f]! += value
        at.squares[f]! += value * value
      }
    }
    kind.means = kind.own.map((own, k) => {
      const { n, sum } = sums[k]!
      if (n < 120) return own
      return own.map((value, f) => (1 - trust) * value + trust * (sum[f]! / n))
    })
    const all = sums.reduce((sum, { n }) => sum + n, 0)
    if (all > 300)
      kind.spread = kind.ownSpread.map((own, f) => {
        const variance =
          sums.reduce((sum, { n, sum: s, squares }) => (n === 0 ? sum : sum + squares[f]! - s[f]! ** 2 / n), 0) / all
        const now = Math.sqrt(Math.max(0, variance) + LEAST[f]! ** 2 * 0.5)
        return Math.min(2.2 * own, Math.max(0.6 * own, 0.5 * own + 0.5 * now))
      })
  })
}

/** Pixels whose middle lies in the polygon. */
function insideOf(polygon: CoverQuestion['polygon'], width: number, height: number): Uint8Array {
  const mask = new Uint8Array(width * height)
  for (let y = 0; y < height; y++) {
    const py = (y + 0.5) * BY - 0.5
    for (let x = 0; x < width; x++) {
      const px = (x + 0.5) * BY - 0.5
      let inside = false
      for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
        const [xi, yi] = polygon[i]!
        const [xj, yj] = polygon[j]!
        if (yi > py !== yj > py && px < ((xj - xi) * (py - yi)) / (yj - yi) + xi) inside = !inside
      }
      if (inside) mask[y * width + x] = 1
    }
  }
  return mask
}

/** So far from every class, in one piece of this size: something else lies there. */
const APART_D2 = 34
const APART_LEAST = 130
const APART_MOST = 3
function apartOf(labels: Labels, mask: Uint8Array, width: number, height: number): Uint8Array {
  const n = width * height
  const out = new Uint8Array(n)
  const seen = new Uint8Array(n)
  const found: number[][] = []
  for (let start = 0; start < n; start++) {
    if (seen[start] === 1 || labels.far[start]! < APART_D2 || labels.label[start]! < 0) continue
    const piece: number[] = []
    const stack = [start]
    seen[start] = 1
    while (stack.length > 0) {
      const i = stack.pop()!
      piece.push(i)
      const x = i % width
      for (const j of [x > 0 ? i - 1 : -1, x < width - 1 ? i + 1 : -1, i - width, i + width]) {
        if (j < 0 || j >= n || seen[j] === 1 || labels.far[j]! < 0.6 * APART_D2) continue
        seen[j] = 1
        stack.push(j)
      }
    }
    const rows = piece.map((i) => Math.floor(i / width))
    const columns = piece.map((i) => i % width)
    const box = (Math.max(...rows) - Math.min(...rows) + 1) * (Math.max(...columns) - Math.min(...columns) + 1)
    // A snail is one compact thing; a seam between two growths is long and thin.
    if (piece.length >= APART_LEAST && piece.length < 0.03 * n && piece.length > 0.45 * box) found.push(piece)
  }
  // A snail or two: many such pieces are a growth that looks unlike what was touched.
  if (found.length <= APART_MOST) for (const piece of found) for (const i of piece) if (mask[i] === 1) out[i] = 1
  return out
}

function summed(labels: Labels, mask: Uint8Array, apart: Uint8Array, classes: readonly Class[]): Cover {
  const counts = classes.map(() => 0)
  let [all, doubt, gone] = [0, 0, 0]
  for (let i = 0; i < mask.length; i++) {
    if (mask[i] === 0 || labels.label[i]! < 0) continue
    if (apart[i] === 1) {
      gone++
      continue
    }
    counts[labels.label[i]!]!++
    if (labels.sure[i]! < 1) doubt++
    all++
  }
  return {
    shares: Object.fromEntries(classes.map(({ id }, c) => [id, counts[c]! / Math.max(1, all)])),
    doubt: doubt / Math.max(1, all),
    apart: gone / Math.max(1, all + gone),
  }
}

/** Weight of black among the pixels that cast and haze are found by, share of them. */
const ANCHOR = 0.03
/** Cast, gain and haze between two pictures of one place: channel by channel, by most of what has not changed. */
function matched(
  a: readonly [Plane, Plane, Plane],
  b: readonly [Plane, Plane, Plane],
  valid: Uint8Array,
): [Plane, Plane, Plane] {
  const { width, height } = a[0]
  const n = width * height
  const [sa, sb] = [a.map((plane) => blurred(plane, 2)), b.map((plane) => blurred(plane, 2))]
  // The slope of light between them, common to all channels, is found together with the rest.
  let slope: Float32Array = new Float32Array(n)
  const gains = [1, 1, 1]
  const hazes = [0, 0, 0]
  const sample: number[] = []
  for (let y = 3; y < height; y += 4)
    for (let x = 3; x < width; x += 4) if (valid[y * width + x] === 1) sample.push(y * width + x)
  for (let round = 0; round < 6; round++) {
    const points: { t: number[]; v: number }[] = []
    for (const i of sample) {
      let [ratio, count] = [0, 0]
      for (let c = 0; c < 3; c++) {
        const own = gains[c]! * sa[c]!.data[i]!
        const other = sb[c]!.data[i]! - hazes[c]!
        if (own > 12 && other > 12) {
          ratio += Math.log(other / own)
          count++
        }
      }
      if (count >= 2)
        points.push({
          t: quadratic((2 * (i % width)) / width - 1, (2 * Math.floor(i / width)) / height - 1),
          v: ratio / count,
        })
    }
    let used = points
    let w = new Array<number>(6).fill(0)
    for (let pass = 0; pass < 5 && used.length > 60; pass++) {
      const m = Array.from({ length: 6 }, () => new Array<number>(6).fill(0))
      const r = new Array<number>(6).fill(0)
      for (const { t, v } of used)
        for (let p = 0; p < 6; p++) {
          r[p]! += t[p]! * v
          for (let q = 0; q < 6; q++) m[p]![q]! += t[p]! * t[q]!
        }
      for (let p = 1; p < 6; p++) m[p]![p]! += 0.01 * used.length
      w = solve(m, r)
      const rest = ({ t, v }: (typeof points)[number]) => Math.abs(v - t.reduce((sum, one, p) => sum + one * w[p]!, 0))
      const limit = 2 * rank(points.map(rest), 0.45) + 0.01
      used = points.filter((p) => rest(p) <= limit)
    }
    slope = new Float32Array(n)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const t = quadratic((2 * x) / width - 1, (2 * y) / height - 1)
        let sum = 0
        for (let p = 1; p < 6; p++) sum += t[p]! * w[p]!
        slope[y * width + x] = sum
      }
    for (let c = 0; c < 3; c++) {
      let used = sample
      for (let pass = 0; pass < 5; pass++) {
        // Black stays near black: a ground of one shade would let haze and gain stand in for each other.
        let [s1, sx, sy, sxx, sxy] = [ANCHOR * used.length, 0, 0, 0, 0]
        for (const i of used) {
          const x = sa[c]!.data[i]! * Math.exp(slope[i]!)
          const y = sb[c]!.data[i]!
          s1++
          sx += x
          sy += y
          sxx += x * x
          sxy += x * y
        }
        const gain = (s1 * sxy - sx * sy) / Math.max(1e-6, s1 * sxx - sx * sx)
        gains[c] = Math.max(0.3, Math.min(3, gain))
        hazes[c] = (sy - gains[c]! * sx) / Math.max(1, s1)
        const rest = (i: number) =>
          Math.abs(sb[c]!.data[i]! - gains[c]! * sa[c]!.data[i]! * Math.exp(slope[i]!) - hazes[c]!)
        const limit = 2 * rank(sample.map(rest), 0.45) + 1
        used = sample.filter((i) => rest(i) <= limit)
      }
    }
  }
  return b.map((plane, c) => {
    const out = planeOf(width, height)
    for (let i = 0; i < n; i++)
      out.data[i] = Math.max(0, Math.min(300, (plane.data[i]! - hazes[c]!) / (gains[c]! * Math.exp(slope[i]!))))
    return out
  }) as [Plane, Plane, Plane]
}

/** Cover in a first picture, and in a second of the same place where there is one. */
export function coverOf(a: Picture, b: Picture | null, question: CoverQuestion, given?: Similarity): CoverAnswer {
  const first = channelsAt(a, (x, y) => [x, y])
  const { width, height } = first.planes[0]
  const seenA: Seen = { width, height, features: featuresOf(first.planes, null), valid: first.valid }
  const classes = classesOf(question, seenA)
  const mask = insideOf(question.polygon, width, height)
  // In light and in shade: first with the darkness hardly heard, then with the slope of light taken out.
  let labels = labelled(seenA, classes, 1.8, 3)
  const light = new Float32Array(width * height)
  for (let round = 0; round < 3; round++) {
    const slope = slopeOf(seenA, labels, classes, () => true)
    for (let i = 0; i < light.length; i++) {
      light[i]! += slope[i]!
      seenA.features[i * F + 2]! -= slope[i]!
    }
    // What was touched stood in the same light.
    const again = classesOf(question, seenA)
    again.forEach((kind, c) => Object.assign(classes[c]!, kind))
    labels = labelled(seenA, classes, 1.3, 2)
    learned(seenA, labels, classes, 1.3, 0.6)
    labels = labelled(seenA, classes, 1.15, 2)
  }
  const coverA = summed(labels, mask, apartOf(labels, mask, width, height), classes)
  if (b === null)
    return { a: coverA, b: null, registration: { transform: SAME_PLACE, agree: 0, tried: 0, error: 0, found: true } }
  const registration = given ? { transform: given, agree: 0, tried: 0, error: 0, found: true } : register(a, b)
  if (!registration.found) return { a: coverA, b: null, registration }
  const second = channelsAt(b, (x, y) => mapped(registration.transform, x, y, a.width, a.height))
  const alike = matched(first.planes, second.planes, second.valid)
  const seenB: Seen = { width, height, features: featuresOf(alike, light), valid: second.valid }
  // Another sharpness is another roughness of everything: the same middle.
  evenRoughness(seenA, seenB)
  let later = labelled(seenB, classes, 1.25, 2)
  const kept = classes.map(({ means, spread }) => ({ own: means.map((mean) => [...mean]), ownSpread: [...spread] }))
  const moved: Class[] = classes.map((kind, c) => ({ ...kind, own: kept[c]!.own, ownSpread: kept[c]!.ownSpread }))
  // Colours far from the ground's own are brought over less well: each class finds its own again, wide at first.
  for (const [trust, most] of [[0.3, 30]] as const) {
    learned(seenB, later, moved, 1.25, trust, most)
    later = labelled(seenB, moved, 1.15, 2)
  }
  return { a: coverA, b: summed(later, mask, apartOf(later, mask, width, height), classes), registration }
}

function evenRoughness(a: Seen, b: Seen): void {
  const values = (seen: Seen) => {
    const out: number[] = []
    for (let i = 0; i < a.valid.length; i += 7)
      if (a.valid[i] === 1 && b.valid[i] === 1) out.push(seen.features[i * F + 3]!)
    return out
  }
  const off = rank(values(b), 0.5) - rank(values(a), 0.5)
  for (let i = 0; i < b.valid.length; i++) b.features[i * F + 3]! -= off
}
