// A day's watching of fish: minutes, looks of the day and how many of them at least. Apart from the signs, which are
// many: the first view needs this and not those. @source handbook 30 §2.1
import { watch as TABLES } from '../generated/knowledge/watch.ts'
import type { VesselBody } from '../record/types.ts'

export const watchOfDay = TABLES[0]!
export type LookOfDay = (typeof watchOfDay)['looks'][number]

/** Looks of the day that were not taken, those of this hour first: at eleven at night the torch, not midday. */
export function looksLeft(taken: readonly string[], hour: number): LookOfDay[] {
  const fits = ({ fromHour, toHour }: LookOfDay) => [hour, hour + 24].some((at) => at >= fromHour && at < toHour)
  return watchOfDay.looks.filter(({ id }) => !taken.includes(id)).sort((a, b) => Number(fits(b)) - Number(fits(a)))
}

/** What a coral is looked over for on a walk, each on its scale of levels. */
export const walkAspects = watchOfDay.walk

/** Where a vessel of this purpose stands on the walk round the house: lower is earlier. @source handbook 30 cc-order */
export const walkRank = (purpose: VesselBody['purpose']): number => watchOfDay.vesselOrder.indexOf(purpose)
