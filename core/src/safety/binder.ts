// What speaks against an ammonia binder. Apart from the other checks: it needs the water's copper and both instruments.
import { holdsCopper } from '../acclimation/arrival.ts'
import { ammoniaOf } from '../record/compared.ts'
import type { Entry, KeeperRecord } from '../record/types.ts'
import { block, type Refusal } from './checks.ts'

/**
 * An ammonia binder into water: never where any copper may be, and not while two instruments disagree.
 * @source handbook 30 §1.5 amm-binder-copper, amm-worst
 */
export function checkBinder(record: KeeperRecord, active: readonly Entry[], vesselId: string, atMs: number): Refusal[] {
  const name = record.vessels.get(vesselId)?.body.name ?? 'This vessel'
  const found: Refusal[] = []
  if (holdsCopper(record, active, vesselId, atMs))
    found.push(
      block(
        'amm-binder-copper',
        `${name} may hold copper. A reducing binder frees bound copper suddenly: change water at matching copper instead.`,
      ),
    )
  const verdict = ammoniaOf(record, active, vesselId, atMs, 1)?.verdict
  if (verdict === 'conflict' || verdict === 'no-match')
    found.push(
      block(
        'amm-worst',
        `Two instruments in ${name} do not agree on ammonia. Until a third reading: air, water change or move only.`,
      ),
    )
  return found
}
