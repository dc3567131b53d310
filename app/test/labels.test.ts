import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { labelWidth, placeLabels } from '../src/design/labels.ts'

const labels = fc.array(
  fc.record({
    text: fc.string({ minLength: 1, maxLength: 40 }),
    x: fc.double({ min: -50, max: 1400, noNaN: true }),
    rank: fc.integer({ min: 0, max: 3 }),
  }),
  { maxLength: 60 },
)

test('whatever the words and places: none over another, none beyond the edge, the highest rank stays', () => {
  fc.assert(
    fc.property(labels, fc.integer({ min: 60, max: 1300 }), fc.integer({ min: 1, max: 3 }), (drawn, to, lines) => {
      const all = drawn.map((label, i) => ({ ...label, id: String(i), size: 13 }))
      const placed = placeLabels(all, { from: 8, to, gap: 10, lines })
      for (const one of placed) {
        expect(one.x).toBeGreaterThanOrEqual(8)
        expect(one.x + labelWidth(one.text, 13)).toBeLessThanOrEqual(to)
        for (const other of placed)
          if (one !== other && one.line === other.line)
            expect(one.x + one.width + 10 <= other.x || other.x + other.width + 10 <= one.x).toBe(true)
      }
      // The first of the highest rank that fits at all is never the one left out.
      const best = all
        .filter(({ text }) => labelWidth(text, 13) <= to - 8)
        .sort((a, b) => b.rank - a.rank || a.x - b.x)[0]
      if (best) expect(placed.some(({ id }) => id === best.id)).toBe(true)
    }),
    { numRuns: 300 },
  )
})
