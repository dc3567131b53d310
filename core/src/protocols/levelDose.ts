// The dose that a level's estimate wishes, as a step carries it, and the doses a role was given.
import { roundToStep } from '../dosing/dose.ts'
import { activeContent } from '../dosing/strength.ts'
import { limitOf } from '../knowledge/limits.ts'
import type { RuleOf } from '../knowledge/protocols.ts'
import type { CourseEstimate } from '../level/estimate.ts'
import { vesselVolume } from '../level/fromRecord.ts'
import { isInside, mostInside } from '../safety/limits.ts'
import { entryMs } from '../time/time.ts'
import { entriesBetween, isDoseOf, type CourseContext } from './courseContext.ts'
import { bottleOf, roomOf } from './offers.ts'
import { make, type Builder, type Step, type StepDose } from './stepBuilder.ts'

/** Doses of a role's bottle inside a stretch. */
const roleDoses = ({ context }: Builder, role: string, fromMs: number, toMs: number) =>
  entriesBetween(context, fromMs, toMs + 1).filter((entry) => isDoseOf(context, entry, role))

export function doneDoses(
  rule: RuleOf<'ramp' | 'hold'>,
  builder: Builder,
  phaseMs: number,
  exitMs: number | null,
): Step[] {
  return roleDoses(builder, rule.role, phaseMs, exitMs ?? builder.context.nowMs).map((entry, i) => {
    const amount = entry.kind === 'dose' ? `${entry.amount} ${entry.unit}` : ''
    return make(rule, builder, i, {
      title: `${rule.title}: ${amount}`,
      detail: 'Done.',
      dueMs: entryMs(entry),
      state: 'done',
      doneMs: entryMs(entry),
      entryId: entry.id,
    })
  })
}

export const fixed = (value: number): string => value.toFixed(value < 1 ? 3 : 2)

export const roleWord = ({ protocol }: CourseContext, role: string): string =>
  (protocol.productRoles.find(({ id }) => id === role)?.label ?? role).replace(/ bottle$/, '').toLowerCase()

/** The dose that the estimate wished, as a step carries it; null while there is no estimate. */
export function doseOf(
  builder: Builder,
  role: string,
  aimMgPerL: number,
  estimate: CourseEstimate | null,
): StepDose | null {
  const result = estimate?.dose
  if (!result?.ok || result.value.amount <= 0) return null
  const { context } = builder
  const productId = context.course.body.products[role]
  const product = productId === undefined ? undefined : context.record.products.get(productId)
  const content = product ? activeContent(product.body.strength) : null
  if (!productId || !content?.ok) return null
  const { levelBefore, floorChance, step } = result.value
  const { volume } = estimate!
  // What is offered is what the gate lets through: the animals, the warmth, and what else is in the water.
  const bottle = bottleOf(context, role)
  const room = bottle ? roomOf(builder, bottle, context.nowMs) : null
  if (!room || room.limit.needsTemperature) return null
  const amount = isInside(room, result.value.amount)
    ? result.value.amount
    : roundToStep(mostInside(room, content.value.per).amount, step, 'down')
  if (!(amount > 0)) return null
  const massMg = amount * content.value.mg
  const levelAfter = levelBefore + ((result.value.levelAfter - levelBefore) * amount) / result.value.amount
  return {
    productId,
    amount,
    unit: content.value.per,
    measureStep: step,
    fromMgPerL: levelBefore,
    toMgPerL: levelAfter,
    volumeL: volume.meanL,
    volumeSdL: volume.sdL,
    strengthMg: content.value.mg,
    holdsChance:
      builder.progress.ramp && builder.progress.ramp.confirmed < builder.progress.ramp.levels.length
        ? null
        : floorChance,
    working: {
      title: 'Dose',
      formula: '(aim − level now) × effective volume ÷ strength, rounded to the syringe',
      inputs: [
        { label: 'aim', value: aimMgPerL, unit: 'mg/L', from: 'protocol and bottle' },
        {
          label: 'level now (middle)',
          value: levelBefore,
          unit: 'mg/L',
          sd: (estimate!.now.p90 - estimate!.now.p10) / 2.563,
          from: 'posterior over all doses, changes and readings',
        },
        {
          label: 'effective volume',
          value: volume.meanL,
          unit: 'L',
          sd: volume.sdL,
          from: 'geometry corrected by readings',
        },
        { label: 'strength', value: content.value.mg, unit: `mg per ${content.value.per}`, from: product!.body.name },
        { label: 'mass', value: massMg, unit: 'mg' },
        { label: 'graduation', value: step, unit: content.value.per },
      ],
      parts: [content.value.working],
      result: { label: 'amount', value: amount, unit: content.value.per },
      notes: [`Checked backwards: ${amount} ${content.value.per} leads to ${fixed(levelAfter)} mg/L.`],
      source: 'Mass balance; chance constraint where a level is held',
    },
  }
}

/** A reading that is believed less than this fits nothing else. */
const DOUBTED = 0.5
/** From so far apart, on its logarithm, readings speak for quite another water or bottle than was reckoned. */
const APART_LN = Math.log(limitOf('dose-apart'))
/**
 * Why no dose may follow yet: the newest reading is far from all that was reckoned, and no second one agrees with it. It is
 * never left aside: it may be the bottle or the volume that is wrong, and the next dose would be as wrong. Null where all fits.
 */
export function unconfirmed({ context, estimate }: Pick<Builder, 'context' | 'estimate'>): string | null {
  const last = estimate?.readings.at(-1)
  if (!estimate || !last) return null
  const vessel = context.record.vessels.get(context.course.body.vesselId)
  const litres = vessel ? vesselVolume(vessel)?.litres : undefined
  const agreeing = estimate.readings.filter(({ trust }) => trust >= DOUBTED).length
  const apart = litres !== undefined && Math.abs(Math.log(estimate.volume.meanL / litres)) > APART_LN
  if (last.trust >= DOUBTED && (!apart || agreeing > 1)) return null
  return 'The last reading is far from what was poured: test again, and read the label of the bottle once more. Nothing goes in until a second reading agrees.'
}
