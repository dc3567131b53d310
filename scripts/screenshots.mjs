import { spawn } from 'node:child_process'
import { ensureBuilt, ensureChromium, ensureInstalled } from './lib/bootstrap.mjs'
import { root } from './lib/paths.mjs'

await ensureInstalled()
await ensureChromium()
await ensureBuilt()
const server = spawn(process.execPath, ['server/dist/main.js', '--port', '4292'], { cwd: root, stdio: 'ignore' })
for (let i = 0; i < 50; i++) {
  if (
    await fetch('http://127.0.0.1:4292/health').then(
      ({ ok }) => ok,
      () => false,
    )
  )
    break
  await new Promise((resolve) => setTimeout(resolve, 100))
}
const { runTs } = await import('./lib/run-ts.mjs')
const status = await runTs('e2e/screenshots.ts')
server.kill()
process.exit(status)
