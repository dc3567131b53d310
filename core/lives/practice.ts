// npm run practice -- --seeds N [--tank ID] [--from S]: every practice tank lived by the exact keeper and by the calendar keeper, and
// held against what its text promises: in how many lives, without a fault, and how long a simulated day takes.
import { calendarLife, exactLife, kept, measureOf, ownLife, practiceTanks, type PracticeLife } from '../src/practice.ts'
import { given } from './args.ts'

const seeds = Number(given('seeds') ?? 3)
const from = Number(given('from') ?? 1)
const only = given('tank')
const verbose = given('say') !== undefined
const startMs = Date.parse('2026-03-20T16:00:00Z')
let failed = 0
let worst = 0
for (const definition of practiceTanks.filter(({ id }) => only === undefined || id === only)) {
  const lives: Record<'exact' | 'calendar', PracticeLife[]> = { exact: [], calendar: [] }
  let spent = 0
  let whole = 0
  let days = 0
  for (let seed = from; seed < from + seeds; seed++) {
    const begun = { definition, seed, startMs, zone: 'Europe/Berlin' }
    const began = performance.now()
    const exact = exactLife(begun)
    lives.exact.push(exact)
    whole += performance.now() - began
    // What a press on the clock costs: the same ledger read again, from the first hour on.
    const again = performance.now()
    const own = ownLife(begun, exact.record, [], startMs + definition.days * 86_400_000)
    spent += performance.now() - again
    if (own.trace.length === 0) failed++
    days += definition.days
    lives.calendar.push(calendarLife(begun))
  }
  const faults = [...new Set(lives.exact.flatMap((life) => life.faults))]
  worst = Math.max(worst, spent / days)
  for (const who of ['exact', 'calendar'] as const)
    for (const measure of definition.promises[who].measures) {
      const held = lives[who].filter(({ outcome }) => kept(outcome, [measure]) === null).length
      const wanted = measure.lives ?? 0.8
      const good = held / seeds >= wanted
      if (!good) failed++
      const values = lives[who].map(({ outcome }) => measureOf(outcome, measure.of)).sort((a, b) => a - b)
      console.log(
        `${good ? 'ok  ' : 'MISS'} ${definition.id} ${who}: ${measure.of} ${measure.least === undefined ? `at most ${measure.most}` : `at least ${measure.least}`} in ${held} of ${seeds} (median ${Number(values[Math.floor(values.length / 2)]!.toPrecision(3))}, ${Number(values[0]!.toPrecision(3))} to ${Number(values.at(-1)!.toPrecision(3))})`,
      )
    }
  if (faults.length > 0) {
    failed++
    console.log(`FAULT ${definition.id}: ${faults.slice(0, 3).join('; ')}`)
  }
  const ended = lives.exact.flatMap(({ endedDay }) => endedDay ?? [])
  console.log(
    `     ${definition.id}: ended ${ended.length} of ${seeds}${ended.length > 0 ? `, day ${Math.min(...ended)} to ${Math.max(...ended)}` : ''}; ${(spent / days).toFixed(2)} ms a simulated day of the tank, ${(whole / days).toFixed(0)} with a keeper who plans`,
  )
  if (verbose)
    for (const entry of lives.exact[0]!.record.entries.slice(0, 80))
      console.log(
        `       ${entry.at.slice(0, 16)} ${entry.kind} ${'note' in entry ? entry.note : ''} ${JSON.stringify(entry).slice(0, 160)}`,
      )
}
console.log(`Slowest simulated day: ${worst.toFixed(1)} ms (wanted 30). ${failed} failed.`)
process.exit(failed > 0 ? 1 : 0)
