// Measures of running courses that a counted slide or a measured picture answers.
import type { Protocol } from '../knowledge/protocols.ts'
import { runningCourses } from '../record/running.ts'
import type { CourseDocument, KeeperRecord } from '../record/types.ts'
import type { Measure } from './measures.ts'

/** What a slide counts: classes of objects, and the rest of them. */
const COUNTED = new Set(['dinoflagellate', 'diatom', 'green', 'cyanobacteria', 'ciliate', 'other', 'rest'])

/** Measures of the courses that run in a vessel and are the points of a grid, of a hundred, that lie on a growth. */
export const campaignsCovering = (
  record: KeeperRecord,
  vesselId: string,
  nowMs: number,
): readonly { readonly course: CourseDocument; readonly measure: Measure }[] =>
  runningCourses(record, nowMs)
    .filter(({ body }) => body.vesselId === vesselId)
    .flatMap((course) =>
      ((course.body.protocol as unknown as Protocol).campaign?.measures ?? [])
        .filter(({ id, fields }) => id === 'cover' && fields.length === 1 && fields[0]!.id === 'points')
        .map((measure) => ({ course, measure })),
    )

/** Measures of the courses that run in a vessel and of which every field is a class of objects on a slide. */
export function campaignsCounting(
  record: KeeperRecord,
  vesselId: string,
  nowMs: number,
): readonly { readonly course: CourseDocument; readonly measure: Measure }[] {
  return runningCourses(record, nowMs)
    .filter(({ body }) => body.vesselId === vesselId)
    .flatMap((course) =>
      ((course.body.protocol as unknown as Protocol).campaign?.measures ?? [])
        .filter(({ fields }) => fields.every(({ id }) => COUNTED.has(id)))
        .map((measure) => ({ course, measure })),
    )
}
