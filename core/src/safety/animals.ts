// What one animal has been through, wherever it was: drugs in the waters it lived in, timed baths, medicated food.
import type { AgentForm } from '../knowledge/agents.ts'
import type { Method } from '../knowledge/methods.ts'
import { formGiven, formAmong } from '../knowledge/uses.ts'
import { residentVessels } from '../record/whereabouts.ts'
import type { BathEntry, House, ResidentDocument } from '../record/types.ts'
import { entryMs, instantMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { entriesOf } from './level.ts'
import { methodOfCourse } from './water.ts'

/** How far back an exposure can matter: the longest pause of the table and a week, ms. @source handbook 30 §5.7 */
const LOOK_BACK_MS = 8 * 24 * MS_PER_HOUR

export interface Exposure {
  readonly what: { readonly form: AgentForm } | { readonly method: Method }
  readonly kind: 'bath' | 'water' | 'food'
  /** End of the bath, last dose in the water, last day of the food. */
  readonly atMs: number
  readonly vesselId: string
  readonly minutes?: number
}

/** Where an animal lived, in order, back into the group it was split from. */
export function staysOf(house: House, resident: ResidentDocument, atMs: number) {
  const stays: { vesselId: string; fromMs: number; toMs: number }[] = []
  const from = resident.body.splitFrom === undefined ? undefined : house.record.residents.get(resident.body.splitFrom)
  const arrivedMs = instantMs(resident.body.arrivedAt)
  if (from && from.id !== resident.id)
    for (const stay of staysOf(house, from, Math.min(atMs, arrivedMs)))
      stays.push({ ...stay, toMs: Math.min(stay.toMs, arrivedMs) })
  let vesselId: string | null = resident.body.vesselId
  let sinceMs = arrivedMs
  for (const entry of house.active) {
    if (entry.kind !== 'move' || entry.residentId !== resident.id) continue
    const ms = entryMs(entry)
    if (ms > atMs) break
    if (vesselId !== null) stays.push({ vesselId, fromMs: sinceMs, toMs: ms })
    vesselId = entry.toVesselId
    sinceMs = ms
  }
  if (vesselId !== null && sinceMs <= atMs) stays.push({ vesselId, fromMs: sinceMs, toMs: atMs })
  return stays
}

interface TimedBath {
  readonly start: BathEntry
  readonly end: BathEntry | null
}
/** Baths of the record up to an instant, each start with its end. */
export function bathsUntil(house: House, atMs: number): TimedBath[] {
  const baths: { start: BathEntry; end: BathEntry | null }[] = []
  for (const entry of house.active) {
    if (entry.kind !== 'bath') continue
    const ms = entryMs(entry)
    if (ms > atMs) break
    if (entry.act === 'start') baths.push({ start: entry, end: null })
    else {
      const open = baths.findLast(
        ({ start, end }) => end === null && start.rule === entry.rule && start.courseId === entry.courseId,
      )
      if (open) open.end = entry
    }
  }
  return baths
}

/** What a bath gave: its bottle's use, or the method of its course; null for clocks that only count (pumps, air). */
function given(house: House, start: BathEntry): Exposure['what'] | null {
  const form = start.productId === undefined ? undefined : formGiven(start, house.record.products.get(start.productId))
  if (form) return { form }
  const course = start.courseId === undefined ? undefined : house.record.courses.get(start.courseId)
  const method = course ? methodOfCourse(course) : undefined
  return method?.route === 'bath' ? { method } : null
}

/** Who was in a bath: whom it names, else whom its course holds, else who lived there then. */
function bathed(house: House, start: BathEntry): readonly string[] {
  if (start.residentIds) return start.residentIds
  const course = start.courseId === undefined ? undefined : house.record.courses.get(start.courseId)
  if (course) return course.body.residents
  const where = residentVessels(house.record, house.active, entryMs(start))
  return [...where].filter(([, vesselId]) => vesselId === start.vesselId).map(([id]) => id)
}

/** Everything that still matters of what an animal was given up to an instant, latest first. */
export function exposuresOf(house: House, resident: ResidentDocument, atMs: number): Exposure[] {
  const found: Exposure[] = []
  const since = atMs - LOOK_BACK_MS
  const kin = new Set([resident.id, ...(resident.body.splitFrom === undefined ? [] : [resident.body.splitFrom])])
  for (const { start, end } of bathsUntil(house, atMs)) {
    const endMs = end ? entryMs(end) : entryMs(start)
    if (endMs < since || !bathed(house, start).some((id) => kin.has(id))) continue
    const what = given(house, start)
    if (what)
      found.push({
        what,
        kind: 'bath',
        atMs: endMs,
        vesselId: start.vesselId,
        ...(end?.minutes === undefined ? {} : { minutes: end.minutes }),
      })
  }
  const waters = new Map<string, Exposure>()
  for (const stay of staysOf(house, resident, atMs)) {
    if (stay.toMs < since) continue
    for (const entry of entriesOf(house, stay.vesselId)) {
      const ms = entryMs(entry)
      if (ms > stay.toMs) break
      if (ms < Math.max(stay.fromMs, since) || entry.kind !== 'dose') continue
      const form = formGiven(entry, house.record.products.get(entry.productId))
      if (form && form.route === 'in-tank')
        waters.set(`${stay.vesselId}/${form.id}`, { what: { form }, kind: 'water', atMs: ms, vesselId: stay.vesselId })
    }
  }
  found.push(...waters.values(), ...fedTo(house, resident, atMs))
  return found.sort((a, b) => b.atMs - a.atMs)
}

/** Medicated food of courses that hold the animal and run, or ended within the look-back. */
function fedTo(house: House, resident: ResidentDocument, atMs: number): Exposure[] {
  const found: Exposure[] = []
  for (const { body } of house.record.courses.values()) {
    const endMs = body.endedAt === undefined ? atMs : Math.min(atMs, instantMs(body.endedAt))
    if (instantMs(body.startedAt) > atMs || endMs < atMs - LOOK_BACK_MS || !body.residents.includes(resident.id))
      continue
    const roles = (body.protocol as { productRoles?: readonly { id: string; forms: readonly string[] }[] }).productRoles
    for (const [role, productId] of Object.entries(body.products)) {
      const product = house.record.products.get(productId)
      const allowed = roles?.find(({ id }) => id === role)?.forms
      const form = allowed ? formAmong(product?.body, allowed) : formGiven({}, product)
      if (form?.route === 'food') found.push({ what: { form }, kind: 'food', atMs: endMs, vesselId: body.vesselId })
    }
  }
  return found
}

/** Whether this very entry was a bath still running at an instant. */
export const openBaths = (house: House, atMs: number): readonly TimedBath[] =>
  bathsUntil(house, atMs).filter(({ start, end }) => end === null && given(house, start) !== null)
