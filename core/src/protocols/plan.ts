// The plan: a pure function of the record, the estimates and the time. Late, early, missed, repeated, corrected —
// all of it is just a different record.
import type { CourseEstimate } from '../level/estimate.ts'
import type { Protocol, Rule, RuleOf } from '../knowledge/protocols.ts'
import { activeContent } from '../dosing/strength.ts'
import { changedShare, checkStands, vesselVolume } from '../level/fromRecord.ts'
import { watchOfDay } from '../knowledge/watch.ts'
import { watchDays } from '../record/observation.ts'
import { residentsIn } from '../record/whereabouts.ts'
import type { ActiveLedger, CourseDocument, KeeperRecord } from '../record/types.ts'
import { addDays, atHourOfDay, dayOf, daysBetween, entryMs, instantMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { courseBand, type CourseBand } from './courseInputs.ts'
import { gateAnswer, rotaOf } from './courseContext.ts'
import {
  courseContext,
  courseProgress,
  entriesBetween,
  rampLevelsOf,
  roleReadings,
  valueFor,
  type CourseContext,
  type CourseProgress,
} from './progress.ts'
import { checkSteps, settingSteps } from './settingSteps.ts'
import { roundSteps, runSteps, spotSteps, tallySteps } from './campaignSteps.ts'
import { addedMeasure } from '../outbreak/measures.ts'
import { bathSteps, bottleOf, doseSteps, foodMix, roomOf, transferSteps, houseOf } from './treatmentSteps.ts'
import { isInside, mostInside } from '../safety/limits.ts'
import { agentForm } from '../knowledge/agents.ts'
import { againstWater, partyOf } from '../safety/gate.ts'
import type { KnownLevel } from '../safety/level.ts'
import { roundToStep } from '../dosing/dose.ts'
import { knownLevels } from './known.ts'
import { fallowState, type FallowState } from './fallow.ts'
import { make, type Builder, type Step, type StepDose } from './stepBuilder.ts'

export interface CoursePlan {
  readonly courseId: string
  readonly vesselId: string
  readonly title: string
  readonly progress: CourseProgress
  readonly band: CourseBand | null
  readonly steps: readonly Step[]
  /** Day of the course, the first being 0, and the fewest days it takes in all. */
  readonly day: number
  readonly leastDays: number
  /** For a vessel kept free of fish: since when it counts, and its end. */
  readonly fallow: FallowState | null
}

export interface PlanOptions {
  readonly record: KeeperRecord
  readonly active: ActiveLedger
  readonly estimates: ReadonlyMap<string, CourseEstimate>
  readonly nowMs: number
  /** Levels the estimates vouch for; worked out where left out. */
  readonly known?: readonly KnownLevel[]
  /** How far ahead steps are laid out, days. */
  readonly aheadDays?: number
}

/** Courses that run at this instant. */
export const runningCourses = (record: KeeperRecord, nowMs: number): CourseDocument[] =>
  [...record.courses.values()].filter(
    ({ body }) => instantMs(body.startedAt) <= nowMs && (body.endedAt === undefined || instantMs(body.endedAt) > nowMs),
  )

/** Plans of all running courses. Deterministic: the same record, estimates and time give the same steps. */
export function plan(options: PlanOptions): CoursePlan[] {
  const known = knownLevels(options.record, options.active, options.estimates, options.nowMs)
  return runningCourses(options.record, options.nowMs).map((course) => planCourse(course, { ...options, known }))
}

/** Plan of one course. */
export function planCourse(course: CourseDocument, options: PlanOptions): CoursePlan {
  const { record, active, nowMs } = options
  const estimate = options.estimates.get(course.id) ?? null
  const context = courseContext(record, active, course, nowMs, estimate?.clock ?? null)
  const progress = courseProgress(context)
  const band = courseBand(context)
  const builder: Builder = {
    context,
    progress,
    band,
    estimate,
    known: options.known ?? knownLevels(record, active, options.estimates, nowMs),
    aheadMs: nowMs + (options.aheadDays ?? 7) * 24 * MS_PER_HOUR,
  }
  const steps: Step[] = []
  progress.phases.forEach(({ phase, enteredMs, exitedMs }) => {
    if (enteredMs === null) return
    for (const rule of phase.rules) {
      if (rule.onlyFor && !rule.onlyFor.includes(context.variant.id)) continue
      steps.push(...stepsOf(rule, builder, enteredMs, exitedMs).map((step) => heldBack(step, builder)))
    }
  })
  steps.sort((a, b) => a.dueMs - b.dueMs || (a.key < b.key ? -1 : 1))
  const fallow = fallowState(context)
  return {
    courseId: course.id,
    vesselId: course.body.vesselId,
    title: context.protocol.title,
    progress,
    band,
    steps,
    // A vessel kept free of fish counts from its last host, not from the course's first day.
    day: fallow
      ? fallow.sinceMs === null
        ? 0
        : daysBetween(fallow.sinceMs, nowMs, context.zone)
      : daysBetween(context.startMs, nowMs, context.zone),
    leastDays: leastDays(context.protocol),
    fallow,
  }
}

/**
 * An amount that the water refuses is not offered: carbon still at work, another drug in it. The step waits and says for
 * what; the gate would say the same.
 */
function heldBack(step: Step, { context, known }: Builder): Step {
  const { dose, change, ...rest } = step
  const productId = dose?.productId ?? change?.makeUp?.productId
  if ((step.state !== 'due' && step.state !== 'late') || productId === undefined || step.kind === 'bath') return step
  const vessel = context.record.vessels.get(step.vesselId)
  const product = context.record.products.get(productId)
  const form = product && agentForm(product.body.form)
  if (!vessel || !form || form.route !== 'in-tank') return step
  const refusal = againstWater(houseOf(context), vessel, partyOf(form, context.nowMs), context.nowMs, known).find(
    ({ level }) => level === 'block' || level === 'forbid',
  )
  return refusal ? { ...rest, state: 'waiting', detail: `First: ${refusal.message}` } : step
}

/** Fewest days a protocol takes: its phases' usual days. */
export const leastDays = (protocol: Protocol): number =>
  Math.round(protocol.phases.reduce((sum, { typicalDays }) => sum + typicalDays, 0))

function stepsOf(rule: Rule, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  switch (rule.kind) {
    case 'gate':
      return gateSteps(rule, builder, phaseMs, exitMs)
    case 'ramp':
      return rampSteps(rule, builder, phaseMs, exitMs)
    case 'hold':
      return holdSteps(rule, builder, phaseMs, exitMs)
    case 'test':
      return testSteps(rule, builder, phaseMs, exitMs)
    case 'change':
      return changeSteps(rule, builder, phaseMs, exitMs)
    case 'equipment':
      return equipmentSteps(rule, builder, phaseMs, exitMs)
    case 'dose':
      return doseSteps(rule, builder, phaseMs, exitMs)
    case 'bath':
      return bathSteps(rule, builder, phaseMs, exitMs)
    case 'transfer':
      return transferSteps(rule, builder, phaseMs, exitMs)
    case 'check':
      return checkSteps(rule, builder, phaseMs, exitMs)
    case 'setting':
      return settingSteps(rule, builder, phaseMs, exitMs)
    case 'tally':
      return tallySteps(rule, builder, phaseMs, exitMs)
    case 'round':
      return roundSteps(rule, builder, exitMs)
    case 'spot':
      return spotSteps(rule, builder, phaseMs, exitMs)
    case 'run':
      return runSteps(rule, builder, phaseMs, exitMs)
    case 'observe':
    case 'feed':
    case 'task':
      return dailySteps(rule, builder, phaseMs, exitMs)
  }
}

function gateSteps(rule: RuleOf<'gate'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const answer = gateAnswer(builder.context, rule.id)
  const passed = answer?.passed === true
  if (exitMs !== null && !passed) return []
  const askMs = phaseMs + (rule.afterHours ?? 0) * MS_PER_HOUR
  const { record, allActive, placeId, nowMs } = builder.context
  const there = rule.against
    ? residentsIn(record, allActive, placeId, nowMs).filter(({ body }) => rule.against!.includes(body.group))
    : []
  return [
    make(rule, builder, 0, {
      detail:
        there.length > 0
          ? `${rule.question} On record here: ${there.map(({ body }) => body.name).join(', ')}.`
          : rule.question,
      dueMs: askMs,
      untilMs: askMs + (rule.optional ? 365 : 1) * 24 * MS_PER_HOUR,
      gate: rule.id,
      ...(passed ? { state: 'done' as const, doneMs: entryMs(answer), entryId: answer.id } : {}),
    }),
  ]
}

/** Doses of a role's bottle inside a stretch. */
const roleDoses = ({ context }: Builder, role: string, fromMs: number, toMs: number) =>
  entriesBetween(context, fromMs, toMs + 1).filter(
    (entry) => entry.kind === 'dose' && entry.productId === context.course.body.products[role],
  )

function doneDoses(rule: RuleOf<'ramp' | 'hold'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  return roleDoses(builder, rule.role, phaseMs, exitMs ?? builder.context.nowMs).map((entry, i) => {
    const amount = entry.kind === 'dose' ? `${entry.amount} ${entry.unit}` : ''
    return make(rule, builder, i, {
      title: `${rule.title}: ${amount}`,
      detail: 'Done.',
      dueMs: entryMs(entry),
      state: 'done',
      doneMs: entryMs(entry),
      entryId: entry.id,
    })
  })
}

function rampSteps(rule: RuleOf<'ramp'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context, progress, estimate } = builder
  const done = doneDoses(rule, builder, phaseMs, exitMs)
  const { ramp } = progress
  if (exitMs !== null || !ramp) return done
  const levels = rampLevelsOf(context, rule.role)
  const level = levels[ramp.confirmed]
  if (level === undefined) return done
  const spacingMs = (context.variant.spacingHours ?? rule.spacingHours) * MS_PER_HOUR
  const testAfterMs = (context.variant.testAfterHours ?? rule.testAfterHours ?? 0) * MS_PER_HOUR
  const repeat = ramp.lastDoseMs !== null && !ramp.awaitingReading && (ramp.confirmedAtMs.at(-1) ?? 0) < ramp.lastDoseMs
  const baseMs =
    ramp.lastDoseMs === null ? phaseMs : repeat ? (ramp.lastReadingMs ?? phaseMs) : ramp.lastDoseMs + spacingMs
  const steps: Step[] = []
  const occurrence = done.length
  const lastMeal = context.entries.findLast((entry) => entry.kind === 'meal' && entry.took === 'took')
  const mealGateMs = (rule.mealGateHours ?? 0) * MS_PER_HOUR
  // The first step may go into water where the fish have not fed since arrival; every later one needs a meal.
  const hungry =
    mealGateMs > 0 &&
    ramp.lastDoseMs !== null &&
    (lastMeal === undefined || context.nowMs - entryMs(lastMeal) > mealGateMs)
  const title = `Raise ${roleWord(context, rule.role)} to ${level} mg/L, step ${ramp.confirmed + 1} of ${levels.length}`
  if (ramp.awaitingReading) {
    const testMs = ramp.lastDoseMs! + Math.max(testAfterMs, MS_PER_HOUR / 2)
    steps.push(
      make(rule, builder, occurrence, {
        title,
        detail: `Waits for a reading after the last dose. A reading of ${level} mg/L within the kit's error opens the next step.`,
        dueMs: Math.max(baseMs, testMs),
        state: 'waiting',
      }),
    )
  } else {
    const dose = builder.band ? doseOf(builder, rule.role, level, estimate) : null
    const blocked = hungry && context.nowMs >= baseMs
    steps.push(
      make(rule, builder, occurrence, {
        title,
        detail: blocked
          ? 'Waits for a meal: a fish must eat before each step. Log a meal that was taken.'
          : dose
            ? `From ${fixed(dose.fromMgPerL)} to ${fixed(dose.toMgPerL)} mg/L in ${Math.round(dose.volumeL)} L.`
            : 'The amount is being worked out.',
        dueMs: baseMs,
        untilMs: baseMs + 4 * MS_PER_HOUR,
        // A step that waits carries no amount: there is nothing to pour yet.
        ...(dose && !blocked ? { dose } : {}),
        ...(blocked ? { state: 'waiting' as const } : {}),
      }),
    )
  }
  const lastDue = steps.at(-1)!.dueMs
  levels.slice(ramp.confirmed + 1).forEach((later, i) => {
    const dueMs = Math.max(lastDue, context.nowMs) + (i + 1) * spacingMs
    if (dueMs <= builder.aheadMs) {
      steps.push(
        make(rule, builder, occurrence + 1 + i, {
          title: `Raise to ${later} mg/L, step ${ramp.confirmed + 2 + i} of ${levels.length}`,
          detail: 'The amount follows from the reading before it.',
          dueMs,
          state: 'ahead',
        }),
      )
    }
  })
  return [...done, ...steps]
}

const fixed = (value: number): string => value.toFixed(value < 1 ? 3 : 2)
const roleWord = ({ protocol }: CourseContext, role: string): string =>
  (protocol.productRoles.find(({ id }) => id === role)?.label ?? role).replace(/ bottle$/, '').toLowerCase()

/** The dose that the estimate wished, as a step carries it; null while there is no estimate. */
function doseOf(builder: Builder, role: string, aimMgPerL: number, estimate: CourseEstimate | null): StepDose | null {
  const result = estimate?.dose
  if (!result?.ok || result.value.amount <= 0) return null
  const { context } = builder
  const productId = context.course.body.products[role]
  const product = productId === undefined ? undefined : context.record.products.get(productId)
  const content = product ? activeContent(product.body.strength) : null
  if (!productId || !content?.ok) return null
  const { levelBefore, floorChance, step } = result.value
  const { volume } = estimate!
  // What is offered is what the gate lets through: the animals, the warmth, and what else is in the water.
  const bottle = bottleOf(context, role)
  const room = bottle ? roomOf(builder, bottle, context.nowMs) : null
  if (!room || room.limit.needsTemperature) return null
  const amount = isInside(room, result.value.amount)
    ? result.value.amount
    : roundToStep(mostInside(room, content.value.per).amount, step, 'down')
  if (!(amount > 0)) return null
  const massMg = amount * content.value.mg
  const levelAfter = levelBefore + ((result.value.levelAfter - levelBefore) * amount) / result.value.amount
  return {
    productId,
    amount,
    unit: content.value.per,
    measureStep: step,
    fromMgPerL: levelBefore,
    toMgPerL: levelAfter,
    volumeL: volume.meanL,
    volumeSdL: volume.sdL,
    strengthMg: content.value.mg,
    holdsChance:
      builder.progress.ramp && builder.progress.ramp.confirmed < builder.progress.ramp.levels.length
        ? null
        : floorChance,
    working: {
      title: 'Dose',
      formula: '(aim − level now) × effective volume ÷ strength, rounded to the syringe',
      inputs: [
        { label: 'aim', value: aimMgPerL, unit: 'mg/L', from: 'protocol and bottle' },
        {
          label: 'level now (middle)',
          value: levelBefore,
          unit: 'mg/L',
          sd: (estimate!.now.p90 - estimate!.now.p10) / 2.563,
          from: 'posterior over all doses, changes and readings',
        },
        {
          label: 'effective volume',
          value: volume.meanL,
          unit: 'L',
          sd: volume.sdL,
          from: 'geometry corrected by readings',
        },
        { label: 'strength', value: content.value.mg, unit: `mg per ${content.value.per}`, from: product!.body.name },
        { label: 'mass', value: massMg, unit: 'mg' },
        { label: 'graduation', value: step, unit: content.value.per },
      ],
      parts: [content.value.working],
      result: { label: 'amount', value: amount, unit: content.value.per },
      notes: [`Checked backwards: ${amount} ${content.value.per} leads to ${fixed(levelAfter)} mg/L.`],
      source: 'Mass balance; chance constraint where a level is held',
    },
  }
}

function holdSteps(rule: RuleOf<'hold'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context, estimate, band } = builder
  const done = doneDoses(rule, builder, phaseMs, exitMs)
  if (exitMs !== null || !estimate || !band) return done
  const { dose } = estimate
  if (!dose) return done
  if (!dose.ok) {
    return [
      ...done,
      make(rule, builder, done.length, {
        title: 'No dose fits now',
        detail: dose.error.message,
        dueMs: context.nowMs,
        state: 'waiting',
      }),
    ]
  }
  if (dose.value.amount > 0) {
    const step = doseOf(builder, rule.role, band.targetMgPerL, estimate)
    if (!step) return done
    return [
      ...done,
      make(
        rule,
        builder,
        done.length,
        {
          title: rule.title,
          detail: `${dose.value.short ? 'The most that keeps clear of the hard maximum now: from' : 'From'} ${fixed(step.fromMgPerL)} to ${fixed(step.toMgPerL)} mg/L in ${Math.round(step.volumeL)} L; ${Math.round(100 * dose.value.floorChance)} % chance to stay above ${band.floorMgPerL} until the next test.${dose.value.short ? ' Test again within 12 hours: that narrows it.' : ''}`,
          dueMs: lowSinceMs(builder) ?? context.nowMs,
          fromMs: context.startMs,
          dose: step,
        },
        2,
      ),
    ]
  }
  // Nothing now: the dose falls due when the lower edge of the band reaches the floor.
  const { series } = estimate
  const at = series.timesH.findIndex(
    (t, i) => context.startMs + t * MS_PER_HOUR > context.nowMs && series.p10[i]! < band.floorMgPerL,
  )
  if (at < 0) return done
  const dueMs = context.startMs + series.timesH[at]! * MS_PER_HOUR
  if (dueMs > builder.aheadMs) return done
  return [
    ...done,
    make(rule, builder, done.length, {
      title: rule.title,
      detail: `The lower edge of the level reaches ${band.floorMgPerL} mg/L then, unless a reading says otherwise.`,
      dueMs,
      state: 'ahead',
    }),
  ]
}

/** Since when the level has not been surely above the floor: what makes a top-up late. */
function lowSinceMs({ context, estimate }: Builder): number | null {
  if (!estimate) return null
  const { timesH, pFloor } = estimate.series
  const nowH = (context.nowMs - context.startMs) / MS_PER_HOUR
  let since: number | null = null
  for (let i = 0; i < timesH.length && timesH[i]! <= nowH; i++) {
    if (pFloor[i]! >= 0.9) since = null
    else since ??= timesH[i]!
  }
  return since === null ? null : context.startMs + since * MS_PER_HOUR
}

function testSteps(rule: RuleOf<'test'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context, estimate } = builder
  const role = context.protocol.instrumentRoles.find(({ id }) => id === rule.role)
  if (!role) return []
  const endMs = exitMs ?? context.nowMs
  const readings = roleReadings(context, rule.role, phaseMs).filter((entry) => entryMs(entry) <= endMs)
  const test = {
    analyte: role.analyte,
    role: rule.role,
    ...(context.course.body.instruments[rule.role] === undefined
      ? {}
      : { instrumentId: context.course.body.instruments[rule.role]! }),
  }
  const done = readings.map((entry, i) =>
    make(rule, builder, i, {
      detail: `Read ${entry.bound === 'below' ? '<' : entry.bound === 'above' ? '>' : ''}${Number(entry.value.toPrecision(4))} ${entry.unit}.`,
      dueMs: entryMs(entry),
      state: 'done',
      doneMs: entryMs(entry),
      entryId: entry.id,
      test,
    }),
  )
  if (exitMs !== null) return done
  const prefix = `${context.course.id}/${rule.id}/`
  const skips = [...context.skips.values()].filter((entry) => entry.step!.startsWith(prefix))
  const before = roleReadings(context, rule.role, context.startMs).at(-1)
  const lastMs = Math.max(before ? entryMs(before) : 0, ...skips.map((entry) => entryMs(entry)))
  const firstMs = phaseMs + (rule.firstAfterHours ?? 0) * MS_PER_HOUR
  const everyAt = (ms: number) =>
    (rule.denseDays !== undefined && ms - phaseMs < rule.denseDays * 24 * MS_PER_HOUR
      ? (rule.denseEveryHours ?? valueFor(rule.everyHours, context, 'h'))
      : valueFor(rule.everyHours, context, 'h')) * MS_PER_HOUR
  let dueMs = lastMs > 0 ? Math.max(firstMs, lastMs + everyAt(lastMs)) : firstMs
  const ramp = builder.progress.ramp
  const dosing = role.readsFormOf !== undefined
  const occurrence = done.length + skips.length
  let detail = `Due ${Math.round(everyAt(dueMs) / MS_PER_HOUR)} h after the last one.`
  // A ramp's reading is asked for as soon as the dose has mixed.
  if (dosing && ramp && ramp.confirmed < ramp.levels.length) {
    if (ramp.lastDoseMs === null) return done
    if (ramp.awaitingReading) {
      const after = context.variant.testAfterHours
      const spacing = context.variant.spacingHours ?? 24
      dueMs = ramp.lastDoseMs + (after ?? Math.max(1, spacing - 4)) * MS_PER_HOUR
      detail = `Confirms ${ramp.levels[ramp.confirmed]} mg/L and opens the next step.`
    }
  } else if (dosing && estimate?.test && estimate.test.savesH >= 1) {
    const soonerMs = context.nowMs + Math.max(0, estimate.test.best.atH - offsetOf(estimate, context)) * MS_PER_HOUR
    if (soonerMs < dueMs - 2 * MS_PER_HOUR) dueMs = soonerMs
    detail = `Would settle about ${Math.round(estimate.test.savesH)} h of the clock.`
  }
  if (dosing && estimate?.dose?.ok && estimate.dose.value.short && lastMs > 0) {
    const soonMs = lastMs + 12 * MS_PER_HOUR
    if (soonMs < dueMs) dueMs = soonMs
    detail = 'The doubt about the level holds the dose down: a reading narrows it.'
  }
  const steps = [
    ...(dosing ? standardCheck(rule, builder, phaseMs) : []),
    make(rule, builder, occurrence, { detail, dueMs, test }, rule.toleranceHours ?? 2),
  ]
  let next = Math.max(dueMs, context.nowMs)
  for (let i = 1; i < 20; i++) {
    next += everyAt(next)
    if (next > builder.aheadMs) break
    steps.push(make(rule, builder, occurrence + i, { detail: '', dueMs: next, state: 'ahead', test }))
  }
  return [...done, ...steps]
}

/**
 * A kit that tells the level of a clock is held against a standard first: until then its bias is unknown, and the clock
 * credits only what is sure all the same. @source design/definitions "Level"; handbook 65.5 `dis-standard`
 */
function standardCheck(rule: RuleOf<'test'>, builder: Builder, phaseMs: number): Step[] {
  const { context } = builder
  const id = context.course.body.instruments[rule.role]
  const instrument = id === undefined ? undefined : context.record.instruments.get(id)
  if (!id || !instrument || checkStands(instrument.body.checkedAt, context.nowMs)) return []
  const step = make(
    rule,
    builder,
    0,
    {
      title: `Hold ${instrument.body.name} against a standard`,
      detail: `${instrument.body.checkedAt === undefined ? 'Never checked' : 'The last check is over 60 days old'}: it may read a tenth off and nobody sees it. Until then the clock counts only what is sure all the same. Read a standard of known strength three times; the middle within 3 % of it passes.`,
      dueMs: phaseMs,
      untilMs: phaseMs + 365 * 24 * MS_PER_HOUR,
      minutes: 10,
      test: { analyte: instrument.body.analyte, role: rule.role, instrumentId: id },
      gate: STANDARD_CHECK,
    },
    24,
  )
  return [{ ...step, kind: 'gate', key: `${context.course.id}/${rule.id}-standard/0` }]
}
/** The question whose yes is written into the kit itself. */
export const STANDARD_CHECK = 'standard-check'

/** Test choices count from the posterior's last event; this is how long ago that was. */
const offsetOf = (estimate: CourseEstimate, _context: CourseContext): number => estimate.test!.choices[0]?.atH ?? 0

function changeSteps(rule: RuleOf<'change'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context, estimate } = builder
  const vessel = context.record.vessels.get(context.course.body.vesselId)
  const volume = vessel ? vesselVolume(vessel) : null
  const endMs = exitMs ?? context.nowMs
  const changes = entriesBetween(context, phaseMs, endMs + 1).filter(({ kind }) => kind === 'change')
  const done = changes.map((entry, i) => {
    const share = entry.kind === 'change' && volume ? changedShare(entry, volume.litres) : 0
    return make(rule, builder, i, {
      title: `${Math.round(100 * share)} % changed`,
      detail: 'Done.',
      dueMs: entryMs(entry),
      state: 'done',
      doneMs: entryMs(entry),
      entryId: entry.id,
    })
  })
  if (exitMs !== null || (rule.times !== undefined && done.length >= rule.times)) return done
  const { zone } = context
  const litres = rule.fraction * (volume?.litres ?? 0)
  const everyDays = rule.everyDays ?? 1
  const lastMs = changes.length > 0 ? entryMs(changes.at(-1)!) : null
  const dayFrom = (ms: number, days: number) =>
    atHourOfDay(addDays(dayOf(ms, zone), days), context.course.body.dailyHour, zone)
  const firstMs =
    rule.times !== undefined && lastMs === null
      ? phaseMs + (rule.afterHours ?? 0) * MS_PER_HOUR
      : dayFrom(lastMs ?? phaseMs, everyDays)
  const steps: Step[] = []
  for (let i = 0; i < (rule.times === undefined ? 6 : rule.times - done.length); i++) {
    const dueMs = i === 0 ? firstMs : dayFrom(Math.max(firstMs, context.nowMs), i * everyDays)
    if (i > 0 && dueMs > builder.aheadMs) break
    if (dueMs > builder.aheadMs) break
    const makeUp = rule.makeUp && estimate && builder.band ? makeUpDose(builder, litres) : null
    steps.push(
      make(
        rule,
        builder,
        done.length + i,
        {
          detail: `${litres.toFixed(0)} L, matched water${makeUp ? `; ${makeUp.amount} ${makeUp.unit} into the new water first` : rule.makeUp ? ', dosed to the level before it goes in' : ', undosed'}.`,
          dueMs,
          change: { fraction: rule.fraction, litres, ...(makeUp ? { makeUp } : {}) },
          ...(i > 0 ? { state: 'ahead' as const } : {}),
        },
        12,
      ),
    )
  }
  return [...done, ...steps]
}

/** Amount that holds the level through a change: changed litres × aim ÷ strength, never above the band. */
function makeUpDose(builder: Builder, litres: number): StepDose | null {
  const { context, estimate, band } = builder
  const role = context.protocol.productRoles[0]?.id ?? ''
  const productId = context.course.body.products[role]
  const product = productId === undefined ? undefined : context.record.products.get(productId)
  const content = product ? activeContent(product.body.strength) : null
  if (!productId || !content?.ok || !estimate || !band) return null
  const aim = Math.min(band.targetMgPerL, band.ceilingMgPerL)
  const massMg = litres * aim
  const measures = context.record.settings.syringesMl
  const rough = massMg / content.value.mg
  const step =
    content.value.per === 'mL'
      ? (
          [...measures].sort((a, b) => a.capacity - b.capacity).find(({ capacity }) => rough <= capacity) ?? {
            step: 0.2,
          }
        ).step
      : 0.01
  const amount = Number((Math.round(rough / step) * step).toPrecision(12))
  return {
    productId,
    amount,
    unit: content.value.per,
    measureStep: step,
    fromMgPerL: 0,
    toMgPerL: (amount * content.value.mg) / litres,
    volumeL: litres,
    volumeSdL: 0,
    strengthMg: content.value.mg,
    holdsChance: null,
    working: {
      title: 'Make-up for a water change',
      formula: 'changed water × aim ÷ strength, into the new water before it goes in',
      inputs: [
        { label: 'new water', value: litres, unit: 'L' },
        { label: 'aim', value: aim, unit: 'mg/L' },
        { label: 'strength', value: content.value.mg, unit: `mg per ${content.value.per}` },
        { label: 'mass', value: massMg, unit: 'mg' },
      ],
      result: { label: 'amount', value: amount, unit: content.value.per },
      source: 'Handbook 31 calc-change',
    },
  }
}

function equipmentSteps(rule: RuleOf<'equipment'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const last = builder.context.entries.findLast((entry) => entry.kind === 'equipment' && entry.item === rule.item)
  // What nobody ever wrote down is not known to be out: it is asked, once.
  const isSo = last?.kind === 'equipment' && last.on === rule.on
  if (isSo) {
    const ms = entryMs(last)
    return [
      make(rule, builder, 0, {
        detail: 'Done.',
        dueMs: Math.max(phaseMs, ms),
        state: 'done',
        doneMs: ms,
        entryId: last.id,
      }),
    ]
  }
  if (exitMs !== null) return []
  return [
    make(
      rule,
      builder,
      0,
      {
        detail: rule.on
          ? 'Put it in and log it.'
          : last
            ? 'Take it out and log it.'
            : 'The record does not say whether it runs. Take it out, or log that there is none.',
        dueMs: phaseMs,
        equipment: { item: rule.item, on: rule.on },
      },
      12,
    ),
  ]
}

const DAILY_WORDS = { observe: 'Spread over the day.', feed: '', task: '' } as const

function dailySteps(
  rule: RuleOf<'observe' | 'feed' | 'task'>,
  builder: Builder,
  phaseMs: number,
  exitMs: number | null,
): Step[] {
  const { context } = builder
  const { zone, nowMs } = context
  if (rule.kind === 'task' && rule.everyDays === undefined) return onceStep(rule, builder, phaseMs, exitMs)
  const everyDays = rule.kind === 'task' ? rule.everyDays! : 1
  const mix = rule.kind === 'feed' && rule.mix ? foodMix(rule.mix, context) : null
  const mixed =
    rule.kind === 'observe'
      ? ''
      : rule.kind === 'feed' && rule.mix
        ? `${rule.text} ${mix?.words ?? 'Choose the bottle first, then the amount stands here.'}`
        : rule.text
  const steps: Step[] = []
  const endMs = Math.min(exitMs ?? builder.aheadMs, builder.aheadMs)
  const firstDay = dayOf(phaseMs, zone)
  // What ended more than three days ago is history on the ledger, not a step; what still lasts stands to its last day.
  const skipDays = Math.max(0, daysBetween(phaseMs, nowMs, zone) - 3)
  const first = Math.floor(skipDays / everyDays)
  const last = first + 30 + (rule.kind === 'task' ? Math.ceil((rule.fromDay ?? 0) / everyDays) : 0)
  for (let i = first; i < last; i++) {
    const day = addDays(firstDay, i * everyDays)
    if (rule.kind === 'task') {
      if (i * everyDays < (rule.fromDay ?? 0)) continue
      if (rule.untilDay !== undefined && i * everyDays > rule.untilDay) break
    }
    const dueMs = atHourOfDay(day, context.course.body.dailyHour, zone)
    if (dueMs > endMs) break
    const dayStart = atHourOfDay(day, 0, zone)
    const dayEnd = atHourOfDay(addDays(day, everyDays), 0, zone)
    if (dayEnd <= phaseMs) continue
    const key = `${context.course.id}/${rule.id}/${i}`
    const done =
      context.byStep.get(key) ??
      (rule.kind === 'feed'
        ? entriesBetween(context, dayStart, dayEnd).find((entry) => entry.kind === 'meal')
        : rule.kind === 'task' && rule.steers
          ? pouredBetween(rule.steers, context, dayStart, dayEnd)
          : undefined)
    const today = nowMs >= dayStart && nowMs < dayEnd
    if (rule.kind === 'observe' && rule.split === true && !done) {
      steps.push(splitWatch(rule, builder, i, { dueMs, dayStart, dayEnd }))
      continue
    }
    steps.push(
      make(rule, builder, i, {
        detail: rule.kind === 'observe' ? `${DAILY_WORDS.observe} Look at ${rule.look.join(', ')}.` : mixed,
        dueMs,
        fromMs: dayStart,
        untilMs: dayEnd,
        ...(rule.kind === 'feed' || rule.minutes === undefined ? {} : { minutes: rule.minutes }),
        ...(rule.kind === 'task' && rule.steers ? { steers: rule.steers } : {}),
        ...(done
          ? { state: 'done' as const, doneMs: entryMs(done), entryId: done.id }
          : today
            ? {}
            : nowMs >= dayEnd
              ? { state: 'late' as const }
              : { state: 'ahead' as const }),
      }),
    )
  }
  // A day that is over and was missed stays visible for one day, then it is history.
  // A task of every day that was missed yesterday is today's task, where there is one today.
  const today = steps.some(({ fromMs, untilMs }) => fromMs <= nowMs && untilMs > nowMs)
  const daily = rule.kind === 'task' && everyDays === 1 && today
  return steps.filter((step) => step.state !== 'late' || (!daily && nowMs - step.untilMs < 24 * MS_PER_HOUR))
}

/** How long a task that is done once may take before it is late, h. */
const ONCE_TOLERANCE_H = 24

/**
 * A task that is done once: it stands on its own hour, waits there until it is done or left out in words, and outlasts its
 * phase. Only what was not due yet when the phase ended never comes.
 */
function onceStep(rule: RuleOf<'task'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context } = builder
  const dueMs = phaseMs + (rule.atHours ?? 0) * MS_PER_HOUR
  if (dueMs > builder.aheadMs || (exitMs !== null && dueMs > exitMs)) return []
  const done = context.byStep.get(`${context.course.id}/${rule.id}/0`)
  return [
    make(
      rule,
      builder,
      0,
      {
        detail: rule.text,
        dueMs,
        ...(rule.minutes === undefined ? {} : { minutes: rule.minutes }),
        ...(rule.steers ? { steers: rule.steers } : {}),
        ...(done ? { state: 'done' as const, doneMs: entryMs(done), entryId: done.id } : {}),
      },
      ONCE_TOLERANCE_H,
    ),
  ]
}

/** A day's watching that is spread over its looks: what was looked at, and what is left. */
function splitWatch(
  rule: RuleOf<'observe'>,
  builder: Builder,
  occurrence: number,
  { dueMs, dayStart, dayEnd }: { dueMs: number; dayStart: number; dayEnd: number },
): Step {
  const { context } = builder
  const { nowMs, zone } = context
  const entries = entriesBetween(context, dayStart, dayEnd)
  const [day] = watchDays(
    entries,
    rotaOf(context.course),
    zone,
    { fromMs: dayStart, toMs: Math.max(dayStart, dayEnd - 1) },
    () => false,
  )
  const { minutes, looks, complete } = day!
  const left = watchOfDay.looks.filter(({ id }) => !looks.includes(id))
  const last = entries.findLast((entry) => entry.kind === 'done' && entry.watched !== undefined)
  const over = nowMs >= dayEnd
  const words =
    minutes === 0
      ? over
        ? 'Nobody noted a look. The day does not count towards the days without signs.'
        : `${watchOfDay.minutes} min over at least ${watchOfDay.least} looks: ${left.map(({ title }) => title.toLowerCase()).join(', ')}.`
      : `${Math.round(minutes)} of ${watchOfDay.minutes} min in ${looks.length} of ${watchOfDay.least} looks. ${
          over
            ? 'The day does not count towards the days without signs.'
            : `Left: ${left.map(({ title, when }) => `${title.toLowerCase()} (${when})`).join(', ')}.`
        }`
  return make(rule, builder, occurrence, {
    detail: complete ? 'Watched.' : words,
    dueMs,
    fromMs: dayStart,
    untilMs: dayEnd,
    minutes: rule.minutes,
    watch: { minutes, looks, left: left.map(({ id }) => id) },
    ...(complete && last
      ? { state: 'done' as const, doneMs: entryMs(last), entryId: last.id }
      : nowMs >= dayStart && !over
        ? {}
        : over
          ? { state: 'late' as const }
          : { state: 'ahead' as const }),
  })
}

/** The last of a day's additions where all of the corrections were poured. */
function pouredBetween(ids: readonly string[], context: CourseContext, fromMs: number, toMs: number) {
  const entries = entriesBetween(context, fromMs, toMs)
  const poured = ids.map((id) =>
    entries.findLast((entry) => entry.kind === 'tally' && entry.measure === addedMeasure(id)),
  )
  return poured.every((entry) => entry !== undefined) ? poured.at(-1) : undefined
}
