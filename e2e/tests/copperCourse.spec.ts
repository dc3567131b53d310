import { expect, test } from '@playwright/test'
import { logReading, openDemo, openLog, visit } from './helpers.ts'

test('the demonstration shows credited and refused hours with their reasons', { tag: '@whole' }, async ({ page }) => {
  await openDemo(page, '/courses/copper-holding-a')
  await expect(page.getByRole('heading', { name: 'Every hour, earned or refused' })).toBeVisible()
  await expect(page.getByText('the level was likely below the band')).toBeVisible()
  await expect(page.getByText('not yet proven in the band')).toBeVisible()
  await expect(page.getByText(/credited of 30 d/).first()).toBeVisible()
})

test('a dip is logged and the clock refuses hours', { tag: '@whole' }, async ({ page }) => {
  await openDemo(page, '/courses/copper-holding-a')
  const bar = page.getByRole('img', { name: /percent of the hours are credited/ })
  const before = await bar.getAttribute('aria-label')
  await visit(page, '/vessels/holding-a')
  await page.getByRole('heading', { name: 'Holding A' }).waitFor()
  // What the record makes likely is worked out.
  await expect(page.getByText('level now')).toBeVisible()
  await logReading(page, '1.62')
  // Far off the model: asked, not swallowed.
  await expect(page.getByText(/A typo, another unit, or really so/)).toBeVisible()
  await page.getByText('Yes, it is really so.').click()
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(/Copper 1.62 mg\/L logged/)).toBeVisible()
  await visit(page, '/courses/copper-holding-a')
  await expect(page.getByText(/Your reading of 1.62 mg\/L took/)).toBeVisible()
  expect(await bar.getAttribute('aria-label')).not.toBe(before)
})

test('a reading takes three presses, shows on the ledger, and can be undone', { tag: '@whole' }, async ({ page }) => {
  await openDemo(page, '/vessels/holding-a')
  await logReading(page, '2.05')
  await expect(page.getByText('Copper 2.05 mg/L logged. Holding A')).toBeVisible()
  await page.getByRole('button', { name: 'Undo' }).click()
  await expect(page.getByText(/Undone/)).toBeVisible()
  await visit(page, '/ledger')
  await expect(page.getByRole('listitem').filter({ hasText: 'Copper 2.05 mg/L' })).toContainText('struck out')
})

test('one typed line fills the form, and is checked before it is saved', { tag: '@whole' }, async ({ page }) => {
  await openDemo(page)
  await openLog(page)
  const line = page.getByRole('textbox', { name: 'Or type one line' })
  await line.fill('Holding A copper 2.1, 18:05')
  await line.press('Enter')
  await expect(page.getByRole('textbox', { name: /^Copper/ })).toHaveValue('2.1 mg/L')
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await visit(page, '/ledger')
  const row = page.getByRole('listitem').filter({ hasText: 'Copper 2.1 mg/L' })
  await expect(row).toContainText('18:05')
})

test(
  'a dose over the hard maximum is blocked until it is worded, and the words are recorded',
  { tag: '@whole' },
  async ({ page }) => {
    await openDemo(page, '/vessels/holding-a')
    const dialog = await openLog(page, 'd')
    await dialog.getByRole('textbox', { name: /^Poured/ }).fill('9')
    await expect(dialog.getByText(/over the hard maximum of 2.8 mg\/L/)).toBeVisible()
    await expect(dialog.getByRole('button', { name: 'Save' })).toBeDisabled()
    await dialog.getByRole('textbox', { name: /write why/ }).fill('It was poured by mistake, logging what happened')
    await dialog.getByRole('button', { name: 'Save' }).click()
    await expect(page.getByText(/9 mL logged/)).toBeVisible()
    await visit(page, '/ledger')
    await expect(
      page.getByText(/Done against a warning, in the keeper’s words: “It was poured by mistake/),
    ).toBeVisible()
  },
)

test('a correction replaces an entry and keeps the old one in sight', { tag: '@whole' }, async ({ page }) => {
  await openDemo(page, '/ledger')
  await page
    .getByRole('region', { name: 'Sun 22 Nov' })
    .getByRole('button', { name: /^Correct: Copper 2.16/ })
    .click()
  const field = page.getByRole('dialog').getByRole('textbox', { name: /^Copper/ })
  await field.fill('2.12')
  await page.getByRole('dialog').getByRole('button', { name: 'Save the correction' }).click()
  await expect(
    page.getByRole('region', { name: 'Sun 22 Nov' }).getByRole('listitem').filter({ hasText: 'Copper 2.16 mg/L' }),
  ).toContainText('corrected')
  await expect(page.getByRole('listitem').filter({ hasText: 'Copper 2.12 mg/L' })).toContainText('correction')
})

test('the strip answers the arrow keys with the state of the tank then', async ({ page }) => {
  await openDemo(page, '/vessels/holding-a')
  const strip = page.getByRole('slider', { name: /Strip/ })
  await expect(strip).toHaveAttribute('aria-valuetext', /copper [\d.]+–[\d.]+ mg\/L/)
  await strip.focus()
  for (let i = 0; i < 3; i++) await page.keyboard.press('Shift+ArrowLeft')
  await expect(strip).toHaveAttribute('aria-valuetext', /20 Nov.*refused, level below the band/)
})
