// Stages of life of what makes animals ill: parasites of fish by warmth, pests by the warmth their table was made at.
import { cycles as TABLES } from '../generated/knowledge/cycles.ts'
import type { CycleTable } from '../generated/cycleTypes.ts'
import { pestOf, pestStages } from './pests.ts'

export type CycleWhere = CycleTable['cycles'][number]['stages'][number]['where']
interface Stage {
  readonly id: string
  readonly label: string
  readonly where: CycleWhere
  readonly note?: string
  /** Days, shortest and longest. */
  readonly low: number
  readonly high: number
}
export interface LifeCycle {
  readonly stages: readonly Stage[]
  readonly note: string | null
  /** Warmths that have figures of their own, °C; never filled in between. */
  readonly warmths: readonly number[]
  readonly tempC: number
}

/**
 * The stages of a condition at the known warmth next to the one asked for; null where none is written.
 *
 * @param condition id of a condition
 * @param tempC °C
 * @source handbook 30 §3.2; for pests their own table
 */
export function lifeCycleOf(condition: string, tempC: number): LifeCycle | null {
  const cycle = TABLES[0]!.cycles.find((one) => one.condition === condition)
  if (cycle) {
    const warmths = [15, 20, 25, 28].filter((at) =>
      cycle.stages.every(({ days }) => days.some((one) => one.tempC === at)),
    )
    const nearest = nearestTo(warmths, tempC)
    return {
      warmths,
      tempC: nearest,
      note: cycle.note ?? null,
      stages: cycle.stages.map(({ days, ...stage }) => {
        const { low, high } = days.find((one) => one.tempC === nearest)!
        return { ...stage, low, high }
      }),
    }
  }
  const pest = pestOf(condition)
  if (!pest) return null
  const warmths = [22, 24, 26, 28]
  const nearest = nearestTo(warmths, tempC)
  const { hatchMinH, hatchMaxH, maturationH, clutchIntervalH } = pestStages(pest, nearest)
  const between = clutchIntervalH / 24
  return {
    warmths,
    tempC: nearest,
    note: `Without a host it lives ${pest.offHostDays} days at ${pest.refC} °C.`,
    stages: [
      { id: 'egg', label: 'egg', where: 'surface', low: hatchMinH / 24, high: hatchMaxH / 24 },
      ...(maturationH === null
        ? []
        : [
            {
              id: 'young',
              label: 'young, to its first eggs',
              where: 'host' as const,
              low: maturationH / 24,
              high: maturationH / 24,
            },
          ]),
      { id: 'laying', label: 'from clutch to clutch', where: 'host', low: between, high: between },
    ],
  }
}

const nearestTo = (warmths: readonly number[], tempC: number): number =>
  warmths.reduce((a, b) => (Math.abs(b - tempC) < Math.abs(a - tempC) ? b : a))
