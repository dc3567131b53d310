// The local interface: what a device may say, what a page may ask, and what nobody may.
import { readFileSync } from 'node:fs'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals'
import { Ajv } from 'ajv'
import { createApp } from '../src/app.ts'
import { DeviceHub } from '../src/devices/hub.ts'
import { Pairing } from '../src/devices/pairing.ts'
import { deviceRoutes } from '../src/devices/routes.ts'
import { Doser, ProbeHead, StandInTank } from '../stand-ins/bodies.ts'
import { DeviceClient, type Order } from '../stand-ins/client.ts'

const START = Date.parse('2026-11-23T08:00:00Z')
let nowMs = START
let code = ''
let hub: DeviceHub
let pairing: Pairing
let server: Server
let base = ''
const now = () => nowMs

beforeEach(async () => {
  nowMs = START
  hub = new DeviceHub(now)
  pairing = new Pairing((shown) => (code = shown), now)
  server = createServer(createApp({ folder: '/nowhere', devices: deviceRoutes(hub, pairing) }))
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
})
afterEach(() => {
  server.closeAllConnections()
  server.close()
})
const ask = async (path: string, init: RequestInit & { token?: string; body?: string } = {}) => {
  const { token, headers, ...rest } = init
  const response = await fetch(`${base}/devices/api${path}`, {
    ...rest,
    headers: {
      'content-type': 'application/json',
      ...(token === undefined ? {} : { authorization: `Bearer ${token}` }),
      ...headers,
    },
  })
  return { status: response.status, body: (await response.json()) as Record<string, never> }
}
const post = (path: string, body: unknown, more: Parameters<typeof ask>[1] = {}) =>
  ask(path, { ...more, method: 'POST', body: JSON.stringify(body) })
const put = (path: string, body: unknown, token: string) =>
  ask(path, { method: 'PUT', body: JSON.stringify(body), token })
const paired = async (): Promise<string> => String((await post('/pair', { code })).body['token'])
/** A device that listens, and what it was told. */
async function listening(sort = 'doser', id = 'pump') {
  const device = new DeviceClient(base, id, sort, 'A device')
  await device.hello(code)
  const told: Order[] = []
  const end = new AbortController()
  void device.orders((order) => void told.push(order), end.signal).catch(() => undefined)
  for (let i = 0; i < 100 && hub.views()[0]?.lastAt === null; i++) await new Promise((go) => setTimeout(go, 5))
  await new Promise((go) => setTimeout(go, 40))
  return { device, told, end }
}

describe('pairing', () => {
  test('a code is exchanged once; used, wrong and old ones are refused', async () => {
    const first = code
    expect((await post('/pair', { code: first })).status).toBe(200)
    expect(code).not.toBe(first)
    expect((await post('/pair', { code: first })).status).toBe(403)
    const old = code
    nowMs += 11 * 60_000
    expect((await post('/pair', { code: old })).status).toBe(403)
    expect(code).not.toBe(old)
    expect((await post('/pair', { code })).status).toBe(200)
  })
  test('guesses are slowed: the sixth wrong one in a minute is not even looked at, nor the right one', async () => {
    for (let i = 0; i < 5; i++) expect((await post('/pair', { code: 'x' })).status).toBe(403)
    expect((await post('/pair', { code })).status).toBe(429)
    nowMs += 61_000
    expect((await post('/pair', { code })).status).toBe(200)
  })
  test('nothing is told without a token, and a device’s token is none of the keeper’s', async () => {
    const { device } = await listening('probe-head', 'head')
    expect((await ask('/')).status).toBe(401)
    expect((await ask('/', { token: 'a-token-that-nobody-gave-out' })).status).toBe(401)
    const hello = await post('/hello', { id: 'other', sort: 'doser', name: 'x', code })
    expect((await ask('/', { token: String(hello.body['token']) })).status).toBe(401)
    // Nor may it speak for another device.
    expect((await post('/head/samples', { samples: [] }, { token: String(hello.body['token']) })).status).toBe(401)
    await expect(device.samples([{ at: nowMs, quantity: 'ph', value: 8 }])).resolves.toBeUndefined()
  })
  test('a pairing outlives the server, and none made with another key is believed', async () => {
    const token = await paired()
    const secret = new Uint8Array(32).fill(7)
    const first = new Pairing(() => undefined, now, secret)
    const kept = first.grant('device', 'head')
    expect(new Pairing(() => undefined, now, secret).may(kept, 'device', 'head')).toBe(true)
    expect(new Pairing(() => undefined, now, secret).may(kept, 'device', 'pump')).toBe(false)
    expect(new Pairing(() => undefined, now, secret).may(kept, 'keeper')).toBe(false)
    expect(first.may(token, 'keeper')).toBe(false)
    expect(first.may(kept.replace('device.head', 'keeper.head'), 'keeper')).toBe(false)
  })
  test('another page is refused, whatever token it has', async () => {
    const token = await paired()
    for (const headers of [
      { origin: 'http://elsewhere.example' },
      { 'sec-fetch-site': 'cross-site' },
      { 'sec-fetch-site': 'same-site' },
    ] as readonly Record<string, string>[])
      expect((await ask('/', { token, headers })).status).toBe(403)
    expect((await ask('/', { token, headers: { origin: base, 'sec-fetch-site': 'same-origin' } })).status).toBe(200)
  })
})

describe('samples', () => {
  const head = async () => {
    const device = new DeviceClient(base, 'head', 'probe-head', 'Head')
    await device.hello(code)
    return device
  }
  test('a minute is its middle, its reach and its number; two days are kept', async () => {
    const device = await head()
    for (let second = 0; second < 60; second++) {
      nowMs = START + second * 1000
      await device.samples([{ at: nowMs, quantity: 'temperature', value: second === 30 ? 40 : 25 + second / 1000 }])
    }
    nowMs = START + 61_000
    await device.samples([{ at: nowMs, quantity: 'temperature', value: 25 }])
    const minutes = hub.minutes('head', 0).temperature!
    expect(minutes).toHaveLength(1)
    // One wild sample bends neither the middle nor the reach.
    expect(minutes[0]!.median).toBeCloseTo(25.03, 2)
    expect(minutes[0]!.high).toBeLessThan(25.06)
    expect(minutes[0]!.n).toBe(60)
    nowMs += 49 * 3_600_000
    await device.samples([{ at: nowMs, quantity: 'temperature', value: 25 }])
    nowMs += 61_000
    await device.samples([{ at: nowMs, quantity: 'temperature', value: 25 }])
    expect(hub.minutes('head', 0).temperature!.every(({ at }) => at > START + 3_600_000)).toBe(true)
  })
  test('a clock that jumps is told, and its samples stand at the time they came', async () => {
    const device = await head()
    await device.samples([{ at: nowMs + 3 * 3_600_000, quantity: 'ph', value: 8.1 }])
    expect(hub.views()[0]).toMatchObject({ clockOffS: 10_800, now: { ph: { at: nowMs, value: 8.1 } } })
  })
  test.each([
    ['a quantity nobody knows', [{ quantity: 'mood', value: 1 }]],
    ['words for a number', [{ quantity: 'ph', value: 'eight' }]],
    ['no end', [{ quantity: 'ph', value: null }]],
  ])('%s: refused as a whole', async (_name, samples) => {
    const hello = await post('/hello', { id: 'head', sort: 'probe-head', name: 'x', code })
    const token = String(hello.body['token'])
    expect(
      (await post('/head/samples', { samples: [{ quantity: 'ph', value: 8 }, ...samples] }, { token })).status,
    ).toBe(400)
    expect(hub.views()[0]!.quantities).toEqual([])
  })
  test('a day of one sample a second costs little memory', () => {
    hub.hello('head', 'probe-head', 'Head')
    const before = process.memoryUsage().heapUsed
    for (let second = 0; second < 86_400; second++) {
      nowMs = START + second * 1000
      hub.sample('head', [
        { at: nowMs, quantity: 'temperature', value: 25 + Math.sin(second) },
        { at: nowMs, quantity: 'ph', value: 8.1 },
      ])
    }
    const kept = hub.minutes('head', 0)
    expect(kept.temperature!.length + kept.ph!.length).toBeGreaterThan(2 * 1438)
    expect(JSON.stringify(kept).length).toBeLessThan(5e6)
    expect(process.memoryUsage().heapUsed - before).toBeLessThan(60e6)
  })
})

describe('a doser', () => {
  test('pours nothing before both limits were confirmed, and never over them', async () => {
    const token = await paired()
    const { told } = await listening()
    const pour = (mL: number) => post('/pump/orders', { do: 'pour', mL }, { token })
    expect(await pour(1)).toMatchObject({ status: 409, body: { problem: /not confirmed/ as never } })
    expect((await put('/pump/limits', { portionMl: 10, dayMl: 5 }, token)).status).toBe(400)
    expect((await put('/pump/limits', { portionMl: 10, dayMl: 25 }, token)).status).toBe(200)
    expect((await pour(10.5)).status).toBe(409)
    expect((await pour(10)).status).toBe(200)
    expect((await pour(10)).status).toBe(200)
    expect(await pour(6)).toMatchObject({ status: 409, body: { problem: /20 mL went in within 24 hours/ as never } })
    expect((await pour(5)).status).toBe(200)
    for (let i = 0; i < 50 && told.length < 3; i++) await new Promise((go) => setTimeout(go, 10))
    expect(told.map(({ mL }) => mL)).toEqual([10, 10, 5])
    nowMs += 24 * 3_600_000 + 1
    expect((await pour(10)).status).toBe(200)
  })
  test('a schedule keeps to the limits, goes on by itself, and makes up for nothing it missed', async () => {
    const token = await paired()
    const { told } = await listening()
    await put('/pump/limits', { portionMl: 5, dayMl: 24 }, token)
    expect((await put('/pump/schedule', { mL: 2, everyMinutes: 60 }, token)).status).toBe(409)
    expect((await put('/pump/schedule', { mL: 1, everyMinutes: 60 }, token)).status).toBe(200)
    hub.tick()
    expect(hub.views()[0]!.dayMl).toBe(0)
    nowMs += 60 * 60_000
    hub.tick()
    expect(hub.views()[0]!.dayMl).toBe(1)
    nowMs += 9 * 3_600_000
    hub.tick()
    hub.tick()
    expect(hub.views()[0]!.dayMl).toBe(2)
    expect((await post('/pump/orders', { do: 'stop' }, { token })).status).toBe(200)
    expect(hub.views()[0]!.schedule).toBeNull()
    expect(told.length).toBeGreaterThan(0)
  })
  test('what nobody hears is not counted as poured; what is told is, though no report comes', async () => {
    const token = await paired()
    const { end } = await listening()
    await put('/pump/limits', { portionMl: 5, dayMl: 10 }, token)
    expect((await post('/pump/orders', { do: 'pour', mL: 5 }, { token })).status).toBe(200)
    end.abort()
    await new Promise((go) => setTimeout(go, 60))
    expect((await post('/pump/orders', { do: 'pour', mL: 1 }, { token })).status).toBe(409)
    expect(hub.views()[0]!.dayMl).toBe(5)
  })
  test('a probe head pours nothing, and a pump reads nothing', async () => {
    const token = await paired()
    await listening('probe-head', 'head')
    expect((await put('/head/limits', { portionMl: 1, dayMl: 1 }, token)).status).toBe(409)
    expect((await post('/head/orders', { do: 'read', analyte: 'ph' }, { token })).status).toBe(409)
    expect((await post('/head/orders', { do: 'fly' }, { token })).status).toBe(400)
  })
})

test('what is said and told has the shapes that are written down', () => {
  const schema = JSON.parse(
    readFileSync(new URL('../../docs/formats/devices.schema.json', import.meta.url), 'utf8'),
  ) as object
  const ajv = new Ajv({ strict: false })
  ajv.addSchema(schema)
  const fits = (name: string, value: unknown) => {
    const validate = ajv.getSchema(`devices-1#/definitions/${name}`)!
    expect([name, validate(value), validate.errors]).toEqual([name, true, null])
  }
  const events: unknown[] = []
  hub.watch((event) => events.push(event))
  const told: unknown[] = []
  hub.hello('pump', 'doser', 'Pump')
  hub.hello('eye', 'photometer', 'Eye')
  hub.listen('pump', (order) => told.push(order))
  hub.listen('eye', (order) => told.push(order))
  hub.limit('pump', { portionMl: 5, dayMl: 20 })
  hub.setSchedule('pump', { mL: 1, everyMinutes: 90 })
  hub.order('pump', { do: 'pour', mL: 2 })
  hub.order('pump', { do: 'run', seconds: 30 })
  hub.order('eye', { do: 'read', analyte: 'alkalinity' })
  hub.report('pump', { order: 1, mL: 2, dry: false })
  hub.order('pump', { do: 'stop' })
  hub.hello('head', 'probe-head', 'Head')
  hub.sample('head', new StandInHead().sample(nowMs))
  nowMs += 61_000
  hub.sample('head', new StandInHead().sample(nowMs))
  for (const event of events) fits('event', event)
  for (const order of told) fits('order', order)
  for (const view of hub.views()) fits('device', view)
  for (const rows of Object.values(hub.minutes('head', 0))) for (const row of rows!) fits('minute', row)
  fits('samples', { samples: new StandInHead().sample(nowMs) })
  expect(told).toHaveLength(4)
})
class StandInHead extends ProbeHead {
  constructor() {
    super(new StandInTank(3, START), START)
  }
}

describe('stand-ins', () => {
  const told = (fault: ConstructorParameters<typeof ProbeHead>[2], hours: number, every = 60_000) => {
    const water = new StandInTank(7, START, fault)
    const head = new ProbeHead(water, START, fault)
    const found: { at: number; quantity: string; value: number }[] = []
    for (let ms = START; ms < START + hours * 3_600_000; ms += every) found.push(...head.sample(ms))
    return (quantity: string) => found.filter((one) => one.quantity === quantity)
  }
  test('tell what hangs together: sea water of about 35, warm, with air', () => {
    const of = told('none', 6)
    expect(of('temperature').every(({ value }) => value > 24 && value < 27)).toBe(true)
    expect(of('conductivity').every(({ value }) => value > 51_000 && value < 56_000)).toBe(true)
    expect(of('oxygen').every(({ value }) => value > 5 && value < 8.5)).toBe(true)
  })
  test('and have the faults of real ones', () => {
    expect(new Set(told('stuck', 3)('temperature').map(({ value }) => value)).size).toBe(1)
    expect(told('fourteen', 1)('ph').every(({ value }) => value === 14)).toBe(true)
    expect(told('heater', 3)('temperature').at(-1)!.value).toBeGreaterThan(30)
    expect(told('drop-out', 3)('ph').length).toBeLessThan(0.7 * 180)
    const first = told('drift', 24 * 10, 3_600_000)('ph')
    expect(first.at(-1)!.value - first[0]!.value).toBeGreaterThan(0.1)
    const dry = new Doser(new StandInTank(1, START, 'dry'), 'dry')
    expect(dry.pour(5, 38)).toMatchObject({ trulyMl: 0, saysMl: 5, saysDry: false })
  })
})
