// The planned level over the first week, with its band: an ordinary chart.
import type { AgentForm, CoursePreview } from '@brinvo/core'
import { Area, ComposedChart, ReferenceArea, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts'

export function PreviewChart({ preview, form }: { preview: CoursePreview; form: AgentForm }) {
  const lastH = (preview.doses.at(-1)?.atH ?? 0) + 72
  const rows = preview.curve.map(({ tH, mgPerL }) => ({ day: Math.min(tH, lastH) / 24, level: mgPerL }))
  const top = Number((form.hardMax * 1.15).toPrecision(2))
  return (
    <figure>
      <div style={{ height: 190 }}>
        <ResponsiveContainer width="100%" height="100%">
          <ComposedChart data={rows} margin={{ top: 8, right: 12, bottom: 4, left: 0 }}>
            <XAxis
              dataKey="day"
              type="number"
              domain={[0, lastH / 24]}
              tickCount={Math.round(lastH / 24) + 1}
              tickFormatter={(day: number) => `day ${day}`}
              stroke="var(--quiet)"
              fontSize={12.5}
            />
            <YAxis
              domain={[0, top]}
              width={42}
              stroke="var(--quiet)"
              fontSize={12.5}
              tickFormatter={(value: number) => String(Number(value.toFixed(2)))}
            />
            <ReferenceArea
              y1={form.band.min}
              y2={form.band.max}
              fill="var(--copper-tint)"
              fillOpacity={1}
              ifOverflow="extendDomain"
            />
            <ReferenceLine y={form.hardMax} stroke="var(--danger)" strokeDasharray="2 4" />
            <Area
              type="linear"
              dataKey="level"
              stroke="var(--gentian)"
              strokeWidth={2.2}
              fill="var(--gentian-tint)"
              fillOpacity={0.5}
              isAnimationActive={false}
            />
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <figcaption style={{ fontSize: 13, color: 'var(--quiet)' }}>
        Level in mg/L if every dose lands: tinted is the band {form.band.min}–{form.band.max}, dashed the hard maximum{' '}
        {form.hardMax}.
      </figcaption>
    </figure>
  )
}
