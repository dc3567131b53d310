// Animals that move, leave, come: by number where they are a group, asked of the water they go to and the course they
// would walk out of.
import { groupOf } from '../knowledge/agents.ts'
import { revised } from '../record/account.ts'
import { residentVessels } from '../record/whereabouts.ts'
import { deathsBetween, headsAt } from '../record/heads.ts'
import type { CourseDocument, RegisterDocument, ResidentDocument, VesselDocument } from '../record/types.ts'
import { countsEverythingWet, waitsForHosts } from '../knowledge/hosts.ts'
import { intoVessel, nameOf, waterOf } from '../safety/gate.ts'
import { freshReading } from '../safety/limits.ts'
import { ask, block, forbid, warn, type Refusal } from '../safety/refusal.ts'
import { coursesIn } from '../safety/water.ts'
import { instantMs, instantOf, minuteStart } from '../time/time.ts'
import { readCount } from './amounts.ts'
import { answerOf, problemAnswer } from './answer.ts'
import { atOf, checkInstant, checkStep, courseFor, protocolOfCourse } from './place.ts'
import type { ActContext, ActAnswer, Draft, LeaveIntent, MoveIntent, ResidentIntent } from './types.ts'

const trim = (value: number): string => String(Number(value.toPrecision(3)))
/** Differences of two waters that are told before an animal goes from one to the other. @source handbook 20; 30 §5.4 */
const TELL = { temperature: { by: 2, unit: '°C' }, salinity: { by: 2, unit: 'PSU' } } as const

interface Mover {
  readonly resident: ResidentDocument
  readonly fromId: string
  readonly heads: number
  readonly count: number
}

/** Who moves, how many of each, from where; or the sentence that says who cannot. */
function moversOf(
  context: ActContext,
  chosen: MoveIntent['residents'],
  atMs: number,
): { readonly movers: Mover[]; readonly found: Refusal[] } | string {
  if (chosen.length === 0) return 'Nobody is chosen.'
  const where = residentVessels(context.record, context.active, Math.max(atMs, context.nowMs))
  const movers: Mover[] = []
  const found: Refusal[] = []
  for (const { id, count } of chosen) {
    const resident = context.record.residents.get(id)
    if (!resident) return 'An animal of this move is not on record any more.'
    const fromId = where.get(id)
    if (fromId === null || fromId === undefined) {
      found.push(forbid('gone', `${resident.body.name} is not on the shelf any more: it died or left meanwhile.`))
      continue
    }
    const heads = headsAt(context.active, resident, Math.max(atMs, context.nowMs))
    const wanted = count ?? heads
    if (!Number.isInteger(wanted) || wanted < 1) return `How many of ${resident.body.name}? A whole number, at least 1.`
    if (wanted > heads) return `${resident.body.name} is ${heads} by the record; ${wanted} cannot go.`
    movers.push({ resident, fromId, heads, count: wanted })
  }
  return { movers, found }
}

/** Courses that hold an animal and are not over: walking out of one leaves it unprotected. */
const unfinished = (
  context: ActContext,
  resident: ResidentDocument,
  vesselId: string,
  atMs: number,
): CourseDocument[] =>
  coursesIn(context, vesselId, atMs).filter(
    ({ body }) =>
      body.residents.includes(resident.id) &&
      body.protocol !== undefined &&
      ['treatment', 'prevention', 'intake', 'observation'].includes(
        String((body.protocol as { purpose?: string }).purpose),
      ),
  )

/** Whether a move belongs to a course itself: one of its transfers, or between vessels it takes turns in. */
const isOwnMove = (course: CourseDocument, intent: MoveIntent): boolean =>
  intent.step?.startsWith(`${course.id}/`) === true ||
  Object.values(course.body.vessels ?? {}).includes(intent.toVesselId) ||
  (intent.toVesselId === course.body.vesselId && course.body.vessels !== undefined)

/** What two waters differ in, where both were read within a day. */
function waterDifference(context: ActContext, from: VesselDocument, to: VesselDocument, atMs: number): Refusal[] {
  return (Object.entries(TELL) as [keyof typeof TELL, (typeof TELL)[keyof typeof TELL]][]).flatMap(
    ([analyte, { by, unit }]) => {
      const a = freshReading(context, from.id, analyte, atMs, 48)
      const b = freshReading(context, to.id, analyte, atMs, 48)
      if (!a || !b || Math.abs(a.value - b.value) <= by) return []
      return [
        warn(
          `differs-${analyte}`,
          `${from.body.name} was read at ${trim(a.value)} ${unit}, ${to.body.name} at ${trim(b.value)} ${unit}: acclimate.`,
        ),
      ]
    },
  )
}

/** Animals from one vessel to another. */
export function moveAct(context: ActContext, intent: MoveIntent): ActAnswer {
  const { record } = context
  if (intent.toVesselId === '') return problemAnswer('Where to? Choose the vessel.')
  const to = record.vessels.get(intent.toVesselId)
  if (!to) return problemAnswer('That vessel is not on the shelf.')
  const atMs = atOf(context, intent)
  const read = moversOf(context, intent.residents, atMs)
  if (typeof read === 'string') return problemAnswer(read)
  const found: Refusal[] = [
    ...checkInstant(context, to.id, atMs, context.nowMs),
    ...checkStep(context, intent),
    ...read.found,
  ]
  if (to.body.archivedAt !== undefined) found.push(block('archived', `${to.body.name} was taken off the shelf.`))
  const drafts: Draft[] = []
  const documents: RegisterDocument[] = []
  const asking = courseFor(
    context,
    {
      vesselId: to.id,
      ...(intent.step === undefined ? {} : { step: intent.step }),
      ...(intent.courseId === undefined ? {} : { courseId: intent.courseId }),
    },
    () => false,
  )
  for (const { resident, fromId, heads, count } of read.movers) {
    const from = record.vessels.get(fromId)
    if (fromId === to.id) {
      if (read.movers.length === 1) return problemAnswer(`${resident.body.name} is already there.`)
      continue
    }
    found.push(...intoVessel(context, resident, to, atMs, context.known, from))
    if (from) found.push(...waterDifference(context, from, to, atMs))
    if (groupOf(resident.body.group)?.kind === 'fish')
      for (const course of coursesIn(context, to.id, atMs))
        if (waitsForHosts(course.body.protocol) && !isOwnMove(course, intent))
          found.push(
            block(
              'fallow',
              `${to.body.name} lies without fish (“${protocolOfCourse(course).title}”). ${nameOf(resident)} in there starts the whole count again, and may meet what it waits out.`,
            ),
          )
        else found.push(...wetAgain(context, resident, to, atMs))
    for (const course of unfinished(context, resident, fromId, atMs))
      if (!isOwnMove(course, intent))
        found.push(
          ask(
            'course-unfinished',
            `“${protocolOfCourse(course).title}” is not over for ${resident.body.name}: what it has earned ends here, and it is not cleared. Move it all the same?`,
          ),
        )
    const base = {
      vesselId: fromId,
      ...(intent.atMs === undefined ? {} : { atMs: intent.atMs }),
      ...(asking ? { courseId: asking.id } : {}),
      ...(intent.note === undefined || intent.note.trim() === '' ? {} : { note: intent.note.trim() }),
    }
    if (count === heads)
      drafts.push({ kind: 'move', ...base, residentId: resident.id, toVesselId: to.id } as unknown as Draft)
    else {
      const part = splitOf(context, resident, to.id, count, atMs)
      documents.push(part)
      drafts.push({
        kind: 'heads',
        ...base,
        residentId: resident.id,
        change: -count,
        why: 'split',
        otherId: part.id,
      } as unknown as Draft)
    }
  }
  if (intent.early !== undefined) found.push(block('livestock-back', intent.early))
  if (intent.step !== undefined)
    drafts.push({
      kind: 'done',
      vesselId: asking?.body.vesselId ?? to.id,
      ...(intent.atMs === undefined ? {} : { atMs: intent.atMs }),
      ...(asking ? { courseId: asking.id } : {}),
      step: intent.step,
      what: `Moved to ${to.body.name}`.slice(0, 120),
    } as unknown as Draft)
  if (drafts.length === 0 && found.length === 0) return problemAnswer('They are all there already.')
  const names = read.movers.map(({ resident, count, heads }) =>
    count < heads ? `${count} of ${resident.body.name}` : resident.body.name,
  )
  return answerOf({ found, drafts, documents, said: `${names.join(', ')}: now in ${to.body.name}.` })
}

/** Part of a group as a group of its own, with the life of the whole behind it. */
function splitOf(
  context: ActContext,
  resident: ResidentDocument,
  vesselId: string,
  count: number,
  atMs: number,
): ResidentDocument {
  const used = [...context.record.residents.keys()].filter((id) => id.startsWith(`${resident.id}-p`)).length
  const { arrivalId: _arrival, leftAt: _left, leftHow: _how, ...body } = resident.body
  return {
    register: 'resident',
    id: `${resident.id.slice(0, 70)}-p${used + 1}`,
    revision: 1,
    savedAt: instantOf(context.nowMs),
    body: { ...body, count, vesselId, arrivedAt: instantOf(atMs), splitFrom: resident.id },
    history: [],
  }
}

/** Animals that died, were given away or are gone. */
export function leaveAct(context: ActContext, intent: LeaveIntent): ActAnswer {
  const atMs = atOf(context, intent)
  const read = moversOf(context, intent.residents, atMs)
  if (typeof read === 'string') return problemAnswer(read)
  const found: Refusal[] = [...checkInstant(context, intent.vesselId, atMs, context.nowMs), ...read.found]
  const drafts: Draft[] = []
  const documents: RegisterDocument[] = []
  for (const { resident, fromId, heads, count } of read.movers) {
    const base = {
      vesselId: fromId,
      residentId: resident.id,
      ...(intent.atMs === undefined ? {} : { atMs: intent.atMs }),
      ...(intent.note === undefined || intent.note.trim() === '' ? {} : { note: intent.note.trim() }),
    }
    if (resident.body.count > 1 || count < heads)
      drafts.push({
        kind: 'heads',
        ...base,
        change: -count,
        why: intent.how === 'rehomed' ? 'rehomed' : intent.how === 'died' ? 'died' : 'other',
      } as unknown as Draft)
    if (count === heads) {
      drafts.push({ kind: 'move', ...base, toVesselId: null } as unknown as Draft)
      documents.push(
        revised(resident, { ...resident.body, leftAt: instantOf(atMs), leftHow: intent.how }, instantOf(context.nowMs)),
      )
    }
    if (intent.how === 'died') {
      const before = deathsBetween(context.active, resident.id, atMs - 7 * 86_400_000, atMs)
      if (before + count >= 3)
        found.push(
          warn(
            'several-deaths',
            `${before + count} of ${resident.body.name} in a week: open a finding, and read ammonia, oxygen and temperature now.`,
          ),
        )
    }
  }
  const word = { died: 'died', rehomed: 'given away', other: 'gone' }[intent.how]
  const names = read.movers.map(({ resident, count, heads }) =>
    count < heads ? `${count} of ${resident.body.name}` : resident.body.name,
  )
  return answerOf({ found, drafts, documents, said: `${names.join(', ')}: ${word}.` })
}

/** A new animal or group in a vessel, out of a bag or registered as living there. */
export function residentAct(context: ActContext, intent: ResidentIntent): ActAnswer {
  const vessel = context.record.vessels.get(intent.vesselId)
  if (!vessel) return problemAnswer('That vessel is not on the shelf.')
  if (intent.body.name.trim() === '') return problemAnswer('What will you call it? Type its common name.')
  if (intent.body.name.trim().length > 80)
    return problemAnswer('The name is longer than 80 letters: shorten it, and keep the rest in a note.')
  const count = readCount(intent.count, 'How many')
  if (!count.ok) return problemAnswer(count.error)
  const atMs = atOf(context, intent)
  const resident: ResidentDocument = {
    register: 'resident',
    id: intent.residentId,
    revision: 1,
    savedAt: instantOf(context.nowMs),
    body: {
      ...intent.body,
      name: intent.body.name.trim(),
      count: count.value,
      vesselId: vessel.id,
      arrivedAt: instantOf(minuteStart(Math.min(atMs, context.nowMs))),
    },
    history: [],
  }
  const found: Refusal[] = [
    ...checkInstant(context, vessel.id, atMs, context.nowMs),
    ...intoVessel(context, resident, vessel, atMs, context.known),
  ]
  if (groupOf(resident.body.group)?.kind === 'fish')
    for (const course of coursesIn(context, vessel.id, atMs))
      if (waitsForHosts(course.body.protocol))
        found.push(
          block(
            'fallow',
            `${vessel.body.name} lies without fish (“${protocolOfCourse(course).title}”). ${nameOf(resident)} in there starts the whole count again.`,
          ),
        )
  if (groupOf(resident.body.group)?.kind !== 'fish') found.push(...wetAgain(context, resident, vessel, atMs))
  if (waterOf(resident.body) === null && !groupOf(resident.body.group))
    found.push(forbid('group', 'Which kind of animal is it? Choose a group.'))
  const courses: RegisterDocument[] = (intent.courses ?? []).map((body, i) => ({
    register: 'course',
    id: `${intent.residentId.slice(0, 70)}-c${i + 1}`,
    revision: 1,
    savedAt: instantOf(context.nowMs),
    body: { ...body, residents: [intent.residentId] },
    history: [],
  }))
  return answerOf({
    found,
    drafts: (intent.with ?? []).map((draft) => (intent.atMs === undefined ? draft : { ...draft, atMs: intent.atMs })),
    documents: [resident, ...courses],
    said: `${resident.body.name} lives in ${vessel.body.name} now.`,
  })
}

/** When an animal came, for pages that sort by it. */
export const cameMs = ({ body }: ResidentDocument): number => instantMs(body.arrivedAt)

/** Another wet animal into an intake that counts its days: the count of all of them begins anew. */
function wetAgain(context: ActContext, resident: ResidentDocument, to: VesselDocument, atMs: number): Refusal[] {
  return coursesIn(context, to.id, atMs).flatMap((course) =>
    countsEverythingWet(course.body.protocol)
      ? [
          ask(
            'intake-wet',
            `“${protocolOfCourse(course).title}” runs in ${to.body.name}: ${nameOf(resident)} comes in wet, and the days of all that is in there begin anew. Put it in all the same?`,
          ),
        ]
      : [],
  )
}
