// A course as one line of time: its phases, what was earned and refused, what was done and is to come, and its end as
// wide as it is unsure.
import type { ClockState } from '../clock/therapeutic.ts'
import { limitOf } from '../knowledge/limits.ts'
import type { ActiveLedger, CourseDocument, Entry } from '../record/types.ts'
import { entryMs, instantMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import type { CoursePlan } from './plan.ts'
import type { Step } from './stepBuilder.ts'

const DAY = 24 * MS_PER_HOUR

export interface RibbonPhase {
  readonly id: string
  readonly title: string
  readonly fromMs: number
  /** Where it has not ended: when it does so at the earliest. */
  readonly toMs: number
  readonly state: 'done' | 'now' | 'ahead'
}
export interface RibbonStretch {
  readonly fromMs: number
  readonly toMs: number
  readonly kind: 'credited' | 'lost' | 'refused' | 'not-started'
  /** Why the clock refused it. */
  readonly reason?: NonNullable<ClockState['intervals'][number]['reason']>
}
export type RibbonMarkKind = 'dose' | 'change' | 'test' | 'bath' | 'look' | 'gate' | 'move' | 'count' | 'work'
export interface RibbonMark {
  readonly ms: number
  readonly kind: RibbonMarkKind
  readonly state: 'done' | 'planned' | 'late' | 'left-out'
  /** Its entry, where it was done. */
  readonly entryId?: string
  /** Its step in words, where it is to come. */
  readonly title?: string
}
export interface RibbonEnd {
  readonly earliestMs: number
  /** As things have gone so far; the same as the earliest where nothing has slipped. */
  readonly latestMs: number
  /** What the spread hangs on. */
  readonly by: 'hours-proven' | 'host-inside' | 'nothing-goes-in' | 'answers' | 'over'
  /** Share of the hours since the clock began that were proven; null where no clock runs. */
  readonly provenShare: number | null
}
export interface Ribbon {
  readonly fromMs: number
  readonly toMs: number
  readonly nowMs: number
  readonly phases: readonly RibbonPhase[]
  readonly stretches: readonly RibbonStretch[]
  readonly marks: readonly RibbonMark[]
  readonly end: RibbonEnd
}

/** What kind of mark an entry is; null for what a ribbon does not show. */
function kindOf(entry: Entry): RibbonMarkKind | null {
  switch (entry.kind) {
    case 'dose':
      return 'dose'
    case 'change':
      return 'change'
    case 'reading':
      return 'test'
    case 'bath':
      return entry.act === 'start' ? 'bath' : null
    case 'gate':
      return 'gate'
    case 'move':
      return 'move'
    case 'tally':
      return 'count'
    case 'sign':
      return 'look'
    case 'done':
      return entry.watched !== undefined ? 'look' : 'work'
    default:
      return null
  }
}
const STEP_MARKS: Readonly<Partial<Record<Step['kind'], RibbonMarkKind>>> = {
  ramp: 'dose',
  hold: 'dose',
  dose: 'dose',
  change: 'change',
  test: 'test',
  bath: 'bath',
  bench: 'bath',
  round: 'bath',
  spot: 'bath',
  observe: 'look',
  check: 'look',
  gate: 'gate',
  transfer: 'move',
  tally: 'count',
  task: 'work',
  run: 'work',
  setting: 'work',
  equipment: 'work',
}
/** Daily things: each would be a mark of its own and say nothing. */
const TOO_MANY: ReadonlySet<string> = new Set(['look', 'work'])

/** So much longer than its usual days a phase that waits for answers may take. */
const LATER_SHARE = limitOf('end-spread')
/** Hours a clock must have run before its rate says anything, and the least rate that is taken. */
const RATE_FROM_H = limitOf('end-rate-from')
const LEAST_RATE = limitOf('end-rate-least')

/**
 * The course as one line of time. Pure: the same record, plan and time give the same ribbon.
 * @param clock its therapeutic clock, hours since the start; null where none runs
 */
export function ribbonOf(
  course: CourseDocument,
  plan: CoursePlan,
  active: ActiveLedger,
  clock: ClockState | null,
  nowMs: number,
): Ribbon {
  const startMs = instantMs(course.body.startedAt)
  const { phases: progress, finishedMs, current } = plan.progress
  const overMs = course.body.endedAt === undefined ? finishedMs : instantMs(course.body.endedAt)
  const clockEndMs = clock === null ? null : startMs + (clock.completeAtH ?? clock.earliestFinishH) * MS_PER_HOUR
  const phases: RibbonPhase[] = []
  let aheadMs = nowMs
  progress.forEach(({ phase, enteredMs, exitedMs }, i) => {
    const usual = phase.typicalDays * DAY
    if (enteredMs !== null && exitedMs !== null)
      phases.push({ id: phase.id, title: phase.title, fromMs: enteredMs, toMs: exitedMs, state: 'done' })
    else if (enteredMs !== null) {
      const holds = clockEndMs !== null && phase.exit !== undefined && asksForHours(phase.exit)
      const toMs = overMs ?? Math.max(nowMs, holds ? clockEndMs : (plan.fallow?.endMs ?? enteredMs + usual))
      phases.push({ id: phase.id, title: phase.title, fromMs: enteredMs, toMs, state: 'now' })
      aheadMs = toMs
    } else if (overMs === null && (current === null || i > current)) {
      // A hold that has not begun lasts its hours, whatever the usual days say.
      const holds = clock !== null && phase.exit !== undefined && asksForHours(phase.exit)
      const toMs = aheadMs + (holds ? Math.max(usual, clock.requiredH * MS_PER_HOUR) : usual)
      phases.push({ id: phase.id, title: phase.title, fromMs: aheadMs, toMs, state: 'ahead' })
      aheadMs = toMs
    }
  })
  const end = endOf({ overMs, earliestMs: phases.at(-1)?.toMs ?? nowMs, plan, clock, startMs, nowMs })
  return {
    fromMs: startMs,
    toMs: Math.max(end.latestMs, nowMs, startMs + DAY),
    nowMs,
    phases,
    stretches: (clock?.intervals ?? []).map(({ fromH, toH, state, reason, lost }) => ({
      fromMs: startMs + fromH * MS_PER_HOUR,
      toMs: startMs + toH * MS_PER_HOUR,
      kind:
        state === 'credited'
          ? lost === true
            ? 'lost'
            : 'credited'
          : reason === 'not-started'
            ? 'not-started'
            : 'refused',
      ...(state === 'refused' && reason !== undefined ? { reason } : {}),
    })),
    marks: marksOf(course, plan, active, nowMs),
    end,
  }
}

/** Whether a condition waits for credited hours. */
function asksForHours(condition: { readonly kind: string }): boolean {
  const parts = (condition as { of?: unknown }).of
  return (
    condition.kind === 'clock-credited' ||
    (Array.isArray(parts) && parts.some((part: { readonly kind: string }) => asksForHours(part)))
  )
}

function endOf({
  overMs,
  earliestMs,
  plan,
  clock,
  startMs,
  nowMs,
}: {
  readonly overMs: number | null
  readonly earliestMs: number
  readonly plan: CoursePlan
  readonly clock: ClockState | null
  readonly startMs: number
  readonly nowMs: number
}): RibbonEnd {
  if (overMs !== null) return { earliestMs: overMs, latestMs: overMs, by: 'over', provenShare: null }
  if (clock !== null && clock.completeAtH === null) {
    const sinceH = clock.startedAtH === null ? 0 : (nowMs - startMs) / MS_PER_HOUR - clock.startedAtH
    const provenShare = sinceH <= 0 ? null : Math.min(1, clock.creditedH / sinceH)
    // At the rate so far; a clock that has hardly begun says nothing of it yet.
    const slowedH =
      provenShare === null || sinceH < RATE_FROM_H
        ? 0
        : clock.remainingH / Math.max(provenShare, LEAST_RATE) - clock.remainingH
    return { earliestMs, latestMs: earliestMs + slowedH * MS_PER_HOUR, by: 'hours-proven', provenShare }
  }
  if (plan.fallow !== null && plan.fallow.inside.length > 0)
    return { earliestMs, latestMs: earliestMs, by: 'host-inside', provenShare: null }
  if (plan.fallow !== null) return { earliestMs, latestMs: earliestMs, by: 'nothing-goes-in', provenShare: null }
  const leftMs = Math.max(0, earliestMs - nowMs)
  // What waits for answers and counts is late by a share of what is left, by a day at least.
  return { earliestMs, latestMs: earliestMs + Math.max(DAY, LATER_SHARE * leftMs), by: 'answers', provenShare: null }
}

function marksOf(course: CourseDocument, plan: CoursePlan, active: ActiveLedger, nowMs: number): RibbonMark[] {
  const { vesselId } = course.body
  const startMs = instantMs(course.body.startedAt)
  const endMs = course.body.endedAt === undefined ? nowMs : Math.min(nowMs, instantMs(course.body.endedAt))
  const agent = plan.band?.form.agent
  const done = active.flatMap((entry): RibbonMark[] => {
    const ms = entryMs(entry)
    if (ms < startMs || ms > endMs) return []
    const kind = kindOf(entry)
    if (kind === null) return []
    const here = 'vesselId' in entry && entry.vesselId === vesselId
    const own = 'courseId' in entry && entry.courseId === course.id
    // A reading of something else belongs to the lanes below.
    if (entry.kind === 'reading' && (!here || (agent !== undefined && entry.analyte !== agent))) return []
    if (!own && !(here && (kind === 'dose' || kind === 'change' || kind === 'test'))) return []
    return [{ ms, kind, state: 'done', entryId: entry.id }]
  })
  const coming = plan.steps.flatMap((step): RibbonMark[] => {
    const kind = STEP_MARKS[step.kind]
    if (kind === undefined || TOO_MANY.has(kind)) return []
    if (step.state === 'done' || step.state === 'waiting') return []
    if (step.kind === 'test' && agent !== undefined && step.test?.analyte !== agent) return []
    const state = step.state === 'late' ? 'late' : step.state === 'skipped' ? 'left-out' : 'planned'
    return [{ ms: step.dueMs, kind, state, title: step.title }]
  })
  return [...done, ...coming].sort((a, b) => a.ms - b.ms)
}

/** What a day of the ribbon was or will be. */
export interface RibbonDay {
  readonly phase: RibbonPhase | null
  readonly creditedH: number
  readonly refusedH: number
  /** Why most of it was refused. */
  readonly reason: RibbonStretch['reason'] | null
  readonly marks: readonly RibbonMark[]
}
/** One stretch of time of a ribbon, usually a day of the keeper's. */
export function ribbonDay(ribbon: Ribbon, fromMs: number, toMs: number): RibbonDay {
  const over = ({ fromMs: a, toMs: b }: { readonly fromMs: number; readonly toMs: number }) =>
    Math.max(0, Math.min(b, toMs) - Math.max(a, fromMs)) / MS_PER_HOUR
  const hours = (kinds: readonly RibbonStretch['kind'][]) =>
    ribbon.stretches.reduce((sum, one) => sum + (kinds.includes(one.kind) ? over(one) : 0), 0)
  const refused = ribbon.stretches
    .filter((one) => one.kind === 'refused' && over(one) > 0)
    .sort((a, b) => over(b) - over(a))
  return {
    phase: ribbon.phases.findLast((one) => one.fromMs < toMs && one.toMs > fromMs) ?? null,
    creditedH: hours(['credited']),
    refusedH: hours(['refused', 'lost']),
    reason: refused[0]?.reason ?? null,
    marks: ribbon.marks.filter(({ ms }) => ms >= fromMs && ms < toMs),
  }
}
