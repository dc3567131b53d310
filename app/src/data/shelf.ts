// The vessels that stand on the shelf, in the keeper's order.
import type { KeeperRecord, VesselDocument } from '@brinvo/core'

export const shelvedVessels = (record: KeeperRecord): VesselDocument[] =>
  [...record.vessels.values()]
    .filter(({ body }) => body.archivedAt === undefined)
    .sort((a, b) => a.body.sortOrder - b.body.sortOrder)
