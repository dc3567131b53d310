// Prints the budget lines as JSON, one a line. Benchmarks inform; they fail nothing.
import { existsSync, readFileSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import {
  activeEntries,
  advanceActive,
  createPlanner,
  documentsOf,
  plan,
  rankConditions,
  signsOf,
  diagnose,
  recordOf,
  type CourseDocument,
  type Entry,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { plannerLine } from './lifecycleBench.ts'
import { timeOfComparison, timeOfRun } from './acclimationBench.ts'
import { curveLine, medianMs, posteriorLine, type BenchLine } from './levelBench.ts'

const say = (line: BenchLine) =>
  console.log(
    JSON.stringify({ ...line, value: round(line.value), yardstick: round(line.yardstick), ratio: round(line.ratio) }),
  )
const round = (value: number) => Number(value.toPrecision(4))

/** The part of the solver's face that is used; its own sources do not type-check under our options. */
interface OdeSolver {
  absoluteTolerance: number
  relativeTolerance: number
  solve(f: (t: number, y: number[]) => number[], t0: number, y0: number[], t1: number): { y: number[] }
}
const solverPackage: string = 'odex'
const { Solver } = (await import(solverPackage)) as { Solver: new (n: number) => OdeSolver }

say(posteriorLine())
say(plannerLine())
say(
  curveLine((f, y0, t0, t1) => {
    const solver = new Solver(y0.length)
    solver.absoluteTolerance = 1e-6
    solver.relativeTolerance = 1e-6
    return [...solver.solve((t: number, y: number[]) => f(t, [...y]), t0, y0, t1).y]
  }),
)
for (const line of planLines()) say(line)
say(diagnosisLine())
for (const line of acclimationLines()) say(line)
const weight = firstViewLine()
if (weight) say(weight)

/** Five methods on 200 sampled inputs against a tick every second, and the central numbers that follow a slider. */
function acclimationLines(): BenchLine[] {
  timeOfRun(1, 20)
  const { sampledMs, centralMs } = timeOfComparison()
  const naiveMs = 5 * 200 * timeOfRun(1 / 60, 3).ms
  const single = timeOfRun(1, 20).ms
  return [
    {
      name: 'acclimation: 5 methods × 200 samples × 3 h',
      value: sampledMs,
      unit: 'ms',
      yardstick: naiveMs,
      ratio: sampledMs / naiveMs,
      budget: 0.1,
      better: 'lower',
    },
    {
      name: 'acclimation: five central runs for a slider, against a frame of 16 ms',
      value: centralMs,
      unit: 'ms',
      yardstick: 16,
      ratio: centralMs / 16,
      budget: 1,
      better: 'lower',
    },
    {
      name: 'acclimation: one run of three hours, against a frame of 16 ms',
      value: single,
      unit: 'ms',
      yardstick: 16,
      ratio: single / 16,
      budget: 1,
      better: 'lower',
    },
  ]
}

/**
 * Plan with 5 vessels, 10 courses and 50,000 entries spread over years, as a record grows: a full plan against reading
 * the same entries once as JSON, then one append against the full plan.
 */
function planLines(): BenchLine[] {
  const now = Date.parse('2026-11-23T18:20:00Z')
  const demo = demoRecord({ seed: 7, anchorMs: now, zone: 'Europe/Berlin' })
  const vessels = [...demo.vessels.keys()]
  const running = [...demo.courses.values()]
  const courses = Array.from({ length: 10 }, (_, i): CourseDocument => {
    const course = running[i % running.length]!
    return { ...course, id: `course-${i}`, body: { ...course.body, vesselId: vessels[i % vessels.length]! } }
  })
  const entries: Entry[] = []
  for (let i = 0; entries.length < 50_000; i++) {
    for (const entry of demo.entries)
      entries.push({
        ...entry,
        id: `${entry.id}-${i}`,
        at: new Date(Date.parse(entry.at) - i * 13 * 86_400_000).toISOString(),
        ...('vesselId' in entry && entry.vesselId !== undefined && entry.kind !== 'move'
          ? { vesselId: vessels[(vessels.indexOf(entry.vesselId) + i) % vessels.length]! }
          : {}),
      } as Entry)
  }
  const record = recordOf(
    demo.settings,
    [...documentsOf(demo).filter(({ register }) => register !== 'course'), ...courses],
    entries.slice(0, 50_000),
  )
  const text = JSON.stringify(record.entries)
  const options = { estimates: new Map(), nowMs: now }
  const value = medianMs(3, () => plan({ record, active: activeEntries([...record.entries]), ...options }))
  const yardstick = medianMs(3, () => JSON.parse(text) as unknown)
  // One append: a reading, a minute ago, each time a new one.
  let active: readonly Entry[] = activeEntries(record.entries)
  const planner = createPlanner()
  planner({ record, active, ...options })
  let count = 0
  const append = medianMs(25, () => {
    const added = {
      kind: 'reading',
      id: `added-${count}`,
      at: new Date(now - 60_000 + count++).toISOString(),
      zone: 'Europe/Berlin',
      recordedAt: new Date(now).toISOString(),
      vesselId: 'holding-a',
      analyte: 'temperature',
      value: 25.2,
      unit: '°C',
      bound: 'exact',
    } as unknown as Entry
    active = advanceActive(active, [added], [])
    return planner({ record, active, ...options })
  })
  const whole = JSON.stringify(plan({ record, active: [...active], ...options }))
  if (JSON.stringify(planner({ record, active, ...options }).plans) !== whole)
    throw new Error('The plan after an append differs from the full plan.')
  return [
    {
      name: 'full plan, 5 vessels, 10 courses, 50,000 entries',
      value,
      unit: 'ms',
      yardstick,
      ratio: value / yardstick,
      budget: 1500,
      better: 'lower',
    },
    {
      name: 'plan after one append, same record',
      value: append,
      unit: 'ms',
      yardstick: value,
      ratio: append / value,
      budget: 0.05,
      better: 'lower',
    },
  ]
}

/** Ranking of everything and the next look, for a finding with twelve answers: what one press costs. */
function diagnosisLine(): BenchLine {
  const evidence = signsOf('fish-marine')
    .filter((_, i) => i % 6 === 0)
    .map(({ id }, i) => ({ sign: id, answer: i % 3 === 0 ? ('yes' as const) : ('no' as const) }))
  const input = { pool: 'fish-marine' as const, hostGroup: 'hg-tang', evidence, context: { daysSinceArrival: 5 } }
  const ranking = medianMs(40, () => rankConditions({ pool: 'fish-marine', hostGroup: 'hg-tang' }, evidence))
  const value = medianMs(40, () => diagnose(input))
  return {
    name: 'diagnosis: ranking and next look',
    value,
    unit: 'ms',
    yardstick: ranking,
    ratio: value / ranking,
    budget: 5,
    better: 'lower',
  }
}

/** JavaScript of the first view, gzip: what the page preloads, and the round. */
function firstViewLine(): BenchLine | null {
  const dist = join(process.cwd(), 'app', 'dist')
  if (!existsSync(join(dist, 'index.html'))) return null
  const html = readFileSync(join(dist, 'index.html'), 'utf8')
  const wanted = new Set([...html.matchAll(/\/assets\/([\w.-]+\.js)/g)].map(([, name]) => name!))
  const assets = readdirSync(join(dist, 'assets'))
  // The round's own chunk and what it imports.
  const queue = assets.filter((name) => name.startsWith('RoundsPage-'))
  for (let name = queue.pop(); name !== undefined; name = queue.pop()) {
    wanted.add(name)
    for (const [, found] of readFileSync(join(dist, 'assets', name), 'utf8').matchAll(/from\s*"\.\/([\w.-]+\.js)"/g)) {
      if (found !== undefined && !wanted.has(found)) queue.push(found)
    }
  }
  const bytes = [...wanted].reduce((sum, name) => sum + gzipSync(readFileSync(join(dist, 'assets', name))).length, 0)
  return {
    name: 'first view JavaScript, gzip',
    value: bytes / 1000,
    unit: 'kB',
    yardstick: 190,
    ratio: bytes / 190_000,
    budget: 190,
    better: 'lower',
  }
}
