// A practice tank out of a file: held against its schema, then begun once in the dark to see that it can be.
import { practiceFault, type PracticeTank } from '@brinvo/core/practice'

/** Largest file of a practice tank, letters: words and numbers are a few thousand. */
const MOST = 200_000

/** @throws Error with a sentence that says what cannot be, and where */
export function readPracticeFile(text: string): PracticeTank {
  if (text.length > MOST) throw new Error('This file is too large for a practice tank.')
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    throw new Error('This is no JSON: a comma or a bracket is missing somewhere.')
  }
  const fault = practiceFault(value)
  if (fault !== null) throw new Error(`This tank cannot be: ${fault}`)
  return value as PracticeTank
}
