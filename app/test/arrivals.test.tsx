// Arrivals by role: the comparison, the run at the tank under a controlled clock, pictures and the zip they travel in.
import '@testing-library/jest-dom/jest-globals'
import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { containerEntries, activeEntries, type Container } from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { bundle, unbundle } from '../src/data/bundle.ts'
import { fitted, keptPicture, photosOf } from '../src/data/photos.ts'
import { ArrivalPage } from '../src/features/arrivals/ArrivalPage.tsx'
import { NewArrivalPage } from '../src/features/arrivals/ArrivalForm.tsx'
import { ComparePage } from '../src/features/arrivals/ComparePage.tsx'
import { IntroducePage } from '../src/features/arrivals/IntroducePage.tsx'
import { LiveRunPage } from '../src/features/arrivals/LiveRunPage.tsx'
import { clockText } from '../src/features/arrivals/words.ts'
import { ConflictLog } from '../src/parts/ConflictLog.tsx'
import { demo, nothing, open, stored, ZONE } from './harness.tsx'

afterEach(cleanup)
// The worker's code runs in line here.
jest.setTimeout(40_000)

const at = (path: string) => ({ route: path.replace('box-tonight', ':id').replace('bag-1', ':containerId'), at: path })
const boxEntries = async (containerId: string) =>
  containerEntries(activeEntries((await stored()).entries), 'box-tonight', containerId)

describe('a delivery', () => {
  test('is announced bag by bag; what cannot be is said and nothing typed is lost', async () => {
    const user = await open(<NewArrivalPage />, { record: demo(), route: '/arrivals/new' })
    await user.type(screen.getByRole('textbox', { name: 'Name' }), 'Tuesday box')
    await user.clear(screen.getByRole('textbox', { name: 'How many' }))
    await user.type(screen.getByRole('textbox', { name: 'How many' }), '0')
    await user.click(screen.getByRole('button', { name: 'Note the delivery' }))
    expect(await screen.findByRole('alert')).toHaveTextContent(/at least 1/)
    expect(screen.getByRole('textbox', { name: 'Name' })).toHaveValue('Tuesday box')
    await user.clear(screen.getByRole('textbox', { name: 'How many' }))
    await user.type(screen.getByRole('textbox', { name: 'How many' }), '3')
    await user.selectOptions(screen.getByRole('combobox', { name: 'Kind' }), 'chromis-viridis')
    await user.click(screen.getByRole('button', { name: 'Note the delivery' }))
    await waitFor(async () => expect((await stored()).arrivals.size).toBe(2))
    const arrival = [...(await stored()).arrivals.values()].find(({ body }) => body.name === 'Tuesday box')!
    expect(arrival.body.containers[0] as Container).toMatchObject({
      count: 3,
      commonName: 'Green chromis',
      group: 'hg-clown-damsel',
    })
  })
  test('a pH of 70 is answered at the field, a sound one is kept', async () => {
    const user = await open(<ArrivalPage />, at('/arrivals/box-tonight'))
    // It came already: nobody is asked again whether it is here.
    expect(screen.queryByRole('button', { name: 'It is here' })).toBeNull()
    const bag = screen.getByRole('region', { name: 'Bag 1' })
    await user.click(within(bag).getByRole('button', { name: 'Measure again' }))
    const dialog = await screen.findByRole('dialog')
    await user.type(within(dialog).getByRole('textbox', { name: /^pH/ }), '70')
    expect(await within(dialog).findByRole('alert')).toHaveTextContent(/between 4 and 10.5/)
    await user.clear(within(dialog).getByRole('textbox', { name: /^pH/ }))
    await user.type(within(dialog).getByRole('textbox', { name: /^pH/ }), '7.3')
    await user.click(within(dialog).getByRole('button', { name: 'Note it' }))
    await waitFor(async () => expect((await boxEntries('bag-1')).at(-1)).toMatchObject({ act: 'measured', phNbs: 7.3 }))
  })
  test('a bag is refused with its reason', async () => {
    const user = await open(<ArrivalPage />, at('/arrivals/box-tonight'))
    const bag = screen.getByRole('region', { name: 'Bag 1' })
    await user.click(within(bag).getByRole('button', { name: 'Refuse or return' }))
    const dialog = await screen.findByRole('dialog')
    await user.click(within(dialog).getByRole('button', { name: 'Note it' }))
    expect(within(dialog).getByText(/A few words/)).toBeInTheDocument()
    await user.click(within(dialog).getByText('Returned'))
    await user.type(within(dialog).getByRole('textbox', { name: 'Why' }), 'not what was ordered')
    await user.click(within(dialog).getByRole('button', { name: 'Note it' }))
    expect(await screen.findByText('not what was ordered')).toBeInTheDocument()
  })
})

describe('the comparison', () => {
  const route = { route: '/arrivals/:id/:containerId', at: '/arrivals/box-tonight/bag-1' }
  test('names one method with its deciding number, refuses the drip with the hours, and keeps the choice', async () => {
    const user = await open(<ComparePage />, route)
    expect(await screen.findByRole('heading', { level: 1, name: 'Float, then move' })).toBeInTheDocument()
    expect(screen.getAllByText(/26 h in the bag and fouled water/).length).toBeGreaterThanOrEqual(2)
    expect(await screen.findByText(/If it took two days/)).toBeInTheDocument()
    await user.click(screen.getByRole('button', { name: 'Use it and go to the tank' }))
    await waitFor(async () =>
      expect((await boxEntries('bag-1')).at(-1)).toMatchObject({ act: 'method', method: 'float-and-move' }),
    )
  })
  test('other numbers can be tried without being noted', async () => {
    const user = await open(<ComparePage />, route)
    await screen.findByRole('heading', { level: 1, name: 'Float, then move' })
    await user.click(screen.getByText(/can be brought to the bag/))
    expect(await screen.findByText('Trying other numbers')).toBeInTheDocument()
    const before = (await stored()).entries.length
    await user.click(screen.getByRole('button', { name: 'Back to the record' }))
    expect(screen.getByText('The bag, as far as it is known')).toBeInTheDocument()
    expect((await stored()).entries).toHaveLength(before)
  })
})

describe('the run at the tank', () => {
  const NOW = Date.parse('2026-11-23T18:20:00Z')
  let now = NOW
  beforeEach(() => {
    now = NOW
    jest.spyOn(Date, 'now').mockImplementation(() => now)
  })
  afterEach(() => {
    jest.restoreAllMocks()
  })
  const record = () => demoRecord({ seed: 7, anchorMs: NOW, zone: ZONE })
  const route = { route: '/arrivals/:id/run', at: '/arrivals/box-tonight/run' }

  test('shows the next act of the most urgent bag, and counts from when things were pressed', async () => {
    const user = await open(<LiveRunPage />, { record: record(), ...route })
    // The drip of the shrimp wants its quarter-hourly look before anything else.
    expect(await screen.findByRole('heading', { level: 1, name: 'Check the drip and the animal' })).toBeInTheDocument()
    await user.click(screen.getByRole('button', { name: 'Looked' }))
    await waitFor(async () => expect((await boxEntries('bag-3')).at(-1)).toMatchObject({ act: 'look' }))
    expect(await screen.findByRole('heading', { level: 1, name: 'Open the bag' })).toBeInTheDocument()
    const clock = screen.getByLabelText('in')
    const first = clock.textContent
    now += 61_000
    await waitFor(() => expect(screen.getByLabelText('in').textContent).not.toBe(first), { timeout: 3000 })
    // Seven minutes afloat, and a minute and a second more.
    expect(screen.getByText(/since 19:13, 08:0[12]/)).toBeInTheDocument()
  })
  test('one press goes on; an hour away is told for what it means', async () => {
    const user = await open(<LiveRunPage />, { record: record(), ...route })
    await user.click(await screen.findByRole('button', { name: 'Looked' }))
    await user.click(await screen.findByRole('button', { name: 'Bag is open' }))
    await waitFor(async () => expect((await boxEntries('bag-2')).at(-1)).toMatchObject({ act: 'open' }))
    expect(await screen.findByRole('heading', { level: 1, name: 'Move the animal' })).toBeInTheDocument()
    now += 60 * 60_000
    expect(await screen.findByText(/has stood open for 60 min/)).toBeInTheDocument()
  })
  test('a clock set back is said, and what was pressed keeps its time', async () => {
    now = NOW - 20 * 60_000
    await open(<LiveRunPage />, { record: record(), ...route })
    expect(await screen.findByText(/clock was set back by about 13 min/)).toBeInTheDocument()
  })
  test('into the water: a resident, its first looks and the flow of an anemone, in one press', async () => {
    const user = await open(<LiveRunPage />, { record: record(), ...route })
    await user.click(await screen.findByRole('button', { name: 'Looked' }))
    await screen.findByRole('button', { name: 'Bag is open' })
    await user.click(screen.getByRole('button', { name: 'Stop and move now' }))
    const dialog = await screen.findByRole('dialog')
    expect(dialog).toHaveTextContent(/Earlier than planned/)
    expect(within(dialog).getByRole('textbox', { name: /Light it is to live in/ })).toHaveValue('200')
    await user.click(within(dialog).getByText('Yes, it is really so.'))
    await user.click(within(dialog).getByRole('button', { name: 'It is in the water' }))
    await waitFor(async () => expect((await boxEntries('bag-2')).at(-1)).toMatchObject({ act: 'move' }))
    const after = await stored()
    const anemone = [...after.residents.values()].find(({ body }) => body.arrivalId === 'box-tonight')!
    expect(anemone.body).toMatchObject({ vesselId: 'tub', group: 'hg-anemone', transitHours: 5 })
    const courses = [...after.courses.values()]
      .filter(({ id, body }) => body.vesselId === 'tub' && !['intake-tub', 'slugs-tub'].includes(id))
      .map(({ body }) => body.protocolId)
    expect(courses.sort()).toEqual(['light-steps', 'settle-anemone'])
    const light = [...after.courses.values()].find(({ body }) => body.protocolId === 'light-steps')!
    expect(light.body.parameters).toEqual({ 'start-par': 130, 'target-par': 200 })
  })
})

describe('introductions', () => {
  test('two rivals that are both new are sent to neutral ground', async () => {
    const user = await open(<IntroducePage />, { route: '/arrivals/introduce' })
    await user.click(screen.getByText('Larger clown'))
    await user.click(screen.getByText('Smaller clown'))
    expect(screen.getByRole('heading', { name: 'Neutral tank together' })).toBeInTheDocument()
    await user.click(screen.getByRole('button', { name: 'Start it' }))
    // Without the tank that belongs to neither it does not start.
    expect([...(await stored()).courses.values()].map(({ body }) => body.protocolId)).not.toContain('introduce-neutral')
    await user.selectOptions(screen.getByRole('combobox', { name: 'Neutral tank' }), 'holding-b')
    await user.click(screen.getByRole('button', { name: 'Start it' }))
    await waitFor(async () =>
      expect([...(await stored()).courses.values()].map(({ body }) => body.protocolId)).toContain('introduce-neutral'),
    )
  })
  test('ten minutes of chases are noted with who and whom', async () => {
    const user = await open(<ConflictLog vesselId="holding-a" courseId="copper-holding-a" sinceMs={0} />)
    await user.selectOptions(screen.getByRole('combobox', { name: 'Who chases' }), 'azure-damsel')
    for (let i = 0; i < 11; i++) await user.click(screen.getByRole('button', { name: 'Chases in 10 min: more' }))
    await user.click(screen.getByRole('button', { name: 'Note the ten minutes' }))
    await waitFor(async () =>
      expect(
        (await stored()).entries.find((entry) => entry.kind === 'count' && entry.what === 'chases-10min'),
      ).toMatchObject({
        what: 'chases-10min',
        count: 11,
        byResidentId: 'azure-damsel',
      }),
    )
    expect(await screen.findByText(/11 chases in ten minutes: more than ten/)).toBeInTheDocument()
  })
})

describe('pictures', () => {
  test('are scaled to the longest side, never enlarged', () => {
    expect(fitted(8000, 6000)).toEqual({ width: 1600, height: 1200 })
    expect(fitted(600, 900)).toEqual({ width: 600, height: 900 })
    expect(fitted(1, 90_000)).toEqual({ width: 1, height: 1600 })
  })
  test('what is no picture is refused with a sentence', async () => {
    await expect(keptPicture(new Blob(['x'], { type: 'text/plain' }), false)).rejects.toThrow(/not a picture/)
    await expect(keptPicture(new Blob(['x'], { type: 'image/png' }), false)).rejects.toThrow(/cannot read that picture/)
  })
  test('travel with the record in one zip and come back byte for byte', async () => {
    const store = photosOf('keeper')
    await store.clear()
    await store.put('photo-1', new Blob([new Uint8Array([1, 2, 3, 250])], { type: 'image/png' }))
    const zip = await bundle('{"hello":1}', store)
    const opened = await unbundle(new File([zip], 'record.zip'))
    expect(opened.text).toBe('{"hello":1}')
    expect(new Uint8Array(await opened.photos.get('photo-1')!.arrayBuffer())).toEqual(new Uint8Array([1, 2, 3, 250]))
    await expect(unbundle(new File(['PK\u0003\u0004broken'], 'x.zip'))).rejects.toThrow(/cannot be opened|no record/)
    expect((await unbundle(new File(['{}'], 'x.json'))).text).toBe('{}')
  })
})

test('a run of hours is told in hours, one of minutes in minutes', () => {
  expect(clockText(161)).toBe('02:41')
  expect(clockText(-3725)).toBe('1:02:05')
  expect(nothing().arrivals.size).toBe(0)
})
