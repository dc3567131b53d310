// A pest in stages under repeated treatment, as an exact branching process: eggs with a window of hatching, mobiles that
// lay after they have matured, treatments that kill each independently.

export interface LifeStages {
  /** An egg laid at s hatches at s + U(hatchMinH, hatchMaxH), hours. */
  readonly hatchMinH: number
  readonly hatchMaxH: number
  /** A mobile hatched at u lays at u + maturation, then every clutch interval; null: it never lays within the horizon. */
  readonly maturationH: number | null
  readonly eggsPerClutch: number
  readonly clutchIntervalH: number
}
export interface TreatmentPlan {
  /** Instants, hours from the start, rising. */
  readonly timesH: readonly number[]
  /** Chance that a treatment kills a mobile, and an egg, that is there. 0 to 1. */
  readonly killMobile: number
  readonly killEgg: number
}
export type Founder =
  | { readonly stage: 'mobile'; readonly hatchedAtH: number; readonly count: number }
  | { readonly stage: 'egg'; readonly laidAtH: number; readonly count: number }
export interface Eradication {
  /** Chance that neither egg nor mobile is left at the horizon. */
  readonly pExtinct: number
  readonly expectedMobiles: number
  readonly expectedEggs: number
}

/** Grid of hatch times, hours. Halving it moves the chance by less than 0.001; a plan is searched on a coarser one. */
const FINE_H = 0.25
const COARSE_H = 2

/**
 * Chance of eradication and what is left on average, by backward recursion over the time of hatching.
 *
 * A mobile hatched at u is gone when a treatment kills it and every clutch it laid before died out; an egg laid at s is
 * gone when a treatment kills it, or the mobile it becomes does. Clutches before hour 0 are the founders.
 *
 * @param stepH grid of hatch times, hours
 * @throws RangeError for a window that falls, chances outside 0 to 1, or a horizon before the last treatment
 * @source Galton–Watson branching in continuous time; definitions of the vectors' README
 */
export function eradication(
  stages: LifeStages,
  plan: TreatmentPlan,
  founders: readonly Founder[],
  horizonH: number,
  stepH: number = FINE_H,
): Eradication {
  const { hatchMinH, hatchMaxH } = stages
  if (!(hatchMaxH >= hatchMinH && hatchMinH >= 0)) throw new RangeError('eradication: the hatch window falls')
  if (![plan.killMobile, plan.killEgg].every((p) => p >= 0 && p <= 1))
    throw new RangeError('eradication: a chance of killing lies outside 0 to 1')
  if (plan.timesH.some((time) => time > horizonH))
    throw new RangeError('eradication: a treatment lies after the horizon')
  const model = backward(stages, plan, horizonH, stepH)
  let log = 0
  let mobiles = 0
  let eggs = 0
  for (const founder of founders) {
    const one = founder.stage === 'mobile' ? model.mobile(founder.hatchedAtH) : model.egg(founder.laidAtH)
    log += founder.count * Math.log(Math.max(one.gone, 1e-300))
    mobiles += founder.count * one.mobiles
    eggs += founder.count * one.eggs
  }
  return { pExtinct: Math.exp(log), expectedMobiles: mobiles, expectedEggs: eggs }
}

/** From one individual on: chance that its line is gone at the horizon, and what is left of it on average. */
interface Line {
  readonly gone: number
  readonly mobiles: number
  readonly eggs: number
}

function backward(stages: LifeStages, plan: TreatmentPlan, horizonH: number, stepH: number) {
  const { hatchMinH, hatchMaxH, maturationH, eggsPerClutch, clutchIntervalH } = stages
  const { timesH, killMobile, killEgg } = plan
  const cells = Math.max(1, Math.ceil(horizonH / stepH))
  // Lines of mobiles hatched in the middle of each cell, filled from the horizon backwards.
  const gone = new Float64Array(cells)
  const mobiles = new Float64Array(cells)
  const eggs = new Float64Array(cells)
  // And of eggs laid there: every mobile that lays then asks for the same.
  const laid: Line[] = new Array<Line>(cells)

  /** Treatments after one instant and before another. */
  const between = (fromH: number, toH: number): number => {
    let count = 0
    for (const time of timesH) if (time > fromH && time < toH) count++
    return count
  }

  const egg = (laidH: number): Line => {
    const width = hatchMaxH - hatchMinH
    const fromH = laidH + hatchMinH
    const toH = laidH + hatchMaxH
    let lineGone = 0
    let lineMobiles = 0
    let lineEggs = 0
    /** Hatching within a stretch in which no treatment falls: the mean line of the mobiles, weighed by its share. */
    const add = (lowH: number, highH: number) => {
      const share = width === 0 ? 1 : (highH - lowH) / width
      if (share <= 0) return
      if (lowH >= horizonH) {
        const alive = (1 - killEgg) ** between(laidH, Infinity)
        lineGone += share * (1 - alive)
        lineEggs += share * alive
        return
      }
      const alive = (1 - killEgg) ** between(laidH, (lowH + highH) / 2)
      const next = meanMobile(lowH, highH)
      lineGone += share * (1 - alive + alive * next.gone)
      lineMobiles += share * alive * next.mobiles
      lineEggs += share * alive * next.eggs
    }
    if (width === 0) add(fromH, fromH)
    else {
      // The window cut at treatments, hour 0 and the horizon.
      const cuts = [fromH, ...[0, horizonH, ...timesH].filter((time) => time > fromH && time < toH), toH]
      cuts.sort((a, b) => a - b)
      for (let i = 0; i + 1 < cuts.length; i++) add(cuts[i]!, cuts[i + 1]!)
    }
    return { gone: lineGone, mobiles: lineMobiles, eggs: lineEggs }
  }

  const mobile = (hatchH: number): Line => {
    const treated = timesH.filter((time) => time > hatchH)
    let alive = 1
    let clutchesGone = 1
    let lineGone = 0
    let lineMobiles = 0
    let lineEggs = 0
    let clutchH = maturationH === null ? Infinity : hatchH + maturationH
    if (clutchH <= 0) clutchH += clutchIntervalH * Math.max(1, Math.ceil(-clutchH / clutchIntervalH + 1e-9))
    const layUntil = (untilH: number) => {
      for (; clutchH < untilH; clutchH += clutchIntervalH) {
        if (clutchH <= 0) continue
        const line = eggAt(clutchH)
        clutchesGone *= line.gone ** eggsPerClutch
        lineMobiles += alive * eggsPerClutch * line.mobiles
        lineEggs += alive * eggsPerClutch * line.eggs
        if (clutchIntervalH <= 0) break
      }
    }
    for (const time of treated) {
      layUntil(time)
      lineGone += alive * killMobile * clutchesGone
      alive *= 1 - killMobile
      if (alive === 0) break
    }
    if (alive > 0) {
      layUntil(horizonH)
      lineMobiles += alive
    }
    return { gone: lineGone, mobiles: lineMobiles, eggs: lineEggs }
  }

  const filled = { from: cells }
  // Sums from a cell to the horizon: the mean over any stretch is a difference of two.
  const sums = [gone, mobiles, eggs].map(() => new Float64Array(cells + 1))
  const integral = (which: number, values: Float64Array, atH: number): number => {
    const cell = Math.min(cells - 1, Math.max(0, Math.floor(atH / stepH)))
    return sums[which]![cell + 1]! + values[cell]! * ((cell + 1) * stepH - atH)
  }
  /** Mean line of mobiles hatched within a stretch without a treatment; before hour 0 worked out directly. */
  const meanMobile = (lowH: number, highH: number): Line => {
    const direct = maturationH === null || lowH < 0 || Math.floor(lowH / stepH) < filled.from
    if (direct || highH - lowH < 1e-9) return mobile((lowH + highH) / 2)
    const width = highH - lowH
    const mean = (which: number, values: Float64Array) =>
      (integral(which, values, lowH) - integral(which, values, highH)) / width
    return { gone: mean(0, gone), mobiles: mean(1, mobiles), eggs: mean(2, eggs) }
  }
  const eggAt = (laidH: number): Line => {
    const cell = Math.floor(laidH / stepH)
    return laidH >= 0 && cell < cells && cell >= filled.from ? laid[cell]! : egg(laidH)
  }
  if (maturationH !== null) {
    // A later hatch never depends on an earlier one, nor an egg on anything before it.
    for (let cell = cells - 1; cell >= 0; cell--) {
      laid[cell] = egg((cell + 0.5) * stepH)
      const line = mobile((cell + 0.5) * stepH)
      gone[cell] = line.gone
      mobiles[cell] = line.mobiles
      eggs[cell] = line.eggs
      sums[0]![cell] = sums[0]![cell + 1]! + line.gone * stepH
      sums[1]![cell] = sums[1]![cell + 1]! + line.mobiles * stepH
      sums[2]![cell] = sums[2]![cell + 1]! + line.eggs * stepH
      filled.from = cell
    }
  }
  return { egg, mobile }
}

/** Mobiles alone, never laying: P = (1 − (1 − p)ⁿ)ᵏ. */
export const mobilesOnly = (killMobile: number, treatments: number, count: number): Eradication => {
  const left = (1 - killMobile) ** treatments
  return { pExtinct: (1 - left) ** count, expectedMobiles: count * left, expectedEggs: 0 }
}

/**
 * Whether eradication is certain with treatments that kill every mobile and no egg: none may mature between two, and
 * the last egg laid before the first must have hatched by the last.
 */
export const certainlyOver = (stages: LifeStages, intervalH: number, treatments: number): boolean =>
  (stages.maturationH === null || intervalH < stages.maturationH) && (treatments - 1) * intervalH >= stages.hatchMaxH

export type DetectionUnit = 'per-animal' | 'per-inspection'
/**
 * Chance that nothing is left after inspections that found nothing. Poisson prior of survivors; each is seen with `d`
 * at each inspection, or an inspection finds something with `d` where anything is left.
 */
export function chanceOver(priorMean: number, detection: number, clean: number, unit: DetectionUnit): number {
  const missed = (1 - detection) ** clean
  if (unit === 'per-animal') return Math.exp(-priorMean * missed)
  const none = Math.exp(-priorMean)
  return none / (none + (1 - none) * missed)
}
/** Fewest clean inspections for a wanted chance; null where no number suffices. */
export function inspectionsNeeded(
  priorMean: number,
  detection: number,
  confidence: number,
  unit: DetectionUnit,
): number | null {
  for (let n = 0; n <= 1000; n++) if (chanceOver(priorMean, detection, n, unit) >= confidence) return n
  return null
}

export interface Spacing {
  readonly intervalH: number
  readonly treatments: number
  readonly pExtinct: number
  /** Hours by which every treatment may be late together before the chance falls under the wanted one. */
  readonly slackH: number
}
/** Nobody keeps to rounds further apart than a fortnight. EST */
const LONGEST_H = 14 * 24

/**
 * The fewest treatments that reach a wanted chance, and an interval in the middle of those that do, so that a round may
 * come early or late; null where none of up to `most` reach it. Intervals are whole days, none longer than the young
 * take to lay, none so short that the last eggs cannot have hatched by the last round.
 */
export function planTreatments(
  stages: LifeStages,
  kill: Pick<TreatmentPlan, 'killMobile' | 'killEgg'>,
  founders: readonly Founder[],
  wanted: number,
  most = 8,
): Spacing | null {
  const longest = Math.max(
    1,
    Math.floor(Math.min(stages.maturationH ?? Infinity, stages.hatchMaxH * 2, LONGEST_H) / 24),
  )
  const chance = (days: number, treatments: number, stepH: number) => {
    const timesH = Array.from({ length: treatments }, (_, i) => 6 + 24 * i * days)
    // Long enough that every egg laid before the last treatment has hatched: what is left then is really left.
    return eradication(stages, { ...kill, timesH }, founders, timesH.at(-1)! + stages.hatchMaxH + 24, stepH).pExtinct
  }
  for (let treatments = 1; treatments <= most; treatments++) {
    const fitting: number[] = []
    for (let days = 1; days <= (treatments === 1 ? 1 : longest); days++) {
      const covers = 24 * days * (treatments - 1)
      // With eggs that survive a round, the last of them must hatch before the last one.
      if (kill.killEgg < 0.9 && treatments > 1 && covers < 0.7 * stages.hatchMaxH) continue
      if (chance(days, treatments, COARSE_H) >= wanted) fitting.push(days)
      // Beyond the first that no longer fits, longer ones do not either.
      else if (fitting.length > 0) break
    }
    if (fitting.length === 0) continue
    const days = fitting[Math.floor((fitting.length - 1) / 2)]!
    return {
      intervalH: 24 * days,
      treatments,
      pExtinct: chance(days, treatments, FINE_H),
      slackH: 24 * (fitting.at(-1)! - days),
    }
  }
  return null
}
