// Hazards, read before any amount. Short enough to be read each time.
import { hazardOf } from '@brinvo/core'
import { useState } from 'react'
import { styled } from 'styled-components'
import { Dialog } from '../design/Dialog.tsx'
import { Button, LinkButton, Stack } from '../design/primitives.tsx'

const Card = styled.div`
  border: 1px solid var(--hairline);
  border-left: 5px solid var(--danger);
  border-radius: 10px;
  padding: 10px 12px 2px;
  ul {
    display: grid;
    gap: 4px;
    list-style: disc;
    padding-left: 18px;
  }
  > button {
    padding-left: 0;
  }
`

const Line = styled.p`
  color: var(--danger);
  font-weight: 650;
  button {
    min-height: 0;
    padding: 0;
  }
`
/** Hazards in one line above an act: the first words of each; the rest is a press away. */
export function HazardLine({ hazardIds }: { hazardIds: readonly string[] }) {
  const [open, setOpen] = useState(false)
  const hazards = hazardIds.flatMap((id) => hazardOf(id) ?? [])
  if (hazards.length === 0) return null
  return (
    <div role="note" aria-label="Hazards">
      <Line>
        {[...new Set(hazards.slice(0, 3).map(({ before }) => before[0]))].join(' ')}{' '}
        <Button look="bare" onPress={() => setOpen(true)}>
          {hazards.length > 3
            ? `${hazards.length - 3} more, first aid, waste`
            : 'First aid, what it never meets, waste'}
        </Button>
      </Line>
      <HazardDialog hazardIds={hazardIds} isOpen={open} onClose={() => setOpen(false)} />
    </div>
  )
}

/** `short` shows the first two lines of each, or one where there are many, and keeps the rest one press away. */
export function HazardCard({ hazardIds, short = false }: { hazardIds: readonly string[]; short?: boolean }) {
  const [open, setOpen] = useState(false)
  const hazards = hazardIds.flatMap((id) => hazardOf(id) ?? [])
  if (hazards.length === 0) return null
  return (
    <Card role="note" aria-label="Hazards">
      <strong>Before you begin</strong>
      <ul>
        {[
          ...new Set(hazards.flatMap(({ before }) => before.slice(0, !short ? undefined : hazards.length > 2 ? 1 : 2))),
        ].map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
      <Button look="bare" onPress={() => setOpen(true)}>
        First aid, what it never meets, waste
      </Button>
      <HazardDialog hazardIds={hazardIds} isOpen={open} onClose={() => setOpen(false)} />
    </Card>
  )
}

/** All of it: first aid first, then what to do before, what it never meets, waste. */
function HazardDialog({
  hazardIds,
  isOpen,
  onClose,
}: {
  hazardIds: readonly string[]
  isOpen: boolean
  onClose: () => void
}) {
  const hazards = hazardIds.flatMap((id) => hazardOf(id) ?? [])
  return (
    <Dialog title="Hazards" isOpen={isOpen} onClose={onClose}>
      {hazards.map((hazard) => (
        <Stack key={hazard.id} $gap={8}>
          <h3>{hazard.label}: first aid</h3>
          <ul>
            {hazard.firstAid.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
          <h3>Before you begin</h3>
          <ul>
            {hazard.before.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
          <p>
            <strong>Wear:</strong> {hazard.gear.join(', ')}. <strong>Never with:</strong> {hazard.neverMix.join('; ')}.
          </p>
          <p>
            <strong>Waste:</strong> {hazard.disposal}
          </p>
          <p>
            <strong>Law:</strong> {hazard.legal}
          </p>
        </Stack>
      ))}
      <LinkButton to="/safety">The safety page</LinkButton>
    </Dialog>
  )
}
