// From the record to what a worker needs to estimate one course. Cheap; its JSON is the key the estimate is kept by.
import { activeContent } from '../dosing/strength.ts'
import { SYRINGES } from '../dosing/dose.ts'
import type { ClockState } from '../clock/therapeutic.ts'
import type { DoseWish, EstimateInputs } from '../level/estimate.ts'
import { kitOf, levelModelOf, type VesselLevel } from '../level/fromRecord.ts'
import type { ActiveLedger, CourseDocument, Entry, KeeperRecord } from '../record/types.ts'
import { agentForm, type AgentForm } from '../knowledge/agents.ts'
import { limitOf } from '../knowledge/limits.ts'
import { entryMs, instantMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import {
  courseContext,
  courseProgress,
  roleReadings,
  valueFor,
  type CourseContext,
  type CourseProgress,
} from './progress.ts'

export interface CourseBand {
  readonly form: AgentForm
  readonly floorMgPerL: number
  readonly ceilingMgPerL: number
  readonly hardMaxMgPerL: number
  readonly targetMgPerL: number
}

/**
 * The band of the bottle: the label's own where the keeper confirmed one inside the form's limits, else the form's.
 * A low-end variant narrows what is aimed at, never the floor.
 */
export function courseBand(
  context: Pick<CourseContext, 'record' | 'course' | 'forms' | 'variant' | 'protocol'>,
): CourseBand | null {
  const role = context.protocol.clock?.role ?? context.protocol.productRoles[0]?.id
  const form = agentForm(context.forms[role ?? ''] ?? '')
  // A bath has water of its own: the vessel's level says nothing about it.
  if (!form || role === undefined || form.route !== 'in-tank') return null
  const label = context.record.products.get(context.course.body.products[role] ?? '')?.body.labelBand
  const ceiling = label ? Math.min(label.maxMgPerL, form.hardMax) : form.band.max
  const floor = label && label.minMgPerL < label.maxMgPerL ? Math.max(label.minMgPerL, form.band.min) : form.band.min
  const hold = context.variant.holdBand?.[form.id]
  const levels = context.variant.levels?.[form.id]
  return {
    form,
    floorMgPerL: floor,
    ceilingMgPerL: Math.max(ceiling, floor),
    hardMaxMgPerL: form.hardMax,
    targetMgPerL: hold?.max ?? Math.min(levels?.at(-1) ?? form.target, Math.max(ceiling, floor)),
  }
}

/** A dose is measured to last at least so long, h: a test that is overdue is not taken this minute. EST */
const LEAST_AHEAD_H = limitOf('dose-lasts')
/**
 * Hours until the level is read again: what is left of the rhythm since the last reading, the shortest where several
 * rules read it. A dose that lasts until then is not asked for again before it.
 */
export function hoursToNextTest(context: CourseContext, progress: CourseProgress): number {
  const phase = progress.current === null ? undefined : progress.phases[progress.current]
  let shortest = 48
  for (const rule of phase?.phase.rules ?? []) {
    if (rule.kind !== 'test') continue
    const role = context.protocol.instrumentRoles.find(({ id }) => id === rule.role)
    if (role?.readsFormOf === undefined) continue
    const dense =
      rule.denseDays !== undefined &&
      context.nowMs - (phase?.enteredMs ?? context.startMs) < rule.denseDays * 24 * MS_PER_HOUR
    const every = dense
      ? (rule.denseEveryHours ?? valueFor(rule.everyHours, context, 'h'))
      : valueFor(rule.everyHours, context, 'h')
    const last = roleReadings(context, rule.role, context.startMs).at(-1)
    const gone = last ? (context.nowMs - entryMs(last)) / MS_PER_HOUR : 0
    shortest = Math.min(shortest, Math.max(LEAST_AHEAD_H, every + (rule.toleranceHours ?? 0) - gone))
  }
  return shortest
}

/** What the current phase asks of the next dose, or null when it asks for none (waiting, or a phase without dosing). */
export function doseWish(context: CourseContext, progress: CourseProgress, band: CourseBand): DoseWish | null {
  const phase = progress.current === null ? undefined : progress.phases[progress.current]
  for (const rule of phase?.phase.rules ?? []) {
    if (rule.kind === 'ramp' && progress.ramp) {
      const level = progress.ramp.levels[progress.ramp.confirmed]
      return level === undefined ? null : { kind: 'reach', levelMgPerL: level }
    }
    if (rule.kind === 'hold') return { kind: 'hold', topMgPerL: band.targetMgPerL }
  }
  return null
}

const PHRASES: Readonly<Record<string, string>> = {
  dose: 'The dose',
  change: 'The water change',
  topoff: 'The top-off',
}

export interface CourseInputs {
  readonly inputs: EstimateInputs
  readonly band: CourseBand
  readonly level: VesselLevel
}

/**
 * Inputs of one course's estimate at `nowMs`, or null for a course that doses nothing or whose vessel or bottle is
 * unreadable. `now` is rounded down to five minutes so that the same record gives the same key for a while.
 */
export function courseInputs(
  record: KeeperRecord,
  active: ActiveLedger,
  course: CourseDocument,
  nowMs: number,
  gridSize = 40,
): CourseInputs | null {
  const vessel = record.vessels.get(course.body.vesselId)
  if (!vessel) return null
  const endMs = course.body.endedAt === undefined ? nowMs : Math.min(nowMs, instantMs(course.body.endedAt))
  // Rounded down, but never to before the newest entry: what was just logged counts at once.
  const newest = active.findLast(
    (entry) => 'vesselId' in entry && entry.vesselId === vessel.id && entryMs(entry) <= endMs,
  )
  const roundedMs = Math.max(Math.floor(endMs / 300_000) * 300_000, newest ? entryMs(newest) : 0)
  const clockless = courseContext(record, active, course, roundedMs + 300_000, null)
  const band = courseBand(clockless)
  // What is put on spots is never held at a level.
  if (!band || clockless.protocol.campaign?.kind === 'spot') return null
  const level = levelModelOf(record, active, vessel, band.form.id, clockless.startMs)
  if (!level) return null
  // The worker decides the clock; the phase that needs it is found without: hold lasts until the clock says so.
  const progress = courseProgress(clockless)
  const role = clockless.protocol.productRoles[0]?.id ?? ''
  const product = record.products.get(course.body.products[role] ?? '')
  const content = product ? activeContent(product.body.strength) : null
  const testRole = clockless.protocol.instrumentRoles.find(({ readsFormOf }) => readsFormOf !== undefined)?.id ?? ''
  const instrumentId = course.body.instruments[testRole]
  const nowH = Math.max(0, (roundedMs - clockless.startMs) / MS_PER_HOUR) + 1e-5
  const { clock } = clockless.protocol
  const used = new Set([...level.model.events, ...level.model.readings].map(({ id }) => id))
  const latest = active.reduce<Entry | null>(
    (last, entry) =>
      used.has(entry.id) &&
      (!last || entry.recordedAt > last.recordedAt || (entry.recordedAt === last.recordedAt && entry.id > last.id))
        ? entry
        : last,
    null,
  )
  const measures = record.settings.syringesMl.length > 0 ? record.settings.syringesMl : SYRINGES
  return {
    band,
    level,
    inputs: {
      model: level.model,
      floorMgPerL: band.floorMgPerL,
      ceilingMgPerL: band.ceilingMgPerL,
      hardMaxMgPerL: band.hardMaxMgPerL,
      nowH,
      aheadH: 120,
      rules: clock
        ? {
            school: course.body.clockSchool,
            confidence: clockless.variant.confidence ?? clock.confidence,
            requiredH: valueFor(clock.requiredHours, clockless, 'h'),
            maxGapH: band.form.maxGapHours,
            aboveCounts: clock.aboveCounts,
          }
        : null,
      wish: doseWish(clockless, progress, band),
      content:
        content?.ok === true
          ? {
              mg: content.value.mg,
              measures: (content.value.per === 'mL'
                ? [...measures]
                : [{ capacity: 1e9, step: content.value.per === 'g' ? 0.01 : 1 }]
              ).sort((a, b) => a.capacity - b.capacity),
            }
          : null,
      nextTestH: hoursToNextTest(clockless, progress),
      instrumentIndex: Math.max(0, level.instrumentIds.indexOf(instrumentId ?? 'unregistered')),
      kit: kitOf(record, band.form, instrumentId),
      latest: latest ? { id: latest.id, phrase: phraseOf(latest) } : null,
      gridSize,
    },
  }
}

function phraseOf(entry: Entry): string {
  if (entry.kind === 'reading') return `Your reading of ${Number(entry.value.toPrecision(3))} ${entry.unit}`
  return PHRASES[entry.kind] ?? 'The last entry'
}

/** Progress with the clock that the estimate found. */
export const progressWith = (
  record: KeeperRecord,
  active: ActiveLedger,
  course: CourseDocument,
  nowMs: number,
  clock: ClockState | null,
) => {
  const context = courseContext(record, active, course, nowMs, clock)
  return { context, progress: courseProgress(context) }
}
