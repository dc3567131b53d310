// Every page: how far it jumps and how long it blocks, then axe in both themes at both widths.
import { spawnSync } from 'node:child_process'
import { root } from './lib/paths.mjs'
import { served } from './lib/served.mjs'

const still = await served('e2e/pages.ts')
const axe = spawnSync(
  process.execPath,
  ['node_modules/@playwright/test/cli.js', 'test', '--config', 'e2e/playwright.config.ts', 'places'],
  { cwd: root, stdio: 'inherit', env: { ...process.env, BRINVO_PAGES: 'whole' } },
)
process.exit(still !== 0 ? still : (axe.status ?? 1))
