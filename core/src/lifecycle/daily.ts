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

/** What lives, by age: expected numbers, changed in place by what is done and by each day that passes. */
export class DailyStock {
  adults: number
  /** By whole days since hatching. */
  readonly young: Float64Array
  /** By whole days since laying. */
  readonly eggs: Float64Array
  private readonly survival: number
  /** Share of the eggs of an age that hatches in the day to come: evenly over the hatch window. */
  private readonly hatching: Float64Array

  /**
   * @param founders mobiles; half adults, half spread over the young ages, with the eggs such a stock has
   * @throws RangeError for stages that are not whole days or a hatch window that falls
   */
  constructor(
    private readonly stages: DailyStages,
    founders: number,
  ) {
    const { hatchMinDays: first, hatchMaxDays: last, matureDays, eggsPerDay, youngSurvival } = stages
    if (![first, last, matureDays].every((value) => Number.isInteger(value) && value >= 1) || last < first)
      throw new RangeError('dailyNumbers: the stages must be whole days and the hatch window must rise')
    this.survival = youngSurvival ** (1 / matureDays)
    this.adults = founders / 2
    this.young = new Float64Array(matureDays).fill(founders / 2 / matureDays)
    this.eggs = new Float64Array(last)
    for (let age = 0; age < first; age++) this.eggs[age] = (founders / 2) * eggsPerDay
    this.hatching = new Float64Array(last)
    for (let age = first - 1; age < last; age++) this.hatching[age] = 1 / (last - age)
  }
  get mobiles(): number {
    return sum(this.young) + this.adults
  }
  get eggCount(): number {
    return sum(this.eggs)
  }
  /** Leaves these shares of mobiles and eggs. */
  keep(mobiles: number, eggs: number): void {
    this.adults *= mobiles
    for (let age = 0; age < this.young.length; age++) this.young[age]! *= mobiles
    for (let age = 0; age < this.eggs.length; age++) this.eggs[age]! *= eggs
  }
  /** Takes over what lives in another stock of the same pest, which is empty afterwards. */
  absorb(other: DailyStock): void {
    this.adults += other.adults
    for (let age = 0; age < this.young.length; age++) this.young[age]! += other.young[age]!
    for (let age = 0; age < this.eggs.length; age++) this.eggs[age]! += other.eggs[age]!
    other.keep(0, 0)
  }
  /** Laying by the adults of the morning, hatching, ageing. */
  pass(): void {
    const { hatchMinDays: first, hatchMaxDays: last, matureDays, eggsPerDay } = this.stages
    const { young, eggs, survival, hatching } = this
    const laid = this.adults * eggsPerDay
    let hatched = 0
    for (let age = last - 1; age >= first - 1; age--) {
      const out = eggs[age]! * hatching[age]!
      hatched += out
      if (age + 1 < last) eggs[age + 1] = eggs[age]! - out
    }
    eggs.copyWithin(1, 0, first - 1)
    eggs[0] = laid
    this.adults += young[matureDays - 1]! * survival
    for (let age = matureDays - 1; age > 0; age--) young[age] = young[age - 1]! * survival
    young[0] = hatched
  }
}

/**
 * Expected numbers from day 0 on, one row a day up to and with `days`, for founders of half young and half laying.
 * A day: treatment, record, laying by the adults of the morning, hatching, ageing with survival s^(1/m) a day.
 * @param founders mobiles at the start, as `DailyStock` takes them
 * @throws RangeError for stages that are not whole days or a hatch window that falls
 * @source handbook 50 §9
 */
export function dailyNumbers(
  stages: DailyStages,
  treatments: readonly DailyTreatment[],
  days: number,
  founders = 100,
): DailyRow[] {
  const stock = new DailyStock(stages, founders)
  const rows: DailyRow[] = []
  for (let day = 0; day <= days; day++) {
    const mobilesBefore = stock.mobiles
    const eggsBefore = stock.eggCount
    const today = treatments.filter((treatment) => treatment.day === day)
    for (const { kill, eggs } of today) stock.keep(1 - kill, 1 - eggs)
    rows.push({
      day,
      mobiles: today.length > 0 ? stock.mobiles : mobilesBefore,
      eggs: today.length > 0 ? stock.eggCount : eggsBefore,
      mobilesBefore,
      eggsBefore,
    })
    stock.pass()
  }
  return rows
}
