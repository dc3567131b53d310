import { expect, test, type Page } from '@playwright/test'
import { NOW, openDemo } from './helpers.ts'

const HOUR = 3_600_000
const DAY = 24 * HOUR
/** Goes to an address so much later. */
async function later(page: Page, ms: number, path: string): Promise<void> {
  await page.clock.setFixedTime(new Date(NOW.getTime() + ms))
  await page.goto(path)
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
}
const seen = (page: Page, group: string) =>
  page.getByRole('group', { name: group, exact: true }).getByRole('button', { name: 'Seen' }).click()
const answerTo = (page: Page, question: string) =>
  page.locator('dt', { hasText: question }).locator('xpath=following-sibling::dd[1]')
async function startCourse(page: Page): Promise<string> {
  await page
    .getByRole('button', { name: /^Start/ })
    .last()
    .click()
  await expect(page).toHaveURL(/\/courses\/[0-9a-f-]{20,}$/)
  return new URL(page.url()).pathname
}
const notice = (page: Page, text: string | RegExp) => expect(page.getByText(text).last()).toBeVisible()

test('slugs: from a finding over eight rounds and five clean looks to over at 98 %', async ({ page }) => {
  test.setTimeout(150_000)
  await openDemo(page, '/findings')
  await page.getByText('Something crawling').click()
  await page.getByRole('combobox', { name: 'Vessel' }).selectOption({ label: 'Longshore' })
  await page.getByRole('button', { name: 'Look at it' }).click()
  await seen(page, 'On a Montipora')
  await seen(page, 'On the underside')
  await page.getByRole('button', { name: 'What it looks like' }).click()
  await page.getByRole('group', { name: /slug/i }).first().getByRole('button', { name: 'Seen' }).click()
  await expect(page.getByRole('heading', { name: 'Montipora-eating slug', exact: true })).toBeVisible()
  await page.getByRole('link', { name: /dip and brush/ }).click()
  await expect(page.getByRole('combobox', { name: 'Vessel', exact: true })).toHaveValue('longshore')
  const campaign = await startCourse(page)
  for (let round = 0; round < 8; round++) {
    await later(page, (3 * round + 0.01) * DAY, `${campaign}/round/round`)
    await expect(page.getByRole('heading', { name: new RegExp(`Round ${round + 1} `) })).toBeVisible()
    for (const box of await page.getByRole('checkbox').all()) await box.check({ force: true })
    if (round === 0) await page.getByRole('textbox', { name: 'Another piece' }).fill('green plate')
    await page.getByRole('button', { name: round === 0 ? 'Into the dip' : 'green plate: into the dip' }).click()
    await expect(page.getByRole('heading', { name: 'green plate: in the dip' })).toBeVisible()
    // The clock outlives a reload.
    await later(page, (3 * round + 0.01) * DAY + 3 * 60_000, `${campaign}/round/round`)
    await expect(page.getByText('03:00')).toBeVisible()
    await page.getByRole('button', { name: 'Out of the dip' }).click()
    if (round > 2) await page.getByRole('button', { name: 'None found' }).click()
    else {
      await page.getByRole('textbox', { name: 'Animals' }).fill(String([6, 2, 1][round]))
      await page.getByRole('button', { name: 'One more: Egg clutches, green plate' }).click()
    }
    await page.getByRole('button', { name: 'Counted, into the hold bowl' }).click()
    await page.getByRole('button', { name: 'Finish the round' }).click()
    await expect(page).toHaveURL(campaign)
  }
  await expect(answerTo(page, 'Is it over?')).toContainText(/that nothing is left/)
  for (let look = 1; look <= 5; look++) {
    await later(page, (21 + 3 * look + 0.05) * DAY, `${campaign}/tally/finds`)
    await page.getByRole('button', { name: 'None found' }).click()
    await page.getByRole('button', { name: 'Save the count' }).click()
    await expect(page).toHaveURL(campaign)
  }
  await expect(answerTo(page, 'Is it over?')).toContainText(/(98|99|over 99) % that nothing is left/)
  await expect(page.getByText('3. Free days')).toBeVisible()
  // Ended with its outcome, it stands on the board.
  await page.getByRole('button', { name: 'End this course' }).click()
  await page.getByRole('button', { name: 'End it' }).click()
  await expect(page.getByRole('heading', { name: /What worked here/ })).toBeVisible()
  await expect(page.getByText(/Has held for 0 days/)).toBeVisible()
})

test('the jar, not the empty tank, says when it is clear', async ({ page }) => {
  test.setTimeout(120_000)
  await openDemo(page, '/courses/new?protocol=jar-fenbendazole-planaria&vessel=fernwater')
  // No bottle, no amount: refused until one is registered.
  await expect(page.getByText(/No bottle is chosen/)).toBeVisible()
  await page.goto('/cupboard')
  await page.getByRole('button', { name: 'Register a bottle' }).first().click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('textbox', { name: 'Name' }).fill('Wormer, 10 %')
  await dialog.getByRole('combobox', { name: /Form/ }).selectOption({ label: 'Fenbendazole for shrimp tanks' })
  await dialog.getByText('% (g in 100 mL)', { exact: true }).click()
  await dialog.getByRole('textbox', { name: /^Strength/ }).fill('10')
  await dialog.getByText('I hold the bottle').click()
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await page.goto('/courses/new?protocol=jar-fenbendazole-planaria&vessel=fernwater')
  await page
    .getByRole('textbox', { name: 'To go on all the same, write why' })
    .fill('Every snail was moved out yesterday')
  const campaign = await startCourse(page)
  await page.getByRole('button', { name: 'Yes: Two jars float' }).click()
  await notice(page, 'Two jars float: noted.')
  await expect(page.getByText(/To 0\.6 mg\/L in 7\d L/)).toBeVisible()
  const look = async (hours: number, dead: boolean) => {
    await later(page, hours * HOUR, `${campaign}/tally/jar`)
    await page.getByRole('button', { name: /^dosed/ }).click()
    await page.getByRole('button', { name: 'None found' }).click()
    const fill = (name: string, value: string) => page.getByRole('textbox', { name, exact: true }).fill(value)
    await fill(dead ? 'Small, dead' : 'Small, gliding', '6')
    await fill('Large, dead', '5')
    await page.getByRole('button', { name: /^Save/ }).click()
    await page.getByRole('button', { name: /^undosed/ }).click()
    await page.getByRole('button', { name: 'None found' }).click()
    await fill('Small, gliding', '5')
    await page.getByRole('button', { name: /^Save/ }).click()
    await expect(page).toHaveURL(campaign)
  }
  await look(6, false)
  await expect(answerTo(page, 'Is it over?')).toContainText('something in the dosed jar still moves')
  await look(20, true)
  await expect(answerTo(page, 'Is it over?')).toContainText('look once more')
  await look(26, true)
  await expect(answerTo(page, 'Is it over?')).toContainText('The margin of six hours runs')
  await later(page, 33 * HOUR, campaign)
  // The round is won, the campaign is not: a second round for the cocoons, then traps.
  await expect(answerTo(page, 'Is it over?')).toContainText('The jar of this round is dead of all sizes')
  await expect(answerTo(page, 'Is it over?')).toContainText('second round')
  await expect(page.getByText('60 % changed, bodies siphoned').first()).toBeVisible()
})

test('spots: mL by the net volume, blocked over the ceiling, and scored against the patch left alone', async ({
  page,
}) => {
  await openDemo(page, '/courses/tufts-fernwater/spot/spot')
  await expect(page.getByText(/^6 mL/).first()).toBeVisible()
  for (const box of await page.getByRole('checkbox').all()) await box.check({ force: true })
  await page.getByRole('button', { name: 'Pumps and top-off are off' }).click()
  await expect(page.getByRole('heading', { name: 'Pumps off' })).toBeVisible()
  const poured = page.getByRole('textbox', { name: /^anubias, left leaf/ })
  await poured.fill('20')
  await expect(page.getByText('Blocked.').first()).toBeVisible()
  await expect(page.getByRole('button', { name: 'Pumps on, log it' })).toBeDisabled()
  await poured.fill('3')
  await page.getByRole('button', { name: 'Pumps on, log it' }).click()
  await notice(page, /3 mL over the patches/)
  await expect(page.getByText('Spot treatment, 5 of 7').first()).toBeVisible()
  await page.goto('/courses/tufts-fernwater/tally/patch-score')
  for (const [patch, word] of [
    ['anubias, left leaf', 'white or gone'],
    ['fern on the root', 'white or gone'],
    ['fern on the stone', 'white or gone'],
    ['anubias, right leaf', 'as before'],
    ['moss edge', 'as before'],
  ] as const) {
    await page.getByRole('button', { name: patch }).first().click()
    await page.getByText(word, { exact: true }).click()
    await page.getByRole('button', { name: /^Save/ }).click()
    await notice(page, `Patch score, ${patch}: noted.`)
  }
  const working = answerTo(page, 'Is it working?')
  await expect(working).toContainText(
    'Treated in the water: 4 steps ahead of left alone (2 of 2 against 0 of 2 patches there)',
  )
  await expect(working).toContainText(/9\d % sure/)
})

test('dark days are ended early by a spike, and light comes back in steps', async ({ page }) => {
  await openDemo(page, '/courses/new?protocol=dark-3&vessel=tub')
  const campaign = await startCourse(page)
  await expect(answerTo(page, 'Must it stop?')).toContainText('Not known: test')
  const reading = async (hours: number, analyte: string, value: string) => {
    await later(page, hours * HOUR, campaign)
    await page.keyboard.press('l')
    const dialog = page.getByRole('dialog')
    await dialog.getByRole('combobox', { name: 'Of', exact: true }).selectOption({ label: analyte })
    await dialog.getByRole('textbox', { name: new RegExp(`^${analyte}`) }).fill(value)
    await page.keyboard.press('Enter')
    await expect(page.getByRole('dialog')).toHaveCount(0)
  }
  await reading(1, 'Nitrate', '8')
  await reading(25, 'Nitrate', '9')
  await expect(answerTo(page, 'Must it stop?')).toContainText('No: every value that was tested is inside its limits.')
  await expect(page.getByRole('img', { name: /^nitrate, tests/ })).toBeVisible()
  await reading(47, 'Nitrate', '17')
  await expect(answerTo(page, 'Must it stop?')).toContainText('Yes, end it now: nitrate 17 mg/L, limit 16')
  await page.getByRole('button', { name: 'Yes: Uncover early?' }).click()
  await expect(page.getByText('Count every head within two hours').first()).toBeVisible()
  await expect(page.getByText('Light 30 % for 4 h').first()).toBeVisible()
  await page.goto('/')
  await expect(page.getByText('Light 30 % for 4 h').first()).toBeVisible()
})

test('a genus on the slide opens its own plan, and a plan that pulls the other way is blocked', async ({ page }) => {
  await openDemo(page, '/findings')
  await page.getByText('A film, slime or growth').click()
  await page.getByRole('combobox', { name: 'Vessel' }).selectOption({ label: 'Tub' })
  await page.getByRole('button', { name: 'Look at it' }).click()
  await page.getByRole('button', { name: 'Under the microscope' }).click()
  await seen(page, 'Slide: spinning teardrops')
  await expect(page.getByRole('heading', { name: 'Ostreopsis', exact: true })).toBeVisible()
  await page.getByRole('link', { name: 'Dinoflagellates: feed their rivals' }).click()
  await expect(page.getByRole('radio', { name: /Spins on a thread/ })).toBeChecked()
  const campaign = await startCourse(page)
  await page.getByRole('button', { name: 'Yes: Genus named' }).click()
  await expect(page.getByText('Ultraviolet on').first()).toBeVisible()
  await expect(page.getByRole('region', { name: 'Steering silicate' })).toHaveCount(0)
  await expect(page.getByRole('region', { name: 'Steering nitrate' })).toContainText('Test first')
  await page.goto(`${campaign}/causes`)
  await page.getByRole('group', { name: 'Light', exact: true }).getByRole('button', { name: 'Yes' }).click()
  await expect(page.getByText('Six to eight hours for 14 days.')).toBeVisible()
  await page.goto('/courses/new?protocol=pull-hair-algae&vessel=tub')
  await expect(page.getByText(/This one wants nitrate down/)).toBeVisible()
})

test('steering: grams by the net volume, over the limit blocked, added and counted', async ({ page }) => {
  await openDemo(page, '/courses/film-longshore')
  const nitrate = page.getByRole('region', { name: 'Steering nitrate' })
  // Two a day net, and what is used up in a day on top.
  await expect(nitrate).toContainText(/Raise by 3\.\d mg\/L today/)
  const grams = nitrate.getByRole('textbox', { name: /to add/ })
  const suggested = await grams.inputValue()
  await grams.fill('3')
  await expect(nitrate.getByText('Blocked.')).toBeVisible()
  await expect(nitrate.getByRole('button', { name: 'Added, log it: nitrate' })).toBeDisabled()
  await grams.fill(suggested)
  await nitrate.getByRole('button', { name: 'Added, log it: nitrate' }).click()
  await notice(page, `${suggested} g of sodium nitrate: noted.`)
  await expect(nitrate).toContainText('The day’s limit is reached')
})

test('brown jelly, minute by minute: waits survive a reload, and what never to do stays in sight', async ({ page }) => {
  await openDemo(page, '/courses/new?protocol=jelly-run&vessel=tub')
  const campaign = await startCourse(page)
  await page.getByRole('link', { name: 'Minute by minute' }).click()
  await expect(page.getByText('Never blow it off: every coral downstream is seeded.')).toBeVisible()
  await page.getByRole('button', { name: 'Done, next' }).click()
  await expect(page.getByText('10 min 00 s')).toBeVisible()
  await later(page, 4 * 60_000, `${campaign}/run/run`)
  await expect(page.getByText('6 min 00 s')).toBeVisible()
  for (let i = 0; i < 8; i++) {
    await expect(page.getByRole('heading', { level: 1 })).toContainText(`${i + 2} of 9`)
    await page.getByRole('button', { name: 'Done, next' }).click()
  }
  await expect(page).toHaveURL(campaign)
  await expect(page.getByText('Every coral within 30 cm and downstream').first()).toBeVisible()
})
