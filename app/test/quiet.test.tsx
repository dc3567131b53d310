// What the record is uneasy about leads to the test that would settle it.
import '@testing-library/jest-dom/jest-globals'
import { afterEach, expect, jest, test } from '@jest/globals'
import { cleanup, screen, within } from '@testing-library/react'
import { instantOf, recordOf, type Entry, type KeeperRecord } from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { documentsOf } from '@brinvo/core'
import { RoundsPage } from '../src/features/rounds/RoundsPage.tsx'
import { open } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(cleanup)

const DAY = 86_400_000
const zone = 'Europe/Berlin'
/** A display whose values were tested every third day, and not for a fortnight. */
function quiet(values: Readonly<Record<string, readonly [number, string]>>): KeeperRecord {
  const now = Date.now()
  const demo = demoRecord({ seed: 7, anchorMs: now, zone })
  const entries = [0, 1, 2, 3].flatMap((i) =>
    Object.entries(values).map(([analyte, [value, unit]]) => {
      const at = instantOf(now - (23 - 3 * i) * DAY)
      const id = `quiet-${analyte}-${i}`
      return {
        id,
        at,
        recordedAt: at,
        zone,
        kind: 'reading',
        vesselId: 'longshore',
        analyte,
        value,
        unit,
        bound: 'exact',
      }
    }),
  ) as unknown as Entry[]
  const kept = documentsOf(demo).filter(({ register }) => register !== 'course')
  return recordOf(demo.settings, kept, entries)
}

test('one quiet value opens the log on itself, several the page for all of them', async () => {
  const user = await open(<RoundsPage />, { record: quiet({ magnesium: [1320, 'mg/L'] }) })
  const one = (await screen.findByText(/Magnesium every 3 days, and not for 14/)).closest('li, div')!
  await user.click(within(one as HTMLElement).getByRole('button', { name: 'Enter a reading' }))
  expect(within(await screen.findByRole('dialog')).getByRole('combobox', { name: 'Of' })).toHaveValue('magnesium')
  cleanup()
  await open(<RoundsPage />, { record: quiet({ magnesium: [1320, 'mg/L'], calcium: [420, 'mg/L'] }) })
  await screen.findByText(/Calcium every 3 days/)
  expect(screen.getByRole('link', { name: 'Enter the readings' })).toHaveAttribute('href', '/tests/longshore')
})
