// The demonstration: an invented keeper mid-story, built from core's own model so that readings obey the chemistry.
import { roundToStep } from '../dosing/dose.ts'
import { normalFrom, randomFrom, SimulatedTank } from '../level/simulate.ts'
import { demoArrival } from './demoArrival.ts'
import { demoOutbreaks } from './demoOutbreaks.ts'
import { demoPictures } from './demoPictures.ts'
import { demoTransfer } from './demoTransfer.ts'
import { demoWater } from './demoWater.ts'
import { rateOfHalfLife } from '../level/curve.ts'
import { protocolOf } from '../knowledge/library.ts'
import { protocolHash } from '../knowledge/protocols.ts'
import { recordOf, compareEntries } from '../record/account.ts'
import { defaultSettings } from '../record/settings.ts'
import type { Entry, KeeperRecord, RegisterDocument, VesselBody } from '../record/types.ts'
import { addDays, atHourOfDay, dayOf, instantOf } from '../time/time.ts'
import { MS_PER_HOUR } from '../units/quantity.ts'
import { freeFromTotal } from '../water/ammonia.ts'
import { netVolume, type VolumeInputs } from '../water/netVolume.ts'

export interface DemoOptions {
  readonly seed: number
  /** The instant that is "now": the copper course is on its ninth day then. */
  readonly anchorMs: number
  readonly zone: string
  readonly locale?: string
}

const exact = (value: number, sd = 0) => ({ value, sd })
/** Inputs of a bare box tank, cm and mm, with the doubt of a tape measure. */
export function boxVolume(
  lengthCm: number,
  widthCm: number,
  heightCm: number,
  glassMm: number,
  gapCm: number,
  more: Partial<VolumeInputs> = {},
): VolumeInputs {
  return {
    shape: { kind: 'box', lengthCm, widthCm, heightCm },
    glassCm: exact(glassMm / 10, 0.05),
    bottomGlassCm: exact(glassMm / 10, 0.05),
    fillGapCm: exact(gapCm, 0.5),
    substrateDepthCm: exact(0),
    substratePorosity: exact(0.42, 0.03),
    rockMassKg: exact(0),
    rockDensityKgPerL: exact(1.8, 0.25),
    rockPorosity: exact(0.3, 0.1),
    equipmentL: exact(0),
    sumpL: exact(0),
    plumbingL: exact(0),
    dimensionSdCm: 0.3,
    ...more,
  }
}

const COPPER_KIT = { step: 0.01, relativeError: 0.03 }

/**
 * Longshore lies fallow, its fish are on day 9 of copper in Holding A under the pause school, after a water change
 * without make-up cost them most of two days. Holding B transfers between two tubs; Fernwater and Tub wait for what comes next.
 * Deterministic for a seed and an anchor; nothing in it lies after the anchor.
 */
export function demoRecord({ seed, anchorMs, zone, locale = 'en-GB' }: DemoOptions): KeeperRecord {
  const random = randomFrom(seed)
  const normal = normalFrom(random)
  const today = dayOf(anchorMs, zone)
  const at = (day: number, hour: number) => atHourOfDay(addDays(today, day), hour, zone)
  const documents: RegisterDocument[] = []
  const entries: Entry[] = []
  const document = (
    register: RegisterDocument['register'],
    id: string,
    body: RegisterDocument['body'],
    savedMs: number,
  ) =>
    documents.push({
      register,
      id,
      revision: 1,
      savedAt: instantOf(savedMs),
      body,
      history: [],
    } as unknown as RegisterDocument)
  let sequence = 0
  const entry = (ms: number, kind: Entry['kind'], fields: object) => {
    if (ms > anchorMs) return
    sequence++
    entries.push({
      kind,
      id: `demo-${String(sequence).padStart(5, '0')}`,
      at: instantOf(ms),
      zone,
      recordedAt: instantOf(Math.min(anchorMs, ms + 120_000)),
      ...fields,
    } as unknown as Entry)
  }

  const began = at(-420, 12)
  const vessel = (
    id: string,
    sortOrder: number,
    body: Omit<VesselBody, 'sortOrder' | 'startedAt' | 'volumeConfirmedAt'>,
    startedMs = began,
  ) =>
    document(
      'vessel',
      id,
      { ...body, sortOrder, startedAt: instantOf(startedMs), volumeConfirmedAt: instantOf(startedMs) },
      startedMs,
    )
  vessel(
    'longshore',
    1,
    {
      name: 'Longshore',
      purpose: 'display',
      water: 'marine',
      nominalL: 310,
      bindingMedia: 'rock',
      evaporationLPerDay: 3.2,
      volume: boxVolume(120, 50, 52, 12, 3, {
        substrateDepthCm: exact(2, 0.5),
        rockMassKg: exact(38, 4),
        sumpL: exact(42, 3),
        plumbingL: exact(3, 1),
      }),
      sitter: {
        topUp: 'Blue can of fresh water, to the tape on the sump; never salt water.',
        also: 'Skimmer cup out when full.',
      },
    },
    at(-760, 12),
  )
  const holdingVolume = boxVolume(60, 36, 36, 5, 3, { equipmentL: exact(0.6, 0.3) })
  vessel(
    'holding-a',
    2,
    {
      name: 'Holding A',
      purpose: 'quarantine',
      water: 'marine',
      nominalL: 75,
      bindingMedia: 'none',
      volume: holdingVolume,
      sitter: { food: 'The bag of the day, thawed, in two halves; what is left after ten minutes comes out.' },
    },
    at(-90, 10),
  )
  vessel(
    'holding-b',
    3,
    {
      name: 'Holding B',
      purpose: 'observation',
      water: 'marine',
      nominalL: 60,
      bindingMedia: 'none',
      volume: boxVolume(60, 30, 34, 5, 3),
    },
    at(-90, 11),
  )
  vessel(
    'holding-b-second',
    6,
    {
      name: 'Holding B, second tub',
      purpose: 'transfer',
      water: 'marine',
      nominalL: 60,
      bindingMedia: 'none',
      volume: boxVolume(60, 30, 34, 5, 3),
    },
    at(-90, 11),
  )
  vessel(
    'tub',
    4,
    {
      name: 'Tub',
      purpose: 'intake',
      water: 'marine',
      nominalL: 45,
      bindingMedia: 'none',
      volume: boxVolume(55, 38, 24, 4, 3),
    },
    at(-60, 11),
  )
  vessel('fernwater', 5, {
    name: 'Fernwater',
    purpose: 'display',
    water: 'fresh',
    nominalL: 96,
    bindingMedia: 'sand',
    volume: boxVolume(80, 35, 36, 6, 2.5, {
      substrateDepthCm: exact(5, 0.7),
      rockMassKg: exact(4, 1),
      rockDensityKgPerL: exact(2.4, 0.2),
      rockPorosity: exact(0.05, 0.03),
    }),
  })

  const resident = (
    id: string,
    vesselId: string,
    group: string,
    name: string,
    commonName: string,
    scientificName: string,
    count = 1,
    arrivedMs = at(-200, 15),
  ) =>
    document(
      'resident',
      id,
      { name, commonName, scientificName, group, count, vesselId, arrivedAt: instantOf(arrivedMs) },
      arrivedMs,
    )
  const fish = ['clown-large', 'clown-small', 'azure-damsel']
  resident('clown-large', 'longshore', 'hg-clown-damsel', 'Larger clown', 'Ocellaris clownfish', 'Amphiprion ocellaris')
  resident(
    'clown-small',
    'longshore',
    'hg-clown-damsel',
    'Smaller clown',
    'Ocellaris clownfish',
    'Amphiprion ocellaris',
  )
  resident('azure-damsel', 'longshore', 'hg-clown-damsel', 'Azure damsel', 'Azure damselfish', 'Chrysiptera hemicyanea')
  resident('hammer', 'longshore', 'hg-coral', 'Hammer', 'Hammer coral', 'Euphyllia ancora')
  resident('toadstool', 'longshore', 'hg-coral', 'Toadstool', 'Toadstool leather coral', 'Sarcophyton glaucum')
  resident('cleaner', 'longshore', 'hg-shrimp', 'Cleaner shrimp', 'Skunk cleaner shrimp', 'Lysmata amboinensis')
  resident('trochus', 'longshore', 'hg-snail', 'Trochus snails', 'Trochus snail', 'Trochus histrio', 6)
  resident('gramma', 'holding-b', 'hg-goby-blenny', 'Royal gramma', 'Royal gramma', 'Gramma loreto', 1, at(-6, 16))
  resident('montipora', 'tub', 'hg-coral', 'Orange digitata', 'Finger montipora', 'Montipora digitata', 1, at(-20, 16))
  resident('cherry', 'fernwater', 'hg-shrimp', 'Cherry shrimps', 'Cherry shrimp', 'Neocaridina davidi', 40)
  resident('rasboras', 'fernwater', 'hg-small-fresh', 'Rasboras', 'Harlequin rasbora', 'Trigonostigma heteromorpha', 8)
  resident('fern', 'fernwater', 'hg-plant', 'Java fern', 'Java fern', 'Microsorum pteropus', 5)

  document(
    'product',
    'copper-main',
    {
      name: 'Copper, blue label',
      form: 'copper-chelated-high',
      strength: { basis: 'mg-per-mL', mgPerMl: 10 },
      labelBand: { minMgPerL: 2, maxMgPerL: 2.5 },
      confirmedAt: instantOf(at(-14, 19)),
      expiresOn: addDays(today, 400),
      sizeAmount: 250,
      openedAt: instantOf(at(-9, 18)),
    },
    at(-14, 19),
  )
  document(
    'product',
    'copper-drawer',
    {
      name: 'Copper from the drawer',
      form: 'copper-amine',
      strength: { basis: 'mg-per-mL', mgPerMl: 5 },
      note: 'Label half gone.',
    },
    at(-80, 19),
  )
  document(
    'instrument',
    'copper-meter',
    {
      name: 'Copper photometer',
      analyte: 'copper',
      method: 'photometer',
      step: COPPER_KIT.step,
      relativeError: COPPER_KIT.relativeError,
      readsForms: ['copper-chelated-high', 'copper-chelated', 'copper-amine'],
      checkedAt: instantOf(at(-13, 20)),
    },
    at(-80, 19),
  )
  document(
    'instrument',
    'ammonia-drops',
    { name: 'Ammonia drop test', analyte: 'ammonia-total', method: 'drop-kit', step: 0.1, relativeError: 0.15 },
    at(-80, 19),
  )
  document(
    'instrument',
    'ammonia-badge',
    {
      name: 'Ammonia badge',
      analyte: 'ammonia-free',
      method: 'badge',
      step: 0.02,
      relativeError: 0.5,
      ammoniaForm: 'nh3_n',
    },
    at(-80, 19),
  )
  document(
    'instrument',
    'ph-meter',
    {
      name: 'pH meter',
      analyte: 'ph',
      method: 'probe',
      step: 0.01,
      relativeError: 0.005,
      checkedAt: instantOf(at(-12, 20)),
    },
    at(-80, 19),
  )
  document(
    'instrument',
    'thermometer',
    { name: 'Probe thermometer', analyte: 'temperature', method: 'thermometer', step: 0.1, relativeError: 0.005 },
    at(-80, 19),
  )
  document(
    'instrument',
    'refractometer',
    { name: 'Refractometer', analyte: 'salinity', method: 'refractometer', step: 1, relativeError: 0.01 },
    at(-80, 19),
  )

  // Longshore: white spot seen, fish caught, display fallow since.
  entry(at(-13, 20.2), 'sign', {
    vesselId: 'longshore',
    sign: 'spots-salt-grain',
    present: true,
    residentId: 'clown-small',
  })
  for (const [i, id] of fish.entries())
    entry(at(-12, 14 + i * 0.3), 'move', { vesselId: 'longshore', residentId: id, toVesselId: 'holding-a' })
  const fallow = protocolOf('fallow-display-76')!
  document(
    'course',
    'fallow-longshore',
    {
      protocolId: fallow.id,
      protocolHash: protocolHash(fallow),
      protocol: fallow as unknown as Record<string, unknown>,
      variant: 'days-76',
      clockSchool: 'strict',
      vesselId: 'longshore',
      products: {},
      instruments: {},
      residents: [],
      parameters: {},
      startedAt: instantOf(at(-12, 15)),
      dailyHour: 19.5,
      warningsAccepted: [],
    },
    at(-12, 15),
  )

  // Nets: the one of Longshore was lent to Holding A and never made safe, so the fallow is at risk.
  const gear = (id: string, name: string, sort: string, homeVesselId: string | null) =>
    document('gear', id, { name, sort, homeVesselId } as RegisterDocument['body'], at(-80, 18))
  gear('net-green', 'Green net', 'net', 'longshore')
  gear('net-white', 'White net', 'net', 'holding-a')
  gear('cup-tub', 'Sampling cup', 'container', 'tub')
  entry(at(-12, 14.9), 'gear', { gearId: 'net-white', act: 'wet', vesselId: 'holding-a' })
  entry(at(-12, 16), 'gear', { gearId: 'net-green', act: 'disinfected' })
  entry(at(-2, 20.5), 'gear', { gearId: 'net-green', act: 'wet', vesselId: 'holding-a' })

  // Tub: a coral in its third week of the ten with dips.
  const intake = protocolOf('coral-intake-70-dips')!
  const intakeMs = at(-20, 17)
  document(
    'course',
    'intake-tub',
    {
      protocolId: intake.id,
      protocolHash: protocolHash(intake),
      protocol: intake as unknown as Record<string, unknown>,
      variant: 'usual',
      clockSchool: 'strict',
      vesselId: 'tub',
      products: {},
      instruments: { thermometer: 'thermometer' },
      residents: ['montipora'],
      parameters: {},
      startedAt: instantOf(intakeMs),
      dailyHour: 18,
      warningsAccepted: [],
    },
    intakeMs,
  )
  const tub = { vesselId: 'tub', courseId: 'intake-tub' }
  // Three walks along the corals of Longshore: the toadstool shuts, sheds and comes back.
  const well = { colour: 2, tissue: 0, bare: 0, extension: 4, slime: 0 }
  for (const [day, toadstool] of [
    [-15, {}],
    [-8, { extension: 0, slime: 2 }],
    [-2, { extension: 3 }],
  ] as const) {
    entry(at(day, 18.6), 'state', { vesselId: 'longshore', residentId: 'hammer', aspects: well })
    entry(at(day, 18.62), 'state', {
      vesselId: 'longshore',
      residentId: 'toadstool',
      aspects: { ...well, ...toadstool },
    })
    entry(at(day, 18.65), 'done', { vesselId: 'longshore', what: 'Walked along two corals' })
  }
  entry(at(-6, 19), 'note', { vesselId: 'longshore', residentId: 'toadstool', mark: 'shed' })
  for (const [day, found] of [
    [0, 3],
    [4, 1],
    [8, 1],
    [12, 0],
    [16, 0],
  ] as const) {
    const ms = intakeMs + day * 24 * MS_PER_HOUR + 0.5 * MS_PER_HOUR
    const session = `intake-tub/dip/${[0, 4, 8, 12, 16].indexOf(day)}`
    const piece = 'Orange digitata'
    ;(['arrive', 'dip', 'rinse', 'rinse', 'rinse', 'count', 'hold'] as const).forEach((stage, i) =>
      entry(ms + i * 90_000, 'done', {
        ...tub,
        what: `${piece}: ${stage}`,
        step: `${session}/${i}`,
        bench: {
          piece,
          act: 'stage',
          stage,
          air: 'small-polyp',
          residentId: 'montipora',
          ...(stage === 'count' ? { finds: { mobiles: found, eggs: 0 } } : {}),
        },
      }),
    )
    entry(ms + 7 * 90_000, 'done', {
      ...tub,
      what: `${piece}: back in its place`,
      step: `${session}/7`,
      bench: { piece, act: 'back', residentId: 'montipora' },
    })
    entry(ms + 8 * 90_000, 'done', { ...tub, what: `Dip or inspect, day ${day}: one piece`, step: session })
  }
  for (let day = -19; day < 0; day++) {
    entry(at(day, 18.2), 'done', { ...tub, what: 'Walked round the coral', step: `intake-tub/walk/${day + 20}` })
    entry(at(day, 8.4), 'reading', {
      ...tub,
      analyte: 'temperature',
      value: Number((25.2 + 0.15 * Math.sin(day)).toFixed(1)),
      unit: '°C',
      bound: 'exact',
      instrumentId: 'thermometer',
    })
    if (day % 3 === 0)
      entry(at(day, 9), 'reading', {
        ...tub,
        analyte: 'alkalinity',
        value: Number((8.3 - 0.06 * ((day + 21) % 6)).toFixed(1)),
        unit: 'dKH',
        bound: 'exact',
      })
    if (day % 3 === -1)
      entry(at(day, 21), 'done', {
        ...tub,
        what: 'Looked at night with a red light',
        step: `intake-tub/night/${Math.round((day + 20) / 3)}`,
      })
  }

  // Holding A: the copper course.
  const copper = protocolOf('copper-in-place-30')!
  const startMs = at(-9, 18.5)
  document(
    'course',
    'copper-holding-a',
    {
      protocolId: copper.id,
      protocolHash: protocolHash(copper),
      protocol: copper as unknown as Record<string, unknown>,
      variant: 'ramp-slow',
      clockSchool: 'pause',
      vesselId: 'holding-a',
      products: { copper: 'copper-main' },
      instruments: { 'copper-test': 'copper-meter', 'ammonia-test': 'ammonia-drops' },
      residents: fish,
      parameters: {},
      startedAt: instantOf(startMs),
      dailyHour: 19,
      warningsAccepted: [copper.clock!.pauseWarning],
    },
    startMs,
  )
  const course = { vesselId: 'holding-a', courseId: 'copper-holding-a' }
  const geometry = netVolume(holdingVolume)
  const net = geometry.ok ? geometry.value.litres : 70
  const tank = new SimulatedTank({ volumeL: net * 0.955, lossPerHour: rateOfHalfLife(27 * 24), bias: 0.008 }, random)
  const hour = (ms: number) => (ms - startMs) / MS_PER_HOUR
  const pour = (ms: number, millilitres: number) => {
    if (ms > anchorMs) return
    tank.dose(hour(ms), millilitres * 10)
    entry(ms, 'dose', {
      ...course,
      productId: 'copper-main',
      amount: millilitres,
      unit: 'mL',
      measureStep: millilitres <= 5 ? 0.2 : 1,
    })
  }
  const measure = (ms: number): number => {
    if (ms > anchorMs) return 0
    const value = Number(tank.read(hour(ms), COPPER_KIT).toFixed(2))
    entry(ms, 'reading', {
      ...course,
      analyte: 'copper',
      value,
      unit: 'mg/L',
      bound: 'exact',
      instrumentId: 'copper-meter',
      entered: { text: String(value), value, unit: 'mg/L' },
    })
    return value
  }
  const doseTo = (ms: number, target: number, shown: number) => {
    const millilitres = ((target - shown) * net) / 10
    pour(ms, roundToStep(millilitres, millilitres <= 5 ? 0.2 : 1))
  }
  for (const gate of ['media-out', 'no-invertebrates', 'baseline', 'reserve'])
    entry(startMs + 60_000, 'gate', { ...course, gate, passed: true })
  entry(at(-9, 18.55), 'equipment', { ...course, item: 'carbon', on: false })
  const ammonia = [0.1, 0.1, 0.2, 0.3, 0.3, 0.2, 0.2, 0.1, 0.1, 0.1]
  for (let day = 0; day <= 9; day++) {
    const date = day - 9
    if (day > 0) {
      entry(at(date, 8.1), 'meal', { ...course, took: day === 2 ? 'tried' : 'took', food: 'mysis, half ration' })
      entry(at(date, 8.3), 'reading', {
        ...course,
        analyte: 'temperature',
        value: Number((25.3 + 0.2 * normal()).toFixed(1)),
        unit: '°C',
        bound: 'exact',
        instrumentId: 'thermometer',
      })
    }
    entry(at(date, 19.7), 'meal', { ...course, took: 'took', food: 'flake, half ration' })
    // Watched three times a day; on day 5 only at the meal.
    for (const [look, hours, minutes] of [
      ['dawn', 8, 10],
      ['feeding', 19.8, 10],
      ['torch', 21.5, 10],
    ] as const)
      if (day > 0 && (day !== 5 || look === 'feeding') && day < 9)
        entry(at(date, hours), 'done', {
          ...course,
          what: `Looked for ${minutes} min, nothing odd`,
          watched: { look, minutes },
        })
    if (day === 0)
      entry(at(date, 21.5), 'done', { ...course, what: 'Torch look', watched: { look: 'day', minutes: 30 } })
    for (const [i, id] of fish.entries())
      if (day > 0 && day % 2 === 0)
        entry(at(date, 8.05) + i * 300_000, 'count', {
          ...course,
          what: 'gill-beats',
          count: 84 + 6 * i + ((day * 5 + i * 3) % 9),
          residentId: id,
        })
    entry(at(date, 18.2), 'reading', {
      ...course,
      analyte: 'ammonia-total',
      value: ammonia[day]!,
      unit: 'mg/L',
      bound: 'exact',
      instrumentId: 'ammonia-drops',
    })
    const ph = 8.06 + 0.01 * ((day * 3) % 5)
    entry(at(date, 18.1), 'reading', {
      ...course,
      analyte: 'ph',
      value: Number(ph.toFixed(2)),
      unit: 'pH',
      bound: 'exact',
      instrumentId: 'ph-meter',
    })
    // The badge is looked at each day but one, and not yet today.
    if (day !== 4 && day < 9) {
      const free = freeFromTotal(ammonia[day]!, { phNbs: ph, tempC: 25.3, salinityPsu: 35 })
      const steps = Math.round(free / 0.02)
      entry(at(date, 18.15), 'reading', {
        ...course,
        analyte: 'ammonia-free',
        value: 0.02 * Math.max(1, steps),
        unit: 'mg/L',
        bound: steps === 0 ? 'below' : 'exact',
        instrumentId: 'ammonia-badge',
      })
    }
  }
  const ramp = [0.75, 1.25, 1.75, 2.25]
  let shown = 0
  ramp.forEach((target, day) => {
    if (day > 0) shown = measure(at(day - 9, 18.3))
    doseTo(at(day - 9, 18.9), target, shown)
  })
  entry(at(-7, 20.4), 'sign', { ...course, sign: 'flashing', present: true, residentId: 'clown-small' })
  shown = measure(at(-5, 18.4))
  if (shown < 2.2) doseTo(at(-5, 18.8), 2.3, shown)
  measure(at(-4, 18.4))
  // Day 6: a third of the water changed, and the make-up forgotten.
  if (at(-3, 11) <= anchorMs) tank.change(hour(at(-3, 11)), 0.35)
  entry(at(-3, 11), 'change', { ...course, fraction: 0.35, note: 'Make-up forgotten.' })
  shown = measure(at(-2, 18.4))
  doseTo(at(-2, 19), 2.12, shown)
  measure(at(-1, 18.5))

  // The quiet vessels.
  entry(at(-6, 16.5), 'note', { vesselId: 'holding-b', note: 'Royal gramma in; eats frozen on the first evening.' })
  entry(at(-3, 9), 'reading', { vesselId: 'tub', analyte: 'alkalinity', value: 8.1, unit: 'dKH', bound: 'exact' })
  entry(at(-5, 9), 'reading', { vesselId: 'fernwater', analyte: 'nitrate', value: 15, unit: 'mg/L', bound: 'exact' })
  entry(at(-1, 9.2), 'reading', {
    vesselId: 'longshore',
    analyte: 'temperature',
    value: 25.4,
    unit: '°C',
    bound: 'exact',
    instrumentId: 'thermometer',
  })
  for (let day = -11; day < 0; day++) {
    entry(at(day, 19.6), 'done', {
      vesselId: 'longshore',
      courseId: 'fallow-longshore',
      what: 'Fed the empty display',
      step: `fallow-longshore/feed-filter/${day + 12}`,
    })
  }
  // A start that is meant: a second intake that must not hold the display up.
  document(
    'planned',
    'planned-intake',
    {
      protocolId: 'tank-transfer-72',
      vesselId: 'holding-b',
      startsOn: addDays(today, 26),
    } as unknown as RegisterDocument['body'],
    at(-3, 20),
  )
  // Four findings, each as far as a keeper came in an evening.
  const finding = (id: string, title: string, pool: string, vesselId: string, day: number, residentId?: string) =>
    document(
      'finding',
      id,
      {
        title,
        pool,
        vesselId,
        ...(residentId === undefined ? {} : { residentId }),
        startedAt: instantOf(at(day, 17)),
        struck: [],
        refused: [],
      } as unknown as RegisterDocument['body'],
      at(day, 17),
    )
  const looked = (
    findingId: string,
    vesselId: string,
    day: number,
    seen: readonly string[],
    not: readonly string[],
    residentId?: string,
  ) => {
    for (const [i, sign] of [...seen, ...not].entries())
      entry(at(day, 17) + (i + 1) * 60_000, 'sign', {
        vesselId,
        ...(residentId === undefined ? {} : { residentId }),
        sign,
        present: i < seen.length,
        findingId,
      })
  }
  finding('finding-gramma', 'Royal gramma in Holding B', 'fish-marine', 'holding-b', 0, 'gramma')
  looked('finding-gramma', 'holding-b', 0, ['flashing', 'breath-fast'], ['slime-sheet'], 'gramma')
  finding('finding-film', 'Brown film in Longshore', 'surface-marine', 'longshore', -2)
  looked('finding-film', 'longshore', -2, ['col-rust-brown', 'baster-lifts', 'back-in-24h'], ['tex-mat-peels'])
  entry(at(-2, 9), 'reading', { vesselId: 'longshore', analyte: 'nitrate', value: 0.5, unit: 'mg/L', bound: 'exact' })
  entry(at(-2, 9.1), 'reading', {
    vesselId: 'longshore',
    analyte: 'phosphate',
    value: 0.01,
    unit: 'mg/L',
    bound: 'exact',
  })
  finding('finding-tufts', 'Tufts on leaves in Fernwater', 'surface-fresh', 'fernwater', -4)
  looked('finding-tufts', 'fernwater', -4, ['tex-tuft-point', 'col-black-grey'], [])
  finding('finding-coral', 'Orange digitata in Tub', 'coral', 'tub', -1, 'montipora')
  looked(
    'finding-coral',
    'tub',
    -1,
    ['recession-base', 'one-colony-only'],
    ['recession-fast', 'brown-jelly-mass'],
    'montipora',
  )
  demoArrival({ anchorMs, document, entry })
  demoOutbreaks({ at, document, entry })
  demoPictures({ at, entry, document })
  demoTransfer({ at, document, entry })
  demoWater({ at, document, entry }, normal)
  return recordOf(
    { ...defaultSettings(zone, locale), safetyReadAt: instantOf(at(-90, 9)) },
    documents,
    entries.sort(compareEntries),
  )
}
