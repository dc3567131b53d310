/** A count with its unit: "1 worm", "3 worms", "12 %". The unit is that of a measure, in the plural where it has one. */
export const ofUnit = (value: string | number, unit: string): string =>
  `${value} ${String(value) === '1' ? unit.replace(/^(\p{L}{3,})s\b/u, '$1') : unit}`
