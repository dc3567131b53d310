// Starts the server: --port, and --lan for a keeper who wants the phone at the tank.
import { spawn } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { homedir } from 'node:os'
import { networkInterfaces } from 'node:os'
import { dirname, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import { createApp, LOOPBACK_HOSTS } from './app.ts'
import { DeviceHub } from './devices/hub.ts'
import { Pairing } from './devices/pairing.ts'
import { deviceRoutes } from './devices/routes.ts'

const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '4174' },
    lan: { type: 'boolean', default: false },
    path: { type: 'string', default: '/' },
    'stand-ins': { type: 'boolean', default: false },
    'code-file': { type: 'string' },
  },
})
const port = Number(values.port)
if (!Number.isInteger(port) || port < 0 || port > 65535) {
  console.error(`"${values.port}" is not a port. Choose a number from 0 to 65535, for example --port 4174.`)
  process.exit(2)
}
const folder = resolve(dirname(fileURLToPath(import.meta.url)), '..', '..', 'app', 'dist')
const lanAddresses = values.lan
  ? Object.values(networkInterfaces())
      .flat()
      .filter((address) => address !== undefined && address.family === 'IPv4' && !address.internal)
      .map((address) => address!.address)
  : []
// On one machine squeezing a megabyte costs more than handing it over.
const hub = new DeviceHub()
/** What pairings are signed with: in the user's own folder, readable by nobody else; made anew where that cannot be. */
function pairingSecret(): Buffer {
  const folder = join(process.env['XDG_STATE_HOME'] ?? join(homedir(), '.local', 'state'), 'brinvo')
  const file = join(folder, 'devices-key')
  try {
    const kept = readFileSync(file)
    if (kept.length === 32) return kept
  } catch {
    // The first time there is none.
  }
  const made = randomBytes(32)
  try {
    mkdirSync(folder, { recursive: true, mode: 0o700 })
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
const app = createApp({
  folder,
  allowedHosts: [...LOOPBACK_HOSTS, ...lanAddresses],
  compressed: values.lan,
  devices: deviceRoutes(hub, pairing),
})
const server = app.listen(port, values.lan ? '0.0.0.0' : '127.0.0.1')
server.on('listening', () => {
  const address = server.address()
  const bound = typeof address === 'object' && address ? address.port : port
  console.log(`Brinvo is at http://127.0.0.1:${bound}${values.path}`)
  if (values['stand-ins']) startStandIns(bound)
  for (const lan of lanAddresses)
    console.log(
      `On this network: http://${lan}:${bound}${values.path}  (anyone on it can open the empty application; your data stay in your browser)`,
    )
})
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
