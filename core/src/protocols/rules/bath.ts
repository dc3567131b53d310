// Timed baths: each so many hours after the one before ended; one that was broken off counts as tried.
import type { RuleOf } from '../../knowledge/protocols.ts'
import { entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { valueFor } from '../courseContext.ts'
import { bathRoom, bottleOf, capWords, doneOf, minutesWith, offerOf, trim } from '../offers.ts'
import { make, type Builder, type Step } from '../stepBuilder.ts'
import type { RuleKind } from './kind.ts'
import { checkForms, timesOf } from './kind.ts'

function steps(rule: RuleOf<'bath'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context } = builder
  const bottle = bottleOf(context, rule.role)
  const vessel = context.record.vessels.get(context.placeId)
  const bathL = context.course.body.parameters['bath-litres'] ?? 10
  const done = doneOf(context, rule.id, rule.times)
  const steps: Step[] = []
  let lastMs: number | null = null
  let open = false
  for (const [i, entry] of done.entries()) {
    const title = rule.times === 1 ? rule.title : `${rule.title}, ${i + 1} of ${rule.times}`
    if (entry) {
      lastMs = entryMs(entry)
      steps.push(
        make(rule, builder, i, {
          title,
          detail:
            entry.kind === 'bath'
              ? `${Math.round(entry.minutes ?? 0)} min${entry.act === 'abort' ? ', broken off' : ''}.`
              : 'Done.',
          dueMs: lastMs,
          ...(entry.kind === 'skip' ? {} : { state: 'done' as const, doneMs: lastMs, entryId: entry.id }),
        }),
      )
      continue
    }
    if (exitMs !== null) break
    const dueMs: number =
      lastMs === null
        ? phaseMs + (rule.afterHours ?? 0) * MS_PER_HOUR
        : lastMs + valueFor(rule.everyHours ?? 24, context, 'h') * MS_PER_HOUR
    if (open && dueMs > builder.aheadMs) break
    const wished = rule.aim === undefined ? null : valueFor(rule.aim, context, 'mg/L')
    const room = bottle && vessel ? bathRoom(builder, bottle, vessel, bathL, dueMs) : null
    const cap = room?.limit.ceilingMgPerL ?? Infinity
    const aim = wished === null ? null : Math.min(wished, cap)
    const dose = bottle && room && aim !== null && aim > 0 && !open ? offerOf(context, bottle, room, aim).dose : null
    const needsTemperature = room?.limit.needsTemperature === true
    const minutes = minutesWith(rule.minutes, bottle?.form, aim)
    steps.push(
      make(
        rule,
        builder,
        i,
        {
          title,
          detail:
            `${minutes.usual} min (${minutes.min}–${minutes.max}) in a vessel of its own${aim === null ? '' : `, ${trim(aim)} mg/L`}.${needsTemperature && bottle ? ` Read the temperature first: ${bottle.form.label} depends on it.` : wished !== null && bottle && wished > cap * 1.001 ? ` ${capWords(wished, cap, bottle.form)}` : ''} ${rule.text ?? ''}`.trim(),
          dueMs,
          minutes: minutes.usual,
          bath: {
            minutes,
            litres: bathL,
            ready: rule.ready ?? [],
            abortSigns: rule.abortSigns ?? bottle?.form.intoleranceSigns ?? [],
            ...(rule.rinse === undefined ? {} : { rinse: rule.rinse }),
            needsBottle: rule.role !== undefined && bottle === null,
          },
          ...(dose ? { dose } : {}),
          ...(needsTemperature && !open ? { needs: 'temperature' as const } : {}),
          ...(open ? { state: 'ahead' as const } : {}),
        },
        rule.toleranceHours ?? 6,
      ),
    )
    open = true
    lastMs = Math.max(dueMs, context.nowMs)
  }
  return steps
}

export const bath: RuleKind<'bath'> = {
  steps,
  occurrences: timesOf,
  calendar: (rule, pen) =>
    pen.series(rule.times, (rule.afterHours ?? 0) / 24, pen.number(rule.everyHours, 24, 'h') / 24),
  problems(rule, check) {
    checkForms(check, rule.role, 'bath')
    if (rule.aim !== undefined && rule.role === undefined)
      check.say(['aim'], 'A level is aimed at, but no bottle is named.')
    check.aim(rule.aim, rule.role, rule.times)
    const { min, usual, max } = rule.minutes
    if (!(min <= usual && usual <= max))
      check.say(['minutes'], `The minutes must rise: at least ${min}, usually ${usual}, at most ${max}.`)
    check.limits(rule.everyHours, ['everyHours'], 'h')
    if (rule.times > 1 && rule.everyHours === undefined)
      check.say(['times'], 'Several baths need to be told how many hours apart they are.')
    if (typeof rule.everyHours === 'number' && rule.everyHours < 24)
      check.say(['everyHours'], 'A second timed bath within 24 hours adds stress on stress.', 'doubt')
  },
  presses: () => [{ to: 'page', label: 'Open the bath', page: 'bath' }],
}
