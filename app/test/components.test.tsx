import '@testing-library/jest-dom/jest-globals'
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import { cleanup, render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { MemoryRouter } from 'react-router'
import { doseFor, litres, mayPass, mgPerL, type ActAnswer, type Refusal } from '@brinvo/core'
import { Choice, Field } from '../src/design/fields.tsx'
import { WorkingButton } from '../src/design/Working.tsx'
import { HazardCard } from '../src/parts/HazardCard.tsx'
import { Refusals } from '../src/parts/Refusals.tsx'
import { NO_OVERRIDE } from '../src/parts/useCommit.ts'
import { open } from './harness.tsx'
import { clockSentence, stripWindow } from '../src/parts/Strip.tsx'

afterEach(cleanup)
const block: Refusal = { rule: 'safe-ceiling', level: 'block', message: 'Over the hard maximum.' }
const refuse: Refusal = { rule: 'cu-invertebrates', level: 'forbid', message: 'Shrimps are in.' }
const ask: Refusal = { rule: 'twice', level: 'ask', message: 'Really twice?' }

const answered = (found: readonly Refusal[]): ActAnswer => ({
  problem: null,
  preview: { lines: [] },
  questions: found.filter(({ level }) => level === 'ask'),
  refusals: found.filter(({ level }) => level !== 'ask'),
  drafts: [],
  documents: [],
  said: '',
})

test('a choice is named once: by words beside it, or only to a screen reader', () => {
  const options = [{ value: 'a', label: 'First' }]
  const { rerender } = render(<Choice label="Which" value="a" onChange={() => undefined} options={options} />)
  expect(screen.getByText('Which')).toBeVisible()
  expect(screen.getByRole('radiogroup', { name: 'Which' })).toBeInTheDocument()
  rerender(<Choice label="Which" hideLabel value="a" onChange={() => undefined} options={options} />)
  expect(screen.queryByText('Which')).toBeNull()
  expect(screen.getByRole('radiogroup', { name: 'Which' })).toBeInTheDocument()
})

describe('refusals', () => {
  test.each([
    [[], NO_OVERRIDE, true],
    [[ask], NO_OVERRIDE, false],
    [[ask], { words: '', confirmed: true }, true],
    [[block], { words: 'no', confirmed: true }, false],
    [[block], { words: 'because I spilled it', confirmed: false }, true],
    [[block, refuse], { words: 'because I spilled it', confirmed: true }, false],
    // Words do not answer a question, and a tick is no reading.
    [[block, ask], { words: 'because I spilled it', confirmed: false }, false],
    [[block, ask], { words: 'because I spilled it', confirmed: true }, true],
    [[{ ...ask, needs: 'temperature' as const }], { words: '', confirmed: true }, false],
  ])('%j with %j passes: %p', (refusals, override, passes) =>
    expect(mayPass(answered(refusals), override)).toBe(passes),
  )
  test('a block offers words, a refusal offers nothing', async () => {
    const onOverride = jest.fn()
    const user = await open(<Refusals refusals={[block]} override={NO_OVERRIDE} onOverride={onOverride} />)
    await user.type(screen.getByRole('textbox', { name: /write why/ }), 'x')
    expect(onOverride).toHaveBeenCalledWith({ words: 'x', confirmed: false })
    cleanup()
    await open(<Refusals refusals={[refuse]} override={NO_OVERRIDE} onOverride={onOverride} />)
    expect(screen.queryByRole('textbox')).toBeNull()
    expect(screen.getByText(/There is no override/)).toBeInTheDocument()
  })
})

test('a field reads its unit with its label and shows its fault', () => {
  render(<Field label="Copper" unit="mg/L" value="x" onChange={() => undefined} error="That is not a number." />)
  const box = screen.getByRole('textbox', { name: 'Copper (mg/L)' })
  expect(box).toBeInvalid()
  expect(box).toHaveAccessibleDescription(/not a number/)
})

test('a working opens with formula, inputs and the check backwards', async () => {
  const dose = doseFor({
    volumeL: litres(68),
    currentMgPerL: mgPerL(0),
    targetMgPerL: mgPerL(0.75),
    content: { mg: 10, per: 'mL' },
  })
  if (!dose.ok) throw new Error('dose')
  render(<WorkingButton working={dose.value.working} />)
  await userEvent.click(screen.getByRole('button', { name: 'Working' }))
  expect(await screen.findByRole('dialog', { name: 'Dose' })).toHaveTextContent(/net volume68 L/)
  expect(screen.getByText(/Checked backwards/)).toBeInTheDocument()
})

test('hazards come with first aid one press away', async () => {
  render(
    <MemoryRouter>
      <HazardCard hazardIds={['copper']} short />
    </MemoryRouter>,
  )
  expect(screen.getByText(/Gloves and goggles on/)).toBeInTheDocument()
  await userEvent.click(screen.getByRole('button', { name: /First aid/ }))
  expect(await screen.findByText(/do not make the person vomit/)).toBeInTheDocument()
})

test('the strip frames now, whatever the stretch', () => {
  const now = Date.parse('2026-11-23T18:20:00Z')
  for (const view of ['course', 'week', 'two-days'] as const) {
    for (const origin of [null, now - 9 * 86_400_000, now - 3_600_000]) {
      const { fromMs, toMs } = stripWindow(view, now, origin, 'Europe/Berlin')
      expect(fromMs).toBeLessThan(now)
      expect(toMs).toBeGreaterThan(now)
    }
  }
})

test('two days of the strip are a day and a half back and half a day on; a course shows its beginning', () => {
  const now = Date.parse('2026-11-23T18:20:00Z')
  const hours = (view: 'course' | 'week' | 'two-days', origin: number | null) => {
    const { fromMs, toMs } = stripWindow(view, now, origin, 'Europe/Berlin')
    return [(now - fromMs) / 3_600_000, (toMs - now) / 3_600_000]
  }
  expect(hours('two-days', null)).toEqual([36, 12])
  // Berlin is an hour ahead: midnight six days ago lies 6 × 24 + 19 h 20 min back.
  expect(hours('week', null)).toEqual([expect.closeTo(6 * 24 + 19 + 20 / 60, 9), 36])
  // Ten days of a course: 3.6 h before it, four days ahead at most.
  expect(hours('course', now - 240 * 3_600_000)).toEqual([expect.closeTo(240 + 3.6, 9), 96])
  expect(hours('course', now - 3_600_000)).toEqual([4, 36])
})

test('the clock is told in one sentence with its reasons', () => {
  const clock = {
    creditedH: 105,
    remainingH: 615,
    requiredH: 720,
    resets: [],
    intervals: [
      { fromH: 0, toH: 70, state: 'refused', reason: 'not-started' },
      { fromH: 140, toH: 173, state: 'refused', reason: 'below' },
    ],
  }
  expect(clockSentence({ clock } as never)).toBe('4 d 9 h credited of 30 d · 1 d 9 h refused: level below the band')
})
