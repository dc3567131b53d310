// A practice tank: the record its keeper begins with, and a truth that is worked out anew from what stands on the ledger, hour by
// hour, from the seed on. Nothing of it is kept but the ledger, what hands did, and the hour: it can be left and taken up again.
import { boxVolume } from '../demo/demoRecord.ts'
import type { PracticeTank } from '../generated/practiceTypes.ts'
import {
  activeContent,
  activeEntries,
  addedMeasure,
  agentForm,
  agentForms,
  corrections,
  defaultSettings,
  entryMs,
  instantOf,
  newCourseBody,
  protocolOf,
  recordOf,
  vesselVolume,
  type Entry,
  type KeeperRecord,
  type Protocol,
} from '../index.ts'
import { ammoniaPka, freeAmmoniaShare } from '../water/ammonia.ts'
import type { WaterState } from '../acclimation/run.ts'
import { bagAt, bagLife, type BagLife, type ContainerEntry, type PracticeBag } from './bag.ts'
import { kitFor, readWith, type Kit, type Shown } from '../world/instruments.ts'
import {
  alive,
  breed,
  grow,
  infect,
  PARASITES,
  shows,
  workOver,
  type Film,
  type Infection,
  type Pest,
} from '../world/life.ts'
import { chanceFrom, type Chance } from '../world/random.ts'
import { rateOf } from '../world/rates.ts'
import { bottleOf, documentOf } from './house.ts'
import { change, hour, MIXES, pour, SOLUTES, tankOf, trulyIn, type Solute, type Tank } from '../world/tank.ts'

const HOUR = 3_600_000
/** One meq/L of alkalinity in dKH. */
export const DKH_PER_MEQ = 2.804
/** The vessel of a practice house, and the tub beside it. */
export const TANK_ID = 'practice'
export const TUB_ID = 'practice-tub'
export const COURSE_ID = 'practice-course'
/** What came with the carrier. */
export const ARRIVAL_ID = 'practice-arrival'
const MINUTE = 60_000

/** What hands do that no entry does by itself. */
export interface Hand {
  readonly atMs: number
  /** Works over every piece; turns the heater to a value; opens or shuts the light; puts air in. */
  readonly does: 'round' | 'heater' | 'light' | 'air'
  readonly value?: number
}
export interface Begun {
  readonly definition: PracticeTank
  readonly seed: number
  readonly startMs: number
  readonly zone: string
}
export interface Animal {
  readonly id: string
  readonly name: string
  readonly kind: PracticeTank['animals'][number]['kind']
  /** How many of a group live. */
  living: number
  readonly begun: number
  /** Place of its bag among those at the door, until it is moved out of it. */
  bag: number | null
  /** What the ledger calls it. */
  residentId: string
}
/** A bag at the door, and what was done with it so far. */
export interface BagState {
  readonly bag: PracticeBag
  readonly animal: Animal
  readonly entries: ContainerEntry[]
  /** The tank's water when the bag met it first. */
  tank: WaterState | null
  /** The bag's life, by so many entries. */
  lived: { readonly entries: number; readonly life: BagLife } | null
}
export interface TruthPoint {
  readonly atMs: number
  readonly living: number
  readonly parasites: number
  readonly pests: number
  readonly film: number
  readonly ammonia: number
  readonly alkalinity: number
  readonly temperature: number
  readonly nitrate: number
  /** mg/L of the agent that is dosed here. */
  readonly level: number
}
export interface PracticeWorld {
  readonly begun: Begun
  readonly tank: Tank
  readonly other: Tank
  readonly kits: Map<string, Kit>
  readonly animals: readonly Animal[]
  readonly infection: Infection | null
  readonly pest: Pest | null
  readonly film: Film | null
  readonly bags: readonly BagState[]
  /** How many died of what. */
  readonly deaths: Map<Cause, number>
  /** Agent whose level is followed. */
  readonly agent: string | null
  hours: number
  /** The minute that is looked at. */
  nowMs: number
  /** Light of a day as a share of the usual: what grows grows by it. */
  light: number
  airOffUntil: number
  readonly trace: TruthPoint[]
}

/** Warmth of a room that nothing is said of, °C. */
const ROOM_C = 22
export const bagId = (place: number): string => `bag-${place + 1}`

/** A chance of one hour and one purpose: what a keeper does elsewhere does not change it. */
const roll = ({ seed }: Pick<Begun, 'seed'>, purpose: number, h: number): Chance =>
  chanceFrom(
    (Math.imul(seed + 1, 0x9e3779b1) ^ Math.imul(purpose + 7, 0x85ebca6b) ^ Math.imul(h + 3, 0xc2b2ae35)) >>> 0,
  )

const volumeOf = ({ boxCm: [length, width, height], sandCm = 0, rockKg = 0 }: PracticeTank) =>
  boxVolume(length!, width!, height!, Math.max(4, Math.min(12, height! / 6)), 3, {
    ...(sandCm > 0 ? { substrateDepthCm: { value: sandCm, sd: 0.5 } } : {}),
    ...(rockKg > 0 ? { rockMassKg: { value: rockKg, sd: rockKg / 10 } } : {}),
  })

/**
 * The record that a practice begins with: a vessel, its animals, bottles and kits, and the course where there is one.
 * @throws Error with a sentence where the tank cannot be: an unknown form, protocol or group
 */
export function practiceRecord({ definition, startMs, zone }: Begun): KeeperRecord {
  const before = startMs - 24 * HOUR
  const vessel = (id: string, name: string, order: number) =>
    documentOf(
      'vessel',
      id,
      {
        name,
        purpose: definition.display === true && id === TANK_ID ? 'display' : 'quarantine',
        water: definition.water,
        nominalL: Math.round((definition.boxCm[0]! * definition.boxCm[1]! * definition.boxCm[2]!) / 1000),
        sortOrder: order,
        volume: volumeOf(definition),
        bindingMedia: (definition.rockKg ?? 0) > 0 ? 'rock' : (definition.sandCm ?? 0) > 0 ? 'sand' : 'none',
        volumeConfirmedAt: instantOf(before),
        startedAt: instantOf(startMs - 400 * 24 * HOUR),
      },
      before,
    )
  const bags = definition.bags ?? []
  const arrival =
    bags.length === 0
      ? []
      : [
          documentOf(
            'arrival',
            ARRIVAL_ID,
            {
              name: 'Practice delivery',
              receivedAt: instantOf(startMs),
              roomTempC: definition.truth.roomC ?? ROOM_C,
              dripLine: true,
              binder: true,
              containers: bags.map(({ name, group, count, massG, hours }, i) => ({
                id: bagId(i),
                label: `Bag ${i + 1}`,
                group,
                commonName: name,
                count,
                vesselId: TANK_ID,
                packedAt: instantOf(startMs - hours * HOUR),
                ...(massG === undefined ? {} : { massG }),
              })),
            },
            startMs,
          ),
        ]
  const residents = definition.animals.map(({ name, group, count = 1 }, i) =>
    documentOf(
      'resident',
      `animal-${i + 1}`,
      { name, commonName: name, group, count, vesselId: TANK_ID, arrivedAt: instantOf(startMs - 48 * HOUR) },
      before,
    ),
  )
  const { course } = definition
  const protocol = course ? protocolOf(course.protocol) : undefined
  if (course && !protocol) throw new Error(`There is no protocol “${course.protocol}”.`)
  const readable = [
    ...new Set([
      ...definition.kits,
      ...(protocol?.instrumentRoles.map(({ analyte }) => analyte as string) ?? []),
      // What every house has: a course asks for a baseline before it begins.
      'temperature',
      'ph',
      ...(definition.water === 'marine' ? ['salinity', 'alkalinity'] : []),
    ]),
  ]
  const instruments = readable.map((analyte) => {
    const kit = kitFor(analyte, chanceFrom(1), false)
    return documentOf(
      'instrument',
      `kit-${analyte}`,
      {
        name: `Kit for ${analyte.replaceAll('-', ' ')}`,
        analyte,
        method: analyte === 'temperature' ? 'thermometer' : 'other',
        step: kit.step,
        relativeError: kit.relative,
        // A kit that is off is one that nobody held against a standard.
        ...(definition.truth.kits?.[analyte] === undefined ? { checkedAt: instantOf(before) } : {}),
        ...(analyte === 'copper'
          ? { readsForms: agentForms.filter(({ agent }) => agent === 'copper').map(({ id }) => id) }
          : {}),
      },
      before,
    )
  })
  const forms = [
    ...new Set([
      ...definition.bottles.map(({ form }) => form),
      ...(protocol?.productRoles.map(({ forms: [first] }) => first!) ?? []),
    ]),
  ]
  const needsTub = (protocol?.vesselRoles ?? []).length > 0
  const documents = [
    vessel(TANK_ID, definition.display === true ? 'Practice display' : 'Practice tank', 0),
    ...(needsTub ? [vessel(TUB_ID, 'Practice tub', 1)] : []),
    ...forms.map((form) => bottleOf(form, before)),
    ...instruments,
    ...residents,
    ...arrival,
    ...(protocol
      ? [
          documentOf(
            'course',
            COURSE_ID,
            newCourseBody({
              protocol,
              vesselId: TANK_ID,
              startMs,
              zone,
              residents: residents.map(({ id }) => id),
              dailyHour: 19,
              ...(course?.variant === undefined ? {} : { variantId: course.variant }),
              parameters: Object.fromEntries(
                (protocol.parameters ?? []).flatMap(({ id, min, default: usual }) =>
                  usual === undefined ? [[id, min]] : [],
                ),
              ),
              products: Object.fromEntries(
                protocol.productRoles.map(({ id, forms: [first] }) => [id, `bottle-${first}`]),
              ),
              instruments: Object.fromEntries(
                protocol.instrumentRoles.map(({ id, analyte }) => [id, `kit-${analyte}`]),
              ),
              vessels: Object.fromEntries((protocol.vesselRoles ?? []).map(({ id }) => [id, TUB_ID])),
            }),
            startMs,
          ),
        ]
      : []),
  ]
  const settings = {
    ...defaultSettings(zone),
    safetyReadAt: instantOf(before),
    law: {
      country: 'Practice',
      answers: Object.fromEntries(agentForms.map(({ agent }) => [agent, 'lawful' as const])),
    },
  }
  return recordOf(settings, documents, [])
}

/** The truth of a tank at its beginning. */
export function practiceWorld(begun: Begun, record: KeeperRecord): PracticeWorld {
  const { definition } = begun
  const { truth, water } = definition
  const said = vesselVolume(record.vessels.get(TANK_ID)!)?.litres ?? 50
  const full = {
    water,
    netL: said * (truth.volume ?? 1),
    evaporationLPerDay: truth.evaporationLPerDay ?? 0.006 * said,
    bindsPerDay: truth.bindsPerDay ?? 0,
    releasesPerDay: 0.05,
    usePerDay: truth.usePerDay ?? {},
    wasteMgPerDay: truth.wasteMgPerDay ?? 0.12 * said,
    filterMgPerDay: truth.filterMgPerDay ?? 0.6 * said,
    roomC: truth.roomC ?? 25.2,
    swingC: 0.25,
  }
  const tank = tankOf(full, roll(begun, 2, 0))
  const other = tankOf({ ...full, netL: said }, roll(begun, 3, 0))
  // A place among the published half-lives for each agent, drawn once: what is dosed when does not change the rest.
  for (const one of [tank, other])
    for (const { agent } of agentForms) one.losses.set(agent, roll(begun, 4, hash(agent)).next())
  tank.filter = truth.filter ?? 1
  for (const [what, value] of Object.entries(truth.start ?? {})) {
    if (what === 'ammonia-total') tank.ammoniaMgL = value
    else if (what === 'temperature') tank.temperatureC = tank.heaterC = value
    else if ((SOLUTES as readonly string[]).includes(what)) tank.solutes[what as Solute] = value
    else tank.drugs.set(what, value)
  }
  const kits = new Map<string, Kit>()
  for (const { body } of record.instruments.values()) {
    const kit = kitFor(body.analyte, roll(begun, 12, hash(body.analyte)), false)
    kits.set(body.analyte, { ...kit, bias: truth.kits?.[body.analyte] ?? kit.bias })
  }
  const animalOf = (id: string, name: string, kind: Animal['kind'], count: number, bag: number | null): Animal => ({
    id,
    name,
    kind,
    living: count,
    begun: count,
    bag,
    residentId: id,
  })
  const animals = [
    ...definition.animals.map(({ name, kind, count = 1 }, i) => animalOf(`animal-${i + 1}`, name, kind, count, null)),
    ...(definition.bags ?? []).map(({ name, kind, count }, i) => animalOf(bagId(i), name, kind, count, i)),
  ]
  const fish = animals.filter(({ kind, bag }) => kind === 'fish' && bag === null)
  const { infection, pest, film } = truth
  const [first] = Object.values(record.courses.get(COURSE_ID)?.body.products ?? {})
  const form = agentForm(record.products.get(first ?? '')?.body.form ?? definition.bottles[0]?.form ?? '')
  const world: PracticeWorld = {
    begun,
    tank,
    other,
    kits,
    animals,
    infection: infection
      ? {
          id: infection.id,
          onFish: new Map(fish.slice(0, 1).map(({ id }) => [id, infection.onFish])),
          offFish: infection.offFish,
          swarmers: infection.offFish,
        }
      : null,
    pest: pest ? { ...pest } : null,
    film: film ? { ...film } : null,
    bags: (definition.bags ?? []).map((bag, i) => ({
      bag,
      animal: animals[definition.animals.length + i]!,
      entries: [],
      tank: null,
      lived: null,
    })),
    deaths: new Map(),
    agent: form?.agent ?? null,
    hours: 0,
    nowMs: begun.startMs,
    light: 1,
    airOffUntil: -1,
    trace: [],
  }
  world.trace.push(truthNow(world))
  return world
}
const hash = (text: string): number =>
  [...text].reduce((sum, letter) => (Math.imul(sum, 31) + letter.charCodeAt(0)) | 0, 7)

/** Each form of copper has its own ceiling, mg/L. */
function copperCeiling({ tank, begun }: PracticeWorld): number {
  const own =
    tank.forms.get('copper') ?? begun.definition.bottles.find(({ form }) => agentForm(form)?.agent === 'copper')?.form
  return agentForm(own ?? '')?.hardMax ?? 2.8
}
const overCopper = (world: PracticeWorld): boolean => (world.tank.drugs.get('copper') ?? 0) > copperCeiling(world)

/** What animals of a practice tank die of. */
export type Cause = 'ammonia' | 'air' | 'heat' | 'parasites' | 'copper' | 'alkalinity' | 'pests' | 'journey'

/** Share of the animals of one kind that an hour in this water takes, by what harms them (core/knowledge/rates/deaths). */
function tollPerHour(world: PracticeWorld, animal: Animal): readonly (readonly [Cause, number])[] {
  const { tank, infection } = world
  const copper = tank.drugs.get('copper') ?? 0
  const free = trulyIn(tank, 'ammonia-free')
  const every = [
    ['ammonia', free > rateOf('ammonia-at') ? rateOf('ammonia-per-hour') * (free / rateOf('ammonia-at')) ** 2 : 0],
    ['air', rateOf('oxygen-per-hour') * Math.max(0, rateOf('oxygen-from') - tank.oxygenMgL)],
    ['heat', rateOf('heat-per-hour') * Math.max(0, tank.temperatureC - rateOf('heat-from'))],
  ] as const
  if (animal.kind === 'fish') {
    const load = infection?.onFish.get(animal.id) ?? 0
    const deadly = rateOf(infection?.id === 'velvet' ? 'velvet-per-hour' : 'parasites-per-hour')
    return [
      ...every,
      ['parasites', deadly * (load / rateOf('load-at')) ** 2],
      ['copper', rateOf('over-copper-per-hour') * Math.max(0, copper / copperCeiling(world) - 1)],
    ]
  }
  const { pest } = world
  const isCoral = animal.kind === 'coral'
  return [
    ...every,
    ['copper', copper > rateOf('copper-spineless-from') ? rateOf('copper-spineless-per-hour') : 0],
    ['alkalinity', isCoral && tank.solutes.alkalinity < rateOf('alkalinity-from') ? rateOf('alkalinity-per-hour') : 0],
    ['pests', isCoral && pest ? rateOf('pest-per-hour') * (pest.adults + pest.young) : 0],
  ]
}
const note = (world: PracticeWorld, cause: Cause, dead: number): void => {
  if (dead > 0) world.deaths.set(cause, (world.deaths.get(cause) ?? 0) + dead)
}

/** What became of a bag by what was done with it so far. */
export function bagOf(world: PracticeWorld, place: number): BagLife {
  const state = world.bags[place]!
  const { begun, tank } = world
  if (state.lived?.entries !== state.entries.length) {
    const water = state.tank ?? waterOf(tank)
    const { roomC = ROOM_C } = begun.definition.truth
    const chance = roll(begun, 11 + place, 0)
    state.lived = {
      entries: state.entries.length,
      life: bagLife({ bag: state.bag, tank: water, roomC, chance }, state.entries, begun.startMs, Infinity),
    }
  }
  return state.lived.life
}
/** How many animals of a bag live at a minute: each has a luck of its own, which no decision changes. */
function livingIn(world: PracticeWorld, place: number, atMs: number): number {
  const life = bagOf(world, place)
  const share = life.share[bagAt(life, (atMs - world.begun.startMs) / MINUTE)] ?? 1
  const chance = roll(world.begun, 31 + place, 0)
  return Array.from({ length: world.bags[place]!.bag.count }, () => chance.next()).filter((luck) => luck < share).length
}
/** Whoever died in the bag until now died of the journey. */
function inBag(world: PracticeWorld, animal: Animal, place: number, atMs: number): void {
  const living = Math.min(animal.living, livingIn(world, place, atMs))
  note(world, 'journey', animal.living - living)
  animal.living = living
}
const waterOf = (tank: Tank): WaterState => ({
  tempC: tank.temperatureC,
  salinityPsu: tank.solutes.salinity,
  phNbs: trulyIn(tank, 'ph'),
  alkalinityDkh: tank.solutes.alkalinity * DKH_PER_MEQ,
  tanMgN: tank.ammoniaMgL,
})
/** Something done with a bag. */
export function bagAct(world: PracticeWorld, entry: ContainerEntry): void {
  const state = world.bags.find((_bag, place) => bagId(place) === entry.containerId)
  if (!state) return
  // It meets the tank as it is now.
  if (entry.act === 'float' || entry.act === 'open') state.tank ??= waterOf(world.tank)
  state.entries.push(entry)
  const { animal } = state
  if (animal.bag === null) return
  if (entry.act === 'move') {
    inBag(world, animal, animal.bag, entryMs(entry))
    animal.bag = null
    if (entry.residentId !== undefined) animal.residentId = entry.residentId
  }
}

/** One hour of the house. */
export function passHour(world: PracticeWorld): void {
  const { begun, tank, other, infection, pest, film } = world
  world.hours += 1
  const h = world.hours
  world.nowMs = begun.startMs + h * HOUR
  const day = Math.floor(h / 24)
  for (const event of begun.definition.events) {
    if (event.day !== day || event.hour !== h % 24) continue
    if (event.does === 'heater') tank.heaterC += event.value
    if (event.does === 'ammonia') tank.ammoniaMgL += event.value
    if (event.does === 'salinity') tank.solutes.salinity += event.value
    if (event.does === 'drug' && event.agent !== undefined)
      tank.drugs.set(event.agent, (tank.drugs.get(event.agent) ?? 0) + event.value)
    if (event.does === 'air') world.airOffUntil = h + event.value
  }
  hour(tank)
  hour(other)
  // In the dark nothing takes nitrate up.
  if (world.light === 0) tank.solutes.nitrate += (tank.truth.usePerDay.nitrate ?? 0) / 24
  // The dead are taken out: they make no more ammonia.
  const atFirst = world.animals.reduce((sum, one) => sum + one.begun, 0)
  const now = world.animals.reduce((sum, one) => sum + (one.bag === null ? one.living : 0), 0)
  if (atFirst > 0)
    tank.ammoniaMgL = Math.max(0, tank.ammoniaMgL - (tank.truth.wasteMgPerDay / 24 / tank.litres) * (1 - now / atFirst))
  if (h < world.airOffUntil) tank.oxygenMgL = Math.max(2.5, tank.oxygenMgL - 0.9)
  const living = world.animals.filter(({ kind, living: count, bag }) => kind === 'fish' && count > 0 && bag === null)
  if (infection)
    infect(
      infection,
      tank,
      living.map(({ id }) => id),
      roll(begun, 5, h),
    )
  if (pest) {
    breed(pest, roll(begun, 6, h))
    // What a wormer leaves of worms: eggs it does not reach.
    if ((tank.drugs.get('fenbendazole') ?? 0) > rateOf('wormer-from')) {
      const toll = roll(begun, 7, h)
      pest.adults -= toll.of(pest.adults, rateOf('wormer-adults'))
      pest.young -= toll.of(pest.young, rateOf('wormer-young'))
    }
  }
  if (film) grow(film, tank, world.light)
  for (const animal of world.animals) {
    if (animal.bag !== null) inBag(world, animal, animal.bag, world.nowMs)
    if (animal.living === 0 || animal.bag !== null) continue
    const tolls = tollPerHour(world, animal)
    const share = Math.min(
      1,
      tolls.reduce((sum, [, toll]) => sum + toll, 0),
    )
    const dead = roll(begun, 100 + hash(animal.id), h).of(animal.living, share)
    animal.living -= dead
    // What harmed most in this hour is what they died of.
    note(world, [...tolls].sort((a, b) => b[1] - a[1])[0]![0], dead)
    if (animal.living === 0) infection?.onFish.delete(animal.id)
  }
  if (h % 3 === 0) world.trace.push(truthNow(world))
}
const filmOf = (film: Film | null): number =>
  film ? film.diatoms + film.dinoflagellates + film.cyanobacteria + film.greens : 0
/** The growths that harm: what a campaign is about. */
const harmful = (film: Film | null): number => (film ? film.dinoflagellates + film.cyanobacteria : 0)
export function truthNow(world: PracticeWorld): TruthPoint {
  const { tank, infection, pest, film, begun } = world
  return {
    atMs: begun.startMs + world.hours * HOUR,
    living: world.animals.reduce((sum, { living }) => sum + living, 0),
    parasites: infection ? alive(infection) : 0,
    pests: pest ? pest.eggs + pest.young + pest.adults : 0,
    film: harmful(film),
    ammonia: tank.ammoniaMgL,
    alkalinity: tank.solutes.alkalinity * DKH_PER_MEQ,
    temperature: tank.temperatureC,
    nitrate: tank.solutes.nitrate,
    level: world.agent === null ? 0 : (tank.drugs.get(world.agent) ?? 0),
  }
}

/** Hours of light that a tank usually gets in a day. */
const LIGHT_HOURS = 10
/** Whether a task is the one that makes it dark: the first of a phase that asks for no light. */
function covers(record: KeeperRecord, { courseId, step }: Entry): boolean {
  const course = record.courses.get(courseId ?? '')
  if (!course || step === undefined) return false
  const { phases } = course.body.protocol as unknown as Protocol
  return phases.some(
    ({ asks, rules }) =>
      asks?.light === 'off' && step.startsWith(`${course.id}/${rules.find(({ kind }) => kind === 'task')?.id ?? ''}/`),
  )
}

/** What an entry of the ledger does to the water. Notes, readings and ticks do nothing. */
export function actOf(world: PracticeWorld, record: KeeperRecord, entry: Entry): void {
  const { tank, other } = world
  const at = 'vesselId' in entry && entry.vesselId === TUB_ID ? other : tank
  const said = vesselVolume(record.vessels.get(TANK_ID)!)?.litres ?? at.litres
  if (entry.kind === 'dose') {
    const product = record.products.get(entry.productId)
    const content = product ? activeContent(product.body.strength) : null
    const form = product ? agentForm(entry.form ?? product.body.form) : undefined
    if (!content?.ok || !form) return
    const truly =
      world.begun.definition.bottles.find(({ form: one }) => `bottle-${one}` === entry.productId)?.truly ?? 1
    pour(at, form.agent, entry.amount * content.value.mg * truly, form.id)
  }
  if (entry.kind === 'change') {
    const litres = entry.removedL ?? (entry.fraction ?? 0) * said
    const [madeUp] = entry.replacement ?? []
    const agent = madeUp ? agentForm(record.products.get(madeUp.productId)?.body.form ?? '')?.agent : undefined
    change(at, litres, {
      mix: { ...MIXES[at.truth.water], salinity: at.solutes.salinity },
      drugs: agent && madeUp ? new Map([[agent, madeUp.mgPerL]]) : new Map(),
    })
  }
  if (entry.kind === 'equipment') {
    at.on.set(entry.item, entry.on)
    if (entry.item === 'light') world.light = entry.on ? 1 : 0
  }
  if (entry.kind === 'tally') {
    const found = corrections.find((one) => addedMeasure(one.id) === entry.measure)
    const salt = found?.salts.find(({ label }) => label === entry.note)
    const raise = (analyte: string, rise: number) => {
      const real = (rise * said) / at.litres
      if (analyte === 'alkalinity') at.solutes.alkalinity += real / DKH_PER_MEQ
      else if ((SOLUTES as readonly string[]).includes(analyte)) at.solutes[analyte as Solute] += real
    }
    if (found) raise(found.analyte, entry.values['rise'] ?? 0)
    for (const side of salt?.side ?? []) raise(side.analyte, side.perUnit * (entry.values['rise'] ?? 0))
  }
  // A knob that a step asked to be turned: what it was turned to stands in its words.
  if (entry.kind === 'done') {
    const to = (unit: string) => new RegExp(`(\\d+(?:\\.\\d+)?)\\s*${unit}(?!.*${unit})`).exec(entry.what)?.[1]
    const heat = to('°C')
    const salt = to('PSU')
    const part = /Light (\d+) % for (\d+) h/.exec(entry.what)
    if (part) world.light = ((Number(part[1]) / 100) * Number(part[2])) / LIGHT_HOURS
    else if (covers(record, entry)) world.light = 0
    if (heat !== undefined) at.heaterC = Number(heat)
    if (salt !== undefined) at.solutes.salinity = Number(salt)
  }
  if (entry.kind === 'container') bagAct(world, entry)
}
/** What hands did, and what was found by it. */
export function handOf(world: PracticeWorld, hand: Hand): number {
  const { tank, pest, begun } = world
  if (hand.does === 'heater' && hand.value !== undefined) tank.heaterC = hand.value
  if (hand.does === 'light') world.light = hand.value ?? 1
  if (hand.does === 'air') world.airOffUntil = -1
  if (hand.does === 'round' && pest) return workOver(pest, roll(begun, 8, Math.floor(hand.atMs / HOUR)))
  return 0
}

/** The world at an hour, from its beginning: the same ledger and hands give the same truth, whoever asks. */
export function worldAt(
  begun: Begun,
  record: KeeperRecord,
  hands: readonly Hand[],
  nowMs: number,
  beginning: KeeperRecord = record,
): PracticeWorld {
  const world = practiceWorld(begun, beginning)
  const acts = [
    ...activeEntries(record.entries).map((entry) => ({ atMs: entryMs(entry), entry, hand: null })),
    ...hands.map((hand) => ({ atMs: hand.atMs, entry: null, hand })),
  ]
    .filter(({ atMs }) => atMs <= nowMs)
    .sort((a, b) => a.atMs - b.atMs)
  let next = 0
  const until = Math.floor((nowMs - begun.startMs) / HOUR)
  for (;;) {
    const edge = begun.startMs + (world.hours + 1) * HOUR
    while (next < acts.length && acts[next]!.atMs < edge) {
      const { entry, hand } = acts[next++]!
      if (entry) actOf(world, record, entry)
      else if (hand) handOf(world, hand)
    }
    if (world.hours >= until) break
    passHour(world)
  }
  world.nowMs = nowMs
  for (const animal of world.animals) if (animal.bag !== null) inBag(world, animal, animal.bag, nowMs)
  return world
}

/** What a kit shows now; the same press again in the same hour shows the same. */
export function kitShows(world: PracticeWorld, analyte: string, nth: number): Shown {
  const kit = world.kits.get(analyte) ?? kitFor(analyte, chanceFrom(1), false)
  const truth = analyte === 'alkalinity' ? trulyIn(world.tank, analyte) : trulyIn(world.tank, analyte)
  return readWith(kit, truth, roll(world.begun, 1000 + hash(analyte) + nth, world.hours))
}

export interface Seen {
  readonly animalId?: string
  readonly words: string
  /** A sign that it is, to be written down. */
  readonly sign?: string
}
/** What a look shows now: one of each animal, of what crawls and of what grows. */
export function lookAt(world: PracticeWorld): Seen[] {
  const { infection, pest, film, tank, begun, hours } = world
  const chance = roll(begun, 9, hours)
  const seen: Seen[] = []
  for (const animal of world.animals) {
    if (animal.bag !== null) {
      seen.push({ words: `Bag ${animal.bag + 1}, ${animal.name}: ${bagWords(world, animal, animal.bag)}` })
      continue
    }
    if (animal.living < animal.begun)
      seen.push({
        animalId: animal.residentId,
        words:
          animal.begun === 1 ? `${animal.name} is dead.` : `${animal.name}: ${animal.living} of ${animal.begun} live.`,
      })
    if (animal.living === 0) continue
    const load = infection?.onFish.get(animal.id) ?? 0
    if (animal.kind === 'fish' && load > 60 && chance.happens(0.5)) {
      seen.push({
        animalId: animal.residentId,
        words: `${animal.name} hides and does not come out.`,
        sign: 'hides-more',
      })
      continue
    }
    if (infection && animal.kind === 'fish' && shows(infection, animal.id, chance))
      seen.push({
        animalId: animal.residentId,
        words: `${animal.name}: ${SIGN_WORDS[infection.id]}.`,
        sign: PARASITES[infection.id].sign,
      })
    else if (
      overCopper(world) ||
      trulyIn(tank, 'ammonia-free') > 0.06 ||
      tank.oxygenMgL < 4.5 ||
      (infection?.id === 'velvet' && load > 40)
    )
      seen.push({ animalId: animal.residentId, words: `${animal.name} breathes fast.`, sign: 'breath-fast' })
    else if (animal.living === animal.begun)
      seen.push({ animalId: animal.residentId, words: `${animal.name}: nothing to see.` })
  }
  if (pest) {
    const found = chance.of(pest.adults + pest.young, rateOf('pest-seen'))
    seen.push({
      words:
        found === 0
          ? `No ${begun.definition.truth.pest!.what} in sight. Most hide.`
          : `${found} ${begun.definition.truth.pest!.what} in sight.`,
    })
  }
  if (film) {
    const cover = Math.max(0, Math.min(100, Math.round((100 * filmOf(film) + chance.normal(0, 3)) / 5) * 5))
    seen.push({ words: `Film on about ${cover} % of sand and rock.` })
  }
  return seen
}
/** What is seen of a bag through its wall, or in its tub. */
function bagWords(world: PracticeWorld, animal: Animal, place: number): string {
  const life = bagOf(world, place)
  const free = life.series.freeMgN[bagAt(life, (world.nowMs - world.begun.startMs) / MINUTE)] ?? 0
  const state =
    animal.living === 0
      ? 'dead'
      : free > 2 * rateOf('ammonia-at')
        ? 'gasps at the surface, gills wide'
        : free > rateOf('ammonia-at')
          ? 'breathes fast'
          : 'pale, upright, breathes calmly'
  return `${animal.living < animal.begun ? `${animal.living} of ${animal.begun} live; ` : ''}${state}.`
}
/** What a set of kits shows of a bag's water now, as a keeper would write it down; the same press shows the same. */
export function bagShows(
  world: PracticeWorld,
  place: number,
): Readonly<Record<'tempC' | 'salinityPsu' | 'phNbs' | 'tanMgN', number>> {
  const life = bagOf(world, place)
  const min = (world.nowMs - world.begun.startMs) / MINUTE
  const at = bagAt(life, min)
  const { series } = life
  const share = freeAmmoniaShare(ammoniaPka(series.tempC[at]!, series.salinityPsu[at]!), series.phNbs[at]!)
  const chance = roll(world.begun, 51 + place, Math.floor(min))
  const read = (analyte: string, truth: number) =>
    readWith(world.kits.get(analyte) ?? kitFor(analyte, chanceFrom(1), false), truth, chance).value
  return {
    tempC: read('temperature', series.tempC[at]!),
    salinityPsu: read('salinity', series.salinityPsu[at]!),
    phNbs: read('ph', series.phNbs[at]!),
    tanMgN: read('ammonia-total', series.freeMgN[at]! / share),
  }
}
const SIGN_WORDS: Readonly<Record<Infection['id'], string>> = {
  'white-spot': 'white grains like salt',
  velvet: 'a dust as of gold in slanting light',
  flukes: 'it rubs on the rock',
  brooklynella: 'a sheet of slime',
}
/** What a drop under the microscope shows: shares of what grows, counted on a hundred cells. */
export function dropOf(
  world: PracticeWorld,
): { readonly words: string; readonly counts: Readonly<Record<string, number>> } | null {
  if (!world.film) return null
  const chance = roll(world.begun, 10, world.hours)
  const all = filmOf(world.film)
  if (all < 0.01) return { words: 'Next to nothing in the drop.', counts: {} }
  let left = 100
  const counts: Record<string, number> = {}
  for (const [name, cover] of Object.entries(world.film) as [string, number][]) {
    const n = Math.min(left, chance.of(100, cover / all))
    counts[name] = n
    left -= n
  }
  return {
    counts,
    words: `Of a hundred cells: ${Object.entries(counts)
      .filter(([, n]) => n > 0)
      .sort((a, b) => b[1] - a[1])
      .map(([name, n]) => `${n} ${name}`)
      .join(', ')}.`,
  }
}
