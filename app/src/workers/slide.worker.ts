// A clip of a slide, read frame by frame: the light first, then each frame, then what it holds.
import { SlideReader, type Picture } from '@brinvo/core/imaging'
import type { Size, SlideMessage, SlideReply } from './slideClient.ts'

let reader: SlideReader | null = null
let canvas: OffscreenCanvas | null = null
let size: Size = { width: 1, height: 1 }
function bytesOf(bitmap: ImageBitmap): Picture {
  const { width, height } = size
  if (canvas?.width !== width || canvas.height !== height) canvas = new OffscreenCanvas(width, height)
  const context = canvas.getContext('2d', { willReadFrequently: true })!
  context.imageSmoothingQuality = 'high'
  context.drawImage(bitmap, 0, 0, width, height)
  bitmap.close()
  return { width, height, channels: 4, data: context.getImageData(0, 0, width, height).data }
}
self.onmessage = ({ data }: MessageEvent<SlideMessage>) => {
  let reply: SlideReply
  try {
    if (data.kind === 'begin') {
      size = data.size
      reader = new SlideReader(data.some.map(bytesOf), data.meta)
      reply = { kind: 'begun' }
    } else if (!reader) throw new Error('The clip was not begun.')
    else if (data.kind === 'frame') reply = { kind: 'read', bodies: reader.add(bytesOf(data.picture)).length }
    else reply = { kind: 'answer', answer: reader.answer(data.fps) }
  } catch (cause) {
    reply = { kind: 'failed', message: cause instanceof Error ? cause.message : String(cause) }
  }
  self.postMessage(reply)
}
