// How high a form may go in one water, for one set of animals: the one ceiling that every plan and every act asks.
import { groupOf, sensitivity, type AgentForm } from '../knowledge/agents.ts'
import { measureFor, roundToStep, type Measure } from '../dosing/dose.ts'
import type { ActiveContent } from '../dosing/strength.ts'
import { residentsIn } from '../record/whereabouts.ts'
import { indexOf } from '../record/ledgerIndex.ts'
import type { House, ResidentDocument } from '../record/types.ts'
import { entryMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'

/** A temperature older than this says nothing about the water a heat-limited agent goes into, h. @source handbook 31 T2 */
export const FRESH_HOURS = 24
/** A plan asks anew this much earlier, so that what it offers is still good when it is poured, h. */
export const OFFER_FRESH_HOURS = FRESH_HOURS - 2
/** One sided 10 % of a normal: the low end of the volume that hard maxima are held against. */
const LOW_END_SDS = 1.2816

export interface Fresh {
  readonly value: number
  readonly entryId: string | null
  readonly atMs: number
}

/** The last reading of an analyte in a vessel, not older than `hours`; null where there is none. */
export function freshReading(
  { active }: Pick<House, 'active'>,
  vesselId: string,
  analyte: string,
  atMs: number,
  hours = FRESH_HOURS,
): Fresh | null {
  const entries = indexOf(active).byVessel.get(vesselId)?.entries ?? []
  for (let i = entries.length - 1; i >= 0; i--) {
    const entry = entries[i]!
    const ms = entryMs(entry)
    if (ms > atMs) continue
    if (atMs - ms > hours * MS_PER_HOUR) return null
    if (entry.kind === 'reading' && entry.analyte === analyte && entry.doubt !== 'typo')
      return { value: entry.value, entryId: entry.id, atMs: ms }
  }
  return null
}

export interface Limit {
  /** The middle of the level may not pass this, mg/L. 0: never at this warmth. */
  readonly ceilingMgPerL: number
  /** The level at the low end of the volume may not pass this, mg/L. */
  readonly hardMaxMgPerL: number
  readonly by: 'hard' | 'heat' | 'caution' | 'pair'
  readonly temperatureC: number | null
  /** The agent is limited by warmth and nobody read the water within a day: nothing may be said. */
  readonly needsTemperature: boolean
  readonly cautious: readonly ResidentDocument[]
}

/** Ceiling of a form at a warmth, for all animals and for those that need caution, mg/L. @source handbook 31 T2, T6 */
export function ceilingAt(form: AgentForm, temperatureC: number | null): { all: number; cautious: number } {
  const row = temperatureC === null ? undefined : form.ceilings?.findLast(({ fromC }) => temperatureC >= fromC)
  const all = Math.min(form.hardMax, row?.max ?? form.hardMax)
  return { all, cautious: Math.min(all, row?.cautionMax ?? Infinity, form.cautionMax ?? Infinity) }
}

/** Animals among these that stand the form badly, or of which nothing is known. */
export const cautiousOf = (
  form: AgentForm,
  residents: readonly ResidentDocument[],
  water: 'marine' | 'fresh',
): ResidentDocument[] => residents.filter(({ body }) => ['C', '?'].includes(sensitivity(form, body.group, water)))

/** The limit of a form for given animals at a given warmth. `pairCap`: what another agent in the water leaves it. */
export function limitFor(
  form: AgentForm,
  options: {
    readonly temperatureC: number | null
    readonly residents: readonly ResidentDocument[]
    readonly water: 'marine' | 'fresh'
    readonly pairCap?: { readonly all: number; readonly cautious: number }
  },
): Limit {
  const { temperatureC, residents, water } = options
  const cautious = cautiousOf(form, residents, water)
  const at = ceilingAt(form, temperatureC)
  const column = Math.min(
    ...cautious.map(({ body }) => form.cautionCaps?.[groupOf(body.group)?.column ?? ''] ?? Infinity),
    Infinity,
  )
  const heat = cautious.length > 0 ? Math.min(at.cautious, column) : at.all
  const pair = options.pairCap
    ? cautious.length > 0
      ? Math.min(options.pairCap.all, options.pairCap.cautious)
      : options.pairCap.all
    : Infinity
  const ceiling = Math.min(heat, pair)
  return {
    ceilingMgPerL: ceiling,
    hardMaxMgPerL: Math.min(form.hardMax, at.all === 0 ? 0 : form.hardMax),
    by: ceiling >= form.hardMax ? 'hard' : pair < heat ? 'pair' : ceiling < at.all ? 'caution' : 'heat',
    temperatureC,
    needsTemperature: form.ceilings !== undefined && temperatureC === null,
    cautious,
  }
}

/** The limit of a form in a vessel as it stands: its animals by the whole ledger, its warmth of the last day. */
export function limitIn(
  house: House,
  form: AgentForm,
  vesselId: string,
  atMs: number,
  options: {
    readonly temperatureC?: number
    readonly pairCap?: { readonly all: number; readonly cautious: number }
    /** How fresh the warmth must be, h. */
    readonly freshHours?: number
  } = {},
): Limit {
  const water = house.record.vessels.get(vesselId)?.body.water ?? 'marine'
  return limitFor(form, {
    temperatureC:
      options.temperatureC ?? freshReading(house, vesselId, 'temperature', atMs, options.freshHours)?.value ?? null,
    residents: residentsIn(house.record, house.active, vesselId, atMs),
    water,
    ...(options.pairCap ? { pairCap: options.pairCap } : {}),
  })
}

export interface Room {
  readonly limit: Limit
  readonly level: { readonly mgPerL: number; readonly highMgPerL: number }
  readonly volume: { readonly litres: number; readonly sdLitres: number }
  readonly contentMg: number
}
const lowLitres = ({ litres, sdLitres }: Room['volume']) => Math.max(litres - LOW_END_SDS * sdLitres, litres / 4)

/** Where an amount leads: the middle of the level, and the worst at the low end of the volume. */
export const reached = (room: Room, amount: number) => ({
  mgPerL: room.level.mgPerL + (amount * room.contentMg) / room.volume.litres,
  worstMgPerL: room.level.highMgPerL + (amount * room.contentMg) / lowLitres(room.volume),
  lowL: lowLitres(room.volume),
})
/** Slack of floating point, never of a drug. */
const EXACT = 1 + 1e-9

/** Whether an amount stays inside: the one comparison that offers and gates share. */
export function isInside(room: Room, amount: number): boolean {
  const { mgPerL, worstMgPerL } = reached(room, amount)
  return mgPerL <= room.limit.ceilingMgPerL * EXACT && worstMgPerL <= room.limit.hardMaxMgPerL * EXACT
}

/** The most that may go in now, unrounded; zero where nothing may. */
export const mostUnrounded = (room: Room): number =>
  Math.max(
    0,
    Math.min(
      ((room.limit.ceilingMgPerL - room.level.mgPerL) * room.volume.litres) / room.contentMg,
      ((room.limit.hardMaxMgPerL - room.level.highMgPerL) * lowLitres(room.volume)) / room.contentMg,
    ),
  )

/** The most that may go in now, rounded down to a graduation of the measure that takes it. */
export function mostInside(
  room: Room,
  per: ActiveContent['per'],
  owned?: readonly Measure[],
): { readonly amount: number; readonly step: number } {
  const most = mostUnrounded(room)
  const { step } = measureFor(most, per, owned)
  let amount = roundToStep(most, step, 'down')
  while (amount > 0 && !isInside(room, amount)) amount = roundToStep(amount - step, step)
  return { amount: Math.max(0, amount), step }
}
