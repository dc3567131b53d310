// What is measured by marks on a picture: stretches of a line, a length against a scale.

export interface Mark {
  readonly x: number
  readonly y: number
}
/** A stretch of a line and what it runs over. */
export type Stretch = 'tissue' | 'bare'

const apart = (a: Mark, b: Mark): number => Math.hypot(b.x - a.x, b.y - a.y)

/** Length of a line through its marks, px. */
export const lineLength = (marks: readonly Mark[]): number =>
  marks.slice(1).reduce((sum, mark, i) => sum + apart(marks[i]!, mark), 0)

/**
 * Share of a line that runs over bare skeleton, 0 to 1; null where there is no line. A hand sets each edge between tissue and
 * skeleton to within some pixels: the doubt is that of all edges together.
 * @param stretches one for each pair of neighbouring marks
 * @param setPx how well a hand sets a mark, px
 */
export function bareShare(
  marks: readonly Mark[],
  stretches: readonly Stretch[],
  setPx = 3,
): { readonly share: number; readonly doubt: number } | null {
  const whole = lineLength(marks)
  if (marks.length < 2 || whole <= 0) return null
  let bare = 0
  let edges = 0
  for (let i = 1; i < marks.length; i++) {
    if (stretches[i - 1] === 'bare') bare += apart(marks[i - 1]!, marks[i]!)
    if (i > 1 && stretches[i - 1] !== stretches[i - 2]) edges++
  }
  return { share: bare / whole, doubt: Math.min(1, (1.2816 * setPx * Math.sqrt(edges)) / whole) }
}

/**
 * A length against a scale laid beside it: marks on the scale, how long that is, marks on what is measured.
 * @returns millimetres, with the doubt of four marks set by hand; null while a mark is missing
 */
export function lengthMm(
  scale: readonly Mark[],
  scaleMm: number,
  marks: readonly Mark[],
  setPx = 3,
): { readonly mm: number; readonly doubt: number } | null {
  if (scale.length !== 2 || marks.length < 2 || !(scaleMm > 0)) return null
  const px = apart(scale[0]!, scale[1]!)
  if (px <= 0) return null
  const length = lineLength(marks)
  const mm = (scaleMm * length) / px
  return { mm, doubt: 1.2816 * mm * Math.hypot((Math.SQRT2 * setPx) / px, (Math.SQRT2 * setPx) / Math.max(1, length)) }
}
