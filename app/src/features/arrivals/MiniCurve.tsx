// Two lines of the run, past and to come, with the pen at now: small enough for a phone, big enough to see a turn.
import { limitOf, TDS_PER_US, type LiveRun } from '@brinvo/core'
import { scaleLinear } from 'd3-scale'
import { line } from 'd3-shape'

const HEIGHT = 92
const TODAY = limitOf('free-ammonia-today')

export function MiniCurve({ run, fresh }: { run: LiveRun; fresh: boolean }) {
  // Drawn at about the size it is shown, so that its words stay readable on a phone.
  const WIDTH = typeof window !== 'undefined' && window.innerWidth < 600 ? 360 : 860
  const { series, nowMin } = run
  const last = series.min.at(-1) ?? 1
  const x = scaleLinear([0, last], [44, WIDTH - 8])
  const top = Math.max(0.06, ...series.freeMgN) * 1.1
  const free = scaleLinear([0, top], [HEIGHT - 18, 6])
  const low = Math.min(...series.salinityPsu)
  const high = Math.max(...series.salinityPsu)
  const margin = Math.max((high - low) * 0.2, fresh ? 0.01 : 0.2)
  const salt = scaleLinear([low - margin, high + margin], [HEIGHT - 18, 6])
  const path = (column: readonly number[], y: (value: number) => number) =>
    line<number>(
      (value) => x(value),
      (_, i) => y(column[i]!),
    )(series.min) ?? undefined
  return (
    <figure>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        width="100%"
        role="img"
        aria-label={`Free ammonia and salinity of the tub, now at ${Math.round(nowMin)} minutes`}
      >
        <rect x={x(nowMin)} y="0" width={Math.max(0, WIDTH - 8 - x(nowMin))} height={HEIGHT - 16} fill="var(--later)" />
        <line x1="44" x2={WIDTH - 8} y1={free(TODAY)} y2={free(TODAY)} stroke="var(--danger)" strokeDasharray="2 4" />
        <text x="40" y={free(TODAY) + 4} textAnchor="end" fontSize="12" fill="var(--danger)">
          {TODAY}
        </text>
        <path
          d={path(series.salinityPsu, salt)}
          fill="none"
          stroke="var(--methylene)"
          strokeWidth="2"
          strokeDasharray="6 3"
        />
        <path d={path(series.freeMgN, free)} fill="none" stroke="var(--iodine)" strokeWidth="2.4" />
        <line x1={x(nowMin)} x2={x(nowMin)} y1="0" y2={HEIGHT - 16} stroke="var(--ink)" strokeWidth="2" />
        <text x={x(nowMin)} y={HEIGHT - 3} textAnchor="middle" fontSize="12" fill="var(--ink)">
          now
        </text>
        <text x={WIDTH - 8} y={HEIGHT - 3} textAnchor="end" fontSize="12" fill="var(--quiet)">
          {Math.round(last)} min
        </text>
      </svg>
      <figcaption style={{ fontSize: 13, color: 'var(--quiet)' }}>
        Solid: free ammonia, mg/L N, with its limit. Dashed:{' '}
        {fresh
          ? `conductivity, ${Math.round(low * (1000 / TDS_PER_US))} to ${Math.round(high * (1000 / TDS_PER_US))} µS/cm`
          : `salinity, ${low.toFixed(1)} to ${high.toFixed(1)} PSU`}
        .
      </figcaption>
    </figure>
  )
}
