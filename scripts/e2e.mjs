// Every end-to-end test, those too that `npm test` leaves to the unit tests. More arguments go to the runner.
import { spawnSync } from 'node:child_process'
import { ensureBuilt, ensureChromium, ensureInstalled } from './lib/bootstrap.mjs'
import { root } from './lib/paths.mjs'

await ensureInstalled()
await ensureChromium()
await ensureBuilt()
const { status } = spawnSync(
  process.execPath,
  ['node_modules/@playwright/test/cli.js', 'test', '--config', 'e2e/playwright.config.ts', ...process.argv.slice(2)],
  { cwd: root, stdio: 'inherit', env: { ...process.env, BRINVO_WHOLE: '1', BRINVO_PAGES: 'whole' } },
)
process.exit(status ?? 1)
