// Findings by role: what is pressed is kept, danger stands first, the ranking follows, and a course is one press away.
import '@testing-library/jest-dom/jest-globals'
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { POOLS, signOf, signPairs, signsOf } from '@brinvo/core'
import { FindingPage } from '../src/features/findings/FindingPage.tsx'
import { FindingsPage } from '../src/features/findings/FindingsPage.tsx'
import { isDrawn } from '../src/parts/Drawings.tsx'
import { zoneOf, zonesOf } from '../src/parts/zones.ts'
import { open, stored } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(() => cleanup())
const at = (id: string) => ({ route: '/findings/:id', at: `/findings/${id}` })
const signs = async () => (await stored()).entries.filter(({ kind }) => kind === 'sign')

describe('where a sign is looked for', () => {
  test('every sign of every subject has a place that can be pressed', () => {
    for (const { id: pool } of POOLS) {
      const zones = zonesOf(pool).map(({ id }) => id)
      for (const sign of signsOf(pool))
        expect([pool, sign.id, zones]).toEqual([pool, sign.id, expect.arrayContaining([zoneOf(pool, sign)])])
      for (const zone of zones) expect(signsOf(pool).some((sign) => zoneOf(pool, sign) === zone)).toBe(true)
    }
  })
})

describe('a fish', () => {
  test('danger stands first with its ten minutes, and nobody leads before it is known', async () => {
    await open(<FindingPage />, at('finding-gramma'))
    const danger = screen.getByRole('region', { name: 'Danger' })
    expect(danger).toHaveTextContent(/Marine velvet/)
    expect(danger).toHaveTextContent(/Test ammonia, oxygen and copper/)
    expect(screen.getByRole('heading', { name: 'Cannot tell yet' })).toBeVisible()
  })
  test('a sign that fits, pressed, names it and opens its course; the answers are on the ledger', async () => {
    const user = await open(<FindingPage />, at('finding-gramma'))
    await user.click(screen.getByRole('button', { name: 'Skin, body' }))
    await user.click(
      within(screen.getByRole('group', { name: 'Salt-grain spots' })).getByRole('button', { name: 'Seen' }),
    )
    await screen.findByRole('heading', { name: 'Marine white spot' })
    expect((await signs()).at(-1)).toMatchObject({
      sign: 'spots-salt-grain',
      present: true,
      findingId: 'finding-gramma',
      residentId: 'gramma',
    })
    const todo = screen.getByRole('region', { name: 'What to do' })
    expect(todo).toHaveTextContent(/if it is “Marine white spot”/)
    expect(within(todo).getByRole('link', { name: /Copper, 14 days/ })).toHaveAttribute(
      'href',
      expect.stringContaining('vessel=holding-b'),
    )
    expect(within(todo).getByRole('heading', { name: 'Do not' })).toBeVisible()
  })
  test('a sign is marked, unmarked and turned, and a look that cannot be taken is not asked again', async () => {
    const user = await open(<FindingPage />, at('finding-gramma'))
    await user.type(screen.getByRole('textbox', { name: 'Find a sign' }), 'torch in a dark')
    const group = screen.getByRole('group', { name: 'Gold or rust sheen' })
    const seen = within(group).getByRole('button', { name: 'Seen' })
    await user.click(seen)
    await waitFor(() => expect(seen).toHaveAttribute('aria-pressed', 'true'))
    await user.click(within(group).getByRole('button', { name: 'Not there' }))
    await waitFor(() => expect(seen).toHaveAttribute('aria-pressed', 'false'))
    await user.click(within(group).getByRole('button', { name: 'Not there' }))
    await waitFor(() =>
      expect(within(group).getByRole('button', { name: 'Not there' })).toHaveAttribute('aria-pressed', 'false'),
    )
    const look = screen.getByRole('region', { name: 'Next look' })
    const asked = within(look).getAllByRole('heading')[0]!.textContent
    await user.click(within(look).getAllByRole('button', { name: 'Cannot look' })[0]!)
    await waitFor(() =>
      expect(
        within(screen.getByRole('region', { name: 'Next look' })).getAllByRole('heading')[0],
      ).not.toHaveTextContent(asked!),
    )
    expect((await stored()).findings.get('finding-gramma')!.body.refused).toHaveLength(1)
  })
  test('without a microscope no slide is asked for again, and what eyes can answer stands beside it', async () => {
    const user = await open(<FindingPage />, at('finding-film'))
    const look = () => screen.getByRole('region', { name: 'Next look' })
    // As long as a slide leads, what takes five minutes is asked for beside it.
    const refuse = within(look()).queryByRole('button', { name: 'No microscope' })
    expect(refuse).not.toBeNull()
    expect(within(look()).getByText('In five minutes or less')).toBeVisible()
    await user.click(refuse!)
    await waitFor(() => expect(within(look()).queryByRole('button', { name: 'No microscope' })).toBeNull())
    expect(within(look()).queryByText(/under the microscope/)).toBeNull()
    const { refused } = (await stored()).findings.get('finding-film')!.body
    expect(refused.length).toBeGreaterThan(3)
    expect(refused.every((sign) => signOf(sign)?.look === 'SLIDE')).toBe(true)
  })
  test('two that cannot both be true are asked about', async () => {
    const user = await open(<FindingPage />, at('finding-gramma'))
    await user.click(screen.getByRole('button', { name: 'Eyes' }))
    for (const name of ['One eye bulging', 'Both eyes bulging'])
      await user.click(
        within(
          screen.getByRole('group', { name: new RegExp(name === 'One eye bulging' ? 'one' : 'both', 'i') }),
        ).getByRole('button', { name: 'Seen' }),
      )
    expect(await screen.findByRole('alert')).toHaveTextContent(/Only one of these can be true/)
  })
  test('is closed with what it was, and opened again', async () => {
    const user = await open(<FindingPage />, at('finding-gramma'))
    await user.selectOptions(screen.getByRole('combobox', { name: 'What it was' }), 'marine-ich')
    await user.click(screen.getByRole('button', { name: 'Close the finding' }))
    await screen.findByRole('button', { name: 'Open it again' })
    expect((await stored()).findings.get('finding-gramma')!.body).toMatchObject({
      was: 'marine-ich',
      endedAt: expect.any(String),
    })
    await user.click(screen.getByRole('button', { name: 'Open it again' }))
    await screen.findByRole('button', { name: 'Close the finding' })
  })
})

describe('look-alikes', () => {
  test('every pair has both drawings', () => {
    for (const { a, b } of signPairs) expect([a, b, isDrawn(a), isDrawn(b)]).toEqual([a, b, true, true])
  })
  test('grains and dust stand side by side; a press answers both, and another pair can be chosen', async () => {
    const user = await open(<FindingPage />, at('finding-gramma'))
    const pairs = within(screen.getByRole('region', { name: 'Look-alikes' }))
    const before = (await signs()).length
    await user.click(pairs.getByRole('button', { name: /^Fine dust ?A film/ }))
    await waitFor(async () => expect(await signs()).toHaveLength(before + 2))
    expect((await signs()).slice(-2)).toEqual([
      expect.objectContaining({ sign: 'dust-fine', present: true }),
      expect.objectContaining({ sign: 'spots-salt-grain', present: false }),
    ])
    // The page has followed, and the same pair still stands there with its answer.
    await waitFor(() =>
      expect(pairs.getByRole('button', { name: /^Fine dust ?A film/ })).toHaveAttribute('aria-pressed', 'true'),
    )
    await user.click(pairs.getByText(/Other look-alikes/))
    await user.click(pairs.getByRole('button', { name: /Eroded fins or clean splits/ }))
    expect(pairs.getByRole('button', { name: /^Clean splits/ })).toBeVisible()
    await user.click(pairs.getByRole('button', { name: 'Neither of them' }))
    await waitFor(async () => expect(await signs()).toHaveLength(before + 4))
    expect((await signs()).slice(-2).map((entry) => entry.kind === 'sign' && entry.present)).toEqual([false, false])
  })
  test('where no pair is in question they are only listed, and one is opened by its name', async () => {
    const user = await open(<FindingPage />, at('finding-coral'))
    const pairs = within(screen.getByRole('region', { name: 'Look-alikes' }))
    expect(pairs.getByRole('heading', { name: 'Easily taken for each other' })).toBeVisible()
    await user.click(pairs.getByRole('button', { name: /Clear slime strings or brown jelly/ }))
    expect(pairs.getByRole('heading', { name: 'Which of the two?' })).toBeVisible()
  })
  test('what the record makes likelier is struck out line by line and kept struck', async () => {
    const user = await open(<FindingPage />, at('finding-gramma'))
    const says = within(screen.getByRole('region', { name: 'What the record says' }))
    const line = says.getByText(/The newest came in/).closest('li')!
    expect(line).toHaveTextContent(/Marine velvet × 1\.\d/)
    await user.click(within(line).getByRole('button', { name: 'Strike it out' }))
    await waitFor(async () =>
      expect((await stored()).findings.get('finding-gramma')!.body.struck).toContain('before-arrival'),
    )
    expect(await within(line).findByRole('button', { name: 'Count it' })).toBeVisible()
  })
})

describe('a film', () => {
  test('a patch is blown off: its clock is on the ledger, a yes answers at once, a no only after a day', async () => {
    const user = await open(<FindingPage />, at('finding-film'))
    const panel = within(screen.getByRole('region', { name: 'Tests that take time' }))
    await user.click(panel.getByRole('button', { name: 'Blown off now' }))
    await waitFor(async () =>
      expect((await stored()).entries.at(-1)).toMatchObject({ kind: 'check', step: 'finding-film/test/blow-off' }),
    )
    expect(await panel.findByText('look in 2 h')).toBeVisible()
    expect(panel.getByRole('button', { name: 'Still clean after a day' })).toBeDisabled()
    await user.click(panel.getByRole('button', { name: 'It is back' }))
    await waitFor(async () => expect((await signs()).at(-1)).toMatchObject({ sign: 'back-in-24h', present: true }))
    expect(await panel.findByRole('button', { name: 'Blown off now' })).toBeVisible()
  })
  test('the record speaks by itself, and can be struck out', async () => {
    const user = await open(<FindingPage />, at('finding-film'))
    expect(screen.getByText(/Nitrate 0.5 mg\/L and phosphate 0.01 mg\/L/)).toBeVisible()
    const ranking = screen.getByRole('region', { name: 'Ranking' })
    expect(ranking).toHaveTextContent(/Ostreopsis/)
    const before = within(ranking).getAllByRole('listitem')[0]!.textContent
    const strike = screen.getAllByRole('button', { name: 'Strike it out' })[0]!
    await user.click(strike)
    await waitFor(async () =>
      expect((await stored()).findings.get('finding-film')!.body.struck).toEqual(['h-nutrients-bottomed']),
    )
    await waitFor(() => expect(within(ranking).getAllByRole('listitem')[0]!.textContent).not.toBe(before))
  })
})

describe('beginning', () => {
  test('a subject and a vessel are enough; an empty one proposes a look and ranks nothing yet', async () => {
    const user = await open(<FindingsPage />, { route: '/findings' })
    expect(screen.getByText('Black brush algae, 95 %')).toBeVisible()
    await user.click(screen.getByText('Something crawling'))
    await user.selectOptions(screen.getByRole('combobox', { name: 'Vessel' }), 'fernwater')
    await user.click(screen.getByRole('button', { name: 'Look at it' }))
    await waitFor(async () => {
      const made = [...(await stored()).findings.values()].find(({ body }) => body.pool === 'pest-fresh')
      expect(made?.body).toMatchObject({ vesselId: 'fernwater', title: 'Something crawling in Fernwater' })
    })
  })
})
