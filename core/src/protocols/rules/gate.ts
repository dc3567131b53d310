// A question that must be answered before the phase goes on.
import type { RuleOf } from '../../knowledge/protocols.ts'
import { walkAspects } from '../../knowledge/watch.ts'
import { coralNow, isPast, stateWords } from '../../record/walk.ts'
import { residentsIn } from '../../record/whereabouts.ts'
import { entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { gateAnswer } from '../courseContext.ts'
import { make, type Builder, type Step } from '../stepBuilder.ts'
import type { RuleKind } from './kind.ts'

function steps(rule: RuleOf<'gate'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const answer = gateAnswer(builder.context, rule.id)
  const passed = answer?.passed === true
  if (exitMs !== null && !passed) return []
  const askMs = phaseMs + (rule.afterHours ?? 0) * MS_PER_HOUR
  const { record, allActive, placeId, nowMs } = builder.context
  const there = residentsIn(record, allActive, placeId, nowMs).flatMap(({ id, body }) => {
    const named =
      rule.against?.includes(body.group) === true ||
      rule.againstGenera?.some((genus) => (body.scientificName ?? '').toLowerCase().startsWith(genus.toLowerCase()))
    const state = rule.againstPale ? coralNow(allActive, id, nowMs) : null
    const failing =
      state !== null &&
      walkAspects.some((aspect) => aspect.failing === true && isPast(aspect, state[aspect.id] ?? aspect.well))
    return named ? [body.name] : failing ? [`${body.name} (${stateWords(state)} at the last walk)`] : []
  })
  return [
    make(rule, builder, 0, {
      detail: there.length > 0 ? `${rule.question} On record here: ${there.join(', ')}.` : rule.question,
      dueMs: askMs,
      untilMs: askMs + (rule.optional ? 365 : 1) * 24 * MS_PER_HOUR,
      gate: rule.id,
      ...(passed ? { state: 'done' as const, doneMs: entryMs(answer), entryId: answer.id } : {}),
    }),
  ]
}

/** The question whose yes is written into the kit itself. */
export const STANDARD_CHECK = 'standard-check'

export const gate: RuleKind<'gate'> = {
  steps,
  occurrences: () => null,
  calendar: (rule, pen) => pen.item((rule.afterHours ?? 0) / 24),
  presses: (step) => [
    // A kit's check is written into the kit itself: it stands for every course.
    step.gate === STANDARD_CHECK
      ? { to: 'standard', label: 'Passed', instrumentId: step.test!.instrumentId! }
      : {
          to: 'write',
          label: 'Yes',
          said: `${step.title}: noted.`,
          drafts: [{ kind: 'gate', gate: step.gate, passed: true }],
        },
  ],
}
