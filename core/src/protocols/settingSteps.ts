// Steps of two rules: a look answered with one press, and something turned step by step that waits, and goes back,
// when the record says so.
import type { RuleOf } from '../knowledge/protocols.ts'
import { vesselVolume } from '../level/fromRecord.ts'
import { addDays, atHourOfDay, dayOf, entryMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { saltForBatch } from '../water/salinity.ts'
import { settingValues } from './settingValues.ts'
import { make, type Builder, type Step } from './stepBuilder.ts'

export { settingValues }

/** Looks at fixed hours after the phase began, and on the next morning. */
export function checkSteps(rule: RuleOf<'check'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
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

/** Steps of a setting: each waits its days after the one before was really done; a bad sign takes it back and holds. */
export function settingSteps(
  rule: RuleOf<'setting'>,
  builder: Builder,
  phaseMs: number,
  exitMs: number | null,
): Step[] {
  const { context, aheadMs } = builder
  const values = settingValues(rule, context.course.body.parameters)
  const steps: Step[] = []
  let lastMs = phaseMs
  let lastDay = 0
  let open = false
  for (const [i, { day, value }] of values.entries()) {
    const key = `${context.course.id}/${rule.id}/${i}`
    const done = context.byStep.get(key) ?? context.skips.get(key)
    const setting = { quantity: rule.quantity, value: rounded(rule, value), unit: rule.unit }
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
    const plannedMs = i === 0 ? phaseMs : lastMs + (day - lastDay) * 24 * MS_PER_HOUR
    const dueMs = Math.max(plannedMs, holdMs)
    if (dueMs > aheadMs && open) break
    steps.push(
      make(
        rule,
        builder,
        i,
        {
          title,
          detail: detailOf(rule, builder, values[i - 1]?.value ?? value, value),
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

/** What a step takes: litres of fresh water or grams of salt where it is salinity. */
function detailOf(rule: RuleOf<'setting'>, builder: Builder, before: number, value: number): string {
  const { context } = builder
  const said = rule.text ?? ''
  const vessel = context.record.vessels.get(context.course.body.vesselId)
  const volume = vessel ? vesselVolume(vessel) : null
  if (rule.quantity !== 'salinity' || !volume || Math.abs(value - before) < 1e-9) return said
  const words =
    value < before
      ? `Replace ${litres((volume.litres * (before - value)) / before)} of ${Math.round(volume.litres)} L with fresh water of the same temperature.`
      : `Dissolve ${Math.round(saltForBatch(volume.litres, value, 25, 0.9) - saltForBatch(volume.litres, before, 25, 0.9))} g of sea-salt mix (yield 0.9) in water taken from the vessel, and give it back over an hour.`
  return said === '' ? words : `${words} ${said}`
}
const litres = (value: number): string => `${value < 10 ? value.toFixed(1) : Math.round(value)} L`
