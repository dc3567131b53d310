// A small sample of the runs behind “How far it can be trusted”: bands and chances against worlds they cannot see.
import { expect, test } from '@jest/globals'
import { eradicationFigures, useFigures } from '../lives/figures.ts'

test('the band of use per day holds the true use in about eight of ten', () => {
  const band = useFigures(150, 4).find(({ id }) => id === 'use-band')!
  expect(band.value).toBeGreaterThan(72)
  expect(band.value).toBeLessThan(91)
})
test('a chance that nothing is left is no wish and no needless fear', () => {
  const figures = eradicationFigures(100, 6)
  const apart = Object.fromEntries(
    figures.map(({ id, title, value }) => [id, Math.abs(value - Number(/\((\d+) % on average\)/.exec(title)![1]))]),
  )
  expect(apart['over-98-to-100']).toBeLessThan(3)
  expect(apart['over-90-to-98']).toBeLessThan(7)
  expect(apart['over-70-to-90']).toBeLessThan(12)
  // A hundred tanks leave a dozen in this bin; `npm run trust` has the rest.
  expect(apart['over-40-to-70']).toBeLessThan(14)
  expect(apart['over-under-40']).toBeLessThan(3)
})
