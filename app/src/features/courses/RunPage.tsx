// An emergency, minute by minute: one thing in large letters, what must never be done always in sight, waits that survive
// a reload. Each press is an entry.
import { type Protocol, type Step } from '@brinvo/core'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { styled } from 'styled-components'
import { useNow, useRecord, type Draft } from '../../data/queries.tsx'
import { Field } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { timeText } from '../../design/words.ts'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { useSave } from '../../parts/StepActions.tsx'
import { Ticks } from '../../parts/Ticks.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { Thumb } from './bench.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'

const Do = styled.p`
  font-size: clamp(26px, 5vw, 40px);
  font-weight: 750;
  line-height: 1.2;
`
export function RunPage() {
  const { id = '', ruleId = '' } = useParams()
  const { record } = useRecord()
  const { plans } = useThePlans()
  const course = record.courses.get(id)
  const step = plans.find(({ courseId }) => courseId === id)?.steps.find((one) => one.ruleId === ruleId)
  if (!course || !step?.run) return <NotFound />
  return <Run step={step} protocol={course.body.protocol as unknown as Protocol} />
}

function Run({ step, protocol }: { step: Step; protocol: Protocol }) {
  const { record, active } = useRecord()
  const save = useSave()
  const goOn = useGoOn()
  const nowMs = useNow(1000)
  const [ready, setReady] = useState<ReadonlySet<string>>(new Set())
  const [note, setNote] = useState('')
  const run = step.run!
  const doneAt = new Map(
    active.flatMap((entry) =>
      entry.kind === 'done' && entry.step?.startsWith(`${step.key}/`)
        ? [[entry.step.slice(step.key.length + 1), Date.parse(entry.at)] as const]
        : [],
    ),
  )
  const at = run.moments.findIndex(({ id }) => !doneAt.has(id))
  const moment = run.moments[at]
  const before = at > 0 ? run.moments[at - 1]! : null
  const untilMs = before?.waitMinutes === undefined ? 0 : doneAt.get(before.id)! + before.waitMinutes * 60_000
  const waitS = Math.max(0, Math.ceil((untilMs - nowMs) / 1000))
  const base = { vesselId: step.vesselId, courseId: step.courseId }
  const press = async () => {
    if (!moment) return
    const words = moment.do.slice(0, 120)
    const drafts = [
      {
        kind: 'done',
        ...base,
        step: `${step.key}/${moment.id}`,
        what: words,
        ...(note.trim() === '' ? {} : { note: note.trim() }),
      } as unknown as Draft,
      ...(at === run.moments.length - 1
        ? [{ kind: 'done', ...base, step: step.key, what: step.title } as unknown as Draft]
        : []),
    ]
    if (await save(drafts, `${at + 1} of ${run.moments.length}: noted.`)) {
      setNote('')
      if (at === run.moments.length - 1) goOn(`/courses/${step.courseId}`)
    }
  }
  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={`/courses/${step.courseId}`}>{protocol.title}</Link>
        </p>
        <h1>
          {step.title} <Quiet>{moment ? `${at + 1} of ${run.moments.length}` : 'done'}</Quiet>
        </h1>
        {at === 0 && <HazardCard hazardIds={protocol.campaign?.hazards ?? []} short />}
        {at === 0 && run.ready.length > 0 && (
          <Tray>
            <Stack $gap={4}>
              <h2>Grab these, a minute</h2>
              <Ticks items={run.ready} value={ready} onChange={setReady} />
            </Stack>
          </Tray>
        )}
        {moment ? (
          <Tray>
            <Stack $gap={14}>
              <Do>{moment.do}</Do>
              {moment.why !== undefined && <Quiet style={{ fontSize: 17 }}>{moment.why}</Quiet>}
              {waitS > 0 && (
                <p style={{ fontSize: 21 }} aria-live="off">
                  <Tag $tone="due">wait</Tag>{' '}
                  <strong>
                    {Math.floor(waitS / 60)} min {String(waitS % 60).padStart(2, '0')} s
                  </strong>{' '}
                  more, until {timeText(untilMs, record.settings)}. You may go on sooner if it cannot wait.
                </p>
              )}
              {moment.note !== undefined && (
                <Field label={`Write down: ${moment.note}`} value={note} onChange={setNote} />
              )}
              <Thumb>
                <Button look="main" onPress={() => void press()}>
                  Done, next
                </Button>
              </Thumb>
            </Stack>
          </Tray>
        ) : (
          <Tray>
            <Row>
              <LinkButton to={`/courses/${step.courseId}`}>Back to the campaign</LinkButton>
            </Row>
          </Tray>
        )}
        {at > 0 && (
          <ol style={{ display: 'grid', gap: 6 }}>
            {run.moments.slice(0, at).map(({ id, do: words }) => (
              <li key={id}>
                <Quiet>{timeText(doneAt.get(id)!, record.settings)}</Quiet> {words}
              </li>
            ))}
          </ol>
        )}
      </Stack>
      <Tray $tone="danger">
        <Stack $gap={8}>
          <h2>Never</h2>
          <ul style={{ display: 'grid', gap: 8, fontSize: 17 }}>
            {run.never.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </Stack>
      </Tray>
    </Page>
  )
}
