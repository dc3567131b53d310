// Beside a course: how much its animals were handled, and what was decided on the way.
import {
  sinceThen,
  protocolServing,
  breathingOf,
  courseContext,
  exitTicks,
  handlingOf,
  openSigns,
  residentVessels,
  signOf,
  warmDaysIn,
  warmWait,
  type CourseDocument,
  type CoursePlan,
  type Protocol,
  type ResidentDocument,
} from '@brinvo/core'
import { Link } from 'react-router'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { LinkButton, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { plural, sentenceCase, whenText } from '../../design/words.ts'
import { entryWords } from '../../parts/entryWords.ts'
import { WorkingButton } from '../../design/Working.tsx'
import { WatchStrip } from '../../parts/WatchStrip.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { useUnits } from '../../parts/useUnits.ts'

/** Who is in the course, where each is now, and how often they were caught in the last week. */
export function AnimalsPanel({ course }: { course: CourseDocument }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  if (course.body.residents.length === 0) return null
  const where = residentVessels(record, active, nowMs)
  const handling = handlingOf(record, active, course, nowMs)
  return (
    <Tray>
      <Stack $gap={8}>
        <h3>The animals</h3>
        <ul>
          {course.body.residents.map((id) => {
            const resident = record.residents.get(id)
            const place = where.get(id)
            return (
              <li key={id} style={{ padding: '3px 0' }}>
                {resident ? (
                  <Link to={`/residents/${id}`}>{resident.body.name}</Link>
                ) : (
                  'An animal that is not on the record'
                )}{' '}
                <Quiet>
                  {place === null || place === undefined
                    ? (resident?.body.leftHow ?? 'gone')
                    : place === course.body.vesselId
                      ? ''
                      : `now in ${record.vessels.get(place)?.body.name}`}
                </Quiet>
                {resident && <StateOf resident={resident} />}
              </li>
            )
          })}
        </ul>
        <p>
          {handling.times === 0
            ? 'Not caught and not bathed in the last seven days.'
            : `Caught or bathed ${plural(handling.times, 'time')} in the last seven days${handling.lastMs === null ? '' : `, last ${whenText(handling.lastMs, nowMs, record.settings)}`}.`}
        </p>
        {handling.worn !== null && <p>{handling.worn}.</p>}
        {handling.rest && (
          <>
            <p>
              <Tag $tone="due">rest</Tag> Nothing got worse for two days. What can wait may wait a few days: every
              catch, drug and change costs strength.
            </p>
            {(course.body.protocol as unknown as Protocol).serves !== 'rest' && (
              <LinkButton to={`/courses/new?vessel=${course.body.vesselId}&protocol=${protocolServing('rest').id}`}>
                Rest as a plan
              </LinkButton>
            )}
          </>
        )}
        <Since course={course} />
        {splitsWatching(course) && <WatchStrip vesselId={course.body.vesselId} />}
        <LinkButton to={`/watch/${course.body.vesselId}`}>Watch them</LinkButton>
      </Stack>
    </Tray>
  )
}

const WENT = { better: 'better', worse: 'worse', 'as-before': 'as before' } as const

/** What improved since the course began, and what did not: as many days before as after. */
function Since({ course }: { course: CourseDocument }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { days, rows } = sinceThen(record, active, course, nowMs)
  const told = rows.filter(({ before, after }) => before !== null || after !== null)
  if ((course.body.protocol as unknown as Protocol).purpose !== 'observation' || told.length === 0) return null
  const number = (value: number | null) => (value === null ? 'not noted' : String(Number(value.toPrecision(2))))
  return (
    <Stack $gap={4} role="region" aria-label="Since it began">
      <h4>
        Since it began{' '}
        <Quiet>
          {sentenceCase(plural(days, 'day'))} before, and the last {plural(days, 'day')}
        </Quiet>
      </h4>
      <ul>
        {told.map(({ id, label, unit, before, after, went }) => (
          <li key={id}>
            {label} {unit}: {number(before)} → <strong>{number(after)}</strong>{' '}
            {went !== null && (
              <Tag $tone={went === 'better' ? 'good' : went === 'worse' ? 'due' : 'plain'}>{WENT[went]}</Tag>
            )}
          </li>
        ))}
      </ul>
    </Stack>
  )
}

/** Whether days without signs count only when they were watched in full. */
const splitsWatching = (course: CourseDocument): boolean =>
  (course.body.protocol as unknown as Protocol).phases.some(({ rules }) =>
    rules.some((rule) => rule.kind === 'observe' && rule.split === true),
  )

/** What stands of one animal: signs not yet gone, and its breathing. */
function StateOf({ resident }: { resident: ResidentDocument }) {
  const { record, active } = useRecord()
  const signs = openSigns(active, resident.id)
  const breathing = breathingOf(active, resident, record.settings.zone)
  const last = breathing.counts.at(-1)
  if (signs.length === 0 && !last) return null
  return (
    <span style={{ display: 'block' }}>
      {signs.map(({ sign }) => (
        <Tag key={sign} $tone="due" style={{ marginRight: 6 }}>
          {(signOf(sign)?.label ?? sign).toLowerCase()}
        </Tag>
      ))}
      {last && (
        <Quiet>
          {last.perMinute} beats a minute{breathing.alarm ? ', alarm' : ''}
        </Quiet>
      )}
    </span>
  )
}

const Ticks = styled.ul`
  display: grid;
  gap: 6px;
  li {
    display: grid;
    grid-template-columns: 24px 1fr;
    gap: 6px;
  }
`

/** What ends the phase a course is in, ticked by the record. */
export function ExitPanel({ course, plan }: { course: CourseDocument; plan: CoursePlan }) {
  const { record, active } = useRecord()
  const { nowMs, estimates } = useThePlans()
  const { current, phases } = plan.progress
  if (current === null) return null
  const { phase, enteredMs } = phases[current]!
  const context = courseContext(record, active, course, nowMs, estimates.get(course.id)?.clock ?? null)
  const ticks = exitTicks(phase.exit, context, enteredMs ?? nowMs)
  const next = phases[current + 1]?.phase
  return (
    <Tray>
      <Stack $gap={8}>
        <h3>{next ? `Before “${next.title}”` : 'Before release'}</h3>
        <Ticks>
          {ticks.map(({ words, have, metMs }) => (
            <li key={words}>
              <span aria-hidden>{metMs === null ? '○' : '✓'}</span>
              <span>
                {words}{' '}
                <Quiet>
                  {metMs !== null
                    ? `met ${whenText(metMs, nowMs, record.settings)}`
                    : have === undefined
                      ? 'open'
                      : `${have} so far`}
                </Quiet>
              </span>
            </li>
          ))}
        </Ticks>
        {ticks.length > 1 && ticks.every(({ either }) => either) && <Quiet>One of them is enough.</Quiet>}
      </Stack>
    </Tray>
  )
}

const DECIDING = new Set(['override', 'skip', 'gate', 'equipment'])

/** Overrides, what was left out, questions answered and the volume corrected: newest first. */
export function DecisionsPanel({ course }: { course: CourseDocument }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const startMs = Date.parse(course.body.startedAt)
  const decided = active
    .filter((entry) => DECIDING.has(entry.kind) && entry.courseId === course.id)
    .map((entry) => ({ key: entry.id, ms: Date.parse(entry.at), words: entryWords(entry, record) }))
  const vessel = record.vessels.get(course.body.vesselId)
  const volumes = (vessel?.history ?? [])
    .filter(({ savedAt }) => Date.parse(savedAt) > startMs)
    .map(({ revision, savedAt }) => ({
      key: `volume-${revision}`,
      ms: Date.parse(savedAt),
      words: `${vessel!.body.name} was measured anew: all doses before are read through it`,
    }))
  const all = [...decided, ...volumes].sort((a, b) => b.ms - a.ms)
  if (all.length === 0) return null
  return (
    <Tray>
      <Stack $gap={6}>
        <h3>Decided on the way</h3>
        <ul style={{ display: 'grid', gap: 6 }}>
          {all.slice(0, 8).map(({ key, ms, words }) => (
            <li key={key}>
              {words} <Quiet>{whenText(ms, nowMs, record.settings)}</Quiet>
            </li>
          ))}
        </ul>
        {all.length > 8 && (
          <p>
            <Link to="/ledger">{all.length - 8} more on the ledger</Link>
          </p>
        )}
      </Stack>
    </Tray>
  )
}

/** A fish-free vessel that counts by warmth: what the days with a reading have earned, and what the others cost. */
export function WarmthPanel({ course }: { course: CourseDocument }) {
  const units = useUnits()
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const wait = warmWait(courseContext(record, active, course, nowMs, null))
  if (!wait) return null
  const { state, sinceMs } = wait
  const rows = (course.body.protocol as unknown as Protocol).phases.flatMap(
    ({ exit }) => warmDaysIn(exit)?.byTemperature ?? [],
  )
  return (
    <Tray $tone={state && state.coldDay !== null ? 'caution' : 'plain'}>
      <Stack $gap={6}>
        <h2>Warm days</h2>
        {!state || sinceMs === null ? (
          <p>A fish is in the vessel: nothing counts until the last one is out.</p>
        ) : (
          <>
            <p>
              <strong style={{ fontSize: 28 }}>{Math.floor(100 * state.share)} %</strong> of the wait,{' '}
              {plural(state.counted, 'warm day')} since {whenText(sinceMs, nowMs, record.settings)}
            </p>
            <Row>
              <WorkingButton
                look="bare"
                working={{
                  title: 'Share of the wait',
                  formula: 'Σ over the days read: 1 ÷ days asked for by the coldest reading of the day',
                  inputs: [
                    { label: 'days that counted', value: state.counted, unit: 'd' },
                    { label: 'days without a reading', value: state.unread, unit: 'd' },
                    ...rows.map(({ fromC, days }) => ({
                      label: `asked for from ${units.text('temperature', fromC)}`,
                      value: days,
                      unit: 'd',
                    })),
                  ],
                  result: { label: 'of the wait', value: 100 * state.share, unit: '%' },
                  source: 'Handbook 30 §5.8',
                }}
              />
            </Row>
            {state.unread > 0 && (
              <p>
                {sentenceCase(plural(state.unread, 'day'))} without a reading of the temperature: they count nothing.
              </p>
            )}
            {state.coldDay !== null && <p>Too cold on {state.coldDay}.</p>}
          </>
        )}
      </Stack>
    </Tray>
  )
}
