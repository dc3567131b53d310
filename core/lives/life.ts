// One life: a course from its first to its last hour, by a keeper who does what the plan shows, in a tank it does not see.
import {
  actContext,
  activeOf,
  agentForm,
  answer,
  campaignState,
  commitAct,
  concernsOf,
  courseInputs,
  createPlanner,
  documentsOf,
  estimateCourse,
  instantOf,
  knownLevels,
  mayPass,
  recordOf,
  spoken,
  waterConcerns,
  type CourseEstimate,
  type CoursePlan,
  type Entry,
  type Intent,
  type KeeperRecord,
  type Protocol,
  type Step,
} from '@brinvo/core'
import { alive, breed, infect, shows, PARASITES } from '../src/world/life.ts'
import { hour, trulyIn } from '../src/world/tank.ts'
import type { Keeper } from './keepers.ts'
import { pressOf, reading } from '../src/practice/press.ts'
import { sceneFor, START, ZONE } from './scene.ts'

const HOUR = 3_600_000
const DAY = 24 * HOUR

export interface Violation {
  readonly rule: string
  readonly hour: number
  readonly step?: string
  /** What was said before and what is said now, or what was offered and what refused it. */
  readonly words: string
}
export interface Life {
  readonly protocol: string
  readonly keeper: string
  readonly seed: number
  readonly days: number | null
  readonly violations: readonly Violation[]
  readonly bandHours: number
  readonly bandHits: number
  /** Hours the clock had credited when the hold was over, and those of them truly at or above the floor; null without a clock. */
  readonly credited: {
    readonly hours: number
    readonly truly: number
    readonly needed: number
    readonly trueHours: number
  } | null
  /** Days from the first dose until the hold was over. */
  readonly heldDay: number | null
  /** Highest true level against the hard maximum of the form. */
  readonly highest: number
  readonly milliseconds: number
  readonly record: KeeperRecord
}
export interface LifeOptions {
  readonly protocol: Protocol
  readonly keeper: Keeper
  readonly seed: number
  /** Volume misdescribed, kits that nobody checked and that are off. */
  readonly messy?: boolean
  /** As messy, with kits that were held against a standard. */
  readonly checked?: boolean
  readonly maxDays?: number
  readonly variantId?: string
  /** Something that goes wrong on the way. */
  readonly mishap?: Mishap
}
/**
 * A kit a tenth too high; measures corrected on day 10, by a tenth; a dose poured twice and written down twice on day 7;
 * a reading of the first days corrected a week later.
 */
export type Mishap = 'high-kit' | 'volume' | 'doubled' | 'corrected'
const VOLUME_DAY = 10
const DOUBLED_DAY = 7
const CORRECTED_DAY = 12

const MOVES = new Set(['dose', 'change', 'reading', 'topoff', 'equipment', 'void'])
const OPEN = new Set(['due', 'late'])
/** What a sitter does, and when. */
const SITTER = new Set(['feed', 'observe', 'test', 'check'])
const SITTER_HOUR = 18
/** Steps of a single day become history when the day is over; everything else waits. */
const DAILY = new Set(['feed', 'observe'])

/** Lives a course. Deterministic: the same options give the same life. */
export function live({
  protocol,
  keeper,
  seed,
  messy = true,
  checked = false,
  maxDays = 260,
  variantId,
  mishap,
}: LifeOptions): Life {
  const startedAt = performance.now()
  const scene = sceneFor({ protocol, seed, messy, checked, ...(variantId === undefined ? {} : { variantId }) })
  const { world, courseId } = scene
  if (mishap === 'high-kit' && world.kits.has('copper'))
    world.kits.set('copper', { ...world.kits.get('copper')!, bias: 1.1 })
  let { record } = scene
  const planner = createPlanner()
  const violations: Violation[] = []
  const seen = new Set<string>()
  let sequence = 0
  let h = 0
  const say = (rule: string, words: string, step?: string) => {
    const key = `${rule} ${step ?? ''}`
    if (seen.has(key) || violations.length > 40) return
    seen.add(key)
    violations.push({ rule, hour: h, words, ...(step === undefined ? {} : { step }) })
  }
  let estimate = null as CourseEstimate | null
  let estimatedFor = ''
  let estimatedMs = -1
  const look = (nowMs: number) => {
    const active = activeOf(record.entries)
    const course = record.courses.get(courseId)!
    const found = courseInputs(record, active, course, nowMs, 12)
    if (found) {
      // An estimate is made anew when something that moves or tells the level was written, and twice a day.
      const moved = record.entries.filter(({ kind }) => MOVES.has(kind)).length
      const key = `${moved} ${Math.floor(nowMs / (12 * HOUR))}`
      if (key !== estimatedFor) {
        // Why the count changed is words for a page, and costs a second estimate.
        estimate = estimateCourse({ ...found.inputs, latest: null })
        estimatedFor = key
        estimatedMs = nowMs
      }
    }
    const estimates = new Map(estimate ? [[courseId, estimate]] : [])
    const { plans, faults } = planner({ record, active, estimates, nowMs })
    for (const fault of faults) say('course-fault', fault.message)
    const known = knownLevels(record, active, estimates, nowMs)
    return { active, plan: plans.find((one) => one.courseId === courseId) ?? null, plans, estimates, known }
  }
  /** Commits an intent as the screen would; answers the entries written, or null where it may not pass. */
  const commit = (intent: Intent, nowMs: number, known: ReturnType<typeof look>['known'], step?: Step) => {
    const context = actContext(record, nowMs, known)
    const made = answer(context, intent)
    const all = spoken(made)
    const grave = all.filter(({ level }) => level === 'block' || level === 'forbid')
    // Readings are what they are; a block of a typo or an odd value is right to stand.
    if (step && intent.kind !== 'reading' && (made.problem !== null || grave.length > 0))
      say(
        'offered-but-refused',
        `“${step.title}: ${step.detail}” is offered; “${made.problem ?? grave[0]!.message}” refuses it.`,
        step.key,
      )
    const doubts = all.filter(({ level, needs }) => level === 'ask' && needs === undefined)
    // What was poured twice on purpose, or too early, is rightly asked about; what the plan offers now is not.
    const offers = (intent.kind === 'dose' && step?.dose) || (intent.kind === 'change' && step?.change)
    if (step && offers && (step.state === 'due' || step.state === 'late') && doubts.length > 0)
      say(
        'offered-but-asked',
        `“${step.title}: ${step.detail}” is offered; “${doubts[0]!.message}” doubts it.`,
        step.key,
      )
    const override = { words: keeper.stubborn ? 'I know, and I do it all the same.' : '', confirmed: true }
    let sent = intent
    let asked = made
    if (all.some(({ needs }) => needs === 'temperature')) {
      sent = { ...intent, temperature: `${trulyIn(world.tank, 'temperature').toFixed(1)}` } as Intent
      asked = answer(context, sent)
    }
    if (!mayPass(asked, override)) return null
    const done = commitAct(context, sent, { actId: `act-${String(++sequence).padStart(5, '0')}`, override })
    if (!done.ok) return null
    record = recordOf(
      record.settings,
      [
        ...new Map(
          [...documentsOf(record), ...done.value.documents].map((one) => [`${one.register}/${one.id}`, one]),
        ).values(),
      ],
      [...record.entries, ...done.value.entries],
    )
    return done.value.entries
  }
  let before: CoursePlan | null = null
  let finishedDay: number | null = null
  let busyUntilMs = 0
  let bandHours = 0
  let bandHits = 0
  let doubled = false
  const truths: number[] = []
  let highest = 0
  let credited = null as Life['credited']
  let heldDay: number | null = null
  const form = agentFormOf(record, courseId)
  for (h = 0; h <= maxDays * 24; h++) {
    const nowMs = START + h * HOUR
    hour(world.tank)
    hour(world.other)
    breed(world.pest, world.chance)
    const fish = record.courses.get(courseId)!.body.residents
    infect(world.infection, world.tank, fish, world.chance)
    world.growth = Math.min(0.95, world.growth * 1.0005)
    const clockHour = new Date(nowMs + HOUR).getUTCHours()
    const day = h / 24
    const away =
      keeper.awayFrom !== undefined && day >= keeper.awayFrom && day < keeper.awayFrom + (keeper.awayDays ?? 0)
    // While the keeper is away somebody comes once a day: feeds, looks, reads, and touches no bottle.
    if (form) {
      const level = world.tank.drugs.get(form.agent) ?? 0
      truths.push(level)
      highest = Math.max(highest, level / form.hardMax)
    }
    const looks = away ? keeper.noSitter !== true && clockHour === SITTER_HOUR : keeper.looksAt.includes(clockHour)
    if (nowMs < busyUntilMs || (!looks && h % 6 !== 0)) continue
    if (mishap === 'volume' && h === VOLUME_DAY * 24) record = withVolume(record, scene.vesselId, 1.1)
    if (mishap === 'corrected' && h === CORRECTED_DAY * 24) {
      const old = record.entries.find((entry) => entry.kind === 'reading' && entry.analyte === 'copper')
      if (old?.kind === 'reading') record = corrected(record, old, nowMs)
    }
    let now = look(nowMs)
    if (!now.plan) break
    if (now.plan.progress.finishedMs !== null) {
      finishedDay = day
      verdict(record, courseId, now, nowMs, protocol, say)
      break
    }
    held(before, now.plan, nowMs, protocol, say)
    if (credited === null && estimate?.clock && now.plan.band && estimate.clock.completeAtH !== null) {
      const floor = now.plan.band.floorMgPerL
      const spans = estimate.clock.intervals.filter(({ state, lost }) => state === 'credited' && lost !== true)
      const inside = truths.flatMap((level, at) =>
        spans.some(({ fromH, toH }) => at >= fromH && at < toH) ? [level >= floor] : [],
      )
      credited = {
        hours: inside.length,
        truly: inside.filter(Boolean).length,
        needed: requiredOf(protocol, estimate.clock.creditedH),
        trueHours: truths.filter((level) => level >= floor).length,
      }
      heldDay = day
    }
    uneasy(record, now, nowMs, world, say)
    if (estimate && form) {
      const truth = world.tank.drugs.get(form.agent) ?? 0
      if (truth > 0.02 && estimatedMs === nowMs) {
        bandHours++
        if (truth >= estimate.now.p10 && truth <= estimate.now.p90) bandHits++
      }
      if (truth > form.hardMax * 1.001 && !keeper.stubborn && keeper.unlogged === 0)
        say('over-hard-maximum', `${truth.toFixed(2)} mg/L truly in the water, hard maximum ${form.hardMax}.`)
    }
    before = now.plan
    if (!looks) continue
    // Parasites show by chance; what is seen is written down.
    for (const id of fish)
      if (
        PARASITES[world.infection.id].sign &&
        h % 24 < 12 &&
        alive(world.infection) > 0 &&
        protocol.purpose === 'treatment'
      ) {
        if (h < 96 && shows(world.infection, id, world.chance))
          commit(
            {
              kind: 'note',
              said: '',
              drafts: [
                {
                  kind: 'sign',
                  vesselId: scene.vesselId,
                  residentId: id,
                  sign: PARASITES[world.infection.id].sign,
                  present: true,
                },
              ],
            } as unknown as Intent,
            nowMs,
            now.known,
          )
      }
    // One press after another, each on what the screen shows then.
    const tried = new Set<string>()
    for (let presses = 0; presses < 60; presses++) {
      const step = now.plan?.steps.find(
        ({ key, state, needs, kind }) =>
          !tried.has(key) &&
          (!away || SITTER.has(kind)) &&
          (OPEN.has(state) || (state === 'waiting' && needs === 'temperature')),
      )
      if (!step) break
      tried.add(step.key)
      if (world.chance.happens(keeper.putsOff)) continue
      const slip = step.kind === 'test' && world.chance.happens(keeper.typos)
      const press = pressOf(scene, record, protocol, step, slip, nowMs)
      if (!press) {
        if (step.state !== 'waiting' && (step.kind === 'dose' || step.kind === 'spot'))
          say('nothing-to-press', `“${step.title}: ${step.detail}” is due and offers no amount.`, step.key)
        continue
      }
      const silent = world.chance.happens(keeper.unlogged)
      if (silent) {
        press.act?.()
        continue
      }
      let entries: ReturnType<typeof commit> = null
      for (const intent of press.intents) entries = commit(intent, nowMs, now.known, step)
      // The same dose once more, as a hand that does not remember pours it: what the gate lets pass is in the water.
      if (mishap === 'doubled' && entries && step.dose && day >= DOUBLED_DAY && !doubled) {
        doubled = true
        const { step: _step, ...again } = press.intents[0] as Intent & { step?: string }
        if (commit(again as Intent, nowMs + 30 * 60_000, look(nowMs).known)) press.act?.()
      }
      if (entries === null && step.kind === 'test' && !slip)
        commit({ ...reading(scene, step.test!.analyte, step, false), doubt: 'kept' } as Intent, nowMs, now.known)
      if (entries) {
        press.act?.()
        if (press.then) {
          const endMs = nowMs + press.then.minutes * 60_000
          commit(press.then.intent(entries[0]!.id), endMs, [], undefined)
          busyUntilMs = endMs
          break
        }
      }
      now = look(nowMs)
      if (!now.plan) break
      if (step.needs === 'temperature') tried.delete(step.key)
    }
    before = now.plan
  }
  if (finishedDay === null && keeper.id !== 'stubborn')
    say(
      'never-ends',
      `after ${maxDays} days it stands in “${before?.progress.phases[before.progress.current ?? 0]?.phase.title}”: ${openWords(before)}.`,
    )
  return {
    protocol: protocol.id,
    keeper: keeper.id,
    seed,
    days: finishedDay,
    violations,
    bandHours,
    bandHits,
    credited,
    heldDay,
    highest,
    milliseconds: performance.now() - startedAt,
    record,
  }
}

/** The record with a vessel's measures corrected by a factor of its length. */
function withVolume(record: KeeperRecord, vesselId: string, factor: number): KeeperRecord {
  const documents = documentsOf(record).map((one) => {
    if (one.register !== 'vessel' || one.id !== vesselId) return one
    const volume = one.body.volume as { shape?: { lengthCm?: number } }
    const shape =
      volume.shape?.lengthCm === undefined
        ? volume.shape
        : { ...volume.shape, lengthCm: volume.shape.lengthCm * factor }
    return { ...one, revision: one.revision + 1, body: { ...one.body, volume: { ...volume, shape } } } as typeof one
  })
  return recordOf(record.settings, documents, record.entries)
}
/** The record with an old reading corrected a tenth upwards, as an entry that stands for it. */
function corrected(record: KeeperRecord, old: Extract<Entry, { kind: 'reading' }>, nowMs: number): KeeperRecord {
  const entry = {
    ...old,
    id: `${old.id}-corrected`,
    loggedAt: instantOf(nowMs),
    corrects: old.id,
    value: Number((old.value * 1.1).toPrecision(3)),
  }
  return recordOf(record.settings, documentsOf(record), [...record.entries, entry as Entry])
}

const openWords = (plan: CoursePlan | null): string =>
  plan?.steps
    .filter(({ state }) => state === 'due' || state === 'late' || state === 'waiting')
    .map(({ title, state }) => `${title} (${state})`)
    .slice(0, 4)
    .join(', ') || 'nothing is open'

/** Hours the protocol asks for; where they hang on the bottle, what was credited. */
const requiredOf = ({ clock }: Protocol, otherwise: number): number =>
  typeof clock?.requiredHours === 'number' ? clock.requiredHours : otherwise

function agentFormOf(record: KeeperRecord, courseId: string) {
  const { products } = record.courses.get(courseId)!.body
  const first = Object.values(products)[0]
  const product = first === undefined ? undefined : record.products.get(first)
  return product ? agentForm(product.body.form) : undefined
}

/** Nothing vanishes, nothing comes before its turn, what waits says why. */
function held(before: CoursePlan | null, now: CoursePlan, nowMs: number, protocol: Protocol, say: Say): void {
  const keys = new Map(now.steps.map((step) => [step.key, step]))
  if (keys.size !== now.steps.length) {
    const twice = now.steps.find(({ key }, i) => now.steps.findIndex((one) => one.key === key) !== i)!
    say('twice', `“${twice.title}” stands twice under one key.`, twice.key)
  }
  for (const step of now.steps) {
    if (OPEN.has(step.state) && step.fromMs > nowMs + 60_000)
      say(
        'before-its-turn',
        `“${step.title}” is ${step.state}, and its time begins in ${((step.fromMs - nowMs) / HOUR).toFixed(1)} h.`,
        step.key,
      )
    if (step.state === 'due' && nowMs - step.untilMs > 2 * DAY)
      say(
        'not-late',
        `“${step.title}” is due, ${((nowMs - step.untilMs) / DAY).toFixed(1)} days after it would be late.`,
        step.key,
      )
    if (step.state === 'waiting' && step.detail.trim().length < 8)
      say('waits-without-words', `“${step.title}” waits and does not say for what.`, step.key)
  }
  if (!before) return
  const once = new Set(
    protocol.phases.flatMap(({ rules }) =>
      rules.flatMap((rule) => (rule.kind === 'task' && rule.everyDays === undefined ? [rule.id] : [])),
    ),
  )
  const samePhase = before.progress.current === now.progress.current
  for (const step of before.steps) {
    if (!OPEN.has(step.state) || keys.has(step.key)) continue
    if (DAILY.has(step.kind) && nowMs - step.dueMs > 20 * HOUR) continue
    if (!samePhase && !once.has(step.ruleId)) continue
    // What comes again and was missed is history a day after its time.
    if (step.kind === 'task' && !once.has(step.ruleId) && nowMs - step.untilMs > DAY - HOUR) continue
    // What came with a change of plan stands under another key: a ramp's next step, a test that was answered.
    if (
      ['ramp', 'hold', 'test', 'round', 'change', 'check', 'tally'].includes(step.kind) &&
      now.steps.some(({ ruleId, key }) => ruleId === step.ruleId && key !== step.key)
    )
      continue
    if (step.kind === 'task' && step.untilMs < nowMs && now.steps.some(({ ruleId }) => ruleId === step.ruleId)) continue
    say('vanished', `“${step.title}” was ${step.state} and is gone, neither done nor left out.`, step.key)
  }
}
type Say = (rule: string, words: string, step?: string) => void

/** What is out of range, overdue or stalled is said somewhere. */
function uneasy(
  record: KeeperRecord,
  now: {
    active: ReturnType<typeof activeOf>
    plans: readonly CoursePlan[]
    estimates: ReadonlyMap<string, CourseEstimate>
  },
  nowMs: number,
  _world: object,
  say: Say,
): void {
  const overdue = now.plans.flatMap(({ steps }) =>
    steps.filter(({ kind, state, untilMs }) => kind === 'test' && state === 'late' && nowMs - untilMs > 1.5 * DAY),
  )
  if (overdue.length === 0) return
  const found = [
    ...concernsOf(record, now.active, now.plans, now.estimates, nowMs),
    ...waterConcerns(record, now.active, now.plans, nowMs),
  ]
  if (found.length === 0) say('silent', `“${overdue[0]!.title}” is overdue and nothing is said of it.`, overdue[0]!.key)
}

/** “Yes” only where a count or a target says so. */
function verdict(
  record: KeeperRecord,
  courseId: string,
  now: { active: ReturnType<typeof activeOf> },
  nowMs: number,
  protocol: Protocol,
  say: Say,
): void {
  if (!protocol.campaign) return
  const state = campaignState(record, now.active, record.courses.get(courseId)!, nowMs)
  if (!state) return
  const open = state.measures.filter(({ state: one }) => one === 'going-on')
  if (state.over.tone === 'good' && open.length > 0)
    say('yes-by-time', `“${state.over.words}” while ${open[0]!.measure.title} reads ${open[0]!.points.at(-1)!.value}.`)
  if (state.over.tone === 'good' && state.stop.tone === 'danger')
    say('yes-beside-stop', `“${state.over.words}” beside “${state.stop.words}”.`)
}
export { ZONE }
