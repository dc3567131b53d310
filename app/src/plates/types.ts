/** One stroke, wash or scatter of a plate. */
export interface PlateLayer {
  /** Path, in the units of the ground. */
  readonly d?: string
  /** Circle: centre and radius. */
  readonly c?: readonly [number, number, number]
  /** So many dots of a radius, spread evenly over a box: x, y, width, height. */
  readonly dots?: readonly [count: number, radius: number, x: number, y: number, width: number, height: number]
  readonly fill?: Stain
  readonly stroke?: Stain | 'none'
  readonly width?: number
  readonly dash?: string
  /** Of the fill, 0 to 1. */
  readonly opacity?: number
  /** Kept within the body of its ground. */
  readonly on?: boolean
}
/** Inks and washes by what they mean: never the colours of a kind. */
export type Stain = 'ink' | 'quiet' | 'paper' | 'flesh' | 'tissue' | 'pale' | 'sore' | 'brown' | 'green' | 'dark'
export type GroundId =
  | 'fish'
  | 'fish-top'
  | 'head'
  | 'skin'
  | 'fin'
  | 'branch'
  | 'plate'
  | 'fleshy'
  | 'leather'
  | 'mat'
  | 'rock'
  | 'leaf'
  | 'blank'
export interface Plate {
  /** The sign, pest or growth it shows. */
  readonly id: string
  readonly ground: GroundId
  /** Parts of the ground that this plate draws itself. */
  readonly without?: readonly string[]
  readonly layers: readonly PlateLayer[]
  /** Bar: how long, in words, and how long in the units of the ground. */
  readonly bar?: readonly [words: string, length: number]
  /** Leans the whole body, degrees, and moves it. */
  readonly turn?: number
}
