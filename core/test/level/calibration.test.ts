import { expect, test } from '@jest/globals'
import { calibrate } from './calibrate.ts'

test('120 simulated tanks: the band holds the truth, and credited hours were earned', () => {
  const { bandShare, creditedTrue, creditedHours } = calibrate(120, 20_000)
  console.log(
    `calibration: ${(100 * bandShare).toFixed(1)} % of hours inside the 80 % band; ${(100 * creditedTrue).toFixed(1)} % of ${creditedHours} credited hours truly at or above the floor`,
  )
  expect(bandShare).toBeGreaterThan(0.75)
  expect(bandShare).toBeLessThan(0.85)
  expect(creditedTrue).toBeGreaterThan(0.9)
  expect(creditedHours).toBeGreaterThan(4_000)
}, 180_000)

test('the proof can fail: a model that believes its kit four times too well is caught', () => {
  expect(calibrate(60, 20_000, 16, 0.25).bandShare).toBeLessThan(0.75)
}, 60_000)
