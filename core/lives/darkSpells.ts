// Dark days in made-up tanks by laws the forecast does not know: how many calls were needless, how many came too late.
import { darkForecast, type DarkReading } from '@brinvo/core'
import { chanceFrom } from '../src/world/random.ts'

export interface DarkFigures {
  readonly tanks: number
  readonly crossed: number
  /** Of the tanks that pass the line: not called before it. */
  readonly missed: number
  readonly called: number
  /** Of the calls: the line would not have been passed before the planned end. */
  readonly needless: number
}

/**
 * Daily tests with a kit's scatter; where the forecast asks for a second look, the keeper takes it (`asks`), or sticks to one a day.
 * The tissue dies by exponential growth that thins out, or in one burst after a lag, or in a straight line.
 */
export function darkFigures(tanks: number, seed: number, endDay: number, asks = true): DarkFigures {
  let crossed = 0
  let missed = 0
  let called = 0
  let needless = 0
  for (let tank = 0; tank < tanks; tank++) {
    const chance = chanceFrom(seed * 100_003 + tank)
    const start = chance.between(4, 16)
    const line = start + Math.min(10, start)
    const whole = (line - start) * Math.exp(chance.normal(Math.log(0.55), 0.7))
    const law = tank % 3
    const rate = chance.between(0.3, 0.9)
    const lag = chance.between(1, 4)
    const value = (day: number): number => {
      if (day <= 0) return start
      if (law === 0) {
        const rise = (whole * Math.expm1(rate * day)) / Math.expm1(5 * rate)
        return start + rise / (1 + rise / (4 * whole))
      }
      if (law === 1) return start + whole * (1 - Math.exp(-Math.max(0, day - lag)))
      return start + (whole * day) / 5
    }
    let crossesAt: number | null = null
    for (let day = 0; day <= endDay && crossesAt === null; day += 0.02) if (value(day) >= line) crossesAt = day
    if (crossesAt !== null) crossed++
    const sd = (level: number) => Math.max(0.4, 0.1 * level)
    const read = (day: number): DarkReading => {
      const seen = Math.max(0, value(day) + sd(value(day)) * chance.normal(0, 1))
      return { day, value: seen, sd: sd(seen) }
    }
    const readings = [read(-1), read(0)]
    let calledAt: number | null = null
    let day = 1
    while (day < endDay && calledAt === null) {
      readings.push(read(day))
      let said = darkForecast(readings, line, endDay)
      for (let again = 1; asks && again <= 3 && said.again === 'now'; again++) {
        readings.push(read(day + 0.01 * again))
        said = darkForecast(readings, line, endDay)
      }
      if (said.call && (!asks || said.again === null)) calledAt = day
      day += asks && said.again === 'half-day' ? 0.5 : Math.floor(day) + 1 - day
    }
    if (calledAt !== null) called++
    if (crossesAt !== null && (calledAt === null || calledAt > crossesAt)) missed++
    if (calledAt !== null && crossesAt === null) needless++
  }
  return { tanks, crossed, missed, called, needless }
}
