// A life as a wheel: each stage an arc as long as it lasts, its place told by its line, the days beside it.
import { lifeCycleOf, type LifeCycle } from '@brinvo/core'
import { arc } from 'd3-shape'
import { useState } from 'react'
import { styled } from 'styled-components'
import { Choice } from '../design/fields.tsx'
import { Quiet, Stack } from '../design/primitives.tsx'
import { useUnits } from './useUnits.ts'
import { useTold } from './useTold.ts'

const WHERE = { host: 'in or on its host', surface: 'fixed to a surface', water: 'free in the water' } as const
/** Place is state: on the host it can be treated, fixed it mostly cannot, free it can be caught. */
const DRAWN = {
  host: { fill: 'var(--iodine)', fillOpacity: 0.32, dash: undefined },
  surface: { fill: 'none', fillOpacity: 1, dash: undefined },
  water: { fill: 'none', fillOpacity: 1, dash: '3 4' },
} as const
const SIZE = 200
/** However short, a stage can be seen. */
const LEAST = 0.09

const Figure = styled.figure`
  display: flex;
  flex-wrap: wrap;
  gap: 8px 24px;
  align-items: center;
  margin: 0;
  svg {
    flex: 0 0 auto;
  }
  ol {
    flex: 1 1 260px;
    display: grid;
    gap: 6px;
  }
`

export const stageDays = (low: number, high: number): string => {
  const inHours = high < 2
  const of = (days: number) => Number((inHours ? days * 24 : days).toPrecision(2))
  const unit = inHours ? 'h' : 'd'
  return of(low) === of(high) ? `${of(low)} ${unit}` : `${of(low)}–${of(high)} ${unit}`
}

/** Share of the circle of each stage: as its middle length, and never too short to be seen. */
export function sharesOf({ stages }: LifeCycle): number[] {
  const days = stages.map(({ low, high }) => (low + high) / 2)
  const sum = days.reduce((total, one) => total + one, 0)
  const wide = days.map((one) => Math.max(LEAST, one / sum))
  const all = wide.reduce((total, one) => total + one, 0)
  return wide.map((one) => one / all)
}

export function LifeWheel({ condition, title }: { condition: string; title: string }) {
  const units = useUnits()
  const told = useTold()
  const [tempC, setTemp] = useState(25)
  const cycle = lifeCycleOf(condition, tempC)
  if (!cycle) return null
  const shares = sharesOf(cycle)
  const until = (i: number) => shares.slice(0, i).reduce((sum, share) => sum + share, 0) * 2 * Math.PI
  const arcs = cycle.stages.map((stage, i) => ({ stage, start: until(i), end: until(i + 1) }))
  const words = cycle.stages.map(({ label, low, high }) => `${label} ${stageDays(low, high)}`).join(', then ')
  return (
    <Stack $gap={6}>
      <h4>Its life</h4>
      {cycle.warmths.length > 1 && (
        <Choice
          label={`Water at, in the life of ${title}`}
          hideLabel
          value={String(cycle.tempC)}
          onChange={(next) => setTemp(Number(next))}
          options={cycle.warmths.map((at) => ({ value: String(at), label: units.text('temperature', at) }))}
        />
      )}
      <Figure>
        <svg
          width={SIZE}
          height={SIZE}
          viewBox={`${-SIZE / 2} ${-SIZE / 2} ${SIZE} ${SIZE}`}
          role="img"
          aria-label={`${title} at ${units.text('temperature', cycle.tempC)}: ${words}, and round again.`}
        >
          {arcs.map(({ stage, start, end }, i) => {
            const drawn = DRAWN[stage.where]
            const pad = cycle.stages.length > 1 ? 0.035 : 0
            const shape = arc()({
              innerRadius: 62,
              outerRadius: 84,
              startAngle: start + pad,
              endAngle: end - pad,
            })
            const middle = (start + end) / 2
            const tip = end - pad
            return (
              <g key={stage.id}>
                <path
                  d={shape ?? ''}
                  fill={drawn.fill}
                  fillOpacity={drawn.fillOpacity}
                  stroke="var(--ink)"
                  strokeWidth="1.8"
                  strokeDasharray={drawn.dash}
                />
                {/* The way round: a barb at the end of each stage. */}
                <path
                  d="M-5 -4L3 0L-5 4"
                  transform={`rotate(${(tip * 180) / Math.PI}) translate(0 -73)`}
                  fill="none"
                  stroke="var(--ink)"
                  strokeWidth="1.8"
                />
                <text
                  x={Math.sin(middle) * 44}
                  y={-Math.cos(middle) * 44 + 5}
                  textAnchor="middle"
                  fontSize="15"
                  fontWeight="700"
                  fill="var(--ink)"
                >
                  {i + 1}
                </text>
              </g>
            )
          })}
        </svg>
        <ol>
          {cycle.stages.map((stage, i) => (
            <li key={stage.id}>
              <strong>
                {i + 1} {stage.label}, {stageDays(stage.low, stage.high)}
              </strong>{' '}
              <Quiet>{WHERE[stage.where]}</Quiet>
              {stage.note !== undefined && <div>{told(stage.note)}</div>}
            </li>
          ))}
        </ol>
      </Figure>
      {cycle.note !== null && <Quiet>{told(cycle.note)}</Quiet>}
    </Stack>
  )
}
