// Words and colours of arrivals, used by several of its pages.
import type { ArrivalStage, ContainerStage, MethodId } from '@brinvo/core'

export const STAGE_WORDS: Readonly<Record<ArrivalStage, string>> = {
  expected: 'expected',
  received: 'received',
  inspected: 'inspected',
  acclimating: 'acclimating',
  'in-the-water': 'in the water',
}
export const CONTAINER_WORDS: Readonly<Record<ContainerStage, string>> = {
  waiting: 'not yet looked at',
  inspected: 'inspected',
  running: 'acclimating',
  released: 'in the water',
  refused: 'not taken',
}
/** One dash pattern a method, so that colour is never the only difference. */
export const METHOD_DASH: Readonly<Record<MethodId, string>> = {
  'float-and-move': '1 4',
  'matched-tank': '10 4',
  scoops: '4 3',
  drip: '14 4 2 4',
  'dilute-and-bind': '2 2 8 2',
}
/** 12.4 → "12.4", 0.0312 → "0.031": never more figures than a kit gives. */
export const figure = (value: number, digits = 3): string =>
  String(Number(value.toPrecision(Math.abs(value) < 0.1 ? 2 : digits)))

/** "02:41" of seconds; hours in front where there are any. */
export function clockText(seconds: number): string {
  const whole = Math.max(0, Math.floor(Math.abs(seconds)))
  const hours = Math.floor(whole / 3600)
  const rest = `${String(Math.floor((whole % 3600) / 60)).padStart(2, '0')}:${String(whole % 60).padStart(2, '0')}`
  return hours > 0 ? `${hours}:${rest}` : rest
}
