// A slope that one odd value cannot bend.

export interface TrendPoint {
  readonly t: number
  readonly value: number
}

/**
 * Theil–Sen: the median of all pairwise slopes, and the middle value at the last point. null with fewer than two
 * different times. @source Theil 1950, Sen 1968
 */
export function theilSen(points: readonly TrendPoint[]): { readonly slope: number; readonly last: number } | null {
  const slopes: number[] = []
  for (let i = 0; i < points.length; i++)
    for (let j = i + 1; j < points.length; j++) {
      const span = points[j]!.t - points[i]!.t
      if (span !== 0) slopes.push((points[j]!.value - points[i]!.value) / span)
    }
  if (slopes.length === 0) return null
  const slope = median(slopes)
  const lastT = Math.max(...points.map(({ t }) => t))
  return { slope, last: median(points.map(({ t, value }) => value + slope * (lastT - t))) }
}

/** Middle value; of an even number, the mean of the two in the middle. */
export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b)
  const middle = sorted.length >> 1
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2
}
