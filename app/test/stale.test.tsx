import '@testing-library/jest-dom/jest-globals'
import { afterEach, expect, jest, test } from '@jest/globals'
import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { VesselPage } from '../src/features/vessels/VesselPage.tsx'
import { documentsOf, instantOf, recordOf } from '@brinvo/core'
import { demo, holdWorkers, open, releaseWorkers, stored } from './harness.tsx'

jest.setTimeout(90_000)
afterEach(() => {
  releaseWorkers()
  cleanup()
})

test('after a reading the amount from before it is gone until the new one is worked out', async () => {
  const user = await open(<VesselPage />, { route: '/vessels/:id', at: '/vessels/holding-a' })
  const amount = await screen.findByText(/^Add [\d.]+ mL$/)
  const before = amount.textContent
  holdWorkers()
  await user.click(screen.getByRole('button', { name: /^Enter reading: Test copper/ }))
  const dialog = await screen.findByRole('dialog')
  await user.type(within(dialog).getByRole('textbox', { name: /^Copper/ }), '2.02{Enter}')
  await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
  // Poured now, it would be the amount for a level that the reading has just denied.
  await waitFor(() => expect(screen.queryByText(/^Add [\d.]+ mL$/)).toBeNull())
  expect(screen.getByText('The level is being worked out.')).toBeInTheDocument()
  releaseWorkers()
  expect((await screen.findByText(/^Add [\d.]+ mL$/)).textContent).not.toBe(before)
})

test('after a night away the amount of last evening is not offered until the level of now is worked out', async () => {
  await open(<VesselPage />, { route: '/vessels/:id', at: '/vessels/holding-a' })
  await screen.findByText(/^Add [\d.]+ mL$/)
  holdWorkers()
  const later = Date.now() + 20 * 60_000
  const clock = jest.spyOn(Date, 'now').mockImplementation(() => later)
  try {
    // Twenty minutes on it still speaks for now.
    act(() => void document.dispatchEvent(new Event('visibilitychange')))
    expect(screen.getByText(/^Add [\d.]+ mL$/)).toBeInTheDocument()
    clock.mockImplementation(() => later + 8 * 3_600_000)
    act(() => void document.dispatchEvent(new Event('visibilitychange')))
    await waitFor(() => expect(screen.queryByText(/^Add [\d.]+ mL$/)).toBeNull())
    expect(screen.getByText('The level is being worked out.')).toBeInTheDocument()
  } finally {
    clock.mockRestore()
  }
})

test('where no amount can come, nothing is held: a gate keeps its place and its button while the level is worked out', async () => {
  const record = demo()
  const course = record.courses.get('copper-holding-a')!
  // The same course before its gates were answered.
  const begun = recordOf(
    record.settings,
    documentsOf(record).map((one) =>
      one.id === course.id
        ? ({ ...course, body: { ...course.body, startedAt: instantOf(Date.now() - 60_000) } } as never)
        : one,
    ),
    record.entries.filter((entry) => entry.courseId !== course.id),
  )
  holdWorkers()
  await open(<VesselPage />, { record: begun, route: '/vessels/:id', at: '/vessels/holding-a' })
  const gate = await screen.findByRole('button', { name: /^Yes: Carbon/ })
  expect(screen.queryByText('The level is being worked out.')).toBeNull()
  expect(screen.getByText('Next · now')).toBeInTheDocument()
  releaseWorkers()
  await waitFor(() => expect(screen.queryByText('reworking the level…')).toBeNull())
  // The very same button: one that is made anew under a finger loses the press.
  expect(screen.getByRole('button', { name: /^Yes: Carbon/ })).toBe(gate)
})

test('what is pressed happened when it was pressed, however long the writing takes', async () => {
  await open(<VesselPage />, { route: '/vessels/:id', at: '/vessels/holding-a' })
  const [button] = await screen.findAllByRole('button', { name: /nothing odd/ })
  const before = (await stored()).entries.length
  const pressedMs = Date.now()
  let clock: ReturnType<typeof jest.spyOn> | undefined
  try {
    act(() => {
      fireEvent.click(button!)
      expect(document.documentElement.dataset['writing']).toBe('1')
      clock = jest.spyOn(Date, 'now').mockImplementation(() => pressedMs + 3_600_000)
    })
    await waitFor(async () => expect((await stored()).entries.length).toBeGreaterThan(before))
    const [entry] = (await stored()).entries.slice(-1)
    expect(Date.parse(entry!.at) - pressedMs).toBeLessThan(60_000)
    await waitFor(() => expect(document.documentElement.dataset['writing']).toBeUndefined())
  } finally {
    clock?.mockRestore()
  }
})
