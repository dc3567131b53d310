// The situations of a keeper's year, each from an empty record with numbers of its own, lived to its judged end.
import { expect, test } from '@playwright/test'
import { EMPTY } from './helpers.ts'
import { Keeper } from './house.ts'

test.use({ storageState: EMPTY })

test('3: bubble algae and a worm snail on one piece, at the bench', async ({ page }) => {
  const keeper = new Keeper(page, '2027-03-06T10:00:00Z')
  await keeper.begin()
  const reef = await keeper.vessel('Kitchen reef', { cm: [74, 41, 46] })
  await keeper.resident(reef, /^Toadstool leather/, 'Old leather')
  await keeper.bottle('Peroxide from the cupboard', /^Peroxide, gentle coral dip/, '6')
  const course = await keeper.course('bench-bubbles-and-snails', reef)
  await keeper.go(course)
  await keeper.look('s3-course')
  await page
    .getByRole('link', { name: /Open the bench/ })
    .first()
    .click()
  await keeper.said('Laid out first')
  // 6 % is thinned once over for the drops, and 0.5 mL of it make 30 mg/L in a litre.
  await keeper.said(/1 \+ 1 with tank water makes 3 %/)
  await keeper.said(/0[.,]5 mL of Peroxide from the cupboard into 1 L/)
  await keeper.look('s3-bench-first')
  for (const box of await page.getByRole('checkbox').all()) await box.check({ force: true })
  // The wrong piece is in hand: what stands of it goes to the right one.
  await keeper.fill('Its name', 'Finger leather')
  await keeper.choose('What it is', /leather/i)
  await keeper.press('Into the work tub')
  await keeper.press('It is another piece')
  await keeper.look('s3-bench-other')
  const other = page.getByRole('group', { name: 'It is another piece' })
  await other.getByRole('button', { name: 'Old leather' }).click()
  await expect(other.getByRole('combobox', { name: 'What the right one is' })).toHaveValue('leather')
  await keeper.press('Put it right')
  await keeper.said(/It was Old leather, not Finger leather/)
  await expect(page.getByRole('heading', { level: 2, name: 'Old leather' })).toBeVisible()
  await keeper.look('s3-bench-piece')
  await keeper.press(/^Done, next/)
  await keeper.said(/^Hose at the base/)
  // Seven bubbles, all of them off; two tubes, one stays.
  await keeper.fill(/^Before/, '7')
  await keeper.fill(/^Removed whole/, '7')
  await keeper.press(/^Done, next/)
  await keeper.said(/^Each tube broken/)
  await keeper.fill(/^Before/, '2')
  await keeper.fill(/^Removed whole/, '3')
  // More removed than were there is asked about, and nothing typed is lost.
  await keeper.said(/says 3, and “Before” only 2/)
  await keeper.look('s3-bench-asked')
  await keeper.fill(/^Removed whole/, '2')
  await keeper.press(/^Done, lift it out/)
  await keeper.said(/^One to two millimetres/)
  await keeper.minutes(2)
  await keeper.again(true)
  await expect(page.getByText(/In air for 02:0\d of 05:00/)).toBeVisible()
  await keeper.look('s3-bench-air')
  await keeper.press(/^Done, next/)
  await keeper.said(/^Peroxide of 3 % on the bare spot/)
  await keeper.minutes(1)
  await keeper.said('Long enough.')
  await keeper.fill(/^Put on it/, '2.5')
  await keeper.said(/no more than 2 mL go on one piece/)
  await expect(page.getByRole('button', { name: /^Done, into the water/ })).toBeDisabled()
  await keeper.fill(/^Put on it/, '1.5')
  await keeper.press(/^Done, into the water/)
  for (const n of [1, 2, 3]) await keeper.press(new RegExp(`^Done ${n} of 3`))
  await keeper.said(/^Into the soak tub/)
  await keeper.minutes(19)
  await keeper.again(true)
  await keeper.said(/01:0\d to go/)
  await keeper.minutes(1.2)
  await keeper.said('Long enough.')
  await keeper.again(true)
  await keeper.said('Long enough.')
  await keeper.look('s3-bench-soak')
  await keeper.press(/^Done, lift it out/)
  await keeper.said(/^Dab dry/)
  await keeper.fill(/^Spots closed/, '3')
  await keeper.fill(/^Putty/, '20')
  await keeper.said(/of putty in a day/)
  await keeper.fill(/^Putty/, '6')
  await keeper.press(/^Done, into the water/)
  await keeper.press(/^Done, next/)
  await keeper.press('It is back')
  await keeper.said(/three spots sealed/)
  await keeper.look('s3-bench-done')
  await keeper.press('Finish the session')
  await expect(page).toHaveURL(new RegExp(`${course}$`))
  await keeper.go(course)
  await keeper.look('s3-after')
  // Two clean counts of both, a fortnight apart, end it.
  for (const day of [7, 14, 28]) {
    keeper.nowMs = Date.parse('2027-03-06T19:30:00Z') + day * 86_400_000
    await keeper.wait(0, course)
    for (const measure of ['rock-count', 'tube-count']) {
      await keeper.go(`${course}/tally/${measure}`)
      await keeper.press('None')
      await keeper.press('Save the count')
      await expect(page).toHaveURL(new RegExp(`${course}$`))
    }
  }
  await keeper.look('s3-end')
  await keeper.said(/Yes, by its own counts/)
})

test(
  '5: a failing leather coral, dripped, set apart, watched until it opens and goes home',
  { tag: '@whole' },
  async ({ page }) => {
    const keeper = new Keeper(page, '2027-04-02T16:00:00Z')
    await keeper.begin()
    const reef = await keeper.vessel('Window reef', { cm: [62, 44, 40] })
    await keeper.resident(reef, /^Toadstool leather/, 'Umbrella')
    await keeper.bottle('Peroxide, 3 %', /^Peroxide, gentle coral dip/, '3')
    // How it stands before: walked, with its polyps shut and its skin covered.
    await keeper.go(`/walk/${reef.split('/').pop()}`)
    await keeper.press('Polyps full, Umbrella')
    await page.getByRole('group', { name: 'Polyps of Umbrella' }).getByRole('button', { name: 'shut' }).click()
    await keeper.press('Note the walk')
    await expect(page).toHaveURL(new RegExp(`${reef}$`))
    const course = await keeper.course('leather-drip', reef)
    await keeper.go(course)
    await page
      .getByRole('link', { name: /Open the bench/ })
      .first()
      .click()
    await keeper.said(/1 \+ 2 with tank water makes 1 %\. 1 to 2 mL/)
    for (const box of await page.getByRole('checkbox').all()) await box.check({ force: true })
    await keeper.press('Umbrella')
    await keeper.press('Into the work tub')
    await keeper.press(/^Done, lift it out/)
    await keeper.press(/^Done, next/)
    await keeper.said(/^1 to 2 mL of 1 %/)
    await keeper.minutes(0.5)
    await keeper.again(true)
    await keeper.said(/00:[23]\d to go/)
    await keeper.minutes(0.6)
    await keeper.again(true)
    await keeper.said('Long enough.')
    await keeper.fill(/^Put on it, of 1 %/, '1.5')
    await keeper.look('s5-drip')
    await keeper.press(/^Done, into the water/)
    await keeper.said(/^Pour tank water beside it/)
    await keeper.minutes(1)
    await keeper.said('Long enough.')
    await keeper.press(/^Done, next/)
    await keeper.press(/^Done 1 of 2/)
    await keeper.press(/^Done 2 of 2/)
    await keeper.press('It is back')
    await keeper.press('Finish the session')
    await expect(page).toHaveURL(new RegExp(`${course}$`))
    await keeper.go(reef)
    await page.getByRole('link', { name: 'Umbrella' }).first().click()
    await keeper.press('put on the recovery spot')
    await keeper.said('Umbrella: put on the recovery spot.')
    const animal = new URL(page.url()).pathname
    await keeper.wait(14, animal)
    await keeper.press('fell over')
    await keeper.said('Umbrella: fell over.')
    // A shut week, then better every day; three good days end it, and not before.
    for (const [day, score] of [
      [2, 0],
      [5, 1],
      [8, 2],
      [11, 3],
      [12, 3],
    ] as const) {
      keeper.nowMs = Date.parse('2027-04-02T17:00:00Z') + day * 86_400_000
      await keeper.wait(0, `${course}/tally/extension`)
      await page
        .getByRole('radiogroup')
        .getByText(['shut and waxy', 'skin lifting', 'half open', 'open'][score]!, { exact: true })
        .click()
      await keeper.press('Save the count')
      await expect(page).toHaveURL(new RegExp(`${course}$`))
      if (day === 5) {
        await keeper.go(animal)
        await keeper.press('shed its skin')
        await keeper.said('Umbrella: shed its skin.')
      }
    }
    await keeper.go(course)
    await expect(page.getByText(/^Yes, by its own counts/)).toHaveCount(0)
    await keeper.wait(24, `${course}/tally/extension`)
    await page.getByRole('radiogroup').getByText('as at its best', { exact: true }).click()
    await keeper.press('Save the count')
    await expect(page).toHaveURL(new RegExp(`${course}$`))
    await keeper.look('s5-end')
    await keeper.said(/Yes, by its own counts/)
    await keeper.go(animal)
    await keeper.press('back in its place')
    await keeper.said('Umbrella: back in its place.')
    await keeper.go(`/walk/${reef.split('/').pop()}`)
    await keeper.look('s5-walk')
    await keeper.press('Polyps shut, Umbrella')
    await page.getByRole('group', { name: 'Polyps of Umbrella' }).getByRole('button', { name: 'full' }).click()
    await keeper.press('Note the walk')
    await expect(page).toHaveURL(new RegExp(`${reef}$`))
    await keeper.go(animal)
    const beside = page.getByRole('region', { name: 'Two days side by side' })
    await expect(beside.getByText('polyps shut')).toBeVisible()
    await expect(beside.getByText('well', { exact: true })).toBeVisible()
    await keeper.look('s5-life')
  },
)

test('7: corals taken in over weeks of dips; one is suspect and goes back, the others pass the gate', async ({
  page,
}) => {
  test.slow()
  const keeper = new Keeper(page, '2027-01-09T17:00:00Z')
  const start = keeper.nowMs
  await keeper.begin()
  const rack = await keeper.vessel('Frag rack', { cm: [50, 30, 30], use: /[Ii]ntake/ })
  await keeper.resident(rack, /^Finger montipora/, 'Green fingers')
  await keeper.resident(rack, /^Zoanthid mat/, 'Star mat')
  await keeper.bottle('Iodine', /^.*[Ii]odine/, '50')
  const course = await keeper.course('coral-intake-45', rack)
  let early = true
  /** One piece through all stages of the bench; what was found is typed at the lens. */
  const through = async (name: string, mobiles: number) => {
    await keeper.press(name)
    await keeper.press('Into the work tub')
    await keeper.press(/^Done, next/)
    await keeper.said(/^Into the dip/)
    if (early) {
      await expect(page.getByText(/has run for 0 min of at least/)).toHaveCount(0)
      await keeper.press(/^Done, next/)
      await keeper.said(/has run for 0 min of at least/)
    }
    await keeper.minutes(10)
    await keeper.again(early)
    early = false
    await keeper.said('Long enough.')
    await keeper.press(/^Done, next/)
    for (const n of [1, 2, 3]) await keeper.press(new RegExp(`^Done ${n} of 3`))
    if (mobiles === 0) await keeper.press('Nothing found')
    else {
      await keeper.fill('Animals found', String(mobiles))
      await keeper.fill('Egg clutches', '0')
    }
    await keeper.press(/^Done, next/)
    await keeper.press('It is back')
  }
  const session = async (day: number, finds: Readonly<Record<string, number>>) => {
    keeper.nowMs = start + day * 86_400_000 + 1_800_000
    await keeper.wait(0, `${course}/bench/dip`)
    for (const box of await page.getByRole('checkbox').all()) await box.check({ force: true })
    for (const [name, mobiles] of Object.entries(finds)) await through(name, mobiles)
    await keeper.press('Finish the session')
    await expect(page).toHaveURL(new RegExp(`${course}$`))
  }
  await session(0, { 'Green fingers': 2, 'Star mat': 0 })
  const gate = page.getByRole('region', { name: 'The gate, piece by piece' })
  await expect(gate.getByRole('row', { name: /Green fingers/ })).toContainText('0 of 3')
  await expect(gate.getByRole('row', { name: /Star mat/ })).toContainText('1 of 3')
  await session(4, { 'Green fingers': 1, 'Star mat': 0 })
  await expect(gate.getByRole('row', { name: /Green fingers/ })).toContainText('suspect')
  await keeper.look('s7-gate')
  // The suspect one goes back to where it came from: it no longer holds the other.
  await gate.getByRole('button', { name: 'Send back or set apart' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('combobox', { name: 'To' }).selectOption({ label: 'Given away or sent back' })
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(dialog).toHaveCount(0)
  await expect(gate.getByRole('row', { name: /Green fingers/ })).toHaveCount(0)
  await session(8, { 'Star mat': 0 })
  await expect(gate.getByRole('row', { name: /Star mat/ })).toContainText('its looks are clean')
  // Clean looks alone are not the days, and days that nobody read the warmth of are none.
  keeper.nowMs = start + 45.2 * 86_400_000
  await keeper.wait(0, course)
  await expect(page.getByText(/Nothing found/)).toHaveCount(0)
  await keeper.said(/0 days, 45 without a reading/)
  // The thermometer keeps its own log: forty-six days of it as a table.
  const rows = Array.from({ length: 46 }, (_, day) => {
    const at = new Date(start + day * 86_400_000)
    return `${at.toISOString().slice(0, 10)} 08:00;27,${2 + (day % 3)}`
  })
  await keeper.go(`/tests/${rack.split('/').pop()}/table`)
  await page.getByLabel('A table as a file').setInputFiles({
    name: 'warmth.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(['Date;Temperature (°C)', ...rows].join('\n')),
  })
  await keeper.look('s7-table')
  await keeper.press(/^Take \d+ readings/)
  await keeper.said('45 readings taken from warmth.csv.')
  await keeper.go(course)
  await keeper.look('s7-release')
  await keeper.press(/^Yes: Nothing found/)
  await keeper.go('/')
  await keeper.go(course)
  await keeper.look('s7-end')
})
