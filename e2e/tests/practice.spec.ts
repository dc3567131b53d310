// A practice tank lived on the screens of a real one, left and taken up again, looked back on; nothing of it in the keeper's file.
import { readFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { EMPTY, visit } from './helpers.ts'
import { Keeper } from './house.ts'

test.use({ storageState: EMPTY })
// The same luck each time: what a kit shows is as good as its error, and a test that asks for better fails now and then.
test.beforeEach(({ page }) =>
  page.addInitScript(() => {
    let state = 2718
    Math.random = () => (state = (state * 16_807) % 2_147_483_647) / 2_147_483_647
  }),
)

const bar = (page: Page) => page.getByRole('region', { name: 'Clock, eyes and hands' })
const dayOf = async (page: Page) => (await bar(page).getByRole('heading').innerText()).replace(/.*day /, '')

test('an unripe tub: looked at, tested, changed, left and taken up again, looked back on; the own record stays as it was', async ({
  page,
}) => {
  const keeper = new Keeper(page, '2027-03-01T16:20:00Z')
  await keeper.begin()
  await keeper.vessel('Reef', { cm: [90, 45, 50], water: 'Marine', use: /Display/ })
  await keeper.go('/practice')
  await page.getByRole('button', { name: 'Begin: Ammonia in an unripe tub' }).click()
  await expect(bar(page)).toContainText('Ammonia in an unripe tub')
  await expect(page.getByRole('link', { name: /Practice tank/ }).first()).toBeVisible()

  await bar(page).getByRole('button', { name: 'Look', exact: true }).click()
  await expect(bar(page)).toContainText('Tang: nothing to see.')
  // Three days with nobody looking, then a test: what the kit shows is written down by a press.
  const began = await dayOf(page)
  for (let i = 0; i < 10; i++) {
    const before = await dayOf(page)
    await bar(page).getByRole('button', { name: '+6 h' }).click()
    await expect.poll(() => dayOf(page)).not.toBe(before)
  }
  expect(await dayOf(page)).not.toBe(began)
  await bar(page).getByRole('combobox', { name: 'A kit' }).selectOption('ammonia-total')
  await bar(page).getByRole('button', { name: 'Use it' }).click()
  const shown = await bar(page).locator('.mono').innerText()
  expect(Number(/[\d.]+/.exec(shown)![0])).toBeGreaterThan(0.3)
  await bar(page).getByRole('button', { name: 'Write it down' }).click()
  await expect(bar(page)).toContainText('written down')
  // The change is done by writing it down, as with a real tank; then the water holds less.
  await page.keyboard.press('Escape')
  await page.keyboard.press('l')
  const dialog = page.getByRole('dialog')
  await dialog.getByText('Water change', { exact: true }).click()
  await dialog
    .getByRole('textbox', { name: /How much|Share|Change/i })
    .first()
    .fill('50 %')
  await page.keyboard.press('Enter')
  await expect(dialog).toHaveCount(0)
  await bar(page).getByRole('button', { name: '+1 h' }).click()
  await bar(page).getByRole('combobox', { name: 'A kit' }).selectOption('ammonia-total')
  await bar(page).getByRole('button', { name: 'Use it' }).click()
  const after = Number(/[\d.]+/.exec(await bar(page).locator('.mono').innerText())![0])
  expect(after).toBeLessThan(0.75 * Number(/[\d.]+/.exec(shown)![0]))

  // Left, and taken up again a week later: it stands where it stood.
  const stood = await dayOf(page)
  await bar(page).getByRole('button', { name: 'Leave it' }).click()
  await expect(bar(page)).toHaveCount(0)
  await expect(page.getByRole('link', { name: /Reef/ }).first()).toBeVisible()
  await keeper.wait(24 * 7, '/practice')
  await page.getByRole('button', { name: 'Go on with it' }).click()
  await expect.poll(() => dayOf(page)).toBe(stood)
  await visit(page, '/ledger')
  await expect(page.getByRole('button', { name: 'Export everything' })).toHaveCount(0)

  await bar(page).getByRole('button', { name: 'Look back' }).click()
  await expect(page.getByRole('heading', { name: 'One thing to do otherwise' })).toBeVisible({ timeout: 60_000 })
  await expect(page.getByRole('row', { name: /Animals that live/ })).toContainText('100 %')
  await expect(page.getByText(/50 % .*: ammonia would have reached|Without any single one/)).toBeVisible()
  await page.getByRole('button', { name: 'Back to my record' }).click()
  await expect(page.getByRole('link', { name: /Reef/ }).first()).toBeVisible()

  await keeper.go('/ledger')
  const [download] = await Promise.all([page.waitForEvent('download'), keeper.press('Export everything')])
  const path = test.info().outputPath('own.json')
  await download.saveAs(path)
  const file = JSON.parse(readFileSync(path, 'utf8')) as { entries: unknown[]; registers: { id: string }[] }
  expect(file.entries).toEqual([])
  expect(file.registers).toHaveLength(1)
  expect(JSON.stringify(file)).not.toMatch(/practice/i)
})

test('looks, sums and a tank of one’s own, by keyboard', async ({ page }) => {
  const keeper = new Keeper(page, '2027-03-01T16:20:00Z')
  await keeper.begin()
  await keeper.go('/practice/drills')
  await page.getByRole('textbox', { name: 'Your answer' }).focus()
  const question = await page.getByText(/L of water are to hold/).innerText()
  const [litres, level, strength] = question.match(/\d+(?:\.\d+)?/g)!.map(Number) as [number, number, number]
  await page.keyboard.type(((litres * level) / strength).toPrecision(4))
  await page.keyboard.press('Enter')
  await expect(page.getByRole('status').filter({ hasText: 'Right' })).toContainText('By what it needs')
  await page.keyboard.press('Enter')
  await page.getByRole('textbox', { name: 'Your answer' }).fill('a lot')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/is not a number|number/).first()).toBeVisible()

  await keeper.go('/practice/looks')
  for (let i = 0; i < 2; i++) {
    await page.getByRole('radiogroup', { name: 'What is it?' }).getByRole('radio').first().focus()
    await page.keyboard.press('Space')
    await page.getByRole('radiogroup', { name: 'How sure?' }).getByRole('radio').first().focus()
    await page.keyboard.press('Space')
    await page.getByRole('button', { name: 'Name it' }).focus()
    await page.keyboard.press('Enter')
    await expect(page.getByRole('status').filter({ hasText: /Yes:|It was/ })).toContainText('the tables give it')
    await page.getByRole('button', { name: 'Next case' }).click()
  }
  await keeper.go('/practice')
  await expect(page.getByLabel('Your practice')).toContainText('three practices')

  await keeper.go('/practice/write')
  const text = page.getByRole('textbox', { name: 'The tank, as JSON' })
  const written = await text.inputValue()
  await text.fill(written.replace('"water": "marine"', '"water": "fresh"'))
  await expect(page.getByText(/This tank cannot be: course: .* is for marine water/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Begin it' })).toBeDisabled()
  await text.fill(written.replace(/"title": "[^"]*"/, '"title": "The one in the shed"'))
  await page.getByRole('button', { name: 'Begin it' }).click()
  await expect(bar(page)).toContainText('The one in the shed')
})

test('a bag of thirty hours: measured, the tank brought to it tonight, moved by the clock, and back by steps', async ({
  page,
}) => {
  const keeper = new Keeper(page, '2027-03-01T16:20:00Z')
  await keeper.begin()
  await keeper.go('/practice')
  await page.getByRole('button', { name: 'Begin: Thirty hours in the bag' }).click()
  await expect(page.getByRole('heading', { level: 1, name: /one bag waits/ })).toBeVisible()
  await bar(page).getByRole('button', { name: 'Measure bag 1' }).click()
  await expect(bar(page)).toContainText(/PSU, pH 6\.\d, ammonia/)
  const bag = Number(/([\d.]+) PSU/.exec(await bar(page).innerText())![1])
  await bar(page).getByRole('button', { name: 'Write it down' }).click()
  const kit = async (analyte: string) => {
    await bar(page).getByRole('combobox', { name: 'A kit' }).selectOption(analyte)
    await bar(page).getByRole('button', { name: 'Use it' }).click()
    await bar(page).getByRole('button', { name: 'Write it down' }).click()
    await expect(bar(page)).toContainText('written down')
  }
  await kit('temperature')
  await kit('salinity')
  await bar(page).getByRole('link', { name: 'Practice delivery' }).click()
  await expect(page.getByText('Nobody has noted')).toHaveCount(0)
  await page.getByRole('button', { name: 'Look it over' }).click()
  await page.getByRole('dialog').getByText('All of it is good').click()
  await page.getByRole('dialog').getByRole('button', { name: 'Note it' }).click()
  await page.getByRole('link', { name: 'Compare the methods' }).first().click()
  await page.getByRole('link', { name: /Bring the tank to/ }).click()
  // Tonight, not tomorrow: one step of water in which nobody lives.
  await expect(page.getByText('at least').locator('..')).toContainText('today')
  await page.getByRole('button', { name: 'Start the course' }).click()
  await page.getByRole('button', { name: /^Set, log it/ }).click()
  await expect(page.getByRole('main')).toContainText('run through')
  await kit('salinity')
  expect(Math.abs(Number(/([\d.]+) +PSU/.exec(await bar(page).innerText())![1]) - bag)).toBeLessThan(1.5)

  await bar(page).getByRole('link', { name: 'Practice delivery' }).click()
  await page.getByRole('link', { name: 'Compare the methods' }).first().click()
  await page.getByRole('button', { name: 'Use it and go to the tank' }).click()
  const thumb = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' })
  await thumb('It floats').click()
  // The clock of the practice stands over the clock at the tank, and goes to the minute of its next press.
  await bar(page).getByRole('button', { name: 'To what comes next' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Open the bag' })).toBeVisible()
  await thumb('Bag is open').click()
  await bar(page).getByRole('button', { name: 'To what comes next' }).click()
  await thumb('It is in the water').click()
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText(/Bring the tank back from/)
  await dialog.getByRole('button', { name: 'It is in the water' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'In the water' })).toBeVisible()
  await bar(page).getByRole('button', { name: 'Look', exact: true }).click()
  await expect(bar(page)).toContainText('Chromis: nothing to see.')

  // A second window at the same tank hears that the clock went on, and its own press does not put it back.
  const other = await page.context().newPage()
  await other.goto(new URL('/practice', page.url()).href)
  await other.getByRole('button', { name: 'Go on with it' }).click()
  const stood = await dayOf(other)
  await page.getByRole('link', { name: /Practice delivery/ }).click()
  await bar(page).getByRole('button', { name: '+6 h' }).click()
  await expect.poll(() => dayOf(other)).not.toBe(stood)
  const later = await dayOf(page)
  expect(await dayOf(other)).toBe(later)
  await other.close()

  await bar(page).getByRole('button', { name: 'Look back' }).click()
  await expect(page.getByRole('heading', { name: 'One thing to do otherwise' })).toBeVisible({ timeout: 60_000 })
  await expect(page.getByRole('figure', { name: /Free ammonia around them/ })).toBeVisible()
  await expect(page.getByRole('row', { name: /Free ammonia in bag or tub/ })).toBeVisible()

  // Another one begun from within this one: its own record stands there, nothing of the bag.
  await page.getByRole('link', { name: 'Another one' }).click()
  await page.getByRole('button', { name: 'Begin: Ammonia in an unripe tub' }).click()
  await expect(bar(page)).toContainText('Ammonia in an unripe tub day 1')
  await expect(bar(page).getByRole('button', { name: 'Measure bag 1' })).toHaveCount(0)
  await expect(page.getByText('Practice delivery')).toHaveCount(0)
})
