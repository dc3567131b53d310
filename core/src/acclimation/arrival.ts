// What the record says of an arrival: its stage, each container's water as measured or assumed, the receiving water.
import { containerEntries } from './stage.ts'
import { groupOf } from '../knowledge/agents.ts'
import { holdsCopper } from '../safety/water.ts'
import type {
  ActiveLedger,
  ArrivalDocument,
  Container,
  ContainerEntry,
  KeeperRecord,
  ReadingEntry,
} from '../record/types.ts'
import { entryMs, instantMs, instantOf } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { NBS_MINUS_TOTAL_AT_SEA } from '../water/carbonate.ts'
import { TDS_PER_US } from '../water/salinity.ts'
import { isFouled, type BagInputs, type CompareInputs, type Ranged, type TankInputs } from './compare.ts'
import { acclimationModel, kindOf, transitOf, type AcclimationKind } from './kinds.ts'
import type { LiveInputs } from './live.ts'
import { settingsFor, type MethodSettings } from './methods.ts'
import type { WaterState } from './run.ts'

/** Hours in the bag at an instant; a bag may have been closed at a time of its own. null: nobody knows when. */
export function transitHours(
  arrival: ArrivalDocument,
  container: Container | null,
  entries: readonly ContainerEntry[],
  nowMs: number,
): number | null {
  const packedAt = container?.packedAt ?? arrival.body.packedAt
  if (packedAt === undefined) return null
  const opened = entries.find(({ act }) => act === 'open')
  return Math.max(0, ((opened ? entryMs(opened) : nowMs) - instantMs(packedAt)) / MS_PER_HOUR)
}

/**
 * Errors of what keepers read with, one standard deviation. Bag and tank are read with the same meter within minutes, so
 * salinity and temperature carry its scatter, not its offset. @source handbook 65.5, EST for the scatter
 */
const READING_SD = {
  tempC: () => 0.2,
  salinityPsu: () => 0.2,
  conductivityUs: (value: number) => 0.03 * value,
  phNbs: () => 0.1,
  alkalinityDkh: (value: number) => Math.max(0.25, 0.04 * value),
  tanMgN: (value: number) => Math.max(0.125, 0.25 * value),
  volumeL: (value: number) => 0.1 * value,
} as const
type Measurable = keyof typeof READING_SD
/** Nine in ten of a normal error lie within 1.64 sd on either side together; the range is that wide. */
const measured = (field: Measurable, value: number): Ranged => {
  const off = 1.64 * READING_SD[field](value)
  return { value, low: field === 'phNbs' ? value - off : Math.max(0, value - off), high: value + off }
}
const assumed = (range: Ranged, why: string): Ranged => ({ ...range, assumed: why })
const around = (value: number, below: number, above: number): Ranged => ({
  value,
  low: value - below,
  high: value + above,
})

/** Last measured value of a field before the bag was opened. */
function lastMeasured(entries: readonly ContainerEntry[], field: Measurable): number | null {
  const opened = entries.findIndex(({ act }) => act === 'open')
  const before = opened < 0 ? entries : entries.slice(0, opened)
  const entry = before.findLast((candidate) => candidate.act === 'measured' && candidate[field] !== undefined)
  return entry?.[field] ?? null
}

/** Total ammonia of a closed bag nobody tested: by the animals' mass, the hours and the water; else by the hours. */
export function estimatedTan(kind: AcclimationKind, massG: Ranged | null, hours: number, volumeL: number): Ranged {
  if (massG === null) return { ...transitOf(hours).tanMgN }
  const at = (rate: number, mass: number) => (rate * (mass / 1000) * hours) / volumeL
  const { low, value, high } = kind.excretionMgNPerKgH
  return { low: at(low, massG.low), value: at(value, massG.value), high: at(high, massG.high) }
}

/** A bag's water: what was measured with its error, what was not as a range with its reason. */
export function bagInputs(options: {
  readonly kind: AcclimationKind
  readonly water: 'marine' | 'fresh'
  readonly container: Container
  readonly entries: readonly ContainerEntry[]
  readonly hours: number | null
  readonly tank: TankInputs
  readonly roomTempC: number
}): BagInputs {
  const { kind, water, container, entries, tank, roomTempC } = options
  const model = acclimationModel
  const marine = water === 'marine'
  const hours = options.hours ?? 12
  const hoursWord = options.hours === null ? 'hours in the bag unknown, 12 taken' : `${Math.round(hours)} h in the bag`
  const or = (field: Measurable, otherwise: () => Ranged): Ranged => {
    const value = lastMeasured(entries, field)
    return value === null ? otherwise() : measured(field, value)
  }
  const volumeL = or('volumeL', () => assumed(around(1, 0.5, 1), 'Bag volume: 0.5 to 2 L'))
  const massKnown = container.massG
  const massG: Ranged =
    massKnown === undefined
      ? assumed(
          scaledRange(kind.typicalMassG, container.count),
          `Mass of the animals: ${kind.typicalMassG.low}–${kind.typicalMassG.high} g each`,
        )
      : around(massKnown, 0.2 * massKnown, 0.2 * massKnown)
  const conductivity = lastMeasured(entries, 'conductivityUs')
  const salinityPsu: Ranged = marine
    ? or('salinityPsu', () => assumed({ ...model.salinityMarinePsu }, 'Bag salinity: 29 to 35.5 PSU'))
    : conductivity !== null
      ? scaledRange(measured('conductivityUs', conductivity), TDS_PER_US / 1000)
      : assumed(
          scaledRange(model.conductivityFreshUs, TDS_PER_US / 1000),
          `Bag conductivity: ${model.conductivityFreshUs.low} to ${model.conductivityFreshUs.high} µS/cm`,
        )
  const transit = transitOf(hours)
  return {
    volumeL,
    massG,
    salinityPsu,
    tempC: or('tempC', () => {
      const middle = (tank.tempC.value + roomTempC) / 2
      return assumed(around(middle, 2.5, 2.5), 'Bag temperature: between room and tank')
    }),
    phNbs: or('phNbs', () => assumed(marine ? transit.phMarine : transit.phFresh, `Bag pH: by ${hoursWord}`)),
    alkalinityDkh: or('alkalinityDkh', () =>
      assumed(marine ? model.alkalinityMarineDkh : model.alkalinityFreshDkh, 'Bag alkalinity: the usual range'),
    ),
    tanMgN: or('tanMgN', () =>
      massKnown === undefined
        ? assumed({ ...transit.tanMgN }, `Bag ammonia: the usual range for ${hoursWord}`)
        : assumed(
            estimatedTan(kind, massG, hours, volumeL.value),
            `Bag ammonia: from ${massKnown} g of animals and ${hoursWord}`,
          ),
    ),
  }
}
const scaledRange = ({ value, low, high }: Ranged, factor: number): Ranged => ({
  value: value * factor,
  low: low * factor,
  high: high * factor,
})

/** Readings older than this are not taken for the water of today, hours. */
const FRESH_READING_H = 14 * 24

/** The receiving water: latest readings of the vessel, else the usual range of such a vessel. */
export function tankInputs(record: KeeperRecord, active: ActiveLedger, vesselId: string, nowMs: number): TankInputs {
  const marine = record.vessels.get(vesselId)?.body.water !== 'fresh'
  const last = (analyte: ReadingEntry['analyte']): ReadingEntry | undefined =>
    active.findLast(
      (entry): entry is ReadingEntry =>
        entry.kind === 'reading' &&
        entry.vesselId === vesselId &&
        entry.analyte === analyte &&
        entryMs(entry) <= nowMs &&
        nowMs - entryMs(entry) < FRESH_READING_H * MS_PER_HOUR,
    )
  const or = (analyte: ReadingEntry['analyte'], field: Measurable, range: Ranged, why: string): Ranged => {
    const reading = last(analyte)
    return reading ? measured(field, reading.value) : assumed(range, why)
  }
  const model = acclimationModel
  const conductivity = marine ? undefined : last('conductivity')
  return {
    tempC: or('temperature', 'tempC', around(25, 1, 1), 'Tank temperature: 24 to 26 °C'),
    salinityPsu: conductivity
      ? scaledRange(measured('conductivityUs', conductivity.value), TDS_PER_US / 1000)
      : marine
        ? or('salinity', 'salinityPsu', around(34.5, 1, 0.8), 'Tank salinity: 33.5 to 35.3 PSU')
        : assumed(
            scaledRange(model.conductivityFreshUs, TDS_PER_US / 1000),
            `Tank conductivity: ${model.conductivityFreshUs.low} to ${model.conductivityFreshUs.high} µS/cm`,
          ),
    phNbs: or('ph', 'phNbs', marine ? model.phTankMarine : model.phTankFresh, 'Tank pH: the usual range'),
    alkalinityDkh: or(
      'alkalinity',
      'alkalinityDkh',
      marine ? model.alkalinityMarineDkh : model.alkalinityFreshDkh,
      'Tank alkalinity: the usual range',
    ),
    tanMgN: or('ammonia-total', 'tanMgN', { value: 0.03, low: 0, high: 0.1 }, 'Tank ammonia: near zero'),
  }
}

/** Everything the comparison needs of one container, from the record alone. */
export function containerInputs(options: {
  readonly record: KeeperRecord
  readonly active: ActiveLedger
  readonly arrival: ArrivalDocument
  readonly container: Container
  readonly nowMs: number
  readonly samples: number
  readonly flips?: boolean
}): CompareInputs {
  const { record, active, arrival, container, nowMs } = options
  const vessel = record.vessels.get(container.vesselId)
  const water = vessel?.body.water ?? 'marine'
  const kind = kindOf(container.group, water)
  const entries = containerEntries(active, arrival.id, container.id)
  const tank = tankInputs(record, active, container.vesselId, nowMs)
  const roomTempC = arrival.body.roomTempC ?? 21
  const hours = transitHours(arrival, container, entries, nowMs)
  const bag = bagInputs({ kind, water, container, entries, hours, tank, roomTempC })
  const seen = entries.some(({ fouled }) => fouled === true)
  const stocked = vesselIsStocked(record, active, container.vesselId, nowMs)
  return {
    kind,
    water,
    bag,
    tank,
    transitH: hours ?? 12,
    fouled: isFouled({
      seen,
      water,
      tanMgN: lastMeasured(entries, 'tanMgN'),
      phNbs: lastMeasured(entries, 'phNbs'),
    }),
    copper: holdsCopper({ record, active }, container.vesselId, nowMs),
    invertebrate: (groupOf(container.group)?.kind ?? 'coral') !== 'fish' && kind.id !== 'plant',
    roomTempC,
    equipment: {
      dripLine: arrival.body.dripLine ?? true,
      binder: arrival.body.binder ?? false,
      canMatch: !stocked && vessel?.body.purpose !== 'display',
      tubL: container.tubL ?? Math.max(4, Math.ceil(4 * bag.volumeL.value)),
    },
    samples: options.samples,
    seed: 20,
    ...(options.flips === undefined ? {} : { flips: options.flips }),
  }
}

/**
 * Salinity at which the receiving tank stood before it was brought to a bag, PSU: of the steps that were begun for it since
 * the bag was on its way, else its reading when the method was chosen.
 */
export function homeSalinity(
  record: KeeperRecord,
  active: ActiveLedger,
  arrival: ArrivalDocument,
  container: Container,
  nowMs: number,
): number {
  const sinceMs = instantMs(container.packedAt ?? arrival.body.packedAt ?? arrival.body.receivedAt ?? instantOf(nowMs))
  const steps = [...record.courses.values()]
    .filter(
      ({ body }) =>
        body.vesselId === container.vesselId &&
        (body.protocol as { readonly id?: string }).id === STEPS_ID &&
        instantMs(body.startedAt) >= sinceMs &&
        instantMs(body.startedAt) <= nowMs,
    )
    .sort((a, b) => instantMs(a.body.startedAt) - instantMs(b.body.startedAt))
  const from = steps[0]?.body.parameters['from-psu']
  if (from !== undefined) return from
  const chosen = containerEntries(active, arrival.id, container.id).findLast(({ act }) => act === 'method')
  return tankInputs(record, active, container.vesselId, chosen ? entryMs(chosen) : nowMs).salinityPsu.value
}
/** The protocol by which a tank is brought to a bag. */
const STEPS_ID = 'salinity-steps'

function vesselIsStocked(record: KeeperRecord, active: ActiveLedger, vesselId: string, nowMs: number): boolean {
  for (const resident of record.residents.values()) {
    const { arrivedAt, leftAt } = resident.body
    if (instantMs(arrivedAt) > nowMs || (leftAt !== undefined && instantMs(leftAt) <= nowMs)) continue
    const moved = active.findLast(
      (entry) => entry.kind === 'move' && entry.residentId === resident.id && entryMs(entry) <= nowMs,
    )
    const place = moved?.kind === 'move' ? moved.toVesselId : resident.body.vesselId
    if (place === vesselId) return true
  }
  return false
}

/** Settings as an entry stores them: numbers only; a switch is 0 or 1. */
export function settingsOfEntry(entry: ContainerEntry | undefined, fallback: MethodSettings): MethodSettings {
  const stored = entry?.settings ?? {}
  const number = (key: Exclude<keyof MethodSettings, 'overflow'>) => stored[key] ?? fallback[key]
  return {
    scoopL: number('scoopL'),
    scoopEveryMin: number('scoopEveryMin'),
    dripLPerH: number('dripLPerH'),
    capL: number('capL'),
    pourToL: number('pourToL'),
    finishShare: number('finishShare'),
    binderShare: number('binderShare'),
    longestFloatMin: number('longestFloatMin'),
    overflow: stored.overflow === undefined ? fallback.overflow : stored.overflow > 0,
  }
}

/** Everything a run at the tank needs of one container; null until a method was chosen. */
export function liveInputsOf(options: {
  readonly record: KeeperRecord
  readonly active: ActiveLedger
  readonly arrival: ArrivalDocument
  readonly container: Container
  readonly nowMs: number
}): LiveInputs | null {
  const entries = containerEntries(options.active, options.arrival.id, options.container.id)
  const choice = entries.findLast(({ act }) => act === 'method')
  if (choice?.method === undefined) return null
  // What was known when it began: the tank's readings of later days must not re-write an old run.
  const begun = entries.find(({ act }) => act === 'float' || act === 'open')
  const inputs = containerInputs({ ...options, nowMs: begun ? entryMs(begun) : options.nowMs, samples: 0 })
  const { bag, tank, kind } = inputs
  const model = acclimationModel
  const water = (from: BagInputs | TankInputs): WaterState => ({
    tempC: from.tempC.value,
    salinityPsu: from.salinityPsu.value,
    phNbs: from.phNbs.value,
    alkalinityDkh: from.alkalinityDkh.value,
    tanMgN: from.tanMgN.value,
  })
  const receiving = water(tank)
  return {
    method: choice.method,
    settings: settingsOfEntry(
      choice,
      settingsFor(kind, bag.volumeL.value, inputs.equipment.tubL, tank.salinityPsu.value - bag.salinityPsu.value),
    ),
    kind,
    bag: { ...water(bag), volumeL: bag.volumeL.value },
    tank: choice.method === 'matched-tank' ? { ...receiving, salinityPsu: bag.salinityPsu.value } : receiving,
    ...(choice.method === 'matched-tank' ? { matchFromPsu: receiving.salinityPsu } : {}),
    environment: {
      roomTempC: inputs.roomTempC,
      roomCoolingMin: model.roomCoolingMin.value * Math.max(0.5, Math.sqrt(bag.volumeL.value)),
      roomCo2Uatm: model.roomCo2Uatm.value,
      gasOpenPerH: model.gasStirredPerH.value,
      gasAiredPerH: model.gasAiredPerH.value,
      excretionMgNPerH: (kind.excretionMgNPerKgH.value * bag.massG.value) / 1000,
      nbsMinusTotalAtSea: NBS_MINUS_TOTAL_AT_SEA,
    },
    entries,
    nowMs: options.nowMs,
  }
}
