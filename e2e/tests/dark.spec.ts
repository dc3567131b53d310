// Situations 4 and 15, lived from an empty record: dark days in a planted tank and in a reef, tested every day.
import { expect, test } from '@playwright/test'
import { EMPTY } from './helpers.ts'
import { Keeper } from './house.ts'

test.use({ storageState: EMPTY })

test(
  '15: five dark days that a climbing nitrate ends on the fourth; heads by name, what was lost',
  { tag: '@whole' },
  async ({ page }) => {
    const keeper = new Keeper(page, '2027-02-08T17:00:00Z')
    await keeper.begin()
    const reef = await keeper.vessel('Landing reef', { cm: [74, 46, 41] })
    await keeper.resident(reef, /^(Ocellaris|Common) clown|clownfish/i, 'Pepper')
    await keeper.resident(reef, /snail/i, 'Grinders', 5)
    await keeper.resident(reef, /^Toadstool leather/, 'Brolly')
    // How the corals stood before.
    await keeper.go(`/walk/${reef.split('/').pop()}`)
    await keeper.press('All looked at: well')
    await expect(page).toHaveURL(new RegExp(`${reef}$`))
    const course = await keeper.course('dark-5', reef)
    await keeper.go(course)
    await keeper.look('s15-start')
    await keeper.press('Done: Make it ready')
    await keeper.press('Yes: Nothing in it forbids it')
    // Every head before, by its name: nobody is taken to be there.
    await page
      .getByRole('link', { name: /^Count: Count every head/ })
      .first()
      .click()
    const heads = page.getByRole('region', { name: 'Heads, one by one' })
    await expect(heads.getByRole('button', { name: 'Save the count' })).toBeDisabled()
    await heads.getByRole('button', { name: 'All seen, and all well' }).click()
    await heads.getByRole('button', { name: 'Save the count' }).click()
    await expect(page).toHaveURL(new RegExp(`${course}$`))
    await keeper.read(reef, {
      Nitrate: '7',
      Phosphate: '0.06',
      'Total ammonia': '0.02',
      Alkalinity: '8.2',
      Temperature: '25.4',
    })
    await keeper.go(`${course}/tally/cover`)
    await keeper.fill('Points on film, of 100', '46')
    await keeper.press('Save the count')
    await expect(page).toHaveURL(new RegExp(`${course}$`))
    // The second day looks unchanged; nobody stops testing for it.
    for (const [nitrate, phosphate] of [
      ['7', '0.06'],
      ['8', '0.07'],
      ['11', '0.08'],
    ] as const) {
      await keeper.wait(24, course)
      await keeper.press('Done: Empty the skimmer cup, change the floss')
      await keeper.press('Done: One minute with a red torch')
      await keeper.read(reef, {
        Nitrate: nitrate,
        Phosphate: phosphate,
        'Total ammonia': '0.04',
        Alkalinity: '8.3',
        Temperature: '25.2',
      })
    }
    await keeper.look('s15-day3')
    await keeper.said(/nitrate/i)
    await keeper.wait(20, course)
    await keeper.read(reef, { Nitrate: '15', Phosphate: '0.1', 'Total ammonia': '0.06' })
    await keeper.said(/end it now: nitrate 15 mg\/L/i)
    await keeper.look('s15-stop')
    await keeper.press('Yes: Uncover early?')
    await keeper.said(/Light in steps/)
    await page
      .getByRole('link', { name: /^Count: Count every head/ })
      .first()
      .click()
    await heads.getByRole('group', { name: 'Pepper' }).getByText('There and well').click()
    await heads.getByRole('group', { name: 'Brolly' }).getByText('There and well').click()
    await heads.getByRole('textbox', { name: /^There, of 5/ }).fill('3')
    await expect(heads.getByText(/Grinders: 2 of 5/)).toBeVisible()
    await keeper.look('s15-heads')
    await heads.getByRole('button', { name: 'Save the count' }).click()
    await keeper.said(/Not found or not well at the last count: Grinders \(2 of 5\)/)
    // Two shells are empty: noted in one press, and the question is gone.
    await keeper.press('2 of Grinders died')
    await expect(page.getByText(/Not found or not well/)).toHaveCount(0)
    // By hand: 15 down to 10 in two equal changes asks 1 − √(10 ÷ 15) = 0.18, and a quarter is the least.
    await keeper.said(/Nitrate 15 → about 11 mg\/L, 8\.4 after both/)
    await keeper.press('Done: Siphon what died')
    await keeper.press('Log the change: Change water, then once more after half an hour')
    const dialog = page.getByRole('dialog')
    await dialog.getByRole('button', { name: 'Save' }).click()
    await expect(dialog).toHaveCount(0)
    await keeper.wait(0.6, course)
    await keeper.press('Log the change: Change water, then once more after half an hour')
    await dialog.getByRole('button', { name: 'Save' }).click()
    await expect(dialog).toHaveCount(0)
    await keeper.press('Done: Light 20 % for 4 h')
    await expect(page.getByRole('button', { name: /^Log the change/ })).toHaveCount(0)
    for (const [days, light, points] of [
      [2, 'Light 30 % for 5 h', null],
      [2, 'Light 40 % for 6 h', '18'],
      [3, 'Light 55 % for 7 h', '9'],
      [3, 'Light 70 % for 8 h', null],
      [3, 'Light 90 % for 8 h', null],
      [1, null, '4'],
    ] as const) {
      await keeper.wait(24 * days, course)
      if (light !== null) await keeper.press(`Done: ${light}`)
      await keeper.read(reef, { Nitrate: '9', Phosphate: '0.08', 'Total ammonia': '0' })
      if (points !== null) {
        await keeper.go(`${course}/tally/cover`)
        await keeper.fill('Points on film, of 100', points)
        await keeper.press('Save the count')
        await expect(page).toHaveURL(new RegExp(`${course}$`))
      }
    }
    await keeper.go(`/walk/${reef.split('/').pop()}`)
    await keeper.press('All looked at: as before')
    await expect(page).toHaveURL(new RegExp(`${reef}$`))
    await keeper.wait(1, course)
    await keeper.look('s15-end')
    await keeper.said(/^Yes, by its own counts/)
    await keeper.press('End this course')
    await keeper.look('s15-ending')
    await keeper.tick('Stopped early')
    await keeper.press('End it')
    await keeper.go('/courses')
    await keeper.look('s15-board')
    await keeper.said('Lost on the way: Grinders (2).')
  },
)

test('4: slime in a small planted tank: everything out, ten minutes of peroxide by the net volume, two halves, back by a strip', async ({
  page,
}) => {
  const keeper = new Keeper(page, '2027-05-11T15:00:00Z')
  await keeper.begin()
  const nano = await keeper.vessel('Sill', { cm: [31, 22, 24], water: 'Fresh water' })
  const bucket = await keeper.vessel('Bucket', { cm: [28, 28, 20], water: 'Fresh water' })
  await keeper.resident(nano, /^Siamese fighting fish/, 'Banner')
  await keeper.bottle('Peroxide, 3 %', /^Hydrogen peroxide, whole tank/, '3')
  const course = await keeper.course('peroxide-empty-fresh', nano)
  await keeper.go(course)
  await keeper.press('Done: An aerated bucket')
  // The record names who is still in, and nothing is poured on somebody.
  await keeper.said(/On record here: Banner/)
  await keeper.look('s4-out')
  await keeper.move(nano, 'Banner', 'Bucket')
  await keeper.go(course)
  await keeper.press('Yes: Fish, shrimps')
  await keeper.press('Done: Water for two half changes')
  await keeper.go(`${course}/tally/cover`)
  await keeper.fill('Points on film, of 100', '38')
  await keeper.press('Save the count')
  await expect(page).toHaveURL(new RegExp(`${course}$`))
  await keeper.look('s4-dose')
  // 31 × 22 × 24 cm outside, 5 mm glass, 3 cm to the rim: 30 × 21 × 20.5 cm = 12.9 L; 60 mg/L of 3 % is 2 mL a litre.
  await keeper.press(/^Done, log it: Peroxide/)
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByRole('textbox', { name: /^Poured/ })).toHaveValue(/^2[56]/)
  await keeper.look('s4-pour')
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(dialog).toHaveCount(0)
  await page
    .getByRole('link', { name: /^Minute by minute/ })
    .first()
    .click()
  await keeper.look('s4-minutes')
  await keeper.press(/^Done/)
  await keeper.said(/^1 of \d: noted/)
  await keeper.minutes(6)
  await keeper.again(true)
  // A reload in the middle loses no minute.
  await keeper.said(/0?4:\d\d|4 min/)
  await keeper.minutes(4.5)
  await keeper.again(true)
  await keeper.press(/^Done/)
  await keeper.go(course)
  for (let half = 0; half < 2; half++) {
    await keeper.press('Log the change: Half of the water, then once more after half an hour')
    await dialog.getByRole('button', { name: 'Save' }).click()
    await expect(dialog).toHaveCount(0)
    await keeper.wait(0.6, course)
  }
  // A quarter is left, 15 mg/L: nobody goes back on a feeling, and the log does not let them.
  await keeper.go(bucket)
  await page.keyboard.press('l')
  await dialog.getByText('Move', { exact: true }).click()
  await dialog.getByRole('combobox', { name: 'To' }).selectOption({ label: 'Sill' })
  await expect(dialog.getByText(/whole tank/i).first()).toBeVisible()
  await keeper.look('s4-refused')
  await dialog.getByRole('button', { name: 'Close' }).click()
  await keeper.wait(25, course)
  await keeper.press('Yes: A strip reads 1 mg/L or less')
  await keeper.press('Done: Filter media back, pump on')
  await keeper.press('Done: Animals back by acclimation')
  await keeper.move(bucket, 'Banner', 'Sill')
  for (const [days, points] of [
    [1, '12'],
    [3, '6'],
    [3, '3'],
  ] as const) {
    await keeper.wait(24 * days, course)
    await keeper.read(nano, { 'Total ammonia': '0.05' })
    await keeper.go(`${course}/tally/cover`)
    await keeper.fill('Points on film, of 100', points)
    await keeper.press('Save the count')
    await expect(page).toHaveURL(new RegExp(`${course}$`))
  }
  await keeper.wait(3, course)
  await keeper.look('s4-end')
  await keeper.said(/^Yes, by its own counts/)
})
