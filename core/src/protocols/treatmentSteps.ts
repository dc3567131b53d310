// Steps of rules without a level test: doses by the ledger alone, timed baths, and moves counted in elapsed hours.
import { activeContent } from '../dosing/strength.ts'
import { doseFor } from '../dosing/dose.ts'
import { agentForm, type AgentForm } from '../knowledge/agents.ts'
import type { RuleOf } from '../knowledge/protocols.ts'
import { changedShare, pouredMass, vesselVolume } from '../level/fromRecord.ts'
import { rateOfHalfLife } from '../level/curve.ts'
import type { Entry } from '../record/types.ts'
import { ceilingOf, hasCautious, lastTemperature } from '../safety/ceiling.ts'
import { entryMs } from '../time/time.ts'
import { litres, MS_PER_HOUR, mgPerL } from '../units/quantity.ts'
import type { CourseContext } from './progress.ts'
import { valueFor } from './progress.ts'
import { entriesBetween, rotaOf } from './courseContext.ts'
import { make, type Builder, type Step, type StepDose } from './stepBuilder.ts'

/** What may at most be left of earlier doses, mg/L: the slowest loss of the record, changes taken off. */
export function residualLevel(context: CourseContext, form: AgentForm, volumeL: number, atMs: number): number {
  const slowest = rateOfHalfLife(form.halfLifeDays.high * 24)
  let massMg = 0
  let lastMs: number | null = null
  for (const entry of context.entries) {
    const ms = entryMs(entry)
    if (ms > atMs) break
    if (entry.kind !== 'dose' && entry.kind !== 'change') continue
    if (lastMs !== null) massMg *= Math.exp((-slowest * (ms - lastMs)) / MS_PER_HOUR)
    lastMs = ms
    if (entry.kind === 'change') massMg *= 1 - changedShare(entry, volumeL)
    else if (context.record.products.get(entry.productId)?.body.form === form.id)
      massMg += pouredMass(context.record, entry) ?? 0
  }
  if (lastMs === null) return 0
  return (massMg * Math.exp((-slowest * (atMs - lastMs)) / MS_PER_HOUR)) / volumeL
}

/** Bottle of a role with what it holds; null while it is not chosen or unreadable. */
export function bottleOf(context: CourseContext, role: string | undefined) {
  const productId = role === undefined ? undefined : context.course.body.products[role]
  const product = productId === undefined ? undefined : context.record.products.get(productId)
  if (!productId || !product) return null
  const content = activeContent(product.body.strength)
  const form = agentForm(product.body.form)
  return content.ok && form ? { productId, product, content: content.value, form } : null
}

/** A poured amount for a volume of water and an aim, rounded to what the keeper can measure, with its working. */
export function amountFor(
  context: CourseContext,
  bottle: NonNullable<ReturnType<typeof bottleOf>>,
  volume: { readonly litres: number; readonly sdLitres: number },
  aimMgPerL: number,
): StepDose | null {
  const measures = context.record.settings.syringesMl
  const dose = doseFor({
    volumeL: litres(volume.litres),
    currentMgPerL: mgPerL(0),
    targetMgPerL: mgPerL(aimMgPerL),
    content: bottle.content,
    ...(bottle.content.per === 'mL' && measures.length > 0 ? { measures } : {}),
  })
  if (!dose.ok) return null
  return {
    productId: bottle.productId,
    amount: dose.value.amount,
    unit: bottle.content.per,
    measureStep: dose.value.step,
    fromMgPerL: 0,
    toMgPerL: dose.value.resultMgPerL,
    volumeL: volume.litres,
    volumeSdL: volume.sdLitres,
    strengthMg: bottle.content.mg,
    holdsChance: null,
    working: dose.value.working,
  }
}

/** Occurrences done of a rule: entries that carry its step. */
const doneOf = (context: CourseContext, ruleId: string, times: number): (Entry | undefined)[] =>
  Array.from({ length: times }, (_, i) => {
    const key = `${context.course.id}/${ruleId}/${i}`
    return context.byStep.get(key) ?? context.skips.get(key)
  })

/** A dose to an aim, once or repeated: each after the one before was really poured; never over the ceiling. */
export function doseSteps(rule: RuleOf<'dose'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context } = builder
  const { nowMs } = context
  const vessel = context.record.vessels.get(context.course.body.vesselId)
  const volume = vessel ? vesselVolume(vessel) : null
  const bottle = bottleOf(context, rule.role)
  const cap = bottle ? capOf(context, bottle.form) : Infinity
  const wished = valueFor(rule.aim, context)
  const aim = Math.min(wished, cap) * (rule.share ?? 1)
  const done = doneOf(context, rule.id, rule.times)
  const steps: Step[] = []
  let lastMs: number | null = null
  let open = false
  for (const [i, entry] of done.entries()) {
    if (entry) {
      lastMs = entryMs(entry)
      steps.push(
        make(rule, builder, i, {
          title: `${rule.title}, ${i + 1} of ${rule.times}`,
          detail: entry.kind === 'dose' ? `${entry.amount} ${entry.unit} poured.` : 'Done.',
          dueMs: lastMs,
          ...(entry.kind === 'skip' ? {} : { state: 'done' as const, doneMs: lastMs, entryId: entry.id }),
        }),
      )
      continue
    }
    if (exitMs !== null) break
    const everyMs = valueFor(rule.everyDays ?? 1, context) * 24 * MS_PER_HOUR
    const dueMs: number = lastMs === null ? phaseMs + (rule.afterHours ?? 0) * MS_PER_HOUR : lastMs + everyMs
    if (open && dueMs > builder.aheadMs) break
    const title = `${rule.title}, ${i + 1} of ${rule.times}`
    const left =
      bottle && volume && !open ? residualLevel(context, bottle.form, volume.litres, Math.max(dueMs, nowMs)) : 0
    const dose = bottle && volume && !open && aim > 0 ? amountFor(context, bottle, volume, aim) : null
    const wantsChange =
      i > 0 &&
      (rule.changeBefore ?? 0) > 0 &&
      !changedSince(context, lastMs ?? phaseMs, rule.changeBefore ?? 0, volume?.litres ?? 0)
    const over = bottle !== null && left + aim > bottle.form.hardMax + 1e-9
    const words = [
      wantsChange ? `Change ${Math.round(100 * (rule.changeBefore ?? 0))} % of the water first.` : '',
      dose && volume && !over
        ? `To ${trim(aim)} mg/L in ${Math.round(volume.litres)} L${left > 0.05 ? `; at most ${trim(left)} mg/L may be left of earlier doses` : ''}.`
        : '',
      wished > cap * 1.001 && bottle ? capWords(wished, cap, bottle.form) : '',
      over
        ? `Up to ${trim(left)} mg/L may be left: with ${trim(aim)} more it would pass the hard maximum of ${bottle.form.hardMax} mg/L. Change water first, or wait.`
        : '',
      bottle ? '' : 'Choose the bottle first.',
      rule.text ?? '',
    ].filter((part) => part !== '')
    const due = nowMs >= dueMs
    steps.push(
      make(
        rule,
        builder,
        i,
        {
          title,
          detail: words.join(' '),
          dueMs,
          ...(open ? { state: 'ahead' as const } : due && (over || wantsChange) ? { state: 'waiting' as const } : {}),
          ...(dose && !over && !wantsChange ? { dose } : {}),
        },
        rule.toleranceHours ?? 12,
      ),
    )
    open = true
    lastMs = Math.max(dueMs, nowMs)
  }
  return steps
}
/** The most a form may reach for these animals at this warmth, mg/L. */
export const capOf = (context: CourseContext, form: AgentForm): number => {
  const { vesselId } = context.course.body
  return ceilingOf(
    form,
    lastTemperature(context.entries, vesselId, context.nowMs),
    hasCautious(context.record, context.entries, vesselId, form, context.nowMs),
  )
}
const capWords = (wished: number, cap: number, form: AgentForm): string =>
  cap === 0
    ? `${form.label} is never used at this warmth: cool the water first.`
    : `Lowered from ${trim(wished)} to ${trim(cap)} mg/L, the most for these animals at this warmth.`
const trim = (value: number): string => String(Number(value.toPrecision(3)))

/** Whether so large a share of the water was changed since an instant, in one change or several. */
function changedSince(context: CourseContext, sinceMs: number, share: number, volumeL: number): boolean {
  let kept = 1
  for (const entry of entriesBetween(context, sinceMs + 1, Infinity))
    if (entry.kind === 'change') kept *= 1 - changedShare(entry, volumeL)
  return 1 - kept >= share - 0.02
}

/** Timed baths: each so many hours after the one before ended; one that was broken off counts as tried. */
export function bathSteps(rule: RuleOf<'bath'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
  const { context } = builder
  const bottle = bottleOf(context, rule.role)
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
        : lastMs + valueFor(rule.everyHours ?? 24, context) * MS_PER_HOUR
    if (open && dueMs > builder.aheadMs) break
    const wished = rule.aim === undefined ? null : valueFor(rule.aim, context)
    const cap = bottle ? capOf(context, bottle.form) : Infinity
    const aim = wished === null ? null : Math.min(wished, cap)
    const dose =
      bottle && aim !== null && aim > 0 && !open
        ? amountFor(context, bottle, { litres: bathL, sdLitres: 0 }, aim)
        : null
    steps.push(
      make(
        rule,
        builder,
        i,
        {
          title,
          detail:
            `${rule.minutes.usual} min (${rule.minutes.min}–${rule.minutes.max}) in a vessel of its own${aim === null ? '' : `, ${trim(aim)} mg/L`}.${wished !== null && bottle && wished > cap * 1.001 ? ` ${capWords(wished, cap, bottle.form)}` : ''} ${rule.text ?? ''}`.trim(),
          dueMs,
          minutes: rule.minutes.usual,
          bath: {
            minutes: rule.minutes,
            litres: bathL,
            ready: rule.ready ?? [],
            abortSigns: rule.abortSigns ?? bottle?.form.intoleranceSigns ?? [],
            ...(rule.rinse === undefined ? {} : { rinse: rule.rinse }),
            needsBottle: rule.role !== undefined && bottle === null,
          },
          ...(dose ? { dose } : {}),
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

/** Moves from vessel to vessel: so many elapsed hours after the last one, a limit that summer time does not move. */
export function transferSteps(
  rule: RuleOf<'transfer'>,
  builder: Builder,
  phaseMs: number,
  exitMs: number | null,
): Step[] {
  const { context } = builder
  const everyMs = valueFor(rule.everyHours, context) * MS_PER_HOUR
  const done = doneOf(context, rule.id, rule.times)
  const rota = rotaOf(context.course)
  const steps: Step[] = []
  let lastMs = phaseMs
  let open = false
  for (const [i, entry] of done.entries()) {
    const toId = rota[(i + 1) % rota.length]!
    const to = context.record.vessels.get(toId)?.body.name ?? 'the other vessel'
    const title = `${rule.title} ${i + 1} of ${rule.times}: to ${to}`
    if (entry) {
      lastMs = entryMs(entry)
      steps.push(
        make(rule, builder, i, {
          title,
          detail: 'Done.',
          dueMs: lastMs,
          ...(entry.kind === 'skip' ? {} : { state: 'done' as const, doneMs: lastMs, entryId: entry.id }),
        }),
      )
      continue
    }
    if (exitMs !== null) break
    const limitMs: number =
      lastMs + (i === 0 && rule.firstAfterHours !== undefined ? rule.firstAfterHours * MS_PER_HOUR : everyMs)
    const toleranceMs = (rule.toleranceHours ?? 6) * MS_PER_HOUR
    if (open && limitMs - toleranceMs > builder.aheadMs) break
    steps.push(
      make(rule, builder, i, {
        title,
        detail: `${Math.round(everyMs / MS_PER_HOUR)} h at the most, never later. ${rule.text ?? ''}`.trim(),
        dueMs: limitMs,
        fromMs: limitMs - toleranceMs,
        untilMs: limitMs,
        transfer: { toVesselId: toId, mayMove: rule.mayMove },
        ...(open ? { state: 'ahead' as const } : {}),
      }),
    )
    open = true
    lastMs = Math.max(limitMs, context.nowMs)
  }
  return steps
}

/**
 * A drug mixed into food: mg per gram of food = mg per kg of fish and day ÷ (percent eaten × 10), worked for 20 g.
 * Null while the bottle is not chosen. @source handbook 31 §10
 */
export function foodMix(
  mix: NonNullable<RuleOf<'feed'>['mix']>,
  context: CourseContext,
): { readonly words: string; readonly mgPerG: number; readonly amount: number; readonly unit: string } | null {
  const bottle = bottleOf(context, mix.role)
  if (!bottle) return null
  const mgPerKg = Math.min(valueFor(mix.mgPerKg, context), bottle.form.hardMax)
  const mgPerG = mgPerKg / (mix.feedPercent * 10)
  const amount = (mgPerG * FOOD_BATCH_G) / bottle.content.mg
  const { per } = bottle.content
  return {
    mgPerG,
    amount,
    unit: per,
    words: `${trim(mgPerG)} mg in each gram of food: for ${FOOD_BATCH_G} g of food ${trim(amount)} ${per} (${trim(mgPerG * FOOD_BATCH_G)} mg) of ${bottle.product.body.name}. ${trim(mix.feedPercent)} % of the fish’s mass a day makes ${trim(mgPerKg)} mg per kg.`,
  }
}
const FOOD_BATCH_G = 20
