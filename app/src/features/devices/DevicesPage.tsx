// The devices of the house: paired by a code, heard live, registered for a vessel, and told to pour only within two limits.
import {
  ANALYTES,
  deviceAnalyte,
  doserProof,
  doserState,
  instantOf,
  parseQuantity,
  salinityFromConductivity,
  type DeviceDocument,
  type MinuteRow,
} from '@brinvo/core'
import { scaleLinear } from 'd3-scale'
import { useEffect, useMemo, useState } from 'react'
import { styled } from 'styled-components'
import { askDevices, fetchMinutes, openDevices, pairDevices, unpair, type DeviceView } from '../../data/deviceStore.ts'
import { useActions, useDatabase, useRecord } from '../../data/queries.tsx'
import { shelvedVessels } from '../../data/shelf.ts'
import { Field, Select } from '../../design/fields.tsx'
import { Button, Facts, Page, Quiet, Row, Stack, Tag, Tray, Well } from '../../design/primitives.tsx'
import { WorkingButton } from '../../design/Working.tsx'
import { sentenceCase, whenText } from '../../design/words.ts'
import { DoserForm } from '../../parts/DoserForm.tsx'
import { usePress } from '../../parts/useCommit.ts'
import { registeredAs, useDeviceConcerns, useDevices } from '../../parts/useDevices.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

const SORT_WORDS: Readonly<Record<DeviceView['sort'], string>> = {
  'probe-head': 'probe head',
  doser: 'doser',
  lamp: 'lamp',
  photometer: 'photometer',
}
const number = (value: number): string => String(Number(value.toPrecision(3)))

const Values = styled.ul`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 14px 24px;
  svg {
    display: block;
    width: 100%;
    height: 46px;
  }
  strong {
    font-size: 24px;
    letter-spacing: -0.02em;
    display: block;
    line-height: 1.2;
  }
`

export function DevicesPage() {
  const { record } = useRecord()
  const { mode } = useDatabase()
  const { nowMs } = useThePlans()
  const { revise } = useActions()
  const notice = useNotice()
  const { state, devices, minutes } = useDevices()
  useEffect(() => void openDevices(), [])
  // The minutes behind the curves, fetched while the page is open.
  const heads = [...devices.values()].filter(({ sort }) => sort === 'probe-head').map(({ id }) => id)
  const wanted = heads.join()
  useEffect(() => {
    if (wanted === '') return
    const all = () => {
      for (const id of wanted.split(',')) void fetchMinutes(id).catch(() => undefined)
    }
    all()
    const timer = setInterval(all, 60_000)
    return () => clearInterval(timer)
  }, [wanted])
  const concerns = useDeviceConcerns(nowMs)
  const byHand = [...record.devices.values()].filter(
    ({ body }) => body.retiredAt === undefined && (body.address === undefined || !devices.has(body.address)),
  )
  return (
    <Page $aside>
      <Stack $gap={16}>
        <h1>Devices</h1>
        {mode === 'demo' && (
          <Tray $tone="caution">
            <p>
              In the demonstration devices are shown, and nothing they tell is kept. Open your own record to register
              them.
            </p>
          </Tray>
        )}
        {(state === 'unpaired' || state === 'looking') && <Pair />}
        {state === 'away' && (
          <Tray $tone="caution" role="status">
            <p>Brinvo’s server does not answer: what the devices tell is not heard now. It is tried again by itself.</p>
          </Tray>
        )}
        {concerns.map(({ id, title, detail, tone }) => (
          <Tray key={id} $tone={tone === 'plain' ? 'plain' : tone} role={tone === 'danger' ? 'alert' : undefined}>
            <p>
              <strong>{title}</strong> {detail}
            </p>
          </Tray>
        ))}
        {[...devices.values()].map((view) => (
          <DeviceTray key={view.id} view={view} minutes={minutes.get(view.id) ?? {}} />
        ))}
        {(state === 'connected' || state === 'connecting') && devices.size === 0 && (
          <Tray>
            <p>Paired, and no device has said hello yet.</p>
          </Tray>
        )}
        {byHand.length > 0 && (
          <Tray>
            <Stack $gap={8}>
              <h2>Without a wire, or not heard</h2>
              {byHand.map((device) => (
                <Row key={device.id} $between>
                  <span>
                    <strong>{device.body.name}</strong>{' '}
                    <Quiet>
                      {SORT_WORDS[device.body.sort]} in {record.vessels.get(device.body.vesselId)?.body.name}
                    </Quiet>
                  </span>
                  {device.body.sort === 'doser' ? (
                    <DoserEdit device={device} />
                  ) : (
                    <Button
                      look="bare"
                      aria-label={`Put it away: ${device.body.name}`}
                      onPress={() =>
                        void revise(device, { ...device.body, retiredAt: instantOf(nowMs) }).catch((cause: Error) =>
                          notice({ text: cause.message, tone: 'failed' }),
                        )
                      }
                    >
                      Put it away
                    </Button>
                  )}
                </Row>
              ))}
            </Stack>
          </Tray>
        )}
      </Stack>
      <Stack $gap={14}>
        <Well>
          Everything works without devices. They speak to Brinvo’s own server on this machine, over no network; hours of
          a probe and portions of a doser stand on your ledger, and the rest is let go after two days.
        </Well>
        <Well>
          No device pours before you confirmed the most of one portion and of one day, and none ever pours more.
        </Well>
        {state !== 'unpaired' && state !== 'looking' && (
          <Button look="bare" onPress={() => void unpair()}>
            Unpair this browser
          </Button>
        )}
      </Stack>
    </Page>
  )
}

function Pair() {
  const [code, setCode] = useState('')
  const [error, setError] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  const pair = async () => {
    setBusy(true)
    setError(null)
    try {
      await pairDevices(code)
    } catch (cause) {
      setError((cause as Error).message)
    } finally {
      setBusy(false)
    }
  }
  return (
    <Tray>
      <Stack>
        <h2>Pair this browser</h2>
        <p>Where Brinvo was started stands a code of eight digits. It is used once; a new one stands there then.</p>
        <Row style={{ alignItems: 'end' }}>
          <div style={{ width: 200 }}>
            <Field label="Code" value={code} onChange={setCode} numeric error={error} />
          </div>
          <Button look="main" isDisabled={busy || code.trim() === ''} onPress={() => void pair()}>
            Pair
          </Button>
        </Row>
      </Stack>
    </Tray>
  )
}

function DeviceTray({
  view,
  minutes,
}: {
  readonly view: DeviceView
  readonly minutes: Readonly<Record<string, readonly MinuteRow[]>>
}) {
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const device = registeredAs(record.devices, view.id)
  const vessel = device && record.vessels.get(device.body.vesselId)
  return (
    <Tray aria-label={device?.body.name ?? view.name}>
      <Stack>
        <Row $between>
          <h2>
            {device?.body.name ?? view.name}{' '}
            <Quiet>
              {SORT_WORDS[view.sort]}
              {vessel ? ` in ${vessel.body.name}` : ''}
            </Quiet>
          </h2>
          <Tag $tone={view.connected ? 'good' : 'due'}>
            {view.connected
              ? 'heard now'
              : view.lastAt === null
                ? 'not heard yet'
                : `silent since ${whenText(view.lastAt, nowMs, record.settings)}`}
          </Tag>
        </Row>
        {view.sort !== 'doser' && Object.keys(view.now).length > 0 && (
          <Values>
            {Object.entries(view.now).map(([quantity, { value }]) => (
              <Live key={quantity} quantity={quantity} value={value} rows={minutes[quantity] ?? []} />
            ))}
          </Values>
        )}
        {!device && <Register view={view} />}
        {device && view.sort === 'doser' && <DoserPanel device={device} view={view} />}
        {device && view.sort === 'photometer' && <PhotometerPanel device={device} view={view} />}
      </Stack>
    </Tray>
  )
}

const QUANTITY: Readonly<Record<string, { readonly word: string; readonly unit: string }>> = {
  level: { word: 'Water under its mark', unit: 'cm' },
  light: { word: 'Light', unit: '%' },
  reading: { word: 'Last test', unit: '' },
}

/** A live value over its last hours. */
function Live({
  quantity,
  value,
  rows,
}: {
  readonly quantity: string
  readonly value: number
  readonly rows: readonly MinuteRow[]
}) {
  const analyte = deviceAnalyte(quantity)
  const about = analyte ? { word: ANALYTES[analyte].word, unit: ANALYTES[analyte].unit } : QUANTITY[quantity]
  const shown = quantity === 'level' ? Math.max(0, -value) : value
  const salinity = quantity === 'conductivity' ? salinityFromConductivity(value / 1000, 25) : null
  const last = rows.slice(-360)
  const low = Math.min(...last.map((one) => one.low))
  const high = Math.max(...last.map((one) => one.high))
  const x = scaleLinear([last[0]?.at ?? 0, last.at(-1)?.at ?? 1], [0, 190])
  const y = scaleLinear([low, high === low ? low + 1 : high], [42, 4])
  return (
    <li>
      <Quiet>{about?.word ?? sentenceCase(quantity)}</Quiet>
      <strong>
        {Number(shown.toFixed(quantity === 'conductivity' ? 0 : 2))}{' '}
        <Quiet style={{ fontSize: 14 }}>{about?.unit === 'pH' ? '' : about?.unit}</Quiet>
      </strong>
      {salinity !== null && Number.isFinite(salinity) && <Quiet>about {salinity.toFixed(1)} ppt</Quiet>}
      {last.length > 2 && (
        <svg viewBox="0 0 190 46" role="img" aria-label={`From ${number(low)} to ${number(high)} in the last hours`}>
          <polyline
            points={last.map((one) => `${x(one.at)},${y(one.median)}`).join(' ')}
            fill="none"
            stroke="var(--rim)"
            strokeWidth="1.6"
          />
        </svg>
      )}
    </li>
  )
}

/** What a head's probes are as instruments: their step and error, by which every value of theirs is weighed. */
const PROBES = [
  ['temperature', 0.1, 0.004],
  ['ph', 0.01, 0.006],
  ['conductivity', 100, 0.01],
  ['oxygen', 0.1, 0.03],
] as const

function Register({ view }: { readonly view: DeviceView }) {
  const { record } = useRecord()
  const { mode } = useDatabase()
  const { create } = useActions()
  const notice = useNotice()
  const vessels = shelvedVessels(record)
  const [vesselId, setVessel] = useState(vessels[0]?.id ?? '')
  const [name, setName] = useState(view.name)
  const [form, setForm] = useState(false)
  const register = async () => {
    if (view.sort === 'doser') return setForm(true)
    try {
      const device = await create('device', {
        name: name.trim() || view.name,
        sort: view.sort,
        vesselId,
        address: view.id,
      })
      if (view.sort === 'probe-head')
        for (const [analyte, step, relativeError] of PROBES)
          await create('instrument', {
            name: `${device.body.name}, ${ANALYTES[analyte].word === 'pH' ? 'pH' : ANALYTES[analyte].word.toLowerCase()}`,
            analyte,
            method: 'probe',
            step,
            relativeError,
            deviceId: device.id,
          })
      notice({
        text: `${device.body.name} is registered for ${record.vessels.get(vesselId)?.body.name}.`,
        tone: 'done',
      })
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }
  return (
    <>
      <Row $gap={12} style={{ alignItems: 'end' }}>
        <div style={{ width: 220 }}>
          <Field label="Call it" value={name} onChange={setName} />
        </div>
        <div style={{ width: 200 }}>
          <Select
            label="It hangs in"
            value={vesselId}
            onChange={setVessel}
            options={vessels.map(({ id, body }) => ({ value: id, label: body.name }))}
          />
        </div>
        <Button look="main" isDisabled={mode === 'demo' || vesselId === ''} onPress={() => void register()}>
          Register it
        </Button>
      </Row>
      {form && <DoserForm vesselId={vesselId} address={view.id} onClose={() => setForm(false)} />}
    </>
  )
}

function DoserEdit({ device }: { readonly device: DeviceDocument }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <Button onPress={() => setOpen(true)}>Stock and limits</Button>
      {open && (
        <DoserForm
          vesselId={device.body.vesselId}
          device={device}
          {...(device.body.address === undefined ? {} : { address: device.body.address })}
          onClose={() => setOpen(false)}
        />
      )}
    </>
  )
}

function DoserPanel({ device, view }: { readonly device: DeviceDocument; readonly view: DeviceView }) {
  const { record, active } = useRecord()
  const { revise } = useActions()
  const { nowMs } = useThePlans()
  const notice = useNotice()
  const press = usePress()
  const state = doserState(record, active, device, nowMs)
  const proof = useMemo(() => doserProof(record, active, device, nowMs), [record, active, device, nowMs])
  const { doser } = device.body
  const [mL, setMl] = useState('')
  const [cup, setCup] = useState('')
  const [ran, setRan] = useState<number | null>(null)
  const read = (text: string, label: string) =>
    parseQuantity(text, { dimension: 'dose-volume', fieldUnit: 'mL', label, allowBound: false, max: 1000 })
  const tell = async (path: string, body: unknown, said: string, method = 'POST') => {
    try {
      await askDevices(`/${view.id}${path}`, { method, body })
      notice({ text: said, tone: 'done' })
      return true
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
      return false
    }
  }
  const portion = read(mL, 'The portion')
  const measured = read(cup, 'In the cup')
  const every = doser?.portions === undefined ? null : Math.round(1440 / doser.portions)
  const schedule =
    doser?.mlPerDay === undefined || doser.portions === undefined
      ? null
      : { mL: doser.mlPerDay / doser.portions, everyMinutes: every! }
  // The limits stand in the record; the server is told them before the first drop.
  const limits = async () =>
    view.limits !== null &&
    view.limits.portionMl === doser!.mostPerPortionMl &&
    view.limits.dayMl === doser!.mostPerDayMl
      ? true
      : tell(
          '/limits',
          { portionMl: doser!.mostPerPortionMl, dayMl: doser!.mostPerDayMl },
          'Its limits are told.',
          'PUT',
        )
  return (
    <Stack>
      <Facts>
        <dt>stock</dt>
        <dd>
          {state.salt?.label}, {doser?.gramsPerL} g/L
          {state.risePerMl === null
            ? ''
            : `: 1 mL raises ${state.correction!.analyte} by ${number(state.risePerMl)} ${state.correction!.unit}`}
        </dd>
        <dt>most</dt>
        <dd>
          {state.confirmed
            ? `${doser!.mostPerPortionMl} mL in one portion, ${doser!.mostPerDayMl} mL in a day`
            : 'not confirmed: nothing is poured'}
        </dd>
        <dt>in 24 hours</dt>
        <dd>{number(view.dayMl)} mL told to pour</dd>
        <dt>flow</dt>
        <dd>
          {doser?.mlPerMinute === undefined
            ? 'not calibrated'
            : `${number(doser.mlPerMinute)} mL a minute, ${whenText(Date.parse(doser.calibratedAt!), nowMs, record.settings)}`}
        </dd>
        <dt>seen in the water</dt>
        <dd>
          {proof.words} {proof.working && <WorkingButton working={proof.working} />}
        </dd>
      </Facts>
      <Row>
        <DoserEdit device={device} />
        {state.confirmed && schedule !== null && (
          <Button
            onPress={() =>
              void (async () => {
                if (view.schedule !== null) {
                  if (await tell('/schedule', { mL: null }, `${device.body.name} is paused.`, 'PUT'))
                    await press({
                      kind: 'equipment',
                      vesselId: device.body.vesselId,
                      item: 'doser',
                      deviceId: device.id,
                      on: false,
                    })
                } else if (await limits()) {
                  if (await tell('/schedule', schedule, `${number(schedule.mL)} mL every ${every} minutes.`, 'PUT'))
                    await press({
                      kind: 'equipment',
                      vesselId: device.body.vesselId,
                      item: 'doser',
                      deviceId: device.id,
                      on: true,
                    })
                }
              })()
            }
          >
            {view.schedule !== null
              ? 'Pause its portions'
              : `Let it pour ${number(schedule.mL)} mL every ${every} minutes`}
          </Button>
        )}
      </Row>
      {state.confirmed && (
        <Row $gap={12} style={{ alignItems: 'end' }}>
          <div style={{ width: 140 }}>
            <Field label="One portion" unit="mL" value={mL} onChange={setMl} numeric />
          </div>
          <Button
            isDisabled={!portion.ok || !(portion.ok && portion.value.value > 0)}
            onPress={() =>
              void (async () => {
                if (
                  (await limits()) &&
                  portion.ok &&
                  (await tell(
                    '/orders',
                    { do: 'pour', mL: portion.value.value },
                    `${number(portion.value.value)} mL: told.`,
                  ))
                )
                  setMl('')
              })()
            }
          >
            Pour it now
          </Button>
          {portion.ok && portion.value.value > 0 && state.risePerMl !== null && (
            <Quiet>
              raises {state.correction!.analyte} by {number(portion.value.value * state.risePerMl)}{' '}
              {state.correction!.unit}
            </Quiet>
          )}
        </Row>
      )}
      <details>
        <summary style={{ cursor: 'pointer', minHeight: 44 }}>Calibrate the pump</summary>
        <Stack>
          <p>Its hose into a measuring cup, not into the tank. Thirty seconds, then read the cup.</p>
          <Row $gap={12} style={{ alignItems: 'end' }}>
            <Button
              onPress={() =>
                void tell('/orders', { do: 'run', seconds: 30 }, 'It runs for thirty seconds.').then(
                  (done) => done && setRan(30),
                )
              }
            >
              Run it for 30 s
            </Button>
            {ran !== null && (
              <>
                <div style={{ width: 140 }}>
                  <Field label="In the cup" unit="mL" value={cup} onChange={setCup} numeric />
                </div>
                <Button
                  look="main"
                  isDisabled={!measured.ok || !(measured.ok && measured.value.value > 0)}
                  onPress={() =>
                    void (async () => {
                      if (!measured.ok || !doser) return
                      const mlPerMinute = Number(((60 * measured.value.value) / ran).toPrecision(4))
                      try {
                        await revise(device, {
                          ...device.body,
                          doser: { ...doser, mlPerMinute, calibratedAt: instantOf(Date.now()) },
                        })
                        notice({ text: `${number(mlPerMinute)} mL a minute.`, tone: 'done' })
                        setRan(null)
                        setCup('')
                      } catch (cause) {
                        notice({ text: (cause as Error).message, tone: 'failed' })
                      }
                    })()
                  }
                >
                  That is its flow
                </Button>
              </>
            )}
          </Row>
        </Stack>
      </details>
      {view.reports.length > 0 && (
        <p>
          <Quiet>
            Last told:{' '}
            {view.reports
              .slice(-3)
              .toReversed()
              .map(
                ({ at, mL: told, dry }) =>
                  `${number(told)} mL ${whenText(at, nowMs, record.settings)}${dry ? ', dry' : ''}`,
              )
              .join('; ')}
          </Quiet>
        </p>
      )}
    </Stack>
  )
}

const READABLE = ['alkalinity', 'calcium', 'phosphate', 'nitrate'] as const

function PhotometerPanel({ device, view }: { readonly device: DeviceDocument; readonly view: DeviceView }) {
  const notice = useNotice()
  const press = usePress()
  const [analyte, setAnalyte] = useState<(typeof READABLE)[number]>('alkalinity')
  const [askedAt, setAsked] = useState<number | null>(null)
  const last = view.now['reading']
  const fresh = last !== undefined && askedAt !== null && last.at >= askedAt
  return (
    <Row $gap={12} style={{ alignItems: 'end' }}>
      <div style={{ width: 200 }}>
        <Select
          label="Test"
          value={analyte}
          onChange={(next) => {
            setAnalyte(next as typeof analyte)
            setAsked(null)
          }}
          options={READABLE.map((value) => ({ value, label: ANALYTES[value].word }))}
        />
      </div>
      <Button
        onPress={() => {
          setAsked(Date.now())
          void askDevices(`/${view.id}/orders`, { method: 'POST', body: { do: 'read', analyte } }).catch(
            (cause: Error) => notice({ text: cause.message, tone: 'failed' }),
          )
        }}
      >
        Take the test
      </Button>
      {fresh && (
        <>
          <strong>
            {number(last.value)} {ANALYTES[analyte].unit}
          </strong>
          <Button
            look="main"
            onPress={() =>
              void press({
                kind: 'reading',
                vesselId: device.body.vesselId,
                analyte,
                text: `${last.value} ${ANALYTES[analyte].unit}`,
              }).then(() => setAsked(null))
            }
          >
            Log it
          </Button>
        </>
      )}
    </Row>
  )
}
