// A reading at a rhythm; sooner where it would settle more, and a kit held against a standard first.
import type { RuleOf } from '../../knowledge/protocols.ts'
import type { CourseEstimate } from '../../level/estimate.ts'
import { checkStands } from '../../level/fromRecord.ts'
import { addDays, atHourOfDay, dayOf, entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { spanWords } from '../../units/spanWords.ts'
import { roleReadings, valueFor, type CourseContext } from '../courseContext.ts'
import { unconfirmed } from '../levelDose.ts'
import { make, type Builder, type Step } from '../stepBuilder.ts'
import { STANDARD_CHECK } from './gate.ts'
import type { RuleKind } from './kind.ts'
import { never } from './kind.ts'

function steps(rule: RuleOf<'test'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
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
  // The first such hour from then on, and not one more than half a rhythm away.
  const { atHour } = rule
  const atItsHour = (ms: number): number => {
    if (atHour === undefined) return ms
    const { zone } = context
    const today = atHourOfDay(dayOf(ms, zone), atHour, zone)
    const slackMs = lastMs > 0 ? everyAt(ms) / 2 : 0
    return today >= ms - slackMs ? today : atHourOfDay(addDays(dayOf(ms, zone), 1), atHour, zone)
  }
  dueMs = atItsHour(dueMs)
  const ramp = builder.progress.ramp
  const dosing = role.readsFormOf !== undefined
  const occurrence = done.length + skips.length
  let wished = false
  let detail =
    lastMs > 0 ? `Due ${spanWords(everyAt(dueMs) / MS_PER_HOUR)} after the last one.` : 'Not read in this course yet.'
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
    if (soonerMs < dueMs - 2 * MS_PER_HOUR) {
      dueMs = soonerMs
      wished = true
    }
    detail = `Would settle about ${Math.round(estimate.test.savesH)} h of the clock.`
  }
  const unsure =
    estimate?.dose &&
    (estimate.dose.ok ? estimate.dose.value.short === true : estimate.dose.error.kind === 'too-uncertain')
  if (dosing && unsure && lastMs > 0) {
    const soonMs = lastMs + 12 * MS_PER_HOUR
    if (soonMs < dueMs) dueMs = soonMs
    detail = 'The doubt about the level holds the dose down: a reading narrows it.'
  }
  const again = dosing && lastMs > 0 && estimate?.stale !== true ? unconfirmed(builder) : null
  if (again !== null && lastMs + AGAIN_MS < dueMs) {
    dueMs = lastMs + AGAIN_MS
    detail = again
  }
  const steps = [
    ...(dosing ? standardCheck(rule, builder, phaseMs) : []),
    make(
      rule,
      builder,
      occurrence,
      { detail, dueMs, test: wished ? { ...test, wished: true } : test },
      rule.toleranceHours ?? 2,
    ),
  ]
  let next = Math.max(dueMs, context.nowMs)
  for (let i = 1; i < 20; i++) {
    next = atItsHour(next + everyAt(next))
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

/** A doubtful reading is taken again when the water has mixed once more. */
const AGAIN_MS = MS_PER_HOUR

/** Test choices count from the posterior's last event; this is how long ago that was. */
const offsetOf = (estimate: CourseEstimate, _context: CourseContext): number => estimate.test!.choices[0]?.atH ?? 0

export const test: RuleKind<'test'> = {
  steps,
  leavesOut: true,
  occurrences: never,
  calendar: (rule, pen) => pen.through(pen.number(rule.everyHours, 24, 'h') / 24, (rule.firstAfterHours ?? 0) / 24),
  problems(rule, check) {
    check.instrument(rule.role, ['role'])
    check.limits(rule.everyHours, ['everyHours'], 'h')
  },
  presses: ({ test: read }) => [
    {
      to: 'log',
      label: 'Enter reading',
      preset: {
        kind: 'reading',
        ...(read ? { analyte: read.analyte } : {}),
        ...(read?.instrumentId === undefined ? {} : { instrumentId: read.instrumentId }),
      },
    },
  ],
}
