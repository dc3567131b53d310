import '@testing-library/jest-dom/jest-globals'
import { afterEach, beforeEach, expect, jest, test } from '@jest/globals'
import { cleanup, screen, waitFor, within } from '@testing-library/react'
import { documentsOf, instantOf, recordOf, type RegisterDocument } from '@brinvo/core'
import { DevicesPage } from '../src/features/devices/DevicesPage.tsx'
import { DeviceKeeper } from '../src/shell/DeviceKeeper.tsx'
import { unpair } from '../src/data/deviceStore.ts'
import { demo, open, stored } from './harness.tsx'

jest.setTimeout(60_000)
const MINUTE = 60_000
const HOUR = 60 * MINUTE

/** A server of our own: what was asked of it, and a stream that stays open. */
const asked: { path: string; method: string; body: unknown }[] = []
let minutes: Record<string, unknown[]> = {}
let report: object[] = []
const view = (sort: string) => ({
  id: `wired-${sort}`,
  sort,
  name: `Wired ${sort}`,
  quantities: [],
  connected: true,
  lastAt: Date.now(),
  clockOffS: 0,
  now: sort === 'probe-head' ? { temperature: { at: Date.now(), value: 25.4 } } : {},
  limits: null,
  schedule: null,
  dayMl: 0,
  reports: sort === 'doser' ? report : [],
})
const json = (body: unknown, status = 200) =>
  ({ ok: status < 400, status, json: () => Promise.resolve(body) }) as unknown as Response
function answer(path: string, init: RequestInit = {}): Response {
  const body: unknown = typeof init.body === 'string' ? JSON.parse(init.body) : null
  asked.push({ path, method: init.method ?? 'GET', body })
  if (path.endsWith('/pair'))
    return (body as { code: string }).code === '12345678'
      ? json({ token: 't' })
      : json({ problem: 'That is not the code that stands there now.' }, 403)
  if (path.endsWith('/stream')) {
    const lines = ['probe-head', 'doser'].map((sort) => `${JSON.stringify({ type: 'device', device: view(sort) })}\n`)
    let sent = false
    return {
      ok: true,
      status: 200,
      body: {
        pipeThrough: () => ({
          getReader: () => ({
            read: () =>
              sent
                ? new Promise(() => undefined)
                : ((sent = true), Promise.resolve({ done: false, value: lines.join('') })),
          }),
        }),
      },
    } as unknown as Response
  }
  if (path.includes('/minutes')) return json({ minutes })
  if (path.endsWith('/orders')) return json({ problem: 'A portion is at most 4 mL.' }, 409)
  return json({ device: view('doser') })
}
beforeEach(() => {
  asked.length = 0
  minutes = {}
  report = []
  globalThis.TextDecoderStream ??= class {} as never
  globalThis.fetch = ((path: string, init?: RequestInit) => Promise.resolve(answer(String(path), init))) as typeof fetch
})
afterEach(async () => {
  await unpair()
  cleanup()
})

const document = (register: RegisterDocument['register'], id: string, body: object): RegisterDocument =>
  ({
    register,
    id,
    revision: 1,
    savedAt: instantOf(Date.now() - 9 * 24 * HOUR),
    body,
    history: [],
  }) as unknown as RegisterDocument
const house = () => {
  const record = demo()
  return recordOf(
    record.settings,
    [
      ...documentsOf(record),
      document('device', 'head', { name: 'Head', sort: 'probe-head', vesselId: 'tub', address: 'wired-probe-head' }),
      document('device', 'pump', {
        name: 'Pump',
        sort: 'doser',
        vesselId: 'longshore',
        address: 'wired-doser',
        doser: {
          correction: 'alkalinity',
          salt: 'sodium-bicarbonate',
          gramsPerL: 50,
          mostPerPortionMl: 4,
          mostPerDayMl: 20,
          confirmedAt: instantOf(Date.now() - HOUR),
        },
      }),
    ],
    record.entries,
  )
}
const page = () =>
  open(
    <>
      <DeviceKeeper />
      <DevicesPage />
    </>,
    { route: '/devices', record: house() },
  )
const pair = async (user: Awaited<ReturnType<typeof page>>) => {
  await user.type(await screen.findByRole('textbox', { name: 'Code' }), '1234 5678')
  await user.click(screen.getByRole('button', { name: 'Pair' }))
}

test('a wrong code is told; the right one brings the devices, and full hours stand on the ledger once', async () => {
  const hour = Math.floor(Date.now() / HOUR) * HOUR
  minutes = {
    temperature: Array.from({ length: 130 }, (_, i) => ({
      at: hour - (130 - i) * MINUTE,
      median: 25.4 + 0.01 * (i % 4),
      low: 25.3,
      high: 25.5,
      n: 60,
    })),
    level: [{ at: hour - MINUTE, median: 0, low: 0, high: 0, n: 60 }],
  }
  const user = await page()
  await user.type(await screen.findByRole('textbox', { name: 'Code' }), '1')
  await user.click(screen.getByRole('button', { name: 'Pair' }))
  expect(await screen.findByText(/not the code that stands there/)).toBeInTheDocument()
  await user.clear(screen.getByRole('textbox', { name: 'Code' }))
  await pair(user)
  const tray = await screen.findByRole('region', { name: 'Head' })
  expect(tray).toHaveTextContent('25.4')
  const kept = async () =>
    (await stored()).entries.filter((entry) => entry.kind === 'reading' && entry.id.startsWith('hour-head'))
  await waitFor(async () => expect((await kept()).length).toBe(2), { timeout: 12_000 })
  const hours = await kept()
  expect(hours).toHaveLength(2)
  expect(hours[1]).toMatchObject({ vesselId: 'tub', analyte: 'temperature', spread: { n: 3600 } })
})

test('portions that a doser told stand on the ledger once; limits are told to the server, and its refusal to the keeper', async () => {
  report = [
    { order: 3, at: Date.now() - 5 * MINUTE, mL: 2, dry: false },
    { order: 4, at: Date.now() - 4 * MINUTE, mL: 2, dry: true },
  ]
  const user = await page()
  await pair(user)
  const tray = await screen.findByRole('region', { name: 'Pump' })
  await waitFor(
    async () => {
      const poured = (await stored()).entries.filter((entry) => entry.kind === 'tally' && entry.deviceId === 'pump')
      // What ran dry did not go in.
      expect(poured.map((entry) => entry.kind === 'tally' && entry.values['ml'])).toEqual([2])
    },
    { timeout: 12_000 },
  )
  await waitFor(() =>
    expect(asked.find(({ path, method }) => path.endsWith('/limits') && method === 'PUT')?.body).toEqual({
      portionMl: 4,
      dayMl: 20,
    }),
  )
  await user.type(within(tray).getByRole('textbox', { name: /One portion/ }), '9')
  await user.click(within(tray).getByRole('button', { name: 'Pour it now' }))
  expect(await screen.findByText('A portion is at most 4 mL.')).toBeInTheDocument()
  expect(screen.getByText(/ran dry/)).toBeInTheDocument()
})
