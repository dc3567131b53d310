import { resolve } from 'node:path'
import { runFolder, type TopicResult } from './runVectors.ts'

const folder = process.argv[2]
if (!folder) {
  console.error('Usage: npm run vectors -- DIR')
  process.exit(2)
}
let results: TopicResult[]
try {
  results = runFolder(resolve(process.env.INIT_CWD ?? process.cwd(), folder))
} catch (cause) {
  console.error((cause as Error).message)
  process.exit(2)
}
for (const { topic, passed, failures } of results) {
  console.log(`${topic}: ${passed} passed, ${failures.length} failed`)
  for (const failure of failures.slice(0, 10)) console.log(`  ${failure}`)
}
process.exit(results.some(({ failures }) => failures.length > 0) ? 1 : 0)
