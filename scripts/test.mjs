// Everything, from a fresh clone: set-up, format and lint, types, boundaries, unit, vectors, end-to-end.
// The last line is "N passed, N failed", summed over all runners.
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { ensureChromium, ensureGenerated, ensureInstalled } from './lib/bootstrap.mjs'
import { writeGroups } from './lib/groups.mjs'
import { root } from './lib/paths.mjs'

const started = Date.now()
// The browser is fetched while the packages are, and while what needs none is looked at.
const browser = ensureChromium()
await ensureInstalled()
await ensureGenerated()
mkdirSync(join(root, '.stamps'), { recursive: true })

let passed = 0
let failed = 0
const seconds = () => `${Math.round((Date.now() - started) / 1000)} s`

/** One check that only passes or fails as a whole; what it printed is shown when it is over. */
function check(name, args, env = {}) {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, args, { cwd: root, env: { ...process.env, ...env } })
    let printed = ''
    const keep = (piece) => (printed += piece)
    child.stdout.on('data', keep)
    child.stderr.on('data', keep)
    child.on('close', (status) => {
      if (status === 0) passed++
      else failed++
      if (status !== 0 && printed.trim() !== '') console.log(printed.trimEnd())
      console.log(`${status === 0 ? 'ok  ' : 'FAIL'} ${name} (${seconds()})`)
      resolve(status === 0)
    })
  })
}
const bin = (path) => join('node_modules', path)
/** Commits whose files are held against the format here; `npm run lint` holds all of them. */
const LATELY = 8
/** What was touched lately; everything, where there is no history to tell. */
function lately() {
  const { status, stdout } = spawnSync('git', ['diff', '--name-only', '--diff-filter=d', `HEAD~${LATELY}`], {
    cwd: root,
    encoding: 'utf8',
  })
  const names = status === 0 ? stdout.split('\n').filter((name) => name !== '') : []
  return names.length > 0 ? names : ['.']
}
async function looks() {
  await check('lint', [bin('eslint/bin/eslint.js'), '.', '--max-warnings', '0'], { BRINVO_QUICK_LINT: '1' })
  await check('format', [
    bin('prettier/bin/prettier.cjs'),
    '--check',
    ...lately(),
    '--ignore-unknown',
    '--log-level',
    'warn',
  ])
  await check('boundaries', [
    bin('dependency-cruiser/bin/dependency-cruise.mjs'),
    '--config',
    '.dependency-cruiser.cjs',
    'core/src',
    'app/src',
    'server/src',
    'e2e',
  ])
  await check('vectors', ['scripts/vectors.mjs', 'core/test/vectors'])
  await check('front door', ['scripts/lib/barrel.mjs'])
}
/** Runs a command with its output shown only where it speaks of failures. */
function run(args, stdio, env = {}) {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, args, { cwd: root, stdio, env: { ...process.env, ...env } })
    child.on('close', (status) => resolve(status))
  })
}
async function unit() {
  const report = join(root, '.stamps', 'unit.json')
  rmSync(report, { force: true })
  writeGroups()
  const status = await run(
    [
      '--experimental-vm-modules',
      '--no-warnings',
      bin('jest/bin/jest.js'),
      '--json',
      `--outputFile=${report}`,
      '--silent',
      '--maxWorkers=2',
    ],
    ['ignore', 'ignore', 'inherit'],
    { BRINVO_GROUPED: '1' },
  )
  if (!existsSync(report)) {
    failed++
    console.log(`FAIL unit: no report, exit ${status}`)
    return
  }
  const { numPassedTests, numFailedTests, numRuntimeErrorTestSuites } = JSON.parse(readFileSync(report, 'utf8'))
  passed += numPassedTests
  // A suite that could not even start counts as one failure.
  failed += numFailedTests + numRuntimeErrorTestSuites
  console.log(`unit: ${numPassedTests} passed, ${numFailedTests} failed (${seconds()})`)
}
/** Every test below a suite, with what each try of it came to. */
const specsOf = ({ suites = [], specs = [] }) => [
  ...suites.flatMap(specsOf),
  ...specs.flatMap(({ title, tests }) => tests.map(({ results }) => ({ title, results }))),
]
// eslint-disable-next-line no-control-regex -- the colours of a terminal
const plain = (words) => words.replace(/\u001b\[\d+m/g, '').slice(0, 1500)
async function endToEnd() {
  const report = join(root, '.stamps', 'e2e.json')
  rmSync(report, { force: true })
  const status = await run([bin('@playwright/test/cli.js'), 'test', '--config', 'e2e/playwright.config.ts'], 'inherit')
  if (!existsSync(report)) {
    failed++
    console.log(`FAIL end-to-end: no report, exit ${status}`)
    return
  }
  const { stats, suites } = JSON.parse(readFileSync(report, 'utf8'))
  passed += stats.expected + stats.flaky
  // Said again where the end of the output is: of a long one often nothing else is kept.
  for (const { title, results } of suites.flatMap(specsOf))
    for (const { status: ended, error } of results)
      if (ended !== 'passed' && ended !== 'skipped') console.log(`${ended}: ${title}\n${plain(error?.message ?? '')}`)
  failed += stats.unexpected
  // A run that could not even start must not look like one that passed.
  if (status !== 0 && stats.unexpected === 0) failed++
  console.log(`end-to-end: ${stats.expected} passed, ${stats.unexpected} failed (${seconds()})`)
}

// The pages are driven as soon as they are built, beside everything else: a browser waits more than it works.
async function pages() {
  // The build takes what the types have made of core and server.
  await check('types', [bin('typescript-native/bin/tsc'), '-b'])
  await check('build', ['scripts/build.mjs'])
  await browser
  await endToEnd()
  // Small samples of the campaigns: whole they are commands of their own.
  await check('merge, 150 histories', ['scripts/merge.mjs', '--n', '150', '--seed', '3'])
  await check('crash, 3 kills', ['scripts/crash.mjs', '--kills', '3', '--seed', '5', '--port', '4296'])
}
async function theRest() {
  await looks()
  await unit()
}
await Promise.all([pages(), theRest()])
console.log(`All of it took ${seconds()}.`)
console.log(`${passed} passed, ${failed} failed`)
process.exit(failed > 0 ? 1 : 0)
