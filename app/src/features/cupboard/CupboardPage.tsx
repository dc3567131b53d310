// The cupboard: bottles with what their labels say, and the kits that read them.
import { clockMs } from '../../data/clock.ts'
import {
  ANALYTES,
  activeContent,
  agentForm,
  agentForms,
  usualPrecision,
  checkProduct,
  instantOf,
  parseQuantity,
  stockOf,
  usesOf,
  suspectInstruments,
  type InstrumentBody,
  type ProductDocument,
} from '@brinvo/core'
import { useMemo, useState } from 'react'
import { useSearchParams } from 'react-router'
import { styled } from 'styled-components'
import { useActions, useRecord } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Check, Field, Select } from '../../design/fields.tsx'
import { Button, Empty, LinkButton, Page, Quiet, Row, Tag, Tray } from '../../design/primitives.tsx'
import { longDayText, plural } from '../../design/words.ts'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'
import { useGoOn } from '../../shell/useGoOn.ts'
import { useWayBack } from '../../shell/wayBack.ts'
import { BottleForm } from './BottleForm.tsx'
import { InstrumentRow } from './InstrumentRow.tsx'
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
  const [params] = useSearchParams()
  const back = useWayBack()
  const goOn = useGoOn()
  // What brought its keeper here to register one thing opens that form, and is led back to when it is kept.
  const [bottle, setBottle] = useState<ProductDocument | 'new' | null>(params.get('add') === 'bottle' ? 'new' : null)
  const [kit, setKit] = useState(params.get('add') === 'kit')
  const kept = () => {
    if (back !== null) goOn(back, { replace: true })
  }
  const products = [...record.products.values()]
  const instruments = [...record.instruments.values()]
  const suspects = useMemo(() => suspectInstruments(record, active, nowMs), [record, active, nowMs])
  return (
    <Page>
      <Row $between>
        <h1>Cupboard</h1>
        <Row>
          <Button look="main" onPress={() => setBottle('new')}>
            Register a bottle
          </Button>
          <Button onPress={() => setKit(true)}>Register a test kit</Button>
          <LinkButton to="/devices">Devices</LinkButton>
          <LinkButton to="/paper/cupboard">On paper</LinkButton>
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
                    <strong>{product.body.name}</strong>{' '}
                    <Quiet>
                      {usesOf(product.body)
                        .map(({ label }) => label)
                        .join('; ') ||
                        (form?.label ?? product.body.form)}
                    </Quiet>
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
                <InstrumentRow instrument={instrument} suspect={suspects.get(instrument.id)} />
              </Item>
            ))}
          </ul>
        </Tray>
      )}
      <GearShelf />
      {bottle !== null && (
        <BottleForm
          product={bottle === 'new' ? null : bottle}
          wanted={params.get('form')?.split(',') ?? []}
          onClose={() => setBottle(null)}
          onKept={kept}
        />
      )}
      {kit && <KitForm wanted={params.get('analyte')} onClose={() => setKit(false)} onKept={kept} />}
    </Page>
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

const MEASURED = Object.keys(ANALYTES) as InstrumentBody['analyte'][]
/** Only copper comes in forms that one kit reads and another does not. */
const COPPER_FORMS = agentForms.filter(({ agent }) => agent === 'copper')

function KitForm({ wanted, onClose, onKept }: { wanted: string | null; onClose: () => void; onKept: () => void }) {
  const { create } = useActions()
  const notice = useNotice()
  const [name, setName] = useState('')
  const [analyte, setAnalyte] = useState<InstrumentBody['analyte']>(MEASURED.find((one) => one === wanted) ?? 'copper')
  const [method, setMethod] = useState<InstrumentBody['method'] | ''>('')
  // Until the leaflet is typed off, what is usual for its kind; nothing where nothing is.
  const usual = method === '' ? null : usualPrecision(analyte, method)
  const [typedStep, setStep] = useState<string | null>(null)
  const [typedError, setRelative] = useState<string | null>(null)
  const step = typedStep ?? (usual ? String(usual.step) : '')
  const relative = typedError ?? (usual ? String(usual.relativePercent) : '')
  const [reads, setReads] = useState<readonly string[]>([])
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
    if (method === '') return setError('What kind of kit is it? How far it can be trusted hangs on that.')
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
        ...(checked ? { checkedAt: instantOf(clockMs()) } : {}),
      })
      notice({ text: `${name.trim()} is in the cupboard.`, tone: 'done' })
      onClose()
      onKept()
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
            options={MEASURED.map((value) => ({ value, label: ANALYTES[value].word }))}
          />
        </div>
        <div style={{ flex: '1 1 160px' }}>
          <Select
            label="Kind"
            value={method}
            onChange={(next) => setMethod(next as InstrumentBody['method'] | '')}
            options={[
              { value: '', label: 'choose' },
              ...Object.entries(METHODS).map(([value, label]) => ({ value, label })),
            ]}
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
            hint={typedStep === null && usual ? 'usual for its kind; the leaflet knows better' : 'from its leaflet'}
          />
        </div>
        <div style={{ flex: '1 1 160px' }}>
          <Field
            label="Error"
            unit="%"
            value={relative}
            onChange={setRelative}
            numeric
            hint={typedError === null && usual ? 'usual for its kind; the leaflet knows better' : 'from its leaflet'}
          />
        </div>
      </Row>
      {analyte === 'copper' && (
        <fieldset style={{ border: 0, padding: 0, margin: 0 }}>
          <legend style={{ fontWeight: 600, fontSize: 14 }}>Reads, by its leaflet</legend>
          {COPPER_FORMS.map((form) => (
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
