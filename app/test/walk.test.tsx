// The walk along twenty corals and an animal's life on its page.
import '@testing-library/jest-dom/jest-globals'
import { afterEach, expect, jest, test } from '@jest/globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { documentsOf, instantOf, recordOf, type Entry, type KeeperRecord } from '@brinvo/core'
import { WalkPage } from '../src/features/rounds/WalkPage.tsx'
import { ResidentPage } from '../src/features/vessels/ResidentPage.tsx'
import { demo, open, stored, ZONE } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(() => {
  cleanup()
  sessionStorage.clear()
})
const DAY = 86_400_000
const NAMES = Array.from({ length: 20 }, (_, i) => `Coral ${String.fromCharCode(65 + i)}`)
function reef(...entries: object[]): KeeperRecord {
  const base = demo()
  const since = instantOf(Date.now() - 30 * DAY)
  const corals = NAMES.map((name, i) => ({
    register: 'resident' as const,
    id: `coral-${i}`,
    revision: 1,
    savedAt: since,
    history: [],
    body: { name, commonName: 'a coral', group: 'hg-coral', count: 1, vesselId: 'longshore', arrivedAt: since },
  }))
  const documents = documentsOf(base).filter((one) => one.register !== 'resident' || one.body.vesselId !== 'longshore')
  const made = entries.map((fields, i) => {
    const { daysAgo = 1, ...rest } = fields as { daysAgo?: number }
    const at = instantOf(Date.now() - daysAgo * DAY)
    return { id: `own-${i}`, at, recordedAt: at, zone: ZONE, vesselId: 'longshore', ...rest } as unknown as Entry
  })
  return recordOf(base.settings, [...documents, ...corals], made)
}
const WELL = { colour: 2, tissue: 0, bare: 0, extension: 4, slime: 0 }
const walked = (daysAgo: number) =>
  NAMES.map((_, i) => ({ daysAgo, kind: 'state', residentId: `coral-${i}`, aspects: WELL }))
const walk = (record: KeeperRecord) => open(<WalkPage />, { record, route: '/walk/:vesselId', at: '/walk/longshore' })
const states = async () =>
  (await stored()).entries.flatMap((entry) => (entry.kind === 'state' ? [entry] : [])).slice(-20)

test('twenty corals, four of them changed, in far fewer than sixty presses; what is kept is what was pressed', async () => {
  const user = await walk(reef(...walked(7)))
  let presses = 0
  const press = async (element: HTMLElement) => {
    presses++
    await user.click(element)
  }
  expect(screen.getByText('0 of 20')).toBeInTheDocument()
  for (const [name, aspect, level] of [
    ['Coral A', 'Colour', 'pale'],
    ['Coral C', 'Colour', 'white'],
    ['Coral C', 'Tissue', 'receding'],
    ['Coral T', 'Slime', 'strings'],
  ] as const) {
    await press(screen.getByRole('button', { name: new RegExp(`^${aspect} .*, ${name}$`) }))
    await press(
      within(screen.getByRole('group', { name: `${aspect} of ${name}` })).getByRole('button', { name: level }),
    )
  }
  expect(screen.getByText('3 of 20')).toBeInTheDocument()
  await press(screen.getByRole('button', { name: 'The rest looked at: as before' }))
  await waitFor(async () =>
    expect((await states()).filter(({ at }) => Date.now() - Date.parse(at) < DAY)).toHaveLength(20),
  )
  const made = Object.fromEntries(
    (await states()).map(({ residentId, aspects, asBefore }) => [residentId, { ...aspects, asBefore }]),
  )
  expect(made['coral-0']).toEqual({ ...WELL, colour: 1, asBefore: undefined })
  expect(made['coral-2']).toEqual({ ...WELL, colour: 0, tissue: 2, asBefore: undefined })
  expect(made['coral-1']).toEqual({ ...WELL, asBefore: true })
  expect(presses).toBeLessThanOrEqual(60)
})
test('what is not looked at says nothing, and a reload loses no press', async () => {
  const record = reef(...walked(7))
  const user = await walk(record)
  await user.click(screen.getByRole('button', { name: 'As before: Coral B' }))
  cleanup()
  const again = await walk(record)
  expect(screen.getByText('1 of 20')).toBeInTheDocument()
  await again.click(screen.getByRole('button', { name: 'Note without 19 corals' }))
  await waitFor(async () =>
    expect((await stored()).entries.flatMap((entry) => (entry.kind === 'done' ? [entry.what] : []))).toContainEqual(
      'Walked along one coral, 19 not looked at',
    ),
  )
  const fresh = (await stored()).entries.filter(({ kind, at }) => kind === 'state' && Date.now() - Date.parse(at) < DAY)
  expect(fresh).toMatchObject([{ residentId: 'coral-1', asBefore: true }])
})
test('the sum names how many, since when and after what', async () => {
  await walk(
    reef(
      ...walked(20),
      { daysAgo: 10, kind: 'change', fraction: 0.5, entered: { value: 50, unit: '%' } },
      { daysAgo: 8, kind: 'state', residentId: 'coral-0', aspects: { colour: 1 } },
      { daysAgo: 8, kind: 'state', residentId: 'coral-3', aspects: { colour: 0 } },
    ),
  )
  const sum = screen.getByText('2 of 20 paler').closest('li')!
  expect(sum).toHaveTextContent(/Coral A, Coral D\. Since .*noted before that: .*Water change 50 %/)
})
test('a life on its page: where it lived, two of its days side by side, a turn in one press', async () => {
  const record = reef(
    { daysAgo: 20, kind: 'state', residentId: 'coral-0', aspects: { ...WELL, extension: 0 } },
    { daysAgo: 12, kind: 'move', residentId: 'coral-0', toVesselId: 'tub' },
    { daysAgo: 2, kind: 'state', vesselId: 'tub', residentId: 'coral-0', aspects: { ...WELL, extension: 3 } },
  )
  const user = await open(<ResidentPage />, { record, route: '/residents/:id', at: '/residents/coral-0' })
  expect(screen.getByRole('img', { name: /^Coral A since .*Lived in Longshore, then Tub\./ })).toBeInTheDocument()
  const beside = within(screen.getByRole('region', { name: 'Two days side by side' }))
  expect(beside.getByText('polyps shut')).toBeInTheDocument()
  expect(beside.getByText('polyps mostly out')).toBeInTheDocument()
  await user.click(screen.getByRole('button', { name: 'fell over' }))
  await waitFor(async () =>
    expect((await stored()).entries.at(-1)).toMatchObject({
      kind: 'note',
      mark: 'fell-over',
      residentId: 'coral-0',
      vesselId: 'tub',
    }),
  )
  expect(await screen.findByText('Coral A: fell over')).toBeInTheDocument()
})
