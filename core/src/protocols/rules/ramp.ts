// A level raised in steps, each confirmed by a reading.
import type { RuleOf } from '../../knowledge/protocols.ts'
import { entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { rampLevelsOf } from '../rampProgress.ts'
import { doneDoses, doseOf, fixed, roleWord, unconfirmed } from '../levelDose.ts'
import { make, type Builder, type Step } from '../stepBuilder.ts'
import type { RuleKind } from './kind.ts'
import { checkForms, never, pourPress } from './kind.ts'

function steps(rule: RuleOf<'ramp'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context, progress, estimate } = builder
  const done = doneDoses(rule, builder, phaseMs, exitMs)
  const { ramp } = progress
  if (exitMs !== null || !ramp) return done
  const levels = rampLevelsOf(context, rule.role)
  const level = levels[ramp.confirmed]
  if (level === undefined) return done
  const spacingMs = (context.variant.spacingHours ?? rule.spacingHours) * MS_PER_HOUR
  const testAfterMs = (context.variant.testAfterHours ?? rule.testAfterHours ?? 0) * MS_PER_HOUR
  const repeat = ramp.lastDoseMs !== null && !ramp.awaitingReading && (ramp.confirmedAtMs.at(-1) ?? 0) < ramp.lastDoseMs
  const baseMs =
    ramp.lastDoseMs === null ? phaseMs : repeat ? (ramp.lastReadingMs ?? phaseMs) : ramp.lastDoseMs + spacingMs
  const steps: Step[] = []
  const occurrence = done.length
  const lastMeal = context.entries.findLast((entry) => entry.kind === 'meal' && entry.took === 'took')
  const mealGateMs = (rule.mealGateHours ?? 0) * MS_PER_HOUR
  // The first step may go into water where the fish have not fed since arrival; every later one needs a meal.
  const hungry =
    mealGateMs > 0 &&
    ramp.lastDoseMs !== null &&
    (lastMeal === undefined || context.nowMs - entryMs(lastMeal) > mealGateMs)
  const title = `Raise ${roleWord(context, rule.role)} to ${level} mg/L, step ${ramp.confirmed + 1} of ${levels.length}`
  const again = unconfirmed(builder)
  if (ramp.awaitingReading) {
    const testMs = ramp.lastDoseMs! + Math.max(testAfterMs, MS_PER_HOUR / 2)
    steps.push(
      make(rule, builder, occurrence, {
        title,
        detail: `Waits for a reading after the last dose. A reading of ${level} mg/L within the kit's error opens the next step.`,
        dueMs: Math.max(baseMs, testMs),
        state: 'waiting',
      }),
    )
  } else if (again !== null) {
    steps.push(make(rule, builder, occurrence, { title, detail: again, dueMs: baseMs, state: 'waiting' }))
  } else {
    const dose = builder.band && estimate?.stale !== true ? doseOf(builder, rule.role, level, estimate) : null
    const blocked = hungry && context.nowMs >= baseMs
    steps.push(
      make(rule, builder, occurrence, {
        title,
        detail: blocked
          ? 'Waits for a meal: a fish must eat before each step. Log a meal that was taken.'
          : dose
            ? `From ${fixed(dose.fromMgPerL)} to ${fixed(dose.toMgPerL)} mg/L in ${Math.round(dose.volumeL)} L.`
            : 'The amount is being worked out.',
        dueMs: baseMs,
        untilMs: baseMs + 4 * MS_PER_HOUR,
        // A step that waits carries no amount: there is nothing to pour yet.
        ...(dose && !blocked ? { dose } : {}),
        ...(blocked ? { state: 'waiting' as const } : {}),
      }),
    )
  }
  const lastDue = steps.at(-1)!.dueMs
  levels.slice(ramp.confirmed + 1).forEach((later, i) => {
    const dueMs = Math.max(lastDue, context.nowMs) + (i + 1) * spacingMs
    if (dueMs <= builder.aheadMs) {
      steps.push(
        make(rule, builder, occurrence + 1 + i, {
          title: `Raise to ${later} mg/L, step ${ramp.confirmed + 2 + i} of ${levels.length}`,
          detail: 'The amount follows from the reading before it.',
          dueMs,
          state: 'ahead',
        }),
      )
    }
  })
  return [...done, ...steps]
}

export const ramp: RuleKind<'ramp'> = {
  steps,
  occurrences: never,
  calendar: (_rule, pen) => pen.item(0),
  pauseHours: (rule, { variant }) => variant?.spacingHours ?? rule.spacingHours,
  problems: (rule, check) => checkForms(check, rule.role, 'in-tank'),
  presses: pourPress,
}
