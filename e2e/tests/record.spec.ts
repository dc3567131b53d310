import { readFileSync, writeFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { openDemo, openLog, visit, replaceIt } from './helpers.ts'

async function exported(page: Page): Promise<string> {
  await visit(page, '/ledger')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export everything' }).click(),
  ])
  return readFileSync(await download.path(), 'utf8')
}
async function importFile(page: Page, path: string): Promise<void> {
  await visit(page, '/ledger')
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Import a file' }).click(),
  ])
  await chooser.setFiles(path)
}

test('reload, export, empty, import: everything is as it was', async ({ page }, info) => {
  await openDemo(page, '/courses/copper-holding-a')
  const clock = page.getByText(/credited of 30 d/).first()
  await expect(clock).toBeVisible()
  const before = await clock.textContent()
  /** Estimates kept between two openings of the page. */
  const kept = () =>
    page.evaluate(
      () =>
        new Promise<number>((resolve, reject) => {
          const opening = indexedDB.open('brinvo-kept')
          opening.onerror = () => reject(new Error('not opened'))
          opening.onsuccess = () => {
            const asked = opening.result.transaction('estimates').objectStore('estimates').count()
            asked.onsuccess = () => {
              opening.result.close()
              resolve(asked.result)
            }
          }
        }),
    )
  await expect.poll(kept).toBe(1)
  const text = await exported(page)
  const path = info.outputPath('record.json')
  writeFileSync(path, text)

  await page.getByRole('button', { name: 'Empty it' }).click()
  await page.getByRole('textbox', { name: /Type "empty"/ }).fill('empty')
  await page.getByRole('button', { name: 'Empty it now' }).click()
  await expect(page.getByText('The record is empty.')).toBeVisible()
  // Nothing that was worked out from it outlives it.
  await expect.poll(kept).toBe(0)

  await importFile(page, path)
  await expect(page.getByRole('dialog')).toContainText('Every line is sound')
  await replaceIt(page)
  await expect(page.getByText(/^Imported \d+ entries/)).toBeVisible()
  await visit(page, '/courses/copper-holding-a')
  await expect(clock).toHaveText(before!)
  const again = JSON.parse(await exported(page)) as { entries: unknown; registers: unknown }
  const first = JSON.parse(text) as { entries: unknown; registers: unknown }
  expect(again.entries).toEqual(first.entries)
  expect(again.registers).toEqual(first.registers)
})

test.describe('files that are not taken', () => {
  const sound = {
    format: 'brinvo-record',
    schemaVersion: 1,
    exportedAt: '2026-11-23T18:00:00.000Z',
    settings: {},
    registers: [],
    entries: [],
  }
  const files: readonly (readonly [name: string, text: string, words: RegExp])[] = [
    ['truncated', '{"format":"brinvo-record","schemaVersion":1,"entries":[{"kind":"not', /cut off at the end/],
    ['foreign', '{"hello":"world"}', /not a record file/],
    ['newer', JSON.stringify({ ...sound, schemaVersion: 99 }), /version 99; this program reads up to version 5/],
    [
      'hostile',
      '{"format":"brinvo-record","schemaVersion":1,"__proto__":{"polluted":true},"entries":[]}',
      /forbidden key/,
    ],
    ['unsound', JSON.stringify(sound), /settings/],
  ]
  test('truncated, foreign, newer, hostile, unsound: each is told, and the record stays', async ({ page }, info) => {
    await openDemo(page)
    for (const [name, text, words] of files) {
      const path = info.outputPath(`${name}.json`)
      writeFileSync(path, text)
      await importFile(page, path)
      await expect(page.getByRole('dialog')).toContainText('This file was not taken')
      await expect(page.getByRole('dialog')).toContainText(words)
      await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click()
      await expect(page.getByRole('dialog')).toHaveCount(0)
      await expect(page.getByText('Total ammonia').first()).toBeVisible()
    }
  })

  test('huge: fifty megabytes answer without freezing the record', async ({ page }, info) => {
    await openDemo(page)
    const path = info.outputPath('huge.json')
    writeFileSync(path, `{"format":"brinvo-record","schemaVersion":1,"padding":"${'x'.repeat(50 * 1024 * 1024)}"}`)
    await importFile(page, path)
    await expect(page.getByRole('dialog')).toContainText('This file was not taken', { timeout: 30_000 })
  })
})

test('notes are text, never markup', async ({ page }) => {
  await openDemo(page, '/vessels/holding-a')
  const dialog = await openLog(page)
  await dialog.getByText('Note', { exact: true }).click()
  await page.getByRole('textbox', { name: 'Note' }).fill('<img src=x onerror="window.hacked=1"> =1+1')
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(dialog).toHaveCount(0)
  await visit(page, '/ledger')
  await expect(page.getByText('<img src=x onerror="window.hacked=1"> =1+1')).toBeVisible()
  expect(await page.evaluate(() => 'hacked' in window)).toBe(false)
})

test('a second tab stays in step', async ({ page, context }) => {
  await openDemo(page, '/ledger')
  const other = await context.newPage()
  await openDemo(other, '/ledger')
  await expect(other.getByText('Copper 1.99 mg/L')).toHaveCount(0)
  await openLog(page)
  await page.getByRole('textbox', { name: /^Copper/ }).fill('1.99')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/Copper 1.99 mg\/L logged/)).toBeVisible()
  await expect(other.getByText('Copper 1.99 mg/L').first()).toBeVisible()
})

test.describe('the offline store', () => {
  test.use({ serviceWorkers: 'allow' })
  test('stays readable with the server gone, once it was open', async ({ page, context }) => {
    await openDemo(page)
    await page.waitForFunction(async () => (await navigator.serviceWorker.ready).active !== null)
    await page.reload()
    await page.getByRole('link', { name: 'Ledger' }).click()
    await expect(page.getByRole('heading', { name: 'Ledger' })).toBeVisible()
    await context.setOffline(true)
    await page.reload()
    await expect(page.getByRole('heading', { name: 'Ledger' })).toBeVisible()
  })
})
