import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  earningForecast,
  levelCurve,
  levelPosterior,
  logPriorFromRange,
  lossPrior,
  nextDose,
  nextTest,
  normalCdf,
  normalQuantile,
  rateOfHalfLife,
  type LevelModel,
  type LevelReading,
} from '@brinvo/core'

const BAND = { floorMgPerL: 2, ceilingMgPerL: 2.5, hardMaxMgPerL: 2.8 }
const reading = (tH: number, mgPerL: number, more: Partial<LevelReading> = {}): LevelReading => ({
  tH,
  mgPerL,
  bound: 'exact',
  instrument: 0,
  halfStepMgPerL: 0.005,
  relativeError: 0.03,
  ...more,
})
const model = (
  readings: LevelReading[] = [],
  events: LevelModel['events'] = [{ kind: 'dose', tH: 0, massMg: 150, sdShare: 0.03 }],
): LevelModel => ({
  volume: { median: 68, sdLn: 0.06 },
  loss: logPriorFromRange(rateOfHalfLife(960), rateOfHalfLife(480)),
  initial: { mgPerL: 0, sdMgPerL: 0 },
  evaporationLPerH: 0,
  media: [],
  events,
  readings,
  instrumentBiasSd: [0.015],
})
const at = (m: LevelModel, timesH: number[], gridSize = 32) => levelPosterior(m, { timesH, ...BAND, gridSize })
const width = (p: ReturnType<typeof at>, i = 0) => p.p90[i]! / p.p10[i]!

describe('the exact curve', () => {
  test('mass is conserved through doses, changes and top-off when nothing is lost', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 200, noNaN: true }), { minLength: 1, maxLength: 8 }),
        fc.double({ min: 20, max: 400, noNaN: true }),
        (doses, volume) => {
          const events = doses.map((massMg, i) => ({ kind: 'dose' as const, tH: i, massMg }))
          const [end] = levelCurve({ volumeL: volume, mgPerL: 0, evaporationLPerH: 0.02, losses: [], events }, [
            doses.length,
          ])
          expect(end!.mgPerL * end!.volumeL).toBeCloseTo(
            doses.reduce((a, b) => a + b, 0),
            6,
          )
        },
      ),
    )
  })
  test('a larger dose never lowers any later level', () => {
    const curve = (massMg: number) =>
      levelCurve(
        {
          volumeL: 70,
          mgPerL: 0.3,
          evaporationLPerH: 0.01,
          losses: [{ fromH: 0, toH: 99, perHour: 0.01 }],
          events: [
            { kind: 'dose', tH: 2, massMg },
            { kind: 'change', tH: 9, fraction: 0.3, replacementMgPerL: 0.5 },
          ],
        },
        [1, 3, 8, 10, 40],
      )
    const small = curve(50)
    curve(60).forEach((point, i) => expect(point.mgPerL).toBeGreaterThanOrEqual(small[i]!.mgPerL))
  })
  test('running dry is said, not computed', () => {
    expect(() => levelCurve({ volumeL: 1, mgPerL: 1, evaporationLPerH: 1, losses: [], events: [] }, [2])).toThrow(
      /no water left/,
    )
  })
})

describe('the posterior', () => {
  test('without a reading it follows the prior: volume, dose error and loss', () => {
    const p = at(model(), [0.1, 240])
    expect(p.p50[0]).toBeCloseTo(150 / 68, 1)
    // ln sd ≈ hypot(0.06, 0.03): the 80 % band is e^(2 × 1.2816 × 0.067) wide.
    expect(Math.log(width(p))).toBeCloseTo(2 * 1.2816 * Math.hypot(0.06, 0.03), 2)
    expect(p.p50[1]! / p.p50[0]!).toBeCloseTo(Math.exp(-rateOfHalfLife(Math.sqrt(960 * 480)) * 240), 2)
    expect(p.edgeMass).toBeLessThan(1e-4)
  })
  test('a reading narrows the band and pulls the volume', () => {
    const before = at(model(), [30])
    const after = at(model([reading(24, 2.5)]), [30])
    expect(width(after)).toBeLessThan(width(before) - 0.03)
    expect(after.volume.meanL).toBeLessThan(before.volume.meanL - 2)
    expect(after.volume.sdL).toBeLessThan(before.volume.sdL)
  })
  test('is smoothed: a later reading sharpens what came before it', () => {
    expect(width(at(model([reading(48, 2.2)]), [10]))).toBeLessThan(width(at(model(), [10])))
  })
  test('one gross slip hardly moves it, and is called out', () => {
    const good = [reading(12, 2.2), reading(36, 2.15), reading(60, 2.1)]
    const honest = at(model(good), [70])
    const slipped = at(model([...good, reading(65, 21)]), [70])
    expect(Math.abs(slipped.p50[0]! / honest.p50[0]! - 1)).toBeLessThan(0.02)
    expect(slipped.readings.at(-1)!.trust).toBeLessThan(0.05)
    expect(slipped.readings[0]!.trust).toBeGreaterThan(0.9)
  })
  test('"less than" is evidence too', () => {
    const censored = at(model([reading(24, 1.9, { bound: 'below' })]), [25])
    expect(censored.p50[0]).toBeLessThan(at(model(), [25]).p50[0]! - 0.1)
    expect(at(model([reading(24, 2.4, { bound: 'above' })]), [25]).p50[0]).toBeGreaterThan(
      at(model(), [25]).p50[0]! + 0.05,
    )
  })
  test('a biased kit is found out by the volume it implies, only as far as its bias allows', () => {
    const loose = levelPosterior(
      { ...model([reading(24, 2.6)]), instrumentBiasSd: [0.2] },
      { timesH: [25], ...BAND, gridSize: 32 },
    )
    const tight = at(model([reading(24, 2.6)]), [25])
    expect(loose.p50[0]).toBeLessThan(tight.p50[0]!)
    expect(loose.bias[0]!.mean).toBeGreaterThan(tight.bias[0]!.mean)
  })
  test('a change takes its share, with the doubt of the bucket', () => {
    const p = at(
      model(
        [],
        [
          { kind: 'dose', tH: 0, massMg: 150, sdShare: 0.03 },
          { kind: 'change', tH: 10, fraction: 0.5, sdShare: 0.05, replacementMgPerL: 0 },
        ],
      ),
      [9.9, 10.1],
    )
    expect(p.p50[1]! / p.p50[0]!).toBeCloseTo(0.5, 2)
    expect(width(p, 1)).toBeGreaterThan(width(p, 0))
  })
  test('carbon takes it out; binding media take it at once', () => {
    const carbon = levelPosterior(
      { ...model(), media: [{ fromH: 0, toH: 100, perHour: 0.02, sdShare: 0.5 }] },
      { timesH: [50], ...BAND, gridSize: 16 },
    )
    expect(carbon.p50[0]).toBeCloseTo(at(model(), [50]).p50[0]! * Math.exp(-1), 1)
    const bound = levelPosterior(
      { ...model(), binding: { mean: 0.3, sd: 0.1 } },
      { timesH: [1], ...BAND, gridSize: 16 },
    )
    expect(bound.p50[0]! / at(model(), [1]).p50[0]!).toBeCloseTo(0.7, 1)
  })
  test('chances agree with the percentiles, and more dose never lowers them', () => {
    const p = at(model([reading(24, 2.2)]), [1, 30, 90, 200])
    for (let i = 0; i < 4; i++) {
      if (p.p10[i]! > 2) expect(p.pFloor[i]).toBeGreaterThan(0.9)
      if (p.p90[i]! < 2) expect(p.pFloor[i]).toBeLessThan(0.1)
      expect(p.pBand[i]! + p.pHardMax[i]!).toBeLessThanOrEqual(p.pFloor[i]! + 1e-9)
    }
    const more = at(model([], [{ kind: 'dose', tH: 0, massMg: 160, sdShare: 0.03 }]), [5])
    expect(more.pFloor[0]).toBeGreaterThan(at(model(), [5]).pFloor[0]!)
  })
  test('is deterministic, and the grid hardly matters', () => {
    const m = model([reading(24, 2.2), reading(48, 2.1)])
    expect(at(m, [60])).toEqual(at(m, [60]))
    expect(at(m, [60], 64).p50[0]! / at(m, [60], 16).p50[0]!).toBeCloseTo(1, 3)
  })
})

describe('next dose', () => {
  const options = (readings: LevelReading[], more = {}) => ({
    posterior: at(model(readings), [48]),
    hoursUntilDose: 0,
    hoursUntilTest: 24,
    ...BAND,
    stepTopMgPerL: 2.5,
    contentMg: 10,
    step: 0.2,
    ...more,
  })
  test('is the smallest graduation that holds the floor with nine chances in ten', () => {
    const dose = nextDose(options([reading(24, 2.02), reading(48, 2)]))
    if (!dose.ok) throw new Error(dose.error.message)
    expect(dose.value.floorChance).toBeGreaterThanOrEqual(0.9)
    expect(dose.value.hardMaxChance).toBeLessThanOrEqual(0.02)
    expect(dose.value.amount / 0.2).toBeCloseTo(Math.round(dose.value.amount / 0.2), 9)
    const less = nextDose(options([reading(24, 2.02), reading(48, 2)], { stepTopMgPerL: dose.value.levelAfter - 0.02 }))
    expect(less.ok).toBe(false)
  })
  test('is zero while the level holds by itself', () => {
    expect(nextDose(options([reading(24, 2.4), reading(48, 2.38)]))).toMatchObject({ ok: true, value: { amount: 0 } })
  })
  test('says why when there is none, and what would help', () => {
    const coarse = nextDose(
      options([reading(48, 2.2, { relativeError: 0.2, halfStepMgPerL: 0.25 })], {
        hardMaxMgPerL: 2.35,
        ceilingMgPerL: 2.3,
        stepTopMgPerL: 2.3,
      }),
    )
    expect(coarse).toMatchObject({
      ok: false,
      error: { kind: 'too-uncertain', remedies: expect.arrayContaining(['test-sooner']) },
    })
    const high = nextDose(options([reading(24, 2.7), reading(48, 2.7)]))
    expect(high).toMatchObject({ ok: false, error: { kind: 'above-band', remedies: ['wait', 'water-change'] } })
  })
})

test('the next test is the one that leaves the fewest hours refused', () => {
  const posterior = at(model([reading(24, 2.1)]), [24])
  const choice = nextTest({
    posterior,
    offeredH: [0, 12, 24, 48],
    fromH: -24,
    horizonH: 72,
    lastReadingH: 0,
    maxGapH: 48,
    floorMgPerL: 2,
    confidence: 0.9,
    instrument: { index: 0, halfStepMgPerL: 0.005, relativeError: 0.03 },
  })
  for (const offered of choice.choices) expect(choice.best.refusedH).toBeLessThanOrEqual(offered.refusedH + 1e-9)
  expect(choice.savesH).toBeGreaterThanOrEqual(0)
})

describe('can this kit earn hours?', () => {
  const forecast = (step: number, relativeError: number) =>
    earningForecast({
      levels: [0.75, 1.25, 1.75, 2.25],
      ...BAND,
      confidence: 0.9,
      volume: { median: 68, sdLn: 0.05 },
      loss: model().loss,
      kit: { step, relativeError, biasSd: 0.04 },
    })
  test('a photometer can, a coarse drop kit cannot, and what would help is told', () => {
    expect(forecast(0.01, 0.05).canEarn).toBe(true)
    const drops = forecast(0.5, 0.25)
    expect(drops.canEarn).toBe(false)
    expect(drops.withThreeReadings).toBeGreaterThan(drops.chance)
    expect(drops.atBandTop).toBeGreaterThan(drops.chance)
  })
})

test('the normal distribution against known values', () => {
  expect(normalCdf(0)).toBeCloseTo(0.5, 12)
  expect(normalCdf(1.959963984540054)).toBeCloseTo(0.975, 10)
  expect(normalCdf(-8)).toBeCloseTo(6.22e-16, 17)
  expect(normalQuantile(0.9)).toBeCloseTo(1.2815515655, 8)
})

describe('a vessel with sand', () => {
  /** One dose of 40 mg in 64 L, then what is read while it loses a share a day: plain exponentials, no code of ours. */
  const model = (perDay: number, days: number, media: boolean): LevelModel => ({
    volume: { median: 64, sdLn: 0.06 },
    loss: lossPrior(rateOfHalfLife(40 * 24), rateOfHalfLife(20 * 24), media),
    initial: { mgPerL: 0, sdMgPerL: 0 },
    evaporationLPerH: 0,
    media: [],
    events: [{ kind: 'dose', tH: 0, massMg: 40, sdShare: 0.03 }],
    readings: Array.from({ length: days }, (_, i) => ({
      tH: 24 * (i + 1),
      mgPerL: (40 / 64) * Math.exp(-perDay * (i + 1)),
      bound: 'exact' as const,
      instrument: 0,
      halfStepMgPerL: 0.01,
      relativeError: 0.03,
    })),
    instrumentBiasSd: [0.018],
    unloggedSdPerDay: 0.006,
  })
  const after = (perDay: number, days: number, media: boolean) =>
    levelPosterior(model(perDay, days, media), {
      timesH: [24 * days],
      floorMgPerL: 0.4,
      ceilingMgPerL: 0.6,
      hardMaxMgPerL: 0.8,
      gridSize: 24,
    })
  test('that loses a tenth a day is believed after a week of tests, where a bare one would not be', () => {
    const sand = after(0.105, 7, true)
    expect(Math.abs(24 * sand.lossPerHour.mean - 0.105)).toBeLessThan(0.03)
    const truth = (40 / 64) * Math.exp(-0.105 * 7)
    expect(sand.p10[0]!).toBeLessThan(truth)
    expect(sand.p90[0]!).toBeGreaterThan(truth)
    expect(after(0.105, 7, false).p10[0]!).toBeGreaterThan(truth)
  })
  test('that loses what is published is not taken for a faster one', () => {
    const loss = 24 * after(Math.LN2 / 28, 7, true).lossPerHour.mean
    expect(loss).toBeGreaterThan(Math.LN2 / 45)
    expect(loss).toBeLessThan(Math.LN2 / 18)
  })
})
