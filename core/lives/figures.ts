// How far it can be trusted: the estimators held against worlds they cannot see, each with its number and its interval.
import {
  POOLS,
  activeEntries,
  correctionOf,
  dailyStages,
  instantOf,
  pests,
  protocolOf,
  randomFrom,
  readCounts,
  recordOf,
  simulateDiagnosis,
  steerState,
  type CountedRound,
  type Entry,
} from '@brinvo/core'
import { chanceFrom } from '../src/world/random.ts'
import { kitFor, readWith } from '../src/world/instruments.ts'
import { change, hour, MIXES, pour, tankOf, trulyIn, type Solute } from '../src/world/tank.ts'
import { darkFigures } from './darkSpells.ts'
import { KEEPERS } from './keepers.ts'
import { live } from './life.ts'
import { sceneFor, START } from './scene.ts'

export interface Figure {
  readonly id: string
  /** What the number says, for a keeper. */
  readonly title: string
  readonly value: number
  readonly low: number
  readonly high: number
  readonly n: number
  readonly unit: '%' | 'days'
  readonly wanted: string
  readonly reached: boolean
  /** Where the number comes from: what was simulated. */
  readonly from: string
}
const HOUR = 3_600_000
const DAY = 24 * HOUR

/** Share with its 95 % interval after Wilson. */
function share(hits: number, n: number): { value: number; low: number; high: number } {
  if (n === 0) return { value: 0, low: 0, high: 100 }
  const z = 1.96
  const p = hits / n
  const middle = (p + (z * z) / (2 * n)) / (1 + (z * z) / n)
  const half = (z * Math.sqrt((p * (1 - p)) / n + (z * z) / (4 * n * n))) / (1 + (z * z) / n)
  return { value: 100 * p, low: 100 * Math.max(0, middle - half), high: 100 * Math.min(1, middle + half) }
}
/** Share over lives, each a cluster of looks that hang together: the interval from the scatter between lives. */
function clustered(lives: readonly { hits: number; n: number }[]): { value: number; low: number; high: number } {
  const n = lives.reduce((sum, one) => sum + one.n, 0)
  const p = lives.reduce((sum, one) => sum + one.hits, 0) / Math.max(1, n)
  const scatter = lives.reduce((sum, one) => sum + (one.hits - p * one.n) ** 2, 0)
  const sd = Math.sqrt((lives.length / Math.max(1, lives.length - 1)) * scatter) / Math.max(1, n)
  return { value: 100 * p, low: 100 * Math.max(0, p - 1.96 * sd), high: 100 * Math.min(1, p + 1.96 * sd) }
}
const within = (value: number, low: number, high: number): boolean => value >= low && value <= high

/** Copper held for its hours by a keeper who does what the screens say, in three kinds of tanks. */
export function levelFigures(lives: number, seed: number): Figure[] {
  const protocol = protocolOf('copper-in-place-30')!
  const KINDS = [
    ['messy', 'volume up to a fifth off, kits up to 15 % off that nobody checked', { messy: true }],
    ['checked', 'volume up to a fifth off, kits held against a standard', { messy: true, checked: true }],
    ['clean', 'volume as described, good kits', { messy: false }],
  ] as const
  return KINDS.flatMap(([kind, words, options]): Figure[] => {
    const lived = Array.from({ length: lives }, (_, i) =>
      live({ protocol, keeper: KEEPERS.exact, seed: seed + i, maxDays: 150, ...options }),
    )
    const band = clustered(lived.map(({ bandHits, bandHours }) => ({ hits: bandHits, n: bandHours })))
    const held = lived.flatMap(({ credited, heldDay }) =>
      credited && heldDay !== null ? [{ ...credited, heldDay }] : [],
    )
    const credited = clustered(held.map(({ hours, truly }) => ({ hits: truly, n: hours })))
    const short = share(held.filter(({ trueHours, needed }) => trueHours < needed).length, held.length)
    const soon = share(held.filter(({ heldDay }) => heldDay <= 55).length, lived.length)
    const over = share(lived.filter(({ highest }) => highest > 1).length, lived.length)
    const from = `${lives} lives of thirty days of copper in ${kind} tanks: ${words}`
    const mostShort = kind === 'messy' ? 8 : 2
    return [
      {
        id: `level-band-${kind}`,
        title: `The band of eight in ten holds the true level (${kind} tanks)`,
        ...band,
        n: lived.reduce((sum, one) => sum + one.bandHours, 0),
        unit: '%',
        wanted: '75 to 85 %',
        reached: within(band.value, 75, 85),
        from,
      },
      {
        id: `level-credited-${kind}`,
        title: `Credited hours truly at level (${kind} tanks)`,
        ...credited,
        n: held.reduce((sum, one) => sum + one.hours, 0),
        unit: '%',
        wanted: '95 % and more',
        reached: credited.value >= 95,
        from,
      },
      {
        id: `level-short-${kind}`,
        title: `Called done with fewer true hours than asked (${kind} tanks)`,
        ...short,
        n: held.length,
        unit: '%',
        wanted: `${mostShort} % and less`,
        reached: short.value <= mostShort,
        from,
      },
      {
        id: `level-soon-${kind}`,
        title: `Strict hold over within 55 days (${kind} tanks)`,
        ...soon,
        n: lived.length,
        unit: '%',
        wanted: '90 % and more',
        reached: soon.value >= 90,
        from,
      },
      {
        id: `level-max-${kind}`,
        title: `Hard maximum passed by following (${kind} tanks)`,
        ...over,
        n: lived.length,
        unit: '%',
        wanted: 'never',
        reached: over.value === 0,
        from,
      },
    ]
  })
}

/**
 * The calendar keeper: the same tank, bottle and kit; doses by the measures of the tank, tops up by the last reading, and
 * counts thirty days from the first reading in the band. True hours at level in them, and the highest true level.
 */
function calendarHold(
  seed: number,
  options: { messy: boolean; checked?: boolean },
): { trueHours: number; highest: number } {
  const protocol = protocolOf('copper-in-place-30')!
  const { world, saidL } = sceneFor({ protocol, seed, ...options })
  const { tank, chance } = world
  const kit = world.kits.get('copper')!
  const [floor, target, hardMax] = [2, 2.25, 2.8]
  const read = () => readWith(kit, trulyIn(tank, 'copper'), chance).value
  const topUp = (to: number, from: number) => pour(tank, 'copper', Math.max(0, to - from) * saidL)
  let highest = 0
  let trueHours = 0
  let countedFrom: number | null = null
  for (let h = 0; h < 70 * 24; h++) {
    if (countedFrom !== null && h - countedFrom >= 720) break
    if (h % 24 === 0) {
      const day = h / 24
      const shown = day === 0 ? 0 : read()
      if (day < 4) topUp([0.75, 1.25, 1.75, target][day]!, shown)
      else if (day % 2 === 0 && shown < target) topUp(target, shown)
      if (countedFrom === null && day >= 4 && shown >= floor) countedFrom = h
      if (day > 4 && day % 7 === 0)
        change(tank, 0.25 * saidL, {
          mix: { ...MIXES.marine, salinity: tank.solutes.salinity },
          drugs: new Map([['copper', target]]),
        })
    }
    hour(tank)
    const level = trulyIn(tank, 'copper')
    highest = Math.max(highest, level / hardMax)
    if (countedFrom !== null && level >= floor) trueHours++
  }
  return { trueHours, highest }
}

/** What counting days would have done with the same kinds of tanks. */
export function calendarFigures(tanks: number, seed: number): Figure[] {
  const KINDS = [
    ['messy', { messy: true }],
    ['checked', { messy: true, checked: true }],
    ['clean', { messy: false }],
  ] as const
  return KINDS.flatMap(([kind, options]): Figure[] => {
    const held = Array.from({ length: tanks }, (_, i) => calendarHold(seed + i, options))
    const short = share(held.filter(({ trueHours }) => trueHours < 720).length, tanks)
    const over = share(held.filter(({ highest }) => highest > 1).length, tanks)
    const from = `${tanks} ${kind} tanks, thirty days counted from the first reading in the band, topped up by the last reading`
    return [
      {
        id: `level-calendar-short-${kind}`,
        title: `For comparison, counting days: done with fewer true hours than asked (${kind} tanks)`,
        ...short,
        n: tanks,
        unit: '%',
        wanted: 'the yardstick',
        reached: true,
        from,
      },
      {
        id: `level-calendar-max-${kind}`,
        title: `For comparison, counting days: hard maximum passed (${kind} tanks)`,
        ...over,
        n: tanks,
        unit: '%',
        wanted: 'the yardstick',
        reached: true,
        from,
      },
    ]
  })
}

/** What a display uses up in a day, from a test every second day and a weekly change of 15 %. */
export function useFigures(tanks: number, seed: number): Figure[] {
  const ANALYTES: readonly (readonly [Solute, number, number])[] = [
    ['calcium', 3, 12],
    ['magnesium', 2, 8],
    ['potassium', 1, 4],
  ]
  const { record: base, vesselId } = sceneFor({ protocol: protocolOf('dark-3')!, seed, messy: false })
  let hits = 0
  let n = 0
  const errors: number[] = []
  for (let i = 0; i < tanks; i++) {
    const chance = chanceFrom(seed * 9176 + i)
    const [analyte, least, most] = ANALYTES[i % ANALYTES.length]!
    const perDay = chance.between(least, most)
    const tank = tankOf(
      {
        water: 'marine',
        netL: 73,
        evaporationLPerDay: 0.5,
        bindsPerDay: 0,
        releasesPerDay: 0,
        usePerDay: { [analyte]: perDay },
        wasteMgPerDay: 5,
        filterMgPerDay: 40,
        roomC: 25,
        swingC: 0.3,
      },
      chance,
    )
    const kit = kitFor(analyte, chance, false)
    const entries: Entry[] = []
    const put = (day: number, fields: object) =>
      entries.push({
        id: `e${entries.length + 1}`,
        at: instantOf(START + day * DAY),
        loggedAt: instantOf(START + day * DAY),
        vesselId,
        ...fields,
      } as unknown as Entry)
    for (let day = 0; day <= 21; day++) {
      if (day % 2 === 0)
        put(day, {
          kind: 'reading',
          analyte,
          value: readWith(kit, trulyIn(tank, analyte), chance).value,
          unit: 'mg/L',
          bound: 'exact',
        })
      if (day > 0 && day % 7 === 0) {
        put(day + 0.01, { kind: 'change', fraction: 0.15 })
        // The bin is mixed to the salt's own value, a little off.
        change(tank, 0.15 * tank.truth.netL, {
          mix: {
            ...MIXES.marine,
            [analyte]: (correctionOf(analyte)?.mix ?? MIXES.marine[analyte]) * (1 + chance.normal(0, 0.02)),
          },
        })
      }
      for (let h = 0; h < 24; h++) hour(tank)
    }
    const record = recordOf(base.settings, [...base.vessels.values()], entries)
    const use = steerState(record, activeEntries(record.entries), vesselId, analyte, START + 21 * DAY)?.use
    if (!use) continue
    n++
    if (perDay >= use.low && perDay <= use.high) hits++
    errors.push(Math.abs(use.perDay - perDay) / perDay)
  }
  const band = share(hits, n)
  const sorted = errors.sort((a, b) => a - b)
  const middle = 100 * (sorted[sorted.length >> 1] ?? 0)
  const from = `${tanks} displays over three weeks: calcium, magnesium or potassium tested every second day, 15 % changed each week`
  return [
    {
      id: 'use-band',
      title: 'The band of use per day holds the true use',
      ...band,
      n,
      unit: '%',
      wanted: '75 to 85 %',
      reached: within(band.value, 75, 85),
      from,
    },
    {
      id: 'use-error',
      title: 'Middle error of use per day',
      value: middle,
      low: 100 * (sorted[Math.floor(0.25 * n)] ?? 0),
      high: 100 * (sorted[Math.floor(0.75 * n)] ?? 0),
      n,
      unit: '%',
      wanted: '10 % and less',
      reached: middle <= 10,
      from: `${from}; the range is that of the middle half`,
    },
  ]
}

export function darkSpellFigures(tanks: number, seed: number): Figure[] {
  const found = darkFigures(tanks, seed, 5)
  const missed = share(found.missed, found.crossed)
  // Of tanks that never pass it: how rare a crossing is does not colour this one.
  const needless = share(found.needless, found.tanks - found.crossed)
  const from = `${tanks} dark spells of five days by three laws of dying tissue, one test a day and a second where it is asked for`
  return [
    {
      id: 'dark-missed',
      title: 'Dark spells that pass the line uncalled',
      ...missed,
      n: found.crossed,
      unit: '%',
      wanted: '12 % and less',
      reached: missed.value <= 12,
      from,
    },
    {
      id: 'dark-needless',
      title: 'Tanks that would have stayed under the line and are called all the same',
      ...needless,
      n: found.tanks - found.crossed,
      unit: '%',
      wanted: 'half of what it was, 86 %',
      reached: needless.value <= 43,
      from,
    },
  ]
}

/** A pest animal by animal, in whole days: nothing of it comes from what reads the counts. */
export function eradicationFigures(campaigns: number, seed: number, harsh = false): Figure[] {
  const kinds = pests.filter(({ daily }) => daily !== undefined && daily !== null)
  const bins = new Map<string, { shown: number; over: number; n: number }>()
  for (let i = 0; i < campaigns; i++) {
    const pest = kinds[i % kinds.length]!
    const stages = dailyStages(pest, 25)!
    const chance = chanceFrom(seed * 7919 + i)
    // Keepers' work differs: some kill half of what the usual round does, some nearly all.
    const usual = Math.log(pest.daily!.kill / (1 - pest.daily!.kill))
    const kill = 1 / (1 + Math.exp(-(usual - (harsh ? 0.8 : 0) + chance.normal(0, 1))))
    const eggsTaken = pest.daily!.eggs * chance.between(0.5, 1)
    const seen = pest.detection
    // In a harsh world an eye finds less than it is believed to.
    const truly = harsh ? 0.75 * seen : seen
    let adults = 1 + Math.floor(chance.between(0, 12))
    let young = Array.from({ length: Math.floor(chance.between(0, 10)) }, () =>
      Math.floor(chance.between(0, stages.matureDays)),
    )
    let eggs = Array.from({ length: adults * 4 }, () => Math.floor(chance.between(0, stages.hatchMinDays)))
    const survival = stages.youngSurvival ** (1 / stages.matureDays)
    const rounds: CountedRound[] = []
    const every = Math.max(2, stages.hatchMaxDays)
    const last = every * (4 + Math.floor(chance.between(0, 6)))
    for (let day = 0; day <= last; day++) {
      if (day % every === 0) {
        rounds.push({ day, found: chance.of(adults + young.length, truly), treated: true, seen })
        adults -= chance.of(adults, kill)
        young = young.filter(() => !chance.happens(kill))
        eggs = eggs.filter(() => !chance.happens(eggsTaken))
        // Asked after every round from the second on.
        if (rounds.length >= 2) {
          const { overNow } = readCounts({ stages, kill: pest.daily!.kill, eggs: pest.daily!.eggs }, rounds, day, {
            days: [day + every, day + 2 * every],
            seen,
          })
          const bin =
            overNow >= 0.98
              ? '98 to 100'
              : overNow >= 0.9
                ? '90 to 98'
                : overNow >= 0.7
                  ? '70 to 90'
                  : overNow >= 0.4
                    ? '40 to 70'
                    : 'under 40'
          const held = bins.get(bin) ?? { shown: 0, over: 0, n: 0 }
          held.shown += overNow
          held.over += adults + young.length + eggs.length === 0 ? 1 : 0
          held.n++
          bins.set(bin, held)
        }
      }
      const laid = Math.floor(adults * stages.eggsPerDay + chance.between(0, 1))
      const hatch = (age: number) =>
        age >= stages.hatchMaxDays ||
        (age >= stages.hatchMinDays && chance.happens(1 / (stages.hatchMaxDays - stages.hatchMinDays + 1)))
      const hatched = eggs.filter(hatch).length
      eggs = [
        ...eggs.filter((age) => !hatch(age)).map((age) => age + 1),
        ...Array.from({ length: Math.min(400, laid) }, () => 0),
      ]
      const aged = young.filter(() => chance.happens(survival)).map((age) => age + 1)
      adults += aged.filter((age) => age >= stages.matureDays).length
      young = [
        ...aged.filter((age) => age < stages.matureDays),
        ...Array.from({ length: Math.min(hatched, 600) }, () => 0),
      ].slice(0, 3000)
    }
  }
  if (harsh) {
    const held = bins.get('98 to 100') ?? { shown: 0, over: 0, n: 0 }
    return [
      {
        id: 'over-harsh',
        title: 'Nothing left where 98 % and more was shown, in a harsh world',
        ...share(held.over, held.n),
        n: held.n,
        unit: '%',
        wanted: '95 % and more',
        reached: share(held.over, held.n).value >= 95,
        from: `${campaigns} campaigns with rounds that kill less and eyes that find a quarter less than believed`,
      },
    ]
  }
  return ['98 to 100', '90 to 98', '70 to 90', '40 to 70', 'under 40'].flatMap((bin): Figure[] => {
    const held = bins.get(bin)
    if (!held || held.n < 10) return []
    const { value, low, high } = share(held.over, held.n)
    const shown = (100 * held.shown) / held.n
    return [
      {
        id: `over-${bin.replaceAll(' ', '-')}`,
        title: `Nothing left, where ${bin} % was shown (${shown.toFixed(0)} % on average)`,
        value,
        low,
        high,
        n: held.n,
        unit: '%',
        wanted: 'within 5 of what was shown',
        reached: Math.abs(value - shown) <= 5,
        from: `${campaigns} campaigns against ${kinds.length} egg-laying pests, animal by animal`,
      },
    ]
  })
}

/** Looks that a keeper takes of those the screen asks for. */
const ASKED = 6
/** Made-up findings with one answer in ten wrong and three in ten left out, and the tables themselves off. */
export function diagnosisFigures(cases: number, seed: number): Figure[] {
  return [...diagnosisAfter(0, cases, seed), ...diagnosisAfter(ASKED, cases, seed)]
}
function diagnosisAfter(asked: number, cases: number, seed: number): Figure[] {
  const all = POOLS.map(({ id: pool }) =>
    simulateDiagnosis({
      pool,
      cases,
      random: randomFrom(seed),
      wrong: 0.1,
      unlooked: 0.3,
      perturb: 0.7,
      known: true,
      asked,
    }),
  )
  const n = cases * all.length
  const total = (of: (one: (typeof all)[number]) => number) => all.reduce((sum, one) => sum + of(one), 0)
  const dangerCases = total((one) => one.dangerCases)
  const from = `${n} made-up cases, one answer in ten wrong, three in ten left out, chances of signs off by up to half`
  const figure = (
    id: string,
    title: string,
    hits: number,
    of: number,
    wanted: string,
    reaches: (value: number) => boolean,
  ): Figure => {
    const counted = share(hits, of)
    return {
      id: asked === 0 ? id : `${id}-asked`,
      title: asked === 0 ? title : `${title}, after ${asked} looks the screen asked for`,
      ...counted,
      n: of,
      unit: '%',
      wanted,
      reached: reaches(counted.value),
      from,
    }
  }
  return [
    figure(
      'diagnosis-first',
      'The first name is right',
      Math.round(total(({ first }) => first * cases)),
      n,
      '80 % and more',
      (value) => value >= 80,
    ),
    figure(
      'diagnosis-third',
      'The right name is among the first three',
      Math.round(total(({ third }) => third * cases)),
      n,
      '95 % and more',
      (value) => value >= 95,
    ),
    figure(
      'diagnosis-missed',
      'A killer that is not named',
      total(({ dangerMissed }) => dangerMissed),
      dangerCases,
      '1 % and less',
      (value) => value <= 1,
    ),
  ]
}
