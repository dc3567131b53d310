// Runs every case file of a directory against the core: a line per file, then the accuracy; fails on any failure.
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import {
  caseOutcome,
  caseProblems,
  looksToSure,
  randomFrom,
  simulateDiagnosis,
  POOLS,
  type CaseFile,
} from '@brinvo/core'

const args = process.argv.slice(2)
const verbose = !args.includes('--quiet')
const folder = args.find((arg) => !arg.startsWith('--')) ?? join(process.cwd(), 'core/test/cases')
const names = readdirSync(folder)
  .filter((name) => name.endsWith('.json'))
  .sort()
if (names.length === 0) {
  console.error(`No case files in ${folder}.`)
  process.exit(1)
}
let failed = 0
let unknown = 0
let firsts = 0
let thirds = 0
let counted = 0
let missed = 0
const brier: number[] = []
for (const name of names) {
  const file = JSON.parse(readFileSync(join(folder, name), 'utf8')) as CaseFile
  let passed = 0
  const lines: string[] = []
  for (const one of file.cases) {
    const problems = caseProblems(file.pool, one)
    if (problems.length > 0) {
      unknown++
      lines.push(`  ${one.id}: ${problems.join('; ')}`)
      continue
    }
    const outcome = caseOutcome(file.pool, one)
    if (outcome.passed) passed++
    else lines.push(`  ${one.id}: ${outcome.failures.join('; ')}`)
    if (outcome.first !== null) {
      counted++
      if (outcome.first) firsts++
      if (outcome.third) thirds++
      brier.push((outcome.diagnosis.ranking.entries[0]!.p - (outcome.first ? 1 : 0)) ** 2)
    }
    missed += outcome.missed
  }
  const bad = file.cases.length - passed
  failed += bad
  console.log(`${file.pool}: ${passed} passed, ${bad} failed`)
  if (verbose) for (const line of lines) console.log(line)
}
const share = (count: number) => (counted === 0 ? 'none' : `${((100 * count) / counted).toFixed(1)} %`)
console.log(`top-1 ${share(firsts)}, top-3 ${share(thirds)}, dangerous missed ${missed}`)
if (brier.length > 0)
  console.log(
    `Brier ${(brier.reduce((a, b) => a + b, 0) / brier.length).toFixed(3)} over ${counted} cases with an expected first`,
  )
if (args.includes('--simulate')) {
  const sums = new Map<string, { first: number; third: number; missed: number; danger: number }>()
  let best = 0
  let fixed = 0
  for (const { id: pool } of POOLS) {
    for (const [perturb, known] of [
      [0, false],
      [0, true],
      [0.7, true],
    ] as const) {
      const {
        first,
        third,
        dangerMissed,
        dangerCases,
        named,
        brier: score,
        bins,
      } = simulateDiagnosis({ pool, cases: 2000, random: randomFrom(11), wrong: 0.1, unlooked: 0.3, perturb, known })
      const sum = sums.get(`${perturb} ${known}`) ?? { first: 0, third: 0, missed: 0, danger: 0 }
      sums.set(`${perturb} ${known}`, {
        first: sum.first + first / POOLS.length,
        third: sum.third + third / POOLS.length,
        missed: sum.missed + dangerMissed,
        danger: sum.danger + dangerCases,
      })
      console.log(
        `${pool} ${perturb === 0 ? 'as written' : 'perturbed '} ${known ? 'group and arrival known' : 'from signs alone'}: top-1 ${(100 * first).toFixed(1)} %, top-3 ${(100 * third).toFixed(1)} %, dangerous missed ${dangerMissed} of ${dangerCases} with ${named.toFixed(1)} named, Brier ${score.toFixed(3)}`,
      )
      if (perturb > 0)
        console.log(
          `  said/true: ${bins.map((bin) => `${bin.shown.toFixed(2)}/${bin.true.toFixed(2)} (${bin.cases})`).join(' ')}`,
        )
    }
    const looks = looksToSure({
      pool,
      cases: 150,
      random: randomFrom(5),
      wrong: 0,
      unlooked: 0,
      perturb: 0,
    })
    best += looks.best
    fixed += looks.fixed
    console.log(
      `${pool}: looks to 90 %: ${looks.best.toFixed(1)} by the next best look (${(100 * looks.bestSure).toFixed(0)} % sure), ${looks.fixed.toFixed(1)} by a fixed list (${(100 * looks.fixedSure).toFixed(0)} % sure): ${((100 * looks.best) / looks.fixed).toFixed(0)} %`,
    )
  }
  for (const [key, { first, third, missed: lost, danger }] of sums)
    console.log(
      `all pools, ${key.startsWith('0 ') ? 'as written' : 'perturbed'}, ${key.endsWith('true') ? 'group and arrival known' : 'from signs alone'}: top-1 ${(100 * first).toFixed(1)} %, top-3 ${(100 * third).toFixed(1)} %, dangerous missed ${lost} of ${danger} (${((100 * lost) / danger).toFixed(2)} %)`,
    )
  console.log(`all pools: looks to 90 %: ${((100 * best) / fixed).toFixed(0)} % of a fixed list`)
}
if (failed > 0 || unknown > 0) process.exit(1)
