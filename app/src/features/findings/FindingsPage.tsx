// Something looks wrong: begin a finding, or go on with one.
import { clockMs } from '../../data/clock.ts'
import { POOLS, conditionOf, diagnose, findingInput, instantOf, poolOf, residentsIn, type Pool } from '@brinvo/core'
import { useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { styled } from 'styled-components'
import { useActions, useRecord } from '../../data/queries.tsx'
import { shelvedVessels } from '../../data/shelf.ts'
import { Choice, Select } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { plural, whenText, sentenceCase } from '../../design/words.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'

const List = styled.ul`
  li {
    display: flex;
    flex-wrap: wrap;
    justify-content: space-between;
    gap: 6px 16px;
    padding: 10px 0;
  }
  li + li {
    border-top: 1px solid var(--hairline);
  }
`

export function FindingsPage() {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const findings = [...record.findings.values()].sort((a, b) => (a.body.startedAt < b.body.startedAt ? 1 : -1))
  const open = findings.filter(({ body }) => body.endedAt === undefined)
  const ended = findings.filter(({ body }) => body.endedAt !== undefined)
  return (
    <Page>
      <h1>Findings</h1>
      <Begin />
      {open.length > 0 && (
        <Tray>
          <h2>Open</h2>
          <List>
            {open.map((finding) => {
              const { ranking } = diagnose(findingInput(record, active, finding, nowMs))
              return (
                <li key={finding.id}>
                  <span>
                    <Link to={`/findings/${finding.id}`}>
                      <strong>{finding.body.title}</strong>
                    </Link>{' '}
                    <Quiet>since {whenText(Date.parse(finding.body.startedAt), nowMs, record.settings)}</Quiet>
                  </span>
                  <span>
                    {ranking.danger.length > 0 && <Tag $tone="danger">act now</Tag>}{' '}
                    {ranking.leader
                      ? `${ranking.leader.condition.label}, ${Math.round(100 * Math.min(0.95, ranking.leader.p))} %`
                      : 'cannot tell yet'}
                  </span>
                </li>
              )
            })}
          </List>
        </Tray>
      )}
      {ended.length > 0 && (
        <Tray>
          <h2>Closed</h2>
          <List>
            {ended.map(({ id, body }) => (
              <li key={id}>
                <Link to={`/findings/${id}`}>{body.title}</Link>
                <Quiet>
                  {body.was === undefined ? 'closed' : (conditionOf(body.was)?.label ?? 'never found out')},{' '}
                  {whenText(Date.parse(body.endedAt!), nowMs, record.settings)}
                </Quiet>
              </li>
            ))}
          </List>
        </Tray>
      )}
      {findings.length === 0 && (
        <Quiet>
          Nothing is open. {sentenceCase(plural(record.vessels.size, 'vessel'))} on the shelf; a look at each costs a
          minute.
        </Quiet>
      )}
    </Page>
  )
}

const SUBJECTS = ['animal', 'creature', 'surface'] as const
type Subject = (typeof SUBJECTS)[number]

/** Vessel, subject and, for an animal, which one: three presses, then the looking begins. */
function Begin() {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { create } = useActions()
  const notice = useNotice()
  const goOn = useGoOn()
  const [params] = useSearchParams()
  const vessels = shelvedVessels(record)
  const [vesselId, setVessel] = useState(params.get('vessel') ?? vessels[0]?.id ?? '')
  const [subject, setSubject] = useState<Subject>(SUBJECTS.find((one) => one === params.get('about')) ?? 'animal')
  const [residentChoice, setResident] = useState(params.get('resident') ?? '')
  const vessel = record.vessels.get(vesselId)
  const residents = residentsIn(record, active, vesselId, nowMs)
  const resident = residents.find(({ id }) => id === residentChoice) ?? residents[0]
  if (vessels.length === 0)
    return (
      <Tray>
        <Stack>
          <p>A finding belongs to a vessel. Describe one first.</p>
          <LinkButton to="/vessels/new">Describe a vessel</LinkButton>
        </Stack>
      </Tray>
    )
  const water = vessel?.body.water ?? 'marine'
  const pool: Pool =
    subject === 'animal'
      ? resident
        ? poolOf(resident.body.group, water)
        : `fish-${water}`
      : `${subject === 'creature' ? 'pest' : 'surface'}-${water}`
  const begin = async () => {
    const what = subject === 'animal' ? (resident?.body.name ?? 'A fish') : POOLS.find(({ id }) => id === pool)!.label
    try {
      const made = await create('finding', {
        title: `${what} in ${vessel?.body.name ?? 'a vessel'}`,
        pool,
        vesselId,
        ...(subject === 'animal' && resident ? { residentId: resident.id } : {}),
        startedAt: instantOf(clockMs()),
        struck: [],
        refused: [],
      })
      goOn(`/findings/${made.id}`)
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <Tray>
      <Stack>
        <h2>Something looks wrong</h2>
        <Choice
          label="What with"
          value={subject}
          onChange={setSubject}
          options={[
            { value: 'animal', label: 'An animal, coral or plant' },
            { value: 'creature', label: 'Something crawling' },
            { value: 'surface', label: 'A film, slime or growth' },
          ]}
        />
        <Row $gap={14}>
          <div style={{ flex: '1 1 200px' }}>
            <Select
              label="Vessel"
              value={vesselId}
              onChange={setVessel}
              options={vessels.map(({ id, body }) => ({ value: id, label: body.name }))}
            />
          </div>
          {subject === 'animal' && residents.length > 0 && (
            <div style={{ flex: '1 1 200px' }}>
              <Select
                label="Which one"
                value={resident?.id ?? ''}
                onChange={setResident}
                options={residents.map(({ id, body }) => ({ value: id, label: `${body.name} (${body.commonName})` }))}
              />
            </div>
          )}
        </Row>
        {subject === 'animal' && residents.length === 0 && (
          <Quiet>Nobody is registered here: it is read as a fish of an unknown kind, the most sensitive group.</Quiet>
        )}
        <Row>
          <Button look="main" onPress={() => void begin()}>
            Look at it
          </Button>
        </Row>
      </Stack>
    </Tray>
  )
}
