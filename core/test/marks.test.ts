// Lengths and shares by marks, worked by hand.
import { expect, test } from '@jest/globals'
import { bareShare, lengthMm, lineLength } from '../src/imaging/marks.ts'

const at = (x: number, y: number) => ({ x, y })
test('a line is as long as its stretches, and bare where it is said to be', () => {
  const line = [at(0, 0), at(30, 40), at(30, 140), at(130, 140)]
  // 50 + 100 + 100.
  expect(lineLength(line)).toBe(250)
  const found = bareShare(line, ['tissue', 'bare', 'tissue'], 3)!
  expect(found.share).toBeCloseTo(0.4, 9)
  // Two edges of three pixels each, 80 %: 1.2816 × 3 × √2 ÷ 250.
  expect(found.doubt).toBeCloseTo(0.02175, 4)
  expect(bareShare(line, ['tissue', 'tissue', 'tissue'])).toEqual({ share: 0, doubt: 0 })
  expect(bareShare([at(1, 1)], [])).toBeNull()
  expect(bareShare([at(1, 1), at(1, 1)], ['bare'])).toBeNull()
})
test('a length follows the scale beside it, whatever the size of the picture', () => {
  const scale = [at(0, 0), at(100, 0)]
  const polyp = [at(10, 10), at(10, 45)]
  expect(lengthMm(scale, 10, polyp)!.mm).toBeCloseTo(3.5, 9)
  const twice = (mark: { x: number; y: number }) => at(2 * mark.x, 2 * mark.y)
  expect(lengthMm(scale.map(twice), 10, polyp.map(twice))!.mm).toBeCloseTo(3.5, 9)
  expect(lengthMm(scale.map(twice), 10, polyp.map(twice))!.doubt).toBeLessThan(lengthMm(scale, 10, polyp)!.doubt)
  expect(lengthMm([at(0, 0)], 10, polyp)).toBeNull()
  expect(lengthMm(scale, 0, polyp)).toBeNull()
  expect(lengthMm([at(5, 5), at(5, 5)], 10, polyp)).toBeNull()
})
