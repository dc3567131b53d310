// The ribbon: a whole course as one line of time on chart paper. What was earned is solid, what was refused is hatched,
// what is planned is dashed, and the end is as wide as it is unsure.
import {
  addDays,
  atHourOfDay,
  dayOf,
  formatDuration,
  ribbonDay,
  ribbonOf,
  type CourseDocument,
  type CoursePlan,
  type RibbonMark,
  type RibbonMarkKind,
} from '@brinvo/core'
import { scaleTime } from 'd3-scale'
import { useId, useMemo, useState, type KeyboardEvent, type PointerEvent } from 'react'
import { styled } from 'styled-components'
import { useRecord } from '../data/queries.tsx'
import { Choice } from '../design/fields.tsx'
import { placeLabels, type Label } from '../design/labels.ts'
import { DROP } from '../design/marks.tsx'
import { NARROW } from '../design/theme.ts'
import { useWidth } from '../design/useWidth.ts'
import { betweenDays, dayText, longDayText, plural } from '../design/words.ts'
import { useThePlans } from '../shell/PlansContext.tsx'
import { entryWords } from './entryWords.ts'
import { REFUSED, timeChart, timeKey } from './timeChart.ts'

const DAY = 86_400_000

/** Chart paper from edge to edge: a tray says what to do, paper says when. */
const Paper = styled.figure`
  grid-column: 1 / -1;
  margin-inline: calc(50% - 50vw);
  padding: 10px calc(50vw - 50% + 0px) 12px;
  background: var(--paper);
  border-block: 1.5px solid var(--rim);
  ${timeChart}
`
const Head = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  justify-content: space-between;
  align-items: center;
`
const Told = styled.p`
  min-height: 22px;
  font-size: 15px;
  ${NARROW} {
    min-height: 44px;
  }
`
const VIEWS = { course: 'Course', week: 'Week', day: 'Day' } as const

/** What a mark stands for, drawn: planned is dashed, late is filled with warning, left out is crossed. */
function Mark({ kind, state }: { kind: RibbonMarkKind; state: RibbonMark['state'] }) {
  const dashed = state === 'done' ? {} : { strokeDasharray: '2 2' }
  const fill = (colour: string) => (state === 'done' ? colour : state === 'late' ? 'var(--acriflavine)' : 'none')
  switch (kind) {
    case 'dose':
      return <path d={DROP} fill={fill('var(--copper)')} stroke="var(--copper)" strokeWidth="1.4" {...dashed} />
    case 'change':
      return (
        <rect
          x="-5.500"
          y="-5.500"
          width="11"
          height="11"
          fill={fill('var(--methylene)')}
          stroke="var(--ink)"
          strokeWidth="1.2"
          {...dashed}
        />
      )
    case 'bath':
    case 'move':
      return (
        <path
          d={kind === 'bath' ? 'M-6 -4V3A3 3 0 0 0 -3 6H3A3 3 0 0 0 6 3V-4' : 'M-6 -4L1 0L-6 4ZM1 -4L7 0L1 4Z'}
          fill={fill('var(--gentian)')}
          stroke="var(--gentian)"
          strokeWidth="1.4"
          {...dashed}
        />
      )
    case 'gate':
      return <path d="M-4 6V-5H4V6" fill="none" stroke="var(--ink)" strokeWidth="1.6" {...dashed} />
    case 'look':
    case 'count':
    case 'test':
      return (
        <circle
          r="4"
          fill={fill('var(--tray)')}
          stroke="var(--ink)"
          strokeWidth={state === 'done' ? 1.8 : 1.4}
          {...dashed}
        />
      )
    case 'work':
      return <path d="M-4 0L-1 4L5 -4" fill="none" stroke="var(--quiet)" strokeWidth="1.8" {...dashed} />
  }
}
const ROWS: Readonly<Record<RibbonMarkKind, number>> = {
  dose: 0,
  change: 0,
  bath: 0,
  move: 0,
  gate: 0,
  work: 0,
  test: 1,
  count: 1,
  look: 1,
}
const MARK_PX = 13
const LEFT = 8

export function Ribbon({ course, plan }: { course: CourseDocument; plan: CoursePlan }) {
  const { record, active } = useRecord()
  const { estimates, nowMs } = useThePlans()
  const { settings } = record
  const { zone } = settings
  const { ref, width } = useWidth()
  const [view, setView] = useState<keyof typeof VIEWS>('course')
  const [cursor, setCursor] = useState<number | null>(null)
  const hatch = useId()
  const fade = useId()
  const clock = estimates.get(course.id)?.clock ?? null
  const ribbon = useMemo(() => ribbonOf(course, plan, active, clock, nowMs), [course, plan, active, clock, nowMs])
  const today = dayOf(nowMs, zone)
  const midnight = (day: string) => atHourOfDay(day, 0, zone)
  const [fromMs, toMs] =
    view === 'course'
      ? [ribbon.fromMs, ribbon.toMs + 0.02 * (ribbon.toMs - ribbon.fromMs)]
      : view === 'week'
        ? [midnight(addDays(today, -3)), midnight(addDays(today, 4))]
        : [midnight(today), midnight(addDays(today, 1))]
  const right = width - 6
  const x = scaleTime().domain([fromMs, toMs]).range([LEFT, right])
  const at = (ms: number) => Math.min(right, Math.max(LEFT, x(ms)))
  const within = (ms: number) => ms >= fromMs && ms <= toMs

  // Days of the axis: as many words as there is room for, the week's first day heavier.
  const days: { ms: number; day: string; week: boolean }[] = []
  for (let day = dayOf(fromMs, zone); midnight(day) <= toMs && days.length < 800; day = addDays(day, 1))
    if (midnight(day) >= fromMs)
      days.push({ ms: midnight(day), day, week: new Date(`${day}T12:00:00Z`).getUTCDay() === 1 })
  const hours = view === 'day' ? [0, 6, 12, 18].map((hour) => ({ hour, ms: atHourOfDay(today, hour, zone) })) : []
  const pxPerDay = (right - LEFT) / Math.max(1, (toMs - fromMs) / DAY)
  const dayLabels: Label[] = days
    .filter(({ week }) => week || pxPerDay > 84)
    .map(({ ms, day, week }) => ({
      id: day,
      text: dayText(ms + DAY / 2, settings),
      x: at(ms) + 3,
      size: 13,
      rank: week ? 2 : 1,
    }))
  const placedDays = placeLabels(
    view === 'day'
      ? hours.map(({ hour, ms }) => ({ id: `h${hour}`, text: `${hour}:00`, x: at(ms) + 3, size: 13, rank: 1 }))
      : dayLabels,
    { from: LEFT, to: right, gap: 10, lines: 1 },
  )
  const phases = ribbon.phases.filter((phase) => phase.toMs > fromMs && phase.fromMs < toMs)
  const placedPhases = placeLabels(
    // What lasted minutes is a line, and has no room for words.
    phases
      .filter((phase) => phase.state === 'now' || at(phase.toMs) - at(phase.fromMs) > 6)
      .map((phase) => ({
        id: phase.id,
        text: phase.title,
        x: at(phase.fromMs) + 2,
        size: 13,
        rank: phase.state === 'now' ? 3 : phase.state === 'ahead' ? 2 : 1,
      })),
    { from: LEFT, to: right, gap: 12, lines: 2 },
  )
  const phaseLines = Math.max(1, ...placedPhases.map(({ line }) => line + 1))
  const axisY = 16 * phaseLines + 14
  const bandY = axisY + 19
  const markY = bandY + 40
  const height = markY + 32

  // One mark for what happened in the same few pixels.
  const marks: (RibbonMark & { readonly px: number; readonly more: number })[] = []
  for (const mark of ribbon.marks) {
    if (!within(mark.ms)) continue
    const px = at(mark.ms)
    const same = marks.findLast((one) => ROWS[one.kind] === ROWS[mark.kind])
    if (same && px - same.px < MARK_PX) marks[marks.indexOf(same)] = { ...same, more: same.more + 1 }
    else marks.push({ ...mark, px, more: 0 })
  }

  const shownDay = dayOf(cursor ?? nowMs, zone)
  const dayMs = midnight(shownDay)
  const told = ribbonDay(ribbon, dayMs, midnight(addDays(shownDay, 1)))
  // Several phases may begin on one day: of today's, the one that stands now is told.
  const standing = shownDay === today ? ribbon.phases.find(({ state }) => state === 'now') : undefined
  const said = [
    (standing ?? told.phase)?.title ?? '',
    ...(told.creditedH >= 0.5 ? [`${formatDuration(told.creditedH)} credited`] : []),
    ...(told.refusedH >= 0.5
      ? [`${formatDuration(told.refusedH)} refused${told.reason ? `, ${REFUSED[told.reason]}` : ''}`]
      : []),
    ...told.marks.map((mark) => {
      const entry = mark.entryId === undefined ? undefined : record.entries.find(({ id }) => id === mark.entryId)
      return entry ? entryWords(entry, record) : `${mark.title ?? ''} ${mark.state === 'late' ? '(late)' : '(planned)'}`
    }),
  ].filter((words) => words !== '')
  const words =
    said.slice(0, 6).join(' · ') + (said.length > 6 ? ` · and ${plural(said.length - 6, 'thing')} more` : '')
  const move = (ms: number) => setCursor(Math.min(toMs - 1, Math.max(fromMs, ms)))
  const onKey = (event: KeyboardEvent) => {
    const next = timeKey(event, cursor ?? nowMs, [fromMs, toMs], [DAY, 7 * DAY])
    if (next === undefined) return
    if (next === null) setCursor(null)
    else move(next)
    event.preventDefault()
  }
  const onPointer = (event: PointerEvent<SVGSVGElement>) => {
    if (event.type === 'pointermove' && event.pointerType === 'touch' && event.buttons === 0) return
    const bounds = event.currentTarget.getBoundingClientRect()
    move(x.invert(Math.min(right, Math.max(LEFT, event.clientX - bounds.left))).getTime())
  }
  const { end } = ribbon
  const spread = end.latestMs - end.earliestMs >= DAY
  const solidTo = end.by === 'over' ? end.earliestMs : Math.min(nowMs, end.earliestMs)
  return (
    <Paper aria-label="The course as a line of time">
      <Head>
        <p>
          {end.by === 'over' ? (
            <>
              {course.body.endedAt === undefined ? 'Run through since' : 'Ended'}{' '}
              <strong>{longDayText(end.earliestMs, settings)}</strong>
            </>
          ) : (
            <>
              Ends{' '}
              <strong>
                {spread
                  ? betweenDays(longDayText(end.earliestMs, settings), longDayText(end.latestMs, settings))
                  : longDayText(end.earliestMs, settings)}
              </strong>
              : {endWords(end)}
            </>
          )}
        </p>
        <Choice
          label="Stretch of the ribbon"
          hideLabel
          value={view}
          onChange={setView}
          options={Object.entries(VIEWS).map(([value, label]) => ({ value: value as keyof typeof VIEWS, label }))}
        />
      </Head>
      <div ref={ref}>
        <svg
          role="slider"
          tabIndex={0}
          aria-label="Ribbon: move through the days with the arrow keys"
          aria-valuemin={fromMs}
          aria-valuemax={toMs}
          aria-valuenow={cursor ?? nowMs}
          aria-valuetext={`${dayText(dayMs + DAY / 2, settings)}: ${words || 'nothing recorded'}`}
          height={height}
          viewBox={`0 0 ${width} ${height}`}
          onKeyDown={onKey}
          onPointerDown={onPointer}
          onPointerMove={onPointer}
          onPointerLeave={(event) => event.pointerType === 'mouse' && setCursor(null)}
        >
          <defs>
            <pattern id={hatch} width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <rect width="8" height="8" fill="var(--paper)" />
              <rect width="4" height="8" fill="var(--acriflavine)" />
            </pattern>
            <linearGradient id={fade}>
              <stop offset="0" stopColor="var(--malachite)" stopOpacity="0.55" />
              <stop offset="1" stopColor="var(--malachite)" stopOpacity="0" />
            </linearGradient>
          </defs>
          {days.map(({ ms, day, week }) =>
            pxPerDay < 5 && !week ? null : (
              <path
                key={day}
                d={`M${at(ms)} ${axisY + 4}V${height}`}
                stroke="var(--grid)"
                strokeWidth={week ? 1.6 : 0.8}
              />
            ),
          )}
          {cursor !== null && (
            <rect
              x={at(dayMs)}
              y={axisY + 4}
              width={Math.max(3, at(midnight(addDays(shownDay, 1))) - at(dayMs))}
              height={height - axisY - 4}
              fill="var(--later)"
            />
          )}
          {placedPhases.map(({ id, x: px, line, text }) => (
            <text
              key={id}
              x={px}
              y={13 + 16 * line}
              {...(phases.find((one) => one.id === id)?.state === 'now' ? { 'data-strong': '' } : {})}
            >
              {text}
            </text>
          ))}
          {placedDays.map(({ id, x: px, text }) => (
            <text key={id} x={px} y={axisY}>
              {text}
            </text>
          ))}
          {/* What is planned, dashed; what has gone by, over it. */}
          <rect
            x={at(fromMs > ribbon.fromMs ? fromMs : ribbon.fromMs)}
            y={bandY}
            width={Math.max(0, at(end.earliestMs) - at(Math.max(fromMs, ribbon.fromMs)))}
            height="26"
            fill="none"
            stroke="var(--malachite)"
            strokeWidth="1.4"
            strokeDasharray="4 4"
          />
          {ribbon.stretches.length === 0 && solidTo > fromMs && (
            <rect
              x={at(ribbon.fromMs)}
              y={bandY}
              width={Math.max(0, at(solidTo) - at(ribbon.fromMs))}
              height="26"
              fill="var(--malachite)"
            />
          )}
          {ribbon.stretches.map((stretch) => {
            const a = at(stretch.fromMs)
            const b = at(stretch.toMs)
            if (b - a < 0.4 || stretch.toMs < fromMs || stretch.fromMs > toMs) return null
            return (
              <rect
                key={stretch.fromMs}
                x={a}
                y={bandY}
                width={Math.max(1, b - a)}
                height="26"
                fill={
                  stretch.kind === 'credited'
                    ? 'var(--malachite)'
                    : stretch.kind === 'not-started'
                      ? 'var(--paper)'
                      : `url(#${hatch})`
                }
                stroke={stretch.kind === 'not-started' ? 'var(--quiet)' : 'none'}
              />
            )
          })}
          {phases
            .slice(1)
            .map((phase) =>
              within(phase.fromMs) ? (
                <path
                  key={phase.id}
                  d={`M${at(phase.fromMs)} ${bandY - 5}V${bandY + 31}`}
                  stroke="var(--ink)"
                  strokeWidth="1.4"
                  {...(phase.state === 'ahead' ? { strokeDasharray: '3 3' } : {})}
                />
              ) : null,
            )}
          {spread && end.latestMs > fromMs && end.earliestMs < toMs && (
            <rect
              x={at(end.earliestMs)}
              y={bandY - 3}
              width={Math.max(4, at(end.latestMs) - at(end.earliestMs))}
              height="32"
              fill={`url(#${fade})`}
            />
          )}
          {marks.map((mark) => (
            <g
              key={`${mark.kind}-${mark.ms}-${mark.entryId ?? mark.title ?? ''}`}
              transform={`translate(${mark.px} ${markY + 18 * ROWS[mark.kind]})`}
            >
              <Mark kind={mark.kind} state={mark.state} />
            </g>
          ))}
          {within(nowMs) && (
            <g>
              <path d={`M${at(nowMs)} ${bandY - 6}V${height}`} stroke="var(--rim)" strokeWidth="2.500" />
              <path
                d={`M${at(nowMs) - 7} ${bandY - 14}H${at(nowMs) + 7}L${at(nowMs)} ${bandY - 5}Z`}
                fill="var(--rim)"
              />
            </g>
          )}
        </svg>
      </div>
      <Told aria-hidden>
        <strong>
          {dayText(dayMs + DAY / 2, settings)}
          {shownDay === today && ', today'}
        </strong>{' '}
        {words || 'nothing recorded'}
      </Told>
    </Paper>
  )
}

/** What the end hangs on, in words. */
function endWords({ by, provenShare }: ReturnType<typeof ribbonOf>['end']): string {
  switch (by) {
    case 'hours-proven':
      return provenShare === null
        ? 'if every hour from here on is proven.'
        : `sooner if every hour is proven, later at the rate so far, ${Math.round(100 * provenShare)} % of them.`
    case 'host-inside':
      return 'if the last fish goes out now: nothing counts before it does.'
    case 'nothing-goes-in':
      return 'if no fish and nothing wet goes in.'
    case 'answers':
      return 'sooner if every look and count answers at once.'
    case 'over':
      return ''
  }
}
