// A protocol of one's own and the gear shelf, by role: nothing typed is lost, faults are told with their line.
import '@testing-library/jest-dom/jest-globals'
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals'
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import { protocolOf, recordOf, documentsOf, type ProtocolDocument } from '@brinvo/core'
import { CupboardPage } from '../src/features/cupboard/CupboardPage.tsx'
import { NewCoursePage } from '../src/features/courses/NewCoursePage.tsx'
import { LibraryPage } from '../src/features/library/LibraryPage.tsx'
import { copyText, freeId, WriteProtocolPage } from '../src/features/library/WriteProtocolPage.tsx'
import { demo, open, stored } from './harness.tsx'

jest.setTimeout(60_000)
beforeEach(() => sessionStorage.clear())
afterEach(() => cleanup())

const own = (text: string, title = 'My prazi'): ProtocolDocument => ({
  register: 'protocol',
  id: 'own-1',
  revision: 1,
  savedAt: new Date().toISOString(),
  history: [],
  body: { title, text, copiedFrom: 'praziquantel-twice' },
})
const withOwn = (text: string) => {
  const record = demo()
  return recordOf(record.settings, [...documentsOf(record), own(text)], record.entries)
}
const writing = { route: '/library/write/:id' }

describe('a copy', () => {
  test('has an id of its own, whatever is taken', () => {
    expect(freeId('praziquantel-twice', new Set())).toBe('praziquantel-twice-2')
    expect(freeId('My  Way!', new Set(['my-way']))).toBe('my-way-2')
    expect(freeId('***', new Set())).toBe('my-protocol')
    const copy = JSON.parse(copyText(protocolOf('praziquantel-twice')!, new Set())) as { id: string; title: string }
    expect(copy).toMatchObject({ id: 'my-praziquantel-twice', title: expect.stringMatching(/my way$/) })
  })
  test('is changed in plain fields, kept, and its text holds the value at its place', async () => {
    const user = await open(<WriteProtocolPage />, { ...writing, at: '/library/write/new?from=praziquantel-twice' })
    const level = screen.getByRole('textbox', { name: /^Level/ })
    await user.clear(level)
    expect(screen.getByText('A number of zero or more.')).toBeVisible()
    await user.type(level, '2.25')
    await user.clear(screen.getByRole('textbox', { name: 'Title' }))
    await user.type(screen.getByRole('textbox', { name: 'Title' }), 'Gentle prazi')
    await user.click(screen.getByRole('button', { name: 'Keep it' }))
    await waitFor(async () => {
      const kept = [...(await stored()).protocols.values()]
      expect(kept).toHaveLength(1)
      const text = JSON.parse(kept[0]!.body.text) as { title: string; phases: { rules: { aim?: number }[] }[] }
      expect(text.title).toBe('Gentle prazi')
      expect(text.phases[0]!.rules.find(({ aim }) => aim !== undefined)!.aim).toBe(2.25)
    })
  })
  test('over a ceiling is told with its line, keeps what was typed, and is kept only as unfinished', async () => {
    const user = await open(<WriteProtocolPage />, { ...writing, at: '/library/write/new?from=praziquantel-twice' })
    const level = screen.getByRole('textbox', { name: /^Level/ })
    await user.clear(level)
    await user.type(level, '7')
    const fault = await screen.findByRole('button', { name: /Line \d+\. 7 mg\/L is over the ceiling of 5 mg\/L/ })
    expect(screen.getByRole('button', { name: 'Keep as unfinished' })).toBeEnabled()
    await user.click(fault)
    const area = screen.getByRole<HTMLTextAreaElement>('textbox', { name: 'Protocol as text' })
    await waitFor(() => expect(area.value.slice(area.selectionStart, area.selectionEnd)).toBe('7'))
    fireEvent.change(area, { target: { value: area.value.replace('"aim": 7', '"aim": 2.5,,') } })
    expect(screen.getAllByRole('button', { name: /Line \d+\./ })[0]).toBeVisible()
    expect(screen.getByText(/before the fault/)).toBeVisible()
    await user.click(screen.getByRole('button', { name: 'Keep as unfinished' }))
    await waitFor(async () => expect([...(await stored()).protocols.values()][0]?.body.text).toContain('"aim": 2.5,,'))
  })
  test('a name the library has is refused', async () => {
    await open(<WriteProtocolPage />, {
      ...writing,
      at: '/library/write/own-1',
      record: withOwn(JSON.stringify(protocolOf('praziquantel-twice'), null, 2)),
    })
    expect(screen.getByRole('button', { name: /already called “praziquantel-twice”/ })).toBeVisible()
  })
  test('an unknown one is said to be unknown', async () => {
    await open(<WriteProtocolPage />, { ...writing, at: '/library/write/nothing' })
    expect(screen.getByText('No protocol of yours has this name')).toBeVisible()
  })
})

describe('the library', () => {
  test('lists one’s own, finished and unfinished, and takes a file as it is', async () => {
    const user = await open(<LibraryPage />, { route: '/library', record: withOwn('{ "id": ') })
    expect(screen.getByText('unfinished')).toBeVisible()
    const text = copyText(protocolOf('fenbendazole-twice')!, new Set())
    await user.upload(
      screen.getByLabelText('Protocol file'),
      new File([text], 'shared.json', { type: 'application/json' }),
    )
    await waitFor(async () =>
      expect([...(await stored()).protocols.values()].map(({ body }) => body.text)).toContain(text),
    )
  })
  test('a finished one of one’s own can be started like any other', async () => {
    const text = copyText(protocolOf('observe-only')!, new Set())
    const { id } = JSON.parse(text) as { id: string }
    const user = await open(<NewCoursePage />, {
      route: '/courses/new',
      at: `/courses/new?vessel=holding-b&protocol=${id}`,
      record: withOwn(text),
    })
    await user.click(screen.getByRole('button', { name: 'Start the course' }))
    await waitFor(async () =>
      expect([...(await stored()).courses.values()].map(({ body }) => body.protocolId)).toContain(id),
    )
  })
})

describe('the gear shelf', () => {
  test('says what a net carries, blocks it where it would do harm, and makes it safe with one press', async () => {
    const user = await open(<CupboardPage />, { route: '/cupboard' })
    const row = screen.getByText('Green net').closest('li')!
    expect(row).toHaveTextContent(/carries Holding A/)
    await user.click(within(row).getByRole('button', { name: 'Used in …' }))
    const dialog = screen.getByRole('dialog')
    expect(dialog).toHaveTextContent(/starts the count without fish again/)
    expect(within(dialog).getByRole('button', { name: 'It was in the water' })).toBeDisabled()
    await user.keyboard('{Escape}')
    await user.click(within(row).getByRole('button', { name: 'Disinfected' }))
    await waitFor(() => expect(within(row).getByText('safe')).toBeVisible())
    const acts = (await stored()).entries.filter(({ kind }) => kind === 'gear')
    expect(acts.at(-1)).toMatchObject({ gearId: 'net-green', act: 'disinfected' })
  })
  test('a new piece needs a name', async () => {
    const user = await open(<CupboardPage />, { route: '/cupboard' })
    await user.click(screen.getByRole('button', { name: 'Register gear' }))
    const dialog = screen.getByRole('dialog')
    await user.click(within(dialog).getByRole('button', { name: 'Save' }))
    expect(within(dialog).getByText(/Give it a name/)).toBeVisible()
    await user.type(within(dialog).getByRole('textbox', { name: 'Name' }), 'Blue bucket')
    await user.click(within(dialog).getByRole('button', { name: 'Save' }))
    await waitFor(async () =>
      expect([...(await stored()).gear.values()].map(({ body }) => body.name)).toContain('Blue bucket'),
    )
  })
})

describe('the shelf of limits', () => {
  test('a limit is found by a word, with its number and where it comes from; shares are read as percent', async () => {
    const user = await open(<LibraryPage />, { record: demo() })
    await user.click(screen.getByText('Limits', { exact: true }))
    expect(screen.getByRole('heading', { name: 'Ammonia' })).toBeVisible()
    await user.type(screen.getByRole('textbox', { name: 'Find' }), 'top-up lifts')
    const line = screen.getByText(/^A top-up lifts the level/).parentElement!
    expect(line).toHaveTextContent('3 %')
    expect(line).toHaveTextContent('our estimate')
    expect(screen.queryByRole('heading', { name: 'Ammonia' })).toBeNull()
  })
})
