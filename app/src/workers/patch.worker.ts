// A patch measured in a picture and in a later one of the same place.
import { coverOf } from '@brinvo/core/pictures'
import type { Reply, Request } from './protocol.ts'

self.onmessage = (event: MessageEvent<Request<'patch'>>) => {
  const { jobId, input } = event.data
  let reply: Reply
  try {
    reply = { kind: 'done', jobId, output: coverOf(input.a, input.b, input.question) }
  } catch (cause) {
    reply = { kind: 'failed', jobId, message: cause instanceof Error ? cause.message : String(cause) }
  }
  self.postMessage(reply)
}
