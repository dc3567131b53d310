// What a vessel's water holds and is at an instant: every party that something about to go in may meet.
import { protocolMethods } from '../generated/knowledge/protocolMethods.ts'
import { agentForm } from '../knowledge/agents.ts'
import { methodOf, methods } from '../knowledge/methods.ts'
import { formGiven } from '../knowledge/uses.ts'
import type { CourseDocument, House } from '../record/types.ts'
import { entryMs, instantMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import type { Party } from './interactions.ts'
import { entriesOf, levelsIn, type KnownLevel } from './level.ts'
import { freshReading } from './limits.ts'

/** How long readings stand for the water: warmth a day, salt a week, alkalinity two, h. */
const STANDS_HOURS = { temperature: 24, salinity: 7 * 24, alkalinity: 14 * 24 } as const
/** A binder works within the hour it is poured; what it bound is told for two days elsewhere. */
const BINDER_HOURS = 1

/** Courses that run in a vessel at an instant, taking turns in it included. */
export const coursesIn = ({ record }: House, vesselId: string, atMs: number): CourseDocument[] =>
  [...record.courses.values()].filter(
    ({ body }) =>
      (body.vesselId === vesselId || Object.values(body.vessels ?? {}).includes(vesselId)) &&
      instantMs(body.startedAt) <= atMs &&
      (body.endedAt === undefined || instantMs(body.endedAt) > atMs),
  )

/** The method of a course: its own copy says so, or, in a copy older than that word, the library's protocol of its name. */
export const methodOfCourse = ({ body }: Pick<CourseDocument, 'body'>) =>
  methodOf((body.protocol as { method?: string }).method ?? protocolMethods[body.protocolId])

/**
 * Whether a vessel's water must be taken to hold copper: dosed, made up or read there, and not read clear of it since.
 * @source handbook 20, rules of choice; 31 `carbon-removal`
 */
export function holdsCopper(house: House, vesselId: string, atMs: number): boolean {
  let copper = false
  for (const entry of entriesOf(house, vesselId)) {
    if (entryMs(entry) > atMs) break
    if (entry.kind === 'dose') {
      if (formGiven(entry, house.record.products.get(entry.productId))?.agent === 'copper') copper = true
    } else if (entry.kind === 'change') {
      for (const made of entry.replacement ?? [])
        if (made.mgPerL > 0 && formGiven(made, house.record.products.get(made.productId))?.agent === 'copper')
          copper = true
    } else if (entry.kind === 'reading' && entry.analyte === 'copper') {
      const step =
        (entry.instrumentId === undefined ? undefined : house.record.instruments.get(entry.instrumentId)?.body.step) ??
        0.05
      copper = entry.bound === 'below' ? false : entry.value >= step - 1e-9
    }
  }
  return copper
}

/** Everything in and about one vessel's water at an instant. */
export function partiesIn(house: House, vesselId: string, atMs: number, known: readonly KnownLevel[] = []): Party[] {
  const { record } = house
  const vessel = record.vessels.get(vesselId)
  if (!vessel) return []
  const found: Party[] = [{ kind: 'water', water: vessel.body.water, sinceMs: atMs }]
  const levels = levelsIn(house, vesselId, atMs, known, atMs)
  for (const entry of levels === null ? [] : levels.values())
    for (const [id, sinceMs] of entry.forms) {
      const form = agentForm(id)
      if (!form || form.route === 'food') continue
      if (entry.highMgPerL > form.removedBelow || (form.agent === 'copper' && holdsCopper(house, vesselId, atMs)))
        found.push({ kind: 'form', form, sinceMs, levelMgPerL: entry.highMgPerL })
    }
  const items = new Map<string, { on: boolean; ms: number }>()
  for (const entry of entriesOf(house, vesselId)) {
    const ms = entryMs(entry)
    if (ms > atMs) break
    if (entry.kind === 'equipment') items.set(entry.item, { on: entry.on, ms })
  }
  for (const [item, { on, ms }] of items) {
    const over = item === 'binder' && atMs - ms > BINDER_HOURS * MS_PER_HOUR
    if (on && !over) found.push({ kind: 'item', item, sinceMs: ms })
  }
  for (const [analyte, hours] of Object.entries(STANDS_HOURS)) {
    const reading = freshReading(house, vesselId, analyte, atMs, hours)
    if (reading) found.push({ kind: 'reading', analyte, value: reading.value, sinceMs: reading.atMs })
  }
  const named = new Set<string>()
  for (const course of coursesIn(house, vesselId, atMs)) {
    const method = methodOfCourse(course)
    // A bath's method stays in its bowl.
    if (!method || method.route === 'bath' || named.has(method.id)) continue
    named.add(method.id)
    found.push({ kind: 'method', method, sinceMs: atMs, how: `${method.label} runs there` })
  }
  for (const method of methods) {
    if (method.salinityBelow === undefined || named.has(method.id) || vessel.body.water !== method.water) continue
    const salinity = found.find((party) => party.kind === 'reading' && party.analyte === 'salinity')
    if (salinity?.kind === 'reading' && salinity.value < method.salinityBelow)
      found.push({
        kind: 'method',
        method,
        sinceMs: salinity.sinceMs,
        how: `its water was read at ${Number(salinity.value.toPrecision(3))} PSU`,
      })
  }
  return found
}
