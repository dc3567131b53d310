// Campaign pages on a real record: what is answered, what is saved, what is blocked, what is never lost.
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import '@testing-library/jest-dom/jest-globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { newCourseBody, protocolOf, recordOf, documentsOf, type Entry, type KeeperRecord } from '@brinvo/core'
import { CausesPage } from '../src/features/courses/CausesPage.tsx'
import { CoursePage } from '../src/features/courses/CoursePage.tsx'
import { CoursesPage } from '../src/features/courses/CoursesPage.tsx'
import { NewCoursePage } from '../src/features/courses/NewCoursePage.tsx'
import { RoundPage } from '../src/features/courses/RoundPage.tsx'
import { RunPage } from '../src/features/courses/RunPage.tsx'
import { SpotPage } from '../src/features/courses/SpotPage.tsx'
import { TallyPage } from '../src/features/courses/TallyPage.tsx'
import { demo, open, stored, ZONE } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(cleanup)

const HOUR = 3_600_000
const newest = async (kind: Entry['kind']) => (await stored()).entries.filter((entry) => entry.kind === kind).at(-1)
const course = (id: string) => ({ route: '/courses/:id', at: `/courses/${id}` })

/** The demonstration with one more campaign, begun some hours ago. */
function withCampaign(
  protocolId: string,
  vesselId: string,
  hoursAgo: number,
  entries: readonly object[] = [],
): KeeperRecord {
  const record = demo()
  const startMs = Date.now() - hoursAgo * HOUR
  const body = newCourseBody({ protocol: protocolOf(protocolId)!, vesselId, startMs, zone: ZONE, residents: [] })
  const document = {
    register: 'course' as const,
    id: 'mine',
    revision: 1,
    savedAt: new Date(startMs).toISOString(),
    body,
    history: [],
  }
  const made = entries.map((fields, i) => ({
    id: `own-${i}`,
    zone: ZONE,
    recordedAt: new Date(startMs).toISOString(),
    at: new Date(startMs + HOUR / 2).toISOString(),
    vesselId,
    courseId: 'mine',
    ...fields,
  })) as unknown as Entry[]
  return recordOf(record.settings, [...documentsOf(record), document], [...record.entries, ...made])
}

describe('the page of a campaign', () => {
  test('three questions come first, with the count against the life of the pest', async () => {
    await open(<CoursePage />, course('slugs-tub'))
    expect(await screen.findByText('Is it over?')).toBeInTheDocument()
    expect(screen.getByText(/that nothing is left/)).toHaveTextContent(/if the next round or look finds nothing/)
    expect(screen.getByText(/A round seems to take/)).toHaveTextContent(/That is enough if the rhythm holds/)
    expect(screen.getByText(/Left by the model/)).toHaveTextContent(/animals and .* eggs/)
    expect(
      await screen.findByRole('figure', { name: /Found in a round: 2 values, from 9 to 3 animals/ }),
    ).toBeInTheDocument()
  })
  test('arms are set against the patch that was left alone, and today has its look', async () => {
    await open(<CoursePage />, course('tufts-fernwater'))
    const answer = await screen.findByText(/Treated in the water:/)
    expect(answer).toHaveTextContent(/steps ahead of left alone/)
    expect(answer).toHaveTextContent(/one patch is no comparison/)
    expect(screen.getByText('white, falling or eaten')).toBeInTheDocument()
    expect(screen.getByText(/Not to be judged before day 7/)).toBeInTheDocument()
  })
  test('measures, phases and what remains to be done stand together for a film', async () => {
    await open(<CoursePage />, course('film-longshore'))
    // Beside the numbers of the chart: the table of all measures.
    const table = (await screen.findAllByRole('table')).find((one) => one.textContent.includes('Cover'))!
    expect(within(table).getByText('Dinoflagellates on the slide')).toBeInTheDocument()
    expect(within(table).getAllByText('going on').length).toBeGreaterThan(0)
    expect(screen.getByRole('link', { name: 'Cause checklist' })).toHaveAttribute(
      'href',
      '/courses/film-longshore/causes',
    )
  })
  test('guarded values without a start say what to test; a spike ends it', async () => {
    const reading = (value: number, ms: number) => ({
      kind: 'reading',
      analyte: 'nitrate',
      value,
      unit: 'mg/L',
      bound: 'exact',
      at: new Date(Date.now() - ms).toISOString(),
    })
    await open(<CoursePage />, {
      ...course('mine'),
      record: withCampaign('dark-3', 'tub', 40, [reading(8, 39 * HOUR), reading(9, 20 * HOUR), reading(18, HOUR)]),
    })
    expect(await screen.findByText(/Yes, end it now: nitrate 18 mg\/L, limit 16/)).toBeInTheDocument()
    expect(screen.getByText('Lines that end it')).toBeInTheDocument()
    expect(screen.getByText(/within two days with/)).toHaveTextContent(/called from 7 %/)
  })
  test('a count that rose is asked about; the answer is an entry, and the question goes', async () => {
    const finds = (mobiles: number, ms: number) => ({
      kind: 'tally',
      measure: 'finds',
      piece: 'plate',
      values: { mobiles, eggs: 0 },
      at: new Date(Date.now() - ms).toISOString(),
    })
    const user = await open(<CoursePage />, {
      ...course('mine'),
      record: withCampaign('rounds-montipora-slug', 'longshore', 96, [finds(3, 90 * HOUR), finds(8, 10 * HOUR)]),
    })
    const why = await screen.findByRole('group', { name: 'Why the count went up' })
    await user.click(within(why).getByRole('button', { name: 'A treatment was missed' }))
    await waitFor(async () =>
      expect(await newest('check')).toMatchObject({ what: 'count-rose', answers: ['missed-treatment'] }),
    )
    await waitFor(() => expect(screen.queryByRole('group', { name: 'Why the count went up' })).not.toBeInTheDocument())
  })
})

describe('steering', () => {
  test('grams by the net volume; over the day’s most is blocked until it is worded, then both are kept', async () => {
    const user = await open(<CoursePage />, course('film-longshore'))
    const nitrate = await screen.findByRole('region', { name: 'Steering nitrate' })
    expect(nitrate).toHaveTextContent(/Raise by [\d.]+ mg\/L today/)
    const grams = within(nitrate).getByRole('textbox', { name: /to add/ })
    await user.clear(grams)
    await user.type(grams, '9')
    const add = within(nitrate).getByRole('button', { name: 'Added, log it: nitrate' })
    expect(add).toBeDisabled()
    await user.type(within(nitrate).getByRole('textbox', { name: /write why/ }), 'the doser was off for a week')
    await user.click(add)
    await waitFor(async () =>
      expect(await newest('tally')).toMatchObject({ measure: 'add-nitrate', values: { grams: 9 } }),
    )
    expect(await newest('override')).toMatchObject({
      rule: 'correction-over-limit',
      words: 'the doser was off for a week',
    })
  })
  test('portions of a day are counted, and the next one has its hour', async () => {
    const user = await open(<CoursePage />, {
      ...course('mine'),
      record: withCampaign('raise-calcium', 'longshore', 3, [
        { kind: 'reading', analyte: 'calcium', value: 390, unit: 'mg/L', bound: 'exact' },
      ]),
    })
    const calcium = await screen.findByRole('region', { name: 'Steering calcium' })
    expect(calcium).toHaveTextContent(/Portion 1 of 2 today, 60 min apart\./)
    const first = Number((within(calcium).getByRole('textbox', { name: /to add/ }) as HTMLInputElement).value)
    await user.click(within(calcium).getByRole('button', { name: 'Added, log it: calcium' }))
    await waitFor(async () => expect(await newest('tally')).toMatchObject({ measure: 'add-calcium' }))
    // Not offered before its hour; one that went in all the same can be told.
    await waitFor(() => expect(calcium).toHaveTextContent(/Portion 2 of 2 from \d\d:\d\d\./))
    expect(within(calcium).queryByRole('textbox', { name: /to add/ })).toBeNull()
    await user.click(within(calcium).getByRole('button', { name: 'It went in already: calcium' }))
    expect(calcium).toHaveTextContent(/60 min lie between two/)
    // The second is as large as the first: half the day's rise each.
    const second = Number((within(calcium).getByRole('textbox', { name: /to add/ }) as HTMLInputElement).value)
    expect(second).toBeGreaterThan(0.8 * first)
    expect(second).toBeLessThan(1.2 * first)
  })
  test('silicate waits for its day’s test, and only for those that live on sand', async () => {
    await open(<CoursePage />, course('film-longshore'))
    expect(await screen.findByRole('region', { name: 'Steering silicate' })).toHaveTextContent(
      /a zero after a day only says it was eaten/,
    )
  })
})

describe('counting', () => {
  const slide = { route: '/courses/:id/tally/:measureId', at: '/courses/film-longshore/tally/slide' }
  test('a slide is saved by its classes, a wrong number is said and saves nothing', async () => {
    const user = await open(<TallyPage />, slide)
    const field = (name: string) => screen.getByRole('textbox', { name })
    await user.type(field('Diatoms'), '60')
    await user.type(field('Green algae'), '1.5')
    expect(screen.getByText('Green algae: a whole number from 0 up.')).toBeInTheDocument()
    expect(screen.getByRole('button', { name: 'Save the count' })).toBeDisabled()
    await user.clear(field('Green algae'))
    await user.type(field('Green algae'), '12')
    await user.click(screen.getByRole('button', { name: 'One more: Dinoflagellates' }))
    await user.type(screen.getByRole('textbox', { name: /^Took/ }), '25')
    await user.click(screen.getByRole('button', { name: 'Save the count' }))
    await waitFor(async () =>
      expect(await newest('tally')).toMatchObject({
        measure: 'slide',
        values: { diatom: 60, green: 12, dinoflagellate: 1 },
        minutes: 25,
      }),
    )
    await waitFor(() =>
      expect(screen.getByRole('status', { name: 'address' })).toHaveTextContent('/courses/film-longshore'),
    )
  })
  test('rocks are on a map, a new one is named, and after a save the next one stands ready', async () => {
    const user = await open(<TallyPage />, {
      route: '/courses/:id/tally/:measureId',
      at: '/courses/mine/tally/rock-count',
      record: withCampaign('tray-glass-anemone', 'longshore', 3, [
        {
          kind: 'tally',
          measure: 'rock-count',
          piece: 'arch',
          values: { before: 9, removed: 8 },
          at: new Date(Date.now() - 40 * HOUR).toISOString(),
        },
        {
          kind: 'tally',
          measure: 'rock-count',
          piece: 'cave',
          values: { before: 4, removed: 4 },
          at: new Date(Date.now() - 40 * HOUR).toISOString(),
        },
      ]),
    })
    const map = screen.getByRole('group', { name: /^Map/ })
    expect(within(map).getByRole('button', { name: 'arch' })).toHaveAttribute('aria-pressed', 'true')
    expect(screen.getByText(/Before you begin/)).toBeInTheDocument()
    await user.click(screen.getByRole('button', { name: 'None found' }))
    await user.click(screen.getByRole('button', { name: /^One more: Other animals found and put back/ }))
    await user.click(screen.getByRole('button', { name: 'Save, then cave' }))
    await waitFor(async () =>
      expect(await newest('tally')).toMatchObject({ piece: 'arch', values: { before: 0, removed: 0, returned: 1 } }),
    )
    expect(await screen.findByRole('button', { name: 'arch ✓' })).toBeInTheDocument()
    await user.type(screen.getByRole('textbox', { name: /Name a new rock/ }), 'plug rack')
    await user.click(screen.getByRole('button', { name: 'Add it' }))
    const rack = within(map).getByRole('button', { name: 'plug rack' })
    expect(rack).toHaveAttribute('aria-pressed', 'true')
    // It is put where it stands, by a press or by the arrow keys, and stays there.
    const places = async () => (await stored()).vessels.get('longshore')!.body.places ?? []
    await user.click(screen.getByRole('button', { name: 'Move plug rack' }))
    map.getBoundingClientRect = () => ({ left: 0, top: 0, width: 400, height: 200 }) as DOMRect
    await user.pointer({ keys: '[MouseLeft]', target: map, coords: { clientX: 300, clientY: 50 } })
    await waitFor(async () => expect(await places()).toEqual([{ name: 'plug rack', x: 75, y: 25 }]))
    await waitFor(() => expect(rack).toHaveStyle({ left: '75%' }))
    rack.focus()
    await user.keyboard('{ArrowLeft}')
    await waitFor(async () => expect(await places()).toEqual([{ name: 'plug rack', x: 71, y: 25 }]))
  })
})

describe('a look at patches', () => {
  const where = { route: '/courses/:id/tally/:measureId', at: '/courses/mine/tally/patch-score' }
  const press = (user: Awaited<ReturnType<typeof open>>, name: string | RegExp) => user.click(screen.getByText(name))
  test('a new patch is asked for its arm, and what was typed for one is there again', async () => {
    const user = await open(<TallyPage />, { ...where, record: withCampaign('spot-peroxide-fresh', 'fernwater', 3) })
    const save = () => screen.getByRole('button', { name: /^Save/ })
    const naming = () => screen.getByRole('textbox', { name: 'Name a new patch' })
    await user.type(naming(), 'left leaf')
    await user.click(screen.getByRole('button', { name: 'Add it' }))
    await press(user, 'Left alone')
    await press(user, /^as before/)
    expect(save()).toBeEnabled()
    // Named before the first was saved: its look and its arm do not go over to the second, and are not lost.
    await user.type(naming(), 'right leaf')
    await user.click(screen.getByRole('button', { name: 'Add it' }))
    expect(screen.getByRole('radio', { name: 'Left alone' })).not.toBeChecked()
    await press(user, /^as before/)
    expect(save()).toBeDisabled()
    await press(user, 'Treated in the water')
    expect(save()).toBeEnabled()
    await user.click(screen.getByRole('button', { name: /^left leaf/ }))
    expect(save()).toBeDisabled()
    await press(user, 'Left alone')
    expect(save()).toBeEnabled()
    await user.click(save())
    await waitFor(async () =>
      expect((await stored()).entries.at(-1)).toMatchObject({
        kind: 'tally',
        piece: 'left leaf',
        arm: 'control',
        values: { score: 0 },
      }),
    )
  })
  test('what treated patches should look like is said from the first treatment on', async () => {
    const now = new Date().toISOString()
    await open(<CoursePage />, { ...course('mine'), record: withCampaign('spot-peroxide-fresh', 'fernwater', 60) })
    expect(await screen.findByText('Is it over?')).toBeInTheDocument()
    expect(screen.queryByText(/should now look/)).toBeNull()
    cleanup()
    await open(<CoursePage />, {
      ...course('mine'),
      record: withCampaign('spot-peroxide-fresh', 'fernwater', 60, [
        { kind: 'dose', at: now, productId: 'peroxide-3', amount: 1, unit: 'mL' },
      ]),
    })
    expect(await screen.findByText(/should now look/)).toHaveTextContent(/darker, with bubbles/)
  })
})

describe('a removal session', () => {
  test('a rock has its time in air, the session its break, and both say when to be back', async () => {
    const where = { route: '/courses/:id/tally/:measureId', at: '/courses/mine/tally/rock-count' }
    const user = await open(<TallyPage />, {
      ...where,
      record: withCampaign('tray-glass-anemone', 'longshore', 3, [
        {
          kind: 'tally',
          measure: 'rock-count',
          piece: 'arch',
          values: { before: 9, removed: 8 },
          at: new Date(Date.now() - 66 * 60_000).toISOString(),
        },
      ]),
    })
    const session = await screen.findByRole('region', { name: 'Session' })
    expect(session).toHaveTextContent(/6\d min without a break/)
    await user.click(within(session).getByRole('button', { name: 'Break of 10 minutes' }))
    expect(await within(session).findByText(/Rest: be back by \d\d:\d\d/)).toBeInTheDocument()
    const air = screen.getByRole('region', { name: 'Out of the water' })
    await user.click(within(air).getByRole('button', { name: 'arch is out' }))
    expect(await within(air).findByText(/arch, back by \d\d:\d\d/)).toBeInTheDocument()
    await user.click(within(air).getByRole('button', { name: 'Back in the water' }))
    await waitFor(async () =>
      expect(await newest('bath')).toMatchObject({ rule: 'rock-in-air', act: 'end', note: 'arch' }),
    )
    expect(await within(air).findByRole('button', { name: 'arch is out again' })).toBeInTheDocument()
    // What the clock counted stands in the count already.
    expect(screen.getByRole('textbox', { name: /Minutes in air/ })).toHaveValue('0')
  })
  test('a rock left out is there when the page opens again, and its minutes add up over the break', async () => {
    const ago = (minutes: number) => new Date(Date.now() - minutes * 60_000).toISOString()
    const air = { kind: 'bath', rule: 'rock-in-air', note: 'ledge' }
    const user = await open(<TallyPage />, {
      route: '/courses/:id/tally/:measureId',
      at: '/courses/mine/tally/rock-count',
      record: withCampaign('tray-glass-anemone', 'longshore', 3, [
        { ...air, act: 'start', at: ago(40) },
        { ...air, act: 'end', minutes: 9, at: ago(31) },
        // Another rock's minutes are its own.
        { ...air, note: 'arch', act: 'start', at: ago(30) },
        { ...air, note: 'arch', act: 'end', minutes: 14, at: ago(16) },
        { ...air, act: 'start', at: ago(8) },
      ]),
    })
    const clock = await screen.findByRole('region', { name: 'Out of the water' })
    expect(clock).toHaveTextContent(/17:\d\d/)
    expect(clock).toHaveTextContent('9 min of it before the break.')
    // Nine and eight are over fifteen.
    expect(clock).toHaveTextContent('Back into the water now.')
    await user.click(within(clock).getByRole('button', { name: 'Back in the water' }))
    await waitFor(async () => expect(await newest('bath')).toMatchObject({ act: 'end', note: 'ledge', minutes: 8 }))
    expect(screen.getByRole('textbox', { name: /Minutes in air/ })).toHaveValue('17')
  })
  test('a list of courses gives a campaign by its own measure and the chance that it is over', async () => {
    await open(<CoursesPage />, { route: '/courses', at: '/courses' })
    expect(await screen.findByText(/% that it is over/)).toBeInTheDocument()
    expect(screen.getByText(/^patch score \d/)).toBeInTheDocument()
  })
})

describe('runs at the bench', () => {
  test('a round: all laid out, into the dip, out, counted, finished', async () => {
    const user = await open(<RoundPage />, {
      route: '/courses/:id/round/:ruleId',
      at: '/courses/slugs-tub/round/round',
    })
    expect(await screen.findByRole('heading', { name: /Round 3/ })).toBeInTheDocument()
    expect(screen.getByText(/No bottle is chosen: a plain dip/)).toBeInTheDocument()
    const into = screen.getByRole('button', { name: 'orange digitata: into the dip' })
    expect(into).toBeDisabled()
    for (const box of screen.getAllByRole('checkbox')) await user.click(box)
    await user.click(into)
    // Taken out before the shortest time: it says so, and may go back in; what is counted all the same is told at the end.
    await user.click(await screen.findByRole('button', { name: 'Out too early' }))
    expect(await screen.findByText(/0 min in the dip, of at least \d+/)).toBeInTheDocument()
    await user.click(screen.getByRole('button', { name: 'Back into the dip' }))
    expect(await screen.findByRole('heading', { name: 'orange digitata: in the dip' })).toBeInTheDocument()
    await waitFor(async () => expect(await newest('bath')).toMatchObject({ act: 'start' }))
    await user.click(await screen.findByRole('button', { name: 'Abort: out now' }))
    expect(await screen.findByText(/For its distress it stays out/)).toBeInTheDocument()
    expect(screen.queryByRole('button', { name: 'Back into the dip' })).not.toBeInTheDocument()
    await user.click(await screen.findByRole('button', { name: 'None found' }))
    await user.click(screen.getByRole('button', { name: 'Counted, into the hold bowl' }))
    expect(await screen.findByText('One untreated piece is a source.')).toBeInTheDocument()
    await user.click(screen.getByRole('button', { name: 'Finish without one piece' }))
    await waitFor(async () =>
      expect(await newest('done')).toMatchObject({
        step: 'slugs-tub/round/2',
        what: expect.stringMatching(/1 dipped shorter than \d+ min/),
      }),
    )
    expect(await newest('tally')).toMatchObject({ piece: 'orange digitata', step: 'slugs-tub/round/2/orange digitata' })
  })
  test('spots: nothing over the ceiling goes in, and what went in is one dose', async () => {
    const user = await open(<SpotPage />, {
      route: '/courses/:id/spot/:ruleId',
      at: '/courses/tufts-fernwater/spot/spot',
    })
    const poured = await screen.findByRole('textbox', { name: /^anubias, left leaf/ })
    await user.type(poured, '30')
    expect(screen.getByText(/^30 mL leads to .* mg\/L/)).toBeInTheDocument()
    expect(screen.getByRole('button', { name: 'Pumps on, log it' })).toBeDisabled()
    await user.clear(poured)
    await user.type(poured, '2,5')
    await user.click(screen.getByRole('button', { name: 'Pumps on, log it' }))
    await waitFor(async () =>
      expect(await newest('dose')).toMatchObject({ amount: 2.5, unit: 'mL', step: 'tufts-fernwater/spot/3' }),
    )
  })
  test('out of the water has its own clock, which stands again after a reload', async () => {
    const where = { route: '/courses/:id/spot/:ruleId', at: '/courses/tufts-fernwater/spot/spot' }
    const user = await open(<SpotPage />, where)
    const air = await screen.findByRole('region', { name: 'Out of the water' })
    await user.click(within(air).getByRole('button', { name: 'fern on the stone is out' }))
    await waitFor(() => expect(air).toHaveTextContent(/fern on the stone, back by \d\d:\d\d: paint 3 %/))
    cleanup()
    const again = await open(<SpotPage />, { ...where, record: await stored() })
    const still = await screen.findByRole('region', { name: 'Out of the water' })
    await again.click(within(still).getByRole('button', { name: 'Rinsed twice, back in' }))
    await waitFor(async () =>
      expect(await newest('bath')).toMatchObject({ rule: 'painted-in-air', act: 'end', note: 'fern on the stone' }),
    )
  })
  test('an emergency: one thing at a time, its wait, and what never to do', async () => {
    const user = await open(<RunPage />, {
      route: '/courses/:id/run/:ruleId',
      at: '/courses/mine/run/run',
      record: withCampaign('jelly-run', 'tub', 0.1),
    })
    expect(await screen.findByText(/All pumps off/)).toBeInTheDocument()
    expect(screen.getByText(/Never blow it off/)).toBeInTheDocument()
    await user.click(screen.getByRole('button', { name: 'Done, next' }))
    expect(await screen.findByText(/Siphon the jelly/)).toBeInTheDocument()
    expect(screen.getByText('wait')).toBeInTheDocument()
    expect(await newest('done')).toMatchObject({ step: 'mine/run/0/pumps' })
  })
})

describe('causes, start and board', () => {
  test('a question answered yes becomes a change to make', async () => {
    const user = await open(<CausesPage />, { route: '/courses/:id/causes', at: '/courses/film-longshore/causes' })
    expect(screen.getByText('Raise what is lacking, slowly, by test.')).toBeInTheDocument()
    await user.click(within(screen.getByRole('group', { name: 'Light' })).getByRole('button', { name: 'Yes' }))
    expect(await screen.findByText('Six to eight hours for 14 days.')).toBeInTheDocument()
    expect(await newest('check')).toMatchObject({ what: 'rc-light', answers: ['yes'] })
  })
  test('a genus of the finding is chosen already; one that pulls the other way is blocked', async () => {
    await open(<NewCoursePage />, {
      route: '/courses/new',
      at: '/courses/new?protocol=compete-dinoflagellates&vessel=tub&variant=coolia',
    })
    expect(screen.getByRole('radio', { name: /Round, tumbles/ })).toBeChecked()
    expect(screen.getByText(/Treat any stringy brown bloom as poisonous/)).toBeInTheDocument()
  })
  test('raising beside lowering in one water is blocked', async () => {
    await open(<NewCoursePage />, {
      route: '/courses/new',
      at: '/courses/new?protocol=pull-hair-algae&vessel=longshore',
    })
    expect(screen.getByText(/wants nitrate down, “Dinoflagellates: feed their rivals” wants it up/)).toBeInTheDocument()
    expect(screen.getByRole('button', { name: 'Start the course' })).toBeDisabled()
  })
  test('what worked here: result, cost and how long it held', async () => {
    await open(<CoursesPage />)
    const board = (await screen.findByRole('heading', { name: /What worked here/ })).parentElement!
    expect(board).toHaveTextContent(/cured/)
    expect(board).toHaveTextContent(/anemones per rock from 67 to 0 anemones/)
    expect(board).toHaveTextContent(/Has held for 84 days/)
    expect(board).toHaveTextContent(/The cave needed adhesive/)
  })
})

test('heads are ticked off by name: nobody is taken to be there, and the missing are told before it is saved', async () => {
  const record = withCampaign('dark-3', 'longshore', 2)
  const user = await open(<TallyPage />, {
    record,
    route: '/courses/:id/tally/:measureId',
    at: '/courses/mine/tally/heads',
  })
  const heads = within(await screen.findByRole('region', { name: 'Heads, one by one' }))
  const save = heads.getByRole('button', { name: 'Save the count' })
  expect(save).toBeDisabled()
  await user.click(heads.getByRole('button', { name: 'All seen, and all well' }))
  expect(save).toBeEnabled()
  const shrimp = within(heads.getByRole('group', { name: 'Cleaner shrimp' }))
  await user.click(shrimp.getByText('Missing, dead or peeling'))
  expect(heads.getByText(/Cleaner shrimp not found or not well/)).toBeInTheDocument()
  await user.click(save)
  await waitFor(async () => expect(await newest('tally')).toMatchObject({ measure: 'heads', courseId: 'mine' }))
  const kept = (await newest('tally')) as Extract<Entry, { kind: 'tally' }>
  const cleaner = kept.animals!.find(({ residentId }) => residentId === 'cleaner')
  expect(cleaner).toEqual({ residentId: 'cleaner', there: 0, gone: 1 })
  expect(kept.values['missing']).toBe(1)
  expect(kept.values['seen']).toBe(kept.animals!.reduce((sum, { there }) => sum + there, 0))
})
