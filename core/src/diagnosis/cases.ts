// Diagnosis cases from a file: each says what was seen and what an honest answer must hold.
import { conditionOf, POOLS, type Pool } from '../knowledge/conditions.ts'
import { groupOf } from '../knowledge/agents.ts'
import { signOf } from '../knowledge/signs.ts'
import { diagnose, type Diagnosis } from './diagnose.ts'
import type { Recent } from './rank.ts'

export interface DiagnosisCase {
  readonly id: string
  readonly host?: string | null
  readonly yes: readonly string[]
  readonly no: readonly string[]
  readonly context?: {
    readonly days_since_arrival?: number
    readonly tan_mg_per_l?: number
    readonly ph?: number
    readonly temp_c?: number
    readonly salinity_psu?: number
    readonly no3_mg_per_l?: number
    readonly po4_mg_per_l?: number
    readonly copper_mg_per_l?: number
    readonly active_course?: string
    readonly recent?: readonly Recent[]
  }
  readonly expect: {
    readonly leader?: string | null
    readonly top?: { readonly k: number; readonly ids: readonly string[] }
    readonly must_show?: readonly string[]
    readonly below?: { readonly id: string; readonly p: number }
    readonly next_look_any_of?: readonly string[]
  }
}
export interface CaseFile {
  readonly pool: Pool
  readonly cases: readonly DiagnosisCase[]
}
export interface CaseOutcome {
  readonly id: string
  readonly passed: boolean
  /** Whole sentences, one per part of `expect` that did not hold. */
  readonly failures: readonly string[]
  readonly diagnosis: Diagnosis
  /** Whether the expected leader came first, and among the first three; null where none is expected. */
  readonly first: boolean | null
  readonly third: boolean | null
  /** Dangerous conditions that had to be shown and were not. */
  readonly missed: number
}

/** Ids of a case that the knowledge does not hold. */
export function caseProblems(pool: Pool, one: DiagnosisCase): string[] {
  const problems: string[] = []
  const { expect } = one
  if (!POOLS.some(({ id }) => id === pool)) problems.push(`unknown pool ${pool}`)
  if (one.host && !groupOf(one.host)) problems.push(`unknown host ${one.host}`)
  for (const sign of [...one.yes, ...one.no, ...(expect.next_look_any_of ?? [])])
    if (!signOf(sign)) problems.push(`unknown sign ${sign}`)
  for (const id of [
    ...(expect.leader ? [expect.leader] : []),
    ...(expect.top?.ids ?? []),
    ...(expect.must_show ?? []),
    ...(expect.below ? [expect.below.id] : []),
  ])
    if (!conditionOf(id)) problems.push(`unknown condition ${id}`)
  return problems
}

/** One case against the engine. A finding is shown when it is among the first three or under the danger rule. */
export function caseOutcome(pool: Pool, one: DiagnosisCase): CaseOutcome {
  const context = one.context ?? {}
  const copperCourse = /copper/.test(context.active_course ?? '')
  const diagnosis = diagnose({
    pool,
    hostGroup: one.host ?? null,
    evidence: [
      ...one.yes.map((sign) => ({ sign, answer: 'yes' as const })),
      ...one.no.map((sign) => ({ sign, answer: 'no' as const })),
    ],
    copperDosed: copperCourse || (context.copper_mg_per_l ?? 0) > 0,
    context: {
      ...(context.days_since_arrival === undefined ? {} : { daysSinceArrival: context.days_since_arrival }),
      ...(context.tan_mg_per_l === undefined ? {} : { tanMgPerL: context.tan_mg_per_l }),
      ...(context.ph === undefined ? {} : { ph: context.ph }),
      ...(context.temp_c === undefined ? {} : { tempC: context.temp_c }),
      ...(context.salinity_psu === undefined ? {} : { salinityPsu: context.salinity_psu }),
      ...(context.no3_mg_per_l === undefined ? {} : { no3MgPerL: context.no3_mg_per_l }),
      ...(context.po4_mg_per_l === undefined ? {} : { po4MgPerL: context.po4_mg_per_l }),
      ...(context.copper_mg_per_l === undefined ? {} : { copperMgPerL: context.copper_mg_per_l }),
      ...(copperCourse && !/ionic/.test(context.active_course!) ? { copperCeilingMgPerL: 2.8 } : {}),
      ...(context.recent === undefined ? {} : { recent: context.recent }),
    },
  })
  const { ranking, looks } = diagnosis
  const order = ranking.entries.map(({ condition }) => condition.id)
  const shown = new Set([...order.slice(0, 3), ...ranking.danger.map(({ condition }) => condition.id)])
  const { leader, top, must_show: must = [], below, next_look_any_of: looksWanted } = one.expect
  const failures: string[] = []
  const led = ranking.leader?.condition.id ?? null
  if (leader !== undefined && led !== leader)
    failures.push(
      `leader is ${led ?? `nobody (${order[0]} at ${ranking.entries[0]!.p.toFixed(2)})`}, expected ${leader ?? 'nobody'}`,
    )
  for (const id of top?.ids ?? [])
    if (!order.slice(0, top!.k).includes(id))
      failures.push(`${id} is ${order.indexOf(id) + 1}., expected within ${top!.k}`)
  const unseen = must.filter((id) => !shown.has(id))
  for (const id of unseen)
    failures.push(`${id} is not shown (${ranking.entries.find(({ condition }) => condition.id === id)?.p.toFixed(3)})`)
  if (below) {
    const p = ranking.entries.find(({ condition }) => condition.id === below.id)?.p ?? 0
    if (p >= below.p) failures.push(`${below.id} is at ${p.toFixed(3)}, expected below ${below.p}`)
  }
  if (
    looksWanted &&
    !looksWanted.includes(looks.best?.sign.id ?? '') &&
    !looksWanted.includes(looks.safest?.sign.id ?? '')
  )
    failures.push(`the next look is ${looks.best?.sign.id ?? 'none'}, expected one of ${looksWanted.join(', ')}`)
  const wanted = leader ?? top?.ids[0] ?? null
  return {
    id: one.id,
    passed: failures.length === 0,
    failures,
    diagnosis,
    first: wanted === null ? null : order[0] === wanted,
    third: wanted === null ? null : order.slice(0, 3).includes(wanted),
    missed: unseen.length,
  }
}
