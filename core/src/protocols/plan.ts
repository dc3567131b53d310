// The plan: a pure function of the record, the estimates and the time. Late, early, missed, repeated, corrected —
// all of it is just a different record.
import { runningCourses } from '../record/running.ts'
import type { CourseEstimate } from '../level/estimate.ts'
import { agentForm } from '../knowledge/agents.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import type { ActiveLedger, CourseDocument, KeeperRecord } from '../record/types.ts'
import { againstWater, partyOf } from '../safety/gate.ts'
import type { KnownLevel } from '../safety/level.ts'
import { daysBetween } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { backInside } from './backInside.ts'
import { courseContext } from './courseContext.ts'
import { courseBand, type CourseBand } from './courseInputs.ts'
import { fallowState, type FallowState } from './fallow.ts'
import { knownLevels } from './known.ts'
import { houseOf } from './offers.ts'
import { courseProgress, endsByItself, findRule, untilMs, type CourseProgress } from './progress.ts'
import { stepsOfRule } from './rules/registry.ts'
import type { Builder, Step } from './stepBuilder.ts'

export interface CoursePlan {
  readonly courseId: string
  readonly vesselId: string
  readonly title: string
  readonly progress: CourseProgress
  readonly band: CourseBand | null
  readonly steps: readonly Step[]
  /** Day of the course, the first being 0, and the fewest days it takes in all. */
  readonly day: number
  readonly leastDays: number
  /** For a vessel kept free of fish: since when it counts, and its end. */
  readonly fallow: FallowState | null
}

export interface PlanOptions {
  readonly record: KeeperRecord
  readonly active: ActiveLedger
  readonly estimates: ReadonlyMap<string, CourseEstimate>
  readonly nowMs: number
  /** Levels the estimates vouch for; worked out where left out. */
  readonly known?: readonly KnownLevel[]
  /** How far ahead steps are laid out, days. */
  readonly aheadDays?: number
}

/** Plans of all running courses. Deterministic: the same record, estimates and time give the same steps. */
export function plan(options: PlanOptions): CoursePlan[] {
  const known = knownLevels(options.record, options.active, options.estimates, options.nowMs)
  return runningCourses(options.record, options.nowMs).map((course) => planCourse(course, { ...options, known }))
}

/** Plan of one course. */
export function planCourse(course: CourseDocument, options: PlanOptions): CoursePlan {
  const { record, active, nowMs } = options
  const estimate = options.estimates.get(course.id) ?? null
  const context = courseContext(record, active, course, nowMs, estimate?.clock ?? null)
  const progress = courseProgress(context)
  const band = courseBand(context)
  const builder: Builder = {
    context,
    progress,
    band,
    estimate,
    known: options.known ?? knownLevels(record, active, options.estimates, nowMs),
    enoughMs: (rule, phaseMs) => untilMs(rule, context, phaseMs),
    aheadMs: nowMs + (options.aheadDays ?? 7) * 24 * MS_PER_HOUR,
  }
  const steps: Step[] = []
  progress.phases.forEach(({ phase, enteredMs, exitedMs }) => {
    if (enteredMs === null) return
    for (const rule of phase.rules) {
      steps.push(...stepsOfRule(rule, builder, enteredMs, exitedMs).map((step) => heldBack(step, builder)))
    }
  })
  const current = progress.phases.findLast(({ enteredMs, exitedMs }) => enteredMs !== null && exitedMs === null)
  if (current) steps.push(...backInside(builder, current.phase))
  // What is due at one hour keeps the order of its protocol: the tub is emptied before it is sterilised.
  const order = new Map(context.protocol.phases.flatMap(({ rules }) => rules).map(({ id }, i) => [id, i]))
  const place = ({ ruleId }: Step) => order.get(ruleId) ?? order.size
  steps.sort((a, b) => a.dueMs - b.dueMs || place(a) - place(b) || (a.key < b.key ? -1 : 1))
  const fallow = fallowState(context)
  // Where all phases are over, a rhythm has nothing left to ask for; what is done once still stands until it is done.
  const asked =
    progress.finishedMs === null
      ? steps
      : steps.filter(({ state, ruleId }) => {
          const rule = findRule(context.protocol, ruleId)
          return state === 'done' || state === 'skipped' || !rule || endsByItself(rule)
        })
  return {
    courseId: course.id,
    vesselId: course.body.vesselId,
    title: context.protocol.title,
    progress,
    band,
    steps: readFirst(readyFirst(asked, place, context.protocol), band),
    // A vessel kept free of fish counts from its last host, not from the course's first day.
    day: fallow
      ? fallow.sinceMs === null
        ? 0
        : daysBetween(fallow.sinceMs, nowMs, context.zone)
      : daysBetween(context.startMs, nowMs, context.zone),
    leastDays: leastDays(context.protocol),
    fallow,
  }
}

/**
 * An amount that the water refuses is not offered: carbon still at work, another drug in it. The step waits and says for
 * what; the gate would say the same.
 */
function heldBack(step: Step, { context, known }: Builder): Step {
  const { dose, change, ...rest } = step
  const productId = dose?.productId ?? change?.makeUp?.productId
  if ((step.state !== 'due' && step.state !== 'late') || productId === undefined || step.kind === 'bath') return step
  const vessel = context.record.vessels.get(step.vesselId)
  const product = context.record.products.get(productId)
  const form = product && agentForm(product.body.form)
  if (!vessel || !form || form.route !== 'in-tank') return step
  const refusal = againstWater(houseOf(context), vessel, partyOf(form, context.nowMs), context.nowMs, known).find(
    ({ level }) => level === 'block' || level === 'forbid',
  )
  return refusal ? { ...rest, state: 'waiting', detail: `First: ${refusal.message}` } : step
}

/**
 * A dose waits for what its protocol has done before it: carbon and lamps out, what it would kill out, water for a change
 * at hand. Whether carbon runs is asked, and not taken for harmless while nobody said.
 */
function readyFirst(steps: readonly Step[], place: (step: Step) => number, protocol: Protocol): readonly Step[] {
  const open = ({ state }: Step) => state === 'due' || state === 'late'
  const once = ({ ruleId }: Step) => {
    const rule = findRule(protocol, ruleId)
    return rule?.kind === 'task' && rule.everyDays === undefined
  }
  const before = steps.filter((step) => open(step) && (once(step) || step.equipment?.on === false))
  if (before.length === 0) return steps
  return steps.map((step) => {
    const { dose, ...rest } = step
    const first = dose && open(step) && step.kind !== 'bath' ? before.filter((one) => place(one) < place(step)) : []
    if (first.length === 0) return step
    const named = first.map(({ title }) => title).join('; ')
    return { ...rest, state: 'waiting' as const, detail: `First: ${named}. Then it stands here with its amount.` }
  })
}

/** A top-up is measured by the newest reading there is: where the test is due now, it stands before it and is named. */
function readFirst(steps: readonly Step[], band: CourseBand | null): readonly Step[] {
  const at = steps.findIndex(
    ({ kind, state, test }) =>
      kind === 'test' && state === 'due' && test?.analyte === band?.form.agent && test?.wished !== true,
  )
  if (at < 0) return steps
  const follows = (step: Step) => step.kind === 'hold' && step.dose !== undefined && step.state !== 'ahead'
  const later = steps
    .filter(follows)
    .map((step) => ({ ...step, detail: `Test first, it is due now: the amount follows from it. ${step.detail}` }))
  const others = steps.filter((step) => !follows(step))
  const place = others.indexOf(steps[at]!) + 1
  return [...others.slice(0, place), ...later, ...others.slice(place)]
}

/** Fewest days a protocol takes: its phases' usual days. */
export const leastDays = (protocol: Protocol): number =>
  Math.round(protocol.phases.reduce((sum, { typicalDays }) => sum + typicalDays, 0))
