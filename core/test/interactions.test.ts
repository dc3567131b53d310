// What may meet what in one water: the table of pairs, what is still in the water, and the ceilings that warmth sets.
import { describe, expect, test } from '@jest/globals'
import {
  activeEntries,
  agentForm,
  agentForms,
  ceilingOf,
  checkCourseStart,
  checkDose,
  documentsOf,
  formsInWater,
  interactionOf,
  interactions,
  newCourseBody,
  protocolOf,
  recordOf,
  type CourseDocument,
  type Entry,
  type KeeperRecord,
  type ProductDocument,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { entryAt, ZONE } from './entries.ts'

const NOW = Date.parse('2026-11-23T18:20:00Z')
const HOUR = 3_600_000
const DAY = 24 * HOUR
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: ZONE })
const form = (id: string) => agentForm(id)!
const bottle = (id: string, mgPerMl = 10): ProductDocument => ({
  ...demo.products.get('copper-drawer')!,
  id: `bottle-${id}`,
  body: { name: id, form: id, strength: { basis: 'mg-per-mL', mgPerMl }, confirmedAt: '2026-11-01T10:00:00.000Z' },
})
const BOTTLES = [
  'copper-ionic',
  'chloroquine',
  'praziquantel',
  'fenbendazole',
  'formalin-tank',
  'nitrofurazone-tank',
  'metronidazole-food',
]
const documents = documentsOf(demo).filter(({ register }) => register !== 'course' && register !== 'product')
const recordWith = (entries: readonly Entry[], courses: readonly CourseDocument[] = []): KeeperRecord =>
  recordOf(demo.settings, [...documents, ...BOTTLES.map((id) => bottle(id)), ...courses], entries)
const poured = (id: string, ms: number, amount = 10) =>
  entryAt(ms, { kind: 'dose', vesselId: 'holding-b', productId: `bottle-${id}`, amount, unit: 'mL' })
const doseOf = (entries: readonly Entry[], id: string, amount: number) => {
  const record = recordWith(entries)
  return checkDose({
    record,
    active: activeEntries(record.entries),
    vesselId: 'holding-b',
    productId: `bottle-${id}`,
    amount,
    atMs: NOW,
    nowMs: NOW,
    levelMgPerL: null,
  })
}

describe('pairs', () => {
  test.each([
    ['copper-ionic', 'chloroquine', 'cx-cu-cq', 'forbid'],
    ['copper-chelated', 'praziquantel', 'cx-cu-prazi', 'caution'],
    ['copper-amine', 'metronidazole-food', 'cx-cu-metro', 'allow'],
    ['copper-ionic', 'nitrofurazone-tank', 'cx-cu-antibiotic', 'caution'],
    ['praziquantel', 'peroxide-bath', 'cx-prazi-peroxide', 'forbid'],
    ['formalin-bath', 'peroxide-bath', 'cx-formalin-peroxide', 'forbid'],
    ['praziquantel', 'praziquantel-food', 'cx-same-active', 'forbid'],
    ['levamisole', 'metronidazole-tank', 'cx-tank-tank', 'forbid'],
    ['fenbendazole', 'kanamycin-bath', 'cx-bath-tank', 'caution'],
    ['florfenicol-food', 'metronidazole-food', 'cx-food-food', 'forbid'],
  ])('%s with %s', (a, b, id, verdict) => {
    expect(interactionOf(form(a), form(b))).toMatchObject({ id, verdict })
    expect(interactionOf(form(b), form(a))).toMatchObject({ id, verdict })
  })
  test('every two forms of different actives have a verdict, the same both ways', () => {
    for (const a of agentForms)
      for (const b of agentForms) {
        if (a.agent === b.agent) continue
        const pair = interactionOf(a, b)
        expect([a.id, b.id, pair !== null]).toEqual([a.id, b.id, true])
        expect([a.id, b.id, interactionOf(b, a)?.verdict]).toEqual([a.id, b.id, pair!.verdict])
      }
  })
  test('every row of the table is met by some pair of shipped forms', () => {
    const met = new Set(agentForms.flatMap((a) => agentForms.map((b) => interactionOf(a, b)?.id)))
    expect(interactions.map(({ id }) => id).filter((id) => !met.has(id))).toEqual([])
  })
})

describe('what is still in the water', () => {
  test('a drug leaves by changes and by time, not by being forgotten', () => {
    const at = (entries: readonly Entry[]) => {
      const record = recordWith(entries)
      return formsInWater(record, activeEntries(record.entries), 'holding-b', NOW).map(({ form: one }) => one.id)
    }
    expect(at([poured('praziquantel', NOW - 2 * DAY)])).toEqual(['praziquantel'])
    expect(at([poured('praziquantel', NOW - 60 * DAY)])).toEqual([])
    const change = (ms: number) => entryAt(ms, { kind: 'change', vesselId: 'holding-b', fraction: 0.98 })
    expect(at([poured('praziquantel', NOW - 2 * DAY), change(NOW - DAY)])).toEqual([])
  })
  test('a forbidden pair blocks the dose, a doubtful one warns, a far one is free', () => {
    const rules = (entries: readonly Entry[], id: string) =>
      doseOf(entries, id, 5).map(({ rule, level }) => `${level} ${rule}`)
    expect(rules([poured('chloroquine', NOW - 5 * DAY, 60)], 'copper-ionic')).toContain('block cx-cu-cq')
    expect(rules([poured('praziquantel', NOW - HOUR * 30)], 'fenbendazole')).toContain('warn cx-prazi-fenb')
    expect(rules([poured('praziquantel', NOW - HOUR * 50)], 'fenbendazole')).not.toContain('warn cx-prazi-fenb')
  })
  test('two that take oxygen are said to add up', () => {
    expect(doseOf([poured('praziquantel', NOW - 40 * HOUR)], 'nitrofurazone-tank', 5)).toContainEqual(
      expect.objectContaining({
        rule: 'oxygen-sum',
        level: 'warn',
        message: expect.stringMatching(/second air stone/),
      }),
    )
  })
  test('food goes into no water', () => {
    expect(doseOf([], 'metronidazole-food', 5)).toContainEqual(
      expect.objectContaining({ rule: 'food-not-water', level: 'refuse' }),
    )
  })
})

describe('ceilings', () => {
  test('warmth and caution lower them, never raise them', () => {
    const formalin = form('formalin-bath')
    expect(ceilingOf(formalin, 24, false)).toBe(60.5)
    expect(ceilingOf(formalin, 24, true)).toBe(40.5)
    expect(ceilingOf(formalin, 26, false)).toBe(40.5)
    expect(ceilingOf(formalin, 28, false)).toBe(0)
    for (const one of agentForms)
      for (const warmth of [null, 10, 22, 26, 30])
        for (const cautious of [true, false]) {
          expect(ceilingOf(one, warmth, cautious)).toBeLessThanOrEqual(one.hardMax)
          expect(ceilingOf(one, warmth, true)).toBeLessThanOrEqual(ceilingOf(one, warmth, false))
        }
  })
})

describe('a second course in one vessel', () => {
  const running = (id: string, product: string): CourseDocument => ({
    register: 'course',
    id: 'running',
    revision: 1,
    savedAt: '2026-11-20T10:00:00.000Z',
    history: [],
    body: newCourseBody({
      protocol: protocolOf(id)!,
      vesselId: 'holding-b',
      startMs: NOW - DAY,
      zone: ZONE,
      residents: [],
      products: { [protocolOf(id)!.productRoles[0]!.id]: `bottle-${product}` },
    }),
  })
  const starting = (product: string, course: CourseDocument) => {
    const record = recordWith([], [course])
    return checkCourseStart({
      record,
      active: [],
      vesselId: 'holding-b',
      productId: `bottle-${product}`,
      allowedForms: [product],
      instrumentId: null,
      needsResidents: false,
      needsKit: false,
      nowMs: NOW,
    }).filter(({ rule }) => rule === 'course-running' || rule.startsWith('cx-'))
  }
  test('is free, warned of or blocked as the pair stands', () => {
    expect(starting('metronidazole-food', running('chloroquine-30', 'chloroquine'))).toEqual([])
    expect(starting('praziquantel', running('chloroquine-30', 'chloroquine'))).toEqual([
      expect.objectContaining({ rule: 'cx-cq-prazi', level: 'warn' }),
    ])
    expect(starting('copper-ionic', running('chloroquine-30', 'chloroquine'))).toEqual([
      expect.objectContaining({
        rule: 'course-running',
        level: 'block',
        message: expect.stringMatching(/same target/i),
      }),
    ])
  })
})
