// npm run fuzz -- --n N --seed S: mutated files through the import path; fails when one that is taken breaks a page.
import { cpuUsage } from 'node:process'
import { runMutants } from './mutants.ts'

const of = (name: string, usual: number) => {
  const at = process.argv.indexOf(`--${name}`)
  const value = at < 0 ? usual : Number(process.argv[at + 1])
  if (!Number.isInteger(value) || value < 1) {
    console.error(`--${name} wants a whole number from 1 up.`)
    process.exit(2)
  }
  return value
}
const tally = runMutants(of('n', 1000), of('seed', 1), () => {
  // Time of the processor, not of the wall: a busy machine makes no file slow.
  const { user, system } = cpuUsage()
  return (user + system) / 1000
})
console.log(
  `${tally.files} mutated files: ${tally.refused} refused, ${tally.taken} taken, ${tally.bad.length} of these broke something; slowest ${Math.round(tally.slowestMs)} ms`,
)
for (const line of tally.bad.slice(0, 20)) console.log(`  ${line}`)
process.exit(tally.bad.length > 0 ? 1 : 0)
