// The controlled vocabulary of signs. The JSON under core/knowledge/signs is the source.
import { signs as TABLES } from '../generated/knowledge/signs.ts'
import type { SignTable } from '../generated/signTypes.ts'
import { groupOf } from './agents.ts'

export type Sign = SignTable['signs'][number]
export const signs: readonly Sign[] = TABLES[0]!.signs
export const signOf = (id: string): Sign | undefined => signs.find((sign) => sign.id === id)

/** Drawn choices of a slide, and the signs they make. @source handbook 60 §3 */
export const slideTable = TABLES[0]!.slide

export type SignPair = SignTable['pairs'][number]
/** Signs easily taken for each other, and how to tell them. @source handbook 30 §3, 40 §11, 50 §2, 60 §3 */
export const signPairs: readonly SignPair[] = TABLES[0]!.pairs

export type TimedTest = SignTable['tests'][number]
/** Small tests that take time. @source handbook 60 §1, signs seen over time and by reagent */
export const timedTests: readonly TimedTest[] = TABLES[0]!.tests

/** The marks of a daily round for an animal group, those a glance can answer. */
export function quickSigns(groupId: string): Sign[] {
  const { quick } = TABLES[0]!
  return (quick[groupId] ?? quick[groupOf(groupId)?.kind ?? 'fish'] ?? []).flatMap((id) => signOf(id) ?? [])
}
