// Looking back on a practice tank: the keeper's life beside two others, what each decision did, and one thing to do otherwise.
import {
  activeEntries,
  activeOf,
  courseInputs,
  documentsOf,
  entryMs,
  estimateCourse,
  instantMs,
  recordOf,
  type Entry,
  type KeeperRecord,
} from '../index.ts'
import { calendarLife, exactLife, ownLife, type Outcome, type PracticeLife } from './keepers.ts'
import type { Begun } from './house.ts'
import type { Cause, Hand } from './tank.ts'

export interface Decision {
  readonly entryId: string
  readonly atMs: number
  /** What would have been without it, against what was. */
  readonly without: Outcome
}
/** What the level was believed to be, by what stood on the ledger then: eight in ten, mg/L. */
export interface Belief {
  readonly atMs: number
  readonly p10: number
  readonly p90: number
}
export interface Debrief {
  /** Looks at the belief while a level was followed. */
  readonly belief: readonly Belief[]
  readonly own: PracticeLife
  readonly exact: Omit<PracticeLife, 'record'>
  readonly calendar: Omit<PracticeLife, 'record'>
  readonly decisions: readonly Decision[]
  /** The one thing to do otherwise, in words. */
  readonly otherwise: string
}
/** Decisions that are tried without: what acts on the water. */
const ACTS = new Set<Entry['kind']>(['dose', 'change', 'equipment', 'tally'])
const MOST_DECISIONS = 40
/** What to do otherwise where animals died of something that this tank is not about. */
const OF_CAUSE: Readonly<Record<Cause, string>> = {
  ammonia:
    'They died of ammonia. Read it every day, and do the change that the round asks for on that day: it is the filter of a tank without one.',
  air: 'They died for want of air. Air comes first, before any test and any drug.',
  heat: 'They died of heat. Read the thermometer whenever you pass; a heater that sticks is found by nothing else.',
  parasites: 'They died of what was on them. Each day before the first dose counts: begin on the evening it is seen.',
  copper:
    'They died of the drug. Test before each step up, and change water at once where a reading stands over the band.',
  alkalinity: 'They died as alkalinity ran out. Test it twice a week and put back what is used.',
  pests: 'The pests took them. Go over every piece again within the time their eggs need.',
  journey:
    'They did not come through the journey. Measure the bag, match the tank to it, and move them within minutes of opening it.',
}
/** The belief is asked so often; the grid is the coarse one of whoever asks a hundred times. */
const BELIEF_MS = 12 * 3_600_000
const BELIEF_GRID = 10

/** What was believed at each look, from what stood on the ledger at that hour and no later. */
export function beliefOf(
  begun: Begun,
  record: KeeperRecord,
  nowMs: number,
  told: (share: number) => void = () => undefined,
): Belief[] {
  const found: Belief[] = []
  const documents = documentsOf(record)
  for (let atMs = begun.startMs + BELIEF_MS; atMs <= nowMs; atMs += BELIEF_MS) {
    told((atMs - begun.startMs) / (nowMs - begun.startMs))
    const then = recordOf(
      record.settings,
      documents,
      record.entries.filter((entry) => instantMs(entry.recordedAt) <= atMs),
    )
    for (const course of then.courses.values()) {
      if (instantMs(course.body.startedAt) > atMs) continue
      const asked = courseInputs(then, activeOf(then.entries), course, atMs, BELIEF_GRID)
      if (!asked) continue
      const { p10, p90 } = estimateCourse({ ...asked.inputs, latest: null }).now
      found.push({ atMs, p10, p90 })
      break
    }
  }
  return found
}
/** A knob that was turned: heat or salt. */
const isKnob = (entry: Entry): boolean => entry.kind === 'done' && /\d\s*(?:°C|PSU)/.test(entry.what)

/**
 * @param nowMs until when the keeper's tank was lived; the others are lived for as long as the tank lasts
 * @param told how far it is, 0 to 1
 */
export function debriefOf(
  begun: Begun,
  record: KeeperRecord,
  hands: readonly Hand[],
  nowMs: number,
  told: (share: number) => void = () => undefined,
): Debrief {
  const own = ownLife(begun, record, hands, nowMs)
  const decisions = activeEntries(record.entries)
    .filter((entry) => (ACTS.has(entry.kind) || isKnob(entry)) && entryMs(entry) <= nowMs)
    .slice(0, MOST_DECISIONS)
    .map((entry): Decision => {
      const without = recordOf(
        record.settings,
        documentsOf(record),
        record.entries.filter(({ id }) => id !== entry.id),
      )
      return { entryId: entry.id, atMs: entryMs(entry), without: ownLife(begun, without, hands, nowMs).outcome }
    })
  told(0.1)
  const belief = beliefOf(begun, record, nowMs, (share) => told(0.1 + 0.2 * share))
  const { record: _exact, ...exact } = exactLife(begun, (share) => told(0.3 + 0.6 * share))
  const { record: _calendar, ...calendar } = calendarLife(begun)
  told(1)
  const tests = (of: KeeperRecord) => of.entries.filter(({ kind }) => kind === 'reading').length
  const firstDose = (of: KeeperRecord) =>
    Math.min(
      ...of.entries.flatMap((entry) => (entry.kind === 'dose' || entry.kind === 'change' ? [entryMs(entry)] : [])),
      Infinity,
    )
  const { outcome } = own
  const is: Readonly<Record<string, boolean>> = {
    died: outcome.living < 1,
    over: outcome.highest > 1.05 || outcome.ammonia > 1.5 * Math.max(0.5, exact.outcome.ammonia),
    late: firstDose(record) - firstDose(_exact) > 36 * 3_600_000,
    under: exact.outcome.therapeutic > 100 && outcome.therapeutic < 0.7 * exact.outcome.therapeutic,
    alive: outcome.parasites > 0 || outcome.pests > 3,
    untested: tests(record) < 0.4 * tests(_exact),
    dripped: outcome.freeInBag > 1.5 * Math.max(0.02, exact.outcome.freeInBag),
    always: true,
  }
  const order = ['dripped', 'died', 'over', 'late', 'untested', 'under', 'alive', 'always']
  // Of what they died, and whether this tank is about that: then one of the others lost some of it as well.
  const [worst] = outcome.deaths
  const avoidable =
    worst !== undefined &&
    ![exact, calendar].some((life) => life.outcome.deaths.some(({ cause }) => cause === worst.cause))
  const { otherwise: list } = begun.definition
  const fitting = [...list]
    .filter(({ cause }) => cause === undefined || cause === worst?.cause)
    .sort((a, b) => order.indexOf(a.when) - order.indexOf(b.when))
  const otherwise =
    list.find(({ when, cause }) => is[when] && cause !== undefined && cause === worst?.cause)?.words ??
    (avoidable ? OF_CAUSE[worst.cause] : undefined) ??
    fitting.find(({ when }) => is[when])?.words ??
    'Nothing that we know of: this is how it is done. Live it once more with other luck.'
  return { belief, own, exact, calendar, decisions, otherwise }
}
