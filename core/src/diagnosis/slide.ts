// A drop under the microscope: what was chosen from the drawings, as signs.
import { signsOf, type Pool } from '../knowledge/conditions.ts'
import { slideTable } from '../knowledge/signs.ts'

/** One kind of thing on the slide, put together from the drawn choices. */
export interface SlideClass {
  readonly outline: string
  readonly motion: string
  readonly size: string
  /** Share of what lies in view, percent. */
  readonly share: number
}

/** Signs one kind of thing makes. */
const signsOfClass = ({ outline, motion, size }: SlideClass): string[] =>
  slideTable.classes.flatMap(({ sign, outlines, motions, sizes }) =>
    (outlines?.includes(outline) ?? true) && (motions?.includes(motion) ?? true) && (sizes?.includes(size) ?? true)
      ? [sign]
      : [],
  )

/** An aspect that nobody could tell. */
export const CANNOT_TELL = ''
const couldBe = (list: readonly string[] | undefined, value: string): boolean =>
  list === undefined || value === CANNOT_TELL || list.includes(value)
/** Signs that something of which an aspect could not be told might be: they are neither there nor denied. */
const possible = ({ outline, motion, size }: SlideClass): string[] =>
  slideTable.classes.flatMap(({ sign, outlines, motions, sizes }) =>
    couldBe(outlines, outline) && couldBe(motions, motion) && couldBe(sizes, size) ? [sign] : [],
  )
const isPartly = ({ outline, motion, size }: SlideClass): boolean => [outline, motion, size].includes(CANNOT_TELL)

/** Signs that something which makes none comes near to: its outline, or where a sign knows no outline, its motion. */
const near = ({ outline, motion }: SlideClass): string[] =>
  slideTable.classes.flatMap(({ sign, outlines, motions }) =>
    (outlines ? outlines.includes(outline) : (motions?.includes(motion) ?? false)) ? [sign] : [],
  )

/**
 * Signs of a slide: present, and, where everything in view was described, looked for and not there. Kinds under a
 * twentieth of the view are passers-by: they say neither yes nor no. What comes near to a sign without making it denies
 * nothing: a boat that lies on its side is not the proof that there are no boats. EST
 */
export function slideSigns(
  pool: Pool,
  classes: readonly SlideClass[],
  all: boolean,
): { readonly yes: readonly string[]; readonly no: readonly string[] } {
  const known = signsOf(pool)
    .filter(({ kind }) => kind === 'slide')
    .map(({ id }) => id)
  const yes = new Set(classes.filter(({ share }) => share >= 5).flatMap(signsOfClass))
  const doubtful = new Set([
    ...classes.filter(({ share }) => share < 5).flatMap(signsOfClass),
    ...classes.filter((one) => signsOfClass(one).length === 0).flatMap(near),
    ...classes.filter(isPartly).flatMap(possible),
  ])
  return {
    yes: known.filter((id) => yes.has(id)),
    no: all ? known.filter((id) => !yes.has(id) && !doubtful.has(id)) : [],
  }
}

/** Share of what moves, percent of everything in view of which it could be told. */
export function moverShare(all: readonly SlideClass[]): number {
  const classes = all.filter(({ motion }) => motion !== CANNOT_TELL)
  const total = classes.reduce((sum, { share }) => sum + share, 0)
  const moving = classes.reduce((sum, { share, motion }) => sum + (motion === 'still' ? 0 : share), 0)
  return total === 0 ? 0 : (100 * moving) / total
}
