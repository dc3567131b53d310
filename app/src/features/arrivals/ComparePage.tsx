// The five methods on this bag: one is chosen and says why; the others say what they would do. Numbers can be tried.
import {
  typedNumber,
  METHOD_WORDS,
  aspectSentence,
  checkContainer,
  containerEntries,
  containerInputs,
  groupOf,
  type CompareInputs,
  type Comparison,
  type MethodId,
  type MethodResult,
  type MethodSettings,
  type Ranged,
} from '@brinvo/core'
import { lazy, Suspense, useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { styled } from 'styled-components'
import { v7 } from 'uuid'
import { useRecord, type Draft } from '../../data/queries.tsx'
import { Check, Field } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { WorkingButton } from '../../design/Working.tsx'
import { useCommit } from '../../parts/useCommit.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { useComparison } from './useComparison.ts'
import { figure } from './words.ts'
import { useGoOn } from '../../shell/useGoOn.ts'
import { useTold } from '../../parts/useTold.ts'
import { NARROW } from '../../design/theme.ts'
import { useUnits, type Shown } from '../../parts/useUnits.ts'

const CompareCharts = lazy(async () => ({ default: (await import('./CompareCharts.tsx')).CompareCharts }))

const Deciding = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 6px 24px;
  align-items: end;
  h1 {
    font-size: 40px;
  }
  > strong {
    font-size: 40px;
    line-height: 1;
    text-align: right;
    small {
      display: block;
      font-size: 14px;
      font-weight: 400;
      color: var(--quiet);
      padding-top: 4px;
    }
  }
  @media (max-width: 760px) {
    grid-template-columns: minmax(0, 1fr);
    h1 {
      font-size: 28px;
    }
    > strong {
      text-align: left;
    }
  }
`
const Methods = styled.ul`
  li {
    display: grid;
    grid-template-columns: 150px minmax(0, 1fr) auto;
    gap: 4px 16px;
    padding: 10px 0;
    align-items: center;
  }
  li + li {
    border-top: 1px solid var(--hairline);
  }
  @media (max-width: 760px) {
    li {
      grid-template-columns: minmax(0, 1fr) auto;
    }
    li > :nth-child(2) {
      grid-column: 1 / -1;
      grid-row: 2;
    }
  }
`
const Slider = styled.label`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 10px;
  font-size: 14px;
  input {
    grid-column: 1 / -1;
    width: 100%;
    min-height: 36px;
    accent-color: var(--rim);
  }
  output {
    font-weight: 700;
  }
`
type Tried = Partial<Record<'salinityPsu' | 'phNbs' | 'tanMgN' | 'tempC' | 'hours', number>>

/** The place of what is still being worked out, as high as it mostly comes: nothing below it moves when it is there. */
/** The sampled runs may have a line more to say than the central one. */
const Reasons = styled.div`
  min-height: 3lh;
  ${NARROW} {
    min-height: 7lh;
  }
`
const Charts = styled.div`
  height: 438px;
  ${NARROW} {
    height: 880px;
  }
`
const Held = styled(Tray)<{ $wide: number; $narrow: number }>`
  min-height: ${({ $wide }) => $wide}px;
  ${NARROW} {
    min-height: ${({ $narrow }) => $narrow}px;
  }
`

export function ComparePage() {
  const { id = '', containerId = '' } = useParams()
  const { record } = useRecord()
  const arrival = record.arrivals.get(id)
  const container = arrival?.body.containers.find((one) => one.id === containerId)
  if (!arrival || !container) return <NotFound />
  return <Compare key={containerId} arrivalId={id} containerId={containerId} />
}

const exactly = (value: number): Ranged => ({ value, low: value, high: value })

function Compare({ arrivalId, containerId }: { arrivalId: string; containerId: string }) {
  const units = useUnits()
  const told = useTold()
  const { record, active, seenMs } = useRecord()
  const { nowMs } = useThePlans()
  const goOn = useGoOn()
  const commit = useCommit()
  const arrival = record.arrivals.get(arrivalId)!
  const container = arrival.body.containers.find((one) => one.id === containerId)!
  const vessel = record.vessels.get(container.vesselId)
  // Minutes do not change a journey of hours: the inputs rest for ten. What was written a moment ago counts at once.
  const ten = Math.max(Math.floor(nowMs / 600_000) * 600_000, seenMs)
  const base = useMemo(
    () => containerInputs({ record, active, arrival, container, nowMs: ten, samples: 0 }),
    [record, active, arrival, container, ten],
  )
  const [tried, setTried] = useState<Tried>({})
  const [match, setMatch] = useState<boolean | null>(null)
  const [own, setOwn] = useState<Partial<Record<keyof MethodSettings, string>>>({})
  const [wide, setWide] = useState(false)
  const [looked, setLooked] = useState<MethodId | null>(null)
  const inputs = useMemo((): CompareInputs => {
    const set = (field: 'salinityPsu' | 'phNbs' | 'tanMgN' | 'tempC'): Ranged =>
      tried[field] === undefined ? base.bag[field] : exactly(tried[field])
    const settings = Object.fromEntries(
      Object.entries(own).flatMap(([key, text]) => {
        const value = typedNumber(text)
        return text.trim() !== '' && Number.isFinite(value) && value > 0 ? [[key, value]] : []
      }),
    )
    return {
      ...base,
      bag: {
        ...base.bag,
        salinityPsu: set('salinityPsu'),
        phNbs: set('phNbs'),
        tanMgN: set('tanMgN'),
        tempC: set('tempC'),
      },
      transitH: tried.hours ?? base.transitH,
      equipment: { ...base.equipment, canMatch: match ?? base.equipment.canMatch },
      settings,
      wide,
    }
  }, [base, tried, match, own, wide])
  const { comparison, sampled, error } = useComparison(inputs)
  const entries = containerEntries(active, arrivalId, containerId)
  const problems = checkContainer({ record, active, container, entries, nowMs })
  // What would be refused at the press is not offered.
  const refused = problems.filter(({ level }) => level === 'forbid' || level === 'block')
  const risks = problems.filter(({ rule }) => rule === 'no-quarantine' || rule === 'intake-wet')
  const fresh = base.kind.conductivity !== undefined
  const trying = Object.keys(tried).length > 0 || match !== null
  const chosen = comparison?.methods.find(({ id }) => id === comparison.chosen) ?? null
  const shown = comparison?.methods.find(({ id }) => id === looked) ?? chosen ?? comparison?.methods[0] ?? null

  const use = async (method: MethodResult, words?: string) => {
    const drafts: Draft[] = [
      {
        kind: 'container',
        arrivalId,
        containerId,
        act: 'method',
        method: method.id,
        settings: Object.fromEntries(
          Object.entries(method.settings).map(([key, value]) => [
            key,
            typeof value === 'boolean' ? Number(value) : value,
          ]),
        ),
        reason: (method.id === comparison?.chosen
          ? (comparison.reasons[0] ?? '')
          : (words ?? 'Chosen by the keeper.')
        ).slice(0, 900),
      } as Draft,
    ]
    const message = await commit(
      {
        kind: 'container',
        arrivalId,
        containerId,
        drafts,
        said: `${container.label}: ${METHOD_WORDS[method.id].toLowerCase()}.`,
        ...(words === undefined ? {} : { against: { about: method.refusal ?? '', words } }),
      },
      // What is odd about the bag stands on the page above the button that was pressed.
      { actId: v7(), override: { words: '', confirmed: true } },
    )
    if (message === null) goOn(`/arrivals/${arrivalId}/run`)
  }

  return (
    <Page $aside>
      <Stack $gap={16}>
        <p>
          <Link to={`/arrivals/${arrivalId}`}>{arrival.body.name}</Link>{' '}
          <Quiet>
            · {container.label}, {container.count > 1 ? `${container.count} × ` : ''}
            {container.commonName ?? groupOf(container.group)?.label} to {vessel?.body.name}
          </Quiet>
        </p>
        {refused.map(({ rule, level, message }) => (
          <Tray key={rule} $tone="danger" role="alert">
            <strong>{level === 'forbid' ? 'Refused. There is no override.' : 'Not as it stands.'}</strong>
            <p>
              {told(message)} <Link to={`/arrivals/${arrivalId}/edit`}>Change where it goes</Link>
            </p>
          </Tray>
        ))}
        {error !== null && (
          <Tray $tone="caution" role="alert">
            <strong>These numbers cannot be one water.</strong>
            <p>
              The alkalinity cannot carry that pH. Measure pH and alkalinity again, or leave one of them out. ({error})
            </p>
          </Tray>
        )}
        {chosen && comparison ? (
          <Tray $tone={comparison.over ? 'caution' : 'plain'}>
            <Stack>
              <Deciding>
                <div>
                  <Quiet>{comparison.over ? 'Least harm' : 'Safest for this bag'}</Quiet>
                  <h1>{METHOD_WORDS[chosen.id]}</h1>
                </div>
                <strong>
                  {figure(chosen.deciding.careful, chosen.deciding.careful >= 10 ? 3 : 2)} {chosen.deciding.unit}
                  <small>limit {figure(chosen.deciding.limit)}</small>
                </strong>
              </Deciding>
              <Reasons>
                {comparison.reasons.map((reason) => (
                  <p key={reason}>{told(reason)}</p>
                ))}
              </Reasons>
              <Needs result={chosen} inputs={inputs} />
              {risks.map(({ rule, message }) => (
                <Well key={rule}>{told(message)}</Well>
              ))}
              <Row>
                <Button look="main" isDisabled={refused.length > 0} onPress={() => void use(chosen)}>
                  Use it and go to the tank
                </Button>
                {chosen.id === 'matched-tank' && (
                  <LinkButton
                    to={`/courses/new?vessel=${container.vesselId}&protocol=salinity-steps&from-psu=${inputs.tank.salinityPsu.value.toFixed(1)}&to-psu=${inputs.bag.salinityPsu.value.toFixed(1)}&per-day=40`}
                  >
                    Bring the tank to {units.text('salinity', inputs.bag.salinityPsu.value)} first
                  </LinkButton>
                )}
                <WorkingButton working={workingOf(chosen, inputs, comparison)} />
              </Row>
            </Stack>
          </Tray>
        ) : comparison ? (
          <Tray $tone="danger">
            <h1>No method may be used</h1>
            <p>Each is refused; the reasons stand below. Another vessel, or another tub, opens the way.</p>
          </Tray>
        ) : error === null ? (
          <>
            <Held $wide={355} $narrow={593} aria-busy>
              <h1>Five ways into the water</h1>
              <Quiet>They are being worked out for this bag.</Quiet>
            </Held>
            <Held $wide={476} $narrow={918} aria-busy />
            <Held $wide={392} $narrow={692} aria-busy />
          </>
        ) : null}
        {comparison && shown && (
          <Tray>
            <Suspense fallback={<Charts />}>
              <CompareCharts comparison={comparison} shown={shown.id} tank={inputs.tank} fresh={fresh} />
            </Suspense>
          </Tray>
        )}
        {comparison && (
          <Tray>
            <Stack $gap={6}>
              <h2>The five methods</h2>
              <Methods>
                {[...comparison.methods]
                  .sort((a, b) => standing(a, comparison) - standing(b, comparison))
                  .map((method) => (
                    <li key={method.id}>
                      <Button
                        look="bare"
                        onPress={() => setLooked(method.id)}
                        aria-pressed={shown?.id === method.id}
                        style={{ justifyContent: 'flex-start', fontWeight: shown?.id === method.id ? 750 : 500 }}
                      >
                        {METHOD_WORDS[method.id]}
                      </Button>
                      <Verdict method={method} fresh={fresh} />
                      {method.refusal === null ? (
                        <Button
                          isDisabled={refused.length > 0}
                          onPress={() => void use(method)}
                          aria-label={`Use ${METHOD_WORDS[method.id]}`}
                        >
                          Use
                        </Button>
                      ) : method.mayInsist ? (
                        <Insist
                          method={method}
                          isDisabled={refused.length > 0}
                          onUse={(words) => void use(method, words)}
                        />
                      ) : (
                        <Tag>not here</Tag>
                      )}
                    </li>
                  ))}
              </Methods>
            </Stack>
          </Tray>
        )}
      </Stack>
      <Stack $gap={16}>
        <Tray>
          <Stack $gap={8}>
            <Row $between>
              <h3>{trying ? 'Trying other numbers' : 'The bag, as far as it is known'}</h3>
              {trying && (
                <Button
                  look="bare"
                  onPress={() => {
                    setTried({})
                    setMatch(null)
                  }}
                >
                  Back to the record
                </Button>
              )}
            </Row>
            {trying && <Quiet>Nothing here is noted; “Measure the bag” does that.</Quiet>}
            <Try
              label="Hours in the bag"
              unit="h"
              min={0}
              max={72}
              step={1}
              value={Math.round(tried.hours ?? base.transitH)}
              assumed={(container.packedAt ?? arrival.body.packedAt) === undefined && tried.hours === undefined}
              onChange={(hours) => setTried((before) => ({ ...before, hours }))}
            />
            {!fresh && (
              <Try
                label="Bag salinity"
                unit="PSU"
                of="salinity"
                min={25}
                max={38}
                step={0.1}
                value={tried.salinityPsu ?? base.bag.salinityPsu.value}
                assumed={tried.salinityPsu === undefined && base.bag.salinityPsu.assumed !== undefined}
                range={tried.salinityPsu === undefined ? base.bag.salinityPsu : undefined}
                onChange={(salinityPsu) => setTried((before) => ({ ...before, salinityPsu }))}
              />
            )}
            <Try
              label="Bag pH"
              unit=""
              min={6}
              max={8.6}
              step={0.05}
              value={tried.phNbs ?? base.bag.phNbs.value}
              assumed={tried.phNbs === undefined && base.bag.phNbs.assumed !== undefined}
              range={tried.phNbs === undefined ? base.bag.phNbs : undefined}
              onChange={(phNbs) => setTried((before) => ({ ...before, phNbs }))}
            />
            <Try
              label="Bag total ammonia"
              unit="mg/L N"
              min={0}
              max={10}
              step={0.1}
              value={tried.tanMgN ?? base.bag.tanMgN.value}
              assumed={tried.tanMgN === undefined && base.bag.tanMgN.assumed !== undefined}
              range={tried.tanMgN === undefined ? base.bag.tanMgN : undefined}
              onChange={(tanMgN) => setTried((before) => ({ ...before, tanMgN }))}
            />
            <Try
              label="Bag temperature"
              unit="°C"
              of="temperature"
              min={14}
              max={32}
              step={0.1}
              value={tried.tempC ?? base.bag.tempC.value}
              assumed={tried.tempC === undefined && base.bag.tempC.assumed !== undefined}
              range={tried.tempC === undefined ? base.bag.tempC : undefined}
              onChange={(tempC) => setTried((before) => ({ ...before, tempC }))}
            />
            <Check isSelected={match ?? base.equipment.canMatch} onChange={setMatch}>
              {vessel?.body.name} can be brought to the bag’s salinity first
            </Check>
            {(base.kind.totalGapWide ?? base.kind.conductivity?.totalWide) !== undefined && (
              <Check isSelected={wide} onChange={setWide}>
                Use the wider of the two published gaps
              </Check>
            )}
          </Stack>
        </Tray>
        {comparison && comparison.flips.length > 0 && (
          <Tray>
            <Stack $gap={6}>
              <h3>What would change it</h3>
              <ul>
                {comparison.flips.map(({ what, to }) => (
                  <li key={what} style={{ padding: '4px 0' }}>
                    <Quiet>If {what}:</Quiet>{' '}
                    <strong>
                      {to === comparison.chosen
                        ? 'the same'
                        : to === null
                          ? 'none may be used'
                          : METHOD_WORDS[to].toLowerCase()}
                    </strong>
                  </li>
                ))}
              </ul>
            </Stack>
          </Tray>
        )}
        {comparison && (
          <Tray>
            <Stack $gap={6}>
              <h3>Assumed, not measured</h3>
              {comparison.assumed.length === 0 ? (
                <Quiet>Nothing: every number was measured.</Quiet>
              ) : (
                <ul>
                  {comparison.assumed.map((words) => (
                    <li key={words}>{words}</li>
                  ))}
                </ul>
              )}
              {comparison.assumed.some((words) => words.startsWith('Tank')) && (
                <LinkButton to={`/tests/${container.vesselId}`}>Test {vessel?.body.name} now</LinkButton>
              )}
              <Quiet>
                {sampled
                  ? `Ranges are carried through by ${comparison.samples} sampled runs; the careful end decides.`
                  : 'Central numbers; the sampled ranges follow.'}{' '}
                Gas exchange, room cooling and excretion are ranges too.
              </Quiet>
            </Stack>
          </Tray>
        )}
        <Tray>
          <details>
            <summary style={{ cursor: 'pointer', fontWeight: 650, minHeight: 32 }}>Cup, drip and tub</summary>
            <Stack $gap={10}>
              {(
                [
                  ['scoopL', 'A cup', 'L'],
                  ['scoopEveryMin', 'A cup every', 'min'],
                  ['dripLPerH', 'Drip', 'L/h'],
                  ['capL', 'The tub is full at', 'L'],
                ] as const
              ).map(([key, label, unit]) => (
                <Field
                  key={key}
                  label={label}
                  unit={unit}
                  value={own[key] ?? ''}
                  placeholder={shown ? String(shown.settings[key]) : ''}
                  onChange={(text) => setOwn((before) => ({ ...before, [key]: text }))}
                  numeric
                />
              ))}
            </Stack>
          </details>
        </Tray>
      </Stack>
    </Page>
  )
}

function Try({
  label,
  unit,
  min,
  max,
  step,
  value,
  assumed,
  range,
  of,
  onChange,
}: {
  label: string
  unit: string
  /** What it is, where the keeper has a unit of their own for it. */
  of?: Shown
  min: number
  max: number
  step: number
  value: number
  assumed: boolean
  range?: Ranged
  onChange: (value: number) => void
}) {
  const units = useUnits()
  return (
    <Slider>
      <span>
        {label} {assumed && <Tag>assumed</Tag>}
      </span>
      <output>
        {of ? units.text(of, value, 4) : `${figure(value, 4)} ${unit}`}
        {range && range.high > range.low && (
          <Quiet style={{ fontWeight: 400 }}>
            {' '}
            ({of ? units.plain(of, range.low) : figure(range.low)}–
            {of ? units.plain(of, range.high) : figure(range.high)})
          </Quiet>
        )}
      </output>
      <input
        type="range"
        min={min}
        max={max}
        step={step}
        value={Math.min(max, Math.max(min, value))}
        onChange={(event) => onChange(Number(event.target.value))}
        aria-label={label}
      />
    </Slider>
  )
}

function Verdict({ method, fresh }: { method: MethodResult; fresh: boolean }) {
  const units = useUnits()
  if (method.refusal !== null) return <Quiet>{method.refusal}</Quiet>
  const words = aspectSentence(method.deciding, fresh)
  return (
    <span>
      {method.deciding.ratio > 1 ? <Tag $tone="due">over</Tag> : <Tag $tone="good">inside</Tag>}{' '}
      {words.charAt(0).toUpperCase() + words.slice(1)}.{' '}
      <Quiet>
        {method.movedMin === null ? 'Not done in three hours' : `${Math.round(method.movedMin)} min`}
        {method.tankWaterL > 0.05 ? `, ${units.text('volume', method.tankWaterL, 2)} of tank water` : ''}
        {method.pourOutsMin.length > 0 ? `, poured out ${method.pourOutsMin.length} ×` : ''}.
      </Quiet>
    </span>
  )
}

/** Advice is no ban: a method that is judged unfit can be taken with a worded reason, which stands on the ledger. */
function Insist({
  method,
  isDisabled,
  onUse,
}: {
  method: MethodResult
  isDisabled: boolean
  onUse: (words: string) => void
}) {
  const [words, setWords] = useState<string | null>(null)
  if (words === null)
    return (
      <Button
        look="bare"
        isDisabled={isDisabled}
        onPress={() => setWords('')}
        aria-label={`Take it all the same: ${METHOD_WORDS[method.id]}`}
      >
        Take it all the same
      </Button>
    )
  return (
    <Stack $gap={6}>
      <Field
        label={`Why ${METHOD_WORDS[method.id].toLowerCase()}, against the advice`}
        value={words}
        onChange={setWords}
        multiline
        autoFocus
        hint="At least 8 letters. They stand on the ledger."
      />
      <Row $gap={8}>
        <Button isDisabled={words.trim().length < 8} onPress={() => onUse(words.trim())}>
          Use it
        </Button>
        <Button look="bare" onPress={() => setWords(null)}>
          Leave it
        </Button>
      </Row>
    </Stack>
  )
}

/** The chosen first, then what may be used, then what may not. */
const standing = (method: MethodResult, comparison: Comparison): number =>
  method.id === comparison.chosen ? -1 : method.refusal === null ? method.deciding.ratio : 1000

/** What the method needs on the table. */
function Needs({ result, inputs }: { result: MethodResult; inputs: CompareInputs }) {
  const units = useUnits()
  const stepped = result.tankWaterL > 0.05
  const { settings } = result
  const parts = [
    result.openedMin > 0 ? `Float ${Math.round(result.openedMin)} min closed` : 'No floating needed',
    result.id === 'scoops' || result.id === 'dilute-and-bind'
      ? `cups of ${figure(settings.scoopL * 1000)} mL every ${settings.scoopEveryMin} min`
      : result.id === 'drip'
        ? `drip at ${units.text('flow', settings.dripLPerH)}`
        : 'then lift and move within two minutes',
    ...(stepped
      ? [
          `${units.text('volume', result.tankWaterL, 2)} of tank water, and as much premixed water to replace it`,
          result.pourOutsMin.length > 0
            ? `pour out at ${result.pourOutsMin.map((min) => Math.round(min)).join(', ')} min`
            : `a tub of ${units.text('volume', inputs.equipment.tubL)}`,
        ]
      : []),
    `coldest ${units.text('temperature', result.coldestC)}`,
  ]
  return (
    <Well>
      {parts.join('; ')}. Largest change in ten minutes {figure(result.largestTenMin, 2)}{' '}
      {inputs.kind.conductivity ? 'g/kg' : 'PSU'}; ninety per cent tank water{' '}
      {result.minutesToNinety === null
        ? 'not reached in three hours'
        : `after ${Math.round(result.minutesToNinety)} min`}
      {result.freeDose > 0.005 ? `; free ammonia in all ${figure(result.freeDose, 2)} mg/L · min` : ''}.
    </Well>
  )
}

function workingOf(result: MethodResult, inputs: CompareInputs, comparison: Comparison) {
  const line = (label: string, range: Ranged, unit: string) => ({
    label,
    value: range.value,
    unit,
    sd: (range.high - range.low) / 3.3,
    from: range.assumed ?? 'measured',
  })
  const { bag, tank } = inputs
  return {
    title: `How ${METHOD_WORDS[result.id].toLowerCase()} was judged`,
    formula:
      'mass balance of water, salt, alkalinity, carbon, ammonia and heat; carbon dioxide to the air at k × (CO₂ − balance); pH from alkalinity and carbon; free ammonia = total ÷ (1 + 10^(pKa − pH)); the careful value ÷ limit, the largest decides',
    inputs: [
      line('bag temperature', bag.tempC, '°C'),
      line('bag salinity', bag.salinityPsu, 'PSU'),
      line('bag pH', bag.phNbs, 'NBS'),
      line('bag alkalinity', bag.alkalinityDkh, 'dKH'),
      line('bag total ammonia', bag.tanMgN, 'mg/L N'),
      line('bag water', bag.volumeL, 'L'),
      line('animals', bag.massG, 'g'),
      line('tank temperature', tank.tempC, '°C'),
      line('tank salinity', tank.salinityPsu, 'PSU'),
      line('tank pH', tank.phNbs, 'NBS'),
      ...result.aspects.map((aspect) => ({
        label: aspectSentence(aspect, inputs.kind.conductivity !== undefined)
          .split(' comes')[0]!
          .split(' reaches')[0]!,
        value: `${figure(aspect.careful)} of ${Number.isFinite(aspect.limit) ? figure(aspect.limit) : 'no limit'}`,
        unit: aspect.unit,
      })),
    ],
    result: { label: 'largest share of a limit', value: result.deciding.ratio, unit: '× limit' },
    notes: [
      `${comparison.samples > 0 ? `${comparison.samples} sampled runs` : 'Central run'}; the value that nine in ten stay below is compared.`,
      'Left out, on the careful side: carbon dioxide breathed out by the animals.',
    ],
    source:
      'Handbook 20 and 40.4 (limits), 10 (chemistry); gas exchange, cooling and excretion are estimates with ranges',
  }
}
