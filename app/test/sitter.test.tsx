import '@testing-library/jest-dom/jest-globals'
import { afterEach, expect, jest, test } from '@jest/globals'
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { SitterPage } from '../src/features/vessels/SitterPage.tsx'
import { demo, open, stored } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(cleanup)

test('a sitter’s sheet: days, the keeper’s words, whom to call; what is the keeper’s is told before they leave', async () => {
  await open(<SitterPage />, { record: demo(), route: '/sitter' })
  const sheet = screen.getByLabelText('Sheet for the sitter')
  // Seven days from tomorrow on, each with a heading of its own.
  expect(sheet.querySelectorAll('h3')).toHaveLength(7)
  expect(sheet).toHaveTextContent(/nobody is written here yet/)
  expect(sheet).toHaveTextContent(/The bag of the day/)
  expect(sheet).not.toHaveTextContent(/copper|mg\/L/i)
  expect(screen.getByLabelText('Before you leave')).toHaveTextContent(/nobody’s but yours/)
  const call = screen.getByLabelText('Whom to call')
  fireEvent.change(call, { target: { value: 'me, 0123' } })
  fireEvent.blur(call)
  await waitFor(async () => expect((await stored()).settings.sitterCall).toBe('me, 0123'))
  const tub = within(screen.getByLabelText('Fernwater'))
  const food = tub.getByLabelText('Food')
  fireEvent.change(food, { target: { value: 'One wafer' } })
  fireEvent.blur(food)
  await waitFor(async () =>
    expect((await stored()).vessels.get('fernwater')!.body.sitter).toEqual({ food: 'One wafer' }),
  )
  await waitFor(() => expect(sheet).toHaveTextContent(/One wafer/))
  // Days the wrong way round are said, and nothing is printed for them.
  fireEvent.change(screen.getByLabelText(/^Last day/), { target: { value: '2020-01-01' } })
  expect(await screen.findByText('The last day lies before the first.')).toBeInTheDocument()
  expect(screen.queryByLabelText('Sheet for the sitter')).toBeNull()
  expect(screen.getByText('Print').closest('button')).toBeDisabled()
})
