// npm run water -- [--tanks N] [--seed S]: how near the use per day comes in tanks with weekly changes, how often its band
// holds, and how often a crossing comes that was said to. Truth by the simulated house, judged by the record alone.
import { activeEntries, instantOf, recordOf, waterLines, type Analyte, type Entry } from '../src/index.ts'
import { correctionOf } from '../src/outbreak/corrections.ts'
import { chanceFrom, type Chance } from '../src/world/random.ts'
import { kitFor, readWith } from '../src/world/instruments.ts'
import { change, hour, MIXES, tankOf, trulyIn, type Solute } from '../src/world/tank.ts'
import { protocolOf } from '../src/knowledge/library.ts'
import { sceneFor } from './scene.ts'

const args = process.argv.slice(2)
const valueOf = (name: string, otherwise: number) => {
  const i = args.indexOf(`--${name}`)
  return i < 0 ? otherwise : Number(args[i + 1])
}
const tanks = valueOf('tanks', 300)
const seed = valueOf('seed', 1)
const START = Date.parse('2026-03-01T09:00:00Z')
const DAY = 86_400_000
/** Unit of the record for one of the world's. */
const UNIT: Partial<Record<Solute, number>> = { alkalinity: 2.804 }
const ANALYTES: readonly (readonly [Solute, number, number])[] = [
  ['alkalinity', 0.1, 1],
  ['calcium', 3, 12],
  ['magnesium', 2, 8],
  ['potassium', 1, 4],
]
const { record: base, vesselId } = sceneFor({ protocol: protocolOf('dark-3')!, seed, messy: false })
const display = base.vessels.get(vesselId)!
const bin = { ...display, id: 'mixing-bin', body: { ...display.body, name: 'Bin', purpose: 'mixing' as const } }

/** One tank of so many weeks; the use as the record reckons it. */
function useIn(analyte: Solute, perDay: number, weeks: number, measured: boolean, chance: Chance) {
  const unit = UNIT[analyte] ?? 1
  const tank = tankOf(
    {
      water: 'marine',
      netL: 73,
      evaporationLPerDay: 0.5,
      bindsPerDay: 0,
      releasesPerDay: 0,
      usePerDay: { [analyte]: perDay / unit },
      wasteMgPerDay: 5,
      filterMgPerDay: 40,
      roomC: 25,
      swingC: 0.3,
    },
    chance,
  )
  const kit = kitFor(analyte, chance, false)
  const entries: Entry[] = []
  const put = (day: number, fields: object, vessel = vesselId) =>
    entries.push({
      id: `w${String(entries.length).padStart(5, '0')}`,
      at: instantOf(START + day * DAY),
      recordedAt: instantOf(START + day * DAY),
      zone: 'Europe/Berlin',
      vesselId: vessel,
      ...fields,
    } as unknown as Entry)
  const read = (day: number, truth: number, vessel?: string) =>
    put(
      day,
      { kind: 'reading', analyte, value: readWith(kit, truth * unit, chance).value, unit: '', bound: 'exact' },
      vessel,
    )
  // What is used up is put back by hand, so that the tank stays where it is.
  let dosed = 0
  for (let day = 0; day <= 7 * weeks; day++) {
    if (day % 2 === 0) read(day, trulyIn(tank, analyte))
    if (day > 0 && day % 7 === 0) {
      // The salt's own value is a little off what it says; the bin is the same all along.
      const own = ((correctionOf(analyte)?.mix ?? 0) / unit) * (1 + (dosed === 0 ? chance.normal(0, 0.02) : 0))
      mixes.set(analyte, mixes.get(analyte) ?? own)
      const mix = mixes.get(analyte)!
      if (measured) for (let i = 0; i < 3; i++) read(day + 0.001 + i / 1e5, mix, bin.id)
      put(day + 0.01, { kind: 'change', fraction: 0.15 })
      change(tank, 0.15 * tank.truth.netL, { mix: { ...MIXES.marine, [analyte]: mix } })
      dosed++
      const rise = 5 * perDay
      put(day + 0.02, { kind: 'tally', measure: `add-${analyte}`, values: { rise, grams: 1 } })
      tank.solutes[analyte] += rise / unit
    }
    for (let h = 0; h < 24; h++) hour(tank)
  }
  const record = recordOf(base.settings, [display, bin], entries)
  return waterLines(record, activeEntries(record.entries), vesselId, START + 7 * weeks * DAY + 3_600_000).find(
    (line) => line.analyte === (analyte as Analyte),
  )?.use
}
const mixes = new Map<Solute, number>()

const percent = (part: number, all: number) => `${((100 * part) / Math.max(1, all)).toFixed(1)} %`
console.log('use per day, 15 % changed a week, a test every second day, what is used put back weekly')
for (const [weeks, measured] of [
  [3, false],
  [3, true],
  [8, false],
  [8, true],
] as const) {
  const near = new Map<Solute, number[]>()
  let holds = 0
  let n = 0
  for (let i = 0; i < tanks; i++) {
    const chance = chanceFrom(seed * 77_777 + i)
    mixes.clear()
    const [analyte, least, most] = ANALYTES[i % ANALYTES.length]!
    const perDay = chance.between(least, most)
    const use = useIn(analyte, perDay, weeks, measured, chance)
    if (!use) continue
    n++
    if (perDay >= use.low && perDay <= use.high) holds++
    near.set(analyte, [...(near.get(analyte) ?? []), Math.abs(use.perDay - perDay) / perDay])
  }
  const all = [...near.values()].flat().sort((a, b) => a - b)
  console.log(
    `${weeks} weeks, mix ${measured ? 'read in the bin' : 'by its salt'}: within 10 % in ${percent(all.filter((one) => one <= 0.1).length, n)} of ${n} tanks (wanted 90), ` +
      `middle error ${(100 * all[all.length >> 1]!).toFixed(1)} %, band holds ${percent(holds, n)} (wanted 75 to 85); ` +
      [...near]
        .map(([analyte, list]) => `${analyte} ${percent(list.filter((one) => one <= 0.1).length, list.length)}`)
        .join(', '),
  )
}

console.log('crossings within a fortnight, by what was said')
const bins = Array.from({ length: 5 }, () => ({ said: 0, came: 0, n: 0 }))
for (let i = 0; i < 4 * tanks; i++) {
  const chance = chanceFrom(seed * 31_337 + i)
  const start = chance.between(7.4, 9.6)
  const rate = chance.between(0, 0.12)
  const entries = [28, 21, 14, 7, 0].map(
    (ago, j) =>
      ({
        kind: 'reading',
        id: `c${i}-${j}-test`,
        at: instantOf(START - ago * DAY),
        recordedAt: instantOf(START - ago * DAY),
        zone: 'Europe/Berlin',
        vesselId,
        analyte: 'alkalinity',
        value: start - (28 - ago) * rate + chance.normal(0, 0.28),
        unit: 'dKH',
        bound: 'exact',
      }) as unknown as Entry,
  )
  const record = recordOf(base.settings, [display], entries)
  const line = waterLines(record, activeEntries(record.entries), vesselId, START)[0]!
  const said = line.crossing?.bound === 'min' ? line.crossing.chance : 0.04
  const one = bins[Math.min(4, Math.floor(said * 5))]!
  one.said += said
  one.came += start - 42 * rate < (line.range?.min ?? 7) ? 1 : 0
  one.n++
}
for (const { said, came, n } of bins)
  if (n > 0)
    console.log(
      `said ${(said / n).toFixed(2)}, came ${(came / n).toFixed(2)} (n ${n}), apart ${Math.abs((said - came) / n).toFixed(2)}; wanted 0.10 at most`,
    )
