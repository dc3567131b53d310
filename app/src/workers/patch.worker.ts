// A patch measured in a picture and in a later one of the same place; spots found on a fish.
import { balanced, coverOf, findSpots } from '@brinvo/core/pictures'
import type { PatchInput, Reply, Request } from './protocol.ts'

self.onmessage = ({ data }: MessageEvent<Request<'patch'> | Request<'spots'>>) => {
  const { jobId } = data
  let reply: Reply
  try {
    const output =
      data.name === 'spots'
        ? findSpots((data as Request<'spots'>).input.picture, (data as Request<'spots'>).input.question)
        : measured((data as Request<'patch'>).input)
    reply = { kind: 'done', jobId, output }
  } catch (cause) {
    reply = { kind: 'failed', jobId, message: cause instanceof Error ? cause.message : String(cause) }
  }
  self.postMessage(reply)
}

function measured({ a, b, question, neutral }: PatchInput) {
  const lit = (picture: PatchInput['a'], at: readonly [number, number] | null) =>
    at === null ? picture : balanced(picture, at)
  return coverOf(lit(a, neutral?.a ?? null), b && lit(b, neutral?.b ?? null), question)
}
