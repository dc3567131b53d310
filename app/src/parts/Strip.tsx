// The strip: one continuous chart of a vessel. Time runs left to right, lanes share one axis, now is a fixed pen line,
// what is planned is ghosted right of it. Scrub to any hour and read the tank as the record knows it then.
import {
  ANALYTES,
  formatDuration,
  instantMs,
  startOfDay,
  addDays,
  atHourOfDay,
  dayOf,
  daysBetween,
  type CourseEstimate,
  type CoursePlan,
  type Entry,
  type Step,
  fromCanonical,
  preferredUnit,
  signOf,
  usualRange,
  type UsualRange,
} from '@brinvo/core'
import { scaleLinear, scaleTime } from 'd3-scale'
import { area, curveLinear, line } from 'd3-shape'
import { useId, useMemo, useState, type KeyboardEvent, type PointerEvent } from 'react'
import { styled } from 'styled-components'
import { useRecord } from '../data/queries.tsx'
import { labelWidth, placeLabels, type Label } from '../design/labels.ts'
import { DROP, ChangeMark, DoseMark, MealMark, ReadingMark, SignMark } from '../design/marks.tsx'
import { NARROW } from '../design/theme.ts'
import { useWidth } from '../design/useWidth.ts'
import { dayText, levelText, percentText, preferencesOf, temperatureText, timeText } from '../design/words.ts'
import { REFUSED, timeChart, timeKey } from './timeChart.ts'

const HOUR = 3_600_000

const Frame = styled.figure`
  position: relative;
  ${timeChart}
  text[data-tone='copper'] {
    fill: var(--copper);
  }
  text[data-tone='danger'] {
    fill: var(--danger);
  }
`
const Readout = styled.p`
  min-height: 44px;
  padding: 8px 0 4px;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  align-items: baseline;
  b {
    font-weight: 700;
  }
  ${NARROW} {
    min-height: 66px;
  }
`
const Legend = styled.figcaption`
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  padding-top: 8px;
  font-size: 13px;
  color: var(--quiet);
  span {
    display: inline-flex;
    align-items: center;
    gap: 5px;
    white-space: nowrap;
  }
  svg {
    flex: none;
    width: auto;
  }
  i {
    display: inline-block;
    width: 22px;
    height: 11px;
    border-radius: 3px;
  }
`
/** Analytes that get a lane of their own where they were read. */
const OTHER_LANES = [
  'ammonia-free',
  'salinity',
  'conductivity',
  'ph',
  'oxygen',
  'alkalinity',
  'calcium',
  'magnesium',
  'potassium',
  'nitrite',
  'nitrate',
  'phosphate',
  'silicate',
] as const

/** Tint and scale of a small lane: the usual range of such a vessel, widened to what was read. */
function laneRange(
  readings: readonly { readonly value: number }[],
  usual: UsualRange | null,
  shown: (value: number) => number = (value) => value,
) {
  const values = readings.map(({ value }) => value)
  const low = usual?.min ?? Math.min(...values)
  const high = usual?.max ?? Math.max(...values)
  const margin = Math.max((high - low) * 0.35, Math.abs(high) * 0.01, 1e-6)
  return {
    low,
    high,
    min: Math.min(low - (low > 0 ? margin : 0), ...values),
    max: Math.max(high + margin, ...values),
    note: usual ? `usual ${Number(shown(low).toPrecision(4))}–${Number(shown(high).toPrecision(4))}` : '',
    shown,
  }
}

export interface StripProps {
  readonly vesselId: string
  readonly plan: CoursePlan | null
  readonly estimate: CourseEstimate | null
  /** Hour 0 of the estimate's series. */
  readonly originMs: number | null
  readonly nowMs: number
  readonly fromMs: number
  readonly toMs: number
}

export function Strip({ vesselId, plan, estimate, originMs, nowMs, fromMs, toMs }: StripProps) {
  const { record, active } = useRecord()
  const { settings } = record
  const warmthUnit = preferredUnit('temperature', preferencesOf(settings))
  const { ref, width } = useWidth()
  const [cursor, setCursor] = useState<number | null>(null)
  const hatch = useId()
  const narrow = width < 560
  const left = narrow ? 8 : 92
  const right = width - 10

  const entries = useMemo(
    () =>
      active.filter(
        (entry) =>
          'vesselId' in entry &&
          entry.vesselId === vesselId &&
          instantMs(entry.at) >= fromMs &&
          instantMs(entry.at) <= toMs,
      ),
    [active, vesselId, fromMs, toMs],
  )
  const band = plan?.band ?? null
  const of = (analyte: string) =>
    entries.filter((entry) => entry.kind === 'reading' && entry.analyte === analyte) as Extract<
      Entry,
      { kind: 'reading' }
    >[]
  const levels = band ? of(band.form.agent) : []
  const ammonia = of('ammonia-total')
  const temperature = of('temperature')
  const vessel = record.vessels.get(vesselId)
  const others = OTHER_LANES.map((analyte) => ({ analyte, readings: of(analyte) })).filter(
    ({ readings }) => readings.length > 0,
  )

  const x = scaleTime().domain([fromMs, toMs]).range([left, right])
  const at = (ms: number) => x(ms) ?? left
  let top = 30
  const lane = (height: number) => {
    const y0 = top
    top += height
    return { y0, y1: top, height }
  }
  const hasLevel = band !== null && originMs !== null
  const levelLane = hasLevel ? lane(narrow ? 210 : 232) : null
  const doseLane = hasLevel ? lane(24) : null
  const sentence = estimate ? clockSentence(estimate).split(' · ') : []
  const sentenceLines = narrow ? sentence : [sentence.join(' · ')]
  const clockLane = estimate?.clock ? lane(46 + 16 * sentenceLines.length) : null
  const ammoniaLane = ammonia.length > 0 ? lane(74) : null
  const tempLane = temperature.length > 0 ? lane(64) : null
  const otherLanes = others.map((other) => ({ ...other, lane: lane(60) }))
  const doneLane = lane(66)
  const height = top + 6

  const days: { ms: number; label: string; today: boolean }[] = []
  const everyDays = Math.max(
    1,
    Math.ceil((daysBetween(fromMs, toMs, settings.zone) * (narrow ? 46 : 54)) / Math.max(1, right - left)),
  )
  for (let day = dayOf(fromMs, settings.zone), i = 0; i < 400; day = addDays(day, 1), i++) {
    const ms = atHourOfDay(day, 0, settings.zone)
    if (ms > toMs) break
    const today = day === dayOf(nowMs, settings.zone)
    const since = originMs !== null ? daysBetween(originMs, ms + HOUR, settings.zone) : null
    const shown = since !== null ? (since >= 0 ? `day ${since}` : '') : dayText(ms + HOUR, settings)
    const px = left + ((Math.max(ms, fromMs) - fromMs) / (toMs - fromMs)) * (right - left)
    const besideToday = everyDays > 1 && Math.abs(daysBetween(nowMs, ms + HOUR, settings.zone)) === 1
    const room = px < right - 40 && !besideToday
    if (ms >= fromMs || today)
      days.push({
        ms: Math.max(ms, fromMs),
        label: today ? 'today' : room && (since ?? i) % everyDays === 0 ? shown : '',
        today,
      })
  }

  const series = estimate?.series
  const points = useMemo(() => {
    if (!series || originMs === null) return []
    return series.timesH.map((t, i) => ({
      ms: originMs + t * HOUR,
      p10: series.p10[i]!,
      p50: series.p50[i]!,
      p90: series.p90[i]!,
      pFloor: series.pFloor[i]!,
    }))
  }, [series, originMs])
  const planned = useMemo(() => {
    const next = estimate?.planned
    if (!next || originMs === null) return []
    return next.timesH.map((t, i) => ({
      ms: originMs + t * HOUR,
      p10: next.p10[i]!,
      p50: next.p50[i]!,
      p90: next.p90[i]!,
      pFloor: next.pFloor[i]!,
    }))
  }, [estimate?.planned, originMs])
  const within = points.filter(({ ms }) => ms >= fromMs && ms <= toMs)
  const past = within.filter(({ ms }) => ms <= nowMs)
  const future = (planned.length > 0 ? planned : within.filter(({ ms }) => ms >= nowMs)).filter(({ ms }) => ms <= toMs)

  const yMax = band
    ? Math.max(band.hardMaxMgPerL * 1.12, ...levels.map(({ value }) => Math.min(value, band.hardMaxMgPerL * 1.6)))
    : 1
  const y = scaleLinear()
    .domain([0, yMax])
    .range([levelLane ? levelLane.y1 - 8 : 0, levelLane ? levelLane.y0 + 10 : 0])
  const path = (rows: typeof past) =>
    line<(typeof past)[number]>()
      .x((p) => at(p.ms))
      .y((p) => y(p.p50))
      .curve(curveLinear)(rows) ?? undefined
  const cloud = (rows: typeof past) =>
    area<(typeof past)[number]>()
      .x((p) => at(p.ms))
      .y0((p) => y(p.p10))
      .y1((p) => y(p.p90))(rows) ?? undefined

  const cursorMs = cursor ?? nowMs
  const move = (ms: number) => setCursor(Math.min(toMs, Math.max(fromMs, ms)))
  const onKey = (event: KeyboardEvent) => {
    const next = timeKey(event, cursorMs, [fromMs, toMs], [HOUR, 24 * HOUR])
    if (next === undefined) return
    if (next === null) setCursor(null)
    else move(next)
    event.preventDefault()
  }
  const onPointer = (event: PointerEvent<SVGSVGElement>) => {
    if (event.pointerType === 'touch' && event.type === 'pointermove' && event.buttons === 0) return
    const bounds = event.currentTarget.getBoundingClientRect()
    move(x.invert(Math.min(right, Math.max(left, event.clientX - bounds.left))).getTime())
  }

  const reading = readout(cursorMs, {
    warmth: (celsius) => temperatureText(celsius, settings),
    entries,
    points: cursorMs > nowMs && planned.length > 0 ? planned : points,
    estimate,
    originMs,
    band,
    nowMs,
  })
  const readoutText = reading.map(({ label, value }) => `${label} ${value}`).join(', ')

  const laneLabel = (l: { y0: number } | null, name: string, unit: string) =>
    l && (
      <>
        <text x={narrow ? left : 0} y={l.y0 + (narrow ? 2 : 22)} data-strong="">
          {name}
          {narrow && (
            <tspan fill="var(--quiet)" fontWeight="400">
              {' '}
              {unit}
            </tspan>
          )}
        </text>
        {!narrow && (
          <text x={0} y={l.y0 + 38}>
            {unit}
          </text>
        )}
      </>
    )

  const steps =
    plan?.steps.filter(
      (step) => step.state !== 'done' && step.state !== 'skipped' && step.dueMs >= fromMs && step.dueMs <= toMs,
    ) ?? []
  const ghostDoses = steps.filter((step) => step.kind === 'ramp' || step.kind === 'hold')
  const ghostChanges = steps.filter(({ kind }) => kind === 'change')
  const ghostTests = steps.filter((step) => step.kind === 'test' && step.test?.analyte === band?.form.agent)
  const shownAt = (step: Step) => at(Math.max(step.dueMs, nowMs))

  // Words beside what was done and seen, none over another: what lies on one place is said once.
  const seenAt: { readonly px: number; readonly words: string[] }[] = []
  for (const entry of entries)
    if (entry.kind === 'sign' && entry.present) {
      const px = at(instantMs(entry.at))
      const same = seenAt.find((one) => Math.abs(one.px - px) < 12)
      const words = signOf(entry.sign)?.label.toLowerCase() ?? entry.sign.replaceAll('-', ' ')
      if (same) same.words.push(words)
      else seenAt.push({ px, words: [words] })
    }
  const room = { from: left, to: right, gap: 10, lines: 1 }
  const doneWords = [
    ...placeLabels(
      [
        ...entries.flatMap((entry): Label[] =>
          entry.kind === 'change'
            ? [
                {
                  id: entry.id,
                  text: `${entry.fraction !== undefined ? `${Math.round(entry.fraction * 100)} %` : `${entry.removedL} L`} changed`,
                  x: at(instantMs(entry.at)) + 11,
                  size: 13,
                  rank: 2,
                },
              ]
            : [],
        ),
        ...ghostChanges.map((step) => ({
          id: step.key,
          text: `${Math.round(100 * (step.change?.fraction ?? 0))} % planned`,
          x: shownAt(step) + 11,
          size: 13,
          rank: 1,
        })),
      ],
      room,
    ).map((one) => ({ ...one, row: 'change' as const })),
    ...placeLabels(
      seenAt.map(({ px, words }, i) => ({
        id: `seen-${i}`,
        text: words.length > 1 ? `${words[0]} and ${words.length - 1} more` : words[0]!,
        x: px + 11,
        size: 13,
        rank: i,
      })),
      room,
    ).map((one) => ({ ...one, row: 'seen' as const })),
  ]
  return (
    <Frame>
      <div ref={ref}>
        <Readout aria-hidden>
          <b>
            {dayText(cursorMs, settings)} {timeText(cursorMs, settings)}
            {cursor === null ? ' (now)' : ''}
          </b>
          {reading.map(({ label, value }) => (
            <span key={label}>
              {label} <b>{value}</b>
            </span>
          ))}
        </Readout>
        <svg
          role="slider"
          tabIndex={0}
          aria-label="Strip: move through time with the arrow keys"
          aria-valuemin={fromMs}
          aria-valuemax={toMs}
          aria-valuenow={cursorMs}
          aria-valuetext={`${dayText(cursorMs, settings)} ${timeText(cursorMs, settings)}: ${readoutText || 'nothing recorded'}`}
          height={height}
          viewBox={`0 0 ${width} ${height}`}
          onKeyDown={onKey}
          onPointerDown={onPointer}
          onPointerMove={onPointer}
          onPointerLeave={(event) => event.pointerType === 'mouse' && setCursor(null)}
        >
          <defs>
            <pattern id={hatch} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <rect width="7" height="7" fill="var(--tray)" />
              <rect width="3.500" height="7" fill="var(--acriflavine)" />
            </pattern>
          </defs>
          <rect
            x={at(Math.max(nowMs, fromMs))}
            y={22}
            width={Math.max(0, right - at(Math.max(nowMs, fromMs)))}
            height={height - 26}
            fill="var(--later)"
          />
          {days.map((day) => (
            <g key={day.ms}>
              <path d={`M${at(day.ms)} 24V${height - 4}`} stroke="var(--hairline)" strokeWidth="1" />
              <text x={at(day.ms) + 4} y={16} {...(day.today ? { 'data-strong': '' } : {})}>
                {day.label}
              </text>
            </g>
          ))}

          {levelLane && band && (
            <g>
              <rect
                x={left}
                width={right - left}
                y={y(band.ceilingMgPerL)}
                height={y(band.floorMgPerL) - y(band.ceilingMgPerL)}
                fill="var(--copper-tint)"
              />
              <path d={`M${left} ${y(band.floorMgPerL)}H${right}`} stroke="var(--copper)" strokeWidth="1" />
              <path d={`M${left} ${y(band.hardMaxMgPerL)}H${right}`} stroke="var(--danger)" strokeDasharray="2 4" />
              <text x={right - 2} y={y(band.ceilingMgPerL) + 14} textAnchor="end" data-tone="copper">
                therapeutic {band.floorMgPerL}–{band.ceilingMgPerL}
              </text>
              <text x={right - 2} y={y(band.hardMaxMgPerL) - 5} textAnchor="end" data-tone="danger">
                hard maximum {band.hardMaxMgPerL}
              </text>
              {y.ticks(5).map((tick) => (
                <text
                  key={tick}
                  x={left - 6}
                  y={y(tick) + 4}
                  textAnchor="end"
                  visibility={narrow ? 'hidden' : 'visible'}
                >
                  {tick}
                </text>
              ))}
              <path d={cloud(past)} fill="var(--gentian-tint)" />
              <path d={path(past)} fill="none" stroke="var(--gentian)" strokeWidth="2.200" />
              <path d={cloud(future)} fill="var(--gentian-tint)" opacity="0.6" />
              <path d={path(future)} fill="none" stroke="var(--gentian)" strokeWidth="2" strokeDasharray="3 4" />
              {levels.map((entry) => {
                const value = Math.min(entry.value, yMax)
                const fit = estimate?.readings.find(({ id }) => id === entry.id)
                const half = readingError(entry, record)
                return (
                  <g key={entry.id} opacity={fit && fit.trust < 0.5 ? 0.45 : 1}>
                    <path
                      d={`M${at(instantMs(entry.at))} ${y(Math.max(0, value - half))}V${y(value + half)}`}
                      stroke="var(--ink)"
                      strokeWidth="1.6"
                    />
                    <circle
                      cx={at(instantMs(entry.at))}
                      cy={y(value)}
                      r="4.600"
                      fill="var(--tray)"
                      stroke="var(--ink)"
                      strokeWidth="2"
                    />
                    {fit && fit.trust < 0.5 && (
                      <text x={at(instantMs(entry.at)) + 8} y={y(value) + 4}>
                        doubted
                      </text>
                    )}
                  </g>
                )
              })}
              {ghostTests.map((step) => (
                <circle
                  key={step.key}
                  cx={shownAt(step)}
                  cy={levelLane.y1 - 14}
                  r="4.600"
                  fill="none"
                  stroke="var(--quiet)"
                  strokeWidth="1.6"
                  strokeDasharray="2 2"
                />
              ))}
            </g>
          )}
          {laneLabel(levelLane, band?.form.agent === 'copper' ? 'Copper' : (band?.form.label ?? ''), 'mg/L')}

          {doseLane && (
            <g transform={`translate(0 ${doseLane.y0 + 9})`}>
              {entries.map(
                (entry) =>
                  entry.kind === 'dose' && (
                    <path
                      key={entry.id}
                      d={DROP}
                      transform={`translate(${at(instantMs(entry.at))} 0)`}
                      fill="var(--copper)"
                    />
                  ),
              )}
              {ghostDoses.map((step) => (
                <path
                  key={step.key}
                  d={DROP}
                  transform={`translate(${shownAt(step)} 0)`}
                  fill="var(--tray)"
                  stroke="var(--copper)"
                  strokeWidth="1.6"
                />
              ))}
            </g>
          )}

          {clockLane && estimate?.clock && originMs !== null && (
            <g>
              {estimate.clock.intervals.map((interval) => {
                const a = at(Math.max(fromMs, originMs + interval.fromH * HOUR))
                const b = at(Math.min(toMs, originMs + interval.toH * HOUR))
                if (b <= a) return null
                const good = interval.state === 'credited' && !interval.lost
                const quiet = interval.reason === 'not-started'
                return (
                  <g key={interval.fromH}>
                    <rect
                      x={a}
                      y={clockLane.y0 + 8}
                      width={Math.max(1.5, b - a)}
                      height="18"
                      rx={b - a > 8 ? 4 : 0}
                      fill={good ? 'var(--malachite)' : quiet ? 'none' : `url(#${hatch})`}
                      stroke={good ? 'none' : quiet ? 'var(--hairline)' : 'var(--acriflavine)'}
                    />
                    {b - a > 74 && (
                      <text
                        x={a + 8}
                        y={clockLane.y0 + 21.5}
                        fontWeight="700"
                        style={{ fill: good ? 'var(--on-rim)' : 'var(--quiet)' }}
                        visibility={good || quiet ? 'visible' : 'hidden'}
                      >
                        {quiet ? 'not yet in band' : `${formatDuration(interval.toH - interval.fromH)}`}
                      </text>
                    )}
                  </g>
                )
              })}
              {sentenceLines.map((words, i) => (
                <text key={words} x={left} y={clockLane.y0 + 44 + 16 * i}>
                  {words}
                </text>
              ))}
            </g>
          )}
          {laneLabel(clockLane, 'Clock', 'earned')}

          {ammoniaLane && (
            <SmallLane
              entries={ammonia}
              y0={ammoniaLane.y0 + 8}
              y1={ammoniaLane.y1 - 12}
              at={at}
              left={left}
              right={right}
              low={0}
              high={0.25}
              max={0.6}
              note="calm below 0.25"
            />
          )}
          {laneLabel(ammoniaLane, 'Ammonia', 'total, mg/L N')}
          {tempLane && (
            <SmallLane
              entries={temperature}
              y0={tempLane.y0 + 8}
              y1={tempLane.y1 - 12}
              at={at}
              left={left}
              right={right}
              {...laneRange(temperature, vessel ? usualRange(vessel.body, 'temperature') : null, (value) =>
                fromCanonical('temperature', value, warmthUnit),
              )}
            />
          )}
          {laneLabel(tempLane, 'Temperature', warmthUnit)}
          {otherLanes.map(({ analyte, readings, lane: place }) => (
            <g key={analyte}>
              <SmallLane
                entries={readings}
                y0={place.y0 + 8}
                y1={place.y1 - 12}
                at={at}
                left={left}
                right={right}
                {...laneRange(readings, vessel ? usualRange(vessel.body, analyte) : null)}
              />
              {laneLabel(place, ANALYTES[analyte].word, analyte === 'ph' ? '' : ANALYTES[analyte].unit)}
            </g>
          ))}

          <g>
            {entries.map((entry) => {
              const px = at(instantMs(entry.at))
              if (entry.kind === 'change') {
                return (
                  <g key={entry.id} transform={`translate(${px} ${doneLane.y0 + 18})`}>
                    <rect
                      x="-7"
                      y="-7"
                      width="14"
                      height="14"
                      fill="var(--tray)"
                      stroke="var(--ink)"
                      strokeWidth="1.6"
                    />
                    <rect x="-7" y="0" width="14" height="7" fill="var(--methylene)" />
                  </g>
                )
              }
              if (entry.kind === 'sign' && entry.present) {
                return (
                  <g key={entry.id} transform={`translate(${px} ${doneLane.y0 + 44})`}>
                    <path d="M0 -7L7 0L0 7L-7 0Z" fill="var(--acriflavine)" stroke="var(--ink)" strokeWidth="1.4" />
                  </g>
                )
              }
              if (entry.kind === 'meal') {
                return (
                  <circle
                    key={entry.id}
                    cx={px}
                    cy={doneLane.y0 + 44}
                    r="3.600"
                    fill={entry.took === 'took' ? 'var(--iodine)' : 'none'}
                    stroke="var(--iodine)"
                    strokeWidth="1.4"
                  />
                )
              }
              return null
            })}
            {ghostChanges.map((step) => (
              <g key={step.key} transform={`translate(${shownAt(step)} ${doneLane.y0 + 18})`} opacity="0.75">
                <rect
                  x="-7"
                  y="-7"
                  width="14"
                  height="14"
                  fill="none"
                  stroke="var(--quiet)"
                  strokeWidth="1.4"
                  strokeDasharray="2 2"
                />
              </g>
            ))}
            {doneWords.map(({ id, x, text, row }) => (
              <text key={id} x={x} y={doneLane.y0 + (row === 'change' ? 23 : 49)}>
                {text}
              </text>
            ))}
          </g>
          {laneLabel(doneLane, 'Done', 'and seen')}

          {nowMs >= fromMs && nowMs <= toMs && (
            <g>
              <path d={`M${at(nowMs)} 24V${height - 4}`} stroke="var(--rim)" strokeWidth="2.200" />
              <path d={`M${at(nowMs) - 6} 20H${at(nowMs) + 6}L${at(nowMs)} 29Z`} fill="var(--rim)" />
            </g>
          )}
          {cursor !== null && (
            <path
              d={`M${at(cursor)} 24V${height - 4}`}
              stroke="var(--methylene)"
              strokeWidth="1.4"
              strokeDasharray="4 3"
            />
          )}
        </svg>
        <Legend>
          {hasLevel && (
            <>
              <span>
                <i style={{ background: 'var(--gentian-tint)', borderTop: '3px solid var(--gentian)' }} /> level, 8 in
                10 sure
              </span>
              <span>
                <ReadingMark /> reading with its error
              </span>
              <span>
                <DoseMark /> dose
              </span>
              <span>
                <DoseMark planned /> planned dose
              </span>
              <span>
                <svg width="14" height="14" viewBox="-7 -7 14 14" aria-hidden>
                  <circle r="4.600" fill="none" stroke="var(--quiet)" strokeWidth="1.600" strokeDasharray="2 2" />
                </svg>
                planned test
              </span>
            </>
          )}
          {clockLane && (
            <>
              <span>
                <i style={{ background: 'var(--malachite)' }} /> credited
              </span>
              <span>
                <svg width="22" height="11" aria-hidden>
                  <rect width="22" height="11" rx="3" fill={`url(#${hatch})`} stroke="var(--acriflavine)" />
                </svg>
                refused
              </span>
            </>
          )}
          <span>
            <ChangeMark /> water change
          </span>
          <span>
            <SignMark /> sign seen
          </span>
          <span>
            <MealMark /> meal taken
          </span>
        </Legend>
      </div>
    </Frame>
  )
}

function readingError(
  entry: Extract<Entry, { kind: 'reading' }>,
  record: ReturnType<typeof useRecord>['record'],
): number {
  const kit = entry.instrumentId === undefined ? undefined : record.instruments.get(entry.instrumentId)?.body
  return Math.hypot((kit?.step ?? 0) / 2, (kit?.relativeError ?? 0.05) * entry.value)
}

/** "4 d 17 h credited of 30 d · 1 d 8 h refused: level below the band" */
export function clockSentence(estimate: CourseEstimate): string {
  const { clock } = estimate
  if (!clock) return ''
  const byReason = new Map<string, number>()
  for (const { state, reason, fromH, toH } of clock.intervals) {
    if (state === 'refused' && reason !== undefined && reason !== 'not-started')
      byReason.set(reason, (byReason.get(reason) ?? 0) + toH - fromH)
  }
  const refused = [...byReason].filter(([, hours]) => hours >= 0.5).sort((a, b) => b[1] - a[1])
  const lost = clock.resets.reduce((sum, { lostH }) => sum + lostH, 0)
  return [
    `${formatDuration(clock.creditedH)} credited of ${formatDuration(clock.requiredH)}`,
    ...(lost > 0 ? [`${formatDuration(lost)} lost to a reset`] : []),
    ...refused
      .slice(0, 2)
      .map(([reason, hours]) => `${formatDuration(hours)} refused: ${REFUSED[reason as keyof typeof REFUSED]}`),
  ].join(' · ')
}

function SmallLane({
  entries,
  y0,
  y1,
  at,
  left,
  right,
  low,
  high,
  min = 0,
  max,
  note,
  shown = (value) => value,
}: {
  entries: readonly Extract<Entry, { kind: 'reading' }>[]
  y0: number
  y1: number
  at: (ms: number) => number
  left: number
  right: number
  low: number
  high: number
  min?: number
  max: number
  note: string
  /** A value as the keeper reads it. */
  shown?: (value: number) => number
}) {
  const values = entries.map(({ value }) => value)
  const y = scaleLinear()
    .domain([Math.min(min, ...values), Math.max(max, ...values)])
    .range([y1, y0])
  const rows = entries.map((entry) => [at(instantMs(entry.at)), y(entry.value)] as const)
  const numberText = (i: number) => String(Number(shown(values[i]!).toPrecision(3)))
  // The numbers of a lane: the last one always, the others where there is room beside it and beside the range.
  const numbers = placeLabels(
    rows.map(([px], i) => ({
      id: String(i),
      text: numberText(i),
      x: px - labelWidth(numberText(i), 12) / 2,
      size: 12,
      rank: i,
    })),
    { from: left + 2, to: right - (note === '' ? 2 : labelWidth(note, 13) + 10), gap: 8, lines: 1 },
  )
  return (
    <g>
      <rect
        x={left}
        width={right - left}
        y={y(high)}
        height={Math.max(1, y(low) - y(high))}
        fill="var(--malachite-tint)"
      />
      <text x={right - 2} y={y(high) - 3} textAnchor="end">
        {note}
      </text>
      <path
        d={line()(rows as [number, number][]) ?? undefined}
        fill="none"
        stroke="var(--methylene)"
        strokeWidth="1.800"
      />
      {rows.map(([px, py]) => (
        <rect
          key={px}
          x={px - 3}
          y={py - 3}
          width="6"
          height="6"
          fill="var(--tray)"
          stroke="var(--methylene)"
          strokeWidth="1.600"
        />
      ))}
      {numbers.map(({ id, text, x }) => (
        <text key={id} x={x} y={rows[Number(id)]![1] - 6} style={{ fontSize: 12, fill: 'var(--ink)' }}>
          {text}
        </text>
      ))}
    </g>
  )
}

interface ReadoutSource {
  readonly entries: readonly Entry[]
  readonly points: readonly {
    readonly ms: number
    readonly p10: number
    readonly p50: number
    readonly p90: number
    readonly pFloor: number
  }[]
  readonly estimate: CourseEstimate | null
  readonly originMs: number | null
  readonly band: CoursePlan['band'] | null
  readonly nowMs: number
  /** A temperature in words. */
  readonly warmth: (celsius: number) => string
}

/** State of the tank at an instant: level, chance, clock, and the last of each other reading before it. */
function readout(ms: number, source: ReadoutSource): { label: string; value: string }[] {
  const out: { label: string; value: string }[] = []
  const { points, estimate, originMs, band } = source
  if (points.length > 0 && band && ms >= points[0]!.ms) {
    const point = points.findLast((candidate) => candidate.ms <= ms)!
    out.push({ label: `${band.form.agent}`, value: `${levelText(point.p10)}–${levelText(point.p90)} mg/L` })
    out.push({ label: `at or above ${band.floorMgPerL}:`, value: percentText(point.pFloor) })
  }
  if (estimate?.clock && originMs !== null && ms <= source.nowMs) {
    const h = (ms - originMs) / HOUR
    const interval = estimate.clock.intervals.find(({ fromH, toH }) => h >= fromH && h < toH)
    if (interval)
      out.push({
        label: 'hour',
        value:
          interval.state === 'credited'
            ? interval.lost
              ? 'credited, lost later'
              : 'credited'
            : `refused, ${REFUSED[interval.reason ?? 'uncertain']}`,
      })
  }
  for (const [analyte, label, said] of [
    ['ammonia-total', 'ammonia', (value: number) => `${value} mg/L`],
    ['temperature', 'temperature', source.warmth],
  ] as const) {
    const last = source.entries.findLast(
      (entry) => entry.kind === 'reading' && entry.analyte === analyte && instantMs(entry.at) <= ms,
    )
    if (last?.kind === 'reading' && ms - instantMs(last.at) < 48 * HOUR) out.push({ label, value: said(last.value) })
  }
  return out
}

/** A window for the strip: the whole course, or the last days. */
export function stripWindow(
  view: 'course' | 'week' | 'two-days',
  nowMs: number,
  originMs: number | null,
  zone: string,
): { fromMs: number; toMs: number } {
  if (view === 'two-days') return { fromMs: nowMs - 36 * HOUR, toMs: nowMs + 12 * HOUR }
  if (view === 'week' || originMs === null)
    return { fromMs: startOfDay(nowMs - 6 * 24 * HOUR, zone), toMs: nowMs + 36 * HOUR }
  const span = nowMs - originMs
  return {
    fromMs: originMs - Math.max(3 * HOUR, span * 0.015),
    toMs: nowMs + Math.min(96 * HOUR, Math.max(36 * HOUR, span * 0.42)),
  }
}
