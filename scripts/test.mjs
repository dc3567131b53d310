// Everything, from a fresh clone: set-up, format and lint, types, boundaries, unit, vectors, end-to-end.
// The last line is "N passed, N failed", summed over all runners.
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { ensureChromium, ensureGenerated, ensureInstalled } from './lib/bootstrap.mjs'
import { root } from './lib/paths.mjs'

const started = Date.now()
await ensureInstalled()
ensureChromium()
await ensureGenerated()
mkdirSync(join(root, '.stamps'), { recursive: true })

let passed = 0
let failed = 0
const seconds = () => `${Math.round((Date.now() - started) / 1000)} s`

/** One check that only passes or fails as a whole; what it printed is shown when it is over. */
function check(name, args) {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, args, { cwd: root })
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
async function buildAndTypes() {
  await check('build', ['scripts/build.mjs'])
  await check('types', [bin('typescript/bin/tsc'), '-b'])
}
async function looks() {
  await check('lint', [bin('eslint/bin/eslint.js'), '.', '--max-warnings', '0'])
  await check('format', [bin('prettier/bin/prettier.cjs'), '--check', '.', '--log-level', 'warn'])
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
}
// Two lanes: one of the two cores would stand idle otherwise.
await Promise.all([buildAndTypes(), looks()])

const unitReport = join(root, '.stamps', 'unit.json')
rmSync(unitReport, { force: true })
const unit = spawnSync(
  process.execPath,
  [
    '--experimental-vm-modules',
    '--no-warnings',
    bin('jest/bin/jest.js'),
    '--json',
    `--outputFile=${unitReport}`,
    '--silent',
    '--maxWorkers=2',
  ],
  { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] },
)
if (existsSync(unitReport)) {
  const report = JSON.parse(readFileSync(unitReport, 'utf8'))
  passed += report.numPassedTests
  // A suite that could not even start counts as one failure.
  failed += report.numFailedTests + report.numRuntimeErrorTestSuites
  console.log(`unit: ${report.numPassedTests} passed, ${report.numFailedTests} failed (${seconds()})`)
} else {
  failed++
  console.log(`FAIL unit: no report, exit ${unit.status}`)
}

const e2eReport = join(root, '.stamps', 'e2e.json')
rmSync(e2eReport, { force: true })
const e2e = spawnSync(
  process.execPath,
  [bin('@playwright/test/cli.js'), 'test', '--config', 'e2e/playwright.config.ts'],
  { cwd: root, stdio: 'inherit' },
)
if (existsSync(e2eReport)) {
  const { stats } = JSON.parse(readFileSync(e2eReport, 'utf8'))
  passed += stats.expected + stats.flaky
  failed += stats.unexpected
  // A run that could not even start must not look like one that passed.
  if (e2e.status !== 0 && stats.unexpected === 0) failed++
  console.log(`end-to-end: ${stats.expected} passed, ${stats.unexpected} failed (${seconds()})`)
} else {
  failed++
  console.log(`FAIL end-to-end: no report, exit ${e2e.status}`)
}
console.log(`All of it took ${seconds()}.`)
console.log(`${passed} passed, ${failed} failed`)
process.exit(failed > 0 ? 1 : 0)
