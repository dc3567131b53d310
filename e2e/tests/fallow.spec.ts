// Situation 2, lived from an empty record: a display left without fish, two quarantines that end with it, a coral-eating slug.
import { expect, test } from '@playwright/test'
import { EMPTY } from './helpers.ts'
import { Keeper } from './house.ts'

test.use({ storageState: EMPTY })

const DAY = 86_400_000

test(
  '2: a display without fish, a second intake that ends with it, slugs counted away, and the day it is over',
  { tag: '@whole' },
  async ({ page }) => {
    const start = Date.parse('2027-01-25T17:00:00Z')
    const keeper = new Keeper(page, '2027-01-25T17:00:00Z')
    await keeper.begin()
    const display = await keeper.vessel('Headland', { cm: [118, 55, 52], use: /Display/, since: '2026-03-01' })
    await keeper.vessel('Nook', { cm: [61, 33, 35], use: /Quarantine|Holding/, since: '2026-12-01' })
    const basin = await keeper.vessel('Basin', { cm: [52, 38, 30], since: '2026-10-01' })
    await keeper.resident(display, /^Ocellaris clownfish/, 'Pair', 2, '2026-04-01')
    await keeper.resident(basin, /montipora/i, 'Shelf', 1, '2026-11-01')
    // With fish inside nothing counts; once they are out the day it ends is in sight.
    const fallow = await keeper.course('fallow-display-76', display)
    await keeper.go(fallow)
    await keeper.said(/Pair inside: nothing counts/)
    await keeper.move(display, 'Pair', 'Nook')
    await keeper.go(fallow)
    await keeper.said(/ends .*April 2027.* if nothing goes in/)
    await keeper.look('s2-fallow')
    // A second intake of 30 days: when it must begin at the latest to be over with the display.
    await keeper.go('/bench')
    await keeper.tick('Over together')
    await keeper.choose('What is to come in, or to begin', /^Watch only/)
    await keeper.press('Add it')
    const result = page.getByLabel('Result')
    await expect(result).toContainText(/Fish-free display, 76 days, Headland/)
    await expect(result.getByRole('row', { name: /Watch only/ })).toContainText(/March 2027/)
    await keeper.look('s2-together')
    // The slug: dip and brush every three days, counted, until five looks find nothing.
    await keeper.go(`/courses/new?protocol=rounds-montipora-slug&vessel=${basin.split('/').pop()}`)
    await keeper.press('Start the course')
    await expect(page).toHaveURL(/\/courses\/[0-9a-f-]{20,}$/)
    const slugs = new URL(page.url()).pathname
    for (let round = 0; round < 8; round++) {
      keeper.nowMs = start + (3 * round + 0.02) * DAY
      await keeper.wait(0, slugs)
      await keeper.go(`${slugs}/round/round`)
      await expect(page.getByRole('checkbox').first()).toBeVisible()
      for (const box of await page.getByRole('checkbox').all()) await box.check({ force: true })
      await keeper.press('Shelf: into the dip')
      await expect(page.getByRole('heading', { name: 'Shelf: in the dip' })).toBeVisible()
      await keeper.minutes(6)
      // Loaded anew in the middle of a dip: its clock goes on.
      await keeper.again(round === 0)
      await keeper.press('Out of the dip')
      if (round > 3) await keeper.press('None found')
      else {
        await keeper.fill('Animals', String([9, 5, 2, 1][round]))
        await keeper.press('One more: Egg clutches, Shelf')
      }
      await keeper.press('Counted, into the hold bowl')
      await keeper.press('Finish the round')
      await expect(page).toHaveURL(new RegExp(`${slugs}$`))
    }
    for (let look = 1; look <= 5; look++) {
      keeper.nowMs = start + (21 + 3 * look + 0.1) * DAY
      await keeper.wait(0, slugs)
      await keeper.go(`${slugs}/tally/finds`)
      await keeper.press('None found')
      await keeper.press(/^Save/)
      await expect(page).toHaveURL(new RegExp(`${slugs}$`))
    }
    await keeper.look('s2-slugs')
    await keeper.said(/(9[5-9]|over 99) % that nothing is left/)
    // Two weeks free of them are two weeks of looks: time alone ends nothing.
    for (const day of [43.1, 50.1]) {
      keeper.nowMs = start + day * DAY
      await keeper.wait(0, slugs)
      await expect(page.getByText('It has run through.')).toHaveCount(0)
      await keeper.go(`${slugs}/tally/finds`)
      await keeper.press('None found')
      await keeper.press(/^Save/)
      await expect(page).toHaveURL(new RegExp(`${slugs}$`))
    }
    keeper.nowMs = start + 52 * DAY
    await keeper.wait(0, slugs)
    await keeper.look('s2-slugs-end')
    await keeper.said(/^Yes/)
    // Day 76: the display is done waiting, and says so.
    keeper.nowMs = start + 76.2 * DAY
    await keeper.wait(0, fallow)
    await keeper.look('s2-end')
    await keeper.said(/run through/)
    await keeper.press('Say how it ended')
    await keeper.tick('Finished, nothing to cure')
    await keeper.press('End it')
    await keeper.said('The course is ended and stays on record.')
  },
)
