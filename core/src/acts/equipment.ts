// Something switched on or off, put in or taken out: media that remove drugs, and the binder that frees copper.
import { ammoniaOf } from '../record/compared.ts'
import { againstWater } from '../safety/gate.ts'
import { block, forbid, type Refusal } from '../safety/refusal.ts'
import { holdsCopper, coursesIn } from '../safety/water.ts'
import { formAmong } from '../knowledge/uses.ts'
import { agentForm } from '../knowledge/agents.ts'
import { answerOf, problemAnswer } from './answer.ts'
import { atOf, baseOf, checkInstant, checkStep, courseFor, protocolOfCourse } from './place.ts'
import type { ActContext, ActAnswer, Draft, EquipmentIntent } from './types.ts'

const WORDS: Readonly<Record<EquipmentIntent['item'], string>> = {
  carbon: 'Activated carbon',
  resin: 'Resin',
  uv: 'UV lamp',
  ozone: 'Ozone',
  skimmer: 'Skimmer',
  'phosphate-media': 'Phosphate medium',
  'binding-rock': 'Rock',
  airstone: 'Air stone',
  light: 'Light',
  biofilter: 'Filter',
  binder: 'Ammonia binder',
  zeolite: 'Zeolite',
  doser: 'Doser',
}

/** A switch, held against what is in the water and what a course there waits for. */
export function equipmentAct(context: ActContext, intent: EquipmentIntent): ActAnswer {
  const vessel = context.record.vessels.get(intent.vesselId)
  if (!vessel) return problemAnswer('That vessel is not on the shelf.')
  const atMs = atOf(context, intent)
  const found: Refusal[] = [...checkInstant(context, vessel.id, atMs, context.nowMs), ...checkStep(context, intent)]
  // A course's own step may ask for what ends it: carbon after the last day.
  const asked = intent.step !== undefined && !found.some(({ rule }) => rule === 'step-done')
  if (intent.on && !(asked && intent.item !== 'binder')) {
    found.push(
      ...againstWater(context, vessel, { kind: 'item', item: intent.item, sinceMs: atMs }, atMs, context.known).filter(
        // The binder's own sentence says more.
        ({ rule }) => intent.item !== 'binder' || rule !== 'cx-cu-reducing-binder',
      ),
    )
    found.push(...againstCourses(context, intent, atMs, found))
  }
  if (intent.item === 'binder' && intent.on) found.push(...binderRules(context, vessel.id, vessel.body.name, atMs))
  return answerOf({
    found,
    drafts: [
      {
        kind: 'equipment',
        ...baseOf(context, intent, courseFor(context, intent)),
        item: intent.item,
        on: intent.on,
        ...(intent.deviceId === undefined ? {} : { deviceId: intent.deviceId }),
      } as unknown as Draft,
    ],
    said: `${WORDS[intent.item]} ${intent.on ? 'in, or on' : 'out, or off'}: logged.`,
  })
}

/** A drug course that has not dosed yet, or holds its level: media would take it out. */
function againstCourses(
  context: ActContext,
  intent: EquipmentIntent,
  atMs: number,
  already: readonly Refusal[],
): Refusal[] {
  if (already.some(({ level }) => level === 'block' || level === 'forbid')) return []
  return coursesIn(context, intent.vesselId, atMs).flatMap((course) => {
    const protocol = protocolOfCourse(course)
    return protocol.productRoles.flatMap((role) => {
      const product = context.record.products.get(course.body.products[role.id] ?? '')
      const form = product && (formAmong(product.body, role.forms) ?? agentForm(product.body.form))
      if (!form || form.route !== 'in-tank' || !form.media.some(({ item }) => item === intent.item)) return []
      return [
        block(
          'media-in-course',
          `“${protocol.title}” runs here with ${form.label}: ${WORDS[intent.item].toLowerCase()} takes it out again.`,
        ),
      ]
    })
  })
}

/** A reducing binder: never where copper may be, and not while two instruments disagree. @source handbook 30 §1.5, 70 */
function binderRules(context: ActContext, vesselId: string, name: string, atMs: number): Refusal[] {
  const found: Refusal[] = []
  if (holdsCopper(context, vesselId, atMs))
    found.push(
      forbid(
        'amm-binder-copper',
        `${name} may hold copper. A reducing binder frees bound copper suddenly: change water at matching copper instead.`,
      ),
    )
  const verdict = ammoniaOf(context.record, context.active, vesselId, atMs, 1)?.verdict
  if (verdict === 'conflict' || verdict === 'no-match')
    found.push(
      block(
        'amm-worst',
        `Two instruments in ${name} do not agree on ammonia. Until a third reading: air, water change or move only.`,
      ),
    )
  return found
}
