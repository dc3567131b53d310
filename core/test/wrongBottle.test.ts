// A bottle whose strength was read wrong: the first reading after a dose is far from what was poured. Nothing follows until a
// second one agrees; then the amounts follow the water, not the label.
import { describe, expect, test } from '@jest/globals'
import {
  activeOf,
  concernsOf,
  courseInputs,
  createPlanner,
  documentsOf,
  estimateCourse,
  instantOf,
  recordOf,
  type Entry,
} from '../src/index.ts'
import { COURSE_ID, practiceRecord, practiceTanks, TANK_ID } from '../src/practice.ts'

const START = Date.parse('2026-03-20T16:00:00Z')
const HOUR = 3_600_000
const definition = practiceTanks.find(({ id }) => id === 'bottle-twice-as-strong')!
const bare = practiceRecord({ definition, seed: 3, startMs: START, zone: 'UTC' })
const bottle = [...bare.products.keys()][0]!
const at = (hours: number, fields: object): Entry =>
  ({
    id: `entry-${hours}`,
    at: instantOf(START + hours * HOUR),
    zone: 'UTC',
    recordedAt: instantOf(START + hours * HOUR),
    vesselId: TANK_ID,
    courseId: COURSE_ID,
    ...fields,
  }) as unknown as Entry
const dose = at(1, { kind: 'dose', productId: bottle, amount: 5, unit: 'mL' })
// A fish that has eaten: the ramp waits for nothing else.
const meal = at(29, { kind: 'meal', took: 'took' })
const read = (hours: number, value: number) =>
  at(hours, { kind: 'reading', analyte: 'copper', value, unit: 'mg/L', bound: 'exact', instrumentId: 'kit-copper' })

function planAt(hours: number, ...entries: Entry[]) {
  const nowMs = START + hours * HOUR
  const own = bare.courses.get(COURSE_ID)!
  const protocol = own.body.protocol as unknown as { phases: { rules: { kind: string; id: string }[] }[] }
  const asked = protocol.phases[0]!.rules.filter(({ kind }) => kind === 'gate').map(({ id }, i) =>
    at(0.1 + i / 100, { kind: 'gate', gate: id, passed: true, step: `${COURSE_ID}/${id}/0` }),
  )
  const record = recordOf(bare.settings, documentsOf(bare), [...asked, dose, ...entries, meal])
  const active = activeOf(record.entries)
  const course = record.courses.get(COURSE_ID)!
  const estimate = estimateCourse({ ...courseInputs(record, active, course, nowMs, 24)!.inputs, latest: null })
  const estimates = new Map([[COURSE_ID, estimate]])
  const { plans } = createPlanner()({ record, active, estimates, nowMs })
  const concerns = concernsOf(record, active, plans, estimates, nowMs)
  return { estimate, concerns, steps: plans[0]!.steps.filter(({ state }) => state !== 'done') }
}
const raise = (steps: ReturnType<typeof planAt>['steps']) => steps.find(({ kind }) => kind === 'ramp')!
const copperTest = (steps: ReturnType<typeof planAt>['steps']) =>
  steps.find(({ test: one }) => one?.analyte === 'copper')!

describe('a bottle read wrong', () => {
  test('one reading of twice the level: nothing is offered, a second test is due, and the words say why', () => {
    const { steps, estimate } = planAt(30, read(20, 1.54))
    expect(raise(steps)).toMatchObject({
      state: 'waiting',
      detail: expect.stringMatching(/far from what was poured.*label/),
    })
    expect(raise(steps).dose).toBeUndefined()
    expect(copperTest(steps)).toMatchObject({ state: expect.stringMatching(/due|late/) })
    // The ceiling is held against the reading, not against the label.
    expect(estimate.now.p90).toBeGreaterThan(1.4)
  })
  test('two that agree: the next dose starts from what is there, and half of what the label would ask goes in', () => {
    const { steps, concerns } = planAt(30, read(20, 1.54), read(21.5, 1.5))
    expect(concerns.find(({ id }) => id === 'volume')?.title).toMatch(/do 2(?:\.\d)? times what was reckoned/)
    const { dose: offered, state } = raise(steps)
    expect(state).not.toBe('waiting')
    expect(offered!.fromMgPerL).toBeGreaterThan(1.4)
    // 5 mL made it 1.5 in truth: 0.3 mg/L a millilitre.
    const truly = 1.5 + offered!.amount * (1.5 / 5)
    expect(truly).toBeLessThan(1.1 * offered!.toMgPerL)
    expect(truly).toBeLessThan(2.25)
  })
  test('two of half the level ask for a second test before twice as much goes in', () => {
    expect(raise(planAt(30, read(20, 0.4)).steps).state).toBe('waiting')
    expect(raise(planAt(30, read(20, 0.4), read(21.5, 0.4)).steps).state).not.toBe('waiting')
  })
  test('a reading that fits is not asked for twice; a slip of the hand is outvoted by the next', () => {
    expect(raise(planAt(30, read(20, 0.75)).steps)).toMatchObject({
      state: 'late',
      detail: expect.stringMatching(/^From/),
    })
    const { steps, estimate } = planAt(30, read(20, 7.5), read(21.5, 0.76))
    expect(raise(steps).state).not.toBe('waiting')
    expect(estimate.now.p90).toBeLessThan(1)
  })
})
