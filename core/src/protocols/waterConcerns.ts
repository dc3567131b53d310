// What the readings are uneasy about: values out of their usual range, tests long overdue, a level that does not rise.
import { limitOf } from '../knowledge/limits.ts'
import { doserConcerns, goingConcerns, instrumentConcerns, sampleConcerns } from '../laboratory/concerns.ts'
import { groupOf } from '../knowledge/agents.ts'
import { usualRange } from '../knowledge/ranges.ts'
import { methodOf } from '../knowledge/methods.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import { ANALYTES } from '../record/typedLine.ts'
import { entriesSince, entriesUntil, indexOf } from '../record/ledgerIndex.ts'
import { residentsIn } from '../record/whereabouts.ts'
import type { ActiveLedger, Analyte, KeeperRecord, ReadingEntry, VesselDocument } from '../record/types.ts'
import { dayOf, entryMs, instantMs } from '../time/time.ts'
import { formatDuration, preferredUnit } from '../units/format.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { fromCanonical } from '../units/units.ts'
import type { Concern } from './concerns.ts'
import { copperConcerns } from './copperConcerns.ts'
import { courseContext } from './courseContext.ts'
import { heldIn, heldState } from './held.ts'
import { lifeConcern } from './lifeBounds.ts'
import type { CoursePlan } from './plan.ts'

const DAY_MS = 24 * MS_PER_HOUR
/** A reading older than this no longer speaks for the water, days. EST */
const STANDS_DAYS = limitOf('reading-stands')
/** A test this long over its time is worth a word, h; a level that was not confirmed for so long does not rise. EST */
const OVERDUE_H = limitOf('test-overdue')
const STALLED_H = limitOf('level-stalled')
/** Ammonia has a watch of its own; oxygen and the methods below set their own range. */
const OWN_WATCH = new Set(['ammonia-total', 'ammonia-free'])

/** Newest reading of every analyte in a vessel, and the one before it, without typos. */
function newestOf(active: ActiveLedger, vesselId: string, nowMs: number) {
  const found = new Map<string, { last: ReadingEntry; before: ReadingEntry | null }>()
  for (const entry of indexOf(active).byVessel.get(vesselId)?.entries ?? []) {
    if (entry.kind !== 'reading' || entry.doubt === 'typo' || entryMs(entry) > nowMs) continue
    found.set(entry.analyte, { last: entry, before: found.get(entry.analyte)?.last ?? null })
  }
  return found
}

/** Analytes that a course in the vessel holds elsewhere on purpose. */
function heldElsewhere(record: KeeperRecord, plans: readonly CoursePlan[], vesselId: string): ReadonlySet<string> {
  const found = new Set<string>()
  for (const { courseId, vesselId: place } of plans) {
    if (place !== vesselId) continue
    const protocol = record.courses.get(courseId)?.body.protocol as unknown as Protocol | undefined
    if (!protocol) continue
    for (const { phase } of plans.find((plan) => plan.courseId === courseId)?.progress.phases ?? []) {
      const held = heldIn(phase.exit)
      const role = held && protocol.instrumentRoles.find(({ id }) => id === held.role)
      if (role) found.add(role.analyte)
      for (const rule of phase.rules) if (rule.kind === 'setting') found.add(rule.quantity)
    }
    if (methodOf((protocol as { method?: string }).method)?.salinityBelow !== undefined) found.add('salinity')
  }
  return found
}

/** Whether somebody lives in a vessel as far as is known: a display is no empty tank because nobody wrote down who does. */
const isWatched = (record: KeeperRecord, active: ActiveLedger, vessel: VesselDocument, nowMs: number): boolean =>
  vessel.body.purpose === 'display' || residentsIn(record, active, vessel.id, nowMs).length > 0

/** Values, tests and levels that should not be passed over in silence. Pure over record, plans and time. */
export function waterConcerns(
  record: KeeperRecord,
  active: ActiveLedger,
  plans: readonly CoursePlan[],
  nowMs: number,
): Concern[] {
  const found: Concern[] = []
  for (const vessel of record.vessels.values()) {
    if (vessel.body.archivedAt !== undefined) continue
    const elsewhere = heldElsewhere(record, plans, vessel.id)
    if (!isWatched(record, active, vessel, nowMs)) continue
    found.push(...fastChanges(record, active, vessel, elsewhere, nowMs))
    const asked = new Set(
      plans.flatMap(({ vesselId, steps }) =>
        vesselId === vessel.id ? steps.flatMap(({ test }) => (test ? [test.analyte] : [])) : [],
      ),
    )
    found.push(...copperConcerns(record, active, plans, vessel, nowMs))
    found.push(...silences(record, active, vessel, asked, nowMs))
    found.push(...unread(record, active, vessel, asked, nowMs))
    for (const [analyte, { last, before }] of newestOf(active, vessel.id, nowMs)) {
      const range = usualRange(vessel.body, analyte)
      const about = ANALYTES[analyte as keyof typeof ANALYTES]
      const ageMs = nowMs - entryMs(last)
      // Where a course holds it elsewhere on purpose, the course watches it.
      if (!range && !elsewhere.has(analyte) && ageMs <= STANDS_DAYS * DAY_MS) {
        const concern = lifeConcern(vessel, last)
        if (concern) found.push(concern)
      }
      if (!range || !about || OWN_WATCH.has(analyte) || elsewhere.has(analyte) || ageMs > STANDS_DAYS * DAY_MS) continue
      const low = last.value < range.min - 1e-9 && last.bound !== 'above'
      const high = last.value > range.max + 1e-9 && last.bound !== 'below'
      if (!low && !high) continue
      const unit = preferredUnit(about.dimension, record.settings)
      const shown = (value: number) => `${Number(fromCanonical(about.dimension, value, unit).toPrecision(3))} ${unit}`
      const wrongWay = before && (low ? last.value < before.value : last.value > before.value)
      const far = (low ? range.min - last.value : last.value - range.max) > 0.5 * (range.max - range.min)
      found.push({
        id: `range-${vessel.id}-${analyte}`,
        vesselId: vessel.id,
        title: `${about.word} in ${vessel.body.name} is ${low ? 'low' : 'high'}:`,
        detail: `${shown(last.value)}, usual ${shown(range.min)} to ${shown(range.max)}${wrongWay ? `; it was ${shown(before.value)} ${formatDuration((entryMs(last) - entryMs(before)) / MS_PER_HOUR)} before` : ''}. Read once more, then correct slowly.`,
        tone: far ? 'danger' : 'caution',
        action: 'see-vessel',
      })
    }
  }
  for (const plan of plans) found.push(...courseConcerns(record, active, plan, nowMs))
  found.push(...clockConcerns(active, nowMs))
  found.push(
    ...sampleConcerns(record, nowMs),
    ...doserConcerns(record, active, nowMs),
    ...goingConcerns(record, active, nowMs),
    ...instrumentConcerns(record, active, nowMs),
  )
  return found
}

/** A clock may be off by this much and nobody is told, ms. */
const CLOCK_MS = 5 * 60_000
/** Entries written at a time that is still to come: a clock was set back, or another device's goes ahead. */
function clockConcerns(active: ActiveLedger, nowMs: number): Concern[] {
  const ahead = entriesSince(active, nowMs - 2 * DAY_MS).filter(
    (entry) => instantMs(entry.recordedAt) > nowMs + CLOCK_MS,
  )
  const last = ahead.at(-1)
  if (!last) return []
  const hours = (Math.max(...ahead.map((entry) => instantMs(entry.recordedAt))) - nowMs) / MS_PER_HOUR
  return [
    {
      id: 'clock-ahead',
      vesselId: 'vesselId' in last && last.vesselId !== undefined ? last.vesselId : '',
      title: `${ahead.length === 1 ? 'One entry is' : `${ahead.length} entries are`} of a time still to come:`,
      detail: `written ${formatDuration(hours)} ahead of this device’s clock. It was set back, or another one goes ahead. Put the clock right first: until their time they do not count.`,
      tone: 'caution',
      action: 'see-ledger',
    },
  ]
}

const SILENCE = {
  tests: limitOf('silence-tests'),
  times: limitOf('silence-times'),
  leastDays: limitOf('silence-least'),
  mostDays: limitOf('silence-most'),
}
/** Values that were tested by a rhythm, and suddenly are not; what a course tests is asked for by the course. */
function silences(
  record: KeeperRecord,
  active: ActiveLedger,
  vessel: VesselDocument,
  asked: ReadonlySet<string>,
  nowMs: number,
): Concern[] {
  const { zone } = record.settings
  const own = entriesUntil(indexOf(active).byVessel.get(vessel.id)?.entries ?? [], nowMs)
  const days = new Map<ReadingEntry['analyte'], string[]>()
  for (const entry of entriesSince(own, nowMs - 2 * SILENCE.mostDays * DAY_MS)) {
    if (entry.kind !== 'reading' || OWN_WATCH.has(entry.analyte) || asked.has(entry.analyte)) continue
    const list = days.get(entry.analyte) ?? []
    const day = dayOf(entryMs(entry), zone)
    if (list.at(-1) !== day) list.push(day)
    days.set(entry.analyte, list)
  }
  const between = (from: string, to: string) => Math.round((Date.parse(to) - Date.parse(from)) / DAY_MS)
  const today = dayOf(nowMs, zone)
  const quiet = [...days].flatMap(([analyte, tested]) => {
    if (tested.length < SILENCE.tests) return []
    const gaps = tested.slice(1).map((day, i) => between(tested[i]!, day))
    const usual = gaps.toSorted((a, b) => a - b)[gaps.length >> 1]!
    const silent = between(tested.at(-1)!, today)
    return silent > Math.max(SILENCE.leastDays, SILENCE.times * usual) && silent <= SILENCE.mostDays
      ? [{ analyte, usual, silent }]
      : []
  })
  if (quiet.length === 0) return []
  const words = quiet.map(
    ({ analyte, usual, silent }) =>
      `${ANALYTES[analyte].word} every ${usual === 1 ? 'day' : `${usual} days`}, and not for ${silent}`,
  )
  return [
    {
      id: `silence-${vessel.id}`,
      vesselId: vessel.id,
      title: `Tests in ${vessel.body.name} have gone quiet:`,
      detail: `${words.join('; ')}. Silence is no “all clear”.`,
      tone: 'plain',
      action: 'test',
      analytes: quiet.map(({ analyte }) => analyte),
    },
  ]
}

/** Days of corals in a vessel after which alkalinity that nobody reads is named. */
const UNREAD_DAYS = limitOf('unread-days')
/** Corals build with alkalinity day by day; where nobody reads it, it runs out unseen. @source handbook 40, alkalinity in small tanks */
function unread(
  record: KeeperRecord,
  active: ActiveLedger,
  vessel: VesselDocument,
  asked: ReadonlySet<string>,
  nowMs: number,
): Concern[] {
  if (vessel.body.water !== 'marine' || asked.has('alkalinity')) return []
  if (nowMs - instantMs(vessel.history[0]?.savedAt ?? vessel.savedAt) < UNREAD_DAYS * DAY_MS) return []
  const corals = residentsIn(record, active, vessel.id, nowMs).some(({ body }) => groupOf(body.group)?.kind === 'coral')
  if (!corals) return []
  const own = entriesUntil(indexOf(active).byVessel.get(vessel.id)?.entries ?? [], nowMs)
  const last = own.findLast((entry) => entry.kind === 'reading' && entry.analyte === 'alkalinity')
  const days = last ? Math.floor((nowMs - entryMs(last)) / DAY_MS) : null
  if (days !== null && days <= SILENCE.mostDays) return []
  return [
    {
      id: `unread-${vessel.id}`,
      vesselId: vessel.id,
      title: `Alkalinity in ${vessel.body.name} ${days === null ? 'was never read' : `was not read for ${days} days`}:`,
      detail:
        'corals build with it day by day, and in little water it runs out within weeks. One test tells where it stands.',
      tone: 'caution',
      action: 'test',
      analytes: ['alkalinity'],
    },
  ]
}

/** What has a largest change of a day, by analyte. What is fed or eaten may fall fast; its rise is what harms. */
const DAY_CHANGES = [
  { analyte: 'temperature', upOnly: false },
  { analyte: 'salinity', upOnly: false },
  { analyte: 'ph', upOnly: false },
  { analyte: 'alkalinity', upOnly: false },
  { analyte: 'calcium', upOnly: false },
  { analyte: 'magnesium', upOnly: false },
  { analyte: 'potassium', upOnly: false },
  { analyte: 'nitrate', upOnly: true },
  { analyte: 'phosphate', upOnly: true },
] as const
/** Two tests apart by less than this many of their own scatters tell no change. @source handbook 65 §8.1 cs-detect */
const TELLS = 2.77
const WINDOW_H = limitOf('day-change-window')

/** Values that moved further in a day than an animal should be asked to follow, and further than the kit scatters. */
function fastChanges(
  record: KeeperRecord,
  active: ActiveLedger,
  vessel: VesselDocument,
  elsewhere: ReadonlySet<string>,
  nowMs: number,
): Concern[] {
  const own = entriesUntil(indexOf(active).byVessel.get(vessel.id)?.entries ?? [], nowMs)
  const lately = entriesSince(own, nowMs - 4 * DAY_MS)
  return DAY_CHANGES.flatMap(({ analyte, upOnly }): Concern[] => {
    if (elsewhere.has(analyte)) return []
    const readings = lately.filter(
      (entry): entry is ReadingEntry =>
        entry.kind === 'reading' && entry.analyte === analyte && entry.doubt !== 'typo' && entry.bound === 'exact',
    )
    const last = readings.at(-1)
    if (!last || nowMs - entryMs(last) > limitOf('day-change-news') * MS_PER_HOUR) return []
    const offH = (entry: ReadingEntry) => Math.abs(entryMs(last) - entryMs(entry) - DAY_MS) / MS_PER_HOUR
    const before = readings.filter((entry) => offH(entry) <= WINDOW_H).sort((a, b) => offH(a) - offH(b))[0]
    if (!before) return []
    const moved = last.value - before.value
    const most = limitOf(`day-change-${analyte}`)
    const kit = last.instrumentId === undefined ? undefined : record.instruments.get(last.instrumentId)?.body
    const sd = Math.max(0.5 * (kit?.step ?? 0), (kit?.relativeError ?? 0) * Math.abs(last.value))
    if ((upOnly ? moved : Math.abs(moved)) <= most + 1e-9 || Math.abs(moved) <= TELLS * sd) return []
    const about = ANALYTES[analyte]
    const unit = preferredUnit(about.dimension, record.settings)
    const shown = (value: number) => `${Number(fromCanonical(about.dimension, value, unit).toPrecision(4))} ${unit}`
    return [
      {
        id: `fast-${vessel.id}-${analyte}`,
        vesselId: vessel.id,
        title: `${about.word} in ${vessel.body.name} ${moved > 0 ? 'rose' : 'fell'} fast:`,
        detail: `from ${shown(before.value)} to ${shown(last.value)} in a day. Read once more; if it is so, find what did it before anything is turned back, and turn it back over days.`,
        tone: 'caution',
        action: 'test',
        analytes: [analyte],
      },
    ]
  })
}

/** What a protocol names to be tested, where the log can hold it. */
const asAnalytes = (name: string | undefined): readonly Analyte[] =>
  name !== undefined && name in ANALYTES ? [name as Analyte] : []

function courseConcerns(record: KeeperRecord, active: ActiveLedger, plan: CoursePlan, nowMs: number): Concern[] {
  const course = record.courses.get(plan.courseId)
  const name = record.vessels.get(plan.vesselId)?.body.name ?? 'A vessel'
  if (!course) return []
  const about = { vesselId: plan.vesselId, courseId: plan.courseId }
  const found: Concern[] = []
  for (const step of plan.steps) {
    const overH = (nowMs - step.untilMs) / MS_PER_HOUR
    if (step.kind === 'test' && step.state === 'late' && overH >= OVERDUE_H)
      found.push({
        ...about,
        id: `overdue-${step.key}`,
        title: `${step.title} in ${name} is overdue`,
        detail: `by ${formatDuration(overH)}. What the course says of its water rests on an old value until then.`,
        tone: 'caution',
        action: 'test',
        analytes: asAnalytes(step.test?.analyte),
      })
  }
  const { ramp } = plan.progress
  if (ramp && ramp.confirmed < ramp.levels.length && ramp.lastDoseMs !== null) {
    const sinceMs = ramp.confirmedAtMs.at(-1) ?? instantOfFirst(plan)
    const hours = (nowMs - sinceMs) / MS_PER_HOUR
    if (hours >= STALLED_H)
      found.push({
        ...about,
        id: 'stalled',
        title: `The level in ${name} does not rise:`,
        detail: `step ${ramp.confirmed + 1} of ${ramp.levels.length} has not been confirmed for ${formatDuration(hours)}. Test, compare bottle and volume, then go on or end the course.`,
        tone: 'caution',
        action: 'see-course',
      })
  }
  const current = plan.progress.current === null ? null : plan.progress.phases[plan.progress.current]!
  const held = current ? heldIn(current.phase.exit) : null
  if (current && held && current.enteredMs !== null) {
    const context = courseContext(record, active, course, nowMs, null)
    const state = heldState(held, context, current.enteredMs)
    const role = context.protocol.instrumentRoles.find(({ id }) => id === held.role)
    if (state.resetBy && state.sinceMs === null)
      found.push({
        ...about,
        id: 'held-out',
        title: `${name} is outside what the course holds:`,
        detail: `a reading of ${Number(state.resetBy.value.toPrecision(3))} stopped the count; it begins anew with the next one inside.`,
        tone: 'caution',
        action: 'test',
        analytes: asAnalytes(role?.analyte),
      })
  }
  return found
}

/** When the present phase began. */
const instantOfFirst = (plan: CoursePlan): number =>
  plan.progress.phases[plan.progress.current ?? 0]?.enteredMs ?? plan.progress.phases[0]!.enteredMs ?? 0

/** What was looked at before nothing was found, in words. */
export function checkedWords(
  record: KeeperRecord,
  active: ActiveLedger,
  plans: readonly CoursePlan[],
  nowMs: number,
): string {
  const vessels = [...record.vessels.values()].filter(
    (vessel) => vessel.body.archivedAt === undefined && isWatched(record, active, vessel, nowMs),
  )
  const readings = vessels.reduce(
    (sum, { id }) =>
      sum +
      [...newestOf(active, id, nowMs).values()].filter(({ last }) => nowMs - entryMs(last) <= STANDS_DAYS * DAY_MS)
        .length,
    0,
  )
  const count = (n: number, word: string) => `${n} ${word}${n === 1 ? '' : 's'}`
  return readings === 0 && plans.length === 0
    ? 'Nothing to check yet: no reading of the last 14 days and no course.'
    : `Checked: the newest ${count(readings, 'reading')} of 14 days against ${readings === 1 ? 'its' : 'their'} range, ${count(plans.length, 'course')} with ${plans.length === 1 ? 'its' : 'their'} tests, levels and clocks.${readings === 0 ? ' No reading is that young.' : ''}`
}
