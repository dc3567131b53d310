// Situation 21, lived from an empty record: what is the brown film? Sampled by the clock, looked at, named, its plan begun.
import { expect, test } from '@playwright/test'
import { EMPTY } from './helpers.ts'
import { Keeper } from './house.ts'

test.use({ storageState: EMPTY })

test('21: a brown film is sampled by the clock, put on a slide where not all can be told, named, and its plan begun', async ({
  page,
}) => {
  const keeper = new Keeper(page, '2027-06-02T11:00:00Z')
  await keeper.begin()
  const reef = await keeper.vessel('Alcove reef', { cm: [47, 39, 36] })
  await keeper.go('/findings')
  await keeper.tick('A film, slime or growth')
  await keeper.press('Look at it')
  await expect(page).toHaveURL(/\/findings\/[0-9a-f-]{30,}/)
  const finding = new URL(page.url()).pathname
  await page.getByRole('link', { name: 'The sample, minute by minute' }).click()
  await keeper.press('Start the course')
  await expect(page.getByRole('heading', { level: 1, name: /Start a course/ })).toHaveCount(0)
  await keeper.go(reef)
  await page
    .getByRole('link', { name: /^Minute by minute/ })
    .first()
    .click()
  await keeper.said('Never from the sand alone: it is the film that is asked about.')
  const done = async () => {
    const at = await page.getByRole('heading', { level: 1 }).innerText()
    await keeper.press('Done, next')
    await expect(page.getByRole('heading', { level: 1 })).not.toHaveText(at)
  }
  for (let i = 0; i < 5; i++) await done()
  // Five minutes of settling outlive a reload.
  await keeper.minutes(2)
  await keeper.again(true)
  await keeper.said(/[23] min \d\d s/)
  await keeper.look('s21-settle')
  await keeper.minutes(3.5)
  for (let i = 0; i < 4; i++) await done()
  await keeper.press('Done, next')
  await expect(page).toHaveURL(/\/courses\/[0-9a-f-]+$/)
  await keeper.said(/After dark/)
  // What lies in view: most of it spins; of the rest the motion could not be told.
  await keeper.go(finding)
  await keeper.press('Enter a slide')
  const slide = page.getByRole('region', { name: 'Slide' })
  const put = async (outline: RegExp, motion: RegExp | string, size: string, share: string) => {
    await slide.getByRole('group', { name: 'Outline' }).getByRole('button', { name: outline }).click()
    await slide.getByRole('group', { name: 'How it moves' }).getByRole('button', { name: motion }).click()
    await slide
      .getByRole('group', { name: /^Length/ })
      .getByRole('button', { name: size })
      .click()
    await slide.getByRole('textbox', { name: /Share of what lies in view/ }).fill(share)
    await slide.getByRole('button', { name: 'Put it on the slide' }).click()
    keeper.presses += 5
  }
  await slide.getByRole('button', { name: 'Put it on the slide' }).click()
  await expect(slide.getByText(/or that it cannot be told/)).toBeVisible()
  await put(/^Drop or oval/, /^Turns about one point/, '22 to 50 µm', '75')
  await put(/^Boat/, 'Cannot tell', 'Cannot tell', '15')
  await expect(slide.getByText(/motion not to be told/)).toBeVisible()
  await expect(slide.getByText(/100 % of it moves/)).toBeVisible()
  await slide.getByText('That is all there is in view').click()
  await keeper.look('s21-slide')
  await slide.getByRole('button', { name: 'Note the slide' }).click()
  await expect(page.getByRole('heading', { name: 'Ostreopsis', exact: true })).toBeVisible()
  // Gliding boats are neither there nor denied: nobody could say how they moved.
  await keeper.look('s21-named')
  await page.getByRole('link', { name: 'Dinoflagellates: feed their rivals' }).click()
  await expect(page.getByRole('radio', { name: /Spins on a thread/ })).toBeChecked()
  await keeper.press('Start the course')
  await expect(page.getByRole('heading', { level: 1, name: /Start a course/ })).toHaveCount(0)
  await expect(page).toHaveURL(/\/courses\/[0-9a-f-]{20,}$/)
  await keeper.press('Yes: Genus named')
  await keeper.said('Blow off rock and sand, after dark')
  await expect(page.getByRole('region', { name: 'Steering nitrate' })).toContainText('Test first')
  // A plan that pulls the other way is told before it begins.
  await keeper.go(`/courses/new?protocol=pull-hair-algae&vessel=${reef.split('/').pop()}`)
  await keeper.said(/This one wants nitrate down/)
})
