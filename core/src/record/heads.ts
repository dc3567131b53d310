// How many a group is at an instant: how many came, and what the ledger says became of them.
import { besidesReadings } from './ledgerIndex.ts'
import { entryMs } from '../time/time.ts'
import type { ActiveLedger, HeadsEntry, ResidentDocument } from './types.ts'

/** Every change of a group's number up to an instant, in order. */
export const headsOf = (active: ActiveLedger, residentId: string, atMs: number): HeadsEntry[] =>
  besidesReadings(active).filter(
    (entry): entry is HeadsEntry => entry.kind === 'heads' && entry.residentId === residentId && entryMs(entry) <= atMs,
  )

/** Animals of a group at an instant, never below zero. */
export const headsAt = (active: ActiveLedger, resident: ResidentDocument, atMs: number): number =>
  Math.max(
    0,
    headsOf(active, resident.id, atMs).reduce((sum, { change }) => sum + change, resident.body.count),
  )

/** How many of a group died up to an instant, from an instant on. */
export const deathsBetween = (active: ActiveLedger, residentId: string, fromMs: number, toMs: number): number =>
  headsOf(active, residentId, toMs)
    .filter((entry) => entry.why === 'died' && entryMs(entry) >= fromMs)
    .reduce((sum, { change }) => sum - change, 0)
