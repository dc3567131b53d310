// How often animals were caught, moved or bathed lately, and whether the next thing may wait.
import type { ActiveLedger, CourseDocument, Entry, KeeperRecord } from '../record/types.ts'
import { entryMs } from '../time/time.ts'

const DAY = 86_400_000
/** Catches in a week over which rest is offered; the most is what one tank transfer asks. @source EST, handbook 30 §5 */
export const MOST_A_WEEK = 3
const STABLE_DAYS = 2

export interface Handling {
  /** Moves and baths of the course's animals in the last seven days. */
  readonly times: number
  readonly lastMs: number | null
  /** No sign seen on them for two days, though somebody looked. */
  readonly stable: boolean
  /** Rest is offered: much was done, and nothing gets worse. */
  readonly rest: boolean
}

/** Handling of a course's animals in the week before an instant. Moves within a minute of each other count once. */
export function handlingOf(
  record: KeeperRecord,
  active: ActiveLedger,
  course: CourseDocument,
  nowMs: number,
): Handling {
  const animals = new Set(course.body.residents)
  const times: number[] = []
  let seen = false
  let looked = false
  for (const entry of active) {
    const ms = entryMs(entry)
    if (ms > nowMs) break
    const age = nowMs - ms
    if (age <= 7 * DAY) {
      const caught =
        (entry.kind === 'move' && animals.has(entry.residentId)) ||
        (entry.kind === 'bath' && entry.courseId === course.id && entry.act === 'start') ||
        (entry.kind === 'bath' && entry.courseId === course.id && entry.act === 'end' && !startedBefore(active, entry))
      if (caught && (times.length === 0 || ms - times.at(-1)! > 60_000)) times.push(ms)
    }
    if (age <= STABLE_DAYS * DAY && entry.kind === 'sign') {
      const theirs =
        entry.residentId === undefined ? entry.vesselId === course.body.vesselId : animals.has(entry.residentId)
      if (theirs) {
        looked = true
        if (entry.present) seen = true
      }
    }
    if (age <= STABLE_DAYS * DAY && entry.kind === 'done' && entry.courseId === course.id) looked = true
  }
  const stable = looked && !seen
  return { times: times.length, lastMs: times.at(-1) ?? null, stable, rest: times.length > MOST_A_WEEK && stable }
}

const startedBefore = (active: ActiveLedger, end: Extract<Entry, { kind: 'bath' }>): boolean =>
  active.some(
    (entry) =>
      entry.kind === 'bath' &&
      entry.act === 'start' &&
      entry.courseId === end.courseId &&
      entry.step === end.step &&
      entryMs(entry) <= entryMs(end),
  )
