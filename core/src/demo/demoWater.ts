// Two years of Longshore's water: a logbook that was read in, three reports, a doser since a month, a probe that drifts;
// and a probe head in Holding A. Values obey one small balance: what is used, what is added, what changes bring.
import type { RegisterDocument } from '../record/types.ts'
import { instantOf } from '../time/time.ts'
import type { Writer } from './writer.ts'

const WEEKS = 104
/** Dosed by hand until then, by pump since, days ago. */
const PUMP_SINCE = 30
/** What the pump brings a day, as hands did before, and what corals and rock use, dKH. */
const RISE = 0.0577
const USE = 0.058
/** Net water of Longshore as its measures say, L, and mg of bicarbonate per litre and dKH. */
const LITRES = 289
const MG_PER_DKH = 29.96

export function demoWater(writer: Writer, normal: () => number): void {
  const { at, document, entry } = writer
  const read = (day: number, hour: number, analyte: string, value: number, unit: string, more: object = {}) =>
    entry(at(day, hour), 'reading', { vesselId: 'longshore', analyte, value, unit, bound: 'exact', ...more })
  let line = 1
  const logged = (day: number) => (day < -PUMP_SINCE ? { table: { file: 'longshore-logbook.csv', line: ++line } } : {})
  const near = (value: number, sd: number, step: number) =>
    Number((Math.round((value + sd * normal()) / step) * step).toFixed(3))
  let alkalinity = 8.1
  let calcium = 425
  let magnesium = 1320
  for (let week = WEEKS; week >= 1; week--) {
    const day = -7 * week + 4
    alkalinity += 7 * ((day < -PUMP_SINCE ? 0.058 : RISE) - USE)
    calcium += 0.35 * normal() - 0.05
    magnesium += 1.2 * normal()
    // Nutrients that ran out over the last half year: what the film came of.
    const lean = Math.min(1, Math.max(0.06, (week - 1) / 26))
    read(day, 10, 'alkalinity', near(alkalinity, 0.08, 0.1), 'dKH', logged(day))
    if (week % 2 === 0) {
      read(day, 10.1, 'calcium', near(calcium, 5, 5), 'mg/L', logged(day))
      read(day, 10.2, 'magnesium', near(magnesium, 12, 10), 'mg/L', logged(day))
    }
    if (week > 3) {
      read(day, 10.3, 'nitrate', Math.max(0.5, near(9 * lean, 1, 0.5)), 'mg/L', logged(day))
      read(day, 10.4, 'phosphate', Math.max(0.01, near(0.07 * lean, 0.008, 0.01)), 'mg/L', logged(day))
    }
    read(day, 10.5, 'salinity', near(35, 0.2, 0.5), 'PSU', { ...logged(day), instrumentId: 'refractometer' })
    if (day < -PUMP_SINCE)
      entry(at(day, 11), 'tally', {
        vesselId: 'longshore',
        measure: 'add-alkalinity',
        values: { rise: 0.406, grams: Number(((0.406 * MG_PER_DKH * LITRES) / 1000).toFixed(1)) },
        note: 'Sodium bicarbonate',
      })
    if (week % 2 === 1 && week > 9) entry(at(day, 12), 'change', { vesselId: 'longshore', fraction: 0.1 })
  }

  // The pump on its stand, ten millilitres a day of a 50 g/L stock.
  document(
    'device',
    'doser-longshore',
    {
      name: 'Doser by the sump',
      sort: 'doser',
      vesselId: 'longshore',
      doser: {
        correction: 'alkalinity',
        salt: 'sodium-bicarbonate',
        gramsPerL: 50,
        mlPerMinute: 36.4,
        calibratedAt: instantOf(at(-PUMP_SINCE, 18)),
        mlPerDay: 10,
        portions: 5,
        mostPerPortionMl: 4,
        mostPerDayMl: 20,
        confirmedAt: instantOf(at(-PUMP_SINCE, 18)),
      },
    } as RegisterDocument['body'],
    at(-PUMP_SINCE, 18),
  )
  for (let day = -PUMP_SINCE; day < 0; day++)
    entry(at(day, 23), 'tally', {
      vesselId: 'longshore',
      measure: 'add-alkalinity',
      values: { rise: RISE, grams: 0.5, ml: 10, 'grams-per-l': 50 },
      deviceId: 'doser-longshore',
      note: 'Sodium bicarbonate',
    })

  // A probe in the sump that drifts, beside the meter that is set every month.
  document(
    'instrument',
    'ph-probe',
    {
      name: 'pH probe in the sump',
      analyte: 'ph',
      method: 'probe',
      step: 0.01,
      relativeError: 0.006,
      checkedAt: instantOf(at(-75, 20)),
    } as RegisterDocument['body'],
    at(-75, 19),
  )
  for (let week = 6; week >= 1; week--) {
    const day = -7 * week + 3
    const truth = 8.12 + 0.02 * normal()
    read(day, 20, 'ph', near(truth + 0.04 * (7 - week), 0.01, 0.01), 'pH', { instrumentId: 'ph-probe' })
    read(day, 20.1, 'ph', near(truth, 0.01, 0.01), 'pH', { instrumentId: 'ph-meter' })
  }

  // Three reports, and a vial that is away.
  const sample = (id: string, day: number, found: Readonly<Record<string, number>>) => {
    const results = Object.entries(found).map(([element, value]) => ({
      element,
      value: Math.abs(value),
      unit: element === 'salinity' ? 'ppt' : 'mg/L',
      // What is below the limit stands there as the limit, with a minus here.
      bound: value < 0 ? ('below' as const) : ('exact' as const),
    }))
    document(
      'sample',
      id,
      {
        vesselId: 'longshore',
        laboratory: 'Harbour laboratory',
        bottle: id.slice(-3),
        orderedAt: instantOf(at(day - 9, 18)),
        sampledAt: instantOf(at(day, 10)),
        sentAt: instantOf(at(day, 15)),
        reportedAt: instantOf(at(day + 8, 19)),
        results,
        file: `report-${id.slice(-3)}.csv`,
      } as RegisterDocument['body'],
      at(day + 8, 19),
    )
    for (const [analyte, element, factor] of [
      ['calcium', 'Ca', 1],
      ['magnesium', 'Mg', 1],
      ['potassium', 'K', 1],
      ['phosphate', 'P', 3.066],
    ] as const)
      read(day, 10, analyte, Number((found[element]! * factor).toPrecision(4)), 'mg/L', { sampleId: id })
  }
  const traces = { Fe: -0.0008, Cu: -0.0005, Mn: 0.0004, Al: 0.003, Sn: -0.0005, Pb: -0.0003, Ba: 0.012 }
  sample('sample-first-412', -430, {
    salinity: 34.8,
    Na: 10900,
    Cl: 19650,
    SO4: 2760,
    Mg: 1322,
    Ca: 421,
    K: 404,
    Sr: 7.9,
    B: 4.5,
    Br: 67,
    F: 1.25,
    I: 0.058,
    Si: 0.09,
    P: 0.023,
    Li: 0.18,
    Mo: 0.0098,
    Zn: 0.004,
    ...traces,
  })
  sample('sample-second-509', -215, {
    salinity: 35.1,
    Na: 11010,
    Cl: 19800,
    SO4: 2790,
    Mg: 1331,
    Ca: 428,
    K: 396,
    Sr: 7.6,
    B: 4.4,
    Br: 68,
    F: 1.2,
    I: 0.041,
    Si: 0.11,
    P: 0.02,
    Li: 0.185,
    Mo: 0.0091,
    Zn: 0.011,
    ...traces,
  })
  sample('sample-third-633', -36, {
    salinity: 34.9,
    Na: 10950,
    Cl: 19700,
    SO4: 2775,
    Mg: 1318,
    Ca: 423,
    K: 384,
    Sr: 7.3,
    B: 4.3,
    Br: 67.5,
    F: 1.15,
    I: 0.024,
    Si: 0.02,
    P: 0.005,
    Li: 0.182,
    Mo: 0.0083,
    Zn: 0.024,
    ...traces,
  })
  document(
    'sample',
    'sample-away-701',
    {
      vesselId: 'longshore',
      laboratory: 'Harbour laboratory',
      bottle: '701',
      orderedAt: instantOf(at(-12, 18)),
      sampledAt: instantOf(at(-6, 10)),
      sentAt: instantOf(at(-6, 15)),
      salinityPpt: 35,
    } as RegisterDocument['body'],
    at(-6, 15),
  )

  // The head in Holding A: an hour's middle, with its reach, for the last two days.
  document(
    'device',
    'head-holding-a',
    { name: 'Probe head', sort: 'probe-head', vesselId: 'holding-a' } as RegisterDocument['body'],
    at(-20, 18),
  )
  document(
    'instrument',
    'head-temperature',
    {
      name: 'Probe head, temperature',
      analyte: 'temperature',
      method: 'probe',
      step: 0.1,
      relativeError: 0.004,
      deviceId: 'head-holding-a',
      checkedAt: instantOf(at(-20, 19)),
    } as RegisterDocument['body'],
    at(-20, 18),
  )
  for (let hour = -48; hour < 0; hour++) {
    const value = Number((25.4 + 0.15 * Math.sin((2 * Math.PI * (hour - 10)) / 24) + 0.02 * normal()).toFixed(2))
    entry(at(0, 0) + (hour + 0.5) * 3_600_000, 'reading', {
      vesselId: 'holding-a',
      analyte: 'temperature',
      value,
      unit: '°C',
      bound: 'exact',
      instrumentId: 'head-temperature',
      spread: { low: Number((value - 0.04).toFixed(2)), high: Number((value + 0.05).toFixed(2)), n: 3600 },
    })
  }
}
