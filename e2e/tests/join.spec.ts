// One house on two devices: a laptop and a phone write apart, join by a file, settle what both changed, and undo it.
import { fileURLToPath } from 'node:url'
import { expect, test, type Browser, type Page } from '@playwright/test'
import { EMPTY } from './helpers.ts'
import { Keeper } from './house.ts'

test.use({ storageState: EMPTY })

interface Device {
  readonly page: Page
  readonly keeper: Keeper
}
async function device(browser: Browser, start: string): Promise<Device> {
  const context = await browser.newContext({ storageState: EMPTY })
  const page = await context.newPage()
  const keeper = new Keeper(page, start)
  await keeper.begin()
  return { page, keeper }
}
async function exported({ page, keeper }: Device, to: string): Promise<string> {
  await keeper.go('/ledger')
  const [download] = await Promise.all([page.waitForEvent('download'), keeper.press('Export everything')])
  const path = test.info().outputPath(to)
  await download.saveAs(path)
  return path
}
async function opened({ page, keeper }: Device, path: string) {
  await keeper.go('/ledger')
  await page.getByLabel('Record file to import').setInputFiles(path)
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText(/holds 1 vessels/)
  return dialog
}
const rename = async ({ page, keeper }: Device, reef: string, name: string) => {
  await keeper.go(reef)
  await page
    .getByRole('link', { name: /Measures and more|Describe|Change|Edit/ })
    .first()
    .click()
  await page.getByRole('textbox', { name: 'Name' }).fill(name)
  await page.getByRole('button', { name: /^Save/ }).first().click()
  await expect(page.getByRole('heading', { level: 1, name })).toBeVisible()
}

test('laptop and phone write apart, join in both directions, settle a name, and take it back', async ({ browser }) => {
  const laptop = await device(browser, '2027-03-01T18:00:00Z')
  const reef = await laptop.keeper.vessel('Reef', { cm: [90, 45, 50], water: 'Marine', use: /Display/ })
  await laptop.keeper.read(reef, { Alkalinity: '8.0 dKH' })
  const first = await exported(laptop, 'first.json')

  const phone = await device(browser, '2027-03-01T18:30:00Z')
  const taken = await opened(phone, first)
  await taken.getByRole('button', { name: 'Take it' }).click()
  await expect(phone.page.getByText(/^Imported 1 entries/)).toBeVisible()

  await phone.keeper.wait(20)
  await phone.keeper.read(reef, { Calcium: '410' })
  await rename(phone, reef, 'Reef by the door')
  await laptop.keeper.wait(22)
  await laptop.keeper.read(reef, { Nitrate: '6' })
  await rename(laptop, reef, 'Living room reef')

  const fromPhone = await exported(phone, 'phone.json')
  const dialog = await opened(laptop, fromPhone)
  await expect(dialog).toContainText('One entry only here stays')
  await expect(dialog).toContainText('One thing was changed on both sides')
  await dialog.getByRole('button', { name: 'Join the records' }).click()
  const came = laptop.page.getByRole('region', { name: 'Came in' })
  await expect(came).toContainText('One entry')
  await expect(laptop.page.getByRole('listitem').filter({ hasText: 'Calcium 410' })).toContainText('came in')
  await expect(laptop.page.getByRole('listitem').filter({ hasText: 'Nitrate 6' })).not.toContainText('came in')
  await laptop.keeper.go('/')
  await expect(laptop.page.getByText('One thing was changed on both and must be settled.')).toBeVisible()

  await laptop.keeper.go('/ledger')
  const settle = laptop.page.getByRole('region', { name: 'Changed on both' })
  await expect(settle.getByRole('button', { name: 'So it is' })).toBeDisabled()
  await settle.getByText(/^Reef by the door/).click()
  await settle.getByRole('button', { name: 'So it is' }).click()
  await expect(settle).toHaveCount(0)
  await came.getByRole('button', { name: 'I have seen them' }).click()
  await expect(came).toHaveCount(0)

  // Back on the phone nothing is asked again.
  await phone.keeper.wait(4)
  const back = await opened(phone, await exported(laptop, 'back.json'))
  await back.getByRole('button', { name: 'Join the records' }).click()
  await expect(phone.page.getByRole('listitem').filter({ hasText: 'Nitrate 6' })).toContainText('came in')
  await expect(phone.page.getByRole('region', { name: 'Changed on both' })).toHaveCount(0)
  await phone.keeper.press('Undo the import')
  await expect(phone.page.getByRole('listitem').filter({ hasText: 'Nitrate 6' })).toHaveCount(0)
  await expect(phone.page.getByRole('listitem').filter({ hasText: 'Calcium 410' })).toBeVisible()
})

test('a folder gets a copy, a backup is looked into without touching the record, and weeks without one are told', async ({
  page,
}) => {
  // The browser's own private folder stands for one that the keeper chooses.
  await page.addInitScript(() => {
    Object.assign(window, { showDirectoryPicker: () => navigator.storage.getDirectory() })
  })
  const keeper = new Keeper(page, '2027-03-01T18:00:00Z')
  await keeper.begin()
  const reef = await keeper.vessel('Reef', { cm: [90, 45, 50], water: 'Marine', use: /Display/ })
  await keeper.read(reef, { Alkalinity: '8.0 dKH' })
  await keeper.go('/ledger')
  const backups = page.getByRole('region', { name: 'Backups' })
  await expect(backups).toContainText('No copy of this record was made on this device yet')
  await keeper.press('Choose a folder for copies')
  await expect(page.getByText(/^brinvo-copy-2027-03-01\.json is in/)).toBeVisible()
  await expect(backups).toContainText('no entries since')
  const names = () =>
    page.evaluate(async () => {
      const found: string[] = []
      const folder = (await navigator.storage.getDirectory()) as unknown as { keys(): AsyncIterable<string> }
      for await (const name of folder.keys()) found.push(name)
      return found.sort()
    })
  // Day after day: the last week whole, the Sunday before it, the first of all; of the week that is passing by its newest.
  for (let day = 0; day < 16; day++) {
    await keeper.wait(24)
    if (day === 15) await keeper.read(reef, { Nitrate: '20' })
    await keeper.go('/ledger')
    await keeper.press('Copy now')
    await expect(
      page.getByText(new RegExp(`${new Date(keeper.nowMs).toISOString().slice(0, 10)}\\.json is in`)),
    ).toBeVisible()
  }
  const kept = await names()
  expect(kept).toHaveLength(7 + 2 + 1)
  expect(kept[0]).toBe('brinvo-copy-2027-03-01.json')

  const path = await exported({ page, keeper }, 'backup.json')
  await keeper.read(reef, { Calcium: '420' })
  const dialog = await opened({ page, keeper }, path)
  await dialog.getByRole('button', { name: 'Look into it first' }).click()
  await expect(page.getByText('A backup, looked into.')).toBeVisible()
  await keeper.go('/ledger')
  await expect(page.getByRole('listitem').filter({ hasText: 'Nitrate 20' })).toBeVisible()
  await expect(page.getByRole('listitem').filter({ hasText: 'Calcium 420' })).toHaveCount(0)
  await keeper.press('Back to my record')
  await expect(page.getByRole('listitem').filter({ hasText: 'Calcium 420' })).toBeVisible()

  await keeper.wait(13 * 24)
  for (let i = 0; i < 20; i++) await keeper.read(reef, { Phosphate: `0.${10 + i}` })
  await keeper.go('/')
  await expect(page.getByText(/^No copy for/)).toHaveCount(0)
  await keeper.wait(24)
  await expect(page.getByText('No copy for 14 days')).toBeVisible()
})

test('a sitter’s page opens on a phone without a network, is ticked, and its answer joins the record once', async ({
  page,
  browser,
}) => {
  const keeper = new Keeper(page, '2027-03-01T18:00:00Z')
  await keeper.begin()
  const reef = await keeper.vessel('Reef', { cm: [90, 45, 50], water: 'Marine', use: /Display/ })
  await keeper.resident(reef, /Ocellaris|clownfish/i, 'Ember')
  await keeper.go('/sitter')
  await page.getByRole('textbox', { name: /^Food/ }).first().fill('One bag a day')
  await page.getByRole('textbox', { name: 'Whom to call' }).fill('Next door, 555')
  await page.getByRole('textbox', { name: 'Whom to call' }).blur()
  const [download] = await Promise.all([page.waitForEvent('download'), keeper.press('A page for their phone')])
  const sheet = test.info().outputPath('for-the-sitter.html')
  await download.saveAs(sheet)

  const phone = await browser.newContext({ storageState: EMPTY, viewport: { width: 390, height: 844 }, offline: true })
  const theirs = await phone.newPage()
  const asked: string[] = []
  theirs.on('request', (request) => asked.push(request.url()))
  await theirs.clock.setFixedTime(new Date('2027-03-02T18:30:00Z'))
  await theirs.goto(`file://${sheet}`)
  await expect(theirs.getByText('Next door, 555')).toBeVisible()
  await theirs.getByRole('button', { name: 'Fed, some ate' }).first().click()
  await theirs.getByRole('button', { name: 'Something is wrong' }).first().click()
  await theirs.getByRole('textbox', { name: 'Note for Reef' }).first().fill('One fin is torn.')
  await theirs
    .locator('input[type=file]')
    .first()
    .setInputFiles(fileURLToPath(new URL('../../core/test/patches/case-0003/a.png', import.meta.url)))
  await expect(theirs.getByText('1 kept')).toBeVisible()
  expect(await theirs.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)
  // A phone that was put away keeps what was ticked.
  await theirs.reload()
  await expect(theirs.getByRole('button', { name: 'Fed, some ate' }).first()).toHaveAttribute('aria-pressed', 'true')
  await expect(theirs.getByRole('button', { name: 'Send back (4)' })).toBeVisible()
  const [answer] = await Promise.all([
    theirs.waitForEvent('download'),
    theirs.getByRole('button', { name: /^Send back/ }).click(),
  ])
  const back = test.info().outputPath('sitter-answer.json')
  await answer.saveAs(back)
  expect(asked.filter((url) => !/^(file|blob|data):/.test(url))).toEqual([])

  await keeper.wait(8 * 24)
  for (const time of ['first', 'second']) {
    await keeper.go('/ledger')
    await page.getByLabel('Record file to import').setInputFiles(back)
    const dialog = page.getByRole('dialog', { name: 'What the sitter sent back' })
    if (time === 'first') {
      await expect(dialog).toContainText('Four entries, with one picture')
      await dialog.getByRole('button', { name: 'Take them in' }).click()
      await expect(page.getByText('Four entries of the sitter joined the record.')).toBeVisible()
      await expect(page.getByRole('listitem').filter({ hasText: 'One fin is torn.' })).toContainText('came in')
    } else {
      await expect(dialog).toContainText('Nothing in it is new')
      await expect(dialog.getByRole('button', { name: 'Take them in' })).toBeDisabled()
    }
  }
})
