// What campaigns are uneasy about, apart from the other concerns: it loads a moment after the round itself.
import type { ActiveLedger, CourseDocument, KeeperRecord } from '../record/types.ts'
import { campaignState } from '../outbreak/campaign.ts'
import type { Concern } from './concerns.ts'
import type { CoursePlan } from './plan.ts'

/** Concerns of every running campaign, those that must stop first. Pure over record, plans and time. */
export function campaignConcernsOf(
  record: KeeperRecord,
  active: ActiveLedger,
  plans: readonly CoursePlan[],
  nowMs: number,
): Concern[] {
  const found = plans.flatMap((plan) => {
    const course = record.courses.get(plan.courseId)
    const name = record.vessels.get(plan.vesselId)?.body.name ?? 'A vessel'
    return course ? campaignConcerns(record, active, plan, course, name, nowMs) : []
  })
  return found.sort((a, b) => Number(b.tone === 'danger') - Number(a.tone === 'danger'))
}

function campaignConcerns(
  record: KeeperRecord,
  active: ActiveLedger,
  plan: CoursePlan,
  course: CourseDocument,
  name: string,
  nowMs: number,
): Concern[] {
  const state = campaignState(record, active, course, nowMs)
  if (!state) return []
  const about = { vesselId: plan.vesselId, courseId: plan.courseId, action: 'see-course' as const }
  const stop = state.stop.tone === 'danger' && plan.progress.aborts.length === 0
  return [
    ...(stop
      ? [
          {
            ...about,
            id: `stop-${plan.courseId}`,
            title: `${plan.title}, ${name}:`,
            detail: state.stop.words,
            tone: 'danger' as const,
          },
        ]
      : []),
    ...state.alarms
      .filter(({ id }) => id !== 'silent' || !stop)
      .map(({ id, words, ask }) => ({
        ...about,
        id: `${id}-${plan.courseId}`,
        title: `${plan.title}, ${name}:`,
        detail: `${words} ${ask}`,
        tone: 'caution' as const,
      })),
  ]
}
