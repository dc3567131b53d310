/** Largest change of a column inside a window of minutes, from an index on. Jumps count. */
export function largestChange(min: readonly number[], column: readonly number[], windowMin: number, from = 0): number {
  let largest = 0
  let start = from
  for (let i = from; i < min.length; i++) {
    while (min[i]! - min[start]! > windowMin + 1e-9) start++
    for (let j = start; j < i; j++) {
      const change = Math.abs(column[i]! - column[j]!)
      if (change > largest) largest = change
    }
  }
  return largest
}
