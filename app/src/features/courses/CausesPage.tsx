// Why it grows: what the record says by itself, what only the keeper knows, and what to change, heaviest first.
import { pressesOf, causeChecklist, campaignOf, type CauseAnswer, type Step } from '@brinvo/core'
import { useMemo } from 'react'
import { Link, useParams } from 'react-router'
import { styled } from 'styled-components'
import { useRecord, type Draft } from '../../data/queries.tsx'
import { Button, Page, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { useSave } from '../../parts/StepActions.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

const List = styled.ul`
  > li {
    padding: 12px 0;
  }
  > li + li {
    border-top: 1px solid var(--hairline);
  }
`

export function CausesPage() {
  const { id = '' } = useParams()
  const { record, active } = useRecord()
  const { plans, nowMs } = useThePlans()
  const course = record.courses.get(id)
  const campaign = course ? campaignOf(course) : null
  const list = useMemo(
    () => (course ? causeChecklist(record, active, course.body.vesselId, nowMs, campaign?.causes) : []),
    [record, active, course, campaign, nowMs],
  )
  if (!course || !campaign) return <NotFound />
  const vessel = record.vessels.get(course.body.vesselId)
  const flagged = list.filter(({ answer }) => answer === 'yes')
  const asked = list.filter(({ answer }) => answer === 'ask')
  const clear = list.filter(({ answer }) => answer === 'no')
  // The step that asked for the checklist is done with its last open question.
  const open = plans
    .find(({ courseId }) => courseId === id)
    ?.steps.find(
      (step) =>
        step.state !== 'done' &&
        step.state !== 'skipped' &&
        pressesOf(step).some((press) => press.to === 'page' && press.page === 'causes'),
    )
  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={`/courses/${id}`}>{(course.body.protocol as { title?: string }).title}</Link>{' '}
          <Quiet>in {vessel?.body.name}</Quiet>
        </p>
        <h1>Why it grows</h1>
        {asked.length > 0 && (
          <Tray>
            <h2>
              {asked.length === 1 ? 'One question' : `${asked.length} questions`}{' '}
              <Quiet>the record cannot answer</Quiet>
            </h2>
            <List>
              {asked.map((item) => (
                <Item
                  key={item.cause.id}
                  item={item}
                  vesselId={course.body.vesselId}
                  courseId={id}
                  {...(asked.length === 1 && open ? { closes: open } : {})}
                />
              ))}
            </List>
          </Tray>
        )}
        <Tray>
          <h2>{flagged.length === 0 ? 'Nothing is flagged yet' : 'Change this, heaviest first'}</h2>
          <List>
            {flagged.map((item) => (
              <Item key={item.cause.id} item={item} vesselId={course.body.vesselId} courseId={id} />
            ))}
          </List>
        </Tray>
        {clear.length > 0 && (
          <Tray>
            <h3>Not these</h3>
            <List>
              {clear.map((item) => (
                <Item key={item.cause.id} item={item} vesselId={course.body.vesselId} courseId={id} />
              ))}
            </List>
          </Tray>
        )}
      </Stack>
      <Tray>
        <Stack $gap={8}>
          <h3>One change at a time</h3>
          <p>After a change, none for fourteen days: otherwise nobody knows which one worked.</p>
          <Quiet>Source: handbook 60 §3</Quiet>
        </Stack>
      </Tray>
    </Page>
  )
}

function Item({
  item,
  vesselId,
  courseId,
  closes,
}: {
  item: CauseAnswer
  vesselId: string
  courseId: string
  /** The step that is done with the last open question. */
  closes?: Step
}) {
  const save = useSave()
  const { cause, answer, words, by } = item
  const say = (yes: boolean) =>
    void save(
      [
        { kind: 'check', vesselId, courseId, what: cause.id, answers: [yes ? 'yes' : 'no'] } as Draft,
        ...(closes ? [{ kind: 'done', vesselId, courseId, step: closes.key, what: closes.title } as Draft] : []),
      ],
      `${cause.title}: ${yes ? 'yes' : 'no'}.${closes ? ' The checklist is answered.' : ''}`,
    )
  return (
    <li>
      <Stack $gap={6}>
        <p style={{ fontSize: 17, fontWeight: 650 }}>
          {answer === 'ask' ? cause.question : answer === 'yes' ? cause.correction : cause.flag}{' '}
          {answer === 'yes' && <Tag $tone="due">{cause.title.toLowerCase()}</Tag>}
        </p>
        <Quiet>
          {words} {by === 'record' && 'Read from your ledger.'}
        </Quiet>
        <Row $gap={6} role="group" aria-label={cause.title}>
          {answer !== 'yes' && (
            <Button onPress={() => say(true)}>{answer === 'no' ? 'It is so after all' : 'Yes'}</Button>
          )}
          {answer !== 'no' && (
            <Button onPress={() => say(false)}>{answer === 'yes' ? 'Put right, or not so' : 'No'}</Button>
          )}
        </Row>
      </Stack>
    </li>
  )
}
