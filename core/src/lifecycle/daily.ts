// A pest day by day in expected numbers, with the losses of the young counted in: what a keeper's counts are held
// against. The exact chances of a plan are in lifecycle.ts; this one is linear in the founders, so counts can scale it.

export interface DailyStages {
  /** Days from laying to the first and the last hatchling, whole days. */
  readonly hatchMinDays: number
  readonly hatchMaxDays: number
  /** Days from hatching to the first own eggs, whole days. */
  readonly matureDays: number
  readonly eggsPerDay: number
  /** Chance that a hatchling lives to lay. 0 to 1. */
  readonly youngSurvival: number
}
export interface DailyTreatment {
  readonly day: number
  /** Share of mobiles killed, share of eggs removed. 0 to 1. */
  readonly kill: number
  readonly eggs: number
}
export interface DailyRow {
  readonly day: number
  /** At the time of day of a treatment, after it. */
  readonly mobiles: number
  readonly eggs: number
  /** Mobiles just before a treatment of that day: what a count can find. */
  readonly mobilesBefore: number
  readonly eggsBefore: number
}

/** A plain loop: this is asked some ten thousand times for one page. */
function sum(values: Float64Array): number {
  let total = 0
  for (let i = 0; i < values.length; i++) total += values[i]!
  return total
}

/**
 * Expected numbers from day 0 on, one row a day up to and with `days`, for founders of half young and half laying.
 * A day: treatment, record, laying by the adults of the morning, hatching, ageing with survival s^(1/m) a day.
 * @param founders mobiles at the start; half adults, half spread over the young ages, with the eggs such a stock has
 * @throws RangeError for stages that are not whole days or a hatch window that falls
 * @source handbook 50 §9
 */
export function dailyNumbers(
  stages: DailyStages,
  treatments: readonly DailyTreatment[],
  days: number,
  founders = 100,
): DailyRow[] {
  const { hatchMinDays: first, hatchMaxDays: last, matureDays, eggsPerDay, youngSurvival } = stages
  if (![first, last, matureDays].every((value) => Number.isInteger(value) && value >= 1) || last < first)
    throw new RangeError('dailyNumbers: the stages must be whole days and the hatch window must rise')
  const survival = youngSurvival ** (1 / matureDays)
  let adults = founders / 2
  const young = new Float64Array(matureDays).fill(founders / 2 / matureDays)
  const eggs = new Float64Array(last)
  for (let age = 0; age < first; age++) eggs[age] = (founders / 2) * eggsPerDay
  const rows: DailyRow[] = []
  for (let day = 0; day <= days; day++) {
    const mobilesBefore = sum(young) + adults
    const eggsBefore = sum(eggs)
    let treated = false
    for (const treatment of treatments) {
      if (treatment.day !== day) continue
      treated = true
      adults *= 1 - treatment.kill
      for (let age = 0; age < matureDays; age++) young[age]! *= 1 - treatment.kill
      for (let age = 0; age < last; age++) eggs[age]! *= 1 - treatment.eggs
    }
    rows.push({
      day,
      mobiles: treated ? sum(young) + adults : mobilesBefore,
      eggs: treated ? sum(eggs) : eggsBefore,
      mobilesBefore,
      eggsBefore,
    })
    const laid = adults * eggsPerDay
    let hatched = 0
    for (let age = last - 1; age >= 0; age--) {
      const next = age + 1
      const out = eggs[age]! * (next < first ? 0 : next >= last ? 1 : 1 / (last - next + 1))
      hatched += out
      if (next < last) eggs[next] = eggs[age]! - out
    }
    eggs[0] = laid
    adults += young[matureDays - 1]! * survival
    for (let age = matureDays - 1; age > 0; age--) young[age] = young[age - 1]! * survival
    young[0] = hatched
  }
  return rows
}
