// What is believed as typed, and what is asked about: readings, strengths, sizes.
import { ranges as TABLES } from '../generated/knowledge/ranges.ts'
import { activeContent, type Strength } from '../dosing/strength.ts'
import type { AgentForm } from '../knowledge/agents.ts'
import type { VesselBody } from '../record/types.ts'
import { ask, type Refusal } from '../safety/refusal.ts'

/** Readings outside this are asked about, canonical units; null where nothing is kept. */
export const plausibleRange = (analyte: string, water: 'marine' | 'fresh'): { min: number; max: number } | null =>
  TABLES[0]!.plausible[analyte]?.[water] ?? null

const trim = (value: number): string => String(Number(value.toPrecision(4)))

/** A strength that no label of this form states: ten times too strong and ten times too weak look alike on paper. */
export function checkStrength(form: AgentForm, strength: Strength): Refusal[] {
  const content = activeContent(strength)
  if (!content.ok) return []
  const { mg, per } = content.value
  const PER: Readonly<Record<string, readonly Strength['basis'][]>> = {
    mL: ['mg-per-mL', 'w/v', 'w/w', 'salt-stock'],
    g: ['powder'],
    drop: ['per-drop'],
    tablet: ['per-tablet'],
  }
  const usual = form.strengths.filter(({ basis }) => PER[per]!.includes(basis))
  if (usual.some(({ min, max }) => mg >= min * 0.999 && mg <= max * 1.001)) return []
  const guess = [10, 1000, 100]
    .flatMap((factor) => [mg * factor, mg / factor])
    .find((value) => usual.some(({ min, max }) => value >= min && value <= max))
  const words =
    usual.length === 0
      ? `Labels of ${form.label} do not state it per ${per}.`
      : `Labels of ${form.label} state ${[...new Set(usual.map(({ min, max }) => `${trim(min)} to ${trim(max)}`))].join(' or ')} mg per ${per}.`
  return [
    ask(
      'unusual-strength',
      `${trim(mg)} mg per ${per}? ${words}${guess === undefined ? '' : ` Did you mean ${trim(guess)} mg per ${per}${per === 'mL' ? ` (${trim(guess / 10)} %)` : ''}?`} Look at the label again: number and unit.`,
    ),
  ]
}

/** Net over shop size that is believed. @source defect A10; handbook 10 §1 */
const SHARE_OF_SHOP = { min: 0.5, max: 1.1 }
/** Sizes of one side of an aquarium at home that are believed, cm, and of its water, L. EST */
const SIDE_CM = { min: 8, max: 350 }
const TALL_CM = 150
const WATER_L = { min: 0.5, max: 4000 }

/** Sizes that are asked about: a unit slipped, or a digit. */
export function checkSizes(volume: VesselBody['volume'], netL: number, shopL: number | null): Refusal[] {
  const found: Refusal[] = []
  const { shape } = volume
  if (shape.kind !== 'custom')
    for (const [key, value] of Object.entries(shape)) {
      if (typeof value !== 'number') continue
      const word = key
        .replace(/Cm$/, '')
        .replace(/([A-Z])/g, ' $1')
        .toLowerCase()
      const top = key === 'heightCm' ? TALL_CM : SIDE_CM.max
      if (value < SIDE_CM.min || value > top)
        found.push(
          ask(
            'unusual-size',
            `A ${word} of ${trim(value)} cm? Did you mean ${trim(value > top ? value / 10 : value * 10)} cm?`,
          ),
        )
    }
  if (shopL !== null) {
    const share = netL / shopL
    if (share < SHARE_OF_SHOP.min || share > SHARE_OF_SHOP.max)
      found.push(
        ask(
          'shop-size',
          `${trim(netL)} L net is ${Math.round(100 * share)} % of a shop size of ${trim(shopL)} L. Most vessels hold 60 to 95 %. Is a measure in another unit?`,
        ),
      )
  }
  if (netL < WATER_L.min || netL > WATER_L.max)
    found.push(ask('unusual-volume', `${trim(netL)} L of water? Look at the measures and their units again.`))
  return found
}
