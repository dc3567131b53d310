import { ensureGenerated, ensureInstalled } from './lib/bootstrap.mjs'

await ensureInstalled()
await ensureGenerated()
const { runTs } = await import('./lib/run-ts.mjs')
process.exit(await runTs('core/lives/practice.ts', process.argv.slice(2)))
