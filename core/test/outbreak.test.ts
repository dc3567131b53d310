// Pests by the day, counts read back, arms compared, jars, removal, dark days, steering.
import { describe, expect, test } from '@jest/globals'
import {
  changesTo,
  chanceLarger,
  compareArms,
  consumption,
  dailyNumbers,
  dailyStages,
  darkForecast,
  jarVerdict,
  lastRoundDay,
  limitValue,
  pestOf,
  pests,
  protocolOf,
  randomFrom,
  readCounts,
  redose,
  removalForecast,
  roundRule,
  shareInterval,
  silicateDose,
  steer,
  stockPortion,
  trendOf,
  type CountedRound,
  type DailyTreatment,
  type TallyEntry,
} from '@brinvo/core'
import { measurePoints } from '../src/outbreak/measures.ts'
import { entryAt } from './entries.ts'

const DAY = 86_400_000
const HOUR = 3_600_000

/** Handbook 50 §9, both tables: stages, work, rhythm and what is left at the last treatment. */
const SETS = {
  slug: { hatchMinDays: 2, hatchMaxDays: 4, matureDays: 10, eggsPerDay: 3, youngSurvival: 0.3, kill: 0.8, eggs: 0.6 },
  poor: { hatchMinDays: 2, hatchMaxDays: 4, matureDays: 7, eggsPerDay: 5, youngSurvival: 0.5, kill: 0.6, eggs: 0.3 },
  acro27: {
    hatchMinDays: 9,
    hatchMaxDays: 14,
    matureDays: 35,
    eggsPerDay: 4,
    youngSurvival: 0.1,
    kill: 0.8,
    eggs: 0.5,
  },
  acro24: {
    hatchMinDays: 14,
    hatchMaxDays: 20,
    matureDays: 49,
    eggsPerDay: 3,
    youngSurvival: 0.1,
    kill: 0.8,
    eggs: 0.5,
  },
  euphyllia: {
    hatchMinDays: 8,
    hatchMaxDays: 14,
    matureDays: 28,
    eggsPerDay: 2,
    youngSurvival: 0.1,
    kill: 0.8,
    eggs: 0.5,
  },
  zoanthid: {
    hatchMinDays: 4,
    hatchMaxDays: 10,
    matureDays: 14,
    eggsPerDay: 3,
    youngSurvival: 0.2,
    kill: 0.8,
    eggs: 0.7,
  },
  bugMedicine: {
    hatchMinDays: 3,
    hatchMaxDays: 7,
    matureDays: 14,
    eggsPerDay: 1,
    youngSurvival: 0.3,
    kill: 0.99,
    eggs: 0,
  },
  bugDips: { hatchMinDays: 3, hatchMaxDays: 7, matureDays: 14, eggsPerDay: 1, youngSurvival: 0.3, kill: 0.8, eggs: 0 },
  spider: { hatchMinDays: 7, hatchMaxDays: 21, matureDays: 30, eggsPerDay: 1, youngSurvival: 0.2, kill: 0.8, eggs: 0 },
  clam: { hatchMinDays: 10, hatchMaxDays: 14, matureDays: 35, eggsPerDay: 5, youngSurvival: 0.1, kill: 0.8, eggs: 0.5 },
}
const ROWS: readonly (readonly [keyof typeof SETS, number, number, number, number])[] = [
  ['slug', 3, 5, 0.84, 0.55],
  ['slug', 3, 8, 0.0356, 0.046],
  ['slug', 3, 9, 0.0129, 0.0133],
  ['slug', 3, 11, 0.0012, 0.0013],
  ['slug', 7, 8, 1.36, 2.18],
  ['slug', 14, 5, 294, 569],
  ['poor', 3, 11, 41.1, 67.3],
  ['acro27', 7, 4, 16.8, 18.1],
  ['acro27', 7, 6, 1, 0.79],
  ['acro27', 7, 8, 0.0492, 0.16],
  ['acro27', 7, 10, 0.0119, 0.0323],
  ['acro24', 7, 8, 0.086, 0.0559],
  ['acro24', 7, 10, 0.004, 0.0052],
  ['euphyllia', 7, 8, 0.0309, 0.11],
  ['zoanthid', 3, 5, 0.78, 0.96],
  ['zoanthid', 3, 8, 0.0108, 0.014],
  ['bugMedicine', 7, 3, 0.029, 0.0369],
  ['bugDips', 7, 6, 1.14, 1.95],
  ['bugDips', 5, 8, 0.11, 0.17],
  ['spider', 7, 8, 0.13, 0.35],
  ['clam', 7, 10, 0.0191, 0.0556],
]
const every = (days: number, times: number, kill: number, eggs: number): DailyTreatment[] =>
  Array.from({ length: times }, (_, i) => ({ day: i * days, kill, eggs }))

describe('a pest day by day', () => {
  test.each(ROWS)('%s every %i days, %i times', (set, days, times, mobiles, eggs) => {
    const { kill, eggs: removed, ...stages } = SETS[set]
    const last = dailyNumbers(stages, every(days, times, kill, removed), days * (times - 1)).at(-1)!
    // The handbook prints two or three digits.
    expect(Math.abs(last.mobiles / mobiles - 1)).toBeLessThan(0.045)
    expect(Math.abs(last.eggs / eggs - 1)).toBeLessThan(0.045)
  })
  test('it is linear in the founders, and a stronger kill or one more round never leaves more', () => {
    const { kill, eggs, ...stages } = SETS.slug
    const at = (founders: number, k: number, times: number) =>
      dailyNumbers(stages, every(3, times, k, eggs), 30, founders).at(-1)!
    expect(at(50, kill, 5).mobiles * 2).toBeCloseTo(at(100, kill, 5).mobiles, 6)
    for (const k of [0.3, 0.5, 0.7]) expect(at(100, k + 0.1, 5).mobiles).toBeLessThan(at(100, k, 5).mobiles)
    for (const times of [3, 4, 5]) expect(at(100, kill, times + 1).eggs).toBeLessThan(at(100, kill, times).eggs)
  })
  test('colder water makes every stage longer, and stages that are no days are refused', () => {
    for (const pest of pests.filter(({ daily }) => daily)) {
      const warm = dailyStages(pest, 28)!
      const cold = dailyStages(pest, 22)!
      expect(cold.hatchMaxDays).toBeGreaterThanOrEqual(warm.hatchMaxDays)
      expect(cold.matureDays).toBeGreaterThanOrEqual(warm.matureDays)
    }
    expect(() => dailyNumbers({ ...SETS.slug, hatchMaxDays: 1 }, [], 3)).toThrow(RangeError)
  })
  test('rounds are spaced so that a hatchling meets enough of them before it lays', () => {
    const slug = pestOf('montipora-nudibranch')!
    expect(roundRule(slug, 26)).toMatchObject({ intervalDays: 3, meetings: 2, hatchMaxDays: 4 })
    expect(roundRule(pestOf('acropora-flatworm')!, 27).intervalDays).toBe(7)
    // Last find on day 12: 12 + 4 + 2 × 3 = day 22, so the round on day 24 is the last.
    expect(lastRoundDay(roundRule(slug, 26), 12)).toBe(22)
  })
})

describe('counts read back', () => {
  const stages = dailyStages(pestOf('montipora-nudibranch')!, 26)!
  const model = { stages, kill: 0.8, eggs: 0.5 }
  const round = (day: number, found: number | null, treated = true): CountedRound => ({
    day,
    found,
    treated,
    seen: 0.5,
  })
  const falling = [round(0, 20), round(3, 7), round(6, 2), round(9, 0), round(12, 0)]
  const later = { days: [15, 18], seen: 0.5 }

  test('each clean look raises the chance that it is over, and none lowers it', () => {
    const verdict = readCounts(model, falling, 12, later)
    expect(verdict.overAfterOne).toBeGreaterThan(verdict.overNow)
    expect(verdict.overAfterTwo).toBeGreaterThan(verdict.overAfterOne)
    let before = readCounts(model, falling.slice(0, 3), 6, later).overNow
    for (let days = 9; days <= 24; days += 3) {
      const zeros = Array.from({ length: (days - 6) / 3 }, (_, i) => round(9 + 3 * i, 0))
      const now = readCounts(model, [...falling.slice(0, 3), ...zeros], days, {
        days: [days + 3, days + 6],
        seen: 0.5,
      }).overNow
      expect(now).toBeGreaterThan(before)
      before = now
    }
    expect(before).toBeGreaterThan(0.9)
  })
  test('counts that do not fall are put down to poor work, counts that do to good work', () => {
    const poor = readCounts(model, [round(0, 20), round(3, 22), round(6, 25), round(9, 30)], 9, later)
    const good = readCounts(model, [round(0, 20), round(3, 4), round(6, 1), round(9, 0)], 9, later)
    expect(poor.kill.mean).toBeLessThan(0.6)
    expect(good.kill.mean).toBeGreaterThan(0.7)
    expect(poor.overNow).toBeLessThan(0.01)
    expect(poor.mobilesLeft).toBeGreaterThan(good.mobilesLeft)
  })
  test('a blank is not a zero', () => {
    const blank = readCounts(model, [round(0, 8), round(3, null), round(6, null)], 6, later)
    const zero = readCounts(model, [round(0, 8), round(3, 0), round(6, 0)], 6, later)
    expect(zero.overNow).toBeGreaterThan(blank.overNow)
  })
  test('simulated tanks: what is called 80 to 100 per cent over is over about so often', () => {
    const random = randomFrom(5)
    let called = 0
    let over = 0
    for (let run = 0; run < 60; run++) {
      // A tank whose slugs do not follow the mean: founders and kill are drawn, each animal dies by itself.
      const kill = 0.65 + 0.3 * random()
      let animals = 1 + Math.floor(20 * random())
      const rounds: CountedRound[] = []
      let waiting = Math.floor(animals * 1.5)
      for (let i = 0; i < 8; i++) {
        let found = 0
        let left = 0
        for (let n = 0; n < animals; n++) {
          if (random() < 0.5) found++
          if (random() >= kill) left++
        }
        rounds.push({ day: 3 * i, found, treated: true, seen: 0.5 })
        // Eggs that were not brushed off hatch between two rounds; adults that lived lay anew.
        const hatched = Array.from({ length: waiting }).filter(() => random() < 0.5 * 0.3).length
        waiting = Math.round(waiting * 0.2 + left * 1.2)
        animals = left + hatched
      }
      const { overNow } = readCounts(model, rounds, 21, { days: [24, 27], seen: 0.5 })
      if (overNow >= 0.8) {
        called++
        if (animals === 0 && waiting === 0) over++
      }
    }
    expect(called).toBeGreaterThan(10)
    expect(over / called).toBeGreaterThan(0.75)
  })
  test('the trend of three counts', () => {
    expect(trendOf([20, 9, 4])).toBe('falling')
    expect(trendOf([10, 11, 10])).toBe('stalled')
    expect(trendOf([4, 9])).toBe('rising')
    expect(trendOf([4])).toBe('unclear')
  })
})

describe('treated against untreated', () => {
  test('the chance that one share is larger: even without news, five in six by one patch each', () => {
    expect(chanceLarger(0, 0, 0, 0)).toBeCloseTo(0.5, 6)
    expect(chanceLarger(1, 1, 0, 1)).toBeCloseTo(5 / 6, 6)
    for (const [s, n, t, m] of [
      [2, 3, 1, 4],
      [5, 5, 0, 3],
    ] as const)
      expect(chanceLarger(s, n, t, m) + chanceLarger(t, m, s, n)).toBeCloseTo(1, 6)
    // Against a simulation of the two laws.
    const random = randomFrom(11)
    const beta = (a: number, b: number) => {
      // The a-th smallest of a + b − 1 draws.
      const draws = Array.from({ length: a + b - 1 }, random).sort((x, y) => x - y)
      return draws[a - 1]!
    }
    let larger = 0
    for (let i = 0; i < 20_000; i++) if (beta(4, 2) > beta(2, 4)) larger++
    expect(Math.abs(chanceLarger(3, 4, 1, 4) - larger / 20_000)).toBeLessThan(0.012)
  })
  test('which arm, by how much; an unfair race is said', () => {
    const patch = (arm: string, piece: string, before: number, after: number) => ({ arm, piece, before, after })
    const fair = compareArms(
      [patch('a', '1', 0, 4), patch('a', '2', 0, 3), patch('b', '3', 0, 0), patch('b', '4', 0, 1)],
      'a',
      'b',
      3,
    )!
    expect(fair).toMatchObject({ ahead: 3, unfair: [] })
    expect(fair.sure).toBeGreaterThan(0.9)
    const lame = compareArms([patch('a', '1', 2, 4), patch('b', '3', 0, 0)], 'a', 'b', 3)!
    expect(lame.unfair).toHaveLength(2)
    expect(compareArms([patch('a', '1', 0, 4)], 'a', 'b', 3)).toBeNull()
  })
})

describe('the jar', () => {
  const start = Date.parse('2026-03-01T10:00:00Z')
  const look = (hours: number, piece: string, values: Record<string, number>): TallyEntry =>
    entryAt(start + hours * HOUR, { kind: 'tally', vesselId: 'v', measure: 'jar', piece, values }) as TallyEntry
  const alive = look(20, 'undosed', { 'small-alive': 5 })
  const dead = (hours: number) => look(hours, 'dosed', { 'small-dead': 6, 'large-dead': 5 })
  const state = (entries: readonly TallyEntry[], hours: number) => jarVerdict(entries, start, start + hours * HOUR)

  test('clear needs two dead looks four hours apart, a living undosed jar, and six hours more', () => {
    expect(state([], 3).state).toBe('no-look')
    expect(state([look(3, 'dosed', { 'small-slow': 1, 'large-dead': 5 })], 4).state).toBe('alive')
    expect(state([dead(18)], 19).state).toBe('no-control')
    expect(state([dead(18), alive], 21).state).toBe('once-dead')
    expect(state([dead(18), alive, dead(20.5)], 21).state).toBe('once-dead')
    const twice = [dead(18), alive, dead(22.5)]
    expect(state(twice, 25)).toMatchObject({ state: 'margin', clearMs: start + 28.5 * HOUR })
    expect(state(twice, 29).state).toBe('clear')
  })
  test('one that moves again starts it anew, and a dead undosed jar proves nothing', () => {
    const moved = look(23, 'dosed', { 'small-alive': 1, 'large-dead': 5 })
    expect(state([dead(18), alive, moved, dead(26)], 40).state).toBe('once-dead')
    expect(state([dead(18), look(20, 'undosed', { 'small-dead': 5 }), dead(23)], 40).state).toBe('void')
  })
  test('hold keeps the level, full climbs under its ceiling', () => {
    expect(redose(0.6, 0.6, 0.5, 1, 'hold')).toEqual({ add: 0.3, level: 0.6 })
    expect(redose(0.6, 0.6, 0.5, 1, 'full').level).toBeCloseTo(0.9, 9)
    // The third full dose: 0.55 at most.
    expect(redose(0.6, 0.9, 0.5, 1, 'full').add).toBeCloseTo(0.55, 9)
  })
})

describe('looks of a day', () => {
  const measure = protocolOf('jelly-run')!.campaign!.measures.find(({ id }) => id === 'neighbours')!
  const start = Date.parse('2027-03-01T08:00:00Z')
  const look = (hours: number, piece: string, state: number) =>
    entryAt(start + hours * HOUR, { kind: 'tally', vesselId: 'v', measure: 'neighbours', piece, values: { state } })
  const values = (...entries: ReturnType<typeof look>[]) =>
    measurePoints(measure, entries, 'UTC').map(({ value }) => value)
  test('what the morning showed is not undone by a better evening', () => {
    expect(values(look(0, 'a', 2), look(0.2, 'b', 0), look(9, 'a', 0), look(9.2, 'b', 1))).toEqual([2, 1])
  })
  test('within three hours the first count is put right, and another piece is the same look', () => {
    expect(values(look(0, 'a', 2), look(2.99, 'a', 0), look(5, 'b', 1))).toEqual([1])
    expect(values(look(0, 'a', 2), look(3, 'a', 0))).toEqual([2, 0])
  })
})

describe('removal by hand', () => {
  test('what really goes is learnt from what stands there next time', () => {
    const forecast = removalForecast(
      [
        { day: 0, before: 100, removed: 100 },
        { day: 7, before: 30, removed: 30 },
        { day: 14, before: 9, removed: 9 },
      ],
      21,
      7,
    )
    expect(forecast.share).toBeGreaterThan(0.7)
    expect(forecast.share).toBeLessThan(0.85)
    expect(forecast.left).toBeGreaterThan(0)
    expect(forecast.passesToOne).toBeGreaterThan(0)
  })
  test('growth that outruns the passes is said, with the longest rhythm that would win', () => {
    const losing = removalForecast(
      [
        { day: 0, before: 20, removed: 4 },
        { day: 14, before: 26, removed: 5 },
      ],
      10,
      14,
    )
    expect(losing.passesToOne).toBeNull()
    expect(losing.longestDays).toBeLessThan(14)
    expect(() => removalForecast([], 21, 7)).toThrow(RangeError)
  })
})

describe('dark days', () => {
  test('limits: rise, multiple and level, the nearest one', () => {
    expect(limitValue({ rise: 10, times: 2 }, 6)).toBe(12)
    expect(limitValue({ rise: 10, times: 2 }, 14)).toBe(24)
    expect(limitValue({ at: 0.25 }, 0.02)).toBe(0.25)
    expect(limitValue({ below: 5 }, 7)).toBe(5)
    expect(limitValue({}, 7)).toBeNull()
  })
  test('a steady value is not called, one that climbs is, and the start is needed', () => {
    const reading = (day: number, value: number) => ({ day, value, sd: 0.4 })
    expect(
      darkForecast(
        [-1, 0, 1, 2].map((day) => reading(day, 8)),
        16,
        3,
      ).call,
    ).toBe(false)
    const climbing = darkForecast([reading(-1, 8), reading(0, 8), reading(1, 9), reading(2, 11.5)], 16, 5)
    expect(climbing.call).toBe(true)
    expect(climbing.beforeEnd).toBeGreaterThan(0.5)
    expect(climbing.crossesDay).not.toBeNull()
    expect(() => darkForecast([], 16, 3)).toThrow(RangeError)
    expect(() => darkForecast([reading(0, 8)], 8, 3)).toThrow(RangeError)
  })
  test('simulated tanks with daily tests: nine in ten are called a day or more before the limit', () => {
    const random = randomFrom(23)
    const gauss = () => Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random())
    let crossed = 0
    let inTime = 0
    for (let run = 0; run < 16; run++) {
      const start = 4 + 12 * random()
      const room = Math.min(10, start)
      // Dying tissue by another law than the forecast's: growing, then thinning out.
      const whole = room * 0.9 * Math.exp(0.4 * gauss())
      const growth = 0.3 + 0.6 * random()
      const value = (day: number) => {
        const rise = day <= 0 ? 0 : (whole * Math.expm1(growth * day)) / Math.expm1(5 * growth)
        return start + rise / (1 + rise / (4 * room))
      }
      let crossesAt: number | null = null
      for (let day = 0; day <= 9 && crossesAt === null; day += 0.05) if (value(day) >= start + room) crossesAt = day
      if (crossesAt === null) continue
      crossed++
      const readings: { day: number; value: number; sd: number }[] = []
      for (let day = -1; day <= 9; day++) {
        const seen = value(day) + Math.max(0.4, 0.1 * value(day)) * gauss()
        readings.push({ day, value: Math.max(0, seen), sd: Math.max(0.4, 0.1 * seen) })
        if (day < 0) continue
        const base = (readings[0]!.value + (readings[1]?.value ?? readings[0]!.value)) / 2
        if (darkForecast(readings, base + Math.min(10, base), 9).call) {
          if (day <= crossesAt - 1) inTime++
          break
        }
      }
    }
    expect(crossed).toBeGreaterThan(10)
    expect(inTime / crossed).toBeGreaterThanOrEqual(0.9)
  }, 60_000)
})

describe('steering', () => {
  const at = (day: number, value: number, sd = 0.1, below = false) => ({ atMs: day * DAY, value, sd, below })

  test('the handbook’s own sum: 8.4 to 8.1 dKH in three days with 1.34 added is 0.55 a day', () => {
    const use = consumption(
      [at(0, 8.4), at(3, 8.1)],
      [1, 2, 2.9].map((day) => ({ atMs: day * DAY, kind: 'dose', amount: 1.34 / 3 })),
    )!
    expect(use.perDay).toBeCloseTo(0.547, 2)
    // A fifth changed with 8.5 at 7.9 adds 0.12: read there, 0.06 went in the day before and 0.06 in the day after.
    const fifth = { kind: 'change' as const, amount: 0.2, mix: 8.5 }
    const read = consumption([at(0, 7.96), at(1, 7.9), at(2, 7.96)], [{ ...fifth, atMs: 1.001 * DAY }])!
    expect(read.perDay).toBeCloseTo(0.06, 3)
    // Not read there, it met what the use had led to: 7.9 − u + 0.2 (0.6 + u) − u = 7.9, so u = 0.12 ÷ 1.8.
    const unread = consumption([at(0, 7.9), at(2, 7.9)], [{ ...fifth, atMs: DAY }])!
    expect(unread.perDay).toBeCloseTo(0.12 / 1.8, 6)
  })
  test('what a mix may be off by widens the band, however many tests there are', () => {
    const tests = Array.from({ length: 40 }, (_, day) => at(day, 400 - (day % 7) * 0.1))
    const changes = (mixSd: number) =>
      [7, 14, 21, 28, 35].map((day) => ({
        kind: 'change' as const,
        atMs: (day - 0.5) * DAY,
        amount: 0.2,
        mix: 400,
        mixSd,
      }))
    const width = (mixSd: number) => {
      const use = consumption(tests, changes(mixSd))!
      return use.high - use.low
    }
    // Five fifths of 10 over 39 days: 0.256 a day, by 1.2816 on either side.
    expect(width(10)).toBeGreaterThan(2 * 1.2816 * (10 / 39))
    expect(width(10)).toBeLessThan(2 * 1.2816 * (10 / 39) + width(0))
  })
  test('a hidden daily use comes back within 15 % from five noisy tests, nine times in ten', () => {
    const random = randomFrom(3)
    const gauss = () => Math.sqrt(-2 * Math.log(random() + 1e-12)) * Math.cos(2 * Math.PI * random())
    let near = 0
    const runs = 200
    for (let run = 0; run < runs; run++) {
      const hidden = 0.4 + 0.8 * random()
      const events: { atMs: number; kind: 'dose' | 'change'; amount: number; mix?: number }[] = []
      const tests = [at(0, 8 + 0.1 * gauss())]
      let value = 8
      for (let day = 1; day <= 12; day++) {
        value -= hidden
        const dose = hidden * (0.6 + 0.8 * random())
        events.push({ atMs: (day - 0.5) * DAY, kind: 'dose', amount: dose })
        value += dose
        if (day === 7) {
          events.push({ atMs: (day - 0.1) * DAY, kind: 'change', amount: 0.15, mix: 8.5 })
          value += 0.15 * (8.5 - value)
        }
        if (day % 3 === 0) tests.push(at(day, value + 0.1 * gauss()))
      }
      if (Math.abs(consumption(tests, events)!.perDay / hidden - 1) <= 0.15) near++
    }
    expect(near / runs).toBeGreaterThanOrEqual(0.9)
  })
  test('a reading under the kit’s step makes it a lower bound; a day is needed; small drifts are not sure', () => {
    expect(consumption([at(0, 2), at(2, 0.1, 0.1, true)], [])).toMatchObject({ atLeast: true, sure: true })
    expect(consumption([at(0, 2), at(0.5, 1)], [])).toBeNull()
    expect(consumption([at(0, 8, 0.3), at(1, 7.9, 0.3)], [])!.sure).toBe(false)
  })
  test('the dose: gap and use within the day’s limit; nothing above the target, nothing on an old test', () => {
    const base = {
      reading: at(0, 2),
      nowMs: 0,
      raisedSince: 0,
      use: null,
      target: 10,
      limitPerDay: 2,
      raisedToday: 0,
      everyDays: 1,
    }
    expect(steer(base)).toMatchObject({ rise: 2, days: 4, reason: 'raise' })
    expect(steer({ ...base, raisedToday: 2 })).toMatchObject({ rise: 0, reason: 'limit' })
    expect(steer({ ...base, reading: at(0, 12) })).toMatchObject({ rise: 0, reason: 'above' })
    expect(steer({ ...base, nowMs: 5 * DAY })).toMatchObject({ rise: 0, reason: 'stale' })
    const use = consumption([at(-4, 10), at(-2, 8), at(0, 10)], [{ atMs: -DAY, kind: 'dose', amount: 4 }])!
    const hold = steer({ ...base, reading: at(0, 10), use })
    expect(hold.reason).toBe('hold')
    expect(hold.rise).toBeCloseTo(use.perDay, 6)
  })
  test('silicate: the zero after a day is no missed dose, a low first hour asks for a spike', () => {
    const base = {
      target: 1,
      afterHour: 0.9,
      afterDay: 0.1,
      kitStep: 0.25,
      lastRise: 1,
      daysSinceRaise: 5,
      unmeasured14: 4,
    }
    const dose = silicateDose(base)
    expect(dose).toMatchObject({ verdict: 'dose', atLeast: true })
    expect(dose.rise).toBeCloseTo(1.45, 9)
    // No second raise within three days, and never half as much again.
    expect(silicateDose({ ...base, daysSinceRaise: 1 }).rise).toBe(1)
    expect(silicateDose({ ...base, target: 2 }).rise).toBe(1.5)
    expect(silicateDose({ ...base, afterHour: 0.4 }).verdict).toBe('spike-test')
    expect(silicateDose({ ...base, afterHour: 0.4, spike: 1 }).verdict).toBe('kit-or-stock')
    expect(silicateDose({ ...base, afterHour: 0.4, spike: 2 }).verdict).toBe('dose')
    expect(silicateDose({ ...base, afterDay: 3.5 }).verdict).toBe('stop')
    expect(silicateDose({ ...base, unmeasured14: 15 }).verdict).toBe('pause')
    expect(silicateDose({ ...base, afterDay: null }).verdict).toBe('test')
    // An hour that nobody tested does not come back: the same again, never more, and less where some is left.
    expect(silicateDose({ ...base, afterHour: null, target: 2 })).toMatchObject({ verdict: 'again', rise: 1 })
    expect(silicateDose({ ...base, afterHour: null, afterDay: 0.75 })).toMatchObject({ verdict: 'again', rise: 0.25 })
    expect(silicateDose({ ...base, lastRise: 0 })).toMatchObject({ verdict: 'first', rise: 1 })
  })
  test('what no scale shows is a portion of a stock solution', () => {
    expect(stockPortion(0.1)).toBeNull()
    expect(stockPortion(0)).toBeNull()
    expect(stockPortion(0.099)).toEqual({ gramsPerL: 10, mL: 9.9 })
    expect(stockPortion(0.004)).toEqual({ gramsPerL: 1, mL: 4 })
  })
  test('changes are cut to their limits', () => {
    // 1.2 to 0.5 with clean water is 58 %: four quarters at most.
    const plan = changesTo(1.2, 0.5, 0, [{ what: 'alkalinity', gap: 1, most: 0.5 }])!
    expect(plan.changes).toBe(4)
    expect(plan.ends).toBeCloseTo(0.5, 9)
    const held = changesTo(40, 20, 0, [{ what: 'alkalinity', gap: 5, most: 0.5 }])!
    expect(held).toMatchObject({ limitedBy: 'alkalinity', changes: 7 })
    expect(changesTo(10, 5, 8, [])).toBeNull()
  })
  test('a share that was counted has its interval', () => {
    const { low, high } = shareInterval(52, 100)
    expect(low).toBeGreaterThan(44)
    expect(high).toBeLessThan(60)
    expect(shareInterval(0, 0)).toEqual({ low: 0, high: 100 })
  })
})
