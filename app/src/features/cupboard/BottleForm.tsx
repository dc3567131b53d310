// A bottle with what its label says: asked where no label says so, confirmed anew where a fact changed.
import {
  activeContent,
  agentForm,
  agentForms,
  parseQuantity,
  usesOf,
  type ProductDocument,
  type Strength,
} from '@brinvo/core'
import { useState } from 'react'
import { v7 } from 'uuid'
import { Dialog } from '../../design/Dialog.tsx'
import { Check, Choice, Field, Select } from '../../design/fields.tsx'
import { Button, Quiet, Row, Well } from '../../design/primitives.tsx'
import { Asked } from '../../parts/Refusals.tsx'
import { useAct } from '../../parts/useAct.ts'
import { DateTimeField } from '../../parts/DateTimeField.tsx'

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
        ? {
            problem: `${density} Granules and powder have none: choose “powder”, where ${a} % are ${Number((a * 10).toPrecision(6))} mg in a gram.`,
          }
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

export function BottleForm({
  product,
  wanted,
  onClose,
  onKept,
}: {
  product: ProductDocument | null
  /** Forms that are asked for: a single one stands there already, several stand first. */
  wanted: readonly string[]
  onClose: () => void
  onKept: () => void
}) {
  const old = product?.body.strength
  const [name, setName] = useState(product?.body.name ?? '')
  const [form, setForm] = useState(product?.body.form ?? (wanted.length === 1 ? (agentForm(wanted[0]!)?.id ?? '') : ''))
  const [chosenBasis, setBasis] = useState<Basis | null>(old?.basis ?? null)
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
  const known = agentForm(form)
  // The unit that labels of this form use stands there first; 3 % and 3 mg/mL look the same and are ten-fold apart.
  const basis: Basis = chosenBasis ?? known?.strengths[0]?.basis ?? 'mg-per-mL'
  // Only what is held at a level has one on its label; a bath, a dewormer or a salt has a strength.
  const levelled = known === undefined || known.heldAtLevel
  const read = readStrength(basis, main, second, salt)
  const content = 'strength' in read ? activeContent(read.strength) : null

  const [newId] = useState(() => v7())
  const asking = useAct(
    'problem' in read
      ? read.problem
      : {
          kind: 'bottle',
          ...(product ? { productId: product.id } : {}),
          newId,
          form,
          name,
          strength: read.strength,
          labelLow: low,
          labelHigh: high,
          expiresOn: expires,
          size,
          confirmed,
        },
  )
  const [tried, setTried] = useState(false)
  const error = tried ? asking.answer.problem : null
  const save = async () => {
    setTried(true)
    if (!asking.may || !(await asking.commit())) return
    onClose()
    onKept()
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
        options={[
          { value: '', label: 'choose' },
          ...[...agentForms]
            .sort(
              (a, b) => Number(wanted.includes(b.id)) - Number(wanted.includes(a.id)) || a.label.localeCompare(b.label),
            )
            .map(({ id, label }) => ({ value: id, label })),
        ]}
        hint={
          known
            ? `${known.labelHint}${
                usesOf({ form }).length > 1
                  ? ` One bottle serves: ${usesOf({ form })
                      .map(({ label }) => label)
                      .join(', ')}.`
                  : ''
              }`
            : undefined
        }
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
        <DateTimeField label="Good until" day value={expires} onChange={setExpires} />
      </Row>
      <Check isSelected={confirmed} onChange={setConfirmed}>
        I hold the bottle and have read form, strength and level off its label.
      </Check>
      {asking.answer.problem === null && <Asked asking={asking} />}
      {error !== null && (
        <p role="alert" style={{ color: 'var(--danger)', fontWeight: 650 }}>
          {error}
        </p>
      )}
      <Row>
        <Button look="main" isDisabled={asking.busy || asking.held} onPress={() => void save()}>
          Save
        </Button>
        {!confirmed && <Quiet>Without the tick it is kept, but doses no one.</Quiet>}
      </Row>
    </Dialog>
  )
}
