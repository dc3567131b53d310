// npm run crash -- --kills N [--seed S]: a real browser is killed at a random moment of a writing, again and again, and opened
// anew on the same profile. What the page had acknowledged must be there; an act of several entries is there whole or not at all.
// The store is read as raw keys, not by the code that wrote it.
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ensureInstalled } from './lib/bootstrap.mjs'

await ensureInstalled()
const { chromium } = await import('@playwright/test')
const { existsSync } = await import('node:fs')
const given = (name, usual) => {
  const at = process.argv.indexOf(`--${name}`)
  return at < 0 ? usual : Number(process.argv[at + 1])
}
const kills = given('kills', 20)
const PORT = given('port', 4295)
const BROWSER = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'].find((path) => existsSync(path))
if (!existsSync('server/dist/main.js')) {
  console.error('Build first: npm run build')
  process.exit(2)
}
let state = given('seed', 1) >>> 0
const chance = () => {
  state = (Math.imul(state, 1664525) + 1013904223) >>> 0
  return state / 4294967296
}
const server = spawn('node', ['server/dist/main.js', '--port', String(PORT)], { stdio: 'ignore' })
for (let tries = 0; tries < 100; tries++) {
  const up = await fetch(`http://127.0.0.1:${PORT}/health`).then(
    ({ ok }) => ok,
    () => false,
  )
  if (up) break
  await new Promise((resolve) => setTimeout(resolve, 100))
}
const profile = mkdtempSync(join(tmpdir(), 'brinvo-crash-'))
const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms))
const base = `http://127.0.0.1:${PORT}`

/** A browser of its own process group on the profile, and a page of it. */
async function open() {
  const child = spawn(
    BROWSER,
    [
      '--headless',
      '--no-sandbox',
      '--no-first-run',
      '--disable-gpu',
      '--remote-debugging-port=0',
      `--user-data-dir=${profile}`,
      'about:blank',
    ],
    { detached: true, stdio: ['ignore', 'ignore', 'pipe'] },
  )
  const address = await new Promise((resolve, reject) => {
    let text = ''
    const timer = setTimeout(() => reject(new Error(`the browser does not answer: ${text.slice(-300)}`)), 20_000)
    child.stderr.on('data', (part) => {
      text += part
      const found = /ws:\/\/\S+/.exec(text)
      if (found) {
        globalThis.clearTimeout(timer)
        resolve(found[0])
      }
    })
  })
  const browser = await chromium.connectOverCDP(address)
  const context = browser.contexts()[0]
  const page = context.pages()[0] ?? (await context.newPage())
  page.setDefaultTimeout(8000)
  return { child, browser, page }
}
const kill = ({ child }) => {
  try {
    process.kill(-child.pid, 'SIGKILL')
  } catch {
    // It had gone by itself.
  }
}

/** Every entry of the stored record, by the keys alone: loose ones, sealed ones, and a commit that was not taken apart. */
const stored = (page) =>
  page.evaluate(async () => {
    const database = await new Promise((resolve, reject) => {
      const asked = globalThis.indexedDB.open('brinvo')
      asked.onsuccess = () => resolve(asked.result)
      asked.onerror = () => reject(asked.error)
    })
    const all = await new Promise((resolve, reject) => {
      const found = []
      const cursor = database.transaction('record').objectStore('record').openCursor()
      cursor.onsuccess = () => {
        const at = cursor.result
        if (!at) return resolve(found)
        found.push([at.key, at.value])
        at.continue()
      }
      cursor.onerror = () => reject(cursor.error)
    })
    database.close()
    const map = new Map(all)
    const { generation = 1, segments = 0 } = map.get('manifest') ?? {}
    const entries = new Map()
    for (const [key, value] of all) {
      const own = `g${generation}/`
      if (!String(key).startsWith(own)) continue
      const rest = String(key).slice(own.length)
      const list = rest.startsWith('entry/')
        ? [value]
        : rest.startsWith('segment/') && Number(rest.slice(8)) < segments
          ? value
          : rest.startsWith('pending')
            ? value.entries
            : []
      for (const entry of list) entries.set(entry.id, entry)
    }
    return [...entries.values()].map(({ kind, note, value, analyte }) => ({ kind, note, value, analyte }))
  })

const visit = async (page, path) => {
  await page.goto(base + path)
  await page.getByRole('heading', { level: 1 }).first().waitFor()
}
let vesselId = ''
/** The first opening: the safety page read, a vessel on the shelf. */
async function begin(page) {
  await page.goto(base)
  const read = page.getByRole('button', { name: 'I have read this' })
  await read.first().waitFor()
  await read.first().click()
  await page.getByRole('heading', { name: /The shelf is empty/ }).waitFor({ timeout: 30_000 })
  await pause(300)
  await visit(page, '/vessels/new')
  await page.getByRole('textbox', { name: 'Name' }).fill('Reef')
  for (const [name, value] of [
    [/^Length/, '90'],
    [/^Width/, '45'],
    [/^Height/, '50'],
  ])
    await page.getByRole('textbox', { name }).fill(value)
  await page.getByText('I have looked at it').first().click()
  if (await page.getByText('Yes, it is really so').count()) await page.getByText('Yes, it is really so').click()
  await page.getByRole('button', { name: 'Put it on the shelf' }).click()
  await page.waitForURL(/\/vessels\/[0-9a-f-]{30,}/)
  vesselId = new URL(page.url()).pathname.split('/').pop()
}

const promised = { notes: new Set(), tests: new Map(), joins: new Map() }
const begun = { tests: new Map(), joins: new Map() }
let made = 0
/** Ways to write; each answers once the page has acknowledged it. */
const WAYS = {
  async note(page, armed) {
    const text = `kill note ${++made}`
    await visit(page, '/ledger')
    await page.keyboard.press('l')
    const dialog = page.getByRole('dialog')
    await dialog.waitFor()
    await dialog.getByText('Note', { exact: true }).first().click()
    await dialog.getByRole('textbox', { name: /note/i }).first().fill(text)
    armed(350)
    await dialog.getByRole('button', { name: 'Save' }).click()
    await dialog.waitFor({ state: 'detached' })
    promised.notes.add(text)
  },
  async tests(page, armed) {
    const n = ++made
    const values = { nitrate: 1 + n / 1000, phosphate: Number((0.01 + n / 100_000).toFixed(5)) }
    begun.tests.set(n, values)
    await visit(page, `/tests/${vesselId}`)
    for (const [name, value] of [
      ['Nitrate', values.nitrate],
      ['Phosphate', values.phosphate],
    ]) {
      const box = page.getByRole('textbox', { name: new RegExp(`^${name}`) })
      if ((await box.count()) === 0) {
        const more = page.getByRole('combobox', { name: 'Another test' })
        await more.selectOption({ label: name })
      }
      await box.fill(`${value} mg/L`)
    }
    armed(350)
    await page.getByRole('button', { name: /^Save/ }).first().click()
    await page.waitForURL((url) => !url.pathname.startsWith('/tests/'))
    promised.tests.set(n, values)
  },
  async join(page, armed) {
    const n = ++made
    const file = join(profile, `join-${n}.json`)
    const at = new Date(Date.now() - 60_000).toISOString()
    const entries = Array.from({ length: 700 }, (_, i) => ({
      kind: 'note',
      id: `join-${n}-${i}`,
      at,
      zone: 'UTC',
      recordedAt: at,
      note: `join ${n}`,
    }))
    begun.joins.set(n, entries.length)
    const settings = {
      zone: 'UTC',
      locale: 'en-GB',
      volume: 'L',
      temperature: '°C',
      salinity: 'ppt',
      alkalinity: 'dKH',
      length: 'cm',
      theme: 'system',
      shortcuts: true,
      syringesMl: [{ capacity: 1, step: 0.01 }],
    }
    writeFileSync(
      file,
      JSON.stringify({ format: 'brinvo-record', schemaVersion: 5, exportedAt: at, settings, registers: [], entries }),
    )
    await visit(page, '/ledger')
    await page.getByLabel('Record file to import').setInputFiles(file)
    const dialog = page.getByRole('dialog')
    await dialog.getByText('it joins the record here').click()
    armed(1100)
    await dialog.getByRole('button', { name: 'Join the records' }).click()
    await page.getByText(/^Joined\./).waitFor()
    promised.joins.set(n, entries.length)
  },
}

/** What is not as it was promised. */
function faultsOf(entries) {
  const faults = []
  const notes = new Map()
  const readings = new Set()
  for (const { kind, note, value, analyte } of entries) {
    if (kind === 'note') notes.set(note, (notes.get(note) ?? 0) + 1)
    if (kind === 'reading') readings.add(`${analyte} ${value}`)
  }
  for (const text of promised.notes) if (!notes.has(text)) faults.push(`${text} was acknowledged and is lost`)
  for (const [n, { nitrate, phosphate }] of begun.tests) {
    const there = [`nitrate ${nitrate}`, `phosphate ${phosphate}`].filter((one) => readings.has(one)).length
    if (promised.tests.has(n) && there < 2) faults.push(`tests ${n} were acknowledged and ${2 - there} of 2 are lost`)
    else if (there === 1) faults.push(`tests ${n} are torn: one of two is there`)
  }
  for (const [n, size] of begun.joins) {
    const there = notes.get(`join ${n}`) ?? 0
    if (promised.joins.has(n) && there < size) faults.push(`joining ${n} was acknowledged and ${size - there} are lost`)
    else if (there > 0 && there < size) faults.push(`joining ${n} is torn: ${there} of ${size}`)
  }
  return faults
}

const names = Object.keys(WAYS)
let [failed, cut] = [0, 0]
const started = Date.now()
try {
  await pause(700)
  const first = await open()
  await begin(first.page)
  await first.browser.close().catch(() => undefined)
  kill(first)
  await pause(300)
  for (let i = 0; i < kills; i++) {
    const house = await open()
    const way = names[Math.floor(chance() * (i % 7 === 0 ? names.length : 2))]
    // Something acknowledged lies before it, most times.
    if (chance() < 0.6) await WAYS.note(house.page, () => undefined).catch(() => undefined)
    let done = false
    // The moment of the press, and how long after it the house may burn.
    let within = 0
    const pressed = new Promise((resolve) => {
      WAYS[way](house.page, (ms) => {
        within = ms
        resolve()
      })
        .then(() => {
          done = true
        })
        .catch((cause) => {
          if (within === 0) console.log(`${way} did not come to its press: ${String(cause).slice(0, 160)}`)
        })
        .finally(resolve)
    })
    await pressed
    await pause(within * chance() ** 2)
    if (!done) cut++
    kill(house)
    await pause(150)
    const after = await open()
    await visit(after.page, '/ledger')
    const faults = faultsOf(await stored(after.page))
    const told = await after.page.getByRole('region', { name: 'Set aside' }).count()
    if (told > 0) faults.push('something could not be read and was set aside')
    if (faults.length > 0) {
      failed++
      console.log(`kill ${i + 1} (${way}): ${faults.slice(0, 3).join('; ')}`)
    }
    kill(after)
    if ((i + 1) % 100 === 0) console.log(`${i + 1} kills, ${failed} failed so far`)
    await pause(80)
  }
} finally {
  server.kill()
  await pause(200)
  rmSync(profile, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 })
}
console.log(
  `${kills} kills, ${cut} of them before all was acknowledged; acknowledged: ${promised.notes.size} notes, ${promised.tests.size} walks of tests, ${promised.joins.size} joinings; ${((Date.now() - started) / 1000).toFixed(0)} s`,
)
console.log(`${kills - failed} passed, ${failed} failed`)
process.exit(failed > 0 ? 1 : 0)
