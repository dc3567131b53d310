// Where a course stands: phases entered and left, worked out from the record alone.
import { gatePieces, piecesCleanMs } from './pieces.ts'
import type { Condition, Phase, Protocol, Rule } from '../knowledge/protocols.ts'
import type { Entry } from '../record/types.ts'
import { jarVerdict } from '../outbreak/jar.ts'
import { inBand, measurePoints, runOf } from '../outbreak/measures.ts'
import { watchDays } from '../record/observation.ts'
import { addDays, atHourOfDay, dayOf, entryMs, instantMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import {
  entriesBetween,
  gateAnswer,
  roleReadings,
  roleUnit,
  rotaOf,
  valueFor,
  type CourseContext,
} from './courseContext.ts'
import { heldState } from './held.ts'
import { roundsState } from './rounds.ts'
import { rampProgress, type RampProgress } from './rampProgress.ts'
import { occurrencesOf } from './rules/registry.ts'
import { transferProgress } from './transferProgress.ts'
import { warmDays } from './warmDays.ts'
import { lastHostOutMs } from './fallow.ts'
import { togetherMs } from './together.ts'

export {
  courseContext,
  entriesBetween,
  meanTemperature,
  roleReadings,
  rotaOf,
  valueFor,
  type CourseContext,
} from './courseContext.ts'

export interface PhaseProgress {
  readonly phase: Phase
  readonly enteredMs: number | null
  readonly exitedMs: number | null
}
export interface CourseProgress {
  readonly phases: readonly PhaseProgress[]
  /** Index into `phases`, or null when every phase was left. */
  readonly current: number | null
  readonly ramp: RampProgress | null
  readonly finishedMs: number | null
  readonly aborts: readonly {
    readonly id: string
    readonly sentence: string
    readonly action: string
    readonly sinceMs: number
  }[]
}

/**
 * The instant at which a condition first held (and holds still), or null. Pure over the context.
 * `all` is the latest of its parts, `any` the earliest; `not` holds from the phase's start while its part does not.
 */
export function conditionTime(condition: Condition, context: CourseContext, phaseStartMs: number): number | null {
  switch (condition.kind) {
    case 'all': {
      const times = condition.of.map((part) => conditionTime(part, context, phaseStartMs))
      return times.includes(null) ? null : Math.max(...(times as number[]))
    }
    case 'any': {
      const times = condition.of
        .map((part) => conditionTime(part, context, phaseStartMs))
        .filter((time) => time !== null)
      return times.length > 0 ? Math.min(...times) : null
    }
    case 'not':
      return conditionTime(condition.of, context, phaseStartMs) === null ? phaseStartMs : null
    case 'gates-passed': {
      let last = phaseStartMs
      for (const gate of condition.gates) {
        const answer = gateAnswer(context, gate)
        if (!answer?.passed) return null
        last = Math.max(last, entryMs(answer))
      }
      return last
    }
    case 'ramp-done': {
      const rule = findRule(context.protocol, condition.rule)
      if (rule?.kind !== 'ramp') return null
      const ramp = rampProgress(context, rule, context.startMs)
      return ramp.levels.length > 0 && ramp.confirmed === ramp.levels.length ? ramp.confirmedAtMs.at(-1)! : null
    }
    case 'clock-credited': {
      const needed = valueFor(condition.hours, context, 'h')
      const { clock } = context
      if (!clock || !(clock.creditedH >= needed - 1e-6)) return null
      return context.startMs + (clock.completeAtH ?? clock.elapsedH) * MS_PER_HOUR
    }
    case 'elapsed': {
      const since =
        condition.since === 'phase-start'
          ? phaseStartMs
          : condition.since === 'course-start'
            ? context.startMs
            : lastHostOutMs(context)
      if (since === null) return null
      const due = since + valueFor(condition.hours, context, 'h') * MS_PER_HOUR
      return due <= context.nowMs ? due : null
    }
    case 'warm-days': {
      const since = lastHostOutMs(context)
      return since === null ? null : warmDays(condition, context, since).overMs
    }
    case 'held':
      return heldState(condition, context, phaseStartMs).overMs
    case 'reading': {
      let run = 0
      for (const reading of roleReadings(context, condition.role, phaseStartMs)) {
        const low =
          condition.atLeast === undefined ||
          (reading.bound !== 'below' &&
            reading.value >= valueFor(condition.atLeast, context, roleUnit(context, condition.role)))
        const high =
          condition.atMost === undefined ||
          (reading.bound !== 'above' &&
            reading.value <= valueFor(condition.atMost, context, roleUnit(context, condition.role)))
        run = low && high ? run + 1 : 0
        if (run >= (condition.times ?? 1)) return entryMs(reading)
      }
      return null
    }
    case 'residents-in':
      return togetherMs(context, condition.place, phaseStartMs, valueFor(condition.hours, context, 'h'))
    case 'signs-absent': {
      const last = lastSignMs(context, phaseStartMs)
      const days = valueFor(condition.days, context, 'd')
      const due = last + days * 24 * MS_PER_HOUR
      if (!(due <= context.nowMs)) return null
      return watchedSince(context, last, days, due)
    }
    case 'intolerance-signs': {
      const from = context.nowMs - condition.withinHours * MS_PER_HOUR
      const seen = new Map<string, number>()
      for (const entry of entriesBetween(context, from, Infinity)) {
        if (entry.kind !== 'sign' || !entry.sign.startsWith('intolerance-')) continue
        if (!isTheirs(entry, context)) continue
        if (entry.present) seen.set(entry.sign, entryMs(entry))
        else seen.delete(entry.sign)
      }
      return seen.size >= condition.atLeast ? Math.max(...seen.values()) : null
    }
    case 'rules-done': {
      let last = phaseStartMs
      for (const id of rulesOfVariant(condition.rules, context)) {
        const rule = findRule(context.protocol, id)
        const needed =
          rule?.kind === 'transfer'
            ? Array.from({ length: transferProgress(rule, context, phaseStartMs).needed }, (_, i) => i)
            : rule
              ? occurrencesOf(rule, context.course.body.parameters)
              : null
        if (needed === null) return null
        // A change counts however it was logged; one left out in words counts too.
        if (rule?.kind === 'change') {
          const made = [
            ...entriesBetween(context, phaseStartMs, Infinity).filter(({ kind }) => kind === 'change'),
            ...[...context.skips].flatMap(([key, entry]) =>
              key.startsWith(`${context.course.id}/${id}/`) ? [entry] : [],
            ),
          ]
            .map(entryMs)
            .sort((a, b) => a - b)
          if (made.length < needed.length) return null
          last = Math.max(last, made[needed.length - 1] ?? last)
          continue
        }
        const enoughMs = rule?.kind === 'dose' ? untilMs(rule, context, phaseStartMs) : null
        if (enoughMs !== null) {
          last = Math.max(last, enoughMs)
          continue
        }
        for (const occurrence of needed) {
          const key = `${context.course.id}/${id}/${occurrence}`
          const entry = context.byStep.get(key) ?? context.skips.get(key)
          if (!entry) return null
          last = Math.max(last, entryMs(entry))
        }
      }
      return last
    }
    case 'pieces-clean': {
      const pieces = gatePieces(context.record, context.allActive, context.course, condition.rule, context.nowMs)
      return piecesCleanMs(pieces, condition.times)
    }
    case 'count-over': {
      const from = context.nowMs - condition.withinHours * MS_PER_HOUR
      const over = entriesBetween(context, Math.max(from, phaseStartMs), Infinity).filter(
        (entry) => entry.kind === 'count' && entry.what === condition.what && entry.count > condition.over,
      )
      return over.length >= (condition.times ?? 1) ? entryMs(over[(condition.times ?? 1) - 1]!) : null
    }
    case 'check-answered': {
      const from = context.nowMs - condition.withinHours * MS_PER_HOUR
      const found = entriesBetween(context, from, Infinity).find(
        (entry) =>
          entry.kind === 'check' && entry.courseId === context.course.id && entry.answers.includes(condition.answer),
      )
      return found ? entryMs(found) : null
    }
    case 'no-meal': {
      const meal = context.entries.findLast((entry) => entry.kind === 'meal' && entry.took === 'took')
      const due = Math.max(context.startMs, meal ? entryMs(meal) : 0) + condition.hours * MS_PER_HOUR
      return due <= context.nowMs ? due : null
    }
    case 'sign-seen': {
      const from = Math.max(context.startMs, context.nowMs - condition.withinHours * MS_PER_HOUR)
      const found = entriesBetween(context, from, Infinity).find(
        (entry) =>
          entry.kind === 'sign' &&
          entry.present &&
          isTheirs(entry, context) &&
          (condition.signs === undefined || condition.signs.includes(entry.sign)),
      )
      return found ? entryMs(found) : null
    }
    case 'rounds-enough': {
      const rule = findRule(context.protocol, condition.rule)
      return rule?.kind === 'round' ? roundsState(context, rule).enoughMs : null
    }
    case 'tally-clean':
    case 'tally-done': {
      const measure = context.protocol.campaign?.measures.find(({ id }) => id === condition.measure)
      if (!measure) return null
      const since = condition.kind === 'tally-clean' || condition.sincePhase === true ? phaseStartMs : context.startMs
      const points = measurePoints(measure, entriesBetween(context, since, Infinity), context.zone)
      const holds = ({ value }: { value: number }) =>
        condition.kind === 'tally-clean' ? value === 0 : inBand(value, measure.done)
      return runOf(points, holds, condition.times, condition.spacedDays)
    }
    case 'jar-clear': {
      const looks = entriesBetween(context, phaseStartMs, Infinity).flatMap((entry) =>
        entry.kind === 'tally' && entry.measure === condition.measure ? [entry] : [],
      )
      const { state, clearMs } = jarVerdict(looks, phaseStartMs, context.nowMs)
      if (state === 'no-look' && condition.noneCaught) {
        const said = gateAnswer(context, condition.noneCaught.gate)
        const poured = entriesBetween(context, phaseStartMs, Infinity).find(({ kind }) => kind === 'dose')
        if (said?.passed !== true || !poured) return null
        const overMs = entryMs(poured) + condition.noneCaught.hours * MS_PER_HOUR
        return overMs <= context.nowMs ? Math.max(overMs, entryMs(said)) : null
      }
      return state === 'clear' ? clearMs : null
    }
  }
}

/**
 * Whether a sign speaks of this course: of one of its animals, or of nobody in particular in its own vessel. A neighbour
 * in the second vessel, and a film or a creature that is followed as a finding, are another story.
 */
function isTheirs(entry: Extract<Entry, { kind: 'sign' }>, { course, record }: CourseContext): boolean {
  const { residents, vesselId } = course.body
  if (entry.residentId !== undefined)
    return (
      residents.length === 0 ||
      residents.includes(entry.residentId) ||
      // What a sentinel shows, all of them have. @source handbook 30 sent-positive
      (entry.vesselId === vesselId && record.residents.get(entry.residentId)?.body.sentinel === true)
    )
  return entry.findingId === undefined && entry.vesselId === vesselId
}

/** Latest sign on the animals of a course, or the instant given where none came after it. */
function lastSignMs(context: CourseContext, sinceMs: number): number {
  let last = sinceMs
  for (const entry of entriesBetween(context, context.startMs, Infinity))
    if (entry.kind === 'sign' && entry.present && isTheirs(entry, context)) last = Math.max(last, entryMs(entry))
  return last
}

/** Observe rules that spread their minutes over the day. */
const splitRules = (protocol: Protocol): ReadonlySet<string> =>
  new Set(
    protocol.phases.flatMap(({ rules }) =>
      rules.flatMap((rule) => (rule.kind === 'observe' && rule.split === true ? [rule.id] : [])),
    ),
  )

/**
 * Days after that of an instant which were watched in full, oldest first. Days before the course was written down come
 * off paper, where nobody noted looks: they count. @source handbook 30 §2.1
 */
function fullDays(context: CourseContext, sinceMs: number, splits: ReadonlySet<string>): string[] {
  const { course, zone, nowMs } = context
  const written = dayOf(instantMs(course.history[0]?.savedAt ?? course.savedAt), zone)
  const signDay = dayOf(sinceMs, zone)
  return watchDays(
    entriesBetween(context, sinceMs, Infinity),
    rotaOf(course),
    zone,
    { fromMs: sinceMs, toMs: nowMs },
    (entry) => entry.courseId === course.id && splits.has(entry.step?.split('/')[1] ?? ''),
  ).flatMap(({ day, complete }) => (day > signDay && (complete || day < written) ? [day] : []))
}

/** Of the rules that are waited for, those of the variant that runs; all where none is, so that nothing ends by itself. */
export function rulesOfVariant(ids: readonly string[], { protocol }: CourseContext): readonly string[] {
  const own = ids.filter((id) => findRule(protocol, id) !== undefined)
  return own.length > 0 ? own : ids
}

/** Days without signs that count up to now, from a phase's start or the last sign. */
export function signFreeDays(context: CourseContext, phaseStartMs: number): number {
  const last = lastSignMs(context, phaseStartMs)
  const elapsed = Math.floor((context.nowMs - last) / (24 * MS_PER_HOUR))
  const splits = splitRules(context.protocol)
  return Math.max(0, splits.size === 0 ? elapsed : Math.min(elapsed, fullDays(context, last, splits).length))
}

/** When so many days since an instant were watched in full, not before `due`; null while they were not. */
function watchedSince(context: CourseContext, sinceMs: number, days: number, due: number): number | null {
  const splits = splitRules(context.protocol)
  if (splits.size === 0) return due
  const last = fullDays(context, sinceMs, splits)[days - 1]
  if (last === undefined) return null
  // The day counts when its watching is over.
  const { zone } = context
  const done = entriesBetween(context, atHourOfDay(last, 0, zone), atHourOfDay(addDays(last, 1), 0, zone))
  const ended = done.findLast((entry) => entry.kind === 'done')
  return Math.max(due, ended ? entryMs(ended) : due)
}

/** When what a repeated dose waits for came true, at the earliest after its first dose; null while it did not. */
export function untilMs(
  rule: Extract<Rule, { kind: 'dose' }>,
  context: CourseContext,
  phaseStartMs: number,
): number | null {
  if (!rule.until) return null
  const first = context.byStep.get(`${context.course.id}/${rule.id}/0`)
  return first ? conditionTime(rule.until, context, Math.max(phaseStartMs, entryMs(first))) : null
}

/** Whether a rule is over by itself once its occurrences are done. */
export const endsByItself = (rule: Rule): boolean => rule.kind === 'setting' || occurrencesOf(rule, {}) !== null

/** A rule of a protocol by its id. */
export const findRule = (protocol: Protocol, id: string) =>
  protocol.phases.flatMap(({ rules }) => rules).find((rule) => rule.id === id)

/** Whether a later find takes the end of a phase back: rounds go on as long as anything is found. */
const reopens = (condition: Condition): boolean =>
  condition.kind === 'rounds-enough' ||
  ((condition.kind === 'all' || condition.kind === 'any') && condition.of.some(reopens))

/** When a step of a phase behind the given one was first done, after an instant; null where none was. */
function actedLater(context: CourseContext, phaseIndex: number, sinceMs: number): number | null {
  const later = new Set(context.protocol.phases.slice(phaseIndex + 1).flatMap(({ rules }) => rules.map(({ id }) => id)))
  if (later.size === 0) return null
  let first: number | null = null
  const prefix = `${context.course.id}/`
  for (const [key, entry] of context.byStep) {
    if (!key.startsWith(prefix) || !later.has(key.slice(prefix.length).split('/')[0]!)) continue
    const ms = entryMs(entry)
    if (ms >= sinceMs && (first === null || ms < first)) first = ms
  }
  return first
}

/** Phases in order: each is entered when the one before was left. */
export function courseProgress(context: CourseContext): CourseProgress {
  let entered: number | null = context.startMs
  const phases: PhaseProgress[] = context.protocol.phases.map((phase, i) => {
    const enteredMs = entered
    // What was acted on is not taken back: once a step of a later phase was done, this one stays behind it, however a
    // later reading makes its hours look. A find is no such reading: it sends the course back to its rounds.
    const exitedMs: number | null =
      enteredMs === null
        ? null
        : (conditionTime(phase.exit, context, enteredMs) ??
          (reopens(phase.exit) ? null : actedLater(context, i, enteredMs)))
    entered = exitedMs === null ? null : Math.max(exitedMs, enteredMs ?? exitedMs)
    return { phase, enteredMs, exitedMs: entered }
  })
  const current = phases.findIndex(({ exitedMs }) => exitedMs === null)
  const rampRule = context.protocol.phases.flatMap(({ rules }) => rules).find((rule) => rule.kind === 'ramp')
  return {
    phases,
    current: current < 0 ? null : current,
    ramp: rampRule ? rampProgress(context, rampRule, context.startMs) : null,
    finishedMs: current < 0 ? (phases.at(-1)?.exitedMs ?? context.startMs) : null,
    aborts: (context.protocol.abort ?? []).flatMap(({ id, when, sentence, action }) => {
      const sinceMs = conditionTime(when, context, context.startMs)
      return sinceMs === null ? [] : [{ id, sentence, action, sinceMs }]
    }),
  }
}
