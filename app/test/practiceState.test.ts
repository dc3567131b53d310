// Two windows at one practice tank: the clock goes on, hands of both are kept, and an older tank never comes back.
import { describe, expect, test } from '@jest/globals'
import { practiceTanks, type Hand } from '@brinvo/core/practice'
import { joinedPractice, type PracticeState } from '../src/data/practice.ts'

const state = (nowMs: number, hands: readonly Hand[] = [], seed = 1): PracticeState => ({
  begun: { definition: practiceTanks[0]!, seed, startMs: 0, zone: 'UTC' },
  nowMs,
  hands,
})
const hand = (atMs: number, value?: number): Hand =>
  ({ atMs, does: 'heater', ...(value === undefined ? {} : { value }) }) as Hand

describe('a practice tank in two windows', () => {
  test('its clock never goes back', () => {
    expect(joinedPractice(state(500), state(200)).nowMs).toBe(500)
    expect(joinedPractice(state(200), state(500)).nowMs).toBe(500)
    expect(joinedPractice(null, state(7)).nowMs).toBe(7)
  })
  test('hands of both stand, each once, in their order', () => {
    const joined = joinedPractice(state(9, [hand(1), hand(5, 25)]), state(9, [hand(5, 25), hand(3)]))
    expect(joined.hands.map(({ atMs }) => atMs)).toEqual([1, 3, 5])
  })
  test('a tank that was begun meanwhile is not overwritten by one that is over', () => {
    const fresh = state(10, [], 2)
    expect(joinedPractice(fresh, state(900, [hand(4)], 1))).toBe(fresh)
  })
})
