// A keeper of gallons, °F and specific gravity: nothing is shown or asked in another unit, and what is typed is kept right.
import '@testing-library/jest-dom/jest-globals'
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { recordOf, documentsOf } from '@brinvo/core'
import { BenchPage } from '../src/features/bench/BenchPage.tsx'
import { ComparePage } from '../src/features/arrivals/ComparePage.tsx'
import { ArrivalPage } from '../src/features/arrivals/ArrivalPage.tsx'
import { CoursePage } from '../src/features/courses/CoursePage.tsx'
import { SchoolsPage } from '../src/features/courses/SchoolsPage.tsx'
import { RoundsPage } from '../src/features/rounds/RoundsPage.tsx'
import { VesselPage } from '../src/features/vessels/VesselPage.tsx'
import { demo, open } from './harness.tsx'

jest.setTimeout(90_000)
afterEach(() => cleanup())

function abroad() {
  const record = demo()
  return recordOf(
    { ...record.settings, volume: 'US gal', temperature: '°F', salinity: 'SG', length: 'in' },
    documentsOf(record),
    record.entries,
  )
}
/** Litres, warmth and salinity as a reader sees them; differences ("within 1 °C") and strengths are none. */
const FOREIGN = /(?<![\d./])\d[\d.]* L(?![\w/])|\b(?:at|for|is|of) \d[\d.]* °C|\bat \d[\d.]* (?:PSU|ppt)\b/g

describe('in gallons, °F and specific gravity', () => {
  test.each([
    [<RoundsPage key="r" />, '/', '/'],
    [<VesselPage key="v" />, '/vessels/:id', '/vessels/holding-a'],
    [<CoursePage key="c" />, '/courses/:id', '/courses/copper-holding-a'],
    [<CoursePage key="d" />, '/courses/:id', '/courses/tufts-fernwater'],
    [<SchoolsPage key="s" />, '/courses/compare', '/courses/compare?vessel=holding-b'],
    [<ArrivalPage key="a" />, '/arrivals/:id', '/arrivals/box-tonight'],
    [<ComparePage key="b" />, '/arrivals/:id/:containerId', '/arrivals/box-tonight/bag-1'],
    [<BenchPage key="e" />, '/bench', '/bench'],
  ])('%# speaks no litres', async (page, route, at) => {
    await open(page, { record: abroad(), route, at })
    await waitFor(() => expect(document.querySelector('h1')).not.toBeNull())
    const words = [...document.body.querySelectorAll('p, span, li, dd, dt, td, h1, h2, h3, label, figcaption')]
      .map((one) => one.textContent ?? '')
      .filter((text) => text.length < 400)
    expect(words.length).toBeGreaterThan(5)
    expect(words.flatMap((text) => text.match(FOREIGN) ?? [])).toEqual([])
  })
  test('a flow typed in gallons an hour is held against the plate in litres', async () => {
    const user = await open(<BenchPage />, { record: abroad(), route: '/bench', at: '/bench?tool=uv' })
    const flow = await screen.findByRole('textbox', { name: /^Flow/ })
    // 600 L/h are 158.5 US gal/h.
    expect(flow).toHaveValue('159')
    const result = screen.getByRole('region', { name: 'Result' })
    expect(within(result).getByText(/at most/)).toHaveTextContent(/US gal\/h/)
    await user.clear(flow)
    await user.type(flow, '105.67')
    // At the plate's own 400 L/h (105.67 US gal/h) the plate's own dose.
    await waitFor(() => expect(result).toHaveTextContent(/90 mJ\/cm²/))
  })
})
