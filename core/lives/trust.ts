// npm run trust -- [--lives N] [--seed S] [--write]: the figures of “How far it can be trusted”, printed and, with --write, kept.
import { writeFileSync } from 'node:fs'
import {
  calendarFigures,
  darkSpellFigures,
  diagnosisFigures,
  eradicationFigures,
  levelFigures,
  useFigures,
  type Figure,
} from './figures.ts'

const HEAD = `// Written by \`npm run trust -- --write\`: what the runs found, not what anybody wished.
export interface TrustFigure {
  readonly id: string
  readonly title: string
  readonly value: number
  readonly low: number
  readonly high: number
  readonly n: number
  readonly unit: string
  readonly wanted: string
  readonly reached: boolean
  readonly from: string
}
export interface Trust {
  readonly date: string
  readonly seed: number
  readonly figures: readonly TrustFigure[]
}
`

const args = process.argv.slice(2)
const valueOf = (name: string, otherwise: number) => {
  const i = args.indexOf(`--${name}`)
  return i < 0 ? otherwise : Number(args[i + 1])
}
const seed = valueOf('seed', 1)
const lives = valueOf('lives', 8)
const only = args.includes('--only') ? args[args.indexOf('--only') + 1] : undefined
const RUNS: readonly (readonly [string, () => Figure[]])[] = [
  ['use', () => useFigures(300, seed)],
  ['eradication', () => [...eradicationFigures(600, seed), ...eradicationFigures(300, seed + 1, true)]],
  ['diagnosis', () => diagnosisFigures(200, seed)],
  ['dark', () => darkSpellFigures(250, seed)],
  ['levels', () => levelFigures(lives, seed)],
  ['calendar', () => calendarFigures(100, seed)],
]
const figures = RUNS.filter(([name]) => only === undefined || name === only).flatMap(([, run]) => run())
for (const { id, value, low, high, n, wanted, reached } of figures)
  console.log(
    `${reached ? 'reached ' : 'NOT     '} ${id}: ${value.toFixed(1)} % (${low.toFixed(1)} to ${high.toFixed(1)}), n ${n}; wanted ${wanted}`,
  )
if (args.includes('--write')) {
  const round = (value: number) => Number(value.toFixed(1))
  const kept = figures.map((one) => ({ ...one, value: round(one.value), low: round(one.low), high: round(one.high) }))
  const data = JSON.stringify({ date: new Date().toISOString().slice(0, 10), seed, figures: kept }, null, 2)
  writeFileSync('app/src/features/trust/figures.ts', `${HEAD}export const trust: Trust = ${data}\n`)
}
