// Where a number comes from, in words a keeper can do something with: our own notes are named as ours, and how strong a
// source is stands beside it in words.
export const GRADES = {
  LIT: 'literature',
  EXT: 'extension sheet',
  KP: 'keepers’ practice',
  EST: 'our estimate',
  label: 'label',
  handbook: 'our notes',
} as const
type Grade = keyof typeof GRADES

/** A text of a source as it is read aloud: no book that nobody has, no code that nobody explains. */
export const sourceText = (text: string): string =>
  text
    .replace(/\bHandbook (\d+)/gi, 'our working notes, chapter $1')
    .replace(/\[(LIT|EXT|KP|EST)\]/g, (_, grade: Grade) => `(${GRADES[grade]})`)
    .replace(/^our/, 'Our')

/** Sources with the strength of each: "Our working notes, chapter 60 §8 (keepers’ practice)". */
export const sourcesText = (sources: readonly { readonly text: string; readonly grade: string }[]): string =>
  sources.map(({ text, grade }) => `${sourceText(text)} (${GRADES[grade as Grade] ?? grade})`).join('; ')
