// Breathing counted by tapping with each gill beat.
import { useState } from 'react'
import { styled } from 'styled-components'
import { Button, Quiet, Row, Tag } from '../design/primitives.tsx'

const Tap = styled.button`
  min-height: 96px;
  min-width: 150px;
  border-radius: 16px;
  border: 2px solid var(--rim);
  background: var(--rim);
  color: var(--on-rim);
  font-size: 28px;
  font-weight: 750;
  touch-action: manipulation;
  cursor: pointer;
`

const COUNT_S = 30
/** Tap with each gill beat for half a minute; the rate stands when it is over. Instants, not a ticking counter. */
export function BreathCounter({
  alarm,
  value,
  onCount,
  name,
}: {
  alarm: number | null
  value: number | null
  onCount: (perMinute: number) => void
  name: string
}) {
  const [taps, setTaps] = useState<readonly number[]>([])
  const [open, setOpen] = useState(false)
  const tap = (at: number) => {
    const next = [...taps, at]
    const seconds = (at - next[0]!) / 1000
    if (seconds >= COUNT_S) {
      // Beats are intervals: the first tap starts the count.
      onCount(Math.round(((next.length - 1) / seconds) * 60))
      setTaps([])
      setOpen(false)
    } else setTaps(next)
  }
  if (!open)
    return (
      <Row $gap={8}>
        <Button onPress={() => setOpen(true)}>{value === null ? 'Count the breathing' : 'Count again'}</Button>
        {value !== null && (
          <span>
            <strong style={{ fontSize: 21 }}>{value}</strong> beats a minute{' '}
            {alarm !== null &&
              (value > alarm ? <Tag $tone="danger">over {alarm}</Tag> : <Tag $tone="good">under {alarm}</Tag>)}
          </span>
        )}
      </Row>
    )
  return (
    <Row $gap={12}>
      <Tap
        onPointerDown={(event) => tap(performance.timeOrigin + event.timeStamp)}
        aria-label={`Tap with each breath of ${name}`}
      >
        {taps.length === 0 ? 'Tap' : taps.length - 1}
      </Tap>
      <Quiet>
        {taps.length === 0 ? 'With each gill beat, for half a minute.' : 'Go on until half a minute is over.'}
      </Quiet>
      <Button
        look="bare"
        onPress={() => {
          setTaps([])
          setOpen(false)
        }}
      >
        Stop
      </Button>
    </Row>
  )
}
