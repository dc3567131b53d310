import '@testing-library/jest-dom/jest-globals'
import { afterEach, expect, jest, test } from '@jest/globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { CorrectionsPage } from '../src/features/courses/CorrectionsPage.tsx'
import { CupboardPage } from '../src/features/cupboard/CupboardPage.tsx'
import { LaboratoryPage } from '../src/features/laboratory/LaboratoryPage.tsx'
import { SamplePage } from '../src/features/laboratory/SamplePage.tsx'
import { open, stored } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(cleanup)

const sample = (id: string) => open(<SamplePage />, { route: '/laboratory/:id', at: `/laboratory/${id}` })

test('a vial is had, by the name of its laboratory', async () => {
  const user = await open(<LaboratoryPage />, { route: '/laboratory' })
  expect(screen.getAllByText('reported')).toHaveLength(3)
  await user.clear(screen.getByRole('textbox', { name: 'Laboratory' }))
  await user.click(screen.getByRole('button', { name: 'I have the vial' }))
  expect(screen.getByText(/Which laboratory/)).toBeInTheDocument()
  await user.type(screen.getByRole('textbox', { name: 'Laboratory' }), 'North bench')
  await user.click(screen.getByRole('button', { name: 'I have the vial' }))
  await waitFor(async () =>
    expect([...(await stored()).samples.values()].filter(({ body }) => body.laboratory === 'North bench')).toHaveLength(
      1,
    ),
  )
})

test('a report that came is taken onto its sample, told at once, and taken back with its readings', async () => {
  const user = await sample('sample-away-701')
  expect(await screen.findByText('at the laboratory')).toBeInTheDocument()
  const read = (await stored()).entries.filter((entry) => entry.kind === 'reading').length
  const day = (await stored()).samples.get('sample-away-701')!.body.sampledAt!.slice(0, 10)
  await user.type(
    screen.getByRole('textbox', { name: 'Or paste the table' }),
    `Sampled;${day}\nElement;Result;Unit\nSalinity;35;ppt\nK;340;mg/L\nZn;31;µg/L\nFe;<0,5;µg/L`,
  )
  await user.click(screen.getByRole('button', { name: 'Read what is pasted' }))
  await user.click(await screen.findByRole('button', { name: 'Take the report' }))
  expect(await screen.findByText('2 of 4 out of their lines')).toBeInTheDocument()
  expect(screen.getByText(/Zinc alone is too high: another sample before anything is done/)).toBeInTheDocument()
  expect(
    screen.getByText(/This week: potassium, tested with your kit first, at most 5 mg\/L a day/),
  ).toBeInTheDocument()
  const table = screen.getByRole('region', { name: 'Every value of the report' })
  expect(table).not.toHaveTextContent('Iron')
  await user.click(screen.getByRole('button', { name: 'Show also the 1 that were not seen' }))
  expect(table).toHaveTextContent('Iron (Fe)')
  // Beside it stands the report before.
  expect(within(table).getByText('Other report')).toBeInTheDocument()
  await waitFor(async () =>
    expect((await stored()).entries.filter((entry) => entry.kind === 'reading').length).toBe(read + 2),
  )
  await user.click(screen.getByRole('button', { name: 'Take this report back' }))
  expect(await screen.findByText('at the laboratory')).toBeInTheDocument()
  const after = await stored()
  expect(after.entries.filter((entry) => entry.kind === 'void').length).toBe(2)
  expect(after.samples.get('sample-away-701')!.body.results).toBeUndefined()
})

test('several corrections: what lies low is proposed, a stock is made with its label, a doser is paused', async () => {
  const user = await open(<CorrectionsPage />, {
    route: '/water/:vesselId/corrections',
    at: '/water/longshore/corrections',
  })
  await screen.findByRole('heading', { name: /Corrections in Longshore/ })
  const box = (name: RegExp) => screen.getByRole('checkbox', { name })
  expect(box(/^Nitrate/)).toBeChecked()
  expect(box(/^Alkalinity/)).not.toBeChecked()
  await user.click(box(/^Alkalinity/))
  expect(screen.getByText(/Pours alkalinity too: what it pours is counted in/)).toBeInTheDocument()
  await user.click(screen.getByRole('button', { name: 'Paused it' }))
  await waitFor(async () =>
    expect(
      (await stored()).entries.some(
        (entry) => entry.kind === 'equipment' && entry.deviceId === 'doser-longshore' && !entry.on,
      ),
    ).toBe(true),
  )
  await user.selectOptions(
    screen.getByRole('combobox', { name: 'Salt of the stock' }),
    'Sodium bicarbonate (alkalinity)',
  )
  const strength = screen.getAllByRole('textbox', { name: /Grams in a litre/ }).at(-1)!
  await user.clear(strength)
  await user.type(strength, '60')
  expect(screen.getByLabelText('Label of the stock')).toHaveTextContent(/30 g made up to 500 mL/)
  await user.clear(strength)
  await user.type(strength, '200')
  expect(screen.getByText(/More than a litre readily takes up/)).toBeInTheDocument()
})

test('an instrument is held against a standard; off by more than three per cent it does not pass', async () => {
  const user = await open(<CupboardPage />, { route: '/cupboard' })
  const row = () => screen.getByText('pH probe in the sump').closest('li')!
  expect(await screen.findByText('pH probe in the sump')).toBeInTheDocument()
  expect(row()).toHaveTextContent(/above pH meter, in the middle of 6 pairs/)
  const before = (await stored()).instruments.get('ph-probe')!.body.checkedAt
  const check = async (standard: string, read: string) => {
    await user.click(screen.getByRole('button', { name: 'Check or calibrate pH probe in the sump' }))
    const dialog = await screen.findByRole('dialog')
    await user.type(within(dialog).getByRole('textbox', { name: /^The standard is/ }), standard)
    await user.type(within(dialog).getByRole('textbox', { name: /^It read/ }), read)
    await user.click(within(dialog).getByRole('button', { name: 'Save' }))
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
  }
  await check('7', '7.4')
  await waitFor(() => expect(row()).toHaveTextContent(/it reads 0\.4 too high/))
  expect((await stored()).instruments.get('ph-probe')!.body.checkedAt).toBe(before)
  await check('7', '7.05')
  await waitFor(async () => expect((await stored()).instruments.get('ph-probe')!.body.checkedAt).not.toBe(before))
})
