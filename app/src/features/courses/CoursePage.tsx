// One course: the clock with its reasons, what the readings did to it, steps, rules, kit.
import { sourcesText } from '../../design/sources.ts'
import { Covers } from '../../parts/Covers.tsx'
import { TrustLink } from '../../parts/TrustLink.tsx'
import {
  protocolHash,
  courseInputs,
  formatDuration,
  instantMs,
  type CourseEstimate,
  warmDaysIn,
  type Protocol,
} from '@brinvo/core'
import { DayOf } from '../../parts/DayOf.tsx'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { Button, DayTable, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { levelText, longDayText, percentText, volumeText, whenText } from '../../design/words.ts'
import { DoFirst, DoRest } from '../../parts/DoPanel.tsx'
import { Ribbon } from '../../parts/Ribbon.tsx'
import { Strip, stripWindow } from '../../parts/Strip.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { InfluencePanel } from './InfluencePanel.tsx'
import { EndDialog } from './EndDialog.tsx'
import { UsesPanel } from './UsesPanel.tsx'
import { FaultyCourse } from './FaultyCourse.tsx'
import { GatePanel } from './GatePanel.tsx'
import { CampaignAlarms, CampaignAnswers, CampaignAside, CampaignPanel } from './CampaignPanel.tsx'
import { AnimalsPanel, DecisionsPanel, ExitPanel, WarmthPanel } from './CoursePanels.tsx'
import { SteerPanels } from './SteerPanel.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { useTold } from '../../parts/useTold.ts'

const HOUR = 3_600_000
const REASONS = {
  below: 'the level was likely below the band',
  uncertain: 'the level was not sure enough',
  'no-test': 'no test for too long',
  above: 'the level was above the band',
  'not-started': 'not yet proven in the band',
} as const

const Bar = styled.div`
  display: flex;
  height: 26px;
  border-radius: 8px;
  overflow: hidden;
  background: var(--well);
  border: 1px solid var(--hairline);
  i {
    background: var(--malachite);
  }
`
/** The last column is a number of hours. */
const Table = styled(DayTable)`
  td:last-child,
  th:last-child {
    text-align: right;
    padding-right: 0;
  }
`

export function CoursePage() {
  const { id = '' } = useParams()
  const { record, active } = useRecord()
  const { plans, faults, estimates, nowMs } = useThePlans()
  const [ending, setEnding] = useState(false)
  const course = record.courses.get(id)
  if (!course) return <NotFound />
  const fault = faults.find(({ courseId }) => courseId === id)
  if (fault) return <FaultyCourse course={course} fault={fault} />
  const protocol = course.body.protocol as unknown as Protocol
  const altered = protocolHash(course.body.protocol) !== course.body.protocolHash
  const plan = plans.find(({ courseId }) => courseId === id) ?? null
  const estimate = estimates.get(id) ?? null
  const vessel = record.vessels.get(course.body.vesselId)
  const { settings } = record
  const startMs = instantMs(course.body.startedAt)
  const variant = protocol.variants.find((candidate) => candidate.id === course.body.variant)
  const byWarmth = protocol.phases.some(({ exit }) => warmDaysIn(exit) !== null)
  const hasLevel = courseInputs(record, active, course, nowMs) !== null
  return (
    <Page $aside>
      <Row $between style={{ alignItems: 'flex-end', gridColumn: '1 / -1' }}>
        <Stack $gap={2}>
          <h1>{protocol.title}</h1>
          <span>
            <Quiet>in</Quiet> <Link to={`/vessels/${course.body.vesselId}`}>{vessel?.body.name}</Link>
            <Quiet>
              {' '}
              · since {longDayText(startMs, settings)} · {variant?.title.toLowerCase()}
              {protocol.clock && ` · ${course.body.clockSchool} school`}
            </Quiet>
          </span>
        </Stack>
        {course.body.endedAt !== undefined && <Tag>{course.body.outcome}</Tag>}
      </Row>
      <Stack $gap={16} style={{ gridColumn: '1 / -1' }}>
        {altered && (
          <Tray $tone="caution" role="note">
            The copy of the protocol this course runs by is not the one it was started with: it was changed in a file.
            Hold each amount and day against the label, or end this course and start it anew.
          </Tray>
        )}
        {plan?.progress.aborts.map((abort) => (
          <Tray key={abort.id} $tone="danger" role="alert">
            <h2>{abort.sentence}</h2>
            <p>{abort.action}</p>
          </Tray>
        ))}
        {protocol.campaign && <CampaignAlarms course={course} />}
        <GatePanel course={course} />
        {plan && course.body.endedAt === undefined && (
          <DoFirst plan={plan} hazardIds={protocol.campaign?.hazards ?? []} onEnd={() => setEnding(true)} />
        )}
      </Stack>
      {plan && <Ribbon course={course} plan={plan} />}
      <Stack $gap={16}>
        {plan && course.body.endedAt === undefined && <DoRest plan={plan} />}
        {protocol.campaign && <CampaignPanel course={course} />}
        {hasLevel && plan && (
          <Tray>
            <Strip
              vesselId={course.body.vesselId}
              plan={plan}
              estimate={estimate}
              originMs={startMs}
              nowMs={nowMs}
              {...stripWindow('course', nowMs, startMs, settings.zone)}
            />
          </Tray>
        )}
        {estimate?.clock && <ReasonsPanel estimate={estimate} startMs={startMs} courseId={course.id} />}
        {course.body.endedAt === undefined && <WarmthPanel course={course} />}
        {course.body.endedAt === undefined && (
          <SteerPanels course={course} ids={protocol.campaign?.corrections ?? []} />
        )}
      </Stack>
      <Stack $gap={14}>
        {protocol.campaign && <CampaignAnswers course={course} />}
        {estimate?.clock && <ClockPanel estimate={estimate} startMs={startMs} />}
        {!estimate && plan && !hasLevel && !protocol.campaign && !byWarmth && (
          <Tray>
            <h2>
              <DayOf plan={plan} />
            </h2>
            <Bar style={{ marginTop: 10 }} aria-hidden>
              <i
                style={{
                  width: `${plan.progress.finishedMs === null ? Math.min(100, (100 * plan.day) / Math.max(1, plan.leastDays)) : 100}%`,
                }}
              />
            </Bar>
          </Tray>
        )}
        {protocol.campaign && <CampaignAside course={course} />}
        <Tray>
          <Stack $gap={8}>
            <h3>Phases</h3>
            <ol style={{ display: 'grid', gap: 8 }}>
              {plan?.progress.phases.map(({ phase, enteredMs, exitedMs }, i) => (
                <li key={phase.id}>
                  <strong style={{ color: plan.progress.current === i ? undefined : 'var(--quiet)' }}>
                    {i + 1}. {phase.title}
                  </strong>{' '}
                  <Quiet>
                    {exitedMs !== null
                      ? `done ${whenText(exitedMs, nowMs, settings)}`
                      : enteredMs !== null
                        ? `since ${whenText(enteredMs, nowMs, settings)}`
                        : phase.typicalDays === 0
                          ? 'when its questions are answered'
                          : `about ${phase.typicalDays} d`}
                  </Quiet>
                </li>
              ))}
            </ol>
          </Stack>
        </Tray>
        {plan && course.body.endedAt === undefined && <ExitPanel course={course} plan={plan} />}
        <AnimalsPanel course={course} />
        <DecisionsPanel course={course} />
        <UsesPanel course={course} plan={plan} />
        <Tray>
          <Stack $gap={8}>
            <h3>School</h3>
            <p>{protocol.school.position}</p>
            <Quiet>{protocol.school.tradeOff}</Quiet>
            {protocol.clock && course.body.clockSchool === 'pause' && <Well>{protocol.clock.pauseWarning}</Well>}
            <Covers protocol={protocol} />
            <Quiet>Sources: {sourcesText(protocol.sources)}</Quiet>
          </Stack>
        </Tray>
        {(protocol.purpose === 'treatment' || protocol.purpose === 'observation') && (
          <LinkButton to="/arrivals/introduce">Introduce to a display</LinkButton>
        )}
        {course.body.endedAt === undefined && (
          <LinkButton to={`/courses/${id}/sheet`}>On paper, for a sitter, as a calendar</LinkButton>
        )}
        {course.body.endedAt === undefined && (
          <Button look="danger" onPress={() => setEnding(true)}>
            End this course
          </Button>
        )}
      </Stack>
      {ending && <EndDialog courseId={id} onClose={() => setEnding(false)} />}
    </Page>
  )
}

function ClockPanel({ estimate, startMs }: { estimate: CourseEstimate; startMs: number }) {
  const told = useTold()
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const clock = estimate.clock!
  const total = clock.requiredH
  return (
    <Tray>
      <Stack>
        <Row $between style={{ alignItems: 'flex-end' }}>
          <p>
            <strong style={{ fontSize: 40, lineHeight: 1 }}>{formatDuration(clock.creditedH)}</strong>{' '}
            <Quiet>credited of {formatDuration(total)}</Quiet>
          </p>
          <p style={{ textAlign: 'right' }}>
            {clock.completeAtH !== null ? (
              <>
                complete since <strong>{whenText(startMs + clock.completeAtH * HOUR, nowMs, record.settings)}</strong>
              </>
            ) : (
              <>
                <Quiet>the hours complete at the earliest</Quiet>{' '}
                <strong>{longDayText(startMs + clock.earliestFinishH * HOUR, record.settings)}</strong>
              </>
            )}
          </p>
        </Row>
        <Bar
          role="img"
          aria-label={`${Math.min(100, Math.round((100 * clock.creditedH) / total))} percent of the hours are credited`}
        >
          <i style={{ width: `${Math.min(100, (100 * clock.creditedH) / total)}%` }} />
        </Bar>
        <p>
          Level now{' '}
          <strong>
            {levelText(estimate.now.p10)}–{levelText(estimate.now.p90)} mg/L
          </strong>{' '}
          <Quiet>(8 in 10 sure)</Quiet>, at or above the floor with <strong>{percentText(estimate.now.pFloor)}</strong>.
        </p>
        {estimate.difference && (
          <Well>
            <strong>Why the count changed:</strong> {told(estimate.difference.message)}
          </Well>
        )}
      </Stack>
    </Tray>
  )
}

function ReasonsPanel({
  estimate,
  startMs,
  courseId,
}: {
  estimate: CourseEstimate
  startMs: number
  courseId: string
}) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const clock = estimate.clock!
  const { settings } = record
  return (
    <Tray>
      <Stack>
        <h2>Every hour, earned or refused</h2>
        <Table>
          <thead>
            <tr>
              <th scope="col">from</th>
              <th scope="col">to</th>
              <th scope="col">because</th>
              <th scope="col">hours</th>
            </tr>
          </thead>
          <tbody>
            {clock.intervals
              .filter(({ fromH, toH }) => toH - fromH >= 0.25)
              .map((interval) => (
                <tr key={interval.fromH}>
                  <td>{whenText(startMs + interval.fromH * HOUR, nowMs, settings)}</td>
                  <td>{whenText(startMs + interval.toH * HOUR, nowMs, settings)}</td>
                  <td>
                    {interval.state === 'credited'
                      ? interval.lost
                        ? 'credited, then lost to a reset'
                        : 'proven at or above the floor'
                      : REASONS[interval.reason ?? 'uncertain']}
                  </td>
                  <td>
                    <Tag
                      $tone={
                        interval.state === 'credited' && !interval.lost
                          ? 'good'
                          : interval.reason === 'not-started'
                            ? 'plain'
                            : 'due'
                      }
                    >
                      {interval.state === 'credited' ? '+' : ''}
                      {formatDuration(interval.toH - interval.fromH)}
                    </Tag>
                  </td>
                </tr>
              ))}
          </tbody>
        </Table>
        <InfluencePanel courseId={courseId} />
        <Quiet>
          Learnt from the readings: effective volume{' '}
          {volumeText({ litres: estimate.volume.meanL, sdLitres: estimate.volume.sdL }, record.settings)}, half-life
          about {Math.round(estimate.halfLifeDays.mean)} days.
        </Quiet>
        <TrustLink part="level" />
      </Stack>
    </Tray>
  )
}
