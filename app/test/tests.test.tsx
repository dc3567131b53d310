import '@testing-library/jest-dom/jest-globals'
import { afterEach, expect, jest, test } from '@jest/globals'
import { cleanup, screen, waitFor } from '@testing-library/react'
import { TestsPage } from '../src/features/log/TestsPage.tsx'
import { demo, open, stored } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(cleanup)

test('all tests of a vessel: what is due stands there, another is added, one press saves those that were typed', async () => {
  const user = await open(<TestsPage />, { record: demo(), route: '/tests/:vesselId', at: '/tests/longshore' })
  const before = (await stored()).entries.length
  await user.selectOptions(screen.getByRole('combobox', { name: 'Another test' }), 'Nitrate')
  await user.selectOptions(screen.getByRole('combobox', { name: 'Another test' }), 'Silicate')
  const save = screen.getByRole('button', { name: /^Save/ })
  expect(save).toBeDisabled()
  await user.type(screen.getByRole('textbox', { name: /^Nitrate/ }), '9,5')
  await user.type(screen.getByRole('textbox', { name: /^Silicate/ }), 'much')
  expect(await screen.findByRole('alert')).toHaveTextContent(/Silicate/)
  await user.clear(screen.getByRole('textbox', { name: /^Silicate/ }))
  expect(screen.getByText(/Left open: .*Silicate/)).toBeInTheDocument()
  await user.click(screen.getByRole('button', { name: 'Save' }))
  await waitFor(async () => expect((await stored()).entries.length).toBe(before + 1))
  expect((await stored()).entries.at(-1)).toMatchObject({
    kind: 'reading',
    vesselId: 'longshore',
    analyte: 'nitrate',
    value: 9.5,
  })
})
