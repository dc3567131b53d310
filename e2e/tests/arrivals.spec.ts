import { expect, test, type Page } from '@playwright/test'
import { NOW, openDemo, visit, replaceIt } from './helpers.ts'

const RUN = '/arrivals/box-tonight/run'
const pick = (page: Page, bag: string) =>
  page.getByRole('group', { name: /Containers/ }).getByRole('button', { name: new RegExp(bag) })

test(
  'from box to release with three containers, a reload and a measured correction',
  { tag: '@whole' },
  async ({ page }) => {
    await openDemo(page, '/arrivals/box-tonight/bag-1')
    await expect(page.getByRole('heading', { level: 1, name: 'Float, then move' })).toBeVisible()
    await page.getByRole('button', { name: 'Use it and go to the tank' }).click()
    await expect(pick(page, 'Bag 1')).toContainText('ready')

    // Three containers, the most urgent first.
    await expect(page.getByRole('group', { name: /Containers/ }).getByRole('button')).toHaveCount(3)
    await pick(page, 'Bag 1').click()
    await page.getByRole('button', { name: 'It floats' }).click()
    await expect(page.getByRole('heading', { level: 1, name: 'Open the bag' })).toBeVisible()

    // The shrimps' drip: what the tub really reads corrects the curve.
    await pick(page, 'Bag 3').click()
    await expect(page.getByRole('heading', { level: 1, name: 'Check the drip and the animal' })).toBeVisible()
    const before = await page
      .getByText(/µS\/cm/)
      .first()
      .textContent()
    await page.getByRole('button', { name: 'Measured' }).click()
    const dialog = page.getByRole('dialog')
    await dialog.getByRole('textbox', { name: /^Conductivity/ }).fill('335')
    await dialog.getByRole('button', { name: 'Note it' }).click()
    await expect(page.getByText('335 µS/cm')).toBeVisible()
    expect(before).not.toContain('335')

    // Twelve minutes later and after a reload the clock has gone on by twelve minutes.
    await page.clock.setFixedTime(new Date(NOW.getTime() + 12 * 60_000))
    await visit(page, `${RUN}?bag=bag-2`)
    await expect(page.getByText(/since 19:13, 19:0\d/)).toBeVisible()
    await expect(page.getByLabel('late by')).toBeVisible()
    await page.getByRole('button', { name: 'Bag is open' }).click()
    await page.getByRole('button', { name: 'It is in the water' }).click()
    // An intake counts its days in the tub: that is asked once, and the anemone goes in knowingly.
    await page.getByRole('dialog').getByText('Yes, it is really so.').click()
    await page.getByRole('dialog').getByRole('button', { name: 'It is in the water' }).click()
    await expect(page.getByRole('heading', { level: 1, name: 'In the water' })).toBeVisible()

    for (const bag of ['Bag 1', 'Bag 3']) {
      await pick(page, bag).click()
      await page.getByRole('button', { name: 'Stop and move now' }).click()
      await expect(page.getByRole('dialog')).toContainText('Earlier than planned')
      await page.getByRole('dialog').getByRole('button', { name: 'It is in the water' }).click()
      await expect(page.getByRole('dialog')).toHaveCount(0)
    }
    await visit(page, '/arrivals/box-tonight')
    await expect(page.getByRole('region', { name: 'Bag 3' })).toContainText('in the water')

    // An hour later the first look at the foot stands on the round and is answered with one press.
    await page.clock.setFixedTime(new Date(NOW.getTime() + 75 * 60_000))
    await visit(page, '/')
    const look = page.getByRole('region', { name: 'Tub' }).getByRole('group', { name: 'Answers: Look at the foot' })
    await expect(look).toHaveCount(1)
    await look.getByRole('button', { name: 'Holds' }).click()
    await expect(page.getByText('Look at the foot: holds.')).toBeVisible()
    await visit(page, '/vessels/tub')
    await expect(page.getByText('Bubble-tip anemone').first()).toBeVisible()
  },
)

test(
  'a night in the bag refuses the slow drip with its number, and trying other numbers notes nothing',
  { tag: '@whole' },
  async ({ page }) => {
    await openDemo(page, '/arrivals/box-tonight/bag-1')
    await expect(page.getByText(/26 h in the bag and fouled water: never a long time/).first()).toBeVisible()
    await page.getByRole('slider', { name: 'Hours in the bag' }).fill('3')
    await page.getByRole('slider', { name: 'Bag total ammonia' }).fill('3')
    await page.getByRole('slider', { name: 'Bag pH' }).fill('8.2')
    await expect(page.getByText('Trying other numbers')).toBeVisible()
    await page.getByRole('button', { name: 'Back to the record' }).click()
    await expect(page.getByText('The bag, as far as it is known')).toBeVisible()
    // Advice is no ban: with a worded reason it is taken, and the words stand on the ledger.
    await page.getByRole('button', { name: /^Take it all the same: Cup by cup/ }).click()
    const why = page.getByRole('textbox', { name: /against the advice/ })
    await why.fill('short')
    await expect(page.getByRole('button', { name: 'Use it', exact: true })).toBeDisabled()
    await why.fill('This house has always done it cup by cup')
    await page.getByRole('button', { name: 'Use it', exact: true }).click()
    await expect(page).toHaveURL(/\/arrivals\/box-tonight\/run/)
    await visit(page, '/ledger')
    await expect(page.getByText(/This house has always done it cup by cup/).first()).toBeVisible()
  },
)

test('shrimps are refused for a tank in copper, without an override', { tag: '@whole' }, async ({ page }) => {
  await openDemo(page, '/arrivals/new')
  await page.getByRole('textbox', { name: 'Name' }).fill('Late bag')
  await page.getByRole('combobox', { name: 'Goes to' }).selectOption({ label: 'Holding A' })
  await page
    .getByRole('combobox', { name: 'Kind' })
    .selectOption({ label: 'Skunk cleaner shrimp (Lysmata amboinensis)' })
  await page.getByRole('button', { name: 'Note the delivery' }).click()
  await page.getByRole('button', { name: 'It is here' }).click()
  await expect(page.getByRole('alert')).toContainText('Holding A holds copper')
  await page.getByRole('link', { name: 'Compare the methods' }).click()
  await expect(page.getByRole('heading', { name: 'No method may be used' })).toBeVisible()
})

test(
  'a fish into the display is told once what is risked, and the choice is on the ledger',
  { tag: '@whole' },
  async ({ page }) => {
    await openDemo(page, '/arrivals/new')
    // The demonstration's display lies without fish: a bag for it is stopped before it is opened.
    await page.getByRole('combobox', { name: 'Goes to' }).selectOption({ label: 'Longshore' })
    await page.getByRole('combobox', { name: 'Kind' }).selectOption({ label: 'Kole tang (Ctenochaetus strigosus)' })
    await page.getByRole('button', { name: 'Note the delivery' }).click()
    await page.getByRole('button', { name: 'It is here' }).click()
    await expect(page.getByText(/Longshore lies without fish/)).toBeVisible()
    await page.getByRole('link', { name: 'Compare the methods' }).click()
    await expect(page.getByRole('button', { name: 'Use it and go to the tank' })).toBeDisabled()
    await visit(page, '/courses')
    await page.getByRole('link', { name: 'Fish-free display, 76 days' }).click()
    await page.getByRole('button', { name: 'End this course' }).click()
    await page.getByRole('dialog').getByText('Stopped early').click()
    await page.getByRole('dialog').getByRole('button', { name: 'End it' }).click()
    await expect(page.getByRole('dialog')).toHaveCount(0)
    await visit(page, '/arrivals/new')
    await page.getByRole('textbox', { name: 'Name' }).fill('Two grazers')
    await page.getByRole('combobox', { name: 'Goes to' }).selectOption({ label: 'Longshore' })
    await page.getByRole('combobox', { name: 'Kind' }).selectOption({ label: 'Kole tang (Ctenochaetus strigosus)' })
    await page.getByRole('button', { name: 'Note the delivery' }).click()
    await page.getByRole('button', { name: 'It is here' }).click()
    await expect(page.getByText(/without fish for 76 days/)).toBeVisible()
    await page.getByRole('link', { name: 'Compare the methods' }).click()
    await page.getByRole('button', { name: 'Use it and go to the tank' }).click()
    await expect(page.getByRole('button', { name: 'It floats' })).toBeVisible()
    await visit(page, '/ledger')
    await expect(page.getByText(/Straight into Longshore without quarantine/)).toBeVisible()
  },
)

test('a picture is scaled down, shown, exported in the zip and back after an import', async ({ page }, info) => {
  await openDemo(page, '/arrivals/box-tonight')
  const bag = page.getByRole('region', { name: 'Bag 1' })
  await bag.getByText('Photograph it').click()
  const png = await page.evaluate(async () => {
    const canvas = document.createElement('canvas')
    canvas.width = 2000
    canvas.height = 1500
    const pen = canvas.getContext('2d')!
    for (let i = 0; i < 400; i++) {
      pen.fillStyle = `hsl(${i * 17} 60% 50%)`
      pen.fillRect((i * 97) % 2000, (i * 61) % 1500, 90, 70)
    }
    const blob = await new Promise<Blob>((resolve) => canvas.toBlob((made) => resolve(made!), 'image/png'))
    return [...new Uint8Array(await blob.arrayBuffer())]
  })
  await bag
    .getByLabel('Picture to keep')
    .setInputFiles({ name: 'bag.png', mimeType: 'image/png', buffer: Buffer.from(png) })
  await expect(bag.getByRole('img', { name: /Bag 1 on arrival/ })).toBeVisible()
  expect(await bag.getByRole('img', { name: /Bag 1/ }).evaluate((img: HTMLImageElement) => img.naturalWidth)).toBe(1600)

  await visit(page, '/ledger')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export everything' }).click(),
  ])
  expect(download.suggestedFilename()).toMatch(/\.zip$/)
  const path = info.outputPath('record.zip')
  await download.saveAs(path)
  await page.getByRole('button', { name: 'Empty it' }).click()
  await page.getByRole('textbox', { name: /Type "empty"/ }).fill('empty')
  await page.getByRole('button', { name: 'Empty it now' }).click()
  await expect(page.getByText('The record is empty.')).toBeVisible()
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Import a file' }).click(),
  ])
  await chooser.setFiles(path)
  await expect(page.getByRole('dialog')).toContainText('with one picture')
  await replaceIt(page)
  await expect(page.getByText(/^Imported \d+ entries/)).toBeVisible()
  await visit(page, '/arrivals/box-tonight')
  await expect(page.getByRole('region', { name: 'Bag 1' }).getByRole('img', { name: /Bag 1 on arrival/ })).toBeVisible()
})

test('a refused camera is told, and the file stays', async ({ page }) => {
  await openDemo(page, '/arrivals/box-tonight')
  const bag = page.getByRole('region', { name: 'Bag 1' })
  await bag.getByText('Photograph it').click()
  await bag.getByRole('button', { name: 'Camera' }).click()
  await expect(page.getByRole('dialog').getByRole('alert')).toContainText(/camera/i)
})
