// The values of something that is turned in steps, worked out from the course's own numbers.
import type { Phase, Protocol, RuleOf } from '../knowledge/protocols.ts'

/** A number, or a parameter of the course by its name. @throws RangeError for a parameter the course does not have. */
export function parameterOf(value: number | string, parameters: Readonly<Record<string, number>>): number {
  if (typeof value === 'number') return value
  const found = parameters[value]
  if (found === undefined) throw new RangeError(`parameterOf: the course has no "${value}"`)
  return found
}

/**
 * Values and days of a setting, the first being where it starts (day 0), the last the wanted one. Where it stands there
 * already (`startsAt: first-step`), the first is the first step.
 *
 * geometric: ratio^(d/N) with N = max(leastDays, ⌈everyDays · ln ratio / ln(1 + stepShare)⌉), a step every `everyDays`.
 * linear: equal steps of at most `mostPerStep`. list: the values as they stand.
 * @source handbook 40.8 (light), 65.6 (largest safe change)
 */
export function settingValues(
  rule: RuleOf<'setting'>,
  parameters: Readonly<Record<string, number>>,
): { readonly day: number; readonly value: number }[] {
  const rest = parameterOf(rule.restDays ?? 0, parameters)
  return spread(rule, parameters).map(({ day, value }) => ({ day: rest + day, value }))
}

function spread(rule: RuleOf<'setting'>, parameters: Readonly<Record<string, number>>) {
  if (rule.schedule === 'list') return (rule.values ?? []).map((value, i) => ({ day: i * rule.everyDays, value }))
  const from = parameterOf(rule.from, parameters)
  const to = parameterOf(rule.to, parameters)
  if (Math.abs(from - to) < 1e-9) return [{ day: 0, value: to }]
  const passed = rule.startsAt === 'first-step' ? 1 : 0
  if (rule.schedule === 'geometric') {
    const ratio = to / from
    const days = Math.max(
      rule.leastDays ?? 0,
      Math.ceil((rule.everyDays * Math.abs(Math.log(ratio))) / Math.log(1 + (rule.stepShare ?? 0.15)) - 1e-9),
    )
    const values: { day: number; value: number }[] = []
    for (let day = 0; day < days; day += rule.everyDays) values.push({ day, value: from * ratio ** (day / days) })
    return [...values, { day: days, value: to }].slice(passed).map(({ day, value }) => ({
      day: Math.max(0, day - passed * rule.everyDays),
      value,
    }))
  }
  const most = parameterOf(rule.mostPerStep ?? Math.abs(to - from), parameters)
  const steps = Math.max(1, Math.ceil(Math.abs(to - from) / most - 1e-9))
  return Array.from({ length: steps + 1 - passed }, (_, i) => ({
    day: i * rule.everyDays,
    value: from + ((to - from) * (i + passed)) / steps,
  }))
}

const timed = new WeakMap<Protocol, Map<string, Protocol>>()
/**
 * A protocol with the days that a course's own numbers give it: a phase that ends when a setting has got to a typed value
 * takes as long as its steps do, not what such phases usually take. The same object for the same question.
 */
export function asTimed(protocol: Protocol, parameters: Readonly<Record<string, number>>): Protocol {
  const settingsOf = ({ exit, rules }: Phase): RuleOf<'setting'>[] => {
    if (exit?.kind !== 'rules-done') return []
    const named = rules.filter(({ id }) => exit.rules.includes(id))
    const found = named.flatMap((rule) => (rule.kind === 'setting' && typeof rule.to === 'string' ? [rule] : []))
    return found.length === named.length ? found : []
  }
  // Where it starts and where it goes must be known; presets stand for the rest.
  const known = (rule: RuleOf<'setting'>) =>
    [rule.from, rule.to].every((value) => typeof value !== 'string' || parameters[value] !== undefined)
  const presets = Object.fromEntries(
    (protocol.parameters ?? []).map(({ id, min, default: usual }) => [id, usual ?? min]),
  )
  if (!protocol.phases.some((phase) => settingsOf(phase).length > 0)) return protocol
  const asked = timed.get(protocol) ?? new Map<string, Protocol>()
  timed.set(protocol, asked)
  const key = JSON.stringify(parameters)
  const found = asked.get(key) ?? {
    ...protocol,
    phases: protocol.phases.map((phase) => {
      const settings = settingsOf(phase).filter(known)
      return settings.length === 0
        ? phase
        : {
            ...phase,
            typicalDays: Math.ceil(
              Math.max(...settings.map((rule) => settingValues(rule, { ...presets, ...parameters }).at(-1)?.day ?? 0)) -
                1e-9,
            ),
          }
    }) as Protocol['phases'],
  }
  asked.set(key, found)
  return found
}
