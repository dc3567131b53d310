// One bag by role: measured, looked over, refused, released; and the list that says where each stands.
import '@testing-library/jest-dom/jest-globals'
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import type { UserEvent } from '@testing-library/user-event'
import { activeEntries, containerEntries, documentsOf, recordOf, type KeeperRecord } from '@brinvo/core'
import { ArrivalPage } from '../src/features/arrivals/ArrivalPage.tsx'
import { ArrivalsPage } from '../src/features/arrivals/ArrivalsPage.tsx'
import { NewArrivalPage } from '../src/features/arrivals/ArrivalForm.tsx'
import { RoundsPage } from '../src/features/rounds/RoundsPage.tsx'
import { LiveRunPage } from '../src/features/arrivals/LiveRunPage.tsx'
import { demo, nothing, open, stored } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(cleanup)

const BOX = { route: '/arrivals/:id', at: '/arrivals/box-tonight' }
const RUN = { route: '/arrivals/:id/run', at: '/arrivals/box-tonight/run' }
const last = async (containerId: string) =>
  containerEntries(activeEntries((await stored()).entries), 'box-tonight', containerId).at(-1)
async function dialogOf(user: UserEvent, bag: string, button: string | RegExp) {
  await user.click(within(screen.getByRole('region', { name: bag })).getByRole('button', { name: button }))
  return await screen.findByRole('dialog')
}
/** The demonstration with its box as it came through the door: nothing done to any bag. */
function untouched(): KeeperRecord {
  const record = demo()
  return recordOf(
    record.settings,
    documentsOf(record),
    record.entries.filter(({ kind }) => kind !== 'container'),
  )
}

describe('the list', () => {
  test('says where each bag stands and what comes next', async () => {
    await open(<ArrivalsPage />)
    const shrimps = (await screen.findByText('Bag 3')).closest('li')!
    expect(shrimps).toHaveTextContent('6 × Cherry shrimp to Fernwater')
    expect(screen.getByRole('link', { name: 'To the tank' })).toHaveAttribute('href', '/arrivals/box-tonight/run')
  })
  test('with nothing on its way the first act stands there', async () => {
    await open(<ArrivalsPage />, { record: nothing() })
    expect(screen.getByRole('heading', { name: 'Nothing is on its way' })).toBeInTheDocument()
    expect(screen.getAllByRole('link', { name: 'Announce a delivery' })).toHaveLength(2)
  })
})

describe('measured', () => {
  test('what is left out stays open, and a fresh-water bag is measured by its conductivity', async () => {
    const user = await open(<ArrivalPage />, { record: untouched(), ...BOX })
    const dialog = await dialogOf(user, 'Bag 3', /^Measure/)
    expect(within(dialog).queryByRole('textbox', { name: /^Salinity/ })).toBeNull()
    await user.type(within(dialog).getByRole('textbox', { name: /^Conductivity/ }), '500')
    await user.click(within(dialog).getByRole('button', { name: 'Note it' }))
    await waitFor(async () =>
      expect(await last('bag-3')).toMatchObject({ act: 'measured', conductivityUs: 500, salinityPsu: 0.32 }),
    )
    expect(await last('bag-3')).not.toHaveProperty('tempC')
    expect(await last('bag-3')).not.toHaveProperty('phNbs')
  })
  test('a temperature typed in the other unit is turned into the record’s own', async () => {
    const user = await open(<ArrivalPage />, { record: untouched(), ...BOX })
    const dialog = await dialogOf(user, 'Bag 1', /^Measure/)
    await user.type(within(dialog).getByRole('textbox', { name: /^Temperature/ }), '75.2 °F')
    await user.click(within(dialog).getByRole('button', { name: 'Note it' }))
    await waitFor(async () => expect(await last('bag-1')).toMatchObject({ act: 'measured', tempC: 24 }))
  })
  test.each([
    [/^Temperature/, '77', /Is it °F/],
    [/^Salinity/, '-2', /cannot be below 0 ppt/],
    [/^Total ammonia/, '250', /beyond any kit/],
    [/^Water in the bag/, '900', /at most 500 L/],
  ])('%p %s is answered, and nothing is noted', async (field, text, sentence) => {
    const user = await open(<ArrivalPage />, { record: untouched(), ...BOX })
    const dialog = await dialogOf(user, 'Bag 1', /^Measure/)
    await user.type(within(dialog).getByRole('textbox', { name: field }), text)
    await user.click(within(dialog).getByRole('button', { name: 'Note it' }))
    expect(dialog).toHaveTextContent(sentence)
    expect(within(dialog).getByRole('textbox', { name: field })).toHaveValue(text)
    expect(await last('bag-1')).toBeUndefined()
  })
  test('foul water alone is worth noting', async () => {
    const user = await open(<ArrivalPage />, { record: untouched(), ...BOX })
    const dialog = await dialogOf(user, 'Bag 2', /^Measure/)
    await user.click(within(dialog).getByText(/^Fouled/))
    await user.click(within(dialog).getByRole('button', { name: 'Note it' }))
    await waitFor(async () => expect(await last('bag-2')).toMatchObject({ act: 'measured', fouled: true }))
  })
})

test('on the round stand the bags that wait, with their hours, and no bag that is in the water', async () => {
  const record = untouched()
  const box = record.arrivals.get('box-tonight')!
  const packedAt = new Date(Date.now() - 13.5 * 3_600_000).toISOString()
  const documents = documentsOf(record).map((document) =>
    document.id === 'box-tonight'
      ? {
          ...box,
          body: { ...box.body, packedAt, containers: box.body.containers.map((bag) => ({ ...bag, packedAt })) },
        }
      : document,
  )
  const moved = {
    kind: 'container' as const,
    id: 'moved-bag-2',
    at: new Date().toISOString(),
    recordedAt: new Date().toISOString(),
    zone: 'Europe/Berlin',
    arrivalId: 'box-tonight',
    containerId: 'bag-2',
    act: 'move' as const,
  }
  await open(<RoundsPage />, {
    record: recordOf(record.settings, documents as never, [...record.entries, moved as never]),
  })
  const deliveries = await screen.findByRole('region', { name: 'Deliveries' })
  expect(deliveries).toHaveTextContent('13 h in the bag')
  expect(deliveries).toHaveTextContent('Bag 1')
  expect(deliveries).not.toHaveTextContent('Bag 2')
})

describe('looked over', () => {
  const answer = async (user: UserEvent, dialog: HTMLElement, look: string | RegExp, word: string) => {
    await user.click(within(within(dialog).getByRole('radiogroup', { name: look })).getByText(word))
  }
  test('the verdict follows the worst look, and may be overruled', async () => {
    const user = await open(<ArrivalPage />, { record: untouched(), ...BOX })
    const dialog = await dialogOf(user, 'Bag 2', /^Look/)
    const verdict = within(dialog).getByRole('radiogroup', { name: 'Verdict' })
    const chosen = () =>
      within(verdict)
        .getAllByRole('radio')
        .findIndex((radio) => (radio as HTMLInputElement).checked)
    // Nothing was looked at yet: no verdict, and none to note.
    expect(chosen()).toBe(-1)
    expect(within(dialog).getByRole('button', { name: 'Note it' })).toBeDisabled()
    await answer(user, dialog, 'Mouth', 'Good')
    expect(chosen()).toBe(-1)
    await answer(user, dialog, 'Mouth', 'Doubtful')
    expect(chosen()).toBe(1)
    await answer(user, dialog, 'Foot', 'Bad')
    expect(chosen()).toBe(2)
    expect(dialog).toHaveTextContent(/never released into the wild/)
    await user.click(within(dialog).getByRole('button', { name: 'The rest is good' }))
    expect(chosen()).toBe(2)
    await user.click(within(verdict).getByText('Hold it alone'))
    await user.click(within(dialog).getByRole('button', { name: 'Note it' }))
    await waitFor(async () => expect(await last('bag-2')).toMatchObject({ act: 'inspected', verdict: 'hold' }))
    expect((await last('bag-2'))!.looks).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ look: 'mouth', answer: 'doubtful' }),
        expect.objectContaining({ look: 'foot', answer: 'bad' }),
        expect.objectContaining({ look: 'colour', answer: 'good' }),
      ]),
    )
  })
})

describe('released', () => {
  const release = async (user: UserEvent) => {
    await user.click(await screen.findByRole('button', { name: 'Looked' }))
    await screen.findByRole('button', { name: 'Bag is open' })
    await user.click(screen.getByRole('button', { name: 'Stop and move now' }))
    return await screen.findByRole('dialog')
  }
  test.each([
    [/How many went in/, '0', /whole number, at least 1/],
    [/How many went in/, '1.5', /whole number, at least 1/],
    [/Your name for it/, ' ', /What will you call it/],
    [/Light it is to live in/, '5000', /10 to 800/],
  ])('%p %p is answered, and nobody moves', async (field, text, sentence) => {
    const user = await open(<LiveRunPage />, { record: demo(), ...RUN })
    const dialog = await release(user)
    const box = within(dialog).getByRole('textbox', { name: field })
    await user.clear(box)
    await user.type(box, text)
    await user.click(within(dialog).getByRole('button', { name: 'It is in the water' }))
    expect(await within(dialog).findByRole('alert')).toHaveTextContent(sentence)
    expect([...(await stored()).residents.values()].filter(({ body }) => body.arrivalId === 'box-tonight')).toEqual([])
    expect(await last('bag-2')).not.toMatchObject({ act: 'move' })
  })
  test('what is unticked does not come', async () => {
    const user = await open(<LiveRunPage />, { record: demo(), ...RUN })
    const dialog = await release(user)
    await user.click(within(dialog).getByText('Light in steps'))
    expect(within(dialog).queryByRole('textbox', { name: /Light it is to live in/ })).toBeNull()
    // An intake counts its days in that vessel: one press is not enough.
    expect(within(dialog).getByRole('button', { name: 'It is in the water' })).toBeDisabled()
    expect(dialog).toHaveTextContent(/comes in wet, and the days of all that is in there begin anew/)
    await user.click(within(dialog).getByText('Yes, it is really so.'))
    await user.click(within(dialog).getByRole('button', { name: 'It is in the water' }))
    await waitFor(async () => expect(await last('bag-2')).toMatchObject({ act: 'move' }))
    expect(
      [...(await stored()).courses.values()]
        .filter(({ id, body }) => body.vesselId === 'tub' && !['intake-tub', 'slugs-tub'].includes(id))
        .map(({ body }) => body.protocolId),
    ).toEqual(['settle-anemone'])
  })
})

describe('announced', () => {
  test('two bags of one delivery, each with its own vessel', async () => {
    const user = await open(<NewArrivalPage />, { record: demo(), route: '/arrivals/new' })
    await user.type(screen.getByRole('textbox', { name: 'Name' }), 'Two bags')
    await user.selectOptions(screen.getByRole('combobox', { name: 'Kind' }), 'chromis-viridis')
    await user.click(screen.getByRole('button', { name: 'Another bag' }))
    const kinds = screen.getAllByRole('combobox', { name: 'Kind' })
    expect(kinds).toHaveLength(2)
    expect(kinds[0]).toHaveValue('chromis-viridis')
    await user.selectOptions(kinds[1]!, 'neocaridina-davidi')
    // The kind stays chosen where it can live, and goes where it cannot.
    await user.selectOptions(screen.getAllByRole('combobox', { name: 'Goes to' })[0]!, 'holding-a')
    expect(screen.getAllByRole('combobox', { name: 'Kind' })[0]).toHaveValue('chromis-viridis')
    await user.selectOptions(screen.getAllByRole('combobox', { name: 'Goes to' })[1]!, 'fernwater')
    await user.click(screen.getByRole('button', { name: 'Note the delivery' }))
    await waitFor(async () => expect((await stored()).arrivals.size).toBe(2))
    const two = [...(await stored()).arrivals.values()].find(({ body }) => body.name === 'Two bags')!
    expect(two.body.containers.map(({ group, vesselId }) => [group, vesselId])).toEqual([
      ['hg-clown-damsel', expect.any(String)],
      ['hg-shrimp', 'fernwater'],
    ])
  })
})
