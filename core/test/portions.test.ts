// A day's amount in portions: the step stands until the last of them is in, each from its hour on.
import { describe, expect, test } from '@jest/globals'
import { activeEntries, steerState, type Entry } from '@brinvo/core'
import { HOUR, practised, START } from './practised.ts'

const { vesselId, courseId, entry, withEntries, planAt } = practised('rack-that-uses')
const test0 = entry('reading', 0, { analyte: 'alkalinity', value: 2.4, unit: 'meq/L', bound: 'exact' })
const portion = (hours: number, rise: number) =>
  entry('tally', hours, { measure: 'add-alkalinity', values: { grams: 0.4, rise } })
const at = (hours: number, ...entries: Entry[]) => {
  const record = withEntries(test0, ...entries)
  const nowMs = START + hours * HOUR
  const own = planAt(hours, test0, ...entries)
  const today = own.steps.filter(({ steers, fromMs }) => steers && fromMs < START + 6 * HOUR)
  return { step: today[0]!, state: steerState(record, activeEntries(record.entries), vesselId, 'alkalinity', nowMs)! }
}

describe('portions of a day', () => {
  const whole = at(0.1).state.rise
  test('the day asks for all of them: after the first the next stands at its hour, and not before', () => {
    expect(at(0.1).step.state).toBe('due')
    const apart = at(0.2, portion(0.1, whole / 4)).state.nextMs! - (START + 0.1 * HOUR)
    expect(apart).toBeGreaterThanOrEqual(HOUR / 2)
    expect(at(0.2, portion(0.1, whole / 4)).step).toMatchObject({ state: 'ahead', dueMs: START + 0.1 * HOUR + apart })
    expect(at(1.2, portion(0.1, whole / 4)).step.state).toBe('due')
    expect(at(2.3, portion(0.1, whole / 4), portion(1.2, whole / 4)).step.state).toBe('due')
  })
  test('with the last one it is done, and so it is where the keeper says that it is enough', () => {
    const all = [0.1, 1.2, 2.3, 3.4].map((hours) => portion(hours, whole / 4))
    expect(at(4.5, ...all).step.state).toBe('done')
    const said = entry('done', 1.3, { what: 'The day’s portions', step: `${courseId}/${at(0.1).step.ruleId}/0` })
    expect(at(2.3, portion(0.1, whole / 4), said).step.state).toBe('done')
  })
})
