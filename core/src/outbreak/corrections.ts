// The table of corrections: what is raised, with which salts, and how many grams of them a rise takes.
import { corrections as TABLES } from '../generated/knowledge/corrections.ts'
import type { CorrectionTable } from '../generated/correctionTypes.ts'

export type Correction = CorrectionTable['corrections'][number]
export type Salt = Correction['salts'][number]
export const corrections: readonly Correction[] = TABLES[0]!.corrections
export const correctionSources = TABLES[0]!.sources
export const correctionOf = (id: string): Correction | undefined => corrections.find((one) => one.id === id)

/** Grams of a salt for a rise in a volume: rise × mg per litre and unit × litres ÷ 1000. @source handbook 65 §7 */
export const saltGrams = (rise: number, salt: Salt, volumeL: number): number => (rise * salt.mgPerUnit * volumeL) / 1000
