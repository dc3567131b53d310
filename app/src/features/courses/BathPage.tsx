// A timed bath: everything laid out first, then one clock, the abort signs in sight, the end, the rinse.
import {
  agentForm,
  handlingHazards,
  residentVessels,
  type BathEntry,
  type KeeperRecord,
  type Protocol,
  type Step,
} from '@brinvo/core'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { useNow, useRecord } from '../../data/queries.tsx'
import { Field } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { whenText } from '../../design/words.ts'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { Ticks } from '../../parts/Ticks.tsx'
import { Asked } from '../../parts/Refusals.tsx'
import { StepButton } from '../../parts/StepActions.tsx'
import { useAct } from '../../parts/useAct.ts'
import { usePress } from '../../parts/useCommit.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { AbortSigns, Clock, clockText, DipAmount, Thumb } from './bench.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

const titleOf = (record: KeeperRecord, courseId: string): string =>
  (record.courses.get(courseId)?.body.protocol as unknown as Protocol | undefined)?.title ?? 'The course'

export function BathPage() {
  const { id = '', ruleId = '' } = useParams()
  const { record, active } = useRecord()
  const { plans, nowMs } = useThePlans()
  const course = record.courses.get(id)
  const plan = plans.find(({ courseId }) => courseId === id)
  const steps = plan?.steps.filter((step) => step.ruleId === ruleId) ?? []
  const step = steps.find(({ state }) => state !== 'done' && state !== 'skipped')
  if (!course || steps.length === 0) return <NotFound />
  const baths = active.filter(
    (entry): entry is BathEntry => entry.kind === 'bath' && entry.courseId === id && entry.rule === ruleId,
  )
  const last = baths.at(-1)
  const running = last?.act === 'start' ? last : null
  if (!step)
    return (
      <Page>
        <Tray>
          <Stack>
            <h1>Every bath is done</h1>
            <Row>
              <LinkButton to={`/courses/${id}`}>Back to the course</LinkButton>
            </Row>
          </Stack>
        </Tray>
      </Page>
    )
  return running ? (
    <Running key={running.id} start={running} step={step} courseId={id} />
  ) : (
    <Prepare step={step} courseId={id} nowMs={nowMs} />
  )
}

function Prepare({ step, courseId, nowMs }: { step: Step; courseId: string; nowMs: number }) {
  const { record, active } = useRecord()
  const bath = step.bath!
  const [ready, setReady] = useState<ReadonlySet<string>>(new Set())
  const [temperature, setTemperature] = useState('')
  const course = record.courses.get(courseId)
  // Its hazards are read before there is an amount: a bath that waits for the warmth has its bottle already.
  const bottles = Object.values(course?.body.products ?? {})
  const product = record.products.get(step.dose?.productId ?? (bottles.length === 1 ? bottles[0]! : ''))
  const form = product ? agentForm(product.body.form) : undefined
  const missing = bath.ready.filter((item) => !ready.has(item))
  const where = residentVessels(record, active, nowMs)
  const asking = useAct({
    kind: 'bath',
    vesselId: step.vesselId,
    courseId,
    step: step.key,
    rule: step.ruleId,
    residentIds: (course?.body.residents ?? []).filter((id) => where.get(id) !== null),
    litres: bath.litres,
    minutes: bath.minutes.usual,
    ...(step.dose ? { productId: step.dose.productId, amount: `${step.dose.amount} ${step.dose.unit}` } : {}),
    ...(temperature.trim() === '' ? {} : { temperature }),
  })
  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={`/courses/${courseId}`}>{titleOf(record, courseId)}</Link>
        </p>
        <h1>{step.title}</h1>
        {step.state === 'ahead' && (
          <Tray $tone="caution">
            Due {whenText(step.dueMs, nowMs, record.settings)}: sooner than that is a second stress.
          </Tray>
        )}
        <HazardCard
          hazardIds={[
            ...(form?.hazards ?? []),
            ...handlingHazards(
              (course?.body.residents ?? []).flatMap((id) => record.residents.get(id)?.body.group ?? []),
            ),
          ]}
        />
        <DipAmount step={step} litres={bath.litres} of="bath" />
        {bath.needsBottle && (
          <Tray $tone="caution">
            No bottle is chosen for this course, so no amount can be worked out.{' '}
            <Link to={`/courses/${course?.id ?? ''}?uses=1`}>Choose it now</Link>.
          </Tray>
        )}
        <Tray>
          <Stack $gap={4}>
            <h2>Laid out first, both hands free later</h2>
            <Ticks items={bath.ready} value={ready} onChange={setReady} />
          </Stack>
        </Tray>
        {step.needs === 'temperature' && (
          <Tray $tone="caution">
            <Stack $gap={8}>
              <p>{form?.label ?? 'This agent'} depends on warmth: read the water first, then the amount stands here.</p>
              <Row>
                <StepButton step={step} look="main" />
              </Row>
            </Stack>
          </Tray>
        )}
        {asking.answer.problem !== null ? (
          <Tray $tone="caution">{asking.answer.problem}</Tray>
        ) : (
          <Asked asking={asking} temperature={temperature} onTemperature={setTemperature} />
        )}
        <Thumb>
          <Button
            look="main"
            isDisabled={
              missing.length > 0 || bath.needsBottle || step.needs !== undefined || !asking.may || asking.busy
            }
            onPress={() => void asking.commit()}
          >
            {missing.length > 0 ? `${missing.length} still to lay out` : 'The animal is in'}
          </Button>
        </Thumb>
      </Stack>
      <AbortCard step={step} />
    </Page>
  )
}

const AbortCard = ({ step }: { step: Step }) => (
  <Stack $gap={16}>
    <AbortSigns signs={step.bath!.abortSigns} minutes={step.bath!.minutes} />
  </Stack>
)

function Running({ start, step, courseId }: { start: BathEntry; step: Step; courseId: string }) {
  const { record } = useRecord()
  const nowMs = useNow(500)
  const bath = step.bath!
  const [reason, setReason] = useState('')
  const seconds = Math.max(0, (nowMs - Date.parse(start.at)) / 1000)
  const minutes = seconds / 60
  const over = minutes > bath.minutes.max
  const press = usePress()
  const end = (act: 'end' | 'abort') =>
    press({
      kind: 'bath-end',
      vesselId: step.vesselId,
      courseId,
      step: step.key,
      startId: start.id,
      ...(act === 'abort' ? { aborted: reason } : {}),
    })
  return (
    <Page $aside>
      <Stack $gap={16}>
        <h1>{step.title}</h1>
        <Clock data-over={over ? '' : undefined} aria-live="off">
          {clockText(seconds)}
        </Clock>
        <p style={{ fontSize: 21 }}>
          {over ? (
            <strong>Over the longest time. Out now.</strong>
          ) : minutes >= bath.minutes.usual ? (
            <strong>The usual time is reached: into the rinse.</strong>
          ) : minutes < bath.minutes.min ? (
            `At least ${bath.minutes.min} min; note the breathing every five. Do not leave the room.`
          ) : (
            `${Math.ceil(bath.minutes.usual - minutes)} min to go. Note the breathing every five.`
          )}
        </p>
        <Thumb>
          <Button look="main" onPress={() => void end('end')}>
            It is out
          </Button>
          <Button look="danger" onPress={() => void end('abort')}>
            Abort: out now
          </Button>
        </Thumb>
        <Field label="What was seen (for an abort)" value={reason} onChange={setReason} />
        {bath.rinse !== undefined && (
          <Well>
            <strong>Then:</strong> {bath.rinse} No second timed bath for 24 hours; look at the breathing tomorrow.
          </Well>
        )}
        {minutes > 6 * 60 && (
          <Tag $tone="due">This bath began {whenText(Date.parse(start.at), nowMs, record.settings)}. Was it ended?</Tag>
        )}
      </Stack>
      <AbortCard step={step} />
    </Page>
  )
}
