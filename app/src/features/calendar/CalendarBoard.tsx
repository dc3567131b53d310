// Chart paper with a row to each vessel. What has gone by is solid, what is to come is dashed, an end is as wide as it is
// unsure. A planned start is moved with the pointer or the arrow keys.
import { addDays, atHourOfDay, dayOf, type CalendarBar, type HouseCalendar, vesselVolume } from '@brinvo/core'
import { useId, useRef } from 'react'
import { useMove } from 'react-aria'
import { Link } from 'react-router'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { labelWidth, placeLabels } from '../../design/labels.ts'
import { VesselOutline } from '../../design/marks.tsx'
import { NARROW } from '../../design/theme.ts'
import { useWidth } from '../../design/useWidth.ts'
import { dayText, litresText, longDayText } from '../../design/words.ts'
import { useThePlans } from '../../shell/PlansContext.tsx'

export const DAY = 86_400_000
export interface Window {
  readonly fromMs: number
  readonly toMs: number
}
/** Height of a lane: its words, its band, the air below. */
const LANE = 46
const BAND_TOP = 21
const BAND = 16
/** Width of the vessels' names. */
const LEFT = 152

const Board = styled.figure`
  margin: 0;
  background: var(--paper);
  border-block: 1.5px solid var(--rim);
  padding: 0 28px 10px;
  position: relative;
  ${NARROW} {
    padding-inline: 14px;
  }
  @media print {
    break-inside: avoid;
    border-color: #10262b;
  }
`
const Axis = styled.div`
  position: relative;
  height: 28px;
  span {
    position: absolute;
    top: 6px;
    font-size: 13px;
    color: var(--quiet);
    white-space: nowrap;
  }
`
const Grid = styled.svg`
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  pointer-events: none;
`
const Rows = styled.div`
  position: relative;
`
const Lines = styled.ol`
  position: relative;
`
const Line = styled.li`
  display: grid;
  grid-template-columns: ${LEFT}px minmax(0, 1fr);
  align-items: start;
  border-top: 1px solid var(--hairline);
  padding: 6px 0;
  ${NARROW} {
    grid-template-columns: minmax(0, 1fr);
  }
`
const Who = styled.div`
  display: flex;
  gap: 8px;
  align-items: center;
  min-width: 0;
  padding-right: 10px;
  ${NARROW} {
    /* Over the pen: what it would cross is to be read. */
    position: relative;
    z-index: 2;
    background: var(--paper);
    width: fit-content;
  }
  svg {
    flex: none;
    height: 24px;
  }
  a,
  strong {
    display: block;
    font-weight: 700;
    font-size: 15px;
    text-underline-offset: 3px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  small {
    color: var(--quiet);
    font-size: 13px;
  }
  > div {
    min-width: 0;
  }
`
const Lanes = styled.div`
  position: relative;
`
const Bar = styled.div`
  position: absolute;
  height: ${LANE - 2}px;
`
const Name = styled.div`
  position: absolute;
  top: 1px;
  height: 19px;
  font-size: 14px;
  line-height: 19px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  background: var(--paper);
  padding-right: 3px;
  /* Over the pen: what it would cross is to be read. */
  z-index: 2;
  a,
  button {
    all: unset;
    cursor: pointer;
    font-weight: 650;
    text-decoration: underline;
    text-decoration-thickness: 1px;
    text-underline-offset: 3px;
  }
  a:focus-visible,
  button:focus-visible {
    outline: 3px solid var(--focus);
    outline-offset: -3px;
  }
`
const Handle = styled.div`
  position: absolute;
  top: ${BAND_TOP - 6}px;
  width: 28px;
  height: 28px;
  margin-left: -14px;
  border-radius: 14px;
  border: 2px solid var(--ink);
  background: var(--acriflavine);
  color: #10262b;
  display: grid;
  place-items: center;
  cursor: ew-resize;
  touch-action: none;
  z-index: 2;
  &:focus-visible {
    outline: 3px solid var(--focus);
    outline-offset: 2px;
  }
  &::before {
    content: '';
    position: absolute;
    inset: -8px;
  }
  @media print {
    display: none;
  }
`

/** A bar with where it and its name lie, px within the row. */
interface Placed {
  readonly bar: CalendarBar
  readonly lane: number
  readonly nameX: number
  readonly nameWidth: number
}

/** Bars of a row on as few lanes as their words and bands allow. */
export function laneBars(
  bars: readonly CalendarBar[],
  at: (ms: number) => number,
  width: number,
): { readonly placed: readonly Placed[]; readonly lanes: number } {
  const ends: number[] = []
  const placed = bars.map((bar) => {
    const from = Math.max(0, at(bar.fromMs))
    const to = Math.min(width, at(Math.max(bar.latestMs, bar.releaseMs)))
    const handle = bar.state === 'planned' ? 18 : 0
    const nameWidth = Math.min(width, labelWidth(bar.title, 14) + 8)
    const nameX = Math.max(0, Math.min(from, width - nameWidth))
    const right = Math.max(to, nameX + nameWidth) + 12
    const left = Math.min(from - handle, nameX)
    let lane = ends.findIndex((end) => end <= left)
    if (lane < 0) lane = ends.length
    ends[lane] = right
    return { bar, lane, nameX, nameWidth }
  })
  return { placed, lanes: Math.max(1, ends.length) }
}

export function CalendarBoard({
  calendar,
  window: { fromMs, toMs },
  onHold,
  onLetGo,
  onOpen,
}: {
  calendar: HouseCalendar
  window: Window
  onHold: (id: string, day: string) => void
  onLetGo: () => void
  onOpen: (bar: CalendarBar) => void
}) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const { settings } = record
  const { zone } = settings
  const { ref, width: whole } = useWidth()
  const narrow = whole < 560
  const left = narrow ? 0 : LEFT
  const width = whole - left
  const at = (ms: number) => ((ms - fromMs) / (toMs - fromMs)) * width
  const within = (ms: number) => ms > fromMs && ms < toMs
  const weeks: { ms: number; day: string }[] = []
  for (let day = dayOf(fromMs, zone); weeks.length < 80; day = addDays(day, 1)) {
    const ms = atHourOfDay(day, 0, zone)
    if (ms >= toMs) break
    if (ms >= fromMs && new Date(`${day}T12:00:00Z`).getUTCDay() === 1) weeks.push({ ms, day })
  }
  const perWeek = at(fromMs + 7 * DAY)
  const names = placeLabels(
    weeks.map(({ ms, day }, i) => ({
      id: day,
      text: dayText(ms + DAY / 2, settings).replace(/^\w+,? /, ''),
      x: at(ms),
      size: 13,
      rank: i % 4 === 0 ? 3 : i % 2 === 0 ? 2 : 1,
    })),
    { from: 0, to: width, gap: 8, lines: 1 },
  )
  const seen = calendar.bars.filter((bar) => Math.max(bar.latestMs, bar.releaseMs) > fromMs && bar.fromMs < toMs)
  const vessels = [...record.vessels.values()]
    .filter(({ id, body }) => body.archivedAt === undefined || seen.some(({ vesselId }) => vesselId === id))
    .sort((a, b) => a.body.sortOrder - b.body.sortOrder)
  const largest = Math.max(1, ...vessels.map((vessel) => vesselVolume(vessel)?.litres ?? vessel.body.nominalL))
  const homeless = seen.filter(({ vesselId }) => vesselId === null || !record.vessels.has(vesselId))
  const { home } = calendar
  return (
    <Board aria-label="Vessels and weeks">
      <div ref={ref}>
        <Axis style={{ marginLeft: left }}>
          {names.map(({ id, text, x }) => (
            <span key={id} style={{ left: x }}>
              {text}
            </span>
          ))}
        </Axis>
        <Rows>
          <Grid aria-hidden style={{ left, width }}>
            {weeks
              .filter((_, i) => perWeek >= 10 || i % 4 === 0)
              .map(({ ms, day }) => (
                <line key={day} x1={at(ms)} x2={at(ms)} y1="0" y2="100%" stroke="var(--grid)" strokeWidth="1.2" />
              ))}
            {home && within(home.endMs) && (
              <line
                x1={at(home.endMs)}
                x2={at(home.endMs)}
                y1="0"
                y2="100%"
                stroke="var(--malachite)"
                strokeWidth="2.5"
                strokeDasharray="6 5"
              />
            )}
          </Grid>
          <Lines>
            {vessels.map((vessel) => (
              <VesselLine
                key={vessel.id}
                name={
                  <Who>
                    <VesselOutline
                      litres={vesselVolume(vessel)?.litres ?? vessel.body.nominalL}
                      largest={largest}
                      height={24}
                    />
                    <div>
                      <Link to={`/vessels/${vessel.id}`}>{vessel.body.name}</Link>
                      <small>{litresText(vesselVolume(vessel)?.litres ?? vessel.body.nominalL, settings)}</small>
                    </div>
                  </Who>
                }
                bars={seen.filter(({ vesselId }) => vesselId === vessel.id)}
                arrivals={calendar.arrivals.filter(
                  ({ vesselIds, ms }) => vesselIds.includes(vessel.id) && ms >= fromMs && ms < toMs,
                )}
                {...{ at, width, onHold, onLetGo, onOpen }}
              />
            ))}
            {homeless.length > 0 && (
              <VesselLine
                name={
                  <Who>
                    <div>
                      <strong>No vessel yet</strong>
                      <small>planned</small>
                    </div>
                  </Who>
                }
                bars={homeless}
                arrivals={[]}
                {...{ at, width, onHold, onLetGo, onOpen }}
              />
            )}
          </Lines>
          <Grid aria-hidden style={{ left, width, zIndex: 1 }}>
            {within(nowMs) && (
              <>
                <line x1={at(nowMs)} x2={at(nowMs)} y1="0" y2="100%" stroke="var(--rim)" strokeWidth="2.5" />
                <path d={`M${at(nowMs) - 7} 0H${at(nowMs) + 7}L${at(nowMs)} 9Z`} fill="var(--rim)" />
              </>
            )}
          </Grid>
        </Rows>
      </div>
    </Board>
  )
}

interface Moves {
  readonly at: (ms: number) => number
  readonly width: number
  /** The day to which a planned start is being moved. */
  readonly onHold: (id: string, day: string) => void
  readonly onLetGo: () => void
  readonly onOpen: (bar: CalendarBar) => void
}

function VesselLine({
  name,
  bars,
  arrivals,
  ...moves
}: {
  name: React.ReactNode
  bars: readonly CalendarBar[]
  arrivals: HouseCalendar['arrivals']
} & Moves) {
  const { record } = useRecord()
  const { at, width } = moves
  const { placed, lanes } = laneBars(bars, at, width)
  return (
    <Line>
      {name}
      <Lanes style={{ height: lanes * LANE + (arrivals.length > 0 ? 22 : 0) }}>
        {placed.map((one) => (
          <BarView key={one.bar.id} {...one} {...moves} />
        ))}
        {arrivals.map(({ id, name: of, ms }) => (
          <Name
            key={id}
            style={{ top: lanes * LANE, left: Math.min(at(ms) - 5, width - labelWidth(of, 14) - 22), maxWidth: width }}
          >
            <svg width="12" height="12" aria-hidden style={{ marginRight: 5 }}>
              <path d="M1 4L6 1L11 4V10H1Z" fill="none" stroke="var(--ink)" strokeWidth="1.5" />
            </svg>
            <Link to={`/arrivals/${id}`} aria-label={`${of}, ${longDayText(ms, record.settings)}`}>
              {of}
            </Link>
          </Name>
        ))}
      </Lanes>
    </Line>
  )
}

function BarView({ bar, lane, nameX, nameWidth, at, width, onHold, onLetGo, onOpen }: Placed & Moves) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const { settings } = record
  const fade = useId()
  const inside = (ms: number) => Math.min(width, Math.max(0, at(ms)))
  const from = inside(bar.fromMs)
  const end = inside(bar.endMs)
  const release = inside(Math.max(bar.releaseMs, bar.endMs))
  const latest = inside(bar.latestMs)
  const gone = bar.state === 'planned' ? from : inside(Math.min(nowMs, bar.endMs))
  const told = `${bar.title}, ${longDayText(bar.fromMs, settings)} to ${longDayText(bar.releaseMs, settings)}`
  return (
    <Bar style={{ top: lane * LANE, left: 0, width }}>
      <svg
        width={width}
        height={LANE - 2}
        aria-hidden
        style={{ position: 'absolute', inset: 0, pointerEvents: 'none' }}
      >
        <defs>
          <linearGradient id={fade}>
            <stop offset="0" stopColor="var(--malachite)" stopOpacity="0.55" />
            <stop offset="1" stopColor="var(--malachite)" stopOpacity="0" />
          </linearGradient>
        </defs>
        {release > end + 1 && (
          <rect
            x={end}
            y={BAND_TOP + 4}
            width={release - end}
            height={BAND - 8}
            fill="none"
            stroke="var(--quiet)"
            strokeDasharray="3 4"
          />
        )}
        <rect
          x={from}
          y={BAND_TOP}
          width={Math.max(2, end - from)}
          height={BAND}
          fill="var(--paper)"
          stroke={bar.state === 'over' ? 'none' : 'var(--malachite)'}
          strokeWidth="1.5"
          strokeDasharray="4 4"
        />
        <rect
          x={from}
          y={BAND_TOP}
          width={Math.max(bar.state === 'planned' ? 0 : 2, gone - from)}
          height={BAND}
          fill={bar.state === 'over' ? 'var(--hairline)' : 'var(--malachite)'}
        />
        {bar.phases.slice(1).map((phase) => {
          const x = inside(phase.fromMs)
          return x > from && x < end ? (
            <line
              key={phase.id}
              x1={x}
              x2={x}
              y1={BAND_TOP - 3}
              y2={BAND_TOP + BAND + 3}
              stroke="var(--ink)"
              strokeWidth="1.2"
              {...(phase.state === 'ahead' ? { strokeDasharray: '3 3' } : {})}
            />
          ) : null
        })}
        {latest > end + 2 && (
          <rect x={end} y={BAND_TOP - 2} width={latest - end} height={BAND + 4} fill={`url(#${fade})`} />
        )}
      </svg>
      <Name style={{ left: nameX, maxWidth: Math.min(nameWidth + 8, width - nameX) }} title={told}>
        {bar.state === 'planned' ? (
          <button type="button" onClick={() => onOpen(bar)} aria-label={`${told}: change it`}>
            {bar.title}
          </button>
        ) : (
          <Link to={`/courses/${bar.id}`} aria-label={told}>
            {bar.title}
          </Link>
        )}
      </Name>
      {bar.state === 'planned' && at(bar.fromMs) >= 0 && at(bar.fromMs) <= width && (
        <Mover bar={bar} at={at} onHold={onHold} onLetGo={onLetGo} />
      )}
    </Bar>
  )
}

/** The grip of a planned start: dragged by days, or moved by the arrow keys, with shift by weeks. */
function Mover({ bar, at, onHold, onLetGo }: { bar: CalendarBar } & Pick<Moves, 'at' | 'onHold' | 'onLetGo'>) {
  const { record } = useRecord()
  const { settings } = record
  /** Where it lay when it was taken hold of, and by how much it has been moved since. */
  const moved = useRef({ fromMs: 0, px: 0, days: 0 })
  const perDay = at(bar.fromMs + DAY) - at(bar.fromMs)
  const { moveProps } = useMove({
    onMoveStart: () => {
      moved.current = { fromMs: bar.fromMs, px: 0, days: 0 }
    },
    onMove: ({ deltaX, pointerType, shiftKey }) => {
      const { current } = moved
      if (pointerType === 'keyboard') current.days += Math.sign(deltaX) * (shiftKey ? 7 : 1)
      else {
        current.px += deltaX
        current.days = Math.round(current.px / perDay)
      }
      onHold(bar.id, addDays(dayOf(current.fromMs, settings.zone), current.days))
    },
    onMoveEnd: onLetGo,
  })
  return (
    <Handle
      {...moveProps}
      role="slider"
      tabIndex={0}
      aria-label={`Start of ${bar.title}`}
      aria-valuenow={Math.round(bar.fromMs / DAY)}
      aria-valuetext={`${longDayText(bar.fromMs, settings)}, over ${longDayText(bar.releaseMs, settings)}`}
      style={{ left: at(bar.fromMs) }}
    >
      <svg width="16" height="10" aria-hidden>
        <path d="M5 1L1 5L5 9M11 1L15 5L11 9M1 5H15" fill="none" stroke="currentColor" strokeWidth="1.8" />
      </svg>
    </Handle>
  )
}
