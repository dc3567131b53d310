// A level kept between its floor and its target: the dose falls due when its lower edge reaches the floor.
import type { RuleOf } from '../../knowledge/protocols.ts'
import { agentForm } from '../../knowledge/agents.ts'
import { limitOf } from '../../knowledge/limits.ts'
import { entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { entriesBetween, isDoseOf } from '../courseContext.ts'
import { doneDoses, doseOf, fixed, unconfirmed } from '../levelDose.ts'
import { make, type Builder, type Step } from '../stepBuilder.ts'
import type { RuleKind } from './kind.ts'
import { never, pourPress } from './kind.ts'

function steps(rule: RuleOf<'hold'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context, estimate, band } = builder
  const done = doneDoses(rule, builder, phaseMs, exitMs)
  if (exitMs !== null || !band) return done
  // Nothing shown would read as nothing to do.
  if (!estimate || estimate.stale === true)
    return [
      ...done,
      make(rule, builder, done.length, {
        title: rule.title,
        detail: 'The level is being worked out.',
        dueMs: context.nowMs,
        state: 'waiting',
      }),
    ]
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
    const again = unconfirmed(builder)
    if (again !== null)
      return [
        ...done,
        make(rule, builder, done.length, { title: rule.title, detail: again, dueMs: context.nowMs, state: 'waiting' }),
      ]
    // What was just poured is not poured again before it mixed, unless a reading says how it came out.
    const againMs = pausedUntilMs(rule, builder)
    if (againMs !== null && againMs > context.nowMs)
      return [
        ...done,
        make(rule, builder, done.length, {
          title: rule.title,
          detail: 'One was poured a little while ago: after a reading, or when it has had its time.',
          dueMs: againMs,
          state: 'ahead',
        }),
      ]
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

/** Until when a level that was just topped up is left alone; null where a reading came since. */
function pausedUntilMs(rule: RuleOf<'hold'>, { context }: Builder): number | null {
  const { agent } = agentForm(context.forms[rule.role] ?? '') ?? {}
  let pouredMs: number | null = null
  for (const entry of entriesBetween(context, context.startMs, context.nowMs + 1)) {
    if (isDoseOf(context, entry, rule.role)) pouredMs = entryMs(entry)
    else if (
      entry.kind === 'reading' &&
      entry.analyte === agent &&
      pouredMs !== null &&
      entryMs(entry) >= pouredMs + limitOf('mixes-in') * MS_PER_HOUR
    )
      pouredMs = null
  }
  return pouredMs === null ? null : pouredMs + limitOf('top-up-pause') * MS_PER_HOUR
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

export const hold: RuleKind<'hold'> = {
  steps,
  occurrences: never,
  calendar: (_rule, pen) => pen.item(0),
  pauseHours: () => limitOf('top-up-pause'),
  presses: pourPress,
}
