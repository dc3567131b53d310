// How far a ramp has come, from its doses and readings.
import { limitOf } from '../knowledge/limits.ts'
import type { RuleOf } from '../knowledge/protocols.ts'
import type { ReadingEntry } from '../record/types.ts'
import { entryMs } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { entriesBetween, isDoseOf, type CourseContext } from './courseContext.ts'

export interface RampProgress {
  readonly levels: readonly number[]
  /** Levels confirmed by a reading. */
  readonly confirmed: number
  readonly confirmedAtMs: readonly number[]
  /** Last dose of the ramp, and whether a reading came after it. */
  readonly lastDoseMs: number | null
  readonly lastReadingMs: number | null
  readonly awaitingReading: boolean
}

/** Levels of the ramp for the bottle at hand. */
export const rampLevelsOf = (context: CourseContext, role: string): readonly number[] =>
  context.variant.levels?.[context.forms[role] ?? ''] ?? []

/** A level counts as reached when the reading lies within the kit's own error of it. */
function reaches(reading: ReadingEntry, level: number, context: CourseContext): boolean {
  const kit =
    reading.instrumentId === undefined ? undefined : context.record.instruments.get(reading.instrumentId)?.body
  const step = kit?.step ?? 0
  const relative = kit?.relativeError ?? 0.05
  return reading.bound !== 'below' && reading.value >= level - Math.hypot(step / 2, relative * level)
}

/** So many times apart two readings of one water speak against each other. */
const APART = limitOf('dose-apart')
/** No drug of a ramp falls by so much in a day. */
const SOON_MS = 24 * MS_PER_HOUR

/** How far a ramp has come: each level needs a dose and then a reading that reaches it. */
export function rampProgress(context: CourseContext, rule: RuleOf<'ramp'>, sinceMs: number): RampProgress {
  const levels = rampLevelsOf(context, rule.role)
  const analyte = context.protocol.instrumentRoles.find(({ id }) => id === rule.confirmRole)?.analyte
  const confirmedAtMs: number[] = []
  let lastDoseMs: number | null = null
  let lastReadingMs: number | null = null
  let dosedSinceConfirm = false
  // By the order of the entries: a dose poured in the minute of a reading is not yet read.
  let awaitingReading = false
  // Levels confirmed before the last dose, and the highest reading since it.
  let before = 0
  let highest: { readonly value: number; readonly ms: number } | null = null
  for (const entry of entriesBetween(context, sinceMs, Infinity)) {
    const ms = entryMs(entry)
    if (isDoseOf(context, entry, rule.role)) {
      lastDoseMs = ms
      before = confirmedAtMs.length
      highest = null
      dosedSinceConfirm = true
      awaitingReading = true
    } else if (entry.kind === 'reading' && entry.analyte === analyte) {
      lastReadingMs = ms
      awaitingReading = false
      // A later reading that is far under the one before it takes back what that one confirmed: it was a slip.
      if (
        highest !== null &&
        ms - highest.ms <= SOON_MS &&
        entry.bound !== 'above' &&
        entry.value * APART < highest.value
      ) {
        confirmedAtMs.length = before
        dosedSinceConfirm = true
        highest = { value: entry.value, ms }
      } else if (entry.value >= (highest?.value ?? 0)) highest = { value: entry.value, ms }
      while (
        dosedSinceConfirm &&
        confirmedAtMs.length < levels.length &&
        reaches(entry, levels[confirmedAtMs.length]!, context)
      ) {
        confirmedAtMs.push(ms)
        // One reading confirms several levels only where it reaches them all.
        if (confirmedAtMs.length < levels.length && !reaches(entry, levels[confirmedAtMs.length]!, context))
          dosedSinceConfirm = false
      }
    }
  }
  return {
    levels,
    confirmed: confirmedAtMs.length,
    confirmedAtMs,
    lastDoseMs,
    lastReadingMs,
    awaitingReading,
  }
}
