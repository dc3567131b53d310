// One delivery: each bag from the doorstep to the water, with the next act of each.
import { clockMs } from '../../data/clock.ts'
import {
  METHOD_WORDS,
  arrivalStage,
  checkContainer,
  containerEntries,
  containerStage,
  groupOf,
  handlingHazards,
  inspectionOf,
  instantMs,
  instantOf,
  kindOf,
  transitHours,
  transitOf,
  type ArrivalDocument,
  type Container,
} from '@brinvo/core'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { styled } from 'styled-components'
import { useActions, useRecord } from '../../data/queries.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { plural, sentenceCase, whenText } from '../../design/words.ts'
import { HazardLine } from '../../parts/HazardCard.tsx'
import { Photos, photosAmong } from '../../parts/Photos.tsx'
import { entryWords } from '../../parts/entryWords.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { InspectDialog, MeasureDialog, RefuseDialog } from './ContainerDialogs.tsx'
import { CONTAINER_WORDS, STAGE_WORDS } from './words.ts'
import { useGoOn } from '../../shell/useGoOn.ts'
import { useTold } from '../../parts/useTold.ts'
import { useUnits } from '../../parts/useUnits.ts'

const Stages = styled.ol`
  display: flex;
  flex-wrap: wrap;
  gap: 0;
  li {
    padding: 4px 14px 4px 0;
    color: var(--quiet);
  }
  li[data-past] {
    color: var(--ink);
  }
  li[aria-current] {
    color: var(--ink);
  }
  li[aria-current] > span {
    font-weight: 750;
    border-bottom: 3px solid var(--rim);
    padding-bottom: 2px;
  }
  li:not(:last-child)::after {
    content: '→';
    padding-left: 14px;
    color: var(--quiet);
    font-weight: 400;
  }
`
const Log = styled.ul`
  font-size: 14px;
  li {
    display: grid;
    grid-template-columns: 130px minmax(0, 1fr);
    gap: 10px;
    padding: 4px 0;
  }
`
const ORDER = ['expected', 'received', 'inspected', 'acclimating', 'in-the-water'] as const

export function ArrivalPage() {
  const units = useUnits()
  const { id = '' } = useParams()
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const { revise } = useActions()
  const notice = useNotice()
  const arrival = record.arrivals.get(id)
  if (!arrival) return <NotFound />
  const { body } = arrival
  const { settings } = record
  const stage = arrivalStage(arrival, active)
  // A bag may have been closed at a time of its own: the longest journey is the one that counts.
  const journeys = body.containers.map((container) => transitHours(arrival, container, [], nowMs))
  const hours = journeys.reduce<number | null>(
    (most, one) => (one === null ? most : Math.max(most ?? 0, one)),
    transitHours(arrival, null, [], nowMs),
  )
  const unknown = body.containers.filter((_container, i) => journeys[i] === null)
  const all = containerEntries(active, id)
  const running = body.containers.filter(
    (container) => containerStage(all.filter(({ containerId }) => containerId === container.id)) === 'running',
  )
  const receive = async () => {
    try {
      await revise(arrival, { ...body, receivedAt: instantOf(clockMs()) })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <Page $aside>
      <Stack $gap={16}>
        <Row $between style={{ alignItems: 'flex-end' }}>
          <Stack $gap={4}>
            <h1>{body.name}</h1>
            <Stages aria-label="Stages">
              {ORDER.map((one) => (
                <li
                  key={one}
                  aria-current={one === stage ? 'step' : undefined}
                  data-past={ORDER.indexOf(one) < ORDER.indexOf(stage) ? '' : undefined}
                >
                  <span>{STAGE_WORDS[one]}</span>
                </li>
              ))}
            </Stages>
          </Stack>
          {stage === 'expected' ? (
            <Button look="main" onPress={() => void receive()}>
              It is here
            </Button>
          ) : (
            running.length > 0 && (
              <LinkButton to={`/arrivals/${id}/run`} $look="main">
                To the tank: {plural(running.length, 'clock')} running
              </LinkButton>
            )
          )}
        </Row>
        {body.containers.map((container) => (
          <ContainerTray key={container.id} arrival={arrival} container={container} />
        ))}
      </Stack>
      <Stack $gap={16}>
        <Tray>
          <Stack $gap={8}>
            <Row $between>
              <h3>The journey</h3>
              <LinkButton to={`/arrivals/${id}/edit`} $look="bare">
                Edit
              </LinkButton>
            </Row>
            {hours === null ? (
              <p>
                Nobody has noted when the bags were closed. Twelve hours are taken.{' '}
                <Link to={`/arrivals/${id}/edit`}>Note it</Link>
              </p>
            ) : (
              <>
                <p>
                  <strong style={{ fontSize: 28 }}>{hours < 10 ? hours.toFixed(1) : Math.round(hours)} h</strong>{' '}
                  <Quiet>in the bag, {transitOf(hours).label}</Quiet>
                </p>
                <p>{transitOf(hours).rule}</p>
                {unknown.length > 0 && (
                  <p>
                    When {unknown.map(({ label }) => label).join(', ')} was closed nobody has noted: twelve hours are
                    taken. <Link to={`/arrivals/${id}/edit`}>Note it</Link>
                  </p>
                )}
              </>
            )}
            {body.source !== undefined && <Quiet>From {body.source}.</Quiet>}
            {body.receivedAt !== undefined && (
              <Quiet>Received {whenText(instantMs(body.receivedAt), nowMs, settings)}.</Quiet>
            )}
          </Stack>
        </Tray>
        <Tray>
          <Stack $gap={8}>
            <h3>Have ready</h3>
            <ul>
              {[
                'Lights of room and tank low',
                'A tub for each bag that is to be stepped, a cup with marks',
                `${units.text('volume', totalTankWater(arrival), 2)} or more of spare matched water`,
                'Thermometer, salinity meter, pH and ammonia test, one set',
                body.dripLine === false ? 'A baster in place of the drip line' : 'Drip line with a clamp',
                'Net or cup for each animal; gloves and eye protection for anemones and zoanthids',
                'A bucket for bag water: it never goes into a tank',
              ].map((item) => (
                <li key={item} style={{ padding: '3px 0' }}>
                  {item}
                </li>
              ))}
            </ul>
          </Stack>
        </Tray>
      </Stack>
    </Page>
  )
}
/** A stepped method uses some five bags of tank water. */
const totalTankWater = (arrival: ArrivalDocument): number => arrival.body.containers.length * 6

function ContainerTray({ arrival, container }: { arrival: ArrivalDocument; container: Container }) {
  const told = useTold()
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const goOn = useGoOn()
  const [open, setOpen] = useState<'measure' | 'inspect' | 'refuse' | null>(null)
  const { settings } = record
  const entries = containerEntries(active, arrival.id, container.id)
  const stage = containerStage(entries)
  const vessel = record.vessels.get(container.vesselId)
  const kind = kindOf(container.group, vessel?.body.water ?? 'marine')
  const inspection = inspectionOf(kind)
  const hours = transitHours(arrival, container, entries, nowMs)
  const pictures = photosAmong(active, { arrivalId: arrival.id, containerId: container.id }).length
  const method = entries.findLast(({ act }) => act === 'method')
  const inspected = entries.findLast(({ act }) => act === 'inspected')
  const measured = entries.filter(({ act }) => act === 'measured').length
  const refused = entries.find(({ act }) => act === 'refuse')
  const problems = checkContainer({ record, active, container, entries, nowMs })
  const received = arrival.body.receivedAt !== undefined
  const orderDiffers =
    container.orderedAs !== undefined &&
    container.commonName !== undefined &&
    !container.commonName.toLowerCase().includes(container.orderedAs.toLowerCase()) &&
    !container.orderedAs.toLowerCase().includes(container.commonName.toLowerCase())
  const compare = `/arrivals/${arrival.id}/${container.id}`
  return (
    <Tray aria-label={container.label}>
      <Stack>
        <Row $between>
          <h2>
            {container.label}: {container.count > 1 ? `${container.count} × ` : ''}
            {container.commonName ?? groupOf(container.group)?.label}
          </h2>
          <Tag
            $tone={
              stage === 'released' ? 'good' : stage === 'refused' ? 'danger' : stage === 'running' ? 'due' : 'plain'
            }
          >
            {CONTAINER_WORDS[stage]}
          </Tag>
        </Row>
        <p>
          {hours !== null && stage !== 'released' && (
            <>
              <strong>{hours < 10 ? hours.toFixed(1) : Math.round(hours)} h</strong> <Quiet>in the bag · </Quiet>
            </>
          )}
          <Quiet>{container.scientificName ?? groupOf(container.group)?.label}</Quiet> to{' '}
          <Link to={`/vessels/${container.vesselId}`}>{vessel?.body.name ?? 'no vessel'}</Link>
          {orderDiffers && (
            <>
              {' '}
              <Tag $tone="due">ordered as {container.orderedAs}</Tag>
            </>
          )}
        </p>
        {stage !== 'released' && stage !== 'refused' && <HazardLine hazardIds={handlingHazards([container.group])} />}
        {problems.map(({ rule, level, message }) => (
          <Well key={rule} role={level === 'forbid' ? 'alert' : undefined}>
            <strong style={level === 'forbid' ? { color: 'var(--danger)' } : undefined}>
              {level === 'forbid'
                ? 'Refused. '
                : level === 'ask'
                  ? 'Please look again. '
                  : level === 'block'
                    ? 'Blocked. '
                    : 'Know this. '}
            </strong>
            {told(message)}
          </Well>
        ))}
        {refused && (
          <p>
            <strong>
              {refused.how === 'dead' ? 'Dead on arrival.' : refused.how === 'returned' ? 'Returned.' : 'Refused.'}
            </strong>{' '}
            {refused.reason}
          </p>
        )}
        {inspected && (
          <p>
            <Quiet>Inspected:</Quiet>{' '}
            <strong>
              {inspected.verdict === 'accept'
                ? 'taken'
                : inspected.verdict === 'hold'
                  ? 'held on its own'
                  : 'not to be taken'}
            </strong>
            {inspected.looks?.some(({ answer }) => answer !== 'good') && (
              <Quiet>
                {' '}
                (
                {inspected.looks
                  .filter(({ answer }) => answer !== 'good')
                  .map(({ look, answer }) => `${look}: ${answer}`)
                  .join(', ')}
                )
              </Quiet>
            )}
          </p>
        )}
        {method?.method !== undefined && stage !== 'released' && (
          <p>
            <Quiet>Method:</Quiet> <strong>{METHOD_WORDS[method.method]}</strong>{' '}
            {method.reason !== undefined && <Quiet>{method.reason}</Quiet>}
          </p>
        )}
        {stage !== 'released' && stage !== 'refused' && (
          <Row>
            {stage === 'running' ? (
              <LinkButton to={`/arrivals/${arrival.id}/run`} $look="main">
                To the tank
              </LinkButton>
            ) : !received ? null : !inspected ? (
              <Button look="main" onPress={() => setOpen('inspect')}>
                Look it over
              </Button>
            ) : method ? (
              <Button look="main" onPress={() => goOn(`/arrivals/${arrival.id}/run`)}>
                Start at the tank
              </Button>
            ) : (
              <LinkButton to={compare} $look="main">
                Compare the methods
              </LinkButton>
            )}
            <Button onPress={() => setOpen('measure')}>{measured > 0 ? 'Measure again' : 'Measure the bag'}</Button>
            {(inspected === undefined || method !== undefined) && stage !== 'running' && (
              <LinkButton to={compare}>Compare the methods</LinkButton>
            )}
            {inspected && stage === 'inspected' && (
              <Button look="bare" onPress={() => setOpen('inspect')}>
                Look again
              </Button>
            )}
            <Button look="bare" onPress={() => setOpen('refuse')}>
              Refuse or return
            </Button>
          </Row>
        )}
        {stage === 'released' && (
          <Row>
            <LinkButton to={`/vessels/${container.vesselId}`}>Open {vessel?.body.name}</LinkButton>
            {groupOf(container.group)?.kind === 'fish' && vessel?.body.purpose !== 'display' && (
              <LinkButton to={`/courses/new?vessel=${container.vesselId}`}>Choose its quarantine</LinkButton>
            )}
          </Row>
        )}
        {entries.length > 0 && (
          <details>
            <summary style={{ cursor: 'pointer', minHeight: 32 }}>
              {sentenceCase(plural(entries.length, 'entry', 'entries'))}
            </summary>
            <Log>
              {entries.map((entry) => (
                <li key={entry.id}>
                  <Quiet>{whenText(instantMs(entry.at), nowMs, settings)}</Quiet>
                  <span>{entryWords(entry, record).replace(`${container.label}: `, '')}</span>
                </li>
              ))}
            </Log>
          </details>
        )}
        {received && (
          <details open={pictures > 0}>
            <summary style={{ cursor: 'pointer', minHeight: 32 }}>
              {pictures === 0 ? 'Photograph it' : plural(pictures, 'picture')}
            </summary>
            <Photos
              subject={{ arrivalId: arrival.id, containerId: container.id, vesselId: container.vesselId }}
              note={`${container.label} on arrival`}
            />
          </details>
        )}
      </Stack>
      {open === 'measure' && (
        <MeasureDialog arrival={arrival} container={container} entries={entries} onClose={() => setOpen(null)} />
      )}
      {open === 'inspect' && (
        <InspectDialog arrival={arrival} container={container} inspection={inspection} onClose={() => setOpen(null)} />
      )}
      {open === 'refuse' && <RefuseDialog arrival={arrival} container={container} onClose={() => setOpen(null)} />}
    </Tray>
  )
}
