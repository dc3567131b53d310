// What is used up between tests, and what to add so that a value rises safely or holds.
import { limitOf } from '../knowledge/limits.ts'
import { median, theilSen } from '../trends/theilSen.ts'

export interface SteerReading {
  readonly atMs: number
  readonly value: number
  readonly sd: number
  /** A reading under the kit's first step: only an upper limit. */
  readonly below: boolean
}
/** What raised or thinned the water between tests, in the unit of the readings. */
export interface SteerEvent {
  readonly atMs: number
  readonly kind: 'dose' | 'change'
  /** Rise by the dose; for a change, the share of water changed. */
  readonly amount: number
  /** Of a change: value of the new water, and what that may be off by, one standard deviation. */
  readonly mix?: number
  readonly mixSd?: number
}
export interface Consumption {
  /** Used up a day, in the unit of the readings; below zero where something is released. */
  readonly perDay: number
  readonly low: number
  readonly high: number
  readonly intervals: number
  /** Some readings were under the kit's step: the true use is at least this. */
  readonly atLeast: boolean
  /** Whether what was found stands out from the scatter of the tests. */
  readonly sure: boolean
}

const DAY = 86_400_000
/** A change counts when it is more than this many standard deviations of one test. @source handbook 65 §8.1 cs-detect */
export const DETECT = 2.77

/** What is believed of a kit's scatter before anything is seen weighs as much as so many tests. EST */
const KIT_WEIGHT = 2

/**
 * Daily use from tests and what was added between them: readings with all additions taken off, and the middle of their
 * slopes, so that one odd test bends nothing. Null with fewer than two usable tests or less than a day between them.
 * @source handbook 65 §8.1: rate = (C1 − C2 + Σ doses + Σ f (C_mix − C_before)) ÷ days; Theil–Sen from three intervals
 */
export function consumption(readings: readonly SteerReading[], events: readonly SteerEvent[]): Consumption | null {
  const sorted = [...readings].sort((a, b) => a.atMs - b.atMs)
  if (sorted.length < 2) return null
  const moved = moves(sorted, events)
  const points = sorted.map(({ atMs, value, below }) => ({
    t: atMs / DAY,
    // Under the step: half of it, and said to be a limit only.
    value: (below ? value / 2 : value) - moved.reduce((sum, one) => sum + (one.atMs < atMs ? one.by : 0), 0),
  }))
  const span = points.at(-1)!.t - points[0]!.t
  if (span < 1) return null
  const fit = theilSen(points)
  if (!fit) return null
  const perDay = -fit.slope
  const sd = Math.max(...sorted.map((reading) => reading.sd))
  const meanT = points.reduce((sum, { t }) => sum + t, 0) / points.length
  const spread = points.reduce((sum, { t }) => sum + (t - meanT) ** 2, 0)
  // The kit's scatter as far as it is known, and the scatter seen the more the more tests there are: what a kit is off by
  // throughout bends no slope. Theil–Sen is nearly as sharp as least squares.
  const rests = points.map(({ t, value }) => value - (fit.last + fit.slope * (t - points.at(-1)!.t)))
  const free = Math.max(0, points.length - 2)
  const middle = 1.48 * median(rests.map(Math.abs))
  const seen = Math.max(middle ** 2, rests.reduce((sum, rest) => sum + rest ** 2, 0) / Math.max(1, free))
  const scatter = Math.sqrt((KIT_WEIGHT * sd ** 2 + free * seen) / (KIT_WEIGHT + free))
  // What a mix is off by is off at every change alike: no number of tests takes that out.
  const changed = events.filter(
    ({ kind, atMs }) => kind === 'change' && atMs >= sorted[0]!.atMs && atMs < sorted.at(-1)!.atMs,
  )
  const byMix = changed.reduce((sum, { amount, mixSd }) => sum + amount * (mixSd ?? 0), 0) / span
  const error = Math.hypot((1.06 * scatter) / Math.sqrt(Math.max(spread, 1e-9)), byMix)
  return {
    perDay,
    low: perDay - 1.2816 * error,
    high: perDay + 1.2816 * error,
    intervals: points.length - 1,
    atLeast: sorted.some(({ below }) => below),
    sure: Math.abs(perDay) * span > DETECT * sd,
  }
}

/** What each event moved the value by, in order of time: a dose by its rise, a change by its share of the gap to its mix. */
interface Moved {
  readonly atMs: number
  readonly by: number
}

/**
 * Events with what they moved. Between two tests the water drifts evenly, and each event meets the value that the drift
 * and the events before it have led to: a value read after a change is none from before it. Before the first test and
 * after the last the nearest one stands.
 */
function moves(readings: readonly SteerReading[], events: readonly SteerEvent[]): readonly Moved[] {
  const sorted = [...events].sort((a, b) => a.atMs - b.atMs)
  const found: Moved[] = []
  /** From a value on through events with an even drift: where it ends, and what each event moved. */
  const through = (from: SteerReading, list: readonly SteerEvent[], toMs: number, perMs: number) => {
    let value = from.value
    let atMs = from.atMs
    const by: number[] = []
    for (const event of list) {
      value += perMs * (event.atMs - atMs)
      atMs = event.atMs
      const moved =
        event.kind === 'dose' ? event.amount : event.mix === undefined ? 0 : event.amount * (event.mix - value)
      by.push(moved)
      value += moved
    }
    return { value: value + perMs * (toMs - atMs), by }
  }
  for (let i = 0; i < readings.length - 1; i++) {
    const [a, b] = [readings[i]!, readings[i + 1]!]
    const within = sorted.filter(({ atMs }) => atMs >= a.atMs && atMs < b.atMs)
    if (within.length === 0) continue
    // Where it ends is a straight function of the drift: two tries give the drift that meets the next test.
    const still = through(a, within, b.atMs, 0).value
    const unit = 1 / Math.max(1, b.atMs - a.atMs)
    const grade = through(a, within, b.atMs, unit).value - still
    const { by } = through(a, within, b.atMs, (unit * (b.value - still)) / (grade === 0 ? 1 : grade))
    within.forEach((event, k) => found.push({ atMs: event.atMs, by: by[k]! }))
  }
  return found
}

export interface SteerInputs {
  readonly reading: SteerReading
  readonly nowMs: number
  /** Raised by doses since the reading. */
  readonly raisedSince: number
  readonly use: Consumption | null
  readonly target: number
  /** Largest safe rise in 24 hours, and raised already in the last 24. */
  readonly limitPerDay: number
  readonly raisedToday: number
  /** Days until the next dose. */
  readonly everyDays: number
  /** Rise a day that dosers pour from now on. */
  readonly pours?: number
}
export interface SteerDose {
  /** Rise to add now; 0 where none is due. */
  readonly rise: number
  /** What is thought to be there now. */
  readonly now: number
  /** Days to the target at the safe pace; null where the use is above the limit. */
  readonly days: number | null
  readonly reason: 'raise' | 'hold' | 'above' | 'limit' | 'stale' | 'due'
}
/** A test this old says nothing about today. EST after handbook 65 §7 "re-test before each third step" */
const STALE_MS = 4 * DAY

/** Share of a day's limit under which nothing is added. EST */
export const CRUMB = limitOf('correction-crumb')

/** What to add now to reach and hold a target: the gap and the use until the next dose, within the day's limit. */
export function steer(inputs: SteerInputs): SteerDose {
  const { reading, nowMs, raisedSince, use, target, limitPerDay, raisedToday, everyDays } = inputs
  const used = Math.max(0, use?.perDay ?? 0)
  // What dosers put back is not put back twice; where they pour more than is used, the rest of it takes up the pace.
  const perDay = used - (inputs.pours ?? 0)
  const days = (nowMs - reading.atMs) / DAY
  const now = Math.max(0, (reading.below ? 0 : reading.value) + raisedSince - used * days)
  const gap = target - now
  // The limit holds for what the water sees, the net change: what is used up meanwhile is put back on top.
  const need = gap <= 0 ? 0 : Math.max(1, Math.ceil(gap / limitPerDay - 1e-9))
  if (nowMs - reading.atMs > STALE_MS) return { rise: 0, now, days: need, reason: 'stale' }
  if (gap <= -Math.max(0, perDay) * everyDays) return { rise: 0, now, days: 0, reason: 'above' }
  const room = Math.max(0, limitPerDay + perDay * everyDays - raisedToday)
  const wished = Math.max(0, Math.max(0, gap) + perDay * everyDays)
  const wholly = Math.min(wished, room)
  // Crumbs left over by a scale's rounding are not another portion.
  const rise = wholly < CRUMB * limitPerDay ? 0 : wholly
  return {
    rise,
    now,
    days: need,
    reason: rise === 0 ? (wished > room ? 'limit' : 'above') : rise < wished - 1e-12 || gap > 0 ? 'raise' : 'hold',
  }
}

export interface SilicateInputs {
  readonly target: number
  /** Read one hour and a day after the last dose; null while not read. */
  readonly afterHour: number | null
  readonly afterDay: number | null
  readonly kitStep: number
  /** Rise by the last dose, by arithmetic. */
  readonly lastRise: number
  /** Days since a raise of the dose. */
  readonly daysSinceRaise: number
  /** Sum of rises in the last 14 days in which every test read zero. */
  readonly unmeasured14: number
  /** Reading of a cup with a known 2 mg/L, where one was taken. */
  readonly spike?: number
}
export interface SilicateDose {
  /** mg/L SiO2 to add now. */
  readonly rise: number
  readonly used: number | null
  /** The use is at least this: the day's test read under the kit's step. */
  readonly atLeast: boolean
  readonly verdict: 'dose' | 'first' | 'again' | 'test' | 'spike-test' | 'kit-or-stock' | 'pause' | 'stop'
}
/** Most that is added in a day by arithmetic, and in 14 days unseen, mg/L. @source handbook 60 §12.2 si-cap */
export const SILICATE_CAP = limitOf('silicate-a-day')
export const SILICATE_UNSEEN = limitOf('silicate-unseen')
const SILICATE_STOP = limitOf('silicate-stop')

/**
 * The next dose of silicate by test. It is eaten within a day, so a zero the day after is not a missed dose: the test an
 * hour after the dose says whether it was there. @source handbook 60 §12.2 si-read to si-stop
 */
export function silicateDose(inputs: SilicateInputs): SilicateDose {
  const { target, afterHour, afterDay, kitStep, lastRise, daysSinceRaise, unmeasured14, spike } = inputs
  const none = { rise: 0, used: null, atLeast: false }
  if (afterDay !== null && afterDay > SILICATE_STOP) return { ...none, verdict: 'stop' }
  if (lastRise === 0) return { ...none, rise: Math.min(target, SILICATE_CAP, 1), verdict: 'first' }
  if (afterDay === null) return { ...none, verdict: 'test' }
  if (unmeasured14 >= SILICATE_UNSEEN) return { ...none, verdict: 'pause' }
  // The hour that nobody tested does not come back: never more than before, until an hour's test says it arrives.
  if (afterHour === null)
    return { ...none, rise: Math.max(0, Math.min(lastRise, target - afterDay, SILICATE_CAP)), verdict: 'again' }
  if (afterHour < 0.6 * lastRise) {
    if (spike === undefined) return { ...none, verdict: 'spike-test' }
    if (spike < 1.4 || spike > 2.6) return { ...none, verdict: 'kit-or-stock' }
  }
  const unseen = afterDay < kitStep
  const there = unseen ? 0 : afterDay
  const used = Math.max(0, afterHour - there)
  const wished = Math.min(target + used / 2 - there, SILICATE_CAP)
  const most = unseen ? (daysSinceRaise < 3 ? lastRise : 1.5 * lastRise) : Infinity
  return { rise: Math.max(0, Math.min(wished, most)), used, atLeast: unseen, verdict: 'dose' }
}

export interface ChangePlan {
  /** Share of each change; equal ones. */
  readonly fraction: number
  readonly changes: number
  /** What set the size of one change. */
  readonly limitedBy: string
  readonly ends: number
}
export interface ChangeLimit {
  readonly what: string
  /** Gap of new water to the tank, and the most that one change may move. */
  readonly gap: number
  readonly most: number
}
/**
 * Equal changes from a value to a target with water of a value, none larger than its limits allow. Null where new water
 * cannot reach the target. @source f = (C − target) ÷ (C − mix), handbook 65 §8 wc-target, wc-limits
 */
export function changesTo(
  now: number,
  target: number,
  mix: number,
  limits: readonly ChangeLimit[],
  most = 0.25,
): ChangePlan | null {
  const share = (now - target) / (now - mix)
  if (!(share > 0 && share < 1)) return null
  let fraction = most
  let limitedBy = 'routine'
  for (const { what, gap, most: limit } of limits) {
    const allowed = Math.abs(gap) < 1e-9 ? 1 : limit / Math.abs(gap)
    if (allowed < fraction) {
      fraction = allowed
      limitedBy = what
    }
  }
  const changes = Math.max(1, Math.ceil(Math.log(1 - share) / Math.log(1 - fraction) - 1e-9))
  const each = 1 - (1 - share) ** (1 / changes)
  return {
    fraction: each,
    changes,
    limitedBy: changes === 1 && each < fraction - 1e-9 ? 'one is enough' : limitedBy,
    ends: mix + (now - mix) * (1 - each) ** changes,
  }
}
