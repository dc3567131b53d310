import { campaignState, formatDuration, instantMs, type Protocol, ofUnit } from '@brinvo/core'
import { DayOf } from '../../parts/DayOf.tsx'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { useRecord } from '../../data/queries.tsx'
import { Empty, LinkButton, Page, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { longDayText } from '../../design/words.ts'
import { OutcomeBoard } from './OutcomeBoard.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

/** What runs, and what has run. */
export function CoursesPage() {
  const { record } = useRecord()
  const { plans, estimates, nowMs } = useThePlans()
  const ended = [...record.courses.values()].filter(
    ({ body }) => body.endedAt !== undefined && instantMs(body.endedAt) <= nowMs,
  )
  const campaignOf = (id: string) =>
    (record.courses.get(id)?.body.protocol as unknown as Protocol | undefined)?.campaign
  const others = ended.filter(({ body }) => !(body.protocol as unknown as Protocol).campaign)
  return (
    <Page>
      <Row $between>
        <h1>Courses</h1>
        <Row>
          <LinkButton to="/courses/compare">Schools side by side</LinkButton>
          <LinkButton to="/courses/new" $look="main">
            Start a course
          </LinkButton>
        </Row>
      </Row>
      {plans.length === 0 && (
        <Empty title="No course is running" action={<LinkButton to="/courses/new">See what there is</LinkButton>}>
          A course follows a protocol on your animals in your water: doses by the real volume, tests when they decide
          something, and a clock that counts only what is proven.
        </Empty>
      )}
      <Stack>
        {plans.map((plan) => {
          const estimate = estimates.get(plan.courseId)
          const phase = plan.progress.current === null ? null : plan.progress.phases[plan.progress.current]!.phase
          return (
            <Tray key={plan.courseId}>
              <Row $between>
                <Stack $gap={2}>
                  <h2>
                    <Link to={`/courses/${plan.courseId}`}>{plan.title}</Link>
                  </h2>
                  <span>
                    <Quiet>in</Quiet>{' '}
                    <Link to={`/vessels/${plan.vesselId}`}>{record.vessels.get(plan.vesselId)?.body.name}</Link>{' '}
                    <Quiet>· {phase ? phase.title.toLowerCase() : 'finished'}</Quiet>
                  </span>
                </Stack>
                <Stack $gap={0} style={{ textAlign: 'right' }}>
                  {estimate?.clock ? (
                    <strong style={{ fontSize: 21 }}>
                      {formatDuration(estimate.clock.creditedH)}{' '}
                      <Quiet>of {formatDuration(estimate.clock.requiredH)} credited</Quiet>
                    </strong>
                  ) : campaignOf(plan.courseId) ? (
                    <CampaignLine courseId={plan.courseId} />
                  ) : (
                    <strong style={{ fontSize: 21 }}>
                      <DayOf plan={plan} />
                    </strong>
                  )}
                </Stack>
              </Row>
            </Tray>
          )
        })}
      </Stack>
      <OutcomeBoard />
      {others.length > 0 && (
        <Stack>
          <h2>Ended</h2>
          <Tray>
            {others.map((course) => (
              <Row key={course.id} $between>
                <Link to={`/courses/${course.id}`}>{(course.body.protocol as { title?: string }).title}</Link>
                <Quiet>
                  {course.body.outcome} on {longDayText(instantMs(course.body.endedAt!), record.settings)}
                </Quiet>
              </Row>
            ))}
          </Tray>
        </Stack>
      )}
    </Page>
  )
}

/** Where a campaign stands, in its own measure rather than in days. */
function CampaignLine({ courseId }: { courseId: string }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const state = useMemo(
    () => campaignState(record, active, record.courses.get(courseId)!, nowMs),
    [record, active, courseId, nowMs],
  )
  if (!state) return null
  const main = state.measures.find(({ points }) => points.length > 0) ?? null
  const last = main?.points.at(-1)
  return (
    <>
      <strong style={{ fontSize: 21 }}>
        day {state.day}
        {main && last && (
          <>
            {' '}
            <Quiet>
              {main.measure.title.toLowerCase()} {ofUnit(Number(last.value.toPrecision(3)), main.measure.unit)}
            </Quiet>
          </>
        )}
      </strong>
      {state.over.chance !== undefined && <Quiet>{Math.round(100 * state.over.chance)} % that it is over</Quiet>}
    </>
  )
}
