// The server's only work: hand out the built application on loopback, under strict headers. It holds no keeper data.
import { existsSync, readFileSync } from 'node:fs'
import { randomBytes } from 'node:crypto'
import { join } from 'node:path'
import compression from 'compression'
import express, { type Router, type Express, type NextFunction, type Request, type Response } from 'express'
import helmet from 'helmet'

export interface ServerOptions {
  /** Folder of the built application. */
  readonly folder: string
  /** Host names (without port) that a request may ask for. Loopback names by default. */
  readonly allowedHosts?: readonly string[] | (() => readonly string[])
  /** Whether what is sent is squeezed, for a phone on the network. True by default. */
  readonly compressed?: boolean
  /** The local interface for devices; left out: there is none. */
  readonly devices?: Router
  /** Hand-over between two devices; left out: there is none. */
  readonly handover?: Router
  /** Addresses under which a phone of this network reaches the application, for the page that hands over. */
  readonly addresses?: () => readonly string[]
}

export const LOOPBACK_HOSTS: readonly string[] = ['localhost', '127.0.0.1', '[::1]']
/** Replaced per request; Vite writes it into the page at build time. */
export const NONCE_PLACEHOLDER = '__CSP_NONCE__'

/** The Host header without its port. */
export const hostName = (host: string | undefined): string => (host ?? '').toLowerCase().replace(/:\d+$/, '')

/** Express application: health, hashed assets for a year, the page for every other path. */
export function createApp({
  folder,
  allowedHosts = LOOPBACK_HOSTS,
  compressed = true,
  devices,
  handover,
  addresses = () => [],
}: ServerOptions): Express {
  const app = express()
  app.disable('x-powered-by')
  app.use((request: Request, response: Response, next: NextFunction) => {
    // A page elsewhere could resolve its own name to 127.0.0.1; only names we were started under are answered.
    const allowed = typeof allowedHosts === 'function' ? allowedHosts() : allowedHosts
    if (allowed.includes(hostName(request.headers.host))) return next()
    response.status(421).type('text/plain').send('This server answers only under the address it printed.\n')
  })
  app.use((_request: Request, response: Response, next: NextFunction) => {
    response.locals.nonce = randomBytes(18).toString('base64')
    next()
  })
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          workerSrc: ["'self'"],
          connectSrc: ["'self'"],
          fontSrc: ["'self'"],
          imgSrc: ["'self'", 'blob:', 'data:'],
          // A clip from a file or the camera is played where it lies.
          mediaSrc: ["'self'", 'blob:'],
          styleSrc: ["'self'", (_request, response) => `'nonce-${(response as Response).locals.nonce as string}'`],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          frameAncestors: ["'none'"],
          formAction: ["'none'"],
        },
      },
      crossOriginEmbedderPolicy: true,
      strictTransportSecurity: false,
      referrerPolicy: { policy: 'no-referrer' },
    }),
  )
  app.use((_request: Request, response: Response, next: NextFunction) => {
    response.setHeader('Permissions-Policy', 'camera=(self), microphone=(), geolocation=(), payment=(), usb=()')
    next()
  })
  if (compressed) app.use(compression())
  if (devices) app.use('/devices/api', devices)
  if (handover) app.use('/handover/api', handover)
  app.get('/addresses', (_request, response) => {
    response.setHeader('Cache-Control', 'no-store')
    response.json({ addresses: addresses() })
  })
  app.get('/health', (_request, response) => {
    response.json({ ok: true, built: existsSync(join(folder, 'index.html')) })
  })
  app.use(
    '/assets',
    express.static(join(folder, 'assets'), { immutable: true, maxAge: '365d', fallthrough: true, index: false }),
  )
  app.use('/assets', (_request, response) => {
    response.status(404).type('text/plain').send('No such file.\n')
  })
  // Pages go out by their own route, never raw with the placeholder of their nonce.
  app.get(/\.html$/, (request, response) => {
    response.redirect(308, request.path === '/rescue.html' ? '/rescue' : '/')
  })
  app.use(
    express.static(folder, {
      index: false,
      maxAge: 0,
      setHeaders: (response) => response.setHeader('Cache-Control', 'no-cache'),
    }),
  )
  app.get('/{*path}', (request, response) => {
    const page = join(folder, request.path === '/rescue' ? 'rescue.html' : 'index.html')
    if (!existsSync(page)) {
      response.status(503).type('text/plain').send('The application is not built yet. Run: npm run build\n')
      return
    }
    const html = readFileSync(page, 'utf8').replaceAll(NONCE_PLACEHOLDER, response.locals.nonce as string)
    response.setHeader('Cache-Control', 'no-store')
    response.type('text/html').send(html)
  })
  // Four parameters make it the one that hears of faults: a bad address is the asker's, and no stack is shown.
  app.use((fault: { status?: number }, _request: Request, response: Response, _next: NextFunction) => {
    const bad = fault instanceof URIError || (fault.status ?? 500) < 500
    response
      .status(bad ? 400 : 500)
      .type('text/plain')
      .send(bad ? 'This address cannot be read.\n' : 'The server met a fault of its own.\n')
  })
  return app
}
