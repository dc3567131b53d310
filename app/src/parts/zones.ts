// Where on a body, a colony or a tank a sign is looked for: the parts of the drawing, and what has no place on it.
import { signsFor, type Pool, type Sign } from '@brinvo/core'

export interface Zone {
  readonly id: string
  readonly label: string
  /** Place on the drawing, percent from left and top; left out for what is not on the body. */
  readonly at?: readonly [number, number]
}
type Body = 'fish' | 'coral' | 'animal' | 'creature' | 'surface'

export const bodyOf = (pool: Pool): Body =>
  pool.startsWith('fish')
    ? 'fish'
    : pool === 'coral'
      ? 'coral'
      : pool === 'invertebrate'
        ? 'animal'
        : pool.startsWith('pest')
          ? 'creature'
          : 'surface'

const ZONES: Readonly<Record<Body, readonly Zone[]>> = {
  fish: [
    { id: 'eyes', label: 'Eyes', at: [24, 22] },
    { id: 'mouth', label: 'Mouth, eating', at: [9, 60] },
    { id: 'gills', label: 'Gills, breathing', at: [33, 82] },
    { id: 'skin', label: 'Skin, body', at: [54, 42] },
    { id: 'fins', label: 'Fins', at: [86, 22] },
    { id: 'vent', label: 'Belly, droppings', at: [64, 82] },
    { id: 'behaviour', label: 'How it behaves' },
    { id: 'time', label: 'When, how many' },
    { id: 'history', label: 'What went before' },
  ],
  coral: [
    { id: 'colour', label: 'Colour', at: [20, 24] },
    { id: 'polyps', label: 'Polyps, mouths', at: [74, 16] },
    { id: 'loss', label: 'Flesh lost', at: [28, 78] },
    { id: 'growth', label: 'Slime, films, creatures', at: [76, 60] },
    { id: 'time', label: 'How fast, how many' },
    { id: 'history', label: 'What went before' },
  ],
  animal: [
    { id: 'body', label: 'The animal', at: [50, 50] },
    { id: 'time', label: 'How many' },
    { id: 'history', label: 'What went before' },
  ],
  creature: [
    { id: 'where', label: 'Where it sits', at: [22, 80] },
    { id: 'creature', label: 'What it looks like', at: [62, 36] },
    { id: 'marks', label: 'Eggs, bites, marks', at: [76, 76] },
    { id: 'history', label: 'What went before' },
  ],
  surface: [
    { id: 'colour', label: 'Colour', at: [24, 22] },
    { id: 'texture', label: 'What it is like', at: [70, 34] },
    { id: 'place', label: 'Where it grows', at: [24, 78] },
    { id: 'touch', label: 'Touch, smell, tests', at: [76, 80] },
    { id: 'time', label: 'By day and night' },
    { id: 'slide', label: 'Under the microscope' },
    { id: 'history', label: 'What went before' },
  ],
}
export const zonesOf = (pool: Pool, groupId: string | null = null): readonly Zone[] => {
  const used = new Set(signsFor(pool, groupId).map((sign) => zoneOf(pool, sign)))
  return ZONES[bodyOf(pool)].filter(({ id }) => used.has(id))
}

const MARKS = /egg|bites|flesh|shut|dulled|mucus|dead|noise/
/** The zone of a sign. */
export function zoneOf(pool: Pool, sign: Sign): string {
  if (sign.kind === 'history') return 'history'
  switch (bodyOf(pool)) {
    case 'fish':
      if (sign.kind === 'timing') return 'time'
      if (/mouth/.test(sign.place) && sign.place !== 'fins, mouth') return 'mouth'
      if (/gills/.test(sign.place)) return 'gills'
      if (/eyes/.test(sign.place)) return 'eyes'
      if (/belly|vent/.test(sign.place)) return 'vent'
      if (sign.kind === 'behavioural') return 'behaviour'
      if (/^fins/.test(sign.place)) return 'fins'
      return 'skin'
    case 'coral':
      if (sign.kind === 'timing' || /several|one-colony|new-arrival/.test(sign.id)) return 'time'
      if (/colour|bleach|pale-light|pastel|tips-burnt/.test(sign.id)) return 'colour'
      if (/polyp|mouth|filament|sweeper|head-hollow|zoanthid/.test(sign.id)) return 'polyps'
      if (/recession|skeleton|tissue|septa|one-side/.test(sign.id)) return 'loss'
      return 'growth'
    case 'animal':
      return sign.kind === 'timing' || /several/.test(sign.id) ? 'time' : 'body'
    case 'creature':
      return sign.id.startsWith('host-') ||
        sign.id === 'on-underside' ||
        sign.id === 'night-only' ||
        sign.id === 'in-dip-tub'
        ? 'where'
        : MARKS.test(sign.id)
          ? 'marks'
          : 'creature'
    case 'surface':
      if (sign.kind === 'slide') return 'slide'
      if (sign.kind === 'timing') return 'time'
      if (/^col-|^water-/.test(sign.id)) return 'colour'
      if (/^tex-|^bubbles/.test(sign.id)) return 'texture'
      if (/^place-/.test(sign.id)) return 'place'
      return 'touch'
  }
}

/** How a look is taken, for the words under a sign. */
export const LOOKS: Readonly<Record<Sign['look'], string>> = {
  EYE: 'by eye, from the side',
  TOP: 'from above',
  TORCH: 'torch held low, in a dark room',
  PHOTO: 'two photographs, some hours apart',
  DIP: 'in the bowl after a dip',
  FEED: 'at feeding',
  DIST: 'from 1.5 m away, quietly',
  TEST: 'by a test',
  LOG: 'from memory or the record',
  TOUCH: 'with a gloved finger or a puff of water',
  NIGHT: 'after dark, with a red light',
  SLIDE: 'under the microscope',
}
