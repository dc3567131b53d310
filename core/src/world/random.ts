// Seeded chance of the world: the same seed lives the same life.

/** A stream of numbers in 0 to 1 from a seed (mulberry32). */
export function chanceFrom(seed: number): Chance {
  let state = seed >>> 0
  const next = () => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = state
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296
  }
  const normal = (mean = 0, sd = 1) => mean + sd * Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next())
  return {
    next,
    normal,
    between: (low, high) => low + (high - low) * next(),
    happens: (share) => next() < share,
    /** How many of n happen, each with a share. Normal over 60. */
    of: (n, share) => {
      if (n <= 0 || share <= 0) return 0
      if (share >= 1) return n
      if (n > 60) return Math.max(0, Math.min(n, Math.round(normal(n * share, Math.sqrt(n * share * (1 - share))))))
      let count = 0
      for (let i = 0; i < n; i++) if (next() < share) count++
      return count
    },
  }
}
export interface Chance {
  next: () => number
  normal: (mean?: number, sd?: number) => number
  between: (low: number, high: number) => number
  happens: (share: number) => boolean
  of: (n: number, share: number) => number
}
