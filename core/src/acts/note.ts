// Everything that leaves no dose behind: notes, meals, signs, counts, gates and ticks. Times and references are checked
// all the same, and the same press twice is one entry.
import type { RegisterDocument } from '../record/types.ts'
import { entryMs } from '../time/time.ts'
import { ask, forbid, type Refusal } from '../safety/refusal.ts'
import { benchRefusals } from './benchPress.ts'
import { answerOf, problemAnswer } from './answer.ts'
import type { TallyEntry } from '../outbreak/measures.ts'
import { checkInstant, checkStep, protocolOfCourse } from './place.ts'
import type { ActContext, ActAnswer, Draft, NoteIntent } from './types.ts'

/** Two presses within this are one. */
const AGAIN_MS = 5_000

/** What has an act of its own is never noted past it. */
const OWN_ACTS: ReadonlySet<string> = new Set([
  'dose',
  'change',
  'reading',
  'bath',
  'move',
  'equipment',
  'override',
  'heads',
])
/** Clocks of air and of pumps are baths by name only: nothing was given in them. */
const isClock = (draft: Draft): boolean =>
  draft.kind === 'bath' && draft.productId === undefined && draft.residentIds === undefined

export function noteAct(context: ActContext, intent: NoteIntent): ActAnswer {
  const found: Refusal[] = []
  for (const draft of intent.drafts) {
    if (OWN_ACTS.has(draft.kind) && !isClock(draft))
      throw new RangeError(`noteAct: a ${draft.kind} is an act of its own`)
    const one = draft as Draft & {
      vesselId?: string
      courseId?: string
      step?: string
      atMs?: number
      corrects?: string
    }
    found.push(...checkInstant(context, one.vesselId, one.atMs ?? context.nowMs, context.nowMs))
    if (one.vesselId !== undefined && one.step !== undefined)
      found.push(
        ...checkStep(context, {
          vesselId: one.vesselId,
          step: one.step,
          ...(one.atMs === undefined ? {} : { atMs: one.atMs }),
          ...(one.corrects === undefined ? {} : { corrects: one.corrects }),
        }),
      )
    if (one.kind === 'void' && !context.record.entries.some(({ id }) => id === one.voids))
      return problemAnswer('What is to be struck out is not on record any more.')
    if (one.kind === 'heads' && !context.record.residents.has(one.residentId))
      return problemAnswer('That animal is not on record any more.')
    // What is only called by its right name has been in air already.
    if (one.kind === 'done' && one.bench !== undefined && one.vesselId !== undefined && one.corrects === undefined)
      found.push(...benchRefusals(context, { ...one, bench: one.bench, vesselId: one.vesselId }))
    if (one.kind === 'tally') found.push(...countQuestions(context, one))
    if (twin(context, one))
      found.push(forbid('twice', 'The same was noted a moment ago; it stands on the ledger once.'))
  }
  const stale = (intent.documents ?? []).find((document) => revisionOf(context, document) !== document.revision - 1)
  if (stale)
    return problemAnswer(
      'This was changed in another tab in the meantime. Look at it again; what you typed is still here.',
    )
  return answerOf({ found, drafts: intent.drafts, documents: intent.documents ?? [], said: intent.said })
}

/** What a count says that can hardly be: more removed than were there, longer in air than is ever planned. */
function countQuestions(
  { record }: ActContext,
  { courseId = '', measure: id, values }: Pick<TallyEntry, 'courseId' | 'measure' | 'values'>,
): Refusal[] {
  const course = record.courses.get(courseId)
  const measure = (course ? (protocolOfCourse(course).campaign?.measures ?? []) : []).find((one) => one.id === id)
  return (measure?.fields ?? []).flatMap((field) => {
    const value = values[field.id]
    if (value === undefined) return []
    const whole = measure!.fields.find((one) => one.id === field.partOf)
    const all = whole && values[whole.id]
    const high = field.askAbove !== undefined && value > field.askAbove
    return [
      ...(whole && all !== undefined && value > all
        ? [
            ask(
              'count-part',
              `“${field.label}” says ${value}, and “${whole.label}” only ${all}. Look at both numbers again: is that what was counted?`,
            ),
          ]
        : []),
      ...(high
        ? [
            ask(
              'count-high',
              `“${field.label}” says ${value}; more than ${field.askAbove} is not planned. Is the number right?`,
            ),
          ]
        : []),
    ]
  })
}

const REGISTERS = {
  vessel: 'vessels',
  resident: 'residents',
  product: 'products',
  instrument: 'instruments',
  course: 'courses',
  arrival: 'arrivals',
  gear: 'gear',
  sample: 'samples',
  device: 'devices',
  finding: 'findings',
  planned: 'planned',
  protocol: 'protocols',
} as const
/** Revision that is on record of a document; 0 where there is none. */
export const revisionOf = ({ record }: Pick<ActContext, 'record'>, document: RegisterDocument): number =>
  record[REGISTERS[document.register]].get(document.id)?.revision ?? 0

/** The very same entry just now. */
function twin(context: ActContext, draft: object): boolean {
  const wanted = JSON.stringify({ ...draft, atMs: undefined })
  for (let i = context.active.length - 1; i >= 0; i--) {
    const entry = context.active[i]!
    if (context.nowMs - entryMs(entry) > AGAIN_MS) return false
    const { id: _id, at: _at, zone: _zone, recordedAt: _recorded, ...rest } = entry
    if (JSON.stringify(rest) === wanted) return true
  }
  return false
}
