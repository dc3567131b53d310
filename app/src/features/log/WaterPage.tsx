// The water of one vessel, test by test: where it stands, where it goes, what it uses, and what to test next.
import {
  AHEAD_DAYS,
  ANALYTES,
  alkalinityUsers,
  entryMs,
  fromCanonical,
  preferredUnit,
  systemOf,
  systemsFor,
  waterLines,
  type AlkalinityUser,
  type WaterLine,
} from '@brinvo/core'
import { scaleLinear } from 'd3-scale'
import { line as path } from 'd3-shape'
import { useMemo, type ReactNode } from 'react'
import { Link, useParams } from 'react-router'
import { styled } from 'styled-components'
import { useActions, useRecord } from '../../data/queries.tsx'
import { Select } from '../../design/fields.tsx'
import { Empty, LinkButton, Page, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { useWidth } from '../../design/useWidth.ts'
import { NARROW } from '../../design/theme.ts'
import { countWord, dayText, longDayText, preferencesOf, sentenceCase, whenText } from '../../design/words.ts'
import { TrustLink } from '../../parts/TrustLink.tsx'
import { useNotice } from '../../shell/Notices.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

const DAY = 86_400_000
/** Days before now that are drawn. */
const DRAWN = 42
/** So many tests are listed beneath a lane, and drawn as points of their own. */
const LISTED = 60

const UsersSection = styled.section`
  grid-column: 1 / -1;
  padding-top: 6px;
  h3 {
    font-size: 15px;
  }
  ul {
    display: grid;
    gap: 6px;
    padding-top: 4px;
  }
  li[data-against] {
    color: var(--quiet);
  }
`
const Lane = styled.article`
  display: grid;
  grid-template-columns: 210px minmax(0, 1fr);
  gap: 4px 24px;
  align-items: start;
  & + & {
    border-top: 1px solid var(--hairline);
    margin-top: 14px;
    padding-top: 14px;
  }
  h2 {
    font-size: 15px;
    font-weight: 650;
  }
  .value {
    font-size: 30px;
    font-weight: 750;
    letter-spacing: -0.02em;
    line-height: 1.15;
  }
  svg {
    display: block;
    width: 100%;
    height: auto;
  }
  text {
    fill: var(--quiet);
    font-size: 12px;
  }
  details {
    grid-column: 1 / -1;
  }
  summary {
    cursor: pointer;
    min-height: 32px;
    color: var(--quiet);
    font-size: 14px;
  }
  table {
    border-collapse: collapse;
    font-size: 15px;
  }
  td,
  th {
    text-align: left;
    padding: 4px 20px 4px 0;
    border-bottom: 1px solid var(--hairline);
  }
  ${NARROW} {
    grid-template-columns: minmax(0, 1fr);
  }
`

export function WaterPage() {
  const { vesselId = '' } = useParams()
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const lines = useMemo(() => waterLines(record, active, vesselId, nowMs), [record, active, vesselId, nowMs])
  const users = useMemo(
    () => alkalinityUsers(lines, record, active, vesselId, nowMs),
    [lines, record, active, vesselId, nowMs],
  )
  const { revise } = useActions()
  const notice = useNotice()
  const vessel = record.vessels.get(vesselId)
  if (!vessel) return <NotFound />
  const next = [...lines].sort((a, b) => a.testInDays - b.testInDays)[0]
  const nextDay = next ? dayText(nowMs + next.testInDays * DAY, record.settings) : ''
  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={`/vessels/${vesselId}`}>{vessel.body.name}</Link>
        </p>
        <h1>Water of {vessel.body.name}</h1>
        {lines.length === 0 ? (
          <Empty title="Nothing was tested here yet">
            <p>
              One reading stands alone; from the second on there is a trend, and with a few weeks of them a forecast.
            </p>
            <LinkButton to={`/tests/${vesselId}`} $look="main">
              Enter tests
            </LinkButton>
          </Empty>
        ) : (
          <Tray aria-label="Next test">
            <Row $between>
              <div>
                <Quiet>The test that tells most</Quiet>
                <p style={{ fontSize: 22, fontWeight: 700 }}>
                  {next && next.testInDays < AHEAD_DAYS
                    ? `${ANALYTES[next.analyte].word}, ${next.testInDays === 0 ? 'today' : `by ${nextDay}`}`
                    : 'None within a fortnight'}
                </p>
                <Quiet>
                  {next && next.testInDays < AHEAD_DAYS
                    ? next.outside
                      ? 'It was read out of its range: the next test tells whether it comes back.'
                      : next.testInDays === 0
                        ? 'By what was read it may be out of its range by now.'
                        : 'Until then nine in ten would still be inside their range.'
                    : 'By what was read, all that has a range stays in it.'}
                </Quiet>
              </div>
              <LinkButton to={`/tests/${vesselId}`} $look="main">
                Enter tests
              </LinkButton>
            </Row>
          </Tray>
        )}
        {lines.length > 0 && (
          <Tray>
            {lines.map((line) => (
              <WaterLane key={line.analyte} line={line} nowMs={nowMs}>
                {line.analyte === 'alkalinity' && <Users users={users} />}
              </WaterLane>
            ))}
          </Tray>
        )}
      </Stack>
      <Stack $gap={14}>
        <Tray>
          <Stack $gap={8}>
            <Select
              label="Held against"
              value={systemOf(vessel.body)?.id ?? ''}
              onChange={(system) =>
                void revise(vessel, { ...vessel.body, system }).catch((cause: Error) =>
                  notice({ text: cause.message, tone: 'failed' }),
                )
              }
              options={systemsFor(vessel.body.water).map(({ id, label }) => ({ value: id, label }))}
            />
            <Quiet>
              The tinted band is what suits this kind of water: a reading aid, no goal to chase. A steady value a little
              outside harms less than a quick return.
            </Quiet>
          </Stack>
        </Tray>
        <Tray>
          <Stack $gap={8}>
            <h2 style={{ fontSize: 17 }}>In and out</h2>
            <ul style={{ display: 'grid', gap: 8 }}>
              <li>
                <Link to={`/tests/${vesselId}/table`}>Readings from a table, or as one</Link>
              </li>
              <li>
                <Link to={`/water/${vesselId}/corrections`}>Corrections: several at once, stock solutions, dosers</Link>
              </li>
              <li>
                <Link to="/devices">Devices: probes and dosers that tell by themselves</Link>
              </li>
              <li>
                <Link to={`/laboratory?vessel=${vesselId}`}>Laboratory: a vial, or its report</Link>
              </li>
            </ul>
          </Stack>
        </Tray>
        <TrustLink part="use" />
      </Stack>
    </Page>
  )
}

/** A chance as keepers count: never none, never all. */
const inTen = (chance: number): string => {
  const tenths = Math.round(chance * 10)
  return tenths >= 10 ? 'More than nine' : sentenceCase(countWord(Math.max(1, tenths)))
}
const sig = (value: number): string => String(Number(value.toPrecision(2))).replace('-', '−')

/** Who uses the alkalinity: what the record speaks for first, each with the look that would tell. */
function Users({ users }: { readonly users: readonly AlkalinityUser[] }) {
  if (users.length === 0) return null
  return (
    <UsersSection aria-label="Who uses the alkalinity">
      <h3>Who uses it?</h3>
      <ul>
        {users.map(({ cause, speaks, words }) => (
          <li key={cause.id} {...(speaks === 'against' ? { 'data-against': '' } : {})}>
            <strong>{cause.title}</strong>{' '}
            <Tag>{speaks === 'for' ? 'speaks for it' : speaks === 'open' ? 'open' : 'speaks against it'}</Tag>
            <br />
            {words}
            {speaks !== 'against' && (
              <>
                {' '}
                <Quiet>
                  To tell: {cause.question} {speaks === 'for' && cause.correction}
                </Quiet>
              </>
            )}
          </li>
        ))}
      </ul>
    </UsersSection>
  )
}

function WaterLane({
  line,
  nowMs,
  children,
}: {
  readonly line: WaterLine
  readonly nowMs: number
  readonly children?: ReactNode
}) {
  const { record } = useRecord()
  const about = ANALYTES[line.analyte]
  const unit = preferredUnit(about.dimension, preferencesOf(record.settings))
  const shown = (value: number) => Number(fromCanonical(about.dimension, value, unit).toPrecision(4))
  /** A difference in the keeper's unit: no zero point in it. */
  const difference = (value: number) =>
    fromCanonical(about.dimension, line.last.value + value, unit) -
    fromCanonical(about.dimension, line.last.value, unit)
  const unitText = unit === 'pH' ? '' : ` ${unit}`
  const bound = line.last.bound === 'below' ? '< ' : line.last.bound === 'above' ? '> ' : ''
  const { moves, use, crossing, outside } = line
  const steady = moves !== null && moves.low <= 0 && moves.high >= 0
  return (
    <Lane aria-label={about.word}>
      <div>
        <h2>{about.word}</h2>
        <p className="value">
          {bound}
          {shown(line.last.value)}
          <Quiet style={{ fontSize: 15, fontWeight: 500 }}>{unitText}</Quiet>
        </p>
        <Quiet>
          {line.last.dayOnly
            ? dayText(entryMs(line.last), record.settings)
            : whenText(entryMs(line.last), nowMs, record.settings)}
          {line.weekBefore ? `; a week before ${shown(line.weekBefore.value)}` : ''}
        </Quiet>
        <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap', paddingTop: 4 }}>
          {outside && <Tag $tone="due">outside its range</Tag>}
          {line.silentDays >= 21 && <Tag>not tested for {Math.floor(line.silentDays)} days</Tag>}
        </div>
      </div>
      <div>
        <Drawn line={line} nowMs={nowMs} shown={shown} name={about.word} />
        <p>
          {moves === null
            ? 'No trend yet: two tests at least a day apart make one.'
            : steady
              ? `No direction that these tests could tell: between ${sig(difference(moves.low))} and +${sig(difference(moves.high))}${unitText} a day.`
              : `${moves.perDay < 0 ? 'Falls' : 'Rises'} by ${sig(Math.abs(difference(moves.perDay)))}${unitText} a day (${sig(Math.min(Math.abs(difference(moves.low)), Math.abs(difference(moves.high))))} to ${sig(Math.max(Math.abs(difference(moves.low)), Math.abs(difference(moves.high))))}).`}
          {use !== null && !line.last.bound.startsWith('a')
            ? ` With what was added and changed taken off, ${use.perDay >= 0 ? 'used' : 'made'}: ${use.atLeast ? 'at least ' : ''}${sig(Math.abs(difference(use.perDay)))}${unitText} a day.`
            : ''}
        </p>
        {crossing && (
          <p>
            <strong>{inTen(crossing.chance)} in ten</strong> {outside ? 'still ' : ''}
            {crossing.bound === 'min' ? 'under' : 'over'} {shown(crossing.at)}
            {unitText} {outside ? 'in' : 'within'} a fortnight
            {crossing.days < AHEAD_DAYS && !outside
              ? `, by its middle on ${longDayText(nowMs + crossing.days * DAY, record.settings)}`
              : ''}
            , if all goes on as it did.
          </p>
        )}
      </div>
      {children}
      <details>
        <summary>
          The {line.readings.length === 1 ? 'test' : `${line.readings.length} tests`} behind it, and how it is reckoned
        </summary>
        <Stack $gap={8}>
          <p>
            The middle of all slopes between two tests (Theil–Sen), so that one odd test bends nothing; the doubt from
            the kit’s scatter and from what is seen. A chance is that of a straight line from the last test, its slope
            and that test each with its error. Days ahead: {AHEAD_DAYS}.
          </p>
          <table>
            <tbody>
              {line.readings
                .slice(-LISTED)
                .toReversed()
                .map((entry) => (
                  <tr key={entry.id}>
                    <td>
                      {entry.dayOnly
                        ? longDayText(entryMs(entry), record.settings)
                        : `${longDayText(entryMs(entry), record.settings)} ${whenText(entryMs(entry), nowMs, record.settings).split(' ').at(-1)}`}
                    </td>
                    <td>
                      {entry.bound === 'below' ? '< ' : entry.bound === 'above' ? '> ' : ''}
                      {shown(entry.value)}
                      {unitText}
                    </td>
                    <td>
                      {entry.instrumentId === undefined
                        ? ''
                        : (record.instruments.get(entry.instrumentId)?.body.name ?? '')}
                    </td>
                  </tr>
                ))}
            </tbody>
          </table>
          {line.readings.length > LISTED && (
            <Quiet>
              and {line.readings.length - LISTED} older, all of them on the ledger and in the table that goes out
            </Quiet>
          )}
        </Stack>
      </details>
    </Lane>
  )
}

const HEIGHT = 104
/** Tests as points, the range as a band, the line as far as it is believed, its doubt widening ahead. */
function Drawn({
  line,
  nowMs,
  shown,
  name,
}: {
  readonly line: WaterLine
  readonly nowMs: number
  readonly shown: (value: number) => number
  readonly name: string
}) {
  const { settings } = useRecord().record
  // Drawn at the size it is shown, so that its words stay readable on a phone.
  const { ref, width } = useWidth()
  const points = line.readings.filter((entry) => nowMs - entryMs(entry) <= DRAWN * DAY)
  const x = scaleLinear([nowMs - DRAWN * DAY, nowMs + AHEAD_DAYS * DAY], [44, width - 8])
  const { moves, range } = line
  const ahead = moves
    ? [0, AHEAD_DAYS].map((day) => ({
        at: nowMs + day * DAY,
        // Nothing falls below none.
        middle: Math.max(0, line.nowValue + moves.perDay * day),
        low: Math.max(0, line.nowValue + moves.low * day),
        high: Math.max(0, line.nowValue + moves.high * day),
      }))
    : []
  const values = [
    ...points.map(({ value }) => value),
    ...ahead.flatMap(({ low, high }) => [low, high]),
    line.last.value,
    ...(range ? [range.min, range.max].filter((one) => one !== undefined) : []),
  ]
  const [low, high] = [Math.min(...values), Math.max(...values)]
  const margin = (high - low || Math.abs(high) || 1) * 0.08
  const y = scaleLinear([Math.max(0, low - margin), high + margin], [HEIGHT - 20, 6])
  const top = range?.max === undefined ? 6 : y(range.max)
  const bottom = range?.min === undefined ? HEIGHT - 20 : y(range.min)
  const said = points
    .slice(-LISTED)
    .map((entry) => shown(entry.value))
    .join(', ')
  return (
    <div ref={ref}>
      <svg viewBox={`0 0 ${width} ${HEIGHT}`} role="img" aria-label={`${name}: ${said || 'no test in six weeks'}`}>
        {range && (
          <rect x="44" width={width - 52} y={top} height={Math.max(0, bottom - top)} fill="var(--malachite-tint)" />
        )}
        <rect x={x(nowMs)} width={width - 8 - x(nowMs)} y="0" height={HEIGHT - 20} fill="var(--later)" />
        {range?.max !== undefined && (
          <text x="40" y={top + 4} textAnchor="end">
            {shown(range.max)}
          </text>
        )}
        {range?.min !== undefined && (
          <text x="40" y={bottom + 4} textAnchor="end">
            {shown(range.min)}
          </text>
        )}
        {ahead.length > 0 && (
          <>
            <polygon
              points={[
                ...ahead.map((one) => `${x(one.at)},${y(one.high)}`),
                ...ahead.toReversed().map((one) => `${x(one.at)},${y(one.low)}`),
              ].join(' ')}
              fill="var(--quiet)"
              opacity="0.22"
            />
            <path
              d={
                path<(typeof ahead)[number]>(
                  (one) => x(one.at),
                  (one) => y(one.middle),
                )(ahead) ?? undefined
              }
              fill="none"
              stroke="var(--ink)"
              strokeWidth="1.6"
              strokeDasharray="5 4"
            />
          </>
        )}
        <path
          d={
            path<(typeof points)[number]>(
              (entry) => x(entryMs(entry)),
              (entry) => y(entry.value),
            )(points) ?? undefined
          }
          fill="none"
          stroke="var(--quiet)"
          strokeWidth="1.2"
        />
        {(points.length > LISTED ? points.slice(-1) : points).map((entry) =>
          entry.bound === 'exact' ? (
            <circle key={entry.id} cx={x(entryMs(entry))} cy={y(entry.value)} r="4" fill="var(--ink)" />
          ) : (
            <path
              key={entry.id}
              d={`M${x(entryMs(entry)) - 4},${y(entry.value)}h8M${x(entryMs(entry))},${y(entry.value)}v${entry.bound === 'below' ? 9 : -9}`}
              stroke="var(--ink)"
              strokeWidth="2"
            />
          ),
        )}
        <line x1={x(nowMs)} x2={x(nowMs)} y1="0" y2={HEIGHT - 18} stroke="var(--ink)" strokeWidth="1.5" />
        <text x={x(nowMs)} y={HEIGHT - 4} textAnchor={width < 480 ? 'end' : 'middle'}>
          now
        </text>
        <text x="44" y={HEIGHT - 4}>
          {dayText(nowMs - DRAWN * DAY, settings)}
        </text>
        <text x={width - 8} y={HEIGHT - 4} textAnchor="end">
          {dayText(nowMs + AHEAD_DAYS * DAY, settings)}
        </text>
      </svg>
    </div>
  )
}
