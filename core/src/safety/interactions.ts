// What may meet what: agents, methods, switched items and readings of the water as parties of one table.
import type { AgentForm } from '../knowledge/agents.ts'
import { interactions as TABLES } from '../generated/knowledge/interactions.ts'
import type { InteractionTable } from '../generated/interactionTypes.ts'
import type { Method } from '../knowledge/methods.ts'

export type Interaction = InteractionTable['interactions'][number]
export const interactions: readonly Interaction[] = TABLES.flatMap((table) => table.interactions)

/** One thing that may meet another. `sinceMs`: when it last went in, was switched on or was read. */
export type Party =
  | { readonly kind: 'form'; readonly form: AgentForm; readonly sinceMs: number; readonly levelMgPerL: number }
  | { readonly kind: 'method'; readonly method: Method; readonly sinceMs: number; readonly how: string }
  | { readonly kind: 'item'; readonly item: string; readonly sinceMs: number }
  | { readonly kind: 'reading'; readonly analyte: string; readonly value: number; readonly sinceMs: number }
  | { readonly kind: 'water'; readonly water: 'marine' | 'fresh'; readonly sinceMs: number }

type Side = Interaction['a']
function fits(side: Side, party: Party): boolean {
  switch (party.kind) {
    case 'form':
      return (
        side.items === undefined &&
        side.methods === undefined &&
        side.reading === undefined &&
        side.substances === undefined &&
        (side.agents ?? side.classes ?? side.routes ?? side.forms) !== undefined &&
        (side.forms?.includes(party.form.id) ?? true) &&
        (side.agents?.includes(party.form.agent) ?? true) &&
        (side.classes?.includes(party.form.class) ?? true) &&
        (side.routes?.includes(party.form.route) ?? true) &&
        (side.aboveMgPerL === undefined || party.levelMgPerL > side.aboveMgPerL)
      )
    case 'method':
      return side.methods?.includes(party.method.id) ?? false
    case 'item':
      return side.items?.includes(party.item) ?? false
    case 'reading':
      return (
        side.reading?.analyte === party.analyte &&
        (side.reading.below === undefined || party.value < side.reading.below) &&
        (side.reading.above === undefined || party.value > side.reading.above)
      )
    case 'water':
      return side.water === party.water && Object.keys(side).length === 1
  }
}

/** The double dose of one active by food and by water. */
const SAME_ACTIVE: Interaction = {
  id: 'cx-same-active',
  a: { routes: ['food'] },
  b: { routes: ['in-tank', 'bath'] },
  verdict: 'forbid',
  why: 'The same active by food and in the water is a double dose.',
}

/**
 * How two parties stand to each other: the first row of the table that fits, either way round; null where none does,
 * or for two doses of one and the same form, which the schedule of a course rules. @source handbook 30 §5.7
 */
export function interactionBetween(a: Party, b: Party): Interaction | null {
  if (a.kind === 'form' && b.kind === 'form' && a.form.agent === b.form.agent) {
    if ((a.form.route === 'food') !== (b.form.route === 'food')) return SAME_ACTIVE
    // Two baths of one active still are two baths; two forms of copper never meet.
    if (a.form.id === b.form.id && a.form.route !== 'bath') return null
    const both = a.form.agent === 'copper' || (a.form.route === 'bath' && b.form.route === 'bath')
    if (!both) return null
  }
  return (
    interactions.find(({ a: one, b: two }) => (fits(one, a) && fits(two, b)) || (fits(one, b) && fits(two, a))) ?? null
  )
}

/** Two forms on their own, neither with an age or a level: what the table says of the pair. */
export const interactionOf = (a: AgentForm, b: AgentForm): Interaction | null =>
  interactionBetween(
    { kind: 'form', form: a, sinceMs: 0, levelMgPerL: Infinity },
    { kind: 'form', form: b, sinceMs: 0, levelMgPerL: Infinity },
  )
