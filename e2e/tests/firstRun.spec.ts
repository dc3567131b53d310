import { expect, test } from '@playwright/test'
import { EMPTY, describeVessel, firstRun, registerBottle, registerCopper, visit } from './helpers.ts'

test.use({ storageState: EMPTY })

test('from an empty shelf to a running course and its first dose', async ({ page }) => {
  await firstRun(page)
  await describeVessel(page, 'Holding A')
  await expect(page.getByText(/67 ± \d L/).first()).toBeVisible()

  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await page
    .getByRole('dialog')
    .getByRole('combobox', { name: 'Kind' })
    .selectOption({ label: 'Ocellaris clownfish (Amphiprion ocellaris)' })
  await page.getByRole('dialog').getByRole('button', { name: 'Add' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await expect(page.getByText('Amphiprion ocellaris')).toBeVisible()

  await registerCopper(page)

  await visit(page, '/courses/new')
  await expect(page.getByRole('heading', { name: 'The ramp in this water' })).toBeVisible()
  // Hazards stand before the first amount.
  const hazards = await page.getByRole('note', { name: 'Hazards' }).first().boundingBox()
  const amount = await page
    .getByText(/^5 mL$/)
    .first()
    .boundingBox()
  expect(hazards!.y).toBeLessThan(amount!.y)
  await expect(page.getByRole('heading', { name: 'Your kit can earn hours' })).toBeVisible()
  await page.getByRole('button', { name: 'Start the course' }).click()

  await expect(page.getByRole('heading', { level: 1, name: 'Holding A' })).toBeVisible()
  for (const gate of ['Carbon, resin', 'No invertebrates', 'Baseline', 'Half a tank']) {
    await page
      .getByRole('button', { name: new RegExp(`^Yes: ${gate}`) })
      .first()
      .click()
  }
  await expect(page.getByText(/^Add 5 mL$/)).toBeVisible()
  await page.getByRole('button', { name: /^Done, log it/ }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(/5 mL logged/)).toBeVisible()
  await expect(page.getByText(/Waits for a reading|Confirms 0.75|Test copper/).first()).toBeVisible()

  await page.reload()
  await expect(page.getByRole('heading', { level: 1, name: 'Holding A' })).toBeVisible()
  await visit(page, '/ledger')
  await expect(page.getByText('Dose 5 mL of Blue label')).toBeVisible()
})

test('an unconfirmed bottle and a shrimp in the water refuse the course', { tag: '@whole' }, async ({ page }) => {
  await firstRun(page)
  await describeVessel(page, 'Tank')
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await page
    .getByRole('dialog')
    .getByRole('combobox', { name: 'Kind' })
    .selectOption({ label: 'Skunk cleaner shrimp (Lysmata amboinensis)' })
  await page.getByRole('dialog').getByRole('button', { name: 'Add' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await registerBottle(page, {
    name: 'Mystery',
    form: 'Amine-complexed copper, 0.5 mg/L type',
    strength: '5',
    low: '0.5',
    high: '',
    confirm: false,
  })
  await visit(page, '/courses/new')
  await expect(page.getByText(/Nobody has confirmed from the label of "Mystery"/)).toBeVisible()
  await expect(page.getByText(/kills shrimps/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Start the course' })).toBeDisabled()
})

test('a label level of another form is refused when the bottle is registered', { tag: '@whole' }, async ({ page }) => {
  await firstRun(page)
  await visit(page, '/cupboard')
  await page.getByRole('button', { name: 'Register a bottle' }).first().click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('textbox', { name: 'Name' }).fill('Wrong')
  await dialog.getByRole('combobox', { name: /Form/ }).selectOption({ label: 'Amine-complexed copper, 0.5 mg/L type' })
  await dialog.getByRole('textbox', { name: /^Strength/ }).fill('10')
  await dialog.getByRole('textbox', { name: /Label level from/ }).fill('2')
  await dialog.getByRole('textbox', { name: /^to/ }).fill('2.5')
  await dialog.getByText('I hold the bottle').click()
  await expect(dialog.getByRole('button', { name: 'Save' })).toBeDisabled()
  await expect(dialog).toContainText('is not one of Amine-complexed copper')
  // Nothing typed is lost.
  await expect(dialog.getByRole('textbox', { name: 'Name' })).toHaveValue('Wrong')
})
