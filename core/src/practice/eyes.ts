// What is seen of a practice tank: by a look, by a kit, through a microscope; never the truth itself.
import { ammoniaPka, freeAmmoniaShare } from '../water/ammonia.ts'
import type { Measure } from '../outbreak/measures.ts'
import { bagAt } from './bag.ts'
import type { Counted } from './press.ts'
import { kitFor, readWith, type Shown } from '../world/instruments.ts'
import { PARASITES, shows, type Infection } from '../world/life.ts'
import { chanceFrom } from '../world/random.ts'
import { rateOf } from '../world/rates.ts'
import { trulyIn } from '../world/tank.ts'
import { roll, hash } from './luck.ts'
import { bagOf, filmOf, overCopper, type Animal, type PracticeWorld } from './tank.ts'

const MINUTE = 60_000

/** What a kit shows now; the same press again in the same hour shows the same. */
export function kitShows(world: PracticeWorld, analyte: string, nth: number): Shown {
  const kit = world.kits.get(analyte) ?? kitFor(analyte, chanceFrom(1), false)
  return readWith(kit, trulyIn(world.tank, analyte), roll(world.begun, 1000 + hash(analyte) + nth, world.hours))
}

/** Kits that a standard is sold for. */
const STANDARDS = {
  copper: 'standard-copper',
  'ammonia-total': 'standard-ammonia-total',
  nitrate: 'standard-nitrate',
  phosphate: 'standard-phosphate',
  alkalinity: 'standard-alkalinity',
  calcium: 'standard-calcium',
  magnesium: 'standard-magnesium',
  salinity: 'standard-salinity',
  ph: 'standard-ph',
} as const
/** A kit held against a standard: what stands on its bottle, and what the kit shows of it. Null where there is none. */
export function standardShows(
  world: PracticeWorld,
  analyte: string,
  nth: number,
): { readonly holds: number; readonly shown: Shown } | null {
  const kit = world.kits.get(analyte)
  if (!kit || !(analyte in STANDARDS)) return null
  const holds = rateOf(STANDARDS[analyte as keyof typeof STANDARDS])
  return { holds, shown: readWith(kit, holds, roll(world.begun, 2000 + hash(analyte) + nth, world.hours)) }
}

export interface Seen {
  readonly animalId?: string
  readonly words: string
  /** A sign that it is, to be written down. */
  readonly sign?: string
  /** How many of it live, where some have died. */
  readonly living?: number
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
        living: animal.living,
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
          : found === 1
            ? `One of the ${begun.definition.truth.pest!.what} in sight.`
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
/**
 * What a count finds now, as it is written down; null where the tank holds nothing of that kind, and an empty list where
 * there is nothing to count, as in a jar for which no worm was caught. The same count in the same hour finds the same.
 */
export function countsOf(world: PracticeWorld, measure: Measure): Counted[] | null {
  const { film, pest, jar, animals, begun, hours } = world
  const chance = roll(begun, 12 + hash(measure.id), hours)
  const has = (id: string) => measure.fields.some((field) => field.id === id)
  if (measure.per === 'jar') {
    if (!pest) return null
    if (!jar) return []
    const { moving, begun: caught } = jar
    const dosed = {
      'small-alive': moving.small,
      'small-dead': caught.small - moving.small,
      'large-alive': moving.large,
      'large-dead': caught.large - moving.large,
    }
    const undosed = { 'small-alive': caught.small, 'small-dead': 0, 'large-alive': caught.large, 'large-dead': 0 }
    return [
      { piece: 'dosed', values: dosed },
      { piece: 'undosed', values: undosed },
    ]
  }
  if (has('worms'))
    return pest ? [{ values: { worms: chance.of(pest.young + pest.adults, rateOf('trap-takes')) } }] : null
  if (has('mobiles')) {
    if (!pest) return null
    const pieces = animals.filter(({ kind, bag }) => kind === 'coral' && bag === null)
    const each = (pest.young + pest.adults) / Math.max(1, pieces.length)
    return pieces.map(({ name }) => ({
      piece: name,
      values: { mobiles: chance.of(Math.round(each), rateOf('lens-finds')) },
    }))
  }
  if (has('seen')) {
    const corals = animals.filter(({ kind, bag }) => kind === 'coral' && bag === null)
    const [all, living] = [corals.reduce((n, one) => n + one.begun, 0), corals.reduce((n, one) => n + one.living, 0)]
    return all === 0 ? null : [{ values: { seen: living, missing: all - living } }]
  }
  if (!film) return null
  const all = filmOf(film)
  if (has('points')) return [{ values: { points: chance.of(100, Math.min(1, all)) } }]
  if (!has('dinoflagellate') || all < 0.01) return null
  const drop = dropOf(world)!.counts
  const dinoflagellate = drop['dinoflagellates'] ?? 0
  return has('diatom')
    ? [
        {
          values: {
            diatom: drop['diatoms'] ?? 0,
            green: drop['greens'] ?? 0,
            dinoflagellate,
            cyanobacteria: drop['cyanobacteria'] ?? 0,
          },
        },
      ]
    : [{ values: { dinoflagellate, rest: 100 - dinoflagellate } }]
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
