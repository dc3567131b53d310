// A clip of a slide: what lies in it, what moves by itself, how long it is and which it may be. Pure; frame by frame.
import { bodiesOf, takenOf, type Body } from './bodies.ts'
import { channelsOf, middleOf, rank, type Picture } from './frame.ts'
import { fieldOf, type Field } from './light.ts'
import {
  driftOf,
  flowOf,
  secondGround,
  sewn,
  stillsOf,
  tracksOf,
  wholeStills,
  type Drift,
  type Track,
} from './track.ts'
import { GENERA, OBJECTS, type ObjectClass } from './genera.ts'

export interface ClipMeta {
  readonly umPerPx: number
  readonly fps: number
}
export interface SlideObject {
  readonly class: ObjectClass
  /** Genus or kind, where the class has several. */
  readonly genus: string
  /** How sure the genus is among the dinoflagellates, 0 to 1; 1 elsewhere. */
  readonly sure: number
  readonly lengthUm: number
  readonly widthUm: number
  readonly moving: boolean
  readonly speedUmPerS: number
  /** Turning of its long axis a second, radians. */
  readonly turning: number
  /** Steady turning of its way a second, radians, to one side: high in circles, near nothing in straight runs. */
  readonly circling: number
  readonly framesVisible: number
  /** Where it was, frame by frame, px of the picture. */
  readonly path: readonly { readonly frame: number; readonly x: number; readonly y: number; readonly angle: number }[]
}
export interface SlideAnswer {
  readonly objects: readonly SlideObject[]
  readonly counts: Readonly<Record<ObjectClass, number>>
  readonly perFrame: Readonly<Record<ObjectClass, number>>
  readonly genera: Readonly<Record<string, number>>
  /** The genus of most dinoflagellates; null where there is none, or where it cannot be told. */
  readonly leading: string | null
  /** Chance that the leading one is right, 0 to 1. */
  readonly chance: number
  /** Why it cannot be told, in words; null where it can. */
  readonly doubt: string | null
  readonly round: boolean
  /** What is wrong with the clip, and what to do: a clear sentence each. */
  readonly faults: readonly string[]
}

/** Frames of which the empty light is taken. */
const LIGHT_FRAMES = 12
/** An object counts with so many frames in sight. */
const LEAST_FRAMES = 5
/** Shorter than this nothing is looked at, µm. */
const LEAST_UM = 4

/** Gathers a clip frame by frame: the light first, from some of them, then each in turn. */
export class SlideReader {
  private readonly field: Field
  private readonly frames: Body[][] = []
  private readonly lamps: number[] = []
  constructor(
    some: readonly Picture[],
    private readonly meta: ClipMeta,
  ) {
    const step = Math.max(1, Math.ceil(some.length / LIGHT_FRAMES))
    this.field = fieldOf(some.filter((_, i) => i % step === 0).map(channelsOf))
  }
  add(picture: Picture): readonly Body[] {
    const least = Math.max(6, (Math.PI / 4) * (LEAST_UM / this.meta.umPerPx) ** 2 * 0.6)
    const taken = takenOf(picture, this.field)
    const bodies = bodiesOf(taken, this.field, least)
    this.frames.push(bodies)
    this.lamps.push(taken.lamp)
    return bodies
  }
  /** @param fps frames a second, where that is known only now */
  answer(fps = this.meta.fps): SlideAnswer {
    const meta = { ...this.meta, fps }
    const answer = judge(this.frames, this.field, meta)
    return { ...answer, faults: faultsOf(this.frames, this.lamps, this.field, meta, answer) }
  }
}

/** A whole clip in one go. */
export function analyseClip(pictures: readonly Picture[], meta: ClipMeta): SlideAnswer {
  const reader = new SlideReader(pictures, meta)
  for (const picture of pictures) reader.add(picture)
  return reader.answer()
}

/** What a body looks like over its path: the middle of what is whole, in µm. */
interface Look {
  readonly length: number
  readonly width: number
  readonly aspect: number
  readonly skew: number
  readonly skewDoubt: number
  readonly fill: number
  readonly solid: number
  readonly red: number
  readonly green: number
  readonly blue: number
  readonly rim: number
  readonly uneven: number
  readonly thick: number
  readonly sharp: number
}

function lookOf(track: Track, umPerPx: number): Look {
  const whole = track.spots.filter(({ body }) => !body.cut)
  const spots = whole.length > 0 ? whole : track.spots
  // Where it lay on something else it looked larger: the smaller half of its areas is what it is.
  const areas = spots.map(({ body }) => body.area)
  const usual = rank([...areas], 0.3)
  const clean = spots.filter(({ body }) => body.area <= 1.25 * usual && body.area >= 0.75 * usual)
  const used = clean.length > 0 ? clean : spots
  const of = (pick: (body: Body) => number) => middleOf(used.map(({ body }) => pick(body)))
  // Noise makes an even outline lopsided now this way, now that: what changes from frame to frame is taken off.
  const lopsided = of((b) => Math.abs(b.skew))
  const flicker = 1.48 * of((b) => Math.abs(Math.abs(b.skew) - lopsided))
  return {
    length: of((b) => b.length) * umPerPx,
    width: of((b) => b.width) * umPerPx,
    aspect: of((b) => b.length / b.width),
    skew: Math.sqrt(Math.max(0, lopsided ** 2 - flicker ** 2)),
    skewDoubt: flicker,
    fill: of((b) => b.fill),
    solid: of((b) => b.solid),
    red: of((b) => b.red),
    green: of((b) => b.green),
    blue: of((b) => b.blue),
    rim: of((b) => b.rim),
    uneven: of((b) => b.uneven),
    thick: of((b) => b.thick) * umPerPx,
    sharp: of((b) => b.sharp),
  }
}

/** How it moved by itself, the drift taken out. */
interface Motion {
  readonly moving: boolean
  readonly speed: number
  readonly span: number
  readonly turning: number
  /** Whether its long axis was seen in enough frames to say how it turns. */
  readonly turns: boolean
  readonly circling: number
}

/** A ground beside the first: what it goes by, px a frame. */
interface Ground {
  readonly vx: number
  readonly vy: number
}
const onGround = (track: Track, { vx, vy }: Ground): Track =>
  vx === 0 && vy === 0
    ? track
    : { spots: track.spots.map((spot) => ({ ...spot, x: spot.x - vx * spot.frame, y: spot.y - vy * spot.frame })) }

function motionOf(track: Track, { fps, umPerPx }: ClipMeta): Motion {
  const { spots } = track
  const steps: number[] = []
  let turned = 0
  let turnedN = 0
  for (let i = 1; i < spots.length; i++) {
    const [a, b] = [spots[i - 1]!, spots[i]!]
    const gap = b.frame - a.frame
    if (gap > 2 || a.body.cut || b.body.cut) continue
    steps.push((Math.hypot(b.x - a.x, b.y - a.y) / gap) * umPerPx * fps)
    if (a.body.length > 1.25 * a.body.width && b.body.length > 1.25 * b.body.width) {
      const difference = Math.abs(a.body.angle - b.body.angle)
      turned += Math.min(difference, Math.PI - difference) / gap
      turnedN++
    }
  }
  const whole = spots.filter(({ body }) => !body.cut)
  // Where something lay on it, its middle was that of both.
  const usual = rank(
    whole.map(({ body }) => body.area),
    0.4,
  )
  const clean = whole.filter(({ body }) => body.area <= 1.25 * usual && body.area >= 0.75 * usual)
  const used = clean.length >= 3 ? clean : whole.length >= 3 ? whole : spots
  // Its reach by itself: the middle of its first and of its last places, and the widest between, odd ones left out.
  const smooth = (values: readonly number[]) =>
    values.map((value, i) => middleOf([values[i - 1] ?? value, value, values[i + 1] ?? value]))
  const [rawX, rawY] = [used.map(({ x }) => x), used.map(({ y }) => y)]
  const [xs, ys] = [smooth(rawX), smooth(rawY)]
  // What is left of a hand's shake and of an outline that flickers spans something too.
  const flicker = middleOf(rawX.map((value, i) => Math.hypot(value - xs[i]!, rawY[i]! - ys[i]!))) * umPerPx
  const span =
    Math.hypot(rank([...xs], 0.95) - rank([...xs], 0.05), rank([...ys], 0.95) - rank([...ys], 0.05)) * umPerPx
  const noise = Math.max(1.5 * umPerPx, 3) + 3 * flicker
  const fast = steps.filter((one) => one > 0.5 * rank([...steps], 0.9))
  const speed = steps.length === 0 ? 0 : middleOf(fast.length > 2 ? fast : steps)
  return {
    moving: span > noise,
    speed,
    span,
    turning: turnedN === 0 ? 0 : (turned / turnedN) * fps,
    turns: turnedN >= 4,
    circling: circlingOf(spots, fps),
  }
}

/** Fewer frames than this tell nothing of what moves. */
const FEWEST_FRAMES = 5
/** Coarser than this a small cell is a few pixels, µm a pixel. */
const COARSEST = 2.4
/** Softer than this an outline is a guess, darkness a px at the middle of the bodies. */
const SOFTEST = 0.02
/** Bodies over more of the picture than this lie on one another. EST */
const FULL = 0.22
/** A lamp that changes by more from frame to frame flickers, share. */
const FLICKER = 0.04

/** What is wrong with a clip as a clip: told in words, beside whatever was found all the same. */
function faultsOf(
  frames: readonly (readonly Body[])[],
  lamps: readonly number[],
  field: Field,
  { umPerPx }: ClipMeta,
  answer: Omit<SlideAnswer, 'faults'>,
): string[] {
  const found: string[] = []
  if (frames.length < FEWEST_FRAMES)
    found.push(
      `Only ${frames.length === 1 ? 'one picture' : `${frames.length} pictures`}: what moves cannot be told. Film for five seconds or more.`,
    )
  if (umPerPx > COARSEST)
    found.push(
      `A pixel is ${umPerPx.toFixed(1)} µm: small cells are a few pixels here. Four hundred times, and the phone close to the eyepiece.`,
    )
  const bodies = frames.flatMap((one) => one)
  if (answer.objects.length === 0)
    found.push('Nothing like a cell was found. Is it the slide, in focus and lit from below?')
  else if (middleOf(bodies.map(({ sharp }) => sharp)) < SOFTEST)
    found.push('Out of focus: outlines are soft. Focus on one cell, then film.')
  const covered = middleOf(frames.map((one) => one.reduce((sum, { area }) => sum + area, 0)))
  if (covered > FULL * field.mask.reduce((sum, one) => sum + one, 0))
    found.push('The drop is full: bodies lie on one another and hide their outlines. Thin it with tank water.')
  const middle = middleOf(lamps)
  if (lamps.length > 4 && middleOf(lamps.map((one) => Math.abs(one - middle))) > FLICKER)
    found.push('The lamp flickers. It was taken out of the measures; a lamp on mains current or daylight does not.')
  return found
}

/**
 * Bodies that rest on the ground, on the glass where that stands still while the water flows, or on whatever else several
 * of them are carried by; and all the others.
 */
function restingOf(frames: readonly (readonly Body[])[], drift: Drift, { fps, umPerPx }: ClipMeta) {
  let { still, rest } = stillsOf(frames, drift.dx, drift.dy)
  const on = (vx: number, vy: number) => {
    const more = stillsOf(
      rest,
      drift.dx.map((dx, f) => dx + vx * f),
      drift.dy.map((dy, f) => dy + vy * f),
    )
    still = [...still, ...more.still]
    rest = more.rest
  }
  const grounds: Ground[] = [{ vx: 0, vy: 0 }]
  const flow = flowOf(drift)
  if (Math.hypot(flow.vx, flow.vy) * frames.length > LEAST_FLOW) grounds.push({ vx: -flow.vx, vy: -flow.vy })
  const second = secondGround([...still, ...tracksOf(rest, drift, fps, umPerPx)], frames.length)
  if (second !== null) grounds.push(second)
  for (const { vx, vy } of grounds.slice(1)) on(vx, vy)
  return { still, rest, grounds }
}
/** The ground goes further than this over the clip where it flows at all, px. */
const LEAST_FLOW = 2.5

function judge(frames: readonly (readonly Body[])[], field: Field, meta: ClipMeta): Omit<SlideAnswer, 'faults'> {
  const drift = driftOf(frames, meta.umPerPx)
  const { still, rest, grounds } = restingOf(frames, drift, meta)
  const found = wholeStills(still, tracksOf(rest, drift, meta.fps, meta.umPerPx))
  const tracks = sewn([...found.still, ...found.rest], meta.fps, meta.umPerPx)
  const need = Math.min(LEAST_FRAMES, Math.max(1, Math.floor(0.6 * frames.length)))
  const objects: SlideObject[] = []
  const cells: { readonly at: number; readonly fits: readonly number[] }[] = []
  for (const track of joined(resewn(tracks))) {
    // Less than sixty per cent in sight is not shown: what the edge cuts counts only with its middle well inside.
    const shown = track.spots.filter(({ body }) => body.shown)
    if (shown.length < need) continue
    const look = lookOf(track, meta.umPerPx)
    // What goes with one of the grounds goes nowhere by itself.
    const motion = grounds
      .map((ground) => motionOf(onGround(track, ground), meta))
      .reduce((least, one) => (one.span < least.span ? one : least))
    const named = nameOf(look, motion, shown.length / meta.fps)
    if (named === null) continue
    const { fits: cell, ...kind } = named
    if (cell) cells.push({ at: objects.length, fits: cell })
    objects.push({
      ...kind,
      lengthUm: look.length,
      widthUm: look.width,
      moving: motion.moving,
      speedUmPerS: motion.moving ? motion.speed : 0,
      turning: motion.turning,
      framesVisible: shown.length,
      circling: motion.circling,
      path: track.spots.map(({ frame, body }) => ({ frame, x: body.x, y: body.y, angle: body.angle })),
    })
  }
  const mixed = mixedOf(cells.map((one) => one.fits))
  cells.forEach(({ at }, i) => {
    const { genus, sure } = mixed.of[i]!
    objects[at] = { ...objects[at]!, genus: GENERA[genus]!.id, sure }
  })
  return summed(objects, frames.length, field.round, apartOf(cells, objects))
}

/** Mean change of direction from step to step, to one side, radians a second; steps too short to have one left out. */
function circlingOf(spots: Track['spots'], fps: number): number {
  let [sum, count] = [0, 0]
  let before: number | null = null
  for (let i = 1; i < spots.length; i++) {
    const [dx, dy] = [spots[i]!.x - spots[i - 1]!.x, spots[i]!.y - spots[i - 1]!.y]
    if (spots[i]!.frame - spots[i - 1]!.frame !== 1 || Math.hypot(dx, dy) < 2) {
      before = null
      continue
    }
    const way = Math.atan2(dy, dx)
    if (before !== null) {
      sum += Math.atan2(Math.sin(way - before), Math.cos(way - before))
      count++
    }
    before = way
  }
  return count < 3 ? 0 : (Math.abs(sum) / count) * fps
}

/** Pigment: how much more blue than red it takes, share of the blue. Clear things take both alike. */
const pigmentOf = ({ red, blue }: Look): number => (blue - red) / Math.max(0.03, blue)
/** Less pigment than this is none: shells, sand, air and detritus. */
const CLEAR = 0.3
/** From this on a still body of a size is a cell and not a shell. */
const BROWN = 0.48

/** Reach of a path, px: a body that lies on the ground goes nowhere. */
const reachOf = ({ spots }: Track): number =>
  Math.hypot(
    rank(
      spots.map(({ x }) => x),
      0.9,
    ) -
      rank(
        spots.map(({ x }) => x),
        0.1,
      ),
    rank(
      spots.map(({ y }) => y),
      0.9,
    ) -
      rank(
        spots.map(({ y }) => y),
        0.1,
      ),
  )
/** Paths of bodies that lie still and were hidden for a while by what swam over them: one body each. */
function resewn(tracks: readonly Track[]): readonly Track[] {
  const still = tracks.filter((track) => reachOf(track) < 4).sort((a, b) => a.spots[0]!.frame - b.spots[0]!.frame)
  const out: Track[] = tracks.filter((track) => reachOf(track) >= 4)
  const open: Track[] = []
  for (const track of still) {
    const first = track.spots[0]!
    const before = open.find((one) => {
      const last = one.spots.at(-1)!
      if (last.frame >= first.frame) return false
      const [a, b] = [last.body, first.body]
      return (
        Math.hypot(last.x - first.x, last.y - first.y) < Math.max(3, 0.35 * Math.max(a.width, b.width)) &&
        Math.abs(Math.log(a.area / b.area)) < 0.6 &&
        Math.abs(a.blue - b.blue) < 0.2
      )
    })
    if (before) before.spots.push(...track.spots)
    else open.push({ spots: [...track.spots] })
  }
  return [...out, ...open]
}

/** Two pieces of one stiff body: as far apart as ever, in one line, end to end. The clear middle of a diatom parts it. */
function joined(tracks: readonly Track[]): readonly Track[] {
  const out: Track[] = []
  const used = new Set<Track>()
  for (const one of tracks) {
    if (used.has(one)) continue
    used.add(one)
    let spots = one.spots
    for (const other of tracks) {
      if (used.has(other)) continue
      const both = other.spots.flatMap((b) => {
        const a = spots.find(({ frame }) => frame === b.frame)
        return a ? [{ a, b }] : []
      })
      if (both.length < 3 || both.length < 0.6 * Math.min(spots.length, other.spots.length)) continue
      const good = both.filter(({ a: { body: a }, b: { body: b } }) => {
        const [dx, dy] = [b.x - a.x, b.y - a.y]
        const far = Math.hypot(dx, dy)
        const line = Math.atan2(dy, dx)
        const off = (angle: number) => {
          const difference = Math.abs(((line - angle) % Math.PI) + Math.PI) % Math.PI
          return Math.min(difference, Math.PI - difference)
        }
        const long = a.length > 1.3 * a.width && b.length > 1.3 * b.width
        const alike = Math.max(a.width, b.width) < 1.7 * Math.min(a.width, b.width)
        return (
          long &&
          alike &&
          off(a.angle) < 0.25 &&
          off(b.angle) < 0.25 &&
          far < 0.75 * (a.length + b.length) &&
          far > 0.35 * (a.length + b.length)
        )
      })
      if (good.length < 0.6 * both.length) continue
      const fars = good.map(({ a, b }) => Math.hypot(b.body.x - a.body.x, b.body.y - a.body.y))
      if (rank([...fars], 0.9) - rank([...fars], 0.1) > 3) continue
      used.add(other)
      const second = new Map(other.spots.map((spot) => [spot.frame, spot]))
      spots = spots.map((spot) => {
        const with_ = second.get(spot.frame)
        return with_
          ? { ...spot, body: together(spot.body, with_.body), x: (spot.x + with_.x) / 2, y: (spot.y + with_.y) / 2 }
          : spot
      })
    }
    out.push(spots === one.spots ? one : { spots })
  }
  return out
}
function together(a: Body, b: Body): Body {
  const area = a.area + b.area
  const mean = (x: number, y: number) => (x * a.area + y * b.area) / area
  return {
    ...a,
    x: (a.x + b.x) / 2,
    y: (a.y + b.y) / 2,
    area: 1.15 * area,
    length: Math.hypot(b.x - a.x, b.y - a.y) + (a.length + b.length) / 2,
    width: Math.max(a.width, b.width),
    skew: 0,
    red: mean(a.red, b.red),
    green: mean(a.green, b.green),
    blue: mean(a.blue, b.blue),
    cut: a.cut || b.cut,
    shown: a.shown || b.shown,
  }
}

/** Class and kind of one object; null where it is sand, air or detritus. */
function nameOf(
  look: Look,
  motion: Motion,
  seconds: number,
): (Pick<SlideObject, 'class' | 'genus' | 'sure'> & { readonly fits?: readonly number[] }) | null {
  const { red, green, blue, aspect, length, thick } = look
  const pigment = pigmentOf(look)
  // Threads: long for their thickness however they bend.
  const thin = Math.max(1, Math.min(look.width, thick))
  const thread = (look.fill * length * look.width * (Math.PI / 4)) / thin / thin
  if (
    thread > 7 &&
    length > 35 &&
    thick < 18 &&
    (green > 1.1 * blue || green > 1.1 * red) &&
    green > 0.95 * Math.max(red, blue)
  )
    return { class: 'cyanobacteria', genus: 'cyanobacterium', sure: 1 }
  // Two that lie on one another, a flake, a grain: no body of one outline.
  if (look.fill < 0.62) return null
  // Greens take red and blue away, and leave green.
  if (green < 0.8 * red && green < 0.95 * blue) return { class: 'green', genus: 'green', sure: 1 }
  if (pigment < CLEAR) {
    if (motion.moving && motion.speed > OBJECTS.ciliateSpeed && length > 15)
      return { class: 'ciliate', genus: 'ciliate', sure: 1 }
    // A shell: round, even in outline and still, and not as pale as a flake.
    const round = look.fill > 0.84 && aspect < 1.25 && look.solid > 0.8
    if (round && length >= 9 && length <= 80 && blue > 0.16 && look.sharp > 0.05)
      return { class: 'diatom', genus: 'diatom', sure: 1 }
    if (aspect > 2.1 && look.fill > 0.7 && blue > 0.16) return { class: 'diatom', genus: 'diatom', sure: 1 }
    return null
  }
  if (aspect > 2.15) return { class: 'diatom', genus: 'diatom', sure: 1 }
  // What swam over it may push its place about: that is no run.
  const runs = motion.moving && motion.speed > OBJECTS.runs
  if (!runs) {
    if (length < 16 && aspect < 1.35) {
      // Gold lets more red and green through than brown does.
      return {
        class: 'other',
        genus: green < 0.5 * blue && red < 0.42 * blue ? 'chrysophyte' : 'zooxanthella-like',
        sure: 1,
      }
    }
    if (pigment < BROWN) return look.fill > 0.7 ? { class: 'diatom', genus: 'diatom', sure: 1 } : null
    if (aspect > 1.95) return { class: 'diatom', genus: 'diatom', sure: 1 }
    // Brown, and still for seconds: by the key no dinoflagellate. @source handbook 60 §6 k1, k8
    if (seconds >= OBJECTS.stillSeconds)
      return length > OBJECTS.discFrom
        ? { class: 'diatom', genus: 'diatom', sure: 1 }
        : { class: 'other', genus: 'zooxanthella-like', sure: 1 }
  }
  return { class: 'dinoflagellate', genus: '', sure: 0, fits: fitsOf(look, motion) }
}

/** How well a value fits a range: 1 inside, falling off outside by a third of its width or a tenth of its ends. */
function fits(value: number, [low, high]: readonly [number, number], soft: number): number {
  const middle = (low + high) / 2
  const half = (high - low) / 2
  const z = Math.max(0, Math.abs(value - middle) - half) / Math.max(soft, 1e-9)
  // Inside, the middle is a little likelier than the ends.
  const inside = Math.min(1, Math.abs(value - middle) / Math.max(half, 1e-9))
  return Math.exp(-0.5 * z * z - 0.25 * inside * inside)
}

/** A rounder outline has no axis that could be seen to turn. */
const LONG = 1.25
/** How well one cell fits each genus of the table, in its order. @source handbook 60 §6 */
function fitsOf(look: Look, motion: Motion): number[] {
  return GENERA.map((genus) =>
    Math.max(
      1e-5,
      fits(look.length, genus.length, 0.12 * look.length) *
        fits(look.width, genus.width, 0.12 * look.width) *
        fits(look.aspect, genus.aspect, 0.1) *
        (motion.moving ? fits(motion.speed, genus.speed, 0.3 * motion.speed + 10) : 0.6) *
        fits(
          look.skew,
          genus.pointed ? OBJECTS.pointed : (genus.lopsided ?? OBJECTS.even),
          0.04 + 0.5 * look.skewDoubt,
        ) *
        (motion.moving && motion.turns && look.aspect > LONG
          ? fits(motion.turning, genus.pointed ? OBJECTS.spins : OBJECTS.turns, 1)
          : 1),
    ),
  )
}

/** Cells fewer than this of a genus are rather odd ones of another: one film rarely holds more than two. EST */
const STRAY = 0.6
/**
 * The genera of a clip together: cells of one film are alike, so each is heard with all the others. Shares of genera by
 * expectation and maximum, with a genus that hardly one cell calls for let go.
 */
export function mixedOf(cells: readonly (readonly number[])[]): {
  readonly of: readonly { readonly genus: number; readonly sure: number }[]
} {
  const k = GENERA.length
  let shares = new Array<number>(k).fill(1 / k)
  const stray = Math.min(STRAY, 0.12 * cells.length)
  const each = (fit: readonly number[]) => {
    const all = fit.reduce((sum, one, g) => sum + one * shares[g]!, 0)
    return fit.map((one, g) => (one * shares[g]!) / Math.max(1e-12, all))
  }
  for (let round = 0; round < 80; round++) {
    const sums = new Array<number>(k).fill(0)
    for (const fit of cells) each(fit).forEach((one, g) => (sums[g]! += one))
    const kept = sums.map((one) => Math.max(0, one - stray))
    const all = kept.reduce((sum, one) => sum + one, 0)
    if (all <= 0) break
    shares = kept.map((one) => one / all)
  }
  return {
    of: cells.map((fit) => {
      const chances = each(fit)
      const genus = chances.indexOf(Math.max(...chances))
      return { genus, sure: chances[genus]! }
    }),
  }
}

const CLASSES: readonly ObjectClass[] = ['diatom', 'dinoflagellate', 'cyanobacteria', 'green', 'ciliate', 'other']
/**
 * The most that is said of a chance: of one genus, and where a second is among them. A little under what was right of
 * those told among 200 held-out clips of the stand-in (npm run slides -- --simulate 200 --seed 77).
 */
const MOST_SURE = { alone: 0.97, mixed: 0.88 }
/** A second genus is among them from this share of the first. */
const AMONG = 0.1
/** Nearer together than this, natural logarithm of odds, two genera are not told apart. EST */
const LEAST_APART = 0.7
/** Of two genera the second with this share of the first or more: neither leads. @source the slides' own rule */
const NEAR = 0.85

/** Cells that are heard for a genus as if each were another: their faults are alike. EST */
const HEARD = 4
/** How much likelier the leading genus is than the next best for the same cells, natural logarithm; and which that is. */
function apartOf(
  cells: readonly { readonly at: number; readonly fits: readonly number[] }[],
  objects: readonly SlideObject[],
): { readonly by: number; readonly other: string } {
  const counts = new Map<string, number>()
  for (const { at } of cells) counts.set(objects[at]!.genus, (counts.get(objects[at]!.genus) ?? 0) + 1)
  const first = [...counts].sort((a, b) => b[1] - a[1])[0]?.[0]
  if (first === undefined) return { by: Infinity, other: '' }
  const own = GENERA.findIndex(({ id }) => id === first)
  const mine = cells.filter(({ at }) => objects[at]!.genus === first)
  const list = GENERA.map(({ id }, g) => ({
    other: id,
    by:
      g === own
        ? Infinity
        : middleOf(mine.map(({ fits: cell }) => Math.log(cell[own]! / cell[g]!))) * Math.min(HEARD, mine.length),
  })).sort((a, b) => a.by - b.by)
  return list[0]!
}
function summed(
  objects: readonly SlideObject[],
  frames: number,
  round: boolean,
  apart: { readonly by: number; readonly other: string },
): Omit<SlideAnswer, 'faults'> {
  const counts = Object.fromEntries(CLASSES.map((name) => [name, 0])) as Record<ObjectClass, number>
  const perFrame = { ...counts }
  for (const one of objects) {
    counts[one.class]++
    perFrame[one.class] += one.framesVisible / Math.max(1, frames)
  }
  const genera: Record<string, number> = {}
  for (const one of objects) if (one.class === 'dinoflagellate') genera[one.genus] = (genera[one.genus] ?? 0) + 1
  const order = Object.entries(genera).sort((a, b) => b[1] - a[1])
  const [first, second] = order
  if (!first) return { objects, counts, perFrame, genera, leading: null, chance: 1, doubt: null, round }
  // A path that broke counts twice; the frames it was seen in do not. Both must call for the same one.
  const seen = (genus: string) =>
    objects.reduce(
      (sum, one) => sum + (one.class === 'dinoflagellate' && one.genus === genus ? one.framesVisible : 0),
      0,
    )
  const rival = order.slice(1).find(([genus, n]) => n >= 0.5 * first[1] && seen(genus) >= NEAR * seen(first[0]))
  const doubt =
    rival !== undefined
      ? `${first[0]} and ${rival[0]} are about as many: neither leads.`
      : second !== undefined &&
          (second[1] >= NEAR * first[1] || first[1] - second[1] < 0.8 * Math.sqrt(first[1] + second[1]))
        ? `${first[0]} and ${second[0]} are about as many: neither leads.`
        : first[1] < 2
          ? 'One cell alone names no bloom: look at more of the slide.'
          : apart.by < LEAST_APART
            ? `The cells lie between ${first[0]} and ${apart.other} in size and shape: a clip at the higher magnification would tell.`
            : null
  return {
    objects,
    counts,
    perFrame,
    genera,
    leading: doubt === null ? first[0] : null,
    chance: Math.min(
      second && second[1] >= AMONG * first[1] ? MOST_SURE.mixed : MOST_SURE.alone,
      1 / (1 + Math.exp(-apart.by)),
    ),
    doubt,
    round,
  }
}
