// Plates: shapes drawn by us in one line style, from data. A plate is a ground (a fish, a branch of coral, a rock) with
// what is to be seen on it; the wash says a state, never a kind; a bar says the size where size matters.
import { useId } from 'react'
import { styled } from 'styled-components'
import corals from './coral.json' with { type: 'json' }
import fishes from './fish.json' with { type: 'json' }
import grounds from './grounds.json' with { type: 'json' }
import growths from './growths.json' with { type: 'json' }
import pests from './pests.json' with { type: 'json' }
import { sheet } from './sheet.ts'
import { chanceOf } from './swim.ts'
import type { GroundId, Plate, PlateLayer, Stain } from './types.ts'

interface Ground {
  readonly box: readonly [number, number]
  readonly body: string
  readonly parts: Readonly<Record<string, string>>
  readonly light?: readonly string[]
  /** Without an outline of its own: a close view. */
  readonly bare?: boolean
  /** Living flesh is washed, so that what is bare is white. */
  readonly wash?: boolean
  /** The bar stands above: the ground itself fills what is below. */
  readonly barTop?: boolean
}
export const GROUNDS = grounds as unknown as Readonly<Record<GroundId, Ground>>
/** Every plate there is, by what it shows; the shelves in their order. */
export const SHELVES: Readonly<Record<'fish' | 'coral' | 'pests' | 'growths', readonly Plate[]>> = {
  fish: fishes as unknown as readonly Plate[],
  coral: corals as unknown as readonly Plate[],
  pests: pests as unknown as readonly Plate[],
  growths: growths as unknown as readonly Plate[],
}
const BY_ID = new Map(Object.values(SHELVES).flatMap((plates) => plates.map((plate) => [plate.id, plate] as const)))
export const plateOf = (id: string): Plate | undefined => BY_ID.get(id)

const STAINS: Readonly<Record<Stain, string>> = {
  ink: 'var(--ink)',
  quiet: 'var(--quiet)',
  paper: 'var(--paper)',
  flesh: 'var(--tray)',
  tissue: 'var(--malachite-tint)',
  pale: 'var(--hairline)',
  sore: 'var(--danger)',
  brown: 'var(--iodine)',
  green: 'var(--malachite)',
  dark: 'var(--rim)',
}
const Frame = styled.svg`
  ${sheet}
`

/** Dots spread evenly, none in a row with the others; the same every time. */
function scatter(count: number, x: number, y: number, width: number, height: number): [number, number][] {
  const chance = chanceOf(count)
  return Array.from({ length: count }, (_, i) => [
    x + width * ((0.31 + 0.7548776662 * i + 0.06 * chance()) % 1),
    y + height * ((0.57 + 0.569840291 * i + 0.06 * chance()) % 1),
  ])
}

function Layer({ layer, clip, line }: { layer: PlateLayer; clip: string; line: number }) {
  const { fill, stroke = 'ink', width = 2, dash, opacity } = layer
  const look = {
    fill: fill === undefined ? 'none' : STAINS[fill],
    ...(opacity === undefined ? {} : { fillOpacity: opacity }),
    stroke: stroke === 'none' ? 'none' : STAINS[stroke],
    strokeWidth: width * line,
    ...(dash === undefined ? {} : { strokeDasharray: dash }),
    ...(layer.on === true ? { clipPath: `url(#${clip})` } : {}),
  }
  if (layer.dots) {
    const [count, radius, ...box] = layer.dots
    return (
      <g {...look}>
        {scatter(count, ...box).map(([x, y], i) => (
          <circle key={i} cx={x} cy={y} r={radius} />
        ))}
      </g>
    )
  }
  if (layer.c) return <circle cx={layer.c[0]} cy={layer.c[1]} r={layer.c[2]} {...look} />
  return <path d={layer.d} {...look} />
}

/**
 * A plate. `width` in px; small ones take a heavier line, so that they read as the large ones do.
 * Decorative: the name of what it shows always stands beside it.
 */
export function PlateView({ id, width = 150 }: { id: string; width?: number }) {
  const clip = useId()
  const plate = BY_ID.get(id)
  if (!plate) return null
  const ground = GROUNDS[plate.ground]
  const [w, h] = ground.box
  const line = width < 90 ? 1.9 : width < 200 ? 1.25 : 1
  const without = new Set(plate.without ?? [])
  return (
    <Frame viewBox={`0 0 ${w} ${h}`} width={width} height={(width * h) / w} aria-hidden data-plate={id}>
      <defs>
        <clipPath id={clip}>
          <path d={ground.body} />
        </clipPath>
      </defs>
      <g
        strokeLinecap="round"
        strokeLinejoin="round"
        fill="none"
        {...(plate.turn === undefined ? {} : { transform: `rotate(${plate.turn} ${w / 2} ${h / 2})` })}
      >
        {!without.has('outline') && ground.bare !== true && (
          <path
            d={ground.body}
            fill={ground.wash === true ? 'var(--malachite-tint)' : 'var(--tray)'}
            stroke="var(--ink)"
            strokeWidth={2.2 * line}
          />
        )}
        {Object.entries(ground.parts).map(([part, d]) =>
          without.has(part) ? null : (
            <path
              key={part}
              d={d}
              stroke={ground.light?.includes(part) ? 'var(--quiet)' : 'var(--ink)'}
              strokeWidth={(ground.light?.includes(part) ? 1.1 : 1.5) * line}
            />
          ),
        )}
        {plate.layers.map((layer, i) => (
          <Layer key={i} layer={layer} clip={clip} line={line} />
        ))}
      </g>
      {plate.bar && width >= 110 && (
        <g transform={`translate(${w - 14} ${ground.barTop === true ? 30 : h - 10})`}>
          <path
            d={`M${-plate.bar[1]} 0H0m0 -4v8M${-plate.bar[1]} -4v8`}
            stroke="var(--ink)"
            strokeWidth="1.8"
            fill="none"
          />
          <text x={-plate.bar[1] / 2} y="-8" textAnchor="middle" fontSize={width < 200 ? 17 : 13} fill="var(--ink)">
            {plate.bar[0]}
          </text>
        </g>
      )}
    </Frame>
  )
}
