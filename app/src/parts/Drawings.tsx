// The body whose parts are pressed, and the picture of a sign: its plate, or the field of the microscope that moves.
import { styled } from 'styled-components'
import type { Pool } from '@brinvo/core'
import { MovingPlate } from '../plates/MovingPlate.tsx'
import { GROUNDS, PlateView, plateOf } from '../plates/Plate.tsx'
import type { GroundId } from '../plates/types.ts'
import { organismOf } from '../plates/swim.ts'
import { bodyOf, zonesOf } from './zones.ts'

const Frame = styled.div`
  position: relative;
  width: 100%;
  max-width: 520px;
  aspect-ratio: 100 / 58;
  margin: 0 auto;
  background: var(--well);
  border-radius: 12px;
  svg {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
`
const Spot = styled.button`
  position: absolute;
  transform: translate(-50%, -50%);
  min-height: 44px;
  max-width: 46%;
  padding: 4px 12px;
  border-radius: 22px;
  border: 1.5px solid var(--rim);
  background: var(--tray);
  font-weight: 650;
  font-size: 14px;
  cursor: pointer;
  &[aria-pressed='true'] {
    background: var(--rim);
    color: var(--on-rim);
  }
`
const LINE = {
  fill: 'none',
  stroke: 'var(--quiet)',
  strokeWidth: 0.5,
  strokeLinecap: 'round',
  strokeLinejoin: 'round',
} as const

/** A ground of the plates, fitted into the drawing that is pressed. */
const OnGround = ({ ground }: { ground: GroundId }) => {
  const { body, parts, light = [] } = GROUNDS[ground]
  return (
    <g transform="translate(3.5 0) scale(0.29)" fill="none" strokeLinecap="round" strokeLinejoin="round">
      <path d={body} fill="var(--tray)" stroke="var(--quiet)" strokeWidth="1.8" />
      {Object.entries(parts).map(([part, d]) => (
        <path key={part} d={d} stroke="var(--quiet)" strokeWidth={light.includes(part) ? 0.9 : 1.4} />
      ))}
    </g>
  )
}
const Outline = ({ pool }: { pool: Pool }) => {
  switch (bodyOf(pool)) {
    case 'fish':
      return <OnGround ground="fish" />
    case 'coral':
      return <OnGround ground="branch" />
    case 'animal':
      return (
        <g {...LINE}>
          <path d="M28 36 C34 24 52 22 64 30 C72 34 76 30 80 24 M64 30 C70 38 66 42 58 42 L36 42 C30 42 28 40 28 36 Z" />
          <path d="M28 36 C20 32 14 26 8 16 M28 36 C20 36 14 34 6 28 M40 42 L38 50 M48 42 L48 50 M56 42 L58 50" />
          <circle cx="33" cy="33" r="1.2" />
        </g>
      )
    case 'creature':
      return (
        <g {...LINE}>
          <path d="M8 54 C14 34 34 30 46 40 C58 28 84 34 92 54" />
          <path d="M46 24 C54 16 70 18 76 26 C70 32 54 32 46 24 Z M50 22 l-3 -4 M56 19 l-1 -5 M64 19 l2 -5" />
        </g>
      )
    case 'surface':
      return (
        <g {...LINE}>
          <path d="M10 8 L10 52 L90 52 L90 8 M10 14 C26 12 40 16 56 14 C70 12 80 15 90 14" />
          <path d="M10 46 C24 42 36 48 50 45 C66 42 78 47 90 44" />
          <path d="M56 45 C58 34 68 32 76 44 M24 44 C22 36 26 30 24 24 M28 44 C30 36 26 32 30 26" />
        </g>
      )
  }
}

/** The body with its parts to press; the same parts stand as buttons below for what is not on it. */
export function BodyDrawing({ pool, zone, onPick }: { pool: Pool; zone: string; onPick: (zone: string) => void }) {
  const spots = zonesOf(pool).filter(({ at }) => at !== undefined)
  return (
    <Frame>
      <svg viewBox="0 0 100 58" aria-hidden>
        <Outline pool={pool} />
      </svg>
      {spots.map(({ id, label, at }) => (
        <Spot
          key={id}
          type="button"
          aria-pressed={zone === id}
          style={{ left: `${at![0]}%`, top: `${at![1]}%` }}
          onClick={() => onPick(id)}
        >
          {label}
        </Spot>
      ))}
    </Frame>
  )
}

/** Whether a sign has a picture. */
export const isDrawn = (id: string): boolean => plateOf(id) !== undefined || organismOf(id) !== undefined

/** A picture of a sign, small beside its name or large in a pair; nothing for the others. */
export function SignPicture({ id, size = 44 }: { id: string; size?: number }) {
  const width = size < 60 ? 72 : Math.round(size * 1.45)
  if (plateOf(id)) return <PlateView id={id} width={width} />
  return organismOf(id) ? <MovingPlate id={id} width={width} still={size < 60} /> : null
}
