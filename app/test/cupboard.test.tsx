// The cupboard on the way: what was set out for stands there, and what is kept leads back to what needed it.
import '@testing-library/jest-dom/jest-globals'
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { CupboardPage } from '../src/features/cupboard/CupboardPage.tsx'
import { wayBack } from '../src/shell/wayBack.ts'
import { open, stored } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(() => cleanup())

const BACK = '/courses/new?protocol=spot-peroxide-fresh&vessel=holding-b'
const asked = (query: string) => ({ route: '/cupboard', at: `/cupboard?${query}&then=${encodeURIComponent(BACK)}` })

describe('registered on the way', () => {
  test('a bottle: its form stands there, and kept it leads back with all that was chosen', async () => {
    const user = await open(<CupboardPage />, asked('add=bottle&form=peroxide-bath'))
    const dialog = await screen.findByRole('dialog', { name: 'Register a bottle' })
    expect(within(dialog).getByRole('combobox', { name: /Form/ })).toHaveValue('peroxide-bath')
    await user.type(within(dialog).getByRole('textbox', { name: 'Name' }), 'Brown bottle')
    await user.type(within(dialog).getByRole('textbox', { name: /^Strength/ }), '12')
    await user.click(within(dialog).getByText(/I hold the bottle/))
    await user.click(within(dialog).getByRole('button', { name: 'Save' }))
    await waitFor(() => expect(screen.getByLabelText('address')).toHaveTextContent('/courses/new'))
    expect([...(await stored()).products.values()].map(({ body }) => body.name)).toContain('Brown bottle')
  })
  test('put away without being kept it leads nowhere', async () => {
    const user = await open(<CupboardPage />, asked('add=bottle&form=peroxide-bath'))
    await screen.findByRole('dialog', { name: 'Register a bottle' })
    await user.keyboard('{Escape}')
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull())
    expect(screen.getByLabelText('address')).toHaveTextContent('/cupboard')
  })
  test('a kit: what it is to measure stands there; only copper comes in forms', async () => {
    const user = await open(<CupboardPage />, asked('add=kit&analyte=nitrate'))
    const dialog = await screen.findByRole('dialog', { name: 'Register a test kit' })
    const measures = within(dialog).getByRole('combobox', { name: 'Measures' })
    expect(measures).toHaveValue('nitrate')
    expect(within(dialog).queryByRole('group', { name: /Reads, by its leaflet/ })).toBeNull()
    await user.selectOptions(measures, 'copper')
    const forms = within(within(dialog).getByRole('group', { name: /Reads, by its leaflet/ })).getAllByRole('checkbox')
    expect(forms.length).toBeGreaterThan(2)
    for (const form of forms) expect(form).toHaveAccessibleName(/copper/i)
  })
  test('how fine it reads follows from its kind, and what the leaflet says stays', async () => {
    const user = await open(<CupboardPage />, asked('add=kit&analyte=nitrate'))
    const dialog = within(await screen.findByRole('dialog', { name: 'Register a test kit' }))
    const step = () => dialog.getByRole('textbox', { name: /^Smallest step/ })
    const error = () => dialog.getByRole('textbox', { name: /^Error/ })
    await user.type(dialog.getByRole('textbox', { name: 'Name' }), 'Vials')
    // Nothing is taken for granted of a kit nobody described.
    expect(step()).toHaveValue('')
    await user.click(dialog.getByRole('button', { name: 'Save' }))
    expect(dialog.getByRole('alert')).toHaveTextContent(/What kind/)
    await user.selectOptions(dialog.getByRole('combobox', { name: 'Kind' }), 'Drop test')
    expect([step(), error()].map((field) => (field as HTMLInputElement).value)).toEqual(['5', '25'])
    await user.clear(error())
    await user.type(error(), '12')
    await user.selectOptions(dialog.getByRole('combobox', { name: 'Kind' }), 'Photometer')
    expect([step(), error()].map((field) => (field as HTMLInputElement).value)).toEqual(['0.5', '12'])
    await user.click(dialog.getByRole('button', { name: 'Save' }))
    await waitFor(async () =>
      expect([...(await stored()).instruments.values()].find(({ body }) => body.name === 'Vials')?.body).toMatchObject({
        analyte: 'nitrate',
        step: 0.5,
        relativeError: 0.12,
      }),
    )
  })
  test.each([
    ['/courses/new?x=1', '/courses/new?x=1'],
    ['//elsewhere.example', null],
    ['/\\elsewhere.example', null],
    ['https://elsewhere.example/', null],
    ['', null],
    [null, null],
  ])('the way back %s leads to %s', (then, to) => expect(wayBack(then)).toBe(to))
})
