// Courses in one vessel that ask unlike things of it, or that run there twice, and which of them comes first.
import { limitOf } from '../knowledge/limits.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import type { CourseDocument, KeeperRecord } from '../record/types.ts'
import { instantMs } from '../time/time.ts'
import type { Concern } from './concerns.ts'
import type { CoursePlan } from './plan.ts'

type Asks = NonNullable<Protocol['phases'][number]['asks']>
const OF: Readonly<Record<keyof Asks, string>> = {
  flow: 'flow',
  light: 'light',
  temperature: 'warmth',
  feeding: 'food',
}

const WHY: Readonly<Record<Protocol['purpose'], string>> = {
  treatment: 'it treats animals that are ill',
  fallow: 'its count begins anew when it is broken',
  intake: 'it keeps disease and pests out',
  settling: 'the newcomer has no strength to spare',
  introduction: 'animals that meet cannot be put off',
  campaign: 'a pest or film can be fought a week later',
  adjustment: 'its steps can be spread over more days',
  prevention: 'it is only done to be safe',
  observation: 'it only looks',
}
/** Of two courses the one that goes first: by purpose, of two alike the one begun earlier. @source limits `before-…` */
export function firstOf(
  one: { readonly purpose: Protocol['purpose']; readonly startMs: number },
  other: { readonly purpose: Protocol['purpose']; readonly startMs: number },
): 'one' | 'other' {
  const apart = limitOf(`before-${one.purpose}`) - limitOf(`before-${other.purpose}`)
  return apart < 0 || (apart === 0 && one.startMs <= other.startMs) ? 'one' : 'other'
}

/** What a running course asks of its vessel now. */
const asksOf = ({ progress }: CoursePlan): Asks =>
  progress.current === null ? {} : (progress.phases[progress.current]?.phase.asks ?? {})

/** Unlike demands and doubles, told once per pair. Pure over the plans. */
export function unlikeConcerns(record: KeeperRecord, plans: readonly CoursePlan[]): Concern[] {
  const found: Concern[] = []
  const running = plans.filter(({ progress }) => progress.finishedMs === null)
  running.forEach((one, i) => {
    for (const other of running.slice(i + 1)) {
      if (other.vesselId !== one.vesselId) continue
      const name = record.vessels.get(one.vesselId)?.body.name ?? 'one vessel'
      const about = { vesselId: one.vesselId, courseId: other.courseId, action: 'see-course' as const }
      const [a, b] = [record.courses.get(one.courseId), record.courses.get(other.courseId)]
      if (a && b && a.body.protocolId === b.body.protocolId && sameAnimals(a.body.residents, b.body.residents))
        found.push({
          ...about,
          id: `twice-${one.courseId}-${other.courseId}`,
          title: `“${one.title}” runs twice in ${name}:`,
          detail: 'every step stands there twice. End the one that was begun by mistake.',
          tone: 'caution',
        })
      const mine = asksOf(one)
      const theirs = asksOf(other)
      const settled = a && b ? settledBy(a, b) : 'Decide which comes first; the other can wait or be ended.'
      for (const key of Object.keys(OF) as (keyof Asks)[])
        if (mine[key] !== undefined && theirs[key] !== undefined && mine[key] !== theirs[key])
          found.push({
            ...about,
            id: `unlike-${key}-${one.courseId}-${other.courseId}`,
            title: `Two courses ask unlike things of the ${OF[key]} in ${name}:`,
            detail: `“${one.title}” wants it ${mine[key]}, “${other.title}” ${theirs[key]}. ${settled}`,
            tone: 'caution',
          })
    }
  })
  return found
}
/** Which of two courses goes first and what becomes of the other, in words. */
function settledBy(a: CourseDocument, b: CourseDocument): string {
  const of = (course: CourseDocument) => ({
    purpose: (course.body.protocol as unknown as Protocol).purpose,
    startMs: instantMs(course.body.startedAt),
  })
  const [first, second] = firstOf(of(a), of(b)) === 'one' ? [a, b] : [b, a]
  const title = (course: CourseDocument) => (course.body.protocol as unknown as Protocol).title
  const why = of(first).purpose === of(second).purpose ? 'it was begun first' : WHY[of(first).purpose]
  return `“${title(first)}” goes first: ${why}. Leave the steps of “${title(second)}” out in words until it is over, or end it and begin it again then.`
}
/** The same animals, or one of them about nobody in particular. */
const sameAnimals = (a: readonly string[], b: readonly string[]): boolean =>
  (a.length === 0 && b.length === 0) || a.some((id) => b.includes(id))
