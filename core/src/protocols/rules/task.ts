// A task: once, standing until it is done, or every so many days.
import { limitOf } from '../../knowledge/limits.ts'
import type { RuleOf } from '../../knowledge/protocols.ts'
import { addedMeasure } from '../../outbreak/measures.ts'
import { steerState } from '../../outbreak/steerState.ts'
import { entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { entriesBetween, type CourseContext } from '../courseContext.ts'
import { fallowState } from '../fallow.ts'
import { make, type Builder, type Step } from '../stepBuilder.ts'
import { dailySteps } from './daily.ts'
import type { RuleKind } from './kind.ts'
import { donePress } from './kind.ts'

function steps(rule: RuleOf<'task'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { everyDays, fromDay, untilDay, steers, minutes } = rule
  if (everyDays === undefined) return onceStep(rule, builder, phaseMs, exitMs)
  const inside = rule.whileEmpty === true ? (fallowState(builder.context)?.inside ?? []) : []
  return dailySteps(rule, builder, phaseMs, exitMs, {
    everyDays,
    fromDay,
    untilDay,
    made: { detail: rule.text, ...(minutes === undefined ? {} : { minutes }), ...(steers ? { steers } : {}) },
    ...(inside.length > 0
      ? {
          open: (i, { dueMs }) =>
            make(rule, builder, i, { detail: `Not yet: ${inside.join(', ')} inside.`, dueMs, state: 'waiting' }),
        }
      : {}),
    ...(steers
      ? {
          doneIn: ({ dayStart, dayEnd }) => pouredBetween(steers, builder.context, dayStart, dayEnd),
          restMs: () => nextPortionMs(steers, builder.context),
        }
      : {}),
  })
}

/** How long a task that is done once may take before it is late, h. */
const ONCE_TOLERANCE_H = limitOf('task-late')

/**
 * A task that is done once: it stands on its own hour, waits there until it is done or left out in words, and outlasts its
 * phase. Only what was not due yet when the phase ended never comes.
 */
function onceStep(rule: RuleOf<'task'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context } = builder
  const dueMs = phaseMs + (rule.atHours ?? 0) * MS_PER_HOUR
  if (dueMs > builder.aheadMs || (exitMs !== null && dueMs > exitMs)) return []
  const done = context.byStep.get(`${context.course.id}/${rule.id}/0`)
  return [
    make(
      rule,
      builder,
      0,
      {
        detail: rule.text,
        dueMs,
        ...(rule.minutes === undefined ? {} : { minutes: rule.minutes }),
        ...(rule.steers ? { steers: rule.steers } : {}),
        ...(rule.opens ? { opens: rule.opens } : {}),
        ...(done ? { state: 'done' as const, doneMs: entryMs(done), entryId: done.id } : {}),
      },
      ONCE_TOLERANCE_H,
    ),
  ]
}

/** The last of a day's additions where all of the corrections were poured. */
function pouredBetween(ids: readonly string[], context: CourseContext, fromMs: number, toMs: number) {
  const entries = entriesBetween(context, fromMs, toMs)
  const poured = ids.map((id) =>
    entries.findLast((entry) => entry.kind === 'tally' && entry.measure === addedMeasure(id)),
  )
  return poured.every((entry) => entry !== undefined) ? poured.at(-1) : undefined
}

/** Share of a day's pace below which what is left of it is no portion any more. */
const LEAST_REST = limitOf('correction-near')
/** From when the earliest of the portions that today still asks for may go in; null where the day's amounts are in. */
function nextPortionMs(ids: readonly string[], { record, allActive, placeId, nowMs }: CourseContext): number | null {
  const next = ids.flatMap((id) => {
    const state = steerState(record, allActive, placeId, id, nowMs)
    const apart = state?.correction.portions?.apartMinutes
    if (apart === undefined || !(state!.rise > LEAST_REST * state!.correction.perDay)) return []
    const last = allActive.findLast(
      (entry) =>
        entry.kind === 'tally' &&
        entry.vesselId === placeId &&
        entry.measure === addedMeasure(id) &&
        entryMs(entry) <= nowMs,
    )
    return last ? [entryMs(last) + apart * 60_000] : []
  })
  return next.length > 0 ? Math.min(...next) : null
}

/** The rule of every campaign that asks for the cause checklist. */
const CAUSES = 'causes'

export const task: RuleKind<'task'> = {
  steps,
  leavesOut: true,
  occurrences: (rule) => (rule.everyDays === undefined ? [0] : null),
  calendar(rule, pen) {
    if (rule.everyDays === undefined) pen.item((rule.atHours ?? 0) / 24)
    else pen.through(rule.everyDays, rule.fromDay ?? 0)
  },
  presses(step) {
    if (step.opens === 'walk') return [{ to: 'page', label: 'Walk', page: 'walk' }, ...donePress(step, 'Done')]
    // Nothing may be to add today: then it is looked at, and done.
    if (step.steers) return [{ to: 'page', label: 'Amounts', page: 'steering' }, ...donePress(step, 'Done for today')]
    if (step.ruleId === CAUSES)
      return [{ to: 'page', label: 'Open the checklist', page: 'causes' }, ...donePress(step, 'Done')]
    return donePress(step, 'Done')
  },
}
