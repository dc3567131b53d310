// npm run plates: one sheet of every plate by day and one lights out, and how many there are of each kind.
import { mkdirSync } from 'node:fs'
import { chromium } from '@playwright/test'
import { CHROMIUM } from './chromium.ts'

const base = process.env['BRINVO_BASE'] ?? 'http://127.0.0.1:4292'
const folder = process.env['BRINVO_PLATES'] ?? '.stamps/plates'
mkdirSync(folder, { recursive: true })
const browser = await chromium.launch({
  executablePath: CHROMIUM,
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
})
for (const colorScheme of ['light', 'dark'] as const) {
  const context = await browser.newContext({
    viewport: { width: 1280, height: 800 },
    colorScheme,
    reducedMotion: 'reduce',
    serviceWorkers: 'block',
  })
  const page = await context.newPage()
  await page.goto(`${base}/demo`)
  await page.getByRole('heading', { level: 1 }).waitFor()
  await page.goto(`${base}/library/plates`)
  await page.getByRole('heading', { name: 'Plates' }).waitFor()
  await page.locator('canvas[data-plate]').last().waitFor()
  await page.screenshot({ path: `${folder}/plates-${colorScheme}.png`, fullPage: true })
  if (colorScheme === 'light')
    for (const section of await page.locator('main ul').all()) {
      const title = await section.locator('xpath=preceding-sibling::h2').textContent()
      console.log(`${title}: ${await section.locator('li').count()} plates`)
    }
  await context.close()
}
await browser.close()
console.log(`Sheets in ${folder}.`)
