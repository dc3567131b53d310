// One set of parts for every chart: the same axis, ground, line of the end and of now; a place is told to the pointer, to a
// finger and to the arrow keys; the numbers stand in a table, and a sentence says it all to who cannot see it.
import type { ReactElement, ReactNode } from 'react'
import { ReferenceArea, ReferenceLine, ResponsiveContainer, Tooltip } from 'recharts'
import { styled } from 'styled-components'
import { DayTable } from '../design/primitives.tsx'

/** Letters and line of an axis. */
export const AXIS = { stroke: 'var(--quiet)', fontSize: 12.5 } as const
/** What is drawn stands: nothing grows into its place. */
export const STILL = { isAnimationActive: false, connectNulls: true } as const

const LABEL = { fontSize: 12.5 } as const
/** Where now is, on the axis of time. */
export const nowLine = (x: number): ReactElement => (
  <ReferenceLine
    x={x}
    stroke="var(--ink)"
    strokeWidth={1.6}
    label={{ ...LABEL, value: 'now', position: 'top', fill: 'var(--ink)' }}
  />
)
/** Ground on which it is as it should be. */
export const goodGround = (low: number, high: number): ReactElement => (
  <ReferenceArea y1={low} y2={high} fill="var(--malachite-tint)" fillOpacity={1} />
)
/** The line that ends it, or that is never to be passed. */
export const endLine = (
  y: number,
  label?: string,
  position: 'insideTopRight' | 'insideBottomLeft' = 'insideTopRight',
): ReactElement => (
  <ReferenceLine
    y={y}
    stroke="var(--danger)"
    strokeDasharray="3 4"
    {...(label === undefined ? {} : { label: { ...LABEL, value: label, position, fill: 'var(--danger)' } })}
  />
)

const Tip = styled.div`
  padding: 6px 10px;
  border: 1.5px solid var(--rim);
  border-radius: 9px;
  background: var(--tray);
  color: var(--ink);
  font-size: 14px;
  strong,
  span {
    display: block;
  }
`
/**
 * The place under the pointer, or the one the arrow keys stand on, in words. Null says nothing there.
 * @param say its first line, which stands strong, and the lines below
 */
export const told = <Row,>(say: (row: Row) => readonly string[] | null): ReactElement => (
  <Tooltip
    isAnimationActive={false}
    cursor={{ stroke: 'var(--rim)', strokeDasharray: '2 3' }}
    content={({ active, payload }) => {
      const row = payload[0]?.payload as Row | undefined
      const lines = active && row !== undefined ? say(row) : null
      if (lines === null || lines.length === 0) return null
      const [first, ...rest] = lines
      return (
        <Tip>
          <strong>{first}</strong>
          {rest.map((line) => (
            <span key={line}>{line}</span>
          ))}
        </Tip>
      )
    }}
  />
)

const Caption = styled.figcaption`
  padding-top: 5px;
  font-size: 13px;
  color: var(--quiet);
`
const Fold = styled.details`
  font-size: 14px;
  summary {
    min-height: 44px;
    display: inline-flex;
    align-items: center;
    cursor: pointer;
    color: var(--quiet);
    text-decoration: underline;
    text-underline-offset: 3px;
  }
`
const Scroll = styled.div`
  max-height: 320px;
  overflow: auto;
`
/** The numbers of a chart, folded. The last one is the first that is read. */
export function ChartTable({
  of,
  heads,
  rows,
}: {
  of: string
  heads: readonly string[]
  rows: readonly (readonly string[])[]
}) {
  if (rows.length === 0) return null
  return (
    <Fold>
      <summary>The numbers</summary>
      <Scroll tabIndex={0} role="region" aria-label={`The numbers: ${of}`}>
        <DayTable>
          <thead>
            <tr>
              {heads.map((head) => (
                <th key={head} scope="col">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row, i) => (
              <tr key={i}>
                {row.map((cell, j) => (
                  <td key={j}>{cell}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </DayTable>
      </Scroll>
    </Fold>
  )
}

/**
 * A chart in its frame.
 * @param title what it is of; @param sentence all of it in words, for who cannot see it
 * @param children one chart of Recharts
 */
export function ChartFigure({
  title,
  sentence,
  height,
  caption,
  heads,
  rows,
  children,
}: {
  title: string
  sentence: string
  height: number
  caption?: ReactNode
  heads: readonly string[]
  rows: readonly (readonly string[])[]
  children: ReactElement
}) {
  return (
    <figure aria-label={sentence}>
      <div style={{ height }}>
        <ResponsiveContainer width="100%" height="100%">
          {children}
        </ResponsiveContainer>
      </div>
      {caption !== undefined && <Caption>{caption}</Caption>}
      <ChartTable of={title} heads={heads} rows={rows} />
    </figure>
  )
}
