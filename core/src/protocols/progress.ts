// Where a course stands: phases entered and left, worked out from the record alone.
import type { ClockState } from '../clock/therapeutic.ts'
import type { Condition, Phase, Protocol, Rule, RuleOf, Value, Variant } from '../knowledge/protocols.ts'
import type { CourseDocument, Entry, KeeperRecord, ReadingEntry } from '../record/types.ts'
import { groupOf } from '../knowledge/agents.ts'
import { residentVessels } from '../record/account.ts'
import { entryMs, instantMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { parameterOf, settingValues } from './settingValues.ts'

export interface PhaseProgress {
  readonly phase: Phase
  readonly enteredMs: number | null
  readonly exitedMs: number | null
}
export interface RampProgress {
  readonly levels: readonly number[]
  /** Levels confirmed by a reading. */
  readonly confirmed: number
  readonly confirmedAtMs: readonly number[]
  /** Last dose of the ramp, and whether a reading came after it. */
  readonly lastDoseMs: number | null
  readonly lastReadingMs: number | null
  readonly awaitingReading: boolean
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

/** What the rules look at; built once per course. */
export interface CourseContext {
  readonly record: KeeperRecord
  readonly course: CourseDocument
  readonly protocol: Protocol
  readonly variant: Variant
  /** Form of the bottle in each product role. */
  readonly forms: Readonly<Record<string, string>>
  /** Active entries of the course's vessel, in order, up to now. */
  readonly entries: readonly Entry[]
  readonly allActive: readonly Entry[]
  /** Instants of `entries`, same order. */
  readonly times: Float64Array
  /** Entries of this vessel by the step they carry, and skips apart. */
  readonly byStep: ReadonlyMap<string, Entry>
  readonly skips: ReadonlyMap<string, Entry>
  readonly startMs: number
  readonly nowMs: number
  readonly zone: string
  readonly clock: ClockState | null
}

/** @throws RangeError when the course's protocol has no variant of that name: a damaged file. */
export function courseContext(
  record: KeeperRecord,
  active: readonly Entry[],
  course: CourseDocument,
  nowMs: number,
  clock: ClockState | null,
): CourseContext {
  const protocol = course.body.protocol as unknown as Protocol
  const variant = protocol.variants.find(({ id }) => id === course.body.variant) ?? protocol.variants[0]
  if (!variant) throw new RangeError(`courseContext: ${protocol.id} has no variants`)
  const forms = Object.fromEntries(
    Object.entries(course.body.products).map(([role, productId]) => [
      role,
      record.products.get(productId)?.body.form ?? '',
    ]),
  )
  const places = new Set([course.body.vesselId, ...Object.values(course.body.vessels ?? {})])
  const entries = active.filter(
    (entry) =>
      'vesselId' in entry && entry.vesselId !== undefined && places.has(entry.vesselId) && entryMs(entry) <= nowMs,
  )
  const byStep = new Map<string, Entry>()
  const skips = new Map<string, Entry>()
  for (const entry of entries) {
    if (entry.step === undefined) continue
    const map = entry.kind === 'skip' ? skips : byStep
    if (!map.has(entry.step)) map.set(entry.step, entry)
  }
  return {
    record,
    course,
    protocol,
    variant,
    forms,
    allActive: active,
    entries,
    times: Float64Array.from(entries, entryMs),
    byStep,
    skips,
    startMs: instantMs(course.body.startedAt),
    nowMs,
    zone: record.settings.zone,
    clock,
  }
}

/** Entries of the vessel from one instant (included) to another (not), by binary search. */
export function entriesBetween(context: CourseContext, fromMs: number, toMs: number): readonly Entry[] {
  const first = lowerBound(context.times, fromMs)
  return context.entries.slice(first, lowerBound(context.times, toMs))
}
function lowerBound(times: Float64Array, ms: number): number {
  let low = 0
  let high = times.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (times[middle]! < ms) low = middle + 1
    else high = middle
  }
  return low
}

/** A protocol value for the bottle and the parameters at hand. */
export function valueFor(
  value: Value,
  context: Pick<CourseContext, 'forms' | 'course'> & Partial<Pick<CourseContext, 'entries' | 'nowMs'>>,
): number {
  if (typeof value === 'number') return value
  if ('byTemperature' in value) {
    const temperature = meanTemperature(context)
    return (value.byTemperature.findLast(({ fromC }) => temperature >= fromC) ?? value.byTemperature[0]!).value
  }
  if ('param' in value) return parameterOf(value.param, context.course.body.parameters) * (value.times ?? 1)
  for (const form of Object.values(context.forms)) {
    const found = value.byForm[form]
    if (found !== undefined) return found
  }
  return Math.min(...Object.values(value.byForm))
}

const USUAL_TEMPERATURE_C = 25
/** Mean of the vessel's temperature readings of the last fourteen days; 25 °C where there are none. */
function meanTemperature(context: Partial<Pick<CourseContext, 'entries' | 'nowMs'>>): number {
  const since = (context.nowMs ?? 0) - 14 * 24 * MS_PER_HOUR
  const values = (context.entries ?? []).flatMap((entry) =>
    entry.kind === 'reading' && entry.analyte === 'temperature' && entryMs(entry) >= since ? [entry.value] : [],
  )
  return values.length > 0 ? values.reduce((sum, value) => sum + value, 0) / values.length : USUAL_TEMPERATURE_C
}

/** Readings of an instrument role's analyte in the vessel, since an instant. */
export function roleReadings(context: CourseContext, role: string, sinceMs: number): ReadingEntry[] {
  const analyte = context.protocol.instrumentRoles.find(({ id }) => id === role)?.analyte
  return entriesBetween(context, sinceMs, Infinity).filter(
    (entry): entry is ReadingEntry => entry.kind === 'reading' && entry.analyte === analyte,
  )
}

/** Levels of the ramp for the bottle at hand. */
export const rampLevelsOf = (context: CourseContext, role: string): readonly number[] =>
  context.variant.levels?.[context.forms[role] ?? ''] ?? []

/** A level counts as reached when the reading lies within the kit's own error of it. */
function reaches(reading: ReadingEntry, level: number, context: CourseContext): boolean {
  const kit =
    reading.instrumentId === undefined ? undefined : context.record.instruments.get(reading.instrumentId)?.body
  const step = kit?.step ?? 0
  const relative = kit?.relativeError ?? 0.05
  return reading.bound !== 'below' && reading.value >= level - Math.hypot(step / 2, relative * level)
}

/** How far a ramp has come: each level needs a dose and then a reading that reaches it. */
export function rampProgress(context: CourseContext, rule: RuleOf<'ramp'>, sinceMs: number): RampProgress {
  const levels = rampLevelsOf(context, rule.role)
  const productId = context.course.body.products[rule.role]
  const analyte = context.protocol.instrumentRoles.find(({ id }) => id === rule.confirmRole)?.analyte
  const confirmedAtMs: number[] = []
  let lastDoseMs: number | null = null
  let lastReadingMs: number | null = null
  let dosedSinceConfirm = false
  for (const entry of context.entries) {
    const ms = entryMs(entry)
    if (ms < sinceMs) continue
    if (entry.kind === 'dose' && entry.productId === productId) {
      lastDoseMs = ms
      dosedSinceConfirm = true
    } else if (entry.kind === 'reading' && entry.analyte === analyte) {
      lastReadingMs = ms
      while (
        dosedSinceConfirm &&
        confirmedAtMs.length < levels.length &&
        reaches(entry, levels[confirmedAtMs.length]!, context)
      ) {
        confirmedAtMs.push(ms)
        // One reading confirms several levels only where it reaches them all.
        if (confirmedAtMs.length < levels.length && !reaches(entry, levels[confirmedAtMs.length]!, context))
          dosedSinceConfirm = false
      }
    }
  }
  return {
    levels,
    confirmed: confirmedAtMs.length,
    confirmedAtMs,
    lastDoseMs,
    lastReadingMs,
    awaitingReading: lastDoseMs !== null && (lastReadingMs === null || lastReadingMs < lastDoseMs),
  }
}

/** Latest instant since which no fish has been in the vessel, or null while one is there. */
function lastHostOutMs(context: CourseContext): number | null {
  const vesselId = context.course.body.vesselId
  const isFish = (residentId: string) =>
    groupOf(context.record.residents.get(residentId)?.body.group ?? '')?.kind === 'fish'
  const where = residentVessels(context.record, context.allActive, context.nowMs)
  for (const [residentId, place] of where) if (place === vesselId && isFish(residentId)) return null
  let last = context.startMs
  for (const entry of context.allActive) {
    if (entry.kind !== 'move' || !isFish(entry.residentId) || entryMs(entry) > context.nowMs) continue
    if (entry.vesselId === vesselId || entry.toVesselId === vesselId) last = Math.max(last, entryMs(entry))
  }
  return last
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
        const answer = context.entries.findLast(
          (entry) => entry.kind === 'gate' && entry.gate === gate && entry.courseId === context.course.id,
        )
        if (answer?.kind !== 'gate' || !answer.passed) return null
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
      const needed = valueFor(condition.hours, context)
      const { clock } = context
      if (!clock || clock.creditedH < needed - 1e-6) return null
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
      const due = since + valueFor(condition.hours, context) * MS_PER_HOUR
      return due <= context.nowMs ? due : null
    }
    case 'reading': {
      let run = 0
      for (const reading of roleReadings(context, condition.role, phaseStartMs)) {
        const low =
          condition.atLeast === undefined ||
          (reading.bound !== 'below' && reading.value >= valueFor(condition.atLeast, context))
        const high =
          condition.atMost === undefined ||
          (reading.bound !== 'above' && reading.value <= valueFor(condition.atMost, context))
        run = low && high ? run + 1 : 0
        if (run >= (condition.times ?? 1)) return entryMs(reading)
      }
      return null
    }
    case 'signs-absent': {
      let last = phaseStartMs
      for (const entry of context.entries) {
        if (entry.kind === 'sign' && entry.present && entryMs(entry) >= context.startMs)
          last = Math.max(last, entryMs(entry))
      }
      const due = last + condition.days * 24 * MS_PER_HOUR
      return due <= context.nowMs ? due : null
    }
    case 'intolerance-signs': {
      const from = context.nowMs - condition.withinHours * MS_PER_HOUR
      const seen = new Map<string, number>()
      for (const entry of context.entries) {
        if (entry.kind !== 'sign' || !entry.sign.startsWith('intolerance-') || entryMs(entry) < from) continue
        if (entry.present) seen.set(entry.sign, entryMs(entry))
        else seen.delete(entry.sign)
      }
      return seen.size >= condition.atLeast ? Math.max(...seen.values()) : null
    }
    case 'rules-done': {
      let last = phaseStartMs
      for (const id of condition.rules) {
        const rule = findRule(context.protocol, id)
        const needed = rule ? occurrencesOf(rule, context.course.body.parameters) : null
        if (needed === null) return null
        for (const occurrence of needed) {
          const key = `${context.course.id}/${id}/${occurrence}`
          const entry = context.byStep.get(key) ?? context.skips.get(key)
          if (!entry) return null
          last = Math.max(last, entryMs(entry))
        }
      }
      return last
    }
    case 'count-over': {
      const from = context.nowMs - condition.withinHours * MS_PER_HOUR
      const over = context.entries.filter(
        (entry) =>
          entry.kind === 'count' &&
          entry.what === condition.what &&
          entry.count > condition.over &&
          entryMs(entry) >= Math.max(from, phaseStartMs),
      )
      return over.length >= (condition.times ?? 1) ? entryMs(over[(condition.times ?? 1) - 1]!) : null
    }
    case 'check-answered': {
      const from = context.nowMs - condition.withinHours * MS_PER_HOUR
      const found = context.entries.find(
        (entry) =>
          entry.kind === 'check' &&
          entry.courseId === context.course.id &&
          entry.answers.includes(condition.answer) &&
          entryMs(entry) >= from,
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
      const found = context.entries.find(
        (entry) =>
          entry.kind === 'sign' &&
          entry.present &&
          entryMs(entry) >= from &&
          (condition.signs === undefined || condition.signs.includes(entry.sign)),
      )
      return found ? entryMs(found) : null
    }
  }
}

/** Occurrences of a rule that must be done for it to be over; null for one that never ends by itself. */
function occurrencesOf(rule: Rule, parameters: Readonly<Record<string, number>>): readonly number[] | null {
  switch (rule.kind) {
    case 'check':
      return [...rule.atHours, ...(rule.nextMorning === true ? [0] : [])].map((_, i) => i)
    case 'task':
      return rule.everyDays === undefined ? [0] : null
    case 'setting':
      return settingValues(rule, parameters).map((_, i) => i)
    case 'dose':
    case 'bath':
    case 'transfer':
      return Array.from({ length: rule.times }, (_, i) => i)
    default:
      return null
  }
}

/** A rule of a protocol by its id. */
export const findRule = (protocol: Protocol, id: string) =>
  protocol.phases.flatMap(({ rules }) => rules).find((rule) => rule.id === id)

/** Phases in order: each is entered when the one before was left. */
export function courseProgress(context: CourseContext): CourseProgress {
  let entered: number | null = context.startMs
  const phases: PhaseProgress[] = context.protocol.phases.map((phase) => {
    const enteredMs = entered
    const exitedMs: number | null = enteredMs === null ? null : conditionTime(phase.exit, context, enteredMs)
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
