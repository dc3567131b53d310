// When the filter of a vessel cannot be trusted: ammonia by both methods, daily, and what the worse reading asks for.
import { agentForm, groupOf } from '../knowledge/agents.ts'
import { holdsCopper } from '../acclimation/arrival.ts'
import {
  agreementRule,
  ammoniaOf,
  comparisonsOf,
  suspectInstruments,
  verdictWords,
  type Sitting,
} from '../record/compared.ts'
import { residentsIn } from '../record/account.ts'
import { indexOf } from '../record/ledgerIndex.ts'
import type { Entry, KeeperRecord } from '../record/types.ts'
import { addDays, dayOf, daysBetween, entryMs, instantMs } from '../time/time.ts'
import { ammoniaBand, type AmmoniaBand } from '../water/ammonia.ts'
import type { Concern } from './concerns.ts'
import { rotaOf } from './courseContext.ts'

const DAY = 86_400_000
/** Daily after stocking, then every second day. @source handbook 30 seed-watch-after */
export const STOCKED_DAILY_DAYS = 14
export const STOCKED_DAYS = 30
/** Daily after each new drug. @source handbook 30 seed-watch-after */
export const NEW_DRUG_DAYS = 3
/** A drug not dosed for so long is new again, days. EST */
const NEW_AGAIN_DAYS = 14
/** A vessel's filter that went out and came back is watched like one that was just stocked. */
const FILTER_DAYS = STOCKED_DAILY_DAYS
/** So many pests taken out in one day leave enough dead behind to be watched, for so many days. EST */
const REMOVED = 20
const REMOVED_DAYS = 3
/** After a reading that was not calm: daily until so many are calm in a row. @source handbook 65.10 am-watch */
const CALM_IN_A_ROW = 3

/** Vessels that live on a young or dosed sponge; a display is watched only after a drug or a lost filter. */
const YOUNG = new Set(['quarantine', 'observation', 'hospital', 'intake'])

export type AmmoniaMethod = 'total' | 'free'
export interface WatchReason {
  readonly id: string
  readonly kind: 'drug' | 'new-drug' | 'stocked' | 'filter' | 'removal' | 'high'
  /** Why, as a sentence without its full stop. */
  readonly words: string
  /** Last day of it in the keeper's zone; null: until what ends it happens. */
  readonly untilMs: number | null
  readonly everyDays: 1 | 2
  readonly entryIds: readonly string[]
}
export interface AmmoniaWatch {
  readonly vesselId: string
  readonly reasons: readonly WatchReason[]
  readonly everyDays: 1 | 2
  /** Until when, by the longest reason; null: open. */
  readonly untilMs: number | null
  /** Methods still to be read today. */
  readonly missing: readonly AmmoniaMethod[]
  /** The last seven days, oldest first: which methods were read. */
  readonly days: readonly {
    readonly day: string
    readonly asked: boolean
    readonly methods: readonly AmmoniaMethod[]
  }[]
}

const methodOf = (entry: Entry): AmmoniaMethod | null =>
  entry.kind !== 'reading'
    ? null
    : entry.analyte === 'ammonia-total'
      ? 'total'
      : entry.analyte === 'ammonia-free'
        ? 'free'
        : null

/** Why a vessel's ammonia is watched at an instant; empty where nothing asks for it. */
function reasonsAt(record: KeeperRecord, active: readonly Entry[], vesselId: string, atMs: number): WatchReason[] {
  const { zone } = record.settings
  const vessel = record.vessels.get(vesselId)
  if (!vessel) return []
  const index = indexOf(active)
  const here = index.byVessel.get(vesselId)?.entries ?? []
  const found: WatchReason[] = []
  const isFish = (id: string) => groupOf(record.residents.get(id)?.body.group ?? '')?.kind === 'fish'
  const day = (fromMs: number) => daysBetween(fromMs, atMs, zone)
  const add = (reason: Omit<WatchReason, 'everyDays' | 'untilMs'>, fromMs: number, lasts: number, every: 1 | 2 = 1) => {
    if (day(fromMs) < lasts) found.push({ ...reason, untilMs: fromMs + (lasts - 1) * DAY, everyDays: every })
  }

  // Drugs: what is known to harm the filter, and any that is new here.
  const doses = new Map<string, { firstMs: number; lastMs: number; id: string }>()
  let filterOut: Entry | null = null
  let filterBack: Entry | null = null
  let stocked: Entry | null = null
  for (const entry of index.moves) {
    if (entryMs(entry) > atMs) break
    if (entry.kind !== 'move' || entry.toVesselId !== vesselId || !isFish(entry.residentId)) continue
    const course = entry.courseId === undefined ? undefined : record.courses.get(entry.courseId)
    const rota = course ? rotaOf(course) : []
    if (!(rota.includes(entry.vesselId) && rota.includes(vesselId))) stocked = entry
  }
  for (const entry of here) {
    const ms = entryMs(entry)
    if (ms > atMs) break
    if (entry.kind === 'equipment' && entry.item === 'biofilter') {
      if (entry.on) filterBack = entry
      else filterOut = entry
      if (!entry.on) filterBack = null
    }
    if (entry.kind !== 'dose') continue
    const form = agentForm(record.products.get(entry.productId)?.body.form ?? '')
    if (!form || form.route !== 'in-tank') continue
    const before = doses.get(form.id)
    const fresh = before === undefined || ms - before.lastMs > NEW_AGAIN_DAYS * DAY
    doses.set(form.id, fresh ? { firstMs: ms, lastMs: ms, id: entry.id } : { ...before, lastMs: ms })
  }
  for (const [id, { firstMs, lastMs, id: entryId }] of doses) {
    const form = agentForm(id)!
    if (form.nitrifiers) {
      const { words, days, from } = form.nitrifiers
      const fromMs = from === 'first' ? firstMs : lastMs
      add(
        {
          id: `drug-${id}`,
          kind: 'drug',
          words: `${words}: day ${day(fromMs) + 1} of ${days.high}`,
          entryIds: [entryId],
        },
        fromMs,
        days.high,
      )
    }
    add(
      {
        id: `new-${id}`,
        kind: 'new-drug',
        words: `${form.label} is new here: day ${day(firstMs) + 1} of ${NEW_DRUG_DAYS}`,
        entryIds: [entryId],
      },
      firstMs,
      NEW_DRUG_DAYS,
    )
  }
  if (filterOut && !filterBack)
    found.push({
      id: 'filter-out',
      kind: 'filter',
      words: 'The filter with its bacteria is out',
      untilMs: null,
      everyDays: 1,
      entryIds: [filterOut.id],
    })
  else if (filterBack) {
    const fromMs = entryMs(filterBack)
    add(
      {
        id: 'filter-back',
        kind: 'filter',
        words: `The filter is young: day ${day(fromMs) + 1} of ${FILTER_DAYS}`,
        entryIds: [filterBack.id],
      },
      fromMs,
      FILTER_DAYS,
    )
  }

  // What was missed of many pests taken out rots.
  const removed = new Map<string, { lastMs: number; count: number; ids: string[] }>()
  for (const entry of here) {
    if (entry.kind !== 'tally') continue
    const ms = entryMs(entry)
    if (ms > atMs || day(ms) >= REMOVED_DAYS) continue
    const on = dayOf(ms, zone)
    const of = removed.get(on) ?? { lastMs: ms, count: 0, ids: [] }
    removed.set(on, { lastMs: ms, count: of.count + (entry.values.removed ?? 0), ids: [...of.ids, entry.id] })
  }
  for (const [on, { lastMs, count, ids }] of removed)
    if (count >= REMOVED)
      add(
        {
          id: `removed-${on}`,
          kind: 'removal',
          words: `${count} taken out ${day(lastMs) === 0 ? 'today' : day(lastMs) === 1 ? 'yesterday' : `${day(lastMs)} days ago`}: what was missed rots`,
          entryIds: ids,
        },
        lastMs,
        REMOVED_DAYS,
      )

  // Fish that came in lately, into water that lives on a young sponge.
  if (YOUNG.has(vessel.body.purpose)) {
    let fromMs = stocked ? entryMs(stocked) : -Infinity
    for (const { id, body } of record.residents.values())
      if (body.vesselId === vesselId && isFish(id) && instantMs(body.arrivedAt) <= atMs)
        fromMs = Math.max(fromMs, instantMs(body.arrivedAt))
    if (fromMs > -Infinity) {
      const daily = day(fromMs) < STOCKED_DAILY_DAYS
      add(
        {
          id: 'stocked',
          kind: 'stocked',
          words: `Stocked ${day(fromMs) === 0 ? 'today' : day(fromMs) === 1 ? 'yesterday' : `${day(fromMs)} days ago`}: ${daily ? `daily for ${STOCKED_DAILY_DAYS} days` : `every second day up to day ${STOCKED_DAYS}`}`,
          entryIds: stocked && entryMs(stocked) === fromMs ? [stocked.id] : [],
        },
        fromMs,
        daily ? STOCKED_DAILY_DAYS : STOCKED_DAYS,
        daily ? 1 : 2,
      )
    }
  }

  // It was not calm, and has not been calm three times since.
  let calm = 0
  for (let i = here.length - 1; i >= 0 && atMs - entryMs(here[i]!) <= STOCKED_DAYS * DAY; i--) {
    const entry = here[i]!
    if (methodOf(entry) === null || entryMs(entry) > atMs) continue
    const now = ammoniaOf(record, active, vesselId, entryMs(entry), 1)
    if (now?.rules !== undefined && now.rules !== null && ammoniaBand(now.rules) !== 'calm') {
      if (calm < CALM_IN_A_ROW)
        found.push({
          id: 'high',
          kind: 'high',
          words: `It was ${now.rules.toFixed(2)} mg/L of free ammonia-N; ${CALM_IN_A_ROW - calm} more calm ${CALM_IN_A_ROW - calm === 1 ? 'reading' : 'readings'} in a row`,
          untilMs: null,
          everyDays: 1,
          entryIds: [entry.id],
        })
      break
    }
    calm += 1
    if (calm >= CALM_IN_A_ROW) break
  }
  return found
}

/** Which methods a vessel's ammonia was read by, by day of the keeper's zone, over the last eight days. */
function methodsByDay(
  active: readonly Entry[],
  vesselId: string,
  zone: string,
  nowMs: number,
): ReadonlyMap<string, ReadonlySet<AmmoniaMethod>> {
  const found = new Map<string, Set<AmmoniaMethod>>()
  const entries = indexOf(active).byVessel.get(vesselId)?.entries ?? []
  for (let i = entries.length - 1; i >= 0 && nowMs - entryMs(entries[i]!) <= 8 * DAY; i--) {
    const method = methodOf(entries[i]!)
    if (method === null || entryMs(entries[i]!) > nowMs) continue
    const day = dayOf(entryMs(entries[i]!), zone)
    found.set(day, (found.get(day) ?? new Set()).add(method))
  }
  return found
}

/** The watch on a vessel's ammonia; null where nothing asks for it or no animal lives there. Pure. */
export function ammoniaWatchOf(
  record: KeeperRecord,
  active: readonly Entry[],
  vesselId: string,
  nowMs: number,
): AmmoniaWatch | null {
  if (residentsIn(record, active, vesselId, nowMs).length === 0) return null
  const reasons = reasonsAt(record, active, vesselId, nowMs)
  if (reasons.length === 0) return null
  const { zone } = record.settings
  const everyDays = reasons.some((reason) => reason.everyDays === 1) ? 1 : 2
  const today = dayOf(nowMs, zone)
  const read = methodsByDay(active, vesselId, zone, nowMs)
  const days = [6, 5, 4, 3, 2, 1, 0].map((back) => {
    const day = addDays(today, -back)
    const methods = (['total', 'free'] as const).filter((method) => read.get(day)?.has(method) === true)
    return { day, methods, asked: everyDays === 1 || back % 2 === 0 }
  })
  const seen = new Set([...days.at(-1)!.methods, ...(everyDays === 2 ? days.at(-2)!.methods : [])])
  const open = reasons.some(({ untilMs }) => untilMs === null)
  return {
    vesselId,
    reasons,
    everyDays,
    untilMs: open ? null : Math.max(...reasons.map(({ untilMs }) => untilMs!)),
    missing: (['total', 'free'] as const).filter((method) => !seen.has(method)),
    days,
  }
}

export interface AmmoniaAct {
  readonly band: AmmoniaBand
  readonly title: string
  readonly acts: readonly string[]
}

/**
 * What the worse reading asks for. No binder while instruments disagree or where any copper is in the water.
 * @source handbook 30 §1.5 nh3-calm to nh3-now, amm-worst, amm-binder-copper
 */
export function ammoniaAct(
  record: KeeperRecord,
  active: readonly Entry[],
  comparison: Sitting,
  vesselId: string,
  nowMs: number,
): AmmoniaAct {
  const band = ammoniaBand(comparison.rules ?? 0)
  const copper = holdsCopper(record, active, vesselId, nowMs)
  const apart = comparison.verdict === 'conflict' || comparison.verdict === 'no-match' || comparison.verdict === 'near'
  const binder = copper
    ? 'No binder: copper may be in this water.'
    : apart
      ? 'No binder while the two disagree.'
      : 'A binder once by its label, with an air stone.'
  const matched = copper ? ['New water made up to the same copper, and tested before it goes in.'] : []
  switch (band) {
    case 'calm':
      return { band, title: 'Calm', acts: [] }
    case 'watch':
      return {
        band,
        title: 'Change water today',
        acts: ['Change 30 to 50 % today, matched.', ...matched, 'Halve the food.', 'Read both again in 12 hours.'],
      }
    case 'today':
      return {
        band,
        title: 'Change half within two hours',
        acts: [
          'Change 50 % within two hours; new water no more than 0.1 pH above.',
          ...matched,
          'More air, no food.',
          binder,
          'Read again after an hour; a second half within four hours if it is still 0.05 or more.',
        ],
      }
    case 'now':
      return {
        band,
        title: 'Out of this water now',
        acts: [
          'Move the animals into clean, matched water now, or change 75 %; new water no more than 0.1 pH above.',
          ...matched,
          'More air, no food.',
          binder,
        ],
      }
  }
}

/** The verdict of a comparison in words, with the names of instruments not to be trusted. */
export const comparisonWords = (comparison: Sitting): string =>
  verdictWords(
    comparison.verdict,
    agreementRule(comparison.quantity).kind,
    comparison.suspects.map((by) => comparison.readings.find((reading) => reading.by === by)?.name ?? by),
  )

/** Ammonia that is not calm, and instruments that do not agree, of every vessel with animals. Pure. */
export function ammoniaConcerns(record: KeeperRecord, active: readonly Entry[], nowMs: number): Concern[] {
  const found: Concern[] = []
  for (const vessel of record.vessels.values()) {
    if (vessel.body.archivedAt !== undefined || residentsIn(record, active, vessel.id, nowMs).length === 0) continue
    for (const comparison of comparisonsOf(record, active, vessel.id, nowMs, 1)) {
      const { quantity, readings, rules, verdict, unit } = comparison
      const said = readings.map(({ name, value }) => `${name} ${shown(value)}`).join(', ')
      const about = { vesselId: vessel.id, action: 'see-vessel' as const }
      if (quantity === 'ammonia') {
        const act = ammoniaAct(record, active, comparison, vessel.id, nowMs)
        if (act.band !== 'calm')
          found.push({
            ...about,
            id: `ammonia-${vessel.id}`,
            title: `Ammonia in ${vessel.body.name}: ${act.title.toLowerCase()}.`,
            detail: `${shown(rules ?? 0)} mg/L free, as N (${said}). ${act.acts[0] ?? ''}`,
            tone: act.band === 'watch' ? 'caution' : 'danger',
          })
      }
      if (verdict === 'conflict' || verdict === 'no-match')
        found.push({
          ...about,
          id: `apart-${vessel.id}-${quantity}`,
          title: `Two instruments in ${vessel.body.name} do not agree:`,
          detail: `${said} ${unit}. ${comparisonWords(comparison)}`,
          tone: 'caution',
        })
    }
  }
  for (const { instrumentId, vesselId, label } of suspectInstruments(record, active, nowMs).values())
    found.push({
      id: `suspect-${instrumentId}`,
      vesselId,
      title: `${record.instruments.get(instrumentId)?.body.name ?? 'An instrument'} is not to be trusted:`,
      detail: `a third reading of ${label.toLowerCase()} spoke against it. Check it against a standard, or replace it, and say so in the cupboard.`,
      tone: 'caution',
      action: 'see-cupboard',
    })
  return found
}
const shown = (value: number): string => (value < 0.1 ? value.toFixed(3) : Number(value.toPrecision(3)).toString())
