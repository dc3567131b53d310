import { readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { exported, NOW, openDemo, taken, withHoldingBFree, visit } from './helpers.ts'

const HOUR = 3_600_000
const later = (hours: number) => new Date(NOW.getTime() + hours * HOUR)

test('a protocol is copied, changed, started and followed to its end', { tag: '@whole' }, async ({ page }) => {
  await withHoldingBFree(page, '/library/write/new?from=peroxide-bath-twice')
  await page.getByRole('textbox', { name: 'Title' }).fill('One peroxide bath')
  const often = page.getByRole('textbox', { name: /^How often/ }).first()
  await often.fill('1')
  // The level over its ceiling is told with its line, and mended.
  await page.getByText('Whole text').first().click()
  const area = page.getByRole('textbox', { name: 'Protocol as text' })
  const text = await area.inputValue()
  await area.fill(text.replace('"max": 150', '"max": 900'))
  await expect(page.getByRole('button', { name: /Line \d+\. 900 mg\/L is over the ceiling of 150/ })).toBeVisible()
  await page.reload()
  await expect(page.getByRole('button', { name: /over the ceiling of 150/ })).toBeVisible()
  await page.getByText('Whole text').first().click()
  await area.fill(
    text
      .replaceAll(/"typicalDays": 6/g, '"typicalDays": 1')
      .replace('"hours": 144', '"hours": 24')
      .replace('"days": 6', '"days": 1'),
  )
  await expect(page.getByRole('button', { name: /^Line/ })).toHaveCount(0)
  await page.getByRole('button', { name: 'Keep it' }).click()
  await expect(page.getByText(/is kept and can be started/)).toBeVisible()
  await page.getByRole('link', { name: 'Start it' }).click()
  await page.getByRole('combobox', { name: 'Vessel' }).selectOption({ label: 'Holding B' })
  await page.getByRole('button', { name: 'Start the course' }).click()
  await expect(page.getByText(/One peroxide bath runs in Holding B/)).toBeVisible()
  await visit(page, '/courses')
  await page.getByRole('link', { name: 'One peroxide bath' }).click()
  await expect(page.getByRole('heading', { level: 1, name: 'One peroxide bath' })).toBeVisible()
  await page.getByRole('link', { name: 'Open the bath' }).first().click()
  for (const item of [/Aged water/, /Two tubs of clean water/, /Gloves and what/, /A clean vessel to go to/])
    await page.getByText(item).first().click()
  await page.getByRole('button', { name: 'The animal is in' }).click()
  await expect(page.getByRole('button', { name: /^Out,|^It is out|^Out/ }).first()).toBeVisible()
  await page.clock.setFixedTime(later(0.5))
  await page.reload()
  await page
    .getByRole('button', { name: /^Out,|^It is out|^Out/ })
    .first()
    .click()
  await expect(page.getByRole('heading', { name: 'Every bath is done' })).toBeVisible()
  // A day without a sign, watched in full, ends the watch, and with it the course.
  await page.clock.setFixedTime(later(26))
  for (const look of [/^Dawn/, /^Feeding/, /^Torch/]) {
    await visit(page, '/watch/holding-b')
    await page.getByRole('button', { name: look }).click()
    await page.getByRole('textbox', { name: /^Watched/ }).fill('10')
    await page.getByRole('button', { name: 'Nothing new: note the round' }).click()
    // Not the words, which may still stand from the round before, and not the address, which is there before its page.
    await expect(page.locator('main')).toHaveAttribute('data-path', '/')
  }
  await visit(page, '/courses')
  await page.getByRole('link', { name: 'One peroxide bath' }).click()
  const phases = page.getByRole('listitem').filter({ hasText: /^[12]\. / })
  await expect(phases).toHaveCount(2)
  for (const phase of await phases.all()) await expect(phase).toContainText('done')
})

test('a fallow starts again with a net that came wet, and says so', { tag: '@whole' }, async ({ page }) => {
  await openDemo(page, '/')
  await expect(page.getByText(/Green net would start Longshore again/)).toBeVisible()
  await visit(page, '/cupboard')
  const row = page.getByRole('listitem').filter({ hasText: 'Green net' })
  await row.getByRole('button', { name: 'Used in …' }).click()
  const dialog = page.getByRole('dialog')
  await expect(dialog.getByText(/starts the count without fish again/)).toBeVisible()
  await dialog.getByRole('textbox').fill('It fell in before I could stop it')
  await dialog.getByRole('button', { name: 'It was in the water' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await visit(page, '/')
  await expect(page.getByText(/The count in Longshore started again/)).toBeVisible()
  await visit(page, '/ledger')
  await expect(page.getByText(/It fell in before I could stop it/).first()).toBeVisible()
})

test('the move after 14 days is refused for a sign, then allowed', { tag: '@whole' }, async ({ page }, info) => {
  await openDemo(page)
  const file = await exported(page)
  // The demonstration's copper course as a 14-day one that began earlier: readings every day, a sign two days ago.
  const fourteen = JSON.parse(readFileSync('core/knowledge/protocols/copper-14-move.json', 'utf8')) as {
    id: string
    variants: { id: string; default?: boolean }[]
    productRoles: { id: string }[]
    vesselRoles: { id: string }[]
  }
  const days = 18
  const start = NOW.getTime() - days * 24 * HOUR
  const course = file.registers.find(({ id }) => id === 'copper-holding-a')!
  course.body = {
    ...course.body,
    protocolId: fourteen.id,
    protocol: fourteen,
    variant: fourteen.variants.find((one) => one.default)!.id,
    startedAt: new Date(start).toISOString(),
    products: { [fourteen.productRoles[0]!.id]: 'copper-main' },
    vessels: { [fourteen.vesselRoles[0]!.id]: 'holding-b' },
    instruments: { 'copper-test': 'copper-meter', 'ammonia-test': 'ammonia-drops' },
  }
  const keep = file.entries.filter((entry) => entry.courseId !== 'copper-holding-a' && entry.vesselId !== 'holding-a')
  let count = 0
  const entry = (ms: number, fields: object) =>
    keep.push({
      id: `made-${String(count++).padStart(4, '0')}`,
      at: new Date(ms).toISOString(),
      zone: 'Europe/Berlin',
      recordedAt: new Date(ms).toISOString(),
      vesselId: 'holding-a',
      courseId: 'copper-holding-a',
      ...fields,
    })
  for (const gate of ['media-out', 'no-invertebrates', 'baseline', 'reserve'])
    entry(start + 60_000, { kind: 'gate', gate, passed: true })
  const levels: readonly number[] = [0.75, 1.25, 1.75, 2.25]
  levels.forEach((level, i) => {
    const at = start + (i * 24 + 0.2) * HOUR
    entry(at, { kind: 'dose', productId: 'copper-main', amount: i === 0 ? 5.4 : 3.6, unit: 'mL', measureStep: 0.2 })
    for (const hours of [2, 14])
      entry(at + hours * HOUR, {
        kind: 'reading',
        analyte: 'copper',
        value: level,
        unit: 'mg/L',
        bound: 'exact',
        instrumentId: 'copper-meter',
      })
    entry(at + 3 * HOUR, { kind: 'meal', took: 'took' })
  })
  for (let hours = 4 * 24; hours < days * 24; hours += 12)
    entry(start + hours * HOUR, {
      kind: 'reading',
      analyte: 'copper',
      value: 2.25,
      unit: 'mg/L',
      bound: 'exact',
      instrumentId: 'copper-meter',
    })
  entry(NOW.getTime() - 48 * HOUR, { kind: 'sign', sign: 'flashing', present: true, residentId: 'clown-small' })
  file.entries = keep
  await taken(page, info.outputPath('fourteen.json'), file)
  await visit(page, '/courses/copper-holding-a')
  await expect(page.getByText(/credited of 14 d|14 d .*credited|credited/).first()).toBeVisible()
  const phases = page.getByRole('listitem').filter({ hasText: 'The move' })
  await expect(phases).toContainText(/about|when its questions/)
  // Three more days without a sign, each watched in full, readings going on: five days clear, and the questions of the move open.
  await page.clock.setFixedTime(later(80))
  for (let hours = -24; hours <= 72; hours += 24)
    entry(NOW.getTime() + hours * HOUR, { kind: 'done', what: 'Watched', watched: { look: 'day', minutes: 30 } })
  for (let hours = 0; hours <= 72; hours += 12)
    entry(NOW.getTime() + hours * HOUR, {
      kind: 'reading',
      analyte: 'copper',
      value: 2.25,
      unit: 'mg/L',
      bound: 'exact',
      instrumentId: 'copper-meter',
    })
  await taken(page, info.outputPath('later.json'), file)
  await visit(page, '/courses/copper-holding-a')
  // The hours are worked out anew in a worker.
  await expect(page.getByRole('listitem').filter({ hasText: 'The move' })).toContainText('since', { timeout: 40_000 })
  await expect(page.getByRole('button', { name: /^Yes/ }).first()).toBeVisible()
})
