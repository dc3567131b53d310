// The same tank by two other keepers: one who does what Brinvo's screens say, and one who goes by the calendar and tests nothing.
import {
  actContext,
  activeContent,
  activeOf,
  agentForm,
  agentForms,
  answer,
  commitAct,
  pressedStep,
  liveRun,
  liveInputsOf,
  instantOf,
  entryMs,
  containerInputs,
  compareMethods,
  courseInputs,
  createPlanner,
  documentsOf,
  estimateCourse,
  knownLevels,
  mayPass,
  recordOf,
  spoken,
  vesselVolume,
  type CourseEstimate,
  type Entry,
  type Intent,
  type KeeperRecord,
  type Protocol,
} from '../index.ts'
import { change, pour, SOLUTES, trulyIn, type Solute } from '../world/tank.ts'
import { pressOf, type Scene } from './press.ts'
import type { ContainerEntry } from './bag.ts'
import { partsOf } from '../knowledge/protocols.ts'
import { bagShows, countsOf, kitShows } from './eyes.ts'
import { ARRIVAL_ID, bagId, COURSE_ID, DKH_PER_MEQ, practiceRecord, TANK_ID, type Begun } from './house.ts'
import {
  actOf,
  bagAct,
  bagOf,
  handOf,
  passHour,
  practiceWorld,
  truthNow,
  worldAt,
  type Cause,
  type Hand,
  type PracticeWorld,
  type TruthPoint,
} from './tank.ts'

const MINUTE = 60_000
const HOUR = 60 * MINUTE
const LOOKS = [8, 13, 19, 22]
/** Grid of the estimates of a keeper in a hurry: whether it can be followed, not how fine. */
const GRID = 10
/** A free half hour is enough for this many presses. */
const MOST_PRESSES = 40
/** Sampled runs of a comparison of methods. */
const SAMPLES = 60
/** A bag is in the water after so many minutes, or stays where it is. */
const LONGEST_EVENING = 300

/** What became of a tank, in the numbers that promises are made of. */
export interface Outcome {
  /** Share of the animals that live. */
  readonly living: number
  readonly parasites: number
  readonly pests: number
  readonly film: number
  /** Highest level of the agent against its hard maximum. */
  readonly highest: number
  /** Hours truly at or above the floor of the agent. */
  readonly therapeutic: number
  /** Level of the agent at the end, mg/L. */
  readonly levelLast: number
  readonly ammonia: number
  readonly alkalinityLowest: number
  /** Highest free ammonia that an animal met in its bag or tub, mg N/L. */
  readonly freeInBag: number
  readonly days: number
  /** How many died of what, the most first. */
  readonly deaths: readonly { readonly cause: Cause; readonly count: number }[]
}
/** What a promise measures, in an outcome. */
export const measureOf = (outcome: Outcome, of: Measured['of']): number =>
  of === 'alkalinity-lowest' ? outcome.alkalinityLowest : of === 'free-in-bag' ? outcome.freeInBag : outcome[of]
type Measured = Begun['definition']['promises']['exact']['measures'][number]
export interface PracticeLife {
  readonly trace: readonly TruthPoint[]
  readonly bags: readonly BagTrace[]
  readonly outcome: Outcome
  readonly record: KeeperRecord
  /** Day on which the course came to its end by itself; null where it did not. */
  readonly endedDay: number | null
  /** What went wrong in the living, not in the tank: none is the rule. */
  readonly faults: readonly string[]
}

/** The water of the animals of one bag, from the door until they were moved; parallel columns, minutes since the beginning. */
export interface BagTrace {
  readonly label: string
  readonly min: readonly number[]
  readonly freeMgN: readonly number[]
  readonly salinityPsu: readonly number[]
  readonly tempC: readonly number[]
}
function bagTraces(world: PracticeWorld): BagTrace[] {
  const until = (world.nowMs - world.begun.startMs) / MINUTE
  return world.bags.map(({ bag }, place) => {
    const { series, movedMin } = bagOf(world, place)
    const end = Math.min(until, movedMin ?? Infinity)
    const kept = series.min.findIndex((min) => min > end + 1e-9)
    const to = kept < 0 ? series.min.length : kept
    return {
      label: `Bag ${place + 1}, ${bag.name}`,
      min: series.min.slice(0, to),
      freeMgN: series.freeMgN.slice(0, to),
      salinityPsu: series.salinityPsu.slice(0, to),
      tempC: series.tempC.slice(0, to),
    }
  })
}

/** The numbers of a trace. */
export function outcomeOf(world: PracticeWorld): Outcome {
  const { trace, animals, agent } = world
  const form = agentForms.find((one) => one.agent === agent)
  const own =
    world.begun.definition.bottles.map(({ form: id }) => agentForm(id)).find((one) => one?.agent === agent) ?? form
  const floor = own?.band.min ?? Infinity
  const begun = animals.reduce((sum, one) => sum + one.begun, 0)
  const last = truthNow(world)
  const most = (of: (point: TruthPoint) => number) => trace.reduce((sum, point) => Math.max(sum, of(point)), 0)
  return {
    living: begun === 0 ? 1 : last.living / begun,
    parasites: last.parasites,
    pests: last.pests,
    film: last.film,
    highest: own ? most(({ level }) => level) / own.hardMax : 0,
    therapeutic: 3 * trace.filter(({ level }) => level >= 0.97 * floor).length,
    levelLast: last.level,
    ammonia: most(({ ammonia }) => ammonia),
    alkalinityLowest: trace.reduce((sum, { alkalinity }) => Math.min(sum, alkalinity), Infinity),
    freeInBag: bagTraces(world).reduce((sum, { freeMgN }) => freeMgN.reduce((a, b) => Math.max(a, b), sum), 0),
    days: world.hours / 24,
    deaths: [...world.deaths].map(([cause, count]) => ({ cause, count })).sort((a, b) => b.count - a.count),
  }
}

/** A life by somebody who presses what the screens show. Deterministic. */
export function exactLife(begun: Begun, seen?: (share: number) => void): PracticeLife {
  let record = practiceRecord(begun)
  const world = practiceWorld(begun, record)
  const faults: string[] = []
  const planner = createPlanner()
  const { definition } = begun
  const course = record.courses.get(COURSE_ID)
  const protocol = course?.body.protocol as unknown as Protocol | undefined
  const saidL = vesselVolume(record.vessels.get(TANK_ID)!)!.litres
  const noneCaught = new Set(
    protocol?.phases.flatMap(({ exit }) =>
      partsOf(exit).flatMap((part) =>
        part.kind === 'jar-clear' && part.noneCaught !== undefined ? [part.noneCaught.gate] : [],
      ),
    ),
  )
  const scene: Scene = {
    world: {
      chance: world.tank.chance,
      tank: world.tank,
      other: world.other,
      kits: world.kits,
      pest: (world.pest ?? { eggs: 0, young: 0, adults: 0, eggDays: 6, youngDays: 8, eggsPerDay: 0 }) as never,
      get growth() {
        return world.film ? truthNow(world).film : world.pest ? Math.min(1, truthNow(world).pests / 60) : 0
      },
      // “None was caught” is said where none was.
      gate: (id) => world.jar === null || !noneCaught.has(id),
      counts: (id) => {
        const measure = protocol?.campaign?.measures.find((one) => one.id === id)
        // Rounds tell what they find by themselves.
        return measure && protocol?.campaign?.kind !== 'rounds' ? countsOf(world, measure) : null
      },
      set growth(_value) {
        // The tank grows by itself.
      },
    },
    courseId: COURSE_ID,
    vesselId: TANK_ID,
    saidL,
  }
  let sequence = 0
  let estimate: CourseEstimate | null = null
  let estimatedFor = ''
  let endedDay: number | null = null
  const commit = (intent: Intent, nowMs: number, known: Parameters<typeof actContext>[2], acts = true): boolean => {
    const context = actContext(record, nowMs, known)
    let sent = intent
    let asked = answer(context, sent)
    if (spoken(asked).some(({ needs }) => needs === 'temperature')) {
      sent = { ...intent, temperature: trulyIn(world.tank, 'temperature').toFixed(1) } as Intent
      asked = answer(context, sent)
    }
    const override = { words: '', confirmed: true }
    if (!mayPass(asked, override)) return false
    const done = commitAct(context, sent, { actId: `practice-${String(++sequence).padStart(5, '0')}`, override })
    if (!done.ok) return false
    const all = new Map(
      [...documentsOf(record), ...done.value.documents].map((one) => [`${one.register}/${one.id}`, one]),
    )
    record = recordOf(record.settings, [...all.values()], [...record.entries, ...done.value.entries])
    if (acts) for (const entry of done.value.entries) actOf(world, record, entry)
    return true
  }
  /** The first evening at the tank: what the comparison advises, and then what the clock of each bag says. */
  const evening = () => {
    const entriesBefore = record.entries.length
    const write = (intent: Intent, nowMs: number) => commit(intent, nowMs, [], false)
    const note = (draft: object, nowMs: number) =>
      write({ kind: 'note', drafts: [draft], said: '' } as unknown as Intent, nowMs)
    for (const [place, { bag }] of world.bags.entries()) {
      const base = { kind: 'container', arrivalId: ARRIVAL_ID, containerId: bagId(place) }
      const arrival = record.arrivals.get(ARRIVAL_ID)!
      const container = arrival.body.containers[place]!
      let nowMs = begun.startMs + place * MINUTE
      note({ ...base, act: 'inspected', verdict: 'accept', looks: [] }, nowMs)
      note({ ...base, act: 'measured', ...bagShows(world, place), fouled: false }, nowMs)
      const comparison = compareMethods(
        containerInputs({ record, active: activeOf(record.entries), arrival, container, nowMs, samples: SAMPLES }),
      )
      const chosen = comparison.methods.find(({ id }) => id === comparison.chosen)
      if (!chosen) continue
      const { overflow, ...numbers } = chosen.settings
      note({ ...base, act: 'method', method: chosen.id, settings: { ...numbers, overflow: Number(overflow) } }, nowMs)
      // A matched tank is brought to the bag's salinity first, as its page says.
      const read = bagShows(world, place).salinityPsu
      if (chosen.id === 'matched-tank')
        note({ kind: 'done', vesselId: TANK_ID, what: `Bring salinity to ${read} PSU` }, nowMs)
      for (let minute = 1; minute < LONGEST_EVENING; minute++) {
        nowMs = begun.startMs + (place + minute) * MINUTE
        const inputs = liveInputsOf({ record, active: activeOf(record.entries), arrival, container, nowMs })
        const next = inputs ? liveRun(inputs).next : null
        if (!next || next.dueMs > nowMs) continue
        if (next.act !== 'move') {
          note({ ...base, ...pressedStep(next) }, nowMs)
          continue
        }
        const residentId = `resident-${bagId(place)}`
        const moved = { ...base, act: 'move', residentId, vesselId: TANK_ID }
        write(
          {
            kind: 'resident',
            vesselId: TANK_ID,
            residentId,
            count: String(bag.count),
            body: { name: bag.name, commonName: bag.name, group: bag.group, arrivalId: ARRIVAL_ID },
            courses: [],
            with: [moved],
          } as unknown as Intent,
          nowMs,
        )
        break
      }
    }
    for (const entry of [...record.entries.slice(entriesBefore)].sort((a, b) => entryMs(a) - entryMs(b)))
      actOf(world, record, entry)
  }
  if (world.bags.length > 0) evening()
  for (let h = 1; h <= definition.days * 24; h++) {
    passHour(world)
    if (h % 24 === 0) seen?.(h / (definition.days * 24))
    const nowMs = begun.startMs + h * HOUR
    if (!LOOKS.includes(new Date(nowMs).getUTCHours())) continue
    const look = () => {
      const active = activeOf(record.entries)
      const own = record.courses.get(COURSE_ID)
      const found = own ? courseInputs(record, active, own, nowMs, GRID) : null
      if (found) {
        const key = `${record.entries.filter(({ kind }) => MOVES.has(kind)).length} ${Math.floor(h / 24)}`
        if (key !== estimatedFor) {
          estimate = estimateCourse({ ...found.inputs, latest: null })
          estimatedFor = key
        }
      }
      const estimates = new Map(estimate ? [[COURSE_ID, estimate]] : [])
      const planned = planner({ record, active, estimates, nowMs })
      for (const { message } of planned.faults) if (!faults.includes(message)) faults.push(message)
      return {
        plan: planned.plans.find(({ courseId }) => courseId === COURSE_ID) ?? null,
        known: knownLevels(record, active, estimates, nowMs),
      }
    }
    if (!protocol || definition.animals.length === 0 || world.animals.every(({ kind }) => kind !== 'coral'))
      rescue(nowMs)
    if (!protocol) continue
    let now = look()
    if (!now.plan) break
    if (now.plan.progress.finishedMs !== null) {
      endedDay ??= h / 24
      continue
    }
    const tried = new Set<string>()
    for (let press = 0; press < MOST_PRESSES; press++) {
      const step = now.plan?.steps.find(
        ({ key, state, needs }) =>
          !tried.has(key) && (state === 'due' || state === 'late' || (state === 'waiting' && needs === 'temperature')),
      )
      if (!step) break
      tried.add(step.key)
      const made = pressOf(scene, record, protocol, step, false, nowMs)
      if (!made) continue
      for (const intent of made.intents) commit(intent, nowMs, now.known)
      now = look()
    }
  }
  /** What the watch on the water asks of whoever has no course, and of whoever has one. */
  function rescue(nowMs: number) {
    if (new Date(nowMs).getUTCHours() === 13) return
    for (const analyte of ['ammonia-total', 'copper'] as const) {
      if (!record.instruments.has(`kit-${analyte}`)) continue
      const { value, bound } = kitShows(world, analyte, 0)
      commit(
        {
          kind: 'reading',
          vesselId: TANK_ID,
          analyte,
          text: `${bound === 'below' ? '<' : ''}${Number(value.toPrecision(5))} mg/L`,
          instrumentId: `kit-${analyte}`,
        } as Intent,
        nowMs,
        [],
      )
      const form = agentForms.find(({ agent }) => agent === 'copper')
      const own = agentForm(definition.bottles[0]?.form ?? '') ?? form
      const most = analyte === 'ammonia-total' ? 0.8 : (own?.hardMax ?? 2.8)
      const level = protocol && analyte === 'copper' && estimate ? (estimate.now.p10 + estimate.now.p90) / 2 : value
      if (Math.min(value, level) > most) {
        const [product] = protocol ? Object.values(record.courses.get(COURSE_ID)!.body.products) : []
        const target = record.products.get(product ?? '')
        const holds = world.agent === null || !target ? 0 : kitShows(world, world.agent, 1).value
        commit(
          {
            kind: 'change',
            vesselId: TANK_ID,
            text: '50 %',
            ...(analyte !== 'copper' && holds > 0.2 && target
              ? { makeUp: { productId: target.id, text: `${holds.toFixed(2)} mg/L` } }
              : {}),
          } as Intent,
          nowMs,
          [],
        )
      }
    }
  }
  return { trace: world.trace, bags: bagTraces(world), outcome: outcomeOf(world), record, endedDay, faults }
}
const MOVES = new Set<Entry['kind']>(['dose', 'change', 'reading', 'topoff', 'equipment', 'void'])

/** A life by somebody who does on its day what the definition's calendar says, and looks at nothing. */
export function calendarLife(begun: Begun): PracticeLife {
  const record = practiceRecord(begun)
  const world = practiceWorld(begun, record)
  const { definition } = begun
  const said = vesselVolume(record.vessels.get(TANK_ID)!)!.litres
  for (let h = 1; h <= definition.days * 24; h++) {
    passHour(world)
    for (const step of definition.calendar) {
      // What stands at the door is opened when it comes; everything else is done in the evening.
      const hour = step.does === 'drip' ? 1 : 19
      if (h !== 24 * step.day + hour) continue
      const { tank } = world
      const form = agentForm(step.form ?? '')
      if (step.does === 'dose' && form && step.mgPerL !== undefined) {
        const truly = definition.bottles.find((one) => one.form === form.id)?.truly ?? 1
        const content = activeContent(record.products.get(`bottle-${form.id}`)?.body.strength ?? ({} as never))
        if (content.ok) pour(tank, form.agent, step.mgPerL * said * truly, form.id)
      }
      if (step.does === 'drip') dripAll(world, begun.startMs + h * HOUR, step.minutes ?? 60)
      if (step.does === 'change') change(tank, (step.share ?? 0.25) * said)
      if (step.does === 'carbon') tank.on.set('carbon', true)
      if (step.does === 'dark') world.light = 0
      if (step.does === 'light') world.light = 1
      if (step.does === 'round') handOf(world, { atMs: begun.startMs + h * HOUR, does: 'round' })
      if (step.does === 'feed' && step.analyte !== undefined && step.rise !== undefined) {
        if (step.analyte === 'alkalinity') tank.solutes.alkalinity += step.rise / DKH_PER_MEQ
        else if ((SOLUTES as readonly string[]).includes(step.analyte))
          tank.solutes[step.analyte as Solute] += step.rise
      }
    }
  }
  return {
    trace: world.trace,
    bags: bagTraces(world),
    outcome: outcomeOf(world),
    record,
    endedDay: definition.days,
    faults: [],
  }
}

/** Every bag is opened, three times its water dripped in over so many minutes, and the animals moved. */
function dripAll(world: PracticeWorld, fromMs: number, minutes: number): void {
  for (const [place, { bag, entries }] of world.bags.entries()) {
    if (entries.length > 0) continue
    const { litres } = bag.water
    const act = (min: number, what: object): void =>
      bagAct(world, {
        kind: 'container',
        id: `calendar-${place}-${min}`,
        at: instantOf(fromMs + min * MINUTE),
        zone: world.begun.zone,
        recordedAt: instantOf(fromMs + min * MINUTE),
        arrivalId: ARRIVAL_ID,
        containerId: bagId(place),
        ...what,
      } as ContainerEntry)
    act(0, { act: 'float' })
    act(15, { act: 'open' })
    act(16, { act: 'drip', litresPerH: (3 * litres) / (minutes / 60) })
    act(16 + minutes, { act: 'move' })
  }
}

/** The keeper's own life, read off its ledger. */
export function ownLife(begun: Begun, record: KeeperRecord, hands: readonly Hand[], nowMs: number): PracticeLife {
  const world = worldAt(begun, record, hands, nowMs, practiceRecord(begun))
  return { trace: world.trace, bags: bagTraces(world), outcome: outcomeOf(world), record, endedDay: null, faults: [] }
}

/** Whether an outcome holds what a promise says; answers the first measure that does not. */
export function kept(outcome: Outcome, measures: readonly Measured[]): string | null {
  for (const { of, least, most } of measures) {
    const value = measureOf(outcome, of)
    if ((least !== undefined && value < least) || (most !== undefined && value > most))
      return `${of} is ${Number(value.toPrecision(3))}, promised ${least === undefined ? `at most ${most}` : `at least ${least}`}`
  }
  return null
}
