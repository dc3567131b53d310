// The therapeutic clock: hours are earned when the record supports them, and every refused hour has its reason.
import { crossingTime } from './crossings.ts'

export type ClockSchool = 'strict' | 'pause'

export interface ClockRules {
  readonly school: ClockSchool
  /** Chance of being at or above the floor that earns an hour: 0.9; low-end variants 0.5. */
  readonly confidence: number
  readonly requiredH: number
  /** Longest gap without a test, h. */
  readonly maxGapH: number
  /** Whether time above the band earns (the default: the parasite is not spared by more). */
  readonly aboveCounts: boolean
}

export interface ClockInputs {
  readonly rules: ClockRules
  /** Ascending hours, evenly spaced or not, at which the chances below were computed. */
  readonly timesH: readonly number[]
  readonly pFloor: ArrayLike<number>
  readonly pBand: ArrayLike<number>
  readonly pHardMax: ArrayLike<number>
  /** Middle of the level, to tell "below" from "uncertain" and to flag time above the band. */
  readonly p50: ArrayLike<number>
  readonly ceilingMgPerL: number
  readonly floorMgPerL: number
  /** Hours of the readings that count, ascending, with what was read. */
  readonly readings: readonly {
    readonly tH: number
    readonly mgPerL: number
    readonly id?: string
    readonly certifiedBelow?: boolean
  }[]
  /** Hours of doses and changes, ascending: a later reading proves a gap only back to the last of them. */
  readonly disturbancesH: readonly number[]
  readonly nowH: number
}

export type ClockReason = 'not-started' | 'below' | 'uncertain' | 'no-test' | 'above'
export interface ClockInterval {
  readonly fromH: number
  readonly toH: number
  readonly state: 'credited' | 'refused'
  readonly reason?: ClockReason
  /** Credited hours that a later reset of the strict school took away again. */
  readonly lost?: boolean
}
export interface ClockReset {
  readonly tH: number
  readonly cause: 'reading-below' | 'level-below'
  readonly lostH: number
  readonly readingId?: string
}
export interface ClockState {
  readonly creditedH: number
  readonly refusedH: number
  readonly remainingH: number
  /** Hours asked for: what more is earned afterwards changes nothing of it. */
  readonly requiredH: number
  readonly elapsedH: number
  readonly intervals: readonly ClockInterval[]
  readonly resets: readonly ClockReset[]
  /** Hour at which the required credit was reached, or null. */
  readonly completeAtH: number | null
  /** Earliest finish if every hour from now earns, or the hour it was reached. */
  readonly earliestFinishH: number
  /** Hours whose middle level lay above the band: flagged, whether they earn or not. */
  readonly aboveH: number
  /** First reading at which the level was certified in band, or null: the clock cannot start before it is proven. */
  readonly startedAtH: number | null
}

/** A reading this sure of lying below the floor resets the strict school. */
const BELOW_CERTAIN = 0.5

/**
 * Judges every stretch between two times by the chances at its middle (linear between the given times, so the edge
 * of a credited stretch is where the chance crosses the confidence).
 * An hour is refused: `not-started` before the first certified reading's proof reaches back; `no-test` past the
 * longest gap, unless a later reading proves it back to the last dose or change; `below` when the middle of the
 * level is under the floor; `uncertain` when it is not but the chance is too small; `above` where time above the
 * band does not count. `strict` returns the count to zero at P(below) >= 0.5 or at a reading certified below.
 * The credit never exceeds the elapsed time.
 * @source design/definitions "Therapeutic clock"; handbook 30 mr-clock, mr-hold, mr-gap
 */
export function therapeuticClock(inputs: ClockInputs): ClockState {
  const { rules, timesH, readings, nowH } = inputs
  const earning = rules.aboveCounts ? inputs.pFloor : inputs.pBand
  const proof = proofWindows(inputs)
  const startedAtH = firstCertified(inputs, earning)
  const provenFrom = startedAtH === null ? Infinity : provenBackTo(startedAtH, inputs.disturbancesH)

  const intervals: ClockInterval[] = []
  const resets: ClockReset[] = []
  let credited = 0
  let refused = 0
  let above = 0
  let completeAtH: number | null = null
  const push = (fromH: number, toH: number, state: ClockInterval['state'], reason?: ClockReason) => {
    if (toH - fromH <= 1e-9) return
    const last = intervals.at(-1)
    if (last && last.state === state && last.reason === reason && Math.abs(last.toH - fromH) < 1e-9 && !last.lost) {
      intervals[intervals.length - 1] = { ...last, toH }
    } else intervals.push(reason ? { fromH, toH, state, reason } : { fromH, toH, state })
    if (state === 'credited') {
      if (completeAtH === null && credited + toH - fromH >= rules.requiredH)
        completeAtH = fromH + rules.requiredH - credited
      credited += toH - fromH
    } else refused += toH - fromH
  }
  const reset = (tH: number, cause: ClockReset['cause'], readingId?: string) => {
    if (rules.school !== 'strict' || credited <= 0 || completeAtH !== null) return
    resets.push({ tH, cause, lostH: credited, ...(readingId === undefined ? {} : { readingId }) })
    refused += credited
    credited = 0
    intervals.forEach((interval, i) => {
      if (interval.state === 'credited') intervals[i] = { ...interval, lost: true }
    })
  }

  const begin = timesH[0] ?? 0
  const lowReadings = readings.filter((reading) => reading.certifiedBelow)
  let lowNext = 0
  for (let i = 0; i + 1 < timesH.length; i++) {
    const a = timesH[i]!
    const b = Math.min(timesH[i + 1]!, nowH)
    if (b <= a) break
    while (lowNext < lowReadings.length && lowReadings[lowNext]!.tH <= b) {
      const reading = lowReadings[lowNext++]!
      if (reading.tH >= a) reset(reading.tH, 'reading-below', reading.id)
    }
    if ((inputs.p50[i]! + inputs.p50[i + 1]!) / 2 > inputs.ceilingMgPerL) above += b - a
    // Cut where the chance crosses the confidence and where a proof begins or ends.
    const cuts = [a, b]
    const crossing = crossingTime(
      { fromH: a, toH: timesH[i + 1]!, shape: 'linear', startMgPerL: earning[i]!, endMgPerL: earning[i + 1]! },
      rules.confidence,
    )
    if (crossing !== null && crossing < b) cuts.push(crossing)
    for (const edge of [provenFrom, ...proof.flatMap((window) => [window.fromH, window.toH])]) {
      if (edge > a && edge < b) cuts.push(edge)
    }
    cuts.sort((x, y) => x - y)
    for (let c = 0; c + 1 < cuts.length; c++) {
      const fromH = cuts[c]!
      const toH = cuts[c + 1]!
      const middle = (fromH + toH) / 2
      const share = (middle - a) / (timesH[i + 1]! - a)
      const at = (series: ArrayLike<number>) => series[i]! + (series[i + 1]! - series[i]!) * share
      if (1 - at(inputs.pFloor) >= BELOW_CERTAIN && startedAtH !== null && fromH > startedAtH)
        reset(fromH, 'level-below')
      if (at(earning) >= rules.confidence) {
        if (middle < provenFrom) push(fromH, toH, 'refused', 'not-started')
        else if (!proof.some((window) => middle >= window.fromH && middle <= window.toH))
          push(fromH, toH, 'refused', 'no-test')
        else push(fromH, toH, 'credited')
      } else if (startedAtH === null || middle < Math.min(provenFrom, startedAtH))
        push(fromH, toH, 'refused', 'not-started')
      else if (!rules.aboveCounts && at(inputs.p50) > inputs.ceilingMgPerL) push(fromH, toH, 'refused', 'above')
      else push(fromH, toH, 'refused', at(inputs.p50) < inputs.floorMgPerL ? 'below' : 'uncertain')
    }
  }
  const remainingH = completeAtH !== null ? 0 : Math.max(0, rules.requiredH - credited)
  return {
    creditedH: credited,
    refusedH: refused,
    remainingH,
    requiredH: rules.requiredH,
    elapsedH: Math.max(0, nowH - begin),
    intervals,
    resets,
    completeAtH,
    earliestFinishH: completeAtH ?? nowH + remainingH,
    aboveH: above,
    startedAtH,
  }
}

/** Stretches covered by a reading: forward to the longest gap, back to the last dose or change. */
function proofWindows({ readings, disturbancesH, rules }: ClockInputs): { fromH: number; toH: number }[] {
  return readings.map(({ tH }) => ({ fromH: provenBackTo(tH, disturbancesH), toH: tH + rules.maxGapH }))
}
function provenBackTo(tH: number, disturbancesH: readonly number[]): number {
  let back = -Infinity
  for (const disturbance of disturbancesH) if (disturbance <= tH && disturbance > back) back = disturbance
  return back
}

function firstCertified({ readings, timesH, rules }: ClockInputs, earning: ArrayLike<number>): number | null {
  for (const { tH } of readings) {
    const i = timesH.findIndex((time) => time >= tH)
    const index = i < 0 ? timesH.length - 1 : i
    if (index >= 0 && earning[index]! >= rules.confidence) return tH
  }
  return null
}

export interface ClockDifference {
  readonly creditedH: number
  readonly earliestFinishH: number
  /** A sentence: "why my count changed". */
  readonly message: string
}

/** How two judgements of the same moment differ; null when by less than a quarter of an hour. */
export function clockDifference(before: ClockState, after: ClockState, cause: string): ClockDifference | null {
  const creditedH = after.creditedH - before.creditedH
  if (Math.abs(creditedH) < 0.25) return null
  const size =
    Math.abs(creditedH) < 48 ? `${Math.round(Math.abs(creditedH))} h` : `${(Math.abs(creditedH) / 24).toFixed(1)} days`
  const reset = after.resets.length > before.resets.length ? ' It set the strict count back to zero.' : ''
  return {
    creditedH,
    earliestFinishH: after.earliestFinishH - before.earliestFinishH,
    message: `${cause} ${creditedH > 0 ? 'added' : 'took'} ${size}${creditedH > 0 ? '' : ' away'}.${reset}`,
  }
}
