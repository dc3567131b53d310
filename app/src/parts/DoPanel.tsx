// What to do now: hazards first, then the amount, large, then what it leads to; what else is due and comes, below.
import { formatDose, type CoursePlan, type Settings, type Step } from '@brinvo/core'
import { styled } from 'styled-components'
import { useRecord } from '../data/queries.tsx'
import { Button, Facts, LinkButton, Quiet, Row, Rule, Stack, Tag, Tray, Well } from '../design/primitives.tsx'
import { WorkingButton } from '../design/Working.tsx'
import { NARROW } from '../design/theme.ts'
import { dueText, levelText, longDayText, percentText, volumeText, whenText } from '../design/words.ts'
import { useLog } from '../shell/LogContext.tsx'
import { useThePlans } from '../shell/PlansContext.tsx'
import { HazardCard, HazardLine } from './HazardCard.tsx'
import { SkipButton } from './SkipButton.tsx'
import { StepButton } from './StepActions.tsx'
import { useTold } from './useTold.ts'

const Amount = styled.p`
  font-size: 48px;
  font-weight: 800;
  line-height: 1.05;
  letter-spacing: -0.02em;
`

/** One act, large, with its buttons beside it where there is room. */
const First = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 10px 28px;
  align-items: end;
  h2 {
    font-size: 30px;
    letter-spacing: -0.01em;
  }
  ${NARROW} {
    grid-template-columns: minmax(0, 1fr);
    h2 {
      font-size: 25px;
    }
  }
`
const Presses = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  justify-content: flex-end;
  max-width: 420px;
  ${NARROW} {
    justify-content: flex-start;
  }
`

/** What a plan asks for: the first thing, what else is open, what comes. */
function asked(plans: readonly CoursePlan[], held = false, through = false) {
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
            : step.state === 'waiting'
              ? 5
              : 4
  const sorted = [...open].sort((a, b) => rank(a) - rank(b) || a.dueMs - b.dueMs)
  // What is being worked out may be an amount: its place is held, and nothing else stands in it meanwhile.
  // Of one that has run through, its end is what comes first; what was never done stands below.
  const holds = through || (held && sorted[0]?.dose === undefined)
  return {
    first: holds ? undefined : sorted[0],
    others: holds ? sorted : sorted.slice(1),
    ahead: steps.filter(({ state, kind }) => state === 'ahead' && kind !== 'feed' && kind !== 'observe'),
  }
}
const amountText = ({ amount, unit }: NonNullable<Step['dose']>, locale: Settings['locale']): string =>
  formatDose(amount, unit === 'drop' ? 'drops' : unit === 'tablet' ? 'tablets' : unit, locale).text
/** A dose that raises or holds a level; any other says itself how it goes in. */
const isLevel = ({ kind }: Step): boolean => kind === 'ramp' || kind === 'hold'
const headOf = (first: Step | undefined): string =>
  first ? (first.state === 'late' ? 'Next · late' : first.state === 'waiting' ? 'Waits' : 'Next · now') : 'Nothing due'

/** The next act of a course: hazards in a line, the act, what makes it believable in a line, its buttons. */
export function DoFirst({
  plan,
  hazardIds,
  onEnd,
}: {
  plan: CoursePlan
  hazardIds: readonly string[]
  /** Asks how it ended. */
  onEnd: () => void
}) {
  const told = useTold()
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const { settings } = record
  const held = useHeld([plan])
  const { first, others, ahead } = asked([plan], held, plan.progress.finishedMs !== null)
  const dose = first?.dose
  if (plan.progress.finishedMs !== null)
    return (
      <Tray>
        <First>
          <Stack $gap={6}>
            <h2>It has run through.</h2>
            <p>
              All its phases are done since {longDayText(plan.progress.finishedMs, settings)}. End it, and say what came
              of it{others.length > 0 && '; what was never done stands below'}.
            </p>
          </Stack>
          <Presses>
            <Button look="main" onPress={onEnd}>
              Say how it ended
            </Button>
          </Presses>
        </First>
      </Tray>
    )
  if (!first && held)
    return (
      <Tray aria-busy>
        <Stack $gap={8} style={{ minHeight: 134 }}>
          <HazardLine hazardIds={[...new Set([...(plan.band?.form.hazards ?? []), ...hazardIds])]} />
          <h2 style={{ fontSize: 30 }}>The next act is being worked out.</h2>
          <Quiet>It stands here in a moment.</Quiet>
        </Stack>
      </Tray>
    )
  if (!first)
    return (
      <Tray>
        <Stack $gap={6}>
          <HazardLine hazardIds={hazardIds} />
          <h2 style={{ fontSize: 30 }}>Nothing is due.</h2>
          {ahead[0] && (
            <p>
              <Quiet>{whenText(ahead[0].dueMs, nowMs, settings)}</Quiet> {ahead[0].title}
            </p>
          )}
        </Stack>
      </Tray>
    )
  // What waits on its own day can be left out in words, and that is all.
  const presses =
    first.state === 'waiting' ? (
      first.fromMs <= nowMs && (
        <Presses>
          <SkipButton step={first} />
        </Presses>
      )
    ) : (
      <Presses>
        <StepButton step={first} look="main" />
        <SkipButton step={first} />
        {dose && <WorkingButton working={dose.working} />}
        {first.change?.working && <WorkingButton working={first.change.working} />}
        {[first, ...others].filter(({ test }) => test !== undefined).length > 1 && (
          <LinkButton to={`/tests/${first.vesselId}`}>Enter all tests</LinkButton>
        )}
      </Presses>
    )
  return (
    <Tray>
      <Stack $gap={8}>
        <HazardLine hazardIds={dose ? [...new Set([...(plan.band?.form.hazards ?? []), ...hazardIds])] : hazardIds} />
        <First>
          <Stack $gap={6}>
            {first.state !== 'due' && (
              <span>
                <Tag $tone={first.state === 'late' ? 'due' : 'plain'}>
                  {first.state === 'late' ? dueText(first.dueMs, nowMs) : 'waits'}
                </Tag>
              </span>
            )}
            {dose ? (
              <>
                <Amount>Add {amountText(dose, settings.locale)}</Amount>
                {isLevel(first) ? (
                  <p>
                    {record.products.get(dose.productId)?.body.name}, {dose.strengthMg} mg/{dose.unit}, thinned in half
                    a litre of tank water, over 10 minutes in the outflow.{' '}
                    <strong>
                      {levelText(dose.fromMgPerL)} → {levelText(dose.toMgPerL)} mg/L
                    </strong>{' '}
                    in {volumeText({ litres: dose.volumeL, sdLitres: dose.volumeSdL }, settings)}
                    {dose.holdsChance !== null && (
                      <>
                        ; above {plan.band?.floorMgPerL} until the next test:{' '}
                        <strong>{percentText(dose.holdsChance)}</strong>
                      </>
                    )}
                    .
                  </p>
                ) : (
                  <p>
                    <strong>{first.title}</strong> {told(first.detail)}
                  </p>
                )}
              </>
            ) : (
              <>
                <h2>{first.title}</h2>
                <p>{told(first.detail)}</p>
                {first.why !== undefined && <Quiet>{first.why}</Quiet>}
              </>
            )}
          </Stack>
          {presses}
        </First>
      </Stack>
    </Tray>
  )
}

/** Whether a phase gives by the level: in any other no amount can come of it. */
const givesByLevel = ({ progress }: CoursePlan): boolean =>
  progress.current !== null &&
  progress.phases[progress.current]!.phase.rules.some(({ kind }) => kind === 'ramp' || kind === 'hold')
/** Whether an amount may still come: the level of the course is being worked out. */
function useHeld(plans: readonly CoursePlan[]): boolean {
  const { estimates, pending } = useThePlans()
  return (
    pending &&
    plans.some((plan) => {
      const estimate = estimates.get(plan.courseId)
      return plan.band !== null && givesByLevel(plan) && (estimate === undefined || estimate.stale === true)
    })
  )
}

/** What else a course asks for today, and the next time of each thing that comes. */
export function DoRest({ plan }: { plan: CoursePlan }) {
  const told = useTold()
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const { others, ahead } = asked([plan], useHeld([plan]), plan.progress.finishedMs !== null)
  const coming = ahead
    // Its later times say nothing new.
    .filter((step, i, all) => all.findIndex(({ ruleId }) => ruleId === step.ruleId) === i)
    .slice(0, 8)
  if (others.length + coming.length === 0) return null
  return (
    <Tray>
      <Stack $gap={6}>
        <h2>{others.length === 0 ? 'Next' : plan.progress.finishedMs === null ? 'Also today' : 'Never done'}</h2>
        {others.map((step) => (
          <Other key={step.key} step={step} />
        ))}
        {others.length > 0 && coming.length > 0 && <Rule />}
        {coming.map((step) => (
          <p key={step.key}>
            <Quiet>{whenText(step.dueMs, nowMs, record.settings)}</Quiet> {step.title}{' '}
            <Quiet>{told(step.detail)}</Quiet>
          </p>
        ))}
      </Stack>
    </Tray>
  )
}
function Other({ step }: { step: Step }) {
  const told = useTold()
  const { nowMs } = useThePlans()
  return (
    <Row $between style={{ padding: '3px 0' }}>
      <span style={{ flex: '1 1 240px' }}>
        <strong>{step.title}</strong> {step.state === 'late' && <Tag $tone="due">late</Tag>}{' '}
        {step.state === 'waiting' && <Tag>waits</Tag>}
        <br />
        <Quiet>{told(step.detail)}</Quiet>
        {step.change?.working && <WorkingButton working={step.change.working} look="bare" />}
      </span>
      {(step.state !== 'waiting' || step.fromMs <= nowMs) && (
        <Row $gap={2}>
          <SkipButton step={step} />
          {step.state !== 'waiting' && <StepButton step={step} />}
        </Row>
      )}
    </Row>
  )
}

/** The next act: hazards first, then the amount, then what it leads to. */
export function DoPanel({ plans, vesselId }: { plans: readonly CoursePlan[]; vesselId: string }) {
  const told = useTold()
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const log = useLog()
  const held = useHeld(plans)
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
  const { first, others, ahead } = asked(plans, held)
  const { settings } = record
  const dose = first?.dose
  const band = plans.find(({ courseId }) => courseId === first?.courseId)?.band ?? null
  return (
    <Tray>
      <Stack>
        <Row $between>
          <strong>{headOf(first)}</strong>
          {first && <Quiet>{first.state === 'late' ? dueText(first.dueMs, nowMs) : ''}</Quiet>}
        </Row>
        {dose && first ? (
          <>
            <HazardCard hazardIds={band?.form.hazards ?? []} short />
            <Amount>Add {amountText(dose, settings.locale)}</Amount>
            {isLevel(first) ? (
              <>
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
              </>
            ) : (
              <p>
                <strong>{first.title}</strong> {told(first.detail)}
              </p>
            )}
            <Row>
              <StepButton step={first} look="main" />
              <WorkingButton working={dose.working} />
            </Row>
          </>
        ) : first ? (
          <>
            <h2>{first.title}</h2>
            <p>{told(first.detail)}</p>
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
        ) : held ? (
          <div aria-busy style={{ minHeight: 180 }}>
            <h2>The next act is being worked out.</h2>
            <Quiet>It stands here in a moment.</Quiet>
          </div>
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
                  <Quiet>{told(step.detail)}</Quiet>
                </>
              )}
            </span>
            {step.state !== 'waiting' && <StepButton step={step} />}
          </Row>
        ))}
        {ahead.slice(0, 3).map((step) => (
          <p key={step.key}>
            <Quiet>{whenText(step.dueMs, nowMs, settings)}</Quiet> {step.title}
          </p>
        ))}
      </Stack>
    </Tray>
  )
}
