import type { Joined } from '@brinvo/core'
import { Stack } from '../../design/primitives.tsx'
import { cameWords, plural, sentenceCase } from '../../design/words.ts'

/** What a joining brings, stays and leaves to be settled. */
export function WhatJoins({ joined }: { readonly joined: Joined }) {
  const { cameEntries, cameDocuments, onlyHere, conflicts, notices } = joined
  return (
    <Stack $gap={6}>
      <p>
        {cameEntries.length + cameDocuments.length === 0
          ? 'Nothing in it is new here. '
          : `Coming in: ${cameWords(cameEntries.length, cameDocuments.length).toLowerCase()}. `}
        {onlyHere > 0
          ? `${sentenceCase(plural(onlyHere, 'entry', 'entries'))} only here ${onlyHere === 1 ? 'stays' : 'stay'}. `
          : ''}
        Settings stay as they are on this device. One press takes it back.
      </p>
      {conflicts.length > 0 && (
        <p>
          {sentenceCase(plural(conflicts.length, 'thing was', 'things were'))} changed on both sides: you settle them
          beside the ledger.
        </p>
      )}
      {notices.length > 0 && (
        <ul style={{ display: 'grid', gap: 6, maxHeight: 220, overflow: 'auto' }}>
          {notices.map(({ words }) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      )}
    </Stack>
  )
}
