// Sizes, shapes and speeds that objects of a slide are told by.
import { genera as TABLES } from '../generated/knowledge/genera.ts'
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
export const GENERA: readonly Genus[] = TABLES[0]!.genera as unknown as readonly Genus[]
type Range = readonly [number, number]
export const OBJECTS = TABLES[0]!.objects as unknown as {
  readonly ciliateSpeed: number
  readonly runs: number
  readonly stillSeconds: number
  readonly discFrom: number
  readonly pointed: Range
  readonly even: Range
  readonly spins: Range
  readonly turns: Range
}
