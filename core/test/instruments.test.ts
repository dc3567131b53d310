// Instruments over time: what a standard showed, what others say, and what it does to a trend.
import { describe, expect, test } from '@jest/globals'
import {
  instantOf,
  instrumentConcerns,
  instrumentState,
  offsetAt,
  scatterOf,
  waterLines,
  type Entry,
} from '../src/index.ts'
import { activeOf, DAY, documentOf, entryAgo, NOW, read, reefWith } from './reef.ts'

const kit = (id: string, more: object = {}) =>
  documentOf('instrument', id, { name: id, analyte: 'ph', method: 'probe', step: 0.01, relativeError: 0.006, ...more })
const check = (ago: number, act: 'checked' | 'calibrated', standard?: number, said?: number, instrumentId = 'probe') =>
  entryAgo({ kind: 'calibration', vesselId: undefined, instrumentId, act, standard, read: said }, ago)
const at = (entries: readonly Entry[], ago: number) =>
  offsetAt(activeOf(reefWith([kit('probe')], entries)), 'probe', NOW - ago * DAY)

describe('an offset', () => {
  test('speaks for sixty days on either side of its check', () => {
    const checks = [check(100, 'checked', 7, 7.2)]
    expect(at(checks, 120)).toBeCloseTo(0.2, 9)
    expect(at(checks, 41)).toBeCloseTo(0.2, 9)
    expect(at(checks, 39)).toBe(0)
    expect(at(checks, 161)).toBe(0)
    expect(at([], 10)).toBe(0)
    expect(at([check(10, 'checked')], 10)).toBe(0)
  })
  test('never reaches across a calibration, which tells what was wrong before it and nothing of after', () => {
    const checks = [check(30, 'checked', 7, 7.3), check(20, 'calibrated', 7, 7.4)]
    expect(at(checks, 32)).toBeCloseTo(0.3, 9)
    expect(at(checks, 21)).toBeCloseTo(0.4, 9)
    expect(at(checks, 19)).toBe(0)
    expect(at([check(20, 'calibrated', 7, 7.4), check(5, 'checked', 7, 7.1)], 12)).toBeCloseTo(0.1, 9)
  })
  test('is taken off the trend, not off what was read', () => {
    const entries = [21, 14, 7, 0].map((ago) => read('ph', 8.5, ago, { instrumentId: 'probe' }))
    const record = reefWith([kit('probe')], [...entries, check(1, 'checked', 7, 7.4)])
    const line = waterLines(record, activeOf(record), 'reef', NOW).find(({ analyte }) => analyte === 'ph')!
    expect(line.last.value).toBe(8.5)
    expect(line.lastValue).toBeCloseTo(8.1, 9)
    // 8.5 would be over 8.4; 8.1 is inside.
    expect(line.outside).toBe(false)
    expect(line.nowValue).toBeCloseTo(8.1, 6)
  })
})

describe('a state', () => {
  const pairs = (off: number, n: number, second: object = {}) => {
    const entries = Array.from({ length: n }, (_, i) => [
      read('ph', 8.1 + off, i * 3 + 0.05, { instrumentId: 'probe' }),
      read('ph', 8.1, i * 3, { instrumentId: 'meter' }),
    ]).flat()
    const record = reefWith([kit('probe'), kit('meter', second)], entries)
    return { record, state: instrumentState(record, activeOf(record), record.instruments.get('probe')!, NOW) }
  }
  test('drift is told by three pairs and more, and not by two', () => {
    expect(pairs(0.3, 5).state.drift).toMatchObject({ otherId: 'meter', pairs: 5 })
    expect(pairs(0.3, 5).state.drift!.off).toBeCloseTo(0.3, 6)
    expect(pairs(0.3, 5).state.drift!.z).toBeGreaterThan(2)
    expect(pairs(0.05, 5).state.drift!.z).toBeLessThan(2)
    expect(pairs(0.3, 2).state.drift).toBeNull()
  })
  test('of two that disagree the one that was checked longer ago is told of, once', () => {
    const { record } = pairs(0.3, 5, { checkedAt: instantOf(NOW - 5 * DAY) })
    const told = instrumentConcerns(record, activeOf(record), NOW).filter(({ id }) => id.startsWith('drift'))
    expect(told.map(({ id }) => id)).toEqual(['drift-probe'])
    expect(told[0]!.detail).toMatch(/0\.3 pH/)
  })
  test('a pH probe is set again after thirty days, another meter after ninety; a drop test has no such day', () => {
    const staleOf = (more: object, ago: number) => {
      const record = reefWith([kit('probe', { checkedAt: instantOf(NOW - ago * DAY), ...more })], [])
      return instrumentState(record, activeOf(record), record.instruments.get('probe')!, NOW).stale
    }
    expect(staleOf({}, 29)).toBe(false)
    expect(staleOf({}, 31)).toBe(true)
    expect(staleOf({ analyte: 'salinity', method: 'refractometer' }, 80)).toBe(false)
    expect(staleOf({ analyte: 'salinity', method: 'refractometer' }, 91)).toBe(true)
    expect(staleOf({ analyte: 'alkalinity', method: 'drop-kit' }, 400)).toBe(false)
  })
  test('reagents that are over are told of while something hangs on them', () => {
    const of = (expiresOn: string, used: boolean) => {
      const record = reefWith([kit('probe', { expiresOn })], used ? [read('ph', 8, 3, { instrumentId: 'probe' })] : [])
      return instrumentConcerns(record, activeOf(record), NOW).map(({ id }) => id)
    }
    const day = (ago: number) => instantOf(NOW - ago * DAY).slice(0, 10)
    expect(of(day(3), true)).toContain('reagent-probe')
    expect(of(day(3), false)).toEqual([])
    expect(of(day(-3), true)).not.toContain('reagent-probe')
  })
})
test('the scatter of a reading is its laboratory’s, its instrument’s or what is usual', () => {
  const { instruments } = reefWith(
    [kit('fine', { analyte: 'calcium', method: 'photometer', step: 2, relativeError: 0.01 })],
    [],
  )
  const calcium = { analyte: 'calcium' as const, value: 400 }
  expect(scatterOf({ instruments }, { ...calcium, sampleId: 'vial' })).toBeCloseTo(12, 9)
  expect(scatterOf({ instruments }, { ...calcium, instrumentId: 'fine' })).toBeCloseTo(4, 9)
  expect(scatterOf({ instruments }, calcium)).toBeCloseTo(16, 9)
})
