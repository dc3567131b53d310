// A round of a pest campaign: spaced by the pest's life at this warmth, as many as the last find asks for.
import type { RuleOf } from '../../knowledge/protocols.ts'
import { pestOf, roundRule } from '../../outbreak/pests.ts'
import { entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { bathRoom, bottleOf, minutesWith, offerOf } from '../offers.ts'
import { roundsState } from '../rounds.ts'
import { make, type Builder, type Step } from '../stepBuilder.ts'
import type { RuleKind } from './kind.ts'
import { checkForms, never } from './kind.ts'

const DAY = 24 * MS_PER_HOUR

function steps(rule: RuleOf<'round'>, builder: Builder, _phaseMs: number, exitMs: number | null): Step[] {
  const { context } = builder
  const state = roundsState(context, rule)
  const bottle = rule.role === undefined ? null : bottleOf(context, rule.role)
  const litres = context.course.body.parameters['bath-litres'] ?? 2
  const vessel = context.record.vessels.get(context.course.body.vesselId)
  const dose =
    bottle && vessel
      ? offerOf(context, bottle, bathRoom(builder, bottle, vessel, litres, context.nowMs), bottle.form.target).dose
      : null
  const work = (number: number) => ({
    measure: rule.measure,
    number,
    of: state.of,
    minutes: minutesWith(rule.minutes, dose ? bottle?.form : undefined, null),
    airSeconds: rule.airSeconds ?? null,
    ready: rule.ready,
    abortSigns: rule.abortSigns,
    rinse: rule.rinse ?? null,
    brush: rule.brush ?? null,
    litres,
  })
  const steps = state.done.map((entry, i) =>
    make(rule, builder, i, {
      title: `${rule.title}, ${i + 1} of ${state.of}`,
      detail: entry.kind === 'skip' ? 'Left out.' : 'Done.',
      dueMs: entryMs(entry),
      ...(entry.kind === 'skip' ? {} : { state: 'done' as const, doneMs: entryMs(entry), entryId: entry.id }),
    }),
  )
  if (exitMs !== null || state.enoughMs !== null) return steps
  const { intervalDays, latestDays, hatchMaxDays } = state.rule
  for (let number = state.done.length + 1; number <= state.of; number++) {
    const later = number - state.done.length - 1
    const dueMs = Math.max(state.nextMs, later === 0 ? 0 : context.nowMs) + later * intervalDays * DAY
    if (later > 0 && dueMs > builder.aheadMs) break
    steps.push(
      make(
        rule,
        builder,
        number - 1,
        {
          title: `${rule.title}, ${number} of ${state.of}`,
          detail: [
            rule.text ?? '',
            `Every ${intervalDays} days: hatchlings lay from day ${latestDays + 1} on, and eggs hatch for ${hatchMaxDays} days after the last find.`,
          ]
            .filter((part) => part !== '')
            .join(' '),
          dueMs,
          fromMs: dueMs - 12 * MS_PER_HOUR,
          untilMs: later === 0 ? Math.max(dueMs + 12 * MS_PER_HOUR, state.lateMs) : dueMs + 12 * MS_PER_HOUR,
          round: work(number),
          ...(dose && later === 0 ? { dose } : {}),
          ...(later > 0 ? { state: 'ahead' as const } : {}),
        },
        24,
      ),
    )
  }
  return steps
}

export const round: RuleKind<'round'> = {
  steps,
  leavesOut: true,
  occurrences: never,
  calendar(rule, pen) {
    const pest = pen.protocol.campaign?.pest === undefined ? undefined : pestOf(pen.protocol.campaign.pest)
    pen.series(rule.least, 0, pest ? roundRule(pest, pest.refC).intervalDays : 7)
  },
  problems(rule, check) {
    check.measure(rule.measure)
    checkForms(check, rule.role, 'bath')
  },
  presses: () => [{ to: 'page', label: 'Open the round', page: 'round' }],
}
