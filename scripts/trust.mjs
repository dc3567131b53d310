import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { ensureGenerated, ensureInstalled } from './lib/bootstrap.mjs'
import { root } from './lib/paths.mjs'

await ensureInstalled()
await ensureGenerated()
const { runTs } = await import('./lib/run-ts.mjs')
const status = await runTs('core/lives/trust.ts', process.argv.slice(2))
if (process.argv.includes('--write'))
  spawnSync(
    process.execPath,
    [
      join(root, 'node_modules/prettier/bin/prettier.cjs'),
      '--write',
      'app/src/features/trust/figures.ts',
      '--log-level',
      'warn',
    ],
    { cwd: root, stdio: 'inherit' },
  )
process.exit(status)
