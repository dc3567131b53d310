// Patches of the demonstration, drawn when they are looked at: what is drawn is written here, and what was measured of it.
import { OFF_FIELD, PATCH_COVER } from '../record/markedPatches.ts'
import type { Writer } from './writer.ts'

/** How a drawn picture is made: the plan of its patch, and which of the two pictures of it is meant. */
export interface DrawnPicture {
  readonly plan: {
    readonly seed: number
    readonly width: number
    readonly height: number
    readonly cover: Readonly<Record<string, number>>
    readonly left: number
  }
  readonly which: 'first' | 'later'
}
interface Series {
  readonly id: string
  readonly name: string
  readonly arm?: 'treated' | 'untreated'
  readonly vesselId: string
  readonly seed: number
  readonly kind: 'film' | 'tufts'
  readonly cover: number
  /** Where the marks lie in the first picture, and its corners in the later ones. */
  readonly samples: readonly { readonly kind: string; readonly at: readonly (readonly [number, number])[] }[]
  readonly moved: readonly (readonly [number, number])[]
  /** Day, what is left of the growth in the drawing, and what was measured of it, per cent. */
  readonly days: readonly (readonly [day: number, left: number, measured: number, off: number])[]
}
const SIZE = { width: 640, height: 480 } as const
const CORNERS = [
  [90, 67],
  [550, 67],
  [550, 413],
  [90, 413],
] as const
const SERIES: readonly Series[] = [
  {
    id: 'sand',
    name: 'Sand by the overflow',
    vesselId: 'longshore',
    seed: 3114,
    kind: 'film',
    cover: 0.62,
    samples: [
      {
        kind: 'clean',
        at: [
          [432, 328],
          [369, 324],
          [504, 381],
        ],
      },
      {
        kind: 'film',
        at: [
          [381, 34],
          [262, 221],
          [575, 417],
        ],
      },
    ],
    moved: [
      [87, 85],
      [525, 81],
      [528, 411],
      [90, 414],
    ],
    days: [
      [-18, 1, 44.2, 3],
      [-11, 0.887, 36.1, 3],
      [-4, 0.66, 21.8, 3],
    ],
  },
  {
    id: 'wood-tip',
    name: 'Wood, tip',
    arm: 'treated',
    vesselId: 'fernwater',
    seed: 3121,
    kind: 'tufts',
    cover: 0.34,
    samples: [
      {
        kind: 'clean',
        at: [
          [123, 24],
          [427, 215],
          [462, 210],
        ],
      },
      {
        kind: 'tufts',
        at: [
          [315, 310],
          [348, 271],
          [342, 287],
        ],
      },
    ],
    moved: [
      [79, 58],
      [544, 43],
      [556, 393],
      [90, 408],
    ],
    days: [
      [-6, 1, 38, 3],
      [-3, 0.8, 32.6, 3],
      [-1, 0.42, 19.3, 3],
    ],
  },
  {
    id: 'wood-root',
    name: 'Wood, root',
    arm: 'untreated',
    vesselId: 'fernwater',
    seed: 3127,
    kind: 'tufts',
    cover: 0.31,
    samples: [
      {
        kind: 'clean',
        at: [
          [230, 173],
          [40, 194],
          [486, 206],
        ],
      },
      {
        kind: 'tufts',
        at: [
          [503, 86],
          [195, 131],
          [289, 129],
        ],
      },
    ],
    moved: [
      [106, 67],
      [576, 71],
      [572, 425],
      [102, 420],
    ],
    days: [
      [-6, 1, 38.3, 3],
      [-3, 1.03, 40.8, 3],
      [-1, 1.08, 43.1, 3],
    ],
  },
]
const idOf = (series: Series, i: number): string => `drawn-${series.id}-${i}`

/** Every drawn picture by the id under which it is looked for. */
export const DRAWN_PICTURES: ReadonlyMap<string, DrawnPicture> = new Map(
  SERIES.flatMap((series) =>
    series.days.map(
      ([, left], i) =>
        [
          idOf(series, i),
          {
            plan: { seed: series.seed, ...SIZE, cover: { [series.kind]: series.cover }, left },
            which: i === 0 ? 'first' : 'later',
          },
        ] as const,
    ),
  ),
)

export function demoPictures({ at, entry }: Writer): void {
  for (const series of SERIES) {
    const { name, arm, vesselId, kind, samples, moved } = series
    series.days.forEach(([day, , measured, off], i) => {
      const named = { name, ...(arm === undefined ? {} : { arm }) }
      const words = `${kind === 'film' ? 'brown film' : 'black-brown tufts'} ${Math.round(measured)} %`
      const ms = at(day, 17.4 + 0.05 * SERIES.indexOf(series))
      entry(ms, 'photo', {
        vesselId,
        photoId: idOf(series, i),
        mime: 'image/jpeg',
        ...SIZE,
        bytes: 60_000,
        patch: { ...named, corners: i === 0 ? CORNERS : moved, ...(i === 0 ? { samples } : {}) },
        note: `${name}: ${Math.round(measured)} % grown over`,
      })
      entry(ms, 'tally', {
        vesselId,
        measure: PATCH_COVER,
        piece: name,
        ...(arm === undefined ? {} : { arm }),
        values: { clean: Math.round(10 * (100 - measured)) / 10, [kind]: measured, [OFF_FIELD]: off },
        note: `bare ground ${Math.round(100 - measured)} %, ${words}`,
      })
    })
  }
}
