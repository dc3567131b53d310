// From device to device and from build to build: a hand-over by its code, a program that opens without its server and is renewed
// when the keeper says so, and a phone's connection that the browser trusts.
import { spawn, type ChildProcess } from 'node:child_process'
import { createHash, X509Certificate } from 'node:crypto'
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { get } from 'node:https'
import { tmpdir } from 'node:os'
import type { TLSSocket } from 'node:tls'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { chromium, expect, test, type Browser, type Page } from '@playwright/test'
import { CHROMIUM } from '../chromium.ts'
import { EMPTY } from './helpers.ts'
import { Keeper } from './house.ts'

test.use({ storageState: EMPTY })

const ROOT = fileURLToPath(new URL('../../', import.meta.url))
const children: ChildProcess[] = []
/** A server of its own; answers once it listens, with what it has said. */
async function served(
  port: number,
  args: readonly string[] = [],
  state?: string,
): Promise<{ child: ChildProcess; said: () => string }> {
  const child = spawn(process.execPath, ['server/dist/main.js', '--port', String(port), ...args], {
    cwd: ROOT,
    env: { ...process.env, ...(state === undefined ? {} : { XDG_STATE_HOME: state }) },
  })
  children.push(child)
  let said = ''
  child.stdout.on('data', (piece: Buffer) => (said += piece.toString()))
  child.stderr.on('data', (piece: Buffer) => (said += piece.toString()))
  await expect
    .poll(() => said)
    .toMatch(args.includes('--lan') ? /your data stay in each browser|cannot be served/ : /Brinvo is at/)
  return { child, said: () => said }
}
const ended = (child: ChildProcess) =>
  new Promise<void>((resolve) => {
    child.once('exit', () => resolve())
    child.kill('SIGKILL')
  })
test.afterEach(() => children.splice(0).forEach((child) => child.kill('SIGKILL')))

async function device(browser: Browser, start: string): Promise<{ page: Page; keeper: Keeper }> {
  const page = await (await browser.newContext({ storageState: EMPTY })).newPage()
  const keeper = new Keeper(page, start)
  await keeper.begin()
  return { page, keeper }
}

test('a code carries the record to an empty phone, then what either lacks, and works once', async ({ browser }) => {
  const laptop = await device(browser, '2027-03-01T18:00:00Z')
  const reef = await laptop.keeper.vessel('Reef', { cm: [90, 45, 50], water: 'Marine', use: /Display/ })
  await laptop.keeper.read(reef, { Alkalinity: '8.0 dKH' })
  const phone = await device(browser, '2027-03-01T18:10:00Z')

  const shown = async () => {
    await laptop.keeper.go('/ledger')
    await laptop.keeper.press('Show a code')
    const dialog = laptop.page.getByRole('dialog')
    await expect(dialog.getByRole('img', { name: /squares/ })).toBeVisible()
    await expect(dialog.getByRole('status')).toHaveText(/Waiting/)
    return (await dialog.locator('[data-code]').innerText()).trim()
  }
  const read = async (code: string) => {
    if ((await phone.page.getByRole('dialog').count()) === 0) {
      await phone.keeper.go('/ledger')
      await phone.keeper.press('Read a code')
    }
    await phone.page.getByRole('dialog').getByRole('textbox', { name: 'Code' }).fill(code)
    await phone.page.getByRole('dialog').getByRole('button', { name: 'Meet the other device' }).click()
  }
  const code = await shown()
  expect(code).toMatch(/^([0-9A-HJKMNP-TV-Z]{4} ){3}[0-9A-HJKMNP-TV-Z]{4}$/)
  // One letter wrong is nobody's code; written small and in one piece it is the right one.
  await read(code.replace(/.$/, (last) => (last === '7' ? '8' : '7')))
  await expect(phone.page.getByRole('alert')).toContainText('No device shows this code')
  await read(code.toLowerCase().replaceAll(' ', ''))
  await expect(phone.page.getByRole('dialog')).toContainText('comes whole')
  await phone.page.getByRole('button', { name: 'Take it' }).click()
  await expect(phone.page.getByText(/The record is here now: one entry/)).toBeVisible()
  await expect(laptop.page.getByRole('dialog')).toContainText('has no record yet')
  await laptop.page.getByRole('button', { name: 'Good' }).click()
  await read(code)
  await expect(phone.page.getByRole('alert')).toContainText('was used')
  await phone.page.keyboard.press('Escape')

  await phone.keeper.wait(20)
  await phone.keeper.read(reef, { Calcium: '410' })
  await laptop.keeper.wait(21)
  await laptop.keeper.read(reef, { Nitrate: '6' })
  await read(await shown())
  for (const [{ page }, came] of [
    [phone, 'Nitrate 6'],
    [laptop, 'Calcium 410'],
  ] as const) {
    await expect(page.getByRole('dialog')).toContainText('One entry')
    await page.getByRole('button', { name: 'Join the records' }).click()
    await expect(page.getByRole('listitem').filter({ hasText: came })).toContainText('came in')
  }
  await read(await shown())
  await expect(phone.page.getByRole('dialog')).toContainText('Both have the same')
})

test.describe('the program kept in the browser', () => {
  test.use({ serviceWorkers: 'allow' })
  test('is installable, opens with its server stopped, and takes a newer build when the keeper says so', async ({
    page,
  }) => {
    const folder = mkdtempSync(join(tmpdir(), 'brinvo-build-'))
    cpSync(join(ROOT, 'app/dist'), folder, { recursive: true })
    const port = 4321
    const first = await served(port, ['--folder', folder])
    await page.goto(`http://127.0.0.1:${port}/`)
    await page.getByRole('button', { name: 'I have read this' }).click()
    await expect(page.getByRole('heading', { name: /The shelf is empty/ })).toBeVisible()
    const kept = () => page.evaluate(() => navigator.serviceWorker.controller?.state ?? 'none')
    await expect.poll(kept, { timeout: 40_000 }).toBe('activated')
    const session = await page.context().newCDPSession(page)
    const { errors, data } = await session.send('Page.getAppManifest')
    expect(errors).toEqual([])
    expect(JSON.parse(data ?? '{}')).toMatchObject({ display: 'standalone', start_url: '/' })
    const { installabilityErrors } = await session.send('Page.getInstallabilityErrors')
    expect(installabilityErrors.map(({ errorId }) => errorId).filter((id) => id !== 'in-incognito')).toEqual([])

    await ended(first.child)
    await page.goto(`http://127.0.0.1:${port}/bench`)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()

    // The next build: another page, another worker.
    const build = /const VERSION = '(\w+)'/.exec(readFileSync(join(folder, 'sw.js'), 'utf8'))![1]!
    for (const [name, from, to] of [
      ['sw.js', build, `${build.slice(0, -2)}zz`],
      ['index.html', '<html lang="en"', '<html lang="en" data-build="next"'],
    ] as const) {
      const path = join(folder, name)
      writeFileSync(path, readFileSync(path, 'utf8').replace(from, to))
    }
    await served(port, ['--folder', folder])
    await page.reload()
    await expect(page.getByText('A newer version is ready.')).toBeVisible()
    await expect(page.locator('html[data-build]')).toHaveCount(0)
    await page.getByRole('button', { name: 'Take it now' }).click()
    await expect(page.locator('html[data-build="next"]')).toHaveCount(1)
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible()
    rmSync(folder, { recursive: true })
  })
})

test('a phone that took the authority in has a trusted connection, and no other name or page gets through', async () => {
  const state = mkdtempSync(join(tmpdir(), 'brinvo-state-'))
  const port = 4331
  const { said } = await served(port, ['--lan'], state)
  const door = `http://127.0.0.1:${port + 2}`
  const words = await (await fetch(door)).text()
  const authority = await (await fetch(`${door}/brinvo-house.crt`)).text()
  const letters = createHash('sha256')
    .update(new X509Certificate(authority).raw)
    .digest('hex')
    .toUpperCase()
    .match(/../g)!
  // What is shown on the phone and beside the server is what was handed out.
  expect(words).toContain(letters.slice(0, 16).join(' '))
  expect(said()).toContain(letters.slice(0, 16).join(' '))
  const asked = (options: object) =>
    new Promise<{ status: number | null; fault: string | null; shown: X509Certificate | null }>((resolve) => {
      const request = get(`https://127.0.0.1:${port + 1}/health`, options, (response) => {
        const { raw } = (response.socket as TLSSocket).getPeerCertificate()
        response.resume()
        resolve({ status: response.statusCode ?? null, fault: null, shown: new X509Certificate(raw) })
      })
      request.on('error', (fault) => resolve({ status: null, fault: fault.message, shown: null }))
    })
  const trusted = await asked({ ca: authority, agent: false })
  expect(trusted.status).toBe(200)
  expect((await asked({ agent: false })).fault).toMatch(/certificate/)
  expect(
    (
      await asked({
        ca: authority,
        agent: false,
        headers: { Host: 'evil.example' },
        checkServerIdentity: () => undefined,
      })
    ).status,
  ).toBe(421)
  // A browser that holds the key for good.
  const pin = createHash('sha256')
    .update(trusted.shown!.publicKey.export({ type: 'spki', format: 'der' }))
    .digest('base64')
  const phone = await chromium.launch({
    executablePath: CHROMIUM,
    args: ['--no-sandbox', `--ignore-certificate-errors-spki-list=${pin}`],
  })
  const page = await (
    await phone.newContext({ serviceWorkers: 'allow', locale: 'en-GB', timezoneId: 'Europe/Berlin' })
  ).newPage()
  await page.goto(`https://127.0.0.1:${port + 1}/settings`)
  await page.getByRole('button', { name: 'I have read this' }).click()
  await expect(page.getByText('It opens without a network, from this browser’s own keep.')).toBeVisible()
  expect(
    await page.evaluate(async () => ({
      secure: isSecureContext,
      kept: (await navigator.serviceWorker.ready).active !== null,
      locks: 'locks' in navigator,
      camera: 'mediaDevices' in navigator,
    })),
  ).toEqual({ secure: true, kept: true, locks: true, camera: true })
  await phone.close()
  rmSync(state, { recursive: true })
})

test('a full store says so, leads to where room is made, and what was typed is saved then', async ({ page }) => {
  // A store that is full until something is let go.
  await page.addInitScript(() => {
    const { put, clear } = IDBObjectStore.prototype
    const full = () => localStorage.getItem('test-full') === 'yes'
    IDBObjectStore.prototype.put = function (...args) {
      if (full()) throw new DOMException('no room', 'QuotaExceededError')
      return put.apply(this, args)
    }
    IDBObjectStore.prototype.clear = function () {
      localStorage.removeItem('test-full')
      return clear.apply(this)
    }
  })
  const keeper = new Keeper(page, '2027-03-01T18:00:00Z')
  await keeper.begin()
  await keeper.vessel('Reef', { cm: [90, 45, 50], water: 'Marine', use: /Display/ })
  await keeper.go('/ledger')
  await page.evaluate(() => localStorage.setItem('test-full', 'yes'))
  await page.keyboard.press('l')
  const dialog = page.getByRole('dialog')
  await dialog.getByText('Note', { exact: true }).first().click()
  await dialog.getByRole('textbox', { name: /note/i }).first().fill('the note that must not be lost')
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText(/This browser has no room left/).first()).toBeVisible()
  await dialog.getByRole('button', { name: 'Make room' }).click()
  const room = page.getByRole('dialog', { name: 'Make room' })
  await room.getByRole('button', { name: 'Let go what can be made again' }).click()
  await expect(page.getByText(/all of it can be made again/)).toBeVisible()
  await room.getByRole('button', { name: 'Close' }).click()
  await expect(dialog.getByRole('textbox', { name: /note/i }).first()).toHaveValue('the note that must not be lost')
  await dialog.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('listitem').filter({ hasText: 'the note that must not be lost' })).toBeVisible()
})
