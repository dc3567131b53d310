import '@testing-library/jest-dom/jest-globals'
import { afterEach, expect, jest, test } from '@jest/globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { TablePage } from '../src/features/log/TablePage.tsx'
import { demo, open, stored } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(cleanup)

const page = () =>
  open(<TablePage />, { record: demo(), route: '/tests/:vesselId/table', at: '/tests/longshore/table' })

test('a file is asked about, shown line by line, taken in one press and undone in another', async () => {
  const user = await page()
  const before = (await stored()).entries.length
  // Days whose day and month could each be either, two months after the reef began.
  const began = new Date((await stored()).vessels.get('longshore')!.body.startedAt)
  const second = new Date(Date.UTC(began.getUTCFullYear(), began.getUTCMonth() + 2, 3))
  const month = `${String(second.getUTCMonth() + 1).padStart(2, '0')}/${second.getUTCFullYear()}`
  const file = new File(
    [`Date,Time,KH (dKH),Probe B\n03/${month},08:00,8.1,8.05\n04/${month},,8.0,8.1\n05/${month},08:00,=8,\n`],
    'log.csv',
    { type: 'text/csv' },
  )
  await user.upload(screen.getByLabelText('A table as a file'), file)
  const order = await screen.findByRole('combobox', { name: /Which comes first/ })
  await user.selectOptions(order, 'day, month, year')
  await user.selectOptions(screen.getByRole('combobox', { name: /Probe B/ }), 'pH')
  const taken = await screen.findByRole('heading', { name: /4 readings for Longshore/ })
  expect(taken).toBeInTheDocument()
  // An answer can be thought better of.
  await user.click(screen.getByRole('button', { name: /^Change: Which comes first/ }))
  await user.selectOptions(await screen.findByRole('combobox', { name: /Which comes first/ }), 'day, month, year')
  await screen.findByRole('heading', { name: /4 readings for Longshore/ })
  expect(screen.getByRole('region', { name: 'Lines left out' })).toHaveTextContent('line 4“=8” is a formula')
  expect(within(screen.getByRole('region', { name: 'The first readings' })).getAllByText('not given')).toHaveLength(2)
  await user.click(screen.getByRole('button', { name: 'Take 4 readings' }))
  await waitFor(async () => expect((await stored()).entries.length).toBe(before + 4))
  const from = (await stored()).entries.filter((entry) => entry.kind === 'reading' && entry.table?.file === 'log.csv')
  expect(from.map((entry) => 'dayOnly' in entry)).toEqual([false, false, true, true])
  await user.click(await screen.findByRole('button', { name: 'Undo' }))
  await waitFor(async () =>
    expect((await stored()).entries.filter(({ kind }) => kind === 'void').length).toBeGreaterThanOrEqual(4),
  )
})
test('what is no table is refused in words, and what was pasted stays', async () => {
  const user = await page()
  await user.type(
    screen.getByRole('textbox', { name: 'Or paste the table' }),
    '<html><body><table></table></body></html>',
  )
  await user.click(screen.getByRole('button', { name: 'Read what is pasted' }))
  expect(await screen.findByRole('alert')).toHaveTextContent(/web page.*Nothing was changed/)
})

test('readings go out as a table, and come in again as nothing new', async () => {
  const user = await page()
  const given: Blob[] = []
  URL.createObjectURL = (blob) => {
    given.push(blob as Blob)
    return 'blob:table'
  }
  await user.click(screen.getByRole('button', { name: 'Readings as a table' }))
  await waitFor(() => expect(given).toHaveLength(1))
  const text = new TextDecoder().decode(await given[0]!.arrayBuffer())
  const count = (await stored()).entries.filter(
    (entry) => entry.kind === 'reading' && entry.vesselId === 'longshore',
  ).length
  expect(text.trim().split(/\r\n/)).toHaveLength(count + 1)
  await user.upload(screen.getByLabelText('A table as a file'), new File([text], 'again.csv', { type: 'text/csv' }))
  expect(await screen.findByText('Nothing of this table is new.')).toBeInTheDocument()
})
