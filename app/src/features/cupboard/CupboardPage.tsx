// The cupboard: bottles with what their labels say, and the kits that read them.
import {
  activeContent,
  agentForm,
  agentForms,
  checkProduct,
  dayOf,
  instantOf,
  parseQuantity,
  stockOf,
  suspectInstruments,
  type InstrumentBody,
  type InstrumentDocument,
  type ProductBody,
  type ProductDocument,
  type Strength,
} from '@brinvo/core'
import { useMemo, useState } from 'react'
import { styled } from 'styled-components'
import { useActions, useRecord } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Check, Choice, Field, Select } from '../../design/fields.tsx'
import { Button, Empty, Page, Quiet, Row, Tag, Tray, Well } from '../../design/primitives.tsx'
import { longDayText, plural, whenText } from '../../design/words.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { GearShelf } from './GearShelf.tsx'

const Item = styled.li`
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  justify-content: space-between;
  align-items: center;
  padding: 12px 0;
  & + & {
    border-top: 1px solid var(--hairline);
  }
  > div:first-child {
    flex: 1 1 300px;
  }
  > div:last-child:not(:first-child) {
    flex: 0 0 auto;
  }
`

export function CupboardPage() {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const [bottle, setBottle] = useState<ProductDocument | 'new' | null>(null)
  const [kit, setKit] = useState(false)
  const products = [...record.products.values()]
  const instruments = [...record.instruments.values()]
  const suspects = useMemo(() => suspectInstruments(record, active, nowMs), [record, active, nowMs])
  const { revise } = useActions()
  const notice = useNotice()
  const checkedNow = (instrument: InstrumentDocument) =>
    revise(instrument, { ...instrument.body, checkedAt: instantOf(Date.now()) })
      .then(() => notice({ text: `${instrument.body.name}: checked today.`, tone: 'done' }))
      .catch((cause: unknown) => notice({ text: (cause as Error).message, tone: 'failed' }))
  return (
    <Page>
      <Row $between>
        <h1>Cupboard</h1>
        <Row>
          <Button look="main" onPress={() => setBottle('new')}>
            Register a bottle
          </Button>
          <Button onPress={() => setKit(true)}>Register a test kit</Button>
        </Row>
      </Row>
      {products.length === 0 && instruments.length === 0 && (
        <Empty title="Empty">
          A dose needs the strength of the very bottle you hold, and a level needs the error of the very kit you read.
          Take the bottle in your hand and read its label into here.
        </Empty>
      )}
      {products.length > 0 && (
        <Tray>
          <h2>Bottles</h2>
          <ul>
            {products.map((product) => {
              const form = agentForm(product.body.form)
              const content = activeContent(product.body.strength)
              const found = checkProduct(product.body, nowMs, record.settings.zone)
              const stock = stockOf(active, product, nowMs)
              return (
                <Item key={product.id}>
                  <div>
                    <strong>{product.body.name}</strong> <Quiet>{form?.label ?? product.body.form}</Quiet>
                    <br />
                    {content.ok
                      ? `${Number(content.value.mg.toPrecision(4))} mg/${content.value.per}`
                      : content.error.message}
                    {product.body.labelBand &&
                      ` · label level ${product.body.labelBand.minMgPerL}–${product.body.labelBand.maxMgPerL} mg/L`}
                    {stock.left !== null &&
                      ` · about ${Math.round(stock.left)} of ${stock.size} ${content.ok ? content.value.per : ''} left`}
                    {stock.daysLeft !== null &&
                      `, ${stock.daysLeft > 365 ? 'more than a year' : plural(Math.round(stock.daysLeft), 'day')} at the pace of the last two weeks`}
                    {product.body.expiresOn !== undefined && (
                      <Quiet>
                        {' '}
                        · good until {longDayText(Date.parse(`${product.body.expiresOn}T12:00:00Z`), record.settings)}
                      </Quiet>
                    )}
                    {found.map(({ message, rule }) => (
                      <p key={rule + message} style={{ color: 'var(--danger)' }}>
                        {message}
                      </p>
                    ))}
                  </div>
                  <Row>
                    {found.length === 0 ? (
                      <Tag $tone="good">confirmed from the label</Tag>
                    ) : (
                      <Tag $tone="danger">no course, no dose</Tag>
                    )}
                    <Button onPress={() => setBottle(product)}>
                      {product.body.confirmedAt === undefined ? 'Read the label' : 'Edit'}
                    </Button>
                  </Row>
                </Item>
              )
            })}
          </ul>
        </Tray>
      )}
      {instruments.length > 0 && (
        <Tray>
          <h2>Test kits and meters</h2>
          <ul>
            {instruments.map((instrument) => (
              <Item key={instrument.id}>
                <div>
                  <strong>{instrument.body.name}</strong>{' '}
                  <Quiet>
                    {instrument.body.analyte.replace('-', ', ')} · step {instrument.body.step}, error{' '}
                    {Math.round(100 * instrument.body.relativeError)} %
                    {instrument.body.readsForms &&
                      ` · reads ${instrument.body.readsForms.map((form) => agentForm(form)?.label ?? form).join('; ')}`}
                  </Quiet>
                  {suspects.has(instrument.id) && (
                    <p>
                      A third reading of {suspects.get(instrument.id)!.label.toLowerCase()} spoke against it{' '}
                      {whenText(suspects.get(instrument.id)!.sinceMs, nowMs, record.settings)}. Check it against a
                      standard, or replace it.
                    </p>
                  )}
                </div>
                <Row>
                  {suspects.has(instrument.id) ? (
                    <Tag $tone="due">not to be trusted</Tag>
                  ) : instrument.body.checkedAt !== undefined ? (
                    <Tag $tone="good">checked against a standard</Tag>
                  ) : (
                    <Tag>not checked</Tag>
                  )}
                  <Button
                    look={suspects.has(instrument.id) ? 'main' : 'plain'}
                    onPress={() => void checkedNow(instrument)}
                  >
                    Checked today
                  </Button>
                </Row>
              </Item>
            ))}
          </ul>
        </Tray>
      )}
      <GearShelf />
      {bottle !== null && <BottleForm product={bottle === 'new' ? null : bottle} onClose={() => setBottle(null)} />}
      {kit && <KitForm onClose={() => setKit(false)} />}
    </Page>
  )
}

type Basis = Strength['basis']
const BASES: readonly { value: Basis; label: string }[] = [
  { value: 'mg-per-mL', label: 'mg in a mL' },
  { value: 'w/v', label: '% (g in 100 mL)' },
  { value: 'w/w', label: '% by weight' },
  { value: 'per-drop', label: 'mg in a drop' },
  { value: 'per-tablet', label: 'mg in a tablet' },
  { value: 'powder', label: 'powder' },
  { value: 'salt-stock', label: 'a stock I made' },
]

/** The typed strength as data, or a sentence. */
function readStrength(
  basis: Basis,
  main: string,
  second: string,
  salt: string,
): { strength: Strength } | { problem: string } {
  const number = (text: string, label: string) => {
    const parsed = parseQuantity(text, { dimension: 'count', label, allowBound: false })
    return parsed.ok && parsed.value.value > 0
      ? parsed.value.value
      : parsed.ok
        ? `${label} must be above zero.`
        : parsed.error.message
  }
  const a = number(main, 'The strength')
  if (typeof a === 'string') return { problem: a }
  switch (basis) {
    case 'mg-per-mL':
      return { strength: { basis, mgPerMl: a } }
    case 'w/v':
      return { strength: { basis, percent: a } }
    case 'per-drop':
      return { strength: { basis, mgPerDrop: a } }
    case 'per-tablet':
      return { strength: { basis, mgPerTablet: a } }
    case 'powder':
      return { strength: { basis, mgPerG: a } }
    case 'w/w': {
      const density = number(second, 'The density')
      return typeof density === 'string'
        ? { problem: density }
        : { strength: { basis, percent: a, densityGPerMl: density } }
    }
    case 'salt-stock': {
      const volume = number(second, 'The made-up volume')
      return typeof volume === 'string'
        ? { problem: volume }
        : { strength: { basis, salt: salt.trim(), species: 'Cu', saltGrams: a, madeUpToMl: volume } }
    }
  }
}

function BottleForm({ product, onClose }: { product: ProductDocument | null; onClose: () => void }) {
  const { record } = useRecord()
  const { create, revise } = useActions()
  const notice = useNotice()
  const { nowMs } = useThePlans()
  const old = product?.body.strength
  const [name, setName] = useState(product?.body.name ?? '')
  const [form, setForm] = useState(product?.body.form ?? '')
  const [basis, setBasis] = useState<Basis>(old?.basis ?? 'mg-per-mL')
  const [main, setMain] = useState(
    old
      ? String(
          'mgPerMl' in old
            ? old.mgPerMl
            : 'percent' in old
              ? old.percent
              : 'mgPerDrop' in old
                ? old.mgPerDrop
                : 'mgPerTablet' in old
                  ? old.mgPerTablet
                  : 'mgPerG' in old
                    ? old.mgPerG
                    : old.saltGrams,
        )
      : '',
  )
  const [second, setSecond] = useState(
    old ? ('densityGPerMl' in old ? String(old.densityGPerMl) : 'madeUpToMl' in old ? String(old.madeUpToMl) : '') : '',
  )
  const [salt, setSalt] = useState(old && 'salt' in old ? old.salt : 'CuSO4.5H2O')
  const [low, setLow] = useState(product?.body.labelBand ? String(product.body.labelBand.minMgPerL) : '')
  const [high, setHigh] = useState(product?.body.labelBand ? String(product.body.labelBand.maxMgPerL) : '')
  const [expires, setExpires] = useState(product?.body.expiresOn ?? '')
  const [size, setSize] = useState(product?.body.sizeAmount === undefined ? '' : String(product.body.sizeAmount))
  const [confirmed, setConfirmed] = useState(product?.body.confirmedAt !== undefined)
  const [error, setError] = useState<string | null>(null)
  const known = agentForm(form)
  // Only what is held at a level has one on its label; a bath, a dewormer or a salt has a strength.
  const levelled = known === undefined || known.heldAtLevel
  const read = readStrength(basis, main, second, salt)
  const content = 'strength' in read ? activeContent(read.strength) : null

  const level = (text: string): number | null => {
    const parsed = parseQuantity(text, {
      dimension: 'concentration',
      fieldUnit: 'mg/L',
      label: 'The label level',
      allowBound: false,
      max: 50,
    })
    return parsed.ok ? parsed.value.value : null
  }
  const save = async () => {
    if (name.trim() === '') return setError('Give the bottle a name you will know it by.')
    if (!known) return setError('Which form is it? Bound coppers look alike and differ five-fold: the label decides.')
    if ('problem' in read) return setError(read.problem)
    if (content && !content.ok) return setError(content.error.message)
    const min = levelled ? level(low) : null
    const max = levelled ? (high.trim() === '' ? min : level(high)) : null
    if (confirmed && levelled && (min === null || max === null))
      return setError('Which therapeutic level does the label state, in mg/L? One number or two.')
    if (min !== null && max !== null && min > max) return setError('The lower label level is above the upper one.')
    const body: ProductBody = {
      name: name.trim(),
      form,
      strength: read.strength,
      ...(min !== null && max !== null ? { labelBand: { minMgPerL: min, maxMgPerL: max } } : {}),
      ...(confirmed ? { confirmedAt: instantOf(Date.now()) } : {}),
      ...(expires === '' ? {} : { expiresOn: expires }),
      ...(parseFloat(size) > 0 ? { sizeAmount: parseFloat(size) } : {}),
    }
    const refused = checkProduct(body, nowMs, record.settings.zone).find(
      ({ level: grave, message }) => grave === 'refuse' && !message.startsWith('Nobody has confirmed'),
    )
    if (refused) return setError(refused.message)
    try {
      await (product ? revise(product, { ...product.body, ...body }) : create('product', body))
      notice({ text: `${body.name} is in the cupboard.`, tone: 'done' })
      onClose()
    } catch (cause) {
      setError((cause as Error).message)
    }
  }
  const unit = {
    'mg-per-mL': 'mg/mL',
    'w/v': '% w/v',
    'w/w': '% w/w',
    'per-drop': 'mg per drop',
    'per-tablet': 'mg per tablet',
    powder: 'mg in a gram',
    'salt-stock': 'g of salt',
  }[basis]
  return (
    <Dialog title={product ? `Label of ${product.body.name}` : 'Register a bottle'} isOpen onClose={onClose} wide>
      <Field
        label="Name"
        value={name}
        onChange={setName}
        hint="Your own words, for example: copper, blue label"
        autoFocus={!product}
      />
      <Select
        label="Form, as the label states it"
        value={form}
        onChange={setForm}
        options={[{ value: '', label: 'choose' }, ...agentForms.map(({ id, label }) => ({ value: id, label }))]}
        hint={known?.labelHint}
      />
      <Choice label="Strength is given as" value={basis} onChange={setBasis} options={BASES} />
      <Row $gap={14} style={{ alignItems: 'flex-start' }}>
        {basis === 'salt-stock' && (
          <div style={{ flex: '1 1 150px' }}>
            <Field label="Salt" value={salt} onChange={setSalt} hint="CuSO4.5H2O is 25.45 % copper" />
          </div>
        )}
        <div style={{ flex: '1 1 150px' }}>
          <Field label="Strength" unit={unit} value={main} onChange={setMain} numeric />
        </div>
        {basis === 'w/w' && (
          <div style={{ flex: '1 1 150px' }}>
            <Field label="Density" unit="g/mL" value={second} onChange={setSecond} numeric />
          </div>
        )}
        {basis === 'salt-stock' && (
          <div style={{ flex: '1 1 150px' }}>
            <Field label="Made up to" unit="mL" value={second} onChange={setSecond} numeric />
          </div>
        )}
      </Row>
      {content?.ok && (
        <Well aria-live="polite">
          One {content.value.per} holds <strong>{Number(content.value.mg.toPrecision(4))} mg</strong> of active: it
          raises 100 L by {Number((content.value.mg / 100).toPrecision(3))} mg/L.
        </Well>
      )}
      <Row $gap={14} style={{ alignItems: 'flex-start' }}>
        {levelled && (
          <>
            <div style={{ flex: '1 1 130px' }}>
              <Field label="Label level from" unit="mg/L" value={low} onChange={setLow} numeric />
            </div>
            <div style={{ flex: '1 1 130px' }}>
              <Field label="to" unit="mg/L" value={high} onChange={setHigh} numeric />
            </div>
          </>
        )}
        <div style={{ flex: '1 1 130px' }}>
          <Field label="Size" unit={content?.ok ? content.value.per : 'mL'} value={size} onChange={setSize} numeric />
        </div>
        <label style={{ flex: '1 1 150px', display: 'grid', gap: 4, fontWeight: 600, fontSize: 14 }}>
          Good until
          <input
            type="date"
            value={expires}
            min={dayOf(nowMs, 'UTC').slice(0, 4) + '-01-01'}
            onChange={(event) => setExpires(event.target.value)}
            style={{
              minHeight: 44,
              border: '1.5px solid var(--quiet)',
              borderRadius: 8,
              padding: '8px 12px',
              background: 'var(--tray)',
            }}
          />
        </label>
      </Row>
      <Check isSelected={confirmed} onChange={setConfirmed}>
        I hold the bottle and have read form, strength and level off its label.
      </Check>
      {error !== null && (
        <p role="alert" style={{ color: 'var(--danger)', fontWeight: 650 }}>
          {error}
        </p>
      )}
      <Row>
        <Button look="main" onPress={() => void save()}>
          Save
        </Button>
        {!confirmed && <Quiet>Without the tick it is kept, but doses no one.</Quiet>}
      </Row>
    </Dialog>
  )
}

const METHODS: Readonly<Record<InstrumentBody['method'], string>> = {
  photometer: 'Photometer',
  'drop-kit': 'Drop test',
  badge: 'Colour badge',
  probe: 'Probe',
  refractometer: 'Refractometer',
  strip: 'Strip',
  thermometer: 'Thermometer',
  other: 'Other',
}

function KitForm({ onClose }: { onClose: () => void }) {
  const { create } = useActions()
  const notice = useNotice()
  const [name, setName] = useState('')
  const [analyte, setAnalyte] = useState<InstrumentBody['analyte']>('copper')
  const [method, setMethod] = useState<InstrumentBody['method']>('photometer')
  const [step, setStep] = useState('0.01')
  const [relative, setRelative] = useState('5')
  const [reads, setReads] = useState<readonly string[]>(['copper-chelated-high', 'copper-chelated'])
  const [scale, setScale] = useState<NonNullable<InstrumentBody['ammoniaForm']>>('nh3_n')
  const [checked, setChecked] = useState(false)
  const [error, setError] = useState<string | null>(null)
  const save = async () => {
    const stepValue = parseQuantity(step, { dimension: 'count', label: 'The step', allowBound: false })
    const share = parseQuantity(relative, {
      dimension: 'share',
      fieldUnit: '%',
      label: 'The error',
      max: 100,
      allowBound: false,
    })
    if (name.trim() === '') return setError('Give the kit a name.')
    if (!stepValue.ok || stepValue.value.value <= 0)
      return setError('The step is the smallest difference the kit can show: above zero.')
    if (!share.ok) return setError(share.error.message)
    if (analyte === 'copper' && reads.length === 0) return setError('Which forms does it read? The leaflet says.')
    try {
      await create('instrument', {
        name: name.trim(),
        analyte,
        method,
        step: stepValue.value.value,
        relativeError: share.value.value / 100,
        ...(analyte === 'copper' ? { readsForms: [...reads] } : {}),
        ...(analyte.startsWith('ammonia') ? { ammoniaForm: scale } : {}),
        ...(checked ? { checkedAt: instantOf(Date.now()) } : {}),
      })
      notice({ text: `${name.trim()} is in the cupboard.`, tone: 'done' })
      onClose()
    } catch (cause) {
      setError((cause as Error).message)
    }
  }
  return (
    <Dialog title="Register a test kit" isOpen onClose={onClose}>
      <Field label="Name" value={name} onChange={setName} autoFocus />
      <Row $gap={14}>
        <div style={{ flex: '1 1 160px' }}>
          <Select
            label="Measures"
            value={analyte}
            onChange={(next) => setAnalyte(next as InstrumentBody['analyte'])}
            options={[
              'copper',
              'ammonia-total',
              'ammonia-free',
              'nitrite',
              'nitrate',
              'phosphate',
              'ph',
              'temperature',
              'salinity',
              'alkalinity',
            ].map((value) => ({ value, label: value.replace('-', ', ') }))}
          />
        </div>
        <div style={{ flex: '1 1 160px' }}>
          <Select
            label="Kind"
            value={method}
            onChange={(next) => setMethod(next as InstrumentBody['method'])}
            options={Object.entries(METHODS).map(([value, label]) => ({ value, label }))}
          />
        </div>
      </Row>
      <Row $gap={14} style={{ alignItems: 'flex-start' }}>
        <div style={{ flex: '1 1 160px' }}>
          <Field
            label="Smallest step it shows"
            value={step}
            onChange={setStep}
            numeric
            hint="0.01 photometer, 0.25 drop test"
          />
        </div>
        <div style={{ flex: '1 1 160px' }}>
          <Field
            label="Error"
            unit="%"
            value={relative}
            onChange={setRelative}
            numeric
            hint="from its leaflet; 5 is usual"
          />
        </div>
      </Row>
      {analyte === 'copper' && (
        <fieldset style={{ border: 0, padding: 0, margin: 0 }}>
          <legend style={{ fontWeight: 600, fontSize: 14 }}>Reads, by its leaflet</legend>
          {agentForms.map((form) => (
            <Check
              key={form.id}
              isSelected={reads.includes(form.id)}
              onChange={(on) => setReads(on ? [...reads, form.id] : reads.filter((id) => id !== form.id))}
            >
              {form.label}
            </Check>
          ))}
        </fieldset>
      )}
      {analyte.startsWith('ammonia') && (
        <Select
          label="Its scale tells ammonia as"
          value={scale}
          onChange={(next) => setScale(next as typeof scale)}
          hint="The leaflet says; a reading is kept as nitrogen."
          options={[
            { value: 'nh3_n', label: 'nitrogen (N)' },
            { value: 'nh3', label: 'ammonia (NH₃)' },
            { value: 'nh4', label: 'ammonium (NH₄)' },
          ]}
        />
      )}
      <Check isSelected={checked} onChange={setChecked}>
        Checked against a standard
      </Check>
      {error !== null && (
        <p role="alert" style={{ color: 'var(--danger)', fontWeight: 650 }}>
          {error}
        </p>
      )}
      <Row>
        <Button look="main" onPress={() => void save()}>
          Save
        </Button>
      </Row>
    </Dialog>
  )
}
