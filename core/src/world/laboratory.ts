// A laboratory of the world: it gets what is truly in the water, and answers after its days, with an error of its own.
import { standard as NATURAL } from './naturalWater.ts'
import type { Chance } from './random.ts'

export interface LaboratoryOrder {
  /** What the water truly holds of each element, mg/L; what is left out is as in natural sea water of this salinity. */
  readonly truth: Readonly<Record<string, number>>
  readonly salinityPpt: number
  /** Day of sampling, `2026-11-20`. */
  readonly sampledOn: string
  readonly bottle?: string
}

const text = (value: number): string => String(Number(value.toPrecision(4)))

/** A report as a laboratory writes one: majors in mg/L, traces in µg/L, and "<" where its method sees nothing. */
export function answerOfLaboratory({ truth, salinityPpt, sampledOn, bottle }: LaboratoryOrder, chance: Chance): string {
  const lines = [
    'Water analysis',
    ...(bottle === undefined ? [] : [`Bottle;${bottle}`]),
    `Sampled;${sampledOn}`,
    '',
    'Element;Result;Unit;Limit',
    `Salinity;${text(salinityPpt * (1 + chance.normal(0, 0.004)))};ppt;`,
  ]
  for (const { symbol, mgPerL, share, limit } of NATURAL) {
    const held = truth[symbol] ?? (mgPerL * salinityPpt) / 35
    const read = Math.max(0, held * (1 + chance.normal(0, share)))
    const fine = mgPerL < 0.5
    const [factor, unit] = fine ? [1000, 'µg/L'] : [1, 'mg/L']
    lines.push(
      `${symbol};${read < limit ? `<${text(limit * factor)}` : text(read * factor)};${unit};${text(limit * factor)}`,
    )
  }
  return `${lines.join('\r\n')}\r\n`
}
