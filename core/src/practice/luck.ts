// Chance of a practice tank: of each hour and each purpose apart.
import { chanceFrom, type Chance } from '../world/random.ts'

/** A chance of one hour and one purpose: what a keeper does elsewhere does not change it. */
export const roll = ({ seed }: { readonly seed: number }, purpose: number, h: number): Chance =>
  chanceFrom(
    (Math.imul(seed + 1, 0x9e3779b1) ^ Math.imul(purpose + 7, 0x85ebca6b) ^ Math.imul(h + 3, 0xc2b2ae35)) >>> 0,
  )

export const hash = (text: string): number =>
  [...text].reduce((sum, letter) => (Math.imul(sum, 31) + letter.charCodeAt(0)) | 0, 7)
