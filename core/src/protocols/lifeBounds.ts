// Water that nothing lives in, told wherever somebody lives: what a kind of system has no range for is not passed over.
import { usualRange } from '../knowledge/ranges.ts'
import { limitOf } from '../knowledge/limits.ts'
import type { ReadingEntry, VesselDocument } from '../record/types.ts'
import type { Concern } from './concerns.ts'

interface Bound {
  readonly analyte: 'oxygen' | 'salinity'
  readonly water: 'marine' | 'fresh' | 'both'
  readonly side: 'low' | 'high'
  /** From here on it is told; from `danger` on at once. */
  readonly told: number
  readonly danger: number
  readonly title: string
  readonly now: string
}
/** @source limits oxygen-low, salinity-sea-*, salinity-fresh-*; handbook 30 hist-oxygen-low, 60 ab-o2 */
const BOUNDS: readonly Bound[] = [
  {
    analyte: 'oxygen',
    water: 'both',
    side: 'low',
    told: limitOf('oxygen-low'),
    danger: limitOf('oxygen-low'),
    title: 'Too little oxygen',
    now: 'Now: every air stone, an outlet at the surface, no food, no drug; then look for what died, for heat, and for a pump that stopped.',
  },
  {
    analyte: 'salinity',
    water: 'marine',
    side: 'low',
    told: limitOf('salinity-sea-low'),
    danger: limitOf('salinity-sea-low-danger'),
    title: 'Low salinity',
    now: 'No course asks for it. Read it once more with another instrument; up goes slowly, over days.',
  },
  {
    analyte: 'salinity',
    water: 'marine',
    side: 'high',
    told: limitOf('salinity-sea-high'),
    danger: limitOf('salinity-sea-high-danger'),
    title: 'High salinity',
    now: 'Read it once more with another instrument, then exchange some for fresh water, a little an hour.',
  },
  {
    analyte: 'salinity',
    water: 'fresh',
    side: 'high',
    told: limitOf('salinity-fresh-high'),
    danger: limitOf('salinity-fresh-high-danger'),
    title: 'Salt in fresh water',
    now: 'No course asks for it. Read it once more; then changes of a quarter, an hour apart.',
  },
]
const trim = (value: number): string => String(Number(value.toPrecision(3)))

/** What a reading says of a vessel with somebody in it where its kind of system has no range; null where it is bearable. */
export function lifeConcern(vessel: VesselDocument, last: ReadingEntry): Concern | null {
  if (usualRange(vessel.body, last.analyte) !== null) return null
  for (const { analyte, water, side, told, danger, title, now } of BOUNDS) {
    if (analyte !== last.analyte || (water !== 'both' && water !== vessel.body.water)) continue
    const out =
      side === 'low' ? last.value < told && last.bound !== 'above' : last.value > told && last.bound !== 'below'
    if (!out) continue
    const grave = side === 'low' ? last.value <= danger : last.value >= danger
    return {
      id: `life-${vessel.id}-${analyte}`,
      vesselId: vessel.id,
      title: `${title} in ${vessel.body.name}:`,
      detail:
        `${trim(last.value)} ${analyte === 'oxygen' ? 'mg/L, at least ' : 'PSU, usual '}${analyte === 'oxygen' ? `${trim(told)} mg/L` : side === 'low' ? `from ${trim(told)}` : `up to ${trim(told)}`} . ${now}`.replace(
          ' .',
          '.',
        ),
      tone: grave ? 'danger' : 'caution',
      action: 'see-vessel',
    }
  }
  return null
}
