// What may go in now of an amount wished: the bottle, the room the gate leaves, and what the keeper can measure.
import { limitOf } from '../knowledge/limits.ts'
import { activeContent } from '../dosing/strength.ts'
import { doseFor, roundToStep } from '../dosing/dose.ts'
import { agentForm, type AgentForm } from '../knowledge/agents.ts'
import type { Entry, House, VesselDocument } from '../record/types.ts'
import { bathLimit } from '../safety/baths.ts'
import { isInside, mostInside, OFFER_FRESH_HOURS, reached, type Limit, type Room } from '../safety/limits.ts'
import { roomIn } from '../safety/room.ts'
import { litres, mgPerL } from '../units/quantity.ts'
import type { CourseContext } from './courseContext.ts'
import type { Builder, StepDose } from './stepBuilder.ts'

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
const WORTH_SHARE = limitOf('dose-worth-share')

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
export const doneOf = (context: CourseContext, ruleId: string, times: number): (Entry | undefined)[] =>
  Array.from({ length: times }, (_, i) => {
    const key = `${context.course.id}/${ruleId}/${i}`
    return context.byStep.get(key) ?? context.skips.get(key)
  })

export const capWords = (wished: number, cap: number, form: AgentForm): string =>
  cap === 0
    ? `${form.label} is never used at this warmth: cool the water first.`
    : `Lowered from ${trim(wished)} to ${trim(cap)} mg/L, the most for these animals at this warmth.`
export const trim = (value: number): string => String(Number(value.toPrecision(3)))

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

/** The entry that did a step or left it out. */
export const stepEntry = ({ context }: Builder, ruleId: string, occurrence: number): Entry | undefined => {
  const key = `${context.course.id}/${ruleId}/${occurrence}`
  return context.byStep.get(key) ?? context.skips.get(key)
}
