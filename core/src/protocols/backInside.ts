// A quantity whose hours count only inside its limits, read outside them: the step that brings it back.
import { limitOf } from '../knowledge/limits.ts'
import type { Phase, RuleOf } from '../knowledge/protocols.ts'
import { entryMs } from '../time/time.ts'
import { roleReadings, roleUnit, valueFor, type CourseContext } from './courseContext.ts'
import { heldIn } from './held.ts'
import { parameterOf } from './settingValues.ts'
import { settingDetail } from './settingDetail.ts'
import { make, type Builder, type Step } from './stepBuilder.ts'

/** Hours after which it is read again: the water has mixed. */
const READ_AGAIN_H = limitOf('held-read-again')
/** Hours within which it is turned back. */
const WITHIN_H = limitOf('held-turn-within')
const TURNED = { salinity: 'Salinity back to', temperature: 'Warmth back to' } as const

/**
 * Steps of a running phase whose exit holds a quantity: the corrections made, and the next where the newest reading lies
 * outside and nothing was done since. The level aimed at is the one the course itself turns to.
 */
export function backInside(builder: Builder, phase: Phase, enteredMs: number): Step[] {
  const { context } = builder
  const condition = heldIn(phase.exit)
  const analyte = context.protocol.instrumentRoles.find(({ id }) => id === condition?.role)?.analyte
  if (!condition || (analyte !== 'salinity' && analyte !== 'temperature')) return []
  const unit = roleUnit(context, condition.role)
  const limit = condition.atMost ?? condition.atLeast
  if (limit === undefined) return []
  const edge = valueFor(limit, context, unit)
  const rule: RuleOf<'setting'> = {
    kind: 'setting',
    id: `${phase.id}-back`,
    title: TURNED[analyte],
    quantity: analyte,
    unit,
    schedule: 'list',
    from: edge,
    to: turnedTo(context, analyte) ?? edge,
    everyDays: 1,
  }
  const aim = rule.to as number
  const steps: Step[] = []
  let doneMs = enteredMs - 1
  for (let i = 0; ; i++) {
    const done = context.byStep.get(`${context.course.id}/${rule.id}/${i}`)
    const reading = roleReadings(context, condition.role, context.startMs).findLast(
      (entry) => entryMs(entry) > (i === 0 ? context.startMs : doneMs) && (!done || entryMs(entry) <= entryMs(done)),
    )
    const title = `${rule.title} ${aim} ${unit}`
    if (done) {
      doneMs = entryMs(done)
      const setting = { quantity: analyte, from: reading?.value ?? aim, value: aim, unit }
      steps.push(
        make(rule, builder, i, {
          title,
          detail: 'Done.',
          dueMs: doneMs,
          setting,
          state: 'done',
          doneMs,
          entryId: done.id,
        }),
      )
      continue
    }
    const outside =
      reading !== undefined &&
      ((condition.atMost !== undefined && reading.value > edge + 1e-9 && reading.bound !== 'below') ||
        (condition.atLeast !== undefined && reading.value < edge - 1e-9 && reading.bound !== 'above'))
    if (!outside) return steps
    const { value } = reading
    const way =
      analyte === 'temperature'
        ? `Turn the heater by ${Math.abs(aim - value).toFixed(1)} °C.`
        : settingDetail(rule, builder, value, aim)
    steps.push(
      make(
        rule,
        builder,
        i,
        {
          title,
          detail: `Read: ${value} ${unit}. Hours count ${condition.atMost !== undefined ? 'up to' : 'from'} ${edge} ${unit} only. First hold the meter against a standard: where it is the meter that is wrong, the water is right. ${way} Read again after ${READ_AGAIN_H} hours.`,
          dueMs: entryMs(reading),
          setting: { quantity: analyte, from: value, value: aim, unit },
        },
        WITHIN_H,
      ),
    )
    return steps
  }
}

/** Where the course itself turns this quantity before it holds it. */
function turnedTo({ protocol, course }: CourseContext, quantity: string): number | null {
  for (const { rules } of protocol.phases)
    for (const rule of rules)
      if (rule.kind === 'setting' && rule.quantity === quantity) return parameterOf(rule.to, course.body.parameters)
  return null
}
