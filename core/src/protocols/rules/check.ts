// Looks at fixed hours after the phase began, and on the next morning, answered with one press.
import type { RuleOf } from '../../knowledge/protocols.ts'
import { addDays, atHourOfDay, dayOf, entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { make, type Builder, type Step } from '../stepBuilder.ts'
import type { RuleKind } from './kind.ts'

function steps(rule: RuleOf<'check'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context } = builder
  const { zone } = context
  const check = { what: rule.id, answers: rule.answers }
  const due = rule.atHours.map((hours) => ({ ms: phaseMs + hours * MS_PER_HOUR, hours }))
  if (rule.nextMorning === true) {
    // Before the keeper's hour of the next day a look would be the same evening's.
    const ms = atHourOfDay(addDays(dayOf(phaseMs, zone), 1), Math.min(12, context.course.body.dailyHour), zone)
    due.push({ ms, hours: (ms - phaseMs) / MS_PER_HOUR })
  }
  return due.flatMap(({ ms, hours }, i) => {
    const done = context.byStep.get(`${context.course.id}/${rule.id}/${i}`)
    if (exitMs !== null && !done) return []
    // The later look takes the place of one that was missed.
    const next = due[i + 1]?.ms ?? Infinity
    if (!done && context.nowMs >= next) return []
    const tolerance = Math.max(0.25, Math.min(4, hours / 2))
    return [
      make(
        rule,
        builder,
        i,
        {
          detail: rule.text ?? `${hours < 1 ? `${Math.round(hours * 60)} min` : `${Math.round(hours)} h`} after.`,
          dueMs: ms,
          check,
          ...(done ? { state: 'done' as const, doneMs: entryMs(done), entryId: done.id } : {}),
        },
        tolerance,
      ),
    ]
  })
}

export const check: RuleKind<'check'> = {
  steps,
  occurrences: (rule) => [...rule.atHours, ...(rule.nextMorning === true ? [0] : [])].map((_, i) => i),
  calendar: (rule, pen) => rule.atHours.forEach((hour) => pen.item(hour / 24)),
  presses: (step) =>
    step.check!.answers.map(({ id, label, tone }) => ({
      to: 'write',
      label,
      tone,
      said: `${step.title}: ${label.toLowerCase()}.`,
      drafts: [{ kind: 'check', what: step.check!.what, answers: [id] }],
    })),
}
