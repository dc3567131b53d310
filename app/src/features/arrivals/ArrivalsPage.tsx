// Deliveries: what is expected, what stands on the table, what is already in the water.
import { arrivalStage, containerEntries, containerStage, instantMs, type ArrivalDocument } from '@brinvo/core'
import { Link } from 'react-router'
import { styled } from 'styled-components'
import { useDatabase, useRecord } from '../../data/queries.tsx'
import { Empty, LinkButton, Page, Quiet, Row, Stack, Tag, Tray } from '../../design/primitives.tsx'
import { plural, whenText, sentenceCase } from '../../design/words.ts'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { CONTAINER_WORDS, STAGE_WORDS } from './words.ts'

const List = styled.ul`
  li {
    display: grid;
    grid-template-columns: minmax(0, 1fr) auto;
    gap: 2px 14px;
    padding: 8px 0;
  }
  li + li {
    border-top: 1px solid var(--hairline);
  }
`

export function ArrivalsPage() {
  const { mode } = useDatabase()
  const { record, active } = useRecord()
  const arrivals = [...record.arrivals.values()]
  const order = { acclimating: 0, inspected: 1, received: 1, expected: 2, 'in-the-water': 3 } as const
  const sorted = arrivals
    .map((arrival) => ({ arrival, stage: arrivalStage(arrival, active) }))
    .sort((a, b) => order[a.stage] - order[b.stage] || (a.arrival.id < b.arrival.id ? 1 : -1))
  return (
    <Page>
      <Row $between>
        <h1>Arrivals</h1>
        <Row>
          {mode !== 'practice' && (
            <LinkButton to="/practice?for=arrival" $look="bare">
              Practise a long journey
            </LinkButton>
          )}
          <LinkButton to="/arrivals/introduce">Introduce to a display</LinkButton>
          <LinkButton to="/arrivals/new" $look={sorted.length === 0 ? 'plain' : 'main'}>
            Announce a delivery
          </LinkButton>
        </Row>
      </Row>
      {sorted.length === 0 && (
        <Empty
          title="Nothing is on its way"
          action={
            <LinkButton to="/arrivals/new" $look="main">
              Announce a delivery
            </LinkButton>
          }
        >
          Enter the bags before they come, or while they float: hours in the bag, what is in each, where it goes. You
          get the safest way from bag to tank on these numbers, and a clock for each bag at the tank.
        </Empty>
      )}
      {sorted.map(({ arrival, stage }) => (
        <ArrivalTray key={arrival.id} arrival={arrival} stage={stage} />
      ))}
    </Page>
  )
}

function ArrivalTray({ arrival, stage }: { arrival: ArrivalDocument; stage: keyof typeof STAGE_WORDS }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { settings } = record
  const { body } = arrival
  return (
    <Tray>
      <Stack $gap={8}>
        <Row $between>
          <h2>
            <Link to={`/arrivals/${arrival.id}`}>{body.name}</Link>
          </h2>
          <Tag $tone={stage === 'in-the-water' ? 'good' : stage === 'expected' ? 'plain' : 'due'}>
            {STAGE_WORDS[stage]}
          </Tag>
        </Row>
        <Quiet>
          {sentenceCase(plural(body.containers.length, 'container'))}
          {body.source === undefined ? '' : ` from ${body.source}`}
          {body.packedAt === undefined ? '' : `, packed ${whenText(instantMs(body.packedAt), nowMs, settings)}`}
          {body.receivedAt === undefined
            ? body.expectedOn === undefined
              ? ''
              : `, expected ${body.expectedOn}`
            : `, received ${whenText(instantMs(body.receivedAt), nowMs, settings)}`}
        </Quiet>
        <List>
          {body.containers.map((container) => (
            <li key={container.id}>
              <span>
                <strong>{container.label}</strong> {container.count > 1 ? `${container.count} × ` : ''}
                {container.commonName ?? ''} <Quiet>to {record.vessels.get(container.vesselId)?.body.name}</Quiet>
              </span>
              <Quiet>{CONTAINER_WORDS[containerStage(containerEntries(active, arrival.id, container.id))]}</Quiet>
            </li>
          ))}
        </List>
        <Row>
          {(stage === 'acclimating' || stage === 'inspected' || stage === 'received') && (
            <LinkButton to={`/arrivals/${arrival.id}`} $look="main">
              {stage === 'acclimating' ? 'Go on' : 'Open it'}
            </LinkButton>
          )}
          {stage === 'acclimating' && <LinkButton to={`/arrivals/${arrival.id}/run`}>To the tank</LinkButton>}
        </Row>
      </Stack>
    </Tray>
  )
}
