// The devices of the house as they speak now: a stream of lines from the local interface, and the minutes of two days.
// Apart from the record: only hours and portions go there, by an act of their own.
import type { MinuteRow } from '@brinvo/core'
import { openPairing } from './keyStore.ts'

export interface DeviceView {
  readonly id: string
  readonly sort: 'probe-head' | 'doser' | 'lamp' | 'photometer'
  readonly name: string
  readonly quantities: readonly string[]
  readonly connected: boolean
  readonly lastAt: number | null
  readonly clockOffS: number
  readonly now: Readonly<Record<string, { readonly at: number; readonly value: number }>>
  readonly limits: { readonly portionMl: number; readonly dayMl: number } | null
  readonly schedule: { readonly mL: number; readonly everyMinutes: number } | null
  readonly dayMl: number
  readonly reports: readonly {
    readonly order: number
    readonly at: number
    readonly mL: number
    readonly dry: boolean
  }[]
}
export interface DevicesNow {
  /** `looking` until it is known whether this browser is paired. */
  readonly state: 'looking' | 'unpaired' | 'connecting' | 'connected' | 'away'
  readonly devices: ReadonlyMap<string, DeviceView>
  /** Closed minutes by device and quantity. */
  readonly minutes: ReadonlyMap<string, Readonly<Record<string, readonly MinuteRow[]>>>
}
type Line =
  | { readonly type: 'device'; readonly device: DeviceView }
  | {
      readonly type: 'sample'
      readonly id: string
      readonly quantity: string
      readonly at: number
      readonly value: number
    }
  | { readonly type: 'report'; readonly id: string; readonly report: DeviceView['reports'][number] }
  | { readonly type: 'beat' }

const BASE = '/devices/api'
const TOKEN = 'token'
const RETRY_MS = 5000

let now: DevicesNow = { state: 'looking', devices: new Map(), minutes: new Map() }
const listeners = new Set<() => void>()
const set = (next: Partial<DevicesNow>) => {
  now = { ...now, ...next }
  for (const listener of listeners) listener()
}
export const devicesNow = (): DevicesNow => now
export function watchDevices(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

let token: string | null = null
/** One question to the local interface; refused in its own words. */
export async function askDevices(
  path: string,
  init: { method?: string; body?: unknown; signal?: AbortSignal } = {},
): Promise<Record<string, unknown>> {
  const response = await fetch(`${BASE}${path}`, {
    method: init.method ?? 'GET',
    headers: { 'content-type': 'application/json', ...(token === null ? {} : { authorization: `Bearer ${token}` }) },
    ...(init.body === undefined ? {} : { body: JSON.stringify(init.body) }),
    ...(init.signal ? { signal: init.signal } : {}),
  }).catch(() => {
    throw new Error('Brinvo’s own server does not answer. It must run on this machine for devices.')
  })
  const answer = (await response.json().catch(() => ({}))) as Record<string, unknown>
  if (response.status === 401 && token !== null) await unpair()
  if (!response.ok) throw new Error(typeof answer['problem'] === 'string' ? answer['problem'] : 'The server refused.')
  return answer
}

/** Exchanges the code that stands where Brinvo runs. @throws with the reason in words */
export async function pairDevices(code: string): Promise<void> {
  const { token: given } = await askDevices('/pair', { method: 'POST', body: { code: code.replaceAll(/\s/g, '') } })
  token = String(given)
  await openPairing().setItem(TOKEN, token)
  void connect()
}
export async function unpair(): Promise<void> {
  token = null
  stop?.abort()
  await openPairing().removeItem(TOKEN)
  set({ state: 'unpaired', devices: new Map(), minutes: new Map() })
}

let stop: AbortController | null = null
let opened = false
/** Takes up the stream where this browser is paired; once, however often it is called. */
export async function openDevices(): Promise<void> {
  if (opened) return
  opened = true
  try {
    token = await openPairing().getItem<string>(TOKEN)
  } catch {
    token = null
  }
  if (token === null) set({ state: 'unpaired' })
  else void connect()
}

async function connect(): Promise<void> {
  stop?.abort()
  const mine = (stop = new AbortController())
  while (!mine.signal.aborted && token !== null) {
    set({ state: now.state === 'connected' ? 'away' : 'connecting' })
    try {
      const response = await fetch(`${BASE}/stream`, {
        headers: { authorization: `Bearer ${token}` },
        signal: mine.signal,
      })
      if (response.status === 401) return void (await unpair())
      if (!response.ok || !response.body) throw new Error('no stream')
      set({ state: 'connected' })
      await readLines(response.body, take)
    } catch {
      // The server was stopped, or the machine slept: tried again until the page goes.
    }
    if (mine.signal.aborted) return
    set({ state: 'away' })
    await new Promise((go) => setTimeout(go, RETRY_MS))
  }
}

async function readLines(body: ReadableStream<Uint8Array>, onLine: (line: Line) => void): Promise<void> {
  const reader = body
    .pipeThrough(new TextDecoderStream() as never)
    .getReader() as unknown as ReadableStreamDefaultReader<string>
  let rest = ''
  for (;;) {
    const { done, value } = await reader.read()
    if (done) return
    rest += value
    const lines = rest.split('\n')
    rest = lines.pop()!
    for (const line of lines) if (line !== '') onLine(JSON.parse(line) as Line)
  }
}

/** Samples come every second; the page is drawn anew every other one. */
let drawn: ReturnType<typeof setTimeout> | null = null
const DRAW_MS = 2000
const pending = new Map<string, Record<string, { at: number; value: number }>>()
function take(line: Line): void {
  if (line.type === 'beat') return
  if (line.type === 'sample') {
    const of = pending.get(line.id) ?? {}
    of[line.quantity] = { at: line.at, value: line.value }
    pending.set(line.id, of)
    drawn ??= setTimeout(draw, DRAW_MS)
    return
  }
  const devices = new Map(now.devices)
  if (line.type === 'device') devices.set(line.device.id, line.device)
  else {
    const device = devices.get(line.id)
    if (device) devices.set(line.id, { ...device, reports: [...device.reports, line.report].slice(-20) })
  }
  set({ devices })
}
function draw(): void {
  drawn = null
  const devices = new Map(now.devices)
  for (const [id, samples] of pending) {
    const device = devices.get(id)
    if (device)
      devices.set(id, {
        ...device,
        connected: true,
        lastAt: Date.now(),
        quantities: [...new Set([...device.quantities, ...Object.keys(samples)])],
        now: { ...device.now, ...samples },
      })
  }
  pending.clear()
  set({ devices })
}

/** The closed minutes of a device, fetched anew; older ones than two days are let go. */
export async function fetchMinutes(id: string): Promise<Readonly<Record<string, readonly MinuteRow[]>>> {
  const { minutes } = await askDevices(`/${id}/minutes?since=0`)
  const found = minutes as Readonly<Record<string, readonly MinuteRow[]>>
  set({ minutes: new Map([...now.minutes, [id, found]]) })
  return found
}
