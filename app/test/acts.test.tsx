// Every dialog in its three states: fine, asked, refused; the words of an override are kept with what they let through.
import '@testing-library/jest-dom/jest-globals'
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react'
import {
  documentsOf,
  instantOf,
  newCourseBody,
  protocolOf,
  recordOf,
  type CourseDocument,
  type Entry,
  type KeeperRecord,
} from '@brinvo/core'
import { LiveRunPage } from '../src/features/arrivals/LiveRunPage.tsx'
import { BathPage } from '../src/features/courses/BathPage.tsx'
import { NewCoursePage } from '../src/features/courses/NewCoursePage.tsx'
import { SpotPage } from '../src/features/courses/SpotPage.tsx'
import { TransferPage } from '../src/features/courses/TransferPage.tsx'
import { CupboardPage } from '../src/features/cupboard/CupboardPage.tsx'
import { LogDialog } from '../src/features/log/LogDialog.tsx'
import { NewVesselPage } from '../src/features/vessels/VesselForm.tsx'
import { VesselPage } from '../src/features/vessels/VesselPage.tsx'
import { demo, nothing, open, stored, ZONE } from './harness.tsx'

jest.setTimeout(90_000)
afterEach(cleanup)

const HOUR = 3_600_000
const WORDS = 'There is no other water in the house tonight'
const against = (within_: ReturnType<typeof within> | typeof screen = screen) =>
  within_.findByRole('group', { name: 'What speaks against this' })
const overrides = async () => (await stored()).entries.filter(({ kind }) => kind === 'override')

/** The demonstration with something that happened an hour ago. */
function after(...fields: object[]): KeeperRecord {
  const record = demo()
  const at = instantOf(Date.now() - HOUR)
  const made = fields.map((one, i) => ({ id: `own-${i}`, at, recordedAt: at, zone: ZONE, ...one }) as unknown as Entry)
  return recordOf(record.settings, documentsOf(record), [...record.entries, ...made])
}
/** As the demonstration, with a course of its own begun an hour ago. */
function withCourse(protocolId: string, vesselId: string, residents: string[], products: Record<string, string>) {
  const record = demo()
  const startMs = Date.now() - HOUR
  const course: CourseDocument = {
    register: 'course',
    id: 'mine',
    revision: 1,
    savedAt: instantOf(startMs),
    history: [],
    body: newCourseBody({
      protocol: protocolOf(protocolId)!,
      vesselId,
      startMs,
      zone: ZONE,
      residents,
      products,
    }),
  }
  return recordOf(record.settings, [...documentsOf(record), course], record.entries)
}
const logging = (preset: object, record?: KeeperRecord) =>
  open(<LogDialog preset={preset} onClose={() => undefined} />, record ? { record } : {})

describe('the log', () => {
  test('one line is offered where fields can be filled by it: not for a note, not while one is corrected', async () => {
    const line = () => screen.queryByRole('textbox', { name: 'Or type one line' })
    await logging({ kind: 'reading', vesselId: 'holding-b' })
    expect(await screen.findByRole('textbox', { name: 'Or type one line' })).toHaveAttribute(
      'placeholder',
      expect.stringMatching(/^Holding B temperature/),
    )
    cleanup()
    await logging({ kind: 'note', vesselId: 'holding-b' })
    await screen.findByRole('dialog')
    expect(line()).toBeNull()
  })
  test('a dose: fine as planned; over the maximum blocked until it is worded, and the words are kept', async () => {
    const user = await logging({ kind: 'dose', vesselId: 'holding-a' })
    const dialog = within(await screen.findByRole('dialog'))
    const poured = dialog.getByRole('textbox', { name: /^Poured/ })
    await user.type(poured, '0,4')
    await waitFor(() => expect(dialog.getByRole('button', { name: 'Save' })).toBeEnabled())
    await user.clear(poured)
    await user.type(poured, '9')
    expect(await against(dialog)).toHaveTextContent(/hard maximum of 2\.8/)
    expect(dialog.getByRole('button', { name: 'Save' })).toBeDisabled()
    await user.type(dialog.getByRole('textbox', { name: /write why/ }), 'short')
    expect(dialog.getByRole('button', { name: 'Save' })).toBeDisabled()
    await user.clear(dialog.getByRole('textbox', { name: /write why/ }))
    await user.type(dialog.getByRole('textbox', { name: /write why/ }), WORDS)
    await user.click(dialog.getByRole('button', { name: 'Save' }))
    await waitFor(async () => expect(await overrides()).toMatchObject([{ rule: 'safe-ceiling', words: WORDS }]))
  })
  test('a move: nothing is chosen beforehand, and copper speaks for the shrimp', async () => {
    const user = await logging({ kind: 'move', vesselId: 'longshore' })
    const dialog = within(await screen.findByRole('dialog'))
    await user.selectOptions(dialog.getByRole('combobox', { name: 'Who moves' }), 'Cleaner shrimp')
    await user.click(dialog.getByRole('button', { name: 'Save' }))
    expect((await stored()).entries.filter(({ kind }) => kind === 'move')).toHaveLength(
      demo().entries.filter(({ kind }) => kind === 'move').length,
    )
    await user.selectOptions(dialog.getByRole('combobox', { name: 'To' }), 'Holding A')
    expect(await against(dialog)).toHaveTextContent(/copper/i)
    expect(dialog.getByRole('button', { name: 'Save' })).toBeDisabled()
    await user.selectOptions(dialog.getByRole('combobox', { name: 'To' }), 'Tub')
    await waitFor(() => expect(dialog.getByRole('button', { name: 'Save' })).toBeEnabled())
  })
  test('a reading far outside what water can hold is asked about and kept as typed', async () => {
    const user = await logging({ kind: 'reading', vesselId: 'longshore', analyte: 'alkalinity' })
    const dialog = within(await screen.findByRole('dialog'))
    await user.type(dialog.getByRole('textbox', { name: /^Alkalinity/ }), '25')
    expect(await against(dialog)).toHaveTextContent(/25/)
    expect(dialog.getByRole('button', { name: 'Save' })).toBeDisabled()
    expect(dialog.getByRole('textbox', { name: /^Alkalinity/ })).toHaveValue('25')
  })
})

describe('what is registered', () => {
  test('a height in millimetres is asked about, and answered', async () => {
    const user = await open(<NewVesselPage />, { record: nothing() })
    await user.type(screen.getByRole('textbox', { name: 'Name' }), 'Holding C')
    for (const [side, cm] of [
      [/^Length/, '60'],
      [/^Width/, '36'],
      [/^Height/, '560'],
    ] as const) {
      await user.clear(screen.getByRole('textbox', { name: side }))
      await user.type(screen.getByRole('textbox', { name: side }), cm)
    }
    expect(await against()).toHaveTextContent(/Please look again/)
    expect(screen.getByRole('button', { name: 'Put it on the shelf' })).toBeDisabled()
    await user.click(screen.getByText('Yes, it is really so.'))
    await waitFor(() => expect(screen.getByRole('button', { name: 'Put it on the shelf' })).toBeEnabled())
  })
  test('a strength a hundred times over its labels is asked about, and saved on the word', async () => {
    const user = await open(<CupboardPage />, { record: nothing() })
    await user.click(screen.getByRole('button', { name: 'Register a bottle' }))
    const dialog = within(await screen.findByRole('dialog'))
    await user.type(dialog.getByRole('textbox', { name: 'Name' }), 'Copper')
    await user.selectOptions(dialog.getByRole('combobox', { name: /Form/ }), 'copper-ionic')
    await user.type(dialog.getByRole('textbox', { name: /^Strength/ }), '1250')
    expect(await against(dialog)).toHaveTextContent(/1250/)
    expect(dialog.getByRole('button', { name: 'Save' })).toBeDisabled()
    await user.click(dialog.getByText('Yes, it is really so.'))
    await user.click(dialog.getByRole('button', { name: 'Save' }))
    await waitFor(async () => expect([...(await stored()).products.values()]).toHaveLength(1))
  })
  test('a shrimp is not registered into copper by a slip', async () => {
    const user = await open(<VesselPage />, { route: '/vessels/:id', at: '/vessels/holding-a' })
    await user.click(await screen.findByRole('button', { name: 'Add' }))
    const dialog = within(await screen.findByRole('dialog'))
    const kinds = dialog.getByRole('combobox', { name: 'Kind' })
    const shrimp = within(kinds)
      .getAllByRole('option')
      .find(({ textContent }) => /cleaner shrimp/i.test(textContent))!
    await user.selectOptions(kinds, shrimp)
    expect(await against(dialog)).toHaveTextContent(/copper/i)
    expect(dialog.getByRole('button', { name: 'Add' })).toBeDisabled()
  })
})

describe('on a course', () => {
  test('a start into water that holds what may not meet it is blocked', async () => {
    await open(<NewCoursePage />, {
      route: '/courses/new',
      at: '/courses/new?protocol=hyposalinity-30&vessel=holding-a',
    })
    expect((await screen.findAllByText(/^(Blocked|Refused)/)).length).toBeGreaterThan(0)
    expect((await against()).textContent).toMatch(/copper/i)
    expect(screen.getByRole('button', { name: 'Start the course' })).toBeDisabled()
  })
  test('a second bath on one day is held up by the first', async () => {
    const record = withCourse('peroxide-bath-twice', 'holding-a', ['clown-large'], { peroxide: 'peroxide-bath-3' })
    const bath = (id: string, minutesAgo: number, fields: object) => {
      const at = instantOf(Date.now() - minutesAgo * 60_000)
      return {
        id,
        at,
        recordedAt: at,
        zone: ZONE,
        kind: 'bath',
        vesselId: 'holding-a',
        rule: 'elsewhere',
        residentIds: ['clown-large'],
        ...fields,
      } as unknown as Entry
    }
    const user = await open(<BathPage />, {
      record: recordOf(record.settings, documentsOf(record), [
        ...record.entries,
        bath('bath-a', 190, { act: 'start', productId: 'peroxide-bath-3', amount: 25, unit: 'mL', litres: 10 }),
        bath('bath-b', 160, { act: 'end', minutes: 30 }),
      ]),
      route: '/courses/:id/bath/:ruleId',
      at: '/courses/mine/bath/bath',
    })
    for (const box of await screen.findAllByRole('checkbox')) await user.click(box)
    expect(await against()).toHaveTextContent(/Blocked.*Larger clown.*24 h/)
    expect(screen.getByRole('button', { name: 'The animal is in' })).toBeDisabled()
    await user.type(screen.getByRole('textbox', { name: /write why/ }), WORDS)
    await user.click(screen.getByRole('button', { name: 'The animal is in' }))
    await waitFor(async () => expect(JSON.stringify(await overrides())).toContain(WORDS))
  })
  test('a move into a vessel over its maximum is blocked until it is worded', async () => {
    const record = after({
      kind: 'dose',
      vesselId: 'holding-b-second',
      productId: 'copper-main',
      amount: 25,
      unit: 'mL',
    })
    const user = await open(<TransferPage />, {
      record,
      route: '/courses/:id/transfer',
      at: '/courses/transfer-holding-b/transfer',
    })
    for (const box of await screen.findAllByRole('checkbox')) await user.click(box)
    expect(await against()).toHaveTextContent(/Blocked.*holds about .* mg\/L/)
    const all = screen.getByRole('button', { name: /^All are in/ })
    expect(all).toBeDisabled()
    await user.type(screen.getByRole('textbox', { name: /write why/ }), WORDS)
    await user.click(all)
    await waitFor(async () => expect(await overrides()).toMatchObject([{ rule: 'too-strong', words: WORDS }]))
  })
  test('a spot that leads over the limit of the water is told with its limit', async () => {
    const user = await open(<SpotPage />, {
      route: '/courses/:id/spot/:ruleId',
      at: '/courses/tufts-fernwater/spot/spot',
    })
    await user.type(await screen.findByRole('textbox', { name: /^anubias, left leaf/ }), '30')
    expect(screen.getByRole('button', { name: 'Pumps on, log it' })).toBeDisabled()
    expect(await against()).toHaveTextContent(/mg\/L/)
  })
  test('an animal is not let go into copper it cannot stand', async () => {
    const record = demo()
    const documents = documentsOf(record).map((document) =>
      document.register === 'arrival'
        ? {
            ...document,
            body: {
              ...document.body,
              containers: document.body.containers.map((one) =>
                one.id === 'bag-2' ? { ...one, vesselId: 'holding-a' } : one,
              ),
            },
          }
        : document,
    )
    const user = await open(<LiveRunPage />, {
      record: recordOf(record.settings, documents, record.entries),
      route: '/arrivals/:id/run',
      at: '/arrivals/box-tonight/run',
    })
    await user.click(await screen.findByRole('button', { name: 'Looked' }))
    await screen.findByRole('button', { name: 'Bag is open' })
    await user.click(await screen.findByRole('button', { name: 'Stop and move now' }))
    const dialog = within(await screen.findByRole('dialog'))
    expect(await against(dialog)).toHaveTextContent(/copper/i)
    expect(dialog.getByRole('button', { name: 'It is in the water' })).toBeDisabled()
  })
  test('a dialog keeps the bag it was opened for, though another comes due behind it', async () => {
    const user = await open(<LiveRunPage />, { route: '/arrivals/:id/run', at: '/arrivals/box-tonight/run' })
    const look = await screen.findByRole('button', { name: 'Looked' })
    const stop = screen.getByRole('button', { name: 'Stop and move now' })
    // Both presses fall before the page has turned to the next bag.
    fireEvent.click(look)
    await user.click(stop)
    const dialog = within(await screen.findByRole('dialog'))
    await waitFor(async () =>
      expect((await stored()).entries.at(-1)).toMatchObject({ kind: 'container', containerId: 'bag-3' }),
    )
    expect(dialog.getByRole('heading', { name: /^Bag 3 into Fernwater/ })).toBeInTheDocument()
    expect(dialog.getByRole('textbox', { name: /Your name for it/ })).toHaveValue('Cherry shrimp')
  })
})
