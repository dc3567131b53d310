// npm run pages: every page opened anew at two widths; how far it jumps after it is drawn, how long it holds the hand up.
import { chromium } from '@playwright/test'
import { CHROMIUM } from './chromium.ts'
import { PLACES } from './places.ts'

const base = process.env['BRINVO_BASE'] ?? 'http://127.0.0.1:4292'
const NOW = new Date('2026-11-23T18:20:00Z')
/** Directions of look-2: a page that jumps more than this moves under the finger. */
const MOST_SHIFT = 0.02

const browser = await chromium.launch({
  executablePath: CHROMIUM,
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
})
const rows: { path: string; width: number; shift: number; longest: number; height: number }[] = []
for (const width of [1280, 390]) {
  const context = await browser.newContext({
    viewport: { width, height: width < 500 ? 844 : 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/Berlin',
    serviceWorkers: 'block',
  })
  const page = await context.newPage()
  await page.clock.setFixedTime(NOW)
  await page.addInitScript(() => {
    const seen = { shift: 0, longest: 0 }
    Object.assign(window, { seen })
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries() as (PerformanceEntry & { value: number; hadRecentInput: boolean })[])
        if (!entry.hadRecentInput) seen.shift += entry.value
    }).observe({ type: 'layout-shift', buffered: true })
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) seen.longest = Math.max(seen.longest, entry.duration)
    }).observe({ type: 'longtask', buffered: true })
  })
  await page.goto(`${base}/demo`)
  await page.getByText('Demonstration.').waitFor()
  for (const path of PLACES) {
    await page.goto(base + path)
    await page.getByRole('heading', { level: 1 }).first().waitFor()
    await page.waitForTimeout(2500)
    const found = await page.evaluate(() => ({
      ...(window as unknown as { seen: { shift: number; longest: number } }).seen,
      height: document.documentElement.scrollHeight,
    }))
    rows.push({ path, width, ...found })
  }
  await context.close()
}
await browser.close()
for (const { path, width, shift, longest, height } of rows)
  console.log(
    `${String(width).padStart(4)}  ${shift.toFixed(3)}  ${String(Math.round(longest)).padStart(5)} ms  ${String(height).padStart(5)} px  ${path}${shift > MOST_SHIFT ? '  jumps' : ''}`,
  )
const jumping = rows.filter(({ shift }) => shift > MOST_SHIFT)
console.log(`${rows.length - jumping.length} of ${rows.length} stand still (layout shift at most ${MOST_SHIFT}).`)
process.exit(jumping.length > 0 ? 1 : 0)
