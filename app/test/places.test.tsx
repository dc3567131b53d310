import '@testing-library/jest-dom/jest-globals'
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { agentForms, documentsOf, recordOf, vesselVolume } from '@brinvo/core'
import { BenchPage } from '../src/features/bench/BenchPage.tsx'
import { CoursePage } from '../src/features/courses/CoursePage.tsx'
import { CoursesPage } from '../src/features/courses/CoursesPage.tsx'
import { NewCoursePage } from '../src/features/courses/NewCoursePage.tsx'
import { CupboardPage } from '../src/features/cupboard/CupboardPage.tsx'
import { LedgerPage } from '../src/features/ledger/LedgerPage.tsx'
import { LibraryPage } from '../src/features/library/LibraryPage.tsx'
import { LogDialog } from '../src/features/log/LogDialog.tsx'
import { RoundsPage } from '../src/features/rounds/RoundsPage.tsx'
import { SettingsPage } from '../src/features/settings/SettingsPage.tsx'
import { NewVesselPage } from '../src/features/vessels/VesselForm.tsx'
import { VesselPage } from '../src/features/vessels/VesselPage.tsx'
import { demo, nothing, open, stored } from './harness.tsx'

jest.setTimeout(90_000)
afterEach(cleanup)
const soon = { timeout: 20_000 }

describe('rounds', () => {
  test('an empty shelf leads to the first useful act', async () => {
    await open(<RoundsPage />, { record: nothing() })
    expect(screen.getByRole('heading', { name: /The shelf is empty/ })).toBeInTheDocument()
    expect(screen.getByRole('link', { name: 'Describe a vessel' })).toHaveAttribute('href', '/vessels/new')
  })
  test('whoever comes with a film, a box or a fish that gasps finds a door; the first words of an emergency need no vessel', async () => {
    await open(<RoundsPage />, { record: nothing() })
    expect(screen.getByText(/more air, surface moving, lights off/)).toBeInTheDocument()
    const leads = screen.getAllByRole('link', { name: /: / }).map((link) => link.getAttribute('href'))
    expect(leads).toEqual([
      '/vessels/new?then=%2Ffindings',
      '/vessels/new?then=%2Ffindings',
      '/vessels/new?then=%2Ffindings%3Fabout%3Dsurface',
      '/vessels/new?then=%2Farrivals%2Fnew',
      '/vessels/new?then=%2Fcourses%2Fcompare',
    ])
  })
  test('a day walks from clean water to dirty water', async () => {
    await open(<RoundsPage />)
    const stops = await screen.findAllByRole('region', { name: /Longshore|Holding A/ })
    expect(stops.map((stop) => stop.getAttribute('aria-label'))).toEqual(['Longshore', 'Holding A'])
    expect(await screen.findByText(/Gloves on, then add/, {}, soon)).toBeInTheDocument()
    expect(screen.getByRole('complementary')).toHaveTextContent(
      /Holding A earns no hours|Why the count changed|Nothing/,
    )
  })
  test('one press logs a task and offers the undo', async () => {
    const user = await open(<RoundsPage />)
    const before = (await stored()).entries.length
    const done = screen.queryAllByRole('button', { name: /^Done: Feed the empty display/ })[0]
    if (!done) return // fed already at this hour of the demonstration's day
    await user.click(done)
    expect(await screen.findByText(/Feed the empty display: noted/)).toBeInTheDocument()
    expect((await stored()).entries).toHaveLength(before + 1)
    await user.click(screen.getByRole('button', { name: 'Undo' }))
    await screen.findByText(/Undone/)
    expect((await stored()).entries.filter(({ kind }) => kind === 'void')).toHaveLength(1)
  })
})

describe('describing a vessel', () => {
  const fill = async (user: Awaited<ReturnType<typeof open>>, fields: Record<string, string>) => {
    for (const [name, value] of Object.entries(fields)) {
      const box = screen.getByRole('textbox', { name: new RegExp(`^${name}`) })
      await user.clear(box)
      if (value !== '') await user.type(box, value)
    }
  }
  test('the net volume answers as it is typed, and what is saved is what was shown', async () => {
    const user = await open(<NewVesselPage />, { record: nothing(), route: '/vessels/new' })
    expect(screen.getByText(/the volume appears here as you go/)).toBeInTheDocument()
    await fill(user, { Name: 'Box', Length: '60', Width: '36', Height: '36' })
    const live = screen.getByRole('complementary', { name: 'Net volume' })
    expect(live).toHaveTextContent(/Net water67 L/)
    await user.click(screen.getByText(/I have looked at it/))
    await user.click(screen.getByRole('button', { name: 'Put it on the shelf' }))
    await waitFor(async () => expect((await stored()).vessels.size).toBe(1))
    const [vessel] = (await stored()).vessels.values()
    expect(vesselVolume(vessel!)!.litres).toBeCloseTo((59 * 35 * 32.5) / 1000, 6)
    expect(vessel!.body.volumeConfirmedAt).toBeDefined()
  })
  test.each([
    ['/arrivals/new', '/arrivals/new'],
    ['https://elsewhere.example/', '/vessels/'],
    ['//elsewhere.example', '/vessels/'],
  ])('described for %s, it leads there; never off the application', async (then, leads) => {
    const user = await open(<NewVesselPage />, {
      record: nothing(),
      route: '/vessels/new',
      at: `/vessels/new?then=${encodeURIComponent(then)}`,
    })
    await fill(user, { Name: 'Box', Length: '60', Width: '36', Height: '36' })
    await user.click(screen.getByText(/I have looked at it/))
    await user.click(screen.getByRole('button', { name: 'Put it on the shelf' }))
    await waitFor(() => expect(screen.getByLabelText('address')).toHaveTextContent(leads))
  })
  test('impossible measures are told at the field; nothing typed is lost', async () => {
    const user = await open(<NewVesselPage />, { record: nothing(), route: '/vessels/new' })
    await fill(user, { Name: 'Box', Length: '60', Width: '36', Height: '36', 'Rim to water': '40' })
    expect(screen.getByRole('textbox', { name: /Rim to water/ })).toHaveAccessibleDescription(/no water is left/)
    await user.click(screen.getByRole('button', { name: 'Put it on the shelf' }))
    expect(await screen.findByRole('alert')).toHaveTextContent(/no water is left/)
    expect(screen.getByRole('textbox', { name: /^Length/ })).toHaveValue('60')
    await fill(user, { 'Rim to water': '1,5 furlongs' })
    expect(screen.getByRole('textbox', { name: /Rim to water/ })).toHaveAccessibleDescription(/not a unit we know/)
  })
  test('sand and rock that are there are asked for their measure, and what is missing is named', async () => {
    const user = await open(<NewVesselPage />, { record: nothing(), route: '/vessels/new' })
    await fill(user, { Name: 'Box', Length: '60', Height: '36' })
    await user.selectOptions(screen.getByRole('combobox', { name: 'Substrate' }), 'sand')
    await user.selectOptions(screen.getByRole('combobox', { name: 'Rock' }), 'dense')
    await user.click(screen.getByRole('button', { name: 'Put it on the shelf' }))
    expect(await screen.findByRole('alert')).toHaveTextContent(
      'Still missing: width, depth of the sand and weight of the rock.',
    )
    await fill(user, { Width: '36', 'Its depth': '0' })
    expect(screen.getByRole('textbox', { name: /Its depth/ })).toHaveAccessibleDescription(/choose Bare/)
    expect((await stored()).vessels.size).toBe(0)
    await fill(user, { 'Its depth': '4' })
    const weight = screen.getByRole('textbox', { name: /weight|kg|Rock/i })
    await user.type(weight, '6')
    expect(screen.getByRole('complementary', { name: 'Net volume' })).toHaveTextContent(/Net water/)
  })
  test('two vessels never share a name', async () => {
    const user = await open(<NewVesselPage />, { route: '/vessels/new' })
    await fill(user, { Name: 'tub', Length: '60', Width: '36', Height: '36' })
    await user.click(screen.getByRole('button', { name: 'Put it on the shelf' }))
    expect(await screen.findByRole('alert')).toHaveTextContent(/already a vessel called tub/)
  })
})

describe('a vessel', () => {
  const at = (id: string) => ({ route: '/vessels/:id', at: `/vessels/${id}` })
  test('shows hazards before the amount, and the working behind it', async () => {
    const user = await open(<VesselPage />, at('holding-a'))
    const amount = await screen.findByText(/^Add [\d.]+ mL$/, {}, soon)
    const hazards = screen.getByRole('note', { name: 'Hazards' })
    expect(hazards.compareDocumentPosition(amount) & Node.DOCUMENT_POSITION_FOLLOWING).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'Working' }))
    const dialog = await screen.findByRole('dialog', { name: 'Dose' })
    expect(dialog).toHaveTextContent(/effective volume/)
    expect(dialog).toHaveTextContent(/Checked backwards/)
  })
  test('the strip tells its state to a screen reader', async () => {
    await open(<VesselPage />, at('holding-a'))
    await waitFor(
      () => expect(screen.getByRole('slider')).toHaveAttribute('aria-valuetext', expect.stringMatching(/mg\/L/)),
      soon,
    )
  })
  test('a quiet vessel still offers what can be done', async () => {
    await open(<VesselPage />, at('holding-b-second'))
    expect(screen.getByRole('heading', { name: 'No course here' })).toBeInTheDocument()
    expect(screen.getByText('Nobody is registered here.')).toBeInTheDocument()
  })
  test('a vessel that does not exist is said', async () => {
    await open(<VesselPage />, at('nowhere'))
    expect(screen.getByRole('heading', { name: /nothing at this address/ })).toBeInTheDocument()
  })
  test('a resident is added with its group', async () => {
    const user = await open(<VesselPage />, at('holding-b'))
    await user.click(screen.getByRole('button', { name: 'Add' }))
    const dialog = await screen.findByRole('dialog', { name: 'Add a resident' })
    await user.selectOptions(within(dialog).getByRole('combobox', { name: 'Kind' }), 'amphiprion-ocellaris')
    await user.click(within(dialog).getByRole('button', { name: 'Add' }))
    await waitFor(async () =>
      expect(
        [...(await stored()).residents.values()].some(
          ({ body }) => body.vesselId === 'holding-b' && body.group === 'hg-clown-damsel',
        ),
      ).toBe(true),
    )
  })
})

describe('courses', () => {
  test('the list says how far each is', async () => {
    await open(<CoursesPage />)
    expect(await screen.findByText(/of 30 d credited/, {}, soon)).toBeInTheDocument()
    expect(screen.getByRole('link', { name: 'Fish-free display, 76 days' })).toBeInTheDocument()
  })
  test('a course shows every hour with its reason, and what each reading did', async () => {
    await open(<CoursePage />, { route: '/courses/:id', at: '/courses/copper-holding-a' })
    const table = await screen.findByRole('table', {}, soon)
    expect(table).toHaveTextContent(/the level was likely below the band/)
    expect(table).toHaveTextContent(/proven at or above the floor/)
    expect(screen.getByText(/Learnt from the readings/)).toHaveTextContent(/effective volume 6\d ± \d L/)
    expect(screen.getByText(/Pause school/)).toBeInTheDocument()
  })
  test('a step is left out with a reason, and the plan goes on', async () => {
    const user = await open(<CoursePage />, { route: '/courses/:id', at: '/courses/copper-holding-a' })
    const buttons = await screen.findAllByRole('button', { name: /^Leave out: / }, soon)
    await user.click(buttons[0]!)
    const confirm = await screen.findByRole('button', { name: 'Leave it out' })
    expect(confirm).toBeDisabled()
    await user.type(screen.getByRole('textbox', { name: 'Why' }), 'away for the night')
    await user.click(confirm)
    await waitFor(async () =>
      expect((await stored()).entries.find(({ kind }) => kind === 'skip')).toMatchObject({
        reason: 'away for the night',
      }),
    )
  })
  test('ending one keeps it on record', async () => {
    const user = await open(<CoursePage />, { route: '/courses/:id', at: '/courses/fallow-longshore' })
    await user.click(screen.getByRole('button', { name: 'End this course' }))
    // No word stands there before one is chosen, least of all that it was cured.
    expect(screen.getByRole('button', { name: 'End it' })).toBeDisabled()
    await user.click(screen.getByText('Stopped early'))
    await user.type(screen.getByRole('textbox', { name: 'What came of it' }), 'Sold the tank')
    await user.click(screen.getByRole('button', { name: 'End it' }))
    await waitFor(async () =>
      expect((await stored()).courses.get('fallow-longshore')!.body).toMatchObject({
        outcome: 'stopped',
        outcomeNote: 'Sold the tank',
      }),
    )
  })
  test('a preview comes before the start, with the low end for a fish that needs it', async () => {
    await open(<NewCoursePage />, { route: '/courses/new', at: '/courses/new?vessel=holding-b' })
    expect(screen.getByRole('radio', { name: /Low end/ })).toBeChecked()
    expect(screen.getByText(/^Royal gramma: caution/)).toBeInTheDocument()
    expect(screen.getByRole('heading', { name: 'The ramp in this water' })).toBeInTheDocument()
    expect(await screen.findByText(/Your kit can earn hours|This test cannot earn hours/, {}, soon)).toBeInTheDocument()
    expect(screen.getByRole('button', { name: 'Start the course' })).toBeEnabled()
  })
  test('shrimps in the water leave no way to start', async () => {
    await open(<NewCoursePage />, { route: '/courses/new', at: '/courses/new?vessel=longshore' })
    expect(screen.getByText(/Cleaner shrimp .* and Longshore/)).toBeInTheDocument()
    expect(screen.getByRole('button', { name: 'Start the course' })).toBeDisabled()
  })
  test('starting embeds a copy of the protocol', async () => {
    const user = await open(<NewCoursePage />, { route: '/courses/new', at: '/courses/new?vessel=holding-b' })
    await user.click(screen.getByRole('button', { name: 'Start the course' }))
    await waitFor(async () => expect((await stored()).courses.size).toBe(demo().courses.size + 1))
    const course = [...(await stored()).courses.values()].find(({ body }) => body.vesselId === 'holding-b')!
    expect(course.body).toMatchObject({
      variant: 'ramp-low-end',
      clockSchool: 'strict',
      products: { copper: 'copper-main' },
    })
    expect((course.body.protocol as { id: string }).id).toBe('copper-in-place-30')
    expect(course.body.warningsAccepted.length).toBeGreaterThan(0)
  })
})

describe('the log', () => {
  const log = (preset: object) => open(<LogDialog preset={preset} onClose={() => undefined} />)
  const box = (name: RegExp) => screen.getByRole('textbox', { name })
  test('a reading: three presses, stored canonical and as typed', async () => {
    const user = await log({ vesselId: 'holding-a', kind: 'reading', analyte: 'copper' })
    await user.type(box(/^Copper/), '2,05{Enter}')
    await waitFor(
      async () =>
        expect((await stored()).entries.findLast(({ kind }) => kind === 'reading')).toMatchObject({
          analyte: 'copper',
          value: 2.05,
          instrumentId: 'copper-meter',
          entered: { text: '2,05' },
        }),
      soon,
    )
  })
  test('a unit of another kind is refused with a sentence and kept in the field', async () => {
    const user = await log({ vesselId: 'holding-a', kind: 'reading', analyte: 'copper' })
    await user.type(box(/^Copper/), '2 mg/mL{Enter}')
    expect(await screen.findByText(/strength of a bottle/)).toBeInTheDocument()
    expect(box(/^Copper/)).toHaveValue('2 mg/mL')
  })
  test('a change needs a unit, and no more than the vessel holds', async () => {
    const user = await log({ vesselId: 'holding-a', kind: 'change' })
    await user.type(box(/^Changed/), '25')
    await user.click(screen.getByRole('button', { name: 'Save' }))
    expect(await screen.findByText(/needs a unit/)).toBeInTheDocument()
    await user.clear(box(/^Changed/))
    await user.type(box(/^Changed/), '250 L')
    await user.click(screen.getByRole('button', { name: 'Save' }))
    expect(await screen.findByText(/more than the vessel holds/)).toBeInTheDocument()
    await user.clear(box(/^Changed/))
    await user.type(box(/^Changed/), '25 %')
    // A copper course holds a level there: undosed water is asked about.
    expect(await screen.findByText(/Really undosed/)).toBeInTheDocument()
    expect(screen.getByRole('button', { name: 'Save' })).toBeDisabled()
    await user.click(screen.getByText(/Yes, it is really so/))
    await user.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(async () =>
      expect((await stored()).entries.findLast(({ kind }) => kind === 'change')).toMatchObject({ fraction: 0.25 }),
    )
  })
  test('made-up water is asked for where a level is held, and kept; elsewhere it is not asked', async () => {
    const user = await log({ vesselId: 'holding-a', kind: 'change' })
    await user.type(box(/^Changed/), '10 %')
    await user.type(box(/^New water held/), '2,0')
    await user.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(async () =>
      expect((await stored()).entries.findLast(({ kind }) => kind === 'change')).toMatchObject({
        fraction: 0.1,
        replacement: [{ mgPerL: 2 }],
      }),
    )
    cleanup()
    await log({ vesselId: 'longshore', kind: 'change' })
    expect(box(/^Changed/)).toBeInTheDocument()
    expect(screen.queryByRole('textbox', { name: /^New water held/ })).not.toBeInTheDocument()
  })
  test('a dose into a vessel with shrimps cannot be saved', async () => {
    const user = await log({ vesselId: 'longshore', kind: 'dose', productId: 'copper-main' })
    const before = (await stored()).entries.length
    await user.type(box(/^Poured/), '5')
    await user.click(screen.getByRole('button', { name: 'Save' }))
    expect((await screen.findAllByText(/There is no override/)).length).toBeGreaterThan(0)
    expect((await stored()).entries).toHaveLength(before)
  })
  test('a resident is moved', async () => {
    const user = await log({ vesselId: 'holding-b', kind: 'move' })
    const before = (await stored()).entries.length
    // Nowhere is preselected: one press empties no tank.
    await user.click(screen.getByRole('button', { name: 'Save' }))
    expect(await screen.findByRole('alert')).toHaveTextContent(/Where to/)
    await user.selectOptions(screen.getByRole('combobox', { name: 'To' }), 'holding-a')
    // It would walk out of a course half way: that is asked, and its copper is told.
    expect(screen.getByText(/is not over for Royal gramma/)).toBeInTheDocument()
    await user.click(screen.getByRole('button', { name: 'Save' }))
    expect((await stored()).entries).toHaveLength(before)
    await user.click(screen.getByRole('checkbox', { name: /really so/ }))
    await user.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(async () =>
      expect((await stored()).entries.findLast(({ kind }) => kind === 'move')).toMatchObject({
        kind: 'move',
        residentId: 'gramma',
        toVesselId: 'holding-a',
      }),
    )
  })
  test('media, meals, signs and notes', async () => {
    const user = await log({ vesselId: 'holding-a', kind: 'equipment' })
    await user.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(async () =>
      expect((await stored()).entries.findLast(({ kind }) => kind === 'equipment')).toMatchObject({
        kind: 'equipment',
        item: 'carbon',
        on: false,
      }),
    )
    expect(await screen.findByText(/logged/)).toBeInTheDocument()
    await user.click(screen.getByText('Meal'))
    await user.click(screen.getByText('ignored it'))
    await user.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(async () =>
      expect((await stored()).entries.findLast(({ kind }) => kind === 'meal')).toMatchObject({
        kind: 'meal',
        took: 'ignored',
      }),
    )
    // The form is free again once it has said so.
    expect(await screen.findByText(/^Meal logged/)).toBeInTheDocument()
    await user.click(screen.getByText('Sign'))
    await user.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(async () =>
      // What the demonstration saw in this very minute stands beside it: the newest by when it was written.
      expect(
        (await stored()).entries
          .filter(({ kind }) => kind === 'sign')
          .reduce((a, b) => (b.recordedAt >= a.recordedAt ? b : a)),
      ).toMatchObject({
        kind: 'sign',
        sign: 'flashing',
        present: true,
      }),
    )
  })
})

describe('the bench', () => {
  test('a dose stands there at once, from the level that the readings support', async () => {
    const user = await open(<BenchPage />)
    const target = screen.getByRole('textbox', { name: /^Target/ })
    expect(target).toHaveAttribute('placeholder', '2.25')
    expect(await screen.findByText(/^1\.\d+ mL$|^[12] mL$/, {}, soon)).toBeInTheDocument()
    await user.clear(screen.getByRole('textbox', { name: /^Level now/ }))
    await user.type(screen.getByRole('textbox', { name: /^Level now/ }), '0')
    expect(screen.getByText('15 mL')).toBeInTheDocument()
    await user.clear(target)
    await user.type(target, '9')
    expect(screen.getByText(/over the hard maximum of 2.8/)).toBeInTheDocument()
  })
  test('a level is the one of this agent in this water: what the record does not know is asked', async () => {
    const user = await open(<BenchPage />)
    const level = screen.getByRole('textbox', { name: /^Level now/ })
    await waitFor(() => expect(level).toHaveAttribute('placeholder'))
    // Copper runs in the vessel, and tells nothing of another agent in it; nor of copper in another vessel.
    const boxOf = screen.getByRole('combobox', { name: 'Vessel' })
    const bottles = screen.getByRole('combobox', { name: 'Bottle' })
    await user.selectOptions(boxOf, 'tub')
    expect(level).not.toHaveAttribute('placeholder')
    expect(screen.getByText(/knows of none of it in this water/)).toBeInTheDocument()
    expect(screen.queryByText(/ mL$/)).toBeNull()
    await user.selectOptions(boxOf, 'holding-a')
    await waitFor(() => expect(level).toHaveAttribute('placeholder'))
    await user.selectOptions(bottles, 'peroxide-bath-3')
    expect(level).not.toHaveAttribute('placeholder')
    expect(screen.getByText(/knows of none of it in this water/)).toBeInTheDocument()
  })
  test('an unconfirmed bottle gives no amount', async () => {
    const user = await open(<BenchPage />)
    await user.selectOptions(screen.getByRole('combobox', { name: 'Bottle' }), 'copper-drawer')
    expect(await screen.findByText(/Nobody has confirmed/, {}, soon)).toBeInTheDocument()
  })
  test('strength, dilution and changes', async () => {
    const user = await open(<BenchPage />)
    await user.click(screen.getByText('Strength', { selector: 'label' }))
    expect(screen.getByText(/mg\/mL/)).toHaveTextContent(/mg\/mL/)
    await user.click(screen.getByText('Dilution'))
    expect(screen.getByText(/into/)).toHaveTextContent(/75 mL of clean water/)
    await user.click(screen.getByText('Water change'))
    // No level stands in for the one that nobody read.
    expect(screen.queryByText(/Two halves leave a quarter/)).toBeNull()
    await user.type(screen.getByRole('textbox', { name: /^Level now/ }), '40')
    expect(screen.getByText(/Two halves leave a quarter/)).toBeInTheDocument()
  })
})

describe('cupboard, ledger, library, settings', () => {
  test('a bottle is confirmed from its label and then free of refusals', async () => {
    const user = await open(<CupboardPage />)
    expect(screen.getByText(/Nobody has confirmed from the label of "Copper from the drawer"/)).toBeInTheDocument()
    await user.click(screen.getByRole('button', { name: 'Read the label' }))
    const dialog = await screen.findByRole('dialog')
    await user.type(within(dialog).getByRole('textbox', { name: /Label level from/ }), '0.5')
    await user.click(within(dialog).getByText(/I hold the bottle/))
    await user.click(within(dialog).getByRole('button', { name: 'Save' }))
    await waitFor(() => expect(screen.queryByText(/Nobody has confirmed/)).toBeNull())
    expect((await stored()).products.get('copper-drawer')).toMatchObject({
      revision: 2,
      body: { labelBand: { minMgPerL: 0.5, maxMgPerL: 0.5 } },
    })
  })
  test('a strength of zero is refused', async () => {
    const user = await open(<CupboardPage />, { record: nothing() })
    await user.click(screen.getByRole('button', { name: 'Register a bottle' }))
    const dialog = await screen.findByRole('dialog')
    await user.type(within(dialog).getByRole('textbox', { name: 'Name' }), 'X')
    await user.selectOptions(within(dialog).getByRole('combobox', { name: /Form/ }), 'copper-ionic')
    await user.type(within(dialog).getByRole('textbox', { name: /^Strength/ }), '0')
    await user.click(within(dialog).getByRole('button', { name: 'Save' }))
    expect(await within(dialog).findByRole('alert')).toHaveTextContent(/above zero/)
  })
  test('the ledger strikes out with a reason and empties only on the word', async () => {
    const user = await open(<LedgerPage />)
    await user.click(screen.getAllByRole('button', { name: /^Void: Meal/ })[0]!)
    await user.type(await screen.findByRole('textbox', { name: 'Why' }), 'wrong tank')
    await user.click(screen.getByRole('button', { name: 'Strike it out' }))
    await waitFor(async () =>
      expect((await stored()).entries.find(({ kind }) => kind === 'void')).toMatchObject({ reason: 'wrong tank' }),
    )
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
    await user.click(screen.getByRole('button', { name: 'Empty it' }))
    const now = await screen.findByRole('button', { name: 'Empty it now' })
    expect(now).toBeDisabled()
    await user.type(screen.getByRole('textbox', { name: /Type "empty"/ }), 'empty')
    await user.click(now)
    await waitFor(async () => expect((await stored()).entries).toEqual([]))
  })
  test('a broken file changes nothing and says where it is broken', async () => {
    const user = await open(<LedgerPage />)
    const before = (await stored()).entries.length
    await user.upload(
      screen.getByLabelText('Record file to import'),
      new File(['{"format":"brinvo-record","schemaVersion":1,"entr'], 'cut.json', { type: 'application/json' }),
    )
    expect(await screen.findByText(/cut off at the end/)).toBeInTheDocument()
    expect((await stored()).entries).toHaveLength(before)
  })
  test('the library finds by word and shows who must never meet an agent', async () => {
    const user = await open(<LibraryPage />)
    await user.type(screen.getByRole('textbox', { name: 'Find' }), 'empty display')
    expect(screen.queryByRole('heading', { name: 'Copper, 30 days in one tank' })).toBeNull()
    await user.clear(screen.getByRole('textbox', { name: 'Find' }))
    await user.click(screen.getByText('Agents and forms'))
    expect(screen.getAllByText(/Shrimps, crabs, other crustaceans: never/)).toHaveLength(
      agentForms.filter(({ sensitivity }) => sensitivity.SH === 'X').length,
    )
  })
  test('settings are saved as they are chosen, and a bad syringe is refused', async () => {
    const user = await open(<SettingsPage />)
    await user.click(screen.getByText('US gal'))
    await waitFor(async () => expect((await stored()).settings.volume).toBe('US gal'))
    await user.type(screen.getByRole('textbox', { name: /Another one/ }), '10 by 20')
    await user.click(screen.getByRole('button', { name: 'Add' }))
    expect(await screen.findByText(/Write capacity and graduation/)).toBeInTheDocument()
    await user.clear(screen.getByRole('textbox', { name: /Another one/ }))
    await user.type(screen.getByRole('textbox', { name: /Another one/ }), '10 by 0.5')
    await user.click(screen.getByRole('button', { name: 'Add' }))
    await waitFor(async () => expect((await stored()).settings.syringesMl).toContainEqual({ capacity: 10, step: 0.5 }))
  })
  test('a record without courses still opens everywhere', async () => {
    const record = demo()
    const bare = recordOf(
      record.settings,
      documentsOf(record).filter(({ register }) => register === 'vessel'),
      [],
    )
    await open(<CoursesPage />, { record: bare })
    expect(screen.getByRole('heading', { name: 'No course is running' })).toBeInTheDocument()
  })
})
