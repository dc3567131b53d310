// The same tank by two other keepers: one who does what Brinvo's screens say, and one who goes by the calendar and tests nothing.
import {
  actContext,
  activeContent,
  activeOf,
  agentForm,
  agentForms,
  answer,
  commitAct,
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
import {
  actOf,
  COURSE_ID,
  DKH_PER_MEQ,
  handOf,
  kitShows,
  passHour,
  practiceRecord,
  practiceWorld,
  TANK_ID,
  truthNow,
  worldAt,
  type Begun,
  type Hand,
  type PracticeWorld,
  type TruthPoint,
} from './tank.ts'

const HOUR = 3_600_000
const LOOKS = [8, 13, 19, 22]
/** Grid of the estimates of a keeper in a hurry: whether it can be followed, not how fine. */
const GRID = 10
/** A free half hour is enough for this many presses. */
const MOST_PRESSES = 40

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
  readonly days: number
}
export interface PracticeLife {
  readonly trace: readonly TruthPoint[]
  readonly outcome: Outcome
  readonly record: KeeperRecord
  /** Day on which the course came to its end by itself; null where it did not. */
  readonly endedDay: number | null
  /** What went wrong in the living, not in the tank: none is the rule. */
  readonly faults: readonly string[]
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
    days: world.hours / 24,
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
  const commit = (intent: Intent, nowMs: number, known: Parameters<typeof actContext>[2]): boolean => {
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
    for (const entry of done.value.entries) actOf(world, record, entry)
    return true
  }
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
      // Over a light that is put out or on, the world's own acts are asked; what is poured is poured by the entry.
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
  return { trace: world.trace, outcome: outcomeOf(world), record, endedDay, faults }
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
    if (h % 24 !== 19) continue
    for (const step of definition.calendar) {
      if (step.day !== Math.floor(h / 24)) continue
      const { tank } = world
      const form = agentForm(step.form ?? '')
      if (step.does === 'dose' && form && step.mgPerL !== undefined) {
        const truly = definition.bottles.find((one) => one.form === form.id)?.truly ?? 1
        const content = activeContent(record.products.get(`bottle-${form.id}`)?.body.strength ?? ({} as never))
        if (content.ok) pour(tank, form.agent, step.mgPerL * said * truly, form.id)
      }
      if (step.does === 'change') change(tank, (step.share ?? 0.25) * said)
      if (step.does === 'carbon') tank.on.set('carbon', true)
      if (step.does === 'dark') tank.on.set('light', false)
      if (step.does === 'light') tank.on.set('light', true)
      if (step.does === 'round') handOf(world, { atMs: begun.startMs + h * HOUR, does: 'round' })
      if (step.does === 'feed' && step.analyte !== undefined && step.rise !== undefined) {
        if (step.analyte === 'alkalinity') tank.solutes.alkalinity += step.rise / DKH_PER_MEQ
        else if ((SOLUTES as readonly string[]).includes(step.analyte))
          tank.solutes[step.analyte as Solute] += step.rise
      }
    }
  }
  return { trace: world.trace, outcome: outcomeOf(world), record, endedDay: definition.days, faults: [] }
}

/** The keeper's own life, read off its ledger. */
export function ownLife(begun: Begun, record: KeeperRecord, hands: readonly Hand[], nowMs: number): PracticeLife {
  const world = worldAt(begun, record, hands, nowMs, practiceRecord(begun))
  return { trace: world.trace, outcome: outcomeOf(world), record, endedDay: null, faults: [] }
}

/** Whether an outcome holds what a promise says; answers the first measure that does not. */
export function kept(
  outcome: Outcome,
  measures: Begun['definition']['promises']['exact']['measures'][number][],
): string | null {
  for (const { of, least, most } of measures) {
    const value = of === 'alkalinity-lowest' ? outcome.alkalinityLowest : outcome[of]
    if ((least !== undefined && value < least) || (most !== undefined && value > most))
      return `${of} is ${Number(value.toPrecision(3))}, promised ${least === undefined ? `at most ${most}` : `at least ${least}`}`
  }
  return null
}
