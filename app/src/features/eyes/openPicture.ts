// A picture opened for measuring: made of a size that is measured well and quickly, with its bytes and something to show.
import type { Picture } from '@brinvo/core/pictures'
import { MOST_PIXELS } from '../../parts/slides/frameSource.ts'

export interface OpenPicture {
  readonly picture: Picture
  readonly url: string
  readonly blob: Blob
  /** Where it is kept already. */
  readonly photoId?: string
}
/** One with the time that it was taken. */
export interface Taken extends OpenPicture {
  readonly takenMs: number
}
/** Longest side that is measured, px. */
const LONGEST = 800

/** @throws Error with a sentence where it is no picture, or far too large a one. */
export async function openPicture(file: Blob, photoId?: string): Promise<OpenPicture> {
  let bitmap: ImageBitmap
  try {
    bitmap = await createImageBitmap(file)
  } catch (cause) {
    throw new Error('This browser cannot read that picture. JPEG, PNG and WebP work.', { cause })
  }
  if (bitmap.width * bitmap.height > MOST_PIXELS) {
    const millions = Math.round((bitmap.width * bitmap.height) / 1e6)
    bitmap.close()
    throw new Error(`The picture has ${millions} million pixels. Make it smaller first: twelve million are plenty.`)
  }
  const scale = Math.min(1, LONGEST / Math.max(bitmap.width, bitmap.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(bitmap.width * scale)
  canvas.height = Math.round(bitmap.height * scale)
  const context = canvas.getContext('2d', { willReadFrequently: true })!
  context.imageSmoothingQuality = 'high'
  context.drawImage(bitmap, 0, 0, canvas.width, canvas.height)
  bitmap.close()
  const { data } = context.getImageData(0, 0, canvas.width, canvas.height)
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/jpeg', 0.88))
  if (!blob) throw new Error('This browser could not make the picture smaller. Try another one.')
  return {
    picture: { width: canvas.width, height: canvas.height, channels: 4, data },
    url: URL.createObjectURL(blob),
    blob,
    ...(photoId === undefined ? {} : { photoId }),
  }
}
