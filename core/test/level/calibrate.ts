// Simulated tanks with known truth: how often the band holds it, and how often a credited hour was truly earned.
import {
  drawTruth,
  INSTRUMENT_BIAS_SD,
  levelPosterior,
  logPriorFromRange,
  normalFrom,
  randomFrom,
  rateOfHalfLife,
  SimulatedTank,
  therapeuticClock,
  type LevelModel,
  type LevelReading,
  type UncertainEvent,
} from '@brinvo/core'

export interface Calibration {
  /** Share of hours whose truth lay inside the 10–90 % band. */
  bandShare: number
  /** Of the hours credited at 0.9, the share truly at or above the floor. */
  creditedTrue: number
  creditedHours: number
  hours: number
}

const FLOOR = 2
const CEILING = 2.5
const HARD_MAX = 2.8
const DAYS = 12
const KIT = { step: 0.05, relativeError: 0.05 }

/** One tank: a slow copper ramp, then doses towards target by reading, a change with and without make-up. */
function tank(seed: number): { truth: (timesH: readonly number[]) => number[]; model: LevelModel } {
  const random = randomFrom(seed)
  const normal = normalFrom(random)
  const geometry = { median: 68, sdLn: 0.04 + 0.06 * random() }
  const loss = logPriorFromRange(rateOfHalfLife(40 * 24), rateOfHalfLife(20 * 24))
  const truth = drawTruth(normal, geometry, loss)
  const simulated = new SimulatedTank(truth, random)
  const events: UncertainEvent[] = []
  const readings: LevelReading[] = []
  const dose = (tH: number, massMg: number) => {
    simulated.dose(tH, massMg)
    events.push({ kind: 'dose', tH, massMg, sdShare: 0.03 })
  }
  let shown = 0
  const ramp = [0.75, 1.25, 1.75, 2.25]
  for (let day = 0; day < DAYS; day++) {
    const tH = day * 24 + (random() - 0.5) * 3 + 2
    if (day > 0 && (day < 6 || random() < 0.6)) {
      shown = simulated.read(tH - 0.5, KIT, 0.02)
      readings.push({
        tH: tH - 0.5,
        mgPerL: shown,
        bound: 'exact',
        instrument: 0,
        halfStepMgPerL: KIT.step / 2,
        relativeError: KIT.relativeError,
      })
    }
    const target = ramp[Math.min(day, 3)]!
    if (day === 6 || day === 9) {
      const fraction = day === 6 ? 0.3 : 0.2
      simulated.change(tH, fraction)
      events.push({ kind: 'change', tH, fraction, sdShare: 0.05, replacementMgPerL: 0 })
      if (random() < 0.6) dose(tH + 0.2, fraction * geometry.median * target)
    } else if (shown < target - 0.1 && shown > target / 4 - 0.4) dose(tH, (target - shown) * geometry.median)
  }
  return {
    truth: (timesH) => simulated.levels(timesH),
    model: {
      volume: { median: geometry.median, sdLn: Math.max(0.03, geometry.sdLn) },
      loss,
      initial: { mgPerL: 0, sdMgPerL: 0 },
      evaporationLPerH: 0,
      media: [],
      events,
      readings,
      instrumentBiasSd: [INSTRUMENT_BIAS_SD],
    },
  }
}

/** Runs `count` tanks from `seed`; `doubt` scales the model's idea of kit error (1 is honest). */
export function calibrate(count: number, seed: number, gridSize = 20, doubt = 1): Calibration {
  let inside = 0
  let hours = 0
  let credited = 0
  let truly = 0
  for (let i = 0; i < count; i++) {
    const { truth, model } = tank(seed + i)
    const timesH = Array.from({ length: DAYS * 24 }, (_, h) => h + 4)
    const honest = {
      ...model,
      readings: model.readings.map((r) => ({
        ...r,
        relativeError: r.relativeError * doubt,
        halfStepMgPerL: r.halfStepMgPerL * doubt,
      })),
    }
    const posterior = levelPosterior(honest, {
      timesH,
      floorMgPerL: FLOOR,
      ceilingMgPerL: CEILING,
      hardMaxMgPerL: HARD_MAX,
      gridSize,
    })
    const levels = truth(timesH)
    levels.forEach((level, h) => {
      hours++
      if (level >= posterior.p10[h]! && level <= posterior.p90[h]!) inside++
    })
    const clock = therapeuticClock({
      rules: { school: 'pause', confidence: 0.9, requiredH: 720, maxGapH: 48, aboveCounts: true },
      timesH,
      pFloor: posterior.pFloor,
      pBand: posterior.pBand,
      pHardMax: posterior.pHardMax,
      p50: posterior.p50,
      floorMgPerL: FLOOR,
      ceilingMgPerL: CEILING,
      readings: model.readings,
      disturbancesH: model.events.map((event) => event.tH),
      nowH: timesH.at(-1)!,
    })
    for (const interval of clock.intervals) {
      if (interval.state !== 'credited') continue
      for (let h = interval.fromH + 0.25; h < interval.toH; h += 0.5) {
        credited += 0.5
        if (truth([h])[0]! >= FLOOR) truly += 0.5
      }
    }
  }
  return { bandShare: inside / hours, creditedTrue: credited ? truly / credited : 1, creditedHours: credited, hours }
}
