// A counted slide: what was found and what the keeper put right, as counts with doubt and as what a drawing would be chosen for.
import { CANNOT_TELL, type SlideClass } from '../diagnosis/slide.ts'
import { shareInterval } from '../outbreak/measures.ts'
import { middleOf, rank } from './frame.ts'
import { GENERA, type ObjectClass } from './genera.ts'
import type { SlideAnswer, SlideObject } from './slide.ts'

/** What an object is after all: a class, a genus of dinoflagellates, or nothing that counts. */
export type SlideName = ObjectClass | 'nothing' | (string & {})
export type SlideCorrections = Readonly<Record<number, SlideName>>

export interface ClassShare {
  readonly class: ObjectClass
  readonly count: number
  /** Share of all objects, 0 to 1, with the interval that holds in four of five slides. */
  readonly share: number
  readonly low: number
  readonly high: number
  /** Further objects until the interval is ten points to each side; 0 where it is. */
  readonly more: number
}
export interface SlideCount {
  readonly objects: readonly SlideObject[]
  readonly total: number
  readonly shares: readonly ClassShare[]
  readonly genera: Readonly<Record<string, number>>
  readonly moving: number
  readonly corrected: number
}

export const OBJECT_CLASSES: readonly ObjectClass[] = [
  'dinoflagellate',
  'diatom',
  'green',
  'cyanobacteria',
  'ciliate',
  'other',
]
const isClass = (name: string): name is ObjectClass => (OBJECT_CLASSES as readonly string[]).includes(name)

/** 80 % of a normal lie within this many of its scatters to each side. */
const Z = 1.2816
/** Ten points to each side: nearer a share need not be known to see which way it goes. EST */
const WANTED = 0.1

/** Objects until the interval of a share near p is ten points to each side. */
const neededFor = (p: number): number => Math.ceil((Z * Z * Math.max(0.04, p * (1 - p))) / (WANTED * WANTED))

export function slideCount(answer: Pick<SlideAnswer, 'objects'>, corrections: SlideCorrections = {}): SlideCount {
  const objects = answer.objects.flatMap((one, i): SlideObject[] => {
    const name = corrections[i]
    if (name === undefined) return [one]
    if (name === 'nothing') return []
    if (isClass(name)) return [{ ...one, class: name, genus: name, sure: 1 }]
    return [{ ...one, class: 'dinoflagellate', genus: name, sure: 1 }]
  })
  const total = objects.length
  const genera: Record<string, number> = {}
  for (const one of objects) if (one.class === 'dinoflagellate') genera[one.genus] = (genera[one.genus] ?? 0) + 1
  return {
    objects,
    total,
    shares: OBJECT_CLASSES.flatMap((name): ClassShare[] => {
      const count = objects.filter((one) => one.class === name).length
      const { low, high } = shareInterval(count, total)
      const share = count / Math.max(1, total)
      return count === 0
        ? []
        : [{ class: name, count, share, low: low / 100, high: high / 100, more: Math.max(0, neededFor(share) - total) }]
    }),
    genera,
    moving: objects.filter((one) => one.moving).length,
    corrected: Object.keys(corrections).length,
  }
}

/** A turn of the body, and of its way, from which on it is said to spin or to go in circles, radians a second. EST */
const SPINS = 1.2
const CIRCLES = 1.2
const sizeOf = (um: number): string =>
  um < 4 ? 'tiny' : um <= 20 ? 'small' : um < 22 ? CANNOT_TELL : um <= 50 ? 'middle' : um < 55 ? CANNOT_TELL : 'large'
const OUTLINES: Readonly<Record<string, string>> = {
  diatom: 'boat',
  green: 'green-dot',
  cyanobacterium: 'chain',
  cyanobacteria: 'chain',
  chrysophyte: 'gold-dot',
  'zooxanthella-like': 'round',
  'amphidinium-small': 'drop',
  'amphidinium-large': 'drop',
  ostreopsis: 'drop',
  coolia: 'round',
  prorocentrum: 'oval',
  'gambierdiscus-like': 'lens',
}
function motionWord(genus: string, group: readonly SlideObject[]): string {
  const movers = group.filter((one) => one.moving)
  if (2 * movers.length < group.length) return 'still'
  if (genus === 'diatom') return 'glides'
  if (genus.startsWith('cyano')) return 'creeps'
  const of = (pick: (one: SlideObject) => number) => rank(movers.map(pick), 0.7)
  if (genus === 'ostreopsis' && of((one) => one.turning) > SPINS) return 'spins'
  if (genus === 'coolia' && of((one) => one.circling) > CIRCLES) return 'tumbles'
  if (genus === 'prorocentrum' && middleOf(movers.map((one) => one.speedUmPerS)) < 110) return 'wobbles'
  return 'swims'
}

/** Under a twentieth is a passer-by, that says neither yes nor no. @source diagnosis/slide.ts */
const PASSERS_BY = 5
/** Less than this beside the most frequent kind: it lives in the film, the film is not it. As for leading genera. EST */
const MINOR = 0.85
/** Share in per cent; of a minor kind it is held under that of a passer-by: a thread or two make no mat. */
function shareFor(n: number, most: number, total: number): number {
  const share = Math.max(1, Math.round((100 * n) / Math.max(1, total)))
  return n < MINOR * most ? Math.min(share, PASSERS_BY - 1) : share
}

/** What the drawings of a slide would be chosen for: one kind for each genus found, by its outline, motion, length and share. */
export function slideClassesOf(count: SlideCount): readonly SlideClass[] {
  const groups = new Map<string, SlideObject[]>()
  for (const one of count.objects) {
    const list = groups.get(one.genus)
    if (list) list.push(one)
    else groups.set(one.genus, [one])
  }
  const most = Math.max(...[...groups.values()].map((group) => group.length))
  return [...groups].flatMap(([genus, group]): SlideClass[] => {
    const outline = OUTLINES[genus]
    if (outline === undefined) return []
    return [
      {
        outline,
        motion: motionWord(genus, group),
        size: sizeOf(middleOf(group.map((one) => one.lengthUm))),
        share: shareFor(group.length, most, count.total),
      },
    ]
  })
}

/** The leading genus after what was put right: by the same rule as before it, and null where none leads. */
export function leadingOf(answer: SlideAnswer, count: SlideCount): string | null {
  if (count.corrected === 0) return answer.leading
  const [first, second] = Object.entries(count.genera).sort((a, b) => b[1] - a[1])
  if (!first || (second && second[1] >= 0.85 * first[1])) return null
  // What only the keeper named is the keeper's word; what was found stands where it was told.
  return first[1] >= 2 ? first[0] : null
}
export const genusTitle = (id: string): string => GENERA.find((one) => one.id === id)?.title ?? id
