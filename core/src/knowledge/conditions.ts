// What can be wrong. The JSON under core/knowledge/conditions is the source; nothing here holds a figure.
import { limitOf } from './limits.ts'
import { conditions as TABLES } from '../generated/knowledge/conditions.ts'
import type { ConditionTable } from '../generated/conditionTypes.ts'
import { groupOf } from './agents.ts'
import { signOf, signs, type Sign } from './signs.ts'

export type Condition = ConditionTable['conditions'][number]
export type Pool = Condition['pools'][number]
export type Urgency = Condition['urgency']
export type { ConditionTable }

export const conditionTables: readonly ConditionTable[] = TABLES
export const conditions: readonly Condition[] = TABLES.flatMap((table) => table.conditions)
export const conditionOf = (id: string): Condition | undefined => conditions.find((condition) => condition.id === id)

export const POOLS: readonly {
  readonly id: Pool
  readonly label: string
  readonly water: 'marine' | 'fresh' | 'both'
}[] = [
  { id: 'fish-marine', label: 'A marine fish', water: 'marine' },
  { id: 'fish-fresh', label: 'A fresh-water fish', water: 'fresh' },
  { id: 'coral', label: 'A coral', water: 'marine' },
  { id: 'invertebrate', label: 'Another animal or a plant', water: 'both' },
  { id: 'pest-marine', label: 'Something crawling', water: 'marine' },
  { id: 'pest-fresh', label: 'Something crawling', water: 'fresh' },
  { id: 'surface-marine', label: 'A film, slime or growth', water: 'marine' },
  { id: 'surface-fresh', label: 'A film, slime or growth', water: 'fresh' },
]

const tables = new Map<Pool, ConditionTable>()
/** The table a pool belongs to. @throws RangeError for a pool that does not exist */
export function tableOf(pool: Pool): ConditionTable {
  let table = tables.get(pool)
  if (!table) {
    table = TABLES.find(({ conditions: list }) => list.some(({ pools }) => pools.includes(pool)))
    if (!table) throw new RangeError(`tableOf: no conditions for ${pool}`)
    tables.set(pool, table)
  }
  return table
}
export const conditionsOf = (pool: Pool): readonly Condition[] =>
  tableOf(pool).conditions.filter(({ pools }) => pools.includes(pool))

/** Below this multiplier of its prior a condition is one of other animals. */
const FOREIGN = limitOf('foreign-condition')
/** Conditions that an animal of a group can have; all of the pool where the group is not known. */
export function conditionsFor(pool: Pool, groupId: string | null): readonly Condition[] {
  const host = groupId === null ? undefined : tableOf(pool).hostMultipliers[groupId]
  return host === undefined ? conditionsOf(pool) : conditionsOf(pool).filter(({ id }) => (host[id] ?? 1) >= FOREIGN)
}
/** Signs that an animal of a group can show: what only other animals have is not asked of it. */
export function signsFor(pool: Pool, groupId: string | null): readonly Sign[] {
  const own = new Set(conditionsFor(pool, groupId).flatMap(({ likelihood }) => Object.keys(likelihood)))
  return signsOf(pool).filter(({ id }) => own.has(id))
}

const poolSigns = new Map<Pool, readonly Sign[]>()
/** Signs that tell conditions of a pool apart, in the order of the vocabulary. */
export function signsOf(pool: Pool): readonly Sign[] {
  let found = poolSigns.get(pool)
  if (!found) {
    const used = new Set(conditionsOf(pool).flatMap(({ likelihood }) => Object.keys(likelihood)))
    found = signs.filter(({ id }) => used.has(id))
    poolSigns.set(pool, found)
  }
  return found
}

/** The pool an animal of a group is looked up in. */
export function poolOf(groupId: string, water: 'marine' | 'fresh'): Pool {
  const kind = groupOf(groupId)?.kind ?? 'fish'
  if (kind === 'fish') return water === 'fresh' ? 'fish-fresh' : 'fish-marine'
  return groupId === 'hg-coral' ? 'coral' : 'invertebrate'
}

export interface Lint {
  readonly kind: 'inseparable' | 'unused-sign' | 'unknown-sign' | 'contradiction'
  readonly message: string
}
/** Faults of the tables: conditions that no sign separates, signs used nowhere, signs that are not in the vocabulary. */
export function lintConditions(): Lint[] {
  const found: Lint[] = []
  const used = new Set<string>()
  for (const condition of conditions)
    for (const id of Object.keys(condition.likelihood)) {
      used.add(id)
      if (!signOf(id))
        found.push({ kind: 'unknown-sign', message: `${condition.id} speaks of ${id}, which no vocabulary holds.` })
    }
  for (const { id } of signs)
    if (!used.has(id)) found.push({ kind: 'unused-sign', message: `${id} tells nothing apart.` })
  for (const { id: pool } of POOLS) {
    const list = conditionsOf(pool)
    list.forEach((a, i) =>
      list.slice(i + 1).forEach((b) => {
        const apart = signsOf(pool).some(({ id, leak }) => {
          const pa = a.likelihood[id] ?? leak
          const pb = b.likelihood[id] ?? leak
          return Math.max(pa, pb) / Math.min(pa, pb) >= 4
        })
        if (!apart) found.push({ kind: 'inseparable', message: `${pool}: nothing tells ${a.id} from ${b.id}.` })
      }),
    )
  }
  for (const table of TABLES)
    for (const condition of table.conditions)
      for (const { id, signs: group } of table.exclusive) {
        const sure = group.filter((sign) => (condition.likelihood[sign] ?? 0) >= 0.8)
        if (sure.length > 1)
          found.push({
            kind: 'contradiction',
            message: `${condition.id}: ${sure.join(' and ')} cannot both be likely (${id}).`,
          })
      }
  return found
}
