// Speed of the level posterior and of one exact curve, against yardsticks measured in the same run.
import {
  levelCurve,
  levelPosterior,
  logPriorFromRange,
  rateOfHalfLife,
  type LevelModel,
  type LevelScenario,
} from '@brinvo/core'

export interface BenchLine {
  name: string
  value: number
  unit: string
  yardstick: number
  ratio: number
  budget: number
  better: 'lower' | 'higher'
}

/** Median wall time of `runs` calls, ms, after one warm-up. */
export function medianMs(runs: number, job: () => unknown): number {
  job()
  const times = Array.from({ length: runs }, () => {
    const start = performance.now()
    job()
    return performance.now() - start
  })
  return times.sort((a, b) => a - b)[Math.floor(runs / 2)]!
}

/** 8,192,000 exponentials in a bare typed-array loop: what a naive 64 × 64 × 2,000 posterior would need at least. */
export function exponentialsMs(): number {
  const out = new Float64Array(2000)
  return medianMs(5, () => {
    for (let node = 0; node < 4096; node++) {
      const k = -1e-6 * (node + 1)
      for (let i = 0; i < 2000; i++) out[i] = Math.exp(k * i)
    }
    return out[7]
  })
}

/** Sixty events over 30 days: forty doses and changes, twenty readings. */
export function sixtyEvents(): LevelModel {
  const events: LevelModel['events'][number][] = []
  const readings: LevelModel['readings'][number][] = []
  for (let i = 0; i < 40; i++) {
    if (i % 8 === 7) events.push({ kind: 'change', tH: i * 18, fraction: 0.2, sdShare: 0.05, replacementMgPerL: 0 })
    else events.push({ kind: 'dose', tH: i * 18, massMg: i < 4 ? 38 : 8, sdShare: 0.03 })
  }
  for (let i = 0; i < 20; i++) {
    readings.push({
      tH: 20 + i * 34,
      mgPerL: 2 + 0.2 * Math.sin(i),
      bound: 'exact',
      instrument: 0,
      halfStepMgPerL: 0.025,
      relativeError: 0.05,
    })
  }
  return {
    volume: { median: 68, sdLn: 0.06 },
    loss: logPriorFromRange(rateOfHalfLife(960), rateOfHalfLife(480)),
    initial: { mgPerL: 0, sdMgPerL: 0 },
    evaporationLPerH: 0,
    media: [],
    events,
    readings,
    instrumentBiasSd: [0.04],
  }
}

export function posteriorLine(): BenchLine {
  const model = sixtyEvents()
  const timesH = Array.from({ length: 2000 }, (_, i) => i * 0.36)
  const yardstick = exponentialsMs()
  const value = medianMs(5, () =>
    levelPosterior(model, { timesH, floorMgPerL: 2, ceilingMgPerL: 2.5, hardMaxMgPerL: 2.8, gridSize: 64 }),
  )
  return {
    name: 'level posterior 64x64, 60 events, 2000 times',
    value,
    unit: 'ms',
    yardstick,
    ratio: value / yardstick,
    budget: 3,
    better: 'lower',
  }
}

/**
 * One exact curve against a general adaptive solver on the same scenario at 1e-6. `solve` integrates y' from t0 to t1.
 */
export function curveLine(
  solve: (f: (t: number, y: number[]) => number[], y0: number[], t0: number, t1: number) => number[],
): BenchLine {
  const events = Array.from({ length: 60 }, (_, i) => ({ kind: 'dose' as const, tH: i * 12, massMg: 10 }))
  const scenario: LevelScenario = {
    volumeL: 68,
    mgPerL: 0,
    evaporationLPerH: 0.01,
    losses: [{ fromH: 0, toH: Infinity, perHour: 0.004 }],
    events,
  }
  const timesH = Array.from({ length: 720 }, (_, i) => i)
  const exact = medianMs(51, () => levelCurve(scenario, timesH))
  const solver = medianMs(5, () => {
    let y = [0, 68]
    let t = 0
    const out: number[] = []
    for (const time of timesH) {
      if (time > t) y = solve((_, [m = 0]) => [-0.004 * m, -0.01], y, t, time)
      t = time
      if (time % 12 === 0) y = [y[0]! + 10, y[1]!]
      out.push(y[0]! / y[1]!)
    }
    return out
  })
  return {
    name: 'level curve against a general ODE solver at 1e-6',
    value: exact,
    unit: 'ms',
    yardstick: solver,
    ratio: solver / exact,
    budget: 50,
    better: 'higher',
  }
}
