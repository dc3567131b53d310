// Log something: a reading in three presses, or one typed line. Nothing typed is lost when something speaks against it.
import {
  ANALYTES,
  activeContent,
  agentForm,
  checkBinder,
  checkDose,
  checkInstant,
  checkReading,
  convertAmmonia,
  fromCanonical,
  instantMs,
  parseLine,
  parseQuantity,
  preferredUnit,
  residentsIn,
  resultingLevel,
  vesselVolume,
  type Analyte,
  type LineDraft,
  type Refusal,
} from '@brinvo/core'
import { useEffect, useMemo, useState, type FormEvent } from 'react'
import { styled } from 'styled-components'
import { useRecord, type Draft } from '../../data/queries.tsx'
import { shelvedVessels } from '../../data/shelf.ts'
import { Dialog } from '../../design/Dialog.tsx'
import { Choice, Field, Select } from '../../design/fields.tsx'
import { Button, Quiet, Row, Stack, Well } from '../../design/primitives.tsx'
import { levelText, localInput, localMs, litresText, preferencesOf, whenText } from '../../design/words.ts'
import { EQUIPMENT } from '../../parts/entryWords.ts'
import { HazardCard } from '../../parts/HazardCard.tsx'
import { mayPass, NO_OVERRIDE, Refusals } from '../../parts/Refusals.tsx'
import { useSave } from '../../parts/StepActions.tsx'
import type { LogKind, LogPreset } from '../../shell/LogContext.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

const KINDS: readonly { value: LogKind; label: string }[] = [
  { value: 'reading', label: 'Reading' },
  { value: 'dose', label: 'Dose' },
  { value: 'change', label: 'Water change' },
  { value: 'meal', label: 'Meal' },
  { value: 'sign', label: 'Sign' },
  { value: 'equipment', label: 'Media' },
  { value: 'move', label: 'Move' },
  { value: 'note', label: 'Note' },
]
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
const ITEMS = [
  'carbon',
  'resin',
  'uv',
  'ozone',
  'skimmer',
  'phosphate-media',
  'airstone',
  'light',
  'biofilter',
  'binder',
] as const
type Item = (typeof ITEMS)[number]

const TimeInput = styled.label`
  display: flex;
  flex-direction: column;
  gap: 4px;
  font-weight: 600;
  font-size: 14px;
  input {
    min-height: 44px;
    border: 1.5px solid var(--quiet);
    border-radius: 8px;
    padding: 8px 12px;
    background: var(--tray);
  }
`

export function LogDialog({ preset, onClose }: { preset: LogPreset; onClose: () => void }) {
  const { record, active } = useRecord()
  const { plans, estimates, nowMs, pending } = useThePlans()
  const save = useSave()
  const { settings } = record
  const preferences = preferencesOf(settings)
  const vessels = shelvedVessels(record)
  const [, place, placeId = ''] = /^\/(vessels|courses|findings)\/([^/]+)/.exec(window.location.pathname) ?? []
  const fromUrl =
    place === 'courses'
      ? record.courses.get(placeId)?.body.vesselId
      : place === 'findings'
        ? record.findings.get(placeId)?.body.vesselId
        : placeId
  const drugPlan = plans.find(({ band }) => band !== null)
  const [vesselId, setVesselId] = useState(
    preset.vesselId ??
      (fromUrl !== undefined && record.vessels.has(fromUrl) ? fromUrl : undefined) ??
      drugPlan?.vesselId ??
      vessels[0]?.id ??
      '',
  )
  const plan =
    plans.find((candidate) => candidate.vesselId === vesselId && candidate.band !== null) ??
    plans.find((candidate) => candidate.vesselId === vesselId) ??
    null
  const course = plan ? record.courses.get(plan.courseId) : undefined
  const estimate = plan ? (estimates.get(plan.courseId) ?? null) : null

  const [kind, setKind] = useState<LogKind>(preset.kind ?? 'reading')
  const [line, setLine] = useState('')
  const [analyte, setAnalyte] = useState<Analyte>(preset.analyte ?? (plan?.band ? 'copper' : 'temperature'))
  const [value, setValue] = useState(
    preset.kind === 'dose' && preset.amount !== undefined
      ? String(preset.amount)
      : preset.fraction !== undefined
        ? `${Math.round(preset.fraction * 100)} %`
        : '',
  )
  const [instrumentId, setInstrumentId] = useState(preset.instrumentId ?? '')
  const [productId, setProductId] = useState(
    preset.productId ?? Object.values(course?.body.products ?? {})[0] ?? [...record.products.values()][0]?.id ?? '',
  )
  const [madeUp, setMadeUp] = useState(
    preset.replacementMgPerL !== undefined ? levelText(preset.replacementMgPerL) : '',
  )
  const [took, setTook] = useState<'took' | 'tried' | 'ignored'>('took')
  const [sign, setSign] = useState('flashing')
  const [residentId, setResidentId] = useState('')
  const [item, setItem] = useState<Item>('carbon')
  const [itemOn, setItemOn] = useState<'in' | 'out'>('out')
  const [toVesselId, setToVesselId] = useState('')
  const [note, setNote] = useState('')
  const [when, setWhen] = useState(preset.atMs === undefined ? '' : localInput(preset.atMs, settings.zone))
  const [override, setOverride] = useState(NO_OVERRIDE)
  const [error, setError] = useState<string | null>(null)
  const [tried, setTried] = useState(false)

  const residents = useMemo(() => residentsIn(record, active, vesselId, nowMs), [record, active, vesselId, nowMs])
  const atMs = when === '' ? nowMs : localMs(when, settings.zone)
  const about = ANALYTES[analyte]
  const unit = preferredUnit(about.dimension, preferences)
  const instruments = [...record.instruments.values()].filter(
    ({ body }) => body.analyte === analyte && body.retiredAt === undefined,
  )
  const instrument =
    instrumentId !== '' && instruments.some(({ id }) => id === instrumentId)
      ? instrumentId
      : (Object.values(course?.body.instruments ?? {}).find((id) =>
          instruments.some((candidate) => candidate.id === id),
        ) ?? instruments[0]?.id)
  const product = record.products.get(productId)
  const content = product ? activeContent(product.body.strength) : null
  const per = content?.ok ? content.value.per : 'mL'
  const volume = record.vessels.get(vesselId) ? vesselVolume(record.vessels.get(vesselId)!) : null
  const last = active.findLast(
    (entry) =>
      entry.kind === 'reading' &&
      entry.vesselId === vesselId &&
      entry.analyte === analyte &&
      entry.id !== preset.corrects,
  )
  const dayBefore = active.findLast(
    (entry) =>
      entry.kind === 'reading' &&
      entry.vesselId === vesselId &&
      entry.analyte === analyte &&
      instantMs(entry.at) < nowMs - 6.5 * 86_400_000,
  )
  const base = {
    vesselId,
    ...(preset.courseId !== undefined && plan?.courseId === preset.courseId
      ? { courseId: preset.courseId }
      : course
        ? { courseId: course.id }
        : {}),
    ...(preset.step !== undefined && vesselId === preset.vesselId ? { step: preset.step } : {}),
    ...(preset.corrects === undefined ? {} : { corrects: preset.corrects }),
    ...(note.trim() === '' ? {} : { note: note.trim() }),
  }

  /** The draft as typed now, or the sentence that says what is missing. */
  const made = ((): { drafts: Draft[]; text: string; refusals: Refusal[] } | { problem: string } => {
    if (vesselId === '') return { problem: 'There is no vessel yet. Describe one first.' }
    if (!Number.isFinite(atMs)) return { problem: 'The time cannot be read.' }
    const instantRefusals = checkInstant(record, vesselId, atMs, nowMs)
    const one = (draft: object, text: string, refusals: Refusal[] = instantRefusals) => ({
      drafts: [{ ...base, ...draft, atMs } as unknown as Draft],
      text,
      refusals,
    })
    switch (kind) {
      case 'reading': {
        const parsed = parseQuantity(value, {
          dimension: about.dimension,
          fieldUnit: unit,
          max: about.max,
          label: about.word,
        })
        if (!parsed.ok) return { problem: parsed.error.message }
        const { bound, entered } = parsed.value
        // A kit may tell ammonia as NH3 or as the ion; the record keeps it as N.
        const scale = record.instruments.get(instrument ?? '')?.body.ammoniaForm ?? 'nh3_n'
        const canonical = convertAmmonia(parsed.value.value, scale, 'nh3_n')
        const reading = {
          analyte,
          value: canonical,
          bound,
          vesselId,
          ...(instrument === undefined ? {} : { instrumentId: instrument }),
        }
        const refusals = checkReading({
          record,
          active,
          reading,
          atMs,
          nowMs,
          expected:
            analyte === plan?.band?.form.agent && estimate && Math.abs(atMs - nowMs) < 3_600_000 ? estimate.now : null,
        })
        const shown = `${bound === 'below' ? '<' : bound === 'above' ? '>' : ''}${entered.value} ${entered.unit}`
        return one(
          {
            kind: 'reading',
            ...reading,
            unit: parsed.value.unit,
            entered,
            ...(override.confirmed ? { doubt: 'kept' } : {}),
          },
          `${about.word} ${shown} logged.`,
          refusals,
        )
      }
      case 'dose': {
        const parsed = parseQuantity(
          value,
          per === 'mL'
            ? { dimension: 'dose-volume', fieldUnit: 'mL', label: 'The dose', allowBound: false }
            : per === 'g'
              ? { dimension: 'mass', fieldUnit: 'g', label: 'The dose', allowBound: false }
              : { dimension: 'count', fieldUnit: 'count', label: 'The dose', allowBound: false },
        )
        if (!parsed.ok) return { problem: parsed.error.message }
        const amount = per === 'g' ? parsed.value.value / 1000 : parsed.value.value
        const refusals = checkDose({
          record,
          active,
          vesselId,
          productId,
          amount,
          atMs,
          nowMs,
          levelMgPerL: estimate && plan?.band ? estimate.now.p50 : null,
          ...(estimate && plan?.band
            ? { volume: { litres: estimate.volume.meanL, sdLitres: estimate.volume.sdL } }
            : {}),
        })
        const measure =
          per === 'mL'
            ? [...settings.syringesMl]
                .sort((a, b) => a.capacity - b.capacity)
                .find(({ capacity }) => amount <= capacity)?.step
            : undefined
        return one(
          {
            kind: 'dose',
            productId,
            amount,
            unit: per,
            ...(measure === undefined ? {} : { measureStep: measure }),
            entered: parsed.value.entered,
          },
          `${amount} ${per} logged.`,
          refusals,
        )
      }
      case 'change': {
        const share = parseQuantity(value, { dimension: 'share', label: 'The change', max: 100, allowBound: false })
        const amount = share.ok
          ? null
          : parseQuantity(value, { dimension: 'volume', label: 'The change', allowBound: false })
        if (!share.ok && !amount?.ok)
          return {
            problem:
              value.trim() === ''
                ? 'How much was changed? Write 25 % or 17 L.'
                : `"${value}" needs a unit: 25 % of the net volume, or 17 L.`,
          }
        if (share.ok && share.value.value <= 0) return { problem: 'A change of nothing is no change.' }
        if (amount?.ok && volume && amount.value.value > volume.litres * 1.05)
          return {
            problem: `${amount.value.entered.value} ${amount.value.entered.unit} is more than the vessel holds (${litresText(volume.litres, settings)}).`,
          }
        const dosed =
          madeUp.trim() === ''
            ? null
            : parseQuantity(madeUp, {
                dimension: 'concentration',
                fieldUnit: 'mg/L',
                label: 'The new water',
                allowBound: false,
                max: 20,
              })
        if (dosed && !dosed.ok) return { problem: dosed.error.message }
        return one(
          {
            kind: 'change',
            ...(share.ok
              ? { fraction: share.value.value / 100, entered: share.value.entered }
              : amount?.ok
                ? { removedL: amount.value.value, entered: amount.value.entered }
                : {}),
            ...(dosed?.ok && dosed.value.value > 0 && productId !== ''
              ? { replacement: [{ productId, mgPerL: dosed.value.value }] }
              : {}),
          },
          `Water change ${value.trim()} logged.`,
        )
      }
      case 'meal':
        return one({ kind: 'meal', took, ...(residentId === '' ? {} : { residentId }) }, 'Meal logged.')
      case 'sign':
        return one({ kind: 'sign', sign, present: true, ...(residentId === '' ? {} : { residentId }) }, 'Sign logged.')
      case 'equipment':
        return one(
          { kind: 'equipment', item, on: itemOn === 'in' },
          `${EQUIPMENT[item]} ${itemOn}: logged.`,
          item === 'binder' && itemOn === 'in'
            ? [...instantRefusals, ...checkBinder(record, active, vesselId, atMs)]
            : instantRefusals,
        )
      case 'move': {
        const resident = record.residents.get(residentId === '' ? (residents[0]?.id ?? '') : residentId)
        if (!resident) return { problem: 'Nobody is registered in this vessel.' }
        if (toVesselId === vesselId) return { problem: `${resident.body.name} is already there.` }
        const to = toVesselId === '' ? null : toVesselId
        return one(
          { kind: 'move', residentId: resident.id, toVesselId: to },
          `${resident.body.name}: ${to === null ? 'out of the shelf' : `now in ${record.vessels.get(to)?.body.name}`}.`,
        )
      }
      case 'note':
        return note.trim() === ''
          ? { problem: 'Write a word or two.' }
          : one({ kind: 'note', note: note.trim() }, 'Note logged.')
    }
  })()
  const refusals = 'refusals' in made ? made.refusals : []

  const levelPending =
    (kind === 'dose' || kind === 'reading') && plan?.band !== null && plan !== null && estimate === null && pending
  const [queued, setQueued] = useState(false)
  const submit = async (event?: FormEvent) => {
    event?.preventDefault()
    setTried(true)
    if (line.trim() !== '') return readLine()
    if ('problem' in made) return setError(made.problem)
    // Without the level a ceiling cannot be checked: hold the press until it is worked out.
    if (levelPending) return setQueued(true)
    if (!mayPass(refusals, override)) return setError(null)
    const drafts = [...made.drafts]
    const words = override.words.trim()
    for (const refusal of refusals) {
      if (refusal.level === 'block')
        drafts.push({
          kind: 'override',
          vesselId,
          rule: refusal.rule,
          words,
          about: refusal.message.slice(0, 400),
          atMs,
        } as unknown as Draft)
    }
    if (await save(drafts, `${made.text} ${record.vessels.get(vesselId)?.body.name ?? ''}`)) onClose()
  }

  /** Puts a typed line into the fields, so that the same checks look at it before it is saved. */
  const readLine = () => {
    const parsed = parseLine(line, record, {
      nowMs,
      defaultVesselId: vesselId === '' ? undefined : vesselId,
      unitFor: (a) => preferredUnit(ANALYTES[a].dimension, preferences),
    })
    if (!parsed.ok) return setError(parsed.error.message)
    fill(parsed.value)
    setLine('')
    setError(null)
  }
  const fill = (draft: LineDraft) => {
    setVesselId(draft.vesselId)
    if (Math.abs(draft.atMs - nowMs) > 60_000) setWhen(localInput(draft.atMs, settings.zone))
    setKind(draft.kind)
    if (draft.kind === 'reading') {
      setAnalyte(draft.analyte)
      setValue(
        draft.quantity.entered.text.match(/[a-z°%]/i)
          ? draft.quantity.entered.text
          : `${draft.quantity.entered.text} ${draft.quantity.entered.unit}`,
      )
    } else if (draft.kind === 'dose') setValue(draft.quantity.entered.text)
    else if (draft.kind === 'change') setValue(draft.text)
    else if (draft.kind === 'meal') setTook(draft.took)
    else setNote(draft.text)
  }

  useEffect(() => {
    if (!queued || levelPending) return
    setQueued(false)
    void submit()
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when the level has been worked out
  }, [queued, levelPending])

  const shownError = error ?? (tried && 'problem' in made && line.trim() === '' ? made.problem : null)
  const residentChoice = (label: string) => (
    <Select
      label={label}
      value={residentId}
      onChange={setResidentId}
      options={[
        { value: '', label: kind === 'move' ? (residents[0]?.body.name ?? 'nobody') : 'All of them' },
        ...residents.slice(kind === 'move' ? 1 : 0).map(({ id, body }) => ({ value: id, label: body.name })),
      ]}
    />
  )
  return (
    <Dialog title={preset.corrects !== undefined ? 'Correct an entry' : 'Log something'} isOpen onClose={onClose} wide>
      <form onSubmit={(event) => void submit(event)}>
        <Stack $gap={14}>
          <Row $gap={14} style={{ alignItems: 'flex-start' }}>
            <div style={{ flex: '1 1 180px' }}>
              <Select
                label="Vessel"
                value={vesselId}
                onChange={setVesselId}
                options={vessels.map(({ id, body }) => ({ value: id, label: body.name }))}
              />
            </div>
            <TimeInput style={{ flex: '1 1 180px' }}>
              <span>When {when === '' && <Quiet>(now)</Quiet>}</span>
              <input
                type="datetime-local"
                value={when === '' ? localInput(nowMs, settings.zone) : when}
                max={localInput(nowMs, settings.zone)}
                onChange={(event) => setWhen(event.target.value)}
              />
            </TimeInput>
          </Row>
          {preset.corrects === undefined && (
            <Choice
              label="What"
              hideLabel
              value={kind}
              onChange={(next) => {
                setKind(next)
                setError(null)
                setTried(false)
                setOverride(NO_OVERRIDE)
                setValue('')
              }}
              options={KINDS}
            />
          )}

          {kind === 'reading' && (
            <Stack>
              <Row $gap={14} style={{ alignItems: 'flex-start' }}>
                <div style={{ flex: '1 1 160px' }}>
                  <Select
                    label="Of"
                    value={analyte}
                    onChange={(next) => setAnalyte(next as Analyte)}
                    options={Object.entries(ANALYTES).map(([id, { word }]) => ({ value: id, label: word }))}
                  />
                </div>
                <div style={{ flex: '1 1 160px' }}>
                  <Field
                    label={about.word}
                    unit={unit}
                    value={value}
                    onChange={(next) => {
                      setValue(next)
                      setError(null)
                    }}
                    numeric
                    autoFocus
                    error={shownError}
                    placeholder={
                      last?.kind === 'reading' ? `last ${number(last.value, about.dimension, unit)}` : undefined
                    }
                  />
                </div>
                {instruments.length > 0 && (
                  <div style={{ flex: '1 1 160px' }}>
                    <Select
                      label="With"
                      value={instrument ?? ''}
                      onChange={setInstrumentId}
                      options={instruments.map(({ id, body }) => ({ value: id, label: body.name }))}
                    />
                  </div>
                )}
              </Row>
              {(last ?? estimate) && (
                <Well>
                  {last?.kind === 'reading' && (
                    <>
                      Last{' '}
                      <strong>
                        {number(last.value, about.dimension, unit)} {unit}
                      </strong>{' '}
                      <Quiet>{whenText(instantMs(last.at), nowMs, settings)}.</Quiet>{' '}
                    </>
                  )}
                  {dayBefore?.kind === 'reading' && dayBefore.id !== last?.id && (
                    <>
                      A week ago{' '}
                      <strong>
                        {number(dayBefore.value, about.dimension, unit)} {unit}
                      </strong>
                      .{' '}
                    </>
                  )}
                  {analyte === plan?.band?.form.agent && estimate && (
                    <>
                      The record expects{' '}
                      <strong>
                        {levelText(estimate.now.p10)} to {levelText(estimate.now.p90)} mg/L
                      </strong>{' '}
                      now.
                    </>
                  )}
                </Well>
              )}
            </Stack>
          )}
          {kind === 'dose' && (
            <Stack>
              {product && <HazardCard hazardIds={agentForm(product.body.form)?.hazards ?? []} short />}
              <Row $gap={14} style={{ alignItems: 'flex-start' }}>
                <div style={{ flex: '2 1 220px' }}>
                  <Select
                    label="Bottle"
                    value={productId}
                    onChange={setProductId}
                    options={[...record.products.values()].map(({ id, body }) => ({ value: id, label: body.name }))}
                  />
                </div>
                <div style={{ flex: '1 1 160px' }}>
                  <Field
                    label="Poured"
                    unit={per === 'drop' ? 'drops' : per === 'tablet' ? 'tablets' : per}
                    value={value}
                    onChange={(next) => {
                      setValue(next)
                      setError(null)
                    }}
                    numeric
                    autoFocus
                    error={shownError}
                  />
                </div>
              </Row>
              {content?.ok && volume && parseFloat(value) > 0 && (
                <Well>
                  {parseFloat(value.replace(',', '.'))} {per} of {content.value.mg} mg/{per} in{' '}
                  {litresText(estimate?.volume.meanL ?? volume.litres, settings)}: from{' '}
                  <strong>{levelText(estimate && plan?.band ? estimate.now.p50 : 0)}</strong> to{' '}
                  <strong>
                    {levelText(
                      resultingLevel(
                        estimate && plan?.band ? estimate.now.p50 : 0,
                        parseFloat(value.replace(',', '.')),
                        content.value.mg,
                        estimate?.volume.meanL ?? volume.litres,
                      ),
                    )}{' '}
                    mg/L
                  </strong>
                </Well>
              )}
            </Stack>
          )}
          {kind === 'change' && (
            <Row $gap={14} style={{ alignItems: 'flex-start' }}>
              <div style={{ flex: '1 1 180px' }}>
                <Field
                  label="Changed"
                  value={value}
                  onChange={(next) => {
                    setValue(next)
                    setError(null)
                  }}
                  autoFocus
                  error={shownError}
                  hint="25 % of the net water, or 17 L"
                />
              </div>
              {plan?.band && (
                <div style={{ flex: '1 1 180px' }}>
                  <Field
                    label={`New water held ${plan.band.form.agent}`}
                    unit="mg/L"
                    value={madeUp}
                    onChange={setMadeUp}
                    numeric
                    hint="Leave empty when it was undosed: the level falls."
                  />
                </div>
              )}
            </Row>
          )}
          {kind === 'meal' && (
            <Row $gap={14} style={{ alignItems: 'flex-end' }}>
              <Choice
                label="They"
                value={took}
                onChange={setTook}
                options={[
                  { value: 'took', label: 'took it' },
                  { value: 'tried', label: 'tried' },
                  { value: 'ignored', label: 'ignored it' },
                ]}
              />
              <div style={{ flex: '1 1 160px' }}>{residentChoice('Who')}</div>
            </Row>
          )}
          {kind === 'sign' && (
            <Row $gap={14}>
              <div style={{ flex: '2 1 220px' }}>
                <Select
                  label="Seen"
                  value={sign}
                  onChange={setSign}
                  options={SIGNS.map(([value_, label]) => ({ value: value_, label }))}
                />
              </div>
              <div style={{ flex: '1 1 160px' }}>{residentChoice('On')}</div>
            </Row>
          )}
          {kind === 'equipment' && (
            <Row $gap={14} style={{ alignItems: 'flex-end' }}>
              <div style={{ flex: '1 1 160px' }}>
                <Select
                  label="What"
                  value={item}
                  onChange={(next) => setItem(next as Item)}
                  options={ITEMS.map((one) => ({ value: one, label: EQUIPMENT[one] }))}
                />
              </div>
              <Choice
                label="Now"
                value={itemOn}
                onChange={setItemOn}
                options={[
                  { value: 'in', label: 'in, or on' },
                  { value: 'out', label: 'out, or off' },
                ]}
              />
            </Row>
          )}
          {kind === 'move' && (
            <Row $gap={14}>
              <div style={{ flex: '1 1 160px' }}>{residentChoice('Who moves')}</div>
              <div style={{ flex: '1 1 160px' }}>
                <Select
                  label="To"
                  value={toVesselId}
                  onChange={setToVesselId}
                  options={[
                    { value: '', label: 'Gone (not on the shelf)' },
                    ...vessels
                      .filter(({ id }) => id !== vesselId)
                      .map(({ id, body }) => ({ value: id, label: body.name })),
                  ]}
                />
              </div>
            </Row>
          )}
          {(kind === 'note' || note !== '') && (
            <Field
              label="Note"
              value={note}
              onChange={setNote}
              multiline
              error={kind === 'note' ? shownError : null}
              autoFocus={kind === 'note'}
            />
          )}
          {'problem' in made
            ? null
            : (tried || kind === 'equipment' || value.trim() !== '') && (
                <Refusals refusals={refusals} override={override} onOverride={setOverride} />
              )}
          {kind !== 'note' && note === '' && preset.corrects === undefined && (
            <Field
              label="Or type one line"
              value={line}
              onChange={(next) => {
                setLine(next)
                setError(null)
              }}
              placeholder="Holding A copper 1.9, 20:10"
              error={line.trim() !== '' ? error : null}
              hint={
                line.trim() !== ''
                  ? 'Enter puts it into the fields above, where you can look at it before it is saved.'
                  : undefined
              }
            />
          )}
          {shownError !== null && kind !== 'reading' && kind !== 'dose' && kind !== 'change' && kind !== 'note' && (
            <p role="alert" style={{ color: 'var(--danger)', fontWeight: 650 }}>
              {shownError}
            </p>
          )}
          <Row>
            <Button look="main" type="submit">
              {queued
                ? 'Working out the level…'
                : line.trim() !== ''
                  ? 'Read the line'
                  : preset.corrects !== undefined
                    ? 'Save the correction'
                    : 'Save'}
            </Button>
            {kind !== 'note' && note === '' && (
              <Button look="bare" onPress={() => setNote(' ')}>
                Add a note
              </Button>
            )}
          </Row>
        </Stack>
      </form>
    </Dialog>
  )
}

const number = (canonical: number, dimension: Parameters<typeof fromCanonical>[0], unit: string): string =>
  String(Number(fromCanonical(dimension, canonical, unit).toPrecision(4)))
