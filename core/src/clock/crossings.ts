// Exact time in a band along a known curve: crossings of linear and exponential pieces, and the hours they credit.

/** A piece of curve between two times (h); levels mg/L. Exponential pieces keep one sign. */
export interface CurveSegment {
  readonly fromH: number
  readonly toH: number
  readonly shape: 'linear' | 'exponential'
  readonly startMgPerL: number
  readonly endMgPerL: number
}
export interface Crossing {
  readonly tH: number
  readonly level: 'lo' | 'hi'
  readonly direction: 'up' | 'down'
}
export interface BandCredit {
  readonly crossings: readonly Crossing[]
  readonly hoursInBand: number
  readonly hoursBelow: number
  readonly hoursAbove: number
  readonly aboveFlagged: boolean
  readonly pauseCreditH: number
  readonly strictCreditH: number
  readonly strictResets: number
  readonly pauseCompleteAtH: number | null
  readonly strictCompleteAtH: number | null
}

/** Time at which one segment meets a level strictly inside it, or null. */
export function crossingTime(segment: CurveSegment, level: number): number | null {
  const { startMgPerL: a, endMgPerL: b, fromH, toH } = segment
  if (a === b || (level - a) * (level - b) >= 0) return null
  const share = segment.shape === 'linear' ? (level - a) / (b - a) : Math.log(level / a) / Math.log(b / a)
  return fromH + share * (toH - fromH)
}

type Zone = 'below' | 'in' | 'above'

/**
 * Credited hours by both schools along a known curve. In band means lo <= C <= hi, both included.
 * pause: credit never shrinks. strict: any stretch below lo sets it to 0. Above hi earns only where it counts.
 * @source vectors `clock/curve`
 */
export function bandCredit(
  segments: readonly CurveSegment[],
  lo: number,
  hi: number,
  requiredH: number,
  aboveHiCounts: boolean,
): BandCredit {
  const crossings: Crossing[] = []
  const stretches: { zone: Zone; fromH: number; toH: number; middle: number }[] = []
  for (const segment of segments) {
    const cuts: { tH: number; crossing: Crossing }[] = []
    const direction = segment.endMgPerL > segment.startMgPerL ? 'up' : 'down'
    for (const [level, value] of [
      ['lo', lo],
      ['hi', hi],
    ] as const) {
      const tH = crossingTime(segment, value)
      if (tH !== null) cuts.push({ tH, crossing: { tH, level, direction } })
    }
    cuts.sort((a, b) => a.tH - b.tH)
    const edges = [segment.fromH, ...cuts.map(({ tH }) => tH), segment.toH]
    for (let i = 0; i + 1 < edges.length; i++) {
      const from = edges[i]!
      const to = edges[i + 1]!
      if (to <= from) continue
      const middle = valueAt(segment, (from + to) / 2)
      const before = stretches.at(-1)
      if (i === 0 && before) crossings.push(...jumpCrossings(before.middle, middle, from, lo, hi))
      else if (i > 0) crossings.push(cuts[i - 1]!.crossing)
      stretches.push({ zone: zoneOf(middle, lo, hi), fromH: from, toH: to, middle })
    }
  }
  const totals: Record<Zone, number> = { below: 0, in: 0, above: 0 }
  let pause = 0
  let strict = 0
  let strictResets = 0
  let pauseCompleteAtH: number | null = requiredH <= 0 ? (segments[0]?.fromH ?? 0) : null
  let strictCompleteAtH: number | null = pauseCompleteAtH
  let wasBelow = false
  for (const { zone, fromH, toH } of stretches) {
    totals[zone] += toH - fromH
    const earns = zone === 'in' || (zone === 'above' && aboveHiCounts)
    if (earns) {
      if (pauseCompleteAtH === null && pause + toH - fromH >= requiredH) pauseCompleteAtH = fromH + requiredH - pause
      if (strictCompleteAtH === null && strict + toH - fromH >= requiredH)
        strictCompleteAtH = fromH + requiredH - strict
      pause += toH - fromH
      strict += toH - fromH
    } else if (zone === 'below') {
      if (!wasBelow && strict > 0) strictResets++
      strict = 0
    }
    wasBelow = zone === 'below'
  }
  return {
    crossings,
    hoursInBand: totals.in,
    hoursBelow: totals.below,
    hoursAbove: totals.above,
    aboveFlagged: totals.above > 0,
    pauseCreditH: pause,
    strictCreditH: strict,
    strictResets,
    pauseCompleteAtH,
    strictCompleteAtH,
  }
}

/** Levels crossed between two pieces: by a jump (a dose), or where a piece ended exactly on the level. */
function jumpCrossings(before: number, after: number, tH: number, lo: number, hi: number): Crossing[] {
  const found: Crossing[] = []
  const direction = after > before ? 'up' : 'down'
  if (before < lo !== after < lo) found.push({ tH, level: 'lo', direction })
  if (before > hi !== after > hi) found.push({ tH, level: 'hi', direction })
  return direction === 'up' ? found : found.reverse()
}

const zoneOf = (value: number, lo: number, hi: number): Zone => (value < lo ? 'below' : value > hi ? 'above' : 'in')

function valueAt(segment: CurveSegment, tH: number): number {
  const { startMgPerL: a, endMgPerL: b, fromH, toH } = segment
  const share = (tH - fromH) / (toH - fromH)
  if (segment.shape === 'linear' || a === b) return a + share * (b - a)
  return a * (b / a) ** share
}
