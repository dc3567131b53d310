// Readings out as a table that any spreadsheet opens, and that is read in again as it was.
import Papa from 'papaparse'
import type { Analyte, ReadingEntry } from '../record/types.ts'
import { dayOf, entryMs, zonedOf } from '../time/time.ts'

/** What each analyte is called there: a name that says what is counted, so that nobody has to be asked. */
const NAMES: Readonly<Record<Analyte, string>> = {
  copper: 'Copper',
  'ammonia-total': 'TAN',
  'ammonia-free': 'Free ammonia-N',
  nitrite: 'NO2',
  nitrate: 'NO3',
  phosphate: 'PO4',
  ph: 'pH',
  temperature: 'Temperature',
  salinity: 'Salinity',
  conductivity: 'Conductivity',
  alkalinity: 'Alkalinity',
  silicate: 'SiO2',
  calcium: 'Calcium',
  magnesium: 'Magnesium',
  potassium: 'Potassium',
  oxygen: 'Oxygen',
  gh: 'GH',
  tds: 'TDS',
}
const UNITS: Partial<Record<Analyte, string>> = {
  ph: 'pH',
  temperature: '°C',
  salinity: 'ppt',
  conductivity: 'µS/cm',
  alkalinity: 'dKH',
  gh: 'dGH',
}

/** Three digits behind the mark could be thousands to whoever reads it: one more settles it. */
function numberText(value: number): string {
  const text = String(Number(value.toPrecision(8)))
  return /^[1-9]\d{0,2}\.\d{3}$/.test(text) ? `${text}0` : text
}

export interface WrittenReading {
  readonly reading: ReadingEntry
  /** Names as the keeper gave them. */
  readonly vessel: string
  readonly instrument: string | null
}

/**
 * A long table, one line per reading: day, time of the keeper's zone (empty where only the day is known), vessel, test,
 * value ("<" where it is below), unit, instrument, note. Cells that a spreadsheet would compute are made inert.
 */
export function writeTable(readings: readonly WrittenReading[], zone: string): string {
  return `${Papa.unparse(
    {
      fields: ['Date', 'Time', 'Vessel', 'Parameter', 'Value', 'Unit', 'Instrument', 'Note'],
      data: readings.map(({ reading, vessel, instrument }) => {
        const ms = entryMs(reading)
        const bound = reading.bound === 'below' ? '<' : reading.bound === 'above' ? '>' : ''
        return [
          dayOf(ms, zone),
          reading.dayOnly ? '' : zonedOf(ms, zone).toString().slice(11, 16),
          vessel,
          NAMES[reading.analyte],
          `${bound}${numberText(reading.value)}`,
          UNITS[reading.analyte] ?? 'mg/L',
          instrument ?? '',
          reading.note ?? '',
        ]
      }),
    },
    { newline: '\r\n', escapeFormulae: /^[=+\-@\t\r]/ },
  )}\r\n`
}
