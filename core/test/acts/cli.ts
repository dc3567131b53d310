// Runs every act file of a directory: a line per file with its failures; fails on a failure, an unknown id, an empty folder.
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { runCase, type ActCase } from './runActs.ts'

const folder = process.argv.slice(2).find((arg) => !arg.startsWith('--')) ?? join(process.cwd(), 'core/test/acts')
const names = readdirSync(folder)
  .filter((name) => name.endsWith('.json'))
  .sort()
let cases = 0
let failed = 0
for (const name of names) {
  const file = JSON.parse(readFileSync(join(folder, name), 'utf8')) as { cases: ActCase[] }
  const outcomes = file.cases.map((one) => ({ one, outcome: runCase(one) }))
  const bad = outcomes.filter(({ outcome }) => !outcome.passed)
  cases += outcomes.length
  failed += bad.length
  console.log(`${name}: ${outcomes.length - bad.length} passed, ${bad.length} failed`)
  for (const { one, outcome } of bad) console.log(`  ${one.id} ${one.title}: ${outcome.words}`)
}
if (cases === 0) {
  console.error(`No act cases in ${folder}.`)
  process.exit(1)
}
process.exit(failed > 0 ? 1 : 0)
