// The instruments for water: numbers that stand at once, and a sentence for what cannot be.
import '@testing-library/jest-dom/jest-globals'
import { afterEach, describe, expect, jest, test } from '@jest/globals'
import { cleanup, screen, within } from '@testing-library/react'
import type { UserEvent } from '@testing-library/user-event'
import { BenchPage } from '../src/features/bench/BenchPage.tsx'
import { open } from './harness.tsx'

jest.setTimeout(60_000)
afterEach(cleanup)

async function tool(name: string): Promise<UserEvent> {
  const user = await open(<BenchPage />)
  await user.click(screen.getByText(name, { selector: 'label' }))
  return user
}
async function type(user: UserEvent, field: RegExp | string, text: string) {
  const box = screen.getByRole('textbox', { name: field })
  await user.clear(box)
  if (text !== '') await user.type(box, text)
}
/** What stands beside a term of the facts. */
const fact = (term: string | RegExp) => screen.getByText(term, { selector: 'dt' }).nextElementSibling
const large = (unit: string) => screen.getByText(unit, { selector: 'small' }).parentElement

describe('salinity', () => {
  test('a gravity read with a glass made for 25 °C, and the same water by a glass made for 20', async () => {
    const user = await tool('Salinity')
    // Nothing is read until somebody read it.
    expect(screen.getByText('Type a reading with its temperature.')).toBeInTheDocument()
    await type(user, /^Reading/, '1.0264')
    expect(large('PSU')).toHaveTextContent(/^3[45](\.\d+)? PSU$/)
    expect(fact('conductivity at 25 °C')).toHaveTextContent(/^53\.\d mS\/cm$/)
    expect(fact('oxygen it can hold')).toHaveTextContent(/^6\.7\d mg\/L$/)
    const before = Number.parseFloat(large('PSU')!.textContent)
    await type(user, /^Instrument calibrated at/, '20')
    // A glass for cooler, heavier water reads lower: the same reading then means saltier water.
    expect(Number.parseFloat(large('PSU')!.textContent)).toBeGreaterThan(before + 1)
  })
  test('each of the three ways in leads to sea water', async () => {
    const user = await tool('Salinity')
    await user.click(screen.getByText('PSU (ppt)', { selector: 'label' }))
    await type(user, /^Reading/, '35')
    expect(large('PSU')).toHaveTextContent('35 PSU')
    expect(fact('specific gravity 25/25')).toHaveTextContent('1.0264')
    await user.click(screen.getByText('Conductivity', { selector: 'label' }))
    // Thirty-five of one thing is not thirty-five of another.
    expect(screen.getByRole('textbox', { name: /^Reading/ })).toHaveValue('')
    await type(user, /^Reading/, '53.1')
    expect(large('PSU')).toHaveTextContent(/^3[45](\.\d+)? PSU$/)
  })
  test.each([
    ['1025', /lies between 0.99 and 1.05 SG/],
    ['salty', /number/],
  ])('%s is answered at the field and no number stands', async (text, sentence) => {
    const user = await tool('Salinity')
    await type(user, /^Reading/, text)
    expect(screen.getByText(sentence)).toBeInTheDocument()
    expect(screen.getByText('Type a reading with its temperature.')).toBeInTheDocument()
    expect(screen.queryByText('PSU', { selector: 'small' })).toBeNull()
  })
  test('the number opens its working', async () => {
    const user = await tool('Salinity')
    await type(user, /^Reading/, '1.0264')
    await user.click(screen.getByRole('button', { name: 'Working' }))
    const dialog = await screen.findByRole('dialog')
    expect(dialog).toHaveTextContent(/EOS-80/)
    expect(within(dialog).getByRole('row', { name: /^calibration/ })).toHaveTextContent('25 °C')
  })
})

describe('ammonia', () => {
  test('half a milligram in the sea at pH 8.1 is told with its band; half a unit of pH makes it urgent', async () => {
    const user = await tool('Free ammonia')
    expect(screen.getByText(/needs pH, temperature and salinity/)).toBeInTheDocument()
    await type(user, /^Reading/, '0.5')
    await type(user, /^pH/, '8.1')
    const free = Number.parseFloat(large('mg/L')!.textContent)
    expect(free).toBeGreaterThan(0.02)
    expect(free).toBeLessThan(0.03)
    expect(large('mg/L')).toHaveTextContent(/watch: test again in 6 to 12 h/)
    await type(user, /^pH/, '8.6')
    expect(large('mg/L')).toHaveTextContent(/act (today|now)/)
    await type(user, /^pH/, '7.2')
    expect(large('mg/L')).toHaveTextContent(/calm/)
  })
  test('a badge and a drop test of the same water are one number, told two ways', async () => {
    const user = await tool('Free ammonia')
    await type(user, /^Reading/, '0.5')
    await type(user, /^pH/, '8.1')
    const free = Number.parseFloat(large('mg/L')!.textContent)
    await user.click(screen.getByText('Free (badge)', { selector: 'label' }))
    await type(user, /^Reading/, String(free))
    expect(Number.parseFloat(fact('total ammonia, as N')!.textContent)).toBeCloseTo(0.5, 1)
  })
  test('told as NH₃ the same figure is less nitrogen', async () => {
    const user = await tool('Free ammonia')
    await type(user, /^Reading/, '0.5')
    await type(user, /^pH/, '8.1')
    await user.selectOptions(screen.getByRole('combobox', { name: 'Told as' }), 'nh3')
    expect(fact('total ammonia, as N')).toHaveTextContent('0.411 mg/L')
  })
  test('without a pH nothing is made up', async () => {
    const user = await tool('Free ammonia')
    await type(user, /^pH/, '')
    expect(screen.getByText(/needs pH, temperature and salinity/)).toBeInTheDocument()
    await type(user, /^pH/, '70')
    expect(screen.getByText(/lies between 4 and 11/)).toBeInTheDocument()
    expect(screen.queryByText('mg/L', { selector: 'small' })).toBeNull()
  })
})

describe('drip', () => {
  test('a rate becomes drops, and drops a rate', async () => {
    const user = await tool('Drip')
    // 1 L/h of 20 drops a millilitre: 20 000 drops in 3600 s.
    expect(large('drops a second')).toHaveTextContent('5.6 drops a second')
    expect(screen.getByText(/16.7 mL in a minute/)).toBeInTheDocument()
    await type(user, /^Wanted/, '0.1')
    expect(large('s')).toHaveTextContent('one in 1.8 s')
    await type(user, /counted in a minute/, '120')
    expect(large('L/h')).toHaveTextContent('0.36 L/h')
  })
  test('a drop of a litre is answered', async () => {
    const user = await tool('Drip')
    await type(user, /^Drops in a millilitre/, '0')
    expect(screen.getByText(/Drops in a millilitre lies between 5 and 60/)).toBeInTheDocument()
    expect(screen.getByText('A rate, or drops counted in a minute.')).toBeInTheDocument()
  })
})

describe('salt water', () => {
  test('twenty litres of sea water: the salt, the fresh water, and a yield that asks for more', async () => {
    const user = await tool('Salt water')
    expect(large('g of mix')).toHaveTextContent('796 g of mix')
    expect(screen.getByText(/in 19.7 L of fresh water, made up to 20 L/)).toBeInTheDocument()
    await type(user, /^Salt in the mix/, '1')
    expect(large('g of mix')).toHaveTextContent('716 g of mix')
    await type(user, /^Batch/, '200')
    expect(large('kg of mix')).toHaveTextContent('7.16 kg of mix')
  })
  test('half of a vessel is its net water halved, not its glass', async () => {
    const user = await tool('Salt water')
    await user.selectOptions(screen.getByRole('combobox', { name: 'For' }), 'half of Holding A')
    const litres = Number((screen.getByRole('textbox', { name: /^Batch/ }) as HTMLInputElement).value)
    expect(litres).toBeGreaterThan(30)
    expect(litres).toBeLessThan(37)
  })
  test('a yield of two is answered', async () => {
    const user = await tool('Salt water')
    await type(user, /^Salt in the mix/, '2')
    expect(screen.getByText(/The yield lies between 0.5 and 1/)).toBeInTheDocument()
    expect(screen.getByText('Litres, salinity, temperature.')).toBeInTheDocument()
  })
})

describe('ultraviolet', () => {
  test('dose first: the flow at which this lamp gives it, from its plate or its chamber', async () => {
    const user = await tool('Ultraviolet')
    // 90 mJ/cm² at 400 L/h is 60 at 600.
    expect(large('mJ/cm²')).toHaveTextContent('60 mJ/cm²')
    // 35 wanted: 90 × 400 ÷ 35 = 1029 L/h.
    expect(fact('flow for 35 mJ/cm²')).toHaveTextContent('1000 L/h at most')
    await user.selectOptions(screen.getByRole('combobox', { name: 'Against' }), '100')
    expect(fact('flow for 100 mJ/cm²')).toHaveTextContent('360 L/h at most')
    expect(screen.getByText(/Too fast: it gives 60 of the 100 mJ\/cm² wanted/)).toBeVisible()
    await user.selectOptions(screen.getByRole('combobox', { name: 'The lamp is known by' }), 'chamber')
    // 10 mW/cm² over 0.6 L at 600 L/h: 3.6 s, 36 mJ/cm².
    expect(large('mJ/cm²')).toHaveTextContent('36 mJ/cm²')
    await type(user, /^Lamp has run/, '9000')
    expect(fact('lamp gives now')).toHaveTextContent('60 % of new')
    await type(user, /^Flow/, '0')
    expect(screen.getByText(/Flow: between 1 and 20000 L\/h/)).toBeVisible()
  })
})

describe('pest rounds', () => {
  test('rounds and looks for a pest, and no promise for a weak round', async () => {
    const user = await tool('Pest rounds')
    await user.selectOptions(screen.getByRole('combobox', { name: 'Pest' }), 'zoanthid-nudibranch')
    expect(await screen.findByText(/% chance that none is left/, undefined, { timeout: 20_000 })).toBeVisible()
    expect(fact('eggs hatch after')).toHaveTextContent(/d$/)
    await type(user, /^A round takes of the mobile ones/, '10')
    expect(
      await screen.findByText(/No number of rounds up to twelve will do/, undefined, { timeout: 20_000 }),
    ).toBeVisible()
  })
})

describe('changes to a target', () => {
  test('as many as the limits ask for, and none where new water cannot help', async () => {
    const user = await tool('Changes to a target')
    expect(screen.getByText('Type value, target and new water; the answer stands here.')).toBeVisible()
    await type(user, /^Value now/, '40')
    await type(user, /^Target/, '20')
    expect(screen.getByText(/equal changes? bring/)).toHaveTextContent(
      /40 to 20 mg\/L; their size is set by the largest single change/,
    )
    await type(user, /^Alkalinity of new water/, '5')
    expect(screen.getByText(/equal changes? bring/)).toHaveTextContent(/^Seven equal changes/)
    expect(screen.getByText(/their size is set by alkalinity/)).toBeVisible()
    await type(user, /^In the new water/, '30')
    expect(screen.getByText(/never brings 40 to 20 mg\/L/)).toBeVisible()
    await type(user, /^Target/, 'x')
    expect(screen.getByText('Type value, target and new water; the answer stands here.')).toBeVisible()
  })
})

describe('over together', () => {
  test('what runs stands beside what is to come, with the latest day to begin, and what holds it up', async () => {
    const user = await tool('Over together')
    const before = screen.getAllByRole('row').length
    // The demonstration’s fish-free display runs: its end is the common day.
    expect(screen.getByRole('row', { name: /Fish-free display.*runs/ })).toBeInTheDocument()
    const box = screen.getByRole('combobox', { name: /What is to come in/ })
    await user.selectOptions(box, 'freshwater-dip')
    await user.click(screen.getByRole('button', { name: 'Add it' }))
    expect(screen.getAllByRole('row')).toHaveLength(before + 1)
    const end = () =>
      screen.getByText('All of it can be over then', { exact: false }).previousElementSibling!.textContent
    const early = end()
    await user.selectOptions(box, 'coral-intake-76')
    await user.click(screen.getByRole('button', { name: 'Add it' }))
    // Seventy-six days from today are later than anything that runs.
    expect(end()).not.toBe(early)
    expect(screen.getByRole('row', { name: /Coral intake.*today/ })).toBeInTheDocument()
    expect(screen.getByText(/holds the others up by \d+ days, begun today/)).toBeInTheDocument()
    await user.click(screen.getByRole('button', { name: 'Take the last away' }))
    expect(end()).toBe(early)
  })
})
