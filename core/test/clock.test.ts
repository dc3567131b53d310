import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { clockDifference, therapeuticClock, type ClockInputs, type ClockRules } from '@brinvo/core'

const rules: ClockRules = { school: 'strict', confidence: 0.9, requiredH: 720, maxGapH: 48, aboveCounts: true }
/** A clock over hourly chances; level 2.2 where surely in band, 1.5 where surely below. */
function clock(pFloor: readonly number[], more: Partial<ClockInputs> = {}, change: Partial<ClockRules> = {}) {
  const timesH = pFloor.map((_, i) => i)
  return therapeuticClock({
    rules: { ...rules, ...change },
    timesH,
    pFloor,
    pBand: pFloor,
    pHardMax: pFloor.map(() => 0),
    p50: pFloor.map((p) => (p >= 0.5 ? 2.2 : 1.5)),
    floorMgPerL: 2,
    ceilingMgPerL: 2.5,
    readings: timesH.filter((t) => t % 24 === 0).map((tH) => ({ tH, mgPerL: 2.2 })),
    disturbancesH: [],
    nowH: timesH.at(-1)!,
    ...more,
  })
}
const hold = (hours: number, p = 0.99) => Array.from({ length: hours }, () => p)

describe('the therapeutic clock', () => {
  test('credits every hour of a proven level', () => {
    expect(clock(hold(101))).toMatchObject({ creditedH: 100, refusedH: 0, remainingH: 620, startedAtH: 0 })
  })
  test('strict: a dip sets the count to zero and says what it cost; pause goes on', () => {
    const dip = [...hold(50), ...hold(10, 0.02), ...hold(40)]
    const strict = clock(dip)
    expect(strict.resets).toHaveLength(1)
    expect(strict.resets[0]!.lostH).toBeCloseTo(49, 0)
    expect(strict.creditedH).toBeCloseTo(39, 0)
    expect(strict.intervals.some(({ lost }) => lost)).toBe(true)
    const pause = clock(dip, {}, { school: 'pause' })
    expect(pause.resets).toHaveLength(0)
    expect(pause.creditedH).toBeCloseTo(strict.creditedH + strict.resets[0]!.lostH, 6)
  })
  test('strict: uncertain hours only refuse', () => {
    const doubt = clock([...hold(50), ...hold(10, 0.7), ...hold(40)])
    expect(doubt.resets).toHaveLength(0)
    expect(doubt.intervals.find(({ state }) => state === 'refused')?.reason).toBe('uncertain')
  })
  test('strict: a reading certified below resets even where the model is unsure', () => {
    const low = clock([...hold(50), ...hold(10, 0.6), ...hold(40)], {
      readings: [
        { tH: 0, mgPerL: 2.2 },
        { tH: 55, mgPerL: 1.6, certifiedBelow: true, id: 'r' },
        { tH: 90, mgPerL: 2.2 },
      ],
    })
    expect(low.resets).toMatchObject([{ cause: 'reading-below', readingId: 'r' }])
  })
  test('past the longest gap nothing is earned, until a reading proves it back to the last disturbance', () => {
    const gap = clock(hold(121), { readings: [{ tH: 0, mgPerL: 2.2 }] })
    expect(gap.creditedH).toBeCloseTo(48, 6)
    expect(gap.intervals.at(-1)).toMatchObject({ state: 'refused', reason: 'no-test', fromH: 48 })
    const proven = clock(hold(121), {
      readings: [
        { tH: 0, mgPerL: 2.2 },
        { tH: 110, mgPerL: 2.2 },
      ],
    })
    expect(proven.creditedH).toBeCloseTo(120, 6)
    const disturbed = clock(hold(121), {
      readings: [
        { tH: 0, mgPerL: 2.2 },
        { tH: 110, mgPerL: 2.2 },
      ],
      disturbancesH: [90],
    })
    expect(disturbed.creditedH).toBeCloseTo(48 + 30, 6)
  })
  test('starts with the first certified reading, not with the first dose', () => {
    const late = clock(hold(61), { readings: [{ tH: 40, mgPerL: 2.2 }], disturbancesH: [0, 30] })
    expect(late.startedAtH).toBe(40)
    expect(late.creditedH).toBeCloseTo(30, 6)
    expect(late.intervals[0]).toMatchObject({ state: 'refused', reason: 'not-started' })
    expect(clock(hold(61), { readings: [] })).toMatchObject({ creditedH: 0, startedAtH: null })
  })
  test('time above the band earns by default, is flagged always, and can be made not to count', () => {
    const above = { p50: hold(49).map(() => 2.7), pBand: hold(49, 0.1) }
    expect(clock(hold(49), above)).toMatchObject({ creditedH: 48, aboveH: 48 })
    const strict = clock(hold(49), above, { aboveCounts: false })
    expect(strict).toMatchObject({ creditedH: 0, aboveH: 48 })
  })
  test('the low end counts at even odds', () => {
    expect(clock(hold(25, 0.6), {}, { confidence: 0.5 }).creditedH).toBe(24)
    expect(clock(hold(25, 0.6)).creditedH).toBe(0)
  })
  test('completes at the hour it is earned, and stays complete', () => {
    const done = clock([...hold(60), ...hold(30, 0.01)], {}, { requiredH: 48 })
    expect(done).toMatchObject({ completeAtH: 48, remainingH: 0, earliestFinishH: 48 })
  })
  test('credit and refusal never exceed the elapsed time, whatever the record', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 2, maxLength: 120 }),
        fc.array(fc.integer({ min: 0, max: 119 }), { maxLength: 8 }),
        fc.array(fc.integer({ min: 0, max: 119 }), { maxLength: 5 }),
        fc.constantFrom('strict' as const, 'pause' as const),
        fc.integer({ min: 0, max: 140 }),
        (chances, readings, disturbancesH, school, nowH) => {
          const state = clock(
            chances,
            {
              readings: [...readings].sort((a, b) => a - b).map((tH) => ({ tH, mgPerL: 2 })),
              disturbancesH: [...disturbancesH].sort((a, b) => a - b),
              nowH,
            },
            { school },
          )
          expect(state.creditedH).toBeLessThanOrEqual(state.elapsedH + 1e-9)
          expect(state.creditedH + state.refusedH).toBeLessThanOrEqual(state.elapsedH + 1e-6)
          for (const { fromH, toH } of state.intervals) expect(toH).toBeGreaterThan(fromH)
          const pause = clock(
            chances,
            { readings: [...readings].sort((a, b) => a - b).map((tH) => ({ tH, mgPerL: 2 })), disturbancesH, nowH },
            { school: 'pause' },
          )
          expect(pause.creditedH).toBeGreaterThanOrEqual(state.creditedH - 1e-9)
        },
      ),
    )
  })
  test('says why the count changed, and nothing when it did not', () => {
    const before = clock(hold(100), {}, { school: 'strict' })
    const after = clock([...hold(80), ...hold(20, 0.02)], {}, { school: 'strict' })
    expect(clockDifference(before, after, 'Your reading of 1.4 mg/L')?.message).toMatch(
      /^Your reading of 1.4 mg\/L took .* away\. It set the strict count back to zero\.$/,
    )
    expect(clockDifference(before, before, 'x')).toBeNull()
  })
})
