// Usual ranges of readings by kind of vessel: what the strip tints, never a limit of a dose.
import { ranges as TABLES } from '../generated/knowledge/ranges.ts'
import type { RangeTable } from '../generated/rangesTypes.ts'
import type { VesselBody } from '../record/types.ts'

export type UsualRange = RangeTable['systems'][number]['ranges'][string]

/** The usual range of an analyte in such a vessel, canonical units; null where none is kept. */
export function usualRange(
  vessel: Pick<VesselBody, 'water' | 'purpose' | 'system'>,
  analyte: string,
): UsualRange | null {
  return systemOf(vessel)?.ranges[analyte] ?? null
}

export type WaterSystem = RangeTable['systems'][number]
/** Kinds of system that a keeper may choose for a water. */
export const systemsFor = (water: VesselBody['water']): readonly WaterSystem[] =>
  TABLES[0]!.systems.filter((system) => system.water === water)
/** The kind a vessel is of: as chosen, or the usual one of its water and purpose. */
export const systemOf = (vessel: Pick<VesselBody, 'water' | 'purpose' | 'system'>): WaterSystem | null =>
  systemsFor(vessel.water).find(({ id }) => id === vessel.system) ??
  systemsFor(vessel.water).find(({ purposes }) => purposes.includes(vessel.purpose)) ??
  null

/**
 * What an instrument of a kind usually shows of an analyte: its smallest step in the canonical unit, and its error in
 * per cent of what it reads; null where nothing is usual. @source handbook 65 §5
 */
export const usualPrecision = (
  analyte: string,
  method: string,
): { readonly step: number; readonly relativePercent: number } | null =>
  TABLES[0]!.instruments.find((one) => one.analyte === analyte && one.method === method) ?? null
