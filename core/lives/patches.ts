// npm run patches -- DIR: two pictures of each case are measured from the picture and what was touched alone, and held
// against their truth.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { coverOf, type CoverQuestion } from '../src/imaging/cover.ts'
import type { Picture } from '../src/imaging/frame.ts'
import { folder, given, readPicture } from './args.ts'
import { mapped, type Similarity } from '../src/imaging/register.ts'
import { findSpots } from '../src/imaging/spots.ts'
import { fishScene } from '../src/world/fishScene.ts'
import { patchScene } from '../src/world/patchScene.ts'

interface Truth {
  readonly a: Readonly<Record<string, number>>
  readonly b: Readonly<Record<string, number>>
  readonly transform: Similarity
}
interface Case {
  readonly name: string
  readonly question: CoverQuestion
  readonly truth: Truth
  pictures(): readonly [Picture, Picture]
}
const fish = Number(given('spots') ?? 0)
if (fish > 0) {
  spotFigures(fish, Number(given('seed') ?? 1))
  process.exit(0)
}
/** Drawn fish with known spots: how many are proposed, and how many of those are none. */
function spotFigures(count: number, seed: number): void {
  let [hit, missed, wrong] = [0, 0, 0]
  const off: number[] = []
  for (let i = 0; i < count; i++) {
    const spots = [0, 3, 8, 20, 45][i % 5]!
    const scene = fishScene({ seed: seed * 10_007 + i, width: 800, height: 560, spots })
    const found = findSpots(scene.picture, { polygon: scene.outline })
    const used = new Set<number>()
    let own = 0
    for (const { x, y, r } of scene.spots) {
      const at = found.findIndex((one, k) => !used.has(k) && Math.hypot(one.x - x, one.y - y) <= r + 2)
      if (at < 0) continue
      used.add(at)
      own++
    }
    hit += own
    missed += scene.spots.length - own
    wrong += found.length - own
    off.push(Math.abs(found.length - scene.spots.length))
    console.log(`fish ${i}: ${scene.spots.length} drawn, ${found.length} proposed, ${own} of them right`)
  }
  off.sort((a, b) => a - b)
  console.log(
    `of ${hit + missed} spots on ${count} fish ${((100 * hit) / (hit + missed)).toFixed(1)} % were proposed; ${((100 * wrong) / (hit + wrong)).toFixed(1)} % of the proposals were none; a count is off by ${off[off.length >> 1]} at the median, ${off[Math.floor(0.9 * (off.length - 1))]} in nine of ten`,
  )
}
const simulate = Number(given('simulate') ?? 0)
if (simulate === 0 && (folder === undefined || !existsSync(folder))) {
  console.error(
    'npm run patches -- DIR, or -- --simulate N --seed S, or -- --spots N --seed S: a folder of cases or a number of them is needed.',
  )
  process.exit(2)
}
function casesOf(folder: string): Case[] {
  return readdirSync(folder)
    .filter((name) => existsSync(join(folder, name, 'meta.json')) && existsSync(join(folder, name, 'truth.json')))
    .sort()
    .map((name) => ({
      name,
      question: JSON.parse(readFileSync(join(folder, name, 'meta.json'), 'utf8')) as CoverQuestion,
      truth: JSON.parse(readFileSync(join(folder, name, 'truth.json'), 'utf8')) as Truth,
      pictures: () => [readPicture(join(folder, name, 'a.png')), readPicture(join(folder, name, 'b.png'))],
    }))
}
const KINDS = ['film', 'slime', 'turf', 'tufts', 'white']
function simulated(count: number, seed: number): Case[] {
  return Array.from({ length: count }, (_, i) => {
    const own = seed * 10_007 + i
    const kinds = [KINDS[i % 5]!, ...(i % 3 === 0 ? [] : [KINDS[(i + 2) % 5]!])]
    const scene = patchScene({
      seed: own,
      width: 640,
      height: 480,
      cover: Object.fromEntries(kinds.map((kind, k) => [kind, 0.15 + 0.2 * ((i * (k + 3)) % 3) * 0.5])),
      left: 0.15 + ((own * 37) % 100) / 90,
    })
    return {
      name: `seed ${seed} case ${i}`,
      question: {
        classes: Object.entries(scene.samples).map(([id, samples]) => ({ id, samples })),
        polygon: scene.polygon,
      },
      truth: { a: scene.truth.first, b: scene.truth.later, transform: scene.place },
      pictures: () => [scene.first, scene.later],
    }
  })
}
const cases = simulate > 0 ? simulated(simulate, Number(given('seed') ?? 1)) : casesOf(folder!)
if (cases.length === 0) {
  console.error(`${folder}: no case with meta.json and truth.json.`)
  process.exit(1)
}
/** Cover right within so many points, corners within so many pixels. */
const COVER = 3
const CORNER = 3
const covers: number[] = []
const changes: number[] = []
let placed = 0
let passed = 0
for (const { name, question, truth, pictures } of cases) {
  const started = performance.now()
  const [a, b] = pictures()
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
