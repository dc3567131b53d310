// How often animals were caught, moved or bathed lately, how long they stood in drugs and how often their water was
// changed, and whether the next thing may wait.
import { besidesReadings, entriesSince } from '../record/ledgerIndex.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import { limitOf } from '../knowledge/limits.ts'
import type { ActiveLedger, CourseDocument, Entry, KeeperRecord } from '../record/types.ts'
import { agentForm } from '../knowledge/agents.ts'
import { formGiven } from '../knowledge/uses.ts'
import { isLook } from '../record/observation.ts'
import { residentVessels } from '../record/whereabouts.ts'
import { entryMs } from '../time/time.ts'
import { rotaOf } from './courseContext.ts'

const DAY = 86_400_000
/** Catches in a week over which rest is offered; the most is what one tank transfer asks. @source EST, handbook 30 §5 */
export const MOST_A_WEEK = limitOf('catches-a-week')
const STABLE_DAYS = limitOf('stable-days')
/** What is looked back on for drugs and changes, days. */
const LOAD_DAYS = limitOf('drug-lookback')
const CHANGES_DAYS = limitOf('changes-lookback')
/** Two doses of one drug so many days apart are one stretch in it. */
const SAME_STRETCH_DAYS = limitOf('same-stretch')
/** From here on the treatment itself may be what wears them out. @source EST, after handbook 00 §2.14 and §5: months of drugs and changes, and better when it slowed */
const MANY_DRUG_DAYS = limitOf('many-drug-days')
const MANY_CHANGES = limitOf('many-changes')

export interface Handling {
  /** Moves and baths of the course's animals in the last seven days. */
  readonly times: number
  readonly lastMs: number | null
  /** No sign seen on them for two days, though somebody looked. */
  readonly stable: boolean
  /** Days of the last ten weeks in which a drug was in their water, and which drugs. */
  readonly drugDays: number
  readonly drugs: readonly string[]
  /** Changes of their water in the last two weeks. */
  readonly changes: number
  /** So much of it that the treatment itself may be what wears them out, in words; null where it is not. */
  readonly worn: string | null
  /** Rest is offered: much was done, and nothing gets worse. */
  readonly rest: boolean
}

/** Handling of a course's animals in the week before an instant. Moves within a minute of each other count once. */
export function handlingOf(
  record: KeeperRecord,
  active: ActiveLedger,
  course: CourseDocument,
  nowMs: number,
): Handling {
  const animals = new Set(course.body.residents)
  const times: number[] = []
  /** Bench sessions met so far: many pieces in one sitting are one handling of the house. */
  const sessions = new Set<string>()
  let seen = false
  let looked = false
  // The clock of a spot treatment is written as a bath, and nobody is caught for it.
  const spots = new Set(
    (course.body.protocol as unknown as Protocol).phases.flatMap(({ rules }) =>
      rules.flatMap(({ kind, id }) => (kind === 'spot' ? [id] : [])),
    ),
  )
  for (const entry of entriesSince(besidesReadings(active), nowMs - Math.max(7, STABLE_DAYS) * DAY)) {
    const ms = entryMs(entry)
    if (ms > nowMs) break
    const age = nowMs - ms
    if (age <= 7 * DAY) {
      const session =
        entry.kind === 'done' && entry.bench !== undefined && entry.courseId === course.id
          ? (entry.step?.split('/').slice(0, 3).join('/') ?? '')
          : null
      const atBench = session !== null && !sessions.has(session)
      if (session !== null) sessions.add(session)
      const caught =
        atBench ||
        (entry.kind === 'move' && animals.has(entry.residentId)) ||
        (entry.kind === 'bath' &&
          entry.courseId === course.id &&
          entry.act === 'start' &&
          !spots.has(entry.rule ?? '')) ||
        (entry.kind === 'bath' && entry.courseId === course.id && entry.act === 'end' && !startedBefore(active, entry))
      if (caught && (times.length === 0 || ms - times.at(-1)! > 60_000)) times.push(ms)
    }
    if (age <= STABLE_DAYS * DAY && entry.kind === 'sign') {
      const theirs =
        entry.residentId === undefined ? entry.vesselId === course.body.vesselId : animals.has(entry.residentId)
      if (theirs) {
        looked = true
        if (entry.present) seen = true
      }
    }
    if (age <= STABLE_DAYS * DAY && entry.kind === 'done' && isLook(record, entry))
      looked ||= entry.courseId === course.id || entry.vesselId === course.body.vesselId
  }
  const stable = looked && !seen
  const { drugDays, drugs, changes } = loadOf(record, active, course, nowMs)
  const long = drugDays >= MANY_DRUG_DAYS && drugs.length > 1
  const often = changes >= MANY_CHANGES && drugDays >= CHANGES_DAYS
  const worn =
    long || often
      ? [
          ...(drugDays > 0 ? [`${drugDays} of the last ${LOAD_DAYS} days in drugs (${drugs.join(', ')})`] : []),
          ...(changes > 0 ? [`${changes} ${changes === 1 ? 'change' : 'changes'} of water in two weeks`] : []),
        ].join(', ')
      : null
  return {
    times: times.length,
    lastMs: times.at(-1) ?? null,
    stable,
    drugDays,
    drugs,
    changes,
    worn,
    rest: stable && (times.length > MOST_A_WEEK || worn !== null),
  }
}

/** Days in drugs and changes of water, in the vessels of the course and wherever its animals are now. */
function loadOf(
  record: KeeperRecord,
  active: ActiveLedger,
  course: CourseDocument,
  nowMs: number,
): { drugDays: number; drugs: string[]; changes: number } {
  const where = residentVessels(record, active, nowMs)
  const places = new Set<string>([...rotaOf(course), ...course.body.residents.flatMap((id) => where.get(id) ?? [])])
  const poured = new Map<string, number[]>()
  let changes = 0
  for (const entry of entriesSince(besidesReadings(active), nowMs - LOAD_DAYS * DAY)) {
    const ms = entryMs(entry)
    if (ms > nowMs) break
    if (nowMs - ms > LOAD_DAYS * DAY || !('vesselId' in entry) || !places.has(entry.vesselId ?? '')) continue
    if (entry.kind === 'change' && nowMs - ms <= CHANGES_DAYS * DAY) changes++
    if (entry.kind !== 'dose') continue
    const form = formGiven(entry, record.products.get(entry.productId))
    // What feeds or mends the water is no burden; drugs are.
    if (form && form.route === 'in-tank') poured.set(form.id, [...(poured.get(form.id) ?? []), ms])
  }
  const days = new Set<number>()
  for (const times of poured.values())
    for (const [i, ms] of times.entries()) {
      const next = times[i + 1] ?? ms
      const until = next - ms <= SAME_STRETCH_DAYS * DAY ? next : ms
      for (let day = Math.floor(ms / DAY); day <= Math.floor(until / DAY); day++) days.add(day)
    }
  return { drugDays: days.size, drugs: [...poured.keys()].map((id) => agentForm(id)?.label ?? id), changes }
}

const startedBefore = (active: ActiveLedger, end: Extract<Entry, { kind: 'bath' }>): boolean =>
  besidesReadings(active).some(
    (entry) =>
      entry.kind === 'bath' &&
      entry.act === 'start' &&
      entry.courseId === end.courseId &&
      entry.step === end.step &&
      entryMs(entry) <= entryMs(end),
  )
