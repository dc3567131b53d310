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
export declare const planeOf: (width: number, height: number) => Plane
/** Red, green and blue as planes of 0 to 255. */
export declare function channelsOf({ width, height, channels, data }: Picture): readonly [Plane, Plane, Plane]
/** Mean over a square of side 2 × radius + 1, edges repeated. Two passes of running sums. */
export declare function blurred({ width, height, data }: Plane, radius: number): Plane
/** The value under which a share of a list lies; a typed list is put in order. */
export declare function rank(list: readonly number[] | Float32Array, share: number): number
/** Middle of a list that stays as it is. */
export declare const middleOf: (values: readonly number[]) => number
/** Solves A x = b for a small system, in place, with the largest pivot first. Singular rows give 0. */
export declare function solve(a: number[][], b: number[]): number[]
