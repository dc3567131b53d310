// Which drawn signs show a condition best: frequent in it, seldom in the others of its table.
import { conditionTables, type Condition } from '@brinvo/core'
import { isDrawn } from '../../parts/Drawings.tsx'

/** From this chance on a sign is one to expect. */
const EXPECTED = 0.3

/** At most `most` drawn signs of a condition, the most telling first. Pure. */
export function typicalSigns(condition: Condition, most = 3): string[] {
  const others = conditionTables
    .flatMap(({ conditions }) => conditions)
    .filter((one) => one.id !== condition.id && one.pools.some((pool) => condition.pools.includes(pool)))
  const elsewhere = (sign: string) =>
    others.reduce((sum, { likelihood }) => sum + (likelihood[sign] ?? 0), 0) / Math.max(1, others.length)
  return Object.entries(condition.likelihood)
    .filter(([sign, p]) => p >= EXPECTED && isDrawn(sign))
    .map(([sign, p]) => ({ sign, tells: p - elsewhere(sign) }))
    .sort((a, b) => b.tells - a.tells || (a.sign < b.sign ? -1 : 1))
    .slice(0, most)
    .map(({ sign }) => sign)
}
