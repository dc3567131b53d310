// The exact chance of a plan against the plain way to it: ten thousand tanks, animal by animal.
import { dailyStages, eradication, pestOf, pests, pestStages, randomFrom, type LifeStages } from '@brinvo/core'
import { medianMs, type BenchLine } from './levelBench.ts'

const RUNS = 10_000

/** One tank: mobiles and eggs as they are born, each treatment by itself. True: nothing left at the horizon. */
function tank(
  stages: LifeStages,
  timesH: readonly number[],
  kill: number,
  killEgg: number,
  founders: number,
  horizonH: number,
  random: () => number,
): boolean {
  const mobiles = Array.from({ length: founders }, () => -(stages.maturationH ?? 0))
  const eggs: number[] = []
  const survives = (fromH: number, toH: number, chance: number) =>
    timesH.every((time) => time <= fromH || time >= toH || random() >= chance)
  while (mobiles.length > 0 || eggs.length > 0) {
    const laid = eggs.pop()
    if (laid !== undefined) {
      const hatchH = laid + stages.hatchMinH + random() * (stages.hatchMaxH - stages.hatchMinH)
      if (hatchH >= horizonH) {
        if (survives(laid, Infinity, killEgg)) return false
      } else if (survives(laid, hatchH, killEgg)) mobiles.push(hatchH)
      continue
    }
    const hatchH = mobiles.pop()!
    const death = timesH.find((time) => time > hatchH && random() < kill) ?? Infinity
    if (death > horizonH) return false
    if (stages.maturationH === null) continue
    for (let at = hatchH + stages.maturationH; at < Math.min(death, horizonH); at += stages.clutchIntervalH)
      if (at > 0) for (let n = 0; n < stages.eggsPerClutch; n++) eggs.push(at)
  }
  return true
}

/** Cell by cell: the slowest ratio of exact time to the time of ten thousand runs. */
export function plannerLine(): BenchLine {
  // Every pest that lays eggs, at its least and its usual plan, with few and with many founders.
  const plans = pests.flatMap((pest) =>
    pestStages(pest, 26).maturationH === null
      ? []
      : [3, 7].flatMap((days) =>
          [4, 8].flatMap((times) => [1, 10].map((founders) => ({ pest: pest.id, days, times, founders }))),
        ),
  )
  const cells = plans.map(({ pest, days, times, founders: count }) => {
    const stages = pestStages(pestOf(pest)!, dailyStages(pestOf(pest)!, 26) ? 26 : 25)
    const timesH = Array.from({ length: times }, (_, i) => 6 + 24 * days * i)
    const horizonH = timesH.at(-1)! + stages.hatchMaxH + 24
    const founders = [{ stage: 'mobile' as const, hatchedAtH: -(stages.maturationH ?? 0), count }]
    const work = () => eradication(stages, { timesH, killMobile: 0.8, killEgg: 0.5 }, founders, horizonH, 2)
    // Ten thousand runs warm themselves up; so does this.
    for (let i = 0; i < 20; i++) work()
    const exact = medianMs(9, work)
    const random = randomFrom(3)
    const from = performance.now()
    for (let run = 0; run < RUNS; run++) tank(stages, timesH, 0.8, 0.5, count, horizonH, random)
    return { exact, runs: performance.now() - from, name: `${pest}, ${times} × ${days} d, ${count}` }
  })
  const worst = cells.sort((a, b) => b.exact / b.runs - a.exact / a.runs)[0]!
  return {
    name: `chance of a plan, exact, against 10,000 runs (slowest of ${cells.length} cells: ${worst.name})`,
    value: worst.exact,
    unit: 'ms',
    yardstick: worst.runs,
    ratio: worst.exact / worst.runs,
    budget: 0.1,
    better: 'lower',
  }
}
