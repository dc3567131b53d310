// The light of a picture taken out by something white or grey that lies in it.
import type { Picture } from './frame.ts'

/** Half a side of the square that is read about a point, px. */
const REACH = 6
/** A card brighter than this in a colour is burnt out there, and one darker tells nothing; of 255. EST */
const BURNT = 250
const DARK = 30

/**
 * A picture as it would be in light without a colour, by a point on something neutral: each colour is scaled so that the
 * three are alike there; how bright the picture is stays.
 * @throws Error with a sentence where the point is burnt out or too dark
 */
export function balanced(picture: Picture, [px, py]: readonly [number, number]): Picture {
  const { width, height, channels, data } = picture
  const sum = [0, 0, 0]
  let n = 0
  for (let y = Math.max(0, py - REACH); y <= Math.min(height - 1, py + REACH); y++)
    for (let x = Math.max(0, px - REACH); x <= Math.min(width - 1, px + REACH); x++) {
      for (let k = 0; k < 3; k++) sum[k]! += data[(y * width + x) * channels + k]!
      n++
    }
  const means = sum.map((one) => one / Math.max(1, n))
  if (Math.max(...means) >= BURNT)
    throw new Error('The card is burnt out in this picture: darker, or press a grey corner of it.')
  if (Math.min(...means) <= DARK) throw new Error('What you pressed is too dark to tell the colour of the light.')
  const grey = (means[0]! + means[1]! + means[2]!) / 3
  const out = new Uint8ClampedArray(data)
  for (let i = 0; i < width * height; i++)
    for (let k = 0; k < 3; k++) out[i * channels + k] = (data[i * channels + k]! * grey) / means[k]!
  return { width, height, channels, data: out }
}
