// What every act is asked with. Apart from the acts, so that a page can hold it before it needs one of them.
import { activeOf } from '../record/ledgerIndex.ts'
import type { KeeperRecord } from '../record/types.ts'
import type { KnownLevel } from '../safety/level.ts'
import type { ActContext } from './types.ts'

/** The house at an instant, as every act is asked. */
export const actContext = (record: KeeperRecord, nowMs: number, known: readonly KnownLevel[] = []): ActContext => ({
  record,
  active: activeOf(record.entries),
  nowMs,
  known,
})
