// npm run engines: opens every place of the demonstration in a second engine (Debian's Firefox), by day and on a narrow
// page, and exits non-zero where one throws, logs an error, has no heading or sticks out.
import { spawn } from 'node:child_process'
import { createRequire } from 'node:module'
import { existsSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { performance } from 'node:perf_hooks'
import { ensureBuilt, run } from './lib/bootstrap.mjs'
import { root } from './lib/paths.mjs'

/** The same list as the end-to-end tests have; it is TypeScript, and holds nothing but addresses. */
const PLACES = [...readFileSync(join(root, 'e2e/places.ts'), 'utf8').matchAll(/^\s*'(\/[^']*)',?$/gm)].map(
  ([, path]) => path,
)
const FIREFOX = ['/usr/bin/firefox-esr', '/usr/bin/firefox'].find((path) => existsSync(path))
if (FIREFOX === undefined) {
  console.error('No Firefox: apt-get install firefox-esr')
  process.exit(2)
}
await ensureBuilt()
// Its driver is locked beside it: what CI installs stays as small as it is.
const own = join(root, 'scripts/engines')
if (!existsSync(join(own, 'node_modules'))) run('npm', ['ci'], { cwd: own })
const require = createRequire(join(own, 'package.json'))
const { default: puppeteer } = await import(require.resolve('puppeteer-core'))
const PORT = 4296
const server = spawn(process.execPath, ['server/dist/main.js', '--port', String(PORT)], { cwd: root, stdio: 'ignore' })
const base = `http://127.0.0.1:${PORT}`
for (let i = 0; i < 100; i++) {
  try {
    await fetch(base)
    break
  } catch {
    await new Promise((next) => setTimeout(next, 100))
  }
}
const browser = await puppeteer.launch({ browser: 'firefox', executablePath: FIREFOX, headless: true })
const version = await browser.version()
const page = await browser.newPage()
await page.setViewport({ width: 1280, height: 800 })
const faults = []
let at = ''
page.on('pageerror', (error) => faults.push(`${at}: ${error.message}`))
page.on('console', (message) => {
  if (message.type() === 'error') faults.push(`${at}: ${message.text()}`)
})
const press = async (selector) => {
  const handle = await page.waitForSelector(selector, { timeout: 30_000 })
  await handle.click()
}
let slowest = { ms: 0, path: '' }
try {
  await page.goto(base)
  await press('::-p-text(I have read this)')
  await press('::-p-text(Open the demonstration)')
  await page.waitForSelector('::-p-text(Invented tanks)', { timeout: 60_000 })
  for (const path of PLACES) {
    at = path
    const began = performance.now()
    await page.goto(base + path, { waitUntil: 'load' })
    try {
      await page.waitForSelector('main h1', { timeout: 30_000 })
    } catch {
      faults.push(`${path}: no heading`)
      continue
    }
    const ms = performance.now() - began
    if (ms > slowest.ms) slowest = { ms, path }
    for (const width of [1280, 390]) {
      await page.setViewport({ width, height: 844 })
      await new Promise((next) => setTimeout(next, 250))
      const over = await page.evaluate('document.documentElement.scrollWidth - document.documentElement.clientWidth')
      if (over > 0) faults.push(`${path}: ${over} px too wide at ${width}`)
    }
    const words = await page.evaluate('document.body.textContent')
    if (!words.includes('Demonstration.')) faults.push(`${path}: not the demonstration`)
    if (/stopped working|Something went wrong|\bNaN\b|undefined/.test(words)) faults.push(`${path}: it says so itself`)
  }
} finally {
  await browser.close()
  server.kill()
}
for (const fault of faults) console.error(fault)
console.log(
  `${PLACES.length} places in ${version}: ${faults.length} faults; slowest cold ${Math.round(slowest.ms)} ms (${slowest.path})`,
)
process.exit(faults.length > 0 ? 1 : 0)
