// The run, its methods and the comparison: conservation, agreement of ticks, limits, and the choice with its reasons.
import { describe, expect, test } from '@jest/globals'
import {
  sampleSeries,
  acclimationKinds,
  ammoniaPka,
  balanceWithAir,
  carbonateConstants,
  carbonFromPh,
  compareMethods,
  conductivityFromSalinity,
  floatMinutes,
  floatStages,
  freeAmmoniaShare,
  freeFromTotal,
  grownVolume,
  kindOf,
  largestChange,
  lightStart,
  METHOD_IDS,
  liveRun,
  methodActions,
  mixByMass,
  nbsOffset,
  oxygenDeficit,
  phFromCarbon,
  runAcclimation,
  salinityFromConductivity,
  salinityFromSpecificGravity,
  saltForBatch,
  seawaterDensity,
  settingsFor,
  totalFromFree,
  transitOf,
  waterForBatch,
  waterToFinish,
  type CompareInputs,
  type ContainerEntry,
  type Ranged,
  type RunAction,
  type RunInputs,
} from '@brinvo/core'
import fc from 'fast-check'
import { entryAt } from './entries.ts'

const water = { tempC: 22, salinityPsu: 32, phNbs: 7.4, alkalinityDkh: 8, tanMgN: 1.2 }
const tank = { tempC: 25.5, salinityPsu: 34.5, phNbs: 8.15, alkalinityDkh: 8.2, tanMgN: 0.02 }
const environment = {
  roomTempC: 20,
  roomCoolingMin: 50,
  roomCo2Uatm: 600,
  gasOpenPerH: 0.8,
  gasAiredPerH: 2.5,
  excretionMgNPerH: 0.08,
  nbsMinusTotalAtSea: 0.13,
}
const run = (actions: readonly RunAction[], more: Partial<RunInputs> = {}) =>
  runAcclimation({
    bag: { ...water, volumeL: 2 },
    tank,
    environment,
    actions,
    untilMin: 180,
    floatMin: 9,
    ...more,
  })
const at = (series: ReturnType<typeof run>['series'], minute: number) =>
  series.min.findLastIndex((min) => min <= minute + 1e-9)

describe('water chemistry', () => {
  test('pH from carbon and carbon from pH undo each other, in fresh, brackish and sea water', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 42, noNaN: true }),
        fc.double({ min: 5, max: 34, noNaN: true }),
        fc.double({ min: 6, max: 8.8, noNaN: true }),
        fc.double({ min: 800, max: 4000, noNaN: true }),
        (salinity, temp, ph, ta) => {
          const k = carbonateConstants(salinity, temp)
          expect(phFromCarbon(k, ta, carbonFromPh(k, ta, ph))).toBeCloseTo(ph, 7)
        },
      ),
    )
  })
  test('constants have no step at 1 and at 19 PSU, and the offset between scales fades with the salt', () => {
    for (const edge of [1, 19]) {
      const below = carbonateConstants(edge - 1e-6, 25)
      const above = carbonateConstants(edge + 1e-6, 25)
      expect(below.k1 / above.k1).toBeCloseTo(1, 4)
      expect(below.k2 / above.k2).toBeCloseTo(1, 4)
    }
    expect(carbonateConstants(10, 25).set).toBe('between')
    expect(nbsOffset(35)).toBeCloseTo(0.13, 9)
    expect(nbsOffset(0)).toBe(0)
  })
  test('an alkalinity that cannot carry its pH is said, not worked with', () => {
    expect(() => carbonFromPh(carbonateConstants(35, 25), 100, 9.5)).toThrow(/all spent/)
  })
  test('more carbon dioxide in the room means a lower pH in balance', () => {
    const k = carbonateConstants(35, 25)
    expect(balanceWithAir(k, 2300, 400, 25).ph).toBeGreaterThan(balanceWithAir(k, 2300, 1500, 25).ph)
  })
  test('a badge and a drop test of the same water agree after conversion', () => {
    const place = { phNbs: 8.1, tempC: 25, salinityPsu: 35 }
    expect(totalFromFree(freeFromTotal(0.8, place), place)).toBeCloseTo(0.8, 12)
    // Handbook 65.3: 6.46 % free at 25 °C, pH 8.2, sea water.
    expect(100 * freeAmmoniaShare(ammoniaPka(25, 35), 8.2)).toBeCloseTo(6.46, 1)
  })
})

describe('one run', () => {
  const actionsFor = fc.array(
    fc.oneof(
      fc.record({
        kind: fc.constant('add' as const),
        min: fc.double({ min: 0, max: 170, noNaN: true }),
        litres: fc.double({ min: 0.05, max: 2, noNaN: true }),
      }),
      fc.record({
        kind: fc.constant('pour' as const),
        min: fc.double({ min: 0, max: 170, noNaN: true }),
        toL: fc.double({ min: 0.5, max: 4, noNaN: true }),
      }),
      fc.record({
        kind: fc.constant('drip' as const),
        min: fc.double({ min: 0, max: 170, noNaN: true }),
        litresPerH: fc.double({ min: 0, max: 4, noNaN: true }),
        overflowAtL: fc.double({ min: 2, max: 6, noNaN: true }),
      }),
      fc.record({
        kind: fc.constant('bind' as const),
        min: fc.double({ min: 0, max: 170, noNaN: true }),
        share: fc.double({ min: 0, max: 0.95, noNaN: true }),
      }),
    ),
    { maxLength: 12 },
  )
  test('water, salt, alkalinity, carbon and ammonia are conserved to 1e-9, whatever is done', () => {
    fc.assert(
      fc.property(actionsFor, (actions) => {
        const { imbalance, end } = run([{ kind: 'open', min: 5 }, ...actions])
        const size = Math.max(1, end.volumeL)
        expect(Math.abs(imbalance.water) / size).toBeLessThan(1e-9)
        expect(Math.abs(imbalance.salt) / (size * 35)).toBeLessThan(1e-9)
        expect(Math.abs(imbalance.alkalinity) / (size * 2500)).toBeLessThan(1e-9)
        expect(Math.abs(imbalance.carbon) / (size * 2500)).toBeLessThan(1e-9)
        expect(Math.abs(imbalance.ammonia) / size).toBeLessThan(1e-9)
      }),
      { numRuns: 60 },
    )
  })
  test('halving the ticks moves pH by less than 0.005, even with an air stone', () => {
    const actions: RunAction[] = [
      { kind: 'open', min: 0 },
      { kind: 'air', min: 1, on: true },
      { kind: 'drip', min: 1, litresPerH: 2 },
    ]
    const coarse = run(actions).series
    const fine = run(actions, { tickMin: 0.5 }).series
    for (let minute = 0; minute <= 180; minute += 5)
      expect(Math.abs(coarse.phNbs[at(coarse, minute)]! - fine.phNbs[at(fine, minute)]!)).toBeLessThan(0.005)
  })
  test('two litres at 32 and one at 34.5 mix by mass, and a growing drip grows as the closed form says', () => {
    const { end } = run(
      [
        { kind: 'open', min: 0 },
        { kind: 'add', min: 1, litres: 1 },
      ],
      { untilMin: 1 },
    )
    expect(end.salinityPsu).toBeCloseTo(
      mixByMass({ volumeL: 2, salinityPsu: 32, tempC: 22 }, { volumeL: 1, salinityPsu: 34.5, tempC: 25.5 }),
      3,
    )
    const drip = run(
      [
        { kind: 'open', min: 0 },
        { kind: 'drip', min: 0, litresPerH: 1.8 },
      ],
      { untilMin: 60 },
    )
    const options = {
      startVolumeL: 2,
      inflowLPerH: 1.8,
      startTempC: 22,
      inflowTempC: 25.5,
      roomTempC: 20,
      heat: { kind: 'none' as const },
    }
    expect(drip.end.volumeL).toBeCloseTo(grownVolume(options, 1), 2)
  })
  test('a closed bag keeps its pH; an opened one climbs, and free ammonia with it', () => {
    const closed = run([], { untilMin: 30 })
    expect(closed.series.phNbs.at(-1)!).toBeCloseTo(7.4, 1)
    const opened = run([{ kind: 'open', min: 0 }])
    expect(opened.end.phNbs).toBeGreaterThan(7.6)
    expect(opened.series.freeMgN.at(-1)!).toBeGreaterThan(1.8 * opened.series.freeMgN[0]!)
    const aired = run([
      { kind: 'open', min: 0 },
      { kind: 'air', min: 0, on: true },
    ])
    expect(aired.end.phNbs).toBeGreaterThan(opened.end.phNbs)
  })
  test('a reading replaces what the model thought, and nothing else', () => {
    const actions: RunAction[] = [
      { kind: 'open', min: 0 },
      { kind: 'drip', min: 1, litresPerH: 1 },
    ]
    const before = run(actions)
    const after = run([...actions, { kind: 'measured', min: 60, water: { salinityPsu: 33.9 } }])
    expect(after.series.salinityPsu[at(after.series, 60)]).toBeCloseTo(33.9, 9)
    expect(after.series.volumeL[at(after.series, 60)]).toBeCloseTo(before.series.volumeL[at(before.series, 60)]!, 2)
    expect(Math.abs(after.imbalance.ammonia)).toBeLessThan(1e-9)
    const ph = run([...actions, { kind: 'measured', min: 60, water: { phNbs: 7.95 } }])
    expect(ph.series.phNbs[at(ph.series, 60)]).toBeCloseTo(7.95, 6)
  })
  test('a binder takes its share and no more', () => {
    const still = { ...environment, excretionMgNPerH: 0 }
    const { end } = run(
      [
        { kind: 'open', min: 0 },
        { kind: 'bind', min: 1, share: 0.8 },
      ],
      { environment: still, untilMin: 60 },
    )
    expect(end.tanMgN).toBeCloseTo(0.2 * 1.2, 2)
  })
})

describe('methods', () => {
  test('every kind prefers each method once, and its limits are stricter up than down', () => {
    for (const kind of acclimationKinds) {
      expect([...kind.prefers].sort()).toEqual([...METHOD_IDS].sort())
      if (kind.salinityPerHour) expect(kind.salinityPerHour.up).toBeLessThanOrEqual(kind.salinityPerHour.down)
      expect(kind.conductivity !== undefined || kind.salinityPerHour !== undefined || kind.id === 'plant').toBe(true)
    }
  })
  test('cups and drip end at the finishing share with the water that was worked out', () => {
    const kind = kindOf('hg-shrimp', 'marine')
    for (const overflow of [false, true]) {
      const settings = { ...settingsFor(kind, 1, 4, 1.5), overflow }
      const water2 = waterToFinish(1, settings)
      const actions = methodActions('drip', { bagL: 1, bagC: 25, tankC: 25, settings })
      const done = run(actions, { bag: { ...water, tempC: 25, volumeL: 1 }, tank: { ...tank, tempC: 25 } })
      expect(done.movedMin).not.toBeNull()
      expect(done.tankWaterL).toBeCloseTo(water2, 1)
      expect(done.end.tankShare).toBeCloseTo(0.9, 2)
    }
    const settings = settingsFor(kind, 1, 4, 1.5)
    const cups = methodActions('scoops', { bagL: 1, bagC: 25, tankC: 25, settings })
    let volume = 1
    for (const action of cups) {
      if (action.kind === 'add') volume += action.litres
      if (action.kind === 'pour') volume = action.toL
      expect(volume).toBeLessThanOrEqual(settings.capL + 1e-9)
    }
  })
  test('a bag at tank temperature needs no floating, a cold one more with its size', () => {
    expect(floatMinutes(25.2, 25.5, 1, 45)).toBe(0)
    expect(floatMinutes(20, 25.5, 3, 45)).toBeGreaterThan(floatMinutes(20, 25.5, 1, 45))
    expect(floatMinutes(5, 25.5, 20, 45)).toBe(90)
  })
  test('a closed bag floats across five degrees at once, across more in two stages', () => {
    expect(floatStages(25.2, 25.5, 1, 45)).toEqual([])
    expect(floatStages(20.5, 25.5, 1, 45).map(({ tempC }) => tempC)).toEqual([25.5])
    expect(floatStages(20.4, 25.5, 1, 45).map(({ tempC }) => tempC)).toEqual([22.95, 25.5])
    expect(floatStages(31, 25, 1, 45).map(({ tempC }) => tempC)).toEqual([28, 25])
  })
  test('the largest change in a window sees a jump and not what lies outside', () => {
    expect(largestChange([0, 5, 5, 30, 90], [30, 30, 32, 32, 35], 10)).toBe(2)
    expect(largestChange([0, 5, 5, 30, 90], [30, 30, 32, 32, 35], 60)).toBe(3)
  })
  test('a column at the minutes of a grid: straight between, the later one at a jump, the last one after the end', () => {
    expect(sampleSeries([0, 10, 10, 20], [1, 2, 5, 7], [0, 5, 10, 15, 20, 30])).toEqual([1, 1.5, 5, 6, 7, 7])
    expect(sampleSeries([0], [3], [0, 4])).toEqual([3, 3])
  })
  test('light begins at the source, never above three quarters, lower after a night, at 45 % when unknown', () => {
    expect(lightStart({ sourcePar: 80, targetPar: 240, transitH: 2 })).toBe(80)
    expect(lightStart({ sourcePar: 300, targetPar: 240, transitH: 2 })).toBe(180)
    expect(lightStart({ sourcePar: 300, targetPar: 240, transitH: 20 })).toBe(144)
    expect(lightStart({ sourcePar: null, targetPar: 200, transitH: 2 })).toBe(90)
  })
})

const range = (value: number, doubt = 0): Ranged => ({ value, low: value - doubt, high: value + doubt })
const inputs = (group: string, more: Partial<CompareInputs> = {}): CompareInputs => ({
  kind: kindOf(group, more.water ?? 'marine'),
  water: 'marine',
  bag: {
    volumeL: range(2, 0.2),
    tempC: range(23, 0.3),
    salinityPsu: range(33.8, 0.2),
    phNbs: range(7.6, 0.1),
    alkalinityDkh: range(8, 1),
    tanMgN: range(0.5, 0.2),
    massG: range(10, 3),
  },
  tank: {
    tempC: range(25.3, 0.2),
    salinityPsu: range(34.2, 0.2),
    phNbs: range(8.1, 0.1),
    alkalinityDkh: range(8, 0.5),
    tanMgN: range(0.02),
  },
  transitH: 4,
  fouled: false,
  copper: false,
  invertebrate: false,
  roomTempC: 21,
  equipment: { dripLine: true, binder: true, canMatch: true, tubL: 8 },
  samples: 24,
  seed: 5,
  ...more,
})
const method = (comparison: ReturnType<typeof compareMethods>, id: string) =>
  comparison.methods.find((one) => one.id === id)!

describe('oxygen in the opened water', () => {
  const flat = (litres: readonly number[], min: readonly number[]) => ({
    openedMin: 0,
    movedMin: min.at(-1)!,
    series: { min: [...min], volumeL: [...litres], salinityPsu: [], tempC: [], phNbs: [], freeMgN: [], tankShare: [] },
  })
  const minutes = Array.from({ length: 61 }, (_, i) => i)
  // 8 mg N an hour is 144 mg of oxygen; in 10 L against an exchange of 0.8 an hour that settles at 18 mg/L under saturation.
  const given = { excretionMgNPerH: 8, gasOpenPerH: 0.8, gasAiredPerH: 2.5 }
  test('falls as breath and air have it, by hand', () => {
    const hour = oxygenDeficit(
      flat(
        Array.from({ length: 61 }, () => 10),
        minutes,
      ),
      { ...given, excretionMgNPerH: 0.8 },
      [],
    )
    expect(hour).toBeCloseTo(1.8 * (1 - Math.exp(-0.8)), 6)
    const aired = oxygenDeficit(
      flat(
        Array.from({ length: 61 }, () => 10),
        minutes,
      ),
      { ...given, excretionMgNPerH: 0.8 },
      [{ kind: 'air', min: 0, on: true }],
    )
    expect(aired).toBeCloseTo((14.4 / 10 / 2.5) * (1 - Math.exp(-2.5)), 6)
  })
  test('fresh tank water thins the lack, and a binder makes it', () => {
    // Doubled at minute 30: the lack is halved there, and breath spreads over twice the water.
    const doubled = [...Array.from({ length: 30 }, () => 10), ...Array.from({ length: 31 }, () => 20)]
    const own = oxygenDeficit(flat(doubled, minutes), { ...given, excretionMgNPerH: 0.8 }, [])
    // By hand: 0.577 after 29 minutes, halved, then on its way to 0.9: the most was before the doubling.
    expect(own).toBeCloseTo(1.8 * (1 - Math.exp((-0.8 * 29) / 60)), 6)
    const bound = oxygenDeficit(
      flat(
        Array.from({ length: 61 }, () => 10),
        minutes,
      ),
      { ...given, excretionMgNPerH: 0, gasOpenPerH: 1e-9 },
      [{ kind: 'bind', min: 0, share: 0.8 }],
    )
    expect(bound).toBeCloseTo(1.5, 4)
  })
  test('what the closed bag did and what came after the move does not count', () => {
    const run = {
      ...flat(
        Array.from({ length: 61 }, () => 10),
        minutes,
      ),
      openedMin: 50,
      movedMin: 60,
    }
    expect(oxygenDeficit(run, { ...given, excretionMgNPerH: 0.8 }, [])).toBeCloseTo(
      1.8 * (1 - Math.exp((-0.8 * 10) / 60)),
      6,
    )
  })
  test('a crowd in little water is moved, not kept in an open tub', () => {
    const crowd = compareMethods(
      inputs('hg-clown-damsel', { bag: { ...inputs('hg-clown-damsel').bag, massG: range(400, 40) } }),
    )
    const lack = method(crowd, 'drip').aspects.find(({ id }) => id === 'oxygen')!
    // 25.6 °C at 34.2 PSU holds 6.7 mg/L: 1.7 may go.
    expect(lack.limit).toBeGreaterThan(1.5)
    expect(lack.limit).toBeLessThan(1.9)
    expect(lack.ratio).toBeGreaterThan(1)
    expect(['float-and-move', 'matched-tank']).toContain(crowd.chosen)
  })
})

describe('the choice', () => {
  test('is the same for the same numbers, and its careful value is never below the central one', () => {
    const first = compareMethods(inputs('hg-clown-damsel'))
    expect(compareMethods(inputs('hg-clown-damsel'))).toEqual(first)
    for (const one of first.methods)
      for (const aspect of one.aspects) expect(aspect.careful).toBeGreaterThanOrEqual(aspect.value - 1e-12)
  })
  test('a night in the bag refuses the long open methods with the hours', () => {
    const night = compareMethods(
      inputs('hg-clown-damsel', {
        transitH: 26,
        equipment: { dripLine: true, binder: true, canMatch: false, tubL: 8 },
      }),
    )
    expect(method(night, 'drip').refusal).toMatch(/26 h in the bag/)
    expect(method(night, 'scoops').refusal).toMatch(/26 h/)
    // Practice cuts off at 12 or at 24 hours: with a worded reason it can be taken.
    expect([method(night, 'drip').mayInsist, method(night, 'scoops').mayInsist]).toEqual([true, true])
    expect(night.chosen).toBe('float-and-move')
  })
  test('a day in clean water asks for no binder: only ammonia does', () => {
    const bag = {
      ...inputs('hg-clown-damsel').bag,
      salinityPsu: range(32.2, 0.2),
      tanMgN: range(0.02),
      massG: range(0.2),
    }
    const equipment = { dripLine: true, binder: true, canMatch: false, tubL: 8 }
    const clean = compareMethods(inputs('hg-clown-damsel', { transitH: 24, bag, equipment }))
    expect(method(clean, 'dilute-and-bind').refusal).toMatch(/clean enough/)
    expect(clean.chosen).not.toBe('dilute-and-bind')
    const fouled = compareMethods(inputs('hg-clown-damsel', { transitH: 24, bag, equipment, fouled: true }))
    expect(method(fouled, 'dilute-and-bind').refusal).toBeNull()
  })
  test('a bag that would turn toxic within half an hour refuses the drip with its number', () => {
    const foul = compareMethods(
      inputs('hg-shrimp', { bag: { ...inputs('hg-shrimp').bag, tanMgN: range(3, 0.3), phNbs: range(7.9, 0.1) } }),
    )
    expect(foul.openFreeMgN).toBeGreaterThan(0.05)
    expect(method(foul, 'drip').refusal).toMatch(/Free ammonia would reach 0\.\d+ mg\/L within half an hour/)
    expect(method(foul, 'dilute-and-bind').refusal).toBeNull()
  })
  test('warming in the closed bag counts: four degrees close to its limit, fifteen over it in every method', () => {
    const colder = (degrees: number) =>
      compareMethods(
        inputs('hg-clown-damsel', {
          samples: 0,
          bag: { ...inputs('hg-clown-damsel').bag, tempC: range(25.3 - degrees) },
        }),
      )
    const float = (degrees: number) =>
      method(colder(degrees), 'float-and-move').aspects.find(({ id }) => id === 'float')!.value
    expect(float(4)).toBeCloseTo(4, 9)
    expect(float(8)).toBeCloseTo(4, 9)
    expect(float(15)).toBeCloseTo(7.5, 9)
    expect(colder(4).over).toBe(false)
    expect(colder(15).over).toBe(true)
    expect(colder(8).reasons.join(' ')).toMatch(/first in a bucket at 21.3 °C/)
  })
  test('shrimps into copper: every method is refused', () => {
    const copper = compareMethods(inputs('hg-shrimp', { copper: true, invertebrate: true }))
    expect(copper.chosen).toBeNull()
    expect(copper.methods.every(({ refusal }) => /copper/.test(refusal ?? ''))).toBe(true)
    expect(copper.methods.some(({ mayInsist }) => mayInsist)).toBe(false)
  })
  test('a wide gap moves the choice to the matched tank, and without one the least harm is said to be over', () => {
    const wide = { ...inputs('hg-clown-damsel').bag, salinityPsu: range(30.5, 0.2) }
    const matched = compareMethods(inputs('hg-clown-damsel', { bag: wide }))
    expect(matched.chosen).toBe('matched-tank')
    const without = compareMethods(
      inputs('hg-clown-damsel', {
        bag: wide,
        equipment: { dripLine: true, binder: true, canMatch: false, tubL: 8 },
      }),
    )
    expect(without.over).toBe(true)
    expect(without.reasons[0]).toMatch(/No method stays inside every limit/)
  })
  test('fresh-water shrimps with a hardness gap drip; without a line they are given cups', () => {
    const fresh = {
      water: 'fresh' as const,
      kind: kindOf('hg-shrimp', 'fresh'),
      bag: {
        ...inputs('hg-shrimp').bag,
        tempC: range(23.2, 0.2),
        volumeL: range(0.6, 0.05),
        salinityPsu: range(0.24, 0.005),
        phNbs: range(7, 0.1),
        alkalinityDkh: range(4, 0.5),
        tanMgN: range(0.2, 0.1),
        massG: range(2, 0.5),
      },
      tank: {
        tempC: range(23.5, 0.2),
        salinityPsu: range(0.17, 0.004),
        phNbs: range(7.1, 0.1),
        alkalinityDkh: range(4, 0.5),
        tanMgN: range(0.01),
      },
      invertebrate: true,
      roomTempC: 22,
      equipment: { dripLine: true, binder: false, canMatch: false, tubL: 3 },
    }
    const drip = compareMethods(inputs('hg-shrimp', { ...fresh, flips: true }))
    expect(drip.chosen).toBe('drip')
    expect(method(drip, 'float-and-move').deciding.id).toBe('step')
    expect(drip.flips.find(({ what }) => what === 'no drip line')?.to).toBe('scoops')
  })
  test('what was assumed is listed, and asking "what if" can change the choice', () => {
    const guess: Ranged = { ...transitOf(4).tanMgN, assumed: 'Bag ammonia: the usual range' }
    const open = compareMethods(inputs('hg-coral', { bag: { ...inputs('hg-coral').bag, tanMgN: guess }, flips: true }))
    expect(open.assumed).toEqual(['Bag ammonia: the usual range'])
    expect(open.flips.length).toBeGreaterThanOrEqual(4)
    expect(new Set(open.flips.map(({ to }) => to)).size).toBeGreaterThan(1)
  })
  test('an unknown animal is held to the most sensitive kind', () => {
    expect(kindOf('hg-never-heard-of', 'marine').id).toBe('echinoderm')
    expect(kindOf('hg-never-heard-of', 'fresh').id).toBe('fresh-shrimp')
  })
})

test('not a number in, not a number out: no salinity stands where nothing was measured', () => {
  expect(salinityFromSpecificGravity(NaN, 25, 25)).toBeNaN()
  expect(salinityFromSpecificGravity(1.0264, NaN, 25)).toBeNaN()
  expect(salinityFromConductivity(NaN, 25)).toBeNaN()
  expect(conductivityFromSalinity(NaN, 25)).toBeNaN()
})
test('salt and fresh water of a batch weigh together what the batch weighs', () => {
  for (const [litres, psu, tempC, share] of [
    [20, 35, 25, 0.9],
    [200, 12, 18, 1],
    [5, 40, 30, 0.85],
  ] as const) {
    const grams = saltForBatch(litres, psu, tempC, share)
    const water = waterForBatch(litres, psu, tempC, grams)
    expect(grams + water * seawaterDensity(0, tempC)).toBeCloseTo(litres * seawaterDensity(psu, tempC), 6)
    expect(water).toBeLessThan(litres)
  }
})

describe('a plan that no limit allows', () => {
  const bag = { ...water, salinityPsu: 31, tempC: 25.5, volumeL: 1 }
  const kind = kindOf('hg-tang', 'marine')
  const settings = settingsFor(kind, 1, 4, 3.5)
  const START = Date.parse('2026-03-03T18:10:00Z')
  /** Cups as they were laid out, at their minutes divided by the haste. */
  const hours = (haste: number) => {
    const actions = methodActions('scoops', { bagL: 1, bagC: bag.tempC, tankC: tank.tempC, settings })
    const entries = actions.flatMap((action): ContainerEntry[] => {
      const fields =
        action.kind === 'open'
          ? { act: 'open' }
          : action.kind === 'add'
            ? { act: 'add', litres: action.litres }
            : action.kind === 'pour'
              ? { act: 'pour', toL: action.toL }
              : null
      return fields === null
        ? []
        : [
            entryAt<ContainerEntry>(START + (action.min / haste) * 60_000, {
              kind: 'container',
              arrivalId: 'a',
              containerId: 'b',
              ...fields,
            }),
          ]
    })
    return Array.from({ length: 12 }, (_, i) =>
      liveRun({
        method: 'scoops',
        settings,
        kind,
        bag,
        tank,
        environment,
        entries,
        nowMs: START + (i + 1) * 10 * 60_000,
      }),
    )
  }
  test('is told with every limit it is over, and followed as laid out it never cries to slow down', () => {
    const exact = (value: number): Ranged => ({ value, low: value, high: value })
    const found = compareMethods({
      ...inputs('hg-tang'),
      bag: { ...inputs('hg-tang').bag, salinityPsu: exact(31), volumeL: exact(1) },
      tank: { ...inputs('hg-tang').tank, salinityPsu: exact(34.5) },
      equipment: { dripLine: false, binder: false, canMatch: false, tubL: 4 },
      flips: true,
    })
    expect(found.flips.map(({ what }) => what)).toContain('a drip line is at hand')
    expect(found.over).toBe(true)
    expect(found.reasons.join(' ')).toMatch(/Over its limit too: .*PSU an hour/)
    const followed = hours(1)
    expect(followed.some(({ asLaidOut }) => asLaidOut)).toBe(true)
    expect(followed.flatMap(({ warnings }) => warnings).filter((words) => words.includes('Slow down'))).toEqual([])
  })
  test('poured twice as fast it does', () => {
    expect(
      hours(2)
        .flatMap(({ warnings }) => warnings)
        .some((words) => words.includes('Slow down')),
    ).toBe(true)
  })
})
