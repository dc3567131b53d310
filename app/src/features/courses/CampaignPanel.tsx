// A campaign on its course's page: is it over, is it working, must it stop; what was counted, and what to answer.
import { TrustLink } from '../../parts/TrustLink.tsx'
import {
  analyteWord,
  agentForm,
  campaignState,
  daysToCorrect,
  measureValue,
  OFF_FIELD,
  redose,
  type CampaignAnswer,
  type CampaignState,
  type CourseDocument,
  type AnimalGuard,
  type GuardState,
  type MeasureState,
  type Protocol,
  ofUnit,
} from '@brinvo/core'
import { lazy, Suspense, useMemo, useState } from 'react'
import { Link } from 'react-router'
import { styled } from 'styled-components'
import { useRecord, type Draft } from '../../data/queries.tsx'
import { DayTable, Button, LinkButton, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { levelText, plural, sentenceCase, whenText } from '../../design/words.ts'
import { usePress } from '../../parts/useCommit.ts'
import { useSave } from '../../parts/StepActions.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { LivestockPanel } from './LivestockPanel.tsx'

const CampaignChart = lazy(async () => ({ default: (await import('./CampaignChart.tsx')).CampaignChart }))
const DAY = 86_400_000

const Answers = styled.dl`
  display: grid;
  > dt {
    padding: 8px 0 0;
    color: var(--quiet);
    font-weight: 650;
  }
  > dd {
    padding: 0 0 8px;
  }
  > dt:not(:first-child) {
    border-top: 1px solid var(--hairline);
  }
`
const Words = styled.dd<{ $tone: CampaignAnswer['tone'] }>`
  font-size: 17px;
  font-weight: 600;
  ${({ $tone }) => ($tone === 'danger' ? 'color: var(--danger);' : $tone === 'good' ? 'color: var(--malachite-ink);' : '')}
`
export function useCampaign(course: CourseDocument): CampaignState | null {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  return useMemo(() => campaignState(record, active, course, nowMs), [record, active, course, nowMs])
}

/** The three questions of a campaign, answered: is it over, is it working, must it stop. */
export function CampaignAnswers({ course }: { course: CourseDocument }) {
  const { plans, nowMs } = useThePlans()
  const { record, active } = useRecord()
  const state = useCampaign(course)
  const correcting = useMemo(
    () => daysToCorrect(course.body.protocol as unknown as Protocol, record, active, course.body.vesselId, nowMs),
    [course, record, active, nowMs],
  )
  if (!state) return null
  const { over, working, stop, expect, effort } = state
  const main = state.measures[0]
  const ended = course.body.endedAt !== undefined
  const roundOpen = plans
    .find(({ courseId }) => courseId === course.id)
    ?.steps.some(
      ({ round, state: step }) => round !== undefined && (step === 'due' || step === 'late' || step === 'ahead'),
    )
  return (
    <Tray $tone={stop.tone === 'danger' && !ended ? 'danger' : 'plain'}>
      <Stack $gap={4}>
        <Row $between>
          <h2>
            Day {state.day} <Quiet>{correcting === null ? dayOfLeast(course) : correctingWords(correcting)}</Quiet>
          </h2>
          {main && !ended && !roundOpen && (
            <LinkButton to={`/courses/${course.id}/tally/${main.measure.id}`}>
              {main.points.length === 0 ? 'First count' : 'Count again'}
            </LinkButton>
          )}
        </Row>
        <Answers>
          <dt>Is it over?</dt>
          <Words $tone={over.tone}>{over.words}</Words>
          <dt>Is it working?</dt>
          <Words $tone={working.tone}>{working.words}</Words>
          <dt>Must it stop?</dt>
          <Words $tone={stop.tone}>{stop.words}</Words>
        </Answers>
        {expect !== null && (
          <Well>
            Treated patches should now look <strong>{expect}</strong>, the one left alone as before.
          </Well>
        )}
        {effort.less && (
          <Well>
            <strong>Do less for a week.</strong> {sentenceCase(plural(effort.sessionsWeek, 'session'))} in seven days,
            and nothing gets worse: what can wait may wait.
          </Well>
        )}
      </Stack>
    </Tray>
  )
}

/** What the counts of a campaign alarm about. */
export function CampaignAlarms({ course }: { course: CourseDocument }) {
  const state = useCampaign(course)
  return state && course.body.endedAt === undefined ? <Alarms state={state} course={course} /> : null
}

/** How a campaign stands: counts, limits, animals. */
export function CampaignPanel({ course }: { course: CourseDocument }) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const state = useCampaign(course)
  if (!state) return null
  const { campaign } = state
  const main = state.measures[0]
  const ended = course.body.endedAt !== undefined
  return (
    <>
      {main && main.points.length > 0 && <MainChart state={state} main={main} course={course} />}
      <Guards
        guards={state.guards}
        animals={state.animals}
        startMs={Date.parse(course.body.startedAt)}
        endDay={endDay(course)}
      />
      {!ended && campaign.back && <LivestockPanel course={course} />}
      {state.measures.length > 1 && <Measures state={state} course={course} />}
      {state.jar && !ended && <Redose course={course} state={state.jar.state} />}
      {state.jar && state.jar.clearMs !== null && (
        <Well>
          Both dead looks are made: change and siphon from {whenText(state.jar.clearMs, nowMs, record.settings)}.
        </Well>
      )}
    </>
  )
}

/** What goes in after the half change: the hold dose, and the full one only where the jar still moves after a day. */
function Redose({ course, state }: { course: CourseDocument; state: string }) {
  const role = (course.body.protocol as unknown as Protocol).productRoles[0]
  const form = agentForm(role?.forms[0] ?? '')
  if (!form || state === 'clear') return null
  const hold = redose(form.target, form.target, 0.5, form.hardMax, 'hold')
  const second = redose(form.target, form.target, 0.5, form.hardMax, 'full')
  const third = redose(form.target, second.level, 0.5, form.hardMax, 'full')
  return (
    <Well>
      <strong>After each half change</strong> add {hold.add} mg/L of the whole water: {hold.level} mg/L again. Only
      where the jar still moves at 24 hours, a full dose once: {second.add} mg/L to {levelText(second.level)}, a third
      at most {levelText(third.add)} (ceiling {form.hardMax} mg/L). <Quiet>After keepers’ practice.</Quiet>
    </Well>
  )
}

const leastOf = (course: CourseDocument): number =>
  (course.body.protocol as unknown as Protocol).phases.reduce((sum, { typicalDays }) => sum + typicalDays, 0)
const dayOfLeast = (course: CourseDocument): string => `of about ${Math.round(leastOf(course))}`
const correctingWords = (days: number): string =>
  Number.isFinite(days)
    ? `; about ${plural(days, 'day')} to the target`
    : '; at this use the day’s limit never reaches the target'
const endDay = (course: CourseDocument): number =>
  (course.body.protocol as unknown as Protocol).phases[0]?.typicalDays ?? 7

const ROSE = [
  { id: 'missed-treatment', label: 'A treatment was missed' },
  { id: 'other-pest', label: 'It is another one' },
  { id: 'came-anew', label: 'It came in anew' },
  { id: 'counted-better', label: 'Only counted better' },
] as const
const ROSE_THEN: Readonly<Record<string, string>> = {
  'missed-treatment': 'Noted. The rhythm starts again from the next round.',
  'other-pest': 'Noted. Open a finding and name it anew before the next round.',
  'came-anew': 'Noted. Find what it came on; that goes through the rounds too.',
  'counted-better': 'Noted. The model takes the count as it is.',
}

function Alarms({ state, course }: { state: CampaignState; course: CourseDocument }) {
  const save = useSave()
  if (state.alarms.length === 0) return null
  return (
    <Tray $tone="caution">
      <ul style={{ display: 'grid', gap: 12 }}>
        {state.alarms.map((alarm) => (
          <li key={alarm.id}>
            <strong>{alarm.words}</strong> {alarm.ask}
            {alarm.id === 'count-rose' && (
              <Row $gap={6} style={{ marginTop: 8 }} role="group" aria-label="Why the count went up">
                {ROSE.map(({ id, label }) => (
                  <Button
                    key={id}
                    onPress={() =>
                      void save(
                        [
                          {
                            kind: 'check',
                            vesselId: course.body.vesselId,
                            courseId: course.id,
                            what: 'count-rose',
                            answers: [id],
                          } as Draft,
                        ],
                        ROSE_THEN[id]!,
                      )
                    }
                  >
                    {label}
                  </Button>
                ))}
              </Row>
            )}
            {alarm.id === 'missing' && <MissingPresses state={state} course={course} />}
          </li>
        ))}
      </ul>
    </Tray>
  )
}

/** What becomes of an animal that was not found: counted again, or noted as dead. */
function MissingPresses({ state, course }: { state: CampaignState; course: CourseDocument }) {
  const press = usePress()
  const measure = state.campaign.measures.find(({ byAnimal }) => byAnimal)
  return (
    <Row $gap={6} style={{ marginTop: 8 }} role="group" aria-label="What became of them">
      {measure && <LinkButton to={`/courses/${course.id}/tally/${measure.id}`}>Count again</LinkButton>}
      {state.missing.map(({ residentId, name, gone, of }) => (
        <Button
          key={residentId}
          onPress={() =>
            void press(
              {
                kind: 'leave',
                vesselId: course.body.vesselId,
                courseId: course.id,
                residents: [{ id: residentId, ...(of > 1 ? { count: gone } : {}) }],
                how: 'died',
              },
              `${name}: noted as dead.`,
            )
          }
        >
          {of > 1 ? `${gone} of ${name} died` : `${name} died`}
        </Button>
      ))}
    </Row>
  )
}

function MainChart({ state, main, course }: { state: CampaignState; main: MeasureState; course: CourseDocument }) {
  const { nowMs } = useThePlans()
  const startMs = Date.parse(course.body.startedAt)
  const dayOf = (ms: number) => Math.max(0, (ms - startMs) / DAY)
  const nowDay = dayOf(course.body.endedAt === undefined ? nowMs : Date.parse(course.body.endedAt))
  const band = state.counts?.band ?? []
  const { arms } = main.measure
  const rows = [
    ...(arms
      ? main.points.map(({ atMs, entries }) => ({
          day: dayOf(atMs),
          ...Object.fromEntries(
            arms.flatMap(({ id }) => {
              const value = measureValue(
                main.measure,
                entries.filter(({ arm }) => arm === id),
              )
              return value === null ? [] : [[`line-${id}`, value]]
            }),
          ),
        }))
      : main.points.map(({ atMs, value, entries }) => {
          // What was measured on a picture says what it may be off by; a counted share has the interval of its count.
          const off = entries.length === 1 ? entries[0]!.values[OFF_FIELD] : undefined
          return { day: dayOf(atMs), value, ...(off === undefined ? {} : { off }) }
        })),
    ...band.map(({ day, low, middle, high }) => ({ day, low, middle, high })),
  ].sort((a, b) => a.day - b.day)
  const lastDay = Math.max(7, Math.ceil(nowDay + (band.length > 0 ? 10 : 4)))
  return (
    <Tray>
      <Stack $gap={6}>
        <h3>{main.measure.title}</h3>
        <Suspense fallback={<div style={{ height: 230 }} />}>
          <CampaignChart
            title={main.measure.title}
            unit={main.measure.unit}
            rows={rows}
            most={main.measure.value.of === 'mean' ? main.measure.fields[0]!.max : undefined}
            nowDay={nowDay}
            lastDay={lastDay}
            {...(arms ? { lines: arms } : {})}
            {...(main.measure.done ? { done: main.measure.done } : {})}
            {...(band.length > 0
              ? { bandWords: 'what eight in ten counts would find, by the life of the pest and your rounds.' }
              : {})}
          />
        </Suspense>
        {state.counts && (
          <p>
            Left by the model: about {trim(state.counts.mobilesLeft)} animals and {trim(state.counts.eggsLeft)} eggs.{' '}
            <TrustLink part="over" />
          </p>
        )}
        {main.interval && (
          <Quiet>
            The last share is {Math.round(main.points.at(-1)!.value)} %, eight in ten sure between{' '}
            {Math.round(main.interval.low)} and {Math.round(main.interval.high)} %: count more objects to narrow it.
          </Quiet>
        )}
      </Stack>
    </Tray>
  )
}
const trim = (value: number): string => (value < 0.05 ? '0' : String(Number(value.toPrecision(2))))

const STATE_WORDS = { done: 'done', working: 'working', 'going-on': 'going on' } as const
const STATE_TONES = { done: 'good', working: 'plain', 'going-on': 'due' } as const

function Measures({ state, course }: { state: CampaignState; course: CourseDocument }) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  return (
    <Tray>
      <Stack $gap={4}>
        <h3>Measures</h3>
        <DayTable>
          <thead>
            <tr>
              <th scope="col">what</th>
              <th scope="col">last</th>
              <th scope="col">reads</th>
              <th scope="col">
                <span className="sr">count</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {state.measures.map(({ measure, points, state: reads }) => {
              const last = points.at(-1)
              return (
                <tr key={measure.id}>
                  <td>{measure.title}</td>
                  <td>
                    {last ? (
                      <>
                        <strong>{ofUnit(Number(last.value.toPrecision(3)), measure.unit)}</strong>{' '}
                        <Quiet>{whenText(last.atMs, nowMs, record.settings)}</Quiet>
                      </>
                    ) : (
                      <Quiet>not yet</Quiet>
                    )}
                  </td>
                  <td>{reads && <Tag $tone={STATE_TONES[reads]}>{STATE_WORDS[reads]}</Tag>}</td>
                  <td style={{ textAlign: 'right', paddingRight: 0 }}>
                    <LinkButton
                      to={`/courses/${course.id}/tally/${measure.id}`}
                      $look="bare"
                      aria-label={`Count: ${measure.title}`}
                    >
                      Count
                    </LinkButton>
                  </td>
                </tr>
              )
            })}
          </tbody>
        </DayTable>
      </Stack>
    </Tray>
  )
}

const VERDICTS = { 'no-start': 'no start', calm: 'inside', act: 'act', stop: 'end it' } as const

/** Guarded values: start, now, the lines; the forecast of the one that comes nearest to its line. */
function Guards({
  guards,
  animals,
  startMs,
  endDay: lastDay,
}: {
  guards: readonly GuardState[]
  animals: readonly AnimalGuard[]
  startMs: number
  endDay: number
}) {
  const { nowMs } = useThePlans()
  const [chosen, setChosen] = useState<string | null>(null)
  if (guards.length === 0) return null
  const foretold = guards.filter(({ forecast }) => forecast !== null)
  const nearest = [...foretold].sort((a, b) => b.forecast!.beforeEnd - a.forecast!.beforeEnd)[0]
  const shown = foretold.find(({ analyte }) => analyte === chosen) ?? nearest
  const nowDay = (nowMs - startMs) / DAY
  return (
    <Tray>
      <Stack $gap={8}>
        <h3>Lines that end it</h3>
        <DayTable>
          <thead>
            <tr>
              <th scope="col">test</th>
              <th scope="col">start</th>
              <th scope="col">now</th>
              <th scope="col">act at</th>
              <th scope="col">end at</th>
              <th scope="col">reads</th>
            </tr>
          </thead>
          <tbody>
            {guards.map((guard) => (
              <tr key={guard.analyte}>
                <td>{analyteWord(guard.analyte)}</td>
                <td>{guard.startValue === null ? '–' : `${trim3(guard.startValue)} ${guard.unit}`}</td>
                <td>
                  <strong>{guard.last ? `${guard.last.value} ${guard.unit}` : '–'}</strong>
                </td>
                <td>{guard.actWords}</td>
                <td>{guard.stopWords}</td>
                <td>
                  <Tag
                    $tone={
                      guard.verdict === 'stop'
                        ? 'danger'
                        : guard.verdict === 'calm'
                          ? 'good'
                          : guard.verdict === 'act'
                            ? 'due'
                            : 'plain'
                    }
                  >
                    {VERDICTS[guard.verdict]}
                  </Tag>
                </td>
              </tr>
            ))}
          </tbody>
        </DayTable>
        {animals.length > 0 && (
          <ul aria-label="Animals that end it">
            {animals.map(({ id, words, verdict }) => (
              <li key={id} style={{ display: 'flex', justifyContent: 'space-between', gap: 12, padding: '6px 0' }}>
                <span>{words}</span>
                <Tag $tone={verdict === 'stop' ? 'danger' : verdict === 'act' ? 'due' : 'good'}>
                  {VERDICTS[verdict]}
                </Tag>
              </li>
            ))}
          </ul>
        )}
        {shown?.forecast && (
          <>
            {foretold.length > 1 && (
              <Row $gap={6} role="group" aria-label="Forecast of">
                {foretold.map(({ analyte }) => (
                  <Button
                    key={analyte}
                    look={analyte === shown.analyte ? 'main' : 'plain'}
                    onPress={() => setChosen(analyte)}
                  >
                    {analyteWord(analyte)}
                  </Button>
                ))}
              </Row>
            )}
            <Suspense fallback={<div style={{ height: 230 }} />}>
              <CampaignChart
                title={`${analyteWord(shown.analyte)}, tests`}
                unit={shown.unit}
                nowDay={Math.max(0, nowDay)}
                lastDay={Math.max(lastDay, Math.ceil(nowDay) + 2)}
                rows={[
                  ...shown.readings.map((entry) => ({
                    day: Math.max(0, (Date.parse(entry.at) - startMs) / DAY),
                    value: entry.value,
                  })),
                  ...shown.forecast.band,
                ].sort((a, b) => a.day - b.day)}
                limit={{ value: shown.stopAt!, label: `end at ${trim3(shown.stopAt!)} ${shown.unit}` }}
                bandWords="the forecast, eight in ten."
              />
            </Suspense>
            <p>
              Passes {trim3(shown.stopAt!)} {shown.unit} by the next test with{' '}
              <strong>{Math.round(100 * shown.forecast.byTomorrow)} %</strong>, within two days with{' '}
              {Math.round(100 * shown.forecast.withinTwoDays)} %, before the planned end with{' '}
              {Math.round(100 * shown.forecast.beforeEnd)} %
              <Quiet> (called from 7 % by the next test: a late end costs animals, an early one the treatment)</Quiet>.
            </p>
            <TrustLink part="dark" />
          </>
        )}
      </Stack>
    </Tray>
  )
}
const trim3 = (value: number): string => String(Number(value.toPrecision(3)))

/** Beside the course: its causes, what it asks of the keeper, its odds. */
export function CampaignAside({ course }: { course: CourseDocument }) {
  const state = useCampaign(course)
  if (!state) return null
  const { campaign, effort } = state
  return (
    <>
      {(campaign.causes?.length ?? 0) > 0 && (
        <Tray>
          <Stack $gap={8}>
            <h3>Why it grows</h3>
            <p>The record answers what it can; the rest takes two minutes.</p>
            <LinkButton to={`/courses/${course.id}/causes`}>Cause checklist</LinkButton>
          </Stack>
        </Tray>
      )}
      {campaign.hazards?.includes('ultraviolet') && (
        <Tray>
          <Stack $gap={8}>
            <h3>Ultraviolet</h3>
            <p>Dose, turnover and the best flow for this vessel’s own water.</p>
            <LinkButton to={`/bench?tool=uv&vessel=${course.body.vesselId}`}>Size the lamp</LinkButton>
          </Stack>
        </Tray>
      )}
      <Tray>
        <Stack $gap={6}>
          <h3>Effort</h3>
          <p>
            {sentenceCase(plural(effort.sessions, 'session'))}
            {effort.minutes > 0 && `, ${Math.round(effort.minutes)} min noted`}
            {effort.restDays === null
              ? '.'
              : `; the last ${effort.restDays === 0 ? 'today' : `${plural(effort.restDays, 'day')} ago`}.`}
          </p>
          <Quiet>{sentenceCase(plural(effort.sessionsWeek, 'session'))} in the last seven days.</Quiet>
          {campaign.odds !== undefined && (
            <p>
              Chance of clear improvement after fourteen days, done right: about {Math.round(campaign.odds * 100)} %{' '}
              <Quiet>(our estimate)</Quiet>
            </p>
          )}
          {campaign.stall !== undefined && <Quiet>If nothing moves: {campaign.stall}</Quiet>}
        </Stack>
      </Tray>
      <p className="no-print">
        <Link to="/courses">All courses and campaigns</Link>
      </p>
    </>
  )
}
