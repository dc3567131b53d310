// Who lives where at an instant: first vessels and moves, read from the whole ledger.
import { entryMs, instantMs } from '../time/time.ts'
import { indexOf } from './ledgerIndex.ts'
import type { ActiveLedger, KeeperRecord } from './types.ts'

/** Where each resident lives at an instant: its first vessel, then its moves. null: gone. */
export function residentVessels(record: KeeperRecord, active: ActiveLedger, atMs: number): Map<string, string | null> {
  const where = new Map<string, string | null>()
  for (const resident of record.residents.values()) {
    const { arrivedAt, leftAt, vesselId } = resident.body
    const here = instantMs(arrivedAt) <= atMs && (leftAt === undefined || instantMs(leftAt) > atMs)
    where.set(resident.id, here ? vesselId : null)
  }
  for (const entry of indexOf(active).moves) {
    if (entryMs(entry) > atMs) break
    if (entry.kind !== 'move') continue
    if (where.get(entry.residentId) !== null || entry.toVesselId !== null) {
      const left = record.residents.get(entry.residentId)?.body.leftAt
      where.set(entry.residentId, left !== undefined && instantMs(left) <= atMs ? null : entry.toVesselId)
    }
  }
  return where
}

/** Residents in one vessel at an instant. */
export function residentsIn(record: KeeperRecord, active: ActiveLedger, vesselId: string, atMs: number) {
  const where = residentVessels(record, active, atMs)
  return [...record.residents.values()].filter((resident) => where.get(resident.id) === vesselId)
}
