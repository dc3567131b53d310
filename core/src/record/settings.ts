// Settings of a record that nobody has touched yet.
import type { Settings } from './types.ts'

/** Metric units, three common syringes, the keeper's zone and locale. */
export const defaultSettings = (zone: string, locale = 'en-GB'): Settings => ({
  zone,
  locale,
  volume: 'L',
  temperature: '°C',
  salinity: 'ppt',
  alkalinity: 'dKH',
  length: 'cm',
  theme: 'system',
  shortcuts: true,
  syringesMl: [
    { capacity: 1, step: 0.01 },
    { capacity: 5, step: 0.2 },
    { capacity: 20, step: 1 },
  ],
})
