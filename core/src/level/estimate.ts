// One course's estimate: everything the posterior says about its level and clock, as plain data for a worker.
import { limitOf } from '../knowledge/limits.ts'
import {
  clockDifference,
  therapeuticClock,
  type ClockDifference,
  type ClockRules,
  type ClockState,
} from '../clock/therapeutic.ts'
import type { Result } from '../result.ts'
import type { LevelModel, UncertainEvent } from './model.ts'
import { DOSE_SD_SHARE } from './model.ts'
import { nextDose, type NextDose, type NextDoseRefusal } from './nextDose.ts'
import { nextTest, type NextTest } from './nextTest.ts'
import { levelPosterior, type LevelPosterior, type PosteriorOptions } from './posterior.ts'

/** What a course wants of the next dose: a ramp's level to reach, or the band to be held. */
export type DoseWish =
  { readonly kind: 'reach'; readonly levelMgPerL: number } | { readonly kind: 'hold'; readonly topMgPerL: number }

export interface EstimateInputs {
  readonly model: LevelModel
  readonly floorMgPerL: number
  readonly ceilingMgPerL: number
  readonly hardMaxMgPerL: number
  readonly nowH: number
  /** How far ahead to draw, h. */
  readonly aheadH: number
  readonly rules: ClockRules | null
  readonly wish: DoseWish | null
  /** Milligrams per pour unit and the graduations of the measures at hand, finest first. */
  readonly content: {
    readonly mg: number
    readonly measures: readonly { readonly capacity: number; readonly step: number }[]
  } | null
  readonly nextTestH: number
  readonly instrumentIndex: number
  readonly kit: { readonly step: number; readonly relativeError: number }
  /** Entry recorded last among those the model uses, and a phrase for it: "Your reading of 1.62 mg/L". */
  readonly latest: { readonly id: string; readonly phrase: string } | null
  readonly gridSize: number
}

export interface Series {
  readonly timesH: readonly number[]
  readonly p10: readonly number[]
  readonly p50: readonly number[]
  readonly p90: readonly number[]
  readonly pFloor: readonly number[]
}

export interface CourseEstimate {
  readonly series: Series
  /** The level ahead if the wished dose goes in now; null when none is wished. */
  readonly planned: Series | null
  readonly now: {
    readonly p10: number
    readonly p50: number
    readonly p90: number
    readonly pFloor: number
    readonly pHardMax: number
  }
  readonly volume: { readonly meanL: number; readonly sdL: number }
  readonly halfLifeDays: { readonly mean: number }
  readonly bias: readonly { readonly mean: number; readonly sd: number }[]
  readonly readings: LevelPosterior['readings']
  readonly clock: ClockState | null
  /** Why the count changed with the last entry, or null. */
  readonly difference: ClockDifference | null
  /** Something was written since: what it says of amounts is not offered until it is worked out anew. */
  readonly stale?: true
  /** `short`: the most that is safe, though less than the wished chance. */
  readonly dose: Result<NextDose & { readonly step: number; readonly short?: true }, NextDoseRefusal> | null
  readonly test: NextTest | null
}

const STEP_H = 1

/**
 * Ascending hours from 0 past `nowH`: every hour, now, every reading, and both sides of every dose and change, so that
 * a reading is judged at its own moment and a jump is never smeared over an hour.
 */
function timeGrid(model: LevelModel, nowH: number, aheadH: number): number[] {
  const stepH = nowH > 900 ? 2 : STEP_H
  const end = nowH + aheadH
  const times = [nowH, ...model.readings.map(({ tH }) => tH), ...model.events.flatMap(({ tH }) => [tH - 2e-8, tH])]
  for (let t = 0; t <= end; t += stepH) times.push(t)
  times.push(end)
  times.sort((x, y) => x - y)
  return times.filter((t, i) => t >= 0 && t <= end && (i === 0 || t - times[i - 1]! > 1e-9))
}

/** The part of the model up to now: what has happened. Later entries (typed ahead) do not count. */
const upTo = (model: LevelModel, nowH: number): LevelModel => ({
  ...model,
  events: model.events.filter((event) => event.tH <= nowH),
  readings: model.readings.filter((reading) => reading.tH <= nowH),
})

const without = (model: LevelModel, id: string): LevelModel => ({
  ...model,
  events: model.events.filter((event) => event.id !== id),
  readings: model.readings.filter((reading) => reading.id !== id),
})

/** Clock from a model alone: posterior on the hours so far, then the rules. */
function judge(model: LevelModel, inputs: EstimateInputs, gridSize: number): ClockState | null {
  if (!inputs.rules) return null
  const timesH = timeGrid(model, inputs.nowH, 0)
  return clockFrom(model, inputs, levelPosterior(model, { ...limits(inputs), timesH, gridSize }))
}

function clockFrom(model: LevelModel, inputs: EstimateInputs, posterior: LevelPosterior): ClockState | null {
  if (!inputs.rules) return null
  const floor = inputs.floorMgPerL
  return therapeuticClock({
    rules: inputs.rules,
    timesH: posterior.timesH,
    pFloor: posterior.pFloor,
    pBand: posterior.pBand,
    pHardMax: posterior.pHardMax,
    p50: posterior.p50,
    floorMgPerL: floor,
    ceilingMgPerL: inputs.ceilingMgPerL,
    readings: model.readings.map((reading) => ({
      tH: reading.tH,
      mgPerL: reading.mgPerL,
      ...(reading.id === undefined ? {} : { id: reading.id }),
      // One noisy reading alone never resets: everything known, this reading included, must agree with it.
      certifiedBelow:
        reading.mgPerL + Math.hypot(reading.halfStepMgPerL, reading.relativeError * reading.mgPerL) < floor &&
        reading.bound !== 'above' &&
        chanceAt(posterior, reading.tH) < 0.5,
    })),
    disturbancesH: model.events.filter(({ kind }) => kind !== 'topoff').map(({ tH }) => tH),
    nowH: inputs.nowH,
  })
}

const limits = (inputs: EstimateInputs): Pick<PosteriorOptions, 'floorMgPerL' | 'ceilingMgPerL' | 'hardMaxMgPerL'> => ({
  floorMgPerL: inputs.floorMgPerL,
  ceilingMgPerL: inputs.ceilingMgPerL,
  hardMaxMgPerL: inputs.hardMaxMgPerL,
})

/** Everything about one course's level, deterministic, in one go. Heavy: run it in a worker. */
export function estimateCourse(inputs: EstimateInputs): CourseEstimate {
  const model = upTo(inputs.model, inputs.nowH)
  const timesH = timeGrid(model, inputs.nowH, inputs.aheadH)
  const posterior = levelPosterior(model, { ...limits(inputs), timesH, gridSize: inputs.gridSize })
  const at = timesH.indexOf(inputs.nowH)
  const clock = clockFrom(model, inputs, posterior)
  const coarse = coarseOf(inputs)

  let difference: ClockDifference | null = null
  if (clock && inputs.latest) {
    const before = judge(without(model, inputs.latest.id), inputs, inputs.gridSize)
    if (before) difference = clockDifference(before, clock, inputs.latest.phrase)
  }
  const dose = wishedDose(inputs, posterior)
  let planned: Series | null = null
  if (dose?.ok && dose.value.massMg > 0) {
    const event: UncertainEvent = { kind: 'dose', tH: inputs.nowH, massMg: dose.value.massMg, sdShare: DOSE_SD_SHARE }
    const later = [inputs.nowH, ...timesH.filter((t) => t > inputs.nowH)]
    planned = seriesOf(
      levelPosterior(
        { ...model, events: [...model.events, event] },
        { ...limits(inputs), timesH: later, gridSize: coarse },
      ),
    )
  }

  return {
    series: seriesOf(posterior),
    planned,
    now: {
      p10: posterior.p10[at]!,
      p50: posterior.p50[at]!,
      p90: posterior.p90[at]!,
      pFloor: posterior.pFloor[at]!,
      pHardMax: posterior.pHardMax[at]!,
    },
    volume: posterior.volume,
    halfLifeDays: { mean: Math.LN2 / posterior.lossPerHour.mean / 24 },
    bias: posterior.bias,
    readings: posterior.readings,
    clock,
    difference,
    dose,
    test: clock && inputs.rules ? testChoice(inputs, model, posterior) : null,
  }
}

/** Nodes per axis where only a difference or an outlook is wanted. */
const coarseOf = ({ gridSize }: EstimateInputs): number => Math.min(24, gridSize)

/** Hours of the count that hang on one reading. */
export interface ReadingInfluence {
  readonly id: string
  readonly hours: number
}
const LAST_READINGS = 6
/** What each of the last readings did for the count: the count with it less the count without it. Heavy: asked for, not kept up. */
export function readingInfluence(inputs: EstimateInputs): ReadingInfluence[] {
  const model = upTo(inputs.model, inputs.nowH)
  const creditedH = (of: LevelModel) => judge(of, inputs, coarseOf(inputs))?.creditedH ?? null
  const all = creditedH(model)
  if (all === null) return []
  return model.readings
    .flatMap(({ id }) => id ?? [])
    .slice(-LAST_READINGS)
    .reverse()
    .map((id) => ({ id, hours: all - (creditedH(without(model, id)) ?? 0) }))
}

/** P(level >= floor) at the time nearest to an hour. */
function chanceAt({ timesH, pFloor }: LevelPosterior, tH: number): number {
  let nearest = 0
  for (let i = 1; i < timesH.length; i++) if (Math.abs(timesH[i]! - tH) < Math.abs(timesH[nearest]! - tH)) nearest = i
  return pFloor[nearest] ?? 0
}

const seriesOf = (posterior: LevelPosterior): Series => ({
  timesH: posterior.timesH,
  p10: Array.from(posterior.p10),
  p50: Array.from(posterior.p50),
  p90: Array.from(posterior.p90),
  pFloor: Array.from(posterior.pFloor),
})

/** How far the last reading, taken after the last dose, lies under the level that is believed in; 0 where it does not. */
function shownTooLittle({ model, nowH }: EstimateInputs, level: number): number {
  const dosedH = model.events.findLast(({ kind, tH }) => kind === 'dose' && tH <= nowH)?.tH
  const reading = model.readings.findLast(({ tH }) => tH <= nowH)
  if (dosedH === undefined || !reading || reading.tH < dosedH || reading.bound !== 'exact') return 0
  return Math.max(0, level - reading.mgPerL)
}

function wishedDose(inputs: EstimateInputs, posterior: LevelPosterior): CourseEstimate['dose'] {
  const { wish, content } = inputs
  if (!wish || !content) return null
  const level = posterior.nodes.reduce((sum, node) => sum + node.weight * node.levelMgPerL, 0)
  // A ramp's levels are readings to reach: what the kit shows too little of is poured too, inside the band and as far as
  // the hard maximum is surely kept. @source handbook 31 §4: dose = (next level − reading) × V
  const target =
    wish.kind === 'reach'
      ? Math.min(wish.levelMgPerL + shownTooLittle(inputs, level), Math.max(wish.levelMgPerL, inputs.ceilingMgPerL))
      : wish.topMgPerL
  const rough = Math.max(0, ((target - level) * posterior.volume.meanL) / content.mg)
  const { step } = content.measures.find(({ capacity }) => rough <= capacity) ?? content.measures.at(-1)!
  const options = {
    posterior,
    hoursUntilDose: Math.max(0, inputs.nowH - posterior.stateTimeH),
    hoursUntilTest: inputs.nextTestH,
    hardMaxMgPerL: inputs.hardMaxMgPerL,
    ceilingMgPerL: inputs.ceilingMgPerL,
    contentMg: content.mg,
    step,
  }
  // A ramp aims at a level: the floor of its step is that level itself, at even odds.
  const result =
    wish.kind === 'reach'
      ? nextDose({
          ...options,
          floorMgPerL: target,
          stepTopMgPerL: target + (step * content.mg) / posterior.volume.meanL / 2,
          floorChance: 0.5,
          hoursUntilTest: 0,
        })
      : nextDose({
          ...options,
          floorMgPerL: inputs.floorMgPerL,
          stepTopMgPerL: target,
          // A low end that is run at even odds is also dosed for at even odds.
          floorChance: Math.min(0.9, inputs.rules?.confidence ?? 0.9),
          leastRiseMgPerL: LEAST_RISE * inputs.floorMgPerL,
        })
  if (result.ok) return { ok: true, value: { ...result.value, step } }
  // Rounding may leave a ramp step just short of even odds: the nearest graduation is still the dose.
  if (wish.kind === 'reach' && result.error.kind !== 'above-band' && result.error.best.hardMaxChance <= 0.02) {
    return { ok: true, value: { ...result.error.best, step } }
  }
  // Less than wished, and safe: better than nothing, and said so.
  if (wish.kind !== 'reach' && !result.ok && result.error.kind === 'too-uncertain') {
    const { best } = result.error
    if (best.amount > 0 && best.hardMaxChance <= 0.02) return { ok: true, value: { ...best, step, short: true } }
  }
  return result
}
/** Rise below which a top-up is not worth it, share of the floor. */
const LEAST_RISE = limitOf('least-rise')

function testChoice(inputs: EstimateInputs, model: LevelModel, posterior: LevelPosterior): NextTest {
  const stateH = posterior.stateTimeH
  const offset = inputs.nowH - stateH
  const disturbed = model.events.filter(({ kind }) => kind !== 'topoff').map(({ tH }) => tH)
  const last = model.readings.at(-1)
  const rules = inputs.rules!
  const offeredH = [0, 6, 12, 24, 36, 48].filter((h) => h <= rules.maxGapH).map((h) => h + offset)
  return nextTest({
    posterior,
    offeredH,
    fromH: Math.min(0, (disturbed.at(-1) ?? stateH) - stateH),
    horizonH: offset + rules.maxGapH + 24,
    lastReadingH: last ? last.tH - stateH : null,
    maxGapH: rules.maxGapH,
    floorMgPerL: inputs.floorMgPerL,
    confidence: rules.confidence,
    instrument: {
      index: Math.min(inputs.instrumentIndex, model.instrumentBiasSd.length - 1),
      halfStepMgPerL: inputs.kit.step / 2,
      relativeError: inputs.kit.relativeError,
    },
  })
}

export interface EarningForecast {
  readonly canEarn: boolean
  /** Chance of being at or above the floor right after a reading that shows the target exactly. */
  readonly chance: number
  /** Same with three readings averaged, with a kit twice as fine, and with the target at the band's top. */
  readonly withThreeReadings: number
  readonly withFinerKit: number
  readonly atBandTop: number
}

/**
 * Whether the keeper's kit can earn hours at a target: the posterior after a ramp whose readings all show what was
 * aimed at. Warned before the start, because a kit too coarse never credits an hour however steady the level is.
 */
export function earningForecast(options: {
  readonly levels: readonly number[]
  readonly floorMgPerL: number
  readonly ceilingMgPerL: number
  readonly hardMaxMgPerL: number
  readonly confidence: number
  readonly volume: LevelModel['volume']
  readonly loss: LevelModel['loss']
  readonly kit: { readonly step: number; readonly relativeError: number; readonly biasSd: number }
}): EarningForecast {
  const chance = (kit: { step: number; relativeError: number }, readingsEach: number, lift: number): number => {
    const volumeL = options.volume.median
    const events: UncertainEvent[] = []
    const readings: LevelModel['readings'][number][] = []
    let level = 0
    options.levels.forEach((target, i) => {
      const aim = i === options.levels.length - 1 ? target + lift : target
      events.push({ kind: 'dose', tH: i * 24, massMg: Math.max(0, aim - level) * volumeL, sdShare: DOSE_SD_SHARE })
      level = aim
      for (let r = 0; r < readingsEach; r++) {
        readings.push({
          tH: i * 24 + 20,
          mgPerL: aim,
          bound: 'exact',
          instrument: 0,
          halfStepMgPerL: kit.step / 2,
          relativeError: kit.relativeError,
        })
      }
    })
    const end = (options.levels.length - 1) * 24 + 20
    const posterior = levelPosterior(
      {
        volume: options.volume,
        loss: options.loss,
        initial: { mgPerL: 0, sdMgPerL: 0 },
        evaporationLPerH: 0,
        media: [],
        events,
        readings,
        instrumentBiasSd: [options.kit.biasSd],
      },
      {
        timesH: [end],
        floorMgPerL: options.floorMgPerL,
        ceilingMgPerL: options.ceilingMgPerL,
        hardMaxMgPerL: options.hardMaxMgPerL,
        gridSize: 20,
      },
    )
    return posterior.pFloor[0]!
  }
  const last = options.levels.at(-1) ?? options.floorMgPerL
  const own = chance(options.kit, 1, 0)
  return {
    canEarn: own >= options.confidence,
    chance: own,
    withThreeReadings: chance(options.kit, 3, 0),
    withFinerKit: chance({ step: options.kit.step / 2, relativeError: options.kit.relativeError / 2 }, 1, 0),
    atBandTop: chance(options.kit, 1, Math.max(0, options.ceilingMgPerL - last)),
  }
}
