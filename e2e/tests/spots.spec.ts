// Situations 1 and 18, lived from an empty record: tufts on leaves, treated by syringe, held against a patch left alone.
import { expect, test } from '@playwright/test'
import { EMPTY } from './helpers.ts'
import { Keeper } from './house.ts'

test.use({ storageState: EMPTY })

const DAY = 86_400_000
/** The arm of each patch, and how it looks on each day that it is scored. */
type Patches = Readonly<Record<string, { readonly arm: string; readonly looks: Readonly<Record<number, string>> }>>

/** A planted tank with its bottle, the course begun and the worst leaves cut. */
async function planted(
  keeper: Keeper,
  tank: {
    readonly name: string
    readonly cm: readonly [number, number, number]
    readonly lives: RegExp
    readonly heads: number
  },
  percent: string,
): Promise<string> {
  await keeper.begin()
  const vessel = await keeper.vessel(tank.name, { cm: tank.cm, water: 'Fresh water', use: /Display/ })
  await keeper.resident(vessel, tank.lives, 'Crowd', tank.heads)
  await keeper.bottle(`Peroxide, ${percent} %`, /^Hydrogen peroxide on spots, fresh/, percent)
  const course = await keeper.course('spot-peroxide-fresh', vessel)
  await keeper.go(course)
  await keeper.press('Done: Cut the worst leaves off')
  return course
}

async function score(keeper: Keeper, course: string, patches: Patches, day: number): Promise<void> {
  const { page } = keeper
  await keeper.go(`${course}/tally/patch-score`)
  for (const [patch, { arm, looks }] of Object.entries(patches)) {
    const known = page.getByRole('group', { name: /^Map of the vessel/ }).getByRole('button', { name: patch })
    if (day === 0) {
      await keeper.fill('Name a new patch', patch)
      await keeper.press('Add it')
      await page.getByText(arm, { exact: true }).click()
    } else if (!(await known.getAttribute('aria-pressed'))?.startsWith('true')) await known.click()
    await page.getByText(looks[day]!, { exact: true }).click()
    await keeper.press(/^Save/)
    await expect(page.getByText(`Patch score, ${patch}: noted.`).last()).toBeVisible()
  }
}

/** The treated patches are white: what is white is done, and the time is left out in words. */
async function whiteIsDone(keeper: Keeper): Promise<void> {
  await keeper.said(/nothing is left to treat/)
  await keeper.press(/^Leave out: Spot treatment/)
  const skip = keeper.page.getByRole('dialog')
  await skip.getByRole('textbox').fill('White all over')
  await skip.getByRole('button', { name: 'Leave it out' }).click()
  await expect(skip).toHaveCount(0)
}

async function round(
  keeper: Keeper,
  course: string,
  amounts: Readonly<Record<string, string>>,
  rule = 'spot',
): Promise<void> {
  const { page } = keeper
  await keeper.go(`${course}/spot/${rule}`)
  for (const box of await page.getByRole('checkbox').all()) await box.check({ force: true })
  await keeper.press('Pumps and top-off are off')
  await expect(page.getByRole('heading', { name: 'Pumps off' })).toBeVisible()
  await keeper.minutes(12)
  for (const [patch, mL] of Object.entries(amounts)) await keeper.fill(new RegExp(`^${patch}`), mL)
  await keeper.press('Pumps on, log it')
  await expect(page.getByText(/over the patches/).last()).toBeVisible()
}

test(
  '18: brush algae and a 12 % bottle: thinned, two weeks by syringe, three ways compared, judged',
  { tag: '@whole' },
  async ({ page }) => {
    const start = Date.parse('2027-07-03T09:00:00Z')
    const keeper = new Keeper(page, '2027-07-03T09:00:00Z')
    const course = await planted(
      keeper,
      { name: 'Study', cm: [61, 32, 34], lives: /^Harlequin rasbora/, heads: 9 },
      '12',
    )
    const patches: Patches = {
      'sword, old leaf': {
        arm: 'Treated in the water',
        looks: { 0: 'as before', 3: 'grey to pink', 7: 'white or gone', 28: 'white or gone' },
      },
      'fern, tip': {
        arm: 'Painted out of the water',
        looks: { 0: 'as before', 3: 'pink or red', 7: 'white or gone', 28: 'white or gone' },
      },
      'crypt, rim': { arm: 'Left alone', looks: { 0: 'as before', 3: 'as before', 7: 'as before', 28: 'as before' } },
    }
    await score(keeper, course, patches, 0)
    await keeper.go(`${course}/spot/spot`)
    await keeper.look('s18-spot')
    // 12 % is thinned three parts to one before it touches a leaf.
    await keeper.said(/1 part and 3 parts/)
    for (let time = 0; time < 7; time++) {
      keeper.nowMs = start + 2 * time * DAY + (time === 0 ? 0 : 3_600_000)
      await keeper.wait(0, course)
      if (time > 3) {
        await whiteIsDone(keeper)
        continue
      }
      await round(keeper, course, { 'sword, old leaf': '0,4' })
      if (time === 1 || time === 3) {
        keeper.nowMs = start + (2 * time + 1) * DAY
        await keeper.wait(0, course)
        await score(keeper, course, patches, time === 1 ? 3 : 7)
      }
    }
    await keeper.go(course)
    await keeper.look('s18-rounds')
    await keeper.said(/Treated in the water: 4 steps ahead of left alone/)
    keeper.nowMs = start + 28.1 * DAY
    await keeper.wait(0, course)
    await score(keeper, course, patches, 28)
    await keeper.wait(2, course)
    await keeper.look('s18-end')
    await keeper.said(/^Yes, by its own counts/)
  },
)

test('1: tufts on slow leaves among shrimps: trimmed, 3 % by the lower ceiling, its cause answered, judged', async ({
  page,
}) => {
  const start = Date.parse('2027-09-04T08:00:00Z')
  const keeper = new Keeper(page, '2027-09-04T08:00:00Z')
  const course = await planted(keeper, { name: 'Landing', cm: [44, 28, 30], lives: /^Cherry shrimp/, heads: 25 }, '3')
  const patches: Patches = {
    'anubias, front': {
      arm: 'Treated in the water',
      looks: { 0: 'as before', 3: 'pink or red', 28: 'white or gone' },
    },
    'moss, left': { arm: 'Left alone', looks: { 0: 'as before', 3: 'as before', 28: 'as before' } },
  }
  await score(keeper, course, patches, 0)
  // 2.5 mg/L and no more where shrimps live, not 7.5.
  await keeper.go(`${course}/spot/spot`)
  await keeper.said(/of 2\.5 mg\/L/)
  for (const box of await page.getByRole('checkbox').all()) await box.check({ force: true })
  await keeper.press('Pumps and top-off are off')
  await keeper.minutes(11)
  await keeper.fill(/^anubias, front/, '9')
  await keeper.said('Blocked.')
  await expect(page.getByRole('button', { name: 'Pumps on, log it' })).toBeDisabled()
  await keeper.fill(/^anubias, front/, '0.4')
  await keeper.press('Pumps on, log it')
  await expect(page.getByText(/over the patches: noted/).last()).toBeVisible()
  await keeper.go(`${course}/causes`)
  await page.getByRole('group', { name: 'Light', exact: true }).getByRole('button', { name: 'Yes' }).click()
  await keeper.said('Six to eight hours for 14 days.')
  for (let time = 1; time < 4; time++) {
    keeper.nowMs = start + 2 * time * DAY + 3_600_000
    await keeper.wait(0, course)
    await round(keeper, course, { 'anubias, front': '0.3' })
    if (time === 1) {
      keeper.nowMs = start + 3 * DAY
      await keeper.wait(0, course)
      await score(keeper, course, patches, 3)
    }
  }
  keeper.nowMs = start + 28.2 * DAY
  await keeper.wait(0, course)
  await score(keeper, course, patches, 28)
  await keeper.wait(2, course)
  await keeper.look('s1-end')
  await keeper.said(/^Yes, by its own counts/)
})

test(
  '13: nuisance anemones, rock by rock on a tray: counted, minutes in air, ammonia read, six weeks free',
  { tag: '@whole' },
  async ({ page }) => {
    const start = Date.parse('2027-11-06T09:00:00Z')
    const keeper = new Keeper(page, '2027-11-06T09:00:00Z')
    await keeper.begin()
    const reef = await keeper.vessel('Passage', { cm: [90, 45, 45], use: /Display/ })
    const course = await keeper.course('tray-glass-anemone', reef)
    const pass = async (rocks: Readonly<Record<string, readonly [before: string, removed: string]>>, first = false) => {
      await keeper.go(`${course}/tally/rock-count`)
      for (const [rock, [before, removed]] of Object.entries(rocks)) {
        if (first) {
          await keeper.fill('Name a new rock', rock)
          await keeper.press('Add it')
        } else {
          const known = page.getByRole('group', { name: /^Map of the vessel/ }).getByRole('button', { name: rock })
          if ((await known.getAttribute('aria-pressed')) !== 'true') await known.click()
        }
        if (first) {
          await keeper.press(`${rock} is out`)
          await expect(page.getByText(`${rock} is out: the clock runs.`)).toBeVisible()
          await keeper.minutes(9)
          await keeper.again(true)
          // The clock of a lifted rock comes back with its rock.
          await keeper.press('Back in the water')
        }
        await keeper.fill(/^Before/, before)
        await keeper.fill(/^Removed whole/, removed)
        await keeper.fill(/^Other animals/, '0')
        if (!first) await keeper.fill(/^Minutes in air/, '0')
        await keeper.press(/^Save/)
        await expect(page.getByText(`${rock}: noted.`).last()).toBeVisible()
      }
    }
    await pass({ arch: ['14', '12'], slab: ['9', '9'] }, true)
    await keeper.look('s13-first')
    for (const [day, arch, slab] of [
      [7, ['3', '3'], ['1', '1']],
      [14, ['0', '0'], ['0', '0']],
      [21, ['0', '0'], ['0', '0']],
    ] as const) {
      keeper.nowMs = start + (day - 6) * DAY
      await keeper.wait(0, course)
      await keeper.read(reef, { 'Total ammonia': '0.03' })
      keeper.nowMs = start + day * DAY
      await keeper.wait(0, course)
      await pass({ arch, slab })
    }
    await keeper.go(course)
    await keeper.said(/Free days/)
    await keeper.look('s13-free')
    // Six weeks free are seven looks, the last of the passes among them.
    for (const day of [28, 35, 42, 49, 56, 63]) {
      keeper.nowMs = start + day * DAY + 3_600_000
      await keeper.wait(0, course)
      await pass({ arch: ['0', '0'], slab: ['0', '0'] })
    }
    await keeper.wait(5, course)
    await keeper.look('s13-end')
    await keeper.said(/^Yes, by its own counts/)
  },
)

test(
  '11: slime and turf in a very small reef: pulled, spotted by syringe for a week, water changed each time, judged',
  { tag: '@whole' },
  async ({ page }) => {
    const start = Date.parse('2027-02-09T10:00:00Z')
    const keeper = new Keeper(page, '2027-02-09T10:00:00Z')
    await keeper.begin()
    const reef = await keeper.vessel('Thimble', { cm: [26, 24, 27], use: /Display/ })
    await keeper.resident(reef, /^Toadstool leather/, 'Brim')
    await keeper.bottle('Peroxide, 3 %', /^Hydrogen peroxide on spots, sea/, '3')
    await keeper.go(`/courses/new?protocol=spot-peroxide-marine&vessel=${reef.split('/').pop()}`)
    await keeper.tick('Slime: daily, then every other day')
    await keeper.press('Start the course')
    await expect(page.getByRole('heading', { level: 1, name: /Start a course/ })).toHaveCount(0)
    const course = new URL(page.url()).pathname
    await keeper.look('s11-course')
    const patches: Patches = {
      'cave mouth': {
        arm: 'Treated in the water',
        looks: { 0: 'as before', 3: 'grey to pink', 7: 'white or gone', 28: 'white or gone' },
      },
      'back, low': { arm: 'Left alone', looks: { 0: 'as before', 3: 'as before', 7: 'as before', 28: 'as before' } },
    }
    await score(keeper, course, patches, 0)
    const days = [0, 1, 2, 3, 4, 5, 6, 8, 10, 12]
    for (const day of days) {
      keeper.nowMs = start + day * DAY + (day === 0 ? 600_000 : 3_600_000)
      await keeper.wait(0, course)
      if (day > 8) {
        await whiteIsDone(keeper)
        continue
      }
      await round(keeper, course, { 'cave mouth': '0,1' }, 'spot-daily')
      await keeper.minutes(16)
      await keeper.go(course)
      if (day === 1) {
        // Until the water is changed the next time stands, but waits.
        await keeper.said(/First: change a tenth while siphoning/)
        await keeper.look('s11-waits')
      }
      await keeper.press('Log the change')
      const log = page.getByRole('dialog')
      await log.getByRole('button', { name: 'Save' }).click()
      await expect(log).toHaveCount(0)
      if (day === 3 || day === 8) await score(keeper, course, patches, day === 3 ? 3 : 7)
    }
    await keeper.go(course)
    await keeper.look('s11-rounds')
    keeper.nowMs = start + 28.2 * DAY
    await keeper.wait(0, course)
    await score(keeper, course, patches, 28)
    await keeper.wait(2, course)
    await keeper.look('s11-end')
    await keeper.said(/^Yes, by its own counts/)
  },
)
