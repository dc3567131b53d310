// Eradication: against a simulation that knows nothing of the recursion, and laws that no plan may break.
import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  lampOfPlate,
  maxFlowForDose,
  certainlyOver,
  chanceOver,
  eradication,
  inspectionsNeeded,
  lampShare,
  pestOf,
  pestRounds,
  pestStages,
  pests,
  slowness,
  conditionOf,
  planTreatments,
  randomFrom,
  treatedShare,
  ultravioletDose,
  type Founder,
  type LifeStages,
  type TreatmentPlan,
} from '@brinvo/core'

const SLUG: LifeStages = { hatchMinH: 96, hatchMaxH: 216, maturationH: 192, eggsPerClutch: 5, clutchIntervalH: 48 }
const FOUNDERS: readonly Founder[] = [
  { stage: 'mobile', hatchedAtH: -480, count: 3 },
  { stage: 'egg', laidAtH: -48, count: 10 },
]

/** One run, animal by animal: whether nothing is left, and what is. */
function run(
  stages: LifeStages,
  plan: TreatmentPlan,
  founders: readonly Founder[],
  horizonH: number,
  random: () => number,
) {
  const queue: { stage: 'egg' | 'mobile'; at: number }[] = founders.flatMap((one) =>
    Array.from({ length: one.count }, () => ({
      stage: one.stage,
      at: one.stage === 'egg' ? one.laidAtH : one.hatchedAtH,
    })),
  )
  let left = 0
  for (let next = queue.pop(); next; next = queue.pop()) {
    const { stage, at } = next
    if (stage === 'egg') {
      const hatch = at + stages.hatchMinH + random() * (stages.hatchMaxH - stages.hatchMinH)
      if (plan.timesH.some((time) => time > at && time < Math.min(hatch, horizonH) && random() < plan.killEgg)) continue
      if (hatch > horizonH) left++
      else queue.push({ stage: 'mobile', at: hatch })
      continue
    }
    const killed = plan.timesH.find((time) => time > at && random() < plan.killMobile)
    if (stages.maturationH !== null)
      for (
        let clutch = at + stages.maturationH;
        clutch < Math.min(killed ?? horizonH, horizonH);
        clutch += stages.clutchIntervalH
      )
        if (clutch > 0) for (let i = 0; i < stages.eggsPerClutch; i++) queue.push({ stage: 'egg', at: clutch })
    if (killed === undefined) left++
    if (queue.length > 3000) return 1
  }
  return left
}

describe('against a simulation', () => {
  test.each([
    [{ timesH: [6, 150, 294, 438], killMobile: 0.9, killEgg: 0.3 }, 700],
    [{ timesH: [6, 126, 246], killMobile: 0.97, killEgg: 0 }, 480],
    [{ timesH: [6, 200, 400], killMobile: 0.8, killEgg: 0.8 }, 640],
  ])('plan %#: the chance lies within three standard errors of 2,000 runs', (plan, horizonH) => {
    const random = randomFrom(17)
    const runs = 2000
    let gone = 0
    for (let i = 0; i < runs; i++) if (run(SLUG, plan, FOUNDERS, horizonH, random) === 0) gone++
    const exact = eradication(SLUG, plan, FOUNDERS, horizonH)
    const error = Math.sqrt((exact.pExtinct * (1 - exact.pExtinct)) / runs)
    expect(Math.abs(gone / runs - exact.pExtinct)).toBeLessThan(3 * error + 0.003)
  })
})

describe('laws', () => {
  const plans = fc.record({
    killMobile: fc.double({ min: 0.1, max: 0.99, noNaN: true }),
    killEgg: fc.double({ min: 0, max: 0.9, noNaN: true }),
    everyDays: fc.integer({ min: 2, max: 12 }),
    times: fc.integer({ min: 1, max: 4 }),
  })
  const chance = (killMobile: number, killEgg: number, everyDays: number, times: number) =>
    eradication(
      SLUG,
      { killMobile, killEgg, timesH: Array.from({ length: times }, (_, i) => 6 + 24 * everyDays * i) },
      FOUNDERS,
      6 + 24 * 12 * 4 + 240,
    ).pExtinct
  test('a stronger kill or one more treatment never lowers the chance', () => {
    fc.assert(
      fc.property(
        plans,
        fc.double({ min: 0, max: 1, noNaN: true }),
        ({ killMobile, killEgg, everyDays, times }, more) => {
          const before = chance(killMobile, killEgg, everyDays, times)
          expect(chance(killMobile + more * (1 - killMobile), killEgg, everyDays, times)).toBeGreaterThanOrEqual(
            before - 1e-9,
          )
          expect(chance(killMobile, killEgg + more * (1 - killEgg), everyDays, times)).toBeGreaterThanOrEqual(
            before - 1e-9,
          )
          expect(chance(killMobile, killEgg, everyDays, times + 1)).toBeGreaterThanOrEqual(before - 1e-9)
        },
      ),
      { numRuns: 12 },
    )
  })
  test('more clean looks, a sharper eye or fewer survivors never lower the chance that it is over', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 20, noNaN: true }),
        fc.double({ min: 0.01, max: 0.99, noNaN: true }),
        fc.integer({ min: 0, max: 12 }),
        fc.constantFrom('per-animal' as const, 'per-inspection' as const),
        (survivors, detection, clean, unit) => {
          const p = chanceOver(survivors, detection, clean, unit)
          expect(p).toBeGreaterThanOrEqual(0)
          expect(p).toBeLessThanOrEqual(1)
          expect(chanceOver(survivors, detection, clean + 1, unit)).toBeGreaterThanOrEqual(p)
          expect(chanceOver(survivors, Math.min(1, detection + 0.01), clean, unit)).toBeGreaterThanOrEqual(p)
          expect(chanceOver(survivors / 2, detection, clean, unit)).toBeGreaterThanOrEqual(p)
        },
      ),
    )
  })
  test('nonsense is refused with a reason', () => {
    const plan = { timesH: [6], killMobile: 0.9, killEgg: 0 }
    expect(() => eradication({ ...SLUG, hatchMaxH: 10 }, plan, FOUNDERS, 400)).toThrow(/hatch window/)
    expect(() => eradication(SLUG, { ...plan, killEgg: 1.2 }, FOUNDERS, 400)).toThrow(/outside 0 to 1/)
    expect(() => eradication(SLUG, { ...plan, timesH: [500] }, FOUNDERS, 400)).toThrow(/after the horizon/)
    expect(inspectionsNeeded(5, 0, 0.95, 'per-animal')).toBeNull()
  })
})

describe('the planner', () => {
  test('finds the fewest treatments for a wanted chance, between hatching and laying', () => {
    const found = planTreatments(SLUG, { killMobile: 0.99, killEgg: 0 }, FOUNDERS, 0.95)!
    expect(found.pExtinct).toBeGreaterThanOrEqual(0.95)
    // No young one may lay before it is met, and the last egg must have hatched by the last treatment.
    expect(found.intervalH).toBeLessThan(SLUG.maturationH!)
    expect((found.treatments - 1) * found.intervalH).toBeGreaterThanOrEqual(SLUG.hatchMaxH - 72)
    expect(certainlyOver(SLUG, 120, 3)).toBe(true)
    expect(certainlyOver(SLUG, 240, 3)).toBe(false)
  })
  test('says when no number of treatments will do', () => {
    expect(planTreatments(SLUG, { killMobile: 0.3, killEgg: 0 }, FOUNDERS, 0.99, 3)).toBeNull()
  })
})

describe('ultraviolet', () => {
  test('a plate of 90 mJ/cm² at 400 L/h gives half of it at twice the flow, and 100 at 360 L/h', () => {
    const lamp = lampOfPlate(90, 400)
    expect(ultravioletDose({ ...lamp, flowLPerH: 800, tankL: 200 }).doseMjPerCm2).toBeCloseTo(45, 9)
    expect(maxFlowForDose(lamp.irradianceMwPerCm2, lamp.chamberL, 100)).toBeCloseTo(360, 9)
    // An old lamp at six tenths: the flow falls with it.
    const old = lampOfPlate(90, 400, 0.6)
    expect(maxFlowForDose(old.irradianceMwPerCm2, old.chamberL, 100)).toBeCloseTo(216, 9)
  })
  test('a lamp fades, never below its end; all water passes in time, never quite', () => {
    expect(lampShare(0)).toBe(1)
    expect(lampShare(9000)).toBeCloseTo(0.6, 9)
    expect(lampShare(90_000)).toBe(0.6)
    expect(treatedShare(300, 300, 3).share).toBeCloseTo(0.9502, 4)
    expect(treatedShare(300, 300, 12).share).toBeLessThan(1)
  })
})

describe('the pests', () => {
  test('each is a condition, and slower in colder water', () => {
    for (const pest of pests) {
      expect([pest.id, conditionOf(pest.id) !== undefined]).toEqual([pest.id, true])
      expect(slowness(pest, 22)).toBeGreaterThanOrEqual(slowness(pest, 26))
      const stages = pestStages(pest, 25)
      expect(stages.hatchMaxH).toBeGreaterThan(stages.hatchMinH)
    }
    expect(slowness(pestOf('acropora-flatworm')!, 24)).toBeCloseTo(64 / 38, 6)
    expect(slowness(pestOf('acropora-flatworm')!, 18)).toBeCloseTo(64 / 38, 6)
    expect(slowness(pestOf('red-bug')!, 16)).toBeCloseTo(2.5, 6)
  })
  const inputs = { tempC: 25, kill: 0.8, eggs: 0.5, mobiles: 5, eggCount: 20, wanted: 0.98 }
  test('rounds reach the wanted chance, meet the young before they lay, and outlast the eggs', () => {
    for (const pestId of ['goniopora-nudibranch', 'zoanthid-nudibranch', 'euphyllia-flatworm']) {
      const found = pestRounds({ ...inputs, pestId })
      expect(found.chance).toBeGreaterThan(0.97)
      expect(found.days![1]!).toBeLessThan(found.layDays)
      expect(found.days!.at(-1)!).toBeGreaterThanOrEqual(0.7 * found.hatchDays[1])
      expect(found.cleanLooks).toBeGreaterThanOrEqual(pestOf(pestId)!.cleanLooks)
      expect(found.overChance).toBeGreaterThan(0.97)
    }
  })
  test('a weak round has no end, and says how long the host must be away', () => {
    const found = pestRounds({ ...inputs, pestId: 'zoanthid-nudibranch', kill: 0.1, eggs: 0 })
    expect(found.days).toBeNull()
    expect(found.fallowDays).toBeGreaterThan(20)
    expect(() => pestRounds({ ...inputs, pestId: 'unicorn' })).toThrow(/no stages/)
  })
})
