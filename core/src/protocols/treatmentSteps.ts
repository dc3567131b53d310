// Steps of rules without a level test: doses by the ledger alone, timed baths, and moves counted in elapsed hours.
import { activeContent } from '../dosing/strength.ts'
import { doseFor, roundToStep } from '../dosing/dose.ts'
import { agentForm, type AgentForm } from '../knowledge/agents.ts'
import type { RuleOf, Value } from '../knowledge/protocols.ts'
import { changedShare, vesselVolume } from '../level/fromRecord.ts'
import type { Entry, House, VesselDocument } from '../record/types.ts'
import { bathLimit } from '../safety/baths.ts'
import { isInside, mostInside, OFFER_FRESH_HOURS, reached, type Limit, type Room } from '../safety/limits.ts'
import { roomIn } from '../safety/room.ts'
import { entryMs } from '../time/time.ts'
import { litres, MS_PER_HOUR, mgPerL } from '../units/quantity.ts'
import type { CourseContext } from './progress.ts'
import { transferProgress, untilMs, valueFor } from './progress.ts'
import { placeIn, togetherMs } from './together.ts'
import { entriesBetween, rotaOf } from './courseContext.ts'
import { make, type Builder, type Step, type StepDose } from './stepBuilder.ts'

/** Bottle of a role with what it holds; null while it is not chosen or unreadable. */
export function bottleOf(context: CourseContext, role: string | undefined) {
  const productId = role === undefined ? undefined : context.course.body.products[role]
  const product = productId === undefined ? undefined : context.record.products.get(productId)
  if (!productId || !product) return null
  const content = activeContent(product.body.strength)
  const form = agentForm(context.forms[role ?? ''] ?? '')
  return content.ok && form ? { productId, product, content: content.value, form } : null
}

interface Minutes {
  readonly min: number
  readonly usual: number
  readonly max: number
}
/** Minutes of a bath as the protocol has them, inside what the bottle that was chosen allows at that level. */
export function minutesWith(rule: Minutes, form: AgentForm | undefined, level: number | null): Minutes {
  const row = form?.contact?.find(
    ({ upToMgPerL }) => upToMgPerL === undefined || (level ?? form.target) <= upToMgPerL * 1.001,
  )
  if (!row) return rule
  const max = Math.min(rule.max, row.maxMinutes)
  const min = Math.min(max, Math.max(rule.min, row.minMinutes))
  return { min, usual: Math.min(max, Math.max(min, row.usualMinutes ?? rule.usual)), max }
}

/** The house behind a course. */
export const houseOf = ({ record, allActive }: CourseContext): House => ({ record, active: allActive })

/** What may go in now of an amount wished, measured; `over`: the ceiling leaves too little of it for the step to count. */
export interface Offer {
  readonly dose: StepDose | null
  readonly room: Room
  readonly over: boolean
  readonly leftMgPerL: number
}
/** A step with less of its amount than this is none: it waits for a change, or for time. */
const WORTH_SHARE = 0.6

/**
 * The amount that lifts the water by `riseMgPerL`, rounded to what the keeper can measure and never past what the gate
 * lets through. The same room is asked when it is poured.
 */
export function offerOf(
  context: CourseContext,
  bottle: NonNullable<ReturnType<typeof bottleOf>>,
  room: Room,
  riseMgPerL: number,
): Offer {
  const { per } = bottle.content
  const measures = context.record.settings.syringesMl
  const owned = per === 'mL' && measures.length > 0 ? measures : undefined
  const leftMgPerL = room.level.mgPerL
  const wished = doseFor({
    volumeL: litres(room.volume.litres),
    currentMgPerL: mgPerL(0),
    targetMgPerL: mgPerL(riseMgPerL),
    content: bottle.content,
    ...(owned ? { measures: owned } : {}),
  })
  if (!wished.ok || room.limit.needsTemperature) return { dose: null, room, over: false, leftMgPerL }
  let { amount } = wished.value
  const { step } = wished.value
  if (!isInside(room, amount)) amount = Math.min(amount, roundToStep(mostInside(room, per, owned).amount, step, 'down'))
  const over = amount < wished.value.amount * WORTH_SHARE || amount <= 0
  if (over) return { dose: null, room, over, leftMgPerL }
  const toMgPerL = reached(room, amount).mgPerL
  return {
    room,
    over,
    leftMgPerL,
    dose: {
      productId: bottle.productId,
      amount,
      unit: per,
      measureStep: step,
      fromMgPerL: leftMgPerL,
      toMgPerL,
      volumeL: room.volume.litres,
      volumeSdL: room.volume.sdLitres,
      strengthMg: bottle.content.mg,
      holdsChance: null,
      working:
        amount === wished.value.amount
          ? wished.value.working
          : {
              ...wished.value.working,
              result: { label: 'amount', value: amount, unit: per },
              notes: [
                `Lowered to what the ceiling of ${trim(room.limit.ceilingMgPerL)} mg/L leaves: ${amount} ${per} leads to ${trim(toMgPerL)} mg/L.`,
              ],
            },
    },
  }
}

/** Room of a bottle in the vessel of a course at an instant; null while the volume is not known. */
export const roomOf = (builder: Builder, bottle: NonNullable<ReturnType<typeof bottleOf>>, atMs: number) =>
  roomIn(houseOf(builder.context), {
    vesselId: builder.context.placeId,
    form: bottle.form,
    contentMg: bottle.content.mg,
    atMs,
    nowMs: atMs,
    known: builder.known,
    freshHours: OFFER_FRESH_HOURS,
  })

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
  const vessel = context.record.vessels.get(context.placeId)
  const volume = vessel ? vesselVolume(vessel) : null
  const bottle = bottleOf(context, rule.role)
  const wished = valueFor(rule.aim, context, 'mg/L')
  const done = doneOf(context, rule.id, rule.times)
  const steps: Step[] = []
  let lastMs: number | null = null
  let open = false
  const enough = untilMs(rule, context, phaseMs) !== null
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
      bottle ? (room ? '' : 'The net volume is not known.') : 'Choose the bottle first.',
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
    const answered = context.byStep.get(key(entry.id))
    const title = `${rule.title}, for the new water`
    if (answered)
      return [
        {
          ...make(rule, builder, 0, {
            title,
            detail: 'Poured.',
            dueMs: entryMs(entry),
            state: 'done',
            doneMs: entryMs(answered),
            entryId: answered.id,
          }),
          key: key(entry.id),
        },
      ]
    const skipped = context.skips.get(key(entry.id))
    if (skipped)
      return [
        {
          ...make(rule, builder, 0, {
            title,
            detail: 'Left out.',
            dueMs: entryMs(entry),
            state: 'skipped',
            entryId: skipped.id,
          }),
          key: key(entry.id),
        },
      ]
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
  const productId = context.course.body.products[role]
  const last = entriesBetween(context, context.startMs, Infinity).findLast(
    (entry) => entry.kind === 'dose' && entry.productId === productId,
  )
  return last ? entryMs(last) : null
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

/** The room of a bath: clean water of its own, measured in litres, its animals those of the course. */
export function bathRoom(
  builder: Builder,
  bottle: NonNullable<ReturnType<typeof bottleOf>>,
  vessel: VesselDocument,
  bathL: number,
  atMs: number,
): Room {
  const house = houseOf(builder.context)
  const residents = builder.context.course.body.residents.flatMap((id) => house.record.residents.get(id) ?? [])
  return {
    level: { mgPerL: 0, highMgPerL: 0 },
    volume: { litres: bathL, sdLitres: 0 },
    contentMg: bottle.content.mg,
    limit: withinBand(
      bottle.form,
      bathLimit(
        house,
        bottle.form,
        residents,
        vessel,
        Math.max(atMs, builder.context.nowMs),
        undefined,
        OFFER_FRESH_HOURS,
      ),
    ),
  }
}

/** A bath is mixed anew each time: rounded to a measure it stays inside its band, as the bath itself asks. */
const withinBand = (form: AgentForm, limit: Limit): Limit => ({
  ...limit,
  ceilingMgPerL: Math.min(limit.ceilingMgPerL, form.band.max),
})

/** Timed baths: each so many hours after the one before ended; one that was broken off counts as tried. */
export function bathSteps(rule: RuleOf<'bath'>, builder: Builder, phaseMs: number, exitMs: number | null): Step[] {
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

/** Moves from vessel to vessel: so many elapsed hours after the last one, a limit that summer time does not move. */
export function transferSteps(
  rule: RuleOf<'transfer'>,
  builder: Builder,
  phaseMs: number,
  exitMs: number | null,
): Step[] {
  const { context } = builder
  if (rule.to !== undefined) return [moveTo(rule, rule.to, builder, phaseMs, exitMs)].flatMap((step) => step ?? [])
  const everyMs = valueFor(rule.everyHours, context, 'h') * MS_PER_HOUR
  const { moves, needed, begunMs } = transferProgress(rule, context, phaseMs)
  const rota = rotaOf(context.course)
  const steps: Step[] = []
  let stayMs = phaseMs
  let counted = 0
  let anew = ''
  let open = false
  for (let i = 0; i < needed; i++) {
    const toId = rota[(i + 1) % rota.length]!
    const to = context.record.vessels.get(toId)?.body.name ?? 'the other vessel'
    const move = moves[i]
    if (move?.restarts === true) {
      counted = 0
      anew = `${Math.round(move.stayedH)} h in one stay: what fell off may have hatched, and the count began anew.`
    } else if (move?.moved !== false) counted++
    const title =
      counted === 0
        ? `${rule.title} after a stay too long: to ${to}`
        : `${rule.title} ${counted} of ${rule.times}: to ${to}`
    if (move) {
      const { entry } = move
      if (move.moved) stayMs = entryMs(entry)
      steps.push(
        make(rule, builder, i, {
          title,
          detail: move.restarts ? anew : 'Done.',
          dueMs: entryMs(entry),
          ...(entry.kind === 'skip' ? {} : { state: 'done' as const, doneMs: entryMs(entry), entryId: entry.id }),
        }),
      )
      continue
    }
    if (exitMs !== null) break
    const limitMs: number =
      stayMs + (i === 0 && rule.firstAfterHours !== undefined ? rule.firstAfterHours * MS_PER_HOUR : everyMs)
    const toleranceMs = (rule.toleranceHours ?? 6) * MS_PER_HOUR
    if (open && limitMs - toleranceMs > builder.aheadMs) break
    const overMs = context.nowMs - stayMs - (rule.restartsAfterHours ?? Infinity) * MS_PER_HOUR
    steps.push(
      make(rule, builder, i, {
        title,
        detail: [
          `${Math.round(everyMs / MS_PER_HOUR)} h at the most, never later.`,
          !open && overMs > 0 && i > 0
            ? 'This stay has lasted so long that what fell off may have hatched: the count begins anew with this move.'
            : anew !== '' && begunMs !== null && !open
              ? anew
              : '',
          rule.text ?? '',
        ]
          .filter((words) => words !== '')
          .join(' '),
        dueMs: limitMs,
        fromMs: limitMs - toleranceMs,
        untilMs: limitMs,
        transfer: { toVesselId: toId, mayMove: rule.mayMove },
        ...(open ? { state: 'ahead' as const } : {}),
      }),
    )
    open = true
    stayMs = Math.max(limitMs, context.nowMs)
  }
  return steps
}

/** One move to a named place: done by its step, or seen in the record once everybody is there. */
function moveTo(
  rule: RuleOf<'transfer'>,
  place: string,
  builder: Builder,
  phaseMs: number,
  exitMs: number | null,
): Step | null {
  const { context } = builder
  const toId = placeIn(context, place)
  const to = toId === null ? null : (context.record.vessels.get(toId)?.body.name ?? 'the other vessel')
  const key = `${context.course.id}/${rule.id}/0`
  const entry = context.byStep.get(key)
  const seenMs = entry ? entryMs(entry) : togetherMs(context, place, phaseMs, 0)
  const dueMs = phaseMs + (rule.firstAfterHours ?? 0) * MS_PER_HOUR
  const title = to === null ? rule.title : `${rule.title}: ${to}`
  if (seenMs !== null)
    return make(rule, builder, 0, {
      title,
      detail: 'Done.',
      dueMs: seenMs,
      state: 'done',
      doneMs: seenMs,
      ...(entry ? { entryId: entry.id } : {}),
    })
  if (exitMs !== null) return null
  if (toId === null)
    return make(rule, builder, 0, { title, detail: 'Choose the vessel first.', dueMs, state: 'waiting' })
  return make(
    rule,
    builder,
    0,
    {
      title,
      detail: `${rule.mayMove} ${rule.text ?? ''}`.trim(),
      dueMs,
      transfer: { toVesselId: toId, mayMove: rule.mayMove },
    },
    rule.toleranceHours ?? 24,
  )
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
  const mgPerKg = Math.min(valueFor(mix.mgPerKg, context, 'mg/kg'), bottle.form.hardMax)
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
