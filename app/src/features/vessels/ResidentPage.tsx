// One animal over time: how it breathed, ate and looked, and how often it was handled.
import {
  MARK_MEASURES,
  markedPoints,
  type MarkTool,
  limitOf,
  atHourOfDay,
  breathingOf,
  groupOf,
  headsAt,
  instantMs,
  openSigns,
  residentDays,
  residentVessels,
  signOf,
  type BreathingState,
  type ResidentDay,
  type ResidentDocument,
} from '@brinvo/core'
import { Link, useParams } from 'react-router'
import { ComposedChart, Line, ReferenceLine, XAxis, YAxis } from 'recharts'
import { useActions, useRecord } from '../../data/queries.tsx'
import { Check } from '../../design/fields.tsx'
import { AXIS, ChartFigure, STILL, endLine, goodGround, nowLine, told } from '../../parts/chart.tsx'
import {
  Button,
  DayTable,
  Facts,
  LinkButton,
  Page,
  Quiet,
  Row,
  Stack,
  Tag,
  Tray,
  Well,
} from '../../design/primitives.tsx'
import { dayText, longDayText, plural, sentenceCase } from '../../design/words.ts'
import { MeasuredChart } from '../../parts/MeasuredChart.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { useLog } from '../../shell/LogContext.tsx'
import { useNotice } from '../../shell/Notices.tsx'
import { LifePanel } from './LifePanel.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

const DAY = 86_400_000
const SPAN_DAYS = 28
/** Days a sentinel and a newcomer share at the least. @source handbook 30 sent-time */
const SENTINEL_DAYS = limitOf('sentinel-days')
const MEALS = { took: 'ate', tried: 'tried', ignored: 'ignored food' } as const

export function ResidentPage() {
  const { id = '' } = useParams()
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const log = useLog()
  const resident = record.residents.get(id)
  if (!resident) return <NotFound />
  const { settings } = record
  const { body } = resident
  const kind = groupOf(body.group)?.kind
  const place = residentVessels(record, active, nowMs).get(id)
  const vessel = record.vessels.get(place ?? '')
  const heads = headsAt(active, resident, nowMs)
  const fromMs = Math.max(instantMs(body.arrivedAt), nowMs - (SPAN_DAYS - 1) * DAY)
  const days = residentDays(active, id, settings.zone, { fromMs, toMs: nowMs })
  const breathing = breathingOf(active, resident, settings.zone)
  const standing = openSigns(active, id)
  const noted = days.filter(
    ({ beats, extension, signs, gone, meals, moved }) =>
      beats !== null || extension !== null || signs.length + gone.length + meals.length + moved > 0,
  )
  const moved = days.slice(-7).reduce((sum, day) => sum + day.moved, 0)
  return (
    <Page $aside>
      <Stack $gap={16}>
        <Stack $gap={2}>
          <h1>
            {body.name} {(body.count > 1 || heads !== body.count) && <Quiet>× {heads}</Quiet>}
          </h1>
          <span>
            <Quiet>
              {body.commonName}
              {body.scientificName !== undefined && `, ${body.scientificName}`} ·{' '}
            </Quiet>
            {vessel ? (
              <Link to={`/vessels/${vessel.id}`}>{vessel.body.name}</Link>
            ) : (
              <Quiet>{body.leftHow ?? 'gone'}</Quiet>
            )}
            <Quiet> · since {longDayText(instantMs(body.arrivedAt), settings)}</Quiet>
          </span>
        </Stack>
        {standing.length > 0 && (
          <Tray $tone="caution">
            <Stack $gap={8}>
              <h2>Stands open</h2>
              <Row $gap={8}>
                {standing.map((entry) => (
                  <Tag key={entry.sign} $tone="due">
                    {(signOf(entry.sign)?.label ?? entry.sign).toLowerCase()}
                  </Tag>
                ))}
              </Row>
              <Row>
                <LinkButton to={`/findings?vessel=${place ?? ''}`}>What could it be?</LinkButton>
              </Row>
            </Stack>
          </Tray>
        )}
        <LifePanel resident={resident} place={place ?? null} />
        {kind === 'fish' && <Breathing state={breathing} days={days} />}
        {kind === 'coral' && <Extension days={days} />}
        <Marked id={id} name={body.name} place={place ?? null} />
        <Tray>
          <Stack $gap={8}>
            <h2>Day by day</h2>
            {noted.length === 0 ? (
              <>
                <p>Nothing was noted of it in {plural(days.length, 'day')}.</p>
                <Row>
                  <LinkButton to={`/watch/${place ?? ''}`} $look="main">
                    Watch it
                  </LinkButton>
                </Row>
              </>
            ) : (
              <DayTable>
                <thead>
                  <tr>
                    <th scope="col">day</th>
                    <th scope="col">seen</th>
                    <th scope="col">{kind === 'fish' ? 'breaths a minute' : 'polyps out'}</th>
                    <th scope="col">food</th>
                  </tr>
                </thead>
                <tbody>
                  {[...noted].reverse().map((day) => (
                    <tr key={day.day}>
                      <td style={{ whiteSpace: 'nowrap' }}>
                        {dayText(atHourOfDay(day.day, 12, settings.zone), settings)}
                      </td>
                      <td>
                        {day.signs.map((sign) => labelOf(sign)).join(', ')}
                        {day.gone.length > 0 && (
                          <Quiet>
                            {day.signs.length > 0 && '; '}gone: {day.gone.map((sign) => labelOf(sign)).join(', ')}
                          </Quiet>
                        )}
                        {day.moved > 0 && <Quiet> moved</Quiet>}
                      </td>
                      <td>{kind === 'fish' ? (day.beats ?? '') : (day.extension ?? '')}</td>
                      <td>{[...new Set(day.meals)].map((meal) => MEALS[meal]).join(', ')}</td>
                    </tr>
                  ))}
                </tbody>
              </DayTable>
            )}
          </Stack>
        </Tray>
      </Stack>
      <Stack $gap={14}>
        {kind === 'fish' && <Sentinel resident={resident} place={place ?? null} />}
        <Tray>
          <Stack $gap={8}>
            <h3>Handling</h3>
            <p>
              {moved === 0
                ? 'Not moved in the last seven days.'
                : `Moved ${plural(moved, 'time')} in the last seven days.`}
            </p>
            {body.note !== undefined && <p>{body.note}</p>}
            {heads < body.count && (
              <p>
                {heads} of {body.count} are still counted here.
              </p>
            )}
            {vessel && (
              <Button onPress={() => log({ kind: 'move', vesselId: vessel.id, residentId: id })}>
                Move, or note a loss
              </Button>
            )}
            <LinkButton to={`/watch/${place ?? ''}`}>Watch</LinkButton>
            {kind === 'coral' && <LinkButton to={`/walk/${place ?? ''}`}>Walk along the corals</LinkButton>}
          </Stack>
        </Tray>
      </Stack>
    </Page>
  )
}

const labelOf = (sign: string): string => (signOf(sign)?.label ?? sign.replaceAll('-', ' ')).toLowerCase()

function Breathing({ state, days }: { state: BreathingState; days: readonly ResidentDay[] }) {
  const { record } = useRecord()
  const { settings } = record
  const rows = days.map(({ beats }, day) => ({ day, beats }))
  const counted = rows.filter(({ beats }) => beats !== null).length
  const dayAt = (day: number): string =>
    days[day] ? dayText(atHourOfDay(days[day].day, 12, settings.zone), settings) : ''
  const own = state.baseline === null ? null : Math.round(1.5 * state.baseline * state.warmth)
  const top =
    20 * Math.ceil(Math.max(state.normal?.alarm ?? 100, own ?? 0, ...days.map(({ beats }) => beats ?? 0)) / 20 + 0.5)
  return (
    <Tray $tone={state.alarm ? 'danger' : 'plain'}>
      <Stack $gap={8}>
        <Row $between>
          <h2>Breathing</h2>
          <Quiet>gill beats a minute</Quiet>
        </Row>
        {state.alarm && <strong>The last two counts are over its alarm: more air now, test ammonia.</strong>}
        {counted === 0 ? (
          <p>
            Nobody has counted yet.{' '}
            {state.normal &&
              `Usual for its kind: ${state.normal.low} to ${state.normal.high}, alarm at ${state.normal.alarm}. `}
            Three healthy days make its own baseline.
          </p>
        ) : (
          <ChartFigure
            title="breathing"
            sentence={`Breathing over ${plural(days.length, 'day')}, ${plural(counted, 'count')}; the last ${state.counts.at(-1)?.perMinute} a minute.`}
            height={220}
            heads={['day', 'a minute']}
            rows={rows.flatMap(({ day, beats }) => (beats === null ? [] : [[dayAt(day), String(beats)]])).reverse()}
          >
            <ComposedChart data={rows} margin={{ top: 14, right: 16, bottom: 4, left: 0 }} aria-label="Breathing">
              <XAxis
                {...AXIS}
                dataKey="day"
                type="number"
                domain={[0, Math.max(1, days.length - 1)]}
                tickFormatter={dayAt}
                ticks={[0, Math.floor((days.length - 1) / 2), days.length - 1]}
              />
              <YAxis {...AXIS} domain={[0, top]} width={44} />
              {state.normal && goodGround(state.normal.low, state.normal.high)}
              {state.normal && endLine(state.normal.alarm, 'alarm of its kind', 'insideBottomLeft')}
              {own !== null && (
                <ReferenceLine
                  y={own}
                  stroke="var(--ink)"
                  strokeDasharray="6 4"
                  label={{ value: 'its own alarm', position: 'insideTopLeft', fontSize: 12.5, fill: 'var(--ink)' }}
                />
              )}
              {nowLine(days.length - 1)}
              <Line
                {...STILL}
                type="linear"
                dataKey="beats"
                stroke="var(--gentian)"
                strokeWidth={2}
                dot={{ r: 4.5, fill: 'var(--gentian)', stroke: 'var(--tray)' }}
              />
              {told<(typeof rows)[number]>(({ day, beats }) =>
                beats === null ? null : [dayAt(day), `${beats} beats a minute`],
              )}
            </ComposedChart>
          </ChartFigure>
        )}
        <Quiet>
          {state.normal && `Shaded: usual for its kind, ${state.normal.low} to ${state.normal.high}. `}
          {state.baseline === null
            ? 'Its own baseline needs counts on three healthy days.'
            : `Its own baseline is ${Math.round(state.baseline)}${Math.abs(state.warmth - 1) > 0.03 ? `, × ${state.warmth.toFixed(2)} for the warmth of today` : ''}; its own alarm is 1.5 times that.`}
        </Quiet>
      </Stack>
    </Tray>
  )
}

const SCORES = ['shut', 'tips', 'half', 'most', 'full']
function Extension({ days }: { days: readonly ResidentDay[] }) {
  const scored = days.filter(({ extension }) => extension !== null)
  const last = scored.at(-1)
  const before = scored.slice(0, -1).map(({ extension }) => extension!)
  const usual = before.length === 0 ? null : before.reduce((sum, value) => sum + value, 0) / before.length
  return (
    <Tray>
      <Stack $gap={8}>
        <h2>Polyps</h2>
        {!last ? (
          <p>Nobody has scored how far they are out. The same hour and light each time, 0 shut to 4 full.</p>
        ) : (
          <>
            <p>
              <strong style={{ fontSize: 28 }}>{last.extension}</strong> of 4, {SCORES[last.extension!]}
              {usual !== null && <Quiet> · {usual.toFixed(1)} on average before</Quiet>}
            </p>
            <Row $gap={3} style={{ alignItems: 'flex-end', height: 70 }} aria-hidden>
              {scored.map(({ day, extension }) => (
                <span
                  key={day}
                  style={{
                    flex: '1 1 6px',
                    maxWidth: 26,
                    height: `${8 + 23 * extension!}%`,
                    background: 'var(--gentian)',
                    borderRadius: 3,
                  }}
                />
              ))}
            </Row>
            {usual !== null && last.extension! <= usual - 1.5 && (
              <Well>
                A clear drop: look for pests at night, recession at the base, and what changed in light and flow.
              </Well>
            )}
          </>
        )}
      </Stack>
    </Tray>
  )
}

/** A small hardy fish kept beside newcomers, because it shows trouble first. @source handbook 30 §2.3 */
function Sentinel({ resident, place }: { resident: ResidentDocument; place: string | null }) {
  const { record, active } = useRecord()
  const { nowMs, plans } = useThePlans()
  const { revise } = useActions()
  const notice = useNotice()
  const on = resident.body.sentinel === true
  const set = async (next: boolean) => {
    try {
      await revise(resident, { ...resident.body, sentinel: next })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  const arrived = instantMs(resident.body.arrivedAt)
  const since = active.reduce(
    (last, entry) =>
      entry.kind === 'move' && entry.residentId === resident.id && entry.toVesselId === place
        ? Math.max(last, instantMs(entry.at))
        : last,
    arrived,
  )
  const others = [...residentVessels(record, active, nowMs)].flatMap(([id, where]) => {
    const other = where === place && id !== resident.id ? record.residents.get(id) : undefined
    return other && groupOf(other.body.group)?.kind === 'fish' && other.body.sentinel !== true ? [other] : []
  })
  const together = others.map((other) => ({
    name: other.body.name,
    days: Math.floor((nowMs - Math.max(since, instantMs(other.body.arrivedAt))) / DAY),
  }))
  const dosed = plans.some(({ vesselId, band }) => vesselId === place && band !== null)
  return (
    <Tray>
      <Stack $gap={8}>
        <h3>Sentinel</h3>
        <Check isSelected={on} onChange={(next) => void set(next)}>
          It is kept beside newcomers to show trouble first
        </Check>
        {on && (
          <>
            {dosed && (
              <Well>
                <strong>Not during a course.</strong> It goes in only when the agent is out of the water.
              </Well>
            )}
            {together.length === 0 ? (
              <p>No other fish shares its water.</p>
            ) : (
              <Facts>
                {together.map(({ name, days }) => (
                  <div key={name} style={{ display: 'contents' }}>
                    <dt>with {name}</dt>
                    <dd>
                      {sentenceCase(plural(days, 'day'))} of at least {SENTINEL_DAYS}
                    </dd>
                  </div>
                ))}
              </Facts>
            )}
            <Quiet>
              A sign on it counts as a sign of all: every clock starts again. No sign is support, never a shorter wait.
              It was itself watched for 30 days and never had the disease; it has its own hide and care.
            </Quiet>
          </>
        )}
        {!on && (
          <Quiet>In an observation vessel without drugs only: small, hardy, dark-skinned, never sick of it.</Quiet>
        )}
        <Quiet>Since {dayText(since, record.settings)} in this water.</Quiet>
      </Stack>
    </Tray>
  )
}

/** What was measured on its pictures, week by week. */
function Marked({ id, name, place }: { readonly id: string; readonly name: string; readonly place: string | null }) {
  const { record, active } = useRecord()
  const tools = (Object.keys(MARK_MEASURES) as MarkTool[]).flatMap((tool) => {
    const points = markedPoints(active, tool, { residentId: id, name })
    return points.length === 0 ? [] : [{ tool, points, about: MARK_MEASURES[tool] }]
  })
  if (tools.length === 0) return null
  return (
    <Tray>
      <Stack $gap={8}>
        <h2>Measured on its pictures</h2>
        {tools.map(({ tool, points, about }) => (
          <Stack key={tool} $gap={4}>
            <h3>
              {about.title}: <strong>{points.at(-1)!.entry.note ?? points.at(-1)!.value}</strong>
            </h3>
            <MeasuredChart
              title={about.title}
              unit={about.unit}
              settings={record.settings}
              lines={[{ id: tool, label: name, points }]}
            />
          </Stack>
        ))}
        {place !== null && (
          <Row>
            <LinkButton to={`/marks/${place}?resident=${id}`}>Measure a new picture</LinkButton>
          </Row>
        )}
      </Stack>
    </Tray>
  )
}
