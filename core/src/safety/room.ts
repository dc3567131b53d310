// The room one bottle has in one vessel: its agent's level, the volume, the limit. Plans offer by it, acts are held to it.
import type { AgentForm } from '../knowledge/agents.ts'
import type { House } from '../record/types.ts'
import { pairCapOf } from './gate.ts'
import { levelOf, volumeFor, type AgentLevel, type KnownLevel } from './level.ts'
import { limitIn, type Room } from './limits.ts'

export interface RoomQuery {
  readonly vesselId: string
  readonly form: AgentForm
  /** mg of active per pour unit. */
  readonly contentMg: number
  readonly atMs: number
  readonly nowMs: number
  readonly known: readonly KnownLevel[]
  /** A temperature read on the spot, °C. */
  readonly temperatureC?: number
  /** How fresh the warmth must be, h; a day where left out. */
  readonly freshHours?: number
  /** An entry that is being corrected does not count. */
  readonly without?: string
}

/** The room a bottle has in a vessel; null while its volume is not known. */
export function roomIn(house: House, query: RoomQuery): (Room & { readonly level: AgentLevel }) | null {
  const { vesselId, form, atMs, nowMs, contentMg, known, without } = query
  const volume = volumeFor(house, vesselId, form.agent, known)
  const asked: House =
    without === undefined ? house : { ...house, active: house.active.filter(({ id }) => id !== without) }
  const level = levelOf(asked, vesselId, form.agent, atMs, without === undefined ? known : [], nowMs)
  if (!volume || !level) return null
  const pairCap = pairCapOf(house, form, vesselId, atMs, known)
  return {
    volume,
    level,
    contentMg,
    limit: limitIn(house, form, vesselId, atMs, {
      ...(query.temperatureC === undefined ? {} : { temperatureC: query.temperatureC }),
      ...(pairCap ? { pairCap } : {}),
      ...(query.freshHours === undefined ? {} : { freshHours: query.freshHours }),
    }),
  }
}
