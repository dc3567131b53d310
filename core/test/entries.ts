// Entries as a keeper's record holds them, for tests of what is read out of a record.
import { newCourseBody } from '../src/index.ts'
import type { CourseDocument, Entry } from '../src/index.ts'

/** The keeper's zone in these tests. */
export const ZONE = 'Europe/Berlin'
let sequence = 0

/** An entry written down when it happened; identifiers follow the order of making. */
export const entryAt = <E extends Entry = Entry>(ms: number, fields: object): E =>
  ({
    id: `made-${String(++sequence).padStart(6, '0')}`,
    at: new Date(ms).toISOString(),
    recordedAt: new Date(ms).toISOString(),
    zone: ZONE,
    ...fields,
  }) as unknown as E

/** A course of the register as the keeper's start of it leaves it, saved when it began. */
export const courseDocument = (id: string, options: Parameters<typeof newCourseBody>[0]): CourseDocument => ({
  register: 'course',
  id,
  revision: 1,
  savedAt: new Date(options.startMs).toISOString(),
  history: [],
  body: newCourseBody(options),
})
