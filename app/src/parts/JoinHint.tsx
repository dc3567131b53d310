// On the round: something came in from another device, or waits to be settled.
import { conflictsOf, documentsOf } from '@brinvo/core'
import { useCameIn, useRecord } from '../data/queries.tsx'
import { LinkButton, Stack, Tray } from '../design/primitives.tsx'
import { cameWords, plural, sentenceCase } from '../design/words.ts'

export function JoinHint() {
  const { record } = useRecord()
  const { came } = useCameIn()
  const open = documentsOf(record).filter(
    (document) => document.merged === true && conflictsOf(document).length > 0,
  ).length
  if (came === null && open === 0) return null
  return (
    <Tray $tone={open > 0 || (came?.notices.length ?? 0) > 0 ? 'caution' : 'plain'} role="status">
      <Stack $gap={8}>
        {came !== null && (
          <p>
            <strong>{cameWords(came.entries.length, came.documents.length)}</strong>{' '}
            {came.own === true ? 'put back from this device’s second copy.' : 'came in from another device.'}
          </p>
        )}
        {came?.notices.map((words) => (
          <p key={words}>{words}</p>
        ))}
        {open > 0 && (
          <p>{sentenceCase(plural(open, 'thing was', 'things were'))} changed on both and must be settled.</p>
        )}
        <LinkButton to="/ledger">Look at them</LinkButton>
      </Stack>
    </Tray>
  )
}
