// Days of a rule that is done every day or every few days: which stand, which are over, and which are history.
import type { RuleOf } from '../../knowledge/protocols.ts'
import type { Entry } from '../../record/types.ts'
import { addDays, atHourOfDay, dayOf, daysBetween, entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { make, type Builder, type Made, type Step } from '../stepBuilder.ts'

/** One stretch of days of a rule, from midnight to midnight of the keeper's zone. */
export interface DaySpan {
  readonly dueMs: number
  readonly dayStart: number
  readonly dayEnd: number
}
export interface DailyWork {
  readonly everyDays: number
  /** Days after the phase began on which it starts, and after which it ends. */
  readonly fromDay?: number | undefined
  readonly untilDay?: number | undefined
  readonly made: Pick<Made, 'detail' | 'minutes' | 'steers'>
  /** What else than an entry for its step counts as done in a stretch. */
  readonly doneIn?: (span: DaySpan) => Entry | undefined
  /** From when the rest of today's follows, where only a part of it was done; null where nothing is left. */
  readonly restMs?: () => number | null
  /** A stretch that was not done yet and stands in another way. */
  readonly open?: (occurrence: number, span: DaySpan) => Step
}

/** Steps of a daily rule: today's, those ahead, and what was missed for one day. */
export function dailySteps(
  rule: RuleOf<'observe' | 'feed' | 'task'>,
  builder: Builder,
  phaseMs: number,
  exitMs: number | null,
  { everyDays, fromDay = 0, untilDay = Infinity, made, doneIn, restMs, open }: DailyWork,
): Step[] {
  const { context } = builder
  const { zone, nowMs } = context
  const steps: Step[] = []
  const endMs = Math.min(exitMs ?? builder.aheadMs, builder.aheadMs)
  const firstDay = dayOf(phaseMs, zone)
  // What ended more than three days ago is history on the ledger, not a step; what still lasts stands to its last day.
  const skipDays = Math.max(0, daysBetween(phaseMs, nowMs, zone) - 3)
  const first = Math.floor(skipDays / everyDays)
  const last = first + 30 + Math.ceil(fromDay / everyDays)
  for (let i = first; i < last; i++) {
    const day = addDays(firstDay, i * everyDays)
    if (i * everyDays < fromDay) continue
    if (i * everyDays > untilDay) break
    const dueMs = atHourOfDay(day, context.course.body.dailyHour, zone)
    if (dueMs > endMs) break
    const span = { dueMs, dayStart: atHourOfDay(day, 0, zone), dayEnd: atHourOfDay(addDays(day, everyDays), 0, zone) }
    const { dayStart, dayEnd } = span
    if (dayEnd <= phaseMs) continue
    const pressed = context.byStep.get(`${context.course.id}/${rule.id}/${i}`)
    const begun = pressed ?? doneIn?.(span)
    const rest = begun && !pressed && nowMs >= dayStart && nowMs < dayEnd ? (restMs?.() ?? null) : null
    const done = rest === null ? begun : undefined
    if (open && !done) {
      steps.push(open(i, span))
      continue
    }
    steps.push(
      make(rule, builder, i, {
        ...made,
        dueMs: rest ?? dueMs,
        fromMs: rest ?? dayStart,
        untilMs: dayEnd,
        ...(done
          ? { state: 'done' as const, doneMs: entryMs(done), entryId: done.id }
          : rest !== null
            ? { state: nowMs >= rest ? ('due' as const) : ('ahead' as const) }
            : dayState(nowMs, span)),
      }),
    )
  }
  // A day that is over and was missed stays visible for one day, then it is history.
  // A task of every day that was missed yesterday is today's task, where there is one today.
  const today = steps.some(({ fromMs, untilMs }) => fromMs <= nowMs && untilMs > nowMs)
  const daily = rule.kind === 'task' && everyDays === 1 && today
  return steps.filter((step) => step.state !== 'late' || (!daily && nowMs - step.untilMs < 24 * MS_PER_HOUR))
}

/** Where a stretch stands that was not done: today's is open, an earlier one late, a later one ahead. */
export const dayState = (nowMs: number, { dayStart, dayEnd }: DaySpan): Pick<Made, 'state'> =>
  nowMs >= dayEnd ? { state: 'late' } : nowMs >= dayStart ? {} : { state: 'ahead' }
