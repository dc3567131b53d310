// Newcomers meet a display: who is a rival, which way of meeting suits, in which order, and whether the waters match.
import { clockMs } from '../../data/clock.ts'
import {
  typedNumber,
  INTRODUCTION_PROTOCOLS,
  groupOf,
  introductionPlan,
  newCourseBody,
  protocolOf,
  residentVessels,
  type IntroductionId,
} from '@brinvo/core'
import { useState } from 'react'
import { useSearchParams } from 'react-router'
import { useActions, useRecord } from '../../data/queries.tsx'
import { shelvedVessels } from '../../data/shelf.ts'
import { Check, Choice, Field, Select } from '../../design/fields.tsx'
import { Button, Empty, Facts, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { figure } from './words.ts'
import { useGoOn } from '../../shell/useGoOn.ts'

export function IntroducePage() {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { create } = useActions()
  const notice = useNotice()
  const goOn = useGoOn()
  const [params] = useSearchParams()
  const vessels = shelvedVessels(record)
  const displays = vessels.filter(({ body }) => body.purpose === 'display')
  const [vesselId, setVessel] = useState(params.get('vessel') ?? displays[0]?.id ?? vessels[0]?.id ?? '')
  const vessel = record.vessels.get(vesselId)
  const where = residentVessels(record, active, nowMs)
  const candidates = [...record.residents.values()].filter(({ id, body }) => {
    const place = where.get(id)
    return (
      place !== null &&
      place !== undefined &&
      place !== vesselId &&
      groupOf(body.group)?.kind === 'fish' &&
      record.vessels.get(place)?.body.water === vessel?.body.water
    )
  })
  const [picked, setPicked] = useState<readonly string[]>([])
  const chosen = picked.filter((id) => candidates.some((one) => one.id === id))
  const plan = introductionPlan({ record, active, newcomerIds: chosen, vesselId, nowMs })
  const [own, setOwn] = useState<IntroductionId | null>(null)
  const school = own ?? plan.school
  const protocol = protocolOf(school)!
  const [daysText, setDays] = useState('')
  const days = daysText.trim() === '' ? Math.max(1, plan.boxDays) : typedNumber(daysText)
  const name = (id: string) => record.residents.get(id)?.body.name ?? 'a resident'
  const neutralNeeded = (protocol.vesselRoles ?? []).some(({ id }) => id === 'neutral')
  const homes = new Set([vesselId, ...chosen.map((id) => where.get(id))])
  const neutrals = vessels.filter(({ id, body }) => !homes.has(id) && body.water === vessel?.body.water)
  const [neutralChoice, setNeutral] = useState('')
  const neutralId = neutrals.some(({ id }) => id === neutralChoice) ? neutralChoice : ''
  const start = async () => {
    if (neutralNeeded && neutralId === '') {
      notice({ text: 'Choose the neutral tank first: one in which none of them lives.', tone: 'failed' })
      return
    }
    try {
      await create(
        'course',
        newCourseBody({
          protocol,
          vesselId,
          startMs: clockMs(),
          zone: record.settings.zone,
          // On neutral ground both rivals belong to the course, also the one that lives in the display.
          residents: neutralNeeded
            ? [...new Set([...chosen, ...plan.rivalries.map(({ rivalId }) => rivalId)])]
            : chosen,
          ...(neutralNeeded ? { vessels: { neutral: neutralId } } : {}),
          parameters: school === 'introduce-box' ? { 'box-days': days } : {},
          warningsAccepted: [...plan.cautions],
        }),
      )
      notice({ text: `${protocol.title} runs in ${vessel?.body.name}.`, tone: 'done' })
      goOn(`/vessels/${vesselId}`)
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  if (vessels.length === 0)
    return (
      <Page>
        <Empty title="No vessel yet" action={<LinkButton to="/vessels/new">Describe a vessel</LinkButton>}>
          An introduction needs somewhere to go.
        </Empty>
      </Page>
    )
  return (
    <Page $aside>
      <Stack $gap={16}>
        <h1>Introduce to a display</h1>
        <Tray>
          <Stack>
            <Select
              label="Into"
              value={vesselId}
              onChange={setVessel}
              options={vessels.map(({ id, body }) => ({ value: id, label: body.name }))}
            />
            <div role="group" aria-label="Who goes in">
              <strong>Who goes in</strong>
              {candidates.length === 0 && (
                <p>
                  <Quiet>No fish lives in another vessel of this water.</Quiet>
                </p>
              )}
              {candidates.map(({ id, body }) => (
                <Check
                  key={id}
                  isSelected={chosen.includes(id)}
                  onChange={(on) => setPicked((all) => (on ? [...all, id] : all.filter((one) => one !== id)))}
                >
                  {body.name} <Quiet>from {record.vessels.get(where.get(id) ?? '')?.body.name}</Quiet>
                </Check>
              ))}
            </div>
          </Stack>
        </Tray>
        {chosen.length > 0 && (
          <>
            <Tray>
              <Stack>
                <div>
                  <Quiet>Suggested</Quiet>
                  <h2 style={{ fontSize: 28 }}>{protocolOf(plan.school)!.title}</h2>
                </div>
                {plan.reasons.map((reason) => (
                  <p key={reason}>{reason}</p>
                ))}
                {plan.rivalries.map(({ newcomerId, rivalId, why, rivalIsNew }) => (
                  <Well key={newcomerId + rivalId}>
                    <strong>{name(newcomerId)}</strong> and <strong>{name(rivalId)}</strong>
                    {rivalIsNew ? ' (both new)' : ''}: {why}.
                  </Well>
                ))}
                <Choice
                  label="Way of meeting"
                  value={school}
                  onChange={setOwn}
                  wide
                  options={INTRODUCTION_PROTOCOLS.map((id) => {
                    const one = protocolOf(id)!
                    return { value: id, label: one.title, note: one.school.tradeOff }
                  })}
                />
                <p>{protocol.summary}</p>
                {school === 'introduce-box' && (
                  <div style={{ maxWidth: 220 }}>
                    <Field
                      label="Days in the box"
                      value={daysText}
                      placeholder={String(Math.max(1, plan.boxDays))}
                      onChange={setDays}
                      numeric
                    />
                  </div>
                )}
                {neutralNeeded &&
                  (neutrals.length === 0 ? (
                    <p>
                      No vessel of this water is free of them: <LinkButton to="/vessels/new">describe one</LinkButton>
                    </p>
                  ) : (
                    <Select
                      label="Neutral tank"
                      value={neutralId}
                      onChange={setNeutral}
                      options={[
                        { value: '', label: 'Choose a vessel' },
                        ...neutrals.map(({ id, body }) => ({ value: id, label: body.name })),
                      ]}
                    />
                  ))}
                <Row>
                  <Button look="main" onPress={() => void start()}>
                    Start it
                  </Button>
                </Row>
              </Stack>
            </Tray>
            <Tray>
              <Stack $gap={6}>
                <h2>Order of release</h2>
                <ol>
                  {plan.order.map(({ id, body }, i) => (
                    <li key={id} style={{ padding: '6px 0' }}>
                      <strong>{i + 1}</strong> {body.name} <Quiet>{body.scientificName}</Quiet>
                    </li>
                  ))}
                </ol>
                <Quiet>Least aggressive first, the most territorial last; similar bodies on the same day.</Quiet>
              </Stack>
            </Tray>
          </>
        )}
      </Stack>
      <Stack $gap={16}>
        {plan.cautions.map((caution) => (
          <Tray key={caution} $tone="caution">
            {caution}
          </Tray>
        ))}
        {plan.match.length > 0 && (
          <Tray>
            <Stack $gap={8}>
              <h2 data-small="">Do the waters match?</h2>
              <Facts>
                {plan.match.map(({ what, unit, here, there, limit, fits, assumed }) => (
                  <div key={what} style={{ display: 'contents' }}>
                    <dt>
                      {what} <Quiet>({limit})</Quiet>
                    </dt>
                    <dd>
                      {figure(here)} → {figure(there)} {unit}{' '}
                      <Tag $tone={fits ? 'good' : 'due'}>{fits ? 'fits' : 'too far'}</Tag>
                      {assumed && <Quiet> assumed</Quiet>}
                    </dd>
                  </div>
                ))}
              </Facts>
              <Quiet>Fish only, no water: a fish may be stepped over as any arrival is.</Quiet>
            </Stack>
          </Tray>
        )}
        <Tray>
          <Stack $gap={8}>
            <h2 data-small="">Before any of it</h2>
            <ul>
              {[
                'Watch complete, no sign for 14 days',
                'Appetite good, weight steady',
                'Fallow of the display complete',
                'Residents fed just before; room and display dark until the next lights-on',
              ].map((words) => (
                <li key={words} style={{ padding: '3px 0' }}>
                  {words}
                </li>
              ))}
            </ul>
          </Stack>
        </Tray>
      </Stack>
    </Page>
  )
}
