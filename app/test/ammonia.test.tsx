// Ammonia by two methods: the panel, the line on the round, the conflict, the binder, and the kit that was wrong.
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { instantOf, recordOf, documentsOf, type Entry, type KeeperRecord } from '@brinvo/core'
import { CupboardPage } from '../src/features/cupboard/CupboardPage.tsx'
import { RoundsPage } from '../src/features/rounds/RoundsPage.tsx'
import { VesselPage } from '../src/features/vessels/VesselPage.tsx'
import { AmmoniaPanel } from '../src/parts/AmmoniaPanel.tsx'
import { SideBySide } from '../src/parts/Compared.tsx'
import { demo, open, stored, ZONE } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(cleanup)
const HOUR = 3_600_000

let made = 0
const read = (hoursAgo: number, analyte: string, value: number, instrumentId?: string): Entry =>
  ({
    kind: 'reading',
    id: `own-${++made}`,
    at: instantOf(Date.now() - hoursAgo * HOUR),
    recordedAt: instantOf(Date.now() - hoursAgo * HOUR),
    zone: ZONE,
    vesselId: 'holding-a',
    analyte,
    value,
    unit: 'mg/L',
    bound: 'exact',
    ...(instrumentId === undefined ? {} : { instrumentId }),
  }) as Entry
/** The demonstration with a photometer for ammonia beside the drop test and the badge. */
function withReadings(...entries: Entry[]): KeeperRecord {
  const record = demo()
  return recordOf(
    record.settings,
    [
      ...documentsOf(record),
      {
        register: 'instrument',
        id: 'ammonia-photometer',
        revision: 1,
        savedAt: instantOf(Date.now()),
        history: [],
        body: {
          name: 'Ammonia photometer',
          analyte: 'ammonia-total',
          method: 'photometer',
          step: 0.01,
          relativeError: 0.05,
        },
      },
    ],
    [...record.entries, ...entries],
  )
}
const apart = () => [
  read(0.02, 'ph', 8.2),
  read(0.02, 'ammonia-total', 1.5, 'ammonia-drops'),
  read(0.01, 'ammonia-free', 0.02, 'ammonia-badge'),
]
const panel = { route: '/', at: '/' }

describe('the panel of a vessel', () => {
  test('says why it is watched and until when, which days were missed, and what is missing now', async () => {
    await open(<AmmoniaPanel vesselId="holding-a" />, panel)
    expect(await screen.findByRole('heading', { name: /Both methods every day until/ })).toBeInTheDocument()
    expect(screen.getByText(/Copper slows the bacteria of the filter.*of 14/)).toBeInTheDocument()
    const week = screen.getByRole('list', { name: /last seven days/ })
    expect(within(week).getAllByLabelText('drop test read').length).toBeGreaterThanOrEqual(6)
    expect(within(week).getAllByLabelText('badge not read').length).toBeGreaterThanOrEqual(1)
    expect(screen.getByText('Temperature was read', { exact: false })).toBeInTheDocument()
  })

  test('two that do not agree: the higher one is acted on, without a binder, and the working opens', async () => {
    const user = await open(<AmmoniaPanel vesselId="holding-a" />, { ...panel, record: withReadings(...apart()) })
    expect(
      await screen.findByRole('heading', { level: 2, name: /Ammonia: change half within two hours/ }),
    ).toBeInTheDocument()
    expect(screen.getByText(/They do not agree. Act on the higher one/)).toBeInTheDocument()
    expect(screen.getByText('No binder: copper may be in this water.')).toBeInTheDocument()
    await user.click(screen.getByRole('button', { name: 'Working of the free ammonia' }))
    const working = await screen.findByRole('dialog')
    expect(working).toHaveTextContent(/the larger counts/)
    expect(within(working).getByRole('row', { name: /Ammonia badge/ })).toHaveTextContent(/read 0.02 mg\/L/)
  })

  test('a vessel in which nothing asks for it and nobody read it shows nothing', async () => {
    await open(<AmmoniaPanel vesselId="tub" />, panel)
    expect(screen.queryByRole('region', { name: 'Ammonia' })).not.toBeInTheDocument()
  })
})

test('the round asks for the badge where the course asks for the drop test only', async () => {
  await open(<RoundsPage />, panel)
  const lines = await screen.findAllByRole('heading', { level: 2, name: /Ammonia by (drop test and by )?badge/ })
  expect(lines.length).toBeGreaterThanOrEqual(1)
  cleanup()
  await open(<RoundsPage />, { ...panel, record: withReadings(...apart()) })
  // Danger stands over what is only due, with the press that says it was done.
  const now = await screen.findByRole('alert', { name: 'Act on this now' })
  expect(now).toHaveTextContent(/Ammonia in Holding A: change half within two hours/)
  expect(within(now).getByRole('button', { name: /Log the change of 50 %/ })).toBeInTheDocument()
  expect(screen.getByRole('heading', { level: 1 })).toHaveTextContent(/things? to act on now/)
  expect(screen.getByText(/Two instruments in Holding A do not agree/)).toBeInTheDocument()
})

test('a fish that breathes too fast: its ammonia can be entered from where it is told, on the vessel’s page too', async () => {
  const user = await open(<VesselPage />, { route: '/vessels/:id', at: '/vessels/holding-b' })
  const now = await screen.findByRole('alert', { name: 'Act on this now' })
  expect(now).toHaveTextContent(/breathes too fast: ?156 a minute in Holding B/)
  await user.click(within(now).getByRole('button', { name: 'Enter total ammonia' }))
  expect(await screen.findByRole('dialog')).toHaveTextContent(/ammonia/i)
  cleanup()
  await open(<VesselPage />, { route: '/vessels/:id', at: '/vessels/tub' })
  await screen.findByRole('heading', { level: 1 })
  expect(screen.queryByRole('alert', { name: 'Act on this now' })).not.toBeInTheDocument()
})

test('a third reading names the kit that was wrong; the cupboard says so until it is checked', async () => {
  const record = withReadings(...apart(), read(0.005, 'ammonia-total', 1.4, 'ammonia-photometer'))
  await open(<SideBySide vesselId="holding-a" />, { ...panel, record })
  expect(await screen.findByRole('heading', { name: /Free ammonia by 3 instruments/ })).toBeInTheDocument()
  expect(screen.getByText(/Not to be trusted until it is checked: Ammonia badge/)).toBeInTheDocument()
  cleanup()
  const user = await open(<CupboardPage />, { ...panel, record })
  const row = (await screen.findByText('Ammonia badge')).closest('li')!
  expect(row).toHaveTextContent(/A third reading of free ammonia spoke against it/)
  await user.click(within(row).getByRole('button', { name: 'Check or calibrate Ammonia badge' }))
  await user.click(await screen.findByRole('button', { name: 'Save' }))
  await waitFor(async () => expect((await stored()).instruments.get('ammonia-badge')!.body.checkedAt).toBeDefined())
  await waitFor(() => expect(row).not.toHaveTextContent(/spoke against it/))
})
