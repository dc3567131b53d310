// The five methods on these numbers: what each does to the animal's water, how it stands against the limits, which one
// is chosen and why, and what would change that. Unknown inputs run as sampled ranges, and the careful end decides.
import { limitOf } from '../knowledge/limits.ts'
import { randomFrom } from '../level/simulate.ts'
import {
  floatTimeConstant,
  runAcclimation,
  type Run,
  type RunAction,
  type RunEnvironment,
  type RunSeries,
  type WaterState,
} from './run.ts'
import { CLOSED_STEP_C, HORIZON_MIN, floatStages, methodActions, settingsFor, type MethodSettings } from './methods.ts'
import { largestChange } from './change.ts'
import { METHOD_IDS, acclimationModel, transitOf, type AcclimationKind, type MethodId } from './kinds.ts'
import { freeFromTotal } from '../water/ammonia.ts'
import { NBS_MINUS_TOTAL_AT_SEA } from '../water/carbonate.ts'
import { oxygenSaturation } from '../water/oxygen.ts'

/** A number with the range it may have. `assumed` says why, where nobody measured it. */
export interface Ranged {
  readonly value: number
  readonly low: number
  readonly high: number
  readonly assumed?: string
}
export interface BagInputs {
  readonly volumeL: Ranged
  readonly tempC: Ranged
  readonly salinityPsu: Ranged
  readonly phNbs: Ranged
  readonly alkalinityDkh: Ranged
  readonly tanMgN: Ranged
  /** All animals of the container, g. */
  readonly massG: Ranged
}
export type TankInputs = Readonly<Record<'tempC' | 'salinityPsu' | 'phNbs' | 'alkalinityDkh' | 'tanMgN', Ranged>>

export interface Equipment {
  readonly dripLine: boolean
  readonly binder: boolean
  /** The receiving tank can be brought to the bag's salinity before the bag is opened. */
  readonly canMatch: boolean
  readonly tubL: number
}
export interface CompareInputs {
  readonly kind: AcclimationKind
  readonly water: 'marine' | 'fresh'
  readonly bag: BagInputs
  readonly tank: TankInputs
  readonly transitH: number
  readonly fouled: boolean
  /** Any copper in the receiving water, by a reading or by its log. */
  readonly copper: boolean
  readonly invertebrate: boolean
  readonly roomTempC: number
  readonly equipment: Equipment
  readonly settings?: Partial<MethodSettings>
  /** The wider total gap is used. */
  readonly wide?: boolean
  /** 0: the central numbers alone, for a slider that is being moved. */
  readonly samples: number
  readonly seed: number
  /** Ask "what if" too. */
  readonly flips?: boolean
}

export type AspectId = 'step' | 'rate' | 'gap' | 'float' | 'temperature' | 'ammonia' | 'oxygen' | 'handling'
export interface Aspect {
  readonly id: AspectId
  /** Central value, and the careful one (nine in ten runs stay at or below). */
  readonly value: number
  readonly careful: number
  readonly limit: number
  readonly unit: string
  /** careful ÷ limit */
  readonly ratio: number
}
export interface CurveBand {
  readonly p10: number[]
  readonly p90: number[]
}
export type CurveId = 'salinityPsu' | 'tempC' | 'phNbs' | 'freeMgN'
export interface MethodResult {
  readonly id: MethodId
  readonly actions: readonly RunAction[]
  readonly settings: MethodSettings
  /** The central run. */
  readonly series: RunSeries
  /** Sampled band on `gridMin`. */
  readonly bands: Readonly<Record<CurveId, CurveBand>>
  readonly aspects: readonly Aspect[]
  /** The aspect with the largest ratio. */
  readonly deciding: Aspect
  /** Why this method is not offered at all, in words. */
  readonly refusal: string | null
  /** A refusal by judgement, which a keeper may take against advice with worded reasons; false where it cannot be done. */
  readonly mayInsist: boolean
  readonly openedMin: number
  readonly movedMin: number | null
  readonly minutesToNinety: number | null
  readonly coldestC: number
  readonly peakFreeMgN: number
  /** Free ammonia summed over the open minutes, mg N/L · min. */
  readonly freeDose: number
  readonly largestTenMin: number
  readonly tankWaterL: number
  readonly pourOutsMin: readonly number[]
}
export interface Flip {
  readonly what: string
  readonly to: MethodId | null
}
export interface Comparison {
  readonly methods: readonly MethodResult[]
  readonly chosen: MethodId | null
  /** Nothing stays inside every limit: the least harm was chosen. */
  readonly over: boolean
  readonly reasons: readonly string[]
  readonly flips: readonly Flip[]
  readonly assumed: readonly string[]
  readonly gridMin: readonly number[]
  readonly samples: number
  readonly openFreeMgN: number
}

/** Minutes at which the bands are sampled. */
export const GRID_MIN: readonly number[] = Array.from({ length: HORIZON_MIN / 3 + 1 }, (_, i) => i * 3)

interface Draw {
  readonly bag: WaterState & { readonly volumeL: number }
  readonly tank: WaterState
  readonly gasOpenPerH: number
  readonly gasAiredPerH: number
  readonly roomCoolingMin: number
  readonly roomCo2Uatm: number
  readonly excretionMgNPerH: number
}

/** u in 0..1 across low–value–high: a triangle, so that the middle is likelier than the ends. */
function draw({ value, low, high }: Ranged, u: number): number {
  if (high <= low) return value
  const turn = (value - low) / (high - low)
  return u < turn
    ? low + Math.sqrt(u * (high - low) * (value - low))
    : high - Math.sqrt((1 - u) * (high - low) * (high - value))
}
const central: (range: Ranged) => number = ({ value }) => value

function drawOf(inputs: CompareInputs, pick: (range: Ranged) => number): Draw {
  const { bag, tank, kind } = inputs
  const model = acclimationModel
  const water = (from: TankInputs | BagInputs): WaterState => ({
    tempC: pick(from.tempC),
    salinityPsu: Math.max(0, pick(from.salinityPsu)),
    phNbs: pick(from.phNbs),
    alkalinityDkh: pick(from.alkalinityDkh),
    tanMgN: Math.max(0, pick(from.tanMgN)),
  })
  return {
    bag: { ...water(bag), volumeL: pick(bag.volumeL) },
    tank: water(tank),
    gasOpenPerH: pick(model.gasStirredPerH),
    gasAiredPerH: pick(model.gasAiredPerH),
    roomCoolingMin: pick(model.roomCoolingMin) * Math.max(0.5, Math.sqrt(pick(bag.volumeL))),
    roomCo2Uatm: pick(model.roomCo2Uatm),
    excretionMgNPerH: (pick(kind.excretionMgNPerKgH) * pick(bag.massG)) / 1000,
  }
}

/** The receiving water of a method: a matched tank has been brought to the bag's salinity. */
function receiving(method: MethodId, { bag, tank }: Draw): WaterState {
  if (method !== 'matched-tank') return tank
  const factor = tank.salinityPsu > 0 ? bag.salinityPsu / tank.salinityPsu : 1
  return { ...tank, salinityPsu: bag.salinityPsu, alkalinityDkh: tank.alkalinityDkh * Math.min(1.5, factor) }
}

const environmentOf = (inputs: CompareInputs, drawn: Draw): RunEnvironment => ({
  roomTempC: inputs.roomTempC,
  roomCoolingMin: drawn.roomCoolingMin,
  roomCo2Uatm: drawn.roomCo2Uatm,
  gasOpenPerH: drawn.gasOpenPerH,
  gasAiredPerH: drawn.gasAiredPerH,
  excretionMgNPerH: drawn.excretionMgNPerH,
  nbsMinusTotalAtSea: NBS_MINUS_TOTAL_AT_SEA,
})

function runOnce(method: MethodId, inputs: CompareInputs, drawn: Draw, settings: MethodSettings): Run {
  const tank = receiving(method, drawn)
  const stages = floatStages(drawn.bag.tempC, tank.tempC, drawn.bag.volumeL, settings.longestFloatMin)
  const first = stages.length > 1 ? stages[0] : undefined
  return runAcclimation({
    bag: drawn.bag,
    tank,
    ...(first ? { firstFloat: { tempC: first.tempC, untilMin: first.minutes } } : {}),
    environment: environmentOf(inputs, drawn),
    actions: methodActions(method, { bagL: drawn.bag.volumeL, bagC: drawn.bag.tempC, tankC: tank.tempC, settings }),
    untilMin: HORIZON_MIN,
    floatMin: floatTimeConstant(drawn.bag.volumeL),
  })
}

interface Measures {
  readonly step: number
  readonly rate: number
  readonly gap: number
  /** Largest change of the closed bag in one stage of its float, °C. */
  readonly float: number
  readonly temperature: number
  readonly ammonia: number
  /** Most that the opened water lies under its saturation, mg/L. */
  readonly oxygen: number
  readonly handling: number
}
const factorBetween = (a: number, b: number): number => (a > b ? a / b : b / a)

/** What a run does to the animal, in the units of the limits. */
function measuresOf(run: Run, drawn: Draw, method: MethodId, fresh: boolean, actions: readonly RunAction[]): Measures {
  const { series } = run
  const open = Math.max(
    0,
    series.min.findIndex((min) => min >= (run.openedMin ?? 0)),
  )
  const moved = run.movedMin ?? HORIZON_MIN
  const last = series.min.findLastIndex((min) => min <= moved + 61)
  const min = series.min.slice(0, last + 1)
  const salt = fresh ? series.salinityPsu.map((s) => Math.log(Math.max(0.005, s))) : series.salinityPsu
  const stepped = method !== 'float-and-move' && method !== 'matched-tank'
  let step = 0
  for (let i = open + 1; i <= last; i++) {
    if (series.min[i] === series.min[i - 1]) step = Math.max(step, Math.abs(salt[i]! - salt[i - 1]!))
  }
  const rate = stepped ? largestChange(min, salt, 60, open) : 0
  let peak = 0
  for (let i = open; i < series.min.length && series.min[i]! < moved; i++) peak = Math.max(peak, series.freeMgN[i]!)
  const gap = method === 'matched-tank' ? 0 : Math.abs(drawn.tank.salinityPsu - drawn.bag.salinityPsu)
  const closed = Math.abs(drawn.tank.tempC - drawn.bag.tempC)
  const asFactor = (value: number) => (fresh ? Math.exp(value) : value)
  return {
    step: asFactor(step),
    rate: asFactor(rate),
    gap: fresh
      ? method === 'matched-tank'
        ? 1
        : factorBetween(Math.max(0.005, drawn.tank.salinityPsu), Math.max(0.005, drawn.bag.salinityPsu))
      : gap,
    float: closed > CLOSED_STEP_C + 1e-9 ? closed / 2 : closed,
    temperature: largestChange(min, series.tempC, 60, open),
    ammonia: peak,
    oxygen: oxygenDeficit(run, drawn, actions),
    handling: moved,
  }
}

/**
 * Most that the oxygen of the opened water falls under saturation until the animal leaves it, mg/L: what the animals
 * breathe (by the nitrogen they give off), what a binder takes, against what the air and fresh tank water bring. It
 * starts at saturation: what the closed bag held is not known. @source EST, core/knowledge/acclimation
 */
export function oxygenDeficit(
  { series, openedMin, movedMin }: Pick<Run, 'series' | 'openedMin' | 'movedMin'>,
  { excretionMgNPerH, gasOpenPerH, gasAiredPerH }: Pick<Draw, 'excretionMgNPerH' | 'gasOpenPerH' | 'gasAiredPerH'>,
  actions: readonly RunAction[],
): number {
  const { oxygenPerNitrogen, binderOxygenMgPerL, binderMinutes } = acclimationModel
  const from = openedMin ?? 0
  const to = movedMin ?? HORIZON_MIN
  const breathedPerH = excretionMgNPerH * oxygenPerNitrogen
  const airedAt = (min: number) => actions.findLast((one) => one.kind === 'air' && one.min <= min)
  const bound = actions.find(({ kind }) => kind === 'bind')
  let deficit = 0
  let most = 0
  for (let i = 1; i < series.min.length && series.min[i]! <= to + 1e-9; i++) {
    if (series.min[i - 1]! < from - 1e-9) continue
    const hours = (series.min[i]! - series.min[i - 1]!) / 60
    const volumeL = Math.max(0.01, series.volumeL[i]!)
    const added = Math.max(0, series.volumeL[i]! - series.volumeL[i - 1]!)
    // Tank water comes in saturated.
    deficit *= 1 - Math.min(1, added / volumeL)
    const air = airedAt(series.min[i - 1]!)
    const rate = air?.kind === 'air' && air.on ? gasAiredPerH : gasOpenPerH
    const binding = bound && series.min[i]! > bound.min && series.min[i - 1]! < bound.min + binderMinutes
    const load = breathedPerH / volumeL + (binding ? (binderOxygenMgPerL * 60) / binderMinutes : 0)
    const balance = load / rate
    deficit = balance + (deficit - balance) * Math.exp(-rate * hours)
    most = Math.max(most, deficit)
  }
  return most
}

const quantile = (sorted: readonly number[], p: number): number => {
  const at = (sorted.length - 1) * p
  const low = Math.floor(at)
  return sorted[low]! + (sorted[Math.min(sorted.length - 1, low + 1)]! - sorted[low]!) * (at - low)
}

/** The limits a kind sets for a method, in the units of the measures. */
function limitsOf(inputs: CompareInputs, down: boolean): Record<AspectId, { limit: number; unit: string }> {
  const { kind } = inputs
  const way = down ? 'down' : 'up'
  const factor = kind.conductivity
  const gaps = inputs.wide ? (kind.totalGapWide ?? kind.totalGap) : kind.totalGap
  const none = { limit: Infinity, unit: 'PSU' }
  return {
    step: factor
      ? { limit: factor.oneStep, unit: '× at once' }
      : kind.oneStep
        ? { limit: kind.oneStep[way], unit: 'PSU at once' }
        : none,
    rate: factor
      ? { limit: factor.perHour, unit: '× an hour' }
      : kind.salinityPerHour
        ? { limit: kind.salinityPerHour[way], unit: 'PSU an hour' }
        : none,
    gap: factor
      ? { limit: inputs.wide ? (factor.totalWide ?? factor.total) : factor.total, unit: '× in all' }
      : gaps
        ? { limit: gaps[way], unit: 'PSU in all' }
        : none,
    float: { limit: CLOSED_STEP_C, unit: '°C in one float' },
    temperature: { limit: kind.temperaturePerHour, unit: '°C an hour' },
    // Plants do not mind it; for every animal "act today" is the limit.
    ammonia: { limit: kind.id === 'plant' ? Infinity : acclimationModel.openAmmoniaMgN, unit: 'mg/L free N' },
    oxygen: { limit: oxygenRoom(inputs), unit: 'mg/L under saturation' },
    handling: { limit: kind.handlingMinutes, unit: 'min' },
  }
}
/** How far oxygen may fall, mg/L: from saturation at the warmer of the two waters to what harms. */
const oxygenRoom = ({ bag, tank }: CompareInputs): number =>
  Math.max(
    0.3,
    oxygenSaturation(
      Math.max(bag.tempC.value, tank.tempC.value),
      Math.max(bag.salinityPsu.value, tank.salinityPsu.value),
    ) - acclimationModel.lowestOxygenMgPerL,
  )
/** A factor of 1 is no load: ratios of factors are taken on their logarithms. */
const ratioOf = (value: number, limit: number, unit: string): number =>
  !Number.isFinite(limit) ? 0 : unit.startsWith('×') ? Math.log(Math.max(1, value)) / Math.log(limit) : value / limit

/** Why a method may not be used at all, before any simulation. */
function refusalOf(method: MethodId, inputs: CompareInputs, openFree: number): string | null {
  const { equipment, kind, transitH, fouled, bag } = inputs
  if (inputs.copper && inputs.invertebrate)
    return 'The receiving water holds copper. Copper kills invertebrates: choose another vessel.'
  const long = transitH >= acclimationModel.longOpenTransitH
  const open = method === 'drip' || method === 'scoops'
  if (open && kind.id !== 'plant') {
    const why = [...(long ? [`${Math.round(transitH)} h in the bag`] : []), ...(fouled ? ['fouled water'] : [])]
    if (why.length > 0) return `${capital(why.join(' and '))}: never a long time in its own opened water.`
    if (openFree > acclimationModel.openAmmoniaMgN)
      return `Free ammonia would reach ${openFree.toFixed(openFree < 0.1 ? 3 : 2)} mg/L within half an hour of opening; ${acclimationModel.openAmmoniaMgN} is the limit.`
  }
  if (method === 'drip' && !equipment.dripLine) return 'There is no drip line.'
  if (method === 'dilute-and-bind') {
    if (inputs.copper) return 'The receiving water holds copper: a binder can set bound copper free.'
    if (!equipment.binder) return 'There is no ammonia binder.'
    // Hours in the bag are no ammonia: only fouled water, or what it would come to once open, asks for a binder.
    if (!fouled && openFree <= acclimationModel.openAmmoniaMgN)
      return 'The water is clean enough: a binder would only take oxygen.'
  }
  if (method === 'matched-tank' && !equipment.canMatch)
    return 'The receiving tank cannot be brought to the bag’s salinity: somebody lives in it, or there is no time.'
  if (equipment.tubL < bag.volumeL.value && (open || method === 'dilute-and-bind'))
    return `The bag (${bag.volumeL.value} L) does not fit into the tub (${equipment.tubL} L).`
  return null
}

/**
 * Whether what speaks against a method is judgement alone: hours, fouled or clean water. What is missing, does not fit or
 * kills is no judgement. Practice differs here: slow methods are cut off at 12 or at 24 hours.
 */
function isAdvice(method: MethodId, inputs: CompareInputs, openFree: number): boolean {
  if (refusalOf(method, inputs, openFree) === null) return false
  const mild: CompareInputs = { ...inputs, transitH: 0, fouled: method === 'dilute-and-bind' }
  return refusalOf(method, mild, 0) === null
}

/** Free ammonia within half an hour of opening the undiluted bag, careful end. */
function openFreeOf(inputs: CompareInputs, draws: readonly Draw[]): number {
  const peaks = draws
    .slice(0, 60)
    .map((drawn) => {
      const run = runAcclimation({
        bag: drawn.bag,
        tank: drawn.tank,
        environment: environmentOf(inputs, drawn),
        actions: [{ kind: 'open', min: 0 }],
        untilMin: 30,
        floatMin: floatTimeConstant(drawn.bag.volumeL),
      })
      return Math.max(...run.series.freeMgN)
    })
    .sort((a, b) => a - b)
  return quantile(peaks, 0.9)
}

const COLUMNS: readonly CurveId[] = ['salinityPsu', 'tempC', 'phNbs', 'freeMgN']

function resultOf(
  method: MethodId,
  inputs: CompareInputs,
  settings: MethodSettings,
  draws: readonly Draw[],
  openFree: number,
): MethodResult {
  const fresh = inputs.kind.conductivity !== undefined
  const middle = drawOf(inputs, central)
  const run = runOnce(method, inputs, middle, settings)
  const actionsOf = (drawn: Draw) =>
    methodActions(method, {
      bagL: drawn.bag.volumeL,
      bagC: drawn.bag.tempC,
      tankC: receiving(method, drawn).tempC,
      settings,
    })
  const own = measuresOf(run, middle, method, fresh, actionsOf(middle))
  const runs = draws.map((drawn) => ({ drawn, run: runOnce(method, inputs, drawn, settings) }))
  const all = runs.map((one) => measuresOf(one.run, one.drawn, method, fresh, actionsOf(one.drawn)))
  const down = middle.tank.salinityPsu < middle.bag.salinityPsu
  const limits = limitsOf(inputs, down)
  const ids: AspectId[] = ['ammonia', 'oxygen', 'step', 'rate', 'gap', 'float', 'temperature', 'handling']
  const aspects = ids.map((id): Aspect => {
    const sorted = all.map((measures) => measures[id]).sort((a, b) => a - b)
    const careful = sorted.length > 0 ? Math.max(own[id], quantile(sorted, 0.9)) : own[id]
    const { limit, unit } = limits[id]
    return { id, value: own[id], careful, limit, unit, ratio: ratioOf(careful, limit, unit) }
  })
  const bands = Object.fromEntries(
    COLUMNS.map((column) => {
      const at = runs.map((one) => sampleSeries(one.run.series.min, one.run.series[column], GRID_MIN))
      const p10: number[] = []
      const p90: number[] = []
      GRID_MIN.forEach((_, i) => {
        const sorted = at.map((values) => values[i]!).sort((a, b) => a - b)
        p10.push(sorted.length > 0 ? quantile(sorted, 0.1) : NaN)
        p90.push(sorted.length > 0 ? quantile(sorted, 0.9) : NaN)
      })
      return [column, { p10, p90 }]
    }),
  ) as unknown as Record<CurveId, CurveBand>
  const actions = methodActions(method, {
    bagL: middle.bag.volumeL,
    bagC: middle.bag.tempC,
    tankC: middle.tank.tempC,
    settings,
  })
  const { series } = run
  const open = series.min.findIndex((min) => min >= (run.openedMin ?? 0))
  const moved = run.movedMin ?? HORIZON_MIN
  let dose = 0
  for (let i = open + 1; i < series.min.length && series.min[i]! <= moved; i++)
    dose += ((series.freeMgN[i]! + series.freeMgN[i - 1]!) / 2) * (series.min[i]! - series.min[i - 1]!)
  const ninety = series.tankShare.findIndex((share) => share >= 0.9 - 1e-9)
  return {
    id: method,
    actions,
    settings,
    series,
    bands,
    aspects,
    deciding: aspects.reduce((worst, aspect) => (aspect.ratio > worst.ratio ? aspect : worst)),
    refusal: refusalOf(method, inputs, openFree),
    mayInsist: isAdvice(method, inputs, openFree),
    openedMin: run.openedMin ?? 0,
    movedMin: run.movedMin,
    minutesToNinety: ninety < 0 ? null : series.min[ninety]!,
    coldestC: Math.min(...series.tempC),
    peakFreeMgN: own.ammonia,
    freeDose: dose,
    largestTenMin: largestChange(series.min, series.salinityPsu, 10, open),
    tankWaterL: run.tankWaterL,
    pourOutsMin: actions.filter(({ kind }) => kind === 'pour').map(({ min }) => min),
  }
}

/** Column values at grid minutes; where a jump stands twice, the later one. */
export function sampleSeries(min: readonly number[], column: readonly number[], grid: readonly number[]): number[] {
  let i = 0
  return grid.map((at) => {
    while (i + 1 < min.length && min[i + 1]! <= at + 1e-9) i++
    const next = Math.min(min.length - 1, i + 1)
    const span = min[next]! - min[i]!
    return span > 0 ? column[i]! + ((column[next]! - column[i]!) * (at - min[i]!)) / span : column[i]!
  })
}

/** Under half of every limit counts as equal: then the kind's own order of methods speaks. */
const EQUAL_BELOW = 0.5
function choose(inputs: CompareInputs, methods: readonly MethodResult[]): MethodResult | null {
  const { prefers } = inputs.kind
  const offered = methods.filter(({ refusal }) => refusal === null)
  // The closed float is the same in all of them and chooses none.
  const cost = (result: MethodResult) =>
    Math.max(EQUAL_BELOW, ...result.aspects.map(({ id, ratio }) => (id === 'float' ? 0 : ratio)))
  return [...offered].sort((a, b) => cost(a) - cost(b) || prefers.indexOf(a.id) - prefers.indexOf(b.id))[0] ?? null
}

function evaluate(inputs: CompareInputs): { methods: MethodResult[]; chosen: MethodResult | null; openFree: number } {
  const random = randomFrom(inputs.seed)
  const draws = Array.from({ length: inputs.samples }, () => drawOf(inputs, (range) => draw(range, random())))
  const gap = inputs.tank.salinityPsu.value - inputs.bag.salinityPsu.value
  const settings = {
    ...settingsFor(inputs.kind, inputs.bag.volumeL.value, inputs.equipment.tubL, gap),
    ...inputs.settings,
  }
  const openFree = openFreeOf(inputs, draws.length > 0 ? draws : [drawOf(inputs, central)])
  const methods = METHOD_IDS.map((method) => resultOf(method, inputs, settings, draws, openFree))
  return { methods, chosen: choose(inputs, methods), openFree }
}

/** Compares the five methods. @throws RangeError when a water cannot exist (alkalinity that cannot carry its pH). */
export function compareMethods(inputs: CompareInputs): Comparison {
  const { methods, chosen, openFree } = evaluate(inputs)
  const assumed = [...Object.values(inputs.bag), ...Object.values(inputs.tank)].flatMap((range: Ranged) =>
    range.assumed === undefined ? [] : [range.assumed],
  )
  return {
    methods,
    chosen: chosen?.id ?? null,
    over: chosen !== null && chosen.deciding.ratio > 1,
    reasons: chosen ? reasonsOf(inputs, chosen, methods, openFree) : [],
    flips: inputs.flips === true ? flipsOf(inputs, chosen?.id ?? null) : [],
    assumed: [...new Set(assumed)],
    gridMin: GRID_MIN,
    samples: inputs.samples,
    openFreeMgN: openFree,
  }
}

/** What the methods are called. */
export const METHOD_WORDS: Readonly<Record<MethodId, string>> = {
  'float-and-move': 'Float, then move',
  scoops: 'Cup by cup',
  drip: 'Drip',
  'matched-tank': 'Matched tank',
  'dilute-and-bind': 'Bind and dilute',
}
const ASPECT_WORDS: Readonly<Record<AspectId, string>> = {
  step: 'the jump in salinity',
  rate: 'the change of salinity',
  gap: 'the gap in salinity',
  float: 'the change of temperature in the closed bag',
  temperature: 'the change of temperature in open water',
  ammonia: 'free ammonia',
  oxygen: 'the lack of oxygen',
  handling: 'the time it takes',
}
/** Two figures, three from ten on: what a limit of two figures can be held against. */
const figure = (value: number): string => String(Number(value.toPrecision(Math.abs(value) >= 10 ? 3 : 2)))

/** One sentence for an aspect: "free ammonia reaches 0.09 mg/L free N, the limit is 0.05". */
export const aspectSentence = (aspect: Aspect, fresh: boolean): string =>
  `${fresh && (aspect.id === 'step' || aspect.id === 'rate' || aspect.id === 'gap') ? ASPECT_WORDS[aspect.id].replace('salinity', 'conductivity') : ASPECT_WORDS[aspect.id]} ${
    aspect.ratio > 1 ? 'reaches' : 'comes to'
  } ${figure(aspect.careful)} ${aspect.unit}, the limit is ${figure(aspect.limit)}`

function reasonsOf(
  inputs: CompareInputs,
  chosen: MethodResult,
  methods: readonly MethodResult[],
  openFree: number,
): string[] {
  const fresh = inputs.kind.conductivity !== undefined
  const reasons: string[] = []
  const { deciding } = chosen
  reasons.push(
    deciding.ratio > 1
      ? `No method stays inside every limit. This one is over by least: ${aspectSentence(deciding, fresh)}.`
      : deciding.ratio <= EQUAL_BELOW
        ? `It keeps less than half of every limit; closest is ${ASPECT_WORDS[deciding.id]}, ${figure(deciding.careful)} of ${figure(deciding.limit)} ${deciding.unit}.`
        : `${capital(aspectSentence(deciding, fresh))}; everything else stays further from its limit.`,
  )
  const also = chosen.aspects.filter(({ id, ratio }) => id !== deciding.id && ratio > 1)
  if (also.length > 0)
    reasons.push(`Over its limit too: ${also.map((aspect) => aspectSentence(aspect, fresh)).join('; ')}.`)
  const stages = floatStages(
    inputs.bag.tempC.value,
    inputs.tank.tempC.value,
    inputs.bag.volumeL.value,
    chosen.settings.longestFloatMin,
  )
  if (stages.length > 1)
    reasons.push(
      `Bag and tank are ${figure(Math.abs(inputs.tank.tempC.value - inputs.bag.tempC.value))} °C apart, and a closed bag may float across ${CLOSED_STEP_C} °C at most: first in a bucket at ${figure(stages[0]!.tempC)} °C, then on the tank.`,
    )
  if (openFree > limitOf('free-ammonia-watch'))
    reasons.push(
      `In the opened bag itself free ammonia would reach ${figure(openFree)} mg/L within half an hour, as carbon dioxide leaves and pH climbs.`,
    )
  const others = methods.filter(({ id, refusal }) => id !== chosen.id && refusal === null && id !== 'dilute-and-bind')
  const next = [...others].sort((a, b) => a.deciding.ratio - b.deciding.ratio)[0]
  if (next)
    reasons.push(
      next.deciding.ratio > 1
        ? `${METHOD_WORDS[next.id]} is over a limit: ${aspectSentence(next.deciding, fresh)}.`
        : `${METHOD_WORDS[next.id]} would do as well: ${aspectSentence(next.deciding, fresh)}.`,
    )
  return reasons
}
const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

/** Enough for a careful end, cheap enough for a dozen questions. */
const FLIP_SAMPLES = 16
/** "What if": each asked on the central numbers and a few samples. */
function flipsOf(inputs: CompareInputs, chosen: MethodId | null): Flip[] {
  const ask = (what: string, changed: Partial<CompareInputs>): Flip => ({
    what,
    to: evaluate({ ...inputs, samples: Math.min(FLIP_SAMPLES, inputs.samples), ...changed }).chosen?.id ?? null,
  })
  const exactly = (value: number): Ranged => ({ value, low: value, high: value })
  const { bag, equipment } = inputs
  const flips: Flip[] = []
  flips.push(
    ask(equipment.dripLine ? 'no drip line' : 'a drip line is at hand', {
      equipment: { ...equipment, dripLine: !equipment.dripLine },
    }),
  )
  if (equipment.canMatch)
    flips.push(ask('the tank cannot be matched', { equipment: { ...equipment, canMatch: false } }))
  else flips.push(ask('the tank is matched beforehand', { equipment: { ...equipment, canMatch: true } }))
  if (inputs.transitH < 48) {
    const later = transitOf(48)
    flips.push(
      ask('it took two days', {
        transitH: 48,
        bag: {
          ...bag,
          tanMgN: { ...later.tanMgN },
          phNbs: { ...(inputs.water === 'marine' ? later.phMarine : later.phFresh) },
        },
      }),
    )
  }
  if (bag.phNbs.assumed === undefined) {
    const known = transitOf(inputs.transitH)
    flips.push(
      ask('the bag’s pH is not known', {
        bag: { ...bag, phNbs: { ...(inputs.water === 'marine' ? known.phMarine : known.phFresh) } },
      }),
    )
  }
  if (bag.tanMgN.assumed !== undefined) {
    for (const value of [bag.tanMgN.low, bag.tanMgN.high])
      flips.push(
        ask(`the bag tests at ${figure(value)} mg/L total ammonia`, { bag: { ...bag, tanMgN: exactly(value) } }),
      )
  }
  // The nearest salinity of the bag at which another method would be chosen.
  if (inputs.water === 'marine') {
    for (const offset of [1, -1, 2, -2, 3, -3, 4, -4]) {
      const value = bag.salinityPsu.value + offset
      if (value < 5 || value > 42) continue
      const found = ask(`the bag is at ${figure(value)} PSU`, {
        bag: { ...bag, salinityPsu: exactly(value) },
        samples: Math.min(8, inputs.samples),
      })
      if (found.to !== chosen) {
        flips.push(found)
        break
      }
    }
  }
  return flips
}

/** Whether a bag is fouled, by what was measured and seen. @source handbook 40.3 */
export function isFouled(options: {
  readonly seen: boolean
  readonly water: 'marine' | 'fresh'
  readonly tanMgN: number | null
  readonly phNbs: number | null
}): boolean {
  const { fouledTanMgN, fouledPh, fouledPhTanMgN } = acclimationModel
  if (options.seen) return true
  if (options.tanMgN !== null && options.tanMgN >= fouledTanMgN) return true
  return (
    options.water === 'marine' &&
    options.phNbs !== null &&
    options.phNbs <= fouledPh &&
    options.tanMgN !== null &&
    options.tanMgN >= fouledPhTanMgN
  )
}

/** Free ammonia of a water right now. */
export const freeNow = (water: WaterState): number =>
  freeFromTotal(water.tanMgN, { phNbs: water.phNbs, tempC: water.tempC, salinityPsu: water.salinityPsu })
