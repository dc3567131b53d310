// One house on two devices: a laptop and a phone write apart, join by a file, settle what both changed, and undo it.
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
