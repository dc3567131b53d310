// npm run mutants -- [--n N] [--seed S] [--in core|app|both] [--show]: breaks the code in N places, one at a time, in a
// copy of the repository, and prints the share that the unit tests notice. Each survivor is printed with its line.
import { spawnSync } from 'node:child_process'
import { cpSync, existsSync, mkdtempSync, readFileSync, readdirSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, relative } from 'node:path'
import { pathToFileURL } from 'node:url'
import ts from 'typescript'
import { ensureGenerated, ensureInstalled } from './lib/bootstrap.mjs'
import { root } from './lib/paths.mjs'

await ensureInstalled()
await ensureGenerated()
const args = process.argv.slice(2)
const valueOf = (name, otherwise) => {
  const i = args.indexOf(`--${name}`)
  return i < 0 ? otherwise : args[i + 1]
}
const wanted = Number(valueOf('n', '30'))
const seed = Number(valueOf('seed', '1'))
const where = valueOf('in', 'both')

/** A small generator with a seed: the same seed breaks the same places. */
let state = (seed * 2654435761) >>> 0
const next = () => {
  state = (state + 0x6d2b79f5) >>> 0
  let t = Math.imul(state ^ (state >>> 15), state | 1)
  t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296
}

function filesIn(folder) {
  return readdirSync(join(root, folder), { recursive: true })
    .filter((name) => /\.tsx?$/.test(name) && !/generated|\.test\.|\.d\.ts|demo/.test(name))
    .map((name) => join(folder, name))
}
const K = ts.SyntaxKind
const SWAPS = new Map([
  [K.PlusToken, '-'],
  [K.MinusToken, '+'],
  [K.AsteriskToken, '/'],
  [K.SlashToken, '*'],
  [K.LessThanToken, '>='],
  [K.LessThanEqualsToken, '>'],
  [K.GreaterThanToken, '<='],
  [K.GreaterThanEqualsToken, '<'],
  [K.EqualsEqualsEqualsToken, '!=='],
  [K.ExclamationEqualsEqualsToken, '==='],
  [K.AmpersandAmpersandToken, '||'],
  [K.BarBarToken, '&&'],
])
/** What is written for the eye alone is no behaviour: markup, styles, texts. */
const isShown = (node) => {
  for (let one = node; one; one = one.parent)
    if (
      ts.isJsxAttribute(one) ||
      ts.isTaggedTemplateExpression(one) ||
      ts.isTypeNode(one) ||
      ts.isImportDeclaration(one)
    )
      return true
  return false
}
/** Places of a file at which a change means something: an operator, a condition, a number that is no index. */
function placesIn(file) {
  const text = readFileSync(join(root, file), 'utf8')
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true)
  const found = []
  const add = (node, to, what) => found.push({ file, from: node.getStart(source), end: node.getEnd(), to, what })
  const visit = (node) => {
    if (ts.isBinaryExpression(node) && SWAPS.has(node.operatorToken.kind) && !isShown(node)) {
      const isText = [node.left, node.right].some(
        (side) => ts.isStringLiteralLike(side) || ts.isTemplateExpression(side),
      )
      if (!(isText && node.operatorToken.kind === K.PlusToken))
        add(node.operatorToken, SWAPS.get(node.operatorToken.kind), 'operator')
    }
    if (ts.isNumericLiteral(node) && !isShown(node) && !ts.isElementAccessExpression(node.parent)) {
      const number = Number(node.text)
      // Indices, digits of a rounding and powers of ten of a unit are left alone.
      if (number > 1 && !ts.isCallExpression(node.parent) && ![10, 100, 1000].includes(number))
        add(node, String(number * 1.5), 'number')
    }
    if (ts.isIfStatement(node) && !isShown(node)) add(node.expression, 'false', 'condition')
    if (ts.isConditionalExpression(node) && !isShown(node))
      add(node.condition, `!(${node.condition.getText(source)})`, 'choice')
    ts.forEachChild(node, visit)
  }
  visit(source)
  return found
}
const folders = where === 'both' ? ['core/src', 'app/src'] : [`${where}/src`]
const places = folders.flatMap(filesIn).flatMap(placesIn)
const chosen = Array.from(
  { length: Math.min(wanted, places.length) },
  () => places.splice(Math.floor(next() * places.length), 1)[0],
)
if (args.includes('--show')) {
  for (const one of chosen) console.log(`${one.file} ${one.what} → ${one.to}`)
  process.exit(0)
}

const copy = mkdtempSync(join(tmpdir(), 'brinvo-mutants-'))
for (const name of [
  'package.json',
  'tsconfig.base.json',
  'tsconfig.json',
  'jest.config.mjs',
  'scripts',
  'core',
  'app',
  'server',
])
  cpSync(join(root, name), join(copy, name), {
    recursive: true,
    filter: (path) => !/\/(node_modules|dist|test-results)(\/|$)/.test(path.slice(root.length)),
  })
symlinkSync(join(root, 'node_modules'), join(copy, 'node_modules'))
for (const name of ['core', 'app', 'server'])
  if (existsSync(join(root, name, 'node_modules')))
    symlinkSync(join(root, name, 'node_modules'), join(copy, name, 'node_modules'))

/** A mutant that loops is noticed by its silence. */
const MOST_MS = 600_000
/** All tests stand in a few groups, as in CI: each file of its own would load the whole core anew. */
const { writeGroups } = await import(pathToFileURL(join(copy, 'scripts/lib/groups.mjs')).href)
writeGroups()

/** Whether the tests of a project fail: all of them, in groups, or those whose path carries a pattern. */
function noticed(project, pattern = null) {
  const run = spawnSync(
    process.execPath,
    [
      '--experimental-vm-modules',
      '--no-warnings',
      'node_modules/jest/bin/jest.js',
      '--selectProjects',
      project,
      '--bail',
      '--silent',
      '--maxWorkers=2',
      '--passWithNoTests',
      ...(pattern === null ? [] : ['--testPathPatterns', pattern]),
    ],
    {
      cwd: copy,
      stdio: 'ignore',
      timeout: MOST_MS,
      env: { ...process.env, BRINVO_GROUPED: pattern === null ? '1' : '' },
    },
  )
  if (run.error?.code === 'ETIMEDOUT' || run.signal) return 'by silence'
  return run.status === 0 ? false : 'killed'
}

/** The pages are asked about a mutant of the core too, where the core's own tests let it pass. */
const projectsOf = (file) => (file.startsWith('core') ? ['core', 'app'] : ['app'])
const firstOf = (list, ask) => {
  for (const one of list) {
    const answer = ask(one)
    if (answer) return answer
  }
  return false
}

/** The tests that carry the name of the folder or the file are asked first: they know it soonest. */
function nearest(file) {
  const words = file
    .replace(/\.tsx?$/, '')
    .split(/[/.]/)
    .slice(2)
    .filter((word) => !['features', 'src', 'index', 'rules'].includes(word))
  const stems = words.map((word) => word.replace(/s$/, ''))
  return `/test/.*(${stems.join('|')})`
}

/** Whether the copy passes as it stands: tests that fail anyway kill every mutant and prove nothing. */
function sound(when) {
  if (['core', 'app'].every((project) => noticed(project) === false)) return
  console.error(`The unbroken copy fails its own tests ${when}: no share is told.`)
  rmSync(copy, { recursive: true, force: true })
  process.exit(2)
}

sound('before the first mutant')
let killed = 0
let silent = 0
const survivors = []
for (const [i, { file, from, end, to, what }] of chosen.entries()) {
  const path = join(copy, file)
  const text = readFileSync(path, 'utf8')
  writeFileSync(path, text.slice(0, from) + to + text.slice(end))
  const caught = noticed(projectsOf(file)[0], nearest(file)) || firstOf(projectsOf(file), (project) => noticed(project))
  writeFileSync(path, text)
  const line = text.slice(0, from).split('\n').length
  if (caught) killed++
  if (caught === 'by silence') silent++
  if (!caught)
    survivors.push(`${relative('.', file)}:${line} ${what}: ${text.slice(from, end).slice(0, 60)} → ${to.slice(0, 60)}`)
  console.log(`${i + 1}/${chosen.length} ${caught || 'SURVIVED'} ${file}:${line} ${what}`)
}
sound('after the last mutant')
rmSync(copy, { recursive: true, force: true })
for (const one of survivors) console.log(`survivor ${one}`)
const share = killed / chosen.length
const half = 1.96 * Math.sqrt((share * (1 - share)) / chosen.length)
console.log(
  `${killed} of ${chosen.length} mutants killed: ${(100 * share).toFixed(0)} % (95 %: ${(100 * Math.max(0, share - half)).toFixed(0)} to ${(100 * Math.min(1, share + half)).toFixed(0)}), ${silent} by running past ${MOST_MS / 1000} s, seed ${seed}`,
)
