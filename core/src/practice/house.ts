// What a made-up house is furnished with: the record that its keeper begins with, bottles by what their labels state.
import {
  agentForm,
  agentForms,
  defaultSettings,
  instantOf,
  newCourseBody,
  protocolOf,
  recordOf,
  type KeeperRecord,
  type RegisterDocument,
} from '../index.ts'
import { boxVolume } from '../demo/demoRecord.ts'
import type { PracticeTank } from '../generated/practiceTypes.ts'
import { kitFor } from '../world/instruments.ts'
import { chanceFrom } from '../world/random.ts'

const HOUR = 3_600_000
const DAY = 24 * HOUR

export const documentOf = (register: string, id: string, body: object, ms: number): RegisterDocument =>
  ({ register, id, revision: 1, savedAt: instantOf(ms), body, history: [] }) as unknown as RegisterDocument

/**
 * A bottle of a form, by the middle of the strengths that its labels state.
 * @throws Error with a sentence for an unknown form
 */
export function bottleOf(formId: string, ms: number): RegisterDocument {
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
  return documentOf(
    'product',
    `bottle-${formId}`,
    {
      name: form.label.slice(0, 80),
      form: formId,
      strength: STRENGTHS[strength.basis],
      confirmedAt: instantOf(ms),
      expiresOn: instantOf(ms + 800 * DAY).slice(0, 10),
      ...(formId.startsWith('copper') ? { labelBand: { minMgPerL: form.band.min, maxMgPerL: form.band.max } } : {}),
    },
    ms,
  )
}

/** One meq/L of alkalinity in dKH. */
export const DKH_PER_MEQ = 2.804
/** The vessel of a practice house, and the tub beside it. */
export const TANK_ID = 'practice'
export const TUB_ID = 'practice-tub'
export const COURSE_ID = 'practice-course'
/** What came with the carrier. */
export const ARRIVAL_ID = 'practice-arrival'
export interface Begun {
  readonly definition: PracticeTank
  readonly seed: number
  readonly startMs: number
  readonly zone: string
}
/** Warmth of a room that nothing is said of, °C. */
export const ROOM_C = 22
export const bagId = (place: number): string => `bag-${place + 1}`

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
