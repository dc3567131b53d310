// Starts the server: --port, and --lan for a keeper who wants the phone at the tank.
import { spawn } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { createServer as createSecureServer } from 'node:https'
import { homedir, hostname, networkInterfaces } from 'node:os'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import { toString as squares } from 'qrcode'
import { createApp, LOOPBACK_HOSTS } from './app.ts'
import { houseOf, isPrivate } from './authority.ts'
import { DeviceHub } from './devices/hub.ts'
import { Pairing } from './devices/pairing.ts'
import { deviceRoutes } from './devices/routes.ts'
import { Handover, handoverRoutes } from './handover.ts'
import { phonePage } from './phonePage.ts'

const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '4174' },
    lan: { type: 'boolean', default: false },
    path: { type: 'string', default: '/' },
    'stand-ins': { type: 'boolean', default: false },
    'code-file': { type: 'string' },
    // Another build than the one beside the server.
    folder: { type: 'string' },
  },
})
const port = Number(values.port)
if (!Number.isInteger(port) || port < 0 || port > 65535) {
  console.error(`"${values.port}" is not a port. Choose a number from 0 to 65535, for example --port 4174.`)
  process.exit(2)
}
const folder = values.folder ?? resolve(dirname(fileURLToPath(import.meta.url)), '..', '..', 'app', 'dist')
/** What is kept between two starts: in the user's own folder, readable by nobody else. */
const state = join(process.env['XDG_STATE_HOME'] ?? join(homedir(), '.local', 'state'), 'brinvo')
/** Private addresses of this machine. */
const privateAddresses = () =>
  Object.values(networkInterfaces())
    .flat()
    .filter((address) => address !== undefined && !address.internal && isPrivate(address.address))
    .map((address) => address!.address)
const ownName = `${hostname().split('.')[0]!.toLowerCase()}.local`
// On one machine squeezing a megabyte costs more than handing it over.
const hub = new DeviceHub()
/** What pairings are signed with: in the user's own folder, readable by nobody else; made anew where that cannot be. */
function pairingSecret(): Buffer {
  const file = join(state, 'devices-key')
  try {
    const kept = readFileSync(file)
    if (kept.length === 32) return kept
  } catch {
    // The first time there is none.
  }
  const made = randomBytes(32)
  try {
    mkdirSync(state, { recursive: true, mode: 0o700 })
    writeFileSync(file, made, { mode: 0o600 })
  } catch {
    console.log('Pairings of devices last until the server ends: its key could not be kept.')
  }
  return made
}
const showCode = (code: string) => {
  console.log(`Code for devices, for ten minutes: ${code}`)
  // Where nobody sees the terminal: a file that only its owner can read.
  if (values['code-file'] !== undefined) writeFileSync(values['code-file'], `${code}\n`, { mode: 0o600 })
}
const pairing = new Pairing(showCode, Date.now, pairingSecret())
setInterval(() => hub.tick(), 2000).unref()
const handover = new Handover()
setInterval(() => handover.tick(), 30_000).unref()
/** Where a phone of this network finds the application, once it listens there. */
let lanOrigins: readonly string[] = []
// Both doors lead into one house: what one device leaves for another waits in the same place.
const options = {
  folder,
  devices: deviceRoutes(hub, pairing),
  handover: handoverRoutes(handover),
  addresses: () => lanOrigins,
}
const server = createApp({ ...options, allowedHosts: LOOPBACK_HOSTS, compressed: false }).listen(port, '127.0.0.1')
server.on('listening', () => {
  const address = server.address()
  const bound = typeof address === 'object' && address ? address.port : port
  console.log(`Brinvo is at http://127.0.0.1:${bound}${values.path}`)
  if (values['stand-ins']) startStandIns(bound)
  if (values.lan)
    openToNetwork(bound).catch((fault: unknown) => {
      console.error(`This network cannot be served: ${(fault as Error).message}. On this machine everything works.`)
    })
})
/** The application over TLS one port up, and beside it the page that tells a phone how to trust this house. */
async function openToNetwork(base: number): Promise<void> {
  const names = () => [...privateAddresses(), ownName, '127.0.0.1']
  if (privateAddresses().length === 0)
    console.log('This machine has no address of a private network: no phone can reach it. Is it connected?')
  let house = await houseOf(state, names(), Date.now())
  const allowed = () => [...names(), ...LOOPBACK_HOSTS]
  const secure = createSecureServer(
    { cert: house.cert, key: house.key },
    createApp({ ...options, allowedHosts: allowed, compressed: true }),
  )
  await new Promise<void>((resolve, reject) => secure.once('error', reject).listen(base + 1, '0.0.0.0', resolve))
  const origins = () => [...privateAddresses(), ownName].map((name) => `https://${name}:${base + 1}`)
  const door = phonePage({ house: () => house, origins, allowedHosts: allowed })
  await new Promise<void>((resolve, reject) => door.listen(base + 2, '0.0.0.0', resolve).once('error', reject))
  lanOrigins = origins()
  const first = `http://${privateAddresses()[0] ?? ownName}:${base + 2}`
  console.log(
    [
      `For a phone on this network, first: ${first}`,
      ...(process.stdout.isTTY ? [await squares(first, { type: 'terminal', small: true })] : []),
      `It trusts this house once it has taken in the authority with these letters: ${house.fingerprint.slice(0, 47)}`,
      ...lanOrigins.map((origin) => `Then: ${origin}${values.path}`),
      'Anyone on this network can open the empty application; your data stay in each browser.',
    ].join('\n'),
  )
  // A router that gives another address, or a certificate near its end: looked at every hour.
  setInterval(() => {
    void houseOf(state, names(), Date.now()).then((next) => {
      if (next.cert !== house.cert) secure.setSecureContext({ cert: next.cert, key: next.key })
      house = next
      lanOrigins = origins()
    })
  }, 3_600_000).unref()
}
/** Devices that are none, beside the server and through its interface like any other. */
function startStandIns(port: number) {
  const script = resolve(dirname(fileURLToPath(import.meta.url)), 'standIns.js')
  const child = spawn(process.execPath, [script], {
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, BRINVO_PORT: String(port), BRINVO_CODE: pairing.renew() },
  })
  process.on('exit', () => child.kill())
}
server.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EADDRINUSE') {
    console.error(
      `Port ${port} is already taken. Perhaps Brinvo is running in another window: open http://127.0.0.1:${port}. Otherwise choose another port: npm run demo -- --port ${port + 1}`,
    )
    process.exit(3)
  }
  console.error(`The server could not start: ${error.message}`)
  process.exit(1)
})
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const)
  process.on(signal, () => {
    server.close(() => process.exit(0))
    // Streams of devices and pages would hold it open for ever.
    server.closeAllConnections()
  })
// When the npm that started us goes away, so do we.
const parent = process.ppid
setInterval(() => {
  if (process.ppid !== parent) process.exit(0)
}, 1000).unref()
