// What crosses to the worker and back: plain data, nothing else.
import type {
  CompareInputs,
  Comparison,
  CourseEstimate,
  EarningForecast,
  EstimateInputs,
  ReadingInfluence,
  Rounds,
  RoundsInputs,
} from '@brinvo/core'
import type { earningForecast } from '@brinvo/core'
import type { CoverAnswer, CoverQuestion, FoundSpot, Picture, SpotQuestion } from '@brinvo/core/pictures'
import type { TableAnswers, TableKind, TableResult } from '@brinvo/core/tables'
import type { OpenInput, Opened } from './openFile.ts'

export type EarningOptions = Parameters<typeof earningForecast>[0]

export interface TableInput {
  readonly bytes: Uint8Array
  readonly kind: TableKind
  readonly zone: string
  readonly nowMs: number
  readonly answers: TableAnswers
}

export interface PatchInput {
  readonly a: Picture
  readonly b: Picture | null
  /** Something white or grey in each, px: the light is taken out by both or by none. */
  readonly neutral: { readonly a: readonly [number, number]; readonly b: readonly [number, number] | null } | null
  readonly question: CoverQuestion
}

export interface Jobs {
  estimate: { input: EstimateInputs; output: CourseEstimate }
  influence: { input: EstimateInputs; output: readonly ReadingInfluence[] }
  earning: { input: EarningOptions; output: EarningForecast }
  compare: { input: CompareInputs; output: Comparison }
  rounds: { input: RoundsInputs; output: Rounds }
  open: { input: OpenInput; output: Opened }
  table: { input: TableInput; output: TableResult }
  patch: { input: PatchInput; output: CoverAnswer }
  spots: { input: { readonly picture: Picture; readonly question: SpotQuestion }; output: readonly FoundSpot[] }
}
export type JobName = keyof Jobs

export interface Request<K extends JobName = JobName> {
  readonly jobId: number
  readonly name: K
  readonly input: Jobs[K]['input']
}
export type Reply =
  | { readonly kind: 'done'; readonly jobId: number; readonly output: unknown }
  | { readonly kind: 'failed'; readonly jobId: number; readonly message: string }
  /** How far a job is, 0 to 1. */
  | { readonly kind: 'share'; readonly jobId: number; readonly share: number }
