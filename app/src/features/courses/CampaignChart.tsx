// One measure over time: what was counted, what the model expects, where it should come to, and now.
import { Area, ComposedChart, ErrorBar, Line, XAxis, YAxis } from 'recharts'
import { AXIS, ChartFigure, STILL, endLine, goodGround, nowLine, told } from '../../parts/chart.tsx'

export interface ChartRow {
  readonly [line: `line-${string}`]: number
  readonly day: number
  readonly value?: number
  /** What the value may be off by to each side, where that is known. */
  readonly off?: number
  readonly low?: number
  readonly high?: number
  readonly middle?: number
}
export interface ChartProps {
  readonly title: string
  readonly unit: string
  readonly rows: readonly ChartRow[]
  /** The most the scale knows, where it is one of steps. */
  readonly most?: number | undefined
  readonly nowDay: number
  readonly lastDay: number
  /** Band that counts as done, and a line that ends it. */
  readonly done?: { readonly atLeast?: number; readonly atMost?: number }
  readonly limit?: { readonly value: number; readonly label: string }
  /** Lines of their own in place of one: an arm each. `rows` carry their values under `line-<id>`. */
  readonly lines?: readonly { readonly id: string; readonly label: string }[]
  /** What the shaded band stands for; left out where there is none. */
  readonly bandWords?: string
}

export function CampaignChart({ title, unit, rows, most, nowDay, lastDay, done, limit, bandWords, lines }: ChartProps) {
  const values = rows.flatMap((row) => [
    row.value ?? 0,
    ...(row.day <= nowDay + 3 ? [row.high ?? 0] : []),
    ...(lines ?? []).map(({ id }) => row[`line-${id}`] ?? 0),
  ])
  const highest = Math.max(...values, limit?.value ?? 0, done?.atLeast ?? 0)
  const top = most !== undefined && highest <= most ? most : highest === 0 ? 1 : niceTop(highest)
  const data = rows.map((row) => ({
    ...row,
    ...(row.low === undefined || row.high === undefined
      ? {}
      : { band: [Math.min(top, row.low), Math.min(top, row.high)] }),
    ...(row.middle === undefined ? {} : { middle: Math.min(top, row.middle) }),
  }))
  const doneFrom = done?.atLeast ?? 0
  const doneTo = done?.atMost ?? top
  const ticks = ticksOf(lastDay)
  const words = (row: ChartRow): readonly string[] =>
    lines
      ? lines.flatMap(({ id, label }) => {
          const value = row[`line-${id}`]
          return value === undefined ? [] : [`${label}: ${trim(value)} ${unit}`]
        })
      : row.value === undefined
        ? row.low === undefined || row.high === undefined
          ? []
          : [`expected ${trim(row.low)} to ${trim(row.high)} ${unit}`]
        : [`${trim(row.value)}${row.off === undefined ? '' : ` ± ${trim(row.off)}`} ${unit}`]
  const sentence = describe(title, unit, rows, nowDay)
  return (
    <ChartFigure
      title={title}
      sentence={sentence}
      height={230}
      heads={[
        'day',
        ...(lines ? lines.map(({ label }) => label) : [unit]),
        ...(bandWords === undefined ? [] : ['expected']),
      ]}
      rows={[...rows]
        .reverse()
        .map((row) => [
          String(Number(row.day.toFixed(1))),
          ...(lines
            ? lines.map(({ id }) => cell(row[`line-${id}`]))
            : [`${cell(row.value)}${row.off === undefined ? '' : ` ± ${trim(row.off)}`}`]),
          ...(bandWords === undefined
            ? []
            : [row.low === undefined || row.high === undefined ? '' : `${trim(row.low)} to ${trim(row.high)}`]),
        ])}
      caption={
        <>
          {lines
            ? lines.map(({ id, label }, i) => (
                <span key={id} style={{ marginRight: 12, whiteSpace: 'nowrap' }}>
                  <svg width="26" height="8" aria-hidden>
                    <line
                      x1="0"
                      x2="26"
                      y1="4"
                      y2="4"
                      stroke={LINES[i]?.stroke ?? 'var(--quiet)'}
                      strokeWidth="2.4"
                      strokeDasharray={LINES[i]?.dash}
                    />
                  </svg>{' '}
                  {label.toLowerCase()}
                </span>
              ))
            : `Dots: ${title.toLowerCase()}, ${unit}.`}
          {bandWords === undefined ? '' : ` Shaded: ${bandWords}`}
          {done ? ` Green ground: done${doneWords(done, unit)}.` : ''}
          {limit ? ' Dashed red: the line that ends it.' : ''}
        </>
      }
    >
      <ComposedChart data={data} margin={{ top: 20, right: 16, bottom: 4, left: 0 }} aria-label={sentence}>
        <XAxis
          {...AXIS}
          dataKey="day"
          type="number"
          domain={[0, lastDay]}
          ticks={ticks}
          tickFormatter={(day: number) => `day ${day}`}
        />
        <YAxis {...AXIS} domain={[0, top]} width={44} tickCount={5} />
        {done && goodGround(doneFrom, Math.max(doneTo, top * 0.02))}
        {limit && endLine(limit.value, limit.label)}
        {bandWords !== undefined && (
          <Area {...STILL} type="monotone" dataKey="band" stroke="none" fill="var(--gentian-tint)" fillOpacity={0.75} />
        )}
        {bandWords !== undefined && (
          <Line
            {...STILL}
            type="monotone"
            dataKey="middle"
            stroke="var(--gentian)"
            strokeWidth={1.4}
            strokeDasharray="5 4"
            dot={false}
          />
        )}
        {lines?.map(({ id, label }, i) => (
          <Line
            {...STILL}
            key={id}
            type="linear"
            dataKey={`line-${id}`}
            name={label}
            stroke={LINES[i]?.stroke ?? 'var(--quiet)'}
            strokeWidth={2.2}
            {...(LINES[i]?.dash === undefined ? {} : { strokeDasharray: LINES[i].dash })}
            dot={{ r: 4.5, fill: LINES[i]?.stroke ?? 'var(--quiet)', stroke: 'var(--tray)', strokeDasharray: '0' }}
          />
        ))}
        <Line
          {...STILL}
          type="linear"
          dataKey="value"
          stroke="var(--methylene)"
          strokeWidth={2.2}
          dot={{ r: 5, fill: 'var(--methylene)', stroke: 'var(--tray)', strokeWidth: 1.5 }}
        >
          <ErrorBar dataKey="off" direction="y" width={6} strokeWidth={1.4} stroke="var(--methylene)" />
        </Line>
        {nowLine(nowDay)}
        {told<ChartRow>((row) => {
          const said = words(row)
          return said.length === 0 ? null : [`day ${Number(row.day.toFixed(1))}`, ...said]
        })}
      </ComposedChart>
    </ChartFigure>
  )
}

/** Told apart by dash as well as by colour. */
const LINES: readonly { readonly stroke: string; readonly dash?: string }[] = [
  { stroke: 'var(--methylene)' },
  { stroke: 'var(--iodine)', dash: '7 3' },
  { stroke: 'var(--quiet)', dash: '2 4' },
]

const doneWords = ({ atLeast, atMost }: NonNullable<ChartProps['done']>, unit: string): string =>
  atMost === 0
    ? ', none'
    : atMost !== undefined
      ? `, ${atMost} ${unit} or less`
      : atLeast !== undefined
        ? `, ${atLeast} ${unit} or more`
        : ''

/** A round number at or above a value. */
function niceTop(value: number): number {
  const scale = 10 ** Math.floor(Math.log10(value))
  return ([1, 2, 2.5, 4, 5, 8, 10].find((step) => step * scale >= value * 1.05) ?? 10) * scale
}
function ticksOf(lastDay: number): number[] {
  const step = [1, 2, 3, 7, 14, 28].find((days) => lastDay / days <= 7) ?? 56
  return Array.from({ length: Math.floor(lastDay / step) + 1 }, (_, i) => i * step)
}
function describe(title: string, unit: string, rows: readonly ChartRow[], nowDay: number): string {
  const counted = rows.filter(({ value }) => value !== undefined)
  if (counted.length === 0) return `${title}: nothing counted yet.`
  const last = counted.at(-1)!
  return `${title}: ${counted.length} values, from ${trim(counted[0]!.value!)} to ${trim(last.value!)} ${unit} on day ${Math.round(last.day)}; today is day ${Math.round(nowDay)}.`
}
const trim = (value: number): string => String(Number(value.toPrecision(3)))
const cell = (value: number | undefined): string => (value === undefined ? '' : trim(value))
