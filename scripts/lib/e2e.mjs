// Runs Playwright against the served build; the caller has built it.
import { spawnSync } from 'node:child_process'
import { root } from './paths.mjs'
import { ensureChromium } from './bootstrap.mjs'

export function runE2e(args = []) {
  ensureChromium()
  const result = spawnSync(
    process.execPath,
    ['node_modules/@playwright/test/cli.js', 'test', '--config', 'e2e/playwright.config.ts', ...args],
    { cwd: root, stdio: 'inherit', env: { ...process.env, PLAYWRIGHT_SKIP_BROWSER_DOWNLOAD: '1' } },
  )
  return result.status ?? 1
}
