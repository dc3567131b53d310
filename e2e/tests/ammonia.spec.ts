import { expect, test, type Page } from '@playwright/test'
import { openDemo, visit } from './helpers.ts'

async function reading(page: Page, analyte: string, value: string, instrument?: string) {
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  await page.keyboard.press('l')
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('combobox', { name: 'Of', exact: true }).selectOption({ label: analyte })
  await dialog.getByRole('textbox', { name: new RegExp(`^${analyte}`) }).fill(value)
  if (instrument !== undefined) await dialog.getByRole('combobox', { name: 'With' }).selectOption({ label: instrument })
  await page.keyboard.press('Enter')
  await expect(dialog).toHaveCount(0)
}

test(
  'ammonia by two methods: asked for, apart, acted on by the worse, settled by a third',
  { tag: '@whole' },
  async ({ page }) => {
    await openDemo(page, '/')
    const line = page.getByRole('region', { name: 'Holding A' }).getByRole('heading', { name: 'Ammonia by badge' })
    await expect(line).toBeVisible()
    await visit(page, '/vessels/holding-a')
    await expect(page.getByRole('heading', { name: /Both methods every day until Fri 27 Nov/ })).toBeVisible()
    await reading(page, 'pH', '8.2')
    await reading(page, 'Free ammonia', '0.02')
    await visit(page, '/')
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    await expect(line).toHaveCount(0)
    await visit(page, '/vessels/holding-a')
    await reading(page, 'Total ammonia', '1.4')
    const panel = page.getByRole('region', { name: 'Ammonia', exact: true })
    await expect(panel.getByRole('heading', { name: 'Ammonia: change half within two hours' })).toBeVisible()
    await expect(panel).toContainText('They do not agree. Act on the higher one')
    await expect(panel).toContainText('No binder: copper may be in this water.')
    // A third kit of another lot.
    await visit(page, '/cupboard')
    await page.getByRole('button', { name: 'Register a test kit' }).click()
    const kit = page.getByRole('dialog')
    await kit.getByRole('textbox', { name: 'Name' }).fill('Second lot')
    await kit.getByRole('combobox', { name: 'Kind' }).selectOption({ label: 'Drop test' })
    await kit.getByRole('combobox', { name: 'Measures' }).selectOption({ value: 'ammonia-total' })
    await kit.getByRole('textbox', { name: /Smallest step/ }).fill('0.1')
    await expect(kit.getByRole('combobox', { name: 'Its scale tells ammonia as' })).toHaveValue('nh3_n')
    await kit.getByRole('button', { name: 'Save', exact: true }).click()
    await expect(kit).toHaveCount(0)
    await visit(page, '/vessels/holding-a')
    await reading(page, 'Total ammonia', '1.3', 'Second lot')
    await expect(panel).toContainText('Not to be trusted until it is checked: Ammonia badge')
    await visit(page, '/cupboard')
    const badge = page.getByRole('listitem').filter({ hasText: 'Ammonia badge' })
    await expect(badge).toContainText('spoke against it')
    await badge.getByRole('button', { name: 'Check or calibrate Ammonia badge' }).click()
    await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click()
    await expect(badge).not.toContainText('spoke against it')
  },
)

test('a binder is blocked where copper may be, and goes in elsewhere', { tag: '@whole' }, async ({ page }) => {
  await openDemo(page, '/vessels/holding-a')
  const binder = async () => {
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    await page.keyboard.press('l')
    const dialog = page.getByRole('dialog')
    await dialog.getByRole('radio', { name: 'Media' }).click({ force: true })
    await dialog.getByRole('combobox', { name: 'What' }).selectOption({ label: 'Ammonia binder' })
    await dialog.getByText('in, or on').click()
    return dialog
  }
  const dialog = await binder()
  await expect(dialog.getByRole('group', { name: 'What speaks against this' })).toContainText(
    'A reducing binder frees bound copper suddenly',
  )
  await page.keyboard.press('Escape')
  await visit(page, '/vessels/longshore')
  const free = await binder()
  await expect(free.getByRole('group', { name: 'What speaks against this' })).toHaveCount(0)
})
