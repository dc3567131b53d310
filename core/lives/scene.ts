// A house for one life: a vessel whose true volume nobody knows, its animals, bottles, kits, and the course begun.
import {
  agentForms,
  defaultSettings,
  groups,
  netVolume,
  newCourseBody,
  recordOf,
  instantOf,
  type KeeperRecord,
  type Protocol,
  type RegisterDocument,
} from '@brinvo/core'
import { boxVolume } from '@brinvo/core/demo'
import { bottleOf, documentOf } from '../src/practice/house.ts'
import { chanceFrom, type Chance } from '../src/world/random.ts'
import { kitFor, type Kit } from '../src/world/instruments.ts'
import { tankOf, type Tank } from '../src/world/tank.ts'
import type { Infection, Pest } from '../src/world/life.ts'

export const ZONE = 'Europe/Berlin'
/** The eve of summer time lies nine days ahead: every life of two weeks crosses it. */
export const START = Date.parse('2026-03-20T08:20:00Z')
const HOUR = 3_600_000

export interface World {
  readonly chance: Chance
  readonly tank: Tank
  readonly other: Tank
  readonly kits: Map<string, Kit>
  readonly infection: Infection
  readonly pest: Pest
  /** Cover of what grows, 0 to 1; falls as the keeper works. */
  growth: number
}
export interface Scene {
  readonly record: KeeperRecord
  readonly world: World
  readonly courseId: string
  readonly vesselId: string
  /** Litres the keeper's measures say. */
  readonly saidL: number
}
export interface SceneOptions {
  readonly protocol: Protocol
  readonly seed: number
  /** Volume misdescribed, kits that are off: a house as it is. */
  readonly messy: boolean
  readonly variantId?: string
  /** The kit was held against a standard, and is right. */
  readonly checked?: boolean
}

/** The day before it begins everything is in the house. */
const EVE = START - 24 * HOUR
const document = (register: string, id: string, body: object) => documentOf(register, id, body, EVE)

/** An animal the protocol is made for. */
function animalsFor(protocol: Protocol, vesselId: string): RegisterDocument[] {
  const fresh = protocol.water === 'fresh'
  const GROUPS: Readonly<Record<string, string>> = {
    fish: fresh ? 'hg-labyrinth' : 'hg-tang',
    coral: 'hg-coral',
    invertebrate: fresh ? 'hg-shrimp' : 'hg-snail',
    plant: 'hg-plant',
  }
  const kinds = protocol.purpose === 'fallow' ? [] : protocol.hosts?.length ? protocol.hosts : ['fish']
  return kinds.flatMap((kind, i) => {
    const group = groups.find(({ id }) => id === GROUPS[kind]) ?? groups.find((one) => one.kind === (kind as string))
    return group
      ? [
          document('resident', `animal-${i + 1}`, {
            name: `Animal ${i + 1}`,
            commonName: group.label,
            group: group.id,
            count: 1,
            vesselId,
            arrivedAt: instantOf(START - 48 * HOUR),
          }),
        ]
      : []
  })
}

/** A house with the course begun, and the world behind it. */
export function sceneFor({ protocol, seed, messy, variantId, checked = false }: SceneOptions): Scene {
  const chance = chanceFrom(seed * 7919 + 13)
  const water = protocol.water === 'fresh' ? ('fresh' as const) : ('marine' as const)
  const purpose = protocol.purpose === 'campaign' ? 'display' : 'quarantine'
  const volume = netVolume(boxVolume(60, 36, 36, 5, 3))
  if (!volume.ok) throw new Error('The box has no volume.')
  const saidL = volume.value.litres
  const netL = saidL * (messy ? 1 + Math.max(-0.2, Math.min(0.2, chance.normal(0, 0.08))) : 1 + chance.normal(0, 0.01))
  const vessel = (id: string, name: string) =>
    document('vessel', id, {
      name,
      purpose,
      water,
      nominalL: 78,
      sortOrder: 0,
      volume: boxVolume(60, 36, 36, 5, 3),
      bindingMedia: 'none',
      volumeConfirmedAt: instantOf(START - 24 * HOUR),
      startedAt: '2024-01-01T00:00:00.000Z',
    })
  const truth = {
    water,
    netL,
    evaporationLPerDay: chance.between(0.3, 1.2),
    bindsPerDay: purpose === 'display' && messy ? 0.1 : messy ? 0.02 : 0,
    releasesPerDay: 0.05,
    usePerDay:
      purpose === 'display' && water === 'marine'
        ? {
            alkalinity: 0.1,
            calcium: 2,
            magnesium: 0.3,
            potassium: 0.5,
            nitrate: 0.2,
            phosphate: 0.004,
            silicate: 0.02,
          }
        : {},
    wasteMgPerDay: 8,
    filterMgPerDay: 40,
    roomC: protocol.id.startsWith('heat') ? 26 : 25.4,
    swingC: chance.between(0.1, 0.5),
  }
  const kits = new Map<string, Kit>()
  const instruments = protocol.instrumentRoles.map(({ id, analyte }) => {
    const kit = kitFor(analyte, chance, messy && !checked)
    kits.set(analyte, kit)
    return document('instrument', `kit-${id}`, {
      name: `Kit ${analyte}`,
      analyte,
      method: 'other',
      step: kit.step,
      relativeError: kit.relative,
      // Nobody held a messy keeper's kit against a standard.
      ...(messy && !checked ? {} : { checkedAt: instantOf(START - 24 * HOUR) }),
      ...(analyte === 'copper'
        ? { readsForms: agentForms.filter(({ agent }) => agent === 'copper').map(({ id: form }) => form) }
        : {}),
    })
  })
  const forms = [...new Set(protocol.productRoles.map(({ forms: [first] }) => first!))]
  const residents = animalsFor(protocol, 'box')
  const body = newCourseBody({
    protocol,
    vesselId: 'box',
    startMs: START,
    zone: ZONE,
    residents: residents.map(({ id }) => id),
    dailyHour: 19,
    ...(variantId === undefined ? {} : { variantId }),
    parameters: Object.fromEntries(
      (protocol.parameters ?? []).flatMap(({ id, min, default: usual }) => (usual === undefined ? [[id, min]] : [])),
    ),
    products: Object.fromEntries(protocol.productRoles.map(({ id, forms: [first] }) => [id, `bottle-${first}`])),
    instruments: Object.fromEntries(protocol.instrumentRoles.map(({ id }) => [id, `kit-${id}`])),
    vessels: Object.fromEntries((protocol.vesselRoles ?? []).map(({ id }) => [id, 'second'])),
  })
  const settings = {
    ...defaultSettings(ZONE),
    safetyReadAt: instantOf(START - 72 * HOUR),
    law: { country: 'Here', answers: Object.fromEntries(agentForms.map(({ agent }) => [agent, 'lawful' as const])) },
  }
  const record = recordOf(
    settings,
    [
      vessel('box', 'The box'),
      vessel('second', 'The second'),
      ...forms.map((form) => bottleOf(form, EVE)),
      ...instruments,
      ...residents,
      documentOf('course', 'course', body, START),
    ],
    [],
  )
  return {
    record,
    courseId: 'course',
    vesselId: 'box',
    saidL,
    world: {
      chance,
      tank: tankOf(truth, chance),
      other: tankOf({ ...truth, netL: saidL }, chance),
      kits,
      infection: {
        id: 'white-spot',
        onFish: new Map(residents.slice(0, 1).map(({ id }) => [id, 4])),
        offFish: 2,
        swarmers: 20,
      },
      pest: { eggs: 30, young: 12, adults: 8, eggDays: 6, youngDays: 8, eggsPerDay: 0.4 },
      growth: 0.4,
    },
  }
}
