import { expect, test, type Page } from '@playwright/test'
import { NOW, openDemo, visit } from './helpers.ts'

const HOUR = 3_600_000
/** Goes to an address so much later. */
async function later(page: Page, ms: number, path: string): Promise<void> {
  await page.clock.setFixedTime(new Date(NOW.getTime() + ms))
  await visit(page, path)
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
}
const answerTo = (page: Page, question: string) =>
  page.locator('dt', { hasText: question }).locator('xpath=following-sibling::dd[1]')
async function startCourse(page: Page): Promise<string> {
  await page
    .getByRole('button', { name: /^Start/ })
    .last()
    .click()
  await expect(page).toHaveURL(/\/courses\/[0-9a-f-]{20,}$/)
  return new URL(page.url()).pathname
}
const notice = (page: Page, text: string | RegExp) => expect(page.getByText(text).last()).toBeVisible()

test('the jar, not the empty tank, says when it is clear', async ({ page }) => {
  test.setTimeout(120_000)
  await openDemo(page, '/courses/new?protocol=jar-fenbendazole-planaria&vessel=fernwater')
  // No bottle, no amount: refused until one is registered.
  await expect(page.getByText(/No bottle is chosen/)).toBeVisible()
  await visit(page, '/cupboard')
  await page.getByRole('button', { name: 'Register a bottle' }).first().click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('textbox', { name: 'Name' }).fill('Wormer, 10 %')
  await dialog.getByRole('combobox', { name: /Form/ }).selectOption({ label: 'Fenbendazole for shrimp tanks' })
  await dialog.getByText('% (g in 100 mL)', { exact: true }).click()
  await dialog.getByRole('textbox', { name: /^Strength/ }).fill('10')
  await dialog.getByText('I hold the bottle').click()
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await visit(page, '/courses/new?protocol=jar-fenbendazole-planaria&vessel=fernwater')
  await page
    .getByRole('textbox', { name: 'To go on all the same, write why' })
    .fill('Every snail was moved out yesterday')
  const campaign = await startCourse(page)
  await page.getByRole('button', { name: 'Yes: Two jars float' }).click()
  await notice(page, 'Two jars float: noted.')
  await expect(page.getByText(/To 0\.6 mg\/L in 7\d L/)).toBeVisible()
  const look = async (hours: number, dead: boolean) => {
    await later(page, hours * HOUR, `${campaign}/tally/jar`)
    await page.getByRole('button', { name: /^dosed/ }).click()
    await page.getByRole('button', { name: 'None found' }).click()
    const fill = (name: string, value: string) => page.getByRole('textbox', { name, exact: true }).fill(value)
    await fill(dead ? 'Small, dead' : 'Small, gliding', '6')
    await fill('Large, dead', '5')
    await page.getByRole('button', { name: /^Save/ }).click()
    await page.getByRole('button', { name: /^undosed/ }).click()
    await page.getByRole('button', { name: 'None found' }).click()
    await fill('Small, gliding', '5')
    await page.getByRole('button', { name: /^Save/ }).click()
    await expect(page).toHaveURL(campaign)
  }
  await look(6, false)
  await expect(answerTo(page, 'Is it over?')).toContainText('something in the dosed jar still moves')
  await look(20, true)
  await expect(answerTo(page, 'Is it over?')).toContainText('look once more')
  await look(26, true)
  await expect(answerTo(page, 'Is it over?')).toContainText('The margin of six hours runs')
  await later(page, 33 * HOUR, campaign)
  // The round is won, the campaign is not: a second round for the cocoons, then traps.
  await expect(answerTo(page, 'Is it over?')).toContainText('The jar of this round is dead of all sizes')
  await expect(answerTo(page, 'Is it over?')).toContainText('second round')
  await expect(page.getByText('60 % changed, bodies siphoned').first()).toBeVisible()
})

test('steering: grams by the net volume, over the limit blocked, added and counted', async ({ page }) => {
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
  await expect(nitrate).toContainText('The day’s limit is reached')
})

test('brown jelly, minute by minute: waits survive a reload, and what never to do stays in sight', async ({ page }) => {
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
})
