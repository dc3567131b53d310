// What ends a phase, condition by condition, each ticked by the record: how far it is, and since when it holds.
import { gatePieces } from './pieces.ts'
import type { Condition, Value } from '../knowledge/protocols.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { counted as count, spanWords as span } from '../units/spanWords.ts'
import { heldState } from './held.ts'
import { roleUnit, valueFor, type CourseContext } from './courseContext.ts'
import { lastHostOutMs } from './fallow.ts'
import { countsEverythingWet } from '../knowledge/hosts.ts'
import { placeIn, togetherIn } from './together.ts'
import { warmDays } from './warmDays.ts'
import { conditionTime, findRule, rulesOfVariant, signFreeDays } from './progress.ts'
import { occurrencesOf } from './rules/registry.ts'

export interface ExitTick {
  readonly words: string
  /** How far it is, where that can be said. */
  readonly have?: string
  /** Instant since which it holds, or null. */
  readonly metMs: number | null
  /** One of several ways: any of them ends the phase. */
  readonly either: boolean
}

/** What a kit is called in this protocol. */
const kitWord = (role: string, { protocol }: CourseContext): string =>
  protocol.instrumentRoles.find(({ id }) => id === role)?.label.toLowerCase() ?? role
/** The limits of a reading, in its own unit. */
const limitWords = (
  { role, atLeast, atMost }: { readonly role: string; readonly atLeast?: Value; readonly atMost?: Value },
  context: CourseContext,
): string[] =>
  (
    [
      ['at least', atLeast],
      ['at most', atMost],
    ] as const
  ).flatMap(([words, value]) =>
    value === undefined ? [] : [`${words} ${valueFor(value, context, roleUnit(context, role))}`],
  )
/** The conditions under which a phase ends, laid out flat. */
export function exitTicks(
  condition: Condition,
  context: CourseContext,
  phaseStartMs: number,
  either = false,
): ExitTick[] {
  if (condition.kind === 'all') return condition.of.flatMap((part) => exitTicks(part, context, phaseStartMs, either))
  if (condition.kind === 'any') return condition.of.flatMap((part) => exitTicks(part, context, phaseStartMs, true))
  return [
    { ...wordsOf(condition, context, phaseStartMs), metMs: conditionTime(condition, context, phaseStartMs), either },
  ]
}

/** "2 of 4": occurrences of rules that were done or left out. */
function rulesDone(rules: readonly string[], context: CourseContext): string {
  const keys = rules.flatMap((id) => {
    const rule = findRule(context.protocol, id)
    const needed = rule ? occurrencesOf(rule, context.course.body.parameters) : null
    return (needed ?? []).map((occurrence) => `${context.course.id}/${id}/${occurrence}`)
  })
  const done = keys.filter((key) => context.byStep.has(key) || context.skips.has(key)).length
  return `${done} of ${keys.length}`
}

function wordsOf(
  condition: Exclude<Condition, { kind: 'all' | 'any' }>,
  context: CourseContext,
  phaseStartMs: number,
): { words: string; have?: string } {
  const titleOf = (id: string) => findRule(context.protocol, id)?.title.toLowerCase() ?? id
  const since = (ms: number | null) =>
    ms === null ? {} : { have: span(Math.max(0, (context.nowMs - ms) / MS_PER_HOUR)) }
  const measure = (id: string) =>
    context.protocol.campaign?.measures.find((one) => one.id === id)?.title.toLowerCase() ?? id
  switch (condition.kind) {
    case 'not':
      return { words: 'What would hold it back is gone' }
    case 'gates-passed': {
      const titles = condition.gates.map((gate) => titleOf(gate))
      return { words: `Answered with yes: ${titles.join(', ')}` }
    }
    case 'ramp-done':
      return { words: 'Every step of the level confirmed by a reading' }
    case 'clock-credited': {
      const needed = valueFor(condition.hours, context, 'h')
      return { words: `${span(needed)} credited`, have: span(context.clock?.creditedH ?? 0) }
    }
    case 'elapsed': {
      const hours = valueFor(condition.hours, context, 'h')
      const from =
        condition.since === 'last-host-out'
          ? lastHostOutMs(context)
          : condition.since === 'course-start'
            ? context.startMs
            : phaseStartMs
      return {
        words: `${span(hours)}${condition.since !== 'last-host-out' ? '' : countsEverythingWet(context.protocol) ? ' since the last wet thing went in' : ' since the last fish or wet gear'}`,
        ...since(from),
      }
    }
    case 'residents-in': {
      const toId = placeIn(context, condition.place)
      const name =
        toId === null
          ? 'the vessel that is still to be chosen'
          : (context.record.vessels.get(toId)?.body.name ?? 'the vessel')
      const hours = valueFor(condition.hours, context, 'h')
      const last = togetherIn(context, condition.place, phaseStartMs).at(-1)
      const all = context.course.body.residents.length > 1 ? 'All of them together' : 'It is'
      return {
        words: hours > 0 ? `${all} in ${name} for ${span(hours)}` : `${all} in ${name}`,
        have:
          last?.toMs === null
            ? `${span((context.nowMs - last.fromMs) / MS_PER_HOUR)} so far`
            : last
              ? 'parted again: it counts from the next time all are there'
              : 'not there yet',
      }
    }
    case 'warm-days': {
      const rows = [...condition.byTemperature].sort((a, b) => a.days - b.days)
      const sinceMs = lastHostOutMs(context)
      const state = sinceMs === null ? null : warmDays(condition, context, sinceMs)
      return {
        words: `Days read at their warmth: ${rows.map(({ days, fromC }) => `${days} at ${fromC} °C or more`).join(', ')}`,
        have:
          state === null
            ? 'none while a fish is in it'
            : `${count(state.counted, 'day')}${state.unread > 0 ? `, ${state.unread} without a reading` : ''}${state.coldDay !== null && condition.colder === 'restarts' ? `, begun anew after ${state.coldDay}` : ''}`,
      }
    }
    case 'held': {
      const held = heldState(condition, context, phaseStartMs)
      return {
        words: `${span(held.neededH)} held by ${kitWord(condition.role, context)}: ${limitWords(condition, context).join(' and ')}`,
        have: `${span(held.creditedH)}${held.resetBy ? `, begun anew after a reading of ${Number(held.resetBy.value.toPrecision(3))}` : ''}${held.silentH >= 1 ? `, no reading vouches for the last ${span(held.silentH)}` : ''}`,
      }
    }
    case 'reading':
      return {
        words: `${kitWord(condition.role, context)} ${limitWords(condition, context).join(', ')}${(condition.times ?? 1) > 1 ? `, ${condition.times} times in a row` : ''}`,
      }
    case 'signs-absent':
      return {
        words: `${count(valueFor(condition.days, context, 'd'), 'day')} without signs, watched in full`,
        have: count(Math.min(valueFor(condition.days, context, 'd'), signFreeDays(context, phaseStartMs)), 'day'),
      }
    case 'intolerance-signs':
      return { words: `${count(condition.atLeast, 'sign')} that it is not borne` }
    case 'rules-done': {
      const rules = rulesOfVariant(condition.rules, context)
      return { words: `Done: ${rules.map(titleOf).join(', ')}`, have: rulesDone(rules, context) }
    }
    case 'pieces-clean': {
      const pieces = gatePieces(context.record, context.allActive, context.course, condition.rule, context.nowMs)
      return {
        words: `Every piece looked over ${condition.times} times in a row with nothing found`,
        have: `${pieces.filter(({ clean }) => clean >= condition.times).length} of ${count(pieces.length, 'piece')}`,
      }
    }
    case 'count-over':
      return { words: `More than ${condition.over} counted` }
    case 'check-answered':
      return { words: `A look was answered “${condition.answer.replaceAll('-', ' ')}”` }
    case 'no-meal':
      return { words: `Nothing eaten for ${span(condition.hours)}` }
    case 'sign-seen':
      return { words: 'A sign was seen' }
    case 'rounds-enough':
      return { words: 'Enough rounds for the chance that is wanted' }
    case 'tally-clean':
      return { words: `${measure(condition.measure)}: nothing found, ${condition.times} times in a row` }
    case 'tally-done':
      return { words: `${measure(condition.measure)} where it should be, ${condition.times} times in a row` }
    case 'jar-clear':
      return {
        words: condition.noneCaught
          ? `Nothing alive in the jar, and its margin over; or nothing to be caught for one, ${span(condition.noneCaught.hours)} after the dose`
          : 'Nothing alive in the jar, and its margin over',
      }
  }
}
