// Which courses run.
import { instantMs } from '../time/time.ts'
import type { CourseDocument, KeeperRecord } from './types.ts'

/** Courses that run at this instant. */
export const runningCourses = (record: KeeperRecord, nowMs: number): CourseDocument[] =>
  [...record.courses.values()].filter(
    ({ body }) => instantMs(body.startedAt) <= nowMs && (body.endedAt === undefined || instantMs(body.endedAt) > nowMs),
  )
