// Minutes of devices: which hours are kept, what is said at once, and whether a dose is seen in the water.
import { describe, expect, test } from '@jest/globals'
import { deviceAlarms, doserProof, hoursOf, type Entry, type MinuteRow } from '../src/index.ts'
import { chanceFrom } from '../src/world.ts'
import { activeOf, after, asked, DAY, documentOf, entryAgo, NOW, read, reefWith } from './reef.ts'

const MINUTE = 60_000
const HOUR = 60 * MINUTE
/** Minutes up to an instant, a value each; the last minute is the one before it. */
const minutesUpTo = (endMs: number, count: number, value: (i: number) => number, spread = 0.02): MinuteRow[] =>
  Array.from({ length: count }, (_, i) => {
    const median = value(i)
    return { at: endMs - (count - i) * MINUTE, median, low: median - spread, high: median + spread, n: 60 }
  })
const hour0 = Math.floor(NOW / HOUR) * HOUR

describe('an hour', () => {
  test('is the middle of its minutes; the one that is running is none', () => {
    const rows = minutesUpTo(hour0 + 30 * MINUTE, 90, (i) => 25 + (i === 7 ? 10 : 0))
    const hours = hoursOf('temperature', rows, 0, hour0 + 30 * MINUTE)
    expect(hours).toHaveLength(1)
    expect(hours[0]).toMatchObject({ atMs: hour0 - 30 * MINUTE, value: 25, n: 3600 })
    expect(hours[0]!.high).toBeLessThan(26)
  })
  test('with too few minutes, of what cannot be, or of a probe that stands still is not kept', () => {
    expect(
      hoursOf(
        'temperature',
        minutesUpTo(hour0, 19, () => 25),
        0,
        hour0,
      ),
    ).toEqual([])
    expect(
      hoursOf(
        'ph',
        minutesUpTo(hour0, 60, () => 14),
        0,
        hour0,
      ),
    ).toEqual([])
    const still = minutesUpTo(hour0, 300, () => 8.12, 0)
    // The first hours pass: nobody can know then. From the third on it is a fault.
    expect(hoursOf('ph', still, 0, hour0).length).toBeLessThanOrEqual(2)
    expect(
      hoursOf(
        'ph',
        minutesUpTo(hour0, 300, (i) => 8.1 + 0.01 * (i % 3)),
        0,
        hour0,
      ),
    ).toHaveLength(5)
  })
  test('is kept once on the ledger, with its reach, as the reading of its own probe', () => {
    const head = documentOf('device', 'head', { name: 'Head', sort: 'probe-head', vesselId: 'reef', address: 'a' })
    const probe = documentOf('instrument', 'p', {
      name: 'Head, temperature',
      analyte: 'temperature',
      method: 'probe',
      step: 0.1,
      relativeError: 0.004,
      deviceId: 'head',
    })
    const record = reefWith([head, probe], [])
    const row = { quantity: 'temperature', atMs: NOW - HOUR, value: 25.4, low: 25.3, high: 25.5, n: 3600 }
    const kept = activeOf(
      after(record, {
        kind: 'device-hours',
        deviceId: 'head',
        rows: [row, { ...row, quantity: 'level' }, { ...row, quantity: 'ph', value: 14 }],
      }),
    ).filter((entry) => entry.kind === 'reading')
    expect(kept).toHaveLength(1)
    expect(kept[0]).toMatchObject({
      analyte: 'temperature',
      value: 25.4,
      instrumentId: 'p',
      spread: { low: 25.3, high: 25.5, n: 3600 },
    })
    expect(
      asked(record, { kind: 'device-hours', deviceId: 'head', rows: [{ ...row, atMs: NOW + HOUR }] }).problem,
    ).not.toBeNull()
    expect(asked(record, { kind: 'device-hours', deviceId: 'gone', rows: [row] }).problem).toMatch(/not registered/)
  })
})

describe('an alarm', () => {
  const record = reefWith([], [])
  const vessel = record.vessels.get('reef')!
  const head = documentOf('device', 'head', { name: 'Head', sort: 'probe-head', vesselId: 'reef' }) as never
  const said = (quantity: string, rows: readonly MinuteRow[]) => deviceAlarms(quantity, rows, head, vessel, NOW)
  const ids = (quantity: string, rows: readonly MinuteRow[]) =>
    said(quantity, rows).map(({ id }) => id.replace(`device-head-${quantity}-`, ''))
  test('nothing is said of water that is as it should be', () => {
    expect(
      ids(
        'temperature',
        minutesUpTo(NOW, 180, (i) => 25.5 + 0.02 * (i % 5)),
      ),
    ).toEqual([])
    expect(
      ids(
        'level',
        minutesUpTo(NOW, 180, (i) => -0.5 - 0.01 * (i % 5)),
      ),
    ).toEqual([])
  })
  test('silence is said, at once where nothing was ever heard', () => {
    expect(ids('ph', [])).toEqual(['silent'])
    expect(
      ids(
        'ph',
        minutesUpTo(NOW - 9 * MINUTE, 60, (i) => 8.1 + 0.01 * (i % 3)),
      ),
    ).toEqual([])
    expect(
      ids(
        'ph',
        minutesUpTo(NOW - 12 * MINUTE, 60, (i) => 8.1 + 0.01 * (i % 3)),
      ),
    ).toEqual(['silent'])
  })
  test('a probe that reads fourteen, and one that stands still', () => {
    expect(
      ids(
        'ph',
        minutesUpTo(NOW, 60, () => 14),
      ),
    ).toEqual(['impossible'])
    expect(
      ids(
        'ph',
        minutesUpTo(NOW, 119, () => 8.1, 0),
      ),
    ).toEqual([])
    expect(
      ids(
        'ph',
        minutesUpTo(NOW, 130, () => 8.1, 0),
      ),
    ).toEqual(['stuck'])
  })
  test('a heater that does not switch off is a danger within the quarter of an hour, and says what to do', () => {
    // Four degrees an hour from 26: over 27 after a quarter.
    const alarms = said(
      'temperature',
      minutesUpTo(NOW, 90, (i) => 24 + (4 * i) / 60),
    )
    expect(alarms).toHaveLength(1)
    expect(alarms[0]).toMatchObject({ tone: 'danger' })
    expect(alarms[0]!.detail).toMatch(/Pull the heater’s plug/)
    expect(
      ids(
        'temperature',
        minutesUpTo(NOW, 90, (i) => 24.2 + (1.5 * i) / 60),
      ),
    ).toEqual(['fast'])
  })
  test('a few odd minutes are no alarm', () => {
    expect(
      ids(
        'temperature',
        minutesUpTo(NOW, 180, (i) => (i > 176 ? 31 : 25.5 + 0.02 * (i % 5))),
      ),
    ).toEqual([])
  })
  test('water far below its mark', () => {
    expect(
      ids(
        'level',
        minutesUpTo(NOW, 30, (i) => -2.5 - 0.01 * (i % 5)),
      ),
    ).toEqual(['low'])
  })
})

describe('a dose is proved by the level it caused', () => {
  const doser = documentOf('device', 'pump', {
    name: 'Pump',
    sort: 'doser',
    vesselId: 'reef',
    doser: { correction: 'alkalinity', salt: 'sodium-bicarbonate', gramsPerL: 50, mlPerDay: 60, portions: 4 },
  })
  const RISE = 0.008344 * 60
  /** Twenty-four days of a tank that uses half a dKH a day; the pump says it pours all the time, and does until a day. */
  const lived = (seed: number, dryAgo: number, sd: number) => {
    const chance = chanceFrom(seed)
    const entries: Entry[] = []
    let level = 8.2
    for (let ago = 24; ago >= 0; ago--) {
      level += (ago > dryAgo ? RISE : 0) - 0.5
      entries.push(
        entryAgo(
          { kind: 'tally', measure: 'add-alkalinity', values: { rise: RISE, grams: 3 }, deviceId: 'pump' },
          ago + 0.5,
        ),
      )
      entries.push(read('alkalinity', level + chance.normal(0, sd), ago, { instrumentId: 'fine' }))
    }
    const fine = documentOf('instrument', 'fine', {
      name: 'Fine',
      analyte: 'alkalinity',
      method: 'photometer',
      step: 0.1,
      relativeError: 0.01,
    })
    const record = reefWith([doser, fine], entries)
    return doserProof(record, activeOf(record), record.devices.get('pump')!, NOW)
  }
  test('over seeds: what arrives is never called missing, a dry pump is found within a week', () => {
    const verdicts = (dryAgo: number) => Array.from({ length: 30 }, (_, seed) => lived(seed + 1, dryAgo, 0.06).verdict)
    expect(verdicts(-1).filter((verdict) => verdict === 'missing')).toEqual([])
    expect(verdicts(-1).filter((verdict) => verdict === 'shows').length).toBeGreaterThan(24)
    expect(verdicts(6).filter((verdict) => verdict === 'missing').length).toBeGreaterThan(27)
  })
  test('with few tests it is open, and says which would prove it', () => {
    const record = reefWith(
      [doser],
      [
        read('alkalinity', 8, 1),
        entryAgo({ kind: 'tally', measure: 'add-alkalinity', values: { rise: 0.1, grams: 1 }, deviceId: 'pump' }, 2),
      ],
    )
    const proof = doserProof(record, activeOf(record), record.devices.get('pump')!, NOW)
    expect(proof).toMatchObject({ verdict: 'open', working: null })
    expect(proof.words).toMatch(/three tests over three days/)
  })
  test('a portion it says it poured stands on the ledger by its stock', () => {
    const record = reefWith([doser], [])
    const kept = activeOf(after(record, { kind: 'device-poured', deviceId: 'pump', mL: 15, atMs: NOW - HOUR })).find(
      (entry) => entry.kind === 'tally',
    )
    expect(kept).toMatchObject({ deviceId: 'pump', measure: 'add-alkalinity', note: 'Sodium bicarbonate' })
    expect(kept?.kind === 'tally' && kept.values['rise']).toBeCloseTo(15 * 0.008344, 4)
    expect(asked(record, { kind: 'device-poured', deviceId: 'pump', mL: 0, atMs: NOW - DAY }).problem).not.toBeNull()
  })
})
