// Tables: the cases kept as files, and each rule by a small table written for it.
import { readFileSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { ANALYTES, instantOf, type Analyte, type Entry } from '../src/index.ts'
import { readTable, writeTable, type TableAnswers, type TableKind } from '../src/tables.ts'
import { runTables } from './tables/runTables.ts'

const CASES = join(import.meta.dirname, 'tables/cases')
const NOW = Date.parse('2026-11-01T12:00:00Z')
const bytes = (text: string) => new TextEncoder().encode(text)
const read = (text: string, answers: TableAnswers = {}, kind: TableKind = 'readings', zone = 'Europe/Berlin') =>
  readTable(bytes(text), kind, zone, NOW, answers)
const asked = (text: string, answers: TableAnswers = {}, kind: TableKind = 'readings') =>
  read(text, answers, kind)
    .asks.map(({ id }) => id)
    .sort()
/** "2026-02-03 08:30 alkalinity 8.2 dKH", bound and vessel only where they are not plain. */
const lines = (text: string, answers: TableAnswers = {}, kind: TableKind = 'readings', zone?: string) =>
  read(text, answers, kind, zone).readings.map(({ day, time, analyte, value, unit, bound, vessel }) =>
    [day, time, analyte, Number(value.toPrecision(4)), unit, bound === 'exact' ? null : bound, vessel]
      .filter((part) => part !== null)
      .join(' '),
  )

describe('cases kept as files', () => {
  const results = runTables(CASES)
  test.each(results.map(({ name, faults }) => [name, faults] as const))('%s', (_, faults) => {
    expect(faults).toEqual([])
  })
  test('there are as many as files', () => {
    expect(results).toHaveLength(readdirSync(CASES).filter((name) => name.endsWith('.expect.json')).length)
  })
})

describe('numbers', () => {
  test('three digits behind the only mark are asked about; another count settles the file', () => {
    const open = 'Date;Mg (mg/L)\n2026-02-01;1,025\n2026-02-02;1,310\n'
    expect(asked(open)).toEqual(['decimal'])
    expect(read(open).readings).toEqual([])
    expect(lines(open, { decimal: 'point' })).toContain('2026-02-02 magnesium 1310 mg/L')
    expect(lines(open, { decimal: 'comma' })).toContain('2026-02-02 magnesium 1.31 mg/L')
    expect(lines('Date;Mg (mg/L);Temp (°C)\n2026-02-01;1.310;25,4\n')).toEqual([
      '2026-02-01 magnesium 1310 mg/L',
      '2026-02-01 temperature 25.4 °C',
    ])
    expect(asked('Date;PO4 (mg/L)\n2026-02-01;0,125\n')).toEqual([])
    // Thousands are grouped in threes: four digits before the mark make it a decimal one.
    expect(lines('Date;Mg (mg/L)\n2026-02-01;1310.125\n')).toEqual(['2026-02-01 magnesium 1310 mg/L'])
  })
  test('thousands by space and apostrophe, a star, a bound, a unit in the cell', () => {
    expect(lines("Date;Mg (mg/L)\n2026-02-01;1 310\n2026-02-02;1'290\n2026-02-03;1’280*\n")).toEqual([
      '2026-02-01 magnesium 1310 mg/L',
      '2026-02-02 magnesium 1290 mg/L',
      '2026-02-03 magnesium 1280 mg/L',
    ])
    expect(lines('Date;PO4 (mg/L)\n2026-02-01;≤ 0.02\n2026-02-02;≥1.5\n2026-02-03;30 µg/L\n')).toEqual([
      '2026-02-01 phosphate 0.02 mg/L below',
      '2026-02-02 phosphate 1.5 mg/L above',
      '2026-02-03 phosphate 0.03 mg/L',
    ])
  })
  test('what is no number is named with its line', () => {
    const { skipped, readings } = read(
      'Date,pH\n2026-02-01,=8.3\n2026-02-02,8.1-8.3\n2026-02-03,trace\n2026-02-04,-8\n2026-02-05,15\n2026-02-06,+8.2\n2026-02-07,-A1\n2026-02-08,@x\n2026-02-09,#REF!\n',
    )
    expect(skipped.map(({ line }) => line)).toEqual([2, 3, 4, 5, 6, 8, 9, 10])
    expect(readings.map(({ value }) => value)).toEqual([8.2])
  })
})

describe('dates', () => {
  test.each([
    ['3. März 2026', '2026-03-03'],
    ['Mar 3, 2026', '2026-03-03'],
    ['Tue 3-Mar-26', '2026-03-03'],
    ['03.03.26', '2026-03-03'],
    ['2026/03/03', '2026-03-03'],
    ['46084', '2026-03-03'],
    ['46084.354167', '2026-03-03 08:30'],
    ['2026-03-03T06:30:00Z', '2026-03-03 07:30'],
    ['2026-03-03T23:30:00-05:00', '2026-03-04 05:30'],
    ['3.3.2026 18.05 Uhr', '2026-03-03 18:05'],
    ['2026-03-03 8:05 PM', '2026-03-03 20:05'],
  ])('%s', (written, meant) => {
    expect(lines(`Date;KH (dKH)\n${written};8\n`)).toEqual([`${meant} alkalinity 8 dKH`])
  })
  test('one part over twelve settles the file; rows that contradict each other are asked about', () => {
    expect(lines('Date,KH (dKH)\n03/04/2026,8\n25/04/2026,8\n')[0]).toMatch(/^2026-04-03/)
    expect(asked('Date,KH (dKH)\n13/04/2026,8\n04/13/2026,8\n')).toEqual(['date-order'])
    // A year of two digits may stand first or last.
    expect(asked('Date,KH (dKH)\n26/02/03,8\n26/02/14,8\n')).toEqual(['date-order'])
    expect(lines('Date,KH (dKH)\n26/02/03,8\n26/02/14,8\n', { 'date-order': 'ymd' })).toEqual([
      '2026-02-03 alkalinity 8 dKH',
      '2026-02-14 alkalinity 8 dKH',
    ])
    // A date of another column settles it too.
    expect(asked('Date,Received,KH (dKH)\n03/04/2026,25/04/2026,8\n')).toEqual([])
  })
  test('a day to come, no such day and no day are named', () => {
    const { skipped } = read('Date,pH\n,8\n2026-12-01,8\n2026-02-30,8\n2026-11-01 14:00,8\n2026-10-01,8.2\n')
    expect(skipped.map(({ line }) => line)).toEqual([2, 3, 4, 5])
  })
  test('an empty date takes the one above, and its time where the row has none', () => {
    expect(lines('Date,Time,pH\n2026-02-01,08:00,8.1\n,,8.2\n,09:15,8.3\n2026-02-02,,8.4\n')).toEqual([
      '2026-02-01 08:00 ph 8.1 pH',
      '2026-02-01 08:00 ph 8.2 pH',
      '2026-02-01 09:15 ph 8.3 pH',
      '2026-02-02 ph 8.4 pH',
    ])
  })
})

describe('units and species', () => {
  test('what the head says', () => {
    expect(
      lines(
        'Date,Nitrate as N (ppm),NO2-N mg/L,PO4-P µg/l,NH4-N [mg/l],Si ppm,Alk meq/L,GH °dH,Temp °F,SG,EC µS/cm,Lux\n2026-02-01,1,0.1,30,0.2,1,3,8,78,1.026,53000,4000\n',
      ),
    ).toEqual([
      '2026-02-01 nitrate 4.427 mg/L',
      '2026-02-01 nitrite 0.3284 mg/L',
      '2026-02-01 phosphate 0.09198 mg/L',
      '2026-02-01 ammonia-total 0.2 mg/L',
      '2026-02-01 silicate 2.139 mg/L',
      '2026-02-01 alkalinity 8.412 dKH',
      '2026-02-01 gh 8 dGH',
      '2026-02-01 temperature 25.56 °C',
      '2026-02-01 salinity 34.51 ppt',
      '2026-02-01 conductivity 53 mS/cm',
      '2026-02-01 par 4000 lux',
    ])
  })
  test('ions are what they are of; what is no test is left alone, whatever its unit', () => {
    expect(
      lines(
        'Date,Ca²⁺ (mg/L),NO₃⁻ ppm,PO₄³⁻ mg/l,K+ mg/L,Feed (g),Water change (%),KH dose mL\n2026-02-01,420,5,0.05,400,3,20,7\n',
      ),
    ).toEqual([
      '2026-02-01 calcium 420 mg/L',
      '2026-02-01 nitrate 5 mg/L',
      '2026-02-01 phosphate 0.05 mg/L',
      '2026-02-01 potassium 400 mg/L',
    ])
  })
  test('sizes settle alkalinity, salinity and temperature, or ask', () => {
    expect(lines('Date,KH,Temp,Salinity\n2026-02-01,143,78,53.1 mS/cm\n').map((one) => one.slice(11))).toEqual([
      'alkalinity 8.012 dKH',
      'temperature 25.56 °C',
      expect.stringMatching(/^salinity 3[45]\.?\d* ppt/),
    ])
    expect(asked('Date,KH,Temp,Salinity\n2026-02-01,3,50,12\n2026-02-02,8,25,35\n')).toEqual([
      'unit:alkalinity',
      'unit:salinity',
      'unit:temperature',
    ])
    const mixed = 'Date,KH\n2026-02-01,8\n2026-02-02,150\n2026-02-03,30\n'
    expect(asked(mixed)).toEqual(['unit:alkalinity'])
    const bySize = read(mixed, { 'unit:alkalinity': 'by-size' })
    expect(bySize.readings.map(({ value }) => Number(value.toFixed(2)))).toEqual([8, 8.4])
    expect(bySize.skipped.map(({ line }) => line)).toEqual([4])
  })
  test('phosphate of five and more is asked about; parts per billion of phosphorus are turned', () => {
    const table = 'Date,PO4\n2026-02-01,18\n'
    expect(asked(table)).toEqual(['unit:phosphate'])
    expect(lines(table, { 'unit:phosphate': 'ppb P' })).toEqual(['2026-02-01 phosphate 0.05519 mg/L'])
  })
})

describe('layouts', () => {
  test('without a head, columns are asked for by their place', () => {
    const table = '2026-02-01,8.1,420\n2026-02-02,8.2,425\n'
    expect(asked(table)).toEqual(['column:2', 'column:3'])
    expect(lines(table, { 'column:2': 'ph', 'column:3': 'ignore' })).toEqual([
      '2026-02-01 ph 8.1 pH',
      '2026-02-02 ph 8.2 pH',
    ])
  })
  test('a title over each of several blocks is a vessel, one over the whole is none', () => {
    const two = 'Reef\nDate,pH\n2026-02-01,8.1\n\nBox\nDate,pH\n2026-02-01,7.9\n'
    expect(asked(two)).toEqual(['vessel'])
    expect(read(two).vesselColumn).toBe(true)
    expect(lines(two, { vessel: 'Box' })).toEqual(['2026-02-01 ph 7.9 pH Box'])
    const one = read('Reef\nDate,pH\n2026-02-01,8.1\n')
    expect(one.vesselColumn).toBe(false)
    expect(one.asks).toEqual([])
  })
  test('rows of parameters and columns of days', () => {
    expect(lines('Parameter;01.02.2026;08.02.2026\nKH (dKH);8,1;8,0\nCa (mg/L);420;\n')).toEqual([
      '2026-02-01 alkalinity 8.1 dKH',
      '2026-02-08 alkalinity 8 dKH',
      '2026-02-01 calcium 420 mg/L',
    ])
  })
  test('a head that comes again on a new page goes on with the day above', () => {
    expect(lines('Date,pH\n2026-02-01,8.1\nDate,pH\n,8.2\n')).toEqual(['2026-02-01 ph 8.1 pH', '2026-02-01 ph 8.2 pH'])
  })
  test('a title of two cells is a vessel too, and columns of samples stand in a logbook as well', () => {
    const blocks = 'Tank,Reef\nDate,pH\n2026-02-01,8.1\nTank,Box\nDate,pH\n2026-02-01,7.9\n'
    expect(asked(blocks)).toEqual(['vessel'])
    expect(lines(blocks, { vessel: 'Reef' })).toEqual(['2026-02-01 ph 8.1 pH Reef'])
    const across = 'Date: 2026-02-01\nParameter;Reef;Box\nKH (dKH);8.1;7.4\n'
    expect(asked(across)).toEqual(['vessel'])
    expect(lines(across, { vessel: 'Box' })).toEqual(['2026-02-01 alkalinity 7.4 dKH Box'])
  })
  test('a row of an average, a repetition and shifted cells are named', () => {
    const { skipped, readings } = read(
      'Date,pH,KH (dKH)\n2026-02-01,8.1,8\n2026-02-01,8.1,8\n2026-02-02,8,1,8\nAverage,8.1,8\nCount,2,2\n',
    )
    expect(skipped.map(({ line }) => line)).toEqual([3, 4, 5, 6])
    expect(readings).toHaveLength(2)
  })
})

describe('laboratory', () => {
  test('units of a section, a limit for what was not found, a reference never read', () => {
    const table =
      'Sampled: 2026-02-03\nSalinity: 35 ppt\nElement,Result,Limit,Reference\nMajor (mg/L)\nCa,421,1,422\nTraces, µg/L\nFe,ND,0.5,2\nI,52,1,60\nCu,n.d.,,0.2\n'
    expect(lines(table, {}, 'laboratory')).toEqual([
      '2026-02-03 salinity 35 ppt',
      '2026-02-03 Ca 421 mg/L',
      '2026-02-03 Fe 0.0005 mg/L below',
      '2026-02-03 I 0.052 mg/L',
    ])
    expect(read(table, {}, 'laboratory').skipped.map(({ line }) => line)).toEqual([9])
  })
  test('one column of values per sample, the fraction, the day and the salinity are asked for', () => {
    const table = 'Element;Unit;Reef;Box\nCa;mg/l;421;405\nK;mg/l;398;377\n'
    expect(asked(table, {}, 'laboratory')).toEqual(['salinity', 'sampled', 'vessel'])
    expect(lines(table, { salinity: 35, sampled: '2026-02-03', vessel: 'Box' }, 'laboratory')).toEqual([
      '2026-02-03 Ca 405 mg/L Box',
      '2026-02-03 K 377 mg/L Box',
    ])
    const twice = 'Sampled,2026-02-03\nSalinity (ppt),35\nElement,Unit,Total,Dissolved\nFe,µg/L,3,1\nZn,µg/L,4,\n'
    expect(asked(twice, {}, 'laboratory')).toEqual(['fraction'])
    expect(lines(twice, { fraction: 'dissolved' }, 'laboratory').slice(1)).toEqual([
      '2026-02-03 Fe 0.001 mg/L',
      '2026-02-03 Zn 0.004 mg/L',
    ])
  })
  test('milligrams per kilogram are turned by the density', () => {
    expect(lines('Sampled,2026-02-03\nSalinity,35 ppt\nElement,Value,Unit\nCa,412,mg/kg\n', {}, 'laboratory')[1]).toBe(
      '2026-02-03 Ca 421.5 mg/L',
    )
  })
})

describe('what is refused, in words', () => {
  test.each([
    ['an open quotation mark', bytes('Date,pH,Note\n2026-02-01,8.1,"never closed\n2026-02-02,8.2,\n')],
    ['a zipped workbook', Uint8Array.of(0x50, 0x4b, 3, 4, 20, 0, 6, 0)],
    ['a picture', Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10)],
    ['bytes', Uint8Array.from({ length: 400 }, (_, i) => (i * 37) % 7)],
    ['nothing', new Uint8Array()],
    ['a poem', bytes('Roses are red\nviolets are blue\n')],
  ])('%s', (_, file) => {
    const { refused, readings, asks } = readTable(file, 'readings', 'Europe/Berlin', NOW)
    expect(refused).toMatch(/\.$/)
    expect([readings, asks]).toEqual([[], []])
  })
  test('any bytes are answered, and nothing is both read and refused', () => {
    const whole = readdirSync(CASES)
      .filter((name) => /\.[ct]sv$/.test(name))
      .map((name) => readFileSync(join(CASES, name)))
    fc.assert(
      fc.property(
        fc.constantFrom(...whole),
        fc.array(fc.tuple(fc.nat(), fc.integer({ min: 0, max: 255 })), { maxLength: 6 }),
        fc.nat(),
        (file, changes, cut) => {
          const mutated = Uint8Array.from(file)
          for (const [at, value] of changes) if (mutated.length > 0) mutated[at % mutated.length] = value
          const piece = cut % 3 === 0 && mutated.length > 0 ? mutated.slice(0, cut % mutated.length) : mutated
          const { refused, readings, skipped } = readTable(piece, 'readings', 'Europe/Berlin', NOW)
          if (refused !== null) expect(readings).toEqual([])
          for (const { value, day } of readings) {
            expect(Number.isFinite(value) && value >= 0).toBe(true)
            expect(day <= '2026-11-01').toBe(true)
          }
          for (const { line, why } of skipped) expect(line > 0 && why !== '').toBe(true)
        },
      ),
      { numRuns: Number(process.env['BRINVO_RUNS'] ?? 150) },
    )
  })
})

describe('written', () => {
  type Reading = Extract<Entry, { kind: 'reading' }>
  const analytes = Object.keys(ANALYTES) as Analyte[]
  /** Values a tank can have, to the precision a kit shows. */
  const value = (analyte: Analyte) => {
    const most = analyte === 'temperature' ? 45 : analyte === 'ph' ? 13 : analyte === 'salinity' ? 60 : 900
    return fc.integer({ min: 0, max: most * 1000 }).map((n) => n / 1000)
  }
  const reading = fc
    .tuple(
      fc.constantFrom(...analytes),
      fc.integer({ min: 0, max: 500_000 }),
      fc.boolean(),
      fc.constantFrom('exact', 'below', 'above'),
    )
    .chain(([analyte, minute, dayOnly, bound]) =>
      value(analyte).map(
        (amount) =>
          ({
            kind: 'reading',
            id: 'x',
            at: instantOf(Date.parse('2025-03-01T11:00:00Z') + minute * 60_000),
            zone: 'Europe/Berlin',
            recordedAt: instantOf(NOW),
            vesselId: 'v',
            analyte,
            value: amount,
            unit: '',
            bound,
            ...(dayOnly ? { dayOnly: true } : {}),
          }) as unknown as Reading,
      ),
    )
  const text = fc.constantFrom('Reef', 'Frag, left', '=cmd|x', '"Tank"', '@home', 'a;b', '+1', 'Kit\nwith two lines')
  test('what is written is read in again, nothing asked, nothing left out', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(reading, {
          maxLength: 12,
          minLength: 1,
          selector: ({ analyte, at }) => `${analyte} ${at.slice(0, 10)}`,
        }),
        text,
        text,
        (readings, vessel, note) => {
          const file = writeTable(
            readings.map((one) => ({ reading: { ...one, note }, vessel, instrument: note })),
            'Europe/Berlin',
          )
          const { asks, skipped, refused, readings: back } = read(file)
          expect([asks, skipped, refused]).toEqual([[], [], null])
          expect(back.map(({ analyte, bound, time }) => [analyte, bound, time === null])).toEqual(
            readings.map((one) => [one.analyte, one.bound, one.dayOnly === true]),
          )
          back.forEach((one, i) => {
            const written = readings[i]!
            const kept = one.analyte === 'conductivity' ? one.value * 1000 : one.value
            expect(kept).toBeCloseTo(written.value, 6)
            const wall = new Intl.DateTimeFormat('sv-SE', {
              timeZone: 'Europe/Berlin',
              dateStyle: 'short',
              timeStyle: 'short',
            }).format(Date.parse(written.at))
            expect(one.time === null ? one.day : `${one.day} ${one.time}`).toBe(
              one.time === null ? wall.slice(0, 10) : wall,
            )
          })
          // Nothing in it begins as a spreadsheet's formula would.
          for (const line of file.split('\r\n')) expect(line).not.toMatch(/(?:^|,)"?[=+@]/)
        },
      ),
      { numRuns: 150 },
    )
  })
})
