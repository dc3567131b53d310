// Places that are measured in their pictures, by name: where they were marked first, their pictures and what was measured.
import { entryMs } from '../time/time.ts'
import type { ActiveLedger, Entry, PhotoEntry } from './types.ts'

type TallyEntry = Extract<Entry, { kind: 'tally' }>
export type PatchArm = NonNullable<NonNullable<PhotoEntry['patch']>['arm']>

/** Measures under which a patch stands on the ledger: read off its picture, and estimated by eye without its name. */
export const PATCH_COVER = 'patch-cover'
export const PATCH_BY_EYE = 'patch-by-eye'
/** Field of a measure that holds what it may be off by, in the unit of the others: the half of an interval of eight in ten. */
export const OFF_FIELD = 'off'

export interface MeasuredPoint {
  readonly atMs: number
  /** Per cent grown over: what is not clean ground. */
  readonly value: number
  readonly off: number | null
  readonly entry: TallyEntry
}
export interface MarkedPatch {
  readonly name: string
  readonly arm: PatchArm | null
  /** The picture in which it was marked and what lies where was said: the newest such. */
  readonly first: PhotoEntry
  /** Its pictures in order of time. */
  readonly pictures: readonly PhotoEntry[]
  readonly points: readonly MeasuredPoint[]
  readonly byEye: readonly MeasuredPoint[]
}

/** What was measured of a patch, in order of time: what is not clean ground, per cent. */
function pointsOf(active: ActiveLedger, vesselId: string, measure: string, name: string): MeasuredPoint[] {
  return active.flatMap((entry): MeasuredPoint[] => {
    if (entry.kind !== 'tally' || entry.vesselId !== vesselId) return []
    if (entry.measure !== measure || entry.piece !== name) return []
    const { clean, points, [OFF_FIELD]: off } = entry.values
    const value = points ?? (clean === undefined ? undefined : 100 - clean)
    return value === undefined ? [] : [{ atMs: entryMs(entry), value, off: off ?? null, entry }]
  })
}

/** The patches of a vessel that were marked and kept, in order of their first pictures. */
export function markedPatches(active: ActiveLedger, vesselId: string): readonly MarkedPatch[] {
  const pictures = active.filter(
    (entry): entry is PhotoEntry => entry.kind === 'photo' && entry.vesselId === vesselId && entry.patch !== undefined,
  )
  const names = [...new Set(pictures.map(({ patch }) => patch!.name))]
  return names.flatMap((name): MarkedPatch[] => {
    const own = pictures.filter(({ patch }) => patch!.name === name)
    const first = own.findLast(({ patch }) => (patch!.samples ?? []).length > 0)
    return first === undefined
      ? []
      : [
          {
            name,
            arm: first.patch!.arm ?? null,
            first,
            pictures: own,
            points: pointsOf(active, vesselId, PATCH_COVER, name),
            byEye: pointsOf(active, vesselId, PATCH_BY_EYE, name),
          },
        ]
  })
}

export interface ArmCourse {
  readonly arm: PatchArm
  readonly patches: number
  /** Mean of the patches' first and last values, per cent grown over; what they moved by; null where none was measured twice. */
  readonly first: number | null
  readonly last: number | null
}
/** Arms beside each other: what their patches moved by between their first and last measure. */
export function armsOfPatches(
  patches: readonly MarkedPatch[],
  points: (patch: MarkedPatch) => readonly MeasuredPoint[] = (patch) => patch.points,
): readonly ArmCourse[] {
  const arms: readonly PatchArm[] = ['treated', 'other-way', 'untreated']
  const mean = (values: readonly number[]) =>
    values.length === 0 ? null : values.reduce((sum, one) => sum + one, 0) / values.length
  return arms.flatMap((arm) => {
    const own = patches.filter((patch) => patch.arm === arm)
    if (own.length === 0) return []
    const twice = own.map(points).filter((list) => list.length >= 2)
    return [
      {
        arm,
        patches: own.length,
        first: mean(twice.map((list) => list[0]!.value)),
        last: mean(twice.map((list) => list.at(-1)!.value)),
      },
    ]
  })
}

/** Measures by marks on a picture of an animal, or of a vessel where none is named. */
export const MARK_MEASURES = {
  line: { id: 'marked-bare', field: 'bare', title: 'Bare skeleton along its line', unit: '%' },
  length: { id: 'marked-length', field: 'mm', title: 'Length against a scale', unit: 'mm' },
  spots: { id: 'marked-spots', field: 'spots', title: 'Spots counted', unit: 'spots' },
} as const
export type MarkTool = keyof typeof MARK_MEASURES

/** What was measured by marks of one animal, wherever it lived, in order of time; of a vessel where no animal is given. */
export function markedPoints(
  active: ActiveLedger,
  tool: MarkTool,
  of: { readonly residentId: string; readonly name: string } | { readonly vesselId: string; readonly name: string },
): readonly MeasuredPoint[] {
  const { id, field } = MARK_MEASURES[tool]
  return active.flatMap((entry): MeasuredPoint[] => {
    if (entry.kind !== 'tally' || entry.measure !== id) return []
    const own =
      'residentId' in of
        ? entry.residentId === of.residentId || (entry.residentId === undefined && entry.piece === of.name)
        : entry.residentId === undefined && entry.vesselId === of.vesselId && entry.piece === of.name
    const value = entry.values[field]
    return own && value !== undefined
      ? [{ atMs: entryMs(entry), value, off: entry.values[OFF_FIELD] ?? null, entry }]
      : []
  })
}
