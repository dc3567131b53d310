// Hazards to people, with their first aid. The JSON under core/knowledge/hazards is the source.
import { hazards as HAZARDS } from '../generated/knowledge/hazards.ts'
import type { Hazard } from '../generated/hazardTypes.ts'
import { groupOf } from './agents.ts'

export type { Hazard }
export const hazards: readonly Hazard[] = HAZARDS
export const hazardOf = (id: string): Hazard | undefined => hazards.find((hazard) => hazard.id === id)

/** What animals of these groups do to the hands that move them: ids of hazards, each once. */
export const handlingHazards = (groupIds: readonly string[]): readonly string[] => [
  ...new Set(groupIds.flatMap((id) => groupOf(id)?.hazards ?? [])),
]
