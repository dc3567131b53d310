// Situation 8, lived from an empty record: a sign, its name, the schools beside each other, transfers on their hours, watched to the release.
import { expect, test } from '@playwright/test'
import { EMPTY, exported, taken } from './helpers.ts'
import { Keeper } from './house.ts'

test.use({ storageState: EMPTY })

const HOUR = 3_600_000
const DAY = 24 * HOUR

test('8: grains on a fish: named, schools compared, four transfers on their hours, twenty-eight days watched', async ({
  page,
}, info) => {
  const start = Date.parse('2027-05-17T16:00:00Z')
  const keeper = new Keeper(page, '2027-05-17T16:00:00Z')
  await keeper.begin()
  const cot = await keeper.vessel('Cot', { cm: [50, 30, 32], use: /Quarantine|Holding/, since: '2027-05-01' })
  await keeper.vessel('Crib', { cm: [50, 30, 32], use: /Quarantine|Holding/, since: '2027-05-01' })
  await keeper.resident(cot, /^Yellow tang|^Royal gramma/, 'Comet', 1, '2027-05-12')
  // From the sign to the running course: every press by the links that stand there.
  await keeper.go(cot)
  const before = await keeper.pressed()
  await page.getByRole('link', { name: 'Something wrong?' }).click()
  await keeper.press('Look at it')
  await expect(page).toHaveURL(/\/findings\/[0-9a-f-]{30,}/)
  await keeper.press('Yes, it is so')
  await expect(page.getByRole('region', { name: 'Ranking' }).getByRole('heading', { level: 2 })).toHaveText(
    /white spot/i,
  )
  await keeper.look('s8-finding')
  await page.getByRole('link', { name: 'Compare the schools for it' }).click()
  // What the finding speaks for is feared without being told again.
  await expect(page.getByRole('checkbox', { name: 'White spot' })).toBeChecked()
  await keeper.look('s8-compare')
  await page.getByRole('link', { name: 'Look at Tank transfer, every 72 hours' }).click()
  await keeper.choose('Second tub', 'Crib')
  await keeper.look('s8-new')
  await keeper.press('Start the course')
  await expect(page.getByRole('heading', { level: 1, name: /Start a course/ })).toHaveCount(0)
  const presses = (await keeper.pressed()) - before
  info.annotations.push({ type: 'presses from the sign to the running course', description: String(presses) })
  expect(presses).toBeLessThanOrEqual(12)
  await keeper.go('/courses')
  await page
    .getByRole('link', { name: /Tank transfer/ })
    .first()
    .click()
  await expect(page).toHaveURL(/\/courses\/[0-9a-f-]{20,}$/)
  const course = new URL(page.url()).pathname
  await keeper.press(/^Yes: Two/)
  await keeper.press(/^Yes: .*water/i)
  await keeper.look('s8-begun')
  // Every 72 hours into the other tub, in time; nothing of the old stay goes along.
  for (let move = 1; move <= 4; move++) {
    keeper.nowMs = start + move * 71 * HOUR
    await keeper.wait(0, course)
    await page
      .getByRole('link', { name: /^Open the move/ })
      .first()
      .click()
    await expect(page.getByRole('heading', { name: 'What may move' })).toBeVisible()
    await expect(page.getByRole('button', { name: /still open/ })).toBeDisabled()
    for (const box of await page.getByRole('checkbox').all()) await box.check({ force: true })
    if (move === 2) await keeper.look('s8-transfer')
    await keeper.press(/^All are in (Cot|Crib)/)
    await expect(page).not.toHaveURL(/transfer/)
  }
  await keeper.go(course)
  await expect(page.getByRole('listitem').filter({ hasText: /^2\. / })).toContainText('done')
  await keeper.look('s8-watch')
  // Twenty-eight days without a sign, each watched in full; taken over from paper as entries of the record.
  const file = await exported(page)
  const moved = keeper.nowMs
  for (let day = 0; day <= 29; day++)
    file.entries.push({
      id: `paper-${String(day).padStart(4, '0')}`,
      kind: 'done',
      what: 'Watched',
      at: new Date(moved + day * DAY + HOUR).toISOString(),
      zone: 'Europe/Berlin',
      recordedAt: new Date(moved + day * DAY + HOUR).toISOString(),
      vesselId: cot.split('/').pop()!,
      watched: { look: 'day', minutes: 30 },
    })
  await keeper.minutes((29.5 * DAY) / 60_000)
  await taken(page, info.outputPath('watched.json'), file)
  await keeper.go(course)
  await keeper.look('s8-end')
  await keeper.said(/run through/)
})
