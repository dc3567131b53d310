import { ensureInstalled, ensureGenerated, ensureBuilt } from './lib/bootstrap.mjs'
await ensureInstalled()
await ensureGenerated()
await ensureBuilt()
const { runTs } = await import('./lib/run-ts.mjs')
process.exit(await runTs('core/bench/main.ts', process.argv.slice(2)))
