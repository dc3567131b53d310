// Two signs that are easily taken for each other, drawn large side by side, with the one thing that tells them.
import { signOf, signPairs, signsOf, tableOf, type Pool, type SignPair } from '@brinvo/core'
import { useState } from 'react'
import { styled } from 'styled-components'
import { Button, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { SignPicture } from '../../parts/Drawings.tsx'

const Two = styled.div`
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 12px;
`
const Card = styled.button`
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 6px;
  padding: 12px;
  border: 1.5px solid var(--hairline);
  border-radius: 12px;
  background: var(--tray);
  text-align: center;
  cursor: pointer;
  svg {
    background: var(--well);
    border-radius: 12px;
  }
  &[aria-pressed='true'] {
    border-color: var(--rim);
    box-shadow: inset 0 0 0 2px var(--rim);
  }
`

/** Pairs of a pool; `fits` is the one to show: what the next look is about, or what was seen without its other. */
function pairsOfPool(pool: Pool, best: string | null, answered: ReadonlyMap<string, 'yes' | 'no'>) {
  const known = new Set(signsOf(pool).map(({ id }) => id))
  const pairs = signPairs.filter(({ a, b }) => known.has(a) && known.has(b))
  const alone = (one: string, other: string) => answered.get(one) === 'yes' && !answered.has(other)
  const fits =
    pairs.find(({ a, b }) => a === best || b === best) ?? pairs.find(({ a, b }) => alone(a, b) || alone(b, a))
  return { pairs, fits }
}

export function LookAlikes({
  pool,
  best,
  answers,
  onAnswer,
}: {
  pool: Pool
  best: string | null
  answers: ReadonlyMap<string, 'yes' | 'no'>
  onAnswer: (answers: Readonly<Record<string, 'yes' | 'no'>>) => void
}) {
  const [chosen, setChosen] = useState<string | null>(null)
  const { pairs, fits } = pairsOfPool(pool, best, answers)
  const key = ({ a, b }: SignPair) => `${a}/${b}`
  const pair = pairs.find((one) => key(one) === chosen) ?? fits
  if (pairs.length === 0) return null
  const others = (
    <Row>
      {pairs
        .filter((one) => one !== pair)
        .map((one) => (
          <Button key={key(one)} look="bare" onPress={() => setChosen(key(one))}>
            {signOf(one.a)?.label} or {signOf(one.b)?.label.toLowerCase()}
          </Button>
        ))}
    </Row>
  )
  if (!pair)
    return (
      <Tray role="region" aria-label="Look-alikes">
        <h2>Easily taken for each other</h2>
        {others}
      </Tray>
    )
  const { a, b, tell } = pair
  const card = (id: string, other: string) => (
    <Card
      type="button"
      aria-pressed={answers.get(id) === 'yes'}
      onClick={() => onAnswer({ [id]: 'yes', [other]: 'no' })}
    >
      <SignPicture id={id} size={150} />
      <strong>{signOf(id)?.label}</strong>
      <span>{signOf(id)?.definition}</span>
    </Card>
  )
  return (
    <Tray role="region" aria-label="Look-alikes">
      <Stack>
        <h2>Which of the two?</h2>
        <p>{tell}</p>
        <Two>
          {card(a, b)}
          {card(b, a)}
        </Two>
        <Row>
          <Button onPress={() => onAnswer({ [a]: 'no', [b]: 'no' })}>Neither of them</Button>
          {!tableOf(pool).exclusive.some(({ signs }) => signs.includes(a) && signs.includes(b)) && (
            <Button onPress={() => onAnswer({ [a]: 'yes', [b]: 'yes' })}>Both are there</Button>
          )}
        </Row>
        {pairs.length > 1 && (
          <details>
            <summary style={{ minHeight: 44, display: 'flex', alignItems: 'center', cursor: 'pointer' }}>
              Other look-alikes ({pairs.length - 1})
            </summary>
            {others}
          </details>
        )}
        <Quiet>Drawn, not to scale. A press answers both.</Quiet>
      </Stack>
    </Tray>
  )
}
