import { chromium } from '@playwright/test'
const base = 'http://127.0.0.1:4174'
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] })
const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, locale: 'en-GB', timezoneId: 'Europe/Berlin' })
const page = await context.newPage()
page.on('pageerror', (e) => console.log('ERR', e.message))
await page.clock.setFixedTime(new Date('2026-11-23T18:20:00Z'))
await page.goto(base + '/demo'); await page.getByRole('heading', { level: 1 }).waitFor()
const log = async (label: string, value: string) => {
  await page.keyboard.press('l')
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('combobox', { name: 'Of', exact: true }).selectOption({ label })
  await dialog.getByRole('textbox', { name: new RegExp('^' + label) }).fill(value)
  await page.keyboard.press('Enter'); await page.waitForTimeout(900)
  if (await dialog.count()) { const c = dialog.getByRole('checkbox').first(); if (await c.count()) { await c.check(); await page.keyboard.press('Enter'); await dialog.getByRole('button', { name: /Log it|Save|Log/ }).last().click() } await page.waitForTimeout(600) }
}
await page.goto(base + '/vessels/holding-a'); await page.waitForTimeout(1500)
await log('pH', '8.2'); await log('Total ammonia', '1.4'); await log('Free ammonia', '0.02')
await page.waitForTimeout(1500)
await page.screenshot({ path: '/tmp/shots/conf.png', fullPage: true })
await page.goto(base + '/'); await page.waitForTimeout(2500)
await page.screenshot({ path: '/tmp/shots/rounds.png' })
await page.goto(base + '/courses/new?protocol=dark-3&vessel=longshore'); await page.waitForTimeout(2500)
await page.screenshot({ path: '/tmp/shots/dark.png', fullPage: true })
await browser.close()
