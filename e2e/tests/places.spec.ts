import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { expect, test, type Page } from '@playwright/test'
import { PLACES } from '../places.ts'
import { DEMO_STATE, PORT } from '../playwright.config.ts'
import { openDemo, openLog, settled, visit, exported } from './helpers.ts'

const axeSource = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

interface Violation {
  id: string
  nodes: { html: string; failureSummary?: string }[]
}
const EVERYTHING = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']
/** `within`: the part that is looked at; the frame around it is the same everywhere and looked at once. */
async function violations(page: Page, only: readonly string[], within = 'html'): Promise<string[]> {
  await page.evaluate(axeSource)
  const found = await page.evaluate(
    async ({ runOnly, within: part }) => {
      const { axe } = window as unknown as {
        axe: { run: (root: string, options: object) => Promise<{ violations: Violation[] }> }
      }
      return (await axe.run(part, { runOnly, resultTypes: ['violations'] })).violations
    },
    { runOnly: only, within },
  )
  return found.map(
    ({ id, nodes }) =>
      `${id}: ${nodes
        .slice(0, 3)
        .map(({ html, failureSummary }) => `${html.slice(0, 160)} ${failureSummary?.slice(0, 200) ?? ''}`)
        .join(' | ')}`,
  )
}

/** What sticks out of a narrow page, and what a thumb cannot hit. */
async function tooWideOrSmall(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const wide = document.documentElement.scrollWidth - document.documentElement.clientWidth
    const small = [...document.querySelectorAll('button, a, [role="radio"], select, input:not([type="hidden"])')]
      .filter(
        (element) =>
          element.getClientRects().length > 0 &&
          !element.closest('p, li, dd, h3, h2, span, label, [aria-hidden="true"], [href="#place"]'),
      )
      .map((element) => ({ text: element.textContent?.slice(0, 30), box: element.getBoundingClientRect() }))
      .filter(({ box }) => box.height > 1 && box.height < 34)
      .map(({ text, box }) => `${text} ${Math.round(box.height)}`)
    return [...(wide === 0 ? [] : [`${wide} px too wide`]), ...small]
  })
}

/** What a reader who goes by headings stumbles over: a second main part, no or two first headings, a level left out. */
async function outline(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const mains = document.querySelectorAll('main').length
    const heads = [...document.querySelectorAll('main :is(h1, h2, h3, h4)')].filter(
      (head) => head.getClientRects().length > 0,
    )
    const levels = heads.map(({ tagName }) => Number(tagName[1]))
    return [
      ...(mains === 1 ? [] : [`${mains} main parts`]),
      ...(levels.filter((level) => level === 1).length === 1 ? [] : ['not one first heading']),
      ...heads.flatMap((head, i) =>
        levels[i]! > (levels[i - 1] ?? 0) + 1 ? [`a level left out before “${head.textContent?.slice(0, 30)}”`] : [],
      ),
    ]
  })
}

/** One browser page per worker goes from place to place, as a keeper does: a fresh one each would only load again. */
const place = test.extend<object, { visitor: Page }>({
  visitor: [
    async ({ browser }, use) => {
      const context = await browser.newContext({
        baseURL: `http://127.0.0.1:${PORT}`,
        storageState: DEMO_STATE,
        hasTouch: true,
        locale: 'en-GB',
        timezoneId: 'Europe/Berlin',
        reducedMotion: 'reduce',
        serviceWorkers: 'block',
      })
      await use(await context.newPage())
      await context.close()
    },
    { scope: 'worker' },
  ],
})
// Every page, by day and lights out, in `npm run pages`; here every fourth. That
// each page opens at all and says what it should is looked at by the tests of the application.
const WHOLE = process.env['BRINVO_PAGES'] === 'whole'
PLACES.forEach((path, i) => {
  if (!WHOLE && i % 4 !== 0) return
  place(`${path}: axe finds nothing, one outline, nothing sticks out at 390 px`, async ({ visitor: page }) => {
    await page.setViewportSize({ width: 1280, height: 800 })
    await page.emulateMedia({ colorScheme: 'light' })
    await openDemo(page, path)
    await settled(page)
    const within = path === '/' ? 'html' : 'main'
    expect(await violations(page, EVERYTHING, within)).toEqual([])
    expect(await outline(page)).toEqual([])
    await page.emulateMedia({ colorScheme: 'dark' })
    await expect(page.locator('html')).toHaveAttribute('data-theme', 'lights-out')
    // The words and roles are those of the day; only the colours are others.
    expect(await violations(page, ['color-contrast'], within)).toEqual([])
    await page.setViewportSize({ width: 390, height: 844 })
    await expect.poll(() => tooWideOrSmall(page), { timeout: 10_000 }).toEqual([])
  })
})

test('axe finds nothing in the log', async ({ page }) => {
  await openDemo(page, '/vessels/holding-a')
  await openLog(page, 'd')
  expect(await violations(page, EVERYTHING)).toEqual([])
})

test('everything can be reached with the keyboard alone', async ({ page }) => {
  await openDemo(page)
  await page.keyboard.press('v')
  await expect(page.getByRole('heading', { level: 1, name: 'Vessels' })).toBeVisible()
  await page.keyboard.press('?')
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible()
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await page.keyboard.press('l')
  const dialog = page.getByRole('dialog', { name: 'Log something' })
  await expect(dialog.getByRole('textbox', { name: /^Copper/ })).toBeFocused()
  await page.keyboard.type('2.0')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/Copper 2 mg\/L logged/)).toBeVisible()
  // Focus comes back to the page and Tab goes on from the top of it.
  await expect(page.getByRole('main')).toBeFocused()
  await page.keyboard.press('Tab')
  expect(await page.evaluate(() => document.activeElement?.tagName)).not.toBe('BODY')
})

test('single keys can be switched off', { tag: '@whole' }, async ({ page }) => {
  await openDemo(page, '/settings')
  const box = page.getByRole('checkbox', { name: /Single-key shortcuts/ })
  await page.getByText('Single-key shortcuts').click()
  // Saved, not only pressed: a slow machine may still hold the old setting for a moment.
  await expect(box).not.toBeChecked()
  await page.keyboard.press('l')
  // Another key proves that keys arrive at all: with them off, nothing opens and no place changes.
  await page.keyboard.press('g')
  await expect(page.getByRole('heading', { level: 1, name: 'Settings' })).toBeVisible()
  await expect(page.getByRole('dialog')).toHaveCount(0)
  await page.getByText('Single-key shortcuts').click()
  await expect(box).toBeChecked()
  await openLog(page)
})

test(
  'US units are shown where they are chosen, and the record stays canonical',
  { tag: '@whole' },
  async ({ page }) => {
    await openDemo(page, '/settings')
    // What is chosen shows as chosen once it is stored.
    await page.getByText('US gal', { exact: true }).click()
    await expect(page.getByRole('radio', { name: 'US gal', exact: true })).toBeChecked()
    await page.getByText('°F', { exact: true }).click()
    await expect(page.getByRole('radio', { name: '°F', exact: true })).toBeChecked()
    await visit(page, '/vessels')
    await expect(page.getByText(/17.6 ± 0.5 US gal/)).toBeVisible()
    await visit(page, '/vessels/holding-a')
    const dialog = await openLog(page)
    await dialog.getByRole('combobox', { name: 'Of' }).selectOption('temperature')
    await dialog.getByRole('textbox', { name: /^Temperature/ }).fill('78')
    await page.keyboard.press('Enter')
    await expect(dialog).toHaveCount(0)
    await visit(page, '/ledger')
    await expect(page.getByText('Temperature 78 °F').first()).toBeVisible()
    const kept = (await exported(page)).entries.at(-1) as { value?: number; unit?: string }
    expect(kept.unit).toBe('°C')
    expect(kept.value).toBeCloseTo((78 - 32) / 1.8, 6)
  },
)

test.describe('with its offline store', () => {
  test.use({ serviceWorkers: 'allow' })
  test('no page asks any other machine for anything', async ({ page }) => {
    const foreign: string[] = []
    page.on('request', (request) => {
      if (!/^(http:\/\/127\.0\.0\.1|blob:|data:)/.test(request.url())) foreign.push(request.url())
    })
    await openDemo(page, '/vessels/holding-a')
    await visit(page, '/courses/new')
    await settled(page)
    expect(foreign).toEqual([])
  })
})
