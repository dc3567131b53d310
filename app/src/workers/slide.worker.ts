// A clip of a slide, read frame by frame: the light first, then each frame, then what it holds.
import { shrunk, SlideReader, type Picture } from '@brinvo/core/imaging'
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
let buffer = new Uint8ClampedArray(0)
/** A frame that a video lent: its colours, made small by means of what lies in each pixel. */
async function bytesOfFrame(frame: VideoFrame): Promise<Picture> {
  const format = { format: 'RGBA' } as const
  const [fullWidth, fullHeight] = [frame.displayWidth, frame.displayHeight]
  const bytes = frame.allocationSize(format)
  if (buffer.length !== bytes) buffer = new Uint8ClampedArray(bytes)
  await frame.copyTo(buffer, format)
  frame.close()
  return shrunk({ width: fullWidth, height: fullHeight, channels: 4, data: buffer }, size.width, size.height)
}

const readShot = (shot: ImageBitmap | VideoFrame): Picture | Promise<Picture> =>
  shot instanceof ImageBitmap ? bytesOf(shot) : bytesOfFrame(shot)

self.onmessage = async ({ data }: MessageEvent<SlideMessage>) => {
  let reply: SlideReply
  try {
    if (data.kind === 'begin') {
      size = data.size
      reader = new SlideReader(data.some.map(bytesOf), data.meta)
      reply = { kind: 'begun' }
    } else if (!reader) throw new Error('The clip was not begun.')
    else if (data.kind === 'frame') reply = { kind: 'read', bodies: reader.add(await readShot(data.picture)).length }
    else reply = { kind: 'answer', answer: reader.answer(data.fps) }
  } catch (cause) {
    reply = { kind: 'failed', message: cause instanceof Error ? cause.message : String(cause) }
  }
  self.postMessage(reply)
}
