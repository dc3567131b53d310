// Tests of a finding that take time: when a look is worth it, when a no is one, and what the answers say.
import { describe, expect, test } from '@jest/globals'
import {
  activeEntries,
  documentsOf,
  recordOf,
  signOf,
  testAnswers,
  testConcerns,
  testsOf,
  testState,
  testStep,
  type Entry,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { entryAt, ZONE } from './entries.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const HOUR = 3_600_000
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: ZONE })
const film = demo.findings.get('finding-film')!
const [blowOff] = testsOf(film.body.pool)
const begun = (hoursAgo: number) =>
  entryAt(NOW - hoursAgo * HOUR, {
    kind: 'check',
    vesselId: 'longshore',
    what: 'test-blow-off',
    answers: ['begun'],
    step: testStep(film.id, 'blow-off'),
  })
const seen = (hoursAgo: number, sign: string, present = true) =>
  entryAt(NOW - hoursAgo * HOUR, { kind: 'sign', vesselId: 'longshore', sign, present, findingId: film.id })
const state = (...entries: Entry[]) => testState(entries, film, blowOff!, NOW)

describe('a patch blown off', () => {
  test('waits two hours, is looked at until a day has passed, then a no counts', () => {
    expect(blowOff!.id).toBe('blow-off')
    expect(state()).toBeNull()
    expect(state(begun(1.9))!.state).toBe('waiting')
    expect(state(begun(2))!.state).toBe('look')
    expect(state(begun(24))!.state).toBe('over')
    expect(state(begun(80))).toBeNull()
  })
  test('an answer since ends it; one of before, or of another finding, does not', () => {
    expect(state(begun(3), seen(1, 'back-in-24h'))).toBeNull()
    expect(state(seen(5, 'back-in-24h'), begun(3))).not.toBeNull()
    expect(state(begun(3), { ...seen(1, 'back-in-24h'), findingId: 'another' } as Entry)).not.toBeNull()
    // Begun again, it counts from then.
    expect(state(begun(30), begun(1))!.state).toBe('waiting')
  })
  test('the record asks for the look while the finding is open', () => {
    const concerns = (entries: Entry[], ended = false) => {
      const documents = documentsOf(demo).map((one) =>
        ended && one.id === film.id ? { ...film, body: { ...film.body, endedAt: new Date(NOW).toISOString() } } : one,
      )
      const record = recordOf(demo.settings, documents, entries)
      return testConcerns(record, activeEntries(record.entries), NOW)
    }
    expect(concerns([begun(1)])).toEqual([])
    expect(concerns([begun(3)])).toEqual([
      expect.objectContaining({
        findingId: film.id,
        title: 'Blow it off, Longshore:',
        detail: expect.stringMatching(/look now/),
      }),
    ])
    expect(concerns([begun(25)])[0]!.detail).toMatch(/time is over/)
    expect(concerns([begun(3)], true)).toEqual([])
  })
})

test('answers speak of known signs, and gone after dark is the other side of the same at dawn', () => {
  const night = testsOf('surface-marine').find(({ id }) => id === 'night')!
  expect(testAnswers(night, true)).toEqual({ 'gone-at-night': 'yes' })
  expect(testAnswers(night, false)).toEqual({ 'gone-at-night': 'no', 'same-night-day': 'yes' })
  for (const pool of ['surface-marine', 'surface-fresh'] as const)
    for (const { present, absent, otherwise, fromMin, untilMin } of testsOf(pool)) {
      expect(untilMin).toBeGreaterThan(fromMin)
      for (const id of [...present, ...absent, ...otherwise]) expect(signOf(id)?.id).toBe(id)
    }
  expect(testsOf('fish-marine')).toEqual([])
})
