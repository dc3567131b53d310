// Who meets whom, in which order and how; and whether it turns into a fight.
import { besidesReadings } from '../record/ledgerIndex.ts'
import { limitOf } from '../knowledge/limits.ts'
import { tankInputs } from '../acclimation/arrival.ts'
import { groupOf, species } from '../knowledge/agents.ts'
import { residentVessels, residentsIn } from '../record/whereabouts.ts'
import type { ActiveLedger, CountEntry, KeeperRecord, ResidentDocument } from '../record/types.ts'
import { theilSen } from '../trends/theilSen.ts'
import { entryMs } from '../time/time.ts'

export const INTRODUCTION_PROTOCOLS = [
  'introduce-box',
  'introduce-neutral',
  'introduce-together',
  'introduce-resident-out',
] as const
export type IntroductionId = (typeof INTRODUCTION_PROTOCOLS)[number]

export interface Rivalry {
  readonly newcomerId: string
  readonly rivalId: string
  /** Whether the rival lives in the display already, or is new as well. */
  readonly rivalIsNew: boolean
  readonly why: string
}
export interface MatchLine {
  readonly what: string
  readonly unit: string
  readonly here: number
  readonly there: number
  readonly limit: string
  readonly fits: boolean
  readonly assumed: boolean
}
export interface IntroductionPlan {
  readonly school: IntroductionId
  readonly boxDays: number
  readonly reasons: readonly string[]
  readonly rivalries: readonly Rivalry[]
  /** Least aggressive first. */
  readonly order: readonly ResidentDocument[]
  readonly match: readonly MatchLine[]
  readonly cautions: readonly string[]
}

const speciesOf = (resident: ResidentDocument) =>
  species.find(
    ({ common, scientific }) => scientific === resident.body.scientificName || common === resident.body.commonName,
  )
const isTerritorial = (resident: ResidentDocument) => speciesOf(resident)?.territorial === true

/** Walking into a display: small peaceful, mid-water, bottom hideouts, last the territorial. @source handbook 30 in-order */
const RANK: Readonly<Record<string, number>> = {
  'hg-syngnathid': 0,
  'hg-dragonet': 0,
  'hg-anthias': 1,
  'hg-small-fresh': 1,
  'hg-clown-damsel': 2,
  'hg-wrasse': 2,
  'hg-goby-blenny': 3,
  'hg-butterfly': 3,
  'hg-angel-dwarf': 4,
  'hg-angel-large': 5,
  'hg-tang': 5,
  'hg-puffer-trigger': 5,
}
const rankOf = (resident: ResidentDocument): number =>
  (RANK[resident.body.group] ?? 3) + (isTerritorial(resident) ? 2 : 0)

/** Days between batches. @source handbook 30 in-order */
const BATCH_DAYS = limitOf('batch-days')

/** How these newcomers should meet this display. Pure over the record. */
export function introductionPlan(options: {
  readonly record: KeeperRecord
  readonly active: ActiveLedger
  readonly newcomerIds: readonly string[]
  readonly vesselId: string
  readonly nowMs: number
}): IntroductionPlan {
  const { record, active, newcomerIds, vesselId, nowMs } = options
  const newcomers = newcomerIds.flatMap((id) => record.residents.get(id) ?? [])
  const residents = residentsIn(record, active, vesselId, nowMs).filter(
    ({ id, body }) => !newcomerIds.includes(id) && groupOf(body.group)?.kind === 'fish',
  )
  const rivalries: Rivalry[] = []
  const meets = (one: ResidentDocument, other: ResidentDocument, rivalIsNew: boolean) => {
    if (one.body.group !== other.body.group || !(isTerritorial(one) || isTerritorial(other))) return
    const same = one.body.scientificName !== undefined && one.body.scientificName === other.body.scientificName
    rivalries.push({
      newcomerId: one.id,
      rivalId: other.id,
      rivalIsNew,
      why: same ? 'same species' : `same shape and place (${groupOf(one.body.group)?.label.toLowerCase()})`,
    })
  }
  newcomers.forEach((one, i) => {
    for (const other of residents) meets(one, other, false)
    for (const other of newcomers.slice(i + 1)) meets(one, other, true)
  })
  const tangs = rivalries.some(({ newcomerId }) => record.residents.get(newcomerId)?.body.group === 'hg-tang')
  const reasons: string[] = []
  let school: IntroductionId = 'introduce-box'
  let boxDays = 1
  if (rivalries.some(({ rivalIsNew }) => rivalIsNew)) {
    school = 'introduce-neutral'
    reasons.push('Two of the newcomers are rivals and both are new: a week on neutral ground first is the safest way.')
  } else if (rivalries.length > 0) {
    boxDays = tangs ? 6 : 3
    reasons.push(
      tangs
        ? 'A surgeonfish among its like: five to seven days in the box.'
        : 'A rival holds the place already: three days in the box, seen and not reached.',
    )
    reasons.push(
      'If the resident is a lone bully, take it out for three to seven days instead and let it come back last.',
    )
  } else {
    reasons.push('Nobody in the display is a rival: one day in the box is enough for peace.')
  }
  const where = residentVessels(record, active, nowMs)
  const from = newcomers.length > 0 ? (where.get(newcomers[0]!.id) ?? null) : null
  const cautions: string[] = []
  const lastIn = active.findLast(
    (entry) =>
      entry.kind === 'move' &&
      entry.toVesselId === vesselId &&
      !newcomerIds.includes(entry.residentId) &&
      nowMs - entryMs(entry) < BATCH_DAYS * 86_400_000,
  )
  if (lastIn)
    cautions.push(
      `Another animal came in ${Math.max(0, Math.round((nowMs - entryMs(lastIn)) / 86_400_000))} days ago: fourteen days between batches let them settle.`,
    )
  const recentSign = active.findLast(
    (entry) =>
      entry.kind === 'sign' &&
      entry.present &&
      ((from !== null && entry.vesselId === from) || entry.vesselId === vesselId) &&
      nowMs - entryMs(entry) < 14 * 86_400_000,
  )
  if (recentSign)
    cautions.push(
      'A sign was seen in one of the two vessels in the last fourteen days: wait until fourteen days are clean.',
    )
  return {
    school,
    boxDays,
    reasons,
    rivalries,
    order: [...newcomers].sort((a, b) => rankOf(a) - rankOf(b) || (a.id < b.id ? -1 : 1)),
    match: from === null || from === vesselId ? [] : matchOf(record, active, from, vesselId, nowMs),
    cautions,
  }
}

/** Waters of the two vessels against what a fish bears. @source handbook 30 in-match */
function matchOf(record: KeeperRecord, active: ActiveLedger, fromId: string, toId: string, nowMs: number): MatchLine[] {
  const here = tankInputs(record, active, fromId, nowMs)
  const there = tankInputs(record, active, toId, nowMs)
  const line = (
    what: string,
    unit: string,
    field: 'tempC' | 'salinityPsu' | 'phNbs',
    limit: string,
    fits: (difference: number) => boolean,
  ): MatchLine => ({
    what,
    unit,
    here: here[field].value,
    there: there[field].value,
    limit,
    fits: fits(there[field].value - here[field].value),
    assumed: here[field].assumed !== undefined || there[field].assumed !== undefined,
  })
  return [
    line('Temperature', '°C', 'tempC', '± 0.5', (d) => Math.abs(d) <= 0.5),
    line('Salinity', 'PSU', 'salinityPsu', '± 1', (d) => Math.abs(d) <= 1),
    line('pH', '', 'phNbs', '± 0.3', (d) => Math.abs(d) <= 0.3),
  ]
}

export interface ConflictState {
  readonly sessions: number
  /** Last count of chases in ten minutes. */
  readonly lastChases: number | null
  readonly trend: 'rising' | 'falling' | 'level' | 'unknown'
  /** Chases a day more (or fewer). */
  readonly slopePerDay: number | null
  readonly alerts: readonly string[]
}

/** What the conflict log says since an instant. @source handbook 30 §7.2–7.3 */
export function conflictState(active: ActiveLedger, vesselId: string, sinceMs: number, nowMs: number): ConflictState {
  const counts = besidesReadings(active).filter(
    (entry): entry is CountEntry =>
      entry.kind === 'count' && entry.vesselId === vesselId && entryMs(entry) >= sinceMs && entryMs(entry) <= nowMs,
  )
  const of = (what: string) => counts.filter((entry) => entry.what === what)
  const chases = of('chases-10min')
  const recent = chases.slice(-6).map((entry) => ({ t: entryMs(entry) / 86_400_000, value: entry.count }))
  const fit = recent.length >= 3 ? theilSen(recent) : null
  const alerts: string[] = []
  const last = chases.at(-1)
  if (last && last.count > 10) alerts.push(`${last.count} chases in ten minutes: more than ten is too many.`)
  if (of('bites').some(({ count }) => count > 0)) alerts.push('A bite was seen: look at the fins.')
  const hidden = of('minutes-hidden').slice(-2)
  if (hidden.length === 2 && hidden.every(({ count }) => count > 25))
    alerts.push('Out of sight for more than 25 of 30 minutes, twice.')
  const fins = of('fin-state').at(-1)
  if (fins && fins.count >= 2) alerts.push(fins.count >= 3 ? 'A fin is half gone.' : 'A fin is torn.')
  return {
    sessions: chases.length,
    lastChases: last?.count ?? null,
    slopePerDay: fit?.slope ?? null,
    trend: !fit ? 'unknown' : Math.abs(fit.slope) < 0.5 ? 'level' : fit.slope > 0 ? 'rising' : 'falling',
    alerts,
  }
}
