// A move between vessels: the rules as a list to tick, who goes, and one press that moves them on the record.
import { gearState, handlingHazards, residentVessels, type Protocol } from '@brinvo/core'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { useRecord } from '../../data/queries.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { dueText, whenText } from '../../design/words.ts'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { Ticks } from '../../parts/Ticks.tsx'
import { Asked } from '../../parts/Refusals.tsx'
import { useAct } from '../../parts/useAct.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'

/** What must be true of every move. @source handbook 30 §5.4, §1.6 */
const RULES = [
  'The new vessel: within 1 °C, 1 PSU and 0.2 pH, ammonia calm, own tools',
  'Clean rigid container or a net that belongs to the old vessel and stays there',
  'Hands and forearms washed; no splash, no shared towel',
  'All of them within an hour',
] as const

export function TransferPage() {
  const { id = '' } = useParams()
  const { record, active } = useRecord()
  const { plans, nowMs } = useThePlans()
  const goOn = useGoOn()
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set())
  const course = record.courses.get(id)
  const step = plans
    .find(({ courseId }) => courseId === id)
    ?.steps.find(({ transfer, state }) => transfer !== undefined && state !== 'done' && state !== 'skipped')
  const where = residentVessels(record, active, nowMs)
  const group = (course?.body.residents ?? []).flatMap((resident) => {
    const found = record.residents.get(resident)
    return found && where.get(resident) !== null ? [found] : []
  })
  const asking = useAct(
    step
      ? {
          kind: 'move',
          vesselId: step.vesselId,
          courseId: id,
          step: step.key,
          residents: group.map((resident) => ({ id: resident.id })),
          toVesselId: step.transfer!.toVesselId,
        }
      : null,
  )
  if (!course) return <NotFound />
  if (!step)
    return (
      <Page>
        <Tray>
          <Stack>
            <h1>No move is due</h1>
            <Row>
              <LinkButton to={`/courses/${id}`}>Back to the course</LinkButton>
            </Row>
          </Stack>
        </Tray>
      </Page>
    )
  const to = record.vessels.get(step.transfer!.toVesselId)
  const stays = [...record.gear.values()].filter(
    ({ id: gearId, body }) =>
      body.retiredAt === undefined &&
      body.homeVesselId !== step.transfer!.toVesselId &&
      (body.homeVesselId !== null || gearState(active, gearId, nowMs).wetIn !== null),
  )
  const sameVessel = step.transfer!.toVesselId === course.body.vesselId && course.body.vessels === undefined
  const missing = RULES.filter((rule) => !ticked.has(rule))
  const move = async () => {
    if (await asking.commit(`${step.title}: done.`)) goOn(`/courses/${id}`)
  }
  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={`/courses/${id}`}>{(course.body.protocol as unknown as Protocol).title}</Link>
        </p>
        <Row $between>
          <h1>{step.title}</h1>
          {step.state === 'late' ? (
            <Tag $tone="due">{dueText(step.dueMs, nowMs)}</Tag>
          ) : (
            <Quiet>at the latest {whenText(step.dueMs, nowMs, record.settings)}</Quiet>
          )}
        </Row>
        {sameVessel && (
          <Tray $tone="caution">
            This course knows no second vessel. End it and start it with one, or note the move by hand.
          </Tray>
        )}
        {step.state === 'ahead' && (
          <Well>
            It may be done from {whenText(step.fromMs, nowMs, record.settings)} on; the next limit then counts from the
            move.
          </Well>
        )}
        <HazardCard hazardIds={handlingHazards(group.map(({ body }) => body.group))} short />
        <Tray>
          <Stack $gap={4}>
            <h2>What may move</h2>
            <p>{step.transfer!.mayMove}</p>
            <Ticks items={RULES} value={ticked} onChange={setTicked} />
          </Stack>
        </Tray>
        {asking.answer.problem !== null ? (
          <Tray $tone="caution">{asking.answer.problem}</Tray>
        ) : (
          <Asked asking={asking} />
        )}
        <Row>
          <Button
            look="main"
            isDisabled={missing.length > 0 || sameVessel || !asking.may || asking.busy}
            onPress={() => void move()}
          >
            {missing.length > 0 ? `${missing.length} still open` : `All are in ${to?.body.name}`}
          </Button>
          <LinkButton to={`/courses/${id}`} $look="bare">
            Not yet
          </LinkButton>
        </Row>
      </Stack>
      <Stack $gap={16}>
        <Tray>
          <h3>Who moves</h3>
          <ul>
            {group.map((resident) => (
              <li key={resident.id} style={{ padding: '4px 0' }}>
                {resident.body.name} <Quiet>from {record.vessels.get(where.get(resident.id) ?? '')?.body.name}</Quiet>
              </li>
            ))}
          </ul>
          {group.length === 0 && <Quiet>Nobody is named in this course.</Quiet>}
        </Tray>
        <Tray>
          <h3>What stays</h3>
          {stays.length > 0 ? (
            <ul>
              {stays.map(({ id: gearId, body }) => (
                <li key={gearId} style={{ padding: '4px 0' }}>
                  {body.name}{' '}
                  <Quiet>
                    {body.homeVesselId === null
                      ? 'shared: only if it is dry'
                      : `belongs to ${record.vessels.get(body.homeVesselId)?.body.name}`}
                  </Quiet>
                </li>
              ))}
            </ul>
          ) : (
            <Quiet>
              No net or tool is registered that could go along by mistake. <Link to="/cupboard">Register gear</Link>
            </Quiet>
          )}
        </Tray>
        <Tray>
          <h3>The old vessel</h3>
          <p>
            Drained, brushed, bleach at 200 mg/L for 60 minutes, rinsed, thiosulfate for 5, rinsed, dry for 24 hours;
            sponge and tubing 72. Never bleach with acid, ammonia, alcohol or peroxide.
          </p>
        </Tray>
      </Stack>
    </Page>
  )
}
