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
  type RegisterDocument,
} from '../index.ts'
import { kitFor, readWith, type Kit, type Shown } from '../world/instruments.ts'
import {
  alive,
  breed,
  grow,
  infect,
  PARASITES,
  shows,
  treatPest,
  type Film,
  type Infection,
  type Pest,
} from '../world/life.ts'
import { chanceFrom, type Chance } from '../world/random.ts'
import { change, hour, MIXES, pour, SOLUTES, tankOf, trulyIn, type Solute, type Tank } from '../world/tank.ts'

const HOUR = 3_600_000
/** One meq/L of alkalinity in dKH. */
export const DKH_PER_MEQ = 2.804
/** The vessel of a practice house, and the tub beside it. */
export const TANK_ID = 'practice'
export const TUB_ID = 'practice-tub'
export const COURSE_ID = 'practice-course'

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
  /** Agent whose level is followed. */
  readonly agent: string | null
  hours: number
  airOffUntil: number
  readonly trace: TruthPoint[]
}

/** A chance of one hour and one purpose: what a keeper does elsewhere does not change it. */
const roll = ({ seed }: Pick<Begun, 'seed'>, purpose: number, h: number): Chance =>
  chanceFrom(
    (Math.imul(seed + 1, 0x9e3779b1) ^ Math.imul(purpose + 7, 0x85ebca6b) ^ Math.imul(h + 3, 0xc2b2ae35)) >>> 0,
  )

const document = (register: string, id: string, body: object, ms: number): RegisterDocument =>
  ({ register, id, revision: 1, savedAt: instantOf(ms), body, history: [] }) as unknown as RegisterDocument

const volumeOf = ({ boxCm: [length, width, height], sandCm = 0, rockKg = 0 }: PracticeTank) =>
  boxVolume(length!, width!, height!, Math.max(4, Math.min(12, height! / 6)), 3, {
    ...(sandCm > 0 ? { substrateDepthCm: { value: sandCm, sd: 0.5 } } : {}),
    ...(rockKg > 0 ? { rockMassKg: { value: rockKg, sd: rockKg / 10 } } : {}),
  })

/** A bottle of a form, by the middle of the strengths that its labels state. */
function bottleOf(formId: string, ms: number): RegisterDocument {
  const form = agentForm(formId)
  if (!form) throw new Error(`There is no form “${formId}”.`)
  const strength = form.strengths[0]!
  const mg = form.id.startsWith('copper') ? 10 : Math.sqrt(strength.min * strength.max)
  const STRENGTHS: Readonly<Record<string, object>> = {
    'mg-per-mL': { basis: 'mg-per-mL', mgPerMl: Number(mg.toPrecision(2)) },
    'w/v': { basis: 'w/v', percent: Number((mg / 10).toPrecision(2)) },
    'w/w': { basis: 'w/w', percent: 37, densityGPerMl: 1.09 },
    powder: { basis: 'powder', mgPerG: Number(mg.toPrecision(3)) },
    'per-tablet': { basis: 'per-tablet', mgPerTablet: Number(mg.toPrecision(2)) },
    'per-drop': { basis: 'per-drop', mgPerDrop: Number(mg.toPrecision(2)) },
  }
  return document(
    'product',
    `bottle-${formId}`,
    {
      name: form.label.slice(0, 80),
      form: formId,
      strength: STRENGTHS[strength.basis],
      confirmedAt: instantOf(ms),
      expiresOn: instantOf(ms + 800 * 24 * HOUR).slice(0, 10),
      ...(formId.startsWith('copper') ? { labelBand: { minMgPerL: form.band.min, maxMgPerL: form.band.max } } : {}),
    },
    ms,
  )
}

/**
 * The record that a practice begins with: a vessel, its animals, bottles and kits, and the course where there is one.
 * @throws Error with a sentence where the tank cannot be: an unknown form, protocol or group
 */
export function practiceRecord({ definition, startMs, zone }: Begun): KeeperRecord {
  const before = startMs - 24 * HOUR
  const vessel = (id: string, name: string, order: number) =>
    document(
      'vessel',
      id,
      {
        name,
        purpose: definition.display === true && id === TANK_ID ? 'display' : 'quarantine',
        water: definition.water,
        nominalL: Math.round((definition.boxCm[0]! * definition.boxCm[1]! * definition.boxCm[2]!) / 1000),
        sortOrder: order,
        volume: volumeOf(definition),
        bindingMedia: 'none',
        volumeConfirmedAt: instantOf(before),
        startedAt: instantOf(startMs - 400 * 24 * HOUR),
      },
      before,
    )
  const residents = definition.animals.map(({ name, group, count = 1 }, i) =>
    document(
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
      'temperature',
    ]),
  ]
  const instruments = readable.map((analyte) => {
    const kit = kitFor(analyte, chanceFrom(1), false)
    return document(
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
    ...(protocol
      ? [
          document(
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
  const chance = roll(begun, 1, 0)
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
    else if ((SOLUTES as readonly string[]).includes(what)) tank.solutes[what as Solute] = value
    else tank.drugs.set(what, value)
  }
  const kits = new Map<string, Kit>()
  for (const { body } of record.instruments.values()) {
    const kit = kitFor(body.analyte, chance, false)
    kits.set(body.analyte, { ...kit, bias: truth.kits?.[body.analyte] ?? kit.bias })
  }
  const animals = definition.animals.map(({ name, kind, count = 1 }, i) => ({
    id: `animal-${i + 1}`,
    name,
    kind,
    living: count,
    begun: count,
  }))
  const fish = animals.filter(({ kind }) => kind === 'fish')
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
    agent: form?.agent ?? null,
    hours: 0,
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

/** Share of the animals of one kind that an hour in this water takes, by what harms them. Rough, and told so. */
function deathPerHour(world: PracticeWorld, animal: Animal): number {
  const { tank, infection } = world
  const copper = tank.drugs.get('copper') ?? 0
  const free = trulyIn(tank, 'ammonia-free')
  let share = 0
  if (free > 0.08) share += 0.004 * (free / 0.08) ** 2
  if (tank.oxygenMgL < 4) share += 0.02 * (4 - tank.oxygenMgL)
  if (tank.temperatureC > 31) share += 0.01 * (tank.temperatureC - 31)
  if (animal.kind === 'fish') {
    const load = infection?.onFish.get(animal.id) ?? 0
    share += (infection?.id === 'velvet' ? 0.006 : 0.0008) * (load / 300) ** 2
    const most = copperCeiling(world)
    if (copper > most) share += 0.006 * (copper / most - 1)
  } else {
    if (copper > 0.05) share += 0.15
    if (animal.kind === 'coral' && tank.solutes.alkalinity < 2) share += 0.002
    if (animal.kind === 'coral' && world.pest) share += 0.00002 * (world.pest.adults + world.pest.young)
  }
  return Math.min(1, share)
}

/** One hour of the house. */
export function passHour(world: PracticeWorld): void {
  const { begun, tank, other, infection, pest, film } = world
  world.hours += 1
  const h = world.hours
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
  if (tank.on.get('light') === false) tank.solutes.nitrate += (tank.truth.usePerDay.nitrate ?? 0) / 24
  // The dead are taken out: they make no more ammonia.
  const atFirst = world.animals.reduce((sum, one) => sum + one.begun, 0)
  const now = world.animals.reduce((sum, one) => sum + one.living, 0)
  if (atFirst > 0)
    tank.ammoniaMgL = Math.max(0, tank.ammoniaMgL - (tank.truth.wasteMgPerDay / 24 / tank.litres) * (1 - now / atFirst))
  if (h < world.airOffUntil) tank.oxygenMgL = Math.max(2.5, tank.oxygenMgL - 0.9)
  const living = world.animals.filter(({ kind, living: count }) => kind === 'fish' && count > 0)
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
    if ((tank.drugs.get('fenbendazole') ?? 0) > 0.05) {
      const toll = roll(begun, 7, h)
      pest.adults -= toll.of(pest.adults, 0.06)
      pest.young -= toll.of(pest.young, 0.08)
    }
  }
  if (film) grow(film, tank, tank.on.get('light') === false ? 0 : 1)
  for (const animal of world.animals) {
    if (animal.living === 0) continue
    const dead = roll(begun, 100 + hash(animal.id), h).of(animal.living, deathPerHour(world, animal))
    animal.living -= dead
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
  if (entry.kind === 'equipment') at.on.set(entry.item, entry.on)
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
  if (entry.kind === 'done' && /heat|warm|°C/i.test(entry.what)) {
    const to = /(\d+(?:\.\d+)?)\s*°C(?!.*°C)/.exec(entry.what)?.[1]
    if (to !== undefined) at.heaterC = Number(to)
  }
}
/** What hands did, and what was found by it. */
export function handOf(world: PracticeWorld, hand: Hand): number {
  const { tank, pest, begun } = world
  if (hand.does === 'heater' && hand.value !== undefined) tank.heaterC = hand.value
  if (hand.does === 'light') tank.on.set('light', hand.value !== 0)
  if (hand.does === 'air') world.airOffUntil = -1
  if (hand.does === 'round' && pest)
    return treatPest(pest, 0.85, 0.2, 0.9, roll(begun, 8, Math.floor(hand.atMs / HOUR)))
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
    if (animal.living < animal.begun)
      seen.push({
        animalId: animal.id,
        words:
          animal.begun === 1 ? `${animal.name} is dead.` : `${animal.name}: ${animal.living} of ${animal.begun} live.`,
      })
    if (animal.living === 0) continue
    const load = infection?.onFish.get(animal.id) ?? 0
    if (animal.kind === 'fish' && load > 60 && chance.happens(0.5)) {
      seen.push({ animalId: animal.id, words: `${animal.name} hides and does not come out.`, sign: 'hides-more' })
      continue
    }
    if (infection && animal.kind === 'fish' && shows(infection, animal.id, chance))
      seen.push({
        animalId: animal.id,
        words: `${animal.name}: ${SIGN_WORDS[infection.id]}.`,
        sign: PARASITES[infection.id].sign,
      })
    else if (
      overCopper(world) ||
      trulyIn(tank, 'ammonia-free') > 0.06 ||
      tank.oxygenMgL < 4.5 ||
      (infection?.id === 'velvet' && load > 40)
    )
      seen.push({ animalId: animal.id, words: `${animal.name} breathes fast.`, sign: 'breath-fast' })
    else if (animal.living === animal.begun)
      seen.push({ animalId: animal.id, words: `${animal.name}: nothing to see.` })
  }
  if (pest) {
    const found = chance.of(pest.adults + pest.young, 0.06)
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
