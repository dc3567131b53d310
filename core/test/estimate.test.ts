import { describe, expect, test } from '@jest/globals'
import { nextDose } from '../src/level/nextDose.ts'
import type { LevelPosterior } from '../src/level/posterior.ts'
import {
  activeContent,
  agentForm,
  agentForms,
  coursePreview,
  estimateCourse,
  readingInfluence,
  levelCurve,
  logPriorFromRange,
  protocolLibrary,
  protocolOf,
  rateOfHalfLife,
  type EstimateInputs,
  type LevelReading,
  type UncertainEvent,
} from '@brinvo/core'

const dose = (tH: number, massMg: number, id?: string): UncertainEvent => ({
  kind: 'dose',
  tH,
  massMg,
  sdShare: 0.03,
  ...(id ? { id } : {}),
})
const reading = (tH: number, mgPerL: number, id?: string): LevelReading => ({
  tH,
  mgPerL,
  bound: 'exact',
  instrument: 0,
  halfStepMgPerL: 0.005,
  relativeError: 0.03,
  ...(id ? { id } : {}),
})
const inputs = (
  more: Partial<EstimateInputs> & { events?: UncertainEvent[]; readings?: LevelReading[] } = {},
): EstimateInputs => {
  const { events = [dose(0, 150)], readings = [reading(20, 2.2, 'a'), reading(44, 2.15, 'b')], ...rest } = more
  return {
    model: {
      volume: { median: 68, sdLn: 0.05 },
      loss: logPriorFromRange(rateOfHalfLife(960), rateOfHalfLife(480)),
      initial: { mgPerL: 0, sdMgPerL: 0 },
      evaporationLPerH: 0,
      media: [],
      events,
      readings,
      instrumentBiasSd: [0.015],
    },
    floorMgPerL: 2,
    ceilingMgPerL: 2.5,
    hardMaxMgPerL: 2.8,
    nowH: 50,
    aheadH: 48,
    rules: { school: 'pause', confidence: 0.9, requiredH: 720, maxGapH: 48, aboveCounts: true },
    wish: { kind: 'hold', topMgPerL: 2.25 },
    content: {
      mg: 10,
      measures: [
        { capacity: 1, step: 0.01 },
        { capacity: 5, step: 0.2 },
        { capacity: 20, step: 1 },
      ],
    },
    nextTestH: 28,
    instrumentIndex: 0,
    kit: { step: 0.01, relativeError: 0.03 },
    latest: { id: 'b', phrase: 'Your reading of 2.15 mg/L' },
    gridSize: 20,
    ...rest,
  }
}

describe('the estimate of a course', () => {
  test('draws from the first hour to the horizon, with now among its times', () => {
    const { series, now } = estimateCourse(inputs())
    expect(series.timesH[0]).toBe(0)
    expect(series.timesH).toContain(50)
    expect(series.timesH.at(-1)).toBe(98)
    expect(series.p10.every((low, i) => low <= series.p50[i]! && series.p50[i]! <= series.p90[i]!)).toBe(true)
    expect(now.p50).toBeCloseTo(2.15, 1)
  })
  test('what is typed ahead of now does not count yet', () => {
    const ahead = estimateCourse(
      inputs({
        events: [dose(0, 150), dose(60, 90)],
        readings: [reading(20, 2.2, 'a'), reading(44, 2.15, 'b'), reading(70, 9, 'c')],
      }),
    )
    expect(ahead.series).toEqual(estimateCourse(inputs()).series)
  })
  test('a ramp reaches for its level with the nearest graduation', () => {
    const ramp = estimateCourse(
      inputs({ events: [], readings: [], nowH: 1, latest: null, wish: { kind: 'reach', levelMgPerL: 0.75 } }),
    )
    if (!ramp.dose?.ok) throw new Error('no dose')
    // 0.75 × 68 ÷ 10 = 5.1 mL: too much for the 5 mL syringe, so the 20 mL one counts in whole mL.
    expect(ramp.dose.value.amount).toBe(5)
    expect(ramp.dose.value.step).toBe(1)
    const finer = estimateCourse(
      inputs({ events: [], readings: [], nowH: 1, latest: null, wish: { kind: 'reach', levelMgPerL: 0.7 } }),
    )
    if (!finer.dose?.ok) throw new Error('no dose')
    expect(finer.dose.value.step).toBe(0.2)
    expect(finer.dose.value.levelAfter).toBeCloseTo(0.7, 1)
  })
  test('a ramp reaches for what the kit shows: what it shows too little of is poured, inside the band', () => {
    const doseFor = (readings: LevelReading[], levelMgPerL: number) => {
      const { dose: found } = estimateCourse(
        inputs({ events: [dose(0, 51)], readings, nowH: 24, latest: null, wish: { kind: 'reach', levelMgPerL } }),
      )
      if (!found?.ok) throw new Error('no dose')
      return found.value.amount
    }
    // 51 mg in 68 L are 0.75; four readings that show 0.62 move the belief a little, and the dose the whole way:
    // about 0.13 × 68 ÷ 10 = 0.9 mL, at least two thirds of it.
    const low = [20, 20.1, 20.2, 20.3].map((tH) => reading(tH, 0.62))
    expect(doseFor(low, 0.75)).toBeGreaterThan(0.6)
    expect(doseFor(low, 0.75)).toBeLessThan(1.1)
    // A kit that shows what is believed asks for nothing more.
    expect(doseFor([reading(20, 0.75)], 0.75)).toBeLessThan(0.2)
    // A reading from before the last dose says nothing of what the dose did.
    expect(doseFor([reading(-1, 0.1)], 0.75)).toBeLessThan(0.2)
  })
  test('nothing is wished, nothing is dosed; no bottle, no dose', () => {
    expect(estimateCourse(inputs({ wish: null })).dose).toBeNull()
    expect(estimateCourse(inputs({ content: null })).dose).toBeNull()
  })
  test('a planned dose lifts the level ahead, and only ahead', () => {
    const low = estimateCourse(
      inputs({ events: [dose(0, 137)], readings: [reading(20, 2.02, 'a'), reading(44, 2.0, 'b')] }),
    )
    if (!low.dose?.ok) throw new Error('no dose')
    expect(low.dose.value.amount).toBeGreaterThan(0)
    expect(low.planned!.timesH[0]).toBe(50)
    expect(low.planned!.p50[0]!).toBeGreaterThan(low.now.p50)
  })
  test('a holding level needs no dose and draws no plan', () => {
    const high = estimateCourse(
      inputs({ events: [dose(0, 160)], readings: [reading(20, 2.35, 'a'), reading(44, 2.32, 'b')] }),
    )
    expect(high.dose).toMatchObject({ ok: true, value: { amount: 0 } })
    expect(high.planned).toBeNull()
  })
  test('says what the last entry did to the count, and what each reading did', () => {
    const first = estimateCourse(inputs({ readings: [reading(44, 2.2, 'b')] }))
    expect(first.difference?.message).toMatch(/^Your reading of 2.15 mg\/L added [\d.]+ (h|days)\.$/)
    expect(readingInfluence(inputs({ readings: [reading(44, 2.2, 'b')] }))).toEqual([
      { id: 'b', hours: expect.closeTo(first.clock!.creditedH, 6) },
    ])
    const unchanged = estimateCourse(inputs({ latest: null }))
    expect(unchanged.difference).toBeNull()
  })
  test('without clock rules there is a level and no clock', () => {
    const plain = estimateCourse(inputs({ rules: null }))
    expect([plain.clock, plain.test]).toEqual([null, null])
    expect(readingInfluence(inputs({ rules: null }))).toEqual([])
    expect(plain.now.p50).toBeGreaterThan(2)
  })
  test('learns the volume: the same doses and lower readings mean more water', () => {
    const more = estimateCourse(inputs({ readings: [reading(20, 2.0, 'a'), reading(44, 1.98, 'b')] }))
    const less = estimateCourse(inputs({ readings: [reading(20, 2.4, 'a'), reading(44, 2.38, 'b')] }))
    expect(more.volume.meanL).toBeGreaterThan(68)
    expect(less.volume.meanL).toBeLessThan(68)
  })
  test('follows the closed form when everything is known', () => {
    const sure = inputs({ readings: [] })
    const exact = {
      ...sure,
      latest: null,
      model: {
        ...sure.model,
        volume: { median: 68, sdLn: 0.0001 },
        loss: { median: 0.002, sdLn: 0.0001 },
        events: [{ ...dose(0, 150), sdShare: 1e-6 } as UncertainEvent],
      },
    }
    const { series } = estimateCourse(exact)
    const curve = levelCurve(
      {
        volumeL: 68,
        mgPerL: 0,
        evaporationLPerH: 0,
        losses: [{ fromH: 0, toH: Infinity, perHour: 0.002 }],
        events: [{ kind: 'dose', tH: 0, massMg: 150 }],
      },
      series.timesH,
    )
    series.p50.forEach((level, i) => expect(Math.abs(level / curve[i]!.mgPerL - 1)).toBeLessThan(0.005))
  })
})

describe('before a course starts', () => {
  const protocol = protocolOf('copper-in-place-30')!
  const content = activeContent({ basis: 'mg-per-mL', mgPerMl: 10 })
  const preview = (variant: string, form = 'copper-chelated-high', volumeL = 66.5) =>
    coursePreview({
      protocol,
      variant: protocol.variants.find(({ id }) => id === variant)!,
      form: agentForm(form)!,
      volumeL,
      content: content.ok ? content.value : null,
      measures: [
        { capacity: 5, step: 0.2 },
        { capacity: 60, step: 1 },
      ],
    })
  test('the slow ramp in mL, a day apart, each from the level before', () => {
    const { doses } = preview('ramp-slow')
    expect(doses.map(({ atH }) => atH)).toEqual([0, 24, 48, 72])
    expect(doses.map(({ amount }) => amount)).toEqual([5, 3.4, 3.2, 3.4])
    doses.slice(1).forEach((dose_, i) => expect(dose_.fromMgPerL).toBe(doses[i]!.toMgPerL))
  })
  test('at once is half a day, and watched twice as long', () => {
    expect(preview('ramp-at-once').doses.map(({ atH }) => atH)).toEqual([0, 12])
    expect(preview('ramp-at-once').watchDays).toBe(28)
    expect(preview('ramp-slow').watchDays).toBe(14)
  })
  test('water, tests, changes and product grow with what they depend on', () => {
    const small = preview('ramp-slow')
    const large = preview('ramp-slow', 'copper-chelated-high', 133)
    expect(large.waterL).toBeCloseTo(2 * small.waterL, 6)
    expect(large.product).toBeGreaterThan(1.8 * small.product)
    expect(small.changes).toBe(6)
    expect(preview('ramp-slow', 'copper-ionic').levelTests).toBeGreaterThan(2 * small.levelTests)
  })
  test('a protocol without a drug asks for none', () => {
    for (const other of protocolLibrary.filter(({ productRoles }) => productRoles.length === 0)) {
      const found = coursePreview({
        protocol: other,
        variant: other.variants[0]!,
        form: null,
        volumeL: 290,
        content: null,
        measures: [],
      })
      expect(found).toMatchObject({ doses: [], product: 0, levelTests: 0 })
      expect(found.leastDays).toBe(Math.round(other.phases.reduce((sum, { typicalDays }) => sum + typicalDays, 0)))
    }
  })
  test('no preview of any form ends over its hard maximum', () => {
    for (const form of agentForms) {
      for (const variant of protocol.variants) {
        for (const { toMgPerL } of preview(variant.id, form.id, 41).doses) expect(toMgPerL).toBeLessThan(form.hardMax)
      }
    }
  })
})

describe('a top-up that is worth it', () => {
  // 60 L at 2.2 ± 0.15 mg/L, 10 mg in a mL: to 2.25 there is room for 0.3 mL, a rise of 0.05 mg/L.
  const posterior = {
    nodes: [{ weight: 1, levelMgPerL: 2.2, levelSd: 0.15, volumeL: 60, lossPerHour: 0.001, boundShare: 0 }],
    volume: { meanL: 60 },
  } as unknown as LevelPosterior
  const topUp = (leastRiseMgPerL: number) =>
    nextDose({
      posterior,
      hoursUntilDose: 0,
      hoursUntilTest: 24,
      floorMgPerL: 2,
      ceilingMgPerL: 2.5,
      hardMaxMgPerL: 2.8,
      stepTopMgPerL: 2.25,
      contentMg: 10,
      step: 0.1,
      leastRiseMgPerL,
    })
  test('is as large as it matters, or none: then only a reading helps', () => {
    const fits = topUp(0.05)
    expect(fits.ok && fits.value.amount).toBeCloseTo(0.3, 9)
    const none = topUp(0.06)
    expect(none.ok).toBe(false)
    expect(!none.ok && none.error).toMatchObject({ kind: 'too-uncertain', message: expect.stringMatching(/test now/) })
  })
})
