// Counts by a rhythm or on fixed days; one made without its step counts for the window it falls into.
import type { RuleOf } from '../../knowledge/protocols.ts'
import { addDays, atHourOfDay, dayOf, daysBetween, entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { entriesBetween } from '../courseContext.ts'
import { stepEntry } from '../offers.ts'
import { make, type Builder, type Step } from '../stepBuilder.ts'
import type { RuleKind } from './kind.ts'

const DAY = 24 * MS_PER_HOUR

function steps(rule: RuleOf<'tally'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context, aheadMs } = builder
  // What ends the phase is counted until it does, at the last rhythm, however long that takes.
  const goesOn = countEnds(rule, builder)
  const { zone, nowMs } = context
  const measure = context.protocol.campaign?.measures.find(({ id }) => id === rule.measure)
  const every = rule.everyDays ?? 7
  const from = rule.fromDay ?? 0
  const sinceDays = daysBetween(phaseMs, nowMs, zone)
  const listed = rule.days
  const gap = listed ? Math.max(1, listed.length > 1 ? listed.at(-1)! - listed.at(-2)! : 7) : every
  const dayAt = (i: number) =>
    listed ? (listed[i] ?? listed.at(-1)! + (i - listed.length + 1) * gap) : from + i * every
  const count =
    listed && !goesOn
      ? listed.length
      : Math.floor((Math.max(sinceDays, from) + 14) / (listed ? 1 : every)) + 2 + (listed?.length ?? 0)
  const firstDay = dayOf(phaseMs, zone)
  const steps: Step[] = []
  for (let i = 0; i < count; i++) {
    const offset = dayAt(i)
    if (rule.untilDay !== undefined && offset > rule.untilDay && !goesOn) break
    const next = listed && i + 1 >= listed.length && !goesOn ? offset + 7 : dayAt(i + 1)
    // Half days stand at noon and after dark; what comes after a dose stands at its very hours after it.
    const half = offset % 1 === 0 ? 0 : 9
    const dueMs =
      rule.afterDose === undefined
        ? atHourOfDay(addDays(firstDay, Math.floor(offset)), Math.min(23, context.course.body.dailyHour + half), zone)
        : phaseMs + offset * DAY
    const untilMs =
      rule.afterDose === undefined
        ? Math.max(dueMs + 12 * MS_PER_HOUR, dueMs + (next - offset) * 0.5 * DAY)
        : dueMs + (next - offset) * 0.5 * DAY
    if (dueMs > aheadMs || (exitMs !== null && dueMs > exitMs)) break
    const entry =
      stepEntry(builder, rule.id, i) ??
      entriesBetween(context, dueMs - 0.5 * (next - offset) * DAY, untilMs).find(
        (one) => one.kind === 'tally' && one.measure === rule.measure && one.step === undefined,
      )
    // A pass is over when every rock that is known was counted in it: one of twelve is no pass.
    const open =
      entry?.kind === 'tally' ? leftOut(builder, rule.measure, dueMs - 0.5 * (next - offset) * DAY, untilMs) : []
    // What was missed is history once the next count is due: that one says more.
    const nextMs = dueMs + (next - offset) * DAY
    if (!entry && nowMs > untilMs && (nowMs >= nextMs || nowMs - untilMs > 3 * DAY)) continue
    steps.push(
      make(rule, builder, i, {
        detail:
          open.length > 0
            ? `Not every rock was counted: ${open.slice(0, 6).join(', ')}${open.length > 6 ? ` and ${open.length - 6} more` : ''} ${open.length === 1 ? 'is' : 'are'} left. What is not counted stays unknown.`
            : (rule.text ?? measure?.how ?? ''),
        dueMs,
        untilMs,
        // A count of the day may be made from its morning on; of several a day each has its own hours.
        fromMs:
          rule.afterDose !== undefined
            ? dueMs
            : next - offset < 1
              ? dueMs - 0.5 * (next - offset) * DAY
              : Math.min(dueMs, atHourOfDay(dayOf(dueMs, zone), 0, zone)),
        tally: { measure: rule.measure },
        ...(rule.minutes === undefined ? {} : { minutes: rule.minutes }),
        ...(entry && entry.kind !== 'skip' && open.length === 0
          ? { state: 'done' as const, doneMs: entryMs(entry), entryId: entry.id }
          : {}),
      }),
    )
  }
  return steps
}

/** Rocks known from earlier passes that a pass left out; none where the measure is not taken rock by rock. */
function leftOut({ context }: Builder, measureId: string, fromMs: number, toMs: number): string[] {
  const measure = context.protocol.campaign?.measures.find(({ id }) => id === measureId)
  if (measure?.per !== 'rock') return []
  const known = new Set<string>()
  const counted = new Set<string>()
  for (const entry of entriesBetween(context, context.startMs, Math.min(toMs, context.nowMs) + 1)) {
    if (entry.kind !== 'tally' || entry.measure !== measureId || entry.piece === undefined) continue
    if (entryMs(entry) < fromMs) known.add(entry.piece)
    else counted.add(entry.piece)
  }
  return [...known].filter((piece) => !counted.has(piece))
}

/** Whether the phase of a rule ends by what this rule counts, and by nothing else. */
function countEnds(rule: RuleOf<'tally'>, { context }: Builder): boolean {
  const exit = context.protocol.phases.find(({ rules }) => rules.includes(rule))?.exit
  const parts = exit?.kind === 'all' ? exit.of : exit ? [exit] : []
  return parts.some(
    (part) => (part.kind === 'tally-clean' || part.kind === 'tally-done') && part.measure === rule.measure,
  )
}

export const tally: RuleKind<'tally'> = {
  steps,
  leavesOut: true,
  occurrences: (rule) => (rule.days ? rule.days.map((_, i) => i) : null),
  calendar(rule, pen) {
    if (rule.days) rule.days.forEach((day) => pen.item(day))
    else pen.through(rule.everyDays ?? 7, rule.fromDay ?? 0)
  },
  problems: (rule, check) => check.measure(rule.measure),
  presses: () => [{ to: 'page', label: 'Count', page: 'tally' }],
}
