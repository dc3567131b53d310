// A temperature typed to answer a question on the spot: it becomes a reading of its own, checked like one.
import { instantOf } from '../time/time.ts'
import type { VesselDocument } from '../record/types.ts'
import { parseQuantity } from '../units/parse.ts'
import { preferredUnit } from '../units/format.ts'
import { ask, type Refusal } from '../safety/refusal.ts'
import { plausibleRange } from './plausible.ts'
import { atOf } from './place.ts'
import type { ActContext, Draft, Place } from './types.ts'

interface ReadTemperature {
  readonly value: number | null
  readonly problem: string | null
  readonly found: readonly Refusal[]
  readonly drafts: readonly Draft[]
}

/** Reads the temperature that came along with an act, in the keeper's own unit. */
export function readTemperature(context: ActContext, place: Place, vessel: VesselDocument): ReadTemperature {
  const nothing = { value: null, problem: null, found: [], drafts: [] }
  if (place.temperature === undefined || place.temperature.trim() === '') return nothing
  const parsed = parseQuantity(place.temperature, {
    dimension: 'temperature',
    fieldUnit: preferredUnit('temperature', context.record.settings),
    label: 'The temperature',
    allowBound: false,
    max: 45,
  })
  if (!parsed.ok) return { ...nothing, problem: parsed.error.message }
  const range = plausibleRange('temperature', vessel.body.water)
  const odd = range !== null && (parsed.value.value < range.min || parsed.value.value > range.max)
  return {
    value: parsed.value.value,
    problem: null,
    found: odd
      ? [
          ask(
            'implausible',
            `${parsed.value.entered.value} ${parsed.value.entered.unit} in ${vessel.body.name}? Really so?`,
          ),
        ]
      : [],
    drafts: [
      {
        kind: 'reading',
        vesselId: vessel.id,
        // Just before what it answers for.
        atMs: Date.parse(instantOf(atOf(context, place))) - 1,
        analyte: 'temperature',
        value: parsed.value.value,
        unit: parsed.value.unit,
        bound: 'exact',
        entered: parsed.value.entered,
      } as unknown as Draft,
    ],
  }
}
