// A file is opened as the application would open it, before any of it is taken: read, summed up, planned, estimated.
import { activeOf, courseInputs, createPlanner, estimateCourse, levelsIn, recordOf, runningCourses } from '@brinvo/core'
import { MIGRATIONS, readFile, type FileReport } from '@brinvo/core/file'

export interface OpenInput {
  readonly text: string
  /** Leave out every line that is not sound. */
  readonly leaveOut: boolean
  readonly nowMs: number
}
export interface Opened {
  readonly report: FileReport
  /** What could not be worked out of it, in words; each stands alone once the file is taken. */
  readonly faults: readonly string[]
}

/** Grid of the estimates of a rehearsal: whether it can be done, not how fine. */
const REHEARSAL_GRID = 10

/** Reads a file and works everything out once; a time limit is the caller's. */
export function openFile({ text, leaveOut, nowMs }: OpenInput): Opened {
  const report = readFile(text, MIGRATIONS, undefined, { leaveOut })
  if (!report.file) return { report, faults: [] }
  const { settings, registers, entries } = report.file
  const record = recordOf(settings, registers, entries)
  const active = activeOf(record.entries)
  const faults: string[] = []
  const title = (id: string) => (record.courses.get(id)?.body.protocol as { title?: string } | undefined)?.title ?? id
  const planned = createPlanner()({ record, active, estimates: new Map(), nowMs })
  for (const { courseId, message } of planned.faults) faults.push(`${title(courseId)}: ${message}`)
  for (const id of record.vessels.keys()) levelsIn({ record, active }, id, nowMs)
  for (const course of runningCourses(record, nowMs)) {
    if (planned.faults.some(({ courseId }) => courseId === course.id)) continue
    const inputs = courseInputs(record, active, course, nowMs, REHEARSAL_GRID)
    if (inputs) estimateCourse(inputs.inputs)
  }
  return { report, faults }
}
