// Start a course: choose, see what it asks for on your own vessel, read the hazards, then start.
import { clockMs } from '../../data/clock.ts'
import {
  PRACTISED,
  variantFor,
  groupOf,
  activeContent,
  agentForm,
  formGiven,
  coursePreview,
  daysToCorrect,
  formatDose,
  kitOf,
  logPriorFromRange,
  newCourseBody,
  rateOfHalfLife,
  residentVessels,
  residentsIn,
  parseQuantity,
  sensitivity,
  formAmong,
  vesselVolume,
  type CourseBody,
  type Protocol,
  instantOf,
} from '@brinvo/core'
import { useQuery } from '@tanstack/react-query'
import { lazy, Suspense, useMemo, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { styled } from 'styled-components'
import { v7 } from 'uuid'
import { useProtocols } from '../../data/protocols.ts'
import { useActions, useDatabase, useRecord } from '../../data/queries.tsx'
import { shelvedVessels } from '../../data/shelf.ts'
import { Check, Choice, Field, Select } from '../../design/fields.tsx'
import { Button, Empty, Facts, LinkButton, Page, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import {
  levelText,
  localMs,
  longDayText,
  volumeText,
  percentText,
  plural,
  whenText,
  sentenceCase,
} from '../../design/words.ts'
import { Covers } from '../../parts/Covers.tsx'
import { DateTimeField } from '../../parts/DateTimeField.tsx'
import { LawQuestion } from '../../parts/LawQuestion.tsx'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { Asked } from '../../parts/Refusals.tsx'
import { useAct } from '../../parts/useAct.ts'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { compute } from '../../workers/client.ts'
import { NeedsPanel } from './NeedsPanel.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'
import { useWayThere } from '../../shell/wayBack.ts'
import { bottlesAmong } from './usable.ts'

const PreviewChart = lazy(async () => ({ default: (await import('./PreviewChart.tsx')).PreviewChart }))

const Doses = styled.ol`
  display: grid;
  gap: 0;
  li {
    display: grid;
    grid-template-columns: minmax(110px, 1fr) auto minmax(120px, 1fr);
    gap: 10px;
    padding: 8px 0;
    align-items: baseline;
  }
  li + li {
    border-top: 1px solid var(--hairline);
  }
  strong {
    font-size: 21px;
  }
  li > :last-child {
    text-align: right;
  }
`

const PURPOSES: readonly { readonly value: Protocol['purpose']; readonly label: string }[] = [
  { value: 'treatment', label: 'Treat' },
  { value: 'prevention', label: 'Prevent' },
  { value: 'observation', label: 'Watch' },
  { value: 'intake', label: 'Take in' },
  { value: 'fallow', label: 'Fallow' },
  { value: 'settling', label: 'Settle in' },
  { value: 'introduction', label: 'Introduce' },
  { value: 'adjustment', label: 'Adjust water' },
  { value: 'campaign', label: 'Campaign' },
]

/** Parameters as typed: every one readable, or the sentence that says which is not. */
function readParameters(
  protocol: Protocol,
  typed: Readonly<Record<string, string>>,
): { readonly values: Readonly<Record<string, number>>; readonly problem: string | null } {
  const values: Record<string, number> = {}
  for (const { id, label } of protocol.parameters ?? []) {
    const text = typed[id] ?? ''
    if (text.trim() === '') continue
    const read = parseQuantity(text, { dimension: 'count', label, allowBound: false })
    if (!read.ok) return { values, problem: read.error.message }
    values[id] = read.value.value
  }
  return { values, problem: null }
}

export function NewCoursePage() {
  const { record, active } = useRecord()
  const { mode } = useDatabase()
  const { nowMs } = useThePlans()
  const { ready } = useProtocols()
  const goOn = useGoOn()
  const { revise } = useActions()
  const [params] = useSearchParams()
  const wayThere = useWayThere()
  const { settings } = record
  const vessels = shelvedVessels(record)
  const [vesselId, setVesselId] = useState(
    params.get('vessel') ?? vessels.find(({ body }) => body.purpose === 'quarantine')?.id ?? vessels[0]?.id ?? '',
  )
  const [protocolId, setProtocolId] = useState(
    params.get('protocol') ??
      (record.vessels.get(vesselId)?.body.water === 'fresh' ? 'fresh-standard' : 'copper-in-place-30'),
  )
  const vessel = record.vessels.get(vesselId)
  const fitting = ready.filter(({ water }) => water === 'both' || vessel === undefined || water === vessel.body.water)
  const protocol = ready.find(({ id }) => id === protocolId) ?? ready[0]!
  const [chosenWho, setChosenWho] = useState<readonly string[] | null>(null)
  const where = useMemo(() => residentVessels(record, active, nowMs), [record, active, nowMs])
  const residents = useMemo(() => residentsIn(record, active, vesselId, nowMs), [record, active, vesselId, nowMs])
  const role = protocol.productRoles[0]
  const products = role ? bottlesAmong(record, role.forms) : []
  const [productChoice, setProductId] = useState('')
  const productId = products.some(({ id }) => id === productChoice)
    ? productChoice
    : (products.find(({ body }) => body.confirmedAt !== undefined)?.id ?? products[0]?.id ?? '')
  const product = record.products.get(productId)
  const form = (role && formAmong(product?.body, role.forms)) ?? null
  const cautious =
    form !== null &&
    residents.some(({ body }) => ['C', '?'].includes(sensitivity(form, body.group, vessel?.body.water ?? 'marine')))
  const [variantChoice, setVariant] = useState(params.get('variant') ?? '')
  const variant = protocol.variants.find(({ id }) => id === variantChoice) ?? variantFor(protocol, cautious)
  const [school, setSchool] = useState<'strict' | 'pause'>(protocol.clock?.defaultSchool ?? 'strict')
  const testRole = protocol.instrumentRoles.find(({ readsFormOf }) => readsFormOf !== undefined)
  const kits = [...record.instruments.values()].filter(({ body }) => body.analyte === testRole?.analyte)
  const [kitChoice, setKit] = useState('')
  const kitId = kits.some(({ id }) => id === kitChoice)
    ? kitChoice
    : (kits.find(({ body }) => form === null || body.readsForms === undefined || body.readsForms.includes(form.id))
        ?.id ??
      kits[0]?.id ??
      '')
  const [more, setMore] = useState<Readonly<Record<string, string>>>({})
  const [otherVessels, setOtherVessels] = useState<Readonly<Record<string, string>>>({})
  const [begun, setBegun] = useState('')
  const [parameters, setParameters] = useState<Readonly<Record<string, string>>>(() =>
    Object.fromEntries(
      [...params].filter(([key]) => !['vessel', 'protocol', 'variant', 'finding', 'planned'].includes(key)),
    ),
  )
  const volume = vessel ? vesselVolume(vessel) : null
  const content = product ? activeContent(product.body.strength) : null
  const read = readParameters(protocol, parameters)
  const preview = volume
    ? coursePreview({
        parameters: read.values,
        protocol,
        variant,
        form,
        volumeL: volume.litres,
        content: content?.ok ? content.value : null,
        measures: settings.syringesMl,
      })
    : null
  // A correction takes what its pace and the reading ask, not what its protocol usually takes.
  const correcting = daysToCorrect(protocol, record, active, vesselId, nowMs)
  const least = preview?.leastDays ?? 0
  const days = correcting !== null && Number.isFinite(correcting) ? Math.max(least, correcting) : least
  const spare = vessels.find(
    ({ id, body: other }) =>
      id !== vesselId &&
      other.water === vessel?.body.water &&
      (other.purpose === 'observation' || other.purpose === 'transfer'),
  )
  const levels = form ? (variant.levels?.[form.id] ?? []) : []
  const label = product?.body.labelBand
  // What the course will hold: the low end has a band of its own.
  const aim = form ? (variant.holdBand?.[form.id]?.max ?? levels.at(-1) ?? 0) : 0
  const earningInput =
    form && volume && protocol.clock && levels.length > 0
      ? {
          levels: aim > levels.at(-1)! ? [...levels, aim] : levels,
          floorMgPerL:
            label && label.minMgPerL < label.maxMgPerL ? Math.max(label.minMgPerL, form.band.min) : form.band.min,
          ceilingMgPerL: label ? Math.min(label.maxMgPerL, form.hardMax) : form.band.max,
          hardMaxMgPerL: form.hardMax,
          confidence: variant.confidence ?? protocol.clock.confidence,
          volume: { median: volume.litres, sdLn: Math.max(0.03, volume.sdLitres / volume.litres) },
          loss: logPriorFromRange(
            rateOfHalfLife(form.halfLifeDays.high * 24),
            rateOfHalfLife(form.halfLifeDays.low * 24),
          ),
          kit: kitOf(record, form, kitId === '' ? undefined : kitId),
        }
      : null
  const chosenProducts: Readonly<Record<string, string>> = {
    ...(role && productId !== '' ? { [role.id]: productId } : {}),
    ...Object.fromEntries(
      protocol.productRoles.slice(1).flatMap(({ id, forms: fitting }) => {
        const chosen = more[id] ?? bottlesAmong(record, fitting)[0]?.id
        return chosen === undefined || chosen === '' ? [] : [[id, chosen]]
      }),
    ),
  }
  const chosenParameters = read.values
  const begunMs = begun === '' ? nowMs : localMs(begun, settings.zone)
  // Animals that are to meet live elsewhere until then: they are chosen, not read from the vessel.
  const meet = protocol.purpose === 'introduction'
  const everybody = meet
    ? [...record.residents.values()].filter(
        ({ body }) => body.leftAt === undefined && groupOf(body.group)?.kind === 'fish',
      )
    : []
  const whoCourse = meet ? [...(chosenWho ?? [])] : residents.map(({ id }) => id)
  const make = (): CourseBody | string => {
    if (read.problem !== null) return read.problem
    if (!Number.isFinite(begunMs)) return 'When did it begin? The day cannot be read.'
    try {
      return newCourseBody({
        protocol,
        vesselId,
        startMs: begunMs,
        zone: settings.zone,
        residents: protocol.residents === 'none' ? [] : whoCourse,
        variantId: variant.id,
        clockSchool: school,
        products: chosenProducts,
        vessels: Object.fromEntries(
          (protocol.vesselRoles ?? []).flatMap(({ id }) => {
            const chosen = otherVessels[id] ?? spare?.id
            return chosen === undefined || chosen === '' ? [] : [[id, chosen]]
          }),
        ),
        instruments: Object.fromEntries(
          protocol.instrumentRoles.flatMap((candidate) => {
            const id =
              candidate.id === testRole?.id
                ? kitId
                : [...record.instruments.values()].find(({ body: kit }) => kit.analyte === candidate.analyte)?.id
            return id ? [[candidate.id, id]] : []
          }),
        ),
        parameters: read.values,
      })
    } catch (cause) {
      return (cause as Error).message
    }
  }
  const made = make()
  const [courseId] = useState(() => v7())
  const asking = useAct(
    typeof made === 'string'
      ? made
      : {
          kind: 'course',
          id: courseId,
          vesselId,
          instrumentId: kitId === '' ? null : kitId,
          body: made,
          ...(params.get('finding') === null ? {} : { findingId: params.get('finding')! }),
        },
  )
  // Forms of the bottles chosen, once each: the law is asked of every one.
  const forms = [...new Set(Object.values(chosenProducts))].flatMap((id) => {
    const found = formGiven({}, record.products.get(id as string))
    return found ? [found] : []
  })
  const earning = useQuery({
    queryKey: ['earning', JSON.stringify(earningInput)],
    queryFn: ({ signal }) => compute.run('earning', earningInput!, signal),
    enabled: earningInput !== null,
    staleTime: Infinity,
    retry: false,
    networkMode: 'always',
  })

  if (vessels.length === 0) {
    return (
      <Page>
        <Empty
          title="A course needs a vessel"
          action={
            <LinkButton to="/vessels/new" $look="main">
              Describe a vessel
            </LinkButton>
          }
        >
          Every dose divides by the net volume, so the vessel comes first.
        </Empty>
      </Page>
    )
  }

  const start = async () => {
    if (!(await asking.commit())) return
    // What was planned has begun: its place in the calendar is the course's now.
    const planned = record.planned.get(params.get('planned') ?? '')
    if (planned) await revise(planned, { ...planned.body, courseId, endedAt: instantOf(clockMs()) })
    goOn(protocol.campaign ? `/courses/${courseId}` : `/vessels/${vesselId}`)
  }

  const options = ready
    .filter((one) => one.purpose === protocol.purpose && (fitting.includes(one) || one.id === protocol.id))
    .map(({ id, title }) => ({ value: id, label: title }))
    .sort((a, b) => (a.label < b.label ? -1 : 1))
  const bottleHazards = [
    ...new Set(
      protocol.productRoles.flatMap(({ id, forms }) => {
        const bottle = record.products.get(id === role?.id ? productId : (more[id] ?? ''))
        return (agentForm(bottle?.body.form ?? forms[0]!)?.hazards ?? []) as string[]
      }),
    ),
  ]
  return (
    <Page $aside>
      <Stack $gap={16}>
        <h1>Start a course</h1>
        <Tray>
          <Stack>
            <Choice
              label="What for"
              value={protocol.purpose}
              onChange={(purpose) => {
                setProtocolId(fitting.find((one) => one.purpose === purpose)!.id)
                setVariant('')
              }}
              options={PURPOSES.filter(
                ({ value }) => value === protocol.purpose || fitting.some(({ purpose }) => purpose === value),
              )}
            />
            {options.length > 9 ? (
              <Select
                label="Protocol"
                value={protocolId}
                onChange={(id) => {
                  setProtocolId(id)
                  setVariant('')
                }}
                options={options}
              />
            ) : (
              <Choice
                label="Protocol"
                value={protocolId}
                onChange={(id) => {
                  setProtocolId(id)
                  setVariant('')
                }}
                wide
                options={options}
              />
            )}
            <p>{protocol.summary}</p>
            <Row $gap={14}>
              <div style={{ flex: '1 1 200px' }}>
                <Select
                  label="Vessel"
                  value={vesselId}
                  onChange={setVesselId}
                  options={vessels.map(({ id, body }) => ({ value: id, label: body.name }))}
                />
              </div>
              {role && (
                <div style={{ flex: '1 1 200px' }}>
                  <Select
                    label={role.label}
                    value={productId}
                    onChange={setProductId}
                    options={
                      products.length > 0
                        ? products.map(({ id, body }) => ({
                            value: id,
                            label: `${body.name}${body.confirmedAt === undefined ? ' (label not confirmed)' : ''}`,
                          }))
                        : [{ value: '', label: 'none registered' }]
                    }
                  />
                </div>
              )}
              {testRole && (
                <div style={{ flex: '1 1 200px' }}>
                  <Select
                    label={testRole.label}
                    value={kitId}
                    onChange={setKit}
                    options={
                      kits.length > 0
                        ? kits.map(({ id, body }) => ({ value: id, label: body.name }))
                        : [{ value: '', label: 'none registered' }]
                    }
                  />
                </div>
              )}
            </Row>
            {(protocol.productRoles.length > 1 || (protocol.vesselRoles?.length ?? 0) > 0) && (
              <Row $gap={14}>
                {protocol.productRoles.slice(1).map((other) => (
                  <div key={other.id} style={{ flex: '1 1 200px' }}>
                    <Select
                      label={`${other.label}${other.optional === true ? ' (may wait)' : ''}`}
                      value={more[other.id] ?? bottlesAmong(record, other.forms)[0]?.id ?? ''}
                      onChange={(id) => setMore((before) => ({ ...before, [other.id]: id }))}
                      options={[
                        {
                          value: '',
                          label: bottlesAmong(record, other.forms).length > 0 ? 'choose later' : 'none registered',
                        },
                        ...bottlesAmong(record, other.forms).map(({ id, body: bottle }) => ({
                          value: id,
                          label: bottle.name,
                        })),
                      ]}
                    />
                  </div>
                ))}
                {(protocol.vesselRoles ?? []).map((other) => (
                  <div key={other.id} style={{ flex: '1 1 200px' }}>
                    <Select
                      label={other.label}
                      value={otherVessels[other.id] ?? spare?.id ?? ''}
                      onChange={(id) => setOtherVessels((before) => ({ ...before, [other.id]: id }))}
                      options={[
                        { value: '', label: 'none yet' },
                        ...vessels
                          .filter(({ id, body: other2 }) => id !== vesselId && other2.water === vessel?.body.water)
                          .map(({ id, body: other2 }) => ({ value: id, label: other2.name })),
                      ]}
                    />
                  </div>
                ))}
              </Row>
            )}
            <Row>
              <DateTimeField
                label="Begun (leave empty for now)"
                value={begun}
                onChange={setBegun}
                hint="Joining half-way: the day and hour of the first act on paper. Enter its doses, changes and readings with their times afterwards: what the record can prove is credited, the rest is refused with its reason."
              />
            </Row>
            {role && (products.length === 0 || (kits.length === 0 && testRole !== undefined)) && (
              <Row>
                <LinkButton
                  to={wayThere(
                    products.length === 0
                      ? `/cupboard?add=bottle&form=${role.forms.join(',')}`
                      : `/cupboard?add=kit&analyte=${testRole?.analyte ?? ''}`,
                    { vessel: vesselId, protocol: protocol.id, variant: variantChoice },
                  )}
                >
                  Register {products.length === 0 ? 'the bottle' : 'the test kit'} first
                </LinkButton>
              </Row>
            )}
            {meet && (
              <Stack $gap={4} role="group" aria-label="Who is to meet">
                <h3>Who is to meet</h3>
                {everybody.length === 0 && <Quiet>No fish is registered in any vessel yet.</Quiet>}
                {everybody.map(({ id, body }) => (
                  <Check
                    key={id}
                    isSelected={whoCourse.includes(id)}
                    onChange={(on) => setChosenWho(on ? [...whoCourse, id] : whoCourse.filter((one) => one !== id))}
                  >
                    {body.name}
                    <Quiet> {record.vessels.get(where.get(id) ?? '')?.body.name}</Quiet>
                  </Check>
                ))}
              </Stack>
            )}
            <p>
              <Quiet>In the vessel now:</Quiet>{' '}
              {residents.length === 0 ? (
                <>
                  nobody.{' '}
                  <Link
                    to={wayThere(`/vessels/${vesselId}`, {
                      vessel: vesselId,
                      protocol: protocol.id,
                      variant: variantChoice,
                    })}
                  >
                    Add who lives there
                  </Link>
                </>
              ) : (
                residents.map(({ body }) => body.name).join(', ')
              )}
              .
            </p>
          </Stack>
        </Tray>
        {(protocol.parameters?.length ?? 0) > 0 && (
          <Tray>
            <Row $gap={14} style={{ alignItems: 'flex-start' }}>
              {protocol.parameters!.map(({ id, label, unit, min, max, default: usual }) => (
                <div key={id} style={{ flex: '1 1 180px' }}>
                  <Field
                    label={label}
                    unit={unit}
                    value={parameters[id] ?? ''}
                    placeholder={usual === undefined ? '' : String(usual)}
                    onChange={(text) => setParameters((before) => ({ ...before, [id]: text }))}
                    hint={`${min} to ${max} ${unit}; ${usual === undefined ? 'no agreed value, so type yours' : `${usual} where left empty`}.`}
                    numeric
                  />
                </div>
              ))}
            </Row>
          </Tray>
        )}
        {protocol.campaign && (
          <>
            <HazardCard hazardIds={[...new Set([...(protocol.campaign.hazards ?? []), ...bottleHazards])]} />
            {(protocol.warnings?.length ?? 0) > 0 && (
              <Tray $tone="caution">
                <ul style={{ display: 'grid', gap: 6 }}>
                  {protocol.warnings!.map((line) => (
                    <li key={line}>{line}</li>
                  ))}
                </ul>
              </Tray>
            )}
          </>
        )}
        {protocol.variants.length > 1 && (
          <Tray>
            <Stack>
              <Choice
                label={protocol.campaign ? 'Which one is it' : 'How the level is raised'}
                value={variant.id}
                onChange={setVariant}
                wide
                options={protocol.variants.map(({ id, title, when }) => ({ value: id, label: title, note: when }))}
              />
              {cautious && protocol.notForCautious !== undefined && (
                <p>
                  <strong>Not the school for these animals.</strong> {protocol.notForCautious}
                </p>
              )}
              {cautious && variant.forCautious && (
                <Quiet>Chosen because somebody in this vessel takes the agent badly.</Quiet>
              )}
              {protocol.clock && (
                <>
                  <Choice
                    label="When the level dips below the band"
                    value={school}
                    onChange={setSchool}
                    wide
                    options={[
                      { value: 'strict', label: 'Strict', note: 'The count goes back to zero. The default.' },
                      { value: 'pause', label: 'Pause', note: 'The count stops and goes on.' },
                    ]}
                  />
                  {school === 'pause' && <Well role="note">{protocol.clock.pauseWarning}</Well>}
                </>
              )}
            </Stack>
          </Tray>
        )}
        {preview && preview.doses.length > 0 && form && (
          <Tray>
            <Stack>
              <h2>The ramp in this water</h2>
              <HazardCard hazardIds={form.hazards} />
              <Doses>
                {preview.doses.map((dose) => (
                  <li key={dose.atH}>
                    <span>{whenText(nowMs + dose.atH * 3_600_000, nowMs, settings)}</span>
                    <strong>
                      {
                        formatDose(
                          dose.amount,
                          dose.unit === 'drop' ? 'drops' : dose.unit === 'tablet' ? 'tablets' : dose.unit,
                          settings.locale,
                        ).text
                      }
                    </strong>
                    <span>
                      {levelText(dose.fromMgPerL)} → {levelText(dose.toMgPerL)} mg/L
                    </span>
                  </li>
                ))}
              </Doses>
              <Quiet>
                {product?.body.name}, {content?.ok ? `${content.value.mg} mg/${content.value.per}` : ''}, in{' '}
                {volumeText(volume!, settings)}. Each step waits for a reading that confirms the one before; the amounts
                then follow the readings.
              </Quiet>
              <Suspense fallback={<div style={{ height: 190 }} />}>
                <PreviewChart preview={preview} form={form} />
              </Suspense>
            </Stack>
          </Tray>
        )}
        {levels.length === 0 && protocol.productRoles.length > 0 && !protocol.campaign && (
          <Tray>
            <Stack>
              <HazardCard hazardIds={bottleHazards} />
              <Quiet>The amounts stand on the steps once the course runs, in mL or g of your own bottle.</Quiet>
            </Stack>
          </Tray>
        )}
      </Stack>
      <Stack $gap={14}>
        <Tray>
          <Stack>
            <h3>What it asks of you</h3>
            {preview && (
              <Facts>
                <dt>at least</dt>
                <dd>{days === 0 ? 'today' : days === 1 ? '1 day' : `${days} days`}</dd>
                <dt>earliest end</dt>
                <dd>{longDayText(nowMs + days * 86_400_000, settings)}</dd>
                {correcting === Infinity && (
                  <>
                    <dt>at this use</dt>
                    <dd>the day’s limit never reaches the target: find what uses it up</dd>
                  </>
                )}
                {preview.watchDays > 0 && (
                  <>
                    <dt>then watched</dt>
                    <dd>{preview.watchDays} days</dd>
                  </>
                )}
                {preview.levelTests > 0 && (
                  <>
                    <dt>level tests</dt>
                    <dd>about {preview.levelTests}</dd>
                    <dt>ammonia tests</dt>
                    <dd>about {preview.otherTests}</dd>
                  </>
                )}
                {preview.changes > 0 && (
                  <>
                    <dt>water changes</dt>
                    <dd>{preview.changes}</dd>
                  </>
                )}
              </Facts>
            )}
            <Covers protocol={protocol} />
            <Quiet>{protocol.school.tradeOff}</Quiet>
          </Stack>
        </Tray>
        <NeedsPanel
          protocol={protocol}
          variantId={variant.id}
          vesselId={vesselId}
          products={chosenProducts}
          parameters={chosenParameters}
          nowMs={nowMs}
        />
        {earning.data && form && (
          <Tray $tone={earning.data.canEarn ? 'plain' : 'caution'}>
            <Stack $gap={8}>
              <h3>{earning.data.canEarn ? 'Your kit can earn hours' : 'This test cannot earn hours at this level'}</h3>
              <p>
                A reading that shows {aim} mg/L exactly would make it {percentText(earning.data.chance)} sure that the
                level is in the band; an hour needs {percentText(earningInput!.confidence)}.
              </p>
              {!earning.data.canEarn && (
                <Facts>
                  <dt>three readings averaged</dt>
                  <dd>{percentText(earning.data.withThreeReadings)}</dd>
                  <dt>a kit twice as fine</dt>
                  <dd>{percentText(earning.data.withFinerKit)}</dd>
                  <dt>the top of the band as target</dt>
                  <dd>{percentText(earning.data.atBandTop)}</dd>
                </Facts>
              )}
            </Stack>
          </Tray>
        )}
        {forms.map((one) => (
          <LawQuestion key={one.id} form={one} />
        ))}
        {asking.answer.problem !== null ? (
          <Tray $tone="caution">{asking.answer.problem}</Tray>
        ) : (
          <Asked asking={asking} />
        )}
        {asking.spoken.some(({ rule }) => rule === 'cu-band-of-the-bottle') && (
          <LinkButton to="/cupboard">Confirm the bottle from its label</LinkButton>
        )}
        {asking.spoken.some(({ rule }) => rule === 'volume-unconfirmed') && (
          <LinkButton to={wayThere(`/vessels/${vesselId}/edit`, { vessel: vesselId, protocol: protocol.id })}>
            Confirm the volume
          </LinkButton>
        )}
        <Button look="main" isDisabled={!asking.may || asking.busy} onPress={() => void start()}>
          Start {protocol.purpose === 'fallow' ? 'counting' : 'the course'}
        </Button>
        {/* Offered, never asked for: whoever knows it begins at once. */}
        {mode !== 'practice' && PRACTISED.has(protocol.id) && (
          <LinkButton to={`/practice?for=${protocol.id}`} $look="bare">
            Practise it first
          </LinkButton>
        )}
        <Quiet>
          {!protocol.campaign && protocol.phases[0]!.rules.filter(({ kind }) => kind === 'gate').length > 0
            ? `${sentenceCase(plural(protocol.phases[0]!.rules.length, 'check'))} before the first dose.`
            : ''}{' '}
          The course keeps its own copy of the protocol; later edits of the library do not change it.
        </Quiet>
      </Stack>
    </Page>
  )
}
