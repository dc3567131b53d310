// What a doser pours without telling of it: part of the trend, of what is used up, of every limit and of the plan.
import { describe, expect, test } from '@jest/globals'
import { correctionOf, correctionSet, instantOf, saltGrams, steerState, waterLines, type Entry } from '../src/index.ts'
import { doserConcerns } from '../src/laboratory/concerns.ts'
import { doserProof } from '../src/devices/watch.ts'
import { pouredByDosers, risePerDayByDosers } from '../src/outbreak/dosers.ts'
import { activeOf, asked, DAY, documentOf, entryAgo, NOW, read, reefWith, rules } from './reef.ts'

const bicarbonate = correctionOf('alkalinity')!.salts.find(({ id }) => id === 'sodium-bicarbonate')!
/** mL a day of a 60 g/L stock that raise 200 L by so many dKH. */
const mlFor = (rise: number) => (1000 * saltGrams(rise, bicarbonate, 200)) / 60
const setTo = (rise: number, more: object = {}) => ({
  name: 'Pump',
  sort: 'doser',
  vesselId: 'reef',
  ...more,
  doser: { correction: 'alkalinity', salt: 'sodium-bicarbonate', gramsPerL: 60, mlPerDay: mlFor(rise), portions: 12 },
})
/** A pump that was named some days ago and set to a rise a day. */
const pump = (rise: number, daysAgo: number, more: object = {}) => ({
  ...documentOf('device', 'pump', setTo(rise, more)),
  savedAt: instantOf(NOW - daysAgo * DAY),
})
const switched = (on: boolean, ago: number) => entryAgo({ kind: 'equipment', item: 'doser', on, deviceId: 'pump' }, ago)
const told = (rise: number, ago: number) =>
  entryAgo(
    { kind: 'tally', measure: 'add-alkalinity', values: { rise, grams: 1 }, deviceId: 'pump', note: bicarbonate.label },
    ago,
  )
/** Ten days of a fall of 0.2 dKH a day to 6.2, then what follows. */
const fallen = [18, 16, 14, 12, 10, 8].map((ago) => read('alkalinity', 6.2 + 0.2 * (ago - 8), ago))
const poured = (documents: Parameters<typeof reefWith>[0], entries: readonly Entry[], fromDays: number) => {
  const record = reefWith(documents, entries)
  return pouredByDosers(record, activeOf(record), 'reef', NOW - fromDays * DAY, NOW)
}
const sum = (list: readonly { readonly rise: number }[]) => list.reduce((all, { rise }) => all + rise, 0)

describe('what a doser poured', () => {
  test('by its setting, from the day that it was named', () => {
    expect(sum(poured([pump(0.2, 8)], [], 30))).toBeCloseTo(1.6, 6)
    expect(sum(poured([pump(0.2, 8)], [], 3))).toBeCloseTo(0.6, 6)
    expect(poured([pump(0.2, 8)], [], 30).every(({ atMs }) => atMs > NOW - 8 * DAY && atMs < NOW)).toBe(true)
  })
  test('since the day that its keeper says, and by each setting while it stood', () => {
    const body = { ...setTo(0.2), doser: { ...setTo(0.2).doser, sinceAt: instantOf(NOW - 5 * DAY) } }
    const since = { ...documentOf('device', 'pump', body), savedAt: instantOf(NOW - DAY) }
    expect(sum(poured([since], [], 30))).toBeCloseTo(1, 6)
    const twice = {
      ...pump(0.3, 2),
      revision: 2,
      history: [{ revision: 1, savedAt: instantOf(NOW - 8 * DAY), body: setTo(0.1) }],
    } as ReturnType<typeof pump>
    // Six days at 0.1 and two at 0.3.
    expect(sum(poured([twice], [], 30))).toBeCloseTo(1.2, 6)
  })
  test('nothing while it is paused, put away, in another vessel, or has a wire and is silent', () => {
    expect(sum(poured([pump(0.2, 8)], [switched(false, 5), switched(true, 3.5)], 30))).toBeCloseTo(0.2 * 6.5, 6)
    expect(sum(poured([pump(0.2, 8, { retiredAt: instantOf(NOW - 2 * DAY) })], [], 30))).toBeCloseTo(1.2, 6)
    expect(poured([pump(0.2, 8, { vesselId: 'other' })], [], 30)).toEqual([])
    expect(poured([pump(0.2, 8, { address: 'd1' })], [], 30)).toEqual([])
  })
  test('once, where it tells of its portions', () => {
    const daily = [7, 6, 5, 4, 3, 2, 1, 0].map((ago) => told(0.25, ago))
    expect(sum(poured([pump(0.2, 8)], daily, 30))).toBeCloseTo(2, 6)
    // Silent since five days: its setting counts again, a day and a half after its last portion.
    expect(sum(poured([pump(0.2, 8)], daily.slice(0, 3), 30))).toBeCloseTo(0.75 + 0.2 * 3.5, 1)
  })
  test('from now on: its setting, none of one that is paused or silent', () => {
    const rate = (documents: Parameters<typeof reefWith>[0], entries: readonly Entry[] = []) => {
      const record = reefWith(documents, entries)
      return risePerDayByDosers(record, activeOf(record), 'reef', 'alkalinity', NOW)
    }
    expect(rate([pump(0.2, 8)])).toBeCloseTo(0.2, 6)
    expect(rate([pump(0.2, 8)], [switched(false, 1)])).toBe(0)
    expect(rate([pump(0.2, 8, { address: 'd1' })])).toBe(0)
    expect(rate([pump(0.2, 8, { address: 'd1' })], [told(0.02, 0.1)])).toBeCloseTo(0.2, 6)
  })
})

describe('eight days of a pump in a tank that uses as much', () => {
  const held = [...fallen, read('alkalinity', 6.2, 4), read('alkalinity', 6.2, 0.1)]
  const lineOf = (entries: readonly Entry[]) => {
    const record = reefWith([pump(0.2, 8)], entries)
    const active = activeOf(record)
    return {
      line: waterLines(record, active, 'reef', NOW).find(({ analyte }) => analyte === 'alkalinity')!,
      state: steerState(record, active, 'reef', 'alkalinity', NOW)!,
      day: correctionSet(record, active, 'reef', ['alkalinity'], NOW).days[0]!,
    }
  }
  test('falls no more, is used up as before, and stands where it was read', () => {
    const { line, state } = lineOf(held)
    expect(line.moves!.perDay).toBeCloseTo(0, 2)
    expect(line.use!.perDay).toBeCloseTo(0.2, 2)
    expect(line.nowValue).toBeCloseTo(6.2, 1)
    expect(state.use!.perDay).toBeCloseTo(0.2, 2)
    expect(state.putBack).toBeCloseTo(0, 2)
    expect(state.dose!.now).toBeCloseTo(6.2, 1)
    // What is offered now puts back nothing that the pump puts back.
    expect(state.rise).toBeCloseTo(correctionOf('alkalinity')!.perDay, 2)
    // A pump is nobody's portion: nothing is being raised.
    expect(state).toMatchObject({ poured: 0, raisedToday: 0, going: false, begun: false })
  })
  test('without the pump in it the same tests would read as a fall', () => {
    const record = reefWith([], held)
    const line = waterLines(record, activeOf(record), 'reef', NOW).find(({ analyte }) => analyte === 'alkalinity')!
    expect(line.moves!.perDay).toBeLessThan(-0.08)
  })
  test('paused two days ago, it falls again from there', () => {
    const { line, state } = lineOf([
      ...fallen,
      read('alkalinity', 6.2, 4),
      read('alkalinity', 6.2, 2),
      switched(false, 2),
    ])
    expect(line.moves!.perDay).toBeCloseTo(-0.2, 2)
    expect(line.nowValue).toBeCloseTo(5.8, 1)
    expect(state.dose!.now).toBeCloseTo(5.8, 1)
    expect(state.putBack).toBeCloseTo(0.2, 2)
  })
  test('a day’s portions leave out what the pump puts back, and hold it where it is paused', () => {
    const pace = correctionOf('alkalinity')!.perDay
    expect(lineOf(held).day.adds[0]!.rise).toBeCloseTo(pace, 2)
    expect(lineOf([...held, switched(false, 0.05)]).day.adds[0]!.rise).toBeCloseTo(pace + 0.2, 1)
  })
})

test('while it is raised by hand, a paused pump is no worry; when nothing is, it is', () => {
  const ids = (entries: readonly Entry[]) => {
    const record = reefWith([pump(0.2, 20)], [...fallen, switched(false, 3), ...entries])
    return doserConcerns(record, activeOf(record), NOW).map(({ id }) => id)
  }
  const byHand = (ago: number) =>
    entryAgo(
      { kind: 'tally', measure: 'add-alkalinity', values: { rise: 0.6, grams: 1 }, note: bicarbonate.label },
      ago,
    )
  expect(ids([])).toEqual(['paused-pump'])
  expect(ids([read('alkalinity', 6, 2), byHand(1.9), byHand(0.9)])).toEqual([])
})

describe('limits', () => {
  const { perDay, perDayMax } = correctionOf('alkalinity')!
  const steady = [read('alkalinity', 6.5, 2), read('alkalinity', 6.5, 0.1)]
  const grams = (rise: number) => String(Number(saltGrams(rise, bicarbonate, 200).toPrecision(6)))
  const pour = (rise: number) =>
    ({
      kind: 'correction',
      vesselId: 'reef',
      correction: 'alkalinity',
      salt: 'sodium-bicarbonate',
      grams: grams(rise),
    }) as never
  test('what a pump pours in a day is in the most of that day', () => {
    const rise = perDayMax - 0.1
    expect(rules(reefWith([], steady), pour(rise))).not.toContain('correction-over-limit')
    // The pump pours 0.6, all of it used up; the water sees no more than before.
    expect(rules(reefWith([pump(0.6, 8)], steady), pour(rise))).not.toContain('correction-over-limit')
    // It pours what nothing uses: named since a day, no test has told of any use.
    const over = asked(reefWith([pump(0.6, 1)], [read('alkalinity', 6.5, 0.1)]), pour(rise))
    expect(over.refusals.map(({ rule }) => rule)).toContain('correction-over-limit')
  })
  test('a pump that pours more than is used takes up the pace of the plan', () => {
    // Two days of 0.5 over what is used: 6.0 to 7.0.
    const entries = [read('alkalinity', 6, 2), read('alkalinity', 6.5, 1), read('alkalinity', 7, 0.05)]
    const record = reefWith([pump(0.5, 8)], entries)
    const set = correctionSet(record, activeOf(record), 'reef', ['alkalinity'], NOW)
    expect(set.days[0]!.adds[0]!.rise).toBeLessThanOrEqual(perDay - 0.5 + 0.1)
  })
})

test('a pump that only is named is proved by the water as well', () => {
  const entries = [...Array(25).keys()].map((i) => {
    const ago = 24 - i
    // It runs dry ten days ago: from then on half a dKH a day is missing.
    return read('alkalinity', 8 - 0.5 * Math.max(0, 10 - ago), ago)
  })
  const record = reefWith([pump(0.5, 30)], entries)
  const proof = doserProof(record, activeOf(record), record.devices.get('pump')!, NOW)
  expect(proof.verdict).toBe('missing')
  const fine = reefWith(
    [pump(0.5, 30)],
    entries.map((entry) => ({ ...entry, value: 8 }) as Entry),
  )
  expect(doserProof(fine, activeOf(fine), fine.devices.get('pump')!, NOW).verdict).toBe('shows')
})
