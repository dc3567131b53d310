// One line of typing: "Holding A copper 1.9, 20:10" → a draft of an entry, or a sentence that says what is missing.
import { err, ok, type Result } from '../result.ts'
import { parseQuantity, type ParsedQuantity } from '../units/parse.ts'
import type { Dimension } from '../units/units.ts'
import { timeOfDayBefore } from '../time/time.ts'
import type { Analyte, KeeperRecord } from './types.ts'

export type LineDraft =
  | {
      readonly kind: 'reading'
      readonly vesselId: string
      readonly atMs: number
      readonly analyte: Analyte
      readonly quantity: ParsedQuantity
    }
  | { readonly kind: 'dose'; readonly vesselId: string; readonly atMs: number; readonly quantity: ParsedQuantity }
  | {
      readonly kind: 'change'
      readonly vesselId: string
      readonly atMs: number
      readonly fraction?: number
      readonly litres?: number
      readonly text: string
    }
  | {
      readonly kind: 'meal'
      readonly vesselId: string
      readonly atMs: number
      readonly took: 'took' | 'tried' | 'ignored'
    }
  | { readonly kind: 'note'; readonly vesselId: string; readonly atMs: number; readonly text: string }

/** How each analyte is called, the dimension it is read in, and the unit its field shows. */
export const ANALYTES: Readonly<
  Record<
    Analyte,
    {
      readonly word: string
      readonly spellings: readonly string[]
      readonly dimension: Dimension
      readonly unit: string
      readonly max: number
    }
  >
> = {
  copper: { word: 'Copper', spellings: ['copper', 'cu'], dimension: 'concentration', unit: 'mg/L', max: 20 },
  'ammonia-total': {
    word: 'Total ammonia',
    spellings: ['ammonia', 'tan', 'nh4', 'total ammonia'],
    dimension: 'concentration',
    unit: 'mg/L',
    max: 50,
  },
  'ammonia-free': {
    word: 'Free ammonia',
    spellings: ['free ammonia', 'nh3', 'badge'],
    dimension: 'concentration',
    unit: 'mg/L',
    max: 5,
  },
  nitrite: { word: 'Nitrite', spellings: ['nitrite', 'no2'], dimension: 'concentration', unit: 'mg/L', max: 100 },
  nitrate: { word: 'Nitrate', spellings: ['nitrate', 'no3'], dimension: 'concentration', unit: 'mg/L', max: 1000 },
  phosphate: { word: 'Phosphate', spellings: ['phosphate', 'po4'], dimension: 'concentration', unit: 'mg/L', max: 50 },
  ph: { word: 'pH', spellings: ['ph'], dimension: 'ph', unit: 'pH', max: 14 },
  temperature: {
    word: 'Temperature',
    spellings: ['temperature', 'temp'],
    dimension: 'temperature',
    unit: '°C',
    max: 45,
  },
  salinity: { word: 'Salinity', spellings: ['salinity', 'salt', 'sg'], dimension: 'salinity', unit: 'ppt', max: 60 },
  conductivity: {
    word: 'Conductivity',
    spellings: ['conductivity', 'ec'],
    dimension: 'conductivity',
    unit: 'µS/cm',
    max: 70_000,
  },
  alkalinity: {
    word: 'Alkalinity',
    spellings: ['alkalinity', 'alk', 'kh'],
    dimension: 'alkalinity',
    unit: 'dKH',
    max: 40,
  },
  silicate: { word: 'Silicate', spellings: ['silicate', 'sio2'], dimension: 'concentration', unit: 'mg/L', max: 50 },
  calcium: { word: 'Calcium', spellings: ['calcium', 'ca'], dimension: 'concentration', unit: 'mg/L', max: 1000 },
  magnesium: { word: 'Magnesium', spellings: ['magnesium'], dimension: 'concentration', unit: 'mg/L', max: 3000 },
  potassium: { word: 'Potassium', spellings: ['potassium'], dimension: 'concentration', unit: 'mg/L', max: 1000 },
  gh: { word: 'General hardness', spellings: ['gh', 'general hardness'], dimension: 'hardness', unit: 'dGH', max: 60 },
  tds: {
    word: 'Dissolved solids',
    spellings: ['tds', 'dissolved solids'],
    dimension: 'concentration',
    unit: 'mg/L',
    max: 50_000,
  },
  oxygen: { word: 'Oxygen', spellings: ['oxygen', 'o2'], dimension: 'concentration', unit: 'mg/L', max: 25 },
}

/** What an analyte is called inside a sentence: as on its field, in small letters but for pH. */
export const analyteWord = (analyte: Analyte): string =>
  analyte === 'ph' ? ANALYTES.ph.word : ANALYTES[analyte].word.toLowerCase()

export interface LineProblem {
  readonly kind: 'vessel' | 'kind' | 'quantity' | 'time'
  readonly message: string
}

/**
 * Reads one typed line. The vessel may be left out when `defaultVesselId` says which one is meant; a bare number is
 * taken in the unit that the analyte's field shows, which the answer repeats. Nothing is guessed beyond that.
 */
export function parseLine(
  text: string,
  record: KeeperRecord,
  options: {
    readonly nowMs: number
    readonly defaultVesselId?: string
    readonly unitFor?: (analyte: Analyte) => string
  },
): Result<LineDraft, LineProblem> {
  let rest = text.trim()
  const problem = (kind: LineProblem['kind'], message: string) => err<LineProblem>({ kind, message })
  if (rest === '') return problem('kind', 'Type what happened, for example: Holding A copper 1.9, 20:10')

  const names = [...record.vessels.values()]
    .map((vessel) => ({ id: vessel.id, name: vessel.body.name }))
    .sort((a, b) => b.name.length - a.name.length)
  const named = names.find(
    ({ name }) => rest.toLowerCase().startsWith(name.toLowerCase()) && !/\w/.test(rest.charAt(name.length)),
  )
  const vesselId = named?.id ?? options.defaultVesselId
  if (named) rest = rest.slice(named.name.length).replace(/^[\s,:]+/, '')
  if (vesselId === undefined) {
    return problem(
      'vessel',
      `Say which vessel first: ${names
        .slice(0, 3)
        .map(({ name }) => name)
        .join(', ')}.`,
    )
  }

  let atMs = options.nowMs
  const clock = /[,\s]+(?:at\s+)?(\d{1,2}[:h]\d{2})\s*$/.exec(rest)
  if (clock) {
    const found = timeOfDayBefore(clock[1]!, options.nowMs, record.settings.zone)
    if (found === null) return problem('time', `"${clock[1]}" is not a time of day.`)
    atMs = found
    rest = rest.slice(0, clock.index).trim()
  }

  const lower = rest.toLowerCase()
  if (/^(ate|fed|eaten|took food)\b/.test(lower)) return ok({ kind: 'meal', vesselId, atMs, took: 'took' })
  if (/^(ignored food|did not eat|refused food|not eating)\b/.test(lower))
    return ok({ kind: 'meal', vesselId, atMs, took: 'ignored' })
  if (/^note\b/.test(lower)) return ok({ kind: 'note', vesselId, atMs, text: rest.slice(4).replace(/^[\s:]+/, '') })

  const dose = /^(?:dosed?|add(?:ed)?|poured)\s+(.*)$/i.exec(rest)
  if (dose) {
    const quantity = parseQuantity(dose[1]!, { dimension: 'dose-volume', label: 'The dose', allowBound: false })
    return quantity.ok
      ? ok({ kind: 'dose', vesselId, atMs, quantity: quantity.value })
      : problem('quantity', quantity.error.message)
  }
  const change = /^(?:water\s+)?changed?\s+(.*)$/i.exec(rest)
  if (change) {
    const share = parseQuantity(change[1]!, { dimension: 'share', label: 'The change', max: 100, allowBound: false })
    if (share.ok) return ok({ kind: 'change', vesselId, atMs, fraction: share.value.value / 100, text: change[1]! })
    const volume = parseQuantity(change[1]!, { dimension: 'volume', label: 'The change', allowBound: false })
    return volume.ok
      ? ok({ kind: 'change', vesselId, atMs, litres: volume.value.value, text: change[1]! })
      : problem('quantity', 'How much was changed? Write 25 % or 17 L.')
  }

  const spellings = Object.entries(ANALYTES)
    .flatMap(([analyte, { spellings: words }]) => words.map((word) => ({ analyte: analyte as Analyte, word })))
    .sort((a, b) => b.word.length - a.word.length)
  const match = spellings.find(({ word }) => lower.startsWith(word) && !/[a-z]/.test(lower.charAt(word.length)))
  if (!match) {
    return problem(
      'kind',
      `"${rest}" does not say what it is. Start with copper, ammonia, temperature …, or dose, change, ate, note.`,
    )
  }
  const about = ANALYTES[match.analyte]
  const value = rest.slice(match.word.length).replace(/^[\s:=]+/, '')
  const fieldUnit = match.word === 'sg' ? 'SG' : (options.unitFor?.(match.analyte) ?? about.unit)
  const quantity = parseQuantity(value, { dimension: about.dimension, fieldUnit, max: about.max, label: about.word })
  return quantity.ok
    ? ok({ kind: 'reading', vesselId, atMs, analyte: match.analyte, quantity: quantity.value })
    : problem('quantity', quantity.error.message)
}
