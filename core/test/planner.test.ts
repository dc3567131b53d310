// Plans that are kept: whatever is appended, in whatever order, the answer is the plan of the whole record.
import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import {
  activeEntries,
  activeOf,
  advanceActive,
  carryActive,
  createPlanner,
  plan,
  recordOf,
  documentsOf,
  type Entry,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { expectSame } from './same.ts'
import { entryAt, ZONE } from './entries.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const HOUR = 3_600_000
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: ZONE })
const withEntries = (entries: readonly Entry[]) => recordOf(demo.settings, documentsOf(demo), entries)

/** One made-up thing a keeper may write down, now or back in time. */
const written = fc.record({
  hoursAgo: fc.integer({ min: 0, max: 400 }),
  vesselId: fc.constantFrom('longshore', 'holding-a', 'holding-b', 'tub', 'fernwater'),
  what: fc.constantFrom('reading', 'meal', 'sign', 'done', 'move', 'gear', 'void', 'change', 'skip'),
  pick: fc.nat(),
})
type Written = typeof written extends fc.Arbitrary<infer W> ? W : never
const entryOf = ({ hoursAgo, vesselId, what, pick }: Written, before: readonly Entry[]): Entry => {
  const ms = NOW - hoursAgo * HOUR
  switch (what) {
    case 'reading':
      return entryAt(ms, { kind: 'reading', vesselId, analyte: 'temperature', value: 25, unit: '°C', bound: 'exact' })
    case 'meal':
      return entryAt(ms, { kind: 'meal', vesselId, took: 'took' })
    case 'sign':
      return entryAt(ms, { kind: 'sign', vesselId, sign: 'flashing', present: true })
    case 'done':
      return entryAt(ms, { kind: 'done', vesselId, what: 'Done', step: `fallow-longshore/feed-filter/${pick % 20}` })
    case 'skip':
      return entryAt(ms, { kind: 'skip', vesselId, reason: 'away', step: `intake-tub/walk/${pick % 20}` })
    case 'move':
      return entryAt(ms, { kind: 'move', vesselId: 'holding-a', residentId: 'clown-small', toVesselId: vesselId })
    case 'gear':
      return entryAt(ms, { kind: 'gear', gearId: 'net-green', act: pick % 2 ? 'wet' : 'disinfected', vesselId })
    case 'change':
      return entryAt(ms, { kind: 'change', vesselId, fraction: 0.1 })
    case 'void':
      return entryAt(ms, { kind: 'void', voids: before[pick % before.length]!.id, reason: 'wrong tank' })
  }
}

describe('after any appends', () => {
  test('the active ledger is the one read from the start', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(written, { minLength: 1, maxLength: 4 }), { minLength: 1, maxLength: 6 }),
        (batches) => {
          let all: readonly Entry[] = demo.entries
          let active: readonly Entry[] = activeEntries(all)
          for (const batch of batches) {
            const added = batch.map((one) => entryOf(one, all))
            all = [...all, ...added]
            active = advanceActive(active, added, all)
            expectSame(active, activeEntries(all))
          }
        },
      ),
      { numRuns: 60 },
    )
  })
  test('the kept plans deep-equal the plan of the whole record', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(written, { minLength: 1, maxLength: 3 }), { minLength: 1, maxLength: 5 }),
        (batches) => {
          const planner = createPlanner()
          let record = withEntries(demo.entries)
          const options = (nowMs: number) => ({ record, active: activeOf(record.entries), estimates: new Map(), nowMs })
          planner(options(NOW))
          batches.forEach((batch, i) => {
            const added = batch.map((one) => entryOf(one, record.entries))
            const next = withEntries([...record.entries, ...added])
            carryActive(record.entries, next.entries, added)
            record = next
            const nowMs = NOW + (i % 2) * HOUR
            expectSame(
              planner(options(nowMs)).plans,
              plan({ ...options(nowMs), active: activeEntries(record.entries) }),
            )
          })
        },
      ),
      { numRuns: 20 },
    )
  })
  test('a course that nothing touched keeps its very plan, a touched one does not', () => {
    const planner = createPlanner()
    const { plans: before } = planner({
      record: demo,
      active: activeOf(demo.entries),
      estimates: new Map(),
      nowMs: NOW,
    })
    const added = [entryAt(NOW - HOUR, { kind: 'meal', vesselId: 'tub', took: 'took' })]
    const record = withEntries([...demo.entries, ...added])
    carryActive(demo.entries, record.entries, added)
    const { plans: after } = planner({ record, active: activeOf(record.entries), estimates: new Map(), nowMs: NOW })
    const kept = before.filter((one, i) => one === after[i]).map(({ vesselId }) => vesselId)
    expect(kept.sort()).toEqual(['fernwater', 'holding-a', 'holding-b', 'longshore', 'longshore'])
  })
})
