// Animals that wait elsewhere: listed with their day, brought back with words when it is too early; neighbours by name.
import '@testing-library/jest-dom/jest-globals'
import { afterEach, expect, jest, test } from '@jest/globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import {
  documentsOf,
  instantOf,
  newCourseBody,
  protocolOf,
  recordOf,
  residentsIn,
  activeEntries,
  type CourseDocument,
  type Entry,
} from '@brinvo/core'
import { CoursePage } from '../src/features/courses/CoursePage.tsx'
import { TallyPage } from '../src/features/courses/TallyPage.tsx'
import { demo, open, stored, ZONE } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(cleanup)
const HOUR = 3_600_000

/** A course of its own in the demonstration, begun some days ago, with entries beside it. */
function running(protocolId: string, vesselId: string, days: number, entries: readonly object[] = []) {
  const record = demo()
  const startMs = Date.now() - days * 24 * HOUR
  const course: CourseDocument = {
    register: 'course',
    id: 'the-course',
    revision: 1,
    savedAt: instantOf(startMs),
    history: [],
    body: newCourseBody({
      protocol: protocolOf(protocolId)!,
      vesselId,
      startMs,
      zone: ZONE,
      // As the form does it: everybody who lives there.
      residents: residentsIn(record, activeEntries(record.entries), vesselId, Date.now()).map(({ id }) => id),
      dailyHour: 19,
    }),
  }
  const made = entries.map(
    (fields, i) =>
      ({
        id: `own-${i}`,
        at: instantOf(startMs + HOUR),
        recordedAt: instantOf(startMs + HOUR),
        zone: ZONE,
        ...fields,
      }) as unknown as Entry,
  )
  return recordOf(record.settings, [...documentsOf(record), course], [...record.entries, ...made])
}

test('who was moved out is listed; too early it takes words, which are kept with the move', async () => {
  const record = running('compete-dinoflagellates', 'longshore', 10, [
    { kind: 'move', vesselId: 'longshore', residentId: 'hammer', toVesselId: 'tub' },
  ])
  const user = await open(<CoursePage />, { route: '/courses/:id', at: '/courses/the-course', record })
  const panel = within(await screen.findByRole('region', { name: 'Animals back, one by one' }))
  expect(panel.getByText(/First one hardy snail in a cage/)).toBeInTheDocument()
  await user.click(panel.getByRole('button', { name: 'Bring it back' }))
  const dialog = within(await screen.findByRole('dialog'))
  expect(dialog.getByText(/is not to come back yet/)).toBeInTheDocument()
  expect(dialog.getByRole('button', { name: 'It is back' })).toBeDisabled()
  await user.type(dialog.getByRole('textbox'), 'The tub leaks, it has nowhere else')
  await user.click(dialog.getByRole('button', { name: 'It is back' }))
  await waitFor(async () => {
    const last = (await stored()).entries.slice(-2)
    expect(last.map(({ kind }) => kind).sort()).toEqual(['move', 'override'])
  })
  // A coral elsewhere is put down as insurance, and waits for all others.
  await waitFor(() => expect(screen.queryByRole('dialog')).not.toBeInTheDocument())
  const choice = await panel.findByRole('combobox', { name: /as insurance for Longshore/ })
  const piece = within(choice).getAllByRole('option')[1] as HTMLOptionElement
  await user.selectOptions(choice, piece.value)
  await waitFor(async () => expect((await stored()).residents.get(piece.value)!.body.insuranceFor).toBe('longshore'))
  expect(await panel.findByText('insurance')).toBeInTheDocument()
})

test('neighbours are looked at one by one, by the names of those that live there', async () => {
  const record = running('jelly-run', 'longshore', 2)
  const user = await open(<TallyPage />, {
    route: '/courses/:id/tally/:measureId',
    at: '/courses/the-course/tally/neighbours',
    record,
  })
  expect(await screen.findByRole('heading', { name: /Which neighbour/ })).toBeInTheDocument()
  const hammer = record.residents.get('hammer')!.body.name
  await user.click(screen.getByRole('button', { name: hammer }))
  await user.click(screen.getByRole('radio', { name: /Slimy or shut/ }))
  await user.click(screen.getByRole('button', { name: /^Save/ }))
  await waitFor(async () =>
    expect((await stored()).entries.at(-1)).toMatchObject({
      kind: 'tally',
      measure: 'neighbours',
      piece: hammer,
      values: { state: 1 },
    }),
  )
})
