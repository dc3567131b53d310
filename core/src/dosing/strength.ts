// What a bottle holds: every way a label states strength, turned into milligrams of active per pourable unit.
import { err, ok, type Result } from '../result.ts'
import type { Working } from '../working.ts'
import { speciesShare } from './chemistry.ts'

/** A label's strength with its basis. Nothing here has a default: an unknown strength blocks the dose. */
export type Strength =
  | { readonly basis: 'mg-per-mL'; readonly mgPerMl: number }
  /** Grams per 100 mL of solution. */
  | { readonly basis: 'w/v'; readonly percent: number }
  /** Grams per 100 g of solution: needs its density. */
  | { readonly basis: 'w/w'; readonly percent: number; readonly densityGPerMl: number }
  | { readonly basis: 'per-drop'; readonly mgPerDrop: number }
  | { readonly basis: 'per-tablet'; readonly mgPerTablet: number }
  /** Milligrams of active in a gram of powder: 1000 is pure. */
  | { readonly basis: 'powder'; readonly mgPerG: number }
  /** A stock the keeper made: grams of a (hydrate) salt made up to so many mL, counted as one species. */
  | {
      readonly basis: 'salt-stock'
      readonly salt: string
      readonly species: string
      readonly saltGrams: number
      readonly madeUpToMl: number
    }

export type PourUnit = 'mL' | 'g' | 'drop' | 'tablet'

export interface ActiveContent {
  /** Milligrams of active in one `per`. */
  readonly mg: number
  readonly per: PourUnit
  readonly working: Working
}
export interface StrengthProblem {
  readonly kind: 'zero' | 'absurd' | 'unreadable'
  readonly message: string
}

const content = (mg: number, per: PourUnit, formula: string, inputs: Working['inputs']): ActiveContent => ({
  mg,
  per,
  working: {
    title: 'Strength',
    formula,
    inputs,
    result: { label: 'active', value: mg, unit: `mg per ${per}` },
    source: 'Label; IUPAC atomic weights where a salt is weighed',
  },
})

/**
 * Milligrams of active per mL, gram, drop or tablet.
 * w/v: % × 10; w/w: % × 10 × density; stock: grams × 1000 × species share ÷ mL. @source handbook 31 calc-strength
 */
export function activeContent(strength: Strength): Result<ActiveContent, StrengthProblem> {
  for (const [key, value] of Object.entries(strength)) {
    if (typeof value !== 'number') continue
    if (!Number.isFinite(value) || value <= 0) {
      return err({
        kind: 'zero',
        message: `The strength is ${Number.isFinite(value) ? value : 'missing'}: ${fieldWord(key)} must be above zero. Read it off the label.`,
      })
    }
  }
  switch (strength.basis) {
    case 'mg-per-mL':
      if (strength.mgPerMl > 2000) return absurd(`${strength.mgPerMl} mg/mL is denser than any solution`)
      return ok(
        content(strength.mgPerMl, 'mL', 'as labelled', [{ label: 'label', value: strength.mgPerMl, unit: 'mg/mL' }]),
      )
    case 'w/v':
      if (strength.percent > 150) return absurd(`${strength.percent} % w/v is more than fits in solution`)
      return ok(
        content(strength.percent * 10, 'mL', '% w/v × 10', [
          { label: 'label', value: strength.percent, unit: '% w/v' },
        ]),
      )
    case 'w/w':
      if (strength.percent > 100) return absurd(`${strength.percent} % w/w is more than the whole`)
      return ok(
        content(strength.percent * 10 * strength.densityGPerMl, 'mL', '% w/w × 10 × density', [
          { label: 'label', value: strength.percent, unit: '% w/w' },
          { label: 'density', value: strength.densityGPerMl, unit: 'g/mL' },
        ]),
      )
    case 'per-drop':
      return ok(
        content(strength.mgPerDrop, 'drop', 'as labelled', [
          { label: 'label', value: strength.mgPerDrop, unit: 'mg per drop' },
        ]),
      )
    case 'per-tablet':
      return ok(
        content(strength.mgPerTablet, 'tablet', 'as labelled', [
          { label: 'label', value: strength.mgPerTablet, unit: 'mg per tablet' },
        ]),
      )
    case 'powder':
      if (strength.mgPerG > 1000) return absurd(`${strength.mgPerG} mg in a gram is more than the gram`)
      return ok(
        content(strength.mgPerG, 'g', 'as labelled', [{ label: 'label', value: strength.mgPerG, unit: 'mg/g' }]),
      )
    case 'salt-stock': {
      let share: number
      try {
        share = speciesShare(strength.salt, strength.species).massFraction
      } catch (cause) {
        return err({
          kind: 'unreadable',
          message: `We cannot read "${strength.salt}" as a salt of ${strength.species}: ${(cause as Error).message}`,
        })
      }
      return ok(
        content(
          (strength.saltGrams * 1000 * share) / strength.madeUpToMl,
          'mL',
          'salt × 1000 × share ÷ made-up volume',
          [
            { label: strength.salt, value: strength.saltGrams, unit: 'g' },
            { label: `share that is ${strength.species}`, value: share, unit: 'of 1' },
            { label: 'made up to', value: strength.madeUpToMl, unit: 'mL' },
          ],
        ),
      )
    }
  }
}

const absurd = (message: string) =>
  err<StrengthProblem>({ kind: 'absurd', message: `${message}. Check the number and its unit.` })
const fieldWord = (key: string) =>
  key === 'densityGPerMl' ? 'the density' : key === 'madeUpToMl' ? 'the made-up volume' : 'it'

/**
 * mL of stock and of diluent for a weaker solution: C₁V₁ = C₂V₂, volumes additive.
 * `too-weak` when the stock is weaker than what is wanted.
 */
export function dilution(
  stockPercent: number,
  targetPercent: number,
  finalMl: number,
): Result<{ readonly stockMl: number; readonly diluentMl: number }, { readonly kind: 'too-weak' }> {
  if (stockPercent < targetPercent) return err({ kind: 'too-weak' })
  const stockMl = (targetPercent * finalMl) / stockPercent
  return ok({ stockMl, diluentMl: finalMl - stockMl })
}

/** mL of a bottle at `strengthB` that hold the same as `ml` at `strengthA`; 1 mL of 12 % = 4 mL of 3 %. */
export const equivalentMl = (ml: number, strengthA: number, strengthB: number): number => (ml * strengthA) / strengthB
