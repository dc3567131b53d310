// The next test: hours refused are counted hour by hour here, with a normal summed by trapezes.
import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { nextTest } from '../src/index.ts'

/** P(Z < z) by the trapezoid rule: nothing of the product's own. */
function below(z: number): number {
  if (z < -8) return 0
  if (z > 8) return 1
  const steps = 800
  const width = (z + 8) / steps
  let sum = 0
  for (let i = 0; i <= steps; i++) {
    const x = -8 + i * width
    sum += (i === 0 || i === steps ? 0.5 : 1) * Math.exp((-x * x) / 2)
  }
  return (sum * width) / Math.sqrt(2 * Math.PI)
}
interface Node {
  readonly weight: number
  readonly levelMgPerL: number
  readonly levelSd: number
  readonly lossPerHour: number
}
const posteriorOf = (nodes: readonly Node[]) =>
  ({
    nodes: nodes.map((node) => ({
      ...node,
      volumeL: 100,
      boundShare: 0,
      biasMean: [0],
      biasVariance: [0.0025],
      biasLevelCovariance: [0],
    })),
  }) as unknown as Parameters<typeof nextTest>[0]['posterior']
const asked = (nodes: readonly Node[], fromH: number, lastReadingH: number | null) => ({
  posterior: posteriorOf(nodes),
  offeredH: [0, 12, 24, 48],
  fromH,
  horizonH: 72,
  lastReadingH,
  maxGapH: 48,
  floorMgPerL: 1.5,
  confidence: 0.9,
  instrument: { index: 0, halfStepMgPerL: 0.02, relativeError: 0.03 },
})
const node = fc.record({
  weight: fc.double({ min: 0.05, max: 1, noNaN: true }),
  levelMgPerL: fc.double({ min: 1.2, max: 2.6, noNaN: true }),
  levelSd: fc.double({ min: 0.02, max: 0.4, noNaN: true }),
  lossPerHour: fc.double({ min: 0, max: 0.01, noNaN: true }),
})

describe('the next test', () => {
  test('hours that are refused without one are those that an hour by hour count refuses', () => {
    fc.assert(
      fc.property(
        fc.array(node, { minLength: 1, maxLength: 5 }),
        fc.integer({ min: -120, max: 0 }),
        fc.option(fc.integer({ min: -60, max: 0 })),
        (nodes, fromH, lastReadingH) => {
          const total = nodes.reduce((sum, { weight }) => sum + weight, 0)
          let refused = 0
          let close = 0
          for (let h = fromH + 0.5; h < 72; h++) {
            const chance = nodes.reduce(
              (sum, { weight, levelMgPerL, levelSd, lossPerHour }) =>
                sum + (weight / total) * below((levelMgPerL - 1.5 * Math.exp(lossPerHour * h)) / levelSd),
              0,
            )
            if (Math.abs(chance - 0.9) < 1e-6) close++
            if (lastReadingH === null || h - lastReadingH > 48 || chance < 0.9) refused++
          }
          const { withoutTest } = nextTest(asked(nodes, fromH, lastReadingH))
          expect(Math.abs(withoutTest - refused)).toBeLessThanOrEqual(close)
        },
      ),
      { numRuns: 60 },
    )
  })
  test('the best saves the most, and nothing saves more hours than there are', () => {
    const nodes: Node[] = [
      { weight: 0.5, levelMgPerL: 1.75, levelSd: 0.15, lossPerHour: 0.001 },
      { weight: 0.5, levelMgPerL: 1.6, levelSd: 0.1, lossPerHour: 0.003 },
    ]
    const { best, choices, withoutTest, savesH } = nextTest(asked(nodes, -40, null))
    // Nothing was read: all of the 112 hours are refused.
    expect(withoutTest).toBe(112)
    expect(best.refusedH).toBe(Math.min(...choices.map(({ refusedH }) => refusedH)))
    expect(savesH).toBeCloseTo(withoutTest - best.refusedH, 9)
    expect(savesH).toBeGreaterThan(0)
  })
})
