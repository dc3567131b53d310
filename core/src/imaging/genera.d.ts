import type { GenusTable } from '../generated/genusTypes.ts'
export type Genus = Omit<GenusTable['genera'][number], 'length' | 'width' | 'aspect' | 'speed' | 'lopsided'> & {
  readonly length: readonly [number, number]
  readonly width: readonly [number, number]
  readonly aspect: readonly [number, number]
  readonly speed: readonly [number, number]
  readonly lopsided?: readonly [number, number]
}
export type ObjectClass = 'diatom' | 'dinoflagellate' | 'cyanobacteria' | 'green' | 'ciliate' | 'other'
/** Dinoflagellates. @source handbook 60 §6 */
export declare const GENERA: readonly Genus[]
export declare const OBJECTS: {
  ciliateSpeed: number
  runs: number
}
