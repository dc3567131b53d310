// Describe a vessel: the net volume answers every keystroke, with its doubt and where the doubt comes from.
import { clockMs } from '../../data/clock.ts'
import {
  limitOf,
  checkVolumeInputs,
  dayOf,
  formatQuantity,
  instantMs,
  instantOf,
  netVolume,
  parseQuantity,
  preferredUnit,
  volumeInputWord,
  type Shape,
  type VesselBody,
  type VesselDocument,
  type VolumeInputs,
} from '@brinvo/core'
import { useMemo, useState } from 'react'
import { useForm, Controller, type Control } from 'react-hook-form'
import { useParams, useSearchParams } from 'react-router'
import { styled } from 'styled-components'
import { v7 } from 'uuid'
import { useRecord } from '../../data/queries.tsx'
import { Check, Choice, Field, Select } from '../../design/fields.tsx'
import { Button, Facts, Figure, Page, Quiet, Row, Stack, Tray, Well } from '../../design/primitives.tsx'
import { WorkingButton } from '../../design/Working.tsx'
import { listed, litresText, percentText, preferencesOf } from '../../design/words.ts'
import { NotFound } from '../../shell/NotFound.tsx'
import { Asked } from '../../parts/Refusals.tsx'
import { useAct } from '../../parts/useAct.ts'
import { noonOf } from '../../parts/noonOf.ts'
import { NARROW } from '../../design/theme.ts'
import { useGoOn } from '../../shell/useGoOn.ts'
import { wayBack } from '../../shell/wayBack.ts'
import { DateTimeField } from '../../parts/DateTimeField.tsx'
import { Failure } from '../../parts/Failure.tsx'

const Grid = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 12px 16px;
  align-items: start;
`
const Drawing = styled.svg`
  width: 100%;
  max-height: 190px;
`
const Live = styled.aside`
  position: sticky;
  top: 12px;
  ${NARROW} {
    position: static;
  }
`

type ShapeKind = Shape['kind']
const SHAPES: Readonly<Record<ShapeKind, { label: string; fields: readonly (readonly [string, string])[] }>> = {
  box: {
    label: 'Box',
    fields: [
      ['lengthCm', 'Length'],
      ['widthCm', 'Width'],
      ['heightCm', 'Height'],
    ],
  },
  cylinder: {
    label: 'Round',
    fields: [
      ['diameterCm', 'Diameter'],
      ['heightCm', 'Height'],
    ],
  },
  hexagon: {
    label: 'Hexagon',
    fields: [
      ['sideCm', 'One side'],
      ['heightCm', 'Height'],
    ],
  },
  'bow-front': {
    label: 'Bow front',
    fields: [
      ['lengthCm', 'Length'],
      ['sideDepthCm', 'Depth at the side'],
      ['centreDepthCm', 'Depth at the middle'],
      ['heightCm', 'Height'],
    ],
  },
  'quarter-round': {
    label: 'Quarter round',
    fields: [
      ['radiusCm', 'Radius'],
      ['heightCm', 'Height'],
    ],
  },
  custom: { label: 'Only litres', fields: [] },
}

interface FormValues {
  name: string
  purpose: VesselBody['purpose']
  water: VesselBody['water']
  nominal: string
  shape: ShapeKind
  certainty: 'measured' | 'label' | 'guess'
  lengthCm: string
  widthCm: string
  heightCm: string
  diameterCm: string
  sideCm: string
  sideDepthCm: string
  centreDepthCm: string
  radiusCm: string
  litres: string
  glass: string
  gap: string
  substrate: string
  substrateKind: 'none' | 'sand' | 'gravel'
  rockKg: string
  rockKind: 'none' | 'dense' | 'porous'
  equipment: string
  sump: string
  plumbing: string
  evaporation: string
  /** Day since which it runs. */
  since: string
}
const EMPTY: FormValues = {
  name: '',
  purpose: 'quarantine',
  water: 'marine',
  nominal: '',
  shape: 'box',
  certainty: 'measured',
  lengthCm: '',
  widthCm: '',
  heightCm: '',
  diameterCm: '',
  sideCm: '',
  sideDepthCm: '',
  centreDepthCm: '',
  radiusCm: '',
  litres: '',
  glass: '5',
  gap: '3',
  substrate: '',
  substrateKind: 'none',
  rockKg: '',
  rockKind: 'none',
  equipment: '0',
  sump: '0',
  plumbing: '0',
  evaporation: '0',
  since: '',
}
const LENGTHS = [
  'lengthCm',
  'widthCm',
  'heightCm',
  'diameterCm',
  'sideCm',
  'sideDepthCm',
  'centreDepthCm',
  'radiusCm',
] as const
const CERTAINTY = {
  measured: limitOf('tape-measured'),
  label: limitOf('tape-label'),
  guess: limitOf('tape-guess'),
} as const

interface Read {
  inputs: VolumeInputs | null
  nominalL: number | null
  evaporation: number
  errors: Partial<Record<keyof FormValues, string>>
  /** What is not typed yet and is needed, by its label. */
  missing: readonly string[]
}

/** Everything typed, read into the core's inputs, with a sentence per field that cannot be read. */
function readForm(form: FormValues, units: { length: string; volume: string }): Read {
  const errors: Read['errors'] = {}
  const missing: string[] = []
  const number = (
    key: keyof FormValues,
    dimension: 'length' | 'volume' | 'mass',
    fieldUnit: string,
    label: string,
    required = false,
  ): number => {
    const text = String(form[key])
    if (text.trim() === '' && !required) return 0
    const parsed = parseQuantity(text, { dimension, fieldUnit, label, allowBound: false })
    if (parsed.ok) return dimension === 'mass' ? parsed.value.value / 1e6 : parsed.value.value
    if (text.trim() !== '' || required) errors[key] = parsed.error.message
    return NaN
  }
  const wanted = SHAPES[form.shape].fields
  const dimensions = Object.fromEntries(
    wanted.map(([key, label]) => [
      key,
      form[key as keyof FormValues] === ''
        ? (missing.push(label.toLowerCase()), NaN)
        : number(key as keyof FormValues, 'length', units.length, label, true),
    ]),
  )
  const litres =
    form.shape === 'custom' ? (form.litres === '' ? NaN : number('litres', 'volume', units.volume, 'Litres', true)) : 0
  const glass = number('glass', 'length', 'mm', 'Glass')
  const gap = number('gap', 'length', units.length, 'The gap')
  /** What was said to be there and is not measured takes no room only in a sum that is wrong. */
  const present = (key: 'substrate' | 'rockKg', dimension: 'length' | 'mass', fieldUnit: string, label: string) => {
    if (form[key].trim() === '') {
      missing.push(label)
      return NaN
    }
    const value = number(key, dimension, fieldUnit, label, true)
    if (value === 0) {
      errors[key] =
        key === 'substrate' ? 'Not 0: measure it, or choose Bare.' : 'Not 0: weigh or guess it, or choose None.'
      return NaN
    }
    return value
  }
  const substrate =
    form.substrateKind === 'none'
      ? 0
      : present('substrate', 'length', units.length, `depth of the ${form.substrateKind}`)
  const rock = form.rockKind === 'none' ? 0 : present('rockKg', 'mass', 'kg', 'weight of the rock')
  const equipment = number('equipment', 'volume', units.volume, 'Equipment')
  const sump = number('sump', 'volume', units.volume, 'Sump water')
  const plumbing = number('plumbing', 'volume', units.volume, 'Plumbing')
  const evaporation = number('evaporation', 'volume', units.volume, 'Evaporation')
  const nominal = form.nominal.trim() === '' ? null : number('nominal', 'volume', units.volume, 'The shop size', true)
  const complete = Object.values(dimensions).every(isFinite) && isFinite(litres)
  const readable = [glass, gap, substrate, rock, equipment, sump, plumbing].every(isFinite)
  const sd = (value: number, share: number) => ({ value, sd: value * share })
  return {
    errors,
    missing,
    evaporation: isFinite(evaporation) ? evaporation : 0,
    nominalL: nominal !== null && isFinite(nominal) ? nominal : null,
    inputs:
      complete && readable
        ? {
            shape: (form.shape === 'custom'
              ? { kind: 'custom', litres }
              : { kind: form.shape, ...dimensions }) as Shape,
            glassCm: { value: glass, sd: limitOf('glass-spread') },
            bottomGlassCm: { value: glass, sd: limitOf('bottom-glass-spread') },
            fillGapCm: { value: gap, sd: limitOf('gap-spread') },
            substrateDepthCm: sd(substrate, limitOf('substrate-spread')),
            substratePorosity: {
              value: limitOf(form.substrateKind === 'gravel' ? 'porosity-gravel' : 'porosity-sand'),
              sd: limitOf('porosity-spread'),
            },
            rockMassKg: sd(
              rock,
              limitOf(form.certainty === 'measured' ? 'rock-mass-spread-measured' : 'rock-mass-spread'),
            ),
            rockDensityKgPerL: {
              value: limitOf(form.rockKind === 'dense' ? 'rock-density-dense' : 'rock-density-porous'),
              sd: limitOf('rock-density-spread'),
            },
            rockPorosity: {
              value: limitOf(form.rockKind === 'dense' ? 'rock-open-dense' : 'rock-open-porous'),
              sd: limitOf('rock-open-spread'),
            },
            equipmentL: sd(equipment, limitOf('equipment-spread')),
            sumpL: sd(sump, limitOf('sump-spread')),
            plumbingL: sd(plumbing, limitOf('plumbing-spread')),
            dimensionSdCm: CERTAINTY[form.certainty],
          }
        : null,
  }
}

function formOf(
  vessel: VesselDocument,
  toUnit: (cm: number) => string,
  toVolume: (litres: number) => string,
  since: string,
): FormValues {
  const { volume } = vessel.body
  const values: FormValues = {
    ...EMPTY,
    since,
    name: vessel.body.name,
    purpose: vessel.body.purpose,
    water: vessel.body.water,
    nominal: toVolume(vessel.body.nominalL),
    shape: volume.shape.kind,
    certainty:
      volume.dimensionSdCm <= CERTAINTY.measured
        ? 'measured'
        : volume.dimensionSdCm <= CERTAINTY.label
          ? 'label'
          : 'guess',
    glass: String(Number((volume.glassCm.value * 10).toPrecision(4))),
    gap: toUnit(volume.fillGapCm.value),
    substrate: toUnit(volume.substrateDepthCm.value),
    substrateKind:
      volume.substrateDepthCm.value === 0 ? 'none' : volume.substratePorosity.value <= 0.405 ? 'gravel' : 'sand',
    rockKg: String(volume.rockMassKg.value),
    rockKind: volume.rockMassKg.value === 0 ? 'none' : volume.rockDensityKgPerL.value >= 2 ? 'dense' : 'porous',
    equipment: toVolume(volume.equipmentL.value),
    sump: toVolume(volume.sumpL.value),
    plumbing: toVolume(volume.plumbingL.value),
    evaporation: toVolume(vessel.body.evaporationLPerDay ?? 0),
  }
  if (volume.shape.kind === 'custom') values.litres = toVolume(volume.shape.litres)
  else
    for (const key of LENGTHS)
      if (key in volume.shape) values[key] = toUnit((volume.shape as unknown as Record<string, number>)[key]!)
  return values
}

export const NewVesselPage = () => <VesselForm vessel={null} />
export function EditVesselPage() {
  const { id = '' } = useParams()
  const { record } = useRecord()
  const vessel = record.vessels.get(id)
  return vessel ? <VesselForm key={id} vessel={vessel} /> : <NotFound />
}

/** Where a new vessel leads: to what brought its keeper here, else to itself. */
const afterwards = (then: string | null, vesselId: string): string =>
  wayBack(then) === null ? `/vessels/${vesselId}` : `${then}${then!.includes('?') ? '&' : '?'}vessel=${vesselId}`

/** What ails a tank is mostly looked for in the display; what comes or is treated goes into quarantine. */
const purposeFor = (then: string | null): FormValues['purpose'] =>
  then?.startsWith('/findings') === true ? 'display' : EMPTY.purpose

function VesselForm({ vessel }: { vessel: VesselDocument | null }) {
  const { record } = useRecord()
  const goOn = useGoOn()
  const [params] = useSearchParams()
  const preferences = preferencesOf(record.settings)
  const units = { length: preferredUnit('length', preferences), volume: preferredUnit('volume', preferences) }
  const plain = (value: number, dimension: 'length' | 'volume') =>
    String(Number(formatQuantity(value, dimension, { ...preferences, locale: 'en-GB' }, 2).number))
  const today = dayOf(clockMs(), record.settings.zone)
  const { control, watch } = useForm<FormValues>({
    defaultValues: vessel
      ? formOf(
          vessel,
          (cm) => plain(cm, 'length'),
          (litres) => plain(litres, 'volume'),
          dayOf(instantMs(vessel.body.startedAt), record.settings.zone),
        )
      : { ...EMPTY, since: today, purpose: purposeFor(params.get('then')) },
  })
  const form = watch()
  const read = useMemo(() => readForm(form, units), [form, units.length, units.volume]) // eslint-disable-line react-hooks/exhaustive-deps -- units are two strings
  const result = read.inputs ? netVolume(read.inputs) : null
  const volume = result?.ok ? result.value : null
  const problems =
    read.inputs && result && !result.ok ? result.error : read.inputs ? checkVolumeInputs(read.inputs) : []
  const [confirmed, setConfirmed] = useState(vessel?.body.volumeConfirmedAt !== undefined)
  const problemFor = (field: string) => problems.find((problem) => problem.field === field)?.message

  const [newId] = useState(() => v7())
  const startedAt = form.since === '' ? NaN : noonOf(form.since, record.settings.zone)
  const bad = Object.values(read.errors)[0]
  const asking = useAct(
    bad !== undefined
      ? bad
      : !read.inputs || !volume
        ? (problems[0]?.message ??
          (read.missing.length > 0 ? `Still missing: ${listed(read.missing)}.` : 'The measures are not complete yet.'))
        : {
            kind: 'vessel',
            ...(vessel ? { vesselId: vessel.id } : {}),
            newId,
            shopL: read.nominalL,
            confirmed,
            body: {
              name: form.name,
              purpose: form.purpose,
              water: form.water,
              volume: read.inputs as VesselBody['volume'],
              bindingMedia: form.rockKind !== 'none' ? 'rock' : form.substrateKind !== 'none' ? 'sand' : 'none',
              evaporationLPerDay: read.evaporation,
              // The very instant it was registered with stays where the day was not touched.
              startedAt:
                vessel && form.since === dayOf(instantMs(vessel.body.startedAt), record.settings.zone)
                  ? vessel.body.startedAt
                  : Number.isFinite(startedAt)
                    ? instantOf(startedAt)
                    : '',
            },
          },
  )
  const [tried, setTried] = useState(false)
  const failure = tried ? asking.answer.problem : null
  const save = async () => {
    setTried(true)
    if (asking.may && (await asking.commit()))
      goOn(vessel ? (wayBack(params.get('then')) ?? `/vessels/${vessel.id}`) : afterwards(params.get('then'), newId))
  }

  return (
    <Page $aside>
      <Stack $gap={16}>
        <h1>{vessel ? `Edit ${vessel.body.name}` : 'Describe a vessel'}</h1>
        <Tray>
          <Stack>
            <Grid>
              <Text control={control} name="name" label="Name" />
              <Controller
                control={control}
                name="purpose"
                render={({ field }) => (
                  <Select
                    label="Used as"
                    value={field.value}
                    onChange={field.onChange}
                    options={[
                      ['quarantine', 'Quarantine'],
                      ['display', 'Display'],
                      ['observation', 'Observation'],
                      ['hospital', 'Hospital'],
                      ['bath', 'Bath'],
                      ['transfer', 'Transfer tub'],
                      ['intake', 'Coral intake'],
                      ['mixing', 'Mixing bin'],
                    ].map(([value, label]) => ({ value: value!, label: label! }))}
                  />
                )}
              />
              <Controller
                control={control}
                name="water"
                render={({ field }) => (
                  <Select
                    label="Water"
                    value={field.value}
                    onChange={field.onChange}
                    options={[
                      { value: 'marine', label: 'Marine' },
                      { value: 'fresh', label: 'Fresh water' },
                    ]}
                  />
                )}
              />
              <NumberField
                control={control}
                name="nominal"
                label="Shop size"
                unit={units.volume}
                error={read.errors.nominal}
                hint="Only compared with; never dosed by."
              />
              <Controller
                control={control}
                name="since"
                render={({ field }) => (
                  <DateTimeField
                    label="Running since"
                    day
                    value={field.value}
                    max={today}
                    onChange={field.onChange}
                    hint="The age of its water and rock counts from here."
                  />
                )}
              />
            </Grid>
          </Stack>
        </Tray>
        <Tray>
          <Stack>
            <Controller
              control={control}
              name="shape"
              render={({ field }) => (
                <Choice
                  label="Shape"
                  value={field.value}
                  onChange={field.onChange}
                  options={(Object.keys(SHAPES) as ShapeKind[]).map((value) => ({ value, label: SHAPES[value].label }))}
                />
              )}
            />
            <Grid>
              {SHAPES[form.shape].fields.map(([key, label]) => (
                <NumberField
                  key={key}
                  control={control}
                  name={key as keyof FormValues}
                  label={label}
                  unit={units.length}
                  error={read.errors[key as keyof FormValues] ?? problemFor(key)}
                />
              ))}
              {form.shape === 'custom' && (
                <NumberField
                  control={control}
                  name="litres"
                  label="Water in it"
                  unit={units.volume}
                  error={read.errors.litres ?? problemFor('litres')}
                  hint="Known to about 10 %."
                />
              )}
              {form.shape !== 'custom' && (
                <>
                  <NumberField
                    control={control}
                    name="glass"
                    label="Glass"
                    unit="mm"
                    error={read.errors.glass ?? problemFor('glassCm')}
                  />
                  <NumberField
                    control={control}
                    name="gap"
                    label="Rim to water"
                    unit={units.length}
                    error={read.errors.gap ?? problemFor('fillGapCm')}
                  />
                </>
              )}
            </Grid>
            <Controller
              control={control}
              name="certainty"
              render={({ field }) => (
                <Choice
                  label="How do you know these? (outside measures, glass included)"
                  value={field.value}
                  onChange={field.onChange}
                  options={[
                    { value: 'measured', label: 'Measured', note: '± 3 mm' },
                    { value: 'label', label: 'From the maker', note: '± 6 mm' },
                    { value: 'guess', label: 'By eye', note: '± 2 cm' },
                  ]}
                />
              )}
            />
          </Stack>
        </Tray>
        <Tray>
          <Stack>
            <h2 data-small="">What takes room, and what adds water</h2>
            <Grid>
              <Controller
                control={control}
                name="substrateKind"
                render={({ field }) => (
                  <Select
                    label="Substrate"
                    value={field.value}
                    onChange={field.onChange}
                    options={[
                      { value: 'none', label: 'Bare' },
                      { value: 'sand', label: 'Sand' },
                      { value: 'gravel', label: 'Gravel' },
                    ]}
                  />
                )}
              />
              {form.substrateKind !== 'none' && (
                <NumberField
                  control={control}
                  name="substrate"
                  label="Its depth"
                  unit={units.length}
                  error={read.errors.substrate ?? problemFor('substrateDepthCm')}
                />
              )}
              <Controller
                control={control}
                name="rockKind"
                render={({ field }) => (
                  <Select
                    label="Rock"
                    value={field.value}
                    onChange={field.onChange}
                    options={[
                      { value: 'none', label: 'None' },
                      { value: 'dense', label: 'Dense' },
                      { value: 'porous', label: 'Very porous' },
                    ]}
                  />
                )}
              />
              {form.rockKind !== 'none' && (
                <NumberField
                  control={control}
                  name="rockKg"
                  label="Its mass"
                  unit="kg"
                  error={read.errors.rockKg ?? problemFor('rockMassKg')}
                />
              )}
              <NumberField
                control={control}
                name="equipment"
                label="Equipment, hides"
                unit={units.volume}
                error={read.errors.equipment}
              />
              <NumberField
                control={control}
                name="sump"
                label="Sump water"
                unit={units.volume}
                error={read.errors.sump}
              />
              <NumberField
                control={control}
                name="plumbing"
                label="Pipes"
                unit={units.volume}
                error={read.errors.plumbing}
              />
              <NumberField
                control={control}
                name="evaporation"
                label="Evaporates a day"
                unit={units.volume}
                error={read.errors.evaporation}
                hint="0 where it is topped up at once."
              />
            </Grid>
          </Stack>
        </Tray>
      </Stack>
      <Live aria-label="Net volume">
        <Tray>
          <Stack>
            <Drawing viewBox="0 0 260 150" aria-hidden>
              <rect
                x="20"
                y={volume ? 20 + 112 * (1 - Math.min(1, volume.waterColumnL / Math.max(1, volume.rimFullL))) + 4 : 130}
                width="220"
                height={volume ? 112 * Math.min(1, volume.waterColumnL / Math.max(1, volume.rimFullL)) - 4 : 2}
                fill="var(--water)"
              />
              {volume && volume.rockL > 0 && <path d="M70 132l26-46 22 14 20-26 34 58z" fill="var(--hairline)" />}
              {form.substrateKind !== 'none' && (
                <rect x="20" y="122" width="220" height="10" fill="var(--iodine)" opacity="0.35" />
              )}
              <path d="M20 16V132H240V16" fill="none" stroke="var(--rim)" strokeWidth="3" />
            </Drawing>
            {volume ? (
              <>
                <div aria-live="polite">
                  <Figure
                    label="Net water"
                    value={formatQuantity(volume.litres, 'volume', preferences, volume.litres < 20 ? 1 : 0).number}
                    unit={units.volume}
                    size={64}
                  />
                  <p>
                    ± {litresText(volume.sdLitres, record.settings)}{' '}
                    <Quiet>
                      {read.nominalL !== null && `· ${percentText(volume.litres / read.nominalL)} of the shop size`}
                    </Quiet>
                  </p>
                </div>
                <Facts>
                  {volume.doubt.slice(0, 3).map(({ input, share }) => (
                    <div key={input} style={{ display: 'contents' }}>
                      <dt>doubt from {volumeInputWord(input)}</dt>
                      <dd>{percentText(share)}</dd>
                    </div>
                  ))}
                </Facts>
                <WorkingButton working={volume.working} />
                <Check isSelected={confirmed} onChange={setConfirmed}>
                  I have looked at it: doses may use this volume.
                </Check>
              </>
            ) : (
              <Well>{problems[0]?.message ?? 'Type the measures; the volume appears here as you go.'}</Well>
            )}
            {asking.answer.problem === null && <Asked asking={asking} />}
            <Failure words={failure} />
            <Row>
              <Button look="main" isDisabled={asking.busy || asking.held} onPress={() => void save()}>
                {vessel ? 'Save' : 'Put it on the shelf'}
              </Button>
              <Button look="bare" onPress={() => goOn(-1)}>
                Leave
              </Button>
            </Row>
          </Stack>
        </Tray>
      </Live>
    </Page>
  )
}

const Text = ({ control, name, label }: { control: Control<FormValues>; name: keyof FormValues; label: string }) => (
  <Controller
    control={control}
    name={name}
    render={({ field }) => <Field label={label} value={field.value} onChange={field.onChange} />}
  />
)
const NumberField = ({
  control,
  name,
  label,
  unit,
  error,
  hint,
}: {
  control: Control<FormValues>
  name: keyof FormValues
  label: string
  unit: string
  error?: string
  hint?: string
}) => (
  <Controller
    control={control}
    name={name}
    render={({ field }) => (
      <Field
        label={label}
        unit={unit}
        value={field.value}
        onChange={field.onChange}
        numeric
        error={error}
        hint={hint}
      />
    )}
  />
)
