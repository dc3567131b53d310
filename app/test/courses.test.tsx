// Courses beyond copper, by role: schools, a bath under a controlled clock, a move, the sheet for a sitter.
import '@testing-library/jest-dom/jest-globals'
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import { cleanup, createEvent, fireEvent, screen, waitFor, within } from '@testing-library/react'
import {
  newCourseBody,
  protocolOf,
  recordOf,
  signOf,
  documentsOf,
  type CourseDocument,
  type KeeperRecord,
  type Step,
} from '@brinvo/core'
import { calendarOf } from '../src/data/calendar.ts'
import { CoursePage } from '../src/features/courses/CoursePage.tsx'
import { BathPage } from '../src/features/courses/BathPage.tsx'
import { SchoolsPage } from '../src/features/courses/SchoolsPage.tsx'
import { SheetPage } from '../src/features/courses/SheetPage.tsx'
import { TransferPage } from '../src/features/courses/TransferPage.tsx'
import { WatchPage } from '../src/features/rounds/WatchPage.tsx'
import { demo, open, stored, ZONE } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(() => {
  cleanup()
  jest.restoreAllMocks()
})

/** The demonstration with one more course, begun an hour ago. */
function withCourse(protocolId: string, parameters: Record<string, number> = {}): KeeperRecord {
  const record = demo()
  const startMs = Date.now() - 3_600_000
  const course: CourseDocument = {
    register: 'course',
    id: 'extra',
    revision: 1,
    savedAt: new Date(startMs).toISOString(),
    history: [],
    body: newCourseBody({
      protocol: protocolOf(protocolId)!,
      vesselId: 'holding-b',
      startMs,
      zone: ZONE,
      residents: ['gramma'],
      parameters,
      vessels: { second: 'tub' },
    }),
  }
  return recordOf(record.settings, [...documentsOf(record), course], record.entries)
}

describe('schools', () => {
  test('for nobody the schools ask for whom; a group that is to come is enough', async () => {
    const record = demo()
    const user = await open(<SchoolsPage />, {
      route: '/courses/compare',
      at: '/courses/compare?vessel=holding-b-second',
      record,
    })
    expect(await screen.findByText('For whom?')).toBeVisible()
    expect(screen.queryByText(/must not meet it/)).toBeNull()
    expect(screen.queryByRole('checkbox', { name: 'Coral pests' })).toBeNull()
    await user.selectOptions(screen.getByRole('combobox', { name: 'To come' }), 'hg-clown-damsel')
    expect(await screen.findByText('Suggested here')).toBeVisible()
    expect(screen.getByRole('checkbox', { name: /to come/ })).toBeChecked()
    await user.click(screen.getByRole('checkbox', { name: /to come/ }))
    expect(await screen.findByText('For whom?')).toBeVisible()
  })
  test('say what each covers in words as well as in shape, and what speaks against it here', async () => {
    const user = await open(<SchoolsPage />, { route: '/courses/compare' })
    await user.selectOptions(screen.getByRole('combobox', { name: 'Vessel' }), 'holding-b')
    // The open finding of the gramma is what is feared, until the keeper says otherwise.
    const velvet = screen.getByRole('checkbox', { name: 'Velvet' })
    expect(velvet).toBeChecked()
    expect(screen.getByRole('link', { name: 'open finding' })).toHaveAttribute('href', '/findings/finding-gramma')
    await user.click(velvet)
    expect(velvet).not.toBeChecked()
    expect(screen.queryByRole('link', { name: 'open finding' })).toBeNull()
    const table = screen.getByRole('region', { name: 'Whole quarantines' })
    const copper = within(table).getByRole('row', { name: /Copper, 14 days/ })
    expect(copper).toHaveTextContent(/White spot: in full/)
    expect(copper).toHaveTextContent(/Royal gramma/)
    await user.click(screen.getByRole('checkbox', { name: 'Tape worms' }))
    expect(
      within(screen.getByRole('region', { name: 'Whole quarantines' })).getByRole('row', { name: /Watch only/ }),
    ).toHaveTextContent(/Tape worms: not/)
  })
})

describe('a bath', () => {
  const route = { route: '/courses/:id/bath/:ruleId', at: '/courses/extra/bath/bath' }
  test('starts when everything is laid out, runs from its start, and ends with its minutes', async () => {
    const user = await open(<BathPage />, { record: withCourse('freshwater-dip'), ...route })
    expect(await screen.findByRole('button', { name: '3 still to lay out' })).toBeDisabled()
    for (const box of screen.getAllByRole('checkbox')) await user.click(box)
    await user.click(screen.getByRole('button', { name: 'The animal is in' }))
    expect(await screen.findByRole('button', { name: 'It is out' })).toBeInTheDocument()
    const real = Date.now
    jest.spyOn(Date, 'now').mockImplementation(() => real() + 4.2 * 60_000)
    expect(await screen.findByText(/The usual time is reached/)).toBeInTheDocument()
    await user.click(screen.getByRole('button', { name: 'It is out' }))
    await waitFor(async () =>
      expect((await stored()).entries.findLast(({ kind }) => kind === 'bath')).toMatchObject({
        act: 'end',
        minutes: 4.2,
      }),
    )
  })
  test('without a bottle no amount is made up', async () => {
    await open(<BathPage />, { record: withCourse('peroxide-bath-twice'), ...route })
    expect(await screen.findByText(/No bottle is chosen for this course/)).toBeInTheDocument()
  })
})

test('a move asks for every rule, then moves each fish and ends the stay', async () => {
  const record = withCourse('tank-transfer-72')
  const gates = ['two-sets', 'water'].map(
    (gate, i) =>
      ({
        kind: 'gate',
        id: `gate-${i}-0`,
        at: new Date(Date.now() - 3_000_000).toISOString(),
        recordedAt: new Date(Date.now() - 3_000_000).toISOString(),
        zone: ZONE,
        vesselId: 'holding-b',
        courseId: 'extra',
        gate,
        passed: true,
      }) as const,
  )
  const user = await open(<TransferPage />, {
    // The intake of corals that runs there lets no fish in.
    record: recordOf(
      record.settings,
      documentsOf(record).filter(({ id }) => id !== 'intake-tub'),
      [...record.entries, ...gates],
    ),
    route: '/courses/:id/transfer',
    at: '/courses/extra/transfer',
  })
  expect(await screen.findByRole('button', { name: '4 still open' })).toBeDisabled()
  for (const box of screen.getAllByRole('checkbox')) await user.click(box)
  await user.click(screen.getByRole('button', { name: 'All are in Tub' }))
  await waitFor(async () =>
    expect(
      (await stored()).entries.find(({ kind, courseId }) => kind === 'move' && courseId === 'extra'),
    ).toMatchObject({
      residentId: 'gramma',
      toVesselId: 'tub',
    }),
  )
})

test('the sheet for a sitter leaves out what only the keeper may do', async () => {
  const user = await open(<SheetPage />, { route: '/courses/:id/sheet', at: '/courses/copper-holding-a/sheet' })
  const sheet = await screen.findByRole('article', { name: 'Course sheet' })
  await user.click(screen.getByText('For a sitter'))
  expect(sheet).toHaveTextContent(/You dose nothing/)
  expect(sheet).not.toHaveTextContent(/top-up/i)
  expect(sheet).toHaveTextContent(
    /Ammonia by drop test and by badge, every day until .*0.02 mg\/L by the badge on: call at once/,
  )
  await user.type(screen.getByRole('textbox', { name: 'Whom to ask' }), 'the neighbour')
  expect(sheet).toHaveTextContent('ask the neighbour')
})

test('a calendar holds the steps to come with an alarm, in UTC, and no feeding', async () => {
  const step = (key: string, kind: Step['kind'], state: Step['state']) =>
    ({
      key,
      kind,
      state,
      vesselId: 'holding-a',
      title: `Do ${key}`,
      detail: '',
      dueMs: Date.parse('2026-03-29T00:30:00Z'),
    }) as unknown as Step
  const text = await calendarOf(
    [step('c/test/1', 'test', 'ahead'), step('c/feed/1', 'feed', 'ahead'), step('c/dose/1', 'dose', 'done')],
    () => 'Holding A',
  )
  expect(text.match(/BEGIN:VEVENT/g)).toHaveLength(1)
  expect(text).toContain('DTSTART:20260329T003000Z')
  expect(text).toContain('TRIGGER:-PT10M')
  // As long as a reading usually takes: the same six minutes the round counts.
  expect(text).toContain('DURATION:PT6M')
})

describe('a watching round', () => {
  test('only what changed is pressed, a reload loses nothing, and the round is noted as signs', async () => {
    sessionStorage.clear()
    const there = { route: '/watch/:vesselId', at: '/watch/holding-a' }
    const user = await open(<WatchPage />, { record: demo(), ...there })
    const clown = await screen.findByLabelText('Smaller clown')
    await user.click(within(clown).getByRole('button', { name: 'Fast breathing' }))
    expect(clown).toHaveTextContent(signOf('breath-fast')!.definition.slice(1))
    await user.click(within(clown).getByRole('button', { name: 'Still: flashing' }))
    await user.click(within(clown).getByRole('button', { name: 'Ate' }))
    cleanup()
    const again = await open(<WatchPage />, there)
    expect(within(await screen.findByLabelText('Smaller clown')).getByRole('button', { name: 'Ate' })).toHaveAttribute(
      'aria-pressed',
      'true',
    )
    const before = (await stored()).entries.length
    await again.click(screen.getByRole('button', { name: /^Midday/ }))
    const minutes = screen.getByRole('textbox', { name: /^Watched/ })
    await again.clear(minutes)
    await again.type(minutes, '0')
    expect(screen.getByRole('button', { name: 'Note the round with 1 sign' })).toBeDisabled()
    await again.clear(minutes)
    await again.type(minutes, '12')
    await again.click(screen.getByRole('button', { name: 'Note the round with 1 sign' }))
    await waitFor(async () => expect((await stored()).entries).toHaveLength(before + 4))
    const round = (await stored()).entries.slice(-4)
    expect(round).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ kind: 'sign', sign: 'breath-fast', present: true }),
        expect.objectContaining({ kind: 'sign', sign: 'flashing', present: false }),
        expect.objectContaining({ kind: 'meal', took: 'took' }),
        expect.objectContaining({
          kind: 'done',
          what: 'Midday look, watched 12 min, 1 sign',
          watched: { look: 'midday', minutes: 12 },
        }),
      ]),
    )
    await waitFor(() => expect(sessionStorage.getItem('round-holding-a')).toBeNull())
  })
  test('breathing is the interval between taps, over half a minute', async () => {
    sessionStorage.clear()
    const user = await open(<WatchPage />, { record: demo(), route: '/watch/:vesselId', at: '/watch/holding-a' })
    const damsel = await screen.findByLabelText('Azure damsel')
    await user.click(within(damsel).getByRole('button', { name: 'Count the breathing' }))
    const tap = within(damsel).getByRole('button', { name: /Tap with each breath/ })
    for (let beat = 0; beat <= 50; beat += 1) {
      const press = createEvent.pointerDown(tap)
      Object.defineProperty(press, 'timeStamp', { value: 1000 + beat * 610 })
      fireEvent(tap, press)
    }
    // Fifty intervals of 0.61 s.
    expect(damsel).toHaveTextContent(/98 beats a minute under \d+/)
  })
})

describe('what a course uses', () => {
  test('the bottle it has stands there even where it is used up', async () => {
    const base = demo()
    const main = base.products.get('copper-main')!
    const record = recordOf(
      base.settings,
      [
        ...documentsOf(base).filter(({ id }) => id !== 'copper-main'),
        { ...main, body: { ...main.body, usedUpAt: new Date().toISOString() } } as typeof main,
      ],
      base.entries,
    )
    await open(<CoursePage />, { record, route: '/courses/:id', at: '/courses/copper-holding-a?uses=1' })
    const dialog = await screen.findByRole('dialog', { name: 'What this course uses' })
    expect(within(dialog).getByRole('combobox', { name: 'Copper bottle' })).toHaveDisplayValue(main.body.name)
  })
  test('a second bottle of the form takes over from the course’s page; one of another form does not', async () => {
    const user = await open(<CoursePage />, { route: '/courses/:id', at: '/courses/copper-holding-a' })
    const panel = await screen.findByRole('region', { name: 'What it uses' })
    expect(panel).toHaveTextContent(/hard maximum/)
    await user.click(within(panel).getByRole('button', { name: 'Use another' }))
    const dialog = await screen.findByRole('dialog', { name: 'What this course uses' })
    const keep = within(dialog).getByRole('button', { name: 'Use these from now on' })
    await user.click(keep)
    expect(await within(dialog).findByRole('alert')).toHaveTextContent(/Nothing is changed/)
    await user.selectOptions(within(dialog).getByRole('combobox', { name: 'Copper bottle' }), '')
    expect(within(dialog).getByText(/stays with it to the end/)).toBeVisible()
    expect(keep).toBeDisabled()
    // What is missing can be registered on the way, and leads back to this very place.
    expect(within(dialog).getAllByRole('link', { name: 'Register a bottle' })[0]).toHaveAttribute(
      'href',
      expect.stringContaining(encodeURIComponent('/courses/copper-holding-a?uses=1')),
    )
  })
})
