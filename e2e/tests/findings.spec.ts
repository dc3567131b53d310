import { expect, test } from '@playwright/test'
import { openDemo } from './helpers.ts'

test(
  'grains or dust: the suggested look decides, and the course opens with vessel and animal',
  { tag: '@whole' },
  async ({ page }) => {
    await openDemo(page, '/findings')
    await page.getByRole('link', { name: 'Royal gramma in Holding B' }).click()
    await expect(page.getByRole('heading', { name: 'Cannot tell yet' })).toBeVisible()
    await expect(page.getByRole('region', { name: 'Danger' })).toContainText('Marine velvet')
    const look = page.getByRole('region', { name: 'Next look' })
    await expect(look.getByRole('heading', { name: 'Salt-grain spots?' })).toBeVisible()
    await look.getByRole('button', { name: 'Yes, it is so' }).first().click()
    await expect(page.getByRole('heading', { name: 'Marine white spot', exact: true })).toBeVisible()
    await page.reload()
    await expect(page.getByRole('heading', { name: 'Marine white spot', exact: true })).toBeVisible()
    await page.getByRole('region', { name: 'What to do' }).getByRole('link').first().click()
    await expect(page.getByRole('combobox', { name: 'Vessel', exact: true })).toHaveValue('holding-b')
  },
)

test('jelly on a coral is an emergency from the first press', { tag: '@whole' }, async ({ page }) => {
  await openDemo(page, '/findings?vessel=tub')
  await page.getByRole('combobox', { name: 'Vessel' }).selectOption({ label: 'Tub' })
  await page.getByRole('button', { name: 'Look at it' }).click()
  await page.getByRole('button', { name: 'Slime, films, creatures' }).click()
  await page
    .getByRole('group', { name: /brown jelly/i })
    .getByRole('button', { name: 'Seen' })
    .click()
  const danger = page.getByRole('region', { name: 'Danger' })
  await expect(danger).toContainText('Pumps off for ten minutes: never blow it about')
  await expect(page.getByRole('region', { name: 'What to do' })).toContainText('Blow the jelly off in the tank')
})

test('spots counted and others that show the same are answers of their own', { tag: '@whole' }, async ({ page }) => {
  await openDemo(page, '/findings/finding-gramma')
  const counts = page.getByRole('region', { name: 'Counts' })
  await counts.getByRole('textbox', { name: /White spots/ }).fill('a few')
  await counts.getByRole('button', { name: 'Note the spots' }).click()
  await expect(counts.getByText(/A whole number/)).toBeVisible()
  await counts.getByRole('textbox', { name: /White spots/ }).fill('14')
  await counts.getByRole('button', { name: 'Note the spots' }).click()
  await expect(page.getByText('14 spots counted.').last()).toBeVisible()
  await expect(page.getByRole('region', { name: 'Ranking' }).getByRole('heading', { level: 2 })).toHaveText(
    /white spot/i,
  )
})

test(
  'every condition is reached and opened with the keyboard, and a sign leads to its conditions',
  { tag: '@whole' },
  async ({ page }) => {
    await openDemo(page, '/library')
    await page.getByText('Conditions', { exact: true }).click()
    const all = await page.locator('summary h3').allTextContents()
    expect(all.length).toBeGreaterThan(100)
    await page.locator('summary').first().focus()
    const reached = new Set<string>()
    for (let i = 0; i < all.length; i++) {
      reached.add((await page.evaluate(() => document.activeElement?.querySelector('h3')?.textContent)) ?? '')
      await page.keyboard.press('Tab')
    }
    expect(all.filter((label) => !reached.has(label))).toEqual([])
    await page.locator('summary').first().focus()
    await page.keyboard.press('Enter')
    await expect(page.getByText('Told by').first()).toBeVisible()
    await page.getByRole('textbox', { name: 'Find' }).fill('salt-grain')
    await page.getByText(/^Signs \d/).click()
    await page
      .getByRole('button', { name: /white spot/i })
      .first()
      .click()
    await expect(page.getByText('Told by').first()).toBeVisible()
  },
)
