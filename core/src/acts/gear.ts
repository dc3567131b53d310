// Gear that gets wet, or is made safe: what it may carry into a vessel, gravest where one is kept free of fish.
import { waitsForHosts } from '../knowledge/hosts.ts'
import { gearState } from '../record/gear.ts'
import { ask, block, type Refusal } from '../safety/refusal.ts'
import { coursesIn } from '../safety/water.ts'
import { answerOf, problemAnswer } from './answer.ts'
import { checkInstant } from './place.ts'
import type { ActContext, ActAnswer, Draft, GearIntent } from './types.ts'

export function gearAct(context: ActContext, intent: GearIntent): ActAnswer {
  const { record } = context
  const gear = record.gear.get(intent.gearId)
  if (!gear) return problemAnswer('Choose the gear and the vessel.')
  const atMs = intent.atMs ?? context.nowMs
  const base = { kind: 'gear', gearId: gear.id, ...(intent.atMs === undefined ? {} : { atMs: intent.atMs }) }
  if (intent.act !== 'wet')
    return answerOf({
      found: checkInstant(context, undefined, atMs, context.nowMs),
      drafts: [{ ...base, act: intent.act } as unknown as Draft],
      said: `${gear.body.name}: ${intent.act}.`,
    })
  const vessel = record.vessels.get(intent.vesselId ?? '')
  if (!vessel) return problemAnswer('Choose the gear and the vessel.')
  const found: Refusal[] = checkInstant(context, vessel.id, atMs, context.nowMs)
  const from = gearState(context.active, gear.id, atMs)
    .carries.filter((id) => id !== vessel.id)
    .map((id) => record.vessels.get(id)?.body.name ?? 'another vessel')
  if (from.length > 0) {
    const words = `${gear.body.name} was wet in ${from.join(' and ')} and was not made safe since.`
    const fallow = coursesIn(context, vessel.id, atMs).some(({ body }) => waitsForHosts(body.protocol))
    found.push(
      fallow
        ? block('fallow-wet-gear', `${words} In ${vessel.body.name} it starts the count without fish again.`)
        : block('gear-crossing', `${words} In ${vessel.body.name} it brings along what lives there.`),
    )
  } else if (gear.body.homeVesselId !== null && gear.body.homeVesselId !== vessel.id)
    found.push(
      ask(
        'gear-home',
        `${gear.body.name} belongs to ${record.vessels.get(gear.body.homeVesselId)?.body.name ?? 'another vessel'}. Use it in ${vessel.body.name} all the same?`,
      ),
    )
  return answerOf({
    found,
    drafts: [{ ...base, act: 'wet', vesselId: vessel.id } as unknown as Draft],
    said: `${gear.body.name}: wet in ${vessel.body.name}.`,
  })
}
