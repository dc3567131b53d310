import { openFile } from './openFile.ts'
import type { Reply, Request } from './protocol.ts'

self.onmessage = (event: MessageEvent<Request<'open'>>) => {
  const { jobId, input } = event.data
  let reply: Reply
  try {
    reply = { kind: 'done', jobId, output: openFile(input) }
  } catch (cause) {
    reply = { kind: 'failed', jobId, message: cause instanceof Error ? cause.message : String(cause) }
  }
  self.postMessage(reply)
}
