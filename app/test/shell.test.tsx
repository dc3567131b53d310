import '@testing-library/jest-dom/jest-globals'
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { recordOf, documentsOf } from '@brinvo/core'
import { MemoryRouter, Route, Routes } from 'react-router'
import { repositoryOf } from '../src/data/database.ts'
import { DatabaseProvider } from '../src/data/queries.tsx'
import { StorageError } from '../src/data/repository.ts'
import { FaultBoundary } from '../src/shell/FaultBoundary.tsx'
import { Shell } from '../src/shell/Shell.tsx'
import { demo, nothing } from './harness.tsx'

jest.setTimeout(90_000)
const repository = repositoryOf('keeper')
let dark = false
beforeEach(() => {
  dark = false
  const media = () => ({ matches: dark, addEventListener: () => undefined, removeEventListener: () => undefined })
  Object.assign(window, { matchMedia: media, scrollTo: () => Promise.resolve() })
})
afterEach(() => {
  cleanup()
  jest.restoreAllMocks()
})

async function shell(record = demo(), at = '/') {
  await repository.replaceAll(record)
  render(
    <QueryClientProvider client={new QueryClient()}>
      <DatabaseProvider initial="keeper">
        <MemoryRouter initialEntries={[at]}>
          <Routes>
            <Route path="/" element={<Shell />}>
              <Route index element={<h1>Here</h1>} />
              <Route path="*" element={<h1>There</h1>} />
            </Route>
          </Routes>
        </MemoryRouter>
      </DatabaseProvider>
    </QueryClientProvider>,
  )
  await screen.findByRole('navigation', { name: 'Places' })
  return userEvent.setup()
}

describe('the frame', () => {
  test('whoever was sent to a place for one thing finds the way back, and never one off the application', async () => {
    await shell(demo(), `/vessels/tub?then=${encodeURIComponent('/courses/new?protocol=x')}`)
    expect(screen.getByRole('link', { name: 'Back to what brought you here' })).toHaveAttribute(
      'href',
      '/courses/new?protocol=x',
    )
    cleanup()
    await shell(demo(), `/vessels/tub?then=${encodeURIComponent('//elsewhere.example')}`)
    expect(screen.queryByRole('link', { name: 'Back to what brought you here' })).toBeNull()
    cleanup()
    // A form that leads on by itself needs no second way.
    await shell(demo(), `/vessels/new?then=${encodeURIComponent('/findings')}`)
    expect(screen.queryByRole('link', { name: 'Back to what brought you here' })).toBeNull()
  })
  test('shows the shelf in its order, each vessel with one state', async () => {
    await shell()
    const names = screen.getByRole('navigation', { name: 'Vessels' }).querySelectorAll('b')
    expect([...names].map(({ textContent }) => textContent)).toEqual([
      'Longshore',
      'Holding A',
      'Holding B',
      'Tub',
      'Fernwater',
      'Holding B, second tub',
    ])
    expect(screen.getByRole('link', { name: /Fernwater a bag waits/ })).toHaveAttribute('href', '/vessels/fernwater')
  })
  test('keys: L logs, ? explains, a letter goes to its place, typing in a field does not', async () => {
    const user = await shell()
    await user.keyboard('?')
    expect(await screen.findByRole('dialog', { name: 'Keys' })).toHaveTextContent(
      /log something, also as one typed line/,
    )
    await user.keyboard('{Escape}')
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
    await user.keyboard('l')
    expect(await screen.findByRole('dialog', { name: 'Log something' })).toBeInTheDocument()
    await user.keyboard('{Escape}')
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
    await user.keyboard('v')
    expect(await screen.findByRole('heading', { name: 'There' })).toBeInTheDocument()
  })
  test('keys can be switched off', async () => {
    const record = demo()
    const user = await shell(recordOf({ ...record.settings, shortcuts: false }, documentsOf(record), record.entries))
    await user.keyboard('l?v')
    expect(screen.queryByRole('dialog')).toBeNull()
    expect(screen.getByRole('heading', { name: 'Here' })).toBeInTheDocument()
  })
  test('the theme follows the setting, or the machine', async () => {
    const record = demo()
    await shell(recordOf({ ...record.settings, theme: 'lights-out' }, documentsOf(record), record.entries))
    expect(document.documentElement).toHaveAttribute('data-theme', 'lights-out')
    cleanup()
    dark = true
    await shell(recordOf({ ...record.settings, theme: 'day' }, documentsOf(record), record.entries))
    expect(document.documentElement).toHaveAttribute('data-theme', 'day')
    cleanup()
    await shell(recordOf({ ...record.settings, theme: 'system' }, documentsOf(record), record.entries))
    expect(document.documentElement).toHaveAttribute('data-theme', 'lights-out')
  })
  test('the safety page stands before everything until it was read', async () => {
    const record = nothing()
    const { safetyReadAt: _unread, ...settings } = record.settings
    const user = await shell(recordOf(settings, [], []))
    expect(screen.queryByRole('heading', { name: 'Here' })).toBeNull()
    expect(screen.getByText(/aquatic veterinarian come first/)).toBeInTheDocument()
    await user.click(screen.getByRole('button', { name: 'I have read this' }))
    expect(await screen.findByRole('heading', { name: 'Here' })).toBeInTheDocument()
    expect((await repository.load()).settings.safetyReadAt).toBeDefined()
  })
  test('an empty shelf invites', async () => {
    await shell(nothing())
    expect(screen.getByRole('link', { name: /describe your first vessel/ })).toHaveAttribute('href', '/vessels/new')
  })
})

describe('when the disk fails', () => {
  test('a record that cannot be opened is said, with a way to try again', async () => {
    jest
      .spyOn(repository, 'load')
      .mockRejectedValue(new StorageError('unavailable', 'This browser does not let the application store anything.'))
    render(
      <QueryClientProvider client={new QueryClient()}>
        <DatabaseProvider initial="keeper">
          <MemoryRouter>
            <Shell />
          </MemoryRouter>
        </DatabaseProvider>
      </QueryClientProvider>,
    )
    expect(await screen.findByRole('alert')).toHaveTextContent(/does not let the application store anything/)
    expect(screen.getByRole('button', { name: 'Try again' })).toBeInTheDocument()
  })
  test('a full disk is told when saving, and what was typed is still in the field', async () => {
    const user = await shell()
    jest
      .spyOn(repository, 'commit')
      .mockRejectedValue(new StorageError('full', 'This browser has no room left for the record.'))
    await user.keyboard('l')
    const dialog = await screen.findByRole('dialog', { name: 'Log something' })
    await user.click(screen.getByText('Note'))
    await user.type(screen.getByRole('textbox', { name: 'Note' }), 'glass cleaned')
    await user.click(screen.getByRole('button', { name: 'Save' }))
    expect(await screen.findByText(/no room left/)).toBeInTheDocument()
    expect(dialog).toBeInTheDocument()
    expect(screen.getByRole('textbox', { name: 'Note' })).toHaveValue('glass cleaned')
  })
})

test('a fault of ours says that the record is safe', () => {
  jest.spyOn(console, 'error').mockImplementation(() => undefined)
  const Broken = () => {
    throw new Error('a bug')
  }
  render(
    <FaultBoundary>
      <Broken />
    </FaultBoundary>,
  )
  expect(screen.getByRole('alert')).toHaveTextContent(/Your record is on disk and untouched.*a bug/)
})
