// Where the rounds of a pest campaign stand: done, due, and whether they are enough by what was last found.
import type { RuleOf } from '../knowledge/protocols.ts'
import { lastRoundDay, pestOf, roundRule, type RoundRule } from '../outbreak/pests.ts'
import { measurePoints } from '../outbreak/measures.ts'
import type { Entry } from '../record/types.ts'
import { addDays, atHourOfDay, dayOf, daysBetween, entryMs } from '../time/time.ts'
import { entriesBetween, meanTemperature, type CourseContext } from './courseContext.ts'

export interface RoundsState {
  readonly rule: RoundRule
  /** Rounds made or left out, in order. */
  readonly done: readonly Entry[]
  /** Day of the campaign on which something was last found; 0 where nothing was. */
  readonly lastFindDay: number
  /** Rounds that what was found up to now asks for. */
  readonly of: number
  readonly nextMs: number
  /** From when a round no longer comes before the young lay. */
  readonly lateMs: number
  readonly enoughMs: number | null
}

/** A round's days where no pest is known by its stages. */
const PLAIN: RoundRule = { intervalDays: 7, latestDays: 10, meetings: 2, hatchMaxDays: 14 }

/** State of a round rule, from the ledger alone. @source handbook 50 §9, §10 */
export function roundsState(context: CourseContext, rule: RuleOf<'round'>): RoundsState {
  const { zone, startMs, course } = context
  const campaign = context.protocol.campaign
  const pest = campaign?.pest === undefined ? undefined : pestOf(campaign.pest)
  const spacing = pest ? roundRule(pest, meanTemperature(context)) : PLAIN
  const done: Entry[] = []
  for (let i = 0; ; i++) {
    const key = `${course.id}/${rule.id}/${i}`
    const entry = context.byStep.get(key) ?? context.skips.get(key)
    if (!entry) break
    done.push(entry)
  }
  const measure = campaign?.measures.find(({ id }) => id === rule.measure)
  const points = measure ? measurePoints(measure, entriesBetween(context, startMs, context.nowMs + 1), zone) : []
  const found = points.filter(({ entries }) =>
    entries.some(({ values }) => Object.values(values).some((value) => value > 0)),
  )
  const dayOfMs = (ms: number) => daysBetween(startMs, ms, zone)
  const lastFindDay = found.length === 0 ? 0 : dayOfMs(found.at(-1)!.atMs)
  const lastDay = lastRoundDay(spacing, lastFindDay)
  const last = done.at(-1)
  const lastDone = last ? dayOfMs(entryMs(last)) : null
  const enough = done.length >= rule.least && lastDone !== null && lastDone >= lastDay
  const missing =
    lastDone === null
      ? Math.ceil(lastDay / spacing.intervalDays) + 1
      : Math.ceil((lastDay - lastDone) / spacing.intervalDays)
  const day = (days: number) => addDays(dayOf(last ? entryMs(last) : startMs, zone), days)
  return {
    rule: spacing,
    done,
    lastFindDay,
    of: Math.max(rule.least, done.length + Math.max(0, missing)),
    nextMs: last ? atHourOfDay(day(spacing.intervalDays), course.body.dailyHour, zone) : startMs,
    lateMs: last ? atHourOfDay(day(spacing.latestDays), course.body.dailyHour, zone) : startMs + 48 * 3_600_000,
    enoughMs: enough ? entryMs(last!) : null,
  }
}
