// One finding: what was looked for, what the record adds, and what follows from both.
import type { Pool } from '../knowledge/conditions.ts'
import { backgroundOf, type Background, type BackgroundWords } from './background.ts'
import { contextEvidence, type Flow, type WaterContext } from './context.ts'
import { nextLooks, type NextLooks } from './nextLook.ts'
import { rankConditions, type Evidence, type Ranking, type Subject } from './rank.ts'

export interface DiagnosisInput {
  readonly pool: Pool
  readonly hostGroup?: string | null
  readonly evidence: readonly Evidence[]
  readonly context?: WaterContext
  /** What the ledger answers beside the water: counts, losses, transport. */
  readonly history?: readonly Flow[]
  readonly copperDosed?: boolean
  readonly covered?: Subject['covered']
  readonly exposed?: Subject['exposed']
  /** Words of the record for what makes a condition likelier beforehand, by the id of its line. */
  readonly backgroundWords?: BackgroundWords
  /** Answers of the record that the keeper struck out. */
  readonly struck?: ReadonlySet<string>
  /** Looks the keeper cannot take. */
  readonly refused?: ReadonlySet<string>
}
export interface Diagnosis {
  readonly subject: Subject
  readonly ranking: Ranking
  readonly looks: NextLooks
  /** What the record answered by itself; the keeper's own answer to the same sign counts before it. */
  readonly flows: readonly Flow[]
  /** What the record makes likelier before anything is seen. */
  readonly background: readonly Background[]
  readonly evidence: readonly Evidence[]
}

/** Ranking, danger and next looks of a finding. Pure. */
export function diagnose(input: DiagnosisInput): Diagnosis {
  const context = input.context ?? {}
  const own = new Set(input.evidence.map(({ sign }) => sign))
  const history = input.history ?? []
  const said = new Set(history.map(({ sign }) => sign))
  // A week of readings knows more than the last of them.
  const flows = [...contextEvidence(input.pool, context).filter(({ sign }) => !said.has(sign)), ...history]
  const evidence = [
    ...flows.filter(({ sign }) => !own.has(sign) && input.struck?.has(sign) !== true),
    ...input.evidence,
  ]
  const told: Subject = {
    pool: input.pool,
    hostGroup: input.hostGroup ?? null,
    ...(context.daysSinceArrival === undefined ? {} : { daysSinceArrival: context.daysSinceArrival }),
    copperDosed: input.copperDosed ?? (context.copperMgPerL ?? 0) > 0,
    ...(context.recent ? { recent: context.recent } : {}),
    ...(input.covered ? { covered: input.covered } : {}),
    ...(input.exposed && input.exposed.length > 0 ? { exposed: input.exposed } : {}),
  }
  const { lines, subject } = backgroundOf(told, input.struck, input.backgroundWords)
  return {
    subject,
    ranking: rankConditions(subject, evidence),
    looks: nextLooks(subject, evidence, input.refused),
    flows,
    background: lines,
    evidence,
  }
}
