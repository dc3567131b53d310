// What was found, drawn over the frame: an outline and a way for each object, a letter for its class; pressed, it is put right.
import type { SlideCorrections, SlideObject } from '@brinvo/core/imaging'
import { useEffect, useState } from 'react'
import { styled } from 'styled-components'
import { Board } from './Board.tsx'

const Frame = styled(Board)`
  g[role='button'] {
    cursor: pointer;
    outline: none;
  }
  g[role='button']:focus-visible ellipse {
    stroke-width: 4;
  }
`
/** One look for each class on any picture: a colour and a letter, so that neither is needed alone. */
const LOOKS: Readonly<Record<string, { readonly colour: string; readonly letter: string }>> = {
  dinoflagellate: { colour: '#B3261E', letter: 'D' },
  diatom: { colour: '#1F5FA8', letter: 'd' },
  green: { colour: '#08624A', letter: 'g' },
  cyanobacteria: { colour: '#6A3D9A', letter: 'c' },
  ciliate: { colour: '#10262B', letter: 'i' },
  other: { colour: '#5F4B00', letter: 'o' },
}
const classAfter = (one: SlideObject, name: string | undefined): string | null =>
  name === undefined ? one.class : name === 'nothing' ? null : name in LOOKS ? name : 'dinoflagellate'

export function FoundOverlay({
  still,
  width,
  height,
  umPerPx,
  frame,
  objects,
  corrections,
  nameOf,
  onPress,
}: {
  readonly still: Blob
  readonly width: number
  readonly height: number
  readonly umPerPx: number
  readonly frame: number
  readonly objects: readonly SlideObject[]
  readonly corrections: SlideCorrections
  readonly nameOf: (one: SlideObject) => string
  readonly onPress: (index: number) => void
}) {
  const [url, setUrl] = useState<string | null>(null)
  useEffect(() => {
    const made = URL.createObjectURL(still)
    setUrl(made)
    return () => URL.revokeObjectURL(made)
  }, [still])
  // A ruler of a round length, a fifth of the field at most.
  const ruler = [500, 200, 100, 50, 20, 10].find((um) => um / umPerPx <= width / 5) ?? 10
  return (
    <Frame style={{ aspectRatio: `${width} / ${height}` }}>
      {url !== null && <img src={url} alt="The frame of the clip in which most is in sight" />}
      <svg viewBox={`0 0 ${width} ${height}`} role="group" aria-label="Objects found">
        {objects.map((one, i) => {
          const at = one.path.find((spot) => spot.frame === frame)
          const kind = classAfter(one, corrections[i])
          if (!at) return null
          const { colour, letter } = kind === null ? { colour: '#777', letter: '×' } : LOOKS[kind]!
          const [rx, ry] = [one.lengthUm / umPerPx / 2 + 2, one.widthUm / umPerPx / 2 + 2]
          return (
            <g
              key={i}
              role="button"
              tabIndex={0}
              aria-label={`${nameOf(one)}, ${Math.round(one.lengthUm)} µm, ${one.moving ? 'moves' : 'still'}${corrections[i] === undefined ? '' : ', put right'}`}
              onClick={() => onPress(i)}
              onKeyDown={(event) => {
                if (event.key !== 'Enter' && event.key !== ' ') return
                event.preventDefault()
                onPress(i)
              }}
            >
              <circle cx={at.x} cy={at.y} r={Math.max(14, rx)} fill="transparent" />
              {one.moving && one.path.length > 1 && (
                <polyline
                  points={one.path.map(({ x, y }) => `${x.toFixed(1)},${y.toFixed(1)}`).join(' ')}
                  fill="none"
                  stroke={colour}
                  strokeWidth="1"
                  opacity="0.55"
                />
              )}
              <ellipse
                cx={at.x}
                cy={at.y}
                rx={rx}
                ry={ry}
                transform={`rotate(${(at.angle * 180) / Math.PI} ${at.x} ${at.y})`}
                fill="none"
                stroke={colour}
                strokeWidth="1.6"
                strokeDasharray={kind === null ? '3 3' : undefined}
              />
              <text
                x={at.x + rx * 0.7}
                y={at.y - ry - 2}
                fontSize="11"
                fontWeight="700"
                fill={colour}
                stroke="#fff"
                strokeWidth="2.4"
                paintOrder="stroke"
              >
                {letter}
              </text>
            </g>
          )
        })}
        <g aria-hidden>
          <rect
            x={width - ruler / umPerPx - 12}
            y={height - 14}
            width={ruler / umPerPx}
            height="4"
            fill="#10262B"
            stroke="#fff"
            strokeWidth="1"
          />
          <text
            x={width - 12}
            y={height - 18}
            textAnchor="end"
            fontSize="11"
            fontWeight="700"
            fill="#10262B"
            stroke="#fff"
            strokeWidth="2.4"
            paintOrder="stroke"
          >
            {ruler} µm
          </text>
        </g>
      </svg>
    </Frame>
  )
}
