// Situation 14, its second half, lived from an empty record: two rivals on neutral ground, released the same day.
import { expect, test } from '@playwright/test'
import { EMPTY, openLog } from './helpers.ts'
import { Keeper } from './house.ts'

test.use({ storageState: EMPTY })

test(
  '14: two rivals meet on neutral ground, are watched, and go home on one day',
  { tag: '@whole' },
  async ({ page }) => {
    const keeper = new Keeper(page, '2027-10-01T16:00:00Z')
    await keeper.begin()
    const bay = await keeper.vessel('Bay', { cm: [110, 52, 50], use: /Display/ })
    const first = await keeper.vessel('Cot', { cm: [48, 32, 32] })
    const second = await keeper.vessel('Crib', { cm: [44, 30, 31] })
    const common = await keeper.vessel('Common', { cm: [60, 38, 36] })
    await keeper.resident(first, /^Six-line wrasse/, 'Stripe')
    await keeper.resident(second, /^Royal gramma/, 'Dusk')
    await keeper.go(`/courses/new?protocol=introduce-neutral&vessel=${bay.split('/').pop()}`)
    // Nobody is guessed: the two are chosen where they live now.
    await keeper.said(/Nobody is chosen/)
    const who = page.getByRole('group', { name: 'Who is to meet' })
    for (const name of [/^Stripe/, /^Dusk/]) await who.getByRole('checkbox', { name }).check({ force: true })
    await keeper.choose('Neutral tank', 'Common')
    await keeper.look('s14-start')
    await keeper.press('Start the course')
    await expect(page.getByRole('heading', { level: 1, name: /Start a course/ })).toHaveCount(0)
    await keeper.go(bay)
    const move = async () => {
      await page
        .getByRole('link', { name: /^Open the move/ })
        .first()
        .click()
      await expect(page.getByRole('heading', { level: 1, name: /^Both/ })).toBeVisible()
      for (const box of await page.getByRole('checkbox').all()) await box.check({ force: true })
      await keeper.look('s14-move')
      await keeper.press(/^All are in/)
      await expect(page).toHaveURL(/\/courses\/[0-9a-f-]{20,}$/)
    }
    await move()
    const course = new URL(page.url()).pathname
    for (const chases of [6, 2, 1, 0, 0]) {
      await keeper.wait(24, common)
      const conflicts = page.getByRole('region', { name: 'Conflicts' })
      for (let i = 0; i < chases; i++) await conflicts.getByRole('button', { name: 'Chases in 10 min: more' }).click()
      await conflicts.getByRole('button', { name: /^Note/ }).click()
      await expect(page.getByText(/[Nn]oted/).last()).toBeVisible()
    }
    await keeper.wait(2, course)
    await keeper.look('s14-home')
    await keeper.press('Done: Re-arrange the rock, then lights off')
    await keeper.go(bay)
    await move()
    await keeper.said(/First week together/)
    // Looked at as asked, fed and seen to eat; a week alone ends nothing.
    for (const [hours, answer] of [
      [0.6, 'Hiding'],
      [4, 'Fine'],
      [14, 'Ate'],
    ] as const) {
      await keeper.wait(hours, bay)
      await page
        .getByRole('group', { name: /^Answers: / })
        .getByRole('button', { name: answer })
        .first()
        .click()
      await expect(page.getByText(`: ${answer.toLowerCase()}.`).last()).toBeVisible()
    }
    for (let day = 1; day <= 7; day++) {
      await keeper.wait(24, bay)
      const dialog = await openLog(page)
      await dialog.getByText('Meal', { exact: true }).click()
      await dialog.getByRole('button', { name: 'Save' }).click()
      await expect(dialog).toHaveCount(0)
      await page
        .getByRole('button', { name: /^Nothing odd/ })
        .first()
        .click()
      await expect(page.getByText(/noted/).last()).toBeVisible()
    }
    await keeper.go(course)
    await keeper.look('s14-week')
    await expect(page.getByRole('listitem').filter({ hasText: /^3\. First week/ })).not.toContainText('done')
    await keeper.press('Yes: They live together')
    await expect(page.getByRole('listitem').filter({ hasText: /^3\. First week/ })).toContainText('done')
    await keeper.look('s14-end')
  },
)
