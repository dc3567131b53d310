// The values of something that is turned in steps, worked out from the course's own numbers.
import type { RuleOf } from '../knowledge/protocols.ts'

/** A number, or a parameter of the course by its name. @throws RangeError for a parameter the course does not have. */
export function parameterOf(value: number | string, parameters: Readonly<Record<string, number>>): number {
  if (typeof value === 'number') return value
  const found = parameters[value]
  if (found === undefined) throw new RangeError(`parameterOf: the course has no "${value}"`)
  return found
}

/**
 * Values and days of a setting, the first being where it starts (day 0), the last the wanted one.
 *
 * geometric: ratio^(d/N) with N = max(leastDays, ⌈everyDays · ln ratio / ln(1 + stepShare)⌉), a step every `everyDays`.
 * linear: equal steps of at most `mostPerStep`. list: the values as they stand.
 * @source handbook 40.8 (light), 65.6 (largest safe change)
 */
export function settingValues(
  rule: RuleOf<'setting'>,
  parameters: Readonly<Record<string, number>>,
): { readonly day: number; readonly value: number }[] {
  if (rule.schedule === 'list') return (rule.values ?? []).map((value, i) => ({ day: i * rule.everyDays, value }))
  const from = parameterOf(rule.from, parameters)
  const to = parameterOf(rule.to, parameters)
  if (Math.abs(from - to) < 1e-9) return [{ day: 0, value: to }]
  if (rule.schedule === 'geometric') {
    const ratio = to / from
    const days = Math.max(
      rule.leastDays ?? 0,
      Math.ceil((rule.everyDays * Math.abs(Math.log(ratio))) / Math.log(1 + (rule.stepShare ?? 0.15)) - 1e-9),
    )
    const values: { day: number; value: number }[] = []
    for (let day = 0; day < days; day += rule.everyDays) values.push({ day, value: from * ratio ** (day / days) })
    return [...values, { day: days, value: to }]
  }
  const most = parameterOf(rule.mostPerStep ?? Math.abs(to - from), parameters)
  const steps = Math.max(1, Math.ceil(Math.abs(to - from) / most - 1e-9))
  return Array.from({ length: steps + 1 }, (_, i) => ({
    day: i * rule.everyDays,
    value: from + ((to - from) * i) / steps,
  }))
}
