// A bag at the door of a practice house: what is truly in it, minute by minute, by what was pressed; and how many of its
// animals come through. Worked out anew from the ledger, like the tank.
import { kindOf, largestChange, runAcclimation, entryMs, type Entry, type RunAction } from '../index.ts'
import type { PracticeTank } from '../generated/practiceTypes.ts'
import { acclimationModel } from '../acclimation/kinds.ts'
import { actionsOf } from '../acclimation/live.ts'
import { floatTimeConstant, type RunSeries, type WaterState } from '../acclimation/run.ts'
import { NBS_MINUS_TOTAL_AT_SEA } from '../water/carbonate.ts'
import type { Chance } from '../world/random.ts'
import { rateOf } from '../world/rates.ts'

const MINUTE = 60_000
const HOUR_MIN = 60
/** A run is followed for so long, minutes; an animal that still stands in a bowl then stays as it is. */
const LONGEST_MIN = 12 * HOUR_MIN
/** A closed bag that nobody touches is followed for so long, minutes. */
const CLOSED_MIN = 10 * 24 * HOUR_MIN
/** pH that a closed bag loses in an hour to what the animals breathe out, EST. */
const PH_PER_HOUR = 0.02

export type PracticeBag = NonNullable<PracticeTank['bags']>[number]
export type ContainerEntry = Extract<Entry, { kind: 'container' }>

/** What became of a bag. Minutes count from when the practice began. */
export interface BagLife {
  /** The animals' water while they are in the bag or its tub. */
  readonly series: RunSeries
  /** Share of the animals that lives at each of its minutes. */
  readonly share: readonly number[]
  /** Minutes at which it began to float, or was opened; was moved; was sent back. */
  readonly startMin: number | null
  readonly movedMin: number | null
  readonly refusedMin: number | null
  /** Highest free ammonia that they met, mg N/L. */
  readonly mostFree: number
}
interface BagTruth {
  readonly bag: PracticeBag
  /** The tank's water when the bag met it. */
  readonly tank: WaterState
  readonly roomC: number
  readonly chance: Chance
}

/** The closed bag so many minutes after it stood at the door: warmer or colder by the room, a little worse by the hour. */
function closedWater({ bag: { water }, roomC }: BagTruth, excretionMgNPerH: number, min: number): WaterState {
  const hours = min / HOUR_MIN
  return {
    tempC: roomC + (water.temperature - roomC) * Math.exp(-hours / (3 * Math.sqrt(water.litres))),
    salinityPsu: water.salinity,
    phNbs: Math.max(6, water.ph - PH_PER_HOUR * hours),
    alkalinityDkh: water.alkalinity,
    tanMgN: water['ammonia-total'] + (excretionMgNPerH * hours) / water.litres,
  }
}

/**
 * A bag's life until an hour.
 * @param entries what was done with it, in order; readings among them do nothing
 * @param untilMin minutes since the practice began
 */
export function bagLife(
  truth: BagTruth,
  entries: readonly ContainerEntry[],
  beganMs: number,
  untilMin: number,
): BagLife {
  const { bag, tank, roomC, chance } = truth
  const fresh = tank.salinityPsu < 5
  const kind = kindOf(bag.group, fresh ? 'fresh' : 'marine')
  const within = (range: { readonly low: number; readonly high: number }) =>
    range.low * (range.high / range.low) ** chance.next()
  const grams = (bag.massG ?? bag.count * kind.typicalMassG.value) * Math.exp(chance.normal(0, 0.1))
  const excretionMgNPerH = (within(kind.excretionMgNPerKgH) * grams) / 1000
  const gasOpenPerH = within(acclimationModel.gasStirredPerH)
  const gasAiredPerH = within(acclimationModel.gasAiredPerH)
  const start = entries.find(({ act }) => act === 'float' || act === 'open')
  const minOf = (entry: ContainerEntry | undefined) => (entry ? (entryMs(entry) - beganMs) / MINUTE : null)
  const startMin = minOf(start)
  // What was read of it changes nothing of what is.
  const done = entries.filter(({ act }) => act !== 'measured')
  const movedMin = minOf(entries.find(({ act }) => act === 'move'))
  const refusedMin = minOf(entries.find(({ act }) => act === 'refuse'))
  const endMin = Math.min(
    untilMin,
    movedMin ?? Infinity,
    refusedMin ?? Infinity,
    startMin === null ? CLOSED_MIN : startMin + LONGEST_MIN,
  )
  const closedUntil = Math.min(endMin, startMin ?? Infinity)
  const series: RunSeries = { min: [], salinityPsu: [], tempC: [], phNbs: [], freeMgN: [], volumeL: [], tankShare: [] }
  const environment = {
    roomTempC: roomC,
    roomCoolingMin: acclimationModel.roomCoolingMin.value * Math.max(0.5, Math.sqrt(bag.water.litres)),
    roomCo2Uatm: acclimationModel.roomCo2Uatm.value,
    gasOpenPerH,
    gasAiredPerH,
    excretionMgNPerH,
    nbsMinusTotalAtSea: NBS_MINUS_TOTAL_AT_SEA,
  }
  const run = (min: number, actions: readonly RunAction[], forMin: number) =>
    runAcclimation({
      bag: { ...closedWater(truth, excretionMgNPerH, min), volumeL: bag.water.litres },
      tank,
      environment,
      actions: [...actions],
      untilMin: forMin,
      floatMin: floatTimeConstant(bag.water.litres),
    }).series
  const push = (part: RunSeries, at: number, from: number) => {
    for (const key of Object.keys(series) as (keyof RunSeries)[])
      series[key].push(key === 'min' ? part.min[at]! + from : part[key][at]!)
  }
  // While it only stands there, a look every quarter of an hour.
  for (let min = 0; min < closedUntil; min += 15) push(run(min, [], 0), 0, min)
  if (startMin !== null && startMin <= endMin) {
    const acted = run(startMin, actionsOf(done, beganMs + startMin * MINUTE), endMin - startMin)
    // Of the water they went into only the first minute belongs here.
    for (let at = 0; at < acted.min.length; at++) push(acted, at, startMin)
  }
  const share: number[] = []
  let living = 1
  let mostFree = 0
  for (const [at, min] of series.min.entries()) {
    const hours = at === 0 ? 0 : (min - series.min[at - 1]!) / HOUR_MIN
    const free = series.freeMgN[at]!
    mostFree = Math.max(mostFree, free)
    const opened = startMin !== null && entries.some((one) => one.act === 'open' && (minOf(one) ?? Infinity) <= min)
    let toll = 0
    if (free > rateOf('ammonia-at'))
      toll += rateOf('weak-after-journey') * rateOf('ammonia-per-hour') * (free / rateOf('ammonia-at')) ** 2
    if (!opened && bag.hours + min / HOUR_MIN > rateOf('bag-air-hours')) toll += rateOf('bag-air-per-hour')
    living *= Math.exp(-toll * hours)
    share.push(living)
  }
  if (movedMin !== null && movedMin <= endMin && share.length > 0) {
    const last = share.length - 1
    share[last] = share[last]! * (1 - shockOf(series, kind, movedMin))
  }
  return {
    series,
    share,
    startMin,
    movedMin: movedMin !== null && movedMin <= untilMin ? movedMin : null,
    refusedMin,
    mostFree,
  }
}

/** Share that a change of salinity or warmth within an hour takes, as it is moved. */
function shockOf(series: RunSeries, kind: ReturnType<typeof kindOf>, movedMin: number): number {
  const from = Math.max(
    0,
    series.min.findIndex((min) => min >= movedMin - 12 * HOUR_MIN),
  )
  const salt = largestChange(series.min, series.salinityPsu, HOUR_MIN, from)
  const last = series.salinityPsu.at(-1)!
  const bears = kind.salinityPerHour?.[last < series.salinityPsu[from]! ? 'down' : 'up'] ?? Infinity
  const warm = largestChange(series.min, series.tempC, HOUR_MIN, from)
  return Math.min(
    0.9,
    rateOf('salinity-shock') * Math.max(0, salt / bears - 1) +
      rateOf('warmth-shock') * Math.max(0, warm - 2 * kind.temperaturePerHour),
  )
}

/** Place among the looks of a bag's life at a minute; the last one before it. */
export function bagAt({ series }: BagLife, min: number): number {
  let at = 0
  while (at + 1 < series.min.length && series.min[at + 1]! <= min + 1e-9) at++
  return at
}
