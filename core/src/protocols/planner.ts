// Plans that are kept: after an append only the courses it can touch are planned anew.
import type { KeeperRecord } from '../record/types.ts'
import { ledgerOf, indexOf } from '../record/ledgerIndex.ts'
import { residentVessels } from '../record/whereabouts.ts'
import { knownLevels } from './known.ts'
import { runningCourses } from '../record/running.ts'
import { planCourse, type CoursePlan, type PlanOptions } from './plan.ts'

/** What one plan was made from; it stands while all of it is the same. */
type Inputs = readonly unknown[]

/** A course that cannot be worked out, and why. */
export interface CourseFault {
  readonly courseId: string
  readonly vesselId: string
  readonly message: string
}
export interface Planned {
  readonly plans: CoursePlan[]
  readonly faults: readonly CourseFault[]
}

/**
 * A planner remembers its last plans. The answer of each call deep-equals `plan` of the same options: a course is
 * planned anew when its document, its vessels' ledger, what reaches across vessels, a register, its estimate or the
 * time has changed, and otherwise its plan is the very one of before.
 */
export function createPlanner(): (options: PlanOptions) => Planned {
  let kept = new Map<string, { readonly inputs: Inputs; readonly plan: CoursePlan }>()
  return (asked) => {
    const options = { ...asked, known: knownLevels(asked.record, asked.active, asked.estimates, asked.nowMs) }
    const next = new Map<string, { readonly inputs: Inputs; readonly plan: CoursePlan }>()
    const faults: CourseFault[] = []
    const where = residentVessels(options.record, options.active, options.nowMs)
    const plans = runningCourses(options.record, options.nowMs).flatMap((course): CoursePlan[] => {
      const inputs = inputsOf(options, course.id, where)
      const before = kept.get(course.id)
      const same = before !== undefined && before.inputs.every((input, i) => Object.is(input, inputs[i]))
      if (same) {
        next.set(course.id, before)
        return [before.plan]
      }
      try {
        const plan = planCourse(course, options)
        next.set(course.id, { inputs, plan })
        return [plan]
      } catch (cause) {
        // A course that cannot be worked out stands alone with its fault: the others go on.
        faults.push({ courseId: course.id, vesselId: course.body.vesselId, message: (cause as Error).message })
        return []
      }
    })
    kept = next
    return { plans, faults }
  }
}

function inputsOf(
  { record, active, estimates, nowMs, aheadDays }: PlanOptions,
  courseId: string,
  where: ReadonlyMap<string, string | null>,
): Inputs {
  const course = record.courses.get(courseId)!
  // Its own vessels, and where its animals live: a bath takes their warmth from there.
  const places = [
    ...new Set([
      course.body.vesselId,
      ...Object.values(course.body.vessels ?? {}),
      ...course.body.residents.flatMap((id) => where.get(id) ?? []),
    ]),
  ]
  const beside = [...estimates].flatMap(([id, estimate]) =>
    places.includes(record.courses.get(id)?.body.vesselId ?? '') ? [estimate] : [],
  )
  return [
    course,
    nowMs,
    aheadDays,
    estimates.get(courseId),
    beside.length,
    ...beside,
    ...registersOf(record),
    indexOf(active).moves,
    places.length,
    ...places.map((id) => ledgerOf(active, new Set([id])).entries),
  ]
}

/** Registers whose maps are made anew with every record are compared by what they hold. */
function registersOf(record: KeeperRecord): readonly unknown[] {
  const maps = [record.vessels, record.residents, record.products, record.instruments, record.gear]
  return [record.settings, ...maps.flatMap((map) => [map.size, ...(map.values() as Iterable<unknown>)])]
}
