// The slide bench, from a clip to a plan: stills of a drawn drop are measured, one object is put right, the count names the
// genus and its campaign begins. What is no clip is told in a sentence.
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { expect, test, type Page } from '@playwright/test'
import { encode } from 'fast-png'
import { slideFrame, slideScene, slideTruth } from '@brinvo/core/world'
import { EMPTY, typeDate } from './helpers.ts'
import { Keeper } from './house.ts'

test.use({ storageState: EMPTY })

/** A clip as stills: a drop full of one genus, as files. */
function drop(seed: number) {
  const scene = slideScene({
    seed,
    level: 'usual',
    width: 480,
    height: 360,
    fps: 8,
    seconds: 3,
    umPerPx: 1.1,
    genera: { ostreopsis: 28 },
    round: false,
  })
  const files = Array.from({ length: scene.frames }, (_, f) => {
    const { width, height, data } = slideFrame(scene, f)
    return {
      name: `frame-${String(f).padStart(3, '0')}.png`,
      mimeType: 'image/png',
      buffer: Buffer.from(encode({ width, height, channels: 3, depth: 8, data: Uint8Array.from(data) })),
    }
  })
  return { files, truth: slideTruth(scene) }
}

test(
  'a clip of a drop is measured, put right, kept, names its genus and begins its campaign',
  { tag: '@whole' },
  async ({ page }) => {
    const keeper = new Keeper(page, '2027-04-10T18:00:00Z')
    await keeper.begin()
    const reef = await keeper.vessel('Shoal', {
      cm: [90, 45, 50],
      water: 'Marine',
      use: /Display/,
      since: '2026-06-01',
    })
    await keeper.go('/findings')
    await keeper.tick('A film, slime or growth')
    await keeper.press('Look at it')
    await expect(page).toHaveURL(/\/findings\/[0-9a-f-]{30,}/)
    const finding = new URL(page.url()).pathname
    await page.getByRole('link', { name: 'Measure a clip of it' }).click()
    await expect(page.getByRole('heading', { level: 1, name: 'Slide from Shoal' })).toBeVisible()
    // What is no clip says so, and what was open stays.
    const input = page.locator('input[type=file]')
    await input.setInputFiles({ name: 'wall.mp4', mimeType: 'video/mp4', buffer: Buffer.from('no clip at all') })
    await expect(page.getByRole('alert')).toHaveText(/cannot play that clip/)
    await input.setInputFiles({ name: 'note.png', mimeType: 'image/png', buffer: Buffer.from('no picture') })
    await expect(page.getByRole('alert')).toHaveText(/note\.png is no picture/)
    const { files, truth } = drop(12)
    await input.setInputFiles(files)
    await expect(page.getByText('480 × 360, 24 frames to look at')).toBeVisible()
    // Without a scale nothing is measured.
    await expect(page.getByRole('button', { name: 'Measure the clip' })).toBeDisabled()
    await expect(page.getByText(/No round edge is in sight/)).toBeVisible()
    await page.getByText('I know it').click()
    await keeper.fill(/^A pixel of the picture/, '400')
    await expect(page.getByRole('alert')).toHaveText(/no microscope’s/)
    await keeper.fill(/^A pixel of the picture/, '1.1')
    await keeper.press('Measure the clip')
    const held = page.getByRole('region', { name: 'What the slide holds' })
    await expect(held.getByRole('heading', { name: 'Mostly Ostreopsis' })).toBeVisible({ timeout: 60_000 })
    const cells = async () =>
      Number(
        await held
          .getByRole('row', { name: /^Dinoflagellate/ })
          .getByRole('cell')
          .nth(1)
          .innerText(),
      )
    const before = await cells()
    expect(Math.abs(before - truth.counts.dinoflagellate)).toBeLessThanOrEqual(0.3 * truth.counts.dinoflagellate)
    // One is put right by a press: the count follows.
    await held
      .getByRole('button', { name: /^Ostreopsis, \d+ µm/ })
      .first()
      .press('Enter')
    const dialog = page.getByRole('dialog')
    await dialog.getByRole('combobox', { name: 'What it is' }).selectOption('nothing')
    await dialog.getByRole('button', { name: 'Put it right' }).click()
    await expect(held.getByText(/1 put right by you/)).toBeVisible()
    expect(await cells()).toBe(before - 1)
    await held.getByText('That is all there is on the slide').click()
    await keeper.press('Keep the count')
    await expect(page.getByText('The slide is on the ledger.')).toBeVisible()
    await keeper.go(finding)
    await expect(page.getByRole('heading', { name: 'Ostreopsis', exact: true })).toBeVisible()
    await page.getByRole('link', { name: 'Dinoflagellates: feed their rivals' }).click()
    await expect(page.getByRole('radio', { name: /Spins on a thread/ })).toBeChecked()
    await keeper.press('Start the course')
    await expect(page).toHaveURL(/\/courses\/[0-9a-f-]{20,}$/)
    // The campaign's own series takes the next clip.
    const course = new URL(page.url()).pathname
    await keeper.go(`${course}/tally/slide`)
    await page.getByRole('link', { name: 'Count it from a clip' }).click()
    await page.locator('input[type=file]').setInputFiles(drop(13).files)
    await page.getByText('As last time').click()
    await keeper.press('Measure the clip')
    await expect(held.getByText(/Goes to “Diatoms and green on the slide”/)).toBeVisible({ timeout: 60_000 })
    await keeper.press('Keep the count')
    await expect(page.getByText('The slide is on the ledger.')).toBeVisible()
    await keeper.go(`${course}/tally/slide`)
    await expect(page.getByText(/% of objects/).first()).toBeVisible()
    await keeper.go(reef)
  },
)

test('a film is played while it is read, stopped without a loss, and measured on a phone', async ({ page }) => {
  // A busy machine reads it slower, and frames that were left out are sought.
  test.setTimeout(240_000)
  await page.setViewportSize({ width: 390, height: 844 })
  const keeper = new Keeper(page, '2027-04-10T18:00:00Z')
  await keeper.begin()
  const reef = await keeper.vessel('Shoal', { cm: [90, 45, 50], water: 'Marine', use: /Display/ })
  await keeper.go(`/slide/${reef.split('/').pop()!}`)
  // Four seconds of a drop with 24 round cells, drawn once by the stand-in (seed 12, 1.1 µm a pixel).
  await page.locator('input[type=file]').setInputFiles(fileURLToPath(new URL('../fixtures/drop.webm', import.meta.url)))
  await expect(page.getByText(/480 × 360, (39|40) frames/)).toBeVisible()
  await page.getByText('I know it').click()
  await keeper.fill(/^A pixel of the picture/, '1.1')
  await keeper.press('Measure the clip')
  await keeper.press('Stop')
  await expect(page.getByRole('button', { name: 'Measure the clip' })).toBeEnabled()
  await expect(page.getByRole('alert')).toHaveCount(0)
  await keeper.press('Measure the clip')
  const held = page.getByRole('region', { name: 'What the slide holds' })
  await expect(held.getByRole('heading', { name: 'Mostly Coolia' })).toBeVisible({ timeout: 120_000 })
  const cells = Number(
    await held
      .getByRole('row', { name: /^Dinoflagellate/ })
      .getByRole('cell')
      .nth(1)
      .innerText(),
  )
  // Crossing paths break: counts of a crowded field are off by a third and more (see the figures of npm run slides).
  expect(cells).toBeGreaterThan(12)
  expect(cells).toBeLessThan(40)
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)
})

const CASE = new URL('../../core/test/patches/case-0003/', import.meta.url)
const patchOf = async (page: Page, later: boolean) => {
  const file = (name: string) => fileURLToPath(new URL(name, CASE))
  const meta = JSON.parse(readFileSync(file('meta.json'), 'utf8')) as {
    classes: { id: string; samples: [number, number][] }[]
    polygon: [number, number][]
  }
  const truth = JSON.parse(readFileSync(file('truth.json'), 'utf8')) as Record<'a' | 'b', Record<string, number>>
  await page.getByLabel('First picture', { exact: true }).setInputFiles(file('a.png'))
  if (later) {
    await page.getByLabel('The same place later', { exact: true }).setInputFiles(file('b.png'))
    await typeDate(page, page, 'First picture: taken on', '2027-04-03')
  }
  const board = page.getByAltText('The patch at first').first()
  const press = async ([x, y]: [number, number]) => {
    const box = (await board.boundingBox())!
    await board.click({ position: { x: (x / 960) * box.width, y: (y / 720) * box.height } })
  }
  await expect(page.getByRole('button', { name: 'Measure the patch' })).toBeDisabled()
  for (const corner of meta.polygon) await press(corner)
  await page.getByText('says what is what', { exact: true }).click()
  const labels: Record<string, RegExp> = { clean: /^Bare ground/, film: /^Brown film/, white: /^White/ }
  const select = page.getByRole('combobox', { name: 'What lies where you press' })
  for (const { id, samples } of meta.classes) {
    const options = await select.locator('option').allInnerTexts()
    await select.selectOption({ label: options.find((one) => labels[id]!.test(one))! })
    for (const sample of samples) await press(sample)
  }
  await page.getByRole('button', { name: 'Measure the patch' }).click()
  const region = page.getByRole('region', { name: 'What covers the patch' })
  await expect(region).toBeVisible({ timeout: 60_000 })
  const told = async (row: RegExp, cell: number) =>
    parseFloat(await region.getByRole('row', { name: row }).getByRole('cell').nth(cell).innerText())
  for (const [id, row] of Object.entries(labels)) {
    expect(Math.abs((await told(row, 1)) - 100 * truth.a[id]!)).toBeLessThan(6)
    if (later) expect(Math.abs((await told(row, 2)) - 100 * truth.b[id]!)).toBeLessThan(6)
  }
  return region
}

test('a patch is marked, touched and measured; no picture is told as such', { tag: '@whole' }, async ({ page }) => {
  const keeper = new Keeper(page, '2027-04-10T18:00:00Z')
  await keeper.begin()
  const reef = await keeper.vessel('Shoal', { cm: [90, 45, 50], water: 'Marine', use: /Display/ })
  await keeper.go(`/patch/${reef.split('/').pop()!}`)
  await page
    .getByLabel('First picture', { exact: true })
    .setInputFiles({ name: 'a.png', mimeType: 'image/png', buffer: Buffer.from('nothing') })
  await expect(page.getByRole('alert')).toHaveText(/cannot read that picture/)
  const region = await patchOf(page, false)
  await expect(region.getByRole('button', { name: 'Keep the measure and its pictures' })).toBeDisabled()
  await region.getByRole('textbox', { name: 'Name of the patch' }).fill('Left rock')
  await region.getByRole('combobox', { name: 'What is done there' }).selectOption({ label: 'treated' })
  await region.getByRole('button', { name: 'Keep the measure and its pictures' }).click()
  await expect(page.getByText('Left rock is on the ledger.')).toBeVisible()
  // A week later only the new picture is asked for.
  await keeper.wait(7 * 24)
  await keeper.press('Measure it again: Left rock')
  await page.getByLabel('The same place later', { exact: true }).setInputFiles(fileURLToPath(new URL('b.png', CASE)))
  await page.getByRole('button', { name: 'Measure the patch' }).click()
  await expect(region).toBeVisible({ timeout: 60_000 })
  await region.getByRole('button', { name: 'Keep the measure and its pictures' }).click()
  await expect(page.getByText('Left rock is on the ledger.')).toBeVisible()
  await expect(page.getByRole('figure', { name: /Left rock, treated, from \d+ ± \d+(\.\d)? % to \d+/ })).toBeVisible()
  // By eye: both pictures, neither its name nor its day.
  await keeper.press('Judge them by eye, without names')
  const blind = page.getByRole('dialog')
  for (const value of ['60', '40']) {
    await expect(blind.getByRole('img', { name: 'A patch without its name' })).toBeVisible()
    await expect(blind).not.toContainText('Left rock')
    await blind.getByRole('textbox', { name: /grown over/ }).fill(value)
    await blind.getByRole('button', { name: 'Next' }).click()
  }
  await expect(blind.getByRole('row', { name: /Left rock.*[46]0 %/ })).toHaveCount(2)
})

test(
  'the same place later is found again, laid over, and goes to the campaign',
  { tag: '@whole' },
  async ({ page }) => {
    const keeper = new Keeper(page, '2027-04-10T18:00:00Z')
    await keeper.begin()
    const reef = await keeper.vessel('Shoal', {
      cm: [90, 45, 50],
      water: 'Marine',
      use: /Display/,
      since: '2027-03-01',
    })
    const id = reef.split('/').pop()!
    const course = await keeper.course('husband-cyanobacteria', reef)
    await keeper.go(`/patch/${id}`)
    const region = await patchOf(page, true)
    for (const way of ['wiped', 'blinking', 'side by side']) await region.getByText(way).click()
    await expect(region.getByRole('img', { name: /The later picture/ })).toBeVisible()
    await expect(region.getByText(/Goes to “Cover”/)).toBeVisible()
    await region.getByRole('textbox', { name: 'Name of the patch' }).fill('Rock')
    await region.getByRole('button', { name: 'Keep the measure and its pictures' }).click()
    await expect(page.getByText('Rock is on the ledger.')).toBeVisible()
    await keeper.go(`${course}/tally/cover`)
    await expect(page.getByText(/\b7[0-3] ?%/).first()).toBeVisible()
    // In the campaign's chart it stands with what it may be off by.
    await keeper.go(course)
    const numbers = page.getByText('The numbers').first()
    await numbers.click()
    await expect(page.getByRole('cell', { name: /^7[0-3] ± 3/ }).first()).toBeVisible()
  },
)

test('bare skeleton along a line, a length against a scale and spots are marked, and stand beside the last', async ({
  page,
}) => {
  const keeper = new Keeper(page, '2027-04-10T18:00:00Z')
  await keeper.begin()
  const reef = await keeper.vessel('Shoal', { cm: [90, 45, 50], water: 'Marine', use: /Display/ })
  await keeper.resident(reef, /^Finger montipora/, 'Antler')
  await keeper.go(`/marks/${reef.split('/').pop()!}`)
  await page.getByLabel('Picture to mark').setInputFiles(fileURLToPath(new URL('a.png', CASE)))
  const board = page.getByAltText('What is marked')
  const put = async (x: number, y: number) => {
    const box = (await board.boundingBox())!
    await board.click({ position: { x: x * box.width, y: y * box.height } })
  }
  await put(0.1, 0.2)
  await put(0.4, 0.2)
  await page.getByText('bare skeleton', { exact: true }).click()
  await put(0.5, 0.2)
  // A quarter of the line.
  await expect(page.getByText(/^25 ± \d % of the line is bare$/)).toBeVisible()
  await keeper.press('Keep the measure')
  await expect(page.getByRole('listitem').filter({ hasText: '% of the line is bare' })).toBeVisible()
  // The next line begins on tissue again, whatever the last one ended on.
  await put(0.1, 0.4)
  await put(0.5, 0.4)
  await expect(page.getByText(/^0 ± 1 % of the line is bare$/)).toBeVisible()
  await page.getByText('a length against a scale').click()
  for (const x of [0.1, 0.3, 0.5, 0.55]) await put(x, 0.5)
  // A quarter of ten millimetres, by a hand on a screen.
  await expect(page.getByText(/^2\.[3-7]\d? ± 0\.\d mm$/)).toBeVisible()
  await page.getByText('spots', { exact: true }).click()
  for (const x of [0.2, 0.4, 0.6]) await put(x, 0.3)
  await keeper.press('Keep the measure')
  await expect(page.getByRole('listitem').filter({ hasText: 'three spots' })).toBeVisible()
  // A drawn fish: its spots are proposed, and it is told afterwards how many it had.
  await keeper.press('A drawn fish')
  await expect(page.getByRole('button', { name: /I am done/ })).toBeDisabled()
  await page.getByRole('button', { name: 'Propose the spots' }).click()
  const told = page.getByText(/^(\w|-)+ spots?$/).first()
  await expect(page.getByRole('button', { name: /I am done/ })).toBeEnabled({ timeout: 30_000 })
  await expect(told).toBeVisible()
  await keeper.press(/I am done/)
  await expect(page.getByText(/^Drawn were .* spots\. A practice fish is not kept\.$/)).toBeVisible()
  await expect(page.getByRole('button', { name: 'Keep the measure' })).toBeDisabled()
  // It stands in the coral's life.
  await keeper.go(reef)
  await page.getByRole('link', { name: 'Antler' }).first().click()
  await expect(page.getByRole('heading', { name: 'Measured on its pictures' })).toBeVisible()
})

test('a genus is played as through the eyepiece, and stopped', { tag: '@whole' }, async ({ page }) => {
  const keeper = new Keeper(page, '2027-04-10T18:00:00Z')
  await keeper.begin()
  await keeper.go('/library/eyepiece')
  await keeper.press('Play Ostreopsis')
  const screen = page.getByRole('img', { name: 'Ostreopsis, moving' })
  await expect(screen).toBeVisible()
  const colours = () =>
    screen.evaluate((canvas) => {
      const { data } = (canvas as HTMLCanvasElement).getContext('2d')!.getImageData(0, 0, 280, 210)
      return new Set(Array.from({ length: data.length / 4 }, (_, i) => data[4 * i]! >> 4)).size
    })
  await expect.poll(colours, { timeout: 30_000 }).toBeGreaterThan(6)
  await keeper.press('Stop Ostreopsis')
  await expect(screen).toHaveCount(0)
})
