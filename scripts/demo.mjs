// From a fresh clone: install, build, serve on loopback, print the address of the demonstration.
import { spawn } from 'node:child_process'
import { ensureBuilt, ensureInstalled } from './lib/bootstrap.mjs'
import { root } from './lib/paths.mjs'

await ensureInstalled()
await ensureBuilt()
const child = spawn(process.execPath, ['server/dist/main.js', '--path', '/demo', ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
})
child.on('exit', (code) => process.exit(code ?? 0))
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => child.kill(signal))
