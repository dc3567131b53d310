// Bundles one TypeScript entry and runs it: tools share the sources, and Node 20 needs no loader.
import { spawnSync } from 'node:child_process'
import { mkdirSync } from 'node:fs'
import { basename, join } from 'node:path'
import { root } from './paths.mjs'

export async function runTs(entry, args = [], nodeArgs = []) {
  const { build } = await import('rolldown')
  const folder = join(root, '.stamps', 'run')
  mkdirSync(folder, { recursive: true })
  const file = join(folder, `${basename(entry).replace(/\.ts$/, '')}-${process.pid}.mjs`)
  await build({
    input: join(root, entry),
    platform: 'node',
    external: [/^node:/, 'odex', '@playwright/test', 'axe-core'],
    logLevel: 'warn',
    output: { file, format: 'esm' },
  })
  const result = spawnSync(process.execPath, [...nodeArgs, file, ...args], { stdio: 'inherit', cwd: root })
  return result.status ?? 1
}
