// The limits of a timed bath: its animals, its warmth, the longest time at a level.
import { groupOf, type AgentForm } from '../knowledge/agents.ts'
import { residentVessels } from '../record/whereabouts.ts'
import type { House, ResidentDocument, VesselDocument } from '../record/types.ts'
import { freshReading, limitFor, type Limit } from './limits.ts'

/** Longest time of a form at a level for these animals, minutes; null where none is kept. 0: not at that level. */
export function longestMinutes(
  form: Pick<AgentForm, 'contact'>,
  mgPerL: number,
  residents: readonly ResidentDocument[],
): number | null {
  if (!form.contact) return null
  const row = form.contact.find(({ upToMgPerL }) => upToMgPerL === undefined || mgPerL <= upToMgPerL)
  if (!row) return 0
  const outside =
    row.columns !== undefined && residents.some(({ body }) => !row.columns!.includes(groupOf(body.group)?.column ?? ''))
  return outside ? 0 : row.maxMinutes
}

/**
 * The limit of a bath for its animals. Warmth: read in its vessel or, matched to it, where the animals live; the warmer
 * of the two. The bath's own water is measured, so its volume carries no doubt.
 */
export function bathLimit(
  house: House,
  form: AgentForm,
  residents: readonly ResidentDocument[],
  vessel: VesselDocument,
  atMs: number,
  temperatureC?: number,
  freshHours?: number,
): Limit {
  const where = residentVessels(house.record, house.active, atMs)
  const vesselIds = new Set([vessel.id, ...residents.flatMap(({ id }) => where.get(id) ?? [])])
  const read = [...vesselIds].flatMap((id) => freshReading(house, id, 'temperature', atMs, freshHours)?.value ?? [])
  return limitFor(form, {
    temperatureC: temperatureC ?? (read.length === 0 ? null : Math.max(...read)),
    residents,
    water: vessel.body.water,
  })
}
