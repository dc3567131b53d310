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
 * @param stepH widest grid of hatch times, hours
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

function backward(stages: LifeStages, plan: TreatmentPlan, horizonH: number, widestH: number) {
  const { hatchMinH, hatchMaxH, maturationH, eggsPerClutch, clutchIntervalH } = stages
  const { timesH, killMobile, killEgg } = plan
  // The widest grid, not above the asked one, on which the pause between clutches is whole cells.
  const pause = clutchIntervalH > 0 ? Math.ceil(clutchIntervalH / widestH - 1e-9) : 0
  const stepH = pause > 0 ? clutchIntervalH / pause : widestH
  const cells = Math.max(1, Math.ceil(horizonH / stepH))
  // Lines of mobiles hatched in the middle of each cell, filled from the horizon backwards.
  const gone = new Float64Array(cells)
  const mobiles = new Float64Array(cells)
  const eggs = new Float64Array(cells)
  // And of eggs laid there: every mobile that lays then asks for the same. The chance is that of a whole clutch.
  const laid: Line[] = new Array<Line>(cells)
  const clutch = new Float64Array(cells)

  const powers = (base: number) => Float64Array.from({ length: timesH.length + 1 }, (_, n) => base ** n)
  const eggLives = powers(1 - killEgg)
  const mobileLives = powers(1 - killMobile)
  /** Treatments up to and with an instant. */
  const until = (atH: number): number => {
    let count = 0
    while (count < timesH.length && timesH[count]! <= atH) count++
    return count
  }
  /** Treatments before an instant. */
  const before = (atH: number): number => {
    let count = 0
    while (count < timesH.length && timesH[count]! < atH) count++
    return count
  }
  // Where a window of hatching is cut: at treatments, hour 0 and the horizon.
  const cuts = [...new Set([0, horizonH, ...timesH])].sort((a, b) => a - b)

  const width = hatchMaxH - hatchMinH
  // One line at a time is worked out into these: a plan asks for thousands, and objects would cost more than the sums.
  let lineGone = 0
  let lineMobiles = 0
  let lineEggs = 0
  const workOutEgg = (laidH: number): void => {
    const toH = laidH + hatchMaxH
    const treated = until(laidH)
    let eggGone = 0
    let eggMobiles = 0
    let eggEggs = 0
    let lowH = laidH + hatchMinH
    let cut = 0
    while (cut < cuts.length && cuts[cut]! <= lowH) cut++
    // Stretches in which no treatment falls: the mean line of the mobiles hatched there, weighed by their share.
    for (;;) {
      const highH = cut < cuts.length && cuts[cut]! < toH ? cuts[cut]! : toH
      const share = width === 0 ? 1 : (highH - lowH) / width
      if (share > 0) {
        if (lowH >= horizonH) {
          const alive = eggLives[timesH.length - treated]!
          eggGone += share * (1 - alive)
          eggEggs += share * alive
        } else {
          const alive = eggLives[Math.max(0, before((lowH + highH) / 2) - treated)]!
          workOutMobiles(lowH, highH)
          eggGone += share * (1 - alive + alive * lineGone)
          eggMobiles += share * alive * lineMobiles
          eggEggs += share * alive * lineEggs
        }
      }
      if (highH >= toH) break
      lowH = highH
      cut++
    }
    lineGone = eggGone
    lineMobiles = eggMobiles
    lineEggs = eggEggs
  }
  const egg = (laidH: number): Line => {
    workOutEgg(laidH)
    return { gone: lineGone, mobiles: lineMobiles, eggs: lineEggs }
  }

  /** A mobile clutch by clutch: for founders, and where clutches do not fall on the grid. */
  const mobile = (hatchH: number): Line => {
    let alive = 1
    let clutchesGone = 1
    const own = { gone: 0, mobiles: 0, eggs: 0 }
    let clutchH = maturationH === null ? Infinity : hatchH + maturationH
    if (clutchH <= 0) clutchH += clutchIntervalH * Math.max(1, Math.ceil(-clutchH / clutchIntervalH + 1e-9))
    const layUntil = (untilH: number) => {
      for (; clutchH < untilH; clutchH += clutchIntervalH) {
        if (clutchH <= 0) continue
        const line = eggAt(clutchH)
        clutchesGone *= line.gone ** eggsPerClutch
        own.mobiles += alive * eggsPerClutch * line.mobiles
        own.eggs += alive * eggsPerClutch * line.eggs
        if (clutchIntervalH <= 0) break
      }
    }
    for (let i = until(hatchH); i < timesH.length; i++) {
      layUntil(timesH[i]!)
      own.gone += alive * killMobile * clutchesGone
      alive *= 1 - killMobile
      if (alive === 0) break
    }
    if (alive > 0) {
      layUntil(horizonH)
      own.mobiles += alive
    }
    return own
  }

  const filled = { from: cells }
  // Sums from a cell to the horizon: the mean over any stretch is a difference of two.
  const goneSum = new Float64Array(cells + 1)
  const mobilesSum = new Float64Array(cells + 1)
  const eggsSum = new Float64Array(cells + 1)
  /** Mean line of mobiles hatched within a stretch without a treatment; before hour 0 worked out directly. */
  const workOutMobiles = (lowH: number, highH: number): void => {
    if (maturationH === null || lowH < 0 || highH - lowH < 1e-9 || Math.floor(lowH / stepH) < filled.from) {
      const line = mobile((lowH + highH) / 2)
      lineGone = line.gone
      lineMobiles = line.mobiles
      lineEggs = line.eggs
      return
    }
    const low = Math.min(cells - 1, Math.floor(lowH / stepH))
    const high = Math.min(cells - 1, Math.floor(highH / stepH))
    const toLow = (low + 1) * stepH - lowH
    const toHigh = (high + 1) * stepH - highH
    const length = highH - lowH
    lineGone = (goneSum[low + 1]! + gone[low]! * toLow - goneSum[high + 1]! - gone[high]! * toHigh) / length
    lineMobiles =
      (mobilesSum[low + 1]! + mobiles[low]! * toLow - mobilesSum[high + 1]! - mobiles[high]! * toHigh) / length
    lineEggs = (eggsSum[low + 1]! + eggs[low]! * toLow - eggsSum[high + 1]! - eggs[high]! * toHigh) / length
  }
  const eggAt = (laidH: number): Line => {
    const cell = Math.floor(laidH / stepH)
    return laidH >= 0 && cell < cells && cell >= filled.from ? laid[cell]! : egg(laidH)
  }
  if (maturationH !== null) {
    // A layer is asked at one instant of each cell: what it lays then,
    // and the same layer one clutch later. So every cell costs the same however often it will lay.
    const onGrid = pause > 0 && maturationH >= stepH
    const phaseH = (0.5 * stepH + maturationH) % stepH
    const layerGone = new Float64Array(cells)
    const layerMobiles = new Float64Array(cells)
    const layerEggs = new Float64Array(cells)
    const fillLayer = (cell: number) => {
      const atH = phaseH + cell * stepH
      // A treatment in the same hour as the next clutch comes before it.
      const next = cell + pause
      const last = atH + clutchIntervalH >= horizonH
      const lives = mobileLives[(last ? timesH.length : until(atH + clutchIntervalH)) - until(atH)]!
      const line = laid[cell]!
      layerGone[cell] = clutch[cell]! * (1 - lives + (last ? 0 : lives * layerGone[next]!))
      layerMobiles[cell] = eggsPerClutch * line.mobiles + lives * (last ? 1 : layerMobiles[next]!)
      layerEggs[cell] = eggsPerClutch * line.eggs + (last ? 0 : lives * layerEggs[next]!)
    }
    const workOutYoung = (hatchH: number): void => {
      const laysH = hatchH + maturationH
      const last = laysH >= horizonH
      const lives = mobileLives[(last ? timesH.length : until(laysH)) - until(hatchH)]!
      const at = last ? 0 : Math.round((laysH - phaseH) / stepH)
      lineGone = 1 - lives + (last ? 0 : lives * layerGone[at]!)
      lineMobiles = last ? lives : lives * layerMobiles[at]!
      lineEggs = last ? 0 : lives * layerEggs[at]!
    }
    // A later hatch never depends on an earlier one, nor an egg on anything before it.
    for (let cell = cells - 1; cell >= 0; cell--) {
      const middleH = (cell + 0.5) * stepH
      workOutEgg(middleH)
      laid[cell] = { gone: lineGone, mobiles: lineMobiles, eggs: lineEggs }
      clutch[cell] = lineGone ** eggsPerClutch
      if (onGrid && phaseH + cell * stepH < horizonH) fillLayer(cell)
      if (onGrid) workOutYoung(middleH)
      else ({ gone: lineGone, mobiles: lineMobiles, eggs: lineEggs } = mobile(middleH))
      gone[cell] = lineGone
      mobiles[cell] = lineMobiles
      eggs[cell] = lineEggs
      goneSum[cell] = goneSum[cell + 1]! + lineGone * stepH
      mobilesSum[cell] = mobilesSum[cell + 1]! + lineMobiles * stepH
      eggsSum[cell] = eggsSum[cell + 1]! + lineEggs * stepH
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
