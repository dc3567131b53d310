// A thing put in or taken out, as the ledger says. It stands until it is so, also when its phase is over.
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
  if (exitMs !== null && (wasSo(rule, builder, phaseMs) || isReplaced(rule, builder, exitMs))) return []
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

/** Whether it was as it should be when the phase began, or became so since. */
function wasSo({ item, on }: RuleOf<'equipment'>, { context }: Builder, phaseMs: number): boolean {
  const own = context.entries.filter((entry) => entry.kind === 'equipment' && entry.item === item)
  const before = own.findLast((entry) => entryMs(entry) <= phaseMs)
  return [...(before ? [before] : []), ...own.filter((entry) => entryMs(entry) > phaseMs)].some(
    (entry) => entry.kind === 'equipment' && entry.on === on,
  )
}

/** Whether a later phase asks for the same thing anew. */
const isReplaced = ({ id, item }: RuleOf<'equipment'>, { progress }: Builder, exitMs: number): boolean =>
  progress.phases.some(
    ({ phase, enteredMs }) =>
      enteredMs !== null &&
      enteredMs >= exitMs &&
      phase.rules.some((rule) => rule.kind === 'equipment' && rule.item === item && rule.id !== id),
  )

export const equipment: RuleKind<'equipment'> = {
  steps,
  occurrences: never,
  calendar: (_rule, pen) => pen.item(0),
  presses: (step) => [{ to: 'equipment', label: 'Done', said: `${step.title}: noted.`, ...step.equipment! }],
}
