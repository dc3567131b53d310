// What may meet what in one water: the table of pairs, what is still in the water, and the ceilings that warmth sets.
import { describe, expect, test } from '@jest/globals'
import {
  agentForm,
  agentForms,
  documentsOf,
  ceilingAt,
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
import { ask, checkDose, formsInWater } from './asked.ts'
import { courseDocument, entryAt, ZONE } from './entries.ts'

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
  'florfenicol-food',
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
    vesselId: 'holding-b',
    productId: `bottle-${id}`,
    amount,
    atMs: NOW,
    nowMs: NOW,
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
    ['florfenicol-food', 'metronidazole-food', 'cx-food-food', 'caution'],
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
  test('every row of pairs of actives is met by some pair of shipped forms', () => {
    const met = new Set(agentForms.flatMap((a) => agentForms.map((b) => interactionOf(a, b)?.id)))
    const forms = interactions.filter(({ a, b }) => [a, b].every((side) => side.agents ?? side.classes ?? side.routes))
    // Rows of actives nobody can register here, and one that a level decides.
    const unshipped = ['cx-oxytet-marine', 'cx-salt-epsom', 'cx-epsom-abx', 'cx-formalin-little-salt']
    expect(forms.map(({ id }) => id).filter((id) => !met.has(id) && !unshipped.includes(id))).toEqual([])
  })
})

describe('what is still in the water', () => {
  test('a drug leaves by changes and by time, not by being forgotten', () => {
    const at = (entries: readonly Entry[]) => {
      const record = recordWith(entries)
      return formsInWater(record, 'holding-b', NOW).map(({ id }) => id)
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
    expect(doseOf([], 'florfenicol-food', 5)).toContainEqual(
      expect.objectContaining({ rule: 'food-not-water', level: 'forbid' }),
    )
  })
})

describe('ceilings', () => {
  test('warmth and caution lower them, never raise them', () => {
    const formalin = form('formalin-bath')
    expect(ceilingAt(formalin, 20)).toEqual({ all: 100.8, cautious: 40.5 })
    expect(ceilingAt(formalin, 24)).toEqual({ all: 60.5, cautious: 40.5 })
    expect(ceilingAt(formalin, 26)).toEqual({ all: 40.5, cautious: 27 })
    expect(ceilingAt(formalin, 28).all).toBe(0)
    for (const one of agentForms)
      for (const warmth of [null, 10, 22, 26, 30]) {
        const { all, cautious } = ceilingAt(one, warmth)
        expect(all).toBeLessThanOrEqual(one.hardMax)
        expect(cautious).toBeLessThanOrEqual(all)
      }
  })
})

describe('a second course in one vessel', () => {
  const running = (id: string, product: string): CourseDocument =>
    courseDocument('running', {
      protocol: protocolOf(id)!,
      vesselId: 'holding-b',
      startMs: NOW - DAY,
      zone: ZONE,
      residents: [],
      products: { [protocolOf(id)!.productRoles[0]!.id]: `bottle-${product}` },
    })
  const starting = (product: string, course: CourseDocument) => {
    const record = recordWith([], [course])
    const protocol = protocolOf(STARTS[product]!)!
    return ask(
      record,
      {
        kind: 'course',
        id: 'new-one',
        vesselId: 'holding-b',
        instrumentId: null,
        body: newCourseBody({
          protocol,
          vesselId: 'holding-b',
          startMs: NOW,
          zone: ZONE,
          residents: [],
          products: { [protocol.productRoles[0]!.id]: `bottle-${product}` },
        }),
      },
      NOW,
    ).filter(({ rule }) => rule === 'course-running' || rule.startsWith('cx-'))
  }
  const STARTS: Readonly<Record<string, string>> = {
    'metronidazole-food': 'metronidazole-food-5',
    praziquantel: 'praziquantel-twice',
    'copper-ionic': 'copper-in-place-30',
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
