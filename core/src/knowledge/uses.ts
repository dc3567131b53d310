// One bottle, several uses: forms of one family come out of the same bottle, and a course takes the one it needs.
import type { ProductBody } from '../record/types.ts'
import { agentForm, agentForms, type AgentForm } from './agents.ts'

/** Every use a bottle may be put to, the one it was registered for first. Copper has one: its band is the bottle's. */
export function usesOf(product: Pick<ProductBody, 'form'>): readonly AgentForm[] {
  const own = agentForm(product.form)
  if (!own) return []
  if (own.family === undefined) return [own]
  return [own, ...agentForms.filter((form) => form.family === own.family && form.id !== own.id)]
}

/** The use among the forms allowed, or undefined where the bottle serves none of them. */
export const formAmong = (
  product: Pick<ProductBody, 'form'> | undefined,
  allowed: readonly string[],
): AgentForm | undefined => (product ? usesOf(product).find(({ id }) => allowed.includes(id)) : undefined)

/** The use that a dose straight into a vessel's water means: its own where it fits, else a sister for that water. */
export function formInWater(
  product: Pick<ProductBody, 'form'> | undefined,
  vessel: { readonly water: 'marine' | 'fresh'; readonly purpose: string },
): AgentForm | undefined {
  if (!product) return undefined
  const uses = usesOf(product)
  const bath = vessel.purpose === 'bath'
  const fits = ({ route, water }: AgentForm) =>
    (route === 'in-tank' || (bath && route === 'bath')) && (water === 'both' || water === vessel.water)
  const own = uses[0]
  return own && fits(own) ? own : (uses.find(fits) ?? own)
}

/** The form an entry gave: the use it names, else the one its bottle was registered for. */
export const formGiven = (
  entry: { readonly form?: string },
  product: { readonly body: Pick<ProductBody, 'form'> } | undefined,
): AgentForm | undefined => agentForm(entry.form ?? product?.body.form ?? '')
