// Sets up what a command needs, and only when something changed: stamps hold the hash of what was installed or built.
// Node's own modules only: this runs before anything is installed.
import { spawn, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import { root } from './paths.mjs'

const stamps = join(root, '.stamps')
const LEAST_NODE = [20, 19]

const say = (text) => console.log(`· ${text}`)

function filesBelow(folder, found = []) {
  if (!existsSync(folder)) return found
  for (const name of readdirSync(folder).sort()) {
    if (name === 'node_modules' || name === 'dist' || name === 'generated' || name.startsWith('.')) continue
    const path = join(folder, name)
    if (statSync(path).isDirectory()) filesBelow(path, found)
    else found.push(path)
  }
  return found
}
function hashOf(paths) {
  const hash = createHash('sha256').update(process.version)
  for (const path of paths) if (existsSync(path)) hash.update(relative(root, path)).update(readFileSync(path))
  return hash.digest('hex')
}
const stampIs = (name, hash) => existsSync(join(stamps, name)) && readFileSync(join(stamps, name), 'utf8') === hash
function stamp(name, hash) {
  mkdirSync(stamps, { recursive: true })
  writeFileSync(join(stamps, name), hash)
}
/** The exit code of a command that runs beside others; null where it could not begin. */
const status = (command, args, options) =>
  new Promise((resolve) => {
    const child = spawn(command, args, { cwd: root, ...options })
    child.on('error', () => resolve(null))
    child.on('close', resolve)
  })
export function run(command, args, options = {}) {
  const result = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options })
  if (result.error) throw result.error
  if (result.status !== 0) process.exit(result.status ?? 1)
}

/** Installs the packages of the lockfile unless that very lockfile is installed already. */
export async function ensureInstalled() {
  const [major, minor] = process.versions.node.split('.').map(Number)
  if (major < LEAST_NODE[0] || (major === LEAST_NODE[0] && minor < LEAST_NODE[1])) {
    console.error(`Node ${process.versions.node} is too old: Brinvo needs ${LEAST_NODE.join('.')} or newer.`)
    process.exit(1)
  }
  const manifests = [
    'package.json',
    'package-lock.json',
    ...['core', 'app', 'server', 'e2e'].map((name) => `${name}/package.json`),
  ]
  const hash = hashOf(manifests.map((name) => join(root, name)))
  if (stampIs('install', hash) && existsSync(join(root, 'node_modules', 'typescript'))) return
  say('Installing packages (once)')
  const ended = await status('npm', ['ci', '--include=dev', '--no-audit', '--no-fund', '--loglevel=error'], {
    stdio: 'inherit',
  })
  if (ended !== 0) process.exit(ended ?? 1)
  stamp('install', hash)
}

/** Generates validators, types and knowledge when a schema or a knowledge file changed. */
export async function ensureGenerated() {
  const hash = hashOf([
    ...filesBelow(join(root, 'core/schema')),
    ...filesBelow(join(root, 'core/knowledge')),
    join(root, 'scripts/generate.mjs'),
  ])
  if (stampIs('generate', hash) && existsSync(join(root, 'core/src/generated/validators.js'))) return
  say('Generating validators, types and knowledge')
  run(process.execPath, ['scripts/generate.mjs'])
  stamp('generate', hash)
}

/** Builds core, server and application when a source changed. */
export async function ensureBuilt() {
  await ensureGenerated()
  const folders = [
    'core/src',
    'core/schema',
    'core/knowledge',
    'server/src',
    'server/stand-ins',
    'app/src',
    'app/public',
  ]
  const hash = hashOf([
    ...folders.flatMap((folder) => filesBelow(join(root, folder))),
    join(root, 'app/vite.config.ts'),
    join(root, 'app/index.html'),
    join(root, 'package-lock.json'),
    ...['core', 'app', 'server'].map((name) => join(root, name, 'package.json')),
  ])
  if (
    stampIs('build', hash) &&
    existsSync(join(root, 'app/dist/index.html')) &&
    existsSync(join(root, 'server/dist/main.js')) &&
    existsSync(join(root, 'server/dist/standIns.js'))
  )
    return
  say('Building')
  run(process.execPath, ['node_modules/typescript-native/bin/tsc', '-b', 'server'])
  await bundleStandIns()
  run(process.execPath, [
    'node_modules/vite/bin/vite.js',
    'build',
    'app',
    '--config',
    'app/vite.config.ts',
    '--logLevel',
    'warn',
  ])
  stamp('build', hash)
}

/** The stand-in devices in one file beside the server: they bring the simulated water along, the server does not. */
async function bundleStandIns() {
  const { rolldown } = await import('rolldown')
  const bundle = await rolldown({
    input: join(root, 'server/stand-ins/standIns.ts'),
    cwd: root,
    platform: 'node',
    tsconfig: false,
    logLevel: 'silent',
  })
  await bundle.write({ file: join(root, 'server/dist/standIns.js'), format: 'esm' })
}

/** Debian's Chromium without a window, and with one: either serves (e2e/chromium.ts takes the first that is there). */
const CHROMIUMS = { 'chromium-headless-shell': '/usr/bin/chromium-headless-shell', chromium: '/usr/bin/chromium' }
/** Debian's Chromium through apt, where it is missing. The one without a window draws with half the work. */
export async function ensureChromium() {
  if (existsSync(CHROMIUMS['chromium-headless-shell'])) return
  const isRoot = process.getuid?.() === 0
  const hasApt = existsSync('/usr/bin/apt-get')
  if (!isRoot || !hasApt) {
    if (existsSync(CHROMIUMS.chromium)) return
    console.error(
      `The end-to-end tests need Chromium at ${CHROMIUMS.chromium}. ${hasApt ? 'Run once as root: apt-get install chromium' : 'This machine has no apt-get: install Chromium there by hand.'}`,
    )
    process.exit(1)
  }
  say('Installing Chromium from Debian (once)')
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' }
  const apt = async (...args) => (await status('apt-get', args, { stdio: ['ignore', 'ignore', 'inherit'], env })) === 0
  await apt('update', '-qq')
  // An older Debian has it only with its window.
  for (const name of Object.keys(CHROMIUMS)) {
    if (existsSync(CHROMIUMS[name]) || (await apt('install', '-y', '-qq', '--no-install-recommends', name))) return
  }
  console.error('Chromium could not be installed. Run once as root: apt-get install chromium')
  process.exit(1)
}
