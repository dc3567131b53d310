// Draws the icons of the installed application from our own mark: npm run icons.
import { mkdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { ensureInstalled } from './lib/bootstrap.mjs'
import { root } from './lib/paths.mjs'

await ensureInstalled()
const { chromium } = await import('@playwright/test')
const mark = readFileSync(join(root, 'app/public/mark.svg'), 'utf8')
const folder = join(root, 'app/public/icons')
mkdirSync(folder, { recursive: true })
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] })
/** Name, side in px, and how much of it the mark takes; systems cut a maskable icon to their own shape. */
for (const [name, side, share] of [
  ['mark-192', 192, 1],
  ['mark-512', 512, 1],
  ['mark-maskable-512', 512, 0.66],
  ['mark-180', 180, 0.8],
]) {
  const page = await browser.newPage({ viewport: { width: side, height: side } })
  const own = Math.round(side * share)
  await page.setContent(
    `<style>body{margin:0;display:grid;place-items:center;height:100vh;background:${share === 1 ? 'transparent' : '#f5f8f6'}}svg{width:${own}px;height:${own}px}</style>${mark}`,
  )
  await page.screenshot({ path: join(folder, `${name}.png`), omitBackground: share === 1 })
  await page.close()
}
await browser.close()
