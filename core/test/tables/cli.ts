import { resolve } from 'node:path'
import { runTables, type CaseResult } from './runTables.ts'

const folder = process.argv[2]
if (!folder) {
  console.error('Usage: npm run tables -- DIR')
  process.exit(2)
}
let results: CaseResult[]
try {
  results = runTables(resolve(process.env.INIT_CWD ?? process.cwd(), folder))
} catch (cause) {
  console.error((cause as Error).message)
  process.exit(2)
}
for (const { name, faults } of results)
  console.log(faults.length === 0 ? `${name}: pass` : `${name}: fail ${faults.slice(0, 6).join('; ')}`)
const passed = results.filter(({ faults }) => faults.length === 0).length
console.log(`${passed} passed, ${results.length - passed} failed`)
process.exit(passed === results.length ? 0 : 1)
