// The local interface for devices: JSON in, JSON or lines of JSON out. Loopback only, by token, and by no other page.
import { Router, type NextFunction, type Request, type Response } from 'express'
import express from 'express'
import type { DeviceHub } from './hub.ts'
import { HubRefusal, SORTS, type Sort } from './hub.ts'
import { foreignPage } from '../ownPage.ts'
import type { Pairing } from './pairing.ts'

const ID = /^[a-z0-9][a-z0-9-]{1,59}$/
/** A line is sent this often although nothing happened, so that a broken connection is noticed. */
const BEAT_MS = 20_000

/** The token a request carries. */
const tokenOf = (request: Request): string | null =>
  /^Bearer ([\w.-]{20,200})$/.exec(request.headers.authorization ?? '')?.[1] ?? null

/** Whether a request comes over this machine's own loop. */
const isLoopback = (address: string | undefined): boolean =>
  address !== undefined && /^(?:::ffff:)?127\.|^::1$/.test(address)

/** Requests that a browser made for another page are refused, whatever they carry. */
function ownPageOnly(request: Request, response: Response, next: NextFunction): void {
  if (!isLoopback(request.socket.remoteAddress))
    response.status(403).json({ problem: 'Devices speak over this machine only.' })
  else if (foreignPage(request)) response.status(403).json({ problem: 'No other page may speak to devices.' })
  else next()
}

/** Opens a stream of lines; the answer writes one. */
function lines(request: Request, response: Response): (value: unknown) => void {
  response.status(200).type('application/x-ndjson').setHeader('Cache-Control', 'no-store')
  response.flushHeaders()
  const write = (value: unknown) => {
    response.write(`${JSON.stringify(value)}\n`)
    // Compression gathers; a device waits.
    ;(response as Response & { flush?: () => void }).flush?.()
  }
  const beat = setInterval(() => write({ type: 'beat' }), BEAT_MS)
  request.on('close', () => clearInterval(beat))
  return write
}

export function deviceRoutes(hub: DeviceHub, pairing: Pairing): Router {
  const router = Router()
  router.use(ownPageOnly)
  router.use(express.json({ limit: '64kb', type: 'application/json' }))
  router.use((_request, response, next) => {
    response.setHeader('Cache-Control', 'no-store')
    next()
  })
  const keeper = (request: Request, response: Response, next: NextFunction) => {
    if (pairing.may(tokenOf(request), 'keeper')) next()
    else response.status(401).json({ problem: 'Not paired: give the code that stands where Brinvo runs.' })
  }
  const device = (request: Request, response: Response, next: NextFunction) => {
    if (pairing.may(tokenOf(request), 'device', String(request.params['id']))) next()
    else response.status(401).json({ problem: 'This device has not said hello with a code.' })
  }
  const body = (request: Request): Record<string, unknown> =>
    typeof request.body === 'object' && request.body !== null ? (request.body as Record<string, unknown>) : {}

  router.post('/pair', (request, response) => {
    const token = pairing.pair(String(body(request)['code'] ?? ''), 'keeper')
    if (token === 'slow') response.status(429).json({ problem: 'Too many guesses. Wait a minute.' })
    else if (token === 'wrong') response.status(403).json({ problem: 'That is not the code that stands there now.' })
    else response.json({ token })
  })
  // What a device says.
  router.post('/hello', (request, response) => {
    const { id, sort, name, code } = body(request)
    if (typeof id !== 'string' || !ID.test(id))
      return void response.status(400).json({ problem: 'An id is small letters, digits and dashes.' })
    if (!SORTS.includes(sort as Sort))
      return void response.status(400).json({ problem: `A device is one of ${SORTS.join(', ')}.` })
    const token = pairing.may(tokenOf(request), 'device', id)
      ? tokenOf(request)!
      : pairing.pair(String(code ?? ''), 'device', id)
    if (token === 'slow') return void response.status(429).json({ problem: 'Too many guesses. Wait a minute.' })
    if (token === 'wrong')
      return void response.status(403).json({ problem: 'That is not the code that stands there now.' })
    const view = hub.hello(id, sort as Sort, String(name ?? id).slice(0, 80))
    response.json({ token, device: view })
  })
  router.post('/:id/samples', device, (request, response) => {
    const { samples } = body(request)
    if (!Array.isArray(samples) || samples.length > 1000)
      return void response.status(400).json({ problem: 'Samples are a list, of a thousand at most.' })
    hub.sample(String(request.params['id']), samples as never)
    response.json({ taken: samples.length })
  })
  router.get('/:id/orders', device, (request, response) => {
    const write = lines(request, response)
    const end = hub.listen(String(request.params['id']), write)
    request.on('close', end)
  })
  router.post('/:id/reports', device, (request, response) => {
    const { order, mL, dry } = body(request)
    hub.report(String(request.params['id']), { order: Number(order), mL: Number(mL), dry: dry === true })
    response.json({ ok: true })
  })
  // What the keeper's page asks.
  router.get('/', keeper, (_request, response) => void response.json({ devices: hub.views() }))
  router.get('/stream', keeper, (request, response) => {
    const write = lines(request, response)
    for (const view of hub.views()) write({ type: 'device', device: view })
    request.on('close', hub.watch(write))
  })
  router.get('/:id/minutes', keeper, (request, response) => {
    const since = Number(request.query['since'] ?? 0)
    response.json({ minutes: hub.minutes(String(request.params['id']), Number.isFinite(since) ? since : 0) })
  })
  router.put('/:id/limits', keeper, (request, response) => {
    const { portionMl, dayMl } = body(request)
    response.json({
      device: hub.limit(String(request.params['id']), { portionMl: Number(portionMl), dayMl: Number(dayMl) }),
    })
  })
  router.put('/:id/schedule', keeper, (request, response) => {
    const { mL, everyMinutes } = body(request)
    const schedule = mL === null || mL === undefined ? null : { mL: Number(mL), everyMinutes: Number(everyMinutes) }
    response.json({ device: hub.setSchedule(String(request.params['id']), schedule) })
  })
  router.post('/:id/orders', keeper, (request, response) => {
    response.json({ order: hub.order(String(request.params['id']), body(request) as never) })
  })
  router.use((_request, response) => void response.status(404).json({ problem: 'No such address.' }))
  router.use((fault: unknown, _request: Request, response: Response, _next: NextFunction) => {
    if (fault instanceof HubRefusal) response.status(fault.status).json({ problem: fault.message })
    else if ((fault as { status?: number }).status !== undefined && (fault as { status: number }).status < 500)
      response.status((fault as { status: number }).status).json({ problem: 'That is no JSON we can read.' })
    else response.status(500).json({ problem: 'The server met a fault of its own.' })
  })
  return router
}
