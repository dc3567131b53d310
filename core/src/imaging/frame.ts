// Pictures as typed arrays, and the plain things done with them: planes, blurs, ranks. No canvas, no clock.

/** A picture: rows from the top, three or four bytes a pixel (red, green, blue, and what is not looked at). */
export interface Picture {
  readonly width: number
  readonly height: number
  readonly channels: 3 | 4
  readonly data: Uint8Array | Uint8ClampedArray
}
/** One value a pixel. */
export interface Plane {
  readonly width: number
  readonly height: number
  readonly data: Float32Array
}

export const planeOf = (width: number, height: number): Plane => ({
  width,
  height,
  data: new Float32Array(width * height),
})

/** Red, green and blue as planes of 0 to 255. */
export function channelsOf({ width, height, channels, data }: Picture): readonly [Plane, Plane, Plane] {
  const out = [planeOf(width, height), planeOf(width, height), planeOf(width, height)] as const
  for (let i = 0, p = 0; i < width * height; i++, p += channels) {
    out[0].data[i] = data[p]!
    out[1].data[i] = data[p + 1]!
    out[2].data[i] = data[p + 2]!
  }
  return out
}

/**
 * A picture made smaller: every pixel the mean of what lies in it, by area, as a lens would see it. A larger one is asked
 * for in vain: it comes back as it is. Colours only: what is seen through is left behind.
 */
export function shrunk(picture: Picture, width: number, height: number): Picture {
  const { channels, data } = picture
  if (width >= picture.width && height >= picture.height) return picture
  const [fx, fy] = [picture.width / width, picture.height / height]
  const out = new Uint8ClampedArray(width * height * 3)
  // A column lies in one column of the smaller picture, or in two by shares.
  const into = Int32Array.from({ length: picture.width }, (_, x) => 3 * Math.min(width - 1, Math.floor(x / fx)))
  const share = Float64Array.from({ length: picture.width }, (_, x) => Math.min(1, (into[x]! / 3 + 1) * fx - x))
  const row = new Float64Array((width + 1) * 3)
  for (let y = 0; y < height; y++) {
    row.fill(0)
    const [top, foot] = [y * fy, Math.min(picture.height, (y + 1) * fy)]
    for (let py = Math.floor(top); py < foot; py++) {
      const tall = Math.min(foot, py + 1) - Math.max(top, py)
      let p = py * picture.width * channels
      for (let x = 0; x < picture.width; x++, p += channels) {
        const q = into[x]!
        const here = tall * share[x]!
        const red = data[p]!
        const green = data[p + 1]!
        const blue = data[p + 2]!
        row[q]! += here * red
        row[q + 1]! += here * green
        row[q + 2]! += here * blue
        const next = tall - here
        if (next > 0) {
          row[q + 3]! += next * red
          row[q + 4]! += next * green
          row[q + 5]! += next * blue
        }
      }
    }
    const all = (foot - top) * fx
    for (let i = 0; i < width * 3; i++) out[y * width * 3 + i] = row[i]! / all
  }
  return { width, height, channels: 3, data: out }
}

/** Mean over a square of side 2 × radius + 1, edges repeated. Two passes of running sums. */
export function blurred({ width, height, data }: Plane, radius: number): Plane {
  if (radius < 1) return { width, height, data: data.slice() }
  const across = new Float32Array(width * height)
  const out = new Float32Array(width * height)
  const span = 2 * radius + 1
  for (let y = 0; y < height; y++) {
    const row = y * width
    let sum = 0
    for (let x = -radius; x <= radius; x++) sum += data[row + Math.min(width - 1, Math.max(0, x))]!
    for (let x = 0; x < width; x++) {
      across[row + x] = sum / span
      sum += data[row + Math.min(width - 1, x + radius + 1)]! - data[row + Math.max(0, x - radius)]!
    }
  }
  for (let x = 0; x < width; x++) {
    let sum = 0
    for (let y = -radius; y <= radius; y++) sum += across[Math.min(height - 1, Math.max(0, y)) * width + x]!
    for (let y = 0; y < height; y++) {
      out[y * width + x] = sum / span
      sum += across[Math.min(height - 1, y + radius + 1) * width + x]! - across[Math.max(0, y - radius) * width + x]!
    }
  }
  return { width, height, data: out }
}

/** The value under which a share of a list lies; a typed list is put in order. */
export function rank(list: readonly number[] | Float32Array, share: number): number {
  if (list.length === 0) return 0
  const values = (list instanceof Float32Array ? list : Float64Array.from(list)).sort()
  return values[Math.min(values.length - 1, Math.max(0, Math.round(share * (values.length - 1))))]!
}
/** Middle of a list that stays as it is. */
export const middleOf = (values: readonly number[]): number => rank(values, 0.5)

/** Solves A x = b for a small system, in place, with the largest pivot first. Singular rows give 0. */
export function solve(a: number[][], b: number[]): number[] {
  const n = b.length
  for (let c = 0; c < n; c++) {
    let p = c
    for (let r = c + 1; r < n; r++) if (Math.abs(a[r]![c]!) > Math.abs(a[p]![c]!)) p = r
    ;[a[c], a[p]] = [a[p]!, a[c]!]
    ;[b[c], b[p]] = [b[p]!, b[c]!]
    const pivot = a[c]![c]!
    if (Math.abs(pivot) < 1e-12) continue
    for (let r = 0; r < n; r++) {
      if (r === c) continue
      const f = a[r]![c]! / pivot
      if (f === 0) continue
      for (let k = c; k < n; k++) a[r]![k]! -= f * a[c]![k]!
      b[r]! -= f * b[c]!
    }
  }
  return b.map((value, i) => (Math.abs(a[i]![i]!) < 1e-12 ? 0 : value / a[i]![i]!))
}
