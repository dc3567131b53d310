// Situations 9, 10 and 20, lived from empty records: dinoflagellates by their rivals, to the last animal back.
import { expect, test } from '@playwright/test'
import { EMPTY } from './helpers.ts'
import { Keeper } from './house.ts'

test.use({ storageState: EMPTY })

const DAY = 86_400_000

test(
  '9, 10: dinoflagellates that came back: named, rivals fed, blown off, tapered, animals back one by one',
  { tag: '@whole' },
  async ({ page }) => {
    const start = Date.parse('2027-03-02T12:00:00Z')
    const keeper = new Keeper(page, '2027-03-02T12:00:00Z')
    await keeper.begin()
    const reef = await keeper.vessel('Quay', { cm: [72, 42, 40], use: /Display/, since: '2026-09-01' })
    const bowl = await keeper.vessel('Spare', { cm: [36, 26, 28], since: '2026-09-01' })
    await keeper.resident(reef, /trochus/i, 'Trochus', 4, '2026-10-01')
    await keeper.resident(reef, /^Toadstool leather/, 'Frond', 1, '2026-10-01')
    await keeper.read(reef, { Nitrate: '0', Phosphate: '0' })
    await keeper.go(`/courses/new?protocol=compete-dinoflagellates&vessel=${reef.split('/').pop()}`)
    await keeper.tick(/Spins on a thread/)
    await keeper.press('Start the course')
    await expect(page).toHaveURL(/\/courses\/[0-9a-f-]{20,}$/)
    const course = new URL(page.url()).pathname
    const count = async (measure: string, values: Readonly<Record<string, string>>) => {
      await keeper.go(`${course}/tally/${measure}`)
      for (const [field, value] of Object.entries(values)) await keeper.fill(new RegExp(`^${field}`), value)
      await keeper.press(/^Save/)
      await expect(page).toHaveURL(new RegExp(`${course}$`))
    }
    await count('dino-share', { Dinoflagellates: '80', 'All the rest': '20' })
    await keeper.press('Yes: Genus named')
    await keeper.look('s10-begun')
    // Grazers out: the snails wait in the spare box.
    await keeper.move(reef, 'Trochus', 'Spare')
    await keeper.go(course)
    await keeper.press('Done: Grazers out or fed away')
    await keeper.press('Done: Phosphate media out, carbon dosing off')
    // A piece of the leather is kept in the spare box, should the reef be lost.
    await keeper.resident(bowl, /^Toadstool leather/, 'Frond, a piece')
    await keeper.go(course)
    await page
      .getByRole('combobox', { name: /as insurance for Quay/ })
      .selectOption({ label: 'Frond, a piece (Toadstool leather coral)' })
    await keeper.said('Frond, a piece: kept as insurance for Quay.')
    await keeper.look('s10-steer')
    // Nitrate by the gram, phosphate by the gram, as the tests ask; what is poured stands on the record.
    for (const what of ['nitrate', 'phosphate']) {
      const steering = page.getByRole('region', { name: `Steering ${what}` })
      await expect(steering).toContainText(/Raise by/)
      await steering.getByRole('button', { name: `Added, log it: ${what}` }).click()
      await keeper.said(/: noted/)
    }
    const at = async (day: number) => {
      keeper.nowMs = start + day * DAY
      await keeper.wait(0, course)
    }
    await at(0.4)
    await keeper.press('Done: Bacteria at lights out')
    await at(2)
    await keeper.read(reef, { Nitrate: '4', Phosphate: '0.03' })
    await keeper.go(course)
    await keeper.look('s10-day2')
    for (const [day, dinoflagellates, rest] of [
      [7, '41', '59'],
      [14, '5', '95'],
      [21, '3', '97'],
      [28, '2', '98'],
    ] as const) {
      await at(day + 0.1)
      await count('dino-share', { Dinoflagellates: dinoflagellates, 'All the rest': rest })
    }
    await keeper.look('s10-hold')
    await at(28.3)
    await keeper.press('Done: Ultraviolet to half the hours')
    // While it holds, a slide a week says so.
    const still = { Dinoflagellates: '1', 'All the rest': '99' }
    await at(35.2)
    await count('dino-share', still)
    await at(42.4)
    await keeper.press('Done: Ultraviolet to a quarter of the hours')
    await count('dino-share', still)
    await at(49.2)
    await count('dino-share', still)
    await at(56.6)
    await count('dino-share', { Dinoflagellates: '1', 'All the rest': '99' })
    await keeper.look('s10-stock')
    // Before the test snail lives, bringing a grazer back is asked about.
    const back = page.getByRole('region', { name: 'Animals back, one by one' })
    await expect(back).toContainText(/First one hardy snail/)
    await at(64)
    await keeper.press('Yes: The test snail lives')
    await expect(back).toContainText('Now.')
    await back.getByRole('button', { name: 'Bring it back' }).first().click()
    await keeper.press('It is back')
    await keeper.said('Trochus: back in Quay.')
    for (const day of [70.7, 84.8, 98.9]) {
      await at(day)
      await count('dino-share', { Dinoflagellates: '1', 'All the rest': '99' })
    }
    for (const [measure, values] of [
      ['slide', { Diatoms: '70', 'Green algae': '25', Dinoflagellates: '1' }],
      ['cover', { Points: '3' }],
      ['clearance', { Hours: '1.5' }],
      ['night-day', { 'Cells at night': '2', 'Cells by day': '2' }],
      ['strings', { Days: '0' }],
    ] as const)
      await count(measure, values)
    await at(100)
    await keeper.look('s10-end')
    await keeper.said(/^Yes, by its own counts/)
  },
)

test(
  '20: the competitor is fed: silicate by the drop while the test still reads none, diatoms take over, tapered',
  { tag: '@whole' },
  async ({ page }) => {
    const start = Date.parse('2027-06-05T10:00:00Z')
    const keeper = new Keeper(page, '2027-06-05T10:00:00Z')
    await keeper.begin()
    const reef = await keeper.vessel('Terrace', { cm: [88, 46, 45], use: /Display/, since: '2026-12-01' })
    await keeper.read(reef, { Nitrate: '6', Phosphate: '0.06', Silicate: '0' })
    await keeper.go(`/courses/new?protocol=compete-dinoflagellates&vessel=${reef.split('/').pop()}`)
    await keeper.tick('Large, on sand')
    await keeper.press('Start the course')
    await expect(page).toHaveURL(/\/courses\/[0-9a-f-]{20,}$/)
    const course = new URL(page.url()).pathname
    await keeper.press('Yes: Genus named')
    const silicate = page.getByRole('region', { name: 'Steering silicate' })
    await keeper.look('s20-begun')
    await expect(silicate).toContainText('First dose: 1 mg/L')
    await silicate.getByRole('button', { name: 'Added, log it: silicate' }).click()
    await keeper.said(/sodium metasilicate.*: noted/)
    const at = async (day: number) => {
      keeper.nowMs = start + day * DAY
      await keeper.wait(0, course)
    }
    // An hour later it is there; a day later it is eaten. Both tests stand before the next dose.
    await at(0.06)
    await keeper.read(reef, { Silicate: '0.9' })
    await at(1.1)
    await keeper.read(reef, { Silicate: '0' })
    await keeper.go(course)
    await expect(silicate).toContainText(/at least 0\.9 mg\/L were used in a day/)
    await keeper.look('s20-zero')
    await silicate.getByRole('button', { name: 'Added, log it: silicate' }).click()
    await keeper.said(/sodium metasilicate.*: noted/)
    // The hour's test forgotten: the same again and no more, not a dead end.
    await at(2.2)
    await keeper.read(reef, { Silicate: '0' })
    await keeper.go(course)
    await expect(silicate).toContainText(/Nobody tested an hour after/)
    await silicate.getByRole('button', { name: 'Added, log it: silicate' }).click()
    await keeper.said(/sodium metasilicate.*: noted/)
    // Far under the arithmetic an hour after: a spiked cup, before anything more.
    await at(2.25)
    await keeper.read(reef, { Silicate: '0.2' })
    await at(3.2)
    await keeper.read(reef, { Silicate: '0' })
    await keeper.go(course)
    await keeper.look('s20-spike')
    await keeper.fill(/spiked cup reads/, '2')
    await silicate
      .getByRole('button', { name: /Note|Save|spiked/i })
      .first()
      .click()
    await keeper.look('s20-spiked')
    await expect(silicate).toContainText(/^.*Add /)
    const count = async (measure: string, values: Readonly<Record<string, string>>) => {
      await keeper.go(`${course}/tally/${measure}`)
      for (const [field, value] of Object.entries(values)) await keeper.fill(new RegExp(`^${field}`), value)
      await keeper.press(/^Save/)
      await expect(page).toHaveURL(new RegExp(`${course}$`))
    }
    for (const [day, dinoflagellates] of [
      [7, 60],
      [28, 5],
      [35, 4],
      [42, 2],
    ] as const) {
      await at(day + 0.1)
      await count('dino-share', {
        Dinoflagellates: String(dinoflagellates),
        'All the rest': String(100 - dinoflagellates),
      })
    }
    await at(42.2)
    await keeper.press('Done: Silicate to half')
    const still = { Dinoflagellates: '1', 'All the rest': '99' }
    const slide = async (day: number) => {
      await at(day)
      await count('dino-share', still)
    }
    await slide(49.2)
    await slide(56.5)
    await keeper.press('Done: Silicate to a quarter')
    await slide(63.2)
    await at(70)
    await keeper.press('Done: No more silicate')
    await slide(72)
    await at(79)
    await keeper.press('Yes: The test snail lives')
    await slide(86)
    await slide(100)
    await at(112.5)
    for (const [measure, values] of [
      ['dino-share', { Dinoflagellates: '1', 'All the rest': '99' }],
      ['slide', { Diatoms: '85', 'Green algae': '10', Dinoflagellates: '1' }],
      ['cover', { Points: '4' }],
      ['clearance', { Hours: '1' }],
      ['night-day', { 'Cells at night': '3', 'Cells by day': '4' }],
      ['strings', { Days: '0' }],
    ] as const)
      await count(measure, values)
    await at(113)
    await keeper.look('s20-end')
    await keeper.said(/^Yes, by its own counts/)
  },
)

test('19: a reef starved of one element: walked coral by coral, potassium in portions, alkalinity guarded, judged', async ({
  page,
}) => {
  const start = Date.parse('2027-09-13T09:00:00Z')
  const keeper = new Keeper(page, '2027-09-13T09:00:00Z')
  await keeper.begin()
  const reef = await keeper.vessel('Spur', { cm: [96, 50, 48], use: /Display/, since: '2026-05-01' })
  for (const [kind, name] of [
    [/^Finger montipora|^Montipora/i, 'Antler'],
    [/^Hammer|^Branching hammer/i, 'Mallet'],
    [/^Toadstool leather/, 'Stool'],
  ] as const)
    await keeper.resident(reef, kind, name, 1, '2026-06-01')
  await keeper.go(`/walk/${reef.split('/').pop()}`)
  await keeper.look('s19-walk')
  await keeper.press(/^Colour .*, Antler/)
  await page.getByRole('group', { name: 'Colour of Antler' }).getByRole('button', { name: 'pale' }).click()
  await keeper.press('The rest looked at: well')
  await expect(page).toHaveURL(new RegExp(`${reef}$`))
  await keeper.read(reef, {
    Potassium: '335',
    Alkalinity: '7.6',
    Calcium: '425',
    Magnesium: '1330',
    Nitrate: '6',
    Phosphate: '0.05',
  })
  // One low result is none: the page says so, and the kit is asked again.
  await keeper.go(`/water/${reef.split('/').pop()}/corrections`)
  await keeper.said(/there is one so far, test it again/)
  await keeper.minutes(70)
  await keeper.read(reef, { Potassium: '335' })
  await keeper.go(`/courses/new?protocol=raise-potassium&vessel=${reef.split('/').pop()}`)
  await keeper.press('Start the course')
  await expect(page).toHaveURL(/\/courses\/[0-9a-f-]{20,}$/)
  const course = new URL(page.url()).pathname
  await keeper.look('s19-begun')
  const potassium = page.getByRole('region', { name: 'Steering potassium' })
  const pour = async () => {
    await potassium.getByRole('button', { name: 'Added, log it: potassium' }).click()
    await keeper.said(/: noted/)
  }
  await pour()
  const at = async (day: number) => {
    keeper.nowMs = start + day * DAY
    await keeper.wait(0, course)
  }
  await at(1)
  // Alkalinity jumped with it: another doser was at it too.
  await keeper.read(reef, { Potassium: '350', Alkalinity: '8.2' })
  await keeper.go(course)
  await keeper.look('s19-alk')
  await keeper.said(/act: alkalinity 8\.2 dKH\. Add nothing more today, turn every other doser of alkalinity off/)
  for (const [day, values] of [
    [2, { Potassium: '348', Alkalinity: '8' }],
    [3, { Potassium: '362', Alkalinity: '7.8' }],
    [4, { Potassium: '377', Alkalinity: '7.7' }],
    [5, { Potassium: '392', Alkalinity: '7.7' }],
  ] as const) {
    await at(day)
    await keeper.read(reef, values)
    await keeper.go(course)
    if (day === 5) break
    await keeper.said(/at least 390 is wanted/)
    await pour()
  }
  await keeper.look('s19-end')
  await keeper.said(/^Yes: potassium 392 mg\/L, at least 390 was wanted/)
  // The next walk stands beside the last one.
  await keeper.go(`/walk/${reef.split('/').pop()}`)
  await keeper.said(/pale/)
})
