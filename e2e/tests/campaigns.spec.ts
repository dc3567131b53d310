import { expect, test, type Page } from '@playwright/test'
import { NOW, openDemo, visit } from './helpers.ts'

/** Goes to an address so much later. */
async function later(page: Page, ms: number, path: string): Promise<void> {
  await page.clock.setFixedTime(new Date(NOW.getTime() + ms))
  await visit(page, path)
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
}
async function startCourse(page: Page): Promise<string> {
  await page
    .getByRole('button', { name: /^Start/ })
    .last()
    .click()
  await expect(page).toHaveURL(/\/courses\/[0-9a-f-]{20,}$/)
  return new URL(page.url()).pathname
}
const notice = (page: Page, text: string | RegExp) => expect(page.getByText(text).last()).toBeVisible()

test(
  'steering: grams by the net volume, over the limit blocked, added and counted',
  { tag: '@whole' },
  async ({ page }) => {
    await openDemo(page, '/courses/film-longshore')
    const nitrate = page.getByRole('region', { name: 'Steering nitrate' })
    // Two a day net, and what is used up in a day on top.
    await expect(nitrate).toContainText(/Raise by 3\.\d mg\/L today/)
    const grams = nitrate.getByRole('textbox', { name: /to add/ })
    const suggested = await grams.inputValue()
    await grams.fill('3')
    await expect(nitrate.getByText('Blocked.')).toBeVisible()
    await expect(nitrate.getByRole('button', { name: 'Added, log it: nitrate' })).toBeDisabled()
    await grams.fill(suggested)
    await nitrate.getByRole('button', { name: 'Added, log it: nitrate' }).click()
    await notice(page, `${suggested} g of sodium nitrate: noted.`)
    await expect(nitrate).toContainText('The day’s pace is reached: more from')
  },
)

test(
  'brown jelly, minute by minute: waits survive a reload, and what never to do stays in sight',
  { tag: '@whole' },
  async ({ page }) => {
    await openDemo(page, '/courses/new?protocol=jelly-run&vessel=tub')
    const campaign = await startCourse(page)
    await page.getByRole('link', { name: 'Minute by minute' }).click()
    await expect(page.getByText('Never blow it off: every coral downstream is seeded.')).toBeVisible()
    await page.getByRole('button', { name: 'Done, next' }).click()
    await expect(page.getByText('10 min 00 s')).toBeVisible()
    await later(page, 4 * 60_000, `${campaign}/run/run`)
    await expect(page.getByText('6 min 00 s')).toBeVisible()
    for (let i = 0; i < 8; i++) {
      await expect(page.getByRole('heading', { level: 1 })).toContainText(`${i + 2} of 9`)
      await page.getByRole('button', { name: 'Done, next' }).click()
    }
    await expect(page).toHaveURL(campaign)
    await expect(page.getByText('Every coral within 30 cm and downstream').first()).toBeVisible()
  },
)
