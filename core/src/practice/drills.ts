// Sums that a keeper does at the tank, with numbers new each time; each with two ways of working it out.
import { freeFromTotal } from '../water/ammonia.ts'
import { chanceFrom, type Chance } from '../world/random.ts'

export interface Drill {
  readonly kind: DrillKind
  readonly question: string
  /** Unit the answer is typed in. */
  readonly unit: string
  readonly answer: number
  /** An answer within this share is right: what a syringe or a kit can tell. */
  readonly within: number
  readonly ways: readonly [string, string]
}
export const DRILLS = ['dose', 'change', 'ramp', 'ammonia', 'emergency'] as const
export type DrillKind = (typeof DRILLS)[number]
export const DRILL_TITLES: Readonly<Record<DrillKind, string>> = {
  dose: 'A dose by volume and strength',
  change: 'A change, and what is left',
  ramp: 'A ramp by syringe',
  ammonia: 'Free ammonia from a kit',
  emergency: 'Ten minutes: what first, how much',
}
const trim = (value: number): string => String(Number(value.toPrecision(4)))
const between = (chance: Chance, low: number, high: number, step: number): number =>
  Math.round((low + (high - low) * chance.next()) / step) * step

const MAKERS: Readonly<Record<DrillKind, (chance: Chance) => Omit<Drill, 'kind'>>> = {
  dose: (chance) => {
    const [litres, level, strength] = [
      between(chance, 30, 240, 1),
      between(chance, 0.5, 2.5, 0.1),
      between(chance, 5, 25, 1),
    ]
    const answer = (litres * level) / strength
    return {
      question: `${litres} L of water are to hold ${trim(level)} mg/L. The bottle holds ${strength} mg in each mL. How many mL?`,
      unit: 'mL',
      answer,
      within: 0.03,
      ways: [
        `By what it needs: ${litres} L × ${trim(level)} mg/L = ${trim(litres * level)} mg; ÷ ${strength} mg/mL = ${trim(answer)} mL.`,
        `By what one mL does: ${strength} mg in ${litres} L raise ${trim(strength / litres)} mg/L; ${trim(level)} ÷ ${trim(strength / litres)} = ${trim(answer)} mL.`,
      ],
    }
  },
  change: (chance) => {
    const [level, share, times] = [
      between(chance, 1, 5, 0.1),
      between(chance, 0.2, 0.5, 0.05),
      Math.round(chance.between(1.5, 4.4)),
    ]
    const answer = level * (1 - share) ** times
    return {
      question: `The water holds ${trim(level)} mg/L. ${times} changes of ${Math.round(100 * share)} % with clean water, one after another. What is left, mg/L?`,
      unit: 'mg/L',
      answer,
      within: 0.03,
      ways: [
        `Step by step: ${Array.from({ length: times + 1 }, (_, i) => trim(level * (1 - share) ** i)).join(' → ')} mg/L.`,
        `At once: each leaves ${Math.round(100 * (1 - share))} %, so ${trim(level)} × ${trim(1 - share)}^${times} = ${trim(answer)} mg/L. Added up (${times} × ${Math.round(100 * share)} % = ${Math.round(100 * share * times)} %) it would be wrong.`,
      ],
    }
  },
  ramp: (chance) => {
    const [litres, target, strength, parts] = [
      between(chance, 40, 120, 1),
      between(chance, 1.5, 2.5, 0.1),
      between(chance, 8, 20, 1),
      Math.round(chance.between(3.5, 6.4)),
    ]
    const answer = (litres * target) / strength / parts
    return {
      question: `From nothing to ${trim(target)} mg/L in ${parts} equal parts, ${litres} L, a bottle of ${strength} mg/mL. How many mL is one part?`,
      unit: 'mL',
      answer,
      within: 0.04,
      ways: [
        `The whole first: ${litres} × ${trim(target)} ÷ ${strength} = ${trim(answer * parts)} mL; ÷ ${parts} = ${trim(answer)} mL.`,
        `The step first: ${trim(target)} ÷ ${parts} = ${trim(target / parts)} mg/L a part; × ${litres} L ÷ ${strength} mg/mL = ${trim(answer)} mL.`,
      ],
    }
  },
  ammonia: (chance) => {
    const [total, ph, temperature] = [
      between(chance, 0.2, 2, 0.1),
      between(chance, 7.6, 8.4, 0.1),
      between(chance, 23, 28, 1),
    ]
    const share = freeFromTotal(1, { phNbs: ph, tempC: temperature, salinityPsu: 35 })
    const answer = total * share
    const ten = freeFromTotal(1, { phNbs: 8.1, tempC: 25, salinityPsu: 35 })
    return {
      question: `A kit reads ${trim(total)} mg/L of total ammonia (as N) in sea water of ${temperature} °C and pH ${trim(ph)}. About how much of it is free, mg/L?`,
      unit: 'mg/L',
      answer,
      // Nobody reckons an equilibrium in the head: the size of it is what matters.
      within: 0.35,
      ways: [
        `By the equilibrium: at pH ${trim(ph)} and ${temperature} °C, ${trim(100 * share)} % is free; ${trim(total)} × ${trim(share)} = ${trim(answer)} mg/L.`,
        `By a rule of thumb: at pH 8.1 and 25 °C about ${Math.round(100 * ten)} % is free; each 0.3 of pH doubles or halves it, each 10 °C doubles it.`,
      ],
    }
  },
  emergency: (chance) => {
    const [litres, level, safe] = [between(chance, 40, 200, 1), between(chance, 0.8, 3, 0.1), 0.25]
    const times = Math.ceil(Math.log(safe / level) / Math.log(0.5))
    return {
      question: `Fish gasp; ammonia reads ${trim(level)} mg/L in ${litres} L. Air is on, food is out. You change by halves until it is at ${safe} mg/L or below. How many litres of new water in all?`,
      unit: 'L',
      answer: times * (litres / 2),
      within: 0.03,
      ways: [
        `By halves: ${Array.from({ length: times + 1 }, (_, i) => trim(level / 2 ** i)).join(' → ')} mg/L, so ${times} × ${trim(litres / 2)} L = ${trim((times * litres) / 2)} L.`,
        `By the ratio: ${trim(level)} ÷ ${safe} = ${trim(level / safe)}, which takes ${times} halvings (2^${times} = ${2 ** times}); ${times} × ${trim(litres / 2)} L.`,
      ],
    }
  },
}

/** A drill of a kind; the same seed asks the same. */
export function drillOf(kind: DrillKind, seed: number): Drill {
  return { kind, ...MAKERS[kind](chanceFrom(seed * 7919 + DRILLS.indexOf(kind))) }
}
/** Whether a typed number answers it; and by what factor it is off, where it is a slip of ten. */
export function checkDrill(drill: Drill, value: number): { readonly right: boolean; readonly slip: 'ten' | null } {
  const off = value / drill.answer
  return {
    right: Math.abs(off - 1) <= drill.within + 1e-9,
    slip: Math.abs(off - 10) < 10 * drill.within || Math.abs(off - 0.1) < 0.1 * drill.within ? 'ten' : null,
  }
}
