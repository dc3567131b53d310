// Removal by hand, rock by rock: what a pass takes, what grows back, and whether the passes win.

export interface RemovalPass {
  /** Days since the first pass. */
  readonly day: number
  readonly before: number
  readonly removed: number
}
export interface RemovalForecast {
  /** Share that one pass really takes, learnt from one pass to the next; the share removed where only one was made. */
  readonly share: number
  /** Left now, and expected at the next pass. */
  readonly left: number
  readonly atNext: number
  /** Passes at this rhythm until fewer than one is expected; null where growth outruns them. */
  readonly passesToOne: number | null
  /** Longest rhythm in days at which each pass still ends below the one before. */
  readonly longestDays: number
}

/**
 * Survivors after n passes: N (1 − r)ⁿ 2^(days ÷ doubling). r is learnt from what stood there at the next pass: broken
 * feet come back, so it is less than the share that came off.
 * @param doubling days in which what is left doubles
 * @throws RangeError without a pass
 * @source handbook 50 §12
 */
export function removalForecast(passes: readonly RemovalPass[], doubling: number, everyDays: number): RemovalForecast {
  const last = passes.at(-1)
  if (!last) throw new RangeError('removalForecast: no pass')
  const growth = (days: number) => 2 ** (days / doubling)
  let expected = 0
  let seen = 0
  for (let i = 1; i < passes.length; i++) {
    const from = passes[i - 1]!
    expected += from.before * growth(passes[i]!.day - from.day)
    seen += passes[i]!.before
  }
  const claimed = last.before === 0 ? 1 : Math.min(1, last.removed / last.before)
  // Half an animal is added to both: one pass that found nothing is not perfection.
  const learnt = expected > 0 ? 1 - (seen + 0.5) / (expected + 0.5) : claimed
  const share = Math.min(0.98, Math.max(0, expected > 0 ? learnt : claimed))
  const left = last.before === 0 ? 0 : Math.max(last.before - last.removed, last.before * (1 - share))
  const step = (1 - share) * growth(everyDays)
  const atNext = left * growth(everyDays)
  return {
    share,
    left,
    atNext,
    passesToOne: left < 1 ? 0 : step >= 1 ? null : Math.ceil(Math.log(1 / Math.max(1, atNext)) / Math.log(step)) + 1,
    longestDays: share <= 0 ? 0 : Math.max(0, Math.floor(-doubling * Math.log2(1 - share))),
  }
}
