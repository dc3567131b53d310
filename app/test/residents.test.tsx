// One animal's page, the days of watching, and the law: what is shown, what is saved.
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { agentForms } from '@brinvo/core'
import { ResidentPage } from '../src/features/vessels/ResidentPage.tsx'
import { LawQuestion } from '../src/parts/LawQuestion.tsx'
import { WatchStrip } from '../src/parts/WatchStrip.tsx'
import { SettingsPage } from '../src/features/settings/SettingsPage.tsx'
import { open, stored } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(cleanup)
const at = (id: string) => ({ route: '/residents/:id', at: `/residents/${id}` })

describe('one animal', () => {
  test('breathing stands against its kind and its own days; what was noted is listed by day', async () => {
    await open(<ResidentPage />, at('gramma'))
    expect(await screen.findByRole('heading', { level: 1, name: 'Royal gramma' })).toBeInTheDocument()
    expect(screen.getByRole('figure', { name: /^Breathing over seven days/ })).toBeInTheDocument()
    expect(screen.getByText(/The last two counts are over its alarm/)).toBeInTheDocument()
    expect(screen.getByText(/Its own baseline is 90/)).toBeInTheDocument()
    const rows = within(screen.getAllByRole('table').at(-1)!).getAllByRole('row')
    expect(rows[1]).toHaveTextContent(/flashing.*156/)
    expect(rows.some((row) => /tried/.test(row.textContent ?? ''))).toBe(true)
    expect(screen.getByText('Moved two times in the last seven days.')).toBeInTheDocument()
  })
  test('a sentinel is marked, its days beside each newcomer counted, and a running drug spoken against', async () => {
    const user = await open(<ResidentPage />, at('azure-damsel'))
    await user.click(await screen.findByRole('checkbox', { name: /show trouble first/ }))
    expect(await screen.findByText('with Larger clown')).toBeInTheDocument()
    expect(screen.getByText('Not during a course.')).toBeInTheDocument()
    await waitFor(async () => expect((await stored()).residents.get('azure-damsel')!.body.sentinel).toBe(true))
  })
  test('a coral shows how far its polyps are out; one nobody noted says so, with the way to look', async () => {
    await open(<ResidentPage />, at('montipora'))
    expect(await screen.findByText(/Nobody has scored how far they are out/)).toBeInTheDocument()
    cleanup()
    // Walked, but with nothing else on record: how far its polyps were out stands in the chart.
    await open(<ResidentPage />, at('hammer'))
    expect(screen.queryByText(/Nobody has scored how far they are out/)).toBeNull()
    cleanup()
    await open(<ResidentPage />, at('nobody'))
    expect(screen.getByRole('heading', { name: /nothing at this address/ })).toBeInTheDocument()
  })
})

test('a day that was watched but not noted is noted later, with its minutes', async () => {
  const user = await open(<WatchStrip vesselId="holding-b" />, { route: '/', at: '/' })
  const missed = await screen.findByRole('button', { name: /: missed$/ })
  await user.click(missed)
  const dialog = await screen.findByRole('dialog')
  const minutes = within(dialog).getByRole('textbox', { name: /Watched in all/ })
  await user.clear(minutes)
  await user.type(minutes, '0')
  await user.click(within(dialog).getByRole('button', { name: 'Note it' }))
  expect(within(dialog).getByText('Minutes from 1 to 600.')).toBeInTheDocument()
  await user.clear(minutes)
  await user.type(minutes, '40')
  await user.click(within(dialog).getByRole('button', { name: 'Note it' }))
  // Behind an open dialog nothing is found by its role: the ledger is asked first.
  await waitFor(async () =>
    expect(
      (await stored()).entries.some(
        (entry) =>
          entry.kind === 'done' &&
          entry.vesselId === 'holding-b' &&
          entry.watched?.look === 'day' &&
          entry.watched.minutes === 40,
      ),
    ).toBe(true),
  )
  await waitFor(() => expect(screen.queryByRole('dialog')).not.toBeInTheDocument())
  expect(screen.queryByRole('button', { name: /: missed$/ })).not.toBeInTheDocument()
})

test('the law is asked with its country, kept in the settings, and asked again on the word', async () => {
  const form = agentForms.find(({ id }) => id === 'kanamycin-tank')!
  const user = await open(<LawQuestion form={form} />, { route: '/', at: '/' })
  await user.click(await screen.findByRole('button', { name: 'Yes, lawfully' }))
  expect(screen.getByText(/Whose law\?/)).toBeInTheDocument()
  await user.type(screen.getByRole('textbox', { name: 'Country' }), 'Elsewhere')
  await user.click(screen.getByRole('button', { name: 'Yes, lawfully' }))
  await waitFor(() => expect(screen.queryByText(/May you lawfully hold/)).not.toBeInTheDocument())
  expect((await stored()).settings.law).toEqual({ country: 'Elsewhere', answers: { kanamycin: 'lawful' } })
  cleanup()
  const again = await open(<SettingsPage />, { route: '/settings', at: '/settings', record: await stored() })
  await again.click(await screen.findByRole('button', { name: /kanamycin: lawful, ask again/ }))
  await waitFor(async () => expect((await stored()).settings.law!.answers).toEqual({}))
})
