// Stages of life by warmth, against the numbers of the working notes.
import { describe, expect, test } from '@jest/globals'
import { conditionTables, lifeCycleOf } from '../src/index.ts'

const days = (condition: string, tempC: number) =>
  lifeCycleOf(condition, tempC)!.stages.map(({ id, low, high }) => [
    id,
    Number(low.toFixed(2)),
    Number(high.toFixed(2)),
  ])

describe('the life of what makes animals ill', () => {
  test('marine white spot at 25 °C: 3 to 7 days on the fish, hours of crawling, 3 to 28 as a cyst, a day or two swimming', () => {
    expect(days('marine-ich', 25)).toEqual([
      ['on-fish', 3, 7],
      ['crawling', 0.08, 0.75],
      ['cyst', 3, 28],
      ['swimmer', 1, 2],
    ])
  })
  test('warmer is shorter; what is not known at a warmth is never filled in', () => {
    // At 15 °C the cyst lies dormant: no figure for the whole circle, so the next known one stands there, and says so.
    expect(lifeCycleOf('marine-ich', 15)).toMatchObject({ tempC: 20, warmths: [20, 25, 28] })
    expect(lifeCycleOf('fw-white-spot', 15)).toMatchObject({ tempC: 15 })
    expect(days('fw-white-spot', 28)).toEqual([
      ['on-fish', 2, 4],
      ['cyst', 0.58, 0.83],
      ['swimmer', 1, 1],
    ])
    for (const { id } of conditionTables.flatMap(({ conditions }) => conditions)) {
      const cycle = lifeCycleOf(id, 25)
      if (!cycle || cycle.warmths.length < 2) continue
      const whole = cycle.warmths.map((at) => lifeCycleOf(id, at)!.stages.reduce((sum, { high }) => sum + high, 0))
      expect([id, [...whole].sort((a, b) => b - a)]).toEqual([id, whole])
    }
  })
  test('a nudibranch of Montipora, from its own table: 1.5 to 4 days in the egg at 26 °C, seven to its first eggs, two between', () => {
    expect(days('montipora-nudibranch', 26)).toEqual([
      ['egg', 1.5, 4],
      ['young', 7, 7],
      ['laying', 2, 2],
    ])
    // Q10 of 2.5: at 22 °C 1.44 times as long.
    expect(days('montipora-nudibranch', 21)[1]![1]).toBeCloseTo(7 * 2.5 ** 0.4, 1)
  })
  test('every cycle belongs to a condition, and every stage lasts', () => {
    const known = new Set(conditionTables.flatMap(({ conditions }) => conditions.map(({ id }) => id)))
    const told = [...known].filter((id) => lifeCycleOf(id, 25) !== null)
    expect(told.length).toBeGreaterThanOrEqual(12)
    for (const id of told)
      for (const stage of lifeCycleOf(id, 25)!.stages)
        expect([id, stage.id, stage.low <= stage.high]).toEqual([id, stage.id, true])
    expect(lifeCycleOf('nothing-known', 25)).toBeNull()
  })
})
