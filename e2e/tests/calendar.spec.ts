import { expect, test } from '@playwright/test'
import { EMPTY, describeVessel, firstRun, visit, typeDate } from './helpers.ts'

const DAY = 86_400_000
const START = Date.parse('2026-03-20T17:00:00Z')
test.use({ storageState: EMPTY })

test('a start is planned, dragged past the end of winter time, comes due on its day and becomes a course', async ({
  page,
}) => {
  await page.clock.setFixedTime(new Date(START))
  await firstRun(page)
  await describeVessel(page, 'Cove')
  await visit(page, '/calendar')
  await page.getByRole('button', { name: 'Plan a start' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('combobox', { name: 'What is to begin' }).selectOption('watch-after-treatment')
  await dialog.getByRole('combobox', { name: 'Where' }).selectOption({ label: 'Cove' })
  await typeDate(page, dialog, /Begins on/, '2026-03-24')
  await dialog.getByRole('button', { name: 'Put it into the calendar' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  const grip = page.getByRole('slider', { name: /^Start of/ })
  await expect(grip).toHaveAttribute('aria-valuetext', /^24 March 2026/)
  // Dragged by the width of eight days of the board.
  const board = (await page.getByRole('figure', { name: 'Vessels and weeks' }).boundingBox())!
  const at = (await grip.boundingBox())!
  const perDay = (board.width - 56 - 152) / 98
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2)
  await page.mouse.down()
  await page.mouse.move(at.x + at.width / 2 + 3 * perDay, at.y + 4, { steps: 4 })
  await expect(grip).toHaveAttribute('aria-valuetext', /^27 March 2026/)
  await page.mouse.move(at.x + at.width / 2 + 8 * perDay, at.y + 4, { steps: 4 })
  await page.mouse.up()
  await expect(page.getByText(/is planned for 1 April 2026/)).toBeVisible()
  // Not before its day; on its day, on the round.
  await page.clock.setFixedTime(new Date(START + 11 * DAY))
  await visit(page, '/')
  await expect(page.getByRole('region', { name: 'A planned start' })).toHaveCount(0)
  await page.clock.setFixedTime(new Date(START + 12 * DAY))
  await visit(page, '/')
  await page.getByRole('region', { name: 'A planned start' }).getByRole('link', { name: 'Begin it' }).click()
  await page.getByRole('button', { name: 'Start the course' }).click()
  await expect(page.getByText(/runs in Cove|Nothing is due|Watch/).first()).toBeVisible()
  await visit(page, '/calendar')
  await expect(page.getByRole('slider', { name: /^Start of/ })).toHaveCount(0)
  await expect(page.getByRole('link', { name: /1 April 2026 to/ })).toBeVisible()
  await visit(page, '/')
  await expect(page.getByRole('region', { name: 'A planned start' })).toHaveCount(0)
})
