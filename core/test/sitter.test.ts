import { expect, test } from '@jest/globals'
import {
  activeEntries,
  documentsOf,
  isForSitter,
  plan,
  protocolLibrary,
  recordOf,
  sitterPlan,
  type KeeperRecord,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { ZONE as zone } from './entries.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone })
const of = (record: KeeperRecord, tests = false) => {
  const active = activeEntries(record.entries)
  const plans = plan({ record, active, estimates: new Map(), nowMs: NOW, aheadDays: 7 })
  return sitterPlan(record, active, plans, { fromDay: '2026-11-24', toDay: '2026-11-26', tests, nowMs: NOW })
}
const words = (record: KeeperRecord, tests = false) =>
  of(record, tests)
    .days.flatMap(({ vessels }) => vessels.flatMap(({ lines }) => lines))
    .map(({ title, detail }) => `${title} ${detail}`)

test('every day is there; each vessel with animals is fed, counted by name and topped up', () => {
  const { days, unfed } = of(demo)
  expect(days.map(({ day }) => day)).toEqual(['2026-11-24', '2026-11-25', '2026-11-26'])
  const holding = days[0]!.vessels.find(({ vessel }) => vessel.id === 'holding-a')!
  expect(holding.lines.map(({ kind }) => kind).slice(0, 3)).toEqual(['feed', 'look', 'water'])
  expect(holding.lines[1]!.title).toMatch(/Larger clown, Smaller clown, Azure damsel/)
  expect(holding.lines[2]!.detail).toMatch(/fresh water/)
  // Nothing is guessed: who has no food written down is named, and the sheet says so.
  expect(unfed.map(({ id }) => id)).toContain('holding-b')
  expect(holding.lines[0]!.detail).toMatch(/^The bag of the day/)
})
test('nothing with drugs, also where tests are asked; what is the keeper’s is told to the keeper', () => {
  const drug = /copper|dose|bath|mL\b|praziquantel|mg\/L of/i
  expect(words(demo).filter((line) => drug.test(line))).toEqual([])
  expect(words(demo, true).filter((line) => /copper/i.test(line))).toEqual([])
  expect(words(demo, true).length).toBeGreaterThan(words(demo).length)
  const kinds = new Set(of(demo).keepers.map(({ kind }) => kind))
  expect(kinds.has('observe')).toBe(false)
  expect(of(demo).keepers.length).toBeGreaterThan(0)
})
test('the keeper’s words stand on the sheet', () => {
  const record = recordOf(
    demo.settings,
    documentsOf(demo).map((document) =>
      document.register === 'vessel' && document.id === 'holding-a'
        ? { ...document, body: { ...document.body, sitter: { food: 'One bag, evenings', also: 'Lid shut' } } }
        : document,
    ),
    demo.entries,
  )
  const { days, unfed } = of(record)
  const lines = days[1]!.vessels.find(({ vessel }) => vessel.id === 'holding-a')!.lines
  expect(lines[0]!.detail).toMatch(/^One bag, evenings/)
  expect(lines.some(({ detail }) => detail === 'Lid shut')).toBe(true)
  expect(unfed.map(({ id }) => id)).not.toContain('holding-a')
})

test('every kind of step is either anybody’s or the keeper’s, and a drug’s level is never anybody’s', () => {
  const kinds = new Set(
    protocolLibrary.flatMap(({ phases }) => phases.flatMap(({ rules }) => rules.map(({ kind }) => kind))),
  )
  const theirs = [...kinds].filter((kind) => isForSitter({ kind })).sort()
  expect(theirs).toEqual(['check', 'feed', 'observe'])
  const reading = (analyte: string) => isForSitter({ kind: 'test', test: { analyte, role: 'kit' } })
  expect([reading('nitrate'), reading('temperature'), reading('copper')]).toEqual([true, true, false])
})
