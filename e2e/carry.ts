// npm run carry: what it takes to carry the record, measured in two real browsers on one machine: a hand-over of 20 MB by its code,
// and the joining of two records of 50,000 entries, with the longest task that stood in the page's way.
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, type Browser, type Page } from '@playwright/test'
import { documentsOf, instantOf, recordOf, toFile, type Entry, type KeeperRecord } from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { strToU8, zipSync } from 'fflate'
import { CHROMIUM } from './chromium.ts'

const base = process.env['BRINVO_BASE'] ?? 'http://127.0.0.1:4292'
const NOW = Date.now()
const ZONE = 'Europe/Berlin'
const folder = mkdtempSync(join(tmpdir(), 'brinvo-carry-'))
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: ZONE })
const shell = recordOf(
  { ...demo.settings, safetyReadAt: instantOf(NOW - 1) },
  documentsOf(demo).filter(({ register }) => register === 'vessel'),
  [],
)

/** So many readings of one vessel, from the number `from` on; the same number is the same entry in every record. */
const readings = (from: number, count: number): Entry[] =>
  Array.from({ length: count }, (_, i) => {
    const at = instantOf(NOW - (1 + from + i) * 600_000)
    return {
      kind: 'reading',
      id: `carry-${from + i}`,
      at,
      zone: ZONE,
      recordedAt: at,
      vesselId: 'longshore',
      analyte: 'temperature',
      value: 24 + ((from + i) % 20) / 10,
      unit: '°C',
      bound: 'exact',
    } as unknown as Entry
  })
const fileOf = (
  name: string,
  entries: readonly Entry[],
  pictures: ReadonlyMap<string, Uint8Array> = new Map(),
): string => {
  const record: KeeperRecord = recordOf(shell.settings, documentsOf(shell), entries)
  const text = JSON.stringify(toFile(record, instantOf(NOW)))
  const path = join(folder, `${name}.${pictures.size > 0 ? 'zip' : 'json'}`)
  writeFileSync(
    path,
    pictures.size === 0
      ? text
      : zipSync({
          'record.json': strToU8(text),
          ...Object.fromEntries(
            [...pictures].map(([id, bytes]) => [`photos/${id}.jpg`, [bytes, { level: 0 }] as const]),
          ),
        }),
  )
  return path
}
async function device(browser: Browser): Promise<Page> {
  const page = await (
    await browser.newContext({ viewport: { width: 1280, height: 800 }, locale: 'en-GB', timezoneId: ZONE })
  ).newPage()
  page.setDefaultTimeout(180_000)
  await page.goto(`${base}/ledger`)
  await page.getByRole('button', { name: 'I have read this' }).click()
  await page.getByRole('button', { name: 'Import a file' }).waitFor()
  return page
}
async function taken(page: Page, path: string): Promise<void> {
  await page.getByLabel('Record file to import').setInputFiles(path)
  const take = page.getByRole('dialog').getByRole('button', { name: 'Take it' })
  await take.waitFor({ timeout: 60_000 }).catch(async () => {
    throw new Error(`The file was not taken: ${(await page.locator('body').innerText()).slice(-900)}`)
  })
  await take.click()
  await page.getByText(/^Imported/).waitFor()
}
const browser = await chromium.launch({ executablePath: CHROMIUM, args: ['--no-sandbox'] })
let failed = 0
const told = (words: string, value: number, most: number, unit: string) => {
  const good = value <= most
  if (!good) failed++
  console.log(`${good ? 'ok  ' : 'MISS'} ${words}: ${value.toFixed(1)} ${unit} (wanted ${most})`)
}

{
  // Twenty megabytes: fifty pictures of 400 kB, as phones leave them here.
  const pictures = new Map<string, Uint8Array>()
  const entries: Entry[] = []
  for (let i = 0; i < 50; i++) {
    const bytes = new Uint8Array(400_000)
    for (let at = 0; at < bytes.length; at += 65_536) crypto.getRandomValues(bytes.subarray(at, at + 65_536))
    pictures.set(`carried-${i}`, bytes)
    const at = instantOf(NOW - i * 3_600_000 - 1000)
    entries.push({
      kind: 'photo',
      id: `shown-${i}`,
      at,
      zone: ZONE,
      recordedAt: at,
      vesselId: 'longshore',
      photoId: `carried-${i}`,
      mime: 'image/jpeg',
      width: 1600,
      height: 1200,
      bytes: bytes.length,
    } as unknown as Entry)
  }
  const [laptop, phone] = [await device(browser), await device(browser)]
  await taken(laptop, fileOf('pictures', entries, pictures))
  await laptop.getByRole('button', { name: 'Show a code' }).click()
  await laptop.getByText('Waiting for the other device…').waitFor()
  const code = await laptop.locator('[data-code]').innerText()
  await phone.getByRole('button', { name: 'Read a code' }).click()
  await phone.getByRole('textbox', { name: 'Code' }).fill(code)
  const began = performance.now()
  await phone.getByRole('button', { name: 'Meet the other device' }).click()
  await phone.getByRole('button', { name: 'Take it' }).click()
  await phone.getByText(/The record is here now/).waitFor()
  told(
    'a hand-over of 20 MB in 50 pictures, from the press to the record in its place',
    (performance.now() - began) / 1000,
    10,
    's',
  )
  const ids = await phone.evaluate(
    () =>
      new Promise<number>((resolve, reject) => {
        const opening = indexedDB.open('brinvo-photos')
        opening.onerror = () => reject(new Error('no pictures'))
        opening.onsuccess = () => {
          const count = opening.result.transaction('record').objectStore('record').count()
          count.onsuccess = () => resolve(count.result)
        }
      }),
  )
  told('pictures that did not arrive', 50 - ids, 0, '')
  await laptop.context().close()
  await phone.context().close()
}
{
  const laptop = await device(browser)
  await taken(laptop, fileOf('half-a', readings(0, 50_000)))
  await laptop.getByLabel('Record file to import').setInputFiles(fileOf('half-b', readings(25_000, 50_000)))
  const button = laptop.getByRole('button', { name: 'Join the records' })
  await button.waitFor()
  await laptop.waitForTimeout(1500)
  await laptop.evaluate(() => {
    const seen: number[] = []
    Object.assign(window, { seen })
    new PerformanceObserver((list) => seen.push(...list.getEntries().map(({ duration }) => duration))).observe({
      type: 'longtask',
    })
  })
  const began = performance.now()
  await button.click()
  await laptop.getByText(/^Joined\./).waitFor()
  told(
    'two records of 50,000 entries joined and written, from the press to the word',
    (performance.now() - began) / 1000,
    2,
    's',
  )
  const longest = await laptop.evaluate(() => Math.max(0, ...(window as unknown as { seen: number[] }).seen))
  told('the longest task of the page meanwhile', longest, 300, 'ms')
}
await browser.close()
process.exit(failed > 0 ? 1 : 0)
