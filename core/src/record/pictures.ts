// Pictures add up: which of a long series may go, so that its first, its newest and one a week remain.
import { entryMs } from '../time/time.ts'
import type { Entry, PhotoEntry } from './types.ts'

const WEEK = 7 * 86_400_000
/** Pictures younger than this stay whatever they show, weeks. EST */
const STAY_WEEKS = 4

/** What a picture is one of a series of: its subject, and the words before the first colon of its note. */
const seriesOf = (entry: PhotoEntry): string =>
  [entry.vesselId, entry.residentId, entry.arrivalId, entry.containerId, (entry.note ?? '').split(':')[0]]
    .map((part) => part ?? '')
    .join('|')

/** Pictures that may go: of each series the first, the newest, one a week and all of the last four weeks stay. */
export function picturesToThin(photos: readonly PhotoEntry[], nowMs: number): readonly PhotoEntry[] {
  const series = new Map<string, PhotoEntry[]>()
  for (const entry of photos) {
    const list = series.get(seriesOf(entry))
    if (list) list.push(entry)
    else series.set(seriesOf(entry), [entry])
  }
  return [...series.values()].flatMap((list) => {
    const sorted = [...list].sort((a, b) => entryMs(a) - entryMs(b))
    let keptMs = -Infinity
    return sorted.filter((entry, i) => {
      const ms = entryMs(entry)
      // What carries the marks of a patch stays: by them the next picture is measured.
      if ((entry.patch?.samples ?? []).length > 0) return false
      const stays = i === 0 || i === sorted.length - 1 || nowMs - ms < STAY_WEEKS * WEEK || ms - keptMs >= WEEK
      if (stays) keptMs = ms
      return !stays
    })
  })
}

const DAY = 86_400_000
/** When a sortable id was minted, ms; null where it says nothing of it. */
function mintedMs(id: string): number | null {
  const head = /^([0-9a-f]{8})-([0-9a-f]{4})-7/.exec(id)
  return head ? Number.parseInt(head[1]! + head[2]!, 16) : null
}
/**
 * Pictures that no entry shows and none will: left over from a writing that was cut off or a record that was emptied. One
 * that was taken within a day may still be waiting for its entry; one whose id says no time is left alone.
 */
export function orphansOf(ids: readonly string[], entries: readonly Entry[], nowMs: number): readonly string[] {
  const shown = new Set(entries.flatMap((entry) => (entry.kind === 'photo' ? [entry.photoId] : [])))
  return ids.filter((id) => {
    const minted = mintedMs(id)
    return !shown.has(id) && minted !== null && nowMs - minted > DAY
  })
}
