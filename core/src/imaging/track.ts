// From frame to frame: the drift of the water and the shake of the hand, and which body is which. Paths are sewn together
// where a body was hidden for less than a second.
import type { Body } from './bodies.ts'
import { middleOf } from './frame.ts'

export interface Spot {
  readonly frame: number
  readonly body: Body
  /** Place with the common drift taken out, px. */
  readonly x: number
  readonly y: number
}
export interface Track {
  readonly spots: Spot[]
}
export interface Drift {
  /** Place of the ground in each frame beside the first, px. */
  readonly dx: readonly number[]
  readonly dy: readonly number[]
}

/** How far the ground may move between two frames, px. */
const MOST_DRIFT = 24

/** Shift from one frame's bodies to the next that brings most of them onto one another. */
function shiftBetween(a: readonly Body[], b: readonly Body[], most: number): { dx: number; dy: number; votes: number } {
  const bin = 2
  const side = Math.ceil((2 * most) / bin) + 1
  const votes = new Float32Array(side * side)
  const pairs: { dx: number; dy: number; weight: number }[] = []
  for (const one of a) {
    if (one.cut) continue
    for (const other of b) {
      if (other.cut) continue
      const dx = other.x - one.x
      const dy = other.y - one.y
      if (Math.abs(dx) > most || Math.abs(dy) > most) continue
      const size = Math.abs(Math.log(other.area / one.area)) + 2 * Math.abs(other.blue - one.blue)
      if (size > 0.5) continue
      const turned = Math.min(Math.abs(one.angle - other.angle), Math.PI - Math.abs(one.angle - other.angle))
      // A long body that has not turned is the surest mark of the ground.
      const weight = one.length > 1.6 * one.width ? (turned < 0.12 ? 1.5 : 0.3) : 1
      pairs.push({ dx, dy, weight })
      const [bx, by] = [Math.round((dx + most) / bin), Math.round((dy + most) / bin)]
      for (let y = Math.max(0, by - 1); y <= Math.min(side - 1, by + 1); y++)
        for (let x = Math.max(0, bx - 1); x <= Math.min(side - 1, bx + 1); x++)
          votes[y * side + x]! += weight / (x === bx && y === by ? 1 : 2)
    }
  }
  let best = -1
  let top = 0
  for (let i = 0; i < votes.length; i++) {
    const far = Math.hypot((i % side) * bin - most, Math.floor(i / side) * bin - most)
    // Of two alike the smaller shift.
    const value = votes[i]! - 0.01 * far
    if (value > top) {
      top = value
      best = i
    }
  }
  if (best < 0) return { dx: 0, dy: 0, votes: 0 }
  const [mx, my] = [(best % side) * bin - most, Math.floor(best / side) * bin - most]
  const near = pairs.filter(({ dx, dy }) => Math.abs(dx - mx) <= 2 * bin && Math.abs(dy - my) <= 2 * bin)
  if (near.length === 0) return { dx: mx, dy: my, votes: 0 }
  return { dx: middleOf(near.map(({ dx }) => dx)), dy: middleOf(near.map(({ dy }) => dy)), votes: near.length }
}

/** Where the ground stands in each frame: what most still bodies did together. */
export function driftOf(frames: readonly (readonly Body[])[], umPerPx: number): Drift {
  const most = Math.max(6, Math.min(MOST_DRIFT, 40 / umPerPx))
  const dx = [0]
  const dy = [0]
  for (let f = 1; f < frames.length; f++) {
    const step = shiftBetween(frames[f - 1]!, frames[f]!, most)
    dx.push(dx[f - 1]! + step.dx)
    dy.push(dy[f - 1]! + step.dy)
  }
  return { dx, dy }
}

/** How the ground flows on the whole, px a frame: the middle of its way over thirds of the clip. */
export function flowOf({ dx, dy }: Drift): { readonly vx: number; readonly vy: number } {
  const third = Math.max(1, Math.floor(dx.length / 3))
  const over = (list: readonly number[]) =>
    (middleOf(list.slice(-third)) - middleOf(list.slice(0, third))) / Math.max(1, list.length - third)
  return { vx: over(dx), vy: over(dy) }
}

interface Open {
  readonly track: Track
  vx: number
  vy: number
  missed: number
}

/** What tells two bodies apart besides their place: size, shape and colour. */
function unlike(a: Body, b: Body): number {
  const loose = a.cut || b.cut ? 0.4 : 1
  return (
    loose * 1.6 * Math.abs(Math.log(a.area / b.area)) +
    loose * 1.2 * Math.abs(Math.log(a.length / b.length)) +
    5 * Math.abs(a.blue - b.blue) +
    6 * Math.abs(a.red - a.blue - (b.red - b.blue)) +
    6 * Math.abs(a.green - a.blue - (b.green - b.blue))
  )
}

/**
 * Paths of bodies. Each frame's bodies are given to the paths by the least total cost of distance from where they were
 * expected, and of what they look like; the cheapest pairs first, which is the best assignment wherever bodies lie
 * further apart than they go in a frame.
 * @param mostUmPerS nothing that is followed goes faster
 */
export function tracksOf(
  frames: readonly (readonly Body[])[],
  drift: Drift,
  fps: number,
  umPerPx: number,
  mostUmPerS = 330,
): Track[] {
  const reach = Math.max(6, mostUmPerS / fps / umPerPx)
  const patience = Math.max(1, Math.floor(fps) - 1)
  const done: Track[] = []
  let open: Open[] = []
  frames.forEach((bodies, frame) => {
    const spots = bodies.map((body): Spot => ({
      frame,
      body,
      x: body.x - drift.dx[frame]!,
      y: body.y - drift.dy[frame]!,
    }))
    const pairs: { o: number; s: number; cost: number }[] = []
    open.forEach((one, o) => {
      const last = one.track.spots.at(-1)!
      const gap = frame - last.frame
      const [px, py] = [last.x + one.vx * gap, last.y + one.vy * gap]
      const own = Math.max(4, 0.35 * last.body.width)
      const speed = Math.hypot(one.vx, one.vy)
      // A body that lay still is looked for where it lay; one that ran, around where it was going.
      const limit =
        one.track.spots.length < 3 ? reach : Math.min(reach, own + 1.2 * speed + 0.35 * reach) * Math.sqrt(gap)
      spots.forEach((spot, s) => {
        const far = Math.min(
          Math.hypot(spot.x - px, spot.y - py),
          Math.hypot(spot.x - last.x, spot.y - last.y) + 0.15 * reach,
        )
        if (far > limit) return
        const look = unlike(last.body, spot.body)
        if (look > 2.2) return
        pairs.push({ o, s, cost: far / own + 2.5 * look + 0.6 * (gap - 1) })
      })
    })
    pairs.sort((a, b) => a.cost - b.cost)
    const takenO = new Set<number>()
    const takenS = new Set<number>()
    for (const { o, s } of pairs) {
      if (takenO.has(o) || takenS.has(s)) continue
      takenO.add(o)
      takenS.add(s)
      const one = open[o]!
      const last = one.track.spots.at(-1)!
      const spot = spots[s]!
      const gap = frame - last.frame
      const [vx, vy] = [(spot.x - last.x) / gap, (spot.y - last.y) / gap]
      one.vx = one.track.spots.length === 1 ? vx : 0.4 * one.vx + 0.6 * vx
      one.vy = one.track.spots.length === 1 ? vy : 0.4 * one.vy + 0.6 * vy
      one.missed = 0
      one.track.spots.push(spot)
    }
    const stays: Open[] = []
    open.forEach((one, o) => {
      if (!takenO.has(o)) one.missed++
      if (one.missed > patience) done.push(one.track)
      else stays.push(one)
    })
    spots.forEach((spot, s) => {
      if (!takenS.has(s)) stays.push({ track: { spots: [spot] }, vx: 0, vy: 0, missed: 0 })
    })
    open = stays
  })
  return [...done, ...open.map(({ track }) => track)]
}

/** A body lies still where it is seen within this of one place, px, or this share of its width. */
const AT_PLACE = 2.2
const AT_PLACE_WIDTH = 0.12
/** In so many of the frames between its first and its last, and in so many of all. */
const HELD = 0.6
const HELD_ALL = 0.4
/** Side of a cell of the grid that neighbours are looked for in, px. */
const CELL = 12

/**
 * Bodies that lie still, found before anything is followed: seen at one place, alike, in most frames. What swims over one
 * in the others can then not carry it away. The rest of the bodies stay to be followed.
 * @param shiftX place of the ground in each frame, px
 */
export function stillsOf(
  frames: readonly (readonly Body[])[],
  shiftX: readonly number[],
  shiftY: readonly number[],
): { readonly still: readonly Track[]; readonly rest: readonly (readonly Body[])[] } {
  const spots = frames.flatMap((bodies, frame) =>
    bodies.map((body): Spot => ({ frame, body, x: body.x - shiftX[frame]!, y: body.y - shiftY[frame]! })),
  )
  const grid = new Map<string, Spot[]>()
  const keyOf = (x: number, y: number) => `${Math.floor(x / CELL)} ${Math.floor(y / CELL)}`
  for (const spot of spots) {
    const key = keyOf(spot.x, spot.y)
    const list = grid.get(key)
    if (list) list.push(spot)
    else grid.set(key, [spot])
  }
  const around = ({ x, y, body }: Spot): Spot[] => {
    const near = Math.max(AT_PLACE, AT_PLACE_WIDTH * body.width)
    const best = new Map<number, { spot: Spot; far: number }>()
    for (let gx = -1; gx <= 1; gx++)
      for (let gy = -1; gy <= 1; gy++)
        for (const other of grid.get(keyOf(x + gx * CELL, y + gy * CELL)) ?? []) {
          const far = Math.hypot(other.x - x, other.y - y)
          if (far > near || taken.has(other.body) || unlike(body, other.body) > 1) continue
          const known = best.get(other.frame)
          if (known === undefined || far < known.far) best.set(other.frame, { spot: other, far })
        }
    return [...best.values()].map(({ spot }) => spot).sort((a, b) => a.frame - b.frame)
  }
  const taken = new Set<Body>()
  const groups = spots
    .filter(({ body }) => !body.cut)
    .map((spot) => ({ spot, many: around(spot).length }))
    .filter(({ many }) => many >= HELD_ALL * frames.length)
    .sort((a, b) => b.many - a.many)
  const still: Track[] = []
  for (const { spot } of groups) {
    if (taken.has(spot.body)) continue
    const own = around(spot)
    if (own.length < HELD_ALL * frames.length) continue
    const between = own.at(-1)!.frame - own[0]!.frame + 1
    if (own.length < HELD * between) continue
    still.push({ spots: own })
    for (const { body } of own) taken.add(body)
  }
  return { still, rest: frames.map((bodies) => bodies.filter((body) => !taken.has(body))) }
}

/** Pieces of a path that lie this near to a still body, px, or this share of its width, in frames that it lacks, are its own. */
const NEAR_IT = 6
const NEAR_IT_WIDTH = 0.5
/** In so many of its frames, share, a piece may be seen beside the still one: a body that lies half under another parts in two. */
const AT_ONCE = 0.4
/**
 * Still bodies with what was left of them: one that creeps a little leaves its first or last frames behind, and would count
 * twice.
 */
export function wholeStills(
  still: readonly Track[],
  tracks: readonly Track[],
): { readonly still: readonly Track[]; readonly rest: readonly Track[] } {
  const used = new Set<Track>()
  const whole = still.map((one) => {
    const frames = new Set(one.spots.map(({ frame }) => frame))
    const usual = usualOf(one.spots)
    const near = Math.max(NEAR_IT, NEAR_IT_WIDTH * usual.width)
    const own: Spot[] = []
    for (const track of tracks) {
      const fresh = track.spots.filter(({ frame }) => !frames.has(frame))
      if (used.has(track) || fresh.length < (1 - AT_ONCE) * track.spots.length) continue
      if (unlike(usual, usualOf(track.spots)) > ALIKE) continue
      // Where the two come nearest in time they must lie at one place.
      let best = { gap: Infinity, far: Infinity }
      for (const spot of fresh)
        for (const other of one.spots) {
          const gap = Math.abs(other.frame - spot.frame)
          const far = Math.hypot(other.x - spot.x, other.y - spot.y)
          if (gap < best.gap || (gap === best.gap && far < best.far)) best = { gap, far }
        }
      if (best.far > near * Math.sqrt(best.gap)) continue
      used.add(track)
      own.push(...fresh)
      for (const { frame } of fresh) frames.add(frame)
    }
    return own.length === 0 ? one : { spots: [...one.spots, ...own].sort((a, b) => a.frame - b.frame) }
  })
  return { still: whole, rest: tracks.filter((track) => !used.has(track)) }
}

/** So many bodies that go one way at one speed are carried, and do not swim. */
const CARRIED = 3
/** Less than this over the clip is no way, px. */
const LEAST_CARRIED = 1.5
/** Together within this, px a frame, or this share of their speed. */
const ALONG = 0.06
const ALONG_SHARE = 0.12

/**
 * A second ground: what sticks to the glass while the water flows, or the water where most sticks. Bodies that keep one
 * way at one speed, several of them alike, swim as little as those that lie still.
 * @returns px a frame beside the first ground; null where there is none
 */
export function secondGround(
  tracks: readonly Track[],
  frames: number,
): { readonly vx: number; readonly vy: number } | null {
  const ways = tracks.flatMap(({ spots }) => {
    const whole = spots.filter(({ body }) => !body.cut)
    if (whole.length < Math.max(6, 0.3 * frames)) return []
    const third = Math.max(2, Math.floor(whole.length / 3))
    const middle = (list: readonly Spot[]) => ({
      x: middleOf(list.map(({ x }) => x)),
      y: middleOf(list.map(({ y }) => y)),
      frame: middleOf(list.map(({ frame }) => frame)),
    })
    const [a, b] = [middle(whole.slice(0, third)), middle(whole.slice(-third))]
    const time = b.frame - a.frame
    if (time < 4) return []
    const [vx, vy] = [(b.x - a.x) / time, (b.y - a.y) / time]
    if (Math.hypot(vx, vy) * frames < LEAST_CARRIED) return []
    // Off its own straight way: who swims is.
    const off = middleOf(
      whole.map(({ x, y, frame }) => Math.hypot(x - a.x - vx * (frame - a.frame), y - a.y - vy * (frame - a.frame))),
    )
    return off > 1.2 ? [] : [{ vx, vy }]
  })
  let best: (typeof ways)[number][] = []
  for (const one of ways) {
    const near = ALONG + ALONG_SHARE * Math.hypot(one.vx, one.vy)
    const along = ways.filter(({ vx, vy }) => Math.hypot(vx - one.vx, vy - one.vy) <= near)
    if (along.length > best.length) best = along
  }
  return best.length < CARRIED
    ? null
    : { vx: middleOf(best.map(({ vx }) => vx)), vy: middleOf(best.map(({ vy }) => vy)) }
}

/** A stretch of a path is one of the next where it would have gone: no further off than this share of the fastest step. */
const ASTRAY = 0.9
/** Of two stretches of one path the bodies look alike; more than this and they are two. */
const ALIKE = 1.6

/**
 * Paths that were broken where one body swam over another, sewn together: the end of one and the beginning of the next
 * within a second, where the first was going, of one look. The surest pairs first, each end and each beginning once.
 */
export function sewn(tracks: readonly Track[], fps: number, umPerPx: number, mostUmPerS = 330): Track[] {
  const reach = Math.max(6, mostUmPerS / fps / umPerPx)
  const most = Math.max(1, Math.floor(fps) - 1)
  const ends = tracks.map(({ spots }) => {
    const tail = spots.slice(-4)
    const [a, b] = [tail[0]!, tail.at(-1)!]
    const time = Math.max(1, b.frame - a.frame)
    return { vx: (b.x - a.x) / time, vy: (b.y - a.y) / time, usual: usualOf(spots) }
  })
  const pairs: { from: number; to: number; cost: number }[] = []
  tracks.forEach((one, from) => {
    const last = one.spots.at(-1)!
    const { vx, vy, usual } = ends[from]!
    tracks.forEach((other, to) => {
      if (to === from) return
      const first = other.spots[0]!
      const gap = first.frame - last.frame
      if (gap < 1 || gap > most) return
      const far = Math.min(
        Math.hypot(first.x - last.x - vx * gap, first.y - last.y - vy * gap),
        Math.hypot(first.x - last.x, first.y - last.y) + 0.25 * reach,
      )
      const limit = 0.5 * usual.width + ASTRAY * reach * Math.sqrt(gap) * Math.min(1, 0.35 + Math.hypot(vx, vy) / reach)
      if (far > limit) return
      const look = unlike(usual, ends[to]!.usual)
      if (look > ALIKE) return
      pairs.push({ from, to, cost: far / Math.max(4, 0.35 * usual.width) + 2.5 * look + 0.6 * gap })
    })
  })
  pairs.sort((a, b) => a.cost - b.cost)
  const next = new Map<number, number>()
  const before = new Set<number>()
  for (const { from, to } of pairs) {
    if (next.has(from) || before.has(to)) continue
    next.set(from, to)
    before.add(to)
  }
  return tracks.flatMap((track, i) => {
    if (before.has(i)) return []
    const spots = [...track.spots]
    for (let at = next.get(i); at !== undefined; at = next.get(at)) spots.push(...tracks[at]!.spots)
    return [{ spots }]
  })
}
/** The body of a path that is of middle size: none of those in which it lay together with another. */
function usualOf(spots: readonly Spot[]): Body {
  const whole = spots.filter(({ body }) => !body.cut)
  const list = [...(whole.length > 0 ? whole : spots)].sort((a, b) => a.body.area - b.body.area)
  return list[Math.floor(0.4 * (list.length - 1))]!.body
}
