// Spot treatments: the mL of one are what the aim allows, and never more than the ceiling leaves in this water.
import { limitOf } from '../../knowledge/limits.ts'
import { measureFor, roundToStep } from '../../dosing/dose.ts'
import type { RuleOf } from '../../knowledge/protocols.ts'
import { inBand, measureValue, type TallyEntry } from '../../outbreak/measures.ts'
import { mostInside } from '../../safety/limits.ts'
import { atHourOfDay, dayOf, entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { entriesBetween } from '../courseContext.ts'
import { bottleOf, roomOf, stepEntry } from '../offers.ts'
import { make, type Builder, type Step, type SpotWork } from '../stepBuilder.ts'
import type { RuleKind } from './kind.ts'
import { changesAfterEach, checkForms, timesOf } from './kind.ts'

const DAY = 24 * MS_PER_HOUR

function steps(rule: RuleOf<'spot'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context } = builder
  const bottle = bottleOf(context, rule.role)
  const steps: Step[] = []
  let lastMs: number | null = null
  let open = false
  for (let i = 0; i < rule.times; i++) {
    const title = `${rule.title}, ${i + 1} of ${rule.times}`
    const entry = stepEntry(builder, rule.id, i)
    if (entry) {
      lastMs = entryMs(entry)
      steps.push(
        make(rule, builder, i, {
          title,
          detail: entry.kind === 'dose' ? `${entry.amount} ${entry.unit} over the patches.` : 'Done.',
          dueMs: lastMs,
          ...(entry.kind === 'skip' ? {} : { state: 'done' as const, doneMs: lastMs, entryId: entry.id }),
        }),
      )
      continue
    }
    if (exitMs !== null) break
    const dueMs: number = lastMs === null ? phaseMs : lastMs + gapDays(rule, i) * DAY
    if (open && dueMs > builder.aheadMs) break
    const white = !open && allWhite(rule, builder)
    const first = open ? null : openChange(rule, builder)
    let work: SpotWork | null = null
    const room = !open && first === null && !white && bottle ? roomOf(builder, bottle, context.nowMs) : null
    if (room && bottle) {
      const { form, content, productId } = bottle
      const owned = context.record.settings.syringesMl
      const most = mostInside(room, content.per, owned.length > 0 ? owned : undefined)
      const ceiling = room.limit.ceilingMgPerL
      const wish = (Math.min(form.target, ceiling) * room.volume.litres) / content.mg
      const wishStep = measureFor(wish, content.per, owned.length > 0 ? owned : undefined).step
      work = {
        measure: rule.measure,
        productId,
        strengthMg: content.mg,
        perPatchMl: rule.perPatchMl,
        wishMl: roundToStep(wish, wishStep, 'down'),
        mostMl: most.amount,
        stepMl: most.step,
        thinTimes: Math.max(1, Number((content.mg / SPOT_MG_PER_ML).toPrecision(3))),
        leftMgPerL: room.level.mgPerL,
        ceilingMgPerL: ceiling,
        volumeL: room.volume.litres,
        pumpsOffMinutes: rule.pumpsOffMinutes,
        ready: rule.ready,
      }
    }
    steps.push(
      make(
        rule,
        builder,
        i,
        {
          title,
          detail: [
            work
              ? `Up to ${trim(Math.min(work.wishMl, work.mostMl))} mL over all patches: ${trim((Math.min(work.wishMl, work.mostMl) * work.strengthMg) / work.volumeL)} mg/L in ${Math.round(work.volumeL)} L, ceiling ${work.ceilingMgPerL} mg/L.`
              : open
                ? ''
                : white
                  ? 'Every treated patch has come to where it should: nothing is left to treat. Leave this time out in words, or mark and score another patch.'
                  : first !== null
                    ? `First: ${first.toLowerCase()}. Not done at all: leave it out in words.`
                    : bottle
                      ? 'The net volume is not known.'
                      : 'Choose the bottle first.',
            rule.text ?? '',
          ]
            .filter((part) => part !== '')
            .join(' '),
          dueMs,
          // Left out on its day, and not only from its hour on.
          ...(white ? { fromMs: Math.min(dueMs, atHourOfDay(dayOf(dueMs, context.zone), 0, context.zone)) } : {}),
          ...(work ? { spot: work } : {}),
          ...(open ? { state: 'ahead' as const } : white || first !== null ? { state: 'waiting' as const } : {}),
        },
        24,
      ),
    )
    open = true
    lastMs = Math.max(dueMs, context.nowMs)
  }
  return steps
}

/** Whether every patch that is treated was last scored where it should be: what is white is done. */
function allWhite(rule: RuleOf<'spot'>, { context }: Builder): boolean {
  const measure = context.protocol.campaign?.measures.find(({ id }) => id === rule.measure)
  if (measure?.done === undefined) return false
  const control = measure.arms && measure.arms.length > 1 ? measure.arms.at(-1)!.id : undefined
  const last = new Map<string, TallyEntry>()
  for (const entry of entriesBetween(context, context.startMs, context.nowMs + 1))
    if (entry.kind === 'tally' && entry.measure === measure.id && entry.arm !== undefined && entry.arm !== control)
      last.set(entry.piece ?? '', entry)
  return (
    last.size > 0 &&
    [...last.values()].every((entry) => {
      const value = measureValue(measure, [entry])
      return value !== null && inBand(value, measure.done)
    })
  )
}

/** Days between a time and the one before it. */
const gapDays = ({ everyDays, firstDaily = 0 }: RuleOf<'spot'>, i: number): number =>
  i < firstDaily ? Math.min(1, everyDays) : everyDays

/** Days on which the treatments fall when nothing is late, from the first. */
export function spotDays(rule: RuleOf<'spot'>): readonly number[] {
  const days = [0]
  for (let i = 1; i < rule.times; i++) days.push(days[i - 1]! + gapDays(rule, i))
  return days
}

/** The change that belongs to the last treatment and was neither logged nor left out: its title, null where none is. */
function openChange(rule: RuleOf<'spot'>, builder: Builder): string | null {
  const belonging = builder.context.protocol.phases
    .flatMap(({ rules }) => rules)
    .find((one): one is RuleOf<'change'> => one.kind === 'change' && one.afterEach === rule.id)
  if (belonging === undefined) return null
  return changesAfterEach(belonging, builder).some(({ entry }) => entry === null) ? belonging.title : null
}

/** Strength that amounts per patch are meant for: 3 % w/v, mg/mL. Stronger bottles are thinned first. @source handbook 31 safe-peroxide */
const SPOT_MG_PER_ML = limitOf('spot-strength')

const trim = (value: number): string => String(Number(value.toPrecision(2)))

export const spot: RuleKind<'spot'> = {
  steps,
  leavesOut: true,
  pauseHours: (rule, { occurrence }) => gapDays(rule, occurrence) * 24,
  occurrences: timesOf,
  calendar: (rule, pen) => {
    for (const [i, day] of spotDays(rule).entries()) pen.item(day, `${rule.title}, ${i + 1} of ${rule.times}`)
  },
  problems(rule, check) {
    check.measure(rule.measure)
    checkForms(check, rule.role, 'in-tank')
  },
  presses: () => [{ to: 'page', label: 'Open the spots', page: 'spot' }],
}
