// Four quantities on one time axis: the chosen method with its band, the others as thin dashed lines, limits tinted.
import {
  limitOf,
  METHOD_WORDS,
  TDS_PER_US,
  sampleSeries,
  type Comparison,
  type CurveId,
  type MethodId,
  type TankInputs,
} from '@brinvo/core'
import { Area, ComposedChart, Line, ReferenceArea, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts'
import { AXIS, ChartTable, STILL, told } from '../../parts/chart.tsx'
import { scaleLinear } from 'd3-scale'
import { styled } from 'styled-components'
import { METHOD_DASH, figure } from './words.ts'
import { useUnits, type Shown } from '../../parts/useUnits.ts'

const WATCH = limitOf('free-ammonia-watch')
const TODAY = limitOf('free-ammonia-today')

const Grid = styled.div`
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 14px 18px;
  figcaption {
    font-weight: 650;
    font-size: 14px;
  }
  @media (max-width: 760px) {
    grid-template-columns: minmax(0, 1fr);
  }
`
const Legend = styled.ul`
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  padding-bottom: 12px;
  font-size: 14px;
  li {
    display: inline-flex;
    align-items: center;
    gap: 6px;
  }
`

interface Panel {
  readonly id: CurveId
  readonly title: string
  /** What it is, where the keeper has a unit of their own for it. */
  readonly of?: Shown
  readonly colour: string
}
const PANELS: readonly Panel[] = [
  { id: 'freeMgN', title: 'Free ammonia, mg/L as N', colour: 'var(--iodine)' },
  { id: 'salinityPsu', title: 'Salinity', of: 'salinity', colour: 'var(--methylene)' },
  { id: 'phNbs', title: 'pH', colour: 'var(--gentian)' },
  { id: 'tempC', title: 'Temperature', of: 'temperature', colour: 'var(--rim)' },
]

export function CompareCharts({
  comparison,
  shown,
  tank,
  fresh,
}: {
  comparison: Comparison
  /** The method drawn strong. */
  shown: MethodId
  tank: TankInputs
  fresh: boolean
}) {
  const units = useUnits()
  const drawn = comparison.methods.filter(({ refusal, id }) => refusal === null || id === shown)
  const lastMin = Math.min(
    180,
    Math.max(45, ...drawn.map(({ movedMin }) => (movedMin ?? 180) + 12).map((min) => Math.ceil(min / 15) * 15)),
  )
  const grid = comparison.gridMin.filter((min) => min <= lastMin)
  const main = comparison.methods.find(({ id }) => id === shown)!
  const sampled = comparison.samples > 0
  return (
    <div>
      <Legend aria-label="Lines">
        {drawn.map(({ id }) => (
          <li key={id}>
            <svg width="34" height="10" aria-hidden>
              <line
                x1="1"
                x2="33"
                y1="5"
                y2="5"
                stroke="var(--ink)"
                strokeWidth={id === shown ? 3 : 1.4}
                strokeDasharray={id === shown ? undefined : METHOD_DASH[id]}
              />
            </svg>
            <span style={{ fontWeight: id === shown ? 700 : 400 }}>{METHOD_WORDS[id]}</span>
          </li>
        ))}
      </Legend>
      <Grid>
        {PANELS.map((panel) => {
          const columns = Object.fromEntries(
            drawn.map(({ id, series }) => [id, sampleSeries(series.min, series[panel.id], grid)]),
          )
          const { of } = panel
          // Fresh water is told as conductivity; everything else in the keeper's own unit.
          const shownAs = (value: number) =>
            fresh && of === 'salinity' ? (value * 1000) / TDS_PER_US : of ? units.number(of, value) : value
          const figureOf = (value: number) =>
            of && !fresh && units.unit(of) === 'SG' ? value.toFixed(4) : figure(value, 4)
          const band = main.bands[panel.id]
          const rows = grid.map((min, i) => ({
            min,
            ...Object.fromEntries(drawn.map(({ id }) => [id, shownAs(columns[id]![i]!)])),
            band: sampled ? [shownAs(band.p10[i]!), shownAs(band.p90[i]!)] : undefined,
          }))
          const values = rows.flatMap((row) =>
            Object.entries(row).flatMap(([key, value]) =>
              key === 'min' ? [] : Array.isArray(value) ? value : typeof value === 'number' ? [value] : [],
            ),
          )
          const goal = panel.id === 'freeMgN' ? null : shownAs(tank[panel.id].value)
          const scale = scaleLinear()
            .domain(
              domainOf(panel.id, goal === null ? values : [...values, goal], fresh, of && units.unit(of) === 'SG'),
            )
            .nice(4)
          const [low, high] = scale.domain() as [number, number]
          return (
            <figure key={panel.id}>
              <figcaption>
                {fresh && of === 'salinity'
                  ? 'Conductivity, µS/cm'
                  : of
                    ? `${panel.title}, ${units.unit(of)}`
                    : panel.title}
                {goal !== null && (
                  <span style={{ color: 'var(--quiet)', fontWeight: 400 }}> · tank {figureOf(goal)}</span>
                )}
              </figcaption>
              <div style={{ height: 158 }}>
                <ResponsiveContainer width="100%" height="100%">
                  <ComposedChart
                    data={rows}
                    margin={{ top: 6, right: 8, bottom: 0, left: 0 }}
                    aria-label={`${panel.title} over time for each method`}
                  >
                    <XAxis
                      {...AXIS}
                      dataKey="min"
                      type="number"
                      domain={[0, lastMin]}
                      ticks={ticksOf(lastMin)}
                      tickFormatter={(min: number) => (min === 0 ? '0' : `${min} min`)}
                    />
                    <YAxis
                      {...AXIS}
                      domain={[low, high]}
                      width={50}
                      ticks={scale.ticks(4)}
                      tickFormatter={figureOf}
                      allowDataOverflow
                    />
                    {panel.id === 'freeMgN' && (
                      <ReferenceArea y1={WATCH} y2={Math.min(high, TODAY)} fill="var(--caution-tint)" fillOpacity={1} />
                    )}
                    {panel.id === 'freeMgN' && high > TODAY && (
                      <ReferenceArea y1={TODAY} y2={high} fill="var(--danger-tint)" fillOpacity={1} />
                    )}
                    {goal !== null && <ReferenceLine y={goal} stroke="var(--quiet)" strokeDasharray="2 3" />}
                    {sampled && (
                      <Area
                        {...STILL}
                        dataKey="band"
                        stroke="none"
                        fill={panel.colour}
                        fillOpacity={0.16}
                        type="linear"
                      />
                    )}
                    {drawn.map(({ id }) => (
                      <Line
                        {...STILL}
                        key={id}
                        dataKey={id}
                        type="linear"
                        dot={false}
                        stroke={id === shown ? panel.colour : 'var(--quiet)'}
                        strokeWidth={id === shown ? 2.6 : 1.3}
                        strokeDasharray={id === shown ? undefined : METHOD_DASH[id]}
                      />
                    ))}
                    {told<Record<string, number>>((row) => [
                      `${row['min']} min`,
                      ...drawn.map(({ id }) => `${METHOD_WORDS[id]}: ${figureOf(row[id]!)}`),
                    ])}
                  </ComposedChart>
                </ResponsiveContainer>
              </div>
              <ChartTable
                of={panel.title}
                heads={['min', ...drawn.map(({ id }) => METHOD_WORDS[id])]}
                rows={rows
                  .filter(({ min }) => min % 15 === 0)
                  .map((row) => [
                    String(row.min),
                    ...drawn.map(({ id }) => figureOf((row as unknown as Record<string, number>)[id]!)),
                  ])}
              />
            </figure>
          )
        })}
      </Grid>
      <p style={{ color: 'var(--quiet)', fontSize: 13 }}>
        Minutes from the moment the closed bag floats. The thick line is {METHOD_WORDS[shown].toLowerCase()}
        {sampled
          ? `, its band holds eight in ten of ${comparison.samples} sampled runs`
          : '; its band follows when the numbers rest'}
        . Yellow is “watch” ({WATCH} to {TODAY}), red is “act today” ({TODAY} mg/L free ammonia-N and more).
      </p>
    </div>
  )
}

function domainOf(id: CurveId, values: readonly number[], fresh: boolean, gravity = false): [number, number] {
  const high = Math.max(...values)
  const low = Math.min(...values)
  if (id === 'freeMgN') return [0, Math.max(0.03, high * 1.15)]
  const margin = Math.max(
    (high - low) * 0.1,
    id === 'phNbs' ? 0.1 : gravity ? 0.0002 : fresh && id === 'salinityPsu' ? 15 : 0.3,
  )
  return [low - margin, high + margin]
}
const ticksOf = (last: number): number[] => {
  const step = last > 120 ? 45 : last > 60 ? 30 : 15
  return Array.from({ length: Math.floor(last / step) + 1 }, (_, i) => i * step)
}
