// Look-ups over the acclimation table: what each kind of animal bears, and what to assume of an unknown bag.
import { acclimation as TABLES } from '../generated/knowledge/acclimation.ts'
import type { AcclimationTable } from '../generated/acclimationTypes.ts'
import { groupOf } from '../knowledge/agents.ts'

export type { AcclimationTable }
export type AcclimationKind = AcclimationTable['kinds'][number]
export type Inspection = AcclimationTable['inspections'][number]
export type TransitClass = AcclimationTable['transit'][number]
export type MethodId = AcclimationKind['prefers'][number]

const table = TABLES[0]!
export const acclimationKinds: readonly AcclimationKind[] = table.kinds
export const acclimationModel = table.model
export const acclimationSources = table.sources

export const METHOD_IDS: readonly MethodId[] = ['float-and-move', 'matched-tank', 'scoops', 'drip', 'dilute-and-bind']

/** The kind of an animal group in a water; an unknown one is held to the most sensitive kind of that water. */
export function kindOf(groupId: string, water: 'marine' | 'fresh'): AcclimationKind {
  const id = groupOf(groupId)?.acclimation[water] ?? (water === 'marine' ? 'echinoderm' : 'fresh-shrimp')
  return acclimationKinds.find((kind) => kind.id === id)!
}
export const inspectionOf = (kind: AcclimationKind): Inspection =>
  table.inspections.find(({ id }) => id === kind.inspection)!

/** Class of a transit by its hours. */
export const transitOf = (hours: number): TransitClass =>
  table.transit.findLast(({ fromH }) => hours >= fromH) ?? table.transit[0]!
