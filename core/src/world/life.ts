// What lives unseen: parasites on each fish by stages, pests by stages, a film of growths that compete. Rough, seeded,
// and independent of everything that judges them.
import type { Chance } from './random.ts'
import { rateOf } from './rates.ts'
import { trulyIn, type Tank } from './tank.ts'

export type ParasiteId = 'white-spot' | 'velvet' | 'flukes' | 'brooklynella'
interface ParasiteKind {
  /** Days on the fish, in the water or on the floor before it swarms, at 25 °C; how many swarm from one. */
  readonly onFish: number
  readonly offFish: number
  readonly young: number
  /** Days a swarmer lives. */
  readonly swarmer: number
  /** Share of what is on the fish that one sees in a good look. */
  readonly visible: number
  readonly sign: string
  /** Share of swarmers a therapeutic level kills in an hour, by what kills them. */
  readonly killedBy: (tank: Tank) => { swarmers: number; onFish: number }
}
const over = (tank: Tank, agent: string, level: number): boolean => (tank.drugs.get(agent) ?? 0) >= level
const lowSalt = (tank: Tank): boolean => trulyIn(tank, 'salinity') <= rateOf('low-salinity-kills-to')
/** Copper or chloroquine at a level that kills swarmers. */
const inDrug = (tank: Tank): boolean =>
  over(tank, 'copper', rateOf('copper-kills-from')) || over(tank, 'chloroquine', rateOf('chloroquine-kills-from'))
const stagesOf = (id: ParasiteId) => ({
  onFish: rateOf(`${id}-on-fish`),
  offFish: rateOf(`${id}-off-fish`),
  young: rateOf(`${id}-young`),
  swarmer: rateOf(`${id}-swarmer`),
  visible: rateOf(`${id}-visible`),
})
export const PARASITES: Readonly<Record<ParasiteId, ParasiteKind>> = {
  'white-spot': {
    ...stagesOf('white-spot'),
    sign: 'spots-salt-grain',
    killedBy: (tank) => ({
      swarmers: inDrug(tank) || lowSalt(tank) ? rateOf('white-spot-swarmers-killed') : 0,
      onFish: 0,
    }),
  },
  velvet: {
    ...stagesOf('velvet'),
    sign: 'dust-fine',
    killedBy: (tank) => ({ swarmers: inDrug(tank) ? rateOf('velvet-swarmers-killed') : 0, onFish: 0 }),
  },
  flukes: {
    ...stagesOf('flukes'),
    sign: 'flashing',
    killedBy: (tank) => ({
      swarmers: lowSalt(tank) ? rateOf('flukes-swarmers-killed') : 0,
      onFish: over(tank, 'praziquantel', rateOf('praziquantel-kills-from'))
        ? rateOf('flukes-on-fish-killed')
        : lowSalt(tank)
          ? rateOf('flukes-on-fish-salt')
          : 0,
    }),
  },
  brooklynella: {
    ...stagesOf('brooklynella'),
    sign: 'slime-sheet',
    killedBy: (tank) => ({
      swarmers: 0,
      onFish: over(tank, 'formalin', rateOf('formalin-kills-from')) ? rateOf('brooklynella-on-fish-killed') : 0,
    }),
  },
}
export interface Infection {
  readonly id: ParasiteId
  readonly onFish: Map<string, number>
  offFish: number
  swarmers: number
}

/** An hour of one parasite among the fish of a tank. */
export function infect(infection: Infection, tank: Tank, fish: readonly string[], chance: Chance): void {
  const kind = PARASITES[infection.id]
  const pace = 2 ** ((trulyIn(tank, 'temperature') - 25) / 8) / 24
  const kill = kind.killedBy(tank)
  let dropped = 0
  for (const [id, count] of infection.onFish) {
    const dead = chance.of(count, kill.onFish)
    const leaving = chance.of(count - dead, pace / kind.onFish)
    dropped += leaving
    infection.onFish.set(id, count - dead - leaving)
  }
  const hatching = chance.of(infection.offFish, pace / kind.offFish)
  infection.offFish += dropped - hatching
  infection.swarmers += Math.round(hatching * kind.young)
  infection.swarmers -= chance.of(infection.swarmers, Math.min(1, kill.swarmers + pace / kind.swarmer))
  if (fish.length === 0) return
  const landing = chance.of(infection.swarmers, rateOf('swarmers-land'))
  infection.swarmers -= landing
  for (let i = 0; i < landing; i++) {
    const id = fish[Math.floor(chance.next() * fish.length)]!
    const now = infection.onFish.get(id) ?? 0
    // A fish that carried them becomes hard to settle on.
    if (now < rateOf('most-on-a-fish')) infection.onFish.set(id, now + 1)
  }
}
/** Whether one look at a fish shows it. */
export const shows = (infection: Infection, fishId: string, chance: Chance): boolean =>
  chance.happens(1 - (1 - PARASITES[infection.id].visible * 0.1) ** (infection.onFish.get(fishId) ?? 0))
/** Everything of it that still lives. */
export const alive = (infection: Infection): number =>
  infection.offFish + infection.swarmers + [...infection.onFish.values()].reduce((sum, count) => sum + count, 0)

/** A pest by daily stages on pieces: eggs that no dip reaches, young, adults. */
export interface Pest {
  eggs: number
  young: number
  adults: number
  readonly eggDays: number
  readonly youngDays: number
  readonly eggsPerDay: number
}
export function breed(pest: Pest, chance: Chance): void {
  const hatched = chance.of(pest.eggs, 1 / (24 * pest.eggDays))
  const grown = chance.of(pest.young, 1 / (24 * pest.youngDays))
  pest.eggs += chance.of(Math.max(0, pest.adults) * 24, pest.eggsPerDay / (24 * 24)) - hatched
  pest.young += hatched - grown
  pest.adults += grown - chance.of(pest.adults, 1 / (24 * rateOf('adult-days')))
}
/** A round over the pieces, as it is usually done: what it takes of each stage. Answers how many of them were found. */
export function workOver(pest: Pest, chance: Chance): number {
  const young = chance.of(pest.young, rateOf('round-kills'))
  const adults = chance.of(pest.adults, rateOf('round-kills'))
  pest.young -= young
  pest.adults -= adults
  pest.eggs -= chance.of(pest.eggs, rateOf('round-takes-eggs'))
  return chance.of(young + adults, rateOf('round-shows'))
}

/** Growths that share light, nutrients and room; each a share of the cover. */
export interface Film {
  diatoms: number
  dinoflagellates: number
  cyanobacteria: number
  greens: number
}
/** An hour of the film: logistic growth into what room is left, each with what it needs. */
export function grow(film: Film, tank: Tank, light: number): void {
  const room = Math.max(0, 1 - film.diatoms - film.dinoflagellates - film.cyanobacteria - film.greens)
  const { silicate, nitrate, phosphate } = tank.solutes
  const half = (value: number, at: number) => value / (value + at)
  const step = (cover: number, perDay: number, lossPerDay: number) =>
    Math.max(0, cover + (cover * (perDay * room - lossPerDay)) / 24)
  const food = Math.min(half(nitrate, rateOf('nitrate-half')), half(phosphate, rateOf('phosphate-half')))
  const lost = rateOf('films-lost')
  film.diatoms = step(
    film.diatoms,
    rateOf('diatoms-grow') * light * half(silicate, rateOf('silicate-half')) * food,
    lost,
  )
  film.dinoflagellates = step(
    film.dinoflagellates,
    rateOf('dinoflagellates-grow') * light * (0.4 + 0.6 * (1 - food)),
    lost,
  )
  film.cyanobacteria = step(
    film.cyanobacteria,
    rateOf('cyanobacteria-grow') * light * half(phosphate, 0.03) * (1 - 0.5 * half(nitrate, 5)),
    lost,
  )
  film.greens = step(film.greens, rateOf('greens-grow') * light * food, rateOf('greens-lost'))
}
