import '@testing-library/jest-dom/jest-globals'
import { afterEach, expect, jest, test } from '@jest/globals'
import { cleanup, screen, within } from '@testing-library/react'
import { documentsOf, instantOf, recordOf, type Entry } from '@brinvo/core'
import { WaterPage } from '../src/features/log/WaterPage.tsx'
import { demo, open, ZONE } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(cleanup)

const DAY = 86_400_000
const fall = (perDay: number): Entry[] =>
  [28, 21, 14, 7, 0.5].map(
    (ago, i) =>
      ({
        kind: 'reading',
        id: `alk-${i}-of-test`,
        at: instantOf(Date.now() - ago * DAY),
        recordedAt: instantOf(Date.now() - ago * DAY),
        zone: ZONE,
        vesselId: 'longshore',
        analyte: 'alkalinity',
        value: 7.6 + ago * perDay,
        unit: 'dKH',
        bound: 'exact',
      }) as unknown as Entry,
  )
/** The demonstration's reef with five tests of alkalinity and nothing else read in it. */
function falling(perDay: number) {
  const record = demo()
  return recordOf(record.settings, documentsOf(record), [
    ...record.entries.filter((entry) => !(entry.kind === 'reading' && entry.vesselId === 'longshore')),
    ...fall(perDay),
  ])
}
const page = (record = falling(0.1)) =>
  open(<WaterPage />, { record, route: '/water/:vesselId', at: '/water/longshore' })

test('what falls is told with its rate, its chance and the day of the next test', async () => {
  const user = await page()
  const lane = within(await screen.findByRole('article', { name: 'Alkalinity' }))
  expect(lane.getByText(/^Falls by 0\.1 dKH a day/)).toBeInTheDocument()
  expect(lane.getByText(/under 7 dKH within a fortnight/)).toBeInTheDocument()
  expect(lane.getByText(/a week before 8\.3/)).toBeInTheDocument()
  expect(screen.getByRole('region', { name: 'Next test' })).toHaveTextContent(/Alkalinity/)
  // What it is reckoned from is one press away.
  await user.click(lane.getByText(/tests behind it/))
  expect(lane.getAllByRole('row')).toHaveLength(5)
})
test('what holds shows no direction, and asks for no test', async () => {
  await page(falling(0))
  expect(screen.getByText(/^No direction that these tests could tell/)).toBeInTheDocument()
  expect(screen.queryByText(/within a fortnight,/)).toBeNull()
})
test('where nothing was tested that is said', async () => {
  const record = demo()
  await page(
    recordOf(
      record.settings,
      documentsOf(record),
      record.entries.filter(({ kind }) => kind !== 'reading'),
    ),
  )
  expect(screen.getByText('Nothing was tested here yet')).toBeInTheDocument()
  // No dead end: the first test is one press away.
  expect(screen.getByRole('link', { name: 'Enter tests' })).toHaveAttribute('href', '/tests/longshore')
})
