// The most useful next test: among the hours on offer, the one that lowers the hours refused most.
import { normalCdf, normalQuantile } from './normal.ts'
import type { LevelPosterior } from './posterior.ts'

export interface TestInstrument {
  readonly index: number
  readonly halfStepMgPerL: number
  readonly relativeError: number
}

export interface NextTestOptions {
  readonly posterior: LevelPosterior
  /** All hours below count from the posterior's last event (`stateTimeH`). */
  readonly offeredH: readonly number[]
  /** Stretch whose credit is judged: from the last dose or change to the horizon, hours; `fromH` <= 0. */
  readonly fromH: number
  readonly horizonH: number
  /** Hour of the last reading (<= 0), or null when there is none yet. */
  readonly lastReadingH: number | null
  readonly maxGapH: number
  readonly floorMgPerL: number
  readonly confidence: number
  readonly instrument: TestInstrument
}

export interface TestChoice {
  readonly atH: number
  /** Hours of the stretch expected to be refused when this test is taken. */
  readonly refusedH: number
}
export interface NextTest {
  readonly best: TestChoice
  readonly withoutTest: number
  readonly choices: readonly TestChoice[]
  /** Hours expected to be saved by the best test. */
  readonly savesH: number
}

const OUTCOMES = [0.05, 0.2, 0.35, 0.5, 0.65, 0.8, 0.95] as const
/** Nodes looked at: the heaviest carry nearly all the weight. */
const MOST_NODES = 400

/**
 * Preposterior analysis: for every offered hour the readings it could give are laid out by their own chance, the
 * posterior is updated by each, and the hours that would then be credited are counted.
 * Between events levels of one node at different hours are one number scaled by its decay, so each update is exact
 * given the node.
 * @source design/definitions "The next test is the one, among offered hours, that most lowers the expected refused hours"
 */
export function nextTest(options: NextTestOptions): NextTest {
  const nodes = options.posterior.nodes.slice(0, MOST_NODES)
  const total = nodes.reduce((sum, node) => sum + node.weight, 0)
  const weights = nodes.map((node) => node.weight / total)
  const means = nodes.map((node) => node.levelMgPerL)
  const sds = nodes.map((node) => node.levelSd)
  const rates = nodes.map((node) => node.lossPerHour)
  const hoursOfStretch: number[] = []
  for (let h = Math.ceil(options.fromH) + 0.5; h < options.horizonH; h += 1) hoursOfStretch.push(h)

  const chanceAt = (w: readonly number[], m: readonly number[], s: readonly number[], h: number): number => {
    let chance = 0
    for (let i = 0; i < w.length; i++) {
      const decay = Math.exp(-rates[i]! * h)
      chance += w[i]! * (1 - normalCdf((options.floorMgPerL - m[i]! * decay) / Math.max(1e-9, s[i]! * decay)))
    }
    return chance
  }
  const refused = (w: readonly number[], m: readonly number[], s: readonly number[], testH: number | null): number => {
    // Nothing is added in the stretch, so the chance only falls: the first hour that is too unsure is found by halving.
    let low = 0
    let high = hoursOfStretch.length
    while (low < high) {
      const middle = (low + high) >> 1
      if (chanceAt(w, m, s, hoursOfStretch[middle]!) < options.confidence) high = middle
      else low = middle + 1
    }
    const since = testH ?? options.lastReadingH
    const proven = (h: number) => (testH !== null && h <= testH) || (since !== null && h - since <= options.maxGapH)
    return hoursOfStretch.filter((h, i) => i >= low || !proven(h)).length
  }

  const withoutTest = refused(weights, means, sds, null)
  const choices = options.offeredH.map((testH): TestChoice => {
    const { instrument } = options
    const expect = nodes.map((node, i) => {
      const decay = Math.exp(-rates[i]! * testH)
      const bias = node.biasMean[instrument.index] ?? 0
      const biasVariance = node.biasVariance[instrument.index] ?? 0
      const level = means[i]! * decay
      const covariance = (node.biasLevelCovariance[instrument.index] ?? 0) * decay
      const levelVariance = (sds[i]! * decay) ** 2
      const gain = levelVariance * (1 + bias) + covariance * level
      const variance =
        (1 + bias) * gain +
        level * (covariance * (1 + bias) + biasVariance * level) +
        instrument.halfStepMgPerL ** 2 +
        (instrument.relativeError * level) ** 2
      return { mean: level * (1 + bias), variance, gain: gain / decay }
    })
    const mean = expect.reduce((sum, e, i) => sum + weights[i]! * e.mean, 0)
    const sd = Math.sqrt(expect.reduce((sum, e, i) => sum + weights[i]! * (e.variance + (e.mean - mean) ** 2), 0))
    let sum = 0
    for (const p of OUTCOMES) {
      const y = mean + sd * normalQuantile(p)
      const raw = expect.map(
        (e, i) => (weights[i]! * Math.exp(-((y - e.mean) ** 2) / (2 * e.variance))) / Math.sqrt(e.variance),
      )
      const norm = raw.reduce((a, b) => a + b, 0)
      sum += refused(
        raw.map((w) => w / norm),
        means.map((m, i) => m + (expect[i]!.gain / expect[i]!.variance) * (y - expect[i]!.mean)),
        sds.map((s, i) => Math.sqrt(Math.max(1e-12, s * s - expect[i]!.gain ** 2 / expect[i]!.variance))),
        testH,
      )
    }
    return { atH: testH, refusedH: sum / OUTCOMES.length }
  })
  const best = choices.reduce((a, b) => (b.refusedH < a.refusedH - 1e-9 ? b : a))
  return { best, withoutTest, choices, savesH: withoutTest - best.refusedH }
}
