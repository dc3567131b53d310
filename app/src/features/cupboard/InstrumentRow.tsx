// One test kit or meter: what it can tell, when it was set or held against a standard, what others say of it, what hangs
// on it, and how long its reagents last.
import { clockMs } from '../../data/clock.ts'
import {
  ANALYTES,
  agentForm,
  DRIFTED_Z,
  fromCanonical,
  instantOf,
  revised,
  instrumentState,
  parseQuantity,
  preferredUnit,
  type InstrumentDocument,
} from '@brinvo/core'
import { useMemo, useState } from 'react'
import { useActions, useRecord, type Draft } from '../../data/queries.tsx'
import { Dialog } from '../../design/Dialog.tsx'
import { Choice, Field } from '../../design/fields.tsx'
import { Button, Quiet, Row, Tag } from '../../design/primitives.tsx'
import { WorkingButton } from '../../design/Working.tsx'
import { longDayText, plural, preferencesOf, whenText } from '../../design/words.ts'
import { DateTimeField } from '../../parts/DateTimeField.tsx'
import { useNotice } from '../../shell/Notices.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

const number = (value: number): string => String(Number(value.toPrecision(2)))
/** Off by no more than this of a standard, a kit passes. @source definitions, “Level” */
const PASS_SHARE = 0.03

export function InstrumentRow({
  instrument,
  suspect,
}: {
  readonly instrument: InstrumentDocument
  readonly suspect: { readonly label: string; readonly sinceMs: number } | undefined
}) {
  const { record, active } = useRecord()
  const { nowMs } = useThePlans()
  const [check, setCheck] = useState(false)
  const state = useMemo(() => instrumentState(record, active, instrument, nowMs), [record, active, instrument, nowMs])
  const { body } = instrument
  const about = ANALYTES[body.analyte]
  const unit = about.unit === 'pH' ? '' : ` ${about.unit}`
  const { drift } = state
  const drifted = drift !== null && drift.z >= DRIFTED_Z
  const other =
    drift === null
      ? null
      : drift.otherId === 'laboratory'
        ? 'the laboratory'
        : (record.instruments.get(drift.otherId)?.body.name ?? 'another')
  const over = state.reagentDays !== null && state.reagentDays < 0
  return (
    <>
      <div>
        <strong>{body.name}</strong>{' '}
        <Quiet>
          {about.word.toLowerCase() === 'ph' ? 'pH' : about.word.toLowerCase()} · step {body.step}, error{' '}
          {Number((100 * body.relativeError).toPrecision(2))} %
          {body.readsForms && ` · reads ${body.readsForms.map((form) => agentForm(form)?.label ?? form).join('; ')}`}
          {state.hangs > 0 && ` · ${plural(state.hangs, 'reading')} of two months hang on it`}
        </Quiet>
        {suspect && (
          <p>
            A third reading of {suspect.label.toLowerCase()} spoke against it{' '}
            {whenText(suspect.sinceMs, nowMs, record.settings)}. Check it against a standard, or replace it.
          </p>
        )}
        {state.off !== null && Math.abs(state.off) > 1e-9 && (
          <p>
            By its last check it reads {number(Math.abs(state.off))}
            {unit} too {state.off > 0 ? 'high' : 'low'}; trends are told without that, for sixty days.
          </p>
        )}
        {drifted && (
          <p>
            {number(Math.abs(drift.off))}
            {unit} {drift.off > 0 ? 'above' : 'below'} {other}, in the middle of {drift.pairs} pairs. A standard tells
            which of them is wrong. <WorkingButton working={drift.working} />
          </p>
        )}
        {state.reagentDays !== null && (
          <Quiet>
            {over
              ? `Its reagents are over since ${longDayText(Date.parse(`${body.expiresOn}T12:00:00Z`), record.settings)}.`
              : `Reagents good until ${longDayText(Date.parse(`${body.expiresOn}T12:00:00Z`), record.settings)}.`}
          </Quiet>
        )}
      </div>
      <Row>
        {suspect || over ? (
          <Tag $tone="due">not to be trusted</Tag>
        ) : drifted ? (
          <Tag $tone="due">disagrees</Tag>
        ) : state.stale ? (
          <Tag $tone="due">checked long ago</Tag>
        ) : state.lastCheckMs !== null ? (
          <Tag $tone="good">checked {whenText(state.lastCheckMs, nowMs, record.settings)}</Tag>
        ) : (
          <Tag>not checked</Tag>
        )}
        <Button
          look={suspect || drifted || state.stale ? 'main' : 'plain'}
          aria-label={`Check or calibrate ${body.name}`}
          onPress={() => setCheck(true)}
        >
          Check or calibrate
        </Button>
      </Row>
      {check && <CheckDialog instrument={instrument} onClose={() => setCheck(false)} />}
    </>
  )
}

function CheckDialog({
  instrument,
  onClose,
}: {
  readonly instrument: InstrumentDocument
  readonly onClose: () => void
}) {
  const { record } = useRecord()
  const { commit } = useActions()
  const notice = useNotice()
  const { body } = instrument
  const about = ANALYTES[body.analyte]
  const unit = preferredUnit(about.dimension, preferencesOf(record.settings))
  const [act, setAct] = useState<'checked' | 'calibrated'>('checked')
  const [standard, setStandard] = useState('')
  const [read, setRead] = useState('')
  const [expires, setExpires] = useState(body.expiresOn ?? '')
  const [error, setError] = useState<string | null>(null)
  const of = (text: string, label: string) =>
    parseQuantity(text, { dimension: about.dimension, fieldUnit: unit, label, allowBound: false, max: about.max * 10 })
  const both = of(standard, 'The standard')
  const own = of(read, 'What it read')
  const off =
    both.ok && own.ok
      ? fromCanonical(about.dimension, own.value.value, unit) - fromCanonical(about.dimension, both.value.value, unit)
      : null
  const save = async () => {
    if (standard.trim() === '' && read.trim() !== '') return setError('What is the value of the standard?')
    if (standard.trim() !== '' && !both.ok) return setError(both.error.message)
    if (read.trim() !== '' && !own.ok) return setError(own.error.message)
    if (act === 'checked' && standard.trim() !== '' && read.trim() === '')
      return setError('What did it read of the standard?')
    try {
      const nowText = instantOf(clockMs())
      const { expiresOn: _expiresOn, ...rest } = body
      // Within three per cent it passes, or it was set: its readings are trusted for sixty days. An offset is none of that.
      const passes =
        act === 'calibrated' ||
        (both.ok && own.ok
          ? Math.abs(own.value.value - both.value.value) <= Math.max(PASS_SHARE * Math.abs(both.value.value), body.step)
          : standard.trim() === '')
      const next = {
        ...rest,
        ...(expires === '' ? {} : { expiresOn: expires }),
        ...(passes ? { checkedAt: nowText } : {}),
      }
      await commit(
        [revised(instrument, next, nowText)],
        [
          {
            kind: 'calibration',
            instrumentId: instrument.id,
            act,
            ...(both.ok && standard.trim() !== '' ? { standard: both.value.value } : {}),
            ...(own.ok && read.trim() !== '' ? { read: own.value.value } : {}),
          } as unknown as Draft,
        ],
      )
      notice({ text: `${body.name}: ${act === 'checked' ? 'checked' : 'calibrated'}.`, tone: 'done' })
      onClose()
    } catch (cause) {
      setError((cause as Error).message)
    }
  }
  return (
    <Dialog title={body.name} isOpen onClose={onClose}>
      <Choice
        label="What was done"
        value={act}
        onChange={setAct}
        options={[
          { value: 'checked', label: 'Held against a standard, left as it is' },
          { value: 'calibrated', label: 'Set by the standard' },
        ]}
      />
      <Row $gap={14} style={{ alignItems: 'flex-start' }}>
        <div style={{ flex: '1 1 140px' }}>
          <Field
            label="The standard is"
            unit={unit}
            value={standard}
            onChange={setStandard}
            numeric
            hint="from its bottle"
          />
        </div>
        <div style={{ flex: '1 1 140px' }}>
          <Field
            label={act === 'checked' ? 'It read' : 'Before that it read'}
            unit={unit}
            value={read}
            onChange={setRead}
            numeric
          />
        </div>
      </Row>
      {off !== null && (
        <Quiet>
          {Math.abs(off) < 1e-9
            ? 'No offset.'
            : act === 'checked'
              ? `It reads ${number(Math.abs(off))} ${unit} too ${off > 0 ? 'high' : 'low'}: told with its readings, and taken off its trends for sixty days.`
              : `It had read ${number(Math.abs(off))} ${unit} too ${off > 0 ? 'high' : 'low'}: taken off the trend before today.`}
        </Quiet>
      )}
      <DateTimeField day label="Its reagents are good until" value={expires} onChange={setExpires} />
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
