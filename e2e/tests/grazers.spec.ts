// Situation 16, lived from an empty record: two herbivores straight into a display, the risk taken knowingly, taught to eat.
import { expect, test } from '@playwright/test'
import { EMPTY } from './helpers.ts'
import { Keeper } from './house.ts'

test.use({ storageState: EMPTY })

test('16: two herbivores straight into a display: told what is risked, brought over by cups, taught to eat from a clip', async ({
  page,
}) => {
  const keeper = new Keeper(page, '2027-08-20T16:30:00Z')
  await keeper.begin()
  const reef = await keeper.vessel('Gallery', { cm: [128, 58, 54], use: /Display/ })
  await keeper.resident(reef, /^Azure damselfish/, 'Blue')
  await keeper.read(reef, { Temperature: '25.1', Salinity: '35', pH: '8.1' })
  await keeper.go('/arrivals/new')
  await keeper.fill('Name', 'Box with the grazers')
  await keeper.press('Another bag')
  for (const [i, kind] of [/^Kole tang/, /^Foxface rabbitfish/].entries()) {
    const bag = page.getByRole('region', { name: `Bag ${i + 1}` }).or(page.getByLabel(`Bag ${i + 1}`, { exact: true }))
    await bag.first().getByRole('combobox', { name: 'Goes to' }).selectOption({ label: 'Gallery' })
    const box = bag.first().getByRole('combobox', { name: 'Kind' })
    const label = (await box.locator('option').allInnerTexts()).find((one) => kind.test(one))!
    await box.selectOption({ label })
    keeper.presses += 2
  }
  await keeper.look('s16-form')
  await keeper.press('Note the delivery')
  await expect(page).toHaveURL(/\/arrivals\/[0-9a-f-]{20,}$/)
  const box = new URL(page.url()).pathname
  await keeper.press('It is here')
  // No quarantine: what that risks is told once, with its days.
  await keeper.said(/without fish for 76 days/)
  for (let bag = 1; bag <= 2; bag++) {
    await keeper.go(box)
    await page
      .getByRole('link', { name: 'Compare the methods' })
      .nth(bag - 1)
      .click()
    await keeper.press('Use it and go to the tank')
    await expect(page).toHaveURL(/\/run/)
  }
  await keeper.go(`${box}/run`)
  const pick = (bag: string) =>
    page.getByRole('group', { name: /Containers/ }).getByRole('button', { name: new RegExp(bag) })
  for (const bag of ['Bag 1', 'Bag 2']) {
    await pick(bag).click()
    await keeper.press('It floats')
    await expect(page.getByRole('heading', { level: 1, name: 'Open the bag' })).toBeVisible()
  }
  await keeper.look('s16-run')
  await keeper.minutes(40)
  await keeper.again(true)
  for (const bag of ['Bag 1', 'Bag 2']) {
    await pick(bag).click()
    await keeper.press(/Stop and move now|Bag is open/)
    const now = page.getByRole('dialog').getByRole('button', { name: 'It is in the water' })
    if (!(await now.isVisible().catch(() => false))) {
      const stop = page.getByRole('button', { name: /It is in the water|Stop and move now/ }).first()
      await stop.click()
    }
    await now.click()
    await expect(page.getByRole('dialog')).toHaveCount(0)
  }
  await keeper.go('/ledger')
  await keeper.said(/Straight into Gallery without quarantine/)
  // Teaching them to eat began by itself when they went in.
  await keeper.go('/courses')
  await page.getByRole('link', { name: 'Seaweed on a clip' }).first().click()
  await expect(page).toHaveURL(/\/courses\/[0-9a-f-]{20,}$/)
  const course = new URL(page.url()).pathname
  await keeper.press('Done: A loose strip near its resting place')
  for (const [hours, step] of [
    [12, 'Crumbs in the flow, the strip beside them'],
    [5, 'Strip smeared with its known food'],
    [19, 'Strip without smear, twice today'],
    [24, 'Clip on the glass'],
  ] as const) {
    await keeper.wait(hours, course)
    await keeper.press(`Done: ${step}`)
  }
  // Four days have gone by; what ends it is that they eat.
  await keeper.wait(40, course)
  await expect(page.getByRole('listitem').filter({ hasText: /^1\. / })).not.toContainText('done')
  await keeper.press('Yes: It eats from the clip')
  await expect(page.getByRole('listitem').filter({ hasText: /^1\. / })).toContainText('done')
  await keeper.look('s16-end')
})
