// What may cover a patch, as it is marked, lettered and kept.
export const CLASSES = [
  { id: 'clean', label: 'bare ground', colour: '#FFFFFF', letter: 'b' },
  { id: 'film', label: 'brown film', colour: '#E3B505', letter: 'f' },
  { id: 'slime', label: 'dark red sheet', colour: '#B3261E', letter: 's' },
  { id: 'turf', label: 'green threads', colour: '#2FBF71', letter: 'g' },
  { id: 'tufts', label: 'black-brown tufts', colour: '#6A3D9A', letter: 't' },
  { id: 'white', label: 'white: dead or bleached', colour: '#4FA3FF', letter: 'w' },
] as const
export type ClassId = (typeof CLASSES)[number]['id']
export type Point = readonly [number, number]

/** A change in whole points, with its sign; none has no sign. */
export const signed = (value: number): string => {
  const whole = Math.round(value)
  return `${whole > 0 ? '+' : whole < 0 ? '−' : ''}${Math.abs(whole)}`
}
