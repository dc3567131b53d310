// Heads counted by name: who was not found, or was dying, when a campaign counted its animals last.
import { besidesReadings } from '../record/ledgerIndex.ts'
import { deathsBetween } from '../record/heads.ts'
import type { ActiveLedger, KeeperRecord } from '../record/types.ts'
import { residentVessels } from '../record/whereabouts.ts'
import { entryMs, instantMs } from '../time/time.ts'

export interface Missing {
  readonly residentId: string
  readonly name: string
  /** Animals of it that were not there, or were dying, and of how many. */
  readonly gone: number
  readonly of: number
  /** When they were counted. */
  readonly sinceMs: number
}

/**
 * Animals that the last count by name of each did not find well, in a vessel and since an instant: still to be found or
 * to be noted as dead. One that was counted again and found, left the house, or whose deaths are on the ledger, is not
 * among them. Pure.
 */
export function missingAnimals(
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  sinceMs: number,
  nowMs: number,
): Missing[] {
  const last = new Map<string, Missing>()
  for (const entry of besidesReadings(active)) {
    const ms = entryMs(entry)
    if (ms > nowMs) break
    if (entry.kind !== 'tally' || entry.vesselId !== vesselId || ms < sinceMs) continue
    for (const { residentId, there, gone } of entry.animals ?? [])
      last.set(residentId, {
        residentId,
        name: record.residents.get(residentId)?.body.name ?? residentId,
        gone,
        of: there + gone,
        sinceMs: ms,
      })
  }
  return [...last.values()].flatMap((one) => {
    const resident = record.residents.get(one.residentId)
    if (resident?.body.leftAt !== undefined && instantMs(resident.body.leftAt) <= nowMs) return []
    const gone = one.gone - deathsBetween(active, one.residentId, one.sinceMs, nowMs)
    return gone > 0 ? [{ ...one, gone }] : []
  })
}

/** Who died in a vessel between two instants, by name, groups with their number. Pure. */
export function lostBetween(
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  fromMs: number,
  toMs: number,
): string[] {
  const where = residentVessels(record, active, fromMs)
  return [...record.residents.values()].flatMap((resident) => {
    const { leftAt, leftHow, name } = resident.body
    if (leftAt !== undefined && leftHow === 'died' && instantMs(leftAt) >= fromMs && instantMs(leftAt) <= toMs)
      return residentVessels(record, active, instantMs(leftAt) - 1).get(resident.id) === vesselId ? [name] : []
    if (where.get(resident.id) !== vesselId) return []
    const dead = deathsBetween(active, resident.id, fromMs, toMs)
    return dead > 0 ? [`${name} (${dead})`] : []
  })
}
