// A thing put in or taken out, as the ledger says.
import type { RuleOf } from '../../knowledge/protocols.ts'
import { entryMs } from '../../time/time.ts'
import { make, type Builder, type Step } from '../stepBuilder.ts'
import type { RuleKind } from './kind.ts'
import { never } from './kind.ts'

function steps(rule: RuleOf<'equipment'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const last = builder.context.entries.findLast((entry) => entry.kind === 'equipment' && entry.item === rule.item)
  // What nobody ever wrote down is not known to be out: it is asked, once.
  const isSo = last?.kind === 'equipment' && last.on === rule.on
  if (isSo) {
    const ms = entryMs(last)
    return [
      make(rule, builder, 0, {
        detail: 'Done.',
        dueMs: Math.max(phaseMs, ms),
        state: 'done',
        doneMs: ms,
        entryId: last.id,
      }),
    ]
  }
  if (exitMs !== null) return []
  return [
    make(
      rule,
      builder,
      0,
      {
        detail: rule.on
          ? 'Put it in and log it.'
          : last
            ? 'Take it out and log it.'
            : 'The record does not say whether it runs. Take it out, or log that there is none.',
        dueMs: phaseMs,
        equipment: { item: rule.item, on: rule.on },
      },
      12,
    ),
  ]
}

export const equipment: RuleKind<'equipment'> = {
  steps,
  occurrences: never,
  calendar: (_rule, pen) => pen.item(0),
  presses: (step) => [{ to: 'equipment', label: 'Done', said: `${step.title}: noted.`, ...step.equipment! }],
}
