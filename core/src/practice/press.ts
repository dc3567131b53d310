// What a press on a step means: the intent its button sends, and what it does to the water.
import type { BenchPress, BenchStage, Draft, Intent, KeeperRecord, Protocol, Step } from '../index.ts'
import { readWith, kitFor } from '../world/instruments.ts'
import { workOver } from '../world/life.ts'
import { change, pour, trulyIn, MIXES, type Solute } from '../world/tank.ts'
import {
  activeContent,
  activeEntries,
  agentForm,
  benchDrafts,
  groupOf,
  pressesOf,
  saltGrams,
  stagesFor,
  steerState,
} from '../index.ts'
import type { Chance } from '../world/random.ts'
import type { Kit } from '../world/instruments.ts'
import type { Pest } from '../world/life.ts'
import type { Tank } from '../world/tank.ts'

/** What a press needs of the world and of the house behind it. */
export interface Scene {
  readonly world: {
    readonly chance: Chance
    readonly tank: Tank
    readonly other: Tank
    readonly kits: Map<string, Kit>
    readonly pest: Pest
    /** Cover of what grows, 0 to 1. */
    growth: number
    /** What is answered to a question that may be left open; yes to every other. */
    readonly gate?: (id: string) => boolean
    /** What a count of a measure finds, where the tank has it. */
    readonly counts?: (measure: string) => readonly Counted[] | null
  }
  readonly courseId: string
  readonly vesselId: string
  /** Litres the keeper's measures say. */
  readonly saidL: number
}
/** One count as a keeper writes it down. */
export interface Counted {
  readonly values: Readonly<Record<string, number>>
  readonly piece?: string
}
export interface Press {
  readonly intents: readonly Intent[]
  /** What it does to the world, once it is on record. */
  readonly act?: () => void
  /** Minutes until a second intent follows, made from the first one's entries. */
  readonly then?: { readonly minutes: number; readonly intent: (startId: string) => Intent }
}

const UNITS: Readonly<Record<string, string>> = {
  temperature: '°C',
  salinity: 'PSU',
  alkalinity: 'meq/L',
  ph: '',
  oxygen: 'mg/L',
}
/** @source 1 meq/L = 50.04 mg/L of calcium carbonate; 1 dKH = 17.85 mg/L */
const DKH_PER_MEQ = 2.804
/** What no pipette of a stock solution holds is not measured out, g. */
const LEAST_G = 1e-5
const note = (drafts: readonly object[]): Intent => ({ kind: 'note', drafts: drafts as Draft[], said: '' }) as Intent

/** The reading a keeper takes of an analyte, as typed. */
export function reading(scene: Scene, analyte: string, step: Partial<Step>, slip: boolean): Intent {
  const { world, courseId } = scene
  // The animals may live in another tub than the course began in: it is read where the step stands.
  const vesselId = step.vesselId ?? scene.vesselId
  let kit = world.kits.get(analyte)
  if (!kit) {
    kit = kitFor(analyte, world.chance, false)
    world.kits.set(analyte, kit)
  }
  const { value, bound } = readWith(kit, trulyIn(tankAt(scene, step.vesselId), analyte), world.chance)
  const typed = slip ? value * 10 : value
  return {
    kind: 'reading',
    vesselId,
    courseId,
    analyte,
    text: `${bound === 'below' ? '<' : ''}${Number(typed.toPrecision(5))} ${UNITS[analyte] ?? 'mg/L'}`.trim(),
    ...(step.key === undefined ? {} : { step: step.key }),
    ...(step.test?.instrumentId === undefined ? {} : { instrumentId: step.test.instrumentId }),
  } as Intent
}

/** Counts a keeper writes down: of what is really there where the world has it, else of something that gets better. */
function tally(scene: Scene, protocol: Protocol, measureId: string, extra: object): object[] {
  const { world, vesselId, courseId } = scene
  const measure = protocol.campaign!.measures.find(({ id }) => id === measureId)!
  const truly = world.counts?.(measureId)
  if (truly)
    return truly.map((one) => ({
      kind: 'tally',
      vesselId,
      courseId,
      measure: measureId,
      ...one,
      ...(measure.arms ? { arm: measure.arms[0]!.id } : {}),
      ...extra,
    }))
  const good = 1 - world.growth
  // A pest is counted as it is; what nobody sees of it is not on paper.
  const pest = protocol.campaign!.kind === 'rounds'
  const of = (id: string, max: number | undefined) => {
    if (pest && measure.better === 'less')
      return measure.fields[0]!.id === id ? world.chance.of(world.pest.young + world.pest.adults, 0.8) : 0
    const counts = measure.value.fields.includes(id)
    const share = measure.better === 'more' ? good : world.growth
    if (measure.value.of === 'share') return Math.round(100 * (counts ? share : 1 - share))
    return counts ? Math.round((max ?? 20) * share) : 0
  }
  const values = Object.fromEntries(measure.fields.map(({ id, max }) => [id, of(id, max)]))
  const pieces = measure.per === 'jar' ? ['dosed', 'undosed'] : [measure.per === undefined ? undefined : 'one']
  return pieces.map((piece) => ({
    kind: 'tally',
    vesselId,
    courseId,
    measure: measureId,
    values:
      measure.per === 'jar'
        ? piece === 'undosed'
          ? { 'small-alive': 5, 'small-dead': 0, 'large-alive': 0, 'large-dead': 0 }
          : world.growth < 0.2
            ? { 'small-alive': 0, 'small-dead': 5, 'large-alive': 0, 'large-dead': 5 }
            : { 'small-alive': 3, 'small-dead': 2, 'large-alive': 2, 'large-dead': 3 }
        : values,
    ...(piece === undefined ? {} : { piece }),
    ...(measure.arms ? { arm: measure.arms[0]!.id } : {}),
    ...extra,
  }))
}

/** The day's amounts as the steering offers them; where there is nothing to add, the day is noted as done. */
function steering({ world, saidL, courseId }: Scene, record: KeeperRecord, step: Step, nowMs: number): Press {
  const active = activeEntries(record.entries)
  const amounts = step.steers!.flatMap((id) => {
    const state = steerState(record, active, step.vesselId, id, nowMs)
    const salt = state?.correction.salts.find(({ usual }) => usual === true) ?? state?.correction.salts[0]
    return state &&
      salt &&
      state.rise > 0 &&
      state.volumeL !== null &&
      saltGrams(state.rise, salt, state.volumeL) > LEAST_G
      ? [
          {
            id,
            salt,
            analyte: state.correction.analyte,
            rise: state.rise,
            grams: saltGrams(state.rise, salt, state.volumeL),
          },
        ]
      : []
  })
  const base = { vesselId: step.vesselId, courseId, step: step.key }
  return {
    intents: [
      ...amounts.map(
        ({ id, salt, grams }) =>
          ({
            kind: 'correction',
            ...base,
            correction: id,
            salt: salt.id,
            grams: `${grams.toFixed(6)} g`,
          }) as Intent,
      ),
      ...(amounts.length < step.steers!.length
        ? [note([{ kind: 'done', ...base, what: step.title.slice(0, 120) }])]
        : []),
    ],
    act: () => {
      const { solutes, litres } = world.tank
      const raise = (analyte: string, rise: number) => {
        // The amount was worked out for the water the keeper believes in.
        const real = (rise * saidL) / litres
        if (analyte === 'alkalinity') solutes.alkalinity += real / DKH_PER_MEQ
        else if (analyte in solutes) solutes[analyte as Solute] += real
      }
      for (const { salt, analyte, rise } of amounts) {
        raise(analyte, rise)
        for (const side of salt.side ?? []) raise(side.analyte, side.perUnit * rise)
      }
    },
  }
}

/** The true water of a vessel of the house. */
const tankAt = ({ world, vesselId }: Scene, at: string | undefined) =>
  at === undefined || at === vesselId ? world.tank : world.other

/** What pressing a step's button sends; null where the screen offers no press that could be followed. */
export function pressOf(
  scene: Scene,
  record: KeeperRecord,
  protocol: Protocol,
  step: Step,
  slip: boolean,
  nowMs: number,
): Press | null {
  const { world, vesselId, courseId } = scene
  const base = { vesselId: step.vesselId, courseId, step: step.key }
  /** The water the step is about: after a move that is another one. */
  const tank = tankAt(scene, step.vesselId)
  if (step.needs === 'temperature')
    return { intents: [reading(scene, 'temperature', { vesselId: step.vesselId }, false)] }
  const dosed = (productId: string, amount: number) => {
    const product = record.products.get(productId)!
    const content = activeContent(product.body.strength)
    const { agent, id } = agentForm(product.body.form)!
    if (content.ok) pour(tank, agent, amount * content.value.mg, id)
  }
  if (step.gate !== undefined && world.gate?.(step.gate) === false) return null
  if (step.steers) return steering(scene, record, step, nowMs)
  // What the screens write at once is written: of several answers the one that says all is well.
  const offered = pressesOf(step)
  const written = offered.flatMap((press) => (press.to === 'write' ? [press] : []))
  const chosen = written.find(({ tone }) => tone === 'good') ?? written[0]
  if (chosen)
    return {
      intents: [
        note(
          chosen.drafts.map((draft) => ({
            ...(chosen.ofDay === true ? { vesselId: step.vesselId, courseId } : base),
            ...draft,
          })),
        ),
      ],
      ...(step.setting
        ? {
            act: () => {
              // A share of the water is replaced, salt is added, a knob is turned: by how far it is read to be off.
              const { quantity, from, value } = step.setting!
              if (quantity === 'salinity')
                world.tank.solutes.salinity =
                  value < from
                    ? (world.tank.solutes.salinity * value) / from
                    : world.tank.solutes.salinity + value - from
              if (quantity === 'temperature')
                world.tank.heaterC = step.key.includes('-back/') ? world.tank.heaterC + value - from : value
            },
          }
        : {}),
    }
  switch (step.kind) {
    case 'test':
      return { intents: [reading(scene, step.test!.analyte, step, slip)] }
    case 'dose':
    case 'ramp':
    case 'hold':
      return step.dose
        ? {
            intents: [
              {
                kind: 'dose',
                ...base,
                productId: step.dose.productId,
                amounts: [`${step.dose.amount} ${step.dose.unit}`],
              } as Intent,
            ],
            act: () => {
              dosed(step.dose!.productId, step.dose!.amount)
              world.growth *= 0.5
            },
          }
        : null
    case 'change': {
      const { fraction, makeUp } = step.change!
      return {
        intents: [
          {
            kind: 'change',
            ...base,
            text: `${Math.round(fraction * 100)} %`,
            ...(makeUp
              ? { makeUp: { productId: makeUp.productId, text: `${Number(makeUp.toMgPerL.toPrecision(4))} mg/L` } }
              : {}),
          } as Intent,
        ],
        act: () => {
          const agent = makeUp ? agentForm(record.products.get(makeUp.productId)!.body.form)!.agent : null
          change(tank, fraction * scene.saidL, {
            // New water is made to what the water is: a course of lowered salt is not undone by its changes.
            mix: { ...MIXES[tank.truth.water], salinity: tank.solutes.salinity },
            drugs: agent ? new Map([[agent, makeUp!.toMgPerL]]) : new Map(),
          })
        },
      }
    }
    case 'equipment': {
      const [press] = offered
      return press?.to === 'equipment'
        ? {
            intents: [{ kind: 'equipment', ...base, item: press.item, on: press.on } as Intent],
            act: () => void tank.on.set(press.item, press.on),
          }
        : null
    }
    case 'tally':
      if (world.counts?.(step.tally!.measure)?.length === 0) return null
      return {
        intents: [note(tally(scene, protocol, step.tally!.measure, { step: step.key }))],
        act: () => {
          world.growth *= 0.75
          // Without its host a pest starves between two looks.
          if (!protocol.phases.some(({ rules }) => rules.some(({ kind }) => kind === 'round')))
            Object.assign(world.pest, { eggs: 0, young: world.pest.young >> 2, adults: world.pest.adults >> 1 })
        },
      }
    case 'round': {
      const found = workOver(world.pest, world.chance)
      const measure = protocol.campaign!.measures.find(({ id }) => id === step.round!.measure)!
      const values = Object.fromEntries(
        measure.fields.map(({ id, optional }, i) => [id, i === 0 && optional !== true ? found : 0]),
      )
      return {
        intents: [
          note([
            {
              kind: 'tally',
              vesselId,
              courseId,
              measure: measure.id,
              values,
              ...(measure.per === undefined ? {} : { piece: 'one' }),
              step: step.key,
            },
            { kind: 'done', ...base, what: step.title },
          ]),
        ],
      }
    }
    case 'spot': {
      const spot = step.spot
      if (!spot?.productId) return null
      const amount = Math.floor(Math.min(spot.wishMl, spot.mostMl) / spot.stepMl + 1e-9) * spot.stepMl
      if (!(amount > 0)) return null
      return {
        intents: [
          {
            kind: 'dose',
            ...base,
            productId: spot.productId,
            amounts: [`${Number(amount.toPrecision(6))} mL`],
          } as Intent,
        ],
        act: () => {
          dosed(spot.productId!, amount)
          world.growth *= 0.6
        },
      }
    }
    case 'run':
      return {
        intents: [
          note([
            ...step.run!.moments.map(({ id, do: words }) => ({
              kind: 'done',
              vesselId,
              courseId,
              step: `${step.key}/${id}`,
              what: words.slice(0, 120),
            })),
            { kind: 'done', ...base, what: step.title },
          ]),
        ],
      }
    case 'bench': {
      const work = step.bench!
      // Everything of the protocol's kinds that lives there comes to the bench, and a rock where nothing does.
      const here = [...record.residents.values()].filter(
        ({ body }) =>
          body.vesselId === vesselId &&
          protocol.hosts?.includes((groupOf(body.group)?.kind ?? 'fish') as never) === true,
      )
      const pieces =
        here.length > 0 ? here.map(({ id, body }) => ({ piece: body.name, residentId: id })) : [{ piece: 'one' }]
      const drafts: object[] = []
      for (const { piece, ...who } of pieces) {
        const air = work.kinds?.[0] ?? 'rock'
        const press = (acts: readonly BenchPress['act'][], stage?: BenchStage) =>
          drafts.push(
            ...benchDrafts({ vesselId, courseId }, step.key, drafts.length, piece, stage, acts, {
              air,
              ...who,
              ...(stage?.finds === true && acts[0] === 'stage' ? { finds: { mobiles: 0, eggs: 0 } } : {}),
            }),
          )
        let out = false
        for (const stage of stagesFor(work.stages, air)) {
          if ((stage.in === 'air') !== out) press([stage.in === 'air' ? 'lift' : 'lower'])
          out = stage.in === 'air'
          for (let turn = 0; turn < (stage.times ?? 1); turn++) press(['stage'], stage)
        }
        press(['back'])
      }
      return {
        intents: [note([...drafts, { kind: 'done', ...base, what: step.title }] as never)],
        act: () => {
          world.growth *= 0.3
          Object.assign(world.pest, { eggs: 0, young: world.pest.young >> 2, adults: world.pest.adults >> 2 })
        },
      }
    }
    case 'transfer':
      return {
        intents: [
          {
            kind: 'move',
            ...base,
            residents: [...record.courses.get(courseId)!.body.residents].map((id) => ({ id })),
            toVesselId: step.transfer!.toVesselId,
          } as Intent,
        ],
      }
    case 'bath': {
      const bath = step.bath!
      return {
        intents: [
          {
            kind: 'bath',
            ...base,
            rule: step.ruleId,
            residentIds: record.courses.get(courseId)!.body.residents,
            litres: bath.litres,
            minutes: bath.minutes.usual,
            ...(step.dose ? { productId: step.dose.productId, amount: `${step.dose.amount} ${step.dose.unit}` } : {}),
          } as Intent,
        ],
        then: {
          minutes: bath.minutes.usual,
          intent: (startId) => ({ kind: 'bath-end', ...base, startId }) as Intent,
        },
      }
    }
    case 'task':
      return { intents: [note([{ kind: 'done', ...base, what: step.title.slice(0, 120) }])] }
    default:
      return null
  }
}
