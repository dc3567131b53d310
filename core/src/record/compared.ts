// Readings of the same thing by different instruments, brought to one quantity and held against each other.
import { agreementOf, type Agreement, type AgreementRule, type Verdict } from '../trends/agreement.ts'
import { entryMs, instantMs } from '../time/time.ts'
import { ammoniaPka, convertAmmonia, freeAmmoniaShare } from '../water/ammonia.ts'
import { salinityFromConductivity } from '../water/salinity.ts'
import type { Working } from '../working.ts'
import { indexOf } from './ledgerIndex.ts'
import { ANALYTES } from './typedLine.ts'
import type { ActiveLedger, Analyte, Entry, InstrumentBody, KeeperRecord, ReadingEntry } from './types.ts'

const MINUTE = 60_000
const HOUR = 60 * MINUTE
const DAY = 24 * HOUR

/** pH and temperature belong to an ammonia reading when taken in the same quarter of an hour. @source handbook 30 amm-convert */
export const BESIDE_MIN = 15
/** Readings of one sitting: a badge needs up to four hours to rise. @source handbook 30 amm-badge-faults */
export const SITTING_H = 4
/** A third reading is wanted within this time. @source handbook 30 amm-third */
export const THIRD_WITHIN_H = 2
/** The strict choice where pH or temperature was never read. @source handbook 30 §1.5, column TAN-N */
export const STRICT = { ph: 8.2, tempC: 25 } as const
/** Under this both instruments show nothing, mg/L of NH3-N. @source handbook 30 amm-agree */
export const AMMONIA_FLOOR = 0.01

/** Step and relative error where the instrument is not in the cupboard. @source handbook 65.5 */
const TYPICAL: Partial<Record<Analyte, Pick<InstrumentBody, 'step' | 'relativeError'>>> = {
  'ammonia-total': { step: 0.25, relativeError: 0.25 },
  'ammonia-free': { step: 0.02, relativeError: 0.5 },
  nitrite: { step: 0.1, relativeError: 0.25 },
  nitrate: { step: 5, relativeError: 0.25 },
  phosphate: { step: 0.03, relativeError: 0.2 },
  silicate: { step: 0.1, relativeError: 0.2 },
  alkalinity: { step: 0.5, relativeError: 0.04 },
  calcium: { step: 10, relativeError: 0.04 },
  magnesium: { step: 30, relativeError: 0.04 },
  potassium: { step: 15, relativeError: 0.05 },
  copper: { step: 0.05, relativeError: 0.1 },
  ph: { step: 0.1, relativeError: 0 },
  temperature: { step: 0.5, relativeError: 0 },
  salinity: { step: 2, relativeError: 0 },
  conductivity: { step: 100, relativeError: 0.015 },
  oxygen: { step: 0.5, relativeError: 0.05 },
  gh: { step: 1, relativeError: 0.05 },
  tds: { step: 10, relativeError: 0.05 },
}
/** What reads it where no instrument was named. */
const UNNAMED: Partial<Record<Analyte, string>> = { 'ammonia-total': 'Drop test', 'ammonia-free': 'Badge' }
const PH_SD = 0.05

/** Half a step or the relative error, whichever is larger. @source handbook 65.5 */
export const instrumentSd = (instrument: Pick<InstrumentBody, 'step' | 'relativeError'>, value: number): number =>
  Math.max(0.5 * instrument.step, instrument.relativeError * Math.abs(value))

/** What is compared: free ammonia from both fractions, salinity from both meters, the rest as read. */
export type Quantity = 'ammonia' | Exclude<Analyte, 'ammonia-total' | 'ammonia-free' | 'conductivity'>
const quantityOf = (analyte: Analyte, marine: boolean): Quantity | null =>
  analyte === 'ammonia-total' || analyte === 'ammonia-free'
    ? 'ammonia'
    : analyte === 'conductivity'
      ? marine
        ? 'salinity'
        : null
      : analyte
/** How a quantity's instruments are held against each other. */
export const agreementRule = (quantity: Quantity): AgreementRule =>
  quantity === 'ammonia' ? { kind: 'ratio', floor: AMMONIA_FLOOR } : { kind: 'error' }

export interface ComparedReading {
  readonly entry: ReadingEntry
  readonly ms: number
  /** The instrument's id, or the analyte where none was named. */
  readonly by: string
  readonly name: string
  /** In the unit of the comparison. */
  readonly value: number
  readonly sd: number
  readonly below: boolean
  readonly working: Working | null
  /** What had to be assumed for it. */
  readonly assumed: readonly string[]
}
export interface Sitting extends Omit<Agreement, 'verdict'> {
  /** `bound`: a binder went in lately, so the total counts what is bound and the free fraction alone counts. */
  readonly verdict: Verdict | 'bound'
  readonly quantity: Quantity
  readonly label: string
  readonly unit: string
  /** One per instrument, newest sitting, in order of time. */
  readonly readings: readonly ComparedReading[]
  readonly newestMs: number
  readonly working: Working
}

const entriesOf = (active: ActiveLedger, vesselId: string): readonly Entry[] =>
  indexOf(active).byVessel.get(vesselId)?.entries ?? []

/** Entries of a vessel between two instants, both included: from the newest back, for years of them lie before. */
function within(active: ActiveLedger, vesselId: string, fromMs: number, toMs: number): Entry[] {
  const entries = entriesOf(active, vesselId)
  const found: Entry[] = []
  for (let i = entries.length - 1; i >= 0; i--) {
    const ms = entryMs(entries[i]!)
    if (ms < fromMs) break
    if (ms <= toMs) found.push(entries[i]!)
  }
  return found.reverse()
}
const readingsOf = (active: ActiveLedger, vesselId: string, fromMs: number, toMs: number): ReadingEntry[] =>
  within(active, vesselId, fromMs, toMs).filter((entry): entry is ReadingEntry => entry.kind === 'reading')

/** The reading of an analyte nearest in time; null where there is none within a day. */
function nearest(readings: readonly ReadingEntry[], analyte: Analyte, ms: number): ReadingEntry | null {
  let best: ReadingEntry | null = null
  for (const reading of readings) {
    if (reading.analyte !== analyte) continue
    const far = Math.abs(entryMs(reading) - ms)
    if (far <= DAY && (best === null || far < Math.abs(entryMs(best) - ms))) best = reading
  }
  return best
}

/** A reading in the unit of its comparison, with the error of its instrument. */
function compared(
  record: KeeperRecord,
  readings: readonly ReadingEntry[],
  entry: ReadingEntry,
  marine: boolean,
): ComparedReading {
  const ms = entryMs(entry)
  const instrument = entry.instrumentId === undefined ? undefined : record.instruments.get(entry.instrumentId)
  const told = instrument?.body ?? TYPICAL[entry.analyte] ?? { step: 0.1, relativeError: 0.1 }
  // The step of a kit is told on its own scale, the reading is kept as N.
  const body = { ...told, step: convertAmmonia(told.step, instrument?.body.ammoniaForm ?? 'nh3_n', 'nh3_n') }
  // Nothing shown means less than it can show. @source handbook 65.5 dis-zero
  const limited = entry.analyte.startsWith('ammonia') || entry.analyte === 'nitrite'
  const below = entry.bound === 'below' || (limited && entry.value <= 0)
  const limit = entry.bound === 'below' ? entry.value : body.step
  const read = below ? limit / 2 : entry.value
  const own = below ? limit / 2 : instrumentSd(body, entry.value)
  const base = {
    below,
    entry,
    ms,
    by: entry.instrumentId ?? entry.analyte,
    name: instrument?.body.name ?? UNNAMED[entry.analyte] ?? ANALYTES[entry.analyte].word,
  }
  if (entry.analyte === 'conductivity')
    return {
      ...base,
      value: salinityFromConductivity(entry.value / 1000, 25),
      sd: Math.max(0.5, (own / Math.max(entry.value, 1)) * 35),
      working: null,
      assumed: [],
    }
  if (entry.analyte !== 'ammonia-total') return { ...base, value: read, sd: own, working: null, assumed: [] }
  const assumed: string[] = []
  const beside = (analyte: 'ph' | 'temperature' | 'salinity') => {
    const found = nearest(readings, analyte, ms)
    const minutes = found ? Math.round(Math.abs(entryMs(found) - ms) / MINUTE) : null
    if (minutes !== null && minutes > BESIDE_MIN && analyte !== 'salinity')
      assumed.push(
        `${ANALYTES[analyte].word} was read ${minutes < 120 ? `${minutes} min` : `${Math.round(minutes / 60)} h`} apart.`,
      )
    return found
  }
  const ph = beside('ph')
  const temp = beside('temperature')
  const salt = beside('salinity')
  if (!ph) assumed.push(`pH ${STRICT.ph} assumed: none was read within a day.`)
  if (!temp) assumed.push(`${STRICT.tempC} °C assumed: none was read within a day.`)
  const water = {
    phNbs: ph?.value ?? STRICT.ph,
    tempC: temp?.value ?? STRICT.tempC,
    salinityPsu: salt?.value ?? (marine ? 35 : 0),
  }
  const pKa = ammoniaPka(water.tempC, water.salinityPsu)
  const share = freeAmmoniaShare(pKa, water.phNbs)
  const late = ph !== null && Math.abs(entryMs(ph) - ms) > BESIDE_MIN * MINUTE
  // The share moves by ln 10 × (1 − share) of itself with a pH of one.
  const shareSd = Math.LN10 * (1 - share) * (ph === null ? 0.3 : late ? 2 * PH_SD : PH_SD)
  const value = read * share
  const sd = Math.hypot(own * share, value * shareSd)
  return {
    ...base,
    value,
    sd,
    assumed,
    working: {
      title: `Free ammonia by ${base.name}`,
      formula: 'free = total ÷ (1 + 10^(pKa − pH))',
      inputs: [
        {
          label: below ? 'Total ammonia, half of the least it shows' : 'Total ammonia',
          value: read,
          unit: 'mg/L of N',
          sd: own,
          entryIds: [entry.id],
        },
        ...(['ph', 'temperature', 'salinity'] as const).map((analyte) => {
          const found = { ph, temperature: temp, salinity: salt }[analyte]
          return {
            label: ANALYTES[analyte].word,
            value: { ph: water.phNbs, temperature: water.tempC, salinity: water.salinityPsu }[analyte],
            unit: analyte === 'ph' ? '' : ANALYTES[analyte].unit,
            ...(found ? { entryIds: [found.id] } : { from: 'assumed' }),
          }
        }),
        { label: 'pKa', value: pKa, unit: '' },
        { label: 'Free share', value: 100 * share, unit: '%' },
      ],
      result: { label: 'Free ammonia', value, unit: 'mg/L of N', sd },
      source: water.salinityPsu < 1 ? 'Emerson et al. 1975' : 'Bell et al. 2007, corrigendum 2008',
      ...(assumed.length > 0 ? { notes: assumed } : {}),
    },
  }
}

/** The sitting that ends with a reading: newest of each instrument within four hours, no water change between. */
function sitting(
  active: ActiveLedger,
  vesselId: string,
  ofQuantity: readonly ReadingEntry[],
  last: ReadingEntry,
): ReadingEntry[] {
  const endMs = entryMs(last)
  const sinceMs = endMs - SITTING_H * HOUR
  const change = within(active, vesselId, sinceMs, endMs).findLast(({ kind }) => kind === 'change')
  const fromMs = Math.max(sinceMs, change ? entryMs(change) : -Infinity)
  const byInstrument = new Map<string, ReadingEntry>()
  for (const entry of ofQuantity) {
    const ms = entryMs(entry)
    if (ms >= fromMs && ms <= endMs) byInstrument.set(entry.instrumentId ?? entry.analyte, entry)
  }
  const found = [...byInstrument.values()].sort((a, b) => entryMs(a) - entryMs(b))
  // A reading without an instrument is nobody else's: with a named one of its kind only the newer counts.
  const kind = ({ analyte }: ReadingEntry) => found.filter((entry) => entry.analyte === analyte)
  return found.filter(
    (entry) => kind(entry).every(({ instrumentId }) => instrumentId !== undefined) || kind(entry).at(-1) === entry,
  )
}

/** For so long after a binder the total may stay high while the free fraction is low, hours. @source handbook 30 amm-binder */
export const BINDER_H = 48
const binderBefore = (active: ActiveLedger, vesselId: string, ms: number): Entry | undefined =>
  within(active, vesselId, ms - BINDER_H * HOUR, ms).findLast(
    (entry) => entry.kind === 'equipment' && entry.item === 'binder' && entry.on,
  )

const LABEL = (quantity: Quantity): { label: string; unit: string } =>
  quantity === 'ammonia'
    ? { label: 'Free ammonia', unit: 'mg/L of N' }
    : { label: ANALYTES[quantity].word, unit: ANALYTES[quantity].unit }

/**
 * Instruments of a vessel held against each other: the newest sitting of every quantity read within `days`. One entry
 * per quantity, those read by a single instrument too. Pure.
 */
export function comparisonsOf(
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  nowMs: number,
  days = 7,
): Sitting[] {
  const marine = record.vessels.get(vesselId)?.body.water !== 'fresh'
  const readings = readingsOf(active, vesselId, nowMs - (days + 1) * DAY, nowMs)
  const byQuantity = new Map<Quantity, ReadingEntry[]>()
  for (const entry of readings) {
    const quantity = quantityOf(entry.analyte, marine)
    if (quantity === null) continue
    const list = byQuantity.get(quantity)
    if (list) list.push(entry)
    else byQuantity.set(quantity, [entry])
  }
  return [...byQuantity].flatMap(([quantity, list]) => {
    const last = list.at(-1)!
    if (nowMs - entryMs(last) > days * DAY) return []
    const of = sitting(active, vesselId, list, last).map((entry) => compared(record, readings, entry, marine))
    const free = of.filter(({ entry }) => entry.analyte === 'ammonia-free')
    const bound =
      quantity === 'ammonia' && free.length > 0 && binderBefore(active, vesselId, entryMs(last)) !== undefined
    const held = agreementOf(bound ? free : of, agreementRule(quantity))
    const agreement = bound && of.length > free.length ? { ...held, verdict: 'bound' as const } : held
    const { label, unit } = LABEL(quantity)
    return [
      {
        ...agreement,
        quantity,
        label,
        unit,
        readings: of,
        newestMs: entryMs(last),
        working: {
          title: `${label}: what counts`,
          formula:
            quantity === 'ammonia'
              ? 'agree when both < 0.01 or the larger < 2 × the smaller; the larger counts'
              : 'agree when |a − b| < 2 × √(sd₁² + sd₂²); then weighed by 1 / sd²',
          inputs: of.map(({ name, value, sd, entry }) => ({
            label: name,
            value,
            unit,
            sd,
            from: `read ${entry.entered ? `${entry.entered.value} ${entry.entered.unit}` : `${entry.value} ${entry.unit}`}`,
            entryIds: [entry.id],
          })),
          result: {
            label: agreement.rules === null ? 'None counts until a third reading' : 'Counts',
            value: agreement.rules ?? '–',
            unit,
          },
          source: 'handbook 30 §1.5, 65.5',
          notes: [
            ...(of.length > 1 ? [`${agreement.z.toFixed(1)} standard deviations apart.`] : []),
            ...of.flatMap(({ assumed }) => assumed),
          ],
          parts: of.flatMap(({ working }) => working ?? []),
        },
      },
    ]
  })
}

/** The comparison of free ammonia in a vessel; null where none was read within `days`. */
export const ammoniaOf = (
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  nowMs: number,
  days = 7,
): Sitting | null =>
  comparisonsOf(record, active, vesselId, nowMs, days).find(({ quantity }) => quantity === 'ammonia') ?? null

export interface Suspicion {
  readonly instrumentId: string
  readonly sinceMs: number
  readonly vesselId: string
  readonly label: string
}
/** How far back an unchecked instrument stays under suspicion, days. @source handbook 65.5 dis-third */
const SUSPECT_DAYS = 60

/** Instruments a third reading spoke against, and that were not checked against a standard since. Pure. */
export function suspectInstruments(
  record: KeeperRecord,
  active: ActiveLedger,
  nowMs: number,
): ReadonlyMap<string, Suspicion> {
  const found = new Map<string, Suspicion>()
  for (const [vesselId, vessel] of record.vessels) {
    const marine = vessel.body.water !== 'fresh'
    const readings = readingsOf(active, vesselId, nowMs - SUSPECT_DAYS * DAY, nowMs)
    const instruments = new Map<Quantity, Set<string>>()
    for (const { analyte, instrumentId } of readings) {
      const quantity = quantityOf(analyte, marine)
      if (quantity !== null)
        instruments.set(quantity, (instruments.get(quantity) ?? new Set()).add(instrumentId ?? analyte))
    }
    for (const [quantity, names] of instruments) {
      if (names.size < 3) continue
      const list = readings.filter(({ analyte }) => quantityOf(analyte, marine) === quantity)
      for (const last of list) {
        const of = sitting(active, vesselId, list, last)
        if (of.length < 3) continue
        if (quantity === 'ammonia' && binderBefore(active, vesselId, entryMs(last))) continue
        const { suspects } = agreementOf(
          of.map((entry) => compared(record, readings, entry, marine)),
          agreementRule(quantity),
        )
        for (const id of suspects) {
          const checkedAt = record.instruments.get(id)?.body.checkedAt
          if (!record.instruments.has(id)) continue
          if (checkedAt !== undefined && instantMs(checkedAt) >= entryMs(last)) continue
          found.set(id, { instrumentId: id, sinceMs: entryMs(last), vesselId, label: LABEL(quantity).label })
        }
      }
    }
  }
  return found
}

/** What to do about instruments on the same water, in a sentence; empty where there is nothing to say. */
export function verdictWords(
  verdict: Sitting['verdict'],
  rule: AgreementRule['kind'],
  suspects: readonly string[],
): string {
  switch (verdict) {
    case 'one':
      return ''
    case 'bound':
      return `A binder went in less than ${BINDER_H} hours ago: the drop test still counts what is bound, so the badge counts. That is no disagreement.`
    case 'agree':
      return rule === 'ratio' ? 'They agree; the higher one counts.' : 'They agree; the surer one counts for more.'
    case 'near':
      return 'Apart, but no further than their errors reach. The higher one counts; read again with a fresh sample.'
    case 'conflict':
      return rule === 'ratio'
        ? `They do not agree. Act on the higher one, by air, water change or move only, until a third reading within ${THIRD_WITHIN_H} hours: a kit of another lot, a photometer, or the same sample read elsewhere.`
        : `They do not agree. Nothing is dosed on either until a third reading within ${THIRD_WITHIN_H} hours: a standard, or another method.`
    case 'settled':
      return suspects.length === 0
        ? 'The third lies between the two and agrees with both.'
        : `The third agrees with one of them. Not to be trusted until it is checked: ${suspects.join(', ')}.`
    case 'no-match':
      return 'No two agree. Keep acting on the worst, change a third to half of the water each day, and read all again tomorrow.'
  }
}
