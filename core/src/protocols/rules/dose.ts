// A dose by the ledger alone: to an aim, once or repeated, until something holds, and for new water.
import type { Rule, RuleOf, Value } from '../../knowledge/protocols.ts'
import { changedShare, vesselVolume } from '../../level/fromRecord.ts'
import { entryMs } from '../../time/time.ts'
import { MS_PER_HOUR } from '../../units/quantity.ts'
import { entriesBetween, isDoseOf, valueFor, type CourseContext } from '../courseContext.ts'
import { bottleOf, capWords, doneOf, offerOf, roomOf, trim } from '../offers.ts'
import { make, type Builder, type Step } from '../stepBuilder.ts'
import type { RuleKind } from './kind.ts'
import { checkForms, pourPress, timesOf } from './kind.ts'

/** A dose to an aim, once or repeated: each after the one before was really poured; never over the ceiling. */
function steps(rule: RuleOf<'dose'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context } = builder
  const { nowMs } = context
  const vessel = context.record.vessels.get(context.placeId)
  const volume = vessel ? vesselVolume(vessel) : null
  const bottle = bottleOf(context, rule.role)
  const wished = valueFor(rule.aim, context, 'mg/L')
  const done = doneOf(context, rule.id, rule.times)
  const steps: Step[] = []
  let lastMs: number | null = null
  let open = false
  const enough = builder.enoughMs(rule, phaseMs) !== null
  const most = `${rule.until ? 'at most ' : ''}${rule.times}`
  for (const [i, entry] of done.entries()) {
    if (entry) {
      lastMs = entryMs(entry)
      steps.push(
        make(rule, builder, i, {
          title: `${rule.title}, ${i + 1} of ${most}`,
          detail: entry.kind === 'dose' ? `${entry.amount} ${entry.unit} poured.` : 'Done.',
          dueMs: lastMs,
          ...(entry.kind === 'skip' ? {} : { state: 'done' as const, doneMs: lastMs, entryId: entry.id }),
        }),
      )
      continue
    }
    if (exitMs !== null || enough) break
    const everyMs = valueFor(rule.everyDays ?? 1, context, 'd') * 24 * MS_PER_HOUR
    const dueMs: number = lastMs === null ? phaseMs + (rule.afterHours ?? 0) * MS_PER_HOUR : lastMs + everyMs
    if (open && dueMs > builder.aheadMs) break
    const title = `${rule.title}, ${i + 1} of ${most}`
    const due = nowMs >= dueMs
    const room = bottle && !open ? roomOf(builder, bottle, Math.max(dueMs, nowMs)) : null
    const cap = room?.limit.ceilingMgPerL ?? Infinity
    const aim = Math.min(wished, cap) * (rule.share ?? 1)
    const offer = bottle && room && aim > 0 ? offerOf(context, bottle, room, aim) : null
    const left = offer?.leftMgPerL ?? 0
    const dose = offer?.dose ?? null
    const needsTemperature = room?.limit.needsTemperature === true
    const pouredMs = lastPouredMs(context, rule.role)
    const wantsChange =
      pouredMs !== null &&
      (rule.changeBefore ?? 0) > 0 &&
      !context.skips.has(changeKey(rule, context, i)) &&
      !changedSince(context, pouredMs, rule.changeBefore ?? 0, volume?.litres ?? 0)
    if (wantsChange && !open && volume)
      steps.push(changeFirst(rule, builder, i, { pouredMs, dueMs, litres: volume.litres }))
    const over = offer?.over === true || cap === 0
    const unknown = Number.isNaN(wished)
    const words = [
      wantsChange ? `Change ${Math.round(100 * (rule.changeBefore ?? 0))} % of the water first.` : '',
      needsTemperature && bottle ? `Read the temperature first: ${bottle.form.label} depends on it.` : '',
      dose && volume && !over
        ? `To ${trim(dose.toMgPerL)} mg/L in ${Math.round(volume.litres)} L${left > 0.01 * aim ? `; at most ${trim(left)} mg/L may be left of earlier doses` : ''}.`
        : '',
      wished > cap * 1.001 && bottle && room && !needsTemperature ? capWords(wished, cap, bottle.form) : '',
      over && bottle && cap > 0
        ? `Up to ${trim(left)} mg/L may be left: with ${trim(aim)} more it would pass ${trim(cap)} mg/L, the most here. Change water first, or wait.`
        : '',
      bottle ? (room || open ? '' : 'The net volume is not known.') : 'Choose the bottle first.',
      unknown ? `The amount hangs on what is not read yet: ${asked(rule.aim)}.` : '',
      rule.text ?? '',
    ].filter((part) => part !== '')
    steps.push(
      make(
        rule,
        builder,
        i,
        {
          title,
          detail: words.join(' '),
          dueMs,
          ...(open
            ? { state: 'ahead' as const }
            : due && (over || wantsChange || needsTemperature || unknown)
              ? { state: 'waiting' as const }
              : {}),
          ...(dose && !over && !wantsChange ? { dose } : {}),
          ...(needsTemperature && due ? { needs: 'temperature' as const } : {}),
        },
        rule.toleranceHours ?? 12,
      ),
    )
    open = true
    lastMs = Math.max(dueMs, nowMs)
  }
  if (rule.afterChange === true && bottle && volume && exitMs === null)
    steps.push(...newWaterDoses(rule, builder, { wished, bottle, litres: volume.litres, sinceMs: phaseMs }))
  return steps
}

/** What new water lacks after each change that followed a dose: the aim for its share, once per change. */
function newWaterDoses(
  rule: RuleOf<'dose'>,
  builder: Builder,
  {
    wished,
    bottle,
    litres,
    sinceMs,
  }: { wished: number; bottle: NonNullable<ReturnType<typeof bottleOf>>; litres: number; sinceMs: number },
): Step[] {
  const { context } = builder
  const first = context.byStep.get(`${context.course.id}/${rule.id}/0`)
  if (!first) return []
  const changes = entriesBetween(context, Math.max(sinceMs, entryMs(first)), Infinity).filter(
    (entry) => entry.kind === 'change',
  )
  const key = (changeId: string) => `${context.course.id}/${rule.id}-new/${changeId}`
  let open = false
  return changes.flatMap((entry): Step[] => {
    const share = changedShare(entry, litres)
    const brought = (entry.replacement ?? []).reduce((sum, { mgPerL }) => sum + mgPerL, 0)
    if (share < 0.02 || brought > 0) return []
    const poured = context.byStep.get(key(entry.id))
    const answered = poured ?? context.skips.get(key(entry.id))
    const title = `${rule.title}, for the new water`
    if (answered) {
      const step = make(rule, builder, 0, {
        title,
        detail: poured ? 'Poured.' : 'Left out.',
        dueMs: entryMs(entry),
        entryId: answered.id,
        ...(poured ? { state: 'done' as const, doneMs: entryMs(poured) } : { state: 'skipped' as const }),
      })
      return [{ ...step, key: key(entry.id) }]
    }
    // One at a time: the next is measured once this one is in the water.
    if (open) return []
    open = true
    const room = roomOf(builder, bottle, context.nowMs)
    const aim = Math.min(wished, room?.limit.ceilingMgPerL ?? Infinity) * share
    const offer = room && aim > 0 ? offerOf(context, bottle, room, aim) : null
    const dose = offer && !offer.over ? offer.dose : null
    const step = make(rule, builder, 0, {
      title,
      detail: `${Math.round(100 * share)} % of the water was changed: ${dose ? `its share of ${trim(wished)} mg/L.` : 'nothing fits under the most here now.'}`,
      dueMs: entryMs(entry),
      ...(dose ? { dose } : { state: 'waiting' as const }),
    })
    return [{ ...step, key: key(entry.id) }]
  })
}

/** What a value asks of the record, in words. */
const asked = (value: Value): string =>
  typeof value === 'number'
    ? ''
    : 'reading' in value
      ? `a reading of ${value.reading}`
      : 'trend' in value
        ? `three readings of ${value.trend}`
        : 'net' in value
          ? 'the net volume'
          : Object.values(value)
              .flatMap((part) => (Array.isArray(part) ? part.map((one) => asked(one as Value)) : []))
              .filter((words) => words !== '')
              .join(', ')

/** When a role's bottle was poured last in this course; null where it never was. */
function lastPouredMs(context: CourseContext, role: string): number | null {
  const last = entriesBetween(context, context.startMs, Infinity).findLast((entry) => isDoseOf(context, entry, role))
  return last ? entryMs(last) : null
}

/**
 * When the clock of a rule begins: with its phase, or with the first pouring of the dose it comes after. While that is
 * not poured the clock stands still at now, so that nothing of it is due; a dose that was left out lets it run.
 */
export function clockStart(rule: Rule, { context }: Builder, phaseMs: number): number {
  const after = 'afterDose' in rule ? rule.afterDose : undefined
  if (after === undefined) return phaseMs
  const key = `${context.course.id}/${after}/0`
  const answered = context.byStep.get(key) ?? context.skips.get(key)
  if (answered) return Math.max(phaseMs, entryMs(answered))
  const role = context.protocol.phases
    .flatMap(({ rules }) => rules)
    .find((one): one is RuleOf<'dose'> => one.kind === 'dose' && one.id === after)?.role
  const poured =
    role === undefined
      ? undefined
      : entriesBetween(context, phaseMs, Infinity).find((entry) => isDoseOf(context, entry, role))
  return poured ? entryMs(poured) : Math.max(phaseMs, context.nowMs)
}

const changeKey = (rule: RuleOf<'dose'>, { course }: CourseContext, occurrence: number): string =>
  `${course.id}/${rule.id}-change/${occurrence}`

/** The change that a repeat waits for, as a step of its own: due when the dose before it has had its time. */
function changeFirst(
  rule: RuleOf<'dose'>,
  builder: Builder,
  occurrence: number,
  { pouredMs, dueMs, litres }: { pouredMs: number; dueMs: number; litres: number },
): Step {
  const fraction = rule.changeBefore ?? 0
  const contactMs = pouredMs + (rule.changeAfterHours ?? Infinity) * MS_PER_HOUR
  const step = make(rule, builder, occurrence, {
    title: `${Math.round(100 * fraction)} % of the water, before the next dose`,
    detail: `${(fraction * litres).toFixed(0)} L, matched water, undosed. The next dose waits for it.`,
    dueMs: Math.min(contactMs, dueMs),
    untilMs: dueMs,
    change: { fraction, litres: fraction * litres },
  })
  return { ...step, kind: 'change', key: changeKey(rule, builder.context, occurrence), minutes: 20 }
}

/** Whether so large a share of the water was changed since an instant, in one change or several. */
function changedSince(context: CourseContext, sinceMs: number, share: number, volumeL: number): boolean {
  let kept = 1
  for (const entry of entriesBetween(context, sinceMs + 1, Infinity))
    if (entry.kind === 'change') kept *= 1 - changedShare(entry, volumeL)
  return 1 - kept >= share - 0.02
}

export const dose: RuleKind<'dose'> = {
  steps,
  occurrences: timesOf,
  pauseHours: (rule, { valueOf }) => (rule.times > 1 ? valueOf(rule.everyDays ?? 1) * 24 : null),
  calendar: (rule, pen) => pen.series(rule.times, (rule.afterHours ?? 0) / 24, pen.number(rule.everyDays, 1, 'd')),
  problems(rule, check) {
    checkForms(check, rule.role, 'in-tank')
    check.aim(rule.aim, rule.role, rule.times)
    if (rule.times > 1) {
      if (rule.everyDays === undefined)
        check.say(['times'], 'Several doses need to be told how many days apart they are.')
      check.limits(rule.everyDays, ['everyDays'], 'd')
    }
    if (rule.until) check.until(rule.until)
  },
  presses: pourPress,
}
