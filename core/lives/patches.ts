// npm run patches -- DIR: two pictures of each case are measured from the picture and what was touched alone, and held
// against their truth.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { decode } from 'fast-png'
import { coverOf, type CoverQuestion } from '../src/imaging/cover.ts'
import type { Picture } from '../src/imaging/frame.ts'
import { mapped, type Similarity } from '../src/imaging/register.ts'

interface Truth {
  readonly a: Readonly<Record<string, number>>
  readonly b: Readonly<Record<string, number>>
  readonly transform: Similarity
}
const dir = process.argv[2]
if (dir === undefined || !existsSync(dir)) {
  console.error('npm run patches -- DIR: a folder of cases is needed.')
  process.exit(2)
}
function readPicture(path: string): Picture {
  const { data, width, height, channels, depth } = decode(readFileSync(path))
  if (depth !== 8 || (channels !== 3 && channels !== 4)) throw new Error(`${path}: not a colour picture of eight bits`)
  return { width, height, channels, data: data as Uint8Array }
}
const cases = readdirSync(dir)
  .filter((name) => existsSync(join(dir, name, 'meta.json')) && existsSync(join(dir, name, 'truth.json')))
  .sort()
if (cases.length === 0) {
  console.error(`${dir}: no case with meta.json and truth.json.`)
  process.exit(1)
}
/** Cover right within so many points, corners within so many pixels. */
const COVER = 3
const CORNER = 3
const covers: number[] = []
const changes: number[] = []
let placed = 0
let passed = 0
for (const name of cases) {
  const started = performance.now()
  const folder = join(dir, name)
  const question = JSON.parse(readFileSync(join(folder, 'meta.json'), 'utf8')) as CoverQuestion
  const truth = JSON.parse(readFileSync(join(folder, 'truth.json'), 'utf8')) as Truth
  const [a, b] = [readPicture(join(folder, 'a.png')), readPicture(join(folder, 'b.png'))]
  const answer = coverOf(a, b, question)
  const ids = question.classes.map(({ id }) => id)
  const off: number[] = []
  const moved: number[] = []
  const words = ids.map((id) => {
    const [pa, pb] = [100 * (answer.a.shares[id] ?? 0), 100 * (answer.b?.shares[id] ?? 0)]
    const [ta, tb] = [100 * (truth.a[id] ?? 0), 100 * (truth.b[id] ?? 0)]
    off.push(Math.abs(pa - ta), Math.abs(pb - tb))
    moved.push(Math.abs(pb - pa - (tb - ta)))
    return `${id} ${pa.toFixed(1)} (${ta.toFixed(1)}) then ${pb.toFixed(1)} (${tb.toFixed(1)})`
  })
  covers.push(...off)
  changes.push(...moved)
  const corners = (
    [
      [0, 0],
      [a.width, 0],
      [0, a.height],
      [a.width, a.height],
    ] as const
  ).map(([x, y]) => {
    const [u, v] = mapped(answer.registration.transform, x, y, a.width, a.height)
    const [tu, tv] = mapped(truth.transform, x, y, a.width, a.height)
    return Math.hypot(u - tu, v - tv)
  })
  const corner = Math.max(...corners)
  if (corner <= CORNER) placed++
  const good = corner <= CORNER && Math.max(...off) <= 2 * COVER
  if (good) passed++
  const { transform, agree, tried } = answer.registration
  console.log(
    `${name}: ${words.join('; ')}; place dx ${transform.dx.toFixed(1)} dy ${transform.dy.toFixed(1)} turn ${transform.angleDeg.toFixed(2)} scale ${transform.scale.toFixed(4)}, corners off ${corner.toFixed(1)} px (${agree} of ${tried} blocks); apart ${(100 * answer.a.apart).toFixed(1)} and ${(100 * (answer.b?.apart ?? 0)).toFixed(1)} %; ${((performance.now() - started) / 1000).toFixed(1)} s`,
  )
}
const middle = (list: readonly number[], part = 0.5) =>
  [...list].sort((x, y) => x - y)[Math.floor(part * (list.length - 1))] ?? NaN
console.log(
  `cover off ${middle(covers).toFixed(1)} points at the median, ${middle(covers, 0.9).toFixed(1)} in nine of ten (wanted 3); change off ${middle(changes).toFixed(1)} (wanted 2); place right in ${placed} of ${cases.length}`,
)
console.log(`${passed} passed, ${cases.length - passed} failed`)
