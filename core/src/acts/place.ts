// Where and when an act happens: the vessel, the instant, the course that asked for it, the step not yet done.
import { asChosen, type Protocol } from '../knowledge/protocols.ts'
import { indexOf } from '../record/ledgerIndex.ts'
import type { CourseDocument, House } from '../record/types.ts'
import { dayOf, instantMs } from '../time/time.ts'
import { ask, forbid, type Refusal } from '../safety/refusal.ts'
import { coursesIn } from '../safety/water.ts'
import type { ActContext, Place } from './types.ts'

/** A minute or two of two clocks that differ is no future. */
const CLOCK_SLACK_MS = 5 * 60_000
/** The oldest day a ledger may speak of, and years ahead of now that no entry may bear. */
const OLDEST_MS = Date.UTC(1990, 0, 1)

/** Protocol of a course, as the way that was chosen runs it. */
export const protocolOfCourse = ({ body }: CourseDocument): Protocol =>
  asChosen(body.protocol as unknown as Protocol, body.variant)
export const atOf = (context: Pick<ActContext, 'nowMs'>, { atMs }: Pick<Place, 'atMs'>): number => atMs ?? context.nowMs

/** Whether an instant may stand on the ledger of a vessel. */
export function checkInstant(
  { record }: Pick<House, 'record'>,
  vesselId: string | undefined,
  atMs: number,
  nowMs: number,
): Refusal[] {
  if (!Number.isFinite(atMs)) return [forbid('time', 'The time cannot be read. Write it as 20:10, or choose a day.')]
  if (atMs > nowMs + CLOCK_SLACK_MS)
    return [
      forbid(
        'time-future',
        'That time lies in the future. The ledger holds what has happened; the plan holds what will.',
      ),
    ]
  if (atMs < OLDEST_MS)
    return [forbid('time-ancient', `${dayOf(atMs, 'UTC')} is before any aquarium of yours. Correct the year.`)]
  const vessel = vesselId === undefined ? undefined : record.vessels.get(vesselId)
  if (vesselId !== undefined && !vessel) return [forbid('vessel', 'That vessel is not on the shelf.')]
  if (vessel && atMs < instantMs(vessel.body.startedAt))
    return [
      forbid(
        'time-before-vessel',
        `${vessel.body.name} did not exist yet at that time. Correct the time, or since when the vessel runs.`,
      ),
    ]
  return []
}

/**
 * The course an act belongs to: that of the step that asked for it, else the one named, else the only one that fits.
 * Two courses in one vessel never borrow from each other.
 */
export function courseFor(
  context: ActContext,
  place: Place,
  fits: (course: CourseDocument) => boolean = () => true,
): CourseDocument | undefined {
  const asked = place.step?.split('/')[0] ?? place.courseId
  if (asked !== undefined) return context.record.courses.get(asked)
  const fitting = coursesIn(context, place.vesselId, atOf(context, place)).filter(fits)
  return fitting.length === 1 ? fitting[0] : undefined
}

/** What every draft of an act bears. */
export function baseOf(context: ActContext, place: Place, course: CourseDocument | undefined) {
  return {
    vesselId: place.vesselId,
    ...(place.atMs === undefined ? {} : { atMs: place.atMs }),
    ...(course ? { courseId: course.id } : {}),
    ...(place.step === undefined ? {} : { step: place.step }),
    ...(place.corrects === undefined ? {} : { corrects: place.corrects }),
    ...(place.note === undefined || place.note.trim() === '' ? {} : { note: place.note.trim() }),
  }
}

/** What happened meanwhile to the course and the step an act was prepared for. */
export function checkStep(context: ActContext, place: Place): Refusal[] {
  const found: Refusal[] = []
  const id = place.step?.split('/')[0] ?? place.courseId
  if (id !== undefined) {
    const course = context.record.courses.get(id)
    if (!course)
      found.push(ask('course-gone', 'The course this belongs to is not on record any more. Note it all the same?'))
    else if (course.body.endedAt !== undefined && instantMs(course.body.endedAt) < atOf(context, place))
      found.push(ask('course-ended', `“${protocolOfCourse(course).title}” was ended meanwhile. Did this still happen?`))
  }
  if (place.step !== undefined && place.corrects === undefined) {
    const ledger = indexOf(context.active).byVessel.get(place.vesselId)
    const done = ledger?.byStep.get(place.step)
    if (done && done.kind !== 'skip')
      found.push(ask('step-done', 'This step was noted already, perhaps in another tab. Really once more?'))
  }
  return found
}
