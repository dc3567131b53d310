// What a made-up house is furnished with: documents of its registers, bottles by what their labels state.
import { agentForm, instantOf, type RegisterDocument } from '../index.ts'

const DAY = 86_400_000

export const documentOf = (register: string, id: string, body: object, ms: number): RegisterDocument =>
  ({ register, id, revision: 1, savedAt: instantOf(ms), body, history: [] }) as unknown as RegisterDocument

/**
 * A bottle of a form, by the middle of the strengths that its labels state.
 * @throws Error with a sentence for an unknown form
 */
export function bottleOf(formId: string, ms: number): RegisterDocument {
  const form = agentForm(formId)
  if (!form) throw new Error(`There is no form “${formId}”.`)
  const strength = form.strengths[0]!
  const mg = form.id.startsWith('copper') ? 10 : Math.sqrt(strength.min * strength.max)
  const STRENGTHS: Readonly<Record<string, object>> = {
    'mg-per-mL': { basis: 'mg-per-mL', mgPerMl: Number(mg.toPrecision(2)) },
    'w/v': { basis: 'w/v', percent: Number((mg / 10).toPrecision(2)) },
    'w/w': { basis: 'w/w', percent: 37, densityGPerMl: 1.09 },
    powder: { basis: 'powder', mgPerG: Number(mg.toPrecision(3)) },
    'per-tablet': { basis: 'per-tablet', mgPerTablet: Number(mg.toPrecision(2)) },
    'per-drop': { basis: 'per-drop', mgPerDrop: Number(mg.toPrecision(2)) },
  }
  return documentOf(
    'product',
    `bottle-${formId}`,
    {
      name: form.label.slice(0, 80),
      form: formId,
      strength: STRENGTHS[strength.basis],
      confirmedAt: instantOf(ms),
      expiresOn: instantOf(ms + 800 * DAY).slice(0, 10),
      ...(formId.startsWith('copper') ? { labelBand: { minMgPerL: form.band.min, maxMgPerL: form.band.max } } : {}),
    },
    ms,
  )
}
