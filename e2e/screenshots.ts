// Refreshes docs/screenshots from the demonstration at a fixed evening.
import { mkdirSync } from 'node:fs'
import { chromium, type Page } from '@playwright/test'
import { CHROMIUM } from './chromium.ts'

const base = process.env.BRINVO_BASE ?? 'http://127.0.0.1:4292'
const NOW = new Date('2026-11-23T18:20:00Z')
const folder = 'docs/screenshots'
mkdirSync(folder, { recursive: true })

interface Shot {
  name: string
  path: string
  width?: number
  dark?: boolean
  before?: (page: Page) => Promise<void>
}
const SHOTS: readonly Shot[] = [
  { name: 'rounds', path: '/' },
  { name: 'vessel', path: '/vessels/holding-a' },
  { name: 'vessel-lights-out', path: '/vessels/holding-a', dark: true },
  { name: 'vessel-phone', path: '/vessels/holding-a', width: 390 },
  { name: 'campaign', path: '/courses/slugs-tub' },
  { name: 'life', path: '/residents/toadstool' },
  { name: 'calendar', path: '/calendar' },
  { name: 'comparison', path: '/arrivals/box-tonight/bag-1' },
  { name: 'run-phone', path: '/arrivals/box-tonight/run?bag=bag-3', width: 390, dark: true },
  { name: 'course', path: '/courses/copper-holding-a' },
  { name: 'practice', path: '/practice' },
  { name: 'watch', path: '/watch/holding-b' },
  {
    name: 'slide',
    path: '/slide/longshore?seed=12',
    before: async (page) => {
      await page.getByRole('button', { name: 'One genus' }).click()
      await page.getByRole('button', { name: 'Measure the clip' }).click()
      await page.getByRole('region', { name: 'What the slide holds' }).scrollIntoViewIfNeeded({ timeout: 60_000 })
      await page.waitForTimeout(600)
    },
  },
  {
    name: 'log',
    path: '/vessels/holding-a',
    before: async (page) => {
      await page.keyboard.press('d')
      await page
        .getByRole('dialog')
        .getByRole('textbox', { name: /^Poured/ })
        .fill('9')
      await page
        .getByText(/over the hard maximum/)
        .first()
        .waitFor()
    },
  },
  { name: 'bench', path: '/bench' },
  { name: 'water', path: '/water/longshore' },
  { name: 'library', path: '/library' },
  { name: 'ledger', path: '/ledger' },
  { name: 'finding', path: '/findings/finding-gramma' },
]

const browser = await chromium.launch({
  executablePath: CHROMIUM,
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
})
for (const shot of SHOTS) {
  const context = await browser.newContext({
    viewport: { width: shot.width ?? 1280, height: shot.width ? 844 : 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/Berlin',
    colorScheme: shot.dark ? 'dark' : 'light',
    reducedMotion: 'reduce',
  })
  const page = await context.newPage()
  await page.clock.setFixedTime(NOW)
  await page.goto(`${base}/demo`)
  await page.getByRole('heading', { level: 1 }).waitFor()
  await page.goto(base + shot.path)
  await page.getByRole('heading', { level: 1 }).waitFor()
  await page.waitForTimeout(1800)
  await shot.before?.(page)
  await page.screenshot({ path: `${folder}/${shot.name}.png` })
  console.log(`${folder}/${shot.name}.png`)
  await context.close()
}
await browser.close()
