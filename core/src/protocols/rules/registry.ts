// Every kind of rule there is. The compiler asks for the one that is missing.
import { limitOf } from '../../knowledge/limits.ts'
import type { Rule } from '../../knowledge/protocols.ts'
import type { Builder, Step } from '../stepBuilder.ts'
import { bath } from './bath.ts'
import { bench } from './bench.ts'
import { change } from './change.ts'
import { check } from './check.ts'
import { clockStart, dose } from './dose.ts'
import { equipment } from './equipment.ts'
import { feed } from './feed.ts'
import { gate } from './gate.ts'
import { hold } from './hold.ts'
import type { CalendarPen, PauseGiven, Press, RuleCheck, RuleKind } from './kind.ts'
import { observe } from './observe.ts'
import { ramp } from './ramp.ts'
import { round } from './round.ts'
import { run } from './run.ts'
import { setting } from './setting.ts'
import { spot } from './spot.ts'
import { tally } from './tally.ts'
import { task } from './task.ts'
import { test } from './test.ts'
import { transfer } from './transfer.ts'

const KINDS: { readonly [K in Rule['kind']]: RuleKind<K> } = {
  gate,
  ramp,
  hold,
  test,
  change,
  observe,
  feed,
  equipment,
  task,
  dose,
  bath,
  transfer,
  setting,
  check,
  tally,
  round,
  spot,
  run,
  bench,
}
/** The module of a rule; the rule given is of that kind, which the compiler cannot see through the union. */
const moduleOf = (kind: Rule['kind']) => KINDS[kind] as unknown as RuleKind<Rule['kind']>

export const stepsOfRule = (rule: Rule, builder: Builder, phaseMs: number, exitMs: number | null): Step[] =>
  moduleOf(rule.kind).steps(rule, builder, clockStart(rule, builder, phaseMs), exitMs)
/** Occurrences of a rule that must be done for it to be over; null for one that never ends by itself. */
export const occurrencesOf = (rule: Rule, parameters: Readonly<Record<string, number>>): readonly number[] | null =>
  moduleOf(rule.kind).occurrences(rule, parameters)
export const drawRule = (rule: Rule, pen: CalendarPen): void => moduleOf(rule.kind).calendar(rule, pen)
export const checkRule = (rule: Rule, checks: RuleCheck): void => moduleOf(rule.kind).problems?.(rule, checks)
/** Least hours before a dose of a rule after the last; null where it sets none. */
export const pauseOf = (rule: Rule, given: PauseGiven): number | null =>
  moduleOf(rule.kind).pauseHours?.(rule, given) ?? null
/** Whether a step may be left out, in words. */
export const mayLeaveOut = ({ kind }: Step): boolean => moduleOf(kind).leavesOut === true
/** Minutes of the keeper’s hands that a step takes: its own, or those usual for its kind. */
export const minutesOf = ({ kind, minutes }: Step): number => minutes ?? limitOf(`hands-${kind}`)
/** What the screens offer to press on a step, the usual one first. */
export const pressesOf = (step: Step): readonly Press[] => moduleOf(step.kind).presses(step)
