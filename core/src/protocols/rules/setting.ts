// Something turned step by step: each waits its days after the one before; a bad sign takes it back.
import type { RuleOf } from '../../knowledge/protocols.ts'
import { entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { parameterOf, settingValues } from '../settingValues.ts'
import { settingDetail } from '../settingDetail.ts'
import { make, type Builder, type Step } from '../stepBuilder.ts'
import type { RuleKind } from './kind.ts'
import { donePress } from './kind.ts'

function steps(rule: RuleOf<'setting'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context, aheadMs } = builder
  const values = settingValues(rule, context.course.body.parameters)
  const steps: Step[] = []
  // What the water stands at before its first step.
  const before =
    rule.startsAt === 'first-step' ? parameterOf(rule.from, context.course.body.parameters) : values[0]!.value
  let lastMs = phaseMs
  let lastDay = 0
  let open = false
  for (const [i, { day, value }] of values.entries()) {
    const key = `${context.course.id}/${rule.id}/${i}`
    const done = context.byStep.get(key) ?? context.skips.get(key)
    const setting = {
      quantity: rule.quantity,
      from: values[i - 1]?.value ?? before,
      value: rounded(rule, value),
      unit: rule.unit,
    }
    const title = `${rule.title} ${setting.value} ${rule.unit}`
    if (done) {
      lastMs = entryMs(done)
      lastDay = day
      steps.push(
        make(rule, builder, i, {
          title,
          detail: 'Done.',
          dueMs: lastMs,
          setting,
          ...(done.kind === 'skip' ? {} : { state: 'done' as const, doneMs: lastMs, entryId: done.id }),
        }),
      )
      continue
    }
    if (exitMs !== null) break
    const bad = open
      ? undefined
      : context.entries.findLast(
          (entry) =>
            entry.kind === 'sign' &&
            entry.present &&
            (rule.backOn ?? []).includes(entry.sign) &&
            entryMs(entry) > lastMs,
        )
    const holdMs = bad ? entryMs(bad) + (rule.holdDays ?? 0) * 24 * MS_PER_HOUR : 0
    if (bad && context.nowMs < holdMs && i >= 2) {
      const back = values[i - 2]!
      steps.push(
        make(rule, builder, i, {
          title: `${rule.title} back to ${rounded(rule, back.value)} ${rule.unit}`,
          detail: `A sign of too much was seen. Hold it there for ${rule.holdDays ?? 0} days, then go on.`,
          dueMs: holdMs,
          state: 'waiting',
        }),
      )
    }
    const plannedMs = lastMs + (day - lastDay) * 24 * MS_PER_HOUR
    const dueMs = Math.max(plannedMs, holdMs)
    if (dueMs > aheadMs && open) break
    steps.push(
      make(
        rule,
        builder,
        i,
        {
          title,
          detail: settingDetail(rule, builder, values[i - 1]?.value ?? before, value),
          dueMs,
          setting,
          // Only the next step can be done; those behind it wait for its day.
          ...(open ? { state: 'ahead' as const } : {}),
        },
        24,
      ),
    )
    open = true
    lastMs = Math.max(dueMs, context.nowMs)
    lastDay = day
  }
  return steps
}

const rounded = (rule: RuleOf<'setting'>, value: number): number =>
  rule.quantity === 'light' || rule.quantity === 'flow' ? Math.round(value) : Math.round(value * 10) / 10

export const setting: RuleKind<'setting'> = {
  steps,
  occurrences: (rule, parameters) => settingValues(rule, parameters).map((_, i) => i),
  calendar(rule, pen) {
    for (const { value, day } of settingValues(rule, pen.parameters))
      pen.item(day, `${rule.title} ${value} ${rule.unit}`)
  },
  problems(rule, check) {
    for (const [key, value] of [
      ['from', rule.from],
      ['to', rule.to],
    ] as const)
      if (typeof value === 'string' && !check.protocol.parameters?.some(({ id }) => id === value))
        check.say([key], `No parameter is called “${value}”.`)
  },
  presses: (step) => donePress(step, 'Set, log it'),
}
