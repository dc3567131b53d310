import { expect, test as setup } from '@playwright/test'
import { DEMO_STATE } from '../playwright.config.ts'
import { NOW, settled } from './helpers.ts'

setup('the demonstration is made once, as a keeper would open it', async ({ page }) => {
  await page.clock.setFixedTime(NOW)
  await page.goto('/demo')
  await expect(page.getByText('Demonstration.')).toBeVisible()
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  // The level of its copper course is worked out once; every test opens with it.
  await settled(page)
  await page.context().storageState({ path: DEMO_STATE, indexedDB: true })
})
