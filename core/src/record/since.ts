// What became of a course's animals since it began, held against as many days before: signs, appetite, breathing, hands.
import { limitOf } from '../knowledge/limits.ts'
import { entryMs, instantMs } from '../time/time.ts'
import { isLook } from './observation.ts'
import type { ActiveLedger, CourseDocument, KeeperRecord } from './types.ts'

const DAY = 86_400_000
/** Days on either side at most. */
const WINDOW_DAYS = limitOf('since-window')

export interface SinceRow {
  readonly id: 'signs' | 'appetite' | 'breathing' | 'hands'
  readonly label: string
  readonly unit: string
  /** Null: nothing was noted in those days, which says nothing. */
  readonly before: number | null
  readonly after: number | null
  readonly better: 'less' | 'more'
  /** Which way it went; null where one side is silent. */
  readonly went: 'better' | 'worse' | 'as-before' | null
}

/**
 * Before and after the start of a course, over equally many days (at most fourteen): signs noted a day, share of offered
 * meals that were taken, gill beats a minute, catches, baths and doses a day. Pure.
 */
export function sinceThen(
  record: KeeperRecord,
  active: ActiveLedger,
  course: CourseDocument,
  nowMs: number,
): { days: number; rows: SinceRow[] } {
  const startMs = instantMs(course.body.startedAt)
  const days = Math.min(WINDOW_DAYS, Math.floor((nowMs - startMs) / DAY))
  if (days < 1) return { days: 0, rows: [] }
  const animals = new Set(course.body.residents)
  const { vesselId } = course.body
  // The last days of the course are what it came to.
  const sides = { before: [startMs - days * DAY, startMs], after: [nowMs - days * DAY, nowMs] } as const
  const of = (side: keyof typeof sides) => {
    const [from, to] = sides[side]
    let looks = 0
    let signs = 0
    let offered = 0
    let taken = 0
    let beats = 0
    let counts = 0
    let hands = 0
    for (const entry of active) {
      const ms = entryMs(entry)
      if (ms < from || ms >= to) continue
      const theirs =
        'residentId' in entry && entry.residentId !== undefined
          ? animals.has(entry.residentId)
          : 'vesselId' in entry && entry.vesselId === vesselId
      if (!theirs) continue
      if (isLook(record, entry)) looks++
      if (entry.kind === 'sign' && entry.present) signs++
      if (entry.kind === 'meal') {
        offered++
        if (entry.took === 'took') taken++
      }
      if (entry.kind === 'count' && entry.what === 'gill-beats') {
        counts++
        beats += entry.count
      }
      if (entry.kind === 'dose' || entry.kind === 'move' || (entry.kind === 'bath' && entry.act === 'start')) hands++
    }
    const noted = looks + offered + counts + hands > 0
    return {
      signs: looks === 0 ? null : signs / days,
      appetite: offered === 0 ? null : (100 * taken) / offered,
      breathing: counts === 0 ? null : beats / counts,
      hands: noted ? hands / days : null,
    }
  }
  const before = of('before')
  const after = of('after')
  const row = (
    id: SinceRow['id'],
    label: string,
    unit: string,
    better: SinceRow['better'],
    least: number,
  ): SinceRow => {
    const [a, b] = [before[id], after[id]]
    const gain = a === null || b === null ? null : better === 'less' ? a - b : b - a
    return {
      id,
      label,
      unit,
      before: a,
      after: b,
      better,
      went: gain === null ? null : gain >= least ? 'better' : gain <= -least ? 'worse' : 'as-before',
    }
  }
  return {
    days,
    rows: [
      row('signs', 'Signs noted', 'a day', 'less', limitOf('since-signs')),
      row('appetite', 'Meals taken', '% of those offered', 'more', limitOf('since-meals')),
      row('breathing', 'Gill beats', 'a minute', 'less', limitOf('since-beats')),
      row('hands', 'Doses, catches and baths', 'a day', 'less', limitOf('since-signs')),
    ],
  }
}
