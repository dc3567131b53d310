// Spot treatment: what may go in today by the net volume, pumps off with a clock, patch by patch, then the dose as poured.
import { agentForm, checkDose, type BathEntry, type Protocol, type Step } from '@brinvo/core'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { styled } from 'styled-components'
import { useNow, useRecord, type Draft } from '../../data/queries.tsx'
import { Field } from '../../design/fields.tsx'
import { Button, Facts, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { WorkingButton } from '../../design/Working.tsx'
import { levelText, whenText } from '../../design/words.ts'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { mayPass, NO_OVERRIDE, overrideDrafts, Refusals } from '../../parts/Refusals.tsx'
import { useSave } from '../../parts/StepActions.tsx'
import { Ticks } from '../../parts/Ticks.tsx'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { AirClock } from './AirClock.tsx'
import { clockText } from './bench.tsx'

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
            {step && <p>{step.detail} A bottle and a net volume are needed: nothing is poured by eye.</p>}
            <Row>
              {step && <LinkButton to="/cupboard">Register the bottle</LinkButton>}
              <LinkButton to={`/courses/${id}`}>Back to the campaign</LinkButton>
            </Row>
          </Stack>
        </Tray>
      </Page>
    )
  return <Spot key={step.key} step={step} protocol={course.body.protocol as unknown as Protocol} />
}

/** Other strengths on sale, and what one mL of this bottle is in them. 1 mL of 12 % = 2 of 6 % = 4 of 3 %. */
const STRENGTHS = [3, 6, 12]

function Spot({ step, protocol }: { step: Step; protocol: Protocol }) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const save = useSave()
  const navigate = useNavigate()
  const spot = step.spot!
  const { courseId } = step
  const product = record.products.get(spot.productId ?? '')
  const form = product ? agentForm(product.body.form) : undefined
  const [ready, setReady] = useState<ReadonlySet<string>>(new Set())
  const [override, setOverride] = useState(NO_OVERRIDE)
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
  const numberOf = (text: string | undefined) => {
    const value = Number((text ?? '').replace(',', '.'))
    return Number.isFinite(value) && value > 0 ? value : 0
  }
  const total = [...patches.map((piece) => amounts[piece]), rest].reduce((sum, text) => sum + numberOf(text), 0)
  const most = Math.min(spot.wishMl, spot.mostMl)
  const level = spot.leftMgPerL + (total * spot.strengthMg) / spot.volumeL
  const refusals =
    total > 0 && spot.productId !== null
      ? checkDose({
          record,
          active,
          vesselId: step.vesselId,
          productId: spot.productId,
          amount: total,
          atMs: nowMs,
          nowMs,
          levelMgPerL: spot.leftMgPerL,
        })
      : []
  const pumps = active.filter(
    (entry): entry is BathEntry => entry.kind === 'bath' && entry.courseId === courseId && entry.rule === step.ruleId,
  )
  const off = pumps.at(-1)?.act === 'start' ? pumps.at(-1)! : null
  const missing = spot.ready.filter((item) => !ready.has(item))
  const base = { vesselId: step.vesselId, courseId }
  const pumpsOff = () =>
    save(
      [{ kind: 'bath', ...base, rule: step.ruleId, act: 'start', note: 'pumps and top-off off' } as Draft],
      'Pumps are off: the clock runs.',
    )
  const finish = async () => {
    if (!mayPass(refusals, override) || total === 0) return
    const drafts: Draft[] = [
      {
        kind: 'dose',
        ...base,
        productId: spot.productId,
        amount: Number(total.toFixed(2)),
        unit: 'mL',
        step: step.key,
      } as unknown as Draft,
      ...(off
        ? [
            {
              kind: 'bath',
              ...base,
              rule: step.ruleId,
              act: 'end',
              minutes: Math.round((Date.now() - Date.parse(off.at)) / 6000) / 10,
              note: 'pumps on',
            } as Draft,
          ]
        : []),
      ...overrideDrafts(refusals, override, base),
    ]
    if (await save(drafts, `${Number(total.toFixed(2))} mL over the patches: noted. Pumps and top-off on again.`))
      void navigate(`/courses/${courseId}`)
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
              {most.toFixed(most < 10 ? 1 : 0)} mL <small>at most today, over all patches together</small>
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
              <dt>the same from other bottles, thinned to 3 % first</dt>
              <dd>
                {STRENGTHS.filter((one) => Math.abs(one - percent) > 0.1)
                  .map((one) => `${((most * percent) / one).toFixed(1)} mL of ${one} %`)
                  .join(', ')}
              </dd>
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
              {spot.perPatchMl.min} to {spot.perPatchMl.max} mL a tuft, 1 mL in ten seconds, tip 5 mm away. The patch
              left alone gets none.
            </Quiet>
            <Patches>
              {patches.map((piece) => (
                <li key={piece}>
                  <Field
                    label={piece}
                    unit="mL"
                    value={amounts[piece] ?? ''}
                    onChange={(text) => setAmounts((all) => ({ ...all, [piece]: text }))}
                    numeric
                  />
                </li>
              ))}
              <li>
                <Field
                  label={patches.length === 0 ? 'All patches together' : 'Elsewhere'}
                  unit="mL"
                  value={rest}
                  onChange={setRest}
                  numeric
                />
              </li>
            </Patches>
            <p aria-live="polite" style={{ fontSize: 19 }}>
              <strong>{total.toFixed(1)} mL</strong> of {most.toFixed(1)}: {levelText(level)} mg/L in{' '}
              {Math.round(spot.volumeL)} L {total > most + 1e-6 && <Tag $tone="due">more than today allows</Tag>}
            </p>
            <Refusals refusals={refusals} override={override} onOverride={setOverride} />
            <Row>
              <Button
                look="main"
                isDisabled={total === 0 || !mayPass(refusals, override)}
                onPress={() => void finish()}
              >
                Pumps on, log it
              </Button>
            </Row>
          </Stack>
        </Tray>
      </Stack>
      <Stack $gap={16}>
        <Tray>
          <Stack $gap={6}>
            <h3>Do not go on when</h3>
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
