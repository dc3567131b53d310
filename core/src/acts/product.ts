// What is wrong with a bottle as a source of doses.
import { activeContent } from '../dosing/strength.ts'
import { agentForm } from '../knowledge/agents.ts'
import type { ProductBody } from '../record/types.ts'
import { block, forbid, type Refusal } from '../safety/refusal.ts'
import { dayOf } from '../time/time.ts'

/** What speaks against a bottle: form, strength, label, date. Nothing unconfirmed is dosed without words, copper never. */
export function checkProduct(product: ProductBody, nowMs: number, zone: string): Refusal[] {
  const found: Refusal[] = []
  const form = agentForm(product.form)
  if (!form)
    return [
      forbid('cu-band-of-the-bottle', `The form of "${product.name}" is not known. Choose the form the label states.`),
    ]
  const content = activeContent(product.strength)
  if (!content.ok) found.push(forbid('safe-strength', content.error.message))
  if (content.ok && content.value.per === 'drop' && form.measuredNotDropped)
    found.push(
      block('drops-not-measured', `${form.label} has a narrow margin: measure it in mL, drops are too coarse.`),
    )
  if (product.confirmedAt === undefined)
    found.push(
      form.agent === 'copper'
        ? forbid(
            'cu-band-of-the-bottle',
            `Nobody has confirmed from the label of "${product.name}" which form and level it is. Bound coppers look alike and differ five-fold.`,
          )
        : block('safe-strength', `Nobody has confirmed from the label of "${product.name}" what it is and how strong.`),
    )
  if (product.labelBand) {
    const { minMgPerL, maxMgPerL } = product.labelBand
    const fits = form.labelLevels.some(({ min, max }) => minMgPerL >= min * 0.9 - 1e-9 && maxMgPerL <= max * 1.1 + 1e-9)
    if (!fits)
      found.push(
        forbid(
          'cu-band-of-the-bottle',
          `The label level ${minMgPerL}–${maxMgPerL} mg/L is not one of ${form.label}. One of the two is wrong: read the label again.`,
        ),
      )
  }
  if (product.usedUpAt !== undefined) found.push(block('used-up', `"${product.name}" is marked as used up.`))
  if (product.expiresOn !== undefined && product.expiresOn < dayOf(nowMs, zone))
    found.push(block('safe-strength', `"${product.name}" expired on ${product.expiresOn}.`))
  return found
}
