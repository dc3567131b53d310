// Spot treatment: what may go in today by the net volume, pumps off with a clock, patch by patch, then the dose as poured.
import { agentForm, type BathEntry, type Protocol, type Step } from '@brinvo/core'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { styled } from 'styled-components'
import { useNow, useRecord, type Draft } from '../../data/queries.tsx'
import { Field } from '../../design/fields.tsx'
import { Button, Facts, LinkButton, Page, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import { WorkingButton } from '../../design/Working.tsx'
import { levelText, litresText, whenText } from '../../design/words.ts'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { LevelWell } from '../../parts/LevelWell.tsx'
import { Asked } from '../../parts/Refusals.tsx'
import { useSave } from '../../parts/StepActions.tsx'
import { useAct } from '../../parts/useAct.ts'
import { Ticks } from '../../parts/Ticks.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { AirClock } from './AirClock.tsx'
import { clockText } from './bench.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'
import { useTold } from '../../parts/useTold.ts'

const Big = styled.p`
  font-size: 40px;
  font-weight: 800;
  line-height: 1.1;
  small {
    font-size: 21px;
    font-weight: 600;
  }
`
const Patches = styled.ul`
  li {
    display: grid;
    grid-template-columns: minmax(0, 260px);
    gap: 12px;
    align-items: end;
    padding: 8px 0;
  }
  li + li {
    border-top: 1px solid var(--hairline);
  }
`

export function SpotPage() {
  const told = useTold()
  const { id = '', ruleId = '' } = useParams()
  const { record } = useRecord()
  const { plans } = useThePlans()
  const course = record.courses.get(id)
  const steps = plans.find(({ courseId }) => courseId === id)?.steps.filter((step) => step.ruleId === ruleId) ?? []
  const step = steps.find(({ state }) => state !== 'done' && state !== 'skipped')
  if (!course || steps.length === 0) return <NotFound />
  if (!step?.spot)
    return (
      <Page>
        <Tray>
          <Stack>
            <h1>{step ? 'No amount can be worked out' : 'Every spot treatment is done'}</h1>
            {step && <p>{told(step.detail)} A bottle and a net volume are needed: nothing is poured by eye.</p>}
            <Row>
              {step && <LinkButton to={`/courses/${id}?uses=1`}>Choose the bottle</LinkButton>}
              <LinkButton to={`/courses/${id}`}>Back to the campaign</LinkButton>
            </Row>
          </Stack>
        </Tray>
      </Page>
    )
  return <Spot key={step.key} step={step} protocol={course.body.protocol as unknown as Protocol} />
}

/** mL as a syringe shows them: two figures behind the point below one. */
const amountText = (ml: number): string => String(Number(ml.toFixed(ml < 1 ? 2 : ml < 10 ? 1 : 0)))

function Spot({ step, protocol }: { step: Step; protocol: Protocol }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const save = useSave()
  const goOn = useGoOn()
  const spot = step.spot!
  const { courseId } = step
  const product = record.products.get(spot.productId ?? '')
  const form = product ? agentForm(product.body.form) : undefined
  const [ready, setReady] = useState<ReadonlySet<string>>(new Set())
  const [temperature, setTemperature] = useState('')
  const known = new Map(
    active.flatMap((entry) =>
      entry.kind === 'tally' &&
      entry.courseId === courseId &&
      entry.measure === spot.measure &&
      entry.piece !== undefined
        ? [[entry.piece, entry.arm] as const]
        : [],
    ),
  )
  const patches = [...known].filter(([, arm]) => arm === undefined || arm === 'in-water').map(([piece]) => piece)
  const outOfWater = [...known].filter(([, arm]) => arm === 'out-of-water').map(([piece]) => piece)
  const [amounts, setAmounts] = useState<Readonly<Record<string, string>>>({})
  const [rest, setRest] = useState('')
  const pumps = active.filter(
    (entry): entry is BathEntry => entry.kind === 'bath' && entry.courseId === courseId && entry.rule === step.ruleId,
  )
  const off = pumps.at(-1)?.act === 'start' ? pumps.at(-1)! : null
  const base = { vesselId: step.vesselId, courseId }
  const thin = spot.thinTimes > 1.05
  const typed = [...patches.map((piece) => amounts[piece] ?? ''), rest]
  const filled = typed.some((text) => text.trim() !== '')
  const asking = useAct(
    filled && spot.productId !== null
      ? {
          kind: 'dose',
          vesselId: step.vesselId,
          courseId,
          step: step.key,
          productId: spot.productId,
          amounts: typed,
          // The fields speak of what is in the syringe: thinned, where the bottle is too strong for a tuft.
          ...(thin ? { thinned: spot.thinTimes } : {}),
          ...(temperature.trim() === '' ? {} : { temperature }),
          ...(off
            ? {
                with: [
                  {
                    kind: 'bath',
                    ...base,
                    rule: step.ruleId,
                    act: 'end',
                    minutes: Math.max(0, Math.round((nowMs - Date.parse(off.at)) / 6000) / 10),
                    note: 'pumps on',
                  } as Draft,
                ],
              }
            : {}),
        }
      : null,
  )
  const level = asking.answer.preview.level
  const most = Math.min(spot.wishMl, spot.mostMl)
  /** mL in the syringe for mL out of the bottle. */
  const inSyringe = (neat: number) => (thin ? neat * spot.thinTimes : neat)
  const missing = spot.ready.filter((item) => !ready.has(item))
  const pumpsOff = () =>
    save(
      [{ kind: 'bath', ...base, rule: step.ruleId, act: 'start', note: 'pumps and top-off off' } as Draft],
      'Pumps are off: the clock runs.',
    )
  const finish = async () => {
    const poured = level?.amount ?? 0
    if (await asking.commit(`${poured} mL over the patches: noted. Pumps and top-off on again.`))
      goOn(`/courses/${courseId}`)
  }
  const percent = spot.strengthMg / 10
  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={`/courses/${courseId}`}>{protocol.title}</Link>
        </p>
        <h1>{step.title}</h1>
        {step.state === 'ahead' && (
          <Tray $tone="caution">
            Due {whenText(step.dueMs, nowMs, record.settings)}: the rest between is part of it.
          </Tray>
        )}
        {form && <HazardCard hazardIds={form.hazards} short={off !== null} />}
        <Tray>
          <Stack>
            <Big>
              {amountText(inSyringe(most))} mL{' '}
              <small>
                {thin ? 'of the thinned mix ' : ''}
                {spot.mostMl < spot.wishMl ? 'at most today' : 'is the aim today'}, over all patches together
              </small>
            </Big>
            <Facts>
              <dt>bottle</dt>
              <dd>
                {product?.body.name}, {spot.strengthMg} mg/mL ({Number(percent.toPrecision(2))} % w/v)
              </dd>
              <dt>in the whole water then</dt>
              <dd>
                {levelText(spot.leftMgPerL + (most * spot.strengthMg) / spot.volumeL)} mg/L of {spot.ceilingMgPerL} mg/L
              </dd>
              {spot.leftMgPerL > 0.01 && (
                <>
                  <dt>may be left of earlier doses</dt>
                  <dd>{levelText(spot.leftMgPerL)} mg/L</dd>
                </>
              )}
              <dt>the ceiling leaves</dt>
              <dd>{amountText(inSyringe(spot.mostMl))} mL now, and no more</dd>
              {thin && (
                <>
                  <dt>thin it first, to 3 %</dt>
                  <dd>
                    {amountText(Math.max(most, spot.stepMl))} mL of the bottle into{' '}
                    {amountText(Math.max(most, spot.stepMl) * (spot.thinTimes - 1))} mL of tank water: 1 part and{' '}
                    {Number((spot.thinTimes - 1).toPrecision(2))} parts. Peroxide into water, never the other way.
                  </dd>
                </>
              )}
            </Facts>
            <Row>
              <WorkingButton
                working={{
                  title: 'Spot treatment',
                  formula: 'least of (aim × V ÷ strength) and ((ceiling − what may be left) × V ÷ strength)',
                  inputs: [
                    { label: 'net volume', value: spot.volumeL, unit: 'L' },
                    { label: 'strength', value: spot.strengthMg, unit: 'mg/mL' },
                    { label: 'ceiling', value: spot.ceilingMgPerL, unit: 'mg/L' },
                    {
                      label: 'may be left',
                      value: spot.leftMgPerL,
                      unit: 'mg/L',
                      from: 'slowest decay of the earlier doses',
                    },
                    { label: 'by the aim', value: spot.wishMl, unit: 'mL' },
                    { label: 'by the ceiling', value: spot.mostMl, unit: 'mL' },
                  ],
                  result: { label: 'at most', value: most, unit: 'mL' },
                  source: 'Handbook 60 §8',
                }}
              />
            </Row>
          </Stack>
        </Tray>
        {off ? (
          <PumpClock off={off} limits={spot.pumpsOffMinutes} />
        ) : (
          <Tray>
            <Stack $gap={4}>
              <h2>Laid out first</h2>
              <Ticks items={spot.ready} value={ready} onChange={setReady} />
              <Row>
                <Button look="main" isDisabled={missing.length > 0} onPress={() => void pumpsOff()}>
                  {missing.length > 0 ? `${missing.length} still to lay out` : 'Pumps and top-off are off'}
                </Button>
              </Row>
            </Stack>
          </Tray>
        )}
        {outOfWater.length > 0 && (
          <AirClock
            courseId={courseId}
            vesselId={step.vesselId}
            pieces={outOfWater}
            rule="painted-in-air"
            minutes={PAINT_MINUTES}
            about={`Painted 1 min (${PAINT_MINUTES.min} to ${PAINT_MINUTES.max}), growth only, no flesh; then two bowls of tank water, 20 s each. It counts against the ceiling: enter its mL under “Elsewhere”.`}
            meanwhile="paint 3 % on the growth alone"
            enough="Long enough. Two rinse bowls, 20 s each, then back."
            back="Rinsed twice, back in"
          />
        )}
        <Tray>
          <Stack>
            <h2>Patches</h2>
            <Quiet>
              {spot.perPatchMl.min} to {spot.perPatchMl.max} mL {thin ? 'of the thinned mix ' : ''}a tuft, 1 mL in ten
              seconds, tip 5 mm away. The patch left alone gets none.
            </Quiet>
            <Patches>
              {patches.map((piece) => (
                <li key={piece}>
                  <Field
                    label={piece}
                    unit={thin ? 'mL thinned' : 'mL'}
                    value={amounts[piece] ?? ''}
                    onChange={(text) => setAmounts((all) => ({ ...all, [piece]: text }))}
                    numeric
                  />
                </li>
              ))}
              <li>
                <Field
                  label={patches.length === 0 ? 'All patches together' : 'Elsewhere'}
                  unit={thin ? 'mL thinned' : 'mL'}
                  value={rest}
                  onChange={setRest}
                  numeric
                />
              </li>
            </Patches>
            {filled && asking.answer.problem !== null && (
              <p role="alert" style={{ color: 'var(--danger)', fontWeight: 650 }}>
                {asking.answer.problem}
              </p>
            )}
            {level && (
              <p aria-live="polite" style={{ fontSize: 19 }}>
                <strong>{amountText(inSyringe(level.amount))} mL</strong>
                {thin ? ` thinned, ${amountText(level.amount)} mL of the bottle` : ''}: {levelText(level.toMgPerL)} mg/L
                in {litresText(level.volumeL, record.settings)}
              </p>
            )}
            {level && <LevelWell level={level} />}
            {filled && asking.answer.problem === null && (
              <Asked asking={asking} temperature={temperature} onTemperature={setTemperature} />
            )}
            <Row>
              <Button look="main" isDisabled={!filled || !asking.may || asking.busy} onPress={() => void finish()}>
                Pumps on, log it
              </Button>
            </Row>
          </Stack>
        </Tray>
      </Stack>
      <Stack $gap={16}>
        <Tray>
          <Stack $gap={6}>
            <h3>What holds here</h3>
            <ul>
              {protocol.warnings?.map((line) => (
                <li key={line} style={{ padding: '3px 0' }}>
                  {line}
                </li>
              ))}
            </ul>
          </Stack>
        </Tray>
        <Well>
          Bubbles within three minutes mean contact. None: wrong bottle or thick film; brush it, repeat once, not a
          third time.
        </Well>
        <LinkButton to={`/courses/${courseId}/tally/${spot.measure}`}>Score the patches</LinkButton>
      </Stack>
    </Page>
  )
}

/** Painting out of the water, minutes. @source handbook 60 §8 px-out */
const PAINT_MINUTES = { min: 0.5, usual: 1, max: 3 }

function PumpClock({ off, limits }: { off: BathEntry; limits: { min: number; usual: number; max: number } }) {
  const nowMs = useNow(500)
  const seconds = Math.max(0, (nowMs - Date.parse(off.at)) / 1000)
  const over = seconds > limits.max * 60
  return (
    <Tray $tone={over ? 'danger' : 'plain'}>
      <Stack $gap={4}>
        <h2>Pumps off</h2>
        <Big>{clockText(seconds)}</Big>
        <p>
          {over
            ? `Over ${limits.max} minutes: pumps and top-off on now.`
            : seconds < limits.min * 60
              ? `Leave them off for ${limits.min} to ${limits.usual} minutes.`
              : `Long enough. On again by ${limits.max} minutes, and the top-off too.`}
        </p>
      </Stack>
    </Tray>
  )
}
