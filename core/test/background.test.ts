// What a record makes likelier before anything is seen: each fact on its own line, struck out, and weighed by how much.
import { describe, expect, test } from '@jest/globals'
import {
  activeEntries,
  diagnose,
  documentsOf,
  exposures,
  findingInput,
  recordOf,
  signPairs,
  signOf,
  signsOf,
  tableOf,
  POOLS,
  type DiagnosisInput,
  type Entry,
  type FindingDocument,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { priors } from '../src/diagnosis/rank.ts'
import { entryAt, ZONE } from './entries.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const DAY = 86_400_000
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: ZONE })
const fish = (context: DiagnosisInput['context'], more: Partial<DiagnosisInput> = {}) =>
  diagnose({ pool: 'fish-marine', evidence: [], ...(context ? { context } : {}), ...more })
const share = (found: ReturnType<typeof diagnose>, id: string) =>
  found.ranking.entries.find(({ condition }) => condition.id === id)!.p

describe('lines before anything is seen', () => {
  test('a newcomer nine days ago is a line of its own, and striking it out is not knowing', () => {
    const known = fish({ daysSinceArrival: 9 })
    const line = known.background.find(({ id }) => id === 'before-arrival')!
    expect(line.words).toBe('The newest came in 9 days ago.')
    expect(line.moves.length).toBeGreaterThan(0)
    const struck = fish({ daysSinceArrival: 9 }, { struck: new Set(['before-arrival']) })
    expect(struck.subject.daysSinceArrival).toBeUndefined()
    expect(share(struck, 'marine-velvet')).toBeCloseTo(share(fish({}), 'marine-velvet'), 12)
    expect(struck.background.map(({ id }) => id)).toContain('before-arrival')
  })

  test('what a line says it moves is what striking it out moves', () => {
    const context = { daysSinceArrival: 60, recent: ['carbon-added'] as const }
    const all = fish(context)
    for (const { id, moves } of all.background) {
      const without = fish(context, { struck: new Set([id]) })
      for (const { condition, factor } of moves)
        expect(share(all, condition) / share(without, condition)).toBeCloseTo(factor, 9)
    }
    expect(all.background.map(({ id }) => id)).toEqual(['before-arrival', 'before-carbon-added'])
  })

  test('never dosed with copper can be doubted', () => {
    const sure = fish({})
    const doubted = fish({}, { struck: new Set(['before-no-copper']) })
    expect(share(doubted, 'copper-toxicity') / share(sure, 'copper-toxicity')).toBeGreaterThan(30)
  })

  test('four months without a newcomer: what comes with one is a tenth, by the handbook', () => {
    const at = (days: number) => priors({ pool: 'fish-marine', daysSinceArrival: days })
    const { conditions } = tableOf('fish-marine')
    const index = (id: string) =>
      conditions.filter(({ pools }) => pools.includes('fish-marine')).findIndex((one) => one.id === id)
    const odds = (days: number) => at(days)[index('marine-ich')]! / at(days)[index('hlle')]!
    expect(odds(121) / odds(119)).toBeCloseTo(0.1, 9)
  })

  test('phosphate media, a lamp and carbon out are told with their day', () => {
    const media = (daysAgo: number, item: string, on: boolean) =>
      entryAt(NOW - daysAgo * DAY, { kind: 'equipment', vesselId: 'tub', item, on })
    const coral = [...demo.findings.values()].find(({ body }) => body.vesselId === 'tub')!
    const lines = (entries: readonly Entry[]) => {
      const record = recordOf(demo.settings, documentsOf(demo), [...demo.entries, ...entries])
      return diagnose(findingInput(record, activeEntries(record.entries), coral, NOW)).background.map(
        ({ words }) => words,
      )
    }
    expect(lines([media(12, 'phosphate-media', true), media(1, 'carbon', false), media(3, 'light', true)])).toEqual(
      expect.arrayContaining([
        'Phosphate media went in 12 days ago.',
        'Activated carbon was taken out yesterday.',
        'A lamp was switched in 3 days ago.',
      ]),
    )
    expect(lines([media(40, 'phosphate-media', true), media(20, 'light', true)]).join()).not.toMatch(/media|lamp/)
  })
})

describe('what may have come along', () => {
  const gramma = demo.findings.get('finding-gramma')!
  const other = (fields: Partial<FindingDocument['body']>): FindingDocument => ({
    ...gramma,
    id: 'finding-other',
    body: {
      ...gramma.body,
      vesselId: 'holding-a',
      residentId: 'azure-damsel',
      startedAt: new Date(NOW - 9 * DAY).toISOString(),
      ...fields,
    },
  })
  const net = {
    register: 'gear' as const,
    id: 'the-net',
    revision: 1,
    savedAt: '2026-10-01T10:00:00.000Z',
    history: [],
    body: { name: 'Green net', sort: 'net' as const, homeVesselId: 'holding-b' },
  }
  const wet = (daysAgo: number, vesselId: string) =>
    entryAt(NOW - daysAgo * DAY, { kind: 'gear', gearId: 'the-net', act: 'wet', vesselId })
  const withOther = (finding: FindingDocument, entries: readonly Entry[]) => {
    const record = recordOf(demo.settings, [...documentsOf(demo), net, finding], [...demo.entries, ...entries])
    const active = activeEntries(record.entries)
    return { record, active, input: findingInput(record, active, gramma, NOW) }
  }
  const carried = [wet(6, 'holding-a'), wet(5, 'holding-b')]

  test('wet gear from a vessel with velvet makes velvet three times likelier, on a line that can be struck out', () => {
    const { input } = withOther(
      other({ was: 'marine-velvet', endedAt: new Date(NOW - 3 * DAY).toISOString() }),
      carried,
    )
    expect(input.exposed).toEqual(['marine-velvet'])
    const weighed = diagnose(input)
    const line = weighed.background.find(({ id }) => id === 'before-exposed')!
    expect(line.words).toBe('Green net came wet from Holding A 5 days ago, where marine velvet is followed.')
    const odds = (found: ReturnType<typeof diagnose>) => share(found, 'marine-velvet') / share(found, 'marine-ich')
    expect(odds(weighed) / odds(diagnose({ ...input, struck: new Set(['before-exposed']) }))).toBeCloseTo(3, 9)
  })

  test('what is not catching, is long over, or came by dry gear weighs nothing', () => {
    const none = (finding: FindingDocument, entries: readonly Entry[]) => {
      const { record, active } = withOther(finding, entries)
      return exposures(record, active, gramma, NOW)
    }
    expect(none(other({ was: 'hlle', endedAt: new Date(NOW - 3 * DAY).toISOString() }), carried)).toEqual([])
    expect(none(other({ was: 'marine-velvet', endedAt: new Date(NOW - 70 * DAY).toISOString() }), carried)).toEqual([])
    const dried = entryAt(NOW - 5.5 * DAY, { kind: 'gear', gearId: 'the-net', act: 'dried' })
    expect(none(other({ was: 'marine-velvet' }), [carried[0]!, dried, carried[1]!])).toEqual([])
  })

  test('an animal that came from there counts like its gear; an open finding by what leads it', () => {
    const moved = entryAt(NOW - 2 * DAY, {
      kind: 'move',
      vesselId: 'holding-a',
      residentId: 'azure-damsel',
      toVesselId: 'holding-b',
    })
    const signs = ['spots-salt-grain', 'spots-cycle', 'flashing'].map((sign) =>
      entryAt(NOW - 3 * DAY, { kind: 'sign', vesselId: 'holding-a', sign, present: true, findingId: 'finding-other' }),
    )
    const { record, active } = withOther(other({}), [moved, ...signs])
    expect(exposures(record, active, gramma, NOW)).toEqual([
      {
        condition: 'marine-ich',
        words: 'Azure damsel came from Holding A 2 days ago, where marine white spot is followed.',
      },
    ])
  })
})

describe('look-alikes', () => {
  test('every pair is of two known signs that one subject shares, and no sign pairs with itself', () => {
    for (const { a, b } of signPairs) {
      expect([signOf(a)?.id, signOf(b)?.id]).toEqual([a, b])
      expect(a).not.toBe(b)
      expect(POOLS.some(({ id }) => [a, b].every((sign) => signsOf(id).some((one) => one.id === sign)))).toBe(true)
    }
  })
})
