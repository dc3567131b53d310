// Courses in one vessel that ask unlike things of it, or that run there twice.
import type { Protocol } from '../knowledge/protocols.ts'
import type { KeeperRecord } from '../record/types.ts'
import type { Concern } from './concerns.ts'
import type { CoursePlan } from './plan.ts'

type Asks = NonNullable<Protocol['phases'][number]['asks']>
const OF: Readonly<Record<keyof Asks, string>> = {
  flow: 'flow',
  light: 'light',
  temperature: 'warmth',
  feeding: 'food',
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
      for (const key of Object.keys(OF) as (keyof Asks)[])
        if (mine[key] !== undefined && theirs[key] !== undefined && mine[key] !== theirs[key])
          found.push({
            ...about,
            id: `unlike-${key}-${one.courseId}-${other.courseId}`,
            title: `Two courses ask unlike things of the ${OF[key]} in ${name}:`,
            detail: `“${one.title}” wants it ${mine[key]}, “${other.title}” ${theirs[key]}. Decide which comes first; the other can wait or be ended.`,
            tone: 'caution',
          })
    }
  })
  return found
}
/** The same animals, or one of them about nobody in particular. */
const sameAnimals = (a: readonly string[], b: readonly string[]): boolean =>
  (a.length === 0 && b.length === 0) || a.some((id) => b.includes(id))
