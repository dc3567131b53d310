// What is printed says what the record says: half of each vessel, the range of a month, the bottles that are not used up.
import '@testing-library/jest-dom/jest-globals'
import { afterEach, expect, jest, test } from '@jest/globals'
import { entryMs, vesselVolume } from '@brinvo/core'
import { cleanup, screen, within } from '@testing-library/react'
import { CupboardPaper, EmergencyPaper, MonthPaper } from '../src/features/papers/PapersPage.tsx'
import { demo, open } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(cleanup)

test('the card for the first ten minutes: air first, half of each vessel by its net volume, drugs that are in the water', async () => {
  const record = demo()
  await open(<EmergencyPaper />, { record, route: '/paper/emergency' })
  const sheet = screen.getByLabelText(/^Fish gasping/)
  const steps = within(sheet)
    .getAllByRole('listitem')
    .map(({ textContent }) => textContent ?? '')
  expect(steps.findIndex((words) => words.startsWith('Air.'))).toBeLessThan(
    steps.findIndex((words) => words.startsWith('Change half')),
  )
  for (const id of ['longshore', 'holding-a']) {
    const vessel = record.vessels.get(id)!
    const row = within(sheet).getByText(vessel.body.name).closest('tr')!
    expect(row).toHaveTextContent(`${Math.round(vesselVolume(vessel)!.litres / 2)} L`)
  }
  expect(within(sheet).getByText('Holding A').closest('tr')).toHaveTextContent(/copper/i)
  // A binder in copper water endangers the animals: whoever changes the water must not reach for one.
  expect(sheet).toHaveTextContent(/Where copper stands in the last column: no conditioner/)
})

test('a month: the lowest and highest of what was read, each day once, no day of another month', async () => {
  const record = demo()
  await open(<MonthPaper />, { record, route: '/paper/month/:id', at: '/paper/month/holding-a' })
  const sheet = screen.getByLabelText(/^Holding A, /)
  const month = new Date().toISOString().slice(0, 7)
  const values = record.entries.flatMap((entry) =>
    entry.kind === 'reading' &&
    entry.vesselId === 'holding-a' &&
    entry.analyte === 'copper' &&
    new Date(entryMs(entry)).toISOString().startsWith(month)
      ? [entry.value]
      : [],
  )
  if (values.length > 0) {
    const row = within(sheet)
      .getAllByText('Copper')
      .map((cell) => cell.closest('tr')!)[0]!
    expect(row).toHaveTextContent(String(Math.min(...values)))
    expect(row).toHaveTextContent(String(Math.max(...values)))
  }
  const days = [...sheet.querySelectorAll('td:first-child')].map(({ textContent }) => textContent ?? '')
  expect(new Set(days).size).toBe(days.length)
})

test('the cupboard: what must never meet it stands beside each bottle; a bottle that is used up does not stand there', async () => {
  const record = demo()
  const products = [...record.products.values()]
  const [gone] = products
  record.products.get(gone!.id)!.body = { ...gone!.body, usedUpAt: '2026-01-01T00:00:00.000Z' } as never
  await open(<CupboardPaper />, { record, route: '/paper/cupboard' })
  const sheet = screen.getByLabelText('The cupboard')
  expect(within(sheet).queryByText(gone!.body.name)).toBeNull()
  for (const { body } of products.slice(1)) expect(within(sheet).getByText(body.name)).toBeInTheDocument()
  expect(sheet).toHaveTextContent(/never with bleach/)
})
