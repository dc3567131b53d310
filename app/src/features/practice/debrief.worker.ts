// The other keepers take seconds: they live in a worker of their own.
import type { KeeperRecord } from '@brinvo/core'
import { debriefOf, type Begun, type Debrief, type Hand } from '@brinvo/core/practice'

export interface DebriefQuestion {
  readonly begun: Begun
  readonly record: KeeperRecord
  readonly hands: readonly Hand[]
  readonly nowMs: number
}
export type DebriefMessage =
  | { readonly kind: 'share'; readonly share: number }
  | { readonly kind: 'done'; readonly debrief: Debrief }
  | { readonly kind: 'failed'; readonly words: string }

self.onmessage = ({ data: { begun, record, hands, nowMs } }: MessageEvent<DebriefQuestion>) => {
  const say = (message: DebriefMessage) => self.postMessage(message)
  try {
    say({ kind: 'done', debrief: debriefOf(begun, record, hands, nowMs, (share) => say({ kind: 'share', share })) })
  } catch (cause) {
    say({ kind: 'failed', words: (cause as Error).message })
  }
}
