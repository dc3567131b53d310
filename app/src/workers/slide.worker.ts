// A clip of a slide, read frame by frame: the light first, then each frame, then what it holds.
import { SlideReader } from '@brinvo/core/imaging'
import type { SlideMessage, SlideReply } from './slideClient.ts'

let reader: SlideReader | null = null
self.onmessage = ({ data }: MessageEvent<SlideMessage>) => {
  let reply: SlideReply
  try {
    if (data.kind === 'begin') {
      reader = new SlideReader(data.some, data.meta)
      reply = { kind: 'begun' }
    } else if (!reader) throw new Error('The clip was not begun.')
    else if (data.kind === 'frame') reply = { kind: 'read', bodies: reader.add(data.picture).length }
    else reply = { kind: 'answer', answer: reader.answer() }
  } catch (cause) {
    reply = { kind: 'failed', message: cause instanceof Error ? cause.message : String(cause) }
  }
  self.postMessage(reply)
}
