// What the new water of a change brings: as it was read in the mixing bin, or by what a usual salt has.
import { limitOf } from '../knowledge/limits.ts'
import { scatterOf, valueOf } from '../record/instrumentState.ts'
import { indexOf } from '../record/ledgerIndex.ts'
import type { ActiveLedger, KeeperRecord, ReadingEntry, VesselBody } from '../record/types.ts'
import { entryMs } from '../time/time.ts'
import { median } from '../trends/theilSen.ts'

const DAY = 86_400_000
/** So many of the newest readings of the bin stand for its mix: one alone has a kit's whole scatter. EST */
const NEWEST = 12
/** Scatter of a middle value beside that of a mean. */
const OF_MIDDLE = 1.2

export interface MixValue {
  readonly value: number
  /** One standard deviation of what it may be off by beside the same kit in the tank. */
  readonly sd: number
  readonly from: 'measured' | 'usual'
  readonly readings: readonly ReadingEntry[]
}

/**
 * Value of fresh mix in a unit of an analyte: the middle of what was read in mixing bins of the same water in the two
 * months around the change, what the kit is off by the same there as in the tank. Else the usual salt's, for sea water.
 * @param usual what a usual salt brings; left out: not known @source handbook 65 §8.1
 */
export function mixValue(
  record: KeeperRecord,
  active: ActiveLedger,
  water: VesselBody['water'],
  analyte: string,
  atMs: number,
  usual: number | undefined,
): MixValue | null {
  const reach = limitOf('mix-stands') * DAY
  const found: ReadingEntry[] = []
  for (const vessel of record.vessels.values()) {
    if (vessel.body.purpose !== 'mixing' || vessel.body.water !== water) continue
    for (const entry of indexOf(active).byVessel.get(vessel.id)?.entries ?? [])
      if (
        entry.kind === 'reading' &&
        entry.analyte === analyte &&
        entry.bound === 'exact' &&
        entry.doubt !== 'typo' &&
        Math.abs(entryMs(entry) - atMs) <= reach
      )
        found.push(entry)
  }
  if (found.length > 0) {
    const readings = found.sort((a, b) => Math.abs(entryMs(a) - atMs) - Math.abs(entryMs(b) - atMs)).slice(0, NEWEST)
    const sd = (OF_MIDDLE * Math.max(...readings.map((entry) => scatterOf(record, entry)))) / Math.sqrt(readings.length)
    return { value: median(readings.map((entry) => valueOf(active, entry))), sd, from: 'measured', readings }
  }
  return usual === undefined || water !== 'marine'
    ? null
    : { value: usual, sd: limitOf('mix-off') * usual, from: 'usual', readings: [] }
}
