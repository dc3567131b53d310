import { readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { NOW, openDemo, registerBottle, withHoldingBFree, visit, typeDate } from './helpers.ts'

test(
  'choose between schools: the suggestion follows what is feared, and leads to its course',
  { tag: '@whole' },
  async ({ page }) => {
    await openDemo(page, '/courses/compare?vessel=holding-b')
    // What the open finding of the gramma cannot rule out is feared, until it is struck out by hand.
    const feared = page.getByRole('group', { name: 'What is feared' })
    await expect(feared.getByRole('checkbox', { name: 'Velvet' })).toBeChecked()
    while ((await feared.getByRole('checkbox', { checked: true }).count()) > 0)
      await feared.getByRole('checkbox', { checked: true }).first().uncheck({ force: true })
    await expect(page.getByRole('heading', { level: 2, name: 'Copper, 30 days in one tank' })).toBeVisible()
    const table = page.getByRole('region', { name: 'Whole quarantines' })
    expect(await table.getByRole('row').count()).toBeGreaterThan(5)
    await page.getByText('Round worms', { exact: true }).first().click()
    await expect(page.getByRole('heading', { level: 2, name: 'Fenbendazole in food, twice' })).toBeVisible()
    await page.getByText('Round worms', { exact: true }).first().click()
    await table.getByRole('link', { name: 'Look at Watch only' }).click()
    await expect(page.getByRole('radio', { name: 'Watch only' })).toBeChecked()
    await page.getByRole('button', { name: 'Start the course' }).click()
    await expect(page.getByText('Watch only runs in Holding B.')).toBeVisible()
  },
)

test('a bath is laid out first, timed, and broken off with its reason', { tag: '@whole' }, async ({ page }) => {
  await withHoldingBFree(page, '/courses/new?vessel=holding-b&protocol=freshwater-dip')
  await page.getByRole('button', { name: 'Start the course' }).click()
  await expect(page.getByText('Fresh-water dip runs in Holding B.')).toBeVisible()
  await page.getByRole('link', { name: 'Open the bath' }).first().click()
  await expect(page.getByRole('button', { name: '3 still to lay out' })).toBeDisabled()
  for (const item of [/Fresh water, dechlorinated/, /Dark-floored/, /Tank water to end/])
    await page.getByText(item).click()
  await page.getByRole('button', { name: 'The animal is in' }).click()
  await expect(page.getByText('00:0', { exact: false }).first()).toBeVisible()
  await page.clock.setFixedTime(new Date(NOW.getTime() + 3.5 * 60_000))
  await page.reload()
  await expect(page.getByText(/03:3\d/)).toBeVisible()
  await page.getByRole('textbox', { name: /What was seen/ }).fill('rolled for half a minute')
  await page.getByRole('button', { name: 'Abort: out now' }).click()
  await expect(page.getByRole('heading', { name: 'Every bath is done' })).toBeVisible()
  await visit(page, '/ledger')
  await expect(
    page.getByText(/Bath broken off after \d min: rolled for half a minute|Bath broken off/).first(),
  ).toBeVisible()
})

test(
  'a 36-hour transfer across the start of summer time is due after 36 hours, not at the same hour',
  { tag: '@whole' },
  async ({ page }) => {
    const eve = new Date('2026-03-28T18:20:00Z')
    await withHoldingBFree(page, '/courses/new?vessel=holding-b&protocol=tank-transfer-36', eve)
    await page.getByRole('combobox', { name: 'Second tub' }).selectOption({ label: 'Holding B, second tub' })
    await page.getByRole('button', { name: 'Start the course' }).click()
    for (const gate of [/Yes: Two of everything/, /Yes: Water for every stay/]) {
      await page.getByRole('button', { name: gate }).first().click()
      await expect(page.getByRole('button', { name: gate })).toHaveCount(0)
    }
    await page
      .getByRole('link', { name: /^Courses/ })
      .first()
      .click()
    await page.getByRole('link', { name: /36/ }).first().click()
    // 19:20 in winter and 36 hours are 08:20 in summer.
    await expect(page.getByText(/Mon 30 Mar 08:2\d/).first()).toBeVisible()
    await page.clock.setFixedTime(new Date(eve.getTime() + 36.2 * 3_600_000))
    await page.reload()
    await expect(page.getByText('late', { exact: true }).first()).toBeVisible()
  },
)

test('a missed day of watching stays in sight until it is noted as watched', { tag: '@whole' }, async ({ page }) => {
  await openDemo(page, '/watch/holding-b')
  await expect(page.getByText(/2 days/).first()).toBeVisible()
  await page.getByRole('button', { name: 'Thu 19 Nov: missed' }).click()
  const dialog = page.getByRole('dialog', { name: /Watched on Thu 19 Nov/ })
  await dialog.getByRole('textbox', { name: /Watched in all/ }).fill('35')
  await dialog.getByRole('button', { name: 'Note it' }).click()
  await expect(page.getByRole('button', { name: 'Thu 19 Nov: watched in full' })).toBeVisible()
  await page.getByRole('link', { name: 'Royal gramma' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Royal gramma' })).toBeVisible()
  await expect(page.getByText(/last two counts are over its alarm/)).toBeVisible()
})

test('print leaves the sheet, and the list of what to have first alone', { tag: '@whole' }, async ({ page }) => {
  await openDemo(page, '/courses/copper-holding-a/sheet')
  await page.emulateMedia({ media: 'print' })
  await expect(page.getByRole('article', { name: 'Course sheet' })).toBeVisible()
  await expect(page.getByRole('link', { name: 'Vessels' })).toBeHidden()
  await expect(page.getByRole('button', { name: 'Calendar file' })).toBeHidden()
  await page.emulateMedia({ media: 'screen' })
  await visit(page, '/courses/new?vessel=holding-a&protocol=copper-in-place-30')
  await expect(page.getByText(/of Copper, blue label/)).toBeVisible()
  await page.evaluate(() => {
    window.print = () => {
      const shown = (text: string) =>
        [...document.querySelectorAll('h1, h3')].some(
          (heading) => heading.textContent === text && heading.getClientRects().length > 0,
        )
      document.title = `${shown('Have this first')} ${shown('Start a course')}`
    }
  })
  await page.emulateMedia({ media: 'print' })
  await page.evaluate(() =>
    [...document.querySelectorAll('button')].find(({ textContent }) => textContent === 'Print')?.click(),
  )
  await expect(page).toHaveTitle('true false')
})

test('the law is asked before a prescription drug, and a no stops the course', { tag: '@whole' }, async ({ page }) => {
  await openDemo(page, '/cupboard')
  await registerBottle(page, {
    name: 'White powder',
    form: 'Chloroquine phosphate',
    strength: '990',
    confirm: true,
  })
  await visit(page, '/courses/new?vessel=holding-b-second&protocol=chloroquine-30')
  await expect(page.getByRole('button', { name: 'Start the course' })).toBeDisabled()
  await page.getByRole('button', { name: 'No lawful source' }).click()
  await expect(page.getByText(/Whose law\?/)).toBeVisible()
  await page.getByRole('textbox', { name: 'Country' }).fill('Here')
  await page.getByRole('button', { name: 'No lawful source' }).click()
  await expect(page.getByText(/you have no lawful source in Here/)).toBeVisible()
  await page.getByRole('button', { name: 'Yes, lawfully' }).click()
  await expect(page.getByRole('group', { name: 'The law where you live' })).toHaveCount(0)
  await visit(page, '/settings')
  await expect(page.getByRole('button', { name: /chloroquine: lawful/ })).toBeVisible()
})

test(
  'a paper course is joined half-way, and its hours wait for what the record can prove',
  { tag: '@whole' },
  async ({ page }) => {
    await withHoldingBFree(page, '/courses/new?vessel=holding-b&protocol=copper-in-place-30')
    await typeDate(page, page, /^Begun/, '2026-11-11T19:00')
    await page.getByRole('button', { name: 'Start the course' }).click()
    await expect(page.getByText(/runs in Holding B/)).toBeVisible()
    await visit(page, '/courses')
    await expect(page.getByText(/Copper, 30 days in one tank/).first()).toBeVisible()
    await visit(page, '/vessels/holding-b')
    await expect(page.getByText('day 12').first()).toBeVisible()
  },
)

test('the sitter’s page holds no drug, and the calendar file holds the steps', async ({ page }) => {
  await openDemo(page, '/courses/copper-holding-a/sheet')
  const sheet = page.getByRole('article', { name: 'Course sheet' })
  await expect(sheet).toContainText('Gloves and goggles on')
  const calendar = async () => {
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Calendar file' }).click(),
    ])
    return readFileSync(await download.path(), 'utf8')
  }
  const keepers = await calendar()
  expect(keepers).toContain('BEGIN:VALARM')
  expect(keepers).toContain('Holding A: Test copper')
  await page.getByText('For a sitter').click()
  await expect(sheet).toContainText('You dose nothing')
  await expect(sheet).not.toContainText(/\d mL/)
  const sitters = await calendar()
  expect(sitters).toContain('Holding A: Watch the fish')
  expect(sitters).not.toContain('Test copper')
})

test(
  'a watching round is reached from the vessel, outlives a reload and stands the next time',
  { tag: '@whole' },
  async ({ page }) => {
    await openDemo(page, '/vessels/holding-a')
    await page.getByRole('link', { name: 'Watch' }).first().click()
    const damsel = page.getByLabel('Azure damsel', { exact: true })
    await damsel.getByRole('button', { name: 'Fine dust' }).click()
    await expect(damsel.getByText(/Fine dust: only if/)).toBeVisible()
    await page.reload()
    await expect(damsel.getByRole('button', { name: 'Fine dust' })).toHaveAttribute('aria-pressed', 'true')
    await page.getByRole('button', { name: 'Note the round with 1 sign' }).click()
    await expect(page.getByText('Round in Holding A: noted.')).toBeVisible()
    await page.clock.setFixedTime(new Date(NOW.getTime() + 3_600_000))
    await visit(page, '/watch/holding-a')
    await damsel.getByRole('button', { name: 'Still: fine dust' }).click()
    await page.getByRole('button', { name: 'Nothing new: note the round' }).click()
    await expect(page.getByText('Round in Holding A: noted.')).toBeVisible()
    await visit(page, '/watch/holding-a')
    await expect(damsel.getByRole('button', { name: 'Fine dust' })).toHaveAttribute('aria-pressed', 'false')
  },
)
