// The jar of a practice tank: what is counted is what the water does, and a round for which no worm is left comes to its end.
import { describe, expect, test } from '@jest/globals'
import { protocolOf, type Entry } from '@brinvo/core'
import { countsOf, practiceRecord, worldAt, type Begun } from '@brinvo/core/practice'
import { HOUR, practised, START } from './practised.ts'

const protocol = protocolOf('jar-fenbendazole-planaria')!
const measure = (id: string) => protocol.campaign!.measures.find((one) => one.id === id)!
/** A tank with another pest in it. */
const withPest = ({ begun: of }: ReturnType<typeof practised>, pest: object): Begun => ({
  ...of,
  definition: {
    ...of.definition,
    truth: { ...of.definition.truth, pest: { ...of.definition.truth.pest!, ...pest } },
  },
})
const tank = practised('planaria-and-a-jar')
const { begun, courseId, productId, entry, withEntries, planAt } = tank
const begunWith = (pest: object) => withPest(tank, pest)
const dose = (hours: number, amount = 0.43, step = 'dose/0') =>
  entry('dose', hours, { productId, amount, unit: 'mL', step: `${courseId}/${step}` })

describe('what a jar holds', () => {
  const counts = (of: Begun, hours: number, ...entries: Entry[]) =>
    countsOf(worldAt(of, withEntries(...entries), [], START + hours * HOUR), measure('jar'))!
  test('nothing before the dose; then worms that stop moving, and an undosed jar in which none does', () => {
    expect(counts(begun, 1)).toEqual([])
    const moving = [2, 12, 30, 80].map((hours) => {
      const [dosed, undosed] = counts(begun, hours, dose(1))
      expect(dosed!.piece).toBe('dosed')
      expect(undosed).toMatchObject({ piece: 'undosed', values: { 'small-dead': 0, 'large-dead': 0 } })
      const { values } = dosed!
      // Nobody leaves the jar: what does not move is dead.
      expect(values['small-alive']! + values['small-dead']!).toBe(5)
      expect(values['large-alive']! + values['large-dead']!).toBe(5)
      return values['small-alive']! + values['large-alive']!
    })
    expect(moving).toEqual([...moving].sort((a, b) => b - a))
    expect(moving[0]!).toBeGreaterThanOrEqual(8)
    expect(moving.at(-1)).toBe(0)
  })
  test('a dose by the wrong volume, a hundredth of it, leaves them moving', () => {
    const [dosed] = counts(begun, 80, dose(1, 0.0043))
    expect(dosed!.values).toMatchObject({ 'small-alive': 5, 'large-alive': 5 })
  })
  test('a second dose of the same round fills no new jar; weeks later it does', () => {
    const [same] = counts(begun, 49, dose(1), dose(48, 0.22, 'redose/0'))
    expect(same!.values['small-dead']! + same!.values['large-dead']!).toBeGreaterThan(3)
    const [next] = counts(begun, 18 * 24 + 1, dose(1), dose(18 * 24, 0.43, 'second/0'))
    expect(next!.values['small-dead']! + next!.values['large-dead']!).toBeLessThan(3)
  })
  test('few worms make a small jar, none make none', () => {
    const few = begunWith({ eggs: 0, young: 1, adults: 2 })
    const [dosed] = counts(few, 2, dose(1))
    expect(Object.values(dosed!.values).reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(3)
    expect(counts(begunWith({ eggs: 0, young: 0, adults: 0 }), 2, dose(1))).toEqual([])
  })
  test('a trap holds some of those that are there, and nothing where there are none', () => {
    const trap = (of: Begun) =>
      countsOf(worldAt(of, withEntries(), [], START + HOUR), measure('trap'))![0]!.values['worms']!
    expect(trap(begunWith({ young: 400, adults: 400 }))).toBeGreaterThan(60)
    expect(trap(begunWith({ eggs: 0, young: 0, adults: 0 }))).toBe(0)
  })
})

describe('a lens over every piece', () => {
  test('finds some of those that are there, on each piece, and none where there is none', () => {
    const finds = protocolOf('rounds-montipora-slug')!.campaign!.measures.find(({ id }) => id === 'finds')!
    const found = (pest: object) => {
      const of = withPest(practised('slugs-in-rounds'), pest)
      return countsOf(worldAt(of, practiceRecord(of), [], START + HOUR), finds)!
    }
    const [some] = found({ young: 200, adults: 200 })
    expect(some!.piece).toBe('Montipora')
    expect(some!.values['mobiles']!).toBeGreaterThan(180)
    expect(some!.values['mobiles']!).toBeLessThan(300)
    expect(found({ eggs: 0, young: 0, adults: 0 })[0]!.values).toEqual({ mobiles: 0 })
  })
})

describe('a second round for which no worm can be caught', () => {
  const look = (hours: number, piece: string, moving: number, dead: number) =>
    entry('tally', hours, {
      measure: 'jar',
      piece,
      values: { 'small-alive': moving, 'small-dead': dead, 'large-alive': 0, 'large-dead': 0 },
    })
  /** The first round by its jar, and the weeks after it. */
  const first = [
    entry('gate', 0, { gate: 'jars', passed: true }),
    entry('done', 0, { what: 'Out', step: `${courseId}/evacuate/0` }),
    entry('equipment', 0, { item: 'carbon', on: false }),
    dose(1),
    ...[24, 48].flatMap((h) => [look(h, 'dosed', 0, 9), look(h + 0.1, 'undosed', 5, 0)]),
    entry('change', 56, { fraction: 0.6, step: `${courseId}/big/0` }),
    entry('equipment', 56, { item: 'carbon', on: true }),
  ]
  const second = 20 * 24
  const phaseAt = (hours: number, ...entries: Entry[]) => {
    const { progress } = planAt(hours, ...first, ...entries)
    return progress.phases[progress.current ?? 99]?.phase.id
  }
  const poured = [entry('equipment', second, { item: 'carbon', on: false }), dose(second, 0.43, 'second/0')]
  const said = entry('gate', second, { gate: 'no-worms', passed: true })
  test('ends after three days at the dose, once it was said; never by time alone', () => {
    expect(phaseAt(second + 1, ...poured)).toBe('repeat')
    expect(phaseAt(second + 200, ...poured)).toBe('repeat')
    expect(phaseAt(second + 30, ...poured, said)).toBe('repeat')
    expect(phaseAt(second + 80, ...poured, said)).toBe('clean-again')
  })
  test('and not without the dose, nor while a jar that was looked into still moves', () => {
    expect(phaseAt(second + 80, said)).toBe('repeat')
    expect(phaseAt(second + 80, ...poured, said, look(second + 24, 'dosed', 1, 4))).toBe('repeat')
    const clear = [24, 36].flatMap((h) => [look(second + h, 'dosed', 0, 5), look(second + h + 0.1, 'undosed', 5, 0)])
    expect(phaseAt(second + 80, ...poured, said, ...clear)).toBe('clean-again')
  })
})
