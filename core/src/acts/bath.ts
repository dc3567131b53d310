// A timed bath: its own water, its animals with all they went through, the level, the warmth, the longest time.
import { activeContent } from '../dosing/strength.ts'
import { agentForm } from '../knowledge/agents.ts'
import type { Method } from '../knowledge/methods.ts'
import { formAmong, usesOf } from '../knowledge/uses.ts'
import type { BathEntry, ProductDocument, ResidentDocument, VesselDocument } from '../record/types.ts'
import { openBaths } from '../safety/animals.ts'
import {
  againstAnimals,
  againstExposures,
  againstMethod,
  againstWater,
  overCeiling,
  partyOf,
  temperatureQuestion,
  waterOf,
} from '../safety/gate.ts'
import { checkLaw } from '../safety/law.ts'
import { bathLimit, longestMinutes } from '../safety/baths.ts'
import { ask, block, forbid, warn, type Refusal } from '../safety/refusal.ts'
import { methodOfCourse, partiesIn } from '../safety/water.ts'
import { interactionBetween, type Party } from '../safety/interactions.ts'
import { residentVessels } from '../record/whereabouts.ts'
import { entryMs, instantMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { readAmounts } from './amounts.ts'
import { answerOf, problemAnswer } from './answer.ts'
import { formForCourse } from './dose.ts'
import { atOf, baseOf, checkInstant, checkStep, courseFor } from './place.ts'
import { checkProduct } from './product.ts'
import { readTemperature } from './temperature.ts'
import type { ActContext, ActAnswer, BathEndIntent, BathIntent, Draft } from './types.ts'

const trim = (value: number): string => String(Number(value.toPrecision(3)))

/** The bath as prepared, held against everything. */
export function bathAct(context: ActContext, intent: BathIntent): ActAnswer {
  const { record } = context
  const vessel = record.vessels.get(intent.vesselId)
  if (!vessel) return problemAnswer('That vessel is not on the shelf.')
  const atMs = atOf(context, intent)
  const course = courseFor(context, intent)
  const method = course ? methodOfCourse(course) : undefined
  const where = residentVessels(record, context.active, atMs)
  const residents = intent.residentIds.flatMap((id) => record.residents.get(id) ?? [])
  const found: Refusal[] = [
    ...checkInstant(context, vessel.id, atMs, context.nowMs),
    ...checkStep(context, intent),
    ...checkPresent(context, residents, where),
    ...checkOpen(context, intent, residents, atMs),
  ]
  const temperature = readTemperature(context, intent, vessel)
  if (temperature.problem !== null) return problemAnswer(temperature.problem)
  found.push(...temperature.found)
  let given: object = {}
  let said = 'The bath has begun.'
  const product = intent.productId === undefined ? undefined : record.products.get(intent.productId)
  if (intent.productId !== undefined && !product)
    return problemAnswer('That bottle is not in the cupboard any more: choose another.')
  if (product) {
    const made = bathOf(context, intent, product, vessel, residents, atMs, temperature.value)
    if (typeof made === 'string') return problemAnswer(made)
    found.push(...made.found)
    given = made.given
    said = `The bath has begun: ${trim(made.mgPerL)} mg/L.`
  } else if (method?.route === 'bath') found.push(...dipRules(context, method, residents, vessel, intent.minutes, atMs))
  return answerOf({
    found,
    drafts: [
      ...temperature.drafts,
      {
        kind: 'bath',
        ...baseOf(context, { ...intent, step: intent.pieceStep } as BathIntent, course),
        rule: intent.rule,
        act: 'start',
        ...(intent.litres > 0 ? { litres: intent.litres } : {}),
        ...(intent.residentIds.length > 0 ? { residentIds: [...intent.residentIds] } : {}),
        ...given,
      } as unknown as Draft,
    ],
    said,
  })
}

function checkPresent(
  context: ActContext,
  residents: readonly ResidentDocument[],
  where: ReadonlyMap<string, string | null>,
): Refusal[] {
  return residents.flatMap(({ id, body }) =>
    where.get(id) === null ? [ask('gone', `${body.name} is not on the shelf any more. Is it the right animal?`)] : [],
  )
}

/** One bath at a time: the same animal cannot be in two. */
function checkOpen(
  context: ActContext,
  intent: BathIntent,
  residents: readonly ResidentDocument[],
  atMs: number,
): Refusal[] {
  return openBaths(context, atMs).flatMap(({ start }) => {
    const same = start.rule === intent.rule && start.courseId !== undefined && start.courseId === intent.courseId
    const shared = residents.some(({ id }) => start.residentIds?.includes(id) ?? false)
    return same || shared
      ? [block('bath-open', 'A bath of these animals was begun and not ended. End that one first.')]
      : []
  })
}

function bathOf(
  context: ActContext,
  intent: BathIntent,
  product: ProductDocument,
  vessel: VesselDocument,
  residents: readonly ResidentDocument[],
  atMs: number,
  temperatureC: number | null,
): { found: Refusal[]; given: object; mgPerL: number } | string {
  const { record } = context
  const course = courseFor(context, intent)
  const form =
    agentForm(intent.form ?? '') ??
    formForCourse(course, product) ??
    formAmong(
      product.body,
      usesOf(product.body)
        .filter(({ route }) => route === 'bath')
        .map(({ id }) => id),
    ) ??
    agentForm(product.body.form)
  const content = activeContent(product.body.strength)
  if (!form) return `The form of "${product.body.name}" is not known.`
  if (!content.ok) return content.error.message
  if (!(intent.litres > 0)) return 'How much water does the bath hold? Type the litres.'
  let amount = intent.mgPerL === undefined ? NaN : (intent.mgPerL * intent.litres) / content.value.mg
  let unit = content.value.per
  if (intent.amount !== undefined) {
    const read = readAmounts([intent.amount], product, record.settings)
    if (!read.ok) return read.error
    amount = read.value.amount
    unit = read.value.unit
  }
  if (!(amount > 0)) return 'How much goes into the bath? Type the amount.'
  const mgPerL = (amount * content.value.mg) / intent.litres
  const found: Refusal[] = [
    ...checkProduct(product.body, context.nowMs, record.settings.zone),
    ...checkLaw(record.settings, form.id, 'dose'),
  ]
  if (form.route === 'food') found.push(forbid('food-not-water', `${form.label} goes into food, never into the water.`))
  if (form.water !== 'both' && form.water !== vessel.body.water)
    found.push(
      block(
        'water',
        `${form.label} is a ${form.water} record; ${vessel.body.name} is ${vessel.body.water === 'marine' ? 'sea' : 'fresh'} water.`,
      ),
    )
  found.push(...againstAnimals(form, residents, vessel))
  const limit = bathLimit(context, form, residents, vessel, atMs, temperatureC ?? undefined)
  found.push(...temperatureQuestion(form, limit, vessel))
  found.push(
    ...overCeiling(
      form,
      limit,
      'The bath',
      { mgPerL, worstMgPerL: mgPerL, lowL: intent.litres },
      `${trim(amount)} ${unit}`,
    ),
  )
  if (!found.some(({ rule }) => rule === 'safe-ceiling') && mgPerL > form.band.max * 1.001)
    found.push(block('above-band', `${trim(mgPerL)} mg/L is above the band of ${form.label} (${form.band.max} mg/L).`))
  const longest = longestMinutes(form, mgPerL, residents)
  if (longest !== null && intent.minutes > longest)
    found.push(
      block(
        'contact-time',
        longest === 0
          ? `${form.label} at ${trim(mgPerL)} mg/L is not for these animals at all.`
          : `${trim(intent.minutes)} minutes: at ${trim(mgPerL)} mg/L ${form.label} is never longer than ${longest}.`,
      ),
    )
  // Its own water, when the bath is a vessel of its own; a bath poured beside its course's vessel starts clean.
  const incoming = partyOf(form, atMs, mgPerL)
  if (vessel.body.purpose === 'bath') found.push(...againstWater(context, vessel, incoming, atMs, context.known))
  found.push(...againstHomes(context, residents, incoming, atMs, vessel))
  found.push(...againstExposures(context, residents, incoming, atMs, {}))
  return {
    found,
    mgPerL,
    given: {
      productId: product.id,
      amount: Number(amount.toPrecision(6)),
      unit,
      mgPerL: Number(mgPerL.toPrecision(6)),
      ...(form.id === product.body.form ? {} : { form: form.id }),
    },
  }
}

/** What is in the water each animal comes from and goes back to. */
function againstHomes(
  context: ActContext,
  residents: readonly ResidentDocument[],
  incoming: Party,
  atMs: number,
  bath: VesselDocument,
): Refusal[] {
  const found: Refusal[] = []
  const where = residentVessels(context.record, context.active, atMs)
  const homes = new Set(residents.flatMap(({ id }) => where.get(id) ?? []))
  for (const id of homes) {
    const home = context.record.vessels.get(id)
    if (!home || (home.id === bath.id && bath.body.purpose === 'bath')) continue
    for (const party of partiesIn(context, home.id, atMs, context.known)) {
      if (party.kind !== 'form' && party.kind !== 'method') continue
      const pair = interactionBetween(incoming, party)
      if (!pair || pair.verdict === 'allow') continue
      const hours = (atMs - party.sinceMs) / MS_PER_HOUR
      if (pair.hours !== undefined && hours >= pair.hours) continue
      const label = party.kind === 'form' ? party.form.label : party.method.label
      const message = `${home.body.name} holds ${label.toLowerCase()}. ${pair.why}`
      found.push(pair.verdict === 'forbid' ? block(pair.id, message) : warn(pair.id, message))
    }
  }
  return found
}

/** A dip without a bottle. @source handbook 31 T4, `fd-dip`; decision 90 */
function dipRules(
  context: ActContext,
  method: Method,
  residents: readonly ResidentDocument[],
  vessel: VesselDocument,
  minutes: number,
  atMs: number,
): Refusal[] {
  const found = [...againstMethod(method, residents, vessel)]
  const incoming: Party = { kind: 'method', method, sinceMs: atMs, how: '' }
  found.push(
    ...againstHomes(context, residents, incoming, atMs, vessel),
    ...againstExposures(context, residents, incoming, atMs, {}),
  )
  if (method.contact && minutes > method.contact.maxMinutes)
    found.push(
      block(
        'contact-time',
        `${trim(minutes)} minutes: ${method.label.toLowerCase()} is never longer than ${method.contact.maxMinutes}.`,
      ),
    )
  for (const resident of residents) {
    if (method.water !== 'both' && waterOf(resident.body) !== null && waterOf(resident.body) !== method.water)
      found.push(
        block(
          'wrong-water',
          `${method.label} is for animals of the ${method.water === 'marine' ? 'sea' : 'fresh water'}: not for ${resident.body.name}.`,
        ),
      )
    const hours = (atMs - instantMs(resident.body.arrivedAt)) / MS_PER_HOUR
    if (method.notWithinHoursOfArrival !== undefined && hours < method.notWithinHoursOfArrival)
      found.push(
        block(
          'dip-after-arrival',
          `${resident.body.name} came ${Math.max(0, Math.round(hours))} h ago: no dip within ${method.notWithinHoursOfArrival} h of arrival.`,
        ),
      )
  }
  return found
}

/** Out of the bath: how long it was, and what that means. */
export function bathEndAct(context: ActContext, intent: BathEndIntent): ActAnswer {
  const start = context.active.find(
    (entry): entry is BathEntry => entry.kind === 'bath' && entry.act === 'start' && entry.id === intent.startId,
  )
  if (!start) return problemAnswer('The start of this bath is not on record any more.')
  const ended = context.active.find(
    (entry) =>
      entry.kind === 'bath' &&
      entry.act !== 'start' &&
      entry.rule === start.rule &&
      entry.courseId === start.courseId &&
      entryMs(entry) >= entryMs(start),
  )
  if (ended) return problemAnswer('This bath was ended already, perhaps in another tab.')
  const atMs = atOf(context, intent)
  const minutes = Math.max(0, Math.round((atMs - entryMs(start)) / 6000) / 10)
  const product = start.productId === undefined ? undefined : context.record.products.get(start.productId)
  const form = product ? agentForm(start.form ?? product.body.form) : undefined
  const residents = (start.residentIds ?? []).flatMap((id) => context.record.residents.get(id) ?? [])
  const longest = form ? longestMinutes(form, start.mgPerL ?? form.target, residents) : null
  const over =
    longest !== null && longest > 0 && minutes > longest
      ? `${trim(minutes)} minutes: ${trim(minutes - longest)} longer than the longest of ${longest}. Clean water, air, and breathing counted today and tomorrow.`
      : null
  return answerOf({
    found: over === null ? [] : [warn('contact-time', over)],
    drafts: [
      {
        kind: 'bath',
        ...baseOf(
          context,
          intent,
          start.courseId === undefined ? undefined : context.record.courses.get(start.courseId),
        ),
        rule: start.rule,
        act: intent.aborted === undefined ? 'end' : 'abort',
        minutes,
        ...(start.litres === undefined ? {} : { litres: start.litres }),
        ...(start.residentIds === undefined ? {} : { residentIds: [...start.residentIds] }),
        ...(intent.aborted === undefined
          ? {}
          : { reason: (intent.aborted.trim() || 'Signs of distress').slice(0, 400) }),
        ...(over === null ? {} : { note: over }),
      } as unknown as Draft,
    ],
    said:
      over ??
      (intent.aborted === undefined
        ? `Bath ended after ${Math.round(minutes)} min.`
        : `Bath broken off after ${Math.round(minutes)} min.`),
  })
}
