// npm run lives -- [--protocol ID] [--keeper K] [--from S] [--seeds N] [--tank clean|checked|messy] [--days D] [--json]
import { protocolLibrary } from '@brinvo/core'
import { KEEPERS, type KeeperId } from './keepers.ts'
import { live, type Life, type Mishap } from './life.ts'

const args = process.argv.slice(2)
const valueOf = (name: string) => {
  const i = args.indexOf(`--${name}`)
  return i < 0 ? undefined : args[i + 1]
}
const protocols = protocolLibrary.filter(({ id }) => valueOf('protocol') === undefined || id === valueOf('protocol'))
const keepers = Object.values(KEEPERS).filter(({ id }) => valueOf('keeper') === undefined || id === valueOf('keeper'))
const from = Number(valueOf('from') ?? 1)
const seeds = Number(valueOf('seeds') ?? 1)
if (protocols.length === 0 || keepers.length === 0 || !(seeds >= 1)) {
  console.error('No such protocol or keeper.')
  process.exit(2)
}
const tank = valueOf('tank') ?? 'messy'
const maxDays = Number(valueOf('days') ?? 260)
const lives: Omit<Life, 'record'>[] = []
let bad = 0
for (const protocol of protocols)
  for (const keeper of keepers)
    for (let seed = from; seed < from + seeds; seed++) {
      const { record: _record, ...life } = live({
        protocol,
        keeper,
        seed,
        messy: tank !== 'clean',
        checked: tank === 'checked',
        maxDays,
        ...(valueOf('mishap') === undefined ? {} : { mishap: valueOf('mishap') as Mishap }),
      })
      lives.push(life)
      if (life.violations.length > 0) {
        bad++
        for (const { rule, hour, words, step } of life.violations)
          console.error(`${protocol.id} ${keeper.id} seed ${seed} h ${hour} [${rule}] ${step ?? ''} ${words}`)
      }
    }
if (args.includes('--json')) console.log(JSON.stringify(lives, null, 1))
const hours = lives.reduce((sum, { bandHours }) => sum + bandHours, 0)
const hits = lives.reduce((sum, { bandHits }) => sum + bandHits, 0)
const slow = Math.max(...lives.map(({ milliseconds }) => milliseconds))
console.log(
  `${lives.length} lives, ${bad} with a violation; ended ${lives.filter(({ days }) => days !== null).length}; slowest ${(slow / 1000).toFixed(1)} s${hours > 0 ? `; the 80 % band held the true level in ${((100 * hits) / hours).toFixed(1)} % of ${hours} looks` : ''}`,
)
const held = lives.flatMap(({ credited, heldDay }) => (credited ? [{ ...credited, heldDay: heldDay! }] : []))
if (held.length > 0) {
  const all = held.reduce((total, { hours: own }) => total + own, 0)
  const truly = held.reduce((total, one) => total + one.truly, 0)
  const short = held.filter(({ trueHours, needed }) => trueHours < needed).length
  console.log(
    `${held.length} holds: ${((100 * truly) / all).toFixed(1)} % of ${all} credited hours truly at level; ${short} over with fewer true hours than asked; ${held.filter(({ heldDay }) => heldDay <= 55).length} within 55 days; ${lives.filter(({ highest }) => highest > 1).length} of ${lives.length} lives over the hard maximum`,
  )
}
process.exit(bad > 0 ? 1 : 0)
export type { KeeperId }
