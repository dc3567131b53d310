// The comparison of five methods against the plainest way to run the same model: a tick every second.
import { HORIZON_MIN, compareMethods, kindOf, runAcclimation, type CompareInputs, type Run } from '@brinvo/core'

const range = (value: number, doubt: number) => ({ value, low: value - doubt, high: value + doubt })
/** A bag of the demonstration's kind. */
export const BENCH_INPUTS: CompareInputs = {
  kind: kindOf('hg-clown-damsel', 'marine'),
  water: 'marine',
  bag: {
    volumeL: range(2, 0.2),
    tempC: range(22, 0.3),
    salinityPsu: range(32, 0.5),
    phNbs: range(7.4, 0.1),
    alkalinityDkh: range(8, 1),
    tanMgN: { value: 1, low: 0.5, high: 2 },
    massG: range(10, 4),
  },
  tank: {
    tempC: range(25.5, 0.2),
    salinityPsu: range(34, 0.5),
    phNbs: range(8.1, 0.1),
    alkalinityDkh: range(8, 0.5),
    tanMgN: { value: 0.02, low: 0, high: 0.05 },
  },
  transitH: 6,
  fouled: false,
  copper: false,
  invertebrate: false,
  roomTempC: 21,
  equipment: { dripLine: true, binder: true, canMatch: true, tubL: 8 },
  samples: 200,
  seed: 1,
}

/** Milliseconds of one run of the drip for three hours with ticks of so many minutes. */
export function timeOfRun(tickMin: number, times: number): { ms: number; run: Run } {
  const water = { tempC: 22, salinityPsu: 32, phNbs: 7.4, alkalinityDkh: 8, tanMgN: 1 }
  const inputs = {
    bag: { ...water, volumeL: 2 },
    tank: { tempC: 25.5, salinityPsu: 34, phNbs: 8.1, alkalinityDkh: 8, tanMgN: 0.02 },
    environment: {
      roomTempC: 21,
      roomCoolingMin: 60,
      roomCo2Uatm: 600,
      gasOpenPerH: 0.8,
      gasAiredPerH: 2.5,
      excretionMgNPerH: 0.08,
      nbsMinusTotalAtSea: 0.13,
    },
    actions: [{ kind: 'open', min: 0 } as const, { kind: 'drip', min: 1, litresPerH: 2, overflowAtL: 6 } as const],
    untilMin: HORIZON_MIN,
    floatMin: 8,
    tickMin,
  }
  let run = runAcclimation(inputs)
  const start = performance.now()
  for (let i = 0; i < times; i++) run = runAcclimation(inputs)
  return { ms: (performance.now() - start) / times, run }
}

/** Milliseconds of the whole comparison, and of the central numbers alone. */
export function timeOfComparison(): { sampledMs: number; centralMs: number } {
  const central = { ...BENCH_INPUTS, samples: 0 }
  for (let i = 0; i < 5; i++) compareMethods(central)
  const start = performance.now()
  const times = 20
  for (let i = 0; i < times; i++) compareMethods(central)
  const centralMs = (performance.now() - start) / times
  const again = performance.now()
  compareMethods(BENCH_INPUTS)
  return { sampledMs: performance.now() - again, centralMs }
}
