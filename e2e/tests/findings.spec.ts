import { expect, test } from '@playwright/test'
import { openDemo } from './helpers.ts'

test('grains or dust: the suggested look decides, and the course opens with vessel and animal', async ({ page }) => {
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
})

test('an unknown brown film leads to a slide, and a slide to a genus', async ({ page }) => {
  await openDemo(page, '/findings/finding-film')
  const look = page.getByRole('region', { name: 'Next look' })
  await expect(look).toContainText(/under the microscope/)
  await page.getByRole('button', { name: 'Under the microscope' }).click()
  await page.getByRole('group', { name: 'Slide: spinning teardrops' }).getByRole('button', { name: 'Seen' }).click()
  await expect(page.getByRole('heading', { name: 'Ostreopsis', exact: true })).toBeVisible()
  await expect(page.getByRole('region', { name: 'What to do' })).toContainText(/do not scrape|Scrub the film dry/)
})

test('jelly on a coral is an emergency from the first press', async ({ page }) => {
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
