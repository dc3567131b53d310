// What the record says of one resident's days: rounds watched, signs open, breathing against its own baseline.
import { groupOf } from '../knowledge/agents.ts'
import { median } from '../trends/theilSen.ts'
import { dayOf, entryMs } from '../time/time.ts'
import type { CountEntry, Entry, ResidentDocument, SignEntry } from './types.ts'

/** Days without alarm that make a baseline. @source handbook 30 §2.2 */
const BASELINE_DAYS = 3

export interface BreathingState {
  /** Beats a minute, newest last. */
  readonly counts: readonly { readonly ms: number; readonly perMinute: number }[]
  readonly normal: { readonly low: number; readonly high: number; readonly alarm: number } | null
  /** Median of the first healthy days, where there are three. */
  readonly baseline: number | null
  /** Above the group's alarm, or above one and a half of its own baseline, in the last two counts. */
  readonly alarm: boolean
}

/** Breathing of a resident by its gill-beat counts. `temperatureC` and `baselineC` scale the baseline. */
export function breathingOf(
  active: readonly Entry[],
  resident: ResidentDocument,
  zone: string,
  temperatures?: { readonly nowC: number; readonly baselineC: number },
): BreathingState {
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
  const warmth = temperatures ? 2 ** ((temperatures.nowC - temperatures.baselineC) / 10) : 1
  const high = ({ perMinute }: { perMinute: number }) =>
    (breathing !== null && perMinute > breathing.alarm) || (baseline !== null && perMinute > 1.5 * baseline * warmth)
  const last = counts.slice(-2)
  return {
    counts,
    normal: breathing ? { low: breathing.low, high: breathing.high, alarm: breathing.alarm } : null,
    baseline,
    alarm: last.length === 2 && last.every(high),
  }
}

/** Signs of a resident that stand: seen and not since looked for in vain. */
export function openSigns(active: readonly Entry[], residentId: string): SignEntry[] {
  const last = new Map<string, SignEntry>()
  for (const entry of active) if (entry.kind === 'sign' && entry.residentId === residentId) last.set(entry.sign, entry)
  return [...last.values()].filter(({ present }) => present)
}
