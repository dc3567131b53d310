// The typed client of the computation worker. Cancelling a running job ends its worker; the next job starts a new one.
import type { JobName, Jobs, Reply, Request } from './protocol.ts'

export interface WorkerLike {
  postMessage(message: Request): void
  terminate(): void
  onmessage: ((event: MessageEvent<Reply>) => void) | null
  onerror: ((event: ErrorEvent) => void) | null
}
interface Waiting {
  readonly request: Request
  readonly resolve: (output: never) => void
  readonly reject: (reason: Error) => void
  readonly onShare: ((share: number) => void) | undefined
}

export class ComputeClient {
  private worker: WorkerLike | null = null
  private readonly queue: Waiting[] = []
  private running: Waiting | null = null
  private nextId = 1

  constructor(private readonly spawn: () => WorkerLike) {}

  /** Runs a job in turn. Rejects with an AbortError when the signal fires first. */
  run<K extends JobName>(
    name: K,
    input: Jobs[K]['input'],
    signal?: AbortSignal,
    onShare?: (share: number) => void,
  ): Promise<Jobs[K]['output']> {
    return new Promise((resolve, reject) => {
      if (signal?.aborted) return reject(aborted())
      const waiting: Waiting = {
        request: { jobId: this.nextId++, name, input },
        resolve: resolve as (output: never) => void,
        reject,
        onShare,
      }
      signal?.addEventListener('abort', () => this.cancel(waiting), { once: true })
      this.queue.push(waiting)
      this.advance()
    })
  }

  private cancel(waiting: Waiting): void {
    const queued = this.queue.indexOf(waiting)
    if (queued >= 0) this.queue.splice(queued, 1)
    else if (this.running === waiting) {
      this.worker?.terminate()
      this.worker = null
      this.running = null
    } else return
    waiting.reject(aborted())
    this.advance()
  }

  private advance(): void {
    if (this.running) return
    const next = this.queue.shift()
    if (!next) return
    this.running = next
    if (!this.worker) {
      this.worker = this.spawn()
      this.worker.onmessage = (event) => this.settle(event.data)
      this.worker.onerror = (event) => {
        this.worker?.terminate()
        this.worker = null
        const failed = this.running
        this.running = null
        failed?.reject(new Error(event.message || 'The computation stopped unexpectedly.'))
        this.advance()
      }
    }
    this.worker.postMessage(next.request)
  }

  private settle(reply: Reply): void {
    const waiting = this.running
    if (!waiting || waiting.request.jobId !== reply.jobId) return
    if (reply.kind === 'share') {
      waiting.onShare?.(reply.share)
      return
    }
    this.running = null
    if (reply.kind === 'done') waiting.resolve(reply.output as never)
    else waiting.reject(new Error(reply.message))
    this.advance()
  }
}

const aborted = () => new DOMException('cancelled', 'AbortError')

const spawn = () =>
  new Worker(new URL('./compute.worker.ts', import.meta.url), { type: 'module' }) as unknown as WorkerLike

/** Opens files before they are taken; its worker brings the validators. */
export const files = new ComputeClient(
  () => new Worker(new URL('./file.worker.ts', import.meta.url), { type: 'module' }) as unknown as WorkerLike,
)
/** Reads tables; a press of “Stop” ends its worker. */
export const tables = new ComputeClient(
  () => new Worker(new URL('./table.worker.ts', import.meta.url), { type: 'module' }) as unknown as WorkerLike,
)
/** Measures pictures; a press of “Stop” ends its worker. */
export const patches = new ComputeClient(
  () => new Worker(new URL('./patch.worker.ts', import.meta.url), { type: 'module' }) as unknown as WorkerLike,
)
/** For work that may take a second. */
export const compute = new ComputeClient(spawn)
/** For work that must answer while a slider moves: never behind the other. */
export const quick = new ComputeClient(spawn)
