// A tank with a truth of its own, in steps of an hour: water, drugs, salts, nitrogen, warmth and air. Whoever plans for it
// sees only what is read from it.
import { agents as AGENTS } from '../generated/knowledge/agents.ts'
import type { AgentForm } from '../generated/agentTypes.ts'
import type { Chance } from './random.ts'

/** Salts and nutrients in solution. Alkalinity meq/L, salinity PSU, the rest mg/L. */
export const SOLUTES = [
  'salinity',
  'alkalinity',
  'calcium',
  'magnesium',
  'potassium',
  'silicate',
  'nitrate',
  'phosphate',
] as const
export type Solute = (typeof SOLUTES)[number]
export type Mix = Readonly<Record<Solute, number>>

/** Water as it comes out of the mixing bin. Sea water of 35 PSU; tap of middle hardness. */
export const MIXES: Readonly<Record<'marine' | 'fresh', Mix>> = {
  marine: {
    salinity: 35,
    alkalinity: 2.9,
    calcium: 420,
    magnesium: 1300,
    potassium: 400,
    silicate: 0.1,
    nitrate: 0,
    phosphate: 0,
  },
  fresh: {
    salinity: 0.2,
    alkalinity: 1.8,
    calcium: 50,
    magnesium: 10,
    potassium: 3,
    silicate: 2,
    nitrate: 5,
    phosphate: 0.05,
  },
}

export interface Truth {
  readonly water: 'marine' | 'fresh'
  /** True net water, L: what the keeper's measures may miss by a fifth. */
  readonly netL: number
  readonly evaporationLPerDay: number
  /** Share of copper that rock and sand take up in a day, and of what they hold that comes back. */
  readonly bindsPerDay: number
  readonly releasesPerDay: number
  /** What corals and rock use in a day, units of each solute. */
  readonly usePerDay: Partial<Record<Solute, number>>
  /** Ammonia made by the animals and their food, mg N a day over the whole tank. */
  readonly wasteMgPerDay: number
  /** What a full-grown filter can take away, mg N a day. */
  readonly filterMgPerDay: number
  readonly roomC: number
  /** Half the swing of a day, °C. */
  readonly swingC: number
}

export interface Tank {
  readonly truth: Truth
  readonly chance: Chance
  hours: number
  litres: number
  solutes: Record<Solute, number>
  /** mg/L of each agent in the water, and what rock holds of it, mg per litre of the tank. */
  drugs: Map<string, number>
  bound: Map<string, number>
  /** Share of its half-life range each agent has in this tank. */
  readonly losses: Map<string, number>
  /** As what each agent went in: one of a food goes otherwise than one of a bottle. */
  readonly forms: Map<string, string>
  ammoniaMgL: number
  /** Filter from 0 to 1. */
  filter: number
  temperatureC: number
  heaterC: number
  oxygenMgL: number
  on: Map<string, boolean>
}

const FORMS: readonly AgentForm[] = AGENTS
const formOf = (agent: string): AgentForm | undefined => FORMS.find((form) => form.agent === agent)

/** A tank that was filled with fresh mix and has run in. */
export function tankOf(truth: Truth, chance: Chance): Tank {
  return {
    truth,
    chance,
    hours: 0,
    litres: truth.netL,
    solutes: { ...MIXES[truth.water] },
    drugs: new Map(),
    bound: new Map(),
    losses: new Map(),
    forms: new Map(),
    ammoniaMgL: 0.01,
    filter: 1,
    temperatureC: truth.roomC,
    heaterC: truth.roomC,
    oxygenMgL: 6.8,
    on: new Map(),
  }
}

/** Loss of an agent per hour: within its published half-lives, where this tank lies among them. */
function lossPerHour(tank: Tank, agent: string): number {
  const form = FORMS.find(({ id }) => id === tank.forms.get(agent)) ?? formOf(agent)
  const range = form?.halfLifeDays
  if (!range) return 0
  let place = tank.losses.get(agent)
  if (place === undefined) {
    place = tank.chance.next()
    tank.losses.set(agent, place)
  }
  const days = range.low * (range.high / range.low) ** place
  const carbon = tank.on.get('carbon') === true && agent !== 'salt' ? Math.LN2 / 10 : 0
  return Math.LN2 / (24 * days) + carbon
}

/** One hour of the tank. */
export function hour(tank: Tank): void {
  const { truth, chance, solutes } = tank
  tank.hours += 1
  // Water goes, salt stays, and the top-off puts fresh water back once a day.
  const evaporated = truth.evaporationLPerDay / 24
  const before = tank.litres
  tank.litres = Math.max(0.5 * truth.netL, before - evaporated)
  concentrate(tank, before / tank.litres)
  if (tank.hours % 24 === 0) topOff(tank)
  for (const [agent, level] of tank.drugs) {
    let next = level * Math.exp(-lossPerHour(tank, agent))
    if (agent === 'copper' && truth.bindsPerDay > 0) {
      const held = tank.bound.get(agent) ?? 0
      const down = (next * truth.bindsPerDay) / 24
      const up = (held * truth.releasesPerDay) / 24
      tank.bound.set(agent, held + down - up)
      next += up - down
    }
    tank.drugs.set(agent, next)
  }
  for (const [solute, perDay] of Object.entries(truth.usePerDay) as [Solute, number][])
    solutes[solute] = Math.max(0, solutes[solute] - perDay / 24)
  // Ammonia: made, and taken by a filter that saturates and that some drugs harm.
  const made = truth.wasteMgPerDay / 24 / tank.litres
  const taken = ((tank.filter * truth.filterMgPerDay) / 24 / tank.litres) * (tank.ammoniaMgL / (tank.ammoniaMgL + 0.1))
  tank.ammoniaMgL = Math.max(0, tank.ammoniaMgL + made - taken)
  solutes.nitrate += taken * 4.43
  const harm = [...tank.drugs].some(
    ([agent, level]) => harmsFilter(agent) && level > 0.3 * (formOf(agent)?.band.min ?? Infinity),
  )
  tank.filter = Math.min(1, Math.max(0.05, tank.filter + (harm ? -0.004 : 0.003 * tank.filter)))
  const day = (tank.hours % 24) / 24
  const goal = tank.heaterC + truth.swingC * Math.sin(2 * Math.PI * (day - 0.35))
  tank.temperatureC += 0.25 * (goal - tank.temperatureC) + chance.normal(0, 0.03)
  const full = 14.6 - 0.41 * tank.temperatureC + 0.008 * tank.temperatureC ** 2 - 0.035 * solutes.salinity
  tank.oxygenMgL += 0.3 * (full - 0.4 * (harm ? 2 : 1) - tank.oxygenMgL)
}

const harmsFilter = (agent: string): boolean => formOf(agent)?.nitrifiers !== undefined

function concentrate(tank: Tank, times: number): void {
  for (const solute of SOLUTES) tank.solutes[solute] *= times
  for (const [agent, level] of tank.drugs) tank.drugs.set(agent, level * times)
  tank.ammoniaMgL *= times
}

/** Fresh water up to the mark. */
export function topOff(tank: Tank): void {
  const times = tank.litres / tank.truth.netL
  tank.litres = tank.truth.netL
  concentrate(tank, times)
}

/** Something poured in, mg of the active, in the form it has in its bottle. */
export function pour(tank: Tank, agent: string, mg: number, formId?: string): void {
  if (formId !== undefined) tank.forms.set(agent, formId)
  tank.drugs.set(agent, (tank.drugs.get(agent) ?? 0) + mg / tank.litres)
}

/** A change of so many litres with new water that holds this. */
export function change(
  tank: Tank,
  litres: number,
  { mix = MIXES[tank.truth.water], drugs = new Map() }: { mix?: Mix; drugs?: ReadonlyMap<string, number> } = {},
): void {
  const share = Math.min(1, litres / tank.litres)
  for (const solute of SOLUTES) tank.solutes[solute] += share * (mix[solute] - tank.solutes[solute])
  const names = new Set([...tank.drugs.keys(), ...drugs.keys()])
  for (const agent of names) {
    const level = tank.drugs.get(agent) ?? 0
    tank.drugs.set(agent, level + share * ((drugs.get(agent) ?? 0) - level))
  }
  tank.ammoniaMgL *= 1 - share
}

/** What the water truly holds of something that can be read, canonical units. */
export function trulyIn(tank: Tank, analyte: string): number {
  if (analyte === 'temperature') return tank.temperatureC
  if (analyte === 'ammonia-total') return tank.ammoniaMgL
  if (analyte === 'ammonia-free') return tank.ammoniaMgL * 0.06
  if (analyte === 'oxygen') return tank.oxygenMgL
  if (analyte === 'ph') return tank.truth.water === 'marine' ? 8.1 : 7.4
  if ((SOLUTES as readonly string[]).includes(analyte)) return tank.solutes[analyte as Solute]
  return tank.drugs.get(analyte) ?? 0
}
