// The next dose by chance constraint: the smallest syringe amount that keeps the level up until the next test.
import { err, ok, type Result } from '../result.ts'
import { normalCdf } from './normal.ts'
import type { LevelPosterior, PosteriorNode } from './posterior.ts'
import { DOSE_SD_SHARE } from './model.ts'

export interface NextDoseOptions {
  readonly posterior: LevelPosterior
  /** Hours since the posterior's last event until the dose goes in. */
  readonly hoursUntilDose: number
  /** Hours from the dose until the next planned test. */
  readonly hoursUntilTest: number
  readonly floorMgPerL: number
  readonly ceilingMgPerL: number
  readonly hardMaxMgPerL: number
  /** No dose may lift the middle of the level above this (the ramp's step, or the band's top). */
  readonly stepTopMgPerL: number
  /** Milligrams of active per pour unit, and the graduation of the measure at hand. */
  readonly contentMg: number
  readonly step: number
  /** Chance wanted of staying at or above the floor (0.9), and chance tolerated of passing the hard maximum (0.02). */
  /** A rise smaller than this is not worth pouring, mg/L; none where left out. */
  readonly leastRiseMgPerL?: number
  readonly floorChance?: number
  readonly hardMaxChance?: number
}

export interface NextDose {
  /** Already a whole number of graduations. Zero when the level holds without one. */
  readonly amount: number
  readonly massMg: number
  /** P(lowest level until the next test >= floor) and P(highest level > hard maximum) with this amount. */
  readonly floorChance: number
  readonly hardMaxChance: number
  readonly levelBefore: number
  readonly levelAfter: number
  readonly levelAtTest: number
}

export type NextDoseRefusal = {
  readonly kind: 'too-uncertain' | 'step-too-small' | 'above-band'
  readonly message: string
  /** What would help, in order. */
  readonly remedies: readonly ('test-now' | 'test-sooner' | 'smaller-step' | 'water-change' | 'wait')[]
  /** The best that can be done inside the limits, so that it can be shown. */
  readonly best: NextDose
}

interface Forecast {
  readonly weight: number
  readonly before: number
  readonly sd: number
  readonly volumeL: number
  readonly fall: number
  readonly kept: number
}

const forecast = (nodes: readonly PosteriorNode[], hoursUntilDose: number, hoursUntilTest: number): Forecast[] =>
  nodes.map((node) => {
    const decay = Math.exp(-node.lossPerHour * hoursUntilDose)
    return {
      weight: node.weight,
      before: node.levelMgPerL * decay,
      sd: node.levelSd * decay,
      volumeL: node.volumeL,
      fall: Math.exp(-node.lossPerHour * hoursUntilTest),
      kept: 1 - node.boundShare,
    }
  })

function evaluate(states: readonly Forecast[], amount: number, options: NextDoseOptions): NextDose {
  const massMg = amount * options.contentMg
  let floorChance = 0
  let hardMaxChance = 0
  let before = 0
  let after = 0
  let atTest = 0
  for (const state of states) {
    const rise = (massMg * state.kept) / state.volumeL
    const level = state.before + rise
    const sd = Math.max(1e-12, Math.hypot(state.sd, rise * DOSE_SD_SHARE))
    // Ceilings are checked as if nothing were bound.
    const unbound = state.before + massMg / state.volumeL
    floorChance += state.weight * (1 - normalCdf((options.floorMgPerL - level * state.fall) / (sd * state.fall)))
    hardMaxChance += state.weight * (1 - normalCdf((options.hardMaxMgPerL - unbound) / sd))
    before += state.weight * state.before
    after += state.weight * level
    atTest += state.weight * level * state.fall
  }
  return { amount, massMg, floorChance, hardMaxChance, levelBefore: before, levelAfter: after, levelAtTest: atTest }
}

/**
 * Smallest amount, rounded to the measure first, with P(lowest level until the next test >= floor) >= 0.9 and
 * P(highest level > hard maximum) <= 0.02, that does not aim above the step's top. The posterior's nodes carry the
 * doubt about volume, loss and level together.
 * @source design/definitions "Next dose, next test"
 */
export function nextDose(options: NextDoseOptions): Result<NextDose, NextDoseRefusal> {
  const wanted = options.floorChance ?? 0.9
  const tolerated = options.hardMaxChance ?? 0.02
  const states = forecast(options.posterior.nodes, options.hoursUntilDose, options.hoursUntilTest)
  const none = evaluate(states, 0, options)
  if (none.levelBefore > options.ceilingMgPerL) {
    return err({
      kind: 'above-band',
      message: `The level is about ${none.levelBefore.toFixed(2)} mg/L, above the band. Add nothing; test again within 12 h.`,
      remedies: ['wait', 'water-change'],
      best: none,
    })
  }
  if (none.floorChance >= wanted) return ok(none)
  const meanVolume = options.posterior.volume.meanL
  const room = Math.max(0, options.stepTopMgPerL - none.levelBefore) * meanVolume
  const most = Math.floor(room / options.contentMg / options.step + 1e-9)
  const at = (count: number) => evaluate(states, Number((count * options.step).toPrecision(12)), options)
  const allowed = (count: number) => at(count).hardMaxChance <= tolerated
  // Both chances grow with the amount, so each limit is one bisection.
  const highest = lastWhere(most, allowed)
  const best = at(highest)
  // A dose below what a kit can tell is work without effect: it is as large as it matters, or none.
  const matters = Math.ceil(((options.leastRiseMgPerL ?? 0) * meanVolume) / options.contentMg / options.step - 1e-9)
  if (highest < matters)
    return err({
      kind: 'too-uncertain',
      message: `The level is as high as it may be aimed at; that it stays above ${options.floorMgPerL} mg/L is ${Math.round(none.floorChance * 100)} % sure. Only a reading narrows that: test now.`,
      remedies: ['test-now', 'test-sooner'],
      best: none,
    })
  if (best.floorChance < wanted) {
    const blockedByStep = highest === most && options.stepTopMgPerL < options.floorMgPerL
    return err({
      kind: blockedByStep ? 'step-too-small' : 'too-uncertain',
      message: blockedByStep
        ? 'This step of the ramp stays below the band on purpose.'
        : `No amount keeps the level above ${options.floorMgPerL} mg/L with ${Math.round(wanted * 100)} % chance until that test without risking the hard maximum. Test sooner, or test now to narrow the doubt.`,
      remedies: blockedByStep ? ['wait'] : ['test-now', 'test-sooner', 'smaller-step'],
      best,
    })
  }
  const smallest = highest - lastWhere(highest, (fewer) => at(highest - fewer).floorChance >= wanted)
  return ok(at(Math.max(smallest, matters)))
}

/** Largest whole number 0..most for which `holds`, given that it holds up to some point and then no more. */
function lastWhere(most: number, holds: (count: number) => boolean): number {
  if (most <= 0 || !holds(0)) return 0
  let low = 0
  let high = most
  if (holds(high)) return high
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (holds(middle)) low = middle
    else high = middle
  }
  return low
}
