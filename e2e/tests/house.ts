// A newcomer's house, built by hand through the screens: what every situation starts from.
import { appendFileSync } from 'node:fs'
import { expect, type Page } from '@playwright/test'
import { firstRun, openLog, visit, written, typeDate } from './helpers.ts'

const HOUR = 3_600_000

/** A keeper with a clock of their own: every press happens at a time that the test says. */
export class Keeper {
  nowMs: number
  presses = 0
  private typed = 0
  private readonly courses = new Set<string>()
  readonly page: Page
  constructor(page: Page, start: string) {
    this.page = page
    this.nowMs = Date.parse(start)
  }
  /** Presses of the mouse so far, those that tests make themselves among them, and fields filled or chosen. */
  async pressed(): Promise<number> {
    return this.typed + (await this.page.evaluate(() => Number(sessionStorage.getItem('presses') ?? 0)))
  }
  async begin(): Promise<void> {
    await this.page.addInitScript(() =>
      addEventListener(
        'click',
        ({ isTrusted }) => {
          if (isTrusted) sessionStorage.setItem('presses', String(Number(sessionStorage.getItem('presses') ?? 0) + 1))
        },
        true,
      ),
    )
    await this.page.clock.setFixedTime(new Date(this.nowMs))
    await firstRun(this.page)
  }
  /** Lets hours pass and opens the page again, as after a night. */
  async wait(hours: number, path?: string): Promise<void> {
    await written(this.page)
    this.nowMs += hours * HOUR
    await this.page.clock.setFixedTime(new Date(this.nowMs))
    await visit(this.page, path ?? this.page.url())
    await this.readAlong()
  }
  async minutes(minutes: number): Promise<void> {
    await written(this.page)
    this.nowMs += minutes * 60_000
    await this.page.clock.setFixedTime(new Date(this.nowMs))
  }
  /**
   * What the page says that it did not say the last time this page was read, for a person to read along: written to the
   * file named by BRINVO_READ, only when asked for.
   */
  private readonly before = new Map<string, ReadonlySet<string>>()
  async readAlong(): Promise<void> {
    const file = process.env['BRINVO_READ']
    if (file === undefined) return
    const { page } = this
    await page.waitForTimeout(150)
    const dialog = page.getByRole('dialog')
    const told = await ((await dialog.count()) > 0 ? dialog.last() : page.locator('main').first())
      .innerText()
      .catch(() => '')
    const lines = told.split(/\n+/).filter((line) => line.trim() !== '')
    const path = new URL(page.url()).pathname
    const known = this.before.get(path) ?? new Set()
    this.before.set(path, new Set(lines))
    const now = new Date(this.nowMs).toISOString().slice(0, 16)
    const fresh = lines.filter((line) => !known.has(line))
    if (fresh.length > 0) appendFileSync(file, `\n== ${now} ${path}\n${fresh.join('\n')}\n`)
  }
  /** Takes the open page up again: loaded anew where that is what the test is about. */
  async again(anew = false): Promise<void> {
    await written(this.page)
    if (anew) await this.page.reload()
    else await visit(this.page, this.page.url())
  }
  async go(path: string): Promise<void> {
    await visit(this.page, path)
    await this.readAlong()
  }
  /** One press of a button by its name, counted. */
  async press(name: string | RegExp): Promise<void> {
    this.presses++
    await this.page.getByRole('button', { name }).first().click()
    if (process.env['BRINVO_READ'] !== undefined) {
      appendFileSync(process.env['BRINVO_READ'], `\n>> press ${name}\n`)
      await this.readAlong()
    }
  }
  async tick(text: string | RegExp): Promise<void> {
    this.presses++
    await this.page.getByText(text).first().click()
  }
  async fill(name: string | RegExp, value: string): Promise<void> {
    this.presses++
    this.typed++
    await this.page.getByRole('textbox', { name }).first().fill(value)
  }
  async choose(name: string | RegExp, label: string | RegExp): Promise<void> {
    this.presses++
    this.typed++
    const box = this.page.getByRole('combobox', { name }).first()
    if (typeof label === 'string') await box.selectOption({ label })
    else {
      await expect(box).toBeVisible()
      const found = (await box.locator('option').allInnerTexts()).find((one) => label.test(one))
      expect(found, `an option like ${label}`).toBeDefined()
      await box.selectOption({ label: found! })
    }
  }
  /** A picture for looking, taken only when asked for. */
  async look(name: string): Promise<void> {
    if (process.env['BRINVO_LOOK'] === undefined) return
    await expect(this.page.getByRole('heading', { level: 1 }).first()).toBeVisible()
    await this.page.screenshot({ path: `${process.env['BRINVO_LOOK']}/${name}.png` })
  }
  /** Readings of a vessel, all in one go, and back to where the keeper was. */
  async read(vessel: string, values: Readonly<Record<string, string>>): Promise<void> {
    const { page } = this
    const from = new URL(page.url()).pathname
    await visit(page, `/tests/${vessel.split('/').pop()}`)
    await expect(page.getByRole('heading', { level: 1, name: /^Tests in/ })).toBeVisible()
    this.presses++
    for (const [name, value] of Object.entries(values)) {
      const box = page.getByRole('textbox', { name: new RegExp(`^${name}`) })
      if ((await box.count()) === 0) await this.choose('Another test', name)
      await box.fill(value)
    }
    await this.press(/^Save/)
    await expect(page).toHaveURL(new RegExp(`${from}(?:\\?.*)?$`))
  }
  /** Moves an animal out of the vessel whose page it opens, by the log. */
  async move(vessel: string, name: string, to: string): Promise<void> {
    await this.go(vessel)
    const dialog = await openLog(this.page)
    await dialog.getByText('Move', { exact: true }).click()
    const who = dialog.getByRole('combobox', { name: 'Who moves' })
    if (await who.count()) await who.selectOption({ label: name })
    await dialog.getByRole('combobox', { name: 'To' }).selectOption({ label: to })
    await dialog.getByRole('button', { name: 'Save' }).click()
    this.presses += 5
    await expect(dialog).toHaveCount(0)
  }
  async said(words: string | RegExp): Promise<void> {
    await expect(this.page.getByText(words).first()).toBeVisible()
  }

  /** A glass box by its measures; answers its page's address. */
  async vessel(
    name: string,
    {
      cm,
      use,
      water,
      since,
    }: {
      readonly cm: readonly [number, number, number]
      readonly use?: RegExp
      readonly water?: string
      readonly since?: string
    },
  ): Promise<string> {
    const { page } = this
    await this.go('/vessels/new')
    await this.fill('Name', name)
    if (use) await this.choose('Used as', use)
    if (water !== undefined) await this.choose('Water', water)
    if (since !== undefined) await typeDate(page, page, /^Running since/, since)
    // Other tanks than the one the journey was written with: BRINVO_SIZE=1.3 lives it in larger ones.
    const size = Number(process.env['BRINVO_SIZE'] ?? 1)
    const side = (value: number) => String(Math.round(value * size * 10) / 10)
    await this.fill(/^Length/, side(cm[0]))
    await this.fill(/^Width/, side(cm[1]))
    await this.fill(/^Height/, side(cm[2]))
    await this.tick('I have looked at it')
    await this.press('Put it on the shelf')
    await expect(page).not.toHaveURL(/\/new$/)
    await expect(page.getByRole('heading', { level: 1, name })).toBeVisible()
    return new URL(page.url()).pathname
  }
  /** Somebody who lives in a vessel. */
  async resident(vessel: string, kind: RegExp, name?: string, count?: number, since?: string): Promise<void> {
    await this.go(vessel)
    await this.page.getByRole('button', { name: 'Add', exact: true }).click()
    const dialog = this.page.getByRole('dialog')
    await this.choose('Kind', kind)
    if (name !== undefined) await dialog.getByRole('textbox', { name: 'Your name for it' }).fill(name)
    if (count !== undefined) await dialog.getByRole('textbox', { name: 'How many' }).fill(String(count))
    if (since !== undefined) await typeDate(this.page, dialog, 'Here since', since)
    await dialog.getByRole('button', { name: 'Add' }).click()
    await expect(dialog).toHaveCount(0)
  }
  async bottle(name: string, form: RegExp, strength: string, basis?: string): Promise<void> {
    await this.go('/cupboard')
    await this.press('Register a bottle')
    const dialog = this.page.getByRole('dialog')
    await dialog.getByRole('textbox', { name: 'Name' }).fill(name)
    await this.choose(/^Form/, form)
    if (basis !== undefined) await dialog.getByText(basis, { exact: true }).click()
    await dialog.getByRole('textbox', { name: /^Strength/ }).fill(strength)
    const held = dialog.getByText('I hold the bottle')
    if (await held.count()) await held.click()
    await dialog.getByRole('button', { name: 'Save' }).click()
    await expect(dialog).toHaveCount(0)
  }
  /** Starts a course from the library and answers its address. */
  async course(protocol: string, vessel?: string): Promise<string> {
    await this.go(
      `/courses/new?protocol=${protocol}${vessel === undefined ? '' : `&vessel=${vessel.split('/').pop()}`}`,
    )
    await this.press(/^Start (the course|counting)/)
    await expect(this.page.getByRole('heading', { level: 1, name: /Start a course/ })).toHaveCount(0)
    await this.go('/courses')
    const begun = await this.page.waitForFunction(
      (known) =>
        [...document.querySelectorAll('main a[href^="/courses/"]')]
          .map((link) => link.getAttribute('href')!)
          .find((href) => /^\/courses\/[0-9a-f-]{30,}$/.test(href) && !known.includes(href)),
      [...this.courses],
      { polling: 40 },
    )
    const address = (await begun.jsonValue())!
    this.courses.add(address)
    return address
  }
}
