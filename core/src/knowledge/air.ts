// How long a piece may be out of the water, by what it is. @source handbook 40.5.2
import { air as TABLES } from '../generated/knowledge/air.ts'
import type { ResidentBody } from '../record/types.ts'
import { species } from './agents.ts'
import type { AirTable } from '../generated/airTypes.ts'

export type AirKind = AirTable['kinds'][number]
const TABLE = TABLES[0]!
export const airKinds: readonly AirKind[] = TABLE.kinds
export const airKindOf = (id: string): AirKind | undefined => TABLE.kinds.find((kind) => kind.id === id)
/** What an animal is for its time in air, as far as its species or its group says; undefined where that must be asked. */
export const airKindFor = ({
  group,
  scientificName,
}: Pick<ResidentBody, 'group' | 'scientificName'>): AirKind | undefined => {
  const known = species.find(({ scientific }) => scientific === scientificName)?.id
  return TABLE.kinds.find(
    (kind) => (known !== undefined && kind.species?.includes(known) === true) || kind.groups?.includes(group) === true,
  )
}
/** Share of a limit from which it is warned of. */
export const AIR_WARN_SHARE = TABLE.warnShare
