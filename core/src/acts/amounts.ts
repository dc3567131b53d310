// The one reader of every amount field: what cannot be read is said, never taken as nothing.
import { measureFor, type Measure } from '../dosing/dose.ts'
import { activeContent, type PourUnit } from '../dosing/strength.ts'
import { err, ok, type Result } from '../result.ts'
import type { ProductDocument, Settings } from '../record/types.ts'
import { parseQuantity, type ParsedQuantity } from '../units/parse.ts'

export interface Amount {
  readonly amount: number
  readonly unit: PourUnit
  readonly measureStep: number | undefined
  readonly entered: ParsedQuantity['entered']
}

const FIELD: Readonly<Record<PourUnit, { dimension: 'dose-volume' | 'mass' | 'count'; unit: string }>> = {
  mL: { dimension: 'dose-volume', unit: 'mL' },
  g: { dimension: 'mass', unit: 'g' },
  drop: { dimension: 'count', unit: 'count' },
  tablet: { dimension: 'count', unit: 'count' },
}
/** A word that counts drops or tablets is no unit of the field. */
const counted = (text: string, unit: PourUnit) =>
  unit === 'drop' || unit === 'tablet' ? text.replace(/\s*(drops?|tablets?|tabs?)\s*$/i, '') : text

/** One typed amount in a pour unit. */
export function readPour(
  text: string,
  unit: PourUnit,
  label = 'The dose',
): Result<{ amount: number; entered: ParsedQuantity['entered'] }, string> {
  const { dimension, unit: fieldUnit } = FIELD[unit]
  const parsed = parseQuantity(counted(text, unit), { dimension, fieldUnit, label, allowBound: false })
  if (!parsed.ok) return err(parsed.error.message)
  const amount = unit === 'g' ? parsed.value.value / 1000 : parsed.value.value
  return ok({
    amount: Number(amount.toPrecision(12)),
    entered: { ...parsed.value.entered, text: text.trim().slice(0, 120) },
  })
}

/** What was poured out of a bottle, from one field or several; empty fields count as nothing, unreadable ones do not. */
export function readAmounts(
  texts: readonly string[],
  product: ProductDocument,
  settings: Settings,
  /** How many times the bottle was thinned before. */
  thinned = 1,
): Result<Amount & { readonly contentMg: number }, string> {
  const content = activeContent(product.body.strength)
  if (!content.ok) return err(content.error.message)
  const { per, mg } = content.value
  const filled = texts.filter((text) => text.trim() !== '')
  if (filled.length === 0)
    return err(
      `The dose is empty. Type what was poured, in ${per === 'drop' ? 'drops' : per === 'tablet' ? 'tablets' : per}.`,
    )
  let sum = 0
  for (const text of filled) {
    const read = readPour(text, per)
    if (!read.ok) return err(read.error)
    sum += read.value.amount
  }
  const amount = Number((sum / thinned).toPrecision(thinned === 1 ? 12 : 6))
  if (!(amount > 0)) return err('The amount must be above zero. What was poured?')
  const first = readPour(filled[0]!, per)
  const measures: readonly Measure[] | undefined = settings.syringesMl.length > 0 ? settings.syringesMl : undefined
  return ok({
    amount,
    unit: per,
    contentMg: mg,
    measureStep: per === 'mL' ? measureFor(amount, per, measures).step : undefined,
    entered:
      filled.length === 1 && first.ok && thinned === 1
        ? first.value.entered
        : {
            text: `${filled.join(' + ')}${thinned === 1 ? '' : ` thinned ${thinned} times`}`.slice(0, 120),
            value: amount,
            unit: per === 'drop' || per === 'tablet' ? 'count' : per,
          },
  })
}

/** A whole number of animals. */
export function readCount(text: string, label: string, least = 1): Result<number, string> {
  const parsed = parseQuantity(text, { dimension: 'count', label, allowBound: false, max: 100_000 })
  if (!parsed.ok) return err(parsed.error.message)
  if (!Number.isInteger(parsed.value.value) || parsed.value.value < least)
    return err(`${label}: a whole number, at least ${least}.`)
  return ok(parsed.value.value)
}
