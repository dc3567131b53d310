// The days a protocol yields when nothing is late: what an editor shows beside the text.
import { evaluate } from './expression.ts'
import type { Protocol, Rule, Value } from '../knowledge/protocols.ts'
import { pestOf, roundRule } from '../outbreak/pests.ts'
import { settingValues } from './settingValues.ts'

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
 * first row of a table, the least of a parameter without a preset). Amounts and late days belong to a running course.
 */
export function protocolCalendar(protocol: Protocol): ProtocolCalendar {
  const parameters = Object.fromEntries(
    (protocol.parameters ?? []).map(({ id, min, default: usual }) => [id, usual ?? min]),
  )
  const number = (value: Value | undefined, otherwise: number, unit: string): number => {
    if (value === undefined) return otherwise
    return (
      evaluate(value, { forms: {}, parameters, variant: protocol.variants[0], temperatureC: 25 }, unit) ?? otherwise
    )
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
      switch (rule.kind) {
        case 'dose':
          series(rule.times, (rule.afterHours ?? 0) / 24, number(rule.everyDays, 1, 'd'))
          break
        case 'bath':
          series(rule.times, (rule.afterHours ?? 0) / 24, number(rule.everyHours, 24, 'h') / 24)
          break
        case 'transfer': {
          const every = number(rule.everyHours, 72, 'h') / 24
          series(rule.times, rule.firstAfterHours === undefined ? every : rule.firstAfterHours / 24, every)
          break
        }
        case 'setting':
          for (const { value, day } of settingValues(rule, parameters)) item(day, `${rule.title} ${value} ${rule.unit}`)
          break
        case 'check':
          rule.atHours.forEach((hour) => item(hour / 24))
          break
        case 'change':
          if (rule.times !== undefined) series(rule.times, (rule.afterHours ?? 0) / 24, rule.everyDays ?? 1)
          else through(rule.everyDays ?? 1)
          break
        case 'test':
          through(number(rule.everyHours, 24, 'h') / 24, (rule.firstAfterHours ?? 0) / 24)
          break
        case 'task':
          if (rule.everyDays === undefined) item((rule.atHours ?? 0) / 24)
          else through(rule.everyDays, rule.fromDay ?? 0)
          break
        case 'observe':
        case 'feed':
          through(1 / rule.perDay)
          break
        case 'tally':
          if (rule.days) rule.days.forEach((day) => item(day))
          else through(rule.everyDays ?? 7, rule.fromDay ?? 0)
          break
        case 'round': {
          const pest = protocol.campaign?.pest === undefined ? undefined : pestOf(protocol.campaign.pest)
          series(rule.least, 0, pest ? roundRule(pest, pest.refC).intervalDays : 7)
          break
        }
        case 'spot':
          series(rule.times, 0, rule.everyDays)
          break
        case 'run':
          item(0)
          break
        case 'gate':
          item((rule.afterHours ?? 0) / 24)
          break
        case 'ramp':
        case 'hold':
        case 'equipment':
          item(0)
          break
      }
    }
    fromDay += days
  }
  return { phases, items: items.sort((a, b) => a.day - b.day), daily, days: fromDay }
}
