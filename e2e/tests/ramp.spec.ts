import { expect, test, type Page } from '@playwright/test'
import { EMPTY, addResident, describeVessel, firstRun, openLog, registerCopper, visit } from './helpers.ts'

test.use({ storageState: EMPTY })

const START = Date.parse('2026-03-27T17:00:00Z')
const HOUR = 3_600_000

/** Moves the keeper's clock to so many hours after the start and opens the vessel again. */
async function later(page: Page, hours: number): Promise<void> {
  await page.clock.setFixedTime(new Date(START + hours * HOUR))
  await visit(page, page.url())
  await expect(page.getByRole('heading', { level: 1, name: 'Holding A' })).toBeVisible()
}
const dialog = (page: Page) => page.getByRole('dialog', { name: 'Log something' })

async function readCopper(page: Page, value: string): Promise<void> {
  const log = await openLog(page)
  await log.getByRole('textbox', { name: /^Copper/ }).fill(value)
  await dialog(page).getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(`Copper ${value} mg/L logged.`)).toBeVisible()
}
async function fed(page: Page): Promise<void> {
  await openLog(page)
  await dialog(page).getByText('Meal', { exact: true }).click()
  await dialog(page).getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('Meal logged.')).toBeVisible()
}
/** Pours what the page asks for and answers how much that was, mL. */
async function pour(page: Page): Promise<number> {
  const asked = page.getByText(/^Add [\d.]+ mL$/)
  await expect(asked).toBeVisible()
  const amount = Number(/[\d.]+/.exec((await asked.textContent()) ?? '')?.[0])
  await page
    .getByRole('button', { name: /^Done, log it/ })
    .first()
    .click()
  await dialog(page).getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(`${amount} mL logged.`)).toBeVisible()
  return amount
}

test('a ramp over four days, across the start of summer time, earns its hours', { tag: '@whole' }, async ({ page }) => {
  test.slow()
  await page.clock.setFixedTime(new Date(START))
  await firstRun(page)
  await describeVessel(page, 'Holding A')
  await addResident(page)
  await registerCopper(page)
  await visit(page, '/courses/new')
  await page.getByRole('button', { name: 'Start the course' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'Holding A' })).toBeVisible()
  for (const gate of ['Carbon, resin', 'No invertebrates', 'Baseline', 'Half a tank']) {
    await page
      .getByRole('button', { name: new RegExp(`^Yes: ${gate}`) })
      .first()
      .click()
  }

  // Four levels, each dosed, read a day later, and only then followed by the next.
  const poured = [await pour(page)]
  for (const [day, shown] of [
    [1, '0.76'],
    [2, '1.26'],
    [3, '1.77'],
  ] as const) {
    await later(page, day * 24.1)
    await expect(page.getByText(/Waits for a reading|Test copper/).first()).toBeVisible()
    await readCopper(page, shown)
    await expect(page.getByText(/Waits for a meal/)).toBeVisible()
    await fed(page)
    poured.push(await pour(page))
  }
  expect(poured[0]).toBe(5)
  expect(Math.max(...poured)).toBeLessThanOrEqual(5)

  await later(page, 97)
  await readCopper(page, '2.26')
  await page.getByRole('link', { name: 'Copper, 30 days in one tank' }).first().click()
  // Hours count from the last dose on, because the reading proves the level back to it.
  await expect(page.getByText(/^(23|24) h$|^1 d( 1 h)?$/).first()).toBeVisible()
  await expect(page.getByText('not yet proven in the band')).toBeVisible()
  await expect(page.getByText(/Your reading of 2.26 mg\/L added/)).toBeVisible()

  // Striking that reading out takes its hours back.
  await visit(page, '/ledger')
  await page.getByRole('button', { name: 'Void: Copper 2.26 mg/L' }).click()
  await page.getByRole('button', { name: 'Strike it out' }).click()
  await expect(page.getByText('Struck out. It stays in sight.')).toBeVisible()
  await visit(page, '/courses')
  await expect(page.getByText('0 min of 30 d credited')).toBeVisible()
})

test('a corrected label re-reads every dose poured from the bottle', { tag: '@whole' }, async ({ page }) => {
  await page.clock.setFixedTime(new Date('2026-11-23T18:20:00Z'))
  await visit(page, '/demo')
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  await visit(page, '/courses/copper-holding-a')
  const learnt = page.getByText(/Learnt from the readings/)
  await expect(learnt).toContainText(/effective volume \d\d ± \d L/)
  const before = (await learnt.textContent())!
  await visit(page, '/cupboard')
  await page
    .getByRole('listitem')
    .filter({ hasText: 'Copper, blue label' })
    .getByRole('button', { name: 'Edit' })
    .click()
  await page
    .getByRole('dialog')
    .getByRole('textbox', { name: /^Strength/ })
    .fill('9')
  // A changed fact of a confirmed bottle is asked about: every dose ever poured is read anew.
  await expect(page.getByRole('dialog').getByText(/doses of the ledger will be reckoned/)).toBeVisible()
  await page.getByRole('dialog').getByText('Yes, it is really so.').click()
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await visit(page, '/courses/copper-holding-a')
  await expect(learnt).toBeVisible()
  await expect(learnt).not.toHaveText(before)
})

test(
  'a vessel is edited, its doubt re-reads, and two vessels never share a name',
  { tag: '@whole' },
  async ({ page }) => {
    await page.clock.setFixedTime(new Date('2026-11-23T18:20:00Z'))
    await visit(page, '/demo')
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    await visit(page, '/vessels/tub/edit')
    const live = page.getByRole('complementary', { name: 'Net volume' })
    await expect(live).toContainText('42 L')
    await page.getByText('By eye').click()
    await expect(live).toContainText('doubt from')
    await page.getByRole('textbox', { name: /^Height/ }).fill('30')
    await expect(live).toContainText(/5[0-9] ?L|5[0-9]/)
    await page.getByRole('textbox', { name: 'Name' }).fill('Holding A')
    await page.getByRole('button', { name: 'Save' }).click()
    await expect(page.getByRole('alert')).toContainText('already a vessel called Holding A')
    await page.getByRole('textbox', { name: 'Name' }).fill('Deep tub')
    await expect(page.getByText(/every level and dose of this vessel is reckoned anew/)).toBeVisible()
    await page.getByText('Yes, it is really so.').click()
    await page.getByRole('button', { name: 'Save' }).click()
    await expect(page.getByRole('heading', { level: 1, name: 'Deep tub' })).toBeVisible()
  },
)
