// A campaign as it stands: is it over, is it working, must it stop — from the ledger alone, with what it rests on.
import { partsOf } from '../knowledge/protocols.ts'
import { analyteWord } from '../record/typedLine.ts'
import { lostBetween, missingAnimals, type Missing } from './headCount.ts'
import { limitOf } from '../knowledge/limits.ts'
import type { Condition, Protocol } from '../knowledge/protocols.ts'
import { changedShare, vesselVolume } from '../level/fromRecord.ts'
import { roundsState } from '../protocols/rounds.ts'
import { roleReadings } from '../protocols/courseContext.ts'
import {
  courseContext,
  courseProgress,
  meanTemperature,
  type CourseContext,
  type CourseProgress,
} from '../protocols/progress.ts'
import type { ActiveLedger, Analyte, CourseDocument, Entry, KeeperRecord, ReadingEntry } from '../record/types.ts'
import { theilSen } from '../trends/theilSen.ts'
import { daysBetween, entryMs, instantMs } from '../time/time.ts'
import { compareArms, type ArmComparison, type ArmPatch } from './arms.ts'
import { readCounts, trendOf, type CountedRound, type CountVerdict, type Trend } from './counts.ts'
import { animalGuards, guardStates, type AnimalGuard, type GuardState } from './guards.ts'
import { jarVerdict, type JarVerdict } from './jar.ts'
import {
  inBand,
  measurePoints,
  shareInterval,
  type Campaign,
  type Measure,
  type MeasurePoint,
  withoutControl,
} from './measures.ts'
import { ofUnit } from './ofUnit.ts'
import { dailyStages, pestOf } from './pests.ts'
import { removalForecast, type RemovalForecast } from './removal.ts'

export type Tone = 'good' | 'plain' | 'caution' | 'danger'
export interface Answer {
  readonly tone: Tone
  /** One sentence. */
  readonly words: string
  /** Chance behind it, where there is one. 0 to 1. */
  readonly chance?: number
}
export interface MeasureState {
  readonly measure: Measure
  readonly points: readonly MeasurePoint[]
  readonly trend: Trend
  /** In its band “done”, in “working”, or neither; null without a band or a value. */
  readonly state: 'done' | 'working' | 'going-on' | null
  /** Middle 80 % of the last share that was counted. */
  readonly interval?: { readonly low: number; readonly high: number }
}
export interface CampaignAlarm {
  readonly id: string
  readonly tone: Tone
  readonly words: string
  /** What to answer or do. */
  readonly ask: string
}
export interface CampaignState {
  readonly campaign: Campaign
  /** Days since it began, the first being 0. */
  readonly day: number
  readonly over: Answer
  readonly working: Answer
  readonly stop: Answer
  readonly measures: readonly MeasureState[]
  readonly alarms: readonly CampaignAlarm[]
  /** Animals counted by name that were not found well, and are neither found since nor noted as dead. */
  readonly missing: readonly Missing[]
  readonly guards: readonly GuardState[]
  /** Animals as guards, where the campaign has them. */
  readonly animals: readonly AnimalGuard[]
  readonly counts: CountVerdict | null
  readonly jar: JarVerdict | null
  readonly removal: RemovalForecast | null
  /** Each arm against the one left alone, the first of the measure first. */
  readonly arms: readonly ArmComparison[]
  /** How it should look today. */
  readonly expect: string | null
  readonly effort: Effort
}
export interface Effort {
  readonly minutes: number
  readonly minutesWeek: number
  readonly sessions: number
  readonly sessionsWeek: number
  /** Days since the last session; null before the first. */
  readonly restDays: number | null
  /** Much was done, and nothing gets worse: less may do for a week. */
  readonly less: boolean
}

const DAY = 86_400_000
const HOUR = 3_600_000
/** Sessions a week over which less is offered. @source EST, handbook 40 §10 rest between bench sessions */
const SESSIONS_A_WEEK = limitOf('sessions-a-week')

export const campaignOf = (course: CourseDocument): Campaign | null =>
  (course.body.protocol as unknown as Protocol).campaign ?? null

/** State of a campaign; null for a course that is none. Deterministic: record, entries and time in, answers out. */
export function campaignState(
  record: KeeperRecord,
  active: ActiveLedger,
  course: CourseDocument,
  nowMs: number,
): CampaignState | null {
  const campaign = campaignOf(course)
  if (!campaign) return null
  const context = courseContext(record, active, course, nowMs, null)
  const progress = courseProgress(context)
  const { startMs, zone } = context
  const own = context.entries.filter((entry) => entryMs(entry) >= startMs - DAY / 4)
  const measures = campaign.measures.map((measure): MeasureState => {
    const points = measurePoints(measure, own, zone)
    const last = points.at(-1)
    return {
      measure,
      points,
      trend: trendOf(points.map(({ value }) => value)),
      state:
        !last || (!measure.done && !measure.working)
          ? null
          : inBand(last.value, measure.done)
            ? 'done'
            : inBand(last.value, measure.working)
              ? 'working'
              : 'going-on',
      ...(last && measure.value.of === 'share' ? { interval: intervalOf(measure, last) } : {}),
    }
  })
  const day = Math.max(0, daysBetween(startMs, nowMs, zone))
  const endMs =
    startMs + DAY * context.protocol.phases.reduce((sum, { typicalDays }, i) => (i === 0 ? typicalDays : sum), 0)
  const guards = guardStates(campaign.guards ?? [], record, context.entries, startMs, nowMs, endMs)
  const animals = campaign.animals
    ? animalGuards(campaign.animals, record, active, course.body.vesselId, startMs, nowMs)
    : []
  const guarded = guardedNow(campaign, progress)
  const effort = effortOf(own, course, nowMs, measures[0]?.trend ?? 'unclear')
  const current = progress.current === null ? null : progress.phases[progress.current]!
  // What ends the phase is what it is judged by; the campaign's first measure otherwise.
  const judgedBy = current ? measureAskedIn(current.phase.exit) : null
  const main =
    measures.find(({ measure }) => measure.id === (judgedBy ?? lastJudgedBy(progress))) ??
    measures.find(({ points }) => points.length > 0) ??
    measures[0]
  const counts = campaign.kind === 'rounds' && main ? countsOf(context, campaign, main, day) : null
  // Each round of a jar has its own verdict, from its own dose; between rounds the jar says nothing.
  const asked = current ? jarAskedIn(current.phase.exit) : null
  const jar =
    campaign.kind === 'jar' && current && asked !== null
      ? jarVerdict(
          own.flatMap((entry) => (entry.kind === 'tally' && entry.measure === asked ? [entry] : [])),
          lastDoseSince(own, current.enteredMs ?? startMs) ?? current.enteredMs ?? startMs,
          nowMs,
        )
      : null
  const removal =
    campaign.kind === 'removal' && main && main.points.length > 0 ? removalOf(campaign, main, context) : null
  const arms = main?.measure.arms ? armsOf(main) : []
  const { finishedMs } = progress
  const missing = missingAnimals(record, active, course.body.vesselId, startMs, nowMs)
  const alarms = [
    ...countAlarms(measures, campaign, context),
    ...silentAlarms(guards, guarded, nowMs, progress.current === 0 ? startMs : (current?.enteredMs ?? startMs)),
    ...relapseAlarms(campaign, context),
    ...missingAlarms(missing),
    ...fights(record, { id: course.id, vesselId: course.body.vesselId, wants: campaign.wants }, nowMs).map(
      (words, i) => ({
        id: `fight-${i}`,
        tone: 'caution' as const,
        words,
        ask: 'End one of them, or change what it wants.',
      }),
    ),
  ]
  return {
    campaign,
    day,
    measures,
    guards,
    animals,
    counts,
    jar,
    removal,
    arms,
    alarms,
    missing,
    effort,
    // Counted from the first treatment: before it nothing is to be seen.
    expect: expectedSince(
      campaign,
      own.filter(({ courseId }) => courseId === undefined || courseId === course.id),
      nowMs,
      zone,
    ),
    over: overAnswer({ campaign, context, measures, main, counts, jar, removal, finishedMs }),
    working: workingAnswer({ campaign, context, measures, main, counts, jar, removal, arms, day }),
    stop: stopAnswer({
      guards,
      animals,
      aborts: progress.aborts.map(({ sentence, action }) => `${sentence} ${action}`),
      alarms,
      guarded,
      litres: vesselLitres(record, course.body.vesselId),
      day,
      nowMs,
    }),
  }
}

/** What the last phase that asked for a measure was judged by: it stays the measure of the phases after it. */
function lastJudgedBy({ phases, current }: CourseProgress): string | null {
  for (const { phase } of phases.slice(0, current ?? phases.length).reverse()) {
    const asked = measureAskedIn(phase.exit)
    if (asked !== null) return asked
  }
  return null
}

/** Who was not found: a body fouls the water, and a hidden animal is not a lost one. */
function missingAlarms(missing: readonly Missing[]): CampaignAlarm[] {
  if (missing.length === 0) return []
  const names = missing.map(({ name, gone, of }) => (of > 1 ? `${name} (${gone} of ${of})` : name))
  return [
    {
      id: 'missing',
      tone: 'caution',
      words: `Not found or not well at the last count: ${names.join(', ')}.`,
      ask: 'Look under every rock today, count again, and note the dead on their pages: a body fouls the water.',
    },
  ]
}

const intervalOf = (measure: Measure, point: MeasurePoint) => {
  const total = (fields: readonly string[]) =>
    withoutControl(measure, point.entries).reduce(
      (sum, { values }) => sum + fields.reduce((part, field) => part + (values[field] ?? 0), 0),
      0,
    )
  return shareInterval(total(measure.value.fields), total(measure.fields.map(({ id }) => id)))
}

/** Rounds and looks with what they found, read through the life of the pest. */
function countsOf(
  context: CourseContext,
  campaign: Campaign,
  { measure, points }: MeasureState,
  day: number,
): CountVerdict | null {
  const pest = campaign.pest === undefined ? undefined : pestOf(campaign.pest)
  const stages = pest ? dailyStages(pest, meanTemperature(context)) : null
  if (!pest?.daily || !stages || points.length === 0) return null
  const ruleIds = context.protocol.phases.flatMap(({ rules }) =>
    rules.flatMap((rule) => (rule.kind === 'round' ? [rule.id] : [])),
  )
  const treated = (point: MeasurePoint) =>
    point.entries.some(({ step }) => ruleIds.some((id) => step?.startsWith(`${context.course.id}/${id}/`)))
  const seen = measure.detection ?? pest.detection
  const rounds = points.map((point): CountedRound => ({
    day: Math.max(0, daysBetween(context.startMs, point.atMs, context.zone)),
    found: Math.round(point.value),
    treated: treated(point),
    seen,
  }))
  const rule = context.protocol.phases.flatMap(({ rules }) => rules).find((one) => one.kind === 'round')
  const interval = rule?.kind === 'round' ? Math.max(1, roundsState(context, rule).rule.intervalDays) : 3
  const planned = plannedDays(context, day)
  return readCounts({ stages, kill: pest.daily.kill, eggs: pest.daily.eggs }, rounds, day, {
    days: [planned[0] ?? day + interval, planned[1] ?? (planned[0] ?? day) + 2 * interval],
    seen,
    planned,
  })
}

/** Days of the rounds still to come, by what was found up to now. */
function plannedDays(context: CourseContext, day: number): number[] {
  const rule = context.protocol.phases.flatMap(({ rules }) => rules).find((one) => one.kind === 'round')
  if (rule?.kind !== 'round') return []
  const { nextMs, of, done, enoughMs, rule: spacing } = roundsState(context, rule)
  if (enoughMs !== null) return []
  const first = Math.max(day + 1, daysBetween(context.startMs, nextMs, context.zone))
  return Array.from({ length: Math.max(0, of - done.length) }, (_, i) => first + i * spacing.intervalDays)
}

/**
 * Passes over the rocks that can be held against each other: those counted more than once. A rock that a pass left out
 * keeps what it had left; where none was counted twice, there is one pass and nothing to compare.
 */
function passesOf(
  measure: Measure,
  points: readonly MeasurePoint[],
): { day: number; before: number; removed: number }[] {
  const of = (entry: MeasurePoint['entries'][number], id: string) => entry.values[id] ?? 0
  const first = measure.fields[0]!.id
  const times = new Map<string, number>()
  for (const { entries } of points)
    for (const { piece } of entries) times.set(piece ?? '', (times.get(piece ?? '') ?? 0) + 1)
  const again = new Set([...times].flatMap(([piece, count]) => (count > 1 ? [piece] : [])))
  const day = (point: MeasurePoint) => (point.atMs - points[0]!.atMs) / DAY
  if (again.size === 0) {
    const all = points.flatMap(({ entries }) => entries)
    const sum = (id: string) => all.reduce((total, entry) => total + of(entry, id), 0)
    return [{ day: 0, before: sum(first), removed: sum('removed') }]
  }
  const left = new Map<string, number>()
  return points.flatMap((point) => {
    const counted = point.entries.filter(({ piece }) => again.has(piece ?? ''))
    if (counted.length === 0) return []
    const here = new Set(counted.map(({ piece }) => piece ?? ''))
    const carried = [...left].reduce((sum, [piece, rest]) => sum + (here.has(piece) ? 0 : rest), 0)
    const before = counted.reduce((sum, entry) => sum + of(entry, first), 0)
    const removed = counted.reduce((sum, entry) => sum + of(entry, 'removed'), 0)
    for (const entry of counted) left.set(entry.piece ?? '', Math.max(0, of(entry, first) - of(entry, 'removed')))
    return [{ day: day(point), before: before + carried, removed }]
  })
}

function removalOf(campaign: Campaign, { measure, points }: MeasureState, context: CourseContext): RemovalForecast {
  const passes = passesOf(measure, points)
  const rule = context.protocol.phases.flatMap(({ rules }) => rules).find((one) => one.kind === 'tally')
  const every = rule?.kind === 'tally' ? (rule.everyDays ?? 7) : 7
  return removalForecast(passes, campaign.doubling ?? 21, every)
}

/** Each arm against the one that was left alone, by the last scores. */
function armsOf({ measure, points }: MeasureState): ArmComparison[] {
  const arms = measure.arms!
  const control = arms.at(-1)!.id
  const first = new Map<string, number>()
  const last = new Map<string, { arm: string; value: number; atMs: number }>()
  const field = measure.value.fields[0]!
  for (const { entries } of points)
    for (const entry of entries) {
      const piece = entry.piece ?? ''
      const value = entry.values[field]
      if (entry.arm === undefined || value === undefined) continue
      if (!first.has(piece)) first.set(piece, value)
      last.set(piece, { arm: entry.arm, value, atMs: entryMs(entry) })
    }
  const newest = Math.max(...[...last.values()].map(({ atMs }) => atMs))
  const patches = [...last].flatMap(([piece, { arm, value, atMs }]): ArmPatch[] =>
    // A patch nobody scored lately is not in the race.
    newest - atMs > 2 * DAY ? [] : [{ arm, piece, before: first.get(piece)!, after: value }],
  )
  const reached = measure.done?.atLeast ?? 3
  return arms.slice(0, -1).flatMap(({ id }) => compareArms(patches, id, control, reached) ?? [])
}

interface Asked {
  readonly campaign: Campaign
  readonly context: CourseContext
  readonly measures: readonly MeasureState[]
  /** What the present phase is judged by. */
  readonly main: MeasureState | undefined
  readonly counts: CountVerdict | null
  readonly jar: JarVerdict | null
  readonly removal: RemovalForecast | null
}
const percent = (chance: number): string =>
  chance > 0.995 ? 'over 99 %' : chance < 0.005 ? 'under 1 %' : `${Math.round(100 * chance)} %`
const small = (value: number): string =>
  value === 0 ? '0' : value < 0.1 ? 'under 0.1' : String(Number(value.toPrecision(2)))

function overAnswer({
  campaign,
  context,
  measures,
  main,
  counts,
  jar,
  removal,
  finishedMs,
}: Asked & { finishedMs: number | null }): Answer {
  if (jar) {
    const words = {
      'no-look': 'Not known: nobody has looked into the jar.',
      'no-control': 'Not proven: the undosed jar was not looked at.',
      void: 'Not proven: the undosed jar died too, so something else killed them.',
      alive: 'No: something in the dosed jar still moves.',
      'once-dead': 'Not yet: look once more, four hours after the first look without movement.',
      margin: 'Almost: all are dead twice. The margin of six hours runs.',
      clear: 'Yes: the jar is dead of all sizes, and the margin is over. Change and siphon now.',
    }[jar.state]
    return { tone: jar.state === 'clear' ? 'good' : jar.state === 'void' ? 'caution' : 'plain', words }
  }
  const raised = campaign.kind === 'correction' ? raisedTo(context) : null
  if (raised) return raisedAnswer(raised, finishedMs !== null)
  if (finishedMs !== null) return finishedAnswer(measures, counts, context, finishedMs)
  const between = campaign.kind === 'jar' ? betweenRounds(context) : null
  if (between !== null) return between
  if (!main) return { tone: 'plain', words: 'It ends when its steps are done.' }
  if (main.points.length === 0)
    return { tone: 'plain', words: `Not known: nothing is counted yet under “${main.measure.title}”.` }
  if (counts) {
    const { overNow, overAfterOne, overAfterTwo } = counts
    const after = ` ${percent(overAfterOne)} if the next round or look finds nothing, ${percent(overAfterTwo)} if the next two do.`
    return {
      tone: overNow >= 0.98 ? 'good' : 'plain',
      chance: overNow,
      words: `${overNow >= 0.98 ? 'Most likely' : overNow >= 0.5 ? 'Perhaps' : 'No'}: ${percent(overNow)} that nothing is left.${after}`,
    }
  }
  if (removal) {
    const { left, passesToOne } = removal
    if (left < 1)
      return main.points.at(-1)!.value === 0
        ? { tone: 'good', words: 'None found. Two counts of zero, seven days apart, end it.' }
        : {
            tone: 'plain',
            words: 'Not yet: fewer than one should be left by the model. Two counts of zero, seven days apart, end it.',
          }
    return {
      tone: 'plain',
      words: `No: about ${small(left)} are left${passesToOne === null ? ', and they grow back faster than they go' : `; ${passesToOne} more ${passesToOne === 1 ? 'pass' : 'passes'} at this rhythm until under one`}.`,
    }
  }
  const day = daysBetween(context.startMs, context.nowMs, context.zone)
  const first = campaign.judge?.[0]
  if (first !== undefined && day < first)
    return { tone: 'plain', words: `Not to be judged before day ${first}: today is day ${day}.` }
  // The undosed jar must live: what moves in a jar is never a measure of the tank.
  const judged = measures.filter(({ state, measure }) => state !== null && measure.per !== 'jar')
  const done = judged.filter(({ state }) => state === 'done')
  if (judged.length > 0 && done.length === judged.length)
    return {
      tone: 'good',
      words: `All ${done.length === 1 ? '' : `${done.length} `}measures read “done”. It must hold: ${holdWords(context)}`,
    }
  const missing = judged.filter(({ state }) => state !== 'done').map(({ measure }) => measure.title.toLowerCase())
  if (campaign.judge) {
    const next = campaign.judge.find((one) => one > day)
    if (next !== undefined)
      return {
        tone: 'plain',
        words: `Not yet: ${missing.join(', ')} not done. Judge again on day ${next}; today is day ${day}.`,
      }
  }
  return {
    tone: 'plain',
    words:
      missing.length > 0 ? `No: ${missing.join(', ')} ${missing.length === 1 ? 'is' : 'are'} not done.` : 'Not yet.',
  }
}
/** What a correction raises: the tests of it since shortly before it began, and the value its exit asks for. */
interface Raised {
  readonly name: string
  readonly readings: readonly ReadingEntry[]
  readonly atLeast: number
}
function raisedTo(context: CourseContext): Raised | null {
  const asked = context.protocol.phases.flatMap(({ exit }) =>
    partsOf(exit).flatMap((part) =>
      part.kind === 'reading' && typeof part.atLeast === 'number' ? [{ role: part.role, atLeast: part.atLeast }] : [],
    ),
  )
  const last = asked.at(-1)
  if (last === undefined) return null
  const role = context.protocol.instrumentRoles.find(({ id }) => id === last.role)
  return {
    name: analyteWord((role?.analyte ?? last.role) as Analyte),
    readings: roleReadings(context, last.role, context.startMs - 3 * DAY),
    atLeast: last.atLeast,
  }
}
function raisedAnswer({ name, readings, atLeast }: Raised, finished: boolean): Answer {
  const last = readings.at(-1)
  if (!last) return { tone: 'caution', words: `Not known: test ${name}.` }
  const is = `${name} ${last.value} ${last.unit}`
  if (last.value >= atLeast && finished)
    return {
      tone: 'good',
      words: `Yes: ${is}, at least ${atLeast} was wanted. What used it up goes on: test again in a week.`,
    }
  if (finished)
    return { tone: 'caution', words: `It was there, and has fallen again: ${is}, at least ${atLeast} is wanted.` }
  return {
    tone: 'plain',
    words: last.value >= atLeast ? `Almost: ${is}. It has to stay there.` : `No: ${is}, at least ${atLeast} is wanted.`,
  }
}
function risingAnswer({ name, readings }: Raised, { nowMs }: CourseContext): Answer {
  const [first, last] = [readings[0], readings.at(-1)]
  if (!first || !last || first === last)
    return { tone: 'plain', words: `Two tests of ${name} are needed before anything can be said.` }
  const days = Math.max(1, Math.round((nowMs - entryMs(first)) / DAY))
  const rose = last.value > first.value
  return {
    tone: rose ? 'good' : 'caution',
    words: `${rose ? 'Yes' : 'Not yet'}: ${name} ${first.value} → ${last.value} ${last.unit} in ${days} ${days === 1 ? 'day' : 'days'}.`,
  }
}

/** A jar campaign between its rounds: the round that was won, and what is still to come. Null where counts judge it. */
function betweenRounds(context: CourseContext): Answer | null {
  const { phases, current } = courseProgress(context)
  if (current === null || judgesByCount(phases[current]!.phase.exit)) return null
  const won = phases.slice(0, current).some(({ phase }) => jarAskedIn(phase.exit) !== null)
  if (!won) return null
  const rest = phases.slice(current + 1).map(({ phase }) => phase.title.toLowerCase())
  return {
    tone: 'plain',
    words: `The jar of this round is dead of all sizes: now “${phases[current]!.phase.title}”. It is not over${rest.length > 0 ? `: then ${rest.join(', ')}` : ''}.`,
  }
}

/**
 * All phases are behind it. Time alone proves nothing: what was counted last says whether it is over, and what nobody
 * counted is not judged.
 */
function finishedAnswer(
  measures: readonly MeasureState[],
  counts: CountVerdict | null,
  context: CourseContext,
  finishedMs: number,
): Answer {
  const { protocol, nowMs } = context
  const counted = protocol.phases.some(({ exit }) => judgesByCount(exit))
  if (counts && counts.overNow < 0.9)
    return {
      tone: 'caution',
      chance: counts.overNow,
      words: `The steps are done, but it is not over: ${percent(counts.overNow)} that nothing is left. Go on, or take another school.`,
    }
  // What has to come to nothing is judged by its last count, whether or not it has a band of its own.
  const clean = new Set(
    protocol.phases.flatMap(({ exit }) =>
      partsOf(exit).flatMap((part) => (part.kind === 'tally-clean' ? [part.measure] : [])),
    ),
  )
  // Heads are what it cost: an animal that died does not come back, and the film is not still there for it.
  const open = measures.filter(
    ({ state, measure, points }) =>
      measure.byAnimal === undefined &&
      (state === 'going-on' || state === 'working' || (clean.has(measure.id) && (points.at(-1)?.value ?? 0) > 0)),
  )
  const judged = measures.filter(({ measure }) => measure.done !== undefined || clean.has(measure.id))
  if (open.length > 0)
    return {
      tone: 'caution',
      words: `The time is up, and it is not over: ${open.map(({ measure, points }) => `${measure.title.toLowerCase()} ${ofUnit(small(points.at(-1)!.value), measure.unit)}`).join(', ')} at the last count. Go on, or take another school.`,
    }
  const silent = judged.filter(({ points }) => points.length === 0)
  if (silent.length > 0 || (judged.length === 0 && !counted))
    return {
      tone: 'caution',
      words:
        silent.length > 0
          ? `The time is up, and nobody has judged it: nothing stands on record under ${silent.map(({ measure }) => `“${measure.title}”`).join(', ')}. Count once more before you end it.`
          : 'The time is up. Nothing was counted, so whether it is over is yours to judge: look, then end it with an outcome.',
    }
  const last = Math.max(...judged.flatMap(({ points }) => points.map(({ atMs }) => atMs)), -Infinity)
  // Where counts ended a phase, what matters is that they reach to the end of the last one.
  const fromMs = counted ? finishedMs : nowMs
  if (judged.length > 0 && fromMs - last > STALE_DAYS * DAY)
    return {
      tone: 'caution',
      words: `It was over when last counted, ${Math.round((nowMs - last) / DAY)} days ago, and ${counted ? 'the days since then had no look' : 'nobody has looked since'}. Count once more before you end it.`,
    }
  const { record, allActive, course, startMs } = context
  const { vesselId } = course.body
  const unfound = missingAnimals(record, allActive, vesselId, startMs, nowMs)
  if (unfound.length > 0)
    return {
      tone: 'caution',
      words: `By its own counts yes, but ${unfound.map(({ name }) => name).join(', ')} ${unfound.length === 1 ? 'is' : 'are'} neither found nor noted as dead. Look once more before you end it.`,
    }
  const lost = lostBetween(record, allActive, vesselId, startMs, nowMs)
  if (lost.length > 0)
    return {
      tone: 'good',
      words: `Yes, by its own counts. Lost on the way: ${lost.join(', ')}. Watch for relapse, then end it with an outcome.`,
    }
  return { tone: 'good', words: 'Yes, by its own counts. Watch for relapse, then end it with an outcome.' }
}
/** A count older than this no longer says that something is over, days. EST */
const STALE_DAYS = limitOf('count-stale')

const judgesByCount = (exit: Condition): boolean =>
  partsOf(exit).some(({ kind }) => ['tally-clean', 'tally-done', 'rounds-enough', 'jar-clear'].includes(kind))
/** The measure that ends a phase, and that of its jar; null where none does. */
const measureAskedIn = (exit: Condition): string | null => {
  const found = partsOf(exit).find(({ kind }) => kind === 'tally-clean' || kind === 'tally-done')
  return found && 'measure' in found ? found.measure : null
}
const jarAskedIn = (exit: Condition): string | null => {
  const found = partsOf(exit).find(({ kind }) => kind === 'jar-clear')
  return found && 'measure' in found ? found.measure : null
}
const lastDoseSince = (entries: readonly Entry[], sinceMs: number): number | null => {
  const found = entries.find((entry) => entry.kind === 'dose' && entryMs(entry) >= sinceMs)
  return found ? entryMs(found) : null
}

const holdWords = ({ protocol }: CourseContext): string => {
  const parts = (condition: Condition): readonly Condition[] =>
    condition.kind === 'all' || condition.kind === 'any' ? condition.of.flatMap(parts) : [condition]
  const hold = protocol.phases.flatMap(({ exit }) => parts(exit)).find(({ kind }) => kind === 'tally-done')
  return hold?.kind === 'tally-done'
    ? `${hold.times} values in a row, ${hold.spacedDays === 1 ? 'a day' : `${hold.spacedDays} days`} apart.`
    : 'look again in a week.'
}

function workingAnswer({
  campaign,
  main,
  counts,
  removal,
  jar,
  arms,
  day,
  context,
}: Asked & { arms: readonly ArmComparison[]; day: number }): Answer {
  const raised = campaign.kind === 'correction' ? raisedTo(context) : null
  if (raised) return risingAnswer(raised, context)
  if (jar) {
    const last = jar.curve.at(-1)
    if (!last) return { tone: 'plain', words: 'Look at 1, 3, 6, 12 and 24 hours: small ones die last.' }
    const of = (share: number | null, word: string) =>
      share === null ? '' : `${percent(share)} of the ${word} still move`
    const parts = [of(last.small, 'small'), of(last.large, 'large')].filter((part) => part !== '')
    return {
      tone: (last.small ?? 0) + (last.large ?? 0) < 1 ? 'good' : 'plain',
      words: `${parts.join(', ')}, ${Math.round(last.hours)} h after the dose.`,
    }
  }
  if (counts && main && main.points.length >= 2) {
    const { kill } = counts
    const weak = kill.mean < 0.5
    return {
      tone:
        weak || main.trend === 'rising' ? 'caution' : main.trend === 'falling' || kill.mean > 0.65 ? 'good' : 'plain',
      words: `A round seems to take ${percent(kill.mean)} (${percent(kill.low)} to ${percent(kill.high)}). ${weak ? 'That only holds numbers steady: work more carefully, or take another school.' : 'That is enough if the rhythm holds.'}`,
    }
  }
  if (removal && main && main.points.length >= 2)
    return {
      tone: removal.passesToOne === null ? 'caution' : 'good',
      words: `A pass takes ${percent(removal.share)} for good. ${removal.passesToOne === null ? `They grow back within ${removal.longestDays} days: come sooner, or take another school.` : `Come back within ${removal.longestDays} days.`}`,
    }
  if (arms.length > 0) {
    const label = (id: string) => main!.measure.arms!.find((arm) => arm.id === id)?.label ?? id
    const best = [...arms].sort((one, other) => other.sure - one.sure)[0]!
    const words = arms.map(
      ({ a, b, ahead, sure, unfair }) =>
        `${label(a.arm)}: ${ahead === 0 ? 'level with' : `${small(Math.abs(ahead))} steps ${ahead > 0 ? 'ahead of' : 'behind'}`} ${label(b.arm).toLowerCase()} (${a.succeeded} of ${a.patches} against ${b.succeeded} of ${b.patches} patches there), ${percent(sure)} sure it is better${unfair.length > 0 ? `; not a fair race: ${unfair.join(', ')}` : ''}.`,
    )
    return {
      tone: best.ahead > 0 && best.sure >= 0.8 ? 'good' : best.ahead <= 0 && day >= 7 ? 'caution' : 'plain',
      chance: best.sure,
      words: words.join(' '),
    }
  }
  if (!main || main.points.length < 2)
    return { tone: 'plain', words: 'Two values are needed before anything can be said.' }
  const points = main.points.map(({ atMs, value }) => ({ t: atMs / DAY, value }))
  const recent = points.filter(({ t }) => t >= points.at(-1)!.t - 22)
  const fit = theilSen(recent)
  const span = recent.at(-1)!.t - recent[0]!.t
  const better = fit ? (main.measure.better === 'more' ? fit.slope : -fit.slope) : 0
  const weeks = `${ofUnit(small(Math.abs((fit?.slope ?? 0) * 7)), main.measure.unit)} a week`
  // At the goal there is nothing left to move.
  if (span >= limitOf('stands-still') && better <= 0 && main.state !== 'done')
    return {
      tone: 'caution',
      words: `${main.measure.title} has not moved the right way for three weeks. ${campaign.stall ?? 'Identify it again, then change the tool once.'}`,
    }
  if (main.state === 'working' || main.state === 'done')
    return {
      tone: 'good',
      words: `Yes: ${main.measure.title.toLowerCase()} ${ofUnit(small(main.points.at(-1)!.value), main.measure.unit)}${better > 0 && main.measure.per !== 'jar' ? `, better by ${weeks}` : ''}.`,
    }
  const worse =
    better < 0 && Math.abs(better) * Math.max(1, span) >= limitOf('gets-worse') * Math.abs(main.points.at(-1)!.value)
  return {
    tone: worse ? 'caution' : 'plain',
    words: `${better > 0 ? 'It moves the right way' : worse ? 'It gets worse' : 'It does not move yet'}: ${main.measure.title.toLowerCase()} ${ofUnit(small(main.points.at(-1)!.value), main.measure.unit)}${main.measure.per === 'jar' ? '' : `, ${weeks}`}.`,
  }
}

/** Net volume of a vessel, L; null while it is not known. */
function vesselLitres(record: KeeperRecord, vesselId: string): number | null {
  const vessel = record.vessels.get(vesselId)
  return vessel ? (vesselVolume(vessel)?.litres ?? null) : null
}
const analyteName = ({ analyte }: GuardState): string => analyteWord(analyte)
/** Hours after which a value that is to be read every day says nothing of now. @source handbook 60 §10 bo-test */
const DAILY_HOURS = limitOf('guard-stands')
/** Hours in which a further test may stand for an end: at once, or half a day later with its own delay. */
const AGAIN_HOURS = { now: 3, 'half-day': 14 } as const
const CHANGES = [0.25, 0.3, 0.35, 0.4]

/** Whether the guards hold now, or only in a phase that is still ahead. */
type Guarded = 'now' | 'ahead' | 'over'
function guardedNow({ guardedPhases }: Campaign, { phases, current }: CourseProgress): Guarded {
  if (current === null) return 'over'
  const holds = ({ phase }: (typeof phases)[number], i: number) => guardedPhases?.includes(phase.id) ?? i === 0
  return holds(phases[current]!, current)
    ? 'now'
    : phases.some((one, i) => i > current && holds(one, i))
      ? 'ahead'
      : 'over'
}

interface StopAsked {
  readonly guards: readonly GuardState[]
  readonly animals: readonly AnimalGuard[]
  readonly aborts: readonly string[]
  readonly alarms: readonly CampaignAlarm[]
  readonly guarded: Guarded
  readonly litres: number | null
  readonly day: number
  readonly nowMs: number
}
function stopAnswer({ guards, animals, aborts, alarms, guarded, litres, day, nowMs }: StopAsked): Answer {
  if (aborts.length > 0) return { tone: 'danger', words: aborts.join(' ') }
  const stop = guards.filter(({ verdict }) => verdict === 'stop')
  const name = (guard: GuardState) =>
    `${analyteName(guard)} ${guard.last!.value} ${guard.unit}, limit ${guard.stopWords}`
  const hurt = animals.filter(({ verdict }) => verdict === 'stop').map(({ words }) => words.toLowerCase())
  // What was guarded is over: there is nothing left to end, and only what is past its limit still is to be put right.
  const untested = guards.filter(({ verdict }) => verdict === 'no-start').map(analyteName)
  if (guards.length > 0 && guarded !== 'now')
    return stop.length + hurt.length > 0
      ? {
          tone: 'caution',
          words: `${guarded === 'over' ? 'The guarded days are over.' : 'Nothing is guarded just now.'} Still past its limit: ${[...hurt, ...stop.map(name)].join('; ')}. Change water, and test again tomorrow.`,
        }
      : {
          tone: 'plain',
          words:
            guarded === 'over'
              ? 'The guarded days are over: nothing is left to end.'
              : `Nothing is guarded just now${untested.length > 0 ? `: test ${untested.join(', ')} before it begins` : ''}.`,
        }
  if (stop.length + hurt.length > 0)
    return { tone: 'danger', words: `Yes, end it now: ${[...hurt, ...stop.map(name)].join('; ')}.` }
  const called = guards.filter(({ forecast }) => forecast?.call)
  if (called.length > 0) return calledAnswer(called, nowMs)
  const silent = alarms.find(({ id }) => id === 'silent')
  if (silent) return { tone: silent.tone, words: silent.words }
  const act = guards.filter(({ verdict }) => verdict === 'act')
  const shut = animals.filter(({ verdict }) => verdict === 'act').map(({ words }) => words.toLowerCase())
  if (act.length + shut.length > 0) {
    const change = shut.length > 0 || act.some(({ own }) => own === undefined)
    return {
      tone: 'caution',
      words: [
        `Not yet, but act: ${[...shut, ...act.map((guard) => `${analyteName(guard)} ${guard.last!.value} ${guard.unit}`)].join('; ')}.`,
        ...(change ? [changeWords(act, litres)] : []),
        ...new Set(act.flatMap(({ own }) => own ?? [])),
      ].join(' '),
    }
  }
  // What the water does is told by what is forecast; a thermometer alone does not say it.
  const telling = guards.some(({ foretold }) => foretold) ? guards.filter(({ foretold }) => foretold) : guards
  if (guards.length > 0 && telling.every(({ verdict }) => verdict === 'no-start'))
    return {
      tone: 'caution',
      words: `Not known: test ${untested.join(', ')} before it starts.`,
    }
  // Untested is not inside.
  const old = telling.filter(({ silentHours, verdict }) => verdict !== 'no-start' && silentHours >= DAILY_HOURS)
  if (old.length > 0)
    return {
      tone: 'caution',
      words: `Not known: ${old.map((guard) => `${analyteName(guard)} was last tested ${Math.round(guard.silentHours)} h ago`).join('; ')}. Test now: each day at the same hour.`,
    }
  return {
    tone: 'plain',
    words:
      guards.length > 0
        ? [
            'No: every value that was tested is inside its limits.',
            ...(untested.length > 0 ? [`Not tested: ${untested.join(', ')}.`] : []),
            ...(day <= 2 && telling.some(({ foretold }) => foretold)
              ? [
                  'A value that has not moved by day 2 promises nothing: dying tissue shows from then on, and doubles nitrate by day 5.',
                ]
              : []),
          ].join(' ')
        : 'No: nothing on the record speaks against going on.',
  }
}

/** A call to end it, with its chances; a further test first, while there is time for one. */
function calledAnswer(called: readonly GuardState[], nowMs: number): Answer {
  const chances = ({ forecast }: GuardState) => forecast!
  const line = (guard: GuardState) =>
    `${analyteName(guard)} passes ${Number(guard.stopAt!.toPrecision(3))} ${guard.unit} by the next test with ${percent(chances(guard).byTomorrow)}, within two days with ${percent(chances(guard).withinTwoDays)}`
  const needless = called.reduce((all, guard) => all * (1 - chances(guard).beforeEnd), 1)
  const spare = `There is a chance of ${percent(needless)} that it would not be passed before the planned end.`
  const again = called.map((guard) => ({ again: chances(guard).again, ageH: (nowMs - entryMs(guard.last!)) / HOUR }))
  const chance = Math.max(...called.map((guard) => chances(guard).byTomorrow))
  if (again.every((one) => one.again !== null && one.ageH <= AGAIN_HOURS[one.again]))
    return {
      tone: 'caution',
      chance,
      words: `${again.some((one) => one.again === 'now') ? 'Test once more now, before anything is ended' : 'Test again in twelve hours'}: ${called.map(line).join('; ')}. ${spare} Who cannot test ends it today.`,
    }
  return { tone: 'danger', chance, words: `End it today: ${called.map(line).join('; ')}. ${spare}` }
}

/** What fresh water holds none of, so that a change brings it down by its share. */
const DILUTED: ReadonlySet<string> = new Set(['nitrate', 'phosphate', 'ammonia-total', 'ammonia-free', 'nitrite'])
/** What treated patches should look like, by the days since the first of them was treated; null before that. */
function expectedSince(campaign: Campaign, own: readonly Entry[], nowMs: number, zone: string): string | null {
  const first = own.find(({ kind }) => kind === 'dose')
  if (!first) return null
  const days = daysBetween(entryMs(first), nowMs, zone)
  return campaign.expect?.find(({ fromDay, toDay }) => days >= fromDay && days <= toDay)?.look ?? null
}

/** The change that brings what is past its line back under it, in litres, with what is to be expected of it. */
function changeWords(act: readonly GuardState[], litres: number | null): string {
  const rising = act.filter(
    ({ analyte, own, actAt, last }) =>
      own === undefined && DILUTED.has(analyte) && actAt !== null && last !== null && last.value >= actAt,
  )
  const fits = (share: number) => rising.every(({ last, actAt }) => last!.value * (1 - share) < actAt!)
  const share = CHANGES.find(fits) ?? CHANGES.at(-1)!
  const after = rising.map(
    (guard) =>
      `${analyteName(guard)} ${guard.last!.value} falls to about ${Number((guard.last!.value * (1 - share)).toPrecision(2))} ${guard.unit}`,
  )
  return `Change ${Math.round(100 * share)} %${litres === null ? '' : ` (${(share * litres).toFixed(0)} L)`} and put carbon in${after.length > 0 ? `: with new water that holds none of it ${after.join(', ')}` : ''}.`
}

function countAlarms(measures: readonly MeasureState[], campaign: Campaign, context: CourseContext): CampaignAlarm[] {
  const main = measures[0]
  if (!main || !['rounds', 'removal', 'jar', 'film'].includes(campaign.kind)) return []
  const last = main.points.at(-1)
  const answered = context.entries.some(
    (entry) =>
      entry.kind === 'check' && entry.what === 'count-rose' && last !== undefined && entryMs(entry) >= last.atMs,
  )
  if (main.measure.better === 'less' && main.trend === 'rising' && main.points.length >= 2 && !answered)
    return [
      {
        id: 'count-rose',
        tone: 'caution',
        words: `The count went up, from ${main.points.at(-2)!.value} to ${last!.value}.`,
        ask: 'Was a treatment missed, is it another pest, or did it come in anew?',
      },
    ]
  if (main.trend === 'stalled')
    return [
      {
        id: 'stalled',
        tone: 'caution',
        words: 'Three counts lie within a quarter of each other.',
        ask: campaign.stall ?? 'Change the school; never add dose.',
      },
    ]
  return []
}

/** A guarded campaign that nobody tests: one missed day is an alarm, two end it. */
function silentAlarms(
  guards: readonly GuardState[],
  guarded: Guarded,
  nowMs: number,
  startMs: number,
): CampaignAlarm[] {
  if (guards.length === 0 || guarded !== 'now' || nowMs - startMs < 12 * HOUR) return []
  // What tells of the water is what is forecast: a thermometer that is read does not stand for it.
  const telling = guards.some(({ foretold }) => foretold) ? guards.filter(({ foretold }) => foretold) : guards
  const hours = Math.max(...telling.map(({ silentHours }) => silentHours))
  if (hours < DAILY_HOURS) return []
  return [
    hours >= 54
      ? {
          id: 'silent',
          tone: 'danger',
          words: 'Two daily tests are missing: end it. Nobody knows what the water does.',
          ask: 'Test, then uncover.',
        }
      : {
          id: 'silent',
          tone: 'caution',
          words: 'A daily test is missing.',
          ask: 'Test now: a missing test is an alarm, two end it.',
        },
  ]
}

function relapseAlarms(campaign: Campaign, context: CourseContext): CampaignAlarm[] {
  const found: CampaignAlarm[] = []
  const say = (id: string, words: string) =>
    found.push({
      id: `relapse-${id}`,
      tone: 'caution',
      words,
      ask: 'It brings the bloom back: put it right, and look again in a few days.',
    })
  const since = Math.max(context.startMs, context.nowMs - 7 * DAY)
  const own = context.entries.filter((entry) => entryMs(entry) >= since)
  const vessel = context.record.vessels.get(context.course.body.vesselId)
  const volumeL = vessel ? (vesselVolume(vessel)?.litres ?? 1) : 1
  for (const trigger of campaign.relapse ?? []) {
    if (trigger === 'nutrients-zero') {
      const zero = ['nitrate', 'phosphate'].filter((analyte) => {
        const two = own.filter((entry) => entry.kind === 'reading' && entry.analyte === analyte).slice(-2)
        const low = analyte === 'nitrate' ? 1 : 0.02
        return (
          two.length === 2 &&
          two.every((entry) => entry.kind === 'reading' && (entry.bound === 'below' || entry.value < low))
        )
      })
      if (zero.length > 0) say('nutrients', `${zero.join(' and ')} read next to nothing twice.`)
    } else if (trigger === 'large-change') {
      if (own.some((entry) => entry.kind === 'change' && changedShare(entry, volumeL) > 0.25))
        say('change', 'More than a quarter of the water was changed.')
    } else if (trigger === 'uv-off' || trigger === 'phosphate-media') {
      const [item, on] = trigger === 'uv-off' ? (['uv', false] as const) : (['phosphate-media', true] as const)
      const last = own.findLast((entry) => entry.kind === 'equipment' && entry.item === item)
      if (last?.kind === 'equipment' && last.on === on)
        say(item, trigger === 'uv-off' ? 'The ultraviolet lamp was switched off.' : 'Phosphate media went in.')
    } else if (trigger === 'medicine') {
      if (own.some((entry) => entry.kind === 'dose' && entry.courseId !== context.course.id))
        say('medicine', 'A medicine was dosed.')
    } else if (trigger === 'new-animals') {
      if (own.some((entry) => entry.kind === 'move' && entry.toVesselId === context.course.body.vesselId))
        say('animals', 'Animals were added.')
    }
  }
  return found
}

/** What a campaign and the courses running in its vessel want of the same thing, where they pull apart. One sentence each. */
export function fights(
  record: KeeperRecord,
  campaign: { readonly id: string; readonly vesselId: string; readonly wants: Campaign['wants'] },
  nowMs: number,
): string[] {
  const found: string[] = []
  for (const other of record.courses.values()) {
    if (other.id === campaign.id || other.body.vesselId !== campaign.vesselId) continue
    if (other.body.endedAt !== undefined && instantMs(other.body.endedAt) <= nowMs) continue
    const protocol = other.body.protocol as unknown as Protocol
    for (const want of campaign.wants ?? []) {
      const against = protocol.campaign?.wants?.find(({ what, way }) => what === want.what && way !== want.way)
      if (against)
        found.push(
          `This one wants ${want.what} ${want.way}, “${protocol.title}” wants it ${against.way} in the same water.`,
        )
    }
  }
  return found
}

function effortOf(own: readonly Entry[], course: CourseDocument, nowMs: number, trend: Trend): Effort {
  const ours = own.filter(
    (entry) => entry.courseId === course.id && ['tally', 'done', 'bath', 'dose', 'change'].includes(entry.kind),
  )
  const minutesOf = (entry: Entry) => ('minutes' in entry && typeof entry.minutes === 'number' ? entry.minutes : 0)
  const week = ours.filter((entry) => nowMs - entryMs(entry) <= 7 * DAY)
  // Entries of one hour belong to one session.
  const sessionsOf = (entries: readonly Entry[]) =>
    new Set(entries.map((entry) => Math.floor(entryMs(entry) / (3 * HOUR)))).size
  const tallies = (entries: readonly Entry[]) => entries.filter(({ kind }) => kind === 'tally' || kind === 'bath')
  const last = tallies(ours).at(-1)
  const sessionsWeek = sessionsOf(tallies(week))
  return {
    minutes: ours.reduce((sum, entry) => sum + minutesOf(entry), 0),
    minutesWeek: week.reduce((sum, entry) => sum + minutesOf(entry), 0),
    sessions: sessionsOf(tallies(ours)),
    sessionsWeek,
    restDays: last ? Math.floor((nowMs - entryMs(last)) / DAY) : null,
    less:
      sessionsWeek > SESSIONS_A_WEEK &&
      trend !== 'rising' &&
      ['rounds', 'removal', 'spot'].includes(campaignOf(course)!.kind),
  }
}
