// One course on paper: for the keeper's wall, or for somebody who looks after the tanks and must not handle drugs.
import {
  agentForm,
  ammoniaWatchOf,
  dayOf,
  hazardOf,
  isForSitter,
  planCourse,
  type Protocol,
  type Step,
} from '@brinvo/core'
import { useMemo, useState } from 'react'
import { useParams } from 'react-router'
import { calendarOf } from '../../data/calendar.ts'
import { useRecord } from '../../data/queries.tsx'
import { Paper, PaperLine } from '../../design/Paper.tsx'
import { Choice, Field } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack } from '../../design/primitives.tsx'
import { dayText, levelText, litresText, longDayText, timeText } from '../../design/words.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { saveFile } from '../../parts/saveFile.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { useTold } from '../../parts/useTold.ts'

export function SheetPage() {
  const told = useTold()
  const { id = '' } = useParams()
  const { record, active } = useRecord()
  const { estimates, nowMs } = useThePlans()
  const notice = useNotice()
  const [whose, setWhose] = useState<'keeper' | 'sitter'>('keeper')
  const [days, setDays] = useState<'3' | '7' | '14'>('7')
  const [contact, setContact] = useState('')
  const course = record.courses.get(id)
  const minute = Math.floor(nowMs / 60_000) * 60_000
  const plan = useMemo(
    () =>
      course && course.body.endedAt === undefined
        ? planCourse(course, { record, active, estimates, nowMs: minute, aheadDays: Number(days) })
        : null,
    [course, record, active, estimates, minute, days],
  )
  const watch = useMemo(
    () => (course ? ammoniaWatchOf(record, active, course.body.vesselId, minute) : null),
    [course, record, active, minute],
  )
  if (!course) return <NotFound />
  const protocol = course.body.protocol as unknown as Protocol
  const { settings } = record
  const vessel = record.vessels.get(course.body.vesselId)
  const endMs = minute + Number(days) * 86_400_000
  const steps = (plan?.steps ?? []).filter(
    (step) =>
      (step.state === 'ahead' || step.state === 'due' || step.state === 'late') &&
      step.dueMs <= endMs &&
      (whose === 'keeper' || isForSitter(step)),
  )
  const left = (plan?.steps ?? []).filter(
    (step) =>
      step.dueMs <= endMs &&
      (step.state === 'ahead' || step.state === 'due' || step.state === 'late') &&
      !isForSitter(step),
  )
  const hazards = [
    ...new Set(
      Object.values(course.body.products).flatMap(
        (product) => agentForm(record.products.get(product)?.body.form ?? '')?.hazards ?? [],
      ),
    ),
  ].flatMap((hazard) => hazardOf(hazard) ?? [])
  const byDay = new Map<string, Step[]>()
  for (const step of steps) {
    const day = dayOf(Math.max(step.dueMs, minute), settings.zone)
    byDay.set(day, [...(byDay.get(day) ?? []), step])
  }
  const download = async () => {
    try {
      const text = await calendarOf(
        steps,
        (step) => record.vessels.get(step.vesselId)?.body.name ?? '',
        whose === 'sitter' ? [] : undefined,
      )
      saveFile(`${protocol.id}.ics`, new Blob([text], { type: 'text/calendar' }))
      notice({
        text: 'The calendar file is in your downloads. It does not follow later changes: export it again then.',
        tone: 'done',
      })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <Page>
      <Stack $gap={14}>
        <Stack $gap={12} className="no-print">
          <Row $between>
            <h1>On paper</h1>
            {whose === 'sitter' && <LinkButton to="/sitter">The whole house for a sitter</LinkButton>}
            <LinkButton to={`/courses/${id}`} $look="bare">
              Back to the course
            </LinkButton>
          </Row>
          <Row $gap={20} style={{ alignItems: 'flex-end' }}>
            <Choice
              label="For whom"
              value={whose}
              onChange={setWhose}
              options={[
                { value: 'keeper', label: 'For me' },
                { value: 'sitter', label: 'For a sitter' },
              ]}
            />
            <Choice
              label="How far"
              value={days}
              onChange={setDays}
              options={[
                { value: '3', label: '3 days' },
                { value: '7', label: '7 days' },
                { value: '14', label: '14 days' },
              ]}
            />
            <div style={{ flex: '1 1 220px' }}>
              <Field label="Whom to ask" value={contact} onChange={setContact} hint="Printed, never stored." />
            </div>
          </Row>
          <Row>
            <Button look="main" onPress={() => window.print()}>
              Print
            </Button>
            <Button onPress={() => void download()}>Calendar file</Button>
          </Row>
        </Stack>
        <Paper aria-label="Course sheet">
          <div>
            <h2>
              {vessel?.body.name}: {protocol.title}
            </h2>
            <p>
              {longDayText(minute, settings)} to {longDayText(endMs, settings)}
              {contact.trim() !== '' && (
                <>
                  {' '}
                  · ask <strong>{contact.trim()}</strong>
                </>
              )}
            </p>
          </div>
          {whose === 'sitter' && (
            <p>
              <strong>You look, feed, read and write down. You dose nothing, mix nothing and move nothing.</strong> Own
              net, bucket and towel for this vessel; wash hands before the next one. Gasping fish, a cloud in the water
              or a fish on its side: more air, no food, call at once.
            </p>
          )}
          {whose === 'keeper' && hazards.length > 0 && (
            <ul>
              {hazards
                .flatMap(({ before }) => before)
                .map((line) => (
                  <li key={line}>• {line}</li>
                ))}
            </ul>
          )}
          {watch && (
            <p>
              <strong>
                Ammonia{' '}
                {watch.asked.length === 2
                  ? 'by drop test and by badge'
                  : watch.asked[0] === 'total'
                    ? 'by drop test'
                    : 'by badge'}
                , every {watch.everyDays === 1 ? 'day' : 'second day'}
                {watch.untilMs === null ? '' : ` until ${dayText(watch.untilMs, settings)}`}.
              </strong>{' '}
              {watch.asked.length === 2 ? 'Both in the same quarter of an hour, with' : 'With'} pH and temperature,{' '}
              {watch.asked.length === 2 && 'each '}written down with its time.{' '}
              {whose === 'sitter' &&
                `From 0.25 mg/L in all${watch.asked.includes('free') ? ' or 0.02 mg/L by the badge' : ''} on: call at once.`}
            </p>
          )}
          {[...byDay].map(([day, list]) => (
            <section key={day}>
              <h3>{dayText(Math.max(list[0]!.dueMs, minute), settings)}</h3>
              <table>
                <tbody>
                  {list.map((step) => (
                    <PaperLine key={step.key} when={step.state === 'late' ? 'late' : timeText(step.dueMs, settings)}>
                      <strong>{step.title}</strong>
                      {whose === 'keeper' && step.dose && (
                        <>
                          {' '}
                          – {step.dose.amount} {step.dose.unit}: {levelText(step.dose.fromMgPerL)} →{' '}
                          {levelText(step.dose.toMgPerL)} mg/L in {litresText(step.dose.volumeL, settings)}
                        </>
                      )}
                      {step.detail !== '' && <div>{told(step.detail)}</div>}
                    </PaperLine>
                  ))}
                </tbody>
              </table>
            </section>
          ))}
          {steps.length === 0 && <p>Nothing is asked in these days.</p>}
          {whose === 'sitter' && left.length > 0 && (
            <p>
              <Quiet style={{ color: '#47605f' }}>
                Left for the keeper: {left.length} {left.length === 1 ? 'step' : 'steps'} with drugs, moves or water
                changes.
              </Quiet>
            </p>
          )}
          <p style={{ fontSize: 13 }}>
            Worked out {longDayText(minute, settings)} {timeText(minute, settings)} from the record; it changes when the
            record does. The label, local law and an aquatic veterinarian come first.
          </p>
        </Paper>
      </Stack>
    </Page>
  )
}
