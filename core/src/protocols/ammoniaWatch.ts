// When the filter of a vessel cannot be trusted: ammonia by both methods, daily, and what the worse reading asks for.
import { limitOf } from '../knowledge/limits.ts'
import { agentForm, groupOf } from '../knowledge/agents.ts'
import { formGiven } from '../knowledge/uses.ts'
import { changedShare, vesselVolume } from '../level/fromRecord.ts'
import { holdsCopper } from '../safety/water.ts'
import {
  agreementRule,
  ammoniaOf,
  comparisonsOf,
  suspectInstruments,
  verdictWords,
  type Sitting,
} from '../record/compared.ts'
import { residentsIn } from '../record/whereabouts.ts'
import { indexOf } from '../record/ledgerIndex.ts'
import type { ActiveLedger, Entry, KeeperRecord } from '../record/types.ts'
import { addDays, dayOf, daysBetween, entryMs, instantMs } from '../time/time.ts'
import { ammoniaBand, type AmmoniaBand } from '../water/ammonia.ts'
import type { Concern } from './concerns.ts'
import { rotaOf } from './courseContext.ts'

const DAY = 86_400_000
/** Daily after stocking, then every second day. @source handbook 30 seed-watch-after */
export const STOCKED_DAILY_DAYS = limitOf('ammonia-daily')
export const STOCKED_DAYS = limitOf('ammonia-every-second')
/** Daily after each new drug. @source handbook 30 seed-watch-after */
export const NEW_DRUG_DAYS = limitOf('ammonia-new-drug')
/** A drug not dosed for so long is new again, days. EST */
const NEW_AGAIN_DAYS = limitOf('drug-new-again')
/** A vessel's filter that went out and came back is watched like one that was just stocked. */
const FILTER_DAYS = STOCKED_DAILY_DAYS
/** So many pests taken out in one day leave enough dead behind to be watched, for so many days. EST */
const REMOVED = limitOf('many-dead')
const REMOVED_DAYS = limitOf('many-dead-days')
/** After a reading that was not calm: daily until so many are calm in a row. @source handbook 65.10 am-watch */
const CALM_IN_A_ROW = limitOf('calm-in-a-row')

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
  /** Methods that this keeper has, of the two: nobody is asked to read what is not in the house. */
  readonly asked: readonly AmmoniaMethod[]
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

/** What the reasons of one vessel are worked out from. */
interface Watched {
  readonly record: KeeperRecord
  readonly active: ActiveLedger
  readonly vesselId: string
  /** Entries of the vessel up to the instant, in order. */
  readonly here: readonly Entry[]
  readonly atMs: number
}

/** Days of the keeper's zone since an instant. */
const daysSince = ({ record, atMs }: Watched, fromMs: number): number => daysBetween(fromMs, atMs, record.settings.zone)
const ago = (days: number): string => (days === 0 ? 'today' : days === 1 ? 'yesterday' : `${days} days ago`)

/** A reason that lasts so many days from an instant, its day included; none where they are over. */
function lasting(
  watched: Watched,
  reason: Omit<WatchReason, 'everyDays' | 'untilMs'>,
  fromMs: number,
  days: number,
  everyDays: 1 | 2 = 1,
): WatchReason[] {
  return daysSince(watched, fromMs) < days ? [{ ...reason, untilMs: fromMs + (days - 1) * DAY, everyDays }] : []
}

/** Drugs: what is known to harm the filter, and any that is new here. */
function drugReasons(watched: Watched): WatchReason[] {
  const doses = new Map<string, { firstMs: number; lastMs: number; id: string }>()
  for (const entry of watched.here) {
    if (entry.kind !== 'dose') continue
    const form = formGiven(entry, watched.record.products.get(entry.productId))
    if (!form || form.route !== 'in-tank') continue
    const ms = entryMs(entry)
    const before = doses.get(form.id)
    const fresh = before === undefined || ms - before.lastMs > NEW_AGAIN_DAYS * DAY
    doses.set(form.id, fresh ? { firstMs: ms, lastMs: ms, id: entry.id } : { ...before, lastMs: ms })
  }
  return [...doses].flatMap(([formId, { firstMs, lastMs, id }]) => {
    const { nitrifiers, label } = agentForm(formId)!
    const fromMs = nitrifiers?.from === 'first' ? firstMs : lastMs
    const dayOfIt = (ms: number, of: number) => `day ${daysSince(watched, ms) + 1} of ${of}`
    return [
      ...(nitrifiers
        ? lasting(
            watched,
            {
              id: `drug-${formId}`,
              kind: 'drug',
              words: `${nitrifiers.words}: ${dayOfIt(fromMs, nitrifiers.days.high)}`,
              entryIds: [id],
            },
            fromMs,
            nitrifiers.days.high,
          )
        : []),
      ...lasting(
        watched,
        {
          id: `new-${formId}`,
          kind: 'new-drug',
          words: `${label} is new here: ${dayOfIt(firstMs, NEW_DRUG_DAYS)}`,
          entryIds: [id],
        },
        firstMs,
        NEW_DRUG_DAYS,
      ),
    ]
  })
}

/** The filter with its bacteria: out, or back and young. */
function filterReasons(watched: Watched): WatchReason[] {
  const last = watched.here.findLast((entry) => entry.kind === 'equipment' && entry.item === 'biofilter')
  if (last?.kind !== 'equipment') return []
  if (!last.on)
    return [
      {
        id: 'filter-out',
        kind: 'filter',
        words: 'The filter with its bacteria is out',
        untilMs: null,
        everyDays: 1,
        entryIds: [last.id],
      },
    ]
  const fromMs = entryMs(last)
  return lasting(
    watched,
    {
      id: 'filter-back',
      kind: 'filter',
      words: `The filter is young: day ${daysSince(watched, fromMs) + 1} of ${FILTER_DAYS}`,
      entryIds: [last.id],
    },
    fromMs,
    FILTER_DAYS,
  )
}

/** What was missed of many pests taken out rots. */
function removalReasons(watched: Watched): WatchReason[] {
  const { here, record, atMs } = watched
  const byDay = new Map<string, { lastMs: number; count: number; ids: string[] }>()
  for (let i = here.length - 1; i >= 0 && atMs - entryMs(here[i]!) <= (REMOVED_DAYS + 1) * DAY; i--) {
    const entry = here[i]!
    if (entry.kind !== 'tally') continue
    const day = dayOf(entryMs(entry), record.settings.zone)
    const of = byDay.get(day) ?? { lastMs: entryMs(entry), count: 0, ids: [] }
    byDay.set(day, { ...of, count: of.count + (entry.values.removed ?? 0), ids: [entry.id, ...of.ids] })
  }
  return [...byDay].flatMap(([day, { lastMs, count, ids }]) =>
    count < REMOVED
      ? []
      : lasting(
          watched,
          {
            id: `removed-${day}`,
            kind: 'removal',
            words: `${count} taken out ${ago(daysSince(watched, lastMs))}: what was missed rots`,
            entryIds: ids,
          },
          lastMs,
          REMOVED_DAYS,
        ),
  )
}

/** Fish that came in lately, into water that lives on a young sponge. */
function stockedReasons(watched: Watched): WatchReason[] {
  const { record, active, vesselId, atMs } = watched
  if (!YOUNG.has(record.vessels.get(vesselId)?.body.purpose ?? '')) return []
  const isFish = (id: string) => groupOf(record.residents.get(id)?.body.group ?? '')?.kind === 'fish'
  const moved = indexOf(active).moves.findLast((entry) => {
    if (entry.kind !== 'move' || entry.toVesselId !== vesselId || entryMs(entry) > atMs) return false
    const course = entry.courseId === undefined ? undefined : record.courses.get(entry.courseId)
    const rota = course ? rotaOf(course) : []
    // From tub to tub of one course nobody new came in.
    return isFish(entry.residentId) && !(rota.includes(entry.vesselId) && rota.includes(vesselId))
  })
  let fromMs = moved ? entryMs(moved) : -Infinity
  for (const { id, body } of record.residents.values())
    if (body.vesselId === vesselId && isFish(id) && instantMs(body.arrivedAt) <= atMs)
      fromMs = Math.max(fromMs, instantMs(body.arrivedAt))
  if (fromMs === -Infinity) return []
  const days = daysSince(watched, fromMs)
  const daily = days < STOCKED_DAILY_DAYS
  return lasting(
    watched,
    {
      id: 'stocked',
      kind: 'stocked',
      words: `Stocked ${ago(days)}: ${daily ? `daily for ${STOCKED_DAILY_DAYS} days` : `every second day up to day ${STOCKED_DAYS}`}`,
      entryIds: moved && entryMs(moved) === fromMs ? [moved.id] : [],
    },
    fromMs,
    daily ? STOCKED_DAILY_DAYS : STOCKED_DAYS,
    daily ? 1 : 2,
  )
}

/** It was not calm, and has not been calm three times in a row since. */
function highReasons({ record, active, vesselId, here, atMs }: Watched): WatchReason[] {
  let calm = 0
  for (let i = here.length - 1; i >= 0 && atMs - entryMs(here[i]!) <= STOCKED_DAYS * DAY; i--) {
    const entry = here[i]!
    if (methodOf(entry) === null) continue
    const rules = ammoniaOf(record, active, vesselId, entryMs(entry), 1)?.rules ?? null
    if (rules !== null && ammoniaBand(rules) !== 'calm') {
      const more = CALM_IN_A_ROW - calm
      return [
        {
          id: 'high',
          kind: 'high',
          words: `It was ${rules.toFixed(2)} mg/L of free ammonia-N; ${more} more calm ${more === 1 ? 'reading' : 'readings'} in a row`,
          untilMs: null,
          everyDays: 1,
          entryIds: [entry.id],
        },
      ]
    }
    if (++calm >= CALM_IN_A_ROW) break
  }
  return []
}

/** Why a vessel's ammonia is watched at an instant; empty where nothing asks for it. */
function reasonsAt(record: KeeperRecord, active: ActiveLedger, vesselId: string, atMs: number): WatchReason[] {
  const all = indexOf(active).byVessel.get(vesselId)?.entries ?? []
  const here = all.length > 0 && entryMs(all.at(-1)!) > atMs ? all.filter((entry) => entryMs(entry) <= atMs) : all
  const watched: Watched = { record, active, vesselId, here, atMs }
  return [drugReasons, filterReasons, removalReasons, stockedReasons, highReasons].flatMap((reasons) =>
    reasons(watched),
  )
}

/** Which methods a vessel's ammonia was read by, by day of the keeper's zone, over the last eight days. */
function methodsByDay(
  active: ActiveLedger,
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

const ANALYTE = { total: 'ammonia-total', free: 'ammonia-free' } as const
/** How long a method that was read counts as one that the keeper has, days. */
const HAS_DAYS = 30
/** Methods with a kit in the cupboard, or read lately in any vessel; the drop test where there is neither. */
function methodsOwned(record: KeeperRecord, active: ActiveLedger, nowMs: number): AmmoniaMethod[] {
  const owned = (['total', 'free'] as const).filter(
    (method) =>
      [...record.instruments.values()].some(
        ({ body }) => body.analyte === ANALYTE[method] && body.retiredAt === undefined,
      ) ||
      active.some(
        (entry) => methodOf(entry) === method && entryMs(entry) <= nowMs && nowMs - entryMs(entry) < HAS_DAYS * DAY,
      ),
  )
  return owned.length > 0 ? owned : ['total']
}

/** A change a little smaller than was asked for is still that change. */
const ENOUGH = 0.8
/** Share of a vessel's water that was changed since a reading, where that is what its act asks for; else null. */
export function changedEnough(
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  { fraction }: AmmoniaAct,
  sinceMs: number,
  nowMs: number,
): number | null {
  if (fraction === undefined) return null
  const vessel = record.vessels.get(vesselId)
  const litres = (vessel && vesselVolume(vessel)?.litres) ?? vessel?.body.nominalL ?? 0
  let left = 1
  const entries = indexOf(active).byVessel.get(vesselId)?.entries ?? []
  for (let i = entries.length - 1; i >= 0 && entryMs(entries[i]!) >= sinceMs; i--) {
    const entry = entries[i]!
    if (entry.kind === 'change' && entryMs(entry) <= nowMs) left *= 1 - Math.min(1, changedShare(entry, litres))
  }
  return 1 - left >= ENOUGH * fraction ? 1 - left : null
}

/** What is held in a vessel, and at what it was last read: new water goes in at the same. Null where nothing is held. */
export function madeUpOf(
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  nowMs: number,
): { readonly productId: string; readonly replacementMgPerL: number } | null {
  for (const { body } of record.courses.values()) {
    if (body.vesselId !== vesselId || body.endedAt !== undefined || instantMs(body.startedAt) > nowMs) continue
    for (const productId of Object.values(body.products)) {
      const form = agentForm(record.products.get(productId)?.body.form ?? '')
      if (!form?.heldAtLevel) continue
      const read = (indexOf(active).byVessel.get(vesselId)?.entries ?? []).findLast(
        (entry) =>
          entry.kind === 'reading' &&
          entry.analyte === form.agent &&
          entryMs(entry) <= nowMs &&
          nowMs - entryMs(entry) < MADE_UP_DAYS * DAY,
      )
      if (read?.kind === 'reading' && read.value >= form.band.min / 2)
        return { productId, replacementMgPerL: Number(read.value.toPrecision(3)) }
    }
  }
  return null
}
/** A reading older than this says nothing of what the new water is to hold. */
const MADE_UP_DAYS = 4

/** The watch on a vessel's ammonia; null where nothing asks for it or no animal lives there. Pure. */
export function ammoniaWatchOf(
  record: KeeperRecord,
  active: ActiveLedger,
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
  const owned = methodsOwned(record, active, nowMs)
  const open = reasons.some(({ untilMs }) => untilMs === null)
  return {
    vesselId,
    reasons,
    everyDays,
    untilMs: open ? null : Math.max(...reasons.map(({ untilMs }) => untilMs!)),
    asked: owned,
    missing: owned.filter((method) => !seen.has(method)),
    days,
  }
}

export interface AmmoniaAct {
  readonly band: AmmoniaBand
  readonly title: string
  readonly acts: readonly string[]
  /** Share of the water that the first of them changes. */
  readonly fraction?: number
}

/**
 * What the worse reading asks for. No binder while instruments disagree or where any copper is in the water.
 * @source handbook 30 §1.5 nh3-calm to nh3-now, amm-worst, amm-binder-copper
 */
export function ammoniaAct(
  record: KeeperRecord,
  active: ActiveLedger,
  comparison: Sitting,
  vesselId: string,
  nowMs: number,
): AmmoniaAct {
  const band = ammoniaBand(comparison.rules ?? 0)
  const copper = holdsCopper({ record, active }, vesselId, nowMs)
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
        fraction: 0.3,
        acts: ['Change 30 to 50 % today, matched.', ...matched, 'Halve the food.', 'Read both again in 12 hours.'],
      }
    case 'today':
      return {
        band,
        title: 'Change half within two hours',
        fraction: 0.5,
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
        fraction: 0.75,
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
export function ammoniaConcerns(record: KeeperRecord, active: ActiveLedger, nowMs: number): Concern[] {
  const found: Concern[] = []
  for (const vessel of record.vessels.values()) {
    if (vessel.body.archivedAt !== undefined || residentsIn(record, active, vessel.id, nowMs).length === 0) continue
    for (const comparison of comparisonsOf(record, active, vessel.id, nowMs, 1)) {
      const { quantity, readings, rules, verdict, unit } = comparison
      const said = readings.map(({ name, value }) => `${name} ${shown(value)}`).join(', ')
      const about = { vesselId: vessel.id, action: 'see-vessel' as const }
      if (quantity === 'ammonia') {
        const act = ammoniaAct(record, active, comparison, vessel.id, nowMs)
        if (act.band !== 'calm') {
          const done = changedEnough(record, active, vessel.id, act, comparison.newestMs, nowMs)
          const made = madeUpOf(record, active, vessel.id, nowMs)
          found.push(
            done !== null
              ? // What it asked for was done: the reading is of the water before, and only a new one says what is now.
                {
                  vesselId: vessel.id,
                  action: 'test',
                  analytes: ['ammonia-total'],
                  id: `ammonia-${vessel.id}`,
                  title: `Ammonia in ${vessel.body.name}: ${Math.round(100 * done)} % was changed, read it again.`,
                  detail: `${shown(rules ?? 0)} mg/L free, as N, before the change. An hour after it the water says what is left.`,
                  tone: 'caution',
                }
              : {
                  ...about,
                  ...(act.fraction === undefined ? {} : { change: { fraction: act.fraction, ...made } }),
                  id: `ammonia-${vessel.id}`,
                  title: `Ammonia in ${vessel.body.name}: ${act.title.toLowerCase()}.`,
                  detail: `${shown(rules ?? 0)} mg/L free, as N (${said}). ${act.acts[0] ?? ''}${made ? ` New water made up to ${Number(made.replacementMgPerL.toPrecision(3))} mg/L, or the level falls with the ammonia.` : ''}`,
                  tone: act.band === 'watch' ? 'caution' : 'danger',
                },
          )
        }
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
