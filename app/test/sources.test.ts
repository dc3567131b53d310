import { expect, test } from '@jest/globals'
import { agentForms, conditions, limitTables, protocolLibrary } from '@brinvo/core'
import { sourceText, sourcesText } from '../src/design/sources.ts'

test('our own notes are named as ours, and the strength of a source stands in words', () => {
  expect(sourcesText([{ text: 'Handbook 60 §8', grade: 'KP' }])).toBe(
    'Our working notes, chapter 60 §8 (keepers’ practice)',
  )
  expect(sourceText('design/definitions; Handbook 30 §5.8 [EST]')).toBe(
    'design/definitions; our working notes, chapter 30 §5.8 (our estimate)',
  )
})
test('no shipped source is shown with a book nobody has or a code nobody explains (V6)', () => {
  const shown = [
    ...[...conditions, ...protocolLibrary, ...agentForms].map(({ sources }) => sourcesText(sources)),
    ...limitTables.flatMap(({ limits }) => limits.map(({ source }) => sourceText(source.text))),
  ]
  expect(shown.length).toBeGreaterThan(300)
  expect(shown.filter((text) => /\bHandbook\b|\[(LIT|EXT|KP|EST)\]|\((LIT|EXT|KP|EST)\)/.test(text))).toEqual([])
})
