// What was measured on pictures over the weeks: a line each, every point with what it may be off by.
import type { Settings } from '@brinvo/core'
import { ComposedChart, ErrorBar, Line, XAxis, YAxis } from 'recharts'
import { dayText, longDayText } from '../design/words.ts'
import { AXIS, ChartFigure, STILL, told } from './chart.tsx'

export interface MeasuredLine {
  readonly id: string
  readonly label: string
  readonly points: readonly { readonly atMs: number; readonly value: number; readonly off: number | null }[]
}
type Row = { readonly atMs: number } & Readonly<Record<string, number>>

/** Told apart by dash and by the shape of the point as well as by colour. */
const LINES = [
  { stroke: 'var(--methylene)', dash: undefined },
  { stroke: 'var(--iodine)', dash: '7 3' },
  { stroke: 'var(--quiet)', dash: '2 4' },
  { stroke: 'var(--danger)', dash: '9 3 2 3' },
] as const
const lookOf = (i: number) => LINES[i % LINES.length]!
const round = (value: number, unit: string): string =>
  unit === '%' ? String(Math.round(value)) : String(Number(value.toPrecision(3)))
const withOff = (value: number, off: number | null, unit: string): string =>
  `${round(value, unit)}${off === null ? '' : ` ± ${round(off, unit)}`} ${unit}`

export function MeasuredChart({
  title,
  unit,
  lines,
  settings,
  most,
}: {
  readonly title: string
  readonly unit: string
  readonly lines: readonly MeasuredLine[]
  readonly settings: Settings
  readonly most?: number
}) {
  const times = [...new Set(lines.flatMap(({ points }) => points.map(({ atMs }) => atMs)))].sort((a, b) => a - b)
  const at = (line: MeasuredLine, ms: number) => line.points.find(({ atMs }) => atMs === ms)
  const rows = times.map((atMs): Row => ({
    atMs,
    ...Object.fromEntries(
      lines.flatMap((line) => {
        const point = at(line, atMs)
        return point === undefined ? [] : [[line.id, point.value] as const, [`off ${line.id}`, point.off ?? 0] as const]
      }),
    ),
  }))
  const words = (ms: number) =>
    lines.flatMap((line) => {
      const point = at(line, ms)
      return point === undefined ? [] : [`${line.label}: ${withOff(point.value, point.off, unit)}`]
    })
  const sentence = `${title}: ${lines
    .map(({ label, points }) => {
      const [first, last] = [points[0], points.at(-1)]
      return first === undefined || last === undefined
        ? `${label}, nothing yet`
        : first === last
          ? `${label}, ${withOff(first.value, first.off, unit)} on ${longDayText(first.atMs, settings)}`
          : `${label}, from ${withOff(first.value, first.off, unit)} to ${withOff(last.value, last.off, unit)} on ${longDayText(last.atMs, settings)}`
    })
    .join('; ')}.`
  return (
    <ChartFigure
      title={title}
      sentence={sentence}
      height={200}
      heads={['day', ...lines.map(({ label }) => label)]}
      rows={times.toReversed().map((ms) => [
        dayText(ms, settings),
        ...lines.map((line) => {
          const point = at(line, ms)
          return point === undefined ? '' : withOff(point.value, point.off, unit)
        }),
      ])}
      caption={lines.map(({ id, label }, i) => (
        <span key={id} style={{ marginRight: 12, whiteSpace: 'nowrap' }}>
          <svg width="26" height="8" aria-hidden>
            <line
              x1="0"
              x2="26"
              y1="4"
              y2="4"
              stroke={lookOf(i).stroke}
              strokeWidth="2.4"
              strokeDasharray={lookOf(i).dash}
            />
          </svg>{' '}
          {label}
        </span>
      ))}
    >
      <ComposedChart data={rows} margin={{ top: 12, right: 16, bottom: 4, left: 0 }} aria-label={sentence}>
        <XAxis
          {...AXIS}
          dataKey="atMs"
          type="number"
          scale="time"
          domain={['dataMin', 'dataMax']}
          padding={{ left: 14, right: 14 }}
          ticks={times.length > 6 ? [times[0]!, times[times.length >> 1]!, times.at(-1)!] : times}
          tickFormatter={(ms: number) => dayText(ms, settings)}
        />
        <YAxis {...AXIS} domain={[0, most ?? (unit === '%' ? 100 : 'auto')]} width={44} tickCount={5} />
        {lines.map(({ id, label }, i) => (
          <Line
            {...STILL}
            key={id}
            type="linear"
            dataKey={id}
            name={label}
            stroke={lookOf(i).stroke}
            strokeWidth={2.2}
            strokeDasharray={lookOf(i).dash}
            dot={{ r: 3.5, fill: lookOf(i).stroke, stroke: 'var(--tray)', strokeDasharray: '0' }}
          >
            <ErrorBar dataKey={`off ${id}`} direction="y" width={5} strokeWidth={1.4} stroke={lookOf(i).stroke} />
          </Line>
        ))}
        {told<Row>((row) => [longDayText(row.atMs, settings), ...words(row.atMs)])}
      </ComposedChart>
    </ChartFigure>
  )
}
