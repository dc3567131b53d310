// Own line drawings: a fish, a coral, a creature on a rock, a tank; and the small pictures of signs that are mixed up.
import { styled } from 'styled-components'
import type { Pool } from '@brinvo/core'
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

const Outline = ({ pool }: { pool: Pool }) => {
  switch (bodyOf(pool)) {
    case 'fish':
      return (
        <g {...LINE}>
          <path d="M12 30 C22 14 52 10 72 26 L88 14 C86 24 86 36 88 46 L72 34 C52 50 22 46 12 30 Z" />
          <path d="M36 15 C44 6 58 8 64 18 M44 45 C48 52 56 52 58 43" />
          <path d="M32 19 C37 25 37 35 32 41" />
          <circle cx="22" cy="26" r="2.4" />
          <path d="M40 32 C46 30 48 36 44 39" />
          <path d="M12 31 L17 32" />
        </g>
      )
    case 'coral':
      return (
        <g {...LINE}>
          <path d="M26 52 C40 48 60 48 74 52" />
          <path d="M44 51 C43 40 34 36 30 24 M44 40 C42 30 46 22 44 12 M50 50 C50 38 56 34 58 20 M54 38 C60 34 66 32 70 24" />
          {[
            [30, 24],
            [44, 12],
            [58, 20],
            [70, 24],
          ].map(([x, y]) => (
            <g key={x}>
              <circle cx={x} cy={y} r="3" />
              <path d={`M${x! - 3} ${y! - 3} l-2 -2 M${x} ${y! - 3.5} l0 -3 M${x! + 3} ${y! - 3} l2 -2`} />
            </g>
          ))}
        </g>
      )
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

/** Dots spread evenly by two irrational steps; the same every time. */
const dots = (count: number, r: number, seed: number) =>
  Array.from({ length: count }, (_, i) => (
    <circle
      key={i}
      cx={6 + 36 * ((0.13 * seed + 0.7548776662 * i) % 1)}
      cy={6 + 36 * ((0.29 * seed + 0.569840291 * i) % 1)}
      r={r}
      fill="var(--ink)"
      stroke="none"
    />
  ))
/** Rows of scales, for what lies on them or under them. */
const scales = (
  <path d="M6 14 a5 5 0 0 0 10 0 a5 5 0 0 0 10 0 a5 5 0 0 0 10 0 M11 24 a5 5 0 0 0 10 0 a5 5 0 0 0 10 0 a5 5 0 0 0 10 0 M6 34 a5 5 0 0 0 10 0 a5 5 0 0 0 10 0 a5 5 0 0 0 10 0" />
)
const PICTURES: Readonly<Record<string, () => React.ReactNode>> = {
  'spots-salt-grain': () => dots(9, 2.2, 1),
  'spots-cycle': () => dots(9, 2.2, 3),
  'dust-fine': () => dots(150, 0.5, 2),
  'gold-rust-sheen': () => dots(60, 0.7, 4),
  'slime-sheet': () => (
    <path d="M4 12 C14 6 22 18 32 10 L44 14 L40 30 C36 24 32 40 26 30 C22 42 16 28 10 36 Z" fill="var(--hairline)" />
  ),
  'skin-haze': () => <rect x="6" y="12" width="36" height="24" rx="12" fill="var(--hairline)" stroke="none" />,
  'mic-gliding-needles': () => <path d="M8 30 L26 14 M16 40 L36 22 M26 38 L42 30" />,
  'mic-oval-valves': () => (
    <>
      <ellipse cx="18" cy="22" rx="9" ry="7" />
      <ellipse cx="33" cy="32" rx="9" ry="7" />
      <circle cx="18" cy="22" r="1.5" />
      <circle cx="33" cy="32" r="1.5" />
    </>
  ),
  'mic-swim-drop': () => (
    <path d="M14 30 C10 20 18 12 26 12 C34 14 36 24 30 32 C26 38 18 38 14 30 Z M22 12 C20 8 24 6 28 9" />
  ),
  'mic-spin-thread': () => <path d="M24 40 L24 28 C14 26 16 12 24 6 C32 12 34 26 24 28 M34 14 C40 18 40 26 34 30" />,
  'mic-round-tumble': () => (
    <>
      <circle cx="24" cy="24" r="11" />
      <path d="M14 20 C20 24 28 24 34 20 M38 12 C44 20 44 28 38 36" />
    </>
  ),
  'mic-large-lens': () => <ellipse cx="24" cy="24" rx="18" ry="14" />,
  'mic-filaments': () => (
    <path d="M8 14 C18 10 30 20 42 14 M6 26 C18 22 30 32 42 26 M8 38 C18 34 30 44 42 38" strokeDasharray="3 1.4" />
  ),
  'egg-white-spiral-or-comma': () => (
    <path d="M24 24 C26 20 32 22 31 28 C29 35 18 34 17 26 C16 16 30 12 36 20 C42 32 28 44 16 38" />
  ),
  'egg-brown-flat-patch': () => dots(26, 1.6, 5),
  'eggs-spiral-or-comma': () => (
    <path d="M24 24 C26 20 32 22 31 28 C29 35 18 34 17 26 C16 16 30 12 36 20 C42 32 28 44 16 38" />
  ),
  'eggs-flat-patches': () => dots(26, 1.6, 6),
  'tex-snot-strings': () => (
    <>
      <path d="M12 6 C8 18 18 26 12 42 M24 6 C20 18 30 26 24 42 M36 6 C32 18 42 26 36 42" />
      {dots(7, 1.5, 7)}
    </>
  ),
  'tex-mat-peels': () => <path d="M6 34 L34 34 C42 34 44 24 36 18 M6 30 L30 30 C36 30 38 24 34 20" />,
  'tex-feather': () => (
    <path d="M24 42 L24 8 M24 14 l-8 -5 M24 14 l8 -5 M24 22 l-10 -5 M24 22 l10 -5 M24 30 l-8 -4 M24 30 l8 -4" />
  ),
  'tex-antler': () => (
    <path d="M24 42 L24 26 L14 14 M24 26 L34 14 M14 14 L10 6 M14 14 L20 7 M34 14 L40 6 M34 14 L29 7" />
  ),
  'tex-tuft-point': () => <path d="M24 42 L10 12 M24 42 L17 8 M24 42 L24 6 M24 42 L31 8 M24 42 L38 12" />,
  'tex-ball-bubble': () => (
    <>
      <circle cx="18" cy="26" r="9" />
      <circle cx="33" cy="20" r="7" />
      <path d="M18 35 l0 6 M33 27 l0 14" />
    </>
  ),
  'slim-tentacle-anemone': () => (
    <path d="M20 42 L22 26 L26 26 L28 42 M22 26 C18 18 12 16 6 16 M23 26 C20 14 18 10 14 5 M25 26 C28 14 30 10 34 5 M26 26 C30 18 36 16 42 16" />
  ),
  'knob-tip-anemone': () => (
    <>
      <path d="M18 42 L18 28 L30 28 L30 42 M19 28 L10 18 M22 28 L19 13 M26 28 L29 13 M29 28 L38 18" />
      {[
        [10, 17],
        [19, 12],
        [29, 12],
        [38, 17],
      ].map(([x, y]) => (
        <circle key={x} cx={x} cy={y} r="2.6" />
      ))}
    </>
  ),
  'arrowhead-glider': () => <path d="M10 18 L20 24 L10 30 L14 24 Z M20 24 C28 20 36 28 44 24" />,
  'stalk-with-arms': () => <path d="M24 44 L24 22 M24 22 L12 12 M24 22 L18 6 M24 22 L30 6 M24 22 L36 12" />,
  'cotton-tufts': () => (
    <>
      <path d="M4 40 C16 34 32 34 44 40" />
      <path d="M20 36 C14 28 18 20 12 12 M22 36 C20 26 24 18 20 8 M25 35 C26 26 32 20 30 10 M28 36 C32 28 38 24 38 16" />
    </>
  ),
  'nodules-cauliflower': () => (
    <>
      <path d="M4 40 C16 34 32 34 44 40" />
      {[
        [16, 32, 5],
        [23, 27, 6],
        [31, 32, 5],
        [20, 20, 4],
        [28, 19, 5],
        [35, 25, 4],
      ].map(([x, y, r]) => (
        <circle key={`${x}-${y}`} cx={x} cy={y} r={r} fill="var(--well)" />
      ))}
    </>
  ),
  'black-specks-mobile': () => (
    <>
      {dots(6, 2, 8)}
      <path d="M12 40 l6 -2 m-2 -2 l2 2 l-2 2 M30 12 l6 2 m-3 1 l3 -1 l-1 -3" />
    </>
  ),
  'black-specks-fixed': () => (
    <>
      {dots(6, 2, 8)}
      <path d="M6 6 L6 12 M6 6 L12 6 M42 6 L36 6 M42 6 L42 12 M6 42 L6 36 M6 42 L12 42 M42 42 L36 42 M42 42 L42 36" />
    </>
  ),
  'red-sore-raw': () => (
    <>
      {scales}
      <path d="M15 18 L23 13 L33 17 L36 26 L29 35 L18 33 L13 26 Z" fill="var(--danger)" fillOpacity="0.55" />
    </>
  ),
  'bruise-under-scales': () => (
    <>
      <ellipse cx="25" cy="24" rx="13" ry="11" fill="var(--danger)" fillOpacity="0.28" stroke="none" />
      {scales}
    </>
  ),
  'fins-eroded': () => (
    <path d="M6 42 L14 10 L18 15 L21 8 L25 16 L29 9 L32 18 L37 12 L38 22 L43 20 L36 42 M14 40 L19 18 M22 40 L26 20 M29 40 L33 22" />
  ),
  'fins-split-clean': () => (
    <path d="M6 42 L12 8 C18 6 22 6 24 8 L24 32 L29 9 C34 10 40 13 44 18 L36 42 M13 40 L17 12 M31 40 L37 16" />
  ),
  'bleached-white-tissue': () => (
    <>
      <path d="M8 42 C6 24 16 12 24 12 C32 12 42 24 40 42" fill="var(--tray)" />
      {[
        [16, 26],
        [24, 20],
        [32, 26],
        [20, 35],
        [29, 35],
      ].map(([x, y]) => (
        <path key={x} d={`M${x} ${y} l-3 -4 M${x} ${y} l0 -5 M${x} ${y} l3 -4`} />
      ))}
    </>
  ),
  'skeleton-bare-white': () => (
    <>
      <path d="M8 42 C6 24 16 12 24 12 C32 12 42 24 40 42" />
      {[
        [16, 26],
        [24, 20],
        [32, 26],
        [20, 35],
        [29, 35],
      ].map(([x, y]) => (
        <path
          key={x}
          d={`M${x! - 3} ${y} a3 3 0 1 0 6 0 a3 3 0 1 0 -6 0 M${x} ${y! - 3} l0 6 M${x! - 3} ${y} l6 0 M${x! - 2} ${y! - 2} l4 4 M${x! + 2} ${y! - 2} l-4 4`}
        />
      ))}
    </>
  ),
  'slime-clear-strings': () => (
    <>
      <path d="M6 40 C16 34 32 34 42 40" />
      <path d="M14 36 C20 26 12 20 22 8 M24 34 C30 26 24 18 36 12 M34 36 C38 30 34 26 44 22" strokeDasharray="1 2.5" />
    </>
  ),
  'brown-jelly-mass': () => (
    <>
      <path d="M6 42 C16 36 32 36 42 42" />
      <path
        d="M12 38 C6 28 14 24 14 18 C18 8 30 10 32 18 C42 20 40 32 36 38 Z"
        fill="var(--iodine)"
        fillOpacity="0.6"
      />
    </>
  ),
  'bite-notches': () => (
    <path d="M6 24 C8 12 16 8 22 8 A5 5 0 0 0 31 9 C38 12 42 18 42 24 A5 5 0 0 0 40 33 C36 40 30 42 24 42 C14 42 6 36 6 24 Z" />
  ),
  'pale-spots-round': () => (
    <>
      <circle cx="24" cy="25" r="18" fill="var(--hairline)" />
      {[
        [18, 18],
        [30, 22],
        [20, 32],
        [32, 34],
      ].map(([x, y]) => (
        <circle key={x} cx={x} cy={y} r="3.4" fill="var(--tray)" />
      ))}
    </>
  ),
  'tex-turf-wiry': () => (
    <path d="M8 42 l2 -12 M12 42 l-3 -16 M16 42 l4 -14 M20 42 l-2 -20 M24 42 l3 -13 M28 42 l-4 -17 M32 42 l3 -19 M36 42 l-2 -12 M40 42 l1 -16 M18 30 l4 -6 M30 32 l-5 -8" />
  ),
  'tex-dust': () => (
    <>
      <path d="M4 36 C16 32 32 32 44 36" />
      {dots(46, 0.7, 9)}
    </>
  ),
  'tex-slime-film': () => (
    <>
      <path d="M4 36 C16 32 32 32 44 36" />
      <path d="M4 32 C12 26 18 30 24 26 C32 22 36 28 44 24 L44 34 C32 30 16 30 4 34 Z" fill="var(--hairline)" />
      <path d="M26 26 C28 18 24 16 28 10" />
    </>
  ),
  'white-feathery-slug': () => (
    <path d="M6 34 C14 28 34 28 42 34 C34 38 14 38 6 34 Z M12 31 C10 24 14 20 12 14 M17 30 C16 22 20 18 18 10 M23 29 C23 22 26 18 25 9 M29 29 C30 22 33 18 33 11 M35 31 C37 24 39 22 40 16 M6 34 l-3 -5" />
  ),
  'colour-matched-slug': () => (
    <>
      <path d="M6 34 C14 24 34 24 42 34 C34 40 14 40 6 34 Z" fill="var(--hairline)" />
      {[
        [13, 25],
        [20, 21],
        [28, 21],
        [35, 25],
      ].map(([x, y]) => (
        <circle key={x} cx={x} cy={y} r="3.4" fill="var(--hairline)" />
      ))}
    </>
  ),
  'sucker-loop': () => (
    <path d="M8 40 C8 20 18 10 26 12 C34 14 38 26 38 40 M3 41 L13 41 M33 41 L43 41" strokeWidth="2.4" />
  ),
}

/** Whether a sign has a picture. */
export const isDrawn = (id: string): boolean => PICTURES[id] !== undefined

/** A picture of a sign that is easily taken for another, small beside its name or large in a pair; nothing for the others. */
export function SignPicture({ id, size = 44 }: { id: string; size?: number }) {
  const picture = PICTURES[id]
  if (!picture) return null
  return (
    <svg viewBox="0 0 48 48" width={size} height={size} aria-hidden style={{ flex: '0 0 auto', maxWidth: '100%' }}>
      <g
        fill="none"
        stroke="var(--ink)"
        strokeWidth={size > 90 ? 1.1 : 1.5}
        strokeLinecap="round"
        strokeLinejoin="round"
      >
        {picture()}
      </g>
    </svg>
  )
}
