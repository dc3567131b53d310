// The planned level over the first week, with its band: an ordinary chart.
import type { AgentForm, CoursePreview } from '@brinvo/core'
import { Area, ComposedChart, ReferenceArea, XAxis, YAxis } from 'recharts'
import { AXIS, ChartFigure, STILL, endLine, told } from '../../parts/chart.tsx'

export function PreviewChart({ preview, form }: { preview: CoursePreview; form: AgentForm }) {
  const lastH = (preview.doses.at(-1)?.atH ?? 0) + 72
  const rows = preview.curve.map(({ tH, mgPerL }) => ({ day: Math.min(tH, lastH) / 24, level: mgPerL }))
  const top = Number((form.hardMax * 1.15).toPrecision(2))
  const trim = (value: number) => String(Number(value.toPrecision(3)))
  const sentence = `Level if every dose lands: ${trim(rows[0]?.level ?? 0)} to ${trim(Math.max(0, ...rows.map(({ level }) => level)))} mg/L over ${Math.round(lastH / 24)} days; band ${form.band.min} to ${form.band.max}, hard maximum ${form.hardMax}.`
  return (
    <ChartFigure
      title="the planned level"
      sentence={sentence}
      height={190}
      heads={['day', 'mg/L']}
      rows={rows.map(({ day, level }) => [String(Number(day.toFixed(2))), trim(level)])}
      caption={
        <>
          Level in mg/L if every dose lands: tinted is the band {form.band.min}–{form.band.max}, dashed the hard maximum{' '}
          {form.hardMax}.
        </>
      }
    >
      <ComposedChart data={rows} margin={{ top: 8, right: 12, bottom: 4, left: 0 }} aria-label={sentence}>
        <XAxis
          {...AXIS}
          dataKey="day"
          type="number"
          domain={[0, lastH / 24]}
          tickCount={Math.round(lastH / 24) + 1}
          tickFormatter={(day: number) => `day ${day}`}
        />
        <YAxis
          {...AXIS}
          domain={[0, top]}
          width={42}
          tickFormatter={(value: number) => String(Number(value.toFixed(2)))}
        />
        <ReferenceArea
          y1={form.band.min}
          y2={form.band.max}
          fill="var(--copper-tint)"
          fillOpacity={1}
          ifOverflow="extendDomain"
        />
        {endLine(form.hardMax)}
        <Area
          {...STILL}
          type="linear"
          dataKey="level"
          stroke="var(--gentian)"
          strokeWidth={2.2}
          fill="var(--gentian-tint)"
          fillOpacity={0.5}
        />
        {told<(typeof rows)[number]>(({ day, level }) => [`day ${Number(day.toFixed(1))}`, `${trim(level)} mg/L`])}
      </ComposedChart>
    </ChartFigure>
  )
}
