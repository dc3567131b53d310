// The truth of a practice tank, worked out anew from what stands on the ledger, hour by hour, from the seed on. Nothing of it is
// kept but the ledger, what hands did, and the hour: it can be left and taken up again.
import {
  activeContent,
  activeEntries,
  addedMeasure,
  agentForm,
  agentForms,
  corrections,
  entryMs,
  vesselVolume,
  type Entry,
  type KeeperRecord,
  type Protocol,
} from '../index.ts'
import type { PracticeTank } from '../generated/practiceTypes.ts'
import type { WaterState } from '../acclimation/run.ts'
import { bagAt, bagLife, type BagLife, type ContainerEntry, type PracticeBag } from './bag.ts'
import { kitFor, type Kit } from '../world/instruments.ts'
import { alive, breed, grow, infect, workOver, type Film, type Infection, type Pest } from '../world/life.ts'
import { rateOf } from '../world/rates.ts'
import { change, hour, MIXES, pour, SOLUTES, tankOf, trulyIn, type Solute, type Tank } from '../world/tank.ts'
import { roll, hash } from './luck.ts'
import { DKH_PER_MEQ, TANK_ID, TUB_ID, COURSE_ID, ROOM_C, bagId, type Begun } from './house.ts'

const HOUR = 3_600_000
const MINUTE = 60_000

/** What hands do that no entry does by itself. */
export interface Hand {
  readonly atMs: number
  /** Works over every piece; turns the heater to a value; opens or shuts the light; puts air in. */
  readonly does: 'round' | 'heater' | 'light' | 'air'
  readonly value?: number
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
export interface Jar {
  /** Hour at which it was filled. */
  readonly fromH: number
  readonly level: number
  readonly begun: Readonly<Record<'small' | 'large', number>>
  readonly moving: Record<'small' | 'large', number>
}
export interface PracticeWorld {
  readonly begun: Begun
  readonly tank: Tank
  readonly other: Tank
  readonly kits: Map<string, Kit>
  readonly animals: readonly Animal[]
  readonly infection: Infection | null
  readonly pest: Pest | null
  /** Captured when the wormer was poured, in the tank's own water: how many of each size there were, and still move. */
  jar: Jar | null
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
    jar: null,
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
/** Each form of copper has its own ceiling, mg/L. */
function copperCeiling({ tank, begun }: PracticeWorld): number {
  const own =
    tank.forms.get('copper') ?? begun.definition.bottles.find(({ form }) => agentForm(form)?.agent === 'copper')?.form
  return agentForm(own ?? '')?.hardMax ?? 2.8
}
export const overCopper = (world: PracticeWorld): boolean =>
  (world.tank.drugs.get('copper') ?? 0) > copperCeiling(world)

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
    if ((tank.drugs.get(WORMER) ?? 0) > rateOf('wormer-from')) {
      const toll = roll(begun, 7, h)
      pest.adults -= toll.of(pest.adults, rateOf('wormer-adults'))
      pest.young -= toll.of(pest.young, rateOf('wormer-young'))
    }
    if (world.jar && world.jar.level > rateOf('wormer-from')) {
      const { moving } = world.jar
      const toll = roll(begun, 11, h)
      moving.large -= toll.of(moving.large, rateOf('wormer-adults'))
      moving.small -= toll.of(moving.small, rateOf('wormer-young'))
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
export const filmOf = (film: Film | null): number =>
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
    if (form.agent === WORMER && world.pest) world.jar = jarOf(world)
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
const WORMER = 'fenbendazole'
/** A jar is filled with the first dose of a round, with what can be caught then. */
function jarOf(world: PracticeWorld): Jar | null {
  const { pest, jar, tank, hours } = world
  if (!pest || (jar && hours - jar.fromH < rateOf('jar-round'))) return jar
  const begun = { small: Math.min(rateOf('jar-worms'), pest.young), large: Math.min(rateOf('jar-worms'), pest.adults) }
  if (begun.small + begun.large === 0) return null
  return { fromH: hours, level: tank.drugs.get(WORMER) ?? 0, begun, moving: { ...begun } }
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
