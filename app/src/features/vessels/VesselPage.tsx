// One vessel: the strip, the next act beside it, who lives there and how much water there really is.
import {
  courseInputs,
  formatDose,
  groupOf,
  instantMs,
  residentsIn,
  vesselVolume,
  volumeInputWord,
  type CoursePlan,
  type Step,
  type Protocol,
} from '@brinvo/core'
import { DayOf } from '../../parts/DayOf.tsx'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { Choice } from '../../design/fields.tsx'
import { Button, Facts, LinkButton, Page, Quiet, Row, Rule, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { WorkingButton } from '../../design/Working.tsx'
import { dueText, levelText, litresText, percentText, plural, volumeText, whenText } from '../../design/words.ts'
import { AmmoniaPanel, useAmmonia } from '../../parts/AmmoniaPanel.tsx'
import { SideBySide } from '../../parts/Compared.tsx'
import { ConflictLog } from '../../parts/ConflictLog.tsx'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { StepButton } from '../../parts/StepActions.tsx'
import { Strip, stripWindow } from '../../parts/Strip.tsx'
import { useLog } from '../../shell/LogContext.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { ResidentsPanel } from './ResidentsPanel.tsx'

/** Beside each other on a table; on a phone one column, in which the next act comes before the strip. */
const Column = styled.div`
  display: flex;
  flex-direction: column;
  gap: 14px;
  @media (max-width: 1000px) {
    display: contents;
    > * {
      order: 3;
    }
    > :first-child {
      order: 0;
    }
    &[data-second] > :first-child {
      order: 1;
    }
    > :nth-child(2) {
      order: 2;
    }
    &[data-second] > :nth-child(2) {
      order: 3;
    }
  }
`
const Amount = styled.p`
  font-size: 40px;
  font-weight: 800;
  line-height: 1.05;
  letter-spacing: -0.02em;
`

export function VesselPage() {
  const { id = '' } = useParams()
  const { record, active } = useRecord()
  const { plans, estimates, nowMs, pending } = useThePlans()
  const [view, setView] = useState<'course' | 'week' | 'two-days'>('course')
  const urgent = useAmmonia(id).act !== null
  const vessel = record.vessels.get(id)
  if (!vessel) return <NotFound />
  const { settings } = record
  const here = plans.filter(({ vesselId }) => vesselId === id)
  const plan = here.find(({ band }) => band !== null) ?? here[0] ?? null
  const course = plan ? record.courses.get(plan.courseId) : undefined
  const estimate = plan ? (estimates.get(plan.courseId) ?? null) : null
  const originMs = course && courseInputs(record, active, course, nowMs) ? instantMs(course.body.startedAt) : null
  const volume = vesselVolume(vessel)
  const residents = residentsIn(record, active, id, nowMs)
  // Rivals are counted where they are: in the display, in the box, on neutral ground.
  const introduction = plans
    .map(({ courseId }) => record.courses.get(courseId)!)
    .find(
      ({ body }) =>
        (body.protocol as unknown as Protocol).purpose === 'introduction' &&
        (body.vesselId === id || residents.some((one) => body.residents.includes(one.id))),
    )
  const window = stripWindow(originMs === null ? 'week' : view, nowMs, originMs, settings.zone)
  const temperature = active.findLast(
    (entry) => entry.kind === 'reading' && entry.vesselId === id && entry.analyte === 'temperature',
  )
  return (
    <Page $aside>
      <Column>
        <Row $between style={{ alignItems: 'flex-end' }}>
          <Stack $gap={2}>
            <h1>{vessel.body.name}</h1>
            <p>
              <Quiet>
                {vessel.body.purpose}, {vessel.body.water === 'marine' ? 'marine' : 'fresh water'} · net water{' '}
              </Quiet>
              {volume ? <strong>{volumeText(volume, settings)}</strong> : <Tag $tone="due">unclear</Tag>}
              <Quiet> of {litresText(vessel.body.nominalL, settings)}</Quiet>
              {temperature?.kind === 'reading' && (
                <Quiet>
                  {' '}
                  · {temperature.value} °C {whenText(instantMs(temperature.at), nowMs, settings)}
                </Quiet>
              )}
            </p>
          </Stack>
          {plan && (
            <p>
              <Link to={`/courses/${plan.courseId}`}>{plan.title}</Link>
              {here.length > 1 && <Quiet> and {plural(here.length - 1, 'more course')}</Quiet>}
              <br />
              <strong>
                <DayOf plan={plan} />
              </strong>
            </p>
          )}
        </Row>
        {urgent && <AmmoniaPanel vesselId={id} />}
        <Tray>
          <Row $between>
            {originMs !== null ? (
              <Choice
                label="Stretch of time"
                hideLabel
                value={view}
                onChange={setView}
                options={[
                  { value: 'course', label: 'Whole course' },
                  { value: 'week', label: 'Week' },
                  { value: 'two-days', label: 'Two days' },
                ]}
              />
            ) : (
              <h2>The last week</h2>
            )}
            {pending && <Quiet>reworking the level…</Quiet>}
          </Row>
          <Strip vesselId={id} plan={plan} estimate={estimate} originMs={originMs} nowMs={nowMs} {...window} />
        </Tray>
        {!urgent && <AmmoniaPanel vesselId={id} />}
        <SideBySide vesselId={id} except="ammonia" />
      </Column>
      <Column data-second="">
        <NextPanel plans={here} vesselId={id} />
        {introduction && (
          <ConflictLog vesselId={id} courseId={introduction.id} sinceMs={instantMs(introduction.body.startedAt)} />
        )}
        <ResidentsPanel vesselId={id} residents={residents} />
        <Tray>
          <Stack $gap={8}>
            <Row $between>
              <h3>Water</h3>
              <LinkButton to={`/vessels/${id}/edit`} $look="bare">
                Edit
              </LinkButton>
            </Row>
            {volume && (
              <Facts>
                <dt>by its measures</dt>
                <dd>{volumeText(volume, settings)}</dd>
                {estimate && (
                  <>
                    <dt>with doses and readings</dt>
                    <dd>{volumeText({ litres: estimate.volume.meanL, sdLitres: estimate.volume.sdL }, settings)}</dd>
                  </>
                )}
                {volume.doubt[0] && (
                  <>
                    <dt>most doubt from</dt>
                    <dd>{volumeInputWord(volume.doubt[0].input)}</dd>
                  </>
                )}
              </Facts>
            )}
            {volume && <WorkingButton working={volume.working} label="Working of the volume" />}
            {vessel.body.volumeConfirmedAt === undefined && (
              <Well>
                <strong>Never confirmed.</strong> Doses are blocked until you have looked at it.{' '}
                <Link to={`/vessels/${id}/edit`}>Look and confirm</Link>
              </Well>
            )}
          </Stack>
        </Tray>
        {residents.some(({ body }) => groupOf(body.group)?.kind === 'fish') && !plan && (
          <LinkButton to={`/courses/new?vessel=${id}`}>Start a course here</LinkButton>
        )}
      </Column>
    </Page>
  )
}

/** The next act: hazards first, then the amount, then what it leads to. */
function NextPanel({ plans, vesselId }: { plans: readonly CoursePlan[]; vesselId: string }) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const log = useLog()
  if (plans.length === 0) {
    return (
      <Tray>
        <Stack>
          <h3>No course here</h3>
          <Quiet>Readings, changes and signs are kept all the same.</Quiet>
          <Row>
            <Button look="main" onPress={() => log({ vesselId })}>
              Log something
            </Button>
            <LinkButton to={`/courses/new?vessel=${vesselId}`}>Start a course</LinkButton>
          </Row>
        </Stack>
      </Tray>
    )
  }
  const steps = plans.flatMap((plan) => plan.steps)
  const open = steps.filter(({ state }) => state === 'late' || state === 'due' || state === 'waiting')
  const rank = (step: Step) =>
    ((step.kind === 'ramp' || step.kind === 'hold') && step.dose) || step.kind === 'check'
      ? 0
      : step.kind === 'gate'
        ? 1
        : step.kind === 'test'
          ? 2
          : step.kind === 'change'
            ? 3
            : 4
  const [first, ...others] = [...open].sort((a, b) => rank(a) - rank(b) || a.dueMs - b.dueMs)
  const ahead = steps
    .filter(({ state, kind }) => state === 'ahead' && kind !== 'feed' && kind !== 'observe')
    .slice(0, 3)
  const { settings } = record
  const dose = first?.dose
  const band = plans.find(({ courseId }) => courseId === first?.courseId)?.band ?? null
  return (
    <Tray>
      <Stack>
        <Row $between>
          <strong>
            {first
              ? first.state === 'late'
                ? 'Next · late'
                : first.state === 'waiting'
                  ? 'Waits'
                  : 'Next · now'
              : 'Nothing due'}
          </strong>
          {first && <Quiet>{first.state === 'late' ? dueText(first.dueMs, nowMs) : ''}</Quiet>}
        </Row>
        {dose && first ? (
          <>
            <HazardCard hazardIds={band?.form.hazards ?? []} short />
            <Amount>
              Add{' '}
              {
                formatDose(
                  dose.amount,
                  dose.unit === 'drop' ? 'drops' : dose.unit === 'tablet' ? 'tablets' : dose.unit,
                  settings.locale,
                ).text
              }
            </Amount>
            <p>
              {record.products.get(dose.productId)?.body.name}, {dose.strengthMg} mg/{dose.unit}, thinned in half a
              litre of tank water, over 10 minutes in the outflow.
            </p>
            <Well>
              <Facts>
                <dt>level now</dt>
                <dd>{levelText(dose.fromMgPerL)} mg/L</dd>
                <dt>after this dose</dt>
                <dd>{levelText(dose.toMgPerL)} mg/L</dd>
                <dt>in water</dt>
                <dd>{volumeText({ litres: dose.volumeL, sdLitres: dose.volumeSdL }, settings)}</dd>
                {dose.holdsChance !== null && (
                  <>
                    <dt>stays above {band?.floorMgPerL} until the next test</dt>
                    <dd>{percentText(dose.holdsChance)}</dd>
                  </>
                )}
              </Facts>
            </Well>
            <Row>
              <StepButton step={first} look="main" />
              <WorkingButton working={dose.working} />
            </Row>
          </>
        ) : first ? (
          <>
            <h2>{first.title}</h2>
            <p>{first.detail}</p>
            {first.why !== undefined && <Quiet>{first.why}</Quiet>}
            {first.state !== 'waiting' && (
              <Row>
                <StepButton step={first} look="main" />
                {first.change?.working && <WorkingButton working={first.change.working} />}
                {[first, ...others].filter(({ test }) => test !== undefined).length > 1 && (
                  <LinkButton to={`/tests/${first.vesselId}`}>Enter all tests</LinkButton>
                )}
              </Row>
            )}
          </>
        ) : (
          <Quiet>The plan asks for nothing at this moment.</Quiet>
        )}
        {(others.length > 0 || ahead.length > 0) && <Rule />}
        {others.map((step) => (
          <Row key={step.key} $between>
            <span style={{ flex: '1 1 140px' }}>
              {step.title} {step.state === 'late' && <Tag $tone="due">late</Tag>}
              {step.state === 'waiting' && (
                <>
                  <br />
                  <Quiet>{step.detail}</Quiet>
                </>
              )}
            </span>
            {step.state !== 'waiting' && <StepButton step={step} />}
          </Row>
        ))}
        {ahead.map((step) => (
          <p key={step.key}>
            <Quiet>{whenText(step.dueMs, nowMs, settings)}</Quiet> {step.title}
          </p>
        ))}
      </Stack>
    </Tray>
  )
}
