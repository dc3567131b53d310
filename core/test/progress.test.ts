// Conditions, rules and the reading of the ledger as a level model, one by one, on small records.
import { describe, expect, test } from '@jest/globals'
import {
  activeEntries,
  changedShare,
  concernsOf,
  conditionTime,
  courseBand,
  courseContext,
  courseInputs,
  courseProgress,
  defaultSettings,
  dosedForms,
  doseWish,
  exitTicks,
  estimateCourse,
  hoursToNextTest,
  instantOf,
  kitOf,
  levelModelOf,
  leastDays,
  plan,
  planCourse,
  pouredMass,
  protocolLibrary,
  protocolOf,
  recordOf,
  runningCourses,
  valueFor,
  vesselVolume,
  warmDays,
  type PhaseCondition,
  type CourseBody,
  type CourseEstimate,
  type Entry,
  type KeeperRecord,
  type Protocol,
  type RegisterDocument,
} from '@brinvo/core'
import { boxVolume } from '@brinvo/core/demo'

const HOUR = 3_600_000
const DAY = 24 * HOUR
const START = Date.parse('2026-05-01T08:00:00Z')
const ZONE = 'Europe/Berlin'

const document = (register: string, id: string, body: object, savedMs = START): RegisterDocument =>
  ({ register, id, revision: 1, savedAt: instantOf(savedMs), body, history: [] }) as unknown as RegisterDocument

interface Setup {
  entries?: readonly object[]
  course?: Partial<CourseBody>
  bottle?: object
  vessel?: object
  protocol?: Protocol
  /** Hour at which the course was written down; at its start where left out. */
  writtenH?: number
  /** Whether the molly that lives with the fish is kept as a sentinel. */
  sentinel?: boolean
}
let sequence = 0
/** Hours after the start, and the fields of an entry in the vessel. */
const at = (hours: number, fields: object): object => ({
  id: `e-${String(++sequence).padStart(5, '0')}`,
  at: instantOf(START + hours * HOUR),
  zone: ZONE,
  recordedAt: instantOf(START + hours * HOUR + 1000),
  vesselId: 'tank',
  courseId: 'course',
  ...fields,
})
const copper = (hours: number, value: number, more: object = {}) =>
  at(hours, { kind: 'reading', analyte: 'copper', value, unit: 'mg/L', bound: 'exact', instrumentId: 'kit', ...more })
const dose = (hours: number, amount: number, more: object = {}) =>
  at(hours, { kind: 'dose', productId: 'bottle', amount, unit: 'mL', ...more })

function record({
  entries = [],
  course = {},
  bottle = {},
  vessel = {},
  protocol = protocolOf('copper-in-place-30')!,
  writtenH = 0,
  sentinel,
}: Setup = {}): KeeperRecord {
  const documents = [
    document('vessel', 'tank', {
      name: 'Tank',
      purpose: 'quarantine',
      water: 'marine',
      nominalL: 75,
      volume: boxVolume(60, 36, 36, 5, 3),
      volumeConfirmedAt: instantOf(START),
      bindingMedia: 'none',
      sortOrder: 1,
      startedAt: instantOf(START - 30 * DAY),
      ...vessel,
    }),
    document('vessel', 'other', {
      name: 'Other',
      purpose: 'display',
      water: 'marine',
      nominalL: 100,
      volume: boxVolume(80, 40, 40, 6, 3),
      volumeConfirmedAt: instantOf(START),
      bindingMedia: 'rock',
      sortOrder: 2,
      startedAt: instantOf(START - 30 * DAY),
    }),
    document('resident', 'fish', {
      name: 'Fish',
      commonName: 'Ocellaris clownfish',
      group: 'hg-clown-damsel',
      count: 1,
      vesselId: 'tank',
      arrivedAt: instantOf(START - DAY),
    }),
    ...(sentinel === undefined
      ? []
      : [
          document('resident', 'molly', {
            name: 'Molly',
            commonName: 'Black molly',
            group: 'hg-small-fresh',
            count: 1,
            vesselId: 'tank',
            arrivedAt: instantOf(START - DAY),
            sentinel,
          }),
        ]),
    document('product', 'bottle', {
      name: 'Bottle',
      form: 'copper-chelated-high',
      strength: { basis: 'mg-per-mL', mgPerMl: 10 },
      labelBand: { minMgPerL: 2, maxMgPerL: 2.5 },
      confirmedAt: instantOf(START),
      ...bottle,
    }),
    document('instrument', 'kit', {
      name: 'Kit',
      analyte: 'copper',
      method: 'photometer',
      step: 0.01,
      relativeError: 0.03,
      readsForms: ['copper-chelated-high'],
      // Held against a standard before it begins.
      checkedAt: instantOf(START - HOUR),
    }),
    document(
      'course',
      'course',
      {
        protocolId: protocol.id,
        protocolHash: 'x',
        protocol,
        variant: 'ramp-slow',
        clockSchool: 'strict',
        vesselId: 'tank',
        products: { copper: 'bottle' },
        instruments: { 'copper-test': 'kit' },
        residents: ['fish'],
        parameters: {},
        startedAt: instantOf(START),
        dailyHour: 19,
        warningsAccepted: [],
        ...course,
      },
      START + writtenH * HOUR,
    ),
  ]
  return recordOf(defaultSettings(ZONE), documents, entries as Entry[])
}
function look(setup: Setup, hours: number) {
  const made = record(setup)
  const active = activeEntries(made.entries)
  const course = made.courses.get('course')!
  const nowMs = START + hours * HOUR
  const context = courseContext(made, active, course, nowMs, null)
  return { made, active, course, nowMs, context, progress: courseProgress(context) }
}
/** Days that were watched in full, by day of the course. */
const watched = (...days: number[]) =>
  days.map((day) => at(day * 24, { kind: 'done', what: 'Watched', watched: { look: 'day', minutes: 30 } }))
const gates = ['media-out', 'no-invertebrates', 'baseline', 'reserve']
const passed = gates.map((gate) => at(0.1, { kind: 'gate', gate, passed: true }))

describe('conditions', () => {
  const when = (condition: PhaseCondition, setup: Setup, hours: number) => {
    const ms = conditionTime(condition, look(setup, hours).context, START)
    return ms === null ? null : (ms - START) / HOUR
  }
  const gatesPassed: PhaseCondition = { kind: 'gates-passed', gates: ['media-out', 'reserve'] }
  test('gates: the last yes counts, a later no takes it back', () => {
    expect(when(gatesPassed, { entries: [at(1, { kind: 'gate', gate: 'media-out', passed: true })] }, 5)).toBeNull()
    const both = [
      at(1, { kind: 'gate', gate: 'media-out', passed: true }),
      at(3, { kind: 'gate', gate: 'reserve', passed: true }),
    ]
    expect(when(gatesPassed, { entries: both }, 5)).toBe(3)
    expect(
      when(gatesPassed, { entries: [...both, at(4, { kind: 'gate', gate: 'media-out', passed: false })] }, 5),
    ).toBeNull()
    expect(when(gatesPassed, { entries: both.map((entry) => ({ ...entry, courseId: 'another' })) }, 5)).toBeNull()
  })
  test('elapsed hours are instants, from the phase, the course, or the last fish', () => {
    expect(when({ kind: 'elapsed', hours: 48, since: 'phase-start' }, {}, 47)).toBeNull()
    expect(when({ kind: 'elapsed', hours: 48, since: 'course-start' }, {}, 49)).toBe(48)
    expect(when({ kind: 'elapsed', hours: 10, since: 'last-host-out' }, {}, 100)).toBeNull()
    const moved = [at(20, { kind: 'move', residentId: 'fish', toVesselId: 'other' })]
    expect(when({ kind: 'elapsed', hours: 10, since: 'last-host-out' }, { entries: moved }, 31)).toBe(30)
  })
  test('warm days: by the coldest reading of each day, restarted by a cold one, not counted without one', () => {
    const kelvin = { ...protocolOf('fallow-45-warm')!, clock: undefined }
    const moved = at(0, { kind: 'move', residentId: 'fish', toVesselId: 'other' })
    const warm = (days: number[], value: number) =>
      days.map((day) =>
        at(day * 24 + 2, { kind: 'reading', analyte: 'temperature', value, unit: '°C', bound: 'exact' }),
      )
    const state = (
      condition: Extract<PhaseCondition, { kind: 'warm-days' }>,
      entries: readonly object[],
      hours: number,
    ) => warmDays(condition, look({ entries: [moved, ...entries], protocol: kelvin }, hours).context, START)
    const three: Extract<PhaseCondition, { kind: 'warm-days' }> = {
      kind: 'warm-days',
      role: 'thermometer',
      byTemperature: [{ fromC: 27, days: 3 }],
    }
    expect(state(three, warm([0, 1], 27.2), 60)).toMatchObject({ counted: 2, unread: 0, overMs: null })
    expect(state(three, warm([0, 1, 2], 27), 60).overMs).toBe(START + 50 * HOUR)
    // A day without a reading counts nothing, one a tenth too cold starts again only where that is asked.
    expect(state(three, warm([0, 1, 3], 27), 90)).toMatchObject({ counted: 3, unread: 1, overMs: START + 74 * HOUR })
    const cold = [...warm([0, 1, 3, 4], 27.5), ...warm([2], 26.9)]
    expect(state(three, cold, 110)).toMatchObject({ counted: 3, overMs: START + 74 * HOUR })
    expect(state({ ...three, colder: 'restarts' }, cold, 110)).toMatchObject({
      counted: 2,
      overMs: null,
      coldDay: '2026-05-03',
    })
    // Fresh-water white spot: seven days at 25, fourteen at 20, by the highest row that is reached.
    const ich = {
      ...three,
      byTemperature: [
        { fromC: 20, days: 14 },
        { fromC: 25, days: 7 },
      ],
    }
    expect(state(ich, [...warm([0, 1], 25), ...warm([2, 3, 4, 5], 24.9)], 150).share).toBeCloseTo(2 / 7 + 4 / 14, 9)
    expect(state({ ...ich, times: 2 }, warm([0, 1], 25), 60).share).toBeCloseTo(1 / 7, 9)
    const condition: PhaseCondition = { ...three, colder: 'restarts' }
    const setup = { entries: [moved, ...warm([0, 1, 2], 28)], protocol: kelvin }
    expect(when(condition, setup, 60)).toBe(50)
    expect(when(condition, { ...setup, entries: setup.entries.slice(1) }, 60)).toBeNull()
  })
  test('a reading inside its limits, so many in a row', () => {
    const low: PhaseCondition = { kind: 'reading', role: 'copper-test', atMost: 0.1, times: 2 }
    expect(when(low, { entries: [copper(1, 0.08)] }, 9)).toBeNull()
    expect(when(low, { entries: [copper(1, 0.08), copper(2, 0.3), copper(3, 0.05)] }, 9)).toBeNull()
    expect(when(low, { entries: [copper(1, 0.08), copper(4, 0.05)] }, 9)).toBe(4)
    expect(
      when({ kind: 'reading', role: 'copper-test', atLeast: 2 }, { entries: [copper(1, 2.5, { bound: 'below' })] }, 9),
    ).toBeNull()
    expect(
      when(
        { kind: 'reading', role: 'copper-test', atMost: { byForm: { 'copper-chelated-high': 0.1 } } },
        { entries: [copper(1, 0.1)] },
        9,
      ),
    ).toBe(1)
  })
  test('signs absent for days; a sign starts the days again', () => {
    const clean: PhaseCondition = { kind: 'signs-absent', days: 2 }
    const days = watched(1, 2, 3)
    expect(when(clean, { entries: days }, 40)).toBeNull()
    expect(when(clean, { entries: days }, 50)).toBe(48)
    const seen = [at(25, { kind: 'sign', sign: 'flashing', present: true }), ...days]
    expect(when(clean, { entries: seen }, 71)).toBeNull()
    expect(when(clean, { entries: seen }, 80)).toBe(73)
    expect(when(clean, { entries: [at(10, { kind: 'sign', sign: 'flashing', present: false }), ...days] }, 50)).toBe(48)
  })
  test('a day that was not watched in full does not count as one without signs', () => {
    const clean: PhaseCondition = { kind: 'signs-absent', days: 2 }
    const look = (hours: number, name: string, minutes: number) =>
      at(hours, { kind: 'done', what: 'Watched', watched: { look: name, minutes } })
    expect(when(clean, {}, 500)).toBeNull()
    expect(when(clean, { entries: watched(1, 4) }, 90)).toBeNull()
    expect(when(clean, { entries: watched(1, 4) }, 97)).toBe(96)
    // Thirty minutes over two looks are not enough, over three they are, and the same look twice is one.
    const two = [...watched(1), look(46, 'dawn', 20), look(48, 'dawn', 5), look(49, 'feeding', 10)]
    expect(when(clean, { entries: two }, 60)).toBeNull()
    expect(when(clean, { entries: [...two, look(50, 'torch', 5)] }, 60)).toBe(50)
    expect(
      when(clean, { entries: [...watched(1), ...['dawn', 'feeding', 'torch'].map((name) => look(48, name, 5))] }, 60),
    ).toBeNull()
    // Of a course that came off paper, the days before it was written down are believed.
    expect(when(clean, { writtenH: 72 }, 80)).toBe(48)
  })
  test('what a sentinel beside them shows is their sign too', () => {
    const clean: PhaseCondition = { kind: 'signs-absent', days: 2 }
    const entries = [at(25, { kind: 'sign', sign: 'flashing', present: true, residentId: 'molly' }), ...watched(1, 2)]
    expect(when(clean, { entries, sentinel: false }, 50)).toBe(48)
    expect(when(clean, { entries, sentinel: true }, 50)).toBeNull()
  })
  test('a sign on another animal, or on a film that is followed as a finding, is no sign of this course', () => {
    const clean: PhaseCondition = { kind: 'signs-absent', days: 2 }
    const sign = (fields: object) => [at(10, { kind: 'sign', sign: 'flashing', present: true, ...fields })]
    const days = watched(1, 2)
    expect(when(clean, { entries: [...sign({ findingId: 'film' }), ...days] }, 50)).toBe(48)
    expect(when(clean, { entries: [...sign({ residentId: 'somebody-else' }), ...days] }, 50)).toBe(48)
    expect(when(clean, { entries: [...sign({}), ...days] }, 50)).toBeNull()
  })
  test('intolerance: so many different signs, lately, and not taken back', () => {
    const abort: PhaseCondition = { kind: 'intolerance-signs', atLeast: 2, withinHours: 24 }
    const sign = (hours: number, name: string, present = true) => at(hours, { kind: 'sign', sign: name, present })
    expect(when(abort, { entries: [sign(1, 'intolerance-tilts'), sign(2, 'intolerance-tilts')] }, 5)).toBeNull()
    expect(when(abort, { entries: [sign(1, 'intolerance-tilts'), sign(2, 'intolerance-darkens')] }, 5)).toBe(2)
    expect(when(abort, { entries: [sign(1, 'intolerance-tilts'), sign(2, 'intolerance-darkens')] }, 40)).toBeNull()
    expect(
      when(
        abort,
        {
          entries: [sign(1, 'intolerance-tilts'), sign(2, 'intolerance-darkens'), sign(3, 'intolerance-tilts', false)],
        },
        5,
      ),
    ).toBeNull()
  })
  test('all is the latest, any the earliest, not is the opposite', () => {
    const early: PhaseCondition = { kind: 'elapsed', hours: 5, since: 'course-start' }
    const late: PhaseCondition = { kind: 'elapsed', hours: 20, since: 'course-start' }
    expect(when({ kind: 'all', of: [early, late] }, {}, 30)).toBe(20)
    expect(when({ kind: 'all', of: [early, late] }, {}, 10)).toBeNull()
    expect(when({ kind: 'any', of: [early, late] }, {}, 10)).toBe(5)
    expect(when({ kind: 'not', of: late }, {}, 10)).toBe(0)
    expect(when({ kind: 'not', of: early }, {}, 10)).toBeNull()
  })
  test('a clock that has not credited enough holds the phase', () => {
    expect(when({ kind: 'clock-credited', hours: 720 }, {}, 900)).toBeNull()
    const { made, active, course } = look({}, 0)
    const clock = {
      creditedH: 725,
      remainingH: 0,
      requiredH: 720,
      refusedH: 0,
      elapsedH: 800,
      intervals: [],
      resets: [],
      completeAtH: 790,
      earliestFinishH: 790,
      aboveH: 0,
      startedAtH: 10,
    }
    const context = courseContext(made, active, course, START + 800 * HOUR, clock)
    expect(conditionTime({ kind: 'clock-credited', hours: 720 }, context, START)).toBe(START + 790 * HOUR)
  })
})

describe('the band of the bottle', () => {
  const band = (setup: Setup) => courseBand(look(setup, 0).context)!
  test('is the label where it lies inside the form, else the form', () => {
    expect(band({})).toMatchObject({ floorMgPerL: 2, ceilingMgPerL: 2.5, hardMaxMgPerL: 2.8, targetMgPerL: 2.25 })
    expect(band({ bottle: { labelBand: { minMgPerL: 2.2, maxMgPerL: 2.4 } } })).toMatchObject({
      floorMgPerL: 2.2,
      ceilingMgPerL: 2.4,
    })
    expect(band({ bottle: { labelBand: undefined } })).toMatchObject({ floorMgPerL: 2, ceilingMgPerL: 2.5 })
  })
  test("a label of one number keeps the form's floor; the low end aims lower but never below it", () => {
    expect(band({ bottle: { form: 'copper-amine', labelBand: { minMgPerL: 0.5, maxMgPerL: 0.5 } } })).toMatchObject({
      floorMgPerL: 0.45,
      ceilingMgPerL: 0.5,
      targetMgPerL: 0.5,
    })
    expect(band({ course: { variant: 'ramp-low-end' } })).toMatchObject({ floorMgPerL: 2, targetMgPerL: 2.2 })
  })
  test('a form we do not know has no band, and the course no estimate', () => {
    const { made, active, course, nowMs } = look({ bottle: { form: 'something-else' } }, 1)
    expect(courseBand(look({ bottle: { form: 'something-else' } }, 0).context)).toBeNull()
    expect(courseInputs(made, active, course, nowMs)).toBeNull()
  })
  test('what is put on spots is held at no level', () => {
    const { made, active, course, nowMs } = look({}, 1)
    expect(courseInputs(made, active, course, nowMs)).not.toBeNull()
    const spots = {
      ...course,
      body: { ...course.body, protocol: { ...(course.body.protocol as object), campaign: { kind: 'spot' } } },
    } as never
    expect(courseInputs(made, active, spots, nowMs)).toBeNull()
  })
  test('values by form fall back to the strictest', () => {
    const { context } = look({}, 0)
    expect(valueFor({ byForm: { 'copper-chelated-high': 48, 'copper-ionic': 12 } }, context)).toBe(48)
    expect(valueFor({ byForm: { 'copper-ionic': 12, 'copper-amine': 24 } }, context)).toBe(12)
    expect(valueFor(7, context)).toBe(7)
  })
})

describe('the ledger as a level model', () => {
  const model = (setup: Setup, form = 'copper-chelated-high') => {
    const { made, active } = look(setup, 0)
    return levelModelOf(made, active, made.vessels.get('tank')!, form, START)!
  }
  test('doses through the product, changes by share or by litres, readings with their kit', () => {
    const litres = vesselVolume(record().vessels.get('tank')!)!.litres
    const { model: found, instrumentIds } = model({
      entries: [
        dose(1, 5),
        at(2, { kind: 'change', fraction: 0.3 }),
        at(3, { kind: 'change', removedL: litres / 4 }),
        copper(4, 0.6),
        at(5, { kind: 'topoff' }),
      ],
    })
    expect(found.events).toMatchObject([
      { kind: 'dose', tH: 1, massMg: 50, sdShare: 0.03 },
      { kind: 'change', fraction: 0.3, replacementMgPerL: 0 },
      { kind: 'change', fraction: expect.closeTo(0.25, 9) },
      { kind: 'topoff' },
    ])
    expect(found.readings).toMatchObject([{ tH: 4, mgPerL: 0.6, halfStepMgPerL: 0.005, relativeError: 0.03 }])
    expect(instrumentIds).toEqual(['kit'])
  })
  test('half a syringe step is the error where it is larger than 3 %', () => {
    expect(model({ entries: [dose(1, 1, { measureStep: 0.2 })] }).model.events[0]).toMatchObject({ sdShare: 0.1 })
  })
  test('dosed new water is not undosed water', () => {
    const made = model({
      entries: [at(2, { kind: 'change', fraction: 0.3, replacement: [{ productId: 'bottle', mgPerL: 2.2 }] })],
    })
    expect(made.model.events[0]).toMatchObject({ replacementMgPerL: 2.2 })
  })
  test('zero means below one step; a kit nobody registered is the usual one; a checked kit is trusted more', () => {
    expect(model({ entries: [copper(1, 0)] }).model.readings[0]).toMatchObject({ bound: 'below', mgPerL: 0.01 })
    expect(model({ entries: [copper(1, 1, { instrumentId: undefined })] }).instrumentIds).toEqual(['unregistered'])
    const made = record()
    const form = model({}).form
    expect(kitOf(made, form, 'kit', START).biasSd).toBe(0.018)
    // Sixty days later that says nothing any more, and of a kit nobody checked nothing is known at all.
    expect(kitOf(made, form, 'kit', START + 61 * 24 * HOUR).biasSd).toBe(0.075)
    expect(kitOf(made, form, undefined).biasSd).toBe(0.075)
    expect(kitOf(made, form, undefined)).toMatchObject({
      step: form.typicalKit.step,
      relativeError: form.typicalKit.relativeError,
    })
  })
  test('media run from in to out, binding only with media that bind', () => {
    const made = model({
      entries: [
        at(1, { kind: 'equipment', item: 'carbon', on: true }),
        at(9, { kind: 'equipment', item: 'carbon', on: false }),
      ],
    })
    expect(made.model.media).toMatchObject([{ fromH: 1, toH: 9 }])
    expect(made.model.binding).toBeUndefined()
    expect(model({ vessel: { bindingMedia: 'rock' } }).model.binding?.mean).toBeGreaterThan(0)
    expect(model({ entries: [at(1, { kind: 'equipment', item: 'skimmer', on: true })] }).model.media).toEqual([])
  })
  test('another vessel, another agent and what came before do not count', () => {
    const made = model({
      entries: [
        dose(-5, 9),
        dose(1, 5, { vesselId: 'other' }),
        at(2, { kind: 'reading', analyte: 'nitrate', value: 5, unit: 'mg/L', bound: 'exact' }),
      ],
    })
    expect(made.model).toMatchObject({ events: [], readings: [] })
  })
  test('a bottle whose unit was changed no longer reads old pours', () => {
    const made = record({ entries: [dose(1, 5, { unit: 'drop' })] })
    const [entry] = made.entries
    expect(entry?.kind === 'dose' && pouredMass(made, entry)).toBeNull()
    expect(dosedForms(made, made.entries, 'tank')).toEqual(new Set(['copper-chelated-high']))
    expect(changedShare({ kind: 'change', removedL: 999 } as never, 60)).toBe(1)
  })
})

describe('what was just logged', () => {
  const estimate = (entries: readonly object[], hours: number) => {
    const { made, active, course, nowMs } = look({ entries: [...passed, ...entries] }, hours)
    return estimateCourse(courseInputs(made, active, course, nowMs, 16)!.inputs)
  }
  test('a reading and a dose of one minute keep their order', () => {
    const { readings } = estimate([dose(1, 5), copper(24, 0.75), dose(24, 3.4)], 30)
    expect(readings[0]!.expectedMgPerL).toBeCloseTo(0.75, 1)
    expect(readings[0]!.trust).toBeGreaterThan(0.9)
    const after = estimate([dose(1, 5), dose(24, 3.4), copper(24, 1.26)], 30)
    expect(after.readings[0]!.expectedMgPerL).toBeCloseTo(1.26, 1)
  })
  test('a reading before the dose that lifts the level into the band does not start the clock', () => {
    const before = [dose(1, 11.6), copper(24, 1.74), dose(24, 3.4)]
    expect(estimate(before, 40).clock).toMatchObject({ startedAtH: null, creditedH: 0 })
    const after = estimate([...before, copper(44, 2.25)], 45)
    expect(after.clock!.startedAtH).toBeCloseTo(44, 3)
    // Proven back to the dose, and no further.
    expect(after.clock!.creditedH).toBeCloseTo(21, 1)
  })
  test('counts at once, not with the next five minutes', () => {
    const minutes = 10 + 3 / 60
    expect(estimate([dose(1, 15), copper(minutes, 2.2)], minutes).readings).toHaveLength(1)
    expect(estimate([dose(1, 15), copper(minutes, 2.2)], minutes).clock!.startedAtH).toBeCloseTo(minutes, 3)
    expect(estimate([dose(1, 15), dose(minutes, 2)], minutes).now.p50).toBeGreaterThan(
      estimate([dose(1, 15)], minutes).now.p50 + 0.2,
    )
  })
})

describe('phases of a course', () => {
  const held = (until: number): object[] => {
    const entries: object[] = [...passed]
    const ramp = [0.75, 1.25, 1.75, 2.25]
    let level = 0
    ramp.forEach((target, i) => {
      entries.push(at(i * 24 + 0.4, { kind: 'meal', took: 'took' }))
      entries.push(dose(i * 24 + 0.5, Math.round(((target - level) * 66.5) / 2) * 0.2))
      level = target
      entries.push(copper(i * 24 + 20, target))
    })
    entries.push(...watched(...Array.from({ length: Math.floor(until / 24) }, (_, day) => day + 1)))
    for (let h = 4 * 24 + 20; h < until; h += 36) {
      entries.push(copper(h, 2.25))
      entries.push(dose(h + 0.2, 0.6))
    }
    return entries
  }
  const full = (hours: number, until: number) => look({ entries: held(until) }, hours)
  test('prepare, raise, hold: each entered when the one before was left', () => {
    expect(look({}, 1).progress.current).toBe(0)
    expect(look({ entries: passed }, 1).progress.current).toBe(1)
    const { progress } = full(100, 100)
    expect(progress.current).toBe(2)
    expect((progress.phases[2]!.enteredMs! - START) / HOUR).toBe(3 * 24 + 20)
    expect(progress.ramp).toMatchObject({ confirmed: 4, awaitingReading: false })
  })
  test('a dose poured in the minute of a reading is not yet read', () => {
    const before = [...passed, dose(1, 5), copper(24, 0.7)]
    expect(look({ entries: before }, 24.1).progress.ramp).toMatchObject({ confirmed: 0, awaitingReading: false })
    expect(look({ entries: [...before, dose(24, 0.4)] }, 24.1).progress.ramp).toMatchObject({ awaitingReading: true })
  })
  test('a top-up that was just poured is not offered again before it mixed, unless a reading says how it came out', () => {
    const low = [copper(190, 2.1), copper(300, 1.95), dose(300.1, 0.1)]
    const stepAt = (more: readonly object[], hours: number) => {
      const { made, active, course, nowMs } = look({ entries: [...held(92), ...low, ...more] }, hours)
      const estimates = new Map([[course.id, estimateCourse(courseInputs(made, active, course, nowMs, 16)!.inputs)]])
      return planCourse(course, { record: made, active, estimates, nowMs }).steps.find(
        ({ kind, state }) => kind === 'hold' && state !== 'done',
      )
    }
    expect(stepAt([], 303)).toMatchObject({ state: 'ahead', dueMs: START + 306.1 * HOUR })
    expect(stepAt([], 303)!.dose).toBeUndefined()
    // Six hours later, or after a reading that had time to mix: it is offered again.
    expect(stepAt([], 306.2)!.dose).toBeDefined()
    expect(stepAt([copper(302, 1.95)], 303)!.dose).toBeDefined()
    // A reading a quarter of an hour after the dose says nothing yet.
    expect(stepAt([copper(300.3, 1.95)], 303)!.dose).toBeUndefined()
  })
  test('what is wished of the next dose follows the phase', () => {
    const raise = look({ entries: passed }, 1)
    expect(doseWish(raise.context, raise.progress, courseBand(raise.context)!)).toEqual({
      kind: 'reach',
      levelMgPerL: 0.75,
    })
    const hold = full(100, 100)
    expect(doseWish(hold.context, hold.progress, courseBand(hold.context)!)).toEqual({ kind: 'hold', topMgPerL: 2.25 })
    const prepare = look({}, 1)
    expect(doseWish(prepare.context, prepare.progress, courseBand(prepare.context)!)).toBeNull()
  })
  test('tests are daily in the first week of holding, then every 48 hours', () => {
    // The last reading was at hour 92: at hour 100 twenty are left of 24, with the four it may be late.
    expect(hoursToNextTest(full(100, 100).context, full(100, 100).progress)).toBe(20)
    const later = full(92 + 8 * 24, 92 + 8 * 24)
    // A reading 20 hours ago, of 48.
    expect(hoursToNextTest(later.context, later.progress)).toBe(28)
    // Overdue: it is not taken this minute.
    expect(hoursToNextTest(full(140, 92).context, full(140, 92).progress)).toBe(12)
  })
  test('the whole course: thirty credited days, then the copper goes out, then it is over', () => {
    const end = 92 + 31 * 24
    const { made, active, course, nowMs } = full(end, end)
    const found = courseInputs(made, active, course, nowMs, 16)!
    const estimate = estimateCourse(found.inputs)
    expect(estimate.clock!.completeAtH).not.toBeNull()
    const estimates = new Map<string, CourseEstimate>([['course', estimate]])
    const [planned] = plan({ record: made, active, estimates, nowMs })
    expect(planned!.progress.phases[planned!.progress.current!]!.phase.id).toBe('remove')
    const steps = planned!.steps.filter(({ state }) => state === 'due' || state === 'late').map(({ ruleId }) => ruleId)
    expect(steps).toEqual(expect.arrayContaining(['out-change', 'carbon-in']))
    const out = [
      ...made.entries,
      ...([
        at(end + 30, {
          kind: 'reading',
          analyte: 'copper',
          value: 0.05,
          unit: 'mg/L',
          bound: 'exact',
          instrumentId: 'kit',
        }),
      ] as Entry[]),
    ]
    const done = recordOf(
      made.settings,
      [
        ...made.vessels.values(),
        ...made.residents.values(),
        ...made.products.values(),
        ...made.instruments.values(),
        ...made.courses.values(),
      ],
      out,
    )
    expect(
      planCourse(done.courses.get('course')!, {
        record: done,
        active: activeEntries(done.entries),
        estimates,
        nowMs: START + (end + 31) * HOUR,
      }).progress.finishedMs,
    ).toBe(START + (end + 30) * HOUR)
  })
  test('a course that has ended runs no more', () => {
    expect(runningCourses(record(), START + HOUR)).toHaveLength(1)
    expect(runningCourses(record(), START - HOUR)).toHaveLength(0)
    expect(runningCourses(record({ course: { endedAt: instantOf(START + HOUR) } }), START + 2 * HOUR)).toHaveLength(0)
    expect(leastDays(protocolOf('copper-in-place-30')!)).toBe(36)
  })
})

describe('steps', () => {
  const steps = (setup: Setup, hours: number) => {
    const { made, active, course, nowMs } = look(setup, hours)
    return planCourse(course, { record: made, active, estimates: new Map(), nowMs }).steps
  }
  test('a check is due, then late after a day, then done', () => {
    expect(steps({}, 1).find(({ gate }) => gate === 'reserve')?.state).toBe('due')
    expect(steps({}, 30).find(({ gate }) => gate === 'reserve')?.state).toBe('late')
    expect(steps({ entries: passed }, 30).find(({ gate }) => gate === 'reserve')?.state).toBe('done')
  })
  test('a test left out is skipped with its reason and asked for again after its interval', () => {
    const due = steps({ entries: passed }, 26).find(
      ({ test: t, state }) => t?.analyte === 'ammonia-total' && state !== 'ahead',
    )!
    expect(due.state).toMatch(/due|late/)
    const skip = at(26, { kind: 'skip', step: due.key, reason: 'away' })
    const after = steps({ entries: [...passed, skip] }, 27).filter(({ test: t }) => t?.analyte === 'ammonia-total')
    expect(after.every(({ state }) => state === 'ahead')).toBe(true)
    expect(after[0]!.dueMs).toBe(START + 50 * HOUR)
  })
  test("a meal of the day does the day's feeding; a watch is done by its own step", () => {
    const today = (list: ReturnType<typeof steps>, kind: string) =>
      list.find((step) => step.kind === kind && step.state !== 'ahead')
    const plain = steps({ entries: passed }, 3)
    expect(today(plain, 'feed')?.state).toBe('due')
    expect(today(steps({ entries: [...passed, at(2, { kind: 'meal', took: 'took' })] }, 3), 'feed')?.state).toBe('done')
    const watch = today(plain, 'observe')!
    expect(
      today(steps({ entries: [...passed, at(2, { kind: 'done', what: 'x', step: watch.key })] }, 3), 'observe')?.state,
    ).toBe('done')
  })
  test('keys are unique, and name course, rule and occurrence', () => {
    const all = steps(
      { entries: [...passed, dose(1, 5), copper(20, 0.75), at(21, { kind: 'meal', took: 'took' }), dose(25, 3.4)] },
      60,
    )
    expect(new Set(all.map(({ key }) => key)).size).toBe(all.length)
    for (const { key } of all) expect(key).toMatch(/^course\/[a-z-]+\/\d+$/)
  })
})

describe('what the record is uneasy about', () => {
  const concerns = (setup: Setup, hours: number) => {
    const { made, active, course, nowMs } = look(setup, hours)
    const estimates = new Map<string, CourseEstimate>()
    const found = courseInputs(made, active, course, nowMs, 16)
    if (found) estimates.set('course', estimateCourse(found.inputs))
    return concernsOf(made, active, plan({ record: made, active, estimates, nowMs }), estimates, nowMs)
  }
  test('a level that may be over the hard maximum comes first', () => {
    const found = concerns({ entries: [...passed, dose(1, 22), copper(3, 3.1)] }, 4)
    expect(found[0]).toMatchObject({ id: 'hard-max', tone: 'danger', action: 'test' })
  })
  test('a reading that fits nothing else is named', () => {
    const entries = [...passed, dose(1, 15), copper(5, 2.22), copper(20, 2.2), copper(30, 0.22)]
    expect(concerns({ entries }, 31)).toContainEqual(
      expect.objectContaining({
        id: expect.stringMatching(/^doubt-/),
        detail: expect.stringMatching(/0.22 mg\/L, where about 2/),
      }),
    )
  })
  test('water that disagrees with its measures by more than 15 %', () => {
    const entries = [...passed, dose(1, 10), copper(5, 2), copper(10, 2.01), copper(20, 2), copper(30, 2.02)]
    expect(
      concerns({ entries, vessel: { volume: boxVolume(60, 36, 36, 5, 3, { dimensionSdCm: 2 }) } }, 31),
    ).toContainEqual(expect.objectContaining({ id: 'volume', title: expect.stringMatching(/holds less water/) }))
  })
  test('a volume never confirmed, and a quiet vessel with animals', () => {
    expect(concerns({ vessel: { volumeConfirmedAt: undefined } }, 1)).toContainEqual(
      expect.objectContaining({ action: 'confirm-volume' }),
    )
    expect(concerns({ entries: [copper(0, 0)] }, 24 * 6)).toContainEqual(
      expect.objectContaining({ id: 'quiet', detail: expect.stringMatching(/Tank \(6 d\)/) }),
    )
  })
})

describe('what ends a phase, ticked', () => {
  const ticksOf = (setup: Setup, hours: number, condition: PhaseCondition) =>
    exitTicks(condition, look(setup, hours).context, START)
  test('the parts of a condition lie flat, each with how far it is', () => {
    const clean: PhaseCondition = {
      kind: 'all',
      of: [
        { kind: 'elapsed', hours: 72, since: 'phase-start' },
        { kind: 'signs-absent', days: 3 },
      ],
    }
    const some = ticksOf({ entries: watched(1, 3) }, 73, clean)
    expect(some.map(({ words, have, metMs }) => [words, have, metMs === null])).toEqual([
      ['3 days', '3 days', false],
      ['3 days without signs, watched in full', '2 days', true],
    ])
    expect(ticksOf({ entries: watched(1, 2, 3) }, 73, clean).every(({ metMs }) => metMs !== null)).toBe(true)
    const sign = at(30, { kind: 'sign', sign: 'flashing', present: true })
    expect(ticksOf({ entries: [...watched(1, 2, 3), sign] }, 79, clean)[1]).toMatchObject({
      have: '2 days',
      metMs: null,
    })
  })
  test('ways that stand beside each other say so; every shipped exit has words', () => {
    const either = ticksOf({}, 5, protocolOf('fallow-45-warm')!.phases[0]!.exit)
    expect(either.map((tick) => tick.either)).toEqual([true, true])
    for (const protocol of protocolLibrary) {
      const setup = { protocol, course: { variant: protocol.variants[0]!.id, parameters: presets(protocol) } }
      for (const phase of protocol.phases)
        for (const { words } of ticksOf(setup, 30, phase.exit))
          expect([protocol.id, words.length > 4]).toEqual([protocol.id, true])
    }
  })
})
/** Parameters as a keeper finds them, the lowest where none is preset. */
const presets = (protocol: Protocol) =>
  Object.fromEntries((protocol.parameters ?? []).map(({ id, min, default: usual }) => [id, usual ?? min]))
