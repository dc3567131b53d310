// Names that core's front door lets through and nobody outside of core uses: `node scripts/lib/barrel.mjs [--mend]`.
import { readFileSync, readdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { root } from './paths.mjs'

const FOLDERS = ['app/src', 'app/test', 'core/test', 'core/lives', 'core/bench', 'e2e', 'server/src', 'scripts']
const DOOR = join(root, 'core/src/index.ts')
const outside = FOLDERS.flatMap((folder) =>
  readdirSync(join(root, folder), { recursive: true })
    .filter((name) => /\.(tsx?|mjs)$/.test(name) && !/node_modules|dist\//.test(name))
    .map((name) => readFileSync(join(root, folder, name), 'utf8')),
)
const words = new Set(outside.flatMap((text) => text.match(/[A-Za-z_$][\w$]*/g) ?? []))

/** Names of the front door that are used by nobody outside, and the door without them. */
export function unusedNames() {
  const text = readFileSync(DOOR, 'utf8')
  const unused = []
  const kept = text.replace(/export (type )?\{([^}]*)\} from ('[^']+')\n/g, (_all, type, inner, from) => {
    const names = inner
      .split(',')
      .map((name) => name.trim())
      .filter((name) => name !== '')
    const used = names.filter((name) => {
      const known = name
        .replace(/^type /, '')
        .split(' as ')
        .at(-1)
        .trim()
      if (words.has(known)) return true
      unused.push(known)
      return false
    })
    return used.length === 0 ? '' : `export ${type ?? ''}{ ${used.join(', ')} } from ${from}\n`
  })
  return { unused, kept }
}
if (process.argv[1]?.endsWith('barrel.mjs')) {
  const { unused, kept } = unusedNames()
  if (process.argv.includes('--mend')) writeFileSync(DOOR, kept)
  console.log(
    unused.length === 0 ? 'Every name of the front door is used.' : `Used by nobody outside: ${unused.join(', ')}`,
  )
  process.exit(unused.length > 0 && !process.argv.includes('--mend') ? 1 : 0)
}
