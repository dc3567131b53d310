// Steps of a campaign: counts, rounds, spot treatments and emergencies.
import type { RuleOf } from '../knowledge/protocols.ts'
import { addDays, atHourOfDay, dayOf, daysBetween, entryMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import type { Entry } from '../record/types.ts'
import { entriesBetween } from './courseContext.ts'
import { roundsState } from './rounds.ts'
import { make, type Builder, type SpotWork, type Step } from './stepBuilder.ts'
import { mostInside } from '../safety/limits.ts'
import { roundToStep, measureFor } from '../dosing/dose.ts'
import { bathRoom, bottleOf, minutesWith, offerOf, roomOf } from './treatmentSteps.ts'

const DAY = 24 * MS_PER_HOUR
/** Strength that amounts per patch are meant for: 3 % w/v, mg/mL. Stronger bottles are thinned first. @source handbook 31 safe-peroxide */
const SPOT_MG_PER_ML = 30
const stepEntry = ({ context }: Builder, ruleId: string, occurrence: number): Entry | undefined => {
  const key = `${context.course.id}/${ruleId}/${occurrence}`
  return context.byStep.get(key) ?? context.skips.get(key)
}

/** Rocks known from earlier passes that a pass left out; none where the measure is not taken rock by rock. */
function leftOut({ context }: Builder, measureId: string, fromMs: number, toMs: number): string[] {
  const measure = context.protocol.campaign?.measures.find(({ id }) => id === measureId)
  if (measure?.per !== 'rock') return []
  const known = new Set<string>()
  const counted = new Set<string>()
  for (const entry of entriesBetween(context, context.startMs, Math.min(toMs, context.nowMs) + 1)) {
    if (entry.kind !== 'tally' || entry.measure !== measureId || entry.piece === undefined) continue
    if (entryMs(entry) < fromMs) known.add(entry.piece)
    else counted.add(entry.piece)
  }
  return [...known].filter((piece) => !counted.has(piece))
}

/** Counts by a rhythm or on fixed days; one made without its step counts for the window it falls into. */
export function tallySteps(rule: RuleOf<'tally'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context, aheadMs } = builder
  // What ends the phase is counted until it does, at the last rhythm, however long that takes.
  const goesOn = countEnds(rule, builder)
  const { zone, nowMs } = context
  const measure = context.protocol.campaign?.measures.find(({ id }) => id === rule.measure)
  const every = rule.everyDays ?? 7
  const from = rule.fromDay ?? 0
  const sinceDays = daysBetween(phaseMs, nowMs, zone)
  const listed = rule.days
  const gap = listed ? Math.max(1, listed.length > 1 ? listed.at(-1)! - listed.at(-2)! : 7) : every
  const dayAt = (i: number) =>
    listed ? (listed[i] ?? listed.at(-1)! + (i - listed.length + 1) * gap) : from + i * every
  const count =
    listed && !goesOn
      ? listed.length
      : Math.floor((Math.max(sinceDays, from) + 14) / (listed ? 1 : every)) + 2 + (listed?.length ?? 0)
  const firstDay = dayOf(phaseMs, zone)
  const steps: Step[] = []
  for (let i = 0; i < count; i++) {
    const offset = dayAt(i)
    if (rule.untilDay !== undefined && offset > rule.untilDay && !goesOn) break
    const next = listed && i + 1 >= listed.length && !goesOn ? offset + 7 : dayAt(i + 1)
    // Half days stand at noon and after dark.
    const half = offset % 1 === 0 ? 0 : 9
    const dueMs = atHourOfDay(
      addDays(firstDay, Math.floor(offset)),
      Math.min(23, context.course.body.dailyHour + half),
      zone,
    )
    const untilMs = Math.max(dueMs + 12 * MS_PER_HOUR, dueMs + (next - offset) * 0.5 * DAY)
    if (dueMs > aheadMs || (exitMs !== null && dueMs > exitMs)) break
    const entry =
      stepEntry(builder, rule.id, i) ??
      entriesBetween(context, dueMs - 0.5 * (next - offset) * DAY, untilMs).find(
        (one) => one.kind === 'tally' && one.measure === rule.measure && one.step === undefined,
      )
    // A pass is over when every rock that is known was counted in it: one of twelve is no pass.
    const open =
      entry?.kind === 'tally' ? leftOut(builder, rule.measure, dueMs - 0.5 * (next - offset) * DAY, untilMs) : []
    // What was missed is history once the next count is due: that one says more.
    const nextMs = dueMs + (next - offset) * DAY
    if (!entry && nowMs > untilMs && (nowMs >= nextMs || nowMs - untilMs > 3 * DAY)) continue
    steps.push(
      make(rule, builder, i, {
        detail:
          open.length > 0
            ? `Not every rock was counted: ${open.slice(0, 6).join(', ')}${open.length > 6 ? ` and ${open.length - 6} more` : ''} ${open.length === 1 ? 'is' : 'are'} left. What is not counted stays unknown.`
            : (rule.text ?? measure?.how ?? ''),
        dueMs,
        untilMs,
        fromMs: Math.min(dueMs, atHourOfDay(dayOf(dueMs, zone), 0, zone)),
        tally: { measure: rule.measure },
        ...(rule.minutes === undefined ? {} : { minutes: rule.minutes }),
        ...(entry && entry.kind !== 'skip' && open.length === 0
          ? { state: 'done' as const, doneMs: entryMs(entry), entryId: entry.id }
          : {}),
      }),
    )
  }
  return steps
}

/** Whether the phase of a rule ends by what this rule counts, and by nothing else. */
function countEnds(rule: RuleOf<'tally'>, { context }: Builder): boolean {
  const exit = context.protocol.phases.find(({ rules }) => rules.includes(rule))?.exit
  const parts = exit?.kind === 'all' ? exit.of : exit ? [exit] : []
  return parts.some(
    (part) => (part.kind === 'tally-clean' || part.kind === 'tally-done') && part.measure === rule.measure,
  )
}

/** Rounds of a pest campaign: spaced by the pest's life at this warmth, as many as the last find asks for. */
export function roundSteps(rule: RuleOf<'round'>, builder: Builder, exitMs: number | null): Step[] {
  const { context } = builder
  const state = roundsState(context, rule)
  const bottle = rule.role === undefined ? null : bottleOf(context, rule.role)
  const litres = context.course.body.parameters['bath-litres'] ?? 2
  const vessel = context.record.vessels.get(context.course.body.vesselId)
  const dose =
    bottle && vessel
      ? offerOf(context, bottle, bathRoom(builder, bottle, vessel, litres, context.nowMs), bottle.form.target).dose
      : null
  const work = (number: number) => ({
    measure: rule.measure,
    number,
    of: state.of,
    minutes: minutesWith(rule.minutes, dose ? bottle?.form : undefined, null),
    airSeconds: rule.airSeconds ?? null,
    ready: rule.ready,
    abortSigns: rule.abortSigns,
    rinse: rule.rinse ?? null,
    brush: rule.brush ?? null,
    litres,
  })
  const steps = state.done.map((entry, i) =>
    make(rule, builder, i, {
      title: `${rule.title}, ${i + 1} of ${state.of}`,
      detail: entry.kind === 'skip' ? 'Left out.' : 'Done.',
      dueMs: entryMs(entry),
      ...(entry.kind === 'skip' ? {} : { state: 'done' as const, doneMs: entryMs(entry), entryId: entry.id }),
    }),
  )
  if (exitMs !== null || state.enoughMs !== null) return steps
  const { intervalDays, latestDays, hatchMaxDays } = state.rule
  for (let number = state.done.length + 1; number <= state.of; number++) {
    const later = number - state.done.length - 1
    const dueMs = Math.max(state.nextMs, later === 0 ? 0 : context.nowMs) + later * intervalDays * DAY
    if (later > 0 && dueMs > builder.aheadMs) break
    steps.push(
      make(
        rule,
        builder,
        number - 1,
        {
          title: `${rule.title}, ${number} of ${state.of}`,
          detail: [
            rule.text ?? '',
            `Every ${intervalDays} days: hatchlings lay from day ${latestDays + 1} on, and eggs hatch for ${hatchMaxDays} days after the last find.`,
          ]
            .filter((part) => part !== '')
            .join(' '),
          dueMs,
          fromMs: dueMs - 12 * MS_PER_HOUR,
          untilMs: later === 0 ? Math.max(dueMs + 12 * MS_PER_HOUR, state.lateMs) : dueMs + 12 * MS_PER_HOUR,
          round: work(number),
          ...(dose && later === 0 ? { dose } : {}),
          ...(later > 0 ? { state: 'ahead' as const } : {}),
        },
        24,
      ),
    )
  }
  return steps
}

/** Spot treatments: the mL of one are what the aim allows, and never more than the ceiling leaves in this water. */
export function spotSteps(rule: RuleOf<'spot'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
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
    const dueMs: number = lastMs === null ? phaseMs : lastMs + rule.everyDays * DAY
    if (open && dueMs > builder.aheadMs) break
    let work: SpotWork | null = null
    const room = !open && bottle ? roomOf(builder, bottle, context.nowMs) : null
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
                : bottle
                  ? 'The net volume is not known.'
                  : 'Choose the bottle first.',
            rule.text ?? '',
          ]
            .filter((part) => part !== '')
            .join(' '),
          dueMs,
          ...(work ? { spot: work } : {}),
          ...(open ? { state: 'ahead' as const } : {}),
        },
        24,
      ),
    )
    open = true
    lastMs = Math.max(dueMs, context.nowMs)
  }
  return steps
}
const trim = (value: number): string => String(Number(value.toPrecision(2)))

/** An emergency: due at once, one thing after the other; each moment is an entry of its own. */
export function runSteps(rule: RuleOf<'run'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context } = builder
  const ended = stepEntry(builder, rule.id, 0)
  const begun = rule.moments.filter(({ id }) => context.byStep.has(`${context.course.id}/${rule.id}/0/${id}`)).length
  if (exitMs !== null && !ended) return []
  return [
    make(
      rule,
      builder,
      0,
      {
        detail:
          begun === 0
            ? `${rule.moments.length} things, one at a time. ${rule.moments[0]!.do}`
            : `${begun} of ${rule.moments.length} done. Next: ${rule.moments[begun]?.do ?? 'finish it'}`,
        dueMs: phaseMs,
        run: { moments: rule.moments, never: rule.never, ready: rule.ready ?? [] },
        ...(ended && ended.kind !== 'skip'
          ? { state: 'done' as const, doneMs: entryMs(ended), entryId: ended.id }
          : {}),
      },
      1,
    ),
  ]
}
