// Animals of a course together in one vessel: read from where each of them was, however they were moved.
import { indexOf } from '../record/ledgerIndex.ts'
import { residentVessels } from '../record/whereabouts.ts'
import { entryMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import type { CourseContext } from './courseContext.ts'

/** The vessel a place of a protocol stands for: "own", or a role of the course; null while it is not chosen. */
export const placeIn = ({ course }: Pick<CourseContext, 'course'>, place: string): string | null =>
  place === 'own' ? course.body.vesselId : (course.body.vessels?.[place] ?? null)

interface Stretch {
  readonly fromMs: number
  /** Null while it lasts. */
  readonly toMs: number | null
}
/** Stretches in which all of them were in the vessel, oldest first. */
export function togetherIn(context: CourseContext, place: string, sinceMs: number): Stretch[] {
  const vesselId = placeIn(context, place)
  const { residents } = context.course.body
  if (vesselId === null || residents.length === 0) return []
  const { moves } = indexOf(context.allActive)
  const times = [
    sinceMs,
    ...moves.flatMap((entry) =>
      entry.kind === 'move' && residents.includes(entry.residentId) ? [entryMs(entry)] : [],
    ),
  ].filter((ms) => ms >= sinceMs && ms <= context.nowMs)
  const found: Stretch[] = []
  let fromMs: number | null = null
  for (const ms of [...new Set(times)].sort((a, b) => a - b)) {
    const where = residentVessels(context.record, moves, ms)
    const all = residents.every((id) => where.get(id) === vesselId)
    if (all) fromMs ??= ms
    else if (fromMs !== null) {
      found.push({ fromMs, toMs: ms })
      fromMs = null
    }
  }
  return fromMs === null ? found : [...found, { fromMs, toMs: null }]
}

/** When they had been together for so many hours in one stretch; null while they were not. */
export function togetherMs(context: CourseContext, place: string, sinceMs: number, hours: number): number | null {
  for (const { fromMs, toMs } of togetherIn(context, place, sinceMs)) {
    const dueMs = fromMs + hours * MS_PER_HOUR
    if (dueMs <= (toMs ?? context.nowMs)) return dueMs
  }
  return null
}
