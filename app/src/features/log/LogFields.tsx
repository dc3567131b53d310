// The fields of the log, one piece for each kind of entry.
import {
  ANALYTES,
  activeContent,
  agentForm,
  fromCanonical,
  handlingHazards,
  instantMs,
  formInWater,
  usesOf,
  type ActAnswer,
  type Analyte,
} from '@brinvo/core'
import { useMemo, type ReactNode } from 'react'
import { useRecord } from '../../data/queries.tsx'
import { Choice, Field, Select } from '../../design/fields.tsx'
import { Quiet, Row, Stack, Well } from '../../design/primitives.tsx'
import { levelText, whenText } from '../../design/words.ts'
import { EQUIPMENT } from '../../parts/entryWords.ts'
import { HazardCard, HazardLine } from '../../parts/HazardCard.tsx'
import { LevelWell } from '../../parts/LevelWell.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import type { LEAVES } from './useLogForm.ts'
import { type Item, type LogForm } from './useLogForm.ts'

const SIGNS: readonly (readonly [string, string])[] = [
  ['flashing', 'Scratching on objects'],
  ['spots-salt-grain', 'White spots like salt'],
  ['dust-fine', 'Fine dust'],
  ['breath-fast', 'Fast breathing'],
  ['appetite-none', 'Refuses food'],
  ['hides-more', 'Hides more'],
  ['intolerance-refuses-food', 'Since the dose: refuses food'],
  ['intolerance-darkens', 'Since the dose: darkens'],
  ['intolerance-gill-beats', 'Since the dose: gill beats above 1.5 times'],
  ['intolerance-tilts', 'Since the dose: tilts'],
]
/** Bound ammonia is still told by a drop test for two days, so the record has to know of a binder. */
const ITEMS: readonly Item[] = [
  'carbon',
  'resin',
  'uv',
  'ozone',
  'skimmer',
  'phosphate-media',
  'zeolite',
  'airstone',
  'light',
  'biofilter',
  'binder',
]
const LEAVE_WORDS: Readonly<Record<keyof typeof LEAVES, string>> = {
  '!died': 'It died',
  '!rehomed': 'Given away or sent back',
  '!gone': 'Gone, nobody knows where',
}
const Cell = ({ basis, children }: { basis: number; children: ReactNode }) => (
  <div style={{ flex: `1 1 ${basis}px` }}>{children}</div>
)
const number = (canonical: number, dimension: Parameters<typeof fromCanonical>[0], unit: string): string =>
  String(Number(fromCanonical(dimension, canonical, unit).toPrecision(4)))

interface Part {
  readonly form: LogForm
  readonly error: string | null
}

export function ReadingFields({ form, error, corrects }: Part & { corrects?: string }) {
  const { record, active } = useRecord()
  const { nowMs, known } = useThePlans()
  const { analyte, vesselId, about, unit, instruments } = form
  const mine = useMemo(
    () =>
      active.filter(
        (entry) =>
          entry.kind === 'reading' && entry.vesselId === vesselId && entry.analyte === analyte && entry.id !== corrects,
      ),
    [active, vesselId, analyte, corrects],
  )
  const last = mine.at(-1)
  const weekAgo = mine.findLast((entry) => instantMs(entry.at) < nowMs - 6.5 * 86_400_000)
  const expected = known.find((one) => one.vesselId === vesselId && one.agent === analyte)
  return (
    <Stack>
      <Row $gap={14} style={{ alignItems: 'flex-start' }}>
        <Cell basis={160}>
          <Select
            label="Of"
            value={analyte}
            onChange={(next) => form.setAnalyte(next as Analyte)}
            options={Object.entries(ANALYTES).map(([id, { word }]) => ({ value: id, label: word }))}
          />
        </Cell>
        <Cell basis={160}>
          <Field
            label={about.word}
            unit={unit}
            value={form.value}
            onChange={form.setValue}
            numeric
            autoFocus
            error={error}
            placeholder={last?.kind === 'reading' ? `last ${number(last.value, about.dimension, unit)}` : undefined}
          />
        </Cell>
        {instruments.length > 0 && (
          <Cell basis={160}>
            <Select
              label="With"
              value={form.instrumentId ?? ''}
              onChange={form.setInstrumentId}
              options={instruments.map(({ id, body }) => ({ value: id, label: body.name }))}
            />
          </Cell>
        )}
      </Row>
      {(last ?? expected) && (
        <Well>
          {last?.kind === 'reading' && (
            <>
              Last{' '}
              <strong>
                {number(last.value, about.dimension, unit)} {unit}
              </strong>{' '}
              <Quiet>{whenText(instantMs(last.at), nowMs, record.settings)}.</Quiet>{' '}
            </>
          )}
          {weekAgo?.kind === 'reading' && weekAgo.id !== last?.id && (
            <>
              A week ago{' '}
              <strong>
                {number(weekAgo.value, about.dimension, unit)} {unit}
              </strong>
              .{' '}
            </>
          )}
          {expected?.lowMgPerL !== undefined && (
            <>
              The record expects{' '}
              <strong>
                {levelText(expected.lowMgPerL)} to {levelText(expected.highMgPerL)} mg/L
              </strong>{' '}
              now.
            </>
          )}
        </Well>
      )}
    </Stack>
  )
}

export function DoseFields({ form, error, answer }: Part & { answer: ActAnswer }) {
  const { record } = useRecord()
  const product = record.products.get(form.productId)
  const vessel = record.vessels.get(form.vesselId)
  const content = product ? activeContent(product.body.strength) : null
  const per = content?.ok ? content.value.per : 'mL'
  const uses = product ? usesOf(product.body).filter(({ route }) => route !== 'food') : []
  const meant =
    form.use !== '' ? agentForm(form.use) : product && vessel ? formInWater(product.body, vessel.body) : undefined
  return (
    <Stack>
      {product && <HazardCard hazardIds={(meant ?? agentForm(product.body.form))?.hazards ?? []} short />}
      <Row $gap={14} style={{ alignItems: 'flex-start' }}>
        <div style={{ flex: '2 1 220px' }}>
          <Select
            label="Bottle"
            value={form.productId}
            onChange={(next) => {
              form.setProductId(next)
              form.setUse('')
            }}
            options={[...record.products.values()].map(({ id, body }) => ({ value: id, label: body.name }))}
          />
        </div>
        {uses.length > 1 && (
          <Cell basis={170}>
            <Select
              label="Used as"
              value={form.use === '' ? (meant?.id ?? '') : form.use}
              onChange={form.setUse}
              options={uses.map(({ id, label }) => ({ value: id, label }))}
            />
          </Cell>
        )}
        <Cell basis={160}>
          <Field
            label="Poured"
            unit={per === 'drop' ? 'drops' : per === 'tablet' ? 'tablets' : per}
            value={form.value}
            onChange={form.setValue}
            numeric
            autoFocus
            error={error}
          />
        </Cell>
      </Row>
      {answer.preview.level && <LevelWell level={answer.preview.level} />}
    </Stack>
  )
}

export function ChangeFields({ form, error, answer }: Part & { answer: ActAnswer }) {
  const { record } = useRecord()
  const held = form.plan?.band
  const bottles = [...record.products.values()]
  const bottle = bottles.find(({ id }) => id === form.productId)
  const showMadeUp = held !== null && held !== undefined
  return (
    <Stack>
      <Row $gap={14}>
        <Cell basis={180}>
          <Field
            label="Changed"
            value={form.value}
            onChange={form.setValue}
            autoFocus
            error={error}
            hint="25 % of the net water, or 17 L"
          />
        </Cell>
        {showMadeUp && (
          <Cell basis={180}>
            <Field
              label={`New water held ${held.form.agent}`}
              unit="mg/L"
              value={form.madeUp}
              onChange={form.setMadeUp}
              numeric
              hint="Leave empty when it was undosed: the level falls."
            />
          </Cell>
        )}
        {showMadeUp && form.madeUp.trim() !== '' && bottles.length > 1 && (
          <Cell basis={180}>
            <Select
              label="From which bottle"
              value={bottle?.id ?? ''}
              onChange={form.setProductId}
              options={bottles.map(({ id, body }) => ({ value: id, label: body.name }))}
            />
          </Cell>
        )}
      </Row>
      {answer.preview.level && <LevelWell level={answer.preview.level} />}
      {answer.preview.lines.map((line) => (
        <Quiet key={line}>{line}</Quiet>
      ))}
    </Stack>
  )
}

function WhoChoice({ form, label }: { form: LogForm; label: string }) {
  const move = form.kind === 'move'
  return (
    <Select
      label={label}
      value={move && form.residentId === form.residents[0]?.id ? '' : form.residentId}
      onChange={(next) => {
        form.setResidentId(next)
        form.setHeads('')
      }}
      options={[
        { value: '', label: move ? (form.residents[0]?.body.name ?? 'nobody') : 'All of them' },
        ...form.residents.slice(move ? 1 : 0).map(({ id, body }) => ({ value: id, label: body.name })),
      ]}
    />
  )
}

export const MealFields = ({ form }: { form: LogForm }) => (
  <Row $gap={14} style={{ alignItems: 'flex-end' }}>
    <Choice
      label="They"
      value={form.took}
      onChange={form.setTook}
      options={[
        { value: 'took', label: 'took it' },
        { value: 'tried', label: 'tried' },
        { value: 'ignored', label: 'ignored it' },
      ]}
    />
    <Cell basis={160}>
      <WhoChoice form={form} label="Who" />
    </Cell>
  </Row>
)

export const SignFields = ({ form }: { form: LogForm }) => (
  <Row $gap={14}>
    <div style={{ flex: '2 1 220px' }}>
      <Select
        label="Seen"
        value={form.sign}
        onChange={form.setSign}
        options={SIGNS.map(([value, label]) => ({ value, label }))}
      />
    </div>
    <Cell basis={160}>
      <WhoChoice form={form} label="On" />
    </Cell>
  </Row>
)

export const EquipmentFields = ({ form }: { form: LogForm }) => (
  <Row $gap={14} style={{ alignItems: 'flex-end' }}>
    <Cell basis={160}>
      <Select
        label="What"
        value={form.item}
        onChange={(next) => form.setItem(next as Item)}
        options={ITEMS.map((one) => ({ value: one, label: EQUIPMENT[one] }))}
      />
    </Cell>
    <Choice
      label="Now"
      value={form.itemOn}
      onChange={form.setItemOn}
      options={[
        { value: 'in', label: 'in, or on' },
        { value: 'out', label: 'out, or off' },
      ]}
    />
  </Row>
)

/** Where an animal goes is never preselected: one press must not empty a tank. */
export const MoveFields = ({ form }: { form: LogForm }) => (
  <>
    {form.mover && <HazardLine hazardIds={handlingHazards([form.mover.body.group])} />}
    <MoveWhere form={form} />
  </>
)
const MoveWhere = ({ form }: { form: LogForm }) => (
  <Row $gap={14} style={{ alignItems: 'flex-start' }}>
    <Cell basis={160}>
      <WhoChoice form={form} label="Who moves" />
    </Cell>
    {form.moverHeads > 1 && (
      <Cell basis={110}>
        <Field
          label="How many"
          value={form.heads}
          onChange={form.setHeads}
          numeric
          placeholder={`all ${form.moverHeads}`}
          hint="Empty: all of them."
        />
      </Cell>
    )}
    <Cell basis={180}>
      <Select
        label="To"
        value={form.to}
        onChange={form.setTo}
        options={[
          { value: '', label: 'Choose where' },
          ...form.vessels
            .filter(({ id }) => id !== form.vesselId)
            .map(({ id, body }) => ({ value: id, label: body.name })),
          ...Object.entries(LEAVE_WORDS).map(([value, label]) => ({ value, label })),
        ]}
      />
    </Cell>
  </Row>
)
