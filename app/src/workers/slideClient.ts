// The slide worker's typed client: one clip at a time, one message in flight; stopping ends the worker.
import type { ClipMeta, SlideAnswer } from '@brinvo/core/imaging'

export type SlideMessage =
  | { readonly kind: 'begin'; readonly some: readonly ImageBitmap[]; readonly size: Size; readonly meta: ClipMeta }
  | { readonly kind: 'frame'; readonly picture: ImageBitmap | VideoFrame }
  | { readonly kind: 'end'; readonly fps: number }
export interface Size {
  readonly width: number
  readonly height: number
}
export type SlideReply =
  | { readonly kind: 'begun' }
  | { readonly kind: 'read'; readonly bodies: number }
  | { readonly kind: 'answer'; readonly answer: SlideAnswer }
  | { readonly kind: 'failed'; readonly message: string }
interface WorkerLike {
  postMessage(message: SlideMessage, transfer?: Transferable[]): void
  terminate(): void
  onmessage: ((event: MessageEvent<SlideReply>) => void) | null
  onerror: ((event: ErrorEvent) => void) | null
}
const spawn = () =>
  new Worker(new URL('./slide.worker.ts', import.meta.url), { type: 'module' }) as unknown as WorkerLike

export class SlideRun {
  private readonly worker: WorkerLike
  private waiting: { resolve: (reply: SlideReply) => void; reject: (cause: Error) => void } | null = null
  private stopped = false
  constructor(make: () => WorkerLike = spawn) {
    this.worker = make()
    this.worker.onmessage = ({ data }) => {
      const { waiting } = this
      this.waiting = null
      if (data.kind === 'failed') waiting?.reject(new Error(data.message))
      else waiting?.resolve(data)
    }
    this.worker.onerror = (event) => {
      const { waiting } = this
      this.waiting = null
      waiting?.reject(new Error(event.message || 'The reading of the clip stopped unexpectedly.'))
    }
  }
  private ask(message: SlideMessage, transfer: Transferable[] = []): Promise<SlideReply> {
    if (this.stopped) return Promise.reject(new DOMException('cancelled', 'AbortError'))
    return new Promise((resolve, reject) => {
      this.waiting = { resolve, reject }
      this.worker.postMessage(message, transfer)
    })
  }
  /** @param size that every picture is made, px */
  async begin(some: readonly ImageBitmap[], size: Size, meta: ClipMeta): Promise<void> {
    await this.ask({ kind: 'begin', some, size, meta }, [...some])
  }
  /** The picture goes over and is gone here. */
  async frame(picture: ImageBitmap | VideoFrame): Promise<void> {
    await this.ask({ kind: 'frame', picture }, [picture])
  }
  /** @param fps frames a second that there were: known when all were seen */
  async end(fps: number): Promise<SlideAnswer> {
    const reply = await this.ask({ kind: 'end', fps })
    if (reply.kind !== 'answer') throw new Error('The clip gave no answer.')
    return reply.answer
  }
  stop(): void {
    this.stopped = true
    this.worker.terminate()
    this.waiting?.reject(new DOMException('cancelled', 'AbortError'))
    this.waiting = null
  }
}
