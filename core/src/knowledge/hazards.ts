// Hazards to people, with their first aid. The JSON under core/knowledge/hazards is the source.
import { hazards as HAZARDS } from '../generated/knowledge/hazards.ts'
import type { Hazard } from '../generated/hazardTypes.ts'

export type { Hazard }
export const hazards: readonly Hazard[] = HAZARDS
export const hazardOf = (id: string): Hazard | undefined => hazards.find((hazard) => hazard.id === id)
