// Water, analyte by analyte: trend, use and crossings on tanks whose truth is known, and how often what was said came true.
import { describe, expect, test } from '@jest/globals'
import {
  activeEntries,
  instantOf,
  limitOf,
  recordOf,
  waterLines,
  type Analyte,
  type Entry,
  type KeeperRecord,
} from '../src/index.ts'
import { pastChance } from '../src/outbreak/waterLines.ts'
import { acclimationModel } from '../src/acclimation/kinds.ts'
import { NOW, recordOfCase } from './acts/runActs.ts'

const DAY = 86_400_000
const base = recordOfCase({
  id: 'w',
  title: 'a reef',
  record: {
    vessels: [{ id: 'reef', water: 'marine', use: 'display', litres: 200 }],
    residents: [],
    bottles: [],
    done: [],
  },
  act: { kind: 'dose' },
  expect: {},
})
let made = 0
const entry = (fields: object, daysAgo: number): Entry =>
  ({
    id: `entry-${made++}`,
    at: instantOf(NOW - daysAgo * DAY),
    zone: base.settings.zone,
    recordedAt: instantOf(NOW - daysAgo * DAY),
    vesselId: 'reef',
    ...fields,
  }) as unknown as Entry
const reading = (analyte: Analyte, value: number, daysAgo: number, more: object = {}) =>
  entry({ kind: 'reading', analyte, value, unit: '', bound: 'exact', ...more }, daysAgo)
const withEntries = (...entries: Entry[]): KeeperRecord =>
  recordOf(base.settings, [...base.vessels.values(), ...base.instruments.values()], [...base.entries, ...entries])
const lines = (...entries: Entry[]) => {
  const record = withEntries(...entries)
  return waterLines(record, activeEntries(record.entries), 'reef', NOW)
}
const lineOf = (analyte: Analyte, ...entries: Entry[]) => lines(...entries).find((line) => line.analyte === analyte)!

test('a chance by hand: from 8, 0.1 a day down, five days: 7.5 with a spread of √(0.15² + 0.4²), over 7', () => {
  // z = −0.5 ÷ 0.42720 = −1.17041; of the normal curve 0.12092 lies below.
  expect(pastChance(8, -0.1, 0.03, 0.4, 'min', 7, 5)).toBeCloseTo(0.12092, 4)
  expect(pastChance(8, 0.1, 0.03, 0.4, 'max', 9, 5)).toBeCloseTo(0.12092, 4)
})
describe('a line', () => {
  test('falls at its rate, says when it leaves its range, and the week before stands beside the last', () => {
    // 0.1 dKH a day down to 8.0: 7 is ten days away.
    const line = lineOf('alkalinity', ...[28, 21, 14, 7, 0].map((ago) => reading('alkalinity', 8 + ago * 0.1, ago)))
    expect(line.moves!.perDay).toBeCloseTo(-0.1, 6)
    expect(line.weekBefore!.value).toBeCloseTo(8.7, 6)
    expect(line.crossing!.bound).toBe('min')
    expect(line.crossing!.days).toBeCloseTo(10, 3)
    expect(line.crossing!.chance).toBeGreaterThan(0.5)
    expect(line.testInDays).toBeLessThan(10)
    expect(line.use).toBeNull()
  })
  test('a test of four days ago is carried on to now', () => {
    const line = lineOf('alkalinity', ...[32, 25, 18, 11, 4].map((ago) => reading('alkalinity', 8 + ago * 0.1, ago)))
    expect(line.nowValue).toBeCloseTo(8, 6)
    expect(line.crossing!.days).toBeCloseTo(10, 3)
  })
  test('what was tested an hour ago is asked for tomorrow at the earliest, though it is out of its range', () => {
    const line = lineOf('alkalinity', ...[21, 14, 7, 1 / 24].map((ago) => reading('alkalinity', 6.5 + ago * 0.1, ago)))
    expect(line).toMatchObject({ outside: true, testInDays: 1 })
    const old = lineOf('alkalinity', ...[21, 14, 7, 2].map((ago) => reading('alkalinity', 6.5 + ago * 0.1, ago)))
    expect(old).toMatchObject({ outside: true, testInDays: 0 })
  })
  test('steady, it crosses nothing and can wait a fortnight', () => {
    const line = lineOf('calcium', ...[40, 30, 20, 10, 1].map((ago) => reading('calcium', 425, ago)))
    expect(line.crossing).toBeNull()
    expect(line.testInDays).toBe(14)
    expect(line.silentDays).toBeCloseTo(1, 6)
  })
  test('what is used stands apart from how the value moves: a change that brings alkalinity hides half of the use', () => {
    // Uses 0.1 a day; on day 10 a half change with a mix of 8.1 lifts 7.5 by 0.3.
    const values = [20, 15, 10.01, 9.99, 5, 0].map((ago) => {
      const before = 8.5 - (20 - Math.max(ago, 10)) * 0.1
      return reading('alkalinity', ago > 10 ? before : before + 0.3 - (10 - ago) * 0.1, ago)
    })
    const line = lineOf('alkalinity', ...values, entry({ kind: 'change', fraction: 0.5 }, 10))
    expect(line.use!.perDay).toBeCloseTo(0.1, 2)
    expect(-line.moves!.perDay).toBeLessThan(0.095)
  })
  test('what the mixing bin was read at counts before what its salt is said to have', () => {
    const bin = {
      ...base.vessels.get('reef')!,
      id: 'bin',
      body: { ...base.vessels.get('reef')!.body, name: 'Bin', purpose: 'mixing' as const },
    }
    const values = [20, 15, 10.01, 9.99, 5, 0].map((ago) => reading('alkalinity', ago > 10 ? 8 : 8.5, ago))
    const changed = entry({ kind: 'change', fraction: 0.5 }, 10)
    const inBin = (value: number, ago: number) => reading('alkalinity', value, ago, { vesselId: 'bin' })
    const useWith = (...read: Entry[]) => {
      const record = recordOf(
        base.settings,
        [...base.vessels.values(), bin],
        [...base.entries, ...values, changed, ...read],
      )
      return waterLines(record, activeEntries(record.entries), 'reef', NOW).find(
        ({ analyte }) => analyte === 'alkalinity',
      )!.use!
    }
    // A mix of 9 at half explains the whole step from 8 to 8.5; one of 8.1 explains a tenth of it.
    expect(useWith(inBin(9, 10)).perDay).toBeCloseTo(0, 2)
    expect(useWith().perDay).toBeLessThan(-0.005)
    expect(useWith(inBin(9, 75)).perDay).toBeCloseTo(useWith().perDay, 9)
  })
  test('an analyte without a range of its own is shown and foretold nothing; one reading makes no trend', () => {
    const [oxygen] = lines(reading('oxygen', 6, 3), reading('oxygen', 2, 1))
    expect(oxygen).toMatchObject({ analyte: 'oxygen', range: null, crossing: null })
    expect(lineOf('alkalinity', reading('alkalinity', 6, 2))).toMatchObject({
      moves: null,
      crossing: null,
      testInDays: 14,
    })
  })
  test('a probe that writes every hour falls as fast as a daily test, and its odd hours bend nothing', () => {
    const hours = Array.from({ length: 24 * 40 }, (_, i) => i / 24)
    const line = lineOf(
      'alkalinity',
      ...hours.map((ago, i) => reading('alkalinity', i % 24 === 3 ? 20 : 8 + ago * 0.05, ago)),
    )
    expect(line.readings).toHaveLength(24 * 40)
    expect(line.moves!.perDay).toBeCloseTo(-0.05, 3)
  })
  test('what may leave its range first stands first; an old reading tells its silence', () => {
    const order = lines(
      ...[20, 10, 0].map((ago) => reading('calcium', 425, ago)),
      ...[20, 10, 0].map((ago) => reading('alkalinity', 7.2 + ago * 0.1, ago)),
      reading('magnesium', 1300, 45),
    ).map(({ analyte }) => analyte)
    expect(order[0]).toBe('alkalinity')
    expect(lineOf('magnesium', reading('magnesium', 1300, 45)).silentDays).toBeCloseTo(45, 6)
  })
})

test('of crossings that were called likely, about as many came as was said', () => {
  // Tanks of our own: a straight use, tests with a kit's scatter, looked at again after a fortnight.
  let state = 7
  const random = () => {
    state = (state * 1664525 + 1013904223) >>> 0
    return (state + 0.5) / 4294967296
  }
  const normal = () => Math.sqrt(-2 * Math.log(random())) * Math.cos(2 * Math.PI * random())
  const bins = [0, 0, 0, 0].map(() => ({ said: 0, came: 0, n: 0 }))
  for (let tank = 0; tank < 900; tank++) {
    const start = 7.5 + random() * 2
    const rate = random() * 0.12
    // Half a drop of a usual alkalinity test: 0.25 dKH.
    const entries = [28, 21, 14, 7, 0].map((ago) =>
      reading('alkalinity', start - (28 - ago) * rate + 0.3 * normal(), ago),
    )
    const line = lineOf('alkalinity', ...entries)
    const chance = line.crossing?.bound === 'min' ? line.crossing.chance : 0.05
    const bin = bins[Math.min(3, Math.floor(chance * 4))]!
    bin.said += chance
    bin.came += start - (28 + 14) * rate < 7 ? 1 : 0
    bin.n++
  }
  for (const { said, came, n } of bins) {
    expect(n).toBeGreaterThan(25)
    expect(Math.abs(said - came) / n).toBeLessThan(0.1)
  }
})

test('the round and the model of acclimation count a bag as long from the same hour', () => {
  expect(limitOf('long-in-bag')).toBe(acclimationModel.longOpenTransitH)
})
