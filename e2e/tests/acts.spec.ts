import { readFileSync, writeFileSync } from 'node:fs'
import { expect, test, type Page } from '@playwright/test'
import { addResident, describeVessel, EMPTY, firstRun, openDemo, openLog, visit, replaceIt } from './helpers.ts'

/** Looks at the dialog's own height, so that a picture of it can be taken while the test runs. */
const shot = async (page: Page, name: string) => {
  const folder = process.env.BRINVO_SHOTS
  if (folder !== undefined) await page.screenshot({ path: `${folder}/${name}.png` })
}
const EVENING = new Date('2026-11-23T18:20:00Z')
const after = (hours: number) => new Date(EVENING.getTime() + hours * 3_600_000)

test.describe('on an empty record', () => {
  test.use({ storageState: EMPTY })

  test(
    'a height in millimetres is asked about before the vessel stands on the shelf',
    { tag: '@whole' },
    async ({ page }) => {
      await firstRun(page)
      await visit(page, '/vessels/new')
      await page.getByRole('textbox', { name: 'Name' }).fill('Holding A')
      await page.getByRole('textbox', { name: /^Length/ }).fill('60')
      await page.getByRole('textbox', { name: /^Width/ }).fill('36')
      await page.getByRole('textbox', { name: /^Height/ }).fill('560')
      await page.getByText('I have looked at it').click()
      await shot(page, 'vessel-asked')
      const put = page.getByRole('button', { name: 'Put it on the shelf' })
      await expect(page.getByRole('group', { name: 'What speaks against this' })).toContainText(/560 cm|millimetres|mm/)
      await expect(put).toBeDisabled()
      await page.getByRole('textbox', { name: /^Height/ }).fill('36')
      await expect(page.getByRole('group', { name: 'What speaks against this' })).toHaveCount(0)
      await put.click()
      await expect(page.getByRole('heading', { level: 1, name: 'Holding A' })).toBeVisible()
    },
  )

  test(
    'a strength typed in the wrong unit is asked about, and doses outside a course add up to a block',
    { tag: '@whole' },
    async ({ page }) => {
      await page.clock.setFixedTime(EVENING)
      await firstRun(page)
      await describeVessel(page, 'Holding A')
      await addResident(page)
      await visit(page, '/cupboard')
      await page.getByRole('button', { name: 'Register a bottle' }).first().click()
      const dialog = page.getByRole('dialog')
      await dialog.getByRole('textbox', { name: 'Name' }).fill('Copper')
      await dialog.getByRole('combobox', { name: /Form/ }).selectOption({ label: 'Chelated copper, 2–2.5 mg/L type' })
      await dialog.getByRole('textbox', { name: /Label level from/ }).fill('2')
      await dialog.getByRole('textbox', { name: /^to/ }).fill('2.5')
      await dialog.getByText('I hold the bottle').click()
      for (const strength of ['1250', '0.125']) {
        await dialog.getByRole('textbox', { name: /^Strength/ }).fill(strength)
        await expect(dialog.getByRole('group', { name: 'What speaks against this' })).toContainText(strength)
        await expect(dialog.getByRole('button', { name: 'Save' })).toBeDisabled()
      }
      await shot(page, 'bottle-asked')
      await dialog.getByRole('textbox', { name: /^Strength/ }).fill('10')
      await dialog.getByRole('button', { name: 'Save' }).click()
      await expect(page.getByRole('dialog')).toHaveCount(0)

      // 67 L: 13 mL of 10 mg/mL is 1.94 mg/L. Poured outside any course, it counts the next time.
      await visit(page, '/')
      await page
        .getByRole('link', { name: /Holding A/ })
        .first()
        .click()
      const first = await openLog(page, 'd')
      await first
        .getByRole('textbox', { name: /^Amount|mL/ })
        .first()
        .fill('13')
      await shot(page, 'dose-fine')
      await expect(first).toContainText(/1\.9\d mg\/L/)
      await first.getByRole('button', { name: 'Save' }).click()
      await expect(page.getByText(/13 mL logged/)).toBeVisible()
      await page.clock.setFixedTime(after(30))
      await page.reload()
      const second = await openLog(page, 'd')
      await second
        .getByRole('textbox', { name: /^Amount|mL/ })
        .first()
        .fill('13')
      await expect(second.getByRole('group', { name: 'What speaks against this' })).toContainText(
        /hard maximum of 2\.8/,
      )
      await expect(second.getByRole('button', { name: 'Save' })).toBeDisabled()
      await shot(page, 'dose-blocked')
      await page.setViewportSize({ width: 390, height: 800 })
      await shot(page, 'dose-blocked-phone')
      await second.getByRole('textbox', { name: /write why/ }).fill('Measured nil twice with two kits.')
      await expect(second.getByRole('button', { name: 'Save' })).toBeEnabled()
    },
  )
})

test(
  'a shrimp is not moved into copper by a slip: no target is preselected, and the water speaks first',
  { tag: '@whole' },
  async ({ page }) => {
    await openDemo(page, '/vessels/longshore')
    const dialog = await openLog(page)
    await dialog.getByText('Move', { exact: true }).click()
    await shot(page, 'move-empty')
    await dialog.getByRole('button', { name: 'Save' }).click()
    await expect(dialog).toBeVisible()
    await dialog.getByRole('combobox', { name: 'Who moves' }).selectOption({ label: 'Cleaner shrimp' })
    await dialog.getByRole('combobox', { name: 'To', exact: true }).selectOption({ label: 'Holding A' })
    await shot(page, 'move-refused')
    await expect(dialog.getByRole('group', { name: 'What speaks against this' })).toContainText(/copper/i)
    await expect(dialog.getByRole('button', { name: 'Save' })).toBeDisabled()
  },
)

test('an export of every answer is read back before it is called one, and a hurt file is told line by line', async ({
  page,
}, info) => {
  await openDemo(page, '/ledger')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export everything' }).click(),
  ])
  await expect(page.getByText(/read back/)).toBeVisible()
  const file = JSON.parse(readFileSync(await download.path(), 'utf8')) as { entries: { id: string; at: string }[] }
  const hurt = file.entries[20]!
  hurt.at = '2026-13-01T10:00:00.000Z'
  const path = info.outputPath('hurt.json')
  writeFileSync(path, JSON.stringify(file))
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Import a file' }).click(),
  ])
  await chooser.setFiles(path)
  const dialog = page.getByRole('dialog')
  await expect(dialog).toContainText(hurt.id)
  await shot(page, 'file-hurt')
  await dialog.getByRole('button', { name: 'Open it without this line' }).click()
  await expect(dialog.getByRole('button', { name: 'Join the records' })).toBeVisible()
  await shot(page, 'file-left-out')
  await dialog.getByText('I have read this and want the file all the same.').click()
  await replaceIt(page)
  await expect(page.getByText(/^Imported \d+ entries/)).toBeVisible()
  await page.getByRole('button', { name: 'Undo the import' }).click()
  await shot(page, 'file-undone')
  await expect(page.getByText('The record before the import is back')).toBeVisible()
})

test.describe('the rescue page', () => {
  test.use({ storageState: EMPTY })
  test('shows and exports what is stored without the application', async ({ page }) => {
    await firstRun(page)
    await describeVessel(page, 'Holding A')
    await page.goto('/rescue')
    await expect(page.getByText(/about \d+ entr/)).toBeVisible()
    await shot(page, 'rescue')
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Export the raw values' }).click(),
    ])
    expect(readFileSync(await download.path(), 'utf8')).toContain('Holding A')
  })
})

test(
  'who is moved in counts for the very next dose, though registered elsewhere (A3)',
  { tag: '@whole' },
  async ({ page }) => {
    await openDemo(page, '/vessels/longshore')
    const dialog = await openLog(page)
    await dialog.getByText('Move', { exact: true }).click()
    await dialog.getByRole('combobox', { name: 'Who moves' }).selectOption({ label: 'Cleaner shrimp' })
    await dialog.getByRole('combobox', { name: 'To', exact: true }).selectOption({ label: 'Holding B' })
    await dialog.getByRole('button', { name: 'Save' }).click()
    await expect(page.getByText(/Cleaner shrimp: now in Holding B/)).toBeVisible()
    await visit(page, '/vessels/holding-b')
    const dose = await openLog(page, 'd')
    await dose
      .getByRole('textbox', { name: /^Poured/ })
      .first()
      .fill('1')
    await expect(dose.getByRole('group', { name: 'What speaks against this' })).toContainText(/Cleaner shrimp/)
    await expect(dose.getByRole('button', { name: 'Save' })).toBeDisabled()
  },
)

test('the same dose prepared in two windows is poured once: the second is told of the first', async ({ context }) => {
  const [one, two] = [await context.newPage(), await context.newPage()]
  for (const page of [one, two]) {
    await openDemo(page, '/vessels/holding-a')
    const dialog = await openLog(page, 'd')
    await dialog.getByRole('textbox', { name: /^Poured/ }).fill('1')
  }
  await one.bringToFront()
  await one.getByRole('dialog').getByRole('button', { name: 'Save' }).click()
  await expect(one.getByText(/1 mL logged/)).toBeVisible()
  await two.bringToFront()
  const save = two.getByRole('dialog').getByRole('button', { name: 'Save' })
  // Whatever was typed stands; what the other window poured is in its sum now, and it is not swallowed as the same.
  await expect(two.getByRole('dialog').getByRole('textbox', { name: /^Poured/ })).toHaveValue(/^1/)
  await expect(two.getByRole('dialog').getByRole('group', { name: 'What speaks against this' })).toBeVisible()
  await expect(save).toBeDisabled()
})
