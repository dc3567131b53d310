// A finding as the record holds it: its answers, and what the water, the arrivals and the courses add by themselves.
import { besidesReadings, entriesSince, entriesUntil, indexOf } from '../record/ledgerIndex.ts'
import { limitOf } from '../knowledge/limits.ts'
import { agentForm, groupOf } from '../knowledge/agents.ts'
import { protocolOf } from '../knowledge/library.ts'
import type { Protocol } from '../knowledge/protocols.ts'
import { conditionOf, signsOf, tableOf, type Condition } from '../knowledge/conditions.ts'
import { residentVessels } from '../record/whereabouts.ts'
import { carriedInto } from '../record/gear.ts'
import { dosedForms } from '../level/fromRecord.ts'
import type { ActiveLedger, FindingDocument, KeeperRecord } from '../record/types.ts'
import { entryMs, instantMs } from '../time/time.ts'
import { rotaOf } from '../protocols/courseContext.ts'
import type { WaterContext } from './context.ts'
import { historyFlows, outlasted } from './history.ts'
import { diagnose, type DiagnosisInput } from './diagnose.ts'
import type { ThreatId } from '../generated/threatTypes.ts'
import { rankConditions, type Evidence, type Recent, type Subject } from './rank.ts'

const DAY = 86_400_000
/** Signs older than this are another story. */
const MOST_DAYS = limitOf('signs-lookback')
const READING_DAYS = limitOf('sign-reading-stands')

/** Everything `diagnose` needs for a finding, from the record. Pure. */
export function findingInput(
  record: KeeperRecord,
  active: ActiveLedger,
  finding: FindingDocument,
  nowMs: number,
): DiagnosisInput {
  const { body } = finding
  const resident = body.residentId === undefined ? undefined : record.residents.get(body.residentId)
  const covered = coveredBy(record, active, body.residentId, nowMs)
  const { context, words } = waterFacts(record, active, body.vesselId, nowMs)
  const exposed = exposures(record, active, finding, nowMs)
  return {
    pool: body.pool,
    hostGroup: resident?.body.group ?? null,
    evidence: findingEvidence(active, finding, nowMs),
    context,
    history: historyFlows(record, active, finding, nowMs),
    copperDosed: [...dosedForms(record, active, body.vesselId)].some((form) => agentForm(form)?.agent === 'copper'),
    ...(Object.keys(covered).length > 0 ? { covered } : {}),
    ...(exposed.length > 0 ? { exposed: exposed.map(({ condition }) => condition) } : {}),
    backgroundWords: {
      ...words,
      ...(exposed.length > 0 ? { 'before-exposed': [...new Set(exposed.map((one) => one.words))].join(' ') } : {}),
      ...(Object.keys(covered).length > 0
        ? { 'before-covered': coveredWords(record, active, body.residentId, nowMs) }
        : {}),
    },
    struck: new Set(body.struck),
    refused: new Set(body.refused),
  }
}

/** Answers of a finding: its own, and those of watching rounds on the same animal; the latest of each sign counts. */
export function findingEvidence(active: ActiveLedger, finding: FindingDocument, nowMs: number): Evidence[] {
  const { body, id } = finding
  const known = new Set(signsOf(body.pool).map((sign) => sign.id))
  const latest = new Map<string, Evidence>()
  for (const entry of besidesReadings(active)) {
    if (entry.kind !== 'sign' || !known.has(entry.sign)) continue
    const age = (nowMs - entryMs(entry)) / DAY
    if (age < -0.01 || age > MOST_DAYS) continue
    const own = entry.findingId === id
    const watched =
      body.residentId !== undefined && entry.residentId === body.residentId && entry.findingId === undefined
    if (!own && !(watched && age <= 14)) continue
    latest.set(entry.sign, { sign: entry.sign, answer: entry.present ? 'yes' : 'no', ageDays: Math.max(0, age) })
  }
  return [...latest.values()]
}

/** Facts of a vessel's water and history that speak by themselves: the last readings of a week, arrivals, changes. */
export const waterContext = (
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  nowMs: number,
): WaterContext => waterFacts(record, active, vesselId, nowMs).context

/** The same, with the words of the record for what happened lately. */
function waterFacts(
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  nowMs: number,
): { context: WaterContext; words: Record<string, string> } {
  const own = indexOf(active).byVessel.get(vesselId)?.entries ?? []
  const lately = entriesSince(entriesUntil(own, nowMs), nowMs - READING_DAYS * DAY)
  const last = (analyte: string): number | undefined => {
    const entry = lately.findLast((one) => one.kind === 'reading' && one.analyte === analyte)
    return entry?.kind === 'reading' ? entry.value : undefined
  }
  const days = daysSinceArrival(record, active, vesselId, nowMs)
  const words: Record<string, string> = {}
  const recent: Recent[] = []
  const happened = (what: Recent, ms: number, said: string) => {
    if (recent.includes(what)) return
    recent.push(what)
    const ago = Math.floor((nowMs - ms) / DAY)
    words[`before-${what}`] = `${said} ${ago === 0 ? 'today' : ago === 1 ? 'yesterday' : `${ago} days ago`}.`
  }
  for (const [item, on, what, days, said] of MEDIA) {
    const last = besidesReadings(active).findLast(
      (entry) =>
        entry.kind === 'equipment' && entry.vesselId === vesselId && entry.item === item && entryMs(entry) <= nowMs,
    )
    if (last?.kind === 'equipment' && last.on === on && nowMs - entryMs(last) <= days * DAY)
      happened(what, entryMs(last), said)
  }
  for (const { what, ms, said } of recentCourses(record, active, vesselId, nowMs)) happened(what, ms, said)
  const forms = [...dosedForms(record, active, vesselId)].flatMap((id) => agentForm(id) ?? [])
  const copper = forms.find(({ agent }) => agent === 'copper')
  const facts: { [K in keyof WaterContext]: WaterContext[K] | undefined } = {
    daysSinceArrival: days,
    tanMgPerL: last('ammonia-total'),
    freeAmmoniaMgPerL: last('ammonia-free'),
    ph: last('ph'),
    tempC: last('temperature'),
    salinityPsu: last('salinity'),
    no3MgPerL: last('nitrate'),
    po4MgPerL: last('phosphate'),
    nitriteMgPerL: last('nitrite'),
    copperMgPerL: last('copper'),
    copperCeilingMgPerL: copper?.hardMax,
    recent: recent.length > 0 ? recent : undefined,
  }
  return {
    context: Object.fromEntries(Object.entries(facts).filter(([, value]) => value !== undefined)) as WaterContext,
    words,
  }
}
/** Devices and media whose going in or out makes something likelier for so many days. */
const MEDIA = [
  ['phosphate-media', true, 'gfo-started', 30, 'Phosphate media went in'],
  ['carbon', false, 'carbon-removed', 30, 'Activated carbon was taken out'],
  ['carbon', true, 'carbon-added', 14, 'Activated carbon went in'],
  ['light', true, 'light-raised', 14, 'A lamp was switched in'],
] as const

/** Changes that courses and campaigns made here lately: light stepped up, a dark spell, rock taken out. */
function recentCourses(
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  nowMs: number,
): { what: Recent; ms: number; said: string }[] {
  const found: { what: Recent; ms: number; said: string }[] = []
  for (const course of record.courses.values()) {
    if (course.body.vesselId !== vesselId) continue
    const protocol = course.body.protocol as unknown as Protocol
    const rules = protocol.phases.flatMap((phase) => phase.rules)
    const done = besidesReadings(active).filter((entry) => entry.kind === 'done' && entry.courseId === course.id)
    const light = new Set(
      rules.flatMap((rule) => (rule.kind === 'setting' && rule.quantity === 'light' ? [rule.id] : [])),
    )
    const stepped = done.findLast(
      (entry) => nowMs - entryMs(entry) <= 14 * DAY && 'step' in entry && light.has(entry.step?.split('/')[1] ?? ''),
    )
    if (stepped && protocol.campaign?.kind !== 'dark')
      found.push({ what: 'light-raised', ms: entryMs(stepped), said: 'The light was raised' })
    const ended = course.body.endedAt === undefined ? nowMs : instantMs(course.body.endedAt)
    if (protocol.campaign?.kind === 'dark' && course.body.endedAt !== undefined && nowMs - ended <= 60 * DAY)
      found.push({ what: 'blackout-ended', ms: ended, said: 'A dark period ended' })
    const last = done.at(-1)
    if (protocol.campaign?.kind === 'removal' && nowMs - ended <= 60 * DAY && last)
      found.push({ what: 'rock-removed', ms: entryMs(last), said: 'Rock was taken out or cleaned' })
  }
  return found
}

/** Whether a move went from one vessel of a course to another of the same. */
function withinRota(record: KeeperRecord, courseId: string | undefined, from: string, to: string): boolean {
  const course = courseId === undefined ? undefined : record.courses.get(courseId)
  return course !== undefined && rotaOf(course).includes(from) && rotaOf(course).includes(to)
}

/** Days since the newest animal came into a vessel, by arrival or by move; undefined where none ever did. */
function daysSinceArrival(
  record: KeeperRecord,
  active: ActiveLedger,
  vesselId: string,
  nowMs: number,
): number | undefined {
  let newest: number | undefined
  const where = residentVessels(record, active, nowMs)
  for (const { id, body } of record.residents.values()) {
    const ms = instantMs(body.arrivedAt)
    if (where.get(id) === vesselId && ms <= nowMs && body.vesselId === vesselId) newest = Math.max(newest ?? 0, ms)
  }
  for (const entry of besidesReadings(active))
    // From tub to tub of one course nothing new came in.
    if (
      entry.kind === 'move' &&
      entry.toVesselId === vesselId &&
      entryMs(entry) <= nowMs &&
      !withinRota(record, entry.courseId, entry.vesselId, vesselId)
    )
      newest = Math.max(newest ?? 0, entryMs(entry))
  return newest === undefined ? undefined : (nowMs - newest) / DAY
}

/** Threats of a protocol's coverage as conditions. */
const THREAT_CONDITIONS: Readonly<Record<string, readonly string[]>> = {
  ich: ['marine-ich', 'fw-white-spot'],
  velvet: ['marine-velvet', 'fw-velvet'],
  brook: ['brooklynella'],
  uronema: ['uronema'],
  flukes: ['marine-skin-flukes', 'marine-gill-flukes', 'fw-flukes'],
  'black spot': ['black-spot-turbellaria'],
  'round worms': ['marine-gut-worms', 'camallanus', 'capillaria'],
}
const FEARED_FROM = limitOf('feared-from')

/** What an open finding speaks for. */
export interface Feared {
  readonly threat: ThreatId
  readonly findingId: string
  readonly condition: Condition
  /** How likely the condition is, 0 to 1. */
  readonly p: number
}

/**
 * What the open findings of a vessel make one fear, most likely first and each threat once: what is likely enough to
 * plan against. What kills fast and is less likely is told by the finding itself. @source handbook 30 lk-urgency (0.10)
 */
export function fearedIn(record: KeeperRecord, active: ActiveLedger, vesselId: string, nowMs: number): Feared[] {
  const all = [...record.findings.values()]
    .filter(({ body }) => body.vesselId === vesselId && body.endedAt === undefined)
    .flatMap((finding): Feared[] => {
      const { ranking } = diagnose(findingInput(record, active, finding, nowMs))
      if (ranking.empty) return []
      return ranking.entries.flatMap(({ condition, p }) =>
        p < FEARED_FROM
          ? []
          : Object.entries(THREAT_CONDITIONS)
              .filter(([, conditions]) => conditions.includes(condition.id))
              .map(([threat]) => ({ threat: threat as ThreatId, findingId: finding.id, condition, p })),
      )
    })
    .sort((a, b) => b.p - a.p)
  return all.filter(({ threat }, i) => all.findIndex((one) => one.threat === threat) === i)
}
const COVER_DAYS = limitOf('cover-days')

/** Conditions a course that the animal finished in the last 120 days has covered. @source handbook 30 §4.3 overrides */
function coveredBy(
  record: KeeperRecord,
  active: ActiveLedger,
  residentId: string | undefined,
  nowMs: number,
): NonNullable<Subject['covered']> {
  const covered: Record<string, 'full' | 'part'> = {}
  if (residentId === undefined) return covered
  for (const { body } of record.courses.values()) {
    if (body.endedAt === undefined || !body.residents.includes(residentId)) continue
    if (body.outcome !== 'finished' && body.outcome !== 'cured') continue
    if (nowMs - instantMs(body.endedAt) > COVER_DAYS * DAY) continue
    const { coverage } = body.protocol as unknown as Protocol
    for (const [threat, degree] of Object.entries(coverage ?? {}))
      for (const condition of THREAT_CONDITIONS[threat] ?? [])
        if (covered[condition] !== 'full') covered[condition] = degree
  }
  // Two weeks of a course that covers it, and it is still seen: it may be something else, or the course was not held.
  for (const { coverage } of outlasted(record, active, residentId, nowMs))
    for (const threat of Object.keys(coverage ?? {}))
      for (const condition of THREAT_CONDITIONS[threat] ?? []) covered[condition] ??= 'part'
  return covered
}

/** The courses behind `coveredBy`, in words. */
function coveredWords(
  record: KeeperRecord,
  active: ActiveLedger,
  residentId: string | undefined,
  nowMs: number,
): string {
  if (residentId === undefined) return ''
  const finished = [...record.courses.values()].flatMap(({ body }) =>
    body.endedAt !== undefined &&
    body.residents.includes(residentId) &&
    (body.outcome === 'finished' || body.outcome === 'cured') &&
    nowMs - instantMs(body.endedAt) <= COVER_DAYS * DAY
      ? [
          `${(body.protocol as unknown as Protocol).title} finished ${Math.floor((nowMs - instantMs(body.endedAt)) / DAY)} days ago.`,
        ]
      : [],
  )
  const running = outlasted(record, active, residentId, nowMs).map(
    ({ title }) => `${title} has run for two weeks, and signs are still seen.`,
  )
  return [...finished, ...running].join(' ')
}

export interface Exposure {
  readonly condition: string
  readonly words: string
}
/** How far back gear or an animal may have brought something, days. @source handbook 30 cc-event */
export const EXPOSED_DAYS = limitOf('exposed-days')
const FOLLOWED_DAYS = limitOf('followed-days')

/**
 * Contagious conditions of vessels that wet gear or an animal came from within a month: what a finding there was, or
 * what leads it. How often it carries nobody knows; the table's factor is an estimate.
 */
export function exposures(
  record: KeeperRecord,
  active: ActiveLedger,
  finding: FindingDocument,
  nowMs: number,
): Exposure[] {
  const { vesselId, pool } = finding.body
  const contagious = new Set(tableOf(pool).contagious ?? [])
  if (contagious.size === 0) return []
  const ago = (ms: number) => {
    const days = Math.floor((nowMs - ms) / DAY)
    return days === 0 ? 'today' : days === 1 ? 'yesterday' : `${days} days ago`
  }
  const word = (id: string) => record.vessels.get(id)?.body.name ?? 'another vessel'
  const ways = carriedInto(record, active, vesselId, nowMs - EXPOSED_DAYS * DAY, nowMs).flatMap(
    ({ entry, gear, from }) =>
      from.map((id) => ({
        id,
        words: `${gear?.body.name ?? 'Gear'} came wet from ${word(id)} ${ago(entryMs(entry))}`,
      })),
  )
  for (const entry of besidesReadings(active))
    if (
      entry.kind === 'move' &&
      entry.toVesselId === vesselId &&
      entry.vesselId !== vesselId &&
      nowMs - entryMs(entry) <= EXPOSED_DAYS * DAY &&
      entryMs(entry) <= nowMs &&
      !withinRota(record, entry.courseId, entry.vesselId, vesselId)
    )
      ways.push({
        id: entry.vesselId,
        words: `${record.residents.get(entry.residentId)?.body.name ?? 'An animal'} came from ${word(entry.vesselId)} ${ago(entryMs(entry))}`,
      })
  return ways.flatMap(({ id, words }) =>
    [...record.findings.values()].flatMap((other) => {
      const { body } = other
      if (body.vesselId !== id || body.pool !== pool || other.id === finding.id) return []
      if (body.endedAt !== undefined && nowMs - instantMs(body.endedAt) > FOLLOWED_DAYS * DAY) return []
      const condition =
        body.was ??
        rankConditions({ pool, hostGroup: null }, findingEvidence(active, other, nowMs)).leader?.condition.id
      if (condition === undefined || !contagious.has(condition)) return []
      return [
        {
          condition,
          words: `${words}, where ${conditionOf(condition)?.label.toLowerCase() ?? condition} is followed.`,
        },
      ]
    }),
  )
}

/**
 * Courses that fit a condition in a water, first choice first; those for another kind of animal are left out. Where two
 * fast killers cannot be told apart, those that fit both come first.
 */
export function likelyCourses(
  likely: readonly Condition[],
  water: 'marine' | 'fresh',
  groupId: string | null,
): readonly { readonly protocol: Protocol; readonly covers: readonly string[] }[] {
  const kind = groupId === null ? null : (groupOf(groupId)?.kind ?? null)
  const found = new Map<string, { protocol: Protocol; covers: string[]; rank: number }>()
  likely.forEach((condition, i) =>
    condition.courses.forEach((id, choice) => {
      const protocol = protocolOf(id)
      if (!protocol || (protocol.water !== 'both' && protocol.water !== water)) return
      if (kind !== null && !(protocol.hosts ?? ['fish']).includes(kind)) return
      const before = found.get(id)
      if (before) before.covers.push(condition.label)
      else found.set(id, { protocol, covers: [condition.label], rank: 10 * i + choice })
    }),
  )
  return [...found.values()].sort((a, b) => b.covers.length - a.covers.length || a.rank - b.rank)
}
