// An emergency: due at once, one thing after the other; each moment is an entry of its own.
import type { RuleOf } from '../../knowledge/protocols.ts'
import { entryMs } from '../../time/time.ts'
import { stepEntry } from '../offers.ts'
import { make, type Builder, type Step } from '../stepBuilder.ts'
import type { RuleKind } from './kind.ts'

function steps(rule: RuleOf<'run'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context } = builder
  const ended = stepEntry(builder, rule.id, 0)
  const begun = rule.moments.filter(({ id }) => context.byStep.has(`${context.course.id}/${rule.id}/0/${id}`)).length
  if (exitMs !== null && !ended) return []
  return [
    make(
      rule,
      builder,
      0,
      {
        detail:
          begun === 0
            ? `${rule.moments.length} things, one at a time. ${rule.moments[0]!.do}`
            : `${begun} of ${rule.moments.length} done. Next: ${rule.moments[begun]?.do ?? 'finish it'}`,
        dueMs: phaseMs,
        run: { moments: rule.moments, never: rule.never, ready: rule.ready ?? [] },
        ...(ended && ended.kind !== 'skip'
          ? { state: 'done' as const, doneMs: entryMs(ended), entryId: ended.id }
          : {}),
      },
      1,
    ),
  ]
}

export const run: RuleKind<'run'> = {
  steps,
  occurrences: () => [0],
  calendar: (_rule, pen) => pen.item(0),
  presses: () => [{ to: 'page', label: 'Minute by minute', page: 'run' }],
}
