// What a step is, and how a rule makes one: its key, its state, what was skipped.
import type { CourseEstimate } from '../level/estimate.ts'
import type { Rule, RuleOf } from '../knowledge/protocols.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import type { KnownLevel } from '../safety/level.ts'
import type { Working } from '../working.ts'
import type { CourseBand } from './courseInputs.ts'
import type { CourseContext, CourseProgress } from './progress.ts'

/** `waiting`: something else must come first. `due`: do it now. `late`: past its tolerance. `ahead`: later. */
export type StepState = 'done' | 'skipped' | 'due' | 'late' | 'ahead' | 'waiting'

export interface StepDose {
  readonly productId: string
  readonly amount: number
  readonly unit: 'mL' | 'g' | 'drop' | 'tablet'
  readonly measureStep: number
  readonly fromMgPerL: number
  readonly toMgPerL: number
  readonly volumeL: number
  readonly volumeSdL: number
  readonly strengthMg: number
  /** Chance of staying at or above the floor until the next test, where the dose is chosen by it. */
  readonly holdsChance: number | null
  readonly working: Working
}

export interface Step {
  /** course/rule/occurrence */
  readonly key: string
  readonly courseId: string
  readonly vesselId: string
  readonly ruleId: string
  readonly kind: Rule['kind']
  readonly title: string
  /** One sentence: what to do, or why it waits. */
  readonly detail: string
  readonly why?: string
  readonly state: StepState
  readonly dueMs: number
  /** From when it may be done and until when it is not late. */
  readonly fromMs: number
  readonly untilMs: number
  readonly doneMs?: number
  readonly entryId?: string
  readonly dose?: StepDose
  /** A reading without which no amount can be said. */
  readonly needs?: 'temperature'
  readonly change?: {
    readonly fraction: number
    readonly litres: number
    readonly makeUp?: StepDose
    readonly working?: Working
  }
  /** `wished`: sooner than its rhythm, because of what it would tell. */
  readonly test?: {
    readonly analyte: string
    readonly instrumentId?: string
    readonly role: string
    readonly wished?: true
  }
  readonly gate?: string
  readonly equipment?: { readonly item: string; readonly on: boolean }
  readonly minutes?: number
  /** Watching spread over the day: minutes and looks noted so far, and the looks that are left, by id. */
  readonly watch?: { readonly minutes: number; readonly looks: readonly string[]; readonly left: readonly string[] }
  readonly check?: {
    readonly what: string
    readonly answers: readonly {
      readonly id: string
      readonly label: string
      readonly tone: 'good' | 'caution' | 'danger'
    }[]
  }
  readonly bath?: {
    readonly minutes: { readonly min: number; readonly usual: number; readonly max: number }
    readonly litres: number
    readonly ready: readonly string[]
    readonly abortSigns: readonly string[]
    readonly rinse?: string
    readonly needsBottle: boolean
  }
  readonly transfer?: { readonly toVesselId: string; readonly mayMove: string }
  /** Page on which a task is done. */
  readonly opens?: 'walk'
  /** Corrections whose amounts it pours. */
  readonly steers?: readonly string[]
  readonly tally?: { readonly measure: string }
  readonly round?: RoundWork
  readonly spot?: SpotWork
  readonly bench?: BenchWork
  readonly run?: {
    readonly moments: RuleOf<'run'>['moments']
    readonly never: readonly string[]
    readonly ready: readonly string[]
  }
  /** What is turned, from where to where. */
  readonly setting?: {
    readonly quantity: string
    readonly from: number
    readonly value: number
    readonly unit: string
  }
}

/** One round of a pest campaign, as its runner needs it. */
export interface RoundWork {
  readonly measure: string
  readonly number: number
  /** Rounds in all, by what was found up to now. */
  readonly of: number
  readonly minutes: { readonly min: number; readonly usual: number; readonly max: number }
  readonly airSeconds: number | null
  readonly ready: readonly string[]
  readonly abortSigns: readonly string[]
  readonly rinse: string | null
  readonly brush: string | null
  /** Water of the dip, L. */
  readonly litres: number
}
/** Spot treatment, as its runner needs it. */
export interface SpotWork {
  readonly measure: string
  readonly productId: string | null
  readonly strengthMg: number
  readonly perPatchMl: { readonly min: number; readonly max: number }
  /** mL that the level aimed at allows today, and the most the ceiling leaves now. */
  readonly wishMl: number
  readonly mostMl: number
  /** Graduation of the syringe that takes them. */
  readonly stepMl: number
  /** How many times the bottle is thinned first, to the strength the amounts per patch are meant for; 1: neat. */
  readonly thinTimes: number
  readonly leftMgPerL: number
  readonly ceilingMgPerL: number
  readonly volumeL: number
  readonly pumpsOffMinutes: { readonly min: number; readonly usual: number; readonly max: number }
  readonly ready: readonly string[]
}

/** A bench session, as its runner needs it. */
export interface BenchWork {
  readonly stages: RuleOf<'bench'>['stages']
  readonly ready: readonly string[]
  readonly abortSigns: readonly string[]
  /** What may come to it; everything where null. */
  readonly kinds: readonly string[] | null
  /** By stage; missing where no bottle is chosen. */
  readonly agents: Readonly<Record<string, BenchAgent>>
  /** Putty that may go into this water in a day, g. */
  readonly puttyMostG: number | null
}
export interface BenchAgent {
  readonly productId: string
  readonly strengthMg: number
  readonly unit: 'mL' | 'g' | 'drop' | 'tablet'
  /** How many times it is thinned first; 1: as it is. */
  readonly thinTimes: number
  /** For a tub: its level, and how much goes in. */
  readonly mgPerL?: number
  readonly amount?: number
}

/** What every rule needs to make its steps. */
export interface Builder {
  readonly context: CourseContext
  readonly progress: CourseProgress
  readonly band: CourseBand | null
  readonly estimate: CourseEstimate | null
  /** Levels that estimates vouch for, of all courses. */
  readonly known: readonly KnownLevel[]
  readonly aheadMs: number
  /** When what a repeated dose waits for came true; null while it did not. */
  readonly enoughMs: (rule: RuleOf<'dose'>, phaseMs: number) => number | null
}

export type Made = Partial<Step> & Pick<Step, 'detail' | 'dueMs'>

/** One step of a rule. */
export function make(rule: Rule, builder: Builder, occurrence: number, made: Made, toleranceH = 2): Step {
  const { context } = builder
  const { nowMs } = context
  const key = `${context.course.id}/${rule.id}/${occurrence}`
  const untilMs = made.untilMs ?? made.dueMs + toleranceH * MS_PER_HOUR
  const fromMs = made.fromMs ?? made.dueMs
  const skipped = context.skips.get(key)
  const state: StepState =
    made.state ?? (skipped ? 'skipped' : nowMs > untilMs ? 'late' : nowMs >= fromMs ? 'due' : 'ahead')
  return {
    key,
    courseId: context.course.id,
    vesselId: context.placeId,
    ruleId: rule.id,
    kind: rule.kind,
    title: rule.title,
    ...(rule.why === undefined ? {} : { why: rule.why }),
    ...made,
    fromMs,
    untilMs,
    state: skipped && made.state === undefined ? 'skipped' : state,
    ...(skipped && made.entryId === undefined ? { entryId: skipped.id } : {}),
  }
}
