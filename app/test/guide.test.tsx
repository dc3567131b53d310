// The library as a field guide: what a condition looks like, how it lives, what it is taken for.
import '@testing-library/jest-dom/jest-globals'
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import { cleanup, screen, within } from '@testing-library/react'
import { conditionTables, lifeCycleOf } from '@brinvo/core'
import { typicalSigns } from '../src/features/library/typical.ts'
import { LibraryPage } from '../src/features/library/LibraryPage.tsx'
import { isDrawn } from '../src/parts/Drawings.tsx'
import { sharesOf, stageDays } from '../src/parts/LifeWheel.tsx'
import { open } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(() => cleanup())
const conditions = conditionTables.flatMap((table) => table.conditions)

describe('what a condition looks like', () => {
  test('drawn signs that are frequent in it, the one that tells it from others first', () => {
    expect(typicalSigns(conditions.find(({ id }) => id === 'marine-ich')!)[0]).toBe('spots-salt-grain')
    expect(typicalSigns(conditions.find(({ id }) => id === 'brooklynella')!)[0]).toBe('slime-sheet')
    for (const condition of conditions)
      for (const sign of typicalSigns(condition)) {
        expect(isDrawn(sign)).toBe(true)
        expect(condition.likelihood[sign]).toBeGreaterThanOrEqual(0.3)
      }
    const pictured = conditions.filter((condition) => typicalSigns(condition).length > 0)
    expect(pictured.length / conditions.length).toBeGreaterThan(0.7)
  })
})

describe('a life as a wheel', () => {
  test('arcs fill the circle, as long as their stages last, and none is too short to be seen', () => {
    for (const { id } of conditions) {
      const cycle = lifeCycleOf(id, 25)
      if (!cycle) continue
      const shares = sharesOf(cycle)
      expect(shares.reduce((sum, one) => sum + one, 0)).toBeCloseTo(1, 9)
      for (const share of shares) expect(share).toBeGreaterThan(0.05)
    }
    const [onFish, crawling, cyst] = sharesOf(lifeCycleOf('marine-ich', 25)!)
    expect(cyst).toBeGreaterThan(onFish!)
    expect(onFish).toBeGreaterThan(crawling!)
  })
  test.each([
    [3, 7, '3–7 d'],
    [2 / 24, 18 / 24, '2–18 h'],
    [1, 1, '24 h'],
    [2, 2, '2 d'],
    [1.5, 4, '1.5–4 d'],
  ])('%d to %d days are told as %s', (low, high, told) => expect(stageDays(low, high)).toBe(told))
})

test('a condition opens with its plates, its wheel by warmth and what it is taken for', async () => {
  const user = await open(<LibraryPage />, { route: '/library', at: '/library?find=marine%20white%20spot' })
  const name = await screen.findByRole('heading', { level: 3, name: 'Marine white spot' })
  const entry = name.closest('details')!
  expect(within(entry).getByRole('list', { name: /looks like/ })).toBeVisible()
  expect(
    within(entry).getByRole('img', { name: /Marine white spot at 25 °C: on the fish 3–7 d, then crawling/ }),
  ).toBeVisible()
  await user.click(within(entry).getByText('20 °C'))
  expect(within(entry).getByRole('img', { name: /at 20 °C: on the fish 5–9 d/ })).toBeVisible()
  expect(within(entry).getByText('Easily taken for each other')).toBeVisible()
})
