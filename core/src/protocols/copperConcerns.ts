// Copper that was read in a vessel where no course watches over it: over the ceiling of its bottle, over that of every bottle, or
// beside animals that bear none. Nobody may read twelve milligrams and be told that nothing is wrong.
import { agentForm, agentForms, groupOf } from '../knowledge/agents.ts'
import { limitOf } from '../knowledge/limits.ts'
import { besidesReadings, indexOf } from '../record/ledgerIndex.ts'
import { residentsIn } from '../record/whereabouts.ts'
import type { ActiveLedger, KeeperRecord, VesselDocument } from '../record/types.ts'
import { entryMs } from '../time/time.ts'
import type { Concern } from './concerns.ts'
import type { CoursePlan } from './plan.ts'

const DAY_MS = 86_400_000
const STANDS_DAYS = limitOf('reading-stands')
/** Over this, what a copper kit shows is more than its own noise, mg/L. EST */
const SURELY = limitOf('copper-surely')
/** A bottle that was dosed so long ago may still be what is read, days. EST */
const DOSED_DAYS = limitOf('copper-dosed-lately')
const trim = (value: number): string => String(Number(value.toPrecision(3)))

/** The ceiling that holds for the copper of a vessel: of the bottle last dosed here, else of the only one in the house. */
function ceilingOf(record: KeeperRecord, active: ActiveLedger, vesselId: string, nowMs: number) {
  const dosed = besidesReadings(active).findLast(
    (entry) =>
      entry.kind === 'dose' &&
      entry.vesselId === vesselId &&
      entryMs(entry) <= nowMs &&
      nowMs - entryMs(entry) <= DOSED_DAYS * DAY_MS &&
      agentForm(record.products.get(entry.productId)?.body.form ?? '')?.agent === 'copper',
  )
  if (dosed?.kind === 'dose') return agentForm(record.products.get(dosed.productId)!.body.form) ?? null
  const owned = [
    ...new Set([...record.products.values()].flatMap(({ body }) => (body.usedUpAt === undefined ? [body.form] : []))),
  ].filter((form) => agentForm(form)?.agent === 'copper')
  return owned.length === 1 ? (agentForm(owned[0]!) ?? null) : null
}

/** @returns at most one concern of a vessel; none while a course doses copper there, which watches over it itself */
export function copperConcerns(
  record: KeeperRecord,
  active: ActiveLedger,
  plans: readonly CoursePlan[],
  vessel: VesselDocument,
  nowMs: number,
): Concern[] {
  if (plans.some(({ vesselId, band }) => vesselId === vessel.id && band?.form.agent === 'copper')) return []
  const last = indexOf(active)
    .byVessel.get(vessel.id)
    ?.entries.findLast(
      (entry) =>
        entry.kind === 'reading' && entry.analyte === 'copper' && entry.doubt !== 'typo' && entryMs(entry) <= nowMs,
    )
  if (last?.kind !== 'reading' || nowMs - entryMs(last) > STANDS_DAYS * DAY_MS) return []
  // What is only known to lie under a value is no alarm.
  if (last.bound === 'below' || last.value <= SURELY) return []
  const here = residentsIn(record, active, vessel.id, nowMs)
  const bearsNone = here.filter(({ body }) => {
    const kind = groupOf(body.group)?.kind
    return kind !== undefined && kind !== 'fish' && kind !== 'plant'
  })
  const form = ceilingOf(record, active, vessel.id, nowMs)
  const ceilings = agentForms.filter(({ agent }) => agent === 'copper').map(({ hardMax }) => hardMax)
  const [least, most] = [Math.min(...ceilings), Math.max(...ceilings)]
  const base = {
    id: `copper-${vessel.id}`,
    vesselId: vessel.id,
    action: 'test' as const,
    analytes: ['copper'] as const,
  }
  const now =
    'Now: more air, no food, nothing dosed. Change half with matched clean water, test, and again until it is below'
  if (bearsNone.length > 0)
    return [
      {
        ...base,
        title: `Copper in ${vessel.body.name}, with ${bearsNone[0]!.body.name}:`,
        detail: `${trim(last.value)} mg/L were read. Invertebrates and corals bear none: move them to clean water first, then find out where it comes from. Fresh carbon and changes take it out.`,
        tone: 'danger',
      },
    ]
  const ceiling = form?.hardMax ?? most
  if (last.value > ceiling)
    return [
      {
        ...base,
        change: { fraction: 0.5 },
        title: `Too much copper in ${vessel.body.name}:`,
        detail: `${trim(last.value)} mg/L, over the ${form ? `hard maximum of ${trim(ceiling)} mg/L of its bottle` : `maximum of every form, ${trim(ceiling)} mg/L`}. ${now} ${trim(form ? form.band.max : least)} mg/L.`,
        tone: 'danger',
      },
    ]
  if (!form && last.value > least)
    return [
      {
        ...base,
        title: `Copper in ${vessel.body.name}, of which bottle?`,
        detail: `${trim(last.value)} mg/L is right for some forms and over the maximum of others (${trim(least)} to ${trim(most)} mg/L). Read the label of what was dosed; until then nothing more goes in.`,
        tone: 'caution',
      },
    ]
  return []
}
