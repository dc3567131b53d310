// Panels beside a course, a finding and the library: what they say of the record, and what a press keeps.
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import {
  documentsOf,
  instantOf,
  newCourseBody,
  protocolOf,
  recordOf,
  signs,
  type Entry,
  type KeeperRecord,
} from '@brinvo/core'
import { CoursePage } from '../src/features/courses/CoursePage.tsx'
import { NewCoursePage } from '../src/features/courses/NewCoursePage.tsx'
import { FindingPage } from '../src/features/findings/FindingPage.tsx'
import { LibraryPage } from '../src/features/library/LibraryPage.tsx'
import { demo, open, stored, ZONE } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(cleanup)
const DAY = 86_400_000
const course = (id: string) => ({ route: '/courses/:id', at: `/courses/${id}` })
const finding = (id: string) => ({ route: '/findings/:id', at: `/findings/${id}` })

/** The demonstration with a fallow by warmth in the empty second tub, and the coldest reading of each day. */
function fallow(temperatures: readonly (number | null)[]): KeeperRecord {
  const record = demo()
  const startMs = Date.now() - temperatures.length * DAY
  const body = newCourseBody({
    protocol: protocolOf('fallow-45-warm')!,
    vesselId: 'tub',
    startMs,
    zone: ZONE,
    residents: [],
  })
  const document = {
    register: 'course' as const,
    id: 'warm',
    revision: 1,
    savedAt: instantOf(startMs),
    body,
    history: [],
  }
  const read = temperatures.flatMap((value, i) =>
    value === null
      ? []
      : [
          {
            id: `warm-${i}`,
            kind: 'reading',
            at: instantOf(startMs + i * DAY + 3_600_000),
            zone: ZONE,
            recordedAt: instantOf(startMs),
            vesselId: 'tub',
            analyte: 'temperature',
            value,
            unit: '°C',
            bound: 'exact',
          } as unknown as Entry,
        ],
  )
  // Only these readings: the tub's own are of a coral's intake.
  const others = record.entries.filter((entry) => !('vesselId' in entry) || entry.vesselId !== 'tub')
  return recordOf(record.settings, [...documentsOf(record), document], [...others, ...read])
}

describe('beside a course', () => {
  test('what ends the phase is ticked, with how far it is; animals show what stands of them', async () => {
    await open(<CoursePage />, course('transfer-holding-b'))
    expect(await screen.findByText('Before “Watch”')).toBeInTheDocument()
    expect(screen.getByText('2 of 4 so far')).toBeInTheDocument()
    expect(screen.getByText('156 beats a minute, alarm')).toBeInTheDocument()
    expect(screen.getByRole('list', { name: 'Days of watching' })).toBeInTheDocument()
  })
  test('warm days are counted, those without a reading said, and a cold one starts again', async () => {
    await open(<CoursePage />, { ...course('warm'), record: fallow([27.2, 27.4, null, 27.1, 27.3]) })
    const panel = (await screen.findByRole('heading', { name: 'Warm days' })).parentElement!
    expect(panel).toHaveTextContent(/four warm days since/)
    expect(panel).toHaveTextContent(/8 % of the wait/)
    expect(within(panel).getByRole('button', { name: 'Working' })).toBeInTheDocument()
    // Days that went by and days that counted are not the same: only those that counted stand there.
    expect(screen.queryByText(/of at least 45/)).not.toBeInTheDocument()
    expect(panel).toHaveTextContent(/One day without a reading/)
    expect(screen.getByText('One of them is enough.')).toBeInTheDocument()
    cleanup()
    await open(<CoursePage />, { ...course('warm'), record: fallow([27.2, 27.4, 26.2, 27.1, 27.3]) })
    const again = (await screen.findByRole('heading', { name: 'Warm days' })).parentElement!
    expect(again).toHaveTextContent(/two warm days since/)
    expect(again).toHaveTextContent(/Too cold on \d{4}-\d\d-\d\d/)
  })
  test('before it starts: bottle, water and tests with their margin, and the sum behind the bottle', async () => {
    const user = await open(<NewCoursePage />, {
      route: '/courses/new',
      at: '/courses/new?vessel=holding-a&protocol=copper-in-place-30',
    })
    const panel = (await screen.findByRole('heading', { name: 'Have this first' })).closest('.print-alone')!
    expect(panel).toHaveTextContent(/\d+ mL of Copper, blue label \(\d+ mL and a quarter\)/)
    expect(panel).toHaveTextContent(/L of prepared water over the whole course/)
    await user.click(within(panel as HTMLElement).getByRole('button', { name: 'Working' }))
    expect(await screen.findByText(/amount = Σ mg ÷ strength/)).toBeInTheDocument()
  })
})

describe('in a finding', () => {
  test('spots counted are kept and answer at once; what is no number is said', async () => {
    const user = await open(<FindingPage />, finding('finding-gramma'))
    const counts = await screen.findByRole('region', { name: 'Counts' })
    const field = within(counts).getByRole('textbox', { name: /White spots/ })
    await user.type(field, '2.5')
    await user.click(within(counts).getByRole('button', { name: 'Note the spots' }))
    expect(within(counts).getByText(/A whole number/)).toBeInTheDocument()
    await user.clear(field)
    await user.type(field, '9')
    await user.click(within(counts).getByRole('button', { name: 'Note the spots' }))
    await waitFor(async () => {
      const last = (await stored()).entries.findLast((entry) => entry.kind === 'count')
      expect(last).toMatchObject({ what: 'spots', count: 9, residentId: 'gramma' })
    })
    expect((await screen.findAllByText('9 spots counted.')).length).toBeGreaterThan(0)
  })
  test('a slide is kept as answers and as words; a passer-by alone makes no sign', async () => {
    const user = await open(<FindingPage />, finding('finding-film'))
    await user.click(await screen.findByRole('button', { name: 'Enter a slide' }))
    const slide = screen.getByRole('region', { name: 'Slide' })
    const put = async (share: string) => {
      await user.click(within(slide).getByRole('button', { name: /^Boat or needle/ }))
      await user.click(within(slide).getByRole('button', { name: /^Glides in a line/ }))
      await user.click(within(slide).getByRole('button', { name: '22 to 50 µm' }))
      const field = within(slide).getByRole('textbox', { name: /Share/ })
      await user.clear(field)
      await user.type(field, share)
      await user.click(within(slide).getByRole('button', { name: 'Put it on the slide' }))
    }
    await put('3')
    expect(within(slide).getByText(/None of this is a sign by itself/)).toBeInTheDocument()
    await user.click(within(slide).getByRole('button', { name: 'Take it off' }))
    await put('80')
    // What else may lie there is not ruled out before it is said.
    expect(within(slide).queryByText(/looked for and not there/)).toBeNull()
    await user.click(within(slide).getByText('That is all there is in view'))
    await user.click(within(slide).getByRole('button', { name: 'Note the slide' }))
    await waitFor(async () => {
      const { entries } = await stored()
      const seen = entries.filter((entry) => entry.kind === 'sign' && entry.present && entry.sign.startsWith('mic-'))
      expect(seen.at(-1)).toMatchObject({ sign: 'mic-gliding-needles', findingId: 'finding-film' })
      expect(entries.findLast((entry) => entry.kind === 'note')).toMatchObject({
        note: expect.stringMatching(/^Slide: boat/),
      })
    })
  })
})

describe('the library', () => {
  test('a word is counted on every shelf, a sign leads to its conditions, an empty shelf points to the others', async () => {
    const user = await open(<LibraryPage />, { route: '/library', at: '/library' })
    await user.click(await screen.findByRole('radio', { name: 'Signs' }))
    expect(screen.getAllByRole('heading', { level: 3 })).toHaveLength(signs.length)
    await user.type(screen.getByRole('textbox', { name: 'Find' }), 'salt-grain')
    await user.click(screen.getByRole('button', { name: 'Marine white spot' }))
    expect(screen.getByRole('radio', { name: /^Conditions \d/ })).toBeChecked()
    expect(screen.getAllByText('Told by').length).toBeGreaterThan(0)
    const find = screen.getByRole('textbox', { name: 'Find' })
    await user.clear(find)
    await user.type(find, 'kanamycin sulfate')
    await user.click(screen.getByRole('radio', { name: /^Signs 0/ }))
    expect(screen.getByText(/Nothing on this shelf holds/)).toBeInTheDocument()
  })
})
