// A vessel kept free of fish: since when it counts, what began the count anew, who stands in the way, and when it ends.
import { groupOf } from '../knowledge/agents.ts'
import type { Condition } from '../knowledge/protocols.ts'
import { carriedInto } from '../record/gear.ts'
import { indexOf } from '../record/ledgerIndex.ts'
import { residentVessels } from '../record/whereabouts.ts'
import { entryMs, instantMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { valueFor, type CourseContext } from './courseContext.ts'
import { countsEverythingWet, waitsForHosts } from '../knowledge/hosts.ts'
import { warmDays, warmDaysIn, type WarmDaysState } from './warmDays.ts'

export interface FallowState {
  /** Fish that are in the vessel now, by name: while one is, nothing counts. */
  readonly inside: readonly string[]
  /** Instant since which it counts, or null. */
  readonly sinceMs: number | null
  /** What began the count anew after the course began, or null. */
  readonly restart: HostEvent | null
  /** When it ends if nothing goes in; by warmth, if it stays as warm as the last days were. Null while that is not known. */
  readonly endMs: number | null
}

export interface HostEvent {
  readonly atMs: number
  /**
   * A fish that was put in after the course began, another animal where everything wet counts, one of the first fish that
   * went out, or gear.
   */
  readonly by: 'fish' | 'wet' | 'leaving' | 'gear'
  readonly what: string
}

/** Everything that brought a host, or its parasites, into the vessel or took it out since the course began. */
function hostEvents(context: CourseContext): HostEvent[] {
  const vesselId = context.course.body.vesselId
  const { moves } = indexOf(context.allActive)
  const nameOf = (id: string) => context.record.residents.get(id)?.body.name ?? 'A fish'
  const found: HostEvent[] = []
  const putIn = new Set<string>()
  for (const entry of moves) {
    if (entry.kind !== 'move' || !isFish(context, entry.residentId) || entryMs(entry) > context.nowMs) continue
    if (entry.toVesselId === vesselId) {
      if (entryMs(entry) > context.startMs) putIn.add(entry.residentId)
      found.push({ atMs: entryMs(entry), by: 'fish', what: `${nameOf(entry.residentId)} was put in` })
    } else if (entry.vesselId === vesselId)
      found.push({
        atMs: entryMs(entry),
        by: putIn.has(entry.residentId) ? 'fish' : 'leaving',
        what: `${nameOf(entry.residentId)} was taken out again`,
      })
  }
  // A fish that died or left here was a host until then.
  for (const { id, body } of context.record.residents.values()) {
    if (body.leftAt === undefined || body.vesselId !== vesselId || !isFish(context, id)) continue
    const leftMs = instantMs(body.leftAt)
    if (leftMs <= context.nowMs) found.push({ atMs: leftMs, by: 'leaving', what: `${body.name} left it` })
  }
  if (countsEverythingWet(context.protocol)) {
    const wet = (id: string) => context.record.residents.has(id) && !isFish(context, id)
    for (const entry of moves)
      if (entry.kind === 'move' && entry.toVesselId === vesselId && wet(entry.residentId))
        found.push({ atMs: entryMs(entry), by: 'wet', what: `${nameOf(entry.residentId)} was put in` })
    for (const { id, body } of context.record.residents.values())
      if (body.vesselId === vesselId && wet(id))
        found.push({ atMs: instantMs(body.arrivedAt), by: 'wet', what: `${body.name} came in` })
  }
  // Gear that came wet from another vessel brings what lives there.
  for (const { entry, gear } of carriedInto(context.record, moves, vesselId, context.startMs, context.nowMs))
    found.push({ atMs: entryMs(entry), by: 'gear', what: `${gear?.body.name ?? 'gear'} came wet from another vessel` })
  return found.filter(({ atMs }) => atMs > context.startMs && atMs <= context.nowMs).sort((a, b) => a.atMs - b.atMs)
}
const isFish = (context: CourseContext, residentId: string): boolean =>
  groupOf(context.record.residents.get(residentId)?.body.group ?? '')?.kind === 'fish'

/** Fish that are in the vessel now. */
function inside(context: CourseContext): string[] {
  const { moves } = indexOf(context.allActive)
  const where = residentVessels(context.record, moves, context.nowMs)
  return [...where]
    .filter(([id, place]) => place === context.course.body.vesselId && isFish(context, id))
    .map(([id]) => context.record.residents.get(id)?.body.name ?? 'A fish')
}

/** Latest instant since which no fish has been in the vessel, or null while one is there. */
export function lastHostOutMs(context: CourseContext): number | null {
  if (inside(context).length > 0) return null
  return Math.max(context.startMs, hostEvents(context).at(-1)?.atMs ?? context.startMs)
}

/** How a fish-free vessel stands that counts by warmth: since when, and its days. Null where the course asks no warmth. */
export function warmWait(
  context: CourseContext,
): { readonly sinceMs: number | null; readonly state: WarmDaysState | null } | null {
  const condition = context.protocol.phases.map(({ exit }) => warmDaysIn(exit)).find((found) => found !== null)
  if (!condition) return null
  const sinceMs = lastHostOutMs(context)
  return { sinceMs, state: sinceMs === null ? null : warmDays(condition, context, sinceMs) }
}

/** Hours a way out counts from the last host, or null. */
function hoursIn(condition: Condition, context: CourseContext): number | null {
  if (condition.kind === 'elapsed' && condition.since === 'last-host-out')
    return valueFor(condition.hours, context, 'h')
  if (condition.kind !== 'all' && condition.kind !== 'any') return null
  const found = condition.of.flatMap((part) => hoursIn(part, context) ?? [])
  return found.length === 0 ? null : Math.max(...found)
}

/** Where a course stands that waits for its vessel to be free of fish; null for every other course. */
export function fallowState(context: CourseContext): FallowState | null {
  if (!waitsForHosts(context.protocol)) return null
  const here = inside(context)
  const sinceMs = lastHostOutMs(context)
  const last = hostEvents(context).at(-1)
  const hours = context.protocol.phases.map(({ exit }) => hoursIn(exit, context)).find((found) => found !== null)
  const warm = warmWait(context)
  const endMs =
    sinceMs === null
      ? null
      : hours !== undefined && hours !== null
        ? sinceMs + hours * MS_PER_HOUR
        : (warm?.state?.endMs ?? null)
  return { inside: here, sinceMs, restart: last ?? null, endMs }
}
