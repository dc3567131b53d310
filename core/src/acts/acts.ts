// The one room between what a keeper is about to do and the ledger: an intent is answered before it is done, and only
// an answered one can be committed.
import { err, ok, unreachable, type Result } from '../result.ts'
import type { Entry, RegisterDocument } from '../record/types.ts'
import { gravity } from '../safety/refusal.ts'
import { instantOf } from '../time/time.ts'
import { isGraver, mayPass, spoken, verdictOf } from './answer.ts'
import { leaveAct, moveAct, residentAct } from './animals.ts'
import { bathAct, bathEndAct } from './bath.ts'
import { changeAct } from './change.ts'
import { correctionAct } from './correction.ts'
import { containerAct } from './container.ts'
import { courseAct, courseEndAct, courseUsesAct } from './course.ts'
import { deviceHoursAct, devicePouredAct } from './device.ts'
import { doseAct } from './dose.ts'
import { equipmentAct } from './equipment.ts'
import { gearAct } from './gear.ts'
import { noteAct } from './note.ts'
import { readingAct, readingsAct } from './reading.ts'
import { bottleAct, vesselAct } from './registers.ts'
import { reportAct } from './report.ts'
import { tableAct } from './table.ts'
import type { ActContext, ActAnswer, Draft, Intent, Override } from './types.ts'

/** What the house answers to an intent. Pure: the same record, time and words give the same answer. */
export function answer(context: ActContext, intent: Intent): ActAnswer {
  switch (intent.kind) {
    case 'reading':
      return readingAct(context, intent)
    case 'readings':
      return readingsAct(context, intent)
    case 'table':
      return tableAct(context, intent)
    case 'device-hours':
      return deviceHoursAct(context, intent)
    case 'device-poured':
      return devicePouredAct(context, intent)
    case 'report':
      return reportAct(context, intent)
    case 'dose':
      return doseAct(context, intent)
    case 'change':
      return changeAct(context, intent)
    case 'bath':
      return bathAct(context, intent)
    case 'bath-end':
      return bathEndAct(context, intent)
    case 'move':
      return moveAct(context, intent)
    case 'leave':
      return leaveAct(context, intent)
    case 'resident':
      return residentAct(context, intent)
    case 'equipment':
      return equipmentAct(context, intent)
    case 'course':
      return courseAct(context, intent)
    case 'course-uses':
      return courseUsesAct(context, intent)
    case 'course-end':
      return courseEndAct(context, intent)
    case 'correction':
      return correctionAct(context, intent)
    case 'bottle':
      return bottleAct(context, intent)
    case 'vessel':
      return vesselAct(context, intent)
    case 'container':
      return containerAct(context, intent)
    case 'gear':
      return gearAct(context, intent)
    case 'note':
      return noteAct(context, intent)
    default:
      return unreachable(intent)
  }
}

/** What goes onto the ledger in one piece. */
export interface Commit {
  readonly actId: string
  readonly documents: readonly RegisterDocument[]
  readonly entries: readonly Entry[]
  readonly said: string
  /** The same act is on record already: nothing is written, and nothing is lost. */
  readonly already: boolean
}
export interface CommitProblem {
  readonly message: string
  /** The answer as it is now, to be shown instead. */
  readonly answer: ActAnswer
}

/**
 * An act for the ledger: answered once more by the record as it is at this moment, so that what happened in another tab
 * or while the dialog was open counts. Refused where it may not pass, or where something graver than what was shown
 * stands against it now. Entries take their ids from `actId`: the same press twice is one act.
 */
export function commitAct(
  context: ActContext,
  intent: Intent,
  options: { readonly actId: string; readonly override: Override; readonly shown?: ActAnswer },
): Result<Commit, CommitProblem> {
  const { actId, override, shown } = options
  const made = context.record.entries.filter(({ id }) => id === actId || id.startsWith(`${actId}-`))
  if (made.length > 0) return ok({ actId, documents: [], entries: made, said: '', already: true })
  const now = answer(context, intent)
  if (now.problem !== null) return err({ message: now.problem, answer: now })
  if (shown && isGraver(now, shown))
    return err({ message: `Something changed meanwhile. ${spoken(now)[0]!.message}`, answer: now })
  if (!mayPass(now, override))
    return err({
      message: spoken(now).find(({ level }) => gravity(level) >= gravity('ask'))?.message ?? 'This may not pass.',
      answer: now,
    })
  const drafts: Draft[] = [...now.drafts, ...overrideDrafts(now, intent, override)]
  const entries = drafts.map(({ atMs, ...draft }, i) => ({
    ...draft,
    id: i === 0 ? actId : `${actId}-${i}`,
    // Two clocks that differ a little make no future: what was just written has happened.
    at: instantOf(Math.min(atMs ?? context.nowMs, context.nowMs)),
    zone: context.record.settings.zone,
    recordedAt: instantOf(context.nowMs),
  })) as unknown as Entry[]
  return ok({ actId, documents: now.documents, entries, said: now.said, already: false })
}

/** The blocks that were passed, each as the entry that records it beside its act. */
function overrideDrafts(now: ActAnswer, intent: Intent, override: Override): Draft[] {
  const vesselId = 'vesselId' in intent ? intent.vesselId : undefined
  if (vesselId === undefined) return []
  const course = intent.kind === 'course' ? intent.id : 'courseId' in intent ? intent.courseId : undefined
  const atMs = 'atMs' in intent ? intent.atMs : undefined
  return now.refusals
    .filter(({ level }) => level === 'block')
    .map(
      ({ rule, message }) =>
        ({
          kind: 'override',
          vesselId,
          ...(course === undefined ? {} : { courseId: course }),
          ...(atMs === undefined ? {} : { atMs }),
          rule,
          words: override.words.trim().slice(0, 1000),
          about: message.slice(0, 400),
        }) as unknown as Draft,
    )
}

export { mayPass, spoken, verdictOf }
