// Planned backwards: what must end on one day, the latest start of each with its watching, and what slips when one does.
import { MS_PER_HOUR } from '../units/quantity.ts'

const DAY = 24 * MS_PER_HOUR

/** Something that takes its days: one that runs already has its end, one that is still to begin has its length. */
export type TogetherItem =
  | { readonly id: string; readonly title: string; readonly endMs: number }
  | { readonly id: string; readonly title: string; readonly days: number }

export interface TogetherLine {
  readonly id: string
  readonly title: string
  readonly runs: boolean
  /** Days it takes with its watching; null for one that runs. */
  readonly days: number | null
  /** Latest start with which it is over on the common day; null for one that runs. */
  readonly latestMs: number | null
  /** Its own end: of one that runs, or begun now. */
  readonly endMs: number
  /** Days by which it holds the others up, begun now. */
  readonly lateDays: number
}
export interface Together {
  /** The day on which all of them can be over. */
  readonly endMs: number
  readonly wishedMs: number
  readonly lines: readonly TogetherLine[]
}

/**
 * When things can be over together.
 * @param wishedMs day that is wished; where none is, the latest end of what runs, else the longest of what begins now
 */
export function endTogether(items: readonly TogetherItem[], nowMs: number, wishedMs: number | null): Together {
  const ends = items.map((item) => ('endMs' in item ? item.endMs : nowMs + item.days * DAY))
  const running = items.flatMap((item) => ('endMs' in item ? [item.endMs] : []))
  const wished = wishedMs ?? (running.length > 0 ? Math.max(...running) : Math.max(nowMs, ...ends))
  const endMs = Math.max(wished, ...ends)
  return {
    endMs,
    wishedMs: wished,
    lines: items.map((item, i) => ({
      id: item.id,
      title: item.title,
      runs: 'endMs' in item,
      days: 'days' in item ? item.days : null,
      latestMs: 'days' in item ? endMs - item.days * DAY : null,
      endMs: ends[i]!,
      lateDays: Math.max(0, Math.ceil((ends[i]! - wished) / DAY - 1e-9)),
    })),
  }
}
