import '@testing-library/jest-dom/jest-globals'
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { documentsOf, recordOf } from '@brinvo/core'
import type { KeeperRecord } from '@brinvo/core'
import { CalendarPage } from '../src/features/calendar/CalendarPage.tsx'
import { laneBars } from '../src/features/calendar/CalendarBoard.tsx'
import { RoundsPage } from '../src/features/rounds/RoundsPage.tsx'
import { demo, nothing, open, stored, typeDate } from './harness.tsx'

jest.setTimeout(90_000)
afterEach(cleanup)
const soon = { timeout: 20_000 }
const withStart = (startsOn: string): KeeperRecord => {
  const record = demo()
  return recordOf(
    record.settings,
    documentsOf(record).map((one) => (one.register === 'planned' ? { ...one, body: { ...one.body, startsOn } } : one)),
    record.entries,
  )
}
const kept = async () => [...(await stored()).planned.values()]
const at = { route: '/calendar', at: '/calendar' }

describe('the calendar', () => {
  test('a planned start is moved by arrow keys, a week with shift, and kept where it is let go', async () => {
    const user = await open(<CalendarPage />, { record: withStart('2026-12-19'), ...at })
    const grip = await screen.findByRole('slider', { name: /^Start of/ }, soon)
    expect(grip).toHaveAttribute('aria-valuetext', expect.stringMatching(/^19 December 2026, over/))
    grip.focus()
    // One after another, faster than anything is written: none is lost.
    await user.keyboard('{ArrowRight}{ArrowRight}{ArrowRight}')
    expect(grip).toHaveAttribute('aria-valuetext', expect.stringMatching(/^22 December 2026/))
    await user.keyboard('{Shift>}{ArrowRight}{/Shift}{ArrowLeft}')
    await waitFor(async () => expect((await kept())[0]!.body.startsOn).toBe('2026-12-28'))
    expect((await kept())[0]!.revision).toBe(2)
  })
  test('moved and left at once, it is kept', async () => {
    const user = await open(<CalendarPage />, { record: withStart('2026-12-19'), ...at })
    const grip = await screen.findByRole('slider', { name: /^Start of/ }, soon)
    grip.focus()
    await user.keyboard('{ArrowLeft}')
    cleanup()
    await waitFor(async () => expect((await kept())[0]!.body.startsOn).toBe('2026-12-18'))
  })
  test('never before today', async () => {
    const user = await open(<CalendarPage />, { record: withStart('2026-11-24'), ...at })
    const grip = await screen.findByRole('slider', { name: /^Start of/ }, soon)
    grip.focus()
    await user.keyboard('{Shift>}{ArrowLeft}{/Shift}')
    await waitFor(async () => expect((await kept())[0]!.body.startsOn).toBe('2026-11-23'))
  })
  test('a start is planned, refused without a protocol or for a day gone by, and let go', async () => {
    const user = await open(<CalendarPage />, { record: nothing(), ...at })
    expect(screen.getByText(/Nothing runs and nothing is planned/)).toBeInTheDocument()
    await user.click(screen.getByRole('button', { name: 'Plan a start' }))
    const dialog = await screen.findByRole('dialog')
    await user.click(within(dialog).getByRole('button', { name: 'Put it into the calendar' }))
    expect(within(dialog).getByRole('alert')).toHaveTextContent('Choose what is to begin.')
    await user.selectOptions(within(dialog).getByRole('combobox', { name: 'What is to begin' }), 'copper-in-place-30')
    await typeDate(user, dialog, /Begins on/, '2026-11-01')
    await user.click(within(dialog).getByRole('button', { name: 'Put it into the calendar' }))
    expect(within(dialog).getByRole('alert')).toHaveTextContent('That day has gone by')
    expect(within(dialog).getByRole('combobox', { name: 'What is to begin' })).toHaveValue('copper-in-place-30')
    await typeDate(user, dialog, /Begins on/, '2026-12-01')
    await user.click(within(dialog).getByRole('button', { name: 'Put it into the calendar' }))
    await waitFor(async () => expect(await kept()).toHaveLength(1))
    await user.click(await screen.findByRole('button', { name: /: change it$/ }))
    await user.click(await screen.findByRole('button', { name: 'Let it go' }))
    await waitFor(async () => expect((await kept())[0]!.body.endedAt).toBeDefined())
    await waitFor(() => expect(screen.queryByRole('slider')).toBeNull())
  })
  test('a start whose day has come stands on the round until it begins', async () => {
    await open(<RoundsPage />, { record: withStart('2026-11-22') })
    const card = await screen.findByRole('region', { name: 'A planned start' }, soon)
    expect(card).toHaveTextContent(/was planned for .*22 Nov/)
    expect(within(card).getByRole('link', { name: 'Begin it' })).toHaveAttribute(
      'href',
      '/courses/new?protocol=tank-transfer-72&planned=planned-intake&vessel=holding-b',
    )
  })
})

describe('lanes', () => {
  const bar = (id: string, from: number, to: number) => ({
    id,
    title: id,
    vesselId: null,
    state: 'runs' as const,
    fromMs: from,
    endMs: to,
    latestMs: to,
    releaseMs: to,
    phases: [],
    marks: [],
    together: false,
    wasMs: null,
    clashes: [],
  })
  test('bars that would touch, by themselves or by their words, lie on lanes of their own', () => {
    const { placed, lanes } = laneBars(
      [bar('a', 0, 90), bar('a name much longer than its band', 110, 120), bar('c', 130, 140), bar('d', 700, 710)],
      (ms) => ms,
      800,
    )
    expect(lanes).toBe(2)
    expect(placed.map(({ lane }) => lane)).toEqual([0, 0, 1, 0])
  })
  test('no name sticks out of the board', () => {
    const { placed } = laneBars([bar('x'.repeat(80), 780, 790)], (ms) => ms, 800)
    expect(placed[0]!.nameX + placed[0]!.nameWidth).toBeLessThanOrEqual(800)
  })
})
