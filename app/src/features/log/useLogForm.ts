// What the log holds while it is typed, and the intent it makes of it.
import {
  ANALYTES,
  headsAt,
  parseLine,
  preferredUnit,
  residentsIn,
  type Analyte,
  type EquipmentIntent,
  type Intent,
  type LineDraft,
} from '@brinvo/core'
import { useMemo, useState } from 'react'
import { useRecord, type Draft } from '../../data/queries.tsx'
import { shelvedVessels } from '../../data/shelf.ts'
import { levelText, localInput, localMs, preferencesOf } from '../../design/words.ts'
import type { LogKind, LogPreset } from '../../shell/LogContext.tsx'
import { useThePlans } from '../../shell/PlansContext.tsx'

export type Item = EquipmentIntent['item']
/** Ways an animal leaves for good, as the choices of where it goes. */
export const LEAVES = { '!died': 'died', '!rehomed': 'rehomed', '!gone': 'other' } as const
type Leave = keyof typeof LEAVES
const isLeave = (to: string): to is Leave => to in LEAVES

/** The course whose product or analyte the log is about; else the one the page stands on. */
export function useLogForm(preset: LogPreset) {
  const { record, active } = useRecord()
  const { plans, nowMs } = useThePlans()
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
  const [vesselId, setVesselId] = useState(
    preset.vesselId ??
      (fromUrl !== undefined && record.vessels.has(fromUrl) ? fromUrl : undefined) ??
      plans.find(({ band }) => band !== null)?.vesselId ??
      vessels[0]?.id ??
      '',
  )
  const inVessel = plans.filter((candidate) => candidate.vesselId === vesselId)
  const plan =
    inVessel.find(({ courseId }) => courseId === preset.courseId) ??
    inVessel.find(({ band }) => band?.form.heldAtLevel) ??
    inVessel.find(({ band }) => band !== null) ??
    inVessel[0] ??
    null
  const course = plan ? record.courses.get(plan.courseId) : undefined

  const [kind, setKind] = useState<LogKind>(preset.kind ?? 'reading')
  const [line, setLine] = useState('')
  const [analyte, setAnalyte] = useState<Analyte>(
    preset.analyte ??
      (plan?.band?.form.heldAtLevel && plan.band.form.agent in ANALYTES
        ? (plan.band.form.agent as Analyte)
        : 'temperature'),
  )
  const [value, setValue] = useState(
    preset.kind === 'dose' && preset.amount !== undefined
      ? String(preset.amount)
      : preset.fraction !== undefined
        ? `${Math.round(preset.fraction * 100)} %`
        : '',
  )
  const [instrumentChoice, setInstrumentId] = useState(preset.instrumentId ?? '')
  const [productId, setProductId] = useState(
    preset.productId ?? Object.values(course?.body.products ?? {})[0] ?? [...record.products.values()][0]?.id ?? '',
  )
  const [use, setUse] = useState('')
  const [madeUp, setMadeUp] = useState(
    preset.replacementMgPerL !== undefined ? levelText(preset.replacementMgPerL) : '',
  )
  const [took, setTook] = useState<'took' | 'tried' | 'ignored'>('took')
  const [sign, setSign] = useState('flashing')
  const [residentId, setResidentId] = useState(preset.residentId ?? '')
  const [heads, setHeads] = useState('')
  const [item, setItem] = useState<Item>('carbon')
  const [itemOn, setItemOn] = useState<'in' | 'out'>('out')
  const [to, setTo] = useState('')
  const [note, setNote] = useState('')
  const [temperature, setTemperature] = useState('')
  const [when, setWhen] = useState(preset.atMs === undefined ? '' : localInput(preset.atMs, settings.zone))

  const residents = useMemo(() => residentsIn(record, active, vesselId, nowMs), [record, active, vesselId, nowMs])
  const about = ANALYTES[analyte]
  const unit = preferredUnit(about.dimension, preferences)
  const instruments = [...record.instruments.values()].filter(
    ({ body }) => body.analyte === analyte && body.retiredAt === undefined,
  )
  const instrumentId =
    instrumentChoice !== '' && instruments.some(({ id }) => id === instrumentChoice)
      ? instrumentChoice
      : (Object.values(course?.body.instruments ?? {}).find((id) =>
          instruments.some((candidate) => candidate.id === id),
        ) ?? instruments[0]?.id)
  const mover = record.residents.get(residentId === '' ? (residents[0]?.id ?? '') : residentId)
  const moverHeads = mover ? headsAt(active, mover, nowMs) : 0

  const base = {
    vesselId,
    ...(when === '' ? {} : { atMs: localMs(when, settings.zone) }),
    ...(preset.courseId === undefined || vesselId !== preset.vesselId ? {} : { courseId: preset.courseId }),
    ...(preset.step !== undefined && vesselId === preset.vesselId ? { step: preset.step } : {}),
    ...(preset.corrects === undefined ? {} : { corrects: preset.corrects }),
    ...(note.trim() === '' ? {} : { note: note.trim() }),
    ...(temperature.trim() === '' ? {} : { temperature: temperature.trim() }),
  }
  /** The intent as typed now, or the sentence that says what is missing. */
  const intentOf = (): Intent | string => {
    if (vesselId === '') return 'There is no vessel yet. Describe one first.'
    const plain = (draft: object, said: string): Intent => {
      const { temperature: _, ...rest } = base as typeof base & { temperature?: string }
      // Notes belong to the course the page speaks of, where it runs in this vessel.
      const courseId = rest.courseId ?? course?.id
      return {
        kind: 'note',
        drafts: [{ ...draft, ...rest, ...(courseId === undefined ? {} : { courseId }) } as unknown as Draft],
        said,
      }
    }
    switch (kind) {
      case 'reading':
        return {
          kind: 'reading',
          ...base,
          analyte,
          text: value,
          ...(instrumentId === undefined ? {} : { instrumentId }),
        }
      case 'dose':
        return { kind: 'dose', ...base, productId, amounts: [value], ...(use === '' ? {} : { form: use }) }
      case 'change':
        return {
          kind: 'change',
          ...base,
          text: value,
          ...(madeUp.trim() === '' ? {} : { makeUp: { productId, text: madeUp } }),
        }
      case 'equipment':
        return { kind: 'equipment', ...base, item, on: itemOn === 'in' }
      case 'move': {
        if (!mover) return 'Nobody is registered in this vessel.'
        const count = heads.trim() === '' ? undefined : Number(heads)
        if (count !== undefined && !(Number.isInteger(count) && count >= 1))
          return 'How many? A whole number, at least 1.'
        const chosen = [{ id: mover.id, ...(count === undefined ? {} : { count }) }]
        return isLeave(to)
          ? { kind: 'leave', ...base, residents: chosen, how: LEAVES[to] }
          : { kind: 'move', ...base, residents: chosen, toVesselId: to }
      }
      case 'meal':
        return plain({ kind: 'meal', took, ...(residentId === '' ? {} : { residentId }) }, 'Meal logged.')
      case 'sign':
        return plain(
          { kind: 'sign', sign, present: true, ...(residentId === '' ? {} : { residentId }) },
          'Sign logged.',
        )
      case 'note':
        return note.trim() === '' ? 'Write a word or two.' : plain({ kind: 'note' }, 'Note logged.')
    }
  }

  /** Puts a typed line into the fields, so that the same checks look at it before it is saved. */
  const readLine = (): string | null => {
    const parsed = parseLine(line, record, {
      nowMs,
      defaultVesselId: vesselId === '' ? undefined : vesselId,
      unitFor: (a) => preferredUnit(ANALYTES[a].dimension, preferences),
    })
    if (!parsed.ok) return parsed.error.message
    fill(parsed.value)
    setLine('')
    return null
  }
  const fill = (draft: LineDraft) => {
    setVesselId(draft.vesselId)
    if (Math.abs(draft.atMs - nowMs) > 60_000) setWhen(localInput(draft.atMs, settings.zone))
    setKind(draft.kind)
    if (draft.kind === 'reading') {
      setAnalyte(draft.analyte)
      const { text, unit: entered } = draft.quantity.entered
      setValue(/[a-z°%]/i.test(text) ? text : `${text} ${entered}`)
    } else if (draft.kind === 'dose') setValue(draft.quantity.entered.text)
    else if (draft.kind === 'change') setValue(draft.text)
    else if (draft.kind === 'meal') setTook(draft.took)
    else setNote(draft.text)
  }

  return {
    vessels,
    residents,
    plan,
    course,
    about,
    unit,
    instruments,
    mover,
    moverHeads,
    vesselId,
    setVesselId,
    kind,
    setKind,
    line,
    setLine,
    readLine,
    analyte,
    setAnalyte,
    value,
    setValue,
    instrumentId,
    setInstrumentId,
    productId,
    setProductId,
    use,
    setUse,
    madeUp,
    setMadeUp,
    took,
    setTook,
    sign,
    setSign,
    residentId,
    setResidentId,
    heads,
    setHeads,
    item,
    setItem,
    itemOn,
    setItemOn,
    to,
    setTo,
    note,
    setNote,
    temperature,
    setTemperature,
    when,
    setWhen,
    intent: intentOf(),
  }
}
export type LogForm = ReturnType<typeof useLogForm>
