// The schools side by side, for every kind of animal and everything that may be feared: what is never suggested, what is always said.
import { describe, expect, test } from '@jest/globals'
import {
  THREATS,
  activeEntries,
  agentForm,
  compareSchools,
  daysToRelease,
  documentsOf,
  groupOf,
  groups,
  protocolLibrary,
  protocolOf,
  recordOf,
  sensitivity,
  type KeeperRecord,
  type ResidentDocument,
  type ThreatId,
} from '@brinvo/core'
import { demoRecord } from '@brinvo/core/demo'
import { ZONE } from './entries.ts'

const NOW = Date.parse('2026-03-20T08:20:00Z')
const DAY = 86_400_000
const demo = demoRecord({ seed: 7, anchorMs: NOW, zone: ZONE })
const gramma = demo.residents.get('gramma')!

/** The demonstration with one animal of a group alone in a vessel. */
function alone(group: string, vesselId: string): KeeperRecord {
  const animal: ResidentDocument = {
    ...gramma,
    id: 'animal',
    body: { ...gramma.body, name: 'Somebody', group, vesselId },
  }
  return recordOf(
    demo.settings,
    [...documentsOf(demo).filter((document) => document.register !== 'resident'), animal],
    demo.entries.filter(({ kind }) => kind !== 'move'),
  )
}
const compare = (record: KeeperRecord, vesselId: string, threats: readonly ThreatId[] = []) =>
  compareSchools({
    record,
    active: activeEntries(record.entries),
    vesselId,
    residentIds: ['animal'],
    threats,
    nowMs: NOW,
  })
const homes = groups.map((group) => [group.id, group.water === 'fresh' ? 'fernwater' : 'holding-b'] as const)
/** The forms a school pours: the bottle at hand first, as the comparison takes it. */
const formsOf = (record: KeeperRecord, protocolId: string) =>
  protocolOf(protocolId)!.productRoles.map((role) => {
    const own = [...record.products.values()]
      .filter(({ body }) => role.forms.includes(body.form) && body.usedUpAt === undefined)
      .sort((a, b) => Number(b.body.confirmedAt !== undefined) - Number(a.body.confirmedAt !== undefined))
    return agentForm(own[0]?.body.form ?? role.forms[0]!)!
  })

describe.each(homes.filter((_, i) => i % 6 === 0))('%s, still to come', (group, vesselId) => {
  const record = alone(group, vesselId)
  test('still to come it is compared for as if it lived there; for nobody nothing is said', () => {
    const lived = compare(record, vesselId)
    const empty = recordOf(
      record.settings,
      documentsOf(record).filter(({ register }) => register !== 'resident'),
      record.entries,
    )
    const asked = (expected: readonly string[]) =>
      compareSchools({
        record: empty,
        active: activeEntries(empty.entries),
        vesselId,
        residentIds: [],
        expected,
        threats: [],
        nowMs: NOW,
      })
    const coming = asked([group])
    expect(coming.suggested).toBe(lived.suggested)
    expect(coming.columns.map(({ protocol, days, load }) => [protocol.id, days, load])).toEqual(
      lived.columns.map(({ protocol, days, load }) => [protocol.id, days, load]),
    )
    expect(asked([])).toEqual({ columns: [], suggested: null, reasons: [], tips: [] })
  })
})

describe.each(homes)('%s', (group, vesselId) => {
  const record = alone(group, vesselId)
  const { water } = record.vessels.get(vesselId)!.body
  test('no school that it must not meet is ever suggested, whatever is feared', () => {
    for (const threats of [[], ...THREATS.map(({ id }) => [id])] as ThreatId[][]) {
      const { suggested } = compare(record, vesselId, threats)
      if (suggested === null) continue
      for (const form of formsOf(record, suggested))
        expect([threats, suggested, form.id, sensitivity(form, group, water)]).not.toEqual([
          threats,
          suggested,
          form.id,
          'X',
        ])
    }
  })
  test('every school of its water and kind stands there, and none of another', () => {
    const kind = groupOf(group)!.kind
    const shown = compare(record, vesselId).columns.map(({ protocol }) => protocol.id)
    const wanted = protocolLibrary.filter(
      (protocol) =>
        ['treatment', 'prevention', 'intake', 'observation'].includes(protocol.purpose) &&
        [water, 'both'].includes(protocol.water) &&
        protocol.id !== 'film-sample' &&
        (protocol.hosts ?? ['fish']).includes(kind as never),
    )
    expect(shown).toEqual(wanted.map(({ id }) => id))
  })
  test('each column has days, an end, a load within its scale, and a degree for each threat', () => {
    for (const column of compare(record, vesselId).columns) {
      const { id } = column.protocol
      expect([id, column.days >= 0, column.load >= 0 && column.load <= 1]).toEqual([id, true, true])
      expect([id, column.earliestMs]).toEqual([id, NOW + column.days * DAY])
      expect([id, column.coverage.map(({ threat }) => threat)]).toEqual([id, THREATS.map(({ id: threat }) => threat)])
    }
  })
})

describe('the suggestion', () => {
  const record = alone('hg-clown-damsel', 'holding-b')
  const covers = (protocolId: string, threat: ThreatId) => protocolOf(protocolId)!.coverage?.[threat] ?? 'none'
  test('covers what is feared at least in part, where any school open to the animal does', () => {
    for (const { id, hosts } of THREATS) {
      if (hosts !== 'fish') continue
      const found = compare(record, 'holding-b', [id])
      const open = found.columns.filter(({ forbidden }) => forbidden.length === 0)
      if (open.every(({ protocol }) => covers(protocol.id, id) === 'none')) continue
      expect([id, found.suggested, covers(found.suggested!, id)]).not.toEqual([id, found.suggested, 'none'])
    }
  })
  test('says what it covers in full and names what it misses', () => {
    const found = compare(record, 'holding-b', ['velvet', 'round worms'])
    const missed = (['velvet', 'round worms'] as const).filter((id) => covers(found.suggested!, id) === 'none')
    expect(found.reasons[0]).toMatch(/^Of what you fear/)
    for (const id of missed) expect(found.reasons[0]).toMatch(new RegExp(`misses.*${id}`))
  })
  test('a bottle that is used up counts as missing', () => {
    const without = recordOf(
      record.settings,
      documentsOf(record).map((document) =>
        document.register === 'product'
          ? { ...document, body: { ...document.body, usedUpAt: '2026-03-01T10:00:00.000Z' } }
          : document,
      ),
      record.entries,
    )
    const needs = (of: KeeperRecord) =>
      compare(of, 'holding-b').columns.find(({ protocol }) => protocol.id === 'copper-in-place-30')!.needs
    expect(needs(record)).toEqual([])
    expect(needs(without)).toEqual(['copper bottle'])
  })
  test('the product of a school is that of the bottle at hand over the whole course, and none without a bottle', () => {
    const record = alone('hg-goby-blenny', 'holding-b')
    const { columns } = compare(record, 'holding-b')
    const of = (id: string) => columns.find(({ protocol }) => protocol.id === id)!
    const [peroxide] = of('tank-transfer-hybrid').products
    // Two baths of ten litres at 75 mg/L, from 30 mg/mL.
    expect(peroxide).toEqual({ productId: 'peroxide-bath-3', amount: 50, unit: 'mL' })
    expect(of('copper-in-place-30').products[0]).toMatchObject({ productId: 'copper-main', unit: 'mL' })
    expect(of('tank-transfer-72').products).toEqual([])
    // A unit in a label keeps its capitals.
    expect(of('copper-in-place-30').cautions.join()).toMatch(/chelated copper, .*mg\/L type/)
    expect(of('chloroquine-30').products).toEqual([])
  })
  test('a vessel that is not on the shelf has no schools', () => {
    expect(compare(record, 'nowhere')).toEqual({ columns: [], suggested: null, reasons: [], tips: [] })
  })
  test('a bystander who would die closes a school as surely as the patient would', () => {
    const shrimp: ResidentDocument = {
      ...gramma,
      id: 'shrimp',
      body: { ...gramma.body, name: 'Bystander', group: 'hg-shrimp-marine', vesselId: 'holding-b' },
    }
    const group = groups.find(({ kind, water }) => kind === 'shrimp' && water !== 'fresh')!
    const both = recordOf(
      record.settings,
      [...documentsOf(record), { ...shrimp, body: { ...shrimp.body, group: group.id } }],
      record.entries,
    )
    const copper = compare(both, 'holding-b').columns.find(({ protocol }) => protocol.id === 'copper-in-place-30')!
    expect(copper.forbidden.join()).toMatch(/^Bystander/)
    expect(compare(both, 'holding-b').suggested).not.toMatch(/copper/)
  })
})

describe('days to the release', () => {
  const days = (id: string, variantId?: string) => {
    const protocol = protocolOf(id)!
    return daysToRelease(protocol, protocol.variants.find((one) => one.id === variantId) ?? protocol.variants[0]!).days
  }
  // Handbook 30 §5.1 and §5.6, added up by hand.
  test.each([
    ['copper-14-move', 'ramp-slow', 4 + 14 + 1 + 9 + 14],
    ['copper-14-move', 'ramp-at-once', 4 + 14 + 1 + 9 + 28],
    ['copper-in-place-30', 'ramp-slow', 4 + 30 + 2 + 10 + 14],
    ['copper-in-place-30', 'ramp-low-end', 4 + 30 + 2 + 10 + 28],
    ['tank-transfer-72', 'usual', 12 + 28],
    ['hyposalinity-30', 'usual', 2 + 30 + 8 + 21],
  ])('%s, %s: %d', (id, variant, expected) => expect(days(id, variant)).toBe(expected))
  test('an animal that takes copper badly is never put through the move after fourteen days', () => {
    let unfit = 0
    for (const { id } of groups.filter(({ water }) => water !== 'fresh')) {
      const { columns, suggested } = compare(alone(id, 'holding-b'), 'holding-b')
      const move = columns.find(({ protocol }) => protocol.id === 'copper-14-move')
      if (move?.unfit === true) {
        unfit++
        expect(suggested).not.toBe('copper-14-move')
        expect(columns.find(({ protocol }) => protocol.id === 'copper-in-place-30')!.variant.id).toBe('ramp-low-end')
      }
    }
    expect(unfit).toBeGreaterThan(3)
  })
  test('a group that falls to Uronema says so', () => {
    expect(compare(alone('hg-anthias', 'holding-b'), 'holding-b').reasons.join(' ')).toMatch(/Uronema/)
    expect(compare(alone('hg-tang', 'holding-b'), 'holding-b').reasons.join(' ')).not.toMatch(/falls to Uronema/)
  })
})

describe('how many tests a school asks for', () => {
  // Copper for thirty days, by its own text: four days of raising with both tests daily (8), thirty of ammonia (30), two
  // at the end (2), and in the hold a copper test every 48 hours for a chelate (15), every 12 for ionic copper (60).
  test.each([
    ['copper-chelated', 55],
    ['copper-amine', 70],
    ['copper-ionic', 100],
  ])('with a bottle of %s: %d', (form, tests) => {
    const record = alone('hg-tang', 'holding-b')
    const bottle = record.products.get('copper-main')!
    const only = recordOf(
      record.settings,
      [
        ...documentsOf(record).filter(({ register }) => register !== 'product'),
        { ...bottle, body: { ...bottle.body, form, labelBand: undefined } },
      ],
      record.entries,
    )
    const column = compare(only, 'holding-b').columns.find(({ protocol }) => protocol.id === 'copper-in-place-30')!
    expect(column.tests).toBe(tests)
  })
})
