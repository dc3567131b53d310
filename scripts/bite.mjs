// Proof that the tests bite: breaks five formulas one at a time and names the tests that notice.
// Run by hand (node scripts/bite.mjs); it changes files and puts them back.
import { spawnSync } from 'node:child_process'
import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { root } from './lib/paths.mjs'

const BITES = [
  [
    'core/src/dosing/dose.ts',
    '(target - current) * volumeL',
    '(target + current) * volumeL',
    'sign in the mass of a dose',
  ],
  [
    'core/src/water/netVolume.ts',
    'column - substrate + outside',
    'column + substrate + outside',
    'sign of the substrate',
  ],
  [
    'core/src/level/posterior.ts',
    'P[0] = P[0]! * scale * scale + noise',
    'P[0] = P[0]! * scale * scale + noise * 40',
    'dose error in the filter',
  ],
  [
    'core/src/clock/therapeutic.ts',
    'const BELOW_CERTAIN = 0.5',
    'const BELOW_CERTAIN = 0.05',
    'threshold of the strict reset',
  ],
  ['core/src/water/seawater.ts', '4.8314e-4', '4.8314e-3', 'a constant of EOS-80'],
]
let missed = 0
for (const [file, from, to, what] of BITES) {
  const path = join(root, file)
  const text = readFileSync(path, 'utf8')
  if (!text.includes(from)) throw new Error(`${file} no longer holds "${from}"`)
  const report = join(root, '.stamps', 'bite.json')
  rmSync(report, { force: true })
  try {
    writeFileSync(path, text.replace(from, to))
    spawnSync(
      process.execPath,
      [
        '--experimental-vm-modules',
        '--no-warnings',
        'node_modules/jest/bin/jest.js',
        '--selectProjects',
        'core',
        '--json',
        `--outputFile=${report}`,
        '--silent',
        '--testPathIgnorePatterns',
        'plan.test',
      ],
      { cwd: root, stdio: 'ignore' },
    )
  } finally {
    writeFileSync(path, text)
  }
  const result = JSON.parse(readFileSync(report, 'utf8'))
  const failing = result.testResults.flatMap(({ assertionResults }) =>
    assertionResults.filter(({ status }) => status === 'failed').map(({ fullName }) => fullName),
  )
  console.log(`${what} (${file}): ${failing.length} tests fail`)
  for (const name of failing.slice(0, 6)) console.log(`  - ${name}`)
  if (failing.length === 0) missed++
}
process.exit(missed)
