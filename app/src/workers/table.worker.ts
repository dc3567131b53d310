import { readTable } from '@brinvo/core/tables'
import type { Reply, Request } from './protocol.ts'

self.onmessage = (event: MessageEvent<Request<'table'>>) => {
  const { jobId, input } = event.data
  let reply: Reply
  try {
    const output = readTable(input.bytes, input.kind, input.zone, input.nowMs, input.answers, (share) =>
      self.postMessage({ kind: 'share', jobId, share } satisfies Reply),
    )
    reply = { kind: 'done', jobId, output }
  } catch (cause) {
    reply = { kind: 'failed', jobId, message: cause instanceof Error ? cause.message : String(cause) }
  }
  self.postMessage(reply)
}
