// What any mixing must obey, whatever the numbers: mass stays, levels stay between their sources, heat flows downhill.
import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  afterContinuousChange,
  continuousVolumesFor,
  freshWaterShareForGravity,
  growingHoursWithin,
  growingLevel,
  growingTemperature,
  grownVolume,
  mixByMass,
  mixByVolume,
  overflowHoursWithin,
  overflowLevel,
  overflowTemperature,
  salinityFromSpecificGravity,
  scoopStates,
  specificGravity,
  type DripOptions,
} from '@brinvo/core'

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })
const drip = fc.record({
  startVolumeL: number(0.5, 20),
  inflowLPerH: number(0.1, 10),
  startTempC: number(15, 30),
  inflowTempC: number(15, 30),
  roomTempC: number(15, 30),
  heat: fc.oneof(
    fc.constant({ kind: 'none' as const }),
    fc.record({ kind: fc.constant('rate-constant' as const), perHour: number(0.01, 2) }),
    fc.record({ kind: fc.constant('conductance' as const), litresPerHour: number(0.01, 5) }),
  ),
})
const between = (value: number, ...ends: number[]) => {
  expect(value).toBeGreaterThanOrEqual(Math.min(...ends) - 1e-9)
  expect(value).toBeLessThanOrEqual(Math.max(...ends) + 1e-9)
}

describe('a dripping tub', () => {
  test('keeps every milligram that was there and that came in', () => {
    fc.assert(
      fc.property(drip, number(0, 40), number(0, 40), number(0, 5), (options: DripOptions, start, inflow, hours) => {
        const mass = growingLevel(options, start, inflow, hours) * grownVolume(options, hours)
        expect(mass).toBeCloseTo(options.startVolumeL * start + options.inflowLPerH * hours * inflow, 6)
      }),
    )
  })
  test('never leaves the stretch between its sources, in level and in warmth', () => {
    fc.assert(
      fc.property(drip, number(0, 40), number(0, 40), number(0, 8), (options: DripOptions, start, inflow, hours) => {
        between(growingLevel(options, start, inflow, hours), start, inflow)
        between(overflowLevel(options, start, inflow, hours), start, inflow)
        const { startTempC, inflowTempC, roomTempC } = options
        between(growingTemperature(options, hours), startTempC, inflowTempC, roomTempC)
        between(overflowTemperature(options, hours), startTempC, inflowTempC, roomTempC)
      }),
    )
  })
  test('is as close as asked at the hour it says', () => {
    fc.assert(
      fc.property(drip, number(20, 40), number(20, 40), (options: DripOptions, start, inflow) => {
        fc.pre(Math.abs(start - inflow) > 0.6)
        const growing = growingHoursWithin(options, start, inflow, 0.5)!
        expect(Math.abs(growingLevel(options, start, inflow, growing) - inflow)).toBeCloseTo(0.5, 6)
        const overflowing = overflowHoursWithin(options, start, inflow, 0.5)!
        expect(Math.abs(overflowLevel(options, start, inflow, overflowing) - inflow)).toBeCloseTo(0.5, 6)
      }),
    )
  })
  test('a drip that does not flow never gets there', () => {
    const still: DripOptions = {
      startVolumeL: 2,
      inflowLPerH: 0,
      startTempC: 24,
      inflowTempC: 25,
      roomTempC: 20,
      heat: { kind: 'conductance', litresPerHour: 1 },
    }
    expect(growingHoursWithin(still, 35, 33, 0.5)).toBeNull()
    expect(overflowHoursWithin(still, 35, 33, 0.5)).toBeNull()
    expect(growingHoursWithin(still, 35, 34.8, 0.5)).toBe(0)
    expect(growingTemperature(still, 100)).toBeCloseTo(20, 6)
    expect(overflowTemperature({ ...still, heat: { kind: 'none' } }, 5)).toBe(24)
  })
})

describe('scoops, exchanges and mixtures', () => {
  test('a scooped tub never passes its cap by more than a scoop, nor its sources', () => {
    fc.assert(
      fc.property(number(0.5, 3), number(0.1, 0.5), fc.integer({ min: 1, max: 30 }), (volumeL, litres, scoops) => {
        const states = scoopStates({
          start: { volumeL, salinityPsu: 33, tempC: 22, tracerMgPerL: 2 },
          scoop: { litres, salinityPsu: 35, tempC: 25, tracerMgPerL: 0 },
          discardL: litres,
          capL: volumeL + 0.2,
          scoops,
          intervalHours: 0.1,
          roomTempC: 23,
          heatPerHour: 0.3,
        })
        expect(states).toHaveLength(scoops)
        for (const state of states) {
          between(state.salinityPsu, 33, 35)
          between(state.tempC, 22, 25)
          expect(state.volumeL).toBeLessThanOrEqual(volumeL + 0.2 + litres)
        }
      }),
    )
  })
  test('a steady exchange of the volumes for a residual leaves that residual', () => {
    fc.assert(
      fc.property(number(0.02, 0.9), (residual) => {
        expect(afterContinuousChange(1, 0, continuousVolumesFor(residual), 1, 1)).toBeCloseTo(residual, 9)
      }),
    )
  })
  test('gravity and salinity go there and back; mixing by mass and by volume nearly agree', () => {
    fc.assert(
      fc.property(number(1, 40), number(15, 30), number(1, 40), (psu, temp, other) => {
        expect(salinityFromSpecificGravity(specificGravity(psu, temp, 25), temp, 25)).toBeCloseTo(psu, 6)
        const waters = [
          { volumeL: 30, salinityPsu: psu, tempC: temp },
          { volumeL: 10, salinityPsu: other, tempC: temp },
        ] as const
        between(mixByMass(...waters), psu, other)
        expect(Math.abs(mixByMass(...waters) - mixByVolume(...waters).salinityPsu)).toBeLessThan(0.3)
      }),
    )
  })
  test('lowering to 1.009 takes out what must go, a little more by mass than by volume', () => {
    const share = freshWaterShareForGravity(34, 1.009, 25, 25)
    expect(share.targetPsu).toBeCloseTo(12, 1)
    expect(share.byMass).toBeGreaterThan(share.byVolume)
    expect(share.byVolume).toBeCloseTo(1 - share.targetPsu / 34, 9)
  })
})
