// Nets, siphons, kits, heaters: where each was last wet, and what it may have carried.
import { besidesReadings } from './ledgerIndex.ts'
import { entryMs } from '../time/time.ts'
import type { ActiveLedger, Entry, GearDocument, KeeperRecord } from './types.ts'

export interface GearState {
  /** Vessel it was last wet in since it was made safe, and since when; null when it is safe. */
  readonly wetIn: string | null
  readonly wetSinceMs: number | null
  /** All vessels it was wet in since it was made safe: it carries something of each. */
  readonly carries: readonly string[]
  /** When it was last disinfected or dried; null: never written down. */
  readonly safeSinceMs: number | null
}

/** State of one piece of gear at an instant, from the ledger. */
export function gearState(active: ActiveLedger, gearId: string, atMs: number): GearState {
  let state: GearState = { wetIn: null, wetSinceMs: null, carries: [], safeSinceMs: null }
  for (const entry of besidesReadings(active)) {
    if (entry.kind !== 'gear' || entry.gearId !== gearId) continue
    const ms = entryMs(entry)
    if (ms > atMs) break
    if (entry.act !== 'wet') state = { wetIn: null, wetSinceMs: null, carries: [], safeSinceMs: ms }
    else if (entry.vesselId !== undefined)
      state = {
        ...state,
        wetIn: entry.vesselId,
        wetSinceMs: ms,
        carries: [...new Set([...state.carries, entry.vesselId])],
      }
  }
  return state
}

export interface Carried {
  readonly entry: Entry
  readonly gear: GearDocument | undefined
  /** Vessels whose water came along. */
  readonly from: readonly string[]
}

/** Times gear came wet from another vessel into this one, unsafe, within a stretch. @source handbook 30 fallow rules */
export function carriedInto(
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  fromMs: number,
  toMs: number,
): Carried[] {
  const found: Carried[] = []
  const carries = new Map<string, Set<string>>()
  for (const entry of besidesReadings(active)) {
    if (entry.kind !== 'gear') continue
    const ms = entryMs(entry)
    if (ms > toMs) break
    const set = carries.get(entry.gearId) ?? new Set<string>()
    carries.set(entry.gearId, set)
    if (entry.act !== 'wet') {
      set.clear()
      continue
    }
    if (entry.vesselId === undefined) continue
    const from = [...set].filter((id) => id !== entry.vesselId)
    if (entry.vesselId === vesselId && ms >= fromMs && from.length > 0)
      found.push({ entry, gear: record.gear.get(entry.gearId), from })
    set.add(entry.vesselId)
  }
  return found
}
