// Hand-over: what one device has encrypted waits in memory until the other fetches it. The server sees a meeting point, sizes
// and times; the key stands in the code that it never gets. Nothing is written down, and a meeting is over after minutes.
import { randomBytes, timingSafeEqual } from 'node:crypto'
import express, { Router, type NextFunction, type Request, type Response } from 'express'
import { rateLimit } from 'express-rate-limit'
import { foreignPage } from './ownPage.ts'

/** A code that nobody read is over after this; so is a meeting in which nothing moved, ms. */
export const MEETING_MS = 10 * 60_000
/** Once one side is done, the other has this long to fetch the last of it, ms. */
const LAST_MS = 60_000
/** Meetings at one time: a house has few devices. */
const MOST_MEETINGS = 8
/** One message, bytes; and so many wait for the other side at most. */
export const MESSAGE_BYTES = 8 * 1024 * 1024
const MOST_WAITING = 4
/** A device asks again after this long without an answer, ms. */
const POLL_MS = 20_000
/** Wrong guesses a minute, from wherever they come. */
const GUESSES = 10

type Side = 'giver' | 'taker'
const OTHER = { giver: 'taker', taker: 'giver' } as const

interface Meeting {
  touchedAt: number
  readonly tokens: Record<Side, string | null>
  /** Messages of each side by their number. */
  readonly sent: Record<Side, Map<number, Buffer>>
  /** Sides that have all they wanted. */
  readonly done: Set<Side>
  /** Who waits for something to change. */
  readonly waiting: Set<() => void>
}

export class HandoverRefusal extends Error {
  override readonly name = 'HandoverRefusal'
  constructor(
    readonly status: 400 | 401 | 404 | 409 | 410 | 429,
    message: string,
  ) {
    super(message)
  }
}

/** Meetings of two devices, in memory alone. */
export class Handover {
  private readonly meetings = new Map<string, Meeting>()
  /** Points that were used, until nobody could mean them any more. */
  private readonly used = new Map<string, number>()

  constructor(private readonly now: () => number = Date.now) {}

  /** Opens a meeting; the answer is what its giver shows from now on. @throws HandoverRefusal */
  open(point: string): string {
    this.tick()
    if (this.meetings.has(point) || this.used.has(point))
      throw new HandoverRefusal(409, 'This code was used before. Make a new one.')
    if (this.meetings.size >= MOST_MEETINGS)
      throw new HandoverRefusal(429, 'Too many devices are handing over. Wait some minutes.')
    const token = randomBytes(24).toString('base64url')
    this.meetings.set(point, {
      touchedAt: this.now(),
      tokens: { giver: token, taker: null },
      sent: { giver: new Map(), taker: new Map() },
      done: new Set(),
      waiting: new Set(),
    })
    return token
  }

  /** Comes to a meeting, once. @throws HandoverRefusal 404 where nobody waits, 410 where somebody came already */
  come(point: string): string {
    this.tick()
    const meeting = this.meetings.get(point)
    if (!meeting) {
      if (this.used.has(point))
        throw new HandoverRefusal(410, 'This code was used or is over. Let the other device show a new one.')
      throw new HandoverRefusal(
        404,
        'No device shows this code. Compare it letter by letter; it stands for ten minutes.',
      )
    }
    if (meeting.tokens.taker !== null)
      throw new HandoverRefusal(410, 'This code was used. Let the other device show a new one.')
    meeting.tokens.taker = randomBytes(24).toString('base64url')
    this.touch(meeting)
    return meeting.tokens.taker
  }

  /** Which side of a meeting a token is. @throws HandoverRefusal */
  side(point: string, token: string | null): Side {
    this.tick()
    const meeting = this.meetings.get(point)
    if (!meeting) throw new HandoverRefusal(410, 'The hand-over is over.')
    const side = (['giver', 'taker'] as const).find((one) => same(meeting.tokens[one], token))
    if (!side) throw new HandoverRefusal(401, 'This is not your hand-over.')
    return side
  }

  /** Leaves a message; answers false while too many wait. */
  put(point: string, side: Side, number: number, message: Buffer): boolean {
    const meeting = this.meetings.get(point)
    if (!meeting) throw new HandoverRefusal(410, 'The hand-over is over.')
    const sent = meeting.sent[side]
    if (sent.has(number)) throw new HandoverRefusal(409, 'This part was sent before.')
    if (sent.size >= MOST_WAITING) return false
    sent.set(number, message)
    this.touch(meeting)
    return true
  }

  /** What the other side left under a number; whoever asks for the next has got the ones before it. */
  take(point: string, side: Side, number: number): Buffer | null {
    const meeting = this.meetings.get(point)
    if (!meeting) throw new HandoverRefusal(410, 'The hand-over is over.')
    const sent = meeting.sent[OTHER[side]]
    let gone = false
    for (const one of sent.keys()) if (one < number) gone = sent.delete(one) || gone
    if (gone) this.touch(meeting)
    return sent.get(number) ?? null
  }

  /** Whether somebody has come. */
  met(point: string): boolean {
    return this.meetings.get(point)?.tokens.taker != null
  }

  /** Calls once something of a meeting changed; the answer takes it back. */
  wait(point: string, then: () => void): () => void {
    const waiting = this.meetings.get(point)?.waiting
    waiting?.add(then)
    return () => void waiting?.delete(then)
  }

  /** Ends a meeting: everything of it is let go. */
  end(point: string): void {
    const meeting = this.meetings.get(point)
    if (!meeting) return
    this.meetings.delete(point)
    this.used.set(point, this.now())
    for (const then of [...meeting.waiting]) then()
  }

  /** One side has all it wanted; what it sent last still waits for the other, until that is done too. */
  leave(point: string, side: Side): void {
    const meeting = this.meetings.get(point)
    if (!meeting) return
    meeting.done.add(side)
    if (meeting.done.size === 2) this.end(point)
  }

  /** How many meetings there are, and bytes that wait in them. */
  get held(): { readonly meetings: number; readonly bytes: number } {
    let bytes = 0
    for (const { sent } of this.meetings.values())
      for (const side of Object.values(sent)) for (const message of side.values()) bytes += message.length
    return { meetings: this.meetings.size, bytes }
  }

  /** Lets go what is over. */
  tick(): void {
    for (const [point, { touchedAt, done }] of this.meetings)
      if (this.now() - touchedAt > (done.size > 0 ? LAST_MS : MEETING_MS)) this.end(point)
    for (const [point, at] of this.used) if (this.now() - at > 6 * MEETING_MS) this.used.delete(point)
  }

  private touch(meeting: Meeting): void {
    meeting.touchedAt = this.now()
    for (const then of [...meeting.waiting]) then()
  }
}

const same = (a: string | null, b: string | null): boolean =>
  a !== null && b !== null && a.length === b.length && timingSafeEqual(Buffer.from(a), Buffer.from(b))

const POINT = /^[0-9a-f]{32}$/

export function handoverRoutes(handover: Handover): Router {
  const router = Router()
  router.use((request, response, next) => {
    response.setHeader('Cache-Control', 'no-store')
    if (foreignPage(request)) response.status(403).json({ problem: 'No other page may take part in a hand-over.' })
    else next()
  })
  // One count for the whole house: guesses from many addresses are guesses all the same.
  const guesses = rateLimit({
    windowMs: 60_000,
    limit: GUESSES,
    keyGenerator: () => 'house',
    skipSuccessfulRequests: true,
    standardHeaders: false,
    legacyHeaders: false,
    handler: (_request, response) =>
      void response.status(429).json({ problem: 'Too many wrong codes. Wait a minute, then try again.' }),
  })
  const pointOf = (request: Request): string => {
    const point = String(request.params['point'])
    if (!POINT.test(point)) throw new HandoverRefusal(400, 'That is no meeting point.')
    return point
  }
  const sideOf = (request: Request): Side =>
    handover.side(pointOf(request), /^Bearer ([\w-]{20,60})$/.exec(request.headers.authorization ?? '')?.[1] ?? null)
  const numberOf = (request: Request): number => {
    const number = Number(request.params['number'])
    if (!Number.isInteger(number) || number < 0 || number > 100_000)
      throw new HandoverRefusal(400, 'That is no number of a part.')
    return number
  }
  /** Answers when `ready` has something, or nothing after a while; asked again at every change. */
  const later = <T>(response: Response, point: string, ready: () => T | null): Promise<T | null> =>
    new Promise((resolve, reject) => {
      let over = false
      const stop = () => {
        over = true
        clearTimeout(timer)
        off()
      }
      const look = () => {
        // What is left here tells everyone who waits, this one too.
        if (over) return
        over = true
        try {
          const found = ready()
          over = found !== null
          if (!over) return
          stop()
          resolve(found)
        } catch (cause) {
          stop()
          reject(cause as Error)
        }
      }
      const timer = setTimeout(() => {
        stop()
        resolve(null)
      }, POLL_MS)
      const off = handover.wait(point, look)
      response.on('close', stop)
      look()
    })

  router.post('/:point', (request, response) => void response.json({ token: handover.open(pointOf(request)) }))
  router.post('/:point/taker', guesses, (request, response) => {
    response.json({ token: handover.come(pointOf(request)) })
  })
  router.get('/:point/met', async (request, response) => {
    const point = pointOf(request)
    sideOf(request)
    response.json({ met: (await later(response, point, () => (handover.met(point) ? true : null))) === true })
  })
  router.put(
    '/:point/left/:number',
    express.raw({ limit: MESSAGE_BYTES, type: 'application/octet-stream' }),
    async (request, response) => {
      const [point, side, number] = [pointOf(request), sideOf(request), numberOf(request)]
      const message: unknown = request.body
      if (!Buffer.isBuffer(message)) throw new HandoverRefusal(400, 'A part is bytes.')
      const left = await later(response, point, () => (handover.put(point, side, number, message) ? true : null))
      response.status(left === true ? 204 : 503).end()
    },
  )
  router.get('/:point/parts/:number', async (request, response) => {
    const [point, side, number] = [pointOf(request), sideOf(request), numberOf(request)]
    const message = await later(response, point, () => handover.take(point, side, number))
    if (message === null) response.status(204).end()
    else response.type('application/octet-stream').send(message)
  })
  router.delete('/:point', (request, response) => {
    const side = sideOf(request)
    if (request.query['broken'] === undefined) handover.leave(pointOf(request), side)
    else handover.end(pointOf(request))
    response.status(204).end()
  })
  router.use((_request, response) => void response.status(404).json({ problem: 'No such address.' }))
  router.use((fault: unknown, _request: Request, response: Response, _next: NextFunction) => {
    if (response.headersSent) return
    if (fault instanceof HandoverRefusal) response.status(fault.status).json({ problem: fault.message })
    else if (((fault as { status?: number }).status ?? 500) === 413)
      response.status(413).json({ problem: 'This part is too large.' })
    else response.status(500).json({ problem: 'The server met a fault of its own.' })
  })
  return router
}
