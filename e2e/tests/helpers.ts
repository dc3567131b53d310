import { readFileSync, writeFileSync } from 'node:fs'
import { expect, type Locator, type Page } from '@playwright/test'

/** A fixed evening; the browser's zone is set by the configuration. */
export const NOW = new Date('2026-11-23T18:20:00Z')

/** A browser that has never opened the application. */
export const EMPTY = { cookies: [], origins: [] }

/** Nothing stands at this address, which is drawn at once: the way between two pages of one kind. */
const BETWEEN = '/between'

/** Waits until what was pressed is on disk. */
export const written = (page: Page) =>
  page.waitForFunction(() => document.documentElement.dataset['writing'] === undefined, undefined, { polling: 20 })

/** Goes one step within the open application; answers where to, or null where nothing is open to step from. */
const stepped = (page: Page, path: string): Promise<string | null> =>
  page.evaluate(
    ([to, between]) => {
      if (document.querySelector('main h1') === null) return null
      const there = new URL(to, location.href)
      if (there.origin !== location.origin) return null
      const kind = (pathname: string) => `${pathname.split('/')[1]} ${pathname.split('/').length}`
      if (there.href !== location.href) {
        const alike = kind(there.pathname) === kind(location.pathname)
        history.pushState(null, '', alike ? between : there.pathname + there.search)
        dispatchEvent(new PopStateEvent('popstate', { state: null }))
      }
      // What the page shows as now is read again, as when a phone is taken up.
      Object.assign(window, { steppedAtMs: Date.now() })
      document.dispatchEvent(new Event('visibilitychange'))
      return location.pathname
    },
    [path, BETWEEN] as const,
  )

/** Waits until a page stands, has stopped growing, and is told for the time of the keeper's clock. */
const standing = (page: Page, path: string) =>
  page.waitForFunction(
    (at) => {
      const seen = window as { steppedAtMs?: number; parts?: number }
      const main = document.querySelector<HTMLElement>('main')
      const parts = main?.querySelectorAll('*').length
      const grew = parts !== seen.parts
      seen.parts = parts
      return (
        !grew &&
        main?.dataset['path'] === at &&
        // Not before the step: a clock that runs on would be chased until its next half minute.
        Number(main?.dataset['asOf']) >= (seen.steppedAtMs ?? 0) &&
        main?.querySelector('h1') !== null
      )
    },
    path,
    { timeout: 25_000, polling: 40 },
  )

/**
 * Goes to a page as a link would: within the application when it is open, without loading it again.
 *
 * A page of the same kind as the one that is open is reached over another one, so that nothing of the old one can be
 * taken for it. The very page that is open is taken up again, as a phone is in the morning.
 */
export async function visit(page: Page, path: string): Promise<void> {
  let step = await stepped(page, path)
  if (step === null) {
    await written(page)
    await page.goto(path)
    return
  }
  await standing(page, step)
  if (step === new URL(path, page.url()).pathname) return
  step = await stepped(page, path)
  await standing(page, step!)
}

/** Opens a page of the demonstration, which the set-up has put into the browser, at a fixed time. */
export async function openDemo(page: Page, path = '/', now: Date = NOW): Promise<void> {
  await page.clock.setFixedTime(now)
  await visit(page, path)
  await expect(page.getByText('Demonstration.')).toBeVisible()
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
}

/** Waits until a page stands: nothing asked for is on its way, the fonts are there, and it has stopped growing. */
export async function settled(page: Page): Promise<void> {
  await page.waitForLoadState('networkidle')
  await page.evaluate(async () => {
    await document.fonts.ready
    const pause = () => new Promise((next) => setTimeout(next, 60))
    const size = () => {
      const { scrollHeight, scrollWidth } = document.documentElement
      return `${scrollHeight} ${scrollWidth} ${document.querySelectorAll('*').length} ${document.querySelectorAll('[aria-busy=true]').length}`
    }
    // Half a second alike: an estimate that arrives late makes the page another one.
    let before = ''
    for (let alike = 0, all = 0; alike < 8 && all < 250; all++) {
      await pause()
      const now = size()
      alike = now === before ? alike + 1 : 0
      before = now
    }
  })
}

/** Opens a page of the demonstration when its transfer in Holding B is over, so that another course can begin there. */
export async function withHoldingBFree(page: Page, path: string, now: Date = NOW): Promise<void> {
  await openDemo(page, '/courses/transfer-holding-b', now)
  await page.getByRole('button', { name: 'End this course' }).click()
  await page.getByRole('dialog').getByText('Finished, nothing to cure').click()
  await page.getByRole('button', { name: 'End it' }).click()
  await expect(page.getByText('The course is ended and stays on record.')).toBeVisible()
  await visit(page, path)
}

/** First run of an empty record: reads the safety page once. */
export async function firstRun(page: Page): Promise<void> {
  await visit(page, '/')
  await page.getByRole('button', { name: 'I have read this' }).click()
  await expect(page.getByRole('heading', { name: /The shelf is empty/ })).toBeVisible()
}

/** Describes a bare quarantine box and confirms its volume. */
export async function describeVessel(page: Page, name: string): Promise<void> {
  await visit(page, '/vessels/new')
  await page.getByRole('textbox', { name: 'Name' }).fill(name)
  await page.getByRole('textbox', { name: /^Length/ }).fill('60')
  await page.getByRole('textbox', { name: /^Width/ }).fill('36')
  await page.getByRole('textbox', { name: /^Height/ }).fill('36')
  await page.getByText('I have looked at it').click()
  await page.getByRole('button', { name: 'Put it on the shelf' }).click()
  await expect(page.getByRole('heading', { level: 1, name })).toBeVisible()
}

export async function registerBottle(
  page: Page,
  options: { name: string; form: string; strength: string; low?: string; high?: string; confirm: boolean },
): Promise<void> {
  await visit(page, '/cupboard')
  await page.getByRole('button', { name: 'Register a bottle' }).first().click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('textbox', { name: 'Name' }).fill(options.name)
  await dialog.getByRole('combobox', { name: /Form/ }).selectOption({ label: options.form })
  await dialog.getByRole('textbox', { name: /^Strength/ }).fill(options.strength)
  if (options.low !== undefined) await dialog.getByRole('textbox', { name: /Label level from/ }).fill(options.low)
  if (options.high !== undefined) await dialog.getByRole('textbox', { name: /^to/ }).fill(options.high)
  if (options.confirm) await dialog.getByText('I hold the bottle').click()
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
}

export async function registerCopperKit(page: Page): Promise<void> {
  await visit(page, '/cupboard')
  await page.getByRole('button', { name: 'Register a test kit' }).click()
  const dialog = page.getByRole('dialog')
  await dialog.getByRole('textbox', { name: 'Name' }).fill('Photometer')
  await dialog.getByRole('combobox', { name: 'Kind' }).selectOption({ label: 'Photometer' })
  await dialog.getByText('Chelated copper, 2–2.5 mg/L type').click()
  await dialog.getByText('Checked against a standard').click()
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
}

/** A confirmed bottle of the 2–2.5 mg/L type and a checked kit for it. */
export async function registerCopper(page: Page): Promise<void> {
  await registerBottle(page, {
    name: 'Blue label',
    form: 'Chelated copper, 2–2.5 mg/L type',
    strength: '10',
    low: '2',
    high: '2.5',
    confirm: true,
  })
  await registerCopperKit(page)
}

/** Adds the fish the dialog offers. */
export async function addResident(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Add', exact: true }).click()
  await page.getByRole('dialog').getByRole('button', { name: 'Add' }).click()
  await expect(page.getByRole('dialog')).toHaveCount(0)
}

/** Opens the log by its key. A key pressed before the page listens is lost, so the page is waited for. */
export async function openLog(page: Page, key: 'l' | 'd' = 'l'): Promise<Locator> {
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
  await page.keyboard.press(key)
  const dialog = page.getByRole('dialog')
  await expect(dialog).toBeVisible()
  return dialog
}

/** Logs a reading of copper in the vessel that is open. */
export async function logReading(page: Page, value: string): Promise<void> {
  const dialog = await openLog(page)
  await dialog.getByRole('textbox', { name: /^Copper/ }).fill(value)
  await page.keyboard.press('Enter')
}

/** The record as its file holds it, as far as tests read it. */
export interface RecordText {
  registers: { id: string; body: Record<string, unknown> }[]
  entries: { courseId?: string; vesselId?: string; [field: string]: unknown }[]
}

/** The whole record, exported as a keeper would. */
export async function exported(page: Page): Promise<RecordText> {
  await visit(page, '/ledger')
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export everything' }).click(),
  ])
  return JSON.parse(readFileSync(await download.path(), 'utf8')) as RecordText
}
/** In the dialog of an opened file: it takes the place of the record, where there is one. */
export async function replaceIt(page: Page): Promise<void> {
  const dialog = page.getByRole('dialog')
  const take = dialog.getByRole('button', { name: /^(Join the records|Replace the record|Take it)$/ })
  await expect(take).toBeVisible()
  if ((await dialog.getByText('it replaces the record here').count()) > 0) {
    await dialog.getByText('it replaces the record here').click()
    await dialog.getByRole('button', { name: 'Replace the record' }).click()
  } else await take.click()
}
/** Puts a file in place of the record. */
export async function taken(page: Page, path: string, file: unknown): Promise<void> {
  writeFileSync(path, JSON.stringify(file))
  await visit(page, '/ledger')
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Import a file' }).click(),
  ])
  await chooser.setFiles(path)
  // Written by this test and not by the program: the sum does not fit, and that is told.
  await page.getByText('I have read this and want the file all the same.').click()
  await replaceIt(page)
  await expect(page.getByText(/^Imported \d+ entries/)).toBeVisible()
}

const PARTS = ['year', 'month', 'day', 'hour', 'minute']
/** Types a day, or a day and a time, as a keeper does: into the first part, each full part leading on to the next. */
export async function typeDate(page: Page, scope: Page | Locator, label: string | RegExp, iso: string): Promise<void> {
  const parts = scope.getByRole('group', { name: label }).getByRole('spinbutton')
  await parts.first().click()
  const order = await parts.evaluateAll((found) => found.map((part) => part.getAttribute('aria-label') ?? ''))
  const values = iso.split(/\D/)
  for (const name of order) await page.keyboard.type(values[PARTS.findIndex((part) => name.startsWith(part))]!)
}
