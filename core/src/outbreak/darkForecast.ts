// Dark days: what dying tissue gives back to the water, read from the daily tests and carried forward.

import { limitOf } from '../knowledge/limits.ts'
export interface DarkReading {
  /** Days since the light went out; tests before it are at or below 0. */
  readonly day: number
  readonly value: number
  readonly sd: number
}
export interface DarkForecast {
  readonly start: number
  /** Value on later days: middle and the band of eight in ten. */
  readonly band: readonly {
    readonly day: number
    readonly low: number
    readonly middle: number
    readonly high: number
  }[]
  /** Chance that the limit is passed within two days, before the test after the next day, and before the planned end. */
  readonly withinTwoDays: number
  readonly byTomorrow: number
  readonly beforeEnd: number
  /** Whether to end it now: the limit is likely enough to be passed before the next test could say so. */
  readonly call: boolean
  /** What may be done before it is ended on a call: another test at once, or one in half a day. Who cannot test ends it. */
  readonly again: 'now' | 'half-day' | null
  /** First day on which it is more likely than not above the limit; null within the band. */
  readonly crossesDay: number | null
}
/**
 * Called at this chance of passing the limit before the next test could say so: late calls cost animals, early ones the
 * treatment. Chosen on made-up tanks (core/lives/darkSpells.ts): as few late calls as 0.15 within two days, and half the needless ones. EST
 */
export const CALL_AT = limitOf('dark-call')
/** Days until the next daily test, with an hour or two of being late. */
const NEXT_TEST_DAYS = limitOf('dark-next-test')
/** From this chance on no further test is asked for. */
const SURE_AT = limitOf('dark-sure')
/** Tests of one sitting that settle a doubt. */
const LOOKS = limitOf('dark-looks')

/** Whole release ÷ room to the limit (log), its middle day, and its steepness a day. EST after handbook 60 §10: flat to day 2, double by day 5. */
const WHOLE = { mean: Math.log(1.2), sd: 0.9 }
const MIDDLE = { mean: 4.5, sd: 1.6 }
const WHOLES = Array.from({ length: 14 }, (_, i) => WHOLE.mean + WHOLE.sd * (-2.4 + (4.8 * i) / 13))
const MIDDLES = Array.from({ length: 12 }, (_, i) => 1.2 + (6.6 * i) / 11)
const STEEPS = [0.8, 1.3, 2]
const BINS = 200
const OFFSETS = [-1.6, -0.8, 0, 0.8, 1.6]

/**
 * Tissue dies slowly, then fast, then there is none left: value = start + whole × (σ(s (t − m)) − σ(−s m)), with start,
 * whole, middle day and steepness weighed on a grid by the tests. @param limit the value at which the dark ends, above the start
 * @param endDay day on which it ends anyway
 * @throws RangeError without a single reading, or a limit at or below the start
 */
export function darkForecast(readings: readonly DarkReading[], limit: number, endDay: number): DarkForecast {
  const sorted = [...readings].sort((a, b) => a.day - b.day)
  const before = sorted.filter(({ day }) => day <= 0.25)
  const basis = before.length > 0 ? before : sorted.slice(0, 1)
  if (basis.length === 0) throw new RangeError('darkForecast: no reading of the start')
  const weightSum = basis.reduce((sum, { sd }) => sum + 1 / sd ** 2, 0)
  const start = basis.reduce((sum, { value, sd }) => sum + value / sd ** 2, 0) / weightSum
  const startSd = 1 / Math.sqrt(weightSum)
  const room = limit - start
  if (!(room > 0)) throw new RangeError('darkForecast: the limit is not above the start')
  const lastDay = Math.max(0, sorted.at(-1)!.day)
  const weighed = weigh(
    start,
    startSd,
    room,
    sorted.filter(({ day }) => day > 0.25),
  )
  const total = weighed.reduce((sum, { weight }) => sum + weight, 0)
  const passed = (day: number) =>
    weighed.reduce((sum, model) => sum + (valueOf(model, day) >= limit ? model.weight : 0), 0) / total
  const days = Array.from({ length: Math.max(2, Math.ceil(endDay - lastDay) + 1) }, (_, i) => lastDay + i)
  const band = days.map((day) => {
    const values = weighed.map((model) => valueOf(model, day))
    const low = Math.min(...values)
    const width = (Math.max(...values) - low) / BINS || 1
    const bins = new Float64Array(BINS + 1)
    values.forEach((value, i) => (bins[Math.floor((value - low) / width)]! += weighed[i]!.weight))
    const at = (share: number) => {
      let sum = 0
      for (let i = 0; i <= BINS; i++) if ((sum += bins[i]!) >= share * total) return low + (i + 0.5) * width
      return low + BINS * width
    }
    return { day, low: at(0.1), middle: at(0.5), high: at(0.9) }
  })
  const last = sorted.at(-1)!
  const passedAlready = last.value >= limit
  const byTomorrow = passed(lastDay + NEXT_TEST_DAYS)
  const likely = byTomorrow >= CALL_AT && !passedAlready
  // One test alone may be off by its kit: more of them, at once, cost minutes; an end too early costs the treatment.
  const doubtful = likely && byTomorrow < SURE_AT && looksToday(sorted) < LOOKS
  const byTonight = passed(lastDay + NEXT_TEST_DAYS / 2)
  const waits = likely && !doubtful && byTonight < CALL_AT
  return {
    start,
    band,
    withinTwoDays: passed(lastDay + 2),
    byTomorrow,
    beforeEnd: passed(endDay),
    call: passedAlready || likely,
    again: doubtful ? 'now' : waits ? 'half-day' : null,
    crossesDay: band.find(({ middle }) => middle >= limit)?.day ?? null,
  }
}
/** Tests of the last sitting: within a quarter of a day of the newest. */
const looksToday = (sorted: readonly DarkReading[]): number =>
  sorted.filter(({ day }) => sorted.at(-1)!.day - day <= 0.25 && day > 0.25).length

interface Model {
  readonly from: number
  readonly whole: number
  readonly middle: number
  readonly steep: number
  /** Value of the curve on day 0. */
  readonly base: number
  readonly weight: number
}
const sigma = (x: number): number => 1 / (1 + Math.exp(-x))
const valueOf = ({ from, whole, middle, steep, base }: Omit<Model, 'weight'>, day: number): number =>
  day <= 0 ? from : from + whole * (sigma(steep * (day - middle)) - base)

/** Every model of the grid that the tests leave standing, weighed by prior and tests. */
function weigh(start: number, startSd: number, room: number, later: readonly DarkReading[]): Model[] {
  const found: (Omit<Model, 'weight'> & { log: number })[] = []
  for (const middle of MIDDLES)
    for (const steep of STEEPS) {
      const base = sigma(-steep * middle)
      const shape = later.map(({ day }) => sigma(steep * (day - middle)) - base)
      for (const logWhole of WHOLES) {
        const whole = room * Math.exp(logWhole)
        const prior = ((logWhole - WHOLE.mean) / WHOLE.sd) ** 2 + ((middle - MIDDLE.mean) / MIDDLE.sd) ** 2
        for (const z of OFFSETS) {
          const from = start + z * startSd
          let square = prior + z * z
          for (let i = 0; i < later.length; i++)
            square += ((later[i]!.value - from - whole * shape[i]!) / later[i]!.sd) ** 2
          found.push({ from, whole, middle, steep, base, log: -0.5 * square })
        }
      }
    }
  const most = found.reduce((best, { log }) => Math.max(best, log), -Infinity)
  // What explains the tests a thousand times worse than the best says nothing.
  return found.flatMap(({ log, ...model }) => (log < most - 7 ? [] : [{ ...model, weight: Math.exp(log - most) }]))
}
