// Runs one TypeScript entry against the served build of the demonstration.
import { spawn } from 'node:child_process'
import { ensureBuilt, ensureChromium, ensureInstalled } from './bootstrap.mjs'
import { root } from './paths.mjs'

export async function served(entry) {
  await ensureInstalled()
  await ensureChromium()
  await ensureBuilt()
  const server = spawn(process.execPath, ['server/dist/main.js', '--port', '4292'], { cwd: root, stdio: 'ignore' })
  for (let i = 0; i < 50; i++) {
    const up = await fetch('http://127.0.0.1:4292/health').then(
      ({ ok }) => ok,
      () => false,
    )
    if (up) break
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  const { runTs } = await import('./run-ts.mjs')
  const status = await runTs(entry)
  server.kill()
  return status
}
