// The days a protocol yields when nothing is late: what an editor shows beside the text.
import { evaluate } from './expression.ts'
import { asChosen, usualVariant, type Protocol, type Rule, type Value } from '../knowledge/protocols.ts'
import { drawRule } from './rules/registry.ts'

export interface CalendarItem {
  /** Day from the start, the first being 0; a fraction is a later hour. */
  readonly day: number
  readonly phaseId: string
  readonly ruleId: string
  readonly kind: Rule['kind']
  readonly title: string
}
export interface CalendarPhase {
  readonly id: string
  readonly title: string
  readonly fromDay: number
  readonly days: number
}
export interface ProtocolCalendar {
  readonly phases: readonly CalendarPhase[]
  /** Single events, in order. */
  readonly items: readonly CalendarItem[]
  /** What is done every so many days through a phase. */
  readonly daily: readonly (CalendarItem & { readonly everyDays: number; readonly untilDay: number })[]
  readonly days: number
}

/**
 * The calendar of a protocol: phases at their usual length, rules at their intervals, values at their presets (the
 * first row of a table, the least of a parameter without a preset), the usual way where none is named. Amounts and late days belong to a running course.
 */
export function protocolCalendar(written: Protocol, variantId?: string): ProtocolCalendar {
  const variant = written.variants.find(({ id }) => id === variantId) ?? usualVariant(written)
  const parameters = Object.fromEntries(
    (written.parameters ?? []).map(({ id, min, default: usual }) => [id, usual ?? min]),
  )
  const protocol = asChosen(written, variant.id)
  const number = (value: Value | undefined, otherwise: number, unit: string): number => {
    if (value === undefined) return otherwise
    return evaluate(value, { forms: {}, parameters, variant, temperatureC: 25 }, unit) ?? otherwise
  }
  const items: CalendarItem[] = []
  const daily: (CalendarItem & { everyDays: number; untilDay: number })[] = []
  const phases: CalendarPhase[] = []
  let fromDay = 0
  for (const phase of protocol.phases) {
    const days = phase.typicalDays
    phases.push({ id: phase.id, title: phase.title, fromDay, days })
    for (const rule of phase.rules) {
      const item = (day: number, title = rule.title) =>
        items.push({ day: fromDay + day, phaseId: phase.id, ruleId: rule.id, kind: rule.kind, title })
      const through = (everyDays: number, firstDay = 0) =>
        daily.push({
          day: fromDay + firstDay,
          untilDay: fromDay + days,
          phaseId: phase.id,
          ruleId: rule.id,
          kind: rule.kind,
          title: rule.title,
          everyDays,
        })
      const series = (times: number, firstDay: number, everyDays: number) => {
        for (let i = 0; i < times; i++)
          item(firstDay + i * everyDays, times > 1 ? `${rule.title}, ${i + 1} of ${times}` : rule.title)
      }
      drawRule(rule, { protocol, parameters, item, through, series, number })
    }
    fromDay += days
  }
  return { phases, items: items.sort((a, b) => a.day - b.day), daily, days: fromDay }
}
