// Unit tests in a few groups, each one module that takes its files in: every file of its own loads the whole core, and
// the pages too, anew, which was a quarter of the time of all of them.
import { mkdirSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { join, relative } from 'node:path'
import { root } from './paths.mjs'

/** How many groups a workspace's tests stand in; two workers take them in turn. */
const GROUPS = { core: 4, app: 4, server: 1 }

const testsBelow = (folder) =>
  readdirSync(folder, { recursive: true })
    .map((name) => join(folder, String(name)))
    .filter((path) => /\.test\.tsx?$/.test(path) && !path.includes('node_modules'))

/** Writes the groups and answers their folder: largest files first, each to the group that is smallest so far. */
export function writeGroups() {
  const folder = join(root, '.stamps', 'unit')
  rmSync(folder, { recursive: true, force: true })
  mkdirSync(folder, { recursive: true })
  for (const [workspace, count] of Object.entries(GROUPS)) {
    const files = ['src', 'test']
      .flatMap((part) => testsBelow(join(root, workspace, part)))
      .map((path) => ({ path, size: statSync(path).size }))
      .sort((a, b) => b.size - a.size || a.path.localeCompare(b.path))
    const groups = Array.from({ length: count }, () => ({ size: 0, paths: [] }))
    for (const { path, size } of files) {
      const least = groups.reduce((a, b) => (b.size < a.size ? b : a))
      least.size += size
      least.paths.push(path)
    }
    groups.forEach(({ paths }, i) =>
      writeFileSync(
        join(folder, `${workspace}-${i + 1}.test.ts`),
        paths.map((path) => `import '${relative(folder, path).split('\\').join('/')}'\n`).join(''),
      ),
    )
  }
  return folder
}
