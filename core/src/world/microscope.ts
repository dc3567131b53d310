// A microscope that needs no glass: fields drawn with everything in them known, for clips, practice and tests. It shares the
// table of sizes and speeds with what measures, and no code.
import { genera as TABLES } from '../generated/knowledge/genera.ts'
import { chanceFrom, type Chance } from './random.ts'

type Range = readonly [number, number]
const GENERA = TABLES[0]!.genera as unknown as readonly {
  readonly id: string
  readonly length: Range
  readonly width: Range
  readonly aspect: Range
  readonly speed: Range
  readonly pointed: boolean
  readonly lopsided?: Range
}[]
type ObjectClass = 'diatom' | 'dinoflagellate' | 'cyanobacteria' | 'green' | 'ciliate' | 'other'
/** A drawn picture: rows from the top, red, green and blue of each pixel. */
export interface Drawn {
  readonly width: number
  readonly height: number
  readonly channels: 3
  readonly data: Uint8ClampedArray
}

/** How good the keeper's hands and lamp are. */
export type SlideLevel = 'clean' | 'usual' | 'hard'
export interface SlidePlan {
  readonly seed: number
  readonly level: SlideLevel
  readonly width: number
  readonly height: number
  readonly fps: number
  readonly seconds: number
  /** Micrometres a pixel; left out: drawn, as for 400 times. */
  readonly umPerPx?: number
  /** Genera of dinoflagellates and how many lie in the field; left out: drawn. */
  readonly genera?: Readonly<Record<string, number>>
  /** A single fault of the view, for clips that show just that. */
  readonly fault?: 'blur' | 'drift' | 'shake' | 'half-light' | 'flicker'
  /** A dark surround with a bright circle, as through an eyepiece; left out: drawn. */
  readonly round?: boolean
}
export interface SlideTruthObject {
  readonly class: ObjectClass
  readonly genus: string
  readonly lengthUm: number
  readonly widthUm: number
  readonly moving: boolean
  readonly speedUmPerS: number
  readonly framesVisible: number
}
export interface SlideTruth {
  readonly counts: Readonly<Record<ObjectClass, number>>
  readonly genera: Readonly<Record<string, number>>
  readonly leading: string | null
  readonly perFrame: Readonly<Record<ObjectClass, number>>
  readonly objects: readonly SlideTruthObject[]
}

/** Light taken by a whole thickness of it, red, green, blue, natural logarithm. */
type Rgb = readonly [number, number, number]
type Outline = 'oval' | 'drop' | 'blunt' | 'boat' | 'needle' | 'disc' | 'thread' | 'rough' | 'bubble'
type Motion = 'still' | 'stuck' | 'runs' | 'glides' | 'spins' | 'circles' | 'wobbles' | 'turns' | 'creeps' | 'darts'

interface Thing {
  readonly class: ObjectClass | 'sand' | 'detritus' | 'air'
  readonly genus: string
  /** µm. */
  readonly length: number
  readonly width: number
  readonly outline: Outline
  readonly takes: Rgb
  /** Share of what it takes that lies at its rim. */
  readonly rim: number
  readonly groove: number | null
  /** Pale spot inside: where along the axis, from −1 to 1. */
  readonly pale: number | null
  /** How far from the plane of focus, as additional softness in px. */
  readonly soft: number
  readonly motion: Motion
  readonly speed: number
  readonly bend: readonly number[]
  readonly jelly: boolean
  /** Places and directions, frame by frame, µm in the water. */
  readonly path: { readonly x: number; readonly y: number; readonly angle: number; readonly full: boolean }[]
}
export interface SlideScene {
  readonly plan: SlidePlan
  readonly umPerPx: number
  readonly frames: number
  readonly things: readonly Thing[]
  /** Where the water stands in each frame, px; and the shake of the hand. */
  readonly drift: readonly { readonly x: number; readonly y: number }[]
  readonly shake: readonly { readonly x: number; readonly y: number }[]
  readonly blur: number
  readonly noise: number
  readonly light: Rgb
  readonly slope: readonly [number, number, number]
  readonly flicker: readonly number[]
  readonly circle: { readonly x: number; readonly y: number; readonly r: number } | null
  readonly coarse: number
}

const BROWNS: readonly Rgb[] = [
  [0.28, 0.52, 1.0],
  [0.35, 0.6, 1.05],
  [0.24, 0.44, 0.85],
]
const CLASS_LIST: readonly ObjectClass[] = ['diatom', 'dinoflagellate', 'cyanobacteria', 'green', 'ciliate', 'other']
const MOTIONS: Readonly<Record<string, Motion>> = {
  'amphidinium-small': 'runs',
  'amphidinium-large': 'glides',
  ostreopsis: 'spins',
  coolia: 'circles',
  prorocentrum: 'wobbles',
  'gambierdiscus-like': 'turns',
}

function cellOf(genus: string, chance: Chance, typical: number): Omit<Thing, 'path'> {
  const table = GENERA.find(({ id }) => id === genus)!
  // The cells of one field are alike: about one size of the range, a tenth of scatter.
  const [low, high] = table.length
  const length = Math.min(high, Math.max(low, (low + (high - low) * typical) * chance.normal(1, 0.07)))
  const aspect = Math.min(table.aspect[1], Math.max(table.aspect[0], chance.between(table.aspect[0], table.aspect[1])))
  const width = Math.min(length / aspect, Math.max(table.width[0], Math.min(table.width[1], length / aspect)))
  return {
    class: 'dinoflagellate',
    genus,
    length: Math.max(length, width),
    width: Math.min(length, width),
    outline: table.pointed ? 'drop' : table.lopsided ? 'blunt' : 'oval',
    takes: BROWNS[Math.floor(chance.next() * 3)]!,
    rim: 0.15,
    groove: genus === 'prorocentrum' ? null : chance.between(-0.5, 0.1),
    pale: genus === 'prorocentrum' ? 0 : chance.between(-0.2, 0.5),
    soft: Math.abs(chance.normal(0, 0.5)),
    motion: MOTIONS[genus] ?? 'runs',
    speed: chance.between(table.speed[0], table.speed[1]),
    bend: [],
    jelly: false,
  }
}
function diatomOf(chance: Chance): Omit<Thing, 'path'> {
  const disc = chance.happens(0.12)
  const needle = !disc && chance.happens(0.3)
  const length = disc ? chance.between(12, 34) : chance.between(18, 62)
  const clear = chance.happens(0.25)
  return {
    class: 'diatom',
    genus: 'diatom',
    length,
    width: disc
      ? length * chance.between(0.93, 1)
      : Math.max(3, length / chance.between(needle ? 5 : 2.5, needle ? 9 : 4)),
    outline: disc ? 'disc' : needle ? 'needle' : 'boat',
    takes: clear ? [0.3, 0.3, 0.34] : [0.3, 0.38, 0.62],
    rim: clear ? 0.75 : 0.35,
    groove: null,
    pale: null,
    soft: Math.abs(chance.normal(0, 0.4)),
    motion: chance.happens(0.45) ? 'creeps' : chance.happens(0.125) ? 'stuck' : 'still',
    speed: chance.between(3, 20),
    bend: [],
    jelly: false,
  }
}
function otherOf(kind: string, chance: Chance): Omit<Thing, 'path'> {
  const base = { groove: null, pale: null, soft: Math.abs(chance.normal(0, 0.4)), bend: [], jelly: false, speed: 0 }
  const lies = (): Motion => (chance.happens(0.125) ? 'stuck' : 'still')
  const round = (low: number, high: number) => {
    const length = chance.between(low, high)
    return { length, width: length * chance.between(0.9, 1) }
  }
  switch (kind) {
    case 'green':
      return {
        ...base,
        class: 'green',
        genus: 'green',
        ...round(7, 15),
        outline: 'oval',
        takes: [0.85, 0.25, 0.8],
        rim: 0.1,
        motion: lies(),
      }
    case 'zooxanthella-like':
      return {
        ...base,
        class: 'other',
        genus: kind,
        ...round(7, 13),
        outline: 'oval',
        takes: [0.4, 0.62, 1.0],
        rim: 0.25,
        motion: lies(),
      }
    case 'chrysophyte':
      return {
        ...base,
        class: 'other',
        genus: kind,
        ...round(6, 14),
        outline: 'oval',
        takes: [0.18, 0.34, 0.95],
        rim: 0.1,
        motion: lies(),
        jelly: true,
      }
    case 'ciliate':
      return {
        ...base,
        class: 'ciliate',
        genus: kind,
        length: chance.between(35, 80),
        width: chance.between(16, 30),
        outline: 'oval',
        takes: [0.3, 0.3, 0.33],
        rim: 0.5,
        motion: 'darts',
        speed: chance.between(420, 700),
      }
    case 'cyanobacterium':
      return {
        ...base,
        class: 'cyanobacteria',
        genus: kind,
        length: chance.between(90, 260),
        width: chance.between(4, 11),
        outline: 'thread',
        takes: chance.happens(0.6) ? [0.3, 0.75, 0.5] : [0.55, 0.65, 0.45],
        rim: 0.05,
        motion: chance.happens(0.5) ? 'creeps' : lies(),
        speed: chance.between(1, 10),
        bend: [chance.normal(0, 0.9), chance.normal(0, 0.7), chance.normal(0, 0.4)],
      }
    case 'sand':
      return {
        ...base,
        class: 'sand',
        genus: kind,
        length: chance.between(60, 150),
        width: chance.between(50, 100),
        outline: 'rough',
        takes: [0.7, 0.72, 0.76],
        rim: 0.4,
        motion: 'stuck',
        bend: [1, 2, 3, 4].map(() => chance.normal(0, 0.12)),
      }
    case 'air':
      return {
        ...base,
        class: 'air',
        genus: kind,
        ...round(40, 120),
        outline: 'bubble',
        takes: [1.6, 1.6, 1.6],
        rim: 1,
        motion: 'stuck',
      }
    default:
      return {
        ...base,
        class: 'detritus',
        genus: 'detritus',
        length: chance.between(10, 70),
        width: chance.between(8, 40),
        outline: 'rough',
        takes: [0.2, 0.23, 0.28],
        rim: 0,
        motion: lies(),
        bend: [1, 2, 3, 4].map(() => chance.normal(0, 0.28)),
      }
  }
}

/** Its way through the water: places in µm, directions, and whether it travels at full speed. */
function pathOf(
  thing: Omit<Thing, 'path'>,
  frames: number,
  fps: number,
  field: { w: number; h: number },
  chance: Chance,
): Thing['path'] {
  const path: Thing['path'] = []
  const fast = ['runs', 'spins', 'circles', 'darts', 'turns'].includes(thing.motion)
  const margin = fast ? 60 : 0
  let x = chance.between(-margin, field.w + margin)
  let y = chance.between(-margin, field.h + margin)
  let angle = chance.between(0, 2 * Math.PI)
  let rest = 0
  let phase = chance.between(0, 6.28)
  let way = 1
  let spin = chance.happens(0.5) ? 1 : -1
  let left = chance.between(0.4, 1.6)
  let mode: 'go' | 'stay' = chance.happens(0.7) ? 'go' : 'stay'
  const step = thing.speed / fps
  for (let f = 0; f < frames; f++) {
    let full = false
    left -= 1 / fps
    switch (thing.motion) {
      case 'still':
      case 'stuck':
        break
      case 'runs':
      case 'darts':
        if (left < 0) {
          mode = mode === 'go' && chance.happens(thing.motion === 'runs' ? 0.5 : 0.15) ? 'stay' : 'go'
          left = mode === 'go' ? chance.between(0.6, 2) : chance.between(0.2, 0.6)
          if (mode === 'go') angle += chance.normal(0, 0.8)
        }
        if (mode === 'go') {
          angle += chance.normal(0, 0.08)
          x += step * Math.cos(angle)
          y += step * Math.sin(angle)
          full = true
        }
        break
      case 'glides':
        angle += chance.normal(0, 0.1)
        x += step * Math.cos(angle)
        y += step * Math.sin(angle)
        phase += 5 / fps
        full = true
        break
      case 'spins':
        // About a point at its tip, as on a thread; then it lets go and darts.
        if (left < 0) {
          mode = mode === 'go' ? 'stay' : 'go'
          left = mode === 'go' ? chance.between(0.4, 1.2) : chance.between(0.8, 2)
          spin = chance.happens(0.5) ? 1 : -1
        }
        if (mode === 'stay') {
          const arm = 0.45 * thing.length
          const [tx, ty] = [x - arm * Math.cos(angle), y - arm * Math.sin(angle)]
          angle += (spin * 5) / fps
          x = tx + arm * Math.cos(angle)
          y = ty + arm * Math.sin(angle)
        } else {
          angle += chance.normal(0, 0.1)
          x += step * Math.cos(angle)
          y += step * Math.sin(angle)
          full = true
        }
        break
      case 'circles':
        angle += (spin * 2.2) / fps
        x += step * Math.cos(angle)
        y += step * Math.sin(angle)
        full = true
        break
      case 'turns':
        angle += (spin * 0.7) / fps
        x += step * Math.cos(angle)
        y += step * Math.sin(angle)
        full = true
        break
      case 'wobbles':
        phase += 7 / fps
        angle += chance.normal(0, 0.12) + (0.25 * Math.cos(phase)) / 2
        x += step * Math.cos(angle)
        y += step * Math.sin(angle)
        full = true
        break
      case 'creeps':
        if (left < 0) {
          rest = chance.happens(0.2) ? 1 : 0
          way = chance.happens(0.35) ? -way : way
          left = chance.between(1, 3)
        }
        if (rest === 0) {
          x += way * step * Math.cos(angle)
          y += way * step * Math.sin(angle)
          full = true
        }
        break
    }
    const wag = thing.motion === 'glides' ? 0.12 * Math.sin(phase) : 0
    path.push({ x, y, angle: angle + wag, full })
  }
  return path
}

/** A field and everything in it, from a seed. */
export function slideScene(plan: SlidePlan): SlideScene {
  const chance = chanceFrom(plan.seed * 7919 + 17)
  const { width, height, fps, level } = plan
  const frames = Math.max(1, Math.round(plan.seconds * fps))
  const hard = level === 'hard'
  const genera = plan.genera ?? drawnGenera(chance, (width * height) / (320 * 240))
  const largest = Object.keys(genera).some((id) => id === 'gambierdiscus-like')
  const umPerPx = plan.umPerPx ?? (largest ? chance.between(1.3, 1.7) : chance.between(0.9, 1.3))
  const field = { w: width * umPerPx, h: height * umPerPx }
  const roomy = (field.w * field.h) / (370 * 276)
  const things: Thing[] = []
  const put = (thing: Omit<Thing, 'path'>) => things.push({ ...thing, path: pathOf(thing, frames, fps, field, chance) })
  for (const [id, n] of Object.entries(genera)) {
    const typical = chance.between(0.25, 0.75)
    for (let k = 0; k < n; k++) put(cellOf(id, chance, typical))
  }
  const some = (mean: number) => Math.max(0, Math.round(chance.normal(mean, Math.sqrt(mean)) * Math.min(2, roomy)))
  for (let k = some(9); k > 0; k--) put(diatomOf(chance))
  for (let k = some(1.2); k > 0; k--) put(otherOf('green', chance))
  for (let k = some(2); k > 0; k--) put(otherOf('zooxanthella-like', chance))
  for (let k = some(2); k > 0; k--) put(otherOf('chrysophyte', chance))
  for (let k = some(1); k > 0; k--) put(otherOf('cyanobacterium', chance))
  if (chance.happens(0.25)) put(otherOf('ciliate', chance))
  if (level !== 'clean') {
    for (let k = some(3); k > 0; k--) put(otherOf('detritus', chance))
    if (chance.happens(0.4)) put(otherOf('sand', chance))
    if (chance.happens(0.25)) put(otherOf('air', chance))
  }
  const fault = plan.fault
  const driftSpeed = (fault === 'drift' ? chance.between(18, 30) : chance.between(0, hard ? 14 : 6)) / umPerPx / fps
  const driftWay = chance.between(0, 6.28)
  const shaky = fault === 'shake' ? 2.5 : hard ? 1.2 : level === 'usual' ? 0.4 : 0
  let [sx, sy] = [0, 0]
  const shake = Array.from({ length: frames }, () => {
    sx = 0.6 * sx + chance.normal(0, shaky)
    sy = 0.6 * sy + chance.normal(0, shaky)
    return { x: sx, y: sy }
  })
  const dim = fault === 'half-light' || (hard && chance.happens(0.5)) ? 0.5 : 1
  return {
    plan,
    umPerPx,
    frames,
    things,
    drift: Array.from({ length: frames }, (_, f) => ({
      x: driftSpeed * f * Math.cos(driftWay),
      y: driftSpeed * f * Math.sin(driftWay),
    })),
    shake,
    blur: fault === 'blur' ? 2.4 : hard ? chance.between(0.8, 1.8) : level === 'usual' ? chance.between(0.3, 0.9) : 0.3,
    noise: (hard ? 5 : level === 'usual' ? 2.5 : 1) * (dim < 1 ? 1.3 : 1),
    light: [212 * dim, 206 * dim, 190 * dim * chance.between(0.9, 1.05)],
    slope: [chance.normal(0, 0.08), chance.normal(0, 0.08), chance.between(0.02, hard ? 0.3 : 0.15)],
    flicker: Array.from(
      { length: frames },
      () => 1 + chance.normal(0, fault === 'flicker' ? 0.08 : hard ? 0.02 : 0.005),
    ),
    circle:
      (plan.round ?? (level !== 'clean' && chance.happens(0.3)))
        ? {
            x: width * chance.between(0.48, 0.52),
            y: height * chance.between(0.47, 0.53),
            r: Math.min(width, height) * chance.between(0.5, 0.58),
          }
        : null,
    coarse: hard ? 10 : level === 'usual' ? 5 : 0,
  }
}

/** One genus mostly, two often, sometimes none; as many as a keeper's film shows. */
function drawnGenera(chance: Chance, roomy: number): Readonly<Record<string, number>> {
  const kinds = GENERA.map(({ id }) => id)
  const first = kinds[Math.floor(chance.next() * kinds.length)]!
  const few = first === 'gambierdiscus-like' ? 0.5 : 1
  const n = Math.max(3, Math.round(chance.between(8, 26) * few * roomy))
  if (chance.happens(0.06)) return {}
  if (chance.happens(0.6)) return { [first]: n }
  let second = first
  while (second === first) second = kinds[Math.floor(chance.next() * kinds.length)]!
  return {
    [first]: n,
    [second]: Math.max(1, Math.round(n * (chance.happens(0.25) ? chance.between(0.86, 1) : chance.between(0.1, 0.6)))),
  }
}

/** How far inside of its outline a point lies, in its own measure: above 0 inside. u along, v across, in µm from its middle. */
function insideOf(thing: Thing, u: number, v: number): number {
  const a = thing.length / 2
  const b = thing.width / 2
  switch (thing.outline) {
    case 'thread': {
      if (Math.abs(u) > a) return b - Math.hypot(Math.abs(u) - a, v - middleAt(thing, Math.sign(u) * a))
      return b - Math.abs(v - middleAt(thing, u))
    }
    case 'boat':
    case 'needle': {
      if (Math.abs(u) >= a) return -Math.hypot(Math.abs(u) - a, v)
      const t = u / a
      return b * (thing.outline === 'boat' ? 1 - t * t : Math.min(1, 3 * (1 - Math.abs(t)))) - Math.abs(v)
    }
    case 'blunt':
    case 'drop': {
      if (Math.abs(u) >= a) return -Math.hypot(Math.abs(u) - a, v)
      const t = u / a
      // Round behind, drawn out to a point in front; its widest place is b.
      const half = b * Math.sqrt(1 - t * t) * (thing.outline === 'blunt' ? 1 - 0.22 * t : t > 0 ? 1 - 0.55 * t : 1)
      return half - Math.abs(v)
    }
    case 'rough': {
      const r = Math.hypot(u / a, v / b)
      const t = Math.atan2(v / b, u / a)
      const edge = 1 + thing.bend.reduce((sum, one, k) => sum + one * Math.cos((k + 2) * t + 3 * one * (k + 1)), 0)
      return (Math.max(0.3, edge) - r) * Math.min(a, b)
    }
    default: {
      const r = Math.hypot(u / a, v / b)
      const grade = Math.hypot(u / (a * a), v / (b * b)) / Math.max(r, 1e-6)
      return (1 - r) / Math.max(grade, 1e-6)
    }
  }
}
const middleAt = ({ bend, length }: Thing, u: number): number => {
  const t = (2 * u) / length
  return (
    0.12 *
    length *
    ((bend[0] ?? 0) * (t * t - 0.3) + (bend[1] ?? 0) * Math.sin(2 * t) * 0.5 + (bend[2] ?? 0) * Math.cos(4 * t) * 0.25)
  )
}

/** Where a thing lies in a frame, px. */
function placeOf(scene: SlideScene, thing: Thing, frame: number): { x: number; y: number; angle: number } {
  const at = thing.path[frame]!
  const { drift, shake, umPerPx } = scene
  const carried = thing.motion === 'stuck' ? { x: 0, y: 0 } : drift[frame]!
  return {
    x: at.x / umPerPx + carried.x + shake[frame]!.x,
    y: at.y / umPerPx + carried.y + shake[frame]!.y,
    angle: at.angle,
  }
}

/** One frame of a scene as a picture. */
export function slideFrame(scene: SlideScene, frame: number): Drawn {
  const { plan, umPerPx, blur, light, slope, circle, noise, coarse, flicker } = scene
  const { width, height, seed } = plan
  const n = width * height
  const taken = [new Float32Array(n), new Float32Array(n), new Float32Array(n)]
  for (const thing of scene.things) {
    const at = placeOf(scene, thing, frame)
    const soft = (0.8 + blur + thing.soft) * umPerPx
    const halo = thing.jelly ? 5 : 0
    const reach =
      (0.5 * Math.hypot(thing.length, thing.width * (thing.outline === 'rough' ? 1.6 : 1)) * 1.25 + halo) / umPerPx +
      3 * blur +
      3
    const [c, s] = [Math.cos(at.angle), Math.sin(at.angle)]
    const [x0, x1] = [Math.max(0, Math.floor(at.x - reach)), Math.min(width - 1, Math.ceil(at.x + reach))]
    const [y0, y1] = [Math.max(0, Math.floor(at.y - reach)), Math.min(height - 1, Math.ceil(at.y + reach))]
    for (let y = y0; y <= y1; y++)
      for (let x = x0; x <= x1; x++) {
        const dx = (x - at.x) * umPerPx
        const dy = (y - at.y) * umPerPx
        const u = dx * c + dy * s
        const v = -dx * s + dy * c
        const deep = insideOf(thing, u, v)
        const cover = 1 / (1 + Math.exp((-4 * deep) / soft))
        if (cover < 0.01 && !thing.jelly) continue
        // Thicker in the middle, with a rim; a groove and a pale spot where it has them.
        const b = thing.width / 2
        const body = Math.sqrt(Math.max(0, Math.min(1, (deep + soft) / b)))
        const rim = Math.exp(-(((deep - 0.6) / (0.9 + soft)) ** 2))
        let dark = thing.rim * rim + (1 - thing.rim) * (0.45 + 0.55 * body)
        if (thing.outline === 'bubble') dark = rim
        if (thing.groove !== null)
          dark *= 1 - 0.35 * Math.exp(-(((u - (thing.groove * thing.length) / 2) / (1 + soft)) ** 2))
        if (thing.pale !== null)
          dark *=
            1 -
            0.3 * Math.exp(-((Math.hypot(u - (thing.pale * thing.length) / 2, v) / (0.16 * thing.length + soft)) ** 2))
        const i = y * width + x
        for (let k = 0; k < 3; k++) taken[k]![i]! += cover * dark * thing.takes[k]!
        if (thing.jelly && deep < 0) {
          const ring = 0.05 * Math.exp(-(((deep + 4) / 1.2) ** 2))
          for (let k = 0; k < 3; k++) taken[k]![i]! += ring
        }
      }
  }
  const grain = chanceFrom(seed * 104_729 + frame * 31 + 5)
  const data = new Uint8ClampedArray(3 * n)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x
      const [ex, ey] = [(2 * x) / width - 1, (2 * y) / height - 1]
      let fall = (1 + slope[0] * ex + slope[1] * ey) * (1 - slope[2] * (ex * ex + ey * ey)) * flicker[frame]!
      if (circle) fall *= 0.03 + 0.97 / (1 + Math.exp((Math.hypot(x - circle.x, y - circle.y) - circle.r) / 1.5))
      for (let k = 0; k < 3; k++) {
        const dark = taken[k]![i]!
        const bright = light[k]! * fall * (dark > 0 ? Math.exp(-dark) : 1)
        // Typed bytes round and hold to 0 to 255 by themselves.
        data[3 * i + k] = bright + noise * 2.4 * (grain.next() + grain.next() - 1)
      }
    }
  if (coarse > 0) coded(data, width, height, coarse)
  return { width, height, channels: 3, data }
}

const COSINES = Float64Array.from({ length: 64 }, (_, i) => {
  const [k, x] = [i >> 3, i & 7]
  return (k === 0 ? Math.SQRT1_2 : 1) * 0.5 * Math.cos(((2 * x + 1) * k * Math.PI) / 16)
})
/** What coding by blocks of eight leaves of a picture: fine detail in coarse steps. */
function coded(data: Uint8ClampedArray, width: number, height: number, coarse: number): void {
  const block = new Float64Array(64)
  const half = new Float64Array(64)
  for (let by = 0; by + 8 <= height; by += 8)
    for (let bx = 0; bx + 8 <= width; bx += 8)
      for (let c = 0; c < 3; c++) {
        for (let y = 0; y < 8; y++)
          for (let x = 0; x < 8; x++) block[y * 8 + x] = data[((by + y) * width + bx + x) * 3 + c]! - 128
        for (let y = 0; y < 8; y++)
          for (let k = 0; k < 8; k++) {
            let sum = 0
            for (let x = 0; x < 8; x++) sum += block[y * 8 + x]! * COSINES[k * 8 + x]!
            half[y * 8 + k] = sum
          }
        for (let k = 0; k < 8; k++)
          for (let j = 0; j < 8; j++) {
            let sum = 0
            for (let y = 0; y < 8; y++) sum += half[y * 8 + k]! * COSINES[j * 8 + y]!
            const step = coarse * (1 + 0.35 * (j + k))
            block[j * 8 + k] = Math.round(sum / step) * step
          }
        for (let j = 0; j < 8; j++)
          for (let x = 0; x < 8; x++) {
            let sum = 0
            for (let k = 0; k < 8; k++) sum += block[j * 8 + k]! * COSINES[k * 8 + x]!
            half[j * 8 + x] = sum
          }
        for (let y = 0; y < 8; y++)
          for (let x = 0; x < 8; x++) {
            let sum = 0
            for (let j = 0; j < 8; j++) sum += half[j * 8 + x]! * COSINES[j * 8 + y]!
            data[((by + y) * width + bx + x) * 3 + c] = sum + 128
          }
      }
}

/** A frame shows a thing with this much of it inside. @source shared rule of the clips */
const SHOWN = 0.6
const SHOWN_FRAMES = 5

/** Whether a frame shows a thing: its middle and most of it inside of the picture, and under no sand or air. */
function isShown(scene: SlideScene, thing: Thing, frame: number): boolean {
  const { plan, circle, umPerPx } = scene
  const at = placeOf(scene, thing, frame)
  const [c, s] = [Math.cos(at.angle), Math.sin(at.angle)]
  const covers = scene.things.filter((one) => (one.class === 'sand' || one.class === 'air') && one !== thing)
  const seen = (x: number, y: number) =>
    x >= 0 &&
    y >= 0 &&
    x <= plan.width - 1 &&
    y <= plan.height - 1 &&
    (circle === null || Math.hypot(x - circle.x, y - circle.y) <= circle.r) &&
    covers.every((cover) => {
      const over = placeOf(scene, cover, frame)
      const [dx, dy] = [(x - over.x) * umPerPx, (y - over.y) * umPerPx]
      const [oc, os] = [Math.cos(over.angle), Math.sin(over.angle)]
      return insideOf(cover, dx * oc + dy * os, -dx * os + dy * oc) < 0
    })
  if (!seen(at.x, at.y)) return false
  let [all, inside] = [0, 0]
  for (let i = -4; i <= 4; i++)
    for (let j = -3; j <= 3; j++) {
      const u = (i / 8.5) * thing.length
      const v = (j / 7) * thing.width + (thing.outline === 'thread' ? middleAt(thing, u) : 0)
      if (thing.outline !== 'thread' && insideOf(thing, u, v) < 0) continue
      all++
      if (seen(at.x + (u * c - v * s) / umPerPx, at.y + (u * s + v * c) / umPerPx)) inside++
    }
  return inside >= SHOWN * all
}

/** What a clip of the scene holds, by the rule that a keeper's count follows. */
export function slideTruth(scene: SlideScene): SlideTruth {
  const { frames, plan, umPerPx } = scene
  const objects: SlideTruthObject[] = []
  const perFrame = Object.fromEntries(CLASS_LIST.map((name) => [name, 0])) as Record<ObjectClass, number>
  for (const thing of scene.things) {
    if (thing.class === 'sand' || thing.class === 'air' || thing.class === 'detritus') continue
    const shown = Array.from({ length: frames }, (_, f) => isShown(scene, thing, f))
    // Away for a second or longer, it counts again when it comes back.
    let stay: number[] = []
    const stays: number[][] = [stay]
    for (let f = 0; f < frames; f++) {
      if (!shown[f]) continue
      if (stay.length > 0 && f - stay.at(-1)! - 1 >= plan.fps) stays.push((stay = []))
      stay.push(f)
    }
    for (const one of stays) {
      if (one.length < SHOWN_FRAMES) continue
      const kind = thing.class
      perFrame[kind] += one.length / frames
      const xs = one.map((f) => thing.path[f]!.x)
      const ys = one.map((f) => thing.path[f]!.y)
      const span = Math.hypot(Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys))
      const angles = one.map((f) => thing.path[f]!.angle)
      const turned = Math.max(...angles) - Math.min(...angles)
      const moving = span >= Math.max(3, 1.5 * umPerPx) || turned >= 0.5
      const steps = (which: (f: number) => boolean) =>
        one
          .filter((f) => f > 0 && one.includes(f - 1) && which(f))
          .map(
            (f) =>
              Math.hypot(thing.path[f]!.x - thing.path[f - 1]!.x, thing.path[f]!.y - thing.path[f - 1]!.y) * plan.fps,
          )
          .sort((a, b) => a - b)
      const full = steps((f) => thing.path[f]!.full)
      const speeds = full.length > 0 ? full : steps(() => true)
      objects.push({
        class: kind,
        genus: thing.genus,
        lengthUm: thing.length,
        widthUm: thing.width,
        moving,
        speedUmPerS: moving ? (speeds[speeds.length >> 1] ?? 0) : 0,
        framesVisible: one.length,
      })
    }
  }
  const counts = Object.fromEntries(
    CLASS_LIST.map((name) => [name, objects.filter((one) => one.class === name).length]),
  ) as Record<ObjectClass, number>
  const genera: Record<string, number> = {}
  for (const one of objects) if (one.class === 'dinoflagellate') genera[one.genus] = (genera[one.genus] ?? 0) + 1
  const [first, second] = Object.entries(genera).sort((a, b) => b[1] - a[1])
  return {
    counts,
    genera,
    leading: first !== undefined && (second === undefined || second[1] < 0.85 * first[1]) ? first[0] : null,
    perFrame,
    objects,
  }
}
