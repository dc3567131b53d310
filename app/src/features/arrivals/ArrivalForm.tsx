// A delivery announced or changed: when it was packed, what is in each bag, where each is to go.
import { clockMs } from '../../data/clock.ts'
import {
  typedNumber,
  checkArrival,
  groupOf,
  groups,
  instantMs,
  instantOf,
  kindOf,
  parseQuantity,
  preferredUnit,
  species,
  type ArrivalBody,
  type ArrivalDocument,
  type Container,
} from '@brinvo/core'
import { useState } from 'react'
import { useParams } from 'react-router'
import { v7 } from 'uuid'
import { useActions, useRecord } from '../../data/queries.tsx'
import { shelvedVessels } from '../../data/shelf.ts'
import { Check, Field, Select } from '../../design/fields.tsx'
import { Button, LinkButton, Page, Quiet, Row, Stack, Tray } from '../../design/primitives.tsx'
import { dayText, localInput, localMs, preferencesOf } from '../../design/words.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { DateTimeField } from '../../parts/DateTimeField.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'
import { useUnits } from '../../parts/useUnits.ts'

interface Draft {
  readonly id: string
  readonly label: string
  readonly speciesId: string
  readonly group: string
  readonly commonName: string
  readonly count: string
  readonly vesselId: string
  readonly orderedAs: string
  readonly massG: string
  readonly tubL: string
  readonly sourcePar: string
  readonly packed: string
}

export function NewArrivalPage() {
  return <ArrivalForm arrival={null} />
}
export function EditArrivalPage() {
  const { id = '' } = useParams()
  const { record } = useRecord()
  const arrival = record.arrivals.get(id)
  return arrival ? <ArrivalForm arrival={arrival} /> : <NotFound />
}

const instantFrom = (text: string, zone: string): string | undefined =>
  text === '' ? undefined : instantOf(localMs(text, zone))

function ArrivalForm({ arrival }: { arrival: ArrivalDocument | null }) {
  const units = useUnits()
  const { record } = useRecord()
  const { nowMs } = useThePlans()
  const { create, revise } = useActions()
  const notice = useNotice()
  const goOn = useGoOn()
  const { settings } = record
  const { zone } = settings
  const vessels = shelvedVessels(record)
  const quarantine = vessels.find(({ body }) => body.purpose === 'observation' || body.purpose === 'quarantine')
  const blank = (number: number): Draft => ({
    id: v7(),
    label: `Bag ${number}`,
    speciesId: '',
    group: 'hg-fish-unknown',
    commonName: '',
    count: '1',
    vesselId: quarantine?.id ?? vessels[0]?.id ?? '',
    orderedAs: '',
    massG: '',
    tubL: '',
    sourcePar: '',
    packed: '',
  })
  const before = arrival?.body
  const [name, setName] = useState(before?.name ?? '')
  const [source, setSource] = useState(before?.source ?? '')
  const [packed, setPacked] = useState(before?.packedAt ? localInput(instantMs(before.packedAt), zone) : '')
  const [received, setReceived] = useState(before?.receivedAt ? localInput(instantMs(before.receivedAt), zone) : '')
  const [expectedOn, setExpectedOn] = useState(before?.expectedOn ?? '')
  const temperatureUnit = preferredUnit('temperature', preferencesOf(settings))
  const [room, setRoom] = useState(before?.roomTempC === undefined ? '' : units.text('temperature', before.roomTempC))
  const [dripLine, setDripLine] = useState(before?.dripLine ?? false)
  const [binder, setBinder] = useState(before?.binder ?? false)
  const [containers, setContainers] = useState<readonly Draft[]>(
    before?.containers.map((container) => ({
      id: container.id,
      label: container.label,
      speciesId: species.find(({ common }) => common === container.commonName)?.id ?? '',
      group: container.group,
      commonName: container.commonName ?? '',
      count: String(container.count),
      vesselId: container.vesselId,
      orderedAs: container.orderedAs ?? '',
      massG: container.massG === undefined ? '' : String(container.massG),
      tubL: container.tubL === undefined ? '' : String(container.tubL),
      sourcePar: container.sourcePar === undefined ? '' : String(container.sourcePar),
      packed: container.packedAt === undefined ? '' : localInput(instantMs(container.packedAt), zone),
    })) ?? [blank(1)],
  )
  const [problems, setProblems] = useState<readonly string[]>([])
  const bagsClosed = instantFrom(received || packed, zone)
  const usualName = `Box of ${dayText(bagsClosed === undefined ? nowMs : instantMs(bagsClosed), settings)}`
  const change = (id: string, part: Partial<Draft>) =>
    setContainers((all) => all.map((one) => (one.id === id ? { ...one, ...part } : one)))

  const save = async () => {
    const found: string[] = []
    if (containers.length === 0) found.push('A delivery needs at least one bag.')
    let roomTempC: number | undefined
    if (room.trim() !== '') {
      const parsed = parseQuantity(room, {
        dimension: 'temperature',
        fieldUnit: temperatureUnit,
        label: 'Room',
        min: 5,
        max: 40,
      })
      if (parsed.ok) roomTempC = parsed.value.value
      else found.push(parsed.error.message)
    }
    const number = (text: string, what: string, low: number, high: number): number | undefined => {
      if (text.trim() === '') return undefined
      const value = typedNumber(text)
      if (Number.isFinite(value) && value > low && value <= high) return value
      found.push(`${what}: "${text}" is not a number above ${low}${high < 1e5 ? ` and at most ${high}` : ''}.`)
      return undefined
    }
    const list = containers.map((draft): Container => {
      const known = species.find(({ id }) => id === draft.speciesId)
      const count = typedNumber(draft.count)
      if (!Number.isInteger(count) || count < 1) found.push(`${draft.label}: how many? A whole number, at least 1.`)
      const massG = number(draft.massG, `${draft.label}, mass in g`, 0, 1e5)
      const tubL = number(draft.tubL, `${draft.label}, tub in L`, 0, 1000)
      const sourcePar = number(draft.sourcePar, `${draft.label}, light`, 0, 3000)
      const group = known?.group ?? draft.group
      const vessel = record.vessels.get(draft.vesselId)
      const lives = groupOf(group)?.water
      if (!vessel) found.push(`${draft.label}: choose the vessel it goes to.`)
      else if (lives !== 'both' && lives !== vessel.body.water)
        found.push(
          `${draft.label}: ${groupOf(group)?.label} live in ${lives === 'marine' ? 'sea' : 'fresh'} water, ${vessel.body.name} is ${vessel.body.water}.`,
        )
      return {
        id: draft.id,
        label: draft.label.trim() || 'Bag',
        group,
        count: Math.max(1, Math.round(count) || 1),
        vesselId: draft.vesselId,
        ...(known
          ? { commonName: known.common, scientificName: known.scientific }
          : draft.commonName.trim() === ''
            ? {}
            : { commonName: draft.commonName.trim() }),
        ...(draft.orderedAs.trim() === '' ? {} : { orderedAs: draft.orderedAs.trim() }),
        ...(massG === undefined ? {} : { massG }),
        ...(tubL === undefined ? {} : { tubL }),
        ...(sourcePar === undefined ? {} : { sourcePar }),
        ...(draft.packed === '' ? {} : { packedAt: instantFrom(draft.packed, zone) }),
      }
    })
    const packedAt = instantFrom(packed, zone)
    const receivedAt = instantFrom(received, zone)
    const body: ArrivalBody = {
      name: name.trim() || usualName,
      containers: list,
      dripLine,
      binder,
      ...(source.trim() === '' ? {} : { source: source.trim() }),
      ...(expectedOn === '' ? {} : { expectedOn }),
      ...(packedAt === undefined ? {} : { packedAt }),
      ...(receivedAt === undefined ? {} : { receivedAt }),
      ...(roomTempC === undefined ? {} : { roomTempC }),
    }
    found.push(
      ...checkArrival({ body }, nowMs)
        .filter(({ level }) => level === 'forbid')
        .map(({ message }) => message),
    )
    setProblems(found)
    if (found.length > 0) return
    try {
      const saved = arrival ? await revise(arrival, body) : await create('arrival', body)
      notice({
        text: `${body.name}: ${list.length === 1 ? 'one container' : `${list.length} containers`} noted.`,
        tone: 'done',
      })
      goOn(`/arrivals/${saved.id}`)
    } catch (cause) {
      notice({ text: (cause as Error).message, tone: 'failed' })
    }
  }

  if (vessels.length === 0) {
    return (
      <Page>
        <Tray>
          <Stack>
            <h1>A delivery needs a vessel to go to</h1>
            <Row>
              <LinkButton to="/vessels/new" $look="main">
                Describe a vessel
              </LinkButton>
            </Row>
          </Stack>
        </Tray>
      </Page>
    )
  }
  return (
    <Page>
      <Stack $gap={16}>
        <h1>{arrival ? `Change ${arrival.body.name}` : 'Announce a delivery'}</h1>
        <Tray>
          <Stack>
            <Row $gap={14} style={{ alignItems: 'flex-start' }}>
              <div style={{ flex: '1 1 220px' }}>
                <Field label="Name" value={name} onChange={setName} placeholder={usualName} autoFocus={!arrival} />
              </div>
              <div style={{ flex: '1 1 220px' }}>
                <Field label="From" value={source} onChange={setSource} hint="Breeder, dealer, a friend. Optional." />
              </div>
              <div style={{ flex: '1 1 160px' }}>
                <Field
                  label="Room"
                  unit={temperatureUnit}
                  value={room}
                  onChange={setRoom}
                  hint={`The open tub cools towards it. ${units.text('temperature', 21)} is taken.`}
                  numeric
                />
              </div>
            </Row>
            <Row $gap={14} style={{ alignItems: 'flex-start' }}>
              <DateTimeField
                label="Bags closed (packed)"
                value={packed}
                onChange={setPacked}
                hint="Hours in the bag decide more than anything else."
              />
              <DateTimeField
                label="Received"
                value={received}
                onChange={setReceived}
                now={() => localInput(clockMs(), zone)}
              />
              <DateTimeField label="Expected on" day value={expectedOn} onChange={setExpectedOn} />
            </Row>
            <Row $gap={20}>
              <Check isSelected={dripLine} onChange={setDripLine}>
                A drip line is at hand
              </Check>
              <Check isSelected={binder} onChange={setBinder}>
                An ammonia binder is at hand
              </Check>
            </Row>
          </Stack>
        </Tray>
        {containers.map((draft, i) => {
          const vessel = record.vessels.get(draft.vesselId)
          const water = vessel?.body.water ?? 'marine'
          const fits = (place: 'marine' | 'fresh' | 'both' | undefined, home: string = water) =>
            place === 'both' || place === home
          const group = species.find(({ id }) => id === draft.speciesId)?.group ?? draft.group
          const kind = kindOf(group, water)
          return (
            <Tray key={draft.id} aria-label={draft.label}>
              <Stack>
                <Row $between>
                  <h2>{draft.label || `Bag ${i + 1}`}</h2>
                  {containers.length > 1 && (
                    <Button look="bare" onPress={() => setContainers((all) => all.filter(({ id }) => id !== draft.id))}>
                      Take out
                    </Button>
                  )}
                </Row>
                <Row $gap={14} style={{ alignItems: 'flex-start' }}>
                  <div style={{ flex: '1 1 120px' }}>
                    <Field label="Label on it" value={draft.label} onChange={(label) => change(draft.id, { label })} />
                  </div>
                  <div style={{ flex: '1 1 150px' }}>
                    <Select
                      label="Goes to"
                      value={draft.vesselId}
                      onChange={(vesselId) =>
                        // The kind that was chosen stays, unless it cannot live there.
                        change(draft.id, {
                          vesselId,
                          ...(fits(groupOf(group)?.water, record.vessels.get(vesselId)?.body.water)
                            ? {}
                            : { speciesId: '' }),
                        })
                      }
                      options={vessels.map(({ id, body }) => ({ value: id, label: body.name }))}
                    />
                  </div>
                  <div style={{ flex: '2 1 240px' }}>
                    <Select
                      label="Kind"
                      value={draft.speciesId}
                      onChange={(speciesId) => change(draft.id, { speciesId })}
                      options={[
                        { value: '', label: 'Another kind (choose its group)' },
                        ...species
                          .filter((one) => fits(groupOf(one.group)?.water))
                          .map(({ id, common, scientific }) => ({ value: id, label: `${common} (${scientific})` })),
                      ]}
                    />
                  </div>
                  <div style={{ flex: '0 1 90px' }}>
                    <Field
                      label="How many"
                      value={draft.count}
                      onChange={(count) => change(draft.id, { count })}
                      numeric
                    />
                  </div>
                </Row>
                {draft.speciesId === '' && (
                  <Row $gap={14} style={{ alignItems: 'flex-start' }}>
                    <div style={{ flex: '1 1 200px' }}>
                      <Select
                        label="Group"
                        value={draft.group}
                        onChange={(next) => change(draft.id, { group: next })}
                        options={groups.filter((one) => fits(one.water)).map(({ id, label }) => ({ value: id, label }))}
                        hint="Decides the limits. An unknown kind counts as the most sensitive."
                      />
                    </div>
                    <div style={{ flex: '1 1 200px' }}>
                      <Field
                        label="What it is called"
                        value={draft.commonName}
                        onChange={(commonName) => change(draft.id, { commonName })}
                      />
                    </div>
                  </Row>
                )}
                <Row $gap={14} style={{ alignItems: 'flex-start' }}>
                  <div style={{ flex: '1 1 160px' }}>
                    <Field
                      label="Ordered as"
                      value={draft.orderedAs}
                      onChange={(orderedAs) => change(draft.id, { orderedAs })}
                      hint="To hold the label against the order."
                    />
                  </div>
                  <div style={{ flex: '1 1 140px' }}>
                    <Field
                      label="Animals together"
                      unit="g"
                      value={draft.massG}
                      onChange={(massG) => change(draft.id, { massG })}
                      hint={`Optional; ${kind.typicalMassG.low}–${kind.typicalMassG.high} g each is taken.`}
                      numeric
                    />
                  </div>
                  <div style={{ flex: '1 1 120px' }}>
                    <Field
                      label="Tub"
                      unit={units.unit('volume')}
                      value={draft.tubL}
                      onChange={(tubL) => change(draft.id, { tubL })}
                      hint="Four times the bag is taken."
                      numeric
                    />
                  </div>
                  {kind.light !== 'none' && (
                    <div style={{ flex: '1 1 140px' }}>
                      <Field
                        label="Light it came from"
                        unit="µmol/m²/s"
                        value={draft.sourcePar}
                        onChange={(sourcePar) => change(draft.id, { sourcePar })}
                        hint="Ask the seller. Unknown: it starts lower."
                        numeric
                      />
                    </div>
                  )}
                </Row>
                <DateTimeField
                  label="Closed at a time of its own"
                  value={draft.packed}
                  onChange={(packed) => change(draft.id, { packed })}
                  hint="Only where this bag travelled longer or shorter than the rest."
                />
                <Quiet>{kind.note}</Quiet>
              </Stack>
            </Tray>
          )
        })}
        <Row>
          <Button onPress={() => setContainers((all) => [...all, blank(all.length + 1)])}>Another bag</Button>
        </Row>
        {problems.length > 0 && (
          <Tray $tone="danger" role="alert">
            <ul>
              {problems.map((problem) => (
                <li key={problem}>{problem}</li>
              ))}
            </ul>
          </Tray>
        )}
        <Row>
          <Button look="main" onPress={() => void save()}>
            {arrival ? 'Save' : 'Note the delivery'}
          </Button>
          <LinkButton to={arrival ? `/arrivals/${arrival.id}` : '/arrivals'} $look="bare">
            Leave it
          </LinkButton>
        </Row>
      </Stack>
    </Page>
  )
}
