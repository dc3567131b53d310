// A campaign's measures read off the ledger: one value a day, over all pieces, with the entries behind it.
import { limitOf } from '../knowledge/limits.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import type { Entry } from '../record/types.ts'
import { dayOf, entryMs } from '../time/time.ts'

export type Campaign = NonNullable<Protocol['campaign']>
export type Measure = Campaign['measures'][number]
export type TallyEntry = Extract<Entry, { kind: 'tally' }>

/** Measure under which what was added of a correction stands on the ledger: its rise and its grams. */
export const addedMeasure = (id: string): string => `add-${id}`

export interface MeasurePoint {
  readonly day: string
  readonly atMs: number
  readonly value: number
  readonly entries: readonly TallyEntry[]
}

/** A measure's value over the entries of one day: summed, averaged, a share in per cent, or a ratio. null: nothing to divide by. */
export function measureValue(measure: Measure, entries: readonly TallyEntry[]): number | null {
  const total = (fields: readonly string[]) =>
    entries.reduce((sum, { values }) => sum + fields.reduce((part, field) => part + (values[field] ?? 0), 0), 0)
  const { of, fields } = measure.value
  if (entries.length === 0) return null
  switch (of) {
    case 'sum':
      return total(fields)
    case 'mean':
      return total(fields) / entries.length
    case 'share': {
      const all = total(measure.fields.map(({ id }) => id))
      return all > 0 ? (100 * total(fields)) / all : null
    }
    case 'ratio': {
      const below = total(fields.slice(1))
      return below > 0 ? total(fields.slice(0, 1)) / below : null
    }
  }
}

/** A piece counted again after this is looked at anew; sooner, the first count is put right. EST */
const LOOK_AGAIN_MS = { jar: limitOf('look-again-jar') * 3_600_000, other: limitOf('look-again') * 3_600_000 } as const

/** Jar of worms that gets no dose. */
export const UNDOSED = 'undosed'
/** What was treated: the patch left alone and the undosed jar are the yardstick, never part of what was reached. */
export function withoutControl(measure: Measure, found: readonly TallyEntry[]): readonly TallyEntry[] {
  const control = measure.arms && measure.arms.length > 1 ? measure.arms.at(-1)!.id : undefined
  const treated = found.filter(({ piece, arm }) =>
    measure.per === 'jar' ? piece !== UNDOSED : control === undefined || arm !== control,
  )
  return treated.length > 0 ? treated : found
}

/**
 * Points of a measure in order, one for each look: a day of the keeper's, or part of one where the same piece is looked at
 * again hours later. A piece counted twice within that counts as last counted.
 */
export function measurePoints(measure: Measure, entries: readonly Entry[], zone: string, arm?: string): MeasurePoint[] {
  const looks = new Map<string, { day: string; pieces: Map<string, TallyEntry> }>()
  const looksOn = new Map<string, number>()
  for (const entry of entries) {
    if (entry.kind !== 'tally' || entry.measure !== measure.id) continue
    if (arm !== undefined && entry.arm !== arm) continue
    const day = dayOf(entryMs(entry), zone)
    const before = looks.get(`${day} ${looksOn.get(day) ?? 0}`)?.pieces.get(entry.piece ?? '')
    // The same piece again hours later is a look of its own: what the morning showed is not undone by the evening.
    if (before && entryMs(entry) - entryMs(before) >= LOOK_AGAIN_MS[measure.per === 'jar' ? 'jar' : 'other'])
      looksOn.set(day, (looksOn.get(day) ?? 0) + 1)
    const key = `${day} ${looksOn.get(day) ?? 0}`
    const look = looks.get(key) ?? { day, pieces: new Map<string, TallyEntry>() }
    look.pieces.set(entry.piece ?? '', entry)
    looks.set(key, look)
  }
  return [...looks.values()].flatMap(({ day, pieces }) => {
    const found = [...pieces.values()]
    const value = measureValue(measure, arm === undefined ? withoutControl(measure, found) : found)
    return value === null ? [] : [{ day, value, atMs: Math.max(...found.map(entryMs)), entries: found }]
  })
}

/** Whether a value lies inside a band; an open band holds everything. */
export const inBand = (value: number, band: Measure['done']): boolean =>
  band !== undefined &&
  (band.atLeast === undefined || value >= band.atLeast) &&
  (band.atMost === undefined || value <= band.atMost)

/**
 * The instant at which so many values in a row, so many days apart, fulfilled a test; null while they do not. Values
 * closer together than that count once.
 */
export function runOf(
  points: readonly MeasurePoint[],
  holds: (point: MeasurePoint) => boolean,
  times: number,
  spacedDays: number,
): number | null {
  let run = 0
  let lastMs = -Infinity
  for (const point of points) {
    if (!holds(point)) {
      run = 0
      lastMs = -Infinity
    } else if (point.atMs - lastMs >= spacedDays * 86_400_000 - 6 * 3_600_000) {
      run++
      lastMs = point.atMs
      if (run >= times) return point.atMs
    }
  }
  return null
}

/** Middle 80 % of a share that was counted: Wilson's interval, per cent. @source Wilson 1927 */
export function shareInterval(count: number, total: number): { readonly low: number; readonly high: number } {
  if (total === 0) return { low: 0, high: 100 }
  const z = 1.2816
  const p = count / total
  const scale = 1 + z ** 2 / total
  const middle = (p + z ** 2 / (2 * total)) / scale
  const half = (z / scale) * Math.sqrt((p * (1 - p)) / total + z ** 2 / (4 * total ** 2))
  return { low: 100 * Math.max(0, middle - half), high: 100 * Math.min(1, middle + half) }
}
