// Planned starts that have their day; apart from the calendar, which needs the library.
import type { KeeperRecord, PlannedDocument } from '../record/types.ts'
import { dayOf } from '../time/time.ts'

/** Planned starts whose day has come, the longest due first; none that has begun or was let go. */
export const dueStarts = (record: KeeperRecord, nowMs: number): PlannedDocument[] =>
  [...record.planned.values()]
    .filter(({ body }) => body.endedAt === undefined && body.startsOn <= dayOf(nowMs, record.settings.zone))
    .sort((a, b) => a.body.startsOn.localeCompare(b.body.startsOn) || a.id.localeCompare(b.id))
