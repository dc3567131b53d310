// One vessel: the strip, the next act beside it, who lives there and how much water there really is.
import {
  courseInputs,
  groupOf,
  instantMs,
  residentsIn,
  vesselVolume,
  volumeInputWord,
  type Protocol,
} from '@brinvo/core'
import { DayOf } from '../../parts/DayOf.tsx'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { styled } from 'styled-components'
import { useRecord } from '../../data/queries.tsx'
import { Choice } from '../../design/fields.tsx'
import { Facts, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { WorkingButton } from '../../design/Working.tsx'
import { litresText, plural, temperatureText, volumeText, whenText } from '../../design/words.ts'
import { ActNow } from '../../parts/ConcernItem.tsx'
import { AmmoniaPanel, useAmmonia } from '../../parts/AmmoniaPanel.tsx'
import { SideBySide } from '../../parts/Compared.tsx'
import { ConflictLog } from '../../parts/ConflictLog.tsx'
import { DoPanel } from '../../parts/DoPanel.tsx'
import { Strip, stripWindow } from '../../parts/Strip.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { useConcerns } from '../../shell/ConcernsContext.tsx'
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
    /* Danger before any act that is only due. */
    > [data-now] {
      order: 0;
    }
  }
`

export function VesselPage() {
  const { id = '' } = useParams()
  const { record, active } = useRecord()
  const { plans, estimates, nowMs, pending } = useThePlans()
  const [view, setView] = useState<'course' | 'week' | 'two-days'>('course')
  const { concerns } = useConcerns()
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
  // Ammonia has a panel of its own, with all that is to be done.
  const dangers = concerns.filter(
    ({ tone, vesselId, id: concern }) => tone === 'danger' && vesselId === id && concern !== `ammonia-${id}`,
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
                  · {temperatureText(temperature.value, settings)}{' '}
                  {whenText(instantMs(temperature.at), nowMs, settings)}
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
        {(dangers.length > 0 || urgent) && (
          <Stack $gap={14} data-now="">
            <ActNow concerns={dangers} />
            {urgent && <AmmoniaPanel vesselId={id} />}
          </Stack>
        )}
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
        <ResidentsPanel vesselId={id} residents={residents} />
      </Column>
      <Column data-second="">
        <DoPanel plans={here} vesselId={id} />
        {introduction && (
          <ConflictLog vesselId={id} courseId={introduction.id} sinceMs={instantMs(introduction.body.startedAt)} />
        )}
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
        <LinkButton to={`/water/${id}`}>Water and its trends</LinkButton>
        <LinkButton to={`/slide/${id}`}>Measure a slide</LinkButton>
        <LinkButton to={`/patch/${id}`}>Measure a patch</LinkButton>
        <LinkButton to={`/marks/${id}`}>Measure by marks</LinkButton>
        <LinkButton to={`/paper/month/${id}`}>Its month on paper</LinkButton>
        {residents.some(({ body }) => groupOf(body.group)?.kind === 'fish') && !plan && (
          <LinkButton to={`/courses/new?vessel=${id}`}>Start a course here</LinkButton>
        )}
      </Column>
    </Page>
  )
}
