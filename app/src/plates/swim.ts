// How organisms under the microscope move, in steps of time: what a keeper looks for before a name is given.
import organisms from './organisms.json' with { type: 'json' }

export type Motion =
  'runs' | 'wags' | 'spins' | 'circles' | 'shivers' | 'turns' | 'glides' | 'creeps' | 'still' | 'drifts' | 'darts'
export type Outline =
  'oval-cap' | 'drop' | 'teardrop' | 'round-groove' | 'purse' | 'lens' | 'needle' | 'row' | 'round' | 'slipper'
export interface Organism {
  readonly id: string
  readonly signs: readonly string[]
  /** µm. */
  readonly lengthUm: readonly [number, number]
  readonly aspect: readonly [number, number]
  readonly outline: Outline
  readonly motion: Motion
  readonly speedUmPerS: readonly [number, number]
  readonly count: number
}
export const ORGANISMS = organisms.organisms as unknown as readonly Organism[]
/** Width of the field at 400×, µm. */
export const FIELD_UM = organisms.fieldUm
export const organismOf = (id: string): Organism | undefined =>
  ORGANISMS.find((one) => one.id === id || one.signs.includes(id))

export interface Cell {
  x: number
  y: number
  /** Way it heads, radians. */
  heading: number
  /** How it lies about its own axis or point, radians. */
  spin: number
  readonly lengthUm: number
  readonly widthUm: number
  readonly speed: number
  /** Seconds until it does something else. */
  rest: number
  going: boolean
}

/** A generator with a seed: the same field every time. */
export function chanceOf(seed: number): () => number {
  let state = seed >>> 0
  return () => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = Math.imul(state ^ (state >>> 15), state | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}
const between = (chance: () => number, [low, high]: readonly [number, number]): number => low + (high - low) * chance()

/** Cells over a field of the given height, µm. */
export function cellsOf(organism: Organism, heightUm: number, chance: () => number): Cell[] {
  return Array.from({ length: organism.count }, () => {
    const lengthUm = between(chance, organism.lengthUm)
    return {
      x: FIELD_UM * chance(),
      y: heightUm * chance(),
      heading: 2 * Math.PI * chance(),
      spin: 2 * Math.PI * chance(),
      lengthUm,
      widthUm: lengthUm / between(chance, organism.aspect),
      speed: between(chance, organism.speedUmPerS),
      rest: 2 * chance(),
      going: true,
    }
  })
}

/** Moves a cell on by so many seconds, within the field: what leaves on one side comes in on the other. */
export function swim(cell: Cell, motion: Motion, dt: number, heightUm: number, chance: () => number): void {
  cell.rest -= dt
  const again = cell.rest <= 0
  let way = cell.speed * dt
  switch (motion) {
    case 'still':
      way = 0
      break
    case 'drifts':
      cell.heading += (chance() - 0.5) * 4 * dt
      break
    case 'runs':
      // Brisk and straight, then a stop.
      if (again) {
        cell.going = !cell.going
        cell.rest = cell.going ? 0.8 + 1.6 * chance() : 0.3 + 0.7 * chance()
        if (cell.going) cell.heading += (chance() - 0.5) * 3
      }
      if (!cell.going) way = 0
      break
    case 'wags':
      cell.spin += 5 * dt
      cell.heading += (chance() - 0.5) * 1.2 * dt
      break
    case 'spins':
      // About the point, on its thread, then away.
      if (again) {
        cell.going = !cell.going
        cell.rest = cell.going ? 0.4 + 0.5 * chance() : 1.6 + 2 * chance()
        cell.heading = 2 * Math.PI * chance()
      }
      if (!cell.going) {
        cell.spin += 2 * Math.PI * 1.2 * dt
        way = 0
      } else cell.spin = cell.heading
      break
    case 'circles':
      cell.heading += (cell.speed / 45) * dt
      cell.spin += 6 * dt
      break
    case 'shivers':
      cell.spin += (chance() - 0.5) * 18 * dt
      cell.heading += (chance() - 0.5) * 3 * dt
      way *= 0.5 + chance()
      break
    case 'turns':
      cell.heading += 0.35 * dt
      cell.spin += 0.35 * dt
      break
    case 'glides':
      // Along itself, one way and back.
      if (again) {
        cell.going = !cell.going
        cell.rest = 2 + 3 * chance()
      }
      if (!cell.going) way = -way
      break
    case 'creeps':
      cell.spin += dt
      break
    case 'darts':
      if (again) {
        cell.heading += (chance() - 0.5) * 4
        cell.rest = 0.3 + 0.6 * chance()
      }
      break
  }
  const wrap = (value: number, size: number) => ((value % size) + size) % size
  cell.x = wrap(cell.x + way * Math.cos(cell.heading), FIELD_UM)
  cell.y = wrap(cell.y + way * Math.sin(cell.heading), heightUm)
}
