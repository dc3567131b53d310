// The moves of a rota so far, and when their count began anew.
import type { RuleOf } from '../knowledge/protocols.ts'
import type { Entry } from '../record/types.ts'
import { entryMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import type { CourseContext } from './courseContext.ts'

export interface TransferMove {
  readonly entry: Entry
  /** False where it was left out: the stay went on. */
  readonly moved: boolean
  /** How long the stay before it lasted, h. */
  readonly stayedH: number
  /** The stay was too long: with this move the count begins anew. */
  readonly restarts: boolean
}

export interface TransferProgress {
  readonly moves: readonly TransferMove[]
  /** Moves in all, those before a count that began anew among them. */
  readonly needed: number
  /** When the count began anew last; null where it never did. */
  readonly begunMs: number | null
}

/**
 * Moves of a rota so far. A stay longer than the protocol allows is one in which cysts may have hatched: the move that
 * ends it is the first of a new count. @source handbook 30 §6.1 (never over 72 h: swimmers from day 3)
 */
export function transferProgress(rule: RuleOf<'transfer'>, context: CourseContext, phaseMs: number): TransferProgress {
  const moves: TransferMove[] = []
  let needed = rule.times
  let begunMs: number | null = null
  let stayMs = phaseMs
  for (let i = 0; i < needed; i++) {
    const key = `${context.course.id}/${rule.id}/${i}`
    const entry = context.byStep.get(key) ?? context.skips.get(key)
    if (!entry) break
    const ms = entryMs(entry)
    const moved = entry.kind !== 'skip'
    const stayedH = (ms - stayMs) / MS_PER_HOUR
    const restarts = moved && stayedH > (rule.restartsAfterHours ?? Infinity)
    if (restarts) {
      needed = i + 1 + rule.times
      begunMs = ms
    }
    moves.push({ entry, moved, stayedH, restarts })
    if (moved) stayMs = ms
  }
  return { moves, needed, begunMs }
}
