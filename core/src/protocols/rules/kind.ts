// What every kind of rule answers for itself. A new kind is one module beside these and one line of the registry.
import type { AgentForm } from '../../knowledge/agents.ts'
import type { Condition, Protocol, Rule, RuleOf, Value, Variant } from '../../knowledge/protocols.ts'
import type { Entry } from '../../record/types.ts'
import { entryMs } from '../../time/time.ts'
import { entriesBetween } from '../courseContext.ts'
import type { Builder, Step } from '../stepBuilder.ts'

type Kind = Rule['kind']
type Path = readonly (string | number)[]

export interface RuleKind<K extends Kind> {
  /**
   * Its steps at this instant: what was done, what is due, what is laid out ahead.
   * @param phaseMs when its phase was entered; @param exitMs when it was left, null while it runs
   */
  steps(rule: RuleOf<K>, builder: Builder, phaseMs: number, exitMs: number | null): Step[]
  /** Occurrences that must be done for it to be over; null for one that never is over by itself. */
  occurrences(rule: RuleOf<K>, parameters: Readonly<Record<string, number>>): readonly number[] | null
  /** Its days when nothing is late. */
  calendar(rule: RuleOf<K>, pen: CalendarPen): void
  /** What is wrong with it as it is written; paths are inside the rule. */
  problems?(rule: RuleOf<K>, check: RuleCheck): void
  /** Least hours before one of its doses after the last; null where it sets none, missing where it doses nothing. */
  pauseHours?(rule: RuleOf<K>, given: PauseGiven): number | null
  /** Whether one of its steps may be left out, in words. */
  readonly leavesOut?: true
  /** What the screens offer to press on one of its steps, the usual one first. */
  presses(step: Step): readonly Press[]
}

/** What a pause hangs on: which time is meant, the way that was chosen, the record. */
export interface PauseGiven {
  readonly occurrence: number
  readonly variant: Variant | undefined
  readonly valueOf: (value: Value) => number
}

/** Writes the days of one rule. */
export interface CalendarPen {
  readonly protocol: Protocol
  readonly parameters: Readonly<Record<string, number>>
  /** One event, days after the phase began. */
  item(day: number, title?: string): void
  /** Every so many days to the end of the phase. */
  through(everyDays: number, firstDay?: number): void
  series(times: number, firstDay: number, everyDays: number): void
  /** A value at the presets, or the one given where it hangs on the record. */
  number(value: Value | undefined, otherwise: number, unit: string): number
}

/** Holds a rule against the rest of its protocol. */
export interface RuleCheck {
  readonly protocol: Protocol
  say(path: Path, message: string, weight?: 'doubt'): void
  /** Faults of a value are said; answers what it may come to where that does not hang on the record. */
  limits(value: Value | undefined, path: Path, unit: string, most?: number): readonly number[]
  bottle(role: string, path: Path): void
  instrument(role: string, path: Path): void
  measure(id: string): void
  place(id: string, path: Path): void
  formsOf(role: string | undefined): readonly AgentForm[]
  /** An aim against zero, the ceiling and the band of what the role may hold. */
  aim(aim: Value | undefined, role: string | undefined, times: number): void
  /** What a repeated rule waits for. */
  until(condition: Condition): void
}

/** Pages on which a step is done. */
export type StepPage =
  'bath' | 'tally' | 'round' | 'spot' | 'run' | 'bench' | 'transfer' | 'watch' | 'walk' | 'days' | 'steering' | 'causes'
/** An entry as a press writes it; vessel, course and step are added by whoever writes it. */
export type PressDraft = Readonly<Record<string, unknown>> & { readonly kind: string }
/** What a press on a step does: writes at once, asks for a number, or opens the page on which it is done. */
export type Press =
  | {
      readonly to: 'write'
      readonly label: string
      readonly said: string
      readonly tone?: 'good' | 'caution' | 'danger'
      /** It belongs to the day, not to the step. */
      readonly ofDay?: boolean
      readonly drafts: readonly PressDraft[]
    }
  | {
      readonly to: 'equipment'
      readonly label: string
      readonly said: string
      readonly item: string
      readonly on: boolean
    }
  | {
      readonly to: 'log'
      readonly label: string
      readonly preset: {
        readonly kind: 'dose' | 'reading' | 'change'
        readonly productId?: string
        readonly amount?: number
        readonly analyte?: string
        readonly instrumentId?: string
        readonly fraction?: number
        readonly replacementMgPerL?: number
      }
    }
  /** A kit held against a standard: the yes goes into the kit. */
  | { readonly to: 'standard'; readonly label: string; readonly instrumentId: string }
  | { readonly to: 'page'; readonly label: string; readonly page: StepPage }

/** Never over by itself. */
export const never = (): null => null
/** Over when it was done as often as it says. */
export const timesOf = ({ times }: { readonly times: number }): readonly number[] =>
  Array.from({ length: times }, (_, i) => i)

/**
 * The change that belongs to each treatment of spots: what was logged, or left out in words, between it and the next;
 * null where that is still to come.
 */
export function changesAfterEach(
  rule: RuleOf<'change'>,
  builder: Builder,
): readonly { readonly index: number; readonly spotMs: number; readonly entry: Entry | null }[] {
  const { context } = builder
  const spot = context.protocol.phases.flatMap(({ rules }) => rules).find(({ id }) => id === rule.afterEach)
  const done =
    spot?.kind === 'spot'
      ? Array.from({ length: spot.times }, (_, i) => context.byStep.get(`${context.course.id}/${spot.id}/${i}`))
      : []
  const spots = done.flatMap((entry, index) => (entry === undefined ? [] : [{ index, spotMs: entryMs(entry) }]))
  return spots.map(({ index, spotMs }, i) => {
    const nextMs = spots[i + 1]?.spotMs ?? context.nowMs + 1
    const changed = entriesBetween(context, spotMs, nextMs).find(({ kind }) => kind === 'change')
    return { index, spotMs, entry: changed ?? context.skips.get(`${context.course.id}/${rule.id}/${index}`) ?? null }
  })
}

/** A pour is logged with what was really poured; the amount that was offered stands in the field. */
export const pourPress = ({ dose }: Step): readonly Press[] => [
  dose
    ? { to: 'log', label: 'Done, log it', preset: { kind: 'dose', productId: dose.productId, amount: dose.amount } }
    : { to: 'log', label: 'Log a dose', preset: { kind: 'dose' } },
]
export const donePress = (step: Step, label: string): readonly Press[] => [
  { to: 'write', label, said: `${step.title}: noted.`, drafts: [{ kind: 'done', what: step.title }] },
]

const ROUTE_WORDS = { bath: 'a bath of its own', food: 'food', 'in-tank': 'the tank' } as const
/** Says of each form a role may hold that is for something else. */
export function checkForms(check: RuleCheck, role: string | undefined, wanted: AgentForm['route']): void {
  for (const { route, label } of check.formsOf(role))
    if (route !== wanted) check.say(['role'], `${label} is for ${ROUTE_WORDS[route]}: this rule uses it otherwise.`)
}
