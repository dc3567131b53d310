// A strength as labels print it: "3 %", "10 mg/mL", "22.2 % w/w", "222 mg/g", "250 mg per tablet".
import type { AgentForm } from '../knowledge/agents.ts'
import { err, ok, type Result } from '../result.ts'
import { parseNumber } from '../units/parse.ts'
import type { Strength } from './strength.ts'

/** Density taken for a % w/w label that does not state one, g/mL, by agent. @source handbook 31 calc-strength, calc-formalin */
const USUAL_DENSITY: Readonly<Record<string, number>> = { formalin: 1.09, peroxide: 1.01 }

/** Reads a strength with its unit; without one it is refused, because 3 % and 3 mg/mL look the same. */
export function readStrength(text: string, form?: Pick<AgentForm, 'agent' | 'strengths'>): Result<Strength, string> {
  const split = /^\s*([\d.,/ \u00a0]+?)\s*([a-zµ%].*)?$/i.exec(text)
  if (!split) return err(`"${text}" does not start with a number.`)
  const number = parseNumber(split[1]!)
  if (!number.ok) return err(number.error.message)
  if (!(number.value > 0)) return err('The strength must be above zero. Read it off the label.')
  const unit = (split[2] ?? '').toLowerCase().replace(/\s+/g, ' ').trim()
  const value = number.value
  if (unit === '') return err(`"${text}" has no unit. Write ${value} % or ${value} mg/mL, as the label does.`)
  if (/^(%|percent)( w\/v)?$/.test(unit)) {
    const solid = form?.strengths[0]?.basis === 'powder'
    return ok(solid ? { basis: 'powder', mgPerG: value * 10 } : { basis: 'w/v', percent: value })
  }
  if (/^% w\/w$/.test(unit)) {
    const density = USUAL_DENSITY[form?.agent ?? '']
    if (density !== undefined) return ok({ basis: 'w/w', percent: value, densityGPerMl: density })
    return ok({ basis: 'powder', mgPerG: value * 10 })
  }
  if (/^(mg\/ml|mg per ml|g\/l)$/.test(unit)) return ok({ basis: 'mg-per-mL', mgPerMl: value })
  if (/^(mg\/g|mg per g(ram)?)$/.test(unit)) return ok({ basis: 'powder', mgPerG: value })
  if (/^(mg\/tablet|mg per tablet)$/.test(unit)) return ok({ basis: 'per-tablet', mgPerTablet: value })
  if (/^(mg\/drop|mg per drop)$/.test(unit)) return ok({ basis: 'per-drop', mgPerDrop: value })
  return err(
    `"${split[2]}" is not a strength we know. Labels write %, % w/w, mg/mL, mg/g, mg per tablet or mg per drop.`,
  )
}
