// How long a piece may be out of the water, by what it is. @source handbook 40.5.2
import { air as TABLES } from '../generated/knowledge/air.ts'
import type { AirTable } from '../generated/airTypes.ts'

export type AirKind = AirTable['kinds'][number]
const TABLE = TABLES[0]!
export const airKinds: readonly AirKind[] = TABLE.kinds
export const airKindOf = (id: string): AirKind | undefined => TABLE.kinds.find((kind) => kind.id === id)
/** Share of a limit from which it is warned of. */
export const AIR_WARN_SHARE = TABLE.warnShare
