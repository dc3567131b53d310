// Practice: the truth is the ledger's alone, two keepers end as promised, cases and sums are checked by other arithmetic.
import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { faultOfEntry, faultOfRegister } from '../src/file.ts'
import { activeContent, documentsOf, instantOf, recordOf, type Entry } from '../src/index.ts'
import {
  actOf,
  beliefOf,
  brierOf,
  calendarLife,
  calibrationOf,
  checkDrill,
  debriefOf,
  drillOf,
  dropOfCase,
  DRILLS,
  exactLife,
  kept,
  kitShows,
  lookAt,
  lookCase,
  looksToChoose,
  namesToChoose,
  outcomeOf,
  ownLife,
  practiceFault,
  practiceRecord,
  practiceTanks,
  practiceWorld,
  standardShows,
  rankingOf,
  TANK_ID,
  worldAt,
  type Begun,
} from '../src/practice.ts'

import { GENERA } from '../src/imaging.ts'
import { slideScene, slideTruth } from '../src/world.ts'

const START = Date.parse('2026-03-20T16:00:00Z')
const HOUR = 3_600_000
const DAY = 24 * HOUR
const begunOf = (id: string, seed = 3): Begun => ({
  definition: practiceTanks.find((one) => one.id === id)!,
  seed,
  startMs: START,
  zone: 'Europe/Berlin',
})
const entry = (kind: string, atMs: number, fields: object): Entry =>
  ({
    kind,
    id: `${kind}-${atMs}`,
    at: instantOf(atMs),
    zone: 'UTC',
    recordedAt: instantOf(atMs),
    vesselId: TANK_ID,
    ...fields,
  }) as unknown as Entry
const withEntries = (begun: Begun, ...entries: Entry[]) => {
  const record = practiceRecord(begun)
  return recordOf(record.settings, documentsOf(record), entries)
}

describe('every shipped tank', () => {
  test.each(practiceTanks.map(({ id }) => id))(
    '%s can be begun, holds to the schema, and dies of nothing in its first hour',
    (id) => {
      const begun = begunOf(id)
      expect(practiceFault(begun.definition)).toBeNull()
      const record = practiceRecord(begun)
      for (const document of documentsOf(record)) expect(faultOfRegister(document)).toBeNull()
      const world = worldAt(begun, record, [], START + HOUR)
      expect(world.hours).toBe(1)
      expect(world.animals.every(({ living, begun: first }) => living === first)).toBe(true)
      expect(lookAt(world).length).toBeGreaterThan(0)
    },
  )
  test.each(practiceTanks.map(({ id }) => id))(
    '%s by the calendar ends as its text promises in most of twelve lives',
    (id) => {
      for (const measure of begunOf(id).definition.promises.calendar.measures) {
        const held = Array.from({ length: 12 }, (_, seed) => calendarLife(begunOf(id, seed + 40)).outcome).filter(
          (outcome) => kept(outcome, [measure]) === null,
        )
        expect(held.length / 12).toBeGreaterThanOrEqual((measure.lives ?? 0.8) - 0.15)
      }
    },
  )
  // The others by the campaign: a keeper who plans a copper course takes seconds.
  test.each(['unripe-tub', 'sitter-who-feeds', 'over-treated', 'slugs-in-rounds', 'rack-that-uses', 'film-at-zero'])(
    '%s by the screens ends as its text promises, without a fault',
    (id) => {
      const lives = [3, 4, 5].map((seed) => exactLife(begunOf(id, seed)))
      for (const { faults } of lives) expect(faults).toEqual([])
      for (const measure of begunOf(id).definition.promises.exact.measures)
        expect(lives.filter(({ outcome }) => kept(outcome, [measure]) === null).length).toBeGreaterThanOrEqual(2)
      for (const one of lives[0]!.record.entries) expect(faultOfEntry(one)).toBeNull()
    },
    60_000,
  )
})

describe('what could be known of a level', () => {
  const begun = begunOf('copper-leaking')
  const dose = entry('dose', START + HOUR, { productId: 'bottle-copper-chelated-high', amount: 4, unit: 'mL' })
  const read = (atMs: number, value: number) =>
    entry('reading', atMs, {
      analyte: 'copper',
      value,
      unit: 'mg/L',
      bound: 'exact',
      instrumentId: 'kit-copper',
      courseId: 'practice-course',
    })
  test('is what stood on the ledger then: a later reading changes no earlier band', () => {
    const early = beliefOf(begun, withEntries(begun, dose), START + 2 * DAY)
    const late = beliefOf(begun, withEntries(begun, dose, read(START + 30 * HOUR, 0.55)), START + 2 * DAY)
    expect(early).toHaveLength(4)
    expect(late.slice(0, 2)).toEqual(early.slice(0, 2))
    expect(late[3]!.p90 - late[3]!.p10).toBeLessThan(early[3]!.p90 - early[3]!.p10)
    // Nor one that was taken before and only written down after.
    const written = { ...read(START + 6 * HOUR, 0.45), recordedAt: instantOf(START + 30 * HOUR) } as Entry
    expect(beliefOf(begun, withEntries(begun, dose, written), START + 2 * DAY).slice(0, 2)).toEqual(early.slice(0, 2))
  })
  test('holds the truth in most looks of somebody who tests, where it is known that sand takes it up', () => {
    let held = 0
    let looks = 0
    for (const seed of [3, 4, 5, 6]) {
      const bare = begunOf('copper-leaking', seed)
      const own = { ...bare, definition: { ...bare.definition, sandCm: 2 } }
      const truth = (atMs: number) => worldAt(own, withEntries(own, dose), [], atMs)
      const kits = [20, 44, 68, 92].map((h) => {
        const atMs = START + h * HOUR
        return read(atMs, kitShows(truth(atMs), 'copper', 1).value)
      })
      for (const { atMs, p10, p90 } of beliefOf(own, withEntries(own, dose, ...kits), START + 4 * DAY)) {
        const level = truth(atMs).tank.drugs.get('copper')!
        looks++
        if (level >= p10 && level <= p90) held++
      }
    }
    expect(looks).toBe(32)
    expect(held / looks).toBeGreaterThan(0.6)
  })
  test('nothing is believed where nothing is dosed', () => {
    expect(beliefOf(begunOf('slugs-in-rounds'), practiceRecord(begunOf('slugs-in-rounds')), START + 2 * DAY)).toEqual(
      [],
    )
  })
})

describe('what they died of', () => {
  test('a tub whose ammonia is let go: counted as that, and told as the one thing to do otherwise', () => {
    const begun = begunOf('unripe-tub', 7)
    const record = practiceRecord(begun)
    const life = ownLife(begun, record, [], START + begun.definition.days * DAY)
    expect(life.outcome.living).toBeLessThan(1)
    expect(life.outcome.deaths.map(({ cause }) => cause)).toEqual(['ammonia'])
    const lost = life.outcome.deaths.reduce((sum, { count }) => sum + count, 0)
    expect(lost).toBe(Math.round(3 * (1 - life.outcome.living)))
    // Whoever looks sees it, with how many are left, so that it can be written down.
    const seen = lookAt(worldAt(begun, record, [], START + begun.definition.days * DAY))
    expect(seen.filter(({ living }) => living !== undefined).length).toBeGreaterThan(0)
    expect(seen.every(({ living }) => living === undefined || living < 3)).toBe(true)
  })
  test('of something the tank is not about: that is told, not what the tank teaches', () => {
    // Velvet, dosed at once, and no water changed for five weeks: what killed them was not the velvet.
    // The two keepers beside it need only as many days as their lives differ from this one's.
    const whole = begunOf('velvet-tonight', 4)
    const begun = { ...whole, definition: { ...whole.definition, days: 3 } }
    const doses = [0, 12].map((h) =>
      entry('dose', START + (h + 1) * HOUR, { productId: 'bottle-copper-chelated-high', amount: 7.4, unit: 'mL' }),
    )
    const { otherwise, own } = debriefOf(begun, withEntries(begun, ...doses), [], START + 45 * DAY)
    expect(own.outcome.deaths[0]?.cause).toBe('ammonia')
    expect(otherwise).toMatch(/died of ammonia/)
  })
  test('copper by the calendar over the maximum kills as copper, parasites left alone as parasites', () => {
    const over = ownLife(begunOf('over-treated', 4), practiceRecord(begunOf('over-treated', 4)), [], START + 20 * DAY)
    expect(over.outcome.deaths[0]?.cause).toBe('copper')
    const velvet = ownLife(
      begunOf('velvet-tonight', 4),
      practiceRecord(begunOf('velvet-tonight', 4)),
      [],
      START + 30 * DAY,
    )
    expect(velvet.outcome.deaths[0]?.cause).toBe('parasites')
  })
})

describe('a kit against a standard', () => {
  test('one that reads high shows more than stands on the bottle, an honest one about as much; what nobody sells is none', () => {
    const shown = (id: string) => {
      const begun = begunOf(id, 4)
      const world = worldAt(begun, practiceRecord(begun), [], START + HOUR)
      const all = Array.from({ length: 40 }, (_, nth) => standardShows(world, 'copper', nth)!)
      expect(new Set(all.map(({ holds }) => holds))).toEqual(new Set([1]))
      return all.reduce((sum, one) => sum + one.shown.value, 0) / all.length
    }
    expect(shown('copper-kit-high')).toBeGreaterThan(1.08)
    expect(Math.abs(shown('copper-leaking') - 1)).toBeLessThan(0.08)
    const begun = begunOf('copper-leaking', 4)
    expect(standardShows(worldAt(begun, practiceRecord(begun), [], START), 'temperature', 1)).toBeNull()
  })
})

describe('what a press does to the water of practice', () => {
  const begun = begunOf('dark-days', 5)
  const done = (atMs: number, what: string, step?: string) =>
    entry('done', atMs, {
      what,
      ...(step === undefined ? {} : { courseId: 'practice-course', step: `practice-course/${step}` }),
    })
  const film = (days: number, ...entries: Entry[]) =>
    ownLife(begun, withEntries(begun, ...entries), [], START + days * DAY).outcome.film
  test('what makes it dark makes it dark, and light comes back by the share and the hours of its step', () => {
    const dark = done(START + HOUR, 'Make it ready', 'prepare/0')
    expect(film(3, dark)).toBeLessThan(0.8 * film(3))
    const whole = done(START + 3 * DAY, 'Light 100 % for 8 h', 'light-14/0')
    const third = done(START + 3 * DAY, 'Light 30 % for 4 h', 'light-1/0')
    expect(film(14, dark, third)).toBeLessThan(film(14, dark, whole))
    // A task of the same name outside of a dark course does nothing.
    expect(film(3, done(START + HOUR, 'Make it ready'))).toBe(film(3))
  })
  test('a knob is turned to what its step says', () => {
    const at = (what: string) => worldAt(begun, withEntries(begun, done(START + HOUR, what)), [], START + 30 * HOUR)
    expect(at('Salinity to 30.5 PSU').tank.solutes.salinity).toBeCloseTo(30.5, 0)
    expect(at('Heat to 27 °C').tank.temperatureC).toBeGreaterThan(26.5)
  })
})

describe('a drop of a case', () => {
  test('holds what it is, where a microscope would tell; none of them where it is something else', () => {
    for (let seed = 1; seed < 40; seed++) {
      const made = lookCase('surface-marine', seed)
      const { genera } = dropOfCase(made)!
      const held = Object.keys(genera)
      expect(held).toEqual(GENERA.map(({ id }) => id as string).filter((id) => id === made.truth.id))
    }
    expect(dropOfCase(lookCase('fish-marine', 3))).toBeNull()
    const scene = slideScene({
      ...dropOfCase(lookCase('surface-marine', 7, 'ostreopsis'))!,
      level: 'usual',
      width: 480,
      height: 360,
      fps: 8,
      seconds: 2,
    })
    expect(slideTruth(scene).leading).toBe('ostreopsis')
    const bare = slideScene({
      ...dropOfCase(lookCase('surface-marine', 7, 'bubble-algae'))!,
      level: 'usual',
      width: 480,
      height: 360,
      fps: 8,
      seconds: 2,
    })
    expect(slideTruth(bare).counts.dinoflagellate).toBe(0)
  })
})

describe('the truth of a tank', () => {
  test('is the same for whoever asks, in one go or hour by hour', () => {
    const begun = begunOf('copper-leaking')
    const record = withEntries(
      begun,
      entry('dose', START + 5 * HOUR, { productId: 'bottle-copper-chelated-high', amount: 5, unit: 'mL' }),
      entry('change', START + 30 * HOUR, { fraction: 0.25 }),
    )
    const once = outcomeOf(worldAt(begun, record, [], START + 5 * DAY))
    expect(outcomeOf(worldAt(begun, record, [], START + 5 * DAY))).toEqual(once)
    const world = practiceWorld(begun, record)
    expect(world.hours).toBe(0)
    expect(ownLife(begun, record, [], START + 5 * DAY).outcome).toEqual(once)
  })
  test('a dose raises the level by what the bottle truly holds over the water there truly is', () => {
    const begun = begunOf('bottle-twice-as-strong')
    const record = practiceRecord(begun)
    const world = practiceWorld(begun, record)
    const dose = entry('dose', START, { productId: 'bottle-copper-chelated-high', amount: 4, unit: 'mL' })
    actOf(world, record, dose)
    const content = activeContent(record.products.get('bottle-copper-chelated-high')!.body.strength)
    if (!content.ok) throw new Error('The bottle states no strength.')
    // By hand: mL times mg per mL, twice of it, over the true litres.
    expect(world.tank.drugs.get('copper')).toBeCloseTo((4 * content.value.mg * 2) / world.tank.litres, 9)
  })
  test('what is struck out was never poured; what comes later does nothing yet', () => {
    const begun = begunOf('copper-kit-high')
    const dose = entry('dose', START + 2 * HOUR, { productId: 'bottle-copper-chelated-high', amount: 5, unit: 'mL' })
    const struck = entry('void', START + 3 * HOUR, { voids: dose.id, reason: 'Undone', vesselId: undefined })
    const level = (record: ReturnType<typeof withEntries>, h: number) =>
      worldAt(begun, record, [], START + h * HOUR).tank.drugs.get('copper') ?? 0
    expect(level(withEntries(begun, dose), 6)).toBeGreaterThan(0.3)
    expect(level(withEntries(begun, dose, struck), 6)).toBe(0)
    expect(level(withEntries(begun, dose), 1)).toBe(0)
  })
  test('a kit that reads a fifth too high shows about a fifth more, and the same press shows the same', () => {
    const begun = begunOf('copper-kit-high')
    const record = withEntries(
      begun,
      entry('dose', START + HOUR, { productId: 'bottle-copper-chelated-high', amount: 14, unit: 'mL' }),
    )
    const world = worldAt(begun, record, [], START + 3 * HOUR)
    const shown = Array.from({ length: 200 }, (_, n) => kitShows(world, 'copper', n).value)
    const mean = shown.reduce((sum, value) => sum + value, 0) / shown.length
    expect(mean / world.tank.drugs.get('copper')!).toBeCloseTo(1.2, 1)
    expect(kitShows(world, 'copper', 7)).toEqual(kitShows(world, 'copper', 7))
  })
  test('everything ignored to the end: it ends, and says why', () => {
    for (const { id } of practiceTanks) {
      const begun = begunOf(id)
      const { outcome } = ownLife(begun, practiceRecord(begun), [], START + 400 * DAY)
      const { deaths, ...numbers } = outcome
      expect(Object.values(numbers).every((value) => Number.isFinite(value) || value === Infinity)).toBe(true)
      for (const { count } of deaths) expect(count).toBeGreaterThan(0)
      expect(outcome.living).toBeGreaterThanOrEqual(0)
    }
  })
  test('rounds by hand find less each time at the pace of the eggs, and nothing where there is nothing', () => {
    const begun = begunOf('slugs-in-rounds')
    const hands = Array.from({ length: 9 }, (_, i) => ({ atMs: START + i * 6 * DAY, does: 'round' as const }))
    const treated = worldAt(begun, practiceRecord(begun), hands, START + 56 * DAY)
    const left = worldAt(begun, practiceRecord(begun), [], START + 56 * DAY)
    expect(treated.pest!.adults).toBeLessThan(0.05 * left.pest!.adults)
  })
})

describe('looking back', () => {
  test('of a tank that nobody tested asks for tests, and tells what one decision did', () => {
    const begun = begunOf('unripe-tub')
    const change = entry('change', START + 4 * DAY, { fraction: 0.5 })
    const debrief = debriefOf(begun, withEntries(begun, change), [], START + 8 * DAY)
    expect(begun.definition.otherwise.map(({ words }) => words)).toContain(debrief.otherwise)
    expect(debrief.decisions).toHaveLength(1)
    // Without the one change there would have been more ammonia.
    expect(debrief.decisions[0]!.without.ammonia).toBeGreaterThan(1.02 * debrief.own.outcome.ammonia)
    expect(debrief.exact.trace.length).toBeGreaterThan(debrief.own.trace.length)
  }, 60_000)
})

describe('looks', () => {
  test('a case is the same for its seed, can be told from its own signs, and offers its truth among the names', () => {
    let told = 0
    for (let seed = 0; seed < 60; seed++) {
      const made = lookCase('fish-marine', seed)
      expect(lookCase('fish-marine', seed)).toEqual(made)
      expect(made.first.length).toBeGreaterThan(0)
      const all = [...made.answers].map(([sign, answer]) => ({ sign, answer }))
      if (rankingOf(made, all).entries[0]!.condition.id === made.truth.id) told++
      expect(namesToChoose(made, made.first).map(({ id }) => id)).toContain(made.truth.id)
      const looks = looksToChoose(made, made.first)
      expect(looks.every(({ sign }) => !made.first.some((one) => one.sign === sign))).toBe(true)
    }
    // Whoever looked at everything would name it: the cases are fair.
    expect(told).toBeGreaterThan(48)
  })
  test('one that was mixed up comes when it is asked for', () => {
    const wanted = lookCase('fish-marine', 9).truth.id
    for (let seed = 20; seed < 40; seed++) expect(lookCase('fish-marine', seed, wanted).truth.id).toBe(wanted)
  })
  test('surety is scored by its distance: knowing costs nothing, saying sure and being wrong costs most', () => {
    expect(brierOf([{ right: true, sure: 1 }])).toBe(0)
    expect(brierOf([{ right: false, sure: 0.9 }])).toBeCloseTo(0.81)
    expect(
      brierOf([
        { right: true, sure: 0.5 },
        { right: false, sure: 0.5 },
      ]),
    ).toBe(0.25)
    expect(
      calibrationOf([
        { right: true, sure: 0.7 },
        { right: false, sure: 0.7 },
        { right: true, sure: 0.9 },
      ]),
    ).toEqual([
      { sure: 0.7, right: 0.5, of: 2 },
      { sure: 0.9, right: 1, of: 1 },
    ])
  })
})

describe('sums', () => {
  test('a dose, by mass: what is poured makes the level that was asked for', () => {
    fc.assert(
      fc.property(fc.nat(1e6), (seed) => {
        const drill = drillOf('dose', seed)
        const [litres, level, strength] = drill.question.match(/\d+(?:\.\d+)?/g)!.map(Number) as [
          number,
          number,
          number,
        ]
        expect((drill.answer * strength) / litres).toBeCloseTo(level, 9)
      }),
    )
  })
  test('changes one after another, counted step by step', () => {
    for (let seed = 0; seed < 50; seed++) {
      const drill = drillOf('change', seed)
      const [level, times, percent] = drill.question.match(/\d+(?:\.\d+)?/g)!.map(Number) as [number, number, number]
      let left = level
      for (let i = 0; i < times; i++) left -= (left * percent) / 100
      expect(drill.answer).toBeCloseTo(left, 6)
    }
  })
  test('parts of a ramp add up to the whole dose', () => {
    for (let seed = 0; seed < 50; seed++) {
      const drill = drillOf('ramp', seed)
      const [target, parts, litres, strength] = drill.question.match(/\d+(?:\.\d+)?/g)!.map(Number) as [
        number,
        number,
        number,
        number,
      ]
      expect((drill.answer * parts * strength) / litres).toBeCloseTo(target, 9)
    }
  })
  test('halves until it is safe, and one half less would not do', () => {
    for (let seed = 0; seed < 50; seed++) {
      const drill = drillOf('emergency', seed)
      const [level, litres] = drill.question.match(/\d+(?:\.\d+)?/g)!.map(Number) as [number, number]
      const times = drill.answer / (litres / 2)
      expect(level / 2 ** times).toBeLessThanOrEqual(0.25 + 1e-9)
      expect(level / 2 ** (times - 1)).toBeGreaterThan(0.25)
    }
  })
  test('a slip of ten is told as one, and both ways of working end at the answer', () => {
    for (const kind of DRILLS)
      for (let seed = 0; seed < 20; seed++) {
        const drill = drillOf(kind, seed)
        expect(checkDrill(drill, drill.answer)).toEqual({ right: true, slip: null })
        expect(checkDrill(drill, drill.answer * 10)).toEqual({ right: false, slip: 'ten' })
        expect(checkDrill(drill, drill.answer * 2).right).toBe(false)
      }
  })
})

describe('a tank of one’s own', () => {
  const good = practiceTanks[0]!
  test.each([
    ['an unknown field', { ...good, extra: 1 }, /“extra” is not known/],
    ['no name', { ...good, title: '' }, /title/],
    [
      'a group that is none',
      { ...good, animals: [{ name: 'X', kind: 'fish', group: 'hg-none' }] },
      /no group “hg-none”/,
    ],
    ['a bottle that is none', { ...good, bottles: [{ form: 'moonshine' }] }, /no form “moonshine”/],
    ['a protocol of the other water', { ...good, water: 'fresh' }, /is for marine water/],
    ['a protocol that is none', { ...good, course: { protocol: 'none' } }, /no protocol “none”/],
    [
      'an event after the end',
      { ...good, days: 3, events: [{ day: 9, hour: 1, does: 'heater', value: 1 }] },
      /after the end/,
    ],
    ['a box of no water', { ...good, boxCm: [20, 20, 20], sandCm: 19 }, /no water is left|cannot be filled/],
    ['a list', [], /the whole/],
    ['nothing', null, /the whole/],
  ])('%s is refused with its place', (_name, value, words) => {
    expect(practiceFault(value)).toMatch(words)
  })
})
