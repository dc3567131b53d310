// The worker's work without a worker, so that it runs in a test too.
import { compareMethods, earningForecast, estimateCourse, pestRounds, readingInfluence } from '@brinvo/core'
import type { JobName, Jobs, Reply, Request } from './protocol.ts'

/** Files are opened, tables read and pictures measured by workers of their own, with the validators and the words of heads. */
type Computed = Exclude<JobName, 'open' | 'table' | 'patch' | 'spots'>
const jobs: { [K in Computed]: (input: Jobs[K]['input']) => Jobs[K]['output'] } = {
  estimate: estimateCourse,
  influence: readingInfluence,
  earning: earningForecast,
  compare: compareMethods,
  rounds: pestRounds,
}

/** Runs one request; a fault becomes a reply, never a dead worker. */
export function handle(request: Request): Reply {
  try {
    const run = jobs[request.name as Computed] as (input: unknown) => unknown
    return { kind: 'done', jobId: request.jobId, output: run(request.input) }
  } catch (cause) {
    return { kind: 'failed', jobId: request.jobId, message: cause instanceof Error ? cause.message : String(cause) }
  }
}
