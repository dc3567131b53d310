// Another bottle, kit or second vessel for a course that runs, and what was poured before it.
import { describe, expect, test } from '@jest/globals'
import {
  actContext,
  answer,
  commitAct,
  documentsOf,
  instantMs,
  instantOf,
  planCourse,
  recordOf,
  activeOf,
  type Intent,
  type KeeperRecord,
  type ProductDocument,
  type RegisterDocument,
} from '../src/index.ts'
import { demoRecord } from '@brinvo/core/demo'

type CourseUsesIntent = Extract<Intent, { kind: 'course-uses' }>
const NOW = Date.parse('2026-11-23T18:20:00Z')
const COURSE = 'copper-holding-a'
/** A second bottle like the first, of twice its strength, and one that is like nothing of this course. */
function withBottles(): KeeperRecord {
  const record = demoRecord({ seed: 7, anchorMs: NOW, zone: 'Europe/Berlin' })
  const main = record.products.get('copper-main')!
  const like = (id: string, change: object): ProductDocument =>
    ({ ...main, id, body: { ...main.body, name: id, ...change } }) as ProductDocument
  return recordOf(
    record.settings,
    [
      ...documentsOf(record),
      like('second', {}),
      like('other', { form: 'copper-ionic', labelBand: { minMgPerL: 0.15, maxMgPerL: 0.2 } }),
    ] as RegisterDocument[],
    record.entries,
  )
}
const uses = (change: Partial<CourseUsesIntent>): CourseUsesIntent => ({
  kind: 'course-uses',
  vesselId: 'holding-a',
  id: COURSE,
  ...change,
})
const asked = (record: KeeperRecord, change: Partial<CourseUsesIntent>) => answer(actContext(record, NOW), uses(change))
const rules = (record: KeeperRecord, change: Partial<CourseUsesIntent>) =>
  asked(record, change)
    .refusals.filter(({ level }) => level === 'forbid' || level === 'block')
    .map(({ rule }) => rule)
function changed(record: KeeperRecord, change: Partial<CourseUsesIntent>): KeeperRecord {
  const made = commitAct(actContext(record, NOW), uses(change), {
    actId: 'a',
    override: { words: '', confirmed: true },
  })
  if (!made.ok) throw new Error(made.error.message)
  return recordOf(
    record.settings,
    [
      ...documentsOf(record).filter(({ id }) => made.value.documents.every((one) => one.id !== id)),
      ...made.value.documents,
    ],
    [...record.entries, ...made.value.entries],
  )
}
const planOf = (record: KeeperRecord) =>
  planCourse(record.courses.get(COURSE)!, {
    record,
    active: activeOf(record.entries),
    estimates: new Map(),
    nowMs: NOW,
  })

describe('a bottle that ran empty', () => {
  test('is followed by another of its form: what was poured stays done, what comes is worked out for the new one', () => {
    const before = withBottles()
    const after = changed(before, { products: { copper: 'second' } })
    expect(after.courses.get(COURSE)!.body.products).toEqual({ copper: 'second' })
    expect(after.courses.get(COURSE)!.revision).toBe(before.courses.get(COURSE)!.revision + 1)
    const done = (record: KeeperRecord) =>
      planOf(record)
        .steps.filter(({ state }) => state === 'done')
        .map(({ key, doneMs }) => `${key} ${String(doneMs)}`)
    expect(done(before).length).toBeGreaterThan(10)
    expect(done(after)).toEqual(done(before))
    expect(planOf(after).progress).toEqual(planOf(before).progress)
    const offered = planOf(after).steps.flatMap(({ dose }) => (dose ? [dose.productId] : []))
    expect(offered).not.toContain('copper-main')
  })
  test('is never followed by another form once the first was poured', () => {
    expect(rules(withBottles(), { products: { copper: 'other' } })).toContain('cu-form-lock')
    expect(rules(withBottles(), { products: { copper: '' } })).toEqual(
      expect.arrayContaining(['cu-form-lock', 'safe-strength']),
    )
    expect(rules(withBottles(), { products: { copper: 'second' } })).toEqual([])
  })
  test('before the first drop, another form may be chosen where the protocol takes it and the kit reads it', () => {
    const record = withBottles()
    const startMs = instantMs(record.courses.get(COURSE)!.body.startedAt)
    const dry = recordOf(
      record.settings,
      documentsOf(record),
      record.entries.filter((entry) => entry.kind !== 'dose' || instantMs(entry.at) < startMs),
    )
    expect(rules(dry, { products: { copper: 'other' } })).toEqual(['cu-form-lock'])
    const meter = dry.instruments.get('copper-meter')!
    const reads = recordOf(
      dry.settings,
      [
        ...documentsOf(dry).filter(({ id }) => id !== 'copper-meter'),
        { ...meter, body: { ...meter.body, readsForms: ['copper-ionic'] } },
      ],
      dry.entries,
    )
    expect(rules(reads, { products: { copper: 'other' } })).toEqual([])
  })
})

describe('what else a course uses', () => {
  test('a kit that is gone, or reads another form, is refused', () => {
    expect(rules(withBottles(), { instruments: { 'copper-test': 'never-was' } })).toContain('no-kit')
    expect(rules(withBottles(), { instruments: { 'copper-test': '' } })).toContain('no-kit')
  })
  test('a second vessel is another one, of the same water', () => {
    const record = withBottles()
    const moves = record.courses.get('transfer-holding-b')!
    const [role] = Object.keys(moves.body.vessels!)
    const to = (id: string) => rules(record, { id: moves.id, vesselId: moves.body.vesselId, vessels: { [role!]: id } })
    expect(to(moves.body.vesselId)).toEqual(['no-vessel'])
    expect(to('fernwater')).toEqual(['water'])
    expect(to('never-was')).toEqual(['no-vessel'])
    expect(to('longshore')).toEqual([])
  })
  test('nothing changed, nothing there, and one that is over are said', () => {
    const record = withBottles()
    expect(asked(record, {}).problem).toMatch(/Nothing is changed/)
    expect(asked(record, { id: 'never-was' }).problem).toMatch(/not on record/)
    const course = record.courses.get(COURSE)!
    const ended = recordOf(
      record.settings,
      [
        ...documentsOf(record).filter(({ id }) => id !== COURSE),
        { ...course, body: { ...course.body, endedAt: instantOf(NOW) } },
      ],
      record.entries,
    )
    expect(asked(ended, { products: { copper: 'second' } }).problem).toMatch(/ended already/)
  })
})
