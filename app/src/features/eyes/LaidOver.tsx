// Two pictures of one place on one frame: side by side, wiped or blinking.
import type { Similarity } from '@brinvo/core/pictures'
import { useEffect, useRef, useState } from 'react'
import { styled } from 'styled-components'
import { Choice } from '../../design/fields.tsx'
import { Stack } from '../../design/primitives.tsx'
import type { OpenPicture } from './openPicture.ts'

const Both = styled.div`
  position: relative;
  border-radius: 10px;
  overflow: hidden;
  background: #000;
  img,
  canvas {
    display: block;
    width: 100%;
  }
  &[data-over] canvas {
    position: absolute;
    inset: 0;
    height: 100%;
  }
`
const Pair = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 8px;
`
type Way = 'beside' | 'wipe' | 'blink'
/** Each picture is in sight for this long while they blink, ms: slower than anything that harms. */
const BLINK_MS = 900

export function LaidOver({
  first,
  later,
  place,
}: {
  readonly first: OpenPicture
  readonly later: OpenPicture
  readonly place: Similarity
}) {
  const [way, setWay] = useState<Way>('beside')
  const [at, setAt] = useState(50)
  const [shown, setShown] = useState(true)
  useEffect(() => {
    if (way !== 'blink') return
    const timer = setInterval(() => setShown((was) => !was), BLINK_MS)
    return () => clearInterval(timer)
  }, [way])
  const over = (
    <Moved
      first={first}
      later={later}
      place={place}
      clip={way === 'wipe' ? at : 100}
      hidden={way === 'blink' && !shown}
    />
  )
  return (
    <Stack $gap={8}>
      <Choice<Way>
        label="Looked at"
        value={way}
        onChange={setWay}
        options={[
          { value: 'beside', label: 'side by side' },
          { value: 'wipe', label: 'wiped' },
          { value: 'blink', label: 'blinking' },
        ]}
      />
      {way === 'wipe' && (
        <input
          type="range"
          min="0"
          max="100"
          value={at}
          aria-label="How much of the later picture"
          onChange={(event) => setAt(Number(event.target.value))}
        />
      )}
      {way === 'beside' ? (
        <Pair>
          <Both>
            <img src={first.url} alt="The patch at first" />
          </Both>
          <Both>{over}</Both>
        </Pair>
      ) : (
        <Both data-over="">
          <img src={first.url} alt="The patch at first" />
          {over}
        </Both>
      )}
    </Stack>
  )
}

/** The later picture drawn where the first lies: turned, scaled and shifted back. */
function Moved({
  first,
  later,
  place,
  clip,
  hidden,
}: {
  readonly first: OpenPicture
  readonly later: OpenPicture
  readonly place: Similarity
  readonly clip: number
  readonly hidden: boolean
}) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const { width, height } = first.picture
  useEffect(() => {
    const image = new Image()
    image.onload = () => {
      const context = canvas.current?.getContext('2d')
      if (!context) return
      context.setTransform(1, 0, 0, 1, 0, 0)
      context.clearRect(0, 0, width, height)
      context.translate(width / 2, height / 2)
      context.scale(1 / place.scale, 1 / place.scale)
      context.rotate((-place.angleDeg * Math.PI) / 180)
      context.translate(-width / 2 - place.dx, -height / 2 - place.dy)
      context.drawImage(image, 0, 0)
    }
    image.src = later.url
  }, [later, place, width, height])
  return (
    <canvas
      ref={canvas}
      width={width}
      height={height}
      role="img"
      aria-label="The later picture, laid where the first lies"
      style={{ clipPath: `inset(0 ${100 - clip}% 0 0)`, visibility: hidden ? 'hidden' : 'visible' }}
    />
  )
}
