// Today as a walk along the shelf: clean water first, dirty water last, what is late large, the rest on one line.
import {
  analyteWord,
  type Analyte,
  limitOf,
  minutesOf,
  arrivalStage,
  dueStarts,
  containerEntries,
  containerStage,
  dayOf,
  formatDose,
  formatDuration,
  instantMs,
  vesselVolume,
  walkRank,
  type ActiveLedger,
  type AmmoniaMethod,
  type AmmoniaWatch,
  type KeeperRecord,
  type Step,
} from '@brinvo/core'
import { lazy, Suspense, useMemo } from 'react'
import { Link } from 'react-router'
import { styled } from 'styled-components'
import { useDatabase, useRecord } from '../../data/queries.tsx'
import { VesselOutline } from '../../design/marks.tsx'
import { Button, Empty, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, TextLink } from '../../design/primitives.tsx'
import { NARROW } from '../../design/theme.ts'
import {
  countWord,
  dueText,
  levelText,
  litresText,
  partOfDay,
  plural,
  timeText,
  weekdayText,
  whenText,
  sentenceCase,
} from '../../design/words.ts'
import { StepButton } from '../../parts/StepActions.tsx'
import { useLog } from '../../shell/LogContext.tsx'
import { ActNow, ConcernItem } from '../../parts/ConcernItem.tsx'
import { useConcerns } from '../../shell/ConcernsContext.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { BackupHint } from '../../parts/BackupHint.tsx'
import { JoinHint } from '../../parts/JoinHint.tsx'
import { useTold } from '../../parts/useTold.ts'

// It names protocols of the library, which the first view does without.
const Beginnings = lazy(async () => ({ default: (await import('./Beginnings.tsx')).Beginnings }))

const Stop = styled.li`
  display: grid;
  grid-template-columns: 104px minmax(0, 1fr);
  gap: 0 18px;
  &:not(:last-child) {
    padding-bottom: 16px;
  }
  ${NARROW} {
    grid-template-columns: minmax(0, 1fr);
  }
`
const Rail = styled.div`
  text-align: center;
  position: relative;
  a {
    text-decoration: none;
    font-weight: 700;
    font-size: 14px;
    display: inline-block;
  }
  li:not(:last-child) > &::after {
    content: '';
    position: absolute;
    left: 50%;
    top: 84px;
    bottom: -14px;
    border-left: 2px solid var(--hairline);
  }
  ${NARROW} {
    display: flex;
    gap: 8px;
    align-items: center;
    padding-bottom: 6px;
    svg {
      height: 26px;
    }
    &::after {
      display: none;
    }
  }
`
const Line = styled.div<{ $late?: boolean; $wide?: boolean }>`
  display: grid;
  grid-template-columns: 104px minmax(0, 1fr) auto;
  gap: 4px 14px;
  align-items: center;
  padding: 9px 0;
  & + & {
    border-top: 1px solid var(--hairline);
  }
  h2 {
    font-weight: 700;
    font-size: ${({ $late }) => ($late ? '24px' : '15px')};
    line-height: 1.2;
  }
  ${({ $wide }) => $wide && '> :last-child { grid-column: 2 / -1; }'}
  p {
    color: var(--quiet);
  }
  ${NARROW} {
    grid-template-columns: minmax(0, 1fr);
    > :last-child {
      justify-self: start;
      grid-column: 1;
    }
  }
`
const Aside = styled.aside`
  h2 {
    padding-bottom: 8px;
    border-bottom: 2px solid var(--rim);
  }
`
const Later = styled.section`
  padding: 6px 0 0 122px;
  h2 {
    font-size: 17px;
    padding-bottom: 4px;
  }
  li {
    display: grid;
    grid-template-columns: 150px minmax(0, 1fr) auto;
    gap: 12px;
    padding: 7px 0;
  }
  li + li {
    border-top: 1px solid var(--hairline);
  }
  ${NARROW} {
    padding-left: 0;
    li {
      grid-template-columns: 112px minmax(0, 1fr);
      > :last-child {
        display: none;
      }
    }
  }
`

/** Steps a round shows: due and late ones, the waiting one that blocks a dose, and the next of today. */
function ofToday(steps: readonly Step[], nowMs: number): Step[] {
  const open = steps.filter(({ state }) => state === 'due' || state === 'late' || state === 'waiting')
  const soon = steps.filter((step) => step.state === 'ahead' && step.dueMs - nowMs < 10 * 3_600_000)
  const rank = (step: Step) =>
    step.state === 'late'
      ? 0
      : step.kind === 'ramp' || step.kind === 'hold' || (step.kind === 'check' && step.state === 'due')
        ? 1
        : step.state === 'due'
          ? 2
          : 3
  return [...open, ...soon].sort((a, b) => rank(a) - rank(b) || a.dueMs - b.dueMs)
}

export function RoundsPage() {
  const { record, active } = useRecord()
  const { mode } = useDatabase()
  const { plans, faults, nowMs } = useThePlans()
  const { settings } = record
  const begins = dueStarts(record, nowMs)
  const vessels = [...record.vessels.values()]
    .filter(({ body }) => body.archivedAt === undefined)
    .sort((a, b) => walkRank(a.body.purpose) - walkRank(b.body.purpose) || a.body.sortOrder - b.body.sortOrder)
  const { concerns, later, looking } = useConcerns()
  const watches = useMemo(() => {
    const found = new Map<string, AmmoniaWatch>()
    for (const id of record.vessels.keys()) {
      const watch = later?.ammoniaWatchOf(record, active, id, nowMs)
      if (watch && watch.missing.length > 0) found.set(id, watch)
    }
    return found
  }, [record, active, nowMs, later])
  const stops = vessels.flatMap((vessel) => {
    const steps = ofToday(
      plans.filter(({ vesselId }) => vesselId === vessel.id).flatMap((plan) => plan.steps),
      nowMs,
    )
    const watch = watches.get(vessel.id)
    // What a course asks for anyway is not asked twice.
    const missing = watch?.missing.filter(
      (method) => !(method === 'total' && steps.some(({ test }) => test?.analyte === 'ammonia-total')),
    )
    const ammonia = watch && missing && missing.length > 0 ? { watch, missing } : null
    return steps.length > 0 || ammonia ? [{ vessel, steps, ammonia }] : []
  })
  const open = stops.flatMap(({ steps }) => steps).filter(({ state }) => state !== 'ahead')
  const ammoniaTests = stops.filter(({ ammonia }) => ammonia !== null).length
  const dueCount = open.length + ammoniaTests
  const deliveries = deliveriesOf(record, active, nowMs)
  const bags = deliveries.reduce((sum, { stage, waiting }) => sum + (stage === 'expected' ? 0 : waiting.length), 0)
  const dueStops = stops.filter(
    ({ steps, ammonia }) => ammonia !== null || steps.some(({ state }) => state !== 'ahead'),
  ).length
  // Danger stands over everything that is only due.
  const urgent = looking ? [] : concerns.filter(({ tone }) => tone === 'danger')
  const uneasy = concerns.filter(({ tone }) => tone !== 'danger')
  const minutes = open.reduce((sum, step) => sum + minutesOf(step), limitOf('hands-test') * ammoniaTests)
  const largest = Math.max(1, ...vessels.map((vessel) => vesselVolume(vessel)?.litres ?? vessel.body.nominalL))

  if (vessels.length === 0) return <FirstSteps />
  return (
    <Page $aside>
      <Stack $gap={16}>
        <Row $between>
          <h1>
            {weekdayText(nowMs, settings)} {partOfDay(nowMs, settings)}:{' '}
            {[
              ...(urgent.length > 0 ? [`${plural(urgent.length, 'thing')} to act on now`] : []),
              ...(bags > 0 ? [plural(bags, 'bag waits', 'bags wait')] : []),
              ...(dueCount > 0 ? [`${plural(dueCount, 'thing')}, ${plural(dueStops, 'stop')}`] : []),
            ].join('; ') || 'nothing is due'}
          </h1>
          {dueCount > 0 && <Quiet>about {minutes} min · clean water first</Quiet>}
        </Row>
        {faults.map(({ courseId, vesselId }) => (
          <Tray key={courseId} $tone="danger" role="alert">
            A course in {record.vessels.get(vesselId)?.body.name ?? 'a vessel'} cannot be worked out: none of its steps
            stands here. <Link to={`/courses/${courseId}`}>See what is wrong with it</Link>
          </Tray>
        ))}
        <ActNow concerns={urgent} />
        <Deliveries deliveries={deliveries} />
        {stops.length === 0 && urgent.length === 0 && deliveries.length === 0 && (
          <Empty
            title={plans.length === 0 ? 'No course is running' : 'All done for now'}
            action={
              plans.length === 0 ? (
                <>
                  <LinkButton to="/courses/new" $look="main">
                    Start a course
                  </LinkButton>
                  <LinkButton to="/bench">Work out a dose</LinkButton>
                </>
              ) : (
                <LinkButton to="/courses">See what comes next</LinkButton>
              )
            }
          >
            {plans.length === 0
              ? 'A course is a recipe running on your animals in your water. Its steps appear here, worked out from the record.'
              : 'The next step appears here when its time comes.'}
          </Empty>
        )}
        {begins.length > 0 && (
          <Suspense fallback={<div style={{ minHeight: 92 * begins.length }} />}>
            <Beginnings starts={begins} />
          </Suspense>
        )}
        <ol aria-busy={looking}>
          {(looking ? [] : stops).map(({ vessel, steps, ammonia }) => (
            <Stop key={vessel.id}>
              <Rail>
                <VesselOutline
                  litres={vesselVolume(vessel)?.litres ?? vessel.body.nominalL}
                  largest={largest}
                  height={44}
                />
                <div>
                  <Link to={`/vessels/${vessel.id}`}>{vessel.body.name}</Link>
                </div>
              </Rail>
              <Tray aria-label={vessel.body.name}>
                <StepLines steps={steps} nowMs={nowMs} />
                {ammonia && <AmmoniaLine {...ammonia} />}
              </Tray>
            </Stop>
          ))}
        </ol>
        {!looking && <ComingUp />}
      </Stack>
      {!looking && (
        <Aside aria-label="What the record is uneasy about">
          <JoinHint />
          <BackupHint />
          <h2>What the record is uneasy about</h2>
          {uneasy.length === 0 ? (
            <p style={{ paddingTop: 12 }}>
              <Quiet>
                {later
                  ? `Nothing${urgent.length > 0 ? ' else' : ''}. ${later.checkedWords(record, active, plans, nowMs)}`
                  : 'Still looking through readings, tests and campaigns.'}
              </Quiet>
            </p>
          ) : (
            <ul>
              {uneasy.slice(0, 6).map((concern) => (
                <ConcernItem key={concern.id} concern={concern} />
              ))}
            </ul>
          )}
          {mode === 'keeper' && plans.length === 0 && (
            <p style={{ paddingTop: 12 }}>
              <Link to="/demo">Look at the demonstration</Link> <Quiet>to see a course half way through.</Quiet>
            </p>
          )}
        </Aside>
      )}
    </Page>
  )
}

/** From so many hours in a closed bag each one more counts. @source handbook 20, `longOpenTransitH` */
const LONG_IN_BAG_H = limitOf('long-in-bag')

/** Deliveries on the table or due today. */
function deliveriesOf(record: KeeperRecord, active: ActiveLedger, nowMs: number) {
  const today = dayOf(nowMs, record.settings.zone)
  return [...record.arrivals.values()].flatMap((arrival) => {
    const stage = arrivalStage(arrival, active)
    if (stage === 'in-the-water' || arrival.body.closedAt !== undefined) return []
    if (stage === 'expected' && arrival.body.expectedOn !== undefined && arrival.body.expectedOn > today) return []
    const entries = containerEntries(active, arrival.id)
    const stages = arrival.body.containers.map((bag) => ({
      bag,
      stage: containerStage(entries.filter(({ containerId }) => containerId === bag.id)),
    }))
    const running = stages.filter((one) => one.stage === 'running').length
    // What is in the water, or was not taken, waits for nobody.
    const waiting = stages.filter((one) => one.stage !== 'released' && one.stage !== 'refused').map(({ bag }) => bag)
    const closed = waiting.flatMap(({ packedAt = arrival.body.packedAt }) => (packedAt ? [instantMs(packedAt)] : []))
    const hours = closed.length === 0 ? 0 : Math.floor((nowMs - Math.min(...closed)) / 3_600_000)
    return [{ arrival, stage, running, waiting, hours }]
  })
}
/** They come before everything else. */
function Deliveries({ deliveries }: { readonly deliveries: ReturnType<typeof deliveriesOf> }) {
  if (deliveries.length === 0) return null
  return (
    <Tray aria-label="Deliveries">
      {deliveries.map(({ arrival, stage, running, waiting, hours }) => (
        <Line key={arrival.id} $late={running > 0 || hours >= LONG_IN_BAG_H}>
          <span>
            {running > 0 ? (
              <Tag $tone="due">at the tank</Tag>
            ) : hours >= LONG_IN_BAG_H ? (
              <Tag $tone="danger">{hours} h in the bag</Tag>
            ) : (
              <strong>{stage === 'expected' ? 'today' : 'now'}</strong>
            )}
          </span>
          <div>
            <h2>
              {arrival.body.name}
              {running > 0 && `: ${plural(running, 'bag')} on the clock`}
            </h2>
            <p>
              {stage === 'expected'
                ? `${sentenceCase(plural(arrival.body.containers.length, 'bag'))} expected. Have tubs, cups and spare water ready.`
                : waiting.map(({ label, commonName }) => `${label} ${commonName ?? ''}`.trim()).join(', ')}
            </p>
          </div>
          <LinkButton to={`/arrivals/${arrival.id}${running > 0 ? '/run' : ''}`} $look={running > 0 ? 'main' : 'plain'}>
            {running > 0 ? 'To the tank' : 'Open'}
          </LinkButton>
        </Line>
      ))}
    </Tray>
  )
}

function StepLine({ step, nowMs }: { step: Step; nowMs: number }) {
  const told = useTold()
  const { record } = useRecord()
  const { settings } = record
  const late = step.state === 'late'
  const dose = step.dose
  const large =
    (late && step.kind !== 'feed' && step.kind !== 'observe') || (dose !== undefined && step.state === 'due')
  const title = dose
    ? `Gloves on, then add ${formatDose(dose.amount, dose.unit === 'drop' ? 'drops' : dose.unit === 'tablet' ? 'tablets' : dose.unit, settings.locale).text}`
    : step.title
  return (
    <Line $late={large} $wide={step.kind === 'check' && step.state !== 'ahead'}>
      <span>
        {late ? (
          <Tag $tone="due">{dueText(step.dueMs, nowMs)}</Tag>
        ) : step.state === 'waiting' ? (
          <Tag>waits</Tag>
        ) : step.state === 'due' ? (
          <strong>{step.kind === 'observe' || step.kind === 'feed' || step.kind === 'task' ? 'today' : 'now'}</strong>
        ) : (
          <strong>{timeText(step.dueMs, settings)}</strong>
        )}
      </span>
      <div>
        <h2>{title}</h2>
        <p>
          {dose
            ? `${record.products.get(dose.productId)?.body.name ?? ''} (${dose.strengthMg} mg/${dose.unit}): ${levelText(dose.fromMgPerL)} → ${levelText(dose.toMgPerL)} mg/L in ${litresText(dose.volumeL, record.settings)}.`
            : told(step.detail)}
        </p>
      </div>
      <Row $gap={6}>
        {dose ? (
          <LinkButton to={`/vessels/${step.vesselId}`} $look={large ? 'main' : 'plain'}>
            Open
          </LinkButton>
        ) : step.state === 'ahead' && (step.kind === 'check' || step.kind === 'setting') ? null : step.state ===
          'waiting' ? (
          <LinkButton to={`/courses/${step.courseId}`}>Open</LinkButton>
        ) : (
          <StepButton step={step} look={large ? 'main' : 'plain'} />
        )}
      </Row>
    </Line>
  )
}

/** Fewest tests due in one vessel that stand together on one line. */
const TESTS_TOGETHER = limitOf('tests-together')

/** The steps of a vessel; where many tests are due they are entered in one go. */
function StepLines({ steps, nowMs }: { steps: readonly Step[]; nowMs: number }) {
  const tests = steps.filter(({ test, state }) => test !== undefined && (state === 'due' || state === 'late'))
  const together = tests.length >= TESTS_TOGETHER ? tests : []
  const late = together.filter(({ state }) => state === 'late').length
  return (
    <>
      {steps
        .filter((step) => !together.includes(step) || step === together[0])
        .map((step) =>
          step === together[0] ? (
            <Line key="tests">
              <strong>{late > 0 ? <Tag $tone="due">late</Tag> : 'now'}</strong>
              <div>
                <h2>{together.length} tests</h2>
                <p>{[...new Set(together.map(({ test }) => analyteWord(test!.analyte as Analyte)))].join(', ')}</p>
              </div>
              <LinkButton to={`/tests/${step.vesselId}`} $look="main">
                Enter them
              </LinkButton>
            </Line>
          ) : (
            <StepLine key={step.key} step={step} nowMs={nowMs} />
          ),
        )}
    </>
  )
}

/** Ammonia to be read today because the filter cannot be trusted; the vessel's page says why and until when. */
function AmmoniaLine({ watch, missing }: { watch: AmmoniaWatch; missing: readonly AmmoniaMethod[] }) {
  const log = useLog()
  const [first] = missing
  return (
    <Line>
      <strong>today</strong>
      <div>
        <h2>
          {missing.length === 2
            ? 'Ammonia by drop test and by badge'
            : first === 'total'
              ? 'Ammonia by drop test'
              : 'Ammonia by badge'}
        </h2>
        <p>
          {watch.reasons[0]!.words}.{' '}
          {watch.asked.length === 1 &&
            `No ${watch.asked[0] === 'total' ? 'badge' : 'drop test'} is in the cupboard: a second method would tell where this one errs. `}
          <Link to={`/vessels/${watch.vesselId}`}>Why, and what was read</Link>
        </p>
      </div>
      <Button
        onPress={() =>
          log({
            kind: 'reading',
            vesselId: watch.vesselId,
            analyte: first === 'total' ? 'ammonia-total' : 'ammonia-free',
          })
        }
      >
        Enter it
      </Button>
    </Line>
  )
}

/** What is worth knowing days before: what takes water, drug or a kit. */
const COMING: ReadonlySet<Step['kind']> = new Set([
  'change',
  'hold',
  'ramp',
  'dose',
  'bath',
  'transfer',
  'setting',
  'test',
])
/** The next days in one glance. */
function ComingUp() {
  const { record } = useRecord()
  const { plans, nowMs } = useThePlans()
  const next = plans
    .flatMap((plan) => plan.steps)
    .filter((step) => step.state === 'ahead' && COMING.has(step.kind))
    .sort((a, b) => a.dueMs - b.dueMs)
    .slice(0, 6)
  if (next.length === 0) return null
  return (
    <Later>
      <Row $between>
        <h2>Coming up</h2>
        <TextLink to="/calendar">All weeks</TextLink>
      </Row>
      <ul>
        {next.map((step) => (
          <li key={step.key}>
            <Quiet>{whenText(step.dueMs, nowMs, record.settings)}</Quiet>
            <span>
              {record.vessels.get(step.vesselId)?.body.name}: {step.title.toLowerCase()}
            </span>
            <Quiet>in {formatDuration((step.dueMs - nowMs) / 3_600_000)}</Quiet>
          </li>
        ))}
      </ul>
    </Later>
  )
}

/** What keepers come with. Each asks for the vessel first, then goes on to what they came for. */
const DOORS = [
  {
    title: 'A fish gasps, a coral melts',
    text: 'At once, before anything is typed: more air, surface moving, lights off, no food, no drug. Then test ammonia and oxygen.',
    then: '/findings',
    act: 'Then find out',
    urgent: true,
  },
  {
    title: 'Something looks wrong on an animal',
    text: 'Signs one by one, a ranking with its doubt, the look that tells most.',
    then: '/findings',
    act: 'Find out',
    urgent: false,
  },
  {
    title: 'A film, an alga or a pest',
    text: 'What it is, by its looks or under the microscope, and what ends it.',
    then: '/findings?about=surface',
    act: 'Find out',
    urgent: false,
  },
  {
    title: 'A box is on its way, or at the door',
    text: 'Each bag its own way into the water, minute by minute.',
    then: '/arrivals/new',
    act: 'Announce it',
    urgent: false,
  },
  {
    title: 'Animals to treat or to quarantine',
    text: 'Schools side by side on your own water; a course with doses, tests and days.',
    then: '/courses/compare',
    act: 'Compare schools',
    urgent: false,
  },
] as const
const DoorGrid = styled.ul`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(340px, 100%), 1fr));
  gap: 12px;
  li > section {
    height: 100%;
    display: flex;
    flex-direction: column;
    gap: 8px;
    align-items: flex-start;
  }
  li:first-child {
    grid-column: 1 / -1;
  }
  p {
    flex: 1;
  }
`
function Doors() {
  return (
    <DoorGrid>
      {DOORS.map(({ title, text, then, act, urgent }) => (
        <li key={title}>
          <Tray $tone={urgent ? 'danger' : 'plain'}>
            <h2 data-small="">{title}</h2>
            <p>{text}</p>
            <LinkButton
              to={`/vessels/new?then=${encodeURIComponent(then)}`}
              $look={urgent ? 'danger' : 'plain'}
              aria-label={`${act}: ${title}`}
            >
              {act}
            </LinkButton>
          </Tray>
        </li>
      ))}
    </DoorGrid>
  )
}

function FirstSteps() {
  const steps = [
    {
      title: 'Describe a vessel',
      text: 'Length, width, height, glass, gap. You get its net volume with the doubt.',
      to: '/vessels/new',
      action: 'Describe a vessel',
    },
    {
      title: 'Register the bottle and the test kit you own',
      text: 'Form and level read off the label, strength with its unit.',
      to: '/cupboard',
      action: 'Open the cupboard',
    },
    {
      title: 'Start a course',
      text: 'The ramp in mL, the tests, the water to prepare, before the first drop.',
      to: '/courses/new',
      action: 'See the courses',
    },
  ]
  return (
    <Page $aside>
      <Stack $gap={16}>
        <h1>The shelf is empty. What brought you here?</h1>
        <Doors />
        <h2>Or three acts, and it works for you</h2>
        <ol>
          {steps.map((step, i) => (
            <Stop key={step.to}>
              <Rail>
                <strong style={{ fontSize: 40, lineHeight: 1.2 }}>{i + 1}</strong>
              </Rail>
              <Tray>
                <Line $late={i === 0}>
                  <strong>{i === 0 ? 'now' : countWord(i + 1)}</strong>
                  <div>
                    <h2>{step.title}</h2>
                    <p>{step.text}</p>
                  </div>
                  <LinkButton to={step.to} $look={i === 0 ? 'main' : 'plain'}>
                    {step.action}
                  </LinkButton>
                </Line>
              </Tray>
            </Stop>
          ))}
        </ol>
      </Stack>
      <Aside>
        <h2>Or look first</h2>
        <Stack style={{ paddingTop: 12 }}>
          <p>
            The demonstration shows a keeper on day nine of a copper course: one water change went wrong and cost a day
            and a half.
          </p>
          <LinkButton to="/demo">Open the demonstration</LinkButton>
          <p>
            <Quiet>Have a file from another browser? </Quiet>
            <Link to="/ledger">Import it in the ledger.</Link>
          </p>
        </Stack>
      </Aside>
    </Page>
  )
}
