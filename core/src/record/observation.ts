// What the record says of one resident's days: rounds watched, signs open, breathing against its own baseline.
import { besidesReadings, entriesSince } from './ledgerIndex.ts'
import { groupOf } from '../knowledge/agents.ts'
import { watchOfDay } from '../knowledge/watch.ts'
import { median } from '../trends/theilSen.ts'
import { addDays, atHourOfDay, dayOf, entryMs } from '../time/time.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import type {
  ActiveLedger,
  CountEntry,
  DoneEntry,
  Entry,
  KeeperRecord,
  ReadingEntry,
  ResidentDocument,
  SignEntry,
} from './types.ts'

/** Days without alarm that make a baseline. @source handbook 30 §2.2 */
const BASELINE_DAYS = 3

export interface BreathingState {
  /** Beats a minute, newest last. */
  readonly counts: readonly { readonly ms: number; readonly perMinute: number }[]
  readonly normal: { readonly low: number; readonly high: number; readonly alarm: number } | null
  /** Median of the first healthy days, where there are three. */
  readonly baseline: number | null
  /** What the baseline is multiplied with for the warmth of today; 1 where temperatures are missing. */
  readonly warmth: number
  /** Above the group's alarm, or above one and a half of its own baseline, in the last two counts. */
  readonly alarm: boolean
}

/**
 * Breathing of a resident by its gill-beat counts. Its own baseline is scaled by 2^(ΔT/10) to the warmth of today, where
 * temperatures of the days of the baseline and of the last day were read. @source handbook 30 §2.2
 */
export function breathingOf(active: ActiveLedger, resident: ResidentDocument, zone: string): BreathingState {
  const breathing = groupOf(resident.body.group)?.breathing ?? null
  const counts = active
    .filter(
      (entry): entry is CountEntry =>
        entry.kind === 'count' && entry.what === 'gill-beats' && entry.residentId === resident.id,
    )
    .map((entry) => ({ ms: entryMs(entry), perMinute: entry.count }))
  const calm = counts.filter(({ perMinute }) => !breathing || perMinute < breathing.alarm)
  const days = new Set<string>()
  const first: number[] = []
  for (const { ms, perMinute } of calm) {
    const day = dayOf(ms, zone)
    if (!days.has(day) && days.size === BASELINE_DAYS) break
    days.add(day)
    first.push(perMinute)
  }
  const baseline = days.size >= BASELINE_DAYS ? median(first) : null
  const warmth = baseline === null ? 1 : warmthOf(active, counts, days, zone)
  const high = ({ perMinute }: { perMinute: number }) =>
    (breathing !== null && perMinute > breathing.alarm) || (baseline !== null && perMinute > 1.5 * baseline * warmth)
  const last = counts.slice(-2)
  return {
    counts,
    normal: breathing ? { low: breathing.low, high: breathing.high, alarm: breathing.alarm } : null,
    baseline,
    warmth,
    alarm: last.length === 2 && last.every(high),
  }
}

const DAY_MS = 86_400_000
/** How much faster a fish breathes for the warmth of today against that of its baseline's days. */
function warmthOf(
  active: ActiveLedger,
  counts: readonly { readonly ms: number }[],
  baselineDays: ReadonlySet<string>,
  zone: string,
): number {
  const last = counts.at(-1)
  if (!last) return 1
  const vessels = new Set(
    besidesReadings(active).flatMap((entry) =>
      entry.kind === 'count' && entry.what === 'gill-beats' && counts.some(({ ms }) => ms === entryMs(entry))
        ? [entry.vesselId]
        : [],
    ),
  )
  const readings = active.filter(
    (entry): entry is ReadingEntry =>
      entry.kind === 'reading' && entry.analyte === 'temperature' && vessels.has(entry.vesselId),
  )
  const then = readings.filter((entry) => baselineDays.has(dayOf(entryMs(entry), zone))).map(({ value }) => value)
  const now = readings.findLast((entry) => entryMs(entry) <= last.ms && last.ms - entryMs(entry) <= DAY_MS)
  return then.length === 0 || !now ? 1 : 2 ** ((now.value - median(then)) / 10)
}

/** The look of a day that was watched but not noted look by look. */
export const WHOLE_DAY = 'day'

/** One day of watching a vessel. */
export interface WatchDay {
  /** yyyy-mm-dd in the keeper's zone. */
  readonly day: string
  readonly minutes: number
  /** Looks of the day that were taken, by id, each once. */
  readonly looks: readonly string[]
  /** Enough minutes over enough looks, or noted as a whole. */
  readonly complete: boolean
}

/**
 * Every day of watching a vessel, or the tubs of one rota, from one instant to another, the day of each included. `whole` says which entries note
 * a day's watching without its looks. A day counts as complete with the minutes and looks of the sign table.
 * @source handbook 30 §2.1: fewer than 30 min in three sessions is an incomplete day
 */
export function watchDays(
  active: ActiveLedger,
  vesselIds: readonly string[],
  zone: string,
  span: { readonly fromMs: number; readonly toMs: number },
  whole: (entry: DoneEntry) => boolean,
): WatchDay[] {
  const days = new Map<string, { minutes: number; looks: Set<string>; whole: boolean }>()
  const last = dayOf(span.toMs, zone)
  for (let day = dayOf(span.fromMs, zone); day <= last; day = addDays(day, 1))
    days.set(day, { minutes: 0, looks: new Set(), whole: false })
  let found: { minutes: number; looks: Set<string>; whole: boolean } | undefined
  let fromMs = Infinity
  let toMs = -Infinity
  for (const entry of entriesSince(besidesReadings(active), span.fromMs - DAY_MS)) {
    if (entry.kind !== 'done' || !vesselIds.includes(entry.vesselId)) continue
    const ms = entryMs(entry)
    if (ms < span.fromMs - DAY_MS || ms > span.toMs) continue
    const asWhole = entry.watched === undefined && whole(entry)
    if (!entry.watched && !asWhole) continue
    // Entries come in order: a day is looked up once, not once an entry.
    if (ms < fromMs || ms >= toMs) {
      const name = dayOf(ms, zone)
      found = days.get(name)
      fromMs = atHourOfDay(name, 0, zone)
      toMs = atHourOfDay(addDays(name, 1), 0, zone)
    }
    const day = found
    if (!day) continue
    if (entry.watched) {
      day.minutes += entry.watched.minutes
      if (entry.watched.look !== WHOLE_DAY) day.looks.add(entry.watched.look)
      else if (entry.watched.minutes >= watchOfDay.minutes) day.whole = true
    } else day.whole = true
  }
  return [...days].map(([day, { minutes, looks, whole: asWhole }]) => ({
    day,
    minutes,
    looks: [...looks],
    complete: asWhole || (minutes >= watchOfDay.minutes && looks.size >= watchOfDay.least),
  }))
}

/** Signs of a resident that stand: seen and not since looked for in vain. */
export function openSigns(active: ActiveLedger, residentId: string): SignEntry[] {
  const last = new Map<string, SignEntry>()
  for (const entry of besidesReadings(active))
    if (entry.kind === 'sign' && entry.residentId === residentId) last.set(entry.sign, entry)
  return [...last.values()].filter(({ present }) => present)
}

/** What was noted of one resident on one day. */
export interface ResidentDay {
  readonly day: string
  /** Gill beats a minute, the day's highest; null where nobody counted. */
  readonly beats: number | null
  /** Polyps out, 0 shut to 4 full, the day's last. */
  readonly extension: number | null
  readonly signs: readonly string[]
  readonly gone: readonly string[]
  readonly meals: readonly ('took' | 'tried' | 'ignored')[]
  /** Times it was moved. */
  readonly moved: number
}

/** Days of one resident from one instant to another, those without a note included. */
export function residentDays(
  active: ActiveLedger,
  residentId: string,
  zone: string,
  span: { readonly fromMs: number; readonly toMs: number },
): ResidentDay[] {
  type Open = { -readonly [K in keyof ResidentDay]: ResidentDay[K] extends readonly (infer T)[] ? T[] : ResidentDay[K] }
  const days = new Map<string, Open>()
  const last = dayOf(span.toMs, zone)
  for (let day = dayOf(span.fromMs, zone); day <= last; day = addDays(day, 1))
    days.set(day, { day, beats: null, extension: null, signs: [], gone: [], meals: [], moved: 0 })
  for (const entry of besidesReadings(active)) {
    if (!('residentId' in entry) || entry.residentId !== residentId) continue
    const ms = entryMs(entry)
    if (ms > span.toMs) break
    const day = days.get(dayOf(ms, zone))
    if (!day) continue
    if (entry.kind === 'count' && entry.what === 'gill-beats') day.beats = Math.max(day.beats ?? 0, entry.count)
    else if (extensionIn(entry) !== null) day.extension = extensionIn(entry)
    else if (entry.kind === 'sign') (entry.present ? day.signs : day.gone).push(entry.sign)
    else if (entry.kind === 'meal') day.meals.push(entry.took)
    else if (entry.kind === 'move') day.moved++
  }
  return [...days.values()]
}

/** How far the polyps were out by an entry, of a round or of a walk; null where it does not say. */
export const extensionIn = (entry: Entry): number | null =>
  entry.kind === 'count' && entry.what === EXTENSION
    ? entry.count
    : entry.kind === 'state'
      ? (entry.aspects['extension'] ?? null)
      : null
/** Count of how far a coral's polyps are out: 0 shut, 1 tips, 2 half, 3 most, 4 full. */
export const EXTENSION = 'polyp-extension'

/**
 * Whether an entry says that somebody looked at animals: a sign noted or denied, a watch, or the watching a course asks
 * for. A tick for carbon or a dose is no look.
 */
export function isLook(record: KeeperRecord, entry: Entry): boolean {
  if (entry.kind === 'sign') return true
  if (entry.kind !== 'done') return false
  if (entry.watched !== undefined) return true
  const [courseId, ruleId] = entry.step?.split('/') ?? []
  const course = record.courses.get(courseId ?? '')
  if (!course) return false
  const { phases } = course.body.protocol as unknown as Protocol
  return phases.some(({ rules }) => rules.some(({ id, kind }) => id === ruleId && kind === 'observe'))
}
