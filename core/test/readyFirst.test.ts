// What stands before a dose in its protocol: asked for, and done, before an amount is named.
import { describe, expect, test } from '@jest/globals'
import { protocolLibrary, type Entry, type Step } from '@brinvo/core'
import { practised } from './practised.ts'

const { courseId, productId, entry, planAt } = practised('planaria-and-a-jar')
const stepsAt = (hours: number, ...entries: Entry[]): readonly Step[] => planAt(hours, ...entries).steps
const step = (steps: readonly Step[], rule: string) => steps.find(({ ruleId }) => ruleId === rule)
const jars = (hours: number) => entry('gate', hours, { gate: 'jars', passed: true })
const out = (hours: number) => entry('done', hours, { what: 'Snails out', step: `${courseId}/evacuate/0` })
const carbon = (hours: number, on: boolean) => entry('equipment', hours, { item: 'carbon', on })

describe('before a dose', () => {
  test('a phase that is over at the very minute it began still asks whether carbon runs', () => {
    for (const hours of [0, 0.1]) {
      const steps = stepsAt(1, jars(hours), out(hours))
      expect(step(steps, 'carbon')).toMatchObject({ state: 'due', equipment: { item: 'carbon', on: false } })
    }
  })
  test('no dose before what it would kill was taken out', () => {
    expect(step(stepsAt(1, jars(0), carbon(0, false)), 'dose')).toBeUndefined()
    expect(step(stepsAt(1, jars(0), carbon(0, false), out(0.5)), 'dose')).toMatchObject({ state: 'due' })
  })
  test('no amount while nobody said that the carbon is out; then it stands there', () => {
    const waits = step(stepsAt(1, jars(0), out(0)), 'dose')!
    expect(waits).toMatchObject({ state: 'waiting', detail: expect.stringContaining('First: Carbon out') })
    expect(waits.dose).toBeUndefined()
    const ready = step(stepsAt(1, jars(0), out(0), carbon(0.5, false)), 'dose')!
    expect(ready.state).toBe('due')
    expect(ready.dose).toMatchObject({ productId })
    // Put in again before the dose: it waits again.
    expect(step(stepsAt(1, jars(0), out(0), carbon(0.5, false), carbon(0.8, true)), 'dose')!.state).toBe('waiting')
  })
  test('in every protocol a thing to be taken out stands before the first dose that it would take up', () => {
    for (const { id, phases } of protocolLibrary) {
      const rules = phases.flatMap((phase) => phase.rules)
      const dose = rules.findIndex(({ kind }) => kind === 'dose')
      const off = rules.findIndex((rule) => rule.kind === 'equipment' && !rule.on && rule.item === 'carbon')
      if (dose >= 0 && off >= 0) expect([id, off < dose]).toEqual([id, true])
    }
  })
})
