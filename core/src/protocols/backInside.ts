// A quantity whose hours count only inside its limits, read outside them: the step that brings it back.
import { limitOf } from '../knowledge/limits.ts'
import type { Phase, RuleOf } from '../knowledge/protocols.ts'
import { entryMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { roleReadings, roleUnit, valueFor, type CourseContext } from './courseContext.ts'
import { heldIn, type Held } from './held.ts'
import { parameterOf } from './settingValues.ts'
import { settingDetail } from './settingDetail.ts'
import { make, type Builder, type Step } from './stepBuilder.ts'

/** Hours after which it is read again: the water has mixed. */
const READ_AGAIN_H = limitOf('held-read-again')
/** Water that was turned is not read before it has mixed, ms. */
const MIXED_MS = limitOf('held-mixed-after') * MS_PER_HOUR
/** Hours within which it is turned back. */
const WITHIN_H = limitOf('held-turn-within')
const TURNED = { salinity: 'Salinity back to', temperature: 'Warmth back to' } as const

/**
 * Steps of a running phase whose exit holds a quantity: the corrections made, and the next where the newest reading lies
 * outside and nothing was done since. The level aimed at is the one the course itself turns to.
 */
export function backInside(builder: Builder, phase: Phase): Step[] {
  const { context } = builder
  const condition = heldIn(phase.exit)
  const analyte = context.protocol.instrumentRoles.find(({ id }) => id === condition?.role)?.analyte
  if (!condition || (analyte !== 'salinity' && analyte !== 'temperature')) return []
  const unit = roleUnit(context, condition.role)
  const limit = condition.atMost ?? condition.atLeast
  if (limit === undefined) return []
  const edge = valueFor(limit, context, unit)
  const bearable = bearableIn(condition, context, unit)
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
  // What was read before the course last turned it, or before that had mixed, is no longer so.
  let turnedMs = Math.max(context.startMs, lastTurnedMs(context, analyte, rule.id))
  for (let i = 0; ; i++) {
    const done = context.byStep.get(`${context.course.id}/${rule.id}/${i}`)
    const reading = roleReadings(context, condition.role, context.startMs).findLast(
      (entry) => entryMs(entry) >= turnedMs + MIXED_MS && (!done || entryMs(entry) <= entryMs(done)),
    )
    const title = `${rule.title} ${aim} ${unit}`
    if (done) {
      const doneMs = entryMs(done)
      turnedMs = Math.max(turnedMs, doneMs)
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
    if (reading === undefined) return steps
    const missed =
      (condition.atMost !== undefined && reading.value > edge + 1e-9 && reading.bound !== 'below') ||
      (condition.atLeast !== undefined && reading.value < edge - 1e-9 && reading.bound !== 'above')
    const hurts =
      (reading.value < bearable.low - 1e-9 && reading.bound !== 'above') ||
      (reading.value > bearable.high + 1e-9 && reading.bound !== 'below')
    if (!missed && !hurts) return steps
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
          detail: `Read: ${value} ${unit}. ${hurts ? `${value < bearable.low ? `Below ${bearable.low}` : `Above ${bearable.high}`} ${unit} the animals do not bear it.` : `Hours count ${condition.atMost !== undefined ? 'up to' : 'from'} ${edge} ${unit} only.`} First hold the meter against a standard: where it is the meter that is wrong, the water is right. ${way} Read again after ${READ_AGAIN_H} hours.`,
          dueMs: entryMs(reading),
          setting: { quantity: analyte, from: value, value: aim, unit },
        },
        WITHIN_H,
      ),
    )
    return steps
  }
}

/** What the animals bear of it, in the reading's unit; open where the protocol names no line. */
function bearableIn({ notBelow, notAbove }: Held, context: CourseContext, unit: string) {
  return {
    low: notBelow === undefined ? -Infinity : valueFor(notBelow, context, unit),
    high: notAbove === undefined ? Infinity : valueFor(notAbove, context, unit),
  }
}
/** When the course last turned this quantity by its own steps; -Infinity where it has not. */
function lastTurnedMs({ protocol, course, byStep }: CourseContext, quantity: string, except: string): number {
  const turning = protocol.phases.flatMap(({ rules }) =>
    rules.flatMap((rule) =>
      rule.kind === 'setting' && rule.quantity === quantity && rule.id !== except ? [`${course.id}/${rule.id}/`] : [],
    ),
  )
  return Math.max(
    -Infinity,
    ...[...byStep].flatMap(([step, entry]) => (turning.some((one) => step.startsWith(one)) ? [entryMs(entry)] : [])),
  )
}

/** Where the course itself turns this quantity before it holds it. */
function turnedTo({ protocol, course }: CourseContext, quantity: string): number | null {
  for (const { rules } of protocol.phases)
    for (const rule of rules)
      if (rule.kind === 'setting' && rule.quantity === quantity) return parameterOf(rule.to, course.body.parameters)
  return null
}
