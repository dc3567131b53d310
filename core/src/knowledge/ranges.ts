// Usual ranges of readings by kind of vessel: what the strip tints, never a limit of a dose.
import { ranges as TABLES } from '../generated/knowledge/ranges.ts'
import type { RangeTable } from '../generated/rangesTypes.ts'
import type { VesselBody } from '../record/types.ts'

export type UsualRange = RangeTable['systems'][number]['ranges'][string]

/** The usual range of an analyte in such a vessel, canonical units; null where none is kept. */
export function usualRange(vessel: Pick<VesselBody, 'water' | 'purpose'>, analyte: string): UsualRange | null {
  const system = TABLES[0]!.systems.find(
    ({ water, purposes }) => water === vessel.water && purposes.includes(vessel.purpose),
  )
  return system?.ranges[analyte] ?? null
}

/**
 * What an instrument of a kind usually shows of an analyte: its smallest step in the canonical unit, and its error in
 * per cent of what it reads; null where nothing is usual. @source handbook 65 §5
 */
export const usualPrecision = (
  analyte: string,
  method: string,
): { readonly step: number; readonly relativePercent: number } | null =>
  TABLES[0]!.instruments.find((one) => one.analyte === analyte && one.method === method) ?? null
