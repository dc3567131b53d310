// Looks at one or more addresses: node … PATH[@width][#theme] …  Throw-away pictures for looking, never committed.
import { chromium } from '@playwright/test'
import { CHROMIUM } from './chromium.ts'

const [out = '/tmp/shots', nowText = '', ...targets] = process.argv.slice(2)
const base = process.env.BRINVO_BASE ?? 'http://127.0.0.1:4174'
const browser = await chromium.launch({
  executablePath: CHROMIUM,
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
})
for (const target of targets) {
  const [, name = 'x', path = '/', width = '1280', theme = 'light', full = ''] =
    /^(\w[\w-]*)=([^@#!]*)(?:@(\d+))?(?:#(\w+))?(!)?$/.exec(target) ?? []
  const context = await browser.newContext({
    viewport: { width: Number(width), height: Number(width) < 500 ? 844 : 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/Berlin',
    colorScheme: theme === 'dark' ? 'dark' : 'light',
  })
  const page = await context.newPage()
  page.on('console', (message) => {
    if (message.type() === 'error' || message.type() === 'warning')
      console.log(`${name}: ${message.text().slice(0, 300)}`)
  })
  page.on('pageerror', (error) => console.log(`${name}: ${error.message}`))
  if (nowText !== '') await page.clock.setFixedTime(new Date(nowText))
  if (!process.env.BRINVO_EMPTY) {
    await page.goto(`${base}/demo`)
    await page.getByRole('heading', { level: 1 }).waitFor()
  }
  await page.goto(base + path)
  await page.getByRole('heading', { level: 1 }).waitFor()
  await page.waitForTimeout(1800)
  await page.screenshot({ path: `${out}/${name}.png`, fullPage: full === '!' })
  await context.close()
}
await browser.close()
