// What may meet what: pairs of actives as data, read against what is still in a vessel's water.
import { agentForm, type AgentForm } from '../knowledge/agents.ts'
import { interactions as TABLES } from '../generated/knowledge/interactions.ts'
import type { InteractionTable } from '../generated/interactionTypes.ts'
import { rateOfHalfLife } from '../level/curve.ts'
import { changedShare, pouredMass, vesselVolume } from '../level/fromRecord.ts'
import type { Entry, KeeperRecord } from '../record/types.ts'
import { entryMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'

export type Interaction = InteractionTable['interactions'][number]
export const interactions: readonly Interaction[] = TABLES.flatMap((table) => table.interactions)

const fits = (side: Interaction['a'], form: AgentForm): boolean =>
  (side.agents?.includes(form.agent) ?? true) &&
  (side.classes?.includes(form.class) ?? true) &&
  (side.routes?.includes(form.route) ?? true)

/**
 * How two forms stand to each other: the first rule of the table that fits, either way round; null for two doses of
 * one and the same active by the same route, which the schedule of a course rules. @source handbook 30 §5.7
 */
export function interactionOf(a: AgentForm, b: AgentForm): Interaction | null {
  if (a.agent === b.agent) {
    return a.route === b.route || (a.route === 'bath') !== (b.route === 'bath')
      ? null
      : {
          id: 'cx-same-active',
          a: { agents: [a.agent] },
          b: { agents: [b.agent] },
          verdict: 'forbid',
          why: 'The same active by food and in the water is a double dose.',
        }
  }
  return (
    interactions.find(({ a: one, b: two }) => (fits(one, a) && fits(two, b)) || (fits(one, b) && fits(two, a))) ?? null
  )
}

/**
 * Forms other than one's own that may still be in a vessel's water at an instant, with the time of their last dose.
 * Still there: more than `removedBelow` may be left at the slowest loss of the form, changes taken off.
 */
export function formsInWater(
  record: KeeperRecord,
  entries: readonly Entry[],
  vesselId: string,
  atMs: number,
): readonly { readonly form: AgentForm; readonly lastMs: number; readonly leftMgPerL: number }[] {
  const vessel = record.vessels.get(vesselId)
  const volume = vessel ? vesselVolume(vessel)?.litres : undefined
  const masses = new Map<string, { massMg: number; lastMs: number; doseMs: number }>()
  for (const entry of entries) {
    if (entry.kind !== 'dose' && entry.kind !== 'change') continue
    if (entry.vesselId !== vesselId) continue
    const ms = entryMs(entry)
    if (ms > atMs) continue
    if (entry.kind === 'change') {
      const kept = 1 - changedShare(entry, volume ?? 1)
      for (const mass of masses.values()) mass.massMg *= kept
      continue
    }
    const form = agentForm(record.products.get(entry.productId)?.body.form ?? '')
    if (!form || form.route !== 'in-tank') continue
    const before = masses.get(form.id)
    const decay = before
      ? before.massMg * Math.exp((-rateOfHalfLife(form.halfLifeDays.high * 24) * (ms - before.lastMs)) / MS_PER_HOUR)
      : 0
    masses.set(form.id, { massMg: decay + (pouredMass(record, entry) ?? 0), lastMs: ms, doseMs: ms })
  }
  return [...masses].flatMap(([id, { massMg, lastMs, doseMs }]) => {
    const form = agentForm(id)!
    const left =
      (massMg * Math.exp((-rateOfHalfLife(form.halfLifeDays.high * 24) * (atMs - lastMs)) / MS_PER_HOUR)) /
      (volume ?? 1)
    return left > form.removedBelow || (volume === undefined && massMg > 0)
      ? [{ form, lastMs: doseMs, leftMgPerL: left }]
      : []
  })
}
